"""What is audited, against which brief, and what was found: kept for as long as it is open."""

from __future__ import annotations

import os
import sqlite3
import threading
import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from functools import partial

from platformdirs import user_state_path
from PyQt6.QtCore import QObject, pyqtSignal

from aptandum.core import workers
from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.docket import audit, audit_lists, audit_run
from aptandum.core.docket.audit import Checked, Item
from aptandum.core.docket.audit_book import (
    ENDING,
    AuditBook,
    AuditBookError,
    History,
    Since,
    keys_of,
    rules_key,
)
from aptandum.core.docket.audit_lists import Order, Page, Told
from aptandum.core.docket.batch import run
from aptandum.core.docket.listing import Columns
from aptandum.core.docket.model import Audited, Instead
from aptandum.core.file.write import unwritten
from aptandum.core.photo.facts import shown_name
from aptandum.core.rulebook.shelf import BriefNotFound
from aptandum.ui.jobs import Jobs, Progress
from aptandum.ui.session.docket_store import Change, DocketStore
from aptandum.ui.session.library import Library
from aptandum.ui.strings import commas, t, t_n

_SHOW_EVERY = 0.25
"""Seconds between two looks at what has been checked meanwhile."""

_STATED = 400
"""Files at a time for which it is seen whether a picture has been replaced."""


@dataclass
class AuditRun:
    """One source held against one brief.

    Attributes:
        items: what is looked at; listed: the same before any was replaced.
        checked: what was found, by the item's place.
        briefs: all that the source is audited against, where there are several.
        columns: what a person has said of the listing's columns.
        visit: of the book, while it goes on; 0: not begun.
        histories, since: what the book remembers, once all were looked at.
    """

    source: str
    brief: str
    listed: list[Item] = field(default_factory=list)
    items: list[Item] = field(default_factory=list)
    checked: dict[int, Checked] = field(default_factory=dict)
    asked: object = None
    briefs: tuple[str, ...] = ()
    columns: Columns | None = None
    visit: int = 0
    histories: Mapping[str, History] | None = None
    since: Since = field(default_factory=Since)
    _keyed: tuple[list[Item], list[str]] | None = None

    @property
    def lane(self) -> str:
        return f"audit {self.source} {self.brief}"

    def audited(self) -> Audited:
        """As the docket keeps it."""
        instead = tuple(
            Instead(item=listed.name, listed=listed.file, file=now.file)
            for listed, now in zip(self.listed, self.items, strict=True)
            if now.file != listed.file
        )
        said = {} if self.columns is None else {k: v for k, v in vars(self.columns).items() if v}
        return Audited.model_validate(
            {"source": self.source, "brief": self.brief, "instead": instead, "briefs": self.briefs, "columns": said}
        )  # fmt: skip

    def keys(self, places: Sequence[int]) -> list[str]:
        """By what the items at some places are known again."""
        if self._keyed is None or self._keyed[0] is not self.items:
            self._keyed = self.items, keys_of(self.items)
        every = self._keyed[1]
        return [every[at] for at in places]

    def told(self) -> list[Told]:
        """Everything that was looked at, with what is remembered of it, as it is listed."""
        places = sorted(self.checked)
        every = [self.checked[at] for at in places]
        return audit_lists.told(every, self.histories, self.keys(places))

    def put_instead(self, held: Audited) -> None:
        """Look at the pictures that the docket names in place of listed ones; what was found of
        others stands."""
        other = {(one.item, one.listed): one.file for one in held.instead}
        items = [
            audit.with_file(item, other[item.name, item.file])
            if (item.name, item.file) in other
            else item
            for item in self.listed
        ]
        if self.items:
            same = {i for i, (a, b) in enumerate(zip(self.items, items, strict=True)) if a == b}
            self.checked = {i: one for i, one in self.checked.items() if i in same}
        self.items = items


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
    def items(self) -> list[Item]:
        return self.run.items

    @property
    def checked(self) -> dict[int, Checked]:
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
                    said = t("What was found is not remembered. {why}", why=str(error))
                    self._jobs.post(lambda: self._tell(said))
            return self._book

    def _close_book(self) -> None:
        if self._book is not None:
            self._book.close()
            self._book = None

    def accept(self, keys: Sequence[str], on: bool) -> None:
        """Have items stay as they are, or no longer."""
        audited = self.run

        def work(_progress: Progress) -> Mapping[str, History] | None:
            book = self._opened_book(audited.source)
            if book is None:
                return audited.histories
            at = datetime.now().astimezone() if on else None
            book.accept(audited.source, audited.brief, keys, at)
            return book.histories(audited.source, audited.brief)

        def done(histories: Mapping[str, History] | None) -> None:
            audited.histories = histories
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
        if self.run.listed and held == self.run.audited():
            return
        known = self._runs.get((held.source, held.brief))
        if known is None or not known.listed:
            columns = Columns(**held.columns) if held.columns else None
            briefs = held.briefs or (held.brief,)
            self.open(held.source, held.brief, held, briefs, columns)
            return
        self.run = known
        known.put_instead(held)
        self.changed.emit()
        if known.asked is None:
            self.check([i for i in range(len(known.items)) if i not in known.checked])

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

        def work(_progress: Progress) -> list[Item]:
            if os.path.isdir(source):
                return audit.items_in([source])
            return audit.read_listing(source, columns)

        def done(found: list[Item]) -> None:
            if not found:
                self._tell(t("There are no pictures in {name}.", name=shown_name(source)))
                return
            several = tuple(dict.fromkeys((brief, *briefs)))
            for name in reversed(several):  # the one that is shown comes last, and is begun first
                made = AuditRun(source, name, list(found), list(found), columns=columns)
                made.briefs = several if len(several) > 1 else ()
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
                self.check(range(len(other.items)), other)

        name = shown_name(source)
        self._jobs.command(t("Looking through {name} …", name=name), work, done, lane="audits")

    def use_brief(self, brief: str) -> None:
        """Hold the same pictures against another brief."""
        if not self.run.source or brief == self.run.brief:
            return
        before = self.run
        known = self._runs.get((before.source, brief))
        if known is not None and known.items == before.items:
            self.run = known  # it was audited against both
            self._keep()
            self.changed.emit()
            return
        made = AuditRun(before.source, brief, list(before.listed), list(before.items))
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
        self.run._keyed = None
        for at, path in files.items():
            self.items[at] = audit.with_file(self.items[at], path)
            self.checked.pop(at, None)
        n = len(files)
        self._keep(t_n("Replace {n} picture", "Replace {n} pictures", n))
        self.check(sorted(files))

    # -- checking --------------------------------------------------------------------------------

    def start(self, anew: bool = True) -> None:
        """Check every picture (again).

        Args:
            anew: those as well that have not changed since they were looked at.
        """
        self.run.checked = {}
        self.check(range(len(self.items)), anew=anew)

    def check(
        self, places: Sequence[int], audited: AuditRun | None = None, anew: bool = False
    ) -> None:
        """Check the pictures at some places, of what is shown or of another run."""
        audited = audited or self.run
        self.changed.emit()
        if not places:
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
        places: Sequence[int],
        rules: Rulebook,
        brief: Brief,
        anew: bool,
    ) -> None:
        this = audited.asked = object()
        items = list(audited.items)
        key = rules_key(rules.text, brief.id, False)

        def came(progress: Progress, found: dict[int, Checked]) -> None:
            if progress.cancelled or not found:
                return  # what comes late is dropped
            audited.checked.update(found)
            if audited is self.run:
                self.changed.emit()

        def work(progress: Progress) -> None:
            book = self._opened_book(audited.source)
            wanted = set(places)
            known: dict[int, Checked] = {}
            if book is not None and not anew:
                looked = book.looked(items, key)
                known = {at: one for at, one in looked.items() if at in wanted}
            looks = audit_run.planned(items, places, brief, False, known)
            self._jobs.post(partial(came, progress, known))
            every, held = dict(known), dict[int, Checked]()
            last, pool = time.monotonic(), workers.shared()
            came_in = run(looks, pool.lane(1), pool.most, progress, audit_run.look, audit_run.lost)
            for n, (at, found) in enumerate(came_in, start=1):
                progress.check()
                held |= audit_run.spread(items, at, found)
                if time.monotonic() - last > _SHOW_EVERY:
                    last = time.monotonic()
                    self._jobs.post(partial(came, progress, held))
                    progress.count(n, len(looks))
                    every |= held
                    held = {}
            every |= held
            self._jobs.post(partial(came, progress, held))
            if book is not None:
                book.remember((one for at, one in every.items() if at not in known), key)

        def ended(_nothing: object = None) -> None:
            if audited.asked is this:
                audited.asked = None
                if len(audited.checked) == len(audited.items):
                    self._record(audited)
            if audited is self.run:
                self.changed.emit()

        name = shown_name(audited.source)
        self._jobs.command(
            t("Auditing {name} …", name=name), work, ended, lane=audited.lane, cancelled=ended
        )

    def _record(self, audited: AuditRun) -> None:
        """Write down how everything stands, and read what has changed since last time."""
        every = [audited.checked[at] for at in range(len(audited.items))]
        where = audited.source, audited.brief

        def work(_progress: Progress) -> tuple[Mapping[str, History], Since] | None:
            book = self._opened_book(audited.source)
            if book is None:
                return None
            if not audited.visit:
                audited.visit = book.begin(*where, datetime.now().astimezone())
            book.record(audited.visit, every)
            return book.histories(*where), book.since(*where)

        def done(found: tuple[Mapping[str, History], Since] | None) -> None:
            if found is not None:
                audited.histories, audited.since = found
                if audited is self.run:
                    self.changed.emit()

        def failed(why: str) -> None:
            self._tell(t("What was found is not remembered. {why}", why=why))

        self._jobs.command(t("Writing it down …"), work, done, failed, lane="audit book")

    def look_at_files(self) -> None:
        """See whether pictures have been replaced or are gone, and check those again."""
        if not self.checked or len(self.checked) < len(self.items):
            return
        every = sorted(self.checked)
        turn = every[self._turn : self._turn + _STATED]
        self._turn = self._turn + _STATED if self._turn + _STATED < len(every) else 0
        changed = audit.changed([self.checked[i] for i in turn])
        if changed:
            names = commas([self.checked[turn[i]].item.name for i in changed[:4]])
            self._tell(t("Changed on disk, and checked again: {names}", names=names), "note")
            self.check([turn[i] for i in changed])

    # -- handing it on ---------------------------------------------------------------------------

    def export(self, shown: Sequence[Told], path: str, order: Order) -> None:
        """Write some of what was found: as a table, as JSON, or as a page for somebody else to read, by the ending."""
        if not path.lower().endswith((".csv", ".json", ".html")):
            path += ".csv"
        if os.path.abspath(path) == os.path.abspath(self.source):
            said = t("{file} is the listing itself and is never written to.", file=shown_name(path))
            self._tell(said)
            return
        rules, brief = self._library.find(self.run.brief)
        title = t("{body}: {brief}", body=rules.body.name, brief=brief.title)
        page = Page(
            shown_name(self.source),
            title,
            datetime.now().astimezone(),
            [one for one in self.run.told() if one.item.matters],
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
