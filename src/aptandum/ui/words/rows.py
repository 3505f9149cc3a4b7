"""What was understood of rules in words, a clause in a row; the doubtful first, each with its answers."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from aptandum.core.judge.measures import REGISTRY
from aptandum.core.numbers import ByteCount
from aptandum.core.rulebook.contradictions import contradictions
from aptandum.core.rulebook.plain import lower_bytes
from aptandum.core.rulebook.toml import check_clause
from aptandum.core.rulebook.words import Draft
from aptandum.core.rulebook.words.draft import Fields, Key
from aptandum.core.rulebook.words.settled import in_other_words, lost_numbers
from aptandum.core.sizes.said import clause_said
from aptandum.ui import theme
from aptandum.ui.fields import TextField
from aptandum.ui.said import Said
from aptandum.ui.session.worded import Worded
from aptandum.ui.strings import listed, t
from aptandum.ui.widgets import button, clear, label

_LINE, _BETWEEN = 52, 3
"""So many letters of answers stand on one line, and so many are the gap between two."""


class WordRow(QWidget):
    """One clause: what was understood, and what a person can say of it.

    Signals:
        chosen: a person is at this row, by pointer or key.
    """

    chosen = pyqtSignal(object)

    def __init__(self, draft: Draft, worded: Worded, acts: bool) -> None:
        super().__init__()
        self.draft, self.worded = draft, worded
        self.acts: QWidget | None = None
        self.other: TextField | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        self.row = QHBoxLayout()
        self.row.setSpacing(10)
        column.addLayout(self.row)
        self.answers, self._letters = self.row, 0
        if acts and draft.certainty != "sure":  # beside the words there is room below, not beside
            self._new_line(column)
        self._fill(column)
        if self.answers is not self.row:
            self.answers.addStretch(1)
        if acts:
            self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
            self.setAccessibleName(self.said.words.text())
            self._make_acts(column)

    def _new_line(self, column: QVBoxLayout) -> None:
        """Have the answers that follow stand on a line of their own."""
        if self.answers is not self.row:
            self.answers.addStretch(1)
        self.answers, self._letters = QHBoxLayout(), 0
        self.answers.setSpacing(12)
        self.answers.setContentsMargins(22, 0, 0, 2)
        column.addLayout(self.answers)

    def _fill(self, column: QVBoxLayout) -> None:
        draft, key = self.draft, self.draft.key
        if self.worded.is_answered(draft):
            fields = self.worded.decisions.answers[key]
            words = said_of(fields, draft.quote) if fields is not None else t("left out")
            if fields is None:
                words = t("{clause}: left out", clause=said_of(draft.fields, draft.quote))
            self._say("meets" if fields is not None else "idle", words)
            self._button(t("Ask again"), partial(self.worded.ask_again, key))
            return
        if draft.certainty == "sure":
            self._say(
                "asks" if "ask" in draft.fields else "meets", said_of(draft.fields, draft.quote)
            )
            return
        self._say("asks", _question(draft))
        choices = [draft.fields, *draft.readings] if "ask" not in draft.fields else [draft.fields]
        for fields, words in zip(choices, _choices(choices), strict=True):
            self._letters += len(words) + _BETWEEN
            if self.answers is not self.row and self._letters > _LINE:
                self._new_line(column)
                self._letters = len(words) + _BETWEEN
            self._button(words, partial(self.worded.answer, key, fields))
        self._button(t("Leave out"), partial(self.worded.answer, key, None))

    def _say(self, sign: str, words: str) -> None:
        self.said = Said(sign, words)
        self.row.addWidget(self.said, 1)

    def _button(self, words: str, act: Callable[[], object]) -> None:
        self.answers.addWidget(button(words, "link", act))

    # -- the acts of the chosen row ----------------------------------------------------------------

    def _make_acts(self, column: QVBoxLayout) -> None:
        """What can be done with a clause, seen at the chosen one alone."""
        self.acts = QWidget()
        self.acts.setVisible(False)
        row = QHBoxLayout(self.acts)
        row.setContentsMargins(22, 0, 0, 2)
        row.setSpacing(12)
        self.other = TextField(t("In other words"), t("at least 600 px wide"))
        self.other.setVisible(False)
        self.other.textChanged.connect(self._other_typed)
        self.other.returnPressed.connect(self._take_other)
        self.other_said = label("", "second", wrap=True)
        self.other_said.setVisible(False)
        self.say = button(t("Say it otherwise"), "link", self.say_otherwise)
        row.addWidget(self.say)
        if self.draft.certainty == "sure" and not self.worded.is_answered(self.draft):
            row.addWidget(button(t("Leave out"), "link", self.leave_out))
        row.addWidget(self.other, 2)
        row.addWidget(self.other_said, 3)
        row.addStretch(1)
        column.addWidget(self.acts)
        answer = self.worded.decisions.answers.get(self.draft.key)
        lost = lost_numbers(answer, self.draft.quote) if answer is not None else []
        if lost:
            words = t("{numbers} stands nowhere in its words.", numbers=listed(lost, "and"))
            column.addWidget(_note(words))
        clause, _problems = check_clause(answer if answer is not None else self.draft.fields)
        why = lower_bytes(clause.limit) if clause is not None else ""
        if why:
            column.addWidget(_note(why))

    def leave_out(self) -> None:
        """Throw the clause out; it stays in the list, to be taken back."""
        self.worded.answer(self.draft.key, None)

    def say_otherwise(self) -> None:
        """Have the clause said in other words; its own stay beside it."""
        if self.other is None:
            return
        for part in (self.other, self.other_said):
            part.setVisible(True)
        self.other.setFocus()
        self._other_typed()

    def _other_typed(self) -> None:
        assert self.other is not None
        fields = in_other_words(self.other.text())
        said = said_of(fields, "") if fields is not None else t("No rule is understood so far.")
        self.other_said.setText(said if self.other.text().strip() else "")

    def _take_other(self) -> None:
        assert self.other is not None
        fields = in_other_words(self.other.text())
        if fields is not None:
            self.worded.answer(self.draft.key, fields)

    def light(self, lit: bool) -> None:
        """Lit, and with its acts, or not."""
        ground = theme.colour("blue_soft").name() if lit else "transparent"
        for words in self.said.findChildren(QLabel):
            words.setStyleSheet(theme.scaled(f"font-size: 12px; background: {ground}"))
        typing = self.other is not None and self.other.hasFocus()
        if self.acts is not None:
            self.acts.setVisible(lit or typing)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self.chosen.emit(self.draft)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.setFocus()
        self.chosen.emit(self.draft)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and Down go through the clauses, Delete throws one out, Return has it said otherwise."""
        assert event is not None
        if self.acts is None:
            super().keyPressEvent(event)
        elif event.key() == Qt.Key.Key_Down:
            self.focusNextChild()
        elif event.key() == Qt.Key.Key_Up:
            self.focusPreviousChild()
        elif event.key() == Qt.Key.Key_Delete:
            self.leave_out()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.say_otherwise()
        else:
            super().keyPressEvent(event)


class WordRows(QWidget):
    """Every clause that was understood.

    Signals:
        lit: the draft that a person points at or has chosen, or ``None``.
        shown: the rows are others now.
    """

    lit = pyqtSignal(object)
    shown = pyqtSignal()

    def __init__(self, worded: Worded, most: int, full: bool = False) -> None:
        """Args:
        most: how many rows are shown at most.
        full: under the headings of their briefs, each with its acts; else one below another.
        """
        super().__init__()
        self.worded, self.most, self.full = worded, most, full
        self.rows: dict[Key, WordRow] = {}
        self._next: Key | None = None
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._go)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 14, 0)
        self.column.setSpacing(4 if full else 2)
        worded.changed.connect(self.show_rows)
        self.show_rows()

    def show_rows(self) -> None:
        """Say back what was understood."""
        focused = next((key for key, row in self.rows.items() if _holds_keys(row)), None)
        clear(self.column)
        self.rows = {}
        reading = self.worded.reading
        drafts = list(reading.drafts) if reading else []
        open_ = [d for d in drafts if d.certainty != "sure"]
        rest = [d for d in drafts if d not in open_]
        headed = self.full and reading is not None and reading.briefs != ("",)
        self._add(open_)
        if not headed:
            if self.full and open_ and rest:
                self._head(t("Understood"))
            self._add(rest)
        else:
            assert reading is not None
            shared = [d for d in rest if d.brief not in reading.briefs]
            if shared:
                self._head(t("Every brief of the body"))
                self._add(shared)
            for brief in reading.briefs:
                self._head(brief)
                self._add([d for d in rest if d.brief == brief])
        if self.full:
            self._contradictions()
        self.column.addStretch(1)
        if focused is not None:
            self.go_to(focused)
        self.shown.emit()

    def go_to(self, key: Key) -> None:
        """Give the keys to the row of a draft, once it is seen; without one they stay."""

        self._next = key
        self._soon.start(0)

    def _go(self) -> None:
        row = self.rows.get(self._next) if self._next is not None else None
        if row is not None:
            (row if self.full else row.findChild(QPushButton) or row).setFocus()

    def _head(self, words: str) -> None:
        head = label(words, "title", wrap=True)
        head.setContentsMargins(0, 8, 0, 2)
        self.column.addWidget(head)

    def _add(self, drafts: list[Draft]) -> None:
        for draft in drafts[: max(0, self.most - len(self.rows))]:
            row = WordRow(draft, self.worded, self.full)
            row.installEventFilter(self)
            row.chosen.connect(self._chosen)
            self.rows[draft.key] = row
            self.column.addWidget(row)

    def _contradictions(self) -> None:
        """What cannot be met together."""
        for words in against(self.worded):
            said = Said("misses", words)
            self.column.addWidget(said)

    def eventFilter(self, row: QObject | None, event: QEvent | None) -> bool:
        """A rule that the pointer is on lights its words."""
        if isinstance(row, WordRow) and event is not None:
            if event.type() == QEvent.Type.Enter:
                self.lit.emit(row.draft)
            elif event.type() == QEvent.Type.Leave:
                self.lit.emit(None)
        return super().eventFilter(row, event)

    def _chosen(self, draft: Draft) -> None:
        for row in self.rows.values():
            row.light(row.draft is draft)
        self.lit.emit(draft)

    def light_at(self, at: int | None) -> WordRow | None:
        """Light the rows whose numbers a place in the text is in; the first of them."""
        first = None
        for row in self.rows.values():
            lit = at is not None and any(a <= at <= b for a, b in row.draft.numbers)
            row.light(lit)
            first = first or (row if lit else None)
        return first


def _note(words: str) -> QLabel:
    note = label(words, "second", wrap=True)
    note.setContentsMargins(22, 0, 0, 2)
    return note


def _holds_keys(row: QWidget) -> bool:
    held = QApplication.focusWidget()
    return held is not None and (row is held or row.isAncestorOf(held))


def against(worded: Worded) -> list[str]:
    """What of the rules cannot be met together, a sentence each."""
    return [found.says for brief in worded.briefs() for found in contradictions(brief)]


def said_of(fields: Fields | None, quote: str) -> str:
    """A draft's keys in a few words."""
    clause, _problems = check_clause(fields) if fields is not None else (None, ())
    said = clause_said(clause) if clause is not None else quote
    if clause is not None and clause.strength == "should":
        return t("{clause}: recommended", clause=said)
    return said


def _question(draft: Draft) -> str:
    """What is doubtful."""
    if "ask" in draft.fields and draft.readings:
        words = said_of(draft.readings[0], draft.quote)
        return t("{clause}: for that the printed size has to be known.", clause=words)
    return t("{clause}: is that meant?", clause=said_of(draft.fields, draft.quote))


def _choices(every: Sequence[Fields]) -> list[str]:
    """What each reading's button says: no two of a row the same, and of a single one that it is meant."""
    words = [_choice(fields) for fields in every]
    if len(every) == 1 and "ask" not in every[0]:
        return [t("Yes")]
    of_one = len({str(fields.get("measure")) for fields in every}) == 1
    return [
        (_limit(fields, word) if of_one else said_of(fields, word))
        if words.count(word) > 1
        else word
        for fields, word in zip(every, words, strict=True)
    ]


def _limit(fields: Fields, default: str) -> str:
    """Only the bound of a reading: what stands behind the name of what is measured."""
    whole = said_of(fields, default)
    return whole.partition(", ")[2] or whole


def _choice(fields: Fields) -> str:
    """One reading on its button: what is measured, or which bound."""
    if "ask" in fields:
        return t("Ask me")
    clause, _problems = check_clause(fields)
    measure = REGISTRY.get(str(fields.get("measure")))
    if clause is None or measure is None or clause.limit is None:
        return t("This")
    least = clause.limit.at_least
    if isinstance(least, ByteCount) and least.text and clause.limit.at_most is None:
        written = least.text.replace("KB", "kB")
        return t("at least {value}", value=written)  # not the safe way to read it
    if measure.kind.name == "bytes":
        return clause.limit.says(measure.kind)
    return measure.title
