"""One framing for many: the same frame on other photos."""

from __future__ import annotations

from fractions import Fraction
from typing import Literal

from aptandum.core.brief.model import Brief, turn_of
from aptandum.core.errors import AptandumError
from aptandum.core.figures import show_size
from aptandum.core.fitting.plan import Window
from aptandum.core.judge.placing import bands, frame_from_marks
from aptandum.core.photo.marks import NoMarks, People
from aptandum.core.sizes.conflicts import least_frame
from aptandum.core.words import say

Way = Literal["share", "pixels", "marks"]
WAYS: tuple[Way, ...] = ("share", "pixels", "marks")
Size = tuple[int, int]


class CannotCarry(AptandumError):
    """The frame does not fit another photo; the message says why."""


def carried(
    window: Window,
    source: Size,
    target: Size,
    way: Way,
    brief: Brief,
    people: People | None = None,
) -> Window:
    """A frame of one photo on another, in that one's pixels as shown.

    Args:
        way: ``share``: the same part of the picture, its shape kept; ``pixels``: the same
            window, pixel for pixel; ``marks``: as that photo's own marks ask.
        people: of the other photo, for ``marks``.

    Raises:
        CannotCarry: the photo is too small for the same pixels, or has no marks to go by.
    """
    pw, ph = target
    if way == "pixels":
        if window.width > pw + 1e-6 or window.height > ph + 1e-6:
            need = (round(window.width), round(window.height))
            raise CannotCarry(
                say(
                    "it has {have}; the frame takes {need}",
                    have=show_size(target),
                    need=show_size(need),
                )
            )
        inside = window.left >= -1e-6 and window.top >= -1e-6
        if not inside or window.right > pw + 1e-6 or window.bottom > ph + 1e-6:
            raise CannotCarry(say("the frame would reach over its edge"))
        return window
    shape = Fraction(window.width / window.height).limit_denominator(10_000)
    if way == "marks":
        return _by_marks(brief, people, target, shape)
    # The same share of the longer reach: both sides by one factor, so that the shape stays.
    factor = min(pw / source[0], ph / source[1])
    if factor * window.width > pw or factor * window.height > ph:
        factor = min(pw / window.width, ph / window.height)
    width, height = window.width * factor, window.height * factor
    cx, cy = window.centre[0] / source[0] * pw, window.centre[1] / source[1] * ph
    return Window(cx - width / 2, cy - height / 2, width, height).held_in(pw, ph)


def _by_marks(brief: Brief, people: People | None, target: Size, shape: Fraction) -> Window:
    if not bands(brief, turn_of(shape.numerator, shape.denominator)):
        raise CannotCarry(say("the brief places no head"))
    try:
        marks = (people or People()).marks()
    except NoMarks as error:
        raise CannotCarry(str(error).rstrip(".").lower()) from None
    found = frame_from_marks(brief, marks, target, shape, least_frame(brief, shape))
    if found is None:
        raise CannotCarry(say("no frame of that shape lies inside it"))
    return Window(*found.box)
