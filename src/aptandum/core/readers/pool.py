"""The readers of this process: a few, each started when there is something for it to do."""

from __future__ import annotations

import atexit
import contextlib
import os
import threading
import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from typing import Any

from aptandum.core.readers import shared as rooms
from aptandum.core.readers.reader import Answer, Lost, Mistake, NotReady, Reader, TooLittle, Wish
from aptandum.core.words import say

ACTS = ("aptandum.core.photo.acts",)
"""The modules that readers read with, by name: this package knows nothing of pictures."""

IDLE_SECONDS = 60.0
"""After so long without a wish a reader is let go; it weighs about 80 MB."""

_ABORTED = (-6, -5, 1)
"""Ended by itself (SIGABRT, SIGTRAP, or with a status): what some libraries do where memory is refused to them."""


class Readers:
    """A few readers. Safe to use from several threads.

    Args:
        most: at a time for what may take long; one more is there for what is quick (a header), which nobody wants
            to wait for behind a large picture.
        acts: the modules that they read with.
    """

    def __init__(self, most: int | None = None, acts: Sequence[str] = ACTS) -> None:
        self._most = most or min(2, os.cpu_count() or 1)
        self._acts = acts
        self._ready = threading.Condition()
        self._idle: list[Reader] = []  # whoever was asked last is the last
        self._timer: threading.Timer | None = None
        self._busy: set[Reader] = set()
        self._narrow: Reader | None = None  # ready for one thing only, and asked first
        self._places = 0  # readers that are asked or started just now

    def warm(self, only: str = "") -> None:
        """Start a reader, so that it is there when it is needed.

        Args:
            only: make it ready for this alone, and sooner; whatever it cannot do is asked of another.
        """
        if only:
            with contextlib.suppress(OSError):
                self._narrow = Reader(self._acts, only)
            return
        with self._ready:
            if self._idle or self._places:
                return
            self._places += 1
        try:
            self._put(Reader(self._acts))
        except OSError:
            self._put(None)  # whoever needs it says why

    def processes(self) -> list[int]:
        """The process numbers of the readers there are."""
        with self._ready:
            narrow = [self._narrow] if self._narrow else []
            return [reader.pid for reader in (*self._idle, *self._busy, *narrow)]

    def ask(self, wish: Wish) -> Answer:
        """Have an act done by some reader.

        One that had died before it was asked is no fault of the file: another is asked. One that asks for more
        memory than usual is allowed more once.

        Raises:
            Lost: the reader was lost over it.
            TooLittle: it asks for more memory than any may have.
            Said: the act raised one of our own errors.
            Mistake: the act raised another.
        """
        answer = self._first(wish)
        if answer is not None:
            return answer
        more = False
        for last in (False, False, True):
            reader = self._get(wish.quick)
            try:
                return reader.ask(wish, more)
            except TooLittle:
                if more or last:
                    raise
                more = True
            except Lost as lost:
                if last or (lost.begun and (more or lost.status not in _ABORTED)):
                    raise
                more = more or lost.begun
            finally:
                self._put(reader)
        raise AssertionError("unreachable")

    def _first(self, wish: Wish) -> Answer | None:
        """What a reader that is ready for one thing only makes of a wish; ``None`` where another has to be asked."""
        with self._ready:
            reader, self._narrow = self._narrow, None
            if reader is None:
                return None
            self._busy.add(reader)
        try:
            return reader.ask(wish)
        except (Lost, TooLittle, Mistake, NotReady):
            reader.end()
            return None
        finally:
            with self._ready:
                self._busy.discard(reader)
                if reader.alive:
                    self._narrow = reader

    def each(
        self,
        wish: Wish,
        items: Sequence[Any],
        files: Sequence[int],
        read: Callable[[Any], list[Any]] = list,
    ) -> Iterator[Answer | Exception]:
        """An act about several files in one message; a file that costs a reader is named by it, and the others
        are asked again. What comes of each, in order; an exception where it was lost.

        Args:
            items: for each file what the act is told of it; they go as ``items`` with the wish.
            read: makes what one message says of its files into one thing for each.
        """
        at = 0
        while at < len(files):
            args = {**wish.args, "items": list(items[at:])}
            try:
                made = self.ask(replace(wish, args=args, files=files[at:])).value
                made = read(made)
                if len(made) != len(files) - at:
                    raise Mistake(say("it answered something else"))
                yield from map(Answer, made)
                return
            except Lost as lost:
                bad = min(max(lost.place, 0), len(files) - at - 1)
                if bad:  # those before it are asked for by themselves, and were no trouble
                    yield from self.each(wish, items[at : at + bad], files[at : at + bad], read)
                yield lost
                at += bad + 1
            except (TooLittle, Mistake, TypeError) as error:
                if len(files) - at == 1:
                    yield error
                    return
                # Which of them it was is found by asking for each.
                for i in range(at, len(files)):
                    yield from self.each(wish, items[i : i + 1], files[i : i + 1], read)
                return

    def stop(self) -> None:
        """End the readers; they start anew where they are asked again."""
        with self._ready:
            gone = [*self._idle, *self._busy, *([self._narrow] if self._narrow else [])]
            self._idle.clear()
            self._narrow = None
        for reader in gone:
            reader.end()

    def _get(self, quick: bool) -> Reader:
        with self._ready:
            while self._places >= self._most + quick:
                self._ready.wait(0.5)
            self._places += 1
            if self._idle:
                reader = self._idle.pop()
                self._busy.add(reader)
                return reader
        try:
            reader = Reader(self._acts)
        except OSError as error:
            self._put(None)
            why = error.strerror or str(error)
            raise Lost(say("no process could be started to read it ({why})", why=why)) from None
        with self._ready:
            self._busy.add(reader)
        return reader

    def _put(self, reader: Reader | None) -> None:
        with self._ready:
            self._places -= 1
            if reader is not None:
                self._busy.discard(reader)
                if reader.alive:
                    reader.since = time.monotonic()
                    self._idle.append(reader)
            self._look_later()
            self._ready.notify_all()

    def _look_later(self) -> None:
        if self._timer is None and len(self._idle) > 1:
            self._timer = threading.Timer(IDLE_SECONDS, self.let_go)
            self._timer.daemon = True
            self._timer.start()

    def let_go(self) -> None:
        """End readers that have had nothing to do for a while; one stays, so that the next photo need not wait."""
        with self._ready:
            self._timer = None
            old = time.monotonic() - IDLE_SECONDS
            gone = [reader for reader in self._idle[:-1] if reader.since <= old]
            self._idle = [reader for reader in self._idle if reader not in gone]
            self._look_later()
        for reader in gone:
            reader.end()


_shared: list[Readers] = []
_lock = threading.Lock()


def shared() -> Readers:
    """The readers of this process."""
    with _lock:
        if not _shared:
            _shared.append(Readers())
            atexit.register(stop_shared)
        return _shared[0]


def stop_shared() -> None:
    """End the readers of this process, and give back what memory is kept for them."""
    with _lock:
        gone, _shared[:] = list(_shared), []
    for one in gone:
        one.stop()
    rooms.clear()
