"""How much the picture was scaled up from the photo's own pixels."""

from math import ceil
from typing import Any

from aptandum.core.brief.limit import Limit
from aptandum.core.figures import grouped
from aptandum.core.judge.framing import mend_frame
from aptandum.core.judge.measure import CannotMeasure, Measure, Mend, Miss
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import FACTOR
from aptandum.core.sizes import binds
from aptandum.core.sizes.conflicts import possible
from aptandum.core.words import say

_SLACK = 1e-6


def _take(reading: Reading) -> float:
    if reading.enlargement is None:
        raise CannotMeasure(say("A file alone cannot tell how much it was enlarged."))
    return reading.enlargement


def allows(limit: Limit, value: Any) -> bool:
    """``at_most 1`` allows any reduction; ``exactly 1`` means the photo's own pixels."""
    if limit.exact and limit.one_of:
        return abs(float(value) - float(limit.one_of[0])) <= _SLACK
    low, high = limit.at_least, limit.at_most
    if low is not None and value < low - _SLACK:
        return False
    if high is not None and value > high + _SLACK:
        return False
    return not limit.one_of or any(abs(value - one) <= _SLACK for one in limit.one_of)


def _mend(miss: Miss) -> Mend | None:
    if miss.limit.at_most is None or miss.value <= miss.limit.at_most:
        return None
    source = miss.reading.source
    if source is not None and not possible(miss.brief, source):
        return mend_frame(miss)
    width = miss.reading.facts.size[0]
    lacking = ceil(width / miss.limit.at_most) - round(width / miss.value)
    words = say("Keep {n} px more of the photo's width, or use a larger photo", n=grouped(lacking))
    return Mend(words, {"frame.window": None, "frame.output": None})


def _explain(limit: Limit) -> str:
    if limit.exact:
        return say("the photo's own pixels, neither enlarged nor reduced")
    most = max(limit.one_of, default=limit.at_most)
    return say("making it smaller is always allowed") if most is not None else ""


MEASURE = Measure(
    "enlargement",
    say("Enlargement"),
    "pixels",
    FACTOR,
    say(
        "Output pixels for each pixel of the photo, the same across and up; 1 or less means that "
        "nothing was enlarged."
    ),
    _take,
    allows,
    _mend,
    binds=binds.SCALE,
    drawn=("scale",),
    explain=_explain,
)
