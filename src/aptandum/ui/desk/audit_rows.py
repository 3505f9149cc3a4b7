"""How an audit's rows look: a picture in the list, and a reason beside it."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QStyledItemDelegate, QStyleOptionViewItem

from aptandum.core.docket.audit import Checked
from aptandum.core.docket.audit_lists import Told
from aptandum.core.photo.facts import shown_name
from aptandum.ui import theme
from aptandum.ui.desk.rows import ROW, THING, ground, write
from aptandum.ui.painting import turned
from aptandum.ui.signs import draw_sign, word
from aptandum.ui.strings import t


def verdict_of(one: Told) -> str:
    """The verdict whose sign stands beside a picture; what is accepted as it is has that of advice."""
    if one.accepted:
        return "advises"
    return "misses" if one.in_danger else one.checked.standing


def words_of(one: Told) -> str:
    """A picture and how it stands, in a line: for screen readers and for typing."""
    return t(
        "{title}: {verdict}. {says}",
        title=one.item.name,
        verdict=word(verdict_of(one)),
        says=first_words(one),
    )


def first_words(one: Told) -> str:
    """The worst that can be said of an item, and how much more there is."""
    return worst_of(one.checked)


def worst_of(checked: Checked) -> str:
    """The worst that can be said of a picture, and how much more there is."""
    if checked.trouble:
        return checked.trouble
    missed = [m.says for m in checked.misses if m.verdict == "misses"]
    said = missed or [m.says for m in checked.misses]
    if not said:
        return t("Every rule that can be measured is met.")
    more = len(said) - 1
    return said[0] if not more else t("{first} And {n} more.", first=said[0], n=more)


class PictureRow(QStyledItemDelegate):
    """A picture's name, how it stands, and the worst that is said of it."""

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(200, ROW)

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        """Paint one row, or one cell of it."""
        assert painter is not None
        with turned(painter, option):
            self._draw(painter, option, index)

    def _draw(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        one: Told = index.data(THING)
        box = QRectF(option.rect)
        painter.save()
        ground(painter, option, box)
        draw_sign(painter, verdict_of(one), QRectF(16, box.top() + 9, 14, 14))
        right = 150.0 if box.width() > 520 else 20.0
        write(
            painter,
            theme.medium(),
            "ink",
            QRectF(40, box.top() + 5, box.width() - 60 - right, 22),
            one.item.name,
        )
        write(
            painter,
            theme.tight(12),
            "ink2",
            QRectF(40, box.top() + 27, box.width() - 56, 18),
            first_words(one),
        )
        if right > 100:
            said = shown_name(one.item.file) if one.item.file else ""
            if one.item.in_stock is False:
                said = t("out of stock")
            write(
                painter,
                theme.tight(12),
                "ink2",
                QRectF(box.right() - right - 14, box.top() + 5, right, 22),
                said,
                Qt.TextElideMode.ElideMiddle,
                right=True,
            )
        painter.restore()


class ReasonRow(QStyledItemDelegate):
    """A reason on the left, how many on the right."""

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(100, 30)

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        """Paint one row, or one cell of it."""
        assert painter is not None
        with turned(painter, option):
            self._draw(painter, option, index)

    def _draw(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        inner, text, n = index.data(THING + 1)
        box = QRectF(option.rect)
        painter.save()
        ground(painter, option, box, line=False)
        write(
            painter,
            theme.text(13, bold=not inner),
            "ink",
            box.adjusted(28 if inner else 16, 0, -50, 0),
            text,
        )
        write(painter, theme.figures(12), "ink", box.adjusted(0, 0, -14, 0), n, right=True)
        painter.restore()
