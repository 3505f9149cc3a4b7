"""Judging a board's cells and making its small pictures, beside the interface, nearest first."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterable
from dataclasses import replace
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

_BREATH = 0.002
"""Seconds that a worker rests after each cell, so that the interface is never kept waiting."""

Seen = tuple[str, int]


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
        self._jobs: list[tuple[Fitting, PhotoEntry, Brief, object]] = []
        self._pictures: list[PhotoEntry] = []
        self._pictured: set[Seen] = set()
        self._found: list[Cell] = []
        self._made: list[tuple[Seen, QImage]] = []
        self._round = 0
        self._left = self._all = 0
        self._stopped = False
        self._threads: list[threading.Thread] = []
        self._hand_on = QTimer(self)
        self._hand_on.setInterval(HAND_ON_MS)
        self._hand_on.timeout.connect(self._deliver)

    # -- asking --------------------------------------------------------------------------------

    def ask(
        self,
        jobs: Iterable[tuple[Fitting, PhotoEntry, Brief, object]],
        pictures: Iterable[PhotoEntry],
    ) -> None:
        """Work on these, in this order, and on nothing else: the fittings whose key differs from
        the one they were judged with, and the photos that have no small picture."""
        with self._wake:
            self._jobs = [j for j in jobs if self._key_of(j[0].id) != j[3]]
            self._pictures = [p for p in pictures if (p.path, p.turn) not in self._pictured]
            self._round += 1
            self._all = self._left = len(self._jobs)
            self._wake.notify_all()
        if not self._threads:
            for work in (self._judge_all, self._picture_all):
                thread = threading.Thread(target=work, daemon=True)
                thread.start()
                self._threads.append(thread)
        self._hand_on.start()

    def _key_of(self, fitting_id: str) -> object:
        held = self.cells.get(fitting_id)
        return held[0] if held is not None else None

    @property
    def busy(self) -> bool:
        with self._wake:
            return bool(self._jobs or self._pictures or self._found or self._made or self._left)

    def stop(self) -> None:
        with self._wake:
            self._stopped = True
            self._jobs, self._pictures = [], []
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

    def _next(self, list_: Callable[[], list[Any]]) -> Any:
        with self._wake:
            while not self._stopped and not list_():
                self._wake.wait()
            return None if self._stopped else list_().pop(0)

    def _judge_all(self) -> None:
        while (job := self._next(lambda: self._jobs)) is not None:
            fitting, entry, brief, key = job
            cell = self._judge(fitting, entry, brief)
            with self._wake:
                self.cells[fitting.id] = (key, cell)
                self._found.append(cell)
                self._left = len(self._jobs)
            time.sleep(_BREATH)

    def _judge(self, fitting: Fitting, entry: PhotoEntry, brief: Brief) -> Cell:
        seen = entry.path, entry.turn
        try:
            facts = self.facts.get(seen)
            if facts is None:
                facts = open_photo(entry.path).facts
                facts = facts.turned_by(entry.turn) if entry.turn != 1 else facts
                self.facts[seen] = facts
            people = None
            if asks_for_people(brief):
                people = self._people(entry, facts)
            return cell_of(facts, brief, fitting, people)
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

    def _picture_all(self) -> None:
        while (entry := self._next(lambda: self._pictures)) is not None:
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
            left, every = self._left, self._all
            idle = not (self._jobs or self._pictures)
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
