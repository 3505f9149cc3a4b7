"""The shelf: bodies and their briefs, one under the other."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter
from PyQt6.QtWidgets import (
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
)

from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.rulebook.contradictions import contradictions
from aptandum.core.sizes.said import in_short
from aptandum.ui import theme
from aptandum.ui.painting import draw_text, turned
from aptandum.ui.session import Session
from aptandum.ui.signs import draw_sign
from aptandum.ui.strings import commas, t, t_n

NAME = Qt.ItemDataRole.UserRole
_PARTS = Qt.ItemDataRole.UserRole + 1


class _Look(QStyledItemDelegate):
    """A body is a heading with its edition; a brief has its sizes beneath its title."""

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(100, 34 if index.data(NAME) is None else 44)

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        assert painter is not None
        with turned(painter, option):
            self._draw(painter, option, index)

    def _draw(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        title, second, right, sign = index.data(_PARTS)
        box = QRectF(option.rect)
        flags = Qt.AlignmentFlag.AlignVCenter
        painter.save()
        if index.data(NAME) is None:
            painter.setFont(theme.text(12, bold=True))
            painter.setPen(theme.colour("ink2"))
            line = box.adjusted(14, 10, -12, 0)
            font = theme.tight(12)
            space = line.width() - QFontMetricsF(font).horizontalAdvance(right) - 8
            named = QFontMetricsF(painter.font())
            draw_text(
                painter, line, flags, named.elidedText(title, Qt.TextElideMode.ElideRight, space)
            )
            painter.setFont(font)
            painter.setPen(theme.colour("asks" if sign else "ink2"))
            draw_text(painter, line, flags | Qt.AlignmentFlag.AlignRight, right)
            painter.restore()
            return
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(box, theme.colour("blue_soft"))
            painter.fillRect(QRectF(box.left(), box.top(), 3, box.height()), theme.colour("blue"))
        if option.state & QStyle.StateFlag.State_HasFocus:
            painter.setPen(theme.colour("blue"))
            painter.drawRect(box.adjusted(0, 0, -1, -1))
        left = 14.0
        if sign:
            draw_sign(painter, sign, QRectF(14, box.top() + 7, 14, 14))
            left = 34.0
        font = theme.medium()
        painter.setFont(font)
        painter.setPen(theme.colour("ink"))
        space = box.width() - left - 26 - QFontMetricsF(theme.tight(12)).horizontalAdvance(right)
        shown = QFontMetricsF(font).elidedText(title, Qt.TextElideMode.ElideRight, space)
        draw_text(painter, QRectF(left, box.top() + 4, space, 20), flags, shown)
        painter.setFont(theme.tight(12))
        painter.setPen(theme.colour("ink2"))
        draw_text(
            painter,
            QRectF(box.right() - 90, box.top() + 4, 78, 20),
            flags | Qt.AlignmentFlag.AlignRight,
            right,
        )
        room = box.width() - left - 12
        said = QFontMetricsF(theme.tight(12)).elidedText(second, Qt.TextElideMode.ElideRight, room)
        draw_text(painter, QRectF(left, box.top() + 23, room, 16), flags, said)
        painter.restore()


class ShelfList(QListWidget):
    """Chooses a brief by ``BOOK/BRIEF``."""

    picked = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setAccessibleName(t("Rulebooks on the shelf"))
        self.setItemDelegate(_Look(self))
        self.setStyleSheet("QListWidget { border: none; }")
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.currentItemChanged.connect(self._changed)
        self.name = ""

    def fill(self) -> None:
        """List the shelf anew; the chosen brief stays chosen."""
        chosen = self.name
        waiting = {offer.new.body.id for offer in self.session.library.offers()}
        self.blockSignals(True)
        self.clear()
        for book in self.session.library.shelf.rulebooks:
            self._head(book, book.body.id in waiting)
            for brief in book.briefs:
                self._brief(book, brief)
        self.blockSignals(False)
        self.choose(chosen)

    def _head(self, book: Rulebook, newer: bool) -> None:
        edition = t("edition {n}", n=book.body.edition) if book.body.edition else ""
        if newer:
            edition = t("{edition}, newer", edition=edition)
        item = QListWidgetItem()
        item.setFlags(Qt.ItemFlag.NoItemFlags)
        item.setData(_PARTS, (book.body.name, "", edition, "asks" if newer else ""))
        item.setText(commas([book.body.name, edition]))
        self.addItem(item)

    def _brief(self, book: Rulebook, brief: Brief) -> None:
        item = QListWidgetItem()
        item.setData(NAME, f"{book.body.id}/{brief.id}")
        wrong = contradictions(brief)
        n = len(brief.clauses)
        count = t_n("{n} clause", "{n} clauses", n)
        right = t("optional") if brief.optional else count
        second = wrong[0].says if wrong else in_short(brief)
        item.setData(_PARTS, (brief.title, second, right, "misses" if wrong else ""))
        item.setText(commas([brief.title, second]))
        item.setToolTip(second)
        self.addItem(item)

    def choose(self, name: str) -> bool:
        """Choose a brief by its name; whether it is there."""
        for i in range(self.count()):
            item = self.item(i)
            if item is not None and item.data(NAME) == name and name:
                self.setCurrentItem(item)
                return True
        for i in range(self.count()):
            item = self.item(i)
            if item is not None and item.data(NAME):
                self.setCurrentItem(item)
                return False
        return False

    def _changed(self) -> None:
        item = self.currentItem()
        name = item.data(NAME) if item is not None else None
        if name:
            self.name = name
            self.picked.emit(name)
