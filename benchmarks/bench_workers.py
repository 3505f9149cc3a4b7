"""Many photos by one worker and by two: the batch of the command line over 24-megapixel photos.

    python benchmarks/bench_workers.py [N]

Reach: two workers make 200 photos at least 1.7 times as fast as one. Also the memory of the batch's
own process after 50 photos and at the end, which must not grow with their number.
"""

from __future__ import annotations

import os
import resource
import shutil
import sys
import tempfile
import time
from pathlib import Path

from aptandum.cli.many import Task, conform_one, executor_of
from aptandum.core.brief.model import Body, Rulebook
from aptandum.core.docket.batch import run
from aptandum.core.fitting.settings import Settings
from bench_conform import brief_for, large_photo

SIZE, OUTPUT = (6000, 4000), (1380, 920)


def spent(files: list[str], folder: Path, workers: int) -> float:
    """Seconds for all of them; what starting the workers costs is in it."""
    folder.mkdir()
    brief = brief_for(OUTPUT, 400_000)
    book = Rulebook(Body("bench", "Bench"), (brief,))
    tasks = [Task(f, "bench/b", book, brief, Settings(), str(folder)) for f in files]
    start = time.perf_counter()
    with executor_of(workers) as pool:
        for n, done in enumerate(run(tasks, pool, workers, None, conform_one), 1):
            assert done.record["ready"], done.record
            if n == 50:
                before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024
    took = time.perf_counter() - start
    after = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024
    if len(files) >= 50:
        print(f"  {workers}: memory after 50 photos {before} MB, after {len(files)} {after} MB")
    assert len(os.listdir(folder)) == len(files)
    return took


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    root = Path(tempfile.mkdtemp())
    kinds = []
    for i in range(4):
        kinds.append(root / f"kind{i}.jpg")
        large_photo(kinds[-1], SIZE, seed=i)
    files = [str(root / f"photo_{i:03d}.jpg") for i in range(count)]
    for i, file in enumerate(files):
        os.link(kinds[i % len(kinds)], file)
    one = spent(files, root / "one", 1)
    two = spent(files, root / "two", 2)
    print(
        f"{count} photos of 24 MP: one worker {one:.1f} s, two {two:.1f} s, "
        f"{one / two:.2f} times as fast (reach 1.7)"
    )
    shutil.rmtree(root)


if __name__ == "__main__":
    sys.exit(main())
