"""Tables: what the heading of a column says of the numbers below it, *Minimum*, *Max. size*, *Width (px)*."""

from __future__ import annotations

import re
from collections.abc import Iterator

from aptandum.core.frozen import frozen
from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.lexicon import Lexicon

_I = int(re.I)
_SIDES = ("width", "height", "longest_side", "shortest_side")
_RULE = r"[\s|:+-]*"
"""What a line between the heading of a table and its rows consists of."""


@frozen
class Cell:
    """A cell below a heading that says something.

    Attributes:
        start, end: in the text.
        bound: the bound that its number has; empty: the heading says none.
        side: the side that its number measures; empty: the heading names none.
        wish: its number is only recommended.
    """

    start: int
    end: int
    bound: str = ""
    side: str = ""
    wish: bool = False


def is_row(line: str) -> bool:
    """Whether a line is a row of a table."""
    return line.count("|") > 1 or bool(re.search(r"\t|\S {3,}\S", line.strip()))


def cells(text: str, words: Lexicon) -> list[Cell]:
    """The cells of all tables of a text whose headings say something of their numbers."""
    found: list[Cell] = []
    heads: list[Cell] = []
    at = 0
    for line in text.split("\n"):
        spans = list(_spans(line, at)) if is_row(line) or " | " in line else []
        if not spans:
            heads = []
        elif not heads and not re.search(r"\d", line):
            heads = [_head(text[a:b], words) for a, b in spans]
        elif len(spans) == len(heads) and not re.fullmatch(_RULE, line):
            for (a, b), head in zip(spans, heads, strict=True):
                if head.bound or head.side or head.wish:
                    found.append(Cell(a, b, head.bound, head.side, head.wish))
        at += len(line) + 1
    return found


def _spans(line: str, at: int) -> Iterator[tuple[int, int]]:
    """Where the cells of a row stand."""
    by = "|" if "|" in line else "\t"
    begin = 0
    for part in line.split(by):
        yield at + begin, at + begin + len(part)
        begin += len(part) + 1


def _head(said: str, words: Lexicon) -> Cell:
    bound = next(
        (
            name
            for name in ("at_least", "at_most")
            if patterns.search(
                rf"(?<!\w)(?:{words.before[name]}|{words.after[name]})(?!\w)", said, _I
            )
        ),
        "",
    )
    side = next(
        (one for one in _SIDES if patterns.search(rf"\b(?:{words.topics[one]})\b", said, _I)), ""
    )
    wish = patterns.search(rf"\b(?:{words.should})\b", said, _I) is not None
    return Cell(0, 0, bound, side, wish)
