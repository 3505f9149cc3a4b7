"""Photos among files and folders: what a drop, a dialog or the command line names."""

from __future__ import annotations

import os
from collections.abc import Iterable, Iterator, Sequence

from aptandum.core.photo.decode import facts_many, photo_of
from aptandum.core.photo.facts import Facts, PhotoError
from aptandum.core.readers.wire import MOST_FILES

ENDINGS = frozenset(
    (
        ".jpg",
        ".jpeg",
        ".jpe",
        ".png",
        ".tif",
        ".tiff",
        ".webp",
        ".avif",
        ".gif",
        ".bmp",
        ".heic",
        ".heif",
        ".jxl",
        ".hif",
    )
)
"""Endings by which a photo is known within a folder; a file that is named is taken whatever its
ending."""


def photos_in(paths: Iterable[str], deep: bool = True) -> Iterator[str]:
    """Absolute paths of the files named and of the photos in the folders named, each once, those
    of a folder by name.

    Args:
        deep: look into folders within folders. Hidden ones never are.
    """
    seen: set[str] = set()
    for path in paths:
        full = os.path.abspath(path)
        for file in _within(full, deep) if os.path.isdir(full) else (full,):
            if file not in seen:
                seen.add(file)
                yield file


def _within(folder: str, deep: bool) -> Iterator[str]:
    for where, inside, files in os.walk(folder):
        inside[:] = sorted(d for d in inside if not d.startswith(".")) if deep else []
        for file in sorted(files):
            if os.path.splitext(file)[1].lower() in ENDINGS and not file.startswith("."):
                yield os.path.join(where, file)


AT_ONCE = MOST_FILES
"""Files whose headers are read in one go."""


def usable(paths: Sequence[str]) -> list[str]:
    """For each of a few files why it cannot be used as a photo, in a sentence; empty where it can."""
    return [_why(facts) for facts in facts_many(paths)]


def _why(facts: Facts) -> str:
    try:
        photo_of(facts)
    except PhotoError as error:
        return str(error)
    return ""
