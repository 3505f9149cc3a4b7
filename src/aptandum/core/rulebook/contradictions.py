"""Clauses of a brief that no file can meet together, whatever the picture."""

from __future__ import annotations

from itertools import combinations

from aptandum.core.brief.binding import (
    BITS,
    CHANNELS,
    CHROMA,
    DEPTH,
    FORMAT,
    FRAMES,
    LOCATION,
    NAME,
    PROFILE,
    QUALITY,
    SPACE,
    TRANSPARENCY,
    Told,
)
from aptandum.core.brief.bundles import bundles
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Clause
from aptandum.core.brief.registry import binds_of
from aptandum.core.frozen import frozen
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.photo.facts import FORMAT_NAMES, FORMATS
from aptandum.core.sizes.binds import RESOLUTION, binds_size
from aptandum.core.sizes.conflicts import contradiction
from aptandum.core.sizes.said import clause_said, contradiction_said
from aptandum.core.words import listed, say

_CLEAR = {"png", "gif", "tiff", "webp", "avif"}
_SIXTEEN = {"png", "tiff"}
_ONE_BIT = {"png", "gif", "bmp", "tiff"}
_PROFILED = {"jpeg", "png", "tiff", "webp", "avif"}
_TELLING = {"jpeg", "png", "tiff", "webp", "avif"}
_GREY = {"jpeg", "png", "tiff", "gif", "bmp"}
_DENSE = {"jpeg", "png", "tiff", "webp", "avif", "bmp"}
_CHROMA = {"jpeg", "webp", "avif"}
_MOVING = {"gif", "png", "webp", "avif", "tiff"}


@frozen
class Contradiction:
    """Clauses that exclude each other, and why, as a sentence."""

    clauses: tuple[Clause, ...]
    says: str


def contradictions(brief: Brief) -> tuple[Contradiction, ...]:
    """Every contradiction that can be told from the clauses alone, smallest sets only; of alternatives
    within each of them."""
    found: list[Contradiction] = []
    for bundle in bundles(brief):
        for one in _of_bundle(bundle.brief):
            if bundle.ways:
                said = say("With “{way}”: {says}", way=bundle.name, says=one.says)
                one = Contradiction(one.clauses, said)
            if all(set(one.clauses) != set(other.clauses) for other in found):
                found.append(one)
    return tuple(found)


def _of_bundle(brief: Brief) -> list[Contradiction]:
    found: list[Contradiction] = []
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
                _cannot_hold(one, first, second, other)
                or _cannot_hold(other, second, first, one)
                or _cannot_be(one, first, other, second)
                or _cannot_be(other, second, one, first)
            )
        )
        if why:
            found.append(Contradiction((one, other), why))
    return found


def _together(one: Clause, other: Clause) -> bool:
    """Whether two clauses can hold for one file: the same turn, and conditions that do not exclude
    each other."""
    if one.when is not None and other.when is not None and one.when != other.when:
        return False
    if one.of != other.of:
        return False
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
    elif binds == DEPTH and not any(map(limit.allows, (8, 24))):
        able = {f for f in FORMATS if f != "jpeg"}
    elif binds == FRAMES and not limit.allows(1):
        able = _MOVING
    elif binds == PROFILE and not limit.allows("none"):
        able = _PROFILED
    elif (isinstance(binds, Told) or binds == LOCATION) and not limit.allows("none"):
        able = _TELLING if limit.allows("present") else None
    elif binds == SPACE and limit.one_of == ("grey",):
        able = _GREY
    elif binds == SPACE and not any(map(limit.allows, ("untagged", "grey"))):
        able = _PROFILED
    elif binds == RESOLUTION:
        able = _DENSE
    elif binds == CHROMA and not limit.allows("4:4:4"):
        able = _CHROMA
    elif binds == QUALITY:
        able = {"jpeg"}
    if able is None or formats & able:
        return ""
    names = listed([FORMAT_NAMES[f] for f in FORMATS if f in formats])
    return say("{formats} cannot hold “{clause}”.", formats=names, clause=clause_said(other))


def _cannot_be(one: Clause, channels: Limit, other: Clause, limit: Limit) -> str:
    """Channels that another clause on how they are stored leaves no room for."""
    if binds_of(one.measure) != CHANNELS or channels.allows("grey") or channels.allows("mono"):
        return ""
    binds = binds_of(other.measure)
    one_bit = binds == BITS and not any(limit.allows(n) for n in (8, 16))
    grey = binds == SPACE and limit.one_of == ("grey",)
    if not one_bit and not grey:
        return ""
    return say(
        "“{a}” and “{b}” exclude each other: what has colour is neither one bit nor grey.",
        a=clause_said(one),
        b=clause_said(other),
    )
