"""Reduction in linear light: held against another library in floating point, on photos and on what encoded numbers darken."""

from __future__ import annotations

import io

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.fitting import banded
from aptandum.core.fitting.light import Curve
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from samples import brief_of, clause, scene

SRGB = Curve()


def in_float(pixels: np.ndarray, size: tuple[int, int], box: tuple[float, ...]) -> np.ndarray:
    """Linear light resized by Pillow in 32-bit floats, and by plain means held as the reduction is."""
    light = SRGB.light(pixels / 255)
    bands = [
        np.asarray(Image.fromarray(light[..., i]).resize(size, Image.Resampling.LANCZOS, box))
        for i in range(light.shape[2])
    ]
    return np.stack(bands, -1)


def numbers(light: np.ndarray) -> np.ndarray:
    return SRGB.encoded(light) * 255


@given(
    st.floats(0, 9), st.floats(0, 9), st.floats(1, 7), st.sampled_from([1, 3]), st.integers(0, 99)
)
def test_smooth_pictures_come_out_as_in_floating_point(left, top, scale, bands, seed):
    """Where nothing swings past an edge, nothing is held back, so that both are the same to a hundredth of a step."""
    rng = np.random.default_rng(seed)
    small = rng.integers(60, 200, (5, 6, bands), np.uint8)
    big = [np.asarray(Image.fromarray(small[..., i]).resize((150, 120), Image.Resampling.BICUBIC)) for i in range(bands)]  # fmt: skip
    pixels = np.ascontiguousarray(np.stack(big, -1))
    size = max(1, int(140 / scale)), max(1, int(110 / scale))
    box = (left, top, left + size[0] * scale, top + size[1] * scale)
    got = banded.reduced_in_light(pixels, size, box, SRGB) / 65535
    wanted = in_float(pixels, size, box)
    inner = (slice(1, -1), slice(1, -1))  # at the picture's own edge the means reach less far
    off = np.abs(numbers(got) - numbers(wanted))[inner]
    assert not off.size or (np.median(off) < 0.02 and np.percentile(off, 90) < 1.0)


@pytest.mark.parametrize("size", [(620, 465), (301, 223), (97, 71)])
def test_no_texture_changes_its_lightness(size):
    """Of a fine pattern of black and white half the light is left: the number 188, where the mean number is 128."""
    y, x = np.mgrid[0:1200, 0:1600]
    for pattern in ((x + y) % 2, x % 2, (x // 3 + y // 3) % 2):
        pixels = np.repeat((pattern * 255).astype(np.uint8)[..., None], 3, 2)
        made = banded.reduced_in_light(pixels, size, (0, 0, 1600, 1200), SRGB) / 65535
        assert float(made.mean()) == pytest.approx(0.5, abs=0.004)
    stars = np.zeros((1200, 1600, 1), np.uint8)
    stars[::40, ::50] = 255
    made = banded.reduced_in_light(stars, size, (0, 0, 1600, 1200), SRGB) / 65535
    # Of what Lanczos takes from round a star in the dark nothing can be taken: it gets no darker, as it did in
    # encoded numbers, where a hundredth of its light was left.
    assert 0.98 / 2000 < float(made.mean()) < 1.4 / 2000


def test_no_edge_swings_to_black_or_beyond_its_neighbours():
    """A dark roof before a bright sky: Lanczos alone would draw a black line beside it."""
    pixels = np.full((400, 600, 3), 235, np.uint8)
    pixels[:, 251:] = 40
    size, box = (120, 80), (0.0, 0.0, 600.0, 400.0)
    alone = numbers(np.clip(in_float(pixels, size, box), 0, 1))
    assert alone.min() < 5
    made = numbers(banded.reduced_in_light(pixels, size, box, SRGB) / 65535)
    assert made.min() >= 39 and made.max() <= 236


@pytest.mark.parametrize("bands", [1, 3])
def test_whole_numbers_are_those_of_the_fractions(bands):
    """What is written is held in whole numbers, and is the same to one in 65,535 of light."""
    pixels, box = scene(900, 700, 3)[..., :bands], (3.4, 2.2, 897.1, 695.5)
    pixels = np.ascontiguousarray(pixels)
    light = banded.reduced_in_light(pixels, (211, 163), box, SRGB)
    made = banded.reduced_in_light(pixels, (211, 163), box, SRGB, numbers=True)
    assert made.dtype == np.uint16 and made.shape == (163, 211, bands)
    assert np.abs(SRGB.light(made / 65535) * 65535 - light).max() < 2.1


@pytest.mark.parametrize("kind", [np.uint8, np.uint16])
@pytest.mark.parametrize("bands", [2, 4])
def test_colours_under_clear_parts_do_not_bleed(kind, bands):
    """What is clear is full of a colour that is nowhere else; of the rest nothing becomes lighter or darker by it."""
    top = np.iinfo(kind).max
    pixels = np.zeros((300, 400, bands), kind)
    pixels[..., :-1] = round(0.3 * top)
    pixels[:, 150:, -1] = top
    pixels[:, :150, :-1] = top
    made = banded.reduced_in_light(pixels, (57, 43), (0.4, 0.7, 398.2, 299.1), SRGB)
    share = made[..., -1:] / 65535
    seen = share[..., 0] > 0.05
    numbers_ = SRGB.encoded(made[..., :-1] / 65535 / np.maximum(share, 1e-6))[seen]
    assert seen.mean() == pytest.approx(0.62, abs=0.03)
    assert np.abs(numbers_ - 0.3).max() < 0.003


def test_photos_stay_within_a_third_of_a_step_on_the_mean():
    for seed in range(4):
        pixels = scene(900, 700, seed)
        size, box = (211, 163), (3.4, 2.2, 897.1, 695.5)
        got = numbers(banded.reduced_in_light(pixels, size, box, SRGB) / 65535)
        wanted = numbers(np.clip(in_float(pixels, size, box), 0, 1))
        assert np.abs(got - wanted).mean() < 0.3


@pytest.mark.parametrize("form", ["JPEG", "PNG"])
@pytest.mark.long
def test_a_large_photo_is_reduced_in_light_as_a_small_one(tmp_path, form):
    """Eighteen megapixels of black and white lines, which once came out a fifth too dark."""
    y, x = np.mgrid[0:3600, 0:5000]
    pixels = (((x // 2) + (y // 2)) % 2 * 255).astype(np.uint8)
    path = tmp_path / f"lines.{form.lower()}"
    Image.fromarray(pixels).convert("RGB").save(path, quality=100, subsampling=0, compress_level=1)
    brief = brief_of(clause("size", exactly="500 x 360") + clause("format", exactly="png"))
    proof = conform(open_photo(path), brief)
    assert proof.line.contract()["colour"]["resampling"] == "light"
    made = np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("L")).astype(float)
    assert made.mean() == pytest.approx(188, abs=2.0)


@pytest.mark.parametrize(("resampling", "wanted"), [(None, 188), ("light", 188), ("numbers", 128)])
def test_what_shows_through_is_mixed_as_light_mixes(tmp_path, resampling, wanted):
    """Half of a white ground's light comes through a black that covers half of it."""
    path = tmp_path / "clear.png"
    pixels = np.zeros((80, 90, 4), np.uint8)
    pixels[:, :30, 3], pixels[:, 30:60, 3], pixels[:, 60:, 3] = 0, 128, 255
    Image.fromarray(pixels).save(path)
    settings = Settings().having({"finish.ground": "#FFFFFF"})
    if resampling:
        settings = settings.having({"colour.resampling": resampling})
    brief = brief_of(clause("format", exactly="png") + clause("transparency", exactly="none"))
    made = conform(open_photo(path), brief, settings)
    flat = np.asarray(Image.open(io.BytesIO(made.made.data)).convert("RGB"))[40, :, 1]
    assert flat[10] == 255 and flat[80] == 0
    assert abs(int(flat[45]) - wanted) <= 1
