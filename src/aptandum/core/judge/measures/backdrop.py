"""What is behind the person or thing: how light, how plain, and how well they part."""

from __future__ import annotations

from collections.abc import Callable

from aptandum.core.figures import show_number
from aptandum.core.judge.measure import NEEDS_MASK, CannotMeasure, Changes, Measure, Mend, Miss
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.judge.reading import Reading
from aptandum.core.later import np
from aptandum.core.quantity import NUMBER
from aptandum.core.words import say

_LEAST = 0.002  # share of the picture that must be backdrop for it to be judged


def _seen(reading: Reading) -> PixelStatistics:
    look = reading.look()
    if float(look.behind.mean()) < _LEAST:
        raise CannotMeasure(say("No backdrop is seen in this picture."))
    return look


def _lightness(reading: Reading) -> float:
    return round(float(_seen(reading).middle[0]), 2)


def _plainness(reading: Reading) -> float:
    look = _seen(reading)
    return round(float(np.percentile(look.spread[look.behind], 95)), 2)


def _contrast(reading: Reading) -> float:
    rim, apart = _seen(reading).edge
    if rim.sum() < 8:
        raise CannotMeasure(say("No edge between subject and backdrop is seen."))
    return round(float(np.median(apart[rim])), 2)


def _altering(words: Callable[[Miss], str], changes: Callable[[Miss], Changes | None]):  # type: ignore[no-untyped-def]
    """A mend by working on the backdrop; words alone where the brief does not permit that."""

    def mend(miss: Miss) -> Mend:
        if not miss.brief.permits("backdrop"):
            return Mend(say("The brief does not permit altering the backdrop: take another photo"))
        return Mend(words(miss), changes(miss))

    return mend


def _aim(miss: Miss) -> float:
    """A lightness a little inside the limit."""
    limit = miss.limit
    if limit.one_of:
        return float(limit.nearest(miss.value))
    low = float(limit.at_least) if limit.at_least is not None else 0.0
    high = float(limit.at_most) if limit.at_most is not None else 100.0
    inside = low + 1 if miss.value < low else high - 1
    return min(max(inside, low), high)


MEASURES = (
    Measure(
        "backdrop_lightness",
        say("Lightness"),
        "backdrop",
        NUMBER,
        say(
            "Median L* (CIELAB, D50) of what is behind the person or thing: 0 is black, 100 white."
        ),
        _lightness,
        station="finish",
        needs=NEEDS_MASK,
        finish="backdrop",
        drawn=("lightness",),
        seen=("grid",),
        mend=_altering(
            lambda miss: say("Bring the backdrop to L* {n}", n=show_number(_aim(miss), 1)),
            lambda miss: {"finish.backdrop.lightness": str(_aim(miss))},
        ),
    ),
    Measure(
        "backdrop_plainness",
        say("Plainness"),
        "backdrop",
        NUMBER,
        say(
            "How far 95 % of the backdrop keep to its middle colour, as CIEDE2000: 0 is one colour, "
            "about 5 a plain wall with soft shadows."
        ),
        _plainness,
        station="finish",
        needs=NEEDS_MASK,
        finish="backdrop",
        drawn=("spread",),
        seen=("grid",),
        mend=_altering(
            lambda miss: say("Even the backdrop out"),
            lambda miss: {"finish.backdrop.even": "100"},
        ),
    ),
    Measure(
        "backdrop_contrast",
        say("Contrast"),
        "backdrop",
        NUMBER,
        say(
            "Median CIEDE2000 between the bands on both sides of the subject's edge (each 0.75 % of "
            "the height wide): how well the subject parts from its backdrop."
        ),
        _contrast,
        station="finish",
        needs=NEEDS_MASK,
        finish="backdrop",
        drawn=("edge",),
        mend=lambda miss: Mend(
            say("A lighter or darker backdrop would part them")
            if miss.brief.permits("backdrop")
            else say("The brief does not permit altering the backdrop: take another photo")
        ),
    ),
)
