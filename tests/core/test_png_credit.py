"""What a PNG tells is found wherever it lies, before its pixels or behind them."""

from __future__ import annotations

import struct
import zlib

import pytest
from PIL import Image

from aptandum.core.photo.apart import credit_of


def chunk(kind: bytes, body: bytes) -> bytes:
    return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))


def png(before: bytes = b"", behind: bytes = b"") -> bytes:
    rows = b"".join(b"\0" + bytes(30) for _ in range(10))
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", struct.pack(">IIBBBBB", 10, 10, 8, 2, 0, 0, 0))
        + before
        + chunk(b"IDAT", zlib.compress(rows))
        + behind
        + chunk(b"IEND", b"")
    )


def exif() -> bytes:
    told = Image.Exif()
    told[315], told[33432] = "Ines Marrow", "Vessary Ferries"
    return chunk(b"eXIf", told.tobytes()[6:])


def xmp() -> bytes:
    packet = (
        '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">'
        '<rdf:Description xmlns:dc="http://purl.org/dc/elements/1.1/"><dc:creator><rdf:Seq><rdf:li>Tobin Oar</rdf:li>'
        "</rdf:Seq></dc:creator></rdf:Description></rdf:RDF></x:xmpmeta>"
    )
    return chunk(b"iTXt", b"XML:com.adobe.xmp\0\0\0\0\0" + packet.encode())


@pytest.mark.parametrize("place", ["before", "behind"])
@pytest.mark.parametrize(("told", "by"), [(exif, "Ines Marrow"), (xmp, "Tobin Oar")])
def test_credit_is_read_on_either_side_of_the_pixels(place, told, by):
    assert credit_of(png(**{place: told()})).by == by


def test_one_on_each_side():
    assert credit_of(png(before=xmp(), behind=exif())).by == "Ines Marrow"
    assert credit_of(png(before=exif(), behind=xmp())).by == "Ines Marrow"


def test_nothing_told_and_pixels_that_are_broken():
    assert credit_of(png()).by == ""
    whole = png(before=exif())
    assert credit_of(whole[: len(whole) // 2 + 60]).by == "Ines Marrow"
