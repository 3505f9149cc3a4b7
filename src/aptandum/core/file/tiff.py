"""TIFF (6.0): 8 and 16 bit, and one bit; not compressed, LZW or deflate; nothing is ever lost."""

from __future__ import annotations

import struct

from aptandum.core.file.metadata import exif_block
from aptandum.core.later import pyvips
from aptandum.core.photo import decode
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.picture import Picture
from aptandum.core.words import say

COMPRESSIONS = ("none", "lzw", "deflate")

_X, _Y, _UNIT = 282, 283, 296
_SHORT = 3
_INNER = (0x8769, 0x8825)
"""Entries that point at a directory of their own."""

_WIDTHS = {1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 6: 1, 7: 1, 8: 2, 9: 4, 10: 8, 11: 4, 12: 8}
"""Bytes of one value of each of TIFF's types."""


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
    block = bytearray(exif_block(credit))
    if block:
        if order != "<":
            raise PhotoError(say("The TIFF made has no room for its credit."))
        body += b"\0" * (len(body) % 2)
        entries |= _moved(block, len(body))
        body += block
    body += b"\0" * (len(body) % 2)
    struct.pack_into(order + "I", body, 4, len(body))
    body += struct.pack(order + "H", len(entries))
    body += b"".join(entries[tag] for tag in sorted(entries))
    body += struct.pack(order + "I", 0)
    return bytes(body)


def _moved(block: bytearray, by: int, at: int | None = None) -> dict[int, bytes]:
    """The entries of a block's directory, all of their places moved, as the block itself lies
    ``by`` bytes into a file; the directories within are mended in the block."""
    start = struct.unpack_from("<I", block, 4)[0] if at is None else at
    entries: dict[int, bytes] = {}
    for i in range(struct.unpack_from("<H", block, start)[0]):
        place = start + 2 + 12 * i
        tag, kind, count, value = struct.unpack_from("<HHII", block, place)
        if tag in _INNER:
            _moved(block, by, value)
        if tag in _INNER or _WIDTHS[kind] * count > 4:
            struct.pack_into("<I", block, place + 8, value + by)
        entries[tag] = bytes(block[place : place + 12])
    return entries
