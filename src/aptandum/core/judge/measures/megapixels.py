"""The count of pixels, in millions."""

from fractions import Fraction
from typing import Any

from aptandum.core.judge.measure import Measure, Mend, Miss
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import MEGAPIXELS, show_megapixels
from aptandum.core.rulebook.model import Limit
from aptandum.core.words import say


def _take(reading: Reading) -> Fraction:
    width, height = reading.facts.size
    return Fraction(width * height, 10**6)


def _exact(value: Any) -> Fraction | None:
    return None if value is None else Fraction(str(value))


def allows(limit: Limit, value: Any) -> bool:
    """Compared pixel by pixel: 12 MP are 12 000 000 pixels and not one less."""
    low, high = _exact(limit.at_least), _exact(limit.at_most)
    return (
        (low is None or value >= low)
        and (high is None or value <= high)
        and (not limit.one_of or value in [_exact(one) for one in limit.one_of])
        and value not in [_exact(one) for one in limit.none_of]
    )


def _mend(miss: Miss) -> Mend:
    changes = {"frame.output": None}
    if miss.limit.outside(miss.value) > 0:
        return Mend(
            say("Scale down to {n}", n=show_megapixels(float(miss.limit.nearest(miss.value)))),
            changes,
        )
    return Mend(
        say(
            "{n} are missing: use a larger photo, or keep more of it",
            n=show_megapixels(-miss.limit.outside(miss.value)),
        ),
        {"frame.window": None, "frame.output": None},
    )


MEASURE = Measure(
    "megapixels",
    "Megapixels",
    "pixels",
    MEGAPIXELS,
    "Width times height in millions of pixels, counted exactly.",
    _take,
    allows,
    _mend,
)
