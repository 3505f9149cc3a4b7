"""Ways to drive the real window: drops, and waiting until it has settled."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox

from aptandum.ui.shell import Shell
from samples import PATIENCE

LEFT = Qt.MouseButton.LeftButton


def drop(window: Shell, *paths: Path) -> None:
    """Let files fall on the window, as a file manager does."""
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
    at = QPoint(900, 400)
    action, button = Qt.DropAction.CopyAction, Qt.MouseButton.LeftButton
    none = Qt.KeyboardModifier.NoModifier
    QApplication.sendEvent(window, QDragEnterEvent(at, action, data, button, none))
    QApplication.sendEvent(window, QDropEvent(QPointF(at), action, data, button, none))


def settled(window: Shell) -> Callable[[], bool]:
    """Whether nothing is being worked on and the bench's pictures are current."""

    def done() -> bool:
        bench = window.session.bench
        ready = bench is not None and bench.preview is not None and bench.draft_is_current
        return ready and not window.session.jobs.busy

    return done


def wait(qtbot, window: Shell) -> None:
    """Wait until the window has settled, and what it shows has its place: where nothing was left to do, what
    appeared a moment ago is laid out before anybody can press it."""
    qtbot.waitUntil(settled(window), timeout=PATIENCE)
    lay_out()


def lay_out(rounds: int = 4) -> None:
    """Have what appeared or went be laid out: a layout within another one takes a round for each."""
    for _ in range(rounds):
        QApplication.processEvents()


def on_sheet(sheet, x: float, y: float) -> QPoint:
    """A place of the frame (shares of it) on the sheet."""
    box = sheet.to_sheet(sheet.session.bench.line.frame.window)
    return QPointF(box.left() + x * box.width(), box.top() + y * box.height()).toPoint()


def stroke(sheet, start: QPoint, end: QPoint, held=Qt.KeyboardModifier.NoModifier) -> None:
    QTest.mousePress(sheet, LEFT, held, start)
    for i in range(1, 9):
        QTest.mouseMove(sheet, start + (end - start) * i / 8)
    QTest.mouseRelease(sheet, LEFT, held, end)


def choose(box: QComboBox, data: object) -> None:
    """Choose as a person does: open the list with a key, move to the item, take it."""
    box.setFocus()
    want = box.findData(data)
    assert want >= 0, data
    while box.currentIndex() != want:
        before = box.currentIndex()
        QTest.keyClick(box, Qt.Key.Key_Down if want > before else Qt.Key.Key_Up)
        assert box.currentIndex() != before
