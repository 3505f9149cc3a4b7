"""The profile engine: colours from one profile to another, to CIELAB, and their differences.

LittleCMS does the work through libvips. CIELAB is relative to D50, the white of the profile
connection space (ICC.1); differences are CIEDE2000 (ISO/CIE 11664-6).
"""

from __future__ import annotations

import atexit
import hashlib
import os
import shutil
import tempfile
from functools import lru_cache
from typing import Any, Literal

import numpy as np
import pyvips
from numpy.typing import NDArray

from aptandum.core.photo import profile
from aptandum.core.photo.decode import from_array
from aptandum.core.photo.facts import PhotoError
from aptandum.core.words import say

Pixels = NDArray[Any]
"""Shape (height, width, bands), uint8 or uint16; bands: grey, grey+alpha, RGB, RGBA."""

Lab = NDArray[np.float32]
"""Shape (height, width, 3): L* 0..100, a*, b*."""

Intent = Literal["relative", "perceptual"]


@lru_cache(maxsize=16)
def _file_of(icc: bytes) -> str:
    """A profile as a file, which is how the engine takes one; one small file per profile."""
    path = os.path.join(_private_folder(), hashlib.sha256(icc).hexdigest()[:16] + ".icc")
    handle, holding = tempfile.mkstemp(dir=_private_folder())
    with os.fdopen(handle, "wb") as stream:
        stream.write(icc)
    os.replace(holding, path)  # two threads may be here with the same profile
    return path


@lru_cache(maxsize=1)
def _private_folder() -> str:
    folder = tempfile.mkdtemp(prefix="aptandum-profiles-")
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return folder


def _named(source: bytes | str) -> str:
    return source if isinstance(source, str) else _file_of(source)


def converted(
    image: pyvips.Image,
    source: bytes | str,
    target: bytes,
    bits: int,
    intent: str = "relative",
    alpha: bool = False,
    black_point: bool = True,
) -> pyvips.Image:
    """An image in another profile, with black point compensation; alpha is carried along.

    Args:
        source: a profile's bytes, or ``cmyk`` for the engine's own where a photo has none.
        bits: of each channel of the result, 8 or 16.

    Raises:
        PhotoError: the engine refuses the profiles.
    """
    colour = image[0 : image.bands - 1] if alpha else image
    carried = image[image.bands - 1] if alpha else None
    try:
        made = colour.icc_transform(
            _file_of(target),
            input_profile=_named(source),
            intent=intent,
            black_point_compensation=black_point,
            depth=bits,
            pcs="lab",
        )
    except pyvips.Error as error:
        raise PhotoError(say("The colours could not be converted: {why}", why=error)) from None
    if carried is not None:
        made = made.bandjoin(deepened(carried, bits))
    return made


def deepened(image: pyvips.Image, bits: int) -> pyvips.Image:
    """The same numbers at another depth: 255 becomes 65 535, and the reverse."""
    if bits == 16 and image.format == "uchar":
        return (image * 257).cast("ushort")
    if bits == 8 and image.format == "ushort":
        return (image / 257).rint().cast("uchar")
    return image


def memory(image: pyvips.Image) -> Pixels:
    """An image's pixels, always with three axes."""
    array: Pixels = image.numpy().reshape(image.height, image.width, image.bands)
    return array


def to_lab(pixels: Pixels, icc: bytes | str, alpha: bool = False, cmyk: bool = False) -> Lab:
    """CIELAB (D50, relative colorimetric) of pixels in a profile; alpha is passed over."""
    colour = pixels[..., :-1] if alpha else pixels
    image = from_array(colour)
    if cmyk:
        image = image.copy(interpretation="cmyk")
    try:
        lab = image.icc_import(input_profile=_named(icc), intent="relative", pcs="lab")
    except pyvips.Error as error:
        raise PhotoError(say("The colours could not be converted: {why}", why=error)) from None
    return memory(lab.cast("float"))


def _lab_image(lab: Lab) -> pyvips.Image:
    flat = np.ascontiguousarray(lab, np.float32)
    return pyvips.Image.new_from_array(flat).copy(interpretation="lab")


def difference(one: Lab, other: Lab) -> NDArray[np.float32]:
    """CIEDE2000 of each pixel (all weights 1); shape (height, width)."""
    made: NDArray[np.float32] = memory(_lab_image(one).dE00(_lab_image(other)))[..., 0]
    return made


def difference_to(lab: Lab, colour: Any) -> NDArray[np.float32]:
    """CIEDE2000 of each pixel to one colour (L*, a*, b*)."""
    flat = np.broadcast_to(np.asarray(colour, np.float32), lab.shape)
    return difference(lab, np.ascontiguousarray(flat))


def srgb_lab(colour: str) -> NDArray[np.float32]:
    """L*, a*, b* of a colour such as ``#27508C``."""
    rgb = np.array([[[int(colour[i : i + 2], 16) for i in (1, 3, 5)]]], np.uint8)
    made: NDArray[np.float32] = to_lab(rgb, profile.shipped("srgb"))[0, 0]
    return made


def in_profile(colour: str, icc: bytes, bits: int) -> Pixels:
    """A colour such as ``#F2F2F0`` (sRGB) as one pixel's numbers in a profile; shape (bands,)."""
    rgb = np.array([[[int(colour[i : i + 2], 16) for i in (1, 3, 5)]]], np.uint8)
    image = from_array(rgb)
    if icc != profile.shipped("srgb") or bits == 16:
        image = converted(image, profile.shipped("srgb"), icc, bits)
    made: Pixels = memory(image).reshape(-1)
    return made


def as_hex(pixel: Any, icc: bytes) -> str:
    """One pixel's numbers (of colour, without alpha) as ``#RRGGBB`` in sRGB."""
    one = np.asarray(pixel)
    one = (one if one.dtype == np.uint16 else one.astype(np.uint8)).reshape(1, 1, -1)
    made = memory(converted(from_array(one), icc, profile.shipped("srgb"), 8)).reshape(-1)
    three = np.repeat(made[:1], 3) if made.size < 3 else made[:3]
    return "#" + "".join(f"{int(v):02X}" for v in three)


def from_lab(lab: Lab, icc: bytes, bits: int) -> Pixels:
    """CIELAB colours (D50) in the numbers of a profile; what lies outside is brought to its
    edge. Shape (h, w, bands)."""
    try:
        made = _lab_image(lab).icc_export(
            output_profile=_file_of(icc), intent="relative", depth=bits, pcs="lab"
        )
    except pyvips.Error as error:
        raise PhotoError(say("The colours could not be converted: {why}", why=error)) from None
    return memory(made)


def lab_hex(lab: Any) -> str:
    """One CIELAB colour as ``#RRGGBB`` in sRGB."""
    one = np.asarray(lab, np.float32).reshape(1, 1, 3)
    return "#" + "".join(f"{int(v):02X}" for v in from_lab(one, profile.shipped("srgb"), 8)[0, 0])
