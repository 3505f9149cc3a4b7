"""The board with 2,000 photos and 8 briefs: opening it, a frame while it is scrolled and judging
runs, and memory; against painting the same number of small pictures with nothing round them.

    QT_QPA_PLATFORM=offscreen python benchmarks/bench_board.py [PHOTOS]

Reach: the board shows within 1 s of opening the docket; a frame takes 16 ms at the median and 50 ms
at the 99th percentile; memory stays under 700 MB.
"""

from __future__ import annotations

import os
import resource
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_DATA_HOME"] = os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()
os.environ["XDG_CACHE_HOME"] = tempfile.mkdtemp()

import numpy as np
from PIL import Image
from PyQt6.QtGui import QPainter, QPixmap
from PyQt6.QtWidgets import QApplication

from aptandum.core.docket.model import Docket, PhotoEntry
from aptandum.core.docket.store import save
from aptandum.core.readers import pool as readers
from aptandum.core.rulebook.shelf import read_shelf
from aptandum.ui.app import application, open_shell

BRIEFS = 8


def photos(folder: Path, n: int) -> list[str]:
    rng = np.random.default_rng(2)
    base = rng.integers(0, 255, (6, 8, 3)).astype(np.uint8)
    paths = []
    for i in range(n):
        path = folder / f"quay_{i:04}.jpg"
        turned = np.roll(base, i, axis=1) ^ (i % 64)
        Image.fromarray(turned).resize((900, 640), Image.Resampling.BICUBIC).save(path, quality=80)
        paths.append(str(path))
    return paths


def docket_of(paths: list[str]) -> Docket:
    shelf = read_shelf()
    names = [f"{book.body.id}/{b.id}" for book in shelf.rulebooks for b in book.briefs][:BRIEFS]
    entries = tuple(PhotoEntry(id=f"p{i}", path=path) for i, path in enumerate(paths, start=1))
    docket = Docket(title="Two thousand", photos=entries)
    docket = docket.with_fittings((e.id, name) for e in entries for name in names)
    kept = {book.body.id: book.text for book in shelf.rulebooks}
    return docket.model_copy(update={"rulebooks": kept})


def percent(values: list[float], p: float) -> float:
    return float(np.percentile(values, p)) * 1000


def main() -> None:
    readers.shared().warm()  # as the application does when it starts
    n = int(sys.argv[1]) if len(sys.argv) > 1 else 2000
    folder = Path(tempfile.mkdtemp())
    target = folder / "many.docket"
    save(docket_of(photos(folder, n)), target)
    app = application()
    shell = open_shell()
    shell.resize(1280, 800)
    shell.show()
    QApplication.processEvents()
    start = time.perf_counter()
    shell.session.dockets.load(target)
    shell.go("board")
    QApplication.processEvents()
    shell.grab()
    opened = time.perf_counter() - start
    board, bar = shell.board, shell.board.grid.verticalScrollBar()
    frames = []
    for i in range(400):
        bar.setValue(bar.value() + (90 if i % 100 < 60 else 900))
        start = time.perf_counter()
        board.grid.viewport().repaint()
        QApplication.processEvents()
        frames.append(time.perf_counter() - start)
        time.sleep(0.004)
    judged = len(board.judging.cells)
    busy = board.judging.busy
    bare = QPixmap(1280, 800)
    some = list(board.grid.pictures.values())[:40] or [QPixmap(256, 180)]
    floor = []
    for _ in range(50):
        start = time.perf_counter()
        painter = QPainter(bare)
        for k in range(40):
            painter.drawPixmap(k % 8 * 150, k // 8 * 100, 96, 78, some[k % len(some)])
        painter.end()
        floor.append(time.perf_counter() - start)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024
    print(f"{n} photos, {BRIEFS} briefs: the board stood after {opened:.2f} s (reach 1)")
    print(
        f"a frame while {'judging ran' if busy else 'all was judged'} ({judged} cells so far): "
        f"median {percent(frames, 50):.1f} ms (reach 16), 99th percentile "
        f"{percent(frames, 99):.1f} ms (reach 50); {percent(frames, 50) / percent(floor, 50):.1f} "
        "times the bare pictures"
    )
    print(f"peak memory {peak} MB (reach 700)")
    board.stop()
    shell.session.stop()
    shell.session.store.saved = shell.session.docket
    app.processEvents()
    sys.stdout.flush()
    os._exit(0)


if __name__ == "__main__":
    main()
