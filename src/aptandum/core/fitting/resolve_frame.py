"""Resolving the frame: window, size and scale."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from math import floor

from aptandum.core.brief.model import Brief
from aptandum.core.fitting.plan import FrameStation, Window
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.turning import held_in_swung
from aptandum.core.sizes.binds import SCALE
from aptandum.core.sizes.cells import in_strip
from aptandum.core.sizes.least import Box, Target, Way
from aptandum.core.sizes.said import contradiction_said, left_said
from aptandum.core.sizes.wished import chosen, chosen_whole, own_pixels
from aptandum.core.words import say

FILLS = ("whole", "cut", "pad", "pixels")
"""How a frame is filled, the least loss first."""


def resolve_frame(
    shown: tuple[int, int],
    brief: Brief | None,
    settings: Settings,
    notes: list[str],
    clear: bool = False,
    bordered: bool = False,
) -> FrameStation:
    """The frame's figures; sentences that a person should read are added to ``notes``.

    Args:
        clear: the photo is clear at its rim and the file holds that, so that padding costs nothing
            that is seen.
        bordered: a border is laid round the picture, so that a padded frame may reach beyond one
            edge of the photo without showing it.
    """
    pw, ph = shown
    wish, angle = settings.frame, settings.frame.angle
    fill, wanted = wish.fill or _filled(brief, clear), wish.window
    if fill == "whole":
        wanted = None
    if angle:
        # Straightening resamples, and shows no corner that the photo does not have.
        if fill in ("pad", "pixels"):
            notes.append(say("A straightened photo is cut to shape."))
        fill = "cut"
        wanted = _straight(Window(*(wanted or (0, 0, pw, ph))), angle, shown)
    box = Box.of(*(wanted[2:] if wanted is not None else shown))
    if wish.output is not None:
        shape = Fraction(*wish.output)
        target = Target(wish.output, 1.0, shape, True, in_strip(*wish.output, box.shape))
    else:
        target = _target(brief, box, shown, fill, notes)
    found = _framed(target, wanted, shown, fill, angle, notes, bordered)
    ground = wish.ground if wish.fill is not None or not clear else "clear"
    return replace(found, ground=ground) if found.ground is not None else found


def _filled(brief: Brief | None, clear: bool) -> str:
    """How a frame is filled where nobody has said how: whole, and where that cannot be by cutting,
    unless a rule forbids it or what would be added cannot be seen."""
    if _keeps_pixels(brief):
        return "pixels"
    may_pad = brief is None or brief.permits("pad")
    if may_pad and (clear or (brief is not None and not brief.permits("cut"))):
        return "pad"
    return "cut"


def _target(
    brief: Brief | None,
    box: Box,
    shown: tuple[int, int],
    fill: str,
    notes: list[str],
) -> Target:
    """The size to write; where there is none, the photo's own, and a sentence says why."""
    if fill == "pixels":
        found = own_pixels(brief, box)
    else:
        way: Way = "pad" if fill == "pad" else "cut"
        found = (chosen_whole(brief, box) if fill == "whole" else None) or chosen(brief, box, way)
    if found is None:
        notes.append(contradiction_said(brief) if brief is not None else "")
        return Target(shown, 1.0, Fraction(*shown), False, True)
    if found.left and brief is not None:
        notes.append(left_said(brief, found.left))
    if fill == "whole" and not found.target.whole:
        notes.append(say("No size of the photo’s own shape is allowed, so it is cut."))
    return found.target


def _framed(
    target: Target,
    wanted: tuple[float, float, float, float] | None,
    shown: tuple[int, int],
    fill: str,
    angle: float,
    notes: list[str],
    bordered: bool = False,
) -> FrameStation:
    """The window of a size, and what it keeps; ``ground`` is set where it is padded."""
    (pw, ph), (w, h) = shown, target.size
    if target.whole and wanted is None and not (fill == "pixels" and (w, h) != shown):
        # To the nearest output pixel the sizes have one shape; nothing is cut for the rounding.
        scale = w / pw if pw >= ph else h / ph
        exact = (w, h) == shown
        window = Window(0.0, 0.0, float(pw), float(ph))
        return FrameStation(
            window, (w, h), scale, 1.0, target.shape, target.fixed, exact,
            fill if fill in ("pad", "pixels") else "whole",
        )  # fmt: skip
    box = (_pad_to if fill == "pad" else _cut_of)(target.shape, wanted, shown)
    if angle:
        box = Window(*_straight(box, angle, shown))
    # Rather than to mix every pixel anew for one row or column of them, those are cut.
    spare = floor(box.width + 1e-6) - w, floor(box.height + 1e-6) - h
    nearly = fill == "cut" and wanted is None and not angle and set(spare) <= {0, 1}
    exact = fill == "pixels" or nearly
    if exact and (w > pw or h > ph):
        notes.append(say("The photo has too few pixels for a window of that size."))
        exact = False
    if exact:
        window, scale = _exactly((w, h), box, shown), 1.0
    else:
        window, scale = _scaled((w, h), box, fill, angle, shown)
        if bordered and fill == "pad" and wanted is not None and not angle:
            window = _reaching(window, Window(*wanted), shown)
        even = all(abs(v - round(v)) < 1e-6 for v in (window.left, window.top))
        exact = abs(scale - 1) < 1e-9 and even and not angle
    inside = window if angle else window.within(pw, ph)
    padded = inside.width < window.width - 1e-6 or inside.height < window.height - 1e-6
    kept = inside.width * inside.height / (pw * ph)
    return FrameStation(
        window, (w, h), scale, kept, target.shape, target.fixed, exact and not padded,
        "cut" if fill == "whole" else fill, "edge" if padded else None, angle,
    )  # fmt: skip


def _exactly(size: tuple[int, int], box: Window, shown: tuple[int, int]) -> Window:
    """A window of the photo's own pixels about the middle of a box, on whole pixels."""
    (w, h), (cx, cy) = size, box.centre
    left, top = floor(cx - w / 2 + 0.5), floor(cy - h / 2 + 0.5)
    return Window(left, top, w, h).held_in(*shown)


def _scaled(
    size: tuple[int, int], box: Window, fill: str, angle: float, shown: tuple[int, int]
) -> tuple[Window, float]:
    """The window about the middle of a box whose shape is that of a size, and output over photo
    pixels."""
    (w, h), (pw, ph), (cx, cy) = size, shown, box.centre
    # One scale for both sides, set by the longer one; the window's other side gives or takes less
    # than an output pixel for it, and never leaves the photo it is cut from.
    if fill == "pad":  # nothing of the box goes for the rounding
        scale = min(w / box.width, h / box.height)
    else:
        scale = w / box.width if box.width >= box.height else h / box.height
        scale = max(scale, w / pw, h / ph)
    width, height = w / scale, h / scale
    window = Window(cx - width / 2, cy - height / 2, width, height)
    if not angle:
        return window.held_in(pw, ph), scale
    inside = Window(*_straight(window, angle, shown))
    # The last fraction of a pixel, so that the window's own shape is that of its size.
    scale = max(scale, w / inside.width, h / inside.height)
    (mx, my), width, height = inside.centre, w / scale, h / scale
    return Window(mx - width / 2, my - height / 2, width, height), scale


def _straight(
    box: Window, angle: float, shown: tuple[int, int]
) -> tuple[float, float, float, float]:
    return held_in_swung((box.left, box.top, box.width, box.height), angle, shown)


def _pad_to(
    shape: Fraction, wanted: tuple[float, float, float, float] | None, shown: tuple[int, int]
) -> Window:
    """The smallest window of a shape round a wanted one (or the photo), about its middle."""
    box = Window(*wanted) if wanted is not None else Window(0, 0, *shown)
    ratio = float(shape)
    width, height = max(box.width, box.height * ratio), max(box.height, box.width / ratio)
    cx, cy = box.centre
    return Window(cx - width / 2, cy - height / 2, width, height).held_in(*shown)


def _reaching(window: Window, wanted: Window, shown: tuple[int, int]) -> Window:
    """A window about the middle that a person has given it, though it reach beyond the photo's edge,
    so that what its border's opening shows does not move; one that would show nothing of the photo
    stays where it is."""
    cx, cy = wanted.centre
    there = Window(cx - window.width / 2, cy - window.height / 2, window.width, window.height)
    inside = there.within(*shown)
    return there if inside.width >= 1 and inside.height >= 1 else window


def _keeps_pixels(brief: Brief | None) -> bool:
    limit = brief.bound(SCALE) if brief else None
    return limit is not None and limit.exact and limit.one_of == (1.0,)


def _cut_of(
    shape: Fraction, wanted: tuple[float, float, float, float] | None, shown: tuple[int, int]
) -> Window:
    """The largest window of a shape inside a wanted one (or the photo), about its middle."""
    pw, ph = shown
    box = Window(*wanted) if wanted is not None else Window(0, 0, pw, ph)
    ratio = float(shape)
    width, height = min(box.width, pw), min(box.height, ph)
    if width > height * ratio:
        width = height * ratio
    else:
        height = width / ratio
    cx, cy = box.centre
    return Window(cx - width / 2, cy - height / 2, width, height).held_in(pw, ph)


def cut_of_shape(
    size: tuple[int, int], wanted: tuple[float, float, float, float] | None, shown: tuple[int, int]
) -> Window:
    """The largest window of a size's shape inside a wanted one (or the photo), about its
    middle."""
    return _cut_of(Fraction(*size), wanted, shown)
