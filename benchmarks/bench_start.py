"""How long a start takes, each beside the bare thing that does as little as can be.

    QT_QPA_PLATFORM=offscreen python benchmarks/bench_start.py [TIMES] [APTANDUM]

APTANDUM is the program to be started; by default the one of this environment. Wall time, the best of TIMES (15) runs
taken in turns, so that whatever else the machine does falls on all alike; processor time of the program and of all that
it starts; memory of the window's own process at rest.

Reach: ``--version`` below 2 bare Pythons, ``--help`` below 15, ``facts`` of one photo below 4 times Pillow reading it,
the window up within 0.6 s and below 180 MB.
"""

from __future__ import annotations

import os
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
for name in ("XDG_DATA_HOME", "XDG_STATE_HOME", "XDG_CACHE_HOME", "XDG_DOCUMENTS_DIR"):
    os.environ[name] = tempfile.mkdtemp()

PHOTO = Path(__file__).resolve().parent.parent / "src/aptandum/data/demo/quill_harrow_0119.jpg"
BARE_WINDOW = """
from PyQt6.QtWidgets import QApplication, QWidget
app = QApplication([]); window = QWidget(); window.show(); app.processEvents()
import os; os._exit(0)
"""
WINDOW = """
import gc; gc.disable()
from PyQt6.QtCore import QTimer
from aptandum.ui.app import application, open_shell
app = application(); shell = open_shell(); shell.show()
def up():
    import os, sys
    pages = int(open("/proc/self/statm").read().split()[1])
    print(pages * os.sysconf("SC_PAGE_SIZE") / 1e6); sys.stdout.flush(); os._exit(0)
QTimer.singleShot(0, up); app.exec()
"""


def run(call: list[str]) -> tuple[float, float, str]:
    """Wall and processor time of a call in milliseconds, and what it printed."""
    before, start = resource.getrusage(resource.RUSAGE_CHILDREN), time.perf_counter()
    said = subprocess.run(call, capture_output=True, text=True, check=False).stdout
    wall = time.perf_counter() - start
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    spent = after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime
    return wall * 1000, spent * 1000, said


def main() -> None:
    """Take the times, and print them with what they are to be below."""
    times = int(sys.argv[1]) if len(sys.argv) > 1 else 15
    program = (
        [sys.argv[2]] if len(sys.argv) > 2 else [str(Path(sys.executable).parent / "aptandum")]
    )
    python = sys.executable
    calls = {
        "bare Python": [python, "-c", "pass"],
        "--version": [*program, "--version"],
        "--help": [*program, "--help"],
        "Pillow reads it": [
            python,
            "-c",
            f"from PIL import Image; Image.open({str(PHOTO)!r}).load()",
        ],
        "facts": [*program, "facts", "--json", str(PHOTO)],
        "facts --quick": [*program, "facts", "--json", "--quick", str(PHOTO)],
        "a bare window": [python, "-c", BARE_WINDOW],
        "the window": [python, "-c", WINDOW],
    }
    taken: dict[str, list[tuple[float, float, str]]] = {name: [] for name in calls}
    for _ in range(times):
        for name, call in calls.items():
            taken[name].append(run(call))
    best = {name: min(one[0] for one in every) for name, every in taken.items()}
    spent = {name: min(one[1] for one in every) for name, every in taken.items()}
    middle = {
        name: sorted(one[0] for one in every)[len(every) // 2] for name, every in taken.items()
    }
    beside = {
        "--version": ("bare Python", 2.0), "--help": ("bare Python", 15.0), "facts": ("Pillow reads it", 4.0),
        "facts --quick": ("Pillow reads it", 4.0), "the window": ("a bare window", None),
    }  # fmt: skip
    print(f"{'':18}{'best ms':>9}{'median':>9}{'CPU ms':>9}  ratio of the best")
    for name in calls:
        line = f"{name:18}{best[name]:9.0f}{middle[name]:9.0f}{spent[name]:9.0f}"
        if name in beside:
            floor, reach = beside[name]
            wanted = f" (below {reach:g})" if reach else " (below 600 ms)"
            line += f"  {best[name] / best[floor]:.1f} x {floor}{wanted}"
        print(line)
    memory = max(float(one[2]) for one in taken["the window"] if one[2].strip())
    print(f"the window at rest: {memory:.0f} MB (below 180)")


if __name__ == "__main__":
    main()
