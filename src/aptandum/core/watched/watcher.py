"""One turn of watching: look what has arrived whole, make what is new of it, set aside what cannot be made."""

from __future__ import annotations

import csv
import errno
import hashlib
import io
import os
import sqlite3
import time
from collections.abc import Callable, Iterator
from concurrent.futures import Executor
from dataclasses import field
from pathlib import Path
from typing import Literal

from aptandum.core import threads
from aptandum.core.atomic import create_atomic, write_atomic
from aptandum.core.brief.model import Brief
from aptandum.core.conform import conform
from aptandum.core.docket import batch
from aptandum.core.errors import AptandumError
from aptandum.core.file import free_name
from aptandum.core.file.write import unwritten
from aptandum.core.fitting.settings import Settings
from aptandum.core.frozen import frozen
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.facts import PhotoError, shown_name
from aptandum.core.watched.arrivals import Arrivals, Arrived, stamp_of
from aptandum.core.watched.book import Held, WatchBook, hash_of
from aptandum.core.words import say, sentences

LIST = "set-aside.csv"
"""The list of what could not be made, beside the results."""
SETTLE = 3.0
"""Seconds for which nobody may have written to a file before it counts as whole."""
PATIENCE = 60.0
"""Seconds after which a file that cannot be read, or is damaged, is no longer waited for."""
_FULL = (errno.ENOSPC, errno.EDQUOT, errno.EROFS, errno.EIO, errno.ENOENT, errno.ESTALE)


@frozen
class Want:
    """A brief to which everything is conformed.

    Attributes:
        name: as it was called by: ``book/brief``.
        rules: the rulebook's text: under other rules what was made before counts for nothing.
        folder: where its results go; it is there.
    """

    name: str
    brief: Brief
    rules: str
    folder: str
    settings: Settings = field(default_factory=Settings)

    @property
    def key(self) -> str:
        """What tells it from every other in the book."""
        told = f"{self.name}\n{self.settings.model_dump_json()}\n{self.rules}"
        return hashlib.sha256(told.encode("utf-8", "backslashreplace")).hexdigest()[:32]


@frozen
class Event:
    """Something that happened.

    Attributes:
        kind: ``made``; ``aside``: it cannot be made to meet, and nothing was written; ``known``: its content was made
            before, under another name; ``waits``: nothing can be written or read at present, and it is tried again;
            ``again``: that is over.
        written: the path of the result.
        says: how its bytes stand, or why it is not there.
        asks: how many questions to a person are open.
    """

    kind: Literal["made", "aside", "known", "waits", "again"]
    file: str = ""
    brief: str = ""
    written: str = ""
    says: str = ""
    asks: int = 0


@frozen
class Task:
    """One content for one brief, for any worker."""

    arrived: Arrived
    content: str
    want: Want


@frozen
class Made:
    """What came of it.

    Attributes:
        data: the finished bytes, where they meet every rule that can be measured.
        early: it cannot be read, so that it may not be whole yet.
        passing: it failed for a cause that may pass by itself; it is tried again.
    """

    task: Task
    data: bytes = field(default=b"", repr=False)
    name: str = ""
    counted: str = ""
    says: str = ""
    asks: int = 0
    early: bool = False
    passing: bool = False


def make_one(task: Task) -> Made:
    """Make and prove one file in memory; trouble is told, not raised."""
    file, want = task.arrived.file, task.want
    try:
        proof = conform(open_photo(file), want.brief, want.settings, mends=False)
    except PhotoError as error:
        return Made(task, says=str(error), early=True)
    except AptandumError as error:
        return Made(task, says=str(error))
    except MemoryError:
        said = say("{file} needs more memory than there is.", file=shown_name(file))
        return Made(task, says=said, passing=True)
    except OSError as error:
        return Made(task, says=unwritten(error, file), passing=True)
    if not proof.ready:
        missed = [
            finding.says
            for finding in proof.findings.findings
            if finding.verdict == "misses"
            or (finding.verdict == "unknown" and finding.clause.strength == "must")
        ]
        return Made(task, says=sentences(missed))
    asks = proof.findings.counts()["asks"]
    return Made(
        task,
        proof.made.data,
        proof.suggested,
        proof.line.file.counted,
        proof.findings.summary(),
        asks,
    )


def made_lost(task: Task, error: BaseException) -> Made:
    """A file whose worker died: it is set aside, or the next turn would lose a worker by it again."""
    return Made(task, says=batch.lost_said(task.arrived.file, error))


class _Taken(Exception):
    """A name was taken between its choice and the writing."""


class Watcher:
    """Watches a folder for some briefs.

    Args:
        book: of the folder of results, which this watcher holds.
        executor, workers: by whom files are made; left out: here.
        settle, patience: seconds (:data:`SETTLE`, :data:`PATIENCE`).
        clock: seconds that never go back.
    """

    def __init__(
        self,
        folder: str,
        wants: list[Want],
        book: WatchBook,
        executor: Executor | None = None,
        workers: int = 1,
        settle: float = SETTLE,
        patience: float = PATIENCE,
        clock: Callable[[], float] = time.monotonic,
    ) -> None:
        out = tuple({os.fspath(book.folder), *(want.folder for want in wants)})
        self.arrivals = Arrivals(folder, out)
        self.wants, self.book = wants, book
        self._executor, self._workers = executor or threads.Here(), max(1, workers)
        self.settle, self.patience, self._clock = settle, patience, clock
        self._done: dict[str, tuple[int, int, int]] = {}
        self._early: dict[str, tuple[int, int, int]] = {}
        self._keys = {want.name: want.key for want in wants}
        self.unsettled = 0
        self.trouble = ""
        self._listed: str | None = None

    def turn(self, stopped: Callable[[], bool] | None = None) -> Iterator[Event]:
        """Look once, and make what has arrived whole and is new, as it comes.

        What may pass by itself (a full disk, a folder that is away) is told once and tried again at the next turn.
        """
        self.unsettled = 0
        try:
            tasks: list[Task] = []
            for arrived in self.arrivals.look(self._clock()):
                yield from self._new(arrived, tasks)
            self._prune()
            failed = False
            for made in batch.run(
                tasks, self._executor, self._workers, stopped, make_one, made_lost
            ):
                for event in self._settled(made):
                    failed = failed or event.kind == "waits"
                    if event.kind != "waits":
                        yield from self._over()
                        yield event
                    elif self._first(event):
                        yield event
            self._write_list()
        except (OSError, sqlite3.Error) as error:
            event = self._waits(error)
            if self._first(event):
                yield event
            return
        if not failed:
            yield from self._over()

    # -- what is new ---------------------------------------------------------------------------

    def _new(self, arrived: Arrived, tasks: list[Task]) -> Iterator[Event]:
        if self._done.get(arrived.file) == arrived.stamp:
            return
        content = self.book.content_of(arrived.file, arrived.stamp)
        if not content:
            if arrived.still < self.settle:
                self.unsettled += 1
                return
            content = hash_of(arrived.file)
            if not content or stamp_of(arrived.file) != arrived.stamp:
                self.unsettled += 1  # renamed, removed or written to meanwhile
                return
            self.book.know(arrived.file, arrived.stamp, content)
        if self._early.get(arrived.file) == arrived.stamp and arrived.still < self.patience:
            self.unsettled += 1
            return
        pending = {task.content for task in tasks}
        open_ = False
        for want in self.wants:
            held = self.book.held(content, self._keys[want.name])
            if held is None:
                open_ = True
                if content not in pending:  # twice in one turn: once is enough
                    tasks.append(Task(arrived, content, want))
            elif held.found:
                yield Event("made", arrived.file, want.name, held.target)
            elif held.file != arrived.file and held.state == "made":
                yield Event("known", arrived.file, want.name, held.target)
        if not open_:
            self._done[arrived.file] = arrived.stamp

    def _prune(self) -> None:
        there = self.arrivals.there
        for kept in (self._done, self._early):
            for file in [file for file in kept if file not in there]:
                del kept[file]

    # -- what came of it -----------------------------------------------------------------------

    def _settled(self, made: Made) -> Iterator[Event]:
        arrived, want = made.task.arrived, made.task.want
        if stamp_of(arrived.file) != arrived.stamp:
            self.unsettled += 1  # it was written to, renamed or removed while it was made
            return
        if made.passing:
            yield Event("waits", arrived.file, want.name, says=made.says)
            return
        if made.early and arrived.still < self.patience:
            self._early[arrived.file] = arrived.stamp
            self.unsettled += 1
            return
        try:
            yield self._kept(made)
        except (OSError, sqlite3.Error) as error:
            yield self._waits(error)

    def _kept(self, made: Made) -> Event:
        """Write down and write what was made.

        Raises:
            OSError, sqlite3.Error: nothing can be written at present.
        """
        task, key = made.task, self._keys[made.task.want.name]
        file, want = task.arrived.file, task.want
        if not made.data:
            self.book.put(task.content, key, Held(file, "aside", reason=made.says))
            return Event("aside", file, want.name, says=made.says)
        digest = hashlib.sha256(made.data).hexdigest()
        while True:
            target = free_name.free(Path(want.folder) / made.name, made.counted)
            self.book.put(task.content, key, Held(file, "making", os.fspath(target), digest))
            try:
                written = create_atomic(target, made.data, _only(target))
                break
            except _Taken:
                continue
        self.book.put(task.content, key, Held(file, "made", os.fspath(written), digest))
        return Event("made", file, want.name, os.fspath(written), made.says, made.asks)

    def _waits(self, error: OSError | sqlite3.Error) -> Event:
        if isinstance(error, sqlite3.Error):
            return Event(
                "waits", says=say("Nothing can be written down: {why}.", why=str(error).lower())
            )
        if error.filename == self.arrivals.folder or error.errno not in _FULL:
            why = (error.strerror or str(error)).lower()
            folder = self.arrivals.folder
            return Event(
                "waits", says=say("{folder} cannot be used: {why}.", folder=folder, why=why)
            )
        why = (error.strerror or str(error)).lower()
        said = say("{folder} cannot be written to: {why}.", folder=self.book.folder, why=why)
        return Event("waits", says=said)

    def _over(self) -> Iterator[Event]:
        """Tell that a trouble has passed, if there was one."""
        if self.trouble:
            self.trouble = ""
            yield Event("again", says=say("It goes on."))

    def _first(self, event: Event) -> bool:
        """Whether a trouble is another than the one that was told last."""
        told, self.trouble = self.trouble, event.says
        return told != event.says

    def _write_list(self) -> None:
        """Keep the list of what is set aside true; there is none where nothing is."""
        rows = [row for row in self.book.aside() if row[0] in self.arrivals.there]
        out = io.StringIO()
        writer = csv.writer(out)
        writer.writerow(("file", "reason", "at"))
        writer.writerows(rows)
        text = out.getvalue() if rows else ""
        if text == self._listed:
            return
        path = Path(self.book.folder) / LIST
        if text:
            write_atomic(path, text.encode("utf-8", "backslashreplace"))
        elif self._listed is not None:
            path.unlink(missing_ok=True)
        self._listed = text


def _only(name: Path) -> Callable[[Path], Path]:
    """A chooser of names that knows one, and gives up where it is taken."""
    asked = iter((name,))

    def choose(_path: Path) -> Path:
        found = next(asked, None)
        if found is None:
            raise _Taken
        return found

    return choose
