"""What can be held over the sheet: a dropper for a colour and a point, and the round brush."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

Point = tuple[float, float]


@dataclass
class Dropper:
    """Takes the colour under the next click.

    Attributes:
        words: what it is for, told beside the pointer.
        done: called with the colour (``#RRGGBB``) and the point in photo pixels.
    """

    words: str
    done: Callable[[str, Point], None]


@dataclass
class Boxer:
    """Draws a box; a click without a drag says a point alone.

    Attributes:
        words: what it is for, told beside the pointer.
        done: called with the box (left, top, width, height) in photo pixels; of a click without width and height.
    """

    words: str
    done: Callable[[tuple[float, float, float, float]], None]


@dataclass
class Liner:
    """Draws a line by hand.

    Attributes:
        words: what it is for, told beside the pointer.
        done: called with the line's points, as shares of the finished picture from its left and its top.
    """

    words: str
    done: Callable[[list[Point]], None]


@dataclass
class Brush:
    """Paints on the mask of what stands before the backdrop.

    Attributes:
        adds: to it; else it takes away. Shift turns it round while it is held.
        radius: in sheet pixels, so that it is as fine as one looks closely.
    """

    adds: bool = True
    radius: float = 18.0


Tool = Boxer | Dropper | Liner | Brush
