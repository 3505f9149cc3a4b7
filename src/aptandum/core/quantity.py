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
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any, Literal

import regex

from aptandum.core.errors import AptandumError
from aptandum.core.words import NBSP, listed, say

Side = Literal["lower", "upper", "exact"]

MM_PER_INCH = 25.4
_NUMBER = r"[-+−]?\s*(?:\d+(?:[ \u00a0\u202f]\d{3})+|\d+)?(?:\.\d+)?"
# Far beyond anything a picture can have; keeps every later multiplication small.
_LARGEST = 10**15


class QuantityError(AptandumError, ValueError):
    """A text that is not the quantity asked for; the message says what was expected."""


class ByteCount(int):
    """A number of bytes, read the safe way.

    ``250 KB`` may mean 250 000 or 256 000 bytes. As an upper limit the smaller reading is
    kept, as a lower limit the larger one; :attr:`other` holds the reading not taken, or
    ``None`` where the text was unambiguous.
    """

    other: int | None
    text: str

    def __new__(cls, value: int, other: int | None = None, text: str = "") -> ByteCount:
        made = super().__new__(cls, value)
        made.other = other if other != value else None
        made.text = text
        return made

    def __reduce__(self) -> tuple[Any, ...]:
        return (ByteCount, (int(self), self.other, self.text))


def number(text: str) -> Fraction:
    """Read a plain decimal number exactly; digits may be grouped by spaces.

    Raises:
        QuantityError: the text is not a number, or is beyond all reason.
    """
    plain = re.sub(r"[ \u00a0\u202f]", "", text.strip()).replace("−", "-")
    if not re.fullmatch(r"[-+]?(\d+(\.\d*)?|\.\d+)", plain) or len(plain) > 40:
        raise QuantityError(say("a number"))
    value = Fraction(plain)
    if abs(value) > _LARGEST:
        raise QuantityError(say("a number of a sensible size"))
    return value


def _plain(value: object) -> Fraction | None:
    """The exact value of a TOML number, or None for anything else (booleans too)."""
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        return None
    if isinstance(value, float) and not math.isfinite(value):
        return None
    exact = Fraction(str(value)) if isinstance(value, float) else Fraction(value)
    return exact if abs(exact) <= _LARGEST else None


def _with_unit(value: object, units: dict[str, Fraction], bare: bool) -> Fraction | None:
    """Read ``12 mm``-like text into the first unit's measure; None where it does not fit."""
    exact = _plain(value)
    if exact is not None:
        return exact if bare else None
    if not isinstance(value, str):
        return None
    hit = re.fullmatch(rf"\s*({_NUMBER})\s*(.*?)\s*", value)
    if not hit or not hit.group(1).strip():
        return None
    unit = hit.group(2)
    if unit == "" and not bare:
        return None
    factor = Fraction(1) if unit == "" else units.get(unit, units.get(unit.lower()))
    if factor is None:
        return None
    try:
        return number(hit.group(1)) * factor
    except QuantityError:
        return None


_BYTE_UNITS: dict[str, tuple[int, int]] = {
    "": (1, 1),
    "b": (1, 1),
    "byte": (1, 1),
    "bytes": (1, 1),
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
    exact = _plain(value)
    if exact is not None:
        if exact < 0 or exact.denominator != 1:
            raise QuantityError(expected)
        return ByteCount(int(exact), text=str(value))
    if not isinstance(value, str):
        raise QuantityError(expected)
    hit = re.fullmatch(rf"\s*({_NUMBER})\s*([A-Za-z]*)\s*(?:\(\s*(1000|1024)\s*\))?\s*", value)
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
    exact = _with_unit(value, {"px": Fraction(1), "pixels": Fraction(1)}, bare=True)
    if exact is None or exact.denominator != 1 or exact < 0:
        raise QuantityError(say('whole pixels such as 630 or "630 px"'))
    return int(exact)


def parse_size(value: object, side: Side = "exact") -> tuple[int, int]:
    """Read ``630 x 840`` (width first) into two whole numbers of pixels, each at least 1."""
    if isinstance(value, str):
        hit = re.fullmatch(
            r"\s*([\d \u00a0\u202f]+?)\s*[xX×*]\s*([\d \u00a0\u202f]+?)\s*(?:px)?\s*", value
        )
        if hit:
            try:
                width, height = int(number(hit.group(1))), int(number(hit.group(2)))
            except QuantityError:
                width = height = 0
            if width >= 1 and height >= 1:
                return width, height
    raise QuantityError(say('a size in pixels, width first, such as "630 x 840"'))


def parse_aspect(value: object, side: Side = "exact") -> Fraction:
    """Read a proportion of width to height: ``"4:5"``, ``"1.91:1"`` or a plain quotient."""
    exact = _plain(value)
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
    exact = _with_unit(value, {"%": Fraction(1, 100)}, bare=False)
    if exact is None:
        raise QuantityError(say('a share with its sign, such as "62 %"'))
    return float(exact)


def parse_factor(value: object, side: Side = "exact") -> float:
    """Read a factor: ``1``, ``"1.5"``, ``"1.5 x"``, ``"150 %"``."""
    units = {"x": Fraction(1), "×": Fraction(1), "%": Fraction(1, 100)}
    exact = _with_unit(value, units, bare=True)
    if exact is None or exact <= 0:
        raise QuantityError(say('a factor such as 1 or "1.5 x"'))
    return float(exact)


def parse_length(value: object, side: Side = "exact") -> float:
    """Read a printed length into millimetres: ``"35 mm"``, ``"3.5 cm"``, ``"4 in"``."""
    units = {
        "mm": Fraction(1),
        "cm": Fraction(10),
        "in": Fraction(254, 10),
        "inch": Fraction(254, 10),
    }
    exact = _with_unit(value, units, bare=False)
    if exact is None or exact <= 0:
        raise QuantityError(say('a length with its unit, such as "35 mm" or "4 in"'))
    return float(exact)


def parse_angle(value: object, side: Side = "exact") -> float:
    """Read an angle in degrees: ``5``, ``"5°"``, ``"5 deg"``."""
    exact = _with_unit(value, {"°": Fraction(1), "deg": Fraction(1)}, bare=True)
    if exact is None or abs(exact) > 360:
        raise QuantityError(say('degrees such as 5 or "5 deg"'))
    return float(exact)


def parse_megapixels(value: object, side: Side = "exact") -> float:
    """Read millions of pixels: ``12`` or ``"12 MP"``."""
    exact = _with_unit(value, {"mp": Fraction(1)}, bare=True)
    if exact is None or exact <= 0:
        raise QuantityError(say('megapixels such as 12 or "12 MP"'))
    return float(exact)


def parse_ppi(value: object, side: Side = "exact") -> float:
    """Read pixels per inch: ``300``, ``"300 ppi"``."""
    exact = _with_unit(value, {"ppi": Fraction(1), "dpi": Fraction(1)}, bare=True)
    if exact is None or exact <= 0 or exact > 100_000:
        raise QuantityError(say('pixels per inch such as 300 or "300 ppi"'))
    return float(exact)


def parse_count(value: object, side: Side = "exact") -> int:
    """Read a whole number that is not negative."""
    exact = _with_unit(value, {"bit": Fraction(1), "bits": Fraction(1)}, bare=True)
    if exact is None or exact.denominator != 1 or exact < 0:
        raise QuantityError(say("a whole number"))
    return int(exact)


def parse_number(value: object, side: Side = "exact") -> float:
    """Read any plain number."""
    exact = _with_unit(value, {}, bare=True)
    if exact is None:
        raise QuantityError(say("a number"))
    return float(exact)


def parse_pattern(value: object, side: Side = "exact") -> str:
    """Read a regular expression, kept as text; it is tried out so that a bad one is found now."""
    if isinstance(value, str) and value:
        try:
            regex.compile(value)
        except (regex.error, RecursionError, OverflowError, ValueError, MemoryError):
            pass
        else:
            return value
    raise QuantityError(say("a regular expression"))


# --- showing -----------------------------------------------------------------------------


def grouped(value: int) -> str:
    """A whole number with its thousands set apart by a no-break space."""
    return f"{value:,}".replace(",", NBSP)


def show_number(value: float, digits: int = 3) -> str:
    """A number with at most ``digits`` decimals and no idle zeros."""
    text = f"{value:.{digits}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text == "-0" else text


def show_pixels(value: int) -> str:
    return f"{grouped(value)}{NBSP}px"


def show_size(value: tuple[int, int]) -> str:
    return f"{grouped(value[0])}{NBSP}×{NBSP}{grouped(value[1])}{NBSP}px"


def show_bytes(value: int) -> str:
    """Bytes as a person reads them, with the exact count where rounding would hide something."""
    if value < 1000:
        return f"{value}{NBSP}bytes"
    if value < 10_000:
        return f"{value / 1000:.2f}{NBSP}kB"
    if value < 100_000:
        return f"{value / 1000:.1f}{NBSP}kB"
    if value < 1_000_000:
        return f"{value / 1000:.0f}{NBSP}kB"
    return f"{value / 1_000_000:.2f}{NBSP}MB"


def show_exact_bytes(value: int) -> str:
    return f"{grouped(value)}{NBSP}bytes"


def show_aspect(value: Fraction) -> str:
    """``4:5`` where both numbers are small, otherwise ``1.503:1``."""
    value = Fraction(value)
    if max(value.numerator, value.denominator) <= 100:
        return f"{value.numerator}:{value.denominator}"
    scaled = value * 100
    if value.denominator <= 100 and scaled.denominator == 1 and value > 1:
        return f"{show_number(float(value), 2)}:1"
    return f"{show_number(float(value), 3)}:1"


def show_share(value: float) -> str:
    return f"{show_number(value * 100, 1)}{NBSP}%"


def show_factor(value: float) -> str:
    return f"{show_number(value, 3)}{NBSP}×"


def show_length(value: float) -> str:
    return f"{show_number(value, 1)}{NBSP}mm"


def show_angle(value: float) -> str:
    return f"{show_number(value, 1)}°"


def show_megapixels(value: float) -> str:
    return f"{show_number(float(value), 2)}{NBSP}MP"


def show_ppi(value: float) -> str:
    return f"{show_number(value, 2)}{NBSP}ppi"


@dataclass(frozen=True)
class Kind:
    """How one kind of value is read, ordered and shown.

    Attributes:
        name: for tests and error messages.
        parse: text or number to value; second argument says which side of a limit it is.
        show: value to the words of the interface.
        ordered: whether ``at_least``, ``at_most`` and ``between`` make sense.
        choices: the words allowed, for kinds that are words.
    """

    name: str
    parse: Callable[[object, Side], Any]
    show: Callable[[Any], str] = field(default=str)
    ordered: bool = True
    choices: tuple[str, ...] = ()


def words(*choices: str, shown: dict[str, str] | None = None) -> Kind:
    """A kind whose values are the given words, in any case, as ``shown`` writes them."""
    names = shown or {}

    def parse(value: object, side: Side = "exact") -> str:
        if isinstance(value, str) and value.strip().lower() in choices:
            return value.strip().lower()
        raise QuantityError(say("one of {words}", words=listed(choices)))

    return Kind("word", parse, lambda value: names.get(value, str(value)), False, choices)


PIXELS = Kind("pixels", parse_pixels, show_pixels)
SIZE = Kind("size", parse_size, show_size, ordered=False)
BYTES = Kind("bytes", parse_bytes, show_bytes)
ASPECT = Kind("aspect", parse_aspect, show_aspect)
SHARE = Kind("share", parse_share, show_share)
FACTOR = Kind("factor", parse_factor, show_factor)
LENGTH = Kind("length", parse_length, show_length)
ANGLE = Kind("angle", parse_angle, show_angle)
MEGAPIXELS = Kind("megapixels", parse_megapixels, show_megapixels)
PPI = Kind("ppi", parse_ppi, show_ppi)
COUNT = Kind("count", parse_count, lambda value: grouped(int(value)))
NUMBER = Kind("number", parse_number, lambda value: show_number(value, 2))
PATTERN = Kind("pattern", parse_pattern, ordered=False)


# --- rounding ------------------------------------------------------------------------------


def nearest(value: Fraction | float) -> int:
    """The nearest integer, halves away from zero, at least 1: the rounding of pixel sides."""
    return max(1, math.floor(Fraction(value) + Fraction(1, 2)))


def both_roundings(value: Fraction) -> tuple[int, ...]:
    """The one or, exactly at .5, two integers nearest to a positive value, each at least 1."""
    low = math.floor(value)
    rest = value - low
    if rest * 2 == 1:
        return (max(1, low), max(1, low + 1)) if low >= 1 else (1,)
    return (max(1, low + (1 if rest * 2 > 1 else 0)),)


def fits_aspect(width: int, height: int, aspect: Fraction) -> bool:
    """Whether an integer size fits a proportion: one side is the other one's exact quotient,
    rounded to the nearest pixel (either rounding at .5)."""
    return width in both_roundings(height * aspect) or height in both_roundings(width / aspect)


# --- typed arithmetic ----------------------------------------------------------------------

_TOKEN = re.compile(r"\s*(?:(\d+(?:\.\d*)?|\.\d+)\s*(px|mm|cm|in|%)?|([-+−*×/÷()]))")


def compute(text: str, *, whole: float | None = None, ppi: float | None = None) -> float:
    """Work out what a person typed into a number field, in pixels.

    Understands ``+ - * / ( )``, and numbers in ``px``, ``mm``, ``cm``, ``in`` (which need a
    ``ppi``) and ``%`` (of ``whole``). A bare fraction such as ``1/3`` of a ``whole`` is a
    plain division; write ``1/3 * 100 %`` for a share.

    Raises:
        QuantityError: the text is not such a sum, divides by zero, or lacks what a unit needs.
    """
    tokens: list[Fraction | str] = []
    at = 0
    stripped = text.strip()
    if len(stripped) > 200:
        raise QuantityError(say("a shorter sum"))
    while at < len(stripped):
        hit = _TOKEN.match(stripped, at)
        if not hit:
            raise QuantityError(
                say("a number or a sum such as 1200 + 35mm, not “{text}”", text=text)
            )
        at = hit.end()
        if hit.group(3):
            tokens.append({"−": "-", "×": "*", "÷": "/"}.get(hit.group(3), hit.group(3)))
            continue
        value, unit = Fraction(hit.group(1)), hit.group(2)
        if unit == "%":
            if whole is None:
                raise QuantityError(say("a number; a share has nothing to refer to here"))
            value *= Fraction(whole) / 100
        elif unit in ("mm", "cm", "in"):
            if not ppi:
                raise QuantityError(say("pixels; a length needs a ppi, and none is set"))
            inches = {"mm": Fraction(10, 254), "cm": Fraction(100, 254), "in": Fraction(1)}
            value *= inches[unit] * Fraction(ppi)
        tokens.append(value)

    place = 0

    def peek() -> Fraction | str | None:
        return tokens[place] if place < len(tokens) else None

    def atom() -> Fraction:
        nonlocal place
        token = peek()
        place += 1
        if token == "-":
            return -atom()
        if token == "+":
            return atom()
        if token == "(":
            inner = total()
            if peek() != ")":
                raise QuantityError(say("a closing bracket"))
            place += 1
            return inner
        if isinstance(token, Fraction):
            return token
        raise QuantityError(say("a number or a sum such as 1200 + 35mm, not “{text}”", text=text))

    def product() -> Fraction:
        nonlocal place
        value = atom()
        while peek() in ("*", "/"):
            sign = peek()
            place += 1
            by = atom()
            if sign == "/" and by == 0:
                raise QuantityError(say("a sum that does not divide by zero"))
            value = value * by if sign == "*" else value / by
        return value

    def total() -> Fraction:
        nonlocal place
        value = product()
        while peek() in ("+", "-"):
            sign = peek()
            place += 1
            by = product()
            value = value + by if sign == "+" else value - by
        return value

    result = total()
    if place != len(tokens):
        raise QuantityError(say("a number or a sum such as 1200 + 35mm, not “{text}”", text=text))
    return float(result)
