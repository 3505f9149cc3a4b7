"""Walks every place in a real window while a screen reader reads it, and prints what was read, one JSON
object a line. Run by ``test_spoken.py`` on a screen and a bus of its own."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

os.environ["QT_LINUX_ACCESSIBILITY_ALWAYS_ON"] = "1"

from PyQt6.QtCore import QSocketNotifier
from PyQt6.QtWidgets import QApplication

from aptandum.core.docket.store import load
from aptandum.ui.app import application, open_shell
from aptandum.ui.bench.sheet.handles import Handles
from aptandum.ui.bench.stations import STATIONS
from aptandum.ui.docket_acts import demo_path
from aptandum.ui.signs import word
from aptandum.ui.spoken_parts import SpokenParts
from walking import other_places, settle


class Reader:
    """The screen reader beside the window; while it reads, the window lives on."""

    def __init__(self) -> None:
        self.process = subprocess.Popen(
            [sys.executable, str(Path(__file__).parent / "screen_reader.py")],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            bufsize=0,
        )
        self.held = b""
        self.notifier = QSocketNotifier(
            self.process.stdout.fileno(), QSocketNotifier.Type.Read, None
        )
        self.notifier.activated.connect(self.take)

    def take(self) -> None:
        data = os.read(self.process.stdout.fileno(), 1 << 20)
        if not data:
            self.notifier.setEnabled(False)
            self.held += b"[]\n"
        self.held += data

    def read(self) -> list[dict[str, object]]:
        self.process.stdin.write(b"read\n")
        while b"\n" not in self.held:
            QApplication.processEvents()
        line, _, self.held = self.held.partition(b"\n")
        return json.loads(line)


def main() -> None:
    app = application()
    shell = open_shell()
    shell.resize(1280, 800)
    shell.show()
    reader = Reader()

    def show(where: str, **more: object) -> None:
        settle(shell)
        for parts in (*shell.findChildren(SpokenParts), *shell.findChildren(Handles)):
            parts.follow()  # they do so by themselves once all has come to rest
        print(json.dumps({"where": where, "met": reader.read(), **more}), flush=True)

    show("first screen")
    shell.open_demo()
    for fitting in load(demo_path()).fittings:
        shell.session.model.lay(fitting.id)
        for station in STATIONS:
            shell.bench.open_station(station)
        settle(shell)
        rows = [
            [row.finding.title, word(row.finding.verdict), row.finding.says]
            for row in shell.bench.ledger.rows.values()
        ]
        show(f"bench {fitting.brief}", clauses=rows)
    for where in other_places(shell):
        show(where)
    # Places change while the reader is in the middle of one.
    for turn in range(12):
        reader.process.stdin.write(b"read\n")
        for place in ("bench", "board", "rulebooks", "desk")[turn % 4 :]:
            shell.go(place)
            QApplication.processEvents()
        while b"\n" not in reader.held:
            QApplication.processEvents()
        line, _, reader.held = reader.held.partition(b"\n")
    print(json.dumps({"where": "while places changed", "met": json.loads(line)}), flush=True)
    shell.board.stop()
    shell.handing.stop()
    shell.session.stop()
    assert app is not None
    os._exit(0)


if __name__ == "__main__":
    main()
