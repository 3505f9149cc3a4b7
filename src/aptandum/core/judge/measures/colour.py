"""Colour space, embedded profile, channels, bits and transparency."""

from __future__ import annotations

from aptandum.core.brief import binding
from aptandum.core.judge.measure import CannotMeasure, Measure, Mend, Miss, Need
from aptandum.core.judge.pixel_statistics import NoPixels, PixelStatistics
from aptandum.core.judge.reading import Reading
from aptandum.core.later import np
from aptandum.core.photo.facts import FORMAT_NAMES
from aptandum.core.photo.profile import SPACE_NAMES, SPACES
from aptandum.core.quantity import COUNT, words
from aptandum.core.words import listed, say

_BARE = ("bmp", "gif")
"""Formats that carry no profile where they are written here."""


def _space(reading: Reading) -> str:
    if reading.facts.colour_space is None:
        raise CannotMeasure(say("The file's colour could not be read."))
    return reading.facts.colour_space


def _mend_space(miss: Miss) -> Mend:
    if miss.reading.facts.format in _BARE:
        name = FORMAT_NAMES[miss.reading.facts.format]
        return Mend(
            say("Write it as PNG: {format} cannot carry a profile", format=name),
            {"file.format": "png", "colour.space": None},
        )
    wanted = [SPACE_NAMES[space] for space in miss.limit.one_of] or [SPACE_NAMES["srgb"]]
    if miss.value == "untagged":
        text = say("Take it as sRGB and embed {space}", space=listed(wanted))
    else:
        text = say("Convert to {space}", space=listed(wanted))
    return Mend(text, {"colour.space": None})


def _profile(reading: Reading) -> str:
    known = reading.facts.profile
    return "embedded" if known is not None and known.broken is None else "none"


def _channels(reading: Reading) -> str:
    if reading.facts.mode is None:
        raise CannotMeasure(say("The file's channels could not be read."))
    if reading.facts.mode in ("grey", "mono"):
        return str(reading.facts.mode)
    try:
        look = reading.look()
    except NoPixels:
        return "colour"
    if "channels" not in look.told:
        look.told["channels"] = "colour" if _coloured(look) else "grey"
    return str(look.told["channels"])


def _coloured(look: PixelStatistics) -> bool:
    """Whether a picture with three channels is in colour at all: more than one pixel in a
    thousand has a chroma (CIELAB) that is more than coding makes of a grey."""
    chroma = np.hypot(look.lab[..., 1], look.lab[..., 2])[look.opaque]
    return bool(chroma.size) and float((chroma > 4).mean()) > 0.001


def _bits(reading: Reading) -> int:
    if reading.facts.bits is None:
        raise CannotMeasure(say("The file's bit depth could not be read."))
    if reading.facts.mode == "palette" and reading.facts.bits > 1:
        return 8  # its index may have fewer: its colours have as many
    return reading.facts.bits


def _transparency(reading: Reading) -> str:
    return "present" if reading.transparent else "none"


def _mend_transparency(miss: Miss) -> Mend | None:
    if miss.value == "present":
        return Mend(say("Lay it on a plain colour"), {"finish.ground": "#FFFFFF"})
    if not miss.brief.permits("clear"):
        return Mend(say("Begin from a picture that is transparent in parts"))
    return Mend(say("Make a colour or all behind the subject transparent: Finish, Transparent"))


MEASURES = (
    Measure(
        "colour_space",
        say("Colour space"),
        "colour",
        words(*SPACES, shown=SPACE_NAMES),
        say("Told by the embedded profile's primaries and curve, whatever its name says."),
        _space,
        mend=_mend_space,
        station="colour",
        binds=binding.SPACE,
        seen=("projection",),
    ),
    Measure(
        "profile",
        say("Profile"),
        "colour",
        words("embedded", "none"),
        say("Whether a colour profile that can be used is embedded in the file."),
        _profile,
        station="colour",
        binds=binding.PROFILE,
        mend=lambda miss: Mend(say("Embed the profile"), {"colour.space": None}),
    ),
    Measure(
        "channels",
        say("Channels"),
        "colour",
        words("colour", "grey", "mono"),
        say(
            "Colour, grey, or mono: one bit, black or white. A file with three channels counts as "
            "grey where no pixel in a thousand has a chroma above 4."
        ),
        _channels,
        station="colour",
        needs=frozenset({Need.GLANCE}),
        binds=binding.CHANNELS,
        seen=("panel",),
        mend=lambda miss: Mend(
            say("Convert to {what}", what=listed(list(miss.limit.one_of))), {"colour.space": None}
        ),
    ),
    Measure(
        "bits",
        say("Bits"),
        "colour",
        COUNT,
        say("Bits of each channel of a pixel."),
        _bits,
        station="colour",
        binds=binding.BITS,
        seen=("panel", "print"),
        mend=lambda miss: Mend(
            say("Write {n} bits", n=miss.limit.nearest(miss.value)), {"colour.bits": None}
        ),
    ),
    Measure(
        "transparency",
        say("Transparency"),
        "colour",
        words("present", "none"),
        say("Present where any pixel is less than opaque; a channel that hides nothing is none."),
        _transparency,
        mend=_mend_transparency,
        station="finish",
        binds=binding.TRANSPARENCY,
        seen=("corner",),
        finish="clear",
    ),
)
