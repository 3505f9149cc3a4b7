"""A card with the portrait at its printed size."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from aptandum.core.figures import show_number
from aptandum.ui import theme
from aptandum.ui.bench.mockups.base import Scene
from aptandum.ui.strings import t

CARD = (85.6, 54.0)
"""Width and height in millimetres (ISO/IEC 7810, ID-1)."""


class CardScene(Scene):
    """A card that carries the photo beside printed lines."""

    as_ = "card"
    title = t("Card, at its printed size")
    ground = "#B9B9B7"

    def draw(self, painter: QPainter) -> None:
        """Draw the card."""
        assert self.shown is not None
        mm = self.per_mm()
        wide, high = self.shown.size
        width = self.shown.seen.width or 35.0
        height = width * high / wide
        pad = 5.0
        card = QRectF(0, 0, max(CARD[0], width + 42), max(CARD[1], height + 2 * pad))
        whole = QRectF(0, 0, card.width() * mm, card.height() * mm)
        whole.moveCenter(QRectF(self.rect()).center())
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(0, 0, 0, 40))
        painter.drawRoundedRect(whole.translated(0, 3), 3.2 * mm, 3.2 * mm)
        painter.setBrush(QColor("#FBFBF8"))
        painter.drawRoundedRect(whole, 3.2 * mm, 3.2 * mm)
        at = whole.topLeft() + QPointF(pad * mm, (card.height() - height) / 2 * mm)
        box = QRectF(at.x(), at.y(), width * mm, height * mm)
        self.picture(painter, box)
        text = QRectF(
            box.right() + 4 * mm, box.top(), whole.right() - box.right() - 8 * mm, box.height()
        )
        painter.setPen(QColor("#1D2630"))
        painter.setFont(theme.tight(max(9, round(2.9 * mm)), bold=True))
        painter.drawText(
            text, Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap, self.shown.book.body.name
        )
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#D9DBDA"))
        for n, share in enumerate((0.9, 0.62, 0.76, 0.5)):
            y = text.top() + (9 + 6.2 * n) * mm
            if y + 2 * mm < text.bottom():
                painter.drawRect(QRectF(text.left(), y, text.width() * share, 2 * mm))
        self._ruler(painter, whole, box, mm, width, height)

    def _ruler(
        self, painter: QPainter, whole: QRectF, box: QRectF, mm: float, width: float, height: float
    ) -> None:
        """Dimensions below the card, with the picture's own in figures."""
        y = whole.bottom() + 14
        painter.setPen(QPen(QColor("#27508C"), 1.2))
        for x in (box.left(), box.right()):
            painter.drawLine(QPointF(x, y - 5), QPointF(x, y + 5))
        painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
        painter.setFont(theme.figures(11))
        painter.drawText(
            QRectF(box.left(), y + 6, max(box.width(), 160), 16),
            Qt.AlignmentFlag.AlignLeft,
            t("{w} × {h} mm", w=show_number(width, 1), h=show_number(height, 1)),
        )
