"""No act is dropped: folders, hand-overs and audits asked for one right after the other."""

from __future__ import annotations

import shutil
import threading
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import Qt

from aptandum.core import workers
from aptandum.core.docket import recovery
from aptandum.core.photo.profile import shipped
from aptandum.desks.book import Book
from driving import drop, settled
from samples import DEMO, PATIENCE, jpeg, scene

ITEM = "quayside-exchange/item-picture"
PASS = "vessary-ferries/deck-pass"


@pytest.fixture
def keeper(shell):
    shell.session.autosave.keeper = recovery.CrashRecord()
    return shell.session.autosave.keeper


def folder_of(where: Path, photos: int, size: tuple[int, int] = (200, 160)) -> Path:
    where.mkdir()
    photo = jpeg(np.asarray(Image.fromarray(scene(200, 160, 1)).resize(size)), quality=90)
    for n in range(photos):
        (where / f"{where.name} {n:02d}.jpg").write_bytes(photo)
    return where


def test_three_folders_dropped_at_once_are_all_taken_in(qtbot, shell, tmp_path):
    folders = [folder_of(tmp_path / name, 20) for name in ("pier", "mole", "quay")]
    for folder in folders:
        drop(shell, folder)
    assert len(shell.session.jobs.commands) == 3
    qtbot.waitUntil(lambda: not shell.session.jobs.commands, timeout=PATIENCE)
    names = [Path(entry.path).name for entry in shell.session.docket.photos]
    assert names == [
        f"{where} {n:02d}.jpg" for where in ("pier", "mole", "quay") for n in range(20)
    ]
    # each is a step of its own
    shell.session.store.undo()
    assert len(shell.session.docket.photos) == 40


def test_what_was_changed_before_the_window_hung_is_written_down(shell, keeper, monkeypatch):
    written, keep = threading.Event(), keeper.keep

    def kept(docket, *more) -> None:
        keep(docket, *more)
        if any(fitting.settings.frame.angle == 1.25 for fitting in docket.fittings):
            written.set()

    monkeypatch.setattr(keeper, "keep", kept)
    shell.take_photos([str(DEMO / "quill_harrow_0119.jpg")])
    shell.session.model.start_fitting(shell.session.docket.photos[0].id, PASS)
    shell.session.model.set({"frame.angle": 1.25}, "Straighten", "drag")
    # from here on the interface's thread does nothing but wait, as where it hangs
    assert written.wait(PATIENCE / 1000)
    assert b'"angle": 1.25' in keeper.file.read_bytes()


@pytest.mark.long
def test_five_hand_overs_in_a_row_are_all_in_the_book_and_on_their_way(
    qtbot, shell, keeper, tmp_path
):
    shell.handing.ask_every = 0.1
    shell.handing.moods["quayside-exchange"] = {"review": 0.0}
    for n in range(5):
        path = tmp_path / f"jug_{n}.jpg"
        icc = shipped("srgb")
        Image.fromarray(scene(1400, 1400, n)).save(path, quality=92, icc_profile=icc)
        shell.take_photos([str(path)])
    ids = []
    for entry in shell.session.docket.photos:
        assert shell.session.model.start_fitting(entry.id, ITEM)
        ids.append(shell.session.bench.fitting.id)
    asked = []
    shell.handing.prepared.disconnect(shell.ask_send)

    def send(files) -> None:  # as a person who presses at once, each time that it is asked
        asked.append([one.fitting for one in files])
        shell.handing.send(files)

    shell.handing.prepared.connect(send)
    for fitting in ids:
        shell.handing.prepare([fitting])
    assert len(shell.session.jobs.commands) == 5
    qtbot.waitUntil(lambda: len(shell.handing.items) == 5, timeout=PATIENCE)
    assert asked == [[fitting] for fitting in ids]
    book = Book()
    held = book.of(shell.session.docket.key)
    book.close()
    assert [item.fitting for item in held] == ids
    qtbot.waitUntil(lambda: all(item.number for item in shell.handing.items), timeout=PATIENCE)
    # the crash record names the docket by the key that the book has
    assert shell.session.jobs.journal.flush()
    assert recovery.keys_open() == {shell.session.docket.key}


@pytest.mark.long
def test_wishes_given_in_the_same_turn_are_all_written_into_the_book(qtbot, shell, tmp_path):
    shell.handing.ask_every = 0.1
    shell.handing.moods["quayside-exchange"] = {"review": 30.0}
    for n in range(3):
        path = tmp_path / f"jug_{n}.jpg"
        Image.fromarray(scene(1400, 1400, n)).save(path, quality=92, icc_profile=shipped("srgb"))
        shell.take_photos([str(path)])
        shell.session.model.start_fitting(shell.session.docket.photos[-1].id, ITEM)
    shell.handing.prepared.disconnect(shell.ask_send)
    shell.handing.prepared.connect(shell.handing.send)
    shell.hand_all()
    qtbot.waitUntil(
        lambda: [i.state for i in shell.handing.items] == ["waiting"] * 3, timeout=PATIENCE
    )
    for item in shell.handing.items:
        shell.handing.wish([item.id], "retire")
    qtbot.waitUntil(
        lambda: [i.state for i in shell.handing.items] == ["retired"] * 3, timeout=PATIENCE
    )


@pytest.mark.long
def test_beside_two_long_audits_the_draft_is_made_and_the_record_written(
    qtbot, shell, keeper, tmp_path
):
    shutil.copy(DEMO / "quill_harrow_0119.jpg", tmp_path / "quill.jpg")
    folders = [folder_of(tmp_path / name, 60, (2400, 2000)) for name in ("pier", "mole")]
    shell.start.choose(PASS)
    shell.take_photos([str(tmp_path / "quill.jpg")])
    qtbot.waitUntil(settled(shell), timeout=PATIENCE)
    session = shell.session
    session.audit.open(str(folders[0]), ITEM)
    session.audit.open(str(folders[1]), ITEM)
    qtbot.waitUntil(
        lambda: len([c for c in session.jobs.commands if c.words.startswith("Auditing")]) == 2,
        timeout=PATIENCE,
    )
    session.model.set({"frame.angle": 2.0}, "Straighten")
    assert not session.bench.draft_is_current
    # A second after the last change the record holds it; the draft is made meanwhile.
    qtbot.waitUntil(lambda: "2.0" in _record(keeper), timeout=1_000)
    qtbot.waitUntil(lambda: session.bench.draft_is_current, timeout=PATIENCE)
    audits = [c for c in session.jobs.commands if c.words.startswith("Auditing")]
    assert len(audits) == 2
    # Cancel ends its own and no other
    session.jobs.cancel(audits[0])
    qtbot.waitUntil(lambda: audits[0] not in session.jobs.commands, timeout=PATIENCE)
    qtbot.waitUntil(lambda: not session.jobs.commands, timeout=PATIENCE)
    runs = {Path(run.source).name: run for run in session.audit._runs.values()}
    assert len(runs["mole"].checked) == 60 and len(runs["pier"].checked) < 60
    assert session.audit.source == str(folders[1])
    # what the first found stands when it is gone back to
    found = dict(runs["pier"].checked)
    shell.go("desk")
    shell.desk.show_view("audit")
    while session.audit.source != str(folders[0]):
        session.store.undo()
    assert found.items() <= session.audit.checked.items()


def _record(keeper: recovery.CrashRecord) -> str:
    import json

    try:
        held = json.loads(keeper.file.read_text("utf-8"))
        return str(held["docket"]["fittings"][0]["settings"]["frame"]["angle"])
    except (OSError, LookupError):
        return ""


@pytest.mark.long
def test_an_audit_is_shared_among_the_workers_and_one_that_dies_takes_one_item(
    qtbot, shell, tmp_path
):
    folder = folder_of(tmp_path / "pier", 40, (1600, 1400))
    shell.go("desk")
    shell.desk.show_view("audit")
    audit = shell.desk.audit
    audit.use_brief(ITEM)
    audit.open(str(folder))
    qtbot.waitUntil(lambda: len(audit.checked) > 0, timeout=PATIENCE)
    import os
    import signal

    os.kill(workers.shared().processes()[0], signal.SIGKILL)
    qtbot.waitUntil(lambda: len(audit.checked) == 40, timeout=PATIENCE)
    lost = [one for one in audit.checked.values() if one.standing == "lost"]
    assert len(lost) <= 1
    for one in lost:
        assert one.item.name in one.trouble and "SIGKILL" in one.trouble
    qtbot.waitUntil(lambda: not shell.session.jobs.busy, timeout=PATIENCE)
    qtbot.keyClick(shell, Qt.Key.Key_Escape)
