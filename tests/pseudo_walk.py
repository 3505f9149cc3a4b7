"""Walks every place in the pseudo language and prints, one JSON object a line, each text that a
person would meet, with where it was met. Run by ``test_words.py`` as a process of its own, since words
are translated when the process starts."""

from __future__ import annotations

import json
import os
import re
import shutil
import sys
import time
from pathlib import Path

os.environ["APTANDUM_LANGUAGE"] = "pseudo"

from PyQt6.QtGui import QAction, QPainter
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QLabel,
    QLineEdit,
    QListWidget,
    QMenu,
    QMessageBox,
    QTextBrowser,
    QWidget,
)

from aptandum.core import words
from aptandum.ui import guide
from aptandum.ui.app import application, open_shell
from aptandum.ui.bench.stations import STATIONS
from walking import settle

seen: set[tuple[str, str]] = set()
where = [""]


def met(text: object, how: str) -> None:
    if isinstance(text, str) and text.strip() and (text, how) not in seen:
        seen.add((text, how))
        print(json.dumps({"text": text, "how": how, "where": where[0]}), flush=True)


def listen_to_painters() -> None:
    """What is painted is met as well."""
    for name in ("drawText", "drawStaticText"):
        plain = getattr(QPainter, name)

        def drawn(self, *given, plain=plain):
            for one in given:
                met(one, "painted")
            return plain(self, *given)

        setattr(QPainter, name, drawn)


def look(part: QWidget) -> None:
    for widget in [part, *part.findChildren(QWidget)]:
        met(widget.toolTip(), "tool tip")
        met(widget.accessibleName(), "accessible name")
        met(widget.accessibleDescription(), "accessible description")
        if isinstance(widget, (QLabel, QAbstractButton)):
            met(widget.text(), type(widget).__name__)
        if isinstance(widget, QLineEdit):
            met(widget.placeholderText(), "placeholder")
        if isinstance(widget, QComboBox):
            for i in range(widget.count()):
                met(widget.itemText(i), "choice")
        if isinstance(widget, QListWidget):
            for i in range(widget.count()):
                met(widget.item(i).text(), "list")
        if isinstance(widget, QTextBrowser):
            for line in widget.toPlainText().split("\n"):
                met(line, "page")
        if isinstance(widget, (QMenu,)):
            met(widget.title(), "menu")
    for action in part.findChildren(QAction):
        met(action.text(), "action")
        met(action.toolTip().replace("...", ""), "action")
    met(part.windowTitle().removesuffix("[*]"), "title")


def show(shell, name: str) -> None:
    where[0] = name
    begun = time.monotonic()
    settle(shell)
    if os.environ.get("WALK_TIMES"):
        print(f"{time.monotonic() - begun:6.2f} {name}", file=sys.stderr)
    shell.grab()
    look(shell)


def dialogs() -> None:
    """A dialog is looked at instead of being waited for."""

    def run(self) -> int:
        self.show()
        QApplication.processEvents()
        self.grab()
        met(self.windowTitle().removesuffix("[*]"), "title")
        look(self)
        if isinstance(self, QMessageBox):
            met(self.text(), "question")
            met(self.informativeText(), "question")
        self.hide()
        return 0

    QDialog.exec = run
    QMessageBox.exec = run

    def nothing_chosen(_parent=None, title="", _folder="", kinds="", *_more):
        met(title, "title")
        met(re.sub(r"\(\*[^)]*\)|;;", "\n", kinds), "kinds of file")
        return "", ""

    QFileDialog.getOpenFileName = QFileDialog.getSaveFileName = nothing_chosen
    QFileDialog.getOpenFileNames = lambda *given: ([], nothing_chosen(*given)[0])
    QFileDialog.getExistingDirectory = lambda *given: nothing_chosen(*given)[0]


def main() -> None:
    home, few = Path(sys.argv[1]), len(sys.argv) > 2
    app = application()
    listen_to_painters()
    dialogs()
    shell = open_shell()
    shell.session.said.connect(lambda _kind, sentence: met(sentence, "message"))
    shell.resize(1280, 800)
    shell.show()
    show(shell, "first screen")
    shell.open_demo()
    from aptandum.core.docket.store import load
    from aptandum.ui.docket_acts import demo_path

    docket = load(demo_path())
    fittings = docket.fittings[:3] if few else docket.fittings
    for fitting in fittings:
        shell.session.model.lay(fitting.id)
        for station in STATIONS:
            shell.bench.open_station(station)
            show(shell, f"{fitting.brief} {station}")
        for view in list(shell.bench.views):
            shell.bench.show_view(view)
            show(shell, f"{fitting.brief} {view}")
        if shell.session.bench is not None:
            shell.session.making.conform()
            shell.bench.open_station("proof")
            show(shell, f"{fitting.brief} proof made")
            shell.bench.show_view("place")
            show(shell, f"{fitting.brief} in place")
    for dialog in (
        shell.find_command,
        shell.show_help,
        shell.ask_write,
        shell.ask_carry,
        shell.ask_ruler,
        shell.settle_conflict,
    ):
        where[0] = dialog.__name__
        dialog()
    where[0] = "guide"
    shell.show_guide()
    for row in range(shell._guide.list.count()):
        met(shell._guide.list.item(row).text(), "list")
        page = guide.page(list(guide.PAGES)[row])
        for block in re.sub(r"```.*?```", "", page, flags=re.S).split(
            "\n"
        ):  # what runs is no words
            for part in block.strip("|").split(" | "):
                met(re.sub(r"^(#+|-|\d\.) ", "", part.strip()), "page")
    shell._guide.close()
    shell.go("board")
    show(shell, "board")
    shell.board.grid.choose_all()
    show(shell, "board chosen")
    shell.go("rulebooks")
    for view in list(shell.rulebooks.views):
        shell.rulebooks.show_view(view)
        show(shell, f"rulebooks {view}")
    for book in shell.session.library.shelf.rulebooks:
        for brief in book.briefs:
            shell.rulebooks.show_brief(f"{book.body.id}/{brief.id}")
            shell.rulebooks.show_view("read")
            show(shell, f"rulebooks {brief.id}")
    shell.go("desk")
    show(shell, "desk")
    shell.desk.show_view("audit")
    show(shell, "audit, empty")
    shell.desk.audit.open_demo()
    show(shell, "audit")
    (home / "broken.jpg").write_bytes(b"\xff\xd8\xff")
    (home / "empty.png").write_bytes(b"")
    shutil.copytree(home, home / "many", ignore=shutil.ignore_patterns("*.log", "many"))
    where[0] = "bad files"
    shell.take_photos([str(home / "broken.jpg"), str(home / "empty.png"), str(home / "no.jpg")])
    shell.take_many([str(home / "many")])
    show(shell, "bad files")
    shell.session.dockets.load(home / "broken.jpg")
    shell.session.library.add_rulebook(str(home / "empty.png"))
    for act in (
        shell.copy_file,
        shell.open_folder,
        shell.ask_report,
        shell.paste,
        shell.copy_log,
        shell.hand_all,
        shell.ask_missing,
    ):
        where[0] = act.__name__
        if act not in (shell.hand_all,):
            act()
    show(shell, "messages")
    shell.board.stop()
    shell.handing.stop()
    shell.session.stop()
    assert app is not None
    os._exit(0)


if __name__ == "__main__":
    assert words.say("a") == "⟦a⟧"

    main()
