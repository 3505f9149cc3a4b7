"""The shoulders: whether the frame shows both, and how level they are, told from the mask of the person."""

from __future__ import annotations

import math
from typing import Any

from aptandum.core.frozen import frozen
from aptandum.core.judge.head_marks import marks_of
from aptandum.core.judge.measure import NEEDS_MARKS, NEEDS_MASK, CannotMeasure, Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.later import np
from aptandum.core.quantity import ANGLE, words
from aptandum.core.words import say

_FROM, _TO = 1.3, 2.2
"""How far beside the neck the shoulders are looked at, in distances of the eyes."""
_NECK = 2.6
"""Width beyond which what lies under the chin is no bare neck: hair, a scarf, hands."""
_SEEN, _GONE = 0.9, 0.5
"""Share of that stretch that the frame must show, and below which a shoulder is cut off."""
_FREE = 0.45
"""Share of pairs, one column on either side, that hair must leave free."""
_OFF = 1.4
"""Degrees by which the slope may be off, of 20 portraits 19 at most (docs/portrait.md)."""


@frozen
class _Sides:
    """The person's outline beside the neck, the left of the picture first, from the neck outwards.

    Attributes:
        inside: which columns lie in the picture, shape (2, n).
        top: the row of the first pixel of the person in each, shape (2, n).
        free: where that is not covered by what hangs down from above, shape (2, n).
        apart: how far the two columns of a pair lie from one another, shape (n,).
    """

    inside: Any
    top: Any
    free: Any
    apart: Any


def _sides(reading: Reading) -> _Sides:
    marks = marks_of(reading, "chin", "eyes")
    cover = reading.look().small[1] > 0.5
    k = cover.shape[1] / reading.facts.size[0]
    marks = marks.placed(0.0, 0.0, k)
    high, wide = cover.shape
    unit = math.dist(marks.left_eye, marks.right_eye)
    chin_x = int(min(max(marks.chin[0], 0), wide - 1))
    neck = None
    for row in range(round(marks.chin[1] + 0.05 * unit), min(high, round(marks.chin[1] + unit))):
        if not cover[row, chin_x]:
            continue
        left, right = chin_x, chin_x
        while left > 0 and cover[row, left - 1]:
            left -= 1
        while right < wide - 1 and cover[row, right + 1]:
            right += 1
        if neck is None or right - left < neck[0]:
            neck = right - left, (left + right) / 2
    if neck is None or neck[0] > _NECK * unit:
        raise CannotMeasure(say("The neck is not seen, so that the shoulders cannot be told."))
    steps = np.arange(_FROM * unit, _TO * unit)
    start = max(0, round(marks.chin[1] - 0.15 * unit))
    inside, top, free = [], [], []
    for way in (-1, 1):
        columns = np.round(neck[1] + way * steps).astype(int)
        seen = cover[start:, np.clip(columns, 0, wide - 1)]
        inside.append((columns >= 0) & (columns < wide))
        top.append(np.where(seen.any(0), seen.argmax(0) + start, high))
        free.append(seen.any(0) & ~seen[0])
    return _Sides(np.array(inside), np.array(top), np.array(free), 2 * steps)


def _seen(reading: Reading) -> str:
    sides = _sides(reading)
    shown = [float((a & (b < reading.look().small[1].shape[0])).mean()) for a, b in zip(sides.inside, sides.top, strict=True)]  # fmt: skip
    if min(shown) >= _SEEN:
        return "seen"
    if min(shown) < _GONE:
        return "cut"
    raise CannotMeasure(
        say("A shoulder ends near the frame: whether it is shown is for you to say.")
    )


def _tilt(reading: Reading) -> float:
    sides = _sides(reading)
    both = (sides.inside & sides.free).all(0)
    if both.mean() < _FREE:
        raise CannotMeasure(
            say("Hair or the frame hides a shoulder, so that their slope cannot be told.")
        )
    rise = (sides.top[1] - sides.top[0])[both]
    return float(np.median(np.degrees(np.arctan2(rise, sides.apart[both]))))


MEASURES = (
    Measure(
        "shoulders",
        say("Shoulders"),
        "person",
        words("seen", "cut", shown={"seen": say("both in the frame"), "cut": say("cut off")}),
        say(
            "Whether the frame shows both shoulders: what lies beside the neck from 1.3 to 2.2 distances of the eyes."
        ),
        _seen,
        needs=NEEDS_MARKS | NEEDS_MASK,
    ),
    Measure(
        "shoulder_tilt",
        say("Shoulders level"),
        "person",
        ANGLE,
        say(
            "The slope of the line across both shoulders, in degrees; the right of the picture lower is above zero. May be "
            "off by 1.4°."
        ),
        _tilt,
        needs=NEEDS_MARKS | NEEDS_MASK,
        error=lambda reading: _OFF,
    ),
)
