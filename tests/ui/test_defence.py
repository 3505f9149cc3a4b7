"""A slot, a job and a worker that raise or die: the window stays, and a sentence says what was lost."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest
from PyQt6.QtCore import QTimer, qWarning

from aptandum.core import mistakes, workers
from aptandum.ui.defence import Defence
from samples import DEMO, PATIENCE


@pytest.fixture
def defence(shell):
    mistakes.open_log()
    made = Defence(shell.session)
    made.put_up()
    yield made
    made.take_down()
    mistakes.close_log()


def boil(*_given):
    raise ZeroDivisionError("a slot of ours")


def die(*_given):
    os.kill(os.getpid(), signal.SIGSEGV)


def test_a_slot_that_raises_leaves_the_window_and_the_docket(qtbot, shell, defence, mistakes_met):
    shell.take_photos([str(DEMO / "quill_harrow_0119.jpg")])
    before = shell.session.docket
    QTimer.singleShot(0, boil)
    qtbot.waitUntil(lambda: "ZeroDivisionError" in shell.message.text.text(), timeout=PATIENCE)
    assert shell.isVisible() and shell.session.docket == before
    log = mistakes.log_file().read_text("utf-8")
    assert "Traceback" in log and "in boil" in log
    assert [type(error) for error in mistakes_met] == [ZeroDivisionError]
    mistakes_met.clear()


def test_the_same_mistake_again_and_again_is_told_a_few_times(qtbot, shell, defence, mistakes_met):
    for _ in range(20):
        QTimer.singleShot(0, boil)
    qtbot.waitUntil(lambda: sum(defence.met.values()) == 20, timeout=PATIENCE)
    assert len(mistakes_met) == 3
    mistakes_met.clear()


@pytest.mark.parametrize("kind", ["latest", "command"])
def test_a_job_that_raises_is_told_and_logged(qtbot, shell, defence, mistakes_met, kind):
    before = shell.session.docket
    if kind == "latest":
        shell.session.jobs.latest("draft", boil, lambda found: None)
    else:
        shell.session.jobs.command("Conforming …", boil, lambda found: None)
    qtbot.waitUntil(lambda: "ZeroDivisionError" in shell.message.text.text(), timeout=PATIENCE)
    if kind == "command":
        assert shell.message.text.text().startswith("Conforming failed because of a mistake")
    assert "in boil" in mistakes.log_end() and shell.session.docket == before
    assert not shell.session.jobs.busy
    mistakes_met.clear()


def test_a_worker_that_dies_takes_one_job_and_it_is_named(qtbot, shell, defence):
    pool = workers.Workers(2)
    try:
        futures = [pool.submit(os.path.basename, f"/quay/{n}") for n in range(8)]
        futures.insert(4, pool.submit(die))
        errors = [one.exception(timeout=60) for one in futures]
    finally:
        pool.shutdown()
    assert [error is not None for error in errors] == [n == 4 for n in range(9)]
    assert "SIGSEGV" in str(errors[4])


def test_what_a_worker_raises_comes_back_with_its_traceback():
    pool = workers.Workers(1)
    try:
        error = pool.submit(boil).exception(timeout=60)
    finally:
        pool.shutdown()
    assert isinstance(error, ZeroDivisionError) and "in boil" in str(error.__cause__)


def test_the_log_can_be_copied_and_says_where_it_is_empty(qtbot, shell, defence):
    shell.copy_log()
    assert "log is empty" in shell.message.text.text()
    mistakes.LOG.error("the mole has moved")
    shell.copy_log()
    from PyQt6.QtWidgets import QApplication

    assert "the mole has moved" in QApplication.clipboard().text()


@pytest.mark.no_qt_log
def test_what_qt_warns_of_is_in_the_log(shell, defence):
    qWarning(b"a warning of the toolkit")
    assert "a warning of the toolkit" in mistakes.log_end()


WORK = """
import sys
sys.path.insert(0, sys.argv[1])
from aptandum.ui.app import application, open_shell
from aptandum.core import workers
from PyQt6.QtCore import QTimer
app = application()
shell = open_shell()
shell.show()
shell.take_many([sys.argv[2]])
shell.session.audit.open(sys.argv[2], "quayside-exchange/item-picture")

def look():
    pids = workers.shared().processes()
    if len(pids) > 1:
        print(*pids, flush=True)
        watch.stop()

watch = QTimer()
watch.timeout.connect(look)
watch.start(20)
app.exec()
"""


@pytest.mark.long
def test_workers_die_with_the_application_whatever_ends_it(tmp_path, photo):
    data = photo(1600, 1200).read_bytes()
    for n in range(60):
        (tmp_path / f"mole {n}.jpg").write_bytes(data)
    tests = str(Path(__file__).resolve().parents[1])
    with subprocess.Popen(
        [sys.executable, "-c", WORK, tests, str(tmp_path)], stdout=subprocess.PIPE, text=True
    ) as process:
        assert process.stdout is not None
        pids = [int(word) for word in process.stdout.readline().split()]
        assert len(pids) > 1 and all(_lives(pid) for pid in pids)
        process.send_signal(signal.SIGKILL)
    end = time.monotonic() + 5
    while any(_lives(pid) for pid in pids) and time.monotonic() < end:
        os.sched_yield()
    assert not any(_lives(pid) for pid in pids)


def _lives(pid: int) -> bool:
    try:
        state = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0]
    except OSError:
        return False
    return state not in "ZX"
