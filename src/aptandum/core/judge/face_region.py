"""The pixels of a face in a picture: the oval between its sides, from above the brows down to the chin."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from aptandum.core.frozen import frozen
from aptandum.core.judge.measure import CannotMeasure
from aptandum.core.judge.reading import Reading
from aptandum.core.later import cv2, np
from aptandum.core.photo.marks import Marks, NoMarks
from aptandum.core.words import say

if TYPE_CHECKING:
    from numpy.typing import NDArray

_ABOVE = 0.75
"""How far above the eyes the face is looked at, of the distance from the eyes to the chin: the forehead below the hair."""
_ACROSS = 0.86
"""Of the width between the face's sides."""
_WIDE = 1.55
"""The face's width in distances of the eyes, where its sides are not told."""
_LEAST = 24
"""Pixels that a face must be high for anything to be told of it."""


@frozen
class FaceRegion:
    """A face in a picture's pixels.

    Attributes:
        lab: CIELAB (D50) of the box round the face, shape (h, w, 3).
        inside: where the face is, shape (h, w).
        right: how far each pixel lies to the right of the face's axis, in half its width, shape (h, w).
        down: how far below the middle between brow and chin, in half its height, shape (h, w).
        marks: in the pixels of the whole picture.
        corner: left and top of the box.
    """

    lab: NDArray[np.float32]
    inside: NDArray[np.bool_]
    right: NDArray[np.float32]
    down: NDArray[np.float32]
    marks: Marks
    corner: tuple[int, int]


def face_of(reading: Reading) -> FaceRegion:
    """The face that a reading's marks tell.

    Raises:
        CannotMeasure: there is none, or it is doubtful where, or its chin is cut off, or it is too small.
    """
    try:
        marks = reading.marks()
    except NoMarks as error:
        raise CannotMeasure(str(error)) from None
    if "chin" in marks.cut or "side" in marks.cut:
        raise CannotMeasure(say("A part of the face lies at the photo's edge or beyond it."))
    if marks.doubted:
        raise CannotMeasure(say("It is doubtful where the eyes are. Set them by hand."))
    look = reading.look()
    picture = look.picture
    if picture.bits == 1:
        raise CannotMeasure(say("In a picture of dots this is not measured."))
    scale = picture.size[0] / reading.facts.size[0]
    marks = marks.placed(0.0, 0.0, scale)
    eyes, chin = np.array(marks.eyes), np.array(marks.chin)
    far = float(np.linalg.norm(chin - eyes))
    if far < _LEAST:
        raise CannotMeasure(say("The face is too small in this picture for that."))
    down = (chin - eyes) / far
    right = np.array([down[1], -down[0]])
    apart = math.dist(marks.left_eye, marks.right_eye)
    wide = math.dist(*marks.sides) if marks.sides is not None else _WIDE * apart
    half = np.array([wide * _ACROSS / 2, far * (1 + _ABOVE) / 2])
    middle = chin - down * half[1]
    reach = float(max(half))
    size = picture.size
    x0, y0 = (max(0, math.floor(middle[i] - reach)) for i in (0, 1))
    x1, y1 = (min(size[i], math.ceil(middle[i] + reach) + 1) for i in (0, 1))
    if x1 - x0 < _LEAST // 2 or y1 - y0 < _LEAST // 2:
        raise CannotMeasure(say("The face lies outside this picture."))
    y, x = np.mgrid[y0:y1, x0:x1].astype(np.float32) + np.float32(0.5)
    x, y = x - middle[0], y - middle[1]
    to_right = ((x * right[0] + y * right[1]) / half[0]).astype(np.float32)
    to_down = ((x * down[0] + y * down[1]) / half[1]).astype(np.float32)
    inside = to_right**2 + to_down**2 <= 1
    lab = np.asarray(look.lab[y0:y1, x0:x1], np.float32)
    inside &= look.opaque[y0:y1, x0:x1] & ~look.own[y0:y1, x0:x1]
    if inside.sum() < _LEAST**2 / 2:
        raise CannotMeasure(say("Too little of the face is seen in this picture."))
    return FaceRegion(lab, inside, to_right, to_down, marks, (x0, y0))


def smooth(lab: NDArray[np.float32], share: float) -> NDArray[np.float32]:
    """Lightness without detail finer than a share of the box's height."""
    sigma = max(0.5, lab.shape[0] * share)
    return np.asarray(
        cv2.GaussianBlur(np.ascontiguousarray(lab[..., 0]), (0, 0), sigma), np.float32
    )
