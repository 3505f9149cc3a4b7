"""Once and only once: the client's steps against a desk that fails as Hypothesis likes, with the
client's process gone at any moment."""

from __future__ import annotations

import hashlib
import tempfile
from pathlib import Path

import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule

from aptandum.core.docket.hand_over import HandOver, state_said
from aptandum.desks.book import AlreadyHanded, Book, sha256_of
from aptandum.desks.client import NotNow, NotTaken, Receipt
from aptandum.desks.errands import Errands, step, taken, wished
from samples import examples

BRIEF = "pier-office/notice"


class Killed(BaseException):
    """The client's process is gone."""


class MadeUpDesk:
    """A desk in memory that keeps the same promises as a real one, and breaks as it is told: ``way``
    is what becomes of the next call."""

    def __init__(self) -> None:
        self.held: dict[str, dict] = {}
        self.taken_in = 0
        self.way = "well"

    def _answer(self, act) -> Receipt:
        way, self.way = self.way, "well"
        if way == "full":
            raise NotNow("full", untouched=True)
        if way == "cut":
            raise NotNow("cut")
        if way == "killed before":
            raise Killed
        made = act()
        if way == "lost":
            raise NotNow("lost")
        if way == "killed after":
            raise Killed
        return made

    def _receipt(self, number: str) -> Receipt:
        return Receipt(number=number, **self.held[number])

    def hand_over(self, item: HandOver, data: bytes) -> Receipt:
        def act() -> Receipt:
            assert sha256_of(data) == item.sha256
            for number, held in self.held.items():
                if held["sha256"] == item.sha256 and held["state"] not in ("retired", "replaced"):
                    return self._receipt(number)
            self.taken_in += 1
            number = f"PO-{self.taken_in}"
            if item.replaces:
                self.held[item.replaces]["state"] = "replaced"
            self.held[number] = {
                "brief": "notice",
                "name": item.name,
                "sha256": item.sha256,
                "bytes": len(data),
                "received": "now",
                "state": "waiting",
                "reasons": (),
                "history": (),
            }
            return self._receipt(number)

        return self._answer(act)

    def find(self, item: HandOver) -> Receipt | None:
        def act() -> Receipt | None:
            for number, held in self.held.items():
                if held["sha256"] == item.sha256 and held["state"] not in ("retired", "replaced"):
                    return self._receipt(number)
            return None

        return self._answer(act)

    def ask(self, item: HandOver) -> Receipt:
        return self._answer(lambda: self._receipt(item.number))

    def retire(self, item: HandOver) -> Receipt:
        def act() -> Receipt:
            self.held[item.number]["state"] = "retired"
            return self._receipt(item.number)

        return self._answer(act)

    def look_again(self, item: HandOver) -> Receipt:
        def act() -> Receipt:
            if self.held[item.number]["state"] == "held":
                self.held[item.number]["state"] = "waiting"
            return self._receipt(item.number)

        return self._answer(act)


class HandOvers(RuleBasedStateMachine):
    """Files are begun, steps are done, the desk decides, and anything may break in between."""

    @initialize()
    def open(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.book = Book(Path(self.folder.name))
        self.desk = MadeUpDesk()

    def teardown(self) -> None:
        if hasattr(self, "book"):
            self.book.close()
            self.folder.cleanup()

    @rule(n=st.integers(0, 4), ready=st.booleans())
    def begin(self, n: int, ready: bool) -> None:
        data = f"file {n}".encode()
        item = HandOver(
            id="",
            brief=BRIEF,
            name=f"{n}.jpg",
            sha256=sha256_of(data),
            bytes=len(data),
            ready=ready,
        )
        standing = self.book.standing(BRIEF, item.sha256)
        try:
            self.book.begin("d", item, data)
            assert standing is None
        except AlreadyHanded as error:
            assert error.item == standing

    @rule(
        at=st.integers(0, 9),
        way=st.sampled_from(
            ["well", "well", "full", "cut", "lost", "killed before", "killed after"]
        ),
    )
    def go_on(self, at: int, way: str) -> None:
        left = self.book.unsettled()
        if not left:
            return
        item = left[at % len(left)]
        self.desk.way = way
        try:
            made = step(item, self.desk, lambda: self.book.data(item), self.book.write)
            self.book.write(made)
        except NotNow:
            pass
        except Killed:  # all that is left is what is on the disk
            self.book.close()
            self.book = Book(Path(self.folder.name))
        finally:
            self.desk.way = "well"

    @rule(at=st.integers(0, 9), state=st.sampled_from(["review", "accepted", "held"]))
    def decide(self, at: int, state: str) -> None:
        open_ = [held for held in self.desk.held.values() if held["state"] in ("waiting", "review")]
        if open_:
            open_[at % len(open_)]["state"] = state

    @rule(at=st.integers(0, 9), wish=st.sampled_from(["retire", "review"]))
    def want(self, at: int, wish: str) -> None:
        every = self.book.all()
        if every:
            try:
                self.book.write(wished(every[at % len(every)], wish))
            except ValueError:
                return

    @invariant()
    def each_file_is_there_once(self) -> None:
        if not hasattr(self, "desk"):
            return
        live = [h["sha256"] for h in self.desk.held.values() if h["state"] != "retired"]
        assert len(live) == len(set(live))

    @invariant()
    def nothing_is_reported_that_was_not_received(self) -> None:
        if not hasattr(self, "book"):
            return
        for item in self.book.all():
            if item.state in ("ready", "sending", "unsure", "withdrawn"):
                assert not item.number
            else:
                held = self.desk.held[item.number]
                assert (held["sha256"], held["bytes"]) == (item.sha256, item.bytes)
            if item.state in ("ready", "sending", "unsure"):
                assert self.book.data(item)  # what may still be sent is still there

    @invariant()
    def the_books_agree_once_all_is_settled(self) -> None:
        if not hasattr(self, "book") or self.book.unsettled():
            return
        ours = {i.number: i.state for i in self.book.all() if i.number}
        assert ours == {number: held["state"] for number, held in self.desk.held.items()}


TestHanding = HandOvers.TestCase
TestHanding.settings = settings(max_examples=examples(60), stateful_step_count=40, deadline=None)


def test_a_receipt_adds_the_desks_history_and_keeps_ours():
    item = HandOver(id="a", brief=BRIEF, name="a.jpg", sha256="0" * 64, bytes=3, ready=True)
    item = item.moved("sending", "Sent.")
    receipt = Receipt.model_validate(
        {
            "number": "PO-1",
            "brief": "notice",
            "name": "a.jpg",
            "sha256": "0" * 64,
            "bytes": 3,
            "received": "2026-11-25T09:00:00+00:00",
            "state": "held",
            "extra": "ignored",
            "reasons": [
                {"measure": "size", "measured": "1 x 1", "limit": "2 x 2", "says": "Small."}
            ],
            "history": [{"at": "2999-01-01T00:00:00+00:00", "state": "held", "says": "Small."}],
        }
    )
    made = taken(item, receipt)
    assert [event.by for event in made.history] == ["us", "desk"]
    assert taken(made, receipt).history == made.history  # told twice, it is written once
    assert made.reasons[0].says == "Small." and made.settled and not made.over


@pytest.mark.parametrize(
    ("state", "number", "retire", "review"),
    [
        ("ready", "", True, False),
        ("unsure", "", True, False),
        ("waiting", "P", True, False),
        ("accepted", "P", True, False),
        ("held", "P", True, True),
        ("refused", "P", False, True),
        ("refused", "", False, False),
        ("retired", "P", False, False),
        ("withdrawn", "", False, False),
    ],
)
def test_what_can_be_wanted_of_a_file_as_it_stands(state, number, retire, review):
    item = HandOver(
        id="a",
        brief=BRIEF,
        name="a.jpg",
        sha256="0" * 64,
        bytes=3,
        ready=True,
        state=state,
        number=number,
    )
    for wish, may in (("retire", retire), ("review", review)):
        if may:
            assert wished(item, wish).wish == wish
        else:
            with pytest.raises(ValueError, match=r"a\.jpg"):
                wished(item, wish)
    assert state_said(state)


def test_a_file_that_was_laid_and_never_begun_is_swept_away_in_time(tmp_path):
    book = Book(tmp_path)
    kept, stray = b"kept", b"stray"
    item = HandOver(id="", brief=BRIEF, name="a.jpg", sha256=sha256_of(kept), bytes=4, ready=True)
    book.begin("d", item, kept)
    assert book.lay(stray) == hashlib.sha256(stray).hexdigest()
    book.sweep()
    assert len(list(book.files.iterdir())) == 2  # it is not a day old
    book.sweep(age=-1)
    assert [f.name for f in book.files.iterdir()] == [item.sha256]
    book.close()


def test_a_no_to_another_look_stands_in_the_history():
    class Stubborn(MadeUpDesk):
        def look_again(self, item: HandOver) -> Receipt:
            raise NotTaken("It has been looked at enough.")

    item = HandOver(
        id="a",
        brief=BRIEF,
        name="a.jpg",
        sha256="0" * 64,
        bytes=3,
        ready=True,
        state="held",
        number="PO-1",
    )
    made = step(wished(item, "review"), Stubborn(), lambda: b"", lambda _i: None)
    assert made.state == "held" and not made.wish
    assert made.history[-1].says == "It has been looked at enough."


def test_a_wish_that_comes_while_the_desk_is_asked_is_not_lost(tmp_path):
    book, data = Book(tmp_path), b"file"
    item = HandOver(id="", brief=BRIEF, name="a.jpg", sha256=sha256_of(data), bytes=4, ready=True)
    item = book.begin("d", item, data)

    class Slow(MadeUpDesk):
        def ask(self, asked: HandOver) -> Receipt:
            book.write(wished(book.get(item.id), "retire"))  # a person presses Retire meanwhile
            return super().ask(asked)

    desk = Slow()
    Errands(book, lambda body: desk, ask_every=0.0).run()
    assert book.get(item.id).state == "retired" and desk.held["PO-1"]["state"] == "retired"
    book.close()
