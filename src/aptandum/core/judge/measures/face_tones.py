"""How many tones a face has, and how much of it has run into white or black."""

from __future__ import annotations

from aptandum.core.judge.face_region import face_of
from aptandum.core.judge.measure import NEEDS_MARKS, NEEDS_PIXELS, Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.later import np
from aptandum.core.quantity import COUNT, SHARE
from aptandum.core.words import say

_HOT, _GREY = 96.0, 8.0
"""Lightness (L*) and chroma from and below which skin is a reflection of the lamp."""


def _tones(reading: Reading) -> int:
    face = face_of(reading)
    light = np.rint(face.lab[..., 0][face.inside] * 2.55).astype(int)
    return int(np.unique(light).size)


def _hot(reading: Reading) -> float:
    face = face_of(reading)
    lab = face.lab[face.inside]
    hot = (lab[:, 0] >= _HOT) & (np.hypot(lab[:, 1], lab[:, 2]) <= _GREY)
    return round(float(hot.mean()), 4)


MEASURES = (
    Measure(
        "face_tones",
        say("Tones in the face"),
        "person",
        COUNT,
        say(
            "How many of 256 steps of lightness are used within the face (ISO/IEC 19794-5 asks for at least 128, seven "
            "bits)."
        ),
        _tones,
        needs=NEEDS_MARKS | NEEDS_PIXELS,
    ),
    Measure(
        "hot_spots",
        say("Hot spots"),
        "person",
        SHARE,
        say(
            "The share of the face that is nearly white and without colour (L* from 96, chroma up to 8): light thrown "
            "back by the skin or by glasses."
        ),
        _hot,
        needs=NEEDS_MARKS | NEEDS_PIXELS,
    ),
)
