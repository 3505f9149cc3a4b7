from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aptandum.core import arithmetic as sums
from aptandum.core import quantity as q
from aptandum.core.brief.limit import Limit
from aptandum.core.judge.measures import REGISTRY


def test_an_upper_limit_in_kb_is_read_as_thousands_and_a_lower_one_as_1024s():
    upper, lower = q.parse_bytes("250 KB", "upper"), q.parse_bytes("60 KB", "lower")
    assert (upper, upper.other) == (250_000, 256_000)
    assert (lower, lower.other) == (61_440, 60_000)


@pytest.mark.parametrize(
    ("text", "count"),
    [
        ("250 KiB", 256_000),
        ("250 kB (1000)", 250_000),
        ("250 KB (1024)", 256_000),
        ("1.5 MiB", 1_572_864),
        ("800 bytes", 800),
        ("1 200 B", 1200),
        (4096, 4096),
    ],
)
def test_unambiguous_bytes_have_one_reading(text, count):
    for side in ("lower", "upper", "exact"):
        read = q.parse_bytes(text, side)
        assert read == count and read.other is None


@pytest.mark.parametrize(
    "text", ["", "KB", "-3 KB", "3 KX", "3 KiB (1000)", "1e3", True, None, "4 B (1000)"]
)
def test_what_is_not_bytes_is_refused(text):
    with pytest.raises(q.QuantityError, match="bytes"):
        q.parse_bytes(text)


def test_an_exact_limit_in_an_ambiguous_unit_is_refused():
    with pytest.raises(q.QuantityError, match="unambiguous"):
        q.parse_bytes("250 KB", "exact")


@pytest.mark.parametrize("text", ["630 x 840", "630x840", "630 × 840 px", "630*840"])
def test_sizes_are_width_first(text):
    assert q.parse_size(text) == (630, 840)


@pytest.mark.parametrize("text", ["630", "0 x 10", "6.5 x 3", "630 x", "a x b", 630])
def test_what_is_not_a_size_is_refused(text):
    with pytest.raises(q.QuantityError, match="width first"):
        q.parse_size(text)


def test_other_kinds():
    assert q.parse_aspect("4:5") == Fraction(4, 5)
    assert q.parse_aspect("1.91:1") == Fraction(191, 100)
    assert q.parse_share("62 %") == 0.62
    assert q.parse_share("-3%") == -0.03
    assert q.parse_length("4 in") == pytest.approx(101.6)
    assert q.parse_angle("5°") == 5
    assert q.parse_megapixels("12 MP") == 12
    assert q.parse_factor("150 %") == 1.5
    for bare in (62, 0.62, "62"):
        with pytest.raises(q.QuantityError):
            q.parse_share(bare)
    with pytest.raises(q.QuantityError):
        q.parse_length("35")
    for text in ("1 3/0 in", "3/8", "1 3/8 %"):
        with pytest.raises(q.QuantityError):
            q.parse_length(text)
    with pytest.raises(q.QuantityError):
        q.parse_pattern("(")


@given(st.integers(1, 10**6))
def test_grouped_numbers_read_back(n):
    assert q.parse_pixels(q.show_pixels(n)) == n


@given(st.integers(1, 65_500), st.integers(1, 65_500))
def test_a_shown_size_reads_back(w, h):
    assert q.parse_size(q.show_size((w, h))) == (w, h)


@given(st.integers(1, 4000), st.integers(1, 60), st.integers(1, 60))
def test_a_side_that_follows_from_the_other_fits_the_aspect(w, a, b):
    aspect = Fraction(a, b)
    assert sums.fits_aspect(w, sums.nearest(w / aspect), aspect)


def test_either_rounding_at_a_half_fits():
    assert sums.both_roundings(Fraction(5, 2)) == (2, 3)
    assert sums.fits_aspect(5, 2, Fraction(2)) and sums.fits_aspect(5, 3, Fraction(2))
    assert not sums.fits_aspect(5, 4, Fraction(2))


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("1200 + 35", 1235),
        ("1/3", 1 / 3),
        ("-(2+3)*4", -20),
        ("25.4mm", 300),
        ("1 in + 10px", 310),
        ("50 %", 2000),
        ("2 × 3 ÷ 4", 1.5),
    ],
)
def test_typed_sums(text, value):
    assert sums.compute(text, whole=4000, ppi=300) == pytest.approx(value)


@pytest.mark.parametrize("text", ["", "1/0", "2+", "(1", "abc", "1 2", "1;2", "9" * 300])
def test_sums_that_make_no_sense_are_refused(text):
    with pytest.raises(q.QuantityError):
        sums.compute(text, whole=10, ppi=300)


def test_a_length_needs_a_ppi():
    with pytest.raises(q.QuantityError, match="ppi"):
        sums.compute("35mm")


@given(st.text(max_size=30))
def test_no_text_breaks_a_parser(text):
    kinds = (q.PIXELS, q.SIZE, q.BYTES, q.ASPECT, q.SHARE, q.FACTOR, q.LENGTH, q.PPI, q.PATTERN)
    for kind in kinds:
        try:
            kind.parse(text, "upper")
        except q.QuantityError as error:
            assert str(error)
    try:
        sums.compute(text)
    except q.QuantityError as error:
        assert str(error)


@pytest.mark.parametrize(
    "parse, text, value",
    [
        (q.parse_length, '4"', 101.6),
        (q.parse_length, "2 inches", 50.8),
        (q.parse_length, "1 3/8 in", 34.925),
        (q.parse_length, "1⅜ inches", 34.925),
        (q.parse_length, '3/4"', 19.05),
        (q.parse_print_size, "1 3/8 x 1 3/4 in", (34.925, 44.45)),
        (q.parse_length, "3,5 cm", 35.0),
        (q.parse_length, "0.035 m", 35.0),
        (q.parse_size, "1290 by 2796", (1290, 2796)),
        (q.parse_size, "1,290 px x 2,796 px", (1290, 2796)),
        (q.parse_bytes, "1,000 KB", 1_000_000),
        (q.parse_bytes, "500 K", 500_000),
        (q.parse_bytes, "1,5 MB", 1_500_000),
        (q.parse_pixels, "1,600 px", 1600),
        (q.parse_factor, "1,5 x", 1.5),
        (q.parse_megapixels, "0,25 MP", 0.25),
        (q.parse_megapixels, "0,125 MP", 0.125),
    ],
)
def test_quantities_as_pages_write_them(parse, text, value):
    assert parse(text) == pytest.approx(value) if isinstance(value, float) else parse(text) == value


@pytest.mark.parametrize("text", ["1,2,3", "1,00,000", "0,125,000", ",", "1,,5", "12,34,56 KB"])
def test_commas_that_part_nothing_are_no_number(text):
    with pytest.raises(q.QuantityError):
        q.parse_bytes(text)


@pytest.mark.parametrize(
    ("value", "said"),
    [
        (0.646, "10.6 points too small"),
        (0.61, "1 point too small"),
        (0.824, "1.4 points too large"),
    ],
)
def test_how_far_a_share_is_off_is_said_in_percentage_points(value, said):
    """62.2 % is 0.2 points more than 62 %, and not 0.2 % more."""
    measure = REGISTRY["head_height"]
    low = 0.752 if value == 0.646 else 0.62
    limit = Limit("between", at_least=low, at_most=0.81)
    assert measure.outside(limit, value, measure.kind).replace("\u00a0", " ") == said
