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
from importlib import resources
from typing import TYPE_CHECKING, Any, Literal, TypeAlias

from aptandum.core.atomic import write_atomic
from aptandum.core.later import cv2, np, pyvips
from aptandum.core.photo import profile
from aptandum.core.photo.arrays import from_array
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.shaper import lab_of, shaped, shaper_of
from aptandum.core.words import say

if TYPE_CHECKING:
    from numpy.typing import NDArray

Pixels: TypeAlias = "NDArray[Any]"
"""Shape (height, width, bands), uint8 or uint16; bands: grey, grey+alpha, RGB, RGBA."""

Lab: TypeAlias = "NDArray[np.float32]"
"""Shape (height, width, 3): L* 0..100, a*, b*."""

_FEW = 16_384
"""Pixels up to which NumPy is done before the engine has made itself ready (some 15 ms)."""

Intent = Literal["relative", "perceptual", "hue"]
"""How colours outside a target are brought in: each channel by itself, as the profile says, or with their hue kept."""


@lru_cache(maxsize=16)
def _file_of(icc: bytes) -> str:
    """A profile as a file, which is how the engine takes one; one small file per profile."""
    path = os.path.join(_private_folder(), hashlib.sha256(icc).hexdigest()[:16] + ".icc")
    write_atomic(path, icc)  # two threads may be here with the same profile
    return path


@lru_cache(maxsize=1)
def _private_folder() -> str:
    folder = tempfile.mkdtemp(prefix="aptandum-profiles-")
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return folder


def _named(source: bytes | str) -> str:
    return source if isinstance(source, str) else _file_of(source)


INKS = "Chemical proof"
"""What the engine's own profile for inks, ``cmyk``, calls itself."""


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
    hue = intent == "hue"
    intent = "relative" if hue else intent
    exact = _exactly(colour, source, target, bits, black_point, hue)
    if exact is None and (bits == 16 or hue):
        exact = _by_tables(colour, source, target, intent, black_point, bits, hue)
    if exact is not None:
        return exact if carried is None else exact.bandjoin(deepened(carried, bits))
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


def _exactly(
    image: pyvips.Image,
    source: bytes | str,
    target: bytes,
    bits: int,
    black_point: bool,
    hue: bool = False,
) -> pyvips.Image | None:
    """Between two profiles of matrices or greys in floating point; ``None`` where one is of another kind."""
    if isinstance(source, str) or image.format not in ("uchar", "ushort"):
        return None
    eight = bits == 8 and image.format == "uchar" and not hue
    if eight and image.bands == 3 and target[16:20] == b"RGB ":
        return None  # of 8 bit the engine loses nothing, and the image streams by
    one, other = shaper_of(source), shaper_of(target)
    if one is None or other is None or image.bands != len(one.light):
        return None
    return from_array(shaped(memory(image), one, other, bits, black_point, hue))


def exactly(
    pixels: Pixels,
    source: bytes | str,
    target: bytes,
    bits: int,
    alpha: bool,
    intent: str = "relative",
) -> Pixels | None:
    """What :func:`converted` makes of an array between two profiles of matrices or greys, without libvips and its
    copies; ``None`` where one is of another kind. Alpha is carried along."""
    colour = pixels[..., :-1] if alpha else pixels
    if isinstance(source, str) or colour.dtype not in (np.uint8, np.uint16):
        return None
    one, other = shaper_of(source), shaper_of(target)
    if one is None or other is None or colour.shape[2] != len(one.light):
        return None
    made: Pixels = shaped(colour, one, other, bits, hue=intent == "hue")
    return np.concatenate([made, at_depth(pixels[..., -1:], bits)], 2) if alpha else made


def at_depth(pixels: Pixels, bits: int) -> Pixels:
    """The same numbers at another depth, as :func:`deepened`."""
    if bits == 16 and pixels.dtype == np.uint8:
        return pixels.astype(np.uint16) * np.uint16(257)
    if bits == 8 and pixels.dtype == np.uint16:
        flat = np.ascontiguousarray(pixels).reshape(len(pixels), -1)
        made: Pixels = cv2.convertScaleAbs(flat, alpha=1 / 257).reshape(pixels.shape)
        return made
    return pixels


THRESHOLDS = ((0, 32, 8, 40, 2, 34, 10, 42), (48, 16, 56, 24, 50, 18, 58, 26), (12, 44, 4, 36, 14, 46, 6, 38),
               (60, 28, 52, 20, 62, 30, 54, 22), (3, 35, 11, 43, 1, 33, 9, 41), (51, 19, 59, 27, 49, 17, 57, 25),
               (15, 47, 7, 39, 13, 45, 5, 37), (63, 31, 55, 23, 61, 29, 53, 21))  # fmt: skip
"""Bayer's matrix of 8 x 8 (An optimum method for two-level rendition of continuous-tone pictures, 1973), in 64ths."""
_GENTLE = 2 * 257
"""Numbers of 16 bit by which neighbours differ at most where rounding could be seen as bands."""


def without_bands(pixels: Pixels, alpha: bool) -> Pixels:
    """Numbers of 16 bit in 8, rounded by a pattern of thresholds where they change gently, so that no bands are seen; what
    is the same all round, or changes faster, and alpha, as :func:`at_depth` has it."""
    made = at_depth(pixels, 8)
    square = np.ones((3, 3), np.uint8)
    high, wide = pixels.shape[:2]
    pattern = np.tile(np.array(THRESHOLDS, np.float32), (-(-high // 8), -(-wide // 8)))
    shares = (pattern[:high, :wide] + 0.5) / 64
    for i in range(pixels.shape[2] - alpha):
        plane = np.ascontiguousarray(pixels[..., i])
        change = cv2.dilate(plane, square) - cv2.erode(plane, square)
        gentle = (change > 0) & (change <= _GENTLE)
        if gentle.any():
            steps = plane * np.float32(1 / 257)
            steps += shares
            stepped = np.minimum(steps, 255, out=steps).astype(np.uint8)
            np.copyto(made[..., i], stepped, where=gentle)
    return made


def _by_tables(
    image: pyvips.Image,
    source: bytes | str,
    target: bytes,
    intent: str,
    black_point: bool,
    bits: int,
    hue: bool,
) -> pyvips.Image | None:
    """From a profile with tables to one of matrices; ``None`` where they are of other kinds.

    The engine makes one table of the whole way, which bends most where the target's curves do: off by CIEDE2000 1. To a wide
    space whose curve is that of lightness the way is nearly as straight as the profile's own tables; the rest is exact.
    """
    if isinstance(source, str) and not hue:
        return None
    known = not isinstance(source, str) and shaper_of(source) is not None
    if shaper_of(target) is None or known or target == _between():
        return None
    wide = converted(image, source, _between(), 16, intent, False, black_point)
    return _exactly(wide, _between(), target, bits, black_point, hue)


@lru_cache(maxsize=1)
def _between() -> bytes:
    return resources.files("aptandum.data").joinpath("profiles/between.icc").read_bytes()


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
    if colour.shape[0] * colour.shape[1] <= _FEW and not cmyk:
        shaper = None if isinstance(icc, str) else shaper_of(icc)
        if shaper is not None and len(shaper.light) == colour.shape[2]:
            return lab_of(colour, shaper)
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
    """CIEDE2000 of each pixel (all weights 1); shape (height, width).

    Formula as given by Sharma, Wu and Dalal (2005). libvips has one too, but where two hues lie
    on both sides of 0 degrees it is off by up to 20.
    """
    made = np.empty(one.shape[:2], np.float32)
    rows = max(1, 400_000 // max(1, one.shape[1]))
    for top in range(0, one.shape[0], rows):
        made[top : top + rows] = _ciede2000(one[top : top + rows], other[top : top + rows])
    return made


def _ciede2000(one: Lab, other: Lab) -> NDArray[np.float32]:
    l1: Any
    a1: Any
    b1: Any
    l1, a1, b1 = (one[..., i].astype(np.float32) for i in range(3))
    l2: Any
    a2: Any
    b2: Any
    l2, a2, b2 = (other[..., i].astype(np.float32) for i in range(3))
    mean7 = ((np.hypot(a1, b1) + np.hypot(a2, b2)) / 2) ** 7
    stretch = 1 + 0.5 * (1 - np.sqrt(mean7 / (mean7 + np.float32(25.0**7))))
    a1, a2 = a1 * stretch, a2 * stretch
    c1, c2 = np.hypot(a1, b1), np.hypot(a2, b2)
    turn = np.float32(2 * np.pi)
    h1, h2 = np.arctan2(b1, a1) % turn, np.arctan2(b2, a2) % turn
    none = c1 * c2 == 0
    dh = h2 - h1
    dh = np.where(dh > np.pi, dh - turn, np.where(dh < -np.pi, dh + turn, dh))
    dh = np.where(none, 0, dh)
    d_light, d_chroma = l2 - l1, c2 - c1
    d_hue = 2 * np.sqrt(c1 * c2) * np.sin(dh / 2)
    light, chroma = (l1 + l2) / 2, (c1 + c2) / 2
    total = h1 + h2
    far = np.abs(h1 - h2) > np.pi
    hue = np.where(far, np.where(total < turn, total + turn, total - turn), total) / 2
    hue = np.where(none, total, hue)
    t = (
        1
        - 0.17 * np.cos(hue - np.float32(np.pi / 6))
        + 0.24 * np.cos(2 * hue)
        + 0.32 * np.cos(3 * hue + np.float32(np.pi / 30))
        - 0.20 * np.cos(4 * hue - np.float32(np.radians(63)))
    )
    bend = np.float32(np.pi / 6) * np.exp(-(((np.degrees(hue) - 275) / 25) ** 2))
    chroma7 = chroma**7
    blue = 2 * np.sqrt(chroma7 / (chroma7 + np.float32(25.0**7)))
    s_light = 1 + 0.015 * (light - 50) ** 2 / np.sqrt(20 + (light - 50) ** 2)
    s_chroma, s_hue = 1 + 0.045 * chroma, 1 + 0.015 * chroma * t
    x, y = d_chroma / s_chroma, d_hue / s_hue
    square = (d_light / s_light) ** 2 + x**2 + y**2 - np.sin(2 * bend) * blue * x * y
    made: NDArray[np.float32] = np.sqrt(np.maximum(square, 0)).astype(np.float32)
    return made


def difference_to(lab: Lab, colour: Any) -> NDArray[np.float32]:
    """CIEDE2000 of each pixel to one colour (L*, a*, b*)."""
    flat = np.broadcast_to(np.asarray(colour, np.float32), lab.shape)
    return difference(lab, np.ascontiguousarray(flat))


@lru_cache(maxsize=512)
def srgb_lab(colour: str) -> NDArray[np.float32]:
    """L*, a*, b* of a colour such as ``#27508C``."""
    rgb = np.array([[[int(colour[i : i + 2], 16) for i in (1, 3, 5)]]], np.uint8)
    made: NDArray[np.float32] = to_lab(rgb, profile.shipped("srgb"))[0, 0]
    return made


@lru_cache(maxsize=512)
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


def lab_hex(lab: Any) -> list[str]:
    """CIELAB colours, shape (n, 3), as ``#RRGGBB`` in sRGB."""
    many = np.asarray(lab, np.float32).reshape(1, -1, 3)
    made = from_lab(many, profile.shipped("srgb"), 8)[0]
    return ["#" + "".join(f"{int(v):02X}" for v in one) for one in made]
