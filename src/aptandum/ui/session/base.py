"""What every part of the session stands on: its state, its signals, and what the parts ask of one
another."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from aptandum.core.docket import recovery
from aptandum.core.docket.history import History
from aptandum.core.docket.model import Docket, Fitting
from aptandum.core.docket.takeover import Offer
from aptandum.core.fitting.settings import SettingError
from aptandum.core.photo.backdrop import Mask
from aptandum.core.photo.decode import Photo
from aptandum.core.photo.marks import HandMarks, People
from aptandum.core.photo.people import Face
from aptandum.core.photo.told import Credit
from aptandum.core.rulebook.model import Brief, Rulebook
from aptandum.core.rulebook.shelf import Shelf, read_shelf
from aptandum.ui.session.bench import Bench
from aptandum.ui.strings import t
from aptandum.ui.work import Queue

SETTLE_MS = 140
"""How long after the last change the exact picture is made."""

KEEP_MS = 250
"""How long after the last change what is open is written down."""

PREVIEW = 2048
"""Longest side of the photo's own picture on the sheet, in pixels."""


class Base(QObject):
    """The session's state; the parts add what is done with it."""

    changed = pyqtSignal()
    shelved = pyqtSignal()
    opened = pyqtSignal()
    pictures = pyqtSignal()
    proved = pyqtSignal()
    said = pyqtSignal(str, str)
    working = pyqtSignal(str)
    counted = pyqtSignal(int, int)
    tool_asked = pyqtSignal(object)
    panel_chosen = pyqtSignal(str)
    loss_asked = pyqtSignal()
    outcome = pyqtSignal(object)
    copy_asked = pyqtSignal()
    folder_asked = pyqtSignal()
    report_asked = pyqtSignal()
    hand_asked = pyqtSignal()

    def __init__(self, shelf: Shelf | None = None, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.shelf = shelf or read_shelf()
        self.history = History(Docket(title=t("Untitled docket")))
        self.path: Path | None = None
        self.saved: Docket | None = None
        self.saved_at: datetime | None = None
        self.bench: Bench | None = None
        self.queue = Queue(self)
        self.queue.idle.connect(lambda: self.working.emit(""))
        self._photos: dict[str, Photo] = {}
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(SETTLE_MS)
        self._settle.timeout.connect(self._make_draft)
        self._write_after: tuple[Path, bool] | None = None
        self.keeper: recovery.Keeper | None = None
        self._keep_soon = QTimer(self)
        self._keep_soon.setSingleShot(True)
        self._keep_soon.setInterval(KEEP_MS)
        self._keep_soon.timeout.connect(self.keep)
        self.changed.connect(self._keep_soon.start)
        self._offered: tuple[object, tuple[Offer, ...]] | None = None
        self._digests: dict[str, tuple[str, int]] = {}
        self._things: dict[tuple[str, int], tuple[float, float, float, float] | None] = {}
        self._told: dict[str, Credit] = {}
        self._stop_batch = False
        self._faces: dict[tuple[str, int], tuple[Face, ...]] = {}
        self._masks: dict[tuple[str, int], Mask | str] = {}
        self._brushed: tuple[object, Mask] | None = None
        self.screen: bytes | None = None  # the screen's own profile; None: sRGB
        self.needs_mask = False  # the sheet shows the mask
        self.surround = 1  # the tone of the sheet's ground, of theme.SURROUNDS

    @property
    def docket(self) -> Docket:
        return self.history.docket

    def tell(self, sentence: str, kind: str = "trouble") -> None:
        self.said.emit(kind, sentence)

    def set(self, changes: Mapping[str, object], label: str, merge: str = "") -> str:
        """Change settings of the fitting on the bench; returns a sentence where one is not
        possible, else an empty text."""
        if self.bench is None:
            return ""
        try:
            settings = self.bench.fitting.settings.having(changes)
        except SettingError as error:
            return str(error)
        fitting = self.bench.fitting.model_copy(update={"settings": settings})
        self._take(fitting, label, merge)
        return ""

    def _take(self, fitting: Fitting, label: str, merge: str = "") -> None:
        if self.history.do(label, self.docket.replacing(fitting), merge):
            self._follow()

    def settle(self) -> None:
        """A drag has ended: the next change is a step of its own."""
        self.history.settle()

    def undo(self) -> None:
        if self.history.undo():
            self._follow()

    def redo(self) -> None:
        if self.history.redo():
            self._follow()

    if TYPE_CHECKING:
        # What the parts ask of one another.
        def find(self, brief_name: str) -> tuple[Rulebook, Brief]: ...
        def photo_of(self, photo_id: str) -> Photo: ...
        def lay(self, fitting_id: str, show: bool = True) -> bool: ...
        def people(self) -> People | None: ...
        def set_marks(self, hand: HandMarks, label: str, merge: str = "") -> None: ...
        def _see_people(self, photo: Photo, hand: HandMarks) -> Callable[[], People]: ...
        def _judge_again(self) -> None: ...
        def _judge_supplied(self) -> None: ...
        def _look_for_people(self) -> None: ...
        def look_for_mask(self) -> None: ...
        def _look_again(self) -> None: ...
        def _mask_seer(
            self, photo: Photo, hand: HandMarks, people: People | None
        ) -> tuple[Callable[[], Mask], dict[tuple[str, int], Mask | str]]: ...
        def _load_preview(self) -> None: ...
        def _relay(self) -> None: ...
        def _follow(self) -> None: ...
        def _refresh(self) -> None: ...
        def _make_draft(self) -> None: ...
        def keep(self) -> None: ...


def seen_as(photo: Photo) -> tuple[str, int]:
    """What faces are remembered by: the file, and which way up it was looked at."""
    return photo.path, photo.facts.turn
