"""The live fitting as a reading, before its file is made."""

from __future__ import annotations

import hashlib
from collections.abc import Callable

from aptandum.core.fitting.plan import THREE_CHANNELS, Line
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.judge.reading import Placed, Reading
from aptandum.core.photo import profile
from aptandum.core.photo.facts import Facts, Mode
from aptandum.core.photo.inside import Foreseen, Inside
from aptandum.core.photo.marks import People
from aptandum.core.photo.metadata_groups import HOLDING, Credit, chosen
from aptandum.core.photo.profile import Space


def placed(line: Line) -> Placed:
    """Where the frame lies: left and top in photo pixels, output over photo pixels, and the
    degrees by which the photo is straightened first."""
    return line.frame.window.left, line.frame.window.top, line.frame.scale, line.frame.angle


def live_reading(
    facts: Facts,
    line: Line,
    size: int | None = None,
    estimated: bool = True,
    see_people: Callable[[], People] | None = None,
    see_look: Callable[[], PixelStatistics] | None = None,
    stale: bool = False,
    see_supplied: Callable[[], Inside] | None = None,
) -> Reading:
    """What the fitting would come to, as a reading.

    ``size`` is the number of bytes where a draft has been made or guessed; it is an estimate
    unless said otherwise, for only the finished file has a size. ``see_look`` gives the pixels of
    the last picture that was made, which are an estimate where it is ``stale``. ``see_supplied`` looks
    into the photo's own file, of whose metadata something is kept.
    """
    from aptandum.core.fitting.record import words

    alpha, made = _facts_to_come(line, facts, size)
    loose = frozenset([*(["bytes"] if estimated else []), *(["pixels"] if stale else [])])
    return Reading(
        "live",
        made,
        line.frame.scale,
        loose,
        line.source.shown,
        see_people,
        placed(line),
        see_opaque=lambda: not alpha,
        see_look=see_look,
        done=words(facts, line),
        picture=picture_of(line),
        see_inside=lambda: _foreseen(line, made, see_supplied),
        see_supplied=see_supplied,
    )


def _foreseen(line: Line, made: Facts, see_supplied: Callable[[], Inside] | None) -> Inside:
    """The inside of the file to come."""
    file = line.file
    told = None
    if see_supplied is not None:
        told = chosen(see_supplied().told, file.metadata) if file.format in HOLDING else Credit()
    channels = (1 if made.mode in ("grey", "mono") else 3) + (1 if made.alpha else 0)
    few = file.colours is not None or file.most_colours is not None
    bits = made.bits or 8 if few or file.format == "gif" else (made.bits or 8) * channels
    return Foreseen(_packed(line), _quality(line), file.subsampling, bits, told)


def _quality(line: Line) -> int:
    """The quality to expect: what is set, or what is usual, inside what is allowed."""
    file = line.file
    return file.quality or min(max(_USUAL, file.lowest), file.ceiling)


_USUAL = 93


def _packed(line: Line) -> tuple[str, ...]:
    """How the file to come is compressed."""
    file = line.file
    if file.format in ("webp", "avif"):
        return ("lossless",) if file.lossless else ("lossy",)
    kinds = {"jpeg": "jpeg", "png": "deflate", "gif": "lzw", "bmp": "none"}
    kind = kinds.get(file.format) or file.compression or "deflate"
    return kind, "lossy" if kind == "jpeg" else "lossless"


def _facts_to_come(line: Line, facts: Facts, size: int | None) -> tuple[bool, Facts]:
    """The facts that the file would have."""
    w, h = line.frame.output
    grey = line.colour.target == "grey"
    three = grey and line.file.format in THREE_CHANNELS
    mode: Mode = "mono" if line.colour.bits == 1 else "grey" if grey and not three else "rgb"
    clear = bool(facts.alpha) or line.frame.ground == "clear" or line.finish.clear
    alpha = clear and line.finish.ground is None and line.colour.bits != 1
    tagged = line.file.format not in ("bmp", "gif") and line.colour.bits != 1
    icc = line.colour.icc if tagged else b""
    space: Space = line.colour.target if tagged else "grey" if grey else "untagged"
    if three:
        icc, space = profile.shipped("srgb"), "srgb"
    stated = ppi_stated(line.file.format, line.file.ppi)
    made = Facts(
        file=line.file.name,
        format=line.file.format,  # type: ignore[arg-type]
        width=w,
        height=h,
        oriented_width=w,
        oriented_height=h,
        bits=line.colour.bits,
        mode=mode,
        alpha=alpha,
        icc=profile.identify(icc).description if icc else None,
        colour_space=space,
        orientation=1,
        ppi_x=stated,
        ppi_y=stated,
        bytes=size,
        frames=1,
        progressive=bool(line.file.progressive),
        location=facts.location
        and line.file.metadata.get("location") == "keep"
        and line.file.format in HOLDING,
        profile=profile.identify(icc) if icc else None,
        icc_bytes=icc,
    )
    return alpha, made


def ppi_stated(format_: str, ppi: float | None) -> float | None:
    """The pixels per inch that a file of a format states where some are asked of it: JPEG holds whole
    numbers, PNG and BMP whole pixels per metre, GIF none at all."""
    if ppi is None or format_ == "gif":
        return None
    if format_ == "jpeg":
        return float(round(ppi))
    if format_ in ("png", "bmp"):
        return round(ppi / 0.0254) * 0.0254
    return round(ppi * 1000) / 1000


def picture_of(line: Line) -> str:
    """What tells one picture from another to a person who looks at it: the part of the photo, how
    it is turned, its greys and dots, and what is laid on. Its size, its profile and its file are
    no part of that."""
    frame, colour, finish = line.frame, line.colour, line.finish
    window = frame.window
    laid = {name: getattr(finish.settings, name).model_dump_json() for name in finish.on}
    told = (
        line.source,
        tuple(round(v, 2) for v in (window.left, window.top, window.width, window.height)),
        frame.angle,
        frame.ground,
        colour.target == "grey",
        colour.mix,
        colour.dots,
        finish.ground,
        laid,
        *((colour.exposure, colour.warmth) if colour.relit else ()),
    )
    return hashlib.sha256(repr(told).encode()).hexdigest()[:16]
