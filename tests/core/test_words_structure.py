"""Rules in words: lists of what is not taken, questions and their answers, tables, units in brackets, counts."""

from __future__ import annotations

import pytest

from aptandum.core.rulebook.words import read
from aptandum.core.rulebook.words.whose import whose
from rules_told import all_told as told
from rules_told import of

DO_AND_DONT = """Do:
- Use JPEG
- Keep it under 4 MB

Don't:
- Use filters
- Upload pictures smaller than 400 x 400 px
- Use PNG
"""


def test_a_list_of_what_is_not_taken_is_denied_and_is_no_brief():
    reading = read(DO_AND_DONT)
    assert reading.briefs == ("",)
    assert told(DO_AND_DONT) == [
        of("format", exactly="jpeg"),
        of("file_bytes", below="4 MB"),
        {"ask": "Don't: Use filters"},
        of("size", at_least="400 x 400"),
        of("format", none_of=["png"]),
    ]


def test_what_stands_behind_such_a_list_is_not_of_it():
    behind = told(DO_AND_DONT + "\nWe only take photographs. They are at least 500 KB.\n")[5:]
    assert behind == [{"ask": "We only take photographs"}, of("file_bytes", at_least="500 KB")]


def test_a_number_without_a_bound_in_such_a_list_is_asked():
    (draft,) = read("Not accepted:\n- Pictures of 72 dpi\n").drafts
    assert (draft.certainty, draft.fields) == ("doubtful", {"ask": "Not accepted: Pictures of 72 dpi"})  # fmt: skip


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        (
            "The following will be rejected: files over 10 MB; images under 1000 px wide; pictures with borders; CMYK files.",
            [
                of("file_bytes", at_most="10 MB"),
                of("width", at_least="1000"),
                of("keyline_width", exactly="0"),
                of("colour_space", none_of=["cmyk"]),
            ],
        ),
        (
            "The following will be rejected: files over 10 MB. Pictures of 1000 px wide are best.",
            [of("file_bytes", at_most="10 MB"), of("width", exactly="1000", strength="should")],
        ),
        (
            "Your photo will be rejected if it is smaller than 600 x 600 pixels, larger than 2 MB or not a JPEG.",
            [of("size", at_least="600 x 600"), of("file_bytes", at_most="2 MB"), of("format", exactly="jpeg")],
        ),
        ("Your photo is too small if it is under 1000 px wide.", [of("width", at_least="1000")]),
        ("Your photo is the wrong shape if it is not 3:2.", [of("aspect", exactly="3:2")]),
        ("Your picture will be rejected if it is not in colour.", [of("channels", exactly="colour")]),
        (
            "Ihr Foto wird abgelehnt, wenn es kleiner als 600 x 600 Pixel oder größer als 2 MB ist.",
            [of("size", at_least="600 x 600"), of("file_bytes", at_most="2 MB")],
        ),
    ],
)  # fmt: skip
def test_what_is_refused_is_said_before_all_of_it(text, rules):
    assert told(text) == rules


def test_a_question_is_no_rule_and_its_answer_is():
    text = "Q: How big should my picture be?\nA: At least 1600 x 1200 pixels.\nQ: Can I send a PNG?\nA: No, JPEG only.\n"
    assert told(text) == [of("size", at_least="1600 x 1200"), of("format", exactly="jpeg")]


def test_what_is_accepted_is_no_heading():
    text = "Accepted: JPG, PNG\nNot accepted: GIF\nMax size: 10 MB\n"
    assert told(text) == [
        of("format", one_of=["jpeg", "png"]),
        of("format", none_of=["gif"]),
        of("file_bytes", at_most="10 MB"),
    ]


@pytest.mark.parametrize(
    "text",
    [
        "| | Minimum | Maximum |\n|---|---|---|\n| Width | 600 px | 3000 px |\n| File size | 50 KB | 2 MB |\n",
        "\tMin.\tMax.\nWidth\t600 px\t3000 px\nFile size\t50 KB\t2 MB\n",
    ],
)
def test_the_headings_of_a_table_say_which_bound_a_number_is(text):
    assert told(text) == [
        of("width", at_least="600"),
        of("width", at_most="3000"),
        of("file_bytes", at_least="50 KB"),
        of("file_bytes", at_most="2 MB"),
    ]
    assert read(text).briefs == ("",)


def test_what_a_column_recommends_is_wished_for():
    assert told("Minimum | Recommended\n1000 x 1000 px | 2000 x 2000 px\n") == [
        of("size", at_least="1000 x 1000"),
        of("size", exactly="2000 x 2000", strength="should"),
    ]


def test_numbers_below_a_heading_that_names_a_side():
    assert told("Picture\tWidth\tHeight\tMax. size\nCover\t1200\t628\t5 MB\n") == [
        of("width", exactly="1200"),
        of("height", exactly="628"),
        of("file_bytes", at_most="5 MB"),
    ]


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        (
            "Width (px): 1200–2400\nWeight (KB): max 900\nFormat: JPEG\n",
            [of("width", between=["1200", "2400"]), of("file_bytes", at_most="900 KB"), of("format", exactly="jpeg")],
        ),
        ("Image size: W 1080 px, H 1350 px.", [of("width", exactly="1080"), of("height", exactly="1350")]),
        ("Maximum number of images: 20", [of("set_count", at_most="20")]),
        ("Compression from a minimum of 10:1 to a maximum of 20:1.", [of("compression", at_least="10"), of("compression", at_most="20")]),
        (
            "Image size: 3000 x 2000 px max. Image weight: 3 MB max.",
            [of("size", at_most="3000 x 2000"), of("file_bytes", at_most="3 MB")],
        ),
        ("Head: 70% - 80% of the vertical height of the image.", [of("head_height", between=["70 %", "80 %"])]),
        ("JPEG and PNG are permitted but not GIF.", [of("format", one_of=["jpeg", "png"]), of("format", none_of=["gif"])]),
        ("An image ratio of 3 to 2, please.", [of("aspect", exactly="3:2")]),
        ("Set the long edge to 1600.", [of("longest_side", exactly="1600")]),
        (
            "Portrait screens 1080 x 1920, landscape screens 1920 x 1080, 72 dpi.",
            [
                of("size", exactly="1080 x 1920", applies="upright"),
                of("size", exactly="1920 x 1080", applies="landscape"),
                of("ppi", exactly="72"),
            ],
        ),
    ],
)  # fmt: skip
def test_where_a_number_has_its_unit_and_bound(text, rules):
    assert told(text) == rules


def test_what_is_told_in_words_that_are_not_known_is_asked():
    (draft,) = read("Photos of less than 1 MB print badly on our machine.").drafts
    assert draft.certainty == "doubtful"
    assert of("file_bytes", at_least="1 MB") in draft.readings


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("It can't be more than six megabytes.", [of("file_bytes", at_most="6 MB")]),
        ("Photographs are shown on a 4K screen (3840 x 2160). JPEG only.", [of("format", exactly="jpeg")]),
        ("Cropped to a circle of 400 px diameter, so upload a square of at least 400 px.", [of("shortest_side", at_least="400")]),
        (
            "The shorter side measures 1080 px at least, the longer 1920 px at most.",
            [of("shortest_side", at_least="1080"), of("longest_side", at_most="1920")],
        ),
        ("A ratio between 1.3 and 1.8.", [of("aspect", between=["1.3:1", "1.8:1"])]),
        ("Rotation ±5°, tilt ±8°.", [of("head_turn", between=["-5 deg", "5 deg"]), of("head_tilt", between=["-8 deg", "8 deg"])]),
        ("They are displayed at 640 px width on mobile and 1280 px on desktop. PNG.", [of("format", exactly="png")]),
        (
            "Photos can be landscape (1500 x 1000 px) or portrait (1000 x 1500 px).",
            [of("size", exactly="1500 x 1000", applies="landscape"), of("size", exactly="1000 x 1500", applies="upright")],
        ),
        ("Size: 10×15 (cm).", [of("size", exactly="10 x 15 cm")]),
        ("Quality: 300.", []),
        ("At least 6 megapixels (3000 x 2000).", [of("megapixels", at_least="6")]),
        ("The image shouldn't have been resized or interpolated.", [of("enlargement", at_most="1")]),
        (
            "The sky is blue. The maximum for both landscape and portrait images is 1920 px wide and 1080 px high.",
            [of("width", at_most="1920"), of("height", at_most="1080")],
        ),
        ("You can choose between 1:1, 4:5 and 16:9.", [of("aspect", one_of=["1:1", "4:5", "16:9"])]),
        ("Only 24-bit colour PNGs or 8-bit greyscale PNGs.", [of("bits_per_pixel", one_of=["24", "8"]), of("format", exactly="png")]),
        ("The file must not be password-protected, or bigger than 5 MB.", [of("file_bytes", at_most="5 MB")]),
        ("At least twice as large as it's shown, so 1200 x 800 px.", [of("size", at_least="1200 x 800")]),
        (
            "The minimum size has changed from 800 px to 1200 px on the short side.",
            [of("shortest_side", at_least="1200")],
        ),
        ("1 MB = 1,048,576 bytes. Files must be less than 2 MB.", [of("file_bytes", below="2 MiB")]),
        ("If you're sending more than 5 pictures, zip them (max. 25 MB per zip).", [of("set_bytes", at_most="25 MB")]),
        (
            "The sky is blue. One picture in landscape format and one in portrait format, 2000 px on the long side each.",
            [of("longest_side", exactly="2000")],
        ),
        ("The maximum resolution we can show is 1920 x 1200.", [of("size", at_most="1920 x 1200")]),
        ("Edges: longest 4000 px, shortest 3000 px.", [of("longest_side", exactly="4000"), of("shortest_side", exactly="3000")]),
        ("A ratio of 16/9.", [of("aspect", exactly="16:9")]),
        ("Not smaller than 600 px wide or 800 px high.", [of("width", at_least="600"), of("height", at_least="800")]),
        ("Any aspect ratio between square and 2:1.", [of("aspect", between=["1:1", "2:1"])]),
        ("The height must not be more than 3 times the width.", [of("aspect", at_least="1:3")]),
        ("1200px width / 1200px height (max)", [of("width", at_most="1200"), of("height", at_most="1200")]),
        ("Their combined size can't exceed 12 MB.", [of("set_bytes", at_most="12 MB")]),
        ("Photos in 16:9 are shown full screen. JPEG only.", [of("format", exactly="jpeg")]),
        (
            "A resolution of 150 dpi is enough, 300 dpi is ideal.",
            [of("ppi", at_least="150"), of("ppi", exactly="300", strength="should")],
        ),
        (
            "We recommend 16:9 but accept 4:3 and 1:1.",
            [of("aspect", exactly="16:9", strength="should"), of("aspect", one_of=["16:9", "4:3", "1:1"])],
        ),
        ("A head of 70% to 80% of the vertical length of the image.", [of("head_height", between=["70 %", "80 %"])]),
        ("The centre of the face shall lie between 45% and 55% of the image width. PNG.",
         [of("head_offset", between=["-5 %", "5 %"]), of("format", exactly="png")]),
        ("Maximum size: 1 (one) MB.", [of("file_bytes", at_most="1 MB")]),
        ("The photo must have at least 256 grey levels per channel, as PNG.", [of("format", exactly="png")]),
        ("240 pixels by 320 pixels (width by height), ± 5 pixels.", [of("size", exactly="240 x 320")]),
        ("The gap between the top of the head and the edge: 10 % of the height.", [of("headroom", exactly="10 %")]),
        ("The photo must have been taken in the last month.", [of("shot_age", at_most="1 months")]),
        ("No photos older than 1 year.", [of("shot_age", at_most="1 years")]),
        (
            "Kopfneigung höchstens 5°, Drehung höchstens 8°.",
            [of("head_tilt", between=["-5 deg", "5 deg"]), of("head_turn", between=["-8 deg", "8 deg"])],
        ),
        (
            "Der Abstand vom Scheitel zum oberen Bildrand beträgt 3 bis 5 mm (Bildhöhe 45 mm).",
            [of("headroom", between=["3 mm", "5 mm"]), of("print_height", exactly="45 mm")],
        ),
        (
            "Minimum size 4 x 6 inches at 300 dpi (1200 x 1800 pixels).",
            [of("size", at_least="4 x 6 in"), of("ppi", exactly="300"), of("size", at_least="1200 x 1800")],
        ),
        ("PNG. A 1:1 crop of the centre will be shown.", [of("format", exactly="png")]),
        ("Uploads > 5 MB are blocked.", [of("file_bytes", at_most="5 MB")]),
        ('Print at 8 x 10" and mount on 16 x 20" board.', [of("size", exactly="8 x 10 in")]),
        ("No more than 2 people in the picture.", [of("people", at_most="2")]),
    ],
)  # fmt: skip
def test_what_a_number_is_of(text, rules):
    assert told(text) == rules


def test_what_the_body_does_itself_beyond_a_bound_is_asked():
    (draft,) = read("We downsize anything wider than 2048 px.").drafts
    assert draft.certainty == "doubtful"
    assert draft.fields == of("width", at_most="2048", strength="should")


def test_what_is_longer_than_any_sentence_is_read_in_pieces_and_loses_no_number():
    text = "Sizes: " + ", ".join(f"{n} x {n + 1} px" for n in range(100, 400)) + "."
    reading = read(text)
    used = [text[a:b] for draft in reading.drafts for a, b in draft.numbers]
    assert len(used) == 300 and used[0] == "100 x 101 px" and used[-1] == "399 x 400 px"
    assert not reading.asides


def test_a_side_that_a_size_beside_it_does_not_have_is_asked():
    text = "The banner is 1140 px wide and 300 px high. Upload twice that: 2280 x 600 px."
    assert {draft.certainty for draft in read(text).drafts} == {"doubtful"}
    assert {d.certainty for d in read("1140 px wide, so 1140 x 300 px.").drafts} == {"sure"}


@pytest.mark.parametrize(
    "text",
    [
        "Each must be at least 2000 px wide or 1500 px tall.",
        "Print sizes: 9x13, 10x15 and 20x30 cm.",
        "Applicants under 6 years: head size 50–80 %.",
        "We need two sizes of your logo: 400 x 400 px and 1600 x 400 px.",
    ],
)
def test_what_may_be_meant_of_either_is_asked(text):
    assert {draft.certainty for draft in read(text).drafts} == {"doubtful"}


@pytest.mark.parametrize(
    ("text", "body"),
    [
        ("Harbour Lights Photo Prize: how to enter\n\nJPEG only.", "Harbour Lights Photo Prize"),
        ("Rules of the Vessary Salon of Photography 2026", "Vessary Salon of Photography"),
        ("Send photos to the Vessary Harbour Registry. Prize money: 20 crowns.", "Vessary Harbour Registry"),
    ],
)  # fmt: skip
def test_whose_rules_they_are(text, body):
    assert whose(text) == body


def test_what_is_guessed_casts_no_doubt_on_what_is_sure():
    drafts = read("JPEG, no more than 240 kB. Files of 60 kB.").drafts
    held = [(d.fields["at_most"], d.certainty) for d in drafts if "at_most" in d.fields]
    assert held == [("240 KB", "sure"), ("60 KB", "doubtful")]
