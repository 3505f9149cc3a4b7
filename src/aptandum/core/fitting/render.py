"""Rendering: photo and line into the finished picture's pixels, at full size or a preview's.

The order of the calls is what makes it fast: reduce while decoding (leaving at least twice
the target), cut in the stored orientation, resample the small rest straight to W x H with
the window's sub-pixel edges, convert the profile at the small size, and turn last.
"""

from __future__ import annotations

import atexit
import hashlib
import os
import shutil
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from math import ceil, cos, floor, radians, sin
from typing import Any

import cv2
import numpy as np
import pyvips
from numpy.typing import NDArray
from PIL import Image

from aptandum.core.fitting.line import ColourStation, Line, Window
from aptandum.core.photo import decode, profile
from aptandum.core.photo.decode import Photo
from aptandum.core.photo.facts import TURNED, Facts, PhotoError
from aptandum.core.photo.profile import SHIPPED, Space
from aptandum.core.photo.turning import swung_box

Pixels = NDArray[Any]
"""Shape (height, width, bands), uint8 or uint16; bands: grey, grey+alpha, RGB, RGBA."""

_MARGIN = 2.0
"""How many times the target a reduced decode must leave: a residual below two is visibly worse
(99th percentile of CIEDE2000 3-5 instead of 1.4)."""


_MODES = {1: "L", 2: "LA", 3: "RGB", 4: "RGBA"}
_TRANSPOSES = {
    2: Image.Transpose.FLIP_LEFT_RIGHT,
    3: Image.Transpose.ROTATE_180,
    4: Image.Transpose.FLIP_TOP_BOTTOM,
    5: Image.Transpose.TRANSPOSE,
    6: Image.Transpose.ROTATE_270,
    7: Image.Transpose.TRANSVERSE,
    8: Image.Transpose.ROTATE_90,
}


class Cancelled(Exception):
    """The person no longer wants the result."""


@dataclass(frozen=True)
class Picture:
    """A rendered picture.

    Attributes:
        pixels: see :data:`Pixels`; colours in the space of ``icc``.
        icc: the profile that the numbers are in.
        alpha: the last band is an alpha channel.
    """

    pixels: Pixels
    icc: bytes
    alpha: bool

    @property
    def size(self) -> tuple[int, int]:
        return self.pixels.shape[1], self.pixels.shape[0]


def to_stored(window: Window, orientation: int, shown: tuple[int, int]) -> Window:
    """A window on the photo as shown, in the coordinates of the file as stored.

    ``orientation`` is EXIF's (TIFF 6.0): where the stored rows and columns belong in the view.
    """
    w, h = shown
    left, top, width, height = window.left, window.top, window.width, window.height
    right, bottom = w - left - width, h - top - height
    spots = {
        1: (left, top), 2: (right, top), 3: (right, bottom), 4: (left, bottom),
        5: (top, left), 6: (top, right), 7: (bottom, right), 8: (bottom, left),
    }  # fmt: skip
    x, y = spots[orientation]
    return Window(x, y, height, width) if orientation in TURNED else Window(x, y, width, height)


def turned(pixels: Pixels, orientation: int) -> Pixels:
    """Stored pixels as a viewer shows them."""
    if pixels.dtype == np.uint8 and orientation in _TRANSPOSES:
        # Pillow turns in cache-sized blocks, several times faster than a strided copy.
        bands = pixels.shape[2]
        flat = np.ascontiguousarray(pixels[..., 0] if bands == 1 else pixels)
        image = Image.fromarray(flat, _MODES[bands])
        made = np.asarray(image.transpose(_TRANSPOSES[orientation]))
        return made[..., None] if made.ndim == 2 else made
    if orientation in (2, 4):
        return pixels[:, ::-1] if orientation == 2 else pixels[::-1]
    if orientation in (5, 7):
        flipped = pixels.swapaxes(0, 1)
        return flipped if orientation == 5 else flipped[::-1, ::-1]
    quarter = {3: 2, 6: 3, 8: 1}.get(orientation, 0)
    return np.rot90(pixels, quarter)


def render(
    photo: Photo,
    line: Line,
    *,
    zoom: float = 1.0,
    window: Window | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> Picture:
    """Make the finished picture's pixels.

    Args:
        zoom: size against the full output; 1 is the file's own pixels. A preview is the same
            code at a smaller zoom.
        window: another part of the photo than the line's, at the line's scale times ``zoom``.
        cancelled: asked now and then; True stops the work.

    Raises:
        PhotoError: the photo's pixels cannot be read.
        Cancelled: ``cancelled`` said so.
    """
    frame = line.frame
    box = window or frame.window
    if window is None:
        w, h = (max(1, round(side * zoom)) for side in frame.output)
    else:
        w = max(1, round(window.width * frame.scale * zoom))
        h = max(1, round(window.height * frame.scale * zoom))
    if frame.angle:
        pixels, embedded = _straightened(photo, box, (w, h), frame.angle, cancelled)
        return _coloured(photo.facts, pixels, embedded, line.colour, line.finish.ground)
    if window is None and frame.ground is not None:
        return _padded(photo, line, (w, h), cancelled)
    keep = frame.exact and zoom == 1.0 and window is None
    pixels, embedded = _resampled(photo, box, (w, h), keep, cancelled)
    return _coloured(photo.facts, pixels, embedded, line.colour, line.finish.ground)


def _straightened(
    photo: Photo,
    box: Window,
    size: tuple[int, int],
    angle: float,
    cancelled: Callable[[], bool] | None,
) -> tuple[Pixels, bytes]:
    """A window of the photo straightened by an angle, at ``size``.

    The part of the photo under it is brought to about twice the target (or left at its own
    pixels where there are fewer), turned there with a cubic kernel, and reduced as ever.
    """
    facts = photo.facts
    pw, ph = facts.size
    under = swung_box((box.left, box.top, box.width, box.height), -angle, (pw, ph))
    left, top = floor(max(0.0, under[0] - 2)), floor(max(0.0, under[1] - 2))
    right = ceil(min(float(pw), under[0] + under[2] + 2))
    bottom = ceil(min(float(ph), under[1] + under[3] + 2))
    part = Window(left, top, right - left, bottom - top)
    scale = size[0] / box.width
    fine = min(1.0, 2 * scale)
    taken = (max(1, round(part.width * fine)), max(1, round(part.height * fine)))
    keep = taken == (part.width, part.height)
    pixels, embedded = _resampled(photo, part, taken, keep, cancelled)
    fx, fy = taken[0] / part.width, taken[1] / part.height
    wide = max(size[0], round(box.width * fine))
    high = max(size[1], round(box.height * fine))
    # From a pixel of the turned picture to one of the part, both by their centres.
    c, s = cos(radians(-angle)), sin(radians(-angle))
    kx, ky = box.width / wide, box.height / high
    x0 = box.left + 0.5 * kx - pw / 2
    y0 = box.top + 0.5 * ky - ph / 2
    matrix = np.array(
        [
            [c * kx * fx, -s * ky * fx, (pw / 2 + c * x0 - s * y0 - left) * fx - 0.5],
            [s * kx * fy, c * ky * fy, (ph / 2 + s * x0 + c * y0 - top) * fy - 0.5],
        ]
    )
    turned_ = cv2.warpAffine(
        pixels, matrix, (wide, high), flags=cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_REPLICATE,
    )  # fmt: skip
    if turned_.ndim == 2:
        turned_ = turned_[..., None]
    if (wide, high) != size:
        turned_ = resample(turned_, size, (0.0, 0.0, float(wide), float(high)))
    return np.ascontiguousarray(turned_), embedded


def _padded(
    photo: Photo, line: Line, size: tuple[int, int], cancelled: Callable[[], bool] | None
) -> Picture:
    """A frame that reaches beyond the photo: what lies on the photo, on its ground.

    The part's edges fall on whole output pixels, so that it keeps the line's scale to within
    half of one on each side.
    """
    facts, frame = photo.facts, line.frame
    wide, high = size
    inside = frame.window.within(*facts.size)
    k = wide / frame.window.width, high / frame.window.height
    left = min(max(round((inside.left - frame.window.left) * k[0]), 0), wide - 1)
    top = min(max(round((inside.top - frame.window.top) * k[1]), 0), high - 1)
    right = max(left + 1, min(wide, round((inside.right - frame.window.left) * k[0])))
    bottom = max(top + 1, min(high, round((inside.bottom - frame.window.top) * k[1])))
    part = (right - left, bottom - top)
    keep = part == (inside.width, inside.height) and all(
        float(v).is_integer() for v in (inside.left, inside.top)
    )
    pixels, embedded = _resampled(photo, inside, part, keep, cancelled)
    made = _coloured(facts, pixels, embedded, line.colour, line.finish.ground)
    clear = frame.ground == "clear" and line.finish.ground is None
    ground = line.finish.ground if frame.ground == "clear" else frame.ground
    if clear:
        colour = np.zeros(1, made.pixels.dtype)
    elif ground == "edge":
        colour = _edge_colour(made, (left, top, wide - right, high - bottom))
    else:
        colour = _in_profile(str(ground), made)
    bands = made.pixels.shape[2] - (1 if made.alpha else 0)
    alpha = made.alpha or clear
    canvas = np.empty((high, wide, bands + (1 if alpha else 0)), made.pixels.dtype)
    canvas[..., :bands] = colour
    if alpha:
        full = np.iinfo(canvas.dtype).max
        canvas[..., -1] = 0 if clear else full
        canvas[top:bottom, left:right, -1] = made.pixels[..., -1] if made.alpha else full
    canvas[top:bottom, left:right, :bands] = made.pixels[..., :bands]
    return Picture(canvas, made.icc, alpha)


def _edge_colour(picture: Picture, beyond: tuple[int, int, int, int]) -> Pixels:
    """The middle colour of those edges of a picture at which padding begins (left, top, right,
    bottom: padded pixels), in the picture's own numbers."""
    pixels = picture.pixels[..., :-1] if picture.alpha else picture.pixels
    edges = (pixels[:, 0], pixels[0], pixels[:, -1], pixels[-1])
    beside = [edge for edge, more in zip(edges, beyond, strict=True) if more > 0]
    middle = np.median(np.concatenate(beside or list(edges)), axis=0)
    made: Pixels = np.rint(middle).astype(pixels.dtype)
    return made


def _in_profile(colour: str, like: Picture) -> Pixels:
    """A colour such as ``#F2F2F0`` (sRGB) in the numbers of a picture."""
    rgb = np.array([[[int(colour[i : i + 2], 16) for i in (1, 3, 5)]]], np.uint8)
    bits = 16 if like.pixels.dtype == np.uint16 else 8
    image = decode.from_array(rgb).copy()
    if like.icc != profile.shipped("srgb") or bits == 16:
        image = _convert(image, profile.shipped("srgb"), like.icc, bits, "relative", False)
    made: Pixels = _memory(image).reshape(-1)
    return made


def shown_as_srgb(
    photo: Photo,
    longest: int,
    window: Window | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> Picture:
    """The photo as supplied, or a window of it, as 8-bit sRGB for a screen.

    Its longest side comes to at most ``longest`` pixels, and never to more than the photo has.
    """
    facts = photo.facts
    box = window or Window(0, 0, *facts.size)
    factor = min(1.0, longest / max(box.width, box.height))
    size = (max(1, round(box.width * factor)), max(1, round(box.height * factor)))
    if window is None and facts.format == "jpeg" and facts.mode == "rgb":
        return _streamed(photo, size, cancelled)
    pixels, embedded = _resampled(photo, box, size, False, cancelled, margin=1.0, quick=True)
    space = facts.colour_space or "untagged"
    source: Space = "srgb" if space == "untagged" else space
    station = ColourStation(source, "srgb", profile.shipped("srgb"), 8, "relative", not embedded)
    return _coloured(facts, pixels, embedded, station, None)


def _streamed(photo: Photo, size: tuple[int, int], cancelled: Callable[[], bool] | None) -> Picture:
    """A whole JPEG as 8-bit sRGB at ``size``: decode, resize and profile in one threaded pass."""
    facts = photo.facts
    shrink = _shrink_for(facts, Window(0, 0, *facts.size), size, 1.0)
    image, orientation = decode.open_pixels(photo.read(), facts, shrink)
    wide, high = size[::-1] if orientation in TURNED else size
    try:
        image = image.resize(wide / image.width, vscale=high / image.height, kernel="linear")
        if facts.icc_bytes and facts.colour_space != "srgb":
            image = _convert(image, facts.icc_bytes, profile.shipped("srgb"), 8, "relative", False)
        pixels = _memory(image, cancelled)
    except pyvips.Error as error:
        if cancelled is not None and cancelled():
            raise Cancelled from None
        raise decode.damaged(facts, str(error)) from None
    return Picture(
        np.ascontiguousarray(turned(pixels, orientation)), profile.shipped("srgb"), False
    )


def as_srgb(picture: Picture) -> Pixels:
    """A rendered picture as 8-bit sRGB (or sRGB with alpha) for a screen."""
    if picture.icc == profile.shipped("srgb") and picture.pixels.dtype == np.uint8:
        return picture.pixels
    image = decode.from_array(picture.pixels).copy()
    image = _convert(image, picture.icc, profile.shipped("srgb"), 8, "relative", picture.alpha)
    return _memory(image)


def _shrink_for(facts: Facts, window: Window, size: tuple[int, int], margin: float) -> int:
    if facts.format not in ("jpeg", "webp"):
        return 1
    room = min(window.width / size[0], window.height / size[1]) / margin
    return next((step for step in (8, 4, 2) if step <= room + 1e-9), 1)


def _resampled(
    photo: Photo,
    window: Window,
    size: tuple[int, int],
    keep: bool,
    cancelled: Callable[[], bool] | None,
    margin: float = _MARGIN,
    quick: bool = False,
) -> tuple[Pixels, bytes]:
    """The window's pixels at ``size`` (as shown), turned, in the photo's own colours.

    Returns the pixels and the embedded profile's bytes (empty where there is none of use).
    """
    facts = photo.facts
    data = photo.read()
    shrink = 1 if keep else _shrink_for(facts, window, size, margin)
    if facts.format == "webp" and not quick:
        shrink = 1
    image, orientation = decode.open_pixels(data, facts, shrink)
    box = to_stored(window, orientation, facts.size)
    stored_w, stored_h = facts.size
    if orientation in TURNED:
        stored_w, stored_h = stored_h, stored_w
    # The reduced decode rounds its sides up; its pixel grid is the file's, divided by shrink.
    across = image.width / (stored_w / shrink) if shrink > 1 else 1.0
    up = image.height / (stored_h / shrink) if shrink > 1 else 1.0
    if shrink > 1 and facts.format == "jpeg":
        across = up = 1.0
    left, top = box.left / shrink * across, box.top / shrink * up
    width, height = box.width / shrink * across, box.height / shrink * up
    x0, y0 = max(0, floor(left + 1e-9)), max(0, floor(top + 1e-9))
    x1 = min(image.width, ceil(left + width - 1e-9))
    y1 = min(image.height, ceil(top + height - 1e-9))
    want = size[::-1] if orientation in TURNED else size
    try:
        if not keep:
            image, x0, y0, x1, y1, left, top, width, height = _boxed(
                image, x0, y0, x1, y1, left, top, width, height, want
            )
        else:
            image = image.crop(x0, y0, x1 - x0, y1 - y0)
        pixels = _memory(_plain(image), cancelled)
    except pyvips.Error as error:
        if cancelled is not None and cancelled():
            raise Cancelled from None
        raise decode.damaged(facts, str(error)) from None
    if not keep:
        inner = (left - x0, top - y0, left - x0 + width, top - y0 + height)
        # The sheet's first picture is in a hurry: a triangle instead of Lanczos.
        kernel = Image.Resampling.BILINEAR if quick else Image.Resampling.LANCZOS
        pixels = resample(pixels, want, inner, kernel)
    return np.ascontiguousarray(turned(pixels, orientation)), facts.icc_bytes


def _boxed(
    image: pyvips.Image, x0: int, y0: int, x1: int, y1: int,
    left: float, top: float, width: float, height: float, want: tuple[int, int],
) -> tuple[pyvips.Image, int, int, int, int, float, float, float, float]:  # fmt: skip
    """Cut to the whole pixels round the window and, where far more pixels are there than are
    needed, average whole blocks of them while they stream by, to keep memory small."""
    image = image.crop(x0, y0, x1 - x0, y1 - y0)
    block_x = max(1, floor(width / want[0] / (2 * _MARGIN)))
    block_y = max(1, floor(height / want[1] / (2 * _MARGIN)))
    if block_x == 1 and block_y == 1:
        return image, x0, y0, x1, y1, left, top, width, height
    small = image.shrink(block_x, block_y)
    inner_left, inner_top = (left - x0) / block_x, (top - y0) / block_y
    wide, high = width / block_x, height / block_y
    return small, 0, 0, small.width, small.height, inner_left, inner_top, wide, high


def _plain(image: pyvips.Image) -> pyvips.Image:
    """The image as uint8 or uint16 whatever its file held."""
    if image.format in ("uchar", "ushort"):
        return image
    if image.format in ("float", "double"):
        return (image * 255).rint().cast("uchar")
    return image.cast("ushort")


def _memory(image: pyvips.Image, cancelled: Callable[[], bool] | None = None) -> Pixels:
    if cancelled is not None:
        asked = cancelled

        def watch(part: pyvips.Image, progress: Any) -> None:
            if asked():
                part.set_kill(True)

        image.set_progress(True)
        image.signal_connect("eval", watch)
    array: Pixels = image.numpy()
    return array[..., None] if array.ndim == 2 else array


def resample(
    pixels: Pixels,
    size: tuple[int, int],
    box: tuple[float, float, float, float],
    kernel: Image.Resampling = Image.Resampling.LANCZOS,
) -> Pixels:
    """Resample, by Lanczos (a = 3) unless told otherwise, from a box with sub-pixel edges to a whole size.

    ``pixels`` has shape (h, w, bands); ``size`` is (width, height); ``box`` is left, top,
    right, bottom in the pixels' own coordinates. Colours under transparency do not bleed.
    """
    high, wide, bands = pixels.shape
    box = (
        max(0.0, box[0]), max(0.0, box[1]), min(float(wide), box[2]), min(float(high), box[3]),
    )  # fmt: skip
    if pixels.dtype == np.uint8:
        flat = pixels[..., 0] if bands == 1 else pixels
        image = Image.fromarray(np.ascontiguousarray(flat), _MODES[bands])
        result = np.asarray(image.resize(size, kernel, box))
        return result[..., None] if result.ndim == 2 else result
    planes = pixels.astype(np.float32)
    if bands in (2, 4):
        planes[..., :-1] *= planes[..., -1:] / 65535
    made = np.stack(
        [
            np.asarray(
                Image.fromarray(np.ascontiguousarray(planes[..., i]), "F").resize(size, kernel, box)
            )
            for i in range(bands)
        ],
        axis=-1,
    )
    if bands in (2, 4):
        made[..., :-1] /= np.maximum(made[..., -1:] / 65535, 1e-6)
    whole: Pixels = np.clip(np.rint(made), 0, 65535).astype(np.uint16)
    return whole


# --- colour --------------------------------------------------------------------------------


def _coloured(
    facts: Facts, pixels: Pixels, embedded: bytes, station: ColourStation, ground: str | None
) -> Picture:
    bands = pixels.shape[2]
    cmyk = facts.mode == "cmyk"
    alpha = bands in (2, 4) and not cmyk
    if alpha and ground is not None:
        pixels = flattened(pixels, ground)
        alpha = False
    image = decode.from_array(pixels)
    if cmyk:
        image = image.copy(interpretation="cmyk")
    if embedded and not _matches(embedded, image, alpha):
        embedded = b""
    same = embedded == station.icc if embedded else station.source == station.target
    depth = 16 if pixels.dtype == np.uint16 else 8
    if same and depth == station.bits and not cmyk:
        return Picture(pixels, station.icc, alpha)
    source = embedded or ("cmyk" if cmyk else _profile_of(station.source, bands))
    if same and not cmyk:
        image = _deepened(image, station.bits)
    else:
        image = _convert(image, source, station.icc, station.bits, station.intent, alpha)
    return Picture(_memory(image), station.icc, alpha)


def _profile_of(space: Space, bands: int) -> bytes:
    if bands <= 2:
        return profile.shipped("grey")
    return profile.shipped(space if space in SHIPPED and space != "grey" else "srgb")


def _matches(icc: bytes, image: pyvips.Image, alpha: bool) -> bool:
    """A profile for another number of channels would be passed over without a word."""
    return bool(profile.identify(icc).channels == image.bands - int(alpha))


@lru_cache(maxsize=16)
def _profile_file(icc: bytes) -> str:
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


def _convert(
    image: pyvips.Image, source: bytes | str, target: bytes, bits: int, intent: str, alpha: bool
) -> pyvips.Image:
    """Convert between profiles with black point compensation; alpha is carried along."""
    colour = image[0 : image.bands - 1] if alpha else image
    carried = image[image.bands - 1] if alpha else None
    incoming = source if isinstance(source, str) else _profile_file(source)
    try:
        made = colour.icc_transform(
            _profile_file(target),
            input_profile=incoming,
            intent=intent,
            black_point_compensation=True,
            depth=bits,
            pcs="lab",
        )
    except pyvips.Error as error:
        raise PhotoError(f"The colours could not be converted: {error}") from None
    if carried is not None:
        carried = _deepened(carried, bits)
        made = made.bandjoin(carried)
    return made


def _deepened(image: pyvips.Image, bits: int) -> pyvips.Image:
    if bits == 16 and image.format == "uchar":
        return (image * 257).cast("ushort")
    if bits == 8 and image.format == "ushort":
        return (image / 257).rint().cast("uchar")
    return image


def flattened(pixels: Pixels, ground: str) -> Pixels:
    """Transparent pixels laid on a plain colour, e.g. ``#FFFFFF``, in the photo's own space."""
    top = 65535.0 if pixels.dtype == np.uint16 else 255.0
    colour = np.array([int(ground[i : i + 2], 16) for i in (1, 3, 5)], np.float32) / 255 * top
    bands = pixels.shape[2] - 1
    under = colour if bands == 3 else np.array([colour.mean()], np.float32)
    cover = pixels[..., -1:].astype(np.float32) / top
    made = pixels[..., :-1].astype(np.float32) * cover + under * (1 - cover)
    laid: Pixels = np.rint(made).astype(pixels.dtype)
    return laid
