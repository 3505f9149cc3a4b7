"""Small parts of the board: the chips that filter, and a brief in a line."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QGridLayout, QWidget

from aptandum.core.brief.binding import BYTES
from aptandum.core.brief.model import Brief
from aptandum.core.docket.standings import Cell, Standing
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.sizes.said import clause_said
from aptandum.ui import theme
from aptandum.ui.painting import Painter
from aptandum.ui.said import Said, Scrolled
from aptandum.ui.signs import draw_sign
from aptandum.ui.strings import joined, t, t_n
from aptandum.ui.widgets import clear

_GAP = 8
"""Pixels to the right of each chip."""


class Chip(QAbstractButton):
    """How many fittings stand so; pressed, only the photos with such a one are shown."""

    def __init__(self, standing: Standing) -> None:
        super().__init__()
        self.standing = standing
        self.count = 0
        self.shows: bool | None = None
        self.setCheckable(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedHeight(28)

    def take(self, count: int) -> None:
        """Show how many cells stand so."""
        words = {
            "misses": t_n("{n} misses", "{n} miss", count),
            "lost": t_n("{n} not there", "{n} not there", count),
            "unknown": t_n("{n} unknown", "{n} unknown", count),
            "asks": t_n("{n} to confirm", "{n} to confirm", count),
            "advises": t_n("{n} advises", "{n} advise", count),
            "meets": t_n("{n} meets", "{n} meet", count),
        }[self.standing]
        shows = count > 0 or self.isChecked()
        if words == self.text() and shows == self.shows:
            return
        self.count, self.shows = count, shows
        self.setText(words)
        self.setAccessibleName(t("Show only photos with: {what}", what=words))
        self.setToolTip(self.accessibleName())
        # Hidden, a chip would make its whole bar be laid out at once when it comes back, each by
        # itself; without width, all are laid out together and later.
        self.setFixedWidth(self.sizeHint().width() + _GAP if shows else 0)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if shows else Qt.FocusPolicy.NoFocus)
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(self.fontMetrics().horizontalAdvance(self.text()) + 46, 28)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        on = self.isChecked()
        painter.setBrush(theme.colour("blue_soft" if on else "panel"))
        tone = "blue" if on or self.hasFocus() else "hairline"
        painter.setPen(QPen(theme.colour(tone), 2 if self.hasFocus() else 1))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1 - _GAP, -1), 4, 4)
        verdict = "unknown" if self.standing == "lost" else self.standing
        draw_sign(painter, verdict, QRectF(11, 7, 14, 14))
        painter.setPen(theme.colour("ink"))
        painter.setFont(theme.text(13))
        painter.drawText(
            self.rect().adjusted(32, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, self.text()
        )


class FootLines(Scrolled):
    """What is said of a cell below the board, three lines to a column; what is longer is scrolled."""

    def __init__(self) -> None:
        held = QWidget()
        self.grid = QGridLayout(held)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setHorizontalSpacing(18)
        self.grid.setVerticalSpacing(2)
        self.grid.setRowStretch(3, 1)
        super().__init__(held)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        bar = self.verticalScrollBar()
        assert bar is not None
        bar.rangeChanged.connect(self._ranged)

    def _ranged(self, least: int, most: int) -> None:
        """The keys come here where there is something to scroll."""
        longer = most > least
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if longer else Qt.FocusPolicy.NoFocus)

    def clear(self) -> None:
        """Say nothing."""
        clear(self.grid)

    def show_lines(self, lines: Sequence[tuple[str, str]]) -> None:
        """Say these: a verdict and a sentence each."""
        for i, (verdict, words) in enumerate(lines):
            self.grid.addWidget(Said(verdict, words), i % 3, i // 3)


STANDING_WORDS = {
    "misses": t("miss"),
    "lost": t("not there"),
    "unknown": t("unknown"),
    "asks": t("to confirm"),
    "advises": t("advise"),
    "meets": t("meet"),
}


def asks(brief: Brief) -> str:
    """A brief's first clause that tells what it is about and its limit on bytes, in a line."""
    telling = [clause for clause, _ in brief.limits() if REGISTRY[clause.measure or ""].tells]
    chosen = telling[:1]
    chosen += [clause for clause, _limit in list(brief.bounding(BYTES))[:1]]
    words = []
    for clause in chosen:
        said = clause_said(clause)
        words.append((said.partition(", ")[2] or said).removeprefix(t("exactly ")))
    return joined(words)


def lines_of_cell(cell: Cell, of_set: list[tuple[str, str]]) -> list[tuple[str, str]]:
    """What is said of a fitting below the board: verdict and sentence, at most six lines."""
    lines = [("unknown", cell.trouble)] if cell.trouble else list(cell.lines)
    lines += of_set
    if not lines:
        word = (
            t("The finished file meets every rule.")
            if cell.proved
            else t("As far as can be told before the file is made, it meets every rule.")
        )
        return [("meets", word)]
    if len(lines) > 6:
        return [*lines[:5], ("", t("and {n} more", n=len(lines) - 5))]
    return lines
