"""Making the file, proving it, writing it and handing it out."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from aptandum.core.conform import (
    Proof,
    as_it_came,
    conform,
    fitted_in,
    named,
    offering,
    prove,
)
from aptandum.core.file.write import WriteError, write
from aptandum.core.photo.sound import Damaged, asked
from aptandum.ui import finished_copies
from aptandum.ui.jobs import Jobs, Progress
from aptandum.ui.session.bench_model import BenchModel
from aptandum.ui.session.docket_store import DocketStore
from aptandum.ui.session.photo_store import PhotoStore
from aptandum.ui.strings import t


class Making(QObject):
    """What is done with the file of the fitting on the bench.

    Attributes:
        doubted: a file was asked for of a photo whose data are damaged; carries what is wrong with them, in a
            sentence. It is made once :meth:`use_damaged` is called.
    """

    doubted = pyqtSignal(str)

    def __init__(
        self,
        store: DocketStore,
        model: BenchModel,
        photos: PhotoStore,
        jobs: Jobs,
        tell: Callable[..., None],
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._store, self._model, self._photos = store, model, photos
        self._jobs, self._tell = jobs, tell
        self._waiting: Callable[[], None] | None = None
        model.remade.connect(lambda: jobs.cancel_lane("proof"))
        model.opened.connect(self._opened)

    def _opened(self) -> None:
        if self._model.bench is None:
            self._jobs.cancel_lane("proof")

    def conform(self) -> None:
        """Apply every mend that can be computed, make the file, and judge its bytes."""
        bench = self._model.bench
        if bench is None:
            return
        for _round in range(
            0 if bench.goes_out_as_it_is else 2
        ):  # a frame is laid anew once the photo has been straightened
            changes: dict[str, object] = {}
            for finding in bench.live.findings:
                if finding.mend is not None and finding.mend.changes:
                    changes.update(finding.mend.changes)
            if changes:
                self._model.set(changes, t("Conform to brief"), "conform")
        self.prove(may_resize=True)

    def prove(self, may_resize: bool = False, write_to: tuple[Path, bool] | None = None) -> None:
        """Make the file as it is set, in memory, and judge its bytes; where it ``may_resize`` and
        the byte limits ask for it, at another allowed size, which then is set.

        Args:
            write_to: where the file is written once it is proved, and whether what is there is
                replaced.
        """
        bench = self._model.bench
        if bench is None:
            return
        photo, brief, line = bench.photo, bench.brief, bench.line
        made_from, answers = bench.made_from, bench.fitting.confirmed()
        see, learnt = self._photos.mask_seer(photo, bench.hand, self._model.people())
        settings = bench.fitting.settings
        ready = bench.picture if bench.draft_is_current else None
        people = self._model.people()

        def work(late: Progress) -> Proof | Damaged:
            try:
                with asked(photo, settings.source.damaged):
                    return made(late)
            except Damaged as error:
                return error

        def made(late: Progress) -> Proof:
            untouched = as_it_came(photo, brief, settings, answers, people, see)
            if untouched is not None:
                return untouched
            if ready is not None and not may_resize:
                proof = prove(photo, brief, line, ready, answers, people, see)
                return offering(proof, photo, see)
            if ready is not None:
                proof = fitted_in(photo, brief, settings, line, ready, answers, people, see, late)
                return offering(proof, photo, see)
            return conform(
                photo, brief, settings, answers, late, people, see_mask=see, may_resize=may_resize
            )

        def done(proof: Proof | Damaged) -> None:
            now = self._model.bench
            if isinstance(proof, Damaged):
                if now is not None and now.photo is photo:
                    self._waiting = lambda: self.prove(may_resize, write_to)
                    self.doubted.emit(proof.why)
                return
            self._photos.masks.update(learnt)
            if now is None or now.photo is not photo or now.made_from != made_from:
                self._tell(t("The fitting has changed meanwhile: the file was not made."), "note")
                return
            self._proved(proof)
            if write_to is not None:
                self.write(*write_to)

        self._jobs.cancel_lane("proof")  # the file of a fitting as it was before is of no use
        self._jobs.command(t("Making the file …"), work, done, lane="proof")

    def use_damaged(self) -> None:
        """Say that the photo on the bench is to be used although it is damaged, and make what was asked for."""
        again, self._waiting = self._waiting, None
        self._model.set({"source.damaged": True}, t("Use a damaged photo"))
        if again is not None:
            again()

    def _proved(self, proof: Proof) -> None:
        now = self._model.bench
        assert now is not None
        if proof.resized is not None:
            changes = {"frame.output": proof.resized}
            self._model.set(changes, t("Conform to brief"), "conform")
        self._store.settle()
        now.proof = named(proof, now.brief, proof.suggested, now.fitting.confirmed())
        if proof.resized is None:
            now.draft, now.draft_for = proof.made, now.made_from
        self._model.refresh()
        self._model.changed.emit()
        self._model.proved.emit()

    def write(self, target: Path, replace: bool = False) -> None:
        """Write the proved file; where there is none yet, make it first."""
        bench = self._model.bench
        if bench is None:
            return
        if bench.proof is None:
            self.prove(write_to=(target, replace))
            return
        supplied = [entry.path for entry in self._store.docket.photos]
        try:
            path = write(
                bench.proof.made.data,
                target,
                supplied,
                replace=replace,
                counted=bench.line.file.counted,
            )
        except WriteError as error:
            self._tell(str(error))
            return
        bench.written = path
        bench.proof = named(bench.proof, bench.brief, path.name, bench.fitting.confirmed())
        self._tell(t("Written: {path}", path=path), "done")
        self._model.changed.emit()

    def file_to_hand(self) -> Path | None:
        """The proved file on disk: where it was written, else a copy in the cache under its own
        name, for other programs to take."""
        bench = self._model.bench
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
            return finished_copies.copy_of(data, bench.proof.suggested)
        except OSError as error:
            self._tell(
                t(
                    "The file cannot be laid out for other programs: {why}.",
                    why=(error.strerror or str(error)).lower(),
                )
            )
            return None
