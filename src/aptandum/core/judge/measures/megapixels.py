"""The count of pixels, in millions."""

from fractions import Fraction
from typing import Any

from aptandum.core.brief.limit import Limit
from aptandum.core.judge.framing import mend_frame
from aptandum.core.judge.measure import Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import MEGAPIXELS
from aptandum.core.sizes import binds
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


MEASURE = Measure(
    "megapixels",
    say("Megapixels"),
    "pixels",
    MEGAPIXELS,
    say("Width times height in millions of pixels, counted exactly."),
    _take,
    allows,
    mend_frame,
    binds=binds.MEGAPIXELS,
)
