"""The door of the first screen for rules in words: typed, pasted or dropped, and read as they come."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from functools import partial
from typing import Any

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from aptandum.core.errors import AptandumError
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.rulebook.toml import check_clause
from aptandum.core.rulebook.words import Draft, Reading, read
from aptandum.core.rulebook.words.sources import text_of
from aptandum.core.sizes.said import clause_said
from aptandum.ui import theme
from aptandum.ui.bench.mockup_view import Said
from aptandum.ui.rulebooks.fields import TextField
from aptandum.ui.session import Session
from aptandum.ui.strings import t, t_n
from aptandum.ui.widgets import button, clear, label
from aptandum.ui.words_field import WordsField

SOURCES = (".txt", ".md", ".markdown", ".html", ".htm", ".pdf")
"""Endings of files whose text is read as rules."""

_SOON_MS = 120
_MOST_LINES = 40
_MOST_NUMBERS = 8


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
        self.keep = button(t("Keep on the shelf"), "", self.put_on_shelf)
        self.keep.setToolTip(t("Saves them as a rulebook of your own, for other dockets too"))
        self.state = label("", "second", wrap=True)
        self.asides = label("", "second", wrap=True)
        self.rows: dict[Key, QWidget] = {}
        self.said = QVBoxLayout()
        self.said.setSpacing(2)
        self._lay_out()
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_SOON_MS)
        self._soon.timeout.connect(self._read)
        self.field.textChanged.connect(self._typed)
        self.field.taken.connect(self.take)
        self.field.cursorPositionChanged.connect(self._at_cursor)
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
        column.addWidget(self.asides)
        row = QHBoxLayout()
        row.addWidget(self.body, 1)
        row.addWidget(self.keep)
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
        self.rows = {}
        for draft in drafts[:_MOST_LINES]:
            row = self._row(draft)
            row.installEventFilter(self)
            self.rows[key_of(draft)] = row
            self.said.addWidget(row)
        answered = {key for key, fields in self.answers.items() if fields is not None}
        self.field.mark(reading, [d for d in drafts if key_of(d) in answered])
        self.asides.setText(_not_rules(reading, self.field.toPlainText()) if reading else "")
        self.asides.setVisible(bool(self.asides.text()))
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
            sign = "asks" if "ask" in draft.fields else "meets"
            return Said(sign, _said(draft.fields, draft.quote))
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

    # -- the words and what they became --------------------------------------------------------

    def eventFilter(self, row: QObject | None, event: QEvent | None) -> bool:
        """A rule that the pointer is on lights its words."""
        if event is not None and event.type() in (QEvent.Type.Enter, QEvent.Type.Leave):
            entered = event.type() == QEvent.Type.Enter
            drafts = self.reading.drafts if self.reading else ()
            lit = [d for d in drafts if entered and self.rows.get(key_of(d)) is row]
            self.field.light(lit[0] if lit else None)
        return super().eventFilter(row, event)

    def _at_cursor(self) -> None:
        """The rule of the words that the cursor is in is shown and lit."""
        at = self.field.position()
        for draft in self.reading.drafts if self.reading else ():
            row = self.rows.get(key_of(draft))
            if row is None:
                continue
            lit = self.field.hasFocus() and any(a <= at <= b for a, b in draft.numbers)
            ground = theme.colour("blue_soft").name() if lit else "transparent"
            for words in row.findChildren(QLabel):
                words.setStyleSheet(f"font-size: 12px; background: {ground}")
            if lit:
                self.area.ensureWidgetVisible(row, 0, 2)

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

    def put_on_shelf(self) -> None:
        """Keep the rules as a rulebook of the person's own; nothing there is replaced."""
        reading = self.answered(read(self.field.toPlainText()))
        path = self.session.library.keep_words(reading, self.body.text().strip())
        if path is not None:
            self.session.tell(t("Saved: {path}", path=path), "done")


Fields = Mapping[str, Any]
Key = tuple[int, int, str]
"""A draft by where its number stands, and what it is about."""


def key_of(draft: Draft) -> Key:
    """What tells a draft from the others of a text."""
    start, end = draft.numbers[0] if draft.numbers else (draft.start, draft.end)
    return start, end, str(draft.fields.get("measure", ""))


def _not_rules(reading: Reading, text: str) -> str:
    """The numbers of the text that are no rule."""
    numbers = list(dict.fromkeys(text[a.start : a.end].strip() for a in reading.asides))
    if not numbers:
        return ""
    shown = numbers[:_MOST_NUMBERS]
    if len(numbers) > len(shown):
        more = len(numbers) - len(shown)
        shown.append(t_n("{n} more", "{n} more", more))
    return t("Numbers that are no rule: {numbers}", numbers=" · ".join(shown))


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
