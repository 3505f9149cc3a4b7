"""The desk: what was handed over and how it stands, and the audit of what is there already."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from aptandum.ui.desk.audit_view import AuditView
from aptandum.ui.desk.hand_overs import HandOvers
from aptandum.ui.desk.hand_overs_view import HandOversView
from aptandum.ui.progress import UnderWay
from aptandum.ui.session import Change, Session
from aptandum.ui.strings import t
from aptandum.ui.widgets import button, hairline

HANDED, AUDIT = "handed", "audit"

_ROOMY = 1200
"""Width in pixels from which on the bar has room for what is under way."""


class DeskPage(QWidget):
    """Two views under one row of names."""

    bench_asked = pyqtSignal(str)

    def __init__(self, session: Session, handing: HandOvers) -> None:
        super().__init__()
        self.session = session
        self.handed = HandOversView(handing)
        self.audit = AuditView(session)
        head = QHBoxLayout()
        head.setContentsMargins(12, 2, 16, 2)
        head.setSpacing(4)
        self.names = {}
        group = QButtonGroup(self)
        for name, text in ((HANDED, t("Handed over")), (AUDIT, t("Audit"))):
            made = button(text, "view", partial(self.show_view, name))
            made.setCheckable(True)
            group.addButton(made)
            self.names[name] = made
            head.addWidget(made)
        head.addSpacing(12)
        self.bars = QStackedWidget()
        self.bars.addWidget(self.handed.bar)
        self.bars.addWidget(self.audit.bar)
        head.addWidget(self.bars, 1)
        self.under_way = UnderWay(session.jobs)
        self._head, self._beneath = head, QHBoxLayout()
        head.addWidget(self.under_way)
        self.views = QStackedWidget()
        self.views.addWidget(self.handed)
        self.views.addWidget(self.audit)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(head)
        column.addLayout(self._beneath)
        column.addWidget(hairline())
        column.addWidget(self.views, 1)
        self.handed.audit_asked.connect(partial(self.show_view, AUDIT))
        self.handed.bench_asked.connect(self.bench_asked.emit)
        self.audit.bench_asked.connect(self.bench_asked.emit)
        session.store.changed.connect(self._changed)
        self.show_view(HANDED)

    def show_view(self, name: str) -> None:
        """Show what was handed over, or the audit."""
        self.names[name].setChecked(True)
        self.views.setCurrentIndex(0 if name == HANDED else 1)
        self.bars.setCurrentIndex(0 if name == HANDED else 1)

    def shown(self) -> None:
        """The place has been gone to."""
        self.handed.refresh()
        here = self.views.currentWidget()
        if here is self.handed and self.handed.list.rows.items:
            self.handed.list.setFocus()
        elif here is self.audit and self.audit.rows.items:
            self.audit.list.setFocus()
        else:
            self.names[HANDED if here is self.handed else AUDIT].setFocus()

    def resizeEvent(self, event: object) -> None:
        """What is under way has a line of its own where the bar has no room for it."""
        narrow = self.width() < _ROOMY
        (self._head if narrow else self._beneath).removeWidget(self.under_way)
        (self._beneath if narrow else self._head).addWidget(self.under_way)
        self.under_way.spread(narrow, 16 if narrow else 0)

    def restyle(self) -> None:
        """Take on the palette in use."""
        self.handed.restyle()
        self.audit.restyle()

    def _changed(self, change: Change) -> None:
        if self.isVisible() and change.touches("handed", "key", "fittings"):
            self.handed.refresh()
