"""Make the pictures in docs/screenshots from the demo docket, at 1280 x 800.

python tools/make_screenshots.py [--out FOLDER] [NAME …]
"""

from __future__ import annotations

import argparse
import os
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from aptandum.ui import theme
from aptandum.ui.app import application, open_shell
from aptandum.ui.shell import Shell, demo_path

ROOT = Path(__file__).resolve().parent.parent
DEMO = demo_path().parent


def settle(shell: Shell, seconds: float = 20) -> None:
    """Wait until nothing is being worked on and nothing is about to be."""
    session = shell.session
    end = time.monotonic() + seconds
    quiet = 0
    while time.monotonic() < end and quiet < 12:
        QApplication.processEvents()
        time.sleep(0.02)
        bench = session.bench
        ready = bench is None or (bench.preview is not None and bench.draft_is_current)
        quiet = quiet + 1 if ready and not session.queue.busy else 0


def demo(photo: str = "", brief: str = "") -> Shell:
    shell = open_shell(demo=True)
    if photo:
        for fitting in shell.session.docket.fittings:
            path = shell.session.docket.photo(fitting.photo).path
            if Path(path).name.startswith(photo) and fitting.brief.endswith(brief):
                shell.session.lay(fitting.id)
                break
    return shell


def start() -> Shell:
    shell = open_shell()
    shell.start.choose("vessary-ferries/deck-pass")
    return shell


def bench_fitted() -> Shell:
    shell = demo()
    settle(shell)
    shell.bench.ledger.select("size")
    return shell


def bench_supplied() -> Shell:
    shell = demo()
    shell.bench.open_station("source")
    return shell


def bench_proof() -> Shell:
    shell = demo()
    settle(shell)
    shell.session.confirm("expression", True)
    shell.session.conform()
    return shell


def bench_missed() -> Shell:
    shell = demo("blue_jug")
    settle(shell)
    shell.bench.ledger.select("longest_side")
    return shell


def bench_night() -> Shell:
    shell = demo("night_moor")
    settle(shell)
    shell.bench.open_station("file")
    shell.bench.set_tone(3)
    return shell


def bench_dim() -> Shell:
    theme.use(theme.DIM)
    shell = demo("lantern", "night-round")
    settle(shell)
    shell.bench.open_station("colour")
    shell.bench.set_tone(3)
    return shell


def bench_limit() -> Shell:
    shell = demo("lantern", "shop-header")
    shell.bench.open_station("file")
    shell.session.set({"file.quality": 100}, "Quality")
    return shell


def errors() -> Shell:
    folder = Path(tempfile.mkdtemp())
    cut = folder / "gull_on_pier.jpg"
    cut.write_bytes((DEMO / "blue_jug_03.jpg").read_bytes()[:40])
    (folder / "letter.jpg").write_text("Dear harbour master")
    shell = demo()
    settle(shell)
    shell.take_photos([str(cut), str(folder / "letter.jpg"), str(folder)])
    return shell


VIEWS: dict[str, Callable[[], Shell]] = {
    "first-screen": start,
    "bench-fitted": bench_fitted,
    "bench-supplied": bench_supplied,
    "bench-proof": bench_proof,
    "bench-missed": bench_missed,
    "bench-night": bench_night,
    "bench-dim-room": bench_dim,
    "bench-limit": bench_limit,
    "errors": errors,
}


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("names", nargs="*", default=list(VIEWS))
    parser.add_argument("--out", type=Path, default=ROOT / "docs/screenshots")
    parser.add_argument("--size", default="1280x800")
    chosen = parser.parse_args()
    chosen.out.mkdir(parents=True, exist_ok=True)
    app = application()
    wide, high = (int(v) for v in chosen.size.split("x"))
    for name in chosen.names or list(VIEWS):
        theme.use(theme.LIGHT)
        shell = VIEWS[name]()
        shell.resize(wide, high)
        shell.show()
        shell.setFocus(Qt.FocusReason.OtherFocusReason)
        settle(shell)
        if not shell.grab().save(str(chosen.out / f"{name}.png")):
            sys.exit(f"{name}.png could not be saved")
        print(chosen.out / f"{name}.png")
        shell.session.saved = shell.session.docket
        shell.close()
        shell.deleteLater()
        app.processEvents()
        QApplication.processEvents()


if __name__ == "__main__":
    main()
