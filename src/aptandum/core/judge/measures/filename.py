"""The file's name without its ending: its form and its length."""

import os
from typing import Any

import regex

from aptandum.core.brief import binding
from aptandum.core.brief.limit import Limit
from aptandum.core.figures import show_number
from aptandum.core.judge.measure import CannotMeasure, Measure, Mend, Miss
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import COUNT, PATTERN, Kind
from aptandum.core.words import say

PATIENCE = 0.1
"""Seconds that a pattern may take: some never come to an end, by malice or by mistake."""


def stem(file: str) -> str:
    """A path's file name without its last ending."""
    name = os.path.basename(os.fsencode(file)).decode("utf-8", "replace")
    return name.rsplit(".", 1)[0] if "." in name.strip(".") else name


def matches(pattern: str, name: str) -> bool:
    """Whether the whole name has the form.

    Raises:
        CannotMeasure: the pattern takes too long to tell.
    """
    try:
        return regex.fullmatch(pattern, name, timeout=PATIENCE) is not None
    except TimeoutError:
        raise CannotMeasure(say("The pattern takes too long to try on this name.")) from None


def _name(reading: Reading) -> str:
    if not reading.facts.file:
        raise CannotMeasure(say("The file has no name yet."))
    return stem(reading.facts.file)


def _has_form(limit: Limit, value: Any) -> bool:
    wanted = not limit.one_of or any(matches(one, value) for one in limit.one_of)
    return wanted and not any(matches(one, value) for one in limit.none_of)


def _mend(miss: Miss) -> Mend:
    return Mend(say("Take a name of the form asked"), {"file.name": None})


def _mend_length(miss: Miss) -> Mend:
    wanted = int(miss.limit.nearest(miss.value))
    if miss.value > wanted:
        return Mend(say("Shorten the name to {n} characters", n=wanted), {"file.name": None})
    return Mend(say("Give it a longer name, of at least {n} characters", n=wanted))


def _off(limit: Limit, value: Any, kind: Kind) -> str:
    off = int(limit.outside(value))
    n = show_number(abs(off))
    if not off:
        return ""
    return say("{n} too many", n=n) if off > 0 else say("{n} too few", n=n)


MEASURES = (
    Measure(
        "name_pattern",
        say("File name"),
        "file",
        PATTERN,
        say("The whole name without its ending has the form of a regular expression."),
        _name,
        _has_form,
        _mend,
        station="file",
        binds=binding.NAME,
    ),
    Measure(
        "name_length",
        say("Name length"),
        "file",
        COUNT,
        say("Characters of the name without its ending."),
        lambda reading: len(_name(reading)),
        mend=_mend_length,
        station="file",
        outside=_off,
        binds=binding.NAME_LENGTH,
    ),
)
