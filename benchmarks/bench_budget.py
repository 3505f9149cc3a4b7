"""Encoding for a byte limit against one encode at the quality that is found, side by side.

    python benchmarks/bench_budget.py

Reach: beyond the first encode, at most 2.5 times as long as one encode at the final quality.
"""

from __future__ import annotations

import statistics
import sys
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent / "tests"))

from aptandum.core.file.encode import JpegEncoder
from aptandum.core.file.make import make
from aptandum.core.fitting.plan import FileStation
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped
from samples import scene

ROUNDS = 5
SIZES = ((620, 740), (1380, 920), (3000, 2000))
GRAINS = (1.0, 4.0, 10.0)
LIMITS = (0.12, 0.3, 0.6, 1.0)  # bytes for each pixel


def spent(act) -> float:
    start = time.perf_counter()
    act()
    return time.perf_counter() - start


def beyond_the_first(picture: Picture, file: FileStation) -> tuple[float, int]:
    """How many encodes at the final quality the search takes beyond the first; the encodes."""
    made = make(picture, file)
    options = made.options
    one, whole = [], []
    for _ in range(ROUNDS):
        one.append(spent(lambda: JpegEncoder(picture, None, Credit())(options)))
        whole.append(spent(lambda: make(picture, file)))
    a, b = statistics.median(one), statistics.median(whole)
    return (b - a) / a, made.encodes


def main() -> None:
    for size in SIZES:
        beyond, encodes = [], []
        for grain in GRAINS:
            picture = Picture(scene(*size, seed=3, grain=grain), shipped("srgb"), False)
            for limit in LIMITS:
                file = FileStation(
                    "jpeg", None, None, None, None, round(size[0] * size[1] * limit), None
                )
                more, n = beyond_the_first(picture, file)
                beyond.append(more)
                encodes.append(n)
        print(
            f"{size[0]} x {size[1]}: beyond the first encode {statistics.mean(beyond):.2f} encodes "
            f"on average, {max(beyond):.2f} at most (reach 2.5); {statistics.mean(encodes):.2f} "
            "whole encodes on average (reach 4)",
            flush=True,
        )


if __name__ == "__main__":
    sys.exit(main())
