"""The journal: what must be on the disk, written in order by a thread that does nothing else."""

from __future__ import annotations

import threading
import time
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
    due: float


class Journal:
    """Does what it is given in the order in which it is given.

    Args:
        deliver: has a function called in the interface's thread.
    """

    def __init__(self, deliver: Deliver) -> None:
        self._deliver = deliver
        self._ready = threading.Condition()
        self._entries: list[_Entry] = []
        self._busy = False
        self._stopped = False
        self._thread: threading.Thread | None = None

    def put(
        self,
        work: Callable[[], T],
        done: Callable[[T], None] | None,
        failed: Callable[[BaseException], None],
        key: str = "",
        after: float = 0.0,
    ) -> None:
        """Have something written.

        Args:
            done: called with what came of it, in the interface's thread.
            failed: the same with what it raised.
            key: an entry with the same key that still waits is replaced by this one, in its place:
                of a state only the newest need be written, and never later than it was promised
                to those who rely on its being written first.
            after: seconds until it is written at the latest, for more of the same key to gather;
                it keeps nothing else waiting, and needs nothing more of the interface's thread,
                which may be the one that hangs.
        """
        entry = _Entry(key, work, done, failed, time.monotonic() + after)
        with self._ready:
            waiting = [i for i, old in enumerate(self._entries) if key and old.key == key]
            if waiting:
                entry.due = min(entry.due, self._entries[waiting[0]].due)
                self._entries[waiting[0]] = entry
            else:
                self._entries.append(entry)
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
            for entry in self._entries:
                entry.due = 0.0
            self._ready.notify_all()
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

    def _due(self) -> _Entry | None:
        """Take out the first entry that is due, where there is one."""
        now = time.monotonic()
        found = next((entry for entry in self._entries if entry.due <= now), None)
        if found is not None:
            self._entries.remove(found)
        return found

    def _run(self) -> None:
        while True:
            with self._ready:
                while (entry := self._due()) is None:
                    if self._stopped and not self._entries:
                        return
                    soonest = min((e.due for e in self._entries), default=None)
                    self._ready.wait(soonest and max(0.0, soonest - time.monotonic()))
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
