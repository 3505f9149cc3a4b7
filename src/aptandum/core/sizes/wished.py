"""The size that a brief leaves for one picture: its recommendations where the picture has the pixels
for them, and of all that is then allowed the size that changes it least."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from functools import lru_cache
from itertools import combinations
from math import floor
from typing import Any

from aptandum.core.brief.bundles import Bundle, bundles, courses
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Clause
from aptandum.core.brief.registry import binds_of
from aptandum.core.frozen import frozen
from aptandum.core.sizes.binds import Both, Printed, Side
from aptandum.core.sizes.cells import proposed
from aptandum.core.sizes.conflicts import caps
from aptandum.core.sizes.least import Box, Caps, Target, Way, largest_of, least
from aptandum.core.sizes.region import Allowed, area, asked, region_of
from aptandum.core.sizes.rows import Size

_MOST_TRIED = 5
"""Recommendations on the size of which every selection is tried; of more, all or one by one."""

NOTHING = Brief("none", "", ())


@frozen
class Chosen:
    """A size, and the recommendations that it leaves aside.

    Attributes:
        target: the size.
        sizes: what it was chosen from.
        left: recommended clauses that cannot be met without enlarging, or beside the others.
    """

    target: Target
    sizes: Allowed
    left: tuple[Clause, ...] = ()


def sets_of(brief: Brief | None) -> tuple[tuple[tuple[Clause, ...], Allowed], ...]:
    """The sizes with ever fewer of a brief's recommendations, each with those left aside; the last
    are what its rules alone allow."""
    return _sets(brief or NOTHING)


@lru_cache(maxsize=64)
def _sets(brief: Brief) -> tuple[tuple[tuple[Clause, ...], Allowed], ...]:
    every = [(clause, _inside(clause, limit)) for clause, limit in asked(brief, "should")]
    musts = [pair for pair in every if pair[0].strength == "must"]
    wishes = [pair for pair in every if pair[0].strength != "must"]
    counts = range(len(wishes), -1, -1) if len(wishes) <= _MOST_TRIED else (len(wishes), 1, 0)
    found = []
    for count in counts:
        for some in combinations(wishes, count):
            sizes = region_of([*musts, *some])
            if sizes.useful or not some:
                left = tuple(clause for clause, limit in wishes if (clause, limit) not in some)
                found.append((left, sizes))
    return tuple(found)


_WITHIN = Fraction(1, 2)
"""Of a tolerance in print so much is used: a file states whole pixels per inch, which shift what it prints at."""


def _inside(clause: Clause, limit: Limit) -> Limit:
    """A limit on a printed length with a tolerance, a little narrower."""
    if limit.aim is None or not isinstance(binds_of(clause.measure), Printed):
        return limit
    ends = [_towards(limit.aim, bound) for bound in (limit.at_least, limit.at_most)]
    return replace(limit, at_least=ends[0], at_most=ends[1])


def _towards(aim: Any, bound: Any) -> Any:
    if isinstance(aim, tuple):
        return tuple(_towards(a, b) for a, b in zip(aim, bound, strict=True))
    middle = Fraction(str(aim))
    return middle + (Fraction(str(bound)) - middle) * _WITHIN


@lru_cache(maxsize=512)
def chosen(brief: Brief | None, box: Box, way: Way = "cut") -> Chosen | None:
    """The size to write; ``None`` where the brief's sizes contradict one another.

    Args:
        box: what is to be kept, in photo pixels.
        way: what is done where its shape is not allowed.
    """
    brief = brief or NOTHING
    most = caps(brief)
    factors = {turn: factor for turn, (factor, _clause) in most.items()}
    best: Chosen | None = None
    for left, sizes in _sets(brief):
        if best is not None and len(left) > len(best.left):
            break
        target = least(sizes.cells, box, way, factors) if sizes.useful else None
        if target is None:
            continue
        wishes = len(left) < len(_sets(brief)[-1][0])
        if wishes and target.enlargement > 1 + 1e-6:
            continue
        if best is None or _loss(target, box, way) < _loss(best.target, box, way):
            best = Chosen(target, sizes, left)
    return best if best is None else _aimed(brief, best, box, way, factors)


def would_be(brief: Brief, photo: Size) -> Target | None:
    """The size at which a photo of a size would be written, of all ways that a brief leaves; ``None``
    where its sizes contradict one another."""
    box = Box.of(*photo)
    every = [found.target for course in courses(brief) if (found := chosen(course, box))]
    return min(every, key=lambda target: _loss(target, box, "cut"), default=None)


@frozen
class Taken:
    """The way that a photo would take through a brief's either-ors, as far as sizes tell.

    Attributes:
        bundle: that way.
        target: the size at which it would be written.
        by: what it is better in than every other way: ``only`` (no other has a size), ``enlarged``,
            ``cut``, ``reduced``; empty where they are as good.
    """

    bundle: Bundle
    target: Target
    by: str = ""


def taken_by(brief: Brief, photo: Size) -> Taken | None:
    """Which of the ways that a brief leaves a photo of a size would take, and why; ``None`` where it
    leaves no choice, or no way has a size."""
    box = Box.of(*photo)
    every = bundles(brief)
    held = [(one, target) for one in every if (target := would_be(one.brief, photo)) is not None]
    if len(every) < 2 or not held:
        return None
    # What has to be enlarged comes last: the judge would name it first.
    ranked = sorted(
        held, key=lambda pair: (pair[1].enlargement > 1 + 1e-6, _loss(pair[1], box, "cut"))
    )
    bundle, target = ranked[0]
    if len(ranked) == 1:
        return Taken(bundle, target, "only")
    (lost, enlarged, area), other = _loss(target, box, "cut"), ranked[1][1]
    other_lost, other_enlarged, other_area = _loss(other, box, "cut")
    by = ""
    if enlarged < other_enlarged - 1e-6:
        by = "enlarged"
    elif lost < other_lost:
        by = "cut"
    elif area < other_area:
        by = "reduced"
    return Taken(bundle, target, by)


def _aimed(brief: Brief, best: Chosen, box: Box, way: Way, factors: Caps) -> Chosen:
    """The size that a rule with a tolerance names, where the picture has to be scaled anyhow and loses
    nothing more by it: *800 x 600, give or take 2 %* of a large photo of that shape is 800 x 600."""
    own = round(box.wide), round(box.high)
    aims = [
        (
            clause,
            replace(limit, form=("exactly",), at_least=None, at_most=None, one_of=(limit.aim,)),
        )
        for clause, limit in asked(brief, "must")
        if limit.aim is not None and isinstance(binds_of(clause.measure), (Both, Side))
    ]
    if not aims or best.target.size == own:
        return best
    every = [pair for pair in asked(brief, "should") if pair[0] not in best.left]
    cells = region_of([*every, *aims]).cells
    target = least(cells, box, way, factors) if cells else None
    if target is None or _loss(target, box, way)[:2] > _loss(best.target, box, way)[:2]:
        return best
    return replace(best, target=target)


@lru_cache(maxsize=512)
def chosen_whole(brief: Brief | None, box: Box) -> Chosen | None:
    """The size that keeps a box whole, whatever is recommended; ``None`` where no allowed size has
    its shape."""
    most = caps(brief or NOTHING)
    factors = {turn: factor for turn, (factor, _clause) in most.items()}
    for left, sizes in _sets(brief or NOTHING):
        target = least(sizes.cells, box, "cut", factors) if sizes.useful else None
        if target is not None and target.whole:
            return Chosen(target, sizes, left)
    return None


def _loss(target: Target, box: Box, way: Way) -> tuple[int, float, int]:
    lost = 0 if target.whole else box.lost(target.shape, way)
    return lost, max(1.0, target.enlargement), -target.size[0] * target.size[1]


@lru_cache(maxsize=512)
def own_pixels(brief: Brief | None, box: Box) -> Chosen | None:
    """The most pixels of a box that a brief lets be cut out of it as they are; where it has too few
    for every allowed size, the smallest of them."""
    for left, sizes in _sets(brief or NOTHING):
        proper = proposed(sizes.cells)
        wide, high = floor(box.wide + 1e-6), floor(box.high + 1e-6)
        inside = tuple(
            part for cell in proper if not (part := cell.boxed(w_hi=wide, h_hi=high)).empty_box()
        )
        every = [
            largest_of(cell, cell.paper.shape, wide, high)
            if cell.paper is not None and cell.paper.shape is not None
            else cell.largest()
            for cell in inside
        ]
        size = max((s for s in every if s is not None), key=area, default=None)
        if size is not None:
            fixed = sizes.shapes()
            target = Target(size, 1.0, Fraction(*size), fixed is not None and len(fixed) == 1)
            return Chosen(target, sizes, left)
    return chosen(brief, box)
