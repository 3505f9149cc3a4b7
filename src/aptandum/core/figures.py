"""Figures as people read them: with their units, grouped, never longer than they are sure."""

from __future__ import annotations

import re
from fractions import Fraction
from math import ceil

from aptandum.core.words import NBSP, customs, grouped, say

__all__ = [
    "grouped",
    "read_number",
    "show_angle",
    "show_aspect",
    "show_bytes",
    "show_exact_bytes",
    "show_factor",
    "show_factor_up",
    "show_length",
    "show_megapixels",
    "show_number",
    "show_pixels",
    "show_ppi",
    "show_share",
    "show_sides",
    "show_size",
]

_SPACES = " \u00a0\u202f\u2009'\u2019"
_TYPED = re.compile(rf"\d(?:[\d.,{_SPACES}]*\d)?|[.,]\d+")


def decimals(text: str) -> str:
    """A number written with a point, as it is written here."""
    return text.replace(".", customs().decimal)


def read_number(text: str) -> str:
    """Numbers as people type them (``1 280``, ``1,5``, ``1.5``, ``1.280,5``) with a point, and without
    grouping; whatever is no number stays.

    Where both signs stand in a number the last one begins the decimals. One sign alone begins them,
    unless exactly three digits follow and it is the one by which the system groups digits.
    """
    return _TYPED.sub(lambda found: _plain(found.group(0)), text)


def _plain(number: str) -> str:
    for part in re.split(rf"(?<=\d)[{_SPACES}](?=\d)", number)[1:]:
        if not re.fullmatch(r"\d{3}(?:[.,]\d*)?", part):
            return number  # several numbers beside one another
    number = re.sub(rf"[{_SPACES}]", "", number)
    signs = [c for c in number if c in ".,"]
    if not signs:
        return number
    last = signs[-1]
    whole, _, rest = number.rpartition(last)
    if len(set(signs)) == 1:
        many, group = len(signs) > 1, customs().group
        if many or (len(rest) == 3 and last == group and 1 <= len(whole) <= 3):
            thousands = number.split(last)
            return "".join(thousands) if all(len(t) == 3 for t in thousands[1:]) else number
    return re.sub(r"[.,]", "", whole) + "." + rest


def show_number(value: float, digits: int = 3) -> str:
    """A number with at most ``digits`` decimals and no idle zeros."""
    text = f"{value:.{digits}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return decimals("0" if text == "-0" else text)


def show_pixels(value: int) -> str:
    """``1 600 px``."""
    return say("{n}{nbsp}px", n=grouped(value), nbsp=NBSP)


def show_size(value: tuple[int, int]) -> str:
    """``630 × 840 px``."""
    return say("{w}{nbsp}×{nbsp}{h}{nbsp}px", w=grouped(value[0]), h=grouped(value[1]), nbsp=NBSP)


def show_sides(value: tuple[int, int]) -> str:
    """``630 × 840``, where it is plain that these are pixels."""
    return say("{w} × {h}", w=grouped(value[0]), h=grouped(value[1]))


def show_bytes(value: int) -> str:
    """Bytes as a person reads them, with the exact count where rounding would hide something."""
    if value < 1000:
        return show_exact_bytes(value)
    if value < 10_000:
        return say("{n}{nbsp}kB", n=decimals(f"{value / 1000:.2f}"), nbsp=NBSP)
    if value < 100_000:
        return say("{n}{nbsp}kB", n=decimals(f"{value / 1000:.1f}"), nbsp=NBSP)
    if value < 1_000_000:
        return say("{n}{nbsp}kB", n=f"{value / 1000:.0f}", nbsp=NBSP)
    return say("{n}{nbsp}MB", n=decimals(f"{value / 1_000_000:.2f}"), nbsp=NBSP)


def show_exact_bytes(value: int) -> str:
    """``61 440 bytes``."""
    return say("{n}{nbsp}bytes", n=grouped(value), nbsp=NBSP)


def show_aspect(value: Fraction) -> str:
    """``4:5`` where both numbers are small, otherwise ``1.503:1``."""
    value = Fraction(value)
    if max(value.numerator, value.denominator) <= 100:
        return say("{w}:{h}", w=value.numerator, h=value.denominator)
    scaled = value * 100
    if value.denominator <= 100 and scaled.denominator == 1 and value > 1:
        return say("{w}:{h}", w=show_number(float(value), 2), h=1)
    return say("{w}:{h}", w=show_number(float(value), 3), h=1)


def show_share(value: float) -> str:
    """A share 0..1 as ``62 %``."""
    return say("{n}{nbsp}%", n=show_number(value * 100, 1), nbsp=NBSP)


def show_points(value: float) -> str:
    """A difference of shares 0..1 in percentage points, as ``0.2 points``: 62.2 % is 0.2 points more than 62 %, and not
    0.2 % more."""
    n = show_number(value * 100, 1)
    return (
        say("{n}{nbsp}point", n=n, nbsp=NBSP)
        if n == "1"
        else say("{n}{nbsp}points", n=n, nbsp=NBSP)
    )


def show_factor(value: float) -> str:
    """``1.5 ×``; one that is nearly 1 is told from 1: ``0.99974 ×``."""
    nearly = round(value, 3) == 1 and abs(value - 1) > _NEARLY
    return say("{n}{nbsp}×", n=show_number(value, 5 if nearly else 3), nbsp=NBSP)


_NEARLY = 1e-5


def show_factor_up(value: float) -> str:
    """A factor that a limit would have to reach, never rounded below itself."""
    return show_factor(ceil(value * 1000 - 1e-6) / 1000)


def show_length(value: float) -> str:
    """Millimetres: ``35 mm``."""
    return say("{n}{nbsp}mm", n=show_number(value, 1), nbsp=NBSP)


def show_angle(value: float) -> str:
    """Degrees: ``3.4°``."""
    return say("{n}°", n=show_number(value, 1))


def show_megapixels(value: float) -> str:
    """``12.5 MP``."""
    return say("{n}{nbsp}MP", n=show_number(float(value), 2), nbsp=NBSP)


def show_ppi(value: float) -> str:
    """Pixels per inch: ``300 ppi``."""
    return say("{n}{nbsp}ppi", n=show_number(value, 2), nbsp=NBSP)
