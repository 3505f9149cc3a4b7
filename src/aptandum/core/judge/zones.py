"""Zones: parts of a place that cover the picture, and what must not lie under them."""

from __future__ import annotations

from collections.abc import Iterable

from aptandum.core.brief.model import Brief, Seen, Zone
from aptandum.core.frozen import frozen
from aptandum.core.photo.marks import People, head_box
from aptandum.core.photo.turning import swung_box
from aptandum.core.words import say

Box = tuple[float, float, float, float]
"""Left, top, width and height."""

_EPS = 1e-6


@frozen
class Kept:
    """Something that must stay clear: a box in photo pixels, and what it is."""

    name: str
    box: Box


@frozen
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


def kept_of(people: People, angle: float, photo: tuple[int, int]) -> tuple[Kept, ...]:
    """What must stay clear, in the pixels of the straightened photo: boxes drawn by hand, heads, and
    the subject where it is a thing."""
    drawn = [
        Kept(say("box {n}", n=n), box) for n, box in enumerate(people.hand.keep_clear, start=1)
    ]
    heads = [Kept(say("the face"), head_box(face)) for face in people.faces]
    thing = [] if people.subject is None else [Kept(say("the subject"), people.subject)]
    return tuple(
        Kept(one.name, swung_box(one.box, angle, photo)) for one in (*drawn, *heads, *thing)
    )
