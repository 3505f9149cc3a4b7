"""A command: one act that a person asked for, while it waits, is done, and has ended."""

from __future__ import annotations

import math
import threading
import time
from collections.abc import Callable
from enum import Enum
from typing import Generic, TypeVar

from aptandum.core.errors import Cancelled

T = TypeVar("T")

Result = Callable[[T], None]
Tell = Callable[[str], None]


class State(Enum):
    """How a command stands."""

    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    CANCELLED = "cancelled"


class Progress:
    """What a command's work is given: whether it is to stop, and where it says how far it is. Calling
    it asks whether it is to stop, as all long work in the core asks."""

    def __init__(self, counted: Callable[[int, int], None]) -> None:
        self._stop = threading.Event()
        self._counted = counted

    def __call__(self) -> bool:
        return self._stop.is_set()

    @property
    def cancelled(self) -> bool:
        return self._stop.is_set()

    def cancel(self) -> None:
        """Have the work end at its next look."""
        self._stop.set()

    def check(self) -> None:
        """Raises Cancelled where the person has cancelled."""
        if self.cancelled:
            raise Cancelled

    def count(self, n: int, total: int) -> None:
        """So many of so many are done."""
        self._counted(n, total)


class Command(Generic[T]):
    """One act under way.

    Attributes:
        words: what is being done, as the person reads it: "Conforming …".
        lane: commands of one lane are done one after the other, in the order they were asked for.
        n, total: how much is done of how much; ``total`` is 0 where it is not known.
        outcome: the sentence that it ended with, where it failed.
        by_person: it was cancelled by the person, not by the application.
    """

    def __init__(
        self,
        words: str,
        lane: str,
        work: Callable[[Progress], T],
        done: Result[T],
        failed: Tell,
        cancelled: Callable[[], None] | None,
        counted: Callable[[Command[T]], None],
    ) -> None:
        self.words, self.lane, self.work = words, lane, work
        self.done, self.failed, self.cancelled = done, failed, cancelled
        self.state = State.WAITING
        self.outcome = ""
        self.by_person = False
        self.n = self.total = 0
        self.began = 0.0
        self._told = counted
        self.progress = Progress(self._count)

    def _count(self, n: int, total: int) -> None:
        self.n, self.total = n, total
        self._told(self)

    def begin(self) -> None:
        """Count the time from now on."""
        self.state, self.began = State.RUNNING, time.monotonic()

    def seconds_left(self) -> int | None:
        """How long it may still take, by how long it took so far; ``None`` where nobody knows."""
        if self.n < 1 or not self.total or not self.began:
            return None
        return math.ceil((time.monotonic() - self.began) / self.n * (self.total - self.n))
