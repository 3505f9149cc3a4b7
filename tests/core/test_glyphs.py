"""Every letter of the European alphabets is drawn, and one that no font has is said."""

from __future__ import annotations

import itertools
import unicodedata

import numpy as np
import pytest
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.fitting.finish.caption import Caption, fitting_size, letters
from aptandum.core.fitting.finish.glyphs import DOTS, NAMES, missing, runs
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from samples import brief_of, clause

RANGES = ((0x21, 0x7F), (0xA1, 0x180), (0x218, 0x21C), (0x386, 0x3CF), (0x400, 0x460), (0x490, 0x492), (0x1E80, 0x1E86), (0x1E9E, 0x1E9F), (0x1EF2, 0x1EF4))  # fmt: skip
"""Latin of all European languages, Greek and Cyrillic."""
ALPHABETS = [
    chr(c)
    for low, high in RANGES
    for c in range(low, high)
    if unicodedata.category(chr(c))[0] in "LN"
]


def drawn(text: str, font: str) -> np.ndarray:
    found = letters(Caption(text=text, size=48, font=font, anchor="middle"), (160, 160), 1.0, False)
    assert found is not None and found.share is not None
    return found.share


@pytest.mark.parametrize("font", NAMES)
@pytest.mark.long
def test_every_letter_of_the_european_alphabets_is_no_empty_box(font):
    box = drawn("\uffff", font)
    plain = drawn("\uffff", "sans bold" if "bold" in font else "sans")
    for letter in ALPHABETS:
        share = drawn(letter, font)
        assert share.size, letter
        for blank in (box, plain):
            assert share.shape != blank.shape or not np.array_equal(share, blank), letter
    assert missing("".join(ALPHABETS), font) == ()


def test_a_letter_that_the_font_has_not_is_drawn_by_one_like_it():
    parts, wide = runs("Pier ΔΩ 7", "mono", 40.0)
    assert [part.text for part in parts] == ["Pier ", "ΔΩ", " 7"]
    assert parts[1].font.getname()[0] != parts[0].font.getname()[0]
    assert parts[2].left < wide and all(a.left < b.left for a, b in itertools.pairwise(parts))


def test_one_that_no_font_has_is_said(tmp_path):
    path = tmp_path / "tile.png"
    Image.new("RGB", (200, 100), "#335577").save(path)
    settings = Settings().having({"finish.caption.text": "Quay 港 港"})
    proof = conform(open_photo(path), brief_of(clause("format", exactly="png")), settings)
    assert any("No shipped font has “港”: an empty box" in note for note in proof.line.notes)


@pytest.mark.parametrize("size", [*range(7, 21), 24, 28, 40, 64, 97])
def test_the_font_for_dots_has_whole_dots_at_every_size(size):
    """No pixel is grey, no letter is higher than asked, and none touches the next."""
    found = letters(
        Caption(text="HEBx", size=size, font=DOTS, anchor="middle"), (900, 200), 1.0, False
    )
    assert found is not None and found.share is not None
    ink = found.share
    assert set(np.unique(ink)) == {0.0, 1.0}
    assert 0.45 * size <= ink.shape[0] <= size
    between = np.flatnonzero(~ink.any(0))
    assert len(np.split(between, np.flatnonzero(np.diff(between) > 1) + 1)) == 3
    plain = letters(
        Caption(text="HEBx", size=size, font=DOTS, anchor="middle"), (900, 200), 1.0, True
    )
    assert np.array_equal(plain.share, ink)  # the same on a panel of dots


def test_a_caption_of_dots_fills_the_room_that_there_is():
    for high in (8, 12, 16, 31, 64, 100):
        wish = Caption(text="E", font=DOTS, anchor="middle", margin=0)
        size = fitting_size(wish, (200, high))
        found = letters(wish.model_copy(update={"size": size}), (200, high), 1.0, True)
        assert not found.cut and 0.5 * high <= found.share.shape[0] <= high
