"""Eyes open, mouth closed, no red in the pupils: said only where they are far from the other."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

from aptandum.core.judge.eye_region import eyes_of, unevenness
from aptandum.core.judge.head_marks import marks_of
from aptandum.core.judge.measure import (
    NEEDS_MARKS,
    NEEDS_PIXELS,
    CannotMeasure,
    Measure,
)
from aptandum.core.judge.reading import Reading
from aptandum.core.later import np
from aptandum.core.photo.head import doubted
from aptandum.core.quantity import words
from aptandum.core.words import say

if TYPE_CHECKING:
    from aptandum.core.photo.people import Face

OPEN, CLOSED = 0.2, 0.12
"""Opening over width of the narrower eye: from which on it is open, and up to which it is closed."""
_OPEN_BESIDE = 0.23
"""The same where something covers one eye: what is read of that one tells nothing, and either may be it."""
_EVEN = 0.15
"""How uneven both eyes are at most where there is nothing but lids: irises and whites are from 0.17 on."""
MOUTH_CLOSED, MOUTH_OPEN = 0.1, 0.2
"""The same of the mouth."""
_RED, _REDDISH = 28.0, 16.0
"""CIELAB a* beyond which a pupil is strongly red, and from which it may be: about irises that are not, it is lower."""
_PUPIL = 9
"""Pixels, of which a hundred are a distance of the eyes, that must be so: a quarter of a pupil."""
_DISC = 0.065
"""Half the width of an iris, in distances of the eyes."""
_HIDDEN = 0.35
"""Share of an iris that throws light back, from which its pupil may be hidden by it."""


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
    least, most = min(face.eyes_open), max(face.eyes_open)
    if _only_lids(reading):
        if least < OPEN:
            return "closed"
        raise CannotMeasure(
            say("The lids are half closed, or hard to see: that is for you to say.")
        )
    if face.doubted and (face.irises is None or doubted(face.eyes, face.irises)):
        raise CannotMeasure(say("It is doubtful where the eyes are."))
    if least >= (_OPEN_BESIDE if face.doubted else OPEN):
        return "open"
    if not face.doubted and least <= CLOSED and most < OPEN:  # one open, one shut: misread
        return "closed"
    raise CannotMeasure(say("The lids are half closed, or hard to see: that is for you to say."))


def _only_lids(reading: Reading) -> bool:
    """Whether both eyes are as even as nothing but skin is; where they are too small to be seen, they are not."""
    try:
        return unevenness(eyes_of(reading, sure=False)) <= _EVEN
    except CannotMeasure:
        return False


def _mouth(reading: Reading) -> str:
    opened = face_meant(reading).mouth_open
    if opened is None or MOUTH_CLOSED < opened < MOUTH_OPEN:
        raise CannotMeasure(
            say("The lips are hardly parted, or hard to see: that is for you to say.")
        )
    return "open" if opened >= MOUTH_OPEN else "closed"


def _red(reading: Reading) -> str:
    face = face_meant(reading)
    # Behind a lid no pupil is seen; one that is read as shut beside an open one counts as covered.
    if min(face.eyes_open) <= CLOSED and max(face.eyes_open) < OPEN:
        raise CannotMeasure(say("The eyes are closed."))
    eyes = eyes_of(reading, sure=False)
    if reading.look().picture.colour.shape[2] < 3:
        return "none"
    # Where something covers an eye its place is less sure: twice as far about it nothing may be red, and no red is believed.
    irises = [eyes.about(at, _DISC * (1 + bool(face.doubted))) for at in _iris_places(face)]
    strong = [_redness(one) for one in irises]
    if max(strong) >= _RED and not face.doubted:
        return "seen"
    if max(strong) >= _REDDISH or max(map(eyes.pale, irises)) > _HIDDEN:
        raise CannotMeasure(
            say("There may be some red in a pupil, or it is hidden: that is for you to say.")
        )
    return "none"


def _iris_places(face: Face) -> list[tuple[float, float]]:
    """Where the irises lie in the region about the eyes; the middles of the eyes where they were not read for sure."""
    if face.irises is None or face.doubted:
        return [(-0.5, 0.0), (0.5, 0.0)]
    (ax, ay), (bx, by) = face.eyes
    apart, roll = math.hypot(bx - ax, by - ay), math.atan2(by - ay, bx - ax)
    c, s = math.cos(roll) / apart, math.sin(roll) / apart
    off = [(x - (ax + bx) / 2, y - (ay + by) / 2) for x, y in face.irises]
    return [(x * c + y * s, y * c - x * s) for x, y in off]


def _redness(lab: Any) -> float:
    """The a* that a quarter of a pupil has at least, of pixels that are not rather yellow."""
    red = np.sort(np.where(lab[:, 2] < lab[:, 1], lab[:, 1], -128.0))
    return float(red[-_PUPIL]) if len(red) >= _PUPIL else -128.0


MEASURES = (
    Measure(
        "eyes_open",
        say("Eyes"),
        "person",
        words("open", "closed", shown={"open": say("open"), "closed": say("closed")}),
        say(
            "How far the lids of the narrower eye are apart, over its width: open from 0.2; closed up to 0.12, or where both "
            "eyes are as even as skin; else nothing is said in between."
        ),
        _eyes,
        needs=NEEDS_MARKS | NEEDS_PIXELS,
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
            "Whether a quarter of a pupil or more is strongly red (CIELAB a* above 28); nothing is said where it is about that."
        ),
        _red,
        needs=NEEDS_MARKS | NEEDS_PIXELS,
    ),
)
