"""Drawing on the sheet: the picture, its frame, the dimensions of both, and what the brief asks."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import (
    QColor,
    QFontMetricsF,
    QImage,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QPolygonF,
)

from aptandum.core.figures import grouped
from aptandum.core.fitting.plan import Window
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.judge.zones import second_cut, zones_of
from aptandum.core.photo.backdrop import NoMask
from aptandum.core.photo.turning import swung_box
from aptandum.ui import theme
from aptandum.ui.bench.marks import draw as draw_marks
from aptandum.ui.bench.overlays import HEAT, dots_at, draw_key, draw_panels, hatch, heat
from aptandum.ui.bench.sheet.image import to_image
from aptandum.ui.bench.sheet.view import DOTS, FITTED, SIDES, SUPPLIED, View
from aptandum.ui.bench.tools import Brush, Dropper
from aptandum.ui.strings import t


def _drawn(measure: str) -> tuple[str, ...]:
    """What belongs on the sheet to a measure whose clause is lit."""
    return REGISTRY[measure].drawn if measure in REGISTRY else ()


class Drawing(View):
    """See the module."""

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
        marks = self._marks_shown()
        if marks is not None:
            draw_marks(painter, marks, frame.window, bench.live, self.lit, self._at, self._ink,
                       float(self.width()))  # fmt: skip

    def _remembered(self, name: str, key: Any, make: Any) -> Any:
        """What was made last under a name, unless what it was made of is another now."""
        held = self._kept.get(name)
        if held is None or held[0] != key:
            held = (key, make())
            self._kept[name] = held
        return held[1]

    def _overlays(self, painter: QPainter, box: QRectF) -> None:
        bench = self.session.bench
        assert bench is not None
        still = self._grab is None
        template = bench.line.finish.given.template
        if template is not None and self.panel:
            draw_panels(painter, template, box, self.panel, self._ink("blue"))
        if self.outside and still and bench.conversion is not None:
            found = bench.conversion
            image = self._remembered(
                "outside", id(found),
                lambda: hatch(found.outside.astype(np.float32), QColor(103, 71, 154), 7, True),
            )  # fmt: skip
            painter.drawImage(box, image)
        if self.session.pixels.shows_mask or isinstance(self.tool, Brush):
            self._draw_mask(painter, box)
        look = bench.look
        asked = next(iter(HEAT & set(_drawn(self.lit))), "")
        if asked and still and look is not None and bench.draft_is_current:
            shown = self._remembered("heat", (id(look), asked), lambda: heat(look, asked))
            if shown is not None:
                painter.drawImage(box, shown.image)
                draw_key(painter, shown, asked, QPointF(12, 10))
        self._draw_stroke(painter)

    def _draw_mask(self, painter: QPainter, box: QRectF) -> None:
        """What is behind the subject is hatched, and the subject outlined."""
        bench = self.session.bench
        assert bench is not None
        try:
            mask = self.session.pixels.mask()
        except NoMask:
            return
        w, angle = bench.line.frame.window, bench.line.frame.angle
        there = (w.left, w.top, w.width, w.height)
        longest = min(900.0, max(box.width(), box.height()))
        k = longest / max(box.width(), box.height())
        size = max(1, round(box.width() * k)), max(1, round(box.height() * k))
        key = (id(mask), there, angle, size)
        image = self._remembered(
            "mask", key,
            lambda: hatch(1 - mask.window(there, size, angle), QColor(39, 80, 140)),
        )  # fmt: skip
        painter.drawImage(box, image)

    def _draw_stroke(self, painter: QPainter) -> None:
        if not isinstance(self.tool, Brush):
            return
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        adds = self._stroke_adds if self._stroke else self.tool.adds
        tone = QColor(255, 255, 255, 130) if adds else QColor(39, 80, 140, 130)
        if self._stroke:
            pen = QPen(tone, 2 * self.tool.radius)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
            painter.setPen(pen)
            if len(self._stroke) == 1:
                painter.drawPoint(self._stroke[0])
            else:
                painter.drawPolyline(QPolygonF(self._stroke))
        if self.pointer is not None:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for colour, width in (("#FFFFFF", 3.0), ("#1D2630", 1.2)):
                painter.setPen(QPen(QColor(colour), width))
                painter.drawEllipse(self.pointer, self.tool.radius, self.tool.radius)
            painter.setFont(theme.tight(12, bold=True))
            words = t("adds to the subject") if adds else t("takes from the subject")
            self._flag(painter, self.pointer + QPointF(self.tool.radius + 6, -9), words)
        painter.restore()

    def _flag(self, painter: QPainter, at: QPointF, words: str, chip: str = "") -> None:
        """A few words beside the pointer, with a colour where one is meant."""
        font = theme.tight(12, bold=True)
        painter.setFont(font)
        wide = QFontMetricsF(font).horizontalAdvance(words) + 12 + (24 if chip else 0)
        x = min(at.x(), self.width() - wide - 4)
        box = QRectF(x, min(max(4.0, at.y()), self.height() - 26.0), wide, 22)
        painter.fillRect(box, theme.colour("panel"))
        painter.setPen(theme.colour("hairline"))
        painter.drawRect(box)
        if chip:
            painter.fillRect(QRectF(box.left() + 5, box.top() + 4, 18, 14), QColor(chip))
        painter.setPen(theme.colour("ink"))
        text = box.adjusted(28 if chip else 6, 0, -4, 0)
        painter.drawText(text, Qt.AlignmentFlag.AlignVCenter, words)

    def _draw_dropper(self, painter: QPainter) -> None:
        if not isinstance(self.tool, Dropper):
            return
        if self.pointer is None:
            self._flag(painter, QPointF(12, 12), self.tool.words)
            return
        spot = self._photo_point(self.pointer)
        colour = self.session.pixels.colour_at(spot) or ""
        words = f"{colour}  {self.tool.words}" if colour else self.tool.words
        self._flag(painter, self.pointer + QPointF(16, 14), words, colour)

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

    def _zones(self, painter: QPainter, box: QRectF) -> None:
        """The parts of the place that cover the picture, hatched, each with its name."""
        bench = self.session.bench
        assert bench is not None
        for zone in zones_of(bench.brief):
            part = QRectF(
                box.left() + zone.left * box.width(), box.top() + zone.top * box.height(),
                zone.width * box.width(), zone.height * box.height(),
            )  # fmt: skip
            painter.save()
            fill = QColor("#20262C")
            fill.setAlphaF(self.solid)
            painter.fillRect(part, fill)
            painter.setClipRect(part)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(QColor(255, 255, 255, 120), 1))
            x = part.left() - part.height()
            while x < part.right():
                painter.drawLine(QPointF(x, part.bottom()), QPointF(x + part.height(), part.top()))
                x += 10
            painter.restore()
            painter.setPen(QPen(QColor(255, 255, 255, 200), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(part)
            font = theme.tight(12, bold=True)
            painter.setFont(font)
            wide = QFontMetricsF(font).horizontalAdvance(zone.name) + 12
            tag = QRectF(part.left() + 5, part.top() + 4, wide, 17)
            painter.fillRect(tag, QColor(255, 255, 255, 220))
            painter.setPen(QColor("#1D2630"))
            painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, zone.name)

    def _second_cuts(self, painter: QPainter, frame: Window) -> None:
        """Where one upload serves two places: what the second one cuts from it again."""
        bench = self.session.bench
        assert bench is not None
        for place in bench.brief.seen:
            cut = second_cut(place, (frame.left, frame.top, frame.width, frame.height))
            if cut is None:
                continue
            part = self.to_sheet(Window(*cut))
            pen = QPen(QColor("#FFFFFF"), 3)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(pen)
            painter.drawRect(part)
            pen = QPen(self._ink("blue"), 1.4)
            pen.setDashPattern([7, 4])
            painter.setPen(pen)
            painter.drawRect(part)
            font = theme.tight(12, bold=True)
            painter.setFont(font)
            words = t("seen again as {place}", place=place.as_)
            wide = QFontMetricsF(font).horizontalAdvance(words) + 12
            tag = QRectF(part.left() + 6, part.top() + 5, wide, 17)
            painter.fillRect(tag, QColor(255, 255, 255, 225))
            painter.setPen(QColor("#1D2630"))
            painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, words)

    def _boxes(self, painter: QPainter) -> None:
        """What must stay clear: boxes drawn by hand, and the one that is being drawn."""
        bench = self.session.bench
        if bench is None:
            return
        pen = QPen(self._ink("asks"), 1.6)
        pen.setDashPattern([6, 3])
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for box in bench.hand.keep_clear:
            seen = swung_box(box, self._angle(), self._photo_size())
            painter.drawRect(self.to_sheet(Window(*seen)))
        thing = self._thing()
        if thing is not None:
            self._draw_thing(painter, thing)
        self._number_faces(painter)
        if self._along is not None:
            painter.setPen(QPen(self._ink("blue"), 2))
            painter.drawLine(*self._along)
        if self._box is not None:
            painter.drawRect(QRectF(*self._box).normalized())

    def _number_faces(self, painter: QPainter) -> None:
        """Where several faces were found: each with its number, so that one can be chosen."""
        bench, people = self.session.bench, self.session.model.people()
        if bench is None or people is None or people.count < 2 or not bench.wants_marks:
            return
        font = theme.text(13, bold=True)
        for n, face in enumerate(people.faces):
            left, top, right, bottom = face.box
            there = (left, top, right - left, bottom - top)
            seen = swung_box(there, self._angle(), self._photo_size())
            box = self.to_sheet(Window(*seen))
            ink = self._ink("blue" if people.hand.face == n else "asks")
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(ink, 1.6))
            painter.drawRect(box)
            tag = QRectF(box.left(), box.top() - 20, 22, 20)
            painter.fillRect(tag, ink)
            painter.setFont(font)
            painter.setPen(QColor("#FFFFFF") if ink.lightness() < 150 else QColor("#1D2630"))
            painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, str(n + 1))

    def _draw_thing(self, painter: QPainter, thing: tuple[float, float, float, float]) -> None:
        box = self.to_sheet(Window(*thing))
        ink = self._ink("asks")
        painter.setPen(QPen(ink, 1.6))
        painter.drawRect(box)
        painter.setBrush(QColor("#FFFFFF"))
        for corner in (box.topLeft(), box.topRight(), box.bottomLeft(), box.bottomRight()):
            painter.drawRect(QRectF(corner.x() - 4, corner.y() - 4, 8, 8))
        font = theme.tight(12, bold=True)
        painter.setFont(font)
        words = t("subject")
        tag = QRectF(box.left() + 6, box.bottom() - 22,
                     QFontMetricsF(font).horizontalAdvance(words) + 12, 17)  # fmt: skip
        painter.fillRect(tag, QColor(255, 255, 255, 225))
        painter.setPen(QColor("#1D2630"))
        painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, words)
        painter.setBrush(Qt.BrushStyle.NoBrush)

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
        if x - box.left() > 70:
            left = row.adjusted(0, 0, x - box.right() - 8, 0)
            painter.drawText(left, Qt.AlignmentFlag.AlignRight, t("as supplied"))
        if box.right() - x > 50:
            right = row.adjusted(x - box.left() + 8, 0, 0, 0)
            painter.drawText(right, Qt.AlignmentFlag.AlignLeft, t("fitted"))

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

    def _frame(self, painter: QPainter, box: QRectF) -> None:
        blue = self._ink("blue")
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        painter.setPen(QPen(blue, 1.5))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        arm = max(8.0, min(26.0, box.width() / 6, box.height() / 6))
        painter.setPen(QPen(blue, 4, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
        for x, dx in ((box.left(), 1), (box.right(), -1)):
            for y, dy in ((box.top(), 1), (box.bottom(), -1)):
                painter.drawLine(QPointF(x - 2 * dx, y), QPointF(x + arm * dx, y))
                painter.drawLine(QPointF(x, y - 2 * dy), QPointF(x, y + arm * dy))
        # centre lines, as on a drawing
        faint = QColor(blue)
        faint.setAlphaF(0.5)
        pen = QPen(faint, 1)
        pen.setDashPattern([10, 3, 2, 3])
        painter.setPen(pen)
        middle = box.center()
        painter.drawLine(QPointF(middle.x(), box.top()), QPointF(middle.x(), box.bottom()))
        if self.hasFocus():
            ring = QPen(theme.colour("blue", 0.9), 1, Qt.PenStyle.DotLine)
            painter.setPen(ring)
            painter.drawRect(box.adjusted(-5, -5, 5, 5))

    def _dimensions(self, painter: QPainter, box: QRectF, figures: tuple[int, int]) -> None:
        wide, high = figures
        lit = set(_drawn(self.lit))
        if "longest" in lit:
            lit.add("width" if wide >= high else "height")
        if "shortest" in lit:
            lit.add("width" if wide <= high else "height")
        room = 34.0
        # below, or where there is no room above, or inside at the edge
        y = box.bottom() + room
        if y > self.height() - 12:
            y = box.top() - room if box.top() - room > 12 else self.height() - 14
        x = box.left() - room
        if x < 12:
            x = box.right() + room if box.right() + room < self.width() - 12 else 14
        a, b = max(box.left(), 4.0), min(box.right(), self.width() - 4.0)
        self._line(painter, QPointF(a, y), QPointF(b, y), f"{grouped(wide)} px",
                   "width" in lit, (box.bottom(), box.top()))  # fmt: skip
        a, b = max(box.top(), 4.0), min(box.bottom(), self.height() - 4.0)
        self._line(painter, QPointF(x, a), QPointF(x, b), f"{grouped(high)} px",
                   "height" in lit, (box.left(), box.right()))  # fmt: skip
        if "scale" in lit and self.session.bench is not None:
            scale = self.session.bench.line.frame.scale
            self._tag(painter, box.center(), t("{n} × the photo's pixels", n=f"{scale:.3f}"))

    def _ink(self, token: str) -> QColor:
        """A palette colour as it is read on the sheet's ground."""
        tone = QColor(theme.SURROUNDS[self.ground]).lightness()
        if tone < 100:
            return QColor(getattr(theme.DIM, token))
        made = QColor(getattr(theme.LIGHT, token))
        return made.darker(230) if tone < 150 else made

    def _line(
        self, painter: QPainter, a: QPointF, b: QPointF, text: str, lit: bool,
        edges: tuple[float, float],
    ) -> None:  # fmt: skip
        """A dimension line with arrows, ticks at its ends, and its figure in a gap."""
        upright = abs(a.x() - b.x()) < 0.01
        colour = self._ink(self.lit_verdict if lit else "blue")
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        font = theme.figures(13, bold=lit)
        painter.setFont(font)
        metrics = QFontMetricsF(font)
        gap = metrics.horizontalAdvance(text) + 12
        length = (b.y() - a.y()) if upright else (b.x() - a.x())
        if upright:
            painter.translate(a.x(), b.y())
            painter.rotate(-90)
        else:
            painter.translate(a)
        painter.setPen(QPen(colour, 2.4 if lit else 1.4))
        middle = length / 2
        inside = length > gap + 26
        if inside:
            painter.drawLine(QPointF(0, 0), QPointF(middle - gap / 2, 0))
            painter.drawLine(QPointF(middle + gap / 2, 0), QPointF(length, 0))
        else:
            painter.drawLine(QPointF(0, 0), QPointF(length, 0))
        for x in (0.0, length):
            painter.drawLine(QPointF(x, -7), QPointF(x, 7))
        painter.setBrush(colour)
        painter.setPen(Qt.PenStyle.NoPen)
        for x, way in ((0.0, 1), (length, -1)):
            painter.drawPolygon(
                QPolygonF([QPointF(x, 0), QPointF(x + 9 * way, -3.2), QPointF(x + 9 * way, 3.2)])
            )
        painter.setPen(colour)
        place = QRectF(middle - gap / 2, -10, gap, 20)
        if not inside:
            place.translate(0, 14)
        painter.drawText(place, Qt.AlignmentFlag.AlignCenter, text)
        painter.restore()

    def _tag(self, painter: QPainter, at: QPointF, text: str) -> None:
        painter.save()
        font = theme.figures(13)
        painter.setFont(font)
        metrics = QFontMetricsF(font)
        box = QRectF(0, 0, metrics.horizontalAdvance(text) + 16, 26)
        box.moveCenter(at)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(theme.colour(self.lit_verdict), 1.4))
        painter.setBrush(theme.colour("panel"))
        painter.drawRoundedRect(box, 4, 4)
        painter.setPen(theme.colour(self.lit_verdict))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
        painter.restore()

    def _note(self, painter: QPainter, text: str) -> None:
        dark = QColor(theme.SURROUNDS[self.ground]).lightness() < 120
        painter.setPen(QColor("#F0F0EE") if dark else QColor("#2A323B"))
        painter.setFont(theme.text(14))
        box = QRectF(self.rect()).adjusted(40, 40, -40, -40)
        flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
        painter.drawText(box, flags, text)
