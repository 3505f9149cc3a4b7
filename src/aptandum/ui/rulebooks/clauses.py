"""A brief's clauses to read: the number, and beside it the body's own words."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QPaintEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
    QFrame,
    QHBoxLayout,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.brief.model import Brief, Clause
from aptandum.core.judge.measure import GROUPS
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.quantity import NAMED
from aptandum.core.rulebook.contradictions import contradictions
from aptandum.core.rulebook.plain import said_back
from aptandum.core.sizes.said import clause_said, condition_said
from aptandum.core.words import listed, show_day
from aptandum.ui import theme
from aptandum.ui.painting import Painter
from aptandum.ui.strings import joined, t
from aptandum.ui.widgets import clear, label


class ClauseCard(QAbstractButton):
    """One clause: title and limit, the body's words, and what it does not say by itself."""

    chosen = pyqtSignal(object)

    def __init__(self, clause: Clause, against: str = "") -> None:
        super().__init__()
        self.clause = clause
        self.lit = False  # pointed at from elsewhere
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Preferred)
        self.clicked.connect(lambda: self.setFocus())
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 6, 14, 7)
        layout.setSpacing(2)
        top = QHBoxLayout()
        top.setSpacing(8)
        if clause.measure is None or clause.limit is None:
            title, figure = label(clause.ask or "", wrap=True), label("")
        else:
            measure = REGISTRY[clause.measure]
            title = label(measure.title)
            figure = label(clause.limit.says(measure.kind), "figure", wrap=True)
            figure.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        font = theme.medium()
        title.setFont(font)
        top.addWidget(title, 1 if clause.ask else 0)
        if clause.ask is None:
            top.addWidget(figure, 1)
        layout.addLayout(top)
        tags = []
        if clause.strength == "should":
            tags.append(t("recommended"))
        if clause.applies:
            tags.append(
                t("only {turns}", turns=listed([NAMED[turn] for turn in clause.applies], "and"))
            )
        if clause.when is not None:
            tags.append(t("only with {condition}", condition=condition_said(clause.when)))
        if clause.either:
            tags.append(t("way “{name}”", name=clause.way[1]))
        if clause.of:
            tags.append(t("only the first of a set"))
        if clause.valid_from is not None:
            tags.append(t("from {day} on", day=show_day(clause.valid_from)))
        if clause.whole_body:
            tags.append(t("for every brief of the body"))
        if clause.ask is not None:
            tags.append(t("a person is asked"))
        if tags:
            layout.addWidget(label(joined(tags), "second"))
        if clause.quote:
            layout.addWidget(label(f"“{clause.quote}”", "second", wrap=True))
        if clause.note:
            layout.addWidget(label(clause.note, "rule", wrap=True))
        if against:
            wrong = label(against, wrap=True)
            wrong.setStyleSheet(theme.scaled(f"color: {theme.palette().misses}; font-size: 12px"))
            layout.addWidget(wrong)
        said = said_back(clause)
        self.setToolTip(said)
        self.setAccessibleName(said)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        if self.hasFocus() or self.lit:
            painter.fillRect(self.rect(), theme.colour("blue_soft"))
            painter.fillRect(0, 0, 3, self.height(), theme.colour("blue"))

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self.lit = False
        self.update()
        self.chosen.emit(self.clause)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Down:
            self.focusNextChild()
        elif event.key() == Qt.Key.Key_Up:
            self.focusPreviousChild()
        else:
            super().keyPressEvent(event)


class ClauseList(QScrollArea):
    """All clauses of a brief by group."""

    chosen = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(t("Clauses of this brief"))
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inner = QWidget()
        inner.setProperty("role", "panel")
        self.column = QVBoxLayout(inner)
        self.column.setContentsMargins(0, 4, 0, 12)
        self.column.setSpacing(0)
        self.setWidget(inner)
        self.cards: list[ClauseCard] = []

    def show_brief(self, brief: Brief | None) -> None:
        """Show the clauses of a brief."""
        clear(self.column)
        self.cards = []
        if brief is None:
            return
        against = {
            clause.id: t(
                "contradicts {others}",
                others=listed([f"“{clause_said(c)}”" for c in found.clauses if c != clause], "and"),
            )
            if len(found.clauses) > 1
            else found.says
            for found in contradictions(brief)
            for clause in found.clauses
        }
        for group, title in GROUPS.items():
            mine = [c for c in brief.clauses if _group(c) == group]
            if not mine:
                continue
            head = label(title, "second")
            head.setContentsMargins(16, 10, 0, 2)
            self.column.addWidget(head)
            for clause in mine:
                card = ClauseCard(clause, against.get(clause.id, ""))
                card.chosen.connect(self.chosen.emit)
                self.cards.append(card)
                self.column.addWidget(card)
        for said in _beyond(brief):
            line = QFrame()
            line.setProperty("role", "hairline")
            self.column.addSpacing(8)
            self.column.addWidget(line)
            words = label(said, "second", wrap=True)
            words.setContentsMargins(16, 8, 14, 0)
            self.column.addWidget(words)
        self.column.addStretch(1)


def _group(clause: Clause) -> str:
    return "ask" if clause.measure is None else REGISTRY[clause.measure].group


def _beyond(brief: Brief) -> list[str]:
    """What a brief says beside its clauses."""
    said = []
    if brief.allows is not None:
        allowed = listed(list(brief.allows), "and") or t("none")
        said.append(t("Alterations allowed: {what}.", what=allowed))
    for does in brief.does:
        said.append(t("The body itself, afterwards: {what}", what=does))
    if brief.seen:
        places = listed([place.as_ for place in brief.seen], "and")
        said.append(
            t("Seen as {places}.", places=places)
            if len(brief.seen) == 1
            else t("One file, shown in several places: {places}.", places=places)
        )
    if brief.border:
        said.append(t("A border is laid over it: {file}.", file=brief.border))
    if brief.template:
        n = len(brief.template.panels)
        said.append(t("A template of {n} panels.", n=n))
    if brief.note:
        said.append(brief.note)
    return said
