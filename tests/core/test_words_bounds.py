"""To which number a word in published rules belongs, and what a refusal is of."""

from __future__ import annotations

import pytest

from aptandum.core.rulebook.words import read
from rules_told import of, told


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Width: 1080px Height: 1350px", [of("width", exactly="1080"), of("height", exactly="1350")]),
        ("Height: 20 cm Width: 30 cm", [of("print_height", exactly="20 cm"), of("print_width", exactly="30 cm")]),
        ("1280 x 720 (minimum width of 640 pixels)", [of("size", exactly="1280 x 720"), of("width", at_least="640")]),
        ("JPEG, 4 MB limit.", [of("file_bytes", at_most="4 MB"), of("format", exactly="jpeg")]),
        ("32 rows, 256 columns.", [of("size", exactly="256 x 32")]),
        ("1080x1080 px, max 300 KB each, up to 8", [of("size", exactly="1080 x 1080"), of("file_bytes", at_most="300 KB")]),
        ("1280 x 720 (minimum)", [of("size", at_least="1280 x 720")]),
        (
            "At least 1000 pixels on the longest side and 500 pixels on the shortest side.",
            [of("longest_side", at_least="1000"), of("shortest_side", at_least="500")],
        ),
        ("The photo must be 413 by 531 pixels with a tolerance of 2 pixels.", [of("size", exactly="413 x 531", tolerance="2")]),
        ("Compression ratio must be 20:1 or lower.", [of("compression", at_most="20")]),
        ("No rounded corners, PNG.", [of("format", exactly="png")]),
        ("Not accepted: GIF, PNG.", [of("format", none_of=["gif", "png"])]),
        ("Formats not allowed: BMP, GIF.", [of("format", none_of=["bmp", "gif"])]),
        ("Rejected: HEIC, TIFF.", [of("format", none_of=["tiff"])]),
        ("Accepted formats: JPEG, PNG.", [of("format", one_of=["jpeg", "png"])]),
        ("Minimum resolution: 1600x1200. Maximum resolution: 8000x6000.", [of("size", at_least="1600 x 1200"), of("size", at_most="8000 x 6000")]),
        ("Save at maximum resolution, 300 dpi.", [of("ppi", exactly="300")]),
        ("The dpi must be at least 300.", [of("ppi", at_least="300")]),
        ("Resolution above 2 megapixels.", [of("megapixels", at_least="2")]),
        ("Up to 2048 on the longest side.", [of("longest_side", at_most="2048")]),
        ("Max. width 2000, max. height 1500.", [of("width", at_most="2000"), of("height", at_most="1500")]),
        ("Ratio between 1:1 and 16:9.", [of("aspect", between=["1:1", "16:9"])]),
        ("Photos: 4:5 to 1:1, JPEG.", [of("aspect", between=["4:5", "1:1"]), of("format", exactly="jpeg")]),
        ("Ratios of 3:2 and 4:3.", [of("aspect", one_of=["3:2", "4:3"])]),
        ("The office is open 10:30 to 16:45.", []),
        ("Ratio from 1.91:1 to 4:5.", [of("aspect", between=["4:5", "1.91:1"])]),
        ("The ratio of height to width must be 4:3.", [of("aspect", exactly="3:4")]),
        ("Vertical images only, 9:16.", [of("aspect", exactly="9:16"), of("orientation", exactly="upright")]),
        ("Dimensions: W 1200 x H 630.", [of("size", exactly="1200 x 630")]),
        ("Dimensions (H x W): 630 x 1200 px.", [of("size", exactly="1200 x 630")]),
        ("A4 portrait at 300 dpi", [of("size", exactly="210 x 297 mm"), of("ppi", exactly="300")]),
        (
            "1080 × 1080 px (square), 1080 × 1350 px (portrait) or 1080 × 566 px (landscape).",
            [
                of("size", exactly="1080 x 1080", applies="square"),
                of("size", exactly="1080 x 1350", applies="upright"),
                of("size", exactly="1080 x 566", applies="landscape"),
            ],
        ),
        ("1000 x 1000 px (square)", [of("size", exactly="1000 x 1000"), of("orientation", exactly="square")]),
        (
            "Not bigger than 3000 pixels or smaller than 1500 pixels on the longest side.",
            [of("longest_side", at_most="3000"), of("longest_side", at_least="1500")],
        ),
        ("Longest edge 3000px (minimum 2000px)", [of("longest_side", exactly="3000", strength="should"), of("longest_side", at_least="2000")]),
        ("JPG of 300 dpi with quality 10 or higher.", [of("ppi", exactly="300"), of("format", exactly="jpeg")]),
        ("Quality 85 or higher.", [of("quality", at_least="85")]),
        ("At least 2.1 megapixels (e.g. 1920 x 1080).", [of("megapixels", at_least="2.1")]),
        ("2120x1192 or larger, safe area 1530 x 495.", [of("size", at_least="2120 x 1192")]),
        ("Max 1920 px (horizontal), max 1080 px (vertical)", [of("width", at_most="1920"), of("height", at_most="1080")]),
        ("Compression ratio: less than or equal to 20:1.", [of("compression", at_most="20")]),
        (
            "For print: CMYK, TIFF at 300 dpi. For web: sRGB, JPEG at 72 dpi.",
            [
                of("ppi", exactly="300", when=of("format", exactly="tiff")),
                of("format", one_of=["tiff", "jpeg"]),
                of("colour_space", exactly="cmyk", when=of("format", exactly="tiff")),
                of("ppi", exactly="72", when=of("format", exactly="jpeg")),
                of("colour_space", exactly="srgb", when=of("format", exactly="jpeg")),
            ],
        ),
        ("Photos of 35 x 45 mm, the chin-to-crown distance between 29mm and 34mm.", [of("size", exactly="35 x 45 mm"), of("head_height", between=["29 mm", "34 mm"])]),
        ("Aspect ratio no wider than 2:1 and no taller than 1:2.", [of("aspect", at_most="2:1"), of("aspect", at_least="1:2")]),
        ("Images must not exceed 2 MB or 4000 x 4000 px.", [of("file_bytes", at_most="2 MB"), of("size", at_most="4000 x 4000")]),
        ("Ratio: landscape 4:3, portrait 3:4.", [of("aspect", exactly="4:3", applies="landscape"), of("aspect", exactly="3:4", applies="upright")]),
        ("Named Surname-Title.jpg, 1920 px wide.", [of("width", exactly="1920")]),
        ("Images up to 4K (3840 x 2160) are supported.", [of("size", at_most="3840 x 2160")]),
        ("Files of up to 500K.", [of("file_bytes", at_most="500 KB")]),
        ("JPEGs with a resolution lower than 150 dpi will not be printed.", [of("ppi", at_least="150", when={"measure": "format", "exactly": "jpeg"})]),
        ("Neither side may be longer than 3000 px.", [of("longest_side", at_most="3000")]),
        ("Width and height must both be at least 1000 px.", [of("shortest_side", at_least="1000")]),
        ("JPEG at 80 to 90 quality.", [of("quality", between=["80", "90"]), of("format", exactly="jpeg")]),
        ("If you send a JPEG, PNG or TIFF, use sRGB.", [of("format", one_of=["jpeg", "png", "tiff"]), of("colour_space", exactly="srgb")]),
        ("If you send a TIFF, use LZW compression.", [of("packing", exactly="lzw", when=of("format", exactly="tiff"))]),
        (
            "JPEG or PNG; if PNG, no transparency.",
            [of("format", one_of=["jpeg", "png"]), of("transparency", exactly="none", when=of("format", exactly="png"))],
        ),
        ("Keep the central 1000 px free of text.", []),
        ("No GIFs: JPEG only.", [of("format", none_of=["gif"]), of("format", exactly="jpeg")]),
    ],
)  # fmt: skip
def test_english(text, rules):
    assert told(text, "en") == rules


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Breite: 800 px Höhe: 600 px", [of("width", exactly="800"), of("height", exactly="600")]),
        (
            "Mindestens 1000 px an der langen Seite und 500 px an der kurzen Seite.",
            [of("longest_side", at_least="1000"), of("shortest_side", at_least="500")],
        ),
        ("Mindestbreite 1000 px, Mindesthöhe 800 px.", [of("width", at_least="1000"), of("height", at_least="800")]),
        ("Maximale Kantenlänge 1920 Pixel.", [of("longest_side", at_most="1920")]),
        (
            "Minimale Auflösung: 1600 x 1200, maximale Auflösung: 6000 x 4000.",
            [of("size", at_least="1600 x 1200"), of("size", at_most="6000 x 4000")],
        ),
        ("Höhe x Breite: 800 x 1200 Pixel.", [of("size", exactly="1200 x 800")]),
        (
            "Hochformat 1080 x 1920, Querformat 1920 x 1080, Quadrat 1080 x 1080.",
            [
                of("size", exactly="1080 x 1920", applies="upright"),
                of("size", exactly="1920 x 1080", applies="landscape"),
                of("size", exactly="1080 x 1080", applies="square"),
            ],
        ),
        ("Bilder kleiner als 800 x 600 werden nicht veröffentlicht.", [of("size", at_least="800 x 600")]),
        ("Bilder mit einer Auflösung niedriger als 150 dpi werden nicht gedruckt.", [of("ppi", at_least="150")]),
        ("Die Auflösung darf 300 dpi nicht unterschreiten.", [of("ppi", at_least="300")]),
        ("Fotos mit weniger als 3 Megapixeln können wir leider nicht drucken.", [of("megapixels", at_least="3")]),
        ("Längste Seite 4000 bis 6000 px, keine Rahmen.", [of("longest_side", between=["4000", "6000"]), of("keyline_width", exactly="0")]),
        ("Wir lehnen Dateien unter 20 KB ab.", [of("file_bytes", at_least="20 KB")]),
        ("DIN A5 quer, 300 dpi.", [of("size", exactly="210 x 148 mm"), of("ppi", exactly="300")]),
        ("Nicht erlaubt: GIF, BMP.", [of("format", none_of=["gif", "bmp"])]),
        ("Zulässig: JPEG, PNG.", [of("format", one_of=["jpeg", "png"])]),
    ],
)  # fmt: skip
def test_german(text, rules):
    assert told(text, "de") == rules


@pytest.mark.parametrize(
    ("text", "language"),
    [
        ("Monochrome images only.", "en"),
        ("Height must be twice the width.", "en"),
        ("The file name must not contain spaces or special characters.", "en"),
        ("Exposure: single exposures only.", "en"),
        ("The central 1000 px must be kept free of text.", "en"),
        ("Das Bild muss doppelt so breit wie hoch sein.", "de"),
        ("Keine Umlaute oder Leerzeichen.", "de"),
    ],
)
def test_what_no_measure_says_is_asked_of_a_person(text, language):
    asked = [draft.fields["ask"] for draft in read(text, language).drafts]
    assert asked == [text.rstrip(".")]


def test_a_bound_in_brackets_behind_a_number_is_doubted():
    wish, bound = read("Longest edge 3000px (minimum 2000px)", "en").drafts
    assert (wish.certainty, bound.certainty) == ("doubtful", "sure")
    assert wish.readings == (of("longest_side", exactly="3000"),)


@pytest.mark.parametrize(
    ("text", "language", "rule"),
    [
        ("Anything over 4 MB will be compressed by us.", "en", of("file_bytes", at_most="4 MB")),
        ("Pictures under 600 px wide will look blurred.", "en", of("width", at_least="600")),
        ("Submissions over 4 MB will be compressed.", "en", of("file_bytes", at_most="4 MB")),
        ("Einsendungen über 4 MB werden komprimiert.", "de", of("file_bytes", at_most="4 MB")),
        ("Images that are smaller than 1000 pixels on the long edge will look soft.", "en", of("longest_side", at_least="1000")),
        ("Image files smaller than 500 KB may not print well.", "en", of("file_bytes", at_least="500 KB")),
        ("Images with a resolution below 300 ppi will print poorly.", "en", of("ppi", at_least="300")),
        ("Photos wider than 2:1 will be cropped.", "en", of("aspect", at_most="2:1")),
        ("Please avoid files over 3 MB.", "en", of("file_bytes", at_most="3 MB")),
        ("Photos smaller than 800 pixels on the short side are not recommended.", "en", of("shortest_side", at_least="800")),
        ("Bilder unter 1000 Pixel Breite werden hochskaliert.", "de", of("width", at_least="1000")),
        ("Bilder, die unter 1000 Pixel Breite haben, wirken unscharf.", "de", of("width", at_least="1000")),
        ("Bitte vermeiden Sie Dateien über 5 MB.", "de", of("file_bytes", at_most="5 MB")),
    ],
)  # fmt: skip
def test_what_becomes_of_pictures_beyond_a_bound_is_no_bound_the_other_way(text, language, rule):
    (draft,) = [one for one in read(text, language).drafts if "ask" not in one.fields]
    assert dict(draft.fields) == {**rule, "strength": "should"}
    assert draft.certainty == "doubtful" and rule in [dict(one) for one in draft.readings]


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Images larger than 2000 px are fine.", []),
        ("Files over 10 MB are not a problem.", []),
        ("Files under 2 MB can be sent by e-mail.", [of("file_bytes", below="2 MB")]),
        ("Only files under 2 MB can be uploaded.", [of("file_bytes", below="2 MB")]),
        ("Photos above 20 megapixels are recommended.", [of("megapixels", at_least="20", strength="should")]),
        ("No hats, no sunglasses, JPEG under 1MB.", [of("file_bytes", below="1 MB"), of("format", exactly="jpeg")]),
        ("Files under 5 MB, late entries will be rejected.", [of("file_bytes", below="5 MB")]),
        ("Images under 500 px wide, or of poor quality, will be rejected.", [of("width", at_least="500")]),
        ("Rejected: files under 20 KB.", [of("file_bytes", at_least="20 KB")]),
        ("We reject files under 20 KB.", [of("file_bytes", at_least="20 KB")]),
        ("Excluded: images over 5000 px wide.", [of("width", at_most="5000")]),
        ("Keep text within 100 px of the centre.", []),
        ("Long side 3000 px, 5 px black border.", [of("longest_side", exactly="3000"), of("keyline_width", exactly="5")]),
        ("Long side 3000 to 4000 px, no borders.", [of("longest_side", between=["3000", "4000"]), of("keyline_width", exactly="0")]),
        ("1200 or 1600 px wide.", [of("width", one_of=["1200", "1600"])]),
        ("800, 1200 or 1600 px on the long side.", [of("longest_side", one_of=["800", "1200", "1600"])]),
        ("Colour and black and white both accepted.", []),
        ("Taken within 6 months.", [of("shot_age", at_most="6 months")]),
        ("Files exceeding 5 MB are refused.", [of("file_bytes", at_most="5 MB")]),
        ("The file cannot exceed 3 MB and should be JPEG.", [of("file_bytes", at_most="3 MB"), of("format", exactly="jpeg", strength="should")]),
        (
            "16:9, ideally 2400 px wide (minimum 1600 px), less than 500 KB.",
            [of("aspect", exactly="16:9"), of("width", exactly="2400", strength="should"), of("width", at_least="1600"), of("file_bytes", below="500 KB")],
        ),
        ("Thumbnail 1280x720 with a minimum width of 640 px.", [of("size", exactly="1280 x 720"), of("width", at_least="640")]),
        ("min. 1024px (short edge)", [of("shortest_side", at_least="1024")]),
        ("1500 px (min) on the long side", [of("longest_side", at_least="1500")]),
        ("At least 1200 px (width).", [of("width", at_least="1200")]),
        (
            "A maximum horizontal dimension of 1600 pixels and a maximum vertical dimension of 1200 pixels, at most 2 MB.",
            [of("width", at_most="1600"), of("height", at_most="1200"), of("file_bytes", at_most="2 MB")],
        ),
    ],
)  # fmt: skip
def test_what_is_welcome_is_no_rule_and_what_is_refused_is_that_alone(text, rules):
    assert told(text, "en") == rules


@pytest.mark.parametrize(
    ("text", "language"),
    [("About 1500 pixels wide.", "en"), ("ca. 1500 Pixel breit", "de"), ("approx. 1500 px wide", "en")],
)  # fmt: skip
def test_a_rough_number_is_doubted(text, language):
    (draft,) = read(text, language).drafts
    assert dict(draft.fields) == of("width", exactly="1500") and draft.certainty == "doubtful"
    assert {key for one in draft.readings for key in one} >= {"at_least", "at_most"}


def test_either_of_two_sides_is_passed_by_neither():
    text = "JPEGs of 1920 pixels on the horizontal or 1080 pixels on the vertical, whichever is reached first."
    wide, high = [one for one in read(text).drafts if one.fields["measure"] != "format"]
    assert dict(wide.fields) == of("width", at_most="1920")
    assert dict(high.fields) == of("height", at_most="1080")
    assert wide.certainty == high.certainty == "doubtful"
