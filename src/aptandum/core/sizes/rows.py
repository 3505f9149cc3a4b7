"""Rows: a box of whole-number sizes, seen along its shorter side.

There every limit of a rulebook has one direction: the sizes of a row are one run of whole numbers,
the rows that certainly hold one are a run too, and only the few rows at the ends of it need to be
looked at. That gives exact answers without trying every size."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from math import isqrt
from typing import Any, Protocol

from aptandum.core.arithmetic import both_roundings
from aptandum.core.brief.model import Turn
from aptandum.core.frozen import frozen
from aptandum.core.later import np
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


@frozen
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
        """What is limited, at a size in pixels."""
        return self.of(height, width) if self.swapped else self.of(width, height)

    def holds(self, width: int, height: int) -> bool:
        """Whether a size in pixels lies within both bounds."""
        value = self.value(width, height)
        low, high = self.low, self.high
        return (low is None or value >= low) and (high is None or value <= high)

    def turned(self) -> Grow:
        """The same bounds for pictures on their side."""
        return replace(self, swapped=not self.swapped)

    def least_width(self, h: int) -> int:
        """The smallest width of a row at which the lower bound holds."""
        low = self.low
        return 1 if low is None else first_true(lambda w: self.value(w, h) >= low, 1, MOST_SIDE)

    def most_width(self, h: int) -> int:
        """The largest width of a row at which the upper bound holds; 0 where none does."""
        high = self.high
        if high is None:
            return MOST_SIDE
        return first_true(lambda w: self.value(w, h) > high, 1, MOST_SIDE) - 1


class Boxed(Protocol):
    """What rows are made from: a cell that lies landscape or is square."""

    @property
    def turn(self) -> Turn: ...
    @property
    def w_lo(self) -> int: ...
    @property
    def w_hi(self) -> int: ...
    @property
    def h_lo(self) -> int: ...
    @property
    def h_hi(self) -> int: ...
    @property
    def aspects(self) -> tuple[Fraction, ...]: ...
    @property
    def a_lo(self) -> Fraction | None: ...
    @property
    def a_hi(self) -> Fraction | None: ...
    @property
    def area_lo(self) -> int | None: ...
    @property
    def area_hi(self) -> int | None: ...
    @property
    def lower(self) -> tuple[Edge, ...]: ...
    @property
    def upper(self) -> tuple[Edge, ...]: ...
    @property
    def grows(self) -> tuple[Grow, ...]: ...
    @property
    def fixed_shape(self) -> Fraction | None: ...


class Rows:
    """A landscape or square cell by the length of its shorter side, the height ``h``.

    Every lower edge rises with ``h`` and so does every upper one; a count of pixels falls with
    it. So each pair of a lower and an upper bound holds on one side of some row, and the rows
    that hold any width at all (as real numbers) are one run: :attr:`lo` to :attr:`hi`. Rows
    where some whole number must lie between them (a whole bound, or a distance of 1) are a run
    inside it: :attr:`sure_lo` to :attr:`sure_hi`.
    """

    def __init__(self, cell: Boxed) -> None:
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
                low = first_true(_reaches(c, d, area_lo * n), low, high)
                sure_low = first_true(_reaches(c, off, area_lo * n), sure_low, sure_high)
        if area_hi is not None:
            for a, b, m in self.lower:
                off = b + (m if m != 1 else 0)
                high = first_true(_reaches(a, b, area_hi * m + 1), low, high) - 1
                sure_high = first_true(_reaches(a, off, area_hi * m + 1), sure_low, sure_high) - 1
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
                    low = first_true(_grown(grow, _row(c, d, n)), low, high)
            if grow.high is not None:
                for a, b, m in self.lower:
                    high = first_true(_outgrown(grow, _row(-a, -b, m)), low, high) - 1
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
        """The size of the most pixels; ``None`` where there is none at all."""
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
        binds = first_true(
            lambda r: all(r * (c * r + d) > most * n for c, d, n in self.upper), self.lo, h
        )
        before = self._look(self.lo, binds - 1, -1)
        found = [self._scan(range(binds, h + 1), lambda r, low, high: (-r * high, high))]
        if before is not None:
            found.append((self.span(before)[1], before))  # type: ignore[index]
        return max((s for s in found if s is not None), key=lambda s: s[0] * s[1])

    def smallest(self) -> Size | None:
        """The size of the fewest pixels; ``None`` where there is none at all."""
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
        free = first_true(
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
        """The size at the least distance (of both sides, squared) from a wanted one."""
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
        """The size for which a given one lacks the fewest pixels of its sides."""

        def cost(rows: Any, low: Any) -> Any:
            return np.maximum(0, rows - height) + np.maximum(0, low - width)

        return self._beyond(cost, lambda rows, low, high: np.clip(width, low, high))

    def grown(self, width: int, height: int) -> Size | None:
        """The size for which a given one is enlarged the least."""

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


def first_true(true: Callable[[int], bool], low: int, high: int) -> int:
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
