"""Where the eyes look: coarse, for an iris is a few pixels wide; said only where both eyes say the same."""

from __future__ import annotations

from typing import Any

from aptandum.core.judge.eye_region import EyeRegion, eyes_of, thrown_back
from aptandum.core.judge.measure import NEEDS_MARKS, NEEDS_PIXELS, CannotMeasure, Measure
from aptandum.core.judge.measures.eyes_and_mouth import OPEN, face_meant
from aptandum.core.judge.reading import Reading
from aptandum.core.later import cv2, np
from aptandum.core.quantity import words
from aptandum.core.words import say

_AHEAD, _AWAY = 0.05, 0.09
"""How far an iris lies from the middle of its eye, in distances of the eyes: up to which it looks ahead (15° at most),
and from which away (20° and more)."""
_CONTRAST = 15.0
"""L* by which what flanks an iris must be lighter."""
_BRIGHT = 0.015
"""Share about the eyes that throws light back, from which irises may be hidden by it."""
_WIDE = 0.07
"""Half the width of an iris."""


def _take(reading: Reading) -> str:
    eyes, face = eyes_of(reading), face_meant(reading)
    if min(face.eyes_open) < OPEN:
        raise CannotMeasure(say("The eyes are not open wide enough to tell where they look."))
    found = [_iris(eyes, x) for x in (-0.5, 0.5)]
    if min(strong for _at, strong in found) >= _CONTRAST:
        one, other = (at for at, _strong in found)
        if max(abs(one), abs(other)) <= _AHEAD:
            return "ahead"
        if one * other > 0 and min(abs(one), abs(other)) >= _AWAY and thrown_back(eyes) < _BRIGHT:
            return "away"
    raise CannotMeasure(say("Where the eyes look cannot be told for sure: that is for you to say."))


def _iris(eyes: EyeRegion, x: float) -> tuple[float, float]:
    """Where the dark of an iris fits best, from the middle of its eye, and how much lighter its flanks are."""
    part: Any = eyes.part(x - 0.27, x + 0.27, -0.05, 0.06)
    white = np.ascontiguousarray(part[..., 0] - 0.5 * np.hypot(part[..., 1], part[..., 2]))
    columns = np.percentile(cv2.GaussianBlur(white, (0, 0), 1.0), 70, axis=0)
    at = (np.arange(len(columns)) + 0.5) / 100 - 0.27
    best = (-np.inf, 0.0)
    for middle in np.arange(-0.13, 0.1301, 0.01):
        off = at - middle
        inside = float(columns[np.abs(off) < _WIDE].mean())
        flanks = [
            float(columns[(off * way > _WIDE + 0.015) & (off * way <= 0.15)].mean())
            for way in (-1, 1)
        ]
        best = max(best, (max(flanks) - inside, float(middle)))
    return best[1], best[0]


MEASURE = Measure(
    "gaze",
    say("Gaze"),
    "person",
    words("ahead", "away", shown={"ahead": say("ahead"), "away": say("away")}),
    say(
        "Where the irises lie in both eyes: ahead within about 15°, away from about 20° on; where the two differ, or the "
        "irises do not stand out, nothing is said."
    ),
    _take,
    needs=NEEDS_MARKS | NEEDS_PIXELS,
)
