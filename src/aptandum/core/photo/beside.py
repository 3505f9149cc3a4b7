"""A reader's side: what a file holds beside its picture: more pictures, and gain maps.

Sources: CIPA DC-007 (multi-picture format), ISO 21496-1 (gain maps, and how JPEG, HEIF and JPEG XL carry them).
"""

from __future__ import annotations

from typing import IO

from PIL import Image

from aptandum.core.photo.facts import Format

_NUMBER = 0xB001
_MARKS: dict[str, tuple[bytes, ...]] = {
    "jpeg": (b"urn:iso:std:iso:ts:21496:-1", b"hdrgm:", b"HDRGainMap", b"hdrgainmap"),
    "heic": (b"hdrgainmap", b"tmap"),
    "avif": (b"tmap",),
    "jxl": (b"jhgm",),
}
_HEAD = 128 << 10
"""Bytes in which a file says that it holds one."""


def has_gain_map(format_: Format, image: Image.Image, stream: IO[bytes]) -> bool:
    """Whether a second picture says where the first may be brighter on screens with more light."""
    marks = _MARKS.get(format_)
    if marks is None:
        return False
    if format_ == "jpeg":
        segments = getattr(image, "applist", ())
        return any(mark in body for _name, body in segments for mark in marks)
    stream.seek(0)
    head = stream.read(_HEAD)
    return any(mark in head for mark in marks)


def pictures(format_: Format, image: Image.Image) -> int:
    """Pictures that lie in a file side by side, its own counted, gain maps too; pages of a TIFF are its frames."""
    if format_ == "jpeg":
        held = getattr(image, "mpinfo", None)
        number = held.get(_NUMBER, 1) if held else 1
        return max(1, int(number)) if isinstance(number, int) else 1
    if format_ == "heic":
        return max(1, int(getattr(image, "n_frames", 1) or 1))
    return 1
