"""Where all work beside the interface begins, and where its results come back."""

from __future__ import annotations

import itertools
import threading
from collections import deque
from collections.abc import Callable
from typing import Any, TypeVar

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from aptandum.core import mistakes
from aptandum.core.errors import Cancelled
from aptandum.ui.jobs.command import Command, Progress, Result, State, Tell
from aptandum.ui.jobs.journal import Journal
from aptandum.ui.jobs.service import Service
from aptandum.ui.strings import t

T = TypeVar("T")

Late = Callable[[], bool]

_THREADS = 3
"""Threads for what is shown: one for the picture that is waited for, two for the rest."""


class _Look(QRunnable):
    """One piece of *latest* work."""

    def __init__(self, run: Callable[[], None]) -> None:
        super().__init__()
        self._run = run

    def run(self) -> None:
        self._run()


class Jobs(QObject):
    """See the package.

    Signals:
        listed: commands have been added or have ended.
        counted: one of them (given) has come further.
        ended: one of them (given) has ended; its ``state`` says how.
        idle: nothing is under way any more.
    """

    listed = pyqtSignal()
    counted = pyqtSignal(object)
    ended = pyqtSignal(object)
    idle = pyqtSignal()
    _post = pyqtSignal(object)

    def __init__(self, tell: Tell | None = None, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._tell = tell or (lambda sentence: None)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(_THREADS)
        self._tickets = itertools.count(1)
        self._newest: dict[str, int] = {}
        self._lanes: dict[str, deque[Command[Any]]] = {}
        self._threads: dict[str, threading.Thread] = {}
        self._asked = 0
        self._stopped = False
        self._post.connect(self._run_here)
        self.journal = Journal(self.post)

    def post(self, act: Callable[[], None]) -> None:
        """Have a function called in the interface's thread; from any thread."""
        if not self._stopped:
            self._post.emit(act)

    def _run_here(self, act: Callable[[], None]) -> None:
        if not self._stopped:
            act()

    # -- latest ----------------------------------------------------------------------------------

    def latest(
        self,
        kind: str,
        work: Callable[[Late], T],
        done: Result[T],
        failed: Tell | None = None,
        *,
        first: bool = False,
    ) -> None:
        """Do the newest work of a kind.

        Args:
            work: is given a question that says whether its result is still wanted.
            done, failed: called in the interface's thread with what came of it, or a sentence.
            first: goes before other work of this sort that waits for a thread.
        """
        ticket = next(self._tickets)
        self._newest[kind] = ticket

        def late() -> bool:
            return self._newest.get(kind) != ticket

        def deliver(result: Any, error: BaseException | None) -> None:
            if late():
                return
            del self._newest[kind]
            if error is None:
                done(result)
            else:
                (failed or self._tell)(mistakes.sentence(error, t("Showing the picture")))
            self._rest()

        def run() -> None:
            if late():
                return
            try:
                result, error = work(late), None
            except Cancelled:
                self.post(lambda: self._forget(kind, ticket))
                return
            except BaseException as raised:
                result, error = None, raised
            self.post(lambda: deliver(result, error))

        self._pool.start(_Look(run), 1 if first else 0)

    def drop(self, kind: str) -> None:
        """The newest work of a kind is not wanted any more."""
        self._newest.pop(kind, None)

    def _forget(self, kind: str, ticket: int) -> None:
        if self._newest.get(kind) == ticket:
            del self._newest[kind]
        self._rest()

    # -- commands --------------------------------------------------------------------------------

    def command(
        self,
        words: str,
        work: Callable[[Progress], T],
        done: Result[T],
        failed: Tell | None = None,
        *,
        lane: str = "",
        cancelled: Callable[[], None] | None = None,
    ) -> Command[T]:
        """Do what a person asked for, after whatever was asked for in the same lane before.

        Args:
            words: what is being done.
            work: its parts; raises Cancelled (or returns what it has) once its progress says so.
            done, failed: called in the interface's thread with what came of it, or a sentence.
            lane: commands of different lanes are done side by side; left out: a lane of its own.
            cancelled: called where it ended by its Cancel, without a result.
        """
        self._asked += 1
        lane = lane or f"#{self._asked}"
        made: Command[T] = Command(
            words,
            lane,
            work,
            done,
            failed or self._tell,
            cancelled,
            lambda one: self.post(lambda: self.counted.emit(one)),
        )
        self._lanes.setdefault(lane, deque()).append(made)
        self._go_on(lane)
        self.listed.emit()
        return made

    @property
    def commands(self) -> list[Command[Any]]:
        """Those under way or waiting, in the order in which they were asked for within a lane."""
        return [one for lane in self._lanes.values() for one in lane]

    def cancel(self, command: Command[Any], by_person: bool = True) -> None:
        """End a command and no other: one that waits is never begun."""
        command.by_person = by_person
        command.progress.cancel()
        if command.state is State.WAITING:
            self._end(command, State.CANCELLED)

    def cancel_lane(self, lane: str) -> None:
        """The application itself has no more use for what is done in a lane."""
        for command in list(self._lanes.get(lane, ())):
            self.cancel(command, by_person=False)

    def _go_on(self, lane: str) -> None:
        waiting = self._lanes.get(lane)
        if not waiting or lane in self._threads:
            return
        command = waiting[0]
        command.begin()
        thread = threading.Thread(
            target=self._run, args=(command,), name=f"command {lane}", daemon=True
        )
        self._threads[lane] = thread
        thread.start()

    def _run(self, command: Command[Any]) -> None:
        """In the lane's own thread."""
        result, error = None, None
        try:
            result = command.work(command.progress)
        except BaseException as raised:
            error = raised
        self.post(lambda: self._came(command, result, error))

    def _came(self, command: Command[Any], result: Any, error: BaseException | None) -> None:
        self._threads.pop(command.lane, None)
        if isinstance(error, Cancelled):
            self._end(command, State.CANCELLED)
        elif error is not None:
            command.outcome = mistakes.sentence(error, command.words)
            self._end(command, State.FAILED)
        else:
            self._end(command, State.DONE, result)

    def _end(self, command: Command[Any], state: State, result: Any = None) -> None:
        """Its words go, the next of its lane begins, and only then is its outcome told: whatever
        that does, the other commands go on."""
        command.state = state
        held = self._lanes.get(command.lane)
        if held is not None:
            if command in held:
                held.remove(command)
            if not held:
                del self._lanes[command.lane]
        self._go_on(command.lane)
        self.listed.emit()
        try:
            if state is State.DONE:
                command.done(result)
            elif state is State.FAILED:
                command.failed(command.outcome)
            elif command.cancelled is not None:
                command.cancelled()
        finally:
            self.ended.emit(command)
            self._rest()

    # -- services --------------------------------------------------------------------------------

    def service(self, name: str, work: Callable[[], None]) -> Service:
        """Work that goes on for as long as it is wanted, in a thread of its own; not yet begun."""
        return Service(name, work, lambda said: self.post(lambda: self._tell(said)))

    # -- all of it -------------------------------------------------------------------------------

    @property
    def busy(self) -> bool:
        """Whether anything is under way whose result the interface waits for."""
        return bool(self._newest or self._lanes)

    def _rest(self) -> None:
        if not self.busy:
            self.idle.emit()

    def stop(self) -> None:
        """End everything; what is in the journal is written first."""
        for command in self.commands:
            command.progress.cancel()
        self._newest.clear()
        self.journal.stop()
        self._stopped = True
        self._lanes.clear()
        for thread in list(self._threads.values()):
            thread.join(5)
        self._threads.clear()
        self._pool.waitForDone(5000)
