"""Killed without warning, and opened again as it was: the real application as a process."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

from aptandum.core.docket import recovery
from aptandum.core.docket.store import load
from aptandum.ui.app import open_shell
from driving import wait
from samples import DEMO

WORK = """
import os, sys
sys.path.insert(0, sys.argv[1])
from aptandum.ui.app import application, open_shell
from PyQt6.QtCore import QTimer
app = application()
shell = open_shell([sys.argv[2]], "vessary-ferries/deck-pass")
shell.show()
session = shell.session

def ready():
    if session.people() is None or not session.bench.draft_is_current:
        return
    watch.stop()
    session.frame_from_marks()
    session.move_mark("chin", (2100.0, 3750.0))
    session.settle()
    session.confirm("expression", True)
    QTimer.singleShot(600, lambda: print("done", flush=True))

watch = QTimer()
watch.timeout.connect(ready)
watch.start(50)
app.exec()
"""


def test_killed_and_opened_as_it_was(qtbot, tmp_path):
    path = tmp_path / "ines_marrow_0417.jpg"
    path.write_bytes((DEMO / path.name).read_bytes())
    tests = str(Path(__file__).resolve().parents[1])
    with subprocess.Popen(
        [sys.executable, "-c", WORK, tests, str(path)], stdout=subprocess.PIPE, text=True
    ) as process:
        assert process.stdout is not None and process.stdout.readline() == "done\n"
        os.kill(process.pid, signal.SIGKILL)
        process.wait(10)
    (left,) = recovery.left_behind()
    shell = open_shell()
    shell.show()
    try:
        assert shell.session.docket == left.docket
        wait(qtbot, shell)
        bench = shell.session.bench
        assert bench.hand.chin == (2100.0, 3750.0)
        assert bench.fitting.settings.frame.window is not None
        assert bench.live.of("expression").verdict == "meets"
        assert "closed without warning" in shell.message.text.text()
        assert recovery.left_behind() == ()
        # saved, there is nothing to recover any more
        target = tmp_path / "work.docket"
        assert shell.session.save(target)
        shell.session.keep()
        end = time.monotonic() + 5
        while list((recovery.folder() / "open").glob("*.json")) and time.monotonic() < end:
            time.sleep(0.05)
        assert list((recovery.folder() / "open").glob("*.json")) == []
        assert load(target).photos[0].marks.chin == (2100.0, 3750.0)
        assert recovery.recent() == (target,)
    finally:
        shell.session.queue.stop()
        shell.session.saved = shell.session.docket
        shell.close()
