"""Four different sentences for a photo that is not read: damaged, cut short, not supported, too large."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pytest
import pyvips
from PIL import Image

from aptandum.core.photo.decode import full_facts, read_facts
from corpus import retagged
from samples import jpeg, scene

SCENE = scene(60, 40)


def with_frame(marker: int, bits: int) -> bytes:
    """A JPEG whose frame says that it is of another kind."""
    data = bytearray(jpeg(SCENE))
    at = data.find(b"\xff\xc0")
    data[at + 1], data[at + 4] = marker, bits
    return bytes(data)


def tiff(**more: object) -> bytes:
    image = pyvips.Image.new_from_array(SCENE).copy(interpretation="srgb")
    if more.pop("lab", False):
        image = image.colourspace("lab")
    kind = more.pop("kind", None)
    return (image.cast(kind) if kind else image).tiffsave_buffer(**more)


NOT_READ = {
    "twelve.jpg": (with_frame(0xC1, 12), "JPEG: it has 12 bits for each channel, and only 8 are supported", 12),
    "lossless.jpg": (with_frame(0xC3, 8), "JPEG: it is coded without loss or by arithmetic", 8),
    "arithmetic.jpg": (with_frame(0xC9, 8), "JPEG: it is coded without loss or by arithmetic", 8),
    "float.tif": (tiff(kind="float"), "TIFF: its pixels are fractions", 32),
    "deep.tif": (tiff(kind="uint"), "TIFF: it has 32 bits for each channel, and at most 16 are supported", 32),
    "lab.tif": (tiff(lab=True), "TIFF: its", None),
    "old.tif": (retagged(tiff(compression="deflate"), 259, 6), "TIFF: it is packed as an old kind of JPEG", 8),
    "odd.tif": (retagged(tiff(compression="deflate"), 259, 34712), "TIFF: it is packed in a way (34712) that is not", 8),
}  # fmt: skip


@pytest.mark.parametrize("name", NOT_READ)
def test_a_sound_picture_of_another_kind_is_called_so_and_keeps_its_facts(
    tmp_path: Path, name: str
):
    data, says, bits = NOT_READ[name]
    path = tmp_path / name
    path.write_bytes(data)
    facts = full_facts(path)
    assert (facts.error or "").startswith(f"{name} cannot be read as {says}")
    assert "damaged" not in (facts.error or "") and "support" in (facts.error or "")
    assert facts.size == (60, 40) and facts.decodes is False
    assert bits is None or facts.bits == bits


@pytest.mark.parametrize(
    ("begin", "kind"),
    [
        (b"\0\0\0\x0cjP  \r\n\x87\n", "JPEG 2000"),
        (b"%PDF-1.7\n", "PDF"),
        (b'<?xml version="1.0"?><svg width="9">', "SVG"),
    ],
)
def test_what_is_no_photo_of_ours_is_called_by_its_name(tmp_path: Path, begin: bytes, kind: str):
    path = tmp_path / "it.jpg"
    path.write_bytes(begin + bytes(200))
    assert f"it.jpg is a {kind} file, which is not supported here" in (read_facts(path).error or "")


def test_the_others_are_told_apart(tmp_path: Path):
    grained = scene(300, 200, grain=20)
    said = {}
    for name, data in (
        ("cut", jpeg(grained)[: len(jpeg(grained)) * 6 // 10]),
        ("spoilt", jpeg(grained)[:900] + bytes(4000)),
        ("none", b"Dear harbour master" * 9),
    ):
        (tmp_path / f"{name}.jpg").write_bytes(data)
        said[name] = full_facts(tmp_path / f"{name}.jpg").error or ""
    assert "cut short" in said["cut"]
    assert "is not a picture" in said["none"]
    assert len(set(said.values())) == 3 and not any("support" in one for one in said.values())


@pytest.mark.parametrize("kind", ["uchar", "ushort"])
@pytest.mark.parametrize("packing", ["none", "lzw", "deflate", "packbits"])
def test_what_is_supported_is_still_read(tmp_path: Path, kind: str, packing: str):
    path = tmp_path / "it.tif"
    data = tiff(kind=kind, compression=packing) if kind == "uchar" else tiff(compression=packing)
    path.write_bytes(data)
    assert full_facts(path).decodes is True


def test_fax_and_grey_and_palettes_of_a_tiff_are_read(tmp_path: Path):
    for mode, more in (
        ("1", {"compression": "group4"}),
        ("1", {}),
        ("L", {}),
        ("P", {}),
        ("CMYK", {}),
        ("I;16", {}),
    ):
        held = io.BytesIO()
        picture = Image.fromarray(SCENE).convert("L" if mode == "I;16" else mode)
        if mode == "I;16":
            picture = Image.fromarray(np.asarray(picture).astype(np.uint16) * 257)
        picture.save(held, "TIFF", **more)
        path = tmp_path / "it.tif"
        path.write_bytes(held.getvalue())
        assert full_facts(path).error is None, mode


WAYS = (
    {"quality": 88},
    {"quality": 88, "progressive": True},
    {"quality": 92, "subsampling": 0},
    {"quality": 88, "restart_marker_rows": 1},
    {"quality": 80, "optimize": True},
)


def saved(pixels, **how: object) -> bytes:
    held = io.BytesIO()
    Image.fromarray(pixels).save(held, "JPEG", **how)
    return held.getvalue()


def damaged_ones() -> list[bytes]:
    """JPEGs with a part of their scan overwritten, cut out, cut off, or with a hundred bits flipped in it."""
    chance = np.random.default_rng(9)
    made = []
    for i in range(60):
        data = bytearray(saved(scene(400, 300, i % 3, grain=8), **WAYS[i % 5]))
        begin = data.find(b"\xff\xda") + 20
        at = int(chance.integers(begin, len(data) - 900))
        if i % 4 == 0:
            for _ in range(100):
                data[int(chance.integers(begin, len(data) - 40))] ^= 1 << int(chance.integers(8))
        elif i % 4 == 1:
            data[at : at + 400] = chance.integers(0, 256, 400, dtype=np.uint8).tobytes()
        elif i % 4 == 2:
            del data[at : at + 600]
        else:
            data = data[:at]
        made.append(bytes(data))
    return made


@pytest.mark.long
def test_damage_inside_a_scan_is_noticed_and_none_is_seen_where_there_is_none(tmp_path: Path):
    path = tmp_path / "it.jpg"
    noticed = 0
    for data in damaged_ones():
        path.write_bytes(data)
        facts = full_facts(path)
        noticed += facts.decodes is False
        assert facts.decodes or (facts.error or "").startswith("it.jpg cannot be read as JPEG")
    assert noticed >= 55
    for i in range(60):
        data = saved(scene(400, 300, i % 4, grain=i % 3 * 9), **WAYS[i % 5])
        # Without its end mark, with bytes behind it, filled up before it: whole all the same.
        for sound in (data, data[:-2], data + bytes(100), data[:-2] + b"\xff" * 9 + data[-2:]):
            path.write_bytes(sound)
            assert full_facts(path).decodes is True
