"""What is audited, against which brief, and what was found: kept for as long as it is open."""

from __future__ import annotations

import os
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import partial

from PyQt6.QtCore import QObject, pyqtSignal

from aptandum.core import workers
from aptandum.core.docket import audit
from aptandum.core.docket.audit import Checked, Item
from aptandum.core.docket.batch import run
from aptandum.core.docket.model import Audited, Instead
from aptandum.core.file.write import unwritten
from aptandum.core.frozen import frozen
from aptandum.core.photo.facts import shown_name
from aptandum.core.rulebook.shelf import BriefNotFound
from aptandum.ui.jobs import Jobs, Progress
from aptandum.ui.session.docket_store import Change, DocketStore
from aptandum.ui.session.library import Library
from aptandum.ui.strings import commas, t

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
    """

    source: str
    brief: str
    listed: list[Item] = field(default_factory=list)
    items: list[Item] = field(default_factory=list)
    checked: dict[int, Checked] = field(default_factory=dict)
    asked: object = None

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
        return Audited(source=self.source, brief=self.brief, instead=instead)

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
        self._turn = 0
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
        self.changed.emit()

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
            self.open(held.source, held.brief, held)
            return
        self.run = known
        known.put_instead(held)
        self.changed.emit()
        if known.asked is None:
            self.check([i for i in range(len(known.items)) if i not in known.checked])

    # -- what is audited -------------------------------------------------------------------------

    def open(self, source: str, brief: str, held: Audited | None = None) -> None:
        """Audit a folder or a listing against a brief (``BOOK/BRIEF``); ``held``: as the docket
        has it."""

        def work(_progress: Progress) -> list[Item]:
            if os.path.isdir(source):
                return audit.items_in([source])
            return audit.read_listing(source)

        def done(found: list[Item]) -> None:
            if not found:
                self._tell(t("There are no pictures in {name}.", name=shown_name(source)))
                return
            made = AuditRun(source, brief, list(found), list(found))
            old = self._runs.get((source, brief))
            if old is not None:
                self._jobs.cancel_lane(old.lane)
            self._runs[source, brief] = self.run = made
            if held is not None:
                made.put_instead(held)
            else:
                self._keep()
            self.start()

        name = shown_name(source)
        self._jobs.command(t("Looking through {name} …", name=name), work, done, lane="audits")

    def use_brief(self, brief: str) -> None:
        """Hold the same pictures against another brief."""
        if not self.run.source or brief == self.run.brief:
            return
        before = self.run
        made = AuditRun(before.source, brief, list(before.listed), list(before.items))
        self._runs[made.source, brief] = self.run = made
        self._keep()
        self.start()

    def _keep(self) -> None:
        """Write down in the docket what is audited here."""
        audited = self.run.audited()
        docket = self._store.docket.model_copy(update={"audit": audited})
        words = t("Audit {name}", name=shown_name(audited.source))
        self._store.do(words, docket, f"audit {audited.source}")

    def replace(self, item: Item, path: str) -> None:
        """Check another file in place of an item's own."""
        at = self.items.index(item)
        self.items[at] = audit.with_file(item, path)
        self.checked.pop(at, None)
        self._keep()
        self.check([at])

    # -- checking --------------------------------------------------------------------------------

    def start(self) -> None:
        """Check every picture (again)."""
        self.run.checked = {}
        self.check(range(len(self.items)))

    def check(self, places: Sequence[int]) -> None:
        """Check the pictures at some places."""
        audited = self.run
        self.changed.emit()
        if not places:
            return
        try:
            brief = self._library.find(audited.brief)[1]
        except BriefNotFound as error:
            self._tell(str(error))
            return
        if len(places) == len(audited.items):
            self._jobs.cancel_lane(audited.lane)  # all are asked for anew
        tasks = [_Place(i, audit.Task(audited.items[i], brief)) for i in places]
        this = audited.asked = object()

        def came(progress: Progress, found: dict[int, Checked]) -> None:
            if progress.cancelled:
                return  # what comes late is dropped
            audited.checked.update(found)
            if audited is self.run:
                self.changed.emit()

        def work(progress: Progress) -> None:
            held: dict[int, Checked] = {}
            last, pool = time.monotonic(), workers.shared()
            came_in = run(tasks, pool.lane(1), pool.most, progress, _check, _lost)
            for n, (place, found) in enumerate(came_in, start=1):
                progress.check()
                held[place] = found
                if time.monotonic() - last > _SHOW_EVERY:
                    last = time.monotonic()
                    self._jobs.post(partial(came, progress, held))
                    progress.count(n, len(tasks))
                    held = {}
            self._jobs.post(partial(came, progress, held))

        def ended(_nothing: object = None) -> None:
            if audited.asked is this:
                audited.asked = None
            if audited is self.run:
                self.changed.emit()

        name = shown_name(audited.source)
        self._jobs.command(
            t("Auditing {name} …", name=name), work, ended, lane=audited.lane, cancelled=ended
        )

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

    def export(self, shown: Sequence[Checked], path: str) -> None:
        """Write some of what was found as a table, as they stand."""
        if not path.lower().endswith(".csv"):
            path += ".csv"
        if os.path.abspath(path) == os.path.abspath(self.source):
            said = t("{file} is the listing itself and is never written to.", file=shown_name(path))
            self._tell(said)
            return
        try:
            audit.write_csv(shown, path)
        except OSError as error:
            self._tell(unwritten(error, path))
            return
        self._tell(t("Written: {path}", path=path), "done")


@frozen
class _Place:
    """An item to be checked, and its place in the list."""

    at: int
    task: audit.Task


def _check(place: _Place) -> tuple[int, Checked]:
    return place.at, audit.check_one(place.task)


def _lost(place: _Place, error: BaseException) -> tuple[int, Checked]:
    return place.at, audit.check_lost(place.task, error)
