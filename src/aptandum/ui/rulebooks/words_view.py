"""Rules in words beside what they became: the source with its phrases marked, and the clauses.

Of a brief on the shelf its quotes are shown in the same way.
"""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QButtonGroup,
    QHBoxLayout,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.brief.model import Brief, Clause, Rulebook
from aptandum.core.rulebook.words.edition import Edition
from aptandum.core.rulebook.words.quoted import quotes_of
from aptandum.ui.rulebooks.clauses import ClauseList
from aptandum.ui.session import Session
from aptandum.ui.strings import listed, t
from aptandum.ui.widgets import Choice, button, hairline, label
from aptandum.ui.words.field import WordsField
from aptandum.ui.words.rows import WordRows
from aptandum.ui.words.shared import BodyField, bind, not_rules, state_of

_MOST_ROWS = 400
_MOST_NUMBERS = 24


class WordsView(QWidget):
    """The words at the left, the clauses at the right; one lights the other.

    Signals:
        used: the name of the brief that the rules became.
        source_asked: a page or a leaflet is to be read.
        sided: the other of the two sides is shown now.
        compared: an older rulebook, the edition of it that the words are, and what they left as it is.
    """

    used = pyqtSignal(str)
    source_asked = pyqtSignal()
    sided = pyqtSignal()
    compared = pyqtSignal(object, object, object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session, self.worded = session, session.worded
        self.brief: Brief | None = None
        self.book: Rulebook | None = None
        self._places: dict[str, tuple[int, int]] = {}
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(self._head())
        layout.addWidget(hairline())
        self.stack = QStackedWidget()
        self.stack.addWidget(self._reading())
        self.stack.addWidget(self._quotes())
        layout.addWidget(self.stack, 1)
        self.worded.changed.connect(self._show)
        self._show()

    # -- laying out ---------------------------------------------------------------------------------

    def _head(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setContentsMargins(16, 6, 16, 6)
        row.setSpacing(4)
        group = QButtonGroup(self)
        self.sides = []
        for at, words in enumerate((t("Words being read"), t("Quotes of this brief"))):
            made = button(words, "view", partial(self.show_side, at))
            made.setCheckable(True)
            group.addButton(made)
            self.sides.append(made)
            row.addWidget(made)
        self.sides[0].setChecked(True)
        row.addStretch(1)
        self.source = button(t("Read a page or a leaflet…"), "link", self.source_asked.emit)
        row.addWidget(self.source)
        return row

    def _reading(self) -> QWidget:
        self.field = WordsField(tall=True)
        bind(self.field, self.worded)
        self.make = button(t("Make the selected words a clause"), "", self.make_clause)
        self.make.setToolTip(t("Ctrl+Shift+A"))
        self.asides = label("", "second", wrap=True)
        left = QVBoxLayout()
        left.setContentsMargins(16, 10, 12, 10)
        left.addWidget(self.field, 1)
        left.addWidget(self.asides)
        row = QHBoxLayout()
        row.addWidget(self.make)
        row.addStretch(1)
        left.addLayout(row)
        self.state = label("", "title", wrap=True)
        self.rows = WordRows(self.worded, _MOST_ROWS, full=True)
        self.rows.setProperty("role", "panel")
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setWidget(self.rows)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        right = QVBoxLayout()
        right.setContentsMargins(12, 10, 16, 10)
        right.setSpacing(8)
        right.addWidget(self.state)
        right.addWidget(self.area, 1)
        right.addWidget(hairline())
        right.addLayout(self._foot())
        self.field.cursorPositionChanged.connect(self._at_cursor)
        self.field.selectionChanged.connect(self._chosen)
        self.field.taken.connect(self.take)
        self.rows.lit.connect(self.field.light)
        return _beside(left, right)

    def _foot(self) -> QVBoxLayout:
        """Whose rules, which older rulebook they are held against, and what to do with them."""
        self.body = BodyField(self.worded)
        self.older = Choice()
        self.older.setAccessibleName(t("The rulebook to compare with"))
        self.body.textChanged.connect(lambda: self._fill_older())
        self.compare = button(t("What changed"), "", self.hold_against)
        self.keep = button(t("Keep on the shelf"), "", self.put_on_shelf)
        self.use = button(t("Use these rules"), "act", self.take)
        foot = QVBoxLayout()
        foot.setSpacing(6)
        for words, field, acts in (
            (t("Whose rules"), self.body, ()),
            (t("Compare with"), self.older, (self.compare,)),
        ):
            row = QHBoxLayout()
            said = label(words, "second")
            said.setBuddy(field)
            said.setFixedWidth(86)
            row.addWidget(said)
            row.addWidget(field, 1)
            for act in acts:
                row.addWidget(act)
            foot.addLayout(row)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(self.keep)
        row.addWidget(self.use)
        foot.addLayout(row)
        return foot

    def _quotes(self) -> QWidget:
        self.quotes = WordsField(tall=True)
        self.quotes.setReadOnly(True)
        self.quotes.setAccessibleName(t("The body’s own words"))
        self.quotes.setPlaceholderText(t("This brief keeps no words of its body."))
        self.clauses = ClauseList()
        left = QVBoxLayout()
        left.setContentsMargins(16, 10, 12, 10)
        left.addWidget(self.quotes)
        right = QVBoxLayout()
        right.setContentsMargins(0, 0, 0, 0)
        right.addWidget(self.clauses)
        self.clauses.chosen.connect(self._light_quote)
        self.quotes.cursorPositionChanged.connect(self._at_quote)
        return _beside(left, right)

    # -- showing ------------------------------------------------------------------------------------

    def show_side(self, at: int) -> None:
        """Show the words that are being read (0) or the quotes of the brief (1)."""
        self.sides[at].setChecked(True)
        self.stack.setCurrentIndex(at)
        self.source.setVisible(at == 0)
        self.sided.emit()

    @property
    def reads(self) -> bool:
        """Whether words that are being read are shown, and not a brief's quotes."""
        return self.stack.currentIndex() == 0

    def show_brief(self, book: Rulebook | None, brief: Brief | None) -> None:
        """Show the quotes of a brief; with no words to read, that is what is seen first."""
        self.book, self.brief = book, brief
        text, self._places = quotes_of(brief) if brief is not None else ("", {})
        self.quotes.setPlainText(text)
        self.quotes.spans(list(dict.fromkeys(self._places.values())))
        self.clauses.show_brief(brief)
        self._fill_older()

    def begin(self) -> None:
        """The view is opened: at what is there to be seen."""
        self.show_side(0 if self.worded.text.strip() or not self._places else 1)
        if self.reads:
            self.field.setFocus()

    def _fill_older(self) -> None:
        """The rulebooks of the shelf; the one of the same name, else the chosen one, first."""
        books = self.session.library.shelf.rulebooks
        kept = self.older.currentData()
        self.older.blockSignals(True)
        self.older.clear()
        for book in books:
            self.older.addItem(book.body.name, book.body.id)
        same = next((b.body.id for b in books if b.body.name == self.body.text().strip()), None)
        chosen = same or kept or (self.book.body.id if self.book is not None else None)
        self.older.setCurrentIndex(max(0, self.older.findData(chosen)))
        self.older.blockSignals(False)

    def _show(self) -> None:
        reading = self.worded.reading
        said = not_rules(reading, self.worded.text, _MOST_NUMBERS) if reading else ""
        self.asides.setText(said)
        self.asides.setVisible(bool(said))
        self.state.setText(
            state_of(self.worded) if reading else t("Paste or drop the rules, or type them.")
        )
        held = bool(reading and reading.drafts)
        for act in (self.use, self.keep, self.compare):
            act.setEnabled(held)
        self._chosen()

    def _chosen(self) -> None:
        start, end = self.field.chosen()
        self.make.setEnabled(end > start)

    def _at_cursor(self) -> None:
        row = self.rows.light_at(self.field.position() if self.field.hasFocus() else None)
        if row is not None:
            self.area.ensureWidgetVisible(row, 0, 8)

    def _light_quote(self, clause: Clause) -> None:
        place = self._places.get(clause.id)
        self.quotes.light_span(place)

    def _at_quote(self) -> None:
        """The clause of the words that the cursor is in is shown."""
        at = self.quotes.position()
        if not self.quotes.hasFocus():
            return
        held = [c for c, (start, end) in self._places.items() if start <= at <= end]
        for card in self.clauses.cards:
            card.lit = card.clause.id in held
            card.update()
            if card.lit:
                self.clauses.ensureWidgetVisible(card, 0, 8)
        self.quotes.light_span(self._places[held[0]] if held else None)

    # -- acts -----------------------------------------------------------------------------------------

    def make_clause(self) -> None:
        """Make the selected words a clause, and go to it."""
        draft = self.worded.make(*self.field.chosen())
        if draft is not None:
            self.rows.go_to(draft.key)

    def take(self) -> None:
        """Make the rules a brief of the docket."""
        name = self.worded.take(self.body.given())
        if name:
            self.used.emit(name)

    def put_on_shelf(self) -> None:
        """Keep the rules as a rulebook of the person's own."""
        self.worded.keep(self.body.given())

    def hold_against(self) -> None:
        """Show what the words change in a rulebook of the shelf."""
        book = self.session.library.shelf.book(self.older.currentData() or "")
        if book is None:
            return
        brief = self.brief.id if self.brief is not None and self.book is book else ""
        found = self.worded.against(book, brief)
        if found is not None:
            new, edition = found
            self.compared.emit(book, new, edition)


def untouched_said(edition: Edition) -> str:
    """The briefs that the words say nothing of."""
    if not edition.untouched:
        return ""
    names = listed([f"“{title}”" for title in edition.untouched], "and")
    return t("The words say nothing of {briefs}: left as they are.", briefs=names)


def _beside(left: QVBoxLayout, right: QVBoxLayout) -> QWidget:
    made = QWidget()
    made.setProperty("role", "panel")
    two = QHBoxLayout(made)
    two.setContentsMargins(0, 0, 0, 0)
    two.setSpacing(0)
    two.addLayout(left, 10)
    two.addLayout(right, 11)
    return made


__all__ = ["WordsView", "untouched_said"]
