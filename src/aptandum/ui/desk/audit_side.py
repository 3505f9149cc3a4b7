"""Beside an audit's list: how many are in danger, for which reasons, and what is new since last time."""

from __future__ import annotations

from datetime import datetime

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QFrame,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
)

from aptandum.core.docket.audit_lists import DANGER, Lists
from aptandum.core.figures import grouped
from aptandum.core.photo.facts import shown_name
from aptandum.core.words import show_day
from aptandum.ui.desk.audit_rows import ReasonRow
from aptandum.ui.desk.rows import THING
from aptandum.ui.session.audited import AuditRun
from aptandum.ui.strings import t
from aptandum.ui.widgets import label


class AuditSide(QFrame):
    """The groups of what was found.

    Signals:
        chosen: another group (given) is to be shown.
        set_aside: whether what is out of stock is left out was changed.
    """

    chosen = pyqtSignal(str)
    set_aside = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.group = DANGER
        self.setProperty("role", "panel")
        self.setFixedWidth(228)
        left = QVBoxLayout(self)
        left.setContentsMargins(0, 10, 0, 10)
        left.setSpacing(6)
        self.name = label("", "", wrap=True)
        self.name.setStyleSheet("font-weight: 600")
        self.name.setContentsMargins(16, 0, 12, 0)
        self.count = label("", "second", wrap=True)
        self.count.setContentsMargins(16, 0, 12, 0)
        self.reasons = QListWidget()
        self.reasons.setAccessibleName(t("In danger, by reason"))
        self.reasons.setStyleSheet(
            "QListWidget { border: none; background: transparent; }"
            "QListWidget::item { padding: 6px 8px 6px 16px; }"
        )
        self.reasons.setItemDelegate(ReasonRow(self.reasons))
        self.reasons.currentItemChanged.connect(self._picked)
        self.last = label("", "second", wrap=True)
        self.last.setContentsMargins(16, 0, 12, 0)
        self.aside = QCheckBox(t("Set aside: out of stock"))
        self.aside.setChecked(True)
        self.aside.toggled.connect(self.set_aside)
        aside = QHBoxLayout()
        aside.setContentsMargins(14, 0, 8, 0)
        aside.addWidget(self.aside)
        for part in (self.name, self.count):
            left.addWidget(part)
        left.addWidget(self.reasons, 1)
        left.addWidget(self.last)
        left.addLayout(aside)

    def _picked(self) -> None:
        item = self.reasons.currentItem()
        if item is not None and item.data(THING) != self.group:
            self.group = item.data(THING)
            self.chosen.emit(self.group)

    def show_run(self, run: AuditRun, made: Lists) -> None:
        """Show what was found."""
        aside = int((~run.items.matters).sum())
        self.aside.setVisible(run.items.says_stock)
        danger = made.groups[0][2]
        self.name.setText(shown_name(run.source) if run.source else "")
        words = t("{n} of {all} are in danger", n=grouped(danger), all=grouped(len(made.mine)))
        if aside and self.aside.isChecked():
            words = t("{words}; {n} set aside", words=words, n=grouped(aside))
        rest = len(run.items) - len(run.checked)
        if rest:
            words += "\n" + t("{n} still to be looked at", n=grouped(rest))
        self.count.setText(words)
        self._fill(made)
        self.last.setText(self._since(run))
        self.last.setVisible(bool(self.last.text()))

    def _fill(self, made: Lists) -> None:
        self.group = made.group
        self.reasons.blockSignals(True)
        self.reasons.clear()
        for key, text, n in made.groups:
            row = QListWidgetItem(t("{name} {n}", name=text, n=grouped(n)))
            row.setData(THING, key)
            row.setData(THING + 1, (not key.startswith("\0"), text, grouped(n)))
            row.setToolTip(row.text())
            self.reasons.addItem(row)
            if key == self.group:
                self.reasons.setCurrentItem(row)
        self.reasons.blockSignals(False)

    @staticmethod
    def _since(run: AuditRun) -> str:
        if not run.since.before:
            return ""
        day = show_day(datetime.fromisoformat(run.since.before))
        if run.since.gone:
            n = grouped(len(run.since.gone))
            return t("New and mended since {day}; {n} no longer listed", day=day, n=n)
        return t("New and mended since {day}", day=day)
