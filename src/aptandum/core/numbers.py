"""Numbers as people write them, with their units, and the numbers that remember more than their value.

What :mod:`aptandum.core.quantity` builds its kinds of value from.
"""

from __future__ import annotations

import math
import re
from fractions import Fraction
from typing import Any, Literal

from aptandum.core.errors import AptandumError
from aptandum.core.words import say

Side = Literal["lower", "upper", "exact"]

NUMBER_FORM = r"[-+−]?\s*(?:\d+(?:[ \u00a0\u202f,]\d{3})+|\d+)?(?:[.,]\d+)?"

_VULGAR = {
    "½": (1, 2), "⅓": (1, 3), "⅔": (2, 3), "¼": (1, 4), "¾": (3, 4),
    "⅛": (1, 8), "⅜": (3, 8), "⅝": (5, 8), "⅞": (7, 8),
}  # fmt: skip
FRACTION_FORM = (
    rf"(?:\d{{1,4}}[ \u00a0-])?\d{{1,3}}[/⁄]\d{{1,3}}(?!\d)|\d{{0,4}}[ \u00a0]?[{''.join(_VULGAR)}]"
)
"""Inches as a ruler has them: ``1 3/8``, ``1-3/8``, ``1⅜``."""

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


class Printed(float):
    """A share of a printed side, which was written as a length or is to be shown as one.

    Attributes:
        of: the printed side in millimetres; 0 where it is not known yet, and the number is then the
            length itself.
    """

    of: float

    def __new__(cls, share: float, of: float) -> Printed:
        made = super().__new__(cls, share)
        made.of = of
        return made

    def __reduce__(self) -> tuple[Any, ...]:
        return (Printed, (float(self), self.of))

    def on(self, side: float) -> Printed:
        """The share that this length is of a printed side in millimetres."""
        return Printed(float(self) / side, side)


def number(text: str) -> Fraction:
    """Read a plain decimal number exactly; digits may be grouped by spaces.

    Raises:
        QuantityError: the text is not a number, or is beyond all reason.
    """
    plain = re.sub(r"[ \u00a0\u202f]", "", text.strip()).replace("−", "-")
    if "," in plain:
        plain = _without_commas(plain)
    if not re.fullmatch(r"[-+]?(\d+(\.\d*)?|\.\d+)", plain) or len(plain) > 40:
        raise QuantityError(say("a number"))
    value = Fraction(plain)
    if abs(value) > _LARGEST:
        raise QuantityError(say("a number of a sensible size"))
    return value


def fraction(text: str) -> Fraction:
    """Read a whole number and a part of one, as inches are written: ``1 3/8``, ``3/4``, ``1½``.

    Raises:
        QuantityError: the text is not written so, or divides by nothing.
    """
    text = text.strip()
    hit = re.fullmatch(r"(?:(\d{1,4})[ \u00a0-])?(\d{1,3})[/⁄](\d{1,3})", text)
    if hit and int(hit.group(3)):
        return int(hit.group(1) or 0) + Fraction(int(hit.group(2)), int(hit.group(3)))
    if text[-1:] in _VULGAR and re.fullmatch(r"\d{0,4}", text[:-1].strip()):
        return int(text[:-1].strip() or 0) + Fraction(*_VULGAR[text[-1]])
    raise QuantityError(say("a number"))


def _without_commas(plain: str) -> str:
    """A number whose commas group its digits by three, ``1,000``, or part its decimals, ``3,5``; one
    that can be read either way is left as it is, and is then no number."""
    whole, *groups = plain.lstrip("+-").split(",")
    sign = plain[: len(plain) - len(plain.lstrip("+-"))]
    last = groups[-1].partition(".")[0]
    grouped_ = 1 <= len(whole) <= 3 and whole != "0" and all(
        re.fullmatch(r"\d{3}", g) for g in [*groups[:-1], last]
    )  # fmt: skip
    if grouped_:
        return sign + whole + "".join(groups)
    decimals = r"\d+" if whole in ("", "0") else r"\d{1,2}|\d{4,}"
    if len(groups) == 1 and re.fullmatch(r"\d*", whole) and re.fullmatch(decimals, groups[0]):
        return f"{sign}{whole}.{groups[0]}"
    return plain


def plain_value(value: object) -> Fraction | None:
    """The exact value of a TOML number, or None for anything else (booleans too)."""
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        return None
    if isinstance(value, float) and not math.isfinite(value):
        return None
    exact = Fraction(str(value)) if isinstance(value, float) else Fraction(value)
    return exact if abs(exact) <= _LARGEST else None


def with_unit(value: object, units: dict[str, Fraction], bare: bool) -> Fraction | None:
    """Read ``12 mm``-like text into the first unit's measure; None where it does not fit."""
    exact = plain_value(value)
    if exact is not None:
        return exact if bare else None
    if not isinstance(value, str):
        return None
    hit = re.fullmatch(rf"\s*({NUMBER_FORM})\s*(.*?)\s*", value)
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
