"""How far a docket reaches: photos that it names outside its own folder and the person's own."""

from __future__ import annotations

import os
from collections.abc import Iterable
from importlib import resources
from pathlib import Path

from aptandum.core.docket.model import Docket
from aptandum.core.frozen import frozen


@frozen
class Beyond:
    """What a docket names outside.

    Attributes:
        folders: of those files, sorted.
        photos: ids of the photos that lie there.
        fittings: ids of the fittings that name a file there, such as a panel's photo, a texture or a shade.
    """

    folders: tuple[str, ...]
    photos: tuple[str, ...]
    fittings: tuple[str, ...]


def outside(docket: Docket, beside: Path, known: Iterable[str] = ()) -> Beyond:
    """The photos and other files that a docket names, and that lie neither below its own folder nor where the
    person's photos are.

    A docket that was sent could name any picture of the machine, and a screen that is shared would show it.

    Args:
        beside: the docket's file.
        known: folders from which the person has opened photos.
    """
    home = os.path.realpath(os.path.expanduser("~"))
    shipped = os.path.realpath(str(resources.files("aptandum.data")))
    own = [os.path.dirname(os.path.realpath(beside)), shipped, *map(os.path.realpath, known)]
    seen: dict[str, bool] = {}
    folders: set[str] = set()

    def far(file: str) -> bool:
        folder = os.path.dirname(os.path.realpath(file))
        if folder not in seen:
            seen[folder] = not (any(_below(folder, one) for one in own) or _of_home(folder, home))
        if seen[folder]:
            folders.add(folder)
        return seen[folder]

    photos = tuple(photo.id for photo in docket.photos if far(photo.path))
    # Every file is asked about, so that all their folders are named.
    fittings = tuple(
        one.id for one in docket.fittings if sum(far(file) for file in one.settings.files())
    )
    return Beyond(tuple(sorted(folders)), photos, fittings)


def _below(folder: str, other: str) -> bool:
    return folder == other or folder.startswith(other.rstrip(os.sep) + os.sep)


def _of_home(folder: str, home: str) -> bool:
    """Whether a folder is the person's, and none of those that begin with a dot."""
    if not _below(folder, home) or home == os.sep:
        return False
    return not any(
        part.startswith(".") for part in os.path.relpath(folder, home).split(os.sep) if part != "."
    )
