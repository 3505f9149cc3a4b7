"""What is drawn over the picture on the sheet besides dimensions: the mask, the backdrop's heat
map, the colours outside the target, and the panels of a template."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QImage, QPainter, QPen, QPolygonF

from aptandum.core.brief.model import Template
from aptandum.core.figures import show_number
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.later import np
from aptandum.core.photo.backdrop import NoMask
from aptandum.ui import theme
from aptandum.ui.strings import t

HEAT = frozenset(("lightness", "spread", "edge"))
"""What measures may ask to be drawn of the backdrop (``Measure.drawn``), as a heat map."""

_STOPS = (
    (0.0, (39, 80, 140)),
    (0.35, (132, 160, 196)),
    (0.6, (226, 200, 132)),
    (0.8, (201, 128, 54)),
    (1.0, (148, 42, 24)),
)


def _image(rgba: Any) -> QImage:
    """An array of shape (h, w, 4), 0..255 and not premultiplied, as an image of its own."""
    high, wide = rgba.shape[:2]
    flat = np.ascontiguousarray(rgba.astype(np.uint8)[..., (2, 1, 0, 3)])
    made = QImage(flat.tobytes(), wide, high, wide * 4, QImage.Format.Format_ARGB32)
    return made.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied)


def hatch(where: Any, colour: QColor, step: int = 9, paired: bool = False) -> QImage:
    """Diagonal hatching where a share (0..1, shape (h, w)) says so, over a faint wash; where it
    is ``paired`` each line has a light one beside it, so that it is seen on any tone."""
    high, wide = where.shape
    y, x = np.mgrid[0:high, 0:wide]
    line = ((x + y) % step) < 2
    rgba = np.zeros((high, wide, 4), np.float32)
    rgba[..., :3] = (colour.red(), colour.green(), colour.blue())
    rgba[..., 3] = where * np.where(line, 190, 46)
    if paired:
        light = ((x + y) % step) == 3
        rgba[light, :3] = 255
        rgba[..., 3] = where * np.where(line, 235, np.where(light, 200, 30))
    return _image(rgba)


def _ramp(values: Any) -> Any:
    """Values 0..1 in the heat map's colours, shape (h, w, 3)."""
    at = [stop for stop, _ in _STOPS]
    return np.stack([np.interp(values, at, [c[i] for _, c in _STOPS]) for i in range(3)], -1)


class Heat:
    """A heat map of one of :data:`HEAT`, with the figures of its key."""

    def __init__(self, image: QImage, low: str, high: str, words: str) -> None:
        self.image, self.low, self.high, self.words = image, low, high, words


def heat(look: PixelStatistics, drawn: str) -> Heat | None:
    """The heat map of a backdrop's measure; ``None`` where there is no backdrop to be seen."""
    try:
        lab, _cover = look.small
        behind = look.behind
    except NoMask:
        return None
    if not behind.any():
        return None
    rgba = np.zeros((*behind.shape, 4), np.float32)
    if drawn == "edge":
        import cv2

        rim, apart = look.edge
        thick = max(2, round(behind.shape[0] / 220))
        kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * thick + 1,) * 2)
        wide = cv2.dilate(np.where(rim, apart, 0).astype(np.float32), kernel)
        near = cv2.dilate(rim.astype(np.uint8), kernel) > 0
        most = 40.0
        rgba[..., :3] = _ramp(1 - np.clip(wide / most, 0, 1))
        rgba[..., 3] = near * 235
        return Heat(_image(rgba), "0", f"{most:.0f}", t("parts weakly … clearly (CIEDE2000)"))
    if drawn == "spread":
        most = max(10.0, float(np.percentile(look.spread[behind], 99)))
        values = np.clip(look.spread / most, 0, 1)
        words = t("from the middle colour (CIEDE2000)")
        low, high = "0", show_number(most, 0)
    else:
        a, b = (float(v) for v in np.percentile(lab[..., 0][behind], (1, 99)))
        b = max(b, a + 4)
        values = 1 - np.clip((lab[..., 0] - a) / (b - a), 0, 1)
        words = t("lightness, L*")
        low, high = show_number(b, 0), show_number(a, 0)
    rgba[..., :3] = _ramp(values)
    rgba[..., 3] = behind * 200
    return Heat(_image(rgba), low, high, words)


def draw_key(painter: QPainter, found: Heat, drawn: str, corner: QPointF) -> None:
    """The heat map's key: a bar with its ends in figures."""
    box = QRectF(corner.x(), corner.y(), 236, 44)
    painter.save()
    painter.setPen(QPen(theme.colour("hairline"), 1))
    painter.setBrush(theme.colour("panel"))
    painter.drawRoundedRect(box, 3, 3)
    bar = QRectF(box.left() + 44, box.top() + 8, 148, 9)
    turned = drawn == "edge"
    for i in range(int(bar.width())):
        share = i / bar.width()
        r, g, b = _ramp(np.array(1 - share if turned else share))
        painter.fillRect(
            QRectF(bar.left() + i, bar.top(), 1, bar.height()), QColor(int(r), int(g), int(b))
        )
    painter.setFont(theme.figures(11))
    painter.setPen(theme.colour("ink"))
    right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
    painter.drawText(QRectF(box.left() + 4, bar.top() - 4, 34, 17), right, found.low)
    painter.drawText(
        QRectF(bar.right() + 6, bar.top() - 4, 38, 17), Qt.AlignmentFlag.AlignVCenter, found.high
    )
    painter.setFont(theme.tight(11))
    painter.setPen(theme.colour("ink2"))
    painter.drawText(
        QRectF(box.left(), box.top() + 22, box.width(), 18),
        Qt.AlignmentFlag.AlignCenter,
        found.words,
    )
    painter.restore()


def draw_panels(
    painter: QPainter, template: Template, box: QRectF, chosen: str, ink: QColor
) -> None:
    """The outlines of a template's panels with their names; the chosen one stronger."""
    k = box.width() / template.size[0]
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    font = theme.tight(12, bold=True)
    painter.setFont(font)
    for panel in template.panels:
        points = [QPointF(box.left() + x * k, box.top() + y * k) for x, y in panel.outline]
        on = panel.name == chosen
        painter.setPen(QPen(QColor(255, 255, 255, 210), 3 if on else 2))
        painter.drawPolygon(QPolygonF(points))
        painter.setPen(QPen(ink, 2 if on else 1))
        painter.drawPolygon(QPolygonF(points))
        x = sum(p.x() for p in points) / len(points)
        y = sum(p.y() for p in points) / len(points)
        wide = QFontMetricsF(font).horizontalAdvance(panel.name) + 12
        tag = QRectF(x - wide / 2, y - 9, wide, 18)
        painter.fillRect(tag, ink if on else QColor(255, 255, 255, 220))
        painter.setPen(QColor("#FFFFFF") if on and ink.lightness() < 150 else QColor("#1D2630"))
        painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, panel.name)
    painter.restore()


def dots_at(image: QImage, size: float, ratio: float) -> QImage:
    """A picture of dots at ``size`` screen pixels each: round-cornered cells where there is room
    for them, plain ones where there is not."""
    wide = max(1, round(image.width() * size * ratio))
    high = max(1, round(image.height() * size * ratio))
    smooth = size * ratio < 1
    how = (
        Qt.TransformationMode.SmoothTransformation
        if smooth
        else Qt.TransformationMode.FastTransformation
    )
    return image.scaled(wide, high, Qt.AspectRatioMode.IgnoreAspectRatio, how)
