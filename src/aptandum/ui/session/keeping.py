"""The docket's own file, its reports, and what is kept against a crash."""

from __future__ import annotations

import contextlib
import gc
import os
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import Any

from aptandum.core.docket import recovery, store
from aptandum.core.docket.history import History
from aptandum.core.docket.model import Docket
from aptandum.core.docket.moved import look_for, same
from aptandum.core.docket.reported import gather
from aptandum.core.docket.takeover import find
from aptandum.core.report import Report, entry_of, write_report
from aptandum.ui.session.base import Base
from aptandum.ui.strings import t

_MANY = 12
"""Files from which on processes of their own are worth starting."""


class Keeping(Base):
    """See the module."""

    def write_report(self, target: Path) -> None:
        """Write the conformity report of the proved file on the bench; who names the target has
        been asked whether what is there may be replaced."""
        bench = self.bench
        if bench is None or bench.proof is None:
            return
        photo, book, brief, proof = bench.photo, bench.book, bench.brief, bench.proof
        answers, title = bench.fitting.confirmed(), self.docket.title or photo.name
        supplied = [entry.path for entry in self.docket.photos]

        def work(late: Callable[[], bool]) -> str:
            entry = entry_of(photo, book, brief, proof, answers)
            report = Report(title, (entry,), datetime.now().astimezone())
            return str(write_report(report, target, supplied, replace=True))

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
            path = str(write_report(report, target, supplied, replace=True))
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
