"""What a measure is: how one thing is measured, compared, said, and mended."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import field
from enum import Enum
from typing import Any

from aptandum.core.brief.binding import Bind
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief
from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import Kind
from aptandum.core.words import say


class Need(Enum):
    """What a measure needs beside the header of a file."""

    PEOPLE = "faces, looked for in the pixels"
    MARKS = "where a head stands"
    MASK = "what stands before the backdrop"
    PIXELS = "the picture's pixels, which takes a while to look at"
    GLANCE = "the pixels where they are at hand; it can do without"
    INSIDE = "what the file holds beside its header"


NEEDS_PIXELS = frozenset({Need.PIXELS})
NEEDS_MASK = frozenset({Need.PIXELS, Need.MASK})
NEEDS_MARKS = frozenset({Need.PEOPLE, Need.MARKS})

Changes = Mapping[str, str | None]
"""Settings to change, ``station.key`` to the text of its value; ``None`` gives it back to
the brief."""


class CannotMeasure(AptandumError):
    """The measure has no value for this picture; the message says why."""


class ForAPerson(AptandumError):
    """Only a person can tell the measure's value of this picture; the message says why."""


class DoesNotApply(AptandumError):
    """There is nothing in this picture for the measure to judge; the message says so."""


@frozen
class Mend:
    """What would meet a missed clause: in words, and where it can be computed as changes.

    Attributes:
        others: mends that are tried in their order where this one does not do.
    """

    words: str
    changes: Changes | None = None
    others: tuple[Mend, ...] = ()


@frozen
class Miss:
    """What a measure's ``mend`` is told."""

    limit: Limit
    value: Any
    reading: Reading
    brief: Brief


def no_mend(miss: Miss) -> Mend | None:
    return None


def default_outside(limit: Limit, value: Any, kind: Kind) -> str:
    """How far outside an ordered value lies, in words; empty for words and sizes."""
    if not kind.ordered:
        return ""
    off = limit.outside(value)
    if not off:
        return ""
    amount = kind.show_apart(type(value)(abs(off)))
    if kind.name == "count":
        few, many = say("{amount} too few", amount=amount), say("{amount} too many", amount=amount)
        return few if off < 0 else many
    if off < 0:
        return say("{amount} too little", amount=amount)
    return say("{amount} too much", amount=amount)


def allows_sides(limit: Limit, value: tuple[Any, ...]) -> bool:
    """Whether a value of several sides lies inside, each of them by itself."""
    low, high = limit.at_least, limit.at_most
    if low is not None and any(v < bound for v, bound in zip(value, low, strict=True)):
        return False
    if high is not None and any(v > bound for v, bound in zip(value, high, strict=True)):
        return False
    return (not limit.one_of or value in limit.one_of) and value not in limit.none_of


@frozen
class Measure:
    """One measure.

    Attributes:
        name: as rulebooks write it.
        title: as the ledger shows it.
        group: the ledger's heading, a key of :data:`GROUPS`.
        kind: how its values are read and shown.
        help: how it is measured, in a sentence or two.
        take: the value from a reading; raises :class:`CannotMeasure`.
        allows: whether a value meets a limit.
        mend: what would meet a missed limit.
        station: the station whose settings decide it.
        estimate: the fact of a live reading that may be an estimate, or empty.
        outside: how far outside a value lies, in words.
        by_brief: the value from a reading and its brief, for the few measures that need the
            brief's own places; stands in for ``take``.
        read_as: the limit as a gauge draws it, where its words mean something else.
        limit_says: the limit in words.
        binds: what its limit binds when a fitting is resolved; ``None``: nothing, so that no mend by
            resolving anew can be offered.
        needs: what must be looked for or at before it has a value.
        stated: a rulebook may have a clause with it; else it comes from the brief itself.
        seen: the mock-ups in which it is judged, by their names in a rulebook.
        drawn: what belongs to it on the sheet: ``width``, ``height``, ``longest``, ``shortest``,
            ``scale``; or a map of the backdrop: ``lightness``, ``spread``, ``edge``.
        finish: the finish whose settings decide it; empty where none does.
        explain: what people get wrong about a limit on it, said the right way round; empty where
            there is nothing.
        tells: a clause with it tells what a brief is about; the first such clause of a brief stands
            in the line that says what is asked.
        also: the measure that is meant where a rulebook's value is one of its kind.
        moving: it is about an animation's frames.
        error: by how much its value may be off, in the value's own unit; where a limit lies nearer than that, nothing
            is told. ``None``: it is exact.
        of_set: it is about a whole set of pictures (:mod:`aptandum.core.judge.sets`).
    """

    name: str
    title: str
    group: str
    kind: Kind
    help: str
    take: Callable[[Reading], Any]
    allows: Callable[[Limit, Any], bool] = field(default=lambda limit, value: limit.allows(value))
    mend: Callable[[Miss], Mend | None] = no_mend
    station: str = "frame"
    estimate: str = ""
    outside: Callable[[Limit, Any, Kind], str] = default_outside
    by_brief: Callable[[Reading, Brief], Any] | None = None
    read_as: Callable[[Limit], Limit] = field(default=lambda limit: limit)
    limit_says: Callable[[Limit, Kind], str] = field(default=lambda limit, kind: limit.says(kind))
    binds: Bind | None = None
    needs: frozenset[Need] = frozenset()
    stated: bool = True
    seen: tuple[str, ...] = ()
    drawn: tuple[str, ...] = ()
    finish: str = ""
    explain: Callable[[Limit], str] = field(default=lambda limit: "")
    tells: bool = False
    also: str = ""
    of_set: bool = False
    moving: bool = False
    error: Callable[[Reading], float] | None = None

    def value(self, reading: Reading, brief: Brief) -> Any:
        """What is measured.

        Raises:
            CannotMeasure: there is nothing to measure it by.
        """
        if Need.PIXELS not in self.needs:
            return self._taken(reading, brief)
        told = reading.look().told  # a look at many pixels is not repeated at every step of a drag
        key = f"{self.name} {brief.id}"
        if Need.MARKS in self.needs:  # a mark that is moved changes what is seen of the head
            key += f" {hash(reading.marks())}"
        if key not in told:
            told[key] = self._taken(reading, brief)
        return told[key]

    def _taken(self, reading: Reading, brief: Brief) -> Any:
        return self.take(reading) if self.by_brief is None else self.by_brief(reading, brief)


def may_decide(measure: Measure) -> bool:
    """Whether another clause may depend on a measure: a file's header tells it by itself, as one word
    or as one number."""
    kind = measure.kind
    plain = bool(kind.choices) or (kind.ordered and not kind.sided)
    return plain and not measure.needs and not measure.of_set


GROUPS = {
    "pixels": say("Picture"),
    "person": say("Person"),
    "backdrop": say("Backdrop"),
    "picture": say("Quality"),
    "colour": say("Colour"),
    "finish": say("Finish"),
    "print": say("Print"),
    "file": say("File"),
    "set": say("Set"),
    "ask": say("For your eyes"),
}


__all__ = [
    "GROUPS",
    "NEEDS_MARKS",
    "NEEDS_MASK",
    "NEEDS_PIXELS",
    "CannotMeasure",
    "DoesNotApply",
    "ForAPerson",
    "Measure",
    "Mend",
    "Miss",
    "Need",
    "allows_sides",
    "may_decide",
]
