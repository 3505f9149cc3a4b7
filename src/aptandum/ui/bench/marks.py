"""A head's marks on the sheet: lines, handles, bands of what is allowed, and their figures.

Everything here is drawn in sheet pixels; marks and frame come in photo pixels.
"""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen, QPolygonF

from aptandum.core.brief.binding import EYE_LINE, HEAD_HEIGHT, HEAD_OFFSET, HEADROOM, Bind
from aptandum.core.brief.model import turn_of
from aptandum.core.brief.registry import binds_of
from aptandum.core.fitting.plan import Window
from aptandum.core.judge.findings import Finding, Findings
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.photo.marks import Marks
from aptandum.ui import theme
from aptandum.ui.strings import t

GRIP = 9
"""How near a handle the pointer has to be, in sheet pixels."""

To = Callable[[float, float], QPointF]
Ink = Callable[[str], QColor]


def mark_said(name: str) -> str:
    """A mark's name in words."""
    return {
        "crown": t("crown"),
        "skull": t("top of the skull"),
        "chin": t("chin"),
        "left_eye": t("left eye"),
        "right_eye": t("right eye"),
    }[name]


def nearest(marks: Marks, to_sheet: To, at: QPointF) -> str:
    """The mark whose handle lies under the pointer, or an empty text."""
    best = ("", float(GRIP))
    for name in marks.handles:
        spot = to_sheet(*getattr(marks, name))
        off = ((spot.x() - at.x()) ** 2 + (spot.y() - at.y()) ** 2) ** 0.5
        if off <= best[1]:
            best = (name, off)
    return best[0]


def draw(
    painter: QPainter,
    marks: Marks,
    frame: Window,
    findings: Findings,
    lit: str,
    to_sheet: To,
    ink: Ink,
    far_right: float,
) -> None:
    """Draw the marks, the figures that findings give, and the band of the lit measure."""
    said = {binds_of(f.clause.measure): f for f in findings.findings if f.clause.measure}
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    left, right = to_sheet(frame.left, 0).x(), to_sheet(frame.right, 0).x()
    _band(painter, marks, frame, said.get(_binds(lit)), to_sheet, ink)
    eyes = marks.eyes
    top = t("skull") if marks.top == "skull" else t("crown")
    lines = (
        *(((t("hair"), marks.hair[1], None),) if marks.hair is not None else ()),
        (top, marks.crown[1], said.get(HEADROOM) or said.get(HEAD_HEIGHT)),
        (t("eyes"), eyes[1], said.get(EYE_LINE)),
        (t("chin"), marks.chin[1], said.get(HEAD_HEIGHT)),
    )
    for name, y, finding in lines:
        tone = ink(_token(finding))
        pen = QPen(tone, 1.2)
        pen.setDashPattern([5, 3])
        painter.setPen(pen)
        spot = to_sheet(0, y).y()
        painter.drawLine(QPointF(left, spot), QPointF(right, spot))
        _tag(painter, QPointF(left + 6, spot), name, tone)
    _centre(painter, marks, frame, said.get(HEAD_OFFSET), to_sheet, ink)
    _height(painter, marks, said.get(HEAD_HEIGHT), to_sheet, ink, right, far_right)
    for name in marks.handles:
        handle = to_sheet(*getattr(marks, name))
        painter.setPen(QPen(ink("blue"), 2))
        by_hand = name in marks.hand
        painter.setBrush(ink("blue") if by_hand else QColor("#FFFFFF"))
        painter.drawEllipse(handle, 4.5, 4.5)
    painter.restore()


def _token(finding: Finding | None) -> str:
    if finding is None or finding.verdict in ("idle", "unknown", "asks"):
        return "blue"
    return finding.verdict


def _tag(painter: QPainter, at: QPointF, text: str, tone: QColor) -> None:
    font = theme.tight(12, bold=True)
    painter.setFont(font)
    wide = QFontMetricsF(font).horizontalAdvance(text) + 10
    box = QRectF(at.x(), at.y() - 9, wide, 18)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(255, 255, 255, 225))
    painter.drawRoundedRect(box, 3, 3)
    painter.setPen(tone if tone.lightness() < 150 else QColor("#1D2630"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def _centre(
    painter: QPainter, marks: Marks, frame: Window, finding: Finding | None, to_sheet: To, ink: Ink
) -> None:
    """The upright through the eyes' middle, beside the frame's own centre line."""
    if finding is None:
        return
    top, bottom = to_sheet(0, frame.top).y(), to_sheet(0, frame.bottom).y()
    x = to_sheet(marks.eyes[0], 0).x()
    tone = ink(_token(finding))
    pen = QPen(tone, 1.2)
    pen.setDashPattern([10, 3, 2, 3])
    painter.setPen(pen)
    painter.drawLine(QPointF(x, top), QPointF(x, bottom))
    text = finding.measured
    _tag(painter, QPointF(x + 6, top + 14), text, tone)


def _height(
    painter: QPainter,
    marks: Marks,
    finding: Finding | None,
    to_sheet: To,
    ink: Ink,
    right: float,
    far_right: float,
) -> None:
    """A dimension line from crown to chin, right of the frame, or just inside it."""
    if finding is None or not finding.measured:
        return
    x = right + 26 if right + 52 < far_right else right - 26
    a, b = to_sheet(0, marks.crown[1]).y(), to_sheet(0, marks.chin[1]).y()
    tone = ink(_token(finding))
    painter.setPen(QPen(tone, 1.6))
    painter.drawLine(QPointF(x, a), QPointF(x, b))
    for y, way in ((a, 1), (b, -1)):
        painter.drawLine(QPointF(x - 7, y), QPointF(x + 7, y))
        painter.setBrush(tone)
        painter.drawPolygon(
            QPolygonF([QPointF(x, y), QPointF(x - 3.2, y + 9 * way), QPointF(x + 3.2, y + 9 * way)])
        )
    font = theme.figures(13, bold=True)
    painter.setFont(font)
    wide = QFontMetricsF(font).horizontalAdvance(finding.measured) + 10
    painter.translate(x, (a + b) / 2)
    painter.rotate(-90)
    box = QRectF(-wide / 2, -10, wide, 20)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(255, 255, 255, 225))
    painter.drawRoundedRect(box, 3, 3)
    painter.setPen(tone if tone.lightness() < 150 else QColor("#1D2630"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, finding.measured)
    painter.resetTransform()


def _binds(measure: str) -> Bind | None:
    return binds_of(measure) if measure in REGISTRY else None


def _band(
    painter: QPainter, marks: Marks, frame: Window, finding: Finding | None, to_sheet: To, ink: Ink
) -> None:
    """Where the lit clause lets its mark lie, as a tinted band in the frame."""
    if finding is None or finding.clause.limit is None or finding.verdict == "idle":
        return
    limit, binds = finding.clause.limit, binds_of(finding.clause.measure)
    low, high = limit.at_least, limit.at_most
    if limit.one_of:
        low, high = min(limit.one_of), max(limit.one_of)
    if not finding.clause.holds_for(turn_of(frame.width, frame.height)):
        return
    tone = QColor(ink(_token(finding)))
    tone.setAlphaF(0.2)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(tone)
    if binds == HEAD_OFFSET:
        a = frame.left + frame.width * (0.5 + (low if low is not None else -0.5))
        b = frame.left + frame.width * (0.5 + (high if high is not None else 0.5))
        painter.drawRect(QRectF(to_sheet(a, frame.top), to_sheet(b, frame.bottom)))
        return
    if binds == HEADROOM:
        a = frame.top + frame.height * (low or 0.0)
        b = frame.top + frame.height * (high if high is not None else 1.0)
    elif binds == EYE_LINE:
        a = frame.bottom - frame.height * (high if high is not None else 1.0)
        b = frame.bottom - frame.height * (low or 0.0)
    elif binds == HEAD_HEIGHT:
        a = marks.crown[1] + frame.height * (low or 0.0)  # where the chin may lie
        b = marks.crown[1] + frame.height * (high if high is not None else 1.0)
    else:
        return
    a, b = (min(max(v, frame.top), frame.bottom) for v in (a, b))
    painter.drawRect(QRectF(to_sheet(frame.left, a), to_sheet(frame.right, b)))
