"""The three tasks of ``docs/newcomer.md``, done by what the guide names and nothing else."""

from __future__ import annotations

import io
import shutil
from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QFileDialog, QLabel, QPlainTextEdit, QWidget

from aptandum.ui import guide
from aptandum.ui.desk.audit_setup import AuditSetup
from aptandum.ui.write_dialog import WriteDialog
from driving import drop, wait
from samples import DEMO, PATIENCE

LEFT = Qt.MouseButton.LeftButton
TASKS = (Path(__file__).resolve().parents[2] / "docs/newcomer.md").read_text("utf-8")
TASKS = " ".join(TASKS.split())


class Newcomer:
    """Presses what a page of the guide names, wherever it is seen with just these words."""

    def __init__(self, qtbot, shell, page: str) -> None:
        self.qtbot, self.shell, self.page = qtbot, shell, guide.page(page)

    def press(self, words: str, within: QWidget | None = None) -> None:
        assert f"*{words}*" in self.page, f"the guide does not name {words!r}"
        shown = [
            one
            for one in (within or self.shell).findChildren(QAbstractButton)
            if one.isVisible() and one.text().replace("&", "").strip() == words
        ]
        if shown:
            assert shown[0].isEnabled(), words
            self.qtbot.mouseClick(shown[0], LEFT)
        else:
            acts = [a for a in self.shell.findChildren(QAction) if a.text().replace("&", "") == words]  # fmt: skip
            assert acts and acts[0].isEnabled(), f"{words!r} is not seen"
            acts[0].trigger()
        if self.shell.session.bench is not None:
            wait(self.qtbot, self.shell)

    def type_rules(self, words: str) -> None:
        """Into the field below the list, as the page says."""
        (field,) = [f for f in self.shell.findChildren(QPlainTextEdit) if f.isVisible()]
        QTest.keyClicks(field, words)
        self.qtbot.waitUntil(
            lambda: any(
                b.isVisible() and b.isEnabled() and b.text() == "Use these rules"
                for b in self.shell.findChildren(QAbstractButton)
            ),
            timeout=PATIENCE,
        )

    def reads(self, words: str) -> bool:
        return any(
            one.isVisible() and words in one.text() for one in self.shell.findChildren(QLabel)
        )


@pytest.mark.long
def test_a_portrait_for_the_pier(qtbot, shell, tmp_path, monkeypatch):
    rules = "413 x 531 px, jpeg, at most 200 kB; the head takes 70 to 80 % of the height; plain expression"  # fmt: skip
    assert rules in TASKS
    photo = tmp_path / "me.jpg"
    shutil.copy(DEMO / "tobin_oar_0212.jpg", photo)
    who = Newcomer(qtbot, shell, "first-file")
    who.type_rules(rules)
    who.press("Use these rules")
    drop(shell, photo)
    wait(qtbot, shell)
    who.press("Conform to brief")
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    assert "*Ready, once you confirm*" in who.page
    who.press("It is so")
    made = shell.session.bench.proof
    assert made.findings.ready and made.findings.summary() == "all met"
    target = tmp_path / "out"
    target.mkdir()

    def answer(dialog: WriteDialog) -> int:
        dialog.show()
        dialog.folder.setText(str(target))
        qtbot.mouseClick(dialog.act, LEFT)
        return dialog.result()

    monkeypatch.setattr(WriteDialog, "exec", answer)
    before = photo.read_bytes()
    who.press("Write file…")
    qtbot.waitUntil(lambda: any(target.iterdir()), timeout=PATIENCE)
    with Image.open(next(target.iterdir())) as written:
        assert written.size == (413, 531) and written.format == "JPEG"
    assert next(target.iterdir()).stat().st_size <= 200_000 and photo.read_bytes() == before


@pytest.mark.long
def test_a_listing_of_three(qtbot, shell, tmp_path, monkeypatch):
    (tmp_path / "pics").mkdir()
    shutil.copy(DEMO / "quill_harrow_0119.jpg", tmp_path / "pics/jug.jpg")
    shutil.copy(DEMO / "lantern_quay_dusk.jpg", tmp_path / "pics/bowl.jpg")
    listing = tmp_path / "listing.csv"
    listing.write_text(
        "item,picture file,in stock\nJug,pics/jug.jpg,yes\nBowl,pics/bowl.jpg,yes\nLamp,pics/gone.jpg,yes\n"
    )
    who = Newcomer(qtbot, shell, "sellers")
    shell.go("desk")  # **Desk**, at the top
    who.press("Audit")

    def answer(dialog: AuditSetup) -> int:
        for row in range(dialog.list.count()):
            item = dialog.list.item(row)
            wanted = "Quayside Exchange" in item.text() and "tem picture" in item.text()
            item.setCheckState(Qt.CheckState.Checked if wanted else Qt.CheckState.Unchecked)
        dialog.act.click()
        return dialog.result()

    monkeypatch.setattr(AuditSetup, "exec", answer)
    monkeypatch.setattr(
        QFileDialog, "getOpenFileName", staticmethod(lambda *a, **k: (str(listing), ""))
    )
    ask = [b for b in shell.findChildren(QAbstractButton) if b.isVisible() and b.text() == "Choose a listing…"]  # fmt: skip
    qtbot.mouseClick(ask[0], LEFT)
    model = shell.session.audit
    qtbot.waitUntil(lambda: len(model.checked) == 3, timeout=PATIENCE)
    qtbot.waitUntil(lambda: who.reads("are in danger"), timeout=PATIENCE)
    qtbot.waitUntil(lambda: who.reads("gone.jpg was not found."), timeout=PATIENCE)
    target = tmp_path / "danger.csv"
    monkeypatch.setattr("aptandum.ui.desk.audit_view.where_to_save", lambda *a, **k: str(target))
    who.press("Export the list…")
    qtbot.waitUntil(target.exists, timeout=PATIENCE)
    assert "Lamp" in target.read_text("utf-8-sig")


@pytest.mark.long
def test_a_panel_of_dots(qtbot, shell):
    rules = "128 x 64 px, png, 1 bit"
    assert rules in TASKS
    door = Newcomer(qtbot, shell, "first-file")
    door.type_rules(rules)
    door.press("Use these rules")
    drop(shell, DEMO / "lantern_quay_dusk.jpg")
    wait(qtbot, shell)
    who = Newcomer(qtbot, shell, "screens")
    shell.bench.open_station("colour")  # the **Colour** card
    wait(qtbot, shell)
    assert who.reads("Dots by") and "*Dots by*" in who.page
    who.press("Dots")
    door.press("Conform to brief")
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    proof = shell.session.bench.proof
    assert proof.ready
    with Image.open(io.BytesIO(proof.made.data)) as made:
        assert made.size == (128, 64) and made.mode == "1"
