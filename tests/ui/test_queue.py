"""Work beside the interface: the newest of its kind wins, and what comes late is dropped."""

from __future__ import annotations

import threading
import time

import pytest

from aptandum.core.fitting.resample import Cancelled
from aptandum.core.photo.facts import PhotoError
from aptandum.ui.work import Queue


@pytest.fixture
def queue(qtbot):
    made = Queue()
    yield made
    made.stop()


def test_work_is_done_elsewhere_and_handed_back_here(qtbot, queue):
    here, seen = threading.get_ident(), []
    idle: list[bool] = []
    queue.idle.connect(lambda: idle.append(True))

    def done(result, trouble):
        seen.append((result, trouble, threading.get_ident() == here))

    queue.start("draft", lambda late: threading.get_ident() != here, done)
    assert queue.busy
    qtbot.waitUntil(lambda: bool(seen), timeout=5_000)
    assert seen == [(True, "", True)]
    assert not queue.busy and idle == [True]


def test_the_newest_wins_and_the_older_is_told_to_stop(qtbot, queue):
    begun, told, seen = threading.Event(), threading.Event(), []

    def slow(late):
        begun.set()
        while not late():
            time.sleep(0.005)
        told.set()
        return "old"

    queue.start("draft", slow, lambda result, trouble: seen.append(result))
    assert begun.wait(5)
    queue.start("draft", lambda late: "new", lambda result, trouble: seen.append(result))
    queue.start("other", lambda late: "beside", lambda result, trouble: seen.append(result))
    qtbot.waitUntil(lambda: len(seen) == 2, timeout=5_000)
    assert told.wait(5)
    qtbot.wait(50)
    assert sorted(seen) == ["beside", "new"]


def test_what_is_cancelled_is_not_delivered(qtbot, queue):
    begun, seen = threading.Event(), []

    def work(late):
        begun.set()
        while not late():
            time.sleep(0.005)
        raise Cancelled

    queue.start("proof", work, lambda result, trouble: seen.append(result))
    assert begun.wait(5)
    queue.cancel("proof")
    assert not queue.busy
    queue.stop()
    qtbot.wait(50)
    assert seen == []


@pytest.mark.parametrize(
    "error, said",
    [
        (PhotoError("mole.jpg is empty."), "mole.jpg is empty."),
        (OSError("the disk is full"), "the disk is full"),
        (KeyError("frame"), "KeyError: 'frame'"),
    ],
)
def test_a_failure_is_told_and_not_lost_with_its_thread(qtbot, queue, error, said):
    seen = []

    def work(late):
        raise error

    queue.start("draft", work, lambda result, trouble: seen.append((result, trouble)))
    qtbot.waitUntil(lambda: bool(seen), timeout=5_000)
    assert seen == [(None, said)]
