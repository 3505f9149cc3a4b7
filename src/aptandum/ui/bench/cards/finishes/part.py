"""What every finish's part of the card has: rows, and a word where the brief forbids it."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from aptandum.ui import theme
from aptandum.ui.bench.cards.fields import Field
from aptandum.ui.session import Bench, Session
from aptandum.ui.strings import t
from aptandum.ui.widgets import label


class Part(QWidget):
    """One finish's settings; :meth:`show_bench` brings it in line."""

    name = ""
    alteration = ""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setProperty("role", "panel")
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(8)
        self.rows: list[Field] = []
        self.forbidden = label("", "", wrap=True)
        self.column.addWidget(self.forbidden)
        self.build()
        self.column.addStretch(1)

    def build(self) -> None:
        """Lay out the part's rows."""

    def row(self, made: Field) -> Field:
        """Add a row, and remember it so that it is brought in line."""
        self.rows.append(made)
        self.column.addWidget(made)
        return made

    def figure(self, bench: Bench) -> str:
        """What the finish does, in a word or two, or empty where it does nothing."""
        return ""

    def show_bench(self, bench: Bench) -> None:
        """Bring every row in line with the fitting's settings."""
        for row in self.rows:
            _station, group, inner = row.key.split(".")
            row.take(getattr(getattr(bench.fitting.settings.finish, group), inner))

    def say_permission(self, bench: Bench, colour: str) -> None:
        """Before it is used, and while it is: the brief does not permit it."""
        allowed = bench.brief.permits(self.alteration)
        self.forbidden.setVisible(not allowed)
        if allowed:
            return
        on = self.name in bench.line.finish.on
        self.forbidden.setText(
            t("The brief does not permit this: with it, Alterations is missed.")
            if on
            else t("The brief does not permit this. Using it will be a miss.")
        )
        self.forbidden.setStyleSheet(theme.scaled(f"color: {colour}; font-size: 12px"))
