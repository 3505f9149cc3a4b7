"""What a brief's sizes come to, and what a photo can give, as sentences."""

from __future__ import annotations

import io
import re

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.photo.decode import open_photo
from aptandum.core.sizes.region import allowed
from aptandum.core.sizes.said import clause_said, describe, in_short, photo_said
from samples import brief_of, clause, examples, scene


def plain(text: str) -> str:
    return re.sub(r"[\u00a0\u202f]", " ", text)


@pytest.mark.parametrize(
    "clauses, said",
    [
        (clause("size", exactly="630 x 840"), "upright: 630 × 840 px"),
        (
            clause("size", one_of=["300 x 200", "200 x 300"]),
            "landscape: 300 × 200 px · upright: 200 × 300 px",
        ),
        (clause("width", exactly=400) + clause("aspect", exactly="1:1"), "square, 400 × 400 px"),
        (
            clause("megapixels", at_most="12 MP") + clause("orientation", exactly="landscape"),
            "landscape",
        ),
        (clause("width", at_least=900) + clause("width", at_most=400), "contradict one another"),
    ],
)
def test_a_briefs_sizes_in_one_line(clauses, said):
    assert said in plain(in_short(brief_of(clauses)))


@pytest.mark.parametrize(
    "clauses, photo, said",
    [
        (
            clause("size", exactly="630 x 840"),
            (4000, 6000),
            "From 4 000 × 6 000 px: 630 × 840 px, 3:4.",
        ),
        (
            clause("size", exactly="630 x 840") + clause("enlargement", at_most=1),
            (600, 800),
            "From 600 × 800 px: not possible; what would make it so: ",
        ),
        (
            clause("longest_side", at_least=1440) + clause("enlargement", at_most=1),
            (1280, 960),
            "160 more pixels on the longest side",
        ),
        (
            clause("size", exactly="630 x 840") + clause("enlargement", at_most=1),
            (630, 800),
            "40 more pixels on the longest side",
        ),
        (
            clause("size", exactly="400 x 400") + clause("enlargement", at_most=1),
            (300, 300),
            "100 more pixels across and 100 more up",
        ),
        (clause("size", exactly="600 x 300"), (300, 200), "600 × 300 px, 2:1, enlarged 2 ×"),
    ],
)
def test_what_a_photo_can_give_and_what_it_lacks(clauses, photo, said):
    assert said.rstrip(".") in plain(photo_said(brief_of(clauses), photo))


def test_a_size_that_rounds_to_its_proportion_is_cut_from_the_photo_s_own_pixels(tmp_path):
    brief = brief_of(
        clause("longest_side", at_least=227)
        + clause("aspect", exactly="2:3")
        + clause("enlargement", at_most=1)
    )
    assert "151 × 227 px" in plain(photo_said(brief, (151, 227)))
    assert "enlarged" not in plain(photo_said(brief, (151, 227)))
    path = tmp_path / "tile.png"
    Image.fromarray(scene(151, 227)).save(path)
    proof = conform(open_photo(path), brief)
    assert proof.ready and proof.line.frame.output == (151, 227)
    with Image.open(io.BytesIO(proof.made.data)) as written:
        assert (np.asarray(written) == scene(151, 227)).all()


def test_a_turn_that_is_left_out_is_named():
    lines = [plain(line) for line in describe(brief_of(clause("size", exactly="630 x 840")))]
    assert lines == ["upright: 630 × 840 px", "landscape: no size", "square: no size"]
    # asked in so many words, nobody is surprised that the others are not there
    asked = clause("orientation", exactly="upright") + clause("width", between=["300", "600"])
    assert not any("no size" in line for line in describe(brief_of(asked)))
    wrong = brief_of(clause("width", at_least=900) + clause("longest_side", at_most=400))
    assert len(describe(wrong, (300, 200))) == 1 and "contradict" in describe(wrong)[0]


@given(st.integers(100, 900), st.integers(100, 900), st.integers(150, 6000), st.integers(150, 6000))
@settings(max_examples=examples(150), deadline=None)
def test_the_size_that_is_promised_is_the_one_that_is_cut(low, extra, wide, high):
    """A sentence about a photo names a size that the brief allows, of the photo's own pixels."""
    brief = brief_of(
        clause("longest_side", between=[str(low), str(low + extra)])
        + clause("aspect", one_of=["1:1", "3:2", "2:3"])
        + clause("enlargement", at_most=1)
    )
    said = plain(photo_said(brief, (wide, high)))
    if "not possible" in said:
        assert min(wide, high) < low or max(wide, high) < low
        return
    found = re.search(r": ([\d ]+) × ([\d ]+) px", said)
    size = int(found.group(1).replace(" ", "")), int(found.group(2).replace(" ", ""))
    target = allowed(brief).cut(wide, high)
    assert target is not None and target.size == size
    assert low <= max(size) <= low + extra and "enlarged" not in said
    assert size[0] <= wide and size[1] <= high
    assert min(abs(size[0] / size[1] - r) for r in (1, 1.5, 2 / 3)) < 2 / min(size)


@pytest.mark.parametrize(
    "text, said",
    [
        (clause("width", at_most=900), "Width, at most 900 px"),
        (clause("aspect", one_of=["1:1", "4:5"]), "Proportion, 1:1 or 4:5"),
        (clause("print_width", exactly="35 mm"), "Printed width, exactly 35 mm"),
    ],
)
def test_a_clause_is_named_by_measure_and_limit(text, said):
    assert plain(clause_said(brief_of(text).clauses[0])) == said
