"""Whether something lies before the eyes: a rim beneath them, and what that does to how sure their marks are."""

from __future__ import annotations

import math
from dataclasses import replace
from pathlib import Path

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.brief.binding import EYE_LINE, HEAD_HEIGHT
from aptandum.core.judge.marks_off import OFF, off
from aptandum.core.judge.placing import off_by
from aptandum.core.photo.head import levelled
from aptandum.core.photo.marks import HandMarks, People
from aptandum.core.photo.people import find_people

FOLDER = Path(__file__).resolve().parent.parent / "portraits"
BARE = "003.jpg"


def pixels(name: str) -> np.ndarray:
    with Image.open(FOLDER / name) as opened:
        return np.asarray(opened.convert("RGB"))


def with_frame(picture: np.ndarray, colour: tuple[int, int, int], wide: float) -> np.ndarray:
    """A frame drawn about both eyes, its line so many distances of the eyes wide."""
    (face,) = find_people(picture)
    made = picture.copy()
    apart = float(np.linalg.norm(np.subtract(*face.eyes)))
    for x, y in face.eyes:
        centre = round(x), round(y + 0.06 * apart)
        axes = round(0.36 * apart), round(0.3 * apart)
        cv2.ellipse(made, centre, axes, 0, 0, 360, colour, max(2, round(wide * apart)), cv2.LINE_AA)
    return made


def test_bare_eyes_are_told_as_such():
    (face,) = find_people(pixels(BARE))
    assert face.bare_eyes and not face.doubted


@pytest.mark.parametrize("colour", [(24, 22, 26), (40, 60, 140), (210, 196, 150)])
def test_behind_a_frame_they_are_not(colour):
    (face,) = find_people(with_frame(pixels(BARE), colour, 0.045))
    assert not face.bare_eyes


def test_in_a_picture_too_coarse_to_show_a_frame_they_are_not():
    whole = pixels(BARE)
    (face,) = find_people(whole)
    k = 36 / float(np.linalg.norm(np.subtract(*face.eyes)))
    size = round(whole.shape[1] * k), round(whole.shape[0] * k)
    (small,) = find_people(cv2.resize(whole, size, interpolation=cv2.INTER_AREA))
    assert not small.bare_eyes


def test_what_lies_before_the_eyes_makes_their_line_less_sure_and_nothing_else():
    (face,) = find_people(pixels(BARE))
    box = (0.0, 0.0, 480.0, 600.0)
    bare = People((replace(face, bare_eyes=True),)).marks()
    behind = People((replace(face, bare_eyes=False),)).marks()
    line, other = OFF["eye line"]
    assert off_by(EYE_LINE, box, bare) == pytest.approx(line * bare.height / 600)
    assert off_by(EYE_LINE, box, behind) == pytest.approx(other * bare.height / 600)
    assert line < other
    assert off_by(HEAD_HEIGHT, box, bare) == off_by(HEAD_HEIGHT, box, behind)
    by_hand = People((face,), HandMarks(left_eye=face.eyes[0], right_eye=face.eyes[1])).marks()
    assert off_by(EYE_LINE, box, by_hand) == 0


def test_marks_set_by_hand_make_nothing_else_less_sure():
    """How a head is turned is still told by the face that was found, as surely as before."""
    (face,) = find_people(pixels(BARE))
    found = People((face,)).marks()
    hand = HandMarks(crown=face.crown, chin=face.chin, left_eye=face.eyes[0], right_eye=face.eyes[1])  # fmt: skip
    for set_ in (hand, HandMarks(chin=face.chin)):
        marks = People((face,), set_).marks()
        assert marks.turn == found.turn and off("turn", marks) == off("turn", found) == OFF["turn"][0]  # fmt: skip


places = st.floats(-2000, 2000)


@given(places, places, st.floats(5, 900), st.floats(-170, 170), st.floats(-4, 4))
def test_eyes_are_levelled_halfway_to_the_line_of_the_irises(x, y, apart, tilt, off):
    """Their middle and their distance stay as they were."""

    def pair(angle, wide):
        c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
        return (x - c * wide / 2, y - s * wide / 2), (x + c * wide / 2, y + s * wide / 2)

    made = np.array(levelled(pair(tilt, apart), pair(tilt + off, 0.9 * apart)))
    assert np.allclose(made, pair(tilt + off / 2, apart), atol=1e-6)
