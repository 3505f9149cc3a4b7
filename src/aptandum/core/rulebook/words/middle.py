"""Where a head stands across the picture: bodies count from an edge, the measure counts from the picture's middle."""

from __future__ import annotations

import re
from collections.abc import Sequence
from decimal import Decimal

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.quantities import Quantity

_I = int(re.I)
_MIDDLE = (
    r"\b(?:mid-?point|middle|cent(?:re|er)) (?:between|of|point of) (?:the |both )?(?:eyes|pupils|face|head)\b"
    r"|\b(?:face|head) cent(?:re|er)\b|\bMitte (?:zwischen den|der|beider) Augen\b|\b(?:Gesichts|Kopf)mitte\b"
)
"""What names the place that is counted: *the midpoint between the eyes shall lie between 45 % and 55 % of the width*."""


def is_of_middle(q: Quantity, before: str) -> bool:
    """Whether two shares say between what places across the picture the middle of a head lies.

    Args:
        before: what stands before it in its sentence.
    """
    if q.kind != "share" or len(q.values) != 2 or not patterns.search(_MIDDLE, before, _I):
        return False
    low, high = map(_percent, q.values)
    upright = patterns.search(r"\b(?:height|high|Höhe|vertical\w*|vertikal\w*)\b", before, _I)
    return low < 50 < high and not upright


def from_middle(values: Sequence[str]) -> list[str]:
    """The same two places, counted from the middle: *45 %* and *55 %* are *-5 %* and *5 %*."""
    return [f"{_percent(value) - 50:f} %" for value in values]


def _percent(value: str) -> Decimal:
    return Decimal(value.rstrip(" %"))
