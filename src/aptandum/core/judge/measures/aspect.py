"""The proportion of width to height."""

from fractions import Fraction
from typing import Any

from aptandum.core.arithmetic import fits_aspect
from aptandum.core.brief.limit import Limit
from aptandum.core.judge.framing import mend_frame
from aptandum.core.judge.measure import Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import ASPECT, Kind
from aptandum.core.sizes import binds
from aptandum.core.words import say


class Shape(Fraction):
    """A quotient that remembers the whole numbers it came from, for the rule of rounding."""

    sides: tuple[int, int]

    def __new__(cls, width: int, height: int) -> "Shape":
        made = super().__new__(cls, width, height)
        made.sides = (width, height)
        return made


def _take(reading: Reading) -> Shape:
    return Shape(*reading.facts.size)


def allows(limit: Limit, value: Any) -> bool:
    """Named proportions are met to the nearest pixel of one side; ranges exactly."""
    wide, high = value.sides
    if limit.one_of:
        fits = any(fits_aspect(wide, high, wanted) for wanted in limit.one_of)
        return fits and not any(fits_aspect(wide, high, w) for w in limit.none_of)
    if any(fits_aspect(wide, high, wanted) for wanted in limit.none_of):
        return False
    return Limit(limit.form, limit.at_least, limit.at_most).allows(Fraction(value))


def _outside(limit: Limit, value: Any, kind: Kind) -> str:
    if not limit.one_of:
        return ""
    wanted = limit.nearest(value)
    width, height = value.sides
    if value > wanted:
        off = width - round(height * wanted)
        return say("{n} px too wide", n=off) if off > 0 else ""
    off = height - round(width / wanted)
    return say("{n} px too high", n=off) if off > 0 else ""


def _explain(limit: Limit) -> str:
    if not limit.one_of:
        return say("width over height, both ends included")
    shape = limit.one_of[0]
    if shape == 1:
        return say("width and height are the same")
    return say("wider than high") if shape > 1 else say("higher than wide")


MEASURE = Measure(
    "aspect",
    say("Proportion"),
    "pixels",
    ASPECT,
    say(
        "Width against height. A size in whole pixels fits a named proportion when one side is the "
        "other's exact share, rounded to the nearest pixel."
    ),
    _take,
    allows,
    mend_frame,
    outside=_outside,
    binds=binds.PROPORTION,
    seen=("banner", "strip", "tint"),
    drawn=("width", "height"),
    explain=_explain,
    tells=True,
)
