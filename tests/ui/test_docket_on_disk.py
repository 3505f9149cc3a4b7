"""A docket that somebody else has changed on the disk is noticed before it is written over."""

from __future__ import annotations

import pytest
from PyQt6.QtWidgets import QMessageBox

from aptandum.core.docket import recovery
from aptandum.core.docket.store import load, save
from samples import DEMO


@pytest.fixture
def mine(shell, tmp_path):
    """A saved docket, changed here since, and by another program on the disk."""
    path = tmp_path / "mine.docket"
    shell.session.photos.take([str(DEMO / "quill_harrow_0119.jpg")])
    assert shell.session.dockets.save(path)
    assert not shell.session.dockets.changed_on_disk()
    theirs = load(path).model_copy(update={"title": "Theirs"})
    save(theirs, path)
    shell.session.photos.take([str(DEMO / "blue_jug_03.jpg")])
    return path


def press(monkeypatch, text: str) -> list[str]:
    asked: list[str] = []

    def run(self: QMessageBox) -> int:
        asked.append(self.text())
        found = next(b for b in self.buttons() if b.text() == text)
        found.click()
        return 0

    monkeypatch.setattr(QMessageBox, "exec", run)
    return asked


def test_keep_mine(qtbot, shell, mine, monkeypatch):
    asked = press(monkeypatch, "Keep mine")
    shell.save()
    assert "mine.docket has been changed on the disk" in asked[0]
    assert len(load(mine).photos) == 2 and load(mine).title != "Theirs"
    shell.save()
    assert len(asked) == 1


def test_take_theirs_and_back_by_undo(qtbot, shell, mine, monkeypatch):
    press(monkeypatch, "Take theirs")
    shell.save()
    assert shell.session.docket.title == "Theirs" and len(shell.session.docket.photos) == 1
    assert shell.session.store.is_saved and load(mine).title == "Theirs"
    shell.session.store.undo()
    assert len(shell.session.docket.photos) == 2 and not shell.session.store.is_saved


def test_save_beside(qtbot, shell, mine, monkeypatch):
    press(monkeypatch, "Save beside")
    shell.save()
    assert load(mine).title == "Theirs"
    beside = mine.with_name("mine-2.docket")
    assert len(load(beside).photos) == 2 and shell.session.store.path == beside


def test_cancel_writes_nothing(qtbot, shell, mine, monkeypatch):
    press(monkeypatch, "Cancel")
    shell.save()
    assert load(mine).title == "Theirs" and len(shell.session.docket.photos) == 2


def test_saving_without_being_asked_is_refused_in_a_sentence(shell, mine):
    assert not shell.session.dockets.save(mine)
    assert "was not saved: it has been changed on the disk" in shell.message.text.text()
    assert load(mine).title == "Theirs"


def test_a_change_on_the_disk_is_said_once_before_anybody_saves(shell, mine):
    shell.session.dockets.watch()
    assert "changed on the disk by another window or program" in shell.message.text.text()
    shell.message.hide()
    shell.session.dockets.watch()
    assert shell.message.isHidden()


def test_a_docket_open_in_another_window_is_said(shell, tmp_path):
    path = tmp_path / "both.docket"
    assert shell.session.dockets.save(path)
    shell.session.dockets.new()
    other = recovery.OpenMark()
    assert other.enter(path)
    assert shell.session.dockets.load(path)
    assert "open in another window" in shell.message.text.text()
    other.leave()
    shell.message.hide()
    assert shell.session.dockets.load(path) and shell.message.isHidden()


def test_after_a_crash_what_changed_on_the_disk_meanwhile_is_still_noticed(shell, tmp_path):
    path = tmp_path / "mine.docket"
    shell.session.photos.take([str(DEMO / "quill_harrow_0119.jpg")])
    assert shell.session.dockets.save(path)
    shell.session.photos.take([str(DEMO / "blue_jug_03.jpg")])
    keeper = recovery.CrashRecord()
    shell.session.autosave.keeper = keeper
    shell.session.autosave.keep()
    assert shell.session.jobs.journal.flush()
    save(load(path).model_copy(update={"title": "Theirs"}), path)
    # the process is gone
    record = keeper.file.read_text().replace(f'"pid": {__import__("os").getpid()}', '"pid": 999999')
    keeper.file.write_text(record)
    shell.session.autosave.keeper = None
    assert shell.session.dockets.recover()
    assert len(shell.session.docket.photos) == 2 and shell.session.dockets.changed_on_disk()
