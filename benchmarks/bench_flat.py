"""Ten thousand conforms in one batch: what its process and its workers hold on the way.

    python benchmarks/bench_flat.py [N]

Reach: no more at the end than after the first thousand, but for what a process gains by itself (5 MB). Beside it the bare
library over the same photos in the same number of processes, and the files a second of both.
"""

from __future__ import annotations

import os
import shutil
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

SIZE, OUTPUT, WORKERS, LOOKS = (1200, 900), (620, 465), 2, 10


def held(process: str) -> float:
    """What a process holds, in megabytes."""
    pages = int(Path(f"/proc/{process}/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") / 1e6


def children() -> list[str]:
    """The processes that this one has started, and those that they have."""
    every = [path.name for path in Path("/proc").iterdir() if path.name.isdigit()]
    parents = {}
    for one in every:
        try:
            parents[one] = Path(f"/proc/{one}/stat").read_text().rsplit(")", 1)[1].split()[1]
        except OSError:  # it has ended
            continue
    found = [str(os.getpid())]
    for one in found:
        found += [child for child, parent in parents.items() if parent == one]
    return found[1:]


def bare(file: str) -> int:
    """The same photo by the bare library, on one core."""
    cv2.setNumThreads(1)
    small = cv2.resize(simplejpeg.decode_jpeg(Path(file).read_bytes()), OUTPUT, interpolation=cv2.INTER_AREA)  # fmt: skip
    return len(simplejpeg.encode_jpeg(small, quality=90))


def main() -> None:
    """Make the photos, conform them, and say what was held on the way."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 10_000
    root = Path(tempfile.mkdtemp())
    out = root / "out"
    out.mkdir()
    kinds = [root / f"kind{n}.jpg" for n in range(8)]
    for n, kind in enumerate(kinds):
        large_photo(kind, SIZE, seed=n)
    files = [str(root / f"photo_{n:05d}.jpg") for n in range(count)]
    for n, file in enumerate(files):
        os.link(kinds[n % len(kinds)], file)
    brief = brief_for(OUTPUT, 400_000)
    book = Rulebook(Body("bench", "Bench"), (brief,))
    tasks = (Task(f, "bench/b", book, brief, Settings(), str(out)) for f in files)
    begun = time.perf_counter()
    with executor_of(WORKERS) as pool:
        for n, done in enumerate(run(tasks, pool, WORKERS, None, conform_one), 1):
            assert done.record["ready"], done.record
            if n % (count // LOOKS) == 0:
                theirs = sum(map(held, children()))
                print(f"after {n}: the batch holds {held('self'):.0f} MB, its workers {theirs:.0f}")
                sys.stdout.flush()
    took = time.perf_counter() - begun
    assert len(os.listdir(out)) == count
    with ProcessPoolExecutor(WORKERS) as processes:
        begun = time.perf_counter()
        list(processes.map(bare, files, chunksize=16))
        plain = time.perf_counter() - begun
    print(f"{count} photos of {SIZE[0]} x {SIZE[1]}: {count / took:.0f} files a second, proof included; "
          f"the bare library {count / plain:.0f}")  # fmt: skip
    shutil.rmtree(root)


if __name__ == "__main__":
    main()
