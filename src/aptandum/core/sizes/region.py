"""Allowed sizes: which whole-number sizes (w, h) a brief's pixel and print clauses leave.

The set is kept as a few :class:`~.cells.Cell` boxes, one for each turn (landscape, upright,
square) and each choice of a named size or proportion, so that limits which hold for one turn
only stay exact. No question is answered by trying every size.
"""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction
from functools import lru_cache
from itertools import product
from math import floor, log

from aptandum.core.brief.bundles import courses
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import TURNS, Brief, Clause, Strength, Turn
from aptandum.core.brief.registry import binds_of
from aptandum.core.frozen import frozen
from aptandum.core.sizes.binds import Printed, Resolution, SizeBind, binds_size
from aptandum.core.sizes.cells import Cell, proposed
from aptandum.core.sizes.least import Box, Target, largest_of, least, smallest_of
from aptandum.core.sizes.prints import Length, Sides, at_lengths, lengths, resolutions
from aptandum.core.sizes.rows import Size

USEFUL = 8
"""Clauses that leave nothing with a side of at least so many pixels contradict one another:
two proportions always share a few sizes like 1 x 1 by rounding, and nobody means those."""


def _cells(clauses: Iterable[tuple[Clause, Limit]], turn: Turn) -> list[Cell]:
    live = [Cell(turn)]
    printed: list[list[Sides]] = []
    ppi: list[Limit] = []
    sized: list[tuple[SizeBind, Limit]] = []
    for clause, limit in clauses:
        if not clause.holds_for(turn):
            continue
        bind = binds_of(clause.measure)
        if isinstance(bind, Resolution):
            ppi.append(limit)
        elif isinstance(bind, Printed):
            printed.append(lengths(bind, limit, turn))
        elif isinstance(bind, SizeBind):
            sized.append((bind, limit))
    # Boxes first: they leave most slivers of a proportion empty at once.
    for bind, limit in sorted(sized, key=lambda pair: pair[0].last):
        parts = (part for cell in live for part in bind.narrow(cell, limit))
        live = [part for part in parts if not part.empty_box()]
    if printed or ppi:
        runs = resolutions(ppi)
        ways = [[side for sides in pick for side in sides] for pick in product(*printed)]
        live = [
            part
            for cell, way, run in product(live, ways, runs)
            for part in (at_lengths(cell, _on(way, 0), _on(way, 1), run),)
            if not part.empty_box()
        ]
    return [cell for cell in live if not cell.empty]


def _on(way: list[tuple[int, Length]], axis: int) -> list[Length]:
    return [length for along, length in way if along == axis]


# --- the set -------------------------------------------------------------------------------


def area(size: Size) -> tuple[int, int]:
    """Pixels of a size, and its longest side: what of two is the larger."""
    return size[0] * size[1], max(size)


@frozen
class Allowed:
    """The set of sizes that a brief allows. No cell of it is empty."""

    cells: tuple[Cell, ...]

    def contains(self, width: int, height: int) -> bool:
        """Whether a size in pixels lies in the region."""
        return any(cell.contains(width, height) for cell in self.cells)

    @property
    def empty(self) -> bool:
        """Whether no size at all meets the clauses."""
        return not self.cells

    @property
    def useful(self) -> bool:
        """Whether any size is left that is not a speck of a few pixels."""
        return any(
            not part.empty_box() and not part.empty
            for cell in self.cells
            if not cell.of_several_shapes
            for part in _of_some_pixels(cell)
        )

    def largest(self) -> Size | None:
        """The size with the most pixels. Where a proportion is named, the size with the
        largest shorter side and of those the one nearest to the exact proportion: 1850 x 370
        for 5:1, though 1852 x 370 rounds to it as well."""
        sizes = [size for cell in self.cells if (size := cell.largest()) is not None]
        return max(sizes, key=area, default=None)

    def smallest(self) -> Size | None:
        """The size with the fewest pixels, chosen as in :meth:`largest`."""
        sizes = [size for cell in self.cells if (size := cell.smallest()) is not None]
        return min(sizes, key=area, default=None)

    def nearest(self, width: int, height: int) -> Size | None:
        """The size with the least distance to one given, across and up together."""
        sizes = [size for c in self.cells if (size := c.nearest(width, height)) is not None]
        return min(
            sizes,
            key=lambda s: ((s[0] - width) ** 2 + (s[1] - height) ** 2, area(s)),
            default=None,
        )

    @property
    def _proper(self) -> tuple[Cell, ...]:
        """The cells without slivers, which are allowed but never proposed."""
        return proposed(self.cells)

    def shapes(self) -> tuple[Fraction, ...] | None:
        """The proportions allowed, where only named ones are; ``None`` where a range is."""
        fixed = [cell.fixed_shape for cell in self._proper]
        if not fixed or any(shape is None for shape in fixed):
            return None
        return tuple(sorted({shape for shape in fixed if shape is not None}))

    def shape_for(self, shape: Fraction) -> tuple[Fraction, bool] | None:
        """The allowed proportion nearest to one given, and whether its cell fixes it."""
        best: tuple[float, Fraction, bool] | None = None
        for cell in self._proper:
            near = _shape_in(cell, shape)
            off = abs(log(near / shape))
            if best is None or off < best[0]:
                best = (off, near, cell.fixed_shape is not None)
        return best[1:] if best else None

    def target(self, shape: Fraction, longest: float) -> Target | None:
        """The best size of one shape for a frame whose longest side has so many photo pixels:
        the largest that needs no enlargement, failing that the smallest there is."""
        cap = floor(longest + 1e-6)
        kept: tuple[Size, bool] | None = None
        grown: tuple[Size, bool] | None = None
        for cell in self._proper:
            if cell.aspects and shape not in cell.aspects:
                continue
            line = cell.of_shape(shape)
            fixed = cell.fixed_shape is not None
            if cap >= 1:
                size = largest_of(line, shape, cap, cap)
                if size is not None and (kept is None or size > kept[0]):
                    kept = size, fixed
            if kept is None:
                size = smallest_of(line, shape)
                if size is not None and (grown is None or size < grown[0]):
                    grown = size, fixed
        found = kept or grown
        if found is None:
            return None
        return Target(found[0], max(found[0]) / longest, shape, found[1])

    def cut(self, width: int, height: int) -> Target | None:
        """The target that changes a photo of this size least, cut to shape where it must be."""
        return least(self.cells, Box.of(width, height))


def _of_some_pixels(cell: Cell) -> tuple[Cell, ...]:
    """The parts of a cell that are no specks: one side has some pixels, and each that prints at an exact length."""
    if cell.paper is not None:
        across, up = cell.paper.wide is not None, cell.paper.high is not None
        return (cell.boxed(w_lo=USEFUL if across else 1, h_lo=USEFUL if up else 1),)
    return cell.boxed(w_lo=USEFUL), cell.boxed(h_lo=USEFUL)


def _shape_in(cell: Cell, shape: Fraction) -> Fraction:
    """The proportion nearest to one given of which the cell holds a size."""
    near = cell.shape_near(shape)
    if cell.fixed_shape is not None or not cell.of_shape(near).empty:
        return near
    across = cell.w_hi if near >= 1 else round(cell.h_hi * near)
    size = cell.nearest(across, max(1, round(across / near))) or (1, 1)
    return Fraction(*size)


def asked(brief: Brief, strength: Strength) -> list[tuple[Clause, Limit]]:
    """The clauses that have a part in the sizes, each with its limit."""
    return [
        (clause, limit)
        for clause, limit in brief.limits()
        if binds_size(binds_of(clause.measure))
        and (strength == "should" or clause.strength == "must")
    ]


def region_of(clauses: Iterable[tuple[Clause, Limit]]) -> Allowed:
    """The sizes that some clauses allow together."""
    every = list(clauses)
    return Allowed(tuple(cell for turn in TURNS for cell in _cells(every, turn)))


@lru_cache(maxsize=256)
def allowed(brief: Brief, strength: Strength = "must") -> Allowed:
    """The sizes that a brief's pixel and print clauses allow: only its ``must`` clauses, or
    with ``should`` its recommendations as well. Of alternatives it is what each of them allows, all
    together."""
    if brief.plain:
        return region_of(asked(brief, strength))
    cells = (cell for course in courses(brief) for cell in allowed(course, strength).cells)
    return Allowed(tuple(dict.fromkeys(cells)))


def largest_cut(photo: Size, shape: Fraction) -> Size:
    """The largest whole-pixel cut of one shape that a photo can give, nearest to it exactly."""
    width, height = photo
    cut_w = min(Fraction(width), height * shape)
    turn: Turn = "landscape" if shape > 1 else "upright" if shape < 1 else "square"
    found = Cell(turn, w_hi=width, h_hi=height).of_shape(shape).largest()
    return found or (max(1, floor(cut_w)), max(1, floor(cut_w / shape)))
