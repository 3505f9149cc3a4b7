"""The photos of a docket, known by their content, and the fitting that lies on the bench."""

from __future__ import annotations

import os
from collections.abc import Callable
from typing import Any

from aptandum.core.docket.model import PhotoEntry
from aptandum.core.docket.moved import digest_of
from aptandum.core.fitting.line import live_reading, resolve
from aptandum.core.fitting.people import (
    asks_for_people,
    places_a_head,
)
from aptandum.core.judge.findings import judge
from aptandum.core.judge.reading import of_supplied
from aptandum.core.photo.decode import Photo, open_photo
from aptandum.core.photo.facts import PhotoError
from aptandum.core.rulebook.shelf import BriefNotFound
from aptandum.ui.session.base import Base, seen_as
from aptandum.ui.session.bench import Bench
from aptandum.ui.strings import t


class Photos(Base):
    """See the module."""

    def open_photo(self, path: str) -> str | None:
        """Take a photo into the docket; its id, or None where it cannot be used (which is said)."""
        full = os.path.abspath(path)
        try:
            photo = open_photo(full)
        except PhotoError as error:
            self.tell(str(error))
            return None
        docket, photo_id = self.docket.with_photo(full)
        self._photos[full] = photo
        self._learn_digest(full)
        self.history.do(t("Add {file}", file=photo.name), docket)
        self.changed.emit()
        return photo_id

    def _learn_digest(self, path: str) -> None:
        """Read a photo's digest beside the interface, to know it again."""

        def work(late: Callable[[], bool]) -> tuple[str, int]:
            return digest_of(path), os.path.getsize(path)

        def done(found: Any, trouble: str) -> None:
            if not trouble:
                self._digests[path] = found

        self.queue.start(f"digest {path}", work, done)

    def missing(self) -> PhotoEntry | None:
        """The first photo of the docket that is not where it should be."""
        return next((e for e in self.docket.photos if not os.path.exists(e.path)), None)

    def found(self, photo_id: str, path: str) -> None:
        """A photo lies elsewhere now."""
        full = os.path.abspath(path)
        self.history.do(t("Find a photo"), self.docket.at(photo_id, full))
        self._learn_digest(full)
        self.changed.emit()
        fitting = next((f for f in self.docket.fittings if f.photo == photo_id), None)
        if fitting is not None:
            self.lay(fitting.id)

    def photo_of(self, photo_id: str) -> Photo:
        """Raises PhotoError where the file cannot be used any more."""
        entry = self.docket.photo(photo_id)
        if entry.path not in self._photos:
            self._photos[entry.path] = open_photo(entry.path)
        photo = self._photos[entry.path]
        if photo.facts.turn != entry.turn:
            photo = Photo(photo.path, photo.facts.turned_by(entry.turn))
            self._photos[entry.path] = photo
        return photo

    def start_fitting(self, photo_id: str, brief_name: str) -> bool:
        """Begin (or go back to) the fitting of a photo to a brief and lay it on the bench."""
        try:
            book, brief = self.find(brief_name)
        except BriefNotFound as error:
            self.tell(str(error))
            return False
        docket, fitting_id = self.docket.with_fitting(photo_id, f"{book.body.id}/{brief.id}")
        if book.body.id not in docket.rulebooks:
            kept = {**docket.rulebooks, book.body.id: book.text}
            docket = docket.model_copy(update={"rulebooks": kept})
        self.history.do(t("Start {brief}", brief=brief.title), docket)
        return self.lay(fitting_id)

    def lay(self, fitting_id: str, show: bool = True) -> bool:
        """Lay a fitting on the bench; False where its photo or brief cannot be used."""
        fitting = self.docket.fitting(fitting_id)
        try:
            entry = self.docket.photo(fitting.photo)
            photo = self.photo_of(fitting.photo)
            book, brief = self.find(fitting.brief)
        except (PhotoError, BriefNotFound) as error:
            self.tell(str(error))
            return False
        same_photo = self.bench is not None and seen_as(self.bench.photo) == seen_as(photo)
        preview = self.bench.preview if same_photo and self.bench else None
        line = resolve(photo.facts, brief, fitting.settings)
        see = self._see_people(photo, entry.marks)
        looked = self.bench.supplied_look if same_photo and self.bench else None
        held = (lambda: looked) if looked is not None else None
        supplied = judge(of_supplied(photo, see, held), brief, fitting.confirmed())
        live = judge(live_reading(photo.facts, line), brief, fitting.confirmed())
        self.bench = Bench(fitting, photo, book, brief, line, supplied, live, preview=preview)
        self.bench.hand = entry.marks
        self.bench.supplied_look = looked
        self.bench.wants_people = asks_for_people(brief) or any(
            place.as_ == "banner" for place in brief.seen
        )
        self.bench.wants_marks = places_a_head(brief)
        self._refresh()
        if preview is None:
            self._load_preview()
        else:
            self._look_for_people()
        if show:
            self.opened.emit()
        self._settle.start()
        return True
