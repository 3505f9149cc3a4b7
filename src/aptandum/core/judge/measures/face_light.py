"""How evenly a face is lit: left against right, and upper against lower."""

from __future__ import annotations

from aptandum.core.judge.face_region import FaceRegion, face_of, smooth
from aptandum.core.judge.measure import NEEDS_MARKS, NEEDS_PIXELS, Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.later import np
from aptandum.core.quantity import NUMBER
from aptandum.core.words import say

_SKIN = 0.8
"""Of the oval, how far out it is looked at: its rim is hair and backdrop."""


def _take(reading: Reading) -> float:
    face = face_of(reading)
    light = smooth(face.lab, 0.02)
    within = face.inside & (face.right**2 + face.down**2 <= _SKIN)
    across = _between(light, face, within, face.right)
    # Eyes and mouth lie in both halves: the cheeks against the forehead would compare skin with brows.
    down = _between(light, face, within, face.down)
    return round(max(across, down), 1)


def _between(light: np.ndarray, face: FaceRegion, within: np.ndarray, way: np.ndarray) -> float:
    """By how much the median lightness differs between the two sides of the face's middle."""
    one, other = within & (way < -0.15), within & (way > 0.15)
    return abs(float(np.median(light[one])) - float(np.median(light[other])))


MEASURE = Measure(
    "face_light",
    say("Face lit evenly"),
    "person",
    NUMBER,
    say(
        "Difference of the median lightness (CIELAB L*) between the left and the right half of the face, or between "
        "its upper and its lower half, whichever is larger; 0 is even."
    ),
    _take,
    needs=NEEDS_MARKS | NEEDS_PIXELS,
)
