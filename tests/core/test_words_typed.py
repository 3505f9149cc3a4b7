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
