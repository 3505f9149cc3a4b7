"""Where a cluster stops growing: files a second for one to a thousand workers, from measured times.

    python tools/simulate_fleet.py [--draw docs/pictures/fleet.svg]

Every task goes through the scheduler (one at a time), has its photos read from storage (which has so much to give in all),
is worked on by a core, and has its files written. Short jobs go several in a task (``aptandum.cli.bundles``); photos that
are sent along go one by one. Events are played one after the other; what is drawn are files a second in
the steady middle of a run. The times are those that ``benchmarks/bench_fleet.py`` prints; the machine they were taken on is
one with two cores, so that they are an example: take your own.
"""

from __future__ import annotations

import argparse
import heapq
from dataclasses import dataclass
from pathlib import Path

CORE, TASK = 0.212, 0.0062
"""Seconds of a core for one file; seconds of the scheduler for one task (2026-11-30, two cores, demo photos)."""
READ, WRITTEN = 0.89e6, 1.10e6
"""Bytes read and written for one file."""
AHEAD = 2
"""Tasks that are out for each worker."""
TOGETHER, MOST = 0.5, 64
"""Seconds of work that are put into one task, and at most so many files."""
WORKERS = (1, 2, 4, 8, 16, 32, 64, 125, 250, 500, 1000)


@dataclass(frozen=True)
class Place:
    """What the machines share.

    Attributes:
        storage: bytes a second that all of them together read and write.
        line: bytes a second of the scheduler's own machine; photos that are sent along go through it.
    """

    name: str
    storage: float
    line: float = 0.0


PLACES = (
    Place("one disk of 500 MB/s", 500e6),
    Place("a network of 10 Gbit/s", 1.25e9),
    Place("storage of 10 GB/s", 10e9),
    Place("sent along by 1 Gbit/s", 1e12, 125e6),
)


def rate(workers: int, place: Place, core: float = CORE, task: float = TASK) -> float:
    """Files a second in the steady middle of a run of ``workers`` workers."""
    tasks = 40 * workers + 200
    many = 1 if place.line else max(1, min(MOST, round(TOGETHER / core)))
    free_scheduler = free_storage = free_line = 0.0
    idle = [0.0] * workers  # when each has nothing to do
    heapq.heapify(idle)
    out: list[float] = []  # when those that are out come back
    ends = []
    for _ in range(tasks):
        ready = heapq.heappop(out) if len(out) >= AHEAD * workers else 0.0
        begun = max(ready, free_scheduler)
        free_scheduler = begun + task
        at = free_scheduler
        if place.line:
            at = free_line = max(at, free_line) + many * (READ + WRITTEN) / place.line
        at = free_storage = max(at, free_storage) + many * READ / place.storage
        start = max(at, heapq.heappop(idle))
        done = start + many * core
        heapq.heappush(idle, done)
        free_storage += many * WRITTEN / place.storage
        heapq.heappush(out, done)
        ends.append(done)
    ends.sort()
    low, high = tasks // 4, 3 * tasks // 4
    return many * (high - low) / (ends[high] - ends[low])


def table() -> list[tuple[int, list[float]]]:
    """Files a second for each number of workers at each place."""
    return [(n, [rate(n, place) for place in PLACES]) for n in WORKERS]


TONES = ("#27508C", "#2F6E4F", "#8A5A12", "#A23322")
"""Of the lines of the drawing, as in the application: blue, green, ochre, red."""


def drawn(rows: list[tuple[int, list[float]]]) -> str:
    """The table as a drawing: both axes by powers of ten."""
    from math import log10

    wide, high, left, top = 760, 420, 70, 24
    across, up = wide - left - 190, high - top - 56
    most = 4.0  # ten thousand files a second

    def x(n: float) -> float:
        return left + across * log10(n) / 3

    def y(v: float) -> float:
        return top + up * (1 - log10(max(v, 1)) / most)

    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide} {high}" width="{wide}" height="{high}" '
        'font-family="IBM Plex Sans, sans-serif" font-size="12">',
        f'<rect width="{wide}" height="{high}" fill="#FFFFFF"/>',
    ]
    for n in (1, 10, 100, 1000):
        out.append(f'<line x1="{x(n):.1f}" y1="{top}" x2="{x(n):.1f}" y2="{top + up}" stroke="#E0E1E0"/>')  # fmt: skip
        out.append(f'<text x="{x(n):.1f}" y="{top + up + 18}" text-anchor="middle" fill="#5E6872">{n}</text>')  # fmt: skip
    for v in (1, 10, 100, 1000, 10000):
        out.append(f'<line x1="{left}" y1="{y(v):.1f}" x2="{left + across}" y2="{y(v):.1f}" stroke="#E0E1E0"/>')  # fmt: skip
        out.append(f'<text x="{left - 8}" y="{y(v) + 4:.1f}" text-anchor="end" fill="#5E6872">{v}</text>')  # fmt: skip
    out.append(f'<text x="{left + across / 2}" y="{high - 12}" text-anchor="middle" fill="#1D2630">workers</text>')  # fmt: skip
    out.append(f'<text x="18" y="{top + up / 2}" transform="rotate(-90 18 {top + up / 2})" text-anchor="middle" fill="#1D2630">files a second</text>')  # fmt: skip
    ideal = " ".join(f"{x(n):.1f},{y(n / CORE):.1f}" for n, _ in rows)
    out.append(f'<polyline points="{ideal}" fill="none" stroke="#9AA2A9" stroke-dasharray="3 4"/>')
    taken: list[float] = []
    for i, place in enumerate(PLACES):
        points = " ".join(f"{x(n):.1f},{y(values[i]):.1f}" for n, values in rows)
        out.append(
            f'<polyline points="{points}" fill="none" stroke="{TONES[i]}" stroke-width="2"/>'
        )
        at = y(rows[-1][1][i]) + 4
        while any(abs(at - other) < 15 for other in taken):
            at += 15
        taken.append(at)
        out.append(f'<text x="{left + across + 8}" y="{at:.1f}" fill="{TONES[i]}">{place.name}</text>')  # fmt: skip
    at = y(rows[-1][0] / CORE) + 4
    while any(abs(at - other) < 15 for other in taken):
        at -= 15
    out.append(
        f'<text x="{left + across + 8}" y="{at:.1f}" fill="#5E6872">if nothing were shared</text>'
    )
    return "\n".join([*out, "</svg>", ""])


def main() -> None:
    """Print the table, and draw it."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--draw", type=Path)
    draw = parser.parse_args().draw
    rows = table()
    print(f"files a second; {CORE} s of a core and {1000 * TASK:.1f} ms of the scheduler for a task, "
          f"{READ / 1e6:.2f} MB read and {WRITTEN / 1e6:.2f} MB written")  # fmt: skip
    print("workers  " + "  ".join(f"{place.name:>24}" for place in PLACES))
    for n, values in rows:
        print(f"{n:7}  " + "  ".join(f"{value:24.1f}" for value in values))
    if draw is not None:
        draw.write_text(drawn(rows))


if __name__ == "__main__":
    main()
