"""What is measured of a face and helps a person to answer a question about it; never the answer itself."""

from __future__ import annotations

import math
from contextlib import suppress
from typing import Any

from aptandum.core.judge.eye_region import LEAST, EyeRegion, region_of
from aptandum.core.judge.measure import CannotMeasure
from aptandum.core.judge.measures.glasses import frames, glare, worn
from aptandum.core.judge.measures.hair_over_eyes import hair
from aptandum.core.later import np
from aptandum.core.photo import engine
from aptandum.core.photo.marks import Marks
from aptandum.core.photo.profile import shipped
from aptandum.core.words import say

_REACH = 2.2
"""How far about the eyes colours are looked at, in distances of the eyes."""


def told(picture: Any, marks: Marks) -> list[str]:
    """What lies before the eyes, in sentences; empty where nothing can be told.

    Args:
        picture: 8-bit sRGB, shape (h, w, 3).
        marks: in its pixels.
    """
    eyes = _eyes(picture, marks)
    if eyes is None:
        return []
    said = []
    with suppress(CannotMeasure):
        said.append(say("Glasses are seen.") if worn(eyes) else say("No glasses are seen."))
    with suppress(CannotMeasure):
        if glare(eyes) == "seen":
            said.append(say("There is glare on them."))
    with suppress(CannotMeasure):
        if frames(eyes) == "seen":
            said.append(say("A frame seems to lie across an eye."))
    with suppress(CannotMeasure):
        if hair(eyes) == "seen":
            said.append(say("Hair seems to lie before an eye."))
    return said


def _eyes(picture: Any, marks: Marks) -> EyeRegion | None:
    apart = math.dist(marks.left_eye, marks.right_eye)
    if apart < LEAST:
        return None
    reach, (x, y) = _REACH * apart, marks.eyes
    high, wide = picture.shape[:2]
    x0, x1 = max(0, round(x - reach)), min(wide, round(x + reach))
    y0, y1 = max(0, round(y - reach)), min(high, round(y + reach))
    part = np.ascontiguousarray(picture[y0:y1, x0:x1, :3])
    if min(part.shape[:2]) < LEAST:
        return None
    lab = engine.to_lab(part, shipped("srgb"))
    with suppress(CannotMeasure):
        return region_of(lab, np.ones(lab.shape[:2], bool), marks.placed(x0, y0, 1.0))
    return None
