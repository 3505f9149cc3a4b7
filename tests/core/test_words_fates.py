"""What becomes of a kind of pictures is told, and neither wanted nor refused: it is asked, both ways round."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aptandum.core.rulebook.words import read
from aptandum.core.rulebook.words.sources import of_bytes

KINDS = {
    "TIFF files": ("format", "tiff"),
    "GIFs": ("format", "gif"),
    "BMP pictures": ("format", "bmp"),
    "Landscape shots": ("orientation", "landscape"),
    "Interlaced files": ("progressive", "progressive"),
    "Transparent images": ("transparency", "present"),
}
FATES = (
    "crash the frame", "vanish from the screen", "make our old server sad", "end up sideways", "are turned into mush",
    "get black bars", "stay white", "confuse the scanner", "arrive as empty boxes", "lose their edges",
)  # fmt: skip


@given(kind=st.sampled_from(sorted(KINDS)), fate=st.sampled_from(FATES))
def test_what_becomes_of_a_kind_is_never_a_sure_rule(kind: str, fate: str):
    measure, name = KINDS[kind]
    drafts = [d for d in read(f"{kind} {fate}.").drafts if d.fields.get("measure") == measure]
    for draft in drafts:
        said = [draft.fields, *draft.readings]
        assert draft.certainty == "doubtful"
        assert any(one.get("exactly") == name for one in said)
        assert any(one.get("exactly") != name for one in said)


@pytest.mark.parametrize(
    "text",
    [
        "TIFF files only.",
        "TIFF files are accepted.",
        "TIFF files saved with LZW.",
        "TIFF is our archive format.",
        "TIFF straight from the scanner.",
        "TIFF files must be sent.",
    ],
)
def test_a_format_that_is_asked_for_stays_sure(text: str):
    [draft] = [d for d in read(text).drafts if d.fields["measure"] == "format"]
    assert draft.certainty == "sure" and draft.fields["exactly"] == "tiff"


@pytest.mark.parametrize(
    ("text", "wished"),
    [
        ("JPEG is what we like best.", True),
        ("We like JPEG best.", True),
        ("JPEG travels best.", True),
        ("JPEG is our favourite.", True),
        ("JPEG is what we take.", False),
    ],
)
def test_what_is_liked_is_a_wish(text: str, wished: bool):
    [draft] = [d for d in read(text).drafts if d.fields["measure"] == "format"]
    assert (draft.fields.get("strength") == "should") == wished


def by_brief(text: str) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for draft in read(of_bytes(text.encode())).drafts:
        found.setdefault(draft.brief, []).append(str(draft.fields.get("measure", "ask")))
    return found


ROWS = "\n| Screen | Pixels | Format |\n|---|---|---|\n| Hall | 3840 x 1080 | JPEG |\n| Desk | 800 x 480 | PNG |\n"


def test_what_stands_below_a_table_of_pictures_is_of_all():
    found = by_brief(f"Our screens\n{ROWS}\nEach file at most 2 MB.\nNo logos, please.\n")
    assert found["Hall"] == found["Desk"] == ["size", "format"]
    assert found[""] == ["file_bytes", "ask"]


def test_a_picture_is_named_by_how_many_are_wanted():
    text = (
        "1 group portrait, 3000 x 2000 px or larger, 5-15 MB\n"
        "1 square portrait, 2000 x 2000 px, up to 5 MB\n2 logos, PNG, at least 1000 px wide\n"
    )
    found = by_brief(text)
    assert set(found) == {"group portrait", "square portrait", "logos"}
    assert "width" in found["logos"] and "file_bytes" not in found["logos"]


def test_a_picture_is_named_right_before_its_size():
    text = "Icon 512 x 512 PNG\nFeature picture 1024 x 500 JPEG\nEach up to 1 MB.\n"
    assert {"Icon", "Feature picture"} <= set(by_brief(text))
    assert set(by_brief("Exactly 512 x 512 px\nAt most 1024 x 1024 px\n")) == {""}


@pytest.mark.parametrize(
    ("text", "shape"),
    [("Photos must be 4 by 3.", "4:3"), ("Format 16x9.", "16:9"), ("8x10 prints", "8:10")],
)
def test_a_size_of_so_few_pixels_is_a_shape(text: str, shape: str):
    [draft] = read(text).drafts
    assert (draft.fields["measure"], draft.fields["exactly"]) == ("aspect", shape)


@pytest.mark.parametrize(
    "text",
    ["Icons of 16 x 16.", "8 x 10 inches", "Sheet of 5 x 4 thumbnails.", "8 x 10 px"],
)
def test_a_size_that_has_a_unit_or_is_square_is_none(text: str):
    assert not [d for d in read(text).drafts if d.fields["measure"] == "aspect"]


@pytest.mark.parametrize(
    "text",
    [
        "Nothing that matters within 60 pixels of an edge.",
        "The frame cuts 20 px on each outer edge.",
        "Margin: 50 px clear of text.",
        "Rand: 50 Pixel rundum frei von Text",
    ],
)
def test_what_has_to_stay_free_measures_no_side(text: str):
    assert [set(d.fields) for d in read(text).drafts] == [{"ask"}]


def test_a_number_that_only_counts_its_line_is_told_apart():
    reading = read("1. JPEG only.\n2. At most 2 MB.\nB.3 Sent by 4 o'clock.\n")
    assert [(a.counts, a.start) for a in reading.asides] == [
        (True, 0),
        (True, 14),
        (True, 33),
        (False, 43),
    ]


def test_a_rule_is_not_doubted_by_what_becomes_of_the_others():
    text = "Baseline JPEGs only; progressive JPEGs show up as a grey box."
    [draft] = [d for d in read(text).drafts if d.fields["measure"] == "progressive"]
    assert (draft.certainty, draft.fields["exactly"]) == ("sure", "baseline")


def test_pictures_named_right_before_their_sizes_keep_each_its_own():
    text = "Screenshots 1242 x 2688 px, PNG oder JPEG. Icon 1024 x 1024 px PNG."
    sizes = {d.brief: d.fields["exactly"] for d in read(text).drafts if d.fields["measure"] == "size"}  # fmt: skip
    assert sizes == {"Screenshots": "1242 x 2688", "Icon": "1024 x 1024"}
