"""Portraits whose truth the renderer knows (tools/portrait_truth.py): what is found, how sure, and what is not told."""

from __future__ import annotations

import json
import math
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from aptandum.core.fitting.detection import people_in
from aptandum.core.fitting.live import live_reading
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.findings import judge
from aptandum.core.judge.marks_off import off
from aptandum.core.judge.reading import of_supplied
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.marks import HandMarks, People
from aptandum.core.photo.people import find_people
from samples import brief_of, clause

FOLDER = Path(__file__).resolve().parent.parent / "portraits"
TRUTH = json.loads((FOLDER / "truth.json").read_text())
FAR = 2.25
HEAD = brief_of(
    clause("head_height", between=["20 %", "95 %"])
    + clause("headroom", between=["-50 %", "90 %"])
    + clause("eye_line", between=["5 %", "95 %"])
    + clause("head_width", between=["5 %", "95 %"])
    + clause("eyes_open", exactly="open")
    + clause("mouth_closed", exactly="closed")
)


def pixels(name: str) -> np.ndarray:
    with Image.open(FOLDER / name) as opened:
        return np.asarray(opened.convert("RGB"))


def judged(path: Path, hand: HandMarks | None = None):
    photo = open_photo(path)
    people = people_in(photo, hand)
    return judge(of_supplied(photo, see_people=lambda: people), HEAD)


@pytest.mark.parametrize("name", TRUTH)
def test_what_is_found_is_no_further_off_than_it_says(name):
    """Of twenty heads one may be further off than is said; of these none is by more than FAR times as much."""
    truth = TRUTH[name]
    (face,) = find_people(pixels(name))
    head = math.dist(truth["crown"], truth["chin"])
    up = np.subtract(truth["crown"], truth["chin"]) / head
    marks = People((face,)).marks()

    def far(name):
        return FAR * off(name, marks)

    assert not face.cut
    assert abs(math.dist(face.crown, face.chin) - head) < far("height") * head
    assert abs((np.array(face.crown) - truth["crown"]) @ up) < far("crown") * head
    middle = np.mean(face.eyes, 0) - np.mean(truth["eyes"], 0)
    if not face.doubted:
        assert abs(middle @ up) < far("eye line") * head
        assert abs(middle @ (-up[1], up[0])) < far("across") * head
    assert abs(face.turn - truth["turn"]) < far("turn")
    assert face.nod is not None and abs(face.nod - truth["nod"]) < far("nod")


@pytest.mark.parametrize("name", TRUTH)
def test_eyes_and_mouth_are_told_right_or_not_at_all(name):
    truth, found = TRUTH[name], judged(FOLDER / name)
    for clause_id, true, good in (
        ("eyes_open", truth["eyes_open"], "open"),
        ("mouth_closed", truth["mouth"], "closed"),
    ):
        verdict = found.of(clause_id).verdict
        if true and verdict != "unknown":
            assert (verdict == "meets") == (true == good), found.of(clause_id).says


@pytest.mark.parametrize("share", [0.02, 0.08, 0.2])
@pytest.mark.parametrize("name", TRUTH)
@pytest.mark.long
def test_a_head_that_is_cut_off_is_never_judged_as_whole(tmp_path, name, share):
    truth, whole = TRUTH[name], pixels(name)
    head = truth["chin"][1] - truth["crown"][1]
    low = round(truth["chin"][1] - share * head)
    for part, cut, told in (
        (whole[round(truth["crown"][1] + share * head) :], "crown", ("head_height", "headroom")),
        (whole[:low], "chin", ("head_height",)),
    ):
        path = tmp_path / f"{cut}.png"
        Image.fromarray(np.ascontiguousarray(part)).save(path)
        found = judged(path)
        for clause_id in told:
            finding = found.of(clause_id)
            assert finding.verdict == "unknown", (cut, finding.says)
            assert "edge" in finding.says or "No face" in finding.says
        # with its ends set by hand it is judged, for a person says where they are
        if "No face" in found.of("head_height").says:
            continue
        hand = HandMarks(crown=(truth["crown"][0], -share * head), chin=(truth["chin"][0], part.shape[0] + 1.0))  # fmt: skip
        assert judged(path, hand).of("head_height").verdict in ("meets", "misses")


def test_marks_that_a_hand_has_set_leave_no_doubt():
    """A value a hair inside its limit is unknown as it was found, and met once a person has set the marks."""
    name = next(iter(TRUTH))
    photo = open_photo(FOLDER / name)
    people = people_in(photo)
    marks = people.marks()
    share = marks.height / photo.facts.size[1] * 100
    brief = brief_of(clause("head_height", between=[f"{share - 9:.2f} %", f"{share + 0.2:.2f} %"]))
    finding = judge(of_supplied(photo, see_people=lambda: people), brief).of("head_height")
    assert finding.verdict == "unknown" and "±" in finding.says and "by hand" in finding.says
    hand = HandMarks(crown=marks.crown, chin=marks.chin)
    sure = People(people.faces, hand)
    assert (
        judge(of_supplied(photo, see_people=lambda: sure), brief).of("head_height").verdict
        == "meets"
    )


def test_of_two_people_the_one_in_the_frame_is_meant(tmp_path):
    """Two stand side by side; a frame about one of them is judged by that one, as the count says."""
    one, other = pixels("006.jpg"), pixels("022.jpg")
    path = tmp_path / "two.png"
    Image.fromarray(np.concatenate([one, other], 1)).save(path)
    photo = open_photo(path)
    people = people_in(photo)
    assert people.count == 2
    brief = brief_of(clause("people", exactly=1) + clause("head_height", between=["20 %", "90 %"]))
    whole = judge(of_supplied(photo, see_people=lambda: people), brief)
    assert whole.of("people").verdict == "misses"
    assert "2 faces were found in the photo" in whole.of("head_height").says
    settings = Settings().having(
        {"frame.window": f"{one.shape[1]}, 0, {other.shape[1]}, {other.shape[0]}"}
    )
    line = resolve(photo.facts, brief, settings)
    framed = judge(live_reading(photo.facts, line, see_people=lambda: people), brief)
    assert framed.of("people").verdict == framed.of("head_height").verdict == "meets"
    truth = TRUTH["022.jpg"]
    share = math.dist(truth["crown"], truth["chin"]) / other.shape[0]
    assert framed.of("head_height").value == pytest.approx(share, rel=0.04)
