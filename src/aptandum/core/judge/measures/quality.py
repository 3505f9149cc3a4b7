"""What the pixels themselves are worth: how sharp, and how much is lost at the ends."""

from typing import Any

import cv2
import numpy as np

from aptandum.core.judge.measure import NEEDS_PIXELS, CannotMeasure, Measure, Mend
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import NUMBER, SHARE
from aptandum.core.words import say

_GRAIN = 2.576 / 0.6745
"""Of a normal distribution, the 99th percentile of the absolute values over their median."""


def _sharpness(reading: Reading) -> float:
    look = reading.look()
    if reading.facts.mode == "mono":
        raise CannotMeasure(say("Dots are as sharp as they come: sharpness is not measured."))
    lightness = np.ascontiguousarray(look.lab[..., 0])
    if min(lightness.shape) < 8:
        raise CannotMeasure(say("The picture is too small to tell how sharp it is."))
    detail = np.abs(lightness - cv2.blur(lightness, (3, 3)))[1:-1, 1:-1]
    seen = look.opaque[1:-1, 1:-1]
    if not seen.any():
        raise CannotMeasure(say("Nothing of the picture is opaque."))
    values = detail[seen]
    edges, noise = np.percentile(values, (99.0, 50.0))
    return round(max(0.0, float(edges - _GRAIN * noise)), 2)


def _clipped(reading: Reading) -> float:
    look = reading.look()
    if reading.facts.mode == "mono":
        raise CannotMeasure(say("All dots are at the ends: clipping is not measured."))
    colour, top = look.picture.colour, look.picture.top
    low = (colour <= top // 255).all(axis=-1)
    high = (colour >= top - top // 255).all(axis=-1)
    ends: Any = low | high
    seen = look.opaque
    return round(float(ends[seen].mean()), 5) if seen.any() else 0.0


MEASURES = (
    Measure(
        "sharpness",
        say("Sharpness"),
        "picture",
        NUMBER,
        say(
            "Fine detail at the picture's own size: the 99th percentile of how far L* differs from "
            "the mean of its 3 x 3 neighbourhood, less what grain alone would make of the median. "
            "About 1 is soft, 4 and more crisp."
        ),
        _sharpness,
        station="frame",
        needs=NEEDS_PIXELS,
        seen=("grid", "print"),
        mend=lambda miss: Mend(
            say("Keep more of the photo, so that it is reduced further, or take a sharper one")
        ),
    ),
    Measure(
        "clipped",
        say("Clipped"),
        "picture",
        SHARE,
        say(
            "Share of the pixels in which every channel is at the same end, black or white, to "
            "within 1 of 255: nothing is left to see there."
        ),
        _clipped,
        station="colour",
        needs=NEEDS_PIXELS,
        seen=("projection",),
        mend=lambda miss: Mend(say("Develop the photo again with more room at the ends")),
    ),
)
