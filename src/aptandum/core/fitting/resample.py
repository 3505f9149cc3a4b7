"""Reading a window of a photo at a size: decode, cut, reduce, resample, turn.

The order of the calls is what makes it fast: reduce while decoding (leaving at least twice
the target), cut in the stored orientation, resample the small rest straight to W x H with
the window's sub-pixel edges, and turn last.
"""

from __future__ import annotations

from collections.abc import Callable
from math import ceil, floor
from typing import Any, Literal

from aptandum.core import threads
from aptandum.core.errors import Cancelled
from aptandum.core.fitting import banded
from aptandum.core.fitting.light import Curve, Light, curve_of
from aptandum.core.fitting.plan import Window
from aptandum.core.fitting.reduce import reduced
from aptandum.core.fitting.stored import own_pixels, to_stored, turned, whole_pixels
from aptandum.core.later import Image, cv2, np, pyvips
from aptandum.core.photo import decode
from aptandum.core.photo.apart import Stored
from aptandum.core.photo.arriving import FORMATS, MOST, arriving
from aptandum.core.photo.decode import Photo
from aptandum.core.photo.engine import Pixels
from aptandum.core.photo.facts import TURNED, Facts
from aptandum.core.photo.turning import then

_MARGIN = 2.0
"""How many times the target a reduced decode must leave: a residual below two is visibly worse
(99th percentile of CIEDE2000 3-5 instead of 1.4)."""


_SPLIT = 100_000
"""Pixels of a result from which two halves are resized at once."""

Kernel = Literal["lanczos3", "linear"]
"""By libvips' names."""


def _pillow(kernel: Kernel) -> Image.Resampling:
    """The same kernel by Pillow's name."""
    return Image.Resampling.LANCZOS if kernel == "lanczos3" else Image.Resampling.BILINEAR


_MODES = {1: "L", 2: "LA", 3: "RGB", 4: "RGBA"}


def shrink_for(facts: Facts, window: Window, size: tuple[int, int], margin: float) -> int:
    """How many times smaller a decoder may give the photo (1, 2, 4 or 8) and still leave ``margin``
    times the size wanted."""
    if facts.format not in ("jpeg", "webp"):
        return 1
    room = min(window.width / size[0], window.height / size[1]) / margin
    return next((step for step in (8, 4, 2) if step <= room + 1e-9), 1)


def resampled(
    photo: Photo,
    window: Window,
    size: tuple[int, int],
    keep: bool,
    cancelled: Callable[[], bool] | None,
    margin: float = _MARGIN,
    quick: bool = False,
    light: bool = False,
) -> tuple[Pixels, bytes]:
    """The window's pixels at ``size`` (as shown), turned, in the photo's own colours.

    Args:
        keep: the window's own pixels; nothing is resampled.
        quick: by a triangle instead of Lanczos.
        light: pixels are mixed as light mixes; what comes back then has 16 bit.

    Returns the pixels and the embedded profile's bytes (empty where there is none of use).
    """
    facts = photo.facts
    light = light and not keep and facts.mode != "cmyk"
    curve = curve_of(facts)
    # The sheet's first picture is in a hurry: a triangle instead of Lanczos.
    kernel: Kernel = "linear" if quick else "lanczos3"
    if light and not quick:
        made = _by_bands(photo, window, size, curve, cancelled)
        if made is not None:
            return made, facts.icc_bytes
    if keep:
        return own_pixels(photo, window, cancelled), facts.icc_bytes
    if not light:
        made = _at_once(photo, window, size, margin, kernel, cancelled)
        if made is not None:
            return made, facts.icc_bytes
    return _streamed(photo, window, size, cancelled, margin, kernel, light)


def _streamed(
    photo: Photo,
    window: Window,
    size: tuple[int, int],
    cancelled: Callable[[], bool] | None,
    margin: float,
    kernel: Kernel,
    light: bool,
) -> tuple[Pixels, bytes]:
    """:func:`resampled` by pixels that stream by, whatever the file."""
    facts, quick, curve = photo.facts, kernel == "linear", curve_of(photo.facts)
    whole = light or (facts.format == "webp" and not quick)
    shrink = 1 if whole else shrink_for(facts, window, size, margin)
    image, orientation = decode.open_pixels(photo.read(), facts, shrink)
    left, top, width, height = _on_decoded(window, orientation, facts, shrink, image)
    x0, y0, x1, y1 = whole_pixels(Window(left, top, width, height), image.width, image.height)
    want = size[::-1] if orientation in TURNED else size
    try:
        if light:
            image = _to_light(image, curve)
        image, x0, y0, x1, y1, left, top, width, height = _boxed(
            image, x0, y0, x1, y1, left, top, width, height, want
        )
        plain = image if light else _plain(image)
        inner = (left - x0, top - y0, left - x0 + width, top - y0 + height)
        small = None if light else reduced(plain, want, inner, kernel)
        pixels = in_memory(plain if small is None else small, cancelled)
    except pyvips.Error as error:
        if cancelled is not None and cancelled():
            raise Cancelled from None
        raise decode.damaged(facts, str(error)) from None
    if small is None:
        if light:
            pixels = _from_light(light_at(pixels, want, inner, kernel), curve, facts)
        else:
            pixels = resample(pixels, want, inner, kernel)
    return np.ascontiguousarray(turned(pixels, orientation)), facts.icc_bytes


def _by_bands(
    photo: Photo,
    window: Window,
    size: tuple[int, int],
    curve: Curve,
    cancelled: Callable[[], bool] | None,
) -> Pixels | None:
    """A window reduced in light straight from a full decode, in numbers of 16 bit; ``None`` where that is not the way to
    go: where it is enlarged, or very large."""
    facts = photo.facts
    deep = (facts.bits or 8) > 8
    if facts.mode not in ("rgb", "grey"):
        return None
    if facts.size[0] * facts.size[1] * (2 if deep else 1) > MOST:
        return None
    if min(window.width / size[0], window.height / size[1]) < 1:
        return None
    if facts.format not in FORMATS or threads.at_once() == 1:
        stored = decode.stored_pixels(photo.read(), facts)
        return _of_stored(stored, facts, window, size, curve, cancelled)
    with arriving(photo.read(), facts) as coming:
        made = None
        if coming.array is not None:
            some = Stored(coming.array, "", coming.orientation)
            made = _of_stored(some, facts, window, size, curve, cancelled, coming.rows)
        if made is None or not coming.as_seen:
            made = _of_stored(coming.whole(), facts, window, size, curve, cancelled)
    return made


def _of_stored(
    stored: Stored,
    facts: Facts,
    window: Window,
    size: tuple[int, int],
    curve: Curve,
    cancelled: Callable[[], bool] | None,
    rows: Callable[[int], None] | None = None,
) -> Pixels | None:
    """:func:`_by_bands` of pixels that are there, or of which ``rows`` waits for those before one."""
    whole, orientation = stored.array, stored.orientation
    if whole.shape[2] != (1 if facts.mode == "grey" else 3) + bool(facts.alpha):
        return None
    if cancelled is not None and cancelled():
        raise Cancelled
    place = to_stored(window, orientation, facts.size)
    want = size[::-1] if orientation in TURNED else size
    box = (place.left, place.top, place.left + place.width, place.top + place.height)
    if not banded.can(whole, want, box):
        return None
    plain = not ((facts.bits or 8) > 8 or facts.alpha)
    made = banded.reduced_in_light(
        whole, want, box, curve, cancelled, numbers=plain, rows=rows, orientation=orientation
    )
    return made if plain else _from_light(made, curve, facts)


def _on_decoded(
    window: Window, orientation: int, facts: Facts, shrink: int, image: pyvips.Image
) -> tuple[float, float, float, float]:
    """A window (left, top, width, height) in the pixels of a picture as it was decoded."""
    box = to_stored(window, orientation, facts.size)
    stored_w, stored_h = facts.size
    if orientation in TURNED:
        stored_w, stored_h = stored_h, stored_w
    # The reduced decode rounds its sides up; its pixel grid is the file's, divided by shrink.
    across = image.width / (stored_w / shrink) if shrink > 1 else 1.0
    up = image.height / (stored_h / shrink) if shrink > 1 else 1.0
    if shrink > 1 and facts.format == "jpeg":
        across = up = 1.0
    return (
        box.left / shrink * across,
        box.top / shrink * up,
        box.width / shrink * across,
        box.height / shrink * up,
    )


_EIGHTHS = (1, 2, 3, 4)
"""To what a JPEG is reduced while it is decoded. Three eighths cost as much as four, and leave
half as much to be resized; five and more cost more than all eight."""


def _at_once(
    photo: Photo,
    window: Window,
    size: tuple[int, int],
    margin: float,
    kernel: Kernel,
    cancelled: Callable[[], bool] | None,
) -> Pixels | None:
    """A JPEG's window decoded whole, reduced on the way, then resized and turned; ``None`` where
    that is not the way to go."""
    facts = photo.facts
    if facts.format != "jpeg":
        return None
    room = min(window.width / size[0], window.height / size[1]) / margin
    eighths = next((n for n in _EIGHTHS if 8 / n <= room + 1e-9), 8)
    orientation = then(facts.orientation or 1, facts.turn)
    box = to_stored(window, orientation, facts.size)
    want = size[::-1] if orientation in TURNED else size
    share = eighths / 8
    left, top, width, height = (side * share for side in (box.left, box.top, box.width, box.height))
    if _blocks(width, height, want) != (1, 1):
        return None
    whole = decode.whole_jpeg(photo.read(), facts, eighths)
    if cancelled is not None and cancelled():
        raise Cancelled
    if whole is None:
        return None
    inner = (left, top, left + width, top + height)
    small = reduced(decode.from_array(whole), want, inner, kernel)
    if small is not None:
        pixels = in_memory(small, cancelled)
    else:
        pixels = resample(whole, want, inner, kernel)
    return np.ascontiguousarray(turned(pixels, orientation))


def _blocks(width: float, height: float, want: tuple[int, int]) -> tuple[int, int]:
    """Sides of the blocks of pixels to average before the resampling; 1 is none."""
    across, up = (
        side / goal / (2 * _MARGIN) for side, goal in zip((width, height), want, strict=True)
    )
    return max(1, floor(across)), max(1, floor(up))


def _boxed(
    image: pyvips.Image,
    x0: int,
    y0: int,
    x1: int,
    y1: int,
    left: float,
    top: float,
    width: float,
    height: float,
    want: tuple[int, int],
) -> tuple[pyvips.Image, int, int, int, int, float, float, float, float]:
    """Cut to the whole pixels round the window and, where far more pixels are there than are
    needed, average whole blocks of them while they stream by, to keep memory small."""
    image = image.crop(x0, y0, x1 - x0, y1 - y0)
    block_x, block_y = _blocks(width, height, want)
    if block_x == 1 and block_y == 1:
        return image, x0, y0, x1, y1, left, top, width, height
    small = image
    if image.hasalpha() and image.format in ("uchar", "ushort"):
        full, kind = (65535 if image.format == "ushort" else 255), image.format
        small = image.premultiply(max_alpha=full).shrink(block_x, block_y)
        small = small.unpremultiply(max_alpha=full).rint().cast(kind)
    else:
        small = image.shrink(block_x, block_y)
    inner_left, inner_top = (left - x0) / block_x, (top - y0) / block_y
    wide, high = width / block_x, height / block_y
    return small, 0, 0, small.width, small.height, inner_left, inner_top, wide, high


def _to_light(image: pyvips.Image, curve: Curve) -> pyvips.Image:
    """Linear light of 0..65 535; where there is alpha, premultiplied by it, alpha last."""
    image = _plain(image)
    deep = image.format == "ushort"
    table = curve.table16 if deep else curve.table8
    lut = pyvips.Image.new_from_array(table.reshape(1, -1, 1))
    if not image.hasalpha():
        return image.maplut(lut)
    last = image.bands - 1
    share = image[last] / (65535 if deep else 255)
    return (image[0:last].maplut(lut) * share).bandjoin(share * 65535).cast("float")


def _from_light(planes: Light, curve: Curve, facts: Facts) -> Pixels:
    """Back to the photo's own numbers, of 16 bit."""
    clear = bool(facts.alpha) and planes.shape[2] in (2, 4)
    colour: Any = planes[..., :-1] if clear else planes
    if clear:
        alpha = np.clip(planes[..., -1:], 0, 65535)
        colour = colour / np.maximum(alpha / 65535, 1e-6)
    if (facts.bits or 8) > 8:
        made = np.rint(curve.encoded(colour / 65535) * 65535).astype(np.uint16)
    else:
        made = curve.back[np.clip(np.rint(colour), 0, 65535).astype(np.uint16)]
    if clear:
        made = np.concatenate([made, np.rint(alpha).astype(np.uint16)], 2)
    return made


def _plain(image: pyvips.Image) -> pyvips.Image:
    """The image as uint8 or uint16 whatever its file held."""
    if image.format in ("uchar", "ushort"):
        return image
    if image.format in ("float", "double"):
        return (image * 255).rint().cast("uchar")
    return image.cast("ushort")


def in_memory(image: pyvips.Image, cancelled: Callable[[], bool] | None = None) -> Pixels:
    """The image's pixels as an array; reading stops once it is said to be cancelled."""
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
    kernel: Kernel = "lanczos3",
) -> Pixels:
    """Resample, by Lanczos (a = 3) unless told otherwise, from a box with sub-pixel edges to a whole size.

    ``pixels`` has shape (h, w, bands); ``size`` is (width, height); ``box`` is left, top,
    right, bottom in the pixels' own coordinates. Colours under transparency do not bleed.
    """
    high, wide, bands = pixels.shape
    box = (
        max(0.0, box[0]),
        max(0.0, box[1]),
        min(float(wide), box[2]),
        min(float(high), box[3]),
    )
    if pixels.dtype == np.uint8:
        flat = pixels[..., 0] if bands == 1 else pixels
        image = Image.fromarray(np.ascontiguousarray(flat), _MODES[bands])
        result: Pixels = _resized(image, size, box, kernel)
        return result[..., None] if result.ndim == 2 else result
    planes = pixels.astype(np.float32)
    if bands in (2, 4):
        planes[..., :-1] *= planes[..., -1:] / 65535
    made = planes_at(planes, size, box, kernel)
    if bands in (2, 4):
        made[..., :-1] /= np.maximum(made[..., -1:] / 65535, 1e-6)
    whole: Pixels = np.clip(np.rint(made), 0, 65535).astype(np.uint16)
    return whole


def planes_at(
    planes: Any,
    size: tuple[int, int],
    box: tuple[float, float, float, float],
    kernel: Kernel = "lanczos3",
) -> Light:
    """Each band by itself, two at a time, as numbers without bounds; arguments as of
    :func:`resample`."""
    high, wide, bands = planes.shape
    box = (
        max(0.0, box[0]),
        max(0.0, box[1]),
        min(float(wide), box[2]),
        min(float(high), box[3]),
    )
    made = np.empty((size[1], size[0], bands), np.float32)

    def one(i: int) -> None:
        plane = Image.fromarray(np.ascontiguousarray(planes[..., i], np.float32))
        made[..., i] = np.asarray(plane.resize(size, _pillow(kernel), box))

    if bands == 1:
        plane = Image.fromarray(np.ascontiguousarray(planes[..., 0], np.float32))
        made[..., 0] = _resized(plane, size, box, kernel)
    else:
        threads.each(one, range(bands))  # Pillow resizes without holding the interpreter
    return made


def _resized(
    image: Image.Image,
    size: tuple[int, int],
    box: tuple[float, float, float, float],
    kernel: Kernel,
) -> Any:
    """An image resized in two halves at once. A half's kernel reaches over the seam into the
    other, as Pillow looks at all of the image round a box, so the seam is none."""
    wide, high = size
    if wide * high < _SPLIT:
        return np.asarray(image.resize(size, _pillow(kernel), box))
    upper = high // 2
    left, top, right, bottom = box
    seam = top + (bottom - top) * upper / high
    halves = [
        ((wide, upper), (left, top, right, seam)),
        ((wide, high - upper), (left, seam, right, bottom)),
    ]
    parts = threads.each(
        lambda half: np.asarray(image.resize(half[0], _pillow(kernel), half[1])), halves
    )
    return np.concatenate(parts, 0)


def light_at(
    planes: Any,
    size: tuple[int, int],
    box: tuple[float, float, float, float],
    kernel: Kernel = "lanczos3",
) -> Light:
    """Linear light resampled, and held to what lies round each pixel.

    Lanczos swings past an edge by a tenth of its height. In encoded numbers that makes it crisp;
    in light a tenth of a bright sky is more than all of a dark roof, and the swing would draw a
    black line. So no pixel may leave the range of the plain means of its 3 x 3 neighbourhood.
    """
    made = planes_at(planes, size, box, kernel)
    x0, y0 = max(0, floor(box[0])), max(0, floor(box[1]))
    x1, y1 = max(x0 + 1, ceil(box[2])), max(y0 + 1, ceil(box[3]))
    part = planes[y0:y1, x0:x1]
    means = cv2.resize(part, size, interpolation=cv2.INTER_AREA).astype(np.float32)
    square = np.ones((3, 3), np.uint8)
    low, high = cv2.erode(means, square), cv2.dilate(means, square)
    held: Light = np.clip(made, low.reshape(made.shape), high.reshape(made.shape))
    return held
