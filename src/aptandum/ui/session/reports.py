"""Conformity reports: of the file on the bench, and of every fitting of the docket."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject

from aptandum.core.atomic import write_atomic
from aptandum.core.docket.model import PrintedSheet
from aptandum.core.docket.moved import digest_of
from aptandum.core.docket.reported import gather
from aptandum.core.docket.takeover import find
from aptandum.core.report import Report, entry_of, write_report
from aptandum.ui.jobs import Jobs, Progress
from aptandum.ui.session.bench_model import BenchModel
from aptandum.ui.session.docket_store import DocketStore
from aptandum.ui.session.library import Library
from aptandum.ui.strings import semicolons, sentences, t

if TYPE_CHECKING:
    from aptandum.core.prints.draw import Pictured
    from aptandum.core.prints.layout import Sheet


class Reports(QObject):
    """Writes them beside the interface."""

    def __init__(
        self,
        store: DocketStore,
        library: Library,
        model: BenchModel,
        jobs: Jobs,
        tell: Callable[..., None],
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._store, self._library, self._model = store, library, model
        self._jobs, self._tell = jobs, tell

    def write_report(self, target: Path) -> None:
        """Write the conformity report of the proved file on the bench; who names the target has
        been asked whether what is there may be replaced."""
        bench = self._model.bench
        if bench is None or bench.proof is None:
            return
        photo, book, brief, proof = bench.photo, bench.book, bench.brief, bench.proof
        printed = bench.fitting.printed
        answers, title = bench.fitting.confirmed(), self._store.docket.title or photo.name
        supplied = [entry.path for entry in self._store.docket.photos]

        def work(_progress: Progress) -> tuple[str, ...]:
            entry = entry_of(photo, book, brief, proof, answers, printed=printed)
            report = Report(title, (entry,), datetime.now().astimezone())
            return (str(write_report(report, target, supplied, replace=True)),)

        self._write(t("Writing the report …"), work)

    def write_docket_report(self, target: Path) -> None:
        """Conform every fitting in memory and write the report of all; nothing in the docket is
        changed, and what cannot be made is named."""
        docket, shelf = self._store.docket, self._library.shelf
        supplied = [entry.path for entry in docket.photos]
        title = docket.title or t("Untitled docket")

        def work(progress: Progress) -> tuple[str, ...]:
            found = gather(docket, lambda name: find(docket, shelf, name), progress.count, progress)
            report = Report(title, found.entries, datetime.now().astimezone())
            path = str(write_report(report, target, supplied, replace=True))
            return (path, *found.left_out)

        self._write(t("Proving every fitting …"), work)

    def write_prints(
        self, target: Path, sheet: Sheet, picture: Pictured, kind: str, marks: bool
    ) -> None:
        """Write a sheet of prints of a finished file; who names the target has been asked whether what is there may
        be replaced."""
        supplied = [entry.path for entry in self._store.docket.photos]
        bench = self._model.bench
        fitting_id = bench.fitting.id if bench is not None else ""

        def work(_progress: Progress) -> str:
            from aptandum.core.prints.draw import drawn

            return str(write_atomic(target, drawn(sheet, [picture], kind, None, marks), supplied))

        def done(path: str) -> None:
            self._remember(fitting_id, sheet, picture, Path(path).name)
            self._tell(t("Sheet of prints written: {path}", path=path), "done")

        self._jobs.command(t("Laying out the prints …"), work, done, lane="report")

    def _remember(self, fitting_id: str, sheet: Sheet, picture: Pictured, file: str) -> None:
        """Write down in the docket which sheet was made of a fitting's file, for its report."""
        docket = self._store.docket
        if fitting_id not in {fitting.id for fitting in docket.fittings}:
            return
        counted = Counter(
            (round(min(p.wide, p.high), 2), round(max(p.wide, p.high), 2)) for p in sheet.prints
        )
        made = PrintedSheet(
            file=file,
            paper=sheet.paper.name,
            prints=tuple((n, a, b) for (a, b), n in counted.items()),
            digest=digest_of(picture.path),
            at=datetime.now().astimezone().isoformat(timespec="seconds"),
        )
        fitting = docket.fitting(fitting_id)
        printed = (*(one for one in fitting.printed if one.file != file), made)
        self._store.note(docket.replacing(fitting.model_copy(update={"printed": printed})))

    def _write(self, words: str, work: Callable[[Progress], tuple[str, ...]]) -> None:
        def done(found: tuple[str, ...]) -> None:
            path, *left_out = found
            said = t("Report written: {path}", path=path)
            if left_out:
                said = sentences([said, t("Not in it: {what}", what=semicolons(left_out))])
            self._tell(said, "trouble" if left_out else "done")

        self._jobs.command(words, work, done, lane="report")
