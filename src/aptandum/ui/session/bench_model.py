"""The fitting on the bench, and what follows from it; brought in line with the docket."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

from PyQt6.QtCore import QObject, pyqtSignal

from aptandum.core.docket.model import Docket, Fitting
from aptandum.core.fitting.settings import SettingError
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.marks import People
from aptandum.core.rulebook.shelf import BriefNotFound
from aptandum.ui.session import heart
from aptandum.ui.session.bench import Bench
from aptandum.ui.session.docket_store import Change, DocketStore
from aptandum.ui.session.library import Library
from aptandum.ui.session.photo_store import PhotoStore, seen_as
from aptandum.ui.strings import t


class BenchModel(QObject):
    """What lies on the bench.

    Signals:
        opened: another fitting lies there, or none does.
        changed: something that is shown of it is another now: settings, line, findings.
        pictures: one of its pictures is another now.
        laying: a fitting is about to be laid there.
        laid: a fitting has been laid there, whose pictures are still to be made.
        remade: what its picture is made from has changed.
        brushed: the strokes on its mask have changed.
        proved: its file has been made and judged.
    """

    opened = pyqtSignal()
    changed = pyqtSignal()
    pictures = pyqtSignal()
    laying = pyqtSignal()
    laid = pyqtSignal()
    remade = pyqtSignal()
    brushed = pyqtSignal()
    proved = pyqtSignal()

    def __init__(
        self,
        store: DocketStore,
        library: Library,
        photos: PhotoStore,
        tell: Callable[..., None],
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._store, self._library, self._photos, self._tell = store, library, photos, tell
        self.bench: Bench | None = None
        self.follow: Callable[[Docket, Fitting], Docket] = lambda docket, _fitting: docket
        store.changed.connect(self._follow)

    # -- changing it -----------------------------------------------------------------------------

    def set(self, changes: Mapping[str, object], label: str, merge: str = "") -> str:
        """Change settings of the fitting on the bench; returns a sentence where one is not
        possible, else an empty text."""
        if self.bench is None:
            return ""
        try:
            settings = self.bench.fitting.settings.having(changes)
        except SettingError as error:
            return str(error)
        self.take(self.bench.fitting.model_copy(update={"settings": settings}), label, merge)
        return ""

    def take(self, fitting: Fitting, label: str, merge: str = "") -> None:
        """Put a changed fitting in its place in the docket, as a step; where it shares its framing,
        the others' frames follow in the same step."""
        docket = self._store.docket.replacing(fitting)
        before = self.bench.fitting.settings.frame if self.bench is not None else None
        if fitting.linked and fitting.settings.frame != before:
            docket = self.follow(docket, fitting)
        self._store.do(label, docket, merge)

    # -- laying fittings on it -------------------------------------------------------------------

    def start_fitting(self, photo_id: str, brief_name: str) -> bool:
        """Begin (or go back to) the fitting of a photo to a brief and lay it on the bench."""
        try:
            book, brief = self._library.find(brief_name)
        except BriefNotFound as error:
            self._tell(str(error))
            return False
        name = f"{book.body.id}/{brief.id}"
        docket, fitting_id = self._store.docket.with_fitting(photo_id, name)
        if book.body.id not in docket.rulebooks:
            kept = {**docket.rulebooks, book.body.id: book.text}
            docket = docket.model_copy(update={"rulebooks": kept})
        self._store.do(t("Start {brief}", brief=brief.title), docket)
        return self.lay(fitting_id)

    def lay(self, fitting_id: str, show: bool = True) -> bool:
        """Lay a fitting on the bench; False where its photo or brief cannot be used."""
        fitting = self._store.docket.fitting(fitting_id)
        try:
            entry = self._store.docket.photo(fitting.photo)
            photo = self._photos.photo_of(fitting.photo)
            book, brief = self._library.find(fitting.brief)
        except (PhotoError, BriefNotFound) as error:
            self._tell(str(error))
            return False
        self.laying.emit()
        before = self.bench
        same = before is not None and seen_as(before.photo) == seen_as(photo)
        kept = before if same else None
        line = heart.resolve.resolve(photo.facts, brief, fitting.settings)
        # Another brief may ask what only a look at every pixel tells, which is no work for this thread.
        known = kept is not None and kept.brief == brief
        looked = kept.supplied_look if kept is not None and known else None
        held = (lambda: looked) if looked is not None else None
        see = self._photos.people_seer(photo, entry.marks)
        supplied = heart.findings.judge(
            heart.reading.of_supplied(photo, see, held), brief, fitting.confirmed()
        )
        live = heart.findings.judge(
            heart.live.live_reading(photo.facts, line), brief, fitting.confirmed()
        )
        bench = Bench(fitting, photo, book, brief, line, supplied, live)
        if kept is not None:
            bench.preview, bench.damage = kept.preview, kept.damage
        bench.hand, bench.supplied_look = entry.marks, looked
        bench.see_supplied = heart.reading.inside_of(photo)
        seen_cut_again = any(place.as_ == "banner" for place in brief.seen)
        bench.wants_people = heart.detection.asks_for_people(brief) or seen_cut_again
        bench.wants_marks = heart.detection.places_a_head(brief)
        self.bench = bench
        self.refresh()
        self.laid.emit()
        if show:
            self.opened.emit()
        return True

    def relay(self) -> None:
        """Lay the fitting on the bench anew, for its brief or its photo is another now."""
        before = self.bench
        if before is None:
            return
        self.bench = None
        if self.lay(before.fitting.id, show=False) and self.bench is not None:
            now: Bench = self.bench
            if now.preview is None and seen_as(now.photo) == seen_as(before.photo):
                now.preview, now.damage = before.preview, before.damage
            self.pictures.emit()
        self.changed.emit()

    def clear(self) -> None:
        """Nothing lies on the bench any more."""
        if self.bench is not None:
            self.bench = None
            self.opened.emit()

    # -- following the docket --------------------------------------------------------------------

    def _follow(self, change: Change) -> None:
        bench = self.bench
        if bench is None or not change.touches("fittings", "photos", "rulebooks"):
            return
        docket = change.now
        fitting = next((one for one in docket.fittings if one.id == bench.fitting.id), None)
        if fitting is None or fitting.photo != bench.fitting.photo:
            self.clear()
            return
        remade = fitting.settings != bench.fitting.settings
        bench.fitting = fitting
        if self._lies_otherwise(bench):
            self.relay()
            return
        brushed = False
        hand = docket.photo(fitting.photo).marks
        if hand != bench.hand:
            brushed = hand.strokes != bench.hand.strokes
            bench.hand = hand
            self.judge_again()
        if brushed:
            self.brushed.emit()
            remade = remade or bench.line.finish.needs_mask
        if remade:
            bench.proof, bench.written = None, None
            self.remade.emit()
        self.refresh()
        self.changed.emit()

    def _lies_otherwise(self, bench: Bench) -> bool:
        """Whether its brief or the way its photo is turned is another than it was laid with."""
        entry = self._store.docket.photo(bench.fitting.photo)
        if entry.turn != bench.photo.facts.turn or entry.path != bench.photo.path:
            return True
        try:
            return self._library.find(bench.fitting.brief)[1] != bench.brief
        except BriefNotFound:
            return False

    # -- what follows from it --------------------------------------------------------------------

    def people(self) -> People | None:
        """The people of the photo on the bench; ``None`` while they are looked for."""
        bench = self.bench
        return None if bench is None else self._photos.people_of(bench.photo, bench.hand)

    def expected_bytes(self) -> tuple[int, bool]:
        """The bytes to expect, and whether that is an estimate: a draft's are the real count."""
        bench = self.bench
        assert bench is not None
        if bench.draft_is_current and bench.draft is not None:
            return len(bench.draft.data), False
        file = bench.line.file
        w, h = bench.line.frame.output
        return heart.budget.reckoned(w * h, file.quality, file.at_least, file.at_most), True

    def refresh(self) -> None:
        """Work out line and live findings anew, each only where what it is made from has
        changed."""
        bench = self.bench
        assert bench is not None
        fitting, photo, brief = bench.fitting, bench.photo, bench.brief
        answers = fitting.confirmed()
        bench.line = bench.lines.of(
            (photo, brief, fitting.settings),
            lambda: heart.resolve.resolve(photo.facts, brief, fitting.settings),
        )
        if bench.goes_out_as_it_is and bench.untouched is not None:
            bench.line = bench.untouched
        size, estimated = self.expected_bytes()
        see, look = self._photos.people_seer(photo, bench.hand), bench.look
        reading = heart.live.live_reading(
            photo.facts,
            bench.line,
            size,
            estimated,
            see,
            (lambda: look) if look is not None else None,
            not bench.draft_is_current,
            bench.see_supplied,
        )
        fitted = heart.mending.Fitted(
            photo.facts,
            brief,
            fitting.settings,
            self.people(),
            known=bench.known_mends,
            see_supplied=bench.see_supplied,
        )
        bench.live = heart.mending.offered(heart.findings.judge(reading, brief, answers), fitted)
        if answers != bench.judged_with:
            bench.judged_with = answers
            self.judge_supplied()
            if bench.proof is not None:
                bench.proof = heart.conform.named(
                    bench.proof, brief, bench.proof.suggested, answers
                )

    def judge_again(self) -> None:
        """Judge everything on the bench anew, for the marks or the mask are others now."""
        bench = self.bench
        if bench is None:
            return
        self.judge_supplied()
        self.refresh()
        if bench.proof is not None:
            proof = replace(bench.proof, people=self.people())
            answers = bench.fitting.confirmed()
            bench.proof = heart.conform.named(proof, bench.brief, proof.suggested, answers)

    def judge_supplied(self) -> None:
        """Judge the photo as it was supplied, beside the fitted one."""
        bench = self.bench
        assert bench is not None
        look = bench.supplied_look
        held = (lambda: look) if look is not None else None
        see = self._photos.people_seer(bench.photo, bench.hand)
        reading = heart.reading.of_supplied(bench.photo, see, held)
        bench.supplied = heart.findings.judge(
            reading, bench.brief, bench.fitting.confirmed(), mends=False
        )
