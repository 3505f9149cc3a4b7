"""The File and Proof stations and the places, driven with real keys, presses and drags."""

from __future__ import annotations

import io
import itertools
import os
import re
from pathlib import Path

import numpy as np
import pytest
from PIL import Image, ImageOps
from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QWidget

from aptandum.core.file.make import make
from aptandum.core.photo.apart import credit_of
from aptandum.ui import preferences
from aptandum.ui.bench.views import LOSS, PLACE
from driving import drop, wait
from samples import DEMO, PATIENCE

LEFT = Qt.MouseButton.LeftButton
DECK = "vessary-ferries/deck-pass"


def bare(text: str) -> str:
    return re.sub(r"\s", "", text)


@pytest.fixture
def begin(qtbot, shell, tmp_path: Path):
    """Drops a demo photo on the window and begins a fitting; its path."""

    def begun(photo: str, brief: str, station: str = "file") -> Path:
        path = tmp_path / photo
        path.write_bytes((DEMO / photo).read_bytes())
        drop(shell, path)
        photo_id = next(p.id for p in shell.session.docket.photos if p.path == str(path))
        assert shell.session.model.start_fitting(photo_id, brief)
        shell.bench.open_station(station)
        wait(qtbot, shell)
        return path

    return begun


def type_into(qtbot, field, text: str) -> None:
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def image_of(widget: QWidget) -> np.ndarray:
    """What a widget shows, shape (h, w, 3)."""
    grab = widget.grab().toImage()
    found = [
        [grab.pixelColor(x, y).getRgb()[:3] for x in range(grab.width())]
        for y in range(grab.height())
    ]
    return np.array(found, np.uint8)


# -- limits --------------------------------------------------------------------------------


@pytest.mark.long
def test_a_limit_that_cannot_be_met_is_answered_with_what_can(qtbot, shell, begin):
    begin("ines_marrow_0417.jpg", DECK)
    card = shell.bench.cards["file"]
    type_into(qtbot, card.at_most.field, "3 kB")
    wait(qtbot, shell)
    made = shell.session.bench.draft
    said = bare(card.trouble.text())
    assert "Atmost3000bytesareasked" in said and str(len(made.data)) in said
    # the figure is true: nothing smaller can be made at this size
    smallest = made.options
    assert smallest.quality == 1 and smallest.subsampling == "4:2:0"
    assert shell.session.bench.live.of("file_bytes").verdict == "misses"
    # a limit that can be met is, to the byte
    type_into(qtbot, card.at_most.field, "90 kB")
    wait(qtbot, shell)
    made = shell.session.bench.draft
    assert 61_440 <= len(made.data) <= 90_000 and not card.trouble.isVisible()
    # nonsense is refused with a sentence, and the limit stays
    type_into(qtbot, card.at_most.field, "a few")
    assert "cannot be “a few”" in shell.message.text.text()
    assert shell.session.bench.fitting.settings.file.at_most == 90_000
    shell.session.store.undo()
    wait(qtbot, shell)
    assert shell.session.bench.fitting.settings.file.at_most == 3000


@pytest.mark.long
def test_the_curve_is_measured_and_a_press_on_it_chooses(qtbot, shell, begin):
    begin("blue_jug_03.jpg", "quayside-exchange/item-picture")
    card = shell.bench.cards["file"]
    session = shell.session
    session.model.set({"frame.output": "480x384"}, "x")
    wait(qtbot, shell)
    qtbot.waitUntil(lambda: card.curve.curve is not None, timeout=PATIENCE)
    wait(qtbot, shell)
    assert card.curve.now == session.bench.draft.options.quality
    assert "likeness" in card.point.text()
    point = next(p for p in card.curve.curve.points if p.at == 50)
    spot = QPoint(round(card.curve._x(50)), 60)
    qtbot.mouseClick(card.curve, LEFT, pos=spot)
    wait(qtbot, shell)
    assert session.bench.fitting.settings.file.quality == 50
    assert session.bench.draft.options.quality == 50
    again = make(session.bench.picture, session.bench.line.file, credit_of(b""))
    assert point.size == pytest.approx(len(again.data), rel=0.02)


@pytest.mark.long
def test_before_and_after_encoding_at_the_same_place(qtbot, shell, begin):
    begin("blue_jug_03.jpg", "quayside-exchange/item-picture")
    shell.session.model.set({"file.quality": 5, "frame.output": "900x720"}, "Quality")
    wait(qtbot, shell)
    qtbot.mouseClick(shell.bench.cards["file"].look, LEFT)
    assert shell.bench.mode == LOSS
    view = shell.bench.loss
    qtbot.waitUntil(lambda: view.before is not None, timeout=PATIENCE)
    wait(qtbot, shell)
    seen = image_of(view)
    left, right = view.panes()
    part = view.part()
    with Image.open(io.BytesIO(shell.session.bench.draft.data)) as file:
        real = np.asarray(file.convert("RGB"))
    y, x = 300, 100
    at = real[int(part.top()) + y - 30, int(part.left()) + x]
    assert np.abs(seen[y, int(right.left()) + x].astype(int) - at).max() <= 2
    before = seen[60:500, 20:320].astype(int)
    after = seen[60:500, int(right.left()) + 20 : int(right.left()) + 320].astype(int)
    assert 1 < np.abs(before - after).mean() < 40  # quality 5 shows
    # a drag moves both, and 0 goes back
    start = view.middle()
    QTest.mousePress(view, LEFT, pos=QPoint(200, 300))
    QTest.mouseMove(view, QPoint(160, 260))
    QTest.mouseRelease(view, LEFT, pos=QPoint(160, 260))
    assert view.middle() != start
    qtbot.keyClick(view, Qt.Key.Key_0)
    assert view.middle() == start
    qtbot.keyClick(view, Qt.Key.Key_Plus)
    assert view.times == 2
    assert left.width() == right.width()


# -- names and what is told ----------------------------------------------------------------


@pytest.mark.long
def test_a_name_with_fields_is_shown_as_it_will_be_and_checked(qtbot, shell, begin):
    begin("ines_marrow_0417.jpg", DECK)
    name = shell.bench.cards["file"].name
    name.field.setFocus()
    qtbot.keyClicks(name.field, "{brief} {n:2}")
    assert name.example.text().startswith("deck-pass 01.jpg")
    qtbot.keyClick(name.field, Qt.Key.Key_Return)
    assert shell.session.bench.line.file.name == "deck-pass 01.jpg"
    name.field.selectAll()
    qtbot.keyClicks(name.field, "{who}")
    assert "{photo}" in name.example.text()
    qtbot.keyClick(name.field, Qt.Key.Key_Return)
    assert shell.session.bench.line.file.name == "deck-pass 01.jpg"  # the last good one stays


@pytest.mark.long
def test_a_counted_name_goes_on_where_files_lie(qtbot, shell, begin):
    path = begin("ines_marrow_0417.jpg", DECK)
    (path.parent / "pass-01.jpg").write_bytes(b"taken")
    shell.session.model.set({"file.name": "pass-{n:2}"}, "Name")
    wait(qtbot, shell)
    shell.session.making.conform()
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    dialog = shell.write_dialog()
    assert dialog.name.text() == "pass-02.jpg"
    qtbot.mouseClick(dialog.act, LEFT)
    shell.session.making.write(dialog.target())
    assert (path.parent / "pass-02.jpg").read_bytes() == shell.session.bench.proof.made.data
    assert (path.parent / "pass-01.jpg").read_bytes() == b"taken"


@pytest.mark.long
def test_what_the_file_tells_is_listed_before_and_is_what_it_tells(qtbot, shell, begin):
    begin("ines_marrow_0417.jpg", DECK)
    told = shell.bench.cards["file"].told
    rows = {row.group.name: row for row in told.rows}

    def listed():
        QApplication.processEvents()
        items = [told.list.itemAt(i).widget() for i in range(told.list.count())]
        return [item.text() for item in items if item is not None and not item.isHidden()]

    assert {"Credit", "Date"} <= set(listed()) and "Camera" not in listed()
    choice = rows["caption"].choice
    choice.setFocus()
    choice.setCurrentIndex(choice.findText("Set to …"))
    choice.activated.emit(choice.currentIndex())
    assert rows["caption"].text.isVisible()
    type_into(qtbot, rows["caption"].text, "Ines on the upper deck")
    choice = rows["credit"].choice
    choice.setFocus()
    choice.setCurrentIndex(choice.findText("Leave out"))
    choice.activated.emit(choice.currentIndex())
    assert "Ines on the upper deck" in listed() and "Credit" not in listed()
    shell.session.making.conform()
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    made = credit_of(shell.session.bench.proof.made.data)
    assert made.caption == "Ines on the upper deck" and made.by == ""


# -- the proof -----------------------------------------------------------------------------


@pytest.fixture
def proved(qtbot, shell, begin):
    path = begin("ines_marrow_0417.jpg", DECK)
    shell.session.making.conform()
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    wait(qtbot, shell)
    assert shell.bench.open_name == "proof"
    return path


@pytest.mark.long
def test_questions_are_asked_one_by_one_and_answered_by_name(qtbot, shell, proved):
    asks = shell.bench.cards["proof"].asks
    assert "1 of 2" in asks.head.text() and "Plain expression" in asks.question.text()
    # its evidence: eyes and mouth, then the photo beside the file
    assert len(asks.shown.parts) == 2 and "decide" in asks.reads.text()
    qtbot.mouseClick(asks.kinds["beside"], LEFT)
    assert [words for _i, words in asks.shown.parts] == ["as supplied", "in the file"]
    type_into(qtbot, asks.who, "Ines Marrow")
    qtbot.mouseClick(asks.yes, LEFT)
    first = shell.session.bench.fitting.answers[0]
    assert (first.clause, first.by, first.met) == ("expression", "Ines Marrow", True)
    assert first.at[:4].isdigit() and preferences.person() == "Ines Marrow"
    # the next one is asked; a no makes the file not ready
    assert "2 of 2" in asks.head.text() and "glare" in asks.question.text()
    assert "once you confirm" in shell.bench.cards["proof"].verdict.text
    qtbot.mouseClick(asks.no, LEFT)
    assert shell.bench.cards["proof"].verdict.text == "Not ready"
    finding = shell.session.bench.proof.findings.of("glare")
    assert finding.verdict == "misses" and "Ines Marrow says that it is not so" in finding.says
    # taken back, and answered by key
    qtbot.mouseClick(asks.back, LEFT)
    assert shell.session.bench.proof.findings.of("glare").verdict == "asks"
    both = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    qtbot.keyClick(shell, Qt.Key.Key_J, both)
    assert shell.bench.cards["proof"].verdict.text == "Ready"
    qtbot.mouseClick(asks.rows[0], LEFT)
    assert "1 of 2" in asks.head.text()
    # who answered stays with the docket, and undo takes it back
    shell.session.store.undo()
    assert len(shell.session.bench.fitting.answers) == 1


@pytest.mark.long
def test_an_answer_holds_for_the_picture_that_was_looked_at(qtbot, shell, proved):
    """Who has seen one picture has not seen the next; what is only written otherwise is the same."""
    asks = shell.bench.cards["proof"].asks
    type_into(qtbot, asks.who, "Ines Marrow")
    qtbot.mouseClick(asks.yes, LEFT)
    qtbot.mouseClick(asks.yes, LEFT)
    session = shell.session
    assert [row.verdict for row in asks.rows] == ["meets", "meets"] and asks.again.isHidden()
    session.model.set({"file.quality": 71}, "Quality")
    assert session.bench.live.counts()["asks"] == 0
    # moved, and it must be looked at again; the ledger and the list say whose word is gone
    window = session.bench.line.frame.window
    moved = (window.left + 20, window.top, window.width, window.height)
    session.model.set({"frame.window": moved}, "Move")
    wait(qtbot, shell)
    finding = session.bench.live.of("expression")
    assert finding.verdict == "asks" and "Ines Marrow said so before" in finding.says
    assert all(row.state.startswith("before the picture changed") for row in asks.rows)
    # one is said anew, then the other; a single step back takes one answer with it
    type_into(qtbot, asks.who, "Tobin Oar")
    qtbot.mouseClick(asks.again, LEFT)
    assert [a.by for a in session.bench.fitting.answers] == ["Tobin Oar", "Tobin Oar"]
    assert session.bench.live.counts()["asks"] == 0 and asks.again.isHidden()
    session.store.undo()
    assert session.bench.live.counts()["asks"] == 2
    # back where it was, the first answers hold again
    session.store.undo()
    assert session.bench.line.frame.window == window
    assert session.bench.live.of("expression").says.startswith("Confirmed by Ines Marrow")


class Target(QWidget):
    """Another window that takes files."""

    def __init__(self) -> None:
        super().__init__()
        self.setAcceptDrops(True)
        self.got: list[str] = []

    def dragEnterEvent(self, event):
        event.acceptProposedAction()

    def dragMoveEvent(self, event):
        event.acceptProposedAction()

    def dropEvent(self, event):
        self.got = [url.toLocalFile() for url in event.mimeData().urls()]
        event.acceptProposedAction()


@pytest.mark.skipif(
    os.environ.get("QT_QPA_PLATFORM") == "offscreen",
    reason="a drag needs a windowing system; scripts/test runs this one on a virtual screen",
)
def test_the_file_is_dragged_out_of_the_window(qtbot, shell, proved):
    """A real drag: a press on the file, moves, and a release over another window."""
    other = Target()
    qtbot.addWidget(other)
    other.setGeometry(40, 300, 300, 300)
    with qtbot.waitExposed(other):
        other.show()
    chip = shell.bench.cards["proof"].chip
    window = shell.windowHandle()
    start = chip.mapTo(shell, QPoint(60, 20))
    away = other.mapToGlobal(QPoint(150, 150)) - shell.mapToGlobal(QPoint(0, 0))
    steps = iter([*(start + (away - start) * i / 6 for i in range(1, 7)), None])
    timer = QTimer()
    timer.setInterval(20)

    def step():
        spot = next(steps, None)
        if spot is None:
            timer.stop()
            QTest.mouseRelease(window, LEFT, pos=away)
        else:
            QTest.mouseMove(window, spot)

    timer.timeout.connect(step)
    QTest.mousePress(window, LEFT, pos=start)
    timer.start()
    QTest.mouseMove(window, start + QPoint(30, 8))
    qtbot.waitUntil(lambda: bool(other.got), timeout=PATIENCE)
    path = Path(other.got[0])
    assert path.name == "ines_marrow_0417-deck-pass.jpg"
    assert path.read_bytes() == shell.session.bench.proof.made.data
    assert path.parent != proved.parent  # a copy: nothing was written beside the photo


@pytest.mark.long
def test_a_drag_of_the_file_begins_after_a_little_way_and_carries_it(
    qtbot, shell, proved, monkeypatch
):
    chip = shell.bench.cards["proof"].chip
    carried = []
    monkeypatch.setattr(
        "aptandum.ui.bench.cards.finished_file.QDrag.exec",
        lambda drag, *_: carried.append(
            (drag.mimeData().urls()[0].toLocalFile(), drag.pixmap().isNull())
        ),
    )
    QTest.mousePress(chip, LEFT, pos=QPoint(60, 20))
    QTest.mouseMove(chip, QPoint(62, 21))
    assert not carried  # a press that trembles is no drag
    QTest.mouseMove(chip, QPoint(100, 40))
    ((path, no_picture),) = carried
    assert Path(path).read_bytes() == shell.session.bench.proof.made.data and not no_picture
    QTest.mouseRelease(chip, LEFT, pos=QPoint(100, 40))


@pytest.mark.long
def test_the_file_is_copied_and_after_writing_it_is_the_written_one(
    qtbot, shell, proved, monkeypatch
):
    both = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    qtbot.keyClick(shell, Qt.Key.Key_C, both)
    data = QApplication.clipboard().mimeData()
    copy = Path(data.urls()[0].toLocalFile())
    assert copy.read_bytes() == shell.session.bench.proof.made.data
    shell.session.making.write(proved.parent / "pass.jpg")
    card = shell.bench.cards["proof"]
    qtbot.mouseClick(card.copies, LEFT)
    data = QApplication.clipboard().mimeData()
    assert Path(data.urls()[0].toLocalFile()) == proved.parent / "pass.jpg"
    opened = []
    monkeypatch.setattr(
        "aptandum.ui.file_acts.QDesktopServices.openUrl",
        lambda url: opened.append(url.toLocalFile()),
    )
    qtbot.mouseClick(card.folder, LEFT)
    assert opened == [str(proved.parent)]


@pytest.mark.parametrize("ending", [".html", ".pdf"])
@pytest.mark.long
def test_the_report_is_written_from_the_card(qtbot, shell, proved, tmp_path, monkeypatch, ending):
    target = tmp_path / f"out{ending}"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(target), ""))
    qtbot.mouseClick(shell.bench.cards["proof"].report, LEFT)
    qtbot.waitUntil(lambda: "Report written" in shell.message.text.text(), timeout=PATIENCE)
    data = target.read_bytes()
    assert data.startswith(b"%PDF-" if ending == ".pdf" else b"<!doctype html>")


# -- in place ------------------------------------------------------------------------------


@pytest.mark.long
def test_the_handsets_zones_held_half_solid(qtbot, shell, begin):
    begin("ines_marrow_0417.jpg", "pocketvane/wall-slim", "proof")
    qtbot.keyClick(shell, Qt.Key.Key_Q)
    assert shell.bench.mode == PLACE
    place = shell.bench.in_place
    qtbot.waitUntil(
        lambda: place.scene is not None and place.scene.shown is not None, timeout=PATIENCE
    )
    scene = place.scene
    assert scene.shown.image is not None and scene.as_ == "handset"
    scene.solid.setValue(0)
    clear = image_of(scene).astype(float)
    # by keys, from nothing to half
    scene.solid.setFocus()
    for _ in range(5):
        qtbot.keyClick(scene.solid, Qt.Key.Key_PageUp)
    assert scene.solid.value() == 50 and scene.figure.text() == "50 %"
    assert shell.bench.sheet.solid == 0.5  # the sheet's zones follow
    half = image_of(scene).astype(float)
    changed = np.abs(half - clear).sum(2) > 2
    ys, xs = np.nonzero(changed)
    zone = np.array((0x20, 0x26, 0x2C))
    inner = [(y, x) for y, x in zip(ys, xs, strict=True)][:: max(1, len(ys) // 60)]
    offs = [np.abs(half[y, x] - (clear[y, x] + zone) / 2).max() for y, x in inner]
    assert np.median(offs) <= 1.5
    # what lies under the clock is named by the same finding as on the ledger
    ledger = shell.session.bench.live.of("zones_clear")
    words = [place.said.itemAt(i).widget().words.text() for i in range(place.said.count())]
    assert ledger.says in words and "clock" in ledger.says
    assert scene.shown.covered == ("clock",)


@pytest.mark.long
def test_a_device_that_refuses_says_why_and_shows_nothing(qtbot, shell, begin):
    begin("ines_marrow_0417.jpg", "pocketvane/wall-slim", "proof")
    shell.session.model.set({"frame.output": "800x1600"}, "x")
    shell.bench.show_view(PLACE)
    wait(qtbot, shell)
    place = shell.bench.in_place
    qtbot.waitUntil(
        lambda: place.scene is not None and place.scene.shown is not None, timeout=PATIENCE
    )
    assert place.scene.shown.image is None
    assert "800×1600px" in bare(place.scene.shown.refusal)
    shell.session.making.conform()
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    wait(qtbot, shell)
    shell.session.model.set({"frame.output": None}, "x")
    wait(qtbot, shell)
    shell.bench.show_view(PLACE)
    qtbot.waitUntil(lambda: place.scene.shown.image is not None, timeout=PATIENCE)


def test_every_place_shows_the_files_own_pixels(qtbot, shell, begin):
    """The panel: each dot of the file is one that is lit, or not."""
    begin("lantern_quay_dusk.jpg", "pocketvane/bezel-panel", "proof")
    shell.bench.show_view(PLACE)
    place = shell.bench.in_place
    qtbot.waitUntil(
        lambda: place.scene is not None and place.scene.shown is not None, timeout=PATIENCE
    )
    wait(qtbot, shell)
    lit = place.scene.lit()
    with Image.open(io.BytesIO(shell.session.bench.draft.data)) as file:
        assert (np.asarray(file.convert("L")) > 127).tolist() == lit.tolist()
    assert bare(f"{int(lit.sum())} of 18944") in bare(place.scene.figures()[0][1])


@pytest.mark.long
def test_true_sizes_follow_the_ruler(qtbot, shell, begin):
    begin("ines_marrow_0417.jpg", DECK, "proof")
    shell.bench.show_view(PLACE)
    place = shell.bench.in_place
    qtbot.waitUntil(
        lambda: place.scene is not None and place.scene.shown is not None, timeout=PATIENCE
    )
    dialog = shell.ruler_dialog()
    dialog.resize(1000, 260)
    dialog.show()
    line = dialog.line
    line.setFocus()
    qtbot.mouseClick(line, LEFT, pos=QPoint(14 + 400, 40))  # 100 mm are 400 pixels here
    qtbot.keyClick(line, Qt.Key.Key_Right)
    qtbot.keyClick(line, Qt.Key.Key_Left)
    qtbot.mouseClick(dialog.act, LEFT)
    assert preferences.screen_ppi() == pytest.approx(400 * 25.4 / 100, abs=0.1)
    assert place.scene.per_mm() == pytest.approx(4, abs=0.01)
    seen = image_of(place.scene).astype(int)
    # the portrait on the card is 35 mm wide: 140 pixels of it between the card's white
    row = seen[seen.shape[0] // 2]
    white = (row > 240).all(1)
    edges = np.nonzero(white)[0]
    inside = [b - a for a, b in itertools.pairwise(edges) if b - a > 60]
    assert inside and abs(inside[0] - 140) <= 3


@pytest.mark.long
def test_what_the_photo_does_not_tell_is_asked_and_an_answer_makes_it_ready(qtbot, shell, tmp_path):
    """A portrait without a date for a body that wants one of this half-year."""
    path = tmp_path / "undated.png"
    with Image.open(DEMO / "ines_marrow_0417.jpg") as shot:
        ImageOps.exif_transpose(shot).resize((1000, 1500)).convert("RGB").save(path)
    drop(shell, path)
    photo_id = next(p.id for p in shell.session.docket.photos if p.path == str(path))
    assert shell.session.model.start_fitting(photo_id, "harbour-registry/seal-book")
    wait(qtbot, shell)
    shell.session.making.conform()
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    wait(qtbot, shell)
    asks = shell.bench.cards["proof"].asks
    assert "1 of 2" in asks.head.text()
    assert bare(asks.question.text()) == bare("Age of the photo: at most 6 months")
    assert "not older than six months" in asks.quote.text()
    qtbot.mouseClick(asks.yes, LEFT)
    assert shell.session.bench.proof.findings.of("shot_age").verdict == "meets"
    qtbot.mouseClick(asks.yes, LEFT)
    assert shell.bench.cards["proof"].verdict.text == "Ready"


@pytest.mark.long
def test_what_was_done_to_the_photo_before_is_said_on_its_card(qtbot, shell, begin):
    begin("ines_marrow_0417.jpg", DECK, "source")
    card = shell.bench.cards["source"]
    qtbot.mouseClick(card.before[1].tick, LEFT, pos=QPoint(8, card.before[1].tick.height() // 2))
    wait(qtbot, shell)
    found = shell.session.bench.live.of("alterations")
    assert found.verdict == "misses" and "retouched" in found.says
    shell.session.store.undo()
    wait(qtbot, shell)
    assert shell.session.bench.live.of("alterations").verdict == "meets"
    assert not card.before[1].tick.isChecked()


@pytest.mark.long
def test_a_question_about_the_backdrop_is_asked_beside_the_whole_picture(qtbot, shell, tmp_path):
    path = tmp_path / "ines_marrow_0417.jpg"
    with Image.open(DEMO / path.name) as photo:  # that does not tell its date
        ImageOps.exif_transpose(photo).save(path, quality=95, exif=b"")
    QTest.keyClicks(
        shell.start.words.field,
        "600 x 800 px, at most 6 months old, light grey background, JPEG, no glasses",
    )
    qtbot.waitUntil(shell.start.words.use.isEnabled, timeout=PATIENCE)
    qtbot.mouseClick(shell.start.words.use, LEFT)
    drop(shell, path)
    wait(qtbot, shell)
    shell.session.making.conform()
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    wait(qtbot, shell)
    asks = shell.bench.cards["proof"].asks
    # of the age, which no part of the picture tells, and of the backdrop the whole picture is shown
    assert "6 months" in asks.question.text() and asks.kinds["whole"].isChecked()
    (said,) = [
        f.says
        for f in shell.session.bench.proof.findings.findings
        if f.clause.measure == "shot_age"
    ]
    assert asks.reads.text() == said
    qtbot.mouseClick(asks.yes, LEFT)
    assert asks.question.text() == "Light grey background"
    assert [words for _i, words in asks.shown.parts] == ["in the file"]
    qtbot.waitUntil(lambda: "L*" in asks.reads.text(), timeout=PATIENCE)
    assert "decide" in asks.reads.text()
    # what is told is what an independent reading of the file finds beside the head
    with Image.open(io.BytesIO(shell.session.bench.proof.made.data)) as made:
        corner = np.asarray(made.convert("RGB"), np.float64)[:80, :80].mean((0, 1)) / 255
    linear = np.where(corner <= 0.04045, corner / 12.92, ((corner + 0.055) / 1.055) ** 2.4)
    light = 116 * float(linear @ (0.2126, 0.7152, 0.0722)) ** (1 / 3) - 16
    assert abs(int(re.search(r"L\* (\d+)", asks.reads.text())[1]) - light) < 6
    # the next question is about something else: the photo beside the file, and no word of the backdrop
    qtbot.mouseClick(asks.yes, LEFT)
    assert asks.question.text() == "No glasses" and "L*" not in asks.reads.text()
    assert [words for _i, words in asks.shown.parts] == ["as supplied", "in the file"]
