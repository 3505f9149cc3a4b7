"""Rules of one text that cannot hold together are two pictures, are put right by the text itself, or are asked."""

from __future__ import annotations

import pytest

from aptandum.core.rulebook.toml import parse_rulebook
from aptandum.core.rulebook.words import read
from aptandum.core.rulebook.words.as_book import rulebook_text
from rules_told import all_told as said


def test_names_before_sizes_are_pictures_of_their_own():
    reading = read("Header: 1500 x 500 px. Avatar: 400 x 400 px. Both under 2 MB, PNG or JPG.")
    assert reading.briefs == ("Header", "Avatar")
    assert [(d.brief, d.fields["measure"]) for d in reading.drafts] == [
        ("Header", "size"), ("Avatar", "size"), ("", "file_bytes"), ("", "format"),
    ]  # fmt: skip
    book = parse_rulebook(rulebook_text(reading, "Vessary Ferries"))
    assert [brief.title for brief in book.briefs] == ["Header", "Avatar"]
    for brief, size in zip(book.briefs, ("1500 x 500", "400 x 400"), strict=True):
        sizes = [c for c in brief.clauses if c.measure == "size"]
        assert len(sizes) == 1 and size.split(" x ")[0] in str(sizes[0].limit)
        assert {c.measure for c in brief.clauses} == {"size", "file_bytes", "format"}


def test_names_that_are_ways_up_are_one_picture():
    assert said("Landscape: 1920 x 1080. Portrait: 1080 x 1350.") == [
        {"measure": "size", "exactly": "1920 x 1080", "applies": "landscape"},
        {"measure": "size", "exactly": "1080 x 1350", "applies": "upright"},
    ]


@pytest.mark.parametrize(
    "text",
    [
        "All pictures must be 1500 x 1500 px. Save them with 300 dpi. For print: 240 dpi.",
        "The width is 800 pixels. Pictures have a width of 1000 pixels.",
    ],
)
def test_two_values_of_one_thing_are_asked(text: str):
    drafts = read(text).drafts
    about = [d for d in drafts if d.fields["measure"] in ("ppi", "width")]
    assert len(about) == 2 and all(d.certainty == "doubtful" for d in about)


def test_the_same_said_twice_is_no_question():
    drafts = read("JPEG with 300 dpi. Again: the resolution must be 300 dpi.").drafts
    assert all(d.certainty == "sure" for d in drafts)


def test_a_size_to_fit_within_is_the_largest():
    for text in (
        "Images will be projected at 1400 x 1050. Resize yours to fit within these dimensions.",
        "The projector has 1400 x 1050 pixels. Images must fit within these dimensions.",
        "Digital entries must be sized so that neither dimension exceeds the projector's native 1400 x 1050.",
        "Neither side may exceed 1400 x 1050.",
        "Die Bilder werden mit 1400 x 1050 projiziert. Sie müssen in diese Maße passen.",
    ):
        assert said(text) == [{"measure": "size", "at_most": "1400 x 1050"}], text


def test_the_size_to_fit_within_is_the_nearest_before_it():
    text = (
        "Prints are 20 x 30 cm. Projected at 1400 x 1050. Images must fit within these dimensions. "
    )
    found = said(text * 40)
    assert found.count({"measure": "size", "at_most": "1400 x 1050"}) == 40
    far = "Pictures have 1400 x 1050 pixels. " + "We look forward to them. " * 20
    assert said(far + "Images must fit within these dimensions.")[0]["exactly"] == "1400 x 1050"


def test_a_number_that_is_none_ends_no_reading():
    assert read("Pictures of 2 1/0 in (3/0 in) or 1/0 inches (25 mm).").briefs == ("",)


def test_a_size_in_which_it_is_projected_is_none_to_hand_in():
    assert said("Pictures are projected at 1400 x 1050. Send files of at most 3 MB.") == [
        {"measure": "file_bytes", "at_most": "3 MB"}
    ]


def test_a_proportion_with_the_longer_side_first_is_that_of_its_size():
    fields = said("The cover must be 1600 x 2560 pixels (aspect ratio 1.6:1).")
    assert fields[0]["exactly"] == "1600 x 2560" and fields[1]["exactly"] == "1:1.6"
    same = said("The cover must be 2560 x 1600 pixels (aspect ratio 1.6:1).")
    assert same[1]["exactly"] == "1.6:1"


@pytest.mark.parametrize(
    ("text", "bound", "count"),
    [
        ("Max. two per author.", "at_most", "2"),
        ("At most 3 per member.", "at_most", "3"),
        ("Höchstens drei pro Person.", "at_most", "3"),
    ],
)
def test_how_many_each_may_send(text: str, bound: str, count: str):
    assert said(f"{text} JPEG.")[0] == {"measure": "set_count", bound: count}


def test_a_unit_behind_a_hyphen():
    text = "The picture must have a 300-dpi resolution, a 2-px white border and 8-bit channels."
    fields = {str(one["measure"]): one["exactly"] for one in said(text)}
    assert fields == {"ppi": "300", "keyline_width": "2", "bits": "8"}


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("No images under 1 MB or over 10 MB.", [("file_bytes", "at_least", "1 MB"), ("file_bytes", "at_most", "10 MB")]),
        ("Bitte keine Bilder unter 1 MB und über 10 MB einsenden.", [("file_bytes", "at_least", "1 MB"), ("file_bytes", "at_most", "10 MB")]),
        ("No image may be more than 6 months old or less than 2 MP.", [("shot_age", "at_most", "6 months"), ("megapixels", "at_least", "2")]),
        ("No files larger than 3 MB, at least 2000 px wide.", [("file_bytes", "at_most", "3 MB"), ("width", "at_least", "2000")]),
    ],
)  # fmt: skip
def test_what_is_denied_is_denied_of_all_that_follows(text: str, rules: list[tuple[str, ...]]):
    found = [
        (d["measure"], *next((k, v) for k, v in d.items() if k != "measure")) for d in said(text)
    ]
    assert sorted(found) == sorted(rules)


def test_bytes_behind_two_ways_up_hold_for_both():
    fields = said(
        "Landscape pictures 1920 x 1080 px, portrait pictures 1080 x 1920 px, at most 3 MB."
    )
    assert [one.get("applies") for one in fields] == ["landscape", "upright", None]


def test_a_distance_below_the_edge_is_room_above_the_head():
    text = "The top of the head must be 3 to 5 mm below the edge of a 35 x 45 mm picture."
    assert said(text) == [
        {"measure": "headroom", "between": ["3 mm", "5 mm"]},
        {"measure": "size", "exactly": "35 x 45 mm"},
    ]


def test_room_left_round_a_thing_is_no_side():
    text = "Please leave at least 50 px of free space on each side of the product"
    assert said(f"{text}.") == [{"ask": text}]


def test_a_way_of_writing_that_is_denied_denies_no_format():
    assert said("RGB, nicht komprimiert als TIFF oder mit voller Güte als JPEG.")[0] == {
        "measure": "format", "one_of": ["tiff", "jpeg"],
    }  # fmt: skip


@pytest.mark.parametrize(
    ("text", "rule"),
    [
        ("Photographs must be 2 x 2 inches (51 x 51 mm) in size.", {"measure": "size", "exactly": "2 x 2 in"}),
        ("The file must not be larger than 1.5 MB (1,536 KB).", {"measure": "file_bytes", "at_most": "1.5 MB"}),
    ],
)  # fmt: skip
def test_what_is_said_once_more_in_another_unit_is_one_rule(text: str, rule: dict[str, object]):
    reading = read(text)
    assert [dict(d.fields) for d in reading.drafts] == [rule]
    assert reading.drafts[0].certainty == "sure" and reading.asides == ()


def test_a_printed_size_beside_its_pixels_is_no_question():
    drafts = read("The image must be 35 x 45 mm / 413 x 531 px.").drafts
    assert len(drafts) == 2 and all(d.certainty == "sure" for d in drafts)


@pytest.mark.parametrize(
    "text",
    [
        "The distance between the eyes must be at least 90 pixels.",
        "At least 90 pixels between the eyes.",
        "Der Augenabstand beträgt mindestens 90 Pixel.",
    ],
)
def test_how_far_apart_the_eyes_are(text: str):
    assert said(text) == [{"measure": "eye_distance", "at_least": "90"}]


def test_each_way_in_which_a_head_is_turned():
    found = said("Yaw, pitch and roll must not exceed 5 degrees.")
    assert {str(one["measure"]) for one in found} == {"head_turn", "head_nod", "head_tilt"}
    assert all(one["between"] == ["-5 deg", "5 deg"] for one in found)
    apart = said("The head may be turned up to 5 degrees and tilted up to 8 degrees.")
    assert [(d["measure"], d["between"][1]) for d in apart] == [
        ("head_turn", "5 deg"),
        ("head_tilt", "8 deg"),
    ]  # type: ignore[index]


def test_a_side_for_either_way_up():
    for text in (
        "Resize to 2048px on the long edge (landscape) or 1536px on the long edge (portrait).",
        "Entries: 2048 pixels along the longest side for landscape, 1536 along the longest side for portrait.",
    ):
        assert said(text) == [
            {"measure": "longest_side", "exactly": "2048", "applies": "landscape"},
            {"measure": "longest_side", "exactly": "1536", "applies": "upright"},
        ], text


def test_what_is_to_be_done_is_a_rule_and_what_the_body_does_is_none():
    rule = {"measure": "longest_side", "exactly": "1600"}
    assert said("Resize your images to 1600 px on the longest side.") == [rule]
    assert rule in said("Save as JPEG and resize to 1600 px on the long edge.")
    assert said("We resize all images to 1600 px on the longest side.") == []
    assert said("Images are scaled to 1600 px automatically.") == []


def test_how_high_a_head_is_in_german():
    assert said("Die Höhe des Kopfes muss zwischen 50 und 69 Prozent der Bildhöhe liegen.") == [
        {"measure": "head_height", "between": ["50 %", "69 %"]}
    ]
    assert said("Logo: min. 500 px breit, PNG.")[0] == {"measure": "width", "at_least": "500"}


@pytest.mark.parametrize(
    ("text", "doubted"),
    [
        ("Size: 35 mm x 45 mm. Digital version: JPEG, 300 dpi, at least 600 x 771 pixels.", True),
        ("Das Foto muss 35 mm breit und 45 mm hoch sein. Auflösung mindestens 600 dpi. Digitale Bilder: 413 x 531 Pixel.", True),
        ("Print size 4 x 6 in, 300 dpi, 1800 x 1200 px.", False),
        ("Size: 35 x 45 mm, 600 dpi, 827 x 1063 pixels.", False),
        ("Size: 35 x 45 mm. At least 413 x 531 pixels, at least 300 dpi.", False),
        ("At most 10 cm wide at 300 dpi, at most 1200 px wide.", False),
    ],
)  # fmt: skip
def test_a_resolution_that_leaves_no_pixels_for_a_print_is_asked(text: str, doubted: bool):
    drafts = read(text).drafts
    [ppi] = [d for d in drafts if d.fields.get("measure") == "ppi"]
    assert (ppi.certainty == "doubtful") == doubted
    assert all(d.certainty == "sure" for d in drafts if d is not ppi)
