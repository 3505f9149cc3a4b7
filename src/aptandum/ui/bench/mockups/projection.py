"""A projected picture in a dark room."""

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter
from PyQt6.QtWidgets import QSlider, QWidget

from aptandum.ui.bench.mockups.base import Scene
from aptandum.ui.strings import t
from aptandum.ui.widgets import label


class ProjectionScene(Scene):
    """A projection in a dark room."""

    as_ = "projection"
    title = t("Projection, in a dark room")
    ground = "#000000"

    def __init__(self) -> None:
        super().__init__()
        self.light = QSlider(Qt.Orientation.Horizontal)
        self.light.setRange(0, 30)
        self.light.setFixedWidth(130)
        self.light.setAccessibleName(t("Light in the room"))
        self.light.valueChanged.connect(lambda _n: self.update())

    def controls(self) -> list[QWidget]:
        """The choices of the room, for the row below."""
        return [label(t("Light in the room"), "second"), self.light]

    def draw(self, painter: QPainter) -> None:
        """The screen's cloth is never quite black: the projector's own black lifts it, and what
        light there is in the room."""
        assert self.shown is not None
        room = QRectF(self.rect()).adjusted(28, 24, -28, -36)
        veil = 3 + round(self.light.value() * 2.2)
        cloth = self.fitted(room, (16, 10))
        painter.fillRect(cloth, QColor(veil, veil, veil))
        box = self.fitted(cloth.adjusted(10, 10, -10, -10), self.shown.size)
        self.picture(painter, box)
        if self.light.value():
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Screen)
            painter.fillRect(box, QColor(veil, veil, veil))
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
