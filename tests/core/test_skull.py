"""Heads that a body measures up to the skull: the standards mean it, and hair hides it."""

from __future__ import annotations

import math
from pathlib import Path

import pytest

from aptandum.core.conform import conform
from aptandum.core.fitting.detection import framed_by_marks, people_in
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.findings import judge
from aptandum.core.judge.reading import of_supplied
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.marks import NAMES, HandMarks, People
from aptandum.core.rulebook.editions import compare
from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.rulebook.toml import parse_rulebook
from samples import SMALL, brief_of, clause

FOLDER = Path(__file__).resolve().parent.parent / "portraits"
LONG_HAIR = FOLDER / "009.jpg"
ANY = clause("head_height", between=["20 %", "95 %"]) + clause("headroom", at_least="1 %")
BY_SKULL = 'crown = "skull"'


@pytest.fixture
def sitter():
    photo = open_photo(LONG_HAIR)
    return photo, people_in(photo)


def test_the_head_is_measured_to_the_skull_and_it_is_said(sitter):
    photo, people = sitter
    by_hair = judge(of_supplied(photo, see_people=lambda: people), brief_of(ANY))
    by_skull = judge(of_supplied(photo, see_people=lambda: people), brief_of(ANY, BY_SKULL))
    (face,) = people.faces
    assert face.skull is not None
    high = photo.facts.size[1]
    assert by_skull.of("head_height").value == pytest.approx(
        math.dist(face.skull, face.chin) / high
    )
    assert by_skull.of("headroom").value == pytest.approx(face.skull[1] / high)
    assert by_hair.of("head_height").value == pytest.approx(math.dist(face.crown, face.chin) / high)
    assert "to the top of the skull" in by_skull.of("head_height").says
    assert "skull" not in by_hair.of("head_height").says


def test_a_limit_nearer_than_the_skull_is_known_is_not_told_until_a_hand_sets_it(sitter):
    photo, people = sitter
    (face,) = people.faces
    share = math.dist(face.skull, face.chin) / photo.facts.size[1] * 100
    brief = brief_of(
        clause("head_height", between=[f"{share - 20:.1f} %", f"{share + 3:.1f} %"]), BY_SKULL
    )
    found = judge(of_supplied(photo, see_people=lambda: people), brief).of("head_height")
    assert found.verdict == "unknown" and "by hand" in found.says
    hand = HandMarks(skull=face.skull, chin=face.chin)
    sure = People(people.faces, hand)
    assert judge(of_supplied(photo, see_people=lambda: sure), brief).of("head_height").verdict == "meets"  # fmt: skip
    hair = People(people.faces, HandMarks(crown=face.crown, chin=face.chin))
    still = judge(of_supplied(photo, see_people=lambda: hair), brief).of("head_height")
    assert still.verdict == "unknown", "a crown set on the hair says nothing of the skull"


def test_without_a_face_the_skull_is_asked_for(sitter):
    photo, _people = sitter
    hand = HandMarks(crown=(180, 60), chin=(180, 300), left_eye=(150, 190), right_eye=(210, 190))
    lone = People((), hand)
    found = judge(of_supplied(photo, see_people=lambda: lone), brief_of(ANY, BY_SKULL))
    assert found.of("head_height").verdict == "unknown"
    assert "skull" in found.of("head_height").says
    whole = People((), hand.model_copy(update={"skull": (180.0, 70.0)}))
    told = judge(of_supplied(photo, see_people=lambda: whole), brief_of(ANY, BY_SKULL))
    assert told.of("head_height").value == pytest.approx(230 / photo.facts.size[1])


def test_a_frame_is_laid_by_the_skull_and_the_file_judged_by_it(sitter):
    photo, people = sitter
    asked = (
        clause("size", exactly="240 x 300")
        + clause("head_height", between=["55 %", "75 %"])
        + clause("headroom", between=["8 %", "30 %"])
        + clause("format", exactly="jpeg")
    )
    shares = {}
    for kind in ("hair", "skull"):
        brief = brief_of(asked, f'crown = "{kind}"')
        settings = framed_by_marks(photo, brief, Settings(), people)
        proof = conform(photo, brief, settings, people=people)
        shares[kind] = proof.findings.of("head_height")
        marks = people.marks().topped(kind)
        window = proof.line.frame.window
        share = marks.height / window.height
        assert shares[kind].value == pytest.approx(share, abs=0.002)
        assert 0.55 < share < 0.75
    assert "skull" in shares["skull"].says


def test_each_head_has_the_handles_that_it_is_measured_by(sitter):
    _photo, people = sitter
    marks = people.marks()
    assert marks.handles == NAMES
    by_skull = marks.topped("skull")
    assert "skull" in by_skull.handles and "crown" not in by_skull.handles
    assert by_skull.hair == marks.crown and by_skull.crown == marks.skull
    assert by_skull.topped("skull") == by_skull
    moved = by_skull.placed(10, 20, 2.0)
    assert moved.hair == ((marks.crown[0] - 10) * 2, (marks.crown[1] - 20) * 2)


def test_a_rulebook_says_hair_or_skull_and_nothing_else():
    with pytest.raises(RulebookError, match="hair or skull"):
        brief_of(ANY, 'crown = "hat"')
    old = parse_rulebook(SMALL)
    new = parse_rulebook(SMALL.replace("[[brief]]\n", '[[brief]]\ncrown = "skull"\n', 1))
    said = [d for d in compare(old, new) if "measured up to" in d.title]
    assert [(d.before, d.after) for d in said] == [("the hair", "the skull")]
