"""How a file is packed, how finely, in how many colours, and how long it runs."""

from collections.abc import Callable
from fractions import Fraction
from typing import Any

from aptandum.core.brief import binding
from aptandum.core.brief.limit import some_of
from aptandum.core.figures import show_number
from aptandum.core.judge.measure import (
    CannotMeasure,
    DoesNotApply,
    Measure,
    Mend,
    Miss,
    Need,
)
from aptandum.core.judge.reading import Reading
from aptandum.core.numbers import QuantityError, Side, with_unit
from aptandum.core.photo.inside import PACKINGS, Inside
from aptandum.core.quantity import COUNT, NUMBER, Kind, parse_number, words
from aptandum.core.words import listed, say

_INSIDE = frozenset({Need.INSIDE})

PACKED = {
    "none": say("none"),
    "lzw": "LZW",
    "deflate": "Deflate",
    "packbits": "PackBits",
    "fax": say("fax"),
    "jpeg": "JPEG",
    "lossless": say("one that loses nothing"),
    "lossy": say("one that loses something"),
}
"""Kinds of compression as the interface says them."""


def _of(take: Callable[[Inside], Any]) -> Callable[[Reading], Any]:
    return lambda reading: take(reading.inside())


_WORD = words(*PACKINGS, shown=PACKED)


def _show_packing(value: Any) -> str:
    return _WORD.show(value[0] if isinstance(value, tuple) else value)


_PACKING = Kind("word", _WORD.parse, _show_packing, False, PACKINGS, example="none, lzw")


def _quality(reading: Reading) -> int:
    if reading.facts.format != "jpeg":
        raise DoesNotApply(say("Only a JPEG is written at a quality that can be read from it."))
    return reading.inside().quality


def _ratio(reading: Reading) -> float:
    """Bare pixels over the file's bytes."""
    size = reading.facts.bytes
    if not size:
        raise CannotMeasure(say("The file has not been made yet."))
    wide, high = reading.facts.size
    bare = wide * high * reading.inside().bits_per_pixel / 8
    return round(bare / size, 3)


def _moving(take: Callable[[Inside], Any]) -> Callable[[Reading], Any]:
    def of(reading: Reading) -> Any:
        if (reading.facts.frames or 1) < 2:
            raise DoesNotApply(say("It is a still picture."))
        return take(reading.inside())

    return of


def _rate(inside: Inside) -> float:
    if not inside.seconds:
        raise CannotMeasure(say("The file does not tell how long a frame is shown."))
    return round(inside.frames / inside.seconds, 2)


_TIMES = {"s": Fraction(1), "sec": Fraction(1), "seconds": Fraction(1), "ms": Fraction(1, 1000)}


def _parse_seconds(value: object, side: Side = "exact") -> float:
    exact = with_unit(value, _TIMES, bare=True)
    if exact is None or exact < 0:
        raise QuantityError(say('a time such as "2 s"'))
    return float(exact)


def _parse_rate(value: object, side: Side = "exact") -> float:
    text = value
    if isinstance(value, str):
        text = value.lower().replace("per second", "").replace("/s", "").replace("fps", "").strip()
    return parse_number(text, side)


SECONDS = Kind(
    "seconds", _parse_seconds, lambda v: say("{n} s", n=show_number(v, 2)), example="2 s"
)
RATE = Kind(
    "rate",
    _parse_rate,
    lambda v: say("{n} a second", n=show_number(v, 2)),
    example="12 per second",
)
RATIO = Kind("ratio", NUMBER.parse, lambda v: say("{n} to 1", n=show_number(v, 1)), example="10")


def _mend_packing(miss: Miss) -> Mend:
    wanted = [PACKED[word] for word in miss.limit.one_of]
    if not wanted:
        return Mend(say("Write it with another compression"), {"file.compression": None})
    return Mend(
        say("Write it with this compression: {what}", what=listed(wanted)),
        {"file.compression": None},
    )


def _mend_quality(miss: Miss) -> Mend:
    low = miss.limit.nearest(miss.value) > miss.value
    if miss.reading.origin == "supplied" and low:
        return Mend(
            say("What a low quality has taken does not come back: begin from a better file")
        )
    return Mend(say("Write it at the quality asked"), {"file.quality": None})


MEASURES = (
    Measure(
        "packing",
        say("Kind of compression"),
        "file",
        _PACKING,
        say(
            "How the pixels are compressed: none, LZW, Deflate, PackBits, fax, JPEG; or whether that "
            "loses anything."
        ),
        _of(lambda inside: inside.packing),
        some_of,
        _mend_packing,
        station="file",
        binds=binding.PACKING,
        needs=_INSIDE,
    ),
    Measure(
        "quality",
        say("JPEG quality"),
        "file",
        COUNT,
        say(
            "Told by the table by which a JPEG rounds brightness, on the common scale of 1 to 100. "
            "Programs whose scale is another one come nearest to it."
        ),
        _quality,
        mend=_mend_quality,
        station="file",
        binds=binding.QUALITY,
        needs=_INSIDE,
        estimate="bytes",
    ),
    Measure(
        "chroma",
        say("Chroma"),
        "file",
        words("4:4:4", "4:2:2", "4:2:0", "4:4:0", "4:1:1", "4:1:0", shown={}),
        say("How finely colour is kept beside brightness: 4:4:4 as finely, 4:2:0 half as finely."),
        _of(lambda inside: inside.chroma),
        mend=lambda miss: Mend(
            say("Write it at {what}", what=listed(list(miss.limit.one_of) or ["4:4:4"])),
            {"file.subsampling": None},
        ),
        station="file",
        binds=binding.CHROMA,
        needs=_INSIDE,
    ),
    Measure(
        "compression",
        say("Compression"),
        "file",
        RATIO,
        say("The bytes of the bare pixels over those of the file: 10 is a tenth of the bytes."),
        _ratio,
        mend=lambda miss: Mend(
            say("Find a quality at which it is compressed so much"), {"file.quality": None}
        ),
        station="file",
        binds=binding.RATIO,
        needs=_INSIDE,
        estimate="bytes",
    ),
    Measure(
        "bits_per_pixel",
        say("Bits per pixel"),
        "colour",
        COUNT,
        say(
            "Bits of a stored pixel with all its channels: 24 for colour, 8 for grey or a palette."
        ),
        _of(lambda inside: inside.bits_per_pixel),
        station="colour",
        binds=binding.DEPTH,
        needs=_INSIDE,
        mend=lambda miss: Mend(
            say("Write it with {n} bits for each pixel", n=miss.limit.nearest(miss.value)),
            {"file.colours": None, "colour.bits": None, "colour.space": None},
        ),
    ),
    Measure(
        "colours",
        say("Number of colours"),
        "colour",
        COUNT,
        say("How many different colours the picture has; of a palette, how many of it are in use."),
        _of(lambda inside: inside.colours),
        station="file",
        binds=binding.COLOURS,
        needs=_INSIDE,
        mend=lambda miss: Mend(
            say("Write it in {n} colours", n=miss.limit.nearest(miss.value)),
            {"file.colours": None},
        ),
    ),
    Measure(
        "duration",
        say("Running time"),
        "file",
        SECONDS,
        say("How long an animation runs once through; a still picture has none."),
        _moving(lambda inside: inside.seconds),
        station="file",
        moving=True,
        needs=_INSIDE,
    ),
    Measure(
        "frame_rate",
        say("Frames a second"),
        "file",
        RATE,
        say("Frames of an animation over its running time."),
        _moving(_rate),
        station="file",
        moving=True,
        needs=_INSIDE,
    ),
)
