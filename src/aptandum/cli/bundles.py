"""Short jobs go to a cluster together: to hand out one task and to fetch what came of it takes messages and some
milliseconds, whatever it holds.

How many go together is found by the time that they take: enough that a task is worth its messages, few enough that results
come steadily. Towards the end there are fewer in each, so that no worker is left with a heap while another is idle.
"""

from __future__ import annotations

import pickle
import time
from collections import deque
from collections.abc import Callable, Sequence
from concurrent.futures import CancelledError, Executor, Future
from functools import partial
from threading import Lock
from typing import Any

from aptandum.core.frozen import frozen

AHEAD = 32
"""How many jobs a pool of bundles is offered for each worker where another gets one: most of them wait here."""
_SECONDS = 0.5
"""What the jobs of one task take together, about."""
_MOST = 64
"""Jobs in one task, however short they are."""
_OUT = 2
"""Tasks that are out for each worker: the next lies there when one is done."""


@frozen
class _Call:
    fn: Callable[..., Any]
    args: tuple[Any, ...]
    made: Future[Any]


class Bundles(Executor):
    """Hands jobs to a cluster, several in one task.

    A job that raises is one job's trouble. Of a task that was lost with its workers each job is handed out again by itself,
    so that no file is given up for another's sake.

    Args:
        pool: the cluster's executor. What it does is pickled: functions of modules, not of the program that was called.
        workers: how many tasks it does at once.
    """

    def __init__(self, pool: Executor, workers: int) -> None:
        self._pool, self._room = pool, _OUT * workers
        self._waiting: deque[_Call] = deque()
        self._alone: deque[_Call] = deque()
        self._out = 0
        self._seconds = 0.0
        self._lock = Lock()

    def submit(self, fn: Callable[..., Any], /, *args: Any, **_more: Any) -> Future[Any]:
        """Hand it out as soon as a worker can do with more; until then it can be taken back (``Future.cancel``)."""
        made: Future[Any] = Future()
        with self._lock:
            self._waiting.append(_Call(fn, args, made))
        self._hand_out()
        return made

    def _hand_out(self) -> None:
        while (calls := self._next()) is not None:
            try:
                given = self._pool.submit(done_together, _packed(calls))
            except Exception as error:
                self._lost(calls, error)
            else:
                given.add_done_callback(partial(self._came, calls))

    def _next(self) -> Sequence[_Call] | None:
        """The calls of the next task; ``None`` while there is no room for one, or nothing to do."""
        with self._lock:
            if self._out >= self._room:
                return None
            if self._alone:
                calls = [self._alone.popleft()]
            else:
                calls = []
                many = self._many()
                while self._waiting and len(calls) < many:
                    call = self._waiting.popleft()
                    if call.made.set_running_or_notify_cancel():
                        calls.append(call)
            if not calls:
                return None
            self._out += 1
            return calls

    def _many(self) -> int:
        """How many go together: what a worker is busy with for a while, and no more than its part of what is there."""
        if not self._seconds:
            return 1  # how long one takes is not known yet
        part = len(self._waiting) // self._room
        return max(1, min(_MOST, part, round(_SECONDS / self._seconds)))

    def _came(self, calls: Sequence[_Call], given: Future[Any]) -> None:
        try:
            told, seconds = pickle.loads(given.result())
        except Exception as error:
            self._lost(calls, error)
            self._hand_out()
            return
        with self._lock:
            self._out -= 1
            each = max(1e-6, seconds / len(calls))
            self._seconds = (self._seconds + each) / 2 if self._seconds else each
        self._hand_out()
        for call, (value, trouble) in zip(calls, told, strict=True):
            if trouble is None:
                call.made.set_result(value)
            else:
                call.made.set_exception(trouble)

    def _lost(self, calls: Sequence[_Call], error: Exception) -> None:
        """A task that did not come back: its jobs wait to go out alone; one that was alone is given up, and so are all
        where the cluster has gone away."""
        again = len(calls) > 1 and not isinstance(error, CancelledError)
        with self._lock:
            self._out -= 1
            if again:
                self._alone.extend(calls)
        if not again:
            for call in calls:
                call.made.set_exception(error)


def _packed(calls: Sequence[_Call]) -> bytes:
    """Pickled together: what they share, such as rules, is in there once."""
    return pickle.dumps([(call.fn, call.args) for call in calls], pickle.HIGHEST_PROTOCOL)


def done_together(packed: bytes) -> bytes:
    """Do the jobs of one task, by a worker; what came of each in their order, and the seconds that they took."""
    start = time.perf_counter()
    told = [_done(fn, args) for fn, args in pickle.loads(packed)]
    return pickle.dumps((told, time.perf_counter() - start), pickle.HIGHEST_PROTOCOL)


def _done(fn: Callable[..., Any], args: tuple[Any, ...]) -> tuple[Any, Exception | None]:
    try:
        return fn(*args), None
    except Exception as error:
        return None, _portable(error)


def _portable(error: Exception) -> Exception:
    """An error as it can be sent; some of the libraries' cannot be made again from what they were made of."""
    try:
        pickle.loads(pickle.dumps(error))
    except Exception:
        return RuntimeError(f"{type(error).__name__}: {error}")
    return error
