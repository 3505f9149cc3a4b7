"""Painting that follows the direction of reading: what is drawn by hand is turned round where people read from the right.

A widget that paints itself takes a :class:`Painter` instead of a plain painter and goes on drawing from the left: where it is
laid out from the right all places are mirrored, and words, pictures and verdict signs stay as they are. A delegate, whose
painter is Qt's own, turns it by :func:`turned`. Photos, charts and rulers are the same for everyone: they are left alone.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from PyQt6.QtCore import QPointF, QRect, QRectF, QSizeF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter
from PyQt6.QtWidgets import QStyleOptionViewItem, QWidget

_SIDES = Qt.AlignmentFlag.AlignLeft, Qt.AlignmentFlag.AlignRight


class Painter(QPainter):
    """A painter on a widget, from the right where that is laid out so."""

    def __init__(self, widget: QWidget) -> None:
        super().__init__(widget)
        self.setLayoutDirection(Qt.LayoutDirection.LayoutDirectionAuto)  # each text has its own
        if widget.isRightToLeft():
            _turn(self, widget.width() / 2)

    def drawText(self, *args: Any) -> Any:
        """As a painter's; a text keeps its own direction and stands on the other side of its box."""
        if not is_turned(self):
            return super().drawText(*args)
        self.save()
        made = super().drawText(*_upright(self, args))
        self.restore()
        return made

    def drawPixmap(self, *args: Any) -> None:
        """As a painter's, at a place or in a box; the picture is not mirrored."""
        with upright(self, _box_of(args[0], args[1])):
            super().drawPixmap(*args)

    def drawImage(self, *args: Any) -> None:
        """As a painter's, at a place or in a box; the picture is not mirrored."""
        with upright(self, _box_of(args[0], args[1])):
            super().drawImage(*args)


@contextmanager
def turned(painter: QPainter, option: QStyleOptionViewItem) -> Iterator[None]:
    """Within it a delegate draws from the left, and it is seen from the side from which people read."""
    painter.save()
    if option.direction == Qt.LayoutDirection.RightToLeft:
        _turn(painter, QRectF(option.rect).center().x())
    yield
    painter.restore()


def is_turned(painter: QPainter) -> bool:
    """Whether what is drawn is mirrored."""
    return painter.worldTransform().m11() < 0


def draw_text(painter: QPainter, box: QRectF, flags: Any, text: str) -> None:
    """A text in a box of a painter that may be turned; a :class:`Painter` does so by itself."""
    painter.save()
    if is_turned(painter):
        _back(painter, box)
        flags = _other_side(flags)
    QPainter.drawText(painter, box, flags, text)
    painter.restore()


@contextmanager
def upright(painter: QPainter, box: QRectF) -> Iterator[None]:
    """Within it what is drawn in a box is not mirrored: a sign that means something else the other way round."""
    painter.save()
    if is_turned(painter):
        _back(painter, box)
    yield
    painter.restore()


def _turn(painter: QPainter, middle: float) -> None:
    painter.translate(2 * middle, 0)
    painter.scale(-1, 1)


def _box_of(where: Any, picture: Any) -> QRectF:
    """The box of a picture that is drawn in one, or at a place."""
    if isinstance(where, (QRectF, QRect)):
        return QRectF(where)
    return QRectF(QPointF(where), QSizeF(picture.deviceIndependentSize()))


def _back(painter: QPainter, box: Any) -> None:
    """Mirror once more about a box's own middle, so that what fills it is upright there."""
    _turn(painter, QRectF(box).center().x())


def _upright(painter: QPainter, args: tuple[Any, ...]) -> tuple[Any, ...]:
    where = args[0]
    if isinstance(where, (QRectF, QRect)):
        _back(painter, where)
        if len(args) == 2 or isinstance(args[1], str):  # no flags: from the side where people begin
            return (where, Qt.AlignmentFlag.AlignRight, *args[1:])
        return (where, _other_side(args[1]), *args[2:])
    at, words = QPointF(where), args[1]
    wide = QFontMetricsF(painter.font()).horizontalAdvance(words)
    _turn(painter, at.x())
    return (QPointF(at.x() - wide, at.y()), words)


def _other_side(flags: Any) -> Any:
    """Alignment with left and right exchanged; where neither is named, right."""
    value = flags.value if hasattr(flags, "value") else int(flags)
    left, right = (side.value for side in _SIDES)
    middle = Qt.AlignmentFlag.AlignHCenter.value | Qt.AlignmentFlag.AlignJustify.value
    if value & right:
        return value & ~right | left | Qt.AlignmentFlag.AlignAbsolute.value
    if not value & middle:
        return value & ~left | right | Qt.AlignmentFlag.AlignAbsolute.value
    return value
