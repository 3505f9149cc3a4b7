"""What is made here is read alike by two programs that know nothing of this one."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pytest
from PIL import Image

import read_elsewhere as elsewhere
from aptandum.core.conform import conform
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.apart import facts_of_bytes
from aptandum.core.photo.decode import open_photo, read_facts
from aptandum.core.rulebook.contradictions import contradictions
from samples import THOROUGH, brief_of, clause, jpeg, scene

needs_both = pytest.mark.skipif(
    not elsewhere.THERE, reason="exiftool and ImageMagick, packages of Debian, are not here"
)
PER_METRE = 0.0254


def _differences(case: elsewhere.Case, told: dict[str, Any], seen: list[list[str]]) -> list[object]:
    """What two programs say of a file that is not what it was made to be."""
    want, format_ = elsewhere.carried(case), case.proof.made.format
    tags = {key.split(":", 1)[1]: value for key, value in told.items() if ":" in key}
    first, found = seen[0], []
    if (tags.get("ImageWidth"), tags.get("ImageHeight")) != tuple(want["size"]):
        found.append(("size", tags.get("ImageWidth"), tags.get("ImageHeight")))
    if [int(side) for side in first[1:3]] != list(want["size"]) or len(seen) != 1:
        found.append(("size or frames", first[1:3], len(seen)))
    if any(tag.startswith("GPS") for tag in tags):
        found.append("location")
    if any(tag in tags for tag in ("Make", "Model", "ISO", "LensModel", "ExposureTime")):
        found.append("camera")
    if tags.get("Orientation", 1) != 1 or first[8] not in ("Undefined", "TopLeft"):
        found.append(("orientation", tags.get("Orientation"), first[8]))
    profile = "ProfileDescription" in tags
    if profile != want["profile"] or (format_ != "avif" and bool(first[9]) != want["profile"]):
        found.append(("profile", profile, first[9]))
    if any("Warning" in tag for tag in tags):
        found.append(("warning", tags.get("Warning")))
    x = tags.get("XResolution") if tags.get("ResolutionUnit") in (2, None) else None
    if format_ == "jpeg":  # JFIF counts its units otherwise: 1 is inches
        x = told.get("JFIF:XResolution") if told.get("JFIF:ResolutionUnit") == 1 else None
    if format_ in ("png", "bmp"):
        name = "PixelsPerUnitX" if format_ == "png" else "PixelsPerMeterX"
        x = (tags.get(name) or 0) * PER_METRE or None
    if want["ppi"] and format_ != "gif" and (x is None or abs(x - want["ppi"]) > 0.02):
        found.append(("ppi", x))
    if not want["ppi"] and x and case.proof.line.way == "anew":
        found.append(("ppi that was not asked for", x))
    if (want["bits"] == 16) != (first[3] == "16"):
        found.append(("bits", first[3]))
    if want["bits"] == 1 and first[11] != "Bilevel":
        found.append(("one bit", first[11]))
    wished = "file.metadata.credit" in case.asked and format_ not in ("gif", "bmp")
    if wished and tags.get("Artist") != "Tobin Oar":
        found.append(("credit", tags.get("Artist")))
    return found


@needs_both
@pytest.mark.long
def test_files_made_by_chance_are_read_alike_by_two_programs(tmp_path):
    made, refused = elsewhere.cases(tmp_path, 300 if THOROUGH else 90, 20261128)
    assert not refused, refused[:3]
    told = elsewhere.by_exiftool([case.path for case in made])
    seen = elsewhere.by_identify([case.path for case in made])
    wrong = [
        (case.proof.made.format, case.photo, case.asked, found)
        for case, tags in zip(made, told, strict=True)
        if (found := _differences(case, tags, seen[str(case.path)]))
    ]
    assert not wrong, wrong[:3]
    for case in made[::4]:
        if case.proof.made.format == "avif" or case.proof.line.colour.bits == 16:
            continue
        with Image.open(io.BytesIO(case.proof.made.data)) as picture:
            ours = np.asarray(picture.convert("RGBA")).astype(int)
        theirs = elsewhere.pixels_of(case.path).astype(int)
        assert np.abs(ours - theirs)[ours[..., 3] > 0].mean() < 1.5, case.asked


@pytest.fixture
def grey(tmp_path):
    path = tmp_path / "grey.png"
    Image.fromarray(scene(60, 40)[..., 0]).save(path)
    return path


@pytest.mark.parametrize("format_", ["webp", "avif"])
def test_grey_in_formats_of_three_channels_is_tagged_as_what_it_is(grey, format_):
    wishes = {
        "file.format": format_,
        "colour.space": "grey",
        "file.metadata.credit": "=Tobin Oar",
        "file.lossless": True,
    }
    proof = conform(open_photo(grey), elsewhere.ANY, Settings().having(wishes))
    facts = facts_of_bytes(proof.made.data, "it")
    assert facts.mode == "rgb" and facts.colour_space == "srgb" and facts.icc
    assert any("three equal channels" in note for note in proof.line.notes)
    with Image.open(io.BytesIO(proof.made.data)) as picture:
        assert picture.getexif()[0x013B] == "Tobin Oar"
        pixels = np.asarray(picture.convert("RGB")).astype(int)
    assert np.abs(pixels - scene(60, 40)[..., :1]).max() <= (0 if format_ == "webp" else 4)


def test_one_bit_in_a_gif_has_two_colours(grey):
    wishes = {"file.format": "gif", "colour.bits": 1}
    data = conform(open_photo(grey), elsewhere.ANY, Settings().having(wishes)).made.data
    assert data[10] & 7 == 0 and data[13:19] == b"\0\0\0\xff\xff\xff"
    facts = facts_of_bytes(data, "it.gif")
    assert (facts.mode, facts.bits) == ("mono", 1)
    brief = brief_of(clause("format", one_of=["gif"]) + clause("bits", exactly=1))
    assert conform(open_photo(grey), brief).ready


@pytest.mark.parametrize("format_, says", [
    ({"file.format": "gif", "file.ppi": 300.0}, "GIF does not state pixels per inch."),
    ({"file.format": "webp", "colour.bits": 16}, "WebP holds 8 bits for each channel, and not 16."),
    ({"file.format": "bmp", "colour.space": "prophoto"}, "BMP carries no profile: most programs"),
    ({"file.format": "bmp", "file.metadata.credit": "=Tobin Oar"}, "BMP carries no credit"),
])  # fmt: skip
def test_what_a_format_cannot_carry_is_said_before_anything_is_made(tmp_path, format_, says):
    path = tmp_path / "it.jpg"
    path.write_bytes(jpeg(scene(60, 40)))
    line = resolve(read_facts(path), elsewhere.ANY, Settings().having(format_))
    assert any(note.startswith(says) for note in line.notes), line.notes


def test_a_bmp_can_never_be_in_srgb_and_that_is_said(tmp_path):
    brief = brief_of(clause("format", one_of=["bmp"]) + clause("colour_space", one_of=["srgb"]))
    assert "BMP cannot hold" in contradictions(brief)[0].says
    path = tmp_path / "it.jpg"
    path.write_bytes(jpeg(scene(60, 40)))
    line = resolve(read_facts(path), brief, Settings())
    assert any("cannot say that its colours are sRGB" in note for note in line.notes)
    dense = brief_of(clause("format", one_of=["gif"]) + clause("ppi", exactly=300))
    assert "GIF cannot hold" in contradictions(dense)[0].says
    grey = brief_of(clause("format", one_of=["avif"]) + clause("colour_space", one_of=["grey"]))
    assert "AVIF cannot hold" in contradictions(grey)[0].says


def test_a_density_that_is_wished_is_written_whatever_else_is_changed(tmp_path):
    path = tmp_path / "grey.png"
    Image.fromarray(scene(60, 40)[..., 0]).save(path, dpi=(300, 300))
    proof = conform(open_photo(path), elsewhere.ANY, Settings().having({"file.ppi": 254.0}))
    assert facts_of_bytes(proof.made.data, "it.png").ppi_x == 254
