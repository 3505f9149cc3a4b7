"""A reader's side: where a file tells the place of the shot: in EXIF, in XMP, and in the texts of a PNG.

Sources: XMP part 2 (exif:GPSLatitude and its kin, as an attribute or an element), ISO/IEC 15948 (tEXt, zTXt, iTXt),
and the custom of holding EXIF or XMP in a text *Raw profile type …* as hexadecimal digits.
"""

from __future__ import annotations

import re
import zlib
from collections.abc import Callable

from PIL import Image

_COORDINATES = re.compile(
    rb"GPSL(?:at|ong)itude(?!Ref)\W{1,8}[-+0-9]|\bgeo:lat(?:itude)?\W{1,8}[-+0-9]"
)
_NAMES = re.compile(
    rb"(?:photoshop:(?:City|State|Country)|Iptc4xmp(?:Core:Location|Ext:(?:City|Sublocation|ProvinceState|CountryName"
    rb"|WorldRegion|LocationName)))(?:\s*=\s*[\"']([^\"']+)[\"']|>\s*(?:<[^>]*>\s*)*([^<\s][^<]*))"
)
IPTC_NAMES = (92, 90, 95, 101, 27)
"""Quarter, town, province, country and the name of a place in IPTC's second record."""
_MOST_NAMES = 200
MOST_TEXT = 8 << 20
"""Bytes of one text that are looked at."""
_MOST = 4 << 20
"""Bytes of one text that are unpacked."""
_RAW = b"Raw profile type "


def named_in(packet: bytes) -> str:
    """The names of places that XMP tells, one after another."""
    found = [(one or other).decode("utf-8", "replace") for one, other in _NAMES.findall(packet)]
    named = dict.fromkeys(" ".join(name.split()) for name in found)
    return ", ".join(filter(None, named))[:_MOST_NAMES]


def told_in(packet: bytes | str | None) -> bool:
    """Whether XMP, or a part of it, tells coordinates."""
    if isinstance(packet, str):
        packet = packet.encode("utf-8", "replace")
    return packet is not None and _COORDINATES.search(packet) is not None


def told_in_text(name: bytes, body: bytes, of_exif: Callable[[bytes], bool]) -> bool:
    """Whether a PNG's text chunk tells coordinates.

    Args:
        name: ``tEXt``, ``zTXt`` or ``iTXt``.
        body: the chunk's contents.
        of_exif: whether EXIF data do.
    """
    key, _, rest = body.partition(b"\0")
    if name == b"iTXt":
        packed, rest = rest[:1] == b"\1", rest[2:].split(b"\0", 2)[-1]
    else:
        packed, rest = name == b"zTXt", rest[1:] if name == b"zTXt" else rest
    if packed:
        try:
            rest = zlib.decompressobj().decompress(rest, _MOST)
        except zlib.error:
            return False
    if not key.startswith(_RAW):
        return key == b"XML:com.adobe.xmp" and told_in(rest)
    try:
        held = bytes.fromhex(b"".join(rest.split()[2:]).decode("ascii"))
    except (ValueError, UnicodeDecodeError):
        return False
    if held.startswith((b"Exif\0\0", b"II*\0", b"MM\0*")):
        return of_exif(held)
    return told_in(held)


def in_exif(exif: Image.Exif) -> bool:
    """Whether EXIF tells coordinates."""
    try:
        place = exif.get_ifd(0x8825)
    except Exception:  # a broken directory tells no place
        return False
    return bool(2 in place or 4 in place)


def in_exif_block(block: bytes) -> bool:
    """Whether EXIF data do."""
    exif = Image.Exif()
    try:
        exif.load(block if block.startswith(b"Exif") else b"Exif\0\0" + block)
    except Exception:  # what cannot be read tells no place
        return False
    return in_exif(exif)
