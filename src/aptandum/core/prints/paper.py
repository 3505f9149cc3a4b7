"""Papers, in millimetres."""

from __future__ import annotations

import re

from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.numbers import QuantityError
from aptandum.core.quantity import parse_length
from aptandum.core.words import listed, say

INCH = 25.4


class NoPaper(AptandumError, ValueError):
    """A paper that is not known; the message is a sentence with the cause."""


@frozen
class Paper:
    """A sheet of paper: its name, width and height in millimetres, upright."""

    name: str
    wide: float
    high: float

    def turned(self) -> Paper:
        """The same, lying on its side."""
        return Paper(self.name, self.high, self.wide)


PAPERS = (
    Paper("10 x 15 cm", 100, 150),
    Paper("13 x 18 cm", 130, 180),
    Paper("4 x 6 in", 4 * INCH, 6 * INCH),
    Paper("A6", 105, 148),
    Paper("A5", 148, 210),
    Paper("A4", 210, 297),
)
"""The papers that are known by name; any other is told by its sides, such as ``9 x 13 cm``."""

_LEAST, _MOST = 20.0, 2000.0


def paper_of(text: str) -> Paper:
    """A paper by its name or by its sides, such as ``9 x 13 cm``.

    Raises:
        NoPaper: it is neither.
    """
    plain = re.sub(r"\s+", "", text.lower().replace("×", "x"))
    for paper in PAPERS:
        if re.sub(r"\s+", "", paper.name.lower()) == plain:
            return paper
    found = re.fullmatch(r"([\d.,/ ]+)([a-z\"]*)x([\d.,/ ]+)([a-z\"]+)", plain)
    if found:
        first, unit, second, last = found.groups()
        try:
            wide, high = (
                parse_length(f"{n} {u}") for n, u in ((first, unit or last), (second, last))
            )
        except QuantityError:
            wide = high = 0.0
        if min(wide, high) >= _LEAST and max(wide, high) <= _MOST:
            return Paper(text.strip(), wide, high)
    names = listed([paper.name for paper in PAPERS])
    raise NoPaper(
        say(
            "There is no paper “{text}”: it is {names}, or its sides such as 9 x 13 cm.",
            text=text,
            names=names,
        )
    )
