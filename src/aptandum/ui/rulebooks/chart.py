"""The shape chart: width across, height up; what a brief allows, and what each photo can give."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import (
    QColor,
    QFontMetricsF,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QWheelEvent,
)

from aptandum.core.brief.bundles import bundles
from aptandum.core.brief.registry import binds_of
from aptandum.core.figures import grouped
from aptandum.core.photo.limits import MOST_SIDE
from aptandum.core.sizes.binds import (
    LONGEST,
    SHORTEST,
)
from aptandum.core.sizes.cells import Cell
from aptandum.core.sizes.conflicts import contradiction
from aptandum.core.sizes.outline import outline
from aptandum.core.sizes.region import allowed
from aptandum.core.sizes.said import (
    contradiction_said,
    telling,
)
from aptandum.ui import theme
from aptandum.ui.rulebooks.chart_plane import ChartPlane, Mark, Size, marks
from aptandum.ui.signs import draw_sign
from aptandum.ui.strings import t


class Chart(ChartPlane):
    """Hover, or move the cross-hair with the arrow keys; the wheel or + and - zoom; Page Up and
    Page Down go from photo to photo, Enter or a click opens one on the bench."""

    # -- the view -----------------------------------------------------------------------------

    # -- reading out ----------------------------------------------------------------------------

    # -- hands ------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._held = (event.position(), QPointF(self._origin))
        self._moved = False

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = event.position()
        if self._held is not None and event.buttons() & Qt.MouseButton.LeftButton:
            off = at - self._held[0]
            if off.manhattanLength() > 4 or self._moved:
                self._moved, self._whole = True, False
                self._origin = QPointF(
                    max(0.0, self._held[1].x() - off.x() / self._scale),
                    max(0.0, self._held[1].y() + off.y() / self._scale),
                )
                self.update()
            return
        photo = self._near(at)
        inside = self._plot().contains(at)
        self.setCursor(Qt.CursorShape.PointingHandCursor if photo else Qt.CursorShape.CrossCursor)
        self.look_at(photo.size if photo else self.size_at(at) if inside else None, photo)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if not self._moved and event.button() == Qt.MouseButton.LeftButton:
            photo = self._near(event.position())
            if photo is not None:
                self.opened.emit(photo.photo_id)
        self._held = None

    def leaveEvent(self, event: object) -> None:
        if not self.hasFocus():
            self.look_at(None)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        self.zoom(1.0015 ** event.angleDelta().y(), event.position())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        key = event.key()
        step = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        ways = {
            Qt.Key.Key_Left: (-step, 0),
            Qt.Key.Key_Right: (step, 0),
            Qt.Key.Key_Up: (0, step),
            Qt.Key.Key_Down: (0, -step),
        }
        at = self.at or self._begin()
        middle = self.place(*at)
        if key in ways:
            w, h = ways[Qt.Key(key)]
            self.look_at((max(1, min(MOST_SIDE, at[0] + w)), max(1, min(MOST_SIDE, at[1] + h))))
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom(1.25, middle)
        elif key == Qt.Key.Key_Minus:
            self.zoom(0.8, middle)
        elif key == Qt.Key.Key_0:
            self.whole()
        elif key in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp) and self.photos:
            n = self.photos.index(self.photo) if self.photo in self.photos else -1
            n = (n + (1 if key == Qt.Key.Key_PageDown else -1)) % len(self.photos)
            self.look_at(self.photos[n].size, self.photos[n])
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.photo is not None:
            self.opened.emit(self.photo.photo_id)
        elif key == Qt.Key.Key_Escape:
            self.look_at(None)
        else:
            super().keyPressEvent(event)

    def _begin(self) -> Size:
        """Where the cross-hair starts: in the middle of what is seen."""
        return self.size_at(self._plot().center())

    # -- painting ---------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        plot = self._plot()
        painter.fillRect(self.rect(), theme.colour("panel"))
        painter.fillRect(plot, theme.colour("field"))
        self._axes(painter, plot)
        if self.brief is not None:
            painter.save()
            painter.setClipRect(plot.adjusted(-1, -1, 1, 1))
            self._areas(painter)
            self._limits(painter, plot)
            self._photos(painter)
            self._cross(painter, plot)
            painter.restore()
            self._banner(painter, plot)
        painter.setPen(QPen(theme.colour("blue" if self.hasFocus() else "hairline"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(plot)

    def _axes(self, painter: QPainter, plot: QRectF) -> None:
        painter.setFont(theme.figures(11))
        step = _step(64 / self._scale)
        for across in (True, False):
            first = self._origin.x() if across else self._origin.y()
            last = first + (plot.width() if across else plot.height()) / self._scale
            n = int(first // step)
            while n * step <= last:
                value = n * step
                n += 1
                at = self.place(value, value)
                spot = at.x() if across else at.y()
                inside = (
                    plot.left() <= spot <= plot.right()
                    if across
                    else (plot.top() <= spot <= plot.bottom())
                )
                if value < first or not inside:
                    continue
                painter.setPen(QPen(theme.colour("rail"), 1))
                painter.drawLine(
                    *(
                        (QPointF(spot, plot.top()), QPointF(spot, plot.bottom()))
                        if across
                        else (QPointF(plot.left(), spot), QPointF(plot.right(), spot))
                    )
                )
                painter.setPen(theme.colour("ink2"))
                text = grouped(int(value))
                if across:
                    box = QRectF(spot - 40, plot.bottom() + 4, 80, 16)
                    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
                elif value > 0:
                    box = QRectF(plot.left() - 56, spot - 8, 50, 16)
                    side = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
                    painter.drawText(box, side, text)
        painter.setFont(theme.tight(12))
        painter.setPen(theme.colour("ink2"))
        painter.drawText(
            QRectF(plot.left(), plot.bottom() + 20, plot.width(), 18),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            t("width in pixels →"),
        )
        painter.drawText(
            QRectF(8, 6, 160, 18), Qt.AlignmentFlag.AlignVCenter, t("↑ height in pixels")
        )

    def _areas(self, painter: QPainter) -> None:
        assert self.brief is not None
        plot = self._plot()
        most = max(
            self._origin.x() + plot.width() / self._scale,
            self._origin.y() + plot.height() / self._scale,
        )
        for bundle in bundles(self.brief):
            self._area(painter, telling(allowed(bundle.brief)), most, bundle.name)

    def _area(self, painter: QPainter, cells: tuple[Cell, ...], most: float, name: str) -> None:
        """The sizes of one way, with its name beside the largest of them."""
        spots: list[QPointF] = []
        for cell in cells:
            corners = outline(cell, min(float(MOST_SIDE), most * 1.02))
            if not corners:
                continue
            painter.setBrush(theme.colour("meets_band"))
            painter.setPen(QPen(theme.colour("meets"), 1.4))
            shape = QPolygonF([self.place(w, h) for w, h in corners])
            box = shape.boundingRect()
            spots.append(box.topRight())
            if box.width() < 5 and box.height() < 5:
                at = box.center()
                painter.setBrush(theme.colour("meets"))
                painter.drawRect(QRectF(at.x() - 4, at.y() - 4, 8, 8))
            elif cell.aspects or cell.turn == "square":
                painter.setPen(QPen(theme.colour("meets"), 4))
                ends = cell.rows.lo, min(float(cell.rows.hi), most)
                ratio = float(cell.fixed_shape or 1)
                wide = ratio if ratio >= 1 else 1 / ratio
                points = [(h * wide, h) for h in ends]
                if cell.turn == "upright":
                    points = [(h, w) for w, h in points]
                painter.drawLine(self.place(*points[0]), self.place(*points[1]))
            else:
                painter.drawPolygon(shape)
        if name and spots:
            spot = min(spots, key=lambda at: at.y() - at.x())
            painter.setPen(theme.colour("meets"))
            painter.setFont(theme.text(12, bold=True))
            words = t("way “{name}”", name=name)
            painter.drawText(
                self.beside(spot, painter.fontMetrics().horizontalAdvance(words)), words
            )

    def beside(self, spot: QPointF, width: int) -> QPointF:
        """Where words so wide begin, beside a spot: right of it, or left where the chart ends before
        they do."""
        left = spot.x() + 8
        if left + width > self._plot().right() - 2:
            left = max(self._plot().left() + 2, spot.x() - 8 - width)
        return QPointF(left, spot.y() - 5)

    def _limits(self, painter: QPainter, plot: QRectF) -> None:
        assert self.brief is not None
        blamed = set(contradiction(self.brief))
        taken: list[QRectF] = []
        for mark in sorted(marks(self.brief), key=lambda m: m.clause not in blamed):
            token = (
                "misses"
                if mark.clause in blamed
                else ("advises" if mark.clause.strength == "should" else "blue")
            )
            ink = theme.colour(token)
            pen = QPen(ink, 1.6 if mark.clause in blamed else 1)
            if mark.clause.strength == "should":
                pen.setStyle(Qt.PenStyle.DashLine)
            elif mark.kind == "shape":
                pen.setDashPattern([9, 3, 2, 3])
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            spot = self._draw_mark(painter, mark, plot)
            if spot is not None and mark.words:
                self._label(painter, mark, ink, spot, plot, taken)

    def _draw_mark(self, painter: QPainter, mark: Mark, plot: QRectF) -> QPointF | None:
        """Draw a limit's line; where its words go."""
        at = self.place(mark.value, mark.value)
        at = QPointF(round(at.x()) + 0.5, round(at.y()) + 0.5)  # hairlines on whole pixels
        only = set(mark.clause.applies)
        # A limit for one way up ends at the diagonal, where the other begins.
        turn = self.place(mark.value, mark.value)
        if mark.kind == "w":
            if not plot.left() <= at.x() <= plot.right():
                return None
            start, end = plot.bottom(), plot.top()
            longest = binds_of(mark.clause.measure) == LONGEST
            if longest or (only and "upright" not in only):
                end = max(plot.top(), turn.y())
            elif binds_of(mark.clause.measure) == SHORTEST or (only and "landscape" not in only):
                start = min(plot.bottom(), turn.y())
            painter.drawLine(QPointF(at.x(), start), QPointF(at.x(), end))
            return QPointF(at.x(), min(max(end, plot.top()), plot.bottom() - 16))
        if mark.kind == "h":
            if not plot.top() <= at.y() <= plot.bottom():
                return None
            start, end = plot.left(), plot.right()
            longest = binds_of(mark.clause.measure) == LONGEST
            if longest or (only and "landscape" not in only):
                end = min(plot.right(), turn.x())
            elif binds_of(mark.clause.measure) == SHORTEST or (only and "upright" not in only):
                start = max(plot.left(), turn.x())
            painter.drawLine(QPointF(start, at.y()), QPointF(end, at.y()))
            return QPointF(min(end, plot.right()), at.y())
        if mark.kind == "shape":
            far = min(
                MOST_SIDE,
                max(
                    self._origin.x() + plot.width() / self._scale,
                    (self._origin.y() + plot.height() / self._scale) * mark.value,
                ),
            )
            painter.drawLine(self.place(0, 0), self.place(far, far / mark.value))
            right = self._origin.x() + plot.width() / self._scale
            top = self._origin.y() + plot.height() / self._scale
            w = min(right * 0.96, top * 0.94 * mark.value)
            return self.place(w, w / mark.value)
        if mark.kind == "area":
            points = []
            for i in range(81):
                h = self._origin.y() + (plot.height() / self._scale) * (i + 0.5) / 81
                points.append(self.place(mark.value / h, h))
            painter.drawPolyline(QPolygonF(points))
            side = mark.value**0.5
            return self.place(side, side)
        spot = self.place(mark.value, mark.other)
        painter.drawLine(spot - QPointF(9, 0), spot + QPointF(9, 0))
        painter.drawLine(spot - QPointF(0, 9), spot + QPointF(0, 9))
        return spot if plot.contains(spot) else None

    def _label(
        self,
        painter: QPainter,
        mark: Mark,
        ink: QColor,
        spot: QPointF,
        plot: QRectF,
        taken: list[QRectF],
    ) -> None:
        font = theme.tight(12, bold=True)
        painter.setFont(font)
        wide = QFontMetricsF(font).horizontalAdvance(mark.words) + 10
        offsets = [(6, 4), (-wide - 6, 4), (6, -22), (-wide - 6, -22)]
        if mark.kind == "h":
            offsets = [(-wide - 4, -20), (-wide - 4, 3), (-wide - 90, -20), (-wide - 90, 3)]
        offsets += [(x, y + 20 * n) for n in (1, 2, 3, 4) for x, y in offsets[:2]]
        for x, y in offsets:
            box = QRectF(spot.x() + x, spot.y() + y, wide, 17)
            inside = plot.adjusted(2, 2, -2, -2).contains(box)
            if inside and not any(box.intersects(other) for other in taken):
                break
        else:
            return
        taken.append(box)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("field", 0.88))
        painter.drawRoundedRect(box, 3, 3)
        painter.setPen(ink)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, mark.words)

    def _photos(self, painter: QPainter) -> None:
        assert self.brief is not None
        few = len(self.photos) <= 60
        for photo in self.photos:
            spot = self.place(*photo.size)
            chosen = photo == self.photo
            can, best = self._gives(photo.size)
            ink = theme.colour("ink" if can else "misses")
            if best is not None and (few or chosen):
                cut = self.place(*best)
                pen = QPen(ink, 1.6 if chosen else 1)
                pen.setStyle(Qt.PenStyle.DotLine)
                painter.setPen(pen)
                painter.drawLine(spot, cut)
                painter.setPen(QPen(ink, 1.4))
                painter.setBrush(theme.colour("field"))
                painter.drawEllipse(cut, 3.5, 3.5)
            painter.setPen(QPen(theme.colour("field"), 1))
            painter.setBrush(ink)
            r = 6.0 if chosen else 4.5
            painter.drawEllipse(spot, r, r)
        if self.photo is not None:
            spot = self.place(*self.photo.size)
            font = theme.text(12, bold=True)
            painter.setFont(font)
            wide = QFontMetricsF(font).horizontalAdvance(self.photo.name) + 12
            left = min(spot.x() + 10, self._plot().right() - wide - 2)
            box = QRectF(max(self._plot().left() + 2, left), spot.y() - 26, wide, 19)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("blue_soft"))
            painter.drawRoundedRect(box, 3, 3)
            painter.setPen(theme.colour("ink"))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self.photo.name)

    def _cross(self, painter: QPainter, plot: QRectF) -> None:
        if self.at is None:
            return
        spot = self.place(*self.at)
        painter.setPen(QPen(theme.colour("ink2", 0.7), 1, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(spot.x(), plot.top()), QPointF(spot.x(), plot.bottom()))
        painter.drawLine(QPointF(plot.left(), spot.y()), QPointF(plot.right(), spot.y()))

    def _banner(self, painter: QPainter, plot: QRectF) -> None:
        """Contradictions are named on the chart itself."""
        assert self.brief is not None
        said = contradiction_said(self.brief)
        if not said:
            return
        painter.setFont(theme.text(13, bold=True))
        wide = min(plot.width() - 24, 460.0)
        flags = int(Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap)
        room = QRectF(0, 0, wide - 44, 400)
        high = painter.boundingRect(room, flags, said).height() + 18
        box = QRectF(plot.center().x() - wide / 2, plot.top() + 40, wide, high)
        painter.setPen(QPen(theme.colour("misses"), 1))
        painter.setBrush(theme.colour("misses_soft"))
        painter.drawRoundedRect(box, 4, 4)
        draw_sign(painter, "misses", QRectF(box.left() + 12, box.top() + 11, 14, 14))
        painter.setPen(theme.colour("misses"))
        painter.drawText(box.adjusted(36, 0, -8, 0), flags, said)


def _step(least: float) -> float:
    """A round number of pixels at least so large, for the axes."""
    step = 1.0
    while True:
        for factor in (1, 2, 5):
            if step * factor >= least:
                return step * factor
        step *= 10
