"""Listings of any length: what is kept of an item, of what was found and of what is remembered, against the same told plainly."""

from __future__ import annotations

import csv
import os
import threading
import tracemalloc
from datetime import datetime, timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aptandum.core.docket import audit_lists
from aptandum.core.docket.audit import Checked, Miss
from aptandum.core.docket.audit_book import AuditBook
from aptandum.core.docket.audit_found import Found, Known
from aptandum.core.docket.audit_lists import ACCEPTED, DANGER, EVERY, FELL, NEW, ROSE, Told
from aptandum.core.docket.listed import Item, Listed
from aptandum.core.docket.listing import read_listing
from aptandum.core.docket.standings import STANDINGS
from aptandum.core.packed import Packed
from samples import examples

NAMES = st.text(max_size=6)
FILES = st.sampled_from(
    ["", "a.jpg", "/p/a.jpg", "/p/b.jpg", "/q/a.jpg", "//c.jpg", "/p/\udcff.png"]
)
ITEMS = st.lists(
    st.builds(
        Item,
        NAMES,
        FILES,
        st.sampled_from([None, True, False]),
        st.integers(0, 10**7),
        st.sampled_from([(), ("sku", "title")]),
        st.lists(NAMES, max_size=3).map(tuple),
        st.sampled_from(["", "k", "l", "ä"]),
        st.sampled_from([None, 0.0, 2.5, -1.0]),
    ),
    max_size=12,
)


def same(one: Item, other: Item) -> bool:
    return vars(one) == vars(other)  # what is not compared of items as well


@given(st.lists(st.tuples(st.text(), st.integers(), st.none() | st.booleans()), max_size=30))
def test_what_is_packed_comes_out_again(things):
    packed = Packed(things)
    assert list(packed) == things and [packed[n] for n in range(-len(things), 0)] == things
    assert packed[1:-1] == things[1:-1]
    with pytest.raises(IndexError):
        packed[len(things)]


@settings(max_examples=examples(120))
@given(ITEMS, st.data())
def test_items_and_what_takes_their_place(items, data):
    listed = Listed(items)
    assert len(listed) == len(items) and all(map(same, listed, items))
    assert all(same(listed[n], items[n]) for n in range(-len(items), len(items)))
    assert listed.matters.tolist() == [one.matters for one in items]
    assert listed.says_stock == any(one.in_stock is not None for one in items)
    wanted = data.draw(st.lists(st.booleans(), min_size=len(items), max_size=len(items)))
    by_file: dict[object, list[int]] = {}
    for at, item in enumerate(items):
        if wanted[at]:
            by_file.setdefault(item.file or at, []).append(at)
    mask = np.array(wanted, bool)
    assert list(listed.pictures(mask)) == [tuple(one) for one in by_file.values()]
    assert listed.count_pictures(mask) == len(by_file)
    if items:
        at = data.draw(st.integers(0, len(items) - 1))
        other = listed.with_files({at: "/z/new.jpg"})
        assert other[at].file == "/z/new.jpg" and listed[at].file == items[at].file
        assert [one.file for n, one in enumerate(other) if n != at] == [
            one.file for n, one in enumerate(items) if n != at
        ]
        assert not other.is_like(listed) and other.as_listed.is_like(listed)
        assert all(map(same, other.as_listed, items)) and other.instead == {at: "/z/new.jpg"}


def wrong_ways() -> st.SearchStrategy[list[str]]:
    return st.lists(st.sampled_from([*STANDINGS, "size colour", "size"]), min_size=8, max_size=8)


def stands(item: Item, how: str) -> Checked:
    if how == "lost":
        return Checked(item, "lost", trouble=f"There is no {item.file}.")
    if how not in STANDINGS:
        misses = tuple(
            Miss("misses", name, name, f"{name}.", figures={"n": 1}) for name in how.split()
        )
        return Checked(item, "misses", misses, "", (3, 10**18), (40, 30))
    miss = Miss(how, "depth", "Depth", "Deep.")
    return Checked(item, how, () if how == "meets" else (miss,))  # type: ignore[arg-type]


def weight(one: Checked) -> tuple[int, int]:
    at = -1 if one.standing == "lost" else STANDINGS.index(one.standing)
    return at, -sum(m.verdict == "misses" for m in one.misses)


@settings(max_examples=examples(60))
@given(wrong_ways(), wrong_ways(), st.sets(st.integers(0, 7)))
def test_every_list_is_what_a_plain_walk_over_the_items_gives(before, now, accepted):
    items = [Item(f"i{n}", f"/p/{n % 3}.jpg", value=[None, 2.0, 9.0][n % 3]) for n in range(8)]
    book = AuditBook(":memory:")
    first = datetime.fromisoformat("2026-11-01T09:00:00+01:00")
    found = Found(Listed(items))
    for visit, ways in enumerate((before, now)):
        for at, how in enumerate(ways):
            found.put((at,), stands(items[at], how))
        book.record(book.begin("s", "b", first + timedelta(visit)), found)
        if not visit:
            book.accept("s", "b", [f"i{n}" for n in accepted], first)
    histories = dict(book.histories("s", "b"))
    plain = [
        Told(item.name, stands(item, how), histories[item.name], at)
        for at, (item, how) in enumerate(zip(items, now, strict=True))
    ]
    rows = audit_lists.told(found, book.remembered("s", "b", found.items_listed.keys))
    assert list(rows) == plain
    assert rows.in_danger.tolist() == [one.in_danger for one in plain]
    assert rows.accepted.tolist() == [one.accepted for one in plain]
    groups = {
        EVERY: lambda one: True,
        DANGER: lambda one: one.in_danger,
        ACCEPTED: lambda one: one.accepted,
        FELL: lambda one: one.in_danger and one.history.fell,
        NEW: lambda one: one.history.new,
        ROSE: lambda one: one.history.rose,
        "colour": lambda one: one.in_danger and "colour" in [m.clause for m in one.checked.misses],
    }
    for group, belongs in groups.items():
        mine = [one for one in plain if belongs(one)]
        assert list(rows.of_group(group)) == mine
        assert list(rows.of_group(group).in_order("worst")) == sorted(
            mine, key=lambda one: (one.accepted, weight(one.checked))
        )
        assert list(rows.of_group(group).in_order("value")) == sorted(
            mine, key=lambda one: (not one.in_danger, -(one.item.value or 0.0), weight(one.checked))
        )
    book.close()


@settings(max_examples=examples(60))
@given(
    wrong_ways(), st.lists(st.integers(0, 3), min_size=8, max_size=8), st.sets(st.integers(0, 7))
)
def test_what_is_known_of_many_is_what_each_would_be_told_by_itself(ways, shows, changed):
    items = [Item(f"i{n}", f"/p/{n}.jpg") for n in range(8)]
    one_by_one, together = Found(Listed(items)), Found(Listed(items))
    alike: dict[str, tuple[object, ...]] = {}
    parts = []
    for picture in sorted(set(shows)):
        places = tuple(at for at, shown in enumerate(shows) if shown == picture)
        one = stands(items[places[0]], ways[picture])
        left = tuple(at for at in places if at not in changed)
        one_by_one.put(left, one)
        outcome = alike.setdefault(
            ways[picture] + one.trouble, (one.standing, one.misses, one.trouble)
        )
        stamp, size = one.stamp or (-1, -1), one.size or (-1, -1)
        parts.append(
            Known.of(
                np.array(places), [len(places)], [outcome], np.array([stamp]), np.array([size])
            )
        )
    known = Known.joined(parts)
    assert len(known.outcomes) == len(alike) and sorted(known.places.tolist()) == list(range(8))
    together.put_known(known.without(changed))
    assert together == one_by_one and set(together) == set(range(8)) - changed


def test_lists_are_made_while_more_is_found():
    items = [Item(f"i{n}", f"/p/{n}.jpg") for n in range(3000)]
    found, met, made, over = Found(Listed(items)), [], [], threading.Event()
    held = found.copy()

    def make() -> None:
        while not over.is_set():
            try:
                made.append(audit_lists.lists(found.copy(), None, DANGER, "worst"))
            except Exception as error:
                met.append(repr(error))

    beside = threading.Thread(target=make)
    beside.start()
    try:
        for at, item in enumerate(items):  # each with a reason that nothing else has
            found.put((at,), stands(item, f"size{at}"))
    except Exception as error:
        met.append(repr(error))
    finally:
        over.set()
        beside.join()
    assert not met and made and not len(held) and len(found) == len(items)
    assert len(audit_lists.lists(found, None, DANGER, "worst").groups) == len(items) + 2


@pytest.mark.parametrize(
    "file", ["a.jpg", "b/a.jpg", "./a.jpg", "../a.jpg", "..", ".", "/x//y.jpg", "a b.", "-a.jpg"]
)
def test_a_picture_is_looked_for_beside_its_listing(tmp_path, file):
    (tmp_path / "list.csv").write_text(f"item,picture\nJug,{file}\nCup,{file}\nNone,\n")
    listed = read_listing(tmp_path / "list.csv")
    whole = os.path.normpath(os.path.join(tmp_path, file))
    assert [one.file for one in listed] == [whole, whole, ""]


CELLS = st.text(st.sampled_from('aB1 ,"\n\t;é-.'), max_size=4)


@settings(max_examples=examples(80))
@given(st.lists(st.lists(CELLS, max_size=7), max_size=8))
def test_a_listing_is_what_its_rows_say_one_by_one(tmp_path_factory, rows):
    folder = tmp_path_factory.mktemp("rows")
    head = [" Sku", "title", "Picture ", "price", "note"]
    with open(folder / "list.csv", "w", newline="", encoding="utf-8") as stream:
        csv.writer(stream).writerows([head, *rows])
    listed = read_listing(folder / "list.csv")
    told = [row for row in rows if any(cell.strip() for cell in row)]
    assert [list(one.row) for one in listed] == [row[:5] for row in told]
    assert {one.head for one in listed} <= {("Sku", "title", "Picture", "price", "note")}
    for at, (one, row) in enumerate(zip(listed, told, strict=True)):
        sku, title, picture, price = [cell.strip() for cell in [*row, *[""] * 5][:4]]
        assert same(listed[at], one) and one.key == sku and listed.file(at) == one.file
        assert one.name == (title or picture or f"line {one.line}")
        assert one.file == (os.path.normpath(folder / picture) if picture else "")
        assert (one.value is not None) == bool(set(price) & set("1"))
    everywhere = list(range(len(listed)))
    assert listed.files(everywhere) == [one.file for one in listed]


def test_of_a_long_listing_little_is_held(tmp_path):
    many = 30_000
    with open(tmp_path / "list.csv", "w", newline="") as stream:
        table = csv.writer(stream)
        table.writerow(["sku", "title", "picture", "price", "note"])
        table.writerows([f"s{n}", f"Jug {n % 45}", f"p{n % 9000}.jpg", n % 97, "x" * 20] for n in range(many))  # fmt: skip
    tracemalloc.start()
    try:
        listed = read_listing(tmp_path / "list.csv")
        found = Found(listed)
        for n, places in enumerate(listed.pictures(~found.looked)):
            found.put(places, stands(listed[places[0]], ["meets", "size"][n % 2]))
        made = audit_lists.lists(found, None, DANGER, "value")
        held, _peak = tracemalloc.get_traced_memory()
    finally:
        tracemalloc.stop()
    assert len(made.shown) == sum(n % 9000 % 2 for n in range(many))
    assert held / many < 350  # as objects, some 1,600 bytes each
