"""A strip within a column of text."""

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter
from PyQt6.QtWidgets import QSlider, QWidget

from aptandum.core.figures import show_pixels
from aptandum.ui import theme
from aptandum.ui.bench.mockups.base import Panned
from aptandum.ui.strings import t
from aptandum.ui.widgets import label

_ABOVE = (
    "The quay wakes before the first boat. Nets are shaken out along the rail, and whoever has a "
    "kettle going has company by six. What is sold here was made within sight of the water.",
    "Every piece carries the mark of its maker, and every maker can be found on the east side "
    "between the bell and the crane.",
)
_BELOW = (
    "Orders leave with the evening boat. If a thing arrives chipped, tell us, and another is on "
    "the quay the next day.",
)


class StripScene(Panned):
    """A strip of pictures of one height."""

    as_ = "strip"
    title = t("Strip in a column")
    ground = "#FFFFFF"

    def __init__(self) -> None:
        super().__init__()
        self.column = QSlider(Qt.Orientation.Horizontal)
        self.column.setRange(240, 1200)
        self.column.setFixedWidth(150)
        self.column.setAccessibleName(t("Width of the column"))
        self.figure = label("", "figure")
        self.column.valueChanged.connect(self._moved)

    def _moved(self, value: int) -> None:
        self.figure.setText(show_pixels(value))
        self.update()

    def controls(self) -> list[QWidget]:
        """The choices of the strip, for the row below."""
        return [label(t("Column"), "second"), self.column, self.figure]

    def taken(self) -> None:
        """Begin the strip anew with the file that is shown now."""
        super().taken()
        assert self.shown is not None
        self.column.setValue(self.shown.seen.at or 600)
        self._moved(self.column.value())

    def figures(self) -> list[tuple[str, str]]:
        """How large the strip shows the picture."""
        assert self.shown is not None
        wide = self.shown.size[0]
        if self.column.value() > wide:
            return [
                (
                    "advises",
                    t("The column is wider than the file's {n} px: it is enlarged.", n=wide),
                )
            ]
        return []

    def draw(self, painter: QPainter) -> None:
        """Draw the strip."""
        assert self.shown is not None
        wide = float(self.column.value())
        across, up = self.shown.size
        high = wide * up / across
        painter.setFont(theme.text(14))
        ink = QColor("#2B2F33")

        def text(words: str, y: float, painted: bool) -> float:
            room = QRectF(left, y, wide, 1000)
            flags = Qt.AlignmentFlag.AlignLeft.value | Qt.TextFlag.TextWordWrap.value
            used = painter.boundingRect(room, flags, words)
            if painted:
                painter.setPen(ink)
                painter.drawText(room, flags, words)
            return y + used.height() + 14

        left = 0.0
        total = 0.0
        for words in (*_ABOVE, *_BELOW):
            total = text(words, total, False)
        page = QRectF(0, 0, wide, total + high + 20)
        page.moveCenter(QRectF(self.rect()).center())
        page = self.moved(page)
        left, y = page.left(), page.top()
        for words in _ABOVE:
            y = text(words, y, True)
        self.picture(painter, QRectF(left, y, wide, high))
        y += high + 14
        for words in _BELOW:
            y = text(words, y, True)
