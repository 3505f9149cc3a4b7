"""A sentence with its sign."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QWidget

from aptandum.ui import theme
from aptandum.ui.signs import draw_sign
from aptandum.ui.widgets import label


class Said(QWidget):
    """A sentence with its sign."""

    def __init__(self, verdict: str, words: str) -> None:
        super().__init__()
        self.verdict = verdict
        row = QHBoxLayout(self)
        row.setContentsMargins(22, 0, 0, 0)
        self.words = label(words, wrap=True)
        row.addWidget(self.words)
        self.words.setStyleSheet(theme.scaled("font-size: 12px"))
        self.setAccessibleName(words)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        self.setSizePolicy(policy)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.verdict:
            painter = QPainter(self)
            draw_sign(painter, self.verdict, QRectF(2, 2, 14, 14))
