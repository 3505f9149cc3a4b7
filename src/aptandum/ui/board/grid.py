"""The grid of a board: painted as far as it is seen, moved through by keys, several chosen at once."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from PyQt6.QtCore import QPoint, QRect, QRectF, Qt
from PyQt6.QtGui import (
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
)

from aptandum.core.docket.standings import Cell
from aptandum.core.figures import grouped
from aptandum.core.judge.findings import Finding
from aptandum.core.photo.facts import shown_name
from aptandum.core.photo.profile import SPACE_NAMES
from aptandum.ui import theme
from aptandum.ui.board.grid_plane import (
    _DRAWN,
    COL,
    HEAD,
    ROW,
    SIDE,
    Column,
    GridPlane,
    RowOf,
    Spot,
    words_of,
)
from aptandum.ui.board.sets import set_words, worst_of
from aptandum.ui.signs import draw_sign
from aptandum.ui.spoken_parts import Part, SpokenParts
from aptandum.ui.strings import t

"""Heights of the head and of a row; widths of the photos' column and of a brief's."""


WRAPPED = int(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap)
"""How a standing is written beneath its sign: in two lines where one is too short, as in German."""
BENEATH = COL - 108
"""Pixels there are for it across."""


class Grid(GridPlane):
    """The board's cells, scrolled, chosen and walked through by mouse and keys."""

    def __init__(self) -> None:
        super().__init__()
        port = self.viewport()
        assert port is not None
        self.spoken = SpokenParts(port, self.parts)

    # -- drawing -------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        port = self.viewport()
        assert port is not None
        self.spoken.later()
        painter = QPainter(port)
        painter.setLayoutDirection(Qt.LayoutDirection.LeftToRight)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(port.rect(), theme.colour("window"))
        body = QRect(SIDE, HEAD, port.width() - SIDE, port.height() - HEAD)
        painter.save()
        painter.setClipRect(body)
        first = max(0, self._x() // COL)
        last = min(len(self.columns), (self._x() + body.width()) // COL + 1)
        for r in self.seen_rows():
            for c in range(first, last):
                self._cell(painter, (r, c))
        painter.restore()
        painter.save()
        painter.setClipRect(QRect(0, HEAD, SIDE, body.height()))
        for r in self.seen_rows():
            self._photo(painter, r)
        painter.restore()
        painter.fillRect(QRect(0, 0, port.width(), HEAD), theme.colour("panel"))
        painter.save()
        painter.setClipRect(QRect(SIDE, 0, body.width(), HEAD))
        for c in range(first, last):
            self._head(painter, c)
        painter.restore()
        painter.setPen(QPen(theme.colour("hairline"), 1))
        painter.drawLine(0, HEAD - 1, port.width(), HEAD - 1)
        painter.drawLine(SIDE - 1, 0, SIDE - 1, port.height())

    def _head(self, painter: QPainter, c: int) -> None:
        column, ratio = self.columns[c], self.devicePixelRatioF()
        of_set = self.sets.get(column.name, ())
        key = (column, of_set, theme.palette(), ratio)
        if key not in self._heads:
            if len(self._heads) > 100:
                self._heads.clear()
            made = QPixmap(round(COL * ratio), round(HEAD * ratio))
            made.setDevicePixelRatio(ratio)
            made.fill(theme.colour("panel"))
            inner = QPainter(made)
            inner.setLayoutDirection(Qt.LayoutDirection.LeftToRight)
            self._draw_head(inner, column, of_set)
            inner.end()
            self._heads[key] = made
        painter.drawPixmap(SIDE + c * COL - self._x(), 0, self._heads[key])

    def _draw_head(
        self, painter: QPainter, column: Column, of_set: tuple[Finding, ...] = ()
    ) -> None:
        left = 0
        room = COL - 18
        worst = worst_of(of_set)
        asks = column.asks if worst is None else set_words(of_set)
        for y, font, token, words in (
            (10, theme.text(13, bold=True), "ink", column.title),
            (29, theme.tight(12), "ink2", column.body),
            (47, theme.tight(12), "ink2" if worst in (None, "meets") else "misses", asks),
        ):
            painter.setFont(font)
            painter.setPen(theme.colour(token))
            shown = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, room)
            painter.drawText(QRectF(left + 10, y, room, 18), Qt.AlignmentFlag.AlignVCenter, shown)
        painter.setPen(QPen(theme.colour("hairline"), 1))
        painter.drawLine(left + COL - 1, 0, left + COL - 1, HEAD)

    def _photo(self, painter: QPainter, r: int) -> None:
        row = self.rows[r]
        box = QRect(0, HEAD + r * ROW - self._y(), SIDE, ROW)
        if self.spot[0] == r:
            painter.fillRect(box, theme.colour("panel"))
        painter.setPen(QPen(theme.colour("hairline"), 1))
        painter.drawLine(box.left(), box.bottom(), box.right(), box.bottom())
        picture = self.pictures.get((row.path, row.turn))
        if picture is not None and not picture.isNull():
            room = QRectF(14, box.top() + 13, 96, 78)
            size = picture.size()
            scale = min(room.width() / size.width(), room.height() / size.height())
            inner = QRectF(0, 0, size.width() * scale, size.height() * scale)
            inner.moveCenter(room.center())
            whole = self._framed(row, picture, (0.0, 0.0, 1.0, 1.0), inner)
            painter.drawPixmap(inner.topLeft(), whole)
        else:
            painter.fillRect(QRect(14, box.top() + 13, 96, 78), theme.colour("rail"))
        facts = self.facts.get((row.path, row.turn))
        name = shown_name(row.path)
        stem = name.rsplit(".", 1)[0] if "." in name.strip(".") else name
        lines = [(theme.tight(13, bold=True), "ink", stem)]
        if facts is not None and facts.error is None:
            wide, high = facts.size
            space = SPACE_NAMES.get(facts.colour_space or "untagged", "")
            deep = t(", {n} bit", n=facts.bits) if (facts.bits or 8) != 8 else ""
            lines += [
                (theme.figures(11), "ink2", (facts.format or "").upper()),
                (theme.figures(11), "ink2", f"{grouped(wide)} × {grouped(high)}"),
                (theme.tight(12), "ink2", space + deep),
            ]
        elif facts is not None:
            lines.append((theme.tight(12), "misses", t("cannot be read")))
        for i, (font, token, words) in enumerate(lines):
            painter.setFont(font)
            painter.setPen(theme.colour(token))
            shown = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideMiddle, 108)
            painter.drawText(
                QRectF(118, box.top() + 16 + 18 * i, 112, 17), Qt.AlignmentFlag.AlignVCenter, shown
            )

    def _cell(self, painter: QPainter, spot: Spot) -> None:
        box = self.cell_rect(spot)
        painter.drawPixmap(box.topLeft(), self._drawn_cell(spot))
        if spot == self.spot and self.hasFocus():
            painter.setPen(QPen(theme.colour("blue"), 2))
            painter.drawRect(box.adjusted(1, 1, -2, -2))

    def _drawn_cell(self, spot: Spot) -> QPixmap:
        """A cell as it is drawn, made once for what it shows."""
        fitting = self.fitting_at(spot)
        row = self.rows[spot[0]]
        cell = self.cells.get(fitting) if fitting is not None else None
        picture = self.pictures.get((row.path, row.turn)) if fitting is not None else None
        on = spot in self.chosen or spot == self.spot
        # Those that wait to be judged all look alike.
        shown = fitting if cell is not None else fitting is not None
        key = (shown, on)
        now = (
            cell,
            picture if cell is not None else None,
            theme.palette(),
            self.devicePixelRatioF(),
        )
        held = self._cells_drawn.get(key)
        if held is not None and all(a is b or a == b for a, b in zip(held[0], now, strict=True)):
            self._cells_drawn.move_to_end(key)
            return held[1]
        ratio = now[3]
        made = QPixmap(round(COL * ratio), round(ROW * ratio))
        made.setDevicePixelRatio(ratio)
        made.fill(theme.colour("blue_soft" if on else "window"))
        painter = QPainter(made)
        painter.setLayoutDirection(Qt.LayoutDirection.LeftToRight)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        box = QRect(0, 0, COL, ROW)
        painter.setPen(QPen(theme.colour("hairline"), 1))
        painter.drawLine(box.left(), box.bottom(), box.right(), box.bottom())
        painter.drawLine(box.right(), box.top(), box.right(), box.bottom())
        if fitting is None:
            painter.setPen(theme.colour("idle"))
            painter.setFont(theme.text(16))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "+")
        else:
            self._fitting(painter, box, spot, cell)
        painter.end()
        self._cells_drawn[key] = now, made
        while len(self._cells_drawn) > _DRAWN:
            self._cells_drawn.popitem(last=False)
        return made

    def _fitting(self, painter: QPainter, box: QRect, spot: Spot, cell: Cell | None) -> None:
        row = self.rows[spot[0]]
        if cell is None:
            painter.setPen(theme.colour("ink2"))
            painter.setFont(theme.tight(12))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "…")
            return
        room = QRectF(box.left() + 8, box.top() + 10, 96, ROW - 20)
        wide, high = cell.output
        scale = min(room.width() / wide, room.height() / high)
        frame = QRectF(0, 0, max(2.0, wide * scale), max(2.0, high * scale))
        frame.moveCenter(room.center())
        picture = self.pictures.get((row.path, row.turn))
        painter.fillRect(frame, theme.colour("rail"))
        if picture is not None and not picture.isNull():
            inside = self._framed(row, picture, cell.frame, frame)
            painter.drawPixmap(frame.topLeft(), inside)
        painter.setPen(QPen(theme.colour("ink2"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(frame)
        side = QRectF(box.left() + 106, box.top(), BENEATH, ROW)
        verdict = "unknown" if cell.standing == "lost" else cell.standing
        if not cell.looked:
            verdict = "unknown"
        draw_sign(painter, verdict, QRectF(side.center().x() - 9, side.top() + 30, 18, 18))
        painter.setFont(theme.tight(12, bold=cell.proved))
        painter.setPen(theme.colour(verdict))
        beneath = QRectF(side.left(), side.top() + 57, side.width(), side.height() - 60)
        painter.drawText(beneath, WRAPPED, words_of(cell))

    # -- choosing ------------------------------------------------------------------------------

    def spot_of(self, at: QPoint) -> Spot | None:
        """The cell at a point of the view, or ``None``."""
        if at.y() < HEAD:
            return None
        r = (at.y() - HEAD + self._y()) // ROW
        if r >= len(self.rows):
            return None
        if at.x() < SIDE:
            return r, -1
        c = (at.x() - SIDE + self._x()) // COL
        return (r, c) if c < len(self.columns) else None

    def go(self, spot: Spot, extend: bool = False, toggle: bool = False) -> None:
        """Take the keys to a cell; ``extend`` chooses all between it and where it began."""
        if not self.rows or not self.columns:
            return
        r = min(max(spot[0], 0), len(self.rows) - 1)
        c = min(max(spot[1], 0), len(self.columns) - 1)
        if toggle:
            if not self.chosen:
                self.chosen = {self.spot}
            self.chosen ^= {(r, c)}
            self._anchor = (r, c)
        elif extend:
            a, b = self._anchor
            self.chosen = {
                (y, x)
                for y in range(min(a, r), max(a, r) + 1)
                for x in range(min(b, c), max(b, c) + 1)
            }
        else:
            self.chosen = set()
            self._anchor = (r, c)
        self.spot = (r, c)
        self.show_spot()
        self.viewport().update()  # type: ignore[union-attr]
        self.speak()
        self.moved.emit()

    def keep(self, cell: Cell) -> None:
        """Hold what a fitting was found to be."""
        self.cells[cell.fitting] = cell
        if cell.fitting == self.fitting_at(self.spot):
            self.speak()

    def parts(self) -> Iterator[Part]:
        """The cells in view, as screen readers find them."""
        port = self.viewport()
        assert port is not None
        for r in self.seen_rows():
            for c, column in enumerate(self.columns):
                box = self.cell_rect((r, c))
                if box.intersects(port.rect()):
                    name = self._said((r, c), self.rows[r], column)
                    act = partial(self.opened.emit, r, c)
                    yield Part(name, box, act, (r, c) in self.chosen)

    def _said(self, spot: Spot, row: RowOf, column: Column) -> str:
        where = t("{brief} × {photo}", brief=column.title, photo=shown_name(row.path))
        fitting = self.fitting_at(spot)
        cell = self.cells.get(fitting) if fitting is not None else None
        if fitting is None:
            how = t("No fitting yet. + or Return starts one.")
        else:
            how = words_of(cell) if cell is not None else t("looking …")
        return t("{name}: {value}", name=where, value=how)

    def speak(self) -> None:
        """Tell screen readers of the cell where the keys are."""
        if not self.rows or not self.columns:
            self.setAccessibleDescription("")
            return
        row, column = self.rows[self.spot[0]], self.columns[self.spot[1]]
        self.setAccessibleDescription(self._said(self.spot, row, column))

    def choose_all(self) -> None:
        """Every fitting there is in the rows that are shown."""
        self.chosen = {
            (r, c)
            for r, row in enumerate(self.rows)
            for c, column in enumerate(self.columns)
            if (row.photo, column.name) in self.at
        }
        self.viewport().update()  # type: ignore[union-attr]
        self.moved.emit()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        spot = self.spot_of(event.position().toPoint())
        if spot is None:
            return
        if event.button() == Qt.MouseButton.RightButton and spot in self.chosen:
            return  # what is asked for is meant for all that are chosen
        held = event.modifiers()
        if spot[1] < 0:  # the photo: its whole row
            self._anchor = (spot[0], 0)
            self.go((spot[0], len(self.columns) - 1), extend=True)
            return
        self.go(
            spot,
            bool(held & Qt.KeyboardModifier.ShiftModifier),
            bool(held & Qt.KeyboardModifier.ControlModifier),
        )
        box = self.cell_rect(spot)
        plus = abs(event.position().x() - box.center().x()) < 20 and self.fitting_at(spot) is None
        if plus and not held:
            self.start_asked.emit()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        spot = self.spot_of(event.position().toPoint())
        if spot is not None and spot[1] >= 0 and self.fitting_at(spot) is not None:
            self.go(spot)
            self.opened.emit(*spot)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        r, c = self.spot
        port = self.viewport()
        page = max(1, (port.height() - HEAD) // ROW - 1) if port is not None else 1
        steps = {
            Qt.Key.Key_Left: (0, -1),
            Qt.Key.Key_Right: (0, 1),
            Qt.Key.Key_Up: (-1, 0),
            Qt.Key.Key_Down: (1, 0),
            Qt.Key.Key_PageUp: (-page, 0),
            Qt.Key.Key_PageDown: (page, 0),
            Qt.Key.Key_Home: (0, -10_000),
            Qt.Key.Key_End: (0, 10_000),
        }
        held = event.modifiers()
        step = steps.get(Qt.Key(event.key()))
        if step is not None:
            if held & Qt.KeyboardModifier.ControlModifier and step[1]:
                step = (-100_000 if step[1] < 0 else 100_000, 0)
            self.go((r + step[0], c + step[1]), bool(held & Qt.KeyboardModifier.ShiftModifier))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if self.fitting_at(self.spot) is not None:
                self.opened.emit(r, c)
            else:
                self.start_asked.emit()
        elif event.text() == "+":
            self.start_asked.emit()
        elif event.key() == Qt.Key.Key_Delete:
            self.clear_asked.emit()
        elif event.key() == Qt.Key.Key_Space:
            self.go(self.spot, toggle=True)
        elif event.key() == Qt.Key.Key_A and held & Qt.KeyboardModifier.ControlModifier:
            self.choose_all()
        else:
            super().keyPressEvent(event)
