"""The size that changes a photo least: the situations in which it went wrong, and every small case
against trying all sizes."""

from __future__ import annotations

from fractions import Fraction
from math import ceil, floor

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aptandum.core.brief.model import Brief, turn_of
from aptandum.core.conform import conform, lost_by
from aptandum.core.fitting.resolve_frame import resolve_frame
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from aptandum.core.sizes.cells import in_strip
from aptandum.core.sizes.conflicts import contradiction
from aptandum.core.sizes.least import Box
from aptandum.core.sizes.region import allowed
from aptandum.core.sizes.wished import chosen
from samples import brief_of, clause, examples
from untouched import exif_of, file_of


def frame_of(photo, brief, **changes):
    notes: list[str] = []
    made = Settings().having({f"frame.{key}": value for key, value in changes.items()})
    return resolve_frame(photo, brief, made, notes), notes


@pytest.mark.parametrize(
    "photo, rules, size, whole",
    [
        ((1280, 960), "within", (1280, 960), True),
        ((4500, 3000), "within", (1620, 1080), True),
        ((1920, 1080), "strip", (267, 150), True),
        ((6000, 1000), "low", (900, 150), True),
        ((900, 600), "upright", (599, 600), False),
        ((6000, 4000), "upright", (3999, 4000), False),
        ((4000, 6000), "landscape 24", (4000, 3999), False),
        ((900, 600), "upright 3000", (599, 600), False),
        ((600, 900), "landscape 3000", (600, 599), False),
        ((4000, 3000), "list", (800, 600), True),
        ((4000, 3000), "square or 4:3", (4000, 3000), True),
        ((6016, 4016), "3:2", (6016, 4011), False),
        ((151, 227), "2:3", (151, 227), True),
    ],
)
def test_nothing_is_cut_that_need_not_be(photo, rules, size, whole):
    brief = {
        "within": brief_of(clause("width", at_most=1920) + clause("height", at_most=1080)),
        "strip": brief_of(clause("width", at_most=475) + clause("height", at_most=150)),
        "low": brief_of(clause("height", at_most=150)),
        "upright": brief_of(clause("orientation", exactly="upright")),
        "landscape 24": brief_of(
            clause("orientation", exactly="landscape") + clause("megapixels", at_most=24)
        ),
        "upright 3000": brief_of(
            clause("orientation", exactly="upright") + clause("longest_side", at_most=3000)
        ),
        "landscape 3000": brief_of(
            clause("orientation", exactly="landscape") + clause("longest_side", at_most=3000)
        ),
        "list": brief_of(clause("size", one_of=["800 x 600", "1000 x 1000"])),
        "square or 4:3": brief_of(clause("aspect", one_of=["1:1", "4:3"])),
        "3:2": brief_of(clause("aspect", exactly="3:2")),
        "2:3": brief_of(clause("aspect", exactly="2:3")),
    }[rules]
    frame, _notes = frame_of(photo, brief)
    assert frame.output == size
    assert (frame.kept == 1) == whole and (frame.fill == "whole") == whole
    assert frame.scale <= 1 + 1e-9


def loss(photo: tuple[int, int], size: tuple[int, int], turns: set[str]) -> tuple[int, float, int]:
    """Whole photo pixels that go away for the shape, the enlargement, and minus what is left."""
    (pw, ph), (w, h) = photo, size
    own = turn_of(*photo)
    if in_strip(w, h, Fraction(pw, ph)) and (own == turn_of(w, h) or own in turns):
        gone = 0
        factor = Fraction(w, pw) if pw >= ph else Fraction(h, ph)
    elif w * ph < h * pw:
        gone, factor = (pw - floor(Fraction(ph * w, h))) * ph, Fraction(h, ph)
    else:
        gone, factor = (ph - floor(Fraction(pw * h, w))) * pw, Fraction(w, pw)
    # Of one shape the largest is that of the longest shorter side, nearest to the exact proportion.
    left = min(w, h) if gone == 0 or w == h else w * h
    return gone, round(max(1.0, float(factor)), 9), -left


SIDES = st.integers(1, 34)
RULES = st.lists(
    st.one_of(
        st.builds(
            lambda a, b: clause("width", at_least=min(a, b), at_most=max(a, b)), SIDES, SIDES
        ),
        st.builds(lambda a: clause("height", at_most=a), SIDES),
        st.builds(lambda a: clause("height", at_least=a), SIDES),
        st.builds(lambda a: clause("longest_side", at_most=a), SIDES),
        st.builds(lambda a: clause("shortest_side", at_least=a), SIDES),
        st.sampled_from(["upright", "landscape", "square"]).map(
            lambda turn: clause("orientation", exactly=turn)
        ),
        st.builds(
            lambda some: clause("size", one_of=[f"{w} x {h}" for w, h in some]),
            st.lists(st.tuples(SIDES, SIDES), min_size=1, max_size=4, unique=True),
        ),
    ),
    max_size=3,
    unique_by=lambda text: text.split('measure = "')[1].split('"')[0],
)


@settings(max_examples=examples(300))
@given(RULES, st.integers(8, 40), st.integers(8, 40))
def test_no_smaller_loss_is_allowed(rules, wide, high):
    """Of all sizes that are allowed none loses less, where the photo's own pixels can give one."""
    ends = clause("width", id="w", at_most=40) + clause("height", id="h", at_most=40)
    brief: Brief = brief_of("".join(rules) + ends)
    sizes = allowed(brief)
    found = chosen(brief, Box.of(wide, high))
    every = [(w, h) for w in range(1, 41) for h in range(1, 41) if sizes.contains(w, h)]
    if found is None:
        assert not every
        return
    assert found.target.size in every
    turns = {turn_of(*size) for size in every}
    best = min(loss((wide, high), size, turns) for size in every)
    assert loss((wide, high), found.target.size, turns) == best


WIDE = st.integers(200, 6000)


@settings(max_examples=examples(200))
@given(
    WIDE, WIDE, st.integers(100, 7000), st.integers(100, 7000), st.sampled_from(["most", "least"])
)
def test_a_photo_whose_own_shape_has_an_allowed_size_stays_whole(wide, high, across, up, way):
    bound = {"at_most": across} if way == "most" else {"at_least": across}
    brief = brief_of(clause("width", **bound) + clause("height", at_most=up))
    sizes = allowed(brief)
    shape = Fraction(wide, high)
    own = any(not cell.of_shape(shape).empty for cell in sizes.cells)
    frame, _notes = frame_of((wide, high), brief)
    assert sizes.contains(*frame.output)
    if own:
        assert frame.kept == 1 and frame.window.width == wide and frame.window.height == high
        assert abs(frame.output[0] - frame.output[1] * shape) * 2 <= max(shape, 1)


@settings(max_examples=examples(200))
@given(WIDE, WIDE, st.sampled_from(["3:2", "1:1", "4:5", "16:9"]))
def test_padding_adds_the_least(wide, high, aspect):
    brief = brief_of(clause("aspect", exactly=aspect) + clause("longest_side", at_most=2000))
    frame, _notes = frame_of((wide, high), brief, fill="pad")
    assert frame.kept == pytest.approx(1, abs=1e-6)
    assert allowed(brief).contains(*frame.output)
    # One side stays as it was; the other grows to the shape.
    slack = 1 / frame.scale + 1e-6
    assert abs(frame.window.width - wide) <= slack or abs(frame.window.height - high) <= slack
    assert frame.scale <= 1 + 1e-6 or ceil(max(frame.output)) < 2000


def test_of_all_that_meet_the_one_is_made_that_loses_least(tmp_path):
    """What is made of itself loses no more than anything that a hand could have set and that meets
    the same rules."""
    path = tmp_path / "pier.jpg"
    path.write_bytes(file_of("jpeg", exif_of(True, True), (240, 160)))
    photo = open_photo(path)
    for rules in (
        clause("longest_side", at_most=400),
        clause("height", at_most=90) + clause("format", exactly="png"),
        clause("aspect", exactly="1:1") + clause("longest_side", at_most=120),
        clause("size", one_of=["90 x 60", "120 x 120", "180 x 120"]),
    ):
        brief = brief_of(rules)
        own = conform(photo, brief)
        assert own.ready
        for wish in (
            {"frame.output": "90 x 60"},
            {"frame.output": "120 x 120"},
            {"frame.fill": "pad"},
            {"frame.fill": "cut"},
            {"frame.fill": "pixels"},
            {"frame.window": "20, 20, 120, 80"},
            {"frame.angle": 2},
            {"colour.space": "display-p3"},
            {"file.quality": 50},
            {"file.format": "png"},
            {"file.format": "webp"},
        ):
            other = conform(photo, brief, Settings().having(wish))
            if other.ready:
                assert lost_by(own) <= lost_by(other), (rules, wish)


@pytest.mark.parametrize(
    ("photo", "rules"),
    [
        ((1500, 1000), clause("width", exactly=1920, applies="landscape") + clause("height", at_most=1200, applies="landscape")),
        ((6000, 4000), clause("aspect", exactly="1:1.29") + clause("aspect", exactly="3:2", applies="upright")),
        ((4000, 900), clause("aspect", exactly="16:9") + clause("size", at_least="1920 x 400", applies="landscape")),
        ((6000, 4000), clause("size", at_least="10 x 15 cm", applies="landscape") + clause("size", at_most="210 x 297 mm")),
    ],
)  # fmt: skip
def test_no_photo_becomes_a_speck_that_rounds_to_any_shape(photo, rules):
    frame, _notes = frame_of(photo, brief_of(rules))
    assert min(frame.output) > 0.5 * min(photo)


@pytest.mark.parametrize(
    "rules",
    [
        clause("aspect", exactly="16:9") + clause("aspect", exactly="2:3"),
        clause("aspect", exactly="3:2") + clause("orientation", exactly="square"),
        clause("size", exactly="210 x 297 mm") + clause("aspect", exactly="35:45"),
        clause("print_width", exactly="10 cm") + clause("print_width", exactly="35 mm"),
    ],
)
def test_proportions_that_only_a_speck_has_together_contradict_one_another(rules):
    brief = brief_of(rules)
    frame, notes = frame_of((1500, 1000), brief)
    assert frame.output == (1500, 1000)
    assert len(contradiction(brief)) == 2
    assert any("contradict" in note for note in notes), notes


def test_proportions_that_are_nearly_one_do_not():
    brief = brief_of(clause("size", exactly="35 x 45 mm") + clause("aspect", exactly="7:9"))
    frame, notes = frame_of((1500, 1000), brief)
    assert min(frame.output) > 700 and not notes


def test_a_printed_size_of_a_few_pixels_is_not_taken_for_what_its_rounding_keeps():
    rules = clause("orientation", exactly="upright") + clause("print_width", exactly="10 cm")
    frame, _notes = frame_of((6000, 4000), brief_of(rules + clause("size", at_least="10 x 15 cm")))
    assert frame.output[1] > 3900 and abs(frame.output[0] / frame.output[1] - 2 / 3) < 0.002
