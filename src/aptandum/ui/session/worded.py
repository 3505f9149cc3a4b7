"""Rules in words: the text that is being read, what was understood, and what a person said of it."""

from __future__ import annotations

import datetime
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.errors import AptandumError
from aptandum.core.rulebook.toml import draft_brief, parse_rulebook
from aptandum.core.rulebook.words import Draft, Reading, read
from aptandum.core.rulebook.words.draft import Fields, Key
from aptandum.core.rulebook.words.edition import Edition, next_edition
from aptandum.core.rulebook.words.settled import Decisions, by_hand, settled, with_made
from aptandum.core.rulebook.words.sources import text_of
from aptandum.core.rulebook.words.whose import whose
from aptandum.ui.jobs import Jobs
from aptandum.ui.session.library import Library
from aptandum.ui.strings import t

_SOON_MS = 120


class Worded(QObject):
    """One text at a time; every view of it shows the same.

    Signals:
        texted: the text is another one now.
        changed: it was read, or something was said of what was read.
        shelved: the rules lie on the shelf now: the name of the first brief.

    Attributes:
        reading: what was understood, with the clauses that were made by hand; ``None`` without words.
        current: whether the reading is of the text as it stands.
    """

    texted = pyqtSignal()
    changed = pyqtSignal()
    shelved = pyqtSignal(str)

    def __init__(
        self, library: Library, jobs: Jobs, tell: Callable[..., None], parent: QObject
    ) -> None:
        super().__init__(parent)
        self._library, self._jobs, self._tell = library, jobs, tell
        self.text = ""
        self.file = ""
        self.reading: Reading | None = None
        self.current = True
        self.decisions = Decisions()
        self._plain: Reading | None = None
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_SOON_MS)
        self._soon.timeout.connect(self._read)

    # -- the text ---------------------------------------------------------------------------------

    def put(self, text: str, file: str = "") -> None:
        """Read this text from now on; what was said of sentences that it still has stays said.

        Args:
            file: where it comes from; empty where it was typed or pasted.
        """
        if text == self.text:
            return
        self.text, self.file = text, file or (self.file if text.strip() else "")
        self.current = False
        self.texted.emit()
        self._soon.start()

    def put_source(self, path: str) -> bool:
        """Read the text of a file; False where it has none, which is said."""
        try:
            text = text_of(path)
        except AptandumError as error:
            self._tell(str(error))
            return False
        self.decisions = Decisions()
        self.put(text, path)
        return True

    def _read(self) -> None:
        text = self.text
        if not text.strip():
            self._show(None)
            return
        self._jobs.latest("words", lambda _late: read(text), self._show, self._tell)

    def _show(self, reading: Reading | None) -> None:
        self._plain, self.current = reading, True
        self._again()

    def _again(self) -> None:
        plain = self._plain
        self.reading = with_made(plain, self.text, self.decisions) if plain else None
        self.changed.emit()

    # -- what a person says ------------------------------------------------------------------------

    def answer(self, key: Key, fields: Fields | None) -> None:
        """A draft is this clause, or with ``None`` none."""
        self.decisions = self.decisions.answer(key, fields)
        self._again()

    def ask_again(self, key: Key) -> None:
        """As if nothing had been said of a draft."""
        self.decisions = self.decisions.ask_again(key)
        self._again()

    def make(self, start: int, end: int) -> Draft | None:
        """Make a clause of chosen words; they may be words of which nothing was understood."""
        at = [d for d in self.reading.drafts if d.start <= start] if self.reading else []
        first = self.reading.briefs[0] if self.reading and self.reading.briefs else ""
        made = by_hand(self.text, start, end, at[-1].brief if at else first)
        if made is not None:
            decisions = self.decisions.ask_again(made.key)
            others = tuple(one for one in decisions.made if one.key != made.key)
            self.decisions = Decisions(decisions.answers, (*others, made))
            self._plain = self._plain or Reading((), (), ("",))
            self._again()
        return made

    def is_answered(self, draft: Draft) -> bool:
        """Whether a person said what a draft is."""
        return draft.key in self.decisions.answers

    # -- what comes of it --------------------------------------------------------------------------

    def settled(self) -> Reading:
        """The text as it stands, read, with all that was said of it."""
        self._soon.stop()
        if not self.current:
            self._show(read(self.text) if self.text.strip() else None)
        if self._plain is None:
            return Reading((), (), ("",))
        return settled(self._plain, self.text, self.decisions)

    def briefs(self) -> tuple[Brief, ...]:
        """The briefs that the rules are so far, for what is shown of them; none where there is no rule."""
        held = settled(self._plain, self.text, self.decisions) if self._plain else None
        if held is None or not held.drafts:
            return ()
        return tuple(
            draft_brief(
                "",
                heading,
                [{**d.fields, "quote": d.quote} for d in held.drafts if d.brief == heading],
            )
            for heading in held.briefs
        )

    def body(self) -> str:
        """Whose rules they probably are."""
        return whose(self.text, Path(self.file).name if self.file else "")

    def take(self, body: str = "") -> str:
        """Make the rules a brief of the docket; its name, empty where there is no rule."""
        held = self.settled()
        return self._library.take_words(held, body) if held.drafts else ""

    def keep(self, body: str = "") -> Path | None:
        """Keep the rules as a rulebook of the person's own, which is said; nothing there is replaced."""
        held = self.settled()
        path = self._library.keep_words(held, body) if held.drafts else None
        if path is not None:
            self._tell(t("Saved: {path}", path=path), "done")
            found = next(b for b in self._library.shelf.rulebooks if b.path == str(path))
            self.shelved.emit(f"{found.body.id}/{found.briefs[0].id}")
        return path

    def against(self, book: Rulebook, brief: str = "") -> tuple[Rulebook, Edition] | None:
        """The words as the next edition of a rulebook; ``None`` where there is no rule or they cannot be
        one, which is said.

        Args:
            brief: the id of the brief that words without a heading are of.
        """
        held = self.settled()
        if not held.drafts:
            return None
        try:
            edition = next_edition(book, held, datetime.date.today(), brief)
            return parse_rulebook(edition.text, "", _folder(book)), edition
        except AptandumError as error:
            self._tell(str(error))
            return None


def _folder(book: Rulebook) -> Path | None:
    folder = book.briefs[0].folder if book.briefs else ""
    return Path(folder) if folder else None
