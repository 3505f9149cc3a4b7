"""Rows of a card that stand for one setting each: number, share, choice, colour, switch."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QColor, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QAbstractButton,
    QCheckBox,
    QHBoxLayout,
    QLineEdit,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.figures import show_bytes, show_number
from aptandum.ui import theme
from aptandum.ui.bench.tools import Dropper
from aptandum.ui.painting import Painter
from aptandum.ui.session import Session
from aptandum.ui.strings import t
from aptandum.ui.widgets import Choice, NumberField, button, label


class Field(QWidget):
    """One setting's row; :meth:`take` shows the setting's value."""

    def __init__(self, session: Session, key: str, name: str) -> None:
        super().__init__()
        self.session, self.key, self.name = session, key, name

    def take(self, value: Any) -> None:
        """Show a value of the setting."""

    def put(self, value: object, merge: str = "") -> None:
        """Set the setting as one step that can be undone; steps of one ``merge`` are one."""
        trouble = self.session.model.set({self.key: value}, self.name, merge)
        if trouble:
            self.session.tell(trouble)


class NumberRow(Field):
    """A number that can be typed."""

    def __init__(
        self,
        session: Session,
        key: str,
        name: str,
        unit: str = "",
        whole: bool = False,
        empty: str = "",
    ) -> None:
        super().__init__(session, key, name)
        self.whole, self.empty = whole, empty
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(label(name, "second"), 1)
        self.field = NumberField(name)
        self.field.taken.connect(self._taken)
        layout.addWidget(self.field)
        self.unit = label(unit, "second")
        self.unit.setFixedWidth(22)
        if not unit:  # shown before it stands in a row, it would be a window of its own
            self.unit.hide()
        layout.addWidget(self.unit)

    def _taken(self, value: float) -> None:
        self.put(round(value) if self.whole else round(value, 2))

    def take(self, value: Any) -> None:
        """Show the setting's value without setting it anew."""
        self.field.show_value(float(value or 0))
        if value is None and self.empty and not self.field.isModified():
            self.field.setText("")
            self.field.setPlaceholderText(self.empty)


class BytesRow(Field):
    """A number of bytes, typed with its unit; empty where there is none."""

    def __init__(self, session: Session, key: str, name: str) -> None:
        super().__init__(session, key, name)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(label(name, "second"), 1)
        self.field = QLineEdit()
        self.field.setProperty("role", "number")
        self.field.setAccessibleName(name)
        self.field.setPlaceholderText(t("none"))
        self.field.setFixedWidth(96)
        self.field.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.field.setToolTip(t("With its unit: 200 kB, 1.5 MB, 60 KiB"))
        self.field.editingFinished.connect(self._typed)
        layout.addWidget(self.field)

    def _typed(self) -> None:
        if self.field.isModified():
            self.field.setModified(False)
            self.put(self.field.text().strip() or None)

    def take(self, value: Any) -> None:
        """Show the setting's value without setting it anew."""
        if self.field.hasFocus() and self.field.isModified():
            return
        text = show_bytes(value) if value is not None else ""
        if value is not None and value % 1000:
            text = str(value)  # to the byte, where it is not round
        if self.field.text() != text:
            self.field.setText(text)
        self.field.setModified(False)


class _Slide(Field):
    """A slide between two whole numbers, with its figure; ``per`` of its steps are one of the setting's."""

    def __init__(
        self,
        session: Session,
        key: str,
        name: str,
        reach: tuple[int, int, int],
        said: Callable[[float], str],
        per: int = 1,
    ) -> None:
        super().__init__(session, key, name)
        self.said, self.per = said, per
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        head = QHBoxLayout()
        head.addWidget(label(name, "second"), 1)
        self.figure = label("", "figure")
        head.addWidget(self.figure)
        layout.addLayout(head)
        least, most, page = reach
        self.slide = QSlider(Qt.Orientation.Horizontal)
        self.slide.setRange(least, most)
        self.slide.setPageStep(page)
        self.slide.setAccessibleName(name)
        self.slide.valueChanged.connect(self._moved)
        self.slide.sliderReleased.connect(session.store.settle)
        layout.addWidget(self.slide)
        self._quiet = False

    def _moved(self, at: int) -> None:
        value = at / self.per if self.per > 1 else at
        self.figure.setText(self.said(value))
        if not self._quiet:
            self.put(value, merge=self.key)

    def take(self, value: Any) -> None:
        """Show the setting's value without setting it anew."""
        self._quiet = True
        self.slide.setValue(round(float(value) * self.per))
        self._quiet = False
        self.figure.setText(self.said(float(value)))


class StopsRow(_Slide):
    """Stops of light on a slide, by tenths, nought in the middle."""

    def __init__(self, session: Session, key: str, name: str, less: str, more: str) -> None:
        def said(stops: float) -> str:
            words = more if stops > 0 else less
            return words.format(n=show_number(abs(stops), 2)) if stops else t("as it is")

        super().__init__(session, key, name, (-30, 30, 5), said, per=10)


class ShareRow(_Slide):
    """0 to 100 % on a slide, with its figure."""

    def __init__(self, session: Session, key: str, name: str, most: int = 100) -> None:
        super().__init__(session, key, name, (0, most, 10), lambda share: f"{round(share)} %")


class ChoiceRow(Field):
    """One of several."""

    def __init__(
        self, session: Session, key: str, name: str, choices: Sequence[tuple[Any, str]]
    ) -> None:
        super().__init__(session, key, name)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(8)
        layout.addWidget(label(name, "second"))
        self.choice = Choice()
        self.choice.setAccessibleName(name)
        for value, said in choices:
            self.choice.addItem(said, value)
        self.choice.setSizeAdjustPolicy(
            Choice.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.choice.setMinimumContentsLength(6)
        self.choice.activated.connect(lambda: self.put(self.choice.currentData()))
        layout.addWidget(self.choice, 1)

    def take(self, value: Any) -> None:
        """Show the setting's value without setting it anew."""
        self.choice.setCurrentIndex(max(0, self.choice.findData(value)))


class SwitchRow(Field):
    """On or off."""

    def __init__(self, session: Session, key: str, name: str) -> None:
        super().__init__(session, key, name)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        self.tick = QCheckBox(name)
        self.tick.clicked.connect(lambda on: self.put(on))
        layout.addWidget(self.tick)

    def take(self, value: Any) -> None:
        """Show the setting's value without setting it anew."""
        self.tick.setChecked(bool(value))


class Chip(QAbstractButton):
    """A colour to look at and, where it can be pressed, to choose."""

    def __init__(self, colour: str = "", wide: int = 30) -> None:
        super().__init__()
        self.colour = colour
        self.setFixedSize(wide, 26)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def sizeHint(self) -> QSize:
        return QSize(self.width(), 26)

    def show_colour(self, colour: str) -> None:
        """Show another colour, as ``#RRGGBB``."""
        if colour != self.colour:
            self.colour = colour
            self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        box = self.rect().adjusted(1, 3, -2, -4)
        if self.colour:
            painter.fillRect(box, QColor(self.colour))
        pen = QPen(theme.colour("ink2"), 1)
        if not self.colour:
            pen.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(pen)
        painter.drawRect(box)
        if self.isChecked() or self.hasFocus():
            painter.setPen(QPen(theme.colour("blue"), 2))
            painter.drawRect(self.rect().adjusted(0, 1, -1, -2))


class ColourRow(Field):
    """A colour: typed as ``#RRGGBB``, or taken from the picture with the dropper."""

    def __init__(
        self,
        session: Session,
        key: str,
        name: str,
        unset: str = "",
        picked: Callable[[str, tuple[float, float]], None] | None = None,
    ) -> None:
        super().__init__(session, key, name)
        self.unset = unset
        self.picked = picked
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(3)
        outer.addWidget(label(name, "second"))
        layout = QHBoxLayout()
        layout.setSpacing(6)
        outer.addLayout(layout)
        self.chip = Chip()
        self.chip.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        layout.addWidget(self.chip)
        self.field = QLineEdit()
        self.field.setProperty("role", "number")
        self.field.setAccessibleName(name)
        self.field.setPlaceholderText(unset)
        self.field.setToolTip(t("Two digits each of red, green and blue: #27508C"))
        self.field.editingFinished.connect(self._typed)
        layout.addWidget(self.field, 1)
        self.pick = button(t("From picture"), "link", self.drop)
        self.pick.setToolTip(t("Take the colour under the next click on the sheet"))
        layout.addWidget(self.pick)

    def drop(self) -> None:
        """Have the next click on the picture give the colour."""
        words = t("Click for: {name}", name=self.name.lower())
        self.session.requests.tool.emit(Dropper(words, self._dropped))

    def _dropped(self, colour: str, at: tuple[float, float]) -> None:
        if self.picked is not None:
            self.picked(colour, at)
        else:
            self.put(colour)

    def _typed(self) -> None:
        if not self.field.isModified():
            return
        self.field.setModified(False)
        text = self.field.text().strip()
        if text and not text.startswith("#"):
            text = "#" + text
        if text and not QColor.isValidColorName(text):
            self.session.tell(t("“{text}” is no colour; expected such as #27508C.", text=text))
            return
        self.put(QColor(text).name().upper() if text else None)

    def take(self, value: Any) -> None:
        """Show the setting's value without setting it anew."""
        self.chip.show_colour(value or "")
        if not (self.field.hasFocus() and self.field.isModified()):
            if self.field.text() != (value or ""):
                self.field.setText(value or "")
            self.field.setModified(False)
