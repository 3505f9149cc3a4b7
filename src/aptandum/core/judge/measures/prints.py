"""Printed sides: pixels over the file's own pixels per inch."""

from collections.abc import Callable
from typing import Any

from aptandum.core.brief.limit import Limit
from aptandum.core.figures import show_length, show_ppi
from aptandum.core.judge.measure import CannotMeasure, Measure, Mend, Miss
from aptandum.core.judge.measures.ppi import MEASURE as RESOLUTION
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import LENGTH, MM_PER_INCH, PRINT_SIZE, Kind
from aptandum.core.sizes import binds
from aptandum.core.words import listed, say

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


def _both(reading: Reading) -> tuple[Length, Length]:
    wide, high = reading.facts.size
    try:
        ppi = RESOLUTION.take(reading)
    except CannotMeasure as error:
        raise CannotMeasure(say("{why} It has no printed size until it does.", why=error)) from None
    return Length(wide, ppi), Length(high, ppi)


def _side(pick: Callable[[tuple[Length, Length]], Length]) -> Callable[[Reading], Length]:
    def take(reading: Reading) -> Length:
        return pick(_both(reading))

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


def _of_side(limit: Limit, axis: int) -> Limit:
    """The bounds of one side of a printed size."""

    def side(value: Any) -> Any:
        return None if value is None else value[axis]

    return Limit(limit.form, side(limit.at_least), side(limit.at_most))


def _allows_both(limit: Limit, value: Any) -> bool:
    def near(wanted: Any) -> bool:
        return all(
            allows(Limit(("exactly",), one_of=(one,)), side)
            for one, side in zip(wanted, value, strict=True)
        )

    inside = all(allows(_of_side(limit, axis), value[axis]) for axis in (0, 1))
    wanted = not limit.one_of or any(near(one) for one in limit.one_of)
    return inside and wanted and not any(near(one) for one in limit.none_of)


def _mend(miss: Miss) -> Mend:
    wanted = miss.limit.nearest(miss.value)
    pixels = round(float(miss.value) / miss.value.pixel)
    words = say(
        "Print at {length}: with these pixels that is {ppi}",
        length=show_length(wanted),
        ppi=show_ppi(round(pixels / wanted * MM_PER_INCH)),
    )
    return Mend(words, {"file.ppi": None, "frame.output": None})


def _mend_both(miss: Miss) -> Mend:
    said = miss.limit.says(PRINT_SIZE)
    words = say("State the pixels per inch at which it prints {size}", size=said)
    return Mend(words, {"file.ppi": None, "frame.output": None})


def _outside(limit: Limit, value: Any, kind: Any) -> str:
    off = limit.outside(value)
    amount = show_length(abs(off))
    return say("{n} too long", n=amount) if off > 0 else say("{n} too short", n=amount)


def _outside_both(limit: Limit, value: Any, kind: Kind) -> str:
    if limit.none_of:
        return ""
    said = []
    wanted = min(
        limit.one_of,
        key=lambda one: sum(abs(a - b) for a, b in zip(one, value, strict=True)),
        default=None,
    )
    for axis, less, more in (
        (0, say("{n} too narrow"), say("{n} too wide")),
        (1, say("{n} too low"), say("{n} too high")),
    ):
        face = _of_side(limit, axis)
        if wanted is not None:
            face = Limit(("exactly",), one_of=(wanted[axis],))
        if not allows(face, value[axis]):
            off = face.outside(value[axis])
            said.append((less if off < 0 else more).format(n=show_length(round(abs(off), 1))))
    return listed(said, "and")


def _one(
    name: str,
    title: str,
    help_: str,
    pick: Callable[[tuple[Length, Length]], Length],
    bind: binds.Printed,
) -> Measure:
    return Measure(
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
        binds=bind,
        seen=("print",),
        explain=lambda limit: say("pixels over pixels per inch"),
        tells=name == "print_width",
    )


MEASURES = (
    _one(
        "print_width",
        say("Printed width"),
        say(
            "Pixels across over the pixels per inch that the file states. An exact length is "
            "met to the nearest pixel."
        ),
        lambda sides: sides[0],
        binds.PRINTED_WIDTH,
    ),
    _one(
        "print_height",
        say("Printed height"),
        say(
            "Pixels up over the pixels per inch that the file states. An exact length is met to "
            "the nearest pixel."
        ),
        lambda sides: sides[1],
        binds.PRINTED_HEIGHT,
    ),
    _one(
        "print_longest",
        say("Printed longest side"),
        say("The longer printed side, whichever way up the picture is."),
        lambda sides: max(sides),
        binds.PRINTED_LONGEST,
    ),
    _one(
        "print_shortest",
        say("Printed shortest side"),
        say("The shorter printed side, whichever way up the picture is."),
        lambda sides: min(sides),
        binds.PRINTED_SHORTEST,
    ),
    Measure(
        "print_size",
        say("Printed size"),
        "print",
        PRINT_SIZE,
        say(
            "Width and height in pixels over the pixels per inch that the file states. An exact "
            "length is met to the nearest pixel."
        ),
        _both,
        _allows_both,
        _mend_both,
        station="file",
        outside=_outside_both,
        binds=binds.PRINTED_BOTH,
        seen=("print",),
        explain=lambda limit: say("pixels over pixels per inch, width first"),
        tells=True,
    ),
)
