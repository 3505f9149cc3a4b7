"""Hair before an eye: an eye that is covered has lost its own contrast, and strands run down across it."""

from __future__ import annotations

from typing import Any

from aptandum.core.judge.eye_region import EyeRegion, eyes_of
from aptandum.core.judge.measure import NEEDS_MARKS, NEEDS_PIXELS, CannotMeasure, Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.later import np
from aptandum.core.quantity import words
from aptandum.core.words import say

_COVERED, _SEEN = 20.0, 20.0
"""Lightest less darkest L* of an eye: up to which it may be covered, and from which it is seen."""
_OTHER = 4.5
"""How many times as much the other eye must have for this one to be covered without a strand being told."""
_STRANDS, _NO_STRANDS = 1.6, 1.4
"""How much more lightness changes across than down, about an eye: from which strands run there, up to which none do."""


def _take(reading: Reading) -> str:
    return hair(eyes_of(reading, sure=False))


def hair(eyes: EyeRegion) -> str:
    """``seen`` or ``none``: hair that lies before an eye.

    Raises:
        CannotMeasure: it cannot be told.
    """
    ranges = [_range(eyes, x) for x in (-0.5, 0.5)]
    strands = [_strands(eyes, x) for x in (-0.5, 0.5)]
    each = tuple(zip(ranges, strands, strict=True))
    other = max(ranges) > _OTHER * min(ranges)
    if any((r <= _COVERED and s >= _STRANDS) or (r <= _COVERED and other) for r, s in each):
        return "seen"
    if all(r >= _SEEN and s <= _NO_STRANDS for r, s in each):
        return "none"
    raise CannotMeasure(
        say("Whether hair lies before an eye cannot be told: that is for you to say.")
    )


def _range(eyes: EyeRegion, x: float) -> float:
    low, high = np.percentile(eyes.part(x - 0.2, x + 0.2, -0.08, 0.08)[..., 0], (3, 97))
    return float(high - low)


def _strands(eyes: EyeRegion, x: float) -> float:
    light: Any = eyes.part(x - 0.25, x + 0.25, -0.12, 0.12)[..., 0]
    across, down = (float(np.median(np.abs(np.diff(light, axis=axis)))) for axis in (1, 0))
    return across / max(down, 0.05)


MEASURE = Measure(
    "hair_over_eyes",
    say("Hair before the eyes"),
    "person",
    words("none", "seen", shown={"none": say("none"), "seen": say("seen")}),
    say(
        "An eye whose lightness (L*) has a range of less than 20 with strands running down it, or far less than "
        "the other eye’s, is covered; from 20 on, without strands, it is seen. Nothing is said in between."
    ),
    _take,
    needs=NEEDS_MARKS | NEEDS_PIXELS,
)
