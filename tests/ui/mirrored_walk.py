"""Opens the demo's portrait from right to left and prints, as JSON, where things lie and what of them is mirrored.

python mirrored_walk.py LANGUAGE
"""

from __future__ import annotations

import json
import os
import sys
import tempfile
import time

os.environ["APTANDUM_LANGUAGE"] = sys.argv[1]
os.environ["QT_QPA_PLATFORM"] = "offscreen"
os.environ["HOME"] = tempfile.mkdtemp()
os.environ["XDG_DATA_HOME"] = os.environ["HOME"] + "/data"
os.environ["XDG_STATE_HOME"] = os.environ["HOME"] + "/state"
os.environ["XDG_CACHE_HOME"] = os.environ["HOME"] + "/cache"

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage
from PyQt6.QtTest import QTest

from aptandum.core.words import say
from aptandum.ui import theme
from aptandum.ui.app import application
from aptandum.ui.bench.ledger import ClauseRow
from aptandum.ui.rulebooks.shelf_list import ShelfList
from aptandum.ui.session import Session
from aptandum.ui.shell import Shell
from aptandum.ui.signs import sign_colour


def pixels(widget) -> np.ndarray:
    """What is painted of a widget: RGB, shape (h, w, 3)."""
    image = widget.grab().toImage().convertToFormat(QImage.Format.Format_RGB888)
    data = image.constBits()
    data.setsize(image.sizeInBytes())
    rows = np.frombuffer(data, np.uint8).reshape(image.height(), -1)
    return rows[:, : image.width() * 3].reshape(image.height(), image.width(), 3).astype(int)


def middle(widget, colour) -> float:
    """Where the pixels of a colour lie on the whole, in shares of a widget's width."""
    painted = pixels(widget)
    there = np.abs(painted - [colour.red(), colour.green(), colour.blue()]).sum(2) < 30
    return float(np.nonzero(there)[1].mean() / painted.shape[1])


def main() -> None:
    app = application()
    shell = Shell(Session())
    shell.session.dockets.may_show = lambda _folder: True
    shell.resize(1280, 800)
    shell.show()
    shell.open_demo()

    def settle() -> None:
        end = time.monotonic() + 60
        while time.monotonic() < end:
            app.processEvents()
            bench = shell.session.bench
            if bench is not None and bench.draft_is_current and not shell.session.jobs.busy:
                return

    settle()
    shell.go("bench")
    settle()
    bench = shell.bench
    rows = [one for one in shell.findChildren(ClauseRow) if one.finding.verdict == "meets"]
    first = bench.stations.stops["source"]
    QTest.mouseClick(bench.stations.stops["file"], Qt.MouseButton.LeftButton)
    settle()
    found = {
        "from the right": shell.isRightToLeft(),
        "ledger": bench.ledger.mapTo(shell, bench.ledger.rect().center()).x() / shell.width(),
        "source": first.mapTo(shell, first.rect().center()).x() / shell.width(),
        "sign": middle(rows[0], sign_colour("meets")),
        "title": middle(rows[0], theme.colour("ink")),
        "chosen": bench.stations.stops["file"].isChecked(),
        "sheet from the right": bench.sheet.isRightToLeft(),
    }
    shell.go("rulebooks")
    settle()
    shelf = shell.findChildren(ShelfList)[0]
    shelf.setCurrentRow(1)
    app.processEvents()
    found["bar"] = middle(shelf.viewport(), theme.colour("blue"))
    found["said"] = say("{n} cut away", n="3 %")
    print(json.dumps(found))
    shell.session.stop()
    sys.stdout.flush()
    os._exit(0)


if __name__ == "__main__":
    main()
