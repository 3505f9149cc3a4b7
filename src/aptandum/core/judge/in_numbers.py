"""A finding in numbers, for programs: what was measured, what is allowed, and how far outside the one lies of the other.

Every kind of value has one unit, whatever a rulebook wrote its limit in. What is no number stands as a word (a
format), a date as ISO 8601, and several sides as a list.
"""

from __future__ import annotations

import math
from datetime import date
from fractions import Fraction
from typing import Any

from aptandum.core.brief.limit import Limit

UNITS = {
    "pixels": "px", "size": "px", "bytes": "byte", "set_bytes": "byte", "share": "%", "length": "mm",
    "print size": "mm", "angle": "deg", "megapixels": "MP", "ppi": "ppi", "seconds": "s", "rate": "1/s", "age": "d",
    "aspect": "1", "factor": "1", "count": "1", "number": "1", "ratio": "1",
}  # fmt: skip
"""The unit of each kind of value, by the kind's name; ``1``: a bare number. Kinds that are words have none."""
_PLACES = 6


def _number(value: Any, kind: str) -> Any:
    """A value as JSON can say it."""
    if value is None or isinstance(value, (str, bool)):
        return value
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, float) and not math.isfinite(value):
        return None  # no number says it: at no size
    if kind == "aspect":
        wide, high = value if isinstance(value, tuple) else (Fraction(value), 1)
        return round(float(Fraction(wide) / Fraction(high)), _PLACES)
    if isinstance(value, tuple):
        return [_number(one, kind) for one in value]
    if isinstance(value, int):
        return int(value) * 100 if kind == "share" else int(value)
    try:
        number = float(value) * (100 if kind == "share" else 1)
    except (TypeError, ValueError):
        return str(value)
    return round(number, _PLACES)


def _face(limit: Limit, value: Any) -> Limit:
    """The limit as it lies, or turned where that is nearer."""
    return limit if value is None else min(limit.faces, key=lambda face: face.far(value))


def _apart(value: Any, low: Any, high: Any, allowed: list[Any]) -> Any:
    if isinstance(value, list):
        sides = len(value)
        lows, highs = low or [None] * sides, high or [None] * sides
        if allowed and all(isinstance(one, list) for one in allowed):
            near = min(
                allowed, key=lambda one: sum(abs(a - b) for a, b in zip(one, value, strict=True))
            )
            lows = highs = near
        if any(isinstance(one, str) for one in value):
            return None
        return [_apart(*each, []) for each in zip(value, lows, highs, strict=True)]
    if not isinstance(value, (int, float)) or isinstance(value, bool):
        return None
    numbers = [one for one in allowed if isinstance(one, (int, float))]
    if numbers:
        return round(value - min(numbers, key=lambda one: abs(value - one)), _PLACES)
    if isinstance(low, (int, float)) and value < low:
        return round(value - low, _PLACES)
    if isinstance(high, (int, float)) and value > high:
        return round(value - high, _PLACES)
    return 0


def in_numbers(kind: str, value: Any, limit: Limit | None, meets: bool) -> dict[str, Any]:
    """A finding's figures.

    Args:
        kind: the name of the kind of value; empty: nothing is measured.
        meets: the value is as it should be: it lies outside by nothing, whatever was rounded.

    Returns:
        ``value``, ``unit``, ``low``, ``high`` (what is allowed, both included; ``None``: no such bound), ``one_of``,
        ``none_of`` (what alone is allowed, what is not), and ``outside``: how far the value lies outside in the same
        unit, below is negative, 0 inside, ``None`` for what is no number.
    """
    made: dict[str, Any] = {"value": _number(value, kind), "unit": UNITS.get(kind)}
    face = _face(limit, value) if limit is not None else None
    low = _number(face.at_least, kind) if face is not None else None
    high = _number(face.at_most, kind) if face is not None else None
    one_of = [_number(one, kind) for one in face.one_of] if face is not None else []
    none_of = [_number(one, kind) for one in face.none_of] if face is not None else []
    if face is not None and face.exact and len(one_of) == 1 and made["unit"]:
        low = high = one_of[0]
    outside = None
    if made["value"] is not None and made["unit"] and face is not None:
        outside = _apart(made["value"], low, high, one_of)
        if meets:
            outside = (
                [0] * len(outside) if isinstance(outside, list) else None if outside is None else 0
            )
    return {
        **made,
        "low": low,
        "high": high,
        "one_of": one_of,
        "none_of": none_of,
        "outside": outside,
    }
