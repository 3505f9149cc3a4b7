"""A clause said back in plain words, so that a wrong number or turn is noticed."""

from __future__ import annotations

from typing import Any

from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Clause
from aptandum.core.figures import show_exact_bytes
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.numbers import ByteCount
from aptandum.core.quantity import LENGTH, NAMED, PIXELS, Kind
from aptandum.core.sizes.said import condition_said
from aptandum.core.words import listed, say, sentences


def said_back(clause: Clause) -> str:
    """A sentence or two: ``Longest side at most 1 600 px; both sides count.``"""
    if clause.ask is not None:
        asked = say("A person is asked: “{ask}”. Nothing is measured.", ask=clause.ask)
        return sentences([asked, *_holds_said(clause)])
    if clause.measure is None or clause.limit is None:
        return ""
    measure = REGISTRY[clause.measure]
    said = say("{title} {limit}", title=measure.title, limit=clause.limit.says(measure.kind))
    more = measure.explain(clause.limit) if clause.limit.turned is None else ""
    parts = [say("{said}; {more}.", said=said, more=more) if more else say("{said}.", said=said)]
    parts += _bytes_said(clause.limit)
    if clause.limit.aim is not None:
        parts.append(_tolerance_said(clause.limit, measure.kind))
    parts += _holds_said(clause)
    if clause.strength == "should":
        parts.append(say("Recommended: a picture outside is not refused for it."))
    return sentences(parts)


def _holds_said(clause: Clause) -> list[str]:
    """When a clause holds, where that is not always."""
    parts = []
    if clause.applies:
        turns = listed([NAMED[turn] for turn in clause.applies])
        parts.append(say("Only where the picture is {turns}.", turns=turns))
    if clause.when is not None:
        parts.append(say("Only with {condition}.", condition=condition_said(clause.when)))
    if clause.either:
        parts.append(
            say(
                "One way of several, “{way}”: all clauses of it hold together, or those of another.",
                way=clause.way[1],
            )
        )
    if clause.of:
        parts.append(say("Only for the first picture of a set."))
    if clause.valid_from is not None:
        parts.append(say("Only from {day} on.", day=clause.valid_from.isoformat()))
    if clause.whole_body:
        parts.append(say("It stands for every brief of the body."))
    return parts


def _tolerance_said(limit: Limit, kind: Kind) -> str:
    if kind.sided and len(limit.at_least) == 2:
        pairs = zip(limit.at_least, limit.at_most, strict=True)
        one = {"size": PIXELS, "print size": LENGTH}[kind.name]
        said = [
            say("{low} to {high}", low=one.show(low), high=one.show(high)) for low, high in pairs
        ]
        return say("That is {wide} across and {high} up.", wide=said[0], high=said[1])
    return say(
        "That is {low} to {high}.", low=kind.show(limit.at_least), high=kind.show(limit.at_most)
    )


def readings(value: ByteCount, side: str) -> str:
    """Both ways to read an ambiguous number of bytes, and which one is kept."""
    if value.other is None:
        return ""
    small, large = sorted((int(value), value.other))
    kept = say("the smaller") if value == small else say("the larger")
    return say(
        "{text} may mean {small} or {large}; as {side} limit {kept} is kept, which is safe "
        "either way.",
        text=value.text,
        small=show_exact_bytes(small),
        large=show_exact_bytes(large),
        side=side,
        kept=kept,
    )


def lower_bytes(limit: Limit | None) -> str:
    """Why a lower limit in bytes is another number than its words have; empty: it is not."""
    value = limit.at_least if limit is not None else None
    return readings(value, say("a lower")) if isinstance(value, ByteCount) else ""


def _bytes_said(limit: Limit) -> list[str]:
    bounds: list[tuple[Any, str]] = [
        (limit.at_least, say("a lower")),
        (limit.at_most, say("an upper")),
    ]
    said = [readings(v, side) for v, side in bounds if isinstance(v, ByteCount)]
    return [one for one in said if one]
