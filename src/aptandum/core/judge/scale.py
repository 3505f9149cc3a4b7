"""Where a finding lies on its gauge: the allowed band on a rail, and the picture's place on it."""

from __future__ import annotations

import math
from typing import Any

from aptandum.core.frozen import frozen
from aptandum.core.judge.findings import Finding
from aptandum.core.judge.measures import REGISTRY


@frozen
class Scale:
    """Positions 0..1 on the rail: the band's ends (None: open), and the pointer."""

    low: float | None
    high: float | None
    at: float


def scale_of(finding: Finding) -> Scale | None:
    """Where to draw a finding; None for words and for what has no number to show."""
    limit, value = finding.clause.limit, finding.value
    if limit is None or finding.clause.measure is None:
        return None
    if isinstance(value, tuple):
        if not limit.exact:
            return None
        wanted = limit.one_of[0]
        off = math.log(
            max(value[0] / wanted[0], value[1] / wanted[1], key=lambda v: abs(math.log(v)))
        )
        return Scale(0.5, 0.5, 0.5 + 0.42 * math.tanh(off))
    if not REGISTRY[finding.clause.measure].kind.ordered or value is None:
        return None
    number = _number(value)
    limit = REGISTRY[finding.clause.measure].read_as(limit)
    low, high = _number(limit.at_least), _number(limit.at_most)
    if limit.one_of:
        low = high = min((float(v) for v in limit.one_of), key=lambda v: abs(v - float(value)))
    if number is None or (low is None and high is None):
        return None
    return _placed(number, low, high)


def _number(value: Any) -> float | None:
    return float(value) if value is not None else None


def _placed(number: float, low: float | None, high: float | None) -> Scale:
    if low is not None and high is not None:
        if low == high:
            off = (number - low) / (abs(low) or 1)
            return Scale(0.5, 0.5, 0.5 + 0.42 * math.tanh(1.5 * off))
        at = 0.28 + 0.44 * (number - low) / (high - low)
        return Scale(0.28, 0.72, _squeezed(at))
    if high is not None:
        at = 0.7 * number / high if high else 0.7 + 0.25 * math.tanh(number)
        return Scale(None, 0.7, _squeezed(at))
    assert low is not None
    at = 0.3 * number / low if number < low else 0.3 + 0.6 * math.tanh((number / low - 1) * 0.8)
    return Scale(0.3, None, _squeezed(at))


def _squeezed(at: float) -> float:
    """Keep far outliers on the rail."""
    if at > 0.9:
        return 0.9 + 0.08 * math.tanh((at - 0.9) * 2)
    if at < 0.06:
        return 0.06 + 0.05 * math.tanh((at - 0.06) * 4)
    return at
