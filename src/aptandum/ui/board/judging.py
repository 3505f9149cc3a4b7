"""Judging a board's cells and making its small pictures, beside the interface, nearest first."""

from __future__ import annotations

import threading
from collections.abc import Iterable
from concurrent.futures import CancelledError, Future
from dataclasses import dataclass, replace
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtGui import QImage

from aptandum.core import workers
from aptandum.core.brief.model import Brief
from aptandum.core.docket.batch import Judged, judge_rows, judged_lost, lost_said
from aptandum.core.docket.model import Fitting, PhotoEntry
from aptandum.core.docket.standings import Cell
from aptandum.core.docket.thumbs import Thumbs
from aptandum.core.fitting.detection import asks_for_people
from aptandum.core.photo.decode import Photo, open_photo
from aptandum.core.photo.facts import Facts
from aptandum.core.photo.people import Face
from aptandum.core.workers import WorkerLost
from aptandum.ui.images import to_image
from aptandum.ui.jobs import Jobs, Service
from aptandum.ui.strings import t

HAND_ON_MS = 60
"""How often what has been found is handed to the board."""

_NEAR = 30
"""Rows round the view that are judged by their headers before faces are looked for in it."""

_AT_ONCE = 6
"""Rows that are judged by their headers in one go."""

_SEARCH = 400
"""Rows round the view among which the nearest is looked for; beyond, any comes next."""

_AFTER = 2
"""The rank of this work among the workers: after what a person has asked for."""

Seen = tuple[str, int]


@dataclass(frozen=True, eq=False)
class Row:
    """A photo with its fittings, each with its brief and all that its judgement depends on.

    Attributes:
        laid: the same for all rows that were laid together.
    """

    entry: PhotoEntry
    fittings: tuple[tuple[Fitting, Brief, object], ...]
    laid: object


def far(r: int, seen: range) -> int:
    """How many rows out of view a row lies."""
    if r < seen.start:
        return seen.start - r
    return r - seen.stop + 1 if r >= seen.stop else 0


def _lost(entry: PhotoEntry, error: Exception) -> str:
    return lost_said(entry.path, error)


class Judging(QObject):
    """Works on what is asked for until it is asked for something else. Results are kept by the
    fitting's whole content, so that what has not changed is not judged again."""

    judged = pyqtSignal(list)
    pictured = pyqtSignal(list)
    counted = pyqtSignal(int, int)

    def __init__(self, jobs: Jobs, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._jobs = jobs
        self.thumbs = Thumbs()
        self.cells: dict[str, tuple[object, Cell]] = {}
        self.facts: dict[Seen, Facts] = {}
        self.faces: dict[Seen, tuple[tuple[Face, ...], Any, bool]] = {}
        self._wake = threading.Condition()
        self._rows: list[Row] = []
        self._pending: set[int] = set()
        self._deep: set[int] = set()  # rows in whose photos people are to be looked for
        self._seen = range(0)
        self._pictures: list[PhotoEntry] = []
        self._pictured: set[Seen] = set()
        self._found: list[Cell] = []
        self._made: list[tuple[Seen, QImage]] = []
        self._all = 0
        self._out = 0  # pieces of work that are under way
        self._stopped = False
        self._job: Future[list[Judged]] | None = None
        self._services: list[Service] = []
        self._hand_on = QTimer(self)
        self._hand_on.setInterval(HAND_ON_MS)
        self._hand_on.timeout.connect(self._deliver)

    # -- asking --------------------------------------------------------------------------------

    def lay(self, rows: list[Row]) -> None:
        """The rows of the board as they stand now; what differs from what it was judged with is
        judged anew, and nothing else is."""
        with self._wake:
            self._rows = rows
            self._pending = set(range(len(rows)))
            self._deep = {
                r
                for r, row in enumerate(rows)
                if any(asks_for_people(b) for _, b, _ in row.fittings)
            }
            self._all = len(rows)
            self._wake.notify_all()
        if not self._services:
            for name, work in (
                (t("Judging the board"), self._judge_all),
                (t("Making small pictures"), self._picture_all),
            ):
                self._services.append(self._jobs.service(name, work))
                self._services[-1].start()
        self._hand_on.start()

    def look(self, seen: range, near: int) -> None:
        """The rows in view: they come first, then those round them; small pictures are made for
        ``near`` rows above and below."""
        with self._wake:
            self._seen = seen
            first, last = max(0, seen.start - near), min(len(self._rows), seen.stop + near)
            order = sorted(range(first, last), key=lambda r: far(r, seen))
            entries = [self._rows[r].entry for r in order]
            self._pictures = [e for e in entries if (e.path, e.turn) not in self._pictured]
            self._wake.notify_all()
        self._hand_on.start()

    @property
    def busy(self) -> bool:
        with self._wake:
            waiting = self._pending or self._deep or self._pictures or self._out
            return bool(waiting or self._found or self._made)

    def stop(self) -> None:
        """Judge nothing more."""
        with self._wake:
            self._stopped = True
            self._pending, self._deep, self._pictures = set(), set(), []
            self._wake.notify_all()
        if self._job is not None:
            workers.shared().end(self._job)  # what it looks for nobody wants any more
        for service in self._services:
            service.join(5)
        self._services = []
        self._hand_on.stop()

    def forget(self, path: str) -> None:
        """A photo has changed on disk: what is known of it is looked at again when asked for."""
        with self._wake:
            self._pictured = {seen for seen in self._pictured if seen[0] != path}
            self.facts = {seen: v for seen, v in self.facts.items() if seen[0] != path}
            self.faces = {seen: v for seen, v in self.faces.items() if seen[0] != path}

    # -- working -------------------------------------------------------------------------------

    def _next_rows(self) -> tuple[list[Row], bool] | None:
        """The rows nearest to the view that are not judged yet, by their headers first; whether
        people are to be looked for in them."""
        with self._wake:
            while not self._stopped and not (self._pending or self._deep):
                self._wake.wait()
            if self._stopped:
                return None
            # What is in view is looked at closely before what is far away is judged at all.
            here = [r for r in self._seen if r in self._deep and r not in self._pending]
            deep = not self._pending or (bool(here) and not self._in_view(self._pending))
            from_ = self._deep if deep else self._pending
            found: list[Row] = []
            while from_ and len(found) < (1 if deep else _AT_ONCE):
                r = self._nearest(from_)
                from_.discard(r)
                found.append(self._rows[r])
            self._out += 1
            return found, deep

    def _in_view(self, rows: set[int]) -> bool:
        """Whether any of these rows is in view or a few screens from it."""
        near = range(self._seen.start - _NEAR, self._seen.stop + _NEAR)
        return any(r in rows for r in near)

    def _nearest(self, rows: set[int]) -> int:
        for r in self._seen:
            if r in rows:
                return r
        for off in range(1, _SEARCH):
            for r in (self._seen.stop - 1 + off, self._seen.start - off):
                if r in rows:
                    return r
        return next(iter(rows))

    def _judge_all(self) -> None:
        while (asked := self._next_rows()) is not None:
            rows, deep = asked
            briefs: dict[int, Brief] = {}
            jobs, kept = [], []
            for row in rows:
                seen = row.entry.path, row.entry.turn
                wanted = []
                for fitting, brief, key in row.fittings:
                    held = self.cells.get(fitting.id)
                    known = held is not None and held[0] == key
                    if known and held is not None and (held[1].looked or not deep):
                        continue
                    if deep and not asks_for_people(brief):
                        continue
                    briefs[id(brief)] = brief
                    wanted.append((fitting, brief, key))
                if wanted or seen not in self.facts:
                    kept.append((row, wanted))
                    jobs.append((row.entry, wanted, self.faces.get(seen)))
            try:
                if jobs:
                    self._judge(jobs, kept, list(briefs.values()), deep)
            finally:
                with self._wake:
                    self._out -= 1

    def _judge(self, jobs: list[Any], kept: list[Any], briefs: list[Brief], deep: bool) -> None:
        """Judge some rows in another process: what takes long here would keep the interface
        waiting, thread or not."""
        at = {id(brief): i for i, brief in enumerate(briefs)}
        plain = [
            (entry, [(fitting, at[id(brief)]) for fitting, brief, _ in wanted], faces)
            for entry, wanted, faces in jobs
        ]
        found = self._elsewhere(plain, briefs, deep)
        with self._wake:
            for (row, wanted), judged in zip(kept, found, strict=True):
                seen = row.entry.path, row.entry.turn
                if judged.facts is not None:
                    self.facts[seen] = judged.facts
                if judged.faces is not None:
                    self.faces[seen] = judged.faces
                for (fitting, _brief, key), cell in zip(wanted, judged.cells, strict=True):
                    held = self.cells.get(fitting.id)
                    if held is not None and held[0] == key and held[1].proved:
                        continue  # its file was made meanwhile: the bytes say more than a header
                    self.cells[fitting.id] = (key, cell)
                    self._found.append(cell)

    def _elsewhere(self, rows: list[Any], briefs: list[Brief], deep: bool) -> list[Judged]:
        """Judge in a worker; where it dies, each row by itself, so that only the one that kills it
        is lost."""
        try:
            return self._by_worker(rows, briefs, deep)
        except WorkerLost as error:
            if self._stopped or len(rows) == 1:
                return [judged_lost(row[1], _lost(row[0], error)) for row in rows]
        except Exception as error:
            return [judged_lost(row[1], _lost(row[0], error)) for row in rows]
        return [one for row in rows for one in self._elsewhere([row], briefs, deep)]

    def _by_worker(self, rows: list[Any], briefs: list[Brief], deep: bool) -> list[Judged]:
        self._job = workers.shared().lane(_AFTER).submit(judge_rows, rows, briefs, deep)
        try:
            return self._job.result()
        except CancelledError:
            raise WorkerLost(None) from None
        finally:
            self._job = None

    def _next_picture(self) -> PhotoEntry | None:
        with self._wake:
            while not self._stopped and not self._pictures:
                self._wake.wait()
            if self._stopped:
                return None
            self._out += 1
            return self._pictures.pop(0)

    def _picture_all(self) -> None:
        while (entry := self._next_picture()) is not None:
            seen = entry.path, entry.turn
            try:
                photo = open_photo(entry.path)
                if entry.turn != 1:
                    photo = Photo(photo.path, photo.facts.turned_by(entry.turn))
                image = to_image(self.thumbs.of(photo))
                self.facts.setdefault(seen, photo.facts)
            except Exception:  # the cell says what is wrong with it
                image = QImage()
            with self._wake:
                self._pictured.add(seen)
                self._made.append((seen, image))
                self._out -= 1

    def forget_pictures(self, seen: Iterable[Seen]) -> None:
        """Small pictures that are no longer held in memory: they may be asked for again."""
        with self._wake:
            self._pictured -= set(seen)

    def _deliver(self) -> None:
        with self._wake:
            found = [c for c in self._found if not self._is_proved(c.fitting)]
            self._found = []
            made, self._made = self._made, []
            left, every = len(self._pending), self._all
            idle = not (self._pending or self._deep or self._pictures or self._out)
        if found:
            self.judged.emit(found)
        if made:
            self.pictured.emit(made)
        self.counted.emit(every - left, every)
        if idle and not found and not made:
            self._hand_on.stop()

    def _is_proved(self, fitting_id: str) -> bool:
        held = self.cells.get(fitting_id)
        return held is not None and held[1].proved

    def prove(self, cell: Cell, key: object) -> None:
        """A cell of the finished bytes, which stands until the fitting changes."""
        with self._wake:
            self.cells[cell.fitting] = (key, replace(cell, proved=True))
