"""A clause said back in plain words, so that a wrong number or turn is noticed."""

from __future__ import annotations

from typing import Any

from aptandum.core.brief.model import Clause, Limit
from aptandum.core.figures import show_exact_bytes
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.quantity import NAMED, ByteCount
from aptandum.core.words import listed, say, sentences


def said_back(clause: Clause) -> str:
    """A sentence or two: ``Longest side at most 1 600 px; both sides count.``"""
    if clause.ask is not None:
        return say("A person is asked: “{ask}”. Nothing is measured.", ask=clause.ask)
    if clause.measure is None or clause.limit is None:
        return ""
    measure = REGISTRY[clause.measure]
    said = say("{title} {limit}", title=measure.title, limit=clause.limit.says(measure.kind))
    more = measure.explain(clause.limit)
    parts = [say("{said}; {more}.", said=said, more=more) if more else say("{said}.", said=said)]
    parts += _bytes_said(clause.limit)
    if clause.applies:
        parts.append(
            say(
                "Only where the picture is {turns}.",
                turns=listed([NAMED[turn] for turn in clause.applies]),
            )
        )
    if clause.strength == "should":
        parts.append(say("Recommended: a picture outside is not refused for it."))
    return sentences(parts)


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


def _bytes_said(limit: Limit) -> list[str]:
    bounds: list[tuple[Any, str]] = [
        (limit.at_least, say("a lower")),
        (limit.at_most, say("an upper")),
    ]
    said = [readings(v, side) for v, side in bounds if isinstance(v, ByteCount)]
    return [one for one in said if one]
