from __future__ import annotations

import io
from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QDialog

from aptandum.ui.bench.views import FITTED, SUPPLIED
from aptandum.ui.write_dialog import WriteDialog
from driving import drop, wait
from samples import DEMO, PATIENCE

LEFT = Qt.MouseButton.LeftButton
DECK = "vessary-ferries/deck-pass"


def pick_brief(qtbot, shell, name: str) -> None:
    """Click a brief in the first screen's list."""
    briefs = shell.start.briefs
    for i in range(briefs.count()):
        item = briefs.item(i)
        if item.data(Qt.ItemDataRole.UserRole) == name:
            briefs.scrollToItem(item)
            spot = briefs.visualItemRect(item).center()
            qtbot.mouseClick(briefs.viewport(), LEFT, pos=spot)
            return
    raise AssertionError(f"{name} is not listed")


def drag(widget, start: QPoint, end: QPoint) -> None:
    QTest.mousePress(widget, LEFT, pos=start)
    steps = 6
    for i in range(1, steps + 1):
        QTest.mouseMove(widget, start + (end - start) * i / steps)
    QTest.mouseRelease(widget, LEFT, pos=end)


@pytest.fixture
def portrait(qtbot, shell, tmp_path: Path):
    """The demo portrait, copied and dropped on an empty window, with its brief chosen."""
    path = tmp_path / "ines_marrow_0417.jpg"
    path.write_bytes((DEMO / path.name).read_bytes())
    assert shell.bench_stack.currentWidget() is shell.start
    drop(shell, path)
    pick_brief(qtbot, shell, DECK)
    assert shell.bench_stack.currentWidget() is shell.bench
    wait(qtbot, shell)
    return path


def test_from_an_empty_start_to_a_proved_file_on_disk(qtbot, shell, portrait, monkeypatch):
    bench = shell.bench
    # what the photo meets and misses, as it is
    assert bench.sheet.mode == SUPPLIED
    rows = bench.ledger.rows
    assert rows["size"].finding.verdict == "misses"
    assert rows["colour_space"].finding.verdict == "misses"
    assert rows["format"].finding.verdict == "meets"
    assert "misses" in bench.ledger.tally.text()
    # selecting a clause lights its dimension and opens the station that can mend it
    qtbot.mouseClick(rows["size"], LEFT)
    assert bench.sheet.lit == "size" and bench.open_name == "frame"
    # to the frame, and drag it
    qtbot.mouseClick(bench.stations.stops["frame"], LEFT)
    assert bench.sheet.mode == FITTED
    wait(qtbot, shell)
    before = shell.session.bench.line.frame.window
    middle = bench.sheet.frame_rect().center()
    drag(bench.sheet, middle, middle + QPoint(0, 30))
    after = shell.session.bench.line.frame.window
    assert after.top > before.top and after.width == pytest.approx(before.width)
    # draw a corner in: the shape stays locked
    corner = bench.sheet.frame_rect().bottomRight()
    drag(bench.sheet, corner, corner - QPoint(60, 60))
    framed = shell.session.bench.line.frame
    assert framed.window.width < after.width
    assert framed.window.width / framed.window.height == pytest.approx(0.75, abs=1e-6)
    wait(qtbot, shell)
    assert rows["size"].finding.verdict == "meets"
    # one press lays it by the marks of the head
    qtbot.mouseClick(bench.cards["frame"].from_marks, LEFT)
    wait(qtbot, shell)
    for name in ("head_height", "headroom", "eye_line", "head_offset", "head_tilt"):
        assert rows[name].finding.verdict == "meets"
    # one press makes the file and reads it back
    shown = bench.stations.stops["file"].figure
    qtbot.mouseClick(bench.act, LEFT)
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    proof = shell.session.bench.proof
    assert proof.ready and bench.open_name == "proof"
    assert bench.stations.stops["file"].figure == shown
    assert "to confirm" in bench.cards["proof"].state.text()
    # write it: the dialog says beforehand what will happen

    def press(dialog: WriteDialog) -> QDialog.DialogCode:
        assert "ines_marrow_0417-deck-pass.jpg will be written" in dialog.says.text()
        return QDialog.DialogCode.Accepted

    monkeypatch.setattr(WriteDialog, "exec", press)
    original = portrait.read_bytes()
    qtbot.mouseClick(bench.write, LEFT)
    path = shell.session.bench.written
    assert path == portrait.parent / "ines_marrow_0417-deck-pass.jpg"
    with Image.open(path) as image:
        assert image.size == (630, 840) and image.format == "JPEG"
        assert "sRGB" in str(image.info["icc_profile"][:600])
        image.load()
    assert 61_440 <= path.stat().st_size <= 250_000
    assert path.read_bytes() == proof.made.data
    assert portrait.read_bytes() == original
    assert "Written" in shell.message.text.text()


def test_the_frame_by_keys_and_by_typed_numbers(qtbot, shell, portrait):
    bench = shell.bench
    bench.open_station("frame")
    wait(qtbot, shell)
    shell.session.model.set({"frame.window": "600, 900, 1890, 2520"}, "start")
    sheet = bench.sheet
    sheet.setFocus()
    step = 1 / shell.session.bench.line.frame.scale
    for key, dx, dy in (
        (Qt.Key.Key_Right, 1, 0),
        (Qt.Key.Key_Down, 0, 1),
        (Qt.Key.Key_Left, -1, 0),
    ):
        was = shell.session.bench.line.frame.window
        qtbot.keyClick(sheet, key)
        now = shell.session.bench.line.frame.window
        assert now.left - was.left == pytest.approx(dx * step, abs=1e-3)
        assert now.top - was.top == pytest.approx(dy * step, abs=1e-3)
    was = shell.session.bench.line.frame.window
    qtbot.keyClick(sheet, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    now = shell.session.bench.line.frame.window
    assert was.top - now.top == pytest.approx(10 * step, abs=1e-3)
    qtbot.keyClick(sheet, Qt.Key.Key_Plus)
    grown = shell.session.bench.line.frame.window
    assert grown.width > now.width and grown.centre == pytest.approx(now.centre, abs=0.01)
    # typed, with a sum; the height follows the locked shape
    field = bench.cards["frame"].fields["width"]
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "2*1000+250")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    window = shell.session.bench.line.frame.window
    assert (window.width, window.height) == pytest.approx((2250, 3000))
    # letters typed into a field are not commands
    field.setFocus()
    qtbot.keyClicks(field, "p")
    assert bench.open_name == "frame"
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert field.property("bad") == "true" and "Expected" in field.toolTip()
    qtbot.keyClick(field, Qt.Key.Key_Escape)
    assert field.text().replace("\u00a0", "") == "2250"


def test_undo_and_redo_a_drag_as_one_step(qtbot, shell, portrait):
    bench = shell.bench
    bench.open_station("frame")
    wait(qtbot, shell)
    first = shell.session.bench.line.frame.window
    middle = bench.sheet.frame_rect().center()
    drag(bench.sheet, middle, middle + QPoint(0, 25))
    drag(bench.sheet, middle, middle + QPoint(0, -10))
    qtbot.keyClick(shell, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    once = shell.session.bench.line.frame.window
    assert once.top > first.top
    qtbot.keyClick(shell, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert shell.session.bench.line.frame.window == first
    both = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    qtbot.keyClick(shell, Qt.Key.Key_Z, both)
    assert shell.session.bench.line.frame.window == once


def test_space_shows_the_photo_and_the_wheel_zooms_about_the_pointer(qtbot, shell, portrait):
    sheet = shell.bench.sheet
    shell.bench.open_station("frame")
    wait(qtbot, shell)
    sheet.setFocus()
    qtbot.keyPress(sheet, Qt.Key.Key_Space)
    assert sheet.effective == SUPPLIED
    qtbot.keyRelease(sheet, Qt.Key.Key_Space)
    assert sheet.effective == FITTED
    at = QPointF(300, 200)
    spot = sheet.to_photo(at)
    sheet.zoom_to(sheet.scale * 2, at)
    assert sheet.to_photo(at).x() == pytest.approx(spot.x(), abs=0.01)
    sheet.one_to_one()
    assert sheet.percent == pytest.approx(100)
    sheet.fit_photo()
    assert sheet.fit


def test_what_is_seen_in_the_frame_is_the_finished_picture(qtbot, shell, portrait):
    """At one to one the sheet's pixels are the file's, but for what the JPEG loses."""
    bench = shell.bench
    bench.open_station("frame")
    shell.resize(1600, 1100)
    wait(qtbot, shell)
    shell.session.marking.frame_from_marks()
    wait(qtbot, shell)
    bench.sheet.one_to_one()
    wait(qtbot, shell)
    shell.session.making.conform()
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    box = bench.sheet.to_sheet(shell.session.bench.line.frame.window)
    grab = bench.sheet.grab().toImage()
    with Image.open(io.BytesIO(shell.session.bench.proof.made.data)) as image:
        file = image.convert("RGB")
        offs = []
        for x, y in ((100, 200), (200, 600), (450, 300), (500, 700), (150, 420)):
            seen = grab.pixelColor(round(box.left()) + x, round(box.top()) + y)
            offs.append(
                max(
                    abs(a - b)
                    for a, b in zip(seen.getRgb()[:3], file.getpixel((x, y)), strict=True)
                )
            )
    assert sorted(offs)[len(offs) // 2] < 24


def test_mends_are_done_in_one_press(qtbot, shell, portrait):
    session = shell.session
    session.model.set({"file.format": "png"}, "Format")
    shell.bench.open_station("file")
    wait(qtbot, shell)
    assert session.bench.live.of("format").verdict == "misses"
    card = shell.bench.cards["file"]
    links = [
        card.mends.itemAt(i).widget().findChild(type(shell.bench.act))
        for i in range(card.mends.count())
    ]
    press = next(link for link in links if link is not None and "JPEG" in link.text())
    qtbot.mouseClick(press, LEFT)
    assert session.bench.live.of("format").verdict == "meets"
    session.model.set({"file.format": "png"}, "Format")
    session.making.conform()
    qtbot.waitUntil(lambda: session.bench.proof is not None, timeout=PATIENCE)
    assert session.bench.proof.ready


def test_only_a_person_answers_what_only_a_person_can(qtbot, shell, portrait):
    shell.session.making.conform()
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    assert "once you confirm" in shell.bench.cards["proof"].verdict.text
    for name in ("expression", "glare"):
        shell.session.answers.confirm(name, True)
    assert shell.session.bench.proof.ready
    assert shell.bench.cards["proof"].verdict.text == "Ready"
    answers = shell.session.bench.fitting.answers
    assert all(answer.by and answer.at for answer in answers)
    shell.session.store.undo()
    assert "once you confirm" in shell.bench.cards["proof"].verdict.text
