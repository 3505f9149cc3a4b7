"""A watched folder: what arrives whole is made once, and nothing that happens on the way makes it twice or half."""

from __future__ import annotations

import errno
import io
import os
import random
import sqlite3
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.watched import BookTaken, Event, Want, WatchBook, Watcher
from aptandum.core.watched import watcher as watching
from aptandum.core.watched.book import NAME
from samples import brief_of, clause, examples, jpeg, scene

BRIEF = brief_of(
    clause("longest_side", at_most="120 px") + clause("format", exactly="jpeg"),
)


def picture(seed: int) -> bytes:
    return jpeg(scene(160, 120, seed, 3.0))


class Place:
    """A folder that is watched, with a clock that is moved by hand."""

    def __init__(self, root: Path) -> None:
        self.folder, self.out, self.now = root / "in", root / "out", 0.0
        self.folder.mkdir(parents=True)
        self.out.mkdir()
        self.events: list[Event] = []
        self.book: WatchBook | None = None
        self.begin()

    def begin(self) -> None:
        """Begin to watch, as after a restart."""
        if self.book is not None:
            self.book.close()
        self.book = WatchBook(self.out)
        want = Want("pier-office/notice", BRIEF, "rules", str(self.out))
        self.watcher = Watcher(str(self.folder), [want], self.book, settle=3, patience=60, clock=lambda: self.now)  # fmt: skip

    def turn(self, later: float = 4.0) -> list[Event]:
        """Some seconds later, look again."""
        self.now += later
        told = list(self.watcher.turn())
        self.events += told
        return told

    def put(self, name: str, data: bytes) -> Path:
        path = self.folder / name
        path.parent.mkdir(exist_ok=True)
        path.write_bytes(data)
        return path

    def results(self) -> list[str]:
        return sorted(path.name for path in self.out.iterdir() if path.suffix == ".jpg")

    def sound(self) -> None:
        for name in self.results():
            with Image.open(self.out / name) as opened:
                opened.load()
                assert max(opened.size) <= 120
        assert not list(self.out.glob(".aptandum-*.part"))


@pytest.fixture
def place(tmp_path):
    made = Place(tmp_path)
    yield made
    made.book.close()


def kinds(events: list[Event]) -> list[str]:
    return [event.kind for event in events]


def test_a_file_is_made_once_it_has_been_still_and_never_again(place):
    place.put("one.jpg", picture(1))
    assert place.turn() == [] and place.watcher.unsettled == 1
    (made,) = place.turn()
    assert made.kind == "made" and made.file.endswith("in/one.jpg")
    assert place.results() == [Path(made.written).name]
    for _ in range(3):
        assert place.turn() == []
    place.begin()
    assert place.turn() == [] == place.turn()
    place.sound()


def test_a_file_that_is_still_written_is_waited_for(place):
    data = picture(2)
    for part in (0.2, 0.5, 0.9):
        place.put("slow.jpg", data[: int(len(data) * part)])
        assert place.turn(2.0) == []
    # a pause longer than it takes to settle: half a picture is read, and still waited for
    assert place.turn() == [] == place.turn()
    place.put("slow.jpg", data)
    place.turn()
    assert kinds(place.turn()) == ["made"]
    assert len(place.results()) == 1


def test_what_stays_half_is_set_aside_with_its_reason_and_made_when_it_comes_whole(place):
    data = picture(3)
    place.put("half.jpg", data[: len(data) // 2])
    place.put("words.png", b"no picture at all")
    place.turn()
    place.turn()
    place.turn(61)
    assert sorted(kinds(place.events)) == ["aside", "aside"]
    listed = (place.out / watching.LIST).read_text()
    assert "half.jpg" in listed and "cut short" in listed and "words.png" in listed
    place.put("half.jpg", data)
    place.turn()
    assert kinds(place.turn()) == ["made"]
    assert "half.jpg" not in (place.out / watching.LIST).read_text()
    (place.folder / "words.png").unlink()
    place.turn()
    assert not (place.out / watching.LIST).exists()


def test_a_copy_and_a_new_name_are_told_and_not_made_again(place):
    first = place.put("first.jpg", picture(4))
    place.put("sub/copy.jpg", picture(4))
    place.turn()
    place.turn()
    first.rename(place.folder / "later.jpg")
    place.turn()
    place.turn()
    assert kinds(place.events).count("made") == 1
    assert {Path(e.file).name for e in place.events if e.kind == "known"} >= {"later.jpg"}
    assert len(place.results()) == 1


def test_a_file_of_the_same_name_with_other_content_gets_a_name_of_its_own(place):
    place.put("one.jpg", picture(5))
    place.turn()
    place.turn()
    before = {name: (place.out / name).read_bytes() for name in place.results()}
    place.put("one.jpg", picture(6))
    place.turn()
    place.turn()
    assert len(place.results()) == 2
    assert all((place.out / name).read_bytes() == data for name, data in before.items())


@pytest.mark.parametrize("what", ["file", "book before", "book after", "list"])
def test_a_full_disk_is_told_once_and_waited_for(place, monkeypatch, what):
    full = OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
    gone = sqlite3.OperationalError("database or disk is full")
    place.put("one.jpg", picture(7))
    if what == "list":
        place.put("bad.jpg", b"no picture")
        place.watcher.patience = 0
    with monkeypatch.context() as patch:
        if what == "file":
            patch.setattr(watching, "create_atomic", lambda *_a: (_ for _ in ()).throw(full))
        elif what == "list":
            patch.setattr(watching, "write_atomic", lambda *_a: (_ for _ in ()).throw(full))
        else:
            put, state = place.book.put, "making" if what == "book before" else "made"

            def fail(content, asked, held):
                if held.state == state:
                    raise gone
                put(content, asked, held)

            patch.setattr(place.book, "put", fail)
        for _ in range(4):
            place.turn()
    assert kinds(place.events).count("waits") == 1 and place.watcher.trouble
    for _ in range(2):
        place.turn()
    told = kinds(place.events)
    assert told.count("made") == told.count("again") == 1
    assert len(place.results()) == 1
    place.sound()


def test_what_was_written_just_before_a_crash_is_not_made_again(place, monkeypatch):
    place.put("one.jpg", picture(8))
    place.turn()
    put = place.book.put

    def die(content, asked, held):
        if held.state == "made":
            raise KeyboardInterrupt  # nothing after the file itself was written
        put(content, asked, held)

    monkeypatch.setattr(place.book, "put", die)
    with pytest.raises(KeyboardInterrupt):
        place.turn()
    monkeypatch.undo()
    before = place.results()
    place.begin()
    place.turn()
    assert kinds(place.turn(4)) in ([], ["made"])
    assert place.results() == before and len(before) == 1
    assert kinds(place.events).count("made") == 1


def test_a_name_that_was_written_down_and_never_got_its_file_is_used_again(place, monkeypatch):
    place.put("one.jpg", picture(9))
    place.turn()

    def die(*_args):
        raise KeyboardInterrupt

    monkeypatch.setattr(watching, "create_atomic", die)
    with pytest.raises(KeyboardInterrupt):
        place.turn()
    monkeypatch.undo()
    place.begin()
    place.turn()
    place.turn()
    assert kinds(place.events) == ["made"] and len(place.results()) == 1


def test_a_result_s_name_that_another_program_takes_is_left_to_it(place, monkeypatch):
    place.put("one.jpg", picture(10))
    place.turn()
    real, taken = watching.create_atomic, []

    def taken_meanwhile(target, data, free):
        if not taken:
            taken.append(Path(target))
            Path(target).write_bytes(b"somebody else's")
        return real(target, data, free)

    monkeypatch.setattr(watching, "create_atomic", taken_meanwhile)
    (made,) = place.turn()
    assert taken[0].read_bytes() == b"somebody else's" and Path(made.written) != taken[0]


def test_what_is_written_to_while_it_is_made_is_not_kept(place, monkeypatch):
    path = place.put("one.jpg", picture(11))
    place.turn()
    real = watching.conform

    def meanwhile(*args, **more):
        path.write_bytes(picture(12))
        return real(*args, **more)

    monkeypatch.setattr(watching, "conform", meanwhile)
    assert place.turn() == [] and place.results() == []
    monkeypatch.undo()
    place.turn()
    place.turn()
    assert kinds(place.events) == ["made"]


def test_one_program_watches_for_a_folder_and_a_strange_book_is_refused(place, tmp_path):
    with pytest.raises(BookTaken, match="already"):
        WatchBook(place.out)
    other = tmp_path / "other"
    other.mkdir()
    (other / NAME).write_bytes(b"these are only words, and no database " * 40)
    with pytest.raises(BookTaken, match="rename it"):
        WatchBook(other)


def test_a_folder_that_goes_away_is_waited_for(place):
    place.put("one.jpg", picture(13))
    place.turn()
    away = place.folder.rename(place.folder.with_name("away"))
    assert kinds(place.turn()) == ["waits"] and place.turn() == []
    away.rename(place.folder)
    place.turn()
    place.turn()
    assert kinds(place.events) == ["waits", "again", "made"]


def test_other_rules_make_it_again(place):
    place.put("one.jpg", picture(14))
    place.turn()
    place.turn()
    want = Want("pier-office/notice", BRIEF, "other rules", str(place.out))
    place.watcher = Watcher(str(place.folder), [want], place.book, clock=lambda: place.now)
    assert kinds(place.turn()) == ["made"] and len(place.results()) == 2  # its content is known


@settings(max_examples=examples(40))
@given(st.integers(0, 10**6))
def test_whatever_comes_in_whatever_order_each_content_is_made_once(tmp_path_factory, seed):
    """Files come whole, in parts, under new names, are copied, removed and replaced, with restarts between."""
    rng = random.Random(seed)
    place = Place(tmp_path_factory.mktemp("place"))
    whole = [picture(n) for n in range(4)]
    last: dict[str, bytes] = {}
    for _ in range(rng.randint(4, 14)):
        act, name, data = rng.choice("pphrcdnw"), f"{rng.randint(1, 4)}.jpg", rng.choice(whole)
        there = sorted(path.name for path in place.folder.iterdir())
        if act == "p":
            place.put(name, data)
        elif act == "h":
            place.put(name, data[: rng.randint(10, len(data) - 10)])
        elif act == "r" and there:
            (place.folder / rng.choice(there)).rename(place.folder / name)
        elif act == "c" and there:
            place.put(name, (place.folder / rng.choice(there)).read_bytes())
        elif act == "d" and there:
            (place.folder / rng.choice(there)).unlink()
        elif act == "n":
            place.begin()
        place.turn(rng.choice([1.0, 4.0]))
    for path in place.folder.iterdir():
        last[path.name] = path.read_bytes()
    for later in (4, 4, 61, 4):
        place.turn(later)
    place.sound()
    made = [e for e in place.events if e.kind == "made"]
    assert len(made) == len({e.written for e in made}) == len(place.results())
    assert len(made) <= len(whole)  # a content is made once, whatever its names
    there = {data for data in last.values() if data in whole}
    for data in there:
        small = Image.open(io.BytesIO(data)).resize((120, 90))
        assert any(_like(small, place.out / name) for name in place.results())
    halves = [name for name, data in last.items() if data not in whole]
    told = (place.out / watching.LIST).read_text() if halves else ""
    assert all(f"/{name}," in told for name in halves)
    assert bool(halves) == (place.out / watching.LIST).exists()
    place.book.close()


def _like(one: Image.Image, path: Path) -> bool:
    from PIL import ImageChops, ImageStat

    with Image.open(path) as other:
        return max(ImageStat.Stat(ImageChops.difference(one, other.convert("RGB"))).mean) < 12
