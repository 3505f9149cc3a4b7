"""Pictures for the screen: a photo as it is, and any picture in the screen's own profile."""

from __future__ import annotations

from collections.abc import Callable

from aptandum.core.fitting.colouring import coloured, streamed
from aptandum.core.fitting.plan import ColourStation, Window
from aptandum.core.fitting.resample import (
    resampled,
)
from aptandum.core.later import np
from aptandum.core.photo import decode, profile
from aptandum.core.photo.decode import Photo
from aptandum.core.photo.engine import Pixels, converted, memory
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import Space


def shown_on(
    photo: Photo,
    longest: int,
    window: Window | None = None,
    cancelled: Callable[[], bool] | None = None,
    screen: bytes | None = None,
) -> Picture:
    """The photo as supplied, or a window of it, in 8 bit for a screen.

    Its longest side comes to at most ``longest`` pixels, and never to more than the photo has.
    ``screen`` is the screen's own profile; ``None``: sRGB.
    """
    facts = photo.facts
    icc = screen or profile.shipped("srgb")
    box = window or Window(0, 0, *facts.size)
    factor = min(1.0, longest / max(box.width, box.height))
    size = (max(1, round(box.width * factor)), max(1, round(box.height * factor)))
    if window is None and facts.format == "jpeg" and facts.mode == "rgb":
        return streamed(photo, size, icc, cancelled)
    pixels, embedded = resampled(photo, box, size, False, cancelled, margin=1.0, quick=True)
    source = facts.taken_as
    target: Space = "srgb" if icc == profile.shipped("srgb") else "other"
    station = ColourStation(source, target, icc, 8, "relative", not embedded)
    return coloured(facts, pixels, embedded, station)


def for_screen(picture: Picture, screen: bytes | None = None) -> Pixels:
    """A rendered picture in 8 bit (RGB, RGBA, or grey as it is) for a screen; ``screen`` is the
    screen's own profile, ``None``: sRGB."""
    icc = screen or profile.shipped("srgb")
    if picture.icc == icc and picture.pixels.dtype == np.uint8:
        return picture.pixels
    image = decode.from_array(picture.pixels)
    return memory(converted(image, picture.icc, icc, 8, "relative", picture.alpha))
