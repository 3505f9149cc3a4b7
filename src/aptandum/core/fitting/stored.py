"""A photo's pixels as its file stores them, and as they are shown: places in the one and the other, and what is taken as
it is."""

from __future__ import annotations

from collections.abc import Callable
from math import ceil, floor
from typing import Any

from aptandum.core import threads
from aptandum.core.errors import Cancelled
from aptandum.core.fitting.plan import Window
from aptandum.core.later import cv2, np
from aptandum.core.photo import decode
from aptandum.core.photo.apart import Stored
from aptandum.core.photo.arriving import arriving, in_rows
from aptandum.core.photo.decode import Photo
from aptandum.core.photo.engine import Pixels
from aptandum.core.photo.facts import TURNED

_TURNS: dict[int, Callable[[Any], Any]] = {
    2: lambda a: cv2.flip(a, 1),
    3: lambda a: cv2.rotate(a, cv2.ROTATE_180),
    4: lambda a: cv2.flip(a, 0),
    5: lambda a: cv2.transpose(a),
    6: lambda a: cv2.rotate(a, cv2.ROTATE_90_CLOCKWISE),
    7: lambda a: cv2.flip(cv2.transpose(a), -1),
    8: lambda a: cv2.rotate(a, cv2.ROTATE_90_COUNTERCLOCKWISE),
}
"""What shows an EXIF orientation upright; 1 needs nothing."""


def to_stored(window: Window, orientation: int, shown: tuple[int, int]) -> Window:
    """A window on the photo as shown, in the coordinates of the file as stored.

    ``orientation`` is EXIF's (TIFF 6.0): where the stored rows and columns belong in the view.
    """
    w, h = shown
    left, top, width, height = window.left, window.top, window.width, window.height
    right, bottom = w - left - width, h - top - height
    spots = {
        1: (left, top),
        2: (right, top),
        3: (right, bottom),
        4: (left, bottom),
        5: (top, left),
        6: (top, right),
        7: (bottom, right),
        8: (bottom, left),
    }
    x, y = spots[orientation]
    return Window(x, y, height, width) if orientation in TURNED else Window(x, y, width, height)


def turned(pixels: Pixels, orientation: int) -> Pixels:
    """Stored pixels as a viewer shows them."""
    if orientation not in _TURNS:
        return pixels
    # OpenCV turns in cache-sized blocks, several times faster than a strided copy.
    made: Pixels = _TURNS[orientation](np.ascontiguousarray(pixels))
    return made[..., None] if made.ndim == 2 else made


def own_pixels(photo: Photo, window: Window, cancelled: Callable[[], bool] | None) -> Pixels:
    """A window's own pixels, turned; nothing is resampled.

    Raises:
        PhotoError: they cannot be read.
        Cancelled: ``cancelled`` said so.
    """
    stored = _all_of(photo)
    if cancelled is not None and cancelled():
        raise Cancelled
    high, wide = stored.array.shape[:2]
    place = to_stored(window, stored.orientation, photo.facts.size)
    x0, y0, x1, y1 = whole_pixels(place, wide, high)
    pixels = turned(stored.array[y0:y1, x0:x1], stored.orientation)
    return np.array(pixels, order="C") if stored.orientation == 1 else np.ascontiguousarray(pixels)


def _all_of(photo: Photo) -> Stored:
    """All of a photo's pixels, which may have been asked for before."""
    if not in_rows(photo.facts) or threads.at_once() == 1:
        return decode.stored_pixels(photo.read(), photo.facts)
    with arriving(photo.read(), photo.facts) as coming:
        return coming.whole()


def whole_pixels(box: Window, wide: int, high: int) -> tuple[int, int, int, int]:
    """The pixels round a box that lie in a picture: left, top, right, bottom."""
    return (
        max(0, floor(box.left + 1e-9)),
        max(0, floor(box.top + 1e-9)),
        min(wide, ceil(box.left + box.width - 1e-9)),
        min(high, ceil(box.top + box.height - 1e-9)),
    )
