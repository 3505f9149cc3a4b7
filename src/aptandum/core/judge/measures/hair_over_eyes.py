"""Hair before an eye: an eye that is covered has lost its own contrast, and strands run down across it."""

from __future__ import annotations

from aptandum.core.judge.eye_region import EyeRegion, eyes_of
from aptandum.core.judge.measure import NEEDS_MARKS, NEEDS_PIXELS, CannotMeasure, Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.photo.eye_cover import HALF, covered
from aptandum.core.quantity import words
from aptandum.core.words import say


def _take(reading: Reading) -> str:
    return hair(eyes_of(reading, sure=False))


def hair(eyes: EyeRegion) -> str:
    """``seen`` or ``none``: hair that lies before an eye.

    Raises:
        CannotMeasure: it cannot be told.
    """
    wide, high = HALF
    parts = [eyes.part(x - wide, x + wide, -high, high)[..., 0] for x in (-0.5, 0.5)]
    found = covered((parts[0], parts[1]))
    if found:
        return "seen"
    if found is None:
        raise CannotMeasure(
            say("Whether hair lies before an eye cannot be told: that is for you to say.")
        )
    return "none"


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
