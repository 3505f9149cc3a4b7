"""Figures as people read them: with their units, grouped, never longer than they are sure."""

from __future__ import annotations

from fractions import Fraction

from aptandum.core.words import NBSP


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
