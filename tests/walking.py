"""What the walks through the real window have in common."""

from __future__ import annotations

import time
from collections.abc import Iterator

from PyQt6.QtCore import QEventLoop, QTimer
from PyQt6.QtWidgets import QApplication


def settle(shell, seconds: float = 25.0) -> None:
    """Until nothing is under way any more, and has not been for a dozen turns of the loop."""
    end = time.monotonic() + seconds
    calm = 0
    turn = QTimer()
    turn.start(4)
    while time.monotonic() < end and calm < 12:
        QApplication.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
        busy = shell.session.jobs.busy or shell.board.judging.busy
        bench = shell.session.bench
        busy = busy or (bench is not None and not bench.draft_is_current and not bench.trouble)
        calm = 0 if busy else calm + 1


def other_places(shell) -> Iterator[str]:
    """Goes to each place beside the bench, and names it once it is there."""
    shell.go("board")
    yield "board"
    shell.board.grid.choose_all()
    yield "board chosen"
    shell.go("rulebooks")
    for view in list(shell.rulebooks.views):
        shell.rulebooks.show_view(view)
        yield f"rulebooks {view}"
    shell.go("desk")
    yield "desk"
    shell.desk.show_view("audit")
    yield "audit, empty"
    shell.desk.audit.open_demo()
    yield "audit"
