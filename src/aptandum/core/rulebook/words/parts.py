"""A text taken apart: headings that begin a brief, items of lists, and sentences."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from aptandum.core.rulebook.words.patterns import finditer, search

_I = int(re.I)


@dataclass(frozen=True)
class Part:
    """A heading or a sentence.

    Attributes:
        start, end: in the text.
        heading: it begins a brief.
        listed: it is an item of a list.
    """

    start: int
    end: int
    heading: bool = False
    listed: bool = False


_BULLET = re.compile(r"\s*(?:[-*•·–☐□]|\[[ x]?\]|\d{1,2}[.)])\s+")
_ABBREVIATED = re.compile(r"\b(?:max|min|approx|e\.g|i\.e|ca|no|nr|z\. ?b|incl|mind)\.$", _I)


def parts(text: str) -> Iterator[Part]:
    """Headings and sentences, in their order."""
    lines = [(m.start(), m.end()) for m in finditer(r"[^\n]*", text) if m.end() > m.start()]
    paragraph: tuple[int, int] | None = None
    listed = False
    for i, (start, end) in enumerate(lines):
        line = text[start:end]
        if not line.strip():
            if paragraph:
                yield from sentences(text, *paragraph, listed)
            paragraph = None
            continue
        apart = start == 0 or not text[:start].rstrip(" \t").rstrip("\n").strip() or (
            "\n\n" in text[max(0, start - 3) : start].replace(" ", "")
        )  # fmt: skip
        if apart and _is_heading(line) and i + 1 < len(lines):
            if paragraph:
                yield from sentences(text, *paragraph, listed)
            paragraph = None
            yield Part(start, end, heading=True)
            continue
        bullet = _BULLET.match(line)
        own = bool(bullet) or bool(re.match(r"\s*[A-ZÄÖÜ][\w.äöüß /-]{2,28}:\s", line))
        if own and paragraph:
            yield from sentences(text, *paragraph, listed)
            paragraph = None
        begin = start + (bullet.end() if bullet else 0)
        gap = paragraph is not None and text[paragraph[1] : start].count("\n") > 1
        if paragraph is None or gap:
            if paragraph:
                yield from sentences(text, *paragraph, listed)
            paragraph, listed = (begin, end), bool(bullet)
        else:
            paragraph = paragraph[0], end
    if paragraph:
        yield from sentences(text, *paragraph, listed)


def _is_heading(line: str) -> bool:
    said = line.strip()
    return (
        3 < len(said) <= 60
        and not search(r"\d", said)
        and not search(r"[.;!?,]$", said)
        and not _BULLET.match(line)
        and len(said.split()) <= 8
    )


def sentences(text: str, start: int, end: int, listed: bool = False) -> Iterator[Part]:
    at = start
    for hit in finditer(r"[.!?](?=\s+[A-ZÄÖÜ\d“\"(])|;", text[start:end]):
        stop = start + hit.end()
        if _ABBREVIATED.search(text[at:stop]) or search(r"\b\d{1,2}\.$", text[at:stop]):
            continue
        yield Part(at, stop, listed=listed)
        at = stop
    if text[at:end].strip():
        yield Part(at, end, listed=listed)
