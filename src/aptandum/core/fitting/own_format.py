"""When a format has no room for a photo: a lossless one keeps every pixel, and of a photo within few bytes it would have to
give up colours or pixels, which a lossy one need not. The photo's own gives way then, and so does one only wished for."""

from __future__ import annotations

from math import sqrt

from aptandum.core.brief.binding import BITS, COLOURS, DEPTH, FORMAT, TRANSPARENCY
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief
from aptandum.core.figures import show_bytes
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.facts import FORMAT_NAMES, Facts
from aptandum.core.words import listed, say

LOSSLESS = ("png", "tiff", "bmp")
_INSTEAD = ("jpeg", "webp", "avif")
_SEEN_THROUGH = ("webp", "avif")
"""Of these, what holds an opacity."""
_HOLD_CLEAR = ("png", "tiff", "webp", "avif", "gif")
_FLAT = 0.5
"""Bytes for each pixel of 8 bit below which a PNG is no photo, but drawn in flat colours: fewer colours or another filter
lose little of it. Photos have about 1 to 2."""
_PACKED = 0.6
"""The share of its bare pixels that a photo comes to in deflate."""
_OF_LOSSY = 2.4
"""A photo that came in b bytes a pixel by a lossy format comes to about this times the root of b as PNG: measured on
renders of 0.08 to 0.76 bytes, 0.63 to 2.04 against 0.68 to 2.09."""


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
    if brief is None or facts.format not in LOSSLESS:
        return None
    if not _open_to_others(facts, brief, settings) or _has_room(facts, output, at_most):
        return None
    limit = brief.bound(FORMAT, "must")
    if _clear(facts, brief, settings):
        named = () if limit is None else limit.one_of
        return next((f for f in _SEEN_THROUGH if f in named), None)
    return next((f for f in _INSTEAD if limit is None or limit.allows(f)), None)


def limit_on_format(
    facts: Facts,
    brief: Brief | None,
    settings: Settings,
    output: tuple[int, int],
    at_most: int | None,
    notes: list[str],
) -> Limit | None:
    """What a brief asks of the format. A format that it only recommends gives way, and a note says so, where a photo would
    lose its colours, its pixels or what is clear in it by that, and need not in another that is allowed.

    Args:
        output: the size that goes out.
        at_most: its limit in bytes.
    """
    limit = brief.bound(FORMAT, None) if brief is not None else None
    if brief is None or limit is None or settings.file.format is not None:
        return limit
    must = brief.bound(FORMAT, "must")
    wished = tuple(f for f in FORMAT_NAMES if limit.allows(f))
    others = [f for f in FORMAT_NAMES if f not in wished and (must is None or must.allows(f))]
    if not others:
        return limit
    names = listed([FORMAT_NAMES[f] for f in wished], "or")
    if _clear(facts, brief, settings):
        if any(f in _HOLD_CLEAR for f in wished) or not any(f in _HOLD_CLEAR for f in others):
            return limit
        notes.append(
            say("{formats} is only recommended, and holds no transparency.", formats=names)
        )
        return must
    if not any(f in _INSTEAD for f in others) or not _open_to_others(facts, brief, settings):
        return limit
    if all(f == "gif" for f in wished) and _bytes_each(facts) is not None:
        notes.append(
            say("{formats} is only recommended, and holds no more than 256 colours.", formats=names)
        )
        return must
    if not all(f in LOSSLESS for f in wished) or _has_room(facts, output, at_most):
        return limit
    assert at_most is not None
    sentence = say(
        "{formats} is only recommended, and within {bytes} this photo would lose pixels or most of its colours in it.",
        formats=names,
        bytes=show_bytes(at_most),
    )
    notes.append(sentence)
    return must


def _open_to_others(facts: Facts, brief: Brief, settings: Settings) -> bool:
    """Whether nothing asked of the picture binds it to a format that keeps every number: many bits, few colours, a
    transparency."""
    if settings.colour.bits not in (None, 8):
        return False
    if facts.mode not in ("rgb", "grey") or (facts.bits or 8) < 8 or (facts.frames or 1) > 1:
        return False
    if any(brief.bound(bind, None) is not None for bind in (COLOURS, DEPTH)):
        return False
    asked = (TRANSPARENCY, "none"), (BITS, 8)
    limits = [(brief.bound(bind, "must"), value) for bind, value in asked]
    return all(limit is None or limit.allows(value) for limit, value in limits)


def _has_room(facts: Facts, output: tuple[int, int], at_most: int | None) -> bool:
    """Whether a photo may stay within its bytes without loss; so may one of which that is not known."""
    each = _bytes_each(facts)
    return at_most is None or each is None or each * output[0] * output[1] <= at_most


def _clear(facts: Facts, brief: Brief, settings: Settings) -> bool:
    """Whether something shines through what goes out, where it may: of the photo's own, or because a person has it so."""
    limit = brief.bound(TRANSPARENCY)
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
    if facts.format not in LOSSLESS:
        return _OF_LOSSY * sqrt(held * 3 / bare) * bare / 3
    if facts.format != "png":
        held = min(held, _PACKED * bare)
    return held if held * 3 / bare >= _FLAT else None
