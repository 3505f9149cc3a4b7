"""A gauge: the allowed band on a rail, and a pointer where the picture stands."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from aptandum.core.judge.findings import Finding
from aptandum.core.judge.measures import REGISTRY
from aptandum.ui import theme


@dataclass(frozen=True)
class Scale:
    """Positions 0..1 on the rail: the band's ends (None: open), and the pointer."""

    low: float | None
    high: float | None
    at: float


def scale_of(finding: Finding) -> Scale | None:
    """Where to draw a finding; None for words and for what has no number to show."""
    limit, value = finding.clause.limit, finding.value
    if limit is None or finding.clause.measure is None:
        return None
    if isinstance(value, tuple):
        if not limit.exact:
            return None
        wanted = limit.one_of[0]
        off = math.log(
            max(value[0] / wanted[0], value[1] / wanted[1], key=lambda v: abs(math.log(v)))
        )
        return Scale(0.5, 0.5, 0.5 + 0.42 * math.tanh(off))
    if not REGISTRY[finding.clause.measure].kind.ordered or value is None:
        return None
    number = _number(value)
    limit = REGISTRY[finding.clause.measure].read_as(limit)
    low, high = _number(limit.at_least), _number(limit.at_most)
    if limit.one_of:
        low = high = min((float(v) for v in limit.one_of), key=lambda v: abs(v - float(value)))
    if number is None or (low is None and high is None):
        return None
    return _placed(number, low, high)


def _number(value: Any) -> float | None:
    return float(value) if value is not None else None


def _placed(number: float, low: float | None, high: float | None) -> Scale:
    if low is not None and high is not None:
        if low == high:
            off = (number - low) / (abs(low) or 1)
            return Scale(0.5, 0.5, 0.5 + 0.42 * math.tanh(1.5 * off))
        at = 0.28 + 0.44 * (number - low) / (high - low)
        return Scale(0.28, 0.72, _squeezed(at))
    if high is not None:
        at = 0.7 * number / high if high else 0.7 + 0.25 * math.tanh(number)
        return Scale(None, 0.7, _squeezed(at))
    assert low is not None
    at = 0.3 * number / low if number < low else 0.3 + 0.6 * math.tanh((number / low - 1) * 0.8)
    return Scale(0.3, None, _squeezed(at))


def _squeezed(at: float) -> float:
    """Keep far outliers on the rail."""
    if at > 0.9:
        return 0.9 + 0.08 * math.tanh((at - 0.9) * 2)
    if at < 0.06:
        return 0.06 + 0.05 * math.tanh((at - 0.06) * 4)
    return at


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
