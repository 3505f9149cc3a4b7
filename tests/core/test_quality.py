"""Measures of the pixels themselves: sharpness, clipped, channels; and where colours come from."""

from __future__ import annotations

import io
import struct
from pathlib import Path

import cv2
import numpy as np
import pytest
from PIL import Image

from aptandum.core.brief.model import Brief
from aptandum.core.conform import conform
from aptandum.core.docket.audit import check_file
from aptandum.core.fitting.masking import supplied_look
from aptandum.core.fitting.render import render
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.findings import judge
from aptandum.core.judge.reading import of_finished, of_supplied
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.header import facts_of_bytes
from aptandum.core.photo.profile import identify, shipped
from samples import DEMO, brief_of, clause, jpeg, scene

ANY = Brief("any", "", ())


def png(pixels: np.ndarray, **options: object) -> bytes:
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG", **options)
    return out.getvalue()


def told(data: bytes, measure: str) -> object:
    brief = brief_of(
        clause(
            measure,
            **(
                {"one_of": ["colour", "grey", "mono"]}
                if measure == "channels"
                else {"at_least": "0 %" if measure.startswith("clipped") else 0}
            ),
        )
    )
    return judge(of_finished(data, "x", None), brief).of(measure).value


@pytest.mark.long
def test_sharpness_falls_with_blur_and_is_not_fooled_by_grain():
    crisp = scene(600, 400, 5, grain=0)
    values = [
        told(png(crisp if not s else cv2.GaussianBlur(crisp, (0, 0), s)), "sharpness")
        for s in (0, 0.6, 1.2, 2.5)
    ]
    assert values == sorted(values, reverse=True) and values[0] > 3 * values[-1]
    plain = np.full((400, 600, 3), 128.0)
    grainy = np.clip(plain + np.random.default_rng(1).normal(0, 8, plain.shape), 0, 255)
    assert told(png(grainy.astype(np.uint8)), "sharpness") < values[1]
    assert told(png(plain.astype(np.uint8)), "sharpness") == 0
    # at the output's size: a soft photo that is reduced comes out sharper
    brief = brief_of(clause("sharpness", at_least=0) + clause("format", exactly="png"))
    wide = conform(
        open_photo(DEMO / "ines_marrow_0417.jpg"),
        brief,
        Settings().having({"frame.output": "1600 x 2400"}),
    )
    small = conform(
        open_photo(DEMO / "ines_marrow_0417.jpg"),
        brief,
        Settings().having({"frame.output": "400 x 600"}),
    )
    assert small.findings.of("sharpness").value > wide.findings.of("sharpness").value


@pytest.mark.parametrize("share", [0.0, 0.07, 0.4])
def test_clipped_counts_what_is_at_the_ends(share):
    pixels = np.clip(scene(500, 400, 3), 20, 230)
    n = round(share * 500)
    pixels[:, : n // 2] = 0
    pixels[:, n // 2 : n] = 255
    assert told(png(pixels), "clipped") == pytest.approx(n / 500, abs=1e-4)
    pixels[:, n:, 0] = 255  # a strong red is a colour, and not lost
    assert told(png(pixels), "clipped") == pytest.approx(n / 500, abs=1e-4)


def test_a_clear_part_is_not_counted():
    pixels = np.dstack([np.zeros((200, 200, 3), np.uint8), np.full((200, 200), 255, np.uint8)])
    pixels[:100, :, 3] = 0
    pixels[100:, :, :3] = 120
    assert told(png(pixels), "clipped") == 0
    pixels[100:150, :, :3] = 0  # half of what is opaque is black
    assert told(png(pixels), "clipped") == pytest.approx(0.5)
    edge = pixels.copy()
    edge[100:, 100:, :3] = 230
    assert told(png(edge), "sharpness") > told(png(pixels), "sharpness") >= 0


def test_whether_a_picture_is_in_colour_at_all(tmp_path):
    grey = np.repeat(scene(300, 200, 4)[..., :1], 3, 2)
    assert told(jpeg(grey, subsampling=2, quality=80), "channels") == "grey"
    assert told(jpeg(scene(300, 200, 4)), "channels") == "colour"
    touched = grey.copy()
    touched[50:60, 50:60] = (200, 40, 40)
    assert told(png(touched), "channels") == "colour"
    assert told(png(grey[..., 0]), "channels") == "grey"
    path = tmp_path / "grey.jpg"
    path.write_bytes(jpeg(grey))
    photo = open_photo(path)
    brief = brief_of(clause("channels", exactly="colour"))
    look = supplied_look(photo)
    finding = judge(of_supplied(photo, None, lambda: look), brief).of("channels")
    assert finding.verdict == "misses" and finding.value == "grey"


def test_what_cannot_be_seen_is_not_said_to_be_met(tmp_path):
    """A reading without its pixels leaves such clauses open."""
    path = tmp_path / "pier.png"
    path.write_bytes(png(scene(60, 40)))
    for measure in ("sharpness", "clipped", "backdrop_lightness", "subject_fill", "keyline_width"):
        finding = judge(
            of_supplied(open_photo(path)),
            brief_of(
                clause(measure, at_least="10 %" if measure in ("clipped", "subject_fill") else 0)
            ),
        )
        assert finding.of(measure).verdict == "unknown"


# --- where colours come from ----------------------------------------------------------------


def version_4(space: str) -> bytes:
    """A shipped profile as version 4 has it: parametric curves, text in Unicode (ICC.1:2010)."""
    old = shipped(space)  # type: ignore[arg-type]
    tags = {}
    for i in range(int.from_bytes(old[128:132], "big")):
        name, start, size = struct.unpack_from(">4sII", old, 132 + 12 * i)
        tags[name] = old[start : start + size]
    if space in ("srgb", "display-p3"):
        numbers = (2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045)
        kind = 3
    else:
        numbers, kind = ({"adobe-rgb": 563 / 256, "prophoto": 1.8}[space],), 0
    body = b"".join(struct.pack(">i", round(v * 65536)) for v in numbers)
    curve = b"para\0\0\0\0" + struct.pack(">HH", kind, 0) + body
    words = "Made for a test".encode("utf-16-be")
    text = b"mluc\0\0\0\0" + struct.pack(">II2s2sII", 1, 12, b"en", b"US", len(words), 28) + words
    tags.update({b"rTRC": curve, b"gTRC": curve, b"bTRC": curve, b"desc": text, b"cprt": text})
    table, blocks, at = b"", b"", 132 + 12 * len(tags)
    for name, data in tags.items():
        data += b"\0" * (-len(data) % 4)
        table += struct.pack(">4sII", name, at + len(blocks), len(data))
        blocks += data
    head = bytearray(old[:128])
    head[8:12] = b"\x04\x20\0\0"
    made = bytes(head) + struct.pack(">I", len(tags)) + table + blocks
    return struct.pack(">I", len(made)) + made[4:]


@pytest.mark.parametrize("space", ["srgb", "adobe-rgb", "display-p3", "prophoto"])
@pytest.mark.parametrize("bits", [8, 16])
def test_version_four_profiles_give_the_same_colours(tmp_path, space, bits):
    pixels = scene(60, 40, 2)
    made = []
    for name, icc in (("two", shipped(space)), ("four", version_4(space))):
        assert identify(icc).space == space and identify(icc).broken is None
        path = tmp_path / f"{name}.png"
        Image.fromarray(pixels).save(path, icc_profile=icc)
        brief = brief_of(
            clause("colour_space", exactly="srgb" if space != "srgb" else "adobe-rgb")
            + clause("bits", exactly=bits)
            + clause("format", exactly="png")
        )
        photo = open_photo(path)
        made.append(render(photo, resolve(photo.facts, brief, Settings())).pixels.astype(int))
    assert np.abs(made[0] - made[1]).max() <= (1 if bits == 8 else 250)


def dcf(pixels: np.ndarray, colour: int, index: str) -> bytes:
    """A camera file without a profile that names its space in EXIF alone."""
    exif = Image.Exif()
    exif.get_ifd(0x8769)[0xA001] = colour
    exif.get_ifd(0x8769)[0xA005] = {1: index}
    return jpeg(pixels, exif=exif, quality=98, subsampling=0)


@pytest.mark.parametrize(
    ("colour", "index", "wide"), [(65535, "R03", True), (1, "R98", False), (2, "R03", True)]
)
def test_a_camera_that_names_a_wide_space_is_believed(tmp_path, colour, index, wide):
    pixels = np.full((60, 80, 3), (60, 190, 70), np.uint8)
    path = tmp_path / "card.jpg"
    path.write_bytes(dcf(pixels, colour, index))
    facts = facts_of_bytes(path.read_bytes(), "card.jpg")
    assert facts.colour_space == "untagged" and (facts.hint == "adobe-rgb") == wide
    photo = open_photo(path)
    brief = brief_of(clause("colour_space", exactly="srgb") + clause("format", exactly="png"))
    line = resolve(photo.facts, brief, Settings())
    assert any("camera" in note for note in line.notes) == wide
    got = render(photo, line).pixels[30, 40].astype(int)
    if wide:  # Adobe RGB (60, 190, 70) lies outside sRGB: its red falls to nothing
        assert got[0] < 5 and abs(got[1] - 191) < 5
    else:
        assert np.abs(got - (60, 190, 70)).max() <= 3


def test_a_broken_profile_is_named_and_the_colours_taken_as_srgb(tmp_path):
    broken = shipped("adobe-rgb")[:200]
    path = Path(tmp_path) / "bent.png"
    path.write_bytes(png(scene(60, 40), icc_profile=broken))
    photo = open_photo(path)
    line = resolve(photo.facts, ANY, Settings())
    assert any("cannot be used" in note for note in line.notes)
    assert line.colour.assumed and line.colour.source == "srgb"


def test_one_channel_that_is_clipped_everywhere_is_told(tmp_path):
    pixels = np.clip(scene(80, 60).astype(int), 40, 220).astype(np.uint8)
    pixels[..., 0] = 255
    assert told(png(pixels), "clipped") == 0
    assert told(png(pixels), "clipped_channel") == pytest.approx(1.0)
    pixels[..., 0], pixels[:30, :, 2] = 128, 0
    assert told(png(pixels), "clipped_channel") == pytest.approx(0.5)


@pytest.mark.long
def test_sharpness_and_lines_of_a_large_photo_are_found_in_all_its_pixels(tmp_path):
    brief = brief_of(clause("sharpness", at_least=0) + clause("keyline_width", at_most=9))
    small = np.tile(scene(620, 520, 3, grain=0), (5, 5, 1))
    small[1::2] = np.clip(small[1::2].astype(int) + 24, 0, 255)  # detail that a copy of it lacks
    small[:7] = small[-7:] = 0
    small[:, :7] = small[:, -7:] = 0
    path = tmp_path / "large.png"
    Image.fromarray(small).save(path, compress_level=1)
    found = check_file(str(path), brief).findings
    assert found.of("keyline_width").value == 7
    cut = tmp_path / "cut.png"
    Image.fromarray(small[1000:1600, 1000:1600]).save(cut)
    part = check_file(str(cut), brief).findings.of("sharpness").value
    assert found.of("sharpness").value == pytest.approx(part, rel=0.25)


def test_a_line_and_letters_laid_on_here_are_no_backdrop_and_clip_nothing(tmp_path):
    path = tmp_path / "thing.png"
    picture = np.full((420, 560, 3), (176, 180, 184), np.uint8)
    y, x = np.mgrid[:420, :560]
    picture[(x - 280) ** 2 + (y - 220) ** 2 < 110**2] = (60, 90, 70)
    Image.fromarray(picture).save(path)
    names = ("backdrop_plainness", "backdrop_lightness", "clipped", "clipped_channel", "sharpness")
    brief = brief_of(
        "".join(clause(name, at_least="0 %" if name.startswith("clipped") else 0) for name in names)
    )
    bare = conform(open_photo(path), brief, Settings().having({"file.format": "png"})).findings
    wishes = {
        "file.format": "png",
        "finish.keyline.width": 9,
        "finish.keyline.colour": "#FFFFFF",
        "finish.caption.text": "Harbour notice",
        "finish.caption.colour": "#000000",
    }
    laid = conform(open_photo(path), brief, Settings().having(wishes)).findings
    for name in names:
        assert laid.of(name).value == pytest.approx(bare.of(name).value, abs=0.3), name
