"""Make the smallest files of each kind that a reader decodes once before it gives everything up.

    python tools/make_ready_files.py

Whatever is loaded late by a library (a plugin, a table) is loaded by them. They are of 24 by 16 pixels.
"""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pillow_heif
import pyjpegxl
import pyvips
from PIL import Image

FOLDER = Path(__file__).parent.parent / "src" / "aptandum" / "data" / "ready"


def main() -> None:
    """Write them."""
    FOLDER.mkdir(exist_ok=True)
    for old in FOLDER.iterdir():
        old.unlink()
    small = pyvips.Image.black(24, 16, bands=3).copy(interpretation="srgb").cast("uchar")
    deep = (small.cast("ushort") + 257).cast("ushort").copy(interpretation="rgb16")
    clear = small.bandjoin(small[0])
    made = {
        "progressive.jpg": small.write_to_buffer(".jpg", Q=70, interlace=True),
        "deep.png": deep.write_to_buffer(".png"),
        "clear.png": clear.write_to_buffer(".png"),
        "lossless.webp": clear.write_to_buffer(".webp", lossless=True),
        "lossy.webp": small.write_to_buffer(".webp"),
        "deep.tif": deep.write_to_buffer(".tif", compression="lzw"),
        **{
            f"{how}.tif": small.write_to_buffer(".tif", compression=how)
            for how in ("deflate", "jpeg", "packbits")
        },
    }
    pillow_heif.register_heif_opener()
    exif = Image.Exif()
    exif[0x010E], exif[0x0112] = "ready", 6
    for name, kind, mode, more in (
        ("plain.jpg", "JPEG", "RGB", {"exif": exif}),
        ("cmyk.jpg", "JPEG", "CMYK", {}),
        ("palette.png", "PNG", "P", {"exif": exif}),
        ("mono.png", "PNG", "1", {}),
        ("plain.bmp", "BMP", "RGB", {}),
        ("plain.gif", "GIF", "P", {}),
        ("cmyk.tif", "TIFF", "CMYK", {}),
        ("fax.tif", "TIFF", "1", {"compression": "group4"}),
        ("plain.avif", "AVIF", "RGB", {"exif": exif, "speed": 10}),
        ("plain.heic", "HEIF", "RGB", {"exif": exif.tobytes(), "quality": 60}),
    ):
        held = io.BytesIO()
        Image.new(mode, (24, 16)).save(held, kind, **more)
        made[name] = held.getvalue()
    made["plain.jxl"] = pyjpegxl.encode(bytes(24 * 16 * 3), 24, 16, num_channels=3)
    made["clear.jxl"] = pyjpegxl.encode(bytes(24 * 16 * 4), 24, 16, num_channels=4, lossless=True)
    deeper = np.full((16, 24, 3), 300, np.uint16)
    made["deep.jxl"] = pyjpegxl.encode_from_numpy(deeper)
    for name, data in made.items():
        (FOLDER / name).write_bytes(data)


if __name__ == "__main__":
    main()
