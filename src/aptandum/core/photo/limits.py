"""How large a picture may be before it is refused, checked before anything is allocated."""

from __future__ import annotations

from aptandum.core.figures import grouped
from aptandum.core.words import say

MOST_PIXELS = 400_000_000
"""Pixels of one picture, all frames counted: four times the largest cameras of today."""

MOST_FILE_BYTES = 2_000_000_000
"""Bytes of a file that is read into memory."""

MOST_SIDE = 65_500
"""Pixels of one side: what a JPEG can hold."""


def too_large(width: int, height: int, frames: int = 1) -> str | None:
    """Why a picture of this size is not opened, or ``None`` where it is."""
    pixels = width * height * max(1, frames)
    if pixels > MOST_PIXELS:
        return say(
            "it has {width} × {height} pixels, {mp} megapixels; at most {most} are opened",
            width=grouped(width),
            height=grouped(height),
            mp=grouped(round(pixels / 1e6)),
            most=grouped(MOST_PIXELS // 1_000_000),
        )
    return None
