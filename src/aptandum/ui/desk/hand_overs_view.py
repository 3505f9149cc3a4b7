"""What was handed over, to whom, and where it stands."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPaintEvent
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.docket.hand_over import HandOver
from aptandum.core.rulebook.shelf import BriefNotFound
from aptandum.ui import theme
from aptandum.ui.desk.hand_overs import CLEAR, HandOvers
from aptandum.ui.desk.listed import HEAD, HandOverList, columns
from aptandum.ui.desk.slip import NARROW, WIDTH, Slip
from aptandum.ui.desk.state import GROUPS, LOOK, group_said
from aptandum.ui.painting import Painter
from aptandum.ui.strings import t, t_n
from aptandum.ui.widgets import button, empty_state, hairline, label

MOODS: tuple[tuple[str, dict[str, Any]], ...] = (
    (t("Answers slowly"), {"slow": 1.5}),
    (t("Is full"), {"full": True}),
    (t("Is wrong about a unit of bytes"), {"wrong_unit": True}),
    (t("Cuts some connections"), {"cut": 0.4}),
    (t("Loses some answers"), {"lose": 0.5}),
)
"""How a simulated desk can be set to go wrong."""


class Head(QWidget):
    """The names of the columns: ours and the desk's word are two."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(HEAD)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        painter.setFont(theme.text(12, bold=True))
        painter.setPen(theme.colour("ink2"))
        ours, theirs, at = columns(self.width())
        flags = Qt.AlignmentFlag.AlignVCenter
        for x, words in ((16.0, t("File")), (ours, t("We say")), (theirs, t("The desk says"))):
            painter.drawText(QRectF(x, 0, 200, HEAD), flags, words)
        since = QRectF(at - 30, 0, 92, HEAD)
        painter.drawText(since, flags | Qt.AlignmentFlag.AlignRight, t("Since"))


class HandOversView(QWidget):
    """The list of what was handed over, with the slip of the chosen one."""

    hand_asked = pyqtSignal()
    bench_asked = pyqtSignal(str)
    report_asked = pyqtSignal()
    audit_asked = pyqtSignal()

    def __init__(self, handing: HandOvers) -> None:
        super().__init__()
        self.handing = handing
        self.session = handing.session
        self.list = HandOverList()
        self.list.look.title_of = self._titles
        self.slip = Slip(self.brief_of)
        self.chips: dict[str, QPushButton] = {}
        self._laid: object = None
        self._lay_out()
        self.list.picked.connect(self._picked)
        self.slip.again_asked.connect(self.ask_again)
        self.slip.retire_asked.connect(self.retire)
        self.slip.bench_asked.connect(self.bench_asked.emit)
        self.slip.try_asked.connect(handing.try_now)
        handing.changed.connect(self.refresh)

    def _lay_out(self) -> None:
        bar = self._bar()
        left = self._left()
        upright = QFrame()
        upright.setFixedWidth(1)
        upright.setStyleSheet(f"background: {theme.palette().hairline}")
        self.upright = upright
        work = QWidget()
        two = QHBoxLayout(work)
        two.setContentsMargins(0, 0, 0, 0)
        two.setSpacing(0)
        two.addWidget(left, 1)
        two.addWidget(upright)
        two.addWidget(self.slip)
        self.first = button(t("Hand over what is ready…"), "line", self.hand_asked.emit)
        self.empty = empty_state(
            t("Nothing was handed over yet"),
            t(
                "A file that is proved goes to its body’s desk, and its receipt and the desk’s verdict "
                "stand here. What we say and what the desk says are two things."
            ),
            self.first,
            button(t("Audit what is there already"), "line", self.audit_asked.emit),
        )
        self.stack = QStackedWidget()
        self.stack.addWidget(self.empty)
        self.stack.addWidget(work)
        self.bar = QWidget()
        self.bar.setLayout(bar)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.stack, 1)

    def _bar(self) -> QHBoxLayout:
        """How many stand where, and the presses."""
        bar = QHBoxLayout()
        bar.setContentsMargins(0, 4, 0, 4)
        bar.setSpacing(4)
        for name, states in GROUPS:
            chip = button("", "view", self.refresh)
            chip.setCheckable(True)
            chip.setIcon(theme.icon(*LOOK[states[0]], 16))
            chip.setToolTip(t("Show only these; press several to show them all"))
            self.chips[name] = chip
            bar.addWidget(chip)
        bar.addStretch(1)
        self.report = button(t("Report…"), "", self.report_asked.emit)
        self.report.setToolTip(t("The conformity report of the whole docket (Ctrl+Shift+G)"))
        self.hand = button(t("Hand over…"), "act", self.hand_asked.emit)
        self.hand.setToolTip(t("Prove every fitting and hand over what is ready (Ctrl+Shift+H)"))
        bar.addWidget(self.report)
        bar.addWidget(self.hand)
        return bar

    def _left(self) -> QWidget:
        """The list, and how the desks behave."""
        left = QWidget()
        left.setProperty("role", "panel")
        left.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.head = Head()
        column.addWidget(self.head)
        column.addWidget(hairline())
        column.addWidget(self.list, 1)
        foot = QHBoxLayout()
        foot.setContentsMargins(16, 6, 16, 6)
        self.desks = label("", "second")
        self.moods = button(t("Simulated desks…"), "link", self.open_moods)
        foot.addWidget(self.desks)
        foot.addStretch(1)
        foot.addWidget(self.moods)
        column.addWidget(hairline())
        column.addLayout(foot)
        return left

    def restyle(self) -> None:
        """Take on the palette in use."""
        self.slip.take([])
        self._picked()
        self.upright.setStyleSheet(f"background: {theme.palette().hairline}")
        for name, states in GROUPS:
            self.chips[name].setIcon(theme.icon(*LOOK[states[0]], 16))

    # -- what is shown -----------------------------------------------------------------------

    def brief_of(self, name: str) -> tuple[Rulebook, Brief] | None:
        """The brief of this name and its rulebook, or ``None``."""
        try:
            return self.session.library.find(name)
        except BriefNotFound:
            return None

    def _titles(self, name: str) -> tuple[str, str]:
        found = self.brief_of(name)
        return (found[1].title, found[0].body.name) if found else (name, "")

    def refresh(self) -> None:
        """Bring the list in line with the docket, the newest first."""
        items = self.handing.items
        wanted: set[str] = set()
        for name, states in GROUPS:
            n = sum(item.state in states for item in items)
            chip = self.chips[name]
            chip.setText(group_said(name, n))
            chip.setVisible(bool(n) or chip.isChecked())
            if chip.isChecked():
                wanted |= set(states)
        shown = [item for item in reversed(items) if not wanted or item.state in wanted]
        self.stack.setCurrentIndex(1 if items else 0)
        for part in (self.report, self.hand):
            part.setVisible(bool(items))
        self.first.setEnabled(bool(self.session.docket.fittings))
        self.list.lay(shown)
        bodies = list(dict.fromkeys(item.body for item in items))
        n = len(bodies)
        self.desks.setText(
            t_n("{n} desk, simulated on this machine", "{n} desks, simulated on this machine", n)
        )
        odd = [b for b in bodies if CLEAR.keys() & self.handing.moods.get(b, {}).keys()]
        if odd:
            words = self.desks.text()
            self.desks.setText(t("{words}; {n} set to go wrong", words=words, n=len(odd)))
        self._picked()

    def chosen(self) -> list[HandOver]:
        """The chosen hand-overs."""
        ids = set(self.list.chosen())
        return [item for item in self.list.rows.items if item.id in ids]

    def resizeEvent(self, event: object) -> None:
        self.slip.setFixedWidth(WIDTH if self.width() > 1040 else NARROW)

    def _picked(self) -> None:
        self.slip.setVisible(bool(self.list.rows.items))
        self.slip.take(self.chosen())

    # -- what can be done ----------------------------------------------------------------------

    def ask_again(self) -> None:
        """Ask the desk for another look at what it has held."""
        self.handing.wish(self.list.chosen(), "review")

    def retire(self) -> None:
        """Retire what no longer matters."""
        self.handing.wish(self.list.chosen(), "retire")

    def moods_menu(self) -> QMenu:
        """What each simulated desk can be told."""
        menu = QMenu(self)
        for body in dict.fromkeys(item.body for item in self.handing.items):
            book = self.session.library.shelf.book(body)
            inner = QMenu(book.body.name if book else body, menu)
            menu.addMenu(inner)
            now = self.handing.moods.get(body, {})
            for words, mood in MOODS:
                act = inner.addAction(words)
                assert act is not None
                act.setCheckable(True)
                act.setChecked(all(now.get(k) == v for k, v in mood.items()))
                act.triggered.connect(partial(self.turn_mood, body, mood))
        return menu

    def turn_mood(self, body: str, mood: dict[str, Any], on: bool) -> None:
        """Give a body's simulated desk a mood, or take it away."""
        now = dict(self.handing.moods.get(body, {}))
        for key, value in mood.items():
            now.pop(key, None)
            if on:
                now[key] = value
        self.handing.tell_desk(body, now)

    def open_moods(self) -> None:
        """Open the menu of the simulated desks' moods."""
        menu = self.moods_menu()
        menu.exec(self.moods.mapToGlobal(self.moods.rect().topLeft()))
