"""A shadow on the backdrop: how much darker a part of it is than most of it."""

from __future__ import annotations

from aptandum.core.judge.face_region import smooth
from aptandum.core.judge.measure import NEEDS_MASK, CannotMeasure, Measure
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.judge.reading import Reading
from aptandum.core.later import cv2, np
from aptandum.core.quantity import NUMBER
from aptandum.core.words import say

_LEAST = 0.02
"""Share of the picture that must be backdrop alone."""


def shadow_on(look: PixelStatistics) -> float:
    """How much darker the darkest fiftieth of a backdrop is than what three quarters of it stay below, in L*.

    Raises:
        CannotMeasure: hardly any backdrop is seen.
        NoMask: nothing stands out from one.
    """
    behind = look.behind
    # The subject's own rim, which optics and coding smear, is no shadow.
    away = cv2.erode(behind.astype(np.uint8), np.ones((5, 5), np.uint8), borderValue=1) > 0
    if float(away.mean()) < _LEAST:
        raise CannotMeasure(say("No backdrop is seen in this picture."))
    lab = np.asarray(look.small[0], np.float32)
    # Only backdrop counts in the mean about each pixel.
    held = np.where(away, lab[..., 0], 0).astype(np.float32)[..., None]
    light = smooth(held, 0.012) / np.maximum(
        smooth(away.astype(np.float32)[..., None], 0.012), 1e-3
    )
    seen = light[away]
    return round(float(np.percentile(seen, 75) - np.percentile(seen, 2)), 1)


def _take(reading: Reading) -> float:
    return shadow_on(reading.look())


MEASURE = Measure(
    "backdrop_shadow",
    say("Shadow on the backdrop"),
    "backdrop",
    NUMBER,
    say(
        "How much darker (CIELAB L*) the darkest fiftieth of the backdrop is than what three quarters of it stay below: "
        "0 is even, a strong shadow 10 and more."
    ),
    _take,
    needs=NEEDS_MASK,
)
