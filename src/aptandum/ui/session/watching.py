"""The folder that is watched: begun and ended by a person, for as long as the window is open."""

from __future__ import annotations

import os
import threading
from collections import deque
from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.errors import AptandumError
from aptandum.core.watched import Event, Want, WatchBook, Watcher
from aptandum.ui.jobs import Jobs, Service
from aptandum.ui.strings import t

_SHOWN = 500
"""The newest events that are kept to be read; all that is set aside stands in the list beside the results."""
_EVERY = 2.0
"""Seconds from one look at the folder to the next."""


class Watching(QObject):
    """Watches one folder at a time.

    Signals:
        changed: something came of it, or it began or ended.

    Attributes:
        events: the newest that happened, the newest first.
        made, aside: how many results there are in all, and how many were set aside.
        on_way: files that are still written, as far as can be told.
        trouble: why nothing can be done at present; empty: all is well.
        every, settle, patience: seconds, as the core has them.
    """

    changed = pyqtSignal()

    def __init__(self, jobs: Jobs, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._jobs = jobs
        self.folder = self.out = self.name = self.trouble = ""
        self.events: deque[Event] = deque(maxlen=_SHOWN)
        self.made = self.aside = self.on_way = 0
        self.every, self.settle, self.patience = _EVERY, 3.0, 60.0
        self._stop = threading.Event()
        self._service: Service | None = None

    @property
    def runs(self) -> bool:
        """Whether a folder is watched now."""
        return self._service is not None and self._service.runs

    def start(self, folder: str, out: str, name: str, book: Rulebook, brief: Brief) -> str:
        """Begin to watch; returns why that cannot be, or nothing."""
        if self.runs:
            return t("A folder is watched already.")
        if not os.path.isdir(folder):
            return t("There is no folder {folder}.", folder=folder)
        if os.path.realpath(folder) == os.path.realpath(out):
            return t("The finished files need a folder other than the one that is watched.")
        try:
            os.makedirs(out, exist_ok=True)
            held = WatchBook(out)
        except (AptandumError, OSError, ValueError) as error:
            why = getattr(error, "strerror", None)
            if not why:
                return str(error)
            return t("{folder} cannot be used: {why}.", folder=out, why=why.lower())
        out = os.path.abspath(out)
        self.folder, self.out, self.name = os.path.abspath(folder), out, name
        self.trouble, self.on_way = "", 0
        self.events.clear()
        self._stop = stop = threading.Event()
        self._count(held)
        self._service = self._jobs.service(
            t("Watching a folder"), self._work([held], stop, Want(name, brief, book.text, out))
        )
        self._service.start()
        self.changed.emit()
        return ""

    def _work(self, held: list[WatchBook], stop: threading.Event, want: Want) -> Callable[[], None]:
        """What the watching thread does: until it is told to stop, and again after a mistake.

        Args:
            held: the book that was opened; afterwards it is opened anew.
        """

        def work() -> None:
            book = held.pop() if held else WatchBook(want.folder)
            try:
                watcher = Watcher(self.folder, [want], book, None, 1, self.settle, self.patience)
                while not stop.is_set():
                    for event in watcher.turn(stop.is_set):
                        self._tell(stop, event, book)
                    self._looked(stop, watcher.unsettled, watcher.trouble)
                    stop.wait(self.every)
            finally:
                book.close()
            self._jobs.post(self._ended)

        return work

    @property
    def ending(self) -> bool:
        """Whether it was told to end, and finishes the file at hand."""
        return self.runs and self._stop.is_set()

    def end(self) -> None:
        """End it: the file at hand is finished first, and nothing is lost."""
        self._stop.set()
        self.changed.emit()

    def close(self) -> None:
        """End it, and wait for that: the window closes."""
        self._stop.set()
        if self._service is not None:
            self._service.join()

    def _ended(self) -> None:
        if self._service is not None and self._stop.is_set():
            self._service = None
            self.on_way, self.trouble = 0, ""
            self.changed.emit()

    def _count(self, held: WatchBook) -> None:
        self.made, self.aside = held.count("made"), held.count("aside")

    def _tell(self, stop: threading.Event, event: Event, held: WatchBook) -> None:
        """In the watching thread: have an event shown."""
        made, aside = held.count("made"), held.count("aside")

        def show() -> None:
            if self._stop is stop:
                self.events.appendleft(event)
                self.made, self.aside = made, aside
                self.changed.emit()

        self._jobs.post(show)

    def _looked(self, stop: threading.Event, on_way: int, trouble: str) -> None:
        """In the watching thread: a look has ended."""

        def show() -> None:
            if (
                self._stop is stop
                and self.runs
                and (on_way, trouble) != (self.on_way, self.trouble)
            ):
                self.on_way, self.trouble = on_way, trouble
                self.changed.emit()

        self._jobs.post(show)
