"""Which clauses are the cause of a change of size or shape: a smallest set that asks for it."""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache

from aptandum.core.brief.model import Brief, Clause
from aptandum.core.brief.registry import binds_of
from aptandum.core.sizes.binds import SCALE, binds_size
from aptandum.core.sizes.least import Box, Way
from aptandum.core.sizes.rows import Size
from aptandum.core.sizes.wished import chosen, own_pixels


@lru_cache(maxsize=256)
def blamed(brief: Brief, box: Box, way: Way, of: str, exact: bool = False) -> tuple[Clause, ...]:
    """Clauses without which a picture would have another shape or another size, and which together take it there;
    empty where no clause does.

    Args:
        box: the photo, or the window that a person has set.
        of: ``shape`` (that it is cut or padded) or ``size`` (that it is scaled).
        exact: the photo's own pixels are kept, so that a smaller size is a cut.
    """
    every = [clause for clause, _limit in brief.limits() if _has_part(clause)]
    if not _changes(every, box, way, of, exact):
        return ()
    there = _there(every, box, way, of, exact)
    core = list(every)
    # What is only recommended goes first, and then what was said last.
    latest = every[::-1]
    for clause in sorted(latest, key=lambda clause: clause.strength == "must"):
        rest = [other for other in core if other is not clause]
        alike = _there(rest, box, way, of, exact) == there
        if rest and alike and _changes(rest, box, way, of, exact):
            core = rest
    return tuple(core)


def _there(
    clauses: list[Clause], box: Box, way: Way, of: str, exact: bool
) -> Size | Fraction | None:
    """The size or the shape that clauses lead to."""
    brief = Brief("", "", tuple(clauses))
    found = own_pixels(brief, box) if exact else chosen(brief, box, way)
    if found is None:
        return None
    return found.target.shape if of == "shape" else found.target.size


def _has_part(clause: Clause) -> bool:
    binds = binds_of(clause.measure)
    return binds_size(binds) or binds == SCALE


def _changes(clauses: list[Clause], box: Box, way: Way, of: str, exact: bool) -> bool:
    brief = Brief("", "", tuple(clauses))
    found = own_pixels(brief, box) if exact else chosen(brief, box, way)
    if found is None:
        return False
    (wide, high), sides = found.target.size, (box.wide, box.high)
    if exact:
        return abs(wide - sides[0]) > 1 or abs(high - sides[1]) > 1
    if of == "shape":
        return not found.target.whole
    if found.target.whole:
        return (wide, high) != (round(sides[0]), round(sides[1]))
    # What is cut or padded alone keeps its scale, whatever its size becomes.
    factors = (wide / sides[0], high / sides[1])
    factor = max(factors) if way == "cut" else min(factors)
    return abs(factor - 1) * max(sides) > 1
