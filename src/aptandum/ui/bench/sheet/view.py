"""Where the photo lies on the sheet: its scale, its offset, and what is shown of it.

Coordinates: *photo* pixels as shown (orientation applied) and *sheet* pixels of the widget.
One scale and an offset lead from one to the other.
"""

from __future__ import annotations

import math
from typing import Any

from PyQt6.QtCore import QPointF, QRect, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QImage,
    QPixmap,
    QResizeEvent,
)
from PyQt6.QtWidgets import QWidget

from aptandum.core.figures import show_pixels, show_size
from aptandum.core.fitting.plan import Window
from aptandum.core.judge.zones import zones_of
from aptandum.core.photo.marks import Marks
from aptandum.core.photo.turning import swung, swung_box
from aptandum.ui import preferences
from aptandum.ui.bench.sheet.caption_drag import CaptionDrag
from aptandum.ui.bench.sheet.handles import Handled, Handles
from aptandum.ui.bench.sheet.layer_drag import LayerDrag
from aptandum.ui.bench.tools import Tool
from aptandum.ui.bench.views import FITTED, SIDES, SUPPLIED
from aptandum.ui.images import to_image
from aptandum.ui.session import Session
from aptandum.ui.session.drafts import PREVIEW
from aptandum.ui.strings import t

_ROOM = 66
"""Sheet pixels kept free round the picture for the dimension lines."""

_GRIP = 11


SHAPES = {
    "": Qt.CursorShape.ArrowCursor,
    "move": Qt.CursorShape.SizeAllCursor,
    "l": Qt.CursorShape.SizeHorCursor,
    "r": Qt.CursorShape.SizeHorCursor,
    "t": Qt.CursorShape.SizeVerCursor,
    "b": Qt.CursorShape.SizeVerCursor,
    "tl": Qt.CursorShape.SizeFDiagCursor,
    "br": Qt.CursorShape.SizeFDiagCursor,
    "tr": Qt.CursorShape.SizeBDiagCursor,
    "bl": Qt.CursorShape.SizeBDiagCursor,
}
"""Of the pointer, by what of the frame lies under it: its corners and sides by their first letters."""


class View(Handled):
    """The photo and its frame, neither drawn nor touched yet."""

    zoomed = pyqtSignal(float)
    touched = pyqtSignal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # as it is for everyone
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
        self.shows_islands = False
        self.holds_caption = False  # a press on the caption takes hold of it
        self.holds_layers = False  # a press on a panel takes hold of what lies over it
        self.caption = CaptionDrag(session)
        self.layers = LayerDrag(session)
        self.tool: Tool | None = None
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
        self.handles = Handles(self, self.draw_side)
        session.model.opened.connect(self._opened)
        session.model.changed.connect(self.update)
        session.model.changed.connect(self.handles.later)
        session.model.pictures.connect(self.handles.later)
        session.model.changed.connect(self.speak)
        session.model.pictures.connect(self._pictures)
        session.requests.tool.connect(self.hold)
        session.requests.finish.connect(self._finish_opened)
        session.requests.panel.connect(self._panel)

    def speak(self) -> None:
        """Tell screen readers what the sheet shows."""
        bench = self.session.bench
        if bench is None:
            return
        frame = bench.line.frame
        window = frame.window
        self.setAccessibleDescription(
            t(
                "The frame takes {part} of the photo, from {x} to the right and {y} down, and gives {file}.",
                part=show_size((round(window.width), round(window.height))),
                x=show_pixels(round(window.left)),
                y=show_pixels(round(window.top)),
                file=show_size(frame.output),
            )
        )

    def _finish_opened(self, name: str) -> None:
        self.shows_islands = name == "clear"
        self.holds_caption = name == "caption"
        self.holds_layers = name == "panels"
        self.update()

    def hold(self, tool: Tool | None) -> None:
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
        self.session.pixels.look_at_conversion()
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(688, 650)

    def show_mode(self, mode: str) -> None:
        """Show the photo in another way."""
        self.mode = mode
        if self.fit:
            self.fit_photo()
        self._detail_timer.start()
        self.update()

    @property
    def effective(self) -> str:
        return self.held or self.mode

    def light(self, measure: str, verdict: str) -> None:
        """Light what a measure measures, in its verdict's colour."""
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
        self.handles.later()
        self.update()

    @property
    def percent(self) -> float:
        """Zoom against one screen pixel for each photo (or, fitted, output) pixel."""
        bench = self.session.bench
        unit = bench.line.frame.scale if bench and self.mode in (FITTED, SIDES) else 1.0
        return self.scale * self.devicePixelRatioF() / unit * 100

    def to_photo(self, at: QPointF) -> QPointF:
        """A point of the widget in the photo's pixels."""
        return (at - self.offset) / self.scale

    def to_sheet(self, window: Window) -> QRectF:
        """A window of the photo in widget pixels."""
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
        self.session.drafts.load_detail(window, max(1, longest))

    def _angle(self) -> float:
        """By how much the photo is seen straightened: not at all as supplied."""
        bench = self.session.bench
        return bench.line.frame.angle if bench and self.effective != SUPPLIED else 0.0

    def _photo_point(self, at: QPointF) -> tuple[float, float]:
        """A place of the sheet in photo pixels as shown, before any straightening."""
        seen = self.to_photo(at)
        return swung((seen.x(), seen.y()), -self._angle(), self._photo_size())

    def set_solid(self, share: float) -> None:
        """How solid the zones are drawn, 0..1."""
        self.solid = min(max(share, 0.0), 1.0)
        self.update()

    def draw_side(self, side: str, move: QPointF) -> None:
        """Draw a side of the frame by so many of the photo's pixels."""
        raise NotImplementedError

    def put_mark(self, name: str, at: tuple[float, float]) -> None:
        """Put a mark at a place of the photo as it is shown, held to the photo."""
        pw, ph = self._photo_size()
        x, y = swung(at, -self._angle(), (pw, ph))
        inside = min(max(x, 0.0), float(pw)), min(max(y, 0.0), float(ph))
        self.session.marking.move_mark(name, inside)

    def _thing(self) -> tuple[float, float, float, float] | None:
        """The subject's box where a zone has to keep clear of it, in the straightened photo."""
        bench, people = self.session.bench, self.session.model.people()
        if bench is None or people is None or self.effective != FITTED:
            return None
        if people.subject is None or not zones_of(bench.brief):
            return None
        return swung_box(people.subject, self._angle(), self._photo_size())

    def marks_shown(self) -> Marks | None:
        """The marks that are drawn and can be drawn by hand: those a clause asks for."""
        bench = self.session.bench
        if bench is None or not bench.wants_marks or self.effective != FITTED or self.bare:
            return None
        marks = self.session.marking.marks()
        if marks is None:
            return None
        return marks.topped(bench.brief.crown).swung(self._angle(), self._photo_size())

    def on_sheet(self, x: float, y: float) -> QPointF:
        """A point of the photo on the sheet."""
        return QPointF(self.offset.x() + x * self.scale, self.offset.y() + y * self.scale)

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
