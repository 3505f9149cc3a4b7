"""Making the file: a rendered picture and a line's file station into bytes inside the limits."""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import replace

from aptandum.core import bounds
from aptandum.core.figures import show_exact_bytes, show_number, show_size
from aptandum.core.file import budget
from aptandum.core.file.avif import encode_avif, last_alike
from aptandum.core.file.encode import (
    JpegEncoder,
    JpegOptions,
    Sample,
    encode_bmp,
    encode_png,
)
from aptandum.core.file.palette import encode_gif, in_colours
from aptandum.core.file.stored import in_full, indexed, shaped
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


def make(
    picture: Picture,
    file: FileStation,
    credit: Credit = Credit(),  # noqa: B008
    fits: Made | None = None,
    told: bool = True,
) -> Made:
    """Encode a picture as its file station asks.

    JPEG without a set quality gets the highest that stays inside the upper limit; at full
    chroma first, and where that would fall below quality 30: in passes, then with reduced
    chroma, then lower. Where even that is too large the smallest file that could be made is
    returned with a sentence of what could be reached.

    Args:
        fits: a file of the same picture that is known to fit the upper limit, at a quality or a number of colours of its
            own: the search begins there.
        told: what a palette has cost is measured and told.
    """
    credit = chosen(credit, file.metadata)
    if file.format in _OTHERS:
        made = _OTHERS[file.format](picture, file, credit, fits)
        if made.colours is None or not told:
            return made
        return replace(made, statement=_colours_said(picture, made.data, made.colours))
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
    first: Made | None = None
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
            made = Made(found.data, "jpeg", options, encoder.encodes, tried, trouble)
            if first is None and (last or not stepped_over(made, file)):
                return made
            if first is not None and not trouble:
                return made
            if first is not None and last:  # none comes between: the best picture
                return replace(first, encodes=encoder.encodes)
            first = first or made
    raise AssertionError("the last way always returns")


def stepped_over(made: Made, file: FileStation) -> bool:
    """Whether a file is smaller than its lower limit though the next quality is larger than its upper one: of a photo that
    has been a JPEG before, one step can be a third more bytes."""
    if file.at_most is None or file.at_least is None or made.options is None:
        return False
    over = {quality for quality, size in made.tried if size > file.at_most}
    return len(made.data) < file.at_least and made.options.quality + 1 in over


def _jpeg_words(options: JpegOptions, picture: Picture) -> str:
    return say(
        "at {size}, quality {q}, {chroma}",
        size=show_size(picture.size),
        q=options.quality,
        chroma=options.subsampling,
    )


_NEAR = 0.2
"""The share by which a PNG may be over its limit for the tightest deflate to be worth its time."""


def _png(picture: Picture, file: FileStation, credit: Credit, fits: Made | None) -> Made:
    """Lossless; where that is too large, or a palette is asked for, in fewer colours."""
    picture = shaped(picture, file.stored)

    def encode(colours: int | None, picture: Picture = picture) -> bytes:
        if colours is None:
            data = encode_png(picture, file.ppi, credit, bool(file.progressive))
            if file.at_most is not None and 0 < len(data) - file.at_most < _NEAR * len(data):
                data = encode_png(picture, file.ppi, credit, bool(file.progressive), True)
            return data
        return indexed(picture, colours, file, credit)

    deep = picture.depth != 8  # what has to be so deep, or so shallow, has no palette
    first = None if deep else file.colours or file.most_colours
    return _in_fewer_colours(picture, file, encode, first, not deep, say("as PNG"), fits)


def _gif(picture: Picture, file: FileStation, credit: Credit, fits: Made | None) -> Made:
    def encode(colours: int | None, picture: Picture = picture) -> bytes:
        return encode_gif(picture, colours or MOST_COLOURS)

    first = file.colours or file.most_colours or MOST_COLOURS
    return _in_fewer_colours(picture, file, encode, first, True, say("as GIF"), fits)


MOST_COLOURS = 256
_COLOURS = (256, 192, 128, 96, 64, 48, 32, 24, 16, 12, 8, 6, 4, 3, 2)
"""Sizes of palettes that are tried, the best first."""


_FAR = 1.3
"""How far over the limit a part of a picture must tell that it lies to be believed."""

_FULL = 0.95
"""The share of a limit from which on a palette of the next size has no room: of a photo it comes to a tenth more."""

_FEWER = (32, 8)
"""Palettes that are tried where there is no time to search for the largest that does."""


class _Palettes:
    """A search for the largest palette whose file fits: fewer colours are fewer bytes, as far as bytes follow any rule.

    Attributes:
        data, colours: the file found and its palette (``None``: it has none); where none fits, the smallest made.
        encodes: how many files were made.
    """

    def __init__(
        self, encode: Callable[..., bytes], at_most: int, first: int | None, floor: int
    ) -> None:
        self.encode, self.at_most, self.first, self.floor = encode, at_most, first, floor
        steps = sorted({*_COLOURS, floor})
        self.sizes = [n for n in steps if first is None or n < first]
        self.guess = len(self.sizes) // 2
        self.data, self.colours, self.encodes, self._found = b"", first, 0, False

    def take(self, colours: int | None) -> bool:
        """Make the file of a palette; whether it fits."""
        data = self.encode(colours)
        self.encodes += 1
        fits = len(data) <= self.at_most
        if fits or not self._found:
            self.data, self.colours, self._found = data, colours, fits
        return fits

    def far_over(self, picture: Picture) -> bool:
        """Whether a part of the picture tells that the whole is far too large as it is."""
        sample = Sample.of(picture)
        if sample is None:
            return False
        return sample.whole(len(self.encode(self.first, sample.part))) >= _FAR * self.at_most

    def surely_too_large(self, picture: Picture) -> bool:
        """Whether a part of the picture tells that the whole is far too large as it is; then it tells as well about which
        palette fits."""
        sample = Sample.of(picture)
        if sample is None or bounds.over() or not self.sizes:
            return False

        def about(colours: int | None) -> float:
            return sample.whole(len(self.encode(colours, sample.part)))

        if not self.far_over(picture):
            return False
        low, high = 0, len(self.sizes) - 1
        while low < high:
            middle = (low + high + 1) // 2
            if about(self.sizes[middle]) <= self.at_most:
                low = middle
            else:
                high = middle - 1
        self.guess = low
        return True

    def in_haste(self) -> None:
        """No time is left to search: what probably does, else what is smallest."""
        likely = [
            self.floor if self.floor in self.sizes else self.sizes[-1],
            *_FEWER,
            self.sizes[0],
        ]
        for n in dict.fromkeys(likely):
            if self.take(n):
                return

    def close_in(self) -> None:
        """The largest that fits, beginning with a guess and its neighbours."""
        low, high, at, stride = 0, len(self.sizes) - 1, self.guess, 1
        while low <= high:
            if self.take(self.sizes[at]):
                low, up = at + 1, True
            else:
                high, up = at - 1, False
            if self.encodes > 1 and bounds.over():
                return
            near = low + stride - 1 if up else high - stride + 1
            at, stride = min(max(near, low), high), stride * 2

    def upwards(self, data: bytes, colours: int, picture: Picture) -> None:
        """From a file that fits to the largest that does."""
        self.data, self.colours, self._found, self.encodes = data, colours, True, 1
        if picture.colour.shape[2] == 3 and len(data) > _FULL * self.at_most:
            return
        more = [n for n in self.sizes if n > colours]
        for n in (*more, self.first) if self.first is None or self.first > colours else more:
            if bounds.over() or (n is None and self.far_over(picture)) or not self.take(n):
                return


def _in_fewer_colours(
    picture: Picture,
    file: FileStation,
    encode: Callable[..., bytes],
    first: int | None,
    may: bool,
    how: str,
    fits: Made | None,
) -> Made:
    """Encode as ``first`` says (``None``: without a palette); where that is too large and
    nobody has set a number of colours, with the largest palette that fits."""
    search = _Palettes(
        encode, file.at_most or 0, first, max(2, round(MOST_COLOURS * file.floor / 100))
    )
    if file.at_most is None or not may or file.colours is not None:
        search.take(first)
    elif fits is not None and fits.colours is not None:
        search.upwards(fits.data, fits.colours, picture)
    elif not search.surely_too_large(picture) and search.take(first):
        pass
    elif bounds.over():
        search.in_haste()
    else:
        search.close_in()
    data, colours, encodes = search.data, search.colours, search.encodes
    words = say("{how}, which loses nothing", how=how)
    if colours is not None:
        words = say("{how} of {n} colours", how=how, n=colours)
    trouble = _outside(data, file, words)
    return Made(data, file.format, None, encodes, (), trouble, "", colours)


_TOLD_BY = 300_000
"""Pixels by which the mean difference of a palette is told."""


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
    seen = picture.pixels[..., -1] > 0 if picture.alpha else slice(None)
    if (before[seen] == read[seen]).all():
        return ""
    step = -(-before.shape[0] * before.shape[1] // _TOLD_BY)  # every so many rows tell the mean
    before, read = (np.ascontiguousarray(p[::step]) for p in (before, read))
    off = engine.difference(engine.to_lab(before, icc), engine.to_lab(read, icc))
    if picture.alpha:
        off = off[picture.pixels[::step, :, -1] > picture.top // 2]
    mean = float(off.mean()) if off.size else 0.0
    small = mean < 0.05
    told = {"n": colours, "d": show_number(0.1 if small else mean, 1)}
    if picture.colour.shape[2] == 1:
        below = say(
            "Reduced to {n} levels of grey: the mean difference is below {d} (CIEDE2000).", **told
        )
        is_ = say("Reduced to {n} levels of grey: the mean difference is {d} (CIEDE2000).", **told)
    else:
        below = say("Reduced to {n} colours: the mean difference is below {d} (CIEDE2000).", **told)
        is_ = say("Reduced to {n} colours: the mean difference is {d} (CIEDE2000).", **told)
    return below if small else is_


def _bmp(picture: Picture, file: FileStation, credit: Credit, _fits: Made | None) -> Made:
    few = file.most_colours if picture.depth == 8 and not picture.alpha else None
    image = in_colours(picture, few) if few is not None else None
    if image is not None and file.stored and 8 not in file.stored:
        image = image.convert("RGB")
    data = encode_bmp(picture, file.ppi, image)
    return Made(data, "bmp", None, 1, (), _outside(data, file, say("as BMP")), "", few)


def _tiff(picture: Picture, file: FileStation, credit: Credit, fits: Made | None) -> Made:
    few = file.most_colours if picture.depth == 8 else None
    if fits is not None and fits.colours == few:
        data = fits.data  # nothing is searched for in it
    else:
        picture = in_full(picture, few) if few is not None else picture
        data = encode_tiff(picture, file.ppi, credit, file.compression or "deflate")
    how = say("as TIFF, which loses nothing")
    if few is not None:
        how = say("{how} of {n} colours", how=say("as TIFF"), n=few)
    return Made(data, "tiff", None, 1, (), _outside(data, file, how), "", few)


_MODERN = {"webp": 88, "avif": 80}
"""Qualities used where no limit asks for a search."""


def _modern(picture: Picture, file: FileStation, credit: Credit, fits: Made | None) -> Made:
    """WebP and AVIF: at a quality, found against the limits, or lossless where that is asked."""
    chroma = file.subsampling or ("4:2:0" if file.format == "webp" else "4:4:4")

    def encode(quality: int | None, picture: Picture = picture) -> bytes:
        if file.format == "webp":
            return encode_webp(picture, file.ppi, credit, quality)
        return encode_avif(picture, file.ppi, credit, quality, chroma)

    def hasty(quality: int) -> int:
        return len(encode_avif(picture, file.ppi, credit, quality, chroma, quick=True))

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
        before = None if fits is None or fits.options is None else (fits.options.quality, fits.data)
        alike, estimate = (
            None,
            None if before is not None else _estimate_by(Sample.of(picture), encode),
        )
        if file.format == "avif":
            alike, estimate = last_alike, hasty
        found = budget.highest_quality(
            encode, file.at_most, pixels, 1, estimate=estimate, fits=before, last_alike=alike
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


_OTHERS: dict[str, Callable[[Picture, FileStation, Credit, Made | None], Made]] = {
    "png": _png,
    "bmp": _bmp,
    "tiff": _tiff,
    "gif": _gif,
    "webp": _modern,
    "avif": _modern,
}
"""How every format but JPEG is made."""


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
