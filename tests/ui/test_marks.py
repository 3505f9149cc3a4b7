"""Marks in the real window: found, dragged, undone, and kept in the docket."""

from __future__ import annotations

import re
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from aptandum.core.docket.store import load
from aptandum.core.judge.marks_off import OFF
from aptandum.ui.bench.views import FITTED
from driving import drop, wait
from samples import DEMO, PATIENCE

LEFT = Qt.MouseButton.LeftButton
DECK = "vessary-ferries/deck-pass"


@pytest.fixture
def bench(qtbot, shell, tmp_path: Path):
    path = tmp_path / "ines_marrow_0417.jpg"
    path.write_bytes((DEMO / path.name).read_bytes())
    drop(shell, path)
    shell.start.choose(DECK)
    wait(qtbot, shell)
    shell.bench.open_station("frame")
    shell.bench.sheet.show_mode(FITTED)
    return shell.bench


def handle(sheet, name: str) -> QPoint:
    marks = sheet.session.marking.marks()
    return sheet.on_sheet(*getattr(marks, name)).toPoint()


def drag(sheet, start: QPoint, end: QPoint) -> None:
    QTest.mousePress(sheet, LEFT, pos=start)
    for i in range(1, 6):
        QTest.mouseMove(sheet, start + (end - start) * i / 5)
    QTest.mouseRelease(sheet, LEFT, pos=end)


def test_framed_with_one_key_and_the_chin_corrected(qtbot, shell, bench, tmp_path):
    rows, session = bench.ledger.rows, shell.session
    assert rows["head_height"].finding.verdict == "advises"
    assert "found" in bench.cards["frame"].marks.figure.text()
    bench.sheet.setFocus()
    QTest.keyClick(shell, Qt.Key.Key_M)
    assert rows["head_height"].finding.verdict == "meets"
    before = rows["head_height"].finding.value
    window = session.bench.line.frame.window
    chin = handle(bench.sheet, "chin")
    drag(bench.sheet, chin, chin + QPoint(0, 30))
    assert session.bench.line.frame.window == window  # a mark moves, not the frame
    assert rows["head_height"].finding.value > before + 0.03
    assert session.bench.hand.moved == ("chin",)
    assert "chin set by hand" in bench.cards["frame"].marks.figure.text()
    # one drag is one step back
    session.store.undo()
    assert session.bench.hand.moved == ()
    assert rows["head_height"].finding.value == pytest.approx(before)
    session.store.redo()
    # kept in the docket, with the photo
    target = tmp_path / "work.docket"
    assert session.dockets.save(target)
    assert load(target).photos[0].marks.moved == ("chin",)
    qtbot.mouseClick(bench.cards["frame"].as_found, LEFT)
    assert session.bench.hand.moved == ()


@pytest.mark.long
def test_the_file_says_what_the_frame_said(qtbot, shell, bench):
    shell.session.marking.frame_from_marks()
    wait(qtbot, shell)
    live = shell.session.bench.live
    qtbot.mouseClick(bench.act, LEFT)
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    proof = shell.session.bench.proof
    for name in ("head_height", "headroom", "eye_line", "head_offset", "head_tilt", "people"):
        assert proof.findings.of(name).value == live.of(name).value
    assert proof.ready


def test_a_picture_without_a_face_says_so(qtbot, shell, tmp_path):
    path = tmp_path / "blue_jug_03.jpg"
    path.write_bytes((DEMO / path.name).read_bytes())
    drop(shell, path)
    shell.start.choose(DECK)
    wait(qtbot, shell)
    rows = shell.bench.ledger.rows
    qtbot.waitUntil(lambda: "No face" in rows["head_tilt"].finding.says)
    assert rows["head_tilt"].finding.verdict == "unknown"
    assert rows["people"].finding.verdict == "misses"
    shell.session.marking.frame_from_marks()
    assert "No face was found" in shell.message.text.text()


@pytest.mark.long
def test_the_frame_is_carried_to_other_photos(qtbot, shell, bench, tmp_path, monkeypatch):
    """To two more portraits by their own marks; a jug has none, and that is said."""
    for name in ("tobin_oar_0212.jpg", "quill_harrow_0119.jpg", "blue_jug_03.jpg"):
        path = tmp_path / name
        path.write_bytes((DEMO / name).read_bytes())
        shell.session.photos.take([str(path)])
    shell.session.marking.frame_from_marks()
    dialog = shell.carry_dialog()
    assert [dialog.photos.item(i).text() for i in range(3)] == [
        "tobin_oar_0212.jpg",
        "quill_harrow_0119.jpg",
        "blue_jug_03.jpg",
    ]
    assert dialog.way == "marks"
    shell.session.marking.carry(dialog.chosen, dialog.way)
    assert "Copying the frame" in bench.progress.text() and bench.cancel.isVisible()
    qtbot.waitUntil(lambda: len(shell.session.docket.fittings) == 3, timeout=PATIENCE)
    said = shell.message.text.text()
    assert "Copied to 2 photos." in said and "blue_jug_03.jpg: no face was found" in said
    for fitting in shell.session.docket.fittings[1:]:
        assert shell.session.model.lay(fitting.id)
        for name in ("head_height", "eye_line", "head_offset"):
            assert shell.session.bench.live.of(name).verdict == "meets"
    shell.session.store.undo()
    assert len(shell.session.docket.fittings) == 1


def test_side_by_side_with_a_divide_that_moves(qtbot, shell, bench):
    """Left of the divide the photo's own colours (Adobe RGB shown as sRGB), right the output."""
    sheet = bench.sheet
    QTest.keyClick(shell, Qt.Key.Key_V)
    assert sheet.mode == "sides" and bench.views["sides"].isChecked()
    wait(qtbot, shell)
    box = sheet.frame_rect()
    y = box.center().y()
    drag(sheet, QPoint(box.center().x(), y), QPoint(box.left() + box.width() // 5, y))
    assert sheet.divide == pytest.approx(0.2, abs=0.02)
    whole = sheet.grab().toImage()
    sheet.move_divide(1.0)
    supplied = sheet.grab().toImage()
    spot = QPoint(box.left() + box.width() * 3 // 5, box.top() + box.height() // 3)
    left = QPoint(box.left() + box.width() // 10, spot.y())
    assert whole.pixelColor(left) == supplied.pixelColor(left)
    near = [
        abs(a - b)
        for a, b in zip(
            whole.pixelColor(spot).getRgb()[:3], supplied.pixelColor(spot).getRgb()[:3], strict=True
        )
    ]
    assert max(near) < 60  # the same place of the same picture
    QTest.keyClick(sheet, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert sheet.divide == pytest.approx(0.9)


def test_two_to_one_and_print_size(qtbot, shell, bench):
    sheet = bench.sheet
    sheet.times(2.0)
    assert sheet.percent == pytest.approx(200)
    sheet.print_size()
    inch = sheet.screen().physicalDotsPerInch() * sheet.devicePixelRatioF()
    printed = 630 / 457  # inches of the deck pass
    box = sheet.to_sheet(shell.session.bench.line.frame.window)
    assert box.width() * sheet.devicePixelRatioF() == pytest.approx(printed * inch, rel=1e-3)


@pytest.mark.long
def test_a_box_is_kept_clear_of_the_clock(qtbot, shell, bench):
    """Drawn with Ctrl, judged at once, mended by the shift that is offered, taken out again."""
    session, sheet = shell.session, bench.sheet
    session.model.start_fitting(session.docket.photos[0].id, "pocketvane/wall-slim")
    wait(qtbot, shell)
    bench.open_station("frame")
    row = bench.ledger.rows["zones_clear"]
    assert row.finding.measured == "clock on the face"
    session.model.set({"frame.window": "800, 1200, 1800, 3850"}, "start")
    wait(qtbot, shell)
    box = sheet.frame_rect()
    control = Qt.KeyboardModifier.ControlModifier

    def at(x: float, y: float) -> QPoint:
        return QPoint(box.left() + round(box.width() * x), box.top() + round(box.height() * y))

    QTest.mousePress(sheet, LEFT, control, at(0.3, 0.89))
    QTest.mouseMove(sheet, at(0.6, 0.95))
    QTest.mouseRelease(sheet, LEFT, control, at(0.6, 0.95))
    assert len(session.bench.hand.keep_clear) == 1
    assert "dock on box 1" in row.finding.measured
    assert session.bench.line.frame.window.top == pytest.approx(1200)
    bench.cards["frame"].solid.setValue(100)
    assert sheet.solid == 1.0
    QTest.mouseClick(sheet, LEFT, control, at(0.45, 0.92))
    assert session.bench.hand.keep_clear == ()
    session.store.undo()
    assert len(session.bench.hand.keep_clear) == 1


@pytest.mark.long
def test_two_faces_and_none(qtbot, shell, tmp_path):
    """One of several is chosen; without any the marks are set by hand."""
    with Image.open(DEMO / "tobin_oar_0212.jpg") as picture:
        one = np.asarray(picture.resize((800, 1000)))
    both = tmp_path / "two.jpg"
    Image.fromarray(np.concatenate([one, one[:, ::-1]], axis=1)).save(both, quality=92)
    drop(shell, both)
    shell.start.choose(DECK)
    wait(qtbot, shell)
    qtbot.waitUntil(lambda: shell.session.model.people() is not None)
    card, rows = shell.bench.cards["frame"], shell.bench.ledger.rows
    shell.bench.open_station("frame")
    assert rows["people"].finding.verdict == "misses"
    assert "2 faces were found" in rows["head_tilt"].finding.says
    assert card.faces.count() == 2 and card.faces.currentIndex() == -1
    card.faces.setFocus()
    QTest.keyClick(card.faces, Qt.Key.Key_Down)
    QTest.keyClicks(card.faces, "face 2")
    assert shell.session.bench.hand.face == 1
    assert rows["head_tilt"].finding.verdict == "meets"
    shell.session.marking.frame_from_marks()
    assert rows["head_offset"].finding.verdict == "meets"
    jug = tmp_path / "blue_jug_03.jpg"
    jug.write_bytes((DEMO / jug.name).read_bytes())
    drop(shell, jug)
    wait(qtbot, shell)
    qtbot.waitUntil(lambda: "No face" in rows_of(shell)["head_tilt"].finding.says)
    shell.bench.open_station("frame")
    qtbot.mouseClick(card.by_hand, LEFT)
    assert len(shell.session.bench.hand.moved) == 4
    assert rows_of(shell)["head_height"].finding.measured == "66\u00a0%"


def rows_of(shell):
    return shell.bench.ledger.rows


@pytest.mark.long
def test_the_other_way_up_where_the_brief_leaves_it_open(qtbot, shell, tmp_path):
    path = tmp_path / "lantern_quay_dusk.jpg"
    path.write_bytes((DEMO / path.name).read_bytes())
    drop(shell, path)
    shell.start.choose("pocketvane/wall-broad")
    wait(qtbot, shell)
    session = shell.session
    assert session.bench.line.frame.output == (2208, 1840)
    shell.bench.sheet.setFocus()
    QTest.keyClick(shell, Qt.Key.Key_U)
    assert session.bench.line.frame.output == (1840, 2208)
    QTest.keyClick(shell, Qt.Key.Key_U)
    assert session.bench.line.frame.output == (2208, 1840)
    session.model.start_fitting(session.docket.photos[0].id, "quayside-exchange/shop-header")
    session.marking.other_way_up()
    assert "no other way up: 5:1" in shell.message.text.text()


@pytest.mark.long
def test_a_photo_turned_by_a_key(qtbot, shell, tmp_path):
    path = tmp_path / "lantern_quay_dusk.jpg"
    path.write_bytes((DEMO / path.name).read_bytes())
    drop(shell, path)
    shell.start.choose("orrin-moor/night-round")
    wait(qtbot, shell)
    session = shell.session
    shell.bench.sheet.setFocus()
    QTest.keyClick(shell, Qt.Key.Key_T)
    assert session.bench.photo.facts.size == (2600, 3900)
    wait(qtbot, shell)
    assert session.bench.preview.shape[0] > session.bench.preview.shape[1]
    assert session.bench.line.frame.output == (800, 1200)
    assert "then a quarter to the right" in shell.bench.cards["source"].turn.figure.text()
    session.store.undo()
    assert session.bench.photo.facts.size == (3900, 2600)
    wait(qtbot, shell)
    assert session.bench.preview.shape[0] < session.bench.preview.shape[1]


@pytest.mark.long
def test_straightened_along_a_line_and_by_the_eyes(qtbot, shell, bench):
    """Alt and a drag along something 5 degrees off level takes the 5 degrees out."""
    sheet, session = bench.sheet, shell.session
    alt = Qt.KeyboardModifier.AltModifier
    start = QPoint(200, 300)
    end = start + QPoint(400, round(400 * np.tan(np.radians(5))))
    QTest.mousePress(sheet, LEFT, alt, start)
    QTest.mouseMove(sheet, end)
    QTest.mouseRelease(sheet, LEFT, alt, end)
    assert session.bench.line.frame.angle == pytest.approx(-5, abs=0.1)
    assert bench.cards["frame"].angle.text() == "-5" or "-5." in bench.cards["frame"].angle.text()
    assert not session.bench.line.frame.exact
    window = session.bench.line.frame.window
    assert window.width < 4000
    wait(qtbot, shell)
    bench.sheet.setFocus()
    QTest.keyClick(shell, Qt.Key.Key_L)
    row = bench.ledger.rows["head_tilt"]
    assert abs(row.finding.value) < 0.05
    QTest.keyClick(shell, Qt.Key.Key_M)
    assert bench.ledger.rows["head_offset"].finding.verdict == "meets"
    # a mark drawn on the straightened photo comes to lie under the pointer
    chin = handle_of(sheet)
    drag(sheet, chin, chin + QPoint(6, 12))
    now = handle_of(sheet)
    assert abs(now.x() - chin.x() - 6) <= 1 and abs(now.y() - chin.y() - 12) <= 1
    session.store.undo()
    session.store.undo()
    session.store.undo()
    assert session.bench.line.frame.angle == pytest.approx(-5, abs=0.1)


@pytest.mark.long
def test_conform_levels_a_tilted_head_and_frames_it(qtbot, shell, tmp_path):
    path = tmp_path / "mirelle_dace_0031.jpg"
    path.write_bytes((DEMO / path.name).read_bytes())
    drop(shell, path)
    shell.start.choose(DECK)
    wait(qtbot, shell)
    qtbot.waitUntil(lambda: shell.session.model.people() is not None)
    # Level would take 8.5°; the brief's 5° are met for sure by 6.6°, since the eyes may be off by 3°, and no more is
    # turned than that.
    angle = float(
        re.search(r"Straighten by ([\d.]+)", shell.session.bench.live.of("head_tilt").mend.words)[1]
    )
    assert 3.3 + OFF["tilt"][0] < angle < 3.9 + OFF["tilt"][0]
    qtbot.mouseClick(shell.bench.act, LEFT)
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    found = shell.session.bench.proof.findings
    assert shell.session.bench.proof.ready
    for name in ("head_tilt", "head_height", "headroom", "eye_line", "head_offset"):
        assert found.of(name).verdict == "meets", name
    shell.session.store.undo()  # one step takes all of it back
    assert shell.session.bench.line.frame.angle == 0


def handle_of(sheet) -> QPoint:
    return sheet.on_sheet(*sheet.marks_shown().chin).toPoint()


def test_the_subject_s_box_is_drawn_by_its_corner(qtbot, shell, tmp_path):
    path = tmp_path / "blue_jug_03.jpg"
    path.write_bytes((DEMO / path.name).read_bytes())
    drop(shell, path)
    shell.start.choose("pocketvane/wall-slim")
    wait(qtbot, shell)
    qtbot.waitUntil(lambda: shell.session.model.people() is not None)
    shell.bench.open_station("frame")
    sheet, session = shell.bench.sheet, shell.session
    thing = session.model.people().subject
    assert 300 < thing[0] < 380 and 600 < thing[2] < 720
    assert "the subject" in shell.bench.ledger.rows["zones_clear"].finding.measured
    corner = sheet.on_sheet(thing[0] + thing[2], thing[1] + thing[3]).toPoint()
    drag(sheet, corner, corner - QPoint(40, 30))
    smaller = session.bench.hand.subject
    assert smaller[:2] == pytest.approx(thing[:2], abs=0.2) and smaller[2] < thing[2] - 20
    session.store.undo()
    assert session.bench.hand.subject is None


BY_SKULL = """format = 1
[body]
id = "pier-office"
name = "Pier Office"
[[brief]]
id = "pass"
title = "Pass"
crown = "skull"
[[brief.clause]]
measure = "head_height"
between = ["40 %", "66 %"]
"""


@pytest.mark.long
def test_a_head_measured_up_to_the_skull_is_marked_there(qtbot, shell, bench, tmp_path):
    (tmp_path / "pier.toml").write_text(BY_SKULL)
    drop(shell, tmp_path / "pier.toml")
    session = shell.session
    assert session.model.start_fitting(session.docket.photos[0].id, "pier-office/pass")
    shell.go("bench")
    wait(qtbot, shell)
    bench.sheet.show_mode(FITTED)
    bench.open_station("frame")
    found = session.marking.marks()
    assert found is not None and found.skull is not None
    row = bench.ledger.rows["head_height"]
    high = session.bench.line.frame.window.height
    told = (found.chin[1] - found.skull[1]) / high
    assert row.finding.value == pytest.approx(told, abs=0.01)
    assert "to the top of the skull" in row.finding.says
    at = bench.sheet.on_sheet(*found.skull).toPoint()
    drag(bench.sheet, at, at + QPoint(0, 12))
    assert session.bench.hand.skull is not None and session.bench.hand.moved == ()
    assert row.finding.value < told - 0.01
    assert "top of the skull set by hand" in bench.cards["frame"].marks.figure.text()
    # the crown on the hair is no handle here
    crown = bench.sheet.on_sheet(*found.crown).toPoint()
    before = session.bench.hand
    drag(bench.sheet, crown, crown + QPoint(0, -10))
    assert session.bench.hand.crown is None and session.bench.hand.skull == before.skull
    qtbot.mouseClick(bench.cards["frame"].as_found, LEFT)
    assert session.bench.hand.skull is None
