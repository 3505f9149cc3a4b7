"""Glasses: whether they are worn, whether light is thrown back by them, whether a frame lies across an eye.

Told from lines of a frame in the skin: its lower rim beneath an eye, where skin alone has no narrow line, and a rim beside
an eye at its own height, where a frame that sits as it should has none. Limits were chosen on the first fifty of the
portraits of tools/portrait_truth.py; docs/portrait.md has what came of the others.
"""

from __future__ import annotations

from typing import Any

from aptandum.core.judge.eye_region import EyeRegion, eyes_of, thrown_back
from aptandum.core.judge.measure import NEEDS_MARKS, NEEDS_PIXELS, CannotMeasure, Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.later import cv2, np
from aptandum.core.quantity import words
from aptandum.core.words import say

_FINE, _DARK = 40.0, 12.0
"""Pixels between the eyes, and lightness of the skin, below which a thin dark frame may not be seen."""
_NO_RIM, _RIM = 5.5, 12.0
"""Colour difference (CIELAB, CIE 1976) of a line to the skin on both sides of it: up to which it is none, and from which
a rim."""
_CLEAR, _ACROSS = 8.0, 12.0
"""The same beside an eye, at its height."""
_NO_GLARE, _GLARE = 0.015, 0.11
"""Share of what lies about an eye that is lighter than the skin's lightest, and has lost its colour."""
_SMOOTH, _ALIKE = 1.2, 0.7


def _line(part: Any, reach: int) -> tuple[float, int]:
    """How much the strongest narrow line along a part's rows differs in colour from both sides of it, ``reach`` rows away,
    and in which row it lies."""
    rows = np.median(cv2.GaussianBlur(np.ascontiguousarray(part), (0, 0), _SMOOTH), axis=1)
    over, under = (rows[reach:-reach] - far for far in (rows[: -2 * reach], rows[2 * reach :]))
    far = np.linalg.norm(over, axis=1), np.linalg.norm(under, axis=1)
    # A line differs from both sides the same way; an edge differs from one alone.
    same = (over * under).sum(1) > _ALIKE * far[0] * far[1]
    strong = np.where(same, np.minimum(*far), 0.0)
    best = int(strong.argmax())
    return float(strong[best]), best + reach


def _rim(eyes: EyeRegion) -> float:
    """The lower rim: the strongest line beneath either eye."""
    return max(_line(eyes.part(x - 0.15, x + 0.15, 0.16, 0.75), 7)[0] for x in (-0.5, 0.5))


def worn(eyes: EyeRegion) -> bool:
    """Whether glasses are worn.

    Raises:
        CannotMeasure: it cannot be told.
    """
    rim = _rim(eyes)
    hidden = rim <= _NO_RIM and (
        eyes.fine < _FINE or eyes.skin[0] < _DARK or thrown_back(eyes) >= _GLARE
    )
    if _NO_RIM < rim < _RIM or hidden:
        raise CannotMeasure(
            say("Whether glasses are worn cannot be told here: that is for you to say.")
        )
    return rim >= _RIM


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
        strong, row = _line(eyes.part(left, left + 0.09, -0.24, 0.24), 8)
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
