"""The colour of the light on a face, told by what should be without colour: the whites of the eyes, and a grey or white
backdrop."""

from __future__ import annotations

import math
from typing import Any

from aptandum.core.judge.eye_region import EyeRegion, eyes_of
from aptandum.core.judge.measure import (
    NEEDS_MARKS,
    NEEDS_PIXELS,
    CannotMeasure,
    Measure,
    Mend,
    Miss,
)
from aptandum.core.judge.measures.eyes_and_mouth import CLOSED, face_meant
from aptandum.core.judge.reading import Reading
from aptandum.core.later import np
from aptandum.core.quantity import NUMBER
from aptandum.core.words import say

_WHITES = (5.0, 8.0)
"""a* and b* of the whites of eyes at L* 60 in light without colour: they are a little warm by themselves."""
_APART = 8.0
"""How far the two may be from one another for both to be believed."""
_NEUTRAL = 20.0
"""Chroma beyond which a backdrop is painted rather than tinted by light."""
_OFF, _OFF_ALONE = 3.0, 8.5
"""By how much the cast is off with a backdrop that says the same, and by the whites alone."""
_LIGHT = 15.0
_PER_STOP = 18.0
"""b* that a stop of red against blue makes of a middle grey."""


def _cast(reading: Reading) -> tuple[float, float, float]:
    """a* and b* of the light, and by how much they may be off.

    Raises:
        CannotMeasure: nothing tells it, or the two tell it differently.
    """
    eyes, face = eyes_of(reading), face_meant(reading)
    if reading.look().picture.colour.shape[2] < 3:
        return 0.0, 0.0, 0.0
    seen = [_white(eyes, x) for x, wide in zip((-0.5, 0.5), face.eyes_open, strict=True) if wide > CLOSED]  # fmt: skip
    whites = max(seen, key=lambda lab: lab[0]) if seen else None
    behind = _behind(eyes, reading)
    told = None
    if whites is not None and whites[0] > _LIGHT:
        k = min(1.0, float(whites[0]) / 60)
        told = np.array([whites[1] - _WHITES[0] * k, whites[2] - _WHITES[1] * k])
    if told is not None and behind is not None and math.dist(told, behind) <= _APART:
        both = (told + 3 * behind) / 4  # a backdrop is many pixels, the whites are few
        return float(both[0]), float(both[1]), _OFF
    if told is not None and behind is None:
        return float(told[0]), float(told[1]), _OFF_ALONE
    raise CannotMeasure(
        say(
            "Nothing in the picture tells the colour of the light for sure: that is for you to say."
        )
    )


def _white(eyes: EyeRegion, x: float) -> Any:
    """The mean L*, a*, b* of the whitest part of an eye."""
    part = eyes.part(x - 0.2, x + 0.2, -0.07, 0.07).reshape(-1, 3)
    white = part[:, 0] - np.hypot(part[:, 1], part[:, 2])
    return part[white >= np.percentile(white, 85)].mean(0)


def _behind(eyes: EyeRegion, reading: Reading) -> Any:
    """a* and b* of what lies beside the head, where that is even and nearly without colour; else ``None``."""
    lab, marks = reading.look().lab, eyes.marks
    high, wide = lab.shape[:2]
    aside = round(1.9 * eyes.fine)
    top = max(0, round(marks.eyes[1] - 1.6 * eyes.fine))
    low = max(top + 1, round(marks.eyes[1]))
    parts = [
        lab[top:low, : max(0, round(marks.eyes[0]) - aside)].reshape(-1, 3),
        lab[top:low, min(wide, round(marks.eyes[0]) + aside) :].reshape(-1, 3),
    ]
    seen = np.concatenate(parts)[::7]
    if len(seen) < 50 or high < 1:
        return None
    middle = np.median(seen, axis=0)
    even = np.median(np.abs(seen[:, 1:] - middle[1:]))
    if even > 3 or float(np.hypot(*middle[1:])) > _NEUTRAL or middle[0] < _LIGHT:
        return None
    return middle[1:].astype(float)


def _take(reading: Reading) -> float:
    a, b, _off = _cast(reading)
    return round(math.hypot(a, b), 1)


def _error(reading: Reading) -> float:
    return _cast(reading)[2]


def _mend(miss: Miss) -> Mend | None:
    """The whole picture made warmer or colder by one number, where the cast lies that way; tried before it is offered."""
    allows = miss.brief.allows
    if allows is not None and "light" not in allows:
        return None
    _a, b, _off = _cast(miss.reading)
    stops = round(-b / _PER_STOP, 1)
    if not stops:
        return None
    others = tuple(_offer(round(stops * k, 1)) for k in (0.8, 1.2, 0.6, 1.4) if round(stops * k, 1))
    first = _offer(stops)
    return Mend(first.words, first.changes, others)


def _offer(stops: float) -> Mend:
    warmer = say("Make the whole picture warmer by {n} stops", n=abs(stops))
    colder = say("Make the whole picture colder by {n} stops", n=abs(stops))
    return Mend(warmer if stops > 0 else colder, {"colour.warmth": str(stops)})


MEASURE = Measure(
    "face_colour",
    say("Colour of the light"),
    "person",
    NUMBER,
    say(
        "How far what should be without colour is from that (chroma, CIELAB): the whites of the eyes, and a grey or white "
        "backdrop beside the head; 0 is none, 10 is plainly seen. Where the two differ nothing is said."
    ),
    _take,
    needs=NEEDS_MARKS | NEEDS_PIXELS,
    error=_error,
    mend=_mend,
    station="colour",
)
