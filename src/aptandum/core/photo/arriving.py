"""A picture's pixels while its reader still writes them, so that whoever works on them from above need not wait for the last.

How far a reader has come is seen from the memory itself: into every so many of its rows a random number is written
before the reader is asked, and where that has gone the rows above it are there. The reader knows nothing of it, and one
that lies spoils its own picture at most: what counts is what it says at the end.
"""

from __future__ import annotations

import contextlib
import os
import threading
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextvars import ContextVar, copy_context
from typing import TYPE_CHECKING, Any, Self

from aptandum.core.later import np
from aptandum.core.photo.apart import Stored, stored_pixels
from aptandum.core.photo.facts import Facts
from aptandum.core.photo.turning import then

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from aptandum.core.readers.shared import Room

FORMATS = ("jpeg", "png", "tiff", "webp")
"""Those whose pixels come in rows from above, as their header describes them."""
_EVERY = 16
"""Rows from one number to the next."""
_BEHIND = 2
"""Rows that are taken for unfinished above one that has been written: decoders make some of them together."""
_LOOK = 0.0005
"""Seconds between two looks."""


MOST = 120_000_000
"""Pixels of 8 bit up to which a picture is held whole in memory to be reduced in light; beyond, it streams by."""


def in_rows(facts: Facts) -> bool:
    """Whether a photo's pixels come in rows from above, and are few enough to be held whole."""
    many = facts.size[0] * facts.size[1] * (2 if (facts.bits or 8) > 8 else 1)
    return many <= MOST and facts.format in FORMATS and facts.mode in ("rgb", "grey")


_KEPT = 100_000_000
"""Bytes of pixels up to which they are kept for who may need them once more."""


class Arriving:
    """Used by ``with``, which waits for the reader to be done.

    Args:
        data: a photo's bytes.
        facts: its own; of a format in :data:`FORMATS`, rgb or grey.

    Attributes:
        orientation: EXIF's, that is still to be applied.
    """

    def __init__(self, data: bytes, facts: Facts) -> None:
        self.orientation = then(facts.orientation or 1, facts.turn)
        bands = (1 if facts.mode == "grey" else 3) + bool(facts.alpha)
        self._shape = facts.height or 0, facts.width or 0, bands
        self._kind = np.uint16 if (facts.bits or 8) > 8 else np.uint8
        self._number = os.urandom(8)
        self._begun = threading.Event()
        self._rooms = 0
        self._array: NDArray[Any] | None = (
            None  # before a reader begins, which is seen by another thread
        )
        self._pool = ThreadPoolExecutor(1, "pixels")
        self._coming = self._pool.submit(
            copy_context().run, stored_pixels, data, facts, seen=self._seen
        )
        begun = self._begun  # without a circle by which the memory would be held for longer
        self._coming.add_done_callback(lambda _done: begun.set())

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_error: object) -> None:
        self.end()

    def end(self) -> None:
        """Wait for the reader to be done."""
        self._pool.shutdown()

    def _seen(self, room: Room) -> None:
        self._rooms += 1
        if self._rooms == 1:
            with contextlib.suppress(ValueError):
                array = room.array(self._shape, self._kind)
                self._marks = array.reshape(self._shape[0], -1).view(np.uint8)[:, -8:]
                if self._marks.shape[1] == 8:
                    self._marks[_EVERY - 1 :: _EVERY] = np.frombuffer(self._number, np.uint8)
                self._array = array
        self._begun.set()

    @property
    def array(self) -> NDArray[Any] | None:
        """Shape (height, width, bands), as far as the header tells them; ``None`` where there is no such memory. Waits for
        a reader to have begun."""
        self._begun.wait()
        return self._array

    def rows(self, end: int) -> None:
        """Wait until the rows before ``end`` are there.

        Raises:
            PhotoError: the picture cannot be read.
        """
        at = -(-(end + _BEHIND) // _EVERY) * _EVERY - 1
        if self.array is None or self._marks.shape[1] < 8 or at >= self._shape[0]:
            self._coming.result()
            return
        while self._marks[at].tobytes() == self._number and not self._coming.done():
            time.sleep(_LOOK)
        if self._coming.done():
            self._coming.result()

    def whole(self) -> Stored:
        """All of them.

        Raises:
            PhotoError: the picture cannot be read.
        """
        return self._coming.result()

    @property
    def as_seen(self) -> bool:
        """Whether what was there on the way is what has come in the end."""
        stored = self.whole()
        return (
            self.array is not None
            and self._rooms == 1
            and not stored.again
            and stored.orientation == self.orientation
            and stored.array.shape == self.array.shape
            and stored.array.dtype == self.array.dtype
        )


class _Ahead:
    """Pixels that are read before somebody asks for them."""

    def __init__(self, data: bytes, facts: Facts) -> None:
        self.data, self.facts = data, facts
        self.coming: Arriving | None = Arriving(data, facts)

    def used(self) -> None:
        """Somebody has had them: they are kept for the next, if that does not cost much."""
        coming = self.coming
        if coming is not None and coming.array is not None and coming.array.nbytes > _KEPT:
            self.end()

    def end(self) -> None:
        """Nobody needs them any more."""
        coming, self.coming = self.coming, None
        if coming is not None:
            coming.end()


_AHEAD: ContextVar[_Ahead | None] = ContextVar("_AHEAD", default=None)


@contextlib.contextmanager
def ahead(data: bytes, facts: Facts) -> Iterator[Arriving]:
    """Have a photo's pixels read at once, while it is still found out what is to be made of them; :func:`arriving` hands
    them to whoever needs them in this context. What went wrong is theirs to say."""
    held = _Ahead(data, facts)
    before = _AHEAD.set(held)
    try:
        assert held.coming is not None
        yield held.coming
    finally:
        _AHEAD.reset(before)
        held.end()


@contextlib.contextmanager
def arriving(data: bytes, facts: Facts) -> Iterator[Arriving]:
    """A picture's pixels on their way, whether they have been asked for already or not."""
    held = _AHEAD.get()
    if held is None or held.coming is None or held.data is not data or held.facts != facts:
        with Arriving(data, facts) as coming:
            yield coming
        return
    try:
        yield held.coming
    finally:
        held.used()
