"""Straightening: where points go, what the frame may hold, and the pixels."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageDraw

from aptandum.core.conform import conform
from aptandum.core.fitting.render import render
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.facts import Facts
from aptandum.core.photo.marks import HandMarks, People
from aptandum.core.photo.turning import held_in_swung, swung
from samples import brief_of, clause, examples, scene

FREE = brief_of(clause("longest_side", at_most=400) + clause("format", exactly="png"))


def facts(width: int, height: int) -> Facts:
    return Facts(
        "x.png",
        "png",
        width,
        height,
        width,
        height,
        8,
        "rgb",
        False,
        colour_space="srgb",
        orientation=1,
    )


def test_a_point_goes_clockwise_about_the_middle():
    assert swung((150, 50), 90, (100, 100)) == pytest.approx((50, 150))
    x, y = swung((10, 20), 7.5, (400, 300))
    assert swung((x, y), -7.5, (400, 300)) == pytest.approx((10, 20))


@given(
    st.integers(80, 900),
    st.integers(80, 900),
    st.floats(-45, 45).filter(lambda a: abs(a) > 0.01),
    st.floats(-300, 900),
    st.floats(-300, 900),
    st.floats(5, 1500),
    st.floats(5, 1500),
)
@settings(max_examples=examples(300), deadline=None)
def test_no_corner_lies_off_the_photo(pw, ph, angle, left, top, wide, high):
    box = held_in_swung((left, top, wide, high), angle, (pw, ph))
    assert box[2] / box[3] == pytest.approx(wide / high) and box[2] <= wide + 1e-6
    made = Settings().having(
        {
            "frame.angle": round(angle, 3),
            "frame.window": f"{left:.3f}, {top:.3f}, {wide:.3f}, {high:.3f}",
        }
    )
    frame = resolve(facts(pw, ph), FREE, made).frame
    window = frame.window
    for got, slack in ((box, 1e-6), ((window.left, window.top, window.width, window.height), 1.01)):
        for x in (got[0], got[0] + got[2]):
            for y in (got[1], got[1] + got[3]):
                u, v = swung((x, y), -angle, (pw, ph))
                assert -slack <= u <= pw + slack and -slack <= v <= ph + slack
    assert abs(window.width * frame.scale - frame.output[0]) < 0.51
    assert abs(window.height * frame.scale - frame.output[1]) < 0.51


@pytest.mark.parametrize("angle", [-8.0, 3.0, 20.0])
@pytest.mark.parametrize("output", ["600 x 400", "150 x 100"])
def test_a_disc_stays_a_disc_and_lies_where_its_middle_goes(tmp_path, angle, output):
    picture = Image.new("RGB", (900, 600), (240, 240, 240))
    ImageDraw.Draw(picture).ellipse((380, 180, 460, 260), fill=(0, 0, 0))
    path = tmp_path / "disc.png"
    picture.save(path)
    photo = open_photo(path)
    made = Settings().having({"frame.angle": angle, "frame.output": output})
    line = resolve(photo.facts, FREE, made)
    frame = line.frame
    # how much of each pixel the disc covers, as light counts it
    seen = (render(photo, line).pixels[..., 0] / 255) ** 2.2
    dark = np.clip(1 - seen / (240 / 255) ** 2.2, 0, 1)
    dark[dark < 0.2] = 0
    rows, columns = np.mgrid[0 : dark.shape[0], 0 : dark.shape[1]]
    x, y = ((columns + 0.5) * dark).sum() / dark.sum(), ((rows + 0.5) * dark).sum() / dark.sum()
    at = swung((420.5, 220.5), angle, (900, 600))
    assert x == pytest.approx((at[0] - frame.window.left) * frame.scale, abs=0.6)
    assert y == pytest.approx((at[1] - frame.window.top) * frame.scale, abs=0.6)
    area = (dark > 0.5).sum() / frame.scale**2
    assert area == pytest.approx(np.pi * 40.5**2, rel=0.04)


def test_a_straightened_picture_has_no_empty_corner(tmp_path):
    path = tmp_path / "wall.png"
    Image.fromarray(np.clip(scene(500, 300), 60, 255)).save(path, compress_level=1)
    proof = conform(open_photo(path), FREE, Settings().having({"frame.angle": 12}))
    picture = render(open_photo(path), proof.line).pixels
    # nothing of a black corner: no pixel is darker than the darkest of the wall
    assert picture.min() >= 55 and proof.findings.meets_musts


def test_marks_are_measured_on_the_straightened_photo(tmp_path):
    path = tmp_path / "wall.png"
    Image.fromarray(scene(800, 600)).save(path, compress_level=1)
    head = HandMarks(crown=(400, 150), chin=(430, 350), left_eye=(370, 245), right_eye=(450, 233))
    people = People((), head)
    brief = brief_of(
        clause("head_tilt", between=[-1, 1])
        + clause("head_height", between=["40 %", "60 %"])
        + clause("aspect", exactly="1:1")
        + clause("format", exactly="png")
    )
    tilted = conform(open_photo(path), brief, people=people)
    assert tilted.findings.of("head_tilt").verdict == "misses"
    made = Settings().having({"frame.angle": -people.marks().tilt})
    level = conform(open_photo(path), brief, made, people=people)
    assert abs(level.findings.of("head_tilt").value) < 0.01
    assert level.findings.of("head_height").verdict == "meets"
    assert level.line.frame.shape == Fraction(1)
