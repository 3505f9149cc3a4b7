"""A reader's side: what a photo's metadata tell, gathered from EXIF, IPTC and XMP."""

from __future__ import annotations

import re
from dataclasses import replace
from typing import Any
from xml.etree import ElementTree

from PIL import Image, IptcImagePlugin

from aptandum.core.photo import limits, places, walk
from aptandum.core.photo.decoders import Data, stream_of
from aptandum.core.photo.metadata_groups import (
    ARTIST,
    CAPTION,
    COPYRIGHT,
    DATE,
    MAKE,
    MODEL,
    PLACE,
    SHOT,
    TAKEN,
    TAKING,
    Credit,
    clean,
)

_MOST_XMP = 200_000


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
        words = [
            " ".join((item.text or "").split())
            for part in root.iter(core + name)
            for item in part.iter()
        ]
        return ", ".join(dict.fromkeys(word for word in words if word))

    return Credit(said("creator"), said("rights"), said("description"), where=places.named_in(data))


def credit_of(data: Data) -> Credit:
    """What a photo's bytes tell; whatever cannot be read counts as absent."""
    told = Credit()
    limits.guard_libraries()
    try:
        with Image.open(stream_of(data)) as image:
            early = _told_before_pixels(data, image)
            told = _from_exif(Image.Image.getexif(image) if early else image.getexif())
            iptc = IptcImagePlugin.getiptcinfo(image) or {}

            def plain(key: int) -> str:
                held = iptc.get((2, key), b"")
                return clean(held[0] if isinstance(held, list) and held else held)

            named = ", ".join(filter(None, map(plain, places.IPTC_NAMES)))
            told = _filled(told, Credit(plain(80), plain(116), plain(120), where=named))
            packet = image.info.get("xmp") or image.info.get("XML:com.adobe.xmp") or b""
            if isinstance(packet, str):
                packet = packet.encode()
            if isinstance(packet, bytes) and packet:
                told = _filled(told, _from_xmp(packet))
            for more in _extended(image):
                told = _filled(told, Credit(where=places.named_in(more)))
    except Exception:  # any of the three can be broken in any way; the picture is what matters
        return told
    return told


def _told_before_pixels(data: Data, image: Image.Image) -> bool:
    """Whether what a picture tells lies before its pixels. A PNG may tell it behind them, and the library then decodes all
    of them to come to it; of a PNG that tells nothing as well."""
    if image.format != "PNG":
        return True
    look = walk.declared(data, "png")
    if look is None or look.pixels is None:
        return False
    places = [begin for _name, begin, _end in look.texts]
    places += [look.exif[0]] if look.exif else []
    return all(place < look.pixels for place in places)


_EXTENDED = b"http://ns.adobe.com/xmp/extension/\0"


def _extended(image: Image.Image) -> list[bytes]:
    """XMP that did not find room in a JPEG's first packet (XMP part 3), its parts put together in order."""
    parts = sorted(
        (
            int.from_bytes(body[len(_EXTENDED) + 36 : len(_EXTENDED) + 40], "big"),
            body[len(_EXTENDED) + 40 :],
        )
        for name, body in getattr(image, "applist", ())
        if name == "APP1" and body.startswith(_EXTENDED)
    )
    return [b"".join(body for _at, body in parts)[:_MOST_XMP]] if parts else []


def _filled(told: Credit, other: Credit) -> Credit:
    return replace(
        told,
        by=told.by or other.by,
        rights=told.rights or other.rights,
        caption=told.caption or other.caption,
        where=told.where or other.where,
    )


def _from_exif(exif: Image.Exif) -> Credit:
    shot, place = _inner(exif, SHOT), _inner(exif, PLACE)
    camera = {tag: exif[tag] for tag in (MAKE, MODEL) if exif.get(tag)}
    camera |= {tag: shot[tag] for tag in TAKING if shot.get(tag) not in (None, "")}
    date = clean(shot.get(TAKEN) or exif.get(DATE))
    return Credit(
        clean(exif.get(ARTIST)),
        clean(exif.get(COPYRIGHT)),
        clean(exif.get(CAPTION)),
        date if re.fullmatch(r"\d{4}:\d\d:\d\d \d\d:\d\d:\d\d", date) else "",
        camera,
        {tag: value for tag, value in place.items() if isinstance(tag, int)},
    )


def _inner(exif: Image.Exif, tag: int) -> dict[int, Any]:
    try:
        return dict(exif.get_ifd(tag))
    except Exception:  # a broken directory tells nothing
        return {}
