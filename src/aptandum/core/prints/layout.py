"""Where prints lie on a sheet: rows of prints, the tallest first, never over one another nor into the margin."""

from __future__ import annotations

from collections.abc import Sequence

from aptandum.core.errors import AptandumError
from aptandum.core.figures import show_length
from aptandum.core.frozen import frozen
from aptandum.core.prints.paper import Paper
from aptandum.core.words import say, say_n

_TINY = 1e-6
MOST = 500
"""Prints on one sheet."""


class NoRoom(AptandumError, ValueError):
    """Prints that do not fit on their sheet; the message says how many do."""


@frozen
class Wish:
    """Prints that are wanted.

    Attributes:
        picture: which of the pictures, from 0.
        wide, high: of each print in millimetres.
        count: how many; 0: as many as have room.
    """

    picture: int
    wide: float
    high: float
    count: int = 1


@frozen
class Print:
    """A print on its sheet: of which picture, and left, top, width and height in millimetres of the paper.

    Attributes:
        turned: it lies on its side, a quarter turn to the left.
    """

    picture: int
    left: float
    top: float
    wide: float
    high: float
    turned: bool = False


@frozen
class Sheet:
    """A sheet with its prints.

    Attributes:
        margin, gap: in millimetres: what the printer leaves free at each edge, and what lies between two prints.
        check: the room at the foot for the line and the square by which a printer is checked: left, top, width,
            height; ``None``: there is none.
    """

    paper: Paper
    prints: tuple[Print, ...]
    margin: float
    gap: float
    check: tuple[float, float, float, float] | None = None


CHECK = (64.0, 11.0)
"""Width and height of what a printer is checked by, in millimetres: a line of 50 and a square of 10."""


def lay_out(
    paper: Paper, wishes: Sequence[Wish], margin: float = 4.0, gap: float = 3.0, check: bool = True
) -> Sheet:
    """A sheet with all prints that are wanted, lying the way on which the most have room.

    Args:
        check: room is kept at the foot for a line and a square to check the printer by, where that costs no print.

    Raises:
        NoRoom: not all of them have room, or not even one.
    """
    ways = [
        _on(sheet, wishes, margin, gap, foot, lying)
        for lying in (None, False, True)
        for foot in ((True, False) if check else (False,))
        for sheet in (paper, paper.turned())
    ]
    best = [one for one in ways if one is not None]
    wanted = sum(wish.count for wish in wishes)
    full = [sheet for sheet, done in best if done >= wanted and sheet.prints]
    if not full:
        raise NoRoom(_said(paper, wishes, max((n for _sheet, n in best), default=0)))
    return max(full, key=lambda sheet: (len(sheet.prints), sheet.check is not None))


def _said(paper: Paper, wishes: Sequence[Wish], most: int) -> str:
    if not most:
        wish = max(wishes, key=lambda one: one.wide * one.high)
        return say(
            "A print of {wide} × {high} has no room on {paper}.",
            wide=show_length(wish.wide),
            high=show_length(wish.high),
            paper=paper.name,
        )
    return say_n(
        "Only {n} of the prints has room on {paper}.",
        "Only {n} of the prints have room on {paper}.",
        most,
        paper=paper.name,
    )


def _on(
    paper: Paper,
    wishes: Sequence[Wish],
    margin: float,
    gap: float,
    foot: bool,
    lying: bool | None = None,
) -> tuple[Sheet, int] | None:
    """The prints on a paper as it lies, and how many of those that were counted have room.

    Args:
        lying: whether rows are begun with turned prints; ``None``: as each row promises the most.
    """
    low = paper.high - margin
    check = None
    if foot:
        if paper.wide - 2 * margin < CHECK[0]:
            return None
        check = (margin, low - CHECK[1], *CHECK)
        low -= CHECK[1] + gap
    rows = _Rows(margin, paper.wide - margin, low, gap, lying)
    counted = [wish for wish in wishes if wish.count]
    every = [one for wish in counted for one in [wish] * wish.count]
    every.sort(key=lambda one: -min(one.wide, one.high))
    done = sum(rows.take(one) for one in every)
    if done == len(every):
        for wish in wishes:
            while not wish.count and len(rows.prints) < MOST and rows.take(wish):
                pass
    return Sheet(paper, tuple(rows.prints), margin, gap, check), done


class _Rows:
    """Rows of prints from the top; each print goes into the first row that has room."""

    def __init__(
        self, left: float, right: float, bottom: float, gap: float, lying: bool | None = None
    ) -> None:
        self.left, self.right, self.bottom, self.gap = left, right, bottom, gap
        self.lying = lying
        self.prints: list[Print] = []
        self._rows: list[list[float]] = []  # top, height, where the next one begins

    def take(self, wish: Wish) -> bool:
        """Whether a print has room; it lies where it has."""
        for turned in (True, False) if self.lying else (False, True):
            wide, high = (wish.high, wish.wide) if turned else (wish.wide, wish.high)
            for row in self._rows:
                if high <= row[1] + _TINY and row[2] + wide <= self.right + _TINY:
                    self._put(wish, row, wide, high, turned)
                    return True
        ways = ((False, wish.wide, wish.high), (True, wish.high, wish.wide))
        fitting = [way for way in ways if self._has_row(way[1], way[2])]
        if not fitting:
            return False
        # The way that was asked for, else the one on which the most of such prints have room below.
        top = self._next_top()
        turned, wide, high = max(
            fitting, key=lambda way: (way[0] is self.lying, self._many(way[1], way[2], top))
        )
        row = [top, high, self.left]
        self._rows.append(row)
        self._put(wish, row, wide, high, turned)
        return True

    def _put(self, wish: Wish, row: list[float], wide: float, high: float, turned: bool) -> None:
        self.prints.append(Print(wish.picture, row[2], row[0], wide, high, turned))
        row[2] += wide + self.gap

    def _next_top(self) -> float:
        if not self._rows:
            return self.left  # the margin is the same on every side
        last = self._rows[-1]
        return last[0] + last[1] + self.gap

    def _has_row(self, wide: float, high: float) -> bool:
        return (
            self._next_top() + high <= self.bottom + _TINY
            and self.left + wide <= self.right + _TINY
        )

    def _many(self, wide: float, high: float, top: float) -> int:
        across = int((self.right - self.left + self.gap + _TINY) // (wide + self.gap))
        return across * int((self.bottom - top + self.gap + _TINY) // (high + self.gap))


Mark = tuple[float, float, float, float]


def cut_marks(sheet: Sheet, length: float = 3.0, away: float = 0.5) -> tuple[Mark, ...]:
    """The lines by which the prints are cut out: x0, y0, x1, y1 in millimetres, none of them on a print.

    Each goes outward from a corner of a print; where another print lies in the way, it is shorter or left out.
    """
    found: list[Mark] = []
    for one in sheet.prints:
        x0, y0, x1, y1 = one.left, one.top, one.left + one.wide, one.top + one.high
        for x, dx in ((x0, -1), (x1, 1)):
            for y, dy in ((y0, -1), (y1, 1)):
                across = _free(sheet, (x + dx * away, y), (dx, 0), length)
                down = _free(sheet, (x, y + dy * away), (0, dy), length)
                if across > 0.3:
                    found.append((x + dx * away, y, x + dx * (away + across), y))
                if down > 0.3:
                    found.append((x, y + dy * away, x, y + dy * (away + down)))
    return tuple(dict.fromkeys(found))


def _free(sheet: Sheet, at: tuple[float, float], way: tuple[int, int], length: float) -> float:
    """How far a line may go from a point before it comes to a print or the paper's edge."""
    free = length
    for one in sheet.prints:
        along, across = (0, 1) if way[0] else (1, 0)
        low = (one.left, one.top)
        high = (one.left + one.wide, one.top + one.high)
        if not low[across] - _TINY <= at[across] <= high[across] + _TINY:
            continue
        ahead = low[along] - at[along] if way[along] > 0 else at[along] - high[along]
        behind = at[along] - high[along] if way[along] > 0 else low[along] - at[along]
        if ahead >= -_TINY:
            free = min(free, ahead - 0.2)
        elif behind < -_TINY:
            return 0.0  # the point lies on a print
    edge = (sheet.paper.wide, sheet.paper.high)[0 if way[0] else 1]
    here = at[0 if way[0] else 1]
    room = edge - here if sum(way) > 0 else here
    return min(free, room)
