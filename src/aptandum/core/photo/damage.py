"""A reader's side: whether a picture's compressed data are whole, told by what a decoder alone would let pass.

A decoder goes on with what it takes for the next codes once a bit is wrong, and seldom minds. What betrays it: data
that are left over at the end, or are not enough; sums that do not agree; a picture that jumps in the middle of a row
of blocks and goes on so.

Sources: ITU-T T.81 (JPEG), RFC 9649 (WebP), TIFF 6.0 and its supplement on deflate, RFC 1950.
"""

from __future__ import annotations

import io
import re
import struct
import zlib
from collections.abc import Iterator
from typing import Any

import numpy as np
import simplejpeg
from numpy.typing import NDArray
from PIL import Image

from aptandum.core.photo import limits
from aptandum.core.photo.jumps import breaks

_EXTRA = re.compile(r"(\d+) extraneous bytes before marker")
_PADDING = 8
"""Bytes before a marker that some encoders leave there; more of them are data that were not understood."""
_END = b"\xff\xd9"
_TAIL = 64 << 10
"""Bytes at a JPEG's end in which its end mark is looked for: cameras add things behind it."""


def is_cut(data: bytes, format_: str) -> bool:
    """Whether a file that cannot be read ends before it says that it does."""
    if format_ == "png":
        at = 8
        while at + 8 <= len(data) and data[at + 4 : at + 8] != b"IEND":
            at += 12 + int.from_bytes(data[at : at + 4], "big")
        return at + 8 > len(data)
    if format_ == "webp":
        return 8 + int.from_bytes(data[4:8], "little") > len(data)
    if format_ in ("avif", "heic", "jxl") and data[4:8] in (b"ftyp", b"JXL "):
        at = 0
        while at + 8 <= len(data):
            size = int.from_bytes(data[at : at + 4], "big")
            if size < 8:
                return False  # it reaches to the end, or says its size elsewhere
            at += size
        return at > len(data)
    if format_ == "jpeg":
        return _END not in data[-_TAIL:]
    if format_ == "tiff":
        return any(end > len(data) for end in _ends(data))
    return format_ == "gif" and data.rstrip(b"\0")[-1:] != b";"


def lacks_directory(head: bytes, size: int) -> bool:
    """Whether a TIFF's directory would lie behind the end of the file."""
    order = "<" if head[:1] == b"I" else ">"
    big = 43 in head[2:4]
    if len(head) < (16 if big else 8):
        return True
    start = struct.unpack_from(order + ("Q" if big else "I"), head, 8 if big else 4)[0]
    return bool(start + 2 > size)


def _ends(data: bytes) -> Iterator[int]:
    """Where the strips or tiles of a TIFF end, as it says."""
    try:
        with Image.open(io.BytesIO(data), formats=["TIFF"]) as image:
            tags = dict(image.tag_v2)  # type: ignore[attr-defined]
    except Exception:  # a directory that lay behind the end
        yield len(data) + 1
        return
    for start, size in _places(tags):
        yield start + size


# --- JPEG ------------------------------------------------------------------------------------------


def in_jpeg(data: bytes, blocks: int = 0) -> str:
    """What speaks against a JPEG's data; empty where nothing does. A picture whose end mark alone is missing is whole.

    Args:
        blocks: the side of what is coded together, in pixels (8 or 16); 0: breaks are not looked for.
    """
    why, pixels = _decoded(data)
    if "premature end of jpeg" in why:
        again, more = _decoded(data + _END)
        if not again:
            why, pixels = again, more
    extra = _EXTRA.search(why)
    if extra is not None and int(extra[1]) <= _PADDING:
        why = ""
    if not why and blocks and pixels is not None and breaks(pixels, blocks):
        return "data damaged: the picture jumps"
    return why


def _decoded(data: bytes) -> tuple[str, NDArray[np.uint8] | None]:
    try:
        return "", simplejpeg.decode_jpeg(data, "RGB")
    except (ValueError, RuntimeError) as error:
        return str(error).lower(), None


# --- WebP ------------------------------------------------------------------------------------------

_SPARE = {b"VP8 ": 6, b"VP8L": 4, b"ALPH": 4}
"""Bytes that a part's data cannot lack and still be whole: they end with the last code, and a little padding."""


_ROWS = 128
"""Pixels of height from which on each of eight partitions has a row of blocks: a lower picture may have one that is
never asked for."""


def in_webp(data: bytes) -> str:
    """What speaks against a still WebP's data beside what its decoder says: a part that is decoded as well without
    its end has data that nothing asked for."""
    parts = list(_parts(data))
    if any(name == b"ANMF" for name, _body in parts):
        return ""
    for name, body in parts:
        spare = _SPARE.get(name)
        if spare is None or len(body) < 64 or (name == b"ALPH" and body[0] & 3 != 1):
            continue
        if name == b"VP8 " and int.from_bytes(body[8:10], "little") & 0x3FFF < _ROWS:
            continue
        kept = (
            len(body) - spare
        ) & ~1  # an odd number would be filled up by a byte that is read as well
        shorter = [(other, held[:kept] if other == name else held) for other, held in parts]
        if _decodes(_webp(shorter), "WEBP"):
            return "bad data: some are left over"
    return ""


def _parts(data: bytes) -> Iterator[tuple[bytes, bytes]]:
    at = 12
    while at + 8 <= len(data):
        size = struct.unpack_from("<I", data, at + 4)[0]
        yield data[at : at + 4], data[at + 8 : at + 8 + size]
        at += 8 + size + (size & 1)


def _webp(parts: list[tuple[bytes, bytes]]) -> bytes:
    body = b"".join(
        name + struct.pack("<I", len(held)) + held + bytes(len(held) & 1) for name, held in parts
    )
    return b"RIFF" + struct.pack("<I", 4 + len(body)) + b"WEBP" + body


def _decodes(data: bytes, kind: str) -> bool:
    """Whether a file of a kind can be decoded to its end."""
    limits.guard_libraries()
    try:
        with Image.open(io.BytesIO(data), formats=[kind]) as image:
            image.load()
    except MemoryError:
        raise
    except Exception:  # Pillow raises many kinds on damaged data
        return False
    return True


# --- TIFF ------------------------------------------------------------------------------------------

_OFFSETS, _COUNTS = (273, 324), (279, 325)
_DEFLATE, _LZW, _JPEG = (8, 32946), 5, 7
_YCC = 6
"""Brightness and colour difference, of which the second may have fewer pixels."""
_MOST_STRIPS = 200_000


def in_tiff(data: bytes, width: int, height: int) -> str:
    """What speaks against a TIFF's strips or tiles beside what its decoder says: it stops as soon as it has all
    pixels, whatever is left and whatever a sum says."""
    limits.guard_libraries()
    try:
        with Image.open(io.BytesIO(data), formats=["TIFF"]) as image:
            tags = dict(image.tag_v2)  # type: ignore[attr-defined]
    except Exception:  # the decoder says so itself
        return ""
    packing = int(tags.get(259, 1))
    if int(tags.get(266, 1)) == 2:
        return ""  # its bits run the other way
    strips = list(_strips(data, tags))
    if packing in _DEFLATE:
        return "" if all(map(_inflates, strips)) else "bad data: a sum does not agree"
    if packing == _JPEG:
        tables = bytes(tags.get(347, b""))
        for strip in strips:
            whole = tables[:-2] + strip[2:] if len(tables) > 4 else strip
            why = in_jpeg(whole)
            if why and "unsupported" not in why and "memory" not in why:
                return why
    plain = 322 not in tags and int(tags.get(284, 1)) == 1 and int(tags.get(262, 2)) != _YCC
    if packing == _LZW and plain:
        line = (width * _depth_of(tags) * int(tags.get(277, 1)) + 7) // 8
        rows = int(tags.get(278, height))
        for place, strip in enumerate(strips):
            last = min(rows, height - place * rows) * line
            # Some writers fill the last strip up to its full height.
            if not any(_unpacks(strip, needed) for needed in dict.fromkeys((last, rows * line))):
                return "bad data: too few or too many"
    return ""


def _depth_of(tags: dict[int, Any]) -> int:
    bits = tags.get(258, (1,))
    return int(bits[0] if isinstance(bits, tuple) else bits)


def _strips(data: bytes, tags: dict[int, Any]) -> Iterator[bytes]:
    for start, size in _places(tags):
        yield data[start : start + size]


def _places(tags: dict[int, Any]) -> Iterator[tuple[int, int]]:
    """Where each strip or tile begins, and its size."""
    for where, how_many in zip(_OFFSETS, _COUNTS, strict=True):
        starts, sizes = tags.get(where), tags.get(how_many)
        if starts is None or sizes is None:
            continue
        every = [one if isinstance(one, tuple) else (one,) for one in (starts, sizes)]
        for start, size in list(zip(*every, strict=False))[:_MOST_STRIPS]:
            yield int(start), int(size)


def _inflates(strip: bytes) -> bool:
    """Whether a strip is one whole stream of deflate, whose sum agrees."""
    stream = zlib.decompressobj()
    try:
        held = stream.decompress(strip, 1 << 20)
        while stream.unconsumed_tail:
            held = stream.decompress(stream.unconsumed_tail, 1 << 20)
    except zlib.error:
        return False
    del held
    return stream.eof


def _unpacks(strip: bytes, needed: int) -> bool:
    """Whether as many bytes come out of a strip of LZW as are needed, and not one more."""
    return _lzw(strip, needed) and not _lzw(strip, needed + 1)


def _lzw(strip: bytes, needed: int) -> bool:
    """Whether so many bytes come out of a strip, by the decoder: as a TIFF of its own, of one grey line."""
    tags = (
        (256, 4, needed), (257, 4, 1), (258, 3, 8), (259, 3, _LZW), (262, 3, 1), (273, 4, 8),
        (277, 3, 1), (278, 4, 1), (279, 4, len(strip)),
    )  # fmt: skip
    entries = b"".join(
        struct.pack("<HHIHH", tag, kind, 1, value, 0) if kind == 3
        else struct.pack("<HHII", tag, kind, 1, value)
        for tag, kind, value in tags
    )  # fmt: skip
    body = struct.pack("<H", len(tags)) + entries + bytes(4)
    padded = strip + bytes(len(strip) & 1)
    made = b"II*\0" + struct.pack("<I", 8 + len(padded)) + padded + body
    return _decodes(made, "TIFF")
