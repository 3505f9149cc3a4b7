"""Textures: shipped ones, and pictures of a person's own that are laid as tiles."""

from __future__ import annotations

from importlib import resources
from typing import Any

from aptandum.core.fitting.finish.base import Canvas, FinishError, in_numbers_of, open_layer
from aptandum.core.later import Image, np
from aptandum.core.photo.engine import Pixels
from aptandum.core.photo.picture import Picture
from aptandum.core.words import say

TEXTURES = ("ripstop", "linen", "sea-chart", "planks")
"""Textures of our own that are shipped."""


def is_file(source: str) -> bool:
    """Whether a texture is a picture of a person's own, and not a shipped one's name."""
    return bool(source) and source not in TEXTURES


def tile_of(name: str) -> Pixels:
    """A shipped texture's tile, sRGB of 8 bit, shape (h, w, 3).

    Raises:
        FinishError: there is none of that name.
    """
    if name not in TEXTURES:
        raise FinishError(say("There is no texture “{name}”.", name=name))
    file = resources.files("aptandum.data").joinpath(f"textures/{name}.png")
    return np.ascontiguousarray(open_layer(str(file), say("texture"))[..., :3])


def texture(source: str, size: tuple[int, int], like: Picture, place: Canvas, turn: int = 1) -> Any:
    """A texture over a width and a height, in the numbers of ``like``, shape (h, w, bands).

    A tile lies at its own pixels in the finished file, and as much smaller as the picture that is drawn on.

    Args:
        turn: what a person has turned the tile's picture by, as EXIF counts.

    Raises:
        FinishError: there is no such texture, or its picture cannot be read.
    """
    if is_file(source):
        if place.others is None:
            raise FinishError(say("The picture of a texture is not at hand."))
        left, top, wide, high = place.others.extent(source, False, turn)
        scaled = max(1, round(wide * place.zoom)), max(1, round(high * place.zoom))
        # Of a tile that is larger than the panel, only what is seen of it.
        seen = min(scaled[0], size[0]), min(scaled[1], size[1])
        window = left, top, wide * seen[0] / scaled[0], high * seen[1] / scaled[1]
        part = place.others.render(source, window, seen, like, False, turn)
        cover = part[..., -1:].astype(np.float32) / like.top
        white = like.numbers("#FFFFFF")
        mixed = part[..., :-1].astype(np.float32) * cover + white * (1 - cover)
        tile = np.clip(np.rint(mixed), 0, like.top).astype(part.dtype)
    else:
        rgb = tile_of(source)
        if place.zoom < 1:
            less = [max(1, round(side * place.zoom)) for side in rgb.shape[1::-1]]
            rgb = np.asarray(Image.fromarray(rgb).resize(less, Image.Resampling.BOX))
        tile = in_numbers_of(like, np.ascontiguousarray(rgb))
    return tiled(tile, size)


def tiled(tile: Pixels, size: tuple[int, int]) -> Pixels:
    """A tile laid side by side over a width and a height, from the left and the top."""
    high, wide = tile.shape[:2]
    times = (-(-size[1] // high), -(-size[0] // wide), 1)
    made: Pixels = np.tile(tile, times)[: size[1], : size[0]]
    return made
