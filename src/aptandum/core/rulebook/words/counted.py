"""Lines that are counted without a mark behind the number: by bare numbers, or within a section."""

from __future__ import annotations

from aptandum.core.rulebook.words.patterns import match

_COUNTED = r"\s*(\d{1,2})\s+(?=[A-ZÄÖÜ])"


def counted_lines(text: str, lines: list[tuple[int, int]]) -> set[int]:
    """Where the lines begin that are counted by bare numbers, from 1 on: *1 Two photographs …*."""
    found: list[int] = []
    for start, end in lines:
        hit = match(_COUNTED, text[start:end])
        if hit is not None and int(hit[1]) == len(found) + 1:
            found.append(start)
    return set(found) if len(found) > 2 else _counted_below(text, lines)


_COUNTED_BELOW = r"\s*(\d{1,2})\.(\d{1,2})\.?\s+(?=\S)"
COUNTED = f"{_COUNTED}|{_COUNTED_BELOW}"
"""How such a line begins."""


def _counted_below(text: str, lines: list[tuple[int, int]]) -> set[int]:
    """Where the lines begin that are counted within a section: *1.1 One photograph*, *1.2 600 x 600 pixels*."""
    found: list[int] = []
    last = (0, 0)
    for start, end in lines:
        hit = match(_COUNTED_BELOW, text[start:end])
        if hit is None:
            continue
        section, place = int(hit[1]), int(hit[2])
        goes_on = found and section == last[0] and place == last[1] + 1
        if goes_on or (place == 1 and section in (last[0] + 1, 1)):
            found.append(start)
            last = section, place
    return set(found) if len(found) > 2 else set()


def counted_heading(text: str, lines: list[tuple[int, int]], i: int) -> bool:
    """Whether a line is the heading of a counted section, and not one of counted rules: *3. Image requirements* before *3.1
    Images must be …*, or before a whole sentence."""
    line = text[lines[i][0] : lines[i][1]].strip()
    hit = match(r"(\d{1,2})\.?\s+[A-ZÄÖÜ][^\W\d]+(?:\s+[^\W\d]+){0,3}$", line)
    if hit is None or i + 1 >= len(lines):
        return False
    behind = next((text[a:b].strip() for a, b in lines[i + 1 :] if text[a:b].strip()), "")
    inside = rf"{hit[1]}\.\d+\b|[A-Z] [-–] "
    counted = r"\d{1,2}[.)]?\s"
    return bool(match(inside, behind)) or bool(behind.endswith(".") and not match(counted, behind))
