"""Between the docket and the desks: files are proved, written into the book, and errands done.

The book (:mod:`aptandum.desks.book`) is on the disk at every step; the docket's own part of it follows.
Errands run in threads of their own, and so does everything that may wait for a desk.
"""

from __future__ import annotations

import contextlib
import sqlite3
import threading
import uuid
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from aptandum.core.conform import Proof, named
from aptandum.core.docket.batch import prove_one
from aptandum.core.docket.handed import HandOver, Wish
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.facts import PhotoError
from aptandum.core.rulebook.model import Brief, Rulebook
from aptandum.core.rulebook.shelf import BriefNotFound
from aptandum.desks.book import AlreadyHanded, Book
from aptandum.desks.client import NotNow
from aptandum.desks.errands import Errands, wished
from aptandum.desks.simulated import Simulated
from aptandum.ui.session import Session
from aptandum.ui.strings import t

_GATHER_MS = 120
"""How long news from the desks are gathered before the docket takes them in."""

_TELL_MS = 1500
"""How long after news the rest of the application learns of them."""

CLEAR: dict[str, Any] = {
    "slow": 0.0, "full": False, "wrong_unit": False, "cut": 0.0, "lose": 0.0,
}  # fmt: skip
"""A desk that works as it should."""


@dataclass(frozen=True)
class Prepared:
    """A fitting's file, proved, and what would happen to it.

    Attributes:
        item: as it would be written down; ``None`` where no file could be made.
        already: how the very same file stands at the desk, where it does.
        settings: those by which it was made, every mend applied; ``None``: the fitting's own.
        trouble: why there is no file.
    """

    fitting: str
    brief: Brief
    book: Rulebook
    item: HandOver | None = None
    already: HandOver | None = None
    trouble: str = ""
    settings: Settings | None = None

    @property
    def goes(self) -> bool:
        return self.item is not None and self.already is None


class Handing(QObject):
    """See the module."""

    changed = pyqtSignal()
    prepared = pyqtSignal(object)
    _came = pyqtSignal(object)

    def __init__(
        self, session: Session, folder: Path | None = None, desks_folder: Path | None = None
    ) -> None:
        super().__init__(session)
        self.session = session
        self.folder = folder
        self.book: Book | None = None
        self.moods: dict[str, dict[str, Any]] = {}
        self.desks = Simulated(self._book_of, desks_folder, lambda body: self.moods.get(body, {}))
        self.ask_every = 0.8
        self._errands: Errands | None = None
        self._thread: threading.Thread | None = None
        self._news: dict[str, HandOver] = {}
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_GATHER_MS)
        self._soon.timeout.connect(self._take_in)
        # The whole application need not follow every word of a desk: what is open is written down
        # each time that it does, and the book has it already.
        self._tell_soon = QTimer(self)
        self._tell_soon.setSingleShot(True)
        self._tell_soon.setInterval(_TELL_MS)
        self._tell_soon.timeout.connect(session.changed.emit)
        self._came.connect(self._gather)
        self._followed = ""
        self._mine: set[str] = set()
        session.changed.connect(self._follow)

    # -- the book ------------------------------------------------------------------------------

    @property
    def items(self) -> tuple[HandOver, ...]:
        return self.session.docket.handed

    def item(self, item_id: str) -> HandOver | None:
        return next((one for one in self.items if one.id == item_id), None)

    def standing(self, fitting: str) -> HandOver | None:
        """The last hand-over of a fitting that is not over."""
        mine = [one for one in self.items if one.fitting == fitting and not one.over]
        return mine[-1] if mine else None

    def _opened(self) -> Book | None:
        if self.book is None:
            try:
                self.book = Book(self.folder)
                self.book.sweep()
            except (OSError, sqlite3.Error) as error:
                self.session.tell(t("The book of what was handed over cannot be opened: {why}.",
                                    why=error))  # fmt: skip
        return self.book

    def _follow(self) -> None:
        """A docket that has handed things over learns what became of them since it was saved."""
        key = self.session.docket.key
        if key == self._followed:
            return
        self._followed = key
        book = self._opened() if key else None
        if book is None:
            return
        held = book.of(key)
        if held and tuple(held) != self.items:
            self.session.history.note(self.session.docket.with_handed(key, held))
            self.changed.emit()
        if any(not item.settled for item in held):
            self._run()

    def _gather(self, item: HandOver) -> None:
        self._news[item.id] = item
        if not self._soon.isActive():
            self._soon.start()

    def _take_in(self) -> None:
        docket = self.session.docket
        known = {item.id for item in docket.handed}
        news, self._news = self._news, {}
        mine = [item for item in news.values() if item.id in known]
        if mine:
            self.session.history.note(docket.with_handed(docket.key, mine))
            self.changed.emit()
            if not self._tell_soon.isActive():
                self._tell_soon.start()

    def _book_of(self, body: str) -> Rulebook:
        """A body's rulebook: the docket's own edition, else the shelf's."""
        for brief in {item.brief for item in self.items if item.body == body}:
            with contextlib.suppress(BriefNotFound):
                return self.session.find(brief)[0]
        found = self.session.shelf.book(body)
        if found is None:
            raise LookupError(body)
        return found

    # -- handing over --------------------------------------------------------------------------

    def prepare(self, ids: Sequence[str]) -> None:
        """Prove the files of some fittings, and say what would be handed over: ``prepared``."""
        session, docket = self.session, self.session.docket
        book = self._opened()
        if book is None or not ids:
            return
        bench = session.bench
        wanted: list[tuple[Any, Any, Rulebook, Brief, Proof | None]] = []
        lost: list[str] = []
        for fitting_id in ids:
            fitting = docket.fitting(fitting_id)
            try:
                rules, brief = session.find(fitting.brief)
            except BriefNotFound as error:
                lost.append(str(error))
                continue
            laid = bench is not None and bench.fitting.id == fitting_id
            proof = bench.proof if laid and bench is not None else None
            wanted.append((fitting, docket.photo(fitting.photo), rules, brief, proof))
        if lost:
            session.tell("\n".join(dict.fromkeys(lost)))
        session.working.emit(t("Proving what is handed over …"))
        stands = {fitting_id: self.standing(fitting_id) for fitting_id in ids}

        def work(late: Callable[[], bool]) -> list[Prepared]:
            made = []
            for fitting, entry, rules, brief, proof in wanted:
                if late():
                    break
                made.append(_prepared(fitting, entry, rules, brief, proof, book,
                                      stands[fitting.id], late))  # fmt: skip
                session.counted.emit(len(made), len(wanted))
            return made

        def done(found: Any, trouble: str) -> None:
            session.working.emit("")
            if trouble:
                session.tell(trouble)
            elif found:
                self.prepared.emit(found)

        session.queue.start("hand over", work, done)

    def send(self, files: Sequence[Prepared]) -> None:
        """Write files into the book and begin to send them."""
        session = self.session
        book = self._opened()
        going = [one for one in files if one.goes]
        if book is None or not going:
            return
        key = session.docket.key or uuid.uuid4().hex[:12]

        def work(late: Callable[[], bool]) -> tuple[list[HandOver], list[str]]:
            begun, wrong = [], []
            for one in going:
                assert one.item is not None
                try:
                    begun.append(book.begin(key, one.item))
                except AlreadyHanded as error:
                    wrong.append(str(error))
            return begun, wrong

        def done(found: Any, trouble: str) -> None:
            if trouble:
                session.tell(t("Nothing was sent: {why}", why=trouble))
                return
            begun, wrong = found
            self._followed = key
            sent = {item.fitting for item in begun}
            session.keep_settings({
                one.fitting: one.settings for one in going
                if one.settings is not None and one.fitting in sent
            })  # fmt: skip
            session.history.note(session.docket.with_handed(key, begun))
            if wrong:
                session.tell("\n".join(wrong), "note")
            self.changed.emit()
            session.changed.emit()
            self._run(begun)

        session.queue.start("hand over", work, done)

    # -- what is wanted of those handed over -----------------------------------------------------

    def wish(self, ids: Sequence[str], what: Wish) -> None:
        """Want some to be retired, or looked at again; those that cannot be asked are passed
        over."""
        book = self._opened()
        if book is None or not ids:
            return

        def work(late: Callable[[], bool]) -> list[HandOver]:
            asked = []
            for item_id in ids:
                item = book.get(item_id)
                with contextlib.suppress(ValueError):
                    if item is not None:
                        asked.append(wished(item, what))
                        book.write(asked[-1])
            return asked

        def done(asked: Any, trouble: str) -> None:
            if trouble:
                self.session.tell(trouble)
            elif asked:
                docket = self.session.docket
                self.session.history.note(docket.with_handed(docket.key, asked))
                self.changed.emit()
                self.session.changed.emit()
                self._run(asked)
            else:
                self.session.tell(t("That cannot be asked as it stands."), "note")

        self.session.queue.start("wish", work, done)

    def try_now(self) -> None:
        """Ask every desk at once, whatever the patience."""
        self._run([item for item in self.items if not item.settled])

    def tell_desk(self, body: str, mood: dict[str, Any]) -> None:
        """Tell a simulated desk how to behave, from now on and when it is opened again."""
        self.moods[body] = mood

        def work(late: Callable[[], bool]) -> None:
            self.desks.desk(body).tell(CLEAR | mood)

        def done(_found: Any, trouble: str) -> None:
            if trouble:
                self.session.tell(trouble)
            self.changed.emit()

        def safe(late: Callable[[], bool]) -> None:
            try:
                work(late)
            except NotNow as error:
                raise OSError(str(error)) from None

        self.session.queue.start("mood", safe, done)

    # -- errands -------------------------------------------------------------------------------

    def _run(self, first: Sequence[HandOver] = ()) -> None:
        if self.book is None:
            return
        if self._errands is None or self._thread is None or not self._thread.is_alive():
            self._errands = Errands(self.book, self.desks.desk, self._came.emit, self.ask_every)
            errands = self._errands
            self._thread = threading.Thread(
                target=lambda: errands.run(False, lambda i: i in self._mine),
                name="errands",
                daemon=True,
            )
            self._thread.start()
        mine = {item.id for item in self.book.of(self.session.docket.key)}
        self._mine |= mine | {item.id for item in first}
        self._errands.ring(first)

    def stop(self) -> None:
        """Stop doing errands; the desks are closed. What is left is done when the docket is next
        opened."""
        if self._errands is not None:
            self._errands.stop()
        self.desks.close()  # first: whoever waits for an answer need not wait any longer
        over = True
        if self._thread is not None:
            self._thread.join(5)
            over = not self._thread.is_alive()
        self._errands, self._thread = None, None
        if self.book is not None and over:
            self.book.close()
            self.book = None


def _prepared(
    fitting: Any, entry: Any, rules: Rulebook, brief: Brief, proof: Proof | None, book: Book,
    stands: HandOver | None, late: Callable[[], bool],
) -> Prepared:  # fmt: skip
    settings = None
    try:
        if proof is None:
            _photo, settings, proof = prove_one(fitting, entry, brief, late)
        proof = named(proof, brief, proof.suggested, fitting.confirmed())
        data = proof.made.data
        sha256 = book.lay(data)
    except (PhotoError, OSError) as error:
        return Prepared(fitting.id, brief, rules, trouble=str(error))
    already = book.standing(fitting.brief, sha256)
    replaces = stands.number if stands is not None and stands.sha256 != sha256 else ""
    item = HandOver(
        id="", fitting=fitting.id, brief=fitting.brief, name=proof.suggested, sha256=sha256,
        bytes=len(data), ready=proof.ready, missed=proof.findings.counts()["misses"] > 0, we_say=proof.findings.summary(), replaces=replaces,
    )  # fmt: skip
    return Prepared(fitting.id, brief, rules, item, already, settings=settings)
