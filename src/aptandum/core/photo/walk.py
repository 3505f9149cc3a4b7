"""What a picture file says of its size, by its structure alone: no decoder, nothing allocated, bounded hops.

A few bytes can claim gigabytes: a GIF's frame that lies far outside its canvas, a PNG's header without data, a
BMP's height. Libraries allocate by such claims while they open a file, so they are looked at first. A walk may only
say that a picture is too large or that its data cannot hold its pixels; whatever it does not understand is for the
decoder to say.

Sources: ISO/IEC 15948 (PNG), CompuServe GIF89a, Adobe TIFF 6.0, RFC 9649 (WebP), ISO/IEC 23008-12 (AVIF's boxes),
Microsoft's BITMAPINFOHEADER.
"""

from __future__ import annotations

import mmap
import struct
from struct import unpack_from
from typing import IO

from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.photo import jxl_header
from aptandum.core.photo.facts import Format
from aptandum.core.words import say

Buffer = bytes | memoryview | mmap.mmap

_HOPS = 400_000
"""Parts of a file that are stepped over at most; what lies behind them is not looked at."""
_PAGES = 1000
_TEXTS = 64
_DEEP = 10
_DEFLATE = 1040
"""Deflate packs at most so many bytes into one (1,032, and some for its headers)."""
_SLACK = 4096
"""Bytes that a damaged file may lack and still be looked at by the decoder."""


class Impossible(AptandumError, ValueError):
    """A picture that cannot be what it claims; the message is a cause, without the file's name.

    Attributes:
        size: what it claims, in pixels; ``None`` where that is not known.
    """

    def __init__(self, cause: str, size: tuple[int, int] | None = None) -> None:
        super().__init__(cause)
        self.size = size


@frozen
class Declared:
    """What a file claims.

    Attributes:
        width, height: in pixels, the largest that any of its frames needs.
        frames: of an animation, or pages.
        exif: where EXIF data lie (first byte, one behind the last); ``None`` where that is left to the decoder.
        texts: the texts of a PNG: the chunk's name, and where it lies.
        unread: why pictures of this kind are not read, as a cause; empty where they are.
        bits: of each number, where that is a reason; else ``None``.
        pixels: where the first pixels of a PNG lie; ``None``: of others, or not found.
    """

    width: int
    height: int
    frames: int = 1
    exif: tuple[int, int] | None = None
    texts: tuple[tuple[bytes, int, int], ...] = ()
    unread: str = ""
    bits: int | None = None
    pixels: int | None = None


def declared(data: Buffer, format_: Format) -> Declared | None:
    """What a file of a format claims; ``None`` where its structure does not tell.

    Raises:
        Impossible: its data cannot hold the pixels that it claims, or its parts contradict one another.
    """
    try:
        return _WALKS[format_](data)
    except (struct.error, IndexError):
        return None


def claimed(stream: IO[bytes], format_: Format) -> Declared | None:
    """What an open file claims, before any library allocates by it.

    Raises:
        Impossible: it cannot be what it claims.
    """
    try:
        with mmap.mmap(stream.fileno(), 0, access=mmap.ACCESS_READ) as data:
            return declared(data, format_)
    except (OSError, ValueError, AttributeError):  # no file of the system: it is in memory
        pass
    stream.seek(0)
    held = stream.read()
    stream.seek(0)
    return declared(held, format_)


_SCANS = frozenset((0xC0, 0xC1, 0xC2))
"""Frames of a JPEG that are read: baseline, extended and progressive, coded by Huffman (ITU-T T.81, table B.1)."""
_OTHER_SCANS = frozenset((0xC3, *range(0xC5, 0xC8), *range(0xC9, 0xCC), *range(0xCD, 0xD0)))


def _jpeg(data: Buffer) -> Declared | None:
    """What its frame says, where that is of a kind that is not read; else the decoder's own way is as quick."""
    at = 2
    for _ in range(5000):
        while at + 1 < len(data) and data[at] == data[at + 1] == 0xFF:
            at += 1
        if at + 10 > len(data) or data[at] != 0xFF:
            return None
        marker, size = data[at + 1], unpack_from(">H", data, at + 2)[0]
        if marker in _SCANS or marker in _OTHER_SCANS:
            bits, height, width = unpack_from(">BHH", data, at + 4)
            why = ""
            if marker in _OTHER_SCANS:
                why = say(
                    "it is coded without loss or by arithmetic, and pictures of this kind are not supported"
                )
            elif bits != 8:
                why = say("it has {n} bits for each channel, and only 8 are supported", n=bits)
            return Declared(width, height, unread=why, bits=bits) if why else None
        if marker == 0xDA:
            return None
        at += 2 + size
    return None


_CHANNELS = {0: 1, 2: 3, 3: 1, 4: 2, 6: 4}


def _png(data: Buffer) -> Declared | None:
    if data[12:16] != b"IHDR":
        return None
    width, height, depth, kind = unpack_from(">IIBB", data, 16)
    if kind not in _CHANNELS or depth not in (1, 2, 4, 8, 16):
        return None
    at, held, frames, exif, pixels = 8, 0, 1, None, None
    texts: list[tuple[bytes, int, int]] = []
    for _ in range(_HOPS):
        if at + 8 > len(data):
            break
        size, name = unpack_from(">I", data, at)[0], data[at + 4 : at + 8]
        if size > 0x7FFFFFFF or name == b"IEND":
            break
        if name == b"acTL" and at + 12 <= len(data):
            frames = max(1, unpack_from(">I", data, at + 8)[0])
        if name in (b"IDAT", b"fdAT"):
            held += min(size, len(data) - at - 8)
            pixels = pixels or at
        if name == b"eXIf":
            exif = at + 8, min(at + 8 + size, len(data))
        if name in (b"tEXt", b"zTXt", b"iTXt") and len(texts) < _TEXTS:
            texts.append((bytes(name), at + 8, min(at + 8 + size, len(data))))
        at += 12 + size
    needed = height * ((width * depth * _CHANNELS[kind] + 7) // 8)
    _holds(needed, _DEFLATE * held, (width, height))
    return Declared(width, height, frames, exif, tuple(texts), pixels=pixels)


def _gif(data: Buffer) -> Declared | None:
    width, height, flags = unpack_from("<HHB", data, 6)
    at = 13 + ((3 << ((flags & 7) + 1)) if flags & 0x80 else 0)
    frames = 0
    for _ in range(_HOPS):
        if at >= len(data):
            break
        mark = data[at]
        if mark == 0x3B:
            break
        if mark == 0x2C:
            x, y, w, h, local = unpack_from("<HHHHB", data, at + 1)
            width, height, frames = max(width, x + w), max(height, y + h), frames + 1
            at += 11 + ((3 << ((local & 7) + 1)) if local & 0x80 else 0)
        elif mark == 0x21:
            at += 2
        else:
            at += 1
            continue
        while at < len(data) and data[at]:
            at += 1 + int(data[at])
        at += 1
    return Declared(width, height, max(1, frames))


def _bmp(data: Buffer) -> Declared | None:
    start, header = unpack_from("<II", data, 10)
    packing = 0
    if header == 12:
        width, height, _planes, depth = unpack_from("<HHHH", data, 18)
    elif header >= 40:
        width, height, _planes, depth, packing = unpack_from("<iiHHI", data, 18)
        height = abs(height)
    else:
        return None
    if width <= 0 or height <= 0 or depth not in (1, 2, 4, 8, 16, 24, 32):
        return None
    if packing in (0, 3, 6):  # not packed
        needed = height * ((width * depth + 31) // 32 * 4)
        _holds(needed, 2 * max(0, len(data) - start), (width, height))
    else:  # a skip of up to 255 rows or columns takes four bytes
        _holds(width * height, 255 * 255 * max(0, len(data) - start), (width, height))
    return Declared(width, height)


_TYPES = {1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 6: 1, 7: 1, 8: 2, 9: 4, 10: 8, 11: 4, 12: 8, 13: 4, 16: 8, 17: 8, 18: 8}  # fmt: skip


def _tiff(data: Buffer) -> Declared | None:
    order = "<" if data[0] == 0x49 else ">"
    big = 43 in data[2:4]
    at = unpack_from(order + ("Q" if big else "I"), data, 8 if big else 4)[0]
    seen: set[int] = set()
    width = height = pages = 0
    first: dict[int, int] = {}
    while at and at not in seen and len(seen) < _PAGES and at + 8 <= len(data):
        seen.add(at)
        tags, at = _directory(data, at, order, big)
        first = first or tags
        width, height = max(width, tags.get(256, 0)), max(height, tags.get(257, 0))
        pages += not tags.get(254, 0) & 1
        if tags.get(277, 1) > 16:
            raise Impossible(say("it claims {n} numbers for each pixel", n=tags[277]))
    if not width or not height:
        return None
    return Declared(width, height, max(1, pages), unread=_unread_tiff(first), bits=first.get(258))


_LAB = frozenset((8, 9, 10))
_PACKED = frozenset((1, 2, 3, 4, 5, 7, 8, 32773, 32946))
"""Compressions of TIFF that are read: none, fax, LZW, JPEG, deflate and PackBits."""


def _unread_tiff(tags: dict[int, int]) -> str:
    """Why a TIFF of this kind is not read (TIFF 6.0: SampleFormat, PhotometricInterpretation, Compression)."""
    packing = tags.get(259, 1)
    if tags.get(339, 1) == 3:
        return say("its pixels are fractions, and only whole numbers of 8 and 16 bit are supported")
    if tags.get(339, 1) == 2:
        return say("its pixels have signs, and only whole numbers of 8 and 16 bit are supported")
    if tags.get(258, 8) > 16:
        return say("it has {n} bits for each channel, and at most 16 are supported", n=tags[258])
    if tags.get(262, 1) in _LAB:
        return say("its colours are CIELAB, which is not supported")
    if packing == 6:
        return say("it is packed as an old kind of JPEG, which is not supported")
    if packing not in _PACKED:
        return say("it is packed in a way ({n}) that is not supported", n=packing)
    return ""


def _directory(data: Buffer, at: int, order: str, big: bool) -> tuple[dict[int, int], int]:
    """A page's tags with a single whole number, and where the next page begins; 0: nowhere."""
    count = unpack_from(order + ("Q" if big else "H"), data, at)[0]
    at += 8 if big else 2
    step, value = (20, 12) if big else (12, 8)
    if count > 4096 or at + count * step > len(data):
        raise Impossible(say("its directory is damaged"))
    tags = {}
    for place in range(at, at + count * step, step):
        tag, kind = unpack_from(order + "HH", data, place)
        many = unpack_from(order + ("Q" if big else "I"), data, place + 4)[0]
        if many * _TYPES.get(kind, 1) > len(data):
            raise Impossible(say("it claims more than the file holds"))
        if kind == 3 and many > 2 and tag in (258, 339):  # one number for each channel, elsewhere
            spot = unpack_from(order + ("Q" if big else "I"), data, place + value)[0]
            tags[tag] = unpack_from(order + "H", data, spot)[0] if spot + 2 <= len(data) else 0
        elif kind in (3, 4, 13):
            tags[tag] = unpack_from(order + ("H" if kind == 3 else "I"), data, place + value)[0]
    at += count * step
    if at + (8 if big else 4) > len(data):
        return tags, 0
    return tags, unpack_from(order + ("Q" if big else "I"), data, at)[0]


def _webp(data: Buffer) -> Declared | None:
    at, width, height, frames = 12, 0, 0, 0
    for _ in range(_HOPS):
        if at + 8 > len(data):
            break
        name, size = data[at : at + 4], unpack_from("<I", data, at + 4)[0]
        part = bytes(data[at + 8 : at + 40])
        sides = None
        if name == b"VP8X" and len(part) >= 10:
            sides = 1 + _three(part, 4), 1 + _three(part, 7)
        elif name == b"VP8 " and len(part) >= 10 and part[3:6] == b"\x9d\x01\x2a":
            wide, high = unpack_from("<HH", part, 6)
            sides, frames = (wide & 0x3FFF, high & 0x3FFF), frames + 1
        elif name == b"VP8L" and len(part) >= 5:
            bits = unpack_from("<I", part, 1)[0]
            sides, frames = ((bits & 0x3FFF) + 1, (bits >> 14 & 0x3FFF) + 1), frames + 1
        elif name == b"ANMF" and len(part) >= 12:
            sides, frames = (1 + _three(part, 6), 1 + _three(part, 9)), frames + 1
        if sides is not None:
            width, height = max(width, sides[0]), max(height, sides[1])
        at += 8 + size + (size & 1)
    return Declared(width, height, max(1, frames)) if width and height else None


def _three(part: bytes, at: int) -> int:
    return int.from_bytes(part[at : at + 3], "little")


_INTO = {b"meta": 4, b"iprp": 0, b"ipco": 0, b"moov": 0, b"trak": 0, b"mdia": 0, b"minf": 0, b"stbl": 0, b"stsd": 8}  # fmt: skip
"""Boxes with boxes inside, and how many bytes come before those."""


def _avif(data: Buffer) -> Declared | None:
    sizes: list[tuple[int, int]] = [(0, 0)]
    frames = 1
    hops = 0
    left = [(0, len(data), 0)]
    while left:
        at, end, depth = left.pop()
        while at + 8 <= end and hops < _HOPS:
            hops += 1
            size, name, head = unpack_from(">I", data, at)[0], bytes(data[at + 4 : at + 8]), 8
            if size == 1 and at + 16 <= end:
                size, head = unpack_from(">Q", data, at + 8)[0], 16
            size = end - at if size == 0 else size
            if size < head:
                break
            inner = at + head
            if name in _INTO and depth < _DEEP:
                left.append((inner + _INTO[name], min(end, at + size), depth + 1))
            elif name == b"ispe" and inner + 12 <= end:
                sizes.append(unpack_from(">II", data, inner + 4))
            elif name in (b"av01", b"hvc1") and inner + 28 <= end:
                sizes.append(unpack_from(">HH", data, inner + 24))
            elif name == b"stsz" and inner + 12 <= end:
                frames = max(frames, unpack_from(">I", data, inner + 8)[0])
            at += size
    width, height = max(sizes, key=lambda size: size[0] * size[1])
    return Declared(width, height, frames) if width and height else None


def _jxl(data: Buffer) -> Declared | None:
    held = jxl_header.read(data)
    if held is None:
        return None
    why = ""
    if held.moving:
        why = say("it is an animation, and of JPEG XL only still pictures are supported")
    elif held.fractions:
        why = say("its pixels are fractions, and only whole numbers of 8 and 16 bit are supported")
    elif held.bits > 16:
        why = say("it has {n} bits for each channel, and at most 16 are supported", n=held.bits)
    elif held.black:
        why = say("it is in inks (CMYK), which is not supported in JPEG XL")
    return Declared(held.width, held.height, unread=why, bits=held.bits)


def _holds(needed: int, most: int, size: tuple[int, int]) -> None:
    """Raises:
    Impossible: more bytes of pixels are needed than there can be.
    """
    if needed > most + _SLACK:
        raise Impossible(say("its data cannot hold the pixels that it claims"), size)


_WALKS = {
    "jpeg": _jpeg, "png": _png, "gif": _gif, "bmp": _bmp, "tiff": _tiff, "webp": _webp, "avif": _avif, "heic": _avif,
    "jxl": _jxl,
}  # fmt: skip
