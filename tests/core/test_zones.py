"""Zones that cover, and the smallest shift that clears them."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.brief.model import Seen, Zone
from aptandum.core.fitting.detection import framed_by_marks
from aptandum.core.fitting.live import live_reading
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.clearing import smallest_shift
from aptandum.core.judge.findings import judge
from aptandum.core.judge.reading import Reading
from aptandum.core.judge.zones import Kept, covered, second_cut
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.facts import Facts
from aptandum.core.photo.marks import HandMarks, People
from aptandum.core.photo.people import Face
from aptandum.core.photo.subject import find_subject
from samples import DEMO, brief_of, clause, examples

CLOCK = """[[brief.seen]]
as = "handset"
zones = [
  { name = "clock", left = "0 %", top = "10 %", width = "100 %", height = "20 %" },
  { name = "dock", left = "0 %", top = "90 %", width = "100 %", height = "10 %" },
]
"""
BRIEF = brief_of(clause("zones_clear", exactly="clear") + CLOCK)
FRAME = (200.0, 300.0, 100.0, 200.0)


def reading(people: People, frame=FRAME) -> Reading:
    facts = Facts("x.jpg", "jpeg", 50, 100, 50, 100, 8, "rgb", False, orientation=1)
    left, top, width, _height = frame
    return Reading(
        "live",
        facts,
        source=(600, 900),
        see_people=lambda: people,
        placed=(left, top, 50 / width, 0.0),
    )


def test_what_lies_under_the_clock_is_named_and_the_shift_that_clears_it():
    hand = HandMarks(keep_clear=((230, 340, 40, 60),))  # the clock covers 320 to 360
    finding = judge(reading(People((), hand)), BRIEF).findings[0]
    assert finding.verdict == "misses" and finding.measured == "clock on box 1"
    assert finding.mend.words == "Shift the frame 20\u00a0px up" or "20 px up" in finding.mend.words
    assert finding.mend.changes == {"frame.window": "200.0000, 280.0000, 100.0000, 200.0000"}
    moved = judge(reading(People((), hand), (200.0, 280.0, 100.0, 200.0)), BRIEF).findings[0]
    assert moved.verdict == "meets" and moved.measured == "clear"


def test_a_face_must_stay_clear_too_and_nothing_to_go_by_is_unknown():
    face = Face((250, 330), (250, 400), ((240, 360), (260, 360)), 0.0, 0.9, (230, 345, 270, 400))
    finding = judge(reading(People((face,))), BRIEF).findings[0]
    assert finding.measured == "clock on the face"
    nothing = judge(reading(People()), BRIEF).findings[0]
    assert nothing.verdict == "unknown" and "draw a box" in nothing.says
    bare = brief_of(clause("zones_clear", exactly="clear"))
    assert judge(reading(People((face,))), bare).findings[0].verdict == "unknown"


def test_what_a_second_place_cuts_again():
    frame = (100.0, 200.0, 800.0, 400.0)
    assert second_cut(Seen("banner", aspect=Fraction(8)), frame) == (100, 350, 800, 100)
    assert second_cut(Seen("banner", aspect=Fraction(8), anchor="top"), frame)[1] == 200
    assert second_cut(Seen("banner", aspect=Fraction(1), anchor="right"), frame) == (
        500,
        200,
        400,
        400,
    )
    assert second_cut(Seen("strip"), frame) is None


def test_a_frame_from_marks_clears_the_zones_where_the_bands_leave_room(tmp_path):
    """A head of half the frame, and a clock over the upper part of it: the frame goes up."""
    path = tmp_path / "wall.png"
    Image.fromarray(np.full((900, 600, 3), 200, np.uint8)).save(path, compress_level=1)
    face = Face((300, 300), (300, 600), ((250, 430), (350, 430)), 0.0, 0.9, (200, 320, 400, 600))
    seen = """[[brief.seen]]
as = "handset"
zones = [{ name = "clock", left = "0 %", top = "0 %", width = "100 %", height = "30 %" }]
"""
    loose = clause("head_height", between=["45 %", "55 %"]) + clause("aspect", exactly="1:1")
    room = clause("headroom", between=["10 %", "40 %"])
    photo = open_photo(path)
    for clauses, clear in (
        (loose + room, True),
        (loose + clause("headroom", between=["10 %", "20 %"]), False),
    ):
        brief = brief_of(clauses + clause("zones_clear", exactly="clear") + seen)
        made = framed_by_marks(photo, brief, Settings(), People((face,)))
        line = resolve(photo.facts, brief, made)
        found = judge(live_reading(photo.facts, line, see_people=lambda: People((face,))), brief)
        assert found.of("headroom").verdict == found.of("head_height").verdict == "meets"
        assert (found.of("zones_clear").verdict == "meets") == clear


ZONES = st.lists(
    st.builds(
        lambda x, y, w, h: Zone("z", x / 10, y / 10, w / 10, h / 10),
        st.integers(0, 6),
        st.integers(0, 6),
        st.integers(1, 4),
        st.integers(1, 4),
    ),
    min_size=1,
    max_size=3,
)
BOXES = st.lists(
    st.builds(
        lambda x, y, w, h: Kept("k", (float(x), float(y), float(w), float(h))),
        st.integers(12, 30),
        st.integers(12, 30),
        st.integers(1, 8),
        st.integers(1, 8),
    ),
    min_size=1,
    max_size=2,
)


@given(ZONES, BOXES)
@settings(max_examples=examples(200), deadline=None)
def test_the_shift_is_the_smallest_there_is(zones, kept):
    """Against every whole-pixel move; zones of a frame of 40 px end on whole pixels."""
    frame, photo = (10.0, 10.0, 40.0, 40.0), (60.0, 60.0)
    found = smallest_shift(zones, frame, kept, photo)
    best = None
    for dx, dy in np.ndindex(21, 21):
        x, y = dx - 10.0, dy - 10.0
        moved = (10 + x, 10 + y, 40.0, 40.0)
        holds = all(
            moved[0] <= k.box[0]
            and k.box[0] + k.box[2] <= moved[0] + 40
            and moved[1] <= k.box[1]
            and k.box[1] + k.box[3] <= moved[1] + 40
            for k in kept
        )
        if holds and not covered(zones, moved, kept):
            far = x * x + y * y
            best = far if best is None else min(best, far)
    if best is None:
        assert found is None
    else:
        assert found is not None and abs(found[0] ** 2 + found[1] ** 2 - best) < 1e-6
        moved = (10 + found[0], 10 + found[1], 40.0, 40.0)
        assert not covered(zones, moved, kept)


def test_the_subject_of_a_photo_of_a_thing():
    """A jug on a pale table, found from the backdrop; a mixed rim is no backdrop."""
    with Image.open(DEMO / "blue_jug_03.jpg") as picture:
        jug = np.asarray(picture.convert("RGB"))
    left, top, wide, high = find_subject(jug)
    assert 300 < left < 380 and 50 < top < 100  # the spout's tip and the rim
    assert 580 < wide < 760 and 640 < high < 760
    plain = np.full((200, 300, 3), 230, np.uint8)
    assert find_subject(plain) is None
    plain[60:140, 100:220] = (40, 60, 160)
    box = find_subject(plain)
    assert np.allclose(box, (100, 60, 120, 80), atol=4)
    noise = np.random.default_rng(3).integers(0, 255, (20, 30, 3), np.uint8)
    assert find_subject(noise.repeat(12, 0).repeat(12, 1)) is None
    found = judge(reading(People((), HandMarks(), (230.0, 340.0, 40.0, 60.0))), BRIEF)
    assert found.findings[0].measured == "clock on the subject"
