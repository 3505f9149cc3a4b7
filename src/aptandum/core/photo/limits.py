"""How large a picture may be before it is refused, checked before anything is allocated."""

from __future__ import annotations

from aptandum.core import bounds
from aptandum.core.figures import grouped
from aptandum.core.later import Image, PngImagePlugin
from aptandum.core.words import say

MOST_FILE_BYTES = 2_000_000_000
"""Bytes of a file that is read into memory."""

_MOST_TEXT = 8 << 20
"""Bytes of all texts of a PNG, unpacked."""

MOST_SIDE = 65_500
"""Pixels of one side: what a JPEG can hold."""


_MOST_OF_ALL = 1 << 36
"""Pixels that no machine holds, whatever a person allows: a file that says it has more is broken, or means harm."""


def guard_libraries() -> None:
    """Have Pillow's own guard stand at our bound, which may have been raised since it was loaded. Every file is
    measured against our limits before a pixel is asked for; behind them Pillow refuses at twice what it is given."""
    PngImagePlugin.MAX_TEXT_MEMORY = _MOST_TEXT
    Image.MAX_IMAGE_PIXELS = bounds.current().pixels // 2


def too_large(width: int, height: int, frames: int = 1) -> str | None:
    """Why a picture of this size is not opened, or ``None`` where it is."""
    pixels = width * height * max(1, frames)
    most = bounds.current()
    if pixels > _MOST_OF_ALL:
        return say(
            "it says that it has {width} × {height} pixels, which is more than any picture can be opened with",
            width=grouped(width),
            height=grouped(height),
        )
    if pixels > most.pixels:
        return say(
            "it has {width} × {height} pixels, {mp} megapixels; at most {most} are opened (--limits "
            "megapixels={more} opens it, or “Limits for one photo” in the window’s View menu)",
            width=grouped(width),
            height=grouped(height),
            mp=grouped(round(pixels / 1e6)),
            most=grouped(most.megapixels),
            more=-(-pixels // 1_000_000),
        )
    return None
