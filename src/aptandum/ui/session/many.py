"""What is done with many photos and fittings at once."""

from __future__ import annotations

import contextlib
import os
from collections.abc import Callable, Mapping
from concurrent.futures import Executor, ProcessPoolExecutor, ThreadPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from multiprocessing import get_context
from pathlib import Path
from typing import Any

from aptandum.core.docket.batch import Job, Outcome, behind_others, make_one, run
from aptandum.core.docket.found import photos_in, usable
from aptandum.core.docket.model import Audited
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.facts import shown_name
from aptandum.core.rulebook.shelf import BriefNotFound
from aptandum.ui.session.base import Base
from aptandum.ui.strings import t

_MANY = 12
"""Files from which on processes of their own are worth starting."""


class Many(Base):
    """See the module."""

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


def _workers(jobs: int) -> tuple[Executor, int]:
    """Who makes so many files: a few are made by two threads; more by a process for each core, of
    low rank, so that the interface keeps its time."""
    cores = min(os.cpu_count() or 1, 8)
    if jobs < _MANY or cores < 2:
        return ThreadPoolExecutor(2), 2
    made = ProcessPoolExecutor(cores, get_context("spawn"), initializer=behind_others)
    return made, cores
