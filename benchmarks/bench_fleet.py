"""What a cluster costs beside the pool of this machine's processes: the same photos, the same number of workers.

    python benchmarks/bench_fleet.py [PHOTOS] [WORKERS]

Reach: at most 10 % more than the pool. Also what the simulation (tools/simulate_fleet.py) is fed with: seconds of a core for
one file, seconds of the scheduler for one task, bytes read and written.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from concurrent.futures import Executor
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
# As docs/fleet.md starts a cluster: nothing looks at the workers' stacks a hundred times a second.
os.environ["DASK_DISTRIBUTED__WORKER__PROFILE__ENABLED"] = "False"
os.environ["DASK_DISTRIBUTED__ADMIN__SYSTEM_MONITOR__INTERVAL"] = "5s"
os.environ["DASK_DISTRIBUTED__ADMIN__TICK__INTERVAL"] = "500ms"

from distributed import Client, LocalCluster

from aptandum.cli.fleet import cluster
from aptandum.cli.many import Task, conform_one, done_lost, executor_of
from aptandum.core.docket import batch
from aptandum.core.fitting.settings import Settings
from aptandum.core.rulebook.shelf import read_shelf

DEMO = Path(__file__).resolve().parent.parent / "src/aptandum/data/demo"
ROUNDS = 3


def nothing(_job: object) -> object:
    """The least that a task can be."""
    return None


def took(pool: Executor, workers: int, tasks: list[Task], folder: Path) -> float:
    """Seconds for all of them, into a folder of their own."""
    where = Path(tempfile.mkdtemp(dir=folder))
    start = time.perf_counter()
    jobs = [replace(task, folder=str(where)) for task in tasks]
    made = list(batch.run(jobs, pool, workers, None, conform_one, done_lost))
    assert not [one for one in made if one.record["error"]], made[0].record
    return time.perf_counter() - start


@contextmanager
def kept(workers: int) -> Iterator[Executor]:
    """The pool, warm."""
    with executor_of(workers) as pool:
        yield pool


def best(act: Callable[[], float]) -> float:
    """The quickest of some rounds."""
    return min(act() for _ in range(ROUNDS))


def main() -> None:
    """Both, in turns, and what each task costs the scheduler."""
    photos = int(sys.argv[1]) if len(sys.argv) > 1 else 48
    workers = int(sys.argv[2]) if len(sys.argv) > 2 else 2
    folder = Path(tempfile.mkdtemp())
    os.chdir(folder)
    book, brief = read_shelf().find("quayside-exchange/item-picture")
    names = [DEMO / name for name in ("quill_harrow_0119.jpg", "tobin_oar_0212.jpg", "lantern_quay_dusk.jpg")]  # fmt: skip
    tasks = [Task(str(names[n % 3]), "quayside-exchange/item-picture", book, brief, Settings(), "") for n in range(photos)]  # fmt: skip
    with LocalCluster(n_workers=workers, threads_per_worker=1, dashboard_address=None) as local:
        with kept(workers) as pool, cluster(local.scheduler_address) as (fleet, many):
            assert many == workers
            took(pool, workers, tasks[: 4 * workers], folder)
            took(fleet, workers, tasks[: 4 * workers], folder)
            here, there = [], []
            for _ in range(ROUNDS):
                here.append(took(pool, workers, tasks, folder))
                there.append(took(fleet, workers, tasks, folder))
            start = time.perf_counter()
            list(batch.run(range(2000), fleet, 50, None, nothing))
            each = (time.perf_counter() - start) / 2000
        with Client(local.scheduler_address, set_as_default=False) as client:
            client.run(os.getpid)
    read = sum(os.path.getsize(task.file) for task in tasks) / photos
    made = [path for path in folder.glob("*/*") if path.is_file()]
    written = sum(path.stat().st_size for path in made) / len(made)
    pool_s, fleet_s = min(here), min(there)
    print(f"{photos} photos by {workers} workers: pool {pool_s:.2f} s, cluster {fleet_s:.2f} s, {100 * (fleet_s / pool_s - 1):+.1f} % (reach 10)")  # fmt: skip
    print(f"a core's time for one file {pool_s * workers / photos:.3f} s; the scheduler's for one task {1000 * each:.2f} ms; "
          f"{read / 1e6:.2f} MB read, {written / 1e6:.2f} MB written")  # fmt: skip


if __name__ == "__main__":
    main()
