"""The journal: what must be on the disk, written in order by a thread that does nothing else."""

from __future__ import annotations

import threading
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

T = TypeVar("T")

Deliver = Callable[[Callable[[], None]], None]


@dataclass
class _Entry:
    key: str
    work: Callable[[], Any]
    done: Callable[[Any], None] | None
    failed: Callable[[BaseException], None]


class Journal:
    """Does what it is given in the order in which it is given.

    Args:
        deliver: has a function called in the interface's thread.
    """

    def __init__(self, deliver: Deliver) -> None:
        self._deliver = deliver
        self._ready = threading.Condition()
        self._entries: deque[_Entry] = deque()
        self._busy = False
        self._stopped = False
        self._thread: threading.Thread | None = None

    def put(
        self,
        work: Callable[[], T],
        done: Callable[[T], None] | None,
        failed: Callable[[BaseException], None],
        key: str = "",
    ) -> None:
        """Have something written.

        Args:
            done: called with what came of it, in the interface's thread.
            failed: the same with what it raised.
            key: an entry with the same key that still waits is replaced by this one, in its place
                or later: of a state only the newest need be written.
        """
        with self._ready:
            if key:
                self._entries = deque(e for e in self._entries if e.key != key)
            self._entries.append(_Entry(key, work, done, failed))
            if self._thread is None or not self._thread.is_alive():
                self._thread = threading.Thread(target=self._run, name="journal", daemon=True)
                self._thread.start()
            self._ready.notify_all()

    @property
    def busy(self) -> bool:
        with self._ready:
            return self._busy or bool(self._entries)

    def flush(self, seconds: float = 10.0) -> bool:
        """Wait until all is written; whether it was in time."""
        with self._ready:
            return self._ready.wait_for(lambda: not (self._busy or self._entries), seconds)

    def stop(self) -> None:
        """Write what is left, and end."""
        self.flush()
        with self._ready:
            self._stopped = True
            self._ready.notify_all()
        if self._thread is not None:
            self._thread.join(5)
        self._thread, self._stopped = None, False

    def _run(self) -> None:
        while True:
            with self._ready:
                while not self._entries:
                    if self._stopped:
                        return
                    self._ready.wait()
                entry = self._entries.popleft()
                self._busy = True
            try:
                found = entry.work()
            except BaseException as error:
                self._deliver(_told(entry.failed, error))
            else:
                if entry.done is not None:
                    self._deliver(_told(entry.done, found))
            finally:
                with self._ready:
                    self._busy = False
                    self._ready.notify_all()


def _told(act: Callable[[Any], None], given: Any) -> Callable[[], None]:
    return lambda: act(given)
