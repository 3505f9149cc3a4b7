"""What the pixels themselves are worth: how sharp, and how much is lost at the ends."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from aptandum.core.judge.measure import NEEDS_PIXELS, CannotMeasure, Measure, Mend
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.judge.reading import Reading
from aptandum.core.later import cv2, np
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.picture import Picture
from aptandum.core.quantity import NUMBER, SHARE
from aptandum.core.words import say

if TYPE_CHECKING:
    from numpy.typing import NDArray

_GRAIN = 2.576 / 0.6745
"""Of a normal distribution, the 99th percentile of the absolute values over their median."""


_ROWS = 512
"""Rows of a picture whose lightness is found at once."""


def _once(look: PixelStatistics, name: str, find: Callable[[Picture], Any]) -> Any:
    """What is found in every pixel of a picture, looked for once."""
    if name not in look.told:
        try:
            look.told[name] = find(look.native())
        except PhotoError as error:
            raise CannotMeasure(str(error)) from None
    return look.told[name]


def _seen(look: PixelStatistics, picture: Picture) -> NDArray[np.bool_]:
    """Where a picture is opaque, and nothing was laid on here."""
    seen = np.ones(picture.pixels.shape[:2], bool)
    if picture.alpha:
        seen = picture.pixels[..., -1] > picture.top // 2
    return seen & ~look.own if look.own.shape == seen.shape else seen


def _sharpness(reading: Reading) -> float:
    look = reading.look()
    if reading.facts.mode == "mono":
        raise CannotMeasure(say("Dots are as sharp as they come: sharpness is not measured."))
    if min(look.picture.size) < 8:
        raise CannotMeasure(say("The picture is too small to tell how sharp it is."))
    values = _once(look, "sharpness", lambda picture: _detail(look, picture))
    if values is None:
        raise CannotMeasure(say("Nothing of the picture is opaque."))
    return round(max(0.0, float(values[0] - _GRAIN * values[1])), 2)


def _detail(look: PixelStatistics, picture: Picture) -> tuple[float, float] | None:
    """The 99th and the 50th percentile of how far L* differs from its neighbourhood's mean."""
    seen, found = _seen(look, picture), []
    high = picture.pixels.shape[0]
    for start in range(1, high - 1, _ROWS):
        end = min(high - 1, start + _ROWS)
        some = np.ascontiguousarray(picture.pixels[start - 1 : end + 1])
        lightness = np.ascontiguousarray(Picture(some, picture.icc, picture.alpha).lab()[..., 0])
        detail = np.abs(lightness - cv2.blur(lightness, (3, 3)))[1:-1, 1:-1]
        found.append(detail[seen[start:end, 1:-1]])
    values = np.concatenate(found)
    if not values.size:
        return None
    edges, noise = np.percentile(values, (99.0, 50.0))
    return float(edges), float(noise)


def _clipped(reading: Reading) -> float:
    return _ends(reading)[0]


def _clipped_channel(reading: Reading) -> float:
    return _ends(reading)[1]


def _ends(reading: Reading) -> tuple[float, float]:
    """The share of the pixels in which every channel is at the same end, and the largest of the shares in which
    one is."""
    look = reading.look()
    if reading.facts.mode == "mono":
        raise CannotMeasure(say("All dots are at the ends: clipping is not measured."))
    found: tuple[float, float] = _once(look, "clipped", lambda picture: _shares(look, picture))
    return found


def _shares(look: PixelStatistics, picture: Picture) -> tuple[float, float]:
    colour, top, seen = picture.colour, picture.top, _seen(look, picture)
    low, high = np.less_equal(colour, top // 255), np.greater_equal(colour, top - top // 255)
    if not seen.any():
        return 0.0, 0.0
    together = float(np.asarray(low.all(axis=-1) | high.all(axis=-1))[seen].mean())
    ends: NDArray[np.bool_] = np.logical_or(low, high)
    one = max(float(ends[..., band][seen].mean()) for band in range(colour.shape[2]))
    return round(together, 5), round(one, 5)


MEASURES = (
    Measure(
        "sharpness",
        say("Sharpness"),
        "picture",
        NUMBER,
        say(
            "Fine detail at the picture's own size: the 99th percentile of how far L* differs from "
            "the mean of its 3 x 3 neighbourhood, less what grain alone would make of the median. "
            "About 1 is soft, 4 and more crisp."
        ),
        _sharpness,
        station="frame",
        needs=NEEDS_PIXELS,
        seen=("grid", "print"),
        mend=lambda miss: Mend(
            say("Keep more of the photo, so that it is reduced further, or take a sharper one")
        ),
    ),
    Measure(
        "clipped",
        say("Clipped"),
        "picture",
        SHARE,
        say(
            "Share of the pixels in which every channel is at the same end, black or white, to "
            "within 1 of 255: nothing is left to see there."
        ),
        _clipped,
        station="colour",
        needs=NEEDS_PIXELS,
        seen=("projection",),
        mend=lambda miss: Mend(say("Develop the photo again with more room at the ends")),
    ),
    Measure(
        "clipped_channel",
        say("Clipped in one channel"),
        "picture",
        SHARE,
        say(
            "Share of the pixels in which red, green or blue is at an end, to within 1 of 255; of the channel "
            "that has most of them. Colours there are no longer told apart."
        ),
        _clipped_channel,
        station="colour",
        needs=NEEDS_PIXELS,
        mend=lambda miss: Mend(say("Develop the photo again with more room at the ends")),
    ),
)
