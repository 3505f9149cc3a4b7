"""Small files of every format with metadata of every kind, for tests of what lies round a picture."""

from __future__ import annotations

import io

import cv2
import numpy as np
import pyvips
from PIL import Image

from aptandum.core.file.around import changed
from aptandum.core.file.around.blocks import Around


def exif_of(camera: bool, place: bool, orientation: int = 1) -> Image.Exif:
    exif = Image.Exif()
    exif[0x013B] = "Tobin Oar"
    exif[0x010E] = "Low tide"
    if orientation != 1:
        exif[0x0112] = orientation
    if camera:
        exif[0x010F], exif[0x0110] = "Halyard", "F2"
        exif.get_ifd(0x8769)[0x829D] = 2.8
        exif.get_ifd(0x8769)[0x927C] = b"the maker's own notes"
    if place:
        exif.get_ifd(0x8825).update({1: "N", 2: (51.0, 30.0, 36.0), 3: "W", 4: (9.0, 15.0, 0.0)})
    return exif


def file_of(format_: str, exif: Image.Exif | None = None, size=(180, 120), **options) -> bytes:
    rng = np.random.default_rng(3)
    small = rng.integers(0, 255, (size[1] // 10, size[0] // 10, 3), np.uint8)
    pixels = cv2.resize(small, size, interpolation=cv2.INTER_CUBIC)
    out = io.BytesIO()
    more = {"exif": exif.tobytes()} if exif is not None else {}
    if format_ == "tiff" and exif is not None:
        # Pillow writes a TIFF's directories itself; its file of the place is put in by libvips.
        image = pyvips.Image.new_from_memory(pixels.tobytes(), *size, 3, "uchar")
        return _tiff_with(image, exif)
    Image.fromarray(pixels).save(out, format_.upper(), **more, **options)
    return out.getvalue()


def _tiff_with(image: pyvips.Image, exif: Image.Exif) -> bytes:
    data = image.copy(interpretation="srgb").tiffsave_buffer(compression="deflate")
    return changed(data, "tiff", Around(exif=exif.tobytes().removeprefix(b"Exif\0\0")))
