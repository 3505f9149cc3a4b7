"""Asking for photos: a file dialog that shows what each one is before it is opened."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import (
    QDialog,
    QFileDialog,
    QGridLayout,
    QHeaderView,
    QLabel,
    QTreeView,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.docket.found import ENDINGS
from aptandum.core.fitting.screen import for_screen, shown_on
from aptandum.core.photo.decode import open_photo, read_facts
from aptandum.core.photo.facts import FORMAT_NAMES, Facts, PhotoError
from aptandum.core.photo.profile import SPACE_NAMES
from aptandum.core.words import grouped, joined
from aptandum.ui import preferences, theme
from aptandum.ui.images import to_image
from aptandum.ui.jobs import Jobs
from aptandum.ui.strings import t
from aptandum.ui.widgets import label

_SIDE = 190
_MOST_PIXELS = 60_000_000
"""A larger photo is told of and not shown: nobody waits for it in a dialog."""


def said_of(facts: Facts) -> str:
    """What a file is, in a few lines."""
    if facts.error:
        return facts.error
    size = f"{grouped(facts.oriented_width or 0)} × {grouped(facts.oriented_height or 0)} px"
    space = SPACE_NAMES.get(facts.colour_space or "", "")
    kind = joined([FORMAT_NAMES[facts.format] if facts.format else "", space])
    ppi = t("{n} ppi", n=f"{facts.ppi_x:g}") if facts.ppi_x else t("no ppi stated")
    weight = t("{n} kB", n=grouped(round((facts.bytes or 0) / 1000)))
    return "\n".join((size, kind, ppi, weight))


class Preview(QWidget):
    """A photo, small, and what it is; read beside the dialog, and dropped where another is looked at meanwhile."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.jobs = Jobs()
        self.path = ""
        self.picture = QLabel()
        self.picture.setFixedSize(_SIDE, _SIDE)
        self.picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.words = label("", "second")
        self.words.setWordWrap(True)
        self.words.setAccessibleName(t("What the photo is"))
        column = QVBoxLayout(self)
        column.addWidget(self.picture)
        column.addWidget(self.words)
        column.addStretch(1)
        self.setFixedWidth(_SIDE + 24)

    def show_file(self, path: str) -> None:
        """Look at a file."""
        self.path = path
        self.picture.clear()
        self.words.setText("")
        if path:
            self.jobs.latest(
                "preview", lambda _late: _looked_at(path), self._came, lambda _why: None
            )

    def _came(self, found: tuple[str, str, Any]) -> None:
        path, words, picture = found
        if path != self.path:
            return
        self.words.setText(words)
        if picture is not None:
            room = QSize(_SIDE, _SIDE) * self.devicePixelRatioF()
            shown = QPixmap.fromImage(to_image(picture)).scaled(
                room, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
            )
            shown.setDevicePixelRatio(self.devicePixelRatioF())
            self.picture.setPixmap(shown)


def _looked_at(path: str) -> tuple[str, str, Any]:
    facts = read_facts(path)
    words = said_of(facts)
    if facts.error or (facts.width or 0) * (facts.height or 0) > _MOST_PIXELS:
        return path, words, None
    try:
        shown = for_screen(shown_on(open_photo(path, moving=True), 2 * _SIDE))
    except PhotoError as error:
        return path, str(error), None
    return path, words, getattr(shown, "colour", shown)


def photo_dialog(parent: QWidget | None, title: str) -> QFileDialog:
    """The dialog, not yet shown: ours with a preview, or the desktop's own where that is set."""
    dialog = QFileDialog(parent, title)
    every = " ".join(f"*{ending} *{ending.upper()}" for ending in sorted(ENDINGS))
    dialog.setNameFilters([f"{t('Photos')} ({every})", f"{t('All files')} (*)"])
    dialog.setFileMode(QFileDialog.FileMode.ExistingFiles)
    lately = preferences.photo_folders()
    if lately:
        dialog.setDirectory(lately[0])
    if preferences.kept("dialogs", "own") == "desktop":
        return dialog
    dialog.setOption(QFileDialog.Option.DontUseNativeDialog)
    dialog.setOption(QFileDialog.Option.HideNameFilterDetails)
    listed = dialog.findChild(QTreeView)
    head = listed.header() if listed is not None else None
    if head is not None:
        head.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
    layout = dialog.layout()
    if isinstance(layout, QGridLayout):
        preview = Preview(dialog)
        preview.setObjectName("preview")
        layout.addWidget(preview, 0, layout.columnCount(), layout.rowCount(), 1)
        dialog.currentChanged.connect(preview.show_file)
        dialog.finished.connect(preview.jobs.stop)
    dialog.resize(theme.px(900), theme.px(520))
    return dialog


def ask_for_photos(parent: QWidget | None, title: str) -> list[str]:
    """The photos that a person chooses; none where they choose none."""
    dialog = photo_dialog(parent, title)
    if dialog.exec() != QDialog.DialogCode.Accepted:
        return []
    return dialog.selectedFiles()
