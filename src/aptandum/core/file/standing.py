"""The standing wish: where a photo was taken, and with what, is left out of a file unless a rule asks
for it or a person keeps it."""

from __future__ import annotations

import io
import re

from aptandum.core.file.around import Block
from aptandum.core.frozen import frozen
from aptandum.core.later import Image, IptcImagePlugin
from aptandum.core.photo.metadata_groups import MAKE, MODEL, PLACE, SHOT

_HOST, _SERIAL, _UNIQUE_MODEL = 0x013C, 0xC62F, 0xC614
_OF_CAMERA = (MAKE, MODEL, _HOST, _SERIAL, _UNIQUE_MODEL)

_OF_PICTURE = frozenset(
    (
        0x9000, 0xA000, 0xA001, 0xA002, 0xA003, 0xA005, 0x9101, 0x9102, 0xA420,  # how it is coded
        0x9003, 0x9004, 0x9010, 0x9011, 0x9012, 0x9290, 0x9291, 0x9292,  # when it was taken
        0x9286, 0xA40B,  # what somebody wrote
    )
)  # fmt: skip
"""Entries of EXIF's directory of the shot that tell nothing of the camera; every other one is told
by it, its own notes and numbers among them."""

_XMP_PLACE = re.compile(
    rb"exif:GPS|photoshop:(City|State|Country)|Iptc4xmpCore:(Location|CountryCode)"
    rb"|Iptc4xmpExt:Location|LocationCreated|LocationShown"
)
_XMP_CAMERA = re.compile(
    rb"tiff:(Make|Model)\b|aux:|exifEX:|exif:(Exposure|FNumber|ISO|Focal|Shutter|Aperture|Flash"
    rb"|Metering|WhiteBalance|Lens|Brightness|MaxAperture|SceneCapture|SensingMethod|LightSource)"
)
_IPTC_PLACE = ((2, 90), (2, 92), (2, 95), (2, 100), (2, 101), (2, 26), (2, 27))


_RAW = b"Raw profile type"
"""How the texts of a PNG begin that hold metadata of another kind."""


@frozen
class Held:
    """What a photo holds that is left out.

    Attributes:
        location, camera: it is there.
        where: the kinds of blocks that hold any of it.
        groups: the groups of the metadata that it tells.
        more: it tells more than any of these.
    """

    location: bool = False
    camera: bool = False
    where: frozenset[str] = frozenset()
    groups: frozenset[str] = frozenset()
    more: bool = False

    def __or__(self, other: Held) -> Held:
        return Held(
            self.location or other.location,
            self.camera or other.camera,
            self.where | other.where,
            self.groups | other.groups,
            self.more or other.more,
        )


def held_in(blocks: tuple[Block, ...]) -> Held:
    """What the blocks around a picture hold; what cannot be read is taken to hold it."""
    found = Held()
    for block in blocks:
        try:
            found |= _of(block)
        except Exception:  # a stranger's metadata may be broken in any way
            found |= Held(True, True, frozenset((block.kind,)))
    return found


def _of(block: Block) -> Held:
    place = camera = False
    if block.kind == "exif":
        place, camera = _of_exif(block.body)
    elif block.kind == "xmp":
        place, camera = bool(_XMP_PLACE.search(block.body)), bool(_XMP_CAMERA.search(block.body))
        # A photo's place is also told by the names of its entries alone, whatever their spaces.
        place = place or b"GPSLatitude" in block.body
    elif block.kind == "iptc":
        place = _of_iptc(block.body)
    elif block.kind == "trailer":
        # Another picture behind the first, with metadata of its own, or what a telephone adds.
        place = camera = len(block.body) > 64
    elif block.kind == "other" and block.body.startswith(_RAW):
        place, camera = _of_text(block.body)
    elif block.kind == "other":
        place = b"GPSLatitude" in block.body
        camera = block.body.startswith(b"MPF\0") or b"Exif\0\0" in block.body
    kinds = frozenset((block.kind,)) if place or camera else frozenset[str]()
    return Held(place, camera, kinds, more=_more_in(block))


_MORE = ("xmp", "iptc", "text")
_CARRIED = frozenset(
    (
        0x0100, 0x0101, 0x0102, 0x0103, 0x0106, 0x0111, 0x0112, 0x0115, 0x0116, 0x0117,  # how it is coded
        0x011A, 0x011B, 0x011C, 0x0128, 0x0211, 0x0212, 0x0213, 0x0214,  # and shown
        0x010E, 0x0132, 0x013B, 0x8298, 0x8769, 0x8825, *_OF_CAMERA,  # what is told by itself
    )
)  # fmt: skip


def _more_in(block: Block) -> bool:
    """Whether a block tells what is no group of the metadata; of XMP, IPTC and comments it is taken that they do."""
    if block.kind != "exif":
        return block.kind in _MORE
    exif = Image.Exif()
    exif.load(block.body if block.body.startswith(b"Exif") else b"Exif\0\0" + block.body)
    return any(tag not in _CARRIED for tag in exif)


def _of_exif(block: bytes) -> tuple[bool, bool]:
    exif = Image.Exif()
    exif.load(block if block.startswith(b"Exif") else b"Exif\0\0" + block)
    shot, place = exif.get_ifd(SHOT), exif.get_ifd(PLACE)
    camera = any(exif.get(tag) not in (None, "") for tag in _OF_CAMERA)
    camera = camera or any(tag not in _OF_PICTURE for tag in shot)
    return any(tag != 0 for tag in place), camera


def _of_text(body: bytes) -> tuple[bool, bool]:
    """Of metadata that a PNG holds as hexadecimal text: a name, a length, and the digits."""
    _name, _, text = body.partition(b"\0")
    held = bytes.fromhex(b"".join(text.split()[2:]).decode("ascii"))
    if held.startswith((b"Exif\0\0", b"II*\0", b"MM\0*")):
        return _of_exif(held)
    return bool(_XMP_PLACE.search(held)), bool(_XMP_CAMERA.search(held))


def _of_iptc(body: bytes) -> bool:
    # Pillow reads IPTC from a picture: this is the least one that holds the block.
    with Image.open(io.BytesIO(_JPEG + _app13(body) + _JPEG_REST)) as picture:
        told = IptcImagePlugin.getiptcinfo(picture) or {}
    return any(key in told for key in _IPTC_PLACE)


def _app13(body: bytes) -> bytes:
    if not body.startswith(b"Photoshop 3.0\0"):
        resource = b"8BIM\x04\x04\0\0" + len(body).to_bytes(4, "big") + body
        body = b"Photoshop 3.0\0" + resource + b"\0" * (len(body) % 2)
    return b"\xff\xed" + (len(body) + 2).to_bytes(2, "big") + body


_JPEG = b"\xff\xd8"
_JPEG_REST = bytes.fromhex("ffc0000b080001000101011100ffda0008010100003f00")
