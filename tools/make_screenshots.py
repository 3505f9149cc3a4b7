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
# Nobody's own rulebooks and dockets in the pictures.
os.environ["XDG_DATA_HOME"] = os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()

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
    shell.session.take_over(shell.session.offers()[0].new)
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


def rulebooks(brief: str, photo: str = "") -> Shell:
    """The place of rulebooks with a brief, and one photo of the docket chosen on the chart."""
    shell = demo()
    shell.resize(1280, 800)
    shell.show()
    shell.go("rulebooks")
    settle(shell)
    shell.rulebooks.show_brief(brief)
    chart = shell.rulebooks.chart
    for point in chart.photos:
        if photo and point.name.startswith(photo):
            chart.look_at(point.size, point)
    return shell


def rulebooks_impossible() -> Shell:
    shell = rulebooks("quayside-exchange/item-picture")
    shell.rulebooks.read(str(DEMO / "keepers-hall-draft.toml"))
    shell.message.hide()
    return shell


def rulebooks_changes() -> Shell:
    shell = rulebooks("quayside-exchange/item-picture")
    shell.rulebooks.show_view("changes")
    return shell


def rulebooks_form() -> Shell:
    """A clause with a slip in it, and one that is still to be written."""
    shell = rulebooks("keepers-hall/programme-tile")
    shell.rulebooks.change()
    form = shell.rulebooks.form
    form.add_clause()
    form.clauses.setCurrentRow(4)
    form.high.setText("500 K")
    form.high.textEdited.emit("500 K")
    return shell


def bench_edge() -> Shell:
    """Hair at the top edge: the frame from marks does what the photo allows."""
    shell = demo("osk")
    settle(shell)
    shell.bench.open_station("frame")
    shell.session.frame_from_marks()
    shell.bench.ledger.select("headroom")
    return shell


def bench_straightened() -> Shell:
    shell = demo("mirelle")
    settle(shell)
    shell.bench.open_station("frame")
    shell.session.level_eyes()
    shell.session.frame_from_marks()
    return shell


def bench_zones() -> Shell:
    shell = demo()
    photo = next(p for p in shell.session.docket.photos if "blue_jug" in p.path)
    shell.session.start_fitting(photo.id, "pocketvane/wall-slim")
    settle(shell)
    shell.bench.open_station("frame")
    shell.bench.ledger.select("zones_clear")
    return shell


def bench_padded() -> Shell:
    shell = demo("blue_jug")
    shell.bench.open_station("frame")
    shell.session.set({"frame.fill": "pad", "frame.window": None}, "Pad to shape")
    settle(shell)
    shell.bench.show_view("sides")
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
    "bench-edge": bench_edge,
    "bench-straightened": bench_straightened,
    "bench-zones": bench_zones,
    "bench-padded": bench_padded,
    "rulebooks-range": lambda: rulebooks("keepers-hall/programme-tile", "lantern"),
    "rulebooks-exact": lambda: rulebooks("vessary-ferries/deck-pass", "ines"),
    "rulebooks-impossible": rulebooks_impossible,
    "rulebooks-changes": rulebooks_changes,
    "rulebooks-form": rulebooks_form,
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
        shell.rulebooks.form.begin(None)
        shell.close()
        shell.deleteLater()
        app.processEvents()
        QApplication.processEvents()


if __name__ == "__main__":
    main()
