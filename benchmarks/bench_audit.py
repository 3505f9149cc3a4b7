"""An audit of a made listing of 100,000 items that show 40,000 pictures, with known faults, at three visits a week apart.

    QT_QPA_PLATFORM=offscreen python benchmarks/bench_audit.py [ITEMS] [PICTURES]

Every list, count and "since" is compared with what was made wrong; then the window opens the audit as the book knows it.

Reach: the window below 400 MB, and the audit open in 2 s. Beside it the bare thing: the same rows read by the csv module,
and a stat of every picture.
"""

from __future__ import annotations

import csv
import os
import random
import subprocess
import sys
import tempfile
import time
from datetime import datetime, timedelta
from itertools import islice
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
os.environ["XDG_DATA_HOME"] = os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()
os.environ["XDG_CACHE_HOME"] = tempfile.mkdtemp()

import numpy as np
from PIL import Image
from PyQt6.QtCore import QTimer

from aptandum.core.docket import audit, audit_lists, audit_run
from aptandum.core.docket.audit_book import AuditBook, rules_key
from aptandum.core.docket.audit_found import Found
from aptandum.core.docket.batch import run
from aptandum.core.rulebook.toml import parse_rulebook
from aptandum.core.workers import Workers

RULES = """format = 1
[body]
id = "bench"
name = "Bench"
[[brief]]
id = "item"
title = "Item"
[[brief.clause]]
measure = "longest_side"
at_least = "40 px"
[[brief.clause]]
measure = "format"
exactly = "jpeg"
"""
FIRST = datetime.fromisoformat("2026-11-01T09:00:00+01:00")


_LOOK_MS = 10


def picture(kind: str) -> bytes:
    """A small picture that meets, is too small, or is of the wrong format."""
    import io

    out = io.BytesIO()
    side = 30 if kind == "small" else 48
    pixels = np.full((side, side, 3), 120, np.uint8)
    Image.fromarray(pixels).save(out, "PNG" if kind == "png" else "JPEG")
    return out.getvalue()


def main() -> None:
    """Make it, visit it three times, open it in the window."""
    items, pictures = (
        (int(sys.argv[1]), int(sys.argv[2])) if len(sys.argv) > 2 else (100_000, 40_000)
    )
    rng = random.Random(3)
    folder = Path(tempfile.mkdtemp())
    kinds = {name: picture(name) for name in ("good", "small", "png")}
    stands = [rng.choices(["good", "small", "png"], [8, 1, 1])[0] for _ in range(pictures)]
    for n, kind in enumerate(stands):
        (folder / f"p{n:06d}.jpg").write_bytes(kinds[kind])
    shows = [rng.randrange(pictures) for _ in range(items)]
    listed = list(range(items))
    brief = parse_rulebook(RULES).briefs[0]
    docket = folder / "audit.docket"
    book = AuditBook(folder / "audit.audit.sqlite")
    key, source = rules_key(RULES, brief.id, False), str(folder / "list.csv")
    before: dict[str, bool] = {}
    wrong = 0
    for visit in range(3):
        if visit:
            for n in rng.sample(range(pictures), pictures // 20):
                stands[n] = rng.choice(["good", "small", "png"])
                (folder / f"p{n:06d}.jpg").write_bytes(kinds[stands[n]])
            gone = set(rng.sample(listed, items // 100))
            listed = [n for n in listed if n not in gone]
        with open(source, "w", newline="") as stream:
            writer = csv.writer(stream)
            writer.writerow(["sku", "title", "picture", "price", "note"])
            writer.writerows(
                [f"s{n}", f"Jug {n % 45}", f"p{shows[n]:06d}.jpg", n % 97, "x" * 20] for n in listed
            )
        start = time.monotonic()
        rows = audit.read_listing(source)
        found, looks = Found(rows), 0
        for known in book.looked(rows, ~found.looked, key):
            found.put_known(known)
        planned = audit_run.planned(rows, ~found.looked, brief)
        with Workers(os.cpu_count()) as pool:
            come = run(planned, pool, os.cpu_count() or 1, None, audit_run.look, audit_run.lost)
            while some := list(islice(come, 500)):
                for places, one in some:
                    found.put(places, one)
                book.remember((one for _places, one in some), key)
                looks += len(some)
        looked = time.monotonic() - start
        book.record(book.begin(source, "bench/item", FIRST + timedelta(weeks=visit)), found)
        every = audit_lists.told(found, book.remembered(source, "bench/item", rows.keys))
        truth = {f"s{n}": stands[shows[n]] != "good" for n in listed}
        told = {one.key: one.in_danger for one in every}
        fell = {k for k, bad in truth.items() if bad and visit and not before[k]}
        rose = {k for k, bad in truth.items() if not bad and before.get(k)}
        held = {one.key for one in every.of_group(audit_lists.FELL)}
        since = book.since(source, "bench/item")
        wrong += (told != truth) + (held != fell) + (since.rose != len(rose))
        wrong += len(since.gone) != len(before.keys() - truth.keys())
        small = sum(stands[shows[n]] == "small" for n in listed)
        wrong += {c: n for c, _t, n in every.titles()}.get("longest_side", 0) != small
        print(f"visit {visit + 1}: {len(rows)} items, {looks} pictures looked at in {looked:.1f} s, "
              f"{sum(truth.values())} in danger, {len(fell)} newly, {len(rose)} mended, wrong so far {wrong}")  # fmt: skip
        before = truth
    book.close()
    bare = time.monotonic()
    with open(source, newline="") as stream:
        names = {row[2] for row in csv.reader(stream)}
    for name in names:
        (folder / name).exists()
    bare = time.monotonic() - bare
    window(source, docket, len(listed), bare)


def window(source: str, docket: Path, many: int, bare: float) -> None:
    """Open the audit in a window, and say how long it took and what it weighs."""
    from aptandum.core.docket.model import Audited, Docket
    from aptandum.core.docket.store import save

    audited = Audited(source=source, brief="bench/item")
    save(Docket(title="Bench", audit=audited, rulebooks={"bench": RULES}), docket)
    call = [sys.executable, __file__, "--window", str(docket), str(many), str(bare)]
    subprocess.run(call, check=True)


def opened(docket: Path, many: int, bare: float) -> None:
    """In a process of its own, as whoever opens it has."""
    from aptandum.core.figures import grouped
    from aptandum.ui.app import application, open_shell

    app = application()
    shell = open_shell()
    shell.session.dockets.may_show = lambda folders: True
    shell.show()
    shell.session.dockets.load(docket)
    start = time.monotonic()
    shell.go("desk")
    shell.desk.show_view("audit")
    model, side = shell.session.audit, shell.desk.audit.side
    last, worst, first, whole = start, 0.0, 0.0, 0.0

    def look() -> None:
        """Between all else that the window does, as its own event loop lets it come."""
        nonlocal last, worst, first, whole
        now = time.monotonic()
        worst, last = max(worst, now - last - _LOOK_MS / 1000), now
        if not first and shell.desk.audit.rows.items:
            first = now - start
        said = side.count.text()
        if not whole and f"of {grouped(many)} are" in said and "still" not in said:
            whole = now - start
        assert now - start < 900, (len(model.checked), len(model.items))
        if first and len(model.checked) == many and not shell.session.jobs.busy:
            app.quit()

    timer = QTimer(timeout=look, interval=_LOOK_MS)
    timer.start()
    app.exec()
    took = time.monotonic() - start
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    weighs = pages * os.sysconf("SC_PAGE_SIZE") / 1e6
    said = shell.desk.audit.side.count.text()
    print(f"the window: first rows after {first:.1f} s, all of {said!r} after {whole or took:.1f} s (reach 2), written down after {took:.1f} s (bare reading {bare:.1f}), "
          f"longest it stood still {worst:.2f} s, {weighs:.0f} MB (reach 400)")  # fmt: skip
    sys.stdout.flush()
    app.processEvents()
    os._exit(0)


if __name__ == "__main__":
    if sys.argv[1:2] == ["--window"]:
        opened(Path(sys.argv[2]), int(sys.argv[3]), float(sys.argv[4]))
    else:
        main()
