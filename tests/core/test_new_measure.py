"""A measure in one file: read from a rulebook, resolved, mended and met, with nothing else touched."""

from __future__ import annotations

from math import hypot

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import TURNS, turn_of
from aptandum.core.conform import conform
from aptandum.core.docket.batch import mended
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge import measures
from aptandum.core.judge.framing import mend_frame
from aptandum.core.judge.measure import Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.photo.decode import open_photo
from aptandum.core.quantity import NUMBER
from aptandum.core.sizes import binds
from aptandum.core.sizes.cells import Cell
from aptandum.core.sizes.region import allowed
from samples import brief_of, clause, examples


def diagonal(width: int, height: int) -> float:
    return round(hypot(width, height), 3)


def _take(reading: Reading) -> float:
    return diagonal(*reading.facts.size)


DIAGONAL = Measure(
    "diagonal",
    "Diagonal",
    "pixels",
    NUMBER,
    "From corner to corner, in pixels.",
    _take,
    mend=mend_frame,
    binds=binds.Growing(diagonal),
)
LOOSE = Measure(
    "corner_to_corner",
    "Corner to corner",
    "pixels",
    NUMBER,
    "The same, and binds nothing.",
    _take,
    mend=mend_frame,
)


@pytest.fixture(autouse=True)
def known():
    for measure in (DIAGONAL, LOOSE):
        measures.register(measure)
    yield
    for measure in (DIAGONAL, LOOSE):
        measures.forget(measure.name)


@pytest.mark.long
def test_it_is_resolved_mended_and_met(photo):
    brief = brief_of(
        clause("diagonal", at_most=1000, at_least=990) + clause("aspect", exactly="4:3")
    )
    source = open_photo(photo(2400, 1800))
    assert allowed(brief).largest() == (800, 600)
    made = mended(source, brief, Settings(), None)
    proof = conform(source, brief, made)
    assert proof.ready and proof.line.frame.output == (800, 600)
    # set by hand to a size that misses, the mend meets it
    wrong = Settings().having({"frame.output": "1200 x 900"})
    missed = conform(source, brief, wrong)
    finding = missed.findings.of("diagonal")
    assert finding.verdict == "misses" and "800 × 600" in finding.mend.words.replace("\u00a0", " ")
    assert conform(source, brief, wrong.having(finding.mend.changes)).ready


def test_a_photo_too_small_for_it_and_limits_that_contradict_are_told(photo):
    from aptandum.core.sizes.conflicts import contradiction

    brief = brief_of(clause("diagonal", at_most=500) + clause("width", at_least=600))
    assert {c.measure for c in contradiction(brief)} == {"diagonal", "width"}


def test_a_measure_without_constraint_offers_no_mend(photo):
    brief = brief_of(clause("corner_to_corner", at_most=1000))
    proof = conform(open_photo(photo(2400, 1800)), brief, Settings())
    finding = proof.findings.of("corner_to_corner")
    assert finding.verdict == "misses" and finding.mend is None


@settings(max_examples=examples(60), deadline=None)
@given(
    low=st.one_of(st.none(), st.integers(1, 60)),
    high=st.one_of(st.none(), st.integers(1, 60)),
    w_lo=st.integers(1, 30),
    h_hi=st.integers(1, 40),
    at=st.tuples(st.integers(1, 50), st.integers(1, 50)),
)
def test_the_sizes_that_a_growing_number_leaves_equal_brute_force(low, high, w_lo, h_hi, at):
    most = 40
    form = ("at_least",) if low else ("at_most",)
    limit = Limit(form, None if low is None else float(low), None if high is None else float(high))
    expected = {
        (w, h)
        for w in range(w_lo, most + 1)
        for h in range(1, min(h_hi, most) + 1)
        if limit.allows(diagonal(w, h))
    }
    cells: list[Cell] = []
    for turn in TURNS:
        boxed = Cell(turn, w_lo=w_lo, w_hi=most, h_hi=min(h_hi, most))
        cells += list(binds.Growing(diagonal).narrow(boxed, limit))
    for turn, cell in zip(TURNS, cells, strict=True):
        mine = {size for size in expected if turn_of(*size) == turn}
        assert cell.empty == (not mine)
        for size in ((w, h) for w in range(1, most + 1) for h in range(1, most + 1)):
            assert cell.contains(*size) == (size in mine)
        if not mine:
            continue
        largest, smallest, nearest = cell.largest(), cell.smallest(), cell.nearest(*at)
        assert {largest, smallest, nearest} <= mine
        if turn != "square":
            assert largest[0] * largest[1] == max(w * h for w, h in mine)
            assert smallest[0] * smallest[1] == min(w * h for w, h in mine)

        def far(size):
            return (size[0] - at[0]) ** 2 + (size[1] - at[1]) ** 2

        assert far(nearest) == min(far(size) for size in mine)
        lacking = cell.lacking(*at)
        short = [max(0, w - at[0]) + max(0, h - at[1]) for w, h in mine]
        assert max(0, lacking[0] - at[0]) + max(0, lacking[1] - at[1]) == min(short)
