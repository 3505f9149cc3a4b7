"""How far a docket reaches: photos that it names outside its own folder and the person's own."""

from __future__ import annotations

import os
from collections.abc import Iterable
from importlib import resources
from pathlib import Path

from aptandum.core.docket.model import Docket


def outside(docket: Docket, beside: Path, known: Iterable[str] = ()) -> dict[str, list[str]]:
    """The folders of photos and other files that a docket names, and that lie neither below its own folder nor
    where the person's photos are, each with the ids of its photos.

    A docket that was sent could name any picture of the machine, and a screen that is shared would show it.

    Args:
        beside: the docket's file.
        known: folders from which the person has opened photos.
    """
    home = os.path.realpath(os.path.expanduser("~"))
    shipped = os.path.realpath(str(resources.files("aptandum.data")))
    own = [os.path.dirname(os.path.realpath(beside)), shipped, *map(os.path.realpath, known)]
    found: dict[str, list[str]] = {}
    for photo in docket.photos:
        folder = os.path.dirname(os.path.realpath(photo.path))
        if any(_below(folder, one) for one in own) or _of_home(folder, home):
            continue
        found.setdefault(folder, []).append(photo.id)
    return found


def _below(folder: str, other: str) -> bool:
    return folder == other or folder.startswith(other.rstrip(os.sep) + os.sep)


def _of_home(folder: str, home: str) -> bool:
    """Whether a folder is the person's, and none of those that begin with a dot."""
    if not _below(folder, home) or home == os.sep:
        return False
    return not any(
        part.startswith(".") for part in os.path.relpath(folder, home).split(os.sep) if part != "."
    )
