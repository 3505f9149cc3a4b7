"""Before an audit: against which briefs, and which of a listing's columns says what."""

from __future__ import annotations

import os

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.docket.listing import Columns, head_of, recognised
from aptandum.core.photo.facts import shown_name
from aptandum.ui.session import Session
from aptandum.ui.strings import commas, t
from aptandum.ui.widgets import Choice, button, label

_NAME = Qt.ItemDataRole.UserRole
_SHORT = 14
"""Letters of an example that have room."""
_SAID = (
    ("item", t("What the item is called")),
    ("picture", t("File of its picture")),
    ("stock", t("Whether it is in stock")),
    ("key", t("By what it is known again")),
    ("value", t("What it is worth")),
)


class AuditSetup(QDialog):
    """Asks; nothing is looked at before it is answered.

    Raises:
        ListingError: the listing cannot be read.
    """

    def __init__(
        self, session: Session, path: str, brief: str = "", parent: QWidget | None = None
    ) -> None:
        """Args:
        brief: the one that is ticked at first.
        """
        super().__init__(parent)
        self.setWindowTitle(t("Audit"))
        self.setMinimumWidth(520)
        self.choices: dict[str, Choice] = {}
        head, rows = ([], []) if os.path.isdir(path) else head_of(path)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 16, 20, 16)
        column.setSpacing(8)
        column.addWidget(label(t("Audit {name}", name=shown_name(path)), "title"))
        column.addWidget(label(t("Against which briefs?"), "second"))
        self.list = QListWidget()
        self.list.setAccessibleName(t("Briefs to audit against"))
        for book in session.library.shelf.rulebooks:
            for one in book.briefs:
                name = f"{book.body.id}/{one.id}"
                item = QListWidgetItem(t("{body}: {brief}", body=book.body.name, brief=one.title))
                item.setData(_NAME, name)
                item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
                on = Qt.CheckState.Checked if name == brief else Qt.CheckState.Unchecked
                item.setCheckState(on)
                self.list.addItem(item)
        self.list.itemChanged.connect(self._look)
        self.list.itemActivated.connect(self._turn)
        column.addWidget(self.list, 1)
        if head:
            self._ask_columns(column, head, rows)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button(t("Cancel"), "", self.reject))
        self.act = button(t("Audit"), "act", self.accept)
        self.act.setDefault(True)
        row.addWidget(self.act)
        column.addLayout(row)
        self._look()

    def _ask_columns(self, column: QVBoxLayout, head: list[str], rows: list[list[str]]) -> None:
        column.addWidget(label(t("Which column of the listing is which?"), "second"))
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        seems = recognised(head)
        for n, (key, words) in enumerate(_SAID):
            choice = Choice()
            choice.setAccessibleName(words)
            choice.addItem(t("no column"), "")
            for at, name in enumerate(head):
                if not name:
                    continue
                seen = [line[at] for line in rows if at < len(line) and line[at]]
                examples = commas([one[:_SHORT] for one in seen[:2]])
                example = t("{column}, such as {example}", column=name, example=examples)
                choice.addItem(example if seen else name, name)
            choice.setCurrentIndex(max(0, choice.findData(getattr(seems, key))))
            choice.setMinimumContentsLength(24)
            choice.activated.connect(self._look)
            grid.addWidget(label(words, "second"), n, 0)
            grid.addWidget(choice, n, 1)
            self.choices[key] = choice
        grid.setColumnStretch(1, 1)
        column.addLayout(grid)

    def _turn(self, item: QListWidgetItem) -> None:
        on = item.checkState() == Qt.CheckState.Checked
        item.setCheckState(Qt.CheckState.Unchecked if on else Qt.CheckState.Checked)

    def _look(self) -> None:
        pictured = not self.choices or bool(self.choices["picture"].currentData())
        self.act.setEnabled(bool(self.briefs()) and pictured)

    def briefs(self) -> list[str]:
        """Those that are ticked, as ``BOOK/BRIEF``."""
        items = [item for n in range(self.list.count()) if (item := self.list.item(n)) is not None]
        return [str(one.data(_NAME)) for one in items if one.checkState() == Qt.CheckState.Checked]

    def columns(self) -> Columns | None:
        """Which column is which; ``None``: of a folder, or as they seem."""
        if not self.choices:
            return None
        return Columns(**{key: str(one.currentData()) for key, one in self.choices.items()})
