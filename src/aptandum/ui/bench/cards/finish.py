"""The Finish card: the finishes on their own short line, in the order in which they are laid on,
and the part of the one that is open."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QVBoxLayout, QWidget

from aptandum.core.fitting.finish import FINISHES
from aptandum.core.judge.findings import Finding
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.judge.measures.alterations import MEASURE as ALTERATIONS
from aptandum.ui import theme
from aptandum.ui.bench.cards.card import Card
from aptandum.ui.bench.cards.fields import ColourRow
from aptandum.ui.bench.cards.finishes import PARTS, ClearPart, PanelsPart, Part
from aptandum.ui.painting import Painter
from aptandum.ui.session import Bench
from aptandum.ui.strings import t

TITLES = {finish.name: finish.title for finish in FINISHES}


def _finish_of(measure: str | None) -> str:
    """Which finish a clause's measure opens."""
    return REGISTRY[measure].finish if measure in REGISTRY else ""


class Stop(QAbstractButton):
    """One finish on the line: a knot, its name, and what it does."""

    def __init__(self, name: str, last: bool) -> None:
        super().__init__()
        self.name, self.last = name, last
        self.figure, self.tone = "", "ink2"
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setFixedHeight(25)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._name_it()

    def _name_it(self) -> None:
        self.setAccessibleName(
            t("{name}: {figure}", name=TITLES[self.name], figure=self.figure or t("none"))
        )

    def sizeHint(self) -> QSize:
        return QSize(240, 25)

    def take(self, figure: str, tone: str) -> None:
        """Show which finish is open."""
        if (figure, tone) != (self.figure, self.tone):
            self.figure, self.tone = figure, tone
            self._name_it()
            self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ink, blue = theme.colour("ink2"), theme.colour("blue")
        painter.setPen(QPen(ink, 1.2))
        first = self.name == FINISHES[0].name
        painter.drawLine(QPointF(6, 12 if first else 0), QPointF(6, 12 if self.last else 25))
        on = bool(self.figure)
        open_ = self.isChecked()
        painter.setPen(QPen(blue if open_ else ink, 1.5))
        painter.setBrush(blue if on and open_ else ink if on else theme.colour("panel"))
        painter.drawRect(QRectF(2.5, 9, 7, 7))
        font = theme.text(13, bold=open_)
        painter.setFont(font)
        painter.setPen(blue if open_ else theme.colour("ink"))
        name = TITLES[self.name]
        painter.drawText(QRectF(20, 0, 110, 25), Qt.AlignmentFlag.AlignVCenter, name)
        painter.setFont(theme.figures(11) if on else theme.tight(12))
        painter.setPen(theme.colour(self.tone if on else "idle"))
        room = self.width() - 116
        said = QFontMetricsF(painter.font()).elidedText(
            self.figure or t("none"), Qt.TextElideMode.ElideRight, room
        )
        flags = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
        painter.drawText(QRectF(114, 0, room, 25), flags, said)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(blue, 1, Qt.PenStyle.DotLine))
            painter.drawRect(QRectF(16, 2, self.width() - 18, 21))


class FinishCard(Card):
    """The card of the Finish station: each finish, and the open one's settings."""

    station = "finish"

    def build(self) -> None:
        """Lay out the list of finishes and the part of each."""
        line = QWidget()
        column = QVBoxLayout(line)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.stops: dict[str, Stop] = {}
        self.parts: dict[str, Part] = {}
        for i, made in enumerate(PARTS):
            part = made(self.session)
            stop = Stop(part.name, i == len(PARTS) - 1)
            stop.clicked.connect(lambda _on, name=part.name: self.open(name))
            self.stops[part.name], self.parts[part.name] = stop, part
            column.addWidget(stop)
        self.column.addWidget(line)
        self.rule()
        for part in self.parts.values():
            self.column.addWidget(part)
            part.hide()
        self.ground = ColourRow(self.session, "finish.ground", t("Ground under transparent parts"))
        self.column.addWidget(self.ground)
        self.opened = ""
        self.open("keyline")

    def open(self, name: str) -> None:
        """Open a finish's part."""
        self.opened = name
        self.session.requests.finish.emit(name)
        self.stops[name].setChecked(True)
        for key, part in self.parts.items():
            part.setVisible(key == name)
        if self.session.bench is not None:
            self.show_bench(self.session.bench)

    def takes_photos(self, paths: Sequence[str]) -> bool:
        """Fill the chosen panel and those after it, where the panels are what is being set; whether it did."""
        bench, part = self.session.bench, self.parts["panels"]
        if bench is None or not isinstance(part, PanelsPart) or not part.isVisible():
            return False
        if bench.line.finish.given.template is None:
            return False
        part.take_photos(paths)
        return True

    def pick_clear(self) -> None:
        """Have the next click on the picture say which colour becomes clear."""
        part = self.parts["clear"]
        if isinstance(part, ClearPart):
            part.colour.drop()

    def open_missed(self) -> None:
        """Open the finish that the first missed clause is about, where there is one."""
        bench = self.session.bench
        if bench is None:
            return
        missed = (f.clause.measure for f in bench.live.findings if f.verdict == "misses")
        measure = next((name for name in missed if _finish_of(name)), None)
        if measure is not None:
            self.open_for(measure)

    def open_for(self, measure: str) -> None:
        """Open the finish that a clause's measure is about."""
        if _finish_of(measure):
            self.open(_finish_of(measure))

    def show_bench(self, bench: Bench) -> None:
        """Show what each finish does, and the open one's settings."""
        for name, stop in self.stops.items():
            part = self.parts[name]
            figure = part.figure(bench) if self._does(name, bench) else ""
            wrong = bool(figure) and not bench.brief.permits(part.alteration)
            stop.take(figure, "misses" if wrong else "ink2")
        part = self.parts[self.opened]
        part.say_permission(bench, theme.palette().misses)
        part.show_bench(bench)
        ground = bench.line.finish.ground
        self.ground.setVisible(ground is not None)
        self.ground.take(bench.fitting.settings.finish.ground)

    def _does(self, name: str, bench: Bench) -> bool:
        return name in bench.line.finish.on

    def _is_mine(self, finding: Finding) -> bool:
        """A miss of the colour's measures belongs to the Colour card even where a finish mends
        it; here stand those of the finishes."""
        measure = finding.clause.measure
        if finding.verdict not in ("misses", "advises") or measure is None:
            return False
        return measure == ALTERATIONS.name or REGISTRY[measure].station == self.station
