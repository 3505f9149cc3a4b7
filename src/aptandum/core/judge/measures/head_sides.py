"""The distance of the eyes and the width of the head: the geometry of ISO/IEC 19794-5 across."""

from __future__ import annotations

import math

from aptandum.core.judge.head_marks import marks_of
from aptandum.core.judge.marks_off import off
from aptandum.core.judge.measure import NEEDS_MARKS, CannotMeasure, Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import PIXELS, PRINTED_SHARE
from aptandum.core.words import say


def _eyes(reading: Reading) -> float:
    marks = marks_of(reading, "eyes")
    return round(math.dist(marks.left_eye, marks.right_eye), 1)


def _eyes_off(reading: Reading) -> float:
    marks = reading.marks()
    return (
        off("eye distance", marks) * marks.height
        if {"left_eye", "right_eye"} & set(marks.found)
        else 0.0
    )


def _width(reading: Reading) -> float:
    marks = marks_of(reading, "side")
    if marks.sides is None:
        raise CannotMeasure(say("No face was found to tell how wide it is."))
    return math.dist(*marks.sides) / reading.facts.size[0]


def _width_off(reading: Reading) -> float:
    marks = reading.marks()
    return off("head width", marks) * marks.height / reading.facts.size[0]


MEASURES = (
    Measure(
        "eye_distance",
        say("Eyes apart"),
        "person",
        PIXELS,
        say(
            "From eye centre to eye centre in pixels of the file; a centre lies midway between an eye's corners."
        ),
        _eyes,
        needs=NEEDS_MARKS,
        error=_eyes_off,
    ),
    Measure(
        "head_width",
        say("Head width"),
        "person",
        PRINTED_SHARE,
        say("From side to side of the face before the ears, as a share of the frame's width."),
        _width,
        needs=NEEDS_MARKS,
        error=_width_off,
    ),
)
