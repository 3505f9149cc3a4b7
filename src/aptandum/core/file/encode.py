"""Encoding a rendered picture to a file's bytes, with exactly what the line asks for."""

from __future__ import annotations

import io
import struct
import zlib

from aptandum.core.figures import show_size
from aptandum.core.file.metadata import exif_block
from aptandum.core.frozen import frozen
from aptandum.core.later import Image, cv2, np
from aptandum.core.photo import decode
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.picture import Picture
from aptandum.core.words import say


@frozen
class JpegOptions:
    """How a JPEG is written."""

    quality: int = 92
    subsampling: str = "4:4:4"
    progressive: bool = False


class JpegEncoder:
    """Encodes one picture again and again at different qualities, from memory.

    OpenCV's libjpeg-turbo writes the same picture data as libvips' encoder in six tenths of the
    time, and two of them at once. It knows neither density, profile nor credit: those are put in
    here, and count in every size that is returned.
    """

    def __init__(self, picture: Picture, ppi: float | None, credit: Credit) -> None:
        pixels = picture.pixels
        grey = pixels.shape[2] == 1
        self.pixels = (
            np.ascontiguousarray(pixels)
            if grey
            else cv2.cvtColor(np.ascontiguousarray(pixels), cv2.COLOR_RGB2BGR)
        )
        self.head = jfif(ppi) + exif_segment(exif_block(credit)) + icc_segments(picture.icc)
        self.encodes = 0
        self.size = picture.size

    def __call__(self, options: JpegOptions) -> bytes:
        """The file's bytes.

        Raises:
            PhotoError: the encoder refuses the picture.
        """
        self.encodes += 1
        chroma = _FULL_CHROMA if options.subsampling == "4:4:4" else _HALF_CHROMA
        settings = (
            cv2.IMWRITE_JPEG_QUALITY,
            options.quality,
            cv2.IMWRITE_JPEG_OPTIMIZE,
            1,
            cv2.IMWRITE_JPEG_PROGRESSIVE,
            int(options.progressive),
            cv2.IMWRITE_JPEG_SAMPLING_FACTOR,
            chroma,
        )
        done, made = cv2.imencode(".jpg", self.pixels, settings)
        if not done:
            raise PhotoError(
                say("A picture of {size} cannot be written as JPEG.", size=show_size(self.size))
            )
        raw = made.tobytes()
        return raw[:2] + self.head + raw[2 + _OWN_HEAD :]


_FULL_CHROMA, _HALF_CHROMA = 0x111111, 0x221111
"""Sampling factors of Y, Cb and Cr, four bits each across and down."""

_OWN_HEAD = 18
"""Bytes of the encoder's own APP0 block, right behind the start of image."""


class Sample:
    """Tells a file's bytes from every fourth band of 16 rows, to a few per cent; of large pictures
    from every eighth.

    Attributes:
        part: the picture of those bands.
        fixed: bytes that do not grow with the picture: the profile, the credit, and the tables.
    """

    STEP, BAND = 4, 16
    LARGE = 3_000_000
    """Pixels from which on half as many bands tell as much."""

    LEAST = 250_000
    """Pixels below which a whole encode costs so little that a sample is not worth it."""

    def __init__(self, picture: Picture, head: int | None = None) -> None:
        high = picture.size[1]
        step = self.STEP * (2 if picture.size[0] * high >= self.LARGE else 1)
        bands = range(self.BAND, high - self.BAND, step * self.BAND)
        rows = np.concatenate([np.arange(y, y + self.BAND) for y in bands])
        pixels = np.ascontiguousarray(picture.pixels[rows])
        self.part = Picture(pixels, picture.icc, picture.alpha, picture.bits)
        self.factor = high / len(rows)
        self.fixed = (len(picture.icc) if head is None else head) + 600

    @classmethod
    def of(cls, picture: Picture, head: int | None = None) -> Sample | None:
        """A sample, or ``None`` where the picture is too small for it to pay. ``head``: bytes put
        before the picture data, the profile among them; where they are not known, it alone."""
        wide, high = picture.size
        return cls(picture, head) if wide * high >= cls.LEAST and high >= 6 * cls.BAND else None

    def whole(self, size: int) -> float:
        """The bytes of the whole, of which the part has so many."""
        return (size - self.fixed) * self.factor + self.fixed


def type_blob() -> int:
    """libvips' number for a value that is a run of bytes, as its metadata wants it."""
    import pyvips

    return int(pyvips.GValue.blob_type)


def jfif(ppi: float | None) -> bytes:
    """An APP0 block (JFIF 1.02) with a density in pixels per inch, or with none stated."""
    unit, density = (1, max(1, min(65535, round(ppi)))) if ppi else (0, 1)
    return b"\xff\xe0" + struct.pack(
        ">H5sHBHHBB", 16, b"JFIF\0", 0x0102, unit, density, density, 0, 0
    )


def exif_segment(block: bytes) -> bytes:
    if not block:
        return b""
    body = b"Exif\0\0" + block
    return b"\xff\xe1" + struct.pack(">H", len(body) + 2) + body


_PART = 65_519
"""Bytes of a profile that one APP2 block holds (ICC.1, B.4)."""


def icc_segments(icc: bytes) -> bytes:
    """A profile in as many APP2 blocks as it takes."""
    parts = [icc[at : at + _PART] for at in range(0, len(icc), _PART)]
    blocks = []
    for i, part in enumerate(parts, start=1):
        body = b"ICC_PROFILE\0" + bytes((i, len(parts))) + part
        blocks.append(b"\xff\xe2" + struct.pack(">H", len(body) + 2) + body)
    return b"".join(blocks)


def encode_png(
    picture: Picture,
    ppi: float | None,
    credit: Credit,
    interlace: bool = False,
    tightest: bool = False,
) -> bytes:
    """A PNG (ISO/IEC 15948) of the picture, its profile, its density and its credit.

    Args:
        tightest: with all that deflate can do, which takes four times as long for about a
            thirtieth less.
    """
    image = decode.from_array(picture.pixels)
    bits = 1 if picture.bits == 1 else 16 if picture.pixels.dtype.itemsize == 2 else 8
    if bits > 1:  # dots have no colours for a profile to tell
        image.set_type(type_blob(), "icc-profile-data", picture.icc)
    raw: bytes = image.pngsave_buffer(
        compression=9 if tightest else 6,
        filter="none" if bits == 1 else "all",
        keep="icc",
        bitdepth=bits,
        interlace=interlace,
    )
    return finished_png(raw, ppi, credit)


def finished_png(raw: bytes, ppi: float | None, credit: Credit) -> bytes:
    """A PNG with its density and its credit put in, and no density where none is stated."""
    chunks = [(kind, body) for kind, body in png_chunks(raw) if kind != b"pHYs"]
    added = []
    if ppi:
        metre = round(ppi / 0.0254)
        added.append((b"pHYs", struct.pack(">IIB", metre, metre, 1)))
    block = exif_block(credit)
    if block:
        added.append((b"eXIf", block))
    at = next(i for i, (kind, _) in enumerate(chunks) if kind == b"IDAT")
    chunks[at:at] = added
    return raw[:8] + b"".join(png_chunk(kind, body) for kind, body in chunks)


def png_chunks(data: bytes) -> list[tuple[bytes, bytes]]:
    """The chunks of a well-formed PNG, type and body, in order."""
    found, at = [], 8
    while at + 8 <= len(data):
        size, kind = struct.unpack_from(">I4s", data, at)
        found.append((kind, data[at + 8 : at + 8 + size]))
        at += 12 + size
    return found


def png_chunk(kind: bytes, body: bytes) -> bytes:
    return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))


def encode_bmp(picture: Picture, ppi: float | None, few: Image.Image | None = None) -> bytes:
    """A BMP of the picture, of one bit where it is dots; it holds no profile and no credit.

    Args:
        few: the same picture with a palette, where it is to have one.

    Raises:
        PhotoError: the picture is clear in parts or has 16 bit, which BMP does not hold.
    """
    pixels = picture.pixels
    if picture.alpha or pixels.dtype.itemsize == 2:
        raise PhotoError(say("BMP holds neither transparency nor 16 bit."))
    image = Image.fromarray(
        np.ascontiguousarray(pixels[..., 0] if pixels.shape[2] == 1 else pixels)
    )
    image = few or image
    if picture.bits == 1:
        image = image.point(lambda v: 255 if v >= 128 else 0, "1")
    out = io.BytesIO()
    image.save(out, "BMP", **({"dpi": (ppi, ppi)} if ppi else {}))
    data = bytearray(out.getvalue())
    if not ppi:  # Pillow states 96 where nothing is said; zero is the format's word for that
        data[38:46] = bytes(8)
    return bytes(data)
