"""What is done with the fittings that are chosen on the board."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from aptandum.ui.board.grid import Grid
from aptandum.ui.session import Session
from aptandum.ui.strings import t


class BoardChoice(QWidget):
    """The board's grid, and the cells that are chosen in it."""

    photos_asked = pyqtSignal()
    blank_asked = pyqtSignal()

    folder_asked = pyqtSignal()

    bench_asked = pyqtSignal(str)

    carry_asked = pyqtSignal()

    hand_asked = pyqtSignal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.grid = Grid()
        self.more: list[str] = []  # briefs across that no photo goes to yet

    def chosen_fittings(self) -> list[str]:
        """The fittings of the chosen cells, in reading order."""
        found = (self.grid.fitting_at(spot) for spot in self.grid.selection())
        return [fitting for fitting in found if fitting is not None]

    def _pairs(self) -> list[tuple[str, str]]:
        grid = self.grid
        return [
            (grid.rows[r].photo, grid.columns[c].name)
            for r, c in grid.selection()
            if r < len(grid.rows) and 0 <= c < len(grid.columns)
        ]

    def start_chosen(self) -> None:
        """Start a fitting in every chosen cell that has none."""
        pairs = [pair for pair in self._pairs() if pair not in self.grid.at]
        if pairs:
            self.session.many.start_fittings(pairs)

    def clear_chosen(self) -> None:
        """Take the chosen fittings off the board; their photos stay."""
        self.session.many.clear_fittings(self.chosen_fittings())

    def copy_chosen(self) -> None:
        """The settings of the cell the keys are at go to the others that are chosen."""
        source = self.grid.fitting_at(self.grid.spot)
        pairs = self._pairs()
        if source is None or len(pairs) < 2:
            self.session.tell(
                t("Choose several cells, and end at the fitting that is to be copied."), "note"
            )
            return
        self.session.many.copy_fitting(source, pairs)

    def carry_chosen(self) -> None:
        """Carry the frame of the cell the keys are at."""
        fitting = self.grid.fitting_at(self.grid.spot)
        if fitting is not None and self.session.model.lay(fitting, show=False):
            self.carry_asked.emit()

    def hand_chosen(self) -> None:
        """Hand over the files of the chosen fittings; each is proved first."""
        ids = self.chosen_fittings()
        if ids:
            self.hand_asked.emit(ids)

    def open_bench(self) -> None:
        """Open the fitting of the cell that the keys are at."""
        fitting = self.grid.fitting_at(self.grid.spot)
        if fitting is not None:
            self.bench_asked.emit(fitting)

    def conform_into(self, folder: Path) -> None:
        """Make the files of the chosen fittings, or of all, into a folder."""
        chosen = self.chosen_fittings()
        ids = chosen if len(chosen) > 1 else [f.id for f in self.session.docket.fittings]
        self.session.many.conform_many(ids, folder)
