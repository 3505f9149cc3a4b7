"""Carrying a frame to other photos: which ones, and by what."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QButtonGroup,
    QDialog,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QRadioButton,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.docket.model import PhotoEntry
from aptandum.core.fitting.carry import WAYS, Way
from aptandum.ui.strings import t
from aptandum.ui.widgets import button, label

_ID = Qt.ItemDataRole.UserRole


class CarryDialog(QDialog):
    """Photos to tick, and three ways to carry."""

    def __init__(
        self, photos: list[PhotoEntry], brief: str, marks: bool, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(t("Copy the frame"))
        self.setMinimumWidth(440)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 16, 20, 16)
        column.setSpacing(8)
        column.addWidget(label(t("Copy the frame to"), "title"))
        column.addWidget(
            label(t("Each photo gets a fitting for “{brief}”.", brief=brief), "second")
        )
        self.photos = QListWidget()
        self.photos.setAccessibleName(t("Photos to copy the frame to"))
        for entry in photos:
            item = QListWidgetItem(Path(entry.path).name)
            item.setData(_ID, entry.id)
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked)
            self.photos.addItem(item)
        column.addWidget(self.photos, 1)
        self.ways: dict[Way, QRadioButton] = {}
        group = QButtonGroup(self)
        said = {
            "share": t("the same share of each photo"),
            "pixels": t("the same pixels"),
            "marks": t("from each photo's own marks"),
        }
        for way in WAYS:
            made = QRadioButton(said[way])
            made.setEnabled(way != "marks" or marks)
            group.addButton(made)
            self.ways[way] = made
            column.addWidget(made)
        self.ways["marks" if marks else "share"].setChecked(True)
        row = QHBoxLayout()
        row.addStretch(1)
        self.stay = button(t("Leave it"), "", self.reject)
        self.carry = button(t("Copy the frame"), "act", self.accept)
        row.addWidget(self.stay)
        row.addWidget(self.carry)
        column.addLayout(row)
        self.carry.setDefault(True)

    @property
    def way(self) -> Way:
        return next(way for way, made in self.ways.items() if made.isChecked())

    @property
    def chosen(self) -> list[str]:
        items = [self.photos.item(i) for i in range(self.photos.count())]
        return [
            item.data(_ID)
            for item in items
            if item is not None and item.checkState() == Qt.CheckState.Checked
        ]
