"""Killed without warning, and opened again as it was: the real application as a process."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from aptandum.core.docket import recovery
from aptandum.core.docket.store import load
from aptandum.ui.app import open_shell
from driving import wait
from samples import DEMO, PATIENCE

WORK = """
import os, sys
sys.path.insert(0, sys.argv[1])
from aptandum.ui.app import application, open_shell
from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtTest import QTest
app = application()
shell = open_shell(sys.argv[2:], "vessary-ferries/deck-pass")
shell.show()
session = shell.session

def ready():
    if session.model.people() is None or not session.bench.draft_is_current:
        return
    watch.stop()
    session.marking.frame_from_marks()
    session.marking.carry([p.id for p in session.docket.photos[:2]], "marks")
    carrying.start(50)

def carried():
    if sum(one.settings.frame.window is not None for one in session.docket.fittings) < 3:
        return
    carrying.stop()
    sheet = shell.bench.sheet
    shell.bench.open_station("frame")
    before = session.bench.live.of("head_height").value
    start = sheet.on_sheet(*sheet.marks_shown().chin).toPoint()
    end = start + QPoint(0, 14)
    QTest.mousePress(sheet, Qt.MouseButton.LeftButton, pos=start)
    QTest.mouseMove(sheet, end)
    QTest.mouseRelease(sheet, Qt.MouseButton.LeftButton, pos=end)
    assert session.bench.live.of("head_height").value > before
    session.answers.confirm("expression", True)
    QTimer.singleShot(600, lambda: print("done", flush=True))

carrying = QTimer()
carrying.timeout.connect(carried)
watch = QTimer()
watch.timeout.connect(ready)
watch.start(50)
app.exec()
"""


@pytest.mark.long
def test_killed_and_opened_as_it_was(qtbot, tmp_path):
    paths = []
    for name in ("tobin_oar_0212.jpg", "quill_harrow_0119.jpg", "ines_marrow_0417.jpg"):
        (tmp_path / name).write_bytes((DEMO / name).read_bytes())
        paths.append(str(tmp_path / name))
    tests = str(Path(__file__).resolve().parents[1])
    with subprocess.Popen(
        [sys.executable, "-c", WORK, tests, *paths], stdout=subprocess.PIPE, text=True
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
        assert bench.photo.name == "ines_marrow_0417.jpg"
        assert bench.hand.moved == ("chin",) and bench.hand == left.docket.photos[2].marks
        framed = [f for f in left.docket.fittings if f.settings.frame.window is not None]
        assert len(framed) == 3
        assert bench.fitting.settings.frame.window is not None
        assert bench.live.of("expression").verdict == "meets"
        assert "closed without warning" in shell.message.text.text()
        assert recovery.left_behind() == ()
        # saved, there is nothing to recover any more
        target = tmp_path / "work.docket"
        assert shell.session.dockets.save(target)
        shell.session.autosave.keep()
        end = time.monotonic() + 5
        while list((recovery.folder() / "open").glob("*.json")) and time.monotonic() < end:
            time.sleep(0.05)
        assert list((recovery.folder() / "open").glob("*.json")) == []
        assert load(target).photos[2].marks.moved == ("chin",)
        assert recovery.recent() == (target,)
    finally:
        shell.session.stop()
        shell.session.store.saved = shell.session.docket
        shell.close()


def test_a_photo_that_was_moved_is_known_again(qtbot, shell, tmp_path, monkeypatch):
    folder = tmp_path / "work"
    folder.mkdir()
    for name in ("blue_jug_03.jpg", "quill_harrow_0119.jpg"):
        (folder / name).write_bytes((DEMO / name).read_bytes())
        shell.session.photos.take([str(folder / name)])
    for entry in shell.session.docket.photos:
        assert shell.session.model.start_fitting(entry.id, "quayside-exchange/item-picture")
    qtbot.waitUntil(lambda: len(shell.session.photos.digests) == 2)
    target = folder / "work.docket"
    assert shell.session.dockets.save(target)
    entry = load(target).photos[0]
    assert entry.bytes == (folder / "blue_jug_03.jpg").stat().st_size and len(entry.digest) == 64
    # moved and renamed, it is found by its content
    (folder / "jugs").mkdir()
    (folder / "blue_jug_03.jpg").rename(folder / "jugs" / "a.jpg")
    assert shell.session.dockets.load(target)
    said = "Found again by its content: blue_jug_03.jpg"
    qtbot.waitUntil(lambda: said in shell.message.text.text(), timeout=PATIENCE)
    assert shell.session.docket.photos[0].path == str(folder / "jugs" / "a.jpg")
    # gone, it is asked for; another picture is taken only if the person says so
    (folder / "jugs" / "a.jpg").rename(tmp_path / "elsewhere.jpg")
    shell.session.dockets.load(target)
    gone = "Not found: blue_jug_03.jpg"
    qtbot.waitUntil(lambda: gone in shell.message.text.text(), timeout=PATIENCE)
    asked: list[str] = []
    monkeypatch.setattr(shell, "may_take_another", lambda old, new: asked.append(new) or False)
    from PyQt6.QtWidgets import QFileDialog

    other = str(folder / "quill_harrow_0119.jpg")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (other, ""))
    shell.ask_missing()
    assert asked == [other] and shell.session.photos.missing() is not None
    right = str(tmp_path / "elsewhere.jpg")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (right, ""))
    shell.ask_missing()
    assert asked == [other] and shell.session.photos.missing() is None
    assert shell.session.bench.photo.path == right


def test_a_photo_that_changed_is_said(qtbot, shell, tmp_path):
    path = tmp_path / "blue_jug_03.jpg"
    path.write_bytes((DEMO / path.name).read_bytes())
    shell.session.photos.take([str(path)])
    qtbot.waitUntil(lambda: bool(shell.session.photos.digests))
    target = tmp_path / "work.docket"
    assert shell.session.dockets.save(target)
    path.write_bytes((DEMO / "quill_harrow_0119.jpg").read_bytes())
    shell.session.dockets.load(target)
    qtbot.waitUntil(lambda: "Changed since this docket was saved" in shell.message.text.text())
