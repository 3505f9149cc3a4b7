from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aptandum.core.quantity import both_roundings, fits_aspect
from aptandum.core.rulebook.model import TURNS, Brief, Clause, Limit, turn_of
from aptandum.core.rulebook.sizes import allowed
from aptandum.core.rulebook.sizes_said import describe
from samples import brief_of, clause

TOP = 36


def test_a_proportion_with_a_smallest_and_a_highest():
    brief = brief_of(
        clause("width", at_least=1150)
        + clause("height", at_least=230, at_most=370)
        + clause("aspect", exactly="5:1")
    )
    sizes = allowed(brief)
    line = next(c for c in sizes.cells if c.aspect).along(Fraction(5))
    assert line.smallest() == (1150, 230)
    assert line.largest(10**6) == (1852, 370)
    assert sizes.contains(1850, 370) and not sizes.contains(1853, 370)


def test_one_limit_lying_another_standing():
    brief = brief_of(
        clause("longest_side", at_most=1600, applies="landscape")
        + clause("height", at_most=1200, applies="upright")
    )
    assert allowed(brief).cut(6000, 4000).size == (1600, 1067)
    assert allowed(brief).cut(3600, 4000).size == (1080, 1200)
    assert allowed(brief).cut(4000, 4000).size == (4000, 4000)


def test_a_photo_too_small_is_enlarged_to_the_smallest_there_is():
    brief = brief_of(clause("longest_side", at_least=1440) + clause("aspect", exactly="1:1"))
    target = allowed(brief).cut(1280, 960)
    assert target.size == (1440, 1440) and target.enlargement == pytest.approx(1.5)


def test_clauses_that_contradict_leave_nothing():
    brief = brief_of(clause("width", at_most=100) + clause("shortest_side", at_least=200))
    assert allowed(brief).empty
    assert allowed(brief).cut(500, 500) is None
    assert "contradict" in describe(brief)[0]


def limits() -> st.SearchStrategy[tuple[str, Limit]]:
    side = st.integers(1, TOP)
    pair = st.tuples(side, side).map(sorted)
    sides = st.tuples(
        st.sampled_from(["width", "height", "longest_side", "shortest_side"]),
        st.one_of(
            side.map(lambda v: Limit(("at_least",), at_least=v)),
            side.map(lambda v: Limit(("at_most",), at_most=v)),
            pair.map(lambda v: Limit(("between",), v[0], v[1])),
            side.map(lambda v: Limit(("exactly",), one_of=(v,))),
        ),
    )
    turn = st.sampled_from(TURNS).map(lambda v: ("orientation", Limit(("one_of",), one_of=(v,))))
    size = st.tuples(side, side).map(lambda v: ("size", Limit(("exactly",), one_of=(v,))))
    return st.one_of(sides, sides, turn, size)


def shapes() -> st.SearchStrategy[list[tuple[str, Limit]]]:
    small = st.integers(1, 6)
    one = st.builds(Fraction, small, small)
    named = one.map(lambda v: [("aspect", Limit(("exactly",), one_of=(v,)))])
    span = st.tuples(one, one).map(sorted)
    ranged = span.map(lambda v: [("aspect", Limit(("between",), v[0], v[1]))])
    return st.one_of(st.just([]), named, ranged)


@given(
    st.lists(limits(), max_size=3),
    shapes(),
    st.lists(
        st.sampled_from([(), (), ("landscape",), ("upright", "square")]), min_size=4, max_size=4
    ),
)
@settings(max_examples=250, deadline=None)
def test_the_set_equals_brute_force(sides, shape, applies):
    every = [*sides, *shape, ("longest_side", Limit(("at_most",), at_most=TOP))]
    clauses = tuple(
        Clause(f"c{i}", name, limit, applies=applies[i] if i < len(every) - 1 else ())
        for i, (name, limit) in enumerate(every)
    )
    sizes = allowed(Brief("b", "", clauses))

    def ok(w: int, h: int) -> bool:
        turn = turn_of(w, h)
        values = {
            "width": w, "height": h, "longest_side": max(w, h), "shortest_side": min(w, h),
            "size": (w, h), "orientation": turn, "aspect": Fraction(w, h),
        }  # fmt: skip
        for c in clauses:
            if not c.holds_for(turn):
                continue
            if c.measure == "aspect" and c.limit.one_of:
                if not fits_aspect(w, h, c.limit.one_of[0]):
                    return False
            elif not c.limit.allows(values[c.measure]):
                return False
        return True

    grid = [(w, h) for w in range(1, TOP + 1) for h in range(1, TOP + 1)]
    truth = {size for size in grid if ok(*size)}
    assert {size for size in grid if sizes.contains(*size)} == truth
    assert sizes.empty == (not truth)
    for shape_ in (Fraction(3, 2), Fraction(4, 5), Fraction(1)):
        if any(cell.aspect not in (None, shape_) for cell in sizes.cells):
            continue
        family = {
            (t, o) if shape_ >= 1 else (o, t)
            for t in range(1, TOP + 1)
            for o in both_roundings(t / shape_ if shape_ >= 1 else t * shape_)
        } & truth
        for longest in (7, 20):
            target = sizes.target(shape_, longest)
            fits = [max(s) for s in family if max(s) <= longest]
            best = max(fits) if fits else min((max(s) for s in family), default=None)
            assert (max(target.size) if target else None) == best
