"""Backdrop: what is behind the person or thing is lightened, evened out, or filled.

Everything is done as a change of the backdrop's own colour, added where the backdrop shows
through: at a strand of hair that covers half a pixel, half of the change. So the edge stays the
photo's own, and nothing looks cut out.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from pydantic import Field

from aptandum.core.fitting.finish.base import COLOUR, Canvas, Finish, FinishPart, Given
from aptandum.core.later import cv2, np
from aptandum.core.photo import engine
from aptandum.core.photo.engine import Lab
from aptandum.core.photo.picture import Picture
from aptandum.core.words import listed, say

BEHIND = 0.02
"""A pixel of which less than this stands before the backdrop is backdrop alone."""

_SMALL = 256  # longest side of the copy on which the backdrop's broad colours are found
_GRAIN = 0.8  # of the backdrop's fine structure that evening out takes away at full strength
_SHADOW = 0.07  # reach of a shadow that stays under a fill, of the longest side
_HIGHEST = 99.5  # lightness above which nothing is lifted, so that no channel is clipped


class Backdrop(FinishPart):
    """Attributes:
    lightness: L* that the backdrop's middle is brought to; ``None``: left.
    strength: how far towards it, 0..100 %.
    even: how far its broad differences are taken out, 0..100 %.
    shadow: share of the shadow beside the subject that stays, 0..100 %.
    fill: a colour in its place; ``None``: its own.
    """

    lightness: float | None = Field(default=None, ge=0, le=100)
    strength: float = Field(default=100.0, ge=0, le=100)
    even: float = Field(default=0.0, ge=0, le=100)
    shadow: float = Field(default=25.0, ge=0, le=100)
    fill: str | None = Field(default=None, pattern=COLOUR)


def broad(lab: Lab, behind: Any) -> Lab:
    """The backdrop's broad colours everywhere, also where something stands before it.

    ``behind`` tells where there is backdrop alone: bool, shape (h, w). Near to seen backdrop its
    neighbourhood counts; farther in, wider and wider ones.
    """
    high, wide = behind.shape
    k = min(1.0, _SMALL / max(high, wide))
    size = (max(4, round(wide * k)), max(4, round(high * k)))
    weight = cv2.resize(behind.astype(np.float32), size, interpolation=cv2.INTER_AREA)
    held = cv2.resize(lab * behind[..., None], size, interpolation=cv2.INTER_AREA)
    made = np.zeros_like(held)
    done = np.zeros_like(weight)
    sigma = 0.008 * max(size)
    while sigma < 2 * max(size):
        w = cv2.GaussianBlur(weight, (0, 0), sigma)
        mean = cv2.GaussianBlur(held, (0, 0), sigma) / np.maximum(w, 1e-6)[..., None]
        share = np.clip(w / 0.35, 0, 1) * (1 - done)
        made += mean * share[..., None]
        done += share
        sigma *= 2
    made /= np.maximum(done, 1e-6)[..., None]
    full: Lab = cv2.resize(made, (wide, high), interpolation=cv2.INTER_LINEAR)
    return full


def draw(picture: Picture, settings: Backdrop, place: Canvas) -> Picture:
    """Lay the backdrop's colour behind the subject, mixed by the mask at the edge."""
    cover = place.cover(picture.size)
    behind = cover < BEHIND
    if not behind.any():
        return picture
    lab = picture.lab()
    ground = broad(lab, behind)
    middle = np.median(lab[behind], axis=0)
    if settings.fill is not None:
        made = _filled(lab, ground, middle, cover, settings)
    else:
        made = _lightened(lab, ground, middle, cover, settings)
    bits = 16 if picture.top == 65535 else 8
    numbers = engine.from_lab(made, picture.icc, bits)[..., : picture.colour.shape[2]]
    pixels = picture.pixels.copy()
    changed = cover < 1
    pixels[..., : numbers.shape[2]][changed] = numbers[changed]
    return replace(picture, pixels=pixels)


def _lightened(lab: Lab, ground: Lab, middle: Any, cover: Any, settings: Backdrop) -> Lab:
    even, shadow = settings.even / 100, settings.shadow / 100
    off = ground - middle
    kept = off * (1 - even)
    # What is darker than the middle is shadow: some of it stays, or the person floats.
    kept[..., 0] = np.where(off[..., 0] < 0, off[..., 0] * max(1 - even, shadow), kept[..., 0])
    aim = middle[0]
    if settings.lightness is not None:
        aim += (settings.lightness - middle[0]) * settings.strength / 100
    through = (1 - cover)[..., None]
    grain = np.clip(1 - cover * 8, 0, 1)[..., None] * even * _GRAIN
    lift = aim - middle[0]
    made = lab
    for _ in range(4):  # grain and shadow move the middle a little: it is brought to the aim
        change = middle + kept - ground
        change[..., 0] += lift
        made = lab + through * change - grain * (lab - ground)
        made[..., 0] = np.minimum(made[..., 0], np.maximum(_HIGHEST, lab[..., 0]))
        off_aim = aim - float(np.median(made[..., 0][cover < BEHIND]))
        if abs(off_aim) < 0.05:
            break
        lift += off_aim
    return made


def _filled(lab: Lab, ground: Lab, middle: Any, cover: Any, settings: Backdrop) -> Lab:
    fill = np.tile(engine.srgb_lab(str(settings.fill)), (*cover.shape, 1)).astype(np.float32)
    # Shadow is soft: what is dark and has edges is a thing, and goes with the rest.
    reach = _SHADOW * max(cover.shape)
    soft = cv2.GaussianBlur(np.minimum(0, ground[..., 0] - middle[0]), (0, 0), reach)
    dark = soft * settings.shadow / 100
    fill[..., 0] = np.clip(fill[..., 0] + dark, 0, 100)
    through = (1 - cover)[..., None]
    alone = np.clip(1 - cover * 2.5, 0, 1)[..., None]
    mixed: Lab = (1 - alone) * (lab + through * (fill - ground)) + alone * fill
    return mixed


def _says(settings: Backdrop, given: Given) -> str:
    parts = []
    if settings.fill is not None:
        parts.append(say("filled with {colour}", colour=settings.fill))
    else:
        if settings.lightness is not None:
            parts.append(
                say(
                    "brought to L* {n} at {s} %",
                    n=round(settings.lightness, 1),
                    s=round(settings.strength),
                )
            )
        if settings.even:
            parts.append(say("evened out by {s} %", s=round(settings.even)))
    return say("Backdrop {parts}.", parts=listed(parts, "and"))


FINISH = Finish(
    "backdrop",
    say("Backdrop"),
    Backdrop,
    lambda settings: "backdrop",
    lambda settings, given: (
        settings.fill is not None
        or (settings.lightness is not None and settings.strength > 0)
        or settings.even > 0
    ),
    draw,
    _says,
    needs_mask=lambda settings: True,
)
