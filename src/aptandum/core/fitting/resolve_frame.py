"""Resolving the frame: window, size and scale."""

from __future__ import annotations

from fractions import Fraction
from math import floor

from aptandum.core.brief.model import Brief
from aptandum.core.fitting.plan import FrameStation, Window
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.turning import held_in_swung
from aptandum.core.sizes.binds import SCALE
from aptandum.core.sizes.region import Allowed, Target, allowed
from aptandum.core.sizes.said import contradiction_said
from aptandum.core.words import say


def _sets(brief: Brief | None) -> tuple[Allowed, ...]:
    """The sizes to try: with the brief's recommendations first, then without."""
    if brief is None:
        return (allowed(Brief("none", "", ())),)
    return allowed(brief, "should"), allowed(brief)


def resolve_frame(
    shown: tuple[int, int], brief: Brief | None, settings: Settings, notes: list[str]
) -> FrameStation:
    """The frame's figures; sentences that a person should read are added to ``notes``."""
    pw, ph = shown
    wanted = settings.frame.window
    fill = settings.frame.fill or ("pixels" if _keeps_pixels(brief) else "cut")
    angle = settings.frame.angle
    if angle:
        # Straightening resamples, and shows no corner that the photo does not have.
        if fill != "cut":
            notes.append(say("A straightened photo is cut to shape."))
        fill = "cut"
        wanted = _straight(Window(*(wanted or (0, 0, pw, ph))), angle, shown)
    hold = _pad_to if fill == "pad" else _cut_of
    output = settings.frame.output
    target = None if output is not None else _best(brief, wanted, shown, fill)
    if output is not None:
        target = Target(output, 1.0, Fraction(*output), True)
    elif target is None:
        notes.append(contradiction_said(brief) if brief is not None else "")
        target = Target(shown, 1.0, Fraction(pw, ph), False)
    box = hold(target.shape, wanted, shown)
    if angle:
        box = Window(*_straight(box, angle, shown))
    w, h = target.size
    exact = fill == "pixels"
    if exact and (w > pw or h > ph):
        notes.append(say("The photo has too few pixels for a window of that size."))
        exact = False
    if exact:
        window, scale = _exactly((w, h), box, shown), 1.0
    else:
        window, scale = _scaled((w, h), box, fill, angle, shown)
        whole = all(abs(v - round(v)) < 1e-6 for v in (window.left, window.top))
        exact = abs(scale - 1) < 1e-9 and whole and not angle
    inside = window if angle else window.within(pw, ph)
    padded = inside.width < window.width - 1e-6 or inside.height < window.height - 1e-6
    kept = inside.width * inside.height / (pw * ph)
    return FrameStation(
        window,
        (w, h),
        scale,
        kept,
        target.shape,
        target.fixed,
        exact and not padded,
        fill,
        settings.frame.ground if padded else None,
        angle,
    )


def _best(
    brief: Brief | None,
    wanted: tuple[float, float, float, float] | None,
    shown: tuple[int, int],
    fill: str,
) -> Target | None:
    """The size that a brief leaves for a frame: a recommended one where it needs no enlarging, else
    the first that is found; ``None`` where the brief's sizes contradict one another."""
    best: Target | None = None
    for sizes in _sets(brief):
        found = _target_in(sizes, wanted, shown, fill)
        if found is not None and found.enlargement <= 1 + 1e-9:
            return found
        best = best or found
    return best


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
    scale = w / box.width if box.width >= box.height else h / box.height
    if fill != "pad":
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


def _keeps_pixels(brief: Brief | None) -> bool:
    limit = brief.bound(SCALE) if brief else None
    return limit is not None and limit.exact and limit.one_of == (1.0,)


def _target_in(
    sizes: Allowed,
    wanted: tuple[float, float, float, float] | None,
    shown: tuple[int, int],
    fill: str,
) -> Target | None:
    if wanted is None and fill != "pad":
        return sizes.cut(*shown)
    wide, high = (wanted[2], wanted[3]) if wanted is not None else (float(shown[0]), shown[1])
    near = sizes.shape_for(
        Fraction(wide).limit_denominator(10**6) / Fraction(high).limit_denominator(10**6)
    )
    if near is None:
        return None
    box = (_pad_to if fill == "pad" else _cut_of)(near[0], wanted, shown)
    return sizes.target(near[0], max(box.width, box.height))


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
