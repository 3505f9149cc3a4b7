"""What a conversion does to the colours: how far they move, and which lie outside the target."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from aptandum.core.fitting.plan import Line
from aptandum.core.fitting.render import plain
from aptandum.core.later import np
from aptandum.core.photo import engine
from aptandum.core.photo.decode import Photo, from_array

if TYPE_CHECKING:
    from numpy.typing import NDArray

LOOK = 900
"""Longest side of the copy of the framed picture that is looked at, in pixels."""

OUTSIDE = 0.5
"""CIEDE2000 by which a colour must move at 16 bit to count as outside the target; the engine's
own rounding stays below a tenth of it."""


@dataclass(frozen=True, eq=False)
class Conversion:
    """What becomes of the framed picture's colours.

    Attributes:
        share: of the picture that lies outside the target, 0..1.
        outside: where it does, over the frame; bool, shape (h, w), at most
            :data:`LOOK` on its longest side.
        mean, largest: CIEDE2000 between the photo's colours and those written, rounding to the
            depth of the file included.
        grey: the target has no colours, so that all of them move.
    """

    share: float
    outside: NDArray[np.bool_]
    mean: float
    largest: float
    grey: bool = False


def conversion(photo: Photo, line: Line, cancelled: Callable[[], bool] | None = None) -> Conversion:
    """Measure a line's conversion on a copy of the framed picture.

    Raises:
        PhotoError: the photo's pixels cannot be read.
        Cancelled: ``cancelled`` said so.
    """
    station = line.colour
    zoom = min(1.0, LOOK / max(line.frame.output))
    own = plain(photo, line, zoom, cancelled, convert=False)
    colour = own.colour
    seen = np.ones(colour.shape[:2], bool)
    if own.alpha:
        seen = own.pixels[..., -1] > 0
    before = engine.to_lab(colour, own.icc)
    bits = 16 if station.bits == 16 else 8
    image = from_array(colour)
    deep = engine.memory(
        engine.converted(image, own.icc, station.icc, 16, "relative", False, False)
    )
    written = engine.memory(engine.converted(image, own.icc, station.icc, bits, station.intent))
    moved = engine.difference(before, engine.to_lab(deep, station.icc))
    off = engine.difference(before, engine.to_lab(written, station.icc))
    outside = (moved > OUTSIDE) & seen
    share = float(outside.sum() / max(1, seen.sum()))
    off = off[seen] if seen.any() else off.ravel()
    return Conversion(share, outside, float(off.mean()), float(off.max()), station.target == "grey")
