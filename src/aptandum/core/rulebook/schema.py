"""The JSON Schema of a rulebook, for editors, made from the one description of the language."""

from __future__ import annotations

from typing import Any

from aptandum.core.judge.measure import Measure
from aptandum.core.judge.measures import STATED
from aptandum.core.quantity import Kind
from aptandum.core.rulebook.language import LIMIT, TABLES, Key
from aptandum.core.rulebook.limit_forms import wrong_form

_ID = r"^[a-z0-9][a-z0-9-]{0,63}$"


def schema() -> dict[str, Any]:
    """The schema (draft 2020-12) as plain data. It tells what an editor can tell by itself: keys, words
    and which limits a measure takes; the reader tells the rest."""
    tables = {name: _table(keys) for name, keys in TABLES.items() if name}
    tables["clause"] = {**tables["clause"], **_clause_rules()}
    root = _table(TABLES[""])
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Aptandum rulebook",
        **root,
        "$defs": tables,
    }


def _table(keys: tuple[Key, ...]) -> dict[str, Any]:
    return {
        "type": "object",
        "additionalProperties": False,
        "properties": {key.name: {**_of(key), "description": key.says} for key in keys},
        "required": [key.name for key in keys if key.needed],
    }


_ANY: dict[str, Any] = {"type": ["string", "number", "array"]}
_PLAIN: dict[str, dict[str, Any]] = {
    "text": {"type": "string"},
    "id": {"type": "string", "pattern": _ID},
    "number": {"const": 1},
    "yes": {"type": "boolean"},
    "date": {"type": "string"},
    "texts": {"type": ["string", "array"], "items": {"type": "string"}},
    "value": _ANY,
    "values": {"type": "array", "minItems": 1},
    "pair": {"type": "array", "minItems": 2, "maxItems": 2},
    "quantity": {"type": ["string", "number"]},
    "points": {"type": "array", "minItems": 3, "items": {"type": "array"}},
}


def _of(key: Key) -> dict[str, Any]:
    if key.name == "measure":
        return {"enum": sorted(STATED)}
    if key.name == "edition":
        return {"type": ["string", "integer"]}
    if key.takes == "word":
        return {"enum": list(key.among)}
    if key.takes == "words":
        words = {"enum": list(key.among)}
        return {"anyOf": [words, {"type": "array", "items": words}]}
    there = {"$ref": f"#/$defs/{key.table}"}
    if key.takes == "table":
        return there
    if key.takes == "tables":
        return {"type": "array", "items": there}
    return dict(_PLAIN[key.takes])


def _clause_rules() -> dict[str, Any]:
    """A clause has a measure or it asks; and what its limit may be depends on the measure."""
    either: list[Any] = [{"required": ["measure"]}, {"required": ["ask"]}]
    return {"oneOf": either, "allOf": [_by_measure(m) for m in STATED.values()]}


def _by_measure(measure: Measure) -> dict[str, Any]:
    limits = {key.name: _limit(key, measure.kind, bool(measure.also)) for key in LIMIT}
    return {
        "if": {"properties": {"measure": {"const": measure.name}}, "required": ["measure"]},
        "then": {"properties": limits},
    }


def _limit(key: Key, kind: Kind, also: bool) -> Any:
    if wrong_form((key.name,), kind) is not None:
        return False
    one: Any = {"enum": list(kind.choices)} if kind.choices and not also else True
    if key.takes == "value":
        return one
    return {**_PLAIN[key.takes], "items": one}
