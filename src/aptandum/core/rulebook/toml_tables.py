"""Tables of a TOML file, read value by value; every problem with its line."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Callable, Mapping
from functools import lru_cache
from pathlib import Path
from typing import Any, TypeVar

from aptandum.core.numbers import QuantityError, Side
from aptandum.core.quantity import Kind
from aptandum.core.rulebook.problems import Problem
from aptandum.core.rulebook.toml_lines import Path_, line_index
from aptandum.core.words import commas, listed, say

_ID = re.compile(r"[a-z0-9][a-z0-9-]{0,63}")


T = TypeVar("T")


def _shown(value: object) -> str:
    """What stood there, short enough for a message."""
    if isinstance(value, str):
        text = f'"{value}"'
    elif isinstance(value, bool):
        text = "true" if value else "false"
    elif isinstance(value, Mapping):
        text = say("a table")
    elif isinstance(value, list):
        text = "[" + commas([_shown(v) for v in value[:6]]) + ("…]" if len(value) > 6 else "]")
    else:
        text = str(value)
    text = " ".join(text.split())
    return text if len(text) <= 80 else text[:77] + "…"


@lru_cache(maxsize=32)
def plain_tables(text: str) -> Mapping[str, Any]:
    """A text's tables as plain values, not to be changed by whoever asks: a form asks several
    times at every key.

    Raises:
        tomlkit.exceptions.ParseError: the text is no TOML. It says the line; Python's own reader,
            which is far faster than the one that keeps comments, says it in words only.
    """
    try:
        return tomllib.loads(text)
    except Exception:
        import tomlkit

        return tomlkit.parse(text).unwrap()


class TableReader:
    """Reads values of tables and gathers what is wrong with them."""

    def __init__(self, text: str, data: Mapping[str, Any], file: str, beside: Path | None) -> None:
        self.text = text
        self.data = data
        self.file = file
        self.beside = beside
        self.lines = line_index(text)
        self.problems: list[Problem] = []

    def line(self, path: Path_) -> int:
        """The line on which a key stands, or on which what holds it begins."""
        while path and path not in self.lines:
            path = path[:-1]
        return self.lines.get(path, 1)

    def problem(self, path: Path_, stood: str, expected: str) -> None:
        """Note what stood at a key and what was expected there."""
        where = ".".join(str(part + 1) if isinstance(part, int) else part for part in path)
        self.problems.append(Problem(self.file, self.line(path), where, stood, expected))

    def known(self, table: Mapping[str, Any], path: Path_, keys: tuple[str, ...]) -> None:
        """Note every key of a table that is none of those known."""
        for key in table:
            if key not in keys:
                self.problem((*path, str(key)), say('the key "{key}"', key=key), listed(keys))

    def get(
        self,
        table: Mapping[str, Any],
        path: Path_,
        key: str,
        check: Callable[[Any], T | None],
        expected: str,
        default: T,
        needed: bool = False,
    ) -> T:
        """A key's value as ``check`` gives it; the default, and a problem, where it refuses."""
        if key not in table:
            if needed:
                self.problem(path, say('no "{key}"', key=key), expected)
            return default
        value = check(table[key])
        if value is None:
            self.problem((*path, key), _shown(table[key]), expected)
            return default
        return value

    def text_of(self, table: Mapping[str, Any], path: Path_, key: str, needed: bool = False) -> str:
        """A key's text, which may be needed and then not be empty."""

        def check(value: Any) -> str | None:
            if isinstance(value, str) and (value.strip() or not needed):
                return value
            return None

        return self.get(table, path, key, check, say("text"), "", needed)

    def quantity(
        self, table: Mapping[str, Any], path: Path_, key: str, kind: Kind, needed: bool = False
    ) -> Any:
        """A key's quantity of a kind; ``None`` where it is missing or wrong."""
        if key not in table:
            if needed:
                self.problem(path, say('no "{key}"', key=key), self.expected_of(kind))
            return None
        return self.value(table[key], (*path, key), kind, "exact")

    def expected_of(self, kind: Kind) -> str:
        """What a kind of quantity wants, in words."""
        try:
            kind.parse(object(), "exact")
        except QuantityError as error:
            return str(error)
        return kind.name  # pragma: no cover - every kind refuses a bare object

    def value(self, value: Any, path: Path_, kind: Kind, side: Side) -> Any:
        """A value as a kind of quantity reads it; ``None``, and a problem, where it cannot."""
        try:
            return kind.parse(value, side)
        except QuantityError as error:
            self.problem(path, _shown(value), str(error))
            return None

    def table(self, value: Any, path: Path_) -> Mapping[str, Any] | None:
        """A value that is to be a table; ``None``, and a problem, where it is none."""
        if isinstance(value, Mapping):
            return value
        self.problem(path, _shown(value), say("a table"))
        return None

    def tables(self, table: Mapping[str, Any], path: Path_, key: str) -> list[Mapping[str, Any]]:
        """The tables under a key; none, and a problem, where it holds anything else."""
        value = table.get(key, [])
        if not isinstance(value, list) or not all(isinstance(v, Mapping) for v in value):
            self.problem((*path, key), _shown(value), say("one or more tables"))
            return []
        return value

    def picture(self, table: Mapping[str, Any], path: Path_, key: str) -> str | None:
        """A picture's name; it must lie beside the rulebook, so it may have no folder in it."""
        if key not in table:
            return None
        name = self.text_of(table, path, key, needed=True)
        if not name:
            return None
        plain = name not in (".", "..") and not re.search(r"[/\\\0]", name)
        if not plain or len(name) > 200:
            self.problem((*path, key), _shown(name), say("a file name without a folder"))
            return None
        if self.beside is not None and not _lies_in(self.beside / name, self.beside):
            self.problem((*path, key), _shown(name), say("a picture that lies beside the rulebook"))
        return name

    def unique(self, ids: list[tuple[str, Path_]], what: str) -> None:
        """Note each id that stands twice."""
        seen: set[str] = set()
        for name, path in ids:
            if name and name in seen:
                expected = say("an id that no other {what} here has", what=what)
                self.problem(path, _shown(name), expected)
            seen.add(name)

    def id_of(self, table: Mapping[str, Any], path: Path_) -> str:
        """A table's id: small letters, digits and hyphens."""

        def check(value: Any) -> str | None:
            return value if isinstance(value, str) and _ID.fullmatch(value) else None

        expected = say("an id of small letters, digits and hyphens")
        return self.get(table, path, "id", check, expected, "", needed=True)

    def word_list(
        self, value: Any, path: Path_, words: tuple[str, ...], empty: bool = False
    ) -> tuple[str, ...]:
        """One word or several, each one of those known; what is none of them is noted."""
        entries = value if isinstance(value, list) else [value]
        if not entries and not empty:
            self.problem(path, _shown(value), listed(words))
        good = []
        for entry in entries:
            if isinstance(entry, str) and entry in words:
                good.append(entry)
            else:
                self.problem(path, _shown(entry), say("one of {words}", words=listed(words)))
        return tuple(good)


def _lies_in(path: Path, folder: Path) -> bool:
    """Whether a file is there and, whatever links lead to it, in this folder."""
    try:
        return path.is_file() and path.resolve().parent == folder.resolve()
    except (OSError, ValueError, RuntimeError):
        return False
