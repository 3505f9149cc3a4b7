"""Killed at any moment, never more than the last second is lost; and no hand-over is orphaned.

``APTANDUM_KILLS`` says how often (30 with ``scripts/test --thorough``).
"""

from __future__ import annotations

import os
import random
import shutil
import signal
import sqlite3
import subprocess
import sys
import threading
import time
from pathlib import Path

import pytest
from PIL import Image

from aptandum.core.docket import recovery
from aptandum.core.docket.hand_over import HandOver
from aptandum.core.photo.profile import shipped
from aptandum.desks.book import Book, sha256_of
from aptandum.desks.orphans import let_go, orphans
from samples import DEMO, PATIENCE, jpeg, scene

ITEM = "quayside-exchange/item-picture"


def item_of(data: bytes) -> HandOver:
    name, sha256 = "mole.jpg", sha256_of(data)
    return HandOver(id="x", brief=ITEM, name=name, sha256=sha256, bytes=len(data), ready=True)


def picture(seed: int) -> bytes:
    return jpeg(scene(40, 30, seed))


KILLS = int(os.environ.get("APTANDUM_KILLS", "2"))
SECONDS = float(os.environ.get("APTANDUM_STEADY_SECONDS", "4"))

STEADY = """
import sys, time
from aptandum.ui.app import application, open_shell
from PyQt6.QtCore import QTimer
app = application()
shell = open_shell([sys.argv[1]], "vessary-ferries/deck-pass")
shell.show()
session = shell.session
count = [0]

def change():
    count[0] += 1
    session.model.set({"frame.angle": count[0] / 100}, "Straighten", "drag")
    print(count[0], time.monotonic(), flush=True)

steady = QTimer()
steady.timeout.connect(change)
steady.start(50)
app.exec()
"""


class Held:
    """How long the machine itself (its processor, its disk) kept a small write waiting meanwhile:
    what it takes from the application's second as well."""

    def __init__(self, folder: Path) -> None:
        self.file = folder / "beat"
        self.longest = 0.0
        self._over = threading.Event()
        self._thread = threading.Thread(target=self._beat)

    def _beat(self) -> None:
        while not self._over.wait(0.02):
            begun = time.monotonic()
            with open(self.file, "wb") as stream:
                stream.write(b"x" * 20_000)
                os.fsync(stream.fileno())
            self.longest = max(self.longest, time.monotonic() - begun)

    def __enter__(self) -> Held:
        self._thread.start()
        return self

    def __exit__(self, *_what: object) -> None:
        self._over.set()
        self._thread.join()


@pytest.mark.long
def test_of_steady_changes_never_more_than_the_last_second_is_lost(tmp_path):
    shutil.copy(DEMO / "quill_harrow_0119.jpg", tmp_path / "quill.jpg")
    chance = random.Random(11)
    for _ in range(KILLS):
        with (
            Held(tmp_path) as held,
            subprocess.Popen(
                [sys.executable, "-c", STEADY, str(tmp_path / "quill.jpg")],
                stdout=subprocess.PIPE,
                text=True,
            ) as process,
        ):
            assert process.stdout is not None
            process.stdout.readline()
            end = time.monotonic() + chance.uniform(0.6, SECONDS)
            said = [process.stdout.readline()]
            while time.monotonic() < end:
                said.append(process.stdout.readline())
            process.send_signal(signal.SIGKILL)
            killed = time.monotonic()
            said += process.stdout.read().splitlines()
        times = {int(line.split()[0]): float(line.split()[1]) for line in said if line.strip()}
        (left,) = recovery.left_behind()
        kept = round((left.docket.fittings[0].settings.frame.angle or 0) * 100)
        lost = [at for n, at in times.items() if n > kept]
        assert all(killed - at <= 1.0 + held.longest for at in lost), (kept, max(times), killed)
        left.file.unlink()


HANDING = """
import sys, time
from aptandum.ui.app import application, open_shell
from PyQt6.QtCore import QTimer
app = application()
shell = open_shell(sys.argv[1:])
shell.show()
session, handing = shell.session, shell.handing
handing.ask_every = 0.1
handing.moods["quayside-exchange"] = {"review": 0.0, "slow": 0.05}
handing.prepared.disconnect(shell.ask_send)
handing.prepared.connect(handing.send)
for entry in session.docket.photos:
    session.model.start_fitting(entry.id, "quayside-exchange/item-picture")
for fitting in session.docket.fittings:
    handing.prepare([fitting.id])
changed = time.monotonic()

def said():
    print(changed, len(handing.items), flush=True)

watch = QTimer()
watch.timeout.connect(said)
watch.start(5)
app.exec()
"""


@pytest.mark.long
def test_killed_during_hand_overs_every_file_is_found_again_and_sent_once(
    qtbot, tmp_path, monkeypatch
):
    from aptandum.ui.app import open_shell

    paths = []
    for n in range(4):
        paths.append(tmp_path / f"jug_{n}.jpg")
        icc = shipped("srgb")
        Image.fromarray(scene(1000, 1000, n)).save(paths[-1], quality=88, icc_profile=icc)
    chance = random.Random(3)
    for turn in range(KILLS):
        home = tmp_path / f"home {turn}"
        for name in ("DATA", "STATE", "CACHE"):
            monkeypatch.setenv(f"XDG_{name}_HOME", str(home / name.lower()))
        with subprocess.Popen(
            [sys.executable, "-c", HANDING, *map(str, paths)], stdout=subprocess.PIPE, text=True
        ) as process:
            assert process.stdout is not None
            changed, items = process.stdout.readline().split()
            while turn % 2 and items == "0":
                changed, items = process.stdout.readline().split()
            end = time.monotonic() + chance.uniform(0.0, 1.5)
            while time.monotonic() < end:
                process.stdout.readline()
            process.send_signal(signal.SIGKILL)
            age = time.monotonic() - float(changed)
        book = Book()
        begun = book.all()
        assert orphans(book, ()) == []
        book.close()
        shell = open_shell()
        shell.show()
        shell.handing.ask_every = 0.1
        shell.handing.moods["quayside-exchange"] = {"review": 0.0}
        try:
            photos = len(shell.session.docket.photos)
            assert photos == 4 or (photos == 0 and age <= 1.0)
            assert {i.id for i in begun} <= {i.id for i in shell.handing.items}
            qtbot.waitUntil(
                lambda shell=shell: all(i.settled for i in shell.handing.items), timeout=PATIENCE
            )
            assert all(i.number or i.history[-1].says for i in shell.handing.items)
            if begun:
                base = sqlite3.connect(
                    home / "data" / "aptandum" / "desks" / "quayside-exchange" / "books.sqlite"
                )
                rows = base.execute("SELECT sha256 FROM hand_overs").fetchall()
                assert len(rows) == len(set(rows)) == len(begun)
                base.close()
        finally:
            shell.board.stop()
            shell.handing.stop()
            shell.session.stop()
            shell.session.store.saved = shell.session.docket
            shell.close()


def test_a_hand_over_whose_docket_is_gone_is_withdrawn_or_taken_in(qtbot, shell, tmp_path):
    book = Book()
    unsent = book.begin("gone", item_of(picture(1)), picture(1))
    waits = book.begin("gone", item_of(picture(2)), picture(2))
    book.write(waits.moved("waiting", "Received.", "desk"))
    assert [item.id for item in orphans(book, ())] == [unsent.id, waits.id]
    left = let_go(book, orphans(book, ()))
    assert [item.id for item in left] == [waits.id]
    assert "closed without being saved" in book.get(unsent.id).history[-1].says
    book.close()
    shell.handing.look_for_orphans()
    qtbot.waitUntil(lambda: bool(shell.handing.orphans), timeout=PATIENCE)
    assert "Take them into this docket" in shell.message.text.text()
    shell.handing.take_orphans()
    qtbot.waitUntil(lambda: [i.id for i in shell.handing.items] == [waits.id], timeout=PATIENCE)
    assert shell.session.docket.key


def test_a_docket_that_lies_where_it_was_keeps_its_hand_overs(shell, tmp_path):
    from aptandum.core.docket.model import Docket
    from aptandum.core.docket.store import save

    target = tmp_path / "kept.docket"
    save(Docket(title="Kept", key="kept"), target)
    book = Book()
    book.begin("kept", item_of(picture(1)), picture(1))
    book.remember("kept", str(target), "Kept")
    assert orphans(book, ()) == []
    Path(target).unlink()
    assert len(orphans(book, ())) == 1 and orphans(book, {"kept"}) == []
    book.close()


@pytest.fixture(autouse=True)
def no_display_needed(monkeypatch):
    monkeypatch.setenv("QT_QPA_PLATFORM", os.environ.get("QT_QPA_PLATFORM", "offscreen"))
