"""Looking for what stands before a photo's backdrop, and whether anybody asks for it."""

from __future__ import annotations

from collections.abc import Callable

from aptandum.core.brief.model import Brief
from aptandum.core.fitting.plan import Line
from aptandum.core.fitting.screen import for_screen, shown_on
from aptandum.core.judge.measure import Measure, Need
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.judge.reading import pixels_of
from aptandum.core.later import np
from aptandum.core.photo.backdrop import LOOK, Cover, Mask, NoMask, blank, find_mask
from aptandum.core.photo.decode import Photo
from aptandum.core.photo.marks import People


def asks_for_mask(brief: Brief | None, line: Line | None = None) -> bool:
    """Whether a clause measures the backdrop or the subject, or a finish works on them."""
    if line is not None and line.finish.needs_mask:
        return True
    return brief is not None and any(
        clause.measure is not None and Need.MASK in REGISTRY[clause.measure].needs
        for clause in brief.clauses
    )


def found_in(
    photo: Photo, people: People | None = None, cancelled: Callable[[], bool] | None = None
) -> Mask:
    """What stands before the backdrop as it is found, without anybody's strokes.

    ``people`` of the photo, where they have been looked for; else this looks for them.

    Raises:
        PhotoError: the pixels cannot be read.
        NoMask: neither a person nor a thing stands out.
        Cancelled: ``cancelled`` said so.
    """
    from aptandum.core.photo.people import find_people
    from aptandum.core.photo.subject import find_subject

    seen = for_screen(shown_on(photo, LOOK, cancelled=cancelled))
    seen = np.repeat(seen[..., :1], 3, 2) if seen.shape[2] < 3 else seen[..., :3]
    seen = np.ascontiguousarray(seen)
    person = bool(people.faces) if people is not None else bool(find_people(seen))
    thing = None if person else find_subject(seen)
    return find_mask(seen, photo.facts.size, person, thing)


def mask_in(
    photo: Photo, people: People | None = None, cancelled: Callable[[], bool] | None = None
) -> Mask:
    """The same with the strokes of ``people.hand`` laid on it; where nothing is found and there
    are strokes, they alone tell.

    Raises:
        PhotoError, NoMask, Cancelled: as :func:`found_in`.
    """
    strokes = people.hand.strokes if people is not None else ()
    try:
        found = found_in(photo, people, cancelled)
    except NoMask:
        if not strokes:
            raise
        found = blank(photo.facts.size)
    return found.brushed(strokes) if strokes else found


SUPPLIED = 2048
"""Longest side of the copy on which a supplied photo's pixels are measured."""


def _looks(measure: Measure) -> bool:
    return bool(measure.needs & {Need.PIXELS, Need.GLANCE})


def looks_at_pixels(brief: Brief) -> bool:
    """Whether a clause measures the picture's pixels."""
    return any(
        clause.measure is not None and _looks(REGISTRY[clause.measure]) for clause in brief.clauses
    )


def supplied_look(
    photo: Photo,
    see_mask: Callable[[], Mask] | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> PixelStatistics:
    """A look at the photo as supplied, on a copy of at most :data:`SUPPLIED` pixels on a side; what only shows in
    all of them is looked for in all.

    Raises:
        PhotoError: the pixels cannot be read.
        Cancelled: ``cancelled`` said so.
    """
    picture = shown_on(photo, SUPPLIED, cancelled=cancelled)
    whole = picture.size == photo.facts.size
    return PixelStatistics(
        picture,
        supplied_cover(photo, see_mask) if see_mask is not None else None,
        see_native=None if whole else lambda: pixels_of(photo.read(), photo.facts),
    )


def supplied_cover(
    photo: Photo, see_mask: Callable[[], Mask]
) -> Callable[[tuple[int, int]], Cover]:
    """How much of each pixel of the whole photo, at a size, stands before its backdrop."""
    wide, high = photo.facts.size
    return lambda size: see_mask().window((0.0, 0.0, wide, high), size)
