"""Between the docket and the desks: files are proved, written into the book, and errands done.

The book (:mod:`aptandum.desks.book`) is on the disk at every step; the docket's own part of it follows.
Errands run in threads of their own, and so does everything that may wait for a desk.
"""

from __future__ import annotations

import contextlib
import sqlite3
import uuid
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from aptandum.core import mistakes
from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.conform import Proof, named
from aptandum.core.docket.batch import prove_one
from aptandum.core.docket.hand_over import HandOver, Wish
from aptandum.core.errors import AptandumError, Cancelled
from aptandum.core.fitting.settings import Settings
from aptandum.core.frozen import frozen
from aptandum.core.rulebook.shelf import BriefNotFound
from aptandum.desks.book import AlreadyHanded, Book, own_folder
from aptandum.desks.errands import Errands, wished
from aptandum.desks.orphans import let_go, orphans
from aptandum.desks.simulated import Simulated
from aptandum.ui.jobs import Progress, Service
from aptandum.ui.session import Session
from aptandum.ui.strings import commas, t

_GATHER_MS = 120
"""How long news from the desks are gathered before the docket takes them in."""

CLEAR: dict[str, Any] = {
    "slow": 0.0,
    "full": False,
    "wrong_unit": False,
    "cut": 0.0,
    "lose": 0.0,
}
"""A desk that works as it should."""


@frozen
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


class HandOvers(QObject):
    """What was handed over, and the desks that it is at; signals when anything moves."""

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
        self._service: Service | None = None
        self.orphans: list[HandOver] = []
        self._news: dict[str, HandOver] = {}
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_GATHER_MS)
        self._soon.timeout.connect(self._take_in)
        self._came.connect(self._gather)
        self._followed = ""
        self._mine: set[str] = set()
        session.store.changed.connect(self._follow)
        session.store.filed.connect(self._remember)

    def catch_up(self) -> None:
        """Take in what the docket was before this was made."""
        self._follow()
        self._remember()

    # -- the book ------------------------------------------------------------------------------

    @property
    def items(self) -> tuple[HandOver, ...]:
        return self.session.docket.handed

    def item(self, item_id: str) -> HandOver | None:
        """A hand-over by its id, or ``None``."""
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
                self.session.tell(
                    t("The book of what was handed over cannot be opened: {why}.", why=error)
                )
        return self.book

    def _follow(self, _change: object = None) -> None:
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
            self.session.store.note(self.session.docket.with_handed(key, held))
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
            self.session.store.note(docket.with_handed(docket.key, mine))
            self.changed.emit()

    def _book_of(self, body: str) -> Rulebook:
        """A body's rulebook: the docket's own edition, else the shelf's."""
        for brief in {item.brief for item in self.items if item.body == body}:
            with contextlib.suppress(BriefNotFound):
                return self.session.library.find(brief)[0]
        found = self.session.library.shelf.book(body)
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
                rules, brief = session.library.find(fitting.brief)
            except BriefNotFound as error:
                lost.append(str(error))
                continue
            laid = bench is not None and bench.fitting.id == fitting_id
            proof = bench.proof if laid and bench is not None else None
            wanted.append((fitting, docket.photo(fitting.photo), rules, brief, proof))
        if lost:
            session.tell("\n".join(dict.fromkeys(lost)))
        stands = {fitting_id: self.standing(fitting_id) for fitting_id in ids}

        def work(progress: Progress) -> list[Prepared]:
            made = []
            for fitting, entry, rules, brief, proof in wanted:
                progress.check()
                made.append(
                    _prepared(
                        fitting, entry, rules, brief, proof, book, stands[fitting.id], progress
                    )
                )
                progress.count(len(made), len(wanted))
            return made

        def done(found: list[Prepared]) -> None:
            if found:
                self.prepared.emit(found)

        session.jobs.command(t("Proving what is handed over …"), work, done, lane="hand over")

    def send(self, files: Sequence[Prepared]) -> None:
        """Write files into the book and begin to send them. The docket has its key, and the crash
        record has both, before the book does: whatever happens then, the docket finds them."""
        session = self.session
        book = self._opened()
        going = [one for one in files if one.goes]
        if book is None or not going:
            return
        key = self._key()
        session.autosave.keep()  # in the journal, before what follows

        def work() -> tuple[list[HandOver], list[str]]:
            begun, wrong = [], []
            for one in going:
                assert one.item is not None
                try:
                    begun.append(book.begin(key, one.item))
                except AlreadyHanded as error:
                    wrong.append(str(error))
            return begun, wrong

        def done(found: tuple[list[HandOver], list[str]]) -> None:
            begun, wrong = found
            sent = {item.fitting for item in begun}
            session.many.keep_settings(
                {
                    one.fitting: one.settings
                    for one in going
                    if one.settings is not None and one.fitting in sent
                }
            )
            self._note(key, begun)
            if wrong:
                session.tell("\n".join(wrong), "note")
            self._run(begun)

        def failed(error: BaseException) -> None:
            why = mistakes.sentence(error, t("Handing over"))
            session.tell(t("Nothing was sent: {why}", why=why))

        session.jobs.journal.put(work, done, failed)

    def _key(self) -> str:
        """The docket's name in the book; it gets one the first time that it is asked for."""
        store = self.session.store
        if not store.docket.key:
            key = uuid.uuid4().hex[:12]
            self._followed = key
            store.note(store.docket.model_copy(update={"key": key}))
            self._remember()
        return store.docket.key

    def _remember(self) -> None:
        """Write down in the book where this docket lies."""
        store, book = self.session.store, self.book
        docket, path = store.docket, store.path
        if book is None or not docket.key:
            return
        where = str(path.absolute()) if path is not None else ""
        self.session.jobs.journal.put(
            lambda: book.remember(docket.key, where, docket.title), None, lambda _error: None
        )

    def _note(self, key: str, items: Sequence[HandOver]) -> None:
        """Have the docket say how some hand-overs stand, where it is still open."""
        docket = self.session.docket
        if docket.key == key:
            self.session.store.note(docket.with_handed(key, items))
            self.changed.emit()

    # -- what is wanted of those handed over -----------------------------------------------------

    def wish(self, ids: Sequence[str], what: Wish) -> None:
        """Want some to be retired, or looked at again; those that cannot be asked are passed
        over."""
        book, key = self._opened(), self.session.docket.key
        if book is None or not ids:
            return

        def work() -> list[HandOver]:
            asked = []
            for item_id in ids:
                item = book.get(item_id)
                with contextlib.suppress(ValueError):
                    if item is not None:
                        asked.append(wished(item, what))
                        book.write(asked[-1])
            return asked

        def done(asked: list[HandOver]) -> None:
            if asked:
                self._note(key, asked)
                self._run(asked)
            else:
                self.session.tell(t("That cannot be asked as it stands."), "note")

        def failed(error: BaseException) -> None:
            self.session.tell(mistakes.sentence(error, t("Asking the desk")))

        self.session.jobs.journal.put(work, done, failed)

    # -- hand-overs whose docket is gone ---------------------------------------------------------

    def look_for_orphans(self) -> None:
        """See whether files were handed over by dockets that are gone: what was never sent is
        withdrawn, and the rest is told."""
        if not (self.folder or own_folder()).joinpath("book.sqlite").exists():
            return  # nothing was ever handed over
        book = self._opened()
        if book is None:
            return
        known = {self.session.docket.key}

        def done(found: tuple[int, list[HandOver]]) -> None:
            gone, self.orphans = found
            n = len(self.orphans)
            if n:
                self.session.tell(
                    t(
                        "Files handed over by a docket that was not kept: {names}. Menu, Desk, "
                        "“Take them into this docket” brings them here.",
                        names=commas([item.name for item in self.orphans[:4]]),
                    ),
                    "note",
                )
            elif gone:
                self.session.tell(
                    t("Files of a docket that was not kept were never sent, and are withdrawn."),
                    "note",
                )

        def work() -> tuple[int, list[HandOver]]:
            found = orphans(book, known)
            left = let_go(book, found)
            return len(found) - len(left), left

        self.session.jobs.journal.put(work, done, self._unseen)

    def take_orphans(self) -> None:
        """Take the hand-overs of dockets that are gone into this one."""
        book, items = self._opened(), self.orphans
        if book is None or not items:
            self.session.tell(t("No file was handed over by a docket that is gone."), "note")
            return
        key, self.orphans = self._key(), []

        def work() -> list[HandOver]:
            found = [book.adopt(item.id, key) for item in items]
            return [item for item in found if item is not None]

        def done(found: list[HandOver]) -> None:
            self._note(key, found)
            self._run(found)

        self.session.jobs.journal.put(work, done, self._unseen)

    def _unseen(self, error: BaseException) -> None:
        self.session.tell(mistakes.sentence(error, t("Looking through the book")))

    def try_now(self) -> None:
        """Ask every desk at once, whatever the patience."""
        self._run([item for item in self.items if not item.settled])

    def tell_desk(self, body: str, mood: dict[str, Any]) -> None:
        """Tell a simulated desk how to behave, from now on and when it is opened again."""
        self.moods[body] = mood

        def work(_progress: Progress) -> None:
            self.desks.desk(body).tell(CLEAR | mood)

        def done(_nothing: None) -> None:
            self.changed.emit()

        def failed(why: str) -> None:
            self.session.tell(why)
            self.changed.emit()

        words = t("Telling the simulated desk …")
        self.session.jobs.command(words, work, done, failed, lane=f"desk {body}")

    # -- errands -------------------------------------------------------------------------------

    def _run(self, first: Sequence[HandOver] = ()) -> None:
        if self.book is None:
            return
        if self._errands is None or self._service is None or not self._service.runs:
            errands = Errands(self.book, self.desks.desk, self._came.emit, self.ask_every)
            self._errands = errands
            self._service = self.session.jobs.service(
                t("Asking the desks"), lambda: errands.run(False, lambda i: i in self._mine)
            )
            self._service.start()
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
        if self._service is not None:
            over = self._service.join(5)
        self._errands, self._service = None, None
        self.session.jobs.journal.flush()
        if self.book is not None and over:
            self.book.close()
            self.book = None


def _prepared(
    fitting: Any,
    entry: Any,
    rules: Rulebook,
    brief: Brief,
    proof: Proof | None,
    book: Book,
    stands: HandOver | None,
    late: Callable[[], bool],
) -> Prepared:
    settings = None
    try:
        if proof is None:
            _photo, settings, proof = prove_one(fitting, entry, brief, late)
        proof = named(proof, brief, proof.suggested, fitting.confirmed())
        data = proof.made.data
        sha256 = book.lay(data)
    except Cancelled:
        raise
    except (AptandumError, OSError) as error:
        return Prepared(fitting.id, brief, rules, trouble=str(error))
    already = book.standing(fitting.brief, sha256)
    replaces = stands.number if stands is not None and stands.sha256 != sha256 else ""
    item = HandOver(
        id="",
        fitting=fitting.id,
        brief=fitting.brief,
        name=proof.suggested,
        sha256=sha256,
        bytes=len(data),
        ready=proof.ready,
        missed=proof.findings.counts()["misses"] > 0,
        we_say=proof.findings.summary(),
        replaces=replaces,
    )
    return Prepared(fitting.id, brief, rules, item, already, settings=settings)
