"""Sharpening for output: edges of the finished picture made steeper, after it has its size and before anything is laid on.

The lightness of each pixel is moved away from that of what lies round it (unsharp masking: the picture less its Gaussian
blur), and no channel of any pixel leaves the range of its 3 x 3 neighbours, so that no bright or dark line can arise beside
an edge.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from pydantic import Field

from aptandum.core.figures import show_number
from aptandum.core.fitting.finish.base import Canvas, Finish, FinishPart, Given
from aptandum.core.later import cv2, np
from aptandum.core.photo.picture import Picture
from aptandum.core.words import say

_LUMA = (0.2126, 0.7152, 0.0722)
"""Shares of red, green and blue in lightness (ITU-R BT.709)."""

_MOST = 2.0
"""By how much of its difference from what lies round it a pixel is moved at 100 %."""

_ROWS = 128
"""Worked on at a time, so that little is held as fractions."""


class Sharpening(FinishPart):
    """Attributes:
    strength: 0..100 %; 0: none.
    radius: of the blur that is taken off (its standard deviation), in output pixels.
    """

    strength: float = Field(default=0.0, ge=0, le=100)
    radius: float = Field(default=0.8, ge=0.3, le=5)


def draw(picture: Picture, settings: Sharpening, place: Canvas) -> Picture:
    """A picture with its edges made steeper; where it is clear it stays as it is.

    On a picture at a zoom the radius follows it, so that a preview shows what is left of it at that size.
    """
    high = picture.size[1]
    made = picture.pixels.copy()
    radius = max(0.1, settings.radius * place.zoom)
    reach = int(np.ceil(4 * radius)) + 1
    for top in range(0, high, _ROWS):
        first, last = max(0, top - reach), min(high, top + _ROWS + reach)
        some = picture.colour[first:last]
        steep = _steeper(some, radius, settings.strength / 100 * _MOST, picture.top)
        inner = slice(top - first, top - first + min(_ROWS, high - top))
        made[top : top + _ROWS, :, : some.shape[2]] = steep[inner]
    if picture.alpha:  # what shines through from under a clear part has no edge of its own
        clear = picture.pixels[..., -1] < picture.top
        made[clear] = picture.pixels[clear]
    return replace(picture, pixels=made)


def _steeper(colour: Any, radius: float, by: float, top: int) -> Any:
    """Numbers of shape (h, w, 1 or 3), steeper by a factor."""
    values = np.ascontiguousarray(colour, np.float32)
    grey = values[..., 0] if values.shape[2] == 1 else values @ np.array(_LUMA, np.float32)
    # The same for every channel, so that no edge takes on a colour.
    moved = values + ((grey - cv2.GaussianBlur(grey, (0, 0), radius)) * np.float32(by))[..., None]
    square = np.ones((3, 3), np.uint8)
    least, most = (act(values, square).reshape(values.shape) for act in (cv2.erode, cv2.dilate))
    return np.rint(np.clip(moved, least, most)).astype(np.uint16 if top > 255 else np.uint8)


def _says(settings: Sharpening, given: Given) -> str:
    return say(
        "Sharpened by {strength} % within {radius} px.",
        strength=show_number(settings.strength, 1),
        radius=show_number(settings.radius, 2),
    )


FINISH = Finish(
    "sharpening",
    say("Sharpening"),
    Sharpening,
    lambda settings: "sharpen",
    lambda settings, given: settings.strength > 0,
    draw,
    _says,
)
