"""AVIF (AV1 Image File Format): a still picture of 8 bit, lossy at a quality or lossless."""

from __future__ import annotations

import io

from aptandum.core.file.in_colour import in_colour
from aptandum.core.file.metadata import exif_block
from aptandum.core.later import Image, np
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.picture import Picture
from aptandum.core.words import say

_SPEED, _QUICKEST = 6, 9
"""Of 0 to 10: how little the encoder looks about for fewer bytes."""


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
