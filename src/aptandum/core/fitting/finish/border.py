"""Border: a picture with a clear middle laid over the photo, never under it."""

from __future__ import annotations

import os
from dataclasses import replace
from functools import lru_cache
from typing import Any

from pydantic import Field

from aptandum.core.figures import show_size
from aptandum.core.fitting.finish.base import (
    Canvas,
    Finish,
    FinishError,
    FinishPart,
    Given,
    in_numbers_of,
    laid_over,
    open_layer,
)
from aptandum.core.frozen import frozen
from aptandum.core.later import Image, cv2, np
from aptandum.core.photo.engine import Pixels
from aptandum.core.photo.picture import Picture
from aptandum.core.words import say


class Border(FinishPart):
    """Attributes:
    picture: a file's path, or ``none``; ``None``: the brief's own.
    scaled: a border of another size is scaled to the picture's; else it is not laid on.
    """

    picture: str | None = Field(default=None, max_length=4000)
    scaled: bool = False


def file_of(settings: Border, given: Given) -> str | None:
    """The path of the border's picture; ``None`` where there is none."""
    if settings.picture == "none":
        return None
    return settings.picture or given.border


@frozen
class Opening:
    """A border's size and the box of its clear middle, in its own pixels: left, top, width,
    height; the part of it through which the photo is seen whole or in part."""

    size: tuple[int, int]
    box: tuple[int, int, int, int]


@lru_cache(maxsize=8)
def _layer(path: str, changed: int) -> Pixels:
    return open_layer(path, say("border"))


def layer_of(path: str) -> Pixels:
    """A border's picture, RGBA.

    Raises:
        FinishError: it cannot be read, or has no clear middle.
    """
    return _layer(path, _stamp(path))


def _stamp(path: str) -> int:
    """When a border's file was changed last."""
    try:
        return os.stat(path).st_mtime_ns
    except OSError as error:
        why = (error.strerror or str(error)).lower()
        raise FinishError(
            say("The border {file} cannot be read: {why}.", file=os.path.basename(path), why=why)
        ) from None


def opening_of(path: str) -> Opening:
    """Where the photo shows through a border: the clear part that holds its middle.

    Raises:
        FinishError: it cannot be read, or its middle is not clear.
    """
    return _opening(path, _stamp(path))


@lru_cache(maxsize=8)
def _opening(path: str, changed: int) -> Opening:
    layer = _layer(path, changed)
    high, wide = layer.shape[:2]
    seen = (layer[..., 3] < 250).astype(np.uint8)
    _count, labels, stats, _middles = cv2.connectedComponentsWithStats(seen, connectivity=4)
    label = int(labels[high // 2, wide // 2])
    if label == 0:
        raise FinishError(
            say("The border has no transparent middle: nothing of the photo would be seen.")
        )
    left, top, across, up = (int(v) for v in stats[label][:4])
    return Opening((wide, high), (left, top, across, up))


def draw(picture: Picture, settings: Border, place: Canvas) -> Picture:
    """Lay the border picture over the photo."""
    path = file_of(settings, Given(place.border, place.shade, place.template))
    if path is None:
        return picture
    layer = layer_of(path)
    size = layer.shape[1], layer.shape[0]
    if size != place.output and not settings.scaled:
        return picture  # the line's notes say so, and offer to scale it
    if size != picture.size:
        layer = np.asarray(Image.fromarray(layer).resize(picture.size, Image.Resampling.LANCZOS))
    over = in_numbers_of(picture, np.ascontiguousarray(layer[..., :3]))
    share = layer[..., 3].astype(np.float32) / 255
    return replace(picture, pixels=laid_over(picture, over, share))


def trouble(settings: Border, given: Given, output: tuple[int, int]) -> str:
    """A sentence where the border is not laid on; empty where all is well."""
    path = file_of(settings, given)
    if path is None:
        return ""
    try:
        found = opening_of(path)
    except FinishError as error:
        return str(error)
    if found.size != output and not settings.scaled:
        return say(
            "The border has {size}, the picture {output}: it is not laid on. It can be scaled, on "
            "the Finish card.",
            size=show_size(found.size),
            output=show_size(output),
        )
    return ""


def reframed(
    opening: Opening, window: tuple[float, float, float, float]
) -> tuple[float, float, float, float]:
    """The frame whose opening shows what the whole of ``window`` shows now: left, top, width
    and height in photo pixels; it may reach beyond the photo, under the border.

    The opening's shape may differ from the window's; then it shows no more than the window,
    about the same middle, so that nothing but photo is seen through it.
    """
    left, top, wide, high = window
    (full_w, full_h), (x, y, across, up) = opening.size, opening.box
    k = min(wide / across, high / up)  # photo pixels for each of the border's
    cx, cy = left + wide / 2, top + high / 2
    return cx - (x + across / 2) * k, cy - (y + up / 2) * k, full_w * k, full_h * k


def _says(settings: Border, given: Given) -> str:
    path: Any = file_of(settings, given) or ""
    return say("Border {name} laid over.", name=str(path).rsplit("/", 1)[-1])


FINISH = Finish(
    "border",
    say("Border"),
    Border,
    lambda settings: "border",
    lambda settings, given: file_of(settings, given) is not None,
    draw,
    _says,
)
