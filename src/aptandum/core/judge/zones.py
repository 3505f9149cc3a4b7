"""Zones: parts of a place that cover the picture, and what must not lie under them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import product

from aptandum.core.brief.model import Brief, Seen, Zone

Box = tuple[float, float, float, float]
"""Left, top, width and height."""

_EPS = 1e-6


@dataclass(frozen=True)
class Kept:
    """Something that must stay clear: a box in photo pixels, and what it is."""

    name: str
    box: Box


@dataclass(frozen=True)
class Covered:
    """A zone that lies on something that must stay clear."""

    zone: str
    kept: str


def second_cut(place: Seen, frame: Box) -> Box | None:
    """What a place cuts again from the same upload: a box of its own proportion, as wide or as
    high as the frame, at its anchor; ``None`` where it cuts nothing."""
    if place.aspect is None:
        return None
    left, top, width, height = frame
    wide, high = min(width, height * float(place.aspect)), min(height, width / float(place.aspect))
    x = {"left": 0.0, "right": 1.0}.get(place.anchor, 0.5)
    y = {"top": 0.0, "bottom": 1.0}.get(place.anchor, 0.5)
    return left + (width - wide) * x, top + (height - high) * y, wide, high


def zones_of(brief: Brief) -> tuple[Zone, ...]:
    """All zones of the places where a brief's picture is seen."""
    return tuple(zone for place in brief.seen for zone in place.zones)


def on_photo(zone: Zone, frame: Box) -> Box:
    """A zone in photo pixels, for a frame in photo pixels."""
    left, top, width, height = frame
    return (
        left + zone.left * width,
        top + zone.top * height,
        zone.width * width,
        zone.height * height,
    )


def _meet(a: Box, b: Box) -> bool:
    return (
        a[0] < b[0] + b[2] - _EPS
        and b[0] < a[0] + a[2] - _EPS
        and a[1] < b[1] + b[3] - _EPS
        and b[1] < a[1] + a[3] - _EPS
    )


def covered(zones: Iterable[Zone], frame: Box, kept: Iterable[Kept]) -> tuple[Covered, ...]:
    """Which zones lie on which things."""
    things = tuple(kept)
    return tuple(
        Covered(zone.name, thing.name)
        for zone in zones
        for thing in things
        if _meet(on_photo(zone, frame), thing.box)
    )


def smallest_shift(
    zones: Iterable[Zone], frame: Box, kept: Iterable[Kept], photo: tuple[float, float]
) -> tuple[float, float] | None:
    """The least move of the frame (across, up and down, in photo pixels) after which nothing is
    covered, the frame still inside the photo and everything kept still inside the frame;
    ``None`` where no move does it.

    A zone and a box are apart when one lies wholly to one side of the other, so the least move
    brings edges together: only moves that do need to be looked at.
    """
    areas = [on_photo(zone, frame) for zone in zones]
    boxes = [thing.box for thing in kept]
    left, top, width, height = frame
    across, up = {0.0}, {0.0}
    for (zx, zy, zw, zh), (bx, by, bw, bh) in product(areas, boxes):
        across |= {bx - (zx + zw), bx + bw - zx}
        up |= {by - (zy + zh), by + bh - zy}

    def held(dx: float, dy: float) -> bool:
        x, y = left + dx, top + dy
        inside = (
            x >= -_EPS
            and y >= -_EPS
            and x + width <= photo[0] + _EPS
            and y + height <= photo[1] + _EPS
        )
        return inside and all(
            bx >= x - _EPS
            and by >= y - _EPS
            and bx + bw <= x + width + _EPS
            and by + bh <= y + height + _EPS
            for bx, by, bw, bh in boxes
        )

    def clear(dx: float, dy: float) -> bool:
        moved = [(zx + dx, zy + dy, zw, zh) for zx, zy, zw, zh in areas]
        return not any(_meet(area, box) for area, box in product(moved, boxes))

    moves = sorted(product(across, up), key=lambda move: move[0] ** 2 + move[1] ** 2)
    return next((move for move in moves if held(*move) and clear(*move)), None)
