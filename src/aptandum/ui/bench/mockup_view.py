"""In place: the finished bytes as they will be seen, in each place that the brief names."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.brief.model import Seen
from aptandum.core.figures import show_number
from aptandum.core.fitting.live import live_reading
from aptandum.core.judge.findings import Findings
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.judge.zones import covered
from aptandum.core.mockup.device import Loaded, Refused, load
from aptandum.core.photo.marks import NoMarks
from aptandum.ui import theme
from aptandum.ui.bench.mockups import SCENES
from aptandum.ui.bench.mockups.base import Panned, Scene, Shown
from aptandum.ui.images import to_image
from aptandum.ui.said import Said, Told
from aptandum.ui.session import Bench, Session
from aptandum.ui.strings import t
from aptandum.ui.widgets import button, clear, label

_STEP = 20


class MockupView(QWidget):
    """The finished file as the brief's places show it, one at a time."""

    solidity = pyqtSignal(float)
    ruler_asked = pyqtSignal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # as it is for everyone
        self.session = session
        self.at = 0
        self.scenes: dict[str, Scene] = {}
        self.stack = QStackedWidget()
        self.names = QHBoxLayout()
        self.names.setContentsMargins(12, 4, 12, 4)
        self.names.setSpacing(4)
        self.group = QButtonGroup(self)
        self.buttons: list[QPushButton] = []
        self.head = QFrame()
        self.head.setLayout(self.names)
        self.foot = QFrame()
        self.foot.setProperty("role", "panel")
        self.foot.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        below = QVBoxLayout(self.foot)
        below.setContentsMargins(16, 8, 16, 10)
        below.setSpacing(5)
        self.controls = QHBoxLayout()
        self.controls.setSpacing(8)
        below.addLayout(self.controls)
        told = Told()
        self.said = told.column
        below.addWidget(told)
        self.empty = label("", "second", wrap=True)
        self.empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.stack.addWidget(self.empty)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.head)
        layout.addWidget(self.stack, 1)
        layout.addWidget(self.foot)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(t("In place"))
        self._loaded: dict[tuple[Any, bool, bool], tuple[Loaded | None, Any, str]] = {}
        self._loaded_of: object = None
        self._named: object = None
        self._shown: object = None
        self._controlled: Scene | None = None
        self._again = QTimer(self)  # sentences follow a slide a little later
        self._again.setSingleShot(True)
        self._again.setInterval(60)
        self._again.timeout.connect(self._say)

    def sizeHint(self) -> QSize:
        return QSize(688, 650)

    # -- what is shown ---------------------------------------------------------------------

    def places(self) -> tuple[Seen, ...]:
        """The brief's places; where it names none, a print at the size the file states."""
        bench = self.session.bench
        if bench is None:
            return ()
        return bench.brief.seen or (Seen("print"),)

    @property
    def scene(self) -> Scene | None:
        shown = self.stack.currentWidget()
        return shown if isinstance(shown, Scene) else None

    def choose(self, at: int) -> None:
        """Show another of the brief's places."""
        self.at = at
        self._shown = None
        self.refresh()

    def refresh(self) -> None:
        """Bring the view in line with the session; called only while it is seen."""
        bench = self.session.bench
        places = self.places()
        if bench is None or not places:
            return
        self.at = min(self.at, len(places) - 1)
        self._name_places(bench, places)
        data = self._bytes(bench)
        if data is None:
            self._wait(t("The file is being made …"))
            return
        seen = places[self.at]
        scene = self._scene(seen.as_)
        key = (id(data), scene.strict, scene.managed)
        if self._loaded_of is not data:
            self._loaded.clear()
            self._loaded_of = data
        if key not in self._loaded:
            self._load(bench, data, scene, key)
            if self.scene is None:
                self._wait(t("The place loads the file …"))
            return
        findings = bench.proof.findings if bench.proof is not None else bench.live
        state = (key, seen, findings, bench.hand, bench.line.frame)
        if state == self._shown:
            return
        self._shown = state
        loaded, image, refusal = self._loaded[key]
        kept, over = self._kept(bench, seen)
        scene.take(
            Shown(
                seen,
                bench.book,
                bench.brief,
                loaded,
                image,
                refusal,
                findings,
                bench.proof is not None,
                bench.line.file.ppi,
                kept,
                over,
            )
        )
        self.stack.setCurrentWidget(scene)
        self._control(scene)
        self._say()

    def _bytes(self, bench: Bench) -> bytes | None:
        if bench.proof is not None:
            return bench.proof.made.data
        if bench.draft is not None and bench.draft_is_current:
            return bench.draft.data
        return None

    def _wait(self, words: str) -> None:
        self.empty.setText(words)
        self.stack.setCurrentWidget(self.empty)
        self._shown = None
        self.foot.hide()

    def _scene(self, as_: str) -> Scene:
        if as_ not in self.scenes:
            made = next(scene for scene in SCENES if scene.as_ == as_)()
            self.scenes[as_] = made
            self.stack.addWidget(made)
            solidity = getattr(made, "solidity", None)
            if solidity is not None:
                solidity.connect(self.solidity)
            for part in made.controls():
                for name in ("valueChanged", "toggled", "activated", "clicked"):
                    if hasattr(part, name):
                        getattr(part, name).connect(self._again.start)
        return self.scenes[as_]

    def _load(self, bench: Bench, data: bytes, scene: Scene, key: tuple[Any, bool, bool]) -> None:
        brief, strict, managed = bench.brief, scene.strict, scene.managed

        def work(late: Any) -> tuple[Loaded | None, Any, str]:
            try:
                loaded = load(data, brief, strict=strict, managed=managed)
            except Refused as why:
                return None, None, str(why)
            return loaded, to_image(loaded.pixels), ""

        def done(found: tuple[Loaded | None, Any, str]) -> None:
            if self._loaded_of is data:
                self._loaded[key] = found
                self.refresh()

        self.session.jobs.latest("place", work, done)

    def _kept(self, bench: Bench, seen: Seen) -> tuple[Any, tuple[str, ...]]:
        """What must stay clear, as shares of the frame, and which zones lie on it: by the same
        reckoning as the ledger's."""
        if not seen.zones and seen.as_ != "banner":
            return (), ()
        people = self.session.model.people()
        if people is None:
            return (), ()
        held = people
        reading = live_reading(bench.photo.facts, bench.line, see_people=lambda: held)
        try:
            kept = reading.kept()
        except NoMarks:
            return (), ()
        left, top, wide, high = frame = reading.frame_box
        shares = tuple(
            (
                one.name,
                (
                    (one.box[0] - left) / wide,
                    (one.box[1] - top) / high,
                    one.box[2] / wide,
                    one.box[3] / high,
                ),
            )
            for one in kept
        )
        return shares, tuple(c.zone for c in covered(seen.zones, frame, kept))

    # -- its parts ---------------------------------------------------------------------------

    def _name_places(self, bench: Bench, places: tuple[Seen, ...]) -> None:
        if self._named != places:
            self._named = places
            while self.names.count():
                item = self.names.takeAt(0)
                widget = item.widget() if item is not None else None
                if widget is not None:
                    widget.hide()
                    widget.deleteLater()
            self.buttons = []
            for n, seen in enumerate(places):
                made = button(title_of(seen), "view", partial(self.choose, n))
                made.setCheckable(True)
                self.group.addButton(made)
                self.names.addWidget(made)
                self.buttons.append(made)
            self.names.addStretch(1)
            if not bench.brief.seen:
                self.names.addWidget(label(t("The brief names no place."), "second"))
            ruler = button(t("Size on this screen…"), "link", self.ruler_asked.emit)
            ruler.setToolTip(t("Lay a ruler on the screen, so that true sizes are true"))
            if any(seen.as_ in ("card", "print") for seen in places):
                self.names.addWidget(ruler)
        self.buttons[self.at].setChecked(True)

    def _control(self, scene: Scene) -> None:
        if self._controlled is scene:
            return
        self._controlled = scene
        while self.controls.count():
            item = self.controls.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.hide()
                widget.setParent(None)
        for part in scene.controls():
            self.controls.addWidget(part)
            part.show()
        self.controls.addStretch(1)

    def _say(self) -> None:
        scene = self.scene
        if scene is None or scene.shown is None:
            return
        shown = scene.shown
        clear(self.said)
        lines: list[tuple[str, str]] = []
        if shown.image is not None:
            lines += scene.figures()
        lines += ledger_lines(shown.findings, scene.as_)
        if not shown.proved:
            lines.append(("", t("The file is made, and not yet proved: conforming reads it back.")))
        bench = self.session.bench
        does = bench.brief.does if bench is not None else ()
        lines = lines[: 6 - len(does[:2])]
        lines += [("", t("The body itself, afterwards: {what}", what=what)) for what in does[:2]]
        for verdict, words in lines[:6]:
            self.said.addWidget(Said(verdict, words))
        for part in scene.controls():
            part.setEnabled(shown.image is not None)
        self.foot.show()

    # -- keys ----------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrow keys move what is larger than the view."""
        assert event is not None
        scene = self.scene
        step = {
            Qt.Key.Key_Left: (_STEP, 0),
            Qt.Key.Key_Right: (-_STEP, 0),
            Qt.Key.Key_Up: (0, _STEP),
            Qt.Key.Key_Down: (0, -_STEP),
        }.get(Qt.Key(event.key()))
        if step is not None and isinstance(scene, Panned):
            scene.move_to(scene.dx + step[0], scene.dy + step[1])
            return
        super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        QPainter(self).fillRect(self.rect(), theme.colour("window"))


def title_of(seen: Seen) -> str:
    """A place's name with its size: ``Grid, 140 px``."""
    name = {
        "card": t("Card"),
        "print": t("Print"),
        "projection": t("Projection"),
        "handset": t("Handset"),
        "grid": t("Page"),
        "tint": t("Tints"),
        "corner": t("Corner"),
        "strip": t("Strip"),
        "panel": t("Panel"),
        "banner": t("Banner"),
    }.get(seen.as_, seen.as_)
    if seen.width is not None:
        return t("{name}, {n} mm", name=name, n=show_number(seen.width))
    return t("{name}, {n} px", name=name, n=seen.at) if seen.at else name


def ledger_lines(findings: Findings, mock_up: str) -> list[tuple[str, str]]:
    """The ledger's own findings of the measures that are judged in a mock-up; those that ask for
    something first."""
    mine = [
        f
        for f in findings.findings
        if f.clause.measure in REGISTRY
        and mock_up in REGISTRY[f.clause.measure].seen
        and f.verdict != "idle"
    ]
    order = ("misses", "unknown", "advises", "meets")
    mine.sort(key=lambda f: order.index(f.verdict) if f.verdict in order else 9)
    return [(f.verdict, f.says) for f in mine]
