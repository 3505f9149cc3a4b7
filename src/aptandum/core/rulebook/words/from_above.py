"""Heights that a body counts from the upper edge, where a rulebook counts them from the lower one: *the eyes lie 30 to 40 % from
the top* are eyes at 60 to 70 %, and 20 mm below the upper edge of a print 45 mm high are 25 mm above the lower one."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import replace
from decimal import Decimal
from typing import Any

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.draft import Draft

_I = int(re.I)
Whole = tuple[Decimal, str]
"""A number and its unit."""
_HUNDRED: Whole = (Decimal(100), "%")
_LENGTHS = {"%": Decimal(1), "mm": Decimal(1), "cm": Decimal(10), "in": Decimal("25.4")}
_TOP = r"(?:the |its |der |dem )?(?:very )?(?:top|upper (?:edge|border|rim|side|end)|oberen? (?:Rand|Kante|Bildrand|Bildkante)|oben)\b"
_BEHIND = (
    rf"[^\d.;,]{{0,32}}?\b(?:from|below|beneath|under|down from|vom|von|unter|unterhalb)\s+{_TOP}"
)
_BEFORE = rf"\b(?:from|below|vom|von|unter|unterhalb)\s+{_TOP}[^\d.;]{{0,40}}$"
_TOLD_FIRST = _BEFORE.removesuffix("$") + r"\d"
_LOWER = r"\b(?:bottom|lower|below the eyes|unten|unteren?)\b"
_OTHER = {"at_least": "at_most", "at_most": "at_least", "above": "below", "below": "above"}


def from_below(drafts: list[Draft], text: str) -> list[Draft]:
    """The drafts with heights of the eyes counted from below."""
    made = []
    for draft in drafts:
        if _from_above(draft, text):
            whole = _HUNDRED if _is_share(draft) else _printed_height(draft, drafts)
            if whole is None:
                draft = replace(draft, fields={"ask": " ".join(draft.quote.split())}, readings=())
            else:
                readings = tuple(_turned(one, whole) for one in draft.readings)
                draft = replace(draft, fields=_turned(draft.fields, whole), readings=readings)
        made.append(draft)
    return made


def _is_share(draft: Draft) -> bool:
    return all("%" in value for value in _values(draft.fields))


def _printed_height(draft: Draft, drafts: list[Draft]) -> Whole | None:
    """How high the print is that a draft is of, in its own words; ``None``: nothing says."""
    for other in drafts:
        value = other.fields.get("exactly")
        if other.brief != draft.brief or not isinstance(value, str):
            continue
        size = other.fields.get("measure") == "size"
        hit = re.fullmatch(r"(?:[\d.]+ x )?([\d.]+) (mm|cm|in)", value)
        if hit and (size or other.fields.get("measure") == "print_height"):
            return Decimal(hit[1]), hit[2]
    return None


def counted_from_above(quote: str) -> bool:
    """Whether a sentence counts a height from the upper edge."""
    told = patterns.search(rf"\d\s*(?:%|mm|cm|in\b){_BEHIND}|{_TOLD_FIRST}", quote, _I)
    return told is not None and not patterns.search(_LOWER, told.group(), _I)


def _from_above(draft: Draft, text: str) -> bool:
    if draft.fields.get("measure") != "eye_line" or not draft.numbers:
        return False
    if not all(re.search(r"%|\d (?:mm|cm|in)$", value) for value in _values(draft.fields)):
        return False
    before, behind = text[draft.start : draft.numbers[0][0]], text[draft.numbers[-1][1] : draft.end]
    told = patterns.match(_BEHIND, behind, _I) or patterns.search(_BEFORE, before, _I)
    return told is not None and not patterns.search(_LOWER, told.group(), _I)


def _values(fields: Mapping[str, Any]) -> list[str]:
    return [
        one
        for key in ("exactly", "between", "one_of", *_OTHER)
        for one in ([fields[key]] if isinstance(fields.get(key), str) else fields.get(key) or ())
    ]


def _turned(fields: Mapping[str, Any], whole: Whole) -> dict[str, Any]:
    """The same limit counted from the other edge."""
    made: dict[str, Any] = {}
    for key, value in fields.items():
        if key in ("between", "one_of"):
            made[key] = [_rest(one, whole) for one in reversed(value)]
        elif key in ("exactly", *_OTHER):
            made[_OTHER.get(key, key)] = _rest(value, whole)
        else:
            made[key] = value
    return made


def _rest(value: str, whole: Whole) -> str:
    number, unit = value.replace("%", " %").split()
    high, of = whole
    left = high * _LENGTHS[of] / _LENGTHS[unit] - Decimal(number)
    return f"{left.normalize():f} {unit}"
