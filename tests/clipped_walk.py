"""Walks every place in German, the longest of the languages, and prints, one JSON object a line, each
text for which its widget has too little room, or the box into which it is painted. Run by ``test_languages.py`` as a process of its own, since
words are translated when the process starts.

    clipped_walk.py WIDTHxHEIGHT
"""

from __future__ import annotations

import json
import os
import sys
import threading

os.environ.setdefault("APTANDUM_LANGUAGE", "de")

from PyQt6.QtCore import QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QCheckBox,
    QComboBox,
    QDialog,
    QLabel,
    QRadioButton,
    QStyle,
    QStyleOptionComboBox,
    QWidget,
)

from aptandum.core.docket.standings import cell_of
from aptandum.core.docket.store import load
from aptandum.core.photo.decode import open_photo
from aptandum.ui.app import application, open_shell
from aptandum.ui.bench.stations import STATIONS
from aptandum.ui.docket_acts import demo_path
from aptandum.ui.jobs import Progress
from aptandum.ui.strings import t
from aptandum.ui.widgets import Elided
from walking import other_places, settle

told: set[tuple[str, str]] = set()


def wanted(widget: QWidget) -> tuple[str, QSize] | None:
    """The text of a widget and the room that it needs; ``None``: it has none, or shortens it itself."""
    if isinstance(widget, QLabel):
        text = widget.text()
        if isinstance(widget, Elided) or not text or widget.textFormat() == Qt.TextFormat.RichText:
            return None
        if widget.wordWrap():
            return text, QSize(0, widget.heightForWidth(widget.width()))
        return text, widget.sizeHint()
    if isinstance(widget, QComboBox):
        text = widget.currentText()
        if "/" in str(widget.currentData()):  # a brief, by the name that its body gave it
            return None
        option = QStyleOptionComboBox()
        widget.initStyleOption(option)
        style = widget.style()
        assert style is not None
        part = QStyle.SubControl.SC_ComboBoxEditField
        field = style.subControlRect(QStyle.ComplexControl.CC_ComboBox, option, part, widget)
        over = widget.fontMetrics().horizontalAdvance(text) - field.width()
        return text, QSize(widget.width() + over, 0)
    if isinstance(widget, QAbstractButton) and widget.text():
        if isinstance(widget, (QCheckBox, QRadioButton)):
            return widget.text(), widget.sizeHint()
        return widget.text(), QSize(widget.sizeHint().width(), 0)
    return None


def look(part: QWidget, where: str) -> None:
    """Tell each text that has no room, once."""
    for widget in part.findChildren(QWidget):
        if not widget.isVisible() or not widget.width() or not widget.height():
            continue
        need = wanted(widget)
        if need is None:
            continue
        text, room = need
        if room.width() > widget.width() + 1 or room.height() > widget.height() + 1:
            if (text, type(widget).__name__) not in told:
                told.add((text, type(widget).__name__))
                size = [room.width(), widget.width(), room.height(), widget.height()]
                print(json.dumps({"text": text, "where": where, "needs_has": size}), flush=True)


_draw = QPainter.drawText
_now = [""]
"""The place that is looked at; empty: something is being laid out, and will be painted anew."""


def _drawn(painter: QPainter, *args: object) -> object:
    """Paint a text, and tell it where its box is too small: what lies beyond is not seen."""
    if (
        _now[0]
        and len(args) >= 3
        and isinstance(args[0], (QRect, QRectF))
        and isinstance(args[2], str)
    ):
        box, flags, text = QRectF(args[0]), int(args[1]), args[2]
        dont_clip = bool(flags & int(Qt.TextFlag.TextDontClip))
        wraps = flags & int(Qt.TextFlag.TextWordWrap)
        room = QRectF(0, 0, box.width() if wraps else 1e5, 1e5)
        need = QFontMetricsF(painter.font()).boundingRect(room, flags & ~0x84 & ~0x80, text)
        over = need.width() > box.width() + 1 or need.height() > box.height() + 3
        if over and not dont_clip and (text, "painted") not in told:
            told.add((text, "painted"))
            size = [need.width(), box.width(), need.height(), box.height()]
            print(json.dumps({"text": text, "where": _now[0], "painted": size}), flush=True)
    return _draw(painter, *args)


def main() -> None:
    width, height = (int(side) for side in sys.argv[1].split("x"))
    app = application()

    def run(dialog: QDialog) -> int:
        dialog.show()
        QApplication.processEvents()
        look(dialog, type(dialog).__name__)
        dialog.hide()
        return 0

    QDialog.exec = run
    QPainter.drawText = _drawn
    shell = open_shell()
    shell.resize(width, height)
    shell.show()

    def show(where: str) -> None:
        settle(shell)
        look(shell, where)
        _now[0] = where
        shell.grab()
        _now[0] = ""

    def show_at_work(where: str) -> None:
        """The same place while something long, and something else, is under way."""
        ready = threading.Event()

        def work(progress: Progress) -> None:
            progress.count(7, 12)
            ready.wait()

        for name in ("quayside_listing.csv", "the_other_listing.csv"):
            words = t("Auditing {name} …", name=name)
            shell.session.jobs.command(words, work, lambda _done: None)
        while shell.session.jobs.commands[-1].n != 7:
            QApplication.processEvents()
        for _ in range(12):
            QApplication.processEvents()
        look(shell, where)
        ready.set()
        settle(shell)

    def unlooked() -> None:
        """The board as it is before people have been looked for, at its fittings that ask for most."""
        board = shell.board
        photos = {entry.id: entry for entry in shell.session.docket.photos}
        for fitting in fittings:
            brief = shell.session.library.shelf.find(fitting.brief)[1]
            facts = open_photo(photos[fitting.photo].path).facts
            board.grid.keep(cell_of(facts, brief, fitting))
        for r, row in enumerate(board.grid.rows):
            for c in range(len(board.grid.columns)):
                board.grid.go((r, c))
                for _ in range(6):
                    QApplication.processEvents()
                look(shell, f"board, nobody looked for, {row.path} {c}")

    show("first screen")
    shell.open_demo()
    fittings = load(demo_path()).fittings
    places = 0
    for fitting in fittings:
        shell.session.model.lay(fitting.id)
        for station in STATIONS:
            shell.bench.open_station(station)
            show(f"{fitting.brief} {station}")
            places += 1
        for view in list(shell.bench.views):
            shell.bench.show_view(view)
            show(f"{fitting.brief} {view}")
    shell.session.making.conform()
    shell.bench.open_station("proof")
    show("proof made")
    for name in ("find_command", "ask_write", "ask_carry", "ask_ruler", "ask_settings"):
        getattr(shell, name)()
    for where in other_places(shell):
        show(where)
        show_at_work(f"{where}, at work")
        if where == "board":
            unlooked()
    assert app is not None
    print(json.dumps({"places": places}), flush=True)
    shell.board.stop()
    shell.handing.stop()
    shell.session.stop()
    os._exit(0)


if __name__ == "__main__":
    main()
