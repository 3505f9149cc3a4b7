"""What is only painted, found part by part: cells of the board, photos on the chart, handles on the sheet."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt

from aptandum.ui.bench.sheet.handles import Handle
from aptandum.ui.bench.views import FITTED, SUPPLIED
from aptandum.ui.rulebooks.chart import Chart
from driving import drop, wait
from samples import DEMO, PATIENCE

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def portrait(qtbot, shell, tmp_path):
    photo = tmp_path / "tobin_oar_0212.jpg"
    photo.write_bytes((DEMO / photo.name).read_bytes())
    drop(shell, photo)
    shell.start.choose("vessary-ferries/deck-pass")
    wait(qtbot, shell)
    shell.bench.open_station("frame")
    sheet = shell.bench.sheet
    sheet.show_mode(FITTED)
    wait(qtbot, shell)
    assert sheet.marks_shown() is not None
    sheet.handles.follow()
    return sheet


def handle(sheet, key) -> Handle:
    found = sheet.handles.held[key]
    assert found.isVisible()
    return found


def test_each_handle_of_the_sheet_has_a_name_and_a_place(portrait):
    marks, frame = portrait.marks_shown(), portrait.session.bench.line.frame.window
    assert set(portrait.handles.held) == {"l", "t", "r", "b", *marks.handles}
    chin = handle(portrait, "chin")
    assert chin.accessibleName().startswith("Chin:") or chin.accessibleName().startswith("chin:")
    spot = portrait.on_sheet(*marks.chin).toPoint()
    assert (chin.geometry().center() - spot).manhattanLength() <= 3
    left = handle(portrait, "l")
    assert "left side of the frame" in left.accessibleName().lower()
    box = portrait.to_sheet(frame)
    assert abs(left.geometry().center().x() - box.left()) <= 2


@pytest.mark.parametrize(("key", "far"), [(Qt.KeyboardModifier.NoModifier, 1), (Qt.KeyboardModifier.ShiftModifier, 10)])  # fmt: skip
def test_a_mark_is_moved_by_keys_and_back_by_undo(qtbot, shell, portrait, key, far):
    before = portrait.marks_shown().chin
    chin = handle(portrait, "chin")
    chin.setFocus(Qt.FocusReason.TabFocusReason)
    qtbot.keyClick(chin, Qt.Key.Key_Down, key)
    x, y = portrait.marks_shown().chin
    assert (x, y) == pytest.approx((before[0], before[1] + far), abs=0.02)
    wait(qtbot, shell)
    shell.session.store.undo()
    assert portrait.marks_shown().chin == pytest.approx(before, abs=0.02)


def test_a_side_of_the_frame_is_moved_by_keys(qtbot, shell, portrait):
    before = portrait.session.bench.line.frame.window
    qtbot.keyClick(handle(portrait, "r"), Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    wait(qtbot, shell)
    after = portrait.session.bench.line.frame.window
    assert after.width < before.width and after.left == pytest.approx(before.left, abs=0.01)
    # a key that is not for it goes on to the sheet
    qtbot.keyClick(handle(portrait, "r"), Qt.Key.Key_Plus)
    wait(qtbot, shell)
    assert portrait.session.bench.line.frame.window.width != pytest.approx(after.width)


def test_the_pointer_takes_hold_of_what_is_painted_beneath(qtbot, shell, portrait):
    chin = handle(portrait, "chin")
    at = chin.geometry().center()
    qtbot.mousePress(portrait, LEFT, pos=at)
    qtbot.mouseMove(portrait, at + type(at)(0, 12))
    qtbot.mouseRelease(portrait, LEFT, pos=at + type(at)(0, 12))
    assert portrait.session.bench.hand.chin is not None


def test_nothing_is_left_where_the_sheet_shows_no_handles(qtbot, shell, portrait):
    portrait.show_mode(SUPPLIED)
    portrait.handles.follow()
    assert not [one for one in portrait.handles.held.values() if one.isVisible()]


@pytest.mark.long
def test_every_cell_in_view_is_a_part_that_says_how_it_stands(qtbot, shell):
    shell.open_demo()
    wait(qtbot, shell)
    shell.go("board")
    grid = shell.board.grid
    qtbot.waitUntil(lambda: len(grid.cells) >= len(shell.session.docket.fittings), timeout=PATIENCE)
    grid.spoken.follow()
    shown = [one for one in grid.spoken.voices if one.isVisible()]
    seen = list(grid.parts())
    assert len(shown) == min(len(seen), 300) > 4
    assert {one.accessibleName() for one in shown} == {part.name for part in seen}
    assert any("misses" in one.accessibleName() or "would meet" in one.accessibleName() for one in shown)  # fmt: skip
    first = shown[0]
    with qtbot.waitSignal(grid.opened, timeout=PATIENCE):
        first.click()  # as a screen reader presses it


@pytest.mark.long
def test_photos_on_the_chart_are_parts(qtbot, shell):
    shell.open_demo()
    wait(qtbot, shell)
    shell.go("rulebooks")
    (plane,) = [one for one in shell.findChildren(Chart) if one.isVisible()]
    qtbot.waitUntil(lambda: bool(plane.photos), timeout=PATIENCE)
    plane.spoken.follow()
    shown = [one for one in plane.spoken.voices if one.isVisible()]
    assert {one.accessibleName() for one in shown} == {
        part.name for part in plane.parts()
    } and shown
    shown[0].click()
    assert plane.photo is not None and plane.photo.name in shown[0].accessibleName()
