"""Layers: figures, pictures, textures and colours that lie over a panel's ground, in order, cut off where it ends."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any, Literal

from pydantic import Field, field_validator

from aptandum.core.fitting.finish.base import COLOUR, Canvas, FinishError, FinishPart, laid_over
from aptandum.core.fitting.finish.textures import is_file, texture
from aptandum.core.judge.polygons import inside
from aptandum.core.later import cv2, np
from aptandum.core.photo.engine import Pixels
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.turning import then
from aptandum.core.words import say

MOST_LAYERS = 20
"""So many can lie over one panel's ground."""
_MOST_POINTS = 400
_MOST_TIMES = 4.0
"""Of the panel's longer side: no layer is made larger, whatever its photo's shape."""
_FAR = 2.0
"""Of the panel's box: how far beyond it a layer's middle may lie."""

Point = tuple[float, float]


class Layer(FinishPart):
    """One layer.

    Attributes:
        kind: ``figure``: of a photo only the person or thing; ``photo``: all of it; ``texture``; ``colour``.
        source: the photo's path, a shipped texture's name, or the path of a picture that is laid as tiles.
        at: the middle of a figure or a photo, as shares of the panel's box from its left and its top.
        wide: of a figure or a photo, as a share of the box's width.
        angle: degrees by which a figure or a photo is turned, clockwise.
        colour: of a colour.
        edge: the corners, as shares of the box, inside which the layer lies; none: all of the panel.
        turn: what a person has turned the photo by, as EXIF counts, on top of its own orientation.
    """

    kind: Literal["figure", "photo", "texture", "colour"] = "figure"
    source: str = Field(default="", max_length=4000)
    at: Point = (0.5, 0.5)
    wide: float = Field(default=0.6, ge=0.01, le=_MOST_TIMES)
    angle: float = Field(default=0.0, ge=-180, le=180)
    colour: str = Field(default="#FFFFFF", pattern=COLOUR)
    edge: tuple[Point, ...] = Field(default=(), max_length=_MOST_POINTS)
    turn: int = Field(default=1, ge=1, le=8)

    @field_validator("at")
    @classmethod
    def _near(cls, value: Point) -> Point:
        if not all(-_FAR <= v <= 1 + _FAR for v in value):
            raise ValueError(say("a point in or near the panel"))
        return value

    @field_validator("edge")
    @classmethod
    def _corners(cls, value: tuple[Point, ...]) -> tuple[Point, ...]:
        if value and len(value) < 3:
            raise ValueError(say("at least three corners"))
        if not all(-_FAR <= v <= 1 + _FAR for point in value for v in point):
            raise ValueError(say("corners in or near the panel"))
        return value

    def with_files(self, change: Callable[[str], str]) -> Layer:
        """The same with its file's path changed; this very one where it names none."""
        if self.source and (self.kind in ("figure", "photo") or is_file(self.source)):
            return self.model_copy(update={"source": change(self.source)})
        return self

    def with_turned(self, path: str, code: int) -> Layer:
        """The same with the picture at a path turned (``code`` as EXIF counts)."""
        if self.source != path:
            return self
        return self.model_copy(update={"turn": then(self.turn, code)})


def edge_from(stroke: list[Point]) -> tuple[Point, ...]:
    """The corners inside which a layer lies, of a line that was drawn on its panel.

    A line that comes back to where it began is an outline. Any other is carried on, level, to both sides of the
    panel; what lies below it is covered, and above it where it was drawn from right to left.

    Args:
        stroke: points as shares of the panel's box, in the order in which they were drawn.

    Returns:
        No corners where what was drawn is too short for a line.
    """
    points = np.asarray(stroke, np.float32).reshape(-1, 2)
    if len(points) < 2 or float(np.ptp(points, 0).max()) < 0.02:
        return ()
    span, apart = float(np.ptp(points, 0).max()), math.dist(stroke[0], stroke[-1])
    closed = len(points) > 2 and apart < 0.15 * span
    plain = cv2.approxPolyDP(points[:, None], 0.004, closed)[:, 0].astype(float)
    made = [(round(min(max(x, -1.0), 2.0), 4), round(min(max(y, -1.0), 2.0), 4)) for x, y in plain]
    if closed:
        return tuple(made[:_MOST_POINTS]) if len(made) > 2 else ()
    made = made[: _MOST_POINTS - 4]
    rightward = made[-1][0] >= made[0][0]
    far = 1.5 if rightward else -0.5
    ends = (-0.5, 1.5) if rightward else (1.5, -0.5)
    first, last = (ends[0], made[0][1]), (ends[1], made[-1][1])
    return (first, *made, last, (ends[1], far), (ends[0], far))


def lay(box: Pixels, layer: Layer, like: Picture, place: Canvas) -> Pixels:
    """A panel's box with a layer over it.

    Args:
        box: the panel's pixels with alpha, shape (h, w, bands + 1), in the numbers of ``like``.

    Raises:
        FinishError: its photo or its texture cannot be used.
    """
    high, wide = box.shape[:2]
    if layer.kind == "colour":
        over: Any = like.numbers(layer.colour)
        share: Any = np.ones((high, wide), np.float32)
    elif layer.kind == "texture":
        over = texture(layer.source, (wide, high), like, place, layer.turn)
        share = np.ones((high, wide), np.float32)
    else:
        over, share = _stood(layer, (wide, high), like, place)
    if layer.edge:
        share = share * _within(layer.edge, (wide, high))
    return laid_over(replace(like, pixels=box, alpha=True), over, share)


def _within(edge: tuple[Point, ...], size: tuple[int, int]) -> Any:
    """How much of each pixel lies inside an edge, 0..1: of 4 x 4 points in it, those inside."""
    fine = 4
    points = [(x * size[0] * fine, y * size[1] * fine) for x, y in edge]
    held = inside(points, (size[0] * fine, size[1] * fine))
    blocks = held.reshape(size[1], fine, size[0], fine)
    return blocks.mean((1, 3), dtype=np.float32)


def extent(layer: Layer, size: tuple[int, int], place: Canvas) -> tuple[float, float]:
    """Width and height of a figure or a photo on a panel's box of this size, before it is turned.

    Raises:
        FinishError: its photo cannot be read, or nothing stands out in it.
    """
    _left, _top, across, up = _window(layer, place)
    wide = layer.wide * size[0]
    return wide, wide * up / across


def _window(layer: Layer, place: Canvas) -> tuple[float, float, float, float]:
    if place.others is None:
        raise FinishError(say("The photo of a layer is not at hand."))
    return place.others.extent(layer.source, layer.kind == "figure", layer.turn)


def _stood(layer: Layer, size: tuple[int, int], like: Picture, place: Canvas) -> tuple[Any, Any]:
    """A figure's or a photo's pixels on a box of this size, and how opaque each is, 0..1."""
    window = _window(layer, place)
    wide, high = extent(layer, size, place)
    least = min(1.0, _MOST_TIMES * max(size) / max(wide, high))
    w, h = max(1, round(wide * least)), max(1, round(high * least))
    free = layer.kind == "figure"
    assert place.others is not None  # else there were no window
    part = place.others.render(layer.source, window, (w, h), like, free, layer.turn)
    cover: Any = part[..., -1].astype(np.float32) / like.top
    # Mixed by how opaque each pixel is: what is hidden under clear ones comes to no rim.
    under: Any = part[..., :-1].astype(np.float32) * cover[..., None]
    c, s = math.cos(math.radians(layer.angle)), math.sin(math.radians(layer.angle))
    x, y = layer.at[0] * size[0], layer.at[1] * size[1]
    if layer.angle == 0:  # on whole pixels, so that nothing is softened
        x, y = math.floor(x - w / 2 + 0.5) + w / 2, math.floor(y - h / 2 + 0.5) + h / 2
    mx, my = w / 2 - 0.5, h / 2 - 0.5
    matrix = np.array(
        [[c, -s, x - 0.5 - c * mx + s * my], [s, c, y - 0.5 - s * mx - c * my]], np.float64
    )
    way = cv2.INTER_NEAREST if layer.angle == 0 else cv2.INTER_CUBIC
    cover = np.clip(cv2.warpAffine(cover, matrix, size, flags=way), 0, 1)
    under = cv2.warpAffine(under, matrix, size, flags=way)
    under = under.reshape(size[1], size[0], -1) / np.maximum(cover, 1e-4)[..., None]
    return np.clip(under, 0, like.top), cover
