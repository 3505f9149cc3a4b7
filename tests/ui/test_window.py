"""The window: leaving and saving, what is there already, photos that lie elsewhere, going on."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtCore import QEvent, QObject, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QLineEdit, QMessageBox, QWidget

from aptandum.core.docket.store import load
from aptandum.core.docket.store import save as save_docket
from aptandum.ui import theme
from aptandum.ui.finder import Finder
from driving import drop, wait
from samples import PATIENCE, jpeg, scene

LEFT = Qt.MouseButton.LeftButton
CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
ITEM, HEADER = "quayside-exchange/item-picture", "quayside-exchange/shop-header"


def key(window, which: Qt.Key, held: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    """Press a key in the window, which a question that is answered leaves inactive."""
    window.activateWindow()
    QTest.qWaitForWindowActive(window)
    QTest.keyClick(window, which, held)


def press(words: str, seen: list[str] | None = None) -> None:
    """Press a button of the question that is about to be asked."""

    def act() -> None:
        box = QApplication.activeModalWidget()
        assert isinstance(box, QMessageBox)
        if seen is not None:
            seen.append(box.text())
        button = next(b for b in box.buttons() if b.text().replace("&", "") == words)
        QTest.mouseClick(button, LEFT)

    QTimer.singleShot(200, act)


@pytest.fixture
def photos(tmp_path: Path) -> list[Path]:
    paths = []
    for i, name in enumerate(("mole.jpg", "quay.jpg")):
        path = tmp_path / "in" / name
        path.parent.mkdir(exist_ok=True)
        path.write_bytes(jpeg(scene(1800, 1500, i + 3)))
        paths.append(path)
    return paths


@pytest.fixture
def two(qtbot, shell, photos) -> list[str]:
    """Two photos, each going to one brief; the first is on the bench."""
    drop(shell, *photos)
    ids = [entry.id for entry in shell.session.docket.photos]
    shell.session.many.start_fittings([(ids[0], ITEM), (ids[1], HEADER)])
    made = [fitting.id for fitting in shell.session.docket.fittings]
    shell.session.model.lay(made[0])
    wait(qtbot, shell)
    return made


def answer_with(monkeypatch, path: Path, kind: str = "") -> None:
    """What the file dialog gives."""
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), kind))


@pytest.mark.long
def test_unsaved_work_is_asked_about_before_it_is_left(qtbot, shell, two, tmp_path, monkeypatch):
    other = tmp_path / "other.docket"
    save_docket(shell.session.docket.model_copy(update={"title": "Other", "fittings": ()}), other)
    before = shell.session.docket
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(other), ""))
    asked: list[str] = []
    press("Stay", asked)
    key(shell, Qt.Key.Key_O, CTRL | SHIFT)
    assert "has changes that are not saved" in asked[0] and shell.session.docket == before
    # saved on the way out
    target = tmp_path / "mine.docket"
    answer_with(monkeypatch, target)
    press("Save docket")
    key(shell, Qt.Key.Key_O, CTRL | SHIFT)
    assert shell.session.docket.title == "Other"
    assert [f.brief for f in load(target).fittings] == [ITEM, HEADER]
    # what is saved is left without a word, and a new docket holds nothing
    key(shell, Qt.Key.Key_N, CTRL)
    assert not shell.session.docket.photos
    assert shell.bench_stack.currentWidget() is shell.start


def test_work_that_nobody_wants_is_left_unsaved(qtbot, shell, two):
    press("Leave without saving")
    key(shell, Qt.Key.Key_N, CTRL)
    assert not shell.session.docket.photos and not shell.session.docket.fittings


def test_a_docket_is_saved_whole_again_and_under_its_ending(
    qtbot, shell, two, tmp_path, monkeypatch
):
    answer_with(monkeypatch, tmp_path / "autumn")
    key(shell, Qt.Key.Key_S, CTRL)
    target = tmp_path / "autumn.docket"
    assert load(target).fittings and shell.session.store.path == target
    shell.session.many.clear_fittings([two[1]])
    key(shell, Qt.Key.Key_S, CTRL)  # its own file needs no question
    assert len(load(target).fittings) == 1
    assert shell.session.docket == shell.session.store.saved


@pytest.mark.long
def test_a_name_that_gets_its_ending_later_overwrites_nothing_unasked(
    qtbot, shell, two, tmp_path, monkeypatch
):
    """The file dialog has asked about “autumn”; “autumn.docket” is another file."""
    there = tmp_path / "autumn.docket"
    there.write_text("somebody's own")
    answer_with(monkeypatch, tmp_path / "autumn")
    asked: list[str] = []
    press("Leave it", asked)
    key(shell, Qt.Key.Key_S, CTRL)
    assert asked == ["autumn.docket is there already."]
    assert there.read_text() == "somebody's own" and shell.session.store.path is None
    press("Replace it")
    key(shell, Qt.Key.Key_S, CTRL)
    assert load(there).fittings
    # the same for a report, by the kind that was chosen
    qtbot.waitUntil(lambda: not shell.session.jobs.busy, timeout=PATIENCE)
    report = tmp_path / "autumn.pdf"
    report.write_bytes(b"somebody's own")
    answer_with(monkeypatch, tmp_path / "autumn", "PDF (*.pdf)")
    press("Leave it", asked)
    key(shell, Qt.Key.Key_G, CTRL | SHIFT)
    assert asked[-1] == "autumn.pdf is there already."
    assert report.read_bytes() == b"somebody's own"
    press("Replace it")
    key(shell, Qt.Key.Key_G, CTRL | SHIFT)
    qtbot.waitUntil(lambda: report.read_bytes()[:4] == b"%PDF", timeout=PATIENCE)


def test_a_docket_that_cannot_be_written_is_said(qtbot, shell, two, tmp_path, monkeypatch):
    answer_with(monkeypatch, tmp_path / "nowhere" / "autumn.docket")
    key(shell, Qt.Key.Key_S, CTRL)
    assert "autumn.docket was not written: there is no folder nowhere" in shell.message.text.text()
    assert shell.session.store.saved is None and len(shell.session.docket.fittings) == 2


def test_from_fitting_to_fitting_by_key(qtbot, shell, two):
    assert shell.session.bench.fitting.id == two[0]
    for wanted in (two[1], two[0]):
        key(shell, Qt.Key.Key_PageDown, CTRL)
        assert shell.session.bench.fitting.id == wanted
    key(shell, Qt.Key.Key_PageUp, CTRL)
    assert shell.session.bench.fitting.id == two[1]
    wait(qtbot, shell)


def finding(words: str, then: Callable[[Finder], None]) -> None:
    """Type into the command finder that is about to open."""

    def act() -> None:
        finder = QApplication.activeModalWidget()
        assert isinstance(finder, Finder)
        QTest.keyClicks(finder.line, words)
        then(finder)

    QTimer.singleShot(200, act)


def test_a_command_is_found_by_letters_of_its_name_and_done(qtbot, shell, two):
    held: list[str] = []

    def choose(finder: Finder) -> None:
        held.extend(finder.found.item(i).text() for i in range(finder.found.count()))
        QTest.keyClick(finder.line, Qt.Key.Key_Down)
        QTest.keyClick(finder.line, Qt.Key.Key_Up)
        QTest.keyClick(finder.line, Qt.Key.Key_Return)

    finding("next fit", choose)
    key(shell, Qt.Key.Key_K, CTRL)
    assert held == ["Next fitting    Ctrl+PgDown"]
    assert shell.session.bench.fitting.id == two[1]
    # nothing of that name: nothing is done
    finding("zzz", lambda finder: QTest.keyClick(finder.line, Qt.Key.Key_Return))
    key(shell, Qt.Key.Key_K, CTRL)
    assert shell.session.bench.fitting.id == two[1]
    wait(qtbot, shell)


def test_what_cannot_be_done_yet_is_said(qtbot, shell, tmp_path):
    for letter, held, words in (
        (Qt.Key.Key_T, CTRL | SHIFT, "no proved file to report on yet"),
        (Qt.Key.Key_G, CTRL | SHIFT, "nothing to report on yet"),
        (Qt.Key.Key_H, CTRL | SHIFT, "no fitting to hand over yet"),
        (Qt.Key.Key_P, CTRL | SHIFT, "There is no photo in this docket yet"),
    ):
        key(shell, letter, held)
        assert words in shell.message.text.text()
        shell.message.away.click()
    key(shell, Qt.Key.Key_J, CTRL)
    key(shell, Qt.Key.Key_H)
    assert "no fitting on the bench" in shell.message.text.text()


@pytest.mark.long
def test_a_photo_that_lies_elsewhere_is_found_and_another_is_asked_about(
    qtbot, shell, two, photos, tmp_path, monkeypatch
):
    docket = tmp_path / "kept" / "autumn.docket"
    docket.parent.mkdir()
    assert shell.session.dockets.save(docket)
    window = shell.session.bench.line.frame.window
    gone = tmp_path / "far" / "away" / "mole_2.jpg"
    gone.parent.mkdir(parents=True)
    photos[0].rename(gone)
    other = tmp_path / "other.png"
    Image.fromarray(scene(400, 300, 9)).save(other, compress_level=1)
    shell.session.dockets.load(docket)
    assert shell.session.photos.missing() is not None
    # another picture is not taken unasked
    asked: list[str] = []
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(other), ""))
    press("Leave it", asked)
    key(shell, Qt.Key.Key_P, CTRL | SHIFT)
    assert "other.png is not the same picture as mole.jpg" in asked[0]
    assert shell.session.photos.missing() is not None
    # the same picture under another name is
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(gone), ""))
    key(shell, Qt.Key.Key_P, CTRL | SHIFT)
    assert shell.session.photos.missing() is None
    assert shell.session.model.lay(two[0])
    wait(qtbot, shell)
    assert shell.session.bench.photo.path == str(gone)
    assert shell.session.bench.line.frame.window == window


@pytest.mark.long
def test_the_first_screen_comes_back_to_choose_another_brief(qtbot, shell, two):
    key(shell, Qt.Key.Key_B, CTRL)
    assert shell.bench_stack.currentWidget() is shell.start and shell.start.brief == ""
    shell.start.choose("orrin-moor/night-round")
    wait(qtbot, shell)
    assert shell.session.bench.fitting.brief == "orrin-moor/night-round"
    assert len(shell.session.docket.fittings) == 3


@pytest.mark.long
def test_the_dim_palette_reaches_every_place_and_goes_again(qtbot, shell, two):
    def brightness() -> float:
        image = shell.grab().toImage()
        spots = [(x, y) for x in range(4, image.width(), 97) for y in range(4, image.height(), 61)]
        return sum(image.pixelColor(x, y).lightness() for x, y in spots) / len(spots)

    for place in ("board", "rulebooks", "desk", "bench"):
        shell.go(place)
        QApplication.processEvents()
        light = brightness()
        shell.toggle_dim()
        QApplication.processEvents()
        assert brightness() < 0.6 * light, place
        shell.toggle_dim()
        QApplication.processEvents()
        assert brightness() == pytest.approx(light, abs=6), place


@pytest.mark.long
def test_typing_in_a_field_presses_no_key_of_the_bench(qtbot, shell, two):
    """A name with a T in it turns no photo."""
    shell.bench.open_station("file")
    wait(qtbot, shell)
    turn = shell.session.docket.photos[0].turn
    field = shell.bench.cards["file"].findChild(QLineEdit)
    field.setFocus()
    QTest.keyClicks(field, "tyTLUM")
    assert shell.session.docket.photos[0].turn == turn
    shell.bench.sheet.setFocus()
    QTest.keyClick(shell.bench.sheet, Qt.Key.Key_T)
    assert shell.session.docket.photos[0].turn == 6
    wait(qtbot, shell)


@pytest.mark.parametrize("palette", [theme.LIGHT, theme.DIM])
def test_a_box_to_tick_is_seen_in_both_palettes(qtbot, shell, palette):
    """Its outline and its tick stand out from what lies round and in it (WCAG 2.2, 1.4.11)."""
    if palette is theme.DIM:
        shell.toggle_dim()
    shell.go("rulebooks")
    shell.rulebooks.new()
    box = shell.rulebooks.form.optional
    box.clearFocus()
    QApplication.processEvents()

    def bright(x: int, y: int) -> float:
        colour = box.grab().toImage().pixelColor(x, y)
        parts = (colour.redF(), colour.greenF(), colour.blueF())
        line = [p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
        return 0.2126 * line[0] + 0.7152 * line[1] + 0.0722 * line[2]

    def contrast(a: float, b: float) -> float:
        high, low = max(a, b), min(a, b)
        return (high + 0.05) / (low + 0.05)

    middle = box.height() // 2
    inside = bright(7, middle)
    assert max(contrast(bright(x, middle), inside) for x in range(3)) >= 3
    box.setChecked(True)
    QApplication.processEvents()
    ticked = [
        contrast(bright(x, y), inside) for x in range(3, 13) for y in range(middle - 4, middle + 5)
    ]
    assert max(ticked) >= 3


def test_nothing_is_shown_beside_the_window_while_its_pages_are_built(shell, qtbot, photo):
    class Shown(QObject):
        windows: list[QWidget] = []

        def eventFilter(self, what, event):
            if event.type() == QEvent.Type.Show and isinstance(what, QWidget) and what.isWindow():
                self.windows.append(what)
            return False

    shown = Shown()
    QApplication.instance().installEventFilter(shown)
    try:
        shell.start.choose("vessary-ferries/deck-pass")
        shell.take_photos([str(photo())])
        for name in ("board", "rulebooks", "desk", "bench"):
            shell.go(name)
        assert shell.bench_stack.currentWidget() is shell.bench
    finally:
        QApplication.instance().removeEventFilter(shown)
    assert shown.windows == []
