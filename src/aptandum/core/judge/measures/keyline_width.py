"""How wide the keyline is that the picture carries just inside its edge."""

from __future__ import annotations

from dataclasses import replace
from math import ceil, floor
from typing import Any

from aptandum.core.brief.limit import Limit
from aptandum.core.figures import show_pixels
from aptandum.core.judge import edge_line
from aptandum.core.judge.measure import NEEDS_PIXELS, CannotMeasure, Measure, Mend, Miss
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.judge.reading import Reading
from aptandum.core.later import np
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.picture import Picture, Rim
from aptandum.core.quantity import PIXELS, SHARE, Kind
from aptandum.core.words import say

_LEAST = 0.35  # steps of 255 below which a change is rounding


def _take(reading: Reading) -> int:
    look = reading.look()
    if look.rim is not None and look.rim.depth > 1:
        return _against(look, look.rim)
    if "edge line" not in look.told:
        try:
            look.told["edge line"] = _by_itself(look.native())
        except PhotoError as error:
            raise CannotMeasure(str(error)) from None
        except CannotMeasure as error:
            look.told["edge line"] = error
    found = look.told["edge line"]
    if isinstance(found, CannotMeasure):
        raise found
    return int(found)


def _rings(pixels: Any, depth: int) -> list[Any]:
    """The pixels of each ring from the edge inwards, shape (n, bands)."""
    high, wide = pixels.shape[:2]
    found = []
    for k in range(min(depth, (min(high, wide) - 1) // 2)):
        part = pixels[k : high - k, k : wide - k]
        found.append(np.concatenate([part[0], part[-1], part[1:-1, 0], part[1:-1, -1]]))
    return found


def _against(look: PixelStatistics, rim: Rim) -> int:
    """How many rings of the file differ from the picture as it was without the line, by more
    than the coding makes all of it differ."""
    pixels = look.picture.pixels
    high, wide = pixels.shape[:2]
    before = np.zeros((high, wide, rim.top.shape[2]), np.float32)
    before[:, : rim.depth], before[:, wide - rim.depth :] = rim.left, rim.right
    before[: rim.depth], before[high - rim.depth :] = rim.top, rim.bottom
    bands = min(before.shape[2], pixels.shape[2])
    now, then = pixels[..., :bands].astype(np.float32), before[..., :bands]
    scale = 255 / look.picture.top
    then_scale = 255 / (65535 if rim.top.dtype == np.uint16 else 255)
    off = [
        _moved(a * scale, b * then_scale)
        for a, b in zip(_rings(now, rim.depth), _rings(then, rim.depth), strict=True)
    ]
    if len(off) < 3:
        return len([v for v in off if v > _LEAST])
    quiet = float(np.median(off[-4:]))  # the innermost rings are beyond the line
    bar = max(_LEAST, 3 * quiet, 0.55 * off[0])
    width = 0
    while width < len(off) and off[width] > bar:
        width += 1
    return width


def _moved(now: Any, before: Any) -> float:
    """By how much a ring was drawn towards one colour, in steps of 255: a line blends all of it
    alike, so the change is a straight line over what was there, while coding scatters about it."""
    over = np.column_stack([np.ones(len(before)), before])
    change, *_ = np.linalg.lstsq(over, now - before, rcond=None)
    return float(np.sqrt(((over @ change) ** 2).sum(axis=1).mean()))


def _by_itself(picture: Picture) -> int:
    """The width of the line in a file of which nothing is known.

    Raises:
        CannotMeasure: there may be one that cannot be told from the picture.
    """
    found = edge_line.find(picture)
    if found.width is None:
        raise CannotMeasure(
            say(
                "There may be a line about {n} wide that is too faint to be told from the picture.",
                n=show_pixels(found.about),
            )
        )
    return found.width


def _mend(miss: Miss) -> Mend:
    wanted = int(miss.limit.nearest(miss.value))
    if not miss.brief.permits("keyline") and wanted:
        return Mend(say("The brief asks for a keyline and does not permit one"))
    words = say("Make the keyline {n} wide", n=show_pixels(wanted))
    if not wanted:
        words = say("Remove the keyline")
    return Mend(words, {"finish.keyline.width": str(wanted)})


def _share(reading: Reading) -> LineShare:
    return LineShare(_take(reading), min(reading.facts.size))


class LineShare(float):
    """A width over the shortest side, which remembers both in pixels.

    Attributes:
        width, side: in pixels.
    """

    width: int
    side: int

    def __new__(cls, width: int, side: int) -> LineShare:
        made = super().__new__(cls, width / side)
        made.width, made.side = width, side
        return made


def _allows_share(limit: Limit, value: LineShare) -> bool:
    """A named share is met to the nearest pixel, a bound by whole pixels inside it."""
    if limit.one_of:
        return any(abs(value.width - one * value.side) <= 0.5 for one in limit.one_of)
    low, high = limit.at_least, limit.at_most
    return (low is None or value.width >= low * value.side - 1e-6) and (
        high is None or value.width <= high * value.side + 1e-6
    )


def _outside_share(limit: Limit, value: LineShare, kind: Kind) -> str:
    off = float(value) - float(limit.nearest(value))
    pixels = max(1, round(abs(off) * value.side))
    n = show_pixels(pixels)
    return say("{n} too wide", n=n) if off > 0 else say("{n} too narrow", n=n)


def _mend_share(miss: Miss) -> Mend:
    side = miss.value.side
    limit = miss.limit
    wanted = round(float(limit.nearest(miss.value)) * side)
    if not limit.one_of:
        low = ceil((limit.at_least or 0) * side - 1e-6)
        high = floor(limit.at_most * side + 1e-6) if limit.at_most is not None else wanted
        wanted = min(max(wanted, low), max(low, high))
    return _mend(replace(miss, limit=Limit(("exactly",), one_of=(wanted,)), value=miss.value.width))


WIDTH = Measure(
    "keyline_width",
    say("Keyline width"),
    "finish",
    PIXELS,
    say(
        "Width of the line just inside the edge, 0 for none. In a file made here: how many rings of "
        "pixels differ from the picture without the line by more than the coding explains. In any "
        "other: where a ring differs from the next on three sides or all four, as nothing else does."
    ),
    _take,
    mend=_mend,
    station="finish",
    needs=NEEDS_PIXELS,
    finish="keyline",
    seen=("projection",),
)

SHARE_OF_SIDE = Measure(
    "keyline_share",
    say("Keyline, share of the side"),
    "finish",
    SHARE,
    say("The width of the keyline over the picture's shortest side, to the nearest pixel."),
    _share,
    _allows_share,
    _mend_share,
    station="finish",
    outside=_outside_share,
    needs=NEEDS_PIXELS,
    finish="keyline",
)

MEASURES = (WIDTH, SHARE_OF_SIDE)
