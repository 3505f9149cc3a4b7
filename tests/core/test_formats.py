"""Every format that is written, read back by libraries that had no part in writing it."""

from __future__ import annotations

import io
from pathlib import Path

import cv2
import numpy as np
import pytest
import pyvips
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.file.encode import JpegEncoder, JpegOptions
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.apart import credit_of
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.header import facts_of_bytes
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped
from samples import brief_of, clause, examples, jpeg, scene

LOSSLESS = ("png", "tiff", "bmp")
ALL = ("jpeg", "png", "tiff", "webp", "avif", "gif", "bmp")


@pytest.fixture
def pier(tmp_path: Path) -> Path:
    """A photo with credit and a place, in a wide space."""
    exif = Image.Exif()
    exif[0x013B], exif[0x8298] = "Quill Harrow", "Quill Harrow, Vessary"
    gps = exif.get_ifd(0x8825)
    gps[1], gps[2], gps[3], gps[4] = "N", (47.0, 1.0, 2.0), "W", (21.0, 3.0, 4.0)
    path = tmp_path / "pier.jpg"
    path.write_bytes(jpeg(scene(640, 480, 3), exif=exif, icc_profile=shipped("adobe-rgb")))
    return path


def brief(format_: str, more: str = ""):
    return brief_of(
        clause("format", exactly=format_)
        + clause("size", exactly="400 x 300")
        + clause("frames", exactly=1)
        + more
    )


def made(path: Path, format_: str, more: str = "", **settings: object):
    changes = {key.replace("__", "."): value for key, value in settings.items()}
    return conform(open_photo(path), brief(format_, more), Settings().having(changes))


def by_vips(data: bytes) -> np.ndarray:
    return pyvips.Image.new_from_buffer(data, "").numpy()


def by_opencv(data: bytes) -> np.ndarray:
    read = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    assert read is not None
    if read.ndim == 2:
        return read[..., None]
    return cv2.cvtColor(read, cv2.COLOR_BGR2RGB if read.shape[2] == 3 else cv2.COLOR_BGRA2RGBA)


@pytest.mark.parametrize("format_", ALL)
@pytest.mark.parametrize("ppi", [None, 254])
def test_each_format_says_what_was_asked(pier, format_, ppi):
    proof = made(pier, format_, file__ppi=ppi)
    assert proof.ready, [f.says for f in proof.findings.findings]
    facts = facts_of_bytes(proof.made.data, proof.suggested)
    assert (facts.format, facts.size, facts.frames) == (format_, (400, 300), 1)
    assert facts.bits == 8 and facts.mode == ("palette" if format_ == "gif" else "rgb")
    if format_ in ("gif", "bmp"):
        assert facts.icc_bytes == b""
    else:
        assert facts.icc_bytes == shipped("adobe-rgb")
        assert credit_of(proof.made.data).by == "Quill Harrow"
        assert credit_of(proof.made.data).rights == "Quill Harrow, Vessary"
    if format_ != "gif":
        assert facts.ppi_x == (pytest.approx(254, abs=0.05) if ppi else None)
        assert facts.ppi_y == facts.ppi_x
    assert not facts.location
    assert proof.suggested.endswith({"jpeg": ".jpg", "tiff": ".tif"}.get(format_, f".{format_}"))


@pytest.mark.parametrize("format_", ["png", "tiff", "webp", "bmp"])
def test_what_loses_nothing_is_read_back_pixel_by_pixel(pier, format_):
    wanted = by_vips(made(pier, "png").made.data)
    data = made(pier, format_, file__lossless=True).made.data
    assert (np.asarray(Image.open(io.BytesIO(data)).convert("RGB")) == wanted).all()
    assert (by_opencv(data)[..., :3] == wanted).all()
    if format_ != "bmp":  # which libvips does not read
        assert (by_vips(data)[..., :3] == wanted).all()


@pytest.mark.parametrize("compression", ["none", "lzw", "deflate"])
@pytest.mark.parametrize("bits", [8, 16])
def test_tiff_at_both_depths_and_every_compression(tmp_path, compression, bits):
    rng = np.random.default_rng(2)
    kind = np.uint16 if bits == 16 else np.uint8
    pixels = rng.integers(0, np.iinfo(kind).max, (300, 400, 3)).astype(kind)
    path = tmp_path / "deep.png"
    image = pyvips.Image.new_from_array(pixels).copy(
        interpretation="rgb16" if bits == 16 else "srgb"
    )
    image.set_type(pyvips.GValue.blob_type, "icc-profile-data", shipped("prophoto"))
    path.write_bytes(image.pngsave_buffer(bitdepth=bits, keep="icc"))
    proof = made(
        path,
        "tiff",
        clause("bits", exactly=bits) + clause("ppi", exactly=300),
        file__compression=compression,
    )
    assert proof.ready
    data = proof.made.data
    assert (by_vips(data) == pixels).all() and (by_opencv(data) == pixels).all()
    with Image.open(io.BytesIO(data)) as opened:
        told = {"raw": "none", "tiff_lzw": "lzw", "tiff_adobe_deflate": "deflate"}
        assert told[opened.info["compression"]] == compression
        assert opened.info["icc_profile"] == shipped("prophoto")
    assert facts_of_bytes(data, "x").bits == bits


@pytest.mark.parametrize("format_", ["png", "tiff", "webp", "avif", "gif"])
def test_clear_parts_stay_clear(tmp_path, format_):
    pixels = np.dstack([scene(400, 300, 5), np.full((300, 400), 255, np.uint8)])
    pixels[:100, :, 3] = 0
    path = tmp_path / "badge.png"
    Image.fromarray(pixels).save(path, icc_profile=shipped("srgb"))
    proof = made(path, format_, clause("transparency", exactly="present"))
    assert proof.ready
    read = np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("RGBA"))
    slack = 3 if format_ == "avif" else 0  # whose alpha is coded with loss too
    assert (read[:96, :, 3] <= slack).all() and (read[104:, :, 3] >= 255 - slack).all()


@pytest.mark.parametrize("format_", ["webp", "avif", "jpeg"])
def test_a_lossy_file_is_as_near_as_its_quality(pier, format_):
    wanted = by_vips(made(pier, "png").made.data).astype(int)
    means = []
    for quality in (20, 60, 95):
        data = made(pier, format_, file__quality=quality).made.data
        pair = [np.asarray(Image.open(io.BytesIO(data)).convert("RGB")), by_vips(data)[..., :3]]
        assert np.abs(pair[0].astype(int) - pair[1]).mean() < 1.5  # two readers agree
        means.append(float(np.abs(pair[0].astype(int) - wanted).mean()))
    assert means[0] > means[1] > means[2] and means[2] < 4 and means[0] < 20


@pytest.mark.parametrize("format_", ["webp", "avif"])
@pytest.mark.parametrize("limit", [6, 11, 24])
def test_the_highest_quality_under_the_limit_is_found(pier, format_, limit):
    proof = made(pier, format_, clause("file_bytes", at_most=f"{limit} kB (1000)"))
    assert proof.ready and len(proof.made.data) <= limit * 1000
    options = proof.made.options
    assert options is not None
    if options.quality < 100:
        above = made(pier, format_, file__quality=options.quality + 1)
        assert len(above.made.data) > limit * 1000
    assert proof.made.encodes <= 9
    impossible = made(pier, format_, clause("file_bytes", at_most="300 bytes"))
    assert not impossible.ready and "the smallest file" in impossible.made.trouble
    size = str(len(impossible.made.data))
    assert size[-3:] in impossible.made.trouble.replace("\u202f", "").replace("\u00a0", "")


@pytest.mark.parametrize("format_", ["png", "gif"])
@pytest.mark.long
def test_a_palette_is_the_largest_that_fits_and_its_cost_is_told(pier, format_):
    whole = made(pier, format_)
    if format_ == "png":
        assert whole.made.statement == ""
    limit = len(whole.made.data) * 2 // 5
    proof = made(pier, format_, clause("file_bytes", at_most=f"{limit} bytes"))
    assert proof.ready and len(proof.made.data) <= limit
    assert "colours" in proof.made.statement
    notes = proof.figures()["notes"]
    assert isinstance(notes, list) and proof.made.statement in notes
    n = int(proof.made.statement.split()[2])
    read = Image.open(io.BytesIO(proof.made.data))
    assert read.mode == "P" and len(read.getcolors()) <= n
    from aptandum.core.file.make import _COLOURS

    above = [c for c in _COLOURS if c > n]
    if above:  # the next larger palette would not fit
        larger = made(pier, format_, file__colours=above[-1])
        assert len(larger.made.data) > limit
    chosen = made(pier, format_, file__colours=12)
    assert len(Image.open(io.BytesIO(chosen.made.data)).getcolors()) <= 12


def test_few_colours_lose_nothing(tmp_path):
    pixels = np.zeros((300, 400, 3), np.uint8)
    for i, colour in enumerate(((20, 40, 60), (200, 30, 30), (240, 240, 220), (90, 160, 80))):
        pixels[:, i * 100 : i * 100 + 100] = colour
    path = tmp_path / "flag.png"
    Image.fromarray(pixels).save(path, compress_level=1)
    proof = made(path, "gif")
    assert proof.made.statement == ""
    assert (np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("RGB")) == pixels).all()


@pytest.mark.long
def test_sixteen_bit_are_not_put_where_they_do_not_fit(tmp_path):
    pixels = np.random.default_rng(1).integers(0, 65535, (300, 400, 3)).astype(np.uint16)
    path = tmp_path / "deep.png"
    pyvips.Image.new_from_array(pixels).copy(interpretation="rgb16").pngsave(str(path), bitdepth=16)
    for format_ in ("webp", "avif", "gif", "bmp", "jpeg"):
        proof = made(path, format_, file__ppi=100)
        assert facts_of_bytes(proof.made.data, "x").bits == 8
        missed = made(path, format_, clause("bits", exactly=16)).findings.of("bits")
        assert missed.verdict == "misses"


@pytest.mark.parametrize("grey", [False, True])
@pytest.mark.parametrize("passes", [False, True])
@pytest.mark.parametrize("chroma", ["4:4:4", "4:2:0"])
def test_a_jpeg_holds_what_another_encoder_would_put_into_it(grey, passes, chroma):
    """The same pixels as libvips' own encoder, at the same size but for the head."""
    pixels = scene(203, 131, seed=4)[..., :1] if grey else scene(203, 131, seed=4)
    icc = shipped("grey" if grey else "srgb")
    ours = JpegEncoder(Picture(pixels, icc, False), 300, Credit())
    image = pyvips.Image.new_from_array(pixels).copy(interpretation="b-w" if grey else "srgb")
    for quality in (1, 20, 50, 75, 92, 100):
        made = ours(JpegOptions(quality, chroma, passes))
        other = image.jpegsave_buffer(
            Q=quality,
            subsample_mode="off" if chroma == "4:4:4" else "on",
            optimize_coding=True,
            interlace=passes,
            keep="none",
        )
        mine, theirs = Image.open(io.BytesIO(made)), Image.open(io.BytesIO(other))
        assert (np.asarray(mine) == np.asarray(theirs)).all()
        assert abs(len(made) - len(ours.head) - len(other)) <= 200
        assert mine.info["icc_profile"] == icc and mine.info["dpi"] == (300, 300)
        assert bool(mine.info.get("progressive")) == passes
    assert ours.encodes == 6


@given(st.integers(1, 200_000), st.integers(0, 255))
@settings(max_examples=examples(25), deadline=None)
def test_a_profile_of_any_length_is_read_back_whole(length, byte):
    icc = bytes([byte]) * length
    data = JpegEncoder(Picture(scene(16, 16), icc, False), None, Credit())(JpegOptions())
    with Image.open(io.BytesIO(data)) as image:
        assert image.info["icc_profile"] == icc
        assert np.asarray(image).shape == (16, 16, 3)
