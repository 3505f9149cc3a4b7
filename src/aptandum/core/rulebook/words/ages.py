"""How old a picture may be: *taken within the last six months*, *photos older than a year are turned away*."""

from __future__ import annotations

import re
from collections.abc import Iterator

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.draft import Draft
from aptandum.core.rulebook.words.stated import Stated

_I = int(re.I)
_UNITS = (("day", "dt"), ("week", "w"), ("month", "m"), ("year", "yj"))
"""A unit as a rulebook writes it, and the first letters of its names."""
_OTHERWISE = r"\b(?:entered|scored|published|exhibited|awarded|won|shown|posted|eingereicht|veröffentlicht|gezeigt|prämiert|ausgestellt|gewonnen)\b"
"""What may have happened so long ago beside the shot: *any image that scored in the last 12 months*."""
_HALVES = r"(?P<half>half a|a half|ein(?:em|es)? halbe[sn]?)\s+(?:year|Jahre?s?)\b|(?P<one>an?d?erthalb|eineinhalb|one and a half|1[.,]5)\s+(?:years|Jahren?)\b|(?P<two>zweieinhalb|two and a half|2[.,]5)\s+(?:years|Jahren?)\b"
_MONTHS = {"half": "6", "one": "18", "two": "30"}
_TOO_OLD = (
    r"(?:more|longer) than (\w+) (days?|weeks?|months?|years?) (?:ago|old)\b|older than (\w+) (days?|weeks?|months?|years?)\b"
    r"|vor mehr als (\w+) (Tagen?|Wochen?|Monaten?|Jahren?)\b|älter als (\w+) (Tage?|Wochen?|Monate?|Jahre?)\b"
)
"""What is an age at most in a list of what was wrong: *it was taken more than 6 months ago*."""
_SHOT = r"\b(?:taken|shot|made|captured|created|aufgenommen|gemacht|entstanden|fotografiert|old|older|alt|älter)\b"


def _in_months(said: str) -> str:
    """A sentence with years and a half told in months, each as long as before: *eineinhalb Jahre* as *000000018 Monate*."""

    def told(hit: re.Match[str]) -> str:
        unit = "Monate" if "ahr" in hit[0] else "months"
        return _MONTHS[str(hit.lastgroup)].rjust(len(hit[0]) - len(unit) - 1, "0") + " " + unit

    return patterns.sub(_HALVES, told, said, _I)


def ages_in(sentence: Stated) -> Iterator[Draft]:
    """The ages that a sentence speaks of."""
    words = sentence.words
    if patterns.search(_OTHERWISE, sentence.said, _I) and not patterns.search(
        _SHOT, sentence.said, _I
    ):
        return
    forms = f"{words.age}|{_TOO_OLD}" if sentence.lead else words.age
    for hit in patterns.finditer(forms, _in_months(sentence.said), _I):
        groups = [g for g in hit.groups() if g]
        groups = ["1", *groups] if len(groups) == 1 else groups  # “in the last month”
        if len(groups) < 2:
            continue
        count = str(words.numerals.get(groups[0].lower(), groups[0]))
        count = count.lstrip("0") or "0"
        count = "1" if patterns.fullmatch(r"an?|ein\w*", count, _I) else count
        unit = next((en for en, first in _UNITS if groups[1][0].lower() in first), "")
        if not count.isdigit() or not unit:
            continue
        span = sentence.start + hit.start(), sentence.start + hit.end()
        sentence.taken.append(span)
        yield sentence.draft({"measure": "shot_age", "at_most": f"{count} {unit}s"}, span)
