"""One pool of worker processes, for all who need one.

It is an ordinary executor (``concurrent.futures``), with what the standard one lacks:

* A worker that dies takes one job with it, which is named (:class:`WorkerLost`); another worker takes
  its place, and every other job is done.
* Workers die with the process that started them, whatever ends it, SIGKILL included: the kernel
  is asked to (``PR_SET_PDEATHSIG``), and a worker that waits sees the end of its pipe.
* A job can be ended while it runs (:meth:`Workers.end`), by ending its worker.
* Jobs that somebody waits for go before those that nobody does (:meth:`Workers.lane`).
* Workers that have had nothing to do for a while are let go.
"""

from __future__ import annotations

import contextlib
import ctypes
import heapq
import itertools
import os
import pickle
import signal
import threading
import traceback
from collections.abc import Callable
from concurrent.futures import Executor, Future
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, ParamSpec, TypeVar

from aptandum.core.errors import AptandumError
from aptandum.core.words import say

if TYPE_CHECKING:
    from multiprocessing.connection import Connection
    from multiprocessing.context import SpawnProcess

P = ParamSpec("P")
R = TypeVar("R")

IDLE_SECONDS = 90.0
"""After so long without a job a worker is let go; it weighs about 100 MB."""

_PR_SET_PDEATHSIG = 1  # linux/prctl.h
_STARTS = 3
"""Tries to start a worker before its job is given up."""


class WorkerLost(AptandumError):
    """A worker died while it did a job; the job is lost, and nothing else is."""

    def __init__(self, status: int | None) -> None:
        if status is not None and status < 0:
            with contextlib.suppress(ValueError):
                name = signal.Signals(-status).name
                super().__init__(say("The process that worked on it was ended ({why}).", why=name))
                return
        super().__init__(say("The process that worked on it has ended ({why}).", why=status))


class RemoteError(Exception):
    """Carries the traceback of an exception that was raised in a worker, as its cause."""

    def __str__(self) -> str:
        return f'\n"""\n{self.args[0]}"""'


@dataclass(order=True)
class _Job:
    rank: int
    number: int
    work: Callable[[], Any] = field(compare=False)
    future: Future[Any] = field(compare=False)


def count() -> int:
    """How many workers a machine like this keeps busy: one a core, at most 8."""
    return min(os.cpu_count() or 1, 8)


class Workers(Executor):
    """A pool of worker processes. Safe to use from several threads.

    Args:
        most: workers at a time; each is started when there is something for it to do.
        prepare: a function of a module, called once in each new worker.
    """

    def __init__(self, most: int | None = None, prepare: Callable[[], None] | None = None) -> None:
        self.most = most or count()
        self._prepare = prepare
        self._ready = threading.Condition()
        self._jobs: list[_Job] = []
        self._numbers = itertools.count()
        self._free = 0
        self._servers: dict[threading.Thread, SpawnProcess | None] = {}
        self._doing: dict[Future[Any], threading.Thread] = {}
        self._stopped = False

    def submit(self, fn: Callable[P, R], /, *args: P.args, **kwargs: P.kwargs) -> Future[R]:
        """Have a function of a module called with picklable arguments by some worker."""
        return self._submit(0, fn, args, kwargs)

    def lane(self, rank: int) -> Executor:
        """The same workers, for jobs of another rank: a lower one goes first, 0 is usual."""
        return _Lane(self, rank)

    def _submit(self, rank: int, fn: Callable[..., R], args: Any, kwargs: Any) -> Future[R]:
        future: Future[R] = Future()
        with self._ready:
            if self._stopped:
                raise RuntimeError("these workers have been stopped")
            job = _Job(rank, next(self._numbers), lambda: (fn, args, kwargs), future)
            heapq.heappush(self._jobs, job)
            if self._free < len(self._jobs) and len(self._servers) < self.most:
                server = threading.Thread(target=self._serve, name="worker", daemon=True)
                self._servers[server] = None
                server.start()
            self._ready.notify()
        return future

    def end(self, future: Future[Any]) -> None:
        """End a job that nobody wants any more: one that waits is taken out, one that runs is ended
        with its worker."""
        if future.cancel():
            return
        with self._ready:
            server = self._doing.get(future)
            process = self._servers.get(server) if server is not None else None
        if process is not None:
            process.kill()

    def processes(self) -> list[int]:
        """The process numbers of the workers there are."""
        with self._ready:
            return [p.pid for p in self._servers.values() if p is not None and p.pid is not None]

    def shutdown(self, wait: bool = True, *, cancel_futures: bool = False) -> None:
        """End the workers; jobs that have not begun are cancelled, those that run are ended
        unless one ``wait``\\ s for them."""
        with self._ready:
            self._stopped = True
            if cancel_futures or not wait:
                for job in self._jobs:
                    job.future.cancel()
                self._jobs.clear()
            servers = dict(self._servers)
            self._ready.notify_all()
        if not wait:
            for process in servers.values():
                if process is not None:
                    process.kill()
        for server in servers:
            if server is not threading.current_thread():
                server.join(10)

    # -- one thread here for each worker there ----------------------------------------------------

    def _next(self) -> _Job | None:
        with self._ready:
            self._free += 1
            try:
                while True:
                    while self._jobs:
                        job = heapq.heappop(self._jobs)
                        if job.future.set_running_or_notify_cancel():
                            self._doing[job.future] = threading.current_thread()
                            return job
                    if self._stopped or not self._ready.wait(IDLE_SECONDS):
                        if not self._jobs:
                            self._servers.pop(threading.current_thread(), None)
                            return None
            finally:
                self._free -= 1

    def _serve(self) -> None:
        process: SpawnProcess | None = None
        pipe: Connection | None = None
        while (job := self._next()) is not None:
            if process is None or pipe is None or not process.is_alive():
                process, pipe = self._start()
            answer, wrong = _ask(process, pipe, job)
            if isinstance(wrong, WorkerLost):
                process, pipe = None, None
            with self._ready:
                self._doing.pop(job.future, None)
            if wrong is not None:
                job.future.set_exception(wrong)
            else:
                job.future.set_result(answer)
            del job, answer, wrong  # nothing large is held while the thread waits
        if pipe is not None:
            pipe.close()
        if process is not None:
            process.join(5)

    def _start(self) -> tuple[SpawnProcess | None, Connection | None]:
        import multiprocessing  # no start has a use for it

        for _ in range(_STARTS):
            with contextlib.suppress(OSError):
                spawn = multiprocessing.get_context("spawn")
                here, there = spawn.Pipe()
                process = spawn.Process(
                    target=_work,
                    args=(there, os.getpid(), self._prepare),
                    daemon=True,
                    name="aptandum-worker",
                )
                process.start()
                there.close()
                with self._ready:
                    self._servers[threading.current_thread()] = process
                return process, here
        return None, None


class _Lane(Executor):
    def __init__(self, workers: Workers, rank: int) -> None:
        self._workers, self._rank = workers, rank

    def submit(self, fn: Callable[P, R], /, *args: P.args, **kwargs: P.kwargs) -> Future[R]:
        return self._workers._submit(self._rank, fn, args, kwargs)


def _ask(
    process: SpawnProcess | None, pipe: Connection | None, job: _Job
) -> tuple[Any, BaseException | None]:
    """One job there and back."""
    from multiprocessing import connection

    try:
        sent = pickle.dumps(job.work())
    except Exception as error:  # what cannot be sent is the caller's mistake, told to the caller
        return None, error
    if process is None or pipe is None:
        return None, WorkerLost(None)
    try:
        pipe.send_bytes(sent)
        connection.wait([pipe, process.sentinel])
        if pipe.poll():
            answer, raised = pickle.loads(pipe.recv_bytes())
            return answer, raised
    except (EOFError, OSError):
        pass
    pipe.close()
    process.join(5)
    return None, WorkerLost(process.exitcode)


def _die_with(parent: int) -> None:
    """Ask the kernel to end this process with the one that started it."""
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None, use_errno=True).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL, 0, 0, 0)
    if os.getppid() != parent:  # it was gone before it could be asked
        os._exit(1)


def _work(pipe: Connection, parent: int, prepare: Callable[[], None] | None) -> None:
    """A worker's life."""
    _die_with(parent)
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C is for the one who gives the jobs
    if prepare is not None:
        prepare()
    while True:
        try:
            fn, args, kwargs = pickle.loads(pipe.recv_bytes())
        except (EOFError, OSError):
            return
        except Exception as error:
            _answer(pipe, None, error)
            continue
        answer: Any = None
        wrong: Exception | None = None
        try:
            answer = fn(*args, **kwargs)
        except Exception as raised:
            wrong = raised
        _answer(pipe, answer, wrong)
        del fn, args, kwargs, answer, wrong


def _answer(pipe: Connection, answer: Any, error: Exception | None) -> None:
    if error is not None:
        error.__cause__ = RemoteError("".join(traceback.format_exception(error)))
        error.__traceback__ = None
    try:
        sent = pickle.dumps((answer, _Carried(error) if error is not None else None))
    except Exception as mistake:
        text = "".join(traceback.format_exception(error or mistake))
        plain = RuntimeError(f"{type(error or mistake).__name__}: {error or mistake}")
        plain.__cause__ = RemoteError(text)
        sent = pickle.dumps((None, _Carried(plain)))
    with contextlib.suppress(OSError):
        pipe.send_bytes(sent)


class _Carried:
    """Pickles an exception with its cause, which pickle by itself forgets."""

    def __init__(self, error: Exception) -> None:
        self.error = error

    def __reduce__(self) -> tuple[Any, ...]:
        return _with_cause, (self.error, self.error.__cause__)


def _with_cause(error: Exception, cause: BaseException | None) -> Exception:
    error.__cause__ = cause
    return error


_shared: list[Workers] = []
_shared_lock = threading.Lock()


def behind_others() -> None:
    """For a worker that nobody waits for at a screen: one core, and after everything else."""
    from aptandum.core import threads

    threads.one_core()
    with contextlib.suppress(OSError, AttributeError):
        os.nice(10)


def shared() -> Workers:
    """The application's workers."""
    with _shared_lock:
        if not _shared or _shared[0]._stopped:
            _shared[:] = [Workers(prepare=behind_others)]
        return _shared[0]


def stop_shared() -> None:
    """End the application's workers; they start anew where they are asked for again."""
    with _shared_lock:
        gone, _shared[:] = list(_shared), []
    for workers in gone:
        workers.shutdown(wait=False, cancel_futures=True)
