"""Rounding by the rules of rulebooks, and sums with units as people type them."""

from __future__ import annotations

import math
import re
from fractions import Fraction

from aptandum.core.figures import read_number
from aptandum.core.numbers import QuantityError
from aptandum.core.words import say


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


_TOKEN = re.compile(r"\s*(?:(\d+(?:\.\d*)?|\.\d+)\s*(px|mm|cm|in|%)?|([-+−*×/÷()]))")


def compute(text: str, *, whole: float | None = None, ppi: float | None = None) -> float:
    """Work out what a person typed into a number field, in pixels.

    Understands ``+ - * / ( )``, and numbers in ``px``, ``mm``, ``cm``, ``in`` (which need a
    ``ppi``) and ``%`` (of ``whole``). A bare fraction such as ``1/3`` of a ``whole`` is a
    plain division; write ``1/3 * 100 %`` for a share.

    Raises:
        QuantityError: the text is not such a sum, divides by zero, or lacks what a unit needs.
    """
    tokens = _tokens(text, whole, ppi)
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


def _tokens(text: str, whole: float | None, ppi: float | None) -> list[Fraction | str]:
    """The numbers (in pixels) and signs of a sum."""
    tokens: list[Fraction | str] = []
    at = 0
    stripped = read_number(text.strip())
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
    return tokens
