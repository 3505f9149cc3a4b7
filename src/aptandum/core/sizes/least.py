"""The size that changes a photo least, of all those that a brief allows.

The order of losses (``docs/losses.md``), as far as it is one of pixels: the whole picture before
any cut (or padding), the least of it where the whole shape is not allowed, no enlargement, and then
the largest size, which reduces least. What is cut or padded is counted in whole photo pixels, so
that no size is enlarged for the sake of a fraction of one.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from fractions import Fraction
from math import ceil, floor
from typing import Literal

from aptandum.core.brief.model import Turn, turn_of
from aptandum.core.frozen import frozen
from aptandum.core.sizes.cells import Cell, in_strip, proposed
from aptandum.core.sizes.rows import Size, first_true

Way = Literal["cut", "pad"]
Caps = Mapping[Turn, Fraction]
"""The most that a picture may be enlarged, by its turn."""

_NEAR = 1e-6
_ROUNDED = 0.02
"""The share of a side that may be lost beyond the least: a size of a few pixels loses less of a photo only because it is
rounded to the lengths that it prints at."""
_FEW = 50
"""Pixels of a side below which rounding to whole ones changes a shape by more than a hundredth."""
_MANY = 4
"""So many times more pixels are worth more than what rounding keeps of a photo."""
_NEARLY_SQUARE = 0.02
"""How far from a square a shape may be that whole pixels make one: a row or column of fifty."""


@frozen
class Target:
    """The size that a frame is to be written at.

    Attributes:
        size: output pixels.
        enlargement: output over frame pixels on the driving side; at most 1 where the frame
            has pixels enough.
        shape: the proportion that the frame is held to.
        fixed: the brief leaves no other proportion.
        whole: the size has the proportion of what it is made of, to the nearest pixel, so that
            nothing is cut or padded.
    """

    size: Size
    enlargement: float
    shape: Fraction
    fixed: bool
    whole: bool = False


Loss = tuple[int, bool, float, int]
"""Photo pixels that are cut away or padded, whether it is enlarged, by how much, and minus the
pixels that are left."""


@frozen
class Box:
    """What is to be kept: a photo, or a window of it, in photo pixels.

    Attributes:
        wide, high: its sides, which may be fractions.
        shape: width over height.
    """

    wide: float
    high: float
    shape: Fraction

    @classmethod
    def of(cls, wide: float, high: float) -> Box:
        """A box of two sides above zero."""
        if float(wide).is_integer() and float(high).is_integer():
            return cls(wide, high, Fraction(int(wide), int(high)))
        return cls(wide, high, Fraction(wide / high).limit_denominator(1 << 16))

    def window(self, shape: Fraction, way: Way) -> tuple[float, float]:
        """The sides of the largest window of a shape inside it, or of the smallest round it."""
        ratio = float(shape)
        if (self.shape > shape) == (way == "cut"):
            return self.high * ratio, self.high
        return self.wide, self.wide / ratio

    def lost(self, shape: Fraction, way: Way) -> int:
        """Photo pixels that a window of a shape cuts away, or that it adds."""
        wide, high = self.window(shape, way)
        if way == "cut":
            return round(self.wide * self.high) - floor(wide + _NEAR) * floor(high + _NEAR)
        return ceil(wide - _NEAR) * ceil(high - _NEAR) - round(self.wide * self.high)


def least(
    cells: tuple[Cell, ...], box: Box, way: Way = "cut", caps: Caps | None = None
) -> Target | None:
    """The size with the least loss.

    Args:
        way: what is done to a picture whose own shape is not allowed.
        caps: beyond these enlargements a size is taken only where there is none within them.
    """
    proper = proposed(cells)
    for some in (caps, None) if caps else (None,):
        found = _least(proper, box, way, some or {})
        if found is not None:
            return _no_speck(found, proper, box, way, some or {})
    return None


def _no_speck(found: Target, cells: tuple[Cell, ...], box: Box, way: Way, caps: Caps) -> Target:
    """A size, or one of many more pixels where it loses least of a photo only because so few are rounded to any shape and to
    any length."""
    if max(found.size) >= _FEW or min(box.wide, box.high) < 2 * _FEW:
        return found
    larger = tuple(
        part
        for cell in cells
        if not (part := cell.boxed(w_lo=_FEW, h_lo=_FEW)).empty_box() and not part.empty
    )
    more = _least(larger, box, way, caps) if larger else None
    if more is None or more.enlargement > max(1.0, found.enlargement) + _NEAR:
        return found
    return more if more.size[0] * more.size[1] > _MANY * found.size[0] * found.size[1] else found


def _least(cells: tuple[Cell, ...], box: Box, way: Way, caps: Caps) -> Target | None:
    best: tuple[Loss, Target] | None = None
    turns = {cell.turn for cell in cells}
    for cell in cells:
        cap = caps.get(cell.turn)
        if _has_shape(cell, box, turns):
            best = _better(best, _of_shape(cell, box.shape, max(box.wide, box.high), box, cap))
    if best is None:
        for cell in cells:
            for found in _changed(cell, box, way, caps.get(cell.turn)):
                best = _better(best, found)
    if best is None:
        return None
    shapes = {cell.fixed_shape for cell in cells}
    return replace(best[1], fixed=len(shapes) == 1 and None not in shapes)


def _better(
    best: tuple[Loss, Target] | None, found: tuple[Loss, Target] | None
) -> tuple[Loss, Target] | None:
    if best is None or (found is not None and found[0] < best[0]):
        return found
    return best


def _has_shape(cell: Cell, box: Box, turns: set[Turn]) -> bool:
    """Whether a box has by itself the proportions that a cell names, so that only rounding to
    whole pixels can part them. A photo one row too high for 3:2 has not, though a small enough
    size would round both to the same; nor is one of 3:2 a square because a single pixel is."""
    wide, high, shape = round(box.wide), round(box.high), box.shape
    own = turn_of(wide, high)
    return (
        all(in_strip(wide, high, aspect) for aspect in cell.aspects)
        and (
            cell.paper is None or cell.paper.shape is None or in_strip(wide, high, cell.paper.shape)
        )
        and (cell.a_lo is None or shape >= cell.a_lo)
        and (cell.a_hi is None or shape <= cell.a_hi)
        and (own == cell.turn or (own in turns and abs(float(shape) - 1) < _NEARLY_SQUARE))
    )


def _of_shape(
    cell: Cell, shape: Fraction, longest: float, box: Box, cap: Fraction | None
) -> tuple[Loss, Target] | None:
    """The best size of one shape that makes nothing of a box go away."""
    line = cell.of_shape(shape)
    most = floor(longest + _NEAR)
    size = largest_of(line, shape, most, most)
    if size is None:
        size = smallest_of(_within(line, box, cap), shape)
    if size is None:
        return None
    enlarged = max(size) / longest
    loss = 0, enlarged > 1 + _NEAR, max(1.0, enlarged), -size[0] * size[1]
    return loss, Target(size, enlarged, shape, False, True)


def largest_of(cell: Cell, shape: Fraction, wide: int, high: int) -> Size | None:
    """The largest size of a cell inside a box; where it prints at exact lengths one at a whole number of pixels per inch, if
    there is any."""
    if wide < 1 or high < 1:
        return None
    size = cell.largest_whole(shape, wide, high)
    if size is not None:
        return size
    inside = cell.boxed(w_hi=wide, h_hi=high)
    if cell.paper is not None:  # half a pixel of either side leaves shapes that nobody means
        size = replace(inside, aspects=(shape, *inside.aspects)).largest()
    return size if size is not None else inside.largest()


def smallest_of(cell: Cell, shape: Fraction) -> Size | None:
    """The same of the smallest."""
    size = cell.smallest_whole(shape)
    return size if size is not None else cell.smallest()


def _within(cell: Cell, box: Box, cap: Fraction | None) -> Cell:
    """The sizes of a cell that are enlarged by no more than a factor."""
    if cap is None:
        return cell
    factor = float(cap) + _NEAR
    return cell.boxed(w_hi=floor(box.wide * factor), h_hi=floor(box.high * factor))


def _changed(
    cell: Cell, box: Box, way: Way, cap: Fraction | None
) -> Iterator[tuple[Loss, Target] | None]:
    if cell.fixed_shape is not None:
        yield _of_fixed(cell, box, way, cap)
        return
    yield _beside(cell, box, way, cap, narrower=True)
    yield _beside(cell, box, way, cap, narrower=False)


def _of_fixed(cell: Cell, box: Box, way: Way, cap: Fraction | None) -> tuple[Loss, Target] | None:
    shape = cell.fixed_shape
    assert shape is not None
    window = box.window(shape, way)
    longest = max(window)
    line = cell.of_shape(shape)
    most = floor(longest + _NEAR)
    size = largest_of(line, shape, most, most)
    if size is None and way == "cut":
        # It rounds to the proportion, and the photo has its pixels: 151 x 227 for 2:3.
        size = line.boxed(w_hi=floor(box.wide + _NEAR), h_hi=floor(box.high + _NEAR)).largest()
        if size is not None:
            shape = Fraction(*size)
            window = box.window(shape, way)
            longest = max(window)
    if size is None:
        inside = line if way == "pad" else _within(line, box, cap)
        if way == "pad" and cap is not None:
            reach = floor(longest * (float(cap) + _NEAR))
            inside = line.boxed(w_hi=reach, h_hi=reach)
        size = smallest_of(inside, shape)
    if size is None:
        return None
    enlarged = max(size) / longest
    loss = (
        box.lost(shape, way), enlarged > 1 + _NEAR, max(1.0, enlarged), -size[0] * size[1],
    )  # fmt: skip
    return loss, Target(size, enlarged, shape, False)


def _beside(
    cell: Cell, box: Box, way: Way, cap: Fraction | None, narrower: bool
) -> tuple[Loss, Target] | None:
    """The best size of a cell that leaves a range of shapes, among those narrower or wider than a
    box: of those that lose the fewest rows or columns the largest that is not enlarged."""
    # What does not change its length is what the size is measured against.
    on_width = narrower == (way == "pad")
    full = floor((box.wide if on_width else box.high) + _NEAR)
    reach = None
    if cap is not None:
        reach = floor((box.wide if on_width else box.high) * (float(cap) + _NEAR))
    near = replace(
        cell,
        a_hi=box.shape if narrower and (cell.a_hi is None or cell.a_hi > box.shape) else cell.a_hi,
        a_lo=box.shape
        if not narrower and (cell.a_lo is None or cell.a_lo < box.shape)
        else cell.a_lo,
    )
    if reach is not None:
        near = near.boxed(w_hi=reach) if on_width else near.boxed(h_hi=reach)
    if near.empty_box() or near.empty:
        return None

    def losing(n: int) -> Cell:
        """The sizes that lose (or add) at most ``n`` columns or rows."""
        bound = _bound(box, way, narrower, n)
        if bound is None:
            return near
        if narrower:
            low = bound if near.a_lo is None else max(near.a_lo, bound)
            return replace(near, a_lo=low)
        high = bound if near.a_hi is None else min(near.a_hi, bound)
        return replace(near, a_hi=high)

    n = _first(lambda n: not losing(n).empty, _likely(near, box, way, narrower))
    if cell.paper is not None:  # a few pixels print at lengths that more of them do not
        n += ceil((box.wide if narrower == (way == "cut") else box.high) * _ROUNDED)
    held = losing(n)
    inside = held.boxed(w_hi=full) if on_width else held.boxed(h_hi=full)
    size = None if inside.empty_box() else inside.largest()
    if size is None:
        size = held.grown(floor(box.wide), floor(box.high)) if way == "cut" else held.smallest()
    if size is None:
        return None
    across = narrower == (way == "cut")
    enlarged = size[0] / box.wide if on_width else size[1] / box.high
    lost = n * round(box.high if across else box.wide)
    if cell.paper is not None:
        lost = box.lost(Fraction(*size), way)
    loss = lost, enlarged > 1 + _NEAR, max(1.0, enlarged), -size[0] * size[1]
    return loss, Target(size, enlarged, Fraction(*size), False)


def _bound(box: Box, way: Way, narrower: bool, n: int) -> Fraction | None:
    """The shape at which exactly ``n`` columns or rows are lost or added; ``None``: any."""
    if way == "cut":
        left = floor((box.wide if narrower else box.high) + _NEAR) - n
        if left < 1:
            return None
        if narrower:
            return Fraction(left) / Fraction(box.high).limit_denominator(1000)
        return Fraction(box.wide).limit_denominator(1000) / left
    if narrower:
        return Fraction(box.wide).limit_denominator(1000) / (ceil(box.high - _NEAR) + n)
    return Fraction(ceil(box.wide - _NEAR) + n) / Fraction(box.high).limit_denominator(1000)


def _likely(cell: Cell, box: Box, way: Way, narrower: bool) -> int:
    """Columns or rows that are lost at the nearest shape that a cell's bounds could hold."""
    ends = [float(Fraction(cell.w_hi, cell.h_lo)), float(box.shape)] if narrower else [
        float(Fraction(cell.w_lo, cell.h_hi)), float(box.shape)
    ]  # fmt: skip
    bound = cell.a_hi if narrower else cell.a_lo
    if bound is not None:
        ends.append(float(bound))
    if cell.turn != "square":
        ends.append(1.0) if (cell.turn == "upright") == narrower else None
    ratio = min(ends) if narrower else max(ends)
    if way == "cut":
        gone = box.wide - box.high * ratio if narrower else box.high - box.wide / ratio
    else:
        gone = box.wide / ratio - box.high if narrower else box.high * ratio - box.wide
    return max(0, floor(gone - 1))


def _first(true: Callable[[int], bool], start: int) -> int:
    """The least number from which on a condition holds that stays true, looked for from a guess
    at or below it; where the guess is too high it is taken back."""
    if start and true(start):
        return first_true(true, 0, start - 1)
    low, step = start, 1
    while not true(low):
        low, step = low + step, step * 2
    return first_true(true, max(start, low - step // 2), low - 1)
