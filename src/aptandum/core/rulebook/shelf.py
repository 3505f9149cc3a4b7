"""The shelf: the rulebooks that are shipped, and those that a person adds."""

from __future__ import annotations

import datetime
import os
from collections.abc import Iterable
from functools import lru_cache
from importlib import resources
from pathlib import Path

import platformdirs

from aptandum.core.atomic import write_atomic
from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.rulebook.parcel import ENDING, NAME, pictures_of
from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.rulebook.toml import parse_rulebook, read_rulebook
from aptandum.core.words import listed, say


class BriefNotFound(AptandumError, LookupError):
    """No such body or brief on the shelf; the message names what there is."""


@frozen
class Shelf:
    """Rulebooks by their body's id, in order; a later one with the same id takes the place."""

    rulebooks: tuple[Rulebook, ...]

    def book(self, body_id: str) -> Rulebook | None:
        """The rulebook of a body, by the body's id; ``None`` where there is none."""
        return next((book for book in self.rulebooks if book.body.id == body_id), None)

    def named(self, body_id: str) -> Rulebook:
        """The rulebook of a body, by the body's id.

        Raises:
            BriefNotFound: with a sentence that names what there is.
        """
        book = self.book(body_id)
        if book is None:
            raise BriefNotFound(
                say(
                    "There is no rulebook “{name}”; on the shelf are {all}.",
                    name=body_id,
                    all=listed([b.body.id for b in self.rulebooks], "and"),
                )
            )
        return book

    def find(self, name: str) -> tuple[Rulebook, Brief]:
        """The brief called ``BOOK/BRIEF``; the brief may be left out where there is only one.

        Raises:
            BriefNotFound: with a sentence that names what there is.
        """
        body_id, _, brief_id = name.partition("/")
        book = self.named(body_id)
        brief = book.brief(brief_id) if brief_id else None
        if not brief_id and len(book.briefs) == 1:
            brief = book.briefs[0]
        if brief is None:
            names = [f"{body_id}/{b.id}" for b in book.briefs]
            raise BriefNotFound(
                say(
                    "There is no brief “{name}”; there are {all}.",
                    name=name,
                    all=listed(names, "and"),
                )
            )
        return book, brief


def shipped_paths() -> list[Path]:
    """The rulebooks that come with the application, in order of their names."""
    folder = Path(str(resources.files("aptandum.data").joinpath("rulebooks")))
    return sorted(folder.glob("*.toml"))


@lru_cache(maxsize=1)
def _shipped(paths: tuple[Path, ...]) -> tuple[Rulebook, ...]:
    """Read once: what comes with the application does not change while it runs."""
    return tuple(read_rulebook(path) for path in paths)


def own_folder() -> Path:
    """Where a person's own rulebooks are kept."""
    return Path(platformdirs.user_data_dir("aptandum", appauthor=False)) / "rulebooks"


def read_own(folder: Path | None = None) -> tuple[list[Rulebook], list[RulebookError]]:
    """The person's own rulebooks (files, archives, folders of one with its pictures), the one read last of
    a body last, and what is wrong with those that cannot be used: one bad file keeps no other from the
    shelf."""
    books, wrong = [], []
    place = folder or own_folder()
    paths = [*place.glob("*.toml"), *place.glob(f"*/{NAME}"), *place.glob(f"*{ENDING}")]
    for path in sorted(paths):
        try:
            books.append(read_rulebook(path))
        except RulebookError as error:
            wrong.append(error)
    books.sort(key=lambda book: book.body.read_on or datetime.date.min)
    return books, wrong


def keep_whole(book: Rulebook, folder: Path) -> Rulebook:
    """Write a rulebook and its pictures into a folder that is not there yet, and read it back.

    Raises:
        RulebookError, OSError: as :func:`keep`.
    """
    folder.mkdir(parents=True)
    for picture in pictures_of(book):
        write_atomic(folder / picture.name, picture.read_bytes())
    return keep(book.text, folder / NAME)


def keep(text: str, path: Path) -> Rulebook:
    """Write a rulebook's text whole or not at all, and read it back.

    Raises:
        RulebookError: the text is not sound; nothing is written.
        OSError: the file could not be written.
    """
    parse_rulebook(text, str(path), path.parent)
    path.parent.mkdir(parents=True, exist_ok=True)
    write_atomic(path, text)
    return read_rulebook(path)


def read_shelf(added: Iterable[str | os.PathLike[str]] = (), own: Iterable[Rulebook] = ()) -> Shelf:
    """The shipped rulebooks, the person's own and the added ones.

    Raises:
        RulebookError: one of the files breaks the language of rules.
    """
    books: dict[str, Rulebook] = {}
    for book in [*_shipped(tuple(shipped_paths())), *own, *map(read_rulebook, added)]:
        books[book.body.id] = book
    return Shelf(tuple(books.values()))
