"""What is open is written down as it changes, so that a crash loses no more than a moment."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject

from aptandum.core.docket.recovery import CrashRecord
from aptandum.ui.jobs import Jobs
from aptandum.ui.session.bench_model import BenchModel
from aptandum.ui.session.docket_store import DocketStore
from aptandum.ui.strings import t

AFTER = 0.25
"""Seconds after a change until the record is begun. They run from the first change that is not
written down yet, and are not begun anew by those that follow; the journal's thread counts them, so
that what was changed just before the interface hung is kept as well."""


class Autosave(QObject):
    """Keeps the crash record current.

    Attributes:
        keeper: where the record is written; ``None``: nowhere.
    """

    def __init__(
        self,
        store: DocketStore,
        model: BenchModel,
        jobs: Jobs,
        tell: Callable[..., None],
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._store, self._model, self._jobs, self._tell = store, model, jobs, tell
        self.keeper: CrashRecord | None = None
        self._failed = False
        for signal in (store.changed, store.filed, model.opened):
            signal.connect(self._changed)

    def _changed(self, *_what: object) -> None:
        self.keep(AFTER)

    def keep(self, after: float = 0.0) -> None:
        """Write down what is open, or forget it where all is saved: in the journal, so many seconds
        from now at the latest."""
        keeper, store = self.keeper, self._store
        if keeper is None:
            return
        if store.is_saved:
            self._jobs.journal.put(keeper.forget, None, self._wrong, "record", after)
            return
        docket, path, on_disk = store.docket, store.path, store.on_disk
        fitting = self._model.bench.fitting.id if self._model.bench is not None else ""

        def work() -> None:
            keeper.keep(docket, path, fitting, on_disk)

        self._jobs.journal.put(work, self._right, self._wrong, "record", after)

    def _right(self, _nothing: object) -> None:
        self._failed = False

    def _wrong(self, error: BaseException) -> None:
        if not self._failed:  # once, not at every change
            self._failed = True
            self._tell(t("What is open could not be written down: {why}", why=error))
