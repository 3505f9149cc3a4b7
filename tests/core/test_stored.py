"""A photo's own pixels: cut as they are shown, whatever way the file stores them, and never those that others still need."""

from __future__ import annotations

import contextlib
from math import ceil, floor

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image, ImageOps

from aptandum.core.errors import Cancelled
from aptandum.core.fitting.plan import Window
from aptandum.core.fitting.stored import own_pixels
from aptandum.core.photo.arriving import ahead
from aptandum.core.photo.decode import open_photo

WIDE, HIGH = 61, 43
NOISE = np.random.default_rng(5).integers(0, 256, (HIGH, WIDE, 3), np.uint8)


def stored(folder, orientation, bands=3):
    path = folder / f"stored-{orientation}-{bands}.png"
    if not path.exists():
        picture = Image.fromarray(NOISE if bands == 3 else NOISE[..., 0])
        exif = picture.getexif()
        exif[0x0112] = orientation
        picture.save(path, exif=exif)
    return path


@pytest.mark.parametrize("before", [False, True], ids=["asked", "ahead"])
@given(
    orientation=st.integers(1, 8),
    bands=st.sampled_from((1, 3)),
    at=st.tuples(st.floats(0, 20), st.floats(0, 20)),
    size=st.tuples(st.floats(1, 20), st.floats(1, 20)),
)
@settings(
    max_examples=40, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
def test_they_are_those_that_a_viewer_shows(tmp_path, before, orientation, bands, at, size):
    path = stored(tmp_path, orientation, bands)
    photo = open_photo(path)
    with Image.open(path) as opened:
        shown = np.asarray(ImageOps.exif_transpose(opened))
    left, top = at
    right, bottom = left + size[0], top + size[1]
    part = shown[floor(top + 1e-9) : ceil(bottom - 1e-9), floor(left + 1e-9) : ceil(right - 1e-9)]
    with ahead(photo.read(), photo.facts) if before else contextlib.nullcontext():
        made = own_pixels(photo, Window(left, top, *size), None)
    assert np.array_equal(made.reshape(part.shape), part)


def test_what_is_done_to_them_is_not_done_to_what_others_need(tmp_path):
    photo = open_photo(stored(tmp_path, 1))
    whole = Window(0, 0, WIDE, HIGH)
    with ahead(photo.read(), photo.facts):
        first = own_pixels(photo, whole, None)
        assert first.flags.writeable
        first[:] = 0
        assert np.array_equal(own_pixels(photo, whole, None), NOISE)


def test_a_person_who_has_given_up_waits_for_nothing_more(tmp_path):
    photo = open_photo(stored(tmp_path, 1))
    with pytest.raises(Cancelled):
        own_pixels(photo, Window(0, 0, WIDE, HIGH), lambda: True)
