"""One framing for the fittings of one photo: what was framed leads, and each brief's frame follows by
its own rules."""

from __future__ import annotations

from aptandum.core.brief.binding import EYE_LINE, HEAD_HEIGHT, HEAD_OFFSET, HEADROOM, Bind
from aptandum.core.brief.model import Brief, turn_of
from aptandum.core.fitting.plan import Window
from aptandum.core.judge.placing import Band, bands, frame_from_marks, value_of
from aptandum.core.photo.marks import Marks
from aptandum.core.sizes.conflicts import least_frame
from aptandum.core.sizes.least import Box
from aptandum.core.sizes.wished import chosen


def followed(
    frame: Window, brief: Brief, photo: tuple[int, int], marks: Marks | None = None
) -> Window | None:
    """The frame of a photo for a brief, after the frame that it was given for another one.

    Where a head was framed, it keeps its height, its headroom and its place across as nearly as the
    brief's own clauses let it. Else the whole of what was framed stays in, about its middle, as far
    as the photo reaches.

    Args:
        frame: in photo pixels, of the straightened photo.
        photo: width and height of the photo as shown.
        marks: of the head, in the straightened photo.

    Returns:
        ``None`` where the brief leaves no size.
    """
    found = chosen(brief, Box.of(frame.width, frame.height))
    if found is None:
        return None
    shape = found.target.shape
    marks = None if marks is None else marks.topped(brief.crown)
    asked = bands(brief, turn_of(*found.target.size))
    if marks is None or not asked:
        return _round(frame, float(shape), photo)
    made = _about_head(frame, float(shape), photo, marks, asked)
    box = (made.left, made.top, made.width, made.height)
    if all(band.off(value_of(band.binds, box, marks)) <= 1 + 1e-6 for band in asked if band.must):
        return made
    placed = frame_from_marks(brief, marks, photo, shape, least_frame(brief, shape))
    return None if placed is None else Window(*placed.box)


def _round(frame: Window, ratio: float, photo: tuple[int, int]) -> Window:
    """The smallest window of a shape that holds a frame, as far as the photo reaches."""
    wide, high = max(frame.width, frame.height * ratio), max(frame.height, frame.width / ratio)
    scale = min(1.0, photo[0] / wide, photo[1] / high)
    wide, high = wide * scale, high * scale
    cx, cy = frame.centre
    return Window(cx - wide / 2, cy - high / 2, wide, high).held_in(*photo)


def _about_head(
    frame: Window, ratio: float, photo: tuple[int, int], marks: Marks, asked: tuple[Band, ...]
) -> Window:
    box = (frame.left, frame.top, frame.width, frame.height)

    def share(binds: Bind) -> float:
        """What the frame says of the head, brought inside the brief's own band."""
        value = value_of(binds, box, marks)
        for band in asked:
            if band.binds == binds:
                value = value if band.low is None else max(value, band.low)
                value = value if band.high is None else min(value, band.high)
        return value

    high = min(marks.height / share(HEAD_HEIGHT), photo[1], photo[0] / ratio)
    wide = high * ratio
    top = marks.crown[1] - share(HEADROOM) * high
    if any(band.binds == EYE_LINE for band in asked):
        # The line of the eyes gives way to the headroom only as far as its own band lets it.
        own = (top + high - marks.eyes[1]) / high
        for band in asked:
            if band.binds == EYE_LINE:
                own = own if band.low is None else max(own, band.low)
                own = own if band.high is None else min(own, band.high)
        top = marks.eyes[1] + own * high - high
    left = marks.eyes[0] - (share(HEAD_OFFSET) + 0.5) * wide
    return Window(left, top, wide, high).held_in(*photo)
