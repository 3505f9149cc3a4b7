"""A supplied photo: its facts, its bytes, and its pixels, all of them by way of a reader."""

from __future__ import annotations

import os
from dataclasses import replace
from functools import lru_cache

from aptandum.core.frozen import frozen
from aptandum.core.outside import read_whole
from aptandum.core.photo import limits
from aptandum.core.photo.apart import (
    check_pixels,
    clearness,
    facts_many,
    facts_of_bytes,
    opaque,
    open_pixels,
    read_facts,
    stored_pixels,
    whole_jpeg,
)
from aptandum.core.photo.arrays import from_array, memory_of
from aptandum.core.photo.facts import Facts, PhotoError, damaged, io_sentence, shown_name
from aptandum.core.words import say


@frozen
class Photo:
    """A supplied file: its facts, and its bytes once they have been asked for."""

    path: str
    facts: Facts

    @property
    def name(self) -> str:
        return shown_name(self.path)

    def read(self) -> bytes:
        """The file's bytes.

        Raises:
            PhotoError: the file cannot be read any more, or has changed since its facts were
                read.
        """
        try:
            data = _read(self.path, os.stat(self.path).st_mtime_ns)
        except OSError as error:
            raise PhotoError(io_sentence(error, self.name)) from None
        except MemoryError:
            sentence = say("{file} needs more memory than there is.", file=self.name)
            raise PhotoError(sentence) from None
        if self.facts.bytes is not None and len(data) != self.facts.bytes:
            raise PhotoError(say("{file} has changed on disk since it was opened.", file=self.name))
        return data


@lru_cache(maxsize=2)
def _read(path: str, changed: int) -> bytes:
    return read_whole(path, limits.MOST_FILE_BYTES)


def open_photo(path: str | os.PathLike[str], moving: bool = False) -> Photo:
    """Open a supplied file by its header.

    Args:
        moving: an animation will do as well, to be looked at; no file can be made of it.

    Raises:
        PhotoError: the file is not a usable picture; the message names file and cause.
    """
    return photo_of(read_facts(path), moving)


def photo_of(facts: Facts, moving: bool = False) -> Photo:
    """A supplied file whose facts were read; see :func:`open_photo`.

    Raises:
        PhotoError: the file is not a usable picture.
    """
    if facts.error:
        raise PhotoError(facts.error)
    several = facts.frames is not None and facts.frames > 1
    if several and not moving and facts.format != "tiff":
        sentence = say(
            "{file} is an animation of {n} frames; a photo has one.",
            file=shown_name(facts.file),
            n=facts.frames,
        )
        raise PhotoError(sentence)
    photo = Photo(facts.file, facts)
    if not facts.alpha:
        return photo
    try:
        data = photo.read()
    except PhotoError:
        return photo
    rim, hides = clearness(data, facts) or (None, None)
    return Photo(photo.path, replace(facts, clear_rim=rim, hides=hides))


def full_facts(path: str | os.PathLike[str], quick: bool = False) -> Facts:
    """Facts of a file; unless ``quick``, with every pixel read to tell whether it decodes."""
    facts = read_facts(path)
    return facts if quick else tried(facts)


def tried(facts: Facts) -> Facts:
    """Facts of a file with every pixel of it read, to tell whether it decodes."""
    if facts.error:
        return facts
    try:
        data = read_whole(facts.file, limits.MOST_FILE_BYTES)
    except OSError as error:
        return replace(facts, decodes=False, error=io_sentence(error, shown_name(facts.file)))
    except MemoryError:
        sentence = say("{file} needs more memory than there is.", file=shown_name(facts.file))
        return replace(facts, decodes=False, error=sentence)
    return check_pixels(data, facts)


__all__ = [
    "Photo",
    "check_pixels",
    "damaged",
    "facts_many",
    "facts_of_bytes",
    "from_array",
    "full_facts",
    "memory_of",
    "opaque",
    "open_photo",
    "open_pixels",
    "photo_of",
    "read_facts",
    "stored_pixels",
    "tried",
    "whole_jpeg",
]
