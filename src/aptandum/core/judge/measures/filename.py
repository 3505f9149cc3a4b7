"""The file's name without its ending: its form and its length."""

from __future__ import annotations

import os
from typing import Any

from aptandum.core.brief import binding
from aptandum.core.brief.limit import Limit
from aptandum.core.figures import show_number
from aptandum.core.judge.measure import CannotMeasure, Measure, Mend, Miss
from aptandum.core.judge.reading import Reading
from aptandum.core.later import regex
from aptandum.core.numbers import QuantityError, Side
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


def _whole(reading: Reading) -> str:
    if not reading.facts.file:
        raise CannotMeasure(say("The file has no name yet."))
    return os.path.basename(os.fsencode(reading.facts.file)).decode("utf-8", "replace")


def ending(file: str) -> str:
    """A path's ending without its dot, as it is written; empty where it has none."""
    name = os.path.basename(os.fsencode(file)).decode("utf-8", "replace")
    return name.rsplit(".", 1)[1] if "." in name.strip(".") else ""


def _ending(reading: Reading) -> str:
    return ending(_whole(reading))


def _parse_part(value: object, side: Side = "exact") -> str:
    if isinstance(value, str) and value and "/" not in value and "\0" not in value:
        return value
    raise QuantityError(say("a part of a file name"))


def _parse_ending(value: object, side: Side = "exact") -> str:
    if isinstance(value, str) and regex.fullmatch(r"\.?[A-Za-z0-9]{1,8}", value.strip()):
        return value.strip().lstrip(".")
    raise QuantityError(say('the ending of a file name, such as "jpg"'))


PART = Kind("part", _parse_part, lambda v: f"“{v}”", ordered=False, example="VF_")
ENDING = Kind("ending", _parse_ending, lambda v: f".{v}", ordered=False, example="jpg")


def begins(limit: Limit, name: str) -> bool:
    """Whether a name begins with one of the parts that are asked, and with none that is not."""
    wanted = not limit.one_of or name.startswith(limit.one_of)
    return wanted and not (limit.none_of and name.startswith(limit.none_of))


def ends(limit: Limit, name: str) -> bool:
    """Whether a name ends with one of the parts that are asked, and with none that is not."""
    wanted = not limit.one_of or name.endswith(limit.one_of)
    return wanted and not (limit.none_of and name.endswith(limit.none_of))


def holds(limit: Limit, name: str) -> bool:
    """Whether one of the parts that are asked stands in a name, and none that is not."""
    wanted = not limit.one_of or any(part in name for part in limit.one_of)
    return wanted and not any(part in name for part in limit.none_of)


def _part(name: str, title: str, help_: str, allows: Any, bind: Any) -> Measure:
    return Measure(
        name, title, "file", PART, help_, _name, allows, _mend, station="file", binds=bind
    )


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
    Measure(
        "name_whole",
        say("File name with its ending"),
        "file",
        PATTERN,
        say("The whole name with its ending has the form of a regular expression."),
        _whole,
        _has_form,
        _mend,
        station="file",
        binds=binding.NAME_WHOLE,
    ),
    _part(
        "name_begins",
        say("Beginning of the file name"),
        say("How the name begins; capitals and small letters count."),
        begins,
        binding.NAME_BEGINS,
    ),
    _part(
        "name_ends",
        say("End of the file name"),
        say("How the name without its ending ends; capitals and small letters count."),
        ends,
        binding.NAME_ENDS,
    ),
    _part(
        "name_holds",
        say("Part of the file name"),
        say("What stands, or must not stand, anywhere in the name without its ending."),
        holds,
        binding.NAME_HOLDS,
    ),
    Measure(
        "name_ending",
        say("Ending of the file name"),
        "file",
        ENDING,
        say("What stands behind the last dot; capitals and small letters count."),
        _ending,
        mend=_mend,
        station="file",
        binds=binding.NAME_ENDING,
    ),
)
