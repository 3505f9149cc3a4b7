"""Tolerances that are told right behind a value, and files made within them."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.facts import Facts
from aptandum.core.rulebook.words import read
from rules_told import all_told as said
from samples import brief_of, clause, examples


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("The photo must be 35 x 45 mm (+/- 1 mm).", [("size", "35 x 45 mm", "1 mm")]),
        ("Width 35 mm ± 1 mm, height 45 mm ± 1 mm.", [("print_width", "35 mm", "1 mm"), ("print_height", "45 mm", "1 mm")]),
        ("Breite 35 mm (±1 mm), Höhe 45 mm (±0,5 mm).", [("print_width", "35 mm", "1 mm"), ("print_height", "45 mm", "0.5 mm")]),
        ("Width: 800 px (+/- 10 px).", [("width", "800", "10")]),
        ("Size 800 x 600 px, tolerance 2 %.", [("size", "800 x 600", "2 %")]),
        ("The picture must be 10 x 15 cm, plus or minus 2 mm.", [("size", "10 x 15 cm", "2 mm")]),
        ("Das Bild ist 50 x 50 mm groß.", [("size", "50 x 50 mm", None)]),
    ],
)  # fmt: skip
def test_a_tolerance_is_of_the_value_before_it(text: str, rules: list[tuple]):
    reading = read(text)
    found = [(d.fields["measure"], d.fields["exactly"], d.fields.get("tolerance")) for d in reading.drafts]  # fmt: skip
    assert found == rules
    assert not reading.asides


@given(
    st.integers(1200, 6000),
    st.integers(1200, 6000),
    st.sampled_from([(35, 45), (50, 50), (100, 150), (25, 30)]),
    st.sampled_from(["1 mm", "2 mm", "3 %"]),
)
@settings(max_examples=examples(150), deadline=None)
def test_a_print_within_its_tolerance_is_so_at_whole_pixels_per_inch(width, height, mm, give):
    brief = brief_of(clause("size", exactly=f"{mm[0]} x {mm[1]} mm", tolerance=give))
    facts = Facts(
        "p.jpg", "jpeg", width, height, width, height, 8, "rgb", False, None, "srgb", 1,
        bytes=1000, frames=1,
    )  # fmt: skip
    line = resolve(facts, brief, Settings())
    ppi = line.file.ppi
    assert ppi is not None and float(ppi).is_integer()
    for side, length in zip(line.frame.output, mm, strict=True):
        room = length * 0.03 if "%" in give else float(give.split()[0])
        printed = side / ppi * 25.4
        assert abs(printed - length) <= room + 0.5 / ppi * 25.4


def test_a_proportion_of_a_head_is_none_of_the_picture():
    for text in (
        "Head width to image width ratio between 0.5 and 0.75.",
        "The ratio of head height to picture height must be between 0.7 and 0.8.",
    ):
        assert not [rule for rule in said(text) if rule.get("measure") == "aspect"]


@pytest.mark.parametrize(
    ("text", "doubted"),
    [
        ("Headshot at least 800 px wide and, if you have one, a wide shot (min 2000px wide).", "2000"),
        ("Screenshot 1242 x 2688 px, and if there is one a logo of 1024 x 1024 px.", "1024 x 1024"),
    ],
)  # fmt: skip
def test_a_picture_beside_the_one_that_is_asked_for_is_asked(text: str, doubted: str):
    [draft] = [d for d in read(text).drafts if doubted in map(str, d.fields.values())]
    assert draft.certainty == "doubtful"
