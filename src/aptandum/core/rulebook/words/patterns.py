"""Regular expressions, each compiled once: a page asks for the same few hundred again and again."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from functools import cache


@cache
def _compiled(pattern: str, flags: int) -> re.Pattern[str]:
    return re.compile(pattern, flags)


def search(pattern: str, text: str, flags: int = 0) -> re.Match[str] | None:
    """The first place where a pattern is found."""
    return _compiled(pattern, int(flags)).search(text)


def match(pattern: str, text: str, flags: int = 0) -> re.Match[str] | None:
    """Whether a text begins with a pattern."""
    return _compiled(pattern, int(flags)).match(text)


def sub(pattern: str, by: str | Callable[[re.Match[str]], str], text: str, flags: int = 0) -> str:
    """A text with every place where a pattern is found replaced."""
    return _compiled(pattern, int(flags)).sub(by, text)


def finditer(pattern: str, text: str, flags: int = 0) -> Iterator[re.Match[str]]:
    """Every place where a pattern is found."""
    return _compiled(pattern, int(flags)).finditer(text)


def fullmatch(pattern: str, text: str, flags: int = 0) -> re.Match[str] | None:
    """Whether a pattern is the whole of a text."""
    return _compiled(pattern, int(flags)).fullmatch(text)
