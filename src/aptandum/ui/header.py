"""The names of the pages in the window's header."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import (
    QFontMetrics,
    QPainter,
    QPaintEvent,
)
from PyQt6.QtWidgets import (
    QAbstractButton,
)

from aptandum.ui import theme
from aptandum.ui.painting import Painter
from aptandum.ui.strings import t


class PageTab(QAbstractButton):
    """A place's name in the header; the open one is underlined."""

    def __init__(self, text: str, key: str) -> None:
        super().__init__()
        self.setText(text)
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setAccessibleName(text)
        self.setToolTip(t("{name} ({key})", name=text, key=key))
        self.news = ""
        self.fit()
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def fit(self) -> None:
        """As wide as the name, and as high as the header."""
        wide = QFontMetrics(theme.text(14, bold=True)).horizontalAdvance(self.text())
        self.setFixedSize(wide + 44, theme.px(43))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        font = theme.text(14, bold=True) if self.isChecked() else theme.medium(14)
        painter.setFont(font)
        painter.setPen(theme.colour("blue" if self.isChecked() else "ink2"))
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self.text())
        width = painter.fontMetrics().horizontalAdvance(self.text())
        if self.isChecked():
            bar = QRectF((self.width() - width) / 2, self.height() - 3, width, 3)
            painter.fillRect(bar, theme.colour("blue"))
        if self.news:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("asks"))
            painter.drawEllipse(QRectF((self.width() + width) / 2 + 4, 13, 6, 6))
            painter.setPen(theme.colour("blue"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
        if self.hasFocus():
            painter.drawRoundedRect(self.rect().adjusted(6, 8, -7, -8), 3, 3)

    def tell_news(self, news: str) -> None:
        """A dot beside the name, and what it means in the tool tip."""
        if news != self.news:
            self.news = news
            self.setAccessibleDescription(news)
            plain = self.toolTip().split("\n")[0]
            self.setToolTip(f"{plain}\n{news}" if news else plain)
            self.update()
