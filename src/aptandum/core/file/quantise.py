"""The colours that a well-kept quantiser (libimagequant) chooses for a picture.

They are chosen from some of its pixels, evenly spread, and every pixel then has the nearest of them: its own call for both at
once takes five times as long on a photo, for colours that come no nearer.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from aptandum.core.later import np
from aptandum.core.photo.engine import Pixels

_ENOUGH = 100_000
"""Pixels that colours are chosen from."""


def palette(pixels: Pixels, colours: int) -> Pixels:
    """At most so many colours (2 to 256) for a picture in RGB of 8 bit, shape (h, w, 3): RGB, shape (at most n, 3)."""
    some = _some(pixels)
    solid = np.dstack([some, np.full(some.shape[:2], 255, np.uint8)])
    with _result(solid, colours) as (lib, _ffi, _attributes, result):
        return _table(lib, result)[:, :3]


def indexed(pixels: Pixels, colours: int, dither: float) -> tuple[Pixels, Pixels]:
    """The same for RGBA, shape (h, w, 4): the index of each pixel's colour, uint8 of shape (h, w), and the colours,
    shape (at most n, 4).

    Args:
        dither: how much of the errors is handed on to neighbours, 0 to 1.
    """
    pixels = np.ascontiguousarray(pixels)
    index = np.empty(pixels.shape[:2], np.uint8)
    with _result(_some(pixels), colours) as (lib, ffi, attributes, result):
        lib.liq_set_dithering_level(result, dither)
        whole = _image(lib, ffi, attributes, pixels)
        try:
            code = lib.liq_write_remapped_image(
                result, whole, ffi.from_buffer(index, require_writable=True), index.size
            )
            assert code == lib.LIQ_OK, code
            return index, _table(lib, result)  # mixing settles the colours: asked after it
        finally:
            lib.liq_image_destroy(whole)


def _some(pixels: Pixels) -> Pixels:
    step = max(1, round((pixels.shape[0] * pixels.shape[1] / _ENOUGH) ** 0.5))
    return np.ascontiguousarray(pixels[::step, ::step])


@contextmanager
def _result(some: Pixels, colours: int) -> Iterator[tuple[Any, Any, Any, Any]]:
    from imagequant import ffi, lib

    attributes = lib.liq_attr_create()
    attributes.max_colors = colours
    image = _image(lib, ffi, attributes, some)
    result = ffi.new("liq_result**")
    try:
        code = lib.liq_image_quantize(image, attributes, result)
        assert code == lib.LIQ_OK, code
        yield lib, ffi, attributes, result[0]
    finally:
        if result[0] != ffi.NULL:
            lib.liq_result_destroy(result[0])
        lib.liq_image_destroy(image)
        lib.liq_attr_destroy(attributes)


def _image(lib: Any, ffi: Any, attributes: Any, pixels: Pixels) -> Any:
    high, wide = pixels.shape[:2]
    return lib.liq_image_create_rgba(attributes, ffi.from_buffer(pixels), wide, high, 0)


def _table(lib: Any, result: Any) -> Pixels:
    found = lib.liq_get_palette(result)
    every = [(one.r, one.g, one.b, one.a) for one in list(found.entries)[: found.count]]
    return np.array(every, np.uint8)
