"""Making the file, proving it, writing it and handing it out."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from aptandum.core.conform import Proof, conform, fitted_in, named, prove
from aptandum.core.file.make import Made, make
from aptandum.core.file.write import WriteError, write
from aptandum.core.fitting.line import live_reading
from aptandum.core.fitting.record import laid
from aptandum.core.fitting.render import for_screen, plain, render
from aptandum.core.fitting.standing import (
    looks_at_pixels,
)
from aptandum.core.judge.findings import judge
from aptandum.core.judge.look import Look
from aptandum.core.judge.reading import pixels_of
from aptandum.core.photo.facts import facts_of_bytes
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.told import credit_of
from aptandum.ui import handed
from aptandum.ui.session.base import Base
from aptandum.ui.strings import t


class Making(Base):
    """See the module."""

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
