"""Quantities as rules and people write them: parsing, arithmetic, formatting.

Every kind of value that a clause may state is a :class:`Kind`: how it is read from a
rulebook, what a reader of an error is told to write instead, and how it is shown.
Values are plain Python numbers or small tuples, so that limits compare with ``<=``:

=============  =====================================================================
pixels         ``int``
size           ``(width, height)`` of ``int``
bytes          :class:`ByteCount`, an ``int`` that remembers its other reading
aspect         :class:`fractions.Fraction` of width / height
share          ``float``; ``0.62`` is 62 %
length         ``float`` millimetres
angle          ``float`` degrees
=============  =====================================================================
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import field
from fractions import Fraction
from typing import Any

from aptandum.core.figures import (
    grouped,
    show_angle,
    show_aspect,
    show_bytes,
    show_factor,
    show_length,
    show_megapixels,
    show_number,
    show_pixels,
    show_points,
    show_ppi,
    show_share,
    show_size,
)
from aptandum.core.frozen import frozen
from aptandum.core.later import regex
from aptandum.core.numbers import (
    FRACTION_FORM,
    NUMBER_FORM,
    ByteCount,
    Printed,
    QuantityError,
    Side,
    fraction,
    number,
    plain_value,
    with_unit,
)
from aptandum.core.words import listed, say

MM_PER_INCH = 25.4


_BYTE_UNITS: dict[str, tuple[int, int]] = {
    "": (1, 1),
    "b": (1, 1),
    "byte": (1, 1),
    "bytes": (1, 1),
    "k": (1000, 1024),
    "kb": (1000, 1024),
    "mb": (1000**2, 1024**2),
    "gb": (1000**3, 1024**3),
    "kib": (1024, 1024),
    "mib": (1024**2, 1024**2),
    "gib": (1024**3, 1024**3),
}


def parse_bytes(value: object, side: Side = "upper") -> ByteCount:
    """Read a number of bytes; ``side`` says which kind of limit it is to be.

    ``KB`` and ``MB`` alone are ambiguous and read the safe way for that side; ``KiB`` and
    ``kB (1000)`` are exact.

    Raises:
        QuantityError: not a number of bytes; or, for an exact limit, an ambiguous one.
    """
    expected = say('bytes such as "250 KB", "250 kB (1000)", "250 KiB" or 250000')
    exact = plain_value(value)
    if exact is not None:
        if exact < 0 or exact.denominator != 1:
            raise QuantityError(expected)
        return ByteCount(int(exact), text=str(value))
    if not isinstance(value, str):
        raise QuantityError(expected)
    hit = re.fullmatch(rf"\s*({NUMBER_FORM})\s*([A-Za-z]*)\s*(?:\(\s*(1000|1024)\s*\))?\s*", value)
    if not hit or hit.group(2).lower() not in _BYTE_UNITS or not hit.group(1).strip():
        raise QuantityError(expected)
    try:
        count = number(hit.group(1))
    except QuantityError:
        raise QuantityError(expected) from None
    if count < 0:
        raise QuantityError(expected)
    small, large = _BYTE_UNITS[hit.group(2).lower()]
    if hit.group(3):
        power = {"k": 1, "m": 2, "g": 3}.get(hit.group(2)[:1].lower())
        if power is None or "i" in hit.group(2).lower():
            raise QuantityError(expected)
        small = large = int(hit.group(3)) ** power
    low, high = count * small, count * large
    if side == "exact" and low != high:
        raise QuantityError(
            say("an unambiguous number of bytes, since KB may be 1000 or 1024: kB (1000) or KiB")
        )
    if side == "lower":
        return ByteCount(math.ceil(high), math.ceil(low), value.strip())
    return ByteCount(math.floor(low), math.floor(high), value.strip())


def parse_pixels(value: object, side: Side = "exact") -> int:
    """Read a whole number of pixels: ``630``, ``"630 px"``, ``"1 600"``."""
    exact = with_unit(value, {"px": Fraction(1), "pixels": Fraction(1)}, bare=True)
    if exact is None or exact.denominator != 1 or exact < 0:
        raise QuantityError(say('whole pixels such as 630 or "630 px"'))
    return int(exact)


def parse_size(value: object, side: Side = "exact") -> tuple[int, int]:
    """Read ``630 x 840`` (width first) into two whole numbers of pixels, each at least 1."""
    if isinstance(value, str):
        hit = re.fullmatch(
            r"\s*([\d, \u00a0\u202f]+?)\s*(?:px|pixels)?\s*(?:[xX×*]|by)\s*([\d, \u00a0\u202f]+?)"
            r"\s*(?:px|pixels)?\s*",
            value,
        )
        if hit:
            try:
                width, height = int(number(hit.group(1))), int(number(hit.group(2)))
            except QuantityError:
                width = height = 0
            if width >= 1 and height >= 1:
                return width, height
    raise QuantityError(say('a size in pixels, width first, such as "630 x 840"'))


def parse_print_size(value: object, side: Side = "exact") -> tuple[float, float]:
    """Read ``35 x 45 mm`` (width first) into two lengths in millimetres; the unit may stand at both
    of them or at the last."""
    if isinstance(value, str):
        one_side = rf"({FRACTION_FORM}|[\d.,]+)"
        hit = re.fullmatch(
            rf"\s*{one_side}\s*(\D*?)\s*(?:[xX×*]|by)\s*{one_side}\s*(\D+?)\s*", value
        )
        if hit:
            first, one, second, two = hit.groups()
            sides = (
                _millimetres(f"{first} {one or two}"),
                _millimetres(f"{second} {two}"),
            )
            if sides[0] and sides[1] and min(sides[0], sides[1]) > 0:
                return float(sides[0]), float(sides[1])
    raise QuantityError(say('a printed size with its unit, width first, such as "35 x 45 mm"'))


def show_print_size(value: tuple[float, float]) -> str:
    """Two printed lengths, width first: ``35 × 45 mm``."""
    return say("{w} × {h}", w=show_number(value[0], 1), h=show_length(value[1]))


def parse_aspect(value: object, side: Side = "exact") -> Fraction:
    """Read a proportion of width to height: ``"4:5"``, ``"1.91:1"`` or a plain quotient."""
    exact = plain_value(value)
    if exact is None and isinstance(value, str):
        parts = re.split(r"[:/]", value)
        try:
            if len(parts) == 2:
                across, up = number(parts[0]), number(parts[1])
                exact = across / up if up > 0 else None
            elif len(parts) == 1:
                exact = number(parts[0])
        except QuantityError:
            exact = None
    if exact is None or exact <= 0:
        raise QuantityError(say('a proportion of width to height such as "4:5"'))
    return exact


def parse_share(value: object, side: Side = "exact") -> float:
    """Read a share: ``"62 %"`` gives 0.62. A bare number is refused, as 62 and 0.62 both occur."""
    exact = with_unit(value, {"%": Fraction(1, 100)}, bare=False)
    if exact is None:
        raise QuantityError(say('a share with its sign, such as "62 %"'))
    return float(exact)


_LENGTHS = {
    "mm": Fraction(1),
    "cm": Fraction(10),
    "m": Fraction(1000),
    "in": Fraction(254, 10),
    "inch": Fraction(254, 10),
    "inches": Fraction(254, 10),
    '"': Fraction(254, 10),
    "″": Fraction(254, 10),
    "”": Fraction(254, 10),
}
"""Millimetres of each unit of length."""


def _millimetres(value: object) -> Fraction | None:
    """A length with its unit, of which the number may be a fraction (``1 3/8 in``), in millimetres; None
    for anything else."""
    hit = (
        re.fullmatch(rf"\s*({FRACTION_FORM})\s*(\D+?)\s*", value)
        if isinstance(value, str)
        else None
    )
    if hit is None:
        return with_unit(value, _LENGTHS, bare=False)
    unit = _LENGTHS.get(hit.group(2).lower())
    try:
        return None if unit is None else fraction(hit.group(1)) * unit
    except QuantityError:
        return None


def parse_printed_share(value: object, side: Side = "exact") -> float:
    """Read a share of the frame, ``"62 %"``, or a length on the printed picture, ``"32 mm"``, which
    becomes a share once the printed side is known."""
    try:
        return parse_share(value, side)
    except QuantityError:
        pass
    exact = _millimetres(value)
    if exact is None:
        raise QuantityError(
            say('a share with its sign, such as "62 %", or a printed length such as "32 mm"')
        )
    return Printed(float(exact), 0.0)


def show_printed_share(value: float) -> str:
    """A share, and where its printed side is known the length that it comes to; a length of which no
    side is known yet stands by itself."""
    return _printed(value, show_share)


def show_printed_points(value: float) -> str:
    """A difference of shares as :func:`show_printed_share` has shares, in percentage points."""
    return _printed(value, show_points)


def _printed(value: float, show: Callable[[float], str]) -> str:
    if isinstance(value, Printed) and not value.of:
        return show_length(float(value))
    if isinstance(value, Printed):
        length = show_length(round(float(value) * value.of, 1))
        return say("{length} ({share})", length=length, share=show(value))
    return show(value)


def parse_factor(value: object, side: Side = "exact") -> float:
    """Read a factor: ``1``, ``"1.5"``, ``"1.5 x"``, ``"150 %"``."""
    units = {"x": Fraction(1), "×": Fraction(1), "%": Fraction(1, 100)}
    exact = with_unit(value, units, bare=True)
    if exact is None or exact <= 0:
        raise QuantityError(say('a factor such as 1 or "1.5 x"'))
    return float(exact)


def parse_length(value: object, side: Side = "exact") -> float:
    """Read a printed length into millimetres: ``"35 mm"``, ``"3.5 cm"``, ``"4 in"``, ``"1 3/8 in"``."""
    exact = _millimetres(value)
    if exact is None or exact <= 0:
        raise QuantityError(say('a length with its unit, such as "35 mm" or "4 in"'))
    return float(exact)


def parse_angle(value: object, side: Side = "exact") -> float:
    """Read an angle in degrees: ``5``, ``"5°"``, ``"5 deg"``."""
    exact = with_unit(value, {"°": Fraction(1), "deg": Fraction(1)}, bare=True)
    if exact is None or abs(exact) > 360:
        raise QuantityError(say('degrees such as 5 or "5 deg"'))
    return float(exact)


def parse_megapixels(value: object, side: Side = "exact") -> float:
    """Read millions of pixels: ``12`` or ``"12 MP"``."""
    exact = with_unit(value, {"mp": Fraction(1)}, bare=True)
    if exact is None or exact <= 0:
        raise QuantityError(say('megapixels such as 12 or "12 MP"'))
    return float(exact)


def parse_ppi(value: object, side: Side = "exact") -> float:
    """Read pixels per inch: ``300``, ``"300 ppi"``."""
    exact = with_unit(value, {"ppi": Fraction(1), "dpi": Fraction(1)}, bare=True)
    if exact is None or exact <= 0 or exact > 100_000:
        raise QuantityError(say('pixels per inch such as 300 or "300 ppi"'))
    return float(exact)


def parse_count(value: object, side: Side = "exact") -> int:
    """Read a whole number that is not negative."""
    exact = with_unit(value, {"bit": Fraction(1), "bits": Fraction(1)}, bare=True)
    if exact is None or exact.denominator != 1 or exact < 0:
        raise QuantityError(say("a whole number"))
    return int(exact)


def parse_number(value: object, side: Side = "exact") -> float:
    """Read any plain number."""
    exact = with_unit(value, {}, bare=True)
    if exact is None:
        raise QuantityError(say("a number"))
    return float(exact)


def _plain_pattern(value: str) -> bool:
    """Whether a pattern has only what Python's own expressions, which are loaded already, read alike; a bad one
    raises as it does there."""
    plain = re.fullmatch(r"[A-Za-z0-9_. \-\[\]+*?^$]*", value) is not None
    if not plain or any(odd in value for odd in ("[[", "--", "++", "*+", "?+")):
        return False
    re.compile(value)
    return True


def parse_pattern(value: object, side: Side = "exact") -> str:
    """Read a regular expression, kept as text; it is tried out so that a bad one is found now."""
    if isinstance(value, str) and value:
        try:
            if _plain_pattern(value):
                return value
            regex.compile(value)
        except (re.error, RecursionError, OverflowError, ValueError, MemoryError):
            pass
        except regex.error:
            pass
        else:
            return value
    raise QuantityError(say("a regular expression"))


@frozen
class Kind:
    """How one kind of value is read, ordered and shown.

    Attributes:
        name: for tests and error messages.
        parse: text or number to value; second argument says which side of a limit it is.
        show: value to the words of the interface.
        ordered: whether its values lie on one line, one below the other.
        whole: its values are whole numbers, so that ``below`` and ``above`` make sense.
        bounded: whether ``at_least``, ``at_most`` and ``between`` make sense; of a size they hold
            for both of its sides.
        choices: the words allowed, for kinds that are words.
        sided: its values are two sides, each of which is bounded by itself.
        example: what may be written in a rulebook.
        turns: a rule on it may hold either way up.
        apart: how far apart two values lie, to words; where not given, as ``show`` writes a value.
    """

    name: str
    parse: Callable[[object, Side], Any]
    show: Callable[[Any], str] = field(default=str)
    ordered: bool = True
    choices: tuple[str, ...] = ()
    sided: bool = False
    whole: bool = False
    example: str = ""
    turns: bool = False
    apart: Callable[[Any], str] | None = None

    def show_apart(self, value: Any) -> str:
        """A distance between two values, which has no side."""
        return (self.apart or self.show)(value).lstrip("+")

    def beside(self, value: Any, by: int) -> Any:
        """The whole number next to one, so that a bound may leave it out; of a size on both sides."""
        if self.sided:
            return tuple(side + by for side in value)
        if isinstance(value, ByteCount):
            other = None if value.other is None else value.other + by
            return ByteCount(int(value) + by, other, value.text)
        return value + by

    @property
    def bounded(self) -> bool:
        return self.ordered or self.sided

    def above(self, low: Any, high: Any) -> bool:
        """Whether a lower bound lies above an upper one: of a size on either of its sides."""
        if self.sided:
            return any(a > b for a, b in zip(low, high, strict=True))
        return bool(low > high)


NAMED = {
    "embedded": say("embedded"),
    "none": say("none"),
    "present": say("present"),
    "colour": say("colour"),
    "grey": say("grey"),
    "mono": say("mono"),
    "clear": say("clear"),
    "covered": say("covered"),
    "landscape": say("landscape"),
    "upright": say("upright"),
    "square": say("square"),
}
"""Words of rulebooks as people read them."""


def words(*choices: str, shown: dict[str, str] | None = None) -> Kind:
    """A kind whose values are the given words, in any case, as ``shown`` writes them."""
    names = shown or NAMED

    def parse(value: object, side: Side = "exact") -> str:
        if isinstance(value, str) and value.strip().lower() in choices:
            return value.strip().lower()
        raise QuantityError(say("one of {words}", words=listed(choices)))

    said = ", ".join(choices)
    return Kind(
        "word", parse, lambda value: names.get(value, str(value)), False, choices, example=said
    )


PIXELS = Kind("pixels", parse_pixels, show_pixels, whole=True, example="1600 px")


SIZE = Kind(
    "size",
    parse_size,
    show_size,
    ordered=False,
    sided=True,
    whole=True,
    example="630 x 840",
    turns=True,
)


PRINT_SIZE = Kind(
    "print size", parse_print_size, show_print_size, ordered=False, sided=True, turns=True,
    example="35 x 45 mm",
)  # fmt: skip


BYTES = Kind("bytes", parse_bytes, show_bytes, whole=True, example="250 KB")


ASPECT = Kind("aspect", parse_aspect, show_aspect, example="4:5", turns=True)


SHARE = Kind("share", parse_share, show_share, example="62 %", apart=show_points)


PRINTED_SHARE = Kind(
    "share", parse_printed_share, show_printed_share, example="62 %", apart=show_printed_points
)


FACTOR = Kind("factor", parse_factor, show_factor, example="1")


LENGTH = Kind("length", parse_length, show_length, example="35 mm")


ANGLE = Kind("angle", parse_angle, show_angle, example="5 deg")


MEGAPIXELS = Kind("megapixels", parse_megapixels, show_megapixels, example="12 MP")


PPI = Kind("ppi", parse_ppi, show_ppi, example="300 ppi")


COUNT = Kind("count", parse_count, lambda value: grouped(int(value)), whole=True, example="1")


NUMBER = Kind("number", parse_number, lambda value: show_number(value, 2), example="80")


PATTERN = Kind("pattern", parse_pattern, ordered=False, example="[a-z0-9_]+")
