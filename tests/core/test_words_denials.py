"""Rules in words: what is denied twice, what need not be, and shortened words that deny."""

from __future__ import annotations

import pytest

from aptandum.core.rulebook.words import read
from rules_told import of, told


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Files that aren't JPEG are rejected.", [of("format", exactly="jpeg")]),
        ("Images which are not sRGB won't be shown.", [of("colour_space", exactly="srgb")]),
        ("Anything other than JPEG is refused.", [of("format", exactly="jpeg")]),
        ("Formats other than TIFF or PNG cannot be processed.", [of("format", one_of=["tiff", "png"])]),
        ("Everything except JPEG and PNG is refused.", [of("format", one_of=["jpeg", "png"])]),
        ("No formats other than JPEG.", [of("format", exactly="jpeg")]),
        ("We do not accept anything other than TIFF.", [of("format", exactly="tiff")]),
        ("Nothing but PNG, please.", [of("format", exactly="png")]),
        ("Anything but GIF is accepted.", [of("format", none_of=["gif"])]),
        ("We take any format except BMP.", [of("format", none_of=["bmp"])]),
        ("Dateien, die kein JPEG sind, werden abgelehnt.", [of("format", exactly="jpeg")]),
        ("Alles außer JPEG wird abgelehnt.", [of("format", exactly="jpeg")]),
        ("Andere Formate als TIFF werden nicht angenommen.", [of("format", exactly="tiff")]),
        ("Landscape or square pictures only.", [of("orientation", one_of=["landscape", "square"])]),
        ("Querformat oder Quadrat.", [of("orientation", one_of=["landscape", "square"])]),
        (
            "Querformat 1920x1080, kein Hochformat, max. 4 MB",
            [of("size", exactly="1920 x 1080"), of("file_bytes", at_most="4 MB"), of("orientation", exactly="landscape"),
             of("orientation", none_of=["upright"])],
        ),
        ("Photos without an embedded profile are rejected.", [of("profile", exactly="embedded")]),
        ("Photos that are not in colour are rejected.", [of("channels", exactly="colour")]),
        ("We reject pictures with transparency.", [of("transparency", exactly="none")]),
        ("The pictures mustn't be in portrait format.", [of("orientation", none_of=["upright"])]),
    ],
)  # fmt: skip
def test_what_all_others_are_refused_for_is_asked(text, rules):
    assert told(text) == rules


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Files mustn't be over 5 MB.", [of("file_bytes", at_most="5 MB")]),
        ("Images shouldn’t be larger than 3 MB.", [of("file_bytes", at_most="3 MB")]),
        ("Photos under 1 megapixel aren't accepted.", [of("megapixels", at_least="1")]),
        (
            "The long edge mustn't be under 2500 px or over 5000.",
            [of("longest_side", at_least="2500"), of("longest_side", at_most="5000")],
        ),
        (
            "Entries exceeding 2 MB are inadmissible, and so are those below 200 KB.",
            [of("file_bytes", at_most="2 MB"), of("file_bytes", at_least="200 KB")],
        ),
        ("Kleiner als 600 x 600 Pixel geht nicht.", [of("size", at_least="600 x 600")]),
        ("Bilder unter 800 px Breite sind ungeeignet.", [of("width", at_least="800")]),
        ("Pictures narrower than 800 px don't qualify.", [of("width", at_least="800")]),
    ],
)
def test_shortened_words_deny_as_whole_ones_do(text, rules):
    made = told(text)
    for rule in made:
        rule.pop("strength", None)  # “shouldn't”
    assert made == rules


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Files don't have to be 300 dpi.", []),
        ("A resolution of 300 dpi is not required.", []),
        ("It need not be larger than 2 MB, but must be at least 1000 px wide.", [of("width", at_least="1000")]),
        ("300 dpi isn't necessary; 2000 pixels wide is.", [of("width", exactly="2000")]),
        ("The photo needn't be in colour.", []),
        (
            "Das Bild muss nicht 300 dpi haben, aber mindestens 2000 Pixel breit sein.",
            [of("width", at_least="2000")],
        ),
        ("Die Fotos brauchen nicht quadratisch zu sein.", []),
        ("TIFF, LZW compression accepted.", [of("format", exactly="tiff")]),
        ("TIFFs may be compressed with LZW or ZIP.", [of("format", exactly="tiff")]),
        ("Only LZW-compressed TIFFs are accepted.", [of("format", exactly="tiff"), of("packing", exactly="lzw")]),
    ],
)  # fmt: skip
def test_what_need_not_be_is_no_rule(text, rules):
    assert told(text) == rules


def test_a_number_that_need_not_be_is_told_as_unread():
    (aside,) = read("Files don't have to be 300 dpi.").asides
    assert aside.text[aside.start : aside.end] == "300"


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("The shortest side is 2000 px or longer.", [of("shortest_side", at_least="2000")]),
        ("2,048 pixels on the long side, or longer.", [of("longest_side", at_least="2048")]),
        (
            "The panel shows 800 x 480 in 6 colours.",
            [of("size", exactly="800 x 480"), of("colours", exactly="6")],
        ),
        ("Crop to 5 x 7 in, 300 ppi.", [of("size", exactly="5 x 7 in"), of("ppi", exactly="300")]),
        ("Photos of 4x6, 5x7 or 8x10 inches.", [of("size", one_of=["4 x 6 in", "5 x 7 in", "8 x 10 in"])]),
        ("240 pixels/inch, JPEG.", [of("ppi", exactly="240"), of("format", exactly="jpeg")]),
        ("Pictures are at least 50 pixels larger than the frame on each side.", []),
        (
            "A maximum of 5MB and 300dpi.",
            [of("file_bytes", at_most="5 MB"), of("ppi", exactly="300")],
        ),
        (
            "Faces: 396 pixels wide, 484 tall.",
            [of("width", exactly="396"), of("height", exactly="484")],
        ),
        ("Make it 3 times as wide as it is high.", [of("aspect", exactly="3:1")]),
        ("The height is 1.5 times the width.", [of("aspect", exactly="1:1.5")]),
        ("Das Banner ist 3-mal so breit wie hoch.", [of("aspect", exactly="3:1")]),
        (
            "We ask for 1400 x 2100 px or more, but 1000 x 1500 px will do.",
            [of("size", at_least="1400 x 2100", strength="should"), of("size", at_least="1000 x 1500")],
        ),
        (
            "At least 1500 x 1000 pixels, though we'd love 3000 x 2000.",
            [of("size", at_least="1500 x 1000"), of("size", exactly="3000 x 2000", strength="should")],
        ),
    ],
)  # fmt: skip
def test_numbers_and_their_words(text, rules):
    assert told(text) == rules


def test_a_value_beyond_a_bound_beside_it_is_asked():
    one, other = read("Exactly 800 x 600 pixels. Minimum 1000 x 800 pixels.").drafts
    assert (one.certainty, other.certainty) == ("doubtful", "doubtful")


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        (
            "Landscape: 3000 px wide; portrait: 3000 px tall.",
            [of("width", exactly="3000", applies="landscape"), of("height", exactly="3000", applies="upright")],
        ),
        (
            "If landscape, the image must be 1600 px wide; if portrait, 1200 px high.",
            [of("width", exactly="1600", applies="landscape"), of("height", exactly="1200", applies="upright")],
        ),
        (
            "Vertical images: 1080 x 1920. Horizontal images: 1920 x 1080.",
            [of("size", exactly="1080 x 1920", applies="upright"), of("size", exactly="1920 x 1080", applies="landscape")],
        ),
        (
            "The sky is blue. An image in portrait format must not exceed 1200 pixels in height.",
            [of("height", at_most="1200", applies="upright")],
        ),
    ],
)  # fmt: skip
def test_what_holds_for_one_way_up(text, rules):
    assert told(text) == rules


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Use pictures 768 px tall. We crop to 4:3.", [of("height", exactly="768")]),
        ("JPEG. It'll be cut to 1:1 on phones.", [of("format", exactly="jpeg")]),
        ("The photograph must not have been taken more than six months ago.", [of("shot_age", at_most="6 months")]),
        ("Colour photographs only.", [of("channels", exactly="colour")]),
        ("Keep the file under one megabyte.", [of("file_bytes", below="1 MB")]),
        ("Photos with people in them will be removed.", [of("people", exactly="0")]),
        ("Max. 5° tilt, 10° turn.", [of("head_tilt", between=["-5 deg", "5 deg"]), of("head_turn", between=["-10 deg", "10 deg"])]),
        ("Eine Breite von 1200 Pixel und eine Höhe von 800 Pixel.", [of("width", exactly="1200"), of("height", exactly="800")]),
        (
            "Der Kopf darf höchstens um 5 Grad geneigt und 8 Grad gedreht sein.",
            [of("head_tilt", between=["-5 deg", "5 deg"]), of("head_turn", between=["-8 deg", "8 deg"])],
        ),
        (
            "Schwarzweißbilder sind als Graustufen mit 8 Bit zu liefern, Farbbilder als RGB.",
            [of("bits", exactly="8"), of("colour_space", none_of=["cmyk"])],
        ),
        ("Das Foto muss scharf sein, ohne Interpolation.", [of("enlargement", at_most="1")]),
        ("EXIF-Daten müssen erhalten sein.", [of("metadata", exactly="kept")]),
    ],
)  # fmt: skip
def test_what_is_said_of_what(text, rules):
    assert told(text) == rules


@pytest.mark.parametrize(
    "text",
    [
        "Minimum size for A4 prints is 2480 x 3508 px, for A3 3508 x 4961 px.",
        "Minimum size for posters is 2480 x 3508 px, for banners 3508 x 4961 px.",
    ],
)
def test_two_of_one_kind_are_asked(text):
    measures = ("size", "progressive")
    made = [draft for draft in read(text).drafts if draft.fields.get("measure") in measures]
    assert [draft.certainty for draft in made] == ["doubtful", "doubtful"]


def test_what_a_picture_may_not_have_gone_through_is_asked():
    text = "Das Bild darf weder gespiegelt noch retuschiert sein."
    assert [draft.fields["ask"] for draft in read(text).drafts] == [text.rstrip(".")]


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        (
            "Erlaubt:\n- JPEG\n- 500 KB bis 5 MB\nNicht erlaubt:\n- GIF\n- Bilder unter 1000 Pixel Breite\n",
            [of("format", exactly="jpeg"), of("file_bytes", between=["500 KB", "5 MB"]), of("format", none_of=["gif"]), of("width", at_least="1000")],
        ),
        (
            "Wir lehnen Bilder ab, die kleiner als 800 x 800 Pixel sind oder einen Rahmen haben.",
            [of("size", at_least="800 x 800"), of("keyline_width", exactly="0")],
        ),
        (
            "Bilder mit mehr als 25 Megapixeln oder mehr als 20 MB lassen sich nicht hochladen.",
            [of("megapixels", at_most="25"), of("file_bytes", at_most="20 MB")],
        ),
        ("Kleinere Bilder als 500 x 500 nehmen wir nicht.", [of("size", at_least="500 x 500")]),
        ("Smaller pictures than 500 x 500 px will be declined.", [of("size", at_least="500 x 500")]),
        ("Es werden ausschließlich Farbfotos angenommen.", [of("channels", exactly="colour")]),
        ("8 Bit je Kanal, ohne Alphakanal.", [of("bits", exactly="8"), of("transparency", exactly="none")]),
        ("JPEG-Kompression nicht stärker als nötig.", [of("format", exactly="jpeg")]),
        ("Größer als 3000 Pixel muss das Bild nicht sein.", []),
        ("Das Produkt muss mindestens 85 % der Fläche einnehmen.", [of("subject_fill", at_least="85 %")]),
        ("Bild mindestens 20 x 30 cm; auf Karton 40 x 50 cm aufgezogen.", [of("size", at_least="20 x 30 cm")]),
    ],
)  # fmt: skip
def test_german_denials(text, rules):
    assert told(text) == rules


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Images with transparency are flattened on white.", []),
        ("CMYK images are converted to sRGB.", []),
        ("Untagged files are treated as sRGB.", []),
        ("Pictures must be converted to sRGB.", [of("colour_space", exactly="srgb")]),
        ("Remove all personal data (GPS, names) from the file.", [of("location", exactly="none")]),
        ("The caption must be in the IPTC field.", [of("caption", exactly="present")]),
        (
            "The photo should preferably be portrait and must not be smaller than 500 x 700 px.",
            [of("size", at_least="500 x 700"), of("orientation", exactly="upright", strength="should")],
        ),
        (
            "The top of your head must be 3-7 mm from the top edge in a 35x45 mm photo.",
            [of("headroom", between=["3 mm", "7 mm"]), of("size", exactly="35 x 45 mm")],
        ),
        (
            "Chin to crown: 31–36 mm. Photo: 35 × 45 mm.",
            [of("head_height", between=["31 mm", "36 mm"]), of("size", exactly="35 x 45 mm")],
        ),
        ("Adobe RGB or sRGB, not CMYK - we convert.",
         [of("colour_space", one_of=["adobe-rgb", "srgb"]), of("colour_space", none_of=["cmyk"])]),
        (
            "The photo is 30 mm wide and 40 mm high. Your head, from the chin to the top of your hair, has to be 24 to 30 mm high.",
            [of("print_width", exactly="30 mm"), of("print_height", exactly="40 mm"), of("head_height", between=["24 mm", "30 mm"])],
        ),
        (
            "The photo is 30 mm wide and 40 mm high. There must be between 2 and 5 mm of space above it.",
            [of("print_width", exactly="30 mm"), of("print_height", exactly="40 mm"), of("headroom", between=["2 mm", "5 mm"])],
        ),
        ("PNG. Keep the top 120 px free, and the outer 200 px on either side.", [of("format", exactly="png")]),
        ("Interpupillary distance at least 90 px.", [of("eye_distance", at_least="90")]),
    ],
)  # fmt: skip
def test_what_the_body_does_and_what_it_asks(text, rules):
    assert told(text) == rules


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Borders are allowed if they are at most 10 pixels wide.", [of("keyline_width", at_most="10")]),
        ("Rahmen sind erlaubt, wenn sie höchstens 10 Pixel breit sind.", [of("keyline_width", at_most="10")]),
        ("Pictures with borders, watermarks or text will be rejected.", [of("keyline_width", exactly="0")]),
        ("Transparency, animation and borders are not permitted.",
         [of("transparency", exactly="none"), of("frames", exactly="1"), of("keyline_width", exactly="0")]),
        ("Motiv mittig, Rand ringsum 5 %, Hintergrund weiß, Schatten nicht erlaubt.", []),
        (
            "Bilder, deren lange Seite weniger als 2400 Pixel misst, sowie Bilder über 15 MB werden nicht angenommen.",
            [of("longest_side", at_least="2400"), of("file_bytes", at_most="15 MB")],
        ),
    ],
)  # fmt: skip
def test_of_what_a_refusal_is_said(text, rules):
    assert told(text) == rules


def test_what_is_refused_as_well_is_asked():
    (draft,) = read("So are pictures with lettering or the names of other shops.").drafts
    assert draft.fields == {"ask": "So are pictures with lettering or the names of other shops"}


@pytest.mark.parametrize(
    "text",
    [
        "Black-and-white pictures will be returned.",
        "Black-and-white pictures are not accepted.",
        "Photos in black and white will be rejected.",
        "Die Fotos: JPG. Schwarz-Weiß-Bilder werden zurückgeschickt.",
        "Die Fotos: JPG. Fotos in Schwarz-Weiß werden abgelehnt.",
        "Die Fotos: JPG. Keine Schwarz-Weiß-Fotos.",
    ],
)
def test_where_black_and_white_is_refused_colour_is_asked(text):
    last = read(text).drafts[-1]
    assert last.certainty == "sure"
    assert last.fields == {"measure": "channels", "exactly": "colour"}
