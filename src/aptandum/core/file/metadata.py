"""Writing what a file tells as EXIF, together with its pixels per inch."""

from __future__ import annotations

from aptandum.core.later import Image, TiffImagePlugin
from aptandum.core.photo.metadata_groups import (
    ARTIST,
    CAPTION,
    COPYRIGHT,
    DATE,
    PLACE,
    SHOT,
    TAKEN,
    TAKING,
    Credit,
)

_ORIENTATION = 0x0112
_XRES, _YRES, _RESUNIT = 0x011A, 0x011B, 0x0128


def exif_block(credit: Credit, ppi: float | None = None, orientation: int = 1) -> bytes:
    """An EXIF block (TIFF structure, little-endian, without its ``Exif`` header), or nothing;
    with the pixels per inch too, for formats that hold them nowhere else, and with how the stored
    picture is to be turned, where it is not upright."""
    if not credit and ppi is None and orientation == 1:
        return b""
    exif = Image.Exif()
    exif.endian = "<"
    if orientation != 1:
        exif[_ORIENTATION] = orientation
    if ppi is not None:
        exif[_XRES] = exif[_YRES] = TiffImagePlugin.IFDRational(round(ppi * 1000), 1000)
        exif[_RESUNIT] = 2
    texts = ((ARTIST, credit.by), (COPYRIGHT, credit.rights), (CAPTION, credit.caption))
    for tag, text in texts:
        if text:
            exif[tag] = text.encode("utf-8")  # EXIF 3.0; as text Pillow would write ? for letters
    if credit.date:
        exif[DATE] = credit.date
        exif.get_ifd(SHOT)[TAKEN] = credit.date
    for tag, value in credit.camera.items():
        if tag in TAKING:
            exif.get_ifd(SHOT)[tag] = value
        else:
            exif[tag] = value
    if credit.place:
        exif.get_ifd(PLACE).update(credit.place)
    return exif.tobytes().removeprefix(b"Exif\0\0")
