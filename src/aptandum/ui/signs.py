"""The verdict signs: a sign, a colour and a word, always together."""

from __future__ import annotations

from typing import cast

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from aptandum.core.judge.findings import VERDICT_WORDS, Verdict
from aptandum.ui import theme
from aptandum.ui.painting import upright


def word(verdict: str) -> str:
    """A verdict as people read it."""
    return VERDICT_WORDS[cast(Verdict, verdict)]


def sign_colour(verdict: str) -> QColor:
    """A verdict's colour in the palette in use."""
    return theme.colour(verdict)


def draw_sign(painter: QPainter, verdict: str, box: QRectF) -> None:
    """Draw a verdict's sign into a square box (14 px is its natural size)."""
    with upright(painter, box):
        _draw_sign(painter, verdict, box)


def _draw_sign(painter: QPainter, verdict: str, box: QRectF) -> None:
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.translate(box.topLeft())
    painter.scale(box.width() / 14, box.height() / 14)
    pen = QPen(sign_colour(verdict), 2)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    painter.setPen(pen)
    if verdict in ("meets", "misses"):
        painter.drawLine(QPointF(1, 5), QPointF(13, 5))
        painter.drawLine(QPointF(1, 9.5), QPointF(13, 9.5))
        if verdict == "misses":
            painter.drawLine(QPointF(10.2, 0.5), QPointF(3.8, 14))
    elif verdict == "advises":
        for y in (4.5, 9.5):
            wave = QPainterPath(QPointF(1, y))
            wave.cubicTo(4, y - 3.4, 5, y - 2.6, 7, y)
            wave.cubicTo(9, y + 2.6, 10, y + 3.4, 13, y)
            painter.drawPath(wave)
    elif verdict == "asks":
        painter.setPen(QPen(sign_colour(verdict), 1.6))
        lid = QPainterPath(QPointF(0.5, 7))
        lid.quadTo(7, 0.2, 13.5, 7)
        lid.quadTo(7, 13.8, 0.5, 7)
        painter.drawPath(lid)
        painter.setBrush(sign_colour(verdict))
        painter.drawEllipse(QPointF(7, 7), 1.7, 1.7)
    elif verdict == "unknown":
        painter.setFont(theme.text(14, bold=True))
        painter.drawText(QRectF(0, -2, 14, 18), Qt.AlignmentFlag.AlignCenter, "?")
    else:
        painter.drawLine(QPointF(3, 7), QPointF(11, 7))
    painter.restore()


class Sign(QWidget):
    """A verdict's sign at the head of a line."""

    def __init__(self, verdict: str) -> None:
        super().__init__()
        self.verdict = verdict
        self.setFixedSize(16, 18)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        draw_sign(QPainter(self), self.verdict, QRectF(1, 2, 14, 14))
