"""The desk's own eyes: what it reads of a file, and which limits that breaks.

Pictures are decoded by Pillow. A desk looks at what a machine can count; people, backdrops and
questions are its staff's business, who in a simulation are never anything but content.
"""

from __future__ import annotations

import datetime
import io
import re
import warnings
from collections.abc import Callable
from dataclasses import asdict
from fractions import Fraction
from typing import Any

import regex
from PIL import Image, ImageCms

from aptandum.core.brief.bundles import bundles
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Clause, turn_of
from aptandum.core.frozen import frozen

MOST_PIXELS = 400_000_000
"""The desk's own bound, by which it refuses; Pillow's guard behind it is at twice its half."""

_PATIENCE = 0.2
"""Seconds that a form of a name is tried."""

_FORMATS = {
    "JPEG": "jpeg",
    "MPO": "jpeg",
    "PNG": "png",
    "GIF": "gif",
    "BMP": "bmp",
    "TIFF": "tiff",
    "WEBP": "webp",
    "AVIF": "avif",
}

_SLACK_PPI = 0.013
"""PNG counts whole pixels a metre."""


@frozen
class Reason:
    """Why a desk does not accept: the measure, what it read, its limit, and the sentence."""

    measure: str
    measured: str
    limit: str
    says: str

    def record(self) -> dict[str, str]:
        """The reason as the desk sends it."""
        return asdict(self)


class NoPicture(Exception):
    """The file is not a picture that this desk can read."""


@frozen
class Seen:
    """What the desk reads of a file; sizes as a viewer shows them."""

    format: str
    width: int
    height: int
    bytes: int
    bits: int
    frames: int
    alpha: bool
    progressive: bool
    ppi: float | None
    colour_space: str
    profile: bool
    channels: str
    location: bool


def look_at(data: bytes) -> Seen:
    """Read a file, every pixel of it.

    Raises:
        NoPicture: it cannot be read; the message says why.
    """
    try:
        Image.MAX_IMAGE_PIXELS = MOST_PIXELS // 2
        with warnings.catch_warnings(), Image.open(io.BytesIO(data)) as picture:
            warnings.simplefilter("ignore")
            if picture.width * picture.height > MOST_PIXELS:
                raise NoPicture("It has more pixels than this desk takes.")
            frames = int(getattr(picture, "n_frames", 1))
            mode, kind = picture.mode, picture.format or ""
            bits = _bits(picture)
            exif = picture.getexif()
            turned = exif.get(0x0112, 1) in (5, 6, 7, 8) and kind != "TIFF"
            wide, high = picture.size[::-1] if turned else picture.size
            info = dict(picture.info)
            picture.load()
            alpha = _see_through(picture)
            gps = bool(exif.get_ifd(0x8825))
    except NoPicture:
        raise
    except Exception as error:  # a decoder raises many kinds on what people send
        raise NoPicture(f"It cannot be read as a picture ({error}).") from None
    return Seen(
        _FORMATS.get(kind, kind.lower()),
        wide,
        high,
        len(data),
        bits,
        frames,
        alpha,
        bool(info.get("progressive") or info.get("progression")),
        _ppi(info),
        _space(info.get("icc_profile") or b"", mode),
        bool(info.get("icc_profile")),
        "mono" if bits == 1 else "grey" if mode in ("L", "LA", "I", "I;16", "I;16B") else "colour",
        gps,
    )


def _bits(picture: Image.Image) -> int:
    if picture.mode == "1":
        return 1
    tiles = getattr(picture, "tile", None)
    raw = str(tiles[0].args) if tiles else ""
    return 16 if "16" in raw or picture.mode.startswith("I") else 8


def _see_through(picture: Image.Image) -> bool:
    if "A" not in picture.getbands() and "transparency" not in picture.info:
        return False
    low, _high = picture.convert("RGBA").getchannel("A").getextrema()
    return bool(low < 255)  # type: ignore[operator]


def _ppi(info: dict[Any, Any]) -> float | None:
    density = info.get("dpi")
    if not density or density[0] <= 1 or ("jfif_unit" in info and not info["jfif_unit"]):
        return None
    return float(density[0])


def _space(icc: bytes, mode: str) -> str:
    if mode == "CMYK":
        return "cmyk"
    if not icc:
        return "untagged"
    try:
        name = ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(io.BytesIO(icc))).lower()
    except (OSError, ImageCms.PyCMSError):
        return "other"
    if mode in ("1", "L", "LA", "I", "I;16"):
        return "grey"
    for word, space in (
        ("srgb", "srgb"),
        ("adobe", "adobe-rgb"),
        ("p3", "display-p3"),
        ("prophoto", "prophoto"),
        ("romm", "prophoto"),
    ):
        if word in name:
            return space
    return "other"


def judged(data: bytes, name: str, brief: Brief, wrong_unit: bool = False) -> list[Reason]:
    """The limits of a brief that a file breaks, as this desk reads both.

    Args:
        wrong_unit: the desk takes bytes for bits: its limits are an eighth of what they should be.

    Raises:
        NoPicture: the file is none.
    """
    seen = look_at(data)
    # Where the body leaves a choice the file is read as the way that it breaks least.
    every = [_broken(seen, name, one.brief, wrong_unit) for one in bundles(brief)]
    return min(every, key=len)


def _broken(seen: Seen, name: str, brief: Brief, wrong_unit: bool) -> list[Reason]:
    found = []
    for clause in brief.clauses:
        if clause.measure is None or clause.limit is None or clause.strength != "must":
            continue
        reader = _READERS.get(clause.measure)
        if reader is None or not _holds(clause, seen, name):
            continue
        reason = _held_against(clause, clause.limit, reader(seen, name), wrong_unit)
        if reason is not None:
            found.append(reason)
    return found


def _holds(clause: Clause, seen: Seen, name: str) -> bool:
    """Whether a clause speaks of this file today."""
    if clause.of or not clause.holds_for(turn_of(seen.width, seen.height)):
        return False
    if clause.valid_from is not None and datetime.date.today() < clause.valid_from:
        return False
    if clause.when is None:
        return True
    reader = _READERS.get(clause.when.measure)
    return reader is not None and _allows(
        clause.when.measure, clause.when.limit, reader(seen, name)
    )


def _held_against(clause: Clause, limit: Limit, value: Any, wrong_unit: bool) -> Reason | None:
    measure = clause.measure or ""
    if measure == "file_bytes" and wrong_unit:
        limit = Limit(
            limit.form,
            None if limit.at_least is None else int(limit.at_least) // 8,
            None if limit.at_most is None else int(limit.at_most) // 8,
        )
    if _allows(measure, limit, value):
        return None
    shown, asked = _shown(value), _said(limit)
    says = f"{_WORDS.get(measure, measure)}: {_spaced(shown)}; asked: {_spaced(asked)}."
    return Reason(measure, shown, asked, says)


def _spaced(figures: str) -> str:
    """Long numbers in groups of three."""
    return re.sub(
        r"\d{5,}", lambda found: f"{int(found.group()):,}".replace(",", "\u202f"), figures
    )


def _allows(measure: str, limit: Limit, value: Any) -> bool:
    return any(_face_allows(measure, face, value) for face in limit.faces)


def _face_allows(measure: str, limit: Limit, value: Any) -> bool:
    if value is None:
        return measure not in ("ppi",)
    if measure == "ppi":
        near = [abs(value - one) <= _SLACK_PPI for one in limit.one_of]
        low, high = limit.at_least, limit.at_most
        return (
            (any(near) or not near)
            and (low is None or value >= low - _SLACK_PPI)
            and (high is None or value <= high + _SLACK_PPI)
        )
    if measure == "aspect":
        wide, high = value
        fits = [_near(wide, high, Fraction(one)) for one in limit.one_of]
        share = Fraction(wide, high)
        return (any(fits) or not fits) and Limit(limit.form, limit.at_least, limit.at_most).allows(
            share
        )
    if measure == "size":
        low, high = limit.at_least, limit.at_most
        return (
            (low is None or (value[0] >= low[0] and value[1] >= low[1]))
            and (high is None or (value[0] <= high[0] and value[1] <= high[1]))
            and (not limit.one_of or value in limit.one_of)
            and value not in limit.none_of
        )
    if measure == "name_pattern":
        return any(_has_form(str(getattr(p, "pattern", p)), value) for p in limit.one_of)
    return limit.allows(value)


def _has_form(pattern: str, name: str) -> bool:
    """Whether a name has a form; one that takes too long to tell is for the desk's staff to look at."""
    try:
        return regex.fullmatch(pattern, name, timeout=_PATIENCE) is not None
    except TimeoutError:
        return True


def _near(wide: int, high: int, share: Fraction) -> bool:
    """One side is the other's exact share, rounded to the nearest pixel, either way at a half."""
    return abs(wide - high * share) <= Fraction(1, 2) or abs(high - wide / share) <= Fraction(1, 2)


def _stem(name: str) -> str:
    return name.rpartition(".")[0] or name


_READERS: dict[str, Callable[[Seen, str], Any]] = {
    "size": lambda s, n: (s.width, s.height),
    "width": lambda s, n: s.width,
    "height": lambda s, n: s.height,
    "longest_side": lambda s, n: max(s.width, s.height),
    "shortest_side": lambda s, n: min(s.width, s.height),
    "aspect": lambda s, n: (s.width, s.height),
    "megapixels": lambda s, n: s.width * s.height / 1e6,
    "format": lambda s, n: s.format,
    "file_bytes": lambda s, n: s.bytes,
    "frames": lambda s, n: s.frames,
    "bits": lambda s, n: s.bits,
    "ppi": lambda s, n: s.ppi,
    "colour_space": lambda s, n: s.colour_space,
    "profile": lambda s, n: "embedded" if s.profile else "none",
    "channels": lambda s, n: s.channels,
    "transparency": lambda s, n: "present" if s.alpha else "none",
    "location": lambda s, n: "present" if s.location else "none",
    "name_length": lambda s, n: len(_stem(n)),
    "name_pattern": lambda s, n: _stem(n),
}
"""How the desk reads each measure that it looks at; the others it leaves to its staff."""

_WORDS = {
    "size": "Size",
    "width": "Width",
    "height": "Height",
    "longest_side": "Longest side",
    "shortest_side": "Shortest side",
    "aspect": "Proportion",
    "megapixels": "Megapixels",
    "format": "Format",
    "file_bytes": "Bytes",
    "frames": "Frames",
    "bits": "Bits a channel",
    "ppi": "Pixels per inch",
    "colour_space": "Colour space",
    "profile": "Profile",
    "channels": "Channels",
    "transparency": "Transparency",
    "location": "Place of the shot",
    "name_length": "Length of the name",
    "name_pattern": "Name",
}


def _shown(value: Any) -> str:
    if isinstance(value, tuple):
        return f"{value[0]} x {value[1]}"
    return f"{value:g}" if isinstance(value, float) else str(value)


def _said(limit: Limit) -> str:
    def show(one: Any) -> str:
        if isinstance(one, Fraction):
            return f"{one.numerator}:{one.denominator}"
        return _shown(int(one) if type(one) is not int and isinstance(one, int) else one)

    parts = []
    if limit.at_least is not None:
        parts.append(f"at least {show(limit.at_least)}")
    if limit.at_most is not None:
        parts.append(f"at most {show(limit.at_most)}")
    if limit.one_of:
        parts.append(" or ".join(show(one) for one in limit.one_of))
    if limit.none_of:
        parts.append("not " + ", ".join(show(one) for one in limit.none_of))
    return ", ".join(parts)
