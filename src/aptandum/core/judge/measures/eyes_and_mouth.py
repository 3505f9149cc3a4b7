"""Eyes open, mouth closed, no red in the pupils: said only where they are far from the other."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

from aptandum.core.judge.head_marks import marks_of
from aptandum.core.judge.measure import (
    NEEDS_MARKS,
    NEEDS_PIXELS,
    CannotMeasure,
    Measure,
)
from aptandum.core.judge.reading import Reading
from aptandum.core.later import np
from aptandum.core.photo.evidence import RED_EYE
from aptandum.core.photo.turning import swung
from aptandum.core.quantity import words
from aptandum.core.words import say

if TYPE_CHECKING:
    from aptandum.core.photo.people import Face

OPEN, CLOSED = 0.2, 0.12
"""Opening over width of the narrower eye: from which on it is open, and up to which it is closed."""
MOUTH_CLOSED, MOUTH_OPEN = 0.1, 0.2
"""The same of the mouth."""
_RED = 30.0
"""CIELAB a* beyond which a pupil is strongly red; brown irises have up to 15."""
_PUPIL = 0.07
"""Radius of what is looked at about the middle of an iris, in distances of the eyes."""


def _face(reading: Reading) -> Face:
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
    face = _face(reading)
    if face.doubted:
        raise CannotMeasure(say("It is doubtful where the eyes are."))
    least = min(face.eyes_open)
    if CLOSED < least < OPEN:
        raise CannotMeasure(
            say("The lids are half closed, or hard to see: that is for you to say.")
        )
    return "open" if least >= OPEN else "closed"


def _mouth(reading: Reading) -> str:
    opened = _face(reading).mouth_open
    if opened is None or MOUTH_CLOSED < opened < MOUTH_OPEN:
        raise CannotMeasure(
            say("The lips are hardly parted, or hard to see: that is for you to say.")
        )
    return "open" if opened >= MOUTH_OPEN else "closed"


def _red(reading: Reading) -> str:
    face, look = _face(reading), reading.look()
    if min(face.eyes_open) <= CLOSED or face.irises is None:
        raise CannotMeasure(say("The eyes are closed."))
    if look.picture.bits == 1 or look.picture.colour.shape[2] < 3:
        return "none"
    left, top, scale, angle = reading.placed
    k = look.picture.size[0] / reading.facts.size[0] * scale
    spots = [swung(at, angle, reading.whole) for at in face.irises]
    apart = math.dist(*spots) * k
    if apart * _PUPIL < 1.5:
        raise CannotMeasure(say("The eyes are too small in this picture for that."))
    shares = [_red_share(look.lab, (x - left) * k, (y - top) * k, apart * _PUPIL) for x, y in spots]
    if RED_EYE / 2 < max(shares) < RED_EYE * 1.5:
        raise CannotMeasure(say("There is some red in a pupil: that is for you to say."))
    return "seen" if max(shares) >= RED_EYE else "none"


def _red_share(lab: Any, x: float, y: float, radius: float) -> float:
    """The share of a disc that is strongly red, 0..1, in CIELAB of shape (h, w, 3)."""
    x0, y0 = max(0, round(x - radius)), max(0, round(y - radius))
    part = lab[y0 : round(y + radius) + 1, x0 : round(x + radius) + 1]
    if not part.size:
        return 0.0
    rows, columns = np.mgrid[y0 : y0 + part.shape[0], x0 : x0 + part.shape[1]]
    disc = (columns + 0.5 - x) ** 2 + (rows + 0.5 - y) ** 2 <= radius**2
    red = (part[..., 1] > _RED) & (part[..., 2] < part[..., 1])
    return float(red[disc].mean()) if disc.any() else 0.0


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
            "Whether a pupil is strongly red: of its disc a sixth or more; nothing is said where it is about that."
        ),
        _red,
        needs=NEEDS_MARKS | NEEDS_PIXELS,
    ),
)
