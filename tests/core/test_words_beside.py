"""Rules in words: what stands on a page beside the rules of a picture and is none of them, or not of every picture."""

from __future__ import annotations

import pytest

from aptandum.core.rulebook.toml import parse_rulebook
from aptandum.core.rulebook.words import read
from aptandum.core.rulebook.words.as_book import rulebook_text
from rules_told import all_told, of


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Maximum 100 MP. sRGB recommended.",
         [of("megapixels", at_most="100"), of("colour_space", exactly="srgb", strength="should")]),
        ("Max. 1 MB. jpg only.", [of("file_bytes", at_most="1 MB"), of("format", exactly="jpeg")]),
        ("No borders other than a thin keyline of up to 3 pixels.", [of("keyline_width", at_most="3")]),
        ("Compression: none or LZW. TIFF.", [of("packing", one_of=["none", "lzw"]), of("format", exactly="tiff")]),
        ("Format 960 x 320 Pixel (Querformat), PNG.",
         [of("size", exactly="960 x 320"), of("format", exactly="png")]),
        ("No people, no pets, no number plates.",
         [of("people", exactly="0"), {"ask": "no pets"}, {"ask": "no number plates"}]),
        ("JPEG photos, no more than 25 MB per message.",
         [of("set_bytes", at_most="25 MB"), of("format", exactly="jpeg")]),
        ("Size: 35 mm x 45 mm. Distance from the top of the photo to the top of the head: 2-4 mm.",
         [of("size", exactly="35 x 45 mm"), of("headroom", between=["2 mm", "4 mm"])]),
        ("Das Foto ist 35 mm x 45 mm groß. Abstand vom Scheitel zum oberen Rand 3 bis 5 mm.",
         [of("size", exactly="35 x 45 mm"), of("headroom", between=["3 mm", "5 mm"])]),
        ("Two photographs are required.", [of("set_count", exactly="2")]),
        ("Do not use photos older than 5 years.", [of("shot_age", at_most="5 years")]),
        ("The dog must take up 70-90% of the image.", [of("subject_fill", between=["70 %", "90 %"])]),
        ("Our picture frame shows JPEG only (no progressive).",
         [of("format", exactly="jpeg"), of("progressive", exactly="baseline")]),
        ("JPEG pictures; no EXIF location.", [of("format", exactly="jpeg"), of("location", exactly="none")]),
        ("Max. 10 Bilder, JPEG, lange Seite 2000 px.",
         [of("set_count", at_most="10"), of("longest_side", exactly="2000"), of("format", exactly="jpeg")]),
        ("Only small corrections of brightness are allowed.",
         [{"ask": "Only small corrections of brightness are allowed"}]),
        ("Photo taken this year.", [{"ask": "Photo taken this year"}]),
        ("Bitte Originaldateien, keine Screenshots.", [{"ask": "keine Screenshots"}]),
        ("A member may submit a total of 3 images.", [of("set_count", at_most="3")]),
        ("One head only. No tinted lenses.", [of("people", exactly="1"), {"ask": "No tinted lenses"}]),
        ("Do not include URLs, prices, or barcodes.", [{"ask": "Do not include URLs, prices, or barcodes"}]),
        ("JPEG, at least 100 dpi (1575 x 2362 px), better 200 dpi.",
         [of("format", exactly="jpeg"), of("ppi", at_least="100"), of("size", at_least="1575 x 2362"),
          of("ppi", at_least="200", strength="should")]),
        ("At least 1036 x 664 pixels (that is 300 dpi at card size).", [of("size", at_least="1036 x 664")]),
        ("Selected formats: JPEG and PNG, at most 2 MB.",
         [of("file_bytes", at_most="2 MB"), of("format", one_of=["jpeg", "png"])]),
        ("Price tag pictures: 296 x 128, PNG.", [of("size", exactly="296 x 128"), of("format", exactly="png")]),
        ("Landscape photographs are shown best.", [of("orientation", exactly="landscape", strength="should")]),
    ],
)  # fmt: skip
def test_what_is_read_and_sure(text, rules):
    reading = read(text)
    assert sorted(map(str, all_told(text))) == sorted(map(str, rules))
    assert {draft.certainty for draft in reading.drafts} == {"sure"}


@pytest.mark.parametrize(
    "text",
    [
        "Send us one picture per panel.",
        "Send one image per e-mail.",
        "You may upload 30 images per week.",
        "Text at least 40 pixels high.",
        "Der Text muss mindestens 8 Pixel hoch sein.",
        "A border of 60 px on all sides must be left blank.",
        "Leave the lowest 120 pixels to us.",
        "The winning photos will be printed at 60 x 40 cm.",
        "Die prämierten Bilder werden im Format 50 x 70 cm gedruckt.",
        "Sheets are photographed at 1:1 with a colour card.",
        "Minimum type size 28 px.",
        "We crop it to a square of 500 px.",
        "Keep a 3 mm safe margin.",
        "Add 4 cm on every side for the wrap.",
    ],
)
def test_what_is_no_rule_of_a_picture_is_none(text):
    """Nothing of it is measured; its numbers are told as unread."""
    assert not [draft for draft in read(text).drafts if "measure" in draft.fields]


@pytest.mark.parametrize(
    "text",
    [
        "Greyscale for black-and-white originals.",
        "Schwarzweißvorlagen in Graustufen.",
        "Black and white adverts: greyscale.",
        "Finalists will be asked for TIFFs of at least 4000 px on the long side.",
        "Finalisten reichen TIFF mit mindestens 4000 px an der langen Seite nach.",
        "Selected photographs must be sent as TIFF.",
        "Files over 20 MB: please send us a link.",
        "Größere Dateien als 30 MB über unsere Cloud.",
        "The original must be available as an uncompressed file.",
        "Originals up to A3 are scanned, larger ones at 300 dpi.",
        "Dateien ab 50 MB bitte per Link.",
    ],
)
def test_what_holds_for_some_alone_is_asked(text):
    drafts = read(text).drafts
    assert drafts and {draft.certainty for draft in drafts} == {"doubtful"}
    assert not any({"above", "at_least"} & d.fields.keys() for d in drafts if d.fields.get("measure") == "file_bytes")  # fmt: skip


def test_the_title_of_a_page_makes_no_brief_of_what_stands_below():
    text = (
        "Quillmere Camera Circle: projected images\n"
        "Images must fit within 1600 x 1200 px. Files: JPEG, no larger than 2 MB."
    )
    assert len({draft.brief for draft in read(text).drafts}) == 1


def test_technical_requirements_are_those_of_every_picture_that_a_page_names():
    text = (
        "Technical requirements\nFiles are JPEG. They must not exceed 10 MB.\n\n"
        "Main picture\nAt least 1600 px on the longest side.\n\n"
        "Second picture\nAt least 800 px on the longest side.\n"
    )
    book = parse_rulebook(rulebook_text(read(text)))
    measures = {brief.title: {c.measure for c in brief.clauses} for brief in book.briefs}
    assert set(measures) == {"Main picture", "Second picture"}
    assert all({"format", "file_bytes", "longest_side"} <= held for held in measures.values())


def test_headings_of_properties_name_no_pictures():
    """*Delivery*, *Naming* and *Retouching* are of the same pictures."""
    text = (
        "Delivery\n* JPEG\n* at least 5000 pixels on the longest side\n\n"
        "Naming\n* at most 40 characters in a file name\n\nRetouching\n* no borders\n"
    )
    assert {draft.brief for draft in read(text).drafts} == {""}
    assert read(text).briefs == ("",)
    kept = {draft.brief for draft in read(text.replace("Delivery", "Prints")).drafts}
    assert kept == {"", "Prints"}


def test_what_stands_before_a_colon_and_a_counted_section_are_no_briefs_and_no_questions():
    text = (
        "3. Image requirements\n3.1 Images must be original photographs.\n\n"
        "The photograph must be:\n* 45 millimetres (mm) high by 35mm wide\n* in colour\n"
    )
    drafts = read(text).drafts
    assert {draft.brief for draft in drafts} == {""}
    assert of("size", exactly="35 x 45 mm") in [draft.fields for draft in drafts]
    assert not [d for d in drafts if d.fields.get("ask") == "Image requirements"]


def test_a_line_behind_a_list_is_none_of_its_items():
    text = (
        "* plain background\n"
        "Winners of the photo prize will be asked for TIFFs of at least 4000 px on the long side.\n"
    )
    sure = [draft.fields for draft in read(text).drafts if draft.certainty == "sure"]
    assert sure == [{"ask": "plain background"}]
    wrapped = "* a photograph that is sharp and shows the whole of the Old\nHarbour, JPEG\n"
    assert {draft.quote for draft in read(wrapped).drafts} == {wrapped[2:].strip()}


def test_rules_counted_in_a_running_text_are_asked_without_their_number():
    asked = [d.fields["ask"] for d in read("1. JPEG only. 2. No text on pictures.").drafts if "ask" in d.fields]  # fmt: skip
    assert asked == ["No text on pictures"]


def test_a_second_size_for_one_way_up_does_not_make_all_pictures_stand_so():
    drafts = read("Send 4961 x 3508 px, or 3508 x 4961 px for upright pictures.").drafts
    assert not [d for d in drafts if d.fields.get("measure") == "orientation"]
