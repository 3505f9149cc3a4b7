"""Turns and mirrorings: codes, boxes, pixels and what belongs to a photo."""

from __future__ import annotations

import io

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.docket.model import Docket
from aptandum.core.fitting.stored import turned
from aptandum.core.photo.decode import Photo, open_photo
from aptandum.core.photo.marks import HandMarks
from aptandum.core.photo.turning import LEFT, MIRROR, RIGHT, SWAPS, back, moved, then
from samples import brief_of, clause, scene

CODES = range(1, 9)


@pytest.mark.parametrize("first", CODES)
@pytest.mark.parametrize("second", CODES)
def test_two_turns_are_one(first, second):
    picture = np.arange(6, dtype=np.uint8).reshape(2, 3, 1)
    both = turned(turned(picture, first), second)
    assert np.array_equal(both, turned(picture, then(first, second)))


@pytest.mark.parametrize("code", CODES)
def test_a_turn_taken_back(code):
    assert then(code, back(code)) == 1 == then(back(code), code)


@given(st.sampled_from(list(CODES)), st.integers(0, 5), st.integers(0, 3))
def test_a_box_goes_where_its_pixels_go(code, x, y):
    picture = np.zeros((5, 8, 1), np.uint8)
    picture[y : y + 2, x : x + 3] = 1
    left, top, width, height = moved((x, y, 3, 2), code, (8, 5))
    shown = turned(picture, code)
    rows, columns = np.nonzero(shown[..., 0])
    assert (left, top) == (columns.min(), rows.min())
    assert (width, height) == (np.ptp(columns) + 1, np.ptp(rows) + 1)


@pytest.mark.parametrize("orientation", [1, 6, 7])
@pytest.mark.parametrize("code", [RIGHT, LEFT, MIRROR, 3])
def test_a_photo_turned_by_hand_is_written_turned(tmp_path, orientation, code):
    pixels = scene(320, 200)
    exif = Image.Exif()
    exif[0x0112] = orientation
    path = tmp_path / "wall.png"
    Image.fromarray(pixels).save(path, exif=exif)
    photo = open_photo(path)
    made = Photo(photo.path, photo.facts.turned_by(code))
    brief = brief_of(clause("format", exactly="png"))
    proof = conform(made, brief)
    with Image.open(io.BytesIO(proof.made.data)) as image:
        got = np.asarray(image.convert("RGB"))
    expected = turned(turned(pixels, orientation), code)
    assert np.array_equal(got, expected)
    assert made.facts.size == (expected.shape[1], expected.shape[0])


def test_marks_and_frames_turn_with_their_photo():
    docket, photo = Docket().with_photo("/x/a.jpg")
    docket, fitting = docket.with_fitting(photo, "a/b")
    hand = HandMarks(
        crown=(50, 10),
        chin=(50, 90),
        left_eye=(40, 40),
        right_eye=(60, 40),
        keep_clear=((0, 0, 20, 10),),
    )
    docket = docket.with_marks(photo, hand)
    made = docket.fitting(fitting)
    settings = made.settings.having({"frame.window": "10, 20, 30, 40"})
    docket = docket.replacing(made.model_copy(update={"settings": settings}))
    size = (100, 200)
    right = docket.turned(photo, RIGHT, size)
    assert right.photo(photo).turn == RIGHT
    marks = right.photo(photo).marks
    assert marks.crown == (190, 50) and marks.chin == (110, 50)
    assert marks.keep_clear == ((190, 0, 10, 20),)
    assert right.fitting(fitting).settings.frame.window == (140, 10, 40, 30)
    mirrored = docket.turned(photo, MIRROR, size).photo(photo).marks
    assert mirrored.left_eye == (40, 40) and mirrored.right_eye == (60, 40)
    assert mirrored.left_eye[0] < mirrored.right_eye[0]
    again = right.turned(photo, LEFT, (200, 100))
    assert again == docket and RIGHT in SWAPS
