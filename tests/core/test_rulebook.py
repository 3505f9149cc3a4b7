from __future__ import annotations

import random
from pathlib import Path

import pytest

from aptandum.core.judge.measures import STATED
from aptandum.core.rulebook.contradictions import contradictions
from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.rulebook.shelf import BriefNotFound, read_shelf, shipped_paths
from aptandum.core.rulebook.slips import slips
from aptandum.core.rulebook.toml import parse_rulebook, read_rulebook
from samples import brief_of, clause

SOUND = """format = 1
# who publishes them
[body]
id = "pier-office"
name = "Pier Office"
edition = "3"
read_on = 2026-11-02

[[brief]]
id = "notice"
title = "Notice picture"
allows = ["turn", "cut"]

  [[brief.clause]]
  measure = "size"
  one_of = ["630 x 840", "840 x 630"]
  quote = "630 by 840"

  [[brief.clause]]
  id = "wide"
  measure = "width"
  at_least = 300
  at_most = "1 600 px"
  applies = "landscape"
  strength = "should"

  [[brief.clause]]
  measure = "head_height"
  between = ["62 %", "70 %"]

  [[brief.clause]]
  ask = "Both eyes open"

  [[brief.seen]]
  as = "handset"
  zones = [
    { name = "clock", left = "0 %", top = "7 %", width = "100 %", height = "15 %" },
  ]

  [brief.template]
  size = "744 x 628"
  [[brief.template.panel]]
  name = "left"
  outline = [[24, 20], [360, 20], [360, 300]]
"""


def problems(text: str) -> list[tuple[int, str]]:
    with pytest.raises(RulebookError) as caught:
        parse_rulebook(text, "book.toml")
    for problem in caught.value.problems:
        assert str(problem).startswith("book.toml") and problem.stood and problem.expected
    return [(p.line, p.where.rsplit(".", 1)[-1]) for p in caught.value.problems]


def test_a_sound_rulebook_is_read_whole():
    book = parse_rulebook(SOUND)
    brief = book.briefs[0]
    assert (book.body.name, book.body.edition, f"{book.body.read_on}") == (
        "Pier Office",
        "3",
        "2026-11-02",
    )
    assert [c.id for c in brief.clauses] == ["size", "wide", "head_height", "ask"]
    assert brief.clauses[1].applies == ("landscape",) and brief.clauses[1].strength == "should"
    assert brief.clauses[1].limit.at_most == 1600
    assert brief.clauses[2].limit.at_least == 0.62
    assert brief.allows == ("turn", "cut")
    assert brief.seen[0].zones[0].top == pytest.approx(0.07)
    assert brief.template.panels[0].outline[1] == (360, 20)
    assert brief.clauses[0].line == 14


# What is changed in the sound text, and the line and key that must be named.
BROKEN = [
    ("format = 1", "format = 2", 1, "format"),
    ('id = "pier-office"', 'id = "Pier Office"', 4, "id"),
    ('name = "Pier Office"', "name = 7", 5, "name"),
    ('name = "Pier Office"\n', "", 3, "body"),
    ("read_on = 2026-11-02", 'read_on = "soon"', 7, "read_on"),
    ('edition = "3"', 'edtion = "3"', 6, "edtion"),
    ('title = "Notice picture"\n', "", 9, "1"),
    ('allows = ["turn", "cut"]', 'allows = ["turn", "paint"]', 12, "allows"),
    ('measure = "size"', 'measure = "sice"', 15, "measure"),
    ('measure = "size"', 'measure = "size"\n  at_last = "3 x 4"', 16, "at_last"),
    ('one_of = ["630 x 840", "840 x 630"]', "one_of = []", 16, "one_of"),
    ('one_of = ["630 x 840", "840 x 630"]', "at_least = 3", 16, "at_least"),
    ('one_of = ["630 x 840", "840 x 630"]', 'one_of = ["630 and 840"]', 16, "one_of"),
    ('one_of = ["630 x 840", "840 x 630"]', 'exactly = "630 x 840"\n  one_of = ["3 x 4"]', 14, "1"),
    ("at_least = 300", "at_least = 1601", 23, "at_most"),
    ("at_least = 300", "at_least = true", 22, "at_least"),
    ('applies = "landscape"', 'applies = "sideways"', 24, "applies"),
    ('strength = "should"', 'strength = "may"', 25, "strength"),
    ('between = ["62 %", "70 %"]', 'between = ["70 %", "62 %"]', 29, "between"),
    ('between = ["62 %", "70 %"]', "between = [62, 70]", 29, "between"),
    ('between = ["62 %", "70 %"]', 'between = ["62 %"]', 29, "between"),
    ('ask = "Both eyes open"', 'ask = "Both eyes open"\n  exactly = 1', 33, "exactly"),
    ('ask = "Both eyes open"', 'ask = "x"\n  measure = "size"', 31, "4"),
    ('as = "handset"', 'as = "pocket"', 35, "as"),
    ('width = "100 %"', 'width = "120 %"', 37, "1"),
    ('size = "744 x 628"', 'size = "100 x 100"', 44, "outline"),
    ("[360, 300]]", "[360]]", 44, "outline"),
]


@pytest.mark.parametrize(("old", "new", "line", "where"), BROKEN)
def test_an_error_names_line_and_key(old, new, line, where):
    assert old in SOUND
    assert (line, where) in problems(SOUND.replace(old, new, 1))


def test_all_errors_come_at_once():
    text = SOUND.replace('"size"', '"sice"').replace('"should"', '"may"').replace("format = 1", "")
    assert len(problems(text)) == 3


def test_a_near_word_is_suggested():
    with pytest.raises(RulebookError, match='"height" is the nearest'):
        parse_rulebook(SOUND.replace('"width"', '"heigth"'))


def test_toml_that_is_none_names_its_line():
    assert problems("format = 1\n[body\n")[0][0] == 2


def test_a_picture_must_lie_beside(tmp_path: Path):
    path = tmp_path / "book.toml"
    for name, sound in (("edge.png", False), ("../edge.png", False), ("here.png", True)):
        (tmp_path / "here.png").write_bytes(b"x")
        path.write_text(SOUND + f'\n  [brief.border]\n  picture = "{name}"\n')
        if sound:
            assert read_rulebook(path).briefs[0].border == name
        else:
            with pytest.raises(RulebookError, match="beside|without a folder"):
                read_rulebook(path)


@pytest.mark.parametrize("raw", [b"\xff\xfe", b"", b"\0", "title = 'é'".encode("latin-1")])
def test_bytes_that_are_no_rulebook(tmp_path: Path, raw: bytes):
    (tmp_path / "b.toml").write_bytes(raw)
    with pytest.raises(RulebookError, match="b.toml"):
        read_rulebook(tmp_path / "b.toml")


def test_a_missing_file_is_said(tmp_path: Path):
    with pytest.raises(RulebookError, match="nothing.toml"):
        read_rulebook(tmp_path / "nothing.toml")


def test_mutated_files_raise_nothing_but_the_rulebook_error():
    rng = random.Random(5)
    bits = ["[[", "]", '"', "=", "\n", "0", "-", "{", "true", "'''", "\0", "é", "1e999", "brief"]
    for _ in range(400):
        text = SOUND
        for _ in range(rng.randint(1, 4)):
            at = rng.randrange(len(text))
            text = text[:at] + rng.choice(bits) + text[at + rng.randint(0, 6) :]
        try:
            parse_rulebook(text)
        except RulebookError as error:
            assert error.problems


def test_every_measure_of_the_language_is_known():
    words = [
        "size",
        "width",
        "height",
        "longest_side",
        "shortest_side",
        "aspect",
        "megapixels",
        "orientation",
        "enlargement",
        "ppi",
        "print_width",
        "print_height",
        "print_longest",
        "print_shortest",
        "print_size",
        "format",
        "file_bytes",
        "name_pattern",
        "name_length",
        "frames",
        "progressive",
        "location",
        "colour_space",
        "profile",
        "channels",
        "bits",
        "transparency",
        "head_height",
        "headroom",
        "head_nod",
        "eye_distance",
        "head_width",
        "eyes_open",
        "mouth_closed",
        "red_eye",
        "glasses",
        "glasses_glare",
        "frames_over_eyes",
        "hair_over_eyes",
        "gaze",
        "face_colour",
        "face_compression",
        "shoulders",
        "shoulder_tilt",
        "face_light",
        "face_tones",
        "hot_spots",
        "face_sharpness",
        "backdrop_shadow",
        "eye_line",
        "head_offset",
        "head_tilt",
        "head_turn",
        "people",
        "backdrop_lightness",
        "backdrop_plainness",
        "backdrop_contrast",
        "sharpness",
        "clipped",
        "clipped_channel",
        "subject_fill",
        "keyline_width",
        "zones_clear",
        "legible_at",
        "kept_empty",
        "keyline_share",
        "backdrop_colour",
        "edge_colour",
        "packing",
        "quality",
        "chroma",
        "compression",
        "bits_per_pixel",
        "colours",
        "duration",
        "frame_rate",
        "credit",
        "copyright",
        "caption",
        "date",
        "camera",
        "metadata",
        "place_name",
        "set_count",
        "set_bytes",
        "shot_age",
        "shot_date",
        "name_whole",
        "name_begins",
        "name_ends",
        "name_holds",
        "name_ending",
    ]
    assert sorted(words) == sorted(STATED)


def test_the_shipped_rulebooks_are_sound_and_found_by_name():
    assert shipped_paths()
    shelf = read_shelf()
    assert shelf.find("vessary-ferries/deck-pass")[1].title == "Deck pass portrait"
    assert shelf.find("vessary-ferries")[1].id == "deck-pass"
    for name in ("nobody", "vessary-ferries/x", "quayside-exchange"):
        with pytest.raises(BriefNotFound, match="There is no"):
            shelf.find(name)


# -- below and above -------------------------------------------------------------------------


def test_below_and_above_leave_the_number_itself_out():
    brief = brief_of(
        clause("file_bytes", below="1 MB")
        + clause("width", above=500, at_most=900)
        + clause("size", below="800 x 600")
    )
    bytes_, width, size = (c.limit for c in brief.clauses)
    assert bytes_.at_most == 999_999 and not bytes_.allows(1_000_000) and bytes_.allows(999_999)
    assert (width.at_least, width.at_most) == (501, 900)
    assert size.at_most == (799, 599)
    said = [c.limit.says(STATED[c.measure].kind).replace("\u00a0", " ") for c in brief.clauses]
    assert said == ["below 1.00 MB", "above 500 px, at most 900 px", "below 800 × 600 px"]


@pytest.mark.parametrize(
    "text, why",
    [
        (clause("aspect", below="3:2"), "whole number"),
        (clause("width", below=300, at_most=300), "together"),
        (clause("width", above=300, below=301), "not above the upper"),
        (clause("format", below="jpeg"), "whole number"),
    ],
)
def test_a_bound_that_cannot_be_open_is_named(text, why):
    with pytest.raises(RulebookError, match=why):
        brief_of(text)


# -- slips ---------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "limit, quote, said",
    [
        ({"at_least": "75 px"}, "at least 750 pixels wide", "750 pixels"),
        ({"at_least": 750}, "no more than 750 pixels wide", "other way round"),
        ({"at_most": 750}, "a minimum of 750 pixels", "other way round"),
        ({"between": ["60 px", "250 px"]}, "60 to 2500 pixels", "2500 pixels"),
    ],
)
def test_a_limit_that_does_not_say_what_its_quote_says(limit, quote, said):
    brief = brief_of(clause("width", **limit, quote=quote))
    (found,) = slips(brief)
    assert said in found.says and quote in found.says


@pytest.mark.parametrize(
    "measure, limit, quote, said",
    [
        ("file_bytes", {"at_most": "250 KB"}, "at most 2500 KB", "2500 KB"),
        ("size", {"exactly": "630 x 840"}, "630 x 480 pixels", "630 × 480"),
        ("ppi", {"exactly": 300}, "at 600 dpi", "600 dpi"),
        ("head_height", {"between": ["62 %", "70 %"]}, "62 to 75 %", "75 %"),
        ("megapixels", {"at_most": 12}, "no more than 1.2 megapixels", "1.2 megapixels"),
        ("print_width", {"exactly": "35 mm"}, "53 mm wide", "53 mm"),
    ],
)
def test_slips_in_every_kind_of_number(measure, limit, quote, said):
    (found,) = slips(brief_of(clause(measure, **limit, quote=quote)))
    assert said in found.says


@pytest.mark.parametrize(
    "measure, limit, quote",
    [
        ("file_bytes", {"below": "1 MB"}, "less than 1 MB"),
        ("file_bytes", {"between": ["60 KB", "250 KB"]}, "between 60 and 250 KB"),
        ("width", {"exactly": 630}, "630 pixels wide and 840 pixels high"),
        ("width", {"at_least": 1150}, "1150 x 230 pixels or more"),
        ("width", {"at_most": 1920}, "a maximum of 1,920 px"),
        ("longest_side", {"between": [1440, 4000]}, "at least 1440 pixels"),
        ("width", {"at_most": 1920}, "see section 4"),
    ],
)
def test_what_is_said_rightly_is_no_slip(measure, limit, quote):
    assert slips(brief_of(clause(measure, **limit, quote=quote))) == ()


def test_the_shelf_has_no_slips():
    for book in read_shelf().rulebooks:
        for brief in book.briefs:
            assert slips(brief) == ()


def test_a_format_that_holds_no_profile_cannot_be_asked_for_one():
    brief = brief_of(clause("format", exactly="bmp") + clause("profile", exactly="embedded"))
    (found,) = contradictions(brief)
    assert "BMP cannot hold" in found.says
