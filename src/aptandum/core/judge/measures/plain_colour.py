"""Colours of the backdrop and of the edge in plain values, red, green and blue, as pages state them."""

from __future__ import annotations

import re
from typing import Any

from aptandum.core.brief.limit import Limit
from aptandum.core.judge.measure import (
    NEEDS_MASK,
    NEEDS_PIXELS,
    CannotMeasure,
    Measure,
    Mend,
    Miss,
    allows_sides,
)
from aptandum.core.judge.reading import Reading
from aptandum.core.later import np
from aptandum.core.numbers import QuantityError, Side
from aptandum.core.photo import engine
from aptandum.core.photo.profile import shipped
from aptandum.core.quantity import Kind
from aptandum.core.words import listed, say

Colour = tuple[int, int, int]


def parse_colour(value: object, side: Side = "exact") -> Colour:
    """Read ``#F4F4F4`` or ``244, 244, 244``: red, green and blue, 0..255, as sRGB has them."""
    if isinstance(value, list) and all(
        isinstance(v, int) and not isinstance(v, bool) for v in value
    ):
        value = ", ".join(map(str, value))
    if isinstance(value, str):
        text = re.sub(r"^rgb\s*\(|\)$", "", value.strip().lower())
        if hit := re.fullmatch(r"#([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})", text):
            return tuple(int(part, 16) for part in hit.groups())  # type: ignore[return-value]
        parts = re.split(r"[\s,/]+", text)
        if len(parts) == 3 and all(re.fullmatch(r"\d{1,3}", p) and int(p) < 256 for p in parts):
            return tuple(map(int, parts))  # type: ignore[return-value]
    raise QuantityError(say('a colour such as "#F4F4F4" or "244, 244, 244"'))


def show_colour(value: Colour) -> str:
    """Red, green and blue: ``244 · 244 · 244``."""
    return " · ".join(map(str, value))


COLOUR = Kind(
    "colour", parse_colour, show_colour, ordered=False, sided=True, whole=True, example="#F4F4F4"
)


def _plain(lab: Any) -> Colour:
    pixel = engine.from_lab(np.asarray(lab, np.float32).reshape(1, 1, 3), shipped("srgb"), 8)
    return tuple(int(v) for v in pixel[0, 0, :3])  # type: ignore[return-value]


def _backdrop(reading: Reading) -> Colour:
    look = reading.look()
    if float(look.behind.mean()) < 0.002:
        raise CannotMeasure(say("No backdrop is seen in this picture."))
    return _plain(look.middle)


def _edge(reading: Reading) -> Colour:
    picture = reading.look().picture
    pixels = picture.pixels
    ring = np.concatenate([pixels[0], pixels[-1], pixels[1:-1, 0], pixels[1:-1, -1]])
    lab = engine.to_lab(ring[None], picture.icc, picture.alpha)[0]
    return _plain(np.median(lab, axis=0))


def _outside(limit: Limit, value: Colour, kind: Kind) -> str:
    names = (say("red"), say("green"), say("blue"))
    low, high = limit.at_least, limit.at_most
    if limit.one_of:
        low = high = min(
            limit.one_of, key=lambda one: sum(abs(a - b) for a, b in zip(one, value, strict=True))
        )
    said = []
    for i, name in enumerate(names):
        if low is not None and value[i] < low[i]:
            said.append(say("{n} too little {colour}", n=low[i] - value[i], colour=name))
        elif high is not None and value[i] > high[i]:
            said.append(say("{n} too much {colour}", n=value[i] - high[i], colour=name))
    return listed(said, "and")


def _wanted(limit: Limit, value: Colour) -> str:
    """The allowed colour nearest to one, as it is written."""
    if limit.aim is not None or limit.one_of:
        red, green, blue = limit.aim or limit.one_of[0]
    else:
        low, high = limit.at_least or (0, 0, 0), limit.at_most or (255, 255, 255)
        red, green, blue = (min(max(v, a), b) for v, a, b in zip(value, low, high, strict=True))
    return f"#{red:02X}{green:02X}{blue:02X}"


def _mend_backdrop(miss: Miss) -> Mend:
    if not miss.brief.permits("backdrop"):
        return Mend(say("The brief does not permit altering the backdrop: take another photo"))
    colour = _wanted(miss.limit, miss.value)
    return Mend(
        say("Fill the backdrop with {colour}", colour=colour), {"finish.backdrop.fill": colour}
    )


def _mend_edge(miss: Miss) -> Mend:
    colour = _wanted(miss.limit, miss.value)
    return Mend(say("A keyline or a border of {colour} would do", colour=colour))


MEASURES = (
    Measure(
        "backdrop_colour",
        say("Colour of the backdrop"),
        "backdrop",
        COLOUR,
        say(
            "Red, green and blue (sRGB, 0 to 255) of the middle colour of what is behind the person or "
            "thing; each is bounded by itself."
        ),
        _backdrop,
        allows_sides,
        _mend_backdrop,
        station="finish",
        outside=_outside,
        needs=NEEDS_MASK,
        finish="backdrop",
    ),
    Measure(
        "edge_colour",
        say("Colour of the edge"),
        "finish",
        COLOUR,
        say("Red, green and blue (sRGB, 0 to 255) of the outermost pixels all round."),
        _edge,
        allows_sides,
        _mend_edge,
        station="finish",
        outside=_outside,
        needs=NEEDS_PIXELS,
    ),
)
