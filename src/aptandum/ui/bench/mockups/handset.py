"""A handset's wall, its zones as solid as one likes."""

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPainterPath, QPen
from PyQt6.QtWidgets import QSlider, QWidget

from aptandum.core.brief.model import Zone
from aptandum.ui import theme
from aptandum.ui.bench.mockups.base import Scene
from aptandum.ui.strings import t
from aptandum.ui.widgets import label


class HandsetScene(Scene):
    """A handset's screen at its true size."""

    as_ = "handset"
    title = t("Handset, behind its zones")
    strict = True
    managed = False
    ground = "#9A9A98"

    solidity = pyqtSignal(float)

    def __init__(self) -> None:
        super().__init__()
        self.solid = QSlider(Qt.Orientation.Horizontal)
        self.solid.setRange(0, 100)
        self.solid.setValue(50)
        self.solid.setFixedWidth(150)
        self.solid.setAccessibleName(t("How solid the zones are"))
        self.figure = label("50 %", "figure")
        self.solid.valueChanged.connect(self._moved)

    def _moved(self, value: int) -> None:
        self.figure.setText(f"{value} %")
        self.solidity.emit(value / 100)
        self.update()

    def controls(self) -> list[QWidget]:
        """The choices of the screen, for the row below."""
        return [label(t("Zones"), "second"), self.solid, self.figure]

    def refused(self) -> str:
        """Why the handset does not load the file, or an empty text."""
        return t("The handset does not take this file")

    def figures(self) -> list[tuple[str, str]]:
        """How the picture's size agrees with the screen's."""
        assert self.shown is not None
        if self.shown.loaded is not None and self.shown.loaded.unread:
            return [
                (
                    "advises",
                    t(
                        "The handset reads no profile: colours of {name} are shown wrong.",
                        name=self.shown.loaded.unread,
                    ),
                )
            ]
        return []

    def refuse(self, painter: QPainter) -> None:
        """The handset with nothing on its screen, and why."""
        room = QRectF(self.rect()).adjusted(40, 40, -40, -40)
        self._case(painter, self.fitted(room, (9, 19)))
        super().refuse(painter)

    def _case(self, painter: QPainter, box: QRectF) -> QPainterPath:
        """The body of the handset about its screen; the screen's outline."""
        case = box.adjusted(-10, -14, 10, 14)
        round_ = min(26.0, box.width() * 0.09)
        painter.setPen(QPen(QColor("#3A3E42"), 1.5))
        painter.setBrush(QColor("#15181B"))
        painter.drawRoundedRect(case, round_ + 8, round_ + 8)
        glass = QPainterPath()
        glass.addRoundedRect(box, round_, round_)
        return glass

    def draw(self, painter: QPainter) -> None:
        """Draw the handset and its screen."""
        assert self.shown is not None
        room = QRectF(self.rect()).adjusted(30, 26, -30, -26)
        box = self.fitted(room.adjusted(10, 14, -10, -14), self.shown.size)
        glass = self._case(painter, box)
        painter.save()
        painter.setClipPath(glass)
        self.picture(painter, box)
        share = self.solid.value() / 100
        for zone in self.shown.seen.zones:
            self._zone(painter, box, zone, share)
        painter.restore()
        for name, (left, top, wide, high) in self.shown.kept:
            part = QRectF(
                box.left() + left * box.width(),
                box.top() + top * box.height(),
                wide * box.width(),
                high * box.height(),
            )
            lies = bool(self.shown.covered)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(255, 255, 255, 200), 3))
            painter.drawRect(part)
            painter.setPen(
                QPen(QColor("#B1341E" if lies else "#17745A"), 1.4, Qt.PenStyle.DashLine)
            )
            painter.drawRect(part)
            self._tag(painter, part, name)

    def _zone(self, painter: QPainter, box: QRectF, zone: Zone, share: float) -> None:
        part = QRectF(
            box.left() + zone.left * box.width(),
            box.top() + zone.top * box.height(),
            zone.width * box.width(),
            zone.height * box.height(),
        )
        name = zone.name
        fill = QColor("#20262C")
        fill.setAlphaF(share)
        painter.fillRect(part, fill)
        covered = self.shown is not None and name in self.shown.covered
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor("#F09A86" if covered else "#FFFFFF"), 2 if covered else 1))
        painter.drawRect(part.adjusted(0.5, 0.5, -0.5, -0.5))
        self._tag(painter, part, name)

    def _tag(self, painter: QPainter, part: QRectF, name: str) -> None:
        font = theme.tight(12, bold=True)
        painter.setFont(font)
        wide = QFontMetricsF(font).horizontalAdvance(name) + 12
        tag = QRectF(part.left() + 5, part.top() + 4, wide, 17)
        painter.fillRect(tag, QColor(255, 255, 255, 225))
        painter.setPen(QColor("#1D2630"))
        painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, name)
