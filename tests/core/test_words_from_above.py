"""Heights that a body counts from the upper edge, and other sentences that say something else than their numbers alone."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aptandum.core.rulebook.slips import slips
from aptandum.core.rulebook.toml import parse_rulebook
from aptandum.core.rulebook.words import read
from aptandum.core.rulebook.words.as_book import rulebook_text
from rules_told import all_told as said

EYES = {"measure": "eye_line"}


@pytest.mark.parametrize(
    ("text", "limit"),
    [
        ("The eyes must be between 30% and 40% from the top.", {"between": ["60 %", "70 %"]}),
        ("Eyes 30-40 % from the top edge of the photo.", {"between": ["60 %", "70 %"]}),
        ("Augen zwischen 30 und 40 % von oben.", {"between": ["60 %", "70 %"]}),
        ("Measured from the top, the eyes lie at 35.5 %.", {"exactly": "64.5 %"}),
        ("The eyes lie at least 30 % of its height below the top edge.", {"at_most": "70 %"}),
        ("Eyes 50 % to 70 % above the lower edge.", {"between": ["50 %", "70 %"]}),
        ("The eyes must be between 50% and 70% from the bottom.", {"between": ["50 %", "70 %"]}),
    ],
)
def test_eyes_are_counted_from_the_lower_edge(text: str, limit: dict):
    assert said(text) == [EYES | limit]


@pytest.mark.parametrize(
    ("text", "limit"),
    [
        (
            "Photo 35 x 45 mm. Eye line 18 to 25 mm below the upper edge.",
            {"between": ["20 mm", "27 mm"]},
        ),
        (
            "Passbild 35 x 45 mm. Augenlinie 18 bis 25 mm unter dem oberen Rand.",
            {"between": ["20 mm", "27 mm"]},
        ),
        ("Photo 2 x 2 in. Eyes 0.8 in from the top.", {"exactly": "1.2 in"}),
        (
            "Print 4 x 5 cm; the eyes must be at least 18 mm from the top edge.",
            {"at_most": "32 mm"},
        ),
        ("Photo 35 x 45 mm. Eyes 24 mm from the bottom.", {"exactly": "24 mm"}),
    ],
)
def test_lengths_from_above_are_what_is_left_of_the_print(text: str, limit: dict):
    """They were taken as counted from below, or left out."""
    assert EYES | limit in said(text)
    reading = read(text)
    [brief] = parse_rulebook(rulebook_text(reading, "Vessary Ferries")).briefs
    assert not slips(brief)


@given(low=st.integers(1, 60), more=st.integers(1, 39))
def test_what_is_counted_from_above_is_the_rest_and_no_slip(low: int, more: int):
    text = f"The eyes must be between {low}% and {low + more}% from the top of the picture."
    reading = read(text)
    [draft] = reading.drafts
    assert draft.fields["between"] == [f"{100 - low - more} %", f"{100 - low} %"]
    [brief] = parse_rulebook(rulebook_text(reading, "Vessary Ferries")).briefs
    assert not slips(brief)


def test_another_number_is_a_slip_still():
    text = (
        'format = 1\n[body]\nid = "pier"\nname = "Pier"\n[[brief]]\nid = "a"\ntitle = "A"\n'
        '[[brief.clause]]\nmeasure = "eye_line"\nbetween = ["20 %", "75 %"]\n'
        'quote = "Eyes between 30 % and 40 % from the top."\n'
    )
    [brief] = parse_rulebook(text).briefs
    [slip] = slips(brief)
    assert "30 %" in slip.says


@pytest.mark.parametrize(
    "text",
    [
        "Mounts must be 500 x 400 mm; the picture may have any size.",
        "Send by transfer link, not by mail, if over 20 MB.",
        "Envelopes must measure 30 x 40 cm.",
    ],
)
def test_what_a_picture_stands_on_and_which_way_it_comes_are_no_rules_of_it(text: str):
    assert not [d for d in read(text).drafts if "measure" in d.fields]


@pytest.mark.parametrize(
    "text",
    [
        "GIF, JPG or PNG. Animated GIFs max 30 seconds.",
        "Cover art must be square. Episode art follows the same rules but may be 16:9.",
        "JPEG only. Yes, scan at 300 dpi or more.",
        "We print 20 cm wide, so anything above 1500 px on the long side is ample.",
    ],
)
def test_what_holds_for_some_of_the_pictures_is_asked(text: str):
    last = [d for d in read(text).drafts if d.fields.get("measure") not in ("duration", "frames")]
    assert last[-1].certainty == "doubtful"


def test_anything_that_large_will_do():
    assert said("Anything above 300 x 384 pixels is fine.") == [
        {"measure": "size", "above": "300 x 384"}
    ]
    assert said("Anything over 1200 px wide will do.") == [{"measure": "width", "above": "1200"}]


def test_names_with_how_many_in_brackets_are_pictures():
    reading = read(
        "1. Main image: square, 2000 x 2000 px.\n2. Detail images (up to 6): longest edge 1600 px.\n"
    )
    assert reading.briefs == ("Main image", "Detail images")


@pytest.mark.parametrize(
    "text",
    [
        "Send the original file from the camera - don't crop or edit it.",
        "Eye line in the upper third.",
    ],
)
def test_rules_without_a_verb_or_a_number_are_asked(text: str):
    assert said(text) == [{"ask": text.rstrip(".")}]


def test_a_german_rule_without_a_verb_is_asked():
    assert said("Bildgröße 35 x 45 mm. Augenlinie im oberen Drittel.")[-1] == {
        "ask": "Augenlinie im oberen Drittel"
    }


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Files larger than 100 MB won't sync.", [{"measure": "file_bytes", "at_most": "100 MB"}]),
        ("Files over 20 MB will not upload.", [{"measure": "file_bytes", "at_most": "20 MB"}]),
        ("We accept PNG only because JPEG shifts our colours.", [{"measure": "format", "exactly": "png"}]),
        ("Nur PNG, weil JPEG die Farben verfälscht.", [{"measure": "format", "exactly": "png"}]),
        ("Save at quality 80-90 %.", [{"measure": "quality", "between": ["80", "90"]}]),
        ("JPEG quality between 80 and 90.", [{"measure": "quality", "between": ["80", "90"]}, {"measure": "format", "exactly": "jpeg"}]),
        ("Keep text at least 100 px from the border.", [{"ask": "Keep text at least 100 px from the border"}]),
        ("Kein Text näher als 100 Pixel am Rand.", []),
        ("Der Text soll 100 Pixel vom Rand entfernt sein.", [{"ask": "Der Text soll 100 Pixel vom Rand entfernt sein"}]),
        ("Credit line goes in the file's metadata or in your mail.", [{"ask": "Credit line goes in the file's metadata or in your mail"}]),
    ],
)  # fmt: skip
def test_what_fails_what_is_a_reason_and_what_lies_at_the_edge(text: str, rules: list[dict]):
    assert said(text) == rules


@pytest.mark.parametrize(
    "text",
    ["We print in sRGB; other profiles will be converted.", "Wir drucken im sRGB-Farbraum; andere Profile werden umgerechnet."],
)  # fmt: skip
def test_a_space_that_a_body_brings_all_others_into_is_asked(text: str):
    [draft] = read(text).drafts
    assert draft.certainty == "doubtful"


@pytest.mark.parametrize(
    ("text", "measure", "least", "wished"),
    [
        ("Minimum width 800 px (1200 recommended).", "width", "800", "1200"),
        ("At least 300 dpi (600 preferred).", "ppi", "300", "600"),
        ("Width at least 800 px, ideally 1200.", "width", "800", "1200"),
        ("Mindestens 800 Pixel breit (empfohlen 1200).", "width", "800", "1200"),
        ("Mindestens 800 Pixel breit (1200 empfohlen).", "width", "800", "1200"),
    ],
)
def test_a_bare_number_that_is_wished_for_is_of_what_stands_before_it(
    text: str, measure: str, least: str, wished: str
):
    assert said(text) == [
        {"measure": measure, "at_least": least},
        {"measure": measure, "exactly": wished, "strength": "should"},
    ]


def test_a_grade_of_quality_and_a_smallest_line():
    assert said("JPEG, keine Kompression unter Qualitätsstufe 75.")[0] == {
        "measure": "quality",
        "at_least": "75",
    }
    assert said("Smallest line 1 mm, smallest text 5 mm.") == []


def test_what_a_body_makes_grey_itself_and_what_a_jury_sees_first_is_asked():
    text = "Druck schwarz-weiß auf Naturpapier. Bilder mit 200 dpi. Farbbilder wandeln wir um."
    [grey] = [d for d in read(text).drafts if d.fields.get("measure") == "channels"]
    text = "TIFF, 300 dpi. For the jury stage a JPEG of at least 2000 px width is enough."
    [wide] = [d for d in read(text).drafts if d.fields.get("measure") == "width"]
    assert (grey.certainty, wide.certainty) == ("doubtful", "doubtful")


def test_what_holds_instead_for_some_corrects_nothing_and_is_asked():
    text = "Size: 1280 x 720. 16:9. For podcasts upload a 1:1 image (1280 x 1280) instead."
    sure = [dict(d.fields) for d in read(text).drafts if d.certainty == "sure"]
    assert sure == [
        {"measure": "size", "exactly": "1280 x 720"},
        {"measure": "aspect", "exactly": "16:9"},
    ]


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Max. 20 Bilder pro Person bis 18 Uhr.", [{"measure": "set_count", "at_most": "20"}]),
        ("No file may exceed 5 MB. PDFs may be up to 10 MB.", [{"measure": "file_bytes", "at_most": "5 MB"}]),
        ("Das Foto erscheint 240 Pixel breit.", []),
    ],
)  # fmt: skip
def test_hours_documents_and_how_a_photo_appears_are_no_rules(text: str, rules: list[dict]):
    assert said(text) == rules


def test_short_lines_are_rules_of_their_own_beside_one_longer_one_with_a_name():
    drafts = read(
        "Face height between 29 and 34 mm\nTaken within the past 6 months\nPlain white background\n"
        "Digital photos: at least 600 pixels wide and 750 pixels tall, between 50 KB and 10 MB, colour\n"
    ).drafts
    assert [d.quote for d in drafts][:3] == [
        "Face height between 29 and 34 mm",
        "Taken within the past 6 months",
        "Plain white background",
    ]


def test_a_line_of_fifty_letters_is_a_rule_of_its_own_as_well():
    rules = said(
        "Size: 35 mm x 45 mm\nThe eyes must be between 30% and 45% from the top\n"
        "Head height 60 to 70 % of the picture\nBlack-and-white pictures will be returned\n"
    )
    assert [r for r in rules if r["measure"] == "eye_line"] == [
        EYES | {"between": ["55 %", "70 %"]}
    ]
    assert {"measure": "head_height", "between": ["60 %", "70 %"]} in rules
    assert {"measure": "channels", "exactly": "colour"} in rules
