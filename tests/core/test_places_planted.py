"""Thirty ways in which a file tells where it was taken: each is seen, and none comes into a file that is made."""

from __future__ import annotations

import io
import json
import struct
import subprocess
import zlib
from pathlib import Path

import pillow_heif
import pyjpegxl
import pytest
from PIL import Image, TiffImagePlugin
from test_where_told import HEAD, TAIL, gps, other, piece, png, raw

from aptandum.core.as_supplied import held
from aptandum.core.conform import conform
from aptandum.core.docket.audit import check_file
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo, read_facts
from aptandum.core.rulebook.shelf import Brief
from read_elsewhere import THERE
from samples import brief_of, clause, scene

ANY = Brief("any", "", ())
PIXELS = scene(64, 48)
PICTURE = Image.fromarray(PIXELS)
TOWN = "Lantern Quay"
COORDINATES = f'{HEAD}<rdf:Description xmlns:exif="http://ns.adobe.com/exif/1.0/" exif:GPSLatitude="54,10.5N" exif:GPSLongitude="7,53.1E"/>{TAIL}'
GEO = f'{HEAD}<rdf:Description xmlns:geo="http://www.w3.org/2003/01/geo/wgs84_pos#" geo:lat="54.175"/>{TAIL}'
CITY = f'{HEAD}<rdf:Description xmlns:photoshop="http://ns.adobe.com/photoshop/1.0/" photoshop:City="{TOWN}"/>{TAIL}'
SHOWN = (
    f'{HEAD}<rdf:Description xmlns:Iptc4xmpExt="http://iptc.org/std/Iptc4xmpExt/2008-02-29/"><Iptc4xmpExt:LocationShown>'
    f"<rdf:Bag><rdf:li><Iptc4xmpExt:City>{TOWN}</Iptc4xmpExt:City></rdf:li></rdf:Bag></Iptc4xmpExt:LocationShown>"
    f"</rdf:Description>{TAIL}"
)
CORE = (
    f'{HEAD}<rdf:Description xmlns:Iptc4xmpCore="http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/">'
    f"<Iptc4xmpCore:Location>{TOWN}</Iptc4xmpCore:Location></rdf:Description>{TAIL}"
)


def iptc(*keys: int) -> bytes:
    text = TOWN.encode()
    return b"".join(
        b"\x1c\x02" + bytes([key]) + struct.pack(">H", len(text)) + text for key in keys
    )


def saved(kind: str, **more: object) -> bytes:
    out = io.BytesIO()
    PICTURE.save(out, kind, **more)
    return out.getvalue()


def segment(marker: int, body: bytes) -> bytes:
    return bytes([0xFF, marker]) + struct.pack(">H", len(body) + 2) + body


def jpeg(*segments: bytes, **more: object) -> bytes:
    data = saved("JPEG", quality=90, **more)
    return data[:2] + b"".join(segments) + data[2:]


def resource(body: bytes, number: int = 0x0404) -> bytes:
    return (
        b"Photoshop 3.0\0"
        + b"8BIM"
        + struct.pack(">HHI", number, 0, len(body))
        + body
        + bytes(len(body) % 2)
    )


def extended(packet: str) -> bytes:
    name = b"0123456789ABCDEF0123456789ABCDEF"
    body = packet.encode()
    head = b"http://ns.adobe.com/xmp/extension/\0" + name + struct.pack(">II", len(body), 0)
    return segment(0xE1, head + body)


def tiff(tag: int, body: bytes, kind: int = 1) -> bytes:
    tags = TiffImagePlugin.ImageFileDirectory_v2()
    tags[tag] = body
    tags.tagtype[tag] = kind
    return saved("TIFF", tiffinfo=tags)


def heic(**more: object) -> bytes:
    out = io.BytesIO()
    high, wide = PIXELS.shape[:2]
    pillow_heif.from_bytes(mode="RGB", size=(wide, high), data=PIXELS.tobytes()).save(out, **more)
    return out.getvalue()


XMP1 = b"http://ns.adobe.com/xap/1.0/\0"
COORDINATE_KINDS = {
    "exif.jpg": jpeg(exif=gps()),
    "exif-late.jpg": jpeg(segment(0xFE, b"note"), exif=gps()),
    "xmp.jpg": jpeg(segment(0xE1, XMP1 + COORDINATES.encode())),
    "geo.jpg": jpeg(segment(0xE1, XMP1 + GEO.encode())),
    "extended.jpg": jpeg(extended(COORDINATES)),
    "second-exif.jpg": jpeg(segment(0xE1, gps()), exif=Image.Exif().tobytes()),
    "behind.jpg": jpeg() + jpeg(exif=gps()),
    "exif.png": saved("PNG", exif=gps()),
    "text.png": png(COORDINATES),
    "late.png": png(COORDINATES, late=True),
    "raw-exif.png": png(chunk=raw("exif", gps())),
    "raw-app1.png": png(chunk=raw("APP1", gps())),
    "raw-xmp.png": png(chunk=raw("xmp", COORDINATES.encode())),
    "ztxt.png": png(chunk=piece(b"zTXt", b"XML:com.adobe.xmp\0\0" + zlib.compress(COORDINATES.encode()))),
    "exif.tif": saved("TIFF", exif=gps()),
    "xmp.tif": other("TIFF", COORDINATES),
    "exif.webp": saved("WEBP", exif=gps()),
    "xmp.webp": other("WEBP", COORDINATES),
    "exif.avif": saved("AVIF", exif=gps()),
    "xmp.avif": other("AVIF", COORDINATES),
    "exif.heic": heic(exif=gps()),
    "xmp.heic": heic(xmp=COORDINATES.encode()),
    "exif.jxl": pyjpegxl.encode_from_numpy(PIXELS, exif=gps()[6:]),
    "xmp.jxl": pyjpegxl.encode_from_numpy(PIXELS, xmp=COORDINATES.encode()),
}  # fmt: skip
NAME_KINDS = {
    "city.jpg": jpeg(segment(0xED, resource(iptc(90)))),
    "country.jpg": jpeg(segment(0xED, resource(iptc(101)))),
    "quarter.jpg": jpeg(segment(0xED, resource(iptc(92, 95)))),
    "xmp-city.jpg": jpeg(segment(0xE1, XMP1 + CITY.encode())),
    "xmp-shown.jpg": jpeg(segment(0xE1, XMP1 + SHOWN.encode())),
    "xmp-core.jpg": jpeg(segment(0xE1, XMP1 + CORE.encode())),
    "extended-city.jpg": jpeg(extended(CITY)),
    "city.png": png(CITY),
    "city.webp": other("WEBP", CITY),
    "city.tif": other("TIFF", CITY),
    "iptc.tif": tiff(33723, iptc(90), 7),
    "city.avif": other("AVIF", SHOWN),
    "city.heic": heic(xmp=CORE.encode()),
}


@pytest.fixture(scope="module")
def planted(tmp_path_factory) -> Path:
    folder = tmp_path_factory.mktemp("planted")
    for name, data in {**COORDINATE_KINDS, **NAME_KINDS}.items():
        (folder / name).write_bytes(data)
    assert len(COORDINATE_KINDS) + len(NAME_KINDS) >= 30
    return folder


@pytest.mark.parametrize("name", [n for n in COORDINATE_KINDS if n not in ("behind.jpg",)])
def test_coordinates_are_told(planted: Path, name: str):
    assert read_facts(planted / name).location


@pytest.mark.parametrize("name", NAME_KINDS)
def test_names_are_told_as_a_second_kind(planted: Path, name: str):
    brief = brief_of(clause("place_name", exactly="none") + clause("location", exactly="none"))
    found = check_file(str(planted / name), brief).findings
    assert found.of("place_name").verdict == "misses"
    assert found.of("location").verdict == "meets"


def traces(data: bytes) -> list[str]:
    """What two ways of looking find of the place in a file that was made."""
    found = [mark for mark in (TOWN.encode(), b"54,10", b"GPSLat", b"geo:lat") if mark in data]
    return [mark.decode() for mark in found]


@pytest.mark.parametrize("ending", ["", "jpeg", "webp"])
@pytest.mark.long
def test_none_of_them_is_in_a_file_that_is_made(planted: Path, tmp_path: Path, ending: str):
    made = []
    for name in (*COORDINATE_KINDS, *NAME_KINDS):
        wishes = Settings().having({"file.format": ending} if ending else {})
        proof = conform(open_photo(planted / name), ANY, wishes)
        path = tmp_path / f"{name}.{proof.made.format}"
        path.write_bytes(proof.made.data)
        made.append(path)
        assert not traces(proof.made.data), name
        there = held(open_photo(path))
        assert not there.location, name
    if THERE:
        call = ["exiftool", "-json", "-a", "-G1", *map(str, made)]
        said = json.loads(subprocess.run(call, capture_output=True, check=False).stdout)
        for one in said:
            tags = [tag.split(":")[-1] for tag in one]
            assert not [t for t in tags if "GPS" in t or "City" in t or "Location" in t], one


def test_names_are_kept_with_the_place_where_somebody_says_so(planted: Path):
    wishes = Settings().having({"file.metadata.location": "keep"})
    proof = conform(open_photo(planted / "xmp-city.jpg"), ANY, wishes)
    assert TOWN.encode() in proof.made.data and proof.line.way == "supplied"
