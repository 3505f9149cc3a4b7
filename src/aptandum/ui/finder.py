"""The command finder: every action by a few letters of its name."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QAction, QKeyEvent
from PyQt6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from aptandum.ui import theme
from aptandum.ui.menus import plain
from aptandum.ui.strings import t


class Finder(QDialog):
    """Type, choose with the arrows, Enter does it."""

    def __init__(
        self,
        actions: list[QAction],
        parent: QWidget | None = None,
        why_not: Callable[[QAction], str] = lambda _action: "",
    ) -> None:
        super().__init__(parent)
        self._why_not = why_not
        self.setWindowTitle(t("Find a command"))
        self.setMinimumSize(440, 360)
        self.actions_ = [a for a in actions if (a.isEnabled() or why_not(a)) and a.text()]
        self.line = QLineEdit()
        self.line.setPlaceholderText(t("What do you want to do?"))
        self.line.setAccessibleName(t("Find a command"))
        self.found = QListWidget()
        self.found.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.found.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        layout = QVBoxLayout(self)
        layout.addWidget(self.line)
        layout.addWidget(self.found)
        self.line.textChanged.connect(self._fill)
        self.line.returnPressed.connect(self._do)
        self.found.itemClicked.connect(lambda _item: self._do())
        self.line.installEventFilter(self)
        self._fill("")

    def _fill(self, text: str) -> None:
        self.found.clear()
        words = text.lower().split()
        for action in self.actions_:
            name = plain(action.text())
            if all(word in name.lower() for word in words):
                key = action.shortcut().toString()
                item = QListWidgetItem(t("{name}    {key}", name=name, key=key) if key else name)
                item.setData(Qt.ItemDataRole.UserRole, action)
                why = self._why_not(action)
                if why:
                    item.setText(t("{name}    {why}", name=name, why=why))
                    item.setForeground(theme.colour("idle"))
                self.found.addItem(item)
        self.found.setCurrentRow(0)

    def _do(self) -> None:
        item = self.found.currentItem()
        if item is not None and self._why_not(item.data(Qt.ItemDataRole.UserRole)):
            return
        self.accept()
        if item is not None:
            item.data(Qt.ItemDataRole.UserRole).trigger()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
            if step:
                row = self.found.currentRow() + step
                self.found.setCurrentRow(min(max(row, 0), self.found.count() - 1))
                return True
        return False
