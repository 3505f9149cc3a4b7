"""Photos come in: by a dialog, a drop, the clipboard, or from where they were moved."""

from __future__ import annotations

import os
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QMimeData
from PyQt6.QtWidgets import (
    QApplication,
    QDialog,
    QFileDialog,
    QMessageBox,
)

from aptandum.core.docket.moved import same
from aptandum.core.photo.facts import shown_name
from aptandum.ui import preferences
from aptandum.ui.pasted import kept_picture, link_of, picture_of
from aptandum.ui.start_words import SOURCES
from aptandum.ui.strings import t
from aptandum.ui.window import Window
from aptandum.ui.words.field import words_on

if TYPE_CHECKING:
    from aptandum.ui.blank_dialog import BlankDialog


class PhotoWindow(Window):
    """The window, as far as photos are taken in."""

    def take_photos(self, paths: Sequence[str]) -> None:
        """Take photos into the docket; one that cannot be used is said, and the next goes on."""
        taken = self.session.photos.take(paths)
        for folder in dict.fromkeys(os.path.dirname(os.path.abspath(path)) for path in paths):
            preferences.remember_folder(folder)
        if taken.troubles:
            self.session.tell("\n".join(taken.troubles))
        elif taken.ids:
            self.message.hide()
        self.start.show_state()
        if taken.ids:
            if self.start.brief and len(taken.ids) > 1 and not self.is_on_bench():
                self.session.many.start_fittings([(one, self.start.brief) for one in taken.ids])
            self._begin(taken.ids[-1])

    def is_on_bench(self) -> bool:
        """Whether the bench has a fitting on it, and not the first screen."""
        return self.bench_stack.currentWidget() is not self.start

    def _begin(self, photo_id: str | None = None) -> None:
        """Start the fitting once both photo and brief are known."""
        photos = self.session.docket.photos
        brief = self.start.brief
        if not brief and self.is_on_bench() and self.session.bench is not None:
            brief = self.session.bench.fitting.brief
        if photos and brief:
            self.session.model.start_fitting(photo_id or photos[-1].id, brief)
            preferences.remember_body(brief.partition("/")[0])

    def ask_photo(self) -> None:
        """Ask for photos to open."""
        from aptandum.ui import photo_dialog

        found = photo_dialog.ask_for_photos(self, t("Open photos"))
        if found:
            self.take_photos(found)

    def blank_dialog(self) -> BlankDialog:
        """The question how large a blank sheet is, and of what."""
        from aptandum.ui import blank_dialog

        name = self.start.brief
        if not name and self.session.bench is not None:
            name = self.session.bench.fitting.brief
        brief = self.session.library.find(name)[1] if name else None
        return blank_dialog.BlankDialog(brief, self)

    def ask_blank(self) -> None:
        """Begin from nothing: a blank sheet is made, kept as a file, and taken in like any photo."""
        dialog = self.blank_dialog()
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.take_blank(dialog.data, dialog.size_px)

    def take_blank(self, data: bytes, size: tuple[int, int]) -> None:
        """Keep a blank sheet as a file beside the docket, and take it in."""
        name = t("blank sheet {w} x {h}", w=size[0], h=size[1])
        try:
            path = kept_picture((data, ".png"), self.session.store.path, name)
        except OSError as error:
            why = (error.strerror or str(error)).lower()
            self.session.tell(t("The sheet could not be kept as a file: {why}.", why=why))
            return
        self.take_photos([str(path)])
        self.session.tell(t("The blank sheet is kept as {file}.", file=str(path)), "note")

    def ask_folder(self) -> None:
        """Take in the photos of a folder and of those inside it."""
        folder = QFileDialog.getExistingDirectory(self, t("Add the photos of a folder"))
        if folder:
            self.take_many([folder])

    def ask_folder_alone(self) -> None:
        """Take in the photos of a folder, and leave those inside it."""
        folder = QFileDialog.getExistingDirectory(self, t("Add the photos of a folder alone"))
        if folder:
            self.take_many([folder], deep=False)

    def take_many(self, paths: Sequence[str], deep: bool = True) -> None:
        """Take in many photos at once; they stand on the board, below the brief that the first screen has chosen for them."""
        brief = "" if self.at_board() or self.is_on_bench() else self.start.brief
        for path in paths:
            full = os.path.abspath(path)
            preferences.remember_folder(full if os.path.isdir(full) else os.path.dirname(full))
        self.go("board")
        self.session.many.take_in(list(paths), deep, brief)
        if brief:
            preferences.remember_body(brief.partition("/")[0])

    def paste(self) -> None:
        """Take in the photos that are on the clipboard, as files; on the first screen a text or a page is
        rules in words."""
        clipboard = QApplication.clipboard()
        data = clipboard.mimeData() if clipboard is not None else None
        urls = data.urls() if data is not None else []
        paths = [url.toLocalFile() for url in urls if url.isLocalFile()]
        words = "" if paths else words_on(data).strip()
        pages = [path for path in paths if path.lower().endswith(SOURCES)]
        if pages and (self.at_start() or self.at_words()):
            self.session.worded.put_source(pages[0])
        elif paths:
            self.take_many(paths)
        elif self.take_picture(data):
            return
        elif words and self.at_start():
            self.start.words.paste(words)
        elif words and self.at_words():
            self.session.worded.put(words)
        else:
            self.session.tell(
                t("There is no picture, no file and no text on the clipboard."), "note"
            )

    def take_picture(self, data: QMimeData | None) -> bool:
        """Take a picture that was copied or dragged as such, from a browser for example: it is kept as a file. A mere
        link is not followed, and that is said. Whether there was either."""
        held = picture_of(data)
        if held is not None:
            try:
                path = kept_picture(held, self.session.store.path)
            except OSError as error:
                why = (error.strerror or str(error)).lower()
                self.session.tell(t("The picture could not be kept as a file: {why}.", why=why))
                return True
            self.take_photos([str(path)])
            self.session.tell(t("The picture is kept as {file}.", file=shown_name(path)), "note")
            return True
        link = link_of(data)
        if link:
            self.session.tell(
                t(
                    "{link} is a link. Nothing is fetched from the network: save the picture first, "
                    "then open it here.",
                    link=link,
                ),
                "note",
            )
        return bool(link)

    def at_start(self) -> bool:
        """Whether the first screen is what is seen."""
        return self.start.isVisible()

    def at_words(self) -> bool:
        """Whether rules are seen beside their words."""
        return self.is_built("rulebooks") and self.rulebooks.words.isVisible()

    def conform(self) -> None:
        """Conform to the brief; on the first screen, take the rules in words."""
        if self.at_start() and self.start.words.use.isEnabled():
            self.start.words.take()
        elif self.at_words():
            self.rulebooks.words.take()
        else:
            self.session.making.conform()

    def ask_damaged(self, why: str) -> None:
        """Whether a file is made of a damaged photo all the same."""
        box = QMessageBox(self)
        box.setText(why)
        box.setInformativeText(
            t("A file made of it shows what is damaged, or lacks it. Look at the picture first.")
        )
        use = box.addButton(t("Make the file all the same"), QMessageBox.ButtonRole.AcceptRole)
        stop = box.addButton(t("Make no file"), QMessageBox.ButtonRole.RejectRole)
        box.setDefaultButton(stop)
        box.exec()
        if box.clickedButton() is use:
            self.session.making.use_damaged()

    def ask_missing(self) -> None:
        """Where a photo lies that is not where it was; another picture is asked about first."""
        entry = self.session.photos.missing()
        if entry is None:
            self.session.tell(t("Every photo of this docket is where it should be."), "note")
            return
        name = Path(entry.path).name
        found, _ = QFileDialog.getOpenFileName(self, t("Where is {file}?", file=name))
        if found and (same(entry, found) or self.may_take_another(name, found)):
            self._found(entry.id, found)

    def _found(self, photo_id: str, path: str) -> None:
        """A photo lies elsewhere now; where nothing is on the bench, one of its fittings is laid
        there."""
        self.session.photos.found(photo_id, path)
        fittings = [f for f in self.session.docket.fittings if f.photo == photo_id]
        if self.session.bench is None and fittings:
            self.session.model.lay(fittings[0].id)

    def may_take_another(self, name: str, found: str) -> bool:
        """Ask whether another picture is to take a lost photo's place."""
        box = QMessageBox(self)
        box.setText(
            t(
                "{new} is not the same picture as {old}. Its frames and marks may not fit.",
                new=Path(found).name,
                old=name,
            )
        )
        take = box.addButton(t("Take it"), QMessageBox.ButtonRole.AcceptRole)
        box.addButton(t("Leave it"), QMessageBox.ButtonRole.RejectRole)
        box.exec()
        return box.clickedButton() is take
