"""What is drawn on the picture as a draughtsman would: dimensions, zones, boxes, maps."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import (
    QColor,
    QFontMetricsF,
    QPainter,
    QPen,
    QPolygonF,
)

from aptandum.core.figures import show_pixels
from aptandum.core.fitting.plan import Window
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.judge.zones import second_cut, zones_of
from aptandum.core.later import np
from aptandum.core.photo.backdrop import NoMask
from aptandum.core.photo.turning import swung_box
from aptandum.ui import theme
from aptandum.ui.bench.overlays import HEAT, draw_key, draw_panels, hatch, heat
from aptandum.ui.bench.sheet.view import View
from aptandum.ui.bench.tools import Boxer, Brush, Dropper, Liner
from aptandum.ui.strings import t


def _drawn(measure: str) -> tuple[str, ...]:
    """What belongs on the sheet to a measure whose clause is lit."""
    return REGISTRY[measure].drawn if measure in REGISTRY else ()


class Annotations(View):
    """Draws them on a picture that is drawn already."""

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
                "outside",
                id(found),
                lambda: hatch(found.outside.astype(np.float32), QColor(103, 71, 154), 7, True),
            )
            painter.drawImage(box, image)
        if self.session.pixels.shows_mask or isinstance(self.tool, Brush):
            self._draw_mask(painter, box)
        islands = bench.picture.islands if bench.picture is not None else None
        if islands is not None and self.shows_islands and still and bench.draft_is_current:
            image = self._remembered(
                "islands",
                id(islands),
                lambda: hatch(islands.where.astype(np.float32), QColor(160, 60, 20), 7, True),
            )
            painter.drawImage(box, image)
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
            "mask",
            key,
            lambda: hatch(1 - mask.window(there, size, angle), QColor(39, 80, 140)),
        )
        painter.drawImage(box, image)

    def _draw_line(self, painter: QPainter) -> None:
        """The line that is being drawn by hand, dark in a light rim, so that it is seen on any picture."""
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for colour, width in ((QColor(255, 255, 255, 220), 4.0), (self._ink("blue"), 2.0)):
            painter.setPen(QPen(colour, width))
            painter.drawPolyline(QPolygonF(self._stroke))
        painter.restore()

    def _draw_stroke(self, painter: QPainter) -> None:
        if isinstance(self.tool, Liner) and len(self._stroke) > 1:
            self._draw_line(painter)
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
        if isinstance(self.tool, Boxer):
            at = self.pointer or QPointF(0, 0)
            self._flag(painter, at + QPointF(14, 14), self.tool.words)
            return
        if not isinstance(self.tool, Dropper):
            return
        if self.pointer is None:
            self._flag(painter, QPointF(12, 12), self.tool.words)
            return
        spot = self._photo_point(self.pointer)
        colour = self.session.pixels.colour_at(spot) or ""
        words = (
            t("{colour}  {words}", colour=colour, words=self.tool.words)
            if colour
            else self.tool.words
        )
        self._flag(painter, self.pointer + QPointF(16, 14), words, colour)

    def _zones(self, painter: QPainter, box: QRectF) -> None:
        """The parts of the place that cover the picture, hatched, each with its name."""
        bench = self.session.bench
        assert bench is not None
        for zone in zones_of(bench.brief):
            part = QRectF(
                box.left() + zone.left * box.width(),
                box.top() + zone.top * box.height(),
                zone.width * box.width(),
                zone.height * box.height(),
            )
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
        for box in bench.line.source.words:
            self._word_box(
                painter,
                QRectF(self.to_sheet(Window(*swung_box(box, self._angle(), self._photo_size())))),
            )
        thing = self._thing()
        if thing is not None:
            self._draw_thing(painter, thing)
        self._number_faces(painter)
        if self._along is not None:
            painter.setPen(QPen(self._ink("blue"), 2))
            painter.drawLine(*self._along)
        if self._box is not None:
            painter.drawRect(QRectF(*self._box).normalized())

    def _word_box(self, painter: QPainter, seen: QRectF) -> None:
        """A box whose words must be read: corners that hold it, so that its letters stay free."""
        painter.setPen(QPen(self._ink("blue"), 2))
        reach = min(12.0, seen.width() / 3, seen.height() / 3)
        for x, dx in ((seen.left(), reach), (seen.right(), -reach)):
            for y, dy in ((seen.top(), reach), (seen.bottom(), -reach)):
                painter.drawLine(QPointF(x, y), QPointF(x + dx, y))
                painter.drawLine(QPointF(x, y), QPointF(x, y + dy))

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
        tag = QRectF(
            box.left() + 6, box.bottom() - 22, QFontMetricsF(font).horizontalAdvance(words) + 12, 17
        )
        painter.fillRect(tag, QColor(255, 255, 255, 225))
        painter.setPen(QColor("#1D2630"))
        painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, words)
        painter.setBrush(Qt.BrushStyle.NoBrush)

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
        self._line(
            painter,
            QPointF(a, y),
            QPointF(b, y),
            show_pixels(wide),
            "width" in lit,
            (box.bottom(), box.top()),
        )
        a, b = max(box.top(), 4.0), min(box.bottom(), self.height() - 4.0)
        self._line(
            painter,
            QPointF(x, a),
            QPointF(x, b),
            show_pixels(high),
            "height" in lit,
            (box.left(), box.right()),
        )
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
        self,
        painter: QPainter,
        a: QPointF,
        b: QPointF,
        text: str,
        lit: bool,
        edges: tuple[float, float],
    ) -> None:
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
