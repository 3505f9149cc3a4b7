"""From 16 to 8 bit: a gentle slope does not fall into bands, and nothing else is touched."""

from __future__ import annotations

import io

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.engine import without_bands
from aptandum.core.photo.profile import shipped
from samples import brief_of, clause


def sky(low, high, size=(640, 320)):
    """A slope of 16 bit from left to right."""
    row = np.linspace(low, high, size[0])
    return np.repeat(np.rint(row).astype(np.uint16)[None], size[1], 0)


def block_means(pixels, side=8):
    high, wide = (n // side * side for n in pixels.shape[:2])
    cut = pixels[:high, :wide].astype(float)
    return cut.reshape(high // side, side, wide // side, side).mean((1, 3))


@pytest.mark.parametrize("size", ["640 x 320", "400 x 200"])
def test_a_sky_of_sixteen_bit_does_not_fall_into_bands(tmp_path, size):
    deep = sky(30_000, 31_500)  # six steps of 8 bit, each a hundred pixels wide
    path = tmp_path / "sky.png"
    cv2.imwrite(str(path), np.repeat(deep[..., None], 3, 2))
    brief = brief_of(
        clause("size", exactly=size) + clause("format", exactly="png") + clause("bits", exactly=8)
    )
    proof = conform(open_photo(path), brief)
    assert proof.ready, proof.findings.summary()
    made = np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("RGB"))[..., 1]
    wide, high = (int(n) for n in size.split(" x "))
    true = cv2.resize(deep, (wide, high), interpolation=cv2.INTER_AREA) / 257
    inner = (slice(1, -1), slice(1, -1))
    off = np.abs(block_means(made) - block_means(true))[inner]
    assert off.max() < 0.2  # rounding alone is off by half a step over whole blocks
    assert np.abs(made - true)[8:-8, 8:-8].max() <= 1.0


@given(st.integers(0, 65535))
def test_what_is_the_same_all_round_stays_of_one_number(number):
    made = without_bands(np.full((20, 30, 3), number, np.uint16), False)
    assert (made == round(number / 257)).all()


def test_edges_and_what_is_clear_are_rounded():
    rng = np.random.default_rng(3)
    lively = rng.integers(0, 65536, (60, 70, 4)).astype(np.uint16)
    lively[..., 3] = sky(100, 900, (70, 60))
    made = without_bands(lively, True)
    assert np.array_equal(made[..., 3], np.rint(lively[..., 3] / 257))
    assert (made == np.rint(lively / 257)).mean() > 0.99


def test_no_number_leaves_its_range():
    for low, high in ((0, 300), (65_200, 65_535)):
        slope = sky(low, high)[..., None]
        off = without_bands(slope, False) - slope / 257
        assert np.abs(off).max() < 1.0


@pytest.mark.parametrize("wide", [False, True])
def test_fewer_bits_are_told_whatever_else_happens_to_the_colours(tmp_path, wide):
    path = tmp_path / "sky.png"
    deep = np.repeat(sky(30_000, 31_500)[..., None], 3, 2)
    cv2.imwrite(str(path), deep)
    if wide:
        import pyvips

        image = pyvips.Image.new_from_file(str(path)).copy()
        image.set_type(pyvips.GValue.blob_type, "icc-profile-data", shipped("adobe-rgb"))
        path = tmp_path / "wide.tif"
        image.tiffsave(str(path))
    brief = brief_of(
        clause("format", exactly="png")
        + clause("bits", exactly=8)
        + clause("colour_space", exactly="srgb")
    )
    proof = conform(open_photo(path), brief)
    said = [act.says for act in proof.record]
    assert any("Reduced from 16 to 8 bit; gentle slopes are dithered" in one for one in said), said
    assert any("Colours converted from Adobe RGB" in one for one in said) is wide
