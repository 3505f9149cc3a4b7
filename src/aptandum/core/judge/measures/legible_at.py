"""At what size the words on a picture still read."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from aptandum.core.brief.limit import Limit
from aptandum.core.judge.measure import NEEDS_PIXELS, DoesNotApply, Measure, Mend, Miss
from aptandum.core.judge.reading import Reading
from aptandum.core.later import cv2, np
from aptandum.core.photo.picture import Lettering, Picture
from aptandum.core.quantity import PIXELS, Kind
from aptandum.core.words import say

CONTRAST = 3.0
"""Ratio of luminances that large letters need at least (WCAG 2.2, 1.4.3)."""

SMALLEST = 4.0
"""Height of a lower-case x in pixels below which letters run together."""


def _take(reading: Reading) -> int:
    look = reading.look()
    if not look.lettering:
        raise DoesNotApply(
            say("No caption was set here; words within the photo itself are not judged.")
        )
    return max(smallest(look.picture, one) for one in look.lettering)


def smallest(picture: Picture, words: Lettering) -> int:
    """The smallest width of the whole picture, in pixels, at which its words still read; one
    more than it has where they do not read at its own size."""
    wide = picture.size[0]
    light = _luminance(picture, words)
    low, high = 0, wide + 1  # does not read at low, reads at high (or beyond the picture)
    while high - low > 1:
        middle = (low + high) // 2
        if _reads(light, words, middle / wide):
            high = middle
        else:
            low = middle
    return high


def _luminance(picture: Picture, words: Lettering) -> list[Any]:
    """Relative luminance about the words; where the picture is clear, on black and on white."""
    left, top, across, up = words.box
    room = max(2, round(words.height))
    y0, y1 = max(0, top - room), min(picture.size[1], top + up + room)
    x0, x1 = max(0, left - room), min(picture.size[0], left + across + room)
    part = Picture(picture.pixels[y0:y1, x0:x1], picture.icc, picture.alpha)
    lightness = part.lab()[..., 0]
    light = np.where(lightness > 8, ((lightness + 16) / 116) ** 3, lightness / 903.3)
    share = np.zeros(light.shape, np.float32)
    share[top - y0 : top - y0 + up, left - x0 : left - x0 + across] = words.share
    if not picture.alpha:
        return [(light.astype(np.float32), share)]
    cover = part.pixels[..., -1].astype(np.float32) / picture.top
    return [((light * cover + ground * (1 - cover)).astype(np.float32), share) for ground in (0, 1)]


def _reads(grounds: list[Any], words: Lettering, k: float) -> bool:
    if words.height * k < SMALLEST:
        return False
    for light, share in grounds:
        size = max(1, round(light.shape[1] * k)), max(1, round(light.shape[0] * k))
        seen = cv2.resize(light, size, interpolation=cv2.INTER_AREA) if k < 1 else light
        ink = cv2.resize(share, size, interpolation=cv2.INTER_AREA) if k < 1 else share
        near = cv2.dilate(ink, np.ones((3, 3), np.uint8)) * (ink < 0.1)
        weight, about = ink**2, near
        if weight.sum() < 1e-3 or about.sum() < 1e-3:
            return False
        one = float((seen * weight).sum() / weight.sum())
        other = float((seen * about).sum() / about.sum())
        if (max(one, other) + 0.05) / (min(one, other) + 0.05) < CONTRAST:
            return False
    return True


def _allows(limit: Limit, value: int) -> bool:
    """The clause names the smallest size at which the words are seen; they may read at less."""
    return value <= _asked(limit)


def _asked(limit: Limit) -> float:
    bounds = [b for b in (limit.at_least, limit.at_most, *limit.one_of) if b is not None]
    return float(min(bounds)) if bounds else float("inf")


def _outside(limit: Limit, value: int, kind: Kind) -> str:
    return say("they read from {n} on", n=kind.show(value))


def _mend(miss: Miss) -> Mend:
    look = miss.reading.look()
    weak = [one for one in look.lettering if not _parted(_luminance(look.picture, one), one)]
    if weak:
        return Mend(
            say(
                "Its strokes hardly differ from what is round them: another colour, or a plate behind"
            )
        )
    factor = miss.value / max(1.0, _asked(miss.limit))
    return Mend(say("Set the caption about {n} times as large", n=f"{max(1.1, factor):.1f}"))


def _parted(grounds: list[Any], words: Lettering) -> bool:
    """Whether words part from their ground at the picture's own size, however small they are."""
    return _reads(grounds, replace(words, height=max(words.height, SMALLEST)), 1.0)


MEASURE = Measure(
    "legible_at",
    say("Legible at"),
    "finish",
    PIXELS,
    say(
        "The smallest width of the whole picture at which its caption still reads: a lower-case x at "
        "least 4 px high, and a luminance ratio of 3 between strokes and what is round them, measured "
        "on the picture reduced to that width. A clause names the width at which it is seen; a caption "
        "that reads at that or less meets it."
    ),
    _take,
    allows=_allows,
    outside=_outside,
    mend=_mend,
    read_as=lambda limit: Limit(("at_most",), at_most=_asked(limit)),
    limit_says=lambda limit, kind: say("seen at {n}", n=kind.show(round(_asked(limit)))),
    station="finish",
    needs=NEEDS_PIXELS,
    finish="caption",
    seen=("corner", "strip", "tint"),
)
