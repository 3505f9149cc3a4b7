"""Measures whose words are read and kept already, and which are not measured yet.

A clause with one of them is judged ``unknown`` with the reason, never met. Each leaves this
list for a module of its own.
"""

from aptandum.core.judge.measure import CannotMeasure, Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import (
    NUMBER,
    PIXELS,
    SHARE,
    Kind,
    words,
)
from aptandum.core.words import say


def _later(name: str, title: str, group: str, kind: Kind, help_: str, station: str) -> Measure:
    def take(reading: Reading) -> object:
        raise CannotMeasure(
            say("{title} is not measured by this version of Aptandum.", title=title)
        )

    return Measure(name, title, group, kind, help_, take, station=station)


MEASURES = tuple(
    _later(*row)
    for row in (
        ("backdrop_lightness", "Lightness", "backdrop", NUMBER, "Median L* behind.", "colour"),
        ("backdrop_plainness", "Plainness", "backdrop", NUMBER, "Spread of colour.", "colour"),
        ("backdrop_contrast", "Contrast", "backdrop", NUMBER, "Edge against it.", "colour"),
        ("sharpness", "Sharpness", "picture", NUMBER, "Fine detail at its size.", "frame"),
        ("clipped", "Clipped", "picture", SHARE, "Pixels at the ends.", "colour"),
        ("subject_fill", "Subject fills", "picture", SHARE, "Share of the side.", "frame"),
        ("keyline_width", "Keyline width", "finish", PIXELS, "Of the line inside.", "finish"),
        ("legible_at", "Legible at", "finish", PIXELS, "Text can be read.", "finish"),
        ("kept_empty", "Gaps empty", "finish", words("empty"), "Template gaps.", "finish"),
    )
)  # fmt: skip
