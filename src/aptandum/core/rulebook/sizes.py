"""Allowed sizes: which whole-number sizes (w, h) a brief's pixel and print clauses leave.

The set is kept as a few :class:`~.cells.Cell` boxes, one for each turn (landscape, upright,
square) and each choice of a named size or proportion, so that limits which hold for one turn
only stay exact. No question is answered by trying every size.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from itertools import combinations, product
from math import ceil, floor, log

from aptandum.core.photo.limits import MOST_SIDE
from aptandum.core.rulebook.cells import Cell, Size, beside, edge, sliver
from aptandum.core.rulebook.model import TURNS, Brief, Clause, Limit, Strength, Turn

PIXEL_MEASURES = (
    "size", "width", "height", "longest_side", "shortest_side", "aspect", "orientation",
    "megapixels", "print_width", "print_height", "ppi",
)  # fmt: skip
USEFUL = 8
"""Clauses that leave nothing with a side of at least so many pixels contradict one another:
two proportions always share a few sizes like 1 x 1 by rounding, and nobody means those."""

_SLACK = Fraction(1, 10**6)  # of an enlargement, as its measure allows
_MM_PER_INCH = Fraction(254, 10)
_LEAST_PPI, _MOST_PPI = Fraction(1, 1000), Fraction(100_000)


# --- from clauses to cells -----------------------------------------------------------------


def _values(limit: Limit) -> list[tuple[int, int]]:
    """The runs of whole numbers that a limit allows."""
    low, high = limit.at_least or 1, limit.at_most or MOST_SIDE
    runs = [(v, v) for v in limit.one_of if low <= v <= high] if limit.one_of else [(low, high)]
    for gap in sorted(set(limit.none_of)):
        runs = [
            part
            for a, b in runs
            for part in ([(a, b)] if not a <= gap <= b else [(a, gap - 1), (gap + 1, b)])
            if part[0] <= part[1]
        ]
    return runs


def _sides(cell: Cell, measure: str, limit: Limit) -> Iterator[Cell]:
    landscape, upright = cell.turn == "landscape", cell.turn == "upright"
    on_width = measure == "width" or (
        not upright if measure == "longest_side" else measure == "shortest_side" and not landscape
    )
    on_height = measure == "height" or (
        not landscape if measure == "longest_side" else measure == "shortest_side" and not upright
    )
    for low, high in _values(limit):
        box: dict[str, int] = {}
        if on_width:
            box |= {"w_lo": low, "w_hi": high}
        if on_height:
            box |= {"h_lo": low, "h_hi": high}
        yield cell.boxed(**box)


def _sizes(cell: Cell, limit: Limit) -> Iterable[Cell]:
    cells = [cell]
    if limit.one_of:
        cells = [cell.boxed(w, w, h, h) for w, h in limit.one_of]
    for w, h in set(limit.none_of):
        cells = [
            part
            for one in cells
            for part in (
                one.boxed(w_hi=w - 1),
                one.boxed(w_lo=w + 1),
                one.boxed(w, w, h_hi=h - 1),
                one.boxed(w, w, h_lo=h + 1),
            )
            if not part.empty_box()
        ]
    return cells


def _can_turn(turn: Turn, shape: Fraction) -> bool:
    """Rounding never makes a size of an upright proportion landscape, nor the reverse."""
    return not (turn == "landscape" and shape <= 1) and not (turn == "upright" and shape >= 1)


def _aspects(cell: Cell, limit: Limit) -> Iterator[Cell]:
    cells = [cell]
    if limit.one_of:
        cells = [
            part
            for shape in limit.one_of
            if _can_turn(cell.turn, shape)
            for part in (
                replace(cell, aspects=tuple(dict.fromkeys((*cell.aspects, shape)))),
                sliver(cell, shape),
            )
        ]
    for shape in limit.none_of:
        cells = [part for one in cells for part in beside(one, shape)]
    for one in cells:
        lows = [v for v in (one.a_lo, limit.at_least) if v is not None]
        highs = [v for v in (one.a_hi, limit.at_most) if v is not None]
        a_lo, a_hi = max(lows, default=None), min(highs, default=None)
        if a_lo is None or a_hi is None or a_lo <= a_hi:
            yield replace(one, a_lo=a_lo, a_hi=a_hi)


def _megapixels(cell: Cell, limit: Limit) -> Iterator[Cell]:
    def pixels(value: float) -> Fraction:
        return Fraction(str(value)) * 10**6

    for low, high in (
        [(v, v) for v in limit.one_of] if limit.one_of else [(limit.at_least, limit.at_most)]
    ):
        lows = [v for v in (cell.area_lo, None if low is None else ceil(pixels(low))) if v]
        highs = [v for v in (cell.area_hi, None if high is None else floor(pixels(high)))
                 if v is not None]  # fmt: skip
        yield replace(cell, area_lo=max(lows, default=None), area_hi=min(highs, default=None))


def _narrow(cell: Cell, measure: str, limit: Limit) -> Iterable[Cell]:
    if measure == "size":
        return _sizes(cell, limit)
    if measure == "aspect":
        return _aspects(cell, limit)
    if measure == "orientation":
        return (cell,) if limit.allows(cell.turn) else ()
    if measure == "megapixels":
        return _megapixels(cell, limit)
    return _sides(cell, measure, limit)


@dataclass(frozen=True)
class _Length:
    """A printed length of a side, in inches: at least ``low`` and at most ``high``, each give
    or take ``slack`` pixels. An exact length is met to the nearest pixel."""

    low: Fraction | None = None
    high: Fraction | None = None
    slack: Fraction = Fraction(0)


def _lengths(limit: Limit) -> list[_Length]:
    def inches(mm: float | None) -> Fraction | None:
        return None if mm is None else Fraction(str(mm)) / _MM_PER_INCH

    if limit.one_of:
        every = [inches(v) for v in limit.one_of]
        return [_Length(v, v, Fraction(1, 2)) for v in every]
    return [_Length(inches(limit.at_least), inches(limit.at_most))]


def _ppi(limits: list[Limit]) -> list[tuple[Fraction, Fraction]]:
    """The closed ranges of pixels per inch that all limits leave."""
    runs = [(_LEAST_PPI, _MOST_PPI)]
    for limit in limits:
        spans = (
            [(Fraction(str(v)),) * 2 for v in limit.one_of]
            if limit.one_of
            else [(Fraction(str(limit.at_least or 0)), Fraction(str(limit.at_most or _MOST_PPI)))]
        )
        runs = [
            (max(a, low), min(b, high))
            for a, b in runs
            for low, high in spans
            if max(a, low) <= min(b, high)
        ]
    return runs


def _agreeing(lengths: list[_Length]) -> Fraction:
    """The longest side in pixels at which lengths of the same side agree to the pixel."""
    most = Fraction(MOST_SIDE)
    for one, other in product(lengths, lengths):
        low, high = one.low, other.high
        if low is not None and high is not None and low > high:
            most = min(most, (other.slack * low + one.slack * high) / (low - high))
    return most


def _printed(
    cell: Cell, across: list[_Length], up: list[_Length], ppi: tuple[Fraction, Fraction]
) -> Cell:
    """The sizes that print at these lengths at some one resolution inside a range.

    A side of n px prints at least ``low`` inches where p <= (n + slack) / low, and at most
    ``high`` where p >= (n - slack) / high. Some p meets all of these when every lower bound of
    it is at or below every upper one; between the two sides that is a straight edge.
    """
    least, most = ppi
    w_lo, w_hi, h_lo, h_hi = Fraction(1), Fraction(MOST_SIDE), Fraction(1), Fraction(MOST_SIDE)
    for length in across:
        if length.low is not None:
            w_lo = max(w_lo, length.low * least - length.slack)
        if length.high is not None:
            w_hi = min(w_hi, length.high * most + length.slack)
    for length in up:
        if length.low is not None:
            h_lo = max(h_lo, length.low * least - length.slack)
        if length.high is not None:
            h_hi = min(h_hi, length.high * most + length.slack)
    w_hi, h_hi = min(w_hi, _agreeing(across)), min(h_hi, _agreeing(up))
    lower, upper = list(cell.lower), list(cell.upper)
    for wide, high in product(across, up):
        if wide.high is not None and high.low is not None:
            ratio = wide.high / high.low
            upper.append(edge(ratio, ratio * high.slack + wide.slack))
        if high.high is not None and wide.low is not None:
            ratio = wide.low / high.high
            lower.append(edge(ratio, -ratio * high.slack - wide.slack))
    made = cell.boxed(ceil(w_lo), floor(w_hi), ceil(h_lo), floor(h_hi))
    return replace(made, lower=tuple(dict.fromkeys(lower)), upper=tuple(dict.fromkeys(upper)))


def _cells(clauses: Iterable[tuple[Clause, Limit]], turn: Turn) -> list[Cell]:
    live = [Cell(turn)]
    prints: dict[str, list[list[_Length]]] = {"print_width": [], "print_height": []}
    ppi: list[Limit] = []
    # Boxes first: they leave most slivers of a proportion empty at once.
    for clause, limit in sorted(clauses, key=lambda pair: pair[0].measure in ("aspect", "size")):
        if not clause.holds_for(turn):
            continue
        measure = clause.measure or ""
        if measure == "ppi":
            ppi.append(limit)
        elif measure in prints:
            prints[measure].append(_lengths(limit))
        else:
            live = [
                part
                for cell in live
                for part in _narrow(cell, measure, limit)
                if not part.empty_box()
            ]
    if prints["print_width"] or prints["print_height"] or ppi:
        runs = _ppi(ppi)
        across = [list(pick) for pick in product(*prints["print_width"])]
        up = [list(pick) for pick in product(*prints["print_height"])]
        live = [
            part
            for cell, wide, high, run in product(live, across, up, runs)
            for part in (_printed(cell, wide, high, run),)
            if not part.empty_box()
        ]
    return [cell for cell in live if not cell.empty]


# --- the set -------------------------------------------------------------------------------


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


def _area(size: Size) -> tuple[int, int]:
    return size[0] * size[1], max(size)


@dataclass(frozen=True)
class Allowed:
    """The set of sizes that a brief allows. No cell of it is empty."""

    cells: tuple[Cell, ...]

    def contains(self, width: int, height: int) -> bool:
        return any(cell.contains(width, height) for cell in self.cells)

    @property
    def empty(self) -> bool:
        """Whether no size at all meets the clauses."""
        return not self.cells

    @property
    def useful(self) -> bool:
        """Whether any size is left that is not a speck of a few pixels."""
        return any(
            not cell.boxed(w_lo=USEFUL).empty or not cell.boxed(h_lo=USEFUL).empty
            for cell in self.cells
        )

    def largest(self) -> Size | None:
        """The size with the most pixels. Where a proportion is named, the size with the
        largest shorter side and of those the one nearest to the exact proportion: 1850 x 370
        for 5:1, though 1852 x 370 rounds to it as well."""
        sizes = [size for cell in self.cells if (size := cell.largest()) is not None]
        return max(sizes, key=_area, default=None)

    def smallest(self) -> Size | None:
        """The size with the fewest pixels, chosen as in :meth:`largest`."""
        sizes = [size for cell in self.cells if (size := cell.smallest()) is not None]
        return min(sizes, key=_area, default=None)

    def nearest(self, width: int, height: int) -> Size | None:
        """The size with the least distance to one given, across and up together."""
        sizes = [size for c in self.cells if (size := c.nearest(width, height)) is not None]
        return min(
            sizes,
            key=lambda s: ((s[0] - width) ** 2 + (s[1] - height) ** 2, _area(s)),
            default=None,
        )

    @property
    def _proper(self) -> tuple[Cell, ...]:
        """The cells without slivers, which are allowed but never proposed."""
        return tuple(cell for cell in self.cells if not cell.sliver)

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
                size = line.boxed(w_hi=cap, h_hi=cap).largest()
                if size is not None and (kept is None or size > kept[0]):
                    kept = size, fixed
            if kept is None:
                size = line.smallest()
                if size is not None and (grown is None or size < grown[0]):
                    grown = size, fixed
        found = kept or grown
        if found is None:
            return None
        return Target(found[0], max(found[0]) / longest, shape, found[1])

    def cut(self, width: int, height: int) -> Target | None:
        """The target for the frame that keeps the most of a photo of this size."""
        photo = Fraction(width, height)
        best: tuple[tuple[bool, float], Target] | None = None
        for cell in self._proper:
            shape = _shape_in(cell, photo)
            cut_w = min(Fraction(width), height * shape)
            longest = float(max(cut_w, cut_w / shape))
            target = replace(self, cells=(cell,)).target(shape, longest)
            if target is None:
                continue
            rank = (target.enlargement <= 1 + 1e-9, float(cut_w * (cut_w / shape)))
            if best is None or rank > best[0]:
                best = (rank, target)
        return best[1] if best else None


def _shape_in(cell: Cell, shape: Fraction) -> Fraction:
    """The proportion nearest to one given of which the cell holds a size."""
    near = cell.shape_near(shape)
    if cell.fixed_shape is not None or not cell.of_shape(near).empty:
        return near
    across = cell.w_hi if near >= 1 else round(cell.h_hi * near)
    size = cell.nearest(across, max(1, round(across / near))) or (1, 1)
    return Fraction(*size)


def _asked(brief: Brief, strength: Strength) -> list[tuple[Clause, Limit]]:
    return [
        (clause, limit)
        for clause, limit in brief.measured(*PIXEL_MEASURES)
        if strength == "should" or clause.strength == "must"
    ]


def _of(clauses: Iterable[tuple[Clause, Limit]]) -> Allowed:
    every = list(clauses)
    return Allowed(tuple(cell for turn in TURNS for cell in _cells(every, turn)))


@lru_cache(maxsize=256)
def allowed(brief: Brief, strength: Strength = "must") -> Allowed:
    """The sizes that a brief's pixel and print clauses allow: only its ``must`` clauses, or
    with ``should`` its recommendations as well."""
    return _of(_asked(brief, strength))


def largest_cut(photo: Size, shape: Fraction) -> Size:
    """The largest whole-pixel cut of one shape that a photo can give, nearest to it exactly."""
    width, height = photo
    cut_w = min(Fraction(width), height * shape)
    turn: Turn = "landscape" if shape > 1 else "upright" if shape < 1 else "square"
    found = Cell(turn, w_hi=width, h_hi=height).of_shape(shape).largest()
    return found or (max(1, floor(cut_w)), max(1, floor(cut_w / shape)))


# --- what cannot be met --------------------------------------------------------------------


@lru_cache(maxsize=256)
def contradiction(brief: Brief, strength: Strength = "must") -> tuple[Clause, ...]:
    """A smallest set of pixel and print clauses that together leave no (useful) size; empty
    where the brief's clauses can be met."""
    asked = _asked(brief, strength)
    if _of(asked).useful:
        return ()
    core = list(asked)
    for pair in asked:  # what can go without making it possible is not to blame
        rest = [other for other in core if other is not pair]
        if not _of(rest).useful:
            core = rest
    for count in range(1, min(len(core), 4)):
        for some in combinations(asked, count):
            if not _of(some).useful:
                return tuple(clause for clause, _limit in some)
    return tuple(clause for clause, _limit in core)


def failing(brief: Brief, size: Size) -> tuple[Clause, ...]:
    """The must clauses that a size by itself does not meet; the print clauses together."""
    printed = ("print_width", "print_height", "ppi")
    alone = [c for c, _limit in _asked(brief, "must") if c.measure not in printed]
    groups: list[tuple[Clause, ...]] = [(clause,) for clause in alone]
    together = tuple(c for c, _limit in _asked(brief, "must") if c.measure in printed)
    if together:
        groups.append(together)
    return tuple(
        clause
        for group in groups
        if not allowed(Brief("", "", group)).contains(*size)
        for clause in group
    )


def turns_left_out(brief: Brief) -> tuple[Turn, ...]:
    """The turns of which the brief allows no size, though no clause says so by itself."""
    have = {cell.turn for cell in allowed(brief).cells}
    named = brief.limit("orientation")
    return tuple(t for t in TURNS if t not in have and (named is None or named.allows(t)))


def _caps(brief: Brief) -> dict[Turn, tuple[Fraction, Clause]]:
    """For each turn the least enlargement that a must clause allows at most, and the clause."""
    caps: dict[Turn, tuple[Fraction, Clause]] = {}
    for clause, limit in brief.measured("enlargement"):
        most = max(limit.one_of, default=limit.at_most)
        if most is None or clause.strength != "must":
            continue
        factor = Fraction(str(most))
        for turn in TURNS:
            if clause.holds_for(turn) and (turn not in caps or factor < caps[turn][0]):
                caps[turn] = factor, clause
    return caps


def _reach(photo: Size, factor: Fraction) -> Size:
    """The largest sides that a photo gives at an enlargement."""
    width, height = (floor(side * (factor + _SLACK)) for side in photo)
    return width, height


def _shortfall(size: Size, most: Size) -> int:
    return max(0, size[0] - most[0]) + max(0, size[1] - most[1])


def possible(brief: Brief, photo: Size) -> bool:
    """Whether a photo of this size can meet all pixel clauses, enlargement among them."""
    caps = _caps(brief)
    for cell in allowed(brief).cells:
        if cell.turn in caps:
            width, height = _reach(photo, caps[cell.turn][0])
            cell = cell.boxed(w_hi=width, h_hi=height)
        if not cell.empty:
            return True
    return False


@lru_cache(maxsize=512)
def conflict(brief: Brief, photo: Size) -> tuple[Clause, ...]:
    """Clauses that pull against each other for a photo of this size: a smallest set of must
    clauses, enlargement among them, that it cannot meet together. Empty where it can."""
    if possible(brief, photo):
        return ()
    core = [
        clause
        for clause, _limit in brief.measured(*PIXEL_MEASURES, "enlargement")
        if clause.strength == "must"
    ]
    for clause in list(core):
        rest = [other for other in core if other is not clause]
        if not possible(Brief("", "", tuple(rest)), photo):
            core = rest
    return tuple(core)


def least_frame(brief: Brief, shape: Fraction) -> tuple[float, float] | None:
    """The smallest frame of a shape, in photo pixels, that meets the brief's sizes without
    more enlargement than its must clauses allow; ``None`` where they set no limit to it."""
    caps = _caps(brief)
    sizes = []
    for cell in allowed(brief).cells:
        if cell.turn in caps and not cell.sliver:
            size = cell.of_shape(shape).smallest()
            if size is not None:
                cap = float(caps[cell.turn][0])
                sizes.append((size[0] / cap, size[1] / cap))
    return min(sizes, default=None)


@dataclass(frozen=True)
class Change:
    """One single change that would make a brief possible for a photo.

    Attributes:
        kind: ``turn`` (the same pixels the other way up), ``pixels`` (a larger photo) or
            ``enlarge`` (against the brief's own clause).
        missing: photo pixels that lack across and up; zeros where none do.
        size: the output size that it would make possible.
        factor: the enlargement that it would take.
        clause: the clause that stands in the way.
    """

    kind: str
    missing: Size
    size: Size
    factor: float
    clause: Clause


def changes(brief: Brief, photo: Size) -> tuple[Change, ...]:
    """Which single changes would make an impossible brief possible for a photo of this size;
    empty where it is possible as it is, or where no photo could meet the brief."""
    sizes, caps = allowed(brief), _caps(brief)
    if sizes.empty or possible(brief, photo):
        return ()

    def closest(have: Size) -> tuple[Size, Cell]:
        """The size that exceeds what a photo gives by the fewest pixels, and its cell."""
        every = [
            (size, cell)
            for cell in sizes.cells
            if (size := cell.lacking(*_reach(have, caps[cell.turn][0]))) is not None
        ]
        return min(
            every,
            key=lambda it: (
                _shortfall(it[0], _reach(have, caps[it[1].turn][0])),
                -it[0][0] * it[0][1],
            ),
        )

    def factor(size: Size) -> Fraction:
        return max(Fraction(size[0], photo[0]), Fraction(size[1], photo[1]))

    found = []
    other = (photo[1], photo[0])
    if possible(brief, other):
        size, cell = closest(other)
        found.append(Change("turn", (0, 0), size, 1.0, caps[cell.turn][1]))
    size, cell = closest(photo)
    cap, clause = caps[cell.turn]
    across, up = (ceil(side / (cap + _SLACK)) for side in size)
    missing = max(0, across - photo[0]), max(0, up - photo[1])
    found.append(Change("pixels", missing, size, float(factor(size)), clause))
    grown = [s for c in sizes.cells if (s := c.grown(*photo)) is not None]
    least = min(grown, key=lambda s: (factor(s), s))
    found.append(Change("enlarge", (0, 0), least, float(factor(least)), clause))
    return tuple(found)


__all__ = [
    "PIXEL_MEASURES",
    "Allowed",
    "Change",
    "Target",
    "allowed",
    "changes",
    "conflict",
    "contradiction",
    "failing",
    "largest_cut",
    "least_frame",
    "possible",
    "turns_left_out",
]
