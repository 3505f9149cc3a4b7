"""Red pupils and lids, told where the irises lie and nowhere else."""

from __future__ import annotations

import math
from dataclasses import replace
from pathlib import Path

import pytest
from PIL import Image, ImageDraw

from aptandum.core.fitting.detection import people_in
from aptandum.core.fitting.masking import mask_in
from aptandum.core.judge.findings import judge
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.judge.reading import of_supplied, pixels_of
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.marks import People
from samples import brief_of, clause

NAME = Path(__file__).resolve().parent.parent / "portraits" / "006.jpg"
BRIEF = brief_of(clause("red_eye", exactly="none") + clause("eyes_open", exactly="open"))


def judged(path, change=lambda face: face):
    photo = open_photo(path)
    found = people_in(photo)
    people = People(tuple(map(change, found.faces)), found.hand)
    box = (0, 0, *photo.facts.size)
    look = PixelStatistics(
        pixels_of(photo.read(), photo.facts), lambda size: mask_in(photo, people).window(box, size)
    )
    return judge(of_supplied(photo, lambda: people, lambda: look), BRIEF)


def painted(tmp_path, at, reach, colour):
    """The portrait with spots of a colour where ``at`` says for its face, ``reach`` distances of the eyes wide."""
    (face,) = people_in(open_photo(NAME)).faces
    apart = math.dist(*face.eyes)
    with Image.open(NAME) as opened:
        picture = opened.convert("RGB")
    draw = ImageDraw.Draw(picture)
    for x, y in at(face):
        r = reach * apart
        draw.ellipse((x - r, y - r, x + r, y + r), fill=colour)
    path = tmp_path / "painted.png"
    picture.save(path)
    return path


def test_a_red_pupil_is_seen(tmp_path):
    path = painted(tmp_path, lambda face: face.irises, 0.03, (190, 30, 40))
    finding = judged(path).of("red_eye")
    assert finding.verdict == "misses" and finding.value == "seen"


def test_red_at_the_inner_corner_of_an_eye_is_no_red_pupil(tmp_path):
    def corners(face):
        (ax, ay), (bx, by) = face.eyes
        return [(ax + 0.2 * (bx - ax), ay + 0.2 * (by - ay)), (ax + 0.8 * (bx - ax), ay + 0.8 * (by - ay))]  # fmt: skip

    before = judged(NAME).of("red_eye").verdict
    path = painted(tmp_path, corners, 0.025, (200, 60, 70))
    assert judged(path).of("red_eye").verdict == before != "misses"


def test_a_pupil_behind_light_thrown_back_is_not_told(tmp_path):
    path = painted(tmp_path, lambda face: face.irises, 0.1, (252, 252, 252))
    assert judged(path).of("red_eye").verdict == "unknown"


@pytest.mark.parametrize(
    ("opened", "doubted", "verdict"),
    [
        ((0.27, 0.28), (), "meets"),
        ((0.09, 0.07), (), "misses"),
        ((0.09, 0.27), (), "unknown"),  # of two eyes that are told so differently one was misread
        ((0.27, 0.28), ("eyes",), "meets"),  # one is covered: whichever is seen is open
        ((0.21, 0.28), ("eyes",), "unknown"),
        ((0.07, 0.09), ("eyes",), "unknown"),
    ],
)
def test_lids(opened, doubted, verdict):
    def change(face):
        centres = face.eyes
        return replace(face, eyes_open=opened, doubted=doubted, irises=centres)

    assert judged(NAME, change).of("eyes_open").verdict == verdict


def test_irises_on_another_line_than_the_corners_leave_the_lids_untold():
    def change(face):
        (ax, ay), (bx, by) = face.eyes
        moved = ((ax, ay), (bx, by + 0.15 * math.dist(*face.eyes)))
        return replace(face, eyes_open=(0.3, 0.3), doubted=("eyes",), irises=moved)

    assert judged(NAME, change).of("eyes_open").verdict == "unknown"


def lidded(face):
    """How the finder often reads closed lids: neither closed nor open."""
    return replace(face, eyes_open=(0.17, 0.15))


def misread(face):
    return replace(face, eyes_open=(0.31, 0.29))


@pytest.mark.parametrize(
    ("which", "change", "verdict"),
    [((0, 1), lidded, "misses"), ((0,), lidded, "unknown"), ((0, 1), misread, "unknown")],
)
def test_lids_are_closed_where_both_eyes_are_as_even_as_skin(tmp_path, which, change, verdict):
    path = painted(tmp_path, lambda face: [face.irises[i] for i in which], 0.3, (196, 150, 128))
    assert judged(path, change).of("eyes_open").verdict == verdict


@pytest.mark.parametrize(
    ("reach", "colour", "verdict"),
    [(0.2, (60, 50, 46), "meets"), (0.03, (190, 30, 40), "unknown")],
)
def test_beside_a_covered_eye_red_is_looked_for_and_not_believed(tmp_path, reach, colour, verdict):
    def doubtful(face):
        (ax, ay), (bx, by) = face.irises
        return replace(face, doubted=("eyes",), irises=((ax, ay - 60), (bx, by)))

    path = painted(tmp_path, lambda face: face.irises, reach, colour)
    assert judged(path, doubtful).of("red_eye").verdict == verdict


@pytest.mark.parametrize(
    ("opened", "verdict"), [((0.09, 0.27), "meets"), ((0.09, 0.11), "unknown")]
)
def test_an_eye_read_as_shut_beside_an_open_one_is_looked_at(tmp_path, opened, verdict):
    """Behind two lids nothing is told; one that is shut alone was misread, or winks: there is no red either way."""
    path = painted(tmp_path, lambda face: face.irises, 0.2, (60, 50, 46))
    found = judged(path, lambda face: replace(face, eyes_open=opened))
    assert found.of("red_eye").verdict == verdict
