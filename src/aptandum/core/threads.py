"""How many threads one photo's work may use: two by itself, one where photos are done side by side.

Of a photo that somebody waits for two qualities are encoded at once, and two halves resized. Where
as many photos as there are cores are worked on, that only makes them wait for one another.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import Executor, Future, ThreadPoolExecutor
from contextlib import contextmanager
from typing import Any, TypeVar

from aptandum.core.later import cv2, pyvips

T = TypeVar("T")
R = TypeVar("R")

_most = 2


class Here(Executor):
    """Does the work at once, in the thread that asks for it."""

    def submit(self, fn: Callable[..., Any], /, *args: Any, **more: Any) -> Future[Any]:
        """Do it now; the future that comes back is done. An interruption (Ctrl-C) is no outcome of the work: it is raised."""
        made: Future[Any] = Future()
        try:
            made.set_result(fn(*args, **more))
        except Exception as error:
            made.set_exception(error)
        return made


def each(act: Callable[[T], R], parts: Iterable[T]) -> list[R]:
    """What comes of each part, in order; by as many threads as may be used."""
    if _most == 1:
        return [act(part) for part in parts]
    with ThreadPoolExecutor(_most) as pool:
        return list(pool.map(act, parts))


def at_once() -> int:
    """How many of a photo's threads may work at once, the one that decodes it included."""
    return _most


def one_core() -> None:
    """From now on every photo's work in this process stays on one core."""
    global _most
    _most = 1
    cv2.setNumThreads(1)
    pyvips.concurrency_set(1)


@contextmanager
def on_one_core() -> Iterator[None]:
    """:func:`one_core`, for a while."""
    global _most
    before = _most, cv2.getNumThreads(), pyvips.concurrency_get()
    one_core()
    try:
        yield
    finally:
        _most = before[0]
        cv2.setNumThreads(before[1])
        pyvips.concurrency_set(before[2])
