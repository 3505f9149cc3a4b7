"""Allowed sizes of every brief on the shelf, in milliseconds (median of 15): reach 1 ms.

python benchmarks/bench_sizes.py
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import replace

from aptandum.core.rulebook.shelf import read_shelf
from aptandum.core.sizes import region as sizes
from aptandum.core.sizes.conflicts import changes

RUNS = 15
PHOTO = (4000, 3000)


def median(call: Callable[[], object]) -> float:
    """Milliseconds of a call."""
    times = []
    for _ in range(RUNS):
        start = time.perf_counter()
        call()
        times.append((time.perf_counter() - start) * 1000)
    return statistics.median(times)


def main() -> None:
    names = ("set", "largest", "smallest", "nearest", "cut", "changes")
    print(f"{'':38}" + "".join(f"{name:>10}" for name in names))
    for book in read_shelf().rulebooks:
        for brief in book.briefs:
            held = sizes.allowed(brief)

            def anew(held: sizes.Allowed = held) -> sizes.Allowed:
                """The set without what it has worked out and kept."""
                return sizes.Allowed(tuple(replace(cell) for cell in held.cells))

            calls: tuple[Callable[[], object], ...] = (
                lambda b=brief: sizes.allowed.__wrapped__(b),
                lambda: anew().largest(),
                lambda: anew().smallest(),
                lambda: anew().nearest(*PHOTO),
                lambda: anew().cut(*PHOTO),
                lambda b=brief: changes(b, (300, 200)),
            )
            row = "".join(f"{median(call):10.3f}" for call in calls)
            print(f"{book.body.id + '/' + brief.id:38}{row}")


if __name__ == "__main__":
    main()
