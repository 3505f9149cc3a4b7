"""The hand on the sheet: dragging, tools, wheel and keys."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import (
    QKeyEvent,
    QMouseEvent,
    QWheelEvent,
)

from aptandum.core.fitting.plan import Window
from aptandum.core.photo.backdrop import Stroke
from aptandum.core.photo.turning import swung, swung_box
from aptandum.ui.bench.marks import mark_said
from aptandum.ui.bench.marks import nearest as nearest_mark
from aptandum.ui.bench.sheet.drawing import Drawing
from aptandum.ui.bench.sheet.view import _GRIP, SHAPES
from aptandum.ui.bench.tools import Boxer, Brush, Dropper, Liner
from aptandum.ui.bench.views import FITTED, SIDES, SUPPLIED
from aptandum.ui.strings import t


def _near(at: float, low: float, high: float, names: str) -> str:
    """The name of the side that lies near, of two; empty where neither does."""
    return names[0] if abs(at - low) <= _GRIP else names[1] if abs(at - high) <= _GRIP else ""


class Sheet(Drawing):
    """The photo, its frame, and the dimensions of both."""

    def _thing_corner(self, at: QPointF) -> str:
        """The corner of the subject's box under the pointer: ``tl``, ``tr``, ``bl``, ``br``."""
        thing = self._thing()
        if thing is None:
            return ""
        box = self.to_sheet(Window(*thing))
        for name, corner in (
            ("tl", box.topLeft()),
            ("tr", box.topRight()),
            ("bl", box.bottomLeft()),
            ("br", box.bottomRight()),
        ):
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
        self.session.marking.set_marks(hand, t("Draw the subject's box"), "subject")

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
        self.session.marking.straighten(self._angle() - off)

    def _drawn(self) -> tuple[float, float, float, float]:
        """The box that was drawn, in photo pixels, inside the photo; of a click its point, without width and height."""
        assert self._box is not None
        start, end = self._box
        self._box = None
        pw, ph = self._photo_size()
        if (end - start).manhattanLength() < 6:
            seen = self.to_photo(start)
            return (*swung((seen.x(), seen.y()), -self._angle(), (pw, ph)), 0.0, 0.0)
        a, b = self.to_photo(start), self.to_photo(end)
        left, right = sorted(min(max(v, 0.0), float(pw)) for v in (a.x(), b.x()))
        top, bottom = sorted(min(max(v, 0.0), float(ph)) for v in (a.y(), b.y()))
        x, y, wide, high = swung_box(
            (left, top, right - left, bottom - top), -self._angle(), (pw, ph)
        )
        return round(x, 1), round(y, 1), round(wide, 1), round(high, 1)

    def _take_box(self) -> None:
        """Keep the box that was drawn; a click without a drag takes out the box under it."""
        bench = self.session.bench
        if bench is None or self._box is None:
            return
        drawn = self._drawn()
        if isinstance(self.tool, Boxer):
            tool = self.tool
            self.hold(None)
            tool.done(drawn)
            return
        boxes = list(bench.hand.keep_clear)
        if not drawn[2] and not drawn[3]:
            under = [
                b
                for b in boxes
                if b[0] <= drawn[0] <= b[0] + b[2] and b[1] <= drawn[1] <= b[1] + b[3]
            ]
            if not under:
                return
            boxes.remove(under[-1])
            words = t("Remove a box")
        elif drawn[2] < 1 or drawn[3] < 1:
            return
        else:
            boxes.append(drawn)
            words = t("Keep a box clear")
        made = bench.hand.model_copy(update={"keep_clear": tuple(boxes)})
        self.session.marking.set_marks(made, words)

    def _on_divide(self, at: QPointF) -> bool:
        bench = self.session.bench
        if bench is None or self.effective != SIDES:
            return False
        box = self.to_sheet(bench.line.frame.window)
        near = abs(at.x() - (box.left() + box.width() * self.divide)) <= _GRIP
        return near and box.top() - 20 <= at.y() <= box.bottom() + 20

    def _where(self, at: QPointF) -> str:
        """What lies under the pointer: a corner or side of the frame, its inside, or nothing."""
        bench = self.session.bench
        if bench is None or self.mode != FITTED or self.bare:
            return ""
        box = self.to_sheet(bench.line.frame.window)
        near = box.adjusted(-_GRIP, -_GRIP, _GRIP, _GRIP)
        if not near.contains(at):
            return ""
        vertical = _near(at.y(), box.top(), box.bottom(), "tb")
        horizontal = _near(at.x(), box.left(), box.right(), "lr")
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
        if left and self._took_hold(event.position()):
            return
        self._corner = self._thing_corner(event.position()) if left else ""
        if self._corner:
            return
        if left and self._on_divide(event.position()):
            self._dividing = True
            return
        marks = self.marks_shown()
        mark = nearest_mark(marks, self.on_sheet, event.position()) if marks is not None else ""
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

    def _took_hold(self, at: QPointF) -> bool:
        """Take hold of a caption or a layer under a point, where its finish is open; whether one is held."""
        bench = self.session.bench
        if bench is None or self.effective != FITTED:
            return False
        picture = self.to_sheet(bench.line.frame.window)
        if self.holds_caption and self.caption.take(at, picture):
            return True
        return self.holds_layers and self.layers.take(at, picture)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = event.position()
        if not self._tool_moved(at) and not self._held_moved(at):
            self._hovered(at)

    def _tool_moved(self, at: QPointF) -> bool:
        """A tool, or something that is being drawn, follows the pointer; whether one does."""
        bench = self.session.bench
        if self.tool is not None:
            self.pointer = at
            if self._stroke:
                self._stroke.append(at)
            if self._box is not None:
                self._box = (self._box[0], at)
            if self._pan is None:
                self.update()
                return True
        if self._corner:
            self._drag_thing(at)
            return True
        if self._along is not None:
            self._along = (self._along[0], at)
            self.update()
            return True
        if self._box is not None:
            self._box = (self._box[0], at)
            self.update()
            return True
        if self._dividing and bench is not None:
            box = self.to_sheet(bench.line.frame.window)
            self.move_divide((at.x() - box.left()) / max(1.0, box.width()))
            return True
        if self._on_divide(at):
            self.setCursor(Qt.CursorShape.SplitHCursor)
            return True
        return False

    def _held_moved(self, at: QPointF) -> bool:
        """A mark, a caption, the frame or the sheet itself is dragged; whether one is."""
        if self.caption.move(at) or self.layers.move(at):
            return True
        if self._mark:
            seen = self.to_photo(at)
            self.put_mark(self._mark, (seen.x(), seen.y()))
            return True
        if self._grab is not None:
            where, start, window = self._grab
            if not self._moved and (at - start).manhattanLength() < 2:
                return True  # a press that does not move changes nothing
            self._moved = True
            move = (at - start) / self.scale
            if where == "move":
                self.place(window.left + move.x(), window.top + move.y(), window, "drag")
            else:
                self._resize(where, window, move)
            return True
        if self._pan is not None:
            start, offset = self._pan
            self.offset = offset + at - start
            self.fit = False
            self._changed_view()
            return True
        return False

    def _hovered(self, at: QPointF) -> None:
        """The pointer says what a press would take hold of."""
        marks = self.marks_shown()
        mark = nearest_mark(marks, self.on_sheet, at) if marks is not None else ""
        if mark:
            self.setCursor(Qt.CursorShape.PointingHandCursor)
            self.setToolTip(t("Drag the {mark} to correct it", mark=mark_said(mark)))
            return
        self.setToolTip("")
        self.setCursor(SHAPES[self._where(at)])

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._dividing = False
        self.caption.let_go()
        self.layers.let_go()
        if self._stroke:
            self._end_stroke()
        if self._corner:
            self._corner = ""
            self.session.store.settle()
        if self._along is not None:
            self._level_along()
        if self._box is not None:
            self._take_box()
        if self._mark:
            self._mark = ""
            self.session.store.settle()
        if self._grab is not None:
            self._grab = None
            self.session.store.settle()
            self.touched.emit()
        if self._pan is not None:
            self._pan = None
            self.unsetCursor()
        self.update()

    def _use_tool(self, event: QMouseEvent) -> None:
        if isinstance(self.tool, Dropper):
            tool = self.tool
            spot = self._photo_point(event.position())
            colour = self.session.pixels.colour_at(spot)
            if colour is None:
                self.session.tell(t("There is no picture at that point."), "note")
                return
            self.hold(None)
            tool.done(colour, spot)
        elif isinstance(self.tool, Boxer):
            self._box = (event.position(), event.position())
        elif isinstance(self.tool, Liner):
            self._stroke = [event.position()]
        elif isinstance(self.tool, Brush):
            turned = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._stroke_adds = self.tool.adds != turned
            self._stroke = [event.position()]
            self.pointer = event.position()
            self.update()

    def _end_stroke(self) -> None:
        """Hand the stroke on in photo pixels, without points that change nothing; a line in shares of the picture."""
        if isinstance(self.tool, Liner):
            self._end_line(self.tool)
            return
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
        self.session.marking.add_stroke(
            Stroke(adds=self._stroke_adds, radius=radius, points=points)
        )

    def _end_line(self, tool: Liner) -> None:
        bench = self.session.bench
        points, self._stroke = self._stroke, []
        self.hold(None)
        if bench is None:
            return
        box = self.to_sheet(bench.line.frame.window)
        tool.done(
            [
                ((p.x() - box.left()) / box.width(), (p.y() - box.top()) / box.height())
                for p in points
            ]
        )

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

    def draw_side(self, side: str, move: QPointF) -> None:
        bench = self.session.bench
        if bench is not None:
            self._resize(side, bench.line.frame.window, move)
            self.touched.emit()

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
        self.session.model.set({"frame.window": value}, label, merge)

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
            Qt.Key.Key_Left: (-step, 0),
            Qt.Key.Key_Right: (step, 0),
            Qt.Key.Key_Up: (0, -step),
            Qt.Key.Key_Down: (0, step),
        }
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
            self.session.store.settle()
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
