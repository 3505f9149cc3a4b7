"""The photo's own picture goes out where it meets: byte for byte, or with only what lies around it
changed. The compressed data are taken out of both files by readers of the test's own."""

from __future__ import annotations

import io
import struct

import pytest
import pyvips
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image, PngImagePlugin

from aptandum.core.conform import conform
from aptandum.core.file.around import Unknown, blocks, changed
from aptandum.core.file.around.blocks import Around
from aptandum.core.file.standing import held_in
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.profile import shipped
from samples import brief_of, clause, examples
from untouched import exif_of, file_of

FORMATS = ("jpeg", "png", "webp", "tiff")
OPEN = brief_of(clause("longest_side", at_most=4000))


def picture_data(data: bytes, format_: str) -> bytes:
    """The compressed picture alone, by the plainest reading of each format."""
    if format_ == "jpeg":  # from the first table that is no application's to the end of image
        at = 2
        while data[at + 1] in (*range(0xE0, 0xF0), 0xFE):
            at += 2 + int.from_bytes(data[at + 2 : at + 4], "big")
        return data[at : data.rindex(b"\xff\xd9")]
    if format_ == "png":
        at, found = 8, b""
        while at < len(data):
            size, kind = struct.unpack_from(">I4s", data, at)
            if kind in (b"IHDR", b"PLTE", b"tRNS", b"IDAT"):
                found += data[at + 8 : at + 8 + size]
            at += 12 + size
        return found
    if format_ == "webp":
        at, found = 12, b""
        while at < len(data):
            kind, size = struct.unpack_from("<4sI", data, at)
            if kind in (b"VP8 ", b"VP8L", b"ALPH"):
                found += kind + data[at + 8 : at + 8 + size]
            at += 8 + size + size % 2
        return found
    with Image.open(io.BytesIO(data)) as image:
        tags = image.tag_v2
        parts = zip(tags[273], tags[279], strict=True)
        return b"".join(data[at : at + size] for at, size in parts)


def taken(tmp_path, data: bytes, format_: str):
    path = tmp_path / f"photo.{format_}"
    path.write_bytes(data)
    return open_photo(path)


@pytest.mark.parametrize("format_", (*FORMATS, "gif", "bmp"))
def test_what_meets_goes_out_byte_for_byte(tmp_path, format_):
    data = file_of(format_)
    proof = conform(taken(tmp_path, data, format_), OPEN)
    assert proof.made.data == data and proof.ready and proof.record == ()
    assert proof.line.way == "supplied" and "as it came" in proof.summary


@pytest.mark.parametrize("format_", FORMATS)
@pytest.mark.parametrize("camera, place", [(True, False), (False, True), (True, True)])
def test_camera_and_place_go_and_the_picture_stays(tmp_path, format_, camera, place):
    data = file_of(format_, exif_of(camera, place))
    proof = conform(taken(tmp_path, data, format_), OPEN)
    made = proof.made.data
    assert proof.ready and proof.line.way == "around" and made != data
    assert picture_data(made, format_) == picture_data(data, format_)
    with Image.open(io.BytesIO(made)) as image:
        exif = image.getexif()
        assert exif[0x013B] == "Tobin Oar" and exif[0x010E] == "Low tide"
        assert 0x010F not in exif and 0x0110 not in exif
        assert not exif.get_ifd(0x8825) and 0x829D not in exif.get_ifd(0x8769)
    assert b"maker's own notes" not in made and b"Halyard" not in made
    told = [act.says for act in proof.record]
    assert any("Camera data left out" in said for said in told) == camera
    assert any("Place of the shot left out" in said for said in told) == place


@pytest.mark.parametrize("format_", FORMATS)
def test_a_person_keeps_what_is_left_out_else(tmp_path, format_):
    data = file_of(format_, exif_of(True, True))
    wish = {"file.metadata.camera": "keep", "file.metadata.location": "keep"}
    proof = conform(taken(tmp_path, data, format_), OPEN, Settings().having(wish))
    assert proof.made.data == data


@pytest.mark.parametrize("format_", FORMATS)
def test_density_and_profile_are_put_in_and_read_by_two_libraries(tmp_path, format_):
    brief = brief_of(
        clause("ppi", exactly=300)
        + clause("profile", exactly="embedded")
        + clause("location", exactly="none")
    )
    data = file_of(format_, exif_of(False, True, 1))
    proof = conform(taken(tmp_path, data, format_), brief)
    made = proof.made.data
    assert proof.ready and proof.line.way == "around"
    assert picture_data(made, format_) == picture_data(data, format_)
    with Image.open(io.BytesIO(made)) as image:
        assert image.info["icc_profile"] == shipped("srgb")
        dpi = image.info.get("dpi") or (image.getexif().get(282),)
        assert float(dpi[0]) == pytest.approx(300, abs=0.05)
        assert not image.getexif().get_ifd(0x8825)
        assert image.getexif()[0x013B] == "Tobin Oar"
    other = pyvips.Image.new_from_buffer(made, "")
    assert other.get("icc-profile-data") == shipped("srgb")
    if format_ != "webp":  # libvips does not tell a WebP's density
        assert other.xres * 25.4 == pytest.approx(300, abs=0.05)
    assert not any("gps" in name.lower() for name in other.get_fields())
    causes = {one for act in proof.record for one in act.cause.clauses}
    assert causes == {"ppi", "profile", "location"}


@pytest.mark.parametrize("orientation", (3, 6, 8, 2))
@pytest.mark.parametrize("format_", ("jpeg", "png", "webp"))
def test_what_lies_on_its_side_still_says_so(tmp_path, format_, orientation):
    data = file_of(format_, exif_of(True, True, orientation))
    made = conform(taken(tmp_path, data, format_), OPEN).made.data
    assert picture_data(made, format_) == picture_data(data, format_)
    with Image.open(io.BytesIO(made)) as image:
        assert image.getexif()[0x0112] == orientation


def test_a_place_that_only_xmp_tells_goes_too(tmp_path):
    packet = (
        b'<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf'
        b'-syntax-ns#"><rdf:Description xmlns:exif="http://ns.adobe.com/exif/1.0/" '
        b'exif:GPSLatitude="51,30.6N"/></rdf:RDF></x:xmpmeta>'
    )
    out = io.BytesIO()
    Image.new("RGB", (40, 30), "#557799").save(out, "JPEG", xmp=packet)
    data = out.getvalue()
    made = conform(taken(tmp_path, data, "jpeg"), OPEN).made.data
    assert b"GPSLatitude" in data and b"GPSLatitude" not in made
    assert picture_data(made, "jpeg") == picture_data(data, "jpeg")
    note = PngImagePlugin.PngInfo()
    note.add_itxt("XML:com.adobe.xmp", packet.decode(), zip=True)
    out = io.BytesIO()
    Image.new("RGB", (40, 30), "#557799").save(out, "PNG", pnginfo=note)
    made = conform(taken(tmp_path, out.getvalue(), "png"), OPEN).made.data
    assert b"XML:com.adobe.xmp" not in made


def test_a_second_picture_behind_the_first_is_not_handed_on(tmp_path):
    data = file_of("jpeg") + file_of("jpeg", exif_of(True, True))
    made = conform(taken(tmp_path, data, "jpeg"), OPEN).made.data
    assert made == file_of("jpeg")


def test_a_wide_space_named_by_the_camera_is_still_named(tmp_path):
    """The camera's data said in which space the numbers are: once they go, a profile says so."""
    exif = exif_of(True, False)
    exif.get_ifd(0x8769)[0xA001] = 0xFFFF
    exif.get_ifd(0x8769)[0xA005] = {1: "R03"}
    data = file_of("jpeg", exif)
    photo = taken(tmp_path, data, "jpeg")
    if photo.facts.hint is None:
        pytest.skip("this Pillow does not write the directory that names it")
    made = conform(photo, OPEN).made.data
    assert picture_data(made, "jpeg") == picture_data(data, "jpeg")
    with Image.open(io.BytesIO(made)) as image:
        assert image.info["icc_profile"] == shipped("adobe-rgb")


def test_a_hand_that_asks_for_another_picture_gets_it(tmp_path):
    photo = taken(tmp_path, file_of("jpeg"), "jpeg")
    for wish in (
        {"frame.output": "90 x 60"},
        {"file.quality": 70},
        {"file.format": "png"},
        {"colour.space": "adobe-rgb"},
        {"finish.keyline.width": 2},
        {"frame.angle": 1},
        {"frame.window": "10, 10, 90, 60"},
    ):
        proof = conform(photo, OPEN, Settings().having(wish))
        assert proof.line.way == "anew", wish
        assert all(act.cause.says for act in proof.record)


def test_a_limit_that_only_the_metadata_break_is_met_without_them(tmp_path):
    exif = exif_of(True, False)
    exif.get_ifd(0x8769)[0x927C] = b"\7" * 20_000
    data = file_of("jpeg", exif)
    brief = brief_of(clause("file_bytes", at_most=f"{len(data) - 15_000} bytes"))
    proof = conform(taken(tmp_path, data, "jpeg"), brief)
    assert proof.ready and proof.line.way == "around"
    assert picture_data(proof.made.data, "jpeg") == picture_data(data, "jpeg")


RULES = st.lists(
    st.sampled_from(
        [
            clause("longest_side", at_most=900),
            clause("width", at_least=20),
            clause("format", one_of=["jpeg", "png", "webp", "tiff"]),
            clause("file_bytes", at_most="2 MB"),
            clause("enlargement", at_most=1),
            clause("megapixels", at_most=2),
            clause("aspect", at_least="1:3", at_most="3:1"),
            clause("bits", exactly=8),
            clause("channels", one_of=["colour"]),
            clause("location", exactly="none"),
        ]
    ),
    min_size=1,
    max_size=6,
    unique=True,
)


@settings(max_examples=examples(60), suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    RULES,
    st.sampled_from(FORMATS),
    st.integers(24, 300),
    st.integers(24, 300),
    st.booleans(),
    st.booleans(),
)
def test_identity_and_idempotence(tmp_path, rules, format_, wide, high, camera, place):
    """A photo that meets goes out as it is, whatever a brief leaves open; what is made of it goes
    out as it is as well."""
    if max(wide, high) > 3 * min(wide, high):
        high = wide
    exif = exif_of(camera, place) if camera or place else None
    size = (wide - wide % 10 + 10, high - high % 10 + 10)
    if max(size) > 3 * min(size):
        size = (120, 80)
    data = file_of(format_, exif, size)
    photo = taken(tmp_path, data, format_)
    brief = brief_of("".join(rules))
    proof = conform(photo, brief)
    assert proof.ready
    if not camera and not place:
        assert proof.made.data == data
    assert picture_data(proof.made.data, format_) == picture_data(data, format_)
    again = conform(taken(tmp_path, proof.made.data, format_), brief)
    assert again.made.data == proof.made.data


@settings(
    max_examples=examples(25),
    deadline=None,
    suppress_health_check=[HealthCheck.function_scoped_fixture],
)
@given(
    st.sampled_from(["3:2", "1:1", "4:5"]),
    st.integers(60, 400),
    st.sampled_from(["jpeg", "png", "webp", "tiff"]),
    st.booleans(),
)
def test_what_was_made_is_not_made_again(tmp_path, shape, longest, format_, limit):
    rules = clause("aspect", exactly=shape) + clause("longest_side", at_most=longest)
    rules += clause("format", exactly=format_)
    if limit:
        rules += clause("file_bytes", at_most="60 kB")
    brief = brief_of(rules)
    photo = taken(tmp_path, file_of("jpeg", exif_of(True, True), (420, 310)), "jpeg")
    proof = conform(photo, brief)
    again = conform(taken(tmp_path, proof.made.data, format_), brief)
    assert again.made.data == proof.made.data and again.line.way == "supplied"


@settings(max_examples=examples(150))
@given(st.binary(max_size=400), st.sampled_from(FORMATS), st.integers(0, 5000), st.integers(0, 255))
def test_a_spoilt_file_is_never_taken_apart_wrongly(noise, format_, at, value):
    """Whatever a stranger's file holds, it is either told apart or said not to be known."""
    data = bytearray(file_of(format_))
    data[at % len(data)] = value
    for one in (bytes(data), bytes(data[: at % len(data)]), noise):
        try:
            held_in(blocks(one, format_))
            changed(one, format_, Around(frozenset(("xmp", "other")), b"", 300.0))
        except Unknown:
            continue


@pytest.mark.parametrize("name", ("Raw profile type exif", "Raw profile type APP1"))
def test_a_place_in_a_text_of_a_png_goes_too(tmp_path, name):
    """Some programs write EXIF as hexadecimal text; only another reader finds what it holds."""
    block = exif_of(True, True).tobytes()
    note = PngImagePlugin.PngInfo()
    note.add_text(name, f"\nexif\n{len(block):8}\n{block.hex()}\n", zip=True)
    out = io.BytesIO()
    Image.new("RGB", (40, 30), "#557799").save(out, "PNG", pnginfo=note)
    data = out.getvalue()
    made = conform(taken(tmp_path, data, "png"), OPEN).made.data
    with Image.open(io.BytesIO(made)) as image:
        exif = image.getexif()
        assert not exif.get_ifd(0x8825) and 0x010F not in exif
        assert not any(str(key).startswith("Raw profile") for key in image.info)
    assert picture_data(made, "png") == picture_data(data, "png")


def test_a_format_that_cannot_be_taken_apart_says_why_it_is_encoded_anew(tmp_path):
    out = io.BytesIO()
    Image.new("RGB", (40, 30), "#557799").save(out, "AVIF", exif=exif_of(True, True).tobytes())
    proof = conform(taken(tmp_path, out.getvalue(), "avif"), OPEN)
    assert proof.line.way == "anew" and proof.acts == ()
    said = next(act.says for act in proof.record if act.does.startswith("Encoded anew"))
    assert "cannot be left out by itself" in said
    with Image.open(io.BytesIO(proof.made.data)) as image:
        assert not image.getexif().get_ifd(0x8825)
