"""A portrait against the irreducible work: one full decode of the photo and one encode of the result, both by
libjpeg-turbo (simplejpeg), on the same pixels and in the same run.

    python benchmarks/bench_portrait.py

Reach: people, marks and mask of a 24-megapixel portrait in 100 ms of a processor; a whole conform for the deck pass, with
people looked for, proof included, in 2.0 of the floor; ten photos a second of a board's row with faces for each core.
"""

from __future__ import annotations

import os
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # as the application has it

import numpy as np
import simplejpeg
from PIL import Image, ImageOps

from aptandum.core import threads
from aptandum.core.conform import conform
from aptandum.core.fitting.detection import people_in
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.people import find_people
from aptandum.core.rulebook.shelf import read_shelf

DEMO = Path(__file__).resolve().parent.parent / "src/aptandum/data/demo"
ROUNDS = 7
NAMES = ("ines_marrow_0417", "tobin_oar_0212", "mirelle_dace_0031", "osk_fennel_0508", "quill_harrow_0119")  # fmt: skip


def best(act: Callable[[], object], clock: Callable[[], float] = time.perf_counter) -> float:
    """The quickest of some rounds, in milliseconds."""
    took = []
    for _ in range(ROUNDS):
        begun = clock()
        act()
        took.append((clock() - begun) * 1000)
    return min(took)


def main() -> None:
    brief = read_shelf().find("vessary-ferries/deck-pass")[1]
    path = DEMO / f"{NAMES[0]}.jpg"
    with Image.open(path) as opened:
        large = np.asarray(ImageOps.exif_transpose(opened).convert("RGB"))
    with threads.on_one_core():
        found = best(lambda: find_people(large), time.process_time)
    print(
        f"faces and marks in {large.shape[1]} x {large.shape[0]} pixels: {found:.0f} ms (reach 100)"
    )
    ratios = []
    for name in NAMES:
        path = DEMO / f"{name}.jpg"
        data = path.read_bytes()
        proof = conform(open_photo(path), brief)
        small = np.ascontiguousarray(np.zeros((840, 630, 3), np.uint8))

        def floor(data: bytes = data, small: np.ndarray = small) -> None:
            simplejpeg.decode_jpeg(data)
            simplejpeg.encode_jpeg(small, quality=90)

        (copy := Path(tempfile.mkdtemp()) / path.name).write_bytes(data)

        def whole(copy: Path = copy) -> None:
            os.utime(copy)  # nothing that is remembered of it holds any more
            conform(open_photo(copy), brief)

        ours = best(whole)
        under = best(floor)
        ratios.append(ours / under)
        print(f"{name}: conform {ours:.0f} ms, floor {under:.0f} ms, ratio {ours / under:.2f}, ready {proof.ready}")  # fmt: skip
    print(f"ratio, mean of {len(ratios)}: {statistics.mean(ratios):.2f} (reach 2.0)")
    with threads.on_one_core():
        rows = [open_photo(DEMO / f"{name}.jpg") for name in NAMES]
        each = statistics.mean(best(lambda row=row: people_in(row)) for row in rows)
    print(f"a board's row with faces: {1000 / each:.1f} a second for a core (reach 10)")


if __name__ == "__main__":
    main()
