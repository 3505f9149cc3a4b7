"""What published words say of one format alone: it holds where the file is one, and neither asks for it nor refuses it."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aptandum.core.rulebook.words import read

FORMATS = {"PNG": "png", "JPEG": "jpeg", "TIFF": "tiff", "WebP": "webp", "GIF": "gif"}
RULES = {
    "en": [("leave out the alpha channel", "transparency", "exactly", "none"),
           ("no transparency", "transparency", "exactly", "none"),
           ("at most 2 MB", "file_bytes", "at_most", "2 MB"),
           ("the file must not exceed 2 MB", "file_bytes", "at_most", "2 MB"),
           ("quality 90 or more", "quality", "at_least", "90"),
           ("use 8 bits per channel", "bits", "exactly", "8"),
           ("embed the profile", "profile", "exactly", "embedded"),
           ("no animation", "frames", "exactly", "1")],
    "de": [("bitte ohne Transparenz", "transparency", "exactly", "none"),
           ("ohne Alphakanal", "transparency", "exactly", "none"),
           ("höchstens 2 MB", "file_bytes", "at_most", "2 MB"),
           ("Qualität mindestens 90", "quality", "at_least", "90"),
           ("8 Bit pro Kanal", "bits", "exactly", "8"),
           ("keine Animation", "frames", "exactly", "1")],
}  # fmt: skip
FORMS = {
    "en": ["If it's a {f} {r}", "If you send a {f}, {r}", "If {f}: {r}", "For a {f} {r}", "For {f}s: {r}", "With {f}: {r}",
           "When using {f}, {r}", "Where a {f} is sent, {r}", "In the case of {f}, {r}", "Should you send a {f}, {r}",
           "{r} if it is a {f}", "{r} if you send a {f}", "{r} for {f} files", "{r} (for {f}s)", "{r} when using {f}"],
    "de": ["Wenn es ein {f} ist, {r}", "Falls {f}: {r}", "Bei {f} {r}", "Bei {f}-Dateien {r}", "Für {f}: {r}",
           "Wer ein {f} schickt: {r}", "Im Fall von {f}: {r}", "{r} bei {f}-Dateien", "{r} (bei {f})", "{r}, wenn es ein {f} ist"],
}  # fmt: skip
BEFORE = {"en": "JPEG, PNG, TIFF, WebP or GIF. ", "de": "JPEG, PNG, TIFF, WebP oder GIF. "}
REFUSED = {
    "en": ["{f}s must not have an alpha channel", "{f} files may not be transparent", "{f}s with transparency are refused",
           "Transparent {f}s are not accepted", "No {f}s with transparency", "We cannot use {f}s with transparency",
           "Don't send {f}s with an alpha channel"],
    "de": ["{f}s dürfen keine Transparenz haben", "{f}s mit Transparenz werden abgelehnt", "Keine {f}s mit Alphakanal",
           "Transparente {f}s nehmen wir nicht an", "{f}s dürfen nicht transparent sein"],
}  # fmt: skip


@given(st.data(), st.sampled_from(["en", "de"]), st.sampled_from(list(FORMATS)), st.booleans())
def test_what_holds_for_one_format_depends_on_it_and_asks_for_none(data, language, name, listed):
    form = data.draw(st.sampled_from(FORMS[language]))
    words, measure, bound, value = data.draw(st.sampled_from(RULES[language]))
    said = form.format(f=name, r=words)
    before = BEFORE[language] if listed else ""
    drafts = read(f"{before}{said[0].upper()}{said[1:]}.", language).drafts
    formats = [d.fields for d in drafts if d.fields.get("measure") == "format"]
    assert formats == ([{"measure": "format", "one_of": formats[0]["one_of"]}] if listed else [])
    assert not listed or set(formats[0]["one_of"]) == set(FORMATS.values())
    held = [d.fields for d in drafts if d.fields.get("measure") == measure]
    assert [f[bound] for f in held] == [value]
    assert held[0]["when"] == {"measure": "format", "exactly": FORMATS[name]}


@pytest.mark.parametrize("language", ["en", "de"])
def test_a_format_is_not_refused_for_a_property_that_is(language):
    for form in REFUSED[language]:
        for name, key in FORMATS.items():
            (clause,) = (d.fields for d in read(form.format(f=name) + ".", language).drafts)
            assert clause == {"measure": "transparency", "exactly": "none",
                              "when": {"measure": "format", "exactly": key}}, form  # fmt: skip


def test_several_formats_are_named_together():
    (clause,) = (d.fields for d in read("If it's a PNG or a GIF, no transparency.").drafts)
    assert clause["when"] == {"measure": "format", "one_of": ["png", "gif"]}


@pytest.mark.parametrize(
    "said",
    [
        "If you can't send a TIFF, send a JPEG.",
        "If you send a PNG with transparency the mug shows through.",
        "Use TIFF if you have it.",
        "PNGs must not be sent.",
        "PNGs are not accepted.",
    ],
)
def test_what_is_no_condition_of_a_format_makes_none(said):
    assert not any("when" in draft.fields for draft in read(said).drafts)


def test_what_holds_for_the_only_format_that_is_taken_simply_holds():
    drafts = read("Only JPEG is accepted. If you send a JPEG, use quality 90 or more.").drafts
    assert [d.fields for d in drafts] == [
        {"measure": "format", "exactly": "jpeg"},
        {"measure": "quality", "at_least": "90"},
    ]


@pytest.mark.parametrize(
    ("said", "taken"),
    [
        ("JPG, PNG, WEBP. GIFs are fine but won't move.", ["jpeg", "png", "webp", "gif"]),
        ("JPEG or PNG please. No GIF. TIFF is also possible.", ["jpeg", "png", "tiff"]),
        ("JPEG oder PNG. TIFF ist in Ordnung.", ["jpeg", "png", "tiff"]),
    ],
)
def test_what_is_allowed_beside_is_taken_as_well(said, taken):
    first = next(d.fields for d in read(said).drafts if "one_of" in d.fields)
    assert first == {"measure": "format", "one_of": taken}
    assert [d.fields for d in read("TIFF is fine.").drafts] == []


@pytest.mark.parametrize(
    "said",
    [
        "Keep important things 60 px away from each edge",
        "Wichtiges mindestens 60 px vom Rand entfernt halten",
        "Logos 20 px Abstand zum Rand",
        "Important content must stay 60 px clear of the edges",
    ],
)
def test_how_far_something_stays_from_the_edge_is_asked_and_is_no_side(said):
    drafts = read(f"1920 x 1080 px. {said}.").drafts
    assert [d.fields for d in drafts] == [
        {"measure": "size", "exactly": "1920 x 1080"},
        {"ask": said},
    ]


def test_what_prints_will_be_asks_for_no_size():
    assert read("Prints at the final will be 60 cm wide.").drafts == ()
    (clause,) = (d.fields for d in read("Prints must be 60 cm wide.").drafts)
    assert clause == {"measure": "print_width", "exactly": "60 cm"}


@pytest.mark.parametrize(
    ("said", "months"),
    [
        ("The photo must not be older than half a year.", "6 months"),
        ("Nicht älter als ein halbes Jahr.", "6 months"),
        ("Das Bild darf nicht älter als eineinhalb Jahre sein.", "18 months"),
        ("Not older than 2.5 years.", "30 months"),
    ],
)
def test_a_year_and_a_half_is_no_year(said, months):
    (clause,) = (d.fields for d in read(said).drafts)
    assert clause == {"measure": "shot_age", "at_most": months}


@pytest.mark.parametrize("said", ["For clothing use 3:4 upright.", "Bei Kleidung Hochformat 3:4."])
def test_what_holds_for_what_is_pictured_is_doubted(said):
    drafts = read(said).drafts
    assert len(drafts) == 2 and all(d.certainty == "doubtful" for d in drafts)


@pytest.mark.parametrize(
    ("said", "measure"),
    [
        ("The picture must be at least 600, at most 3000 px wide.", "width"),
        ("The picture must be 600 px (minimum) to 3000 px (maximum) wide.", "width"),
        ("The long side must be 600 minimum, 3000 px maximum.", "longest_side"),
        ("Das Bild muss mindestens 600 und höchstens 3000 px breit sein.", "width"),
    ],
)
def test_the_side_that_is_said_behind_two_bounds_is_that_of_both(said, measure):
    drafts = read(said).drafts
    assert [d.fields for d in drafts] == [
        {"measure": measure, "at_least": "600"},
        {"measure": measure, "at_most": "3000"},
    ]
    assert all(d.certainty == "sure" for d in drafts)


@pytest.mark.parametrize(
    ("said", "read_as"),
    [
        ("PNG oder WebP. WebP verlustfrei.", [["png", "webp"]]),
        ("JPG, sRGB. PNG nur mit weißem Hintergrund.", [["jpeg", "png"]]),
        ("TIFF. JPEG only with maximum quality.", [["tiff", "jpeg"]]),
        ("JPEG, PNG. For PNGs transparency is kept.", [["jpeg", "png"]]),
    ],
)
def test_a_format_among_others_is_not_the_only_one(said, read_as):
    drafts = [d for d in read(said).drafts if d.certainty == "sure"]
    formats = [d.fields["one_of"] for d in drafts if d.fields.get("measure") == "format"]
    assert formats == read_as and not any("transparency" in d.fields.values() for d in drafts)


@pytest.mark.parametrize("said", ["Scans bitte mit 600 dpi, mindestens jedoch 300 dpi.", "600 dpi, but at least 300 dpi."])  # fmt: skip
def test_a_figure_above_the_least_that_is_taken_is_wished_for(said):
    wished, least = read(said).drafts
    assert wished.certainty == "doubtful" and wished.fields["strength"] == "should"
    assert least.fields == {"measure": "ppi", "at_least": "300"}


def test_a_line_on_light_pictures_alone_is_doubted_and_what_is_looked_at_has_no_shape():
    (line,) = read("White creatives need a 1 px grey border.").drafts
    assert line.certainty == "doubtful"
    assert not any(d.fields.get("measure") == "aspect" for d in read("Sharp at 1:1.").drafts)


@pytest.mark.parametrize(
    ("said", "clause"),
    [
        ("JPG or PNG accepted. JPEG at quality 85.", {"measure": "quality", "exactly": "85", "when": {"measure": "format", "exactly": "jpeg"}}),
        ("TIFF oder JPEG. TIFF mit LZW.", {"measure": "packing", "exactly": "lzw", "when": {"measure": "format", "exactly": "tiff"}}),
        ("JPEG or PNG. PNG with transparency.", {"measure": "transparency", "exactly": "present", "when": {"measure": "format", "exactly": "png"}}),
    ],
)  # fmt: skip
def test_how_one_of_several_formats_is_to_be_is_of_that_one(said, clause):
    formats, own = (d.fields for d in read(said).drafts)
    assert len(formats["one_of"]) == 2 and own == clause


@pytest.mark.parametrize(
    ("said", "taken"),
    [
        ("For JPEG: at most 2 MB. For PNG: at most 5 MB.", ["jpeg", "png"]),
        ("Für JPEG gilt: max. 2 MB. Für TIFF gilt: max. 20 MB.", ["jpeg", "tiff"]),
        ("Please mind the size. Max. 2 MB for JPEG. Max. 5 MB for PNG.", ["jpeg", "png"]),
        ("If it's a PNG, no transparency. If it's a GIF, no animation.", []),
        ("JPEG or PNG. For PNG: at most 5 MB. For JPEG: at most 2 MB.", ["jpeg", "png"]),
    ],
)
def test_formats_that_each_have_a_limit_of_their_own_are_those_that_are_taken(said, taken):
    drafts = read(said).drafts
    formats = [d.fields["one_of"] for d in drafts if d.fields.get("measure") == "format"]
    assert formats == ([taken] if taken else [])
    own = [d.fields for d in drafts if d.fields.get("measure") != "format"]
    assert len(own) == 2 and all("when" in fields for fields in own)
