"""Values that lie so near to a limit that what they were told from does not say on which side."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from aptandum.core.brief.limit import Limit
from aptandum.core.judge.measure import Measure, no_mend
from aptandum.core.judge.reading import Reading
from aptandum.core.numbers import Printed
from aptandum.core.words import say, sentences


def doubt(measure: Measure, limit: Limit, value: Any, reading: Reading) -> float | None:
    """By how much a value may be off, where that leaves open whether it meets a limit; else ``None``."""
    off = measure.error(reading) if measure.error is not None else None
    if not off or not isinstance(value, (int, float)):
        return None
    told = {_allows(measure, limit, value, by) for by in (-off, 0.0, off)}
    return off if len(told) > 1 else None


def _allows(measure: Measure, limit: Limit, value: Any, by: float) -> bool:
    moved = Printed(float(value) + by, value.of) if isinstance(value, Printed) else value + by
    return any(measure.allows(face, moved) for face in limit.faces)


def said(
    measure: Measure,
    limit: Limit,
    value: Any,
    shown: str,
    asked: str,
    off: float,
    reading: Reading,
) -> str:
    """That it cannot be told, why where that is known, and what would tell."""
    hint = "" if measure.mend is no_mend else say("Set the marks by hand to be sure.")
    about = Printed(off, value.of) if isinstance(value, Printed) else off
    told = say(
        "{title}: {value} ± {off}. Asked: {limit}; the limit is nearer than that, so it cannot be told.",
        title=measure.title,
        value=shown,
        off=measure.kind.show_apart(limit.in_unit(about)),
        limit=asked,
    )
    return sentences([told, _behind(measure, off, reading), hint])


def _behind(measure: Measure, off: float, reading: Reading) -> str:
    """That something before the eyes is why a value may be off by so much, where it is."""
    if measure.error is None or reading.see_people is None:
        return ""
    people = reading.see_people()
    bare = replace(people, faces=tuple(replace(face, bare_eyes=True) for face in people.faces))
    if bare == people or measure.error(replace(reading, see_people=lambda: bare)) >= off:
        return ""
    return say(
        "Something, glasses perhaps, seems to lie before the eyes; behind it they are found less exactly."
    )
