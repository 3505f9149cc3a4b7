"""Pictures of few colours: no further from the picture than a general library's own best call."""

from __future__ import annotations

import io

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.file.palette import encode_indexed_png, in_colours
from aptandum.core.photo.engine import difference
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped
from samples import DEMO, scene

SRGB = shipped("srgb")


def demo(name: str) -> np.ndarray:
    with Image.open(DEMO / name) as opened:
        return np.asarray(opened.convert("RGB").resize((360, 270), Image.Resampling.LANCZOS))


PICTURES = {
    "scene": scene(360, 270, 4),
    "quay": demo("lantern_quay_dusk.jpg"),
    "jug": demo("blue_jug_03.jpg"),
    "portrait": demo("tobin_oar_0212.jpg"),
}


def lab(pixels: np.ndarray) -> np.ndarray:
    return Picture(np.ascontiguousarray(pixels), SRGB, False).lab()


@pytest.mark.parametrize("colours", [2, 4, 16, 64, 256])
@pytest.mark.parametrize("name", PICTURES)
@pytest.mark.long
def test_a_palette_is_as_near_as_another_librarys(name, colours):
    pixels = PICTURES[name]
    image = Image.fromarray(pixels)
    made = np.asarray(in_colours(Picture(pixels, SRGB, False), colours).convert("RGB"))
    assert len(np.unique(made.reshape(-1, 3), axis=0)) <= colours
    before = lab(pixels)

    def off(other: np.ndarray) -> tuple[float, float]:
        apart = difference(before, lab(other))
        return float(apart.mean()), float(np.percentile(apart, 99))

    others = [
        off(np.asarray(image.quantize(colours, way, kmeans, dither=dither).convert("RGB")))
        for way in (Image.Quantize.MEDIANCUT, Image.Quantize.MAXCOVERAGE, Image.Quantize.FASTOCTREE)
        for kmeans in (0, 2)
        for dither in (Image.Dither.NONE, Image.Dither.FLOYDSTEINBERG)
    ]
    mean, most = off(made)
    assert mean <= min(other for other, _ in others) * 1.03 + 0.02
    # What is nearest on the whole need not be nearest in the worst hundredth of every picture.
    assert most <= min(other for _, other in others) * 1.1 + 0.02


def test_a_small_sign_keeps_its_colour_among_a_few():
    pixels = np.tile(np.linspace(60, 200, 320).astype(np.uint8)[None, :, None], (200, 1, 3))
    pixels[90:110, 150:170] = 200, 20, 30
    made = np.asarray(in_colours(Picture(pixels, SRGB, False), 8).convert("RGB"))
    assert difference(lab(made[98:102, 158:162]), lab(pixels[98:102, 158:162])).max() < 6


def test_flat_areas_stay_flat_and_gentle_slopes_are_mixed():
    pixels = np.full((160, 320, 3), 128, np.uint8)
    pixels[:80] = np.linspace(20, 230, 320).astype(np.uint8)[None, :, None]
    made = np.asarray(in_colours(Picture(pixels, SRGB, False), 6).convert("RGB")).astype(int)
    assert len(np.unique(made[82:].reshape(-1, 3), axis=0)) == 1
    rows = made[:80, :, 0]
    assert (rows.max(0) > rows.min(0)).mean() > 0.1  # two colours in one column of the slope


@given(
    st.integers(1, 40), st.integers(1, 40), st.integers(2, 256), st.integers(1, 4), st.integers(0)
)
@settings(max_examples=40)
def test_any_picture_comes_to_no_more_colours_than_asked(wide, high, colours, bands, seed):
    made = np.random.default_rng(seed).integers(0, 256, (high, wide, bands), np.uint8)
    icc = SRGB if bands > 2 else shipped("grey")
    few = in_colours(Picture(made, icc, bands in (2, 4)), colours)
    assert few.size == (wide, high)
    assert len(np.unique(np.asarray(few))) <= colours


def test_what_is_clear_stays_clear_and_what_is_solid_solid():
    pixels = np.dstack([PICTURES["jug"], np.zeros((270, 360), np.uint8)])
    pixels[40:200, 60:300, 3] = 255
    made = np.asarray(in_colours(Picture(pixels, SRGB, True), 32).convert("RGBA"))
    assert (made[..., 3] == pixels[..., 3]).all()
    inside = made[40:200, 60:300, :3].astype(int) - PICTURES["jug"][40:200, 60:300]
    assert np.abs(inside).mean() < 8


@pytest.mark.parametrize("clear", [False, True])
@pytest.mark.parametrize("levels", [2, 5, 40])
def test_greys_of_few_levels_stay_greys_with_their_profile(clear, levels):
    grey = PICTURES["jug"].mean(2).astype(np.uint8)[..., None]
    alpha = np.full_like(grey, 255)
    alpha[:60] = 0
    pixels = np.concatenate([grey, alpha], 2) if clear else grey
    data = encode_indexed_png(Picture(pixels, shipped("grey"), clear), levels)
    with Image.open(io.BytesIO(data)) as opened:
        assert opened.mode == ("LA" if clear else "L")
        assert opened.info["icc_profile"] == shipped("grey")
        made = np.asarray(opened)
    assert len(np.unique(made.reshape(-1, made.shape[2] if clear else 1), axis=0)) <= levels
    if clear and levels > 2:
        assert (made[..., 1] == pixels[..., 1]).all()
    if levels > 8:
        value = made[..., 0] if clear else made
        off = np.abs(value.astype(int) - grey[..., 0])[60:]
        assert off.mean() < 4


def test_as_many_greys_are_used_as_there_may_be():
    slope = np.tile(np.arange(256, dtype=np.uint8)[None, :, None], (40, 1, 1))
    few = np.asarray(in_colours(Picture(slope, shipped("grey"), False), 64).convert("L"))
    assert len(np.unique(few)) > 56


def test_clear_parts_and_few_colours_lose_nothing():
    pixels = np.zeros((60, 80, 4), np.uint8)
    pixels[..., :3] = np.random.default_rng(1).integers(0, 256, (60, 80, 3))
    pixels[20:40, 20:60] = 200, 40, 30, 255
    pixels[25:30, 30:50] = 20, 40, 130, 128
    made = np.asarray(in_colours(Picture(pixels, SRGB, True), 3).convert("RGBA"))
    seen = pixels[..., 3] > 0
    assert (made[seen] == pixels[seen]).all()
    assert (made[~seen][:, 3] == 0).all()
