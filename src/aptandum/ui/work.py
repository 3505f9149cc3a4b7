"""Work that takes longer than a blink runs in threads; late results are dropped."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from aptandum.core.file.write import WriteError
from aptandum.core.fitting.resample import Cancelled
from aptandum.core.photo.facts import PhotoError

_tickets = itertools.count(1)


class _Job(QRunnable):
    def __init__(
        self, queue: Queue, kind: str, ticket: int, work: Callable[[Callable[[], bool]], Any]
    ) -> None:
        super().__init__()
        self.queue, self.kind, self.ticket, self.work = queue, kind, ticket, work

    def run(self) -> None:
        result: Any = None
        trouble = ""
        if self.late():
            return
        try:
            result = self.work(self.late)
        except Cancelled:
            return
        except (PhotoError, WriteError, OSError) as error:
            trouble = str(error)
        except Exception as error:  # a worker's failure must be seen, not lost with its thread
            trouble = f"{type(error).__name__}: {error}"
        self.queue.finished.emit(self.kind, self.ticket, result, trouble)

    def late(self) -> bool:
        return self.queue.newest.get(self.kind) != self.ticket


class Queue(QObject):
    """Runs the newest piece of work of each kind; an older one is told to stop and its result
    is not delivered."""

    finished = pyqtSignal(str, int, object, str)
    idle = pyqtSignal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.pool = QThreadPool(self)
        self.pool.setMaxThreadCount(2)
        self.newest: dict[str, int] = {}
        self.waiting: dict[str, tuple[int, Callable[[Any, str], None]]] = {}
        self.finished.connect(self._deliver)

    def start(
        self,
        kind: str,
        work: Callable[[Callable[[], bool]], Any],
        done: Callable[[Any, str], None],
    ) -> None:
        """Run ``work`` (which is given a question that says whether it is late) and call
        ``done`` with its result and a sentence of trouble, in the interface's thread."""
        ticket = next(_tickets)
        self.newest[kind] = ticket
        self.waiting[kind] = (ticket, done)
        self.pool.start(_Job(self, kind, ticket, work))

    def cancel(self, kind: str) -> None:
        self.newest.pop(kind, None)
        self.waiting.pop(kind, None)

    @property
    def busy(self) -> bool:
        return bool(self.waiting)

    def _deliver(self, kind: str, ticket: int, result: Any, trouble: str) -> None:
        expected = self.waiting.get(kind)
        if expected is None or expected[0] != ticket:
            return
        del self.waiting[kind]
        expected[1](result, trouble)
        if not self.waiting:
            self.idle.emit()

    def stop(self) -> None:
        self.newest.clear()
        self.waiting.clear()
        self.pool.waitForDone(5000)
