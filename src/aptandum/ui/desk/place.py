"""The desk: what was handed over and how it stands, and the audit of what is there already."""

from __future__ import annotations

import math
from functools import partial

from PyQt6.QtCore import QElapsedTimer, pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from aptandum.ui.desk.audit_view import AuditView
from aptandum.ui.desk.handed_view import HandedView
from aptandum.ui.desk.handing import Handing
from aptandum.ui.session import Session
from aptandum.ui.strings import t
from aptandum.ui.widgets import button, hairline, label

HANDED, AUDIT = "handed", "audit"


class DeskPlace(QWidget):
    """Two views under one row of names."""

    bench_asked = pyqtSignal(str)

    def __init__(self, session: Session, handing: Handing) -> None:
        super().__init__()
        self.session = session
        self.handed = HandedView(handing)
        self.audit = AuditView(session)
        self._what = ""
        self._since = QElapsedTimer()
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
        self.progress = label("", "second")
        self.cancel = button(t("Cancel"), "link", self._cancel)
        head.addWidget(self.progress)
        head.addWidget(self.cancel)
        self.cancel.hide()
        self.views = QStackedWidget()
        self.views.addWidget(self.handed)
        self.views.addWidget(self.audit)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(head)
        column.addWidget(hairline())
        column.addWidget(self.views, 1)
        self.handed.audit_asked.connect(partial(self.show_view, AUDIT))
        self.handed.bench_asked.connect(self.bench_asked.emit)
        self.audit.bench_asked.connect(self.bench_asked.emit)
        session.working.connect(self._working)
        session.counted.connect(self._counted)
        session.changed.connect(self._changed)
        self.show_view(HANDED)

    def show_view(self, name: str) -> None:
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

    def restyle(self) -> None:
        self.handed.restyle()
        self.audit.restyle()

    def _changed(self) -> None:
        if self.isVisible():
            self.handed.refresh()

    def _cancel(self) -> None:
        self.session.queue.cancel("audit")
        self.session.queue.cancel("hand over")
        self.session.cancel_work()

    def _working(self, text: str) -> None:
        self._what = text
        self.progress.setText(text)
        self.cancel.setVisible(bool(text))
        self._since.start()

    def _counted(self, n: int, total: int) -> None:
        if self.cancel.isHidden() or not n:
            return
        left = math.ceil(self._since.elapsed() / 1000 / n * (total - n))
        self.progress.setText(
            t("{what} {n} of {total}, about {s} s left", what=self._what, n=n, total=total, s=left)
        )
