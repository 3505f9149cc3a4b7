"""Pictures of few colours: no further from the picture than a general library's own best call."""

from __future__ import annotations

import numpy as np
import pytest
from PIL import Image

from aptandum.core.file.palette import in_colours
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

    def off(other: np.ndarray) -> float:
        return float(difference(before, lab(other)).mean())

    others = [
        off(np.asarray(image.quantize(colours, way, dither=Image.Dither.FLOYDSTEINBERG).convert("RGB")))
        for way in (Image.Quantize.MEDIANCUT, Image.Quantize.MAXCOVERAGE, Image.Quantize.FASTOCTREE)
    ]  # fmt: skip
    assert off(made) <= min(others) * 1.03 + 0.02


def test_what_is_clear_stays_clear_and_what_is_solid_solid():
    pixels = np.dstack([PICTURES["jug"], np.zeros((270, 360), np.uint8)])
    pixels[40:200, 60:300, 3] = 255
    made = np.asarray(in_colours(Picture(pixels, SRGB, True), 32).convert("RGBA"))
    assert (made[..., 3] == pixels[..., 3]).all()
    inside = made[40:200, 60:300, :3].astype(int) - PICTURES["jug"][40:200, 60:300]
    assert np.abs(inside).mean() < 8
