"""One frame on other photos."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aptandum.core.fitting.carry import CannotCarry, carried
from aptandum.core.fitting.plan import Window
from aptandum.core.photo.marks import HandMarks, People
from samples import brief_of, clause, examples

FREE = brief_of(clause("aspect", exactly="3:4"))
HEAD = brief_of(clause("aspect", exactly="3:4") + clause("head_height", between=["50 %", "60 %"]))


@given(
    st.integers(100, 900),
    st.integers(100, 900),
    st.integers(100, 900),
    st.integers(100, 900),
    st.floats(0, 1),
    st.floats(0, 1),
    st.floats(0.1, 1),
)
@settings(max_examples=examples(200), deadline=None)
def test_the_same_share_keeps_the_shape_and_stays_inside(w, h, pw, ph, x, y, part):
    wide = min(w, h * 0.75) * part
    high = wide / 0.75
    window = Window((w - wide) * x, (h - high) * y, wide, high)
    made = carried(window, (w, h), (pw, ph), "share", FREE)
    assert made.width / made.height == pytest.approx(0.75)
    assert made.left >= -1e-6 and made.top >= -1e-6
    assert made.right <= pw + 1e-6 and made.bottom <= ph + 1e-6
    if (pw, ph) == (w, h):
        same = (window.left, window.top, window.width, window.height)
        assert (made.left, made.top, made.width, made.height) == pytest.approx(same, abs=1e-9)


def test_the_same_share_of_a_photo_twice_as_large():
    made = carried(Window(30, 40, 75, 100), (200, 300), (400, 600), "share", FREE)
    assert made == Window(60, 80, 150, 200)


def test_the_same_pixels_or_why_not():
    window = Window(30, 40, 75, 100)
    assert carried(window, (200, 300), (300, 200), "pixels", FREE) == window
    with pytest.raises(CannotCarry, match="it has"):
        carried(window, (200, 300), (70, 300), "pixels", FREE)
    with pytest.raises(CannotCarry, match="edge"):
        carried(window, (200, 300), (200, 120), "pixels", FREE)


def test_by_each_photo_s_own_marks():
    head = HandMarks(crown=(100, 60), chin=(100, 160), left_eye=(85, 110), right_eye=(115, 110))
    window = Window(0, 0, 75, 100)
    made = carried(window, (200, 300), (400, 500), "marks", HEAD, People((), head))
    assert 100 / made.height == pytest.approx(0.55)
    assert made.width / made.height == pytest.approx(0.75)
    with pytest.raises(CannotCarry, match="no face was found"):
        carried(window, (200, 300), (400, 500), "marks", HEAD, People())
    with pytest.raises(CannotCarry, match="places no head"):
        carried(window, (200, 300), (400, 500), "marks", FREE, People((), head))
