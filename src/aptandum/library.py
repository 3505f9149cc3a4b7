"""The library behind ``import aptandum``: what the command line does, for programs in Python.

It reads, judges and makes in memory; nothing is written but by :meth:`Made.write`, and never over a supplied photo.
Everything that goes wrong is an :class:`aptandum.AptandumError` whose text is a sentence that names file and cause.
"""

from __future__ import annotations

import os
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any

from aptandum.core.brief.model import Brief
from aptandum.core.brief.model import Rulebook as _Book
from aptandum.core.conform import Proof
from aptandum.core.conform import conform as _conform
from aptandum.core.docket.audit import check_file
from aptandum.core.errors import AptandumError
from aptandum.core.file.write import WriteError
from aptandum.core.file.write import write as _write
from aptandum.core.fitting.settings import SettingError, Settings
from aptandum.core.frozen import frozen
from aptandum.core.judge.findings import Finding, Findings
from aptandum.core.photo.decode import full_facts, open_photo
from aptandum.core.photo.facts import Facts, PhotoError
from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.rulebook.shelf import BriefNotFound, Shelf, read_own, read_shelf
from aptandum.core.rulebook.toml import parse_rulebook, read_rulebook
from aptandum.core.rulebook.words import read as _read_words
from aptandum.core.rulebook.words.as_book import rulebook_text

Path_ = str | os.PathLike[str]
"""Where a file is."""


def facts(file: Path_, *, quick: bool = False) -> Facts:
    """What a picture file is, by its content.

    Args:
        quick: by its header alone; ``decodes`` then says nothing of its pixels.

    Returns:
        Its format, sides in pixels as stored and as shown, bits, colour space, profile, density and more; see
        :class:`Facts`.

    Raises:
        PhotoError: it is not there, not supported, damaged, or larger than is opened.
    """
    found = full_facts(file, quick)
    if found.error:
        raise PhotoError(found.error)
    return found


def check(file: Path_, brief: Brief | str, *, quick: bool = False) -> Findings:
    """Judge a file as it is against every rule of a brief. Nothing is changed or written.

    Args:
        brief: a brief, or its name on the shelf (``"vessary-ferries/deck-pass"``).
        quick: by its header alone; what needs pixels is ``unknown``.

    Returns:
        A :class:`Finding` for each clause, in the brief's order; ``meets_musts`` tells whether each rule that must
        be met is.

    Raises:
        PhotoError: it is no usable photo.
        BriefNotFound: no brief of that name is on the shelf.
    """
    return check_file(os.fspath(file), _brief(brief), quick).findings


@frozen
class Made:
    """A finished file, in memory, read back and judged.

    Attributes:
        data: its bytes.
        name: a file name that tells it from the photo.
        findings: judged on these bytes by the second reader.
        record: everything that was done, each as a sentence with its cause.
        proof: all that is known of it.
    """

    data: bytes
    name: str
    findings: Findings
    record: tuple[str, ...]
    proof: Proof
    supplied: str

    @property
    def ready(self) -> bool:
        """Whether it meets every rule that must be met; a question that only a person can answer does not count."""
        return self.findings.ready

    def write(self, target: Path_, *, replace: bool = False) -> Path:
        """Write it, whole or not at all.

        Args:
            target: a folder, where it gets its own name, or a file.
            replace: a file of that name is replaced; else the name gets a number.

        Returns:
            Where it went.

        Raises:
            WriteError: it cannot be written there, or the target is the supplied photo.
        """
        path = Path(os.fspath(target))
        path = path / self.name if path.is_dir() else path
        return _write(self.data, path, [self.supplied], replace=replace)


def conform(file: Path_, brief: Brief | str, *, settings: Mapping[str, Any] | None = None) -> Made:
    """Make the file that meets a brief, in memory, and judge its bytes.

    Args:
        brief: a brief, or its name on the shelf.
        settings: what is set otherwise than the brief asks, by station and key as ``--set`` has it
            (``{"file.format": "jpeg"}``).

    Raises:
        PhotoError: its pixels cannot be read, or are damaged.
        SettingError: there is no such setting, or it cannot have this value.
        BriefNotFound: no brief of that name is on the shelf.
    """
    wishes = Settings().having(dict(settings)) if settings else None
    proof = _conform(open_photo(file), _brief(brief), wishes)
    record = tuple(act.says for act in proof.record)
    return Made(proof.made.data, proof.suggested, proof.findings, record, proof, os.fspath(file))


class Rulebook:
    """The briefs of one receiving body, by their ids: ``book["deck-pass"]``."""

    def __init__(self, book: _Book) -> None:
        self._book = book

    @classmethod
    def read(cls, file: Path_) -> Rulebook:
        """A rulebook from its file.

        Raises:
            RulebookError: it cannot be read; the text names everything that is wrong with it, by line.
        """
        return cls(read_rulebook(file))

    @classmethod
    def parse(cls, text: str) -> Rulebook:
        """A rulebook from its text (TOML).

        Raises:
            RulebookError: it is not sound.
        """
        return cls(parse_rulebook(text))

    @classmethod
    def of_words(cls, text: str, *, body: str = "", title: str = "") -> Rulebook:
        """A rulebook from published words: ``"413 x 531 px, jpeg, at most 200 kB"``. What is read of them with
        doubt is in it too; ``aptandum rulebook read`` shows each rule with its words.

        Raises:
            RulebookError: nothing in the words is a rule.
        """
        return cls(parse_rulebook(rulebook_text(_read_words(text), body, title)))

    @classmethod
    def named(cls, body: str) -> Rulebook:
        """The rulebook of a body that is on the shelf, by the body's id.

        Raises:
            BriefNotFound: there is none.
        """
        return cls(_shelf().named(body))

    @classmethod
    def shelf(cls) -> tuple[Rulebook, ...]:
        """Every rulebook on the shelf: those that come with the application, and a person's own."""
        return tuple(cls(book) for book in _shelf().rulebooks)

    @property
    def id(self) -> str:
        """The body's id."""
        return self._book.body.id

    @property
    def name(self) -> str:
        """The body's name."""
        return self._book.body.name

    @property
    def briefs(self) -> tuple[Brief, ...]:
        """Its briefs, in its order."""
        return tuple(self._book.briefs)

    def __iter__(self) -> Iterator[Brief]:
        return iter(self.briefs)

    def __getitem__(self, brief: str) -> Brief:
        found = self._book.brief(brief)
        if found is None:
            raise KeyError(brief)
        return found

    def __repr__(self) -> str:
        return f"<Rulebook {self.id}: {', '.join(brief.id for brief in self.briefs)}>"


def _shelf() -> Shelf:
    own, _wrong = read_own()
    return read_shelf((), own)


def _brief(brief: Brief | str) -> Brief:
    return _shelf().find(brief)[1] if isinstance(brief, str) else brief


__all__ = [
    "AptandumError",
    "Brief",
    "BriefNotFound",
    "Facts",
    "Finding",
    "Findings",
    "Made",
    "PhotoError",
    "Rulebook",
    "RulebookError",
    "SettingError",
    "WriteError",
    "check",
    "conform",
    "facts",
]
