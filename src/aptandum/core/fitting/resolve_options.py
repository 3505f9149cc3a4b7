"""Resolving how a file is written beyond its format: quality, chroma, compression, colours, metadata."""

from __future__ import annotations

from dataclasses import replace
from math import ceil, floor

from aptandum.core.brief.binding import (
    BITS,
    CHANNELS,
    CHROMA,
    COLOURS,
    DEPTH,
    LOCATION,
    PACKING,
    QUALITY,
    RATIO,
    Bind,
    Told,
)
from aptandum.core.brief.limit import Limit, some_of
from aptandum.core.brief.model import Brief
from aptandum.core.brief.registry import binds_of
from aptandum.core.fitting.plan import FileStation
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.metadata_groups import GROUPS

OPTIONS = (CHROMA, COLOURS, DEPTH, PACKING, QUALITY, RATIO)
"""What is decided here of how a file is written."""

_PALETTE = ("png", "gif")
_TIFF_PACKINGS = ("deflate", "lzw", "none")
_CHROMAS = ("4:4:4", "4:2:2", "4:2:0")
"""How finely a JPEG can keep colour here, the finest first."""


def with_options(file: FileStation, brief: Brief | None, settings: Settings) -> FileStation:
    """A file station that follows the rules on quality, chroma, compression and colours, where a
    person has not set them."""
    if brief is None:
        return file
    if file.format == "jpeg":
        file = _jpeg(file, brief, settings)
    if file.format in ("webp", "avif") and settings.file.lossless is None:
        packing = brief.bound(PACKING, None)
        if packing is not None and not some_of(packing, ("lossy",)):
            file = replace(file, lossless=some_of(packing, ("lossless",)), quality=None)
    if file.format == "tiff" and file.compression is None:
        packing = brief.bound(PACKING, None)
        if packing is not None:
            found = (kind for kind in _TIFF_PACKINGS if some_of(packing, (kind, "lossless")))
            file = replace(file, compression=next(found, None))
    if file.format in (*_PALETTE, "bmp", "tiff") and file.colours is None:
        file = replace(file, most_colours=_most_colours(brief, file.format))
    if file.format in ("png", "bmp"):
        file = replace(file, stored=stored_bits(brief))
    return file


def _jpeg(file: FileStation, brief: Brief, settings: Settings) -> FileStation:
    chroma = brief.bound(CHROMA, None)
    if chroma is not None and settings.file.subsampling is None:
        allowed = (one for one in _CHROMAS if chroma.allows(one))
        file = replace(file, subsampling=next(allowed, None))
    quality = brief.bound(QUALITY, None)
    if quality is None or file.quality is not None:
        return file
    low, high = quality.at_least, quality.at_most
    if quality.one_of:
        low = high = max(quality.one_of)
    return replace(
        file,
        floor=min(max(file.floor, int(low or 1)), int(high or 100)),  # no more than may be
        ceiling=min(file.ceiling, int(high or 100)),
        lowest=int(low or 1),
    )


def _most_colours(brief: Brief, format_: str) -> int | None:
    """The largest palette that is allowed; ``None`` where none is asked for."""
    most = None
    limit = brief.bound(COLOURS, None)
    if limit is not None:
        most = max(limit.one_of) if limit.one_of else limit.at_most
    stored = stored_bits(brief) if format_ != "tiff" else ()  # a TIFF gets no palette
    few = [bits for bits in stored if bits <= 8]
    if few and not any(bits >= 24 for bits in stored):
        most = min(most, 1 << max(few)) if most is not None else 1 << max(few)
    return int(most) if most is not None and 2 <= most <= 256 else None


_STORED = (1, 2, 4, 8, 16, 24, 32, 48, 64)
"""Bits that a stored pixel can have."""


def stored_bits(brief: Brief) -> tuple[int, ...]:
    """The bits that a stored pixel may have, where a rule asks for a number of them, or for 2 or 4 in a grey; empty: any."""
    depth = brief.bound(DEPTH, None)
    if depth is not None:
        return tuple(bits for bits in _STORED if depth.allows(bits))
    each, channels = brief.bound(BITS, None), brief.wanted(CHANNELS)
    grey = channels is not None and channels.one_of == ("grey",)
    if each is None or not grey or any(each.allows(bits) for bits in (1, 8, 16)):
        return ()
    return tuple(bits for bits in (2, 4) if each.allows(bits))


def with_ratio(
    file: FileStation, brief: Brief | None, output: tuple[int, int], bits_per_pixel: int
) -> FileStation:
    """A file station whose byte limits also keep how far the pixels may be, or must be, compressed."""
    limit = brief.bound(RATIO) if brief is not None else None
    if limit is None:
        return file
    bare = output[0] * output[1] * bits_per_pixel / 8
    low, high = limit.at_least, limit.at_most
    if limit.one_of:
        low = high = limit.one_of[0]
    at_most, at_least = file.at_most, file.at_least
    if low:
        most = floor(bare / low)
        at_most = most if at_most is None else min(at_most, most)
    if high:
        least = ceil(bare / high)
        at_least = least if at_least is None else max(at_least, least)
    return replace(file, at_most=at_most, at_least=at_least)


def told_by(brief: Brief | None, settings: Settings) -> dict[str, str | None]:
    """What becomes of each group of the metadata: what a person wishes, then what a rule asks, then
    what a recommendation does; ``None``: as always."""
    wishes: dict[str, str | None] = dict(settings.file.metadata)
    if brief is None:
        return wishes
    asked: dict[str, str] = {}
    for strength in ("should", "must"):
        for clause, limit in brief.limits():
            bind = binds_of(clause.measure)
            if clause.strength == strength:
                asked |= dict(_asked(bind, limit))
    for group, wish in asked.items():
        wishes[group] = wishes.get(group) or wish
    return wishes


def _asked(bind: Bind | None, limit: Limit) -> list[tuple[str, str]]:
    if bind == LOCATION:  # told where it is asked for; else it is left out as always
        return [("location", "keep")] if not limit.allows("none") else []
    if not isinstance(bind, Told):
        return []
    wish = "keep"
    if some_of(limit, ("none",)):
        if some_of(limit, ("present", "kept")):
            return []
        wish = "drop"
    return [(group.name, wish) for group in GROUPS if bind.group in ("", group.name)]
