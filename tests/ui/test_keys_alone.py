"""A photo taken all its way, from the shelf to the receipt and into an audit, with nothing but keys."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QLineEdit, QWidget

from aptandum.ui.bench.ledger import ClauseRow
from driving import wait
from samples import DEMO, PATIENCE

CTRL = Qt.KeyboardModifier.ControlModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier
NONE = Qt.KeyboardModifier.NoModifier
DECK, BODY = "vessary-ferries/deck-pass", "vessary-ferries"


def press(window: QWidget, key: Qt.Key, held: Qt.KeyboardModifier = NONE) -> None:
    """A key goes to what has the keys, and to nothing else."""
    QTest.keyClick(QApplication.focusWidget() or window, key, held)


def tab_to(window: QWidget, wanted: Callable[[QWidget], bool]) -> QWidget:
    """Tab on until a part has the keys."""
    for _ in range(120):
        at = QApplication.focusWidget()
        if at is not None and wanted(at):
            return at
        press(window, Qt.Key.Key_Tab)
    raise AssertionError("no Tab leads there")


@pytest.fixture
def in_dialog():
    """Lets keys be pressed in the next dialog, once it has the keys itself."""
    timers: list[QTimer] = []
    failed: list[BaseException] = []

    def when(act: Callable[[QDialog], None]) -> None:
        timer = QTimer()

        def look() -> None:
            dialog = QApplication.activeModalWidget()
            at = QApplication.focusWidget()
            if not isinstance(dialog, QDialog) or at is None or at.window() is not dialog:
                return
            timer.stop()
            try:
                act(dialog)
            except BaseException as error:
                failed.append(error)
                dialog.reject()

        timer.timeout.connect(look)
        timer.start(10)
        timers.append(timer)

    yield when
    for timer in timers:
        timer.stop()
    assert not failed, failed


def back(qtbot, shell) -> None:
    """As a window manager does when a dialog has gone."""
    with qtbot.waitActive(shell):
        shell.activateWindow()


@pytest.mark.long
def test_from_the_shelf_to_the_receipt_and_the_audit(qtbot, shell, tmp_path: Path, in_dialog):
    photo = tmp_path / "in" / "ines_marrow_0417.jpg"
    photo.parent.mkdir()
    photo.write_bytes((DEMO / photo.name).read_bytes())
    shell.handing.ask_every = 0.1
    shell.handing.moods[BODY] = {"review": 0.0}

    def type_path(_dialog: QDialog) -> None:
        assert isinstance(QApplication.focusWidget(), QLineEdit)
        QTest.keyClicks(QApplication.focusWidget(), str(photo))
        press(shell, Qt.Key.Key_Return)

    in_dialog(type_path)
    press(shell, Qt.Key.Key_O, CTRL)
    assert len(shell.session.docket.photos) == 1
    back(qtbot, shell)
    # the brief is searched for, and taken from the list
    tab_to(shell, lambda at: at is shell.start.search)
    QTest.keyClicks(shell.start.search, "deck pass")
    tab_to(shell, lambda at: at is shell.start.briefs)
    press(shell, Qt.Key.Key_Return)  # it is the first that is left, and nothing has chosen it yet
    qtbot.waitUntil(lambda: shell.session.bench is not None, timeout=PATIENCE)
    assert shell.session.bench.fitting.brief == DECK
    wait(qtbot, shell)
    # the frame is moved
    press(shell, Qt.Key.Key_F)
    wait(qtbot, shell)
    tab_to(shell, lambda at: at is shell.bench.sheet)
    before = shell.session.bench.line.frame.window
    press(shell, Qt.Key.Key_Down)
    assert shell.session.bench.line.frame.window.top > before.top
    press(shell, Qt.Key.Key_Z, CTRL)
    assert shell.session.bench.line.frame.window == before
    wait(qtbot, shell)
    # made and proved
    press(shell, Qt.Key.Key_Return, CTRL)
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    wait(qtbot, shell)
    # each question is gone to, and answered
    asked = [row for row in shell.bench.ledger.rows.values() if row.finding.asked]
    assert asked
    for row in asked:
        name = row.finding.clause.id
        tab_to(
            shell, lambda at, name=name: isinstance(at, ClauseRow) and at.finding.clause.id == name
        )
        press(shell, Qt.Key.Key_Space)
        press(shell, Qt.Key.Key_J, CTRL | SHIFT)
        wait(qtbot, shell)
        assert shell.bench.ledger.rows[name].finding.verdict == "meets"
    # written
    in_dialog(lambda dialog: press(dialog, Qt.Key.Key_Return))
    press(shell, Qt.Key.Key_W, CTRL | SHIFT)
    back(qtbot, shell)
    written = shell.session.bench.written
    assert written is not None and written.read_bytes() == shell.session.bench.proof.made.data
    with Image.open(written) as image:
        assert image.size == (630, 840)

    # handed over, and its receipt is there
    def send(dialog: QDialog) -> None:
        press(tab_to(dialog, lambda at: at is dialog.act), Qt.Key.Key_Space)

    in_dialog(send)
    press(shell, Qt.Key.Key_J, CTRL)
    press(shell, Qt.Key.Key_H)
    qtbot.waitUntil(
        lambda: [one.state for one in shell.handing.items] == ["accepted"], timeout=PATIENCE
    )
    qtbot.waitUntil(lambda: not shell.session.jobs.busy, timeout=PATIENCE)
    back(qtbot, shell)

    # and the folder of the supplied photos is audited
    def type_folder(_dialog: QDialog) -> None:
        assert isinstance(QApplication.focusWidget(), QLineEdit)
        in_dialog(lambda asked: press(asked, Qt.Key.Key_Return))
        QApplication.focusWidget().selectAll()
        QTest.keyClicks(QApplication.focusWidget(), str(photo.parent))
        press(shell, Qt.Key.Key_Return)

    in_dialog(type_folder)
    press(shell, Qt.Key.Key_J, CTRL)
    press(shell, Qt.Key.Key_O)
    back(qtbot, shell)
    audited = shell.desk.audit.model
    qtbot.waitUntil(
        lambda: bool(audited.checked) and len(audited.checked) == len(audited.items),
        timeout=PATIENCE,
    )
    assert len(audited.items) == len(list(photo.parent.iterdir()))
