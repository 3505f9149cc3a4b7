"""What is done with many photos and fittings at once."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from contextlib import suppress
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from aptandum.core import workers
from aptandum.core.docket.batch import Job, Outcome, make_one, outcome_lost, photo_of, run
from aptandum.core.docket.found import AT_ONCE, photos_in, usable
from aptandum.core.docket.model import Docket, Fitting
from aptandum.core.errors import AptandumError
from aptandum.core.fitting.carry import carried
from aptandum.core.fitting.following import followed
from aptandum.core.fitting.plan import Window
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.marks import NoMarks
from aptandum.core.rulebook.shelf import BriefNotFound
from aptandum.ui.jobs import Jobs, Progress
from aptandum.ui.session.docket_store import DocketStore
from aptandum.ui.session.library import Library
from aptandum.ui.session.photo_store import PhotoStore
from aptandum.ui.strings import sentences, t, t_n

_AT_ONCE = 12
"""Fittings up to which a frame is copied at once; reading more headers takes a while."""


class Many(QObject):
    """What is done with many fittings at once.

    Signals:
        outcome: a fitting has been conformed, or could not be (given: an ``Outcome``).
    """

    outcome = pyqtSignal(object)

    def __init__(
        self,
        store: DocketStore,
        library: Library,
        photos: PhotoStore,
        jobs: Jobs,
        tell: Callable[..., None],
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._store, self._library, self._photos = store, library, photos
        self._jobs, self._tell = jobs, tell

    def take_in(self, paths: list[str], deep: bool = True, brief: str = "") -> None:
        """Take many photos into the docket, with those of folders; what cannot be used is listed
        with its reason, and nothing is laid on the bench.

        Args:
            brief: it was chosen before they came: each of them begins a fitting to it.
        """

        def work(progress: Progress) -> tuple[list[str], list[str]]:
            good: list[str] = []
            bad: list[str] = []
            files = list(photos_in(paths, deep))
            for start in range(0, len(files), AT_ONCE):
                progress.check()
                some = files[start : start + AT_ONCE]
                for path, why in zip(some, usable(some), strict=True):
                    (bad if why else good).append(why or path)
                progress.count(start + len(some), len(files))
            return good, bad

        def done(found: tuple[list[str], list[str]]) -> None:
            before = self._store.docket
            known = {entry.path for entry in before.photos}
            good, bad = [path for path in found[0] if path not in known], found[1]
            n = len(good)
            label = t_n("Add {n} photo", "Add {n} photos", n)
            docket = before.with_photos(good) if good else before
            if brief:
                usable_ones = set(found[0])
                docket = self._fitted(
                    docket,
                    [(entry.id, brief) for entry in docket.photos if entry.path in usable_ones],
                )
            if docket is not before:
                self._store.do(label if good else self._started(before, docket), docket)
            if bad:
                self._list(t("Not taken in"), bad)
            elif docket is before:
                self._tell(t("No photo was found that is not here already."), "note")

        self._jobs.command(t("Looking at photos …"), work, done, lane="take in")

    def _list(self, what: str, sentences: list[str], most: int = 6) -> None:
        """Tell several sentences, the first few in full."""
        said = "\n".join(sentences[:most])
        more = len(sentences) - most
        if more > 0:
            said += "\n" + t("… and {n} more.", n=more)
        self._tell(t("{what}:\n{list}", what=what, list=said))

    def start_fittings(self, pairs: list[tuple[str, str]]) -> int:
        """Begin a fitting for each photo and brief that has none, as one step; how many."""
        before = self._store.docket
        docket = self._fitted(before, pairs)
        if docket is not before:
            self._store.do(self._started(before, docket), docket)
        return len(docket.fittings) - len(before.fittings)

    def _fitted(self, docket: Docket, pairs: list[tuple[str, str]]) -> Docket:
        """A docket with a fitting for each photo and brief that has none, and their rulebooks kept; the same one where there
        is nothing to begin, or a brief is not there, which is said."""
        try:
            found = {
                name: self._library.find(name) for name in dict.fromkeys(n for _photo, n in pairs)
            }
        except BriefNotFound as error:
            self._tell(str(error))
            return docket
        names = {name: f"{book.body.id}/{brief.id}" for name, (book, brief) in found.items()}
        made = docket.with_fittings([(photo, names[name]) for photo, name in pairs])
        if len(made.fittings) == len(docket.fittings):
            return docket
        kept = dict(made.rulebooks)
        for book, _brief in found.values():
            kept.setdefault(book.body.id, book.text)
        return made.model_copy(update={"rulebooks": kept})

    @staticmethod
    def _started(before: Docket, after: Docket) -> str:
        n = len(after.fittings) - len(before.fittings)
        return t_n("Start {n} fitting", "Start {n} fittings", n)

    def clear_fittings(self, ids: list[str]) -> None:
        """Take fittings away, as one step."""
        n = len(ids)
        label = t_n("Remove {n} fitting", "Remove {n} fittings", n)
        if ids:
            self._store.do(label, self._store.docket.without_fittings(ids))

    def copy_fitting(self, source: str, pairs: list[tuple[str, str]]) -> int:
        """Give a fitting's settings to others, which are begun where they are not there yet; as one
        step. Its frame goes along where it can, and where it cannot it is said. How many there are;
        many are copied beside the interface."""
        given = self._store.docket.fitting(source)
        docket = self._store.docket.with_fittings(pairs)
        wanted = set(pairs)
        others = [f for f in docket.fittings if (f.photo, f.brief) in wanted and f.id != source]
        frames = {other.id: partial(self._frame_for, given, other) for other in others}

        def kept(found: dict[str, tuple[Window | None, str]]) -> None:
            made: dict[str, Settings] = {}
            for other in others:
                window, why = found[other.id]
                settings = given.settings
                if why:
                    settings = settings.model_copy(update={"frame": other.settings.frame})
                elif window is not None:
                    settings = settings.having({"frame.window": window.text()})
                made[other.id] = settings
            now = self._store.docket.with_fittings(pairs).with_settings(made)
            if made:
                self._store.do(t("Copy a fitting to {n}", n=len(made)), now)
            apart = [why for _window, why in found.values() if why]
            if apart:
                self._list(t("Copied without the frame"), apart)

        if given.settings.frame.window is None or len(others) <= _AT_ONCE:
            kept({name: find() for name, find in frames.items()})
            return len(others)

        def work(progress: Progress) -> dict[str, tuple[Window | None, str]]:
            found: dict[str, tuple[Window | None, str]] = {}
            for n, (name, find) in enumerate(frames.items(), start=1):
                progress.check()
                progress.count(n, len(frames))
                found[name] = find()
            return found

        self._jobs.command(t("Copying the fitting …"), work, kept, lane="copy")
        return len(others)

    def _frame_for(self, given: Fitting, other: Fitting) -> tuple[Window | None, str]:
        """A fitting's frame for another one, and a sentence where it cannot be taken along."""
        wanted = given.settings.frame.window
        if wanted is None:
            return None, ""
        docket = self._store.docket
        name = Path(docket.photo(other.photo).path).name
        try:
            source, target = (photo_of(docket.photo(f.photo)) for f in (given, other))
            brief = self._library.find(other.brief)[1]
            frame = Window(*wanted)
            if given.photo != other.photo:
                frame = carried(frame, source.facts.size, target.facts.size, "share", brief)
            people = self._photos.people_of(target, docket.photo(other.photo).marks)
            marks = None
            with suppress(NoMarks):
                marks = None if people is None else people.marks()
            made = followed(frame, brief, target.facts.size, marks)
        except AptandumError as error:
            return None, t("{photo}: {why}", photo=name, why=error)
        if made is None:
            return None, t("{photo}: {brief} leaves no size.", photo=name, brief=brief.title)
        return made, ""

    def conform_many(self, ids: list[str], folder: Path) -> None:
        """Conform fittings, write their files to a folder, and keep the settings that made them,
        as one step; what went wrong is listed at the end."""
        docket = self._store.docket
        jobs: list[Job] = []
        lost: list[str] = []
        for fitting_id in ids:
            fitting = docket.fitting(fitting_id)
            try:
                brief = self._library.find(fitting.brief)[1]
            except BriefNotFound as error:
                lost.append(str(error))
                continue
            jobs.append(Job(fitting, docket.photo(fitting.photo), brief, str(folder)))

        def work(progress: Progress) -> list[Outcome]:
            found: list[Outcome] = []
            pool = workers.shared()
            for outcome in run(jobs, pool, pool.most, progress, make_one, outcome_lost):
                found.append(outcome)
                self._jobs.post(partial(self.outcome.emit, outcome))
                progress.count(len(found), len(jobs))
            return found

        def done(found: list[Outcome]) -> None:
            before = {job.fitting.id: job.fitting.settings for job in jobs}
            self._conformed(found, lost, before, folder)

        self._jobs.command(t("Conforming …"), work, done, lane="conform")

    def keep_settings(self, settings: Mapping[str, Settings]) -> None:
        """Keep the settings by which fittings' files were made, as one step."""
        known = {f.id: f.settings for f in self._store.docket.fittings}
        changed = {i: s for i, s in settings.items() if i in known and known[i] != s}
        n = len(settings)
        label = t_n("Conform {n} fitting", "Conform {n} fittings", n)
        if changed:
            self._store.do(label, self._store.docket.with_settings(changed))

    def _conformed(
        self, found: list[Outcome], lost: list[str], before: dict[str, Settings], folder: Path
    ) -> None:
        asked = len(before)
        made = [outcome for outcome in found if outcome.cell is not None]
        # A fitting that a person has changed meanwhile keeps what they set.
        now = {f.id: f.settings for f in self._store.docket.fittings}
        same = [o for o in made if now.get(o.fitting) == before[o.fitting]]
        self.keep_settings({o.fitting: o.settings for o in same})
        for outcome in made:
            self.outcome.emit(outcome)
        ready = sum(outcome.ready for outcome in made)
        said = t(
            "{n} of {all} files written to {folder}; {ready} meet every rule that can be measured.",
            n=len(made),
            all=asked,
            folder=folder,
            ready=ready,
        )
        wrong = [*lost, *(o.trouble for o in found if o.trouble)]
        if len(found) < asked:
            said = sentences([said, t("Stopped before the other {n}.", n=asked - len(found))])
        if wrong:
            self._list(sentences([said, t("Not made")]), wrong)
        else:
            self._tell(said, "done")
