"""Traces of compression in a face: the lines of an eight-pixel grid, across which neighbours differ more than elsewhere."""

from __future__ import annotations

from typing import Any

from aptandum.core.judge.face_region import face_of
from aptandum.core.judge.measure import NEEDS_MARKS, NEEDS_PIXELS, CannotMeasure, Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.later import np
from aptandum.core.quantity import NUMBER
from aptandum.core.words import say

_GRID = 8
_LEAST = 400
"""Pairs of neighbours that must lie on each line of the grid for a mean of them to say anything."""


def _take(reading: Reading) -> float:
    face = face_of(reading)
    found = [_lines(face.lab[..., 0], face.inside, axis) for axis in (0, 1)]
    # What is drawn in the picture itself has lines one way; a grid has them both ways.
    return round(max(0.0, min(found) - 1), 2)


def _lines(light: Any, inside: Any, axis: int) -> float:
    """How many times as much neighbours differ across the strongest of the eight lines as across the others."""
    apart = np.abs(np.diff(light, axis=axis))
    both = inside[1:] & inside[:-1] if axis == 0 else inside[:, 1:] & inside[:, :-1]
    means = []
    for phase in range(_GRID):
        at = (slice(phase, None, _GRID), slice(None))
        at = at if axis == 0 else at[::-1]
        seen = apart[at][both[at]]
        if seen.size < _LEAST:
            raise CannotMeasure(say("The face is too small in this picture for that."))
        means.append(float(np.median(seen)))
    return max(means) / max(float(np.median(means)), 0.05)


MEASURE = Measure(
    "face_compression",
    say("Traces of compression"),
    "person",
    NUMBER,
    say(
        "How much more neighbours in the face differ across the lines of an eight-pixel grid than elsewhere, both ways: 0 "
        "is none, JPEG of quality 90 about 0.3, of 50 about 1, of 30 from 1.5 on. A picture that was made smaller "
        "since has lost the grid."
    ),
    _take,
    needs=NEEDS_MARKS | NEEDS_PIXELS,
)
