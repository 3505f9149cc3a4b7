"""What is shown to the person who is asked."""

from __future__ import annotations

import numpy as np
import pytest
from PIL import Image

from aptandum.core.photo.evidence import evidence, eyes_said, mouth_said, red_share
from aptandum.core.photo.marks import Marks, People
from aptandum.core.photo.people import find_people
from samples import DEMO

MARKS = Marks((100, 20), (100, 180), (70, 90), (130, 90))


@pytest.mark.parametrize(
    ("name", "mouth"), [("tobin_oar_0212", "closed"), ("quill_harrow_0119", "closed")]
)
def test_open_eyes_and_a_closed_mouth_read_so(name, mouth):
    with Image.open(DEMO / f"{name}.jpg") as picture:
        array = np.asarray(picture.convert("RGB"))
    (face,) = find_people(array)
    assert all(eyes_said(share) == "open" for share in face.eyes_open)
    assert mouth_said(face.mouth_open) == mouth
    found = evidence(array, People((face,)).marks(), face)
    assert found.red == () and "read as open" in found.says
    left, top, wide, high = found.eyes
    for x, y in face.eyes:
        assert left < x < left + wide and top < y < top + high


@pytest.mark.parametrize(
    ("share", "word"), [(0.3, "open"), (0.12, "half closed"), (0.07, "closed")]
)
def test_lids_in_words(share, word):
    assert eyes_said(share) == word


def test_red_in_one_eye_is_a_candidate():
    picture = np.full((200, 200, 3), 120, np.uint8)
    picture[86:95, 126:135] = (190, 30, 30)
    found = evidence(picture, MARKS, None)
    assert found.red == ("right",) and found.says == ""
    assert red_share(picture, (70, 90), 4) == 0 and red_share(picture, (-50, 90), 4) == 0
