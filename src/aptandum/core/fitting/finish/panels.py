"""Panels: a brief's template, each panel filled by itself, everything between left empty."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any, Literal

from pydantic import Field, field_validator

from aptandum.core.errors import Cancelled
from aptandum.core.fitting.finish.base import (
    COLOUR,
    Canvas,
    Finish,
    FinishError,
    FinishPart,
    Given,
    from_json,
    with_alpha,
)
from aptandum.core.fitting.finish.layers import MOST_LAYERS, Layer, lay
from aptandum.core.fitting.finish.textures import is_file, texture
from aptandum.core.judge.polygons import bounds, inside
from aptandum.core.later import np
from aptandum.core.photo.engine import Pixels
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.turning import moved, then
from aptandum.core.words import listed, say, semicolons

_FAR, _LEAST_SIDE = 1e7, 0.5
"""Photo pixels: how far a window may lie from the photo, and what it has at least."""


class Fill(FinishPart):
    """What one panel is filled with.

    Attributes:
        panel: its name in the template.
        kind: ``own``: this fitting's photo, as it is framed over the whole template; ``photo``:
            another (or the same) with a frame of its own; ``texture``; ``colour``; ``empty``.
        source: the photo's path, a shipped texture's name, or the path of a picture that is laid as tiles.
        window: the frame of a photo in its pixels as shown: left, top, width, height. It is cut
            to the shape of the panel's box about its middle; ``None``: the largest cut.
        colour: the panel's, also under what stands free.
        free: of a photo only the person or thing, set on ``colour``.
        turn: what a person has turned the photo by, as EXIF counts, on top of its own orientation.
        layers: what lies over it, the lowest first.
    """

    panel: str = Field(max_length=200)
    kind: Literal["own", "photo", "texture", "colour", "empty"] = "own"
    source: str = Field(default="", max_length=4000)
    window: tuple[float, float, float, float] | None = None
    colour: str = Field(default="#FFFFFF", pattern=COLOUR)
    free: bool = False
    turn: int = Field(default=1, ge=1, le=8)
    layers: tuple[Layer, ...] = Field(default=(), max_length=MOST_LAYERS)

    @field_validator("window")
    @classmethod
    def _sane(cls, value: Any) -> Any:
        if value is not None:
            if not all(abs(v) < _FAR for v in value):  # what is no number is not below anything
                raise ValueError(say("numbers inside the photo"))
            if value[2] < _LEAST_SIDE or value[3] < _LEAST_SIDE:
                raise ValueError(say("a width and height of at least half a pixel"))
        return value

    def with_files(self, change: Callable[[str], str]) -> Fill:
        """The same with the path of every file that it names changed."""
        made: dict[str, Any] = {}
        if self.source and (
            self.kind == "photo" or (self.kind == "texture" and is_file(self.source))
        ):
            made["source"] = change(self.source)
        if self.layers:
            made["layers"] = tuple(layer.with_files(change) for layer in self.layers)
        return self.model_copy(update=made) if made else self

    def with_layer(self, number: int, **changes: Any) -> Fill:
        """The same with one of its layers changed, by its number from 1."""
        made = list(self.layers)
        made[number - 1] = made[number - 1].model_copy(update=changes)
        return self.model_copy(update={"layers": tuple(made)})

    def with_turned(self, path: str, code: int, size: tuple[int, int]) -> Fill:
        """The same with the picture at a path turned (``code`` as EXIF counts), and its frame with it.

        Args:
            size: the photo's as it was shown before.
        """
        made: dict[str, Any] = {}
        if self.kind in ("photo", "texture") and self.source == path:
            made["turn"] = then(self.turn, code)
            if self.window is not None:
                made["window"] = tuple(round(v, 4) for v in moved(self.window, code, size))
        if self.layers:
            made["layers"] = tuple(layer.with_turned(path, code) for layer in self.layers)
        return self.model_copy(update=made) if made else self


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
        if not fill.layers and fill.kind in ("own", "empty"):
            if fill.kind == "own":
                pixels[where] = under[where]
            continue
        scaled = [(x * zoom, y * zoom) for x, y in panel.outline]
        left, top, wide, high = bounds(scaled, picture.size)
        rows, columns = slice(top, top + high), slice(left, left + wide)
        if fill.kind == "own":
            box = under[rows, columns].copy()
        elif fill.kind == "empty":
            box = np.zeros((high, wide, under.shape[2]), under.dtype)
        else:
            box = _content(picture, fill, (wide, high), place)
        for layer in fill.layers:
            if place.cancelled is not None and place.cancelled():
                raise Cancelled
            box = lay(box, layer, picture, place)
        part = where[rows, columns]
        pixels[rows, columns][part] = box[part]
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
        plain[..., :-1] = texture(fill.source, size, picture, place, fill.turn)
        return plain
    if place.others is None:
        raise FinishError(say("The photo of panel “{panel}” is not at hand.", panel=fill.panel))
    over = place.others.render(fill.source, fill.window, size, picture, fill.free, fill.turn)
    share = over[..., -1:].astype(np.float32) / picture.top
    mixed = over[..., :-1].astype(np.float32) * share + plain[..., :-1] * (1 - share)
    plain[..., :-1] = np.clip(np.rint(mixed), 0, picture.top).astype(plain.dtype)
    return plain


_LAYERS = {
    "figure": say("a figure"),
    "photo": say("a photo"),
    "texture": say("a texture"),
    "colour": say("a colour"),
}


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
    parts = []
    for panel in template.panels:
        fill = settings.of(panel.name)
        part = say("{panel} with {what}", panel=panel.name, what=words[fill.kind])
        if fill.layers:
            over = listed([_LAYERS[layer.kind] for layer in fill.layers], "and")
            part = say("{part}, over it {layers}", part=part, layers=over)
        parts.append(part)
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
