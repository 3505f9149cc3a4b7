"""Pictures of at most 256 colours: GIF always, PNG where its bytes are counted."""

from __future__ import annotations

import io
from typing import Any

from aptandum.core.file import quantise
from aptandum.core.file.encode import type_blob
from aptandum.core.file.few_colours import nearest
from aptandum.core.later import Image, np
from aptandum.core.photo import profile
from aptandum.core.photo.decode import from_array
from aptandum.core.photo.engine import Pixels
from aptandum.core.photo.picture import Picture

_CLEAR = 255
_DITHER = 0.15
"""How much of the errors is diffused in a picture with clear parts."""


def in_colours(picture: Picture, colours: int) -> Image.Image:
    """The picture in at most so many colours of its own (2 to 256).

    Parts that are clear stay clear; an edge that is half clear is so or not in a GIF, and as it
    is in a PNG.
    """
    pixels = picture.pixels
    if pixels.dtype == np.uint16:
        pixels = (pixels // 257).astype(np.uint8)
    if pixels.shape[2] == 1:
        return _flat(np.repeat(pixels, 3, 2), colours, picture.icc)
    if pixels.shape[2] == 2:
        pixels = np.concatenate([np.repeat(pixels[..., :1], 3, 2), pixels[..., 1:]], 2)
    if pixels.shape[2] == 4 and pixels[..., 3].min() < 255:
        return _clear(pixels, colours)
    return _flat(pixels[..., :3], colours, picture.icc)


def _clear(pixels: Pixels, colours: int) -> Image.Image:
    """RGBA of 8 bit, clear in part, in so many colours."""
    seen = np.where(pixels[..., 3:] > 0, pixels, np.uint8(0))  # what is wholly clear has no colour
    if Image.fromarray(seen).getcolors(colours) is None:
        clear = pixels[..., 3] == 0
        hidden = int(
            colours > 2 and bool(clear.any())
        )  # what is wholly clear has an entry of its own
        index, entries = quantise.indexed(seen, colours - hidden, _DITHER)
        if hidden:
            index[clear] = len(entries)
            entries = np.vstack([entries, np.zeros((1, 4), np.uint8)])
        mixed = Image.fromarray(index, "P")
        mixed.putpalette(entries.tobytes(), "RGBA")
        return _solid(mixed, pixels[..., 3])
    numbers = np.ascontiguousarray(seen).view(np.uint32)[..., 0]
    table, index = np.unique(numbers, return_inverse=True)  # it has no more: nothing is lost
    few = Image.fromarray(index.reshape(numbers.shape).astype(np.uint8), "P")
    few.putpalette(table.tobytes(), "RGBA")
    return few


def _solid(few: Image.Image, alpha: Any) -> Image.Image:
    """A palette whose mixing has left nothing that was solid a shade clear, nor the reverse: a
    colour that stands mostly for solid (or wholly clear) pixels is so itself."""
    index = np.asarray(few)
    table = np.array(few.getpalette("RGBA"), np.uint8).reshape(-1, 4)
    every = np.maximum(np.bincount(index.ravel(), minlength=256), 1)
    for value in (0, 255):
        share = np.bincount(index[alpha == value], minlength=256) / every
        table[share[: len(table)] > 0.5, 3] = value
    few.putpalette(table.tobytes(), "RGBA")
    return few


def _flat(pixels: Pixels, colours: int, icc: bytes) -> Image.Image:
    """RGB of 8 bit, or three times the same grey, in so many colours."""
    image = Image.fromarray(np.ascontiguousarray(pixels))
    exact = image.getcolors(colours)
    if exact is not None:  # it has no more: nothing is lost
        return image.quantize(max(2, len(exact)), dither=Image.Dither.NONE)
    rgb = quantise.palette(pixels, colours)
    seen = icc if profile.identify(icc).channels == 3 else profile.shipped("srgb")
    index, table = nearest(pixels, rgb, seen)
    few = Image.fromarray(index, "P")
    few.putpalette(table.tobytes(), "RGB")
    return few


def encode_gif(picture: Picture, colours: int = 256) -> bytes:
    """A still GIF; it holds no profile, no density and no credit."""
    options: dict[str, Any] = {}
    if picture.bits == 1:
        return _dots(picture)
    if picture.alpha:
        clear = picture.pixels[..., -1] <= picture.top // 2
        solid = Picture(picture.colour, picture.icc, False, picture.bits)
        indexed = in_colours(solid, min(colours, _CLEAR))
        array = np.asarray(indexed).copy()
        array[clear] = _CLEAR  # an index that no colour has
        palette = (indexed.getpalette() or [])[: 3 * _CLEAR]
        indexed = Image.fromarray(array, "P")
        indexed.putpalette([*palette, *[0] * (768 - len(palette))])
        options["transparency"] = _CLEAR
    else:
        indexed = in_colours(picture, colours)
    out = io.BytesIO()
    indexed.save(out, "GIF", optimize=True, **options)
    return out.getvalue()


def _dots(picture: Picture) -> bytes:
    """Black and white dots with a table of just these two: the library writes four at least."""
    indexed = Image.fromarray((picture.pixels[..., 0] >= 128).astype(np.uint8), "P")
    indexed.putpalette([0, 0, 0, 255, 255, 255])
    out = io.BytesIO()
    indexed.save(out, "GIF", optimize=False)
    data = bytearray(out.getvalue())
    held = 3 * (2 << (data[10] & 7))
    del data[13 + 6 : 13 + held]
    data[10] &= 0xF8
    return bytes(data)


_MANY, _LARGE = 128, 2_000_000
"""Colours and pixels beyond which the tightest deflate takes three times as long for a three-hundredth of the bytes."""

_LEAST_ENTRIES = {1: 1, 2: 3, 4: 5, 8: 17}
"""With so many entries a palette is written in an index of so many bits: fewer would be written in fewer."""


def _padded(indexed: Image.Image, bits: int) -> None:
    """Give a palette entries that no pixel has, until its index needs so many bits."""
    way = "RGBA" if indexed.palette is not None and indexed.palette.mode == "RGBA" else "RGB"
    table = indexed.getpalette(way) or []
    more = _LEAST_ENTRIES[bits] - len(table) // len(way)
    indexed.putpalette([*table, *table[-len(way) :] * max(0, more)], way)


def encode_indexed_png(picture: Picture, colours: int, bits: int | None = None) -> bytes:
    """A PNG of a palette, with its profile; density and credit are put in by its caller. Greys stay greys, in fewer levels:
    a palette is made of colours, and a profile for grey has no place beside one (ISO/IEC 15948, 11.3.2.3).

    Args:
        bits: of an index: 1, 2, 4 or 8; ``None``: as few as the colours need.
    """
    indexed = in_colours(picture, colours)
    bands = picture.pixels.shape[2]
    if bands < 3:
        way = "RGBA" if bands == 2 else "RGB"
        table = np.array(indexed.getpalette(way), np.uint8).reshape(-1, len(way))
        levels = table[np.asarray(indexed)][..., :: 3 if bands == 2 else 4]
        image = from_array(np.ascontiguousarray(levels))
        image.set_type(type_blob(), "icc-profile-data", picture.icc)
        made: bytes = min(
            (
                image.pngsave_buffer(compression=9, filter=way, keep="icc")
                for way in ("none", "all")
            ),
            key=len,
        )
        return made
    out = io.BytesIO()
    if bits is not None:
        _padded(indexed, bits)
    wide, high = picture.size
    long = colours > _MANY and wide * high > _LARGE
    indexed.save(out, "PNG", compress_level=7 if long else 9, icc_profile=picture.icc)
    return out.getvalue()
