"""The form: a rulebook is written clause by clause, and each is checked as it is typed."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QLabel,
    QListWidgetItem,
)

from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.rulebook import write
from aptandum.core.rulebook.contradictions import contradictions
from aptandum.core.rulebook.far import doubts
from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.rulebook.toml import check_clause, draft_briefs, parse_rulebook
from aptandum.core.rulebook.toml_tables import plain_tables
from aptandum.core.rulebook.words.as_book import ident
from aptandum.core.sizes.said import clause_said
from aptandum.core.words import listed
from aptandum.ui import theme
from aptandum.ui.rulebooks.form_clause import ClauseForm, day_of
from aptandum.ui.strings import sentences, t


class Form(ClauseForm):
    """Holds a rulebook's text; every field changes one place of it, and what a person wrote by
    hand stays."""

    drafted = pyqtSignal(object)
    save_asked = pyqtSignal()
    closed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.text = write.fresh()
        self.saved = self.text
        self.path: Path | None = None
        self.past: list[str] = []
        self.brief = 0
        self.clause = 0
        self._filling = False
        self._connect()
        self.begin(None)

    def _connect(self) -> None:
        """Every field changes the text as it is typed in."""
        for key, line in self.body.items():
            line.textEdited.connect(lambda _text, key=key: self._body_typed(key))
        self.briefs.activated.connect(self._go_brief)
        self.title_field.textEdited.connect(self._title_typed)
        self.id_field.textEdited.connect(
            lambda text: self._change(write.set_brief(self.text, self.brief, "id", text))
        )
        self.optional.toggled.connect(self._optional_set)
        self.skull.toggled.connect(self._skull_set)
        self.extras.changed.connect(self._extra)
        self.clauses.currentRowChanged.connect(self._go_clause)
        self._connect_clause()
        for pressed, act in (
            (self.save_button, self.save_asked.emit), (self.back_button, self.step_back),
            (self.close_button, self.closed.emit), (self.add_brief_button, self.add_brief),
            (self.drop_brief_button, self.drop_brief), (self.add_button, self.add_clause),
            (self.drop_button, self.drop_clause),
        ):  # fmt: skip
            pressed.clicked.connect(lambda _on=False, act=act: act())

    # -- laying out ---------------------------------------------------------------------------

    # -- beginning, going, stepping back --------------------------------------------------------

    def begin(self, book: Rulebook | None, path: Path | None = None, brief_id: str = "") -> None:
        """Write a rulebook anew, or change one that is there."""
        self.text = book.text if book is not None else write.fresh()
        if book is None:
            self.text = write.add_brief(self.text, "", "")
        self.saved = self.text if book is not None else ""
        self.path = path
        self.past = []
        ids = [b.id for b in book.briefs] if book is not None else []
        self.brief = ids.index(brief_id) if brief_id in ids else 0
        self.clause = 0
        self._show()

    @property
    def changed(self) -> bool:
        blank = write.add_brief(write.fresh(), "", "")
        return self.text not in (self.saved, blank)

    def _change(self, text: str, keep: bool = True) -> None:
        if text == self.text:
            return
        if keep:
            self.past.append(self.text)
        self.text = text
        self._judge()

    def step_back(self) -> None:
        """Take the last change of the text back."""
        if self.past:
            self.text = self.past.pop()
            self._show()

    def _tables(self) -> list[Mapping[str, Any]]:
        return list(plain_tables(self.text).get("brief", []))

    def _table(self) -> Mapping[str, Any]:
        """The brief that is shown, or what holds the clauses of the whole body."""
        if self.brief == write.ALL:
            return plain_tables(self.text)
        tables = self._tables()
        return tables[self.brief] if self.brief < len(tables) else {}

    def _show(self) -> None:
        """Bring every field in line with the text."""
        self._filling = True
        data = plain_tables(self.text)
        for key, field in self.body.items():
            field.put(str(data.get("body", {}).get(key, "")))
        tables = self._tables()
        if self.brief != write.ALL:
            self.brief = min(self.brief, max(0, len(tables) - 1))
        self.briefs.clear()
        for table in tables:
            self.briefs.addItem(str(table.get("title") or table.get("id") or t("untitled")))
        self.briefs.addItem(t("Every brief of the body"))
        self.briefs.setCurrentIndex(len(tables) if self.brief == write.ALL else self.brief)
        table = {} if self.brief == write.ALL else self._table()
        self.title_field.put(str(table.get("title", "")))
        self.id_field.put(str(table.get("id", "")))
        self.optional.setChecked(table.get("optional") is True)
        self.skull.setChecked(table.get("crown") == "skull")
        for part in (self.title_field, self.id_field, self.optional, self.skull, self.extras):
            part.setEnabled(self.brief != write.ALL)
        clauses = self._table().get("clause", [])
        self.clause = min(self.clause, max(0, len(clauses) - 1))
        self._list_clauses(clauses)
        self._filling = False
        self._show_clause()
        if self.brief != write.ALL:
            self.extras.show_brief(self.text, self.brief, dict(table))
        self._judge()

    def _list_clauses(self, clauses: Any) -> None:
        filling, self._filling = self._filling, True
        while self.clauses.count() > len(clauses):
            self.clauses.takeItem(self.clauses.count() - 1)
        for i, fields in enumerate(clauses):
            clause, problems = check_clause(fields)
            if clause is not None:
                said = clause_said(clause)
                if clause.either:
                    said = t("{clause} · way “{name}”", clause=said, name=clause.way[1])
            else:
                measure = REGISTRY.get(str(fields.get("measure")))
                name = measure.title if measure else str(fields.get("ask") or t("clause"))
                said = t("{name}: not finished", name=name)
            item = self.clauses.item(i)
            if item is None:
                item = QListWidgetItem()
                self.clauses.addItem(item)
            item.setText(said)
            item.setForeground(theme.colour("misses" if problems else "ink"))
        if self.clauses.currentRow() != self.clause and clauses:
            self.clauses.setCurrentRow(self.clause)
        self._filling = filling

    # -- the body and the brief -------------------------------------------------------------------

    def _body_typed(self, key: str) -> None:
        value: Any = self.body[key].text().strip()
        if key in ("read_on", "valid_from"):
            value = day_of(value)  # what is no date is kept as text, so that the check names it
        text = write.set_body(self.text, key, value)
        if key == "name" and self.body["id"].text() in ("", ident(self._name_before())):
            made = ident(value)
            text = write.set_body(text, "id", made)
            self.body["id"].put(made)
        self._change(text)

    def _name_before(self) -> str:
        return str(plain_tables(self.text).get("body", {}).get("name", ""))

    def _title_typed(self, title: str) -> None:
        if self.brief == write.ALL:
            return
        before = str(self._table().get("title", ""))
        text = write.set_brief(self.text, self.brief, "title", title)
        if self.id_field.text() in ("", ident(before)):
            text = write.set_brief(text, self.brief, "id", ident(title))
            self.id_field.put(ident(title))
        self.briefs.setItemText(self.brief, title or t("untitled"))
        self._change(text)

    def _extra(self, act: Callable[[str, int], str]) -> None:
        """Change what the brief carries besides its clauses."""
        if self.brief == write.ALL or not self._tables():
            return
        self._change(act(self.text, self.brief))
        table = dict(self._table())
        self.extras.show_brief(self.text, self.brief, table, typing=True)

    def _optional_set(self, on: bool) -> None:
        if not self._filling and self._tables() and self.brief != write.ALL:
            self._change(write.set_brief(self.text, self.brief, "optional", on or None))

    def _skull_set(self, on: bool) -> None:
        if not self._filling and self._tables() and self.brief != write.ALL:
            self._change(write.set_brief(self.text, self.brief, "crown", "skull" if on else None))

    def _go_brief(self, index: int) -> None:
        self.brief = write.ALL if index == len(self._tables()) else index
        self.clause = 0
        self._show()

    def add_brief(self) -> None:
        """Add an empty brief and go to it."""
        self._change(write.add_brief(self.text, "", ""))
        self.brief, self.clause = len(self._tables()) - 1, 0
        self._show()
        self.title_field.setFocus()

    def drop_brief(self) -> None:
        """Take the brief out; one always stays."""
        if len(self._tables()) > 1 and self.brief != write.ALL:
            self._change(write.remove_brief(self.text, self.brief))
            self._show()

    # -- clauses ------------------------------------------------------------------------------------

    def add_clause(self) -> None:
        """Add a clause to the brief and go to it."""
        if not self._tables():
            return
        text = write.add_clause(self.text, self.brief, {"measure": "width"})
        self.clause = len(self._table().get("clause", []))
        self._change(text)
        self._show()
        self.measure.setFocus()

    def drop_clause(self) -> None:
        """Take the chosen clause out of the brief."""
        if self.clauses.count():
            self._change(write.remove_clause(self.text, self.brief, self.clause))
            self._show()

    def _go_clause(self, row: int) -> None:
        if not self._filling and row >= 0:
            self.clause = row
            self._show_clause()
            self._judge()

    # -- checking -------------------------------------------------------------------------------------

    def _judge(self) -> None:
        """Check what stands there, say it back, and let the chart follow."""
        fields = self._fields()
        tables = self._tables()
        self._list_clauses(self._table().get("clause", []))
        self._check_clause(fields)
        draft = self.draft()
        self.drafted.emit(draft)
        problems = self.problems()
        self.back_button.setEnabled(bool(self.past))
        self.drop_brief_button.setEnabled(len(tables) > 1 and self.brief != write.ALL)
        bad = {problem.where for problem in problems}
        here = "clause." if self.brief == write.ALL else f"brief.{self.brief + 1}."
        self.extras.mark({where.removeprefix(here) for where in bad if where.startswith(here)})
        for key, field in self.body.items():
            field.mark(f"body.{key}" in bad and bool(field.text()))
        self.save_button.setEnabled(not problems)
        if problems:
            places = list(dict.fromkeys(self._place(p.where) for p in problems))
            said = t("Still to be written or mended: {places}.", places=listed(places[:4], "and"))
            if len(places) > 4:
                said = sentences([said, t("{n} more.", n=len(places) - 4)])
            elif problems[0].where.count(".") == 3:  # a clause by itself may look sound
                why = t("found {stood}, expected {expected}",
                        stood=problems[0].stood, expected=problems[0].expected)  # fmt: skip
                said = sentences([said, why[:1].upper() + why[1:] + "."])
            self._say(self.state, said, "ink2")
            return
        against = [c.says for c in contradictions(draft)] if draft is not None else []
        lost = [
            one.slip.says
            for one in doubts(draft_briefs(self.text))
            if draft and one.brief.id == draft.id
        ]
        if against:
            self._say(self.state, sentences(against), "misses")
        elif lost:
            self._say(self.state, sentences(lost), "advises")
        else:
            said = t("Sound, and not saved yet.") if self.changed else t("Sound.")
            self._say(self.state, said, "ink2")

    def _place(self, where: str) -> str:
        """Where a problem is, in the form's own words: ``brief.2.clause.5.between``."""
        parts = where.split(".")
        if parts[0] == "body":
            names = {"name": t("name"), "id": t("id"), "read_on": t("the day it was read on"),
                     "valid_from": t("the day from which it is in force")}  # fmt: skip
            key = parts[-1]
            return t("the body's {what}", what=names.get(key, key))
        if parts[0] == "clause" and len(parts) > 1:
            return t("clause {k} of every brief", k=parts[1])
        if parts[0] != "brief" or len(parts) < 2:
            return t("a brief")
        n = int(parts[1]) if parts[1].isdigit() else 1
        tables = self._tables()
        title = str(tables[n - 1].get("title") or "") if n <= len(tables) else ""
        title = f"“{title}”" if title else t("brief {n}", n=n)
        if "clause" in parts and len(parts) > 3:
            return t("clause {k} of {brief}", k=parts[3], brief=title)
        if "seen" in parts and len(parts) > 3:
            return t("place {k} of {brief}", k=parts[3], brief=title)
        for key, name in (("border", t("border")), ("template", t("template"))):
            if key in parts:
                return t("the {what} of {brief}", what=name, brief=title)
        if parts[-1] in ("id", "title"):
            return t("the {what} of {brief}", what=parts[-1], brief=title)
        return t("{brief}, which needs a clause", brief=title)

    def _say(self, where: QLabel, text: str, token: str) -> None:
        where.setText(text)
        where.setStyleSheet(
            theme.scaled(f"color: {getattr(theme.palette(), token)}; font-size: 13px")
        )

    def problems(self) -> tuple[Any, ...]:
        """What keeps the text from being a rulebook."""
        try:
            beside = self.path.parent if self.path is not None else None
            parse_rulebook(self.text, t("rulebook"), beside)
        except RulebookError as error:
            return error.problems
        return ()

    def draft(self) -> Brief | None:
        """The brief being written, with those of its clauses that are sound."""
        drafts = draft_briefs(self.text)
        at = 0 if self.brief == write.ALL else self.brief
        return drafts[at] if at < len(drafts) else None
