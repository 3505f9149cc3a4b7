"""Small parts that several places use."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QElapsedTimer, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPaintEvent
from PyQt6.QtWidgets import (
    QApplication,
    QComboBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.arithmetic import compute
from aptandum.core.figures import grouped, show_number
from aptandum.core.numbers import QuantityError
from aptandum.ui import theme
from aptandum.ui.painting import Painter
from aptandum.ui.strings import t


def label(text: str = "", role: str = "", wrap: bool = False) -> QLabel:
    """Words as they stand: no markup is read in them."""
    made = QLabel(text)
    if role:
        made.setProperty("role", role)
    made.setWordWrap(wrap)
    made.setTextFormat(Qt.TextFormat.PlainText)
    return made


def restyle(widget: QWidget) -> None:
    """Let the style sheet see that a property of a widget has changed."""
    style = widget.style()
    if style is not None:
        style.unpolish(widget)
        style.polish(widget)


def hairline() -> QFrame:
    """A thin line."""
    made = QFrame()
    made.setProperty("role", "hairline")
    return made


def scrolled(inside: QWidget) -> QScrollArea:
    """What is scrolled from above to below where it has no room; the keys go on to what is inside."""
    made = QScrollArea()
    made.setWidgetResizable(True)
    made.setFrameShape(QFrame.Shape.NoFrame)
    made.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    made.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    made.setWidget(inside)
    return made


def button(text: str, role: str = "", act: Callable[[], object] | None = None) -> QPushButton:
    """A button, and what pressing it does."""
    made = QPushButton(text)
    if role:
        made.setProperty("role", role)
    if act is not None:
        made.clicked.connect(lambda: act())
    return made


def clear(layout: QLayout) -> None:
    """Take every widget and inner layout out of a column or a grid."""
    while layout.count():
        item = layout.takeAt(0)
        if item is None:
            break
        widget, inner = item.widget(), item.layout()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
        elif isinstance(inner, (QVBoxLayout, QHBoxLayout)):
            while inner.count():
                part = inner.takeAt(0)
                if part is not None and part.widget() is not None:
                    part.widget().hide()  # type: ignore[union-attr]
                    part.widget().deleteLater()  # type: ignore[union-attr]
            inner.deleteLater()


def empty_state(heading: str, words: str, *buttons: QPushButton) -> QWidget:
    """What stands in a place where there is nothing yet: what it is for, and how to begin."""
    made = QWidget()
    column = QVBoxLayout(made)
    column.addStretch(2)
    for part in (label(heading, "big"), label(words, "second", wrap=True)):
        part.setAlignment(Qt.AlignmentFlag.AlignCenter)
        part.setMaximumWidth(600)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(part, 8)
        row.addStretch(1)
        column.addLayout(row)
    column.addSpacing(14)
    row = QHBoxLayout()
    row.addStretch(1)
    for one in buttons:
        row.addWidget(one)
    row.addStretch(1)
    column.addLayout(row)
    column.addStretch(3)
    return made


class Elided(QLabel):
    """A line that gives way: what does not fit is told by the tool tip."""

    def __init__(self, role: str = "second") -> None:
        super().__init__()
        self.setProperty("role", role)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        painter.setPen(theme.colour("ink2" if self.property("role") == "second" else "ink"))
        shown = self.fontMetrics().elidedText(
            self.text(), Qt.TextElideMode.ElideRight, self.width()
        )
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignVCenter, shown)
        self.setToolTip(self.text() if shown != self.text() else "")


class Yielding(Elided):
    """A line that is as long as its words where there is room, and the first to give way where there is
    not: nothing beside it loses any."""

    def __init__(self, role: str = "second") -> None:
        super().__init__(role)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Preferred)

    def minimumSizeHint(self) -> QSize:
        return QSize(theme.px(24), super().minimumSizeHint().height())


class Row(QWidget):
    """A name on the left and its figure on the right."""

    def __init__(self, name: str, figure: str = "") -> None:
        super().__init__()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(8)
        self.name = label(name, "second")
        self.figure = label(figure, "figure")
        self.figure.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.figure.setWordWrap(True)
        self.figure.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.figure.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.figure.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        layout.addWidget(self.name)
        layout.addWidget(self.figure, 1)

    def take(self, figure: str, token: str = "") -> None:
        """Show another figure, in a palette colour or the ordinary one."""
        self.figure.setText(figure)
        style = f"color: {getattr(theme.palette(), token)}" if token else ""
        if style != self.figure.styleSheet():
            self.figure.setStyleSheet(style)


class Choice(QComboBox):
    """One of several, with an arrow in the palette's ink; typing its first letters, spaces and
    all, chooses it."""

    def __init__(self) -> None:
        super().__init__()
        self._typed = ""
        self._since = QElapsedTimer()
        self._since.start()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if self._since.elapsed() > QApplication.keyboardInputInterval():
            self._typed = ""
        letter = event.text()
        plain = not event.modifiers() & ~Qt.KeyboardModifier.ShiftModifier
        if plain and letter.isprintable() and letter and (self._typed or letter != " "):
            self._typed += letter
            self._since.restart()
            at = self.findText(self._typed, Qt.MatchFlag.MatchStartsWith)
            if at >= 0 and at != self.currentIndex():
                self.setCurrentIndex(at)
                self.activated.emit(at)
            return
        super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = Painter(self)
        arrow = theme.icon("chevron-down", "ink2", 16)
        arrow.paint(painter, self.width() - 24, (self.height() - 16) // 2, 16, 16)


class NumberField(QLineEdit):
    """A number that can be typed as a sum with units; Enter or leaving the field takes it."""

    taken = pyqtSignal(float)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setProperty("role", "number")
        self.setAccessibleName(name)
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.setFixedWidth(76)
        self.whole: float | None = None
        self.ppi: float | None = None
        self._value = 0.0
        self.editingFinished.connect(self._take)

    def sizeHint(self) -> QSize:
        return QSize(76, 28)

    def show_value(self, value: float) -> None:
        """Show a value, unless the person is typing into the field."""
        self._value = value
        if not (self.hasFocus() and self.isModified()):
            self._show()

    def _show(self) -> None:
        whole = abs(self._value - round(self._value)) < 0.005
        text = grouped(round(self._value)) if whole else show_number(self._value, 2)
        if self.text() != text:
            self.setText(text)
        self.setModified(False)

    def _take(self) -> None:
        if not self.isModified():
            return
        typed = self.text().replace("\u00a0", "").replace("\u202f", "")
        try:
            value = compute(typed, whole=self.whole, ppi=self.ppi)
        except QuantityError as error:
            self._bad(t("Expected {what}.", what=error))
            return
        self._bad("")
        self.setModified(False)
        self.taken.emit(value)
        self._show()

    def _bad(self, why: str) -> None:
        self.setProperty("bad", "true" if why else "false")
        self.setToolTip(why)
        restyle(self)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Escape:
            self._bad("")
            self._show()
            return
        super().keyPressEvent(event)


_MOST_TOLD = 4
"""Messages that stand one below the other at most."""


class MessageStrip(QFrame):
    """What happened, to which file, and what to do: one line above the places, put away by hand."""

    def __init__(self) -> None:
        super().__init__()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(16, 7, 8, 7)
        self.text = label("", wrap=True)
        self.text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.away = QToolButton()
        self.away.setAutoRaise(True)
        self.away.setAccessibleName(t("Close the message"))
        self.away.setToolTip(t("Close"))
        self.away.clicked.connect(self.hide)
        self.kind = ""
        layout.addWidget(self.text, 1)
        layout.addWidget(self.away)
        self.hide()

    def say(self, kind: str, sentence: str) -> None:
        """Show a sentence. Trouble that nobody has put away yet stays above what comes after it."""
        held = self.text.text().split("\n\n") if self.kind == "trouble" and self.isVisible() else []
        held = [one for one in held if one != sentence][1 - _MOST_TOLD :]
        self.kind = "trouble" if held else kind
        said = "\n\n".join([*held, sentence])
        self.restyle()
        self.text.setText(said)
        self.setAccessibleName(said)
        self.show()

    def restyle(self) -> None:
        """Follow the palette."""
        p = theme.palette()
        back, ink = (p.misses_soft, p.misses) if self.kind == "trouble" else (p.blue_soft, p.ink)
        self.setStyleSheet(
            f"MessageStrip {{ background: {back}; border-bottom: 1px solid {p.hairline}; }}"
            f"QToolButton {{ border: none; background: transparent; }} QLabel {{ color: {ink}; }}"
        )
        self.away.setIcon(theme.icon("x", "ink2"))
