"""A row of rules in one sentence: what is measured is read, and only what is left is asked of a person."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aptandum.core.rulebook.words import read

MEASURED = {
    "35 x 45 mm": "size", "at most 240 KB": "file_bytes", "JPEG": "format", "600 dpi": "ppi", "sRGB": "colour_space",
    "head 70 to 80 % of the height": "head_height", "not older than 6 months": "shot_age",
}  # fmt: skip
JUDGED = ("light grey background", "mouth closed", "no glasses", "neutral expression", "no hat")


def asked(text: str) -> list[str]:
    return [str(d.fields["ask"]) for d in read(text).drafts if "ask" in d.fields]


def measured(text: str) -> dict[str, tuple[str, str, str]]:
    drafts = [d for d in read(text).drafts if "ask" not in d.fields]
    return {
        str(d.fields["measure"]): next(
            (key, str(value), d.certainty)
            for key, value in d.fields.items()
            if key not in ("measure", "strength")
        )
        for d in drafts
    }


@given(
    st.lists(st.sampled_from([*MEASURED, *JUDGED]), min_size=2, max_size=8, unique=True)
    .filter(lambda row: any(one in MEASURED for one in row))
)  # fmt: skip
def test_what_is_measured_is_read_and_the_rest_is_asked_piece_by_piece(row):
    text = ", ".join(row)
    read_as = measured(text)
    assert {MEASURED[one] for one in row if one in MEASURED} <= set(read_as)
    assert all(one[0].isupper() for one in asked(text))  # each is a question of its own
    said = ", ".join(asked(text)).lower().split(", ") if asked(text) else []
    assert said == [one for one in row if one in JUDGED]


@pytest.mark.parametrize(
    ("text", "questions"),
    [
        ("The photo is 600 x 600 px, with a plain white background and no shadows, and at most 240 kB.",
         ["With a plain white background and no shadows"]),
        ("JPEG, no watermarks, no borders, no signatures", ["No watermarks", "No signatures"]),
        ("No signatures, no files over 4 MB", ["No signatures"]),
        ("150dpi, weißer Hintergrund, nur PNG, Titelbild, danke", ["Weißer Hintergrund"]),
        ("600 x 400 px, name_01.jpg without spaces", ["name_01.jpg without spaces"]),
        ("Farbfoto, 35 x 45 mm, neutraler Hintergrund, höchstens 2 MB, keine Brille", ["Neutraler Hintergrund", "Keine Brille"]),
    ],
)  # fmt: skip
def test_pieces_that_follow_each_other_are_one_question(text, questions):
    assert asked(text) == questions


@pytest.mark.parametrize(
    "text",
    [
        "If the background is white, add a border of 1 px",
        "Photos with text on them, watermarks, or smaller than 1000 px will be rejected",
        "No watermarks, 1200 px wide, signatures",
        "2000 px wide, for a sharp picture",
        "At most 6, 2000 px wide, two of them with a white background",
        "We do not accept files over 8 MB, collages",
    ],
)
def test_a_sentence_whose_pieces_hang_together_is_asked_whole(text):
    assert asked(text) == [text]


@pytest.mark.parametrize(
    ("text", "limit"),
    [
        ("No signatures, files over 4 MB", ("at_most", "4 MB", "sure")),
        ("Keine Rahmen, keine Schrift, Dateien über 4 MB", ("at_most", "4 MB", "sure")),
        ("No borders, text or files over 4 MB", ("at_most", "4 MB", "sure")),
        ("Files over 4 MB", ("above", "4 MB", "doubtful")),
        ("No GIFs, files under 4 MB", ("below", "4 MB", "sure")),
    ],
)
def test_a_denial_reaches_pictures_that_are_only_named_with_a_comparison(text, limit):
    assert measured(text)["file_bytes"] == limit


def test_a_border_that_is_denied_is_not_as_wide_as_the_pictures_named_after_it():
    said = measured("No borders, text or images smaller than 800 px wide.")
    assert said["keyline_width"] == ("exactly", "0", "sure")
    assert said["width"] == ("at_least", "800", "sure")
    assert measured("Borders on images must not exceed 3 px")["keyline_width"] == ("at_most", "3", "sure")  # fmt: skip


@pytest.mark.parametrize("pose", ["mouth closed", "eyes open to the camera", "eyes closed is refused", "feet seen"])  # fmt: skip
def test_how_somebody_looks_takes_no_size_away(pose):
    assert measured(f"35 x 45 mm, {pose}")["size"] == ("exactly", "35 x 45 mm", "sure")
