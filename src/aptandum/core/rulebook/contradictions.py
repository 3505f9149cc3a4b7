"""Clauses of a brief that no file can meet together, whatever the picture."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations

from aptandum.core.brief.binding import (
    BITS,
    CHANNELS,
    FORMAT,
    FRAMES,
    NAME,
    PROFILE,
    TRANSPARENCY,
)
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Clause
from aptandum.core.brief.registry import binds_of
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.photo.facts import FORMAT_NAMES, FORMATS
from aptandum.core.sizes.binds import binds_size
from aptandum.core.sizes.conflicts import contradiction
from aptandum.core.sizes.said import clause_said, contradiction_said
from aptandum.core.words import listed, say

_CLEAR = {"png", "gif", "tiff", "webp", "avif"}
_SIXTEEN = {"png", "tiff"}
_ONE_BIT = {"png", "gif", "bmp", "tiff"}
_PROFILED = {"jpeg", "png", "tiff", "webp", "avif"}
_MOVING = {"gif", "png", "webp", "avif", "tiff"}


@dataclass(frozen=True)
class Contradiction:
    """Clauses that exclude each other, and why, as a sentence."""

    clauses: tuple[Clause, ...]
    says: str


def contradictions(brief: Brief) -> tuple[Contradiction, ...]:
    """Every contradiction that can be told from the clauses alone, smallest sets only."""
    found = []
    sizes = contradiction(brief)
    if sizes:
        found.append(Contradiction(sizes, contradiction_said(brief)))
    must = [(clause, limit) for clause, limit in brief.limits() if clause.strength == "must"]
    for (one, first), (other, second) in combinations(must, 2):
        if not _together(one, other):
            continue
        why = (
            _disjoint(one, first, second)
            if one.measure == other.measure
            else (
                _cannot_hold(one, first, second, other) or _cannot_hold(other, second, first, one)
            )
        )
        if why:
            found.append(Contradiction((one, other), why))
    return tuple(found)


def _together(one: Clause, other: Clause) -> bool:
    return not one.applies or not other.applies or bool(set(one.applies) & set(other.applies))


def _disjoint(clause: Clause, first: Limit, second: Limit) -> str:
    """Two limits of one measure that share no value; sizes are told exactly elsewhere."""
    measure = REGISTRY[clause.measure or ""]
    if binds_size(measure.binds) or measure.binds == NAME:
        return ""
    if measure.kind.choices:
        shared = [v for v in measure.kind.choices if first.allows(v) and second.allows(v)]
        apart = not shared
    else:
        edges = [
            v
            for limit in (first, second)
            for v in (limit.at_least, limit.at_most, *limit.one_of)
            if v is not None
        ]
        apart = not any(first.allows(v) and second.allows(v) for v in edges)
    if not apart:
        return ""
    return say(
        "{title} cannot be {a} and {b} at once.",
        title=measure.title,
        a=first.says(measure.kind),
        b=second.says(measure.kind),
    )


def _cannot_hold(one: Clause, format_: Limit, limit: Limit, other: Clause) -> str:
    """A format that cannot hold what another clause asks for."""
    if binds_of(one.measure) != FORMAT:
        return ""
    formats = {f for f in FORMATS if format_.allows(f)}
    able: set[str] | None = None
    binds = binds_of(other.measure)
    if binds == TRANSPARENCY and not limit.allows("none"):
        able = _CLEAR
    elif binds == BITS and not limit.allows(8):
        able = _SIXTEEN if limit.allows(16) else _ONE_BIT
    elif binds == CHANNELS and limit.one_of == ("mono",):
        able = _ONE_BIT
    elif binds == FRAMES and not limit.allows(1):
        able = _MOVING
    elif binds == PROFILE and not limit.allows("none"):
        able = _PROFILED
    if able is None or formats & able:
        return ""
    names = listed([FORMAT_NAMES[f] for f in FORMATS if f in formats])
    return say("{formats} cannot hold “{clause}”.", formats=names, clause=clause_said(other))
