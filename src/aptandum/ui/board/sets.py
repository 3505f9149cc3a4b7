"""How the set of each brief stands, at the head of its column: for briefs with rules on the whole set."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.docket.standings import set_of
from aptandum.core.judge.findings import Finding, Verdict
from aptandum.core.judge.measures import REGISTRY
from aptandum.ui.board.grid_plane import GridPlane
from aptandum.ui.session import Session
from aptandum.ui.strings import t, t_n

_SOON_MS = 60


class Sets(QObject):
    """Judges the sets of a grid's columns soon after something has changed."""

    changed = pyqtSignal()

    def __init__(
        self,
        session: Session,
        grid: GridPlane,
        brief_of: Callable[[str], tuple[Rulebook, Brief] | None],
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self._session, self._grid, self._brief_of = session, grid, brief_of
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_SOON_MS)
        self._timer.timeout.connect(self._judge)

    def soon(self) -> None:
        """Judge them in a moment."""
        self._timer.start()

    def _judge(self) -> None:
        sets = {}
        for column in self._grid.columns:
            found = self._brief_of(column.name)
            if found is not None:
                docket = self._session.docket
                sets[column.name] = set_of(docket, column.name, found[1], self._grid.cells)
        if sets != self._grid.sets:
            self._grid.sets = sets
            viewport = self._grid.viewport()
            if viewport is not None:
                viewport.update()
            self.changed.emit()


def lines_of(of_set: tuple[Finding, ...]) -> list[tuple[str, str]]:
    """What is not met of the rules on a set: verdict and sentence."""
    return [
        (
            f.verdict,
            t("First of the set. {says}", says=f.says)
            if f.clause.measure is None or not REGISTRY[f.clause.measure].of_set
            else t("Whole set. {says}", says=f.says),
        )
        for f in of_set
        if f.verdict not in ("meets", "idle")
    ]


def worst_of(of_set: tuple[Finding, ...]) -> Verdict | None:
    """How a set stands: its worst finding; ``None`` where nothing is asked of it."""
    order: tuple[Verdict, ...] = ("misses", "unknown", "asks", "advises", "meets")
    return next((v for v in order if any(f.verdict == v for f in of_set)), None)


def set_words(of_set: tuple[Finding, ...]) -> str:
    """How a set stands, in a few words: ``the set misses 2 rules``."""
    worst = worst_of(of_set)
    n = sum(f.verdict == worst for f in of_set)
    if worst == "misses":
        return t_n("the set misses {n} rule", "the set misses {n} rules", n)
    if worst == "asks":
        return t_n("the set: {n} to confirm", "the set: {n} to confirm", n)
    if worst == "advises":
        return t_n("the set: {n} advised", "the set: {n} advised", n)
    return t("the set meets its rules") if worst == "meets" else t("the set is not judged yet")
