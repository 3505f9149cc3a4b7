"""By whom many files are looked at or made: workers of this machine, or those of a cluster."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import CancelledError, Executor
from contextlib import contextmanager
from typing import TypeVar

from aptandum.cli import bundles, fleet
from aptandum.cli.console import UNREADABLE, Stop, err_line
from aptandum.cli.fleet import Away, Carried
from aptandum.cli.many import executor_of, workers_for
from aptandum.core.docket import batch
from aptandum.core.frozen import frozen
from aptandum.core.words import say

J = TypeVar("J")
R = TypeVar("R")


@frozen
class Crew:
    """Who works.

    Attributes:
        workers: of this machine, as :func:`aptandum.cli.many.workers_for` has them.
        cluster: address of a scheduler; empty: this machine.
        send: photos are sent along, and results come back.
    """

    workers: int = 0
    cluster: str = ""
    send: bool = False

    @contextmanager
    def at_work(self, jobs: int) -> Iterator[tuple[Executor, int]]:
        """The executor for so many jobs, and how many are done at once."""
        if self.cluster:
            with fleet.cluster(self.cluster) as found:
                yield found
        else:
            workers = workers_for(jobs, self.workers)
            with executor_of(workers) as pool:
                yield pool, max(1, workers)

    def run(
        self,
        jobs: Iterable[J],
        pool: Executor,
        many: int,
        stopped: Callable[[], bool],
        make: Callable[[J], R],
        lost: Callable[[J, BaseException], R],
        carried: Carried,
    ) -> Iterator[R]:
        """What comes of each job, as it comes (:func:`aptandum.core.docket.batch.run`).

        Raises:
            Away: a cluster's scheduler is there no longer.
        """
        if self.cluster and self.send:
            pool = fleet.Sending(pool, carried)
        elif self.cluster:
            jobs = map(carried.shared, jobs)
            pool, many = bundles.Bundles(pool, many), bundles.AHEAD * many

        def given_up(job: J, error: BaseException) -> R:
            if self.cluster and isinstance(error, CancelledError):
                raise Away(self.cluster)
            return lost(job, error)

        yield from batch.run(jobs, pool, many, stopped, make, given_up)


def crew_of(workers: int, cluster: str, send: bool) -> Crew:
    """Who works, as the call says.

    Raises:
        Stop: it says what does not go together, which is said.
    """
    if send and not cluster:
        err_line(say("--send goes with --cluster."))
        raise Stop(UNREADABLE)
    return Crew(workers, cluster, send)
