"""Cells: boxes of whole-number sizes, cut by straight edges and by a count of pixels.

A cell's sizes are looked at row by row along their *shorter* side, where every limit of a
rulebook has one direction: the sizes of a row are one run of whole numbers, the rows that
certainly hold one are a run too, and only the few rows at the ends of it need to be looked
at. That gives exact answers without trying every size.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cached_property
from math import floor, isqrt
from typing import Any

import numpy as np

from aptandum.core.arithmetic import both_roundings
from aptandum.core.brief.model import Turn, turn_of
from aptandum.core.photo.limits import MOST_SIDE

Size = tuple[int, int]
Edge = tuple[int, int, int]
"""``(a, b, m)``: the line w = (a h + b) / m, in whole numbers, with a and m above zero."""

_CHUNK = 4096
_SAFE = 2**44  # beyond this, a product with a side could leave 64 bits


def edge(slope: Fraction, offset: Fraction = Fraction(0)) -> Edge:
    """The line w = slope · h + offset."""
    m = slope.denominator * offset.denominator
    return int(slope * m), int(offset * m), m


def strip(aspect: Fraction) -> tuple[Edge, Edge]:
    """The two edges between which a size fits a proportion by the rule of rounding.

    One side is the other's exact quotient rounded either way at .5. For a proportion of 1 or
    more the shorter side, rounded from the longer, gives the wider band: |w - a h| <= a / 2;
    below 1 it is |w - a h| <= 1/2. (Where a side would round to 0 it is 1: see :func:`sliver`.)
    """
    half = max(aspect, Fraction(1)) / 2
    return edge(aspect, -half), edge(aspect, half)


def _in_strip(width: int, height: int, aspect: Fraction) -> bool:
    return abs(width - height * aspect) * 2 <= max(aspect, Fraction(1))


@dataclass(frozen=True)
class Grow:
    """A number that never falls where a side grows, held between two others.

    Attributes:
        of: the number for a width and a height.
        low, high: inclusive; ``None``: no such bound.
        swapped: it is given height and width, for a cell that is turned on its side.
    """

    of: Callable[[int, int], float]
    low: float | None = None
    high: float | None = None
    swapped: bool = False

    def value(self, width: int, height: int) -> float:
        return self.of(height, width) if self.swapped else self.of(width, height)

    def holds(self, width: int, height: int) -> bool:
        value = self.value(width, height)
        low, high = self.low, self.high
        return (low is None or value >= low) and (high is None or value <= high)

    def turned(self) -> Grow:
        return replace(self, swapped=not self.swapped)

    def least_width(self, h: int) -> int:
        """The smallest width of a row at which the lower bound holds."""
        low = self.low
        return 1 if low is None else _first_true(lambda w: self.value(w, h) >= low, 1, MOST_SIDE)

    def most_width(self, h: int) -> int:
        """The largest width of a row at which the upper bound holds; 0 where none does."""
        high = self.high
        if high is None:
            return MOST_SIDE
        return _first_true(lambda w: self.value(w, h) > high, 1, MOST_SIDE) - 1


@dataclass(frozen=True)
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

    def empty_box(self) -> bool:
        return self.w_lo > self.w_hi or self.h_lo > self.h_hi

    def contains(self, width: int, height: int) -> bool:
        inside = (
            turn_of(width, height) == self.turn
            and self.w_lo <= width <= self.w_hi
            and self.h_lo <= height <= self.h_hi
            and all(_in_strip(width, height, shape) for shape in self.aspects)
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
        """The sizes of the cell that fit one proportion."""
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
        )

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


class Rows:
    """A landscape or square cell by the length of its shorter side, the height ``h``.

    Every lower edge rises with ``h`` and so does every upper one; a count of pixels falls with
    it. So each pair of a lower and an upper bound holds on one side of some row, and the rows
    that hold any width at all (as real numbers) are one run: :attr:`lo` to :attr:`hi`. Rows
    where some whole number must lie between them (a whole bound, or a distance of 1) are a run
    inside it: :attr:`sure_lo` to :attr:`sure_hi`.
    """

    def __init__(self, cell: Cell) -> None:
        self.cell = cell
        self.lower: list[Edge] = [(0, cell.w_lo, 1)]
        self.upper: list[Edge] = [(0, cell.w_hi, 1)]
        if cell.turn == "square":
            self.lower.append((1, 0, 1))
            self.upper.append((1, 0, 1))
        else:
            self.lower.append((1, 1, 1))
        for shape in cell.aspects:
            low, high = strip(shape)
            self.lower.append(low)
            self.upper.append(high)
        if cell.a_lo is not None:
            self.lower.append(edge(cell.a_lo))
        if cell.a_hi is not None:
            self.upper.append(edge(cell.a_hi))
        self.lower += cell.lower
        self.upper += cell.upper
        self.area_lo, self.area_hi = cell.area_lo, cell.area_hi
        self.grows = cell.grows
        self.lo, self.hi, self.sure_lo, self.sure_hi = self._runs()

    def _runs(self) -> tuple[int, int, int, int]:
        low, high = self.cell.h_lo, self.cell.h_hi
        sure_low, sure_high = low, high
        for a, b, m in self.lower:
            for c, d, n in self.upper:
                slope = c * m - a * n
                need = b * n - d * m  # slope * h >= need: the row is as wide as nothing
                sure = need if m == 1 or n == 1 else need + m * n  # or holds a whole number
                if slope > 0:
                    low = max(low, -(-need // slope))
                    sure_low = max(sure_low, -(-sure // slope))
                elif slope < 0:
                    high = min(high, need // slope)
                    sure_high = min(sure_high, sure // slope)
                elif need > 0:
                    return 1, 0, 1, 0
                elif sure > 0:
                    sure_high = 0
        area_lo, area_hi = self.area_lo, self.area_hi
        if area_lo is not None and area_hi is not None:
            if area_lo > area_hi:
                return 1, 0, 1, 0
            sure_high = min(sure_high, area_hi - area_lo)
        if area_lo is not None:
            for c, d, n in self.upper:
                off = d - (n if n != 1 else 0)
                low = _first_true(_reaches(c, d, area_lo * n), low, high)
                sure_low = _first_true(_reaches(c, off, area_lo * n), sure_low, sure_high)
        if area_hi is not None:
            for a, b, m in self.lower:
                off = b + (m if m != 1 else 0)
                high = _first_true(_reaches(a, b, area_hi * m + 1), low, high) - 1
                sure_high = _first_true(_reaches(a, off, area_hi * m + 1), sure_low, sure_high) - 1
        if self.grows:
            low, high = self._grown_rows(low, high)
            sure_low, sure_high = 1, 0  # every row between them is looked at
        return low, high, max(low, sure_low), min(high, sure_high)

    def _grown_rows(self, low: int, high: int) -> tuple[int, int]:
        """The rows in which the widest size reaches each number's lower bound and the narrowest
        one stays within its upper bound: the first grows with the rows, and so does the second."""
        for grow in self.grows:
            if grow.low is not None:
                for c, d, n in self.upper:
                    low = _first_true(_grown(grow, _row(c, d, n)), low, high)
            if grow.high is not None:
                for a, b, m in self.lower:
                    high = _first_true(_outgrown(grow, _row(-a, -b, m)), low, high) - 1
        return low, high

    def span(self, h: int) -> tuple[int, int] | None:
        """Smallest and largest width of a row; ``None`` where the row is empty."""
        low = max(-(-(a * h + b) // m) for a, b, m in self.lower)
        high = min((c * h + d) // n for c, d, n in self.upper)
        if self.area_lo is not None:
            low = max(low, -(-self.area_lo // h))
        if self.area_hi is not None:
            high = min(high, self.area_hi // h)
        for grow in self.grows:
            low, high = max(low, grow.least_width(h)), min(high, grow.most_width(h))
        return (low, high) if low <= high else None

    def spans(self, rows: range) -> tuple[Any, Any, Any]:
        """Those of some rows that hold a size: heights, smallest and largest widths, each an
        array of the same length."""
        every = [v for line in (*self.lower, *self.upper) for v in line]
        small = max(abs(v) for v in every) < _SAFE
        h = np.arange(rows.start, rows.stop, rows.step, dtype=np.int64 if small else object)
        low = np.full(h.shape, self.cell.w_lo, dtype=h.dtype)
        high = np.full(h.shape, self.cell.w_hi, dtype=h.dtype)
        for a, b, m in self.lower[1:]:
            low = np.maximum(low, -(-(a * h + b) // m))
        for c, d, n in self.upper[1:]:
            high = np.minimum(high, (c * h + d) // n)
        if self.area_lo is not None:
            low = np.maximum(low, -(-self.area_lo // h))
        if self.area_hi is not None:
            high = np.minimum(high, self.area_hi // h)
        for grow in self.grows:
            low = np.maximum(low, [grow.least_width(int(r)) for r in h])
            high = np.minimum(high, [grow.most_width(int(r)) for r in h])
        keep = low <= high
        return h[keep], low[keep], high[keep]

    # -- the ends -----------------------------------------------------------------------------

    def first(self) -> int | None:
        """The first row that holds a size."""
        if self.lo > self.hi:
            return None
        if self.sure_lo <= self.sure_hi:
            found = self._look(self.lo, self.sure_lo - 1, 1)
            return self.sure_lo if found is None else found
        return self._look(self.lo, self.hi, 1)

    def last(self) -> int | None:
        """The last row that holds a size."""
        if self.lo > self.hi:
            return None
        if self.sure_lo <= self.sure_hi:
            found = self._look(self.sure_hi + 1, self.hi, -1)
            return self.sure_hi if found is None else found
        return self._look(self.lo, self.hi, -1)

    def _look(self, lo: int, hi: int, way: int) -> int | None:
        """The first row with a size among ``lo`` to ``hi``, from the low end or the high one."""
        if lo > hi:
            return None
        near = range(lo, min(hi, lo + 8) + 1) if way > 0 else range(hi, max(lo, hi - 8) - 1, -1)
        for h in near:
            if self.span(h) is not None:
                return h
        at = near[-1] + way
        while lo <= at <= hi:
            far = min(hi, at + _CHUNK) if way > 0 else max(lo, at - _CHUNK)
            rows = self.spans(range(min(at, far), max(at, far) + 1))[0]
            if len(rows):
                return int(rows[0] if way > 0 else rows[-1])
            at = far + way
        return None

    def _in_row(self, h: int | None, down: bool) -> Size | None:
        """The width of a row that is nearest to the cell's shape; halves go down or up."""
        if h is None:
            return None
        span = self.span(h)
        shape = self.cell.fixed_shape
        if span is None or shape is None:  # pragma: no cover - rows come from first() or last()
            return None
        wanted = (min if down else max)(both_roundings(h * shape))
        return min(max(wanted, span[0]), span[1]), h

    def largest(self) -> Size | None:
        if self.cell.fixed_shape is not None:
            return self._in_row(self.last(), down=False)
        h = self.last()
        if h is None:
            return None
        if self.grows:  # a row may hold wider sizes than those after it
            return self._scan(range(self.lo, h + 1), lambda r, low, high: (-r * high, high))
        if self.area_hi is None:
            return self.span(h)[1], h  # type: ignore[index]
        # Up to the row where the count of pixels begins to bind, more rows are more pixels.
        most = self.area_hi
        binds = _first_true(
            lambda r: all(r * (c * r + d) > most * n for c, d, n in self.upper), self.lo, h
        )
        before = self._look(self.lo, binds - 1, -1)
        found = [self._scan(range(binds, h + 1), lambda r, low, high: (-r * high, high))]
        if before is not None:
            found.append((self.span(before)[1], before))  # type: ignore[index]
        return max((s for s in found if s is not None), key=lambda s: s[0] * s[1])

    def smallest(self) -> Size | None:
        if self.cell.fixed_shape is not None:
            return self._in_row(self.first(), down=True)
        h = self.first()
        if h is None:
            return None
        if self.grows:
            return self._scan(range(h, self.hi + 1), lambda r, low, high: (r * low, low))
        if self.area_lo is None:
            return self.span(h)[0], h  # type: ignore[index]
        return self._from_below(
            lambda r, low, high: (r * low, low),
            lambda h: self.span(h)[0],  # type: ignore[index]
            lambda w, h: w * h,
        )

    def _from_below(
        self,
        cost: Callable[..., tuple[Any, Any]],
        pick: Callable[[int], int],
        weigh: Callable[[int, int], int],
    ) -> Size | None:
        """The least by a cost that grows with the rows once the least count of pixels no
        longer binds: until there every row is looked at, and then the first."""
        least = self.area_lo or 1
        free = _first_true(
            lambda r: any(r * (a * r + b) >= least * m for a, b, m in self.lower),
            self.lo,
            self.hi,
        )
        found = [self._scan(range(self.lo, min(free, self.hi) + 1), cost)]
        after = self._look(free, self.hi, 1)
        if after is not None:
            found.append((pick(after), after))
        return min((s for s in found if s is not None), key=lambda s: weigh(*s))

    def nearest(self, width: int, height: int) -> Size | None:
        first, last = self.first(), self.last()
        if first is None or last is None:
            return None

        def cost(rows: Any, low: Any, high: Any) -> tuple[Any, Any]:
            across = np.clip(width, low, high)
            return (rows - height) ** 2 + (across - width) ** 2, across

        # Coarse rows first: the best of them bounds how far away the nearest can be.
        lo, hi = first, last
        while True:
            step = max(1, (hi - lo) // 64)
            coarse = self._scan(range(lo, hi + 1, step), cost)
            best = coarse or self._scan(range(first, first + 1), cost)
            if step == 1:
                return best
            assert best is not None
            reach = isqrt((best[1] - height) ** 2 + (best[0] - width) ** 2) + 1
            near = max(first, height - reach), min(last, height + reach)
            if near[1] - near[0] >= (hi - lo) // 2 or near[1] - near[0] < 2 * _CHUNK:
                return self._scan(range(near[0], near[1] + 1), cost)
            lo, hi = near

    def lacking(self, width: int, height: int) -> Size | None:
        def cost(rows: Any, low: Any) -> Any:
            return np.maximum(0, rows - height) + np.maximum(0, low - width)

        return self._beyond(cost, lambda rows, low, high: np.clip(width, low, high))

    def grown(self, width: int, height: int) -> Size | None:
        def cost(rows: Any, low: Any) -> Any:
            return np.maximum(low * height, rows * width)

        def pick(rows: Any, low: Any, high: Any) -> Any:
            return np.clip(rows * width // height, low, high)  # as wide as the rows need anyway

        return self._beyond(cost, pick)

    def _beyond(
        self, cost: Callable[[Any, Any], Any], pick: Callable[[Any, Any, Any], Any]
    ) -> Size | None:
        """The least by a cost that grows with both sides; ``pick`` takes a width that costs no
        more than the least one of its row."""
        first = self.first()
        if first is None:
            return None
        if self.grows:
            return self._scan(
                range(first, self.hi + 1),
                lambda r, low, high: (cost(r, low), pick(r, low, high)),
            )
        if self.area_lo is None:  # both sides only grow from here
            low, high = self.span(first)  # type: ignore[misc]
            return int(pick(first, low, high)), first

        def in_row(h: int) -> int:
            low, high = self.span(h)  # type: ignore[misc]
            return int(pick(h, low, high))

        return self._from_below(
            lambda r, low, high: (cost(r, low), pick(r, low, high)),
            in_row,
            lambda w, h: int(cost(h, w)),
        )

    def _scan(self, span: range, cost: Callable[..., tuple[Any, Any]]) -> Size | None:
        """The size with the least cost among some rows."""
        rows, low, high = self.spans(span)
        if not len(rows):
            return None
        costs, across = cost(rows, low, high)
        at = int(np.argmin(costs))
        return int(across[at]), int(rows[at])


def _row(slope: int, offset: int, unit: int) -> Callable[[int], int]:
    """The whole number at or below a line at a row; of a negated line, minus the one above it."""
    return lambda h: (slope * h + offset) // unit


def _grown(grow: Grow, widest: Callable[[int], int]) -> Callable[[int], bool]:
    """Whether a number reaches its lower bound in a row at its widest; once true it stays so."""
    low = grow.low
    return lambda h: low is None or (widest(h) >= 1 and grow.value(widest(h), h) >= low)


def _outgrown(grow: Grow, narrowest: Callable[[int], int]) -> Callable[[int], bool]:
    """Whether a number is past its upper bound in a row at its narrowest (given as minus the
    width); once true it stays so."""
    high = grow.high
    return lambda h: high is not None and grow.value(max(1, -narrowest(h)), h) > high


def _reaches(slope: int, offset: int, count: int) -> Callable[[int], bool]:
    """Whether a row's width times the row comes to a count; once true it stays so."""

    def reaches(h: int) -> bool:
        width = slope * h + offset
        return width > 0 and h * width >= count

    return reaches


def _first_true(true: Callable[[int], bool], low: int, high: int) -> int:
    """The smallest integer from ``low`` on for which a condition that stays true holds;
    ``high + 1`` where it never does."""
    low, high = low, high + 1
    while low < high:
        middle = (low + high) // 2
        if true(middle):
            high = middle
        else:
            low = middle + 1
    return low


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


__all__ = ["Cell", "Edge", "Grow", "Rows", "Size", "beside", "edge", "sliver", "strip"]
