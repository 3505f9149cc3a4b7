"""A clause said back in plain words, so that a wrong number or turn is noticed."""

from __future__ import annotations

from typing import Any

from aptandum.core.judge.measures import REGISTRY
from aptandum.core.quantity import ByteCount, show_exact_bytes
from aptandum.core.rulebook.model import Clause, Limit
from aptandum.core.words import listed, say


def said_back(clause: Clause) -> str:
    """A sentence or two: ``Longest side at most 1 600 px; both sides count.``"""
    if clause.ask is not None:
        return say("A person is asked: “{ask}”. Nothing is measured.", ask=clause.ask)
    if clause.measure is None or clause.limit is None:
        return ""
    measure = REGISTRY[clause.measure]
    said = f"{measure.title} {clause.limit.says(measure.kind)}"
    more = _more(clause.measure, clause.limit)
    parts = [f"{said}; {more}." if more else f"{said}."]
    parts += _bytes_said(clause.limit)
    if clause.applies:
        parts.append(say("Only where the picture is {turns}.", turns=listed(list(clause.applies))))
    if clause.strength == "should":
        parts.append(say("Recommended: a picture outside is not refused for it."))
    return " ".join(parts)


def _more(measure: str, limit: Limit) -> str:
    """What people get wrong about a measure, said the right way round."""
    low, high = limit.at_least is not None, limit.at_most is not None
    if measure in ("longest_side", "shortest_side"):
        both = high if measure == "longest_side" else low
        if low and high:
            return say("whichever way up the picture is")
        return say("both sides count") if both else say("one side is enough")
    if measure == "width":
        return say("the height is left free")
    if measure == "height":
        return say("the width is left free")
    if measure == "size" and limit.one_of:
        w, h = limit.one_of[0]
        return say("the first number is the width") if w != h else say("a square")
    if measure == "aspect" and limit.one_of:
        shape = limit.one_of[0]
        if shape == 1:
            return say("width and height are the same")
        return say("wider than high") if shape > 1 else say("higher than wide")
    if measure == "aspect":
        return say("width over height, both ends included")
    if measure == "enlargement":
        most = max(limit.one_of, default=limit.at_most)
        if limit.exact:
            return say("the photo's own pixels, neither enlarged nor reduced")
        return say("making it smaller is always allowed") if most is not None else ""
    if measure == "ppi":
        return say("a number in the file that changes no pixel")
    if measure in ("print_width", "print_height"):
        return say("pixels over pixels per inch")
    if measure == "file_bytes" and low and high:
        return say("too small a file is refused as well")
    return ""


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
