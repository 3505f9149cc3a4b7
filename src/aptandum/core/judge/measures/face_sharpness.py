"""How sharp a face is, at the size that goes out."""

from __future__ import annotations

from aptandum.core.judge.face_region import face_of
from aptandum.core.judge.measure import NEEDS_MARKS, NEEDS_PIXELS, Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.later import cv2, np
from aptandum.core.quantity import NUMBER
from aptandum.core.words import say

_GRAIN = 2.576 / 0.6745
"""Of a normal distribution, the 99th percentile of the absolute values over their median."""


def _take(reading: Reading) -> float:
    face = face_of(reading)
    light = np.ascontiguousarray(face.lab[..., 0])
    detail = np.abs(light - cv2.blur(light, (3, 3)))[face.inside]
    edges, noise = np.percentile(detail, (99.0, 50.0))
    return round(max(0.0, float(edges - _GRAIN * noise)), 2)


MEASURE = Measure(
    "face_sharpness",
    say("Face sharpness"),
    "person",
    NUMBER,
    say(
        "How far lightness (L*) in the face differs from that of its eight neighbours: the 99th percentile, less what "
        "grain of the same median would have. Eyes and lashes in focus give 4 and more, a blurred face 1."
    ),
    _take,
    needs=NEEDS_MARKS | NEEDS_PIXELS,
)
