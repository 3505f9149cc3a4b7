"""Which files a call names: by their paths, by patterns, as folders, or as what comes in."""

from __future__ import annotations

import glob
import os
from collections.abc import Iterable

from aptandum.cli.console import STANDARD, come_in
from aptandum.core.docket.found import photos_in


def by_patterns(arguments: Iterable[str]) -> list[str]:
    """Paths as they are written, and in the place of a pattern what it matches."""
    found: list[str] = []
    for one in arguments:
        magic = not os.path.lexists(one) and glob.has_magic(one)
        found += (sorted(glob.glob(one, recursive=True)) if magic else []) or [one]
    return found


def named_files(arguments: Iterable[str]) -> list[str]:
    """Files, the photos of folders and of those inside them, and what patterns match; ``-`` is what
    comes in by standard input. A file that is named stays as it was written."""
    found: list[str] = []
    for one in arguments:
        if one == STANDARD and not os.path.lexists(one):
            found.append(come_in())
        elif os.path.isdir(one):
            found += list(photos_in([one])) or [one]
        elif not os.path.lexists(one) and glob.has_magic(one):
            found += sorted(p for p in glob.glob(one, recursive=True) if os.path.isfile(p)) or [one]
        else:
            found.append(one)
    return list(dict.fromkeys(found))
