"""What every station's card has: a title with its key, rows, and mends that can be done."""

from __future__ import annotations

import textwrap

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from aptandum.core.judge.findings import Finding
from aptandum.core.judge.measures import REGISTRY
from aptandum.ui import theme
from aptandum.ui.bench.stations import KEYS, title
from aptandum.ui.session import Bench, Session
from aptandum.ui.strings import t
from aptandum.ui.widgets import Row, button, hairline, label, scrolled


class MendBox(QFrame):
    """A miss, and what would mend it: one press where it can be computed. It is kept while a
    frame is dragged, and only its words change."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.changes: dict[str, object] = {}
        self.label = ""
        self._style = ""
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 8, 10, 8)
        layout.setSpacing(4)
        self.says = label("", wrap=True)
        self.act = button("", "link", self._do)
        self.words = label("", "second", wrap=True)
        for part in (self.says, self.act, self.words):
            layout.addWidget(part)

    def take(self, finding: Finding, changes: dict[str, object]) -> None:
        """Show a finding; ``changes`` are those of its mend that would change anything."""
        p = theme.palette()
        missed = finding.verdict == "misses"
        soft = p.misses_soft if missed else p.window
        tone = p.misses if missed else p.advises
        style = f"MendBox {{ background: {soft}; border-radius: 4px; }}"
        if style != self._style:
            self._style = style
            self.setStyleSheet(style)
            self.says.setStyleSheet(theme.scaled(f"color: {tone}; font-size: 12px"))
        self.says.setText(finding.says)
        self.changes = changes
        words = finding.mend.words if finding.mend is not None else ""
        self.label = words
        self.act.setText("\n".join(textwrap.wrap(words, 36)))
        self.act.setVisible(bool(words and changes))
        self.words.setText(t("{mend}.", mend=words) if words else "")
        self.words.setVisible(bool(words and not changes))

    def _do(self) -> None:
        self.session.model.set(self.changes, self.label)


class Card(QWidget):
    """A station's card; :meth:`refresh` brings it in line with the session."""

    station = ""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._mended: object = None
        self._boxes: list[MendBox] = []
        self.setProperty("role", "panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        inside = QWidget()
        inside.setProperty("role", "panel")
        self.column = QVBoxLayout(inside)
        self.column.setContentsMargins(16, 12, 16, 12)
        self.column.setSpacing(8)
        outer.addWidget(scrolled(inside))
        head = QHBoxLayout()
        head.addWidget(label(title(self.station), "title"))
        head.addStretch(1)
        key = label(KEYS[self.station], "second")
        key.setToolTip(t("Key that opens this station"))
        head.addWidget(key)
        self.column.addLayout(head)
        self.build()
        self.mends = QVBoxLayout()
        self.mends.setSpacing(6)
        self.column.addLayout(self.mends)
        self.column.addStretch(1)

    def build(self) -> None:
        """Lay out the card's own parts."""

    def show_bench(self, bench: Bench) -> None:
        """Bring the card's own parts in line."""

    def refresh(self) -> None:
        """Bring the card and its mends in line with the session."""
        bench = self.session.bench
        if bench is None:
            return
        self.show_bench(bench)
        self._show_mends(bench)

    def row(self, name: str) -> Row:
        """Add a row of a name and a figure."""
        made = Row(name)
        self.column.addWidget(made)
        return made

    def rule(self) -> QWidget:
        """Add a thin line between rows."""
        line = hairline()
        self.column.addWidget(line)
        return line

    def heading(self, text: str) -> None:
        """Add a heading above the rows that follow."""
        self.column.addWidget(label(text, "second"))

    def _show_mends(self, bench: Bench) -> None:
        mine = [finding for finding in bench.live.findings if self._is_mine(finding)]
        key = (mine, bench.fitting.settings if mine else None)
        if key == self._mended:
            return
        self._mended = key
        while len(self._boxes) > len(mine):
            gone = self._boxes.pop()
            gone.hide()
            gone.deleteLater()
        while len(self._boxes) < len(mine):
            box = MendBox(self.session)
            self._boxes.append(box)
            self.mends.addWidget(box)
        for box, finding in zip(self._boxes, mine, strict=True):
            changes = dict(finding.mend.changes or {}) if finding.mend is not None else {}
            box.take(finding, {k: v for k, v in changes.items() if self._differs(k, v)})

    def _is_mine(self, finding: Finding) -> bool:
        if finding.verdict not in ("misses", "advises") or finding.clause.measure is None:
            return False
        return REGISTRY[finding.clause.measure].station == self.station

    def _differs(self, key: str, value: object) -> bool:
        """Whether a mend would change anything."""
        bench = self.session.bench
        assert bench is not None
        settings = bench.fitting.settings
        return settings.having({key: value}) != settings
