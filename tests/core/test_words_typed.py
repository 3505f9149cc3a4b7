"""Rules as somebody types them in one line: *35x45mm 600dpi jpg under 500kb*."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aptandum.core.rulebook.words import read

WORDS = (
    "baseline", "black", "bright", "big", "banner", "white", "cover", "mono", "matte", "minimal", "glossy", "crisp", "kiosk",
    "grey", "colour", "inside", "portrait", "hochkant", "badge", "dithered", "photo", "quer", "clean",
)  # fmt: skip


def found(text: str) -> dict[str, dict[str, Any]]:
    drafts = [d.fields for d in read(text).drafts if "ask" not in d.fields]
    return {str(one["measure"]): dict(one) for one in drafts}


@given(
    wide=st.integers(100, 9000),
    high=st.integers(100, 9000),
    by=st.sampled_from(["x", " x ", "×", " by "]),
    word=st.sampled_from(WORDS),
)
def test_a_size_is_read_whatever_word_stands_behind_it(wide, high, by, word):
    said = found(f"{wide}{by}{high} {word} jpeg")
    assert said["size"]["exactly"] == f"{wide} x {high}"


GERMAN = {
    "mindestens 1200 mal 900 Pixel": ("size", "at_least", "1200 x 900"),
    "Auflösung 600 dpi": ("ppi", "exactly", "600"),
    "nur JPG": ("format", "exactly", "jpeg"),
    "unter 2,5 MB": ("file_bytes", "below", "2.5 MB"),
    "Farbraum sRGB": ("colour_space", "exactly", "srgb"),
    "ohne Rand": ("keyline_width", "exactly", "0"),
    "max. 5 Fotos": ("set_count", "at_most", "5"),
    "max. 6 Monate alt": ("shot_age", "at_most", "6 months"),
}
ENGLISH = {
    "1200x900": ("size", "exactly", "1200 x 900"),
    "without border": ("keyline_width", "exactly", "0"),
    "under 2.5 MB": ("file_bytes", "below", "2.5 MB"),
    "cmyk": ("colour_space", "exactly", "cmyk"),
    "as TIFF": ("format", "exactly", "tiff"),
    "up to 5 pictures": ("set_count", "at_most", "5"),
}
BESIDE = ("no glasses", "without text", "no watermarks", "sharp", "thanks", "main image")
NEBEN = (
    "keine Brille",
    "ohne Text",
    "keine Wasserzeichen",
    "Mund geschlossen",
    "danke",
    "Titelbild",
)
MARKS = (", ", "; ", " / ", " | ", " + ", " - ", "\n", " ")


@given(data=st.data(), mark=st.sampled_from(MARKS))
@pytest.mark.parametrize(("rules", "beside"), [(GERMAN, NEBEN), (ENGLISH, BESIDE)])
def test_no_denial_reaches_the_rule_behind_it_whatever_parts_them(rules, beside, data, mark):
    chosen = data.draw(st.lists(st.sampled_from(sorted(rules)), min_size=1, unique=True))
    pieces = [*chosen, *data.draw(st.lists(st.sampled_from(beside), max_size=2, unique=True))]
    said = found(mark.join(data.draw(st.permutations(pieces))))
    expected = {rules[one] for one in chosen}
    assert {(m, b, said.get(m, {}).get(b)) for m, b, _v in expected} == expected


@given(
    words=st.sampled_from(
        ["thanks", "danke", "max 4 files", "bis zu 5 Bilder", "keine Brille", "for the wall"]
    )
)
def test_a_side_without_a_unit_is_read_whatever_word_stands_behind_it(words):
    assert found(f"long side 1920 {words}")["longest_side"]["exactly"] == "1920"


@pytest.mark.parametrize("word", ["metres", "mm", "inches", "per cent", "people", "years", "Meter"])
def test_a_side_in_something_else_is_none_in_pixels(word):
    assert found(f"width 300 {word}").get("width", {}).get("exactly") != "300"


@pytest.mark.parametrize(
    "first",
    ["no borders", "als JPEG", "white background", "Farbraum sRGB", "JPG-Datei", "ohne Rand"],
)
def test_a_rule_in_the_first_line_is_no_heading(first):
    drafts = read(f"{first}\n600 dpi\n1200 x 900 px").drafts
    assert len(drafts) == 3 and {d.brief for d in drafts} == {""}


@pytest.mark.parametrize(
    "text",
    ["Name the file date_location.jpg", "File names: location-date.jpg", "Tell us the location of the shot in your message."],
)  # fmt: skip
def test_a_location_that_is_in_no_file_is_no_rule_of_one(text):
    assert "location" not in found(text)


def test_a_location_in_the_file_is_one():
    assert found("Please leave the location in the file.")["location"]["exactly"] == "present"
    assert found("Location data must be removed.")["location"]["exactly"] == "none"


def test_a_border_that_is_denied_first_is_not_as_wide_as_the_side_behind_it():
    said = found("kein Rahmen - längste Seite max. 800 Pixel - nur PNG")
    assert said["keyline_width"]["exactly"] == "0" and said["longest_side"]["at_most"] == "800"


PIECES = {
    "1200x900": ("size", "exactly", "1200 x 900"),
    "600dpi": ("ppi", "exactly", "600"),
    "jpg": ("format", "exactly", "jpeg"),
    "max 500 KB": ("file_bytes", "at_most", "500 KB"),
    "srgb": ("colour_space", "exactly", "srgb"),
}


@given(order=st.permutations(sorted(PIECES)), comma=st.booleans())
def test_the_order_of_what_is_typed_changes_nothing(order, comma):
    said = found((", " if comma else " ").join(order))
    assert {(m, b, said[m].get(b)) for m, b, _v in PIECES.values()} == set(PIECES.values())


@pytest.mark.parametrize(
    ("text", "measure", "bound", "value"),
    [
        ("square 1080 jpg", "size", "exactly", "1080 x 1080"),
        ("A4 300dpi cmyk tiff", "size", "exactly", "210 x 297 mm"),
        ("2400 lange Kante, sRGB", "longest_side", "exactly", "2400"),
        ("2400 long edge", "longest_side", "exactly", "2400"),
        ("biometrisches Passbild 35x45, jpg", "size", "exactly", "35 x 45 mm"),
        ("passport photo 35x45", "size", "exactly", "35 x 45 mm"),
        ("Icon 32 x 48", "size", "exactly", "32 x 48"),
        ("hochkant 9:16, unter 8 MB", "file_bytes", "below", "8 MB"),
        ("24 Mpx or more", "megapixels", "at_least", "24"),
    ],
)
def test_what_is_typed_short_is_understood(text, measure, bound, value):
    assert found(text)[measure][bound] == value
