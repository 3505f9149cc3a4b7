"""The session: the docket that is open, the fitting on the bench, and what is known of it.

Widgets show what stands here and ask for changes; every change of the docket goes through
:meth:`Session.do`, so that it can be undone.
"""

from __future__ import annotations

import contextlib
import gc
import getpass
import os
from collections.abc import Callable, Iterable, Mapping
from concurrent.futures import Executor, ProcessPoolExecutor, ThreadPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, field, replace
from datetime import datetime
from multiprocessing import get_context
from pathlib import Path
from typing import Any

import numpy as np
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from aptandum.core.conform import Proof, conform, fitted_in, named, prove
from aptandum.core.docket import recovery, store
from aptandum.core.docket.batch import Job, Outcome, behind_others, make_one, run
from aptandum.core.docket.found import photos_in, usable
from aptandum.core.docket.history import History
from aptandum.core.docket.model import Answer, Audited, Docket, Fitting, PhotoEntry
from aptandum.core.docket.moved import digest_of, look_for, same
from aptandum.core.docket.reported import gather
from aptandum.core.docket.takeover import Offer, find, offers, take_over
from aptandum.core.file import budget, room
from aptandum.core.file.curve import Curve, curve, has_curve, worst
from aptandum.core.file.make import Made, make
from aptandum.core.file.write import WriteError, write
from aptandum.core.fitting.carry import CannotCarry, Way, carried
from aptandum.core.fitting.gamut import Conversion, conversion
from aptandum.core.fitting.line import Line, Window, live_reading, picture_of, resolve
from aptandum.core.fitting.people import (
    asks_for_people,
    framed_by_marks,
    people_in,
    places_a_head,
)
from aptandum.core.fitting.record import laid
from aptandum.core.fitting.render import for_screen, plain, render, shown_on
from aptandum.core.fitting.settings import SettingError, Settings
from aptandum.core.fitting.standing import (
    asks_for_mask,
    found_in,
    looks_at_pixels,
    supplied_cover,
    supplied_look,
)
from aptandum.core.judge.findings import Confirmation, Findings, judge
from aptandum.core.judge.look import Look
from aptandum.core.judge.reading import Laid, of_supplied, pixels_of
from aptandum.core.photo.backdrop import Mask, NoMask, Stroke, blank
from aptandum.core.photo.decode import Photo, open_photo
from aptandum.core.photo.engine import as_hex
from aptandum.core.photo.facts import Facts, PhotoError, facts_of_bytes, shown_name
from aptandum.core.photo.marks import NAMES, NO_HAND, HandMarks, Marks, NoMarks, People
from aptandum.core.photo.people import Face
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.told import Credit, credit_of
from aptandum.core.photo.turning import LEFT, MIRROR, RIGHT, swung
from aptandum.core.quantity import show_aspect
from aptandum.core.report import Report, entry_of, write_report
from aptandum.core.rulebook.model import Brief, Rulebook
from aptandum.core.rulebook.shelf import BriefNotFound, Shelf, read_own, read_shelf
from aptandum.core.rulebook.sizes import allowed
from aptandum.core.rulebook.toml import RulebookError, read_rulebook
from aptandum.ui import handed, preferences
from aptandum.ui.strings import t
from aptandum.ui.work import Queue

SETTLE_MS = 140
"""How long after the last change the exact picture is made."""

KEEP_MS = 250
"""How long after the last change what is open is written down."""

PREVIEW = 2048
"""Longest side of the photo's own picture on the sheet, in pixels."""


@dataclass(frozen=True)
class Loss:
    """The picture before it was encoded, for the screen, and where encoding has changed it most
    (shares of width and height). ``of`` is the encoded picture that it was compared with."""

    before: Any
    worst: tuple[float, float]
    of: Any


@dataclass
class Bench:
    """What is known of the fitting on the bench. Pictures are 8-bit sRGB arrays."""

    fitting: Fitting
    photo: Photo
    book: Rulebook
    brief: Brief
    line: Line
    supplied: Findings
    live: Findings
    draft: Made | None = None
    draft_for: tuple[Settings, object] | None = None
    look: Look | None = field(default=None, repr=False)
    supplied_look: Look | None = field(default=None, repr=False)
    conversion: Conversion | None = field(default=None, repr=False)
    conversion_for: object = None
    curve: Curve | None = field(default=None, repr=False)
    curve_for: object = None
    loss: Loss | None = field(default=None, repr=False)
    grey: Any = field(default=None, repr=False)
    fitted: Any = None
    preview: Any = None
    detail: tuple[Window, Any] | None = None
    proof: Proof | None = None
    written: Path | None = None
    trouble: str = ""
    picture: Picture | None = field(default=None, repr=False)
    judged_with: list[Confirmation] = field(default_factory=list)
    hand: HandMarks = NO_HAND
    wants_people: bool = False
    wants_marks: bool = False

    @property
    def proof_is_current(self) -> bool:
        return self.proof is not None

    @property
    def draft_is_current(self) -> bool:
        return self.draft is not None and self.draft_for == self.made_from

    @property
    def made_from(self) -> tuple[Settings, object]:
        """All that the picture depends on: the settings, and where a finish asks for the mask its
        strokes."""
        strokes = self.hand.strokes if self.line.finish.needs_mask else ()
        return self.fitting.settings, strokes


class Session(QObject):
    """See the module."""

    changed = pyqtSignal()
    shelved = pyqtSignal()
    opened = pyqtSignal()
    pictures = pyqtSignal()
    proved = pyqtSignal()
    said = pyqtSignal(str, str)
    working = pyqtSignal(str)
    counted = pyqtSignal(int, int)
    tool_asked = pyqtSignal(object)
    panel_chosen = pyqtSignal(str)
    loss_asked = pyqtSignal()
    outcome = pyqtSignal(object)
    copy_asked = pyqtSignal()
    folder_asked = pyqtSignal()
    report_asked = pyqtSignal()
    hand_asked = pyqtSignal()

    def __init__(self, shelf: Shelf | None = None, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.shelf = shelf or read_shelf()
        self.history = History(Docket(title=t("Untitled docket")))
        self.path: Path | None = None
        self.saved: Docket | None = None
        self.saved_at: datetime | None = None
        self.bench: Bench | None = None
        self.queue = Queue(self)
        self.queue.idle.connect(lambda: self.working.emit(""))
        self._photos: dict[str, Photo] = {}
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(SETTLE_MS)
        self._settle.timeout.connect(self._make_draft)
        self._write_after: tuple[Path, bool] | None = None
        self.keeper: recovery.Keeper | None = None
        self._keep_soon = QTimer(self)
        self._keep_soon.setSingleShot(True)
        self._keep_soon.setInterval(KEEP_MS)
        self._keep_soon.timeout.connect(self.keep)
        self.changed.connect(self._keep_soon.start)
        self._offered: tuple[object, tuple[Offer, ...]] | None = None
        self._digests: dict[str, tuple[str, int]] = {}
        self._things: dict[tuple[str, int], tuple[float, float, float, float] | None] = {}
        self._told: dict[str, Credit] = {}
        self._stop_batch = False
        self._faces: dict[tuple[str, int], tuple[Face, ...]] = {}
        self._masks: dict[tuple[str, int], Mask | str] = {}
        self._brushed: tuple[object, Mask] | None = None
        self.screen: bytes | None = None  # the screen's own profile; None: sRGB
        self.needs_mask = False  # the sheet shows the mask
        self.surround = 1  # the tone of the sheet's ground, of theme.SURROUNDS

    @property
    def docket(self) -> Docket:
        return self.history.docket

    def tell(self, sentence: str, kind: str = "trouble") -> None:
        self.said.emit(kind, sentence)

    # -- rulebooks ---------------------------------------------------------------------------

    def find(self, brief_name: str) -> tuple[Rulebook, Brief]:
        """A brief by the rulebook that the docket was made with, else by the shelf's.

        Raises:
            BriefNotFound: neither has it.
        """
        return find(self.docket, self.shelf, brief_name)

    def add_own_rulebooks(self) -> None:
        """Lay the person's own rulebooks on the shelf; what cannot be used is said."""
        books, wrong = read_own()
        for book in books:
            self.put_on_shelf(book)
        if wrong:
            self.tell("\n".join(str(error) for error in wrong))

    def add_rulebook(self, path: str) -> Rulebook | None:
        """Lay a rulebook file on the shelf; None where it is not sound (which is said)."""
        try:
            book = read_rulebook(path)
        except RulebookError as error:
            self.tell(str(error))
            return None
        self.put_on_shelf(book)
        return book

    def put_on_shelf(self, book: Rulebook) -> None:
        """A rulebook with the same body's id takes the place of the one there."""
        others = [b for b in self.shelf.rulebooks if b.body.id != book.body.id]
        at = [b.body.id for b in self.shelf.rulebooks]
        place = at.index(book.body.id) if book.body.id in at else len(others)
        others.insert(place, book)
        self.shelf = Shelf(tuple(others))
        self.shelved.emit()

    def offers(self) -> tuple[Offer, ...]:
        """Editions on the shelf that the docket does not follow; kept, as every step of a drag
        asks."""
        key = (tuple(self.docket.rulebooks.items()), id(self.shelf))
        if self._offered is None or self._offered[0] != key:
            self._offered = key, offers(self.docket, self.shelf)
        return self._offered[1]

    def facts_of(self, photo_id: str) -> Facts | None:
        try:
            return self.photo_of(photo_id).facts
        except PhotoError:
            return None

    def take_over(self, book: Rulebook) -> None:
        """Follow another edition of a rulebook from now on."""
        label = t("Take over edition {n}", n=book.body.edition or t("of the shelf"))
        if not self.history.do(label, take_over(self.docket, book)):
            return
        if self.bench is not None and self.bench.book.body.id == book.body.id:
            self._relay()
        self.changed.emit()

    def _relay(self) -> None:
        """Lay the fitting on the bench anew, for its brief is another now."""
        bench = self.bench
        if bench is not None:
            self.bench = None
            preview = bench.preview
            if self.lay(bench.fitting.id, show=False) and self.bench is not None:
                if self.bench.preview is None and _seen(self.bench.photo) == _seen(bench.photo):
                    self.bench.preview = preview
                self.pictures.emit()

    # -- photos, briefs, fittings ----------------------------------------------------------

    def add_rulebooks(self, paths: Iterable[str]) -> None:
        try:
            self.shelf = read_shelf(paths)
        except RulebookError as error:
            self.tell(str(error))

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

    def _find_moved(self, docket: Docket, beside: Path) -> Docket:
        """A docket with those photos that are not where they were, but can be found again."""
        gone = [entry for entry in docket.photos if not os.path.exists(entry.path)]
        if not gone:
            return docket
        folders = [beside.resolve().parent]
        folders += [Path(e.path).parent for e in docket.photos if os.path.exists(e.path)]
        found, lost = [], []
        for entry in gone:
            path = look_for(entry, folders)
            if path is None:
                lost.append(Path(entry.path).name)
                continue
            docket = docket.at(entry.id, str(path))
            found.append(Path(entry.path).name)
        said = []
        if found:
            said.append(t("Found again by its content: {files}.", files=", ".join(found)))
        if lost:
            said.append(
                t("Not there any more: {files}. “Find a photo…” tells where it is.",
                  files=", ".join(lost))
            )  # fmt: skip
        self.tell(" ".join(said), "trouble" if lost else "note")
        return docket

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

    def _compare_digests(self) -> None:
        """Say which photos have changed since the docket was saved; read beside the interface."""
        entries = [e for e in self.docket.photos if e.digest and os.path.exists(e.path)]
        if not entries:
            return

        def work(late: Callable[[], bool]) -> list[str]:
            return [e.path for e in entries if not late() and not same(e, e.path)]

        def done(changed: Any, trouble: str) -> None:
            if changed:
                names = ", ".join(Path(path).name for path in changed)
                self.tell(
                    t("Changed since this docket was saved: {files}. Frames and marks are as they "
                      "were; look whether they still fit.", files=names)
                )  # fmt: skip

        self.queue.start("digests", work, done)

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
        same_photo = self.bench is not None and _seen(self.bench.photo) == _seen(photo)
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

    # -- many at once --------------------------------------------------------------------------

    def take_in(self, paths: list[str], deep: bool = True) -> None:
        """Take many photos into the docket, with those of folders; what cannot be used is listed
        with its reason, and nothing is laid on the bench."""
        known = {entry.path for entry in self.docket.photos}
        self.working.emit(t("Looking at photos …"))

        def work(late: Callable[[], bool]) -> tuple[list[str], list[str]]:
            good: list[str] = []
            bad: list[str] = []
            files = [path for path in photos_in(paths, deep) if path not in known]
            for n, path in enumerate(files, start=1):
                if late():
                    break
                if n % 20 == 1 or n == len(files):
                    self.counted.emit(n, len(files))
                why = usable(path)
                (bad if why else good).append(why or path)
            return good, bad

        def done(found: Any, trouble: str) -> None:
            self.working.emit("")
            if trouble:
                self.tell(trouble)
                return
            good, bad = found
            n = len(good)
            label = t("Add 1 photo") if n == 1 else t("Add {n} photos", n=n)
            if good and self.history.do(label, self.docket.with_photos(good)):
                self.changed.emit()
            if bad:
                self._list(t("Not taken in"), bad)
            elif not good:
                self.tell(t("No photo was found that is not here already."), "note")

        self.queue.start("take in", work, done)

    def _list(self, what: str, sentences: list[str], most: int = 6) -> None:
        """Tell several sentences, the first few in full."""
        said = "\n".join(sentences[:most])
        more = len(sentences) - most
        if more > 0:
            said += "\n" + t("… and {n} more.", n=more)
        self.tell(f"{what}:\n{said}")

    def start_fittings(self, pairs: list[tuple[str, str]]) -> int:
        """Begin a fitting for each photo and brief that has none, as one step; how many."""
        try:
            books = {name: self.find(name)[0] for _photo, name in pairs}
        except BriefNotFound as error:
            self.tell(str(error))
            return 0
        before = len(self.docket.fittings)
        docket = self.docket.with_fittings(pairs)
        kept = dict(docket.rulebooks)
        for book in books.values():
            kept.setdefault(book.body.id, book.text)
        made = len(docket.fittings) - before
        docket = docket.model_copy(update={"rulebooks": kept})
        label = t("Start 1 fitting") if made == 1 else t("Start {n} fittings", n=made)
        if made and self.history.do(label, docket):
            self.changed.emit()
        return made

    def clear_fittings(self, ids: list[str]) -> None:
        """Take fittings away, as one step."""
        n = len(ids)
        label = t("Clear 1 fitting") if n == 1 else t("Clear {n} fittings", n=n)
        if ids and self.history.do(label, self.docket.without_fittings(ids)):
            self._follow()

    def copy_fitting(self, source: str, pairs: list[tuple[str, str]]) -> int:
        """Give a fitting's settings, but for its frame, to others, which are begun where they are
        not there yet; as one step."""
        settings = self.docket.fitting(source).settings
        docket = self.docket.with_fittings(pairs)
        wanted = set(pairs)
        made = {
            f.id: settings.model_copy(update={"frame": f.settings.frame})
            for f in docket.fittings
            if (f.photo, f.brief) in wanted and f.id != source
        }
        docket = docket.with_settings(made)
        if made and self.history.do(t("Copy a fitting to {n}", n=len(made)), docket):
            self._follow()
        return len(made)

    def conform_many(self, ids: list[str], folder: Path) -> None:
        """Conform fittings, write their files to a folder, and keep the settings that made them,
        as one step; what went wrong is listed at the end."""
        docket = self.docket
        jobs, lost = [], []
        for fitting_id in ids:
            fitting = docket.fitting(fitting_id)
            try:
                brief = self.find(fitting.brief)[1]
            except BriefNotFound as error:
                lost.append(str(error))
                continue
            jobs.append(Job(fitting, docket.photo(fitting.photo), brief, str(folder)))
        self.working.emit(t("Conforming …"))
        self._stop_batch = False

        def work(late: Callable[[], bool]) -> list[Outcome]:
            found: list[Outcome] = []
            pool, workers = _workers(len(jobs))
            with pool, contextlib.suppress(BrokenProcessPool):  # what was made by then stands
                for outcome in run(
                    jobs, pool, workers, lambda: late() or self._stop_batch, make_one
                ):
                    found.append(outcome)
                    self.outcome.emit(outcome)
                    self.counted.emit(len(found), len(jobs))
            return found

        def done(found: Any, trouble: str) -> None:
            self.working.emit("")
            if trouble:
                self.tell(trouble)
                return
            self._conformed(found, lost, len(jobs), folder)

        self.queue.start("batch", work, done)

    def keep_audit(self, audit: Audited) -> None:
        """Keep what is audited, and against which brief."""
        docket = self.docket.model_copy(update={"audit": audit})
        words = t("Audit {name}", name=shown_name(audit.source))
        if self.history.do(words, docket, f"audit {audit.source}"):
            self._follow()

    def keep_settings(self, settings: Mapping[str, Settings]) -> None:
        """Keep the settings by which fittings' files were made, as one step."""
        known = {f.id: f.settings for f in self.docket.fittings}
        changed = {i: s for i, s in settings.items() if i in known and known[i] != s}
        n = len(settings)
        label = t("Conform 1 fitting") if n == 1 else t("Conform {n} fittings", n=n)
        if changed and self.history.do(label, self.docket.with_settings(changed)):
            self._follow()

    def _conformed(self, found: list[Outcome], lost: list[str], asked: int, folder: Path) -> None:
        made = [outcome for outcome in found if outcome.cell is not None]
        self.keep_settings({o.fitting: o.settings for o in made})
        for outcome in made:
            self.outcome.emit(outcome)
        ready = sum(outcome.ready for outcome in made)
        said = t("{n} of {all} files written to {folder}; {ready} meet every rule that can be "
                 "measured.", n=len(made), all=asked, folder=folder, ready=ready)  # fmt: skip
        wrong = [*lost, *(o.trouble for o in found if o.trouble)]
        if len(found) < asked:
            said += " " + t("Stopped before the other {n}.", n=asked - len(found))
        if wrong:
            self._list(said + " " + t("Not made"), wrong)
        else:
            self.tell(said, "done")

    # -- people and their marks ----------------------------------------------------------------

    def _see_people(self, photo: Photo, hand: HandMarks) -> Callable[[], People]:
        def see() -> People:
            faces = self._faces.get(_seen(photo))
            set_by_hand = len(hand.moved) == len(NAMES) or hand.keep_clear
            if faces is None and not set_by_hand:
                raise NoMarks(t("The face is still being looked for."))
            return People(faces or (), hand, self._things.get(_seen(photo)))

        return see

    def people(self) -> People | None:
        """The people of the photo on the bench; ``None`` while they are looked for."""
        bench = self.bench
        if bench is None or _seen(bench.photo) not in self._faces:
            return None
        seen = _seen(bench.photo)
        return People(self._faces[seen], bench.hand, self._things.get(seen))

    def marks(self) -> Marks | None:
        """The marks of the head on the bench, in photo pixels; ``None`` where there are none."""
        people = self.people()
        try:
            return people.marks() if people is not None else None
        except NoMarks:
            return None

    # -- what stands before the backdrop -------------------------------------------------------

    def mask(self) -> Mask:
        """What stands before the backdrop of the photo on the bench, with the strokes.

        Raises:
            NoMask: it is still being looked for, or nothing stands out.
        """
        bench = self.bench
        if bench is None:
            raise NoMask(t("There is no photo on the bench."))
        found = self._masks.get(_seen(bench.photo))
        if found is None:
            raise NoMask(t("What stands before the backdrop is still being looked for."))
        strokes = bench.hand.strokes
        if isinstance(found, str):
            if not strokes:
                raise NoMask(found)
            found = blank(bench.photo.facts.size)
        if not strokes:
            return found
        key = (_seen(bench.photo), strokes)
        if self._brushed is None or self._brushed[0] != key:
            self._brushed = key, found.brushed(strokes)
        return self._brushed[1]

    def wants_mask(self) -> bool:
        bench = self.bench
        return bench is not None and (self.needs_mask or asks_for_mask(bench.brief, bench.line))

    def look_for_mask(self) -> None:
        """Look for what stands before the backdrop, where anybody asks and nobody has looked."""
        bench = self.bench
        if bench is None or not self.wants_mask() or _seen(bench.photo) in self._masks:
            return
        photo, people = bench.photo, self.people()

        def work(late: Callable[[], bool]) -> Mask | str:
            try:
                return found_in(photo, people, late)
            except NoMask as error:
                return str(error)

        def done(found: Any, trouble: str) -> None:
            if trouble:
                self.tell(trouble)
                return
            self._masks[_seen(photo)] = found
            if self.bench is not None and self.bench.photo is photo:
                self._look_again()
                self.pictures.emit()
                self.changed.emit()

        self.queue.start("mask", work, done)

    def _mask_seer(
        self, photo: Photo, hand: HandMarks, people: People | None
    ) -> tuple[Callable[[], Mask], dict[tuple[str, int], Mask | str]]:
        """Gives the mask to a worker, which looks for it where nobody has; what it learns on the
        way is put in the dictionary."""
        key, known = _seen(photo), self._masks.get(_seen(photo))
        learnt: dict[tuple[str, int], Mask | str] = {}

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

    def show_mask(self, on: bool) -> None:
        """Hatch what is behind the subject on the sheet, or no longer."""
        self.needs_mask = on
        self.look_for_mask()
        self.pictures.emit()
        self.changed.emit()

    def add_stroke(self, stroke: Stroke) -> None:
        """Correct the mask of the photo on the bench; it serves all of its fittings."""
        bench = self.bench
        if bench is not None:
            hand = bench.hand.model_copy(update={"strokes": (*bench.hand.strokes, stroke)})
            self.set_marks(hand, t("Correct the mask") if stroke.adds else t("Take from the mask"))

    def clear_strokes(self) -> None:
        if self.bench is not None and self.bench.hand.strokes:
            hand = self.bench.hand.model_copy(update={"strokes": ()})
            self.set_marks(hand, t("Mask as found"))

    def _look_again(self) -> None:
        """Measure the pixels on the bench, beside the interface: as supplied, and as made."""
        bench = self.bench
        if bench is None or not looks_at_pixels(bench.brief):
            return
        photo, brief, line = bench.photo, bench.brief, bench.line
        look, supplied, proof = bench.look, bench.supplied_look, bench.proof
        try:
            mask: Mask | None = self.mask()
            see: Callable[[], Mask] = lambda: mask  # type: ignore[assignment,return-value]  # noqa: E731
        except NoMask as error:
            see, mask = _no_mask(str(error)), None
        see_people = self._see_people(photo, bench.hand)
        strokes = bench.hand.strokes

        def work(late: Callable[[], bool]) -> tuple[Look, Look | None, Laid | None]:
            told = laid(photo.facts, line, None, see)
            first = supplied or supplied_look(photo, see, late)
            first = first.again(supplied_cover(photo, see))
            judge(of_supplied(photo, see_people, lambda: first), brief)
            second = look.again(told.see_cover) if look is not None else None
            if second is not None:
                held = second
                judge(live_reading(photo.facts, line, see_look=lambda: held), brief)
            third = None
            if proof is not None:
                kept = [one.again(told.see_cover) for one in proof.laid.kept]
                third = replace(proof.laid, see_cover=told.see_cover, kept=kept)
                named(replace(proof, laid=third), brief, proof.suggested)
            return first, second, third

        def done(found: Any, trouble: str) -> None:
            now = self.bench
            if now is None or now.photo is not photo or now.hand.strokes != strokes:
                return
            if trouble:
                self.tell(trouble)
                return
            now.supplied_look = found[0]
            if found[1] is not None and now.look is look:
                now.look = found[1]
            if found[2] is not None and now.proof is proof and proof is not None:
                now.proof = replace(proof, laid=found[2])
            self._judge_again()
            self.changed.emit()

        self.queue.start("look", work, done)

    def look_at_conversion(self) -> None:
        """Measure what the conversion does to the colours of the fitting on the bench."""
        bench = self.bench
        if bench is None:
            return
        line, photo = bench.line, bench.photo
        key = (line.frame, line.colour, photo.facts.turn)
        if bench.conversion_for == key:
            return
        bench.conversion_for = key

        def done(found: Any, trouble: str) -> None:
            now = self.bench
            if now is None or now.photo is not photo or now.conversion_for != key:
                return
            now.conversion = None if trouble else found
            self.pictures.emit()
            self.changed.emit()

        self.queue.start("conversion", lambda late: conversion(photo, line, late), done)

    def told(self) -> Credit:
        """What the photo on the bench tells beside its pixels."""
        bench = self.bench
        if bench is None:
            return Credit()
        if bench.photo.path not in self._told:
            try:
                self._told[bench.photo.path] = credit_of(bench.photo.read())
            except PhotoError:
                return Credit()
        return self._told[bench.photo.path]

    def wants_other_size(self) -> str:
        """Whether conforming will take another allowed size for the byte limits' sake:
        ``smaller``, ``larger`` or an empty text."""
        bench = self.bench
        if bench is None or bench.draft is None or not bench.draft_is_current:
            return ""
        by_hand = bench.fitting.settings.frame.output is not None
        return room.wanted(bench.brief, bench.line, bench.draft, by_hand)

    def look_at_curve(self) -> None:
        """Measure bytes and likeness against quality for the picture on the bench."""
        bench = self.bench
        if bench is None or not bench.draft_is_current or bench.picture is None:
            return
        file = bench.line.file
        if not has_curve(file, bench.line.colour.bits):
            bench.curve = None
            return
        key = bench.draft_for
        if bench.curve_for == key:
            return
        bench.curve_for = key
        picture, made, photo = bench.picture, bench.draft, bench.photo

        def done(found: Any, trouble: str) -> None:
            now = self.bench
            if now is None or now.photo is not photo or now.curve_for != key:
                return
            now.curve = None if trouble else found
            self.changed.emit()

        self.queue.start("curve", lambda late: curve(picture, file, made, late), done)

    def look_at_loss(self) -> None:
        """Make what the encoded picture is compared with."""
        bench = self.bench
        if bench is None or not bench.draft_is_current or bench.picture is None:
            return
        after, picture, screen = bench.fitted, bench.picture, self.screen
        if bench.loss is not None and bench.loss.of is after:
            return

        def work(late: Callable[[], bool]) -> Loss:
            before = for_screen(picture, screen)
            return Loss(before, worst(before, after), after)

        def done(found: Any, trouble: str) -> None:
            now = self.bench
            if not trouble and now is not None and now.fitted is found.of:
                now.loss = found
                self.pictures.emit()

        self.queue.start("loss", work, done)

    def colour_at(self, at: tuple[float, float]) -> str | None:
        """The colour of the finished picture at a point of the photo, as ``#RRGGBB``."""
        bench = self.bench
        if bench is None or bench.picture is None:
            return None
        frame, picture = bench.line.frame, bench.picture
        x, y = swung(at, frame.angle, bench.line.source.shown)
        wide, high = picture.size
        px = int((x - frame.window.left) / frame.window.width * wide)
        py = int((y - frame.window.top) / frame.window.height * high)
        if not (0 <= px < wide and 0 <= py < high):
            return None
        part = picture.colour[max(0, py - 1) : py + 2, max(0, px - 1) : px + 2]
        middle = np.median(part.reshape(-1, part.shape[2]), axis=0)
        return as_hex(middle.astype(picture.pixels.dtype), picture.icc)

    def use_screen(self, icc: bytes | None) -> None:
        """Show pictures in the screen's own profile; ``None``: as sRGB."""
        if icc == self.screen:
            return
        self.screen = icc
        bench = self.bench
        if bench is not None:
            bench.preview = bench.detail = None
            bench.draft = None
            self._load_preview()
            self._settle.start()

    def _look_for_people(self) -> None:
        bench = self.bench
        if bench is None:
            return
        if not bench.wants_people or _seen(bench.photo) in self._faces:
            self.look_for_mask()
            if bench.supplied_look is None:
                self._look_again()
            return
        photo = bench.photo

        def done(people: Any, trouble: str) -> None:
            if trouble:
                self.tell(trouble)
                return
            self._faces[_seen(photo)] = people.faces
            self._things[_seen(photo)] = people.thing
            if self.bench is not None and self.bench.photo is photo:
                self._judge_again()
                self.changed.emit()
                self.look_for_mask()
                self._look_again()

        self.queue.start("people", lambda late: people_in(photo, cancelled=late), done)

    def _judge_again(self) -> None:
        """Judge everything on the bench anew, for the marks are others now."""
        bench = self.bench
        if bench is None:
            return
        answers = bench.fitting.confirmed()
        self._judge_supplied()
        self._refresh()
        if bench.proof is not None:
            proof = replace(bench.proof, people=self.people())
            bench.proof = named(proof, bench.brief, proof.suggested, answers)

    def _judge_supplied(self) -> None:
        bench = self.bench
        assert bench is not None
        see = self._see_people(bench.photo, bench.hand)
        look = bench.supplied_look
        held = (lambda: look) if look is not None else None
        reading = of_supplied(bench.photo, see, held)
        bench.supplied = judge(reading, bench.brief, bench.fitting.confirmed())

    def set_marks(self, hand: HandMarks, label: str, merge: str = "") -> None:
        """Set the marks of the photo on the bench; they serve all of its fittings."""
        bench = self.bench
        if bench is None:
            return
        docket = self.docket.with_marks(bench.fitting.photo, hand)
        if self.history.do(label, docket, merge):
            self._follow()

    def move_mark(self, name: str, point: tuple[float, float]) -> None:
        bench = self.bench
        if bench is not None:
            spot = (round(point[0], 2), round(point[1], 2))
            hand = bench.hand.model_copy(update={name: spot})
            self.set_marks(hand, t("Move a mark"), f"mark-{name}")

    def turn_photo(self, code: int) -> None:
        """Turn the photo on the bench, its marks and its frames with it; ``code`` as EXIF
        counts."""
        bench = self.bench
        if bench is None:
            return
        names = {RIGHT: t("Turn to the right"), LEFT: t("Turn to the left"), MIRROR: t("Mirror")}
        size = bench.line.source.shown
        docket = self.docket.turned(bench.fitting.photo, code, size)
        if self.history.do(names.get(code, t("Turn the photo")), docket):
            self._follow()

    def choose_face(self, index: int) -> None:
        """Say which of several faces is meant."""
        if self.bench is not None:
            hand = self.bench.hand.model_copy(update={"face": index})
            self.set_marks(hand, t("Choose a face"))

    def marks_by_hand(self) -> None:
        """Put all marks where a head would be in the frame, to be dragged into place."""
        bench = self.bench
        if bench is None:
            return
        w = bench.line.frame.window
        pw, ph = bench.line.source.shown

        def at(x: float, y: float) -> tuple[float, float]:
            px, py = w.left + w.width * x, w.top + w.height * y
            return round(min(max(px, 0.0), pw), 1), round(min(max(py, 0.0), ph), 1)

        hand = bench.hand.model_copy(
            update={
                "crown": at(0.5, 0.12),
                "chin": at(0.5, 0.78),
                "left_eye": at(0.39, 0.43),
                "right_eye": at(0.61, 0.43),
            }
        )
        self.set_marks(hand, t("Set marks by hand"))

    def straighten(self, angle: float, merge: str = "") -> None:
        """Straighten the photo by an angle in degrees, clockwise."""
        held = round(min(max(angle, -45.0), 45.0), 2)
        self.set({"frame.angle": held}, t("Straighten"), merge)

    def level_eyes(self) -> None:
        """Straighten by the line through the eyes."""
        marks = self.marks()
        if marks is None:
            self.tell(t("There are no eyes to go by: no single face is marked."), "note")
            return
        self.straighten(-marks.tilt)

    def other_way_up(self) -> None:
        """The same frame upright instead of landscape, or the reverse, where the brief leaves
        it open."""
        bench = self.bench
        if bench is None:
            return
        frame = bench.line.frame
        wanted = 1 / frame.shape
        near = allowed(bench.brief).shape_for(wanted)
        if wanted == 1 or near is None or near[0] != wanted:
            self.tell(
                t("The brief leaves no other way up: {shape}.", shape=show_aspect(frame.shape)),
                "note",
            )
            return
        pw, ph = bench.line.source.shown
        window = frame.window
        width, height = window.height, window.width
        factor = min(1.0, pw / width, ph / height)
        width, height = width * factor, height * factor
        cx, cy = window.centre
        made = Window(cx - width / 2, cy - height / 2, width, height).held_in(pw, ph)
        self.set({"frame.window": made.text(), "frame.output": None}, t("The other way up"))

    def frame_from_marks(self) -> None:
        """Lay the frame as the clauses on the head ask, or say why that cannot be."""
        bench = self.bench
        if bench is None:
            return
        people = self.people()
        if people is None:
            self.tell(t("The face is still being looked for."), "note")
            return
        try:
            people.marks()
        except NoMarks as error:
            self.tell(str(error))
            return
        made = framed_by_marks(bench.photo, bench.brief, bench.fitting.settings, people)
        if made == bench.fitting.settings:
            return
        changed = bench.fitting.model_copy(update={"settings": made})
        self._take(changed, t("Frame from marks"))

    def carry(self, photo_ids: list[str], way: Way) -> None:
        """Carry the frame on the bench to other photos of the docket, each with a fitting for
        the same brief; one step to undo, and what does not fit is listed with its reason."""
        bench = self.bench
        if bench is None or not photo_ids:
            return
        window, source = bench.line.frame.window, bench.line.source.shown
        brief, brief_name, base = bench.brief, bench.fitting.brief, bench.fitting.settings
        entries = [self.docket.photo(photo_id) for photo_id in photo_ids]
        known = dict(self._faces)
        self.working.emit(t("Carrying the frame …"))

        def work(late: Callable[[], bool]) -> dict[str, tuple[Any, str, Any]]:
            found: dict[str, tuple[Any, str, Any]] = {}
            for n, entry in enumerate(entries, start=1):
                if late():
                    break
                self.counted.emit(n, len(entries))
                faces = known.get((entry.path, entry.turn))
                try:
                    photo = open_photo(entry.path)
                    photo = Photo(photo.path, photo.facts.turned_by(entry.turn))
                    people = None
                    if way == "marks":
                        if faces is None:
                            faces = people_in(photo, cancelled=late).faces
                        people = People(faces, entry.marks)
                    made = carried(window, source, photo.facts.size, way, brief, people)
                    found[entry.id] = (made, "", faces)
                except (PhotoError, CannotCarry) as error:
                    found[entry.id] = (None, str(error), faces)
            return found

        def done(found: Any, trouble: str) -> None:
            if trouble:
                self.tell(trouble)
                return
            docket, troubles, count = self.docket, [], 0
            for entry in entries:
                made, why, faces = found.get(entry.id, (None, t("it was not reached"), None))
                if faces is not None:
                    self._faces[(entry.path, entry.turn)] = faces
                if made is None:
                    troubles.append(f"{Path(entry.path).name}: {why}.")
                    continue
                docket, fitting_id = docket.with_fitting(entry.id, brief_name)
                settings = base.having({"frame.window": made.text()})
                fitting = docket.fitting(fitting_id).model_copy(update={"settings": settings})
                docket, count = docket.replacing(fitting), count + 1
            self.history.do(t("Carry the frame"), docket)
            self._follow()
            said = t("Carried to 1 photo.") if count == 1 else t("Carried to {n} photos.", n=count)
            if troubles:
                said += "\n" + t("Not to:") + " " + " ".join(troubles)
            self.tell(said, "trouble" if troubles else "done")

        self.queue.start("carry", work, done)

    def _load_preview(self) -> None:
        bench = self.bench
        if bench is None:
            return
        photo, screen = bench.photo, self.screen

        def done(picture: Any, trouble: str) -> None:
            if trouble:
                if self.bench is not None:
                    self.bench.trouble = trouble
                self.tell(trouble)
            elif self.bench is not None and self.bench.photo is photo:
                self.bench.preview = picture
                self._look_for_people()  # after the first picture, which a person waits for
            self.pictures.emit()

        self.queue.start(
            "preview",
            lambda late: for_screen(
                shown_on(photo, PREVIEW, cancelled=late, screen=screen), screen
            ),
            done,
        )

    def load_detail(self, window: Window, longest: int) -> None:
        """Make a sharper picture of a part of the photo, for a close look as supplied."""
        bench = self.bench
        if bench is None:
            return
        photo, screen = bench.photo, self.screen

        def done(picture: Any, trouble: str) -> None:
            if not trouble and self.bench is not None and self.bench.photo is photo:
                self.bench.detail = (window, picture)
                self.pictures.emit()

        self.queue.start(
            "detail",
            lambda late: for_screen(shown_on(photo, longest, window, late, screen), screen),
            done,
        )

    # -- changes -----------------------------------------------------------------------------

    def set(self, changes: Mapping[str, object], label: str, merge: str = "") -> str:
        """Change settings of the fitting on the bench; returns a sentence where one is not
        possible, else an empty text."""
        if self.bench is None:
            return ""
        try:
            settings = self.bench.fitting.settings.having(changes)
        except SettingError as error:
            return str(error)
        fitting = self.bench.fitting.model_copy(update={"settings": settings})
        self._take(fitting, label, merge)
        return ""

    def _take(self, fitting: Fitting, label: str, merge: str = "") -> None:
        if self.history.do(label, self.docket.replacing(fitting), merge):
            self._follow()

    def settle(self) -> None:
        """A drag has ended: the next change is a step of its own."""
        self.history.settle()

    def undo(self) -> None:
        if self.history.undo():
            self._follow()

    def redo(self) -> None:
        if self.history.redo():
            self._follow()

    def _follow(self) -> None:
        """Bring the bench in line with the docket."""
        bench = self.bench
        if bench is not None:
            known = {fitting.id: fitting for fitting in self.docket.fittings}
            fitting = known.get(bench.fitting.id)
            if fitting is None:
                self.bench = None
                self.queue.cancel("draft")
                self.queue.cancel("proof")
                self.opened.emit()
            else:
                remade = fitting.settings != bench.fitting.settings
                try:
                    other = self.find(fitting.brief)[1] != bench.brief
                except BriefNotFound:
                    other = False
                if other or self.docket.photo(fitting.photo).turn != bench.photo.facts.turn:
                    bench.fitting = fitting
                    self._relay()
                    self.changed.emit()
                    return
                bench.fitting = fitting
                hand = self.docket.photo(fitting.photo).marks
                if hand != bench.hand:
                    brushed = hand.strokes != bench.hand.strokes
                    bench.hand = hand
                    self._judge_again()
                    if brushed:
                        self._look_again()
                        self.pictures.emit()
                        remade = remade or bench.line.finish.needs_mask
                if remade:
                    bench.proof = None
                    bench.written = None
                    self.queue.cancel("proof")
                    self._settle.start()
                self._refresh()
        self.changed.emit()

    def _refresh(self) -> None:
        bench = self.bench
        assert bench is not None
        answers = bench.fitting.confirmed()
        bench.line = resolve(bench.photo.facts, bench.brief, bench.fitting.settings)
        size, estimated = self.expected_bytes()
        see = self._see_people(bench.photo, bench.hand)
        look = bench.look
        reading = live_reading(
            bench.photo.facts, bench.line, size, estimated, see,
            (lambda: look) if look is not None else None, not bench.draft_is_current,
        )  # fmt: skip
        bench.live = judge(reading, bench.brief, answers)
        if answers != bench.judged_with:
            bench.judged_with = answers
            self._judge_supplied()
            if bench.proof is not None:
                bench.proof = named(bench.proof, bench.brief, bench.proof.suggested, answers)

    def expected_bytes(self) -> tuple[int, bool]:
        """The bytes to expect, and whether that is an estimate: a draft's are the real count."""
        bench = self.bench
        assert bench is not None
        if bench.draft_is_current and bench.draft is not None:
            return len(bench.draft.data), False
        file = bench.line.file
        w, h = bench.line.frame.output
        guess = budget.reckoned(w * h, file.quality, file.at_least, file.at_most)
        return guess, True

    def confirm(self, clause_id: str, yes: bool | None) -> None:
        """Record a person's answer to an ``ask`` clause, that it is so or is not so; ``None``
        takes an answer back."""
        if self.bench is None:
            return
        fitting = self.bench.fitting
        answers = tuple(a for a in fitting.answers if a.clause != clause_id)
        if yes is not None:
            now = datetime.now().astimezone().isoformat(timespec="minutes")
            of = picture_of(self.bench.line)
            answers = (*answers, Answer(clause=clause_id, by=person(), at=now, met=yes, of=of))
        label = t("Take back") if yes is None else t("Confirm") if yes else t("Say no")
        self._take(fitting.model_copy(update={"answers": answers}), label)

    def before(self) -> list[Answer]:
        """The answers to the bench's questions that were given before the picture changed."""
        bench = self.bench
        if bench is None:
            return []
        asked = {f.clause.id for f in bench.live.findings if f.verdict == "asks"}
        return [answer for answer in bench.fitting.answers if answer.clause in asked]

    def confirm_again(self) -> None:
        """Say of the picture as it is now what was said of it before it changed."""
        again = {answer.clause: answer for answer in self.before()}
        if self.bench is None or not again:
            return
        fitting, of = self.bench.fitting, picture_of(self.bench.line)
        now = datetime.now().astimezone().isoformat(timespec="minutes")
        new = {"by": person(), "at": now, "of": of}
        answers = tuple(
            a.model_copy(update=new) if a.clause in again else a for a in fitting.answers
        )
        self._take(fitting.model_copy(update={"answers": answers}), t("Confirm"))

    # -- making ----------------------------------------------------------------------------

    def _make_draft(self) -> None:
        bench = self.bench
        if bench is None or bench.draft_is_current:
            return
        photo, line, brief = bench.photo, bench.line, bench.brief
        made_from, screen, people = bench.made_from, self.screen, self.people()
        see, learnt = self._mask_seer(photo, bench.hand, people)
        self.queue.cancel("draft")

        def work(late: Any) -> tuple[Picture, Any, Made, Look, Any]:
            picture = render(photo, line, see_mask=see, cancelled=late)
            told = laid(photo.facts, line, picture, see)
            look = Look(picture, told.see_cover, told.rim, told.lettering)
            if looks_at_pixels(brief):
                judge(live_reading(photo.facts, line, see_look=lambda: look), brief)
            made = make(picture, line.file, credit_of(photo.read()))
            grey = plain(photo, line, cancelled=late).pixels if line.colour.bits == 1 else None
            # What is shown is what the bytes hold, palette, loss and all.
            written = pixels_of(made.data, facts_of_bytes(made.data, "draft"))
            return picture, for_screen(written, screen), made, look, grey

        def done(result: Any, trouble: str) -> None:
            now = self.bench
            self._masks.update(learnt)
            if now is None or now.photo is not photo or now.made_from != made_from:
                return
            if trouble:
                now.trouble = trouble
                self.tell(trouble)
                return
            now.picture, now.fitted, now.draft, now.look, now.grey = result
            now.draft_for = made_from
            self._refresh()
            self.pictures.emit()
            self.changed.emit()

        self.queue.start("draft", work, done)

    def conform(self) -> None:
        """Apply every mend that can be computed, make the file, and judge its bytes."""
        bench = self.bench
        if bench is None:
            return
        for _round in range(2):  # a frame is laid anew once the photo has been straightened
            changes: dict[str, object] = {}
            for finding in bench.live.findings:
                if finding.mend is not None and finding.mend.changes:
                    changes.update(finding.mend.changes)
            if changes:
                self.set(changes, t("Conform to brief"), "conform")
        self.prove(may_resize=True)

    def prove(self, may_resize: bool = False) -> None:
        """Make the file as it is set, in memory, and judge its bytes; where it ``may_resize`` and
        the byte limits ask for it, at another allowed size, which then is set."""
        bench = self.bench
        if bench is None:
            return
        photo, brief, line = bench.photo, bench.brief, bench.line
        made_from, answers = bench.made_from, bench.fitting.confirmed()
        see, learnt = self._mask_seer(photo, bench.hand, self.people())
        settings = bench.fitting.settings
        ready = bench.picture if bench.draft_is_current else None
        people = self.people()
        self.working.emit(t("Making the file …"))

        def work(late: Any) -> Proof:
            if ready is not None and not may_resize:
                return prove(photo, brief, line, ready, answers, people, see)
            if ready is not None:
                return fitted_in(photo, brief, settings, line, ready, answers, people, see, late)
            return conform(
                photo, brief, settings, answers, late, people, see_mask=see, may_resize=may_resize
            )

        def done(proof: Any, trouble: str) -> None:
            now = self.bench
            self._masks.update(learnt)
            if trouble:
                self._write_after = None
                self.tell(trouble)
                return
            if now is None or now.photo is not photo or now.made_from != made_from:
                return
            if proof.resized is not None:
                self.set({"frame.output": proof.resized}, t("Conform to brief"), "conform")
            self.settle()
            now.proof = named(proof, brief, proof.suggested, now.fitting.confirmed())
            if proof.resized is None:
                now.draft, now.draft_for = proof.made, made_from
            self._refresh()
            self.changed.emit()
            self.proved.emit()
            if self._write_after is not None:
                (target, replace), self._write_after = self._write_after, None
                self.write(target, replace)

        self.queue.start("proof", work, done)

    def cancel_work(self) -> None:
        self._write_after = None
        for kind in ("proof", "carry", "docket report", "take in", "audit", "hand over"):
            self.queue.cancel(kind)
        self._stop_batch = True
        self.working.emit("")

    def write(self, target: Path, replace: bool = False) -> None:
        """Write the proved file; where there is none yet, make it first."""
        bench = self.bench
        if bench is None:
            return
        if bench.proof is None:
            self._write_after = (target, replace)
            self.prove()
            return
        supplied = [entry.path for entry in self.docket.photos]
        try:
            path = write(
                bench.proof.made.data,
                target,
                supplied,
                replace=replace,
                counted=bench.line.file.counted,
            )
        except WriteError as error:
            self.tell(str(error))
            return
        bench.written = path
        bench.proof = named(bench.proof, bench.brief, path.name, bench.fitting.confirmed())
        self.tell(t("Written: {path}", path=path), "done")
        self.changed.emit()

    def file_to_hand(self) -> Path | None:
        """The proved file on disk: where it was written, else a copy in the cache under its own
        name, for other programs to take."""
        bench = self.bench
        if bench is None or bench.proof is None:
            return None
        data = bench.proof.made.data
        if bench.written is not None:
            try:
                if bench.written.read_bytes() == data:
                    return bench.written
            except OSError:
                pass  # moved or deleted since: the copy serves
        try:
            return handed.copy_of(data, bench.proof.suggested)
        except OSError as error:
            self.tell(t("The file cannot be laid out for other programs: {why}.",
                        why=(error.strerror or str(error)).lower()))  # fmt: skip
            return None

    # -- the report -------------------------------------------------------------------------

    def write_report(self, target: Path) -> None:
        """Write the conformity report of the proved file on the bench."""
        bench = self.bench
        if bench is None or bench.proof is None:
            return
        photo, book, brief, proof = bench.photo, bench.book, bench.brief, bench.proof
        answers, title = bench.fitting.confirmed(), self.docket.title or photo.name
        supplied = [entry.path for entry in self.docket.photos]

        def work(late: Callable[[], bool]) -> str:
            entry = entry_of(photo, book, brief, proof, answers)
            report = Report(title, (entry,), datetime.now().astimezone())
            return str(write_report(report, target, supplied))

        self._report("report", work)

    def write_docket_report(self, target: Path) -> None:
        """Conform every fitting in memory and write the report of all; nothing in the docket is
        changed, and what cannot be made is named."""
        docket, shelf = self.docket, self.shelf
        supplied = [entry.path for entry in docket.photos]
        title = docket.title or t("Untitled docket")
        self.working.emit(t("Proving every fitting …"))

        def work(late: Callable[[], bool]) -> str:
            found = gather(docket, lambda name: find(docket, shelf, name),
                           self.counted.emit, late)  # fmt: skip
            report = Report(title, found.entries, datetime.now().astimezone())
            path = str(write_report(report, target, supplied))
            return "\n".join((path, *found.left_out))

        self._report("docket report", work)

    def _report(self, kind: str, work: Callable[[Callable[[], bool]], str]) -> None:
        def done(found: Any, trouble: str) -> None:
            self.working.emit("")
            if trouble:
                self.tell(trouble)
                return
            path, *left_out = found.split("\n")
            said = t("Report written: {path}", path=path)
            if left_out:
                said += " " + t("Not in it: {what}", what="; ".join(left_out))
            self.tell(said, "trouble" if left_out else "done")

        self.queue.start(kind, work, done)

    # -- what is open, against a crash ---------------------------------------------------------

    def keep(self) -> None:
        """Write down what is open, beside the interface, or forget it where all is saved."""
        keeper = self.keeper
        if keeper is None:
            return
        self._keep_soon.stop()
        docket, path = self.docket, self.path
        if docket == self.saved or not (docket.photos or docket.audit):
            self.queue.cancel("keep")
            keeper.forget()
            return
        fitting = self.bench.fitting.id if self.bench is not None else ""

        def done(_nothing: Any, trouble: str) -> None:
            if trouble:
                self.tell(t("What is open could not be written down: {why}", why=trouble))

        self.queue.start("keep", lambda late: keeper.keep(docket, path, fitting), done)

    def recover(self) -> bool:
        """Open again what was open when the application was last killed."""
        left = recovery.left_behind()
        if not left:
            return False
        first = left[0]
        self.history = History(first.docket)
        self.path, self.saved, self.bench = first.path, None, None
        if first.path is not None:
            with contextlib.suppress(store.DocketError):
                self.saved = store.load(first.path)
        self.changed.emit()
        known = [fitting.id for fitting in first.docket.fittings]
        if known:
            self.lay(first.fitting if first.fitting in known else known[0])
        said = t(
            "Aptandum was closed without warning. “{name}” is open as it was.",
            name=first.docket.title or t("Untitled docket"),
        )
        if len(left) > 1:
            said += " " + t("{n} more will be offered at the next start.", n=len(left) - 1)
        self.tell(said, "note")
        if self.keeper is not None:  # written anew under our own name before the old one goes
            self.keeper.keep(self.docket, self.path, first.fitting)
        first.file.unlink(missing_ok=True)
        return True

    # -- the docket's own file ---------------------------------------------------------------

    def load(self, path: Path, keep_path: bool = True) -> bool:
        try:
            docket = store.load(path)
        except store.DocketError as error:
            self.tell(str(error))
            return False
        self.saved = docket
        docket = self._find_moved(docket, path)
        self.history = History(docket)
        self.path = path if keep_path else None
        self._compare_digests()
        self.bench = None
        # Looking through a large docket for rings of objects would hold the interface for as long
        # as four frames, every now and then; it holds none.
        gc.unfreeze()
        gc.freeze()
        if keep_path:
            recovery.remember(path)
        self.changed.emit()
        if docket.fittings:
            return self.lay(docket.fittings[0].id)
        return True

    def save(self, path: Path) -> bool:
        docket = self.docket
        if not self.path and docket.title == t("Untitled docket"):
            docket = docket.model_copy(update={"title": path.stem})
            self.history.docket = docket
        try:
            store.save(docket.with_digests(self._digests), path)
        except store.DocketError as error:
            self.tell(str(error))
            return False
        self.path, self.saved, self.saved_at = path, docket, datetime.now()
        recovery.remember(path)
        self.changed.emit()
        return True


_MANY = 12
"""Files from which on processes of their own are worth starting."""


def _workers(jobs: int) -> tuple[Executor, int]:
    """Who makes so many files: a few are made by two threads; more by a process for each core, of
    low rank, so that the interface keeps its time."""
    cores = min(os.cpu_count() or 1, 8)
    if jobs < _MANY or cores < 2:
        return ThreadPoolExecutor(2), 2
    made = ProcessPoolExecutor(cores, get_context("spawn"), initializer=behind_others)
    return made, cores


def _seen(photo: Photo) -> tuple[str, int]:
    """What faces are remembered by: the file, and which way up it was looked at."""
    return photo.path, photo.facts.turn


def _no_mask(why: str) -> Callable[[], Mask]:
    def see() -> Mask:
        raise NoMask(why)

    return see


def person() -> str:
    """Who answers: the name that a person has given, else that of the account."""
    given = preferences.person()
    if given:
        return given
    try:
        return getpass.getuser()
    except (KeyError, OSError):
        return t("someone")
