from __future__ import annotations

import io
import os
import struct
import zlib
from pathlib import Path

import numpy as np
import pytest
import pyvips
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.photo import decode, jpeg_header
from aptandum.core.photo import header as header_module
from aptandum.core.photo.decode import facts_of_bytes, read_facts
from aptandum.core.photo.facts import Facts, PhotoError
from aptandum.core.photo.header import tidy_ppi
from aptandum.core.photo.profile import identify, shipped
from samples import DEMO, examples, jpeg, scene

SMALL = scene(60, 40)


def saved(kind: str, pixels: np.ndarray | Image.Image = SMALL, **options: object) -> bytes:
    out = io.BytesIO()
    image = pixels if isinstance(pixels, Image.Image) else Image.fromarray(pixels)
    image.save(out, kind, **options)
    return out.getvalue()


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "GIF", "BMP", "TIFF", "WEBP", "AVIF"])
def test_each_format_is_told_by_content(tmp_path: Path, kind: str):
    path = tmp_path / "misleading.txt"
    path.write_bytes(saved(kind))
    facts = decode.full_facts(path)
    assert (facts.format, facts.width, facts.height, facts.frames) == (kind.lower(), 60, 40, 1)
    assert facts.error is None and facts.decodes is True
    assert facts.mode == ("palette" if kind == "GIF" else "rgb")
    assert facts.bits == 8 and facts.alpha is False and facts.icc is None
    assert facts.ppi_x is None or kind == "BMP"  # Pillow always states 96 in a BMP


@pytest.mark.parametrize("orientation", range(1, 9))
@pytest.mark.parametrize("kind", ["JPEG", "TIFF", "WEBP", "PNG", "AVIF"])
def test_stored_and_shown_size_are_both_known(orientation: int, kind: str):
    exif = Image.Exif()
    exif[0x0112] = orientation
    facts = facts_of_bytes(saved(kind, exif=exif))
    turned = orientation >= 5
    assert (facts.width, facts.height) == (60, 40)
    assert facts.size == ((40, 60) if turned else (60, 40))
    assert facts.orientation == orientation


@pytest.mark.parametrize("orientation", [0, 9])
def test_an_orientation_out_of_range_is_none(orientation: int):
    exif = Image.Exif()
    exif[0x0112] = orientation
    assert facts_of_bytes(saved("JPEG", exif=exif)).orientation == 1


def few(kind: str, colours: int, palette: tuple[int, ...] = ()) -> bytes:
    image = Image.new("P", (20, 20))
    image.putpalette(palette or [(n * 37) % 256 for n in range(3 * colours)])
    image.putdata([n % colours for n in range(400)])
    return saved(kind, image, optimize=kind == "GIF")


def test_bits_modes_and_alpha():
    deep = (np.arange(48, dtype=np.uint16).reshape(4, 4, 3) * 900).copy()
    image = pyvips.Image.new_from_array(deep).copy(interpretation="rgb16")
    cases = [
        (saved("PNG", Image.new("1", (9, 9))), "mono", 1, False),
        (saved("BMP", Image.new("1", (9, 9))), "mono", 1, False),
        (saved("TIFF", Image.new("1", (9, 9))), "mono", 1, False),
        (saved("PNG", Image.new("L", (9, 9))), "grey", 8, False),
        (saved("PNG", Image.new("LA", (9, 9))), "grey", 8, True),
        (saved("PNG", Image.new("RGBA", (9, 9))), "rgb", 8, True),
        (saved("PNG", Image.new("P", (9, 9))), "palette", 1, False),
        (few("PNG", 2, (0, 0, 0, 255, 255, 255)), "mono", 1, False),
        (few("GIF", 2, (255, 255, 255, 0, 0, 0)), "mono", 1, False),
        (few("PNG", 2), "palette", 1, False),
        (few("PNG", 4), "palette", 2, False),
        (few("PNG", 16), "palette", 4, False),
        (few("PNG", 200), "palette", 8, False),
        (few("GIF", 200), "palette", 8, False),
        (saved("PNG", Image.new("I;16", (9, 9))), "grey", 16, False),
        (saved("JPEG", Image.new("CMYK", (9, 9))), "cmyk", 8, False),
        (saved("TIFF", Image.new("CMYK", (9, 9))), "cmyk", 8, False),
        (image.pngsave_buffer(), "rgb", 16, False),
        (image.tiffsave_buffer(), "rgb", 16, False),
        (saved("GIF", Image.new("P", (9, 9)), transparency=0), "palette", 8, True),
    ]
    for data, mode, bits, alpha in cases:
        facts = facts_of_bytes(data)
        assert (facts.mode, facts.bits, facts.alpha) == (mode, bits, alpha), facts


def test_density_only_where_it_is_stated():
    assert facts_of_bytes(saved("JPEG", dpi=(300, 300))).ppi_x == 300
    assert facts_of_bytes(saved("PNG", dpi=(300, 300))).ppi_x == 300
    assert facts_of_bytes(saved("TIFF", dpi=(240, 240))).ppi_y == 240
    cm = facts_of_bytes(
        saved("TIFF", resolution_unit="cm", x_resolution=118.11, y_resolution=118.11)
    )
    assert cm.ppi_x == 300
    for kind in ("JPEG", "PNG", "TIFF", "BMP", "WEBP", "GIF"):
        stated = facts_of_bytes(saved(kind))
        assert stated.ppi_x is None or kind == "BMP"
    assert tidy_ppi(299.9994) == 300 and tidy_ppi(96.5) == 96.5


@pytest.mark.parametrize("space", ["srgb", "adobe-rgb", "display-p3", "prophoto", "grey"])
def test_profiles_are_known_by_content_even_without_a_name(space: str):
    icc = shipped(space)
    assert identify(icc).space == space
    at = icc.index(b"desc\0\0\0\0")
    nameless = bytearray(icc)
    size = struct.unpack_from(">I", icc, at + 8)[0]
    nameless[at + 12 : at + 12 + size] = bytes(size)
    assert identify(bytes(nameless)).space == space
    assert identify(bytes(nameless)).description is None


def test_no_broken_and_foreign_profiles():
    assert facts_of_bytes(jpeg(SMALL)).colour_space == "untagged"
    for bad in (b"x" * 200, shipped("srgb")[:300], b""):
        assert identify(bad).broken
    facts = facts_of_bytes(jpeg(SMALL, icc_profile=shipped("srgb")[:400]))
    assert facts.icc is None and facts.colour_space == "untagged" and facts.profile.broken
    grey_on_rgb = facts_of_bytes(jpeg(SMALL, icc_profile=shipped("grey")))
    assert grey_on_rgb.colour_space == "untagged" and grey_on_rgb.profile.broken


def test_location_is_noticed(photo):
    assert read_facts(photo()).location is True
    assert facts_of_bytes(jpeg(SMALL)).location is False


def test_progressive_and_animation():
    assert facts_of_bytes(jpeg(SMALL, progressive=True)).progressive is True
    frames = [Image.fromarray(scene(20, 20, seed)) for seed in (1, 2, 3)]
    for kind in ("GIF", "WEBP", "PNG", "AVIF"):
        data = saved(kind, frames[0], save_all=True, append_images=frames[1:])
        assert facts_of_bytes(data).frames == 3, kind


def test_a_reduced_copy_is_not_a_page():
    image = Image.fromarray(scene(64, 64))
    pages = [image, image.resize((32, 32))]
    assert facts_of_bytes(saved("TIFF", image, save_all=True, append_images=pages[:1])).frames == 2
    pyramid = decode.from_array(scene(600, 600)).tiffsave_buffer(
        pyramid=True, tile=True, subifd=False
    )
    assert facts_of_bytes(pyramid).frames == 1


BAD = {
    "empty.jpg": (b"", "is empty"),
    "note.jpg": (b"Dear harbour master, enclosed is no photo at all.", "not a picture"),
    "header.png": (b"\x89PNG\r\n\x1a\n" + b"junk" * 9, "cut short"),
}


@pytest.mark.parametrize("name", BAD)
def test_bad_files_get_a_sentence_with_their_name(tmp_path: Path, name: str):
    path = tmp_path / name
    path.write_bytes(BAD[name][0])
    facts = decode.full_facts(path)
    assert facts.error and name in facts.error and BAD[name][1] in facts.error
    assert facts.decodes is False
    with pytest.raises(PhotoError, match=name):
        decode.open_photo(path)


def test_folder_missing_and_forbidden(tmp_path: Path, monkeypatch: pytest.MonkeyPatch):
    assert "is a folder" in (read_facts(tmp_path).error or "")
    assert "not found" in (read_facts(tmp_path / "x.jpg").error or "")
    path = tmp_path / "locked.jpg"
    path.write_bytes(jpeg(SMALL))
    path.chmod(0)
    if os.geteuid() == 0:  # root may read all: let the system's answer be the one others get

        def refuse(*_args: object) -> None:
            raise PermissionError(13, "Permission denied", str(path))

        monkeypatch.setattr(os, "open", refuse)
    assert "permission" in (read_facts(path).error or "")


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "GIF", "WEBP", "TIFF", "BMP"])
def test_truncated_photos_do_not_decode(tmp_path: Path, kind: str):
    data = saved(kind, scene(300, 200, grain=20))
    path = tmp_path / f"cut.{kind.lower()}"
    path.write_bytes(data[: len(data) * 6 // 10])
    facts = decode.full_facts(path)
    assert facts.decodes is False and "cut" in (facts.error or "")


def test_a_hostile_size_is_refused_before_its_pixels(tmp_path: Path):
    def chunk(kind: bytes, body: bytes) -> bytes:
        return (
            struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))
        )

    head = struct.pack(">IIBBBBB", 100_000, 100_000, 8, 2, 0, 0, 0)
    bomb = b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", b"") + chunk(b"IEND", b"")
    path = tmp_path / "vast.png"
    path.write_bytes(bomb)
    facts = decode.full_facts(path)
    assert (facts.width, facts.height, facts.decodes) == (100_000, 100_000, False)
    assert "10 000 megapixels" in (facts.error or "").replace("\u00a0", " ")


def test_an_animation_is_no_photo(tmp_path: Path):
    frames = [Image.fromarray(scene(20, 20, seed)) for seed in (1, 2)]
    path = tmp_path / "waves.gif"
    path.write_bytes(saved("GIF", frames[0], save_all=True, append_images=frames[1:]))
    with pytest.raises(PhotoError, match=r"waves\.gif is an animation of 2 frames"):
        decode.open_photo(path)


def test_a_name_of_any_bytes(tmp_path: Path):
    name = os.fsencode(tmp_path) + b"/caf\xe9 [1]\n.jpg"
    with open(name, "wb") as stream:
        stream.write(jpeg(SMALL))
    photo = decode.open_photo(os.fsdecode(name))
    assert decode.full_facts(os.fsdecode(name)).decodes is True
    assert photo.name.encode("utf-8") and photo.read()


@given(st.data())
@settings(max_examples=examples(300), deadline=None)
def test_no_bytes_crash_the_reader(data: st.DataObject):
    kinds = ["JPEG", "PNG", "GIF", "BMP", "TIFF", "WEBP", "AVIF"]
    raw = bytearray(_cached(data.draw(st.sampled_from(kinds))))
    for _ in range(data.draw(st.integers(1, 12))):
        raw[data.draw(st.integers(0, len(raw) - 1))] = data.draw(st.integers(0, 255))
    cut = data.draw(st.integers(0, len(raw)))
    facts = facts_of_bytes(bytes(raw[:cut]) if data.draw(st.booleans()) else bytes(raw), "f.bin")
    checked = decode.check_pixels(bytes(raw), facts) if facts.error is None else facts
    assert checked.error is None or "f.bin" in checked.error


_MADE: dict[str, bytes] = {}


def _cached(kind: str) -> bytes:
    if kind not in _MADE:
        _MADE[kind] = saved(kind, scene(24, 16))
    return _MADE[kind]


@st.composite
def ordinary(draw) -> bytes:
    """JPEGs with whatever an ordinary header can hold."""
    grey = draw(st.booleans())
    size = draw(st.integers(1, 60)), draw(st.integers(1, 60))
    image = Image.new("L" if grey else "RGB", size, 90)
    more: dict[str, object] = {"quality": 80, "subsampling": draw(st.sampled_from([0, 1, 2]))}
    if draw(st.booleans()):
        more["dpi"] = draw(st.integers(1, 900)), draw(st.integers(1, 900))
    more["progressive"] = draw(st.booleans())
    kind = draw(st.sampled_from(["", "srgb", "grey", "adobe-rgb", "junk"]))
    if kind:
        more["icc_profile"] = shipped(kind) if kind != "junk" else b"junk" * 40
    if draw(st.booleans()):
        exif = Image.Exif()
        exif[0x0112] = draw(st.integers(0, 9))
        if draw(st.booleans()):
            exif[0x011A] = exif[0x011B] = draw(st.integers(1, 700)) * 1.0
            exif[0x0128] = draw(st.sampled_from([1, 2, 3]))
        if draw(st.booleans()):
            exif.get_ifd(0x8825)[2] = (47.0, 1.0, 2.0)
        if draw(st.booleans()):
            exif.get_ifd(0x8769)[0xA001] = draw(st.sampled_from([1, 2, 65535]))
        more["exif"] = exif
    if draw(st.booleans()):
        more["comment"] = "low tide"
    if draw(st.integers(0, 4)) == 0:
        more["xmp"] = b'<x tiff:Orientation="6"/>'
    out = io.BytesIO()
    image.save(out, "JPEG", **more)
    data = out.getvalue()
    if draw(st.integers(0, 3)) == 0:  # and now and then a spoilt byte
        at = draw(st.integers(2, min(len(data) - 1, 900)))
        data = data[:at] + bytes([draw(st.integers(0, 255))]) + data[at + 1 :]
    return data


@st.composite
def spoilt_exif(draw: st.DrawFn) -> bytes:
    """An ordinary JPEG of which one or two bytes of its EXIF are spoilt."""
    exif = Image.Exif()
    exif[0x0112] = 6
    exif[0x011A] = exif[0x011B] = 240.0
    exif[0x010F] = "A maker of Vessary"
    exif.get_ifd(0x8825).update({1: "N", 2: (47.0, 1.0, 2.0)})
    data = bytearray(saved("JPEG", exif=exif))
    begin = data.index(b"Exif\0\0") + 6
    end = begin + struct.unpack_from(">H", data, begin - 8)[0] - 8
    for _ in range(draw(st.integers(1, 2))):
        byte = st.one_of(st.integers(0, 24), st.integers(0, 255))
        data[draw(st.integers(begin, end - 1))] = draw(byte)
    return bytes(data)


@given(st.one_of(ordinary(), spoilt_exif()))
@settings(deadline=None, max_examples=examples(400))
@pytest.mark.filterwarnings("ignore::UserWarning:PIL")
def test_the_walked_header_says_what_pillow_says(data: bytes):
    walked = facts_of_bytes(data, "mole.jpg")
    stream = io.BytesIO(data)
    plain = jpeg_header.read(stream, stream.read(16_384))
    if plain is None:
        return  # left to Pillow, which is what was asked then
    bare = Facts("mole.jpg", format="jpeg", bytes=len(data), decodes=False)
    stream.seek(0)
    assert walked == header_module._HeaderReader(stream, data[:512], bare).read()


def test_a_spoilt_table_is_no_ordinary_header():
    """Of 16 bit, a table is twice as long as its segment here: no picture can be read by it."""
    data = bytearray(jpeg(scene(64, 48)))
    table = data.index(b"\xff\xdb") + 4
    assert data[table] == 0
    data[table] = 0x10
    assert jpeg_header.read(io.BytesIO(), bytes(data)) is None
    facts = facts_of_bytes(bytes(data), "mole.jpg")
    assert facts.error == "mole.jpg cannot be read as JPEG: its header is damaged or cut short."


def test_most_photos_are_ordinary(photo):
    for path in [photo(), photo(orientation=6, name="b.jpg"), *DEMO.glob("*.jpg")]:
        data = path.read_bytes()
        assert jpeg_header.read(io.BytesIO(data[16_384:]), data[:16_384]) is not None, path


def test_a_profile_in_a_gif_is_found_whatever_its_palette_holds():
    icc = shipped("display-p3")
    image = Image.new("P", (20, 20))
    image.putpalette([44, 0, 0, 0, 0, 44, 0, 0, 0, 0, 9, 9])  # 44 begins a picture elsewhere
    image.putdata([n % 4 for n in range(400)])
    data = bytearray(saved("GIF", image, optimize=True, comment=b"44,"))
    table = 13 + (3 << ((data[10] & 7) + 1))
    block = b"\x21\xff\x0bICCRGBG1012"
    for at in range(0, len(icc), 255):
        part = icc[at : at + 255]
        block += bytes([len(part)]) + part
    facts = facts_of_bytes(bytes(data[:table]) + block + b"\0" + bytes(data[table:]))
    assert facts.colour_space == "display-p3" and facts.icc_bytes == icc and facts.frames == 1
    end = data.rindex(b";")
    late = facts_of_bytes(bytes(data[:end]) + block + b"\0;")
    assert late.icc is None
