"""Keyline: a line of whole pixels just inside the edge. The picture's size stays as it is.

Its **loudness** is the mean CIEDE2000 between the line as it is blended and what it borders on
both sides along the edge: the picture within, and the surround it is seen on without. Around
:data:`QUIET` the line is seen and does not compete with the picture (a just noticeable
difference is about 1; side by side 5 is plain at a glance).
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from pydantic import Field

from aptandum.core.brief.model import Brief
from aptandum.core.fitting.finish.base import (
    COLOUR,
    Canvas,
    Finish,
    FinishPart,
    Given,
    blended,
    laid_over,
    whole,
)
from aptandum.core.frozen import frozen
from aptandum.core.later import cv2, np
from aptandum.core.photo import engine
from aptandum.core.photo.engine import Pixels
from aptandum.core.photo.picture import Picture, Rim
from aptandum.core.words import listed, say

QUIET = (6.0, 18.0)
"""The band of loudness in which a line is seen without competing; set by eye on the demo's
pictures, and only a mark on the card's gauge: nothing is judged by it."""

_KEEP = 10  # rings of pixels kept beyond the line, so that its width can be measured


class Keyline(FinishPart):
    """Attributes:
    width: of the line in output pixels; 0: none.
    colour: ``None``: the first of those suggested from the picture.
    strength: how much of the colour the line takes on, 0..100 %.
    inner_width, inner_colour: of a second line within the first.
    """

    width: int = Field(default=0, ge=0, le=400)
    colour: str | None = Field(default=None, pattern=COLOUR)
    strength: float = Field(default=100.0, ge=0, le=100)
    inner_width: int = Field(default=0, ge=0, le=400)
    inner_colour: str | None = Field(default=None, pattern=COLOUR)


def ring(shape: tuple[int, ...], start: int, width: int) -> Any:
    """Where the ring lies that begins ``start`` pixels from the edge: bool, shape (h, w)."""
    high, wide = shape[:2]
    made = np.zeros((high, wide), bool)
    if width <= 0:
        return made
    made[start : max(start, high - start), start : max(start, wide - start)] = True
    end = start + width
    if high - 2 * end > 0 and wide - 2 * end > 0:
        made[end : high - end, end : wide - end] = False
    return made


def draw(picture: Picture, settings: Keyline, place: Canvas) -> Picture:
    """Draw the line, whole pixels wide, inside the edge."""
    width = whole(settings.width, place.zoom)
    inner = whole(settings.inner_width, place.zoom)
    pixels = picture.pixels
    rim = Rim.of(picture.pixels, width + inner + _KEEP, width + inner)
    share = settings.strength / 100
    colour = settings.colour or (suggestions(picture) or [Suggested("#808080", 0, 0)])[0].colour
    second = settings.inner_colour or _other(colour)
    for start, wide, name in ((0, width, colour), (width, inner, second)):
        if wide:
            pixels = _ring(pixels, picture, ring(pixels.shape, start, wide), name, share)
    return replace(picture, pixels=pixels, rim=rim)


def _ring(pixels: Pixels, picture: Picture, where: Any, colour: str, share: float) -> Pixels:
    """The pixels with a ring of them drawn towards a colour."""
    numbers = picture.numbers(colour)
    if picture.bits == 1:
        lightness = float(np.asarray(numbers, np.float64).mean())
        numbers = np.array([255 if lightness >= 128 else 0], np.uint8)
        share = 1.0 if share >= 0.5 else 0.0
    return laid_over(replace(picture, pixels=pixels), numbers, np.where(where, share, 0.0))


def _other(colour: str) -> str:
    """Black beside a light line, white beside a dark one."""
    return "#000000" if engine.srgb_lab(colour)[0] > 55 else "#FFFFFF"


# --- loudness and suggestions --------------------------------------------------------------


@frozen
class Suggested:
    """A colour for the line, out of the picture itself.

    Attributes:
        colour: as ``#RRGGBB``, sRGB.
        loudness: at full strength.
        share: of the picture's pixels that are near to it, 0..1.
    """

    colour: str
    loudness: float
    share: float


def _along(picture: Picture, start: int, depth: int = 3) -> Any:
    """CIELAB of the pixels that border on a line from within; shape (n, 3)."""
    where = ring(picture.pixels.shape, start, depth)
    part = picture.pixels[where][None]
    if not part.size:
        part = picture.pixels.reshape(1, -1, picture.pixels.shape[2])
    return engine.to_lab(part, picture.icc, picture.alpha)[0]


def loudness(picture: Picture, settings: Keyline, surround: str) -> float:
    """Mean CIEDE2000 of the line as blended to the picture within and the surround without.

    ``picture`` is the one without the line; ``surround`` a colour such as ``#000000``.
    """
    colour = settings.colour or (suggestions(picture) or [Suggested("#808080", 0, 0)])[0].colour
    width = min(settings.width, min(picture.size) // 3)
    n = max(1, width)
    numbers = picture.numbers(colour)
    outer, inner, last = [], [], []
    for turns in range(4):  # each side as the top one, without its corners
        part = np.rot90(picture.colour, turns)[:, n : picture.colour.shape[1 - turns % 2] - n]
        if part.shape[1] and len(part) > n:
            outer.append(part[:1])
            last.append(part[n - 1 : n])
            deep = min(3, len(part) - n)
            inner.append(part[n : n + deep].mean(0, keepdims=True).astype(part.dtype))
    if not outer:
        return 0.0
    edge, near, within = (np.concatenate(parts, 1) for parts in (outer, last, inner))
    share = np.full(edge.shape[:2], settings.strength / 100)
    rows = [blended(edge, numbers, share), blended(near, numbers, share), within]
    lab = engine.to_lab(np.ascontiguousarray(np.concatenate(rows, 0)), picture.icc)
    to_picture = engine.difference(lab[1:2], lab[2:3]).mean()
    to_ground = engine.difference_to(lab[:1], engine.srgb_lab(surround)).mean()
    return float((to_picture + to_ground) / 2)


_GROUNDS = {"projection": "#000000", "panel": "#101214", "card": "#FFFFFF", "print": "#FFFFFF",
            "grid": "#FFFFFF"}  # fmt: skip
"""What is round a picture at the places that have a ground of their own."""


def surround_of(brief: Brief | None) -> str | None:
    """The colour round a brief's picture where it will be seen; ``None`` where its places have none
    of their own."""
    for place in brief.seen if brief is not None else ():
        if place.colours:
            return place.colours[0]
        if place.as_ in _GROUNDS:
            return _GROUNDS[place.as_]
    return None


def quieted(picture: Picture, settings: Keyline, surround: str) -> Keyline | None:
    """The line in the middle of the quiet band: of its own colour by its strength alone, else of the
    calmest colour of the picture's own; ``None`` where none comes to it.

    Args:
        picture: without the line.
    """
    tried = [settings.colour] if settings.colour else []
    tried += [one.colour for one in suggestions(picture, surround)]
    for colour in tried:
        made = settings.model_copy(update={"colour": colour, "width": settings.width or 2})
        every = [
            (abs(loud - sum(QUIET) / 2), strength)
            for strength in range(5, 101, 5)
            if QUIET[0]
            <= (loud := loudness(picture, made.model_copy(update={"strength": strength}), surround))
            <= QUIET[1]
        ]
        if every:
            return made.model_copy(update={"strength": float(min(every)[1])})
    return None


def suggestions(picture: Picture, surround: str = "#000000", count: int = 6) -> list[Suggested]:
    """Colours of the picture's own (k-means in CIELAB), those first that a line is seen in
    without competing: nearest to the middle of :data:`QUIET` against edge and surround."""
    wide, high = picture.size
    step = max(1, int((wide * high / 6000) ** 0.5))
    small = picture.pixels[::step, ::step]
    lab = engine.to_lab(small, picture.icc, picture.alpha)
    if picture.alpha:
        lab = lab[small[..., -1] > picture.top // 2]
    points = np.ascontiguousarray(lab.reshape(-1, 3), np.float32)
    if len(points) < 8:
        return []
    cv2.setRNGSeed(1)
    wanted = min(count + 2, len(points))
    stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 20, 0.5)
    _fit, labels, middles = cv2.kmeans(points, wanted, None, stop, 2, cv2.KMEANS_PP_CENTERS)  # type: ignore[call-overload]
    edge = _along(picture, 1)
    ground = engine.srgb_lab(surround)
    found = []
    for i, (middle, name) in enumerate(zip(middles, engine.lab_hex(middles), strict=True)):
        share = float((labels == i).mean())
        within = float(engine.difference_to(edge[None], middle).mean())
        without = float(engine.difference_to(middle[None, None], ground)[0, 0])
        found.append((Suggested(name, (within + without) / 2, share), middle))
    apart: list[tuple[Suggested, Any]] = []
    aim = sum(QUIET) / 2
    for one, lab_one in sorted(found, key=lambda s: (abs(s[0].loudness - aim), s[0].colour)):
        near = (engine.difference(lab_one[None, None], b[None, None])[0, 0] for _, b in apart)
        if all(off > 5 for off in near):
            apart.append((one, lab_one))
    return [one for one, _ in apart[:count]]


def _says(settings: Keyline, given: Given) -> str:
    parts = [
        say(
            "{n} px of {colour} at {s} %",
            n=settings.width,
            colour=settings.colour or say("the picture's own colour"),
            s=round(settings.strength),
        )
    ]
    if settings.inner_width:
        parts.append(
            say(
                "{n} px of {colour} within",
                n=settings.inner_width,
                colour=settings.inner_colour or say("black or white"),
            )
        )
    return say("Keyline: {parts}.", parts=listed(parts, "and"))


FINISH = Finish(
    "keyline",
    say("Keyline"),
    Keyline,
    lambda settings: "keyline",
    lambda settings, given: settings.width > 0 and settings.strength > 0,
    draw,
    _says,
    after_dots=True,
)
