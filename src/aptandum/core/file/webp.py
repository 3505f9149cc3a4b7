"""WebP (RFC 9649): lossy at a quality, or lossless."""

from __future__ import annotations

import struct

from aptandum.core.file.in_colour import in_colour
from aptandum.core.file.metadata import exif_block
from aptandum.core.later import pyvips
from aptandum.core.photo import decode
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.picture import Picture
from aptandum.core.words import say

MOST = 16_383
"""Longest side of a WebP in pixels."""

_HAS_EXIF = 0x08
_EFFORT = 4
"""Of 0 to 6: how much the encoder looks about for fewer bytes."""


def encode_webp(
    picture: Picture, ppi: float | None, credit: Credit, quality: int | None, quick: bool = False
) -> bytes:
    """A WebP of the picture with its profile, density and credit; ``quality`` 0 to 100, or
    ``None``: lossless.

    Args:
        quick: in a quarter of the time and of other bytes, to tell by.

    Raises:
        PhotoError: a side is too long, or the picture has 16 bit.
    """
    if max(picture.size) > MOST:
        raise PhotoError(say("A WebP has at most {n} pixels on a side.", n=MOST))
    if picture.pixels.dtype.itemsize == 2:
        raise PhotoError(say("WebP does not hold 16 bit."))
    picture = in_colour(picture)
    image = decode.from_array(picture.pixels)
    image.set_type(int(pyvips.GValue.blob_type), "icc-profile-data", picture.icc)
    raw: bytes = image.webpsave_buffer(
        Q=quality if quality is not None else 75,
        lossless=quality is None,
        exact=quality is None,
        effort=0 if quick else _EFFORT,
        keep="icc",
    )
    block = exif_block(credit, ppi)
    return _with_exif(raw, block) if block else raw


def _with_exif(data: bytes, block: bytes) -> bytes:
    """The same file with an EXIF chunk; one with a profile is an extended file already."""
    body = bytearray(data)
    if body[12:16] != b"VP8X":
        raise PhotoError(say("The WebP made has no room for its credit."))
    body[20] |= _HAS_EXIF
    body += b"EXIF" + struct.pack("<I", len(block)) + block + b"\0" * (len(block) % 2)
    struct.pack_into("<I", body, 4, len(body) - 8)
    return bytes(body)
