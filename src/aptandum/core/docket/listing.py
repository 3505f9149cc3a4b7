"""Listings: tables (CSV) of items, each with its picture's file and whether it still matters."""

from __future__ import annotations

import codecs
import csv
import io
import os
import re
from collections.abc import Iterable, Iterator, Sequence
from functools import lru_cache
from itertools import chain
from pathlib import Path

from aptandum.core.docket.found import photos_in
from aptandum.core.docket.listed import AT_ONCE, Item, Listed, Part
from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.numbers import QuantityError, number
from aptandum.core.outside import read_whole
from aptandum.core.photo.facts import io_sentence, shown_name
from aptandum.core.words import say, say_n

MOST_ROWS = 5_000_000


class ListingError(AptandumError):
    """A listing that cannot be read; the message names file, line and cause."""


_MOST_BYTES = 512 * 1024 * 1024
_MOST_COLUMNS = 1000
_MOST_WRONG = 8
_MOST_PATHS = 65_536
_PART = 1 << 20
_MOST_NAMED = 12
_ITEM = ("item", "name", "title", "sku", "article", "id", "number")
_FILE = ("picture file", "picture", "file", "photo", "image", "path", "filename", "file name")
_KEY = ("key", "sku", "article number", "item number", "id", "ean", "gtin")
_VALUE = ("price", "value", "worth", "amount")
_STOCK = ("in stock", "stock", "in_stock", "available", "quantity", "instock")
_FIGURE = re.compile(r"\d[\d.,'\u00a0\u202f ]*")
_YES = {"yes", "y", "true", "in stock", "in", "available", "x"}
_NO = {"no", "n", "false", "out of stock", "out", "sold", "sold out", "gone", "ended", "-"}


def items_in(paths: Iterable[str]) -> Listed:
    """The photos of folders and of those inside them, each an item of its own."""
    return Listed(Item(shown_name(path), path) for path in photos_in(list(paths)))


@frozen
class Columns:
    """Which of a listing's columns says what, by name; empty: none does."""

    item: str = ""
    picture: str = ""
    stock: str = ""
    key: str = ""
    value: str = ""


def recognised(head: Sequence[str]) -> Columns:
    """What a listing's columns seem to say, by their names."""
    low = [name.strip().lower() for name in head]

    def named(names: Sequence[str], besides: str = "") -> str:
        at = _column([name if name != besides else "" for name in low], names)
        return head[at].strip() if at is not None else ""

    item = named(_ITEM)
    key = named(_KEY, item.lower())
    return Columns(item, named(_FILE), named(_STOCK), key, named(_VALUE))


def head_of(path: str | os.PathLike[str], rows: int = 3) -> tuple[list[str], list[list[str]]]:
    """A listing's columns and its first rows, for whoever says what they mean.

    Raises:
        ListingError: it cannot be read.
    """
    table = _opened(path)
    try:
        each = table.each()
        head = [column.strip() for column in next(each, [])]
        return head[:_MOST_COLUMNS], [row for row, _n in zip(each, range(rows), strict=False)]
    except csv.Error as error:
        raise ListingError(table.broken(str(error))) from None


def read_listing(path: str | os.PathLike[str], columns: Columns | None = None) -> Listed:
    """The items of a listing. Its first row names the columns; the pictures' files are looked for beside it.
    Comma, semicolon or tab part the columns: what a line ``sep=;`` before them says, else whichever the first
    row has most of.

    Args:
        columns: which of them says what; left out: as they seem to.

    Raises:
        ListingError: it cannot be read; all that is wrong, by line.
    """
    table = _opened(path)
    try:
        return Listed.of_parts(table.items(Path(os.path.abspath(os.fspath(path))).parent, columns))
    except csv.Error as error:
        raise ListingError(table.broken(str(error))) from None


def _opened(path: str | os.PathLike[str]) -> _Table:
    name = shown_name(path)
    try:
        return _Table(_lines_of(read_whole(path, _MOST_BYTES)), name)
    except (OSError, ValueError) as error:
        cause = error if isinstance(error, OSError) else OSError(str(error))
        raise ListingError(io_sentence(cause, name)) from None


def _lines_of(raw: bytes) -> Iterator[str]:
    """A table's lines, in whatever letters it was saved; they are read as they are asked for."""
    text = io.TextIOWrapper(io.BytesIO(raw), _letters_of(raw), "replace", newline="")
    yield from text


def _letters_of(raw: bytes) -> str:
    if raw[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return "utf-16"
    for nul, encoding in ((raw[1:200:2], "utf-16-le"), (raw[0:200:2], "utf-16-be")):
        if len(nul) > 4 and nul.count(0) > 0.8 * len(nul):
            return encoding
    whole = codecs.getincrementaldecoder("utf-8")()
    try:
        for begun in range(0, len(raw), _PART):
            whole.decode(raw[begun : begun + _PART])
        whole.decode(b"", final=True)
    except UnicodeDecodeError:
        return "cp1252"  # what tables on older machines are written in
    return "utf-8-sig"


class _Table:
    """The rows of a table, and where a reader of it stands."""

    def __init__(self, lines: Iterator[str], name: str) -> None:
        self.name = name
        first = next(lines, "")
        told = first.rstrip("\r\n")
        self.skipped = 0
        if told.lower().startswith("sep=") and len(told) == 5:
            self.parted, self.skipped = told[4], 1
        else:
            self.parted, lines = max(",;\t", key=first.count), chain([first], lines)
        self.rows = csv.reader(lines, delimiter=self.parted, strict=True)
        self.begun = 1

    def each(self) -> Iterator[list[str]]:
        """The rows; :attr:`begun` is the line at which the last one begins."""
        while True:
            self.begun = self.rows.line_num + 1 + self.skipped
            row = next(self.rows, None)
            if row is None:
                return
            yield row

    def broken(self, why: str) -> str:
        """What is wrong where the table ends to be one."""
        if "end of data" in why or "expected after" in why:
            return say(
                "{file}, line {n}: a quote mark is opened there, and not closed where its cell ends.",
                file=self.name,
                n=self.begun,
            )
        return say("{file}, line {n}: {why}.", file=self.name, n=self.begun, why=why)

    def items(self, folder: Path, columns: Columns | None = None) -> Iterator[Part]:
        """Every item, many at a time; its picture is looked for in a folder. What is wrong is raised behind the last of them.

        Raises:
            ListingError: it is not said what the columns mean, or a cell says nothing that can be meant.
        """
        rows = self.each()
        own = tuple(column.strip() for column in next(rows, []))
        head = [column.lower() for column in own]
        if len(head) > _MOST_COLUMNS:
            sentence = say("{file} has {n} columns; at most {most} are read.",
                           file=self.name, n=len(head), most=_MOST_COLUMNS)  # fmt: skip
            raise ListingError(sentence)
        said = columns or recognised(own)
        at_item, at_file, at_stock, at_key, at_value = (
            self._at(own, name)
            for name in (said.item, said.picture, said.stock, said.key, said.value)
        )
        if at_file is None:
            raise ListingError(self._no_file(head))
        wrong: list[str] = []
        paths = _Paths(os.fspath(folder))
        while some := list(self._filled(rows)):
            stocks = [_stock(cell) for cell in _cells(some, at_stock)]
            if "?" in stocks:
                wrong += [
                    say("{file}, line {n}: “{word}” does not say whether it is in stock.",
                        file=self.name, n=line, word=_short(_cell(row, at_stock)))
                    for (line, row), stock in zip(some, stocks, strict=True) if stock == "?"
                ]  # fmt: skip
            lines = [line for line, _row in some]
            files, names = _cells(some, at_file), _cells(some, at_item)
            each = zip(names, files, lines, strict=True)
            yield (
                [name or file or say("line {n}", n=line) for name, file, line in each],
                [paths[file] for file in files],
                [None if stock == "?" else stock for stock in stocks],  # type: ignore[misc]
                lines,
                [own] * len(some),
                [tuple(row[: len(own)]) for _line, row in some],
                _cells(some, at_key),
                [_number(cell) for cell in _cells(some, at_value)],
            )
        if wrong:
            more = len(wrong) - _MOST_WRONG
            rest = "\n" + say("And {n} more.", n=more) if more > 0 else ""
            raise ListingError("\n".join(wrong[:_MOST_WRONG]) + rest)

    def _filled(self, rows: Iterator[list[str]]) -> Iterator[tuple[int, list[str]]]:
        """The next rows in which anything stands, each with its line; at most as many as are taken at a time.

        Raises:
            ListingError: there are too many.
        """
        n = 0
        for row in rows:
            if "".join(row).strip():
                line = self.rows.line_num + self.skipped
                if line > MOST_ROWS:
                    raise ListingError(
                        say("{file} has more than {n} lines.", file=self.name, n=MOST_ROWS)
                    )
                yield line, row
                n += 1
                if n == AT_ONCE:
                    return

    def _at(self, own: tuple[str, ...], name: str) -> int | None:
        """The place of a column.

        Raises:
            ListingError: there is none of that name.
        """
        if not name:
            return None
        low = [one.lower() for one in own]
        if name.strip().lower() not in low:
            raise ListingError(
                say("{file} has no column “{name}”.", file=self.name, name=_short(name))
            )
        return low.index(name.strip().lower())

    def _no_file(self, head: list[str]) -> str:
        names = [_short(name) for name in head[:_MOST_NAMED]]
        more = len(head) - len(names)
        if more > 0:
            names.append(say_n("{n} more", "{n} more", more))
        return say(
            "{file} names no column for the picture’s file; one called “picture file” is "
            "expected, and these are there: {names}.",
            file=self.name,
            names=", ".join(names) or say("none"),
        )


def file_column(head: Sequence[str]) -> int | None:
    """Which of a listing's columns names the picture's file."""
    return _column([name.lower() for name in head], _FILE)


def _short(text: str) -> str:
    return text if len(text) <= 40 else text[:40] + "…"


def _column(head: Sequence[str], names: Sequence[str]) -> int | None:
    return next((head.index(name) for name in names if name in head), None)


def _cell(row: Sequence[str], at: int | None) -> str:
    return row[at].strip() if at is not None and at < len(row) else ""


def _cells(rows: Sequence[tuple[int, Sequence[str]]], at: int | None) -> list[str]:
    """As :func:`_cell`, of many rows with their lines."""
    if at is None:
        return [""] * len(rows)
    return [row[at].strip() if at < len(row) else "" for _line, row in rows]


class _Paths(dict[str, str]):
    """Each file's path, worked out once: many items may show one picture."""

    def __init__(self, folder: str) -> None:
        super().__init__({"": ""})
        self._folder = folder
        self._within = os.path.normpath(os.path.join(folder, "x"))[:-1]

    def __missing__(self, file: str) -> str:
        if len(self) >= _MOST_PATHS:
            self.clear()
            self[""] = ""
        if os.sep in file or file in (os.curdir, os.pardir):
            path = os.path.normpath(os.path.join(self._folder, file))
        else:
            path = self._within + file
        self[file] = path
        return path


@lru_cache(maxsize=4096)
def _number(text: str) -> float | None:
    """What an item is worth, whatever stands beside the figure: "18", "1.250,00", "€ 24.50"."""
    found = _FIGURE.search(text)
    if found is None:
        return None
    plain = re.sub(r"['\u00a0\u202f ]", "", found[0]).rstrip(".,")
    if "." in plain and "," in plain:  # whichever comes last parts the whole from the rest
        groups = "," if plain.rfind(".") > plain.rfind(",") else "."
        plain = plain.replace(groups, "").replace(",", ".")
    try:
        return float(number(plain))
    except (QuantityError, ValueError):
        return None


@lru_cache(maxsize=256)
def _stock(word: str) -> bool | str | None:
    word = word.lower()
    if not word:
        return None
    if word in _YES:
        return True
    if word in _NO:
        return False
    try:
        return float(word.replace(",", ".")) > 0
    except ValueError:
        return "?"
