"""A reader's side: JPEG XL for Pillow, by libjxl through pyjpegxl, decoded only once its pixels are asked for.

Of the bindings that there are, this one tells a header without decoding and gives 16 bit as they are. Its own bridge
to Pillow does neither.
"""

from __future__ import annotations

import io
from typing import Any

from numpy.typing import NDArray
from PIL import Image, ImageFile

from aptandum.core.later import pyjpegxl
from aptandum.core.photo import jxl_header
from aptandum.core.photo.profile import identify

_NAMED = frozenset(("srgb", "display-p3", "adobe-rgb", "grey"))
"""Spaces that need no profile: the file names them."""


class JxlImageFile(ImageFile.ImageFile):
    """A JPEG XL file. Its decoder turns it as it says; EXIF has no say there."""

    format = "JXL"
    format_description = "JPEG XL"

    def _open(self) -> None:
        assert self.fp is not None
        self._held = self.fp.read()
        header = jxl_header.read(self._held)
        try:
            told = pyjpegxl.probe(self._held)
        except (RuntimeError, ValueError) as error:
            raise SyntaxError(str(error)) from None
        self._size = told.width, told.height
        grey = told.num_color_channels == 1
        self._mode = ("L" if grey else "RGB") + ("A" if told.has_alpha else "")
        self.info["bit_depth"] = told.bits_per_sample
        icc = told.icc or b""
        space = identify(icc).space if icc else "srgb"
        if icc and ((header is not None and header.profile) or space not in _NAMED):
            self.info["icc_profile"] = icc
        self.info["named_space"] = "grey" if grey else space
        if told.exif:
            self.info["exif"] = b"Exif\0\0" + told.exif[_start_of(told.exif) :]
        if told.xmp:
            self.info["xmp"] = told.xmp
        self.tile = []

    def load(self) -> Any:
        """Pillow's own pixels, of 8 bit."""
        if self._held:
            pixels = pixels_of(self._held, 8)
            self.im = Image.fromarray(pixels.squeeze()).im
            self._held = b""
        return super().load()


def _start_of(exif: bytes) -> int:
    """EXIF in a box begins with where its TIFF header lies; some tools leave that out."""
    return 0 if exif[:4] in (b"II*\0", b"MM\0*") else 4


def pixels_of(data: Any, bits: int) -> NDArray[Any]:
    """Pixels as shown, (height, width, bands), of 16 bit where it has more than 8.

    Raises:
        RuntimeError, ValueError: they cannot be decoded.
    """
    held = bytes(data[:])
    _told, array = pyjpegxl.decode_to_numpy(held, dtype="uint16" if bits > 8 else "uint8")
    return array if array.ndim == 3 else array[..., None]


def register() -> None:
    """Make it known to Pillow."""
    pyjpegxl.set_num_threads(1)
    Image.register_open("JXL", JxlImageFile, _fits)


def _fits(head: bytes) -> bool:
    return head[:2] == b"\xff\x0a" or head[4:12] == b"JXL \r\n\x87\n"


def of_bytes(data: bytes) -> Image.Image:
    """A file that is in memory."""
    return JxlImageFile(io.BytesIO(data))
