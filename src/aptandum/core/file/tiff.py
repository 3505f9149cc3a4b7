"""TIFF (6.0): 8 and 16 bit, and one bit; not compressed, LZW or deflate; nothing is ever lost."""

from __future__ import annotations

import struct

import pyvips

from aptandum.core.file.metadata import Credit
from aptandum.core.photo import decode
from aptandum.core.photo.picture import Picture

COMPRESSIONS = ("none", "lzw", "deflate")

_ARTIST, _COPYRIGHT, _X, _Y, _UNIT = 315, 33432, 282, 283, 296
_ASCII, _SHORT = 2, 3


def encode_tiff(
    picture: Picture, ppi: float | None, credit: Credit, compression: str = "deflate"
) -> bytes:
    """A TIFF of the picture with its profile, density and credit."""
    image = decode.from_array(picture.pixels)
    one = picture.bits == 1
    if not one:
        blob = int(pyvips.GValue.blob_type)
        image.set_type(blob, "icc-profile-data", picture.icc)
    density = (ppi or 72.0) / 25.4
    raw: bytes = image.tiffsave_buffer(
        compression=compression,
        predictor="none" if compression == "none" or one else "horizontal",
        bitdepth=1 if one else 0,
        xres=density,
        yres=density,
        resunit="inch",
        keep="icc",
    )
    return _with_tags(raw, credit, stated=ppi is not None)


def _with_tags(data: bytes, credit: Credit, stated: bool) -> bytes:
    """The same file with its directory written anew: the credit added, and the density's unit
    set to none where no density is stated (the encoder always writes one)."""
    order = "<" if data[:2] == b"II" else ">"
    (at,) = struct.unpack_from(order + "I", data, 4)
    (count,) = struct.unpack_from(order + "H", data, at)
    entries: dict[int, bytes] = {}
    for i in range(count):
        entry = data[at + 2 + 12 * i : at + 14 + 12 * i]
        entries[struct.unpack_from(order + "H", entry)[0]] = entry
    body = bytearray(data)
    if not stated:
        entries[_UNIT] = struct.pack(order + "HHIHH", _UNIT, _SHORT, 1, 1, 0)
        entries.pop(_X, None)
        entries.pop(_Y, None)
    for tag, text in ((_ARTIST, credit.by), (_COPYRIGHT, credit.rights)):
        if text:
            held = text.encode("utf-8") + b"\0"
            if len(held) <= 4:
                entries[tag] = struct.pack(order + "HHI4s", tag, _ASCII, len(held), held)
                continue
            body += b"\0" * (len(body) % 2)
            entries[tag] = struct.pack(order + "HHII", tag, _ASCII, len(held), len(body))
            body += held
    body += b"\0" * (len(body) % 2)
    struct.pack_into(order + "I", body, 4, len(body))
    body += struct.pack(order + "H", len(entries))
    body += b"".join(entries[tag] for tag in sorted(entries))
    body += struct.pack(order + "I", 0)
    return bytes(body)
