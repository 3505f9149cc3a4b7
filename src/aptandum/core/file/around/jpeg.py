"""JPEG (ISO/IEC 10918-1): marker segments before and between the scans."""

from __future__ import annotations

import re
import struct
from collections.abc import Iterator

from aptandum.core.file.around.blocks import Around, Block, Kind, Unknown, density_in
from aptandum.core.file.encode import exif_segment, icc_segments, jfif

_EXIF, _ICC = b"Exif\0\0", b"ICC_PROFILE\0"
_SOS, _EOI = 0xDA, 0xD9
_BARE = {0x01, *range(0xD0, 0xD9)}


def _segments(data: bytes) -> Iterator[tuple[int, bytes, bytes]]:
    """Each segment: its marker, its body, and its bytes in the file; a scan's include its data."""
    if data[:2] != b"\xff\xd8":
        raise Unknown("no start of image")
    at = 2
    while True:
        start = at
        if data[at] != 0xFF:
            raise Unknown("no marker where one is due")
        while data[at] == 0xFF:
            at += 1
        marker = data[at]
        at += 1
        if marker == _EOI:
            yield marker, b"", data[start:at]
            yield 0, data[at:], data[at:]
            return
        if marker in _BARE:
            yield marker, b"", data[start:at]
            continue
        (size,) = struct.unpack_from(">H", data, at)
        if size < 2 or at + size > len(data):
            raise Unknown("a segment that is cut short")
        body = data[at + 2 : at + size]
        at += size
        if marker == _SOS:
            at = _after_scan(data, at)
        yield marker, body, data[start:at]


_END = re.compile(rb"\xff(?=[^\x00\xd0-\xd7\xff])")
"""The next marker in a scan's data: neither a stuffed zero, nor a restart, nor a fill byte."""


def _after_scan(data: bytes, at: int) -> int:
    """Where a scan's data end: at the next marker that is no restart."""
    found = _END.search(data, at)
    if found is None:
        raise Unknown("a scan without an end")
    return found.start()


def _kind(marker: int, body: bytes) -> Kind:
    if marker == 0:
        return "trailer"
    if marker == 0xE0 and body[:5] == b"JFIF\0":
        return "density"
    if marker == 0xE1 and body[:6] == _EXIF:
        return "exif"
    if marker == 0xE1 and body.startswith(b"http://ns.adobe.com/"):
        return "xmp"
    if marker == 0xE2 and body.startswith(_ICC):
        return "icc"
    if marker == 0xED and body.startswith(b"Photoshop 3.0\0"):
        return "iptc"
    if marker == 0xFE:
        return "text"
    if marker == 0xEE and body.startswith(b"Adobe"):  # how the colours are coded
        return "picture"
    return "other" if 0xE0 <= marker <= 0xEF else "picture"


def blocks(data: bytes) -> tuple[Block, ...]:
    """Every block but the picture's own."""
    found = []
    for marker, body, _whole in _segments(data):
        kind = _kind(marker, body)
        if kind == "exif":
            body = body[len(_EXIF) :]
        if kind != "picture" and (kind != "trailer" or body.strip(b"\0")):
            found.append(Block(kind, body))
    return tuple(found)


def changed(data: bytes, around: Around) -> bytes:
    """The file with what lies around its picture changed."""
    head: list[bytes] = []
    rest: list[bytes] = []
    has_icc = False
    for marker, body, whole in _segments(data):
        kind = _kind(marker, body)
        if kind == "density":
            if around.ppi is not None:
                whole = jfif(around.ppi)[:4] + _density(body, around.ppi)
            head.insert(0, whole)
        elif kind == "exif":
            if around.exif is None:
                block = body[len(_EXIF) :]
                if around.ppi is not None:
                    block = density_in(block, around.ppi)
                rest.append(exif_segment(block))
        elif kind in around.leave_out:
            continue
        else:
            has_icc = has_icc or kind == "icc"
            rest.append(whole)
    if around.ppi is not None and not head:
        head.append(jfif(around.ppi))
    if around.exif:
        head.append(exif_segment(around.exif))
    if around.icc and not has_icc:
        head.append(icc_segments(around.icc))
    return b"\xff\xd8" + b"".join(head) + b"".join(rest)


def _density(body: bytes, ppi: float) -> bytes:
    """A JFIF block's body with another density, and without its small picture."""
    return bytes(body[:7]) + jfif(ppi)[11:16] + b"\0\0"


def picture(data: bytes) -> bytes:
    """The picture's own segments and scans."""
    return b"".join(
        whole for marker, body, whole in _segments(data) if _kind(marker, body) == "picture"
    )
