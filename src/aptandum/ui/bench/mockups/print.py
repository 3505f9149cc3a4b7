"""A print on a table, at true size."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QCheckBox, QWidget

from aptandum.core.figures import show_number
from aptandum.ui import theme
from aptandum.ui.bench.mockups.base import Panned
from aptandum.ui.strings import t


class PrintScene(Panned):
    """A print on a table, at its true size."""

    as_ = "print"
    title = t("Print, at true size")
    ground = "#8C8C8A"

    def __init__(self) -> None:
        super().__init__()
        self.whole = QCheckBox(t("The whole print, smaller"))
        self.whole.toggled.connect(lambda _on: self.update())

    def controls(self) -> list[QWidget]:
        """The choices of the print, for the row below."""
        return [self.whole]

    def millimetres(self) -> tuple[float, float]:
        """Width and height of the print: as the brief says, else as the file's pixels per inch
        do, else at 300."""
        assert self.shown is not None
        wide, high = self.shown.size
        width = self.shown.seen.width or wide / (self.shown.ppi or 300.0) * 25.4
        return width, width * high / wide

    def figures(self) -> list[tuple[str, str]]:
        """The print's size and density."""
        width, height = self.millimetres()
        assert self.shown is not None
        ppi = self.shown.size[0] / width * 25.4
        return [
            (
                "",
                t(
                    "{w} × {h} mm, {n} pixels of the file in an inch of it.",
                    w=show_number(width, 1),
                    h=show_number(height, 1),
                    n=round(ppi),
                ),
            )
        ]

    def draw(self, painter: QPainter) -> None:
        """Draw the print on its table."""
        width, height = self.millimetres()
        edge = 8.0
        mm = self.per_mm()
        if self.whole.isChecked():
            room = QRectF(self.rect()).adjusted(40, 40, -40, -40)
            mm = min(mm, room.width() / (width + 2 * edge), room.height() / (height + 2 * edge))
        paper = QRectF(0, 0, (width + 2 * edge) * mm, (height + 2 * edge) * mm)
        paper.moveCenter(QRectF(self.rect()).center())
        paper = self.moved(paper)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(0, 0, 0, 50))
        painter.drawRect(paper.translated(3, 4))
        painter.setBrush(QColor("#FAFAF6"))
        painter.drawRect(paper)
        box = paper.adjusted(edge * mm, edge * mm, -edge * mm, -edge * mm)
        self.picture(painter, box)
        self._ruler(painter, paper, box, mm, width)

    def _ruler(
        self, painter: QPainter, paper: QRectF, box: QRectF, mm: float, width: float
    ) -> None:
        """Centimetres along the upper edge of the view, so that the size can be read."""
        y = max(paper.top(), 0.0)
        band = QRectF(box.left(), y, box.width(), 18)
        painter.fillRect(band, QColor(250, 250, 246, 230))
        painter.setPen(QPen(QColor("#27508C"), 1))
        painter.setFont(theme.figures(10))
        for n in range(int(width) + 1):
            x = box.left() + n * mm
            tall = 9 if n % 10 == 0 else 6 if n % 5 == 0 else 3
            if n % 5 and mm < 2:
                continue
            painter.drawLine(QPointF(x, y), QPointF(x, y + tall))
            if n % 10 == 0 and n and (mm > 2 or n % 50 == 0):
                painter.drawText(
                    QRectF(x - 20, y + 7, 40, 12), Qt.AlignmentFlag.AlignCenter, str(n // 10)
                )
