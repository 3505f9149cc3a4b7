"""Looking for people in a photo, and whether anybody asks for it."""

from __future__ import annotations

from collections.abc import Callable

from aptandum.core.brief.binding import ZONES
from aptandum.core.brief.model import Brief, turn_of
from aptandum.core.fitting.resolve import course_of
from aptandum.core.fitting.resolve_frame import resolve_frame
from aptandum.core.fitting.screen import for_screen, shown_on
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.clearing import clear_frame
from aptandum.core.judge.measure import Need
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.judge.placing import Band, bands, frame_from_marks, off_by, tellable, value_of
from aptandum.core.judge.zones import covered, kept_of, zones_of
from aptandum.core.later import np
from aptandum.core.photo.decode import Photo
from aptandum.core.photo.marks import HandMarks, Marks, NoMarks, People
from aptandum.core.sizes.conflicts import least_frame
from aptandum.core.sizes.least import Box
from aptandum.core.sizes.wished import chosen


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
    from aptandum.core.photo.people import find_people, scaled, somebody_in
    from aptandum.core.photo.subject import find_subject

    seen = for_screen(shown_on(photo, _longest(photo.facts.size), cancelled=cancelled))
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
    hidden = not faces and somebody_in(seen)
    return People(faces, hand or HandMarks(), thing, hidden)


def _longest(size: tuple[int, int]) -> int:
    """The longest side of the copy in which people are looked for: what a decoder gives by itself, a half, a quarter or an
    eighth, so that nothing is resized."""
    from aptandum.core.photo.people import LOOK

    longest = max(size)
    step = next((step for step in (1, 2, 4, 8) if longest <= LOOK * step), 0)
    return -(-longest // step) if step else LOOK


def framed_by_marks(photo: Photo, brief: Brief, settings: Settings, people: People) -> Settings:
    """The settings with the frame that the marks and the zones ask for; as they are where the brief
    asks for neither, where there is none to place, or where the frame that cuts least holds the head
    in every band and leaves everything clear as it is."""
    brief = course_of(photo.facts, brief, settings)
    size, angle = photo.facts.size, settings.frame.angle
    found = chosen(brief, Box.of(*size))
    if found is None:
        return settings
    target = found.target
    asked = bands(brief, turn_of(*target.size))
    zones = zones_of(brief) if any(True for _ in brief.bounding(ZONES)) else ()
    marks: Marks | None = None
    if asked:
        try:
            marks = people.marks().topped(brief.crown).swung(angle, size)
            asked = tellable(asked, marks)
        except NoMarks:
            asked = ()
    if not asked and not zones:
        return settings
    kept = kept_of(people, angle, size) if zones else ()
    window = resolve_frame(size, brief, settings, []).window
    box = (window.left, window.top, window.width, window.height)
    holds = marks is None or all(_surely_in(band, box, marks) for band in asked)
    clear = not covered(zones, box, kept)
    if holds and clear and (not asked or target.whole):
        return settings
    if asked and marks is not None:
        placed = frame_from_marks(
            brief, marks, size, target.shape, least_frame(brief, target.shape)
        )
        if placed is None:
            return settings
        box = placed.box
    if zones and kept:
        least = least_frame(brief, target.shape)
        box = clear_frame(zones, box, kept, size, asked, marks, least[0] if least else 0.0) or box
    return settings.having({"frame.window": ", ".join(f"{v:.4f}" for v in box)})


def _surely_in(band: Band, box: tuple[float, float, float, float], marks: Marks) -> bool:
    """Whether a frame holds a head in a band, and by more than its marks may be off where the band is that wide."""
    value = value_of(band.binds, box, marks)
    if band.off(value) > 1:
        return False
    by = off_by(band.binds, box, marks)
    if band.low is not None and band.high is not None and band.high - band.low < 2 * by:
        return True
    return band.off(value - by) <= 1 and band.off(value + by) <= 1
