"""Whether words can be read: one formula, for letters that are set here and for those that a photo has.

Words read where a picture is seen when, on every ground that it is seen on,

* their letters are at least :data:`SMALLEST` device pixels high, and
* they part from what is round them by a ratio of luminances (WCAG 2.2, 1.4.3) of at least :data:`CONTRAST`. A
  stroke that is thinner than a device pixel mixes with what is round it, so that only a part of its contrast is
  left: of a stroke of half a pixel, half.

How opaque the picture is, and what lies on it, is mixed in encoded numbers, as browsers and players do
(:mod:`aptandum.core.mockup.effects`). Luminances are 0..1; lengths are pixels of the picture unless said otherwise.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from aptandum.core.brief.model import Brief, Seen
from aptandum.core.frozen import frozen
from aptandum.core.later import cv2, np
from aptandum.core.photo import engine
from aptandum.core.photo.luminance import footage, luminance, rgb
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped
from aptandum.core.words import say

if TYPE_CHECKING:
    from numpy.typing import NDArray

CONTRAST = 3.0
"""Ratio of luminances that large letters need at least (WCAG 2.2, 1.4.3)."""

SMALLEST = 4.0
"""Height of letters in device pixels below which they run together."""

_WORST = 95
"""Per cent of the ground round the letters on which they have to stand out."""
_WIDE = 1.5
"""Pixels from which on a stroke's middle can be told."""
_FINE = 12
"""Pixels that a stroke is enlarged to at least before its middle is told."""
_SPECK = 0.35
"""Share of the highest piece of ink below which another is no letter, but a dot or a comma."""
_PIECE = 0.35
"""Coverage from which on pixels hang together as a letter."""
_NOISE = 0.12
"""Coverage below which a pixel is taken for ground."""
_PARTED = 3.0
"""Steps of lightness (CIELAB) below which nothing is told for letters in a box."""
_LEAST = 3
"""Pixels that a box must have each way for letters to be looked for in it."""
_FRAME = (320, 180)


@frozen
class Ground:
    """What a picture is seen on, and how.

    Attributes:
        name: in words.
        opacity: of the picture, 0..1.
        under: numbers 0..255 of what shows through it and through its clear parts, shape (n, 3): all are judged.
        veil: a colour that lies on the picture; ``None``: none.
        veiled: how much of the picture it covers, 0..1.
    """

    name: str
    opacity: float = 1.0
    under: tuple[tuple[int, int, int], ...] = ((255, 255, 255),)
    veil: tuple[int, int, int] | None = None
    veiled: float = 0.0


@dataclass(frozen=True, eq=False)
class Stroke:
    """What of letters is measured.

    Attributes:
        height: the middle height of the letters.
        width: of their strokes.
        needs: by a ground's name, the share of a letter's full contrast that it needs there; above 1: it does not
            stand out at any size.
        ratios: by a ground's name, the ratio of luminances there, 1 to 21.
    """

    height: float
    width: float
    needs: dict[str, float]
    ratios: dict[str, float]

    def least(self) -> float:
        """The least size, as a share of the picture's own, at which the letters read; infinite where at none."""
        worst = max(self.needs.values(), default=math.inf)
        if worst > 1 or not self.height or not self.width:
            return math.inf
        return max(SMALLEST / self.height, worst / self.width)

    def why(self, k: float) -> str:
        """Why they do not read at a size: ``pale``, ``small`` or ``thin``; empty: they do."""
        if not self.needs or max(self.needs.values()) > 1:
            return "pale"
        if self.height * k < SMALLEST - 1e-9:
            return "small"
        return "thin" if self.width * k < max(self.needs.values()) - 1e-9 else ""

    def palest(self) -> str:
        """The ground on which they stand out least."""
        return max(self.needs, key=lambda name: self.needs[name], default="")


def grounds_of(brief: Brief, alpha: bool) -> tuple[Ground, ...]:
    """What a brief's picture is seen on.

    Args:
        alpha: parts of it are clear.
    """
    found = [ground for place in brief.seen for ground in _of_place(place, alpha)]
    if found:
        return tuple(found)
    if alpha:
        return Ground(say("white")), Ground(say("black"), under=((0, 0, 0),))
    return (Ground(say("its own ground")),)


def _of_place(place: Seen, alpha: bool) -> list[Ground]:
    if place.as_ == "corner":
        share = place.opacity if place.opacity is not None else 1.0
        if share >= 1 and not alpha:
            return [Ground(say("its own ground"))]
        names = {"light": say("light film"), "dark": say("dark film"), "busy": say("busy film")}
        return [Ground(name, share, _corner(kind)) for kind, name in names.items()]
    if place.as_ == "tint" and place.colours:
        share = place.opacity if place.opacity is not None else 0.5
        return [
            Ground(say("the tint {colour}", colour=colour), veil=rgb(colour), veiled=share)
            for colour in place.colours
        ]
    if alpha:
        return [Ground(say("white")), Ground(say("black"), under=((0, 0, 0),))]
    return [Ground(say("its own ground"))]


def _corner(kind: str) -> tuple[tuple[int, int, int], ...]:
    """A few of the colours in the corner of a film that stand for all: of equal steps of luminance."""
    wide, high = _FRAME
    part = footage(kind, _FRAME)[high // 2 :, wide // 2 :].reshape(-1, 3)
    order = np.argsort(luminance(part), kind="stable")
    places = np.linspace(0.05, 0.95, 7) * (len(order) - 1)
    return tuple((int(c[0]), int(c[1]), int(c[2])) for c in part[order[places.astype(int)]])


def strokes(share: NDArray[Any]) -> tuple[float, float]:
    """The middle height of letters and the width of their strokes, in pixels; 0 where there is no ink.

    The width is twice the area by the length of the outline, both told from the coverage itself, so that strokes
    between pixels and below one count as they are. Where strokes are wide for that, their ends would count as sides:
    there it is twice the middle distance from the middle of a stroke to its edge.

    Args:
        share: how much of each pixel is ink, 0..1, shape (h, w).
    """
    ink = np.pad(np.asarray(share, np.float64), 1)
    area = float(ink.sum())
    if area < 0.5:
        return 0.0, 0.0
    across, down = np.diff(ink, axis=1)[:-1], np.diff(ink, axis=0)[:, :-1]
    outline = float(np.hypot(across, down).sum())
    # Where no pixel is all ink, a stroke is thinner than one, and its sides are as much lower.
    full = float(np.percentile(ink[ink > 0.5 * ink.max()], 75))
    width = 2 * full * area / max(outline, 1e-6)
    return _height(ink), width if width < _WIDE else _middle_width(ink, width)


def _middle_width(ink: NDArray[Any], about: float) -> float:
    """The middle width of strokes, told from the lines along their middles; ``about``: what it is nearly."""
    times = max(1, math.ceil(_FINE / about))
    fine: NDArray[Any] = ink.astype(np.float32)
    if times > 1:
        size = ink.shape[1] * times, ink.shape[0] * times
        fine = cv2.resize(fine, size, interpolation=cv2.INTER_LINEAR)
    deep = cv2.distanceTransform((fine >= 0.5).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    ridge = (deep > 0) & (deep >= cv2.dilate(deep, np.ones((3, 3), np.uint8)) - 1e-3)
    if not ridge.any():
        return about
    # Towards corners the middle runs out to nothing, which is no stroke's width.
    middles = deep[ridge]
    middles = middles[middles >= 0.7 * np.percentile(middles, 90)]
    # A pixel's own half belongs to the distance; a ridge between two pixels has it in both.
    return (2 * float(np.median(middles)) - 0.5) / times


def _height(ink: NDArray[Any]) -> float:
    """The middle height of the pieces of ink that are letters; the rows at their ends count by their coverage."""
    pieces = (ink >= _PIECE).astype(np.uint8)
    count, labels, stats, _middles = cv2.connectedComponentsWithStats(pieces, connectivity=8)
    heights = stats[1:, cv2.CC_STAT_HEIGHT]
    exact = []
    for i in range(1, count):
        x, y, wide, high = (int(v) for v in stats[i, :4])
        if high < _SPECK * heights.max():
            continue
        around = (
            slice(y - 1, y + high + 1),
            slice(x, x + wide),
        )  # there is a rim of one pixel about all
        mine = cv2.dilate((labels[around] == i).astype(np.uint8), np.ones((3, 3), np.uint8))
        rows = (ink[around] * mine).max(axis=1)
        exact.append(
            float(rows.sum()) if high < 2 else high - 2 + float(rows[[0, 1, -2, -1]].sum())
        )
    return float(np.median(exact)) if exact else 0.0


def ink_in(picture: Picture, box: tuple[int, int, int, int]) -> NDArray[np.float32] | None:
    """How much of each pixel in a part of a picture is ink, 0..1, shape (h, w); ``None`` where nothing there parts
    from its ground.

    What most of the part's rim shows is the ground; what parts from it is ink, by how opaque it is where that
    differs, else by lightness, on the side (darker or lighter) on which there is more of it.
    """
    left, top, across, up = box
    if across < _LEAST or up < _LEAST:
        return None
    plane = _plane(_part(picture, (left, top, left + across, top + up)))
    ground = float(np.median(np.concatenate([plane[0], plane[-1], plane[:, 0], plane[:, -1]])))
    away = plane - ground
    darker, lighter = np.clip(-away, 0, None), np.clip(away, 0, None)
    reach = darker if darker.sum() > lighter.sum() else lighter
    if float(reach.max()) < _PARTED:
        return None
    sure: NDArray[np.bool_] = reach > 0.7 * reach.max()
    # Pixels at an edge are mixtures of light, so how much of one is ink is told by its light.
    light = _light(plane)
    back = float(_light(np.array(ground)))
    share: NDArray[np.float32] = np.clip(
        (light - back) / (float(np.median(light[sure])) - back), 0, 1
    ).astype(np.float32)
    share[reach <= 0] = 0
    share[share < _NOISE] = 0
    return share


def _part(picture: Picture, edges: tuple[int, int, int, int]) -> Picture:
    x0, y0, x1, y1 = edges
    return Picture(np.ascontiguousarray(picture.pixels[y0:y1, x0:x1]), picture.icc, picture.alpha)


def _plane(part: Picture) -> NDArray[Any]:
    """How opaque a part is, where that tells letters apart, else its lightness; shape (h, w), 0..100."""
    if part.alpha:
        cover = part.pixels[..., -1].astype(np.float64) / part.top
        if float(cover.max() - cover.min()) > 0.3:
            # As lightness, of which light is made again.
            return np.asarray(np.clip(116 * np.cbrt(cover) - 16, 0, 100))
    return np.asarray(part.lab()[..., 0].astype(np.float64))


@dataclass(frozen=True, eq=False)
class About:
    """Letters and what is round them, as sRGB numbers 0..255, shape (n, 3), and how opaque each is, 0..1, shape (n, 1)."""

    ink: NDArray[Any]
    ink_cover: NDArray[Any]
    near: NDArray[Any]
    near_cover: NDArray[Any]

    def seen(self, ground: Ground) -> list[tuple[NDArray[Any], NDArray[Any]]]:
        """Luminances of the letters and of what is round them, for each colour that shows through."""
        return [
            (
                seen_on(self.ink, self.ink_cover, ground, under),
                seen_on(self.near, self.near_cover, ground, under),
            )
            for under in ground.under
        ]

    def need(self, ground: Ground) -> float:
        """The share of the letters' contrast that is enough on a ground; above 1: all is not enough."""
        return max(need(one, about) for one, about in self.seen(ground))


def about(picture: Picture, box: tuple[int, int, int, int], share: NDArray[Any]) -> About | None:
    """Letters and what is round them, about as far as their strokes are wide; ``None`` where there is none of either."""
    room = max(1, round(strokes(share)[1] / 2))
    left, top, across, up = box
    x0, y0 = max(0, left - room), max(0, top - room)
    x1, y1 = min(picture.size[0], left + across + room), min(picture.size[1], top + up + room)
    part = _part(picture, (x0, y0, x1, y1))
    ink = np.zeros(part.pixels.shape[:2], np.float32)
    ink[top - y0 : top - y0 + up, left - x0 : left - x0 + across] = share
    reach = np.ones((2 * room + 1,) * 2, np.uint8)
    near = (cv2.dilate((ink > 0.5 * ink.max()).astype(np.uint8), reach) > 0) & (ink < _NOISE / 2)
    sure = ink >= max(0.5, 0.9 * float(ink.max()))
    if not near.any() or not sure.any():
        return None
    numbers = engine.from_lab(part.lab(), shipped("srgb"), 8)[..., :3].astype(np.float64)
    cover = np.ones((*ink.shape, 1))
    if part.alpha:
        cover = part.pixels[..., -1:].astype(np.float64) / part.top
    return About(numbers[sure], cover[sure], numbers[near], cover[near])


def _light(lightness: NDArray[Any]) -> NDArray[Any]:
    """Light 0..1 of a lightness 0..100 (CIELAB)."""
    return np.asarray(np.where(lightness > 8, ((lightness + 16) / 116) ** 3, lightness / 903.3))


def measured(
    picture: Picture,
    box: tuple[int, int, int, int],
    share: NDArray[Any],
    grounds: Iterable[Ground],
    upright: NDArray[Any] | None = None,
) -> Stroke:
    """What of some words is measured on a picture.

    Args:
        box: left, top, width and height of the words.
        share: how much of each pixel there is ink, 0..1, shape (h, w).
        grounds: those that the picture is seen on.
        upright: of words that are turned, the same before they were.
    """
    height, width = strokes(share if upright is None else upright)
    found = about(picture, box, share)
    if found is None:
        return Stroke(height, width, {}, {})
    needs, ratios = {}, {}
    for ground in grounds:
        seen = found.seen(ground)
        needs[ground.name] = max(need(one, other) for one, other in seen)
        ratios[ground.name] = min(ratio(one, other) for one, other in seen)
    return Stroke(height, width, needs, ratios)


def solid(share: Any) -> NDArray[np.bool_]:
    """Where letters cover at least half of a pixel."""
    return np.asarray(share, np.float32) >= 0.5


def seen_on(
    colours: NDArray[Any], cover: NDArray[Any], ground: Ground, under: tuple[int, int, int]
) -> NDArray[np.float64]:
    """Luminances of colours as they are seen on a ground.

    Args:
        colours: sRGB numbers 0..255, shape (n, 3).
        cover: how opaque each is, 0..1, shape (n, 1).
        under: what shows through.
    """
    share = cover * ground.opacity
    mixed = colours * share + np.array(under, np.float64) * (1 - share)
    if ground.veil is not None:
        mixed = mixed * (1 - ground.veiled) + np.array(ground.veil, np.float64) * ground.veiled
    return luminance(mixed)


def need(ink: NDArray[Any], near: NDArray[Any]) -> float:
    """The share of the difference between ink and what is round it that is enough for :data:`CONTRAST`, on nearly
    all of the ground; above 1 where all of it is not enough."""
    away = float(np.median(ink)) - near
    enough = np.where(away > 0, CONTRAST - 1, 1 - 1 / CONTRAST) * (near + 0.05)
    return float(np.percentile(enough / np.maximum(np.abs(away), 1e-9), _WORST))


def ratio(ink: NDArray[Any], near: NDArray[Any]) -> float:
    """The ratio of luminances that ink has to nearly all of what is round it, 1 to 21."""
    one = float(np.median(ink))
    both = (np.maximum(one, near) + 0.05) / (np.minimum(one, near) + 0.05)
    return float(np.percentile(both, 100 - _WORST))
