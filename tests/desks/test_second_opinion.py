"""The desk's eyes against ours: two readers, two sets of measures, one file."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.docket.batch import prove_one
from aptandum.core.docket.store import load
from aptandum.core.docket.takeover import find
from aptandum.core.judge.findings import judge
from aptandum.core.judge.reading import of_finished
from aptandum.core.photo.header import facts_of_bytes
from aptandum.core.photo.profile import shipped
from aptandum.core.rulebook.shelf import read_shelf
from aptandum.desks.intake.review import NoPicture, judged, look_at
from samples import DEMO, brief_of, clause, examples, scene

DOCKET = load(DEMO / "vessary.docket")


@pytest.mark.parametrize("place", range(len(DOCKET.fittings)))
@pytest.mark.long
def test_what_we_prove_to_meet_the_desk_accepts(place: int):
    fitting = DOCKET.fittings[place]
    _book, brief = find(DOCKET, read_shelf(), fitting.brief)
    _photo, _settings, proof = prove_one(fitting, DOCKET.photo(fitting.photo), brief)
    assert proof.ready, proof.findings.summary()
    assert judged(proof.made.data, proof.suggested, brief) == []


def encoded(image: Image.Image, form: str, **more: object) -> bytes:
    out = io.BytesIO()
    image.save(out, form, **more)
    return out.getvalue()


def files() -> dict[str, bytes]:
    rgb = Image.fromarray(scene(90, 60, 3))
    clear = rgb.copy()
    clear.putalpha(Image.linear_gradient("L").resize(rgb.size))
    solid = rgb.copy()
    solid.putalpha(255)
    turned = Image.Exif()
    turned[0x0112] = 6
    placed = Image.Exif()
    placed.get_ifd(0x8825)[2] = (47.0, 1.0, 2.0)
    deep = Image.fromarray((np.arange(5400, dtype=np.uint16) * 11).reshape(60, 90))
    frames = [rgb.quantize(16), rgb.rotate(9).quantize(16)]
    srgb, wide = shipped("srgb"), shipped("adobe-rgb")
    return {
        "srgb jpeg": encoded(rgb, "JPEG", icc_profile=srgb, dpi=(300, 300)),
        "wide jpeg": encoded(rgb, "JPEG", icc_profile=wide, progressive=True),
        "p3 jpeg": encoded(rgb, "JPEG", icc_profile=shipped("display-p3")),
        "untagged jpeg": encoded(rgb, "JPEG"),
        "turned jpeg": encoded(rgb, "JPEG", exif=turned, icc_profile=srgb),
        "placed jpeg": encoded(rgb, "JPEG", exif=placed),
        "grey jpeg": encoded(rgb.convert("L"), "JPEG", icc_profile=shipped("grey")),
        "cmyk jpeg": encoded(rgb.convert("CMYK"), "JPEG"),
        "clear png": encoded(clear, "PNG", icc_profile=srgb, dpi=(254, 254)),
        "solid png": encoded(solid, "PNG"),
        "deep png": encoded(deep, "PNG"),
        "dots png": encoded(rgb.convert("1"), "PNG"),
        "dots bmp": encoded(rgb.convert("1"), "BMP", dpi=(100, 100)),
        "moving gif": encoded(frames[0], "GIF", save_all=True, append_images=frames[1:]),
        "tiff": encoded(rgb, "TIFF", icc_profile=shipped("prophoto"), dpi=(240, 240)),
        "deep tiff": encoded(deep, "TIFF"),
        "webp": encoded(clear, "WEBP", icc_profile=srgb),
        "avif": encoded(rgb, "AVIF", icc_profile=srgb),
    }


FILES = files()


@pytest.mark.parametrize("name", FILES)
def test_two_readers_read_the_same_of_a_file(name: str):
    data = FILES[name]
    theirs, ours = look_at(data), facts_of_bytes(data, name)
    assert (theirs.format, theirs.width, theirs.height) == (
        ours.format,
        ours.oriented_width,
        ours.oriented_height,
    )
    assert (theirs.bytes, theirs.frames, theirs.location) == (len(data), ours.frames, ours.location)
    assert theirs.bits == ours.bits or name == "moving gif"
    assert theirs.profile == (ours.icc is not None)
    if ours.icc is not None:
        assert theirs.colour_space == ours.colour_space
    assert theirs.progressive == ours.progressive
    assert theirs.ppi == (None if ours.ppi_x is None else pytest.approx(ours.ppi_x, abs=0.02))


LIMITS = [
    clause("size", exactly="90 x 60"),
    clause("size", one_of=["60 x 90", "91 x 60"]),
    clause("longest_side", at_most="90 px"),
    clause("shortest_side", at_least="61 px"),
    clause("width", between=["80 px", "89 px"]),
    clause("height", at_least="60 px"),
    clause("aspect", exactly="3:2"),
    clause("aspect", between=["1:1", "4:3"]),
    clause("format", one_of=["jpeg", "png"]),
    clause("format", none_of=["gif"]),
    clause("file_bytes", at_most="4 kB (1000)"),
    clause("file_bytes", at_least="9 KB"),
    clause("transparency", exactly="none"),
    clause("transparency", exactly="present"),
    clause("bits", exactly="8"),
    clause("bits", one_of=["16"]),
    clause("frames", exactly=1),
    clause("profile", exactly="embedded"),
    clause("location", none_of=["present"]),
    clause("megapixels", at_least=0.005),
    clause("name_length", at_most=9),
    clause("name_pattern", exactly="[a-z_]+"),
]


@pytest.mark.parametrize("name", FILES)
def test_two_judges_hold_the_same_against_a_file(name: str):
    data = FILES[name]
    called = name.replace(" ", "_") + ".bin"
    for limit in LIMITS:
        brief = brief_of(limit)
        reading = of_finished(data, called, None)
        (finding,) = judge(reading, brief).findings
        if finding.verdict == "unknown":
            continue
        found = judged(data, called, brief)
        # a palette's bits are said differently: eight by us, as deep as its colours by nobody
        assert (finding.verdict == "misses") == bool(found), (name, limit, finding.says, found)
        if found:
            assert found[0].measure == finding.clause.measure and found[0].limit


@given(st.binary(max_size=400))
@settings(max_examples=examples(150), deadline=None)
def test_no_bytes_bring_a_desk_down(junk: bytes):
    brief = brief_of(clause("format", one_of=["jpeg"]))
    for data in (junk, b"\xff\xd8\xff" + junk, FILES["clear png"][:40] + junk):
        try:
            judged(data, "junk.jpg", brief)
        except NoPicture as error:
            assert str(error).endswith(".") or str(error).endswith(").")


def test_a_desk_refuses_a_picture_that_would_fill_the_machine():
    head = bytearray(FILES["deep png"])
    head[16:24] = (60_000).to_bytes(4, "big") * 2
    with pytest.raises(NoPicture):
        look_at(bytes(head))


def test_the_wrong_unit_is_eight_times_too_strict_and_nothing_else(tmp_path: Path):
    data = FILES["srgb jpeg"]
    brief = brief_of(
        clause("file_bytes", at_most=f"{len(data)} bytes") + clause("size", exactly="90 x 60")
    )
    assert judged(data, "a.jpg", brief) == []
    (reason,) = judged(data, "a.jpg", brief, wrong_unit=True)
    assert (reason.measure, reason.limit) == ("file_bytes", f"at most {len(data) // 8}")


@pytest.mark.parametrize("pattern", ["(a+)+$", "(a|aa)+$", "(.*a){20}$"])
def test_a_pattern_without_end_stops_no_desk(pattern: str):
    """What takes too long to tell is for the desk's staff."""
    brief = brief_of(clause("name_pattern", one_of=[pattern]))
    data = encoded(Image.fromarray(scene(20, 20)), "PNG")
    assert judged(data, "a" * 60 + "!.png", brief) is not None
