"""The line of stations: the way from the supplied file to the finished one, with the figure
that each station leaves behind."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QWidget

from aptandum.ui import theme
from aptandum.ui.painting import Painter
from aptandum.ui.strings import t

STATIONS = ("source", "frame", "colour", "finish", "file", "proof")
KEYS = {"source": "S", "frame": "F", "colour": "C", "finish": "N", "file": "B", "proof": "P"}


def title(station: str) -> str:
    """A station's name in words."""
    return {
        "source": t("Source"),
        "frame": t("Frame"),
        "colour": t("Colour"),
        "finish": t("Finish"),
        "file": t("File"),
        "proof": t("Proof"),
    }[station]


class Station(QAbstractButton):
    """One stop on the line."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.name = name
        self.figure = ""
        self.tone = "ink2"
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def take(self, figure: str, tone: str) -> None:
        """Show a station's verdict and figure."""
        if (figure, tone) == (self.figure, self.tone):
            return
        self.figure, self.tone = figure, tone
        self.setAccessibleName(t("{name}: {value}", name=title(self.name), value=figure))
        self.setToolTip(
            t("{name} ({key})\n{figure}", name=title(self.name), key=KEYS[self.name], figure=figure)
        )
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(150, 62)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        on = self.isChecked()
        blue = theme.colour("blue")
        square = QRectF(1, 17, 12, 12)
        painter.setPen(QPen(blue if on else theme.colour("ink2"), 1.6))
        painter.setBrush(blue if on else theme.colour("panel"))
        painter.drawRoundedRect(square, 2, 2)
        font = theme.text(14, bold=True) if on else theme.medium(14)
        painter.setFont(font)
        name = title(self.name)
        width = QFontMetricsF(font).horizontalAdvance(name)
        # the line stops short of the word
        painter.fillRect(QRectF(17, 14, width + 9, 18), theme.colour("panel"))
        painter.setPen(blue if on else theme.colour("ink"))
        painter.drawText(QRectF(21, 13, width + 4, 20), Qt.AlignmentFlag.AlignVCenter, name)
        painter.setFont(theme.tight(12))
        painter.setPen(theme.colour(self.tone))
        figure = QFontMetricsF(painter.font()).elidedText(
            self.figure, Qt.TextElideMode.ElideRight, self.width() - 10
        )
        painter.drawText(QRectF(1, 38, self.width() - 8, 16), Qt.AlignmentFlag.AlignVCenter, figure)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(blue, 1, Qt.PenStyle.DotLine))
            painter.drawRoundedRect(QRectF(18, 12, width + 8, 21), 3, 3)


class StationLine(QWidget):
    """All stations on their line."""

    chosen = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(62)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(39, 0, 16, 0)
        layout.setSpacing(0)
        self.stops = {name: Station(name) for name in STATIONS}
        for name, stop in self.stops.items():
            layout.addWidget(stop, 1)
            stop.clicked.connect(lambda _checked, name=name: self.chosen.emit(name))

    def open(self, name: str) -> None:
        """Mark a station as the open one."""
        self.stops[name].setChecked(True)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        painter.fillRect(self.rect(), theme.colour("panel"))
        painter.fillRect(0, self.height() - 1, self.width(), 1, theme.colour("hairline"))
        first, last = self.stops["source"], self.stops["proof"]
        painter.setPen(QPen(theme.colour("ink2"), 1.2))
        painter.drawLine(QPointF(first.x() + 6, 23), QPointF(last.x() + 2, 23))
