"""The desk's place, driven: from a proved file to its receipt, and the audit of a listing."""

from __future__ import annotations

import csv
import hashlib
import shutil
import sqlite3
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog

from aptandum.core.docket import audit_lists
from aptandum.core.docket.audit_book import AuditBook
from aptandum.core.docket.listing import ListingError
from aptandum.core.docket.store import load, save
from aptandum.core.photo.profile import shipped
from aptandum.desks.simulated import own_folder
from aptandum.ui.desk import audit_view
from aptandum.ui.desk.audit_setup import AuditSetup
from aptandum.ui.desk.replace_dialog import ReplaceDialog
from aptandum.ui.desk.sending import SendDialog
from aptandum.ui.docket_acts import demo_path
from aptandum.ui.session import Session
from aptandum.ui.shell import Shell
from driving import choose, drop, settled
from samples import DEMO, PATIENCE, jpeg, scene

LEFT = Qt.MouseButton.LeftButton
ITEM, BODY = "quayside-exchange/item-picture", "quayside-exchange"
CTRL = Qt.KeyboardModifier.ControlModifier


@pytest.fixture
def handing(shell):
    shell.handing.ask_every = 0.1
    shell.handing.moods[BODY] = {"review": 0.0}
    return shell.handing


@pytest.fixture
def press(qtbot, monkeypatch):
    """Answers the question before sending by real presses: a list of what is pressed in turn."""
    asked: list[SendDialog] = []

    def answer(*names: str):
        def run(self: SendDialog) -> int:
            asked.append(self)
            self.show()
            for name in names:
                part = getattr(self, name)
                assert part.isVisible() and part.isEnabled(), name
                if name == "also":
                    qtbot.keyClick(part, Qt.Key.Key_Space)
                else:
                    qtbot.mouseClick(part, LEFT)
            done = self.result()
            self.hide()
            return done

        monkeypatch.setattr(SendDialog, "exec", run)
        return asked

    return answer


def lay(qtbot, shell, tmp_path: Path, name: str = "lantern_quay_dusk.jpg") -> Path:
    path = tmp_path / name
    if (DEMO / name).exists():
        shutil.copy(DEMO / name, path)
    else:
        Image.fromarray(scene(640, 640, 3)).save(path, quality=90, icc_profile=shipped("srgb"))
    drop(shell, path)
    qtbot.waitUntil(lambda: bool(shell.session.docket.photos), timeout=PATIENCE)
    shell.session.model.start_fitting(shell.session.docket.photos[-1].id, ITEM)
    qtbot.waitUntil(settled(shell), timeout=PATIENCE)
    shell.session.making.conform()
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    qtbot.waitUntil(settled(shell), timeout=PATIENCE)
    return path


def stands(qtbot, shell, *states: str) -> None:
    qtbot.waitUntil(lambda: tuple(i.state for i in shell.handing.items) == states, timeout=PATIENCE)
    qtbot.waitUntil(lambda: not shell.session.jobs.busy, timeout=PATIENCE)


def theirs() -> list[tuple[str, ...]]:
    """What the desk's own books say."""
    base = sqlite3.connect(own_folder() / BODY / "books.sqlite")
    return base.execute(
        "SELECT number, name, sha256, state FROM hand_overs ORDER BY row"
    ).fetchall()


@pytest.mark.long
def test_from_a_proof_to_a_receipt(qtbot, shell, handing, press, tmp_path):
    path = lay(qtbot, shell, tmp_path)
    before = path.read_bytes()
    asked = press("act")
    qtbot.keyClick(shell, Qt.Key.Key_J, CTRL)
    qtbot.keyClick(shell, Qt.Key.Key_H)
    stands(qtbot, shell, "accepted")
    assert not asked[0].unproved and asked[0].also.isHidden()
    assert "Quayside Exchange" in asked[0].head.text()
    (item,) = shell.handing.items
    data = shell.session.bench.proof.made.data
    assert item.sha256 == hashlib.sha256(data).hexdigest() and item.ready
    assert theirs() == [("QE-00001", item.name, item.sha256, "accepted")]
    assert (own_folder() / BODY / "files" / item.sha256).read_bytes() == data
    # the desk's place shows both words, the number, and the whole way
    assert shell.pages.currentWidget() is shell.desk
    slip = shell.desk.handed.slip
    assert slip.receipt.number.text() == "QE-00001" and slip.item == item
    assert slip.two.accessibleName() == "We say: meets. The desk says: accepted"
    shown = [slip.history.itemAt(i).widget().text() for i in range(slip.history.count())]
    assert "desk: Accepted." in shown[0] and "we: Written down" in shown[-1]
    qtbot.mouseClick(slip.copy, LEFT)
    assert item.sha256 in QApplication.clipboard().text()
    assert path.read_bytes() == before
    # the very same file does not go twice
    shell.go("bench")
    asked = press()
    qtbot.mouseClick(shell.bench.hand, LEFT)
    qtbot.waitUntil(lambda: len(asked) == 2, timeout=PATIENCE)
    assert not asked[1].act.isEnabled() and asked[1].rest[0].already.number == "QE-00001"


@pytest.mark.long
def test_what_is_not_proved_is_sent_only_when_it_is_said_twice(
    qtbot, shell, handing, press, tmp_path
):
    lay(qtbot, shell, tmp_path, "little_mole.jpg")
    asked = press("also", "act")
    shell.hand_over()
    qtbot.waitUntil(lambda: len(asked) == 1, timeout=PATIENCE)
    dialog = asked[0]
    assert dialog.result() != QDialog.DialogCode.Accepted and not shell.handing.items
    assert dialog.warning.text().startswith("1 file is not proved to meet")
    assert dialog.act.text() == "Send it as it is"
    dialog.also.setChecked(False)
    assert not dialog.act.isEnabled() and dialog.warning.isHidden()
    press("also", "act", "act")
    shell.hand_over()
    stands(qtbot, shell, "accepted")  # a desk cannot see that the picture was enlarged
    (item,) = shell.handing.items
    assert not item.ready and "miss" in item.we_say
    assert shell.desk.handed.slip.two.accessibleName().startswith(
        "We say: misses. The desk says: acc"
    )


@pytest.mark.long
def test_a_desk_that_has_a_unit_wrong_is_contradicted_and_asked_again(
    qtbot, shell, handing, press, tmp_path
):
    lay(qtbot, shell, tmp_path)
    handing.moods[BODY] = {"review": 0.0, "wrong_unit": True}
    press("act")
    shell.hand_over()
    stands(qtbot, shell, "held")
    handed = shell.desk.handed
    words = [handed.slip.reasons.itemAt(i).widget().text() for i in range(2)]
    assert "at most 250\u202f000" in words[0]
    assert "The rulebook here says at most 2.00\u00a0MB" in words[1].replace(" MB", "\u00a0MB")
    menu = handed.moods_menu()
    unit = menu.actions()[0].menu().actions()[2]
    assert unit.isChecked() and unit.text() == "Is wrong about a unit of bytes"
    unit.trigger()
    qtbot.waitUntil(lambda: not shell.session.jobs.busy, timeout=PATIENCE)
    assert not handing.moods[BODY].get("wrong_unit")
    qtbot.mouseClick(handed.slip.again, LEFT)
    stands(qtbot, shell, "accepted")
    assert theirs()[0][3] == "accepted" and not shell.handing.items[0].reasons


@pytest.mark.long
def test_a_mended_file_takes_the_place_of_the_first_and_a_receipt_cannot_be_undone(
    qtbot, shell, handing, press, tmp_path
):
    lay(qtbot, shell, tmp_path)
    press("act")
    shell.hand_over()
    stands(qtbot, shell, "accepted")
    shell.go("bench")
    shell.session.model.set({"file.quality": 70}, "Quality")
    asked = press("act")
    shell.hand_over()
    stands(qtbot, shell, "replaced", "accepted")
    assert asked[1].ready[0].item.replaces == "QE-00001"
    assert [(row[0], row[3]) for row in theirs()] == [
        ("QE-00001", "replaced"),
        ("QE-00002", "accepted"),
    ]
    quality = shell.session.bench.fitting.settings.file.quality
    shell.session.store.undo()
    assert quality == 70 and shell.session.bench.fitting.settings.file.quality is None
    assert [i.state for i in shell.handing.items] == ["replaced", "accepted"]
    # what no longer matters is retired, and the filter leaves what does
    shell.go("desk")
    handed = shell.desk.handed
    handed.list.choose(shell.handing.items[1].id)
    qtbot.mouseClick(handed.slip.retire, LEFT)
    stands(qtbot, shell, "replaced", "retired")
    assert theirs()[1][3] == "retired"
    qtbot.mouseClick(handed.chips["over"], LEFT)
    assert len(handed.list.rows.items) == 2 and handed.chips["accepted"].isHidden()


@pytest.mark.long
def test_what_was_under_way_goes_on_when_the_docket_is_opened_again(
    qtbot, shell, handing, press, tmp_path
):
    lay(qtbot, shell, tmp_path)
    handing.moods[BODY] = {"full": True}
    press("act")
    shell.hand_over()
    qtbot.waitUntil(
        lambda: any(
            "full" in e.says and i.state == "ready" for i in shell.handing.items for e in i.history
        ),
        timeout=PATIENCE,
    )
    assert not shell.handing.items[0].number
    assert not shell.desk.handed.slip.receipt.held and not shell.desk.handed.slip.now.isHidden()
    docket = tmp_path / "quay.docket"
    save(shell.session.docket, docket)
    shell.handing.stop()  # as a crash would, but for its process
    second = Shell(Session())
    second.handing.moods[BODY] = {"review": 0.0}
    second.handing.ask_every = 0.1
    assert second.session.dockets.load(docket)
    stands(qtbot, second, "accepted")
    assert [row[3] for row in theirs()] == ["accepted"]
    second.session.store.saved = second.session.docket
    save(second.session.docket, docket)
    assert load(docket).handed == second.session.docket.handed
    second.close()
    second.deleteLater()


def make_listing(folder: Path) -> Path:
    rows = []
    for i in range(24):
        size = (1500, 1200) if i not in (3, 9, 15) else (600, 480)
        file = folder / f"item {i:02d}.jpg"
        space = None if i in (9, 20) else shipped("srgb")
        Image.fromarray(scene(150, 120, i, 3.0)).resize(size).save(
            file, quality=80, icc_profile=space
        )
        rows.append([f"Item {i:02d}", file.name, "no" if i in (3, 4) else "yes"])
    rows.append(["Item 24", "item 24.jpg", "yes"])
    with open(folder / "listing.csv", "w", newline="") as stream:
        csv.writer(stream).writerows([["item", "picture file", "in stock"], *rows])
    return folder / "listing.csv"


def audited(qtbot, shell) -> None:
    audit = shell.desk.audit
    qtbot.waitUntil(
        lambda: (
            bool(audit.items)
            and len(audit.checked) == len(audit.items)
            and not shell.session.jobs.busy
        ),
        timeout=PATIENCE,
    )


def answered(qtbot, monkeypatch, briefs, **columns) -> None:
    """Have the question before the next audit be answered by hand: briefs are ticked, columns chosen."""

    def drive(dialog) -> int:
        assert not dialog.act.isEnabled() or dialog.briefs()
        dialog.show()
        for n in range(dialog.list.count()):
            item = dialog.list.item(n)
            name, on = (
                item.data(Qt.ItemDataRole.UserRole),
                item.checkState() == Qt.CheckState.Checked,
            )
            if on != (name in briefs):
                dialog.list.setCurrentItem(item)
                qtbot.keyClick(dialog.list, Qt.Key.Key_Space)
        for key, name in columns.items():
            choose(dialog.choices[key], name)
        assert dialog.act.isEnabled()
        qtbot.mouseClick(dialog.act, LEFT)
        return dialog.result()

    monkeypatch.setattr(AuditSetup, "exec", drive)


def names(audit) -> list[str]:
    return [one.item.name for one in audit.rows.items]


@pytest.mark.long
def test_an_audit_of_a_listing_from_the_file_to_the_exported_list(
    qtbot, shell, tmp_path, monkeypatch
):
    path = make_listing(tmp_path)
    before = {p.name: p.read_bytes() for p in tmp_path.iterdir()}
    shell.go("desk")
    qtbot.mouseClick(shell.desk.names["audit"], LEFT)
    audit = shell.desk.audit
    assert audit.stack.currentWidget() is audit.empty and not audit.export.isEnabled()
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(path), ""))
    answered(qtbot, monkeypatch, [ITEM])
    qtbot.mouseClick(audit.listing, LEFT)
    audited(qtbot, shell)
    # the worst first: no picture, then two misses, then one; what is out of stock is set aside
    assert names(audit) == ["Item 24", "Item 09", "Item 15", "Item 20"]
    assert audit.side.count.text() == "4 of 23 are in danger; 2 set aside"
    held = {audit.side.reasons.item(i).text() for i in range(audit.side.reasons.count())}
    assert held == {
        "In danger 4",
        "Longest side 2",
        "Colour space 2",
        "No usable picture 1",
        "All 23",
    } | {h for h in held if h.startswith("Profile")}
    qtbot.keyClick(audit.side.aside, Qt.Key.Key_Space)
    assert names(audit) == ["Item 24", "Item 09", "Item 03", "Item 15", "Item 20"]
    rows = [audit.side.reasons.item(i) for i in range(audit.side.reasons.count())]
    colour = next(row for row in rows if row.text().startswith("Colour space"))
    at = audit.side.reasons.visualItemRect(colour).center()
    qtbot.mouseClick(audit.side.reasons.viewport(), LEFT, pos=at)
    assert names(audit) == ["Item 09", "Item 20"]
    # a better picture in its place: it is in danger no longer, and no file has changed
    monkeypatch.setattr(
        QFileDialog, "getOpenFileName", lambda *a: (str(tmp_path / "item 00.jpg"), "")
    )
    qtbot.mouseClick(audit.detail.replace, LEFT)
    audited(qtbot, shell)
    assert names(audit) == ["Item 20"]
    assert {p.name: p.read_bytes() for p in tmp_path.iterdir()} == before
    # a picture that is replaced outside is seen
    shutil.copy(tmp_path / "item 01.jpg", tmp_path / "item 20.jpg")
    audit.model.look_at_files()
    audited(qtbot, shell)
    assert "Item 20" in shell.message.text.text() and "Item 20" not in names(audit)
    assert names(audit) == ["Item 24", "Item 03", "Item 15"]
    audit.export_to(str(tmp_path / "danger"))
    audited(qtbot, shell)
    out = list(csv.DictReader((tmp_path / "danger.csv").read_text("utf-8-sig").splitlines()))
    assert [row["item"] for row in out] == ["Item 24", "Item 03", "Item 15"]
    assert out[2]["reasons"] == "Longest side" and "600" in out[2]["what is missed"]
    audit.export_to(str(path))
    assert "never written to" in shell.message.text.text()
    assert path.read_bytes() == before["listing.csv"]
    # and the one that is left is taken to the bench
    audit.list.setCurrentIndex(audit.rows.index(2))
    qtbot.mouseClick(audit.detail.bench, LEFT)
    assert shell.session.bench.fitting.brief == ITEM
    assert shell.session.bench.photo.name == "item 15.jpg"


@pytest.mark.long
def test_what_is_audited_stays_with_the_docket(qtbot, shell, tmp_path):
    """Reopened, the same listing is looked at again, with the pictures put in place of others."""
    path = make_listing(tmp_path)
    shell.go("desk")
    shell.desk.show_view("audit")
    audit = shell.desk.audit
    audit.use_brief(ITEM)
    audit.open(str(path))
    audited(qtbot, shell)
    audit.list.setCurrentIndex(audit.rows.index(names(audit).index("Item 09")))
    audit.replace_with(str(tmp_path / "item 00.jpg"))
    audited(qtbot, shell)
    assert "Item 09" not in names(audit)
    docket = tmp_path / "kept" / "autumn.docket"
    docket.parent.mkdir()
    assert shell.session.dockets.save(docket)
    assert '"source": "../listing.csv"' in docket.read_text()
    # another docket has no audit; back in this one it is there again
    shell.session.dockets.load(demo_path(), keep_path=False)
    qtbot.waitUntil(lambda: not audit.items, timeout=PATIENCE)
    assert audit.stack.currentWidget() is audit.empty
    # what was mended on disk in between is seen, for it is looked at anew
    shutil.copy(tmp_path / "item 01.jpg", tmp_path / "item 20.jpg")
    shell.session.dockets.load(docket)
    shell.go("desk")
    audited(qtbot, shell)
    assert names(audit) == ["Item 24", "Item 15"]
    assert audit.briefs.currentData() == ITEM
    # the replacement is one step, and can be taken back
    assert shell.session.docket.audit.instead[0].file == str(tmp_path / "item 00.jpg")
    audit.list.setCurrentIndex(audit.rows.index(names(audit).index("Item 15")))
    audit.replace_with(str(tmp_path / "item 02.jpg"))
    audited(qtbot, shell)
    assert names(audit) == ["Item 24"]
    shell.session.store.undo()
    audited(qtbot, shell)
    assert names(audit) == ["Item 24", "Item 15"]


def groups(audit) -> dict[str, int]:
    rows = [audit.side.reasons.item(n).text() for n in range(audit.side.reasons.count())]
    return {text.rpartition(" ")[0]: int(text.rpartition(" ")[2]) for text in rows}


def pick(qtbot, audit, group: str) -> None:
    rows = [audit.side.reasons.item(n) for n in range(audit.side.reasons.count())]
    row = next(row for row in rows if row.text().rpartition(" ")[0] == group)
    qtbot.mouseClick(audit.side.reasons.viewport(), LEFT, pos=audit.side.reasons.visualItemRect(row).center())  # fmt: skip


@pytest.mark.long
def test_an_audit_remembers_what_is_new_what_was_mended_and_what_is_accepted(
    qtbot, shell, tmp_path
):
    path = make_listing(tmp_path)
    docket = tmp_path / "kept" / "autumn.docket"
    docket.parent.mkdir()
    shell.go("desk")
    shell.desk.show_view("audit")
    audit = shell.desk.audit
    audit.use_brief(ITEM)
    audit.open(str(path))
    audited(qtbot, shell)
    assert "Newly in danger" not in groups(audit) and not audit.side.last.isVisible()
    assert "First seen on" in audit.detail.history.text()
    # one may stay as it is: it is counted no longer, and can be taken back
    audit.list.setCurrentIndex(audit.rows.index(names(audit).index("Item 15")))
    qtbot.mouseClick(audit.detail.accept, LEFT)
    audited(qtbot, shell)
    assert names(audit) == ["Item 24", "Item 09", "Item 20"]
    assert groups(audit)["Accepted as they are"] == 1 and groups(audit)["In danger"] == 3
    pick(qtbot, audit, "Accepted as they are")
    assert names(audit) == ["Item 15"] and "Accepted as it is on" in audit.detail.history.text()
    assert shell.session.dockets.save(docket)
    # a week later one is put right, one falls, one is gone from the listing, and one is new
    shell.session.dockets.load(demo_path(), keep_path=False)
    qtbot.waitUntil(lambda: not audit.items, timeout=PATIENCE)
    shutil.copy(tmp_path / "item 01.jpg", tmp_path / "item 20.jpg")
    shutil.copy(tmp_path / "item 15.jpg", tmp_path / "item 02.jpg")
    lines = path.read_text().splitlines()
    assert lines[-1].startswith("Item 24")
    path.write_text("\n".join([*lines[:-1], "Item 25,item 01.jpg,yes"]))
    shell.session.dockets.load(docket)
    shell.go("desk")
    audited(qtbot, shell)
    assert docket.with_name("autumn.audit.sqlite").exists()
    held = groups(audit)
    assert (held["In danger"], held["Newly in danger"], held["Mended"], held["Newly listed"]) == (2, 1, 1, 1)  # fmt: skip
    assert "1 no longer listed" in audit.side.last.text() and audit.side.last.isVisible()
    pick(qtbot, audit, "Newly in danger")
    assert names(audit) == ["Item 02"] and "In danger since" in audit.detail.history.text()
    pick(qtbot, audit, "Mended")
    assert names(audit) == ["Item 20"] and "Mended on" in audit.detail.history.text()
    pick(qtbot, audit, "Newly listed")
    assert names(audit) == ["Item 25"]
    pick(qtbot, audit, "Accepted as they are")
    assert names(audit) == ["Item 15"]
    qtbot.mouseClick(audit.detail.accept, LEFT)
    audited(qtbot, shell)
    assert groups(audit)["In danger"] == 3
    pick(qtbot, audit, "In danger")
    for ending in ("csv", "json", "html"):
        audit.export_to(str(tmp_path / f"list.{ending}"))
    audited(qtbot, shell)
    rows = list(csv.DictReader((tmp_path / "list.csv").read_text("utf-8-sig").splitlines()))
    assert {row["item"] for row in rows} == {"Item 09", "Item 02", "Item 15"}
    assert all(row["in danger since"][:2] == "20" for row in rows)
    assert "Item 02" in (tmp_path / "list.json").read_text()
    assert "newly in danger" in (tmp_path / "list.html").read_text()


def test_several_briefs_and_columns_are_asked_for_before_anything_runs(
    qtbot, shell, tmp_path, monkeypatch
):
    rows = ["Bild,Old,Name,Price", "item 00.jpg,item 03.jpg,Jug,5", "item 03.jpg,item 00.jpg,Cup,90", "gone.jpg,item 00.jpg,Mug,7"]  # fmt: skip
    make_listing(tmp_path)
    path = tmp_path / "own.csv"
    path.write_text("\n".join(rows))
    shell.go("desk")
    shell.desk.show_view("audit")
    audit = shell.desk.audit
    other = "quayside-exchange/shop-header"
    assert audit.briefs.findData(other) >= 0
    answered(qtbot, monkeypatch, [ITEM, other], picture="Bild", item="Name", value="Price")
    audit.open(str(path))
    audited(qtbot, shell)
    assert names(audit) == ["Mug", "Cup"] and audit.briefs.currentData() == ITEM
    assert audit.sorted_by.isVisible()
    audit.sorted_by.setCurrentIndex(0)
    choose(audit.sorted_by, "value")
    audit.sorted_by.activated.emit(1)
    assert names(audit) == ["Cup", "Mug"]
    # the other list is there at once: it was made beside the first
    checked = len(shell.session.audit._runs[str(path), other].checked)
    assert checked == 3
    audit.briefs.setCurrentIndex(audit.briefs.findData(other))
    audit.briefs.activated.emit(audit.briefs.currentIndex())
    assert len(audit.checked) == 3 and shell.session.docket.audit.brief == other
    held = shell.session.docket.audit
    assert held.columns["picture"] == "Bild" and set(held.briefs) == {ITEM, other}


@pytest.mark.long
def test_pictures_are_replaced_from_a_folder_as_one_step(qtbot, shell, tmp_path, monkeypatch):
    path = make_listing(tmp_path)
    better = tmp_path / "better"
    better.mkdir()
    for number in (3, 9, 15):
        shutil.copy(tmp_path / "item 00.jpg", better / f"ITEM {number:02d}.JPG")
    shutil.copy(tmp_path / "item 03.jpg", better / "item 20.jpg")  # no better than it was
    shutil.copy(tmp_path / "item 01.jpg", better / "Item 24.png")  # by the item's own name
    shutil.copy(tmp_path / "item 01.jpg", better / "of nobody.jpg")
    before = {p.name: p.read_bytes() for p in tmp_path.iterdir() if p.is_file()}
    shell.go("desk")
    shell.desk.show_view("audit")
    audit = shell.desk.audit
    audit.use_brief(ITEM)
    audit.open(str(path))
    audited(qtbot, shell)
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *a: str(better))

    def drive(dialog) -> int:
        dialog.show()
        qtbot.waitUntil(lambda: len(dialog.after) == 4, timeout=PATIENCE)
        shown = {row.text(0): (row.text(1), row.text(2), row.text(3)) for row in dialog._rows()}
        assert shown["Item 09"] == ("misses", "ITEM 09.JPG", "asks") and shown["Item 20"][2] == "misses"  # fmt: skip
        assert (
            "2 are for no item" in dialog.says.text() and dialog.act.text() == "Replace 4 pictures"
        )
        for row in dialog._rows():
            if row.text(3) == "misses":
                row.setCheckState(0, Qt.CheckState.Unchecked)
                dialog.list.setCurrentItem(row)
                # why it would still miss is seen beside its picture
                assert "Asked: " in dialog.why["then"].text(), dialog.why["then"].text()
        qtbot.mouseClick(dialog.act, LEFT)
        return dialog.result()

    monkeypatch.setattr(ReplaceDialog, "exec", drive)
    qtbot.mouseClick(audit.bulk, LEFT)
    audited(qtbot, shell)
    assert names(audit) == ["Item 20"]
    assert len(shell.session.docket.audit.instead) == 3
    shell.session.store.undo()
    audited(qtbot, shell)
    assert names(audit) == ["Item 24", "Item 09", "Item 15", "Item 20"]
    shell.session.store.redo()
    audited(qtbot, shell)
    assert names(audit) == ["Item 20"]
    assert {p.name: p.read_bytes() for p in tmp_path.iterdir() if p.is_file()} == before


def test_where_nothing_can_be_written_down_the_audit_goes_on(qtbot, shell, tmp_path, monkeypatch):
    """A disk that fills up while pictures are looked at."""

    def full(*_given: object) -> None:
        raise sqlite3.OperationalError("database or disk is full")

    monkeypatch.setattr(AuditBook, "_remember", full)
    said: list[str] = []
    tell = shell.session.audit._tell
    monkeypatch.setattr(
        shell.session.audit, "_tell", lambda words, *more: (said.append(words), tell(words, *more))
    )
    path = make_listing(tmp_path)
    shell.go("desk")
    shell.desk.show_view("audit")
    shell.desk.audit.use_brief(ITEM)
    shell.desk.audit.open(str(path))
    audited(qtbot, shell)
    assert shell.desk.audit.side.count.text() == "4 of 23 are in danger; 2 set aside"
    assert [one for one in said if "not remembered. database or disk is full" in one]


def test_a_list_that_could_not_be_made_once_is_made_again(qtbot, shell, tmp_path, monkeypatch):
    """Of many items it is made beside the interface; what goes wrong there is said, and does not stay."""
    made, failed = audit_lists.lists, []

    def once(found, *rest):
        if len(found) > 3 and not failed:
            failed.append(len(found))
            raise ListingError("The list could not be made.")
        return made(found, *rest)

    monkeypatch.setattr(audit_lists, "lists", once)
    monkeypatch.setattr(audit_view, "_MANY", 3)
    shell.go("desk")
    shell.desk.show_view("audit")
    audit = shell.desk.audit
    audit.use_brief(ITEM)
    audit.open(str(make_listing(tmp_path)))
    qtbot.waitUntil(lambda: bool(failed), timeout=PATIENCE)
    audited(qtbot, shell)
    audit.show_all()
    qtbot.waitUntil(
        lambda: audit.side.count.text() == "4 of 23 are in danger; 2 set aside", timeout=PATIENCE
    )
    assert len(audit.rows.items) == 4


def test_a_listing_that_says_nothing_is_said_and_nothing_is_lost(qtbot, shell, tmp_path):
    path = tmp_path / "prices.csv"
    path.write_text("item,price\nJug,3\n")
    shell.go("desk")
    shell.desk.show_view("audit")
    shell.desk.audit.use_brief(ITEM)
    shell.desk.audit.open(str(path))
    qtbot.waitUntil(lambda: "prices.csv" in shell.message.text.text(), timeout=PATIENCE)
    assert "picture’s file" in shell.message.text.text() and not shell.desk.audit.items
    shell.desk.audit.open(str(tmp_path / "nothing"))
    qtbot.waitUntil(lambda: "nothing" in shell.message.text.text(), timeout=PATIENCE)


@pytest.mark.long
def test_several_from_the_board_to_the_desk_and_retired_together(
    qtbot, shell, handing, press, tmp_path
):
    paths = []
    for i in range(3):
        path = tmp_path / f"jug_{i}.jpg"
        Image.fromarray(scene(1800, 1500, i, 3.0)).save(
            path, quality=85, icc_profile=shipped("srgb")
        )
        paths.append(path)
    drop(shell, *paths)
    qtbot.waitUntil(lambda: len(shell.session.docket.photos) == 3, timeout=PATIENCE)
    shell.session.many.start_fittings([(p.id, ITEM) for p in shell.session.docket.photos])
    first = shell.session.docket.fittings[0]
    shell.session.model.lay(first.id)
    qtbot.waitUntil(settled(shell), timeout=PATIENCE)
    shell.session.model.set({"frame.output": (600, 500)}, "Size")  # smaller than is asked
    shell.go("board")
    shell.board.grid.choose_all()
    assert len(shell.board.chosen_fittings()) == 3
    asked = press("act")
    shell.on_board(lambda board: board.hand_chosen())
    stands(qtbot, shell, "accepted", "accepted", "accepted")
    assert asked[0].act.text() == "Hand over 3 files"
    assert {row[1] for row in theirs()} == {i.name for i in shell.handing.items}
    # what was sent is what the fittings now say, as one step that can be undone
    assert shell.session.docket.fitting(first.id).settings.frame.output != (600, 500)
    shell.session.store.undo()
    assert shell.session.docket.fitting(first.id).settings.frame.output == (600, 500)
    assert len(shell.handing.items) == 3
    handed = shell.desk.handed
    assert handed.chips["accepted"].text() == "3 accepted" and handed.chips["held"].isHidden()
    handed.list.setFocus()
    qtbot.keyClick(handed.list, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    assert handed.slip.several.text() == "3 chosen" and handed.slip.receipt.isHidden()
    qtbot.mouseClick(handed.slip.copy, LEFT)
    assert QApplication.clipboard().text().count("SHA-256") == 3
    shell.on_desk("handed", lambda desk: desk.handed.retire())
    stands(qtbot, shell, "retired", "retired", "retired")
    assert {row[3] for row in theirs()} == {"retired"}
    assert handed.slip.retire.isHidden()
    # another docket has handed nothing over, and shows nothing of this one
    shell.session.store.saved = shell.session.docket
    shell.new_docket()
    shell.go("desk")
    assert not shell.handing.items and handed.stack.currentWidget() is handed.empty


@pytest.mark.long
def test_a_file_waits_and_is_withdrawn_before_a_full_desk_took_it(
    qtbot, shell, handing, press, tmp_path
):
    lay(qtbot, shell, tmp_path)
    handing.moods[BODY] = {"full": True}
    press("act")
    shell.hand_over()
    qtbot.waitUntil(
        lambda: any("full" in e.says for i in shell.handing.items for e in i.history),
        timeout=PATIENCE,
    )
    slip = shell.desk.handed.slip
    assert slip.two.accessibleName() == "We say: meets. The desk says: nothing yet, to be sent"
    assert slip.retire.text() == "Withdraw, unsent" and slip.copy.isHidden()
    qtbot.mouseClick(slip.retire, LEFT)
    stands(qtbot, shell, "withdrawn")
    assert slip.receipt.head.text() == "No receipt"  # and none is to come
    assert theirs() == [] and "Withdrawn" in shell.handing.items[0].history[-1].says


@pytest.mark.long
def test_a_long_audit_is_cancelled_and_late_results_are_dropped(qtbot, shell, tmp_path):
    item = jpeg(np.asarray(Image.fromarray(scene(300, 240, 1)).resize((2400, 2000))), quality=95)
    for i in range(60):
        (tmp_path / f"item {i:02d}.jpg").write_bytes(item)
    shell.go("desk")
    shell.desk.show_view("audit")
    audit = shell.desk.audit
    audit.use_brief(ITEM)
    audit.open(str(tmp_path))
    qtbot.waitUntil(lambda: 0 < len(audit.checked) < 60, timeout=PATIENCE)
    under_way = shell.desk.under_way
    qtbot.waitUntil(lambda: "of 60" in under_way.words.text(), timeout=PATIENCE)
    assert under_way.isVisible()
    qtbot.mouseClick(under_way.cancel, LEFT)
    n = len(audit.checked)
    qtbot.waitUntil(lambda: not under_way.isVisible(), timeout=PATIENCE)
    assert len(audit.checked) == n and "Cancelled: Auditing" in shell.message.text.text()
    assert "still to be looked at" in audit.side.count.text()
    qtbot.mouseClick(audit.again, LEFT)
    audited(qtbot, shell)
    assert len(audit.checked) == 60 and "still" not in audit.side.count.text()


@pytest.mark.long
def test_closing_does_not_wait_for_a_slow_desk(qtbot, shell, handing, press, tmp_path):
    lay(qtbot, shell, tmp_path)
    handing.moods[BODY] = {"slow": 15.0}
    press("act")
    shell.hand_over()
    qtbot.waitUntil(
        lambda: bool(handing.items) and handing.items[0].state == "sending", timeout=PATIENCE
    )
    qtbot.waitUntil(lambda: handing.desks.is_open(BODY.partition("/")[0]), timeout=PATIENCE)
    handing.stop()
    assert handing.book is None  # the errand under way has ended: nobody waits fifteen seconds
