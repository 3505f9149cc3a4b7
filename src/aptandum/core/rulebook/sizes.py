"""Allowed sizes: which whole-number sizes (w, h) a brief's pixel clauses leave.

The set is kept as a few :class:`Cell` boxes, one for each turn (landscape, upright, square)
and each choice of a named size or proportion, so that limits which hold for one turn only
stay exact. Questions are answered along a shape, where both sides grow together and every
bound is monotone: found by bisection, never by trying every size.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from math import ceil, floor, log

from aptandum.core.photo.limits import MOST_SIDE
from aptandum.core.quantity import both_roundings, fits_aspect
from aptandum.core.rulebook.model import TURNS, Brief, Limit, Strength, Turn, turn_of

Size = tuple[int, int]
_MOST_CELLS = 500
# How far to look past a bisected bound for a size that also meets a range of proportions,
# which rounding to whole pixels can break at the very edge of the range.
_LOOK = 400


@dataclass(frozen=True)
class Cell:
    """Sizes of one turn inside a box, of one proportion or a closed range of proportions.

    Bounds are inclusive, in pixels; proportions are w / h.
    """

    turn: Turn
    w_lo: int = 1
    w_hi: int = MOST_SIDE
    h_lo: int = 1
    h_hi: int = MOST_SIDE
    aspect: Fraction | None = None
    a_lo: Fraction | None = None
    a_hi: Fraction | None = None

    def contains(self, width: int, height: int) -> bool:
        if turn_of(width, height) != self.turn:
            return False
        if not (self.w_lo <= width <= self.w_hi and self.h_lo <= height <= self.h_hi):
            return False
        if self.aspect is not None and not fits_aspect(width, height, self.aspect):
            return False
        shape = Fraction(width, height)
        return not (
            (self.a_lo is not None and shape < self.a_lo)
            or (self.a_hi is not None and shape > self.a_hi)
        )

    def empty_box(self) -> bool:
        return self.w_lo > self.w_hi or self.h_lo > self.h_hi

    def shape_near(self, shape: Fraction) -> Fraction:
        """The proportion nearest to ``shape`` that the cell could hold."""
        if self.aspect is not None:
            return self.aspect
        low = Fraction(self.w_lo, self.h_hi)
        high = Fraction(self.w_hi, self.h_lo)
        if self.a_lo is not None:
            low = max(low, self.a_lo)
        if self.a_hi is not None:
            high = min(high, self.a_hi)
        if self.turn == "square":
            return Fraction(1)
        if self.turn == "landscape":
            low = max(low, Fraction(self.w_hi, max(1, min(self.h_hi, self.w_hi - 1))))
        else:
            high = min(high, Fraction(max(1, min(self.w_hi, self.h_hi - 1)), self.h_hi))
        return min(max(shape, low), max(low, high))

    @property
    def fixed_shape(self) -> Fraction | None:
        """The one proportion of the cell, where it leaves no choice."""
        if self.aspect is not None:
            return self.aspect
        if self.w_lo == self.w_hi and self.h_lo == self.h_hi:
            return Fraction(self.w_lo, self.h_lo)
        return Fraction(1) if self.turn == "square" else None

    def some(self) -> Size | None:
        """A size of the cell, or ``None`` where none was found."""
        if self.fixed_shape is not None:
            return self.along(self.fixed_shape).smallest()
        span = range(self.h_lo, self.h_hi + 1)
        for h in (*span[:_LOOK], *span[: -_LOOK - 1 : -1]):
            low = max(self.w_lo, h + 1 if self.turn == "landscape" else 1)
            high = min(self.w_hi, h - 1 if self.turn == "upright" else MOST_SIDE)
            if self.a_lo is not None:
                low = max(low, ceil(self.a_lo * h))
            if self.a_hi is not None:
                high = min(high, floor(self.a_hi * h))
            if low <= high:
                return low, h
        return None

    def along(self, shape: Fraction) -> _Along:
        return _Along(self, shape)


class _Along:
    """The sizes of a cell that have one shape, by the length ``t`` of their driving side: the
    longer one, from which the shorter follows by rounding."""

    def __init__(self, cell: Cell, shape: Fraction) -> None:
        self.cell = cell
        self.shape = shape

    def sizes(self, t: int) -> Iterator[Size]:
        if self.shape >= 1:
            for other in both_roundings(t / self.shape):
                yield t, other
        else:
            for other in both_roundings(t * self.shape):
                yield other, t

    def at(self, t: int) -> Size | None:
        """The allowed size with this driving side, if there is one."""
        if t < 1 or t > MOST_SIDE:
            return None
        return next((size for size in self.sizes(t) if self.cell.contains(*size)), None)

    def bounds(self) -> tuple[int, int] | None:
        """Smallest and largest driving side that the box leaves; ``None`` where it leaves none."""
        return _bounds(self.cell, self.shape)

    def find_bounds(self) -> tuple[int, int] | None:
        cell = self.cell

        def high_enough(t: int) -> bool:
            w, h = max(self.sizes(t))
            turned = cell.turn == "square" or turn_of(*self._leanest(t)) == cell.turn
            return w >= cell.w_lo and h >= cell.h_lo and turned

        def low_enough(t: int) -> bool:
            w, h = min(self.sizes(t))
            square = cell.turn != "square" or any(a == b for a, b in self.sizes(t))
            return w <= cell.w_hi and h <= cell.h_hi and square

        low = _first(high_enough, 1, MOST_SIDE)
        beyond = _first(lambda t: not low_enough(t), 1, MOST_SIDE)
        high = MOST_SIDE if beyond is None else beyond - 1
        return None if low is None or low > high else (low, high)

    def _leanest(self, t: int) -> Size:
        return max(self.sizes(t), key=lambda size: abs(size[0] - size[1]))

    def largest(self, most: int) -> Size | None:
        bounds = self.bounds()
        if bounds is None:
            return None
        top = min(bounds[1], most)
        for t in range(top, max(bounds[0], top - _LOOK) - 1, -1):
            size = self.at(t)
            if size is not None:
                return size
        return None

    def smallest(self, least: int = 1) -> Size | None:
        bounds = self.bounds()
        if bounds is None:
            return None
        low = max(bounds[0], least)
        for t in range(low, min(bounds[1], low + _LOOK) + 1):
            size = self.at(t)
            if size is not None:
                return size
        return None


@lru_cache(maxsize=2048)
def _bounds(cell: Cell, shape: Fraction) -> tuple[int, int] | None:
    """Kept, as a drag asks for the same shape at every move."""
    return _Along(cell, shape).find_bounds()


def _first(true: Callable[[int], bool], low: int, high: int) -> int | None:
    """The smallest integer for which a condition that stays true once true holds."""
    if not true(high):
        return None
    while low < high:
        middle = (low + high) // 2
        if true(middle):
            high = middle
        else:
            low = middle + 1
    return low


def _bounded(cell: Cell, w: Limit | None = None, h: Limit | None = None) -> Iterator[Cell]:
    """The cell narrowed by limits on its width and height."""

    def spans(limit: Limit | None) -> list[tuple[int, int]]:
        if limit is None:
            return [(1, MOST_SIDE)]
        low, high = limit.at_least or 1, limit.at_most or MOST_SIDE
        if limit.one_of:
            return [(v, v) for v in limit.one_of if low <= v <= high]
        return [(low, high)]

    for w_lo, w_hi in spans(w):
        for h_lo, h_hi in spans(h):
            yield replace(
                cell,
                w_lo=max(cell.w_lo, w_lo),
                w_hi=min(cell.w_hi, w_hi),
                h_lo=max(cell.h_lo, h_lo),
                h_hi=min(cell.h_hi, h_hi),
            )


def _narrow(cell: Cell, measure: str, limit: Limit) -> Iterable[Cell]:
    landscape, upright = cell.turn == "landscape", cell.turn == "upright"
    if measure == "width":
        return _bounded(cell, w=limit)
    if measure == "height":
        return _bounded(cell, h=limit)
    if measure == "longest_side":
        return _bounded(cell, None if upright else limit, None if landscape else limit)
    if measure == "shortest_side":
        return _bounded(cell, None if landscape else limit, None if upright else limit)
    if measure == "size":
        if not limit.one_of:
            return (cell,)
        return (
            part
            for w, h in limit.one_of
            for part in _bounded(
                cell, Limit(("exactly",), one_of=(w,)), Limit(("exactly",), one_of=(h,))
            )
        )
    if measure == "orientation":
        return (cell,) if limit.allows(cell.turn) else ()
    if measure == "aspect":
        if limit.one_of:
            return (
                replace(cell, aspect=shape)
                for shape in limit.one_of
                if cell.aspect in (None, shape) and shape not in limit.none_of
            )
        low, high = limit.at_least, limit.at_most
        a_lo = max((v for v in (cell.a_lo, low) if v is not None), default=None)
        a_hi = min((v for v in (cell.a_hi, high) if v is not None), default=None)
        return (
            ()
            if a_lo is not None and a_hi is not None and a_lo > a_hi
            else (replace(cell, a_lo=a_lo, a_hi=a_hi),)
        )
    return (cell,)


PIXEL_MEASURES = (
    "size", "width", "height", "longest_side", "shortest_side", "aspect", "orientation",
)  # fmt: skip


@dataclass(frozen=True)
class Target:
    """The size that a frame is to be written at.

    Attributes:
        size: output pixels.
        enlargement: output over frame pixels on the driving side; at most 1 where the frame
            has pixels enough.
        shape: the proportion that the frame is held to.
        fixed: the brief leaves no other proportion.
    """

    size: Size
    enlargement: float
    shape: Fraction
    fixed: bool


@dataclass(frozen=True)
class Allowed:
    """The set of sizes that a brief allows."""

    cells: tuple[Cell, ...]

    def contains(self, width: int, height: int) -> bool:
        return any(cell.contains(width, height) for cell in self.cells)

    @property
    def empty(self) -> bool:
        """Whether the clauses contradict one another."""
        return not self.cells

    def shapes(self) -> tuple[Fraction, ...] | None:
        """The proportions allowed, where only named ones are; ``None`` where a range is."""
        fixed = [cell.fixed_shape for cell in self.cells if not cell.empty_box()]
        if not fixed or any(shape is None for shape in fixed):
            return None
        return tuple(sorted({shape for shape in fixed if shape is not None}))

    def shape_for(self, shape: Fraction) -> tuple[Fraction, bool] | None:
        """The allowed proportion nearest to one given, and whether its cell fixes it."""
        best: tuple[float, Fraction, bool] | None = None
        for cell in self.cells:
            near = cell.shape_near(shape)
            if cell.along(near).bounds() is None:
                continue
            off = abs(log(near / shape))
            if best is None or off < best[0]:
                best = (off, near, cell.fixed_shape is not None)
        return best[1:] if best else None

    def target(self, shape: Fraction, longest: float) -> Target | None:
        """The best size of one shape for a frame whose longest side has so many photo pixels:
        the largest that needs no enlargement, failing that the smallest there is."""
        cap = floor(longest + 1e-6)
        kept: Size | None = None
        grown: Size | None = None
        fixed = False
        for cell in self.cells:
            if cell.aspect is not None and cell.aspect != shape:
                continue
            line = cell.along(shape)
            if cap >= 1:
                size = line.largest(cap)
                if size is not None and (kept is None or size > kept):
                    kept, fixed = size, cell.fixed_shape is not None
            if kept is None:
                size = line.smallest(cap)
                if size is not None and (grown is None or size < grown):
                    grown, fixed = size, cell.fixed_shape is not None
        size = kept or grown
        if size is None:
            return None
        return Target(size, max(size) / longest, shape, fixed)

    def cut(self, width: int, height: int) -> Target | None:
        """The target for the frame that keeps the most of a photo of this size."""
        photo = Fraction(width, height)
        best: tuple[tuple[bool, float], Target] | None = None
        for cell in self.cells:
            shape = cell.shape_near(photo)
            cut_w = min(Fraction(width), height * shape)
            longest = float(max(cut_w, cut_w / shape))
            target = replace(self, cells=(cell,)).target(shape, longest)
            if target is None:
                continue
            rank = (target.enlargement <= 1 + 1e-9, float(cut_w * (cut_w / shape)))
            if best is None or rank > best[0]:
                best = (rank, target)
        return best[1] if best else None


@lru_cache(maxsize=256)
def allowed(brief: Brief, strength: Strength = "must") -> Allowed:
    """The sizes that a brief's pixel clauses allow: only its ``must`` clauses, or with
    ``should`` its recommendations as well."""
    cells: list[Cell] = []
    for turn in TURNS:
        live: list[Cell] = [Cell(turn)]
        for clause, limit in brief.measured(*PIXEL_MEASURES):
            if not clause.holds_for(turn) or (strength == "must" and clause.strength != "must"):
                continue
            live = [
                part
                for cell in live
                for part in _narrow(cell, clause.measure or "", limit)
                if not part.empty_box()
            ][:_MOST_CELLS]
        cells.extend(cell for cell in live if cell.some() is not None)
    return Allowed(tuple(cells))
