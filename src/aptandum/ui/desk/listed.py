"""The list of what was handed over: what we say on the left, what the desk says on the right."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QModelIndex, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QListView,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
)

from aptandum.core.docket.hand_over import HandOver
from aptandum.ui import theme
from aptandum.ui.desk.rows import ROW, THING, Things, dress, ground, write
from aptandum.ui.desk.state import LOOK, draw_state, said, when
from aptandum.ui.painting import turned
from aptandum.ui.signs import draw_sign, word
from aptandum.ui.strings import joined, t

HEAD = 30


def columns(width: float) -> tuple[float, float, float]:
    """Where our word, the desk's word and the time begin."""
    return width * 0.46, width * 0.63, width - 78


def _words(item: HandOver) -> str:
    return t(
        "{file}: we say {ours}; the desk: {theirs} {number}",
        file=item.name,
        ours=item.we_say,
        theirs=said(item),
        number=item.number,
    )


class _Look(QStyledItemDelegate):
    def __init__(self, parent: HandOverList) -> None:
        super().__init__(parent)
        self.title_of: Callable[[str], tuple[str, str]] = lambda name: (name, "")

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(200, ROW)

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        assert painter is not None
        with turned(painter, option):
            self._draw(painter, option, index)

    def _draw(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        item: HandOver = index.data(THING)
        box = QRectF(option.rect)
        painter.save()
        ground(painter, option, box)
        ours, theirs, at = (box.left() + x for x in columns(box.width()))
        top, below = box.top() + 5, box.top() + 26
        title, body = self.title_of(item.brief)
        wide = ours - box.left() - 30
        middle = Qt.TextElideMode.ElideMiddle
        write(
            painter,
            theme.medium(),
            "ink",
            QRectF(box.left() + 16, top, wide, 22),
            item.name,
            middle,
        )
        write(painter, theme.tight(12), "ink2", QRectF(box.left() + 16, below, wide, 18),
              joined([title, body]), middle)  # fmt: skip
        verdict = item.verdict
        draw_sign(painter, verdict, QRectF(ours, box.top() + 9, 14, 14))
        wide = theirs - ours - 30
        write(painter, theme.text(13), verdict, QRectF(ours + 21, top, wide, 22), word(verdict))
        if item.we_say and item.we_say != t("all met"):
            write(painter, theme.tight(12), "ink2", QRectF(ours + 21, below, wide, 18), item.we_say)
        draw_state(painter, item.state, QRectF(theirs, box.top() + 8, 16, 16))
        wide = at - theirs - 30
        write(painter, theme.text(13), LOOK[item.state][1], QRectF(theirs + 23, top, wide, 22),
              said(item))  # fmt: skip
        write(painter, theme.figures(12), "ink2", QRectF(theirs + 23, below, wide, 18),
              item.number or t("no receipt"))  # fmt: skip
        if item.history:
            write(painter, theme.tight(12), "ink2", QRectF(at - 30, top, 92, 22),
                  when(item.history[-1].at), right=True)  # fmt: skip
        if option.state & QStyle.StateFlag.State_HasFocus:
            painter.setPen(theme.colour("blue"))
            painter.drawRect(box.adjusted(0, 0, -1, -1))
        painter.restore()


class HandOverList(QListView):
    """A list of thousands of hand-overs, of which only the rows in view are drawn."""

    picked = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        dress(self, t("What was handed over"))
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.rows: Things[HandOver] = Things(_words)
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
        here = self.currentIndex().data(THING) if self.currentIndex().isValid() else None
        if [i.id for i in items] == [i.id for i in self.rows.items]:
            self.rows.change(items)
            return
        self.rows.take(items)
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
        """The ids of the chosen rows, from the top."""
        return [self.rows.items[i.row()].id for i in sorted(self.selectedIndexes(), key=_row)]

    def choose(self, item_id: str) -> None:
        """Choose the row of this id."""
        for row, item in enumerate(self.rows.items):
            if item.id == item_id:
                self.setCurrentIndex(self.rows.index(row))


def _row(index: QModelIndex) -> int:
    return index.row()
