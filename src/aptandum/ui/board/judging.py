"""Judging a board's cells and making its small pictures, beside the interface, nearest first."""

from __future__ import annotations

import threading
import time
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtGui import QImage

from aptandum.core.docket.cells import Cell, cell_of
from aptandum.core.docket.model import Fitting, PhotoEntry
from aptandum.core.docket.thumbs import Thumbs
from aptandum.core.fitting.people import asks_for_people, people_in
from aptandum.core.photo.decode import Photo, open_photo
from aptandum.core.photo.facts import Facts, PhotoError
from aptandum.core.photo.marks import People
from aptandum.core.photo.people import Face
from aptandum.core.rulebook.model import Brief
from aptandum.ui.bench.sheet import to_image

HAND_ON_MS = 60
"""How often what has been found is handed to the board."""

_BREATH = 0.001
"""Seconds that a worker rests after each cell, so that the interface is never kept waiting."""

_SEARCH = 400
"""Rows round the view among which the nearest is looked for; beyond, any comes next."""

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


class Judging(QObject):
    """Works on what is asked for until it is asked for something else. Results are kept by the
    fitting's whole content, so that what has not changed is not judged again."""

    judged = pyqtSignal(list)
    pictured = pyqtSignal(list)
    counted = pyqtSignal(int, int)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.thumbs = Thumbs()
        self.cells: dict[str, tuple[object, Cell]] = {}
        self.facts: dict[Seen, Facts] = {}
        self.faces: dict[Seen, tuple[tuple[Face, ...], Any]] = {}
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
        self._stopped = False
        self._threads: list[threading.Thread] = []
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
        if not self._threads:
            for work in (self._judge_all, self._picture_all):
                thread = threading.Thread(target=work, daemon=True)
                thread.start()
                self._threads.append(thread)
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
            waiting = self._pending or self._deep or self._pictures
            return bool(waiting or self._found or self._made)

    def stop(self) -> None:
        with self._wake:
            self._stopped = True
            self._pending, self._deep, self._pictures = set(), set(), []
            self._wake.notify_all()
        for thread in self._threads:
            thread.join(5)
        self._threads = []
        self._hand_on.stop()

    def forget(self, path: str) -> None:
        """A photo has changed on disk: what is known of it is looked at again when asked for."""
        with self._wake:
            self._pictured = {seen for seen in self._pictured if seen[0] != path}
            self.facts = {seen: v for seen, v in self.facts.items() if seen[0] != path}
            self.faces = {seen: v for seen, v in self.faces.items() if seen[0] != path}

    # -- working -------------------------------------------------------------------------------

    def _next_row(self) -> tuple[Row, bool] | None:
        """The row nearest to the view that is not judged yet, by its headers first; whether
        people are to be looked for in it."""
        with self._wake:
            while not self._stopped and not (self._pending or self._deep):
                self._wake.wait()
            if self._stopped:
                return None
            # What is in view is looked at closely before what is far away is judged at all.
            here = [r for r in self._seen if r in self._deep and r not in self._pending]
            deep = not self._pending or (bool(here) and not self._in_view(self._pending))
            from_ = self._deep if deep else self._pending
            r = self._nearest(from_)
            from_.discard(r)
            return self._rows[r], deep

    def _in_view(self, rows: set[int]) -> bool:
        return any(r in rows for r in self._seen)

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
        while (job := self._next_row()) is not None:
            row, deep = job
            for fitting, brief, key in row.fittings:
                if deep and not asks_for_people(brief):
                    continue
                with self._wake:
                    held = self.cells.get(fitting.id)
                    if self._stopped or (self._rows and row.laid is not self._rows[0].laid):
                        break  # the board has been laid anew
                if held is not None and held[0] == key and (held[1].looked or not deep):
                    continue
                cell = self._judge(fitting, row.entry, brief, deep)
                with self._wake:
                    self.cells[fitting.id] = (key, cell)
                    self._found.append(cell)
                time.sleep(_BREATH)

    def _judge(self, fitting: Fitting, entry: PhotoEntry, brief: Brief, deep: bool) -> Cell:
        seen = entry.path, entry.turn
        try:
            facts = self.facts.get(seen)
            if facts is None:
                facts = open_photo(entry.path).facts
                facts = facts.turned_by(entry.turn) if entry.turn != 1 else facts
                self.facts[seen] = facts
            asked = asks_for_people(brief)
            people = None
            if asked and (deep or seen in self.faces):
                people = self._people(entry, facts)
            cell = cell_of(facts, brief, fitting, people)
            return replace(cell, looked=not asked or people is not None)
        except (PhotoError, OSError) as error:
            return Cell(fitting.id, "lost", 1, trouble=str(error))
        except Exception as error:  # one photo must never stop the rest
            return Cell(fitting.id, "lost", 1, trouble=f"{type(error).__name__}: {error}")

    def _people(self, entry: PhotoEntry, facts: Facts) -> People:
        seen = entry.path, entry.turn
        if seen not in self.faces:
            found = people_in(Photo(entry.path, facts), entry.marks)
            self.faces[seen] = found.faces, found.subject
        faces, subject = self.faces[seen]
        return People(faces, entry.marks, subject)

    def _next_picture(self) -> PhotoEntry | None:
        with self._wake:
            while not self._stopped and not self._pictures:
                self._wake.wait()
            return None if self._stopped else self._pictures.pop(0)

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

    def forget_pictures(self, seen: Iterable[Seen]) -> None:
        """Small pictures that are no longer held in memory: they may be asked for again."""
        with self._wake:
            self._pictured -= set(seen)

    def _deliver(self) -> None:
        with self._wake:
            found, self._found = self._found, []
            made, self._made = self._made, []
            left, every = len(self._pending), self._all
            idle = not (self._pending or self._deep or self._pictures)
        if found:
            self.judged.emit(found)
        if made:
            self.pictured.emit(made)
        self.counted.emit(every - left, every)
        if idle and not found and not made:
            self._hand_on.stop()

    def prove(self, cell: Cell, key: object) -> None:
        """A cell of the finished bytes, which stands until the fitting changes."""
        with self._wake:
            self.cells[cell.fitting] = (key, replace(cell, proved=True))
