"""A body's examples beside one's own portrait: each brought to the same head size and the same line of the eyes."""

from __future__ import annotations

from typing import Any

from aptandum.core.brief.model import Brief, Example
from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.judge.findings import Findings
from aptandum.core.later import np
from aptandum.core.photo.decode import from_array, open_photo, open_pixels
from aptandum.core.photo.engine import converted, deepened, memory
from aptandum.core.photo.marks import People
from aptandum.core.photo.people import find_people
from aptandum.core.photo.profile import shipped

HEAD, EYES = 0.62, 0.42
"""How high a head is in its window, of the window's height; and how far below its upper edge the eyes stand."""
SHAPE = 0.78
"""Width of a window over its height."""


@frozen
class Placed:
    """An example, and the window of its picture in which its head stands as all do.

    Attributes:
        pixels: 8-bit sRGB, shape (h, w, 3).
        window: left, top, width, height in its pixels; it may reach beyond the picture.
    """

    example: Example
    pixels: Any
    window: tuple[float, float, float, float]


def window_of(crown: Any, chin: Any, eyes: Any) -> tuple[float, float, float, float]:
    """The window in which a head stands as all do, from its points in the picture's pixels."""
    head = float(np.hypot(*np.subtract(crown, chin)))
    high = head / HEAD
    wide = high * SHAPE
    return float(eyes[0]) - wide / 2, float(eyes[1]) - high * EYES, wide, high


def placed(brief: Brief) -> tuple[Placed, ...]:
    """A brief's examples that can be read, good ones first; one without a face is shown whole."""
    found = []
    for example in sorted(brief.examples, key=lambda one: not one.good):
        path = brief.beside(example.picture)
        if path is None:
            continue
        try:
            pixels = _read(path)
        except (AptandumError, OSError):
            continue  # it is named by the rulebook's reader where it is not there
        high, wide = pixels.shape[:2]
        window = 0.0, 0.0, float(wide), float(high)
        faces = find_people(pixels)
        if faces:
            marks = People(faces[:1]).marks()
            window = window_of(marks.crown, marks.chin, marks.eyes)
        found.append(Placed(example, pixels, window))
    return tuple(found)


def _read(path: str) -> Any:
    photo = open_photo(path)
    image, _turn = open_pixels(photo.read(), photo.facts)
    pixels = memory(deepened(image, 8))
    held = photo.facts.profile
    colour = np.repeat(pixels[..., :1], 3, 2) if pixels.shape[2] < 3 else pixels[..., :3]
    if photo.facts.icc_bytes and held is not None and held.channels == 3:
        if photo.facts.colour_space != "srgb":
            icc = photo.facts.icc_bytes
            colour = memory(
                converted(from_array(np.ascontiguousarray(colour)), icc, shipped("srgb"), 8)
            )
    return np.ascontiguousarray(colour)


def nearest(examples: tuple[Placed, ...], findings: Findings) -> Placed | None:
    """The bad example that shows what is missed first, in the brief's order, else what is advised against; ``None`` where
    there is none."""
    wanting = [f.clause.id for f in findings.findings if f.verdict in ("misses", "unknown")]
    wanting += [f.clause.id for f in findings.findings if f.verdict == "advises"]
    for clause in wanting:
        for one in examples:
            if not one.example.good and one.example.about == clause:
                return one
    return None
