"""The budget curve: bytes against quality, the limits as bands, likeness beside it."""

from __future__ import annotations

from math import log

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from aptandum.core.figures import show_bytes, show_number
from aptandum.core.file.curve import Curve, Point
from aptandum.ui import theme
from aptandum.ui.strings import t

_LEFT, _RIGHT, _TOP, _HIGH, _GAP, _LOW = 46, 8, 8, 106, 22, 44
"""Room for the figures at the left; heights of the curve, of the axis, and of the likeness."""


class BudgetCurve(QWidget):
    """A press on it chooses the quality (or the colours) there."""

    chosen = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # as it is for everyone
        self.curve: Curve | None = None
        self.at_least: int | None = None
        self.at_most: int | None = None
        self.now: int | None = None
        self.size_now = 0
        self.under: Point | None = None
        self.setMouseTracking(True)
        self.setFixedHeight(_TOP + _HIGH + _GAP + _LOW + 4)
        self.setCursor(Qt.CursorShape.CrossCursor)

    def sizeHint(self) -> QSize:
        return QSize(248, self.height())

    def take(
        self,
        curve: Curve | None,
        at_least: int | None,
        at_most: int | None,
        now: int | None,
        size_now: int,
    ) -> None:
        """Show a curve, given as its points."""
        key = (curve, at_least, at_most, now, size_now)
        if key == (self.curve, self.at_least, self.at_most, self.now, self.size_now):
            return
        self.curve, self.at_least, self.at_most, self.now, self.size_now = key
        self.under = None
        self.setAccessibleName(self.says())
        self.setToolTip(
            t("Press to choose a quality; empty the quality field to leave it to the limits again")
        )
        self.update()

    def says(self) -> str:
        """The chosen point, or the one under the pointer, in words."""
        if self.curve is None or not self.curve.points:
            return t("The curve is being measured …")
        point = self.under or self._chosen()
        if point is None:
            return t("Bytes against quality")
        what = t("q {n}", n=point.at)
        if self.curve.of == "colours":
            what = t("{n} colours", n=point.at)
        about = "≈ " if self.curve.estimated and point.at != self.now else ""
        like = show_number(point.likeness, 3) if point.likeness is not None else "–"
        return t(
            "{what} · {about}{bytes} · likeness {like}",
            what=what,
            about=about,
            bytes=show_bytes(point.size),
            like=like,
        )

    def _chosen(self) -> Point | None:
        if self.curve is None or self.now is None:
            return None
        return next((p for p in self.curve.points if p.at == self.now), None)

    # -- where things lie ------------------------------------------------------------------

    def _x(self, at: float) -> float:
        """Qualities near 100 lie wide apart, where most of the bytes are; colours double."""
        if self.curve is not None and self.curve.of == "colours":
            share = (log(at) - log(2)) / (log(256) - log(2))
        else:
            share = 1 - (1 - (at - 1) / 99) ** 0.55
        return _LEFT + share * (self.width() - _LEFT - _RIGHT)

    def _top_bytes(self) -> float:
        assert self.curve is not None
        most = max(p.size for p in self.curve.points)
        asked = [v for v in (self.at_most, self.at_least, self.size_now) if v]
        return min(float(most), 2.2 * max(asked)) if asked else float(most)

    def _y(self, size: float) -> float:
        return _TOP + _HIGH - min(1.0, size / self._top_bytes()) * _HIGH

    # -- drawing -----------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(_LEFT, _TOP, self.width() - _LEFT - _RIGHT, _HIGH)
        painter.fillRect(box, theme.colour("field"))
        if self.curve is None or not self.curve.points:
            painter.setPen(theme.colour("ink2"))
            painter.setFont(theme.tight(12))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self.says())
            return
        self._draw_limits(painter, box)
        self._draw_line(painter, box)
        self._draw_likeness(painter, box)
        self._draw_points(painter, box)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.colour("hairline"), 1))
        painter.drawRect(box)

    def _draw_limits(self, painter: QPainter, box: QRectF) -> None:
        low = self._y(self.at_least or 0)
        high = self._y(self.at_most) if self.at_most is not None else box.top()
        painter.fillRect(
            QRectF(box.left(), high, box.width(), low - high), theme.colour("meets_band", 0.6)
        )
        painter.setFont(theme.figures(10))
        written = -99.0
        for limit in (self.at_most, self.at_least):
            if limit is None or limit > self._top_bytes():
                continue
            y = self._y(limit)
            painter.setPen(QPen(theme.colour("meets"), 1))
            painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
            if abs(y - written) < 12:
                continue
            written = y
            painter.setPen(theme.colour("ink2"))
            room = QRectF(0, y - 8, _LEFT - 4, 16)
            painter.drawText(
                room, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, _short(limit)
            )
        if self.at_most is None and self.at_least is None:
            painter.setPen(theme.colour("ink2"))
            painter.drawText(
                QRectF(0, box.top() - 2, _LEFT - 4, 16),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                _short(round(self._top_bytes())),
            )

    def _draw_line(self, painter: QPainter, box: QRectF) -> None:
        assert self.curve is not None
        painter.save()
        painter.setClipRect(box.adjusted(0, -1, 0, 1))
        top = self._top_bytes()
        line = QPolygonF(
            [QPointF(self._x(p.at), _TOP + _HIGH - p.size / top * _HIGH) for p in self.curve.points]
        )
        painter.setPen(QPen(theme.colour("ink"), 1.6))
        painter.drawPolyline(line)
        painter.restore()
        painter.setFont(theme.figures(10))
        painter.setPen(theme.colour("ink2"))
        marks = (4, 16, 64, 256) if self.curve.of == "colours" else (10, 50, 75, 90, 100)
        for at in marks:
            x = self._x(at)
            painter.drawLine(QPointF(x, box.bottom()), QPointF(x, box.bottom() + 3))
            room = QRectF(x - 16, box.bottom() + 3, 32, 13)
            room.moveRight(min(room.right(), float(self.width())))
            painter.drawText(room, Qt.AlignmentFlag.AlignCenter, str(at))

    def _draw_points(self, painter: QPainter, box: QRectF) -> None:
        for point, token in ((self._chosen(), "blue"), (self.under, "ink2")):
            if point is None:
                continue
            x, y = self._x(point.at), self._y(point.size)
            painter.setPen(QPen(theme.colour(token), 1, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom() + _GAP + _LOW))
            painter.setPen(QPen(theme.colour("field"), 1.5))
            painter.setBrush(theme.colour(token))
            painter.drawEllipse(QPointF(x, y), 4.5, 4.5)

    def _draw_likeness(self, painter: QPainter, box: QRectF) -> None:
        assert self.curve is not None
        below = QRectF(box.left(), box.bottom() + _GAP, box.width(), _LOW)
        likes = [(p.at, p.likeness) for p in self.curve.points if p.likeness is not None]
        low = min(0.9, min((like for _, like in likes), default=0.9))
        painter.fillRect(below, theme.colour("field"))
        painter.setPen(QPen(theme.colour("ink2"), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(
            QPolygonF(
                [
                    QPointF(self._x(at), below.bottom() - (like - low) / (1 - low) * below.height())
                    for at, like in likes
                ]
            )
        )
        painter.setFont(theme.figures(10))
        for value, y in ((1.0, below.top() + 6), (low, below.bottom() - 6)):
            painter.drawText(
                QRectF(0, y - 8, _LEFT - 4, 16),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                show_number(value, 2),
            )
        painter.setFont(theme.tight(11))
        painter.drawText(
            below.adjusted(0, 0, -5, -3),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom,
            t("likeness"),
        )
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.colour("hairline"), 1))
        painter.drawRect(below)

    # -- pointing ------------------------------------------------------------------------------

    def _at(self, x: float) -> Point | None:
        if self.curve is None or not self.curve.points:
            return None
        return min(self.curve.points, key=lambda p: abs(self._x(p.at) - x))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.under = self._at(event.position().x())
        self.setToolTip(self.says())
        self.update()

    def leaveEvent(self, event: object) -> None:
        self.under = None
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        point = self._at(event.position().x())
        if point is not None:
            self.chosen.emit(point.at)


def _short(size: int) -> str:
    """Bytes in four letters' room: ``250 k``, ``1.2 M``."""
    if size >= 1_000_000:
        return f"{show_number(size / 1_000_000, 1)} M"
    return f"{round(size / 1000)} k" if size >= 1000 else str(size)
