"""Making the file: a rendered picture and a line's file station into bytes inside the limits."""

from __future__ import annotations

from dataclasses import dataclass

from aptandum.core.file import budget
from aptandum.core.file.encode import JpegEncoder, JpegOptions, encode_bmp, encode_png
from aptandum.core.file.metadata import Credit
from aptandum.core.fitting.line import FileStation
from aptandum.core.photo.facts import FORMAT_NAMES
from aptandum.core.photo.picture import Picture
from aptandum.core.quantity import show_exact_bytes, show_size
from aptandum.core.words import say

UNLIMITED_QUALITY = 93
"""Used where no limit asks for a search: differences to a higher one are not visible."""

FLOOR = 30
"""Below this quality the cheaper ways to save bytes are tried before going lower."""


@dataclass(frozen=True)
class Made:
    """An encoded file.

    Attributes:
        options: how a JPEG was written; ``None`` for other formats.
        encodes: how many real encodes it took.
        tried: bytes of each JPEG quality that was encoded with the final options.
        trouble: a sentence where the byte limits cannot be met, with what can be reached.
    """

    data: bytes
    format: str
    options: JpegOptions | None
    encodes: int
    tried: tuple[tuple[int, int], ...] = ()
    trouble: str = ""

    def says(self) -> str:
        if self.options is None:
            return FORMAT_NAMES[self.format]
        return say("JPEG q {quality}", quality=self.options.quality)


def make(picture: Picture, file: FileStation, credit: Credit = Credit()) -> Made:  # noqa: B008
    """Encode a picture as its file station asks.

    JPEG without a set quality gets the highest that stays inside the upper limit; at full
    chroma first, and where that would fall below quality 30: in passes, then with reduced
    chroma, then lower. Where even that is too large the smallest file that could be made is
    returned with a sentence of what could be reached.
    """
    if file.format == "png":
        return _png(picture, file, credit)
    if file.format == "bmp":
        data = encode_bmp(picture, file.ppi)
        return Made(data, "bmp", None, 1, (), _outside(data, file, say("as BMP")))
    encoder = JpegEncoder(picture, file.ppi, credit)
    if file.quality is not None or (file.at_most is None and file.at_least is None):
        quality = file.quality or UNLIMITED_QUALITY
        options = JpegOptions(quality, file.subsampling or "4:4:4", bool(file.progressive))
        data = encoder(options)
        trouble = _outside(data, file, say("at quality {q}", q=quality))
        return Made(data, "jpeg", options, encoder.encodes, ((quality, len(data)),), trouble)
    return _searched(encoder, picture, file)


def _ways(file: FileStation) -> list[tuple[str, bool]]:
    """Chroma and passes to try in turn, the best picture first."""
    chroma = [file.subsampling] if file.subsampling else ["4:4:4", "4:2:0"]
    passes = [file.progressive] if file.progressive is not None else [False, True]
    ways = [(chroma[0], p) for p in passes]
    return ways + [(c, passes[-1]) for c in chroma[1:]]


def _searched(encoder: JpegEncoder, picture: Picture, file: FileStation) -> Made:
    pixels = picture.size[0] * picture.size[1]
    at_most = file.at_most if file.at_most is not None else 2**62
    ways = _ways(file)
    for i, (chroma, passes) in enumerate(ways):
        last = i == len(ways) - 1

        def encode(quality: int, chroma: str = chroma, passes: bool = passes) -> bytes:
            return encoder(JpegOptions(quality, chroma, passes))

        if at_most >= 2**62:
            found = budget.Search(100, encode(100))
        else:
            lowest = 1 if last else FLOOR
            found = budget.highest_quality(encode, at_most, pixels, lowest)
        if found.quality is not None or last:
            quality = found.quality or 1
            options = JpegOptions(quality, chroma, passes)
            trouble = _outside(found.data, file, _jpeg_words(options, picture))
            tried = tuple(sorted(found.tried.items()))
            return Made(found.data, "jpeg", options, encoder.encodes, tried, trouble)
    raise AssertionError("the last way always returns")


def _jpeg_words(options: JpegOptions, picture: Picture) -> str:
    return say(
        "at {size}, quality {q}, {chroma}",
        size=show_size(picture.size),
        q=options.quality,
        chroma=options.subsampling,
    )


def _png(picture: Picture, file: FileStation, credit: Credit) -> Made:
    data = encode_png(picture, file.ppi, credit, bool(file.progressive))
    trouble = _outside(data, file, say("as PNG, which loses nothing"))
    return Made(data, "png", None, 1, (), trouble)


def _outside(data: bytes, file: FileStation, how: str) -> str:
    """The truth about limits that cannot be met, with the figure that was really reached."""
    size = len(data)
    if file.at_most is not None and size > file.at_most:
        if file.quality is not None:
            return say(
                "At most {limit} are asked; the file {how} has {size}. Leave the quality to the "
                "limits to go lower.",
                limit=show_exact_bytes(file.at_most),
                how=how,
                size=show_exact_bytes(size),
            )
        text = say(
            "At most {limit} are asked; the smallest file that can be reached, {how}, has {size}.",
            limit=show_exact_bytes(file.at_most),
            how=how,
            size=show_exact_bytes(size),
        )
        if file.format == "png":
            return text + " " + say("JPEG, or fewer pixels, would be smaller.")
        return text + " " + say("Only fewer pixels would be smaller still.")
    if file.at_least is not None and size < file.at_least:
        text = say(
            "At least {limit} are asked; the file {how} has {size}.",
            limit=show_exact_bytes(file.at_least),
            how=how,
            size=show_exact_bytes(size),
        )
        if file.quality is not None and file.quality < 100:
            return text + " " + say("Leave the quality to the limits to go higher.")
        return text + " " + say("Only more pixels would make it larger; nothing is padded.")
    return ""
