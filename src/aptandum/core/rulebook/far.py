"""Limits that nobody means: far from what a file can be, from one another, or from the same limit of
the body's other briefs; and conditions that can never hold."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from math import exp, log
from statistics import median
from typing import Any

from aptandum.core.brief.binding import (
    BYTES,
    FORMAT,
    HEAD_HEIGHT,
    HEADROOM,
)
from aptandum.core.brief.bundles import bundles, outside
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Clause
from aptandum.core.brief.registry import binds_of, known
from aptandum.core.figures import show_bytes, show_megapixels, show_number
from aptandum.core.frozen import frozen
from aptandum.core.photo.facts import FORMATS
from aptandum.core.rulebook.slips import Slip, slips
from aptandum.core.sizes.region import allowed
from aptandum.core.sizes.said import condition_said
from aptandum.core.words import say

_FEW_BITS = {"jpeg": 0.12, "webp": 0.06, "avif": 0.05}
"""Bits for a pixel below which a photo falls to pieces, by format; of any other far sooner."""

_FEW_LOSSLESS = 0.4
_FAR = 8.5
"""Times by which a limit may differ from all the others of a body; a digit more or less is ten."""

_SENSIBLE: dict[str, tuple[float, float]] = {
    "ppi": (10, 3000),
    "length": (3, 5000),
    "bytes": (1500, 4e9),
    "megapixels": (0.001, 1000),
    "angle": (0, 90),
}
"""For each kind of value the least and the most that a rule may well say: ppi, mm, bytes, megapixels,
degrees."""


@frozen
class Doubt:
    """Something that is probably not meant, of one brief."""

    brief: Brief
    slip: Slip


def doubts(briefs: Sequence[Brief]) -> tuple[Doubt, ...]:
    """Everything in the briefs of one body that is probably a slip of the pen."""
    found: list[Doubt] = []
    for brief in briefs:
        every = [*slips(brief), *_senseless(brief), *_too_few_bytes(brief), *_never(brief)]
        found += [Doubt(brief, slip) for slip in every]
    found += _beside_others(briefs)
    return tuple(found)


def _senseless(brief: Brief) -> Iterator[Slip]:
    for clause, limit in brief.limits():
        kind, binds = known(clause.measure or "").kind, binds_of(clause.measure)
        low, high = _SENSIBLE.get(kind.name, (None, None))
        of_frame = binds in (HEAD_HEIGHT, HEADROOM)
        if of_frame:
            low, high = 0.0, 1.0
        if low is None or high is None:
            continue
        for bound in limit.bounds:
            # A lower limit may be small and an upper one large: neither then says much.
            small = float(bound) < low and bound is not limit.at_least
            large = float(bound) > high and (of_frame or bound is not limit.at_most)
            if small or large:
                said = limit.says(kind)
                yield Slip(clause, say("{limit}: is that meant?", limit=said))
                break


def _too_few_bytes(brief: Brief) -> Iterator[Slip]:
    """Byte limits that no photo of the smallest allowed size can keep."""
    for bundle in bundles(brief):
        plain = bundle.brief
        smallest = allowed(plain).smallest() if plain.plain else None
        if smallest is None:
            continue
        form = plain.bound(FORMAT)
        formats = [f for f in FORMATS if form is None or form.allows(f)]
        least = min((_FEW_BITS.get(f, _FEW_LOSSLESS) for f in formats), default=0.05)
        area = smallest[0] * smallest[1]
        for clause, limit in plain.bounding(BYTES):
            most = limit.at_most
            if most is not None and area > 10_000 and most * 8 / area < least:
                yield Slip(
                    clause,
                    say(
                        "At most {bytes} for at least {area}: no photo keeps that; is it meant?",
                        bytes=show_bytes(int(most)),
                        area=show_megapixels(area / 1e6),
                    ),
                )


def _never(brief: Brief) -> Iterator[Slip]:
    """Conditions that the brief's own rules exclude, and choices of one way alone."""
    ways: dict[str, set[str]] = {}
    for clause in brief.clauses:
        if clause.either:
            ways.setdefault(clause.way[0], set()).add(clause.way[1])
    for clause in brief.clauses:
        if clause.either and len(ways[clause.way[0]]) == 1:
            said = say(
                "“{way}” is the only way of its choice: which is the other?", way=clause.way[1]
            )
            yield Slip(clause, said)
        if clause.when is None:
            continue
        for other, limit in brief.limits():
            same = other.measure == clause.when.measure and other.strength == "must"
            if same and not other.when and not other.either and _apart(clause, limit):
                said = say(
                    "It holds only with {condition}, which another clause excludes.",
                    condition=condition_said(clause.when),
                )
                yield Slip(clause, said)
                break


def _apart(clause: Clause, limit: Limit) -> bool:
    assert clause.when is not None
    kind = known(clause.when.measure).kind
    if kind.choices:
        return not any(clause.when.limit.allows(w) and limit.allows(w) for w in kind.choices)
    return bool(outside(clause.when)) and not any(
        clause.when.limit.allows(v) and limit.allows(v)
        for v in (*clause.when.limit.bounds, *limit.bounds)
    )


def _beside_others(briefs: Sequence[Brief]) -> list[Doubt]:
    """Limits that are far from the same limit of all the body's other briefs, which agree among
    themselves: a digit lost or gained."""
    held: dict[tuple[str, str], list[tuple[Brief, Clause, float]]] = {}
    for brief in briefs:
        for clause, limit in brief.limits():
            if clause.when or clause.either or clause.whole_body:
                continue
            for end, bound in (("low", limit.at_least), ("high", limit.at_most)):
                if _number(bound):
                    held.setdefault((clause.measure or "", end), []).append(
                        (brief, clause, float(bound))
                    )
    found = []
    for every in held.values():
        for brief, clause, value in every:
            others = [v for b, _c, v in every if b is not brief]
            if len(others) < 2 or value <= 0:
                continue
            if max(others) > 2 * min(others) or min(others) <= 0:
                continue
            usual = median(others)
            times = exp(abs(log(value / usual)))
            if times >= _FAR:
                said = say(
                    "{limit}: the body’s other briefs say about {times} times as much or as little; is "
                    "it meant?",
                    limit=clause.limit.says(known(clause.measure or "").kind)
                    if clause.limit
                    else "",
                    times=show_number(times, 0),
                )
                found.append(Doubt(brief, Slip(clause, said)))
    return found


def _number(value: Any) -> bool:
    return isinstance(value, (int, float)) and not isinstance(value, bool)


__all__ = ["Doubt", "doubts"]
