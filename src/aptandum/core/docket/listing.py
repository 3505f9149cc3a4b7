"""Listings: tables (CSV) of items, each with its picture's file and whether it still matters."""

from __future__ import annotations

import codecs
import csv
import io
import math
import os
import re
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property, lru_cache
from itertools import chain
from operator import itemgetter

from aptandum.core.docket.found import photos_in
from aptandum.core.docket.listed import AT_ONCE, Item, Listed, Part, Told
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
        meaning = table.meaning(os.path.dirname(os.path.abspath(os.fspath(path))), columns)
        return Listed.of_parts(table.items(meaning), meaning, [meaning.head])
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
    stream, letters = io.BytesIO(raw), _letters_of(raw)
    if letters == "utf-8" and raw.startswith(codecs.BOM_UTF8):
        stream.seek(len(codecs.BOM_UTF8))  # the decoder that would leave it out is a slower one
    return io.TextIOWrapper(stream, letters, "replace", newline="")


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
    return "utf-8"


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

    def meaning(self, folder: str, columns: Columns | None = None) -> _Meaning:
        """What its columns mean, by its first row; pictures are looked for in a folder.

        Raises:
            ListingError: it is not said.
        """
        own = tuple(column.strip() for column in next(self.each(), []))
        if len(own) > _MOST_COLUMNS:
            sentence = say("{file} has {n} columns; at most {most} are read.",
                           file=self.name, n=len(own), most=_MOST_COLUMNS)  # fmt: skip
            raise ListingError(sentence)
        said = columns or recognised(own)
        item, picture, *rest = (
            self._at(own, name)
            for name in (said.item, said.picture, said.stock, said.key, said.value)
        )
        if picture is None:
            raise ListingError(self._no_file([column.lower() for column in own]))
        return _Meaning(folder, own, item, picture, *rest)

    def items(self, meaning: _Meaning) -> Iterator[Part]:
        """Every item, many at a time. What is wrong is raised behind the last of them.

        Raises:
            ListingError: a cell says nothing that can be meant, or there are too many.
        """
        wrong: list[str] = []
        many = len(meaning.head)
        for lines, rows in self._filled():
            if max(map(len, rows)) > many:
                rows = [row[:many] for row in rows]
            words = meaning.column(rows, meaning.stock)
            stocks = list(map(_stock, words)) if meaning.stock is not None else [-1] * len(rows)
            if None in stocks:
                wrong += [
                    say("{file}, line {n}: “{word}” does not say whether it is in stock.",
                        file=self.name, n=line, word=_short(word))
                    for line, word, stock in zip(lines, words, stocks, strict=True) if stock is None
                ]  # fmt: skip
            files = meaning.column(rows, meaning.picture)
            names = meaning.column(rows, meaning.item)
            yield Part(
                names if all(names) else list(map(_named, names, files, lines)),
                meaning.paths(files),
                [-1 if stock is None else stock for stock in stocks],
                lines,
                meaning.column(rows, meaning.key),
                list(map(_number, meaning.column(rows, meaning.value))),
                rows,
            )
        if wrong:
            more = len(wrong) - _MOST_WRONG
            rest = "\n" + say("And {n} more.", n=more) if more > 0 else ""
            raise ListingError("\n".join(wrong[:_MOST_WRONG]) + rest)

    def _filled(self) -> Iterator[tuple[list[int], list[list[str]]]]:
        """The rows in which anything stands, each with its line, at most as many at a time as are taken.

        Raises:
            ListingError: there are too many.
        """
        lines: list[int] = []
        rows: list[list[str]] = []
        for row in self.each():
            if "".join(row).strip():
                lines.append(self.rows.line_num + self.skipped)
                rows.append(row)
                if len(rows) == AT_ONCE:
                    self._not_too_many(lines)
                    yield lines, rows
                    lines, rows = [], []
        if rows:
            self._not_too_many(lines)
            yield lines, rows

    def _not_too_many(self, lines: list[int]) -> None:
        if lines[-1] > MOST_ROWS:
            raise ListingError(say("{file} has more than {n} lines.", file=self.name, n=MOST_ROWS))

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


def _named(name: str, file: str, line: int) -> str:
    return name or file or say("line {n}", n=line)


@frozen
class _Meaning:
    """What a listing's columns mean, by their places.

    Attributes:
        folder: in which its pictures are looked for.
        head: its columns.
    """

    folder: str
    head: tuple[str, ...]
    item: int | None
    picture: int
    stock: int | None
    key: int | None
    value: int | None

    def column(self, rows: Sequence[Sequence[str]], at: int | None) -> list[str]:
        """The cells of a column, of rows that may be short."""
        if at is None:
            return [""] * len(rows)
        try:
            return list(map(str.strip, map(itemgetter(at), rows)))
        except IndexError:
            return [_cell(row, at) for row in rows]

    def told(self, kept: list[str], line: int) -> Told:
        """Of an item's row: name, file, head, row and key."""
        file = _cell(kept, self.picture)
        name = _named(_cell(kept, self.item), file, line)
        return name, self.path(file), self.head, tuple(kept), _cell(kept, self.key)

    def files(self, kept: Sequence[list[str]]) -> list[str]:
        """The pictures' files of many rows."""
        return self.paths(self.column(kept, self.picture))

    def paths(self, files: Sequence[str]) -> list[str]:
        """As :meth:`path`, of many."""
        plain = all(files) and os.sep not in "".join(files)
        if plain and set(files).isdisjoint((os.curdir, os.pardir)):
            return [self._within + file for file in files]
        return list(map(self.path, files))

    def path(self, file: str) -> str:
        """A picture's, by what its cell says; empty: none."""
        if not file:
            return ""
        if os.sep in file or file in (os.curdir, os.pardir):
            return os.path.normpath(os.path.join(self.folder, file))
        return self._within + file

    @cached_property
    def _within(self) -> str:
        return os.path.normpath(os.path.join(self.folder, "x"))[:-1]


def _cell(row: Sequence[str], at: int | None) -> str:
    return row[at].strip() if at is not None and at < len(row) else ""


@lru_cache(maxsize=4096)
def _number(text: str) -> float:
    """What an item is worth, whatever stands beside the figure: "18", "1.250,00", "€ 24.50"; NaN: nobody says."""
    found = _FIGURE.search(text)
    if found is None:
        return math.nan
    plain = re.sub(r"['\u00a0\u202f ]", "", found[0]).rstrip(".,")
    if "." in plain and "," in plain:  # whichever comes last parts the whole from the rest
        groups = "," if plain.rfind(".") > plain.rfind(",") else "."
        plain = plain.replace(groups, "").replace(",", ".")
    try:
        return float(number(plain))
    except (QuantityError, ValueError):
        return math.nan


@lru_cache(maxsize=256)
def _stock(word: str) -> int | None:
    """1 in stock, 0 not, -1 nobody says; ``None``: it says neither."""
    word = word.lower()
    if not word:
        return -1
    if word in _YES:
        return 1
    if word in _NO:
        return 0
    try:
        return int(float(word.replace(",", ".")) > 0)
    except ValueError:
        return None
