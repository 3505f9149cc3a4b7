"""Rules in words: of what something is said. What becomes of pictures that are not named, a refusal that holds for two bounds,
pictures of one kind alone, what is left out, and what lies above a head."""

from __future__ import annotations

import pytest

from aptandum.core.rulebook.words import read
from rules_told import of, told


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Leave 10 % clear space above the head.", [of("headroom", exactly="10 %")]),
        ("10 % above the head.", [of("headroom", exactly="10 %")]),
        ("The face takes up 70 to 80 % of the picture.", [of("head_height", between=["70 %", "80 %"])]),
        ("The picture must not be compressed more than 20:1.", [of("compression", at_most="20")]),
        ("Compression must not exceed 20:1.", [of("compression", at_most="20")]),
        ("Greyscale pictures have to be saved as RGB.", [of("colour_space", none_of=["cmyk", "grey"])]),
        ("Greyscale images only.", [of("channels", exactly="grey")]),
        ("GPS data must be stripped before upload.", [of("location", exactly="none")]),
        ("GPS-Daten müssen gelöscht werden.", [of("location", exactly="none")]),
        ("Neither width nor height may go over 2500 px.", [of("longest_side", at_most="2500")]),
        ("Weder Breite noch Höhe dürfen 2500 px überschreiten.", [of("longest_side", at_most="2500")]),
        ("Dateien, die 4 MB überschreiten, werden abgelehnt.", [of("file_bytes", at_most="4 MB")]),
        (
            "Pictures larger than 1 MB are refused, smaller than 100 KB as well.",
            [of("file_bytes", at_most="1 MB"), of("file_bytes", at_least="100 KB")],
        ),
        (
            "Long side 2000-3000 px; short side not under 1200.",
            [of("longest_side", between=["2000", "3000"]), of("shortest_side", at_least="1200")],
        ),
        (
            "PNG preferred; if that is not possible, a JPEG.",
            [of("format", exactly="png", strength="should"), of("format", one_of=["png", "jpeg"])],
        ),
    ],
)  # fmt: skip
def test_it_is_read_and_sure(text, rules):
    assert told(text) == rules
    assert {draft.certainty for draft in read(text).drafts if "ask" not in draft.fields} == {"sure"}


@pytest.mark.parametrize(
    ("text", "rule"),
    [
        ("Bigger than 3000px will be downsized automatically.", of("longest_side", at_most="3000", strength="should")),
        ("Over 4 MB is compressed by us.", of("file_bytes", at_most="4 MB", strength="should")),
        ("A thin white keyline of 2 pixels may be added.", of("keyline_width", at_most="2")),
        ("Remove all metadata except copyright.", of("metadata", exactly="none")),
    ],
)  # fmt: skip
def test_it_is_read_and_asked(text, rule):
    drafts = [draft for draft in read(text).drafts if "ask" not in draft.fields]
    assert [dict(draft.fields) for draft in drafts] == [rule]
    assert drafts[0].certainty == "doubtful"
