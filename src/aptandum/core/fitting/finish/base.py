"""What a finish is: settings of its own, and how it is drawn on a picture.

Each finish is a module of this package with a class of settings and a ``FINISH``; the order in
which they are laid on is :data:`aptandum.core.fitting.finish.FINISHES`.
"""

from __future__ import annotations

import json
import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from pydantic import BaseModel, ConfigDict

from aptandum.core.brief.model import Template
from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.later import np
from aptandum.core.photo.backdrop import Cover, Mask
from aptandum.core.photo.engine import Pixels
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.turning import swung
from aptandum.core.words import say

COLOUR = r"^#[0-9A-Fa-f]{6}$"


class FinishError(AptandumError, ValueError):
    """A finish that cannot be laid on; the message is a sentence with the cause."""


class FinishPart(BaseModel):
    """Settings of one finish; the defaults lay nothing on."""

    model_config = ConfigDict(frozen=True, extra="forbid", defer_build=True)


def from_json(value: Any, what: str) -> Any:
    """A list as it is, or read from text.

    Args:
        what: what the text is to be, in words.

    Raises:
        ValueError: the text is no JSON; the message is ``what``.
    """
    if not isinstance(value, str):
        return value
    try:
        return json.loads(value)
    except ValueError:
        raise ValueError(what) from None


@frozen
class Others:
    """How photos beside the fitting's own are drawn.

    Attributes:
        render: a photo's pixels with alpha, in the profile and depth of a picture: ``(path, window or None, size, like,
            free, turn) -> Pixels``.
        extent: left, top, width and height of a photo as it is shown, or of the person or thing in it:
            ``(path, free, turn)``. Both raise :class:`FinishError`.
    """

    render: Callable[..., Pixels]
    extent: Callable[[str, bool, int], tuple[float, float, float, float]]


@dataclass(frozen=True, eq=False)
class Canvas:
    """Where a finish is drawn.

    Attributes:
        box: left, top, width, height of the frame in pixels of the straightened photo.
        output: width and height of the finished file.
        zoom: of the picture that is drawn on, against the output.
        shown: width and height of the photo as shown.
        angle: degrees by which it is straightened.
        see_mask: finds what stands before the photo's backdrop; raises ``NoMask``.
        border: the file of the brief's border, or ``None``.
        template: the brief's template, and ``shade`` the file of its shading.
        others: how other photos are drawn; ``None`` where none is.
    """

    box: tuple[float, float, float, float]
    output: tuple[int, int]
    zoom: float
    shown: tuple[int, int]
    angle: float
    see_mask: Callable[[], Mask]
    border: str | None = None
    template: Template | None = None
    shade: str | None = None
    others: Others | None = field(default=None, repr=False)
    cancelled: Callable[[], bool] | None = field(default=None, repr=False)

    def cover(self, size: tuple[int, int]) -> Cover:
        """How much of each pixel of a picture of this size stands before the backdrop, 0..1."""
        return self.see_mask().window(self.box, size, self.angle)

    def on_picture(self, at: tuple[float, float], size: tuple[int, int]) -> tuple[float, float]:
        """A point of the photo, in pixels of a picture of this size."""
        x, y = swung(at, self.angle, self.shown)
        left, top, wide, high = self.box
        return (x - left) / wide * size[0], (y - top) / high * size[1]


@frozen
class Finish:
    """One finish.

    Attributes:
        name: its key under ``finish.``.
        title: as its card is headed.
        settings: the class of its settings.
        alteration: the word under which a brief allows it.
        on: whether the settings lay anything on, for a brief with this border and template.
        draw: lays it on a picture.
        after_dots: it is drawn on the dots of a one-bit picture, not on the grey before them.
        needs_mask: whether drawing asks what stands before the backdrop.
        says: what was done, in words.
    """

    name: str
    title: str
    settings: type[FinishPart]
    alteration: Callable[[Any], str]
    on: Callable[[Any, Given], bool]
    draw: Callable[[Picture, Any, Canvas], Picture]
    says: Callable[[Any, Given], str]
    after_dots: bool = False
    needs_mask: Callable[[Any], bool] = field(default=lambda settings: False)


@frozen
class Given:
    """What a brief gives to lay on: files of its border and its shading, and its template."""

    border: str | None = None
    shade: str | None = None
    template: Template | None = None


def blended(under: Pixels, over: Any, share: Any) -> Pixels:
    """``over`` on ``under`` by a share 0..1, in whole numbers of the same depth."""
    weight = np.asarray(share, np.float32)
    if weight.ndim == 2:
        weight = weight[..., None]
    mixed = under.astype(np.float32) * (1 - weight) + np.asarray(over, np.float32) * weight
    top = 65535 if under.dtype == np.uint16 else 255
    made: Pixels = np.clip(np.rint(mixed), 0, top).astype(under.dtype)
    return made


def laid_over(picture: Picture, over: Any, share: Any) -> Pixels:
    """A picture's pixels with something laid over them; what it does not touch stays as it is.

    Args:
        over: one colour's numbers, shape (bands,), or pixels, shape (h, w, bands), in the
            picture's own numbers.
        share: how opaque it is, 0..1, shape (h, w). On a clear ground it makes the picture as
            opaque as it is itself.
    """
    where = np.asarray(share) > 0
    pixels = picture.pixels.copy()
    part = pixels[where].astype(np.float32)
    weight = np.asarray(share, np.float32)[where][:, None]
    top = np.asarray(over, np.float32)
    top = top[where] if top.ndim == 3 else top
    bands = picture.colour.shape[2]
    if picture.alpha:
        cover = part[:, -1:] / picture.top
        full = weight + cover * (1 - weight)
        under = part[:, :bands] * cover * (1 - weight)
        part[:, :bands] = (top * weight + under) / np.maximum(full, 1e-6)
        part[:, -1:] = full * picture.top
    else:
        part[:, :bands] = part[:, :bands] * (1 - weight) + top * weight
    pixels[where] = np.clip(np.rint(part), 0, picture.top).astype(pixels.dtype)
    return pixels


def whole(value: float, zoom: float) -> int:
    """A length of output pixels on a picture at a zoom: whole, and never nothing."""
    return max(1, math.floor(value * zoom + 0.5)) if value > 0 else 0


def open_layer(path: str, what: str) -> Pixels:
    """A picture to lay on, as RGBA of 8 bit in sRGB.

    Raises:
        FinishError: it cannot be read.
    """
    from aptandum.core.photo import profile
    from aptandum.core.photo.decode import from_array, open_photo, open_pixels
    from aptandum.core.photo.engine import converted, deepened, memory
    from aptandum.core.photo.facts import PhotoError

    try:
        photo = open_photo(path)
        image, _turn = open_pixels(photo.read(), photo.facts)
        pixels = memory(deepened(image, 8))
    except (PhotoError, OSError) as error:
        raise FinishError(
            say("The {what} cannot be laid on: {why}", what=what, why=error)
        ) from None
    except Exception as error:  # the decoders raise kinds of their own on damaged data
        sentence = say("The {what} cannot be read: {why}.", what=what, why=error)
        raise FinishError(sentence) from None
    bands = pixels.shape[2]
    alpha = pixels[..., -1:] if bands in (2, 4) else np.full_like(pixels[..., :1], 255)
    colour = pixels[..., : bands - 1] if bands in (2, 4) else pixels
    if colour.shape[2] == 1:
        colour = np.repeat(colour, 3, 2)
    icc = photo.facts.icc_bytes
    usable = photo.facts.profile is not None and photo.facts.profile.channels == 3
    if icc and usable and photo.facts.colour_space != "srgb":
        colour = memory(converted(from_array(colour), icc, profile.shipped("srgb"), 8))
    made: Pixels = np.concatenate([colour[..., :3], alpha], 2)
    return made


def in_numbers_of(picture: Picture, rgb: Pixels) -> Pixels:
    """sRGB pixels of 8 bit, shape (h, w, 3), in a picture's own profile and depth."""
    from aptandum.core.photo import profile
    from aptandum.core.photo.decode import from_array
    from aptandum.core.photo.engine import converted, memory

    bits = 16 if picture.top == 65535 else 8
    if picture.icc == profile.shipped("srgb") and bits == 8:
        return rgb
    made = memory(converted(from_array(rgb), profile.shipped("srgb"), picture.icc, bits))
    return made[..., : picture.colour.shape[2]]


def with_alpha(picture: Picture) -> Pixels:
    """The picture's pixels with an alpha channel, opaque where it had none."""
    if picture.alpha:
        return picture.pixels
    high, wide = picture.pixels.shape[:2]
    full = np.full((high, wide, 1), picture.top, picture.pixels.dtype)
    made: Pixels = np.concatenate([picture.pixels, full], 2)
    return made
