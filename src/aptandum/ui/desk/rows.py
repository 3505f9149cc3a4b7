"""What the lists of this place share: a model of things in order, and how a row is painted."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, Generic, TypeVar

from PyQt6.QtCore import QModelIndex, QRectF, QStringListModel, Qt
from PyQt6.QtGui import QFont, QFontMetricsF, QPainter
from PyQt6.QtWidgets import QAbstractItemView, QListView, QStyle, QStyleOptionViewItem

from aptandum.ui import theme
from aptandum.ui.painting import draw_text

THING = Qt.ItemDataRole.UserRole
ROW = 52
"""Height of a row of two lines."""

_WORDS = (
    Qt.ItemDataRole.DisplayRole,
    Qt.ItemDataRole.AccessibleTextRole,
    Qt.ItemDataRole.ToolTipRole,  # a row shortens what has no room
)
T = TypeVar("T")


class Things(QStringListModel, Generic[T]):
    """Things in order; ``words`` says one for screen readers.

    As many empty texts stand for them: a list asks for the number of its rows once for each of them as it is laid
    out, and is told by Qt itself.
    """

    def __init__(self, words: Callable[[T], str]) -> None:
        super().__init__()
        self.words = words
        self.items: Sequence[T] = []

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """They can be chosen, and not written into."""
        held = super().flags(index)
        return held & (Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)

    def data(self, index: QModelIndex, role: int = 0) -> Any:
        """What Qt asks of a row."""
        one = self.items[index.row()]
        if role == THING:
            return one
        if role in _WORDS:
            return self.words(one)
        return None

    def take(self, items: Sequence[T]) -> None:
        """Hold these from now on; they are not changed any more by whoever gives them."""
        self.items = items
        self.setStringList([""] * len(items))

    def change(self, items: Sequence[T]) -> None:
        """Hold the same things, some of which have changed."""
        old, self.items = self.items, list(items)
        for row, (a, b) in enumerate(zip(old, self.items, strict=True)):
            if a != b:
                self.dataChanged.emit(self.index(row), self.index(row))


def dress(view: QListView, name: str) -> None:
    """A list without a frame, of rows of one height, scrolled smoothly."""
    view.setAccessibleName(name)
    view.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
    view.setUniformItemSizes(True)
    view.setStyleSheet("QListView { border: none; background: transparent; outline: 0; }")


def ground(painter: QPainter, option: QStyleOptionViewItem, box: QRectF, line: bool = True) -> None:
    """What lies under a row: whether it is chosen, and the line that ends it."""
    if option.state & QStyle.StateFlag.State_Selected:
        painter.fillRect(box, theme.colour("blue_soft"))
        painter.fillRect(QRectF(box.left(), box.top(), 3, box.height()), theme.colour("blue"))
    if line:
        painter.setPen(theme.colour("hairline"))
        painter.drawLine(box.bottomLeft(), box.bottomRight())


def write(
    painter: QPainter,
    font: QFont,
    token: str,
    box: QRectF,
    text: str,
    elide: Qt.TextElideMode = Qt.TextElideMode.ElideRight,
    right: bool = False,
) -> None:
    """A line of text, shortened where it does not fit."""
    painter.setFont(font)
    painter.setPen(theme.colour(token))
    shown = QFontMetricsF(font).elidedText(text, elide, box.width())
    side = Qt.AlignmentFlag.AlignRight if right else Qt.AlignmentFlag.AlignLeft
    draw_text(painter, box, Qt.AlignmentFlag.AlignVCenter | side, shown)
