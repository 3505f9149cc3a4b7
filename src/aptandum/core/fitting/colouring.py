"""Pixels brought into the space that is written: conversion, greys, depth."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from aptandum.core.errors import Cancelled
from aptandum.core.fitting.plan import ColourStation, Window
from aptandum.core.fitting.resample import in_memory, shrink_for
from aptandum.core.fitting.stored import turned
from aptandum.core.later import np, pyvips
from aptandum.core.photo import decode, profile
from aptandum.core.photo.decode import Photo
from aptandum.core.photo.engine import (
    Pixels,
    at_depth,
    converted,
    exactly,
    memory,
    without_bands,
)
from aptandum.core.photo.facts import TURNED, Facts
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import SHIPPED, Space


def streamed(
    photo: Photo, size: tuple[int, int], icc: bytes, cancelled: Callable[[], bool] | None
) -> Picture:
    """A whole JPEG in 8 bit at ``size``, for a screen: decode, resize and profile in one threaded pass."""
    facts = photo.facts
    shrink = shrink_for(facts, Window(0, 0, *facts.size), size, 1.0)
    image, orientation = decode.open_pixels(photo.read(), facts, shrink)
    wide, high = size[::-1] if orientation in TURNED else size
    try:
        image = image.resize(wide / image.width, vscale=high / image.height, kernel="linear")
        plain_srgb = icc == profile.shipped("srgb") and facts.taken_as == "srgb"
        source = facts.icc_bytes or _profile_of(facts.taken_as, image.bands)
        if (facts.icc_bytes or icc != source) and not plain_srgb:
            image = converted(image, source, icc, 8)
        pixels = in_memory(image, cancelled)
    except pyvips.Error as error:
        if cancelled is not None and cancelled():
            raise Cancelled from None
        raise decode.damaged(facts, str(error)) from None
    return Picture(np.ascontiguousarray(turned(pixels, orientation)), icc, False)


def coloured(facts: Facts, pixels: Pixels, embedded: bytes, station: ColourStation) -> Picture:
    """Pixels of the photo in the colours and at the depth that are written."""
    if (facts.bits or 8) > 8 and station.bits == 8 and pixels.dtype == np.uint16:
        deep = coloured(facts, pixels, embedded, replace(station, bits=16))
        return replace(deep, pixels=without_bands(deep.pixels, deep.alpha))
    bits = 16 if station.bits == 16 else 8
    bands = pixels.shape[2]
    cmyk = facts.mode == "cmyk"
    alpha = bands in (2, 4) and not cmyk
    if embedded and not _matches(embedded, bands, alpha):
        embedded = b""
    same = embedded == station.icc if embedded else station.source == station.target
    depth = 16 if pixels.dtype == np.uint16 else 8
    if same and depth == bits and not cmyk:
        return Picture(pixels, station.icc, alpha)
    source = embedded or ("cmyk" if cmyk else _profile_of(station.source, bands))
    mixed = station.target == "grey" and station.mix != "lightness"
    if same and not cmyk:
        return Picture(at_depth(pixels, bits), station.icc, alpha)
    if not (cmyk or mixed):
        quick = exactly(pixels, source, station.icc, bits, alpha, station.intent)
        if quick is not None:
            return Picture(quick, station.icc, alpha)
    image = decode.from_array(pixels)
    if cmyk:
        image = image.copy(interpretation="cmyk")
    if mixed and (cmyk or bands > 2):
        image = converted(image, source, profile.shipped("srgb"), 16, station.intent, alpha)
        return _mixed(memory(image), alpha, station, bits)
    image = converted(image, source, station.icc, bits, station.intent, alpha)
    return Picture(memory(image), station.icc, alpha)


_PARTS = {"even": (1 / 3, 1 / 3, 1 / 3), "red": (1, 0, 0), "green": (0, 1, 0), "blue": (0, 0, 1)}


def _mixed(pixels: Pixels, alpha: bool, station: ColourStation, bits: int) -> Picture:
    """Grey of sRGB numbers of 16 bit, by parts of the three channels; the grey profile shipped
    has sRGB's own curve, so a grey stays as it is by any mix."""
    grey = (pixels[..., :3].astype(np.float32) @ np.array(_PARTS[station.mix], np.float32))[
        ..., None
    ]
    made = np.concatenate([grey, pixels[..., -1:]], 2) if alpha else grey
    top = 65535 if bits == 16 else 255
    numbers = np.rint(made * (top / 65535)).astype(np.uint16 if bits == 16 else np.uint8)
    return Picture(numbers, profile.shipped("grey"), alpha)


def as_it_is(facts: Facts, pixels: Pixels, embedded: bytes, station: ColourStation) -> Picture:
    """Pixels in the photo's own profile, or in the one that its numbers are taken to be in."""
    bands = pixels.shape[2]
    cmyk = facts.mode == "cmyk"
    alpha = bands in (2, 4) and not cmyk
    if embedded and not _matches(embedded, bands, alpha):
        embedded = b""
    if cmyk:  # four inks have no place in a picture: the widest space shipped holds them
        image = decode.from_array(pixels).copy(interpretation="cmyk")
        wide = profile.shipped("prophoto")
        return Picture(memory(converted(image, embedded or "cmyk", wide, 16)), wide, False)
    return Picture(pixels, embedded or _profile_of(station.source, bands), alpha)


def _profile_of(space: Space, bands: int) -> bytes:
    if bands <= 2:
        return profile.shipped("grey")
    return profile.shipped(space if space in SHIPPED and space != "grey" else "srgb")


def _matches(icc: bytes, bands: int, alpha: bool) -> bool:
    """A profile for another number of channels would be passed over without a word."""
    return profile.identify(icc).channels == bands - int(alpha)
