"""What a format cannot carry of what is asked of a file, said before anything is made."""

from __future__ import annotations

from collections.abc import Iterator

from aptandum.core.brief.binding import SPACE
from aptandum.core.brief.model import Brief
from aptandum.core.fitting.plan import THREE_CHANNELS, ColourStation, FileStation
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.facts import FORMAT_NAMES, Facts
from aptandum.core.photo.profile import SPACE_NAMES
from aptandum.core.words import say

NO_PROFILE = ("gif", "bmp")
NO_DENSITY = ("gif",)
NO_METADATA = ("gif", "bmp")
EIGHT_BITS = ("jpeg", "webp", "avif", "gif", "bmp")
NO_TRANSPARENCY = ("jpeg", "bmp")


def not_carried(
    facts: Facts, brief: Brief | None, settings: Settings, colour: ColourStation, file: FileStation
) -> Iterator[str]:
    """A sentence for each thing that is asked for, or that the photo has, and that the file's format has no room for."""
    format_, name = file.format, FORMAT_NAMES[file.format]
    space = SPACE_NAMES[colour.target]
    if format_ in NO_PROFILE and colour.bits > 1:
        limit = brief.bound(SPACE, None) if brief else None
        if limit is not None and not limit.allows("untagged") and not limit.allows("grey"):
            yield say(
                "{format} carries no profile, so the file cannot say that its colours are {space}, as the brief asks.",
                format=name,
                space=space,
            )
        elif colour.target not in ("srgb", "grey"):
            yield say(
                "{format} carries no profile: most programs will take these {space} numbers as sRGB.",
                format=name,
                space=space,
            )
    if format_ in THREE_CHANNELS and colour.target == "grey":
        yield say("{format} stores grey as three equal channels in sRGB.", format=name)
    if format_ in NO_DENSITY and settings.file.ppi is not None:
        yield say("{format} does not state pixels per inch.", format=name)
    if format_ in EIGHT_BITS and settings.colour.bits == 16:
        yield say("{format} holds 8 bits for each channel, and not 16.", format=name)
    set_ = [wish for wish in file.metadata.values() if wish is not None and wish != "drop"]
    if format_ in NO_METADATA and set_:
        yield say("{format} carries no credit, caption or other metadata.", format=name)
