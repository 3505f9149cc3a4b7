"""The docket that is open, with its history and its file: the one place where it changes."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from aptandum.core.docket.history import History
from aptandum.core.docket.model import Docket
from aptandum.core.frozen import frozen
from aptandum.ui.strings import t


@frozen
class Change:
    """The docket before and after."""

    before: Docket
    now: Docket

    def touches(self, *parts: str) -> bool:
        """Whether one of some parts (``photos``, ``fittings``, ``rulebooks``, ``handed``, ``key``,
        ``audit``, ``title``) is another now. A docket's parts are frozen: what is the same object
        is the same."""
        return any(getattr(self.before, part) is not getattr(self.now, part) for part in parts)


class DocketStore(QObject):
    """The docket with its history.

    Signals:
        changed: the docket is another one now (given: a :class:`Change`).
        opened: another docket is open; told before ``changed``.
        filed: its file, or whether all of it is saved, is another now.

    Attributes:
        path: the docket's own file; ``None`` where it was never saved.
        saved: the docket as it was last saved or opened.
        on_disk: the SHA-256 of the file as we last wrote or read it; empty where there is none.
    """

    changed = pyqtSignal(object)
    filed = pyqtSignal()
    opened = pyqtSignal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.history = History(Docket.empty(t("Untitled docket")))
        self.path: Path | None = None
        self.saved: Docket | None = None
        self.saved_at: datetime | None = None
        self.on_disk = ""

    @property
    def docket(self) -> Docket:
        return self.history.docket

    @property
    def is_saved(self) -> bool:
        """Whether nothing would be lost if it were closed now."""
        docket = self.docket
        return docket == self.saved or not (docket.photos or docket.audit)

    def do(self, label: str, docket: Docket, merge: str = "") -> bool:
        """Take a changed docket as a step that can be undone; False where nothing changed. Steps in
        a row with the same ``merge`` are undone as one."""
        before = self.docket
        if not self.history.do(label, docket, merge):
            return False
        self.changed.emit(Change(before, self.docket))
        return True

    def note(self, docket: Docket) -> None:
        """Take a docket in which something from outside has been written down; this is no step."""
        before = self.docket
        self.history.note(docket)
        self.changed.emit(Change(before, docket))

    def settle(self) -> None:
        """A drag has ended: the next change is a step of its own."""
        self.history.settle()

    def undo(self) -> None:
        """Take the last step back."""
        before = self.docket
        if self.history.undo():
            self.changed.emit(Change(before, self.docket))

    def redo(self) -> None:
        """Do again what was taken back."""
        before = self.docket
        if self.history.redo():
            self.changed.emit(Change(before, self.docket))

    def open(
        self, docket: Docket, path: Path | None, saved: Docket | None, on_disk: str = ""
    ) -> None:
        """Another docket is open from now on; its history begins."""
        before = self.docket
        self.history = History(docket)
        self.path, self.saved, self.saved_at, self.on_disk = path, saved, None, on_disk
        self.opened.emit()
        self.changed.emit(Change(before, docket))
        self.filed.emit()

    def was_saved(self, docket: Docket, path: Path, on_disk: str) -> None:
        """The docket lies in its file now."""
        if docket is not self.docket:
            self.history.docket = docket
        self.path, self.saved, self.saved_at = path, docket, datetime.now()
        self.on_disk = on_disk
        self.filed.emit()
