"""An audit that remembers: three visits a week apart, with everything that can change between them."""

from __future__ import annotations

import csv
import json
import os
import random
import sqlite3
from dataclasses import replace
from datetime import datetime, timedelta
from html.parser import HTMLParser
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aptandum.core.docket import audit, audit_book, audit_lists, audit_run
from aptandum.core.docket.audit import Checked, Miss
from aptandum.core.docket.audit_book import AuditBook, AuditBookError, rules_key
from aptandum.core.docket.audit_found import Found
from aptandum.core.docket.audit_lists import ACCEPTED, DANGER, FELL, NEW, ROSE, Page, told
from aptandum.core.docket.listed import Item, Listed
from aptandum.core.docket.listing import Columns, head_of, read_listing, recognised
from samples import THOROUGH, brief_of, clause, examples, jpeg, scene

MANY = 100_000 if THOROUGH else 2_000
FIRST = datetime.fromisoformat("2026-11-01T09:00:00+01:00")
BRIEF = "mole/small"


def stands(item: Item, wrong: str) -> Checked:
    """An item as it was found: nothing wrong, no picture, or the clauses named."""
    if wrong == "lost":
        return Checked(item, "lost", trouble=f"There is no file {item.file}.")
    misses = tuple(Miss("misses", name, name.title(), f"{name} is off.") for name in wrong.split())
    return Checked(item, "misses" if misses else "meets", misses)


class Model:
    """The same told by itself: how every item stood at every visit."""

    def __init__(self) -> None:
        self.seen: list[dict[str, str]] = []

    def visit(self, found: dict[str, str]) -> None:
        self.seen.append(found)

    def danger_since(self, key: str) -> int | None:
        """The visit since which it has been in danger without a break while it was listed."""
        since = None
        for n, visit in enumerate(self.seen):
            if key in visit:
                since = (n if since is None else since) if visit[key] else None
        return since


def random_visits(rng: random.Random, many: int) -> list[dict[str, str]]:
    """Three visits: items come and go, fall and rise."""
    wrongs = ["", "", "", "size", "size colour", "lost", "weight"]
    now = {f"item {n}": rng.choice(wrongs) for n in range(many)}
    made = [dict(now)]
    for _ in range(2):
        for key in rng.sample(sorted(now), many // 10):
            now[key] = rng.choice(wrongs)
        for key in rng.sample(sorted(now), many // 50 + 1):
            del now[key]
        for n in range(many // 40 + 1):
            now[f"new {len(made)} {n}"] = rng.choice(wrongs)
        made.append(dict(now))
    return made


def test_three_visits_a_week_apart(tmp_path):
    rng = random.Random(7)
    visits, model = random_visits(rng, MANY), Model()
    book = AuditBook(tmp_path / "a.audit.sqlite")
    times = [(FIRST + timedelta(weeks=n)).isoformat(timespec="seconds") for n in range(3)]
    for n, visit in enumerate(visits):
        checked = [stands(Item(key, f"/p/{key}.jpg"), wrong) for key, wrong in visit.items()]
        number = book.begin("list.csv", BRIEF, FIRST + timedelta(weeks=n))
        found = Found.of(checked)
        book.record(number, found)
        model.visit(visit)
        histories, since = (
            dict(book.histories("list.csv", BRIEF)),
            book.since("list.csv", BRIEF),
        )
        before = model.seen[n - 1] if n else {}
        fell = {k for k, v in visit.items() if v and not before.get(k)} if n else set()
        rose = {k for k, v in visit.items() if not v and before.get(k)}
        new = {k for k in visit if all(k not in one for one in model.seen[:n])} if n else set()
        gone = {k for k in before if k not in visit}
        assert {k for k, one in histories.items() if one.fell} == fell
        assert {k for k, one in histories.items() if one.rose} == rose
        assert {k for k, one in histories.items() if one.new} == new
        assert {key for key, _name in since.gone} == gone
        assert (since.fell, since.rose, since.new) == (len(fell), len(rose), len(new))
        assert since.before == (times[n - 1] if n else "")
        for key in rng.sample(sorted(visit), 200):
            held, at = histories[key], model.danger_since(key)
            assert held.danger_since == ("" if at is None else times[at])
            first = next(i for i, one in enumerate(model.seen) if key in one)
            assert held.first_seen == times[first] and not held.gone
        every = told(found, book.remembered("list.csv", BRIEF, found.items_listed.keys))
        assert all(one.history == histories[one.key] for one in every)
        assert len(every.of_group(DANGER)) == sum(map(bool, visit.values()))
        assert {one.key for one in every.of_group(FELL)} == fell
        assert {one.key for one in every.of_group(NEW)} == new
        assert {one.key for one in every.of_group(ROSE)} == rose
        assert {one.key for one in every.new_since()} == fell | new | rose
        assert all(one.in_danger == bool(visit[one.key]) for one in every)
        counts = {clause: n for clause, _title, n in every.titles()}
        assert counts.get("size") == sum("size" in one.split() for one in visit.values())
        assert counts.get(audit.UNUSABLE) == sum(one == "lost" for one in visit.values())
    assert [one[1:] for one in book.visits("list.csv", BRIEF)] == [
        (len(visit), sum(map(bool, visit.values()))) for visit in visits
    ]
    book.close()


def test_what_is_looked_at_again_within_a_visit_belongs_to_it(tmp_path):
    book = AuditBook(tmp_path / "a.sqlite")
    item = Item("jug", "/p/jug.jpg")
    for n, wrong in enumerate(["", "size"]):
        number = book.begin("s", BRIEF, FIRST + timedelta(weeks=n))
        book.record(number, Found.of([stands(item, wrong)]))
    assert book.since("s", BRIEF).fell == 1
    book.record(number, Found.of([stands(item, "")]))  # put right at once
    since = book.since("s", BRIEF)
    assert (since.fell, since.rose) == (0, 0)
    assert dict(book.histories("s", BRIEF))["jug"].danger_since == ""


def test_what_is_accepted_stays_so_until_something_else_is_wrong(tmp_path):
    book, item = AuditBook(tmp_path / "a.sqlite"), Item("jug", "/p/jug.jpg")

    def visit(wrong: str) -> audit_lists.Rows:
        found = Found.of([stands(item, wrong)])
        book.record(book.begin("s", BRIEF, datetime.now().astimezone()), found)
        return told(found, book.remembered("s", BRIEF, found.items_listed.keys))

    assert visit("size").in_danger.all()
    book.accept("s", BRIEF, ["jug"], FIRST)
    rows = visit("size")
    (one,) = rows
    assert one.accepted and not one.in_danger and list(rows.of_group(ACCEPTED)) == [one]
    assert not rows.titles()
    assert visit("size weight")[0].in_danger  # another rule is missed as well: it is asked anew
    book.accept("s", BRIEF, ["jug"], FIRST)
    assert visit("size weight")[0].accepted
    book.accept("s", BRIEF, ["jug"], None)
    assert visit("size weight")[0].in_danger
    book.accept("s", BRIEF, ["jug"], FIRST)
    visit("")
    assert visit("size weight")[0].in_danger  # it was mended meanwhile: that was another time


def test_items_of_one_name_are_told_apart():
    items = [Item("jug", "a.jpg"), Item("jug", "b.jpg"), Item("jug", "b.jpg"), Item("cup", "c.jpg"),
             Item("cup", "c.jpg", key="7"), Item("x", "d.jpg", key="7")]  # fmt: skip
    keys = Listed(items).keys
    assert len(set(keys)) == len(keys) and keys[4] == "7"
    assert list(Listed(items[:1]).keys) == ["jug"]


def test_names_of_any_bytes_are_remembered(tmp_path):
    book, item = AuditBook(tmp_path / "a.sqlite"), Item("b\udcff.jpg", "/p/b\udcff.jpg")
    for n in range(2):
        found = Found.of([stands(item, "lost")] * 2)
        book.record(book.begin("s\udcfe", BRIEF, FIRST + timedelta(n)), found)
        book.remember([replace(stands(item, "lost"), stamp=(3, 4))], "rules")
    held = dict(book.histories("s\udcfe", BRIEF))
    assert list(held) == list(Listed([item, item]).keys) and book.since("s\udcfe", BRIEF).new == 0


@settings(max_examples=examples(60))
@given(
    st.lists(st.tuples(st.sampled_from("ab"), st.sampled_from("cd"), st.sampled_from(["", "k"])))
)
def test_every_item_has_a_key_of_its_own(rows):
    keys = Listed([Item(name, file, key=key) for name, file, key in rows]).keys
    assert len(set(keys)) == len(rows)
    assert keys.places(list(keys)).tolist() == list(range(len(rows)))
    assert keys.places(["nothing"]).tolist() == [-1]


# -- pictures that were looked at ------------------------------------------------------------------


def test_a_picture_is_looked_at_once_whatever_shows_it_and_again_when_it_changes(tmp_path):
    path, other = tmp_path / "jug.jpg", tmp_path / "cup.jpg"
    path.write_bytes(jpeg(scene(160, 120, 1)))
    other.write_bytes(jpeg(scene(60, 40, 2)))
    brief = brief_of(clause("longest_side", at_least="100 px"))
    items = [
        Item("one", str(path)),
        Item("two", str(path)),
        Item("three", str(other)),
        Item("four", ""),
    ]
    book = AuditBook(tmp_path / "a.sqlite")
    rules = rules_key("rules", "notice", False)

    listed = Listed(items)
    every = np.ones(4, bool)

    def look(known) -> tuple[int, Found]:
        found = Found(listed)
        for one in known:
            found.put_known(one)
        looks = list(audit_run.planned(listed, ~found.looked, brief))
        assert len(looks) == listed.count_pictures(~found.looked)
        for places, one in map(audit_run.look, looks):
            found.put(places, one)
            book.remember([one], rules)
        return len(looks), found

    many, first = look(())
    assert many == 3 and [first[at].standing for at in range(4)] == [
        "meets",
        "meets",
        "misses",
        "lost",
    ]
    assert [first[at].item for at in range(4)] == items
    again = list(book.looked(listed, every, rules))
    (known,) = again
    told = zip(known.places.tolist(), known.which.tolist(), strict=True)
    assert {at: known.outcomes[which][0] for at, which in told} == {
        0: "meets",
        1: "meets",
        2: "misses",
    }
    many, found = look(again)
    assert many == 1 and found == first  # the one that has no picture
    other.write_bytes(jpeg(scene(160, 120, 3)))
    many, found = look(book.looked(listed, every, rules))
    assert many == 2 and found[2].standing == "meets"
    assert not list(book.looked(listed, every, rules_key("other rules", "notice", False)))


@pytest.mark.parametrize("others", [0, 40], ids=["of these alone", "of many others"])
@pytest.mark.parametrize("at_once", [3, 500])
def test_what_a_book_knows_is_the_same_whatever_else_it_holds(
    tmp_path, monkeypatch, others: int, at_once: int
):
    monkeypatch.setattr(audit_book, "_AT_ONCE", at_once)
    monkeypatch.setattr(audit_book, "_SORTED", 4)
    book = AuditBook(tmp_path / "a.sqlite")
    names = [f"p{n:02d}.jpg" for n in range(20 + others)]
    for name in names:
        (tmp_path / name).write_bytes(b"x" * 5)
    made = [Item(name, str(tmp_path / name), line=n) for n, name in enumerate(reversed(names))]
    ways = ["meets", "size", "size colour"]
    for rules in ("now", "before"):
        looks = [
            replace(stands(one, ways[n % 3] if rules == "now" else "weight"),
                    stamp=audit.stamp_of(one.file), size=(n + 1, 9) if n % 2 else None)
            for n, one in enumerate(made)
        ]  # fmt: skip
        book.remember(looks, rules)
        if rules == "now":
            plain = {one.item.file: one for one in looks}
    (tmp_path / names[3]).write_bytes(b"another")
    (tmp_path / names[4]).unlink()
    mine = [one for one in made if one.name < "p20.jpg"]
    shown = [*mine, Item("none", ""), *mine[::2], Item("gone", str(tmp_path / "gone.jpg"))]
    found = Found(Listed(shown))
    wanted = np.arange(len(shown)) != 7
    for known in book.looked(found.items_listed, wanted, "now"):
        found.put_known(known)
    held = {
        at: replace(plain[one.file], item=one)
        for at, one in enumerate(shown)
        if one.file in plain and at != 7 and one.name not in (names[3], names[4])
    }
    assert dict(found) == held
    book.close()


# -- listings --------------------------------------------------------------------------------------


def test_columns_are_recognised_and_may_be_said(tmp_path):
    path = tmp_path / "list.csv"
    path.write_text(
        'Title;SKU;Bild;Photo;Price\nJug;a-1;j.jpg;k.jpg;"1.250,00"\nCup;a-2;c.jpg;d.jpg;€ 24.50\n'
    )
    head, rows = head_of(path)
    assert head == ["Title", "SKU", "Bild", "Photo", "Price"] and rows[1][0] == "Cup"
    assert recognised(head) == Columns("Title", "Photo", "", "SKU", "Price")
    (jug, cup) = read_listing(path)
    assert (jug.name, jug.key, Path(jug.file).name, jug.value) == ("Jug", "a-1", "k.jpg", 1250.0)
    assert cup.value == 24.5
    (jug, _cup) = read_listing(path, Columns("SKU", "bild", "", "", ""))
    assert (jug.name, jug.key, Path(jug.file).name, jug.value) == ("a-1", "", "j.jpg", None)
    with pytest.raises(audit.ListingError, match="no column “Foto”"):
        read_listing(path, Columns("Title", "Foto"))


# -- lists -----------------------------------------------------------------------------------------


def some() -> audit_lists.Rows:
    items = [Item("cheap", "/p/a.jpg", value=2.0), Item("<b>dear</b>", "/p/b.jpg", value=90.0), Item("=fine", "/p/c.jpg", value=500.0)]  # fmt: skip
    wrong = ("size weight", "size", "")
    return told(Found.of([stands(item, one) for item, one in zip(items, wrong, strict=True)]))


def test_the_most_valuable_in_danger_come_first():
    names = [one.checked.item.name for one in some().in_order("value")]
    assert names == ["<b>dear</b>", "cheap", "=fine"]
    assert some().in_order("worst")[0].checked.item.name == "cheap"


class Words(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.tags: set[str] = set()
        self.said: list[str] = []

    def handle_starttag(self, tag, attrs):
        self.tags.add(tag)

    def handle_data(self, data):
        self.said.append(data.strip())


def test_a_list_is_written_as_table_json_and_page(tmp_path):
    every = some()
    page = Page("list.csv", "The Mole: Small", FIRST, every)
    for name in ("a.csv", "a.json", "a.html"):
        audit_lists.write_list(every, tmp_path / name, BRIEF, page)
    rows = list(csv.reader((tmp_path / "a.csv").read_text("utf-8-sig").splitlines()))
    assert rows[0][-3:] == ["stands", "reasons", "what is missed"] and rows[3][0] == "'=fine"
    held = json.loads((tmp_path / "a.json").read_text())
    assert [one["value"] for one in held] == [2.0, 90.0, 500.0] and held[2]["in_danger"] is False
    read = Words()
    read.feed((tmp_path / "a.html").read_text())
    said = " ".join(read.said)
    assert "<b>dear</b>" in said and "b" not in read.tags and "script" not in read.tags
    assert "2" in read.said and "92.00" in read.said and "Size is off" not in said
    assert "size is off." in said


# -- bad luck --------------------------------------------------------------------------------------


def test_a_book_that_is_none_or_newer_or_out_of_reach_is_said(tmp_path):
    strange = tmp_path / "words.sqlite"
    strange.write_text("only words " * 500)
    with pytest.raises(AuditBookError, match="rename it"):
        AuditBook(strange)
    newer = tmp_path / "newer.sqlite"
    with sqlite3.connect(newer) as db:
        db.execute("PRAGMA user_version = 99")
    with pytest.raises(AuditBookError, match="newer"):
        AuditBook(newer)
    with pytest.raises(AuditBookError, match="cannot be used"):
        AuditBook(tmp_path)


def test_a_visit_that_is_cut_short_leaves_the_one_before(tmp_path, monkeypatch):
    book, item = AuditBook(tmp_path / "a.sqlite"), Item("jug", "/p/jug.jpg")
    book.record(book.begin("s", BRIEF, FIRST), Found.of([stands(item, "size")]))
    number = book.begin("s", BRIEF, FIRST + timedelta(weeks=1))
    made = iter([audit_book._row])

    def broken(*given):
        return next(made)(*given)  # the second one fails

    monkeypatch.setattr(audit_book, "_row", broken)
    with pytest.raises(StopIteration):
        book.record(number, Found.of([stands(item, ""), stands(Item("cup", "/p/cup.jpg"), "")]))
    held = dict(book.histories("s", BRIEF))
    assert held["jug"].danger_since == FIRST.isoformat() and len(held) == 1
    assert [one[1] for one in book.visits("s", BRIEF)] == [1]


def test_a_book_takes_over_what_another_remembers(tmp_path):
    old, new = AuditBook(tmp_path / "old.sqlite"), AuditBook(tmp_path / "new.sqlite")
    item = Item("jug", os.fspath(tmp_path / "jug.jpg"))
    for source in ("s", "other"):
        old.record(old.begin(source, BRIEF, FIRST), Found.of([stands(item, "size")]))
    new.take_over(old.path, ["s", "s", "nothing"])
    assert list(new.histories("s", BRIEF)) == list(old.histories("s", BRIEF))
    assert not list(new.histories("other", BRIEF)) and len(new.visits("s", BRIEF)) == 1
