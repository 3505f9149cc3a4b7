"""Metadata: credit and copyright are kept, everything else the camera wrote is dropped.

Credit and copyright are gathered from EXIF, IPTC and XMP and written as EXIF, together with
the pixels per inch. The place of the shot is never among what is written.
"""

from __future__ import annotations

import io
import re
from dataclasses import dataclass
from xml.etree import ElementTree

from PIL import Image, IptcImagePlugin
from PIL.TiffImagePlugin import IFDRational

_ARTIST, _COPYRIGHT = 0x013B, 0x8298
_XRES, _YRES, _RESUNIT = 0x011A, 0x011B, 0x0128
_MOST_XMP = 200_000


@dataclass(frozen=True)
class Credit:
    """Whom a photo is by, and whose it is; empty where the photo does not say."""

    by: str = ""
    rights: str = ""

    def __bool__(self) -> bool:
        return bool(self.by or self.rights)


def _clean(value: object) -> str:
    text = value.decode("utf-8", "replace") if isinstance(value, bytes) else str(value or "")
    return " ".join(text.replace("\0", " ").split())[:500]


def _from_xmp(data: bytes) -> Credit:
    if len(data) > _MOST_XMP or b"<!DOCTYPE" in data or b"<!ENTITY" in data:
        return Credit()  # a document type could make the parser's work explode
    text = data.decode("utf-8", "replace")
    found = re.search(r"<rdf:RDF.*</rdf:RDF>", text, re.S)
    if not found:
        return Credit()
    spaces = "".join(dict.fromkeys(re.findall(r'\sxmlns:\w+="[^"]*"', text)))
    try:
        root = ElementTree.fromstring(f"<all{spaces}>{found.group()}</all>")
    except ElementTree.ParseError:
        return Credit()
    core = "{http://purl.org/dc/elements/1.1/}"

    def said(name: str) -> str:
        words = [_clean(item.text) for part in root.iter(core + name) for item in part.iter()]
        return ", ".join(dict.fromkeys(word for word in words if word))

    return Credit(said("creator"), said("rights"))


def credit_of(data: bytes) -> Credit:
    """Credit and copyright of a photo's bytes; whatever cannot be read counts as absent."""
    by = rights = ""
    try:
        with Image.open(io.BytesIO(data)) as image:
            exif = image.getexif()
            by, rights = _clean(exif.get(_ARTIST)), _clean(exif.get(_COPYRIGHT))
            iptc = IptcImagePlugin.getiptcinfo(image) or {}
            names = iptc.get((2, 80), b"")
            name = names[0] if isinstance(names, list) and names else names
            by = by or _clean(name)
            rights = rights or _clean(iptc.get((2, 116), b""))
            packet = image.info.get("xmp") or image.info.get("XML:com.adobe.xmp") or b""
            if isinstance(packet, str):
                packet = packet.encode()
            if isinstance(packet, bytes) and packet and not (by and rights):
                told = _from_xmp(packet)
                by, rights = by or told.by, rights or told.rights
    except Exception:  # any of the three can be broken in any way; the picture is what matters
        return Credit(by, rights)
    return Credit(by, rights)


def exif_block(credit: Credit, ppi: float | None = None) -> bytes:
    """An EXIF block (TIFF structure, without its ``Exif`` header) with the credit, or nothing;
    with the pixels per inch too, for formats that hold them nowhere else."""
    if not credit and ppi is None:
        return b""
    exif = Image.Exif()
    if ppi is not None:
        exif[_XRES] = exif[_YRES] = IFDRational(round(ppi * 1000), 1000)
        exif[_RESUNIT] = 2
    if credit.by:
        exif[_ARTIST] = credit.by
    if credit.rights:
        exif[_COPYRIGHT] = credit.rights
    return exif.tobytes().removeprefix(b"Exif\0\0")
