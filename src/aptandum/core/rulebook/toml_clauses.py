"""Clauses of a rulebook: a measure with its limit, or a question, and when it holds."""

from __future__ import annotations

import datetime
import re
from collections.abc import Mapping
from dataclasses import replace
from typing import Any, cast

from aptandum.core.brief.limit import Limit, turned_round
from aptandum.core.brief.model import TURNS, Clause, Condition, Strength, Turn
from aptandum.core.judge import measures
from aptandum.core.judge.measure import may_decide
from aptandum.core.numbers import QuantityError, Side
from aptandum.core.quantity import Kind
from aptandum.core.rulebook.language import CLAUSE, LIMITS, WHEN, names
from aptandum.core.rulebook.limit_forms import wrong_form
from aptandum.core.rulebook.tolerances import round_about
from aptandum.core.rulebook.toml_lines import Path_
from aptandum.core.rulebook.toml_tables import TableReader, _shown
from aptandum.core.words import listed, say

_WAY = re.compile(r"[a-z0-9][a-z0-9_-]{0,40}(/[a-z0-9][a-z0-9_-]{0,40})?")


class ClauseReader(TableReader):
    """Reads the clauses of a brief."""

    def named(self, clauses: tuple[Clause, ...], path: Path_) -> tuple[Clause, ...]:
        """Give each clause without an id its measure's name, numbered where that is taken."""
        given = [(c.id, (*path, "clause", i, "id")) for i, c in enumerate(clauses) if c.id]
        self.unique(given, say("clause"))
        taken = {name for name, _ in given}
        named = []
        for clause in clauses:
            if not clause.id:
                base = clause.measure or "ask"
                name, n = base, 2
                while name in taken:
                    name, n = f"{base}-{n}", n + 1
                taken.add(name)
                clause = Clause(**{**clause.__dict__, "id": name})
            named.append(clause)
        return tuple(named)

    def clause(self, table: Mapping[str, Any], path: Path_) -> Clause:
        self.known(table, path, names(CLAUSE))
        name, limit, ask = None, None, None
        if "measure" in table and "ask" in table:
            self.problem(path, say('both "measure" and "ask"'), say("one of the two"))
        elif "ask" in table:
            ask = self.text_of(table, path, "ask", needed=True)
            for key in (*LIMITS, "tolerance", "either_way"):
                if key in table:
                    self.problem((*path, key), say('"{key}" with "ask"', key=key), say("no limit"))
        elif "measure" in table:
            name, limit = self.measured(table, path)
        else:
            self.problem(path, say('neither "measure" nor "ask"'), say("one of the two"))
        applies: tuple[str, ...] = ()
        if "applies" in table:
            applies = self.word_list(table["applies"], (*path, "applies"), TURNS)
        strength = self.get(
            table,
            path,
            "strength",
            lambda v: v if v in ("must", "should") else None,
            say("must or should"),
            "must",
        )
        return Clause(
            id=self.id_free(table, path),
            measure=name,
            limit=limit,
            ask=ask,
            applies=cast(tuple[Turn, ...], tuple(dict.fromkeys(applies))),
            strength=cast(Strength, strength),
            quote=self.text_of(table, path, "quote"),
            note=self.text_of(table, path, "note"),
            when=self.condition(table, path),
            either=self.either(table, path),
            valid_from=self.date(table, path, "valid_from"),
            of=self.get(table, path, "of", lambda v: v if v == "first" else None, say("first"), ""),
            line=self.line(path),
        )

    def condition(self, table: Mapping[str, Any], path: Path_) -> Condition | None:
        """On what else a clause depends."""
        if "when" not in table:
            return None
        at = (*path, "when")
        entry = self.table(table["when"], at)
        if entry is None:
            return None
        self.known(entry, at, names(WHEN))
        if "measure" not in entry:
            self.problem(at, say('no "{key}"', key="measure"), say("a measure with its limit"))
            return None
        name, limit = self.measured(entry, at)
        if name is None or limit is None:
            return None
        if not may_decide(measures.STATED[name]):
            self.problem(
                (*at, "measure"),
                _shown(name),
                say("a measure that the file’s header tells by itself"),
            )
            return None
        return Condition(name, limit)

    def either(self, table: Mapping[str, Any], path: Path_) -> str:
        """The way of an either-or to which a clause belongs."""

        def check(value: Any) -> str | None:
            return value if isinstance(value, str) and _WAY.fullmatch(value) else None

        expected = say('the name of a way, such as "small" or "file/small"')
        return self.get(table, path, "either", check, expected, "")

    def date(self, table: Mapping[str, Any], path: Path_, key: str) -> datetime.date | None:
        """A day."""

        def check(value: Any) -> datetime.date | None:
            plain = isinstance(value, datetime.date) and not isinstance(value, datetime.datetime)
            return value if plain else None

        none: datetime.date | None = None
        return self.get(table, path, key, check, say("a date such as 2026-11-02"), none)

    def id_free(self, table: Mapping[str, Any], path: Path_) -> str:
        def check(value: Any) -> str | None:
            ok = isinstance(value, str) and re.fullmatch(r"[a-z0-9][a-z0-9_-]{0,63}", value)
            return value if ok else None

        expected = say("an id of small letters, digits, hyphens and underscores")
        return self.get(table, path, "id", check, expected, "")

    def measured(self, table: Mapping[str, Any], path: Path_) -> tuple[str | None, Limit | None]:
        name = table["measure"]
        if not isinstance(name, str) or name not in measures.STATED:
            self.problem((*path, "measure"), _shown(name), self.measure_hint(name))
            return None, None
        measure = measures.STATED[name]
        other = measures.STATED.get(measure.also)
        if other is not None and _all_of(other.kind, table):
            name, measure = other.name, other
        return name, self.limit(table, path, measure.kind)

    def measure_hint(self, name: object) -> str:
        import difflib

        near = difflib.get_close_matches(str(name)[:80], list(measures.STATED), 1)
        if near:
            return say('a known measure; "{near}" is the nearest', near=near[0])
        return say("one of {words}", words=listed(sorted(measures.STATED)))

    def limit(self, table: Mapping[str, Any], path: Path_, kind: Kind) -> Limit | None:
        form = tuple(key for key in LIMITS if key in table)
        if not form:
            self.problem(path, say("no limit"), listed(LIMITS))
            return None
        wrong = wrong_form(form, kind)
        if wrong is not None:
            key, stood, expected = wrong
            self.problem((*path, key) if key else path, stood, expected)
            return None
        limit = self.bounds(form, table, path, kind)
        if limit is None or not self.sensible(limit, path, kind):
            return None
        if "tolerance" in table:
            limit = self.tolerant(limit, table, path, kind)
        return None if limit is None else self.either_way(limit, table, path, kind)

    def bounds(
        self, form: tuple[str, ...], table: Mapping[str, Any], path: Path_, kind: Kind
    ) -> Limit | None:
        """The values behind the words of a limit."""
        low = high = None
        several: dict[str, tuple[Any, ...]] = {}
        ok = True

        def read(value: Any, key: str, side: Side) -> Any:
            nonlocal ok
            parsed = self.value(value, (*path, key), kind, side)
            ok = ok and parsed is not None
            return parsed

        if "exactly" in form:
            several["one_of"] = (read(table["exactly"], "exactly", "exact"),)
        for key, by in (("at_least", 0), ("above", 1)):
            if key in form:
                low = _beside(kind, read(table[key], key, "lower"), by)
        for key, by in (("at_most", 0), ("below", -1)):
            if key in form:
                high = _beside(kind, read(table[key], key, "upper"), by)
        if "between" in form:
            pair = table["between"]
            if not isinstance(pair, list) or len(pair) != 2:
                self.problem((*path, "between"), _shown(pair), say("a list of two limits"))
                return None
            low = read(pair[0], "between", "lower")
            high = read(pair[1], "between", "upper")
        for key in ("one_of", "none_of"):
            if key not in form:
                continue
            entries = table[key]
            if not isinstance(entries, list) or not entries:
                self.problem((*path, key), _shown(entries), say("a list with at least one entry"))
                return None
            several[key] = tuple(read(entry, key, "exact") for entry in entries)
        one_of, none_of = several.get("one_of", ()), several.get("none_of", ())
        return Limit(form, low, high, one_of, none_of) if ok else None

    def sensible(self, limit: Limit, path: Path_, kind: Kind) -> bool:
        """Whether a limit leaves anything at all."""
        low, high = limit.at_least, limit.at_most
        if low is not None and high is not None and kind.above(low, high):
            at = next(key for key in ("between", "below", "at_most") if key in limit.form)
            stood = say("{low} to {high}", low=kind.show(low), high=kind.show(high))
            self.problem((*path, at), stood, say("a lower limit that is not above the upper one"))
            return False
        if limit.one_of and all(value in limit.none_of for value in limit.one_of):
            self.problem((*path, "none_of"), say("all that one_of allows"), say("something left"))
            return False
        return True

    def tolerant(
        self, limit: Limit, table: Mapping[str, Any], path: Path_, kind: Kind
    ) -> Limit | None:
        """A limit with the bounds that its tolerance leaves it."""
        at, give = (*path, "tolerance"), table["tolerance"]
        if limit.form != ("exactly",) or not kind.bounded:
            self.problem(at, _shown(give), say("a tolerance beside an exactly with a number"))
            return None
        try:
            low, high = round_about(kind, limit.one_of[0], give)
        except QuantityError as error:
            self.problem(at, _shown(give), str(error))
            return None
        said = str(give) if isinstance(give, str) or kind.sided else kind.show(give)
        form = ("exactly", "tolerance")
        return Limit(form, low, high, aim=limit.one_of[0], give=" ".join(said.split()))

    def either_way(
        self, limit: Limit, table: Mapping[str, Any], path: Path_, kind: Kind
    ) -> Limit | None:
        """A limit that holds with width and height exchanged as well, where that is said."""
        on = table.get("either_way", False)
        if not isinstance(on, bool):
            self.problem((*path, "either_way"), _shown(on), say("true or false"))
            return None
        if on and not kind.turns:
            expected = say("a size or a proportion, which alone has two ways up")
            self.problem((*path, "either_way"), "true", expected)
            return None
        if on and limit.none_of:
            self.problem(
                (*path, "either_way"), say("none_of"), say("a limit that names what is allowed")
            )
            return None
        turned = turned_round(limit) if on else limit
        return limit if turned == limit else replace(limit, turned=turned)


def _beside(kind: Kind, value: Any, by: int) -> Any:
    return kind.beside(value, by) if by and value is not None else value


def _all_of(kind: Kind, table: Mapping[str, Any]) -> bool:
    """Whether every value of a limit is one of a kind."""
    values = [value for key in LIMITS if key in table for value in _flat(table[key])]
    try:
        return bool(values) and all(kind.parse(value, "exact") is not None for value in values)
    except QuantityError:
        return False


def _flat(value: Any) -> list[Any]:
    return value if isinstance(value, list) else [value]
