"""The drawing sheet: the photo on neutral grey, and what the brief asks drawn on it.

Coordinates: *photo* pixels as shown (orientation applied) and *sheet* pixels of the widget.
One scale and an offset lead from one to the other.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QRect, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFontMetricsF,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QPolygonF,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from aptandum.core.fitting.line import Window
from aptandum.core.judge.zones import second_cut, zones_of
from aptandum.core.photo.backdrop import NoMask, Stroke
from aptandum.core.photo.marks import Marks
from aptandum.core.photo.turning import swung, swung_box
from aptandum.core.quantity import grouped
from aptandum.ui import preferences, theme
from aptandum.ui.bench.marks import draw as draw_marks
from aptandum.ui.bench.marks import mark_said
from aptandum.ui.bench.marks import nearest as nearest_mark
from aptandum.ui.bench.overlays import HEAT, dots_at, draw_key, draw_panels, hatch, heat
from aptandum.ui.bench.tools import Brush, Dropper
from aptandum.ui.session import PREVIEW, Session
from aptandum.ui.strings import t

SUPPLIED, FITTED, SIDES, DOTS = "supplied", "fitted", "sides", "dots"
_ROOM = 66
"""Sheet pixels kept free round the picture for the dimension lines."""

_GRIP = 11
_FIELDS = {
    "width": ("width",),
    "height": ("height",),
    "size": ("width", "height"),
    "longest_side": ("longest",),
    "shortest_side": ("shortest",),
    "aspect": ("width", "height"),
    "orientation": ("width", "height"),
    "enlargement": ("scale",),
}
"""Which drawings on the sheet belong to which measure."""


def to_image(array: Any) -> QImage:
    """An 8-bit array of shape (h, w, 1, 3 or 4) as an image that owns its bytes."""
    high, wide, bands = array.shape
    if bands == 1 or bands == 2:
        array = np.repeat(array[..., :1], 3, axis=2)
        bands = 3
    made = np.empty((high, wide, 4), np.uint8)
    made[..., 0:3] = array[..., 2::-1]
    made[..., 3] = array[..., 3] if bands == 4 else 255
    kind = QImage.Format.Format_ARGB32 if bands == 4 else QImage.Format.Format_RGB32
    image = QImage(made.tobytes(), wide, high, wide * 4, kind).copy()
    return image.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied) if bands == 4 else image


class Sheet(QWidget):
    """The photo, its frame, and the dimensions of both."""

    zoomed = pyqtSignal(float)
    touched = pyqtSignal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.mode = SUPPLIED
        self.ground = 1
        self.lit = ""
        self.lit_verdict = "meets"
        self.fit = True
        self.held: str | None = None
        self.divide = 0.5  # of the frame's width: left of it as supplied, right of it fitted
        self._dividing = False
        self.solid = 0.5  # of the zones that cover the picture: 0 is an outline alone
        self._box: tuple[QPointF, QPointF] | None = None
        self._along: tuple[QPointF, QPointF] | None = None
        self._corner = ""
        self.scale = 1.0  # sheet pixels for each photo pixel
        self.offset = QPointF(0, 0)
        self._base: QImage | None = None
        self._base_of: Any = None
        self._view: QPixmap | None = None
        self._view_key: Any = None
        self._fitted: QImage | None = None
        self._fitted_of: Any = None
        self._fitted_window: Window | None = None
        self._grab: tuple[str, QPointF, Window] | None = None
        self._mark = ""
        self._moved = False
        self._pan: tuple[QPointF, QPointF] | None = None
        self.tool: Dropper | Brush | None = None
        self.pointer: QPointF | None = None
        self._stroke: list[QPointF] = []
        self._stroke_adds = True
        self.bare = False  # the picture alone: no frame to be drawn by hand, no marks
        self.outside = False  # what lies outside the target's colours is shown
        self.panel = ""  # the panel that is open on the card
        self._kept: dict[str, tuple[Any, Any]] = {}
        self._detail_timer = QTimer(self)
        self._detail_timer.setSingleShot(True)
        self._detail_timer.setInterval(120)
        self._detail_timer.timeout.connect(self._ask_detail)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(240, 200)
        self.setAccessibleName(t("Sheet: the photo with its frame"))
        session.opened.connect(self._opened)
        session.changed.connect(self.update)
        session.pictures.connect(self._pictures)
        session.tool_asked.connect(self.hold)
        session.panel_chosen.connect(self._panel)

    def hold(self, tool: Dropper | Brush | None) -> None:
        """Take a tool in hand, or put it away; the same again puts it away."""
        if tool is not None:
            self.mode = FITTED
        self.tool = tool
        self._stroke = []
        self.setCursor(
            Qt.CursorShape.CrossCursor if tool is not None else Qt.CursorShape.ArrowCursor
        )
        if tool is not None:
            self.setFocus(Qt.FocusReason.OtherFocusReason)
        self.update()

    def _panel(self, name: str) -> None:
        self.panel = name
        self.update()

    def show_outside(self, on: bool) -> None:
        """Show which colours lie outside the space that is written."""
        self.outside = on
        self.session.look_at_conversion()
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(688, 650)

    # -- what is shown -------------------------------------------------------------------

    def show_mode(self, mode: str) -> None:
        self.mode = mode
        if self.fit:
            self.fit_photo()
        self._detail_timer.start()
        self.update()

    @property
    def effective(self) -> str:
        return self.held or self.mode

    def light(self, measure: str, verdict: str) -> None:
        self.lit, self.lit_verdict = measure, verdict
        self.update()

    def _opened(self) -> None:
        self._base = self._view = self._fitted = None
        self._base_of = self._fitted_of = None
        self.fit_photo()
        self._pictures()

    def _pictures(self) -> None:
        bench = self.session.bench
        if bench is not None:
            if bench.preview is not None and bench.preview is not self._base_of:
                self._base_of = bench.preview
                self._base = to_image(bench.preview)
                self._view = None
            if bench.fitted is not None and bench.fitted is not self._fitted_of:
                self._fitted_of = bench.fitted
                self._fitted = to_image(bench.fitted)
                self._fitted_window = bench.line.frame.window
        self.update()

    def _photo_size(self) -> tuple[int, int]:
        bench = self.session.bench
        return bench.line.source.shown if bench else (1, 1)

    def fit_photo(self) -> None:
        """Show the whole photo, with room for its dimensions."""
        pw, ph = self._photo_size()
        self._fit_box(QRectF(0, 0, pw, ph))
        self.fit = True

    def fit_frame(self) -> None:
        """Show the frame as large as it goes."""
        bench = self.session.bench
        if bench is not None:
            window = bench.line.frame.window
            self._fit_box(QRectF(window.left, window.top, window.width, window.height))
            self.fit = False

    def _fit_box(self, box: QRectF) -> None:
        room = max(24.0, min(_ROOM, min(self.width(), self.height()) / 8))
        self.scale = max(
            1e-4,
            min((self.width() - 2 * room) / box.width(), (self.height() - 2 * room) / box.height()),
        )
        self.offset = QPointF(self.width() / 2, self.height() / 2) - box.center() * self.scale
        self._changed_view()

    def one_to_one(self) -> None:
        """One sheet pixel for each pixel: of the photo as supplied, of the output when fitted."""
        self._to_scale(1.0)

    def _to_scale(self, factor: float) -> None:
        """Screen pixels for each pixel of what is shown."""
        bench = self.session.bench
        if bench is None:
            return
        ratio = self.devicePixelRatioF()
        of_output = self.mode in (FITTED, SIDES)
        scale = (bench.line.frame.scale if of_output else 1.0) * factor / ratio
        middle = QPointF(self.width() / 2, self.height() / 2)
        window = bench.line.frame.window
        centre = QPointF(*window.centre) if of_output else self.to_photo(middle)
        self.zoom_to(scale, middle, centre)

    def zoom_to(self, scale: float, at: QPointF, photo: QPointF | None = None) -> None:
        """Zoom so that the photo point under ``at`` (or ``photo``) comes to lie at ``at``."""
        spot = photo if photo is not None else self.to_photo(at)
        pw, ph = self._photo_size()
        least = min(self.width() / pw, self.height() / ph) * 0.25
        self.scale = min(max(scale, least), 16.0)
        self.offset = at - spot * self.scale
        self.fit = False
        self._changed_view()

    def _changed_view(self) -> None:
        self._view = None
        self._detail_timer.start()
        self.zoomed.emit(self.percent)
        self.update()

    @property
    def percent(self) -> float:
        """Zoom against one screen pixel for each photo (or, fitted, output) pixel."""
        bench = self.session.bench
        unit = bench.line.frame.scale if bench and self.mode in (FITTED, SIDES) else 1.0
        return self.scale * self.devicePixelRatioF() / unit * 100

    def to_photo(self, at: QPointF) -> QPointF:
        return (at - self.offset) / self.scale

    def to_sheet(self, window: Window) -> QRectF:
        return QRectF(
            self.offset.x() + window.left * self.scale,
            self.offset.y() + window.top * self.scale,
            window.width * self.scale,
            window.height * self.scale,
        )

    def _ask_detail(self) -> None:
        """A sharper picture where the preview's own pixels have become visible."""
        bench = self.session.bench
        if bench is None or self._base is None:
            return
        pw, ph = self._photo_size()
        ratio = self.devicePixelRatioF()
        if self.scale * ratio * max(pw, ph) <= PREVIEW * 1.05 or max(pw, ph) <= PREVIEW:
            return
        a = self.to_photo(QPointF(0, 0))
        b = self.to_photo(QPointF(self.width(), self.height()))
        left, top = math.floor(max(0.0, a.x())), math.floor(max(0.0, a.y()))
        right, bottom = math.ceil(min(pw, b.x())), math.ceil(min(ph, b.y()))
        if right - left < 1 or bottom - top < 1:
            return
        window = Window(left, top, right - left, bottom - top)
        longest = round(max(window.width, window.height) * min(1.0, self.scale * ratio))
        self.session.load_detail(window, max(1, longest))

    # -- painting ---------------------------------------------------------------------------

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

    def _angle(self) -> float:
        """By how much the photo is seen straightened: not at all as supplied."""
        bench = self.session.bench
        return bench.line.frame.angle if bench and self.effective != SUPPLIED else 0.0

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

    # -- overlays --------------------------------------------------------------------------

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
        if self.session.needs_mask or isinstance(self.tool, Brush):
            self._draw_mask(painter, box)
        look = bench.look
        if self.lit in HEAT and still and look is not None and bench.draft_is_current:
            shown = self._remembered("heat", (id(look), self.lit), lambda: heat(look, self.lit))
            if shown is not None:
                painter.drawImage(box, shown.image)
                draw_key(painter, shown, self.lit, QPointF(12, 10))
        self._draw_stroke(painter)

    def _draw_mask(self, painter: QPainter, box: QRectF) -> None:
        """What is behind the subject is hatched, and the subject outlined."""
        bench = self.session.bench
        assert bench is not None
        try:
            mask = self.session.mask()
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
        colour = self.session.colour_at(spot) or ""
        words = f"{colour}  {self.tool.words}" if colour else self.tool.words
        self._flag(painter, self.pointer + QPointF(16, 14), words, colour)

    def _photo_point(self, at: QPointF) -> tuple[float, float]:
        """A place of the sheet in photo pixels as shown, before any straightening."""
        seen = self.to_photo(at)
        return swung((seen.x(), seen.y()), -self._angle(), self._photo_size())

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

    def set_solid(self, share: float) -> None:
        """How solid the zones are drawn, 0..1."""
        self.solid = min(max(share, 0.0), 1.0)
        self.update()

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
        bench, people = self.session.bench, self.session.people()
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

    def _thing(self) -> tuple[float, float, float, float] | None:
        """The subject's box where a zone has to keep clear of it, in the straightened photo."""
        bench, people = self.session.bench, self.session.people()
        if bench is None or people is None or self.effective != FITTED:
            return None
        if people.subject is None or not zones_of(bench.brief):
            return None
        return swung_box(people.subject, self._angle(), self._photo_size())

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

    def _thing_corner(self, at: QPointF) -> str:
        """The corner of the subject's box under the pointer: ``tl``, ``tr``, ``bl``, ``br``."""
        thing = self._thing()
        if thing is None:
            return ""
        box = self.to_sheet(Window(*thing))
        for name, corner in (
            ("tl", box.topLeft()), ("tr", box.topRight()), ("bl", box.bottomLeft()),
            ("br", box.bottomRight()),
        ):  # fmt: skip
            if (corner - at).manhattanLength() <= _GRIP:
                return name
        return ""

    def _drag_thing(self, at: QPointF) -> None:
        thing = self._thing()
        bench = self.session.bench
        if thing is None or bench is None:
            return
        pw, ph = self._photo_size()
        spot = self.to_photo(at)
        left, top, right, bottom = thing[0], thing[1], thing[0] + thing[2], thing[1] + thing[3]
        if "l" in self._corner:
            left = min(max(0.0, spot.x()), right - 1)
        else:
            right = max(min(float(pw), spot.x()), left + 1)
        if "t" in self._corner:
            top = min(max(0.0, spot.y()), bottom - 1)
        else:
            bottom = max(min(float(ph), spot.y()), top + 1)
        made = swung_box((left, top, right - left, bottom - top), -self._angle(), (pw, ph))
        x, y, wide, high = (round(v, 1) for v in made)
        hand = bench.hand.model_copy(update={"subject": (x, y, wide, high)})
        self.session.set_marks(hand, t("Draw the subject's box"), "subject")

    def _level_along(self) -> None:
        """Straighten so that the line drawn comes to lie level, or upright if it is nearer to
        that."""
        assert self._along is not None
        start, end = self._along
        self._along = None
        if (end - start).manhattanLength() < 20:
            return
        slope = math.degrees(math.atan2(end.y() - start.y(), end.x() - start.x()))
        off = (slope + 45) % 90 - 45  # to the nearest of level and upright
        self.session.straighten(self._angle() - off)

    def _take_box(self) -> None:
        """Keep the box that was drawn; a click without a drag takes out the box under it."""
        bench = self.session.bench
        if bench is None or self._box is None:
            return
        start, end = self._box
        self._box = None
        boxes = list(bench.hand.keep_clear)
        if (end - start).manhattanLength() < 6:
            seen = self.to_photo(start)
            at = QPointF(*swung((seen.x(), seen.y()), -self._angle(), self._photo_size()))
            under = [
                b for b in boxes
                if b[0] <= at.x() <= b[0] + b[2] and b[1] <= at.y() <= b[1] + b[3]
            ]  # fmt: skip
            if not under:
                return
            boxes.remove(under[-1])
            words = t("Take out a box")
        else:
            pw, ph = self._photo_size()
            a, b = self.to_photo(start), self.to_photo(end)
            left, right = sorted(min(max(v, 0.0), float(pw)) for v in (a.x(), b.x()))
            top, bottom = sorted(min(max(v, 0.0), float(ph)) for v in (a.y(), b.y()))
            if right - left < 1 or bottom - top < 1:
                return
            drawn = (left, top, right - left, bottom - top)
            x, y, wide, high = swung_box(drawn, -self._angle(), (pw, ph))
            boxes.append((round(x, 1), round(y, 1), round(wide, 1), round(high, 1)))
            words = t("Keep a box clear")
        made = bench.hand.model_copy(update={"keep_clear": tuple(boxes)})
        self.session.set_marks(made, words)

    def _marks_shown(self) -> Marks | None:
        """The marks that are drawn and can be drawn by hand: those a clause asks for."""
        bench = self.session.bench
        if bench is None or not bench.wants_marks or self.effective != FITTED or self.bare:
            return None
        marks = self.session.marks()
        return marks.swung(self._angle(), self._photo_size()) if marks is not None else None

    def _at(self, x: float, y: float) -> QPointF:
        """A point of the photo on the sheet."""
        return QPointF(self.offset.x() + x * self.scale, self.offset.y() + y * self.scale)

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

    def _on_divide(self, at: QPointF) -> bool:
        bench = self.session.bench
        if bench is None or self.effective != SIDES:
            return False
        box = self.to_sheet(bench.line.frame.window)
        near = abs(at.x() - (box.left() + box.width() * self.divide)) <= _GRIP
        return near and box.top() - 20 <= at.y() <= box.bottom() + 20

    def move_divide(self, share: float) -> None:
        """Put the line between as supplied and fitted at a share of the frame's width."""
        self.divide = min(max(share, 0.0), 1.0)
        self.update()

    def times(self, factor: float) -> None:
        """Show each pixel as so many pixels of the screen."""
        self._to_scale(factor)

    def print_size(self) -> None:
        """As large as it will be printed, by the file's pixels per inch (or 300) and the
        screen's own."""
        bench, screen = self.session.bench, self.screen()
        if bench is None or screen is None:
            return
        ppi = bench.line.file.ppi or 300.0
        known = preferences.screen_ppi()
        self._to_scale((known or screen.physicalDotsPerInch() * self.devicePixelRatioF()) / ppi)

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
        lit = set(_FIELDS.get(self.lit, ()))
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

    # -- the frame by hand ------------------------------------------------------------------

    def _where(self, at: QPointF) -> str:
        """What lies under the pointer: a corner or side of the frame, its inside, or nothing."""
        bench = self.session.bench
        if bench is None or self.mode != FITTED or self.bare:
            return ""
        box = self.to_sheet(bench.line.frame.window)
        near = box.adjusted(-_GRIP, -_GRIP, _GRIP, _GRIP)
        if not near.contains(at):
            return ""
        horizontal = (
            "l" if abs(at.x() - box.left()) <= _GRIP
            else "r" if abs(at.x() - box.right()) <= _GRIP else ""
        )  # fmt: skip
        vertical = (
            "t" if abs(at.y() - box.top()) <= _GRIP
            else "b" if abs(at.y() - box.bottom()) <= _GRIP else ""
        )  # fmt: skip
        return vertical + horizontal or "move"

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        where = self._where(event.position())
        bench = self.session.bench
        left = event.button() == Qt.MouseButton.LeftButton
        if left and self.tool is not None and bench is not None:
            self._use_tool(event)
            return
        if left and event.modifiers() & Qt.KeyboardModifier.AltModifier and bench is not None:
            self._along = (event.position(), event.position())
            return
        control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if left and control and bench is not None and self.effective == FITTED:
            self._box = (event.position(), event.position())
            return
        self._corner = self._thing_corner(event.position()) if left else ""
        if self._corner:
            return
        if left and self._on_divide(event.position()):
            self._dividing = True
            return
        marks = self._marks_shown()
        mark = nearest_mark(marks, self._at, event.position()) if marks is not None else ""
        if mark and left:
            self._mark = mark
            self.update()
            return
        if bench is not None and where and left:
            self._grab = (where, event.position(), bench.line.frame.window)
            self._moved = False
        elif bench is not None:
            self._pan = (event.position(), QPointF(self.offset))
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = event.position()
        bench = self.session.bench
        if self.tool is not None:
            self.pointer = at
            if self._stroke:
                self._stroke.append(at)
            if self._pan is None:
                self.update()
                return
        if self._corner:
            self._drag_thing(at)
            return
        if self._along is not None:
            self._along = (self._along[0], at)
            self.update()
            return
        if self._box is not None:
            self._box = (self._box[0], at)
            self.update()
            return
        if self._dividing and bench is not None:
            box = self.to_sheet(bench.line.frame.window)
            self.move_divide((at.x() - box.left()) / max(1.0, box.width()))
            return
        if self._on_divide(at):
            self.setCursor(Qt.CursorShape.SplitHCursor)
            return
        if self._mark:
            pw, ph = self._photo_size()
            seen = self.to_photo(at)
            spot = QPointF(*swung((seen.x(), seen.y()), -self._angle(), (pw, ph)))
            inside = min(max(spot.x(), 0.0), float(pw)), min(max(spot.y(), 0.0), float(ph))
            self.session.move_mark(self._mark, inside)
            return
        if self._grab is not None:
            where, start, window = self._grab
            if not self._moved and (at - start).manhattanLength() < 2:
                return  # a press that does not move changes nothing
            self._moved = True
            move = (at - start) / self.scale
            if where == "move":
                self.place(window.left + move.x(), window.top + move.y(), window, "drag")
            else:
                self._resize(where, window, move)
            return
        if self._pan is not None:
            start, offset = self._pan
            self.offset = offset + at - start
            self.fit = False
            self._changed_view()
            return
        marks = self._marks_shown()
        mark = nearest_mark(marks, self._at, at) if marks is not None else ""
        if mark:
            self.setCursor(Qt.CursorShape.PointingHandCursor)
            self.setToolTip(t("Drag the {mark} to correct it", mark=mark_said(mark)))
            return
        self.setToolTip("")
        shapes = {
            "": Qt.CursorShape.ArrowCursor, "move": Qt.CursorShape.SizeAllCursor,
            "l": Qt.CursorShape.SizeHorCursor, "r": Qt.CursorShape.SizeHorCursor,
            "t": Qt.CursorShape.SizeVerCursor, "b": Qt.CursorShape.SizeVerCursor,
            "tl": Qt.CursorShape.SizeFDiagCursor, "br": Qt.CursorShape.SizeFDiagCursor,
            "tr": Qt.CursorShape.SizeBDiagCursor, "bl": Qt.CursorShape.SizeBDiagCursor,
        }  # fmt: skip
        self.setCursor(shapes[self._where(at)])

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._dividing = False
        if self._stroke:
            self._end_stroke()
        if self._corner:
            self._corner = ""
            self.session.settle()
        if self._along is not None:
            self._level_along()
        if self._box is not None:
            self._take_box()
        if self._mark:
            self._mark = ""
            self.session.settle()
        if self._grab is not None:
            self._grab = None
            self.session.settle()
            self.touched.emit()
        if self._pan is not None:
            self._pan = None
            self.unsetCursor()
        self.update()

    def _use_tool(self, event: QMouseEvent) -> None:
        if isinstance(self.tool, Dropper):
            tool = self.tool
            spot = self._photo_point(event.position())
            colour = self.session.colour_at(spot)
            if colour is None:
                self.session.tell(t("There is no picture at that point."), "note")
                return
            self.hold(None)
            tool.done(colour, spot)
        elif isinstance(self.tool, Brush):
            turned = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._stroke_adds = self.tool.adds != turned
            self._stroke = [event.position()]
            self.pointer = event.position()
            self.update()

    def _end_stroke(self) -> None:
        """Hand the stroke on in photo pixels, without points that change nothing."""
        assert isinstance(self.tool, Brush)
        kept = [self._stroke[0]]
        for point in self._stroke[1:]:
            if (point - kept[-1]).manhattanLength() >= max(2.0, self.tool.radius / 6):
                kept.append(point)
        points = tuple(
            (round(x, 1), round(y, 1)) for x, y in (self._photo_point(p) for p in kept[:5000])
        )
        self._stroke = []
        radius = max(0.5, round(self.tool.radius / self.scale, 2))
        self.session.add_stroke(Stroke(adds=self._stroke_adds, radius=radius, points=points))

    def place(self, left: float, top: float, window: Window, merge: str = "") -> None:
        """Move the frame so that its corner lies there, held inside the photo."""
        moved = Window(left, top, window.width, window.height).held_in(*self._photo_size())
        self._set(moved, t("Move the frame"), merge)

    def _room(self) -> tuple[float, float]:
        """How large a frame may become: the photo, or where it is padded well beyond it."""
        pw, ph = self._photo_size()
        bench = self.session.bench
        beyond = 4 if bench is not None and bench.line.frame.fill == "pad" else 1
        return pw * beyond, ph * beyond

    def _resize(self, where: str, window: Window, move: QPointF) -> None:
        """Draw a side or a corner; the shape stays, the opposite side or corner stays put."""
        bench = self.session.bench
        assert bench is not None
        pw, ph = self._photo_size()
        ratio = window.width / window.height
        dx = move.x() * (1 if "r" in where else -1 if "l" in where else 0)
        dy = move.y() * (1 if "b" in where else -1 if "t" in where else 0)
        grow = dx if dx and not dy else dy * ratio if dy and not dx else max(dx, dy * ratio)
        free = not bench.line.frame.fixed
        if free and len(where) == 1:
            self._stretch(where, window, dx, dy)
            return
        # room from the corner or side that stays put
        across = {"l": window.right, "r": pw - window.left}.get(where[-1])
        up = {"t": window.bottom, "b": ph - window.top}.get(where[0])
        cx, cy = window.centre
        if bench.line.frame.fill == "pad":
            across, up = self._room()
        across = across if across is not None else 2 * min(cx, pw - cx)
        up = up if up is not None else 2 * min(cy, ph - cy)
        width = min(max(window.width + grow, 8.0, 8 * ratio), across, up * ratio)
        height = width / ratio
        left = window.right - width if "l" in where else window.left
        top = window.bottom - height if "t" in where else window.top
        if "l" not in where and "r" not in where:
            left = cx - width / 2
        if "t" not in where and "b" not in where:
            top = cy - height / 2
        self._set(Window(left, top, width, height), t("Resize the frame"), "resize")

    def _stretch(self, where: str, window: Window, dx: float, dy: float) -> None:
        """Draw one side alone, where the brief leaves the shape open."""
        pw, ph = self._photo_size()
        left, top, right, bottom = window.left, window.top, window.right, window.bottom
        if where == "l":
            left = min(max(0.0, left - dx), right - 8)
        elif where == "r":
            right = max(min(float(pw), right + dx), left + 8)
        elif where == "t":
            top = min(max(0.0, top - dy), bottom - 8)
        else:
            bottom = max(min(float(ph), bottom + dy), top + 8)
        self._set(Window(left, top, right - left, bottom - top), t("Reshape the frame"), "resize")

    def _set(self, window: Window, label: str, merge: str) -> None:
        value = tuple(round(v, 4) for v in (window.left, window.top, window.width, window.height))
        self.session.set({"frame.window": value}, label, merge)

    def nudge(self, dx: float, dy: float) -> None:
        """Move the frame by output pixels."""
        bench = self.session.bench
        if bench is None:
            return
        frame = bench.line.frame
        step = 1 / frame.scale
        window = frame.window
        self.place(window.left + dx * step, window.top + dy * step, window, "nudge")
        self.touched.emit()

    def grow(self, factor: float) -> None:
        """Resize the frame about its middle."""
        bench = self.session.bench
        if bench is None:
            return
        window = bench.line.frame.window
        pw, ph = self._photo_size()
        most = self._room()
        factor = min(factor, most[0] / window.width, most[1] / window.height)
        width, height = window.width * factor, window.height * factor
        if min(width, height) < 8:
            return
        cx, cy = window.centre
        made = Window(cx - width / 2, cy - height / 2, width, height).held_in(pw, ph)
        self._set(made, t("Resize the frame"), "grow")
        self.touched.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        moves = {
            Qt.Key.Key_Left: (-step, 0), Qt.Key.Key_Right: (step, 0),
            Qt.Key.Key_Up: (0, -step), Qt.Key.Key_Down: (0, step),
        }  # fmt: skip
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Escape and self.tool is not None:
            self.hold(None)
            return
        if self.mode == FITTED and key in moves:
            self.nudge(*moves[key])
        elif self.mode == FITTED and key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.grow(1.02)
        elif self.mode == FITTED and key == Qt.Key.Key_Minus:
            self.grow(1 / 1.02)
        elif self.mode == SIDES and key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            way = 1 if key == Qt.Key.Key_Right else -1
            self.move_divide(self.divide + way * 0.01 * step)
        elif key == Qt.Key.Key_Space and not event.isAutoRepeat():
            self.held = SUPPLIED
            self.update()
        else:
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self.held = None
            self.update()
        else:
            self.session.settle()
            super().keyReleaseEvent(event)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        plain = not event.modifiers() & Qt.KeyboardModifier.ControlModifier
        if isinstance(self.tool, Brush) and plain:
            self.tool.radius = min(
                200.0, max(2.0, self.tool.radius * 1.0015 ** event.angleDelta().y())
            )
            self.update()
            return
        self.zoom_to(self.scale * 1.0015 ** event.angleDelta().y(), event.position())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        if self.fit:
            self.fit_photo()
        else:
            self._changed_view()

    def frame_rect(self) -> QRect:
        """The frame on the sheet, for tests."""
        bench = self.session.bench
        assert bench is not None
        return self.to_sheet(bench.line.frame.window).toRect()
