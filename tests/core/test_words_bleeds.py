"""What is cut off, wished for below a heading, counted in brackets, led by dots or answered: read as it is meant."""

from __future__ import annotations

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aptandum.core.rulebook.words import read
from aptandum.core.rulebook.words.sources import of_bytes

FORMS = ("exactly", "at_least", "at_most", "above", "below", "between", "one_of", "none_of")


def told(text: str) -> list[str]:
    """What is read for sure, each in a line; what is asked of a person by its words."""
    found = []
    for draft in read(of_bytes(text.encode())).drafts:
        fields = draft.fields
        if draft.certainty == "sure":
            bound = next((f"{k} {fields[k]}" for k in FORMS if k in fields), fields.get("ask", ""))
            wish = " should" if fields.get("strength") == "should" else ""
            found.append(f"{draft.brief}|{fields.get('measure', 'ask')} {bound}{wish}")
    return [line.removeprefix("|") for line in found]


def asked(text: str) -> set[str]:
    """The measures of what is read and asked."""
    return {str(d.fields.get("measure")) for d in read(text).drafts if d.certainty == "doubtful"}


@given(
    st.integers(40, 900), st.integers(40, 900), st.integers(1, 9), st.sampled_from(["mm", "cm"]),
    st.sampled_from(["{size} plus {n} mm bleed, 300 dpi", "{size} with {n} mm bleed on all sides, JPEG",
                     "JPEG. The page is {size}. Please add {n} mm bleed."]),
)  # fmt: skip
def test_a_bleed_makes_the_file_larger_and_is_asked(width, height, bleed, unit, words):
    text = words.format(size=f"{width} x {height} {unit}", n=bleed)
    [draft] = [d for d in read(text).drafts if d.fields.get("measure") == "size"]
    more = 2 * Decimal(bleed) / (10 if unit == "cm" else 1)
    sides = [f"{(Decimal(side) + more).normalize():f}" for side in (width, height)]
    assert draft.fields["exactly"] == f"{sides[0]} x {sides[1]} {unit}"
    assert draft.certainty == "doubtful"
    assert draft.readings[0]["exactly"] == f"{width} x {height} {unit}"


@pytest.mark.parametrize(
    ("text", "lines"),
    [
        ("Format 216 x 303 mm including 3 mm bleed.", ["size exactly 216 x 303 mm"]),
        ("The final size is 210 x 297 mm. Please add 3 mm bleed on each side (216 x 303 mm).",
         ["size exactly 216 x 303 mm"]),
        ("Icon ...... 64 x 64 px, PNG\nBanner ...... 600 x 200 px, JPEG",
         ["Icon|size exactly 64 x 64", "Icon|format exactly png",
          "Banner|size exactly 600 x 200", "Banner|format exactly jpeg"]),
        ("Checklist: 1) perfectly square 2) no text 3) file smaller than 10 MB 4) 72 dpi minimum",
         ["orientation exactly square", "ask no text", "file_bytes below 10 MB", "ppi at_least 72"]),
        ("1 Sign the form.\n2 The picture must be a JPEG.\n3 The background must be white.",
         ["ask Sign the form", "format exactly jpeg", "ask The background must be white"]),
        ("Glasses? No tinted ones.", ["ask Glasses? No tinted ones"]),
        ("Background? Plain, light grey.", ["ask Background? Plain, light grey"]),
        ("Recent? Within 3 months.", ["shot_age at_most 3 months"]),
        ("Wie alt darf es sein? Ein Jahr.", ["shot_age at_most 1 years"]),
        ("Q: My picture is 1200 x 800. Is that enough?\nA: No. The shorter side must have at least 1080 pixels.",
         ["shortest_side at_least 1080"]),
        ("Can I upload a PNG with transparency? You can, but the transparent parts turn black.", []),
        ("Photos older than a year are turned away.", ["shot_age at_most 1 years"]),
        ("Any image that scored in the last 12 months is ineligible.", []),
        ("Up to six (6) photos may be entered.", ["set_count at_most 6"]),
        ("Up to 6 photos may be entered. A series counts as one and may have no more than eight pictures.",
         ["set_count at_most 6"]),
        ("JPEG only. If the mail gets over 25 MB use the drop box.", ["format exactly jpeg"]),
        ("JPEG, 2000 px on the long edge. Artists will then be asked for TIFF files of at least 6000 px.",
         ["longest_side exactly 2000", "format exactly jpeg"]),
        ("Required\nJPEG format\nLongest side at least 1,000 px\nRecommended\n1,600 px or larger on the longest side",
         ["format exactly jpeg", "longest_side at_least 1000", "longest_side at_least 1600 should"]),
        ("Fotos als JPG.\n✗ keine Kopfbedeckung", ["format exactly jpeg", "ask keine Kopfbedeckung"]),
        ("Photos, JPEG. Portrait mode not supported.", ["format exactly jpeg", "orientation none_of ['upright']"]),
        ("Fotos im Hoch- oder Querformat, JPG.", ["format exactly jpeg"]),
        ("JPG-Dateien. Das Bild wird automatisch auf 35 x 45 mm zugeschnitten.", ["format exactly jpeg"]),
        ("File type not supported - only JPG", ["format exactly jpeg"]),
        ("Images in CMYK or greyscale.", ["colour_space one_of ['cmyk', 'grey']"]),
        ("Screen picture: PNG, 4-bit greyscale, 16 levels of grey",
         ["bits_per_pixel exactly 4", "colours at_most 16", "format exactly png", "channels exactly grey"]),
        ("The face fills at least half of the picture.", ["head_height at_least 50 %"]),
        ("Landscape screens: 3840 x 2160. Portrait screens: 1080 x 1920. Boards: 1920 x 360.",
         ["Landscape screens|size exactly 3840 x 2160", "Portrait screens|size exactly 1080 x 1920",
          "Boards|size exactly 1920 x 360"]),
        ("WebP; JPEG where WebP is not possible", ["format one_of ['webp', 'jpeg']"]),
        ("Size 531 × 1328 pixels (h × w)", ["size exactly 1328 x 531"]),
        ("PNG files. The refresh takes 20 s.", ["format exactly png"]),
        ("Stills as PNG, shown 10 s each.", ["format exactly png"]),
        ("Photo 826 x 1062 px. Head height: 590-665 px.", ["size exactly 826 x 1062", "ask Head height: 590-665 px"]),
        ("JPEG (compression no more than 1:4)", ["compression at_most 4", "format exactly jpeg"]),
        ("Send PNG files, 640 x 384. Leave 10 px free at every edge.",
         ["size exactly 640 x 384", "format exactly png", "ask Leave 10 px free at every edge"]),
        ("Photos at least 1500 px wide or high.", ["longest_side at_least 1500"]),
        ("You receive JPEG files of 3000 px. Send yours as PNG.", ["format exactly png"]),
        ("Ihr Foto sollte nicht:\n• mit Filtern bearbeitet sein", ["ask Ihr Foto sollte nicht: mit Filtern bearbeitet sein"]),
        ("Prints are A4, so 3:2 pictures get a narrow strip.", []),
        ("Die empfohlene Größe beträgt 300 x 300 Pixel.", ["size exactly 300 x 300 should"]),
        ("Photos at 300 dpi (at least 250).", ["ppi at_least 250"]),
        ("JPEG, 12 frames hang on the wall.", ["format exactly jpeg"]),
    ],
)  # fmt: skip
def test_what_is_read_for_sure(text, lines):
    assert told(text) == lines


@pytest.mark.parametrize(
    ("text", "measures"),
    [
        ("Do you print A0? Yes: 841 x 1189 mm.", {"size"}),
        (
            "Pictures as JPEG. The projector is 1920 x 1200 so anything above that is wasted.",
            {"size"},
        ),
        ("The resolution depends on the original: slides 4000 ppi, prints 600 ppi.", {"ppi"}),
        ("JPEG, Adobe RGB or eciRGB", {"colour_space"}),
        ("PNG. A 1 px border is required if the background is white.", {"keyline_width"}),
    ],
)
def test_what_may_be_meant_otherwise_is_asked(text, measures):
    assert measures <= asked(text)


def test_a_proportion_in_round_figures_leaves_room_for_its_size():
    found = read("Width 1242 px, height 560 px (2.2:1). JPEG.").drafts
    [ratio] = [d for d in found if d.fields["measure"] == "aspect"]
    assert ratio.fields["tolerance"] == "2 %"
    found = read("Width 1080 px, height 1350 px (4:5). JPEG.").drafts
    assert not any("tolerance" in d.fields for d in found)


@pytest.mark.parametrize(
    ("text", "give"),
    [
        ("Photo 30 x 40 mm. Upload 708 x 945 px (600 dpi), JPEG.", "0.5 %"),
        ("5 x 3 cm at 400 dpi, 788 x 473 px, JPEG", "0.5 %"),
        ("Poster 210 x 297 mm at 300 dpi, 2480 x 3507 px, JPEG", "0.5 %"),
        ("35 x 45 mm, 413 x 531 px at 300 dpi, JPEG", None),
        ("35 x 45 mm, 600 x 800 px at 300 dpi, JPEG", None),
    ],
)
def test_a_printed_size_whose_pixels_were_cut_off_has_room_for_one(text, give):
    [size] = [d for d in read(text).drafts if " mm" in str(d.fields) or " cm" in str(d.fields)]
    assert size.fields.get("tolerance") == give


def test_what_stands_apart_below_named_pictures_is_of_all():
    text = "Icon: 64 x 64 px, PNG\nBanner: 600 x 200 px, JPEG\n\nNo file may be larger than 8 MB."
    assert [(d.brief, d.fields["measure"]) for d in read(text).drafts][-1] == ("", "file_bytes")
