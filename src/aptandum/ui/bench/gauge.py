"""A gauge: the allowed band on a rail, and a pointer where the picture stands."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from aptandum.core.judge.findings import Finding
from aptandum.core.judge.scale import Scale, scale_of
from aptandum.ui import theme

__all__ = ["Scale", "draw_gauge", "scale_of"]


def draw_gauge(painter: QPainter, box: QRectF, finding: Finding, scale: Scale) -> None:
    """Draw a gauge into a box about 12 px high."""
    bands = {"meets": "meets_band", "misses": "misses_band", "advises": "advises_band"}
    token = finding.verdict if finding.verdict in bands else "unknown"
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    rail = QRectF(box.left(), box.center().y() - 3, box.width(), 6)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("rail"))
    painter.drawRoundedRect(rail, 3, 3)
    low = rail.left() + rail.width() * (scale.low if scale.low is not None else 0)
    high = rail.left() + rail.width() * (scale.high if scale.high is not None else 1)
    if high > low:
        painter.setBrush(theme.colour(bands.get(finding.verdict, "rail")))
        painter.drawRect(QRectF(low, rail.top(), high - low, 6))
    painter.setPen(QPen(theme.colour("ink2"), 1.2))
    for end, x in ((scale.low, low), (scale.high, high)):
        if end is not None:
            painter.drawLine(QPointF(x, rail.top() - 3), QPointF(x, rail.bottom() + 3))
    x = rail.left() + rail.width() * scale.at
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour(token))
    y = rail.center().y()
    painter.drawPolygon(
        QPolygonF([QPointF(x - 5, y - 5.5), QPointF(x + 5, y - 5.5), QPointF(x, y + 3.5)])
    )
    painter.restore()
