"""Printed lengths: the sizes that print at some lengths at one and the same resolution."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from itertools import product
from math import ceil, floor
from typing import Any

from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Turn
from aptandum.core.frozen import frozen
from aptandum.core.photo.limits import MOST_SIDE
from aptandum.core.sizes.binds import Printed
from aptandum.core.sizes.cells import Cell, Paper
from aptandum.core.sizes.rows import edge

_MM_PER_INCH = Fraction(254, 10)
_LEAST_PPI, _MOST_PPI = Fraction(1, 1000), Fraction(100_000)


@frozen
class Length:
    """A printed length of a side, in inches: at least ``low`` and at most ``high``, each give
    or take ``slack`` pixels. An exact length is met to the nearest pixel."""

    low: Fraction | None = None
    high: Fraction | None = None
    slack: Fraction = Fraction(0)


Sides = tuple[tuple[int, Length], ...]
"""Printed lengths that are to hold together, each with its axis: 0 across, 1 up."""


def lengths(bind: Printed, limit: Limit, turn: Turn) -> list[Sides]:
    """The ways in which a limit in millimetres can be met by a picture that lies so; every way is
    one or two lengths that hold together."""
    axes = bind.axes(turn)
    made: list[Sides] = []
    for face in limit.faces:
        bounds = [(v, v) for v in face.one_of] or [(face.at_least, face.at_most)]
        slack = Fraction(1, 2) if face.one_of else Fraction(0)
        for low, high in bounds:
            pairs = _sides(low, len(axes)), _sides(high, len(axes))
            parts = (Length(a, b, slack) for a, b in zip(*pairs, strict=True))
            made.append(tuple(zip(axes, parts, strict=True)))
    return list(dict.fromkeys(made))


def _sides(value: Any, count: int) -> tuple[Fraction | None, ...]:
    """A bound in inches, for one side or for two."""
    if value is None:
        return (None,) * count
    every = value if isinstance(value, tuple) else (value,)
    return tuple(Fraction(str(mm)) / _MM_PER_INCH for mm in every)


def resolutions(limits: list[Limit]) -> list[tuple[Fraction, Fraction]]:
    """The closed ranges of pixels per inch that all limits leave."""
    runs = [(_LEAST_PPI, _MOST_PPI)]
    for limit in limits:
        spans = (
            [(Fraction(str(v)),) * 2 for v in limit.one_of]
            if limit.one_of
            else [(Fraction(str(limit.at_least or 0)), Fraction(str(limit.at_most or _MOST_PPI)))]
        )
        runs = [
            (max(a, low), min(b, high))
            for a, b in runs
            for low, high in spans
            if max(a, low) <= min(b, high)
        ]
    return runs


def _agreeing(lengths: list[Length]) -> Fraction:
    """The longest side in pixels at which lengths of the same side agree to the pixel."""
    most = Fraction(MOST_SIDE)
    for one, other in product(lengths, lengths):
        low, high = one.low, other.high
        if low is not None and high is not None and low > high:
            most = min(most, (other.slack * low + one.slack * high) / (low - high))
    return most


def at_lengths(
    cell: Cell, across: list[Length], up: list[Length], ppi: tuple[Fraction, Fraction]
) -> Cell:
    """The sizes that print at these lengths at some one resolution inside a range.

    A side of n px prints at least ``low`` inches where p <= (n + slack) / low, and at most
    ``high`` where p >= (n - slack) / high. Some p meets all of these when every lower bound of
    it is at or below every upper one; between the two sides that is a straight edge.
    """
    least, most = ppi
    w_lo, w_hi, h_lo, h_hi = Fraction(1), Fraction(MOST_SIDE), Fraction(1), Fraction(MOST_SIDE)
    for length in across:
        if length.low is not None:
            w_lo = max(w_lo, length.low * least - length.slack)
        if length.high is not None:
            w_hi = min(w_hi, length.high * most + length.slack)
    for length in up:
        if length.low is not None:
            h_lo = max(h_lo, length.low * least - length.slack)
        if length.high is not None:
            h_hi = min(h_hi, length.high * most + length.slack)
    w_hi, h_hi = min(w_hi, _agreeing(across)), min(h_hi, _agreeing(up))
    lower, upper = list(cell.lower), list(cell.upper)
    for wide, high in product(across, up):
        if wide.high is not None and high.low is not None:
            ratio = wide.high / high.low
            upper.append(edge(ratio, ratio * high.slack + wide.slack))
        if high.high is not None and wide.low is not None:
            ratio = wide.low / high.high
            lower.append(edge(ratio, -ratio * high.slack - wide.slack))
    made = cell.boxed(ceil(w_lo), floor(w_hi), ceil(h_lo), floor(h_hi))
    return replace(
        made,
        lower=tuple(dict.fromkeys(lower)),
        upper=tuple(dict.fromkeys(upper)),
        paper=_paper(across, up, ppi),
    )


def _paper(across: list[Length], up: list[Length], ppi: tuple[Fraction, Fraction]) -> Paper | None:
    """The exact lengths among some, where they leave the resolution open."""
    wide, high = (
        next((one.low for one in every if one.low is not None and one.low == one.high), None)
        for every in (across, up)
    )
    least, most = ppi
    return Paper(wide, high, least, most) if (wide or high) and least < most else None
