"""What is measured of a backdrop and helps a person to answer a question about it; never the answer itself."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from typing import Any

from aptandum.core.brief.model import Brief
from aptandum.core.figures import show_number
from aptandum.core.judge.measure import CannotMeasure
from aptandum.core.judge.measures.backdrop_shadow import shadow_on
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.later import np
from aptandum.core.photo.backdrop import Cover, NoMask
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped
from aptandum.core.words import say

_BACKDROP = re.compile(
    r"\b(?:back ?grounds?|back-?drops?|behind (?:the|your|you)|walls?|wei(?:ß|ss)\w* grund|hintergr[uü]nd\w*|wand|arrière-plan|fond|mur|fondo|pared)\b",
    re.I,
)
"""Words of a backdrop in the languages in which rules are written."""
_SIDE = 240
"""Longest side, in pixels, of the copy that is looked at."""
_NEUTRAL = 5.0
"""Chroma in CIELAB below which nobody sees a colour in a large area."""
_SHADOW = 10.0
"""How much darker (L*) a part is than the rest where a shadow is seen at once; its measure says where that comes from."""
_EVEN = 4.0
"""CIEDE2000 from the middle that nineteen of twenty pixels of an even backdrop stay within."""
_HUES = (
    (40, say("red")), (75, say("orange")), (115, say("yellow")), (190, say("green")), (290, say("blue")), (345, say("violet")),
    (360, say("red")),
)  # fmt: skip
"""Up to which hue angle in CIELAB, in degrees, a colour has which name."""


def of_backdrop(question: str | None) -> bool:
    """Whether a question is about what is behind the person or thing."""
    return bool(question) and _BACKDROP.search(question or "") is not None


def asks_of_backdrop(brief: Brief) -> bool:
    """Whether a brief has such a question."""
    return any(of_backdrop(clause.ask) for clause in brief.clauses)


def backdrop_told(picture: Any, see_cover: Callable[[tuple[int, int]], Cover]) -> list[str]:
    """How light, how coloured and how even the backdrop is, in sentences; empty where none is seen.

    Args:
        picture: 8-bit sRGB, shape (h, w, 3) or (h, w, 1).
        see_cover: how much of each pixel stands before the backdrop, at a size (width, height); raises ``NoMask``.
    """
    step = max(1, math.ceil(max(picture.shape[:2]) / _SIDE))
    some = np.ascontiguousarray(picture[::step, ::step])
    some = np.repeat(some[..., :1], 3, 2) if some.shape[2] < 3 else some[..., :3]
    look = PixelStatistics(Picture(np.ascontiguousarray(some), shipped("srgb"), False), see_cover)
    try:
        shadow = shadow_on(look)
    except (NoMask, CannotMeasure):
        return []
    light, a, b = (float(one) for one in look.middle)
    said = [
        say(
            "The backdrop reads as L* {n}, where 0 is black and 100 is white.",
            n=show_number(light, 0),
        )
    ]
    chroma = math.hypot(a, b)
    if chroma < _NEUTRAL:
        said.append(say("It has no colour of its own."))
    else:
        said.append(say("Its colour is {hue}.", hue=_hue(math.degrees(math.atan2(b, a)) % 360)))
    if shadow >= _SHADOW:
        said.append(say("A part of it is darker, as by a shadow."))
    elif float(np.percentile(look.spread[look.behind], 95)) <= _EVEN:
        said.append(say("It is even."))
    return said


def _hue(angle: float) -> str:
    return next(name for end, name in _HUES if angle <= end)
