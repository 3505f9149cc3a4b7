"""Rendering: photo and line into the finished picture's pixels, at full size or a preview's.

The window is read at its size (:mod:`.resample`), its colours are converted at that size, the
finishes are laid on in their order, and grey becomes dots last but for what is drawn on dots.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache, partial
from math import ceil, cos, floor, radians, sin
from typing import Any

from aptandum.core import bounds, threads
from aptandum.core.errors import Cancelled
from aptandum.core.figures import show_size
from aptandum.core.fitting.banded import reduced_in_light
from aptandum.core.fitting.colouring import as_it_is
from aptandum.core.fitting.colouring import coloured as converted
from aptandum.core.fitting.dots import dots, sharpened
from aptandum.core.fitting.finish import FINISHES, Canvas, FinishError, Others
from aptandum.core.fitting.light import LIGHT, curve_of, curve_of_profile
from aptandum.core.fitting.lighting import lit
from aptandum.core.fitting.plan import ColourStation, Line, Window
from aptandum.core.fitting.resample import light_at, resample, resampled
from aptandum.core.later import cv2, np
from aptandum.core.photo.backdrop import Mask, NoMask
from aptandum.core.photo.decode import Photo, open_photo
from aptandum.core.photo.engine import Pixels
from aptandum.core.photo.facts import Facts, PhotoError
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import Space
from aptandum.core.photo.turning import swung_box
from aptandum.core.words import say


def render(
    photo: Photo,
    line: Line,
    *,
    zoom: float = 1.0,
    see_mask: Callable[[], Mask] | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> Picture:
    """Make the finished picture's pixels.

    Args:
        zoom: size against the full output; 1 is the file's own pixels. A preview is the same
            code at a smaller zoom.
        see_mask: finds what stands before the photo's backdrop, where it is known already;
            else it is looked for when a finish asks.
        cancelled: asked now and then; True stops the work.

    Raises:
        PhotoError: the photo's pixels cannot be read, or a finish cannot be laid on.
        Cancelled: ``cancelled`` said so.
    """
    picture = plain(photo, line, zoom, cancelled)
    return _finished(picture, photo, line, zoom, see_mask, cancelled)


def plain(
    photo: Photo,
    line: Line,
    zoom: float = 1.0,
    cancelled: Callable[[], bool] | None = None,
    convert: bool = True,
) -> Picture:
    """The framed picture before any finish and before it becomes dots; where ``convert`` is
    False still in the photo's own colours, so that the two can be compared.

    Raises:
        PhotoError, Cancelled: as :func:`render`.
    """
    frame = line.frame
    size = max(1, round(frame.output[0] * zoom)), max(1, round(frame.output[1] * zoom))
    most = bounds.current()
    if size[0] * size[1] > most.pixels:
        raise PhotoError(
            say(
                "{file}: a picture of {size} is not made; at most {most} megapixels are (--limits "
                "megapixels={more} makes it, or “Limits for one photo” in the window’s View menu).",
                file=photo.name,
                size=show_size(size),
                most=most.megapixels,
                more=-(-size[0] * size[1] // 1_000_000),
            )
        )
    station = line.colour
    if frame.angle:
        pixels, embedded = _straightened(
            photo, frame.window, size, frame.angle, cancelled, station.light
        )
    elif frame.ground is not None:
        return _padded(photo, line, size, cancelled)
    else:
        keep = frame.exact and zoom == 1.0
        pixels, embedded = resampled(
            photo, frame.window, size, keep, cancelled, light=station.light
        )
    if not convert:
        return as_it_is(photo.facts, pixels, embedded, station)
    return coloured(photo.facts, pixels, embedded, station)


def coloured(facts: Facts, pixels: Pixels, embedded: bytes, station: ColourStation) -> Picture:
    """Pixels of the photo in the colours, in the light and at the depth that are written."""
    if not station.relit:
        return converted(facts, pixels, embedded, station)
    deep = converted(facts, pixels, embedded, replace(station, bits=16))
    return lit(deep, replace(station, bits=16 if station.bits == 16 else 8))


def _finished(
    picture: Picture,
    photo: Photo,
    line: Line,
    zoom: float,
    see_mask: Callable[[], Mask] | None,
    cancelled: Callable[[], bool] | None,
) -> Picture:
    station, frame, light = line.finish, line.frame, line.colour.light
    if see_mask is None:
        from aptandum.core.fitting.masking import mask_in

        def see_mask() -> Mask:
            return mask_in(photo, cancelled=cancelled)

    window = frame.window
    place = Canvas(
        (window.left, window.top, window.width, window.height),
        frame.output,
        zoom,
        line.source.shown,
        frame.angle,
        see_mask,
        station.given.border,
        station.given.template,
        station.given.shade,
        Others(partial(_of_another, cancelled=cancelled), _extent_of_another),
        cancelled,
    )
    done = False
    for finish in FINISHES:
        if finish.after_dots and not done:
            picture, done = _reduced(_flat(picture, station.ground, light), line.colour), True
        if finish.name not in station.on:
            continue
        if cancelled is not None and cancelled():
            raise Cancelled
        if finish.name == "border":
            picture = _flat(picture, station.ground, light)
        settings = getattr(station.settings, finish.name)
        try:
            picture = finish.draw(picture, settings, place)
        except (FinishError, NoMask) as error:
            sentence = say("{finish}: {why}", finish=finish.title, why=error)
            raise PhotoError(sentence) from None
    return picture


def _flat(picture: Picture, ground: str | None, light: bool) -> Picture:
    """Without transparency, where a ground is laid under it."""
    if not picture.alpha or ground is None:
        return picture
    seen = bool((picture.pixels[..., -1] < picture.top).any())
    flat = replace(picture, pixels=flattened(picture, ground, light), alpha=False)
    return replace(flat, ground=ground) if seen else flat


def _reduced(picture: Picture, station: ColourStation) -> Picture:
    """Grey as dots, where one bit is asked."""
    wish = station.dots
    if wish is None:
        return picture
    flat = _flat(picture, "#FFFFFF", station.light)
    grey = sharpened(np.ascontiguousarray(flat.pixels[..., 0]), wish.sharpen)
    made = dots(grey, wish.dots, wish.threshold, wish.invert)
    return replace(flat, pixels=made[..., None], bits=1)


@lru_cache(maxsize=4)
def _mask_of_file(path: str, turn: int, changed: int) -> Mask:
    from aptandum.core.fitting.masking import mask_in

    return mask_in(_turned_photo(path, turn))


def _turned_photo(path: str, turn: int) -> Photo:
    photo = open_photo(path)
    return photo if turn == 1 else Photo(photo.path, photo.facts.turned_by(turn))


def _of_another(
    path: str,
    window: tuple[float, float, float, float] | None,
    size: tuple[int, int],
    like: Picture,
    free: bool,
    turn: int = 1,
    cancelled: Callable[[], bool] | None = None,
) -> Pixels:
    """Another photo's window at a size, in the profile and depth of ``like``, with alpha."""
    import os

    from aptandum.core.fitting.resolve_frame import cut_of_shape

    try:
        photo = _turned_photo(path, turn)
    except PhotoError as error:
        raise FinishError(str(error)) from None
    box = cut_of_shape(size, window, photo.facts.size)
    facts = photo.facts
    bits = 16 if like.top == 65535 else 8
    source = facts.taken_as
    target: Space = "grey" if like.colour.shape[2] == 1 else "other"
    station = ColourStation(source, target, like.icc, bits, "relative", False, True)
    pixels, embedded = resampled(photo, box, size, False, cancelled, light=True)
    made = coloured(facts, pixels, embedded, station)
    if not made.alpha:
        full = np.full((*made.pixels.shape[:2], 1), made.top, made.pixels.dtype)
        made = replace(made, pixels=np.concatenate([made.pixels, full], 2), alpha=True)
    if free and not facts.alpha:
        try:
            mask = _mask_of_file(path, turn, os.stat(path).st_mtime_ns)
        except NoMask as error:
            raise FinishError(f"{photo.name}: {error}") from None
        cover = mask.window((box.left, box.top, box.width, box.height), size)
        out = made.pixels.copy()
        out[..., -1] = np.rint(out[..., -1] * cover).astype(out.dtype)
        return out
    return made.pixels


def _extent_of_another(path: str, free: bool, turn: int) -> tuple[float, float, float, float]:
    """All of another photo as it is shown, or the box round the person or thing in it, in its pixels."""
    import os

    try:
        photo = _turned_photo(path, turn)
    except PhotoError as error:
        raise FinishError(str(error)) from None
    wide, high = photo.facts.size
    if not free or photo.facts.alpha:
        return 0.0, 0.0, float(wide), float(high)
    try:
        mask = _mask_of_file(path, turn, os.stat(path).st_mtime_ns)
    except NoMask as error:
        raise FinishError(f"{photo.name}: {error}") from None
    side = 512 / max(wide, high)
    size = max(1, round(wide * side)), max(1, round(high * side))
    there = np.asarray(mask.window((0, 0, wide, high), size)) > 0.1
    rows, columns = np.flatnonzero(there.any(1)), np.flatnonzero(there.any(0))
    if not rows.size:
        raise FinishError(say("{file}: nothing stands out in it.", file=photo.name))
    x0, x1 = columns[0] / size[0] * wide, (columns[-1] + 1) / size[0] * wide
    y0, y1 = rows[0] / size[1] * high, (rows[-1] + 1) / size[1] * high
    return float(x0), float(y0), float(x1 - x0), float(y1 - y0)


_ALL = 0.7
"""The share of its own pixels beyond which a photo is turned with all of them: to leave some out first takes longer."""


def _straightened(
    photo: Photo,
    box: Window,
    size: tuple[int, int],
    angle: float,
    cancelled: Callable[[], bool] | None,
    light: bool,
) -> tuple[Pixels, bytes]:
    """A window of the photo straightened by an angle, at ``size``.

    The part of the photo under it is brought to about twice the target (or left at its own
    pixels where there are few more), turned there with a cubic kernel, and reduced as ever.
    """
    facts = photo.facts
    pw, ph = facts.size
    left, top, part = _under(angle, pw, ph, box)
    scale = size[0] / box.width
    fine = 2 * scale
    if fine > _ALL:
        fine = 1.0
    taken = (max(1, round(part.width * fine)), max(1, round(part.height * fine)))
    keep = taken == (part.width, part.height)
    pixels, embedded = resampled(photo, part, taken, keep, cancelled, light=light)
    curve = curve_of(facts)
    by_table = light and not facts.alpha and (facts.bits or 8) <= 8
    if by_table:
        fine_ones = pixels.dtype == np.uint16
        table = curve.table16 if fine_ones else curve.table8.astype(np.float32)
        pixels = cv2.LUT(pixels, table).reshape(pixels.shape)  # whole numbers are turned slowly
    elif light:
        pixels = _light_of(pixels, curve, bool(facts.alpha))
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
    turned_ = _swung(pixels, matrix, (wide, high), light, by_table)
    whole = (0.0, 0.0, float(wide), float(high))
    same = (wide, high) == size
    if by_table:
        if not same:
            turned_ = reduced_in_light(turned_, size, whole, LIGHT, cancelled, numbers=True)
        turned_ = cv2.LUT(turned_, curve.back).reshape(turned_.shape)
    elif light:
        turned_ = turned_ if same else light_at(turned_, size, whole)
        turned_ = _numbers_of(turned_, curve, bool(facts.alpha))
    elif not same:
        turned_ = resample(turned_, size, whole)
    return np.ascontiguousarray(turned_), embedded


_AT_ONCE = 64
"""Rows of a turned picture that are made at once, so that what is made of them is still in a core's memory."""


def _swung(pixels: Any, matrix: Any, size: tuple[int, int], light: bool, numbers: bool) -> Any:
    """Pixels turned by a matrix from the result's to theirs, by a cubic kernel; shape (height, width, bands).

    Args:
        light: they are light, in which a cubic swings past an edge: it is held as :func:`light_at` holds it.
        numbers: rounded to whole numbers of 16 bit.
    """
    wide, high = size
    bands = pixels.shape[2] if pixels.ndim == 3 else 1
    made = np.empty((high, wide, bands), np.uint16 if numbers else pixels.dtype)

    def by(kernel: int, start: int, end: int) -> Any:
        at = matrix.copy()
        at[:, 2] += at[:, 1] * start
        some = cv2.warpAffine(
            pixels, at, (wide, end - start), flags=kernel | cv2.WARP_INVERSE_MAP,
            borderMode=cv2.BORDER_REPLICATE,
        )  # fmt: skip
        return some.reshape(end - start, wide, bands)

    def part(start: int) -> None:
        end = min(high, start + _AT_ONCE)
        some = by(cv2.INTER_CUBIC, start, end)
        if light:
            # What lies round a row is of its neighbours as well.
            low, past = max(0, start - 1), min(high, end + 1)
            straight = by(cv2.INTER_LINEAR, low, past)
            for held, around in ((cv2.max, cv2.erode), (cv2.min, cv2.dilate)):
                near = around(straight, np.ones((3, 3), np.uint8))[start - low : end - low]
                held(some, near.reshape(some.shape), dst=some)
        made[start:end] = np.rint(some, out=some) if numbers else some

    threads.each(part, range(0, high, _AT_ONCE))
    return made


def _under(angle: float, pw: int, ph: int, box: Window) -> tuple[int, int, Window]:
    """The part of the photo that lies under a straightened window, two pixels wider."""
    under = swung_box((box.left, box.top, box.width, box.height), -angle, (pw, ph))
    left, top = floor(max(0.0, under[0] - 2)), floor(max(0.0, under[1] - 2))
    right = ceil(min(float(pw), under[0] + under[2] + 2))
    bottom = ceil(min(float(ph), under[1] + under[3] + 2))
    part = Window(left, top, right - left, bottom - top)
    return left, top, part


def _light_of(pixels: Pixels, curve: Any, alpha: bool) -> Any:
    """Linear light 0..1, premultiplied where there is alpha."""
    top = 65535 if pixels.dtype == np.uint16 else 255
    share = pixels.astype(np.float32) / top
    colour = share[..., :-1] if alpha else share
    made = curve.light(colour)
    return np.concatenate([made * share[..., -1:], share[..., -1:]], 2) if alpha else made


def _numbers_of(planes: Any, curve: Any, alpha: bool) -> Pixels:
    """Linear light back in numbers of 16 bit."""
    colour = planes[..., :-1] / np.maximum(planes[..., -1:], 1e-6) if alpha else planes
    made = curve.encoded(colour)
    if alpha:
        made = np.concatenate([made, np.clip(planes[..., -1:], 0, 1)], 2)
    numbers: Pixels = np.rint(made * 65535).astype(np.uint16)
    return numbers


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
    pixels, embedded = resampled(photo, inside, part, keep, cancelled, light=line.colour.light)
    made = coloured(facts, pixels, embedded, line.colour)
    if line.finish.ground is not None:
        made = _flat(made, line.finish.ground, line.colour.light)
    clear = frame.ground == "clear" and line.finish.ground is None
    ground = line.finish.ground if frame.ground == "clear" else frame.ground
    if clear:
        colour = np.zeros(1, made.pixels.dtype)
    elif ground == "edge":
        colour = _edge_colour(made, (left, top, wide - right, high - bottom))
    else:
        colour = made.numbers(str(ground))
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


def flattened(picture: Picture, ground: str, light: bool = False) -> Pixels:
    """A picture's transparent parts laid on a plain colour, e.g. ``#FFFFFF`` (sRGB).

    Args:
        light: what shows through is mixed as light mixes, as where pixels are resampled; else by its encoded values.
    """
    cover = picture.pixels[..., -1:].astype(np.float32) / picture.top
    under = np.asarray(picture.numbers(ground), np.float32)
    made = picture.pixels[..., :-1].astype(np.float32) * cover + under * (1 - cover)
    if light:
        partly = (cover[..., 0] > 0) & (cover[..., 0] < 1)
        curve, share = curve_of_profile(picture.icc), cover[partly]
        over = curve.light(picture.pixels[..., :-1][partly] / np.float32(picture.top))
        mixed = over * share + curve.light(under / picture.top) * (1 - share)
        made[partly] = curve.encoded(mixed) * picture.top
    laid: Pixels = np.rint(made).astype(picture.pixels.dtype)
    return laid
