"""A reader's side: which channels a file stores, of how many bits, and where it says how its colours are meant."""

from __future__ import annotations

import struct
from collections.abc import Mapping
from typing import IO, Any

from PIL import Image

from aptandum.core.photo.facts import Format, Mode
from aptandum.core.photo.profile import Profile, Space
from aptandum.core.words import say

Kind = tuple[Mode, int, bool]
"""Mode, bits of each number as it is stored (of a palette: of its index), and whether there is transparency."""

_NAMES: dict[str, Mode] = {"L": "grey", "LA": "grey", "CMYK": "cmyk", "YCCK": "cmyk"}
_TWO = {b"\0\0\0", b"\xff\xff\xff"}


def kind_of(format_: Format, image: Image.Image, head: bytes, stream: IO[bytes]) -> Kind:
    """What a file's pixels are.

    Args:
        head: its first bytes.
    """
    alpha = image.mode in ("RGBA", "LA", "PA", "La", "RGBa") or "transparency" in image.info
    if format_ == "png":
        return _png(image, head, alpha)
    if format_ == "tiff":
        return _tiff(image, alpha)
    if format_ == "gif":
        # A table has four colours or more with most writers; one bit is what has two different ones.
        return _of_palette(image, 1 if len(set(_colours(image))) == 2 else 8, alpha)
    if format_ == "bmp":
        return _bmp(image, head, alpha)
    bits = 8
    if format_ == "jpeg":
        bits = int(getattr(image, "bits", 8) or 8)
    if format_ == "avif":
        bits = _avif_bits(stream)
    if format_ in ("heic", "jxl"):
        bits = int(image.info.get("bit_depth") or 8)
    return _NAMES.get(image.mode, "rgb"), bits, alpha


def _png(image: Image.Image, head: bytes, alpha: bool) -> Kind:
    depth, kind = head[24], head[25]
    if kind == 3:
        return _of_palette(image, depth, alpha)
    if kind in (0, 4):
        return ("mono" if depth == 1 else "grey"), depth, alpha or kind == 4
    return "rgb", depth, alpha or kind == 6


def _of_palette(image: Image.Image, depth: int, alpha: bool) -> Kind:
    """Indices of ``depth`` bits; of one bit, for black and white, they are the picture itself."""
    if depth == 1 and not alpha and _black_and_white(image):
        return "mono", 1, alpha
    return "palette", depth, alpha


def _tiff(image: Image.Image, alpha: bool) -> Kind:
    tags = image.tag_v2  # type: ignore[attr-defined]
    bits = tags.get(258, (1,))
    depth = int(bits[0] if isinstance(bits, (tuple, list)) else bits)
    photometric = tags.get(262, 1)
    extra = tags.get(338, ())
    extra = extra if isinstance(extra, (tuple, list)) else (extra,)
    alpha = alpha or any(kind in (1, 2) for kind in extra)
    if photometric == 3:
        return "palette", depth, alpha
    if photometric == 5:
        return "cmyk", depth, alpha
    if photometric in (0, 1):
        return ("mono" if depth == 1 else "grey"), depth, alpha
    return "rgb", depth, alpha


def _bmp(image: Image.Image, head: bytes, alpha: bool) -> Kind:
    if image.mode == "1":
        return "mono", 1, alpha
    if image.mode in ("P", "L"):
        depth = struct.unpack_from("<H", head, 28)[0] if len(head) >= 30 else 8
        if depth == 1 and (image.mode == "L" or _black_and_white(image)):
            return "mono", 1, alpha
        return ("grey", 8, alpha) if image.mode == "L" else ("palette", depth, alpha)
    return "rgb", 8, alpha


def _colours(image: Image.Image) -> list[bytes]:
    """A palette's colours; asking the image for it would decode it."""
    if image.palette is None:
        return []
    held = bytes(image.palette.palette or b"")
    step = 4 if image.palette.rawmode == "BGRX" else 3
    return [held[i : i + 3] for i in range(0, len(held) - 2, step)]


def _black_and_white(image: Image.Image) -> bool:
    return set(_colours(image)) == _TWO or set(_colours(image)[:2]) == _TWO


def _avif_bits(stream: IO[bytes]) -> int:
    stream.seek(0)
    head = stream.read(4096)
    at = head.find(b"av1C")
    if at < 0 or at + 7 > len(head):
        return 8
    flags = head[at + 6]
    return (12 if flags & 0x20 else 10) if flags & 0x40 else 8


# --- colour ----------------------------------------------------------------------------------------

_MOST_PROFILE = 4 << 20
_APPLICATION = b"\x21\xff\x0bICCRGBG1012"
_EMBEDDED, _SRGB, _SYSTEM = b"DEBM", b"BGRs", b" niW"


def profile_bytes(format_: Format, image: Image.Image, stream: IO[bytes]) -> bytes:
    """The profile that a file carries; empty without one."""
    if format_ == "gif":
        return _in_gif(stream)
    if format_ == "bmp":
        return _in_bmp(stream)
    icc = image.info.get("icc_profile") or b""
    return icc if isinstance(icc, bytes) else b""


def _in_gif(stream: IO[bytes]) -> bytes:
    """Source: the specification of ICC profiles, annex on GIF: an application extension before the first picture."""
    stream.seek(0)
    data = stream.read(_MOST_PROFILE)
    at = 13 + ((3 << ((data[10] & 7) + 1)) if data[10] & 0x80 else 0)
    while at + 2 < len(data) and data[at] == 0x21:
        mine = data[at : at + len(_APPLICATION)] == _APPLICATION
        at += 2
        if mine:
            at += 1 + data[at]
        made = bytearray()
        while at < len(data) and data[at]:
            made += data[at + 1 : at + 1 + data[at]]
            at += 1 + data[at]
        if mine:
            return bytes(made)
        at += 1
    return b""


def _in_bmp(stream: IO[bytes]) -> bytes:
    """Source: BITMAPV5HEADER (bV5CSType, bV5ProfileData, bV5ProfileSize)."""
    stream.seek(0)
    head = stream.read(14 + 124)
    if len(head) < 138 or struct.unpack_from("<I", head, 14)[0] < 124 or head[70:74] != _EMBEDDED:
        return b""
    start, size = struct.unpack_from("<II", head, 14 + 112)
    if size > _MOST_PROFILE:
        return b""
    stream.seek(14 + start)
    return stream.read(size)


def lost_profile(format_: Format, image: Image.Image, head: bytes) -> Profile | None:
    """A profile that is announced in the file but cannot be put together."""
    if format_ == "jpeg" and any(
        marker == "APP2" and data.startswith(b"ICC_PROFILE\0")
        for marker, data in getattr(image, "applist", ())
    ):
        return Profile(None, "untagged", 0, say("a part of it is missing"))
    if format_ == "png" and b"iCCP" in head:
        return Profile(None, "untagged", 0, say("its contents cannot be read"))
    return None


def space_of(
    format_: Format, image: Image.Image, kind: Kind, known: Profile | None, stream: IO[bytes]
) -> Space:
    """The space that a file says its numbers are in."""
    mode = kind[0]
    if known is not None and not known.broken:
        return known.space
    if mode in ("grey", "mono"):
        return "grey"
    if mode == "cmyk":
        return "cmyk"
    if format_ == "png":
        signalled = _signalled(
            format_, image, stream
        )  # which comes before all else (PNG, third edition)
        if signalled != "untagged":
            return signalled
        return "srgb" if "srgb" in image.info else _of_gamma(image.info)
    if format_ == "jxl":
        named: Space = image.info.get("named_space", "untagged")
        return named
    return _signalled(format_, image, stream)


_SRGB_POINTS = (0.3127, 0.3290, 0.64, 0.33, 0.30, 0.60, 0.15, 0.06)
"""White and primaries of sRGB, x and y (IEC 61966-2-1), as a PNG's cHRM has them."""


def _of_gamma(info: Mapping[Any, Any]) -> Space:
    """What a PNG's gAMA and cHRM say where nothing else does: sRGB's own, which many programs write, tell no more than
    nothing."""
    gamma, points = info.get("gamma"), info.get("chromaticity")
    other = gamma is not None and abs(float(gamma) - 1 / 2.2) > 0.02
    if points is not None:
        other |= any(abs(a - b) > 0.005 for a, b in zip(points, _SRGB_POINTS, strict=True))
    return "other" if other else "untagged"


def _signalled(format_: Format, image: Image.Image, stream: IO[bytes]) -> Space:
    """Colour told by code points (ITU-T H.273) instead of a profile: AVIF, HEIC and PNG; and by BMP's own names."""
    if format_ == "heic":
        return _of_codes(image.info.get("nclx_profile"))
    stream.seek(0)
    head = stream.read(4096)
    if format_ == "bmp":
        named = len(head) > 74 and struct.unpack_from("<I", head, 14)[0] >= 108
        return "srgb" if named and head[70:74] in (_SRGB, _SYSTEM) else "untagged"
    if format_ not in ("avif", "png"):
        return "untagged"
    mark = b"nclx" if format_ == "avif" else b"cICP"
    at = head.find(mark)
    if at < 0 or at + 8 > len(head):
        return "untagged"
    if format_ == "avif":
        primaries, transfer = struct.unpack_from(">HH", head, at + 4)
    else:
        primaries, transfer = head[at + 4], head[at + 5]
    return _space_of(primaries, transfer)


def _space_of(primaries: int, transfer: int) -> Space:
    if transfer == 13:
        codes: dict[int, Space] = {1: "srgb", 12: "display-p3"}
        return codes.get(primaries, "other")
    return "untagged" if primaries == 2 else "other"


def _of_codes(held: Any) -> Space:
    try:
        return _space_of(int(held["color_primaries"]), int(held["transfer_characteristics"]))
    except (TypeError, KeyError, ValueError):
        return "untagged"


def channels_of(mode: Mode) -> int:
    """Channels that a profile for such pixels has."""
    return {"grey": 1, "mono": 1, "cmyk": 4}.get(mode, 3)
