"""The tones that can surround a picture on the sheet."""

from __future__ import annotations

from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton

from aptandum.ui import theme
from aptandum.ui.strings import t


class Tone(QAbstractButton):
    """One of the surround's tones."""

    def __init__(self, index: int) -> None:
        super().__init__()
        self.index = index
        self.setCheckable(True)
        self.setFixedSize(22, 22)
        self.setAccessibleName(
            t("Surround tone {n} of {all}", n=index + 1, all=len(theme.SURROUNDS))
        )
        self.setToolTip(t("Surround tone (G for the next)"))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        if self.isChecked() or self.hasFocus():
            painter.setPen(QPen(theme.colour("blue"), 2))
            painter.drawRect(1, 1, 19, 19)
        painter.fillRect(4, 4, 14, 14, QColor(theme.SURROUNDS[self.index]))
        painter.setPen(theme.colour("ink2"))
        painter.drawRect(4, 4, 14, 14)
