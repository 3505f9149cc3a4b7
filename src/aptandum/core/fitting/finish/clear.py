"""Clear: the picture stands free, by the colour of what is to go or by what stands before it.

An edge pixel is a mixture of the subject and its ground. How much of each is told from the
colours on both sides (the pixel's place on the line between them), and the ground's share is
taken out of its colour, so that no rim of the old ground is left.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any, Literal

from pydantic import Field, field_validator

from aptandum.core.fitting.finish.backdrop import broad
from aptandum.core.fitting.finish.base import COLOUR, Canvas, Finish, FinishPart, Given, with_alpha
from aptandum.core.later import cv2, np
from aptandum.core.numbers import QuantityError, number
from aptandum.core.photo import engine
from aptandum.core.photo.picture import Islands, Picture
from aptandum.core.words import say

_SPECK = 8
"""Pixels of the output below which an area of the colour is no island, but a speck."""


class Clear(FinishPart):
    """Attributes:
    by: ``colour``: all that is near to a colour; ``standing``: all behind the person or
        thing; ``None``: nothing is cleared.
    colour: what is cleared; ``None``: the colour at ``at``.
    at: the point that was clicked, in photo pixels; ``None``: the picture's rim.
    tolerance: CIEDE2000 up to which a colour counts as the same.
    connected: only areas that are connected with the point (or the rim).
    soft: width of the edge that may be a mixture, in output pixels.
    cleaned: the ground's share is taken out of the edge's colours.
    """

    by: Literal["colour", "standing"] | None = None
    colour: str | None = Field(default=None, pattern=COLOUR)
    at: tuple[float, float] | None = None
    tolerance: float = Field(default=12.0, ge=0, le=100)
    connected: bool = True
    soft: float = Field(default=2.0, ge=0, le=50)
    cleaned: bool = True

    @field_validator("at", mode="before")
    @classmethod
    def _point(cls, value: Any) -> Any:
        if isinstance(value, str):
            parts = value.replace(",", " ").split()
            if len(parts) != 2:
                raise ValueError(say("two numbers: across and down"))
            try:
                return tuple(float(number(part)) for part in parts)
            except QuantityError as error:
                raise ValueError(str(error)) from None
        return value


def draw(picture: Picture, settings: Clear, place: Canvas) -> Picture:
    """Make the ground transparent: behind what stands, or of the colour that was pointed at."""
    lab = picture.lab()
    if settings.by == "standing":
        cover = place.cover(picture.size)
        ground = broad(lab, cover < 0.02) if (cover < 0.02).any() else lab
        return _freed(picture, cover, ground, settings.cleaned)
    wide, high = picture.size
    spot = None
    if settings.at is not None:
        x, y = place.on_picture(settings.at, picture.size)
        if 0 <= x < wide and 0 <= y < high:
            spot = (int(x), int(y))
    if settings.colour is not None:
        colour = engine.srgb_lab(settings.colour)
    elif spot is not None:
        colour = _around(lab, spot)
    else:
        rim = np.concatenate([lab[0], lab[-1], lab[:, 0], lab[:, -1]])
        colour = np.median(rim, axis=0).astype(np.float32)
    apart = engine.difference_to(lab, colour)
    alike = apart <= settings.tolerance
    connected = _connected(alike, spot)
    islands = _islands(alike & ~connected, place.zoom, settings.connected)
    gone = connected if settings.connected else alike
    soft = settings.soft * place.zoom
    cover = np.where(gone, 0, 1).astype(np.float32)
    if soft > 0 and gone.any():
        cover = _soft_edge(lab, gone, colour, soft)
    flat = np.broadcast_to(colour, lab.shape).astype(np.float32)
    return replace(_freed(picture, cover, flat, settings.cleaned), islands=islands)


def _islands(inside: Any, zoom: float, stay: bool) -> Islands | None:
    """The areas of a colour that are not connected with where clearing began; specks are none."""
    least = max(2, round(_SPECK * zoom**2))
    count, labels, stats, _middles = cv2.connectedComponentsWithStats(
        inside.astype(np.uint8), connectivity=4
    )
    large = [i for i in range(1, count) if stats[i, cv2.CC_STAT_AREA] >= least]
    if not large:
        return None
    where = np.isin(labels, large)
    return Islands(len(large), int(where.sum()), where, stay)


def _around(lab: Any, spot: tuple[int, int], reach: int = 2) -> Any:
    x, y = spot
    part = lab[max(0, y - reach) : y + reach + 1, max(0, x - reach) : x + reach + 1]
    return np.median(part.reshape(-1, 3), axis=0).astype(np.float32)


def _connected(gone: Any, spot: tuple[int, int] | None) -> Any:
    """Of what is gone, the areas that are connected with a point, or with the rim."""
    _count, labels = cv2.connectedComponents(gone.astype(np.uint8), connectivity=4)
    if spot is not None:
        wanted = {int(labels[spot[1], spot[0]])}
    else:
        rims = (labels[0], labels[-1], labels[:, 0], labels[:, -1])
        wanted = {int(v) for rim in rims for v in np.unique(rim)}
    wanted.discard(0)
    return np.isin(labels, list(wanted)) if wanted else np.zeros_like(gone)


def _soft_edge(lab: Any, gone: Any, colour: Any, soft: float) -> Any:
    """In a band along the edge: the place of each colour on the line from the ground's to that
    of the nearest pixels which are surely the subject's."""
    reach = max(1, round(soft))
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1,) * 2)
    wide = cv2.dilate(gone.astype(np.uint8), kernel) > 0
    sure = ~wide
    weight = cv2.GaussianBlur(sure.astype(np.float32), (0, 0), reach + 1.0)
    held = cv2.GaussianBlur(lab * sure[..., None], (0, 0), reach + 1.0)
    solid = np.where(weight[..., None] > 1e-3, held / np.maximum(weight, 1e-3)[..., None], lab)
    line = solid - colour
    length = (line**2).sum(-1)
    along = ((lab - colour) * line).sum(-1) / np.maximum(length, 1.0)
    band = wide & ~gone
    inner = cv2.erode(gone.astype(np.uint8), kernel) > 0
    cover = np.where(gone, 0, 1).astype(np.float32)
    cover[band] = np.clip(along, 0, 1)[band]
    edge = gone & ~inner  # the tolerance may have taken a share of the subject with it
    cover[edge] = np.where(along > 0.15, np.clip(along, 0, 1), 0)[edge]
    return cover


def _freed(picture: Picture, cover: Any, ground: Any, cleaned: bool) -> Picture:
    """The picture as opaque as ``cover`` says, its edge freed of its ground's colours."""
    pixels = with_alpha(picture).copy()
    if cleaned:
        edge = (cover > 0.02) & (cover < 0.995)
        if edge.any():
            numbers = engine.from_lab(ground, picture.icc, 16 if picture.top == 65535 else 8)[
                ..., : pixels.shape[2] - 1
            ]
            share = cover[edge][:, None]
            mixed = pixels[..., :-1][edge].astype(np.float32)
            own = (mixed - (1 - share) * numbers[edge].astype(np.float32)) / np.maximum(share, 0.1)
            pixels[..., :-1][edge] = np.clip(np.rint(own), 0, picture.top).astype(pixels.dtype)
    opaque = pixels[..., -1].astype(np.float32) * cover
    pixels[..., -1] = np.rint(opaque).astype(pixels.dtype)
    pixels[..., :-1][pixels[..., -1] == 0] = 0  # nothing is hidden under what is clear
    return replace(picture, pixels=pixels, alpha=True)


def _says(settings: Clear, given: Given) -> str:
    if settings.by == "standing":
        return say("Made transparent behind the person or thing.")
    place = say("at the point chosen") if settings.at is not None else say("at the rim")
    colour = settings.colour or say("the colour {place}", place=place)
    n = round(settings.tolerance, 1)
    if not settings.connected:
        return say(
            "Made transparent: {colour}, within a difference of {n}, everywhere.",
            colour=colour,
            n=n,
        )
    return say(
        "Made transparent: {colour}, within a difference of {n}, where it is connected {with_what}.",
        colour=colour,
        n=n,
        with_what=say("with the point") if settings.at is not None else say("with the rim"),
    )


FINISH = Finish(
    "clear",
    say("Transparent"),
    Clear,
    lambda settings: "clear",
    lambda settings, given: settings.by is not None,
    draw,
    _says,
    needs_mask=lambda settings: settings.by == "standing",
)
