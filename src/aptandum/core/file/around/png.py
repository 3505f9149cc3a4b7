"""PNG (ISO/IEC 15948): chunks before and after the picture's own."""

from __future__ import annotations

import struct
import zlib

from aptandum.core.file.around.blocks import Around, Block, Kind, Unknown, density_in
from aptandum.core.file.encode import png_chunk, png_chunks

_XMP = b"XML:com.adobe.xmp"
_TEXT = (b"tEXt", b"zTXt", b"iTXt")


def _kind(kind: bytes, body: bytes) -> Kind:
    if kind == b"eXIf":
        return "exif"
    if kind in _TEXT:
        name = body.split(b"\0")[0]
        if name == _XMP or name == b"Raw profile type xmp":
            return "xmp"
        if name.startswith(b"Raw profile type"):
            return "iptc" if name.endswith(b"iptc") else "other"
        return "text"
    if kind == b"pHYs":
        return "density"
    if kind == b"iCCP":
        return "icc"
    if kind == b"tIME":
        return "text"
    return "other" if kind[0] & 0x20 and kind not in _SHOWN else "picture"


_SHOWN = (b"tRNS", b"gAMA", b"cHRM", b"sRGB", b"sBIT", b"bKGD", b"cICP", b"sPLT", b"hIST")
"""Ancillary chunks that say how the picture is to be shown."""


def _chunks(data: bytes) -> tuple[list[tuple[bytes, bytes]], bytes]:
    found = png_chunks(data)
    if not found or (b"IEND", b"") not in found:
        raise Unknown("no end")
    end = found.index((b"IEND", b""))
    found = found[: end + 1]
    return found, data[8 + sum(12 + len(body) for _kind_, body in found) :]


def blocks(data: bytes) -> tuple[Block, ...]:
    """Every block but the picture's own."""
    chunks, trailer = _chunks(data)
    found = [Block(_kind(name, body), _plain(name, body)) for name, body in chunks]
    if trailer.strip(b"\0"):
        found.append(Block("trailer", trailer))
    return tuple(block for block in found if block.kind != "picture")


def _plain(name: bytes, body: bytes) -> bytes:
    """A chunk's content, unpacked where it is packed text."""
    if name == b"zTXt":
        word, _, packed = body.partition(b"\0")
        return word + b"\0" + zlib.decompressobj().decompress(packed[1:], 1 << 22)
    if name == b"iTXt":
        word, _, rest = body.partition(b"\0")
        if rest[:1] == b"\1":
            _language, _, rest_ = rest[2:].partition(b"\0")
            packed = rest_.partition(b"\0")[2]
            return word + b"\0" + zlib.decompressobj().decompress(packed, 1 << 22)
    return body


def changed(data: bytes, around: Around) -> bytes:
    """The file with what lies around its picture changed."""
    chunks, trailer = _chunks(data)
    made: list[tuple[bytes, bytes]] = []
    for name, body in chunks:
        kind = _kind(name, body)
        if kind == "exif":
            if around.exif is not None:
                continue
            body = density_in(body, around.ppi) if around.ppi is not None else body
        elif (kind == "density" and around.ppi is not None) or kind in around.leave_out:
            continue
        made.append((name, body))
    added = []
    if around.ppi is not None:
        metre = round(around.ppi / 0.0254)
        added.append((b"pHYs", struct.pack(">IIB", metre, metre, 1)))
    if around.exif:
        added.append((b"eXIf", around.exif))
    names = [name for name, _body in made]
    at = names.index(b"IDAT")
    made[at:at] = added
    if around.icc and b"iCCP" not in names:
        # Before the palette, and instead of what says in short what it says in full.
        made = [pair for pair in made if pair[0] not in (b"sRGB", b"gAMA", b"cHRM")]
        made.insert(1, (b"iCCP", b"ICC profile\0\0" + zlib.compress(around.icc)))
    tail = b"" if "trailer" in around.leave_out else trailer
    return data[:8] + b"".join(png_chunk(name, body) for name, body in made) + tail


def picture(data: bytes) -> bytes:
    """The picture's own chunks, but for what says in short what a profile says in full.

    Raises:
        Unknown: a chunk's check sum is wrong.
    """
    chunks, _trailer = _chunks(data)
    at = 8
    for name, body in chunks:
        (check,) = struct.unpack_from(">I", data, at + 8 + len(body))
        if check != zlib.crc32(body, zlib.crc32(name)):
            raise Unknown("a chunk whose check sum is wrong")
        at += 12 + len(body)
    return b"".join(
        name + body
        for name, body in chunks
        if _kind(name, body) == "picture" and name not in (b"sRGB", b"gAMA", b"cHRM")
    )
