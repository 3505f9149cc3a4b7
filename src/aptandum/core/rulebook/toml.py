"""Reading a rulebook file: TOML into :class:`~.model.Rulebook`, with every error at once.

Each error names the file, the line, what stood there and what was expected. Nothing in a
rulebook is ever run, and a picture that it names must lie beside it.
"""

from __future__ import annotations

import datetime
import os
import re
from collections.abc import Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any, cast

from aptandum.core.brief.model import (
    ALTERATIONS,
    PLACES,
    TURNS,
    Body,
    Brief,
    Clause,
    Limit,
    Panel,
    Rulebook,
    Seen,
    Strength,
    Template,
    Turn,
    Zone,
)
from aptandum.core.judge import measures
from aptandum.core.quantity import ASPECT, LENGTH, PIXELS, SHARE, SIZE, Kind, Side
from aptandum.core.rulebook.limit_forms import LIMITS, wrong_form
from aptandum.core.rulebook.printed import in_shares
from aptandum.core.rulebook.problems import Problem, RulebookError
from aptandum.core.rulebook.toml_lines import Path_
from aptandum.core.rulebook.toml_tables import TableReader, _shown, plain_tables
from aptandum.core.words import listed, say

FORMAT = 1


_MOST_BYTES = 2_000_000


_ANCHORS = ("top", "middle", "bottom", "left", "right")


_COLOUR = re.compile(r"#[0-9A-Fa-f]{6}")


def read_rulebook(path: str | os.PathLike[str]) -> Rulebook:
    """Read and check a rulebook file.

    Raises:
        RulebookError: the file cannot be read, is not TOML, or breaks the language of rules;
            all its problems together.
    """
    file = os.fspath(path)
    shown = os.fsencode(file).decode("utf-8", "replace")
    try:
        with open(file, "rb") as stream:
            raw = stream.read(_MOST_BYTES + 1)
    except OSError as error:
        reason = error.strerror or str(error)
        raise RulebookError([Problem(shown, 0, "", reason, say("a rulebook file"))]) from None
    if len(raw) > _MOST_BYTES:
        stood = say("more than {n} bytes", n=_MOST_BYTES)
        raise RulebookError([Problem(shown, 0, "", stood, say("a rulebook file"))])
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = raw[: error.start].count(b"\n") + 1
        stood = say("bytes that are not UTF-8")
        raise RulebookError([Problem(shown, line, "", stood, say("UTF-8 text"))]) from None
    return parse_rulebook(text, shown, beside=Path(file).parent)


def parse_rulebook(text: str, file: str = "rulebook.toml", beside: Path | None = None) -> Rulebook:
    """Read a rulebook from text. ``beside`` is the folder in which its pictures must lie.

    Raises:
        RulebookError: as :func:`read_rulebook`.
    """
    try:
        data = plain_tables(text)
    except Exception as error:  # the parser raises many kinds on text made to hurt it
        stood = re.sub(r" at line \d+ col \d+$", "", str(error)) or type(error).__name__
        problem = Problem(file, getattr(error, "line", 0), "", stood, say("TOML"))
        raise RulebookError([problem]) from None
    return _Reader(text, data, file, beside).rulebook()


def check_clause(fields: Mapping[str, Any]) -> tuple[Clause | None, tuple[Problem, ...]]:
    """One clause from its keys alone, and what is wrong with it; for a form, as it is typed."""
    reader = _Reader("", {}, "", None)
    clause = reader.clause(fields, ())
    return (None if reader.problems else clause), tuple(reader.problems)


def draft_briefs(text: str) -> tuple[Brief, ...]:
    """The briefs of a text that is still being written, with those of their clauses that are
    sound; empty where the text is no TOML."""
    try:
        data = plain_tables(text)
    except Exception:  # as in parse_rulebook
        return ()
    made = []
    for table in data.get("brief", ()):
        entries = table.get("clause", ()) if isinstance(table, Mapping) else ()
        checked = [check_clause(entry) for entry in entries if isinstance(entry, Mapping)]
        sound = tuple(clause for clause, _problems in checked if clause is not None)
        reader = _Reader("", {}, "", None)
        clauses = reader.named(sound, ())
        made.append(Brief(str(table.get("id", "")), str(table.get("title", "")), clauses))
    return tuple(made)


class _Reader(TableReader):
    """Walks the parsed file once, gathering problems instead of stopping at the first."""

    # -- problems and typed access -------------------------------------------------------

    # -- the parts -----------------------------------------------------------------------

    def rulebook(self) -> Rulebook:
        self.known(self.data, (), ("format", "body", "brief"))
        found = self.data.get("format")
        if found != FORMAT or isinstance(found, bool):
            stood = _shown(found) if "format" in self.data else say('no "format"')
            self.problem(("format",), stood, say("format = {n}", n=FORMAT))
        body = self.body()
        briefs = tuple(
            self.brief(table, ("brief", i))
            for i, table in enumerate(self.tables(self.data, (), "brief"))
        )
        if not self.data.get("brief"):
            self.problem((), say("no brief"), say("at least one [[brief]]"))
        self.unique([(b.id, ("brief", i, "id")) for i, b in enumerate(briefs)], say("brief"))
        if self.problems:
            raise RulebookError(self.problems)
        folder = os.path.abspath(self.beside) if self.beside is not None else ""
        briefs = tuple(replace(brief, folder=folder, body=body.id) for brief in briefs)
        return Rulebook(body, briefs, self.text, self.file)

    def body(self) -> Body:
        if "body" not in self.data:
            self.problem((), say("no [body]"), say("a [body] with id and name"))
            return Body("", "")
        path: Path_ = ("body",)
        table = self.table(self.data["body"], path)
        if table is None:
            return Body("", "")
        self.known(table, path, ("id", "name", "source", "url", "edition", "read_on"))

        def date(value: Any) -> datetime.date | None:
            if isinstance(value, datetime.date) and not isinstance(value, datetime.datetime):
                return value
            return None

        def edition(value: Any) -> str | None:
            if isinstance(value, str) or (isinstance(value, int) and not isinstance(value, bool)):
                return str(value)
            return None

        none: datetime.date | None = None
        return Body(
            id=self.id_of(table, path),
            name=self.text_of(table, path, "name", needed=True),
            source=self.text_of(table, path, "source"),
            url=self.text_of(table, path, "url"),
            edition=self.get(table, path, "edition", edition, say("text"), ""),
            read_on=self.get(table, path, "read_on", date, say("a date such as 2026-11-02"), none),
        )

    def brief(self, table: Mapping[str, Any], path: Path_) -> Brief:
        keys = ("id", "title", "optional", "allows", "clause", "seen", "border", "template", "note")
        self.known(table, path, keys)
        clauses = tuple(
            self.clause(entry, (*path, "clause", i))
            for i, entry in enumerate(self.tables(table, path, "clause"))
        )
        if not table.get("clause"):
            self.problem(path, say("no clause"), say("at least one [[brief.clause]]"))
        clauses, unknown = in_shares(clauses)
        for i, wanted in unknown:
            self.problem(
                (*path, "clause", i),
                say("a length, and no printed side that it is a part of"),
                say("{measure} with exactly, in the same brief", measure=wanted),
            )
        clauses = self.named(clauses, path)
        border = None
        if "border" in table:
            entry = self.table(table["border"], (*path, "border"))
            if entry is not None:
                self.known(entry, (*path, "border"), ("picture",))
                border = self.picture(entry, (*path, "border"), "picture")
                if "picture" not in entry:
                    self.problem((*path, "border"), say('no "picture"'), say("a file name"))
        return Brief(
            id=self.id_of(table, path),
            title=self.text_of(table, path, "title", needed=True),
            clauses=clauses,
            optional=self.get(
                table,
                path,
                "optional",
                lambda v: v if isinstance(v, bool) else None,
                say("true or false"),
                False,
            ),
            allows=self.allows(table, path),
            seen=tuple(
                self.seen(entry, (*path, "seen", i))
                for i, entry in enumerate(self.tables(table, path, "seen"))
            ),
            border=border,
            template=self.template(table, path),
            note=self.text_of(table, path, "note"),
        )

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

    def allows(self, table: Mapping[str, Any], path: Path_) -> tuple[str, ...] | None:
        if "allows" not in table:
            return None
        return self.word_list(table["allows"], (*path, "allows"), ALTERATIONS, empty=True)

    # -- clauses ---------------------------------------------------------------------------

    def clause(self, table: Mapping[str, Any], path: Path_) -> Clause:
        common = ("id", "applies", "strength", "quote", "note")
        self.known(table, path, ("measure", "ask", *LIMITS, *common))
        name, limit, ask = None, None, None
        if "measure" in table and "ask" in table:
            self.problem(path, say('both "measure" and "ask"'), say("one of the two"))
        elif "ask" in table:
            ask = self.text_of(table, path, "ask", needed=True)
            for key in LIMITS:
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
            line=self.line(path),
        )

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
        return name, self.limit(table, path, measures.STATED[name].kind)

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
        low = high = None
        one_of: tuple[Any, ...] = ()
        none_of: tuple[Any, ...] = ()
        ok = True

        def read(value: Any, at: Path_, side: Side) -> Any:
            nonlocal ok
            parsed = self.value(value, at, kind, side)
            ok = ok and parsed is not None
            return parsed

        if "exactly" in form:
            one_of = (read(table["exactly"], (*path, "exactly"), "exact"),)
        for key, by in (("at_least", 0), ("above", 1)):
            if key in form:
                low = _beside(kind, read(table[key], (*path, key), "lower"), by)
        for key, by in (("at_most", 0), ("below", -1)):
            if key in form:
                high = _beside(kind, read(table[key], (*path, key), "upper"), by)
        if "between" in form:
            pair = table["between"]
            if not isinstance(pair, list) or len(pair) != 2:
                self.problem((*path, "between"), _shown(pair), say("a list of two limits"))
                return None
            low = read(pair[0], (*path, "between"), "lower")
            high = read(pair[1], (*path, "between"), "upper")
        for key in ("one_of", "none_of"):
            if key not in form:
                continue
            entries = table[key]
            if not isinstance(entries, list) or not entries:
                self.problem((*path, key), _shown(entries), say("a list with at least one entry"))
                return None
            values = tuple(read(entry, (*path, key), "exact") for entry in entries)
            if key == "one_of":
                one_of = values
            else:
                none_of = values
        if not ok:
            return None
        if low is not None and high is not None and kind.above(low, high):
            at = (*path, next(key for key in ("between", "below", "at_most") if key in form))
            stood = say("{low} to {high}", low=kind.show(low), high=kind.show(high))
            self.problem(at, stood, say("a lower limit that is not above the upper one"))
            return None
        if one_of and all(value in none_of for value in one_of):
            self.problem((*path, "none_of"), say("all that one_of allows"), say("something left"))
            return None
        return Limit(form, low, high, one_of, none_of)

    # -- places, zones, templates ------------------------------------------------------------

    def seen(self, table: Mapping[str, Any], path: Path_) -> Seen:
        keys = ("as", "width", "at", "opacity", "zones", "colours", "text", "aspect", "anchor")
        self.known(table, path, keys)
        as_ = self.get(
            table,
            path,
            "as",
            lambda v: v if v in PLACES else None,
            say("one of {words}", words=listed(PLACES)),
            "",
            needed=True,
        )
        opacity = self.quantity(table, path, "opacity", SHARE)
        if opacity is not None and not 0 <= opacity <= 1:
            self.problem((*path, "opacity"), _shown(table["opacity"]), say("0 % to 100 %"))
        colours = table.get("colours", [])
        good = isinstance(colours, list) and all(
            isinstance(c, str) and _COLOUR.fullmatch(c) for c in colours
        )
        if not good:
            self.problem((*path, "colours"), _shown(colours), say('colours such as "#1F5A7A"'))
            colours = []
        return Seen(
            as_=as_,
            width=self.quantity(table, path, "width", LENGTH),
            at=self.quantity(table, path, "at", PIXELS),
            opacity=opacity,
            zones=self.zones(table, path),
            colours=tuple(colours),
            text=self.text_of(table, path, "text"),
            aspect=self.quantity(table, path, "aspect", ASPECT),
            anchor=self.get(
                table,
                path,
                "anchor",
                lambda v: v if v in _ANCHORS else None,
                say("one of {words}", words=listed(_ANCHORS)),
                "middle",
            ),
        )

    def zones(self, table: Mapping[str, Any], path: Path_) -> tuple[Zone, ...]:
        zones = []
        for i, entry in enumerate(self.tables(table, path, "zones")):
            at = (*path, "zones", i)
            self.known(entry, at, ("name", "left", "top", "width", "height"))
            name = self.text_of(entry, at, "name", needed=True)
            sides = [
                self.quantity(entry, at, key, SHARE, needed=True)
                for key in ("left", "top", "width", "height")
            ]
            if any(side is None for side in sides):
                continue
            left, top, width, height = sides
            inside = left >= 0 and top >= 0 and width > 0 and height > 0
            if not inside or left + width > 1 + 1e-9 or top + height > 1 + 1e-9:
                self.problem(at, _shown(name), say("a zone that lies inside the frame"))
                continue
            zones.append(Zone(name, left, top, width, height))
        return tuple(zones)

    def template(self, table: Mapping[str, Any], path: Path_) -> Template | None:
        if "template" not in table:
            return None
        at = (*path, "template")
        entry = self.table(table["template"], at)
        if entry is None:
            return None
        self.known(entry, at, ("size", "shade", "panel"))
        size = self.quantity(entry, at, "size", SIZE, needed=True)
        shade = self.picture(entry, at, "shade")
        panels = []
        for i, part in enumerate(self.tables(entry, at, "panel")):
            spot = (*at, "panel", i)
            self.known(part, spot, ("name", "outline"))
            name = self.text_of(part, spot, "name", needed=True)
            outline = part.get("outline")
            good = isinstance(outline, list) and len(outline) >= 3
            good = good and all(
                isinstance(p, list)
                and len(p) == 2
                and all(
                    isinstance(c, (int, float)) and not isinstance(c, bool) and abs(c) < 1e6
                    for c in p
                )
                for p in cast(list[Any], outline)
            )
            if not good:
                expected = say("at least three points such as [24, 20]")
                self.problem((*spot, "outline"), _shown(outline), expected)
                continue
            points = tuple((float(p[0]), float(p[1])) for p in cast(list[Any], outline))
            if size is not None and any(
                not (0 <= x <= size[0] and 0 <= y <= size[1]) for x, y in points
            ):
                expected = say("points inside the template's size")
                self.problem((*spot, "outline"), _shown(outline), expected)
                continue
            panels.append(Panel(name, points))
        if not entry.get("panel"):
            self.problem(at, say("no panel"), say("at least one [[brief.template.panel]]"))
        self.unique(
            [(p.name, (*at, "panel", i, "name")) for i, p in enumerate(panels)], say("panel")
        )
        return Template(size, tuple(panels), shade) if size is not None else None


def _beside(kind: Kind, value: Any, by: int) -> Any:
    return kind.beside(value, by) if by and value is not None else value
