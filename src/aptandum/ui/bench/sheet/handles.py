"""The handles on the sheet as parts of their own: each has a name and a place, and is moved by the arrow keys."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QPaintEvent
from PyQt6.QtWidgets import QAbstractButton, QWidget

from aptandum.core.figures import show_pixels
from aptandum.ui import theme
from aptandum.ui.bench.marks import GRIP, mark_said
from aptandum.ui.bench.views import FITTED
from aptandum.ui.painting import Painter
from aptandum.ui.spoken_parts import Follower
from aptandum.ui.strings import t

if TYPE_CHECKING:
    from aptandum.core.fitting.plan import Window
    from aptandum.core.photo.marks import Marks
    from aptandum.ui.session import Session

_SIDES = {"l": t("left side of the frame"), "t": t("upper side of the frame"), "r": t("right side of the frame"), "b": t("lower side of the frame")}  # fmt: skip
_KEYS = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, -1),
    Qt.Key.Key_Down: (0, 1),
}
_FAR = 10


class Handle(QAbstractButton):
    """One handle: reached by Tab, moved by the arrow keys (with Shift ten times as far); the pointer takes hold of what
    the sheet has painted under it."""

    def __init__(self, plane: QWidget, move: Callable[[int, int], None]) -> None:
        super().__init__(plane)
        self._move = move
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setFixedSize(2 * GRIP, 2 * GRIP)
        self.setAccessibleDescription(t("The arrow keys move it; with Shift ten times as far."))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.hasFocus():
            painter = Painter(self)
            painter.setPen(theme.colour("blue"))
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
            painter.drawRect(self.rect().adjusted(1, 1, -2, -2))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        way = _KEYS.get(Qt.Key(event.key()))
        if way is None:
            super().keyPressEvent(event)
            return
        far = _FAR if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        self._move(way[0] * far, way[1] * far)

    def put(self, at: QPointF, name: str) -> None:
        """Lie at a place of the sheet, under a name."""
        self.setAccessibleName(name)
        self.move(round(at.x()) - GRIP, round(at.y()) - GRIP)
        self.show()


class Handled(QWidget):
    """What handles have to know of the sheet they lie on."""

    session: Session
    bare: bool

    @property
    def effective(self) -> str:
        """What is shown."""
        raise NotImplementedError

    def to_sheet(self, window: Window) -> QRectF:
        """A window of the photo on the sheet."""
        raise NotImplementedError

    def on_sheet(self, x: float, y: float) -> QPointF:
        """A point of the photo on the sheet."""
        raise NotImplementedError

    def marks_shown(self) -> Marks | None:
        """The marks that are drawn."""
        raise NotImplementedError

    def put_mark(self, name: str, at: tuple[float, float]) -> None:
        """Put a mark at a place of the photo as it is shown."""
        raise NotImplementedError


class Handles(Follower):
    """The sides of the frame and the marks of the head, as far as the sheet shows them.

    Args:
        sheet: on which they lie.
        resize: draws a side of the frame by so much of the photo's pixels.
    """

    def __init__(self, sheet: Handled, resize: Callable[[str, QPointF], None]) -> None:
        super().__init__(sheet)
        self.sheet, self._resize = sheet, resize
        self.held: dict[str, Handle] = {}

    def follow(self) -> None:
        """Lie where the sheet has its handles."""
        spots = {} if self.sheet.session.bench is None else self._sides() | self._marks()
        for key, (at, name) in spots.items():
            self._of(key).put(at, name)
        for key, handle in self.held.items():
            if key not in spots:
                handle.hide()

    def _sides(self) -> dict[str, tuple[QPointF, str]]:
        bench = self.sheet.session.bench
        if bench is None or self.sheet.effective != FITTED or self.sheet.bare:
            return {}
        window = bench.line.frame.window
        box = self.sheet.to_sheet(window)
        middle = box.center()
        places = {
            "l": (QPointF(box.left(), middle.y()), window.left),
            "t": (QPointF(middle.x(), box.top()), window.top),
            "r": (QPointF(box.right(), middle.y()), window.right),
            "b": (QPointF(middle.x(), box.bottom()), window.bottom),
        }
        return {
            key: (at, t("{name}: {value}", name=_SIDES[key], value=show_pixels(round(value))))
            for key, (at, value) in places.items()
        }

    def _marks(self) -> dict[str, tuple[QPointF, str]]:
        marks = self.sheet.marks_shown()
        if marks is None:
            return {}
        made: dict[str, tuple[QPointF, str]] = {}
        for key in marks.handles:
            x, y = getattr(marks, key)
            said = t(
                "{mark}: {x} to the right, {y} down",
                mark=mark_said(key),
                x=show_pixels(round(x)),
                y=show_pixels(round(y)),
            )
            made[key] = self.sheet.on_sheet(x, y), said
        return made

    def _of(self, key: str) -> Handle:
        if key not in self.held:
            made = self._move_side if key in _SIDES else self._move_mark
            self.held[key] = Handle(self.sheet, lambda dx, dy: made(key, dx, dy))
        return self.held[key]

    def _move_side(self, key: str, dx: int, dy: int) -> None:
        bench = self.sheet.session.bench
        if bench is not None:
            step = 1 / bench.line.frame.scale  # of the photo's pixels for one of the file's
            self._resize(key, QPointF(dx * step, dy * step))
            self.follow()

    def _move_mark(self, key: str, dx: int, dy: int) -> None:
        marks = self.sheet.marks_shown()
        if marks is not None:
            x, y = getattr(marks, key)
            self.sheet.put_mark(key, (x + dx, y + dy))
            self.follow()
