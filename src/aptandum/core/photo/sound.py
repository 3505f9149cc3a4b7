"""Whether a supplied photo's data are whole, looked at once for each state of its file."""

from __future__ import annotations

import os
import threading
from collections.abc import Callable, Iterator
from concurrent.futures import Executor, Future, ThreadPoolExecutor
from contextlib import contextmanager
from contextvars import ContextVar, copy_context
from typing import Any

from aptandum.core import threads
from aptandum.core.photo import overheard
from aptandum.core.photo.arriving import Arriving, ahead, in_rows
from aptandum.core.photo.decode import Photo, check_pixels
from aptandum.core.photo.facts import PhotoError, damaged, io_sentence
from aptandum.core.photo.jumps import breaks, side_of
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
    return _damage_of(photo, *_as_it_is(photo))


State = tuple[str, int, int]
"""A file, when it was changed, and its bytes."""


def _as_it_is(photo: Photo) -> tuple[bytes, State]:
    data = photo.read()
    try:
        return data, (photo.path, os.stat(photo.path).st_mtime_ns, len(data))
    except OSError as error:
        raise PhotoError(io_sentence(error, photo.name)) from None


def _damage_of(photo: Photo, data: bytes, state: State) -> str:
    with _lock:
        found = _known.get(state)
    if found is None:
        found = _said(photo, check_pixels(data, photo.facts).error or "")
        _keep(state, found)
    return found


def _keep(state: State, found: str) -> None:
    with _lock:
        if len(_known) >= _MOST_KEPT:
            _known.clear()
        _known[state] = found


def _said(photo: Photo, error: str) -> str:
    """What is wrong with a photo that is shown all the same: the usual sentence says that it cannot be read."""
    if error == str(damaged(photo.facts, "truncated")):
        return say("{file} is cut short: the end of its picture is missing.", file=photo.name)
    if error == str(damaged(photo.facts)):
        return say("{file} is damaged: some of its picture data are wrong.", file=photo.name)
    return error


_asked: ContextVar[str] = ContextVar("_asked", default="")
"""The photo whose data are being looked at."""


@contextmanager
def asked(photo: Photo, accepted: bool) -> Iterator[None]:
    """Work on a photo, whose data are looked at beside it; what came of it is given up where they are damaged.

    Most formats are decoded for their pixels as they are for this: where the work needs all of them nothing is decoded
    twice, and where it does not they are looked at in the end. Others are looked at beside the work, or where that may
    have one core alone, behind it.

    Args:
        accepted: somebody has said that it is to be used all the same.

    Raises:
        Damaged: its data are damaged or cut short.
        PhotoError: the file cannot be read any more.
    """
    if accepted or _asked.get() == photo.path:
        yield
        return
    inner = _asked.set(photo.path)
    try:
        with ThreadPoolExecutor(1, "sound") as pool:
            look = _Look(photo, *_as_it_is(photo), pool)
            if not _told_by_pixels(photo) and threads.at_once() > 1:
                look.begin(look.refuse)
            try:
                with overheard.by(look.heard), look.read_ahead():
                    yield
            except PhotoError:
                look.refuse()  # what the check says is more exact
                raise
            look.end()
    finally:
        _asked.reset(inner)


class _Look:
    """What is found out of a photo's data beside the work on it."""

    def __init__(self, photo: Photo, data: bytes, state: State, pool: Executor) -> None:
        self.photo, self.data, self.state = photo, data, state
        self.side = side_of(photo.facts) if photo.facts.format == "jpeg" else 0
        self._pool = pool
        self._begun: list[Future[None]] = []
        self._along = self._clean = False

    def begin(self, act: Callable[..., None], *given: Any) -> None:
        """Do it beside the work."""
        self._begun.append(self._pool.submit(copy_context().run, act, *given))

    def end(self) -> None:
        """Wait for all that was begun, and refuse the photo where something was found."""
        for one in self._begun:
            one.result()
        self.refuse()

    def refuse(self) -> None:
        """Raise :class:`Damaged` where the data are."""
        found = _damage_of(self.photo, self.data, self.state)
        if found:
            raise Damaged(found)

    @contextmanager
    def read_ahead(self) -> Iterator[None]:
        """All of a photo's pixels have to be read for this: they are from the beginning, so that they are there for the
        work; and a JPEG's are looked at as they come, so that they need not be held for it when the work is done with them."""
        facts = self.photo.facts
        at_once = in_rows(facts) and facts.format in ("jpeg", "png")
        if not at_once or self.state in _known or threads.at_once() == 1:
            yield
            return
        self._along = bool(self.side)
        with ahead(self.data, facts) as coming:
            if self._along:
                self.begin(self._jumps_along, coming)
            del coming  # the pixels are let go where nobody works on them any more
            yield

    def heard(self, read: bytes, pixels: Any) -> None:
        """The data were decoded without a complaint."""
        if read is not self.data or self.state in _known:
            return
        if self._along:
            self._clean = True
        elif threads.at_once() > 1:
            self.begin(self._jumps_in, pixels)
        else:
            self._jumps_in(pixels)

    def _jumps_in(self, pixels: Any) -> None:
        self._found(bool(self.side) and breaks(pixels, self.side))

    def _jumps_along(self, coming: Arriving) -> None:
        try:
            array = coming.array
            found = array is not None and breaks(array, self.side, coming.rows)
            whole = coming.whole()
        except PhotoError:
            return  # what is wrong is told by a check
        if self._clean:
            self._found(found if coming.as_seen else breaks(whole.array, self.side))

    def _found(self, broken: bool) -> None:
        _keep(self.state, _said(self.photo, str(damaged(self.photo.facts))) if broken else "")


def _told_by_pixels(photo: Photo) -> bool:
    """Whether a decode of all of it tells as much as a check does."""
    facts = photo.facts
    if facts.format == "jpeg":
        return facts.mode in ("rgb", "grey")
    return facts.format in ("png", "avif", "heic", "jxl", "gif", "bmp")
