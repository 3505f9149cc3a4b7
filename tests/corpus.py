"""A corpus of what people bring: 150 files and more, made here, each of another kind; and what is to be said of those
that are not read."""

from __future__ import annotations

import io
import struct
from collections.abc import Iterator
from typing import Any

import numpy as np
import pillow_heif
import pyjpegxl
import pyvips
from PIL import Image

from aptandum.core.photo.profile import shipped
from samples import scene

WIDE, HIGH = 72, 54
PIXELS = scene(WIDE, HIGH, 6)
COLOUR = Image.fromarray(PIXELS)
DEEP = (PIXELS.astype(np.uint16) * 257).copy()


def saved(image: Image.Image, kind: str, **more: Any) -> bytes:
    out = io.BytesIO()
    image.save(out, kind, **more)
    return out.getvalue()


def exif(turn: int = 1, place: bool = False, ppi: float | None = None) -> bytes:
    made = Image.Exif()
    made[0x010F] = "Vessary Instruments"
    if turn != 1:
        made[0x0112] = turn
    if ppi:
        made[0x011A] = made[0x011B] = ppi
        made[0x0128] = 2
    if place:
        made[0x8825] = {1: "N", 2: (54.0, 10.0, 30.0), 3: "E", 4: (7.0, 53.0, 6.0)}
    return made.tobytes()


def deep(space: str = "rgb16", bands: int = 3) -> pyvips.Image:
    return pyvips.Image.new_from_array(DEEP[..., :bands]).copy(interpretation=space)


def few(colours: int) -> Image.Image:
    return COLOUR.quantize(colours, dither=Image.Dither.NONE)


def _jpeg() -> Iterator[tuple[str, bytes]]:
    for n, turn in enumerate(range(1, 9)):
        chroma = n % 3
        yield f"turn{turn}.jpg", saved(COLOUR, "JPEG", exif=exif(turn), subsampling=chroma)
    for n in range(6):
        options: dict[str, Any] = {"quality": 40 + 10 * n, "progressive": n % 2 == 1}
        yield f"rgb{n}.jpg", saved(COLOUR, "JPEG", dpi=(72 + 50 * n,) * 2, **options)
        yield f"grey{n}.jpg", saved(COLOUR.convert("L"), "JPEG", **options)
    for n, space in enumerate(("srgb", "adobe-rgb", "display-p3", "prophoto")):
        yield f"{space}.jpg", saved(COLOUR, "JPEG", icc_profile=shipped(space), exif=exif(n + 1))
    for n in range(4):
        yield (
            f"cmyk{n}.jpg",
            saved(COLOUR.convert("CMYK"), "JPEG", progressive=n % 2 == 1, quality=60 + n),
        )
    yield "placed.jpg", saved(COLOUR, "JPEG", exif=exif(place=True))
    yield (
        "several.jpg",
        saved(COLOUR, "MPO", save_all=True, append_images=[Image.fromarray(scene(30, 20))]),
    )
    yield "behind.jpg", saved(COLOUR, "JPEG") + b"appended by a camera" * 30
    mark = b"urn:iso:std:iso:ts:21496:-1\0" + bytes(4)
    plain = saved(COLOUR, "JPEG")
    yield "gain.jpg", plain[:2] + b"\xff\xe2" + struct.pack(">H", len(mark) + 2) + mark + plain[2:]


def _png() -> Iterator[tuple[str, bytes]]:
    for mode in ("1", "L", "LA", "RGB", "RGBA", "I;16"):
        image = Image.fromarray(DEEP[..., 0]) if mode == "I;16" else COLOUR.convert(mode)
        yield f"{mode.replace(';', '')}.png", saved(image, "PNG", dpi=(300, 300))
        yield f"{mode.replace(';', '')}-exif.png", saved(image, "PNG", exif=exif(6, place=True))
    for colours in (2, 3, 4, 9, 16, 60, 200):
        yield f"few{colours}.png", saved(few(colours), "PNG")
    yield "clear-few.png", saved(few(9), "PNG", transparency=2)
    yield "deep.png", deep().pngsave_buffer()
    yield "deep-passes.png", deep().pngsave_buffer(interlace=True)
    yield "deep-grey.png", deep("grey16", 1).pngsave_buffer()
    yield (
        "passes.png",
        pyvips.Image.new_from_array(PIXELS)
        .copy(interpretation="srgb")
        .pngsave_buffer(interlace=True),
    )
    for space in ("srgb", "adobe-rgb", "display-p3", "prophoto"):
        yield f"{space}.png", saved(COLOUR, "PNG", icc_profile=shipped(space))
    yield (
        "moving.png",
        saved(COLOUR, "PNG", save_all=True, append_images=[COLOUR.rotate(90)], duration=90),
    )


def _gif_bmp() -> Iterator[tuple[str, bytes]]:
    for colours in (2, 8, 64, 256):
        yield f"few{colours}.gif", saved(few(colours), "GIF")
    yield "moving.gif", saved(few(8), "GIF", save_all=True, append_images=[few(9)], duration=80)
    outside = bytearray(saved(few(8), "GIF", optimize=False))
    struct.pack_into("<HH", outside, 6, 40, 30)
    yield "outside.gif", bytes(outside)
    for mode in ("1", "L", "P", "RGB"):
        image = few(200) if mode == "P" else COLOUR.convert(mode)
        yield f"{mode}.bmp", saved(image, "BMP", dpi=(150, 150))
    yield "few2.bmp", saved(few(2), "BMP")
    for name, space, icc in (("named", b"BGRs", b""), ("profile", b"DEBM", shipped("display-p3"))):
        plain = saved(COLOUR, "BMP")
        rows = plain[54:]
        info = bytearray(124)
        info[:40] = plain[14:54]
        struct.pack_into("<I", info, 0, 124)
        info[56:60] = space
        struct.pack_into("<II", info, 112, 124 + len(rows) if icc else 0, len(icc))
        head = struct.pack("<2sIHHI", b"BM", 138 + len(rows) + len(icc), 0, 0, 138)
        yield f"{name}.bmp", head + bytes(info) + rows + icc


def _tiff() -> Iterator[tuple[str, bytes]]:
    for mode in ("1", "L", "RGB", "RGBA", "CMYK"):
        for how in ("raw", "tiff_lzw", "tiff_adobe_deflate", "packbits"):
            image = COLOUR.convert(mode)
            yield f"{mode}-{how}.tif", saved(image, "TIFF", compression=how, dpi=(240, 240))
    yield "fax.tif", saved(COLOUR.convert("1"), "TIFF", compression="group4")
    yield "jpeg.tif", saved(COLOUR, "TIFF", compression="jpeg")
    yield (
        "centimetres.tif",
        saved(COLOUR, "TIFF", resolution_unit=3, x_resolution=118.11, y_resolution=118.11),
    )
    yield "few.tif", saved(few(100), "TIFF")
    yield "turned.tif", saved(COLOUR, "TIFF", exif=exif(8))
    yield "placed.tif", saved(COLOUR, "TIFF", exif=exif(place=True))
    yield "pages.tif", saved(COLOUR, "TIFF", save_all=True, append_images=[COLOUR.rotate(180)] * 2)
    for name, options in (("deep", {}), ("big", {"bigtiff": True}), ("tiles", {"tile": True, "compression": "lzw"}),
                          ("packed", {"compression": "deflate", "predictor": "horizontal"})):  # fmt: skip
        yield f"{name}.tif", deep().tiffsave_buffer(**options)


def _newer() -> Iterator[tuple[str, bytes]]:
    clear = Image.fromarray(np.dstack([PIXELS, PIXELS[..., 0]]))
    for name, image in (("rgb", COLOUR), ("clear", clear)):
        yield f"{name}.webp", saved(image, "WEBP", exif=exif(3))
        yield (
            f"{name}-whole.webp",
            saved(image, "WEBP", lossless=True, icc_profile=shipped("display-p3")),
        )
        yield f"{name}.avif", saved(image, "AVIF", exif=exif(place=True))
    yield "moving.webp", saved(COLOUR, "WEBP", save_all=True, append_images=[COLOUR.rotate(90)])
    yield "moving.avif", saved(COLOUR, "AVIF", save_all=True, append_images=[COLOUR.rotate(180)])
    for bits in (8, 10, 12):
        image = (
            deep() if bits > 8 else pyvips.Image.new_from_array(PIXELS).copy(interpretation="srgb")
        )
        yield f"bits{bits}.avif", image.heifsave_buffer(compression="av1", bitdepth=bits, effort=1)
    for name, mode, pixels in (
        ("plain", "RGB", PIXELS),
        ("deep", "RGB;16", DEEP),
        ("clear", "RGBA", np.asarray(clear)),
    ):
        out = io.BytesIO()
        pillow_heif.from_bytes(mode=mode, size=(WIDE, HIGH), data=pixels.tobytes()).save(
            out, exif=exif(place=name == "plain")
        )
        yield f"{name}.heic", out.getvalue()
    for name, pixels in (
        ("plain", PIXELS),
        ("deep", DEEP),
        ("clear", np.asarray(clear)),
        ("grey", PIXELS[..., :1]),
    ):
        yield f"{name}.jxl", pyjpegxl.encode_from_numpy(np.ascontiguousarray(pixels), lossless=True)
    yield "wide.jxl", pyjpegxl.encode_from_numpy(PIXELS, icc=shipped("prophoto"))
    yield "told.jxl", pyjpegxl.encode_from_numpy(PIXELS, exif=exif(place=True)[6:])


def sound() -> dict[str, bytes]:
    """Files that are read, by name."""
    return {name: data for part in (_jpeg, _png, _gif_bmp, _tiff, _newer) for name, data in part()}


def retagged(data: bytes, tag: int, value: int) -> bytes:
    """A little-endian TIFF with another value for one tag."""
    made = bytearray(data)
    at = struct.unpack_from("<I", made, 4)[0]
    for i in range(struct.unpack_from("<H", made, at)[0]):
        place = at + 2 + 12 * i
        if struct.unpack_from("<H", made, place)[0] == tag:
            struct.pack_into("<I", made, place + 8, value)
    return bytes(made)


def _marked(marker: int, bits: int) -> bytes:
    data = bytearray(saved(COLOUR, "JPEG"))
    at = data.find(b"\xff\xc0")
    data[at + 1], data[at + 4] = marker, bits
    return bytes(data)


def refused() -> dict[str, tuple[str, bytes]]:
    """Files that are not read: which of the four sentences each is to get, and its bytes."""
    made: dict[str, tuple[str, bytes]] = {}
    whole = {
        "jpg": saved(COLOUR, "JPEG", quality=95), "png": saved(COLOUR, "PNG"), "gif": saved(few(200), "GIF"),
        "bmp": saved(COLOUR, "BMP"), "tif": saved(COLOUR, "TIFF", compression="tiff_lzw"),
        "webp": saved(COLOUR, "WEBP", lossless=True), "avif": saved(COLOUR, "AVIF", quality=95),
        "jxl": pyjpegxl.encode_from_numpy(PIXELS, lossless=True),
    }  # fmt: skip
    for ending, data in whole.items():
        made[f"cut.{ending}"] = "cut short", data[: len(data) * 2 // 3]
    chance = np.random.default_rng(1)
    for ending in ("jpg", "png", "tif", "webp", "avif"):
        data = bytearray(whole[ending])
        start = len(data) // 2
        data[start : start + 200] = chance.integers(0, 256, 200, dtype=np.uint8).tobytes()
        made[f"spoilt.{ending}"] = "damaged", bytes(data[: len(whole[ending])])
    plain = pyvips.Image.new_from_array(PIXELS).copy(interpretation="srgb")
    for name, data in {
        "twelve.jpg": _marked(0xC1, 12), "lossless.jpg": _marked(0xC3, 8), "arithmetic.jpg": _marked(0xC9, 8),
        "float.tif": plain.cast("float").tiffsave_buffer(), "deep32.tif": plain.cast("uint").tiffsave_buffer(),
        "lab.tif": plain.colourspace("lab").tiffsave_buffer(),
        "old.tif": retagged(plain.tiffsave_buffer(compression="deflate"), 259, 6),
        "odd.tif": retagged(plain.tiffsave_buffer(compression="deflate"), 259, 34712),
        "drawn.svg": b'<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>', "page.pdf": b"%PDF-1.7\n" * 9,
        "older.jp2": b"\0\0\0\x0cjP  \r\n\x87\n" + bytes(40),
    }.items():  # fmt: skip
        made[name] = "support", data
    vast = bytearray(whole["jpg"])
    at = vast.find(b"\xff\xc0")
    vast[at + 5 : at + 9] = struct.pack(">HH", 65000, 65000)
    made["vast.jpg"] = "at most 400", bytes(vast)
    png = bytearray(whole["png"])
    png[16:24] = struct.pack(">II", 90_000, 90_000)
    made["vast.png"] = "at most 400", bytes(png)
    made["vast.tif"] = "at most 400", retagged(retagged(whole["tif"], 256, 60_000), 257, 60_000)
    bmp = bytearray(whole["bmp"])
    bmp[18:26] = struct.pack("<ii", 60_000, 60_000)
    made["vast.bmp"] = "at most 400", bytes(bmp)
    return made
