"""What is being worked on: how far it is, how long it may still take, and Cancel."""

from __future__ import annotations

import math

from PyQt6.QtCore import QElapsedTimer
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from aptandum.core.quantity import grouped
from aptandum.ui.session import Session
from aptandum.ui.strings import t
from aptandum.ui.widgets import button, label


class UnderWay(QWidget):
    """A line that is there while the session works, and not otherwise."""

    def __init__(self, session: Session, spread: bool = False) -> None:
        super().__init__()
        self._what = ""
        self._since = QElapsedTimer()
        self.words = label("", "second")
        self.cancel = button(t("Cancel"), "link", session.cancel_work)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.words)
        if spread:
            row.addStretch(1)
        row.addWidget(self.cancel)
        self.hide()
        session.working.connect(self._working)
        session.counted.connect(self._counted)

    @property
    def busy(self) -> bool:
        return bool(self._what)

    def _working(self, text: str) -> None:
        self._what = text
        self.words.setText(text)
        self.setVisible(bool(text))
        self._since.start()

    def _counted(self, n: int, total: int) -> None:
        if not self._what:
            return
        said = {"what": self._what, "n": grouped(n), "total": grouped(total)}
        if n < 1:
            self.words.setText(t("{what} {n} of {total}", **said))
            return
        left = math.ceil(self._since.elapsed() / 1000 / n * (total - n))
        self.words.setText(t("{what} {n} of {total}, about {s} s left", s=grouped(left), **said))
