"""Begun from nothing in the real window: a blank sheet in a brief's size, and words on it."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from aptandum.ui.blank_dialog import BlankDialog
from driving import wait

LEFT = Qt.MouseButton.LeftButton


def answer(act) -> list[BlankDialog]:
    """Do something with the dialog that is about to be asked."""
    seen: list[BlankDialog] = []

    def look() -> None:
        dialog = QApplication.activeModalWidget()
        if isinstance(dialog, BlankDialog):
            seen.append(dialog)
            act(dialog)
        else:
            QTimer.singleShot(10, look)

    QTimer.singleShot(0, look)
    return seen


@pytest.mark.long
def test_a_dot_panel_with_two_lines_from_nothing_in_six_acts(qtbot, shell):
    shell.start.choose("pocketvane/bezel-panel")  # 1
    seen = answer(lambda dialog: QTest.mouseClick(dialog.act, LEFT))  # 3
    qtbot.mouseClick(shell.start.blank, LEFT)  # 2
    assert seen and seen[0].size_field.text() == "296 x 64"
    wait(qtbot, shell)
    photo = shell.session.docket.photos[0]
    assert photo.path.endswith("blank sheet 296 x 64.png")
    assert Image.open(photo.path).size == (296, 64)
    shell.open_finish("caption")  # 4
    part = shell.bench.cards["finish"].parts["caption"]
    part.text.setFocus()
    QTest.keyClicks(part.text, "GULLS 12")  # 5
    QTest.keyClick(part.text, Qt.Key.Key_Return)
    QTest.keyClicks(part.text, "KNOTS 7")
    wait(qtbot, shell)
    row = shell.bench.ledger.rows["legible_at"]  # white on white, and more than has room
    assert row.finding.verdict == "advises" and "is cut by the upper edge" in row.finding.says
    assert row.finding.mend is not None and row.finding.mend.changes
    shell.session.model.set(dict(row.finding.mend.changes), "mend")  # 6: as its link does
    wait(qtbot, shell)
    row = shell.bench.ledger.rows["legible_at"]
    assert row.finding.verdict == "meets", row.finding.says
    data = shell.session.bench.draft.data
    pixels = np.asarray(Image.open(io.BytesIO(data)).convert("L"))
    assert set(np.unique(pixels)) == {0, 255}
    rows = (pixels == 0).any(1)
    assert np.count_nonzero(np.diff(rows.astype(int)) == 1) >= 2  # two lines of ink


def test_what_cannot_be_made_is_said_and_the_dialog_stays(qtbot, shell):
    dialog = shell.blank_dialog()
    assert "No brief is chosen yet" in dialog.whose.text()
    dialog.size_field.setText("wide")
    dialog.act.click()
    assert not dialog.data and not dialog.trouble.isHidden()
    dialog.size_field.setText("300 x 200")
    dialog.colour.setText("reddish")
    dialog.act.click()
    assert not dialog.data and "There is no ground" in dialog.trouble.text()
    dialog.ground.setCurrentIndex(dialog.ground.findData("planks"))
    assert dialog.colour.isHidden()
    dialog.act.click()
    assert dialog.data and dialog.size_px == (300, 200)
    shell.take_blank(dialog.data, dialog.size_px)
    shell.take_blank(dialog.data, dialog.size_px)
    names = [photo.path.rpartition("/")[2] for photo in shell.session.docket.photos]
    assert len(set(names)) == 2  # the second takes another name, and nothing is written over


def test_the_board_offers_it_where_there_is_nothing_yet(qtbot, shell):
    shell.go("board")
    seen = answer(lambda dialog: dialog.reject())
    shell.by_key["Ctrl+L"].trigger()
    qtbot.waitUntil(lambda: bool(seen))
    assert shell.session.docket.photos == ()
