"""Many photos by one worker and by two: the batch of the command line over 24-megapixel photos.

    python benchmarks/bench_workers.py [N]

Reach: two workers make 200 photos at least 1.8 times as fast as one, as far as the machine lets them: beside it stands what
two processes of the bare library gain over one (decode, reduce, encode of the same photos), and the processor's seconds that
a photo costs either way. One worker keeps one core busy, and no more. Also the memory of the batch's
own process after 50 photos and at the end, which must not grow with their number.
"""

from __future__ import annotations

import os
import resource
import shutil
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import cv2
import simplejpeg

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


def bare(file: str) -> int:
    """The same photo by the bare library, on one core."""
    cv2.setNumThreads(1)
    small = cv2.resize(simplejpeg.decode_jpeg(Path(file).read_bytes()), OUTPUT, interpolation=cv2.INTER_AREA)  # fmt: skip
    return len(simplejpeg.encode_jpeg(small, quality=90))


def spent_bare(files: list[str], processes: int) -> float:
    """Seconds for all of them by the bare library."""
    with ProcessPoolExecutor(processes) as pool:
        list(pool.map(bare, files[:processes]))  # what starting them costs is not in it
        start = time.perf_counter()
        list(pool.map(bare, files))
        return time.perf_counter() - start


def measured(files: list[str], folder: Path, workers: int, cores: int = 2) -> tuple[float, float]:
    """Seconds for all of them, and of the processor, in a process of its own that counts those that it has started, on so
    many cores."""
    call = [sys.executable, __file__, "--only", str(workers), str(cores), str(folder), *files]
    before = os.times()
    said = subprocess.run(call, check=True, capture_output=True, text=True).stdout.splitlines()
    after = os.times()
    print(*said[:-1], sep="\n")
    used = (
        after.children_user + after.children_system - before.children_user - before.children_system
    )
    return float(said[-1]), used


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
    one, one_used = measured(files, root / "one", 1)
    two, two_used = measured(files, root / "two", 2)
    core, _used = measured(files, root / "core", 1, cores=1)
    alone, both = spent_bare(files, 1), spent_bare(files, 2)
    print(
        f"{count} photos of 24 MP: one worker {one:.1f} s, two {two:.1f} s, "
        f"{one / two:.2f} times as fast (reach 1.8); of the processor a photo took "
        f"{one_used / count:.2f} and {two_used / count:.2f} s"
    )
    print(
        f"one worker that has one core to itself {core:.1f} s: two workers on two are {core / two:.2f} times as fast"
    )
    print(
        f"the bare library: one process {alone:.1f} s, two {both:.1f} s, {alone / both:.2f} times as fast; "
        f"one worker kept {one_used / one:.2f} cores busy, two {two_used / two:.2f}"
    )
    shutil.rmtree(root)


if __name__ == "__main__":
    if sys.argv[1:2] == ["--only"]:
        os.sched_setaffinity(0, sorted(os.sched_getaffinity(0))[: int(sys.argv[3])])
        print(spent(sys.argv[5:], Path(sys.argv[4]), int(sys.argv[2])))
    else:
        main()
