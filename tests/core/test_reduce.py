"""Reducing to a box with sub-pixel edges, by a library that knows no box."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.fitting.plan import Window
from aptandum.core.fitting.reduce import cut_for, reduced
from aptandum.core.fitting.resample import resampled
from aptandum.core.photo.decode import from_array, open_photo
from samples import examples, scene


@st.composite
def sides(draw) -> tuple[float, float, int, int]:
    """Start and length of a box, what it is brought to, and the whole side."""
    whole = draw(st.integers(60, 9000))
    goal = draw(st.integers(20, whole))
    length = draw(st.floats(goal, whole))
    start = draw(st.one_of(st.just(0.0), st.floats(0, whole - length), st.just(whole - length)))
    return start, length, goal, whole


@given(sides())
@settings(max_examples=examples(400), deadline=None)
def test_a_cut_lays_the_grid_on_the_box(side):
    start, length, goal, whole = side
    cut = cut_for(start, length, goal, whole)
    assume(cut is not None)
    step, kept = length / goal, cut.last - cut.first
    # The grid lies in the middle of what is kept, as libvips lays it.
    laid = cut.first + (kept - cut.made * step) / 2 + cut.before * step
    assert abs(laid - start) <= 1 / 64 + 1e-6
    assert round(kept / step) == cut.made >= cut.before + goal
    # Around the box the kernel sees the picture as far as it goes, up to three pixels of the result.
    # Half a pixel of it may be left over, and one of the picture, as the cut is odd or even.
    reach = start - cut.first
    assert reach >= min(3 * step, start) - step - 1.5
    beyond = cut.last - start - length
    assert beyond >= min(3 * step, whole - start - length) - step - 1.5


def test_nearly_every_box_has_a_cut():
    """The others are brought to nearly as many pixels as they have."""
    rng = np.random.default_rng(5)
    none = 0
    for _ in range(2000):
        whole = int(rng.integers(300, 7000))
        goal = int(rng.integers(50, whole))
        length = rng.uniform(goal, whole)
        none += cut_for(rng.uniform(0, whole - length), length, goal, whole) is None
    assert none < 200


@pytest.mark.parametrize(
    "start, length, goal",
    [(0, 800, 400), (100, 600, 600), (0, 1000, 750), (333.5, 333, 111), (0, 1000, 999)],
)
def test_boxes_of_whole_pixels_and_such_in_the_middle_always_have_one(start, length, goal):
    assert cut_for(start, length, goal, 1000) is not None


def test_what_would_grow_has_no_cut():
    assert cut_for(0, 100, 101, 400) is None


@given(
    st.floats(0, 60),
    st.floats(0, 40),
    st.integers(90, 330),
    st.floats(1.0, 3.9),
    st.booleans(),
    st.integers(0, 50),
)
@settings(max_examples=examples(60), deadline=None)
def test_the_pixels_are_those_of_another_library(left, top, wide, scale, grey, seed):
    """Pillow's in floating point; libvips rounds between its passes and its kernel to a 64th."""
    pixels = scene(480, 360, seed=seed)
    pixels = pixels[..., :1] if grey else pixels
    width = min(wide * scale, 480 - left)
    high = max(20, round(wide * 0.6))
    height = min(high * scale, 360 - top)
    assume(width >= wide and height >= high)
    box = (left, top, left + width, top + height)
    small = reduced(from_array(pixels), (wide, high), box)
    assume(small is not None)
    made = small.numpy().reshape(high, wide, -1)
    right = np.stack(
        [
            np.asarray(
                Image.fromarray(pixels[..., i].astype(np.float32)).resize(
                    (wide, high), Image.Resampling.LANCZOS, box
                )
            )
            for i in range(pixels.shape[2])
        ],
        2,
    )
    off = np.abs(made - np.clip(right, 0, 255))
    # At the picture's own edge Pillow leaves out what is not there, libvips repeats the last.
    inner = off[4:-4, 4:-4]
    assert inner.mean() < 0.8 and np.percentile(inner, 99) < 3 and off.max() < 12


def test_deep_and_clear_pictures_are_left_to_the_other_way():
    deep = np.zeros((40, 40, 3), np.uint16)
    clear = np.zeros((40, 40, 4), np.uint8)
    for pixels in (deep, clear):
        assert reduced(from_array(pixels), (10, 10), (0.0, 0.0, 40.0, 40.0)) is None


RAMP = 4000
"""Rows of a picture whose transparency rises from none to all."""


def ramp(tmp_path, bits: int):
    """A picture of one colour; row r lets through r of 4,000, to a part of a level."""
    rows = (np.arange(RAMP) + 0.5) / RAMP
    full = 65535 if bits == 16 else 255
    chance = np.random.default_rng(5)
    alpha = np.floor(
        rows[:, None] * full + chance.random((RAMP, 300))
    )  # dithered: right on average
    pixels = np.full((RAMP, 300, 4), full // 3, np.uint16 if bits == 16 else np.uint8)
    pixels[..., 3] = alpha
    path = tmp_path / f"ramp{bits}.png"
    from_array(pixels).write_to_file(str(path))
    return open_photo(path)


@pytest.mark.parametrize("bits", [8, 16])
@pytest.mark.parametrize("way", ["encoded", "light", "quick"])
def test_what_is_half_clear_stands_where_it_stood(tmp_path, bits, way):
    """Reduced 1.3 to 20 times, from a window that begins inside the picture: to a hundredth of a source pixel
    where its depth can tell that, to a seventh of a level in 8 bit (a level is 16 rows)."""
    photo = ramp(tmp_path, bits)
    for factor in (1.3, 2.0, 3.7, 7.9, 8.0, 9.3, 16.0, 20.0):
        window = Window(10, 777, 280, 2400)
        size = round(280 / factor), round(2400 / factor)
        made, _icc = resampled(
            photo, window, size, False, None, quick=way == "quick", light=way == "light"
        )
        full = 65535 if made.dtype == np.uint16 else 255
        rows = made[3:-3, 3:-3, 3].astype(float).mean(1) / full * RAMP
        step = 2400 / size[1]
        want = 777 + (np.arange(size[1]) + 0.5) * step
        off = float((rows - want[3:-3]).mean())
        assert abs(off) < (0.01 if full == 65535 and bits == 16 else RAMP / 255 / 7), (factor, off)
