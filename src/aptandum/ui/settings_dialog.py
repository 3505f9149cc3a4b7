"""What a person sets on this machine, on one page."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from aptandum import language
from aptandum.ui import preferences, theme
from aptandum.ui.strings import t
from aptandum.ui.widgets import Choice, button, hairline, label

CHOICES: dict[str, tuple[str, dict[Any, str]]] = {
    "language": (t("Language, from the next start"), {"": t("as the desktop"), **language.NAMES}),
    "look": (t("Look"), {
        "system": t("as the desktop"), "light": t("daylight"), "dim": t("dim room"),
    }),
    "contrast": (t("Contrast"), {
        "system": t("as the desktop"), "usual": t("usual"), "more": t("more"),
    }),
    "motion": (t("Movement"), {
        "system": t("as the desktop"), "usual": t("usual"), "none": t("none"),
    }),
    "dialogs": (t("File dialogs"), {
        "own": t("ours, with the facts of each photo"), "desktop": t("the desktop’s own"),
    }),
}  # fmt: skip
"""Settings by their names: what each is called, and what may be chosen."""
USUAL = {
    "language": "",
    "look": "system",
    "contrast": "system",
    "motion": "system",
    "dialogs": "own",
}
SIZES = (0, 85, 90, 95, 100, 105, 110, 115, 120, 125, 130, 135, 140)


class SettingsDialog(QDialog):
    """Everything that is set apart from any docket."""

    bounds_asked = pyqtSignal()
    screen_asked = pyqtSignal()
    ruler_asked = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(t("Settings"))
        self.setMinimumWidth(theme.px(560))
        column = QVBoxLayout(self)
        column.setContentsMargins(22, 18, 22, 18)
        column.setSpacing(10)
        column.addWidget(label(t("Settings"), "title"))
        column.addWidget(label(t("For this machine; a docket keeps none of them."), "second"))
        grid = QGridLayout()
        grid.setHorizontalSpacing(18)
        grid.setVerticalSpacing(8)
        grid.setColumnStretch(1, 1)
        self.fields: dict[str, QComboBox] = {}
        for name, (called, choices) in CHOICES.items():
            field: QComboBox = Choice()
            for value, words in choices.items():
                field.addItem(words, value)
            field.setCurrentIndex(field.findData(preferences.kept(name, USUAL[name])))
            self._row(grid, called, field)
            self.fields[name] = field
        self.text: QComboBox = Choice()
        for size in SIZES:
            self.text.addItem(t("{n} %", n=size) if size else t("as the desktop"), size)
        self.text.setCurrentIndex(max(0, self.text.findData(preferences.kept("text", 0))))
        self._row(grid, t("Size of texts"), self.text)
        self.menu_bar = QCheckBox(t("Show the menu bar (F9)"))
        self.menu_bar.setChecked(preferences.kept("menu_bar", True))
        self._row(grid, t("Menus"), self.menu_bar)
        self.person = QLineEdit(preferences.person())
        self.person.setPlaceholderText(t("the name of your account"))
        self._row(grid, t("You answer as"), self.person)
        column.addLayout(grid)
        column.addWidget(hairline())
        more = QHBoxLayout()
        for words, signal in (
            (t("The screen’s profile…"), self.screen_asked),
            (t("Size on this screen…"), self.ruler_asked),
            (t("Limits for one photo…"), self.bounds_asked),
        ):
            more.addWidget(button(words, "link", signal.emit))
            more.addSpacing(10)
        more.addStretch(1)
        column.addLayout(more)
        column.addStretch(1)
        foot = QHBoxLayout()
        foot.addStretch(1)
        foot.addWidget(button(t("Leave as it was"), "", self.reject))
        self.use = button(t("Use these"), "act", self.accept)
        self.use.setDefault(True)
        foot.addWidget(self.use)
        column.addLayout(foot)

    def _row(self, grid: QGridLayout, words: str, field: QWidget) -> None:
        at = grid.rowCount()
        grid.addWidget(label(words), at, 0)
        grid.addWidget(field, at, 1)
        field.setAccessibleName(words)

    def keep(self) -> None:
        """Keep what is chosen."""
        chosen = {name: field.currentData() for name, field in self.fields.items()}
        preferences.keep(**chosen, text=self.text.currentData(), menu_bar=self.menu_bar.isChecked())
        preferences.use_person(self.person.text())
