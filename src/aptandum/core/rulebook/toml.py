"""Reading a rulebook file: TOML into :class:`~.model.Rulebook`, with every error at once.

Each error names the file, the line, what stood there and what was expected. Nothing in a
rulebook is ever run, and a picture that it names must lie beside it.
"""

from __future__ import annotations

import os
import re
from collections.abc import Iterable, Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

from aptandum.core.brief.bundles import MOST_COURSES, count_of
from aptandum.core.brief.model import ALTERATIONS, Body, Brief, Clause, Rulebook
from aptandum.core.outside import read_whole
from aptandum.core.rulebook.language import BODY, BORDER, BRIEF, ROOT, names
from aptandum.core.rulebook.parcel import is_parcel, unpacked
from aptandum.core.rulebook.printed import in_shares
from aptandum.core.rulebook.problems import Problem, RulebookError
from aptandum.core.rulebook.toml_clauses import ClauseReader
from aptandum.core.rulebook.toml_lines import Path_
from aptandum.core.rulebook.toml_places import PlaceReader
from aptandum.core.rulebook.toml_tables import _shown, plain_tables
from aptandum.core.rulebook.whole_body import with_shared
from aptandum.core.words import say

FORMAT = 1


_MOST_BYTES = 2_000_000


def read_rulebook(path: str | os.PathLike[str]) -> Rulebook:
    """Read and check a rulebook file, or an archive of one with its pictures.

    Raises:
        RulebookError: the file cannot be read, is not TOML, or breaks the language of rules;
            all its problems together.
    """
    file = os.fspath(path)
    shown = os.fsencode(file).decode("utf-8", "replace")
    if is_parcel(file):
        inside = unpacked(file)
        return replace(read_rulebook(inside), path=shown)
    try:
        raw = read_whole(file, _MOST_BYTES)
    except (OSError, ValueError) as error:
        reason = getattr(error, "strerror", None) or str(error)
        raise RulebookError([Problem(shown, 0, "", reason, say("a rulebook file"))]) from None
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
    shared = _tables_of(data, "clause")
    for table in data.get("brief", ()):
        entries = table.get("clause", ()) if isinstance(table, Mapping) else ()
        made.append(
            draft_brief(str(table.get("id", "")), str(table.get("title", "")), entries, shared)
        )
    return tuple(made)


def draft_brief(
    ident: str, title: str, entries: Iterable[Any], shared: Iterable[Any] = ()
) -> Brief:
    """A brief of those clauses that are sound, each given as its keys.

    Args:
        shared: the clauses of the whole body.
    """
    reader = _Reader("", {}, "", None)

    def sound(every: Iterable[Any]) -> tuple[Clause, ...]:
        checked = [check_clause(entry)[0] for entry in every if isinstance(entry, Mapping)]
        return reader.named(tuple(clause for clause in checked if clause is not None), ())

    clauses, _unknown = in_shares(with_shared(sound(entries), sound(shared)))
    return Brief(ident, title, clauses)


class _Reader(ClauseReader, PlaceReader):
    """Walks the parsed file once, gathering problems instead of stopping at the first."""

    def rulebook(self) -> Rulebook:
        self.known(self.data, (), names(ROOT))
        found = self.data.get("format")
        if found != FORMAT or isinstance(found, bool):
            stood = _shown(found) if "format" in self.data else say('no "format"')
            self.problem(("format",), stood, say("format = {n}", n=FORMAT))
        body = self.body()
        shared = self.shared()
        briefs = tuple(
            self.brief(table, ("brief", i), shared)
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
        self.known(table, path, names(BODY))

        def edition(value: Any) -> str | None:
            if isinstance(value, str) or (isinstance(value, int) and not isinstance(value, bool)):
                return str(value)
            return None

        return Body(
            id=self.id_of(table, path),
            name=self.text_of(table, path, "name", needed=True),
            source=self.text_of(table, path, "source"),
            url=self.text_of(table, path, "url"),
            edition=self.get(table, path, "edition", edition, say("text"), ""),
            read_on=self.date(table, path, "read_on"),
            valid_from=self.date(table, path, "valid_from"),
        )

    def shared(self) -> tuple[Clause, ...]:
        """The clauses of every brief."""
        read = (
            replace(self.clause(entry, ("clause", i)), whole_body=True)
            for i, entry in enumerate(self.tables(self.data, (), "clause"))
        )
        return self.named(tuple(read), ())

    def brief(
        self, table: Mapping[str, Any], path: Path_, shared: tuple[Clause, ...] = ()
    ) -> Brief:
        self.known(table, path, names(BRIEF))
        clauses = tuple(
            self.clause(entry, (*path, "clause", i))
            for i, entry in enumerate(self.tables(table, path, "clause"))
        )
        if not table.get("clause") and not shared:
            self.problem(path, say("no clause"), say("at least one [[brief.clause]]"))
        own = len(clauses)
        clauses = with_shared(self.named(clauses, path), shared)
        clauses, unknown = in_shares(clauses)
        for i, wanted in unknown:
            self.problem(
                (*path, "clause", i) if i < own else self.at_of(clauses[i], path),
                say("a length, and no printed side that it is a part of"),
                say("{measure} with exactly, in the same brief", measure=wanted),
            )
        made = Brief("", "", clauses)
        if not self.problems and count_of(made) > MOST_COURSES:
            stood = say("{n} ways through its conditions and choices", n=count_of(made))
            self.problem(path, stood, say("at most {n}", n=MOST_COURSES))
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
            examples=self.examples(table, path, clauses),
            border=self.border(table, path),
            template=self.template(table, path),
            crown=self.get(
                table,
                path,
                "crown",
                lambda v: v if v in ("hair", "skull") else None,
                say("hair or skull"),
                "hair",
            ),
            note=self.text_of(table, path, "note"),
            does=self.texts(table, path, "does"),
        )

    def at_of(self, clause: Clause, path: Path_) -> Path_:
        """Where a clause of the whole body stands."""
        for i, _entry in enumerate(self.tables(self.data, (), "clause")):
            if self.line(("clause", i)) == clause.line:
                return ("clause", i)
        return path

    def texts(self, table: Mapping[str, Any], path: Path_, key: str) -> tuple[str, ...]:
        """One text or several."""
        value = table.get(key, [])
        every = value if isinstance(value, list) else [value]
        if not all(isinstance(one, str) and one.strip() for one in every):
            self.problem((*path, key), _shown(value), say("a text, or a list of texts"))
            return ()
        return tuple(every)

    def border(self, table: Mapping[str, Any], path: Path_) -> str | None:
        """The name of the border's picture."""
        if "border" not in table:
            return None
        at = (*path, "border")
        entry = self.table(table["border"], at)
        if entry is None:
            return None
        self.known(entry, at, names(BORDER))
        if "picture" not in entry:
            self.problem(at, say('no "picture"'), say("a file name"))
        return self.picture(entry, at, "picture")

    def allows(self, table: Mapping[str, Any], path: Path_) -> tuple[str, ...] | None:
        if "allows" not in table:
            return None
        return self.word_list(table["allows"], (*path, "allows"), ALTERATIONS, empty=True)


def _tables_of(data: Mapping[str, Any], name: str) -> list[Mapping[str, Any]]:
    entries = data.get(name, ())
    return [e for e in entries if isinstance(e, Mapping)] if isinstance(entries, list) else []
