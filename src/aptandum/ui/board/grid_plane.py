"""What stands on the board's grid, and where."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping

from PyQt6.QtCore import QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QImage,
    QPixmap,
    QResizeEvent,
)
from PyQt6.QtWidgets import QAbstractScrollArea, QFrame

from aptandum.core.docket.standings import Cell
from aptandum.core.frozen import frozen
from aptandum.core.judge.findings import Finding
from aptandum.core.photo.facts import Facts
from aptandum.ui.strings import t

HEAD, ROW, SIDE, COL = 70, 104, 232, 170
"""Pixels: height of the heads and of a row, width of the photos' names and of a column."""


_HELD = 600
"""Small pictures that are held in memory."""


_DRAWN = 400
"""Cells that are held as they were drawn."""


_SMALL = 1500
"""Parts of them that are held at the size they are drawn."""


Spot = tuple[int, int]
"""Row and column; column -1 is the photo itself."""


@frozen
class Column:
    """A brief across the board: title, body, and its sizes in a line."""

    name: str
    title: str
    body: str
    asks: str


@frozen
class RowOf:
    """A photo down the board."""

    photo: str
    path: str
    turn: int


def words_of(cell: Cell) -> str:
    """A standing in one or two words."""
    if not cell.looked:
        return t("looking …")
    if cell.proved and cell.standing in ("meets", "advises"):
        return t("ready")
    return {
        "misses": t("misses {n}", n=cell.count),
        "lost": t("not there"),
        "unknown": t("{n} unknown", n=cell.count),
        "asks": t("confirm {n}", n=cell.count),
        "advises": t("advice {n}", n=cell.count),
        "meets": t("would meet"),
    }[cell.standing]


class GridPlane(QAbstractScrollArea):
    """Rows, columns and cells, the part in view, and the spot that is chosen."""

    moved = pyqtSignal()

    opened = pyqtSignal(int, int)

    start_asked = pyqtSignal()

    clear_asked = pyqtSignal()

    looked = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        for one in (self, self.viewport()):  # its rows and columns stay where they are
            one.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # type: ignore[union-attr]
        self.rows: list[RowOf] = []
        self.columns: list[Column] = []
        self.at: dict[tuple[str, str], str] = {}
        self.cells: dict[str, Cell] = {}
        self.sets: dict[str, tuple[Finding, ...]] = {}
        self.facts: Mapping[tuple[str, int], Facts] = {}
        self.spot: Spot = (0, 0)
        self.chosen: set[Spot] = set()
        self._anchor: Spot = (0, 0)
        self.pictures: OrderedDict[tuple[str, int], QPixmap] = OrderedDict()
        self.dropped: list[tuple[str, int]] = []
        self._cells_drawn: OrderedDict[object, tuple[tuple[object, ...], QPixmap]] = OrderedDict()
        self._heads: dict[object, QPixmap] = {}
        self._small: OrderedDict[object, QPixmap] = OrderedDict()
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(t("Board: photos down, briefs across"))
        for bar in (self.verticalScrollBar(), self.horizontalScrollBar()):
            assert bar is not None
            bar.valueChanged.connect(self.looked)

    def sizeHint(self) -> QSize:
        return QSize(1280, 560)

    def lay(self, rows: list[RowOf], columns: list[Column], at: dict[tuple[str, str], str]) -> None:
        """Lay photos, briefs, and which fitting lies where; what is chosen stays, where it is
        still there."""
        spot_was = self._named(self.spot)
        chosen_were = {self._named(spot) for spot in self.chosen}
        self.rows, self.columns, self.at = rows, columns, at
        down = {row.photo: r for r, row in enumerate(rows)}
        across = {column.name: c for c, column in enumerate(columns)}

        def place(named: tuple[str, str] | None) -> Spot | None:
            if named is None or named[0] not in down or named[1] not in across:
                return None
            return down[named[0]], across[named[1]]

        self.spot = place(spot_was) or (
            min(self.spot[0], max(0, len(rows) - 1)),
            min(self.spot[1], max(0, len(columns) - 1)),
        )
        self.chosen = {spot for spot in map(place, chosen_were) if spot is not None}
        self._bars()
        self.viewport().update()  # type: ignore[union-attr]

    def _named(self, spot: Spot) -> tuple[str, str] | None:
        r, c = spot
        if r < len(self.rows) and 0 <= c < len(self.columns):
            return self.rows[r].photo, self.columns[c].name
        return None

    def take_pictures(self, made: list[tuple[tuple[str, int], QImage]]) -> None:
        """Take in small pictures that were made elsewhere."""
        for seen, image in made:
            if seen in self.pictures:  # the photo has changed: its parts are made anew
                for key in [k for k in self._small if k[:2] == seen]:  # type: ignore[index]
                    del self._small[key]
            self.pictures[seen] = QPixmap.fromImage(image)
            self.pictures.move_to_end(seen)
        while len(self.pictures) > _HELD:
            self.dropped.append(self.pictures.popitem(last=False)[0])
        self.viewport().update()  # type: ignore[union-attr]

    def cells_came(self, cells: list[Cell]) -> None:
        """Draw again where one of these is in view."""
        came = {cell.fitting for cell in cells}
        rows = (self.rows[r].photo for r in self.seen_rows())
        if any(self.at.get((photo, c.name)) in came for photo in rows for c in self.columns):
            self.viewport().update()  # type: ignore[union-attr]

    def _framed(
        self, row: RowOf, picture: QPixmap, frame: tuple[float, float, float, float], box: QRectF
    ) -> QPixmap:
        """The kept part of a small picture at the size it is drawn, made once."""
        ratio = self.devicePixelRatioF()
        wide, high = max(1, round(box.width() * ratio)), max(1, round(box.height() * ratio))
        key = (row.path, row.turn, frame, wide, high)
        made = self._small.get(key)
        if made is None:
            left, top, across, up = frame
            w, h = picture.width(), picture.height()
            part = QRect(
                round(left * w), round(top * h), max(1, round(across * w)), max(1, round(up * h))
            )
            made = picture.copy(part).scaled(
                wide,
                high,
                Qt.AspectRatioMode.IgnoreAspectRatio,
                Qt.TransformationMode.SmoothTransformation,
            )
            made.setDevicePixelRatio(ratio)
            self._small[key] = made
            while len(self._small) > _SMALL:
                self._small.popitem(last=False)
        return made

    def fitting_at(self, spot: Spot) -> str | None:
        """The fitting of a cell, or ``None``."""
        named = self._named(spot)
        return self.at.get(named) if named is not None else None

    def selection(self) -> list[Spot]:
        """The chosen cells in reading order; where none is, the one that the keys are at."""
        return sorted(self.chosen) if self.chosen else [self.spot]

    def seen_rows(self) -> range:
        """The rows in view, and how far they reach."""
        top = self._y()
        first = max(0, top // ROW)
        last = min(len(self.rows), (top + self.viewport().height() - HEAD) // ROW + 1)  # type: ignore[union-attr]
        return range(first, max(first, last))

    def _y(self) -> int:
        bar = self.verticalScrollBar()
        return bar.value() if bar is not None else 0

    def _x(self) -> int:
        bar = self.horizontalScrollBar()
        return bar.value() if bar is not None else 0

    def _bars(self) -> None:
        port, up, across = self.viewport(), self.verticalScrollBar(), self.horizontalScrollBar()
        assert port is not None and up is not None and across is not None
        high, wide = port.height() - HEAD, port.width() - SIDE
        up.setRange(0, max(0, len(self.rows) * ROW - high))
        up.setPageStep(max(ROW, high))
        up.setSingleStep(ROW // 2)
        across.setRange(0, max(0, len(self.columns) * COL - wide))
        across.setPageStep(max(COL, wide))
        across.setSingleStep(COL // 2)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._bars()
        self.looked.emit()

    def cell_rect(self, spot: Spot) -> QRect:
        """Where a cell lies in the view."""
        r, c = spot
        return QRect(SIDE + c * COL - self._x(), HEAD + r * ROW - self._y(), COL, ROW)

    def show_spot(self) -> None:
        """Scroll so that the cell the keys are at is seen whole."""
        port, up, across = self.viewport(), self.verticalScrollBar(), self.horizontalScrollBar()
        assert port is not None and up is not None and across is not None
        box = self.cell_rect(self.spot)
        if box.top() < HEAD:
            up.setValue(up.value() - (HEAD - box.top()))
        elif box.bottom() > port.height():
            up.setValue(up.value() + box.bottom() - port.height() + 1)
        if box.left() < SIDE:
            across.setValue(across.value() - (SIDE - box.left()))
        elif box.right() > port.width():
            across.setValue(across.value() + box.right() - port.width() + 1)
