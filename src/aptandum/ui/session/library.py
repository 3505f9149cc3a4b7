"""Rulebooks: the shelf, finding a brief, and new editions."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.docket.takeover import Offer, find, offers, take_over
from aptandum.core.file.write import unwritten
from aptandum.core.rulebook import write
from aptandum.core.rulebook.parcel import pictures_of
from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.rulebook.shelf import (
    Shelf,
    keep,
    keep_whole,
    own_folder,
    read_own,
    read_shelf,
)
from aptandum.core.rulebook.toml import parse_rulebook, read_rulebook
from aptandum.core.rulebook.words import Reading
from aptandum.core.rulebook.words.as_book import ident, rulebook_text
from aptandum.ui.session.docket_store import DocketStore
from aptandum.ui.strings import t


class Library(QObject):
    """The shelf of rulebooks, and the editions that the docket follows.

    Signals:
        changed: the shelf is another one now.
    """

    changed = pyqtSignal()

    def __init__(
        self,
        store: DocketStore,
        tell: Callable[..., None],
        shelf: Shelf | None = None,
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self.shelf = shelf or read_shelf()
        self._store, self._tell = store, tell
        self._offered: tuple[object, tuple[Offer, ...]] | None = None

    def find(self, brief_name: str) -> tuple[Rulebook, Brief]:
        """A brief by the rulebook that the docket was made with, else by the shelf's.

        Raises:
            BriefNotFound: neither has it.
        """
        return find(self._store.docket, self.shelf, brief_name)

    def add_own_rulebooks(self) -> None:
        """Lay the person's own rulebooks on the shelf; what cannot be used is said."""
        books, wrong = read_own()
        for book in books:
            self.put_on_shelf(book)
        if wrong:
            self._tell("\n".join(str(error) for error in wrong))

    def add_rulebook(self, path: str) -> Rulebook | None:
        """Lay a rulebook file on the shelf; None where it is not sound (which is said)."""
        try:
            book = read_rulebook(path)
        except RulebookError as error:
            self._tell(str(error))
            return None
        self.put_on_shelf(book)
        return book

    def add_rulebooks(self, paths: Iterable[str]) -> None:
        """Begin the shelf anew with some files beside the shipped rulebooks."""
        try:
            self.shelf = read_shelf(paths)
        except RulebookError as error:
            self._tell(str(error))

    def put_on_shelf(self, book: Rulebook) -> None:
        """A rulebook with the same body's id takes the place of the one there."""
        others = [b for b in self.shelf.rulebooks if b.body.id != book.body.id]
        at = [b.body.id for b in self.shelf.rulebooks]
        place = at.index(book.body.id) if book.body.id in at else len(others)
        others.insert(place, book)
        self.shelf = Shelf(tuple(others))
        self.changed.emit()

    def take_words(self, reading: Reading, body: str = "") -> str:
        """Make rules that were read in words a rulebook of the docket, and of no shelf; the name of its
        first brief.

        Args:
            body: whose they are; empty: the name of what they are.
        """
        taken = {*self._store.docket.rulebooks, *(b.body.id for b in self.shelf.rulebooks)}
        text, ident_ = self._worded(reading, body, taken)
        book = parse_rulebook(text)
        docket = self._store.docket
        kept = {**docket.rulebooks, ident_: text}
        self._store.do(t("Rules in words"), docket.model_copy(update={"rulebooks": kept}))
        return f"{ident_}/{book.briefs[0].id}"

    @staticmethod
    def _worded(reading: Reading, body: str, taken: set[str]) -> tuple[str, str]:
        """A reading as a rulebook's text, under an id that no other body has."""
        name = body or t("Rules in words")
        ident_, n = ident(name, "rules"), 2
        while ident_ in taken:
            ident_, n = f"{ident(name, 'rules')}-{n}", n + 1
        return write.set_body(rulebook_text(reading, name, t("Picture")), "id", ident_), ident_

    def keep_words(self, reading: Reading, body: str = "") -> Path | None:
        """Keep rules that were read in words as a rulebook of the person's own, on the shelf; where it
        lies, or None where it could not be written (which is said). No file there is replaced.

        Args:
            body: whose they are; empty: the name of what they are.
        """
        taken = {b.body.id for b in self.shelf.rulebooks}
        text, ident_ = self._worded(reading, body, taken)
        return self._keep(text, ident_)

    def _keep(self, text: str, stem: str) -> Path | None:
        path = _free(stem, ".toml")
        try:
            book = keep(text, path)
        except RulebookError as error:
            self._tell(str(error))
            return None
        except OSError as error:
            self._tell(unwritten(error, path))
            return None
        self.put_on_shelf(book)
        return path

    def keep_edition(self, book: Rulebook) -> Path | None:
        """Keep another edition of a rulebook as a file of the person's own, in its place on the shelf; where
        it lies, or None where it could not be written (which is said). No file there is replaced."""
        stem = f"{book.body.id}-{ident(book.body.edition or '', 'new')}"
        if not pictures_of(book):
            return self._keep(book.text, stem)
        folder = _free(stem, "")
        try:
            kept = keep_whole(book, folder)
        except RulebookError as error:
            self._tell(str(error))
            return None
        except OSError as error:
            self._tell(unwritten(error, folder))
            return None
        self.put_on_shelf(kept)
        return folder

    def offers(self) -> tuple[Offer, ...]:
        """Editions on the shelf that the docket does not follow; kept, as every step of a drag
        asks."""
        docket = self._store.docket
        key = (tuple(docket.rulebooks.items()), id(self.shelf))
        if self._offered is None or self._offered[0] != key:
            self._offered = key, offers(docket, self.shelf)
        return self._offered[1]

    def take_over(self, book: Rulebook) -> None:
        """Follow another edition of a rulebook from now on."""
        label = t("Take over edition {n}", n=book.body.edition or t("of the shelf"))
        self._store.do(label, take_over(self._store.docket, book))


def _free(stem: str, ending: str) -> Path:
    """A name among the person's own rulebooks that nothing has."""
    path, n = own_folder() / f"{stem}{ending}", 2
    while path.exists():
        path, n = own_folder() / f"{stem}-{n}{ending}", n + 1
    return path
