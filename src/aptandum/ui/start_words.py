"""The door of the first screen for rules in words: typed, pasted or dropped, and read as they come."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from aptandum.core.rulebook.words import Reading
from aptandum.ui.session import Session
from aptandum.ui.strings import t
from aptandum.ui.widgets import button, label
from aptandum.ui.words.field import WordsField
from aptandum.ui.words.rows import WordRows, against
from aptandum.ui.words.shared import BodyField, bind, not_rules, state_of

SOURCES = (".txt", ".md", ".markdown", ".html", ".htm", ".pdf")
"""Endings of files whose text is read as rules."""

_MOST_LINES = 40


class WordsDoor(QWidget):
    """Reads what is typed and says back what was understood; used, it is a brief of the docket.

    Signals:
        used: the name of the brief that was made.
        full_asked: the whole reading is wanted, beside its words.
    """

    used = pyqtSignal(str)
    full_asked = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.worded = session.worded
        self.field = WordsField()
        self.body = BodyField(self.worded)
        self.use = button(t("Use these rules"), "line", self.take)
        self.use.setToolTip(t("Ctrl+Return in the field above"))
        self.keep = button(t("Keep on the shelf"), "", self.put_on_shelf)
        self.keep.setToolTip(t("Saves them as a rulebook of your own, for other dockets too"))
        self.state = label("", "second", wrap=True)
        self.full = button(t("Beside their words"), "link", self.full_asked.emit)
        self.full.setToolTip(t("Every rule beside the words that it comes from"))
        self.asides = label("", "second", wrap=True)
        self.rows = WordRows(self.worded, _MOST_LINES)
        self._lay_out()
        bind(self.field, self.worded)
        self.field.textChanged.connect(lambda: self.use.setEnabled(False))
        self.field.taken.connect(self.take)
        self.field.cursorPositionChanged.connect(self._at_cursor)
        self.rows.lit.connect(self.field.light)
        self.worded.changed.connect(self._show)
        self._show()

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(self.field)
        top = QHBoxLayout()
        top.addWidget(self.state, 1)
        top.addWidget(self.full, 0, Qt.AlignmentFlag.AlignTop)
        column.addLayout(top)
        self.rows.setProperty("role", "plain")
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QScrollArea.Shape.NoFrame)
        self.area.setMinimumHeight(38)
        self.area.setMaximumHeight(132)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setWidget(self.rows)
        column.addWidget(self.area, 100)
        column.addWidget(self.asides)
        row = QHBoxLayout()
        row.addWidget(self.body, 1)
        row.addWidget(self.keep)
        row.addWidget(self.use)
        self.row = QWidget()
        self.row.setLayout(row)
        row.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.row)
        column.addStretch(1)  # before anything is typed, the field stands below its words

    @property
    def reading(self) -> Reading | None:
        """What was understood so far."""
        return self.worded.reading

    # -- reading --------------------------------------------------------------------------------

    def read_source(self, path: str) -> bool:
        """Put the text of a file into the field; False where it has none, which is said."""
        read = self.worded.put_source(path)
        if read:
            self.field.setFocus()
        return read

    def paste(self, text: str) -> None:
        """Put a text where the cursor is, and go on typing there."""
        self.field.insertPlainText(text)
        self.field.setFocus()

    def _show(self) -> None:
        """Say how it stands."""
        reading = self.worded.reading
        self.asides.setText(not_rules(reading, self.worded.text) if reading else "")
        self.asides.setVisible(bool(self.asides.text()))
        drafts = reading.drafts if reading else ()
        for part in (self.area, self.row):
            part.setVisible(bool(drafts))
        self.full.setVisible(reading is not None)
        self.use.setEnabled(bool(drafts) and self.worded.current)
        self.state.setVisible(reading is not None)
        if reading is not None:
            self.state.setText(" ".join([state_of(self.worded), *against(self.worded)[:1]]))

    def _at_cursor(self) -> None:
        """The rule of the words that the cursor is in is shown and lit."""
        row = self.rows.light_at(self.field.position() if self.field.hasFocus() else None)
        if row is not None:
            self.area.ensureWidgetVisible(row, 0, 2)

    # -- using ------------------------------------------------------------------------------------

    def take(self) -> None:
        """Make the rules a brief of the docket, of its first heading."""
        name = self.worded.take(self.body.given())
        if name:
            self.used.emit(name)

    def put_on_shelf(self) -> None:
        """Keep the rules as a rulebook of the person's own; nothing there is replaced."""
        self.worded.keep(self.body.given())


__all__ = ["SOURCES", "WordsDoor"]
