"""The list of what was handed over: what we say on the left, what the desk says on the right."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QListView,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
)

from aptandum.core.docket.handed import HandOver
from aptandum.ui import theme
from aptandum.ui.desk.state import LOOK, draw_state, said, when
from aptandum.ui.signs import draw_sign, word
from aptandum.ui.strings import t

ITEM = Qt.ItemDataRole.UserRole
HEAD, ROW = 30, 52


def columns(width: float) -> tuple[float, float, float]:
    """Where our word, the desk's word and the time begin."""
    return width * 0.46, width * 0.63, width - 78


class _Items(QAbstractListModel):
    def __init__(self) -> None:
        super().__init__()
        self.items: list[HandOver] = []

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return len(self.items)

    def data(self, index: QModelIndex, role: int = 0) -> Any:
        item = self.items[index.row()]
        if role == ITEM:
            return item
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return t("{file}: we say {ours}; the desk: {theirs} {number}", file=item.name,
                     ours=item.we_say, theirs=said(item), number=item.number)  # fmt: skip
        return None

    def take(self, items: Sequence[HandOver]) -> None:
        if [i.id for i in items] == [i.id for i in self.items]:
            old, self.items = self.items, list(items)
            for row, (a, b) in enumerate(zip(old, self.items, strict=True)):
                if a != b:
                    self.dataChanged.emit(self.index(row), self.index(row))
            return
        self.beginResetModel()
        self.items = list(items)
        self.endResetModel()


class _Look(QStyledItemDelegate):
    def __init__(self, parent: HandedList) -> None:
        super().__init__(parent)
        self.title_of: Callable[[str], tuple[str, str]] = lambda name: (name, "")

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(200, ROW)

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        assert painter is not None
        item: HandOver = index.data(ITEM)
        box = QRectF(option.rect)
        painter.save()
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(box, theme.colour("blue_soft"))
            painter.fillRect(QRectF(box.left(), box.top(), 3, box.height()), theme.colour("blue"))
        painter.setPen(theme.colour("hairline"))
        painter.drawLine(box.bottomLeft(), box.bottomRight())
        ours, theirs, at = (box.left() + x for x in columns(box.width()))
        flags = Qt.AlignmentFlag.AlignVCenter
        title, body = self.title_of(item.brief)
        self._two(painter, QRectF(box.left() + 16, box.top(), ours - box.left() - 30, ROW),
                  item.name, f"{title} · {body}" if body else title)  # fmt: skip
        verdict = "meets" if item.ready else "misses"
        draw_sign(painter, verdict, QRectF(ours, box.top() + 9, 14, 14))
        painter.setPen(theme.colour(verdict))
        painter.setFont(theme.text(13))
        painter.drawText(QRectF(ours + 21, box.top() + 5, 110, 22), flags, word(verdict))
        if item.we_say and item.we_say != t("all met"):
            painter.setPen(theme.colour("ink2"))
            painter.setFont(theme.tight(12))
            room = theirs - ours - 30
            shown = QFontMetricsF(theme.tight(12)).elidedText(
                item.we_say, Qt.TextElideMode.ElideRight, room
            )
            painter.drawText(QRectF(ours + 21, box.top() + 26, room, 18), flags, shown)
        draw_state(painter, item.state, QRectF(theirs, box.top() + 8, 16, 16))
        painter.setPen(theme.colour(LOOK[item.state][1]))
        painter.setFont(theme.text(13))
        painter.drawText(
            QRectF(theirs + 23, box.top() + 5, at - theirs - 30, 22), flags, said(item)
        )
        painter.setPen(theme.colour("ink2"))
        painter.setFont(theme.figures(12))
        number = item.number or t("no receipt")
        painter.drawText(QRectF(theirs + 23, box.top() + 26, at - theirs - 30, 18), flags, number)
        if item.history:
            painter.setFont(theme.tight(12))
            painter.drawText(QRectF(at - 30, box.top() + 5, 92, 22),
                             flags | Qt.AlignmentFlag.AlignRight,
                             when(item.history[-1].at))  # fmt: skip
        if option.state & QStyle.StateFlag.State_HasFocus:
            painter.setPen(theme.colour("blue"))
            painter.drawRect(box.adjusted(0, 0, -1, -1))
        painter.restore()

    @staticmethod
    def _two(painter: QPainter, box: QRectF, first: str, second: str) -> None:
        font = theme.text(13)
        font.setWeight(font.Weight.Medium)
        for text, used, token, top, high in (
            (first, font, "ink", 5, 22), (second, theme.tight(12), "ink2", 26, 18),
        ):  # fmt: skip
            painter.setFont(used)
            painter.setPen(theme.colour(token))
            shown = QFontMetricsF(used).elidedText(text, Qt.TextElideMode.ElideMiddle, box.width())
            painter.drawText(QRectF(box.left(), box.top() + top, box.width(), high),
                             Qt.AlignmentFlag.AlignVCenter, shown)  # fmt: skip


class HandedList(QListView):
    """See the module."""

    picked = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(t("What was handed over"))
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setUniformItemSizes(True)
        self.setStyleSheet("QListView { border: none; background: transparent; outline: 0; }")
        self.rows = _Items()
        self.look = _Look(self)
        self.setModel(self.rows)
        self.setItemDelegate(self.look)
        selection = self.selectionModel()
        assert selection is not None
        selection.selectionChanged.connect(lambda *_: self.picked.emit())
        self.rows.dataChanged.connect(lambda *_: self.picked.emit())

    def lay(self, items: Sequence[HandOver]) -> None:
        """Show these; what is chosen stays chosen, where it is still there."""
        chosen = set(self.chosen())
        here = self.currentIndex().data(ITEM) if self.currentIndex().isValid() else None
        same = [i.id for i in items] == [i.id for i in self.rows.items]
        self.rows.take(items)
        if same:
            return
        selection = self.selectionModel()
        assert selection is not None
        for row, item in enumerate(items):
            if item.id in chosen:
                selection.select(self.rows.index(row), selection.SelectionFlag.Select)
            if here is not None and item.id == here.id:
                selection.setCurrentIndex(self.rows.index(row), selection.SelectionFlag.NoUpdate)
        if items and not selection.hasSelection():
            self.setCurrentIndex(self.rows.index(0))
        self.picked.emit()

    def chosen(self) -> list[str]:
        return [self.rows.items[i.row()].id for i in sorted(self.selectedIndexes(), key=_row)]

    def choose(self, item_id: str) -> None:
        for row, item in enumerate(self.rows.items):
            if item.id == item_id:
                self.setCurrentIndex(self.rows.index(row))


def _row(index: QModelIndex) -> int:
    return index.row()
