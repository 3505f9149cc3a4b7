"""Ways to drive the real window: drops, and waiting until it has settled."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QApplication

from aptandum.ui.shell import Shell
from samples import PATIENCE


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
    qtbot.waitUntil(settled(window), timeout=PATIENCE)
