"""Making the file: a rendered picture and a line's file station into bytes inside the limits."""

from __future__ import annotations

import io
from collections.abc import Callable

from aptandum.core import bounds
from aptandum.core.figures import show_exact_bytes, show_number, show_size
from aptandum.core.file import budget
from aptandum.core.file.avif import encode_avif
from aptandum.core.file.encode import (
    JpegEncoder,
    JpegOptions,
    Sample,
    encode_bmp,
    encode_png,
    finished_png,
)
from aptandum.core.file.palette import encode_gif, encode_indexed_png
from aptandum.core.file.tiff import encode_tiff
from aptandum.core.file.webp import encode_webp
from aptandum.core.fitting.plan import FileStation
from aptandum.core.frozen import frozen
from aptandum.core.later import Image, np
from aptandum.core.photo import engine, limits
from aptandum.core.photo.facts import FORMAT_NAMES
from aptandum.core.photo.metadata_groups import Credit, chosen
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped
from aptandum.core.words import say, sentences

UNLIMITED_QUALITY = 93
"""Used where no limit asks for a search: differences to a higher one are not visible."""

FLOOR = 30
"""Below this quality the cheaper ways to save bytes are tried before going lower."""


@frozen
class Made:
    """An encoded file.

    Attributes:
        options: how a JPEG was written; ``None`` for other formats.
        encodes: how many real encodes it took.
        tried: bytes of each JPEG quality that was encoded with the final options.
        trouble: a sentence where the byte limits cannot be met, with what can be reached.
        statement: a sentence on what was given up to meet them, such as colours.
        colours: of the palette; ``None`` where there is none.
    """

    data: bytes
    format: str
    options: JpegOptions | None
    encodes: int
    tried: tuple[tuple[int, int], ...] = ()
    trouble: str = ""
    statement: str = ""
    colours: int | None = None

    def says(self) -> str:
        """The format, and its quality where it has one."""
        if self.options is None:
            return FORMAT_NAMES[self.format]
        name = FORMAT_NAMES[self.format]
        return say("{format} q {quality}", format=name, quality=self.options.quality)


def make(picture: Picture, file: FileStation, credit: Credit = Credit()) -> Made:  # noqa: B008
    """Encode a picture as its file station asks.

    JPEG without a set quality gets the highest that stays inside the upper limit; at full
    chroma first, and where that would fall below quality 30: in passes, then with reduced
    chroma, then lower. Where even that is too large the smallest file that could be made is
    returned with a sentence of what could be reached.
    """
    credit = chosen(credit, file.metadata)
    if file.format == "png":
        return _png(picture, file, credit)
    if file.format in _OTHERS:
        return _OTHERS[file.format](picture, file, credit)
    encoder = JpegEncoder(picture, file.ppi, credit)
    if file.quality is not None or (file.at_most is None and file.at_least is None):
        quality = file.quality or min(max(UNLIMITED_QUALITY, file.lowest), file.ceiling)
        options = JpegOptions(quality, file.subsampling or "4:4:4", bool(file.progressive))
        data = encoder(options)
        trouble = _outside(data, file, say("at quality {q}", q=quality))
        return Made(data, "jpeg", options, encoder.encodes, ((quality, len(data)),), trouble)
    return _searched(encoder, picture, file, credit)


def _ways(file: FileStation) -> list[tuple[str, bool]]:
    """Chroma and passes to try in turn, the best picture first."""
    chroma = [file.subsampling] if file.subsampling else ["4:4:4", "4:2:0"]
    passes = [file.progressive] if file.progressive is not None else [False, True]
    ways = [(chroma[0], p) for p in passes]
    return ways + [(c, passes[-1]) for c in chroma[1:]]


def _searched(encoder: JpegEncoder, picture: Picture, file: FileStation, credit: Credit) -> Made:
    pixels = picture.size[0] * picture.size[1]
    at_most = file.at_most if file.at_most is not None else 2**62
    ways = _ways(file)
    sample = Sample.of(picture, len(encoder.head))
    part = JpegEncoder(sample.part, file.ppi, credit) if sample is not None else None
    for i, (chroma, passes) in enumerate(ways):
        last = i == len(ways) - 1

        def encode(quality: int, chroma: str = chroma, passes: bool = passes) -> bytes:
            return encoder(JpegOptions(quality, chroma, passes))

        def estimate(quality: int, chroma: str = chroma, passes: bool = passes) -> float:
            assert sample is not None and part is not None
            return sample.whole(len(part(JpegOptions(quality, chroma, passes))))

        if at_most >= 2**62:
            found = budget.Search(file.ceiling, encode(file.ceiling))
        else:
            lowest = file.lowest if last else max(FLOOR, file.lowest)
            found = budget.highest_quality(
                encode, at_most, pixels, lowest, estimate=estimate if sample is not None else None
            )
        if found.quality is not None and found.quality > file.ceiling:
            data = encode(file.ceiling)
            found = budget.Search(file.ceiling, data, {**found.tried, file.ceiling: len(data)})
        if found.quality is not None or last:
            quality = found.quality or file.lowest
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


_NEAR = 0.2
"""The share by which a PNG may be over its limit for the tightest deflate to be worth its time."""


def _png(picture: Picture, file: FileStation, credit: Credit) -> Made:
    """Lossless; where that is too large, or a palette is asked for, in fewer colours."""

    def encode(colours: int | None) -> bytes:
        if colours is None:
            data = encode_png(picture, file.ppi, credit, bool(file.progressive))
            if file.at_most is not None and 0 < len(data) - file.at_most < _NEAR * len(data):
                data = encode_png(picture, file.ppi, credit, bool(file.progressive), True)
            return data
        return finished_png(encode_indexed_png(picture, colours), file.ppi, credit)

    deep = picture.bits != 8
    first = None if deep else file.colours or file.most_colours
    return _in_fewer_colours(picture, file, encode, first, not deep, say("as PNG"))


def _gif(picture: Picture, file: FileStation, credit: Credit) -> Made:
    def encode(colours: int | None) -> bytes:
        return encode_gif(picture, colours or MOST_COLOURS)

    return _in_fewer_colours(
        picture,
        file,
        encode,
        file.colours or file.most_colours or MOST_COLOURS,
        True,
        say("as GIF"),
    )


MOST_COLOURS = 256
_COLOURS = (256, 192, 128, 96, 64, 48, 32, 24, 16, 12, 8, 6, 4, 3, 2)
"""Sizes of palettes that are tried, the best first."""


_FEWER = (32, 8)
"""Palettes that are tried where there is no time to search for the largest that does."""


def _in_fewer_colours(
    picture: Picture,
    file: FileStation,
    encode: Callable[[int | None], bytes],
    first: int | None,
    may: bool,
    how: str,
) -> Made:
    """Encode as ``first`` says (``None``: without a palette); where that is too large and
    nobody has set a number of colours, with the largest palette that fits."""
    data, encodes, colours = encode(first), 1, first
    if file.at_most is not None and len(data) > file.at_most and may and file.colours is None:
        floor = max(2, round(MOST_COLOURS * file.floor / 100))
        steps = sorted({*_COLOURS, floor}, reverse=True)
        sizes = [n for n in steps if first is None or n < first]
        low, high = 0, len(sizes) - 1
        best = None
        if bounds.over():  # no time is left to search: what probably does, else what is smallest
            for n in dict.fromkeys([floor if floor in sizes else sizes[0], *_FEWER, sizes[-1]]):
                tried = encode(n)
                encodes += 1
                smallest = tried, n
                if len(tried) <= file.at_most:
                    break
            best, low = smallest, len(sizes)
        while low <= high and not (
            encodes > 1 and bounds.over()
        ):  # fewer colours are fewer bytes, as far as bytes follow any rule
            middle = (low + high) // 2
            tried = encode(sizes[middle])
            encodes += 1
            if len(tried) <= file.at_most:
                best, high = (tried, sizes[middle]), middle - 1
            else:
                smallest, low = (tried, sizes[middle]), middle + 1
        data, colours = best or smallest
    statement = "" if colours is None else _colours_said(picture, data, colours)
    words = say("{how}, which loses nothing", how=how)
    if colours is not None:
        words = say("{how} of {n} colours", how=how, n=colours)
    trouble = _outside(data, file, words)
    return Made(data, file.format, None, encodes, (), trouble, statement, colours)


def _colours_said(picture: Picture, data: bytes, colours: int) -> str:
    """What a palette has cost: nothing, or the mean difference it makes."""
    limits.guard_libraries()
    with Image.open(io.BytesIO(data)) as opened:
        read = np.asarray(opened.convert("RGBA").convert("RGB"))
    if picture.colour.shape[2] == 1:
        before = np.repeat(picture.colour, 3, 2)
        icc = shipped("srgb")  # the grey profile shipped has the same curve
    else:
        before, icc = picture.colour, picture.icc
    if before.dtype == np.uint16:
        before = (before // 257).astype(np.uint8)
    if (before == read).all():
        return ""
    off = engine.difference(engine.to_lab(before, icc), engine.to_lab(read, icc))
    if picture.alpha:
        off = off[picture.pixels[..., -1] > picture.top // 2]
    mean = float(off.mean()) if off.size else 0.0
    return say(
        "Reduced to {n} colours: the mean difference is {d} (CIEDE2000).",
        n=colours,
        d=show_number(mean, 1),
    )


def _bmp(picture: Picture, file: FileStation, credit: Credit) -> Made:
    data = encode_bmp(picture, file.ppi)
    return Made(data, "bmp", None, 1, (), _outside(data, file, say("as BMP")))


def _tiff(picture: Picture, file: FileStation, credit: Credit) -> Made:
    data = encode_tiff(picture, file.ppi, credit, file.compression or "deflate")
    how = say("as TIFF, which loses nothing")
    return Made(data, "tiff", None, 1, (), _outside(data, file, how))


_MODERN = {"webp": 88, "avif": 80}
"""Qualities used where no limit asks for a search."""


def _modern(picture: Picture, file: FileStation, credit: Credit) -> Made:
    """WebP and AVIF: at a quality, found against the limits, or lossless where that is asked."""
    chroma = file.subsampling or ("4:2:0" if file.format == "webp" else "4:4:4")

    def encode(quality: int | None, picture: Picture = picture) -> bytes:
        if file.format == "webp":
            return encode_webp(picture, file.ppi, credit, quality)
        return encode_avif(picture, file.ppi, credit, quality, chroma)

    name = FORMAT_NAMES[file.format]
    if file.lossless:
        data = encode(None)
        words = say("as {format}, which loses nothing", format=name)
        return Made(data, file.format, None, 1, (), _outside(data, file, words))
    if file.quality is not None or (file.at_most is None and file.at_least is None):
        quality = file.quality or _MODERN[file.format]
        found = budget.Search(quality, encode(quality), {quality: 0})
    elif file.at_most is None:
        found = budget.Search(100, encode(100), {100: 0})
    else:
        pixels = picture.size[0] * picture.size[1]
        found = budget.highest_quality(
            encode, file.at_most, pixels, 1, estimate=_estimate_by(Sample.of(picture), encode)
        )
    quality = found.quality or 1
    words = say("at quality {q}", q=quality)
    options = JpegOptions(quality, chroma, False)
    tried = tuple(sorted(found.tried.items()))
    trouble = _outside(found.data, file, words)
    return Made(found.data, file.format, options, found.encodes, tried, trouble)


def _estimate_by(
    sample: Sample | None, encode: Callable[[int, Picture], bytes]
) -> Callable[[int], float] | None:
    if sample is None:
        return None
    held = sample
    return lambda quality: held.whole(len(encode(quality, held.part)))


_OTHERS: dict[str, Callable[[Picture, FileStation, Credit], Made]] = {
    "bmp": _bmp,
    "tiff": _tiff,
    "gif": _gif,
    "webp": _modern,
    "avif": _modern,
}
"""How every format but JPEG and PNG is made."""


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
            return sentences([text, say("JPEG, or fewer pixels, would be smaller.")])
        return sentences([text, say("Only fewer pixels would be smaller still.")])
    if file.at_least is not None and size < file.at_least:
        text = say(
            "At least {limit} are asked; the file {how} has {size}.",
            limit=show_exact_bytes(file.at_least),
            how=how,
            size=show_exact_bytes(size),
        )
        if file.quality is not None and file.quality < 100:
            return sentences([text, say("Leave the quality to the limits to go higher.")])
        return sentences([text, say("Only more pixels would make it larger; nothing is padded.")])
    return ""
