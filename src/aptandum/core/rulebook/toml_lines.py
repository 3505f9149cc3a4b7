"""Where in a TOML file each table and key stands."""

from __future__ import annotations

import re

Path_ = tuple[str | int, ...]


_HEADER = re.compile(r"^\s*(\[\[?)\s*([^\]]+?)\s*\]\]?\s*(?:#.*)?$")


_KEY = re.compile(r"^\s*([A-Za-z0-9_-]+|\"[^\"]*\"|'[^']*')\s*(?:\.|=)")


def line_index(text: str) -> dict[Path_, int]:
    """Map each table and key of TOML text to its line (1-based).

    The TOML library keeps no line numbers. Headers and keys are recognised at the start of
    a line outside of multi-line values; elements of a multi-line array of inline tables get
    the line on which they begin.
    """
    lines: dict[Path_, int] = {(): 1}
    counts: dict[Path_, int] = {}
    table: Path_ = ()
    depth = 0
    quote = ""
    holder: Path_ = ()
    element = -1
    for at, line in enumerate(text.splitlines(), start=1):
        if depth == 0 and not quote:
            header = _HEADER.match(line)
            if header:
                parts = [part.strip().strip("\"'") for part in header.group(2).split(".")]
                table = ()
                for position, part in enumerate(parts):
                    table = (*table, part)
                    last = position == len(parts) - 1
                    if header.group(1) == "[[" and last:
                        counts[table] = counts.get(table, -1) + 1
                    if table in counts:
                        table = (*table, counts[table])
                lines.setdefault(table, at)
                continue
            key = _KEY.match(line)
            if key is None:
                continue
            holder = (*table, key.group(1).strip("\"'"))
            lines.setdefault(holder, at)
            element = -1
            rest = line[key.end() :]
        else:
            rest = line
        depth, quote, element = _scan(rest, depth, quote, element, holder, at, lines)
    return lines


def _scan(
    rest: str,
    depth: int,
    quote: str,
    element: int,
    holder: Path_,
    at: int,
    lines: dict[Path_, int],
) -> tuple[int, str, int]:
    """Follow brackets and strings through one line of a value."""
    i = 0
    while i < len(rest):
        ch = rest[i]
        if quote:
            if ch == "\\" and quote[0] == '"':
                i += 2
                continue
            if rest.startswith(quote, i):
                i += len(quote)
                quote = ""
                continue
        elif ch == "#":
            break
        elif ch in "\"'":
            quote = ch * 3 if rest.startswith(ch * 3, i) else ch
            i += len(quote)
            continue
        elif ch in "[{":
            if depth == 1:
                element += 1
                lines.setdefault((*holder, element), at)
            depth += 1
        elif ch in "]}":
            depth = max(0, depth - 1)
        i += 1
    return depth, quote if len(quote) == 3 else "", element
