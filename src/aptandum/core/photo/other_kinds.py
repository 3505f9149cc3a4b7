"""Files that people take for photos or hand in as such, known by how they begin, so that a refusal names them."""

from __future__ import annotations

from collections.abc import Callable

from aptandum.core.words import say

_OTHERS: tuple[tuple[str, Callable[[bytes], bool]], ...] = (
    ("JPEG 2000", lambda h: h[4:12] == b"jP  \r\n\x87\n" or h[:4] == b"\xff\x4f\xff\x51"),
    ("PDF", lambda h: h[:5] == b"%PDF-"),
    ("PostScript", lambda h: h[:4] in (b"%!PS", b"\xc5\xd0\xd3\xc6")),
    ("SVG", lambda h: b"<svg" in h),
    ("OpenEXR", lambda h: h[:4] == b"\x76\x2f\x31\x01"),
    ("ZIP", lambda h: h[:4] == b"PK\x03\x04"),
)  # fmt: skip
"""Kinds of files by how they begin, which people take for photos or hand in as such."""


def why_not(head: bytes, name: str) -> str:
    """Why a file that is none of ours is not opened, in a sentence.

    Args:
        head: its first bytes.
    """
    kind = next((kind for kind, fits in _OTHERS if fits(head)), "")
    if kind:
        return say(
            "{file} is a {kind} file, which is not supported here; JPEG, HEIC, JPEG XL, PNG, GIF, BMP, TIFF, "
            "WebP and AVIF are.",
            file=name,
            kind=kind,
        )
    return say(
        "{file} is not a picture that is understood here (JPEG, HEIC, JPEG XL, PNG, GIF, BMP, "
        "TIFF, WebP, AVIF).",
        file=name,
    )
