"""Rules in words: parts of a picture that stay free, places across it, and what is told of pictures that nobody asks for."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aptandum.core.rulebook.slips import slips
from aptandum.core.rulebook.toml import parse_rulebook
from aptandum.core.rulebook.words import read
from aptandum.core.rulebook.words.as_book import rulebook_text
from rules_told import all_told, of

FREE = (
    "Put nothing in the bottom 150 px, the ticker is there",
    "Keep the lower 200 pixels free of text",
    "The name stripe covers the lowest 32 rows: leave them white",
    "Keep an area of 300 x 200 px at the lower left free for the logo",
    "Keep titles clear of the top 2.5 in",
    "Die oberen 120 Pixel bitte frei lassen",
    "Leave 10 px clear on all sides",
    "Leave 8 dots free left and right",
    "Unten 120 Pixel frei lassen",
)


@pytest.mark.parametrize("text", FREE)
def test_a_part_that_stays_free_is_asked_and_gives_the_picture_no_size(text: str):
    page = f"JPEG, 1600 x 900 px. {text}."
    assert {"ask": text} in all_told(page)
    rest = [rule for rule in all_told(page) if "ask" not in rule]
    assert rest == [of("size", exactly="1600 x 900"), of("format", exactly="jpeg")]


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("JPEG, 1920 x 1080 px, leave the bottom 150 px free.",
         [of("size", exactly="1920 x 1080"), of("format", exactly="jpeg"), {"ask": "leave the bottom 150 px free"}]),
        ("Slides as JPEG, under 1.5 MB – the player chokes on anything bigger.",
         [of("file_bytes", below="1.5 MB"), of("format", exactly="jpeg")]),
        ("Files over 5 MB are refused, please send smaller ones.", [of("file_bytes", at_most="5 MB")]),
        ("Images less than 500 px wide will be rejected, use a larger one.", [of("width", at_least="500")]),
        ("For phones: JPEG, 1080 x 1920 px, that is 9:16.",
         [of("size", exactly="1080 x 1920"), of("aspect", exactly="9:16"), of("format", exactly="jpeg")]),
        ("Below 1181 x 532 px (150 dpi) we will not print.", [of("size", at_least="1181 x 532")]),
        ("JPEG under 3 MB (bigger ones bounce).", [of("file_bytes", below="3 MB"), of("format", exactly="jpeg")]),
        ("Why was my photo rejected? Because it is smaller than 600 x 750 pixels, or not in portrait format.",
         [of("size", at_least="600 x 750"), of("orientation", exactly="upright")]),
        ("JPEG, at least 2000 px wide, better 3000.",
         [of("width", at_least="2000"), of("width", at_least="3000", strength="should"), of("format", exactly="jpeg")]),
        ("JPG or PNG. GIFs lose their animation.", [of("format", one_of=["jpeg", "png"])]),
        ("JPEG. Upright pictures have less chance.", [of("format", exactly="jpeg")]),
        ("BMP or PNG; no compression for BMP.",
         [of("format", one_of=["bmp", "png"]),
          of("packing", exactly="none", when={"measure": "format", "exactly": "bmp"})]),
        ("Minimum: 3543 px on the longest side (30 cm at 300 dpi).", [of("longest_side", at_least="3543")]),
        ('JPEG, profile "Coated Vessary 2", 300 ppi.', [of("ppi", exactly="300"), of("format", exactly="jpeg")]),
        ("JPEG. Number: 8–25", [of("format", exactly="jpeg"), of("set_count", between=["8", "25"])]),
    ],
)  # fmt: skip
def test_what_is_told_of_pictures_is_the_rule_that_it_means(text: str, rules: list[dict]):
    assert sorted(map(str, all_told(text))) == sorted(map(str, rules))


@given(low=st.integers(30, 49), high=st.integers(51, 70))
def test_a_place_counted_across_is_counted_from_the_middle_and_no_slip(low: int, high: int):
    text = (
        f"The midpoint between the eyes shall lie between {low} % and {high} % of the image width."
    )
    reading = read(text)
    [draft] = reading.drafts
    limit = {"measure": "head_offset", "between": [f"{low - 50} %", f"{high - 50} %"]}
    assert dict(draft.fields) == limit
    [brief] = parse_rulebook(rulebook_text(reading, "Vessary Ferries")).briefs
    assert not slips(brief)


def test_rounds_names_in_capitals_and_headings_between_lists_have_rules_of_their_own():
    rounds = (
        "1st stage: JPEG, 1200 px on the longest side. 2nd stage (by invitation): TIFF, 300 dpi."
    )
    assert [d.brief for d in read(rounds).drafts] == ["1st stage"] * 2 + ["2nd stage"] * 2
    cried = "ICONS. Square PNG, 512 x 512 px.\nBANNERS. JPEG, 1500 x 500 px, max. 2 MB.\n"
    assert {d.brief for d in read(cried).drafts} == {"ICONS", "BANNERS"}
    lists = (
        "Shop pictures\nMain image\n• square, 1000 px or more\nFurther images\n• landscape\n• PNG\n"
    )
    found = {d.brief for d in read(lists).drafts if d.fields.get("measure") == "format"}
    assert found == {"Further images"}
