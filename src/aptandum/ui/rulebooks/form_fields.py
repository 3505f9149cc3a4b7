"""The fields of the form, laid out; what they do is the form's."""

from __future__ import annotations

from itertools import pairwise

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QListWidget,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.brief.model import TURNS
from aptandum.core.judge.measure import GROUPS, may_decide
from aptandum.core.judge.measures import STATED
from aptandum.ui.fields import TextField
from aptandum.ui.rulebooks.extras import Extras
from aptandum.ui.strings import t
from aptandum.ui.widgets import Choice, button, hairline, label

ASK = "ask"


class FormFields(QWidget):
    """A rulebook's body, briefs and clauses as fields."""

    def __init__(self) -> None:
        super().__init__()
        self._lay_out()
        self._order()

    def _lay_out(self) -> None:
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        inner = QWidget()
        inner.setProperty("role", "panel")
        column = QVBoxLayout(inner)
        column.setContentsMargins(16, 10, 16, 12)
        column.setSpacing(7)
        self._body_fields(column)
        column.addWidget(hairline())
        self._brief_fields(column)
        column.addWidget(hairline())
        self._clause_fields(column)
        column.addWidget(hairline())
        self.extras = Extras()
        column.addWidget(self.extras)
        column.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(inner)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        outer.addWidget(scroll, 1)
        outer.addWidget(hairline())
        foot = QWidget()
        foot.setProperty("role", "panel")
        low = QVBoxLayout(foot)
        low.setContentsMargins(16, 8, 16, 10)
        self.state = label("", "second", wrap=True)
        low.addWidget(self.state)
        row = QHBoxLayout()
        self.save_button = button(t("Save rulebook…"), "act")
        self.back_button = button(t("Undo in this form"), "")
        self.close_button = button(t("Close"), "")
        row.addWidget(self.save_button)
        row.addWidget(self.back_button)
        row.addStretch(1)
        row.addWidget(self.close_button)
        low.addLayout(row)
        outer.addWidget(foot)

    def _grid(self, column: QVBoxLayout) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(5)
        grid.setColumnMinimumWidth(0, 78)
        grid.setColumnStretch(1, 3)
        grid.setColumnStretch(3, 2)
        column.addLayout(grid)
        return grid

    def _put(self, grid: QGridLayout, row: int, name: str, field: QWidget, at: int = 0) -> None:
        said = label(name, "second")
        said.setBuddy(field)
        grid.addWidget(said, row, at)
        span = 3 if at == 0 and isinstance(field, TextField) and field.property("wide") else 1
        grid.addWidget(field, row, at + 1, 1, span)

    def _body_fields(self, column: QVBoxLayout) -> None:
        column.addWidget(label(t("Body"), "title"))
        grid = self._grid(column)
        self.body: dict[str, TextField] = {}
        for row, (key, name, hint, at) in enumerate(
            (
                ("name", t("Name"), "Pier Office", 0),
                ("id", t("Id"), "pier-office", 2),
                ("source", t("Source"), t("where the rules are published"), 0),
                ("edition", t("Edition"), "1", 2),
                ("url", t("Address"), "https://pier-office.example/rules", 0),
                ("read_on", t("Read on"), "2026-11-25", 2),
                ("valid_from", t("In force"), t("from the day 2027-01-01"), 0),
            )
        ):
            field = TextField(t("Body: {name}", name=name), hint)
            self.body[key] = field
            self._put(grid, row // 2, name, field, at)

    def _brief_fields(self, column: QVBoxLayout) -> None:
        top = QHBoxLayout()
        top.addWidget(label(t("Brief"), "title"))
        self.briefs = Choice()
        self.briefs.setAccessibleName(t("Which brief of this rulebook"))
        top.addWidget(self.briefs, 1)
        self.add_brief_button = button(t("Add a brief"), "link")
        self.drop_brief_button = button(t("Remove"), "link")
        top.addWidget(self.add_brief_button)
        top.addWidget(self.drop_brief_button)
        column.addLayout(top)
        grid = self._grid(column)
        self.title_field = TextField(t("Brief: title"), t("what the picture is for"))
        self.id_field = TextField(t("Brief: id"), "notice")
        self.optional = QCheckBox(t("optional: a body may be served without it"))
        self._put(grid, 0, t("Title"), self.title_field)
        self._put(grid, 0, t("Id"), self.id_field, 2)
        grid.addWidget(self.optional, 1, 1, 1, 3)
        self.skull = QCheckBox(t("heads are measured up to the skull, not up to the hair"))
        grid.addWidget(self.skull, 2, 1, 1, 3)

    def _clause_fields(self, column: QVBoxLayout) -> None:
        top = QHBoxLayout()
        top.addWidget(label(t("Clauses"), "title"))
        top.addStretch(1)
        self.add_button = button(t("Add a clause"), "link")
        self.drop_button = button(t("Remove"), "link")
        top.addWidget(self.add_button)
        top.addSpacing(8)
        top.addWidget(self.drop_button)
        column.addLayout(top)
        self.clauses = QListWidget()
        self.clauses.setAccessibleName(t("Clauses of this brief"))
        self.clauses.setFixedHeight(112)
        column.addWidget(self.clauses)
        grid = self._grid(column)
        self._limit_fields(grid)
        self._turn_fields(grid)

    def _limit_fields(self, grid: QGridLayout) -> None:
        """What is measured, and the limit on it."""
        self.measure = Choice()
        self.measure.setAccessibleName(t("What is measured"))
        self.measure.setMaxVisibleItems(24)
        for group in GROUPS:
            for name, measure in STATED.items():
                if measure.group == group:
                    self.measure.addItem(measure.title, name)
        self.measure.addItem(t("A question for a person"), ASK)
        self.form = Choice()
        self.form.setAccessibleName(t("Kind of limit"))
        self.low = TextField(t("Limit"))
        self.high = TextField(t("Upper limit"))
        self.and_ = label(t("and"), "second")
        limits = QHBoxLayout()
        limits.setSpacing(8)
        limits.addWidget(self.form)
        limits.addWidget(self.low, 1)
        limits.addWidget(self.and_)
        limits.addWidget(self.high, 1)
        self.either_way = QCheckBox(t("either way up"))
        self.either_way.setToolTip(t("It holds with width and height exchanged as well"))
        self._put(grid, 0, t("Measure"), self.measure)
        self.strength = Choice()
        self.strength.setAccessibleName(t("Required or recommended"))
        self.strength.addItem(t("required"), "must")
        self.strength.addItem(t("recommended"), "should")
        grid.addWidget(self.strength, 0, 3)
        self.limit_label = label(t("Limit"), "second")
        grid.addWidget(self.limit_label, 1, 0)
        grid.addLayout(limits, 1, 1, 1, 3)
        self.said = label("", wrap=True)
        self.said.setMinimumHeight(38)
        self.said.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.said.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        grid.addWidget(self.said, 2, 1, 1, 3)

    def _condition_fields(self) -> QHBoxLayout:
        """On what else a clause depends: a measure with its limit."""
        self.when_measure = Choice()
        self.when_measure.setAccessibleName(t("On what the clause depends"))
        self.when_measure.setMaxVisibleItems(24)
        self.when_measure.addItem(t("nothing else"), "")
        for group in GROUPS:
            for name, measure in STATED.items():
                if measure.group == group and may_decide(measure):
                    self.when_measure.addItem(measure.title, name)
        for wide in (self.measure, self.when_measure):
            wide.setSizeAdjustPolicy(Choice.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            wide.setMinimumContentsLength(10)
        self.when_form = Choice()
        self.when_form.setAccessibleName(t("Kind of limit of the condition"))
        self.when_value = TextField(t("Limit of the condition"))
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(self.when_measure, 1)
        row.addWidget(self.when_form)
        row.addWidget(self.when_value, 1)
        return row

    def _turn_fields(self, grid: QGridLayout) -> None:
        """When a clause holds, and what the body says."""
        turns = QHBoxLayout()
        turns.setSpacing(10)
        self.turns: dict[str, QCheckBox] = {}
        for turn in TURNS:
            box = QCheckBox(
                {"landscape": t("landscape"), "upright": t("upright"), "square": t("square")}[turn]
            )
            self.turns[turn] = box
            turns.addWidget(box)
        turns.addWidget(label(t("(none: always)"), "second"))
        turns.addStretch(1)
        grid.addWidget(label(t("Only if"), "second"), 3, 0)
        grid.addLayout(turns, 3, 1, 1, 3)
        grid.addWidget(label(t("Only with"), "second"), 4, 0)
        grid.addLayout(self._condition_fields(), 4, 1, 1, 3)
        self.either = TextField(t("One way of a choice"), t("a name, where there is a choice"))
        self.valid_from = TextField(t("Day from which it holds"), "2027-01-01")
        self._put(grid, 5, t("One way"), self.either)
        self._put(grid, 5, t("From"), self.valid_from, 2)
        self.first = QCheckBox(t("only the first of a set"))
        last = QHBoxLayout()
        last.setSpacing(14)
        last.addWidget(self.either_way)
        last.addWidget(self.first)
        last.addStretch(1)
        grid.addLayout(last, 6, 1, 1, 3)
        self.quote = TextField(t("The body's own words"), t("as the body writes it"))
        self.note = TextField(t("Remark"), t("for readers of the rulebook"))
        for row, (name, field) in enumerate(
            ((t("The body’s words"), self.quote), (t("Remark"), self.note)), start=7
        ):
            field.setProperty("wide", True)
            self._put(grid, row, name, field)

    def _order(self) -> None:
        """Tab goes in the reading order."""
        order = [
            *(
                self.body[k]
                for k in ("name", "id", "source", "edition", "url", "read_on", "valid_from")
            ),
            self.briefs,
            self.add_brief_button,
            self.drop_brief_button,
            self.title_field,
            self.id_field,
            self.optional,
            self.add_button,
            self.drop_button,
            self.clauses,
            self.measure,
            self.strength,
            self.form,
            self.low,
            self.high,
            self.either_way,
            *self.turns.values(),
            self.when_measure,
            self.when_form,
            self.when_value,
            self.either,
            self.valid_from,
            self.first,
            self.quote,
            self.note,
            *self.extras.order(),
            self.save_button,
            self.back_button,
            self.close_button,
        ]
        for one, after in pairwise(order):
            QWidget.setTabOrder(one, after)
