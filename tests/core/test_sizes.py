from __future__ import annotations

import os
import pickle
import subprocess
import sys
from fractions import Fraction
from math import floor

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aptandum.core.arithmetic import both_roundings, fits_aspect
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import TURNS, Brief, Clause, turn_of
from aptandum.core.judge.measures import STATED
from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.sizes.conflicts import changes, contradiction, possible, turns_left_out
from aptandum.core.sizes.least import Box
from aptandum.core.sizes.region import allowed, largest_cut
from aptandum.core.sizes.said import change_said, describe
from aptandum.core.sizes.wished import chosen
from samples import brief_of, clause, examples

TOP = 20


def ids(clauses: tuple[Clause, ...]) -> set[str]:
    return {c.id for c in clauses}


# --- situations as people meet them --------------------------------------------------------


def test_a_proportion_with_a_smallest_and_a_highest():
    brief = brief_of(
        clause("width", at_least=1150)
        + clause("height", at_least=230, at_most=370)
        + clause("aspect", exactly="5:1")
    )
    sizes = allowed(brief)
    assert sizes.smallest() == (1150, 230)
    assert sizes.largest() == (1850, 370)
    inside = {(w, h) for h in range(225, 376) for w in range(1140, 1860) if sizes.contains(w, h)}
    rounds = {
        (w, h)
        for h in range(230, 371)
        for w in range(1150, 1860)
        if h in both_roundings(Fraction(w, 5)) or w == 5 * h
    }
    assert inside == rounds
    assert {w for w, h in inside if h == 370} == {1848, 1849, 1850, 1851, 1852}
    assert "1 850 × 370" in " ".join(describe(brief)).replace("\u00a0", " ")


@pytest.mark.parametrize(
    "photo, size",
    [((6000, 4000), (1600, 1067)), ((4000, 4000), (4000, 4000)), ((3600, 4000), (1080, 1200))],
)
def test_one_limit_lying_another_standing(photo, size):
    """A square is neither landscape nor upright, so that nothing limits it."""
    brief = brief_of(
        clause("longest_side", at_most=1600, applies="landscape")
        + clause("height", at_most=1200, applies="upright")
    )
    assert allowed(brief).cut(*photo).size == size


def test_a_body_that_counts_a_square_as_landscape():
    brief = brief_of(
        clause("longest_side", at_most=1600, applies=["landscape", "square"])
        + clause("height", at_most=1200, applies="upright")
    )
    assert allowed(brief).cut(4000, 4000).size == (1600, 1600)


def test_the_pixels_that_are_missing_are_counted():
    brief = brief_of(clause("longest_side", at_least=1440) + clause("enlargement", at_most=1))
    assert not possible(brief, (1280, 960)) and possible(brief, (1440, 2))
    found = {change.kind: change for change in changes(brief, (1280, 960))}
    assert set(found) == {"pixels", "enlarge"}
    assert found["pixels"].missing == (160, 0)
    assert found["enlarge"].factor == pytest.approx(1.125)
    assert "160" in change_said(found["pixels"], (1280, 960))
    assert "longest side" in change_said(found["pixels"], (1280, 960))


def test_an_upright_photo_would_do():
    brief = brief_of(clause("height", at_least=1500) + clause("enlargement", at_most=1))
    first = changes(brief, (1600, 1200))[0]
    assert first.kind == "turn" and "upright" in change_said(first, (1600, 1200))


def test_an_enlargement_that_is_allowed_counts():
    brief = brief_of(clause("size", exactly="1500 x 1500") + clause("enlargement", at_most="1.5 x"))
    assert possible(brief, (1000, 1000)) and not possible(brief, (1000, 998))
    assert changes(brief, (1000, 998))[-1].factor == pytest.approx(1500 / 998)


def test_a_photo_too_small_is_enlarged_to_the_smallest_there_is():
    brief = brief_of(clause("longest_side", at_least=1440) + clause("aspect", exactly="1:1"))
    target = allowed(brief).cut(1280, 960)
    assert target.size == (1440, 1440) and target.enlargement == pytest.approx(1.5)


def test_clauses_that_contradict_are_named_and_no_others():
    brief = brief_of(
        clause("width", at_most=100)
        + clause("aspect", exactly="3:2")
        + clause("shortest_side", at_least=200)
        + clause("megapixels", at_most=12)
        + clause("format", exactly="jpeg")
    )
    assert allowed(brief).empty and allowed(brief).cut(500, 500) is None
    assert ids(contradiction(brief)) == {"width", "shortest_side"}
    assert "contradict" in describe(brief)[0]


def test_a_contradiction_of_three():
    brief = brief_of(
        clause("width", at_most=1000)
        + clause("height", at_least=700)
        + clause("aspect", exactly="2:1")
        + clause("longest_side", at_most=4000)
    )
    assert ids(contradiction(brief)) == {"width", "height", "aspect"}


def test_two_proportions_share_only_specks():
    brief = brief_of(
        '[[brief.clause]]\nid = "wide"\nmeasure = "aspect"\nexactly = "3:2"\n'
        '[[brief.clause]]\nid = "tall"\nmeasure = "aspect"\nexactly = "4:5"\n'
    )
    assert allowed(brief).contains(1, 1)
    assert ids(contradiction(brief)) == {"wide", "tall"}


def test_a_turn_that_is_left_out():
    brief = brief_of(clause("width", at_least=1200) + clause("height", at_most=900))
    assert turns_left_out(brief) == ("upright", "square") and not contradiction(brief)


def test_a_print_with_its_resolution():
    brief = brief_of(
        clause("print_width", exactly="35 mm")
        + clause("print_height", exactly="45 mm")
        + clause("ppi", exactly=600)
    )
    assert allowed(brief).largest() == allowed(brief).smallest() == (827, 1063)
    loose = brief_of(clause("print_width", at_least="10 in") + clause("ppi", at_least=300))
    assert allowed(loose).contains(3000, 10) and not allowed(loose).contains(2999, 10)


def test_a_print_without_a_resolution_fixes_the_shape():
    brief = brief_of(
        clause("print_width", exactly="100 mm") + clause("print_height", exactly="50 mm")
    )
    assert allowed(brief).contains(2000, 1000) and not allowed(brief).contains(2000, 1002)


def test_megapixels_bite_before_the_sides():
    brief = brief_of(clause("megapixels", between=[1, 12]) + clause("longest_side", at_most=6000))
    assert allowed(brief).largest()[0] * allowed(brief).largest()[1] == 12_000_000
    w, h = allowed(brief).cut(9000, 6000).size
    assert w * h <= 12_000_000 < (w + 2) * (h + 2) and abs(w / h - 1.5) < 0.001


def test_a_range_of_proportions():
    brief = brief_of(clause("aspect", between=["4:5", "1.91:1"]) + clause("width", exactly=1080))
    sizes = allowed(brief)
    assert sizes.largest() == (1080, 1350) and sizes.smallest() == (1080, 566)
    assert sizes.nearest(4000, 3000) == (1080, 1350)
    assert sizes.cut(3000, 4000).size == (1080, 1350)


def test_the_largest_cut_of_a_wanted_shape():
    assert largest_cut((4000, 3000), Fraction(1)) == (3000, 3000)
    assert largest_cut((4000, 3000), Fraction(16, 9)) == (4000, 2250)
    assert largest_cut((4000, 3000), Fraction(2, 3)) == (2000, 3000)


# --- against brute force -------------------------------------------------------------------


def _limit(draw_value, low_high) -> st.SearchStrategy[Limit]:
    return st.one_of(
        draw_value.map(lambda v: Limit(("at_least",), at_least=v)),
        draw_value.map(lambda v: Limit(("at_most",), at_most=v)),
        low_high.map(lambda v: Limit(("between",), v[0], v[1])),
        draw_value.map(lambda v: Limit(("exactly",), one_of=(v,))),
    )


SIDE = st.integers(1, TOP)
PAIR = st.tuples(SIDE, SIDE).map(sorted)
SIDES = st.tuples(
    st.sampled_from(["width", "height", "longest_side", "shortest_side"]),
    st.one_of(
        _limit(SIDE, PAIR),
        PAIR.map(lambda v: Limit(("one_of",), one_of=tuple(v))),
        PAIR.map(lambda v: Limit(("none_of",), none_of=tuple(v))),
    ),
)
BOTH = st.tuples(SIDE, SIDE)
SMALL = st.integers(1, 7)
SHAPE = st.builds(Fraction, SMALL, SMALL)
AREA = st.integers(1, TOP * TOP).map(lambda v: v / 10**6)
INCHES = st.integers(1, 12).map(lambda v: v * 25.4 / 4)
OTHERS = st.one_of(
    st.tuples(st.just("orientation"), st.sampled_from(TURNS).map(lambda v: Limit((), one_of=(v,)))),
    st.tuples(
        st.just("size"),
        st.one_of(
            st.lists(BOTH, min_size=1, max_size=3).map(lambda v: Limit((), one_of=tuple(v))),
            st.lists(BOTH, min_size=1, max_size=2).map(lambda v: Limit((), none_of=tuple(v))),
        ),
    ),
    st.tuples(
        st.just("aspect"),
        st.one_of(
            st.lists(SHAPE, min_size=1, max_size=2).map(lambda v: Limit((), one_of=tuple(v))),
            SHAPE.map(lambda v: Limit((), none_of=(v,))),
            st.tuples(SHAPE, SHAPE).map(sorted).map(lambda v: Limit(("between",), v[0], v[1])),
        ),
    ),
    st.tuples(st.just("megapixels"), _limit(AREA, st.tuples(AREA, AREA).map(sorted))),
    st.tuples(
        st.sampled_from(["print_width", "print_height"]),
        _limit(INCHES, st.tuples(INCHES, INCHES).map(sorted)),
    ),
    st.tuples(
        st.just("ppi"),
        _limit(st.integers(1, 20), st.tuples(st.integers(1, 20), st.integers(1, 20)).map(sorted)),
    ),
)
APPLIES = st.sampled_from([(), (), (), ("landscape",), ("upright", "square")])
CLAUSES = st.lists(st.tuples(st.one_of(SIDES, SIDES, OTHERS, OTHERS), APPLIES), max_size=5)


def brute(clauses: tuple[Clause, ...]) -> set[tuple[int, int]]:
    """Every size up to TOP that the clauses allow, each clause asked on its own."""
    found = set()
    for w in range(1, TOP + 1):
        for h in range(1, TOP + 1):
            turn = turn_of(w, h)
            mine = [c for c in clauses if c.holds_for(turn)]
            if all(_one(c, w, h) for c in mine) and _some_ppi(mine, w, h):
                found.add((w, h))
    return found


def _one(c: Clause, w: int, h: int) -> bool:
    if c.measure in ("print_width", "print_height", "ppi"):
        return True
    if c.measure == "aspect":
        limit = c.limit
        if limit.one_of and not any(fits_aspect(w, h, a) for a in limit.one_of):
            return False
        if any(fits_aspect(w, h, a) for a in limit.none_of):
            return False
        return Limit((), limit.at_least, limit.at_most).allows(Fraction(w, h))
    if c.measure == "megapixels":
        bounds = [
            None if v is None else round(v * 10**6) for v in (c.limit.at_least, c.limit.at_most)
        ]
        every = tuple(round(v * 10**6) for v in c.limit.one_of)
        return Limit((), *bounds, every).allows(w * h)
    values = {
        "width": w,
        "height": h,
        "longest_side": max(w, h),
        "shortest_side": min(w, h),
        "size": (w, h),
        "orientation": turn_of(w, h),
    }
    return c.limit.allows(values[c.measure])


def _some_ppi(clauses: list[Clause], w: int, h: int) -> bool:
    """Whether one number of pixels per inch meets all print clauses: each allows a closed run."""
    low, high = Fraction(1, 1000), Fraction(100_000)
    for c in clauses:
        limit = c.limit
        exact = limit.one_of[0] if limit.one_of else None
        least, most = (exact, exact) if exact is not None else (limit.at_least, limit.at_most)
        if c.measure == "ppi":
            low = max(low, Fraction(least)) if least is not None else low
            high = min(high, Fraction(most)) if most is not None else high
        elif c.measure in ("print_width", "print_height"):
            side = Fraction(w if c.measure == "print_width" else h)
            slack = Fraction(1, 2) if exact is not None else 0
            if least is not None:
                high = min(high, (side + slack) * Fraction("25.4") / Fraction(str(least)))
            if most is not None:
                low = max(low, (side - slack) * Fraction("25.4") / Fraction(str(most)))
    return low <= high


def area(size: tuple[int, int]) -> int:
    return size[0] * size[1]


@given(CLAUSES, st.tuples(st.integers(1, 60), st.integers(1, 60)), st.tuples(SIDE, SIDE))
@settings(max_examples=examples(2000), deadline=None)
@pytest.mark.long
def test_the_set_equals_brute_force(made, cut, photo):
    every = [*made, (("longest_side", Limit(("at_most",), at_most=TOP)), ())]
    clauses = tuple(
        Clause(f"c{i}", name, limit, applies=applies)
        for i, ((name, limit), applies) in enumerate(every)
    )
    brief = Brief("b", "", clauses)
    sizes, truth = allowed(brief), brute(clauses)
    grid = [(w, h) for w in range(1, TOP + 1) for h in range(1, TOP + 1)]
    assert {size for size in grid if sizes.contains(*size)} == truth
    assert sizes.empty == (not truth)
    largest, smallest, nearest = sizes.largest(), sizes.smallest(), sizes.nearest(*cut)
    if not truth:
        assert largest is smallest is nearest is None
        return
    assert {largest, smallest, nearest} <= truth
    far = {size: (size[0] - cut[0]) ** 2 + (size[1] - cut[1]) ** 2 for size in truth}
    assert far[nearest] == min(far.values())
    if not any(c.measure == "aspect" for c in clauses):  # else nearest to the proportion
        free = [cell for cell in sizes.cells if cell.fixed_shape is None]
        tops = [max(filter(lambda s, c=c: c.contains(*s), truth), key=area) for c in free]
        assert all(area(c.largest()) == area(t) for c, t in zip(free, tops, strict=True))
        lows = [min(filter(lambda s, c=c: c.contains(*s), truth), key=area) for c in free]
        assert all(area(c.smallest()) == area(t) for c, t in zip(free, lows, strict=True))
    for cell in sizes.cells:
        own = {size for size in truth if cell.contains(*size)}
        assert max(map(min, own)) == min(cell.largest()) or cell.fixed_shape is None
        assert min(map(min, own)) == min(cell.smallest()) or cell.fixed_shape is None
        short = min(max(0, w - photo[0]) + max(0, h - photo[1]) for w, h in own)
        w, h = cell.lacking(*photo)
        assert max(0, w - photo[0]) + max(0, h - photo[1]) == short
    blamed = contradiction(brief)
    meant = [cell for cell in sizes.cells if not cell.of_several_shapes]
    useful = any(max(size) >= 8 and any(c.contains(*size) for c in meant) for size in truth)
    assert bool(blamed) == (not useful)


@given(CLAUSES)
@settings(max_examples=examples(300), deadline=None)
def test_what_is_blamed_is_needed(made):
    every = [*made, (("longest_side", Limit(("at_most",), at_most=TOP)), ())]
    clauses = tuple(
        Clause(f"c{i}", name, limit, applies=applies)
        for i, ((name, limit), applies) in enumerate(every)
    )
    blamed = contradiction(Brief("b", "", clauses))
    if not blamed:
        return
    top = clauses[-1]  # brute force needs it to stay small
    for gone in blamed:
        rest = tuple(c for c in blamed if c != gone)
        if top in blamed:
            assert gone == top or any(max(s) >= 8 for s in brute(rest))
    assert not any(max(s) >= 8 for s in brute((*blamed, top)))


@given(CLAUSES, st.tuples(SIDE, SIDE), st.sampled_from([1.0, 1.5, 2.0, 0.5]))
@settings(max_examples=examples(400), deadline=None)
def test_what_a_photo_can_give_equals_brute_force(made, photo, cap):
    every = [
        *made,
        (("longest_side", Limit(("at_most",), at_most=TOP)), ()),
        (("enlargement", Limit(("at_most",), at_most=cap)), ()),
    ]
    clauses = tuple(
        Clause(f"c{i}", name, limit, applies=applies)
        for i, ((name, limit), applies) in enumerate(every)
    )
    brief = Brief("b", "", clauses)
    truth = brute(clauses[:-1])
    reach = (floor(photo[0] * cap), floor(photo[1] * cap))
    can = any(w <= reach[0] and h <= reach[1] for w, h in truth)
    assert possible(brief, photo) == can
    for change in changes(brief, photo):
        if change.kind == "pixels":
            assert possible(brief, (photo[0] + change.missing[0], photo[1] + change.missing[1]))
            assert sum(change.missing) > 0
        if change.kind == "turn":
            assert possible(brief, (photo[1], photo[0]))
        if change.kind == "enlarge":
            need = min(max(Fraction(w, photo[0]), Fraction(h, photo[1])) for w, h in truth)
            assert change.factor == pytest.approx(float(need))


@given(st.lists(st.tuples(SIDES, APPLIES), max_size=3), SHAPE, st.integers(3, 30))
@settings(max_examples=examples(300), deadline=None)
def test_the_best_target_of_a_shape(made, shape, longest):
    every = [*made, (("longest_side", Limit(("at_most",), at_most=TOP)), ())]
    clauses = tuple(
        Clause(f"c{i}", name, limit, applies=applies)
        for i, ((name, limit), applies) in enumerate(every)
    )
    sizes, truth = allowed(Brief("b", "", clauses)), brute(clauses)
    half = max(shape, 1) / 2  # without the sizes that fit only as no side can be less than 1
    family = {(w, h) for w, h in truth if abs(w - h * shape) <= half}
    target = sizes.target(shape, longest)
    fits = {size for size in family if max(size) <= longest}
    if target is None:
        assert not family
    elif fits:
        assert target.size in fits and min(target.size) == max(map(min, fits))
    else:
        assert target.size in family and min(target.size) == min(map(min, family))


# --- both sides at once ---------------------------------------------------------------------


def test_a_size_at_most_keeps_every_shape_that_fits():
    brief = brief_of(clause("size", at_most="475 x 150"))
    sizes = allowed(brief)
    assert sizes.contains(475, 150) and sizes.contains(1, 150) and not sizes.contains(476, 1)
    assert sizes.cut(1920, 1080).size == (267, 150) and sizes.cut(1920, 1080).whole
    assert "475" in " ".join(describe(brief)) and "150" in " ".join(describe(brief))


def test_a_size_between_two():
    brief = brief_of(clause("size", between=["600 x 600", "1200 by 1,200"]))
    limit = brief.clauses[0].limit
    assert (limit.at_least, limit.at_most) == ((600, 600), (1200, 1200))
    assert allowed(brief).cut(4000, 4000).size == (1200, 1200)
    measure = STATED["size"]
    assert measure.allows(limit, (600, 1200)) and not measure.allows(limit, (599, 1200))
    said = measure.outside(limit, (599, 1300), measure.kind).replace("\u00a0", " ")
    assert said == "1 px too narrow and 100 px too high"
    assert measure.limit_says(limit, measure.kind).replace("\u00a0", " ") == (
        "600 × 600 px to 1 200 × 1 200 px"
    )
    with pytest.raises(RulebookError, match="not above the upper"):
        brief_of(clause("size", at_least="600 x 900", at_most="1200 x 800"))


SIZED = st.tuples(st.integers(1, 30), st.integers(1, 30))


@settings(max_examples=examples(200))
@given(SIZED, SIZED, st.integers(1, 40))
def test_size_bounds_against_every_size(a, b, longest):
    low = min(a[0], b[0]), min(a[1], b[1])
    high = max(a[0], b[0]), max(a[1], b[1])
    brief = brief_of(
        clause("size", at_least=f"{low[0]} x {low[1]}", at_most=f"{high[0]} x {high[1]}")
        + clause("longest_side", at_most=longest)
    )
    sizes = allowed(brief)
    for w in range(1, 33):
        for h in range(1, 33):
            inside = low[0] <= w <= high[0] and low[1] <= h <= high[1] and max(w, h) <= longest
            assert sizes.contains(w, h) == inside


def test_a_brief_is_found_again_in_another_process(tmp_path):
    """What is held by a brief is found by its hash, and every process hashes words in its own way."""
    brief = brief_of(clause("size", exactly="630 x 840"))
    assert chosen(brief, Box.of(1260, 1680)) is not None  # hashed, and held
    held = tmp_path / "brief"
    held.write_bytes(pickle.dumps(brief))
    asked = (
        "import pickle, sys; import aptandum.core.judge.measures\n"
        "from aptandum.core.sizes.least import Box\nfrom aptandum.core.sizes.wished import chosen\n"
        "brief = pickle.loads(open(sys.argv[1], 'rb').read())\n"
        "other = brief.__class__(brief.id, brief.title, brief.clauses)\n"
        "print(brief == other and hash(brief) == hash(other), chosen(brief, Box.of(1260, 1680)).target.size)"
    )
    run = subprocess.run(
        [sys.executable, "-c", asked, str(held)],
        capture_output=True, text=True, check=True, env={**os.environ, "PYTHONHASHSEED": "7"},
    )  # fmt: skip
    assert run.stdout.strip() == "True (630, 840)"
