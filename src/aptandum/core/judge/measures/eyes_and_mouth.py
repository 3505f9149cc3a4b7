"""Eyes open, mouth closed, no red in the pupils: said only where they are far from the other."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from aptandum.core.judge.eye_region import eyes_of, thrown_back
from aptandum.core.judge.head_marks import marks_of
from aptandum.core.judge.measure import (
    NEEDS_MARKS,
    NEEDS_PIXELS,
    CannotMeasure,
    Measure,
)
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import words
from aptandum.core.words import say

if TYPE_CHECKING:
    from aptandum.core.photo.people import Face

OPEN, CLOSED = 0.2, 0.12
"""Opening over width of the narrower eye: from which on it is open, and up to which it is closed."""
MOUTH_CLOSED, MOUTH_OPEN = 0.1, 0.2
"""The same of the mouth."""
_RED, _REDDISH = 30.0, 20.0
"""CIELAB a* beyond which a pupil is strongly red, and from which it may be; brown irises have up to 15."""
_PUPIL = 9
"""Pixels, of which a hundred are a distance of the eyes, that must be strongly red: a quarter of a pupil."""
_GLARE = 0.015
"""Share about the eyes that throws light back, from which a pupil may be hidden by it."""


def face_meant(reading: Reading) -> Face:
    """The face that is meant, in the photo's pixels.

    Raises:
        CannotMeasure: none was found, or it is not clear which is meant.
    """
    marks_of(reading)
    people = reading.photo_people()
    if not people.faces:
        raise CannotMeasure(say("No face was found to tell it by."))
    return people.faces[people.hand.face or 0]


def _eyes(reading: Reading) -> str:
    face = face_meant(reading)
    if face.doubted:
        raise CannotMeasure(say("It is doubtful where the eyes are."))
    least = min(face.eyes_open)
    if CLOSED < least < OPEN:
        raise CannotMeasure(
            say("The lids are half closed, or hard to see: that is for you to say.")
        )
    return "open" if least >= OPEN else "closed"


def _mouth(reading: Reading) -> str:
    opened = face_meant(reading).mouth_open
    if opened is None or MOUTH_CLOSED < opened < MOUTH_OPEN:
        raise CannotMeasure(
            say("The lips are hardly parted, or hard to see: that is for you to say.")
        )
    return "open" if opened >= MOUTH_OPEN else "closed"


def _red(reading: Reading) -> str:
    face = face_meant(reading)
    if min(face.eyes_open) <= CLOSED:
        raise CannotMeasure(say("The eyes are closed."))
    eyes = eyes_of(reading)
    if reading.look().picture.colour.shape[2] < 3:
        return "none"
    parts = [eyes.part(x - 0.22, x + 0.22, -0.11, 0.11) for x in (-0.5, 0.5)]
    strong = max(_redder(part, _RED) for part in parts)
    if strong >= _PUPIL:
        return "seen"
    if (
        strong
        or any(_redder(part, _REDDISH) >= _PUPIL for part in parts)
        or thrown_back(eyes) > _GLARE
    ):
        raise CannotMeasure(
            say("There may be some red in a pupil, or it is hidden: that is for you to say.")
        )
    return "none"


def _redder(part: Any, than: float) -> int:
    """How many pixels are redder than an a*, and not rather yellow."""
    return int(((part[..., 1] > than) & (part[..., 2] < part[..., 1])).sum())


MEASURES = (
    Measure(
        "eyes_open",
        say("Eyes"),
        "person",
        words("open", "closed", shown={"open": say("open"), "closed": say("closed")}),
        say(
            "How far the lids of the narrower eye are apart, over its width: open from 0.2, closed up to 0.12; nothing "
            "is said in between."
        ),
        _eyes,
        needs=NEEDS_MARKS,
    ),
    Measure(
        "mouth_closed",
        say("Mouth"),
        "person",
        words("closed", "open", shown={"open": say("open"), "closed": say("closed")}),
        say(
            "How far the lips are apart, over the mouth's width: closed up to 0.1, open from 0.2; nothing is said in "
            "between."
        ),
        _mouth,
        needs=NEEDS_MARKS,
    ),
    Measure(
        "red_eye",
        say("Red eyes"),
        "person",
        words("none", "seen", shown={"none": say("none"), "seen": say("seen")}),
        say(
            "Whether a quarter of a pupil or more is strongly red (CIELAB a* above 30); nothing is said where it is about that."
        ),
        _red,
        needs=NEEDS_MARKS | NEEDS_PIXELS,
    ),
)
