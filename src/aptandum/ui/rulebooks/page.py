"""The place of rulebooks: the shelf, a brief's clauses, its sizes, what changed, and the form."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent, QShowEvent
from PyQt6.QtWidgets import (
    QButtonGroup,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QMessageBox,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.docket.takeover import broken
from aptandum.core.file.write import unwritten
from aptandum.core.rulebook import shelf as shelf_
from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.rulebook.toml import read_rulebook
from aptandum.core.rulebook.words.edition import Edition
from aptandum.core.words import show_day
from aptandum.ui import theme
from aptandum.ui.asking import where_to_save
from aptandum.ui.rulebooks.changes import ChangesView
from aptandum.ui.rulebooks.chart_side import ChartSide
from aptandum.ui.rulebooks.clauses import ClauseList
from aptandum.ui.rulebooks.form import Form
from aptandum.ui.rulebooks.shelf_list import ShelfList
from aptandum.ui.rulebooks.words_view import WordsView, untouched_said
from aptandum.ui.session import Session
from aptandum.ui.strings import joined, t
from aptandum.ui.widgets import Elided, button, hairline, label

SHELF_WIDTH = 292
READ, WORDS, CHANGES, WRITE = "read", "words", "changes", "write"
PATTERN = "Rulebook (*.toml *.zip)"


class RulebooksPage(QWidget):
    """Left the shelf; right of it either clauses and chart, or the changes, or form and chart."""

    photo_opened = pyqtSignal(str, str)
    fitting_opened = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.book: Rulebook | None = None
        self.brief: Brief | None = None
        self.view = READ
        self.making = False  # a rulebook from nothing, which is not on the shelf yet
        self.shelf = ShelfList(session)
        self.clauses = ClauseList()
        self.right = ChartSide(session)
        self.chart = self.right.chart
        self.changes = ChangesView()
        self.form = Form()
        self.words = WordsView(session)
        self._lay_out()
        self.shelf.picked.connect(self.show_brief)
        self.right.opened.connect(self._open_photo)
        self.changes.take_over.connect(session.library.take_over)
        self.changes.keep_asked.connect(self._keep_edition)
        self.changes.open_fitting.connect(self.fitting_opened.emit)
        self.changes.compare_asked.connect(self.ask_compare)
        for told in (self.words.sided, session.worded.texted):
            told.connect(self._name)
        self.words.compared.connect(self._compared)
        self.form.drafted.connect(self._drafted)
        self.form.save_asked.connect(self.save)
        self.form.closed.connect(self.put_away)
        session.library.changed.connect(self._shelved)
        session.store.changed.connect(self._docket_changed)
        self._known: object = None
        self._stale = True

    # -- laying out ---------------------------------------------------------------------------

    def _lay_out(self) -> None:
        side = self._side()

        head = self._head()

        self.middle = QStackedWidget()
        self.middle.addWidget(self.clauses)
        self.middle.addWidget(self.form)
        work = QWidget()
        work.setProperty("role", "panel")
        two = QHBoxLayout(work)
        two.setContentsMargins(0, 0, 0, 0)
        two.setSpacing(0)
        two.addWidget(self.middle, 10)
        self.divide = _upright_line()
        two.addWidget(self.divide)
        two.addWidget(self.right, 12)
        self.body = QStackedWidget()
        self.body.addWidget(work)
        self.body.addWidget(self.changes)
        self.body.addWidget(self.words)
        main = QWidget()
        main.setProperty("role", "panel")
        main.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(main)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(head)
        column.addWidget(hairline())
        column.addWidget(self.body, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(side)
        row.addWidget(_upright_line())
        row.addWidget(main, 1)

    def _side(self) -> QFrame:
        """The shelf."""
        side = self.side = QFrame()
        side.setProperty("role", "panel")
        side.setFixedWidth(SHELF_WIDTH)
        left = QVBoxLayout(side)
        left.setContentsMargins(0, 6, 0, 8)
        left.setSpacing(4)
        left.addWidget(self.shelf, 1)
        left.addWidget(hairline())
        foot = QHBoxLayout()
        foot.setContentsMargins(8, 4, 8, 0)
        foot.setSpacing(6)
        self.read_button = button(t("Read a file…"), "", self.ask_read)
        self.new_button = button(t("New rulebook"), "", self.new)
        foot.addWidget(self.read_button)
        foot.addWidget(self.new_button)
        for act in (self.read_button, self.new_button):
            act.setStyleSheet("padding-left: 7px; padding-right: 7px")
        left.addLayout(foot)
        return side

    def _head(self) -> QHBoxLayout:
        """The name of the brief, and its views."""
        self.title = label("", "title")
        self.under = Elided()
        names = QVBoxLayout()
        names.setSpacing(0)
        names.addWidget(self.title)
        names.addWidget(self.under)
        head = QHBoxLayout()
        head.setContentsMargins(16, 8, 16, 8)
        head.setSpacing(4)
        head.addLayout(names, 1)
        self.views: dict[str, QWidget] = {}
        group = QButtonGroup(self)
        for name, text in (
            (READ, t("Clauses and sizes")),
            (WORDS, t("In words")),
            (CHANGES, t("What changed")),
            (WRITE, t("Write")),
        ):
            made = button(text, "view", partial(self.show_view, name))
            made.setCheckable(True)
            group.addButton(made)
            self.views[name] = made
            head.addWidget(made)
        return head

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._make_room()

    def _make_room(self) -> None:
        """A small window keeps its room for what is worked on."""
        narrow = self.width() < 1100
        self.side.setFixedWidth(228 if narrow else SHELF_WIDTH)
        self.side.setVisible(not (narrow and self.view == WRITE))
        self.right.said.setVisible(not narrow)
        self.middle.setMinimumWidth(464 if narrow and self.view == WRITE else 0)

    # -- showing --------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Read the shelf and the docket anew."""
        self._stale = False
        self.shelf.fill()
        self.show_brief(self.shelf.name)

    def settle_focus(self) -> None:
        """Where a person goes on: at the shelf, unless a rulebook is being written."""
        if self.view != WRITE:
            self.shelf.setFocus()

    def showEvent(self, event: QShowEvent | None) -> None:
        if self._stale:
            self.refresh()

    def _shelved(self) -> None:
        self._stale = True
        if self.isVisible():
            self.refresh()

    def restyle(self) -> None:
        """Take on the palette in use."""
        self.clauses.show_brief(self.brief)
        self._shelved()
        self.form._judge()
        self.chart.update()

    def _docket_changed(self, _change: object = None) -> None:
        docket = self.session.docket
        known = (docket.photos, docket.rulebooks, tuple(f.id for f in docket.fittings))
        if known != self._known:
            self._known = known
            self._shelved()

    def show_brief(self, name: str) -> None:
        """Show a brief by its name ``BOOK/BRIEF``."""
        body_id, _, brief_id = name.partition("/")
        book = self.session.library.shelf.book(body_id)
        brief = book.brief(brief_id) if book is not None else None
        if book is None or brief is None:
            return
        self.book, self.brief = book, brief
        if self.shelf.name != name:
            self.shelf.choose(name)
        self.clauses.show_brief(brief)
        self.words.show_brief(book, brief)
        self.show_view(self.view if self.view != WRITE else WRITE)

    def show_view(self, name: str) -> None:
        """Show the rulebook to read, to write, as a chart or beside another."""
        self.view = name
        self.views[name].setChecked(True)  # type: ignore[attr-defined]
        self._make_room()
        book, brief = self.book, self.brief
        if name == CHANGES:
            self.body.setCurrentWidget(self.changes)
            self._show_changes()
        elif name == WORDS:
            come = self.body.currentWidget() is not self.words
            self.body.setCurrentWidget(self.words)
            if come:
                self.words.begin()
        else:
            self.body.setCurrentIndex(0)
            self.middle.setCurrentWidget(self.form if name == WRITE else self.clauses)
        if name == WRITE:
            other = book is not None and self.form.text != book.text
            if not self.making and not self.form.changed and other and book is not None:
                self.form.begin(book, self._path_of(book), brief.id if brief else "")
            self._drafted(self.form.draft())
        elif book is not None and brief is not None and name == READ:
            self.right.show_brief(brief)
        self._name()

    def _name(self) -> None:
        """What is seen, by its name."""
        book, brief = self.book, self.brief
        if self.view == WRITE:
            self.title.setText(t("Writing a rulebook"))
            where = str(self.form.path) if self.form.path is not None else t("not saved yet")
            self.under.setText(where)
        elif self.view == WORDS and self.words.reads:
            self.title.setText(t("Rules in words"))
            self.under.setText(self.session.worded.file or t("typed or pasted"))
        elif book is not None and brief is not None:
            self.title.setText(brief.title)
            self.under.setText(_of_body(book))

    def _drafted(self, draft: Brief | None) -> None:
        if self.view == WRITE:
            self.right.show_brief(draft)

    def _show_changes(self) -> None:
        book = self.book
        offer = next(
            (o for o in self.session.library.offers() if book and o.new.body.id == book.body.id),
            None,
        )
        if offer is None:
            self.changes.show_none(book)
            return
        lost = broken(self.session.docket, offer, self.session.photos.facts_of)
        docket = self.session.docket
        named = [(one, Path(docket.photo(one.fitting.photo).path).name) for one in lost]
        self.changes.show_pair(offer.old, offer.new, named, offered=True)

    def _open_photo(self, photo_id: str) -> None:
        if self.view == READ and self.book is not None and self.brief is not None:
            self.photo_opened.emit(photo_id, f"{self.book.body.id}/{self.brief.id}")

    # -- files ------------------------------------------------------------------------------------

    def ask_read(self) -> None:
        """Ask for a rulebook to read."""
        found, _ = QFileDialog.getOpenFileName(self, t("Open a rulebook"), "", PATTERN)
        if found:
            self.read(found)

    def read(self, path: str) -> bool:
        """Lay a rulebook file on the shelf and show it."""
        book = self.session.library.add_rulebook(path)
        if book is None:
            return False
        self.session.tell(
            t("{body} lies on the shelf, from {file}.", body=book.body.name, file=path), "done"
        )
        self.view = READ if self.view == WRITE else self.view
        self.refresh()
        self.shelf.choose(f"{book.body.id}/{book.briefs[0].id}")
        return True

    def ask_compare(self) -> None:
        """Ask for another edition to compare with."""
        older, _ = QFileDialog.getOpenFileName(self, t("The older rulebook"), "", PATTERN)
        newer = ""
        if older:
            newer, _ = QFileDialog.getOpenFileName(self, t("The newer rulebook"), "", PATTERN)
        if older and newer:
            self.compare(older, newer)

    def compare(self, older: str, newer: str) -> bool:
        """Show what changed between any two rulebook files."""
        try:
            old, new = read_rulebook(older), read_rulebook(newer)
        except RulebookError as error:
            self.session.tell(str(error))
            return False
        self.show_view(CHANGES)
        self.changes.show_pair(old, new)
        self.title.setText(t("Two rulebooks compared"))
        self.under.setText(f"{Path(older).name} → {Path(newer).name}")
        return True

    def _compared(self, old: Rulebook, new: Rulebook, edition: Edition) -> None:
        """Words held against a rulebook of the shelf: what they change, and to keep it so."""
        self.show_view(CHANGES)
        self.changes.show_words(old, new, untouched_said(edition))
        self.title.setText(old.body.name)
        self.under.setText(t("The words that were read, held against the rulebook on the shelf"))

    def _keep_edition(self, book: Rulebook) -> None:
        """Lay what the words make of a rulebook on the shelf, as a file of the person's own."""
        path = self.session.library.keep_edition(book)
        if path is not None:
            self.session.tell(t("Saved: {path}", path=path), "done")

    # -- writing ----------------------------------------------------------------------------------

    def _path_of(self, book: Rulebook) -> Path | None:
        """Where a rulebook may be written back to; a shipped one gets a file of its own."""
        path = Path(book.path) if book.path else None
        if path is None or path in shelf_.shipped_paths() or not path.exists():
            return None
        return path

    def new(self) -> None:
        """Begin a rulebook of one's own."""
        if self._may_leave():
            self.form.begin(None)
            self.making = True
            self.show_view(WRITE)
            self.form.body["name"].setFocus()

    def add_clause(self) -> None:
        """One more clause: of the chosen words where words are read, else of the rulebook being written."""
        if self.view == WORDS:
            self.words.make_clause()
        else:
            self.form.add_clause()

    def change(self) -> None:
        """Go to writing."""
        self.show_view(WRITE)

    def _may_leave(self) -> bool:
        if not self.form.changed or not self.isVisible():
            return True
        box = QMessageBox(self)
        box.setText(t("The rulebook that is being written is not saved."))
        leave = box.addButton(t("Leave it"), QMessageBox.ButtonRole.DestructiveRole)
        box.addButton(t("Go on writing"), QMessageBox.ButtonRole.RejectRole)
        box.exec()
        return box.clickedButton() is leave

    def may_close(self) -> bool:
        """Ask before a rulebook that is being written would be lost."""
        return self._may_leave()

    def put_away(self) -> None:
        """Put the changes away, once the person has agreed."""
        if self._may_leave():
            self.making = False
            self.form.begin(self.book, self._path_of(self.book) if self.book else None)
            self.show_view(READ)

    def save(self) -> None:
        """Ask where to, and write; a file that is there is replaced only if the person says so."""
        book_id = self.form.body["id"].text() or "rulebook"
        start = self.form.path or shelf_.own_folder() / f"{book_id}.toml"
        start.parent.mkdir(parents=True, exist_ok=True)
        path = where_to_save(self, t("Save rulebook"), str(start), {t("Rulebook"): ".toml"})
        if path is not None:
            self.save_to(path)

    def save_to(self, path: Path) -> bool:
        """Write the rulebook; whether that was done. Shipped ones are never written to."""
        path = path if path.suffix else path.with_name(path.name + ".toml")
        if path.resolve() in [p.resolve() for p in shelf_.shipped_paths()]:
            self.session.tell(
                t("{file} comes with Aptandum and is not written to; take another name.", file=path)
            )
            return False
        try:
            book = shelf_.keep(self.form.text, path)
        except RulebookError as error:
            self.session.tell(str(error))
            return False
        except OSError as error:
            self.session.tell(unwritten(error, path))
            return False
        self.form.path, self.form.saved = path, self.form.text
        self.making = False
        self.session.library.put_on_shelf(book)
        self.session.tell(t("Saved: {path}", path=path), "done")
        briefs = [b.id for b in book.briefs]
        shown = briefs[min(self.form.brief, len(briefs) - 1)]
        self.view = READ
        self.refresh()
        self.shelf.name = ""
        self.shelf.choose(f"{book.body.id}/{shown}")
        self.show_brief(f"{book.body.id}/{shown}")
        return True


def _of_body(book: Rulebook) -> str:
    body = book.body
    parts = [body.name, t("edition {n}", n=body.edition) if body.edition else ""]
    if body.valid_from is not None:
        parts.append(t("in force from {day}", day=show_day(body.valid_from)))
    if body.read_on:
        parts.append(t("read {day}", day=show_day(body.read_on)))
    return joined([part for part in (*parts, body.source) if part])


def _upright_line() -> QFrame:
    made = QFrame()
    made.setFixedWidth(1)
    made.setStyleSheet(f"background: {theme.palette().hairline}")
    return made
