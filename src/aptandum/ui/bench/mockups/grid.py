"""A page of offers: the picture at its small size among made-up neighbours."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QLinearGradient, QPainter, QPainterPath, QRadialGradient
from PyQt6.QtWidgets import QWidget

from aptandum.core.figures import show_number
from aptandum.ui.bench.mockups.base import Scene
from aptandum.ui.strings import t
from aptandum.ui.widgets import button

_THINGS = ("#A8552F", "#3F6B57", "#5A6E91", "#B79A4B", "#7C4660", "#4C4A46", "#8FA7A0", "#C3B59C")


class GridScene(Scene):
    """A page of pictures in rows, of which this is one."""

    as_ = "grid"
    title = t("Page of offers")
    managed = False
    ground = "#FFFFFF"

    def __init__(self) -> None:
        super().__init__()
        self.at = 4
        self.elsewhere = button(t("Put it elsewhere"), "link", self._elsewhere)

    def controls(self) -> list[QWidget]:
        """The choices of the page, for the row below."""
        return [self.elsewhere]

    def _elsewhere(self) -> None:
        self.at += 3
        self.update()

    def figures(self) -> list[tuple[str, str]]:
        """How large the place shows the picture."""
        assert self.shown is not None
        n = self.shown.seen.at or 140
        scale = n / max(self.shown.size)
        return [
            (
                "",
                t(
                    "{n} px wide here: {s} of the file's own size.",
                    n=n,
                    s=f"{show_number(scale * 100, 1)} %",
                ),
            )
        ]

    def draw(self, painter: QPainter) -> None:
        """Draw the rows of pictures."""
        assert self.shown is not None
        n = self.shown.seen.at or 140
        gap, foot = 22, 44
        cols = max(1, int((self.width() - gap) // (n + gap)))
        rows = max(1, int((self.height() - gap) // (n + foot + gap)))
        left = (self.width() - cols * n - (cols - 1) * gap) / 2
        top = max(16.0, (self.height() - rows * (n + foot + gap)) / 2 + gap / 2)
        where = self.at % (cols * rows)
        for i in range(cols * rows):
            x = left + (i % cols) * (n + gap)
            y = top + (i // cols) * (n + foot + gap)
            tile = QRectF(x, y, n, n)
            if i == where:
                self.picture(painter, self.fitted(tile, self.shown.size))
            else:
                _neighbour(painter, tile, i)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor("#D5D7D6"))
            painter.drawRect(QRectF(x, y + n + 9, n * (0.85 - 0.1 * (i % 3)), 7))
            painter.setBrush(QColor("#E6E7E6"))
            painter.drawRect(QRectF(x, y + n + 22, n * 0.4, 7))


def _neighbour(painter: QPainter, tile: QRectF, n: int) -> None:
    """A made-up thing on a light ground: pot, box, bowl or lamp."""
    side = tile.width()
    ground = QColor.fromHsl(40, 8 * (n % 3), 250 - 6 * (n % 4))
    painter.fillRect(tile, ground)
    colour = QColor(_THINGS[n % len(_THINGS)])
    middle = tile.center()
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(0, 0, 0, 26))
    painter.drawEllipse(
        QPointF(middle.x() + side * 0.03, tile.bottom() - side * 0.16), side * 0.28, side * 0.045
    )
    across = QLinearGradient(middle.x() - side * 0.3, 0, middle.x() + side * 0.3, 0)
    across.setColorAt(0, colour.lighter(135))
    across.setColorAt(0.45, colour)
    across.setColorAt(1, colour.darker(160))
    painter.setBrush(across)
    shape = QPainterPath()
    shape.setFillRule(Qt.FillRule.WindingFill)
    kind = n % 4
    if kind == 0:
        shape.addEllipse(middle + QPointF(0, side * 0.08), side * 0.27, side * 0.25)
        shape.addRect(
            QRectF(middle.x() - side * 0.09, middle.y() - side * 0.3, side * 0.18, side * 0.2)
        )
    elif kind == 1:
        shape.addRoundedRect(
            QRectF(middle.x() - side * 0.26, middle.y() - side * 0.2, side * 0.52, side * 0.53),
            4,
            4,
        )
    elif kind == 2:
        shape.moveTo(middle.x() - side * 0.32, middle.y() - side * 0.04)
        shape.cubicTo(
            middle.x() - side * 0.28,
            middle.y() + side * 0.42,
            middle.x() + side * 0.28,
            middle.y() + side * 0.42,
            middle.x() + side * 0.32,
            middle.y() - side * 0.04,
        )
        shape.closeSubpath()
    else:
        shape.moveTo(middle.x() - side * 0.13, middle.y() - side * 0.32)
        shape.lineTo(middle.x() + side * 0.13, middle.y() - side * 0.32)
        shape.lineTo(middle.x() + side * 0.29, middle.y() + side * 0.02)
        shape.lineTo(middle.x() - side * 0.29, middle.y() + side * 0.02)
        shape.closeSubpath()
        shape.addRect(
            QRectF(middle.x() - side * 0.03, middle.y() + side * 0.02, side * 0.06, side * 0.3)
        )
    painter.drawPath(shape.simplified())
    glow = QRadialGradient(middle + QPointF(-side * 0.1, -side * 0.02), side * 0.16)
    glow.setColorAt(0, QColor(255, 255, 255, 70))
    glow.setColorAt(1, QColor(255, 255, 255, 0))
    painter.setBrush(glow)
    painter.drawPath(shape)
