"""What the brief of the first screen allows, as a chart and in words, beside the photo that waits."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QSize
from PyQt6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from aptandum.core.brief.model import Brief
from aptandum.core.brief.registry import binds_of
from aptandum.core.sizes.binds import binds_size
from aptandum.core.sizes.said import contradiction_said, describe
from aptandum.ui.rulebooks.chart import Chart
from aptandum.ui.rulebooks.chart_plane import PhotoPoint
from aptandum.ui.strings import t
from aptandum.ui.widgets import label

_MOST_LINES = 3


_LEAST = 150
"""Pixels of height that the chart needs."""


class _LowChart(Chart):
    """A chart that asks for little and takes what room is left."""

    def sizeHint(self) -> QSize:
        return QSize(super().sizeHint().width(), _LEAST)

    def hasHeightForWidth(self) -> bool:
        return False


class StartSizes(QWidget):
    """A chart of the sizes of one brief and the words for them; hidden while there is none."""

    def __init__(self) -> None:
        super().__init__()
        self.brief: Brief | None = None
        self.chart = _LowChart()
        self.chart.setMinimumHeight(_LEAST)
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.chart.setSizePolicy(policy)
        self.said = label("", "second", wrap=True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(label(t("Sizes it allows"), "second"))
        column.addWidget(self.chart, 1)
        column.addWidget(self.said)
        self.setVisible(False)

    def show_brief(self, brief: Brief | None, photos: Sequence[PhotoPoint]) -> None:
        """Show what a brief allows; one that says nothing of sizes, or none, is not shown."""
        self.brief = brief
        said = describe(brief) if brief is not None and _sized(brief) else []
        self.setVisible(bool(said))
        if said:
            self.chart.show_brief(brief, list(photos))
            contradicted = bool(contradiction_said(brief)) if brief is not None else False
            self.said.setText(
                "" if contradicted else "\n".join(said[:_MOST_LINES])
            )  # the chart says it


def _sized(brief: Brief) -> bool:
    return any(clause.measure and binds_size(binds_of(clause.measure)) for clause in brief.clauses)
