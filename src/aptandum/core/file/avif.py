"""AVIF (AV1 Image File Format): a still picture of 8 bit, lossy at a quality or lossless."""

from __future__ import annotations

import io
from functools import cache

from aptandum.core.file.in_colour import in_colour
from aptandum.core.file.metadata import exif_block
from aptandum.core.later import Image, np
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.picture import Picture
from aptandum.core.words import say

_SPEED, _QUICKEST = 6, 9
"""Of 0 to 10: how little the encoder looks about for fewer bytes."""


_TRIED = 24
"""The side of the picture by which qualities are told apart, in pixels."""


@cache
def last_alike(quality: int) -> int:
    """The highest quality whose files are those of this one: the coding has 64 steps and no hundred.

    Args:
        quality: 1 to 100.
    """
    while quality < 100 and _told_by(quality) == _told_by(quality + 1):
        quality += 1
    return quality


@cache
def _told_by(quality: int) -> bytes:
    """The file that a quality makes of a small picture of noise, in which every step shows."""
    pixels = np.random.default_rng(7).integers(0, 256, (_TRIED, _TRIED, 3), dtype=np.uint8)
    out = io.BytesIO()
    Image.fromarray(pixels).save(
        out, "AVIF", quality=quality, subsampling="4:4:4", speed=_QUICKEST, max_threads=1
    )
    return out.getvalue()


def encode_avif(
    picture: Picture,
    ppi: float | None,
    credit: Credit,
    quality: int | None,
    subsampling: str = "4:4:4",
    quick: bool = False,
) -> bytes:
    """An AVIF of the picture with its profile, density and credit; ``quality`` 0 to 100, or
    ``None``: as near to lossless as the format's colour coding allows.

    Args:
        quick: in an eighth of the time and of other bytes, to tell by.

    Raises:
        PhotoError: the picture has 16 bit.
    """
    picture = in_colour(picture)
    pixels = picture.pixels
    if pixels.dtype.itemsize == 2:
        raise PhotoError(say("This AVIF encoder does not hold 16 bit."))
    out = io.BytesIO()
    block = exif_block(credit, ppi)
    Image.fromarray(np.ascontiguousarray(pixels)).save(
        out,
        "AVIF",
        quality=100 if quality is None else quality,
        subsampling="4:4:4" if quality is None else subsampling,
        speed=_QUICKEST if quick else _SPEED,
        max_threads=2,
        icc_profile=picture.icc,
        **({"exif": b"Exif\0\0" + block} if block else {}),
    )
    return out.getvalue()
