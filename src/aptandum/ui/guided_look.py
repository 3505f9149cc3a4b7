"""A short look round with the demo: offered once, at the first start, and left at any step. It never returns unasked."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from aptandum.core.frozen import frozen
from aptandum.ui import preferences, theme
from aptandum.ui.strings import t
from aptandum.ui.widgets import button, label

_OFFERED = "look_round_offered"


@frozen
class Step:
    """One place that is shown, and what is said there.

    Attributes:
        page: one of the window's four.
        station: of the bench; empty: whichever is open.
        makes: the file is made there.
    """

    page: str
    station: str
    says: str
    makes: bool = False


def steps() -> tuple[Step, ...]:
    """The whole look round, in order."""
    return (
        Step(
            "bench",
            "source",
            t(
                "A photo is being made to fit a brief: one kind of picture that a body wants. The list beside the photo names "
                "every rule, and its sign says how the photo stands: met, missed, recommended but missed, unknown, or for you to confirm."
            ),
        ),
        Step(
            "bench",
            "frame",
            t(
                "Six stations lead from the photo to the file. At Frame you choose which part of the photo is used. Here the "
                "marks of the head have laid it; drag the frame, and every rule is measured anew."
            ),
        ),
        Step(
            "bench",
            "proof",
            t(
                "“Conform to brief” makes the file and reads it back. As soon as it is there, what the list says is measured on "
                "the finished file. What only a person can tell is asked here."
            ),
            makes=True,
        ),
        Step(
            "board",
            "",
            t(
                "The board shows every photo of a docket against every brief at once. Press a cell to open it on the bench; "
                "“Conform all” makes all the files."
            ),
        ),
        Step(
            "rulebooks",
            "",
            t(
                "Rulebooks hold each body’s rules, with its own words beside them. Rules that are not here can be pasted as "
                "text, on the first screen or under “In words”."
            ),
        ),
        Step(
            "desk",
            "",
            t(
                "Files that are ready are handed over at the desk, and their receipts are kept here. That is all: everything "
                "in this copy of the demo may be changed."
            ),
        ),
    )


class Offer(QWidget):
    """Offers the look round at the first start."""

    taken = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(label(t("New here?"), "second"))
        row.addWidget(button(t("Look round in two minutes"), "link", self._take))
        row.addWidget(button(t("No, thanks"), "link", self.hide))
        row.addStretch(1)
        self.setVisible(not preferences.kept(_OFFERED, False))

    def _take(self) -> None:
        self.hide()
        self.taken.emit()

    def seen(self) -> None:
        """It was offered: at the next start it is not again."""
        preferences.keep(**{_OFFERED: True})


class GuidedLook(QFrame):
    """A strip below the pages that goes from place to place.

    Args:
        show: goes to a step's place.
    """

    left = pyqtSignal()

    def __init__(self, show: Callable[[Step], object]) -> None:
        super().__init__()
        self._show, self.steps, self.at = show, steps(), 0
        self.setProperty("role", "panel")
        self.setAccessibleName(t("Look round"))
        self.words = label("", wrap=True)
        self.words.setMinimumHeight(theme.px(40))
        self.count = label("", "second")
        self.back = button(t("Back"), "", lambda: self.go(self.at - 1))
        self.next = button(t("Next"), "primary", self._on)
        self.leave = button(t("Leave"), "link", self.left.emit)
        row = QHBoxLayout()
        row.setSpacing(12)
        row.addWidget(self.words, 1)
        for part in (self.count, self.back, self.next, self.leave):
            row.addWidget(part, 0, Qt.AlignmentFlag.AlignVCenter)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 10, 16, 10)
        column.addLayout(row)

    def go(self, at: int) -> None:
        """Show one of the steps."""
        self.at = min(max(at, 0), len(self.steps) - 1)
        step = self.steps[self.at]
        self._show(step)
        self.words.setText(step.says)
        self.words.setAccessibleDescription(step.says)
        self.count.setText(t("{n} of {all}", n=self.at + 1, all=len(self.steps)))
        self.back.setEnabled(self.at > 0)
        last = self.at == len(self.steps) - 1
        self.next.setText(t("Done") if last else t("Next"))
        self.next.setFocus()

    def _on(self) -> None:
        if self.at == len(self.steps) - 1:
            self.left.emit()
        else:
            self.go(self.at + 1)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape leaves."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)
