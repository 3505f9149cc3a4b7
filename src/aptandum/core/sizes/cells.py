"""Cells: boxes of whole-number sizes, cut by straight edges and by a count of pixels.

A cell's sizes are looked at row by row along their *shorter* side, where every limit of a
rulebook has one direction: the sizes of a row are one run of whole numbers, the rows that
certainly hold one are a run too, and only the few rows at the ends of it need to be looked
at. That gives exact answers without trying every size.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from fractions import Fraction
from functools import cached_property
from math import ceil, floor, isqrt

from aptandum.core.brief.model import Turn, turn_of
from aptandum.core.frozen import frozen
from aptandum.core.photo.limits import MOST_SIDE
from aptandum.core.sizes.rows import Edge, Grow, Rows, Size, strip


def in_strip(width: int, height: int, aspect: Fraction) -> bool:
    return abs(width - height * aspect) * 2 <= max(aspect, Fraction(1))


@frozen
class Paper:
    """What sizes print at: exact lengths, at one resolution inside a range.

    A JPEG states its resolution in whole pixels per inch, so of the sizes that some resolution would print at
    these lengths those are proposed that a whole one does.

    Attributes:
        wide, high: inches; ``None``: that side has no exact length.
        least, most: pixels per inch, inclusive.
    """

    wide: Fraction | None
    high: Fraction | None
    least: Fraction
    most: Fraction

    @property
    def shape(self) -> Fraction | None:
        """Width over height, where both are told."""
        return self.wide / self.high if self.wide is not None and self.high is not None else None

    def turned(self) -> Paper:
        """The same lengths with width and height exchanged."""
        return replace(self, wide=self.high, high=self.wide)

    def size(self, ppi: int, shape: Fraction) -> Size:
        """The size at a resolution, to the nearest pixel; of a proportion where one side alone has a length."""
        wide = None if self.wide is None else _nearest(self.wide * ppi)
        high = None if self.high is None else _nearest(self.high * ppi)
        if wide is None:
            wide = _nearest((high or 1) * shape)
        return max(1, wide), max(1, high if high is not None else _nearest(wide / shape))


def _nearest(value: Fraction) -> int:
    return floor(value + Fraction(1, 2))


_MOST_STATED = 65_535
"""Pixels per inch that a JPEG can state."""
_ONE_SHAPE = Fraction(51, 50)
"""How far two proportions may lie apart that are meant to be one: rounded figures, or a body's own pixels."""
_TRIES = 4096
"""So many resolutions are tried at most: limits that leave none among them have hardly any."""


@frozen
class Cell:
    """Sizes of one turn inside a box.

    Attributes:
        w_lo, w_hi, h_lo, h_hi: inclusive, in pixels.
        aspects: named proportions w / h, all of which the size must fit by rounding.
        a_lo, a_hi: closed range of w / h, kept exactly.
        area_lo, area_hi: inclusive, in pixels of the whole picture.
        lower, upper: further edges; the width is on or right of every lower one, and on or
            left of every upper one.
        sliver: sizes one pixel across or up that fit a proportion only because no side can be
            less than a pixel; allowed, and never proposed.
        grows: further numbers that grow with both sides, each between two bounds.
        paper: the exact lengths that all of its sizes print at, where the resolution is open.
    """

    turn: Turn
    w_lo: int = 1
    w_hi: int = MOST_SIDE
    h_lo: int = 1
    h_hi: int = MOST_SIDE
    aspects: tuple[Fraction, ...] = ()
    a_lo: Fraction | None = None
    a_hi: Fraction | None = None
    area_lo: int | None = None
    area_hi: int | None = None
    lower: tuple[Edge, ...] = ()
    upper: tuple[Edge, ...] = ()
    sliver: bool = False
    grows: tuple[Grow, ...] = ()
    paper: Paper | None = None

    def boxed(
        self, w_lo: int = 1, w_hi: int = MOST_SIDE, h_lo: int = 1, h_hi: int = MOST_SIDE
    ) -> Cell:
        """The part of the cell inside another box."""
        return replace(
            self,
            w_lo=max(self.w_lo, w_lo),
            w_hi=min(self.w_hi, w_hi),
            h_lo=max(self.h_lo, h_lo),
            h_hi=min(self.h_hi, h_hi),
        )

    @property
    def of_several_shapes(self) -> bool:
        """Whether its sizes have to be of proportions that only a few pixels round to together, as 1 x 1 px is 16:9 and 3:2
        and a square: no picture is meant by that."""
        shapes = set(self.aspects)
        if self.turn == "square":
            shapes.add(Fraction(1))
        if self.paper is not None and self.paper.shape is not None:
            shapes.add(self.paper.shape)
        return len(shapes) > 1 and max(shapes) > min(shapes) * _ONE_SHAPE

    def empty_box(self) -> bool:
        """Whether no width or no height is left."""
        return self.w_lo > self.w_hi or self.h_lo > self.h_hi

    def lies_in(self, other: Cell) -> bool:
        """Whether every size of the cell is one of another's, as far as their boxes tell."""
        same = replace(self, w_lo=other.w_lo, w_hi=other.w_hi, h_lo=other.h_lo, h_hi=other.h_hi)
        return same == other and (
            other.w_lo <= self.w_lo
            and self.w_hi <= other.w_hi
            and other.h_lo <= self.h_lo
            and self.h_hi <= other.h_hi
        )

    def contains(self, width: int, height: int) -> bool:
        """Whether a size in pixels lies in the cell."""
        inside = (
            turn_of(width, height) == self.turn
            and self.w_lo <= width <= self.w_hi
            and self.h_lo <= height <= self.h_hi
            and all(in_strip(width, height, shape) for shape in self.aspects)
        )
        if not inside:
            return False
        shape, area = Fraction(width, height), width * height
        return not (
            (self.a_lo is not None and shape < self.a_lo)
            or (self.a_hi is not None and shape > self.a_hi)
            or (self.area_lo is not None and area < self.area_lo)
            or (self.area_hi is not None and area > self.area_hi)
            or any(width * m < a * height + b for a, b, m in self.lower)
            or any(width * m > a * height + b for a, b, m in self.upper)
            or any(not grow.holds(width, height) for grow in self.grows)
        )

    def of_shape(self, shape: Fraction) -> Cell:
        """The sizes of the cell that fit one proportion; where its lengths name it, they say which do."""
        if self.paper is not None and shape == self.paper.shape and shape not in self.aspects:
            return self
        if shape in self.aspects:
            return replace(self, aspects=(shape, *(a for a in self.aspects if a != shape)))
        return replace(self, aspects=(shape, *self.aspects))

    @property
    def fixed_shape(self) -> Fraction | None:
        """The one proportion of the cell, where it leaves no choice."""
        if self.aspects:
            return self.aspects[0]
        if self.w_lo == self.w_hi and self.h_lo == self.h_hi:
            return Fraction(self.w_lo, self.h_lo)
        if self.a_lo is not None and self.a_lo == self.a_hi:
            return self.a_lo
        if self.paper is not None and self.paper.shape is not None:
            return self.paper.shape
        return Fraction(1) if self.turn == "square" else None

    def shape_near(self, shape: Fraction) -> Fraction:
        """The proportion nearest to ``shape`` that the cell's box and range could hold."""
        fixed = self.fixed_shape
        if fixed is not None:
            return fixed
        low, high = Fraction(self.w_lo, self.h_hi), Fraction(self.w_hi, self.h_lo)
        low = low if self.a_lo is None else max(low, self.a_lo)
        high = high if self.a_hi is None else min(high, self.a_hi)
        if self.turn == "landscape":
            low = max(low, Fraction(self.w_hi, max(1, min(self.h_hi, self.w_hi - 1))))
        else:
            high = min(high, Fraction(max(1, min(self.w_hi, self.h_hi - 1)), self.h_hi))
        return min(max(shape, low), max(low, high))

    def turned(self) -> Cell:
        """The same sizes with width and height exchanged."""
        turns: dict[Turn, Turn] = {
            "landscape": "upright",
            "upright": "landscape",
            "square": "square",
        }
        return Cell(
            turns[self.turn],
            self.h_lo,
            self.h_hi,
            self.w_lo,
            self.w_hi,
            tuple(1 / shape for shape in self.aspects),
            None if self.a_hi is None else 1 / self.a_hi,
            None if self.a_lo is None else 1 / self.a_lo,
            self.area_lo,
            self.area_hi,
            tuple((m, -b, a) for a, b, m in self.upper),
            tuple((m, -b, a) for a, b, m in self.lower),
            self.sliver,
            tuple(grow.turned() for grow in self.grows),
            self.paper.turned() if self.paper is not None else None,
        )

    @property
    def lies_as_printed(self) -> bool:
        """Whether its sizes lie as the lengths do that they print at; so it is where there are none."""
        shape = self.paper.shape if self.paper is not None else None
        return shape is None or turn_of(shape.numerator, shape.denominator) == self.turn

    def largest_whole(self, shape: Fraction, wide: int, high: int) -> Size | None:
        """The largest size inside a box that prints at the cell's lengths at a whole number of pixels per inch; ``None``
        where it has no such lengths, or none is found.

        Args:
            shape: of the size, where one side alone has an exact length.
        """
        if self.paper is None or not self._lies_as(shape):
            return None
        wide, high = min(wide, self.w_hi), min(high, self.h_hi)
        most = min(self.paper.most, Fraction(_MOST_STATED), *self._per_inch(shape, wide, high))
        if self.area_hi is not None:  # a row and a column of pixels more, for the rounding
            across, up = self._inches(shape)
            most = min(most, Fraction(isqrt(floor(self.area_hi / (across * up))) + 2))
        low = max(self._per_inch(shape, self.w_lo - 2, self.h_lo - 2))
        least = max(1, ceil(self.paper.least), floor(low))
        for ppi in range(floor(most), max(least, floor(most) - _TRIES) - 1, -1):
            size = self.paper.size(ppi, shape)
            if size[0] <= wide and size[1] <= high and self.contains(*size):
                return size
        return None

    def smallest_whole(self, shape: Fraction) -> Size | None:
        """The same of the smallest size of all."""
        if self.paper is None or not self._lies_as(shape):
            return None
        low = max(self._per_inch(shape, self.w_lo, self.h_lo))
        first = max(1, ceil(self.paper.least), floor(low) - 1)
        high = min(self._per_inch(shape, self.w_hi + 1, self.h_hi + 1))
        last = min(floor(self.paper.most), _MOST_STATED, first + _TRIES, ceil(high))
        sizes = (self.paper.size(ppi, shape) for ppi in range(first, last + 1))
        return next((size for size in sizes if self.contains(*size)), None)

    def _lies_as(self, shape: Fraction) -> bool:
        """Whether a proportion, or that of its lengths where both are told, lies as the cell does."""
        told = (self.paper.shape if self.paper is not None else None) or shape
        return turn_of(told.numerator, told.denominator) == self.turn

    def _inches(self, shape: Fraction) -> tuple[Fraction, Fraction]:
        """What its sizes print at; the side that has no length has that of a proportion."""
        assert self.paper is not None
        across, up = self.paper.wide, self.paper.high
        across = across if across is not None else (up or Fraction(1)) * shape
        return across, up if up is not None else across / shape

    def _per_inch(self, shape: Fraction, wide: int, high: int) -> tuple[Fraction, Fraction]:
        """The pixels per inch at which either side is as long as a box's, or half a pixel longer."""
        across, up = self._inches(shape)
        return (wide + Fraction(1, 2)) / across, (high + Fraction(1, 2)) / up

    @cached_property
    def rows(self) -> Rows:
        """The cell's rows; of an upright cell those of the cell turned on its side."""
        return Rows(self.turned() if self.turn == "upright" else self)

    def _back(self, size: Size | None) -> Size | None:
        return size if size is None or self.turn != "upright" else (size[1], size[0])

    @property
    def empty(self) -> bool:
        return self.rows.first() is None

    def largest(self) -> Size | None:
        """The size with the most pixels. Where the shape is fixed: the size with the largest
        shorter side, and of those the one nearest to the exact proportion."""
        return self._back(self.rows.largest())

    def smallest(self) -> Size | None:
        """The size with the fewest pixels; where the shape is fixed as in :meth:`largest`."""
        return self._back(self.rows.smallest())

    def nearest(self, width: int, height: int) -> Size | None:
        """The size at the least distance in the plane of width and height."""
        at = (height, width) if self.turn == "upright" else (width, height)
        return self._back(self.rows.nearest(*at))

    def lacking(self, width: int, height: int) -> Size | None:
        """The size that a photo comes closest to: the fewest pixels missing on its sides."""
        at = (height, width) if self.turn == "upright" else (width, height)
        return self._back(self.rows.lacking(*at))

    def grown(self, width: int, height: int) -> Size | None:
        """The size that a photo needs the least enlargement for."""
        at = (height, width) if self.turn == "upright" else (width, height)
        return self._back(self.rows.grown(*at))


def proposed(cells: Iterable[Cell]) -> tuple[Cell, ...]:
    """The cells whose sizes are proposed: no slivers, and none that lie another way than the lengths they print at, as
    60 x 59 px does for 50 x 50 mm, unless there are no others. Nor are specks proposed that have several proportions at once
    because they are rounded to so few pixels."""
    proper = tuple(cell for cell in cells if not cell.sliver and not cell.of_several_shapes)
    lying = tuple(cell for cell in proper if cell.lies_as_printed)
    return lying or proper


def sliver(cell: Cell, aspect: Fraction) -> Cell:
    """The sizes one pixel high (or wide) that fit a proportion because no side is less than 1."""
    if aspect >= 1:
        made = cell.boxed(w_hi=floor(aspect / 2), h_hi=1)
    else:
        made = cell.boxed(w_hi=1, h_hi=floor(1 / aspect / 2))
    return replace(made, sliver=True)


def beside(cell: Cell, aspect: Fraction) -> tuple[Cell, Cell]:
    """The sizes that do not fit a proportion: those on either side of its strip."""
    (a, b, m), (c, d, n) = strip(aspect)
    # Strictly left of the lower edge: w m <= a h + b - 1. There, one pixel high is a sliver.
    left = replace(cell, upper=(*cell.upper, (a, b - 1, m)))
    right = replace(cell, lower=(*cell.lower, (c, d + 1, n)))
    return (left.boxed(h_lo=2), right) if aspect >= 1 else (left, right.boxed(w_lo=2))


__all__ = ["Cell", "beside", "in_strip", "sliver"]
