"""Undo and redo: a docket is frozen, so its history is the dockets it has been."""

from __future__ import annotations

from aptandum.core.docket.model import Docket
from aptandum.core.frozen import frozen


@frozen
class Step:
    """A change that was done: what it is called, and the docket before it."""

    label: str
    before: Docket
    merge: str = ""


class History:
    """The present docket and the way back and forth."""

    def __init__(self, docket: Docket) -> None:
        self.docket = docket
        self._done: list[Step] = []
        self._undone: list[Step] = []

    def do(self, label: str, docket: Docket, merge: str = "") -> bool:
        """Take a changed docket; False where nothing changed. Steps in a row with the same
        ``merge`` key (a drag's moves) are undone as one."""
        if docket == self.docket:
            return False
        last = self._done[-1] if self._done else None
        if not (merge and last is not None and last.merge == merge):
            self._done.append(Step(label, self.docket, merge))
        self._undone.clear()
        self.docket = docket
        return True

    def settle(self) -> None:
        """End a run of merged steps: the next one begins anew."""
        if self._done and self._done[-1].merge:
            last = self._done[-1]
            self._done[-1] = Step(last.label, last.before)

    @property
    def undo_label(self) -> str:
        return self._done[-1].label if self._done else ""

    @property
    def redo_label(self) -> str:
        return self._undone[-1].label if self._undone else ""

    def undo(self) -> bool:
        """Take the last step back and return the docket before it."""
        if not self._done:
            return False
        step = self._done.pop()
        self._undone.append(Step(step.label, self.docket))
        self.docket = self._keeping(step.before)
        return True

    def redo(self) -> bool:
        """Do again the step that was last taken back."""
        if not self._undone:
            return False
        step = self._undone.pop()
        self._done.append(Step(step.label, self.docket))
        self.docket = self._keeping(step.before)
        return True

    def note(self, docket: Docket) -> None:
        """Take a docket in which something from outside has been written down: what a desk has
        received cannot be undone, and is no step."""
        self.docket = docket

    def _keeping(self, before: Docket) -> Docket:
        """A docket of before, with what has been handed over since."""
        now = self.docket
        if (before.key, before.handed) == (now.key, now.handed):
            return before
        return before.model_copy(update={"key": now.key, "handed": now.handed})
