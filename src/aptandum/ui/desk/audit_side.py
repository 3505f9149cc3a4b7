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

from aptandum.core.docket import audit_lists
from aptandum.core.docket.audit_lists import ACCEPTED, DANGER, EVERY, FELL, NEW, ROSE, Told
from aptandum.core.figures import grouped
from aptandum.core.photo.facts import shown_name
from aptandum.core.words import show_day
from aptandum.ui.desk.audit_rows import ReasonRow
from aptandum.ui.desk.rows import THING
from aptandum.ui.session.audit import AuditRun
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

    def show_run(self, run: AuditRun, mine: list[Told]) -> None:
        """Show what was found.

        Args:
            mine: what matters of it.
        """
        aside = [item for item in run.items if not item.matters]
        self.aside.setVisible(any(item.in_stock is not None for item in run.items))
        danger = sum(one.in_danger for one in mine)
        self.name.setText(shown_name(run.source) if run.source else "")
        words = t("{n} of {all} are in danger", n=grouped(danger), all=grouped(len(mine)))
        if aside and self.aside.isChecked():
            words = t("{words}; {n} set aside", words=words, n=grouped(len(aside)))
        rest = len(run.items) - len(run.checked)
        if rest:
            words += "\n" + t("{n} still to be looked at", n=grouped(rest))
        self.count.setText(words)
        self._fill(run, mine, danger)
        self.last.setText(self._since(run))
        self.last.setVisible(bool(self.last.text()))

    def _fill(self, run: AuditRun, mine: list[Told], danger: int) -> None:
        lines: list[tuple[str, str, int, bool]] = [(DANGER, t("In danger"), danger, False)]
        lines += [(*line, True) for line in audit_lists.titles(mine)]
        if run.since.before and run.histories is not None:
            for group, words in ((FELL, t("Newly in danger")), (ROSE, t("Mended")), (NEW, t("Newly listed"))):  # fmt: skip
                lines.append((group, words, len(audit_lists.of_group(mine, group)), False))
        accepted = len(audit_lists.of_group(mine, ACCEPTED))
        if accepted:
            lines.append((ACCEPTED, t("Accepted as they are"), accepted, False))
        lines.append((EVERY, t("All"), len(mine), False))
        if self.group not in [line[0] for line in lines]:
            self.group = DANGER
        self.reasons.blockSignals(True)
        self.reasons.clear()
        for key, text, n, inner in lines:
            made = QListWidgetItem(t("{name} {n}", name=text, n=grouped(n)))
            made.setData(THING, key)
            made.setData(THING + 1, (inner, text, grouped(n)))
            made.setToolTip(made.text())
            self.reasons.addItem(made)
            if key == self.group:
                self.reasons.setCurrentItem(made)
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
