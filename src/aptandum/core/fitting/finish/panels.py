"""Panels: a brief's template, each panel filled by itself, everything between left empty."""

from __future__ import annotations

from dataclasses import replace
from importlib import resources
from typing import Any, Literal

from pydantic import Field, field_validator

from aptandum.core.fitting.finish.base import (
    COLOUR,
    Canvas,
    Finish,
    FinishError,
    FinishPart,
    Given,
    from_json,
    in_numbers_of,
    open_layer,
    with_alpha,
)
from aptandum.core.judge.polygons import bounds, inside
from aptandum.core.later import np
from aptandum.core.photo.engine import Pixels
from aptandum.core.photo.picture import Picture
from aptandum.core.words import say, semicolons

TEXTURES = ("ripstop", "linen", "sea-chart", "planks")
"""Textures of our own that are shipped."""


_FAR, _LEAST_SIDE = 1e7, 0.5
"""Photo pixels: how far a window may lie from the photo, and what it has at least."""


class Fill(FinishPart):
    """What one panel is filled with.

    Attributes:
        panel: its name in the template.
        kind: ``own``: this fitting's photo, as it is framed over the whole template; ``photo``:
            another (or the same) with a frame of its own; ``texture``; ``colour``; ``empty``.
        source: the photo's path or the texture's name.
        window: the frame of a photo in its pixels as shown: left, top, width, height. It is cut
            to the shape of the panel's box about its middle; ``None``: the largest cut.
        colour: the panel's, also under what stands free.
        free: of a photo only the person or thing, set on ``colour``.
        turn: what a person has turned the photo by, as EXIF counts, on top of its own orientation.
    """

    panel: str = Field(max_length=200)
    kind: Literal["own", "photo", "texture", "colour", "empty"] = "own"
    source: str = Field(default="", max_length=4000)
    window: tuple[float, float, float, float] | None = None
    colour: str = Field(default="#FFFFFF", pattern=COLOUR)
    free: bool = False
    turn: int = Field(default=1, ge=1, le=8)

    @field_validator("window")
    @classmethod
    def _sane(cls, value: Any) -> Any:
        if value is not None:
            if not all(abs(v) < _FAR for v in value):  # what is no number is not below anything
                raise ValueError(say("numbers inside the photo"))
            if value[2] < _LEAST_SIDE or value[3] < _LEAST_SIDE:
                raise ValueError(say("a width and height of at least half a pixel"))
        return value


class Panels(FinishPart):
    """Attributes:
    fills: of the panels that do not show this fitting's own photo.
    """

    fills: tuple[Fill, ...] = ()

    @field_validator("fills", mode="before")
    @classmethod
    def _from_text(cls, value: Any) -> Any:
        return from_json(value, say("a list of fills as JSON"))

    def of(self, panel: str) -> Fill:
        """What fills a panel; one of its own kind where nothing does."""
        return next((f for f in reversed(self.fills) if f.panel == panel), Fill(panel=panel))

    def having(self, fill: Fill) -> tuple[Fill, ...]:
        """The fills with one panel's replaced."""
        return (*(f for f in self.fills if f.panel != fill.panel), fill)


def draw(picture: Picture, settings: Panels, place: Canvas) -> Picture:
    """Lay the photo into its panel, and under and around it what the others hold."""
    template = place.template
    if template is None:
        return picture
    under = with_alpha(picture)
    pixels = np.zeros_like(under)
    zoom = picture.size[0] / template.size[0]
    for panel in template.panels:
        where = inside(panel.outline, picture.size, zoom)
        fill = settings.of(panel.name)
        if fill.kind == "empty":
            continue
        if fill.kind == "own":
            pixels[where] = under[where]
            continue
        scaled = [(x * zoom, y * zoom) for x, y in panel.outline]
        left, top, wide, high = bounds(scaled, picture.size)
        box = np.zeros((high, wide, under.shape[2]), under.dtype)
        box[:] = _content(picture, fill, (wide, high), place)
        part = where[top : top + high, left : left + wide]
        pixels[top : top + high, left : left + wide][part] = box[part]
    return replace(picture, pixels=pixels, alpha=True)


def _content(picture: Picture, fill: Fill, size: tuple[int, int], place: Canvas) -> Pixels:
    """What fills a panel's box, with alpha."""
    wide, high = size
    plain = np.empty((high, wide, picture.colour.shape[2] + 1), picture.pixels.dtype)
    plain[..., :-1] = picture.numbers(fill.colour)
    plain[..., -1] = picture.top
    if fill.kind == "colour":
        return plain
    if fill.kind == "texture":
        rgb = texture(fill.source, size)
        plain[..., :-1] = in_numbers_of(picture, rgb)
        return plain
    if place.render_other is None:
        raise FinishError(say("The photo of panel “{panel}” is not at hand.", panel=fill.panel))
    over = place.render_other(fill.source, fill.window, size, picture, fill.free, fill.turn)
    share = over[..., -1:].astype(np.float32) / picture.top
    mixed = over[..., :-1].astype(np.float32) * share + plain[..., :-1] * (1 - share)
    plain[..., :-1] = np.clip(np.rint(mixed), 0, picture.top).astype(plain.dtype)
    return plain


def texture(name: str, size: tuple[int, int]) -> Pixels:
    """A shipped texture over a width and a height, sRGB of 8 bit, shape (h, w, 3).

    Raises:
        FinishError: there is none of that name.
    """
    if name not in TEXTURES:
        raise FinishError(say("There is no texture “{name}”.", name=name))
    file = resources.files("aptandum.data").joinpath(f"textures/{name}.png")
    return np.ascontiguousarray(_tiled(open_layer(str(file), say("texture")), size))


def _tiled(tile: Pixels, size: tuple[int, int]) -> Pixels:
    high, wide = tile.shape[:2]
    times = (-(-size[1] // high), -(-size[0] // wide), 1)
    made: Pixels = np.tile(tile[..., :3], times)[: size[1], : size[0]]
    return made


def _says(settings: Panels, given: Given) -> str:
    words = {
        "own": say("the photo"),
        "photo": say("a photo"),
        "texture": say("a texture"),
        "colour": say("a colour"),
        "empty": say("nothing"),
    }
    template = given.template
    if template is None:
        return ""
    parts = [
        say("{panel} with {what}", panel=panel.name, what=words[settings.of(panel.name).kind])
        for panel in template.panels
    ]
    return say("Panels filled: {parts}.", parts=semicolons(parts))


FINISH = Finish(
    "panels",
    say("Panels"),
    Panels,
    lambda settings: "panels",
    lambda settings, given: given.template is not None,
    draw,
    _says,
)
