"""Rulebooks: finding a brief, the shelf, new editions."""

from __future__ import annotations

from collections.abc import Iterable

from aptandum.core.docket.takeover import Offer, find, offers, take_over
from aptandum.core.photo.facts import Facts, PhotoError
from aptandum.core.rulebook.model import Brief, Rulebook
from aptandum.core.rulebook.shelf import Shelf, read_own, read_shelf
from aptandum.core.rulebook.toml import RulebookError, read_rulebook
from aptandum.ui.session.base import Base, seen_as
from aptandum.ui.strings import t


class Shelved(Base):
    """See the module."""

    def find(self, brief_name: str) -> tuple[Rulebook, Brief]:
        """A brief by the rulebook that the docket was made with, else by the shelf's.

        Raises:
            BriefNotFound: neither has it.
        """
        return find(self.docket, self.shelf, brief_name)

    def add_own_rulebooks(self) -> None:
        """Lay the person's own rulebooks on the shelf; what cannot be used is said."""
        books, wrong = read_own()
        for book in books:
            self.put_on_shelf(book)
        if wrong:
            self.tell("\n".join(str(error) for error in wrong))

    def add_rulebook(self, path: str) -> Rulebook | None:
        """Lay a rulebook file on the shelf; None where it is not sound (which is said)."""
        try:
            book = read_rulebook(path)
        except RulebookError as error:
            self.tell(str(error))
            return None
        self.put_on_shelf(book)
        return book

    def put_on_shelf(self, book: Rulebook) -> None:
        """A rulebook with the same body's id takes the place of the one there."""
        others = [b for b in self.shelf.rulebooks if b.body.id != book.body.id]
        at = [b.body.id for b in self.shelf.rulebooks]
        place = at.index(book.body.id) if book.body.id in at else len(others)
        others.insert(place, book)
        self.shelf = Shelf(tuple(others))
        self.shelved.emit()

    def offers(self) -> tuple[Offer, ...]:
        """Editions on the shelf that the docket does not follow; kept, as every step of a drag
        asks."""
        key = (tuple(self.docket.rulebooks.items()), id(self.shelf))
        if self._offered is None or self._offered[0] != key:
            self._offered = key, offers(self.docket, self.shelf)
        return self._offered[1]

    def facts_of(self, photo_id: str) -> Facts | None:
        try:
            return self.photo_of(photo_id).facts
        except PhotoError:
            return None

    def take_over(self, book: Rulebook) -> None:
        """Follow another edition of a rulebook from now on."""
        label = t("Take over edition {n}", n=book.body.edition or t("of the shelf"))
        if not self.history.do(label, take_over(self.docket, book)):
            return
        if self.bench is not None and self.bench.book.body.id == book.body.id:
            self._relay()
        self.changed.emit()

    def _relay(self) -> None:
        """Lay the fitting on the bench anew, for its brief is another now."""
        bench = self.bench
        if bench is not None:
            self.bench = None
            preview = bench.preview
            if self.lay(bench.fitting.id, show=False) and self.bench is not None:
                if self.bench.preview is None and seen_as(self.bench.photo) == seen_as(bench.photo):
                    self.bench.preview = preview
                self.pictures.emit()

    def add_rulebooks(self, paths: Iterable[str]) -> None:
        try:
            self.shelf = read_shelf(paths)
        except RulebookError as error:
            self.tell(str(error))
