"""Glasses: whether they are worn, whether light is thrown back by them, whether a frame lies across an eye.

Told from lines of a frame in the skin: its lower rim beneath an eye, where skin alone has no narrow line, and a rim beside
an eye at its own height, where a frame that sits as it should has none. Limits were chosen on the first fifty of the
portraits of tools/portrait_truth.py; docs/portrait.md has what came of the others.
"""

from __future__ import annotations

from aptandum.core.judge.eye_region import EyeRegion, eyes_of, thrown_back
from aptandum.core.judge.measure import NEEDS_MARKS, NEEDS_PIXELS, CannotMeasure, Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.photo.rims import BENEATH, FINE, NO_RIM, RIM, line, rim
from aptandum.core.quantity import words
from aptandum.core.words import say

_DARK = 12.0
"""Lightness of the skin below which a thin dark frame may not be seen."""
_CLEAR, _ACROSS = 8.0, 12.0
"""The same beside an eye, at its height."""
_NO_GLARE, _GLARE = 0.015, 0.11
"""Share of what lies about an eye that is lighter than the skin's lightest, and has lost its colour."""


def _rim(eyes: EyeRegion) -> float:
    """The lower rim: the strongest line beneath either eye."""
    half, start, end = BENEATH
    left, right = (eyes.part(x - half, x + half, start, end) for x in (-0.5, 0.5))
    return rim((left, right))


def worn(eyes: EyeRegion) -> bool:
    """Whether glasses are worn.

    Raises:
        CannotMeasure: it cannot be told.
    """
    seen = _rim(eyes)
    hidden = seen <= NO_RIM and (
        eyes.fine < FINE or eyes.skin[0] < _DARK or thrown_back(eyes) >= _GLARE
    )
    if NO_RIM < seen < RIM or hidden:
        raise CannotMeasure(
            say("Whether glasses are worn cannot be told here: that is for you to say.")
        )
    return seen >= RIM


def _glasses(reading: Reading) -> str:
    return "worn" if worn(eyes_of(reading, sure=False)) else "none"


def _glare(reading: Reading) -> str:
    return glare(eyes_of(reading, sure=False))


def glare(eyes: EyeRegion) -> str:
    """``seen`` or ``none``: light that is thrown back by glasses.

    Raises:
        CannotMeasure: it cannot be told.
    """
    share = thrown_back(eyes)
    if share <= _NO_GLARE:
        return "none"
    if share < _GLARE or not worn(eyes):
        raise CannotMeasure(
            say("Something bright lies before the eyes: whether it is glare is for you to say.")
        )
    return "seen"


def _frames(reading: Reading) -> str:
    return frames(eyes_of(reading, sure=False))


def frames(eyes: EyeRegion) -> str:
    """``seen`` or ``none``: a frame that lies across an eye.

    Raises:
        CannotMeasure: it cannot be told.
    """
    if not worn(eyes):
        return "none"
    across = max(_beside(eyes, x) for x in (-0.5, 0.5))
    if _CLEAR < across < _ACROSS:
        raise CannotMeasure(
            say("Whether the frame lies across an eye cannot be told: that is for you to say.")
        )
    return "seen" if across >= _ACROSS else "none"


def _beside(eyes: EyeRegion, x: float) -> float:
    """The weaker of the lines on either side of an eye at its own height: a frame across it has both."""
    found = []
    for left in (x - 0.34, x + 0.25):
        strong, row = line(eyes.part(left, left + 0.09, -0.24, 0.24), 8)
        found.append(strong if abs(row / 100 - 0.24) < 0.1 else 0.0)
    return min(found)


_NEEDS = NEEDS_MARKS | NEEDS_PIXELS
MEASURES = (
    Measure(
        "glasses",
        say("Glasses"),
        "person",
        words("none", "worn", shown={"none": say("none"), "worn": say("worn")}),
        say(
            "Whether a rim is seen beneath an eye: a narrow line that differs from the skin by 12 (CIELAB) or more, and none "
            "up to 5.5; nothing is said in between. Glasses without rims are not seen."
        ),
        _glasses,
        needs=_NEEDS,
    ),
    Measure(
        "glasses_glare",
        say("Glare on glasses"),
        "person",
        words("none", "seen", shown={"none": say("none"), "seen": say("seen")}),
        say(
            "The share of what lies about an eye that is lighter than the skin’s lightest and pale: glare from 11 %, none "
            "up to 1.5 %; nothing is said in between."
        ),
        _glare,
        needs=_NEEDS,
    ),
    Measure(
        "frames_over_eyes",
        say("Frame across an eye"),
        "person",
        words("none", "seen", shown={"none": say("none"), "seen": say("seen")}),
        say(
            "Whether a rim is seen on both sides of an eye at its own height: 12 L* and more, and none up to 8; nothing "
            "is said in between."
        ),
        _frames,
        needs=_NEEDS,
    ),
)
