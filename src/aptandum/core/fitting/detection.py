"""Looking for people in a photo, and whether anybody asks for it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from aptandum.core.brief.model import Brief, turn_of
from aptandum.core.fitting.screen import for_screen, shown_on
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.measure import Need
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.judge.placing import Box, bands, frame_from_marks, value_of
from aptandum.core.judge.zones import Kept, smallest_shift, zones_of
from aptandum.core.photo.decode import Photo
from aptandum.core.photo.marks import HandMarks, Marks, NoMarks, People, head_box
from aptandum.core.photo.turning import swung_box
from aptandum.core.sizes.conflicts import least_frame
from aptandum.core.sizes.region import allowed


def asks_for_people(brief: Brief) -> bool:
    """Whether a clause of the brief measures a person."""
    return _needs(brief, Need.PEOPLE)


def places_a_head(brief: Brief) -> bool:
    """Whether a clause of the brief measures where a head stands, so that its marks matter."""
    return _needs(brief, Need.MARKS)


def _needs(brief: Brief, need: Need) -> bool:
    return any(need in REGISTRY[clause.measure or ""].needs for clause, _limit in brief.limits())


def people_in(
    photo: Photo, hand: HandMarks | None = None, cancelled: Callable[[], bool] | None = None
) -> People:
    """The people in a photo, in its pixels as shown.

    Raises:
        PhotoError: the pixels cannot be read.
        Cancelled: ``cancelled`` said so.
    """
    from aptandum.core.photo.people import LOOK, find_people, scaled
    from aptandum.core.photo.subject import find_subject

    seen = for_screen(shown_on(photo, LOOK, cancelled=cancelled))
    seen = np.repeat(seen[..., :1], 3, 2) if seen.shape[2] < 3 else seen[..., :3]
    wide, high = photo.facts.size
    k = (wide / seen.shape[1], high / seen.shape[0])
    faces = tuple(scaled(face, k) for face in find_people(seen.copy()))
    thing = None
    if not faces:
        box = find_subject(seen)
        thing = (
            None if box is None else (box[0] * k[0], box[1] * k[1], box[2] * k[0], box[3] * k[1])
        )
    return People(faces, hand or HandMarks(), thing)


def framed_by_marks(photo: Photo, brief: Brief, settings: Settings, people: People) -> Settings:
    """The settings with the frame that the marks ask for; as they are where the brief places
    no head, or where there is none to place."""
    size = photo.facts.size
    target = allowed(brief).cut(*size)
    if target is None or not bands(brief, turn_of(*target.size)):
        return settings
    try:
        marks = people.marks().swung(settings.frame.angle, size)
    except NoMarks:
        return settings
    found = frame_from_marks(brief, marks, size, target.shape, least_frame(brief, target.shape))
    if found is None:
        return settings
    box = _clear_of_zones(brief, found.box, marks, people, size, settings.frame.angle)
    return settings.having({"frame.window": ", ".join(f"{v:.4f}" for v in box)})


def _clear_of_zones(
    brief: Brief,
    box: Box,
    marks: Marks,
    people: People,
    size: tuple[int, int],
    angle: float,
) -> Box:
    """The frame shifted off what its zones would cover, where the head still lies in every
    band; otherwise as it is, and the clause on zones says what is covered."""
    zones = zones_of(brief)
    if not zones:
        return box
    things = [*people.hand.keep_clear, *(head_box(face) for face in people.faces)]
    kept = [Kept(str(n), swung_box(thing, angle, size)) for n, thing in enumerate(things)]
    move = smallest_shift(zones, box, kept, size)
    if move is None:
        return box
    shifted = (box[0] + move[0], box[1] + move[1], box[2], box[3])
    asked = bands(brief, turn_of(box[2], box[3]))
    held = all(band.off(value_of(band.binds, shifted, marks)) <= 1 for band in asked)
    return shifted if held else box
