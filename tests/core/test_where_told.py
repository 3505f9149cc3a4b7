"""The place of the shot is found wherever a file tells it, and nowhere else."""

from __future__ import annotations

import io
import struct
import zlib
from pathlib import Path

import pytest
from PIL import Image, PngImagePlugin

from aptandum.core.as_supplied import held
from aptandum.core.conform import conform
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo, read_facts
from aptandum.core.rulebook.shelf import read_shelf
from samples import scene

HEAD = '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">'
TAIL = "</rdf:RDF></x:xmpmeta>"
EXIF = 'xmlns:exif="http://ns.adobe.com/exif/1.0/"'
PLACED = (
    f'{HEAD}<rdf:Description {EXIF} exif:GPSLatitude="54,10.5N" exif:GPSLongitude="7,53.1E"/>{TAIL}'
)
WRITTEN = f"{HEAD}<rdf:Description {EXIF}><exif:GPSLatitude>54,10.5N</exif:GPSLatitude></rdf:Description>{TAIL}"
SILENT = (
    f'{HEAD}<rdf:Description {EXIF} exif:GPSVersionID="2.3.0.0" exif:GPSLatitudeRef="N"/>{TAIL}'
)
PICTURE = Image.fromarray(scene(1500, 1300))


def gps() -> bytes:
    exif = Image.Exif()
    exif[0x8825] = {1: "N", 2: (54.0, 10.0, 30.0), 3: "E", 4: (7.0, 53.0, 6.0)}
    return exif.tobytes()


def jpeg(packet: str, **more: object) -> bytes:
    held = io.BytesIO()
    PICTURE.save(held, "JPEG", xmp=packet.encode(), **more)
    return held.getvalue()


def png(packet: str = "", late: bool = False, chunk: bytes = b"") -> bytes:
    out, info = io.BytesIO(), PngImagePlugin.PngInfo()
    if packet and not late:
        info.add_itxt("XML:com.adobe.xmp", packet)
    PICTURE.save(out, "PNG", pnginfo=info, compress_level=1)
    made = out.getvalue()
    if packet and late:
        chunk = piece(b"iTXt", b"XML:com.adobe.xmp\0\1\0\0\0" + zlib.compress(packet.encode()))
    return made[:-12] + chunk + made[-12:]


def piece(name: bytes, body: bytes) -> bytes:
    return struct.pack(">I", len(body)) + name + body + struct.pack(">I", zlib.crc32(name + body))


def raw(kind: str, body: bytes) -> bytes:
    text = f"\n{kind}\n{len(body):8d}\n{body.hex()}\n".encode()
    return piece(b"zTXt", f"Raw profile type {kind}".encode() + b"\0\0" + zlib.compress(text))


def other(kind: str, packet: str) -> bytes:
    held = io.BytesIO()
    more: dict[str, object] = {"xmp": packet.encode()}
    if kind == "TIFF":
        from PIL import TiffImagePlugin

        tags = TiffImagePlugin.ImageFileDirectory_v2()
        tags[700] = packet.encode()
        tags.tagtype[700] = 1
        more = {"tiffinfo": tags}
    PICTURE.save(held, kind, **more)
    return held.getvalue()


def files(packet: str) -> dict[str, bytes]:
    return {
        "plain.jpg": jpeg(packet),
        "orientation.jpg": jpeg(packet.replace("<rdf:Desc", "<!--Orientation--><rdf:Desc", 1)),
        "early.png": png(packet),
        "late.png": png(packet, late=True),
        "raw_xmp.png": png(chunk=raw("xmp", packet.encode())),
        "a.webp": other("WEBP", packet),
        "a.tif": other("TIFF", packet),
        "a.avif": other("AVIF", packet),
    }


@pytest.mark.parametrize("packet", [PLACED, WRITTEN])
@pytest.mark.long
def test_coordinates_in_xmp_alone_are_told(packet: str, tmp_path: Path):
    for name, data in files(packet).items():
        (tmp_path / name).write_bytes(data)
        assert read_facts(tmp_path / name).location, name


@pytest.mark.long
def test_what_only_speaks_of_places_tells_none(tmp_path: Path):
    for name, data in files(SILENT).items():
        (tmp_path / name).write_bytes(data)
        assert read_facts(tmp_path / name).location is False, name


def test_exif_in_a_text_of_a_png_is_told(tmp_path: Path):
    for kind in ("exif", "APP1"):
        path = tmp_path / f"{kind}.png"
        path.write_bytes(png(chunk=raw(kind, gps())))
        assert read_facts(path).location


@pytest.mark.long
def test_texts_that_are_broken_or_unpack_without_end_tell_nothing(tmp_path: Path):
    endless = zlib.compress(bytes(60_000_000), 9)
    for i, body in enumerate(
        (
            b"",
            b"\0",
            b"Raw profile type exif\0\0",
            b"Raw profile type exif\0\0" + endless,
            b"x\0\0" + endless,
        )
    ):
        for name in (b"tEXt", b"zTXt", b"iTXt"):
            path = tmp_path / f"{i}{name.decode()}.png"
            path.write_bytes(png(chunk=piece(name, body)))
            facts = read_facts(path)
            assert facts.error is None and facts.location is False


@pytest.mark.long
def test_it_is_in_no_file_that_is_made(tmp_path: Path):
    brief = read_shelf().find("quayside-exchange/item-picture")[1]
    for name, data in files(PLACED).items():
        path = tmp_path / name
        path.write_bytes(data)
        photo = open_photo(path)
        assert held(photo).location, name
        made = conform(photo, brief, Settings()).made.data
        assert b"GPSL" not in made and b"54,10.5N" not in made
