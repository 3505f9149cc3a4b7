"""What would make a caption read: the least change first. Each is tried before it is offered."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

from aptandum.core.brief.model import Brief
from aptandum.core.judge import legibility
from aptandum.core.judge.legibility import About, Ground, Stroke, grounds_of
from aptandum.core.judge.measure import Mend
from aptandum.core.later import np
from aptandum.core.photo.luminance import rgb
from aptandum.core.photo.picture import Lettering, Picture
from aptandum.core.words import say

if TYPE_CHECKING:
    from numpy.typing import NDArray


def _key(words: Lettering, name: str) -> str:
    """The name of a caption's setting."""
    return f"finish.caption.{words.number}.{name}" if words.number > 1 else f"finish.caption.{name}"


_ROOM = 1.03
"""How much larger than just enough a size is offered, since letters are drawn on whole pixels."""
_FEW = 2
"""Of several ways each that are tried together."""
_STRENGTHS = tuple(range(30, 101, 5))
_INKS = ("#FFFFFF", "#000000")
ANCHORS = {
    "bottom left": say("at the bottom left"),
    "bottom": say("at the bottom"),
    "bottom right": say("at the bottom right"),
    "top left": say("at the top left"),
    "top": say("at the top"),
    "top right": say("at the top right"),
    "left": say("on the left"),
    "right": say("on the right"),
    "middle": say("in the middle"),
}


def mends_of(
    picture: Picture,
    each: tuple[str, Lettering, Stroke, tuple[str, ...]],
    k: float,
    brief: Brief,
) -> Mend | None:
    """What would make words read that do not.

    Args:
        each: why they do not, the words, what was measured of them, and the zones that lie on them.
        k: the size at which they are seen, as a share of the picture's own.
    """
    cause, words, stroke, _zones = each
    if words.made_by is None:
        return None
    found = legibility.about(picture, words.box, words.share) if words.share is not None else None
    grounds = grounds_of(brief, picture.alpha)
    moved = [*_fitted(words), *_elsewhere(words)] if cause == "cut" else _elsewhere(words)
    if cause in ("cut", "covered"):
        smaller = (words.fits or words.made_by.size) / words.made_by.size
        colours = (
            _parted(words, found, grounds, stroke.width * k * smaller) if found is not None else []
        )
        ways = [
            *moved,
            *(_both(move, colour) for move in moved[:_FEW] for colour in colours[:_FEW]),
        ]
    else:
        colours = _parted(words, found, grounds, stroke.width * k) if found is not None else []
        sizes = _larger(words, stroke, k)
        both = [_both(size, colour) for size in sizes for colour in colours]
        ways = [*sizes, *colours, *both] if cause == "small" else [*colours, *sizes, *both]
    if not ways:
        return None
    first, *others = ways
    return Mend(first.words, first.changes, tuple(others))


def _both(one: Mend, other: Mend) -> Mend:
    said = say(
        "{first}, and {then}", first=one.words, then=other.words[:1].lower() + other.words[1:]
    )
    return Mend(said, {**(one.changes or {}), **(other.changes or {})})


def _larger(words: Lettering, stroke: Stroke, k: float) -> list[Mend]:
    """Set larger, as little as is enough for height and strokes."""
    if not stroke.height or not stroke.width or not k:
        return []
    worst = min(1.0, max(stroke.needs.values(), default=1.0))
    times = max(legibility.SMALLEST / (stroke.height * k), worst / (stroke.width * k), 1.0)
    size = math.ceil(words.made_by.size * times * _ROOM * 2) / 2
    if size <= words.made_by.size:
        return []
    return [
        Mend(say("Set the caption at {n} px", n=f"{size:g}"), {_key(words, "size"): f"{size:g}"})
    ]


def _parted(
    words: Lettering, found: About, grounds: tuple[Ground, ...], width: float
) -> list[Mend]:
    """Other letters, or something behind them, of the colours that are enough on every ground; ``width``: of the
    strokes in device pixels."""
    enough = min(1.0, max(width, 0.05))
    made: list[Mend] = []
    now = words.made_by
    for colour in _INKS:
        if colour != now.colour.upper() and _need(found, grounds, colour, None, 0) <= enough:
            said = say("Letters in {colour}", colour=_NAMES[colour])
            made.append(Mend(said, {_key(words, "colour"): colour}))
    for ink in (now.colour.upper(), *_INKS):
        for plate in _INKS:
            strength = next(
                (n for n in _STRENGTHS if _need(found, grounds, ink, plate, n / 100) <= enough),
                None,
            )
            if strength is None:
                continue
            made += [_behind(words, ink, plate, strength, what) for what in ("plate", "outline")]
    return made


_NAMES = {"#FFFFFF": say("white"), "#000000": say("black")}


def _behind(words: Lettering, ink: str, colour: str, strength: int, what: str) -> Mend:
    changes: dict[str, str | None] = {
        _key(words, "behind"): what,
        _key(words, "behind_colour"): colour,
        _key(words, "behind_strength"): str(strength),
    }
    plate = say("A plate behind it, {colour}, {n} % strong", colour=_NAMES[colour], n=strength)
    outline = say("An outline, {colour}, {n} % strong", colour=_NAMES[colour], n=strength)
    said = plate if what == "plate" else outline
    if ink != words.made_by.colour.upper():
        changes[_key(words, "colour")] = ink
        said = say("{behind}, and letters in {colour}", behind=said, colour=_NAMES[ink])
    return Mend(said, changes)


def _need(
    found: About, grounds: tuple[Ground, ...], ink: str, plate: str | None, strength: float
) -> float:
    """What letters of a colour would need on all grounds, with a plate of a strength behind them."""
    near, cover = found.near, found.near_cover
    if plate is not None:
        full: NDArray[Any] = strength + cover * (1 - strength)
        mixed = np.array(rgb(plate), np.float64) * strength + near * cover * (1 - strength)
        near, cover = mixed / np.maximum(full, 1e-6), full
    letters = np.array([rgb(ink)], np.float64)
    seen = About(letters, np.ones((1, 1)), near, cover)
    return max(seen.need(ground) for ground in grounds)


def _elsewhere(words: Lettering) -> list[Mend]:
    return [
        Mend(say("Set the caption {place}", place=place), {_key(words, "anchor"): anchor})
        for anchor, place in ANCHORS.items()
        if anchor != words.made_by.anchor
    ]


def _fitted(words: Lettering) -> list[Mend]:
    """Set smaller, so that all of it stands in the picture."""
    size = words.fits
    if size is None or size >= words.made_by.size:
        return []
    return [Mend(say("Set the caption at {n} px, so that all of it has room", n=f"{size:g}"),
                 {_key(words, "size"): f"{size:g}"})]  # fmt: skip
