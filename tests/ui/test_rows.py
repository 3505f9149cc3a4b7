"""The rows of the cards: each shows its setting, sets it, and is undone with it."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLabel

from aptandum.core.fitting.finish import FINISHES
from aptandum.core.fitting.settings import names
from aptandum.core.judge.measures import REGISTRY
from aptandum.ui.bench.cards.fields import (
    ChoiceRow,
    ColourRow,
    NumberRow,
    ShareRow,
    StopsRow,
    SwitchRow,
)
from aptandum.ui.bench.views import FITTED
from driving import drop, wait
from samples import scene

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def bench(qtbot, shell, tmp_path: Path):
    """A small photo against a brief that permits everything."""
    path = tmp_path / "pier.png"
    Image.fromarray(scene(700, 640, 6)).save(path, compress_level=1)
    drop(shell, path)
    shell.start.choose("keepers-hall/programme-tile")
    wait(qtbot, shell)
    return shell.bench


def rows_of(bench) -> dict[str, object]:
    found = {row.key: row for row in bench.cards["colour"].rows}
    for part in bench.cards["finish"].parts.values():
        found.update({row.key: row for row in part.rows})
    return found


OTHER = {
    "finish.shade.fit": "stretch",
    "finish.caption.align": "right",
    "finish.clear.by": "colour",
    "finish.border.picture": "none",
    "finish.shade.picture": "lamp-left",
    "finish.shade.blend": "lighten",
    "finish.caption.anchor": "top",
    "finish.caption.font": "mono",
    "finish.caption.behind": "plate",
    "colour.bits": 16,
    "colour.resampling": "numbers",
    "colour.mix": "green",
    "colour.dots": "ordered",
}


def value(shell, key: str) -> object:
    held = shell.session.bench.fitting.settings
    for name in key.split("."):
        held = getattr(held, name)
    return held


@pytest.mark.long
def test_every_row_shows_what_is_set_and_sets_what_is_shown(qtbot, shell, bench):
    rows = rows_of(bench)
    assert set(rows) <= set(names()) and len(rows) > 25
    for key, row in rows.items():
        bench.open_station(key.split(".")[0])
        if key.startswith("finish."):
            bench.cards["finish"].open(key.split(".")[1])
        before = value(shell, key)
        if isinstance(row, ChoiceRow):
            at = row.choice.findData(OTHER[key])
            assert at >= 0, key
            row.choice.setCurrentIndex(at)
            row.choice.activated.emit(at)
            assert value(shell, key) == OTHER[key], key
        elif isinstance(row, ShareRow):
            row.slide.setValue(37 if round(before) != 37 else 41)
            assert value(shell, key) == row.slide.value(), key
            shell.session.store.settle()
        elif isinstance(row, StopsRow):
            row.slide.setValue(7 if round(before * 10) != 7 else -4)
            assert value(shell, key) == pytest.approx(row.slide.value() / 10), key
            assert row.figure.text() != "as it is"
            shell.session.store.settle()
        elif isinstance(row, SwitchRow):
            row.tick.click()
            assert value(shell, key) is not before, key
        elif isinstance(row, ColourRow):
            row.field.setText("#27508C")
            row.field.setModified(True)
            row.field.editingFinished.emit()
            assert value(shell, key) == "#27508C", key
            assert row.chip.colour == "#27508C"
        else:
            assert isinstance(row, NumberRow)
            least = 2 if key.endswith("radius") else 7  # of which 7 would be too many
            wanted = least if before != least else 9
            row.field.setText(str(wanted))
            row.field.setModified(True)
            row.field.editingFinished.emit()
            assert value(shell, key) == wanted, key
        shell.session.store.undo()
        assert value(shell, key) == before, key
    wait(qtbot, shell)


@pytest.mark.long
def test_what_is_set_elsewhere_is_shown_by_the_rows(qtbot, shell, bench):
    shell.session.model.set(
        {
            "finish.keyline.width": "5",
            "finish.keyline.strength": "40",
            "finish.keyline.colour": "#C9A227",
            "finish.caption.text": "Landing",
        },
        "Set",
    )
    shell.open_finish("keyline")
    rows = rows_of(bench)
    assert rows["finish.keyline.width"].field.text() == "5"
    assert rows["finish.keyline.strength"].figure.text() == "40 %"
    assert rows["finish.keyline.colour"].field.text() == "#C9A227"
    stops = bench.cards["finish"].stops
    assert stops["keyline"].figure == "5 px" and stops["caption"].figure == "Landing"
    assert stops["border"].figure == "" and "none" in stops["border"].accessibleName()
    wait(qtbot, shell)
    assert bench.stations.stops["finish"].figure == "Caption, keyline"


@pytest.mark.long
def test_a_number_out_of_range_is_refused_in_a_sentence(qtbot, shell, bench):
    shell.open_finish("keyline")
    field = rows_of(bench)["finish.keyline.width"].field
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "4000")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert "finish.keyline.width cannot be" in shell.message.text.text()
    assert value(shell, "finish.keyline.width") == 0
    field.selectAll()
    QTest.keyClicks(field, "2+1")  # sums are numbers
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert value(shell, "finish.keyline.width") == 3


@pytest.mark.long
def test_keys_open_each_finish(qtbot, shell, bench):
    for i, finish in enumerate(FINISHES):
        QTest.keyClick(shell, Qt.Key(Qt.Key.Key_1 + i), Qt.KeyboardModifier.AltModifier)
        assert bench.open_name == "finish" and bench.cards["finish"].opened == finish.name
        shown = [name for name, part in bench.cards["finish"].parts.items() if part.isVisible()]
        assert shown == [finish.name]


@pytest.mark.long
def test_the_dropper_is_put_away_and_says_where_there_is_nothing(qtbot, shell, bench):
    bench.sheet.setFocus()
    QTest.keyClick(shell, Qt.Key.Key_K)
    assert bench.sheet.tool is not None and bench.sheet.mode == FITTED
    QTest.mouseClick(bench.sheet, LEFT, pos=QPoint(3, 3))
    assert "no picture at that point" in shell.message.text.text()
    assert bench.sheet.tool is not None  # still in hand
    QTest.keyClick(bench.sheet, Qt.Key.Key_Escape)
    assert bench.sheet.tool is None
    # another station puts it away too
    QTest.keyClick(shell, Qt.Key.Key_E)
    assert bench.sheet.tool is not None
    QTest.keyClick(shell, Qt.Key.Key_F)
    assert bench.open_name == "frame" and bench.sheet.tool is None


@pytest.mark.long
def test_the_frame_is_not_drawn_over_colours_and_edges(qtbot, shell, bench):
    """Where a keyline is looked at, nothing lies on it; at Frame the frame is there again."""
    bench.open_station("finish")
    shell.session.model.set(
        {"finish.keyline.width": 4, "finish.keyline.colour": "#FF0000"}, "Keyline"
    )
    wait(qtbot, shell)
    box = bench.sheet.frame_rect()
    edge = bench.sheet.grab().toImage().pixelColor(box.left() + 1, box.top() + 30)
    assert edge.red() > 200 and edge.blue() < 60
    window = shell.session.bench.line.frame.window
    QTest.mousePress(bench.sheet, LEFT, pos=box.center())
    QTest.mouseMove(bench.sheet, box.center() + QPoint(40, 0))
    QTest.mouseRelease(bench.sheet, LEFT, pos=box.center() + QPoint(40, 0))
    assert shell.session.bench.line.frame.window == window  # the view moves, not the frame
    bench.open_station("frame")
    box = bench.sheet.frame_rect()
    drawn = bench.sheet.grab().toImage()
    corner = [drawn.pixelColor(box.left() + i, box.top()) for i in range(4, 20)]
    assert any(c.blue() > 100 and c.red() < 80 for c in corner)


@pytest.mark.long
def test_the_record_is_on_the_proof_card_as_it_grows(qtbot, shell, bench):
    bench.open_station("proof")
    record = bench.cards["proof"].record

    def said() -> str:
        QApplication.processEvents()
        shown = [w for w in record.findChildren(QLabel) if not w.isHidden()]
        return " ".join(w.text() for w in shown)

    assert "does not limit what may be done" in said()
    shell.session.model.set({"colour.space": "grey"}, "Grey")
    assert "converted from sRGB to grey" in said()
    shell.session.model.set({"finish.caption.text": "Quay", "frame.angle": 3}, "More")
    assert "Straightened by 3° clockwise" in said() and "Caption: “Quay”" in said()
    shell.session.store.undo()
    assert "Quay" not in said()


def test_help_explains_every_measure_and_key(qtbot, shell):
    from aptandum.ui.help import HelpDialog

    dialog = HelpDialog(shell.all_actions)
    text = _text_of(dialog)
    assert "Add to the subject" in text and "Keyline colour from the picture" in text
    for measure in REGISTRY.values():
        assert measure.title in text and measure.help.split(".")[0][:40] in text
    dialog.close()


def _text_of(dialog) -> str:
    from PyQt6.QtWidgets import QTextBrowser

    browser = dialog.findChild(QTextBrowser)
    if browser is not None:
        return browser.toPlainText()
    return " ".join(w.text() for w in dialog.findChildren(QLabel))


@pytest.mark.long
def test_the_brush_s_stroke_ends_where_the_photo_does(qtbot, shell, bench):
    """A stroke drawn over the edge is kept as it was drawn, and nothing breaks beyond it."""
    shell.brush(True)
    box = bench.sheet.frame_rect()
    QTest.mousePress(bench.sheet, LEFT, pos=box.center())
    for x in range(0, 400, 20):
        QTest.mouseMove(bench.sheet, box.center() + QPoint(x, 0))
    QTest.mouseRelease(bench.sheet, LEFT, pos=box.center() + QPoint(400, 0))
    (stroke,) = shell.session.bench.hand.strokes
    assert len(stroke.points) > 3 and stroke.radius > 0
    wait(qtbot, shell)
    window = shell.session.bench.line.frame.window
    cover = shell.session.pixels.mask().window(
        (window.left, window.top, window.width, window.height), (100, 100)
    )
    assert cover[50, 60] > 0.9 and np.isfinite(cover).all()
