"""Resolving colour: the space written, bits, and how pixels mix."""

from __future__ import annotations

from aptandum.core.brief.binding import (
    BITS,
    BYTES,
    CHANNELS,
    COLOURS,
    DEPTH,
    SPACE,
)
from aptandum.core.brief.model import Brief
from aptandum.core.fitting.plan import ColourStation
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo import profile
from aptandum.core.photo.engine import INKS
from aptandum.core.photo.facts import FORMAT_NAMES, Facts
from aptandum.core.photo.profile import SHIPPED, SPACE_NAMES, Space
from aptandum.core.words import listed, say

HOLDS_16_BIT = ("png", "tiff")
"""Formats of :data:`WRITABLE` that hold 16 bit."""


HOLDS_DOTS = ("png", "gif", "bmp", "tiff")
"""Formats of :data:`WRITABLE` that hold one bit."""


def inks_taken_as() -> str:
    """What is said of inks whose profile nobody names."""
    return say(
        "The photo names no profile for its inks: they are taken as those of “{name}”, and other inks have other colours.",
        name=INKS,
    )


def _not_converted(taken: Space) -> str:
    return say(
        "The photo’s colours are in a space that cannot be converted, such as one for HDR screens: they are taken as {space} and may look different.",
        space=SPACE_NAMES[taken],
    )


def resolve_colour(
    facts: Facts, brief: Brief | None, settings: Settings, format_: str, notes: list[str]
) -> ColourStation:
    """Settle the colour station: the space, depth and intent of the finished file."""
    grey_in = facts.mode in ("grey", "mono")
    known = facts.profile
    usable = known is not None and known.broken is None
    assumed = not usable and facts.colour_space in (None, "untagged", "grey")
    source: Space = facts.colour_space or "untagged"
    if facts.unknown_space:
        assumed, source = True, facts.taken_as
        notes.append(_not_converted(source))
    elif assumed:
        source = facts.taken_as
        if facts.hint is not None and known is None and not grey_in:
            notes.append(
                say(
                    "The photo has no profile; its camera says {space}, and so it is taken.",
                    space=SPACE_NAMES[source],
                )
            )
    if facts.mode == "cmyk" and known is None:
        notes.append(inks_taken_as())
    if known is not None and known.broken:
        notes.append(
            say(
                "The embedded profile cannot be used ({why}); the colours are taken as {space}.",
                why=known.broken,
                space=SPACE_NAMES[source],
            )
        )
    target = settings.colour.space or _asked_space(facts, brief, source, notes)
    icc = facts.icc_bytes if target == "other" else profile.shipped(target)
    bits = settings.colour.bits or _asked_bits(facts, brief, settings, format_)
    if bits == 16 and format_ not in HOLDS_16_BIT:
        bits = 8
    wish = settings.colour
    dots = None
    if bits == 1 and format_ not in HOLDS_DOTS:
        notes.append(say("{format} holds no single bits.", format=FORMAT_NAMES[format_]))
        bits = 8
    if bits == 1:
        target, icc, dots = "grey", profile.shipped("grey"), wish
    light = (wish.resampling or "light") == "light"
    return ColourStation(
        source,
        target,
        icc,
        bits,
        wish.intent,
        assumed,
        light and facts.mode != "cmyk",
        wish.mix,
        dots,
        wish.exposure,
        wish.warmth if target != "grey" else 0.0,
    )


def _asked_space(facts: Facts, brief: Brief | None, source: Space, notes: list[str]) -> Space:
    channels = brief.wanted(CHANNELS) if brief else None
    if channels is not None and channels.one_of and not channels.allows("colour"):
        return "grey"
    limit = brief.bound(SPACE, None) if brief else None
    grey_ok = channels is None or channels.allows("grey")
    if limit is None:
        if source == "grey" and grey_ok and not _in_three(brief):
            return "grey"
        if source in SHIPPED and source != "grey":
            return source
        return "other" if source == "other" and facts.icc_bytes and grey_ok else "srgb"
    if source in SHIPPED and limit.allows(source):
        return source
    choice: Space | None = next((space for space in SHIPPED if limit.allows(space)), None)
    if choice is None:
        notes.append(
            say(
                "The brief asks for {spaces}, which cannot be written yet.",
                spaces=listed([SPACE_NAMES[s] for s in limit.one_of]),
            )
        )
        return "srgb"
    return choice


def _in_three(brief: Brief | None) -> bool:
    """Whether a rule on the bits of a stored pixel wants three channels: 24, 32 or 48, and none that a grey has."""
    depth = brief.bound(DEPTH, None) if brief else None
    return (
        depth is not None
        and any(map(depth.allows, (24, 32, 48)))
        and not any(map(depth.allows, (8, 16)))
    )


def _asked_bits(facts: Facts, brief: Brief | None, settings: Settings, format_: str) -> int:
    limit = brief.bound(BITS, None) if brief else None
    channels = brief.wanted(CHANNELS) if brief else None
    if channels is not None and channels.one_of and set(channels.one_of) == {"mono"}:
        return 1
    size = brief.bound(BYTES, None) if brief else None
    colours = brief.bound(COLOURS, None) if brief else None
    few = colours is not None and (colours.at_most is not None or bool(colours.one_of))
    counted = (size is not None and size.at_most is not None) or settings.file.at_most is not None
    # What comes with 16 bit keeps them, unless they would cost bytes that are counted, or few colours are asked.
    deep = (facts.bits or 8) > 8 and not counted and not few
    order = (16, 8, 1) if deep else (8, 16, 1)
    if limit is not None:
        for bits in order:
            if limit.allows(bits):
                return bits
    depth = brief.bound(DEPTH, None) if brief else None
    if depth is not None and limit is None:
        for bits in order:
            if bits > 1 and any(depth.allows(bits * n) for n in (3, 4, 1)):
                return bits
        index = format_ == "png" and any(map(depth.allows, (2, 4)))  # of a palette, or as greys
        return 1 if depth.allows(1) and not index else 8
    return 16 if deep else 8
