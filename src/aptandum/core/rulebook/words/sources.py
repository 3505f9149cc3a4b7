"""The text of a page of rules: plain text, Markdown, HTML with its tables and lists, or a PDF."""

from __future__ import annotations

import os
import re
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
    if ending in (".html", ".htm") or "<html" in head or "<!doctype html" in head:
        return of_html(text)
    return of_markdown(text) if ending in (".md", ".markdown") else text


def _decoded(data: bytes) -> str:
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return data.decode("utf-16", "replace")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("cp1252", "replace")


def of_markdown(text: str) -> str:
    """Markdown as plain lines: headings by themselves, lists as lists, tables row by row."""
    lines = []
    for line in text.splitlines():
        line = re.sub(r"!?\[([^\]]*)\]\([^)]*\)", r"\1", line)
        line = re.sub(r"(\*\*|__|`)", "", line)
        heading = re.match(r"#{1,6}\s+(.*?)\s*#*$", line)
        if heading:
            lines += ["", heading.group(1)]
        elif re.match(r"\s*\|?[\s:|-]+\|[\s:|-]*$", line):
            if lines and lines[-1].startswith("- "):  # the heads of the columns
                lines.pop()
        elif line.strip().startswith("|"):
            cells = [cell.strip() for cell in line.strip().strip("|").split("|")]
            lines.append("- " + _row(cells))
        else:
            lines.append(line)
    return "\n".join(lines)


def _row(cells: list[str]) -> str:
    """A row of a table as a line: ``label: value``, more cells after commas."""
    held = [cell for cell in cells if cell]
    if len(held) < 2:
        return "".join(held)
    return f"{held[0].rstrip(':')}: {', '.join(held[1:])}"


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
        elif tag == "tr":
            self.cells, self.plain = [], 0
        elif tag in ("td", "th") and self.cells is not None:
            self.cells.append("")
            self.plain += tag == "td"
        elif tag in self._BLOCKS and self.cells is None:
            self.lines.append("")

    def handle_endtag(self, tag: str) -> None:
        """A row of a table becomes a line."""
        if tag in self._SILENT:
            self.silent = max(0, self.silent - 1)
        elif tag == "tr" and self.cells is not None:
            if self.plain:  # not the heads of the columns
                self.lines.append("- " + _row([" ".join(cell.split()) for cell in self.cells]))
            self.cells = None
        elif tag == "dt":
            self.lines[-1] = self.lines[-1].rstrip(": ") + ": "
        elif tag in self._HEADINGS or tag in ("p", "table", "ul", "ol"):
            self.lines.append("")

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
