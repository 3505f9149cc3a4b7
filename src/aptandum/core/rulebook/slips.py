"""Slips: where a limit does not say what the body's own words beside it say.

The numbers of a quote that have the measure's own unit are held against the limit's, and its *at least*
or *at most* against the limit's side. What a quote does not say is no slip.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Clause
from aptandum.core.brief.registry import known
from aptandum.core.numbers import ByteCount, Printed, QuantityError, number
from aptandum.core.quantity import Kind
from aptandum.core.words import listed, say

_DIGITS = r"(?<![\w.,])(\d+(?:[ ,\u00a0\u202f]\d{3})*(?:[.,]\d+)?)"
_UNITS: dict[str, dict[str, float]] = {
    "pixels": {r"px|pixels?": 1},
    "bytes": {r"bytes?|B": 1, r"[kK][bB]?": 1e3, r"[mM][bB]": 1e6, r"[gG][bB]": 1e9,
              r"[kK]i[bB]": 1024, r"[mM]i[bB]": 1024**2},
    "length": {r"mm|millimet(?:re|er)s?": 1, r"cm|centimet(?:re|er)s?": 10, r"in(?:ch(?:es)?)?|[\"″]": 25.4},
    "ppi": {r"ppi|dpi": 1},
    "megapixels": {r"MP|mega-?pixels?": 1},
    "share": {r"%|per ?cent": 0.01},
}  # fmt: skip
"""For each kind of value the units in which a quote may write it, and what one of them is."""

_SECOND = _DIGITS.removeprefix(r"(?<![\w.,])")
_SIZE = re.compile(rf"{_DIGITS}\s*(?:px|pixels)?\s*(?:x|×|by)\s*{_SECOND}")

_LEAST = re.compile(
    r"\b(at least|no(?:t)? (?:less|fewer|smaller|under|below) than|minimum|min\.?|or (?:more|larger)"
    r"|(?:more|larger) than(?=\s+\d))\b",
    re.I,
)
_MOST = re.compile(
    r"\b(at most|no(?:t)? (?:more|larger|higher|wider|over|above|greater) than|maximum|max\.?|up to"
    r"|or (?:less|smaller)|(?:less than|smaller than|under|below)(?=\s+\d)|must not exceed)\b",
    re.I,
)


@dataclass(frozen=True)
class Slip:
    """A clause whose limit and quote differ, and how, as a sentence."""

    clause: Clause
    says: str


def slips(brief: Brief) -> tuple[Slip, ...]:
    """The slips of a brief's clauses, in their order."""
    found = []
    for clause, limit in brief.limits():
        if not clause.quote:
            continue
        kind = known(clause.measure or "").kind
        why = _number_lost(clause.quote, limit, kind) or _turned_round(clause.quote, limit, kind)
        if why:
            found.append(Slip(clause, why))
    return tuple(found)


def _number_lost(quote: str, limit: Limit, kind: Kind) -> str:
    said = dict(_said(quote, kind, limit))
    bounds = _bounds(limit)
    lost = [bound for bound in bounds if not any(_same(bound, one) for one in said.values())]
    # A quote may well say one of two bounds; the other then stands elsewhere.
    if not said or not lost or (len(lost) < len(bounds) and len(said) < len(bounds)):
        return ""
    return say(
        "The limit says {limit}, and the quote beside it “{quote}”: is {value} meant?",
        limit=limit.says(kind),
        quote=quote,
        value=listed(list(said)),
    )


def _turned_round(quote: str, limit: Limit, kind: Kind) -> str:
    if not kind.bounded or limit.one_of or limit.none_of:
        return ""
    # “No more than” holds “more than”, and is the longer of both.
    upper = bool(_MOST.search(quote))
    lower = bool(_LEAST.search(_MOST.sub(" ", quote)))
    only_low, only_high = limit.at_most is None, limit.at_least is None
    if (upper and not lower and only_low) or (lower and not upper and only_high):
        return say(
            "The limit says {limit}, and the quote beside it “{quote}”: is it the other way round?",
            limit=limit.says(kind),
            quote=quote,
        )
    return ""


def _bounds(limit: Limit) -> list[Any]:
    return [limit.aim] if limit.aim is not None else list(limit.bounds)


def _said(quote: str, kind: Kind, limit: Limit) -> Iterator[tuple[str, Any]]:
    """The numbers of a quote that have a unit of this kind, each as it is written."""
    for hit in _SIZE.finditer(quote):
        size = int(number(hit.group(1))), int(number(hit.group(2)))
        if kind.name == "size":
            yield f"{size[0]} × {size[1]}", size
        elif kind.name == "pixels":
            yield from ((str(side), float(side)) for side in size)
    if kind.name == "print size":
        yield from _print_sizes(quote)
    units = dict(_UNITS.get(kind.name, {}))
    if limit.printed:
        units |= {unit: factor / limit.printed for unit, factor in _UNITS["length"].items()}
    pair = rf"(?:{_DIGITS}\s*(?:to|and|-|–)\s*)?{_SECOND}"
    for unit, factor in units.items():
        # “60 to 250 KB”, “between 32 and 36 mm”: the first number has the second one's unit.
        for hit in re.finditer(rf"{pair}\s*({unit})(?![\w])", quote):
            for text in (hit.group(1), hit.group(2)):
                with suppress(QuantityError):
                    if text:
                        yield f"{text} {hit.group(3)}", float(number(text)) * factor


def _print_sizes(quote: str) -> Iterator[tuple[str, Any]]:
    """Printed sizes of a quote: ``35 x 45 mm``, ``35 mm by 45 mm``."""
    units = "|".join(_UNITS["length"])
    for hit in re.finditer(
        rf"{_DIGITS}\s*(?:{units})?\s*(?:x|×|by)\s*{_SECOND}\s*({units})", quote
    ):
        factor = next(f for unit, f in _UNITS["length"].items() if re.fullmatch(unit, hit.group(3)))
        with suppress(QuantityError):
            sides = float(number(hit.group(1))) * factor, float(number(hit.group(2))) * factor
            yield hit.group(), sides


def _same(bound: Any, said: Any) -> bool:
    if isinstance(bound, tuple) or isinstance(said, tuple):
        near = {(-1, -1), (0, 0), (1, 1)}
        return bool(tuple(round(a - b, 2) for a, b in zip(said, bound, strict=True)) in near)
    values = [float(bound)]
    if isinstance(bound, ByteCount):
        values += [float(bound.other)] if bound.other is not None else []
        values += [v * 1000 / 1024 for v in values] + [v * 1024**2 / 1e6 for v in values]
        values += [v * 1000**2 / 1024**2 for v in values] + [v * 1.024 for v in values]
    if isinstance(bound, Printed):
        return bool(abs(float(bound) - said) < 1e-3)
    # “Below 1 MB” leaves the number itself out.
    return any(abs(abs(v) - said) <= max(1.5 if v > 10 else 1e-6, 2e-3 * abs(v)) for v in values)
