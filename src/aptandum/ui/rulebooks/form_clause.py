"""The part of the form that writes one clause: its measure and limit, and when it holds."""

from __future__ import annotations

import contextlib
import datetime
from collections.abc import Mapping
from typing import Any

from PyQt6.QtWidgets import QLabel

from aptandum.core.judge.measures import REGISTRY
from aptandum.core.quantity import Kind
from aptandum.core.rulebook import write
from aptandum.core.rulebook.limit_forms import LIMITS
from aptandum.core.rulebook.plain import said_back
from aptandum.core.rulebook.toml import check_clause
from aptandum.ui.rulebooks.form_fields import ASK, FormFields
from aptandum.ui.strings import semicolons, t
from aptandum.ui.widgets import Choice

_SAID = {
    "at_most": t("at most"),
    "at_least": t("at least"),
    "exactly": t("exactly"),
    "between": t("between"),
    "below": t("below"),
    "above": t("above"),
    "one_of": t("one of"),
    "none_of": t("none of"),
}


_GIVE, _ANY = 74, 16_777_215
"""Widths in pixels of the field for a tolerance, and of one that takes what there is."""


class ClauseForm(FormFields):
    """Shows the chosen clause in the fields and writes what is typed into the rulebook's text."""

    text: str
    brief: int
    clause: int
    _filling: bool

    def _change(self, text: str, keep: bool = True) -> None:
        raise NotImplementedError

    def _judge(self) -> None:
        raise NotImplementedError

    def _say(self, where: QLabel, text: str, token: str) -> None:
        raise NotImplementedError

    def _table(self) -> Mapping[str, Any]:
        raise NotImplementedError

    def _connect_clause(self) -> None:
        """Every field of a clause changes the text as it is typed in."""
        self.measure.currentIndexChanged.connect(self._measure_set)
        self.when_measure.currentIndexChanged.connect(self._condition_set)
        for choice in (self.form, self.strength, self.when_form):
            choice.currentIndexChanged.connect(lambda: self._clause_typed())
        for field in (self.low, self.high, self.quote, self.note, self.when_value, self.either,
                      self.valid_from):  # fmt: skip
            field.textEdited.connect(lambda _text: self._clause_typed())
        for box in (*self.turns.values(), self.either_way, self.first):
            box.toggled.connect(lambda _on: self._clause_typed())

    def _fields(self) -> dict[str, Any] | None:
        clauses = self._table().get("clause", [])
        if not 0 <= self.clause < len(clauses):
            return None
        return write.fields_of(self.text, self.brief, self.clause)

    def _show_clause(self) -> None:
        fields = self._fields()
        self._filling = True
        parts = (self.measure, self.form, self.low, self.high, self.strength, self.quote,
                 self.note, *self.turns.values(), self.drop_button, self.either_way, self.first,
                 self.when_measure, self.when_form, self.when_value, self.either,
                 self.valid_from)  # fmt: skip
        for part in parts:
            part.setEnabled(fields is not None)
        fields = fields or {}
        name = ASK if "ask" in fields else fields.get("measure", "width")
        self.measure.setCurrentIndex(max(0, self.measure.findData(name)))
        _fill(self.form, name)
        form = form_of(fields)
        self.form.setCurrentIndex(max(0, self.form.findData(form)))
        low, high = values_of(fields, form)
        self.low.put(low)
        self.high.put(high)
        self.either_way.setChecked(fields.get("either_way") is True)
        self.strength.setCurrentIndex(1 if fields.get("strength") == "should" else 0)
        applies = fields.get("applies", [])
        for turn, box in self.turns.items():
            box.setChecked(turn in ([applies] if isinstance(applies, str) else applies))
        self._show_condition(fields.get("when"))
        self.either.put(str(fields.get("either", "")))
        self.first.setChecked(fields.get("of") == "first")
        self.valid_from.put(str(fields.get("valid_from", "")))
        self.quote.put(str(fields.get("quote", "")))
        self.note.put(str(fields.get("note", "")))
        self._filling = False
        self._lead()

    def _show_condition(self, when: Any) -> None:
        when = when if isinstance(when, Mapping) else {}
        name = str(when.get("measure", ""))
        self.when_measure.setCurrentIndex(max(0, self.when_measure.findData(name)))
        _fill(self.when_form, name)
        form = form_of(when) if when else "exactly"
        self.when_form.setCurrentIndex(max(0, self.when_form.findData(form)))
        self.when_value.put(", ".join(v for v in values_of(when, form) if v))

    def _lead(self) -> None:
        """What the limit's fields take, by measure and kind of limit."""
        name, form = self.measure.currentData(), self.form.currentData()
        kind = REGISTRY[name].kind if name in REGISTRY else None
        give = form == "exactly" and kind is not None and kind.bounded
        two = form == "between" or give
        self.high.setVisible(two)
        self.and_.setVisible(two)
        self.and_.setText(t("give or take") if give else t("and"))
        self.high.setMaximumWidth(_GIVE if give else _ANY)
        self.limit_label.setText(t("Question") if name == ASK else t("Limit"))
        self.either_way.setVisible(kind is not None and kind.turns)
        condition = self.when_measure.currentData()
        for part in (self.when_form, self.when_value):
            part.setVisible(bool(condition))
        if condition in REGISTRY:
            self.when_value.setPlaceholderText(REGISTRY[condition].kind.example)
        if kind is None:
            self.low.setPlaceholderText(t("what a person is to say"))
            return
        hint = kind.example
        if form in ("one_of", "none_of") and "," not in hint:
            hint = t("{one}, …", one=hint)
        self.low.setPlaceholderText(hint)
        self.high.setPlaceholderText(t("nothing") if give else hint)

    def _measure_set(self) -> None:
        if self._filling:
            return
        self._refill(self.form, self.measure.currentData())
        self._clause_typed()

    def _condition_set(self) -> None:
        if self._filling:
            return
        self._refill(self.when_form, self.when_measure.currentData())
        self._clause_typed()

    def _refill(self, choice: Choice, name: str) -> None:
        self._filling = True
        before = choice.currentData()
        _fill(choice, name)
        choice.setCurrentIndex(max(0, choice.findData(before)))
        self._filling = False

    def _typed_fields(self) -> dict[str, Any]:
        """The clause as the fields have it."""
        old = self._fields() or {}
        made: dict[str, Any] = {"id": old.get("id")}
        name, form = self.measure.currentData(), self.form.currentData()
        if name == ASK:
            made["ask"] = self.low.text()
        else:
            made["measure"] = name
            made |= self._typed_limit(old, name, form)
        turns = [turn for turn, box in self.turns.items() if box.isChecked()]
        made["applies"] = turns
        if isinstance(old.get("applies"), str) and turns == [old["applies"]]:
            made["applies"] = old["applies"]
        if self.strength.currentData() == "should":
            made["strength"] = "should"
        elif old.get("strength") == "must":
            made["strength"] = "must"
        made["when"] = self._typed_condition()
        made["either"] = self.either.text().strip()
        made["of"] = "first" if self.first.isChecked() else None
        made["valid_from"] = day_of(self.valid_from.text())
        made["quote"], made["note"] = self.quote.text(), self.note.text()
        return made

    def _typed_limit(self, old: Mapping[str, Any], name: str, form: str) -> dict[str, Any]:
        made: dict[str, Any] = {}
        low, high = self.low.text().strip(), self.high.text().strip()
        if form == form_of(old):  # what the fields have no place for stays
            made |= {key: old[key] for key in LIMITS if key in old and key != form}
        if form == "between":
            # A between that was written as two limits stays two limits.
            if "at_least" in old and "at_most" in old and low and high:
                made |= {"at_least": low, "at_most": high}
            else:
                made |= {"between": [low, high] if low or high else None,
                         "at_least": None, "at_most": None}  # fmt: skip
        elif form in ("one_of", "none_of"):
            made[form] = [part.strip() for part in low.split(",") if part.strip()]
        elif form:
            made[form] = low
        kind = REGISTRY[name].kind if name in REGISTRY else None
        if form == "exactly" and kind is not None and kind.bounded:
            made["tolerance"] = high
        if kind is not None and kind.turns and (self.either_way.isChecked() or "either_way" in old):
            made["either_way"] = self.either_way.isChecked()
        return made

    def _typed_condition(self) -> dict[str, Any] | None:
        name = self.when_measure.currentData()
        if not name:
            return None
        form, value = self.when_form.currentData(), self.when_value.text().strip()
        several = form in ("between", "one_of", "none_of")
        parts = [part.strip() for part in value.split(",") if part.strip()]
        return {"measure": name, form: parts if several else value}

    def _clause_typed(self) -> None:
        if self._filling or self._fields() is None:
            return
        self._lead()
        self._change(write.set_clause(self.text, self.brief, self.clause, self._typed_fields()))
        self._judge()

    def _check_clause(self, fields: dict[str, Any] | None) -> None:
        marked = (self.low, self.high, self.when_value, self.either, self.valid_from)
        if fields is None:
            self._say(self.said, t("No clause yet: add one."), "ink2")
            for field in marked:
                field.mark(False)
            return
        plain = {**fields, "valid_from": day_of(str(fields.get("valid_from", "")))}
        clause, problems = check_clause({k: v for k, v in plain.items() if v not in (None, "")})
        waiting = not self.low.text().strip()
        for field in marked:
            text = field.text().strip()
            named = any(text in p.stood for p in problems) if text else False
            field.mark(named and not field.isHidden())
        if clause is not None:
            self._say(self.said, said_back(clause), "ink")
        elif waiting:
            self._say(self.said, t("The limit is still to be written."), "ink2")
        else:
            parts = [t("found {stood}, expected {expected}", stood=p.stood, expected=p.expected)
                     for p in problems]  # fmt: skip
            said = semicolons(parts)
            self._say(self.said, said[:1].upper() + said[1:] + ".", "misses")


def day_of(text: str) -> datetime.date | str | None:
    """A day as it is typed; what is none stays text, so that the check names it."""
    text = text.strip()
    with contextlib.suppress(ValueError):
        return datetime.date.fromisoformat(text) if text else None
    return text


def _fill(choice: Choice, name: str) -> None:
    """The kinds of limit that a measure takes."""
    choice.clear()
    if name == ASK:
        choice.addItem(t("asked"), ASK)
        return
    kind = REGISTRY[name].kind if name in REGISTRY else None
    for key in forms_of(kind):
        choice.addItem(_SAID[key], key)


def forms_of(kind: Kind | None) -> tuple[str, ...]:
    """The words of a limit that make sense of a kind of value."""
    forms: tuple[str, ...] = ("exactly",)
    if kind is not None and kind.bounded:
        forms = ("at_most", "at_least", "exactly", "between")
    if kind is not None and kind.whole:
        forms += ("below", "above")
    return (*forms, "one_of", "none_of")


def form_of(fields: Mapping[str, Any]) -> str:
    """Which words of a limit a clause has."""
    if "ask" in fields:
        return ASK
    if "at_least" in fields and "at_most" in fields:
        return "between"
    return next((key for key in LIMITS if key in fields), "at_most")


def values_of(fields: Mapping[str, Any], form: str) -> tuple[str, str]:
    """What stands in the two fields of a limit."""
    if form == ASK:
        return str(fields.get("ask", "")), ""
    if form == "between":
        if "between" in fields:
            pair = [*fields["between"], "", ""]
            return str(pair[0]), str(pair[1])
        return str(fields["at_least"]), str(fields["at_most"])
    value = fields.get(form, "")
    if isinstance(value, list):
        return ", ".join(value), ""
    return str(value), str(fields.get("tolerance", "")) if form == "exactly" else ""
