"""The shape chart of a brief with the docket's photos on it, and what is said of a place on it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from aptandum.core.brief.model import Brief
from aptandum.core.photo.apart import read_facts
from aptandum.core.photo.facts import shown_name
from aptandum.core.sizes.said import contradiction_said, describe
from aptandum.ui import theme
from aptandum.ui.rulebooks.chart import Chart
from aptandum.ui.rulebooks.chart_plane import PhotoPoint
from aptandum.ui.session import Session
from aptandum.ui.strings import t
from aptandum.ui.widgets import button, label

_MOST_LINES = 6


class ChartSide(QWidget):
    """Shows what a brief allows, and what each photo of the docket can give.

    Signals:
        opened: the id of a photo that is to be opened.
    """

    opened = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.chart = Chart()
        self._sizes: dict[str, tuple[int, int] | None] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        tools = QHBoxLayout()
        tools.setContentsMargins(12, 6, 12, 0)
        tools.addStretch(1)
        self.sizes_button = button(t("Sizes only"), "view", self.chart.only_sizes)
        self.whole_button = button(t("With photos"), "view", self.chart.whole)
        for one in (self.sizes_button, self.whole_button):
            tools.addWidget(one)
        column.addLayout(tools)
        column.addWidget(self.chart, 1)
        self.read_out = label("", wrap=True)
        self.read_out.setFixedHeight(58)
        self.read_out.setContentsMargins(16, 4, 16, 4)
        self.read_out.setAlignment(Qt.AlignmentFlag.AlignTop)
        column.addWidget(self.read_out)
        self.said = label("", "second", wrap=True)
        self.said.setContentsMargins(16, 0, 16, 10)
        column.addWidget(self.said)
        self.chart.opened.connect(self.opened.emit)
        self.chart.read_out.connect(self._read_out)

    def show_brief(self, brief: Brief | None) -> None:
        """Show what a brief allows."""
        self.chart.show_brief(brief, self._points())
        self._read_out(self.chart.said())
        said = describe(brief) if brief is not None else []
        contradicted = brief is not None and bool(contradiction_said(brief))
        self.said.setText("" if contradicted else "\n".join(said[:_MOST_LINES]))

    def _read_out(self, said: str) -> None:
        hint = t(
            "Point at the chart, or move the cross-hair with the arrow keys; Page Down goes "
            "through the photos, Enter opens one."
        )
        brief = self.chart.brief
        if brief is not None and said == contradiction_said(brief):
            said = ""  # the chart itself says it
        self.read_out.setText(said or hint)
        token = "ink" if said else "ink2"
        self.read_out.setStyleSheet(f"color: {getattr(theme.palette(), token)}")

    def _points(self) -> list[PhotoPoint]:
        """The docket's photos whose sizes are known; the others are read beside the interface,
        and come in when they are."""
        found, unknown = [], []
        for entry in self.session.docket.photos:
            if entry.path not in self._sizes:
                unknown.append(entry.path)
            elif (size := self._sizes[entry.path]) is not None:
                found.append(PhotoPoint(entry.id, shown_name(entry.path), size))
        if unknown:
            self._read_sizes(unknown)
        return found

    def _read_sizes(self, paths: list[str]) -> None:
        def work(late: Callable[[], bool]) -> dict[str, tuple[int, int] | None]:
            sizes: dict[str, tuple[int, int] | None] = {}
            for path in paths:
                if late():
                    break
                facts = read_facts(path)
                sizes[path] = None if facts.error else facts.size
            return sizes

        def done(sizes: dict[str, tuple[int, int] | None]) -> None:
            if sizes:
                self._sizes.update(sizes)
                self.chart.show_brief(self.chart.brief, self._points())

        self.session.jobs.latest("sizes", work, done)
