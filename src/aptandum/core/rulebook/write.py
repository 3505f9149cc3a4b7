"""Changing a rulebook's text: what a person wrote by hand, comments and all, stays.

Every function takes the text of a TOML file and gives a new one. Whether the result is sound
is for :func:`~.toml.parse_rulebook` to say; here only the one place is changed.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any, cast

import tomlkit
from tomlkit.items import AoT, Table

LIMITS = ("exactly", "at_least", "at_most", "between", "one_of", "none_of")
CLAUSE_KEYS = ("id", "measure", *LIMITS, "ask", "applies", "strength", "quote", "note")
Fields = Mapping[str, Any]
"""A clause as the form holds it: TOML keys to text, or to lists of text."""


def fresh(body_id: str = "", name: str = "") -> str:
    """The text of a rulebook with nothing in it yet but its body."""
    document = tomlkit.document()
    document.add("format", tomlkit.item(1))
    document.add(tomlkit.nl())
    body = tomlkit.table()
    body.add("id", body_id)
    body.add("name", name)
    document.add("body", body)
    return tomlkit.dumps(document)


def set_body(text: str, key: str, value: Any) -> str:
    """Set or, with ``None`` or an empty text, take out a key of ``[body]``."""
    document = tomlkit.parse(text)
    _put(cast(Table, document["body"]), key, value, keep=key in ("id", "name"))
    return tomlkit.dumps(document)


def add_brief(text: str, brief_id: str, title: str) -> str:
    document = tomlkit.parse(text)
    table = tomlkit.table()
    table.add("id", brief_id)
    table.add("title", title)
    if "brief" not in document:
        document.add("brief", tomlkit.aot())
    cast(AoT, document["brief"]).append(table)
    return _spaced(tomlkit.dumps(document))


def set_brief(text: str, brief: int, key: str, value: Any) -> str:
    document = tomlkit.parse(text)
    _put(_brief(document, brief), key, value, keep=key in ("id", "title"))
    return tomlkit.dumps(document)


def remove_brief(text: str, brief: int) -> str:
    document = tomlkit.parse(text)
    briefs = cast(AoT, document["brief"])
    del briefs[brief]
    if not len(briefs):
        del document["brief"]
    return tomlkit.dumps(document)


def add_clause(text: str, brief: int, fields: Fields) -> str:
    document = tomlkit.parse(text)
    table = _brief(document, brief)
    made = tomlkit.table()
    for key in CLAUSE_KEYS:
        if _given(fields.get(key)):
            made.add(key, _value(fields[key]))
    if "clause" not in table:
        table.add("clause", tomlkit.aot())
    cast(AoT, table["clause"]).append(made)
    return _spaced(tomlkit.dumps(document))


def set_clause(text: str, brief: int, clause: int, fields: Fields) -> str:
    """Make a clause say what the fields say; a key that is the same keeps its own writing."""
    document = tomlkit.parse(text)
    table = cast(AoT, _brief(document, brief)["clause"])[clause]
    for key in CLAUSE_KEYS:
        _put(table, key, fields.get(key))
    return tomlkit.dumps(document)


def remove_clause(text: str, brief: int, clause: int) -> str:
    document = tomlkit.parse(text)
    table = _brief(document, brief)
    clauses = cast(AoT, table["clause"])
    del clauses[clause]
    if not len(clauses):
        del table["clause"]
    return tomlkit.dumps(document)


def fields_of(text: str, brief: int, clause: int) -> dict[str, Any]:
    """A clause's keys as the form shows them: numbers as text, lists as lists of text."""
    document = tomlkit.parse(text)
    table = cast(AoT, _brief(document, brief)["clause"])[clause].unwrap()
    return {
        key: [_shown(v) for v in value] if isinstance(value, list) else _shown(value)
        for key, value in table.items()
    }


def _shown(value: Any) -> str:
    return value if isinstance(value, str) else str(value)


def _brief(document: Any, brief: int) -> Table:
    return cast(AoT, document["brief"])[brief]


def _given(value: Any) -> bool:
    return value is not None and value != "" and value != []


def _plain(value: Any) -> Any:
    """A value as the form would hold it, to see whether it changed."""
    if isinstance(value, list):
        return [_plain(v) for v in value]
    return value if isinstance(value, (str, bool)) else str(value)


def _value(value: Any) -> Any:
    """A value as it is written: always as text, for each kind of number has its unit or reads
    plain digits as well."""
    return list(value) if isinstance(value, (list, tuple)) else value


def _put(table: Table, key: str, value: Any, keep: bool = False) -> None:
    if not _given(value) and not (keep and isinstance(value, str)):
        if key in table:
            table.remove(key)
        return
    if key in table and _plain(table[key].unwrap()) == _plain(value):
        return
    new = _value(value)
    if key in table:
        old = table[key]
        item = tomlkit.item(new)
        trivia = getattr(old, "trivia", None)
        if trivia is not None:  # the remark at the end of the line stays
            item.trivia.comment_ws, item.trivia.comment = trivia.comment_ws, trivia.comment
        table[key] = item
        return
    nested = [k for k in table if isinstance(table[k], (AoT, Table))]
    if not nested:
        table.add(key, new)
        return
    # A plain key must stand before the tables inside: take those out and put them back.
    held = {k: table[k] for k in nested}
    for k in nested:
        table.remove(k)
    table.add(key, new)
    for k, part in held.items():
        table.add(k, part)


def _spaced(text: str) -> str:
    """One empty line before each table header that follows other lines."""
    return re.sub(r"(?<=[^\n])\n([ \t]*\[)(?=\[|brief|body)", r"\n\n\1", text)
