"""What is open is written down as it changes, so that a crash loses no more than a moment."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer

from aptandum.core.docket.recovery import CrashRecord
from aptandum.ui.jobs import Jobs
from aptandum.ui.session.bench_model import BenchModel
from aptandum.ui.session.docket_store import DocketStore
from aptandum.ui.strings import t

AFTER_MS = 250
"""At most so long after a change the record is begun. The timer runs from the first change that is
not written down yet, and is not begun anew by those that follow."""


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
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(AFTER_MS)
        self._soon.timeout.connect(self.keep)
        for signal in (store.changed, store.filed, model.opened):
            signal.connect(self._changed)

    def _changed(self, *_what: object) -> None:
        if not self._soon.isActive():
            self._soon.start()

    def keep(self) -> None:
        """Write down what is open, or forget it where all is saved: in the journal."""
        keeper, store = self.keeper, self._store
        if keeper is None:
            return
        self._soon.stop()
        if store.is_saved:
            self._jobs.journal.put(keeper.forget, None, self._wrong, key="record")
            return
        docket, path, on_disk = store.docket, store.path, store.on_disk
        fitting = self._model.bench.fitting.id if self._model.bench is not None else ""

        def work() -> None:
            keeper.keep(docket, path, fitting, on_disk)

        self._jobs.journal.put(work, self._right, self._wrong, key="record")

    def _right(self, _nothing: object) -> None:
        self._failed = False

    def _wrong(self, error: BaseException) -> None:
        if not self._failed:  # once, not at every change
            self._failed = True
            self._tell(t("What is open could not be written down: {why}", why=error))
