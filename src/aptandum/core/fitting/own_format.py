"""When a photo's own format has no room for it: a lossless one keeps every pixel, and of a photo within few bytes it would
have to give up colours or pixels, which a lossy one need not."""

from __future__ import annotations

from aptandum.core.brief.binding import COLOURS, DEPTH, FORMAT, TRANSPARENCY
from aptandum.core.brief.model import Brief
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.facts import Facts

LOSSLESS = ("png", "tiff", "bmp")
_INSTEAD = ("jpeg", "webp", "avif")
_SEEN_THROUGH = ("webp", "avif")
"""Of these, what holds an opacity."""
_FLAT = 0.5
"""Bytes for each pixel of 8 bit below which a PNG is no photo, but drawn in flat colours: fewer colours or another filter
lose little of it. Photos have about 1 to 2."""
_PACKED = 0.6
"""The share of its bare pixels that a photo comes to in deflate."""


def roomier(
    facts: Facts,
    brief: Brief | None,
    settings: Settings,
    output: tuple[int, int],
    at_most: int | None,
) -> str | None:
    """The format to write instead of a lossless one of the photo's own that cannot hold it; ``None`` where that may do, or
    where what is asked for can be held by no other. A picture that is seen through goes into another that a rule names.

    Args:
        output: the size that goes out.
        at_most: its limit in bytes.
    """
    if brief is None or at_most is None or facts.format not in LOSSLESS:
        return None
    if settings.colour.bits not in (None, 8):
        return None
    if facts.mode not in ("rgb", "grey") or (facts.bits or 8) < 8 or (facts.frames or 1) > 1:
        return None
    limits = brief.bound(FORMAT, None), brief.bound(TRANSPARENCY, None)
    if any(brief.bound(bind, None) is not None for bind in (COLOURS, DEPTH)):
        return None
    if limits[1] is not None and not limits[1].allows("none"):
        return None
    each = _bytes_each(facts)
    if each is None or each * output[0] * output[1] <= at_most:
        return None
    if _clear(facts, brief, settings):
        named = () if limits[0] is None else limits[0].one_of
        return next((f for f in _SEEN_THROUGH if f in named), None)
    return next((f for f in _INSTEAD if limits[0] is None or limits[0].allows(f)), None)


def _clear(facts: Facts, brief: Brief, settings: Settings) -> bool:
    """Whether something shines through what goes out, where it may: of the photo's own, or because a person has it so."""
    limit = brief.bound(TRANSPARENCY, None)
    if limit is not None and not limit.allows("present"):
        return False
    fills = settings.finish.panels.fills if brief.template is not None else ()
    filled = any(fill.kind != "own" for fill in fills)
    freed = settings.finish.clear.by is not None or settings.frame.ground == "clear"
    return facts.seen_through or freed or filled


def _bytes_each(facts: Facts) -> float | None:
    """Bytes that a pixel of the photo comes to without loss, at 8 bit a channel; ``None``: it is no photo, or not known."""
    if not facts.bytes or not facts.width or not facts.height:
        return None
    bare = 1 if facts.mode == "grey" else 3
    held = facts.bytes / (facts.width * facts.height) / ((facts.bits or 8) / 8)
    if facts.format != "png":
        held = min(held, _PACKED * bare)
    return held if held * 3 / bare >= _FLAT else None
