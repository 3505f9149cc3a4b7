"""The door of the first screen for rules in words: typed, pasted or dropped, and read as they come."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import replace
from functools import partial
from typing import Any

from PyQt6.QtCore import QEvent, QMimeData, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QPlainTextEdit, QScrollArea, QVBoxLayout, QWidget

from aptandum.core.errors import AptandumError
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.rulebook.toml import check_clause
from aptandum.core.rulebook.words import Draft, Reading, read
from aptandum.core.rulebook.words.patterns import search
from aptandum.core.rulebook.words.sources import of_html, text_of
from aptandum.core.sizes.said import clause_said
from aptandum.ui.bench.mockup_view import Said
from aptandum.ui.rulebooks.fields import TextField
from aptandum.ui.session import Session
from aptandum.ui.strings import t, t_n
from aptandum.ui.widgets import button, clear, label

SOURCES = (".txt", ".md", ".markdown", ".html", ".htm", ".pdf")
"""Endings of files whose text is read as rules."""

_SOON_MS = 120
_MOST_LINES = 40


def words_on(data: QMimeData | None) -> str:
    """The text of a drop or of the clipboard; tables and lists of a page are read as such."""
    if data is None:
        return ""
    if data.hasHtml() and search(r"<(?:td|th|li|h[1-6])\b", data.html(), int(re.I)):
        return of_html(data.html())
    return data.text() if data.hasText() else ""


class WordsField(QPlainTextEdit):
    """Where rules are typed or pasted; Ctrl+Return takes them, Tab goes on."""

    taken = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(t("Rules in words"))
        self.setPlaceholderText(t("413 x 531 px, jpeg, at most 200 kB"))
        self.setTabChangesFocus(True)
        self.setMinimumHeight(34)
        self.setMaximumHeight(74)

    def event(self, event: QEvent | None) -> bool:
        """Ctrl+Return is for this field while it is typed in, whatever else it means."""
        override = event is not None and event.type() == QEvent.Type.ShortcutOverride
        if override and isinstance(event, QKeyEvent) and _takes(event):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Ctrl+Return is the button below."""
        assert event is not None
        if _takes(event):
            self.taken.emit()
            return
        super().keyPressEvent(event)

    def insertFromMimeData(self, source: QMimeData | None) -> None:
        """What is pasted is text; tables and lists of a page come as such."""
        self.insertPlainText(words_on(source))


def _takes(event: QKeyEvent) -> bool:
    enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
    return enter and bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)


class WordsDoor(QWidget):
    """Reads what is typed and says back what was understood; used, it is a brief of the docket.

    Signals:
        used: the name of the brief that was made.
    """

    used = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.reading: Reading | None = None
        self.answers: dict[Key, Fields | None] = {}
        self.field = WordsField()
        self.body = TextField(t("Name of the body"), t("whose rules they are"))
        self.use = button(t("Use these rules"), "line", self.take)
        self.use.setToolTip(t("Ctrl+Return in the field above"))
        self.state = label("", "second", wrap=True)
        self.said = QVBoxLayout()
        self.said.setSpacing(2)
        self._lay_out()
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_SOON_MS)
        self._soon.timeout.connect(self._read)
        self.field.textChanged.connect(self._typed)
        self.field.taken.connect(self.take)
        self._show(None)

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(self.field)
        column.addWidget(self.state)
        inner = QWidget()
        inner.setProperty("role", "plain")
        inside = QVBoxLayout(inner)
        inside.setContentsMargins(0, 0, 14, 0)
        inside.addLayout(self.said)
        inside.addStretch(1)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QScrollArea.Shape.NoFrame)
        self.area.setMinimumHeight(38)
        self.area.setMaximumHeight(132)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setWidget(inner)
        column.addWidget(self.area)
        row = QHBoxLayout()
        row.addWidget(self.body, 1)
        row.addWidget(self.use)
        self.row = QWidget()
        self.row.setLayout(row)
        row.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.row)

    # -- reading --------------------------------------------------------------------------------

    def read_source(self, path: str) -> bool:
        """Put the text of a file into the field; False where it has none, which is said."""
        try:
            text = text_of(path)
        except AptandumError as error:
            self.session.tell(str(error))
            return False
        self.field.setPlainText(text)
        self.field.setFocus()
        return True

    def paste(self, text: str) -> None:
        """Put a text where the cursor is, and go on typing there."""
        self.field.insertPlainText(text)
        self.field.setFocus()

    def _typed(self) -> None:
        self.use.setEnabled(False)
        self._soon.start()

    def _read(self) -> None:
        text = self.field.toPlainText()
        if not text.strip():
            self._show(None)
            return
        self.session.jobs.latest(
            "words", lambda _late: read(text), self._show, lambda why: self.session.tell(why)
        )

    def _show(self, reading: Reading | None) -> None:
        """Say back what was understood, the doubtful first."""
        self.reading = reading
        clear(self.said)
        drafts = sorted(reading.drafts, key=lambda d: d.certainty == "sure") if reading else []
        for draft in drafts[:_MOST_LINES]:
            self.said.addWidget(self._row(draft))
        for part in (self.area, self.row):
            part.setVisible(bool(drafts))
        self.use.setEnabled(bool(drafts))
        self.state.setVisible(reading is not None)
        if reading is None:
            return
        doubtful = sum(d.certainty != "sure" and key_of(d) not in self.answers for d in drafts)
        if not drafts:
            self.state.setText(t("No rule is understood so far."))
        elif doubtful:
            self.state.setText(
                t_n(
                    "{n} of {all} can be read in another way.",
                    "{n} of {all} can be read in another way.",
                    doubtful,
                    all=len(drafts),
                )
            )
        else:
            self.state.setText(
                t_n("{n} rule is understood.", "{n} rules are understood.", len(drafts))
            )

    def _row(self, draft: Draft) -> QWidget:
        """A draft in a line, and where it is doubtful what it can be."""
        if draft.certainty == "sure":
            return Said("meets", _said(draft.fields, draft.quote))
        made = QWidget()
        row = QHBoxLayout(made)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        key = key_of(draft)
        if key in self.answers:
            fields = self.answers[key]
            said = _said(fields, draft.quote) if fields is not None else t("left out")
            row.addWidget(Said("meets" if fields is not None else "idle", said), 1)
            row.addWidget(button(t("Ask again"), "link", partial(self._answer, key, "")))
            return made
        row.addWidget(Said("asks", _question(draft)), 1)
        choices = [draft.fields, *draft.readings] if "ask" not in draft.fields else [draft.fields]
        for fields in choices:
            row.addWidget(button(_choice(fields), "link", partial(self._answer, key, fields)))
        row.addWidget(button(t("Leave out"), "link", partial(self._answer, key, None)))
        return made

    def _answer(self, key: Key, fields: Fields | str | None) -> None:
        """Take what a person says of a doubtful rule; an empty text: nothing yet."""
        if isinstance(fields, str):
            self.answers.pop(key, None)
        else:
            self.answers[key] = fields
        self._show(self.reading)

    def answered(self, reading: Reading) -> Reading:
        """A reading with what was said of its doubtful drafts; those of which nothing was said are
        questions in the body's words, so that no rule holds that nobody meant."""
        made = []
        for draft in reading.drafts:
            if draft.certainty != "sure":
                fields = self.answers.get(key_of(draft), {"ask": " ".join(draft.quote.split())})
                if fields is None:
                    continue
                draft = replace(draft, fields=fields, certainty="sure", readings=())
            made.append(draft)
        return replace(reading, drafts=tuple(made))

    # -- using ------------------------------------------------------------------------------------

    def take(self) -> None:
        """Make the rules a brief of the docket, of its first heading."""
        self._soon.stop()
        reading = self.answered(read(self.field.toPlainText()))
        if not reading.drafts:
            self._show(reading)
            return
        name = self.session.library.take_words(reading, self.body.text().strip())
        self.used.emit(name)


Fields = Mapping[str, Any]
Key = tuple[int, int, str]
"""A draft by where its number stands, and what it is about."""


def key_of(draft: Draft) -> Key:
    """What tells a draft from the others of a text."""
    start, end = draft.numbers[0] if draft.numbers else (draft.start, draft.end)
    return start, end, str(draft.fields.get("measure", ""))


def _said(fields: Fields, quote: str) -> str:
    """A draft's keys in a few words."""
    clause, _problems = check_clause(fields)
    said = clause_said(clause) if clause is not None else quote
    if clause is not None and clause.strength == "should":
        return t("{clause}: recommended", clause=said)
    return said


def _question(draft: Draft) -> str:
    """What is doubtful."""
    if "ask" in draft.fields and draft.readings:
        words = _said(draft.readings[0], draft.quote)
        return t("{clause}: for that the printed size has to be known.", clause=words)
    return t("{clause}: is that meant?", clause=_said(draft.fields, draft.quote))


def _choice(fields: Fields) -> str:
    """One reading on its button: what is measured, or which bound."""
    if "ask" in fields:
        return t("Ask me")
    clause, _problems = check_clause(fields)
    measure = REGISTRY.get(str(fields.get("measure")))
    if clause is None or measure is None or clause.limit is None:
        return t("This")
    if measure.kind.name == "bytes":
        return clause.limit.says(measure.kind)
    return measure.title


__all__ = ["SOURCES", "WordsDoor"]
