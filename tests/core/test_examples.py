"""A body's examples: read with its rulebook, and brought to one head size and one line of the eyes."""

from __future__ import annotations

import math
import re

import pytest
from PIL import Image

from aptandum.core.fitting.detection import people_in
from aptandum.core.judge.compared import EYES, HEAD, nearest, placed
from aptandum.core.judge.findings import judge
from aptandum.core.judge.reading import of_supplied
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.people import find_people
from aptandum.core.rulebook.parcel import pictures_of
from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.rulebook.shelf import read_shelf
from aptandum.core.rulebook.toml import read_rulebook
from samples import DEMO, clause

BOOK, DECK = read_shelf().find("vessary-ferries/deck-pass")

HEADER = """format = 1
[body]
id = "gate"
name = "Gate House"
[[brief]]
id = "card"
title = "Card"
"""


def test_the_ferries_have_two_good_and_six_bad_ones():
    assert [one.good for one in DECK.examples].count(True) == 2 and len(DECK.examples) == 8
    assert {path.name for path in pictures_of(BOOK)} == {one.picture for one in DECK.examples}


def test_every_head_is_as_high_and_its_eyes_as_far_down():
    found = placed(DECK)
    assert len(found) == 8 and [one.example.good for one in found][:2] == [True, True]
    for one in found:
        faces = find_people(one.pixels)
        _left, top, _wide, high = one.window
        marks = faces[0]
        head = math.dist(marks.crown, marks.chin)
        eyes = (marks.eyes[0][1] + marks.eyes[1][1]) / 2
        assert head / high == pytest.approx(HEAD, abs=1e-6)
        assert (eyes - top) / high == pytest.approx(EYES, abs=1e-6)


def test_the_example_that_shows_what_is_missed_is_the_near_one():
    photo = open_photo(DEMO / "mirelle_dace_0031.jpg")  # her head is tilted
    people = people_in(photo)
    findings = judge(of_supplied(photo, see_people=lambda: people), DECK)
    one = nearest(placed(DECK), findings)
    assert one is not None and one.example.shows == "head tilted"
    straight = open_photo(DEMO / "ines_marrow_0417.jpg")
    others = people_in(straight)
    met = judge(of_supplied(straight, see_people=lambda: others), DECK)
    assert met.of("head_tilt").verdict == "meets" and nearest(placed(DECK), met) is None


@pytest.mark.parametrize(
    ("entry", "why"),
    [
        ('kind = "good"\nshows = "x"', "file name"),
        ('picture = "a.png"\nkind = "fine"\nshows = "x"', "one of good or bad"),
        ('picture = "a.png"\nkind = "bad"', "shows"),
        ('picture = "../a.png"\nkind = "bad"\nshows = "x"', "without a folder"),
        ('picture = "b.png"\nkind = "bad"\nshows = "x"', "beside the rulebook"),
        ('picture = "a.png"\nkind = "bad"\nshows = "x"\nabout = "ears"', "clause of this brief"),
    ],
)
def test_what_is_wrong_with_an_example_is_said_with_its_line(tmp_path, entry, why):
    Image.new("RGB", (30, 40), "#808080").save(tmp_path / "a.png")
    path = tmp_path / "gate.toml"
    path.write_text(HEADER + clause("format", exactly="png") + "[[brief.example]]\n" + entry + "\n")
    with pytest.raises(RulebookError, match=why) as caught:
        read_rulebook(path)
    assert re.search(r"gate\.toml:1\d: brief", str(caught.value))


def test_an_example_that_is_no_picture_or_has_no_face_stops_nothing(tmp_path):
    Image.new("RGB", (30, 40), "#808080").save(tmp_path / "a.png")
    (tmp_path / "b.png").write_bytes(b"no picture")
    text = HEADER + clause("format", exactly="png")
    for name in ("a.png", "b.png"):
        text += f'[[brief.example]]\npicture = "{name}"\nkind = "good"\nshows = "{name}"\n'
    (tmp_path / "gate.toml").write_text(text)
    (brief,) = read_rulebook(tmp_path / "gate.toml").briefs
    found = placed(brief)
    assert [one.example.shows for one in found] == ["a.png"]
    assert found[0].window == (0.0, 0.0, 30.0, 40.0)
