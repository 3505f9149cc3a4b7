"""WebP (RFC 9649): chunks of a RIFF file."""

from __future__ import annotations

import struct

from aptandum.core.file.around.blocks import Around, Block, Kind, Unknown, density_in
from aptandum.core.file.metadata import exif_block
from aptandum.core.photo.metadata_groups import Credit

_ICC, _ALPHA, _EXIF, _XMP = 0x20, 0x10, 0x08, 0x04
_KINDS: dict[bytes, Kind] = {b"EXIF": "exif", b"XMP ": "xmp", b"ICCP": "icc"}
_PICTURE = (b"VP8 ", b"VP8L", b"ALPH", b"VP8X", b"ANIM", b"ANMF")


def _kind(name: bytes) -> Kind:
    return _KINDS.get(name, "picture" if name in _PICTURE else "other")


def _chunks(data: bytes) -> tuple[list[tuple[bytes, bytes]], bytes]:
    if data[:4] != b"RIFF" or data[8:12] != b"WEBP":
        raise Unknown("no WebP")
    end = min(len(data), 8 + struct.unpack_from("<I", data, 4)[0])
    found, at = [], 12
    while at + 8 <= end:
        name, size = struct.unpack_from("<4sI", data, at)
        if at + 8 + size > end:
            raise Unknown("a chunk that is cut short")
        found.append((name, data[at + 8 : at + 8 + size]))
        at += 8 + size + size % 2
    return found, data[end:]


def blocks(data: bytes) -> tuple[Block, ...]:
    """Every block but the picture's own."""
    chunks, trailer = _chunks(data)
    found = [
        Block(_kind(name), body.removeprefix(b"Exif\0\0")) for name, body in chunks
        if _kind(name) != "picture"
    ]  # fmt: skip
    return (*found, Block("trailer", trailer)) if trailer.strip(b"\0") else tuple(found)


def changed(data: bytes, around: Around) -> bytes:
    """The file with what lies around its picture changed."""
    chunks, trailer = _chunks(data)
    exif = around.exif
    own = next((body for name, body in chunks if name == b"EXIF"), None)
    if exif is None and own is not None:
        own = own.removeprefix(b"Exif\0\0")
        exif = density_in(own, around.ppi) if around.ppi is not None else own
    elif exif is None and around.ppi is not None:
        exif = exif_block(Credit(), around.ppi)
    icc = next((body for name, body in chunks if name == b"ICCP"), around.icc)
    xmp = [body for name, body in chunks if name == b"XMP " and "xmp" not in around.leave_out]
    others = [
        (name, body) for name, body in chunks
        if _kind(name) == "other" and "other" not in around.leave_out
    ]  # fmt: skip
    picture = [
        (name, body) for name, body in chunks if _kind(name) == "picture" and name != b"VP8X"
    ]
    flags = _ICC * bool(icc) | _EXIF * bool(exif) | _XMP * bool(xmp) | _flags_of(chunks)
    made = [(b"VP8X", _head(data, chunks, flags))] if flags or others else []
    made += [(b"ICCP", icc)] if icc else []
    made += picture
    made += [(b"EXIF", exif)] if exif else []
    made += [(b"XMP ", body) for body in xmp] + others
    body = b"".join(
        name + struct.pack("<I", len(part)) + part + b"\0" * (len(part) % 2) for name, part in made
    )
    tail = b"" if "trailer" in around.leave_out else trailer
    return b"RIFF" + struct.pack("<I", 4 + len(body)) + b"WEBP" + body + tail


def _flags_of(chunks: list[tuple[bytes, bytes]]) -> int:
    """What the extended header says of the picture itself: transparency and animation."""
    for name, body in chunks:
        if name == b"VP8X":
            return body[0] & (_ALPHA | 0x02)
        if name == b"VP8L":
            return _ALPHA * bool(body[4] & 0x10)
    return 0


def _head(data: bytes, chunks: list[tuple[bytes, bytes]], flags: int) -> bytes:
    """The extended header: flags, and the sides less one in 24 bits."""
    held = next((body for name, body in chunks if name == b"VP8X"), None)
    if held is not None:
        return bytes([flags]) + held[1:]
    name, body = next((n, b) for n, b in chunks if n in (b"VP8 ", b"VP8L"))
    if name == b"VP8L":
        (bits,) = struct.unpack_from("<I", body, 1)
        wide, high = (bits & 0x3FFF) + 1, (bits >> 14 & 0x3FFF) + 1
    else:
        wide, high = (v & 0x3FFF for v in struct.unpack_from("<HH", body, 6))
    sides = struct.pack("<I", wide - 1)[:3] + struct.pack("<I", high - 1)[:3]
    return bytes([flags, 0, 0, 0]) + sides


def picture(data: bytes) -> bytes:
    """The picture's own chunks."""
    chunks, _trailer = _chunks(data)
    return b"".join(
        name + body for name, body in chunks if _kind(name) == "picture" and name != b"VP8X"
    )
