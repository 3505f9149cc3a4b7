"""How a limit on a measure narrows the sizes that are allowed.

Each kind of bind turns a limit into parts of a cell. A measure that grows with both sides, and that
has no bind of its own among these, takes :class:`Growing` with its formula.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import field, replace
from fractions import Fraction
from math import ceil, floor
from typing import Any, Literal

from aptandum.core.brief.binding import Bind
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Turn
from aptandum.core.frozen import frozen
from aptandum.core.photo.limits import MOST_SIDE
from aptandum.core.sizes.cells import Cell, beside, sliver
from aptandum.core.sizes.rows import Grow


class SizeBind(Bind):
    """Binds the picture's size in pixels.

    Attributes:
        last: narrowed after the plain boxes, which leave most of its parts empty at once.
    """

    last = False

    def narrow(self, cell: Cell, limit: Limit) -> Iterable[Cell]:
        """The parts of a cell whose sizes meet a limit; none of them overlap in what they name."""
        raise NotImplementedError


@frozen
class Side(SizeBind):
    """One side: across, up, or the longer or shorter of both."""

    of: Literal["width", "height", "longest", "shortest"]

    def narrow(self, cell: Cell, limit: Limit) -> Iterator[Cell]:
        """The parts of a cell that meet a limit."""
        landscape, upright = cell.turn == "landscape", cell.turn == "upright"
        on_width = self.of == "width" or (
            not upright if self.of == "longest" else self.of == "shortest" and not landscape
        )
        on_height = self.of == "height" or (
            not landscape if self.of == "longest" else self.of == "shortest" and not upright
        )
        for low, high in _values(limit):
            box: dict[str, int] = {}
            if on_width:
                box |= {"w_lo": low, "w_hi": high}
            if on_height:
                box |= {"h_lo": low, "h_hi": high}
            yield cell.boxed(**box)


def _values(limit: Limit) -> list[tuple[int, int]]:
    """The runs of whole numbers that a limit allows."""
    low, high = limit.at_least or 1, limit.at_most or MOST_SIDE
    runs = [(v, v) for v in limit.one_of if low <= v <= high] if limit.one_of else [(low, high)]
    for gap in sorted(set(limit.none_of)):
        runs = [
            part
            for a, b in runs
            for part in ([(a, b)] if not a <= gap <= b else [(a, gap - 1), (gap + 1, b)])
            if part[0] <= part[1]
        ]
    return runs


@frozen
class Both(SizeBind):
    """Width and height together."""

    last = True

    def narrow(self, cell: Cell, limit: Limit) -> Iterable[Cell]:
        """The parts of a cell that meet a limit."""
        parts = (part for face in limit.faces for part in self._of(cell, face))
        return list(dict.fromkeys(parts))

    def _of(self, cell: Cell, limit: Limit) -> Iterable[Cell]:
        (w_lo, h_lo), (w_hi, h_hi) = (
            limit.at_least or (1, 1),
            limit.at_most or (MOST_SIDE, MOST_SIDE),
        )
        cells = [cell.boxed(w_lo, w_hi, h_lo, h_hi)]
        if limit.one_of:
            cells = [cell.boxed(w, w, h, h) for w, h in limit.one_of]
        for w, h in set(limit.none_of):
            cells = [
                part
                for one in cells
                for part in (
                    one.boxed(w_hi=w - 1),
                    one.boxed(w_lo=w + 1),
                    one.boxed(w, w, h_hi=h - 1),
                    one.boxed(w, w, h_lo=h + 1),
                )
                if not part.empty_box()
            ]
        return cells


@frozen
class Proportion(SizeBind):
    """Width over height: named ones by the rule of rounding, ranges exactly."""

    last = True

    def narrow(self, cell: Cell, limit: Limit) -> Iterator[Cell]:
        """The parts of a cell that meet a limit."""
        parts = (part for face in limit.faces for part in self._of(cell, face))
        yield from dict.fromkeys(parts)

    def _of(self, cell: Cell, limit: Limit) -> Iterator[Cell]:
        cells = [cell]
        if limit.one_of:
            cells = [
                part
                for shape in limit.one_of
                if _can_turn(cell.turn, shape)
                for part in (
                    replace(cell, aspects=tuple(dict.fromkeys((*cell.aspects, shape)))),
                    sliver(cell, shape),
                )
            ]
        for shape in limit.none_of:
            cells = [part for one in cells for part in beside(one, shape)]
        for one in cells:
            lows = [v for v in (one.a_lo, limit.at_least) if v is not None]
            highs = [v for v in (one.a_hi, limit.at_most) if v is not None]
            a_lo, a_hi = max(lows, default=None), min(highs, default=None)
            if a_lo is None or a_hi is None or a_lo <= a_hi:
                yield replace(one, a_lo=a_lo, a_hi=a_hi)


def _can_turn(turn: Turn, shape: Fraction) -> bool:
    """Rounding never makes a size of an upright proportion landscape, nor the reverse."""
    return not (turn == "landscape" and shape <= 1) and not (turn == "upright" and shape >= 1)


@frozen
class Turned(SizeBind):
    """Whether the picture lies landscape, stands upright or is square."""

    def narrow(self, cell: Cell, limit: Limit) -> Iterable[Cell]:
        """The parts of a cell that meet a limit."""
        return (cell,) if limit.allows(cell.turn) else ()


@frozen
class Area(SizeBind):
    """Pixels of the whole picture.

    Attributes:
        unit: pixels for 1 of the limit's numbers.
    """

    unit: int = 1

    def narrow(self, cell: Cell, limit: Limit) -> Iterator[Cell]:
        """The parts of a cell that meet a limit."""

        def pixels(value: float) -> Fraction:
            return Fraction(str(value)) * self.unit

        for low, high in (
            [(v, v) for v in limit.one_of] if limit.one_of else [(limit.at_least, limit.at_most)]
        ):
            lows = [v for v in (cell.area_lo, None if low is None else ceil(pixels(low))) if v]
            highs = [
                v
                for v in (cell.area_hi, None if high is None else floor(pixels(high)))
                if v is not None
            ]
            yield replace(cell, area_lo=max(lows, default=None), area_hi=min(highs, default=None))


@frozen
class Growing(SizeBind):
    """A number that never falls where a side grows: a diagonal, a circumference.

    Attributes:
        of: the number for a width and a height in whole pixels.
        slack: by how much a value may miss an exact limit, in the limit's own unit.
    """

    of: Callable[[int, int], float]
    slack: float = 0.0
    name: str = field(default="", compare=False)

    def narrow(self, cell: Cell, limit: Limit) -> Iterator[Cell]:
        """The parts of a cell that meet a limit."""
        spans: list[tuple[Any, Any]] = (
            [(v - self.slack, v + self.slack) for v in limit.one_of]
            if limit.one_of
            else [(limit.at_least, limit.at_most)]
        )
        for low, high in spans:
            yield replace(cell, grows=(*cell.grows, Grow(self.of, low, high)))


@frozen
class Printed(Bind):
    """Printed sides: pixels over pixels per inch. Print binds are folded together.

    Attributes:
        side: across, up, both, or the longer or shorter of them.
    """

    side: Literal["width", "height", "both", "longest", "shortest"]

    def axes(self, turn: Turn) -> tuple[Literal[0, 1], ...]:
        """The axes that it speaks of in a picture that lies so: 0 across, 1 up."""
        if self.side == "both":
            return 0, 1
        if self.side in ("width", "height"):
            return (0,) if self.side == "width" else (1,)
        return (0,) if (self.side == "longest") == (turn != "upright") else (1,)


@frozen
class Resolution(Bind):
    """Pixels per inch."""


@frozen
class Scale(Bind):
    """How much the photo may be scaled; binds the sizes that a given photo can reach."""


WIDTH, HEIGHT = Side("width"), Side("height")
LONGEST, SHORTEST = Side("longest"), Side("shortest")
BOTH, PROPORTION, TURNED = Both(), Proportion(), Turned()
MEGAPIXELS = Area(10**6)
PRINTED_WIDTH, PRINTED_HEIGHT = Printed("width"), Printed("height")
PRINTED_BOTH = Printed("both")
PRINTED_LONGEST, PRINTED_SHORTEST = Printed("longest"), Printed("shortest")
PRINTED = (PRINTED_WIDTH, PRINTED_HEIGHT, PRINTED_BOTH, PRINTED_LONGEST, PRINTED_SHORTEST)
RESOLUTION = Resolution()
SCALE = Scale()


def binds_size(bind: Bind | None) -> bool:
    """Whether something bound has a part in the sizes that are allowed to any photo."""
    return isinstance(bind, (SizeBind, Printed, Resolution))
