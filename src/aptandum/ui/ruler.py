"""How large things are on this screen: measured with a ruler laid on it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from aptandum.core.figures import show_number
from aptandum.core.quantity import MM_PER_INCH
from aptandum.ui import preferences, theme
from aptandum.ui.strings import t
from aptandum.ui.widgets import NumberField, button, label

LENGTH = 100.0
"""Millimetres that the line is to be drawn out to."""


class MeasuredLine(QWidget):
    """A line whose right end can be dragged, or moved with the arrow keys."""

    changed = pyqtSignal(float)

    def __init__(self, length: float) -> None:
        super().__init__()
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # as it is for everyone
        self.length = length  # in pixels of the screen's own grid
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.SizeHorCursor)
        self.setFixedHeight(74)
        self.setAccessibleName(t("Line to be drawn out to {n} mm", n=show_number(LENGTH)))

    def sizeHint(self) -> QSize:
        return QSize(900, 74)

    def take(self, length: float) -> None:
        """Make the line so many widget pixels long, as far as there is room."""
        self.length = min(max(length, 40.0), max(60.0, self.width() - 30.0))
        self.changed.emit(self.length)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("field"))
        left, right, y = 14.0, 14.0 + self.length, 44.0
        painter.setPen(QPen(theme.colour("ink"), 1))
        for n in range(int(LENGTH) + 1):
            x = left + self.length * n / LENGTH
            tall = 16 if n % 10 == 0 else 10 if n % 5 == 0 else 6
            painter.drawLine(QPointF(x, y), QPointF(x, y - tall))
        painter.setPen(QPen(theme.colour("blue"), 2))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        for x in (left, right):
            painter.drawLine(QPointF(x, y - 22), QPointF(x, y + 12))
        painter.fillRect(QRectF(right - 4, y + 8, 8, 14), theme.colour("blue"))
        painter.setFont(theme.figures(11))
        painter.setPen(theme.colour("ink2"))
        painter.drawText(
            QRectF(left, y + 8, 200, 16),
            Qt.AlignmentFlag.AlignLeft,
            t("{n} mm", n=show_number(LENGTH)),
        )
        if self.hasFocus():
            painter.setPen(QPen(theme.colour("blue"), 2))
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.take(event.position().x() - 14)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        self.mousePressEvent(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
        if event.key() == Qt.Key.Key_Left:
            self.take(self.length - step)
        elif event.key() == Qt.Key.Key_Right:
            self.take(self.length + step)
        else:
            super().keyPressEvent(event)


class RulerDialog(QDialog):
    """Asks how long a line of known length is on this screen."""

    def __init__(self, ratio: float, ppi: float, parent: QWidget | None = None) -> None:
        """``ppi``: the screen's pixels per inch as known; ``ratio``: its pixels in one of ours."""
        super().__init__(parent)
        self.ratio = ratio
        self.setWindowTitle(t("Size on this screen"))
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 18, 20, 18)
        column.setSpacing(10)
        column.addWidget(label(t("Size on this screen"), "title"))
        column.addWidget(
            label(
                t(
                    "Lay a ruler on the line and draw its end out until it is 100 mm long. The arrow "
                    "keys move it by one pixel, with Shift by ten."
                ),
                wrap=True,
            )
        )
        self.line = MeasuredLine(ppi / ratio * LENGTH / MM_PER_INCH)
        self.line.changed.connect(self._drawn)
        column.addWidget(self.line)
        row = QHBoxLayout()
        row.addWidget(label(t("Pixels in an inch of this screen"), "second"))
        self.field = NumberField(t("Pixels in an inch of this screen"))
        self.field.show_value(ppi)
        self.field.taken.connect(self._typed)
        row.addWidget(self.field)
        row.addStretch(1)
        row.addWidget(button(t("As the system says"), "link", self._forget))
        row.addWidget(button(t("Cancel"), "", self.reject))
        self.act = button(t("Keep"), "act", self.accept)
        row.addWidget(self.act)
        column.addLayout(row)
        self.known: float | None = ppi

    def _drawn(self, length: float) -> None:
        self.known = length * self.ratio * MM_PER_INCH / LENGTH
        self.field.show_value(self.known)

    def _typed(self, value: float) -> None:
        self.known = min(max(value, 20.0), 1200.0)
        self.line.length = self.known / self.ratio * LENGTH / MM_PER_INCH
        self.line.update()

    def _forget(self) -> None:
        self.known = None
        self.accept()

    def accept(self) -> None:
        """Remember how many pixels of the screen make an inch."""
        preferences.use_screen_ppi(self.known)
        super().accept()
