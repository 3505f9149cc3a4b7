"""Sharpening for output: steeper edges, no line beside them, told and held against what a body permits."""

from __future__ import annotations

import io

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.fitting.finish.base import Canvas
from aptandum.core.fitting.finish.sharpening import Sharpening, draw
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped
from samples import brief_of, clause, scene

STRONG = {"finish.sharpening.strength": "100", "finish.sharpening.radius": "1.2"}


def canvas(zoom: float = 1.0) -> Canvas:
    return Canvas((0, 0, 90, 70), (90, 70), zoom, (90, 70), 0.0, lambda: None)


def edges(pixels: np.ndarray) -> float:
    """The steepest twentieth of a picture's steps from pixel to pixel, on the mean."""
    steps = np.abs(np.diff(pixels.astype(float), axis=1)).ravel()
    return float(np.sort(steps)[-len(steps) // 20 :].mean())


@given(
    st.sampled_from([np.uint8, np.uint16]),
    st.sampled_from([1, 3]),
    st.floats(0, 100),
    st.floats(0.3, 5),
    st.integers(0, 99),
)
def test_no_pixel_leaves_the_range_of_its_neighbours(kind, bands, strength, radius, seed):
    top = np.iinfo(kind).max
    pixels = np.random.default_rng(seed).integers(0, top, (70, 90, bands)).astype(kind)
    icc = shipped("grey" if bands == 1 else "srgb")
    made = draw(Picture(pixels, icc, False), Sharpening(strength=strength, radius=radius), canvas())
    assert made.pixels.dtype == kind and made.pixels.shape == pixels.shape
    about = np.lib.stride_tricks.sliding_window_view(
        np.pad(pixels, ((1, 1), (1, 1), (0, 0)), mode="edge"), (3, 3), (0, 1)
    )
    assert (made.pixels >= about.min((-1, -2))).all()
    assert (made.pixels <= about.max((-1, -2))).all()


def test_strips_leave_no_seams():
    """A tall picture is worked on in strips, which cannot be told from the whole."""
    pixels = scene(200, 700, seed=5)
    wish = Sharpening(strength=80, radius=3)
    whole = draw(Picture(pixels, shipped("srgb"), False), wish, canvas()).pixels
    part = draw(Picture(pixels[90:300], shipped("srgb"), False), wish, canvas()).pixels
    assert (whole[110:280] == part[20:190]).all()


def test_what_is_clear_stays_as_it_is():
    pixels = np.dstack([scene(90, 70), np.full((70, 90), 255, np.uint8)])
    pixels[:, :45, 3] = 90
    made = draw(Picture(pixels, shipped("srgb"), True), Sharpening(strength=100), canvas()).pixels
    assert (made[..., 3] == pixels[..., 3]).all()
    assert (made[:, :45] == pixels[:, :45]).all() and (made[:, 45:] != pixels[:, 45:]).any()


@pytest.mark.parametrize("colour", [{}, {"colour.space": "grey"}, {"colour.bits": "16"}])
def test_a_file_has_steeper_edges_and_says_so(tmp_path, colour):
    path = tmp_path / "a.png"
    Image.fromarray(scene(800, 600, grain=1.0)).save(path)
    brief = brief_of(clause("size", exactly="300 x 225") + clause("format", exactly="png"))
    plain = conform(open_photo(path), brief, Settings().having(colour))
    sharp = conform(open_photo(path), brief, Settings().having({**colour, **STRONG}))
    before, after = (
        np.asarray(Image.open(io.BytesIO(p.made.data)).convert("L")) for p in (plain, sharp)
    )
    assert edges(after) > 1.05 * edges(before)
    assert "sharpen" not in [act.word for act in plain.acts]
    said = [act.says for act in sharp.record if act.word == "sharpen"]
    assert len(said) == 1 and "Sharpened by 100 % within 1.2 px" in said[0].replace("\xa0", " ")


def test_a_body_that_does_not_name_it_does_not_permit_it(tmp_path):
    """And its mend takes it back, and nothing else."""
    path = tmp_path / "a.png"
    Image.fromarray(scene(800, 600)).save(path)
    rules = clause("size", exactly="300 x 225")
    strict = brief_of(rules, 'allows = ["cut", "scale"]')
    found = conform(open_photo(path), strict, Settings().having(STRONG)).findings
    one = next(f for f in found.findings if f.clause.measure == "alterations")
    assert one.verdict == "misses" and "sharpened" in one.says
    assert one.mend is not None and dict(one.mend.changes) == {"finish.sharpening.strength": None}
    mended = Settings().having({**STRONG, **one.mend.changes})
    assert conform(open_photo(path), strict, mended).ready
    open_one = brief_of(rules, 'allows = ["cut", "scale", "sharpen"]')
    assert conform(open_photo(path), open_one, Settings().having(STRONG)).ready


def test_nothing_is_sharpened_unless_it_is_asked():
    assert Settings().finish.sharpening.strength == 0
