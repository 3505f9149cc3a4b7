"""What people are looked for in: a copy that the decoder gives by itself, and a mask whose last layer is our own product."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageOps

from aptandum.core.fitting.detection import _longest, people_in
from aptandum.core.photo import people
from aptandum.core.photo.decode import open_photo
from samples import DEMO

INES = DEMO / "ines_marrow_0417.jpg"


@given(st.integers(1, 60_000), st.integers(1, 60_000))
def test_the_copy_is_what_a_decoder_gives(wide, high):
    """A whole, a half, a quarter or an eighth, rounded up as decoders do, and never more than is looked at."""
    longest = max(wide, high)
    made = _longest((wide, high))
    assert made <= people.LOOK
    if longest <= 8 * people.LOOK:
        assert made in {math.ceil(longest / step) for step in (1, 2, 4, 8)}
        assert made > people.LOOK / 2 or made == longest


@pytest.mark.long
def test_people_in_the_copy_are_those_of_the_photo():
    """Found in a quarter of it, they stand where they stand in all of its pixels."""
    (found,) = people_in(open_photo(INES)).faces
    with Image.open(INES) as opened:
        picture = np.asarray(ImageOps.exif_transpose(opened).convert("RGB"))
    (whole,) = people.find_people(cv2.resize(picture, None, fx=0.5, fy=0.5))
    head = math.dist(found.crown, found.chin)
    for name in ("crown", "chin"):
        there = np.multiply(getattr(whole, name), 2)
        assert math.dist(getattr(found, name), there) < 0.01 * head
    for one, other in zip(found.eyes, whole.eyes, strict=True):
        assert math.dist(one, np.multiply(other, 2)) < 0.007 * head
