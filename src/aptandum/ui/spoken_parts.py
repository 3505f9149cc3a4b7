"""What is only painted, as parts that a screen reader finds: children of the plane with a name, a state and an act,
which draw nothing and let the pointer through."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from PyQt6.QtCore import QObject, QRect, Qt, QTimer
from PyQt6.QtGui import QPaintEvent
from PyQt6.QtWidgets import QAbstractButton, QWidget

from aptandum.core.frozen import frozen

_LATER = 200
"""Milliseconds: parts follow once what is painted has come to rest."""
MOST = 300
"""Parts at a time: of what lies in view no more can be told one by one."""


@frozen
class Part:
    """One thing that is painted.

    Attributes:
        name: in words, with its value.
        box: where it lies in the plane.
        act: what pressing it does.
        on: whether it is selected; ``None`` where nothing can be.
    """

    name: str
    box: QRect
    act: Callable[[], None]
    on: bool | None = None


class _Voice(QAbstractButton):
    """A part's object."""

    def __init__(self, plane: QWidget) -> None:
        super().__init__(plane)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.act: Callable[[], None] = lambda: None
        self.clicked.connect(lambda: self.act())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Nothing: the plane has painted it."""

    def take(self, part: Part) -> None:
        """Stand for a part."""
        self.act = part.act
        if self.accessibleName() != part.name:
            self.setAccessibleName(part.name)
        if self.geometry() != part.box:
            self.setGeometry(part.box)
        if self.isCheckable() != (part.on is not None):
            self.setCheckable(part.on is not None)
        if part.on is not None and self.isChecked() != part.on:
            self.setChecked(part.on)
        self.show()


class Follower(QObject):
    """Follows a plane once what is painted has come to rest, and not with every stroke.

    Args:
        plane: the widget that is painted.
    """

    def __init__(self, plane: QWidget) -> None:
        super().__init__(plane)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_LATER)
        self._timer.timeout.connect(self.follow)

    def later(self, *_whatever: object) -> None:
        """Follow soon."""
        self._timer.start()

    def follow(self) -> None:
        """Follow now."""
        raise NotImplementedError


class SpokenParts(Follower):
    """The parts of one plane.

    Args:
        plane: the widget that is painted; of a scroll area its viewport.
        parts: what lies in view just now.
    """

    def __init__(self, plane: QWidget, parts: Callable[[], Iterable[Part]]) -> None:
        super().__init__(plane)
        self._plane, self._parts = plane, parts
        self.voices: list[_Voice] = []

    def follow(self) -> None:
        """Have a part for each thing in view, and none besides."""
        if not self._plane.isVisible():
            return
        n = 0
        for part in self._parts():
            if n == MOST:
                break
            if n == len(self.voices):
                self.voices.append(_Voice(self._plane))
            self.voices[n].take(part)
            n += 1
        for voice in self.voices[n:]:
            voice.hide()
