"""Sentences with their signs."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QRectF, QSize, Qt
from PyQt6.QtGui import QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from aptandum.ui import theme
from aptandum.ui.painting import Painter
from aptandum.ui.signs import draw_sign
from aptandum.ui.strings import t
from aptandum.ui.widgets import label


class Said(QWidget):
    """A sentence with its sign."""

    def __init__(self, verdict: str, words: str) -> None:
        super().__init__()
        self.verdict = verdict
        row = QHBoxLayout(self)
        row.setContentsMargins(*((0, 0, 22, 0) if self.isRightToLeft() else (22, 0, 0, 0)))
        self.words = label(words, wrap=True)
        # Beside a longer sentence it is higher than its words are, which stay beside their sign.
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeading)
        row.addWidget(self.words)
        self.words.setStyleSheet(theme.scaled("font-size: 12px"))
        self.setAccessibleName(words)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        self.setSizePolicy(policy)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.verdict:
            painter = Painter(self)
            draw_sign(painter, self.verdict, QRectF(2, 1, 14, 14))


class Scrolled(QScrollArea):
    """Sentences on a panel's own ground, which are scrolled where they have no room."""

    def __init__(self, held: QWidget) -> None:
        super().__init__()
        self.setWidget(held)
        held.setMinimumSize(1, 1)  # its height follows from its width alone
        held.setAutoFillBackground(False)  # the panel's own shows through
        self.viewport().setAutoFillBackground(False)  # type: ignore[union-attr]
        self.setWidgetResizable(True)
        self.setAccessibleName(t("Findings"))
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)


class Told(Scrolled):
    """Sentences one below the other, as high as they are; in a low window they are scrolled."""

    def __init__(self) -> None:
        held = QWidget()
        self.column = QVBoxLayout(held)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(3)
        self.column.setAlignment(Qt.AlignmentFlag.AlignTop)
        super().__init__(held)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        held.installEventFilter(self)

    def sizeHint(self) -> QSize:
        """As high as its sentences are at its width."""
        return QSize(super().sizeHint().width(), self._height())

    def minimumSizeHint(self) -> QSize:
        """A sentence or two stay in view."""
        return QSize(super().minimumSizeHint().width(), min(self._height(), theme.px(84)))

    def _height(self) -> int:
        width = self.viewport().width()  # type: ignore[union-attr]
        return max(self.column.totalHeightForWidth(width), 0) if self.column.count() else 0

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.updateGeometry()

    def eventFilter(self, held: QObject | None, event: QEvent | None) -> bool:
        """Sentences that came or went change its height."""
        if event is not None and event.type() == QEvent.Type.LayoutRequest:
            self.updateGeometry()
        return super().eventFilter(held, event)
