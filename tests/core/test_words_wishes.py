"""Rules in words: what is wished for beside what is taken as well, how many pixels a picture has in all, and in which of the
two languages a short text is."""

from __future__ import annotations

import pytest

from aptandum.core.rulebook.words import read
from rules_told import told


@pytest.mark.parametrize(
    ("text", "measure", "wished", "taken"),
    [
        ("TIFF is preferred but JPEG is acceptable.", "format", "tiff", ["tiff", "jpeg"]),
        ("JPEG is acceptable but TIFF is preferred.", "format", "tiff", ["jpeg", "tiff"]),
        ("WebP bevorzugt, JPEG wird akzeptiert.", "format", "webp", ["webp", "jpeg"]),
        ("We would rather have TIFF; JPEG will do.", "format", "tiff", ["tiff", "jpeg"]),
        ("Preferably 3:2 but 4:3 is fine.", "aspect", "3:2", ["3:2", "4:3"]),
        ("Preferably 3:2, otherwise 4:3.", "aspect", "3:2", ["3:2", "4:3"]),
        ("Am liebsten 3:2, aber 4:3 ist in Ordnung.", "aspect", "3:2", ["3:2", "4:3"]),
        ("We recommend 300 ppi. 240 ppi is acceptable.", "ppi", "300", ["300", "240"]),
    ],
)
def test_what_is_taken_as_well_does_not_refuse_what_is_wished_for(text, measure, wished, taken):
    rules = told(text)
    assert {"measure": measure, "exactly": wished, "strength": "should"} in rules
    assert {"measure": measure, "one_of": taken} in rules
    assert len(rules) == 2


def test_a_wish_that_a_rule_makes_impossible_is_asked():
    drafts = read("Recommended size 2400 x 1600 px. The size must be 1200 x 800 px.").drafts
    assert [draft.certainty for draft in drafts] == ["sure", "doubtful"]


def test_a_bound_beside_a_wish_is_a_rule_of_its_own():
    assert told("Ideally 2400 px wide but no less than 1200 px.") == [
        {"measure": "width", "exactly": "2400", "strength": "should"},
        {"measure": "width", "at_least": "1200"},
    ]


@pytest.mark.parametrize(
    ("text", "limit"),
    [
        ("Images must have at least 1,000,000 pixels.", {"at_least": "1"}),
        ("Photos with fewer than 500,000 pixels are rejected.", {"at_least": "0.5"}),
        ("Bilder müssen mindestens 1.000.000 Pixel haben.", {"at_least": "1"}),
        ("Between 2,000,000 and 25,000,000 pixels in total.", {"between": ["2", "25"]}),
        ("No more than 2 million pixels.", {"at_most": "2"}),
        ("Mind. 2,5 Mio. Pixel", {"at_least": "2.5"}),
        ("mindestens 2 Millionen Pixel", {"at_least": "2"}),
    ],
)
def test_more_pixels_than_any_side_has_are_those_of_the_whole_picture(text, limit):
    assert told(text) == [{"measure": "megapixels", **limit}]
    assert read(text).drafts[0].certainty == "sure"


def test_a_side_that_is_named_stays_one():
    assert told("Width at most 100000 px.") == [{"measure": "width", "at_most": "100000"}]


@pytest.mark.parametrize(
    ("text", "limit"),
    [
        ("Pixel dimension: at least 4000 px.", {"at_least": "4000"}),
        ("Pixel count: up to 4000 px.", {"at_most": "4000"}),
        ("Pixel: höchstens 4000 px", {"at_most": "4000"}),
        ("Maximal 4000 Pixel", {"at_most": "4000"}),
    ],
)
def test_the_language_of_a_few_words_is_told_by_those_that_make_a_bound(text, limit):
    assert told(text) == [{"measure": "longest_side", **limit}]
