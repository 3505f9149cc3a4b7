"""Printed width and height: pixels over the file's own pixels per inch."""

from collections.abc import Callable
from typing import Any

from aptandum.core.brief.model import Limit
from aptandum.core.figures import show_length, show_ppi
from aptandum.core.judge.measure import CannotMeasure, Measure, Mend, Miss
from aptandum.core.judge.measures.ppi import MEASURE as RESOLUTION
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import LENGTH, MM_PER_INCH
from aptandum.core.sizes import binds
from aptandum.core.words import say

_STEP = 0.013  # ppi: half of what PNG can tell apart


class Length(float):
    """Millimetres that remember their pixel and how finely the file tells its resolution."""

    pixel: float
    grain: float

    def __new__(cls, pixels: int, ppi: float) -> "Length":
        made = super().__new__(cls, pixels / ppi * MM_PER_INCH)
        made.pixel = MM_PER_INCH / ppi
        made.grain = float(made) * _STEP / ppi
        return made


def _side(pick: int) -> Callable[[Reading], Length]:
    def take(reading: Reading) -> Length:
        size = reading.facts.size
        try:
            ppi = RESOLUTION.take(reading)
        except CannotMeasure as error:
            raise CannotMeasure(
                say("{why} It has no printed size until it does.", why=error)
            ) from None
        return Length(size[pick], ppi)

    return take


def allows(limit: Limit, value: Any) -> bool:
    """Bounds hold as they stand; an exact length is met to the nearest pixel."""
    if limit.one_of:
        slack = value.pixel / 2 + value.grain
        return any(abs(value - one) <= slack for one in limit.one_of)
    low, high = limit.at_least, limit.at_most
    inside = (low is None or value >= low - value.grain) and (
        high is None or value <= high + value.grain
    )
    return inside and not any(abs(value - one) <= value.pixel / 2 for one in limit.none_of)


def _mend(miss: Miss) -> Mend:
    wanted = miss.limit.nearest(miss.value)
    pixels = round(float(miss.value) / miss.value.pixel)
    words = say(
        "Print at {length}: with these pixels that is {ppi}",
        length=show_length(wanted),
        ppi=show_ppi(round(pixels / wanted * MM_PER_INCH)),
    )
    return Mend(words, {"file.ppi": None, "frame.output": None})


def _outside(limit: Limit, value: Any, kind: Any) -> str:
    off = limit.outside(value)
    amount = show_length(abs(off))
    return say("{n} too long", n=amount) if off > 0 else say("{n} too short", n=amount)


MEASURES = tuple(
    Measure(
        name,
        title,
        "print",
        LENGTH,
        help_,
        _side(pick),
        allows,
        _mend,
        station="file",
        outside=_outside,
        binds=binds.PRINTED_HEIGHT if pick else binds.PRINTED_WIDTH,
        seen=("print",),
        explain=lambda limit: say("pixels over pixels per inch"),
        tells=not pick,
    )
    for name, title, help_, pick in (
        (
            "print_width",
            say("Printed width"),
            say(
                "Pixels across over the pixels per inch that the file states. An exact length is "
                "met to the nearest pixel."
            ),
            0,
        ),
        (
            "print_height",
            say("Printed height"),
            say(
                "Pixels up over the pixels per inch that the file states. An exact length is met to "
                "the nearest pixel."
            ),
            1,
        ),
    )
)
