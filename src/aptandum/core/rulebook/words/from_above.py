"""Shares that a body counts from the upper edge, where a rulebook counts them from the lower one: *the eyes lie 30 to 40 % from
the top* are eyes at 60 to 70 %."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import replace
from decimal import Decimal
from typing import Any

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.draft import Draft

_I = int(re.I)
_WHOLE = Decimal(100)
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
    return [
        replace(d, fields=_turned(d.fields), readings=tuple(map(_turned, d.readings)))
        if _from_above(d, text)
        else d
        for d in drafts
    ]


def counted_from_above(quote: str) -> bool:
    """Whether a sentence counts a height from the upper edge."""
    told = patterns.search(rf"\d\s*%{_BEHIND}|{_TOLD_FIRST}", quote, _I)
    return told is not None and not patterns.search(_LOWER, told.group(), _I)


def _from_above(draft: Draft, text: str) -> bool:
    if draft.fields.get("measure") != "eye_line" or not draft.numbers:
        return False
    if not all("%" in value for value in _values(draft.fields)):
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


def _turned(fields: Mapping[str, Any]) -> dict[str, Any]:
    """The same limit counted from the other edge."""
    made: dict[str, Any] = {}
    for key, value in fields.items():
        if key in ("between", "one_of"):
            made[key] = [_rest(one) for one in reversed(value)]
        elif key in ("exactly", *_OTHER):
            made[_OTHER.get(key, key)] = _rest(value)
        else:
            made[key] = value
    return made


def _rest(share: str) -> str:
    number = _WHOLE - Decimal(share.replace("%", "").strip())
    return f"{number.normalize():f} %"
