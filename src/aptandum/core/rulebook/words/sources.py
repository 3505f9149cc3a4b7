"""The text of a page of rules: plain text, Markdown, HTML with its tables and lists, or a PDF."""

from __future__ import annotations

import os
import re
from collections.abc import Sequence
from html.parser import HTMLParser
from pathlib import Path

from aptandum.core.errors import AptandumError
from aptandum.core.outside import TooMuch, read_whole
from aptandum.core.photo.facts import io_sentence, shown_name
from aptandum.core.words import say

_MOST_BYTES = 20_000_000
_MOST_PAGES = 200
_MOST_LETTERS = 400_000


class SourceError(AptandumError):
    """A file that gives no text; the message is a sentence naming file and cause."""


def text_of(path: str | os.PathLike[str]) -> str:
    """The text of a file, by its content and its ending.

    Raises:
        SourceError: it cannot be read, is too large, or has no text.
    """
    file, name = Path(path), shown_name(path)
    try:
        data = read_whole(file, _MOST_BYTES)
    except TooMuch:
        raise SourceError(say("{file} is too large for a page of rules.", file=name)) from None
    except OSError as error:
        raise SourceError(io_sentence(error, name)) from None
    text = of_bytes(data, name, file.suffix.lower())
    if not text.strip():
        raise SourceError(say("{file} has no text that can be read.", file=name))
    return text


def of_bytes(data: bytes, name: str = "", ending: str = "") -> str:
    """The text of a file's bytes.

    Raises:
        SourceError: it is a PDF that cannot be read, or no text at all.
    """
    if data[:5] == b"%PDF-":
        return _of_pdf(data, name)
    if b"\0" in data[:4096] and data[:2] not in (b"\xff\xfe", b"\xfe\xff"):
        raise SourceError(say("{file} is neither text nor a PDF.", file=name))
    text = _decoded(data)[:_MOST_LETTERS]
    head = text[:2000].lower()
    if ending in (".html", ".htm") or _TAG.search(head):
        return of_html(text)
    return of_plain(text, marked=ending in (".md", ".markdown"))


_TAG = re.compile(
    r"<!doctype html|<(?:html|body|table|ul|ol|dl|li|tr|p|div|section|h[1-6])(?:\s[^<>]*)?>"
)
"""What only a page of HTML, or a piece of one, has at its beginning."""
_HEADED = re.compile(r"^#{1,4} \S", re.M)
"""What headings of Markdown begin with."""
_RULED = re.compile(r"^[ \t]*\|?[ \t]*:?-{2,}:?[ \t]*\|[\s:|-]*$", re.M)
"""The line below the heads of a table's columns in plain text."""


def _decoded(data: bytes) -> str:
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return data.decode("utf-16", "replace")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("cp1252", "replace")


def of_plain(text: str, marked: bool = False) -> str:
    """Plain text, with the tables of pictures in it taken apart.

    Args:
        marked: it is Markdown, whether or not a table shows that.
    """
    text = _with_rule(text)
    if marked or _RULED.search(text) or len(_HEADED.findall(text)) > 1:
        return of_markdown(text)
    text = _hung(_led(text))
    lines: list[str] = []
    rows: list[list[str]] = []
    kept: list[str] = []
    for line in (*text.splitlines(), ""):
        row = [cell.strip() for cell in re.split(_GAP, line.strip())]
        if rows and len(row) != len(rows[0]):
            lines += (_by_picture(rows[0], rows[1:]) if len(rows) > _FEW_ROWS else None) or kept
            rows, kept = [], []
        if len(row) > _FEW_CELLS:
            rows.append(row)
            kept.append(line)
        else:
            lines.append(line)
    return "\n".join(lines[:-1]) + "\n" * text.endswith("\n")


_LEADER = r"[ \t]*(?:(?:\.[ \t]?){4,}|…{2,})[ \t]*"


def _led(text: str) -> str:
    """A text whose lists have dots between a name and what is said of it: *Icon ........ 1024 x 1024 px*. Beside two such
    lines those with a gap instead are of the same list."""
    if len(re.findall(rf"^[^\W\d][^.\n]{{1,40}}?{_LEADER}\S", text, re.M)) < _FEW_CELLS:
        return text
    said = re.sub(
        rf"^([^\W\d][^.\n]{{1,40}}?)(?:{_LEADER}|[ \t]+\.[ \t]+)(?=\S)", r"\1: ", text, flags=re.M
    )
    return re.sub(r"^([A-ZÄÖÜ][^.:\n]{1,30}?)(?:\t|[ ]{2,})(?=\S)", r"\1: ", said, flags=re.M)


def _with_rule(text: str) -> str:
    """A table whose cells only bars part, with a line below its heads as Markdown has it: *Slot | Ratio | Min width*."""
    lines = text.splitlines()
    bars = [len(re.findall(r"\S[ \t]+\|(?=[ \t]+\S)", line)) for line in lines]
    made: list[str] = []
    for i, line in enumerate(lines):
        made.append(line)
        ruled = _RULED.match("".join(lines[i + 1 : i + 2])) is not None
        few = _FEW_CELLS + (
            1 if bars[i] > 1 else 2
        )  # lines that a table has at least, its heads with them
        begins = (
            bars[i] > 0
            and not ruled
            and (i == 0 or bars[i - 1] != bars[i])
            and not re.search(r"\d", line)
        )
        if begins and bars[i : i + few] == [bars[i]] * few and line.strip()[0] != "|":
            made.append("|".join(["---"] * (bars[i] + 1)))
    return "\n".join(made) + "\n" * text.endswith("\n") if len(made) > len(lines) else text


_INDENTED = re.compile(
    r"^(?P<head>[^\W\d][^\n.,;]{1,40}?:?)\n(?P<items>(?:(?:\t| {2,8})(?![-*•·(\[]|\d{1,2}[.)])\S[^\n]{0,90}(?:\n|\Z)){2,})",
    re.M,
)


def _hung(text: str) -> str:
    """A text whose lists are only set in below their names: *Main photo*, and below it *  square*, *  JPEG or PNG*."""

    def marked(hit: re.Match[str]) -> str:
        items = re.sub(r"^(?:\t|  )(?=[ ]*\S)", "- ", hit["items"], flags=re.M)
        return f"{hit['head']}\n{items}"

    return _INDENTED.sub(marked, text)


_GAP = r"\t| {3,}"
"""What stands between two columns of plain text."""
_FEW_CELLS, _FEW_ROWS = 2, 2
"""Up to so many cells are a name and what is said of it, up to so many rows no table."""


def of_markdown(text: str) -> str:
    """Markdown as plain lines: headings by themselves, lists as lists, tables as :func:`_table` reads them."""
    lines: list[str] = []
    rows: list[list[str]] = []
    heads: list[str] = []
    for line in (*text.splitlines(), ""):
        line = re.sub(r"!?\[([^\]]*)\]\([^)]*\)", r"\1", line)
        line = re.sub(r"(\*\*|__|`)", "", line)
        heading = re.match(r"#{1,6}\s+(.*?)\s*#*$", line)
        if _RULED.match(line):
            if not rows and lines and "|" in lines[-1]:
                rows.append(_cells(lines.pop()))
            heads = rows.pop() if rows else []
            continue
        if line.strip().startswith("|") or (heads and len(_cells(line)) == len(heads) > 1):
            rows.append(_cells(line))
            continue
        lines += _table(heads, rows)
        rows, heads = [], []
        lines += ["", heading.group(1)] if heading else [line]
    return "\n".join(lines)


def _cells(line: str) -> list[str]:
    return [cell.strip() for cell in re.sub(r"^\s*\||\|\s*$", "", line).split("|")]


_COLUMNS = re.compile(
    r"width|height|siz|dimension|format|file|type|weight|resolution|pixels?|ratio|number|count|colou?r|depth|max|min"
    r"|quality|limit|profile|space|transparen|dpi|ppi|breite|höhe|größ|maße|auflösung|farb|anzahl|datei|qualit|verhältnis",
    re.I,
)
"""Heads of columns, or of rows, that say what their cells are."""
_GENERAL = re.compile(
    r"rule|value|requirement|note|remark|recommend|required|description|example|specification|detail|min|max|comment"
    r"|reason|accepted|rejected|allowed|permitted|good|bad|right|wrong|old|new|before|after|wert|hinweis|empfohlen|anforderung|bemerkung|vorgabe|beispiel",
    re.I,
)
"""Heads of columns that name no picture."""


def _table(heads: list[str], rows: list[list[str]]) -> list[str]:
    """The lines of a table. Where its heads say what the cells are, each row is a picture of its own: its
    name, and a line for each cell; where the heads name pictures and the rows what is said of them, each
    column is one. Else a row is a line, ``label: value``, with more cells after commas."""
    if not rows:
        return []
    apart = _by_picture(heads, rows)
    if apart is not None:
        return apart
    whole = len(heads) > 2 and all(len(row) == len(heads) for row in rows)
    if whole and all(map(_BOUNDS.match, heads[1:])):
        cells = [
            (row[0], head, cell)
            for row in rows
            for head, cell in zip(heads[1:], row[1:], strict=True)
        ]
        return [
            f"- {label.rstrip(':')}: {head.lower()} {cell}"
            for label, head, cell in cells
            if re.search(r"\w", cell)
        ]
    lines = []
    for row in rows:
        held = [cell for cell in row if cell]
        label = f"{held[0].rstrip(':')}: " if len(held) > 1 else ""
        lines.append("- " + label + ", ".join(held[1:] if label else held))
    return lines


def _by_picture(heads: list[str], rows: list[list[str]]) -> list[str] | None:
    """The lines of a table that has a picture in each row, or in each column; ``None`` where it has neither."""
    if len(heads) <= _FEW_CELLS or any(len(row) != len(heads) for row in rows):
        return None
    firsts = [row[0] for row in rows]
    if (_properties(heads[1:]) or _sized(heads, rows)) and all(map(_name_of_picture, firsts)):
        return _apart(firsts, heads[1:], [row[1:] for row in rows])
    if _properties(firsts) and all(map(_name_of_picture, heads[1:])):
        return _apart(heads[1:], firsts, list(zip(*(row[1:] for row in rows), strict=True)))
    return None


def _sized(heads: list[str], rows: list[list[str]]) -> bool:
    """Whether a column behind the names has a number in each of its cells, and its head says of what."""
    columns = zip(heads[1:], zip(*(row[1:] for row in rows), strict=True), strict=True)
    return any(
        _COLUMNS.search(head) and all(re.search(r"\d", cell) for cell in cells)
        for head, cells in columns
    )


def _properties(heads: list[str]) -> bool:
    """Whether heads say what is measured: all of them, or most where one or two are of another kind (*Backdrop*)."""
    known = sum(map(bool, map(_COLUMNS.search, heads)))
    return known == len(heads) or (known > 2 and known * 3 >= len(heads) * 2)


_BOUNDS = re.compile(r"(?:min(?:imum)?|max(?:imum)?|recommended|ideal|empfohlen)\W*$", re.I)


def _name_of_picture(head: str) -> bool:
    property_ = _COLUMNS.search(head) or _GENERAL.search(head) or re.search(r"\d", head)
    return bool(head) and not property_


def _apart(names: list[str], heads: list[str], cells: Sequence[Sequence[str]]) -> list[str]:
    lines = []
    for name, values in zip(names, cells, strict=True):
        pairs = zip(heads, values, strict=True)
        lines += [
            "",
            name.rstrip(":"),
            *(f"- {head}: {value}" for head, value in pairs if value),
            "",
        ]
    return lines


class _Page(HTMLParser):
    """The words of a page, line by line."""

    _BLOCKS = frozenset(
        ("p", "div", "section", "article", "br", "ul", "ol", "table", "dl", "dd", "blockquote")
    )
    _HEADINGS = frozenset(("h1", "h2", "h3", "h4", "h5", "h6", "caption"))
    _SILENT = frozenset(("script", "style", "head", "nav", "footer", "template", "noscript"))

    def __init__(self) -> None:
        super().__init__(convert_charrefs=True)
        self.lines: list[str] = [""]
        self.cells: list[str] | None = None
        self.plain = 0  # cells of the row that are no heads
        self.heads: list[str] = []  # of the columns
        self.rows: list[list[str]] = []
        self.silent = 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        """A block begins a line."""
        if tag in self._SILENT:
            self.silent += 1
        elif tag in self._HEADINGS:
            self.lines += ["", ""]
        elif tag == "li":
            self.lines.append("- ")
        elif tag == "dt":
            self.lines.append("")
        elif tag == "table":
            self.end_table()
            self.lines.append("")
        elif tag == "tr":
            self.cells, self.plain = [], 0
        elif tag in ("td", "th") and self.cells is not None:
            self.cells.append("")
            self.plain += tag == "td"
        elif tag == "dd" and self.lines[-1].endswith(": "):
            pass  # what a term is said to be stands behind it
        elif tag in self._BLOCKS and self.cells is None:
            self.lines.append("")

    def handle_endtag(self, tag: str) -> None:
        """A row of a table becomes a line."""
        if tag in self._SILENT:
            self.silent = max(0, self.silent - 1)
        elif tag == "tr" and self.cells is not None:
            cells = [" ".join(cell.split()) for cell in self.cells]
            if self.plain:
                self.rows.append(cells)
            else:
                self.end_table()
                self.heads = cells
            self.cells = None
        elif tag == "dt":
            self.lines[-1] = self.lines[-1].rstrip(": ") + ": "
        elif tag in self._HEADINGS or tag in ("p", "table", "ul", "ol"):
            if tag == "table":
                self.end_table()
            self.lines.append("")

    def end_table(self) -> None:
        """The rows so far become lines."""
        self.lines += _table(self.heads, self.rows)
        self.heads, self.rows = [], []

    def handle_data(self, data: str) -> None:
        """Words, without the page's own line breaks."""
        if self.silent:
            return
        said = re.sub(r"\s+", " ", data)
        if self.cells is not None:
            if self.cells:
                self.cells[-1] += said
        elif said.strip() or self.lines[-1]:
            self.lines[-1] += said


def of_html(text: str) -> str:
    """A page's text: headings apart, lists as lists, each row of a table as a line."""
    page = _Page()
    try:
        page.feed(text)
        page.close()
    except Exception:  # a stranger's page may be broken in any way; what was read stands
        pass
    page.end_table()
    return "\n".join(line.rstrip() for line in page.lines)


def _of_pdf(data: bytes, name: str) -> str:
    import pypdfium2

    try:
        document = pypdfium2.PdfDocument(data)
        pages = [document[i] for i in range(min(len(document), _MOST_PAGES))]
        texts = [page.get_textpage().get_text_bounded() for page in pages]
    except Exception as error:  # a stranger's PDF may be broken in any way
        raise SourceError(
            say("{file} cannot be read as a PDF: {why}.", file=name, why=error)
        ) from None
    joined = "\n\n".join(texts).replace("\r\n", "\n")
    return re.sub(r"(\w)[\u00ad\ufffe-]\n(\w)", r"\1\2", joined)[:_MOST_LETTERS]
