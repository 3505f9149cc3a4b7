"""Rules in words: questions and answers, crosses and complaints, several pictures on one page, and what no file can have."""

from __future__ import annotations

import pytest

from aptandum.core.rulebook.words import read
from aptandum.core.rulebook.words.as_book import ident
from aptandum.core.rulebook.words.sources import of_plain
from rules_told import all_told, of


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("JPEG. Must it be square? Yes.", [of("format", exactly="jpeg"), of("orientation", exactly="square")]),
        ("JPEG. Is there a smallest size? 200 by 200.",
         [of("format", exactly="jpeg"), of("size", at_least="200 x 200")]),
        ("JPEG. Must I name the photographer? Yes, in the file.",
         [of("format", exactly="jpeg"), {"ask": "Must I name the photographer? Yes, in the file."}]),
        ("JPEG. May I send more than one? Yes.", [of("format", exactly="jpeg")]),
        ("Photos: JPEG\n✔ at most 2 MB\n✘ sunglasses",
         [of("format", exactly="jpeg"), of("file_bytes", at_most="2 MB"), {"ask": "Not: sunglasses"}]),
        ("Your picture was smaller than 1,200 pixels on its longest edge – send a larger one.",
         [of("longest_side", at_least="1200")]),
        ("Your picture was over 8 MB – compress it.\nYour picture was not a JPEG or PNG – convert it first.",
         [of("file_bytes", at_most="8 MB"), of("format", one_of=["jpeg", "png"])]),
        ("Not supported: progressive JPEG, CMYK JPEG, animated files",
         [of("colour_space", none_of=["cmyk"]), of("frames", exactly="1"), of("progressive", exactly="baseline")]),
        ("Frequently rejected\n\nPhotos larger than 20 MB. Photos without the photographer's name in the metadata.",
         [of("file_bytes", at_most="20 MB"), of("credit", exactly="present")]),
        ("Images wider than 2000 px, files of more than 1.5 MB or anything other than PNG will be ignored.",
         [of("width", at_most="2000"), of("file_bytes", at_most="1.5 MB"), of("format", exactly="png")]),
        ("Do not submit more than 20 images per application.", [of("set_count", at_most="20")]),
        ("Do not send PDF, GIF or BMP files.", [of("format", none_of=["gif", "bmp"])]),
        ("TIFF (flattened, no layers) or JPEG, 8 bit.",
         [of("bits", exactly="8"), of("format", one_of=["tiff", "jpeg"])]),
        ("Transparent PNGs are shown on grey. PNG or JPG.", [of("format", one_of=["png", "jpeg"])]),
        ("CMYK files may change colour. JPEG, 300 dpi.", [of("ppi", exactly="300"), of("format", exactly="jpeg")]),
        ("We don't mind borders. JPEG.", [of("format", exactly="jpeg")]),
        ("JPEG. Das Foto wird automatisch in Graustufen umgewandelt.", [of("format", exactly="jpeg")]),
        ("File sizes of 500 kB to 2 MB are typical. JPEG.", [of("format", exactly="jpeg")]),
        ("JPEG. The wall consists of 3 x 3 tiles.", [of("format", exactly="jpeg")]),
        ("At least 4724 x 5906 px or 5906 x 4724 px. TIFF.",
         [of("size", at_least="4724 x 5906", applies="upright"), of("size", at_least="5906 x 4724", applies="landscape"),
          of("format", exactly="tiff")]),
        ("Das Passbild muss 45 x 35 mm groß (Hochformat) sein.", [of("size", exactly="35 x 45 mm")]),
        ("Minimum 1,000 x 625 pixels (height/width ratio of 1.6:1). JPEG.",
         [of("size", at_least="625 x 1000"), of("aspect", exactly="1:1.6"), of("format", exactly="jpeg")]),
        ("Maximalabmessungen: 1200 x 1600 Pixel, JPG", [of("size", at_most="1200 x 1600"), of("format", exactly="jpeg")]),
        ("Width between 640 and 2560, height between 480 and 1440. JPEG",
         [of("width", between=["640", "2560"]), of("height", between=["480", "1440"]), of("format", exactly="jpeg")]),
        ("Matrix: 192 columns, 64 rows. Bitmap.", [of("size", exactly="192 x 64"), of("format", exactly="bmp")]),
        ("1280x960 up to 4000x3000, JPEG.", [of("size", between=["1280 x 960", "4000 x 3000"]), of("format", exactly="jpeg")]),
        ("3.1 Colour. Adobe RGB (1998).\n3.2 Bit depth. 8 bits per channel.",
         [of("colour_space", exactly="adobe-rgb"), of("bits", exactly="8")]),
        ("Je Artikel mindestens 5, höchstens 25 Fotos, JPEG.",
         [of("set_count", between=["5", "25"]), of("format", exactly="jpeg")]),
        ("JPEG mit möglichst geringer Kompression, mindestens 3 MB.",
         [of("file_bytes", at_least="3 MB"), of("format", exactly="jpeg")]),
    ],
)  # fmt: skip
def test_what_a_page_says_in_other_ways_than_as_a_rule(text, rules):
    assert all_told(text) == rules
    assert all(draft.certainty == "sure" for draft in read(text).drafts)


@pytest.mark.parametrize(
    "text",
    [
        "Our calendar is 420 x 297 mm. JPEG.",
        "We print at 300 dpi. JPEG.",
        "JPEG. Send a thumbnail as well, 600 px on the longer side.",
        "JPEG. For the cover we need 1819 x 2551 pixels.",
        "JPEG. Line cartoons at 600 dpi; grey ones at 300 dpi.",
        "JPEG. You may reduce the picture to 2048 px on the long edge.",
        "JPEG. Scanned photos: 2 x 2 inches.",
        "JPEG. Colours: 65,536 (16 bit)",
        "JPEG. Use Adobe RGB for colour and Gray Gamma 2.2 otherwise.",
        "JPEG. We print it in black and white.",
        "JPEG, 5000 x 5000 px. Detail in 3:2.",
        "JPEG, 5000 x 5000 px. Longest side 4500 px.",
        "JPEG. Minimum 1000 x 625 px. Portrait format only.",
        "JPEG. 1920 x 1080 px is enough.",
        "JPEG. Minimum 1,000 x 625 pixels. Height/width ratio of 1.6:1.",
    ],
)
def test_what_may_be_of_some_pictures_alone_is_asked(text):
    drafts = [d for d in read(text).drafts if d.fields.get("measure") != "format"]
    assert drafts and "doubtful" in {draft.certainty for draft in drafts}


def briefs_of(text: str) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for draft in read(of_plain(text)).drafts:
        found.setdefault(draft.brief, []).append(str(draft.fields.get("measure", "ask")))
    return found


@pytest.mark.parametrize(
    ("text", "briefs"),
    [
        ("Icons: 24 x 24 px, PNG. Banners: 600 x 200 px, JPEG. Max 1 MB.",
         {"Icons": ["size", "format"], "Banners": ["size", "format"], "": ["file_bytes"]}),
        ("§ 1 Fotos: mindestens 300 dpi, JPEG.\n§ 2 Strichzeichnungen: mindestens 1200 dpi, TIFF.\n§ 3 Höchstens 5 MB.",
         {"Fotos": ["ppi", "format"], "Strichzeichnungen": ["ppi", "format"], "": ["file_bytes"]}),
        ("For the programme page: 800 x 800 px, JPEG. For the stage screen: 3840 x 2160 px, JPEG.",
         {"For the programme page": ["size", "format"], "For the stage screen": ["size", "format"]}),
        ("Access copies are JPEG, 3000 px on the long side. Thumbnails are JPEG, 150 px on the long side.",
         {"Access copies": ["longest_side", "format"], "Thumbnails": ["longest_side", "format"]}),
        ("Property\tHero\tZoom\nWidth (px)\t1600\t3000\nFormat\tJPEG\tPNG",
         {"Hero": ["width", "format"], "Zoom": ["width", "format"]}),
        ("Bild    Ort    Größe\nLogo    oben    400 x 200 px\nGalerie    unten    1200 x 900 px",
         {"Logo": ["ask", "size"], "Galerie": ["ask", "size"]}),
    ],
)  # fmt: skip
def test_each_of_several_pictures_has_its_own_rules(text, briefs):
    assert briefs_of(text) == briefs


def test_plain_text_without_a_table_of_pictures_stays_as_it_is():
    for text in (
        "Size\t400 x 500\nFormat\tJPEG\n",
        "One line.\n\nAnother   line,   with gaps.",
        "",
    ):
        assert of_plain(text) == text


@pytest.mark.parametrize(
    ("name", "made"),
    [
        ("Ausweisfoto Schülerticket – so klappt's", "ausweisfoto-schuelerticket-so-klappt-s"),
        ("Exposé de l'île", "expose-de-l-ile"),
        ("Straße Łódź", "strasse-lodz"),
        ("写真", "brief"),
        ("x" * 59 + " y", "x" * 59),
    ],
)
def test_an_id_keeps_the_letters_of_a_name(name, made):
    assert ident(name, "brief") == made


@pytest.mark.parametrize(
    ("text", "doubted"),
    [
        ("Five photos, the first one square (1600 x 1600)\nothers any shape", "size"),
        ("For the exhibition we will later ask for a TIFF of 60 x 90 cm.", "size"),
        ("Für die Ausstellung fordern wir später TIFF an.", "format"),
        ("Up to eight additional pictures.", "set_count"),
        ("Three entries each.", "set_count"),
        ("A2, 420 x 594 mm, 3 mm bleed on every side", "size"),
    ],
)
def test_what_is_of_some_or_may_be_counted_otherwise_is_asked_once(text, doubted):
    drafts = [d for d in read(text).drafts if d.fields.get("measure") == doubted]
    assert [d.certainty for d in drafts] == ["doubtful"]


def test_a_portrait_is_a_picture_of_somebody_where_it_is_yours():
    measures = {d.fields.get("measure") for d in read("Your portrait: at least 600 px wide").drafts}
    assert measures == {"width"}
