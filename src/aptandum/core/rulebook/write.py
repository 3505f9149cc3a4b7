"""Changing a rulebook's text: what a person wrote by hand, comments and all, stays.

Every function takes the text of a TOML file and gives a new one. Whether the result is sound
is for :func:`~.toml.parse_rulebook` to say; here only the one place is changed.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any, cast

from aptandum.core.later import tomlkit
from aptandum.core.rulebook.language import BODY, CLAUSE, SEEN, ZONE, names

if TYPE_CHECKING:
    from tomlkit.items import AoT, Table

CLAUSE_KEYS, SEEN_KEYS, ZONE_KEYS = names(CLAUSE), names(SEEN), names(ZONE)
BODY_KEYS = names(BODY)
ALL = -1
"""Stands for the brief whose clauses are those of the whole body."""

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
    _put(cast("Table", document["body"]), key, value, keep=key in ("id", "name"))
    return tomlkit.dumps(document)


def add_brief(text: str, brief_id: str, title: str) -> str:
    """Add an empty brief at the end of the rulebook."""
    document = tomlkit.parse(text)
    table = tomlkit.table()
    table.add("id", brief_id)
    table.add("title", title)
    if "brief" not in document:
        document.add("brief", tomlkit.aot())
    cast("AoT", document["brief"]).append(table)
    return _spaced(tomlkit.dumps(document))


def set_brief(text: str, brief: int, key: str, value: Any) -> str:
    """Set one key of a brief, leaving comments and order as they are."""
    document = tomlkit.parse(text)
    _put(_brief(document, brief), key, value, keep=key in ("id", "title"))
    return tomlkit.dumps(document)


def remove_brief(text: str, brief: int) -> str:
    """Take a brief and its clauses out of the rulebook."""
    document = tomlkit.parse(text)
    briefs = cast("AoT", document["brief"])
    del briefs[brief]
    if not len(briefs):
        del document["brief"]
    return tomlkit.dumps(document)


def _without(text: str, brief: int, name: str, at: int) -> str:
    """Without one of a brief's tables of a name; the last one takes the name with it."""
    document = tomlkit.parse(text)
    table = _brief(document, brief)
    tables = cast("AoT", table[name])
    del tables[at]
    if not len(tables):
        del table[name]
    return tomlkit.dumps(document)


def add_clause(text: str, brief: int, fields: Fields) -> str:
    """Add a clause at the end of a brief."""
    document = tomlkit.parse(text)
    table = _brief(document, brief)
    made = tomlkit.table()
    for key in CLAUSE_KEYS:
        if _given(fields.get(key)):
            made.add(key, _value(fields[key]))
    if "clause" not in table:
        table.add("clause", tomlkit.aot())
    cast("AoT", table["clause"]).append(made)
    return _spaced(tomlkit.dumps(document))


def set_clause(text: str, brief: int, clause: int, fields: Fields) -> str:
    """Make a clause say what the fields say; a key that is the same keeps its own writing."""
    document = tomlkit.parse(text)
    table = cast("AoT", _brief(document, brief)["clause"])[clause]
    for key in CLAUSE_KEYS:
        _put(table, key, fields.get(key))
    return tomlkit.dumps(document)


def remove_clause(text: str, brief: int, clause: int) -> str:
    """Take a clause out of its brief."""
    return _without(text, brief, "clause", clause)


def set_allows(text: str, brief: int, words: Sequence[str] | None) -> str:
    """What may be done to a photo; ``None``: anything. An empty list permits nothing."""
    document = tomlkit.parse(text)
    table = _brief(document, brief)
    if words is None:
        table.pop("allows", None)
    elif "allows" not in table or list(table["allows"].unwrap()) != list(words):
        _put(table, "allows", list(words) or ["-"])
        if not words:  # an empty list would read as nothing given
            table["allows"] = tomlkit.array()
    return tomlkit.dumps(document)


def add_seen(text: str, brief: int, kind: str) -> str:
    """One more place where the picture is seen."""
    document = tomlkit.parse(text)
    table = _brief(document, brief)
    if "seen" not in table:
        table.add("seen", tomlkit.aot())
    made = tomlkit.table()
    made.add("as", kind)
    cast("AoT", table["seen"]).append(made)
    return _spaced(tomlkit.dumps(document))


def set_seen(text: str, brief: int, place: int, fields: Fields) -> str:
    """Make a place say what the fields say; ``zones`` is a list of mappings of
    :data:`ZONE_KEYS` to text. What is the same keeps its own writing."""
    document = tomlkit.parse(text)
    table = cast("AoT", _brief(document, brief)["seen"])[place]
    for key in SEEN_KEYS:
        value = fields.get(key)
        if key != "zones":
            _put(table, key, value)
        elif _plain_zones(table.get("zones")) != [dict(zone) for zone in value or ()]:
            _put(table, key, None)
            if value:
                _put(table, key, _zones(value))
    return tomlkit.dumps(document)


def remove_seen(text: str, brief: int, place: int) -> str:
    """Take a place to be seen out of its brief."""
    return _without(text, brief, "seen", place)


def seen_of(text: str, brief: int, place: int) -> dict[str, Any]:
    """A place's keys as the form shows them: values as text, lists as lists of text, zones as
    mappings of text."""
    document = tomlkit.parse(text)
    table = cast("AoT", _brief(document, brief)["seen"])[place]
    made: dict[str, Any] = {}
    for key, value in table.unwrap().items():
        made[key] = (
            _plain_zones(table.get("zones"))
            if key == "zones"
            else [_shown(v) for v in value]
            if isinstance(value, list)
            else _shown(value)
        )
    return made


def _plain_zones(zones: Any) -> list[dict[str, str]]:
    found = zones.unwrap() if zones is not None else []
    return [
        {key: _shown(zone[key]) for key in ZONE_KEYS if key in zone}
        for zone in found
        if isinstance(zone, dict)
    ]


def _zones(zones: Any) -> Any:
    """Zones one below another."""
    made = tomlkit.array()
    for zone in zones:
        row = tomlkit.inline_table()
        for key in ZONE_KEYS:
            row.append(key, str(zone.get(key, "")))
        made.append(row)
    made.multiline(True)
    return made


def set_border(text: str, brief: int, picture: str) -> str:
    """The picture that is laid over the photo; empty: none."""
    return _set_table(text, brief, "border", {"picture": picture})


def set_template(
    text: str, brief: int, size: str, shade: str, panels: Sequence[tuple[str, Any]]
) -> str:
    """The template of panels, each a name and its corners; with none of all three there is none.
    Panels that are the same keep their own writing."""
    made = _set_table(text, brief, "template", {"size": size, "shade": shade}, bool(panels))
    document = tomlkit.parse(made)
    table = _brief(document, brief).get("template")
    if table is None or template_of(made, brief)[2] == list(panels):
        return made
    if "panel" in table:
        table.remove("panel")
    if panels:
        rows = tomlkit.aot()
        for name, outline in panels:
            row = tomlkit.table()
            row.add("name", name)
            row.add("outline", outline)
            rows.append(row)
        table.add("panel", rows)
    return _spaced(tomlkit.dumps(document))


def template_of(text: str, brief: int) -> tuple[str, str, list[tuple[str, Any]]]:
    """A template's size, shade and panels as they are written."""
    table = _brief(tomlkit.parse(text), brief).unwrap().get("template", {})
    panels = table.get("panel", []) if isinstance(table, dict) else []
    return (
        _shown(table.get("size", "")),
        _shown(table.get("shade", "")),
        [(_shown(p.get("name", "")), p.get("outline", [])) for p in panels if isinstance(p, dict)],
    )


def _set_table(text: str, brief: int, name: str, fields: Fields, keep: bool = False) -> str:
    """Set the keys of a table inside a brief; it is there as long as one is, or to be kept."""
    document = tomlkit.parse(text)
    table = _brief(document, brief)
    given = any(_given(value) for value in fields.values())
    if not given and not keep:
        table.pop(name, None)
        return tomlkit.dumps(document)
    if name not in table:
        table.add(name, tomlkit.table())
    for key, value in fields.items():
        _put(cast("Table", table[name]), key, value)
    return _spaced(tomlkit.dumps(document))


def fields_of(text: str, brief: int, clause: int) -> dict[str, Any]:
    """A clause's keys as the form shows them: numbers as text, lists as lists of text."""
    document = tomlkit.parse(text)
    table = cast("AoT", _brief(document, brief)["clause"])[clause].unwrap()
    return {key: _field(value) for key, value in table.items()}


def _field(value: Any) -> Any:
    """A value as the form shows it: text, or a list or a mapping of text; a yes or no as it is."""
    if isinstance(value, list):
        return [_shown(v) for v in value]
    if isinstance(value, Mapping):
        return {key: _field(v) for key, v in value.items()}
    return value if isinstance(value, bool) else _shown(value)


def _shown(value: Any) -> str:
    return value if isinstance(value, str) else str(value)


def _brief(document: Any, brief: int) -> Table:
    if brief == ALL:
        return cast("Table", document)
    return cast("AoT", document["brief"])[brief]


def _given(value: Any) -> bool:
    return value is not None and value != "" and value != [] and value != {}


def _bare(item: Any) -> Any:
    """A value without its writing; a yes or no has none."""
    return item.unwrap() if hasattr(item, "unwrap") else item


def _plain(value: Any) -> Any:
    """A value as the form would hold it, to see whether it changed."""
    if isinstance(value, list):
        return [_plain(v) for v in value]
    if isinstance(value, Mapping):
        return {key: _plain(v) for key, v in value.items()}
    return value if isinstance(value, (str, bool)) else str(value)


def _value(value: Any) -> Any:
    """A value as it is written: always as text, for each kind of number has its unit or reads
    plain digits as well."""
    if isinstance(value, tomlkit.items.Array):
        return value
    if isinstance(value, Mapping):
        made = tomlkit.inline_table()
        for key, inner in value.items():
            made.append(key, _value(inner))
        return made
    return list(value) if isinstance(value, (list, tuple)) else value


def _put(table: Table, key: str, value: Any, keep: bool = False) -> None:
    if not _given(value) and not (keep and isinstance(value, str)):
        if key in table:
            table.remove(key)
        return
    if key in table and _plain(_bare(table[key])) == _plain(value):
        return
    new = _value(value)
    if key in table and isinstance(
        table[key], tomlkit.items.Table
    ):  # written as a table of its own
        table.remove(key)
    if key in table:
        old = table[key]
        item = tomlkit.item(new)
        trivia = getattr(old, "trivia", None)
        if trivia is not None:  # the remark at the end of the line stays
            item.trivia.comment_ws, item.trivia.comment = trivia.comment_ws, trivia.comment
        table[key] = item
        return
    nested = [k for k in table if isinstance(table[k], (tomlkit.items.AoT, tomlkit.items.Table))]
    if not nested:
        table.add(key, new)
        return
    # A plain key must stand before the tables inside, and before the remarks above them.
    plain = [k for k in table if k not in nested]
    if plain:
        table.value._insert_after(plain[-1], key, tomlkit.item(new))
        return
    held = {k: table[k] for k in nested}
    for k in nested:
        table.remove(k)
    table.add(key, new)
    for k, part in held.items():
        table.add(k, part)


def _spaced(text: str) -> str:
    """One empty line before each table header that follows other lines; a remark right above a
    header stays with it."""
    made: list[str] = []
    for line in text.split("\n"):
        before = made[-1].strip() if made else ""
        if _HEADER.match(line) and before and not before.startswith("#"):
            made.append("")
        made.append(line)
    return "\n".join(made)


_HEADER = re.compile(r"[ \t]*\[(\[|brief|body)")


def set_does(text: str, brief: int, does: Sequence[str]) -> str:
    """What the body itself does with the file afterwards."""
    return set_brief(text, brief, "does", list(does))
