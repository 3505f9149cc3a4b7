"""Rules in words: what is told of pictures beyond a number is a bound the right way round, or a question."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aptandum.core.rulebook.slips import slips
from aptandum.core.rulebook.toml import parse_rulebook
from aptandum.core.rulebook.words import read
from aptandum.core.rulebook.words.as_book import rulebook_text
from rules_told import all_told, of

UPPER = {"at_most", "below"}
LOWER = {"at_least", "above"}


def side(rule: dict) -> set[str]:
    return UPPER & set(rule) or LOWER & set(rule)


@pytest.mark.parametrize(
    "text",
    [
        "Our system chokes on pictures over 8 MB.",
        "The mail server here swallows attachments over 8 MB.",
        "The system throws out anything above 8 MB.",
        "Keep it below 8 MB - the directory rejects larger ones.",
        "Please shrink anything that is over 8 MB.",
        "You will get an error if your file is over 8 MB.",
        "Größer als 8 MB darf die Datei nicht sein.",
        "Sehr große Dateien (über 8 MB) kommen nicht durch.",
        "Der Server verschluckt Bilder über 8 MB.",
        "Files of 8 MB and more are rejected.",
        "Dateien ab 8 MB werden abgelehnt.",
        "Files of max. 8 MB, otherwise they will be rejected.",
        "Files up to 8 MB are accepted (larger ones are refused).",
        "Nothing beyond 8 MB, please.",
        "Die Datei muss unter 8 MB bleiben, größere weist das Portal ab.",
    ],
)
def test_what_refuses_the_large_ones_is_an_upper_limit(text: str):
    (draft,) = [d for d in read(text).drafts if d.fields.get("measure") == "file_bytes"]
    assert draft.certainty == "sure" and side(dict(draft.fields)) & UPPER, draft.fields


@pytest.mark.parametrize(
    "text",
    [
        "The printer dislikes images under 200 dpi.",
        "Nobody can print photos under 200 dpi well.",
        "Unser Drucker mag Bilder unter 200 dpi nicht.",
    ],
)
def test_what_refuses_the_coarse_ones_is_a_lower_limit(text: str):
    assert all_told(text) == [of("ppi", at_least="200")]


@pytest.mark.parametrize(
    ("text", "limit"),
    [
        ("Photos up to 600 px wide can't be printed.", {"above": "600"}),
        ("Bilder bis 600 Pixel Breite nehmen wir nicht an.", {"above": "600"}),
        ("Photos must be at least 600 px wide or they are rejected.", {"at_least": "600"}),
    ],
)
def test_what_is_refused_up_to_a_number_begins_beyond_it(text: str, limit: dict):
    assert all_told(text) == [of("width", **limit)]
    book = parse_rulebook(rulebook_text(read(text), "Pier"))
    assert not [slip for brief in book.briefs for slip in slips(brief)]


WHO = ("Our gateway", "The portal here", "The night porter", "My old printer")
DOES = ("hums at", "giggles at", "frowns on", "salutes", "paints")


@given(st.sampled_from(WHO), st.sampled_from(DOES), st.sampled_from(("over", "under", "above")))
def test_what_somebody_does_to_pictures_is_asked_where_it_is_not_known(
    who: str, does: str, by: str
):
    (draft,) = read(f"The photo is a JPEG. {who} {does} files {by} 8 MB.").drafts[1:]
    both = {key for one in (draft.fields, *draft.readings) for key in side(dict(one))}
    assert draft.certainty == "doubtful" and both & UPPER and both & LOWER


@pytest.mark.parametrize("takes", ["takes", "accepts", "wants", "is for", "prefers", "asks for"])
def test_what_is_done_with_pictures_that_are_wanted_is_a_rule(takes: str):
    assert {"measure": "file_bytes", "below": "8 MB"}.items() <= all_told(
        f"The form {takes} files under 8 MB."
    )[0].items()


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Longest side 3500 px, nothing smaller.", [of("longest_side", at_least="3500")]),
        ("Exactly 1200 x 800 px, nothing smaller.", [of("size", exactly="1200 x 800")]),
        ("Smallest: 1400 x 1400 px\nLargest: 3000 x 3000 px",
         [of("size", at_least="1400 x 1400"), of("size", at_most="3000 x 3000")]),
        ("At the very least 800 x 600 pixels.", [of("size", at_least="800 x 600")]),
        ("The file is not bigger than a megabyte.", [of("file_bytes", at_most="1 MB")]),
        ("Ten pictures at most.", [of("set_count", at_most="10")]),
        ("What format? JPEG. How many? 3 - 30.", [of("format", exactly="jpeg"), of("set_count", between=["3", "30"])]),
        ("JPEG, no compression above 20:1.", [of("compression", at_most="20"), of("format", exactly="jpeg")]),
        ("Size: 35 x 45 mm. There has to be a gap of 3 to 5 mm above the hair.", [of("size", exactly="35 x 45 mm"), of("headroom", between=["3 mm", "5 mm"])]),
        ("If you send a PNG with transparency the mug shows through white. JPG or PNG.",
         [of("format", one_of=["jpeg", "png"])]),
        ("TIFF, 4000 px on the long side. Derivatives for the web, JPEG with 1500 px, are made here.",
         [of("longest_side", exactly="4000"), of("format", exactly="tiff")]),
    ],
)  # fmt: skip
def test_these_are_read_as_they_are_meant(text: str, rules: list[dict]):
    assert all_told(text) == rules


def test_names_joined_by_a_dash_and_lists_that_are_only_set_in_part_briefs():
    dashed = "Art for the shop\n\nApp icon - 512 by 512, PNG\nFeature picture - 1024 by 500, JPEG\n"
    hung = "Photos\n\nMain photo\n  square\n  JPEG, 2000 x 2000 px\nDetail photo\n  PNG\n  1000 x 800 px\nAll photos\n  sRGB\n  at most 5 MB\n"
    assert [d.brief for d in read(dashed).drafts if d.fields["measure"] == "size"] == [
        "App icon",
        "Feature picture",
    ]
    from aptandum.core.rulebook.words.sources import of_bytes

    found = {(d.brief, d.fields["measure"]) for d in read(of_bytes(hung.encode())).drafts}
    assert {("Main photo", "size"), ("Detail photo", "size"), ("", "colour_space")} <= found


def test_a_table_whose_cells_only_bars_part_has_a_picture_in_each_row():
    from aptandum.core.rulebook.words.sources import of_bytes

    table = "Slots\n\nSlot | Ratio | Min width | Format\nLead | 16:9 | 1920 px | jpg\nThumb | 1:1 | 400 px | png\n"
    found = [(d.brief, d.fields["measure"]) for d in read(of_bytes(table.encode())).drafts]
    assert [what for what in found if what[1] == "width"] == [("Lead", "width"), ("Thumb", "width")]


def test_no_rule_of_all_is_lost_where_each_brief_has_its_own():
    page = (
        "Small banner: 640 x 100 px, PNG. Big banner: 640 x 200 px, JPEG.\n\n"
        "All: 1280 x 400 px at most, sRGB.\n"
    )
    found = read(page)
    assert of("size", at_most="1280 x 400") in [dict(d.fields) for d in found.drafts]
    briefs = parse_rulebook(rulebook_text(found, "Pier")).briefs
    assert [sum(c.measure == "size" for c in brief.clauses) for brief in briefs] == [2, 2]


def test_a_name_that_stands_twice_begins_one_brief():
    page = (
        "Smart watch faces: artwork\n\nRound faces: 454 x 454 px, everything outside the circle transparent.\n"
        "Square faces: 390 x 450 px.\nPNG, 32 bit.\nPreview for the shop: 512 x 512 px PNG.\n"
    )
    names = read(page).briefs
    assert len(names) == len(set(names))


@pytest.mark.parametrize("words", ["the ", "it is ", "our ", "größer, ", "die das ", "or no "])
def test_words_that_only_repeat_are_read_to_their_end(words: str):
    """They could be parted in as many ways as two to the power of their number, and were never done."""
    (draft,) = read(f"The file is a JPEG. {words * (1700 // len(words))}").drafts[:1]
    assert draft.fields == of("format", exactly="jpeg")


def test_one_line_that_is_set_in_is_no_list():
    from aptandum.core.rulebook.words.sources import of_bytes

    text = "Main photo\n  JPEG, 800 x 600 px,  sRGB  and nothing else\nMore below.\n"
    assert "- JPEG" not in of_bytes(text.encode())
