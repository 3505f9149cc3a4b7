"""The eyes and what lies round them, upright and always at one scale: what measures of glasses, hair, light and gaze
look at.

Places are in distances of the eyes: x to the right of the picture, y down, from the middle between the two eye centres,
which lie at (-0.5, 0) and (0.5, 0).
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

from aptandum.core.frozen import frozen
from aptandum.core.judge.head_marks import marks_of
from aptandum.core.judge.measure import CannotMeasure
from aptandum.core.judge.reading import Reading
from aptandum.core.later import cv2, np
from aptandum.core.words import say

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from aptandum.core.photo.marks import Marks

UNIT = 100
"""Pixels of the region for a distance of the eyes."""
LEFT, RIGHT, TOP, BOTTOM = -1.3, 1.3, -0.9, 1.3
"""How far the region reaches."""
LEAST = 30.0
"""Pixels of the picture between the eyes below which nothing finer is told."""

_BRIGHTER, _PALER = 8.0, 0.6
"""L* above the cheeks' lightest, and share of their chroma, of what light is thrown back by."""


@frozen
class EyeRegion:
    """The eyes of a face in a picture.

    Attributes:
        lab: CIELAB (D50), shape (220, 260, 3).
        seen: where the picture has opaque pixels of its own, shape (220, 260).
        skin: the median L*, a*, b* of the cheeks and the bridge of the nose.
        spread: the median absolute deviation of L* there.
        fine: pixels of the picture for a distance of the eyes.
        marks: in the pixels of the picture.
    """

    lab: NDArray[np.float32]
    seen: NDArray[np.bool_]
    skin: NDArray[np.float32]
    spread: float
    fine: float
    marks: Marks

    def part(self, left: float, right: float, top: float, bottom: float) -> Any:
        """CIELAB of a box, shape (h, w, 3)."""
        x0, x1 = (round((v - LEFT) * UNIT) for v in (left, right))
        y0, y1 = (round((v - TOP) * UNIT) for v in (top, bottom))
        return self.lab[max(0, y0) : y1, max(0, x0) : x1]

    def about(self, at: tuple[float, float], reach: float) -> Any:
        """CIELAB of the pixels no further than ``reach`` from a place, shape (n, 3)."""
        rows, columns = np.indices(self.lab.shape[:2])
        across = (columns + 0.5) / UNIT + LEFT - at[0]
        down = (rows + 0.5) / UNIT + TOP - at[1]
        return self.lab[np.hypot(across, down) <= reach]

    def pale(self, lab: Any) -> float:
        """The share of some of its pixels, shape (..., 3), that throw light back: lighter than the cheeks' lightest, and
        pale."""
        cheeks = [self.part(a, a + 0.35, 0.5, 0.85).reshape(-1, 3) for a in (-0.62, 0.27)]
        lightest = float(np.percentile(np.concatenate(cheeks)[:, 0], 95))
        chroma = float(np.hypot(*self.skin[1:]))
        light = lab[..., 0] > lightest + _BRIGHTER
        return float((light & (np.hypot(lab[..., 1], lab[..., 2]) < _PALER * chroma + 1)).mean())


def eyes_of(reading: Reading, sure: bool = True) -> EyeRegion:
    """The region about the eyes that a reading's marks tell.

    Args:
        sure: not where it is doubtful where the eyes are; what covers an eye makes it so.

    Raises:
        CannotMeasure: there is none, or it is doubtful where, or it is too small or outside the picture.
    """
    marks = marks_of(reading, *(("eyes", "side") if sure else ("side",)))
    look = reading.look()
    picture = look.picture
    if picture.bits == 1:
        raise CannotMeasure(say("In a picture of dots this is not measured."))
    told = look.told.setdefault("eyes", {})
    if marks in told:
        made: EyeRegion = told[marks]
        return made
    placed = marks.placed(0.0, 0.0, picture.size[0] / reading.facts.size[0])
    fine = math.dist(placed.left_eye, placed.right_eye)
    if fine < LEAST:
        raise CannotMeasure(say("The face is too small in this picture for that."))
    region = region_of(np.asarray(look.lab, np.float32), look.opaque & ~look.own, placed)
    told.clear()
    told[marks] = region
    return region


def region_of(lab: Any, seen: Any, marks: Marks) -> EyeRegion:
    """The region about the eyes of a picture.

    Args:
        lab: CIELAB (D50), shape (h, w, 3).
        seen: where its pixels are opaque and of the photo, shape (h, w).
        marks: in its pixels.

    Raises:
        CannotMeasure: it lies outside the picture.
    """
    fine = math.dist(marks.left_eye, marks.right_eye)
    matrix = _matrix(marks, fine)
    size = round((RIGHT - LEFT) * UNIT), round((BOTTOM - TOP) * UNIT)
    brought = _read(lab, matrix, size)
    whole = _read(seen.astype(np.float32), matrix, size, cv2.BORDER_CONSTANT) > 0.99
    row = round(-TOP * UNIT)
    if not whole[row - 20 : row + 20, 60:200].all():
        raise CannotMeasure(say("The face lies outside this picture."))
    return EyeRegion(brought, whole, *_skin(brought, whole), fine, marks)


def thrown_back(eyes: EyeRegion) -> float:
    """The share of what lies about an eye, without the eye itself, that is lighter than the cheeks' lightest and pale:
    of the eye that has more of it."""
    shares = []
    for x in (-0.5, 0.5):
        part = eyes.part(x - 0.36, x + 0.36, -0.24, 0.32)
        rows, columns = np.mgrid[: part.shape[0], : part.shape[1]] + 0.5
        about = (np.abs(rows / UNIT - 0.24) > 0.11) | (np.abs(columns / UNIT - 0.36) > 0.26)
        shares.append(eyes.pale(part[about]))
    return max(shares)


_LASH = 8
"""Rows that a line of lashes, or a brow's hair, takes at most."""


def unevenness(eyes: EyeRegion) -> float:
    """How far the lightness of the eyes leaves a plane, over the skin's own: the 90th percentile of the eye that leaves
    it further. Lines of lashes are left out."""
    found = []
    for x in (-0.5, 0.5):
        light = np.ascontiguousarray(eyes.part(x - 0.18, x + 0.18, -0.09, 0.09)[..., 0])
        light = cv2.morphologyEx(light, cv2.MORPH_CLOSE, np.ones((_LASH, 1), np.uint8))
        rows, columns = np.indices(light.shape)
        plane = np.stack([rows.ravel(), columns.ravel(), np.ones(light.size)], 1)
        fitted = plane @ np.linalg.lstsq(plane, light.ravel(), rcond=None)[0]
        found.append(float(np.percentile(np.abs(light.ravel() - fitted), 90)))
    return max(found) / max(float(eyes.skin[0]), 1.0)


def _matrix(marks: Marks, fine: float) -> Any:
    """2 x 3, from the region's pixels to the picture's, both by pixel centres."""
    roll = math.radians(marks.tilt)
    k = fine / UNIT
    c, s = math.cos(roll) * k, math.sin(roll) * k
    made = np.array([[c, -s, 0.0], [s, c, 0.0]])
    corner = np.array([LEFT * UNIT + 0.5, TOP * UNIT + 0.5])
    made[:, 2] = np.array(marks.eyes) + made[:, :2] @ corner - 0.5
    return made


def _read(array: Any, matrix: Any, size: tuple[int, int], border: int | None = None) -> Any:
    """An array through a matrix; a larger one is first made smaller by means, so that nothing is missed."""
    step = max(1, math.floor(math.hypot(matrix[0, 0], matrix[1, 0])))
    if step > 1:
        # Only what the region covers is made smaller.
        corners = np.array([[0, 0, 1], [size[0], 0, 1], [0, size[1], 1], [size[0], size[1], 1]])
        at = corners @ matrix.T
        low = np.maximum(np.floor(at.min(0)).astype(int) - step, 0)
        high = np.ceil(at.max(0)).astype(int) + step
        array = array[low[1] : high[1], low[0] : high[0]]
        tall, wide = (side // step for side in array.shape[:2])
        if min(tall, wide) < 1:
            raise CannotMeasure(say("The face lies outside this picture."))
        array = cv2.resize(
            np.ascontiguousarray(array[: tall * step, : wide * step]), (wide, tall),
            interpolation=cv2.INTER_AREA,
        )  # fmt: skip
        matrix = matrix.copy()
        matrix[:, 2] = (matrix[:, 2] - low + 0.5) / step - 0.5
        matrix[:, :2] /= step
    way = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return cv2.warpAffine(
        np.ascontiguousarray(array), matrix, size, flags=way,
        borderMode=cv2.BORDER_REPLICATE if border is None else border,
    )  # fmt: skip


def _skin(lab: Any, seen: Any) -> tuple[Any, float]:
    """The face's own colour: of the cheeks below the eyes, where neither hair nor brows nor frames lie."""
    y0, y1 = round((0.5 - TOP) * UNIT), round((0.85 - TOP) * UNIT)
    boxes = [(round((x - LEFT) * UNIT), round((x + 0.35 - LEFT) * UNIT)) for x in (-0.62, 0.27)]
    parts = [lab[y0:y1, a:b][seen[y0:y1, a:b]] for a, b in boxes]
    cheeks = np.concatenate(parts)
    if len(cheeks) < 100:
        raise CannotMeasure(say("Too little of the face is seen in this picture."))
    middle = np.median(cheeks, axis=0).astype(np.float32)
    return middle, float(np.median(np.abs(cheeks[:, 0] - middle[0])))
