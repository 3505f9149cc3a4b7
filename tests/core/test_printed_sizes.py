"""Sizes in print, where no rule says at how many pixels per inch: the most of the photo, and a resolution that a JPEG can
state."""

from __future__ import annotations

from fractions import Fraction
from io import BytesIO
from math import ceil, floor

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from test_line import facts

from aptandum.core.conform import conform
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from aptandum.core.sizes.least import Box
from aptandum.core.sizes.typed import presses
from aptandum.core.sizes.wished import chosen
from samples import brief_of, clause, examples, scene

MM = Fraction(254, 10)
KNOWN = [(35, 45), (45, 35), (50, 50), (100, 150), (210, 297), (25, 30), (400, 500), (13, 18)]


def whole_ppi(size: tuple[int, int], mm: tuple[int, int]) -> list[int]:
    """The whole resolutions at which a size prints at two lengths, to the nearest pixel."""
    low = max((n - Fraction(1, 2)) * MM / side for n, side in zip(size, mm, strict=True))
    high = min((n + Fraction(1, 2)) * MM / side for n, side in zip(size, mm, strict=True))
    return list(range(ceil(low), floor(high) + 1))


@given(
    st.integers(60, 9000),
    st.integers(60, 9000),
    st.sampled_from(KNOWN) | st.tuples(st.integers(10, 400), st.integers(10, 400)),
    st.sampled_from([None, 200, 300, 600]),
)
@settings(max_examples=examples(300), deadline=None)
def test_a_printed_size_takes_the_most_of_a_photo_and_is_stated_in_whole_pixels_per_inch(
    width, height, mm, least
):
    brief = brief_of(
        clause("size", exactly=f"{mm[0]} x {mm[1]} mm")
        + (clause("ppi", at_least=least) if least else "")
    )
    found = chosen(brief, Box.of(width, height))
    assert found is not None
    (w, h), shape = found.target.size, Fraction(*mm)
    ppi = whole_ppi((w, h), mm)
    assert ppi, (w, h)
    assert not least or ppi[-1] >= least
    assert abs(w - h * shape) <= (1 + shape) / 2  # no other shape for the rounding's sake
    if found.target.enlargement > 1 + 1e-6:
        assert least and ppi[0] <= least <= ppi[-1]  # no more is added than that rule asks for
        return
    # One pixel per inch more has no room in the largest window of the shape.
    across = min(Fraction(width), height * shape)
    more = ppi[-1] + 1
    next_size = [floor(side * more / MM + Fraction(1, 2)) for side in mm]
    assert next_size[0] > across - 1 or next_size[1] > across / shape - 1, (w, h, next_size)


@pytest.mark.parametrize(
    "more", ["", clause("size", at_least="413 x 531"), clause("ppi", at_least=300)]
)
def test_a_plain_size_in_print_is_made_of_the_photos_own_pixels(more):
    line = resolve(
        facts(2400, 3000), brief_of(clause("size", exactly="35 x 45 mm") + more), Settings()
    )
    assert line.frame.output == (2333, 2999) and line.frame.exact
    assert line.file.ppi == 1693


def test_no_pixel_is_mixed_anew_for_the_sake_of_one_row():
    line = resolve(facts(3900, 2600), brief_of(clause("size", exactly="35 x 45 mm")), Settings())
    assert line.frame.output == (2021, 2599) and line.frame.exact and line.frame.scale == 1


def test_one_printed_side_keeps_a_whole_photo():
    line = resolve(facts(4001, 2667), brief_of(clause("print_width", exactly="60 mm")), Settings())
    w, h = line.frame.output
    assert line.frame.kept == 1 and 3990 < w <= 4001 and abs(w / h - 4001 / 2667) < 0.001
    assert line.file.ppi == round(w * 25.4 / 60)


def test_the_smallest_size_of_a_printed_one_is_one_that_somebody_could_mean():
    brief = brief_of(clause("size", exactly="35 x 45 mm"))
    assert presses(brief, Box.of(2400, 3000)).smallest is None
    brief = brief_of(clause("size", exactly="35 x 45 mm") + clause("ppi", at_least=300))
    assert presses(brief, Box.of(2400, 3000)).smallest == (413, 531)


@pytest.mark.parametrize("most", ["20 KB", "61 KB", "2 MB"])
def test_the_file_states_what_it_prints_at(tmp_path, most):
    brief = brief_of(
        clause("size", exactly="35 x 45 mm")
        + clause("format", exactly="jpeg")
        + clause("file_bytes", at_most=most)
    )
    Image.fromarray(scene(900, 1200)).save(tmp_path / "pier.jpg", quality=95)
    proof = conform(open_photo(tmp_path / "pier.jpg"), brief, Settings())
    assert proof.ready
    picture = Image.open(BytesIO(proof.made.data))
    across, up = picture.info["dpi"]
    assert across == up == int(across)
    assert int(across) in whole_ppi(picture.size, (35, 45))


def test_of_several_printed_widths_that_one_is_stated_which_a_whole_number_gives():
    brief = brief_of(
        clause("print_width", one_of=["85 mm", "174 mm"]) + clause("ppi", at_least=300)
    )
    line = resolve(facts(3900, 2600), brief, Settings())
    assert line.file.ppi == int(line.file.ppi)
    assert any(line.file.ppi in whole_ppi((line.frame.output[0],), (mm,)) for mm in (85, 174))


def test_a_whole_photo_that_loses_a_single_pixel_names_the_rule(tmp_path):
    Image.fromarray(scene(600, 600)).save(tmp_path / "pier.jpg", quality=95)
    proof = conform(
        open_photo(tmp_path / "pier.jpg"), brief_of(clause("longest_side", at_most=599)), Settings()
    )
    assert proof.ready and max(proof.line.frame.output) == 599
    causes = " ".join(str(act) for act in proof.acts)
    assert "by hand" not in causes and "Longest side" in causes


def test_a_wish_for_a_size_in_print_gives_way_to_a_rule_on_its_resolution():
    wish = clause("size", between=["20 x 30 cm", "40 x 60 cm"], strength="should")
    brief = brief_of(wish + clause("ppi", exactly=300) + clause("longest_side", exactly=2400))
    line = resolve(facts(2400, 3000), brief, Settings())
    assert line.file.ppi == 300
