"""How many bits a PNG stores for each pixel, where a rule asks for a number: a palette or greys of 1, 2 or 4 bits, colours of
24 however few they are, 32 with an opacity that hides nothing."""

from __future__ import annotations

from aptandum.core.file.encode import encode_png, finished_png, type_blob
from aptandum.core.file.in_colour import in_colour
from aptandum.core.file.palette import encode_indexed_png, in_colours
from aptandum.core.fitting.plan import FileStation
from aptandum.core.later import Image, np
from aptandum.core.photo.decode import from_array
from aptandum.core.photo.depth import COLOUR, gains_opacity
from aptandum.core.photo.engine import Pixels
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.picture import Picture

FEW_BITS = (1, 2, 4, 8)
"""Bits of an index, and of a grey (ISO/IEC 15948, 11.2.2)."""


def shaped(picture: Picture, stored: tuple[int, ...]) -> Picture:
    """A picture with an opacity that hides nothing, where so many bits are asked for."""
    if not gains_opacity(picture, stored):
        return picture
    solid = np.full((*picture.pixels.shape[:2], 1), picture.top, picture.pixels.dtype)
    return Picture(np.concatenate([picture.pixels, solid], 2), picture.icc, True, picture.bits)


def in_full(picture: Picture, colours: int) -> Picture:
    """A picture in at most so many colours, each pixel's told in full."""
    table = in_colours(picture, colours).convert("RGBA" if picture.alpha else "RGB")
    pixels = np.asarray(table)
    if picture.pixels.shape[2] < COLOUR:  # greys stay so
        pixels = pixels[..., :: 3 if picture.alpha else 4]
    return Picture(np.ascontiguousarray(pixels), picture.icc, picture.alpha, picture.bits)


def indexed(picture: Picture, colours: int, file: FileStation, credit: Credit) -> bytes:
    """A PNG of at most so many colours, in as many bits for each pixel as are allowed: by a palette, as few greys, or where
    neither may be, with every pixel's colour in full."""
    bits = next((b for b in FEW_BITS if b in file.stored and 1 << b >= colours), None)
    if not file.stored:
        raw = encode_indexed_png(picture, colours)
    elif bits is None:
        few = in_full(picture, colours)
        return encode_png(few, file.ppi, credit, bool(file.progressive))
    elif picture.pixels.shape[2] == 1 and bits < FEW_BITS[-1]:
        raw = _greys(picture, colours, bits)
    elif picture.pixels.shape[2] == 1:
        raw = encode_indexed_png(picture, colours)
    else:  # a grey in few bits has no room for its opacity, a palette has
        raw = encode_indexed_png(in_colour(picture), colours, bits)
    return finished_png(raw, file.ppi, credit)


def _greys(picture: Picture, levels: int, bits: int) -> bytes:
    """A PNG of greys in few bits: the levels lie evenly from black to white, as a panel shows them. What a pixel is off is
    handed on to its neighbours, unless levels are left out to save bytes."""
    top = (1 << bits) - 1
    image = from_array(_few_levels(picture.pixels[..., 0], levels, top)[..., None])
    image.set_type(type_blob(), "icc-profile-data", picture.icc)
    made: bytes = image.pngsave_buffer(compression=9, filter="none", keep="icc", bitdepth=bits)
    return made


def _few_levels(grey: Pixels, levels: int, top: int) -> Pixels:
    """Greys of 8 bit in at most so many levels of those from 0 to ``top``, each as the grey of 8 bit that it stands for; where
    all are used, the errors diffused (Floyd and Steinberg, 1976)."""
    steps = np.unique(np.rint(np.linspace(0, top, max(2, min(levels, top + 1))))).astype(np.uint8)
    shades = (steps * (255 // top)).astype(np.uint8)
    table = Image.new("P", (1, 1))
    table.putpalette(np.repeat(shades, 3).tobytes())
    few = Image.fromarray(np.ascontiguousarray(grey)).convert("RGB")
    way = Image.Dither.FLOYDSTEINBERG if levels > top else Image.Dither.NONE
    index = np.asarray(few.quantize(len(shades), palette=table, dither=way))
    made: Pixels = np.ascontiguousarray(shades[np.minimum(index, len(shades) - 1)])
    return made
