"""Fittings of one photo that share their framing: one is framed, the others follow in the same step."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject

from aptandum.core.brief.model import Brief
from aptandum.core.docket.model import Docket, Fitting
from aptandum.core.fitting.following import followed
from aptandum.core.fitting.live import live_reading
from aptandum.core.fitting.plan import Line
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.frozen import frozen
from aptandum.core.judge.findings import Findings, judge
from aptandum.core.photo.facts import PhotoError
from aptandum.core.rulebook.shelf import BriefNotFound
from aptandum.ui.session.bench_model import BenchModel
from aptandum.ui.session.docket_store import DocketStore
from aptandum.ui.session.library import Library
from aptandum.ui.session.many import Many
from aptandum.ui.session.photo_store import PhotoStore
from aptandum.ui.strings import listed, t, t_n


@frozen
class Linked:
    """One of the fittings that share a framing: its plan, and how it would stand."""

    fitting: Fitting
    brief: Brief
    line: Line
    findings: Findings


class Linking(QObject):
    """Makes fittings share their framing, and keeps it shared."""

    def __init__(
        self,
        store: DocketStore,
        library: Library,
        photos: PhotoStore,
        model: BenchModel,
        many: Many,
        tell: Callable[..., None],
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._store, self._library, self._photos = store, library, photos
        self._model, self._many, self._tell = model, many, tell
        model.follow = self.follow

    def fit_all(self) -> int:
        """Begin fittings of the photo on the bench to every required brief of its body (to every one,
        where it requires no more than one), all framed as the one on the bench is; as one step. How
        many there are."""
        bench = self._model.bench
        if bench is None:
            return 0
        book = bench.book
        required = [brief for brief in book.briefs if not brief.optional]
        wanted = required if len(required) > 1 else book.briefs
        names = [f"{book.body.id}/{brief.id}" for brief in wanted]
        names += [bench.fitting.brief] if bench.fitting.brief not in names else []
        photo = bench.fitting.photo
        docket = self._store.docket.with_fittings([(photo, name) for name in names])
        linked = tuple(
            f.model_copy(update={"linked": True}) if f.photo == photo and f.brief in names else f
            for f in docket.fittings
        )
        docket = docket.model_copy(update={"fittings": linked})
        n = sum(f.photo == photo and f.brief in names for f in linked)
        label = t_n("Fit to {n} brief", "Fit to {n} briefs", n)
        self._store.do(label, self.follow(docket, docket.fitting(bench.fitting.id)))
        if n == 1:
            self._tell(t("This body has one brief; the photo is fitted to it."), "note")
        return n

    def part(self) -> None:
        """Let the fitting on the bench be framed by itself again."""
        bench = self._model.bench
        if bench is not None and bench.fitting.linked:
            alone = bench.fitting.model_copy(update={"linked": False})
            self._store.do(t("Frame it by itself"), self._store.docket.replacing(alone))

    def follow(self, docket: Docket, leader: Fitting) -> Docket:
        """The docket with the frames of all fittings that are linked to one laid after its own."""
        others = [
            f for f in docket.fittings
            if f.linked and f.photo == leader.photo and f.id != leader.id
        ]  # fmt: skip
        if not leader.linked or not others:
            return docket
        made: dict[str, Settings] = {}
        apart: list[str] = []
        try:
            photo = self._photos.photo_of(leader.photo)
            brief = self._library.find(leader.brief)[1]
            line = resolve(photo.facts, brief, leader.settings)
        except (PhotoError, BriefNotFound):
            return docket
        angle = line.frame.angle
        marks = self._photos.marks_of(leader.photo, angle)
        for other in others:
            try:
                theirs = self._library.find(other.brief)[1]
            except BriefNotFound:
                continue
            window = followed(line.frame.window, theirs, photo.facts.size, marks)
            if window is None:
                apart.append(theirs.title)
                continue
            changes: dict[str, object] = {"frame.window": window.text(), "frame.angle": angle}
            made[other.id] = other.settings.having(changes)
        if apart:
            self._tell(t("The frame does not fit {briefs}.", briefs=listed(apart)), "note")
        return docket.with_settings(made)

    def together(self) -> list[Linked]:
        """The fittings that share the framing of the one on the bench, with it, in their order;
        empty where it is by itself."""
        bench = self._model.bench
        if bench is None or not bench.fitting.linked:
            return []
        entry = self._store.docket.photo(bench.fitting.photo)
        see = self._photos.people_seer(bench.photo, entry.marks)
        found = []
        for fitting in self._store.docket.fittings:
            if not fitting.linked or fitting.photo != bench.fitting.photo:
                continue
            try:
                brief = self._library.find(fitting.brief)[1]
                line = resolve(bench.photo.facts, brief, fitting.settings)
            except (PhotoError, BriefNotFound):
                continue
            reading = live_reading(bench.photo.facts, line, see_people=see)
            found.append(Linked(fitting, brief, line, judge(reading, brief, mends=False)))
        return found if len(found) > 1 else []

    def write_all(self, folder: Path) -> None:
        """Make and write the files of all fittings that share the framing."""
        self._many.conform_many([one.fitting.id for one in self.together()], folder)
