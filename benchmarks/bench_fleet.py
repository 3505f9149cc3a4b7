"""What a cluster costs beside the pool of this machine's processes: the same photos, the same number of workers.

    python benchmarks/bench_fleet.py [PHOTOS] [WORKERS]

Reach: at most 10 % more than the pool, as the command line uses both (``aptandum.cli.crew``). Also what the simulation (tools/simulate_fleet.py) is fed with: seconds of a core for
one file, seconds of the scheduler for one task, bytes read and written.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from concurrent.futures import Executor
from dataclasses import replace
from pathlib import Path
from statistics import median

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
# As docs/fleet.md starts a cluster: nothing looks at the workers' stacks a hundred times a second.
os.environ["DASK_DISTRIBUTED__WORKER__PROFILE__ENABLED"] = "False"
os.environ["DASK_DISTRIBUTED__ADMIN__SYSTEM_MONITOR__INTERVAL"] = "5s"
os.environ["DASK_DISTRIBUTED__ADMIN__TICK__INTERVAL"] = "500ms"

from distributed import LocalCluster

from aptandum.cli.bundles import AHEAD, Bundles
from aptandum.cli.crew import Crew
from aptandum.cli.many import CARRIED, Task, conform_one, done_lost
from aptandum.core.docket import batch
from aptandum.core.fitting.settings import Settings
from aptandum.core.rulebook.shelf import read_shelf

DEMO = Path(__file__).resolve().parent.parent / "src/aptandum/data/demo"
ROUNDS = 9
"""In each both do the same photos, one after the other, each first in every second one: a machine that others share is
faster and slower by the minute, and what is told is the median of the rounds."""


def nothing(_job: object) -> object:
    """The least that a task can be."""
    return None


def took(crew: Crew, pool: Executor, many: int, tasks: list[Task], folder: Path) -> float:
    """Seconds for all of them, into a folder of their own."""
    where = Path(tempfile.mkdtemp(dir=folder))
    start = time.perf_counter()
    jobs = [replace(task, folder=str(where)) for task in tasks]
    made = list(crew.run(jobs, pool, many, lambda: False, conform_one, done_lost, CARRIED))
    assert len(made) == len(tasks) and not [one for one in made if one.record["error"]], made[0].record  # fmt: skip
    return time.perf_counter() - start


def main() -> None:
    """Both, in turns, and what each task costs the scheduler."""
    photos = int(sys.argv[1]) if len(sys.argv) > 1 else 48
    workers = int(sys.argv[2]) if len(sys.argv) > 2 else 2
    folder = Path(tempfile.mkdtemp())
    os.chdir(folder)
    book, brief = read_shelf().find("quayside-exchange/item-picture")
    names = [DEMO / name for name in ("quill_harrow_0119.jpg", "tobin_oar_0212.jpg", "lantern_quay_dusk.jpg")]  # fmt: skip
    tasks = [Task(str(names[n % 3]), "quayside-exchange/item-picture", book, brief, Settings(), "") for n in range(photos)]  # fmt: skip
    here, there, ratios = [], [], []
    with LocalCluster(n_workers=workers, threads_per_worker=1, dashboard_address=None) as local:
        alone, shared = Crew(workers), Crew(cluster=local.scheduler_address)
        with alone.at_work(photos) as (pool, of_pool), shared.at_work(photos) as (fleet, many):
            assert many == of_pool == workers
            took(alone, pool, workers, tasks[: 4 * workers], folder)
            took(shared, fleet, workers, tasks[: 4 * workers], folder)
            for n in range(ROUNDS):
                for first in (n % 2 == 0, n % 2 == 1):
                    if first:
                        here.append(took(alone, pool, workers, tasks, folder))
                    else:
                        there.append(took(shared, fleet, workers, tasks, folder))
                ratios.append(there[-1] / here[-1])
            start = time.perf_counter()
            list(batch.run(range(2000), fleet, 50, None, nothing))
            task_s = (time.perf_counter() - start) / 2000
            start = time.perf_counter()
            list(batch.run(range(20000), Bundles(fleet, workers), AHEAD * workers, None, abs))
            job_s = (time.perf_counter() - start) / 20000
    read = sum(os.path.getsize(task.file) for task in tasks) / photos
    made = [path for path in folder.glob("*/*") if path.is_file()]
    written = sum(path.stat().st_size for path in made) / len(made)
    pool_s, over = median(here), 100 * (median(ratios) - 1)
    print(f"{photos} photos by {workers} workers: pool {pool_s:.2f} s, cluster {median(there):.2f} s; round by round {over:+.1f} % (reach 10; "
          + ", ".join(f"{100 * (one - 1):+.0f}" for one in ratios) + ")")  # fmt: skip
    print(f"a core's time for one file {pool_s * workers / photos:.3f} s; the scheduler's for one task {1000 * task_s:.2f} ms, and for one "
          f"of many short jobs, which go together, {1000 * job_s:.2f}; {read / 1e6:.2f} MB read, {written / 1e6:.2f} MB written")  # fmt: skip


if __name__ == "__main__":
    main()
