"""Shade: a picture of light and dark laid over a part of the picture or all of it."""

from __future__ import annotations

from dataclasses import replace
from importlib import resources
from typing import Any, Literal

from pydantic import Field, field_validator

from aptandum.core.fitting.finish.base import (
    Canvas,
    Finish,
    FinishPart,
    Given,
    in_numbers_of,
    open_layer,
)
from aptandum.core.later import Image, np
from aptandum.core.numbers import QuantityError
from aptandum.core.photo.picture import Picture
from aptandum.core.quantity import parse_share
from aptandum.core.words import say

SHADES = ("dusk-edge", "soft-folds", "lamp-left")
"""Shading pictures of our own that are shipped."""


class Shade(FinishPart):
    """Attributes:
    picture: a shipped shade, a file's path, or ``none``; ``None``: the brief's own.
    strength: 0..100 %.
    blend: ``over`` as it is; ``darken`` multiplies; ``lighten`` is its counterpart.
    area: left, top, width, height as shares of the picture, 0..1; ``None``: all of it.
    fit: where its shape is another than the area's: ``cover`` keeps its proportion and cuts off what is left over,
        ``stretch`` changes it.
    """

    picture: str | None = Field(default=None, max_length=4000)
    strength: float = Field(default=100.0, ge=0, le=100)
    blend: Literal["over", "darken", "lighten"] = "over"
    area: tuple[float, float, float, float] | None = None
    fit: Literal["cover", "stretch"] = "cover"

    @field_validator("area", mode="before")
    @classmethod
    def _shares(cls, value: Any) -> Any:
        if isinstance(value, str):
            parts = [part for part in value.split(",") if part.strip()]
            if len(parts) != 4:
                raise ValueError(say("four shares: left, top, width, height"))
            try:
                return tuple(float(parse_share(part.strip())) for part in parts)
            except QuantityError as error:
                raise ValueError(str(error)) from None
        return value

    @field_validator("area")
    @classmethod
    def _inside(cls, value: Any) -> Any:
        if value is not None and not (
            min(value) >= 0
            and value[0] + value[2] <= 1.0001
            and value[1] + value[3] <= 1.0001
            and value[2] > 0
            and value[3] > 0
        ):
            raise ValueError(say("shares that lie inside the picture"))
        return value


def file_of(settings: Shade, given: Given) -> str | None:
    """The file that is laid on, or ``None``."""
    if settings.picture == "none":
        return None
    if settings.picture is None:
        return given.shade
    if settings.picture in SHADES:
        return str(resources.files("aptandum.data").joinpath(f"shades/{settings.picture}.png"))
    return settings.picture


def draw(picture: Picture, settings: Shade, place: Canvas) -> Picture:
    """Lay the shade's picture over its part of the photo, as strongly as is set."""
    path = file_of(settings, Given(place.border, place.shade, place.template))
    if path is None:
        return picture
    wide, high = picture.size
    left, top, across, up = settings.area or (0.0, 0.0, 1.0, 1.0)
    x0, y0 = round(left * wide), round(top * high)
    x1, y1 = max(x0 + 1, round((left + across) * wide)), max(y0 + 1, round((top + up) * high))
    layer = open_layer(path, say("shade"))
    if layer.shape[1::-1] != (x1 - x0, y1 - y0):
        size = (x1 - x0, y1 - y0)
        box = _covering(layer.shape[1::-1], size) if settings.fit == "cover" else None
        layer = np.asarray(Image.fromarray(layer).resize(size, Image.Resampling.LANCZOS, box))
    share = layer[..., 3].astype(np.float32) / 255 * settings.strength / 100
    over: Any = in_numbers_of(picture, np.ascontiguousarray(layer[..., :3])).astype(np.float32)
    full = float(picture.top)
    pixels = picture.pixels.copy()
    bands = picture.colour.shape[2]
    part = pixels[y0:y1, x0:x1, :bands].astype(np.float32)
    if settings.blend == "darken":
        over = part * over / full
    elif settings.blend == "lighten":
        over = full - (full - part) * (full - over) / full
    mixed = part * (1 - share[..., None]) + over * share[..., None]
    drawn = np.clip(np.rint(mixed), 0, full).astype(pixels.dtype)
    if picture.alpha:  # nothing is hidden under what is clear
        drawn = np.where(pixels[y0:y1, x0:x1, -1:] > 0, drawn, pixels[y0:y1, x0:x1, :bands])
    pixels[y0:y1, x0:x1, :bands] = drawn
    return replace(picture, pixels=pixels)


def _covering(shade: tuple[int, int], area: tuple[int, int]) -> tuple[float, float, float, float]:
    """Left, top, right and bottom of the part of a shade, about its middle, that has an area's proportion."""
    wide = min(shade[0], shade[1] * area[0] / area[1])
    high = min(shade[1], shade[0] * area[1] / area[0])
    left, top = (shade[0] - wide) / 2, (shade[1] - high) / 2
    return left, top, left + wide, top + high


def _says(settings: Shade, given: Given) -> str:
    name = (settings.picture or say("of the brief")).rsplit("/", 1)[-1]
    strength = round(settings.strength)
    if settings.fit == "stretch":
        return say("Shade {name} at {s} %, stretched over its part.", name=name, s=strength)
    return say("Shade {name} at {s} %.", name=name, s=strength)


FINISH = Finish(
    "shade",
    say("Shade"),
    Shade,
    lambda settings: "shade",
    lambda settings, given: settings.strength > 0 and file_of(settings, given) is not None,
    draw,
    _says,
)
