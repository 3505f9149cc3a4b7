"""What is being worked on: how far it is, how long it may still take, and Cancel for each."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from aptandum.core.figures import grouped
from aptandum.ui.jobs import Command, Jobs
from aptandum.ui.jobs.command import State
from aptandum.ui.strings import t, t_n
from aptandum.ui.widgets import Yielding, button, clear, label


def said(command: Command[object]) -> str:
    """How far a command is, in words."""
    if command.state is State.WAITING:
        return t("{what} waiting its turn", what=command.words)
    if not command.total:
        return command.words
    given = {"what": command.words, "n": grouped(command.n), "total": grouped(command.total)}
    left = command.seconds_left()
    if left is None:
        return t("{what} {n} of {total}", **given)
    return t("{what} {n} of {total}, about {s} s left", s=grouped(left), **given)


class UnderWay(QWidget):
    """A line that is there while commands are under way, and not otherwise: the one asked for last,
    with its Cancel; where there are more, a press shows them all."""

    def __init__(self, jobs: Jobs, spread: bool = False) -> None:
        super().__init__()
        self._jobs = jobs
        self.words = Yielding()
        self.cancel = button(t("Cancel"), "link", self._cancel)
        self.more = button("", "link", self.show_all)
        self.more.setAccessibleDescription(t("Shows everything that is under way"))
        self._row = QHBoxLayout(self)
        self._row.addWidget(self.words)
        self._row.addStretch(0)
        self._row.addWidget(self.more)
        self._row.addWidget(self.cancel)
        self.spread(spread)
        self.list = CommandList(jobs, self)
        self._say()
        if self.shown is None:
            self.hide()
        jobs.listed.connect(self._listed)
        jobs.counted.connect(self._counted)

    def spread(self, on: bool, margin: int = 0) -> None:
        """Have its words at one end of the line and Cancel at the other, or both side by side.

        Args:
            margin: pixels free at each end, where it has a line of its own.
        """
        self._row.setStretch(1, int(on))
        self._row.setContentsMargins(margin, 0, margin, 0)

    @property
    def shown(self) -> Command[object] | None:
        """The command whose line is shown: of those that are being done the one begun last."""
        running = [one for one in self._jobs.commands if one.state is State.RUNNING]
        return max(running, key=lambda one: one.began, default=None)

    def _listed(self) -> None:
        self._say()
        self.setVisible(self.shown is not None)

    def _say(self) -> None:
        shown = self.shown
        more = len(self._jobs.commands) - 1
        self.more.setVisible(more > 0)
        self.more.setText(t_n("and {n} more", "and {n} more", more))
        if shown is not None:
            self.words.setText(said(shown))
            self.cancel.setAccessibleName(t("Cancel: {what}", what=shown.words))

    def _counted(self, command: Command[object]) -> None:
        if command is self.shown:
            self.words.setText(said(command))

    def _cancel(self) -> None:
        shown = self.shown
        if shown is not None:
            self._jobs.cancel(shown)

    def show_all(self) -> None:
        """Open the list of all that is under way."""
        self.list.fill()
        self.list.adjustSize()
        at = self.mapToGlobal(QPoint(self.width() - self.list.width(), self.height() + 4))
        self.list.move(at)
        self.list.show()


class CommandList(QFrame):
    """Everything that is under way or waits its turn, each with its own Cancel."""

    def __init__(self, jobs: Jobs, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self._jobs = jobs
        self.setProperty("role", "panel")
        self.setAccessibleName(t("Work under way"))
        self.lines: dict[int, QWidget] = {}
        self.cancels: dict[int, QPushButton] = {}
        self._rows = QVBoxLayout(self)
        self._rows.setContentsMargins(16, 12, 16, 12)
        self._rows.setSpacing(8)
        jobs.listed.connect(self._listed)
        jobs.counted.connect(self._counted)

    def _listed(self) -> None:
        if self.isVisible():
            self.fill()
            self.adjustSize()
            if not self._jobs.commands:
                self.hide()

    def fill(self) -> None:
        """Show a row for every command."""
        clear(self._rows)
        self.lines, self.cancels = {}, {}
        for command in self._jobs.commands:
            row = QHBoxLayout()
            row.setSpacing(16)
            words = label(said(command), "second")
            words.setMinimumWidth(260)
            stop = button(t("Cancel"), "link", partial(self._jobs.cancel, command))
            stop.setAccessibleName(t("Cancel: {what}", what=command.words))
            row.addWidget(words, 1)
            row.addWidget(stop)
            self._rows.addLayout(row)
            self.lines[id(command)], self.cancels[id(command)] = words, stop

    def _counted(self, command: Command[object]) -> None:
        line = self.lines.get(id(command))
        if line is not None and self.isVisible():
            line.setText(said(command))  # type: ignore[attr-defined]
