"""Facts of a picture file from its header alone, told by content and never by name.

The header is read by Pillow; what Pillow does not tell, or tells wrongly, is read from the
bytes beside it: bit depth (PNG, AVIF), stored size of a turned TIFF, pages that are only
reduced copies, density that was never stated, colour signalled without a profile.
"""

from __future__ import annotations

import builtins
import errno
import os
import struct
from collections.abc import Callable
from dataclasses import asdict, field, replace
from typing import Any, Literal

from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.photo.profile import Profile, Space
from aptandum.core.photo.turning import SWAPS, then
from aptandum.core.words import say

Format = Literal["jpeg", "png", "gif", "bmp", "tiff", "webp", "avif", "heic", "jxl"]


Mode = Literal["grey", "rgb", "cmyk", "palette", "mono"]


FORMATS: tuple[Format, ...] = ("jpeg", "png", "gif", "bmp", "tiff", "webp", "avif")
"""Formats that a rule can ask for, and that are written."""

READ: tuple[Format, ...] = (*FORMATS, "heic", "jxl")
"""Formats that are read: what telephones and photographers keep is read as well."""


FORMAT_NAMES: dict[str, str] = {
    "jpeg": "JPEG",
    "png": "PNG",
    "gif": "GIF",
    "bmp": "BMP",
    "tiff": "TIFF",
    "webp": "WebP",
    "avif": "AVIF",
    "heic": "HEIC",
    "jxl": "JPEG XL",
}


TURNED = (5, 6, 7, 8)
"""EXIF orientations that swap width and height."""


ORIENTATION, XRES, YRES, RESUNIT = 0x0112, 0x011A, 0x011B, 0x0128


class PhotoError(AptandumError):
    """A file that cannot be used as a photo; the message is a sentence naming file and cause."""


class NotInside(AptandumError):
    """The file does not tell; the message says what."""


@frozen
class Facts:
    """What a picture file's header says. Sizes in pixels.

    Attributes:
        file: the path as given.
        width, height: as stored in the file.
        oriented_width, oriented_height: as a viewer shows it, orientation applied.
        bits: of each number as it is stored: of a channel, or of a palette's index.
        alpha: an alpha channel or a transparent colour is there (it may be opaque everywhere).
        icc: the embedded profile's description; ``None`` without one that can be read.
        orientation: 1-8 as EXIF counts them.
        ppi_x, ppi_y: ``None`` where the file does not state them.
        decodes: every pixel could be read; ``None`` where that was not tried.
        error: a sentence, or ``None``.
        profile: the embedded profile; ``None`` without one.
        icc_bytes: the embedded profile itself.
        location: the metadata tell where the photo was taken.
        turn: what a person has turned it by, on top of the file's own orientation.
        hint: a wide space that the camera's metadata name where no profile is embedded.
        clear_rim: nothing is seen along its edges, as of a mark on a clear ground; ``None`` where
            that was not looked at.
        hides: any pixel is less than opaque; ``None`` where that was not looked at.
        pictures: that lie in the file side by side; one of them is meant.
        gain_map: one of them only says where the other may be brighter.
    """

    file: str
    format: Format | None = None
    width: int | None = None
    height: int | None = None
    oriented_width: int | None = None
    oriented_height: int | None = None
    bits: int | None = None
    mode: Mode | None = None
    alpha: bool | None = None
    icc: str | None = None
    colour_space: Space | None = None
    orientation: int | None = None
    ppi_x: float | None = None
    ppi_y: float | None = None
    bytes: int | None = None
    frames: int | None = None
    progressive: bool | None = None
    decodes: bool | None = None
    error: str | None = None
    profile: Profile | None = field(default=None, repr=False)
    icc_bytes: builtins.bytes = field(default=b"", repr=False)
    subsampling: str | None = None
    location: bool = False
    turn: int = 1
    hint: Space | None = None
    clear_rim: bool | None = None
    hides: bool | None = None
    pictures: int = 1
    gain_map: bool = False

    @property
    def seen_through(self) -> bool:
        """Whether anything shines through it, as far as was looked: a channel that hides nothing is none."""
        return bool(self.alpha) and self.hides is not False

    @property
    def taken_as(self) -> Space:
        """The space that the picture's numbers are taken to be in, with or without a profile."""
        if self.colour_space not in (None, "untagged") and not self.unknown_space:
            return self.colour_space
        if self.mode in ("grey", "mono"):
            return "grey"
        return self.hint or "srgb"

    @property
    def unknown_space(self) -> bool:
        """Whether the file says without a profile that its numbers are in a space that is not converted from here."""
        return self.colour_space == "other" and not self.icc_bytes

    def turned_by(self, turn: int) -> Facts:
        """The facts of the picture as it is shown once a person has turned it; ``turn`` is one
        of EXIF's codes and stands in for any turn before."""
        both = then(self.orientation or 1, turn)
        swap = both in SWAPS
        return replace(
            self,
            turn=turn,
            oriented_width=self.height if swap else self.width,
            oriented_height=self.width if swap else self.height,
        )

    @property
    def size(self) -> tuple[int, int]:
        """Width and height as shown; raises ``PhotoError`` where the file could not be read."""
        if self.oriented_width is None or self.oriented_height is None:
            raise PhotoError(self.error or say("{file} could not be read.", file=self.file))
        return self.oriented_width, self.oriented_height

    def contract(self) -> dict[str, Any]:
        """The keys of the command line's contract, in its order; what lies beside the picture where there is any."""
        keys = (
            "file",
            "format",
            "width",
            "height",
            "oriented_width",
            "oriented_height",
            "bits",
            "mode",
            "alpha",
            "icc",
            "colour_space",
            "orientation",
            "ppi_x",
            "ppi_y",
            "bytes",
            "frames",
            "progressive",
            "decodes",
            "error",
        )
        every = asdict(self)
        told = {key: every[key] for key in keys}
        if self.pictures > 1:
            told["pictures"] = self.pictures
        if self.gain_map:
            told["gain_map"] = True
        return told


def shown_name(path: str | os.PathLike[str]) -> str:
    """A file's name as it can be shown: bytes that are not UTF-8 become replacement signs."""
    return os.fsencode(os.path.basename(os.fspath(path)) or path).decode("utf-8", "replace")


_HEVC = frozenset((b"heic", b"heix", b"heim", b"heis", b"hevc", b"hevx", b"mif1", b"msf1"))
"""Brands of pictures that are coded by HEVC (ISO/IEC 23008-12, annex B), and the general ones."""

_SIGNATURES: tuple[tuple[Format, Callable[[bytes], bool]], ...] = (
    ("jpeg", lambda h: h[:3] == b"\xff\xd8\xff"),
    ("png", lambda h: h[:8] == b"\x89PNG\r\n\x1a\n"),
    ("gif", lambda h: h[:6] in (b"GIF87a", b"GIF89a")),
    ("webp", lambda h: h[:4] == b"RIFF" and h[8:12] == b"WEBP"),
    ("tiff", lambda h: h[:4] in (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+")),
    ("avif", lambda h: h[4:8] == b"ftyp" and bool(_brands(h) & {b"avif", b"avis"})),
    ("heic", lambda h: h[4:8] == b"ftyp" and bool(_brands(h) & _HEVC)),
    ("jxl", lambda h: h[:2] == b"\xff\x0a" or h[:12] == b"\0\0\0\x0cJXL \r\n\x87\n"),
    ("bmp", lambda h: h[:2] == b"BM" and len(h) >= 26),
)


def _brands(head: bytes) -> set[bytes]:
    size = min(struct.unpack_from(">I", head)[0], len(head))
    return {head[8:12], *(head[i : i + 4] for i in range(16, size - 3, 4))}


def sniff(head: bytes) -> Format | None:
    """The format that the first bytes of a file belong to, or ``None``."""
    if len(head) < 12:
        return None
    return next((name for name, fits in _SIGNATURES if fits(head)), None)


def io_sentence(error: OSError, name: str) -> str:
    """A sentence for a failure of the file system."""
    if error.errno == errno.EACCES or error.errno == errno.EPERM:
        return say("{file} may not be read: you lack the permission for it.", file=name)
    if error.errno == errno.ENOENT:
        return say("{file} was not found.", file=name)
    if error.errno == errno.ENAMETOOLONG:
        return say("{file} is too long for a file name.", file=name[:60] + "…")
    reason = (error.strerror or str(error) or type(error).__name__).lower()
    return say("{file} could not be read: {reason}.", file=name, reason=reason)


def damaged(facts: Facts, detail: str = "") -> PhotoError:
    """The error for a picture whose header is right and whose pixels are not."""
    short = any(
        word in detail.lower()
        for word in ("premature", "truncat", "end of", "eof", "not enough", "incomplete")
    )
    cause = say("it is cut short") if short else say("its picture data are damaged")
    sentence = say(
        "{file} cannot be read as {format}: {cause}.",
        file=shown_name(facts.file),
        format=FORMAT_NAMES.get(facts.format or "", "?"),
        cause=cause,
    )
    return PhotoError(sentence)
