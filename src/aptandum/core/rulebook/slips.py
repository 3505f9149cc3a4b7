"""Slips: where a limit does not say what the body's own words beside it say.

The numbers of a quote that have the measure's own unit are held against the limit's, and its *at least*
or *at most* against the limit's side. What a quote does not say is no slip.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import suppress
from itertools import pairwise
from numbers import Real
from typing import Any

from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Clause
from aptandum.core.brief.registry import known
from aptandum.core.frozen import frozen
from aptandum.core.numbers import (
    FRACTION_FORM,
    ByteCount,
    Printed,
    QuantityError,
    fraction,
    number,
)
from aptandum.core.quantity import Kind
from aptandum.core.rulebook.words.bleed import bleed_in
from aptandum.core.rulebook.words.from_above import counted_from_above
from aptandum.core.words import listed, say

_GROUPED = r"\d{1,3}(?:\.\d{3})+"
_BEFORE = r"(?<![\w.,/])"
_PLAIN = r"\d+(?:[ ,\u00a0\u202f]\d{3})*(?:[.,]\d+)?"
_SECOND = rf"({FRACTION_FORM}|{_PLAIN})"
_DIGITS = _BEFORE + _SECOND
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

_BARE_NUMBER = re.compile(
    rf"\b(?:over|under|above|below|than|least|most|über|unter|als|mindestens|höchstens|better|besser|lieber)\s+{_SECOND}(?=\s*(?:[;)]|[.,](?!\d)|$))",
    re.I,
)
_SIZE = re.compile(rf"{_BEFORE}({_PLAIN})\s*(?:px|pixels)?\s*(?:x|×|by)\s*({_PLAIN})(?![\d/⁄])")

_SMALLER = r"less|fewer|smaller|narrower|lower|shorter|under|below"
_LARGER = r"more|larger|greater|bigger|higher|wider|longer|taller|over|above"
_LEAST = re.compile(
    rf"\b(?:at least|minimum|min\.?|or (?:{_LARGER}|better)(?! than)|mindestens)\b", re.I
)
_MOST = re.compile(
    rf"\b(?:at most|maximum|max\.?|up to|or (?:{_SMALLER})(?! than)|(?:must )?not exceed|höchstens)\b",
    re.I,
)
_NOT = re.compile(
    rf"\bno(?:t)? (?:be )?(?:(?P<least>{_SMALLER})|(?P<most>{_LARGER}))(?: than)?\b", re.I
)
_BARE = re.compile(rf"\b(?:(?P<most>{_SMALLER})|(?P<least>{_LARGER}))(?: than)?(?=\s+\d)", re.I)
_DENIES = re.compile(
    r"\b(?:no|not|never|cannot|refused?|rejected|declined|returned|skipped|turned (?:away|down)|looks?|appears?|blurr\w*|error|waste\w*|pointless|shrink|reduce|resize|compress|unscharf|nicht|keine?)\b|n['’]t\b",
    re.I,
)
_DEMANDS = re.compile(r"(?:^\W*|\b(?:be|must|should|have|has|stay|keep|it|is|are)\s+)$", re.I)
"""What stands before a comparison that is asked for; *files over 2 MB* alone may be those refused."""
_REFUSED = re.compile(
    r"\b(?:will be|are|is) (?:returned|rejected|refused|declined|skipped|ignored|excluded|disqualified|deleted|turned (?:away|down))\b"
    r"|\b(?:we|they|it) (?:will not|won['’]t|do not|don['’]t|cannot|can['’]t) (?:print|accept|take|use|show|publish)\b|\bbecause (?:it|they) (?:is|are|was|were)\b"
    r"|\b(?:cannot|can['’]t|will not|won['’]t) be (?:printed|used|accepted|taken|shown)\b|\b(?:refuses|rejects|bounces) (?:it|them)\b|\bwerden (?:abgelehnt|zurück\w+)",
    re.I,
)
"""What says of all that a sentence lists that it is not taken."""
_FAULT = re.compile(
    r"\W*(?:it|they|the [\w ]{2,30}?|your [\w ]{2,30}?|es|das [\wäöüß]+|die [\wäöüß]+)\s+(?:is|was|are|were|takes? up|fills?|has|had|measures?|ist|war|hat)\s(?![^.;]*\b(?:must|should|shall|may|has to|have to)\b)[^.;]*$"
)
"""An item of a list of what was wrong, which begins small and asks for nothing: *it is smaller than 413 x 531 pixels*."""
_HIGH_FIRST = re.compile(
    r"\b(?:height|h|Höhe)[\s-]*(?:x|×|by|mal|/|:|to)[\s-]*(?:width|w|Breite)\b|\(H\s*(?:x|×)\s*B\)|\((?:upright|portrait|Hochformat)\)|\d\D{0,4}\(?(?:high|height|hoch|Höhe)\)?\s*(?:x|×|by|mal)",
    re.I,
)
_APART = re.compile(r",(?!\d)|[;()]|[.:](?=\s|$)|\b(?:and|but|und|aber)\b", re.I)
"""Where what is said of one number ends."""


@frozen
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
        above = clause.measure == "eye_line" and counted_from_above(clause.quote)
        why = _number_lost(clause.quote, limit, kind, above, clause.measure == "head_offset")
        why = why or ("" if above else _turned_round(clause.quote, limit, kind))
        if why:
            found.append(Slip(clause, why))
    return tuple(found)


def _number_lost(quote: str, limit: Limit, kind: Kind, above: bool, middle: bool) -> str:
    """Args:
    above: the quote counts from the upper edge a share that the limit counts from the lower one.
    middle: the quote may count from an edge a share that the limit counts from the middle.
    """
    pairs = list(_said(quote, kind, limit))
    said = dict(pairs)
    bounds = _bounds(limit)
    held = [value for _text, value in pairs]
    if _HIGH_FIRST.search(quote):  # “4 cm x 3 cm (height x width)”
        held += [one[::-1] for one in held if isinstance(one, tuple)]
    if kind.name == "print size":
        held += _sheets_in(quote)
    if above:
        held += [1 - one for one in held]
    if middle:
        held += [abs(one - 0.5) for one in held]
    lost = [
        bound
        for bound in bounds
        if not any(_same(bound, one) for one in held) and not _written(bound, quote)
    ]
    more = bleed_in(quote) if kind.name == "print size" else None
    if more is not None:  # the file of “148 x 210 mm plus 3 mm bleed” is 154 x 216 mm
        whole = [tuple(side + 2 * float(more[0]) for side in one) for one in said.values()]
        lost = [bound for bound in lost if not any(_same(bound, one) for one in whole)]
    # “Without a border” says nought in words.
    lost = [bound for bound in lost if not isinstance(bound, Real) or float(bound)]
    # A quote may well say one of two bounds; the other then stands elsewhere.
    if not said or not lost or (len(lost) < len(bounds) and len(said) < len(bounds)):
        return ""
    return say(
        "The limit says {limit}, and the quote beside it “{quote}”: is {value} meant?",
        limit=limit.says(kind),
        quote=quote,
        value=listed(list(said)),
    )


def _sheets_in(quote: str) -> list[tuple[float, float]]:
    """The sheets that a quote names (*A2 landscape*), in millimetres, either way up."""
    from aptandum.core.rulebook.words.quantities import SHEETS

    found = []
    for hit in re.finditer(r"\bA([2-6])\b", quote):
        wide, high = (float(side) for side in SHEETS[int(hit[1])].removesuffix(" mm").split(" x "))
        found += [(wide, high), (high, wide)]
    return found


def _written(bound: Any, quote: str) -> bool:
    """Whether a bound in whole numbers stands in a quote as it is, whatever its unit and grouping, and with
    its height first where the quote says so: *at least 1000 and at most 2400 pixels*, *2.000 x 2.000 Pixel*."""
    sides = bound if isinstance(bound, tuple) else (bound,)
    if isinstance(bound, ByteCount) or not all(
        isinstance(side, Real) and float(side).is_integer() for side in sides
    ):
        return False
    bare = re.sub(r"(?<=\d)[ .,\u00a0\u202f](?=\d{3}(?!\d))", "", quote)
    held = re.findall(r"(?<![\d.,])\d+(?![\d]|[.,]\d)", bare)
    left = [str(int(float(side))) for side in sides]
    if len(left) == 2 and _HIGH_FIRST.search(quote):
        left.reverse()
    return left[0] in held if len(left) == 1 else (left[0], left[1]) in pairwise(held)


def _turned_round(quote: str, limit: Limit, kind: Kind) -> str:
    if not kind.bounded or limit.one_of or limit.none_of or _FAULT.match(quote):
        return ""
    refused = bool(_REFUSED.search(quote))
    sides = {side for part in _parts_on(quote, limit, kind) for side in _sides(part, refused)}
    upper, lower = "most" in sides, "least" in sides
    only_low, only_high = limit.at_most is None, limit.at_least is None
    if (upper and not lower and only_low) or (lower and not upper and only_high):
        return say(
            "The limit says {limit}, and the quote beside it “{quote}”: is it the other way round?",
            limit=limit.says(kind),
            quote=quote,
        )
    return ""


def _parts_on(quote: str, limit: Limit, kind: Kind) -> Iterator[str]:
    """The parts of a quote that speak of the limit's own number; a quote says a good deal beside it."""
    at = 0
    for end in [*(hit.start() for hit in _APART.finditer(quote)), len(quote)]:
        part, at = quote[at:end], end
        said = [value for _text, value in _said(part, kind, limit)]
        if not _UNITS.get(kind.name) and kind.name not in ("size", "print size"):
            for hit in re.finditer(_DIGITS, part):
                with suppress(QuantityError):
                    said.append(_value(hit.group(1)))
        if any(_same(bound, one) for bound in _bounds(limit) for one in said):
            yield part


def _sides(part: str, refused: bool) -> Iterator[str]:
    """Which sides a part of a quote speaks of: ``least``, ``most``. A comparison that something in the
    same part denies or refuses (*smaller than 500 px cannot be used*), or that nothing asks for, is not told from its opposite."""
    for hit in _NOT.finditer(part):
        yield str(hit.lastgroup)
    rest = _NOT.sub(" ", part)
    for side, words in (("least", _LEAST), ("most", _MOST)):
        if words.search(rest) and not refused:
            yield side
    rest = _MOST.sub(" ", _LEAST.sub(" ", rest))
    if not refused and not _DENIES.search(rest):
        for hit in _BARE.finditer(rest):
            if _DEMANDS.search(rest[: hit.start()]):
                yield str(hit.lastgroup)


def _value(text: str) -> float:
    """A number of a quote, which may be a fraction.

    Raises:
        QuantityError: it cannot be told which number it is.
    """
    with suppress(QuantityError):
        return float(fraction(text))
    return float(number(text))


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
    pair = rf"(?:{_DIGITS}\s*(?:to|and|bis|und|-|–)\s*)?{_SECOND}"
    for unit, factor in units.items():
        # “60 to 250 KB”, “between 32 and 36 mm”: the first number has the second one's unit.
        for hit in re.finditer(rf"{pair}\s*({unit})(?![\w])", quote):
            for text in (hit.group(1), hit.group(2)):
                with suppress(QuantityError):
                    if text:
                        yield f"{text} {hit.group(3)}", _value(text) * factor
                    if text and re.fullmatch(_GROUPED, text):  # “1.024 KB”, as German has it
                        yield f"{text} {hit.group(3)}", float(text.replace(".", "")) * factor
            # “Under 100 KB, but over 10”: a bare number with a bound of its own has that unit too.
            for bare in re.finditer(_BARE_NUMBER, quote[hit.end() :]):
                with suppress(QuantityError):
                    yield f"{bare.group(1)} {hit.group(3)}", _value(bare.group(1)) * factor


def _print_sizes(quote: str) -> Iterator[tuple[str, Any]]:
    """Printed sizes of a quote: ``35 x 45 mm``, ``35 mm by 45 mm``."""
    units = "|".join(_UNITS["length"])
    for hit in re.finditer(
        rf"{_DIGITS}\s*(?:{units})?\s*(?:x|×|by)\s*{_SECOND}\s*({units})", quote
    ):
        factor = next(f for unit, f in _UNITS["length"].items() if re.fullmatch(unit, hit.group(3)))
        with suppress(QuantityError):
            sides = _value(hit.group(1)) * factor, _value(hit.group(2)) * factor
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
