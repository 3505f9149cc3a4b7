"""The watched folder in the window: begun, seen, closed and looked at again, ended."""

from __future__ import annotations

import shutil
from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from aptandum.core.watched import WatchBook
from driving import choose
from samples import DEMO, PATIENCE

LEFT = Qt.MouseButton.LeftButton
ITEM = "quayside-exchange/item-picture"


@pytest.fixture
def watch(qtbot, shell, tmp_path):
    """The dialog with its fields filled by hand, and quick about what arrives."""
    (tmp_path / "in").mkdir()
    model = shell.session.watching
    model.every, model.settle, model.patience = 0.05, 0.1, 0.2
    shell.watch_folder()
    dialog = shell._watch
    for field, name in ((dialog.folder, "in"), (dialog.out, "out")):
        field.setFocus()
        QTest.keyClicks(field, str(tmp_path / name))
    assert not dialog.act.isEnabled()  # a brief is chosen first: none is taken unasked
    dialog.briefs.setCurrentIndex(0)
    choose(dialog.briefs, ITEM)
    yield dialog
    dialog.close()


def until(qtbot, done) -> None:
    qtbot.waitUntil(done, timeout=PATIENCE)


@pytest.mark.long
def test_what_arrives_is_made_told_and_counted(qtbot, shell, watch, tmp_path):
    qtbot.mouseClick(watch.act, LEFT)
    assert watch.model.runs and not watch.folder.isEnabled()
    until(qtbot, lambda: watch.stack.currentIndex() == 0)
    shutil.copy(DEMO / "quill_harrow_0119.jpg", tmp_path / "in")
    (tmp_path / "in/bad.jpg").write_bytes(b"no picture")
    until(qtbot, lambda: watch.model.made == 1 and watch.model.aside == 1)
    assert "1 file is made. 1 is set aside." in watch.says.text()
    told = [watch.rows.words(event) for event in watch.rows.items]
    assert len(told) == 2 and any("quill_harrow_0119.jpg: " in one for one in told)
    assert any("Set aside." in one for one in told)
    (made,) = (tmp_path / "out").glob("*.jpg")
    with Image.open(made) as opened:
        assert max(opened.size) >= 1600
    # closed, it goes on; opened again, it shows what came meanwhile
    watch.close()
    shutil.copy(DEMO / "tobin_oar_0212.jpg", tmp_path / "in")
    until(qtbot, lambda: watch.model.made == 2)
    shell.watch_folder()
    assert watch.isVisible() and len(watch.rows.items) == 3
    qtbot.mouseClick(watch.act, LEFT)
    until(qtbot, lambda: not watch.model.runs and watch.act.text() == "Begin to watch")
    assert "It has ended." in watch.says.text() and watch.folder.isEnabled()
    # begun again, nothing is made twice
    qtbot.mouseClick(watch.act, LEFT)
    shutil.copy(DEMO / "ines_marrow_0417.jpg", tmp_path / "in")
    until(qtbot, lambda: watch.model.made == 3)
    assert len(list((tmp_path / "out").glob("*.jpg"))) == 3


def test_what_cannot_be_watched_is_said(qtbot, watch, tmp_path):
    watch.out.setText(str(tmp_path / "in"))
    qtbot.mouseClick(watch.act, LEFT)
    assert "other than the one that is watched" in watch.says.text() and not watch.model.runs
    watch.out.setText(str(tmp_path / "out"))
    (tmp_path / "out").mkdir()
    held = WatchBook(tmp_path / "out")
    qtbot.mouseClick(watch.act, LEFT)
    assert "already" in watch.says.text() and not watch.model.runs
    held.close()
    watch.folder.setText(str(tmp_path / "gone"))
    qtbot.mouseClick(watch.act, LEFT)
    assert "There is no folder" in watch.says.text()


@pytest.mark.long
def test_the_window_closes_while_it_watches(qtbot, shell, watch, tmp_path):
    qtbot.mouseClick(watch.act, LEFT)
    for path in sorted(DEMO.glob("*.jpg"))[:4]:
        shutil.copy(path, tmp_path / "in")
    until(qtbot, lambda: watch.model.made >= 1)
    shell.session.watching.close()
    assert not watch.model.runs
    for path in Path(tmp_path / "out").glob("*.jpg"):
        with Image.open(path) as opened:
            opened.load()
    WatchBook(tmp_path / "out").close()  # it was let go of
