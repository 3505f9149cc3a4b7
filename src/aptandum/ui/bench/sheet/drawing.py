"""Drawing on the sheet: the picture, its frame, the dimensions of both, and what the brief asks."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import (
    QColor,
    QImage,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QPolygonF,
)

from aptandum.core.fitting.plan import Window
from aptandum.ui import theme
from aptandum.ui.bench.marks import draw as draw_marks
from aptandum.ui.bench.overlays import dots_at
from aptandum.ui.bench.sheet.annotations import Annotations
from aptandum.ui.bench.views import DOTS, FITTED, SIDES, SUPPLIED
from aptandum.ui.images import to_image
from aptandum.ui.strings import t


class Drawing(Annotations):
    """Draws the sheet: ground, photo, frame, zones and marks."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        ground = QColor(theme.SURROUNDS[self.ground])
        bench = self.session.bench
        if bench is None or self._base is None:
            painter.fillRect(self.rect(), ground)
            if bench is not None:
                self._note(painter, bench.trouble or t("Reading {file} …", file=bench.photo.name))
            return
        painter.drawPixmap(0, 0, self._background(ground))
        if bench.detail is not None and self.effective == SUPPLIED:
            self._draw_detail(painter, *bench.detail)
        if self.effective == FITTED:
            self._draw_fitted(painter, ground)
        elif self.effective == SIDES:
            self._draw_sides(painter)
        elif self.effective == DOTS:
            self._draw_dots(painter, ground)
        else:
            self._draw_supplied(painter)
        self._draw_dropper(painter)
        painter.end()

    def _background(self, ground: QColor) -> QPixmap:
        """The photo on its ground, painted once for each view and kept."""
        spot = (self.scale, self.offset.x(), self.offset.y(), self.size(), ground.name())
        angle = self._angle()
        key = (*spot, angle, self.devicePixelRatioF(), id(self._base_of))
        if self._view is not None and self._view_key == key:
            return self._view
        ratio = self.devicePixelRatioF()
        view = QPixmap(round(self.width() * ratio), round(self.height() * ratio))
        view.setDevicePixelRatio(ratio)
        view.fill(ground)
        painter = QPainter(view)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, self.scale < 4)
        pw, ph = self._photo_size()
        whole = QRectF(
            self.offset,
            QPointF(self.offset.x() + pw * self.scale, self.offset.y() + ph * self.scale),
        )
        assert self._base is not None
        if angle:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.translate(whole.center())
            painter.rotate(angle)
            painter.translate(-whole.center())
        if self._base.hasAlphaChannel():
            self._draw_clear(painter, whole)
        image = self._base
        wide = whole.width() * ratio
        if wide < image.width() * 0.6:
            small = QSize(max(1, round(wide)), max(1, round(whole.height() * ratio)))
            image = image.scaled(
                small,
                Qt.AspectRatioMode.IgnoreAspectRatio,
                Qt.TransformationMode.SmoothTransformation,
            )
        painter.drawImage(whole, image)
        painter.end()
        self._view, self._view_key = view, key
        return view

    def _draw_clear(self, painter: QPainter, box: QRectF) -> None:
        """The pattern under transparent parts: fine diagonal hatching, about as light as what is
        round the picture."""
        painter.save()
        tone = QColor(theme.SURROUNDS[self.ground]).lightness()
        plain, line = ("#E4E4E2", "#C4C5C4") if tone > 150 else ("#8A8B8A", "#7A7B7A")
        if tone < 100:
            plain, line = ("#2A2B2B", "#3C3D3D")
        painter.fillRect(box, QColor(plain))
        painter.setPen(QPen(QColor(line), 1))
        painter.setClipRect(box)
        step = 8
        span = int(box.width() + box.height())
        for i in range(0, span, step):
            x = box.left() + i
            painter.drawLine(QPointF(x, box.top()), QPointF(x - box.height(), box.bottom()))
        painter.restore()

    def _draw_detail(self, painter: QPainter, window: Window, array: Any) -> None:
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, self.scale < 4)
        painter.drawImage(self.to_sheet(window), to_image(array))

    def _draw_supplied(self, painter: QPainter) -> None:
        bench = self.session.bench
        assert bench is not None
        pw, ph = bench.line.source.shown
        box = self.to_sheet(Window(0, 0, pw, ph))
        self._dimensions(painter, box, (pw, ph))

    def _draw_fitted(self, painter: QPainter, ground: QColor) -> None:
        bench = self.session.bench
        assert bench is not None
        frame = bench.line.frame
        box = self.to_sheet(frame.window)
        veil = QColor(ground)
        veil.setAlphaF(0.66)
        outside = QRectF(self.rect())
        for part in (
            QRectF(outside.left(), outside.top(), outside.width(), box.top() - outside.top()),
            QRectF(outside.left(), box.bottom(), outside.width(), outside.bottom() - box.bottom()),
            QRectF(outside.left(), box.top(), box.left() - outside.left(), box.height()),
            QRectF(box.right(), box.top(), outside.right() - box.right(), box.height()),
        ):
            painter.fillRect(part.intersected(outside), veil)
        settled = self._fitted is not None and self._fitted_window == frame.window
        if settled and self._grab is None and bench.draft_is_current:
            smooth = box.width() * self.devicePixelRatioF() < 3 * frame.output[0]
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, smooth)
            assert self._fitted is not None
            self._draw_scaled(painter, box, self._fitted)
        self._overlays(painter, box)
        self._zones(painter, box)
        self._second_cuts(painter, frame.window)
        if not self.bare:
            self._frame(painter, box)
        self._boxes(painter)
        self._dimensions(painter, box, frame.output)
        marks = self.marks_shown()
        if marks is not None:
            draw_marks(
                painter,
                marks,
                frame.window,
                bench.live,
                self.lit,
                self.on_sheet,
                self._ink,
                float(self.width()),
            )

    def _draw_dots(self, painter: QPainter, ground: QColor) -> None:
        """The grey that was there and the dots that came of it, at several sizes."""
        painter.fillRect(self.rect(), ground)
        bench = self.session.bench
        assert bench is not None
        if self._fitted is None or bench.picture is None or bench.picture.bits != 1:
            self._note(painter, t("The dots are being made …"))
            return
        wide, high = self._fitted.width(), self._fitted.height()
        ratio = self.devicePixelRatioF()
        ink = QColor("#EDEDEB") if ground.lightness() < 120 else QColor("#1D2630")
        room, y = self.width() - 56.0, 26.0
        most = max(1.0, room / wide)
        rows: list[tuple[str, float, bool]] = [(t("grey"), min(2.0, most), True)]
        steps = (1.0, 2.0, 3.0, 4.0, 6.0)
        rows += [
            (t("dots, {n} screen pixels each", n=int(s)), s, False) for s in steps if s <= most
        ]
        if most < 1:
            rows = [(t("grey"), most, True), (t("dots, smaller than they are"), most, False)]
        grey = bench.grey
        for words, size, is_grey in rows:
            tall = high * size
            if y + tall + 20 > self.height():
                break
            painter.setFont(theme.tight(12))
            painter.setPen(ink)
            painter.drawText(QRectF(28, y, room, 16), Qt.AlignmentFlag.AlignVCenter, words)
            if is_grey:
                if grey is None:
                    continue
                image = self._remembered("grey", id(grey), lambda: to_image(grey))
            else:
                image = self._fitted
            drawn = dots_at(image, size, ratio)
            drawn.setDevicePixelRatio(ratio)
            painter.drawImage(QPointF(28, y + 20), drawn)
            y += tall + 42

    def _draw_sides(self, painter: QPainter) -> None:
        """The frame as supplied and as fitted, parted by a line that can be moved; both lie at
        one scale in one place, so that zooming and moving keeps them together."""
        bench = self.session.bench
        assert bench is not None
        box = self.to_sheet(bench.line.frame.window)
        x = box.left() + box.width() * self.divide
        ready = self._fitted is not None and self._fitted_window == bench.line.frame.window
        if ready and bench.draft_is_current:
            painter.save()
            painter.setClipRect(QRectF(x, box.top(), box.right() - x, box.height()))
            painter.setRenderHint(
                QPainter.RenderHint.SmoothPixmapTransform,
                box.width() * self.devicePixelRatioF() < 3 * bench.line.frame.output[0],
            )
            assert self._fitted is not None
            self._draw_scaled(painter, box, self._fitted)
            painter.restore()
        blue = self._ink("blue")
        painter.setPen(QPen(blue, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        painter.setPen(QPen(blue, 2))
        painter.drawLine(QPointF(x, box.top() - 12), QPointF(x, box.bottom() + 12))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(blue)
        painter.setPen(Qt.PenStyle.NoPen)
        middle = box.center().y()
        for way in (-1, 1):
            tip = QPointF(x + 11 * way, middle)
            painter.drawPolygon(
                QPolygonF([tip, QPointF(x + 4 * way, middle - 6), QPointF(x + 4 * way, middle + 6)])
            )
        painter.setFont(theme.tight(12, bold=True))
        painter.setPen(blue)
        row = QRectF(box.left(), box.top() - 30, box.width(), 18)

        def short(words: str, room: QRectF) -> str:
            wide = int(room.width())
            return painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, wide)

        if x - box.left() > 70:
            left = row.adjusted(0, 0, x - box.right() - 8, 0)
            painter.drawText(left, Qt.AlignmentFlag.AlignRight, short(t("as supplied"), left))
        if box.right() - x > 50:
            right = row.adjusted(x - box.left() + 8, 0, 0, 0)
            painter.drawText(right, Qt.AlignmentFlag.AlignLeft, short(t("fitted"), right))

    def _draw_scaled(self, painter: QPainter, box: QRectF, image: QImage) -> None:
        """Draw the finished picture; reduced properly where it is shown much smaller."""
        wide = round(box.width() * self.devicePixelRatioF())
        if image.hasAlphaChannel():
            self._draw_clear(painter, box)
        if wide < image.width() * 0.6:
            key = (wide, id(image))
            if getattr(self, "_small_key", None) != key:
                high = max(1, round(box.height() * self.devicePixelRatioF()))
                self._small = image.scaled(
                    QSize(max(1, wide), high),
                    Qt.AspectRatioMode.IgnoreAspectRatio,
                    Qt.TransformationMode.SmoothTransformation,
                )
                self._small_key = key
            image = self._small
        painter.drawImage(box, image)
