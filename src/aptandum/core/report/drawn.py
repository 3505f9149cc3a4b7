"""The drawings of a report as plain shapes, for any kind of page: signs and gauges.

Coordinates run right and down; a sign is 14 by 14, a gauge 100 by 12.
"""

from __future__ import annotations

from aptandum.core.frozen import frozen
from aptandum.core.judge.scale import Scale
from aptandum.core.words import say

Points = tuple[tuple[float, float], ...]

TONES = {
    "meets": "#17745A",
    "misses": "#B1341E",
    "advises": "#8A5C00",
    "asks": "#67479A",
    "unknown": "#5E6872",
    "idle": "#7A828A",
}
BANDS = {"meets": "#BFDDD2", "misses": "#ECC9C1", "advises": "#EAD9AC"}
RAIL, INK, INK2, HAIRLINE = "#E1E2E0", "#1D2630", "#5E6872", "#D2D3D2"


@frozen
class Shape:
    """A line through points, or an area: filled where ``fill`` is set."""

    points: Points
    stroke: str = ""
    width: float = 0.0
    fill: str = ""


def word(verdict: str) -> str:
    """The verdict's word beside its sign."""
    return {
        "meets": say("meets"),
        "misses": say("misses"),
        "advises": say("advises"),
        "asks": say("asks"),
        "unknown": say("unknown"),
        "idle": say("idle"),
    }[verdict]


def _wave(y: float) -> Points:
    bends = (0.0, -1.5, -2.1, -1.5, 0.0, 1.5, 2.1, 1.5, 0.0)
    return tuple((1 + 12 * i / 8, y + bend) for i, bend in enumerate(bends))


def _eye() -> tuple[Points, Points]:
    lid = tuple((0.5 + 13 * i / 12, 7 - 4 * (1 - ((i - 6) / 6) ** 2)) for i in range(13))
    low = tuple((x, 14 - y) for x, y in reversed(lid))
    pupil = ((5.4, 7.0), (6.2, 5.6), (7.8, 5.6), (8.6, 7.0), (7.8, 8.4), (6.2, 8.4))
    return lid + low, pupil


def sign(verdict: str) -> tuple[Shape, ...]:
    """A verdict's sign; ``unknown`` has none, for it is a letter."""
    tone = TONES[verdict]
    bars = (Shape(((1, 5), (13, 5)), tone, 2), Shape(((1, 9.5), (13, 9.5)), tone, 2))
    if verdict == "meets":
        return bars
    if verdict == "misses":
        return (*bars, Shape(((10.2, 0.5), (3.8, 14)), tone, 2))
    if verdict == "advises":
        return Shape(_wave(4.5), tone, 2), Shape(_wave(9.5), tone, 2)
    if verdict == "asks":
        lid, pupil = _eye()
        return Shape(lid, tone, 1.4), Shape(pupil, fill=tone)
    if verdict == "idle":
        return (Shape(((3, 7), (11, 7)), tone, 2),)
    return ()


def _box(left: float, top: float, right: float, bottom: float) -> Points:
    return (left, top), (right, top), (right, bottom), (left, bottom)


def gauge(scale: Scale, verdict: str) -> tuple[Shape, ...]:
    """The allowed band on a rail, and a pointer where the picture stands."""
    low = 100 * (scale.low if scale.low is not None else 0)
    high = 100 * (scale.high if scale.high is not None else 1)
    shapes = [Shape(_box(0, 4, 100, 8), fill=RAIL)]
    if high > low:
        shapes.append(Shape(_box(low, 4, high, 8), fill=BANDS.get(verdict, RAIL)))
    for end, x in ((scale.low, low), (scale.high, high)):
        if end is not None:
            shapes.append(Shape(((x, 2), (x, 10)), INK2, 0.9))
    x = 100 * scale.at
    shapes.append(Shape(((x - 3.4, 1.5), (x + 3.4, 1.5), (x, 8)), fill=TONES[verdict]))
    return tuple(shapes)
