"""Photos by their content: found again where they were moved, and known where they changed."""

from __future__ import annotations

import hashlib
import os
from collections.abc import Iterable
from pathlib import Path

from aptandum.core.docket.model import PhotoEntry

_MOST_FILES = 20_000


def digest_of(path: str | os.PathLike[str]) -> str:
    """The SHA-256 of a file's bytes, in hexadecimal.

    Raises:
        OSError: it cannot be read.
    """
    with open(path, "rb") as stream:
        return hashlib.file_digest(stream, "sha256").hexdigest()


def same(entry: PhotoEntry, path: str | os.PathLike[str]) -> bool:
    """Whether a file holds the very photo; a docket that kept no digest cannot tell, and says
    no."""
    try:
        if not entry.digest or os.path.getsize(path) != entry.bytes:
            return False
        return digest_of(path) == entry.digest
    except OSError:
        return False


def look_for(entry: PhotoEntry, folders: Iterable[Path]) -> Path | None:
    """A photo that is not where it was, by its content, in some folders and those inside them;
    one of its own name is looked at first."""
    if not entry.digest:
        return None
    name = os.path.basename(entry.path)
    named: list[Path] = []
    others: list[Path] = []
    seen = 0
    for folder in dict.fromkeys(folders):
        for where, inside, files in os.walk(folder):
            inside[:] = [d for d in inside if not d.startswith(".")]
            for file in files:
                seen += 1
                (named if file == name else others).append(Path(where) / file)
            if seen > _MOST_FILES:
                break
    return next((path for path in (*named, *others) if same(entry, path)), None)
