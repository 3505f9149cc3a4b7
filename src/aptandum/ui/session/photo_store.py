"""The photos of a docket: opened, known by their content, with what was found in them.

Faces and masks belong to a photo as it was looked at (its file, and which way up), whatever fitting
lies on the bench.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable

from PyQt6.QtCore import QObject

from aptandum.core.docket.model import PhotoEntry
from aptandum.core.docket.moved import digest_of
from aptandum.core.fitting.masking import found_in
from aptandum.core.frozen import frozen
from aptandum.core.photo.apart import credit_of
from aptandum.core.photo.backdrop import Mask, NoMask, blank
from aptandum.core.photo.decode import Photo, facts_many, open_photo, photo_of
from aptandum.core.photo.facts import Facts, PhotoError
from aptandum.core.photo.marks import NAMES, HandMarks, Marks, NoMarks, People
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.people import Face
from aptandum.ui.jobs import Jobs
from aptandum.ui.session.docket_store import DocketStore
from aptandum.ui.strings import t

Seen = tuple[str, int]
"""A photo's path, and the turn in which it was looked at."""


def seen_as(photo: Photo) -> Seen:
    """What faces are remembered by: the file, and which way up it was looked at."""
    return photo.path, photo.facts.turn


@frozen
class Taken:
    """What came of taking photos in: the ids of those that are in the docket now, and a sentence for
    each that could not be taken."""

    ids: tuple[str, ...]
    troubles: tuple[str, ...]


class PhotoStore(QObject):
    """The docket's photos as they lie on the disk, with the faces and masks found on them."""

    def __init__(self, store: DocketStore, jobs: Jobs, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._store, self._jobs = store, jobs
        self._opened: dict[str, Photo] = {}
        self.digests: dict[str, tuple[str, int]] = {}
        self.faces: dict[Seen, tuple[Face, ...]] = {}
        self.things: dict[Seen, tuple[float, float, float, float] | None] = {}
        self.hidden: set[Seen] = set()
        self.masks: dict[Seen, Mask | str] = {}
        self._brushed: tuple[object, Mask] | None = None
        self._credits: dict[str, Credit] = {}

    # -- files -----------------------------------------------------------------------------------

    def take(self, paths: Iterable[str]) -> Taken:
        """Take photos into the docket, each as a step; those that cannot be used come back with a
        sentence that says why."""
        ids, troubles = [], []
        for facts in facts_many(map(os.path.abspath, paths)):
            full = facts.file
            try:
                photo = photo_of(facts)
            except PhotoError as error:
                troubles.append(str(error))
                continue
            docket, photo_id = self._store.docket.with_photo(full)
            self._opened[full] = photo
            self.learn_digest(full)
            self._store.do(t("Add {file}", file=photo.name), docket)
            ids.append(photo_id)
        return Taken(tuple(ids), tuple(troubles))

    def learn_digest(self, path: str) -> None:
        """Read a photo's digest beside the interface, to know it again."""

        def work(_late: Callable[[], bool]) -> tuple[str, int]:
            return digest_of(path), os.path.getsize(path)

        def done(found: tuple[str, int]) -> None:
            self.digests[path] = found

        # A file that is gone by now is told of where it is used.
        self._jobs.latest(f"digest {path}", work, done, lambda _why: None)

    def missing(self) -> PhotoEntry | None:
        """The first photo of the docket that is not where it should be."""
        photos = self._store.docket.photos
        return next((e for e in photos if not os.path.exists(e.path)), None)

    def found(self, photo_id: str, path: str) -> None:
        """A photo lies elsewhere now."""
        full = os.path.abspath(path)
        self._store.do(t("Find a photo"), self._store.docket.at(photo_id, full))
        self.learn_digest(full)

    def photo_of(self, photo_id: str) -> Photo:
        """A photo of the docket, turned as it stands there.

        Raises:
            PhotoError: the file cannot be used any more.
        """
        entry = self._store.docket.photo(photo_id)
        if entry.path not in self._opened:
            self._opened[entry.path] = open_photo(entry.path)
        photo = self._opened[entry.path]
        if photo.facts.turn != entry.turn:
            photo = Photo(photo.path, photo.facts.turned_by(entry.turn))
            self._opened[entry.path] = photo
        return photo

    def facts_of(self, photo_id: str) -> Facts | None:
        """A photo's facts, or ``None`` where it cannot be read."""
        try:
            return self.photo_of(photo_id).facts
        except PhotoError:
            return None

    def credit_of(self, photo: Photo) -> Credit:
        """What a photo states beside its pixels."""
        if photo.path not in self._credits:
            try:
                self._credits[photo.path] = credit_of(photo.read())
            except PhotoError:
                return Credit()
        return self._credits[photo.path]

    # -- people ----------------------------------------------------------------------------------

    def people_of(self, photo: Photo, hand: HandMarks) -> People | None:
        """The people of a photo; ``None`` while they have not been looked for."""
        seen = seen_as(photo)
        if seen not in self.faces:
            return None
        return People(self.faces[seen], hand, self.things.get(seen), seen in self.hidden)

    def marks_of(self, photo_id: str, angle: float = 0.0) -> Marks | None:
        """The marks of the one head of a photo straightened by an angle; ``None`` where there is none,
        or where nobody has looked yet.

        Raises:
            PhotoError: the photo cannot be used.
        """
        photo = self.photo_of(photo_id)
        people = self.people_of(photo, self._store.docket.photo(photo_id).marks)
        try:
            return None if people is None else people.marks().swung(angle, photo.facts.size)
        except NoMarks:
            return None

    def people_seer(self, photo: Photo, hand: HandMarks) -> Callable[[], People]:
        """Gives a judge the people as far as they are known by then; it raises NoMarks before."""

        def see() -> People:
            faces = self.faces.get(seen_as(photo))
            set_by_hand = len(hand.moved) == len(NAMES) or hand.keep_clear
            if faces is None and not set_by_hand:
                raise NoMarks(t("The face is still being looked for."))
            seen = seen_as(photo)
            return People(faces or (), hand, self.things.get(seen), seen in self.hidden)

        return see

    def learn_people(self, photo: Photo, people: People) -> None:
        """Keep what was found on a photo, for whoever asks next."""
        self.faces[seen_as(photo)] = people.faces
        self.things[seen_as(photo)] = people.thing
        (self.hidden.add if people.hidden else self.hidden.discard)(seen_as(photo))

    # -- masks -----------------------------------------------------------------------------------

    def mask_of(self, photo: Photo, hand: HandMarks) -> Mask:
        """What stands before the backdrop of a photo, with a person's strokes.

        Raises:
            NoMask: it is still being looked for, or nothing stands out.
        """
        found = self.masks.get(seen_as(photo))
        if found is None:
            raise NoMask(t("What stands before the backdrop is still being looked for."))
        if isinstance(found, str):
            if not hand.strokes:
                raise NoMask(found)
            found = blank(photo.facts.size)
        if not hand.strokes:
            return found
        key = (seen_as(photo), hand.strokes)
        if self._brushed is None or self._brushed[0] != key:
            self._brushed = key, found.brushed(hand.strokes)
        return self._brushed[1]

    def mask_seer(
        self, photo: Photo, hand: HandMarks, people: People | None
    ) -> tuple[Callable[[], Mask], dict[Seen, Mask | str]]:
        """Gives the mask to a worker, which looks for it where nobody has; what it learns on the
        way is put in the dictionary."""
        key, known = seen_as(photo), self.masks.get(seen_as(photo))
        learnt: dict[Seen, Mask | str] = {}

        def see() -> Mask:
            found = known if known is not None else learnt.get(key)
            if found is None:
                try:
                    found = found_in(photo, people)
                except NoMask as error:
                    found = str(error)
                learnt[key] = found
            if isinstance(found, str):
                if not hand.strokes:
                    raise NoMask(found)
                found = blank(photo.facts.size)
            return found.brushed(hand.strokes) if hand.strokes else found

        return see, learnt
