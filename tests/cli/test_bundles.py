"""Short jobs that go to a cluster together: what comes back, what one job's trouble costs the others, and what can be taken
back. A pool of threads stands for the cluster."""

from __future__ import annotations

import pickle
import threading
from collections.abc import Callable
from concurrent.futures import CancelledError, Executor, Future, ThreadPoolExecutor
from operator import truediv

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aptandum.cli.bundles import AHEAD, Bundles
from aptandum.core.docket import batch


def reciprocal(job: int) -> float:
    """One of the jobs; 0 raises."""
    return 1 / job


class Told(Exception):
    """An error that cannot be made again from what it was pickled as."""

    def __init__(self, file: str, *, why: str) -> None:
        super().__init__(f"{file}: {why}")


def told(job: int) -> int:
    raise Told(str(job), why="no picture")


class Counted(Executor):
    """A pool that counts its tasks, and may lose some.

    Args:
        loses: says of a task's calls whether it is lost with its worker.
    """

    def __init__(self, loses: Callable[[list[tuple]], bool] = lambda calls: False) -> None:
        self.pool, self.loses, self.tasks = ThreadPoolExecutor(2), loses, []

    def submit(self, fn, /, *args, **more) -> Future:
        calls = pickle.loads(args[0])
        self.tasks.append([one[1][0] for one in calls])
        if self.loses(calls):
            made: Future = Future()
            made.set_exception(OSError("the worker was lost"))
            return made
        return self.pool.submit(fn, *args, **more)


def run(pool: Executor, jobs, make=reciprocal, lost=None):
    return list(batch.run(jobs, Bundles(pool, 2), 2 * AHEAD, None, make, lost))


def test_many_short_jobs_go_in_few_tasks():
    every = threading.Event()

    class Late(Counted):
        """Nothing is done before everything was handed out."""

        def submit(self, fn, /, *args, **more):
            def act(packed):
                assert every.wait(60)
                return fn(packed)

            return super().submit(act, *args, **more)

    def jobs():
        yield from range(1, 4 * AHEAD)
        every.set()
        yield 4 * AHEAD

    pool = Late()
    assert sorted(run(pool, jobs())) == sorted(1 / n for n in range(1, 4 * AHEAD + 1))
    assert len(pool.tasks) < 2 * AHEAD
    assert sorted(n for task in pool.tasks for n in task) == list(range(1, 4 * AHEAD + 1))
    # towards the end there are fewer in each: nobody is left with a heap while another is idle
    assert len(pool.tasks[-1]) == 1


@given(st.lists(st.integers(-3, 3), max_size=90))
def test_each_job_comes_back_once_and_its_trouble_is_its_own(jobs):
    came = run(Counted(), jobs, lost=lambda job, error: (job, type(error).__name__))
    failed = [(0, "ZeroDivisionError")] * jobs.count(0)
    assert sorted(one for one in came if not isinstance(one, tuple)) == sorted(
        1 / n for n in jobs if n
    )
    assert [one for one in came if isinstance(one, tuple)] == failed


def test_what_went_with_a_lost_task_is_done_again_alone():
    """The one that kills its workers is given up; those that went with it are not."""
    pool = Counted(lambda calls: any(args[0] == 700 for _fn, args in calls))
    came = run(pool, range(1, 1001), lost=lambda job, error: f"{job}: {error}")
    assert [one for one in came if isinstance(one, str)] == ["700: the worker was lost"]
    assert len(came) == 1000
    assert pool.tasks.count([700]) == 1


def test_a_scheduler_that_goes_away_is_told_of_each_job():
    class Gone(Executor):
        def submit(self, fn, /, *args, **more):
            raise RuntimeError("cannot schedule new futures after shutdown")

    came = run(Gone(), range(5000), lost=lambda job, error: job)
    assert sorted(came) == list(range(5000))


def test_an_error_that_cannot_be_sent_is_told_by_its_words():
    errors = []
    run(Counted(), [7, 8], told, lost=lambda job, error: errors.append(error))
    # where the cluster's own library is loaded it is sent as it is, and else by its words
    assert len(errors) == 2
    assert all(f"{n}: no picture" in said for n, said in zip((7, 8), sorted(map(str, errors)), strict=True))  # fmt: skip


def test_what_waits_can_be_taken_back_and_what_is_out_comes():
    begun, go_on = threading.Event(), threading.Event()

    class Slow(Counted):
        def submit(self, fn, /, *args, **more):
            def act():
                begun.set()
                assert go_on.wait(60)
                return fn(*args)

            return self.pool.submit(act)

    pool = Bundles(Slow(), 1)
    made = [pool.submit(truediv, 1, n) for n in range(1, 10)]
    assert begun.wait(60)
    taken_back = [one.cancel() for one in made]
    go_on.set()
    assert taken_back == [False] * 2 + [True] * 7
    assert [one.result(60) for one in made[:2]] == [1, 1 / 2]
    with pytest.raises(CancelledError):
        made[-1].result(60)


def test_a_run_that_is_stopped_waits_for_what_is_out_alone():
    """Ctrl-C: what nobody has begun is not begun."""
    stopped = threading.Event()
    pool = Counted()
    came = []
    for one in batch.run(range(1, 5000), Bundles(pool, 2), 2 * AHEAD, stopped.is_set, reciprocal):
        came.append(one)
        stopped.set()
    assert sorted(came) == sorted(1 / n for task in pool.tasks for n in task)
    assert len(came) < 1000
