"""The docket's file: opened, saved, left, and dropped on the window."""

from __future__ import annotations

import os
from collections.abc import Sequence
from importlib import resources
from pathlib import Path

from platformdirs import user_documents_path
from PyQt6.QtCore import QTimer
from PyQt6.QtGui import (
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
)
from PyQt6.QtWidgets import (
    QFileDialog,
    QMessageBox,
)

from aptandum.core.atomic import write_atomic
from aptandum.core.rulebook.parcel import ENDING
from aptandum.ui.asking import where_to_save
from aptandum.ui.photo_acts import PhotoWindow
from aptandum.ui.start_words import SOURCES
from aptandum.ui.strings import t, t_n
from aptandum.ui.words.field import words_on

_FEW_FOLDERS = 6
_MANY = 4
"""Photos dropped at once, from which on they go to the board."""


_DISK_MS = 3000
"""How often it is seen whether the docket's file has been changed by somebody else."""


def demo_path() -> Path:
    """The docket that comes with the application."""
    return Path(str(resources.files("aptandum.data").joinpath("demo/vessary.docket")))


def own_demo() -> Path:
    """The demo's docket in a folder of the person's own, copied there where it is not yet.

    Raises:
        OSError: it could not be copied.
    """
    folder = user_documents_path() / t("Aptandum demo")
    folder.mkdir(parents=True, exist_ok=True)
    for source in sorted(demo_path().parent.iterdir()):
        target = folder / source.name
        if source.is_file() and not target.exists():
            write_atomic(target, source.read_bytes())
    return folder / demo_path().name


class DocketWindow(PhotoWindow):
    """The window, as far as dockets are opened, saved and left."""

    def watch_disk(self) -> None:
        """See from time to time whether somebody else has changed the docket's file."""
        watch = QTimer(self)
        watch.setInterval(_DISK_MS)
        watch.timeout.connect(self.session.dockets.watch)
        watch.start()
        self.errands_soon.timeout.connect(lambda: self.handing.look_for_orphans())

    def ask_source(self) -> None:
        """Ask for a page or a leaflet of rules, and read its words."""
        pattern = " ".join(f"*{ending}" for ending in SOURCES)
        found, _ = QFileDialog.getOpenFileName(
            self, t("Read rules from"), "", f"{t('Pages and leaflets')} ({pattern})"
        )
        if found:
            self.read_words(found)

    def read_words(self, path: str) -> None:
        """Read the rules of a page: where words are read already, else on the first screen."""
        if self.session.worded.put_source(path):
            if not self.at_words():
                self.show_start()
                self.start.words.field.setFocus()

    def open_fitting(self, fitting_id: str) -> None:
        """From the board to the bench."""
        if self.session.model.lay(fitting_id):
            self.go("bench")

    def may_show(self, folders: list[str]) -> bool:
        """Ask whether pictures may be shown that a docket names outside its own folder."""
        box = QMessageBox(self)
        few = folders[:_FEW_FOLDERS]
        more = len(folders) - len(few)
        if more > 0:
            few.append(t_n("{n} more", "{n} more", more))
        box.setText(t("This docket names pictures outside its own folder, in:"))
        box.setInformativeText(
            "\n".join(few) + "\n\n" + t("Whoever sent it may have chosen them. They are only read.")
        )
        show = box.addButton(t("Show them"), QMessageBox.ButtonRole.AcceptRole)
        leave = box.addButton(t("Leave them out"), QMessageBox.ButtonRole.RejectRole)
        box.setDefaultButton(leave)
        box.exec()
        return box.clickedButton() is show

    def ask_docket(self) -> None:
        """Ask for a docket to open."""
        found, _ = QFileDialog.getOpenFileName(self, t("Open docket"), "", "Docket (*.docket)")
        if found and self.may_leave():
            self.session.dockets.load(Path(found))

    def open_recent(self, path: str) -> None:
        """Open a docket that was open before."""
        if self.may_leave():
            self.session.dockets.load(Path(path))

    def open_demo(self) -> bool:
        """Open a copy of the docket that comes with the application, in a folder of the person's own; whether it is open."""
        if not self.may_leave():
            return False
        try:
            path = own_demo()
        except OSError as error:
            self.session.tell(
                t("The demo could not be copied: {why}.", why=error.strerror or error)
            )
            return False
        if not self.session.dockets.load(path):
            return False
        self.bench.open_station("frame")
        self.session.tell(
            t("A copy of the demo, to try things on: {folder}", folder=str(path.parent)),
            "note",
        )
        return True

    def new_docket(self) -> None:
        """Begin an empty docket."""
        if self.may_leave():
            self.session.dockets.new()

    def save(self) -> None:
        """Save the docket; where another program has changed its file meanwhile, ask first."""
        path = self.session.store.path
        if path is None:
            path = where_to_save(self, t("Save docket"), "", {t("Docket"): ".docket"})
            if path is None:
                return
        if self.session.dockets.changed_on_disk():
            self.settle_conflict()
        else:
            self.session.dockets.save(path)

    def save_as(self) -> None:
        """Save the docket as another file; it goes on as that one."""
        here = self.session.store.path
        first = str(here.parent / here.name) if here is not None else ""
        path = where_to_save(self, t("Save docket as"), first, {t("Docket"): ".docket"})
        if path is not None:
            self.session.dockets.save(path)

    def close_docket(self) -> None:
        """Leave this docket, and begin with an empty one."""
        if self.may_leave():
            self.session.dockets.new()
            self.show_start()

    def settle_conflict(self) -> None:
        """The docket's file holds another's changes: a person says whose stand."""
        path, dockets = self.session.store.path, self.session.dockets
        if path is None:
            return
        box = QMessageBox(self)
        box.setText(
            t(
                "{file} has been changed on the disk since it was opened here: by another window or "
                "program.",
                file=path.name,
            )
        )
        box.setInformativeText(
            t(
                "Keep mine: what is there is written over. Take theirs: this window shows what is "
                "there, and yours can be had back by Undo. Save beside: both are kept, as two "
                "files."
            )
        )
        mine = box.addButton(t("Keep mine"), QMessageBox.ButtonRole.DestructiveRole)
        theirs = box.addButton(t("Take theirs"), QMessageBox.ButtonRole.ActionRole)
        beside = box.addButton(t("Save beside"), QMessageBox.ButtonRole.AcceptRole)
        box.addButton(t("Cancel"), QMessageBox.ButtonRole.RejectRole)
        box.setDefaultButton(beside)
        box.exec()
        pressed = box.clickedButton()
        if pressed is mine:
            dockets.save(path, over_changes=True)
        elif pressed is theirs:
            dockets.take_theirs()
        elif pressed is beside:
            dockets.save_beside()

    def may_leave(self) -> bool:
        """Ask before unsaved changes would be lost."""
        docket = self.session.docket
        if self.session.store.is_saved or not self.isVisible():
            return True
        box = QMessageBox(self)
        box.setText(t("“{name}” has changes that are not saved.", name=docket.title))
        save = box.addButton(t("Save docket"), QMessageBox.ButtonRole.AcceptRole)
        leave = box.addButton(t("Leave without saving"), QMessageBox.ButtonRole.DestructiveRole)
        box.addButton(t("Stay"), QMessageBox.ButtonRole.RejectRole)
        box.exec()
        if box.clickedButton() is save:
            self.save()
            return self.session.docket == self.session.store.saved
        return box.clickedButton() is leave

    def next_fitting(self, way: int) -> None:
        """Open the next fitting of the docket (or the one before: ``way`` is -1)."""
        bench, fittings = self.session.bench, self.session.docket.fittings
        if bench is None or len(fittings) < 2:
            return
        at = [f.id for f in fittings].index(bench.fitting.id)
        self.session.model.lay(fittings[(at + way) % len(fittings)].id)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        if data is not None and (data.hasUrls() or data.hasText() or data.hasImage()):
            event.acceptProposedAction()
            self.start.field.over = True
            self.start.field.update()

    def dragLeaveEvent(self, event: object) -> None:
        self.start.field.over = False
        self.start.field.update()

    def dropEvent(self, event: QDropEvent | None) -> None:
        assert event is not None
        self.dragLeaveEvent(event)
        data = event.mimeData()
        paths = [url.toLocalFile() for url in data.urls() if url.isLocalFile()] if data else []
        if not paths and self.take_picture(data):
            event.acceptProposedAction()
            return
        if not paths:
            words = words_on(data)
            if words.strip():
                event.acceptProposedAction()
                self.session.worded.put(words)
                if not self.at_words():
                    self.show_start()
            return
        event.acceptProposedAction()
        self.take_files(paths)

    def take_files(self, paths: Sequence[str]) -> None:
        """Open dockets, rulebooks, pages of rules and photos, each as what it is."""
        dockets = [path for path in paths if path.lower().endswith(".docket")]
        if dockets and self.may_leave():
            self.session.dockets.load(Path(dockets[0]))
        books = [path for path in paths if path.lower().endswith((".toml", ENDING))]
        for path in books:
            if self.rulebooks.read(path):
                self.go("rulebooks")
        sources = [path for path in paths if path.lower().endswith(SOURCES)]
        if sources:
            self.read_words(sources[0])
        photos = [path for path in paths if path not in (*dockets, *books, *sources)]
        many = len(photos) > _MANY or any(os.path.isdir(path) for path in photos)
        if photos and (many or self.at_board()):
            self.take_many(photos)
        elif photos and self.is_built("bench") and self.bench.takes_photos(photos):
            return
        elif photos:
            self.take_photos(photos)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        assert event is not None
        if (self.is_built("rulebooks") and not self.rulebooks.may_close()) or not self.may_leave():
            event.ignore()
            return
        self.errands_soon.stop()
        if self.is_built("board"):
            self.board.stop()
        if self.is_built("handing"):
            self.handing.stop()
        self.session.stop()
        if self.session.autosave.keeper is not None:
            self.session.autosave.keeper.forget()
        event.accept()
