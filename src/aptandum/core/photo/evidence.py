"""Evidence for what only a person can say: shown beside the question, never its answer."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from aptandum.core.frozen import frozen
from aptandum.core.later import np
from aptandum.core.photo.marks import Marks
from aptandum.core.words import say

if TYPE_CHECKING:
    from aptandum.core.photo.people import Face

RED_EYE = 0.15
"""The share of a pupil's disc that is strongly red from which red eye is worth a look."""

Box = tuple[float, float, float, float]


@frozen
class Evidence:
    """What can be shown of a face in a picture, in its pixels.

    Attributes:
        eyes, mouth: boxes (left, top, width, height) to enlarge.
        says: how eyes and mouth read, in words; empty where no face was found to read.
        red: the eyes (``left``, ``right`` of the picture) that may be red.
    """

    eyes: Box
    mouth: Box
    says: str
    red: tuple[str, ...] = ()


def eyes_said(share: float) -> str:
    """An eye by its opening over its width: open ones read 0.25 to 0.39, closed 0.07."""
    if share >= 0.18:
        return say("open")
    return say("half closed") if share >= 0.095 else say("closed")


def mouth_said(share: float) -> str:
    """A mouth by its opening over its width: closed ones read 0.04 to 0.08, open 0.39."""
    if share < 0.1:
        return say("closed")
    return say("slightly open") if share < 0.2 else say("open")


def red_share(picture: Any, centre: tuple[float, float], radius: float) -> float:
    """The share of a disc that is strongly red, in an 8-bit sRGB picture of shape (h, w, 3)."""
    x, y = centre
    x0, x1 = max(0, round(x - radius)), min(picture.shape[1], round(x + radius) + 1)
    y0, y1 = max(0, round(y - radius)), min(picture.shape[0], round(y + radius) + 1)
    if x1 <= x0 or y1 <= y0:
        return 0.0
    part = picture[y0:y1, x0:x1, :3].astype(np.float32)
    rows, columns = np.mgrid[y0:y1, x0:x1]
    disc = (columns - x) ** 2 + (rows - y) ** 2 <= radius**2
    red = (part[..., 0] > 80) & (part[..., 0] > 1.8 * np.maximum(part[..., 1], part[..., 2]))
    return float(red[disc].mean()) if disc.any() else 0.0


def evidence(picture: Any, marks: Marks, face: Face | None) -> Evidence:
    """What to show of a head: ``marks`` lie in the picture's pixels, ``face`` tells how its eyes
    and mouth read (its own place does not matter here)."""
    (ax, ay), (bx, by) = marks.left_eye, marks.right_eye
    apart = float(np.hypot(bx - ax, by - ay)) or 1.0
    cx, cy = marks.eyes
    eyes = (cx - apart * 1.05, cy - apart * 0.38, apart * 2.1, apart * 0.76)
    low = marks.chin[1] - cy
    middle = (cx + (marks.chin[0] - cx) * 0.62, cy + low * 0.62)
    mouth = (middle[0] - apart * 0.7, middle[1] - apart * 0.38, apart * 1.4, apart * 0.76)
    red = tuple(
        name
        for name, centre in (("left", marks.left_eye), ("right", marks.right_eye))
        if red_share(picture, centre, apart * 0.07) >= RED_EYE
    )
    said = ""
    if face is not None and face.mouth_open is not None:
        left, right = (eyes_said(share) for share in face.eyes_open)
        both = left if left == right else say("{left} and {right}", left=left, right=right)
        said = say(
            "The eyes read as {eyes}, the mouth as {mouth}.",
            eyes=both,
            mouth=mouth_said(face.mouth_open),
        )
    return Evidence(eyes, mouth, said, red)
