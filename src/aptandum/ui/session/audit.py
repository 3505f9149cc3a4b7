"""What is audited, against which brief, and what was found: kept for as long as it is open."""

from __future__ import annotations

import os
import sqlite3
import threading
import time
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from datetime import datetime
from functools import partial
from typing import TypeVar

import numpy as np
from platformdirs import user_state_path
from PyQt6.QtCore import QObject, pyqtSignal

from aptandum.core import workers
from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.docket import audit, audit_lists, audit_run
from aptandum.core.docket.audit_book import ENDING, AuditBook, AuditBookError, Since, rules_key
from aptandum.core.docket.audit_found import Found, Known, Mask
from aptandum.core.docket.audit_lists import Order, Page, Rows
from aptandum.core.docket.audit_memory import Remembered
from aptandum.core.docket.batch import run
from aptandum.core.docket.listed import Listed, Places
from aptandum.core.docket.listing import Columns
from aptandum.core.docket.model import Audited
from aptandum.core.file.write import unwritten
from aptandum.core.photo.facts import shown_name
from aptandum.core.rulebook.shelf import BriefNotFound
from aptandum.ui.jobs import Jobs, Progress
from aptandum.ui.session.audited import AuditRun, Come
from aptandum.ui.session.docket_store import Change, DocketStore
from aptandum.ui.session.library import Library
from aptandum.ui.strings import commas, t, t_n

_SHOW_EVERY = 0.25
"""Seconds between two looks at what has been checked meanwhile."""

_KNOWN_EVERY = 1.0
"""The same for what is known from before: it comes so fast that each list would take from the time of the whole one."""

_STATED = 400
"""Files at a time for which it is seen whether a picture has been replaced."""

T = TypeVar("T")


def _by_time(each: Iterable[T], every: float) -> Iterator[list[T]]:
    """What has come between two looks at it, so many seconds apart; the last time, what is left."""
    held: list[T] = []
    last = time.monotonic()
    for one in each:
        held.append(one)
        if time.monotonic() - last > every:
            yield held
            held, last = [], time.monotonic()
    yield held


class AuditModel(QObject):
    """Audits and what they found. An audit that another takes the place of goes on, and what it found stands
    when it is gone back to.

    Signals:
        changed: what is audited, or what was found, is another now.
    """

    changed = pyqtSignal()

    def __init__(
        self,
        store: DocketStore,
        library: Library,
        jobs: Jobs,
        tell: Callable[..., None],
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._store, self._library, self._jobs, self._tell = store, library, jobs, tell
        self._runs: dict[tuple[str, str], AuditRun] = {}
        self.run = AuditRun("", "")
        self.watched = False  # somebody looks at it
        self._book: AuditBook | None = None
        self._turn = 0
        self._opening = threading.Lock()
        store.changed.connect(self._docket_changed)
        store.opened.connect(self._forget)

    @property
    def source(self) -> str:
        return self.run.source

    @property
    def items(self) -> Listed:
        return self.run.items

    @property
    def checked(self) -> Found:
        return self.run.checked

    # -- following the docket --------------------------------------------------------------------

    def _docket_changed(self, change: Change) -> None:
        if self.watched and change.touches("audit"):
            self.follow()

    def _forget(self) -> None:
        """Another docket is open: what was found for the one before is looked at anew."""
        for audited in self._runs.values():
            self._jobs.cancel_lane(audited.lane)
        self._runs, self.run = {}, AuditRun("", "")
        self._close_book()
        self.changed.emit()

    # -- the book --------------------------------------------------------------------------------

    def _opened_book(self, source: str) -> AuditBook | None:
        """The book in which audits are written down: beside the docket; of one that has no file yet, in the application's
        own folder, from where it comes along once there is one. ``None`` where it cannot be used, which is said. In any
        thread."""
        unsaved = user_state_path("aptandum", appauthor=False) / f"unsaved{ENDING}"
        docket = self._store.path
        path = unsaved if docket is None else docket.with_name(docket.stem + ENDING)
        with self._opening:
            if self._book is None or self._book.path != path:
                self._close_book()
                begun = not path.exists()
                try:
                    self._book = AuditBook(path)
                    if begun and path != unsaved and unsaved.exists():
                        known = [run_source for run_source, _brief in list(self._runs)]
                        self._book.take_over(unsaved, [*known, source])
                    if begun and path != unsaved:
                        made = t(
                            "What the audit finds is remembered beside the docket, in {file}.",
                            file=path.name,
                        )
                        self._jobs.post(lambda: self._tell(made, "note"))
                except (AuditBookError, sqlite3.Error) as error:
                    self._not_remembered(error)
            return self._book

    def _close_book(self) -> None:
        if self._book is not None:
            self._book.close()
            self._book = None

    def accept(self, keys: Sequence[str], on: bool) -> None:
        """Have items stay as they are, or no longer."""
        audited = self.run

        listed = audited.items

        def work(_progress: Progress) -> Remembered | None:
            book = self._opened_book(audited.source)
            if book is None:
                return audited.remembered
            at = datetime.now().astimezone() if on else None
            book.accept(audited.source, audited.brief, keys, at)
            return book.remembered(audited.source, audited.brief, listed.keys)

        def done(remembered: Remembered | None) -> None:
            audited.remembered = remembered
            self.changed.emit()

        self._jobs.command(t("Writing it down …"), work, done, lane="audit book")

    # -- following again ---------------------------------------------------------------------------

    def follow(self) -> None:
        """Audit what the docket says was audited, where that is not what is shown."""
        held = self._store.docket.audit
        if held is None:
            if self.run.source:
                self._jobs.cancel_lane(self.run.lane)
                self.run = AuditRun("", "")
                self.changed.emit()
            return
        if self.run.items and held == self.run.audited():
            return
        known = self._runs.get((held.source, held.brief))
        if known is None or not known.items:
            columns = Columns(**held.columns) if held.columns else None
            briefs = held.briefs or (held.brief,)
            self.open(held.source, held.brief, held, briefs, columns)
            return
        self.run = known
        known.put_instead(held)
        self.changed.emit()
        if known.asked is None:
            self.check(np.flatnonzero(~known.checked.looked))

    # -- what is audited -------------------------------------------------------------------------

    def open(
        self,
        source: str,
        brief: str,
        held: Audited | None = None,
        briefs: Sequence[str] = (),
        columns: Columns | None = None,
    ) -> None:
        """Audit a folder or a listing.

        Args:
            brief: the one whose list is shown, as ``BOOK/BRIEF``.
            held: as the docket has it.
            briefs: all that it is audited against; left out: the one.
            columns: what the listing's columns are; left out: as they seem.
        """

        def work(_progress: Progress) -> Listed:
            listed = (
                audit.items_in([source])
                if os.path.isdir(source)
                else audit.read_listing(source, columns)
            )
            _known_by = listed.keys  # here, and not where they are painted
            return listed

        def done(found: Listed) -> None:
            if not found:
                self._tell(t("There are no pictures in {name}.", name=shown_name(source)))
                return
            several = tuple(dict.fromkeys((brief, *briefs)))
            for name in reversed(several):  # the one that is shown comes last, and is begun first
                made = AuditRun.of(source, name, found)
                made.briefs, made.columns = several if len(several) > 1 else (), columns
                old = self._runs.get((source, name))
                if old is not None:
                    self._jobs.cancel_lane(old.lane)
                self._runs[source, name] = self.run = made
                if held is not None:
                    made.put_instead(held)
            if held is None:
                self._keep()
            self.start(anew=False)
            for name in several[1:]:
                other = self._runs[source, name]
                self.check(np.arange(len(other.items)), other)

        name = shown_name(source)
        self._jobs.command(t("Looking through {name} …", name=name), work, done, lane="audits")

    def use_brief(self, brief: str) -> None:
        """Hold the same pictures against another brief."""
        if not self.run.source or brief == self.run.brief:
            return
        before = self.run
        known = self._runs.get((before.source, brief))
        if known is not None and known.items.is_like(before.items):
            self.run = known  # it was audited against both
            self._keep()
            self.changed.emit()
            return
        made = AuditRun.of(before.source, brief, before.items)
        made.briefs, made.columns = before.briefs, before.columns
        self._runs[made.source, brief] = self.run = made
        self._keep()
        self.start(anew=False)

    def _keep(self, words: str = "") -> None:
        """Write down in the docket what is audited here, as a step of its own where it is called by ``words``."""
        audited = self.run.audited()
        docket = self._store.docket.model_copy(update={"audit": audited})
        name = shown_name(audited.source)
        group = "" if words else f"audit {audited.source}"
        self._store.do(words or t("Audit {name}", name=name), docket, group)

    def replace(self, files: Mapping[int, str]) -> None:
        """Check other files in place of some items' own, by their places; one step, however many there are."""
        whole = {at: os.path.abspath(path) for at, path in files.items()}
        self.run.use(self.items.with_files(whole))
        n = len(files)
        self._keep(t_n("Replace {n} picture", "Replace {n} pictures", n))
        self.check(np.array(sorted(files), np.intp))

    # -- checking --------------------------------------------------------------------------------

    def start(self, anew: bool = True) -> None:
        """Check every picture (again).

        Args:
            anew: those as well that have not changed since they were looked at.
        """
        self.run.checked = Found(self.items)
        self.check(np.arange(len(self.items)), anew=anew)

    def check(self, places: Places, audited: AuditRun | None = None, anew: bool = False) -> None:
        """Check the pictures at some places, of what is shown or of another run."""
        audited = audited or self.run
        self.changed.emit()
        if not len(places):
            return
        try:
            rules, brief = self._library.find(audited.brief)
        except BriefNotFound as error:
            self._tell(str(error))
            return
        if len(places) == len(audited.items):
            self._jobs.cancel_lane(audited.lane)  # all are asked for anew
        self._begin(audited, places, rules, brief, anew)

    def _begin(
        self,
        audited: AuditRun,
        places: Places,
        rules: Rulebook,
        brief: Brief,
        anew: bool,
    ) -> None:
        this = audited.asked = object()
        items = audited.items
        key = rules_key(rules.text, brief.id, False)

        def came(progress: Progress, found: list[Come], known: Known | None = None) -> None:
            if progress.cancelled or not (found or known):
                return  # what comes late is dropped
            audited.put(items, known, found)
            if audited is self.run:
                self.changed.emit()

        def work(progress: Progress) -> Known | None:
            book = self._opened_book(audited.source)
            wanted = np.zeros(len(items), bool)
            wanted[places] = True
            looked = self._looked(None if anew else book, items, wanted.copy(), key)
            for parts in _by_time(looked, _KNOWN_EVERY):
                progress.check()
                if parts:
                    known = Known.joined(parts)
                    wanted[known.places] = False
                    if not wanted.any():
                        return known  # with the end, so that what is shown is made once
                    self._jobs.post(partial(came, progress, [], known))
            looks, many = audit_run.planned(items, wanted, brief), items.count_pictures(wanted)
            pool, n = workers.shared(), 0
            come = run(looks, pool.lane(1), pool.most, progress, audit_run.look, audit_run.lost)
            for some in _by_time(come, _SHOW_EVERY):
                progress.check()
                n += len(some)
                progress.count(n, many)
                book = self._hand_on(book, key, some)
                self._jobs.post(partial(came, progress, some))
            return None

        def ended(known: Known | None = None) -> None:
            if known is not None and not command.progress.cancelled:
                audited.put(items, known)
            last = audited.asked is this
            if last:
                audited.asked = None
            if audited is self.run:
                self.changed.emit()
            if last and audited.checked.whole:
                self._record(audited)

        name = shown_name(audited.source)
        command = self._jobs.command(
            t("Auditing {name} …", name=name), work, ended, lane=audited.lane, cancelled=ended
        )

    def _looked(
        self, book: AuditBook | None, items: Listed, wanted: Mask, key: str
    ) -> Iterator[Known]:
        """What the book knows; where it cannot be read any more, that is said."""
        try:
            yield from book.looked(items, wanted, key) if book is not None else ()
        except sqlite3.Error as error:
            self._not_remembered(error)

    def _hand_on(self, book: AuditBook | None, key: str, found: list[Come]) -> AuditBook | None:
        """Write down what was found: the book, or ``None`` from where on it cannot be written to, which is said."""
        try:
            if book is not None:
                book.remember((one for _at, one in found), key)
        except sqlite3.Error as error:  # a full disk
            self._not_remembered(error)
            return None
        return book

    def _not_remembered(self, error: Exception) -> None:
        said = t("What was found is not remembered. {why}", why=str(error))
        self._jobs.post(lambda: self._tell(said))

    def _record(self, audited: AuditRun) -> None:
        """Write down how everything stands, and read what has changed since last time."""
        found = audited.checked.copy()
        where = audited.source, audited.brief

        def work(_progress: Progress) -> tuple[Remembered, Since] | None:
            book = self._opened_book(audited.source)
            if book is None:
                return None
            if not audited.visit:
                audited.visit = book.begin(*where, datetime.now().astimezone())
            book.record(audited.visit, found)
            return book.remembered(*where, found.items_listed.keys), book.since(*where)

        def done(held: tuple[Remembered, Since] | None) -> None:
            if held is not None:
                audited.remembered, audited.since = held
                if audited is self.run:
                    self.changed.emit()

        def failed(why: str) -> None:
            self._tell(t("What was found is not remembered. {why}", why=why))

        self._jobs.command(t("Writing it down …"), work, done, failed, lane="audit book")

    def look_at_files(self) -> None:
        """See whether pictures have been replaced or are gone, and check those again."""
        if not self.items or not self.checked.whole:
            return
        turn = range(self._turn, min(self._turn + _STATED, len(self.items)))
        self._turn = turn.stop if turn.stop < len(self.items) else 0
        changed = audit.changed([self.checked[at] for at in turn])
        if changed:
            names = commas([self.items[turn[n]].name for n in changed[:4]])
            self._tell(t("Changed on disk, and checked again: {names}", names=names), "note")
            self.check(np.array([turn[n] for n in changed], np.intp))

    # -- handing it on ---------------------------------------------------------------------------

    def export(self, shown: Rows, path: str, order: Order) -> None:
        """Write some of what was found: as a table, as JSON, or as a page for somebody else to read, by the ending."""
        if not path.lower().endswith((".csv", ".json", ".html")):
            path += ".csv"
        if os.path.abspath(path) == os.path.abspath(self.source):
            said = t("{file} is the listing itself and is never written to.", file=shown_name(path))
            self._tell(said)
            return
        rules, brief = self._library.find(self.run.brief)
        title = t("{body}: {brief}", body=rules.body.name, brief=brief.title)
        every = self.run.told()
        page = Page(
            shown_name(self.source),
            title,
            datetime.now().astimezone(),
            every.among(every.matters),
            self.run.since,
            order,
        )

        def work(_progress: Progress) -> str:
            try:
                audit_lists.write_list(shown, path, self.run.brief, page)
            except OSError as error:
                return unwritten(error, path)
            return ""

        def done(trouble: str) -> None:
            said = trouble or t("Written: {path}", path=path)
            self._tell(said, "trouble" if trouble else "done")

        self._jobs.command(t("Writing the list …"), work, done, lane="audit list")

    def stop(self) -> None:
        """Let go of the book."""
        self._close_book()
