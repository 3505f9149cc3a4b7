"""Whether a supplied photo's data are whole, looked at once for each state of its file."""

from __future__ import annotations

import os
import threading
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from contextvars import copy_context

from aptandum.core.photo.decode import Photo, check_pixels
from aptandum.core.photo.facts import PhotoError, damaged, io_sentence
from aptandum.core.words import say


class Damaged(PhotoError):
    """A photo whose data are damaged or cut short, of which nobody has said that it is to be used all the same.

    Attributes:
        why: what is wrong with it, in a sentence.
    """

    def __init__(self, why: str) -> None:
        super().__init__(
            say(
                "{what} No file is made of it unless you say that it is to be used all the same "
                "(source.damaged=true, or the Source card).",
                what=why,
            )
        )
        self.why = why

    def __reduce__(self) -> tuple[type[Damaged], tuple[str]]:
        return type(self), (self.why,)


_MOST_KEPT = 4096
_lock = threading.Lock()
_known: dict[tuple[str, int, int], str] = {}
"""What was found, by the file and its state."""


def damage_of(photo: Photo) -> str:
    """What is wrong with a photo's data, in a sentence; empty where nothing is found.

    Raises:
        PhotoError: the file cannot be read any more.
    """
    data = photo.read()
    try:
        state = photo.path, os.stat(photo.path).st_mtime_ns, len(data)
    except OSError as error:
        raise PhotoError(io_sentence(error, photo.name)) from None
    with _lock:
        found = _known.get(state)
    if found is None:
        found = _said(photo, check_pixels(data, photo.facts).error or "")
        with _lock:
            if len(_known) >= _MOST_KEPT:
                _known.clear()
            _known[state] = found
    return found


def _said(photo: Photo, error: str) -> str:
    """What is wrong with a photo that is shown all the same: the usual sentence says that it cannot be read."""
    if error == str(damaged(photo.facts, "truncated")):
        return say("{file} is cut short: the end of its picture is missing.", file=photo.name)
    if error == str(damaged(photo.facts)):
        return say("{file} is damaged: some of its picture data are wrong.", file=photo.name)
    return error


def refuse(photo: Photo) -> None:
    """Nothing is made of a damaged photo before somebody has said so.

    Raises:
        Damaged: its data are damaged or cut short.
        PhotoError: the file cannot be read any more.
    """
    found = damage_of(photo)
    if found:
        raise Damaged(found)


@contextmanager
def asked(photo: Photo, accepted: bool) -> Iterator[None]:
    """Work on a photo, whose data are looked at beside it; what came of it is given up where they are damaged.

    Args:
        accepted: somebody has said that it is to be used all the same.

    Raises:
        Damaged: its data are damaged or cut short.
    """
    if accepted:
        yield
        return
    with ThreadPoolExecutor(1, "sound") as pool:
        beside = pool.submit(copy_context().run, refuse, photo)
        try:
            yield
        except PhotoError:
            beside.result()  # what the check says is more exact
            raise
        beside.result()
