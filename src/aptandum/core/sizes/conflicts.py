"""What cannot be met: sizes that contradict one another, photos that are too small, and what would
help."""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache
from itertools import combinations
from math import ceil, floor

from aptandum.core.brief.binding import Bind
from aptandum.core.brief.bundles import courses
from aptandum.core.brief.model import TURNS, Brief, Clause, Strength, Turn
from aptandum.core.brief.registry import binds_of
from aptandum.core.frozen import frozen
from aptandum.core.sizes.binds import SCALE, TURNED, SizeBind, binds_size
from aptandum.core.sizes.cells import Cell
from aptandum.core.sizes.region import allowed, asked, region_of
from aptandum.core.sizes.rows import Size

_SLACK = Fraction(1, 10**6)  # of an enlargement, as its measure allows


@lru_cache(maxsize=256)
def contradiction(brief: Brief, strength: Strength = "must") -> tuple[Clause, ...]:
    """A smallest set of pixel and print clauses that together leave no (useful) size; empty
    where the brief's clauses can be met. Where it leaves a choice, only if no way of it can be met."""
    if not brief.plain:
        found = [contradiction(course, strength) for course in courses(brief)]
        return found[0] if all(found) else ()
    every = asked(brief, strength)
    if region_of(every).useful:
        return ()
    core = list(every)
    for pair in every:  # what can go without making it possible is not to blame
        rest = [other for other in core if other is not pair]
        if not region_of(rest).useful:
            core = rest
    for count in range(1, min(len(core), 4)):
        for some in combinations(every, count):
            if not region_of(some).useful:
                return tuple(clause for clause, _limit in some)
    return tuple(clause for clause, _limit in core)


def failing(brief: Brief, size: Size) -> tuple[Clause, ...]:
    """The must clauses that a size by itself does not meet; the print clauses together. Of several
    ways those of the one that it misses least."""
    if not brief.plain:
        return min((failing(course, size) for course in courses(brief)), key=len)
    every = [clause for clause, _limit in asked(brief, "must")]
    alone = [clause for clause in every if isinstance(binds_of(clause.measure), SizeBind)]
    groups: list[tuple[Clause, ...]] = [(clause,) for clause in alone]
    together = tuple(clause for clause in every if clause not in alone)
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
    named = brief.bound(TURNED)
    return tuple(t for t in TURNS if t not in have and (named is None or named.allows(t)))


def caps(brief: Brief) -> dict[Turn, tuple[Fraction, Clause]]:
    """For each turn the least enlargement that a must clause allows at most, and the clause."""
    found: dict[Turn, tuple[Fraction, Clause]] = {}
    for clause, limit in brief.bounding(SCALE):
        most = max(limit.one_of, default=limit.at_most)
        if most is None or clause.strength != "must":
            continue
        factor = Fraction(str(most))
        for turn in TURNS:
            if clause.holds_for(turn) and (turn not in found or factor < found[turn][0]):
                found[turn] = factor, clause
    return found


def _reach(photo: Size, factor: Fraction) -> Size:
    """The largest sides that a photo gives at an enlargement."""
    width, height = (floor(side * (factor + _SLACK)) for side in photo)
    return width, height


def _shortfall(size: Size, most: Size) -> int:
    return max(0, size[0] - most[0]) + max(0, size[1] - most[1])


def possible(brief: Brief, photo: Size) -> bool:
    """Whether a photo of this size can meet all pixel clauses, enlargement among them."""
    if not brief.plain:
        return any(possible(course, photo) for course in courses(brief))
    most = caps(brief)
    for cell in allowed(brief).cells:
        if cell.turn in most:
            width, height = _reach(photo, most[cell.turn][0])
            cell = cell.boxed(w_hi=width, h_hi=height)
        if not cell.empty:
            return True
    return False


def _has_part(bind: Bind | None) -> bool:
    return binds_size(bind) or bind == SCALE


@lru_cache(maxsize=512)
def conflict(brief: Brief, photo: Size) -> tuple[Clause, ...]:
    """Clauses that pull against each other for a photo of this size: a smallest set of must
    clauses, enlargement among them, that it cannot meet together. Empty where it can."""
    if possible(brief, photo):
        return ()
    if not brief.plain:
        return min((conflict(course, photo) for course in courses(brief)), key=len)
    core = [
        clause
        for clause, _limit in brief.limits()
        if clause.strength == "must" and _has_part(binds_of(clause.measure))
    ]
    for clause in list(core):
        rest = [other for other in core if other is not clause]
        if not possible(Brief("", "", tuple(rest)), photo):
            core = rest
    return tuple(core)


def least_frame(brief: Brief, shape: Fraction) -> tuple[float, float] | None:
    """The smallest frame of a shape, in photo pixels, that meets the brief's sizes without
    more enlargement than its must clauses allow; ``None`` where they set no limit to it."""
    most = caps(brief)
    sizes = []
    for cell in allowed(brief).cells:
        if cell.turn in most and not cell.sliver:
            size = cell.of_shape(shape).smallest()
            if size is not None:
                cap = float(most[cell.turn][0])
                sizes.append((size[0] / cap, size[1] / cap))
    return min(sizes, default=None)


@frozen
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
    empty where it is possible as it is, or where no photo could meet the brief. Of several ways the
    one that lacks the fewest pixels."""
    if not brief.plain:
        return _nearest_changes(brief, photo)
    sizes, most = allowed(brief), caps(brief)
    if sizes.empty or possible(brief, photo):
        return ()

    def closest(have: Size) -> tuple[Size, Cell]:
        """The size that exceeds what a photo gives by the fewest pixels, and its cell."""
        every = [
            (size, cell)
            for cell in sizes.cells
            if (size := cell.lacking(*_reach(have, most[cell.turn][0]))) is not None
        ]
        return min(
            every,
            key=lambda it: (
                _shortfall(it[0], _reach(have, most[it[1].turn][0])),
                -it[0][0] * it[0][1],
            ),
        )

    def factor(size: Size) -> Fraction:
        return max(Fraction(size[0], photo[0]), Fraction(size[1], photo[1]))

    found = []
    other = (photo[1], photo[0])
    if possible(brief, other):
        size, cell = closest(other)
        found.append(Change("turn", (0, 0), size, 1.0, most[cell.turn][1]))
    size, cell = closest(photo)
    cap, clause = most[cell.turn]
    across, up = (ceil(side / (cap + _SLACK)) for side in size)
    missing = max(0, across - photo[0]), max(0, up - photo[1])
    found.append(Change("pixels", missing, size, float(factor(size)), clause))
    grown = [s for c in sizes.cells if (s := c.grown(*photo)) is not None]
    least = min(grown, key=lambda s: (factor(s), s))
    found.append(Change("enlarge", (0, 0), least, float(factor(least)), clause))
    return tuple(found)


def _nearest_changes(brief: Brief, photo: Size) -> tuple[Change, ...]:
    if possible(brief, photo):
        return ()
    every = [found for course in courses(brief) if (found := changes(course, photo))]

    def lacking(found: tuple[Change, ...]) -> int:
        return min((sum(c.missing) for c in found if c.kind == "pixels"), default=0)

    return min(every, key=lacking, default=())
