"""Work beside the interface: the newest look wins, commands are never dropped, the journal waits for
nothing."""

from __future__ import annotations

import threading

import pytest
from PyQt6.QtWidgets import QFrame, QHBoxLayout

from aptandum.core.errors import Cancelled
from aptandum.core.photo.facts import PhotoError
from aptandum.ui.jobs import Jobs
from aptandum.ui.jobs.command import State
from aptandum.ui.progress import UnderWay
from samples import PATIENCE


@pytest.fixture
def told() -> list[str]:
    return []


@pytest.fixture
def jobs(qtbot, told):
    made = Jobs(told.append)
    yield made
    made.stop()


def until_told_to_stop(begun: threading.Event, late) -> None:
    """Work on until nobody wants it any more."""
    begun.set()
    wait = threading.Event()
    while not late():
        wait.wait(0.002)


# -- latest --------------------------------------------------------------------------------------


def test_work_is_done_elsewhere_and_handed_back_here(qtbot, jobs):
    here, seen, idle = threading.get_ident(), [], []
    jobs.idle.connect(lambda: idle.append(True))
    jobs.latest(
        "draft",
        lambda late: threading.get_ident() != here,
        lambda result: seen.append((result, threading.get_ident() == here)),
    )
    assert jobs.busy
    qtbot.waitUntil(lambda: bool(seen), timeout=PATIENCE)
    assert seen == [(True, True)]
    assert not jobs.busy and idle == [True]


def test_the_newest_wins_and_the_older_is_told_to_stop(qtbot, jobs):
    begun, ended, seen = threading.Event(), threading.Event(), []

    def slow(late):
        until_told_to_stop(begun, late)
        ended.set()
        return "old"

    jobs.latest("draft", slow, seen.append)
    assert begun.wait(5)
    jobs.latest("draft", lambda late: "new", seen.append)
    jobs.latest("other", lambda late: "beside", seen.append)
    qtbot.waitUntil(lambda: len(seen) == 2, timeout=PATIENCE)
    assert ended.wait(5)
    jobs._pool.waitForDone(5000)
    marked = []
    jobs.post(lambda: marked.append(True))  # comes after whatever was still on its way
    qtbot.waitUntil(lambda: bool(marked), timeout=PATIENCE)
    assert sorted(seen) == ["beside", "new"]


def test_what_is_dropped_is_not_delivered(qtbot, jobs):
    begun, seen = threading.Event(), []

    def work(late):
        until_told_to_stop(begun, late)
        raise Cancelled

    jobs.latest("draft", work, seen.append)
    assert begun.wait(5)
    jobs.drop("draft")
    assert not jobs.busy
    jobs.stop()
    assert seen == []


@pytest.mark.parametrize(
    "error, said",
    [
        (PhotoError("mole.jpg is empty."), "mole.jpg is empty."),
        (OSError("the disk is full"), "the disk is full"),
    ],
)
def test_a_failure_is_told_and_not_lost_with_its_thread(qtbot, jobs, told, error, said):
    def work(late):
        raise error

    jobs.latest("draft", work, lambda result: None)
    qtbot.waitUntil(lambda: bool(told), timeout=PATIENCE)
    assert told == [said]


@pytest.mark.parametrize("kind", ["latest", "command", "journal"])
def test_a_mistake_is_told_in_a_sentence_and_logged_with_its_traceback(
    qtbot, jobs, told, mistakes_met, kind
):
    def work(*_late):
        raise KeyError("frame")

    if kind == "latest":
        jobs.latest("draft", work, lambda result: None)
    elif kind == "command":
        jobs.command("Conforming …", work, lambda result: None)
    else:
        from aptandum.core.mistakes import sentence

        jobs.journal.put(work, None, lambda error: told.append(sentence(error)))
    qtbot.waitUntil(lambda: bool(told), timeout=PATIENCE)
    assert "mistake in Aptandum (KeyError)" in told[0]
    assert [type(error) for error in mistakes_met] == [KeyError]
    mistakes_met.clear()


# -- commands ------------------------------------------------------------------------------------


def test_commands_of_a_lane_are_done_in_order_and_none_is_dropped(qtbot, jobs):
    gate, seen = threading.Event(), []
    jobs.command("first", lambda p: gate.wait(5) and "first", seen.append, lane="take in")
    for name in ("second", "third", "fourth"):
        jobs.command(name, lambda p, name=name: name, seen.append, lane="take in")
    states = [one.state for one in jobs.commands]
    assert states == [State.RUNNING, State.WAITING, State.WAITING, State.WAITING]
    gate.set()
    qtbot.waitUntil(lambda: len(seen) == 4, timeout=PATIENCE)
    assert seen == ["first", "second", "third", "fourth"]
    assert jobs.commands == []


def test_cancel_ends_its_own_job_and_no_other(qtbot, jobs):
    begun, gate, seen, ended = threading.Event(), threading.Event(), [], []

    def long(progress):
        until_told_to_stop(begun, progress)
        raise Cancelled

    first = jobs.command("first", long, seen.append, lane="a", cancelled=lambda: ended.append(1))
    jobs.command("beside", lambda p: gate.wait(5) and "beside", seen.append, lane="b")
    jobs.command("after", lambda p: "after", seen.append, lane="a")
    waiting = jobs.command("never", lambda p: "never", seen.append, lane="a")
    assert begun.wait(5)
    jobs.cancel(waiting)
    assert waiting.state is State.CANCELLED and first.state is State.RUNNING
    jobs.cancel(first)
    qtbot.waitUntil(lambda: seen == ["after"], timeout=PATIENCE)
    assert ended == [1] and [one.words for one in jobs.commands] == ["beside"]
    gate.set()
    qtbot.waitUntil(lambda: seen == ["after", "beside"], timeout=PATIENCE)


def test_two_long_commands_keep_neither_a_look_nor_the_journal(qtbot, jobs):
    gate, seen = threading.Event(), []
    for name in ("audit a", "audit b", "audit c"):
        jobs.command(name, lambda p: gate.wait(10), lambda result: None, lane=name)
    jobs.latest("draft", lambda late: "draft", seen.append)
    jobs.journal.put(lambda: "record", seen.append, lambda error: None)
    qtbot.waitUntil(lambda: sorted(seen) == ["draft", "record"], timeout=PATIENCE)
    assert len(jobs.commands) == 3
    gate.set()
    qtbot.waitUntil(lambda: not jobs.busy, timeout=PATIENCE)


def test_what_follows_a_command_may_fail_and_the_next_is_still_done(qtbot, jobs, mistakes_met):
    seen = []

    def wrong(_result):
        raise ValueError("what follows")

    with qtbot.captureExceptions() as raised:
        jobs.command("first", lambda p: 1, wrong, lane="a")
        jobs.command("second", lambda p: 2, seen.append, lane="a")
        qtbot.waitUntil(lambda: seen == [2], timeout=PATIENCE)
    assert [kind for kind, _error, _where in raised] == [ValueError]


def test_the_line_of_progress_names_each_command_with_its_own_cancel(qtbot, jobs):
    line = UnderWay(jobs)
    qtbot.addWidget(line)
    gates = {name: threading.Event() for name in ("Auditing …", "Conforming …")}

    def work(name):
        def run(progress):
            progress.count(3, 12)
            while not gates[name].wait(0.002):
                progress.check()

        return run

    for name in gates:
        jobs.command(name, work(name), lambda result: None, lane=name)
    qtbot.waitUntil(lambda: "3 of 12" in line.words.text(), timeout=PATIENCE)
    assert line.words.text().startswith("Conforming … 3 of 12")
    assert line.more.text() == "and 1 more" and not line.more.isHidden()
    line.show_all()
    first = jobs.commands[0]
    assert first.words == "Auditing …"
    line.list.cancels[id(first)].click()
    qtbot.waitUntil(lambda: [c.words for c in jobs.commands] == ["Conforming …"], timeout=PATIENCE)
    assert line.more.isHidden() and not line.isHidden()
    line.list.hide()
    gates["Conforming …"].set()
    qtbot.waitUntil(line.isHidden, timeout=PATIENCE)


# -- journal -------------------------------------------------------------------------------------


def test_a_place_that_is_opened_later_shows_what_is_under_way(qtbot, jobs):
    go = threading.Event()
    jobs.command("Auditing …", lambda progress: go.wait(), lambda done: None)
    line, place = UnderWay(jobs), QFrame()
    qtbot.addWidget(place)
    QHBoxLayout(place).addWidget(line)
    place.show()
    assert line.isVisible() and line.words.text() == "Auditing …"
    narrow = line.minimumSizeHint().width()
    line.words.setText("Auditing …" * 20)
    assert line.minimumSizeHint().width() == narrow  # its words give way, and nothing beside them
    go.set()
    qtbot.waitUntil(lambda: not jobs.busy, timeout=PATIENCE)
    assert not line.isVisible()


def test_the_journal_writes_in_order_and_of_a_state_only_the_newest(qtbot, jobs):
    gate, written = threading.Event(), []
    jobs.journal.put(lambda: gate.wait(5), None, lambda error: None)
    for n in range(4):
        jobs.journal.put(lambda n=n: written.append(f"record {n}"), None, print, key="record")
    for n in range(3):
        jobs.journal.put(lambda n=n: written.append(f"book {n}"), None, print)
    gate.set()
    assert jobs.journal.flush()
    assert written == ["record 3", "book 0", "book 1", "book 2"]


def test_a_newer_state_takes_the_place_of_the_one_that_waits(qtbot, jobs):
    # who puts a record down before the book relies on it, whatever comes in between
    gate, written = threading.Event(), []
    jobs.journal.put(lambda: gate.wait(5), None, lambda error: None)
    jobs.journal.put(lambda: written.append("record 1"), None, print, key="record")
    jobs.journal.put(lambda: written.append("book"), None, print)
    jobs.journal.put(lambda: written.append("record 2"), None, print, key="record", after=60.0)
    gate.set()
    assert jobs.journal.flush()
    assert written == ["record 2", "book"]


def test_what_may_wait_holds_nothing_up_and_is_written_on_closing(qtbot, jobs):
    written = []
    jobs.journal.put(lambda: written.append("record"), None, print, key="record", after=60.0)
    book = threading.Event()
    jobs.journal.put(book.set, None, print)
    assert book.wait(PATIENCE / 1000) and written == [] and jobs.journal.busy
    jobs.stop()
    assert written == ["record"]


def test_closing_writes_what_is_in_the_journal(qtbot, jobs):
    written = []
    for n in range(50):
        jobs.journal.put(lambda n=n: written.append(n), None, print)
    jobs.stop()
    assert written == list(range(50))
