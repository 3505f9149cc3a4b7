"""A reader's side: what a file holds that its header's facts do not tell. Each is looked for when it is asked for."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import Any

import numpy as np
from PIL import Image

from aptandum.core.photo import limits
from aptandum.core.photo.decoders import Data, stream_of
from aptandum.core.photo.facts import Facts, NotInside
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.metadata_read import credit_of
from aptandum.core.words import say

_TIFF = {"raw": "none", "tiff_lzw": "lzw", "tiff_adobe_deflate": "deflate", "tiff_deflate": "deflate",
         "packbits": "packbits", "jpeg": "jpeg", "tiff_jpeg": "jpeg", "group3": "fax",
         "group4": "fax", "tiff_ccitt": "fax", "tiff_raw_16": "none"}  # fmt: skip
_ALWAYS = {"png": "deflate", "gif": "lzw", "jpeg": "jpeg"}

_MOST_FRAMES = 2000
"""Frames of an animation whose times are added up."""

# Quantisation of brightness at quality 50 (ITU-T T.81, table K.1), as every common encoder scales it.
_LUMA = (16, 11, 10, 16, 24, 40, 51, 61, 12, 12, 14, 19, 26, 58, 60, 55, 14, 13, 16, 24, 40, 57, 69, 56,
         14, 17, 22, 29, 51, 87, 80, 62, 18, 22, 37, 56, 68, 109, 103, 77, 24, 35, 55, 64, 81, 104,
         113, 92, 49, 64, 78, 87, 103, 121, 120, 101, 72, 92, 95, 98, 112, 100, 103, 99)  # fmt: skip

_SPEAKING = frozenset(("xmp", "iptc", "text", "comment"))
_SILENT = frozenset((0x0112, 0x011A, 0x011B, 0x0128, 0x0213, 0x8769, 0x0100, 0x0101, 0x0102, 0x0103,
                     0x0106, 0x0111, 0x0115, 0x0116, 0x0117, 0x011C, 0x0152, 0x0153, 0x013D, 0x8773,
                     0x0142, 0x0143, 0x0144, 0x0145, 0x0140, 0x00FE, 0x00FF, 0x010A, 0x0118, 0x0119,
                     0x015B, 0x0212, 0x0211, 0x0214, 0x0201, 0x0202))  # fmt: skip
"""Entries of EXIF or TIFF that say how a picture is coded, stored or turned, and nothing of it."""


class InFile:
    """The inside of a file, looked into by whoever has its bytes."""

    def __init__(self, data: Data, facts: Facts) -> None:
        self._data, self._facts = data, facts

    def _open(self) -> Image.Image:
        limits.guard_libraries()
        return Image.open(stream_of(self._data))

    @cached_property
    def packing(self) -> tuple[str, ...]:
        """How it is compressed, and whether that loses anything."""
        format_ = self._facts.format or ""
        with self._opened() as image:
            if format_ in ("tiff", "bmp"):
                told = str(image.info.get("compression", "raw" if format_ == "tiff" else 0))
                kind = _TIFF.get(told, "none" if told in ("0", "3") else told)
                return kind, "lossy" if kind == "jpeg" else "lossless"
        if format_ == "webp":
            return ("lossless",) if b"VP8L" in _chunks(self._data) else ("lossy",)
        if format_ in ("avif", "heic", "jxl"):
            return ("lossy",)
        kind = _ALWAYS[format_]
        return kind, "lossy" if kind == "jpeg" else "lossless"

    @cached_property
    def quality(self) -> int:
        """Of a JPEG, from its quantisation of brightness: the quality, 1..100, at which the common
        scaling of table K.1 comes nearest to it."""
        with self._opened() as image:
            tables: Mapping[int, Any] = getattr(image, "quantization", None) or {}
            if 0 not in tables:
                raise NotInside(say("Only a JPEG tells its quality."))
            table = np.sort(np.asarray(tables[0], float))
        off = [float(np.abs(np.sort(_scaled(q)) - table).sum()) for q in range(1, 101)]
        return int(np.argmin(off)) + 1

    @cached_property
    def bits_per_pixel(self) -> int:
        """Bits that a stored pixel has before it is compressed, with its transparency."""
        facts = self._facts
        if facts.mode == "palette":
            return self._palette_bits()
        bits = facts.bits or 8
        channels = {"grey": 1, "mono": 1, "cmyk": 4}.get(facts.mode or "rgb", 3)
        with self._opened() as image:
            keyed = "transparency" in image.info and facts.format in ("png", "gif")
        return bits * (channels + (1 if facts.alpha and not keyed else 0))

    def _palette_bits(self) -> int:
        if self._facts.format == "png":
            return self._data[24]
        if self._facts.format == "bmp":
            return int.from_bytes(self._data[28:30], "little")
        if self._facts.format == "gif":
            return (self._data[10] & 7) + 1 if self._data[10] & 0x80 else 8
        with self._opened() as image:
            tags = getattr(image, "tag_v2", {})
            bits = tags.get(258, (8,))
        return int(bits[0] if isinstance(bits, tuple) else bits)

    @cached_property
    def colours(self) -> int:
        """Different colours that the picture has; more than 65 536 are not told apart any more."""
        with self._opened() as image:
            if image.mode not in ("P", "L", "1", "RGB", "RGBA", "LA"):
                image = image.convert("RGB")
            found = image.getcolors(1 << 16)
        return len(found) if found is not None else (1 << 16) + 1

    @cached_property
    def times(self) -> tuple[int, float]:
        """Frames of an animation, and how long it runs once through, in seconds."""
        with self._opened() as image:
            count = min(int(getattr(image, "n_frames", 1) or 1), _MOST_FRAMES)
            if count == 1:
                return 1, 0.0
            total = 0.0
            for i in range(count):
                image.seek(i)
                if self._facts.format == "webp":
                    image.load()  # its frames tell their time only then
                total += float(image.info.get("duration", 0) or 0)
        return count, total / 1000

    @cached_property
    def told(self) -> Credit:
        """What its metadata say, group by group."""
        return credit_of(self._data)

    @cached_property
    def speaks(self) -> bool:
        """Whether it has any metadata that tell more than how the picture is coded."""
        if self.told:
            return True
        with self._opened() as image:
            info = image.info
            if any(info.get(key) for key in ("xmp", "photoshop", "comment", "XML:com.adobe.xmp")):
                return True
            texts = getattr(image, "text", None)
            if texts or getattr(image, "tag_v2", {}).get(700):
                return True
            try:
                exif = image.getexif()
                tags = set(exif) - _SILENT
                inner = set(exif.get_ifd(0x8769)) - {0x9000, 0xA000, 0xA001, 0xA002, 0xA003, 0x9101}
            except Exception:  # what cannot be read may say anything
                return True
        return bool(tags or inner)

    def _opened(self) -> Image.Image:
        try:
            return self._open()
        except Exception as error:
            raise NotInside(say("The file could not be looked into: {why}.", why=error)) from None


def _chunks(data: Data) -> set[bytes]:
    """The names of a RIFF file's chunks."""
    found: set[bytes] = set()
    at = 12
    while at + 8 <= len(data) and len(found) < 64:
        found.add(data[at : at + 4])
        at += 8 + int.from_bytes(data[at + 4 : at + 8], "little")
        at += at % 2
    return found


def _scaled(quality: int) -> Any:
    factor = 5000 / quality if quality < 50 else 200 - 2 * quality
    return np.clip(np.floor((np.asarray(_LUMA, float) * factor + 50) / 100), 1, 255)
