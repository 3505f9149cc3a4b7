"""All of a board judged: 2,000 photos by 8 briefs, by header alone and with faces looked for, beside the bare library.

    python benchmarks/bench_cells.py [PHOTOS] [WITH FACES]

Cells a second by as many workers as there are cores; beside them Pillow reading each photo's header, and libjpeg-turbo
decoding each photo at an eighth, which is the least that looking for a face can cost.
"""

from __future__ import annotations

import os
import shutil
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import simplejpeg
from PIL import Image

from aptandum.core.docket import batch
from aptandum.core.docket.model import Fitting, PhotoEntry
from aptandum.core.frozen import frozen
from aptandum.core.rulebook.shelf import read_shelf
from aptandum.core.workers import Workers

DEMO = Path(__file__).resolve().parent.parent / "src/aptandum/data/demo"
AT_ONCE = 8
BRIEFS = 8


@frozen
class Rows:
    """Some photos with all their fittings, for a worker."""

    rows: tuple[object, ...]
    deep: bool


def judged(job: Rows) -> int:
    """How many cells came of them."""
    done = batch.judge_rows(job.rows, BOOKS, job.deep)  # type: ignore[arg-type]
    return sum(len(one.cells) for one in done)


BOOKS = [brief for book in read_shelf().rulebooks for brief in book.briefs][:BRIEFS]


def cells(files: list[str], deep: bool) -> tuple[int, float]:
    """All of them judged: cells, and seconds without the workers' start."""
    rows = []
    for n, file in enumerate(files):
        entry = PhotoEntry(id=f"p{n}", path=file)
        fits = tuple((Fitting(id=f"f{n}-{i}", photo=entry.id, brief="x/y"), i) for i in range(len(BOOKS)))  # fmt: skip
        rows.append((entry, fits, None))
    jobs = [Rows(tuple(rows[i : i + AT_ONCE]), deep) for i in range(0, len(rows), AT_ONCE)]
    many = os.cpu_count() or 1
    with Workers(many) as pool:
        list(batch.run(jobs[: 2 * many], pool, many, None, judged))
        start = time.perf_counter()
        n = sum(batch.run(jobs, pool, many, None, judged))
        return n, time.perf_counter() - start


def main() -> None:
    """Both, with the bare library in the same run."""
    photos = int(sys.argv[1]) if len(sys.argv) > 1 else 2000
    faces = int(sys.argv[2]) if len(sys.argv) > 2 else 200
    folder = Path(tempfile.mkdtemp())
    kinds = sorted(DEMO.glob("*.jpg"))
    files = []
    for n in range(photos):
        files.append(str(folder / f"p{n:05d}.jpg"))
        try:
            os.link(kinds[n % len(kinds)], files[-1])
        except OSError:  # another disk
            shutil.copy(kinds[n % len(kinds)], files[-1])
    start = time.perf_counter()
    for file in files:
        with Image.open(file) as opened:
            assert opened.size
    bare = time.perf_counter() - start
    n, took = cells(files, False)
    print(f"by header: {n} cells in {took:.1f} s, {n / took:.0f} a second; Pillow reads the {photos} headers in {bare:.1f} s")  # fmt: skip
    some = files[:faces]
    start = time.perf_counter()
    for file in some:
        simplejpeg.decode_jpeg(Path(file).read_bytes(), min_factor=8, min_width=1, min_height=1)
    bare = time.perf_counter() - start
    n, took = cells(some, True)
    print(f"with faces: {n} cells in {took:.1f} s, {n / took:.0f} a second, {faces / took:.1f} photos; "
          f"libjpeg-turbo decodes the {faces} at an eighth in {bare:.1f} s")  # fmt: skip


if __name__ == "__main__":
    main()
