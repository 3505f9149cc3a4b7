"""What a rulebook says, as frozen data. :mod:`aptandum.core.rulebook` reads and checks the file."""

from __future__ import annotations

import datetime
import os
from collections.abc import Iterator
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any, Literal

from aptandum.core.brief.binding import Bind
from aptandum.core.brief.registry import binds_of
from aptandum.core.quantity import ByteCount, Kind, Printed
from aptandum.core.words import commas, listed, say

Strength = Literal["must", "should"]
Turn = Literal["landscape", "upright", "square"]

TURNS: tuple[Turn, ...] = ("landscape", "upright", "square")
ALTERATIONS = (
    "turn",
    "cut",
    "pad",
    "scale",
    "convert",
    "one-bit",
    "backdrop",
    "clear",
    "keyline",
    "border",
    "shade",
    "caption",
    "panels",
)
PLACES = (
    "card",
    "print",
    "projection",
    "handset",
    "grid",
    "tint",
    "corner",
    "strip",
    "panel",
    "banner",
)


def turn_of(width: float, height: float) -> Turn:
    """Whether a picture lies landscape (w > h), stands upright (h > w) or is square."""
    if width > height:
        return "landscape"
    return "upright" if height > width else "square"


@dataclass(frozen=True)
class Limit:
    """What a clause allows. All bounds are inclusive; ``None`` and ``()`` mean no such bound.

    ``exactly`` and ``between`` are read into these fields too; :attr:`form` keeps which
    words the rulebook used, so that it can be said back as it was written.
    """

    form: tuple[str, ...]
    at_least: Any = None
    at_most: Any = None
    one_of: tuple[Any, ...] = ()
    none_of: tuple[Any, ...] = ()

    @property
    def exact(self) -> bool:
        return "exactly" in self.form

    def allows(self, value: Any) -> bool:
        """Whether a value, given in the same kind, lies inside."""
        if self.at_least is not None and value < self.at_least:
            return False
        if self.at_most is not None and value > self.at_most:
            return False
        if self.one_of and value not in self.one_of:
            return False
        return value not in self.none_of

    def nearest(self, value: Any) -> Any:
        """The allowed number nearest to an ordered value that lies outside."""
        if self.one_of:
            return min(self.one_of, key=lambda wanted: abs(float(wanted) - float(value)))
        if self.at_least is not None and value < self.at_least:
            return self.at_least
        if self.at_most is not None and value > self.at_most:
            return self.at_most
        return value

    def outside(self, value: Any) -> float:
        """Signed distance outside the limit in the value's own unit: below is negative."""
        return float(value) - float(self.nearest(value))

    def says(self, kind: Kind) -> str:
        """The limit in words: ``exactly 630 × 840 px``, ``60 – 250 kB``, ``JPEG or PNG``."""
        show = kind.show
        if self.exact and self.one_of:
            if kind.choices:  # a word stands for itself
                return show(self.one_of[0])
            return say("exactly {value}", value=show(self.one_of[0]))
        parts = []
        if {"above", "below"} & set(self.form):
            if "above" in self.form:
                parts.append(say("above {value}", value=show(kind.beside(self.at_least, -1))))
            elif self.at_least is not None:
                parts.append(say("at least {value}", value=show(self.at_least)))
            if "below" in self.form:
                parts.append(say("below {value}", value=show(kind.beside(self.at_most, 1))))
            elif self.at_most is not None:
                parts.append(say("at most {value}", value=show(self.at_most)))
        elif self.at_least is not None and self.at_most is not None:
            parts.append(say("{low} to {high}", low=show(self.at_least), high=show(self.at_most)))
        elif self.at_least is not None:
            parts.append(say("at least {value}", value=show(self.at_least)))
        elif self.at_most is not None:
            parts.append(say("at most {value}", value=show(self.at_most)))
        if self.one_of:
            parts.append(listed([show(value) for value in self.one_of]))
        if self.none_of:
            parts.append(say("not {values}", values=listed([show(v) for v in self.none_of])))
        return commas(parts)

    @property
    def printed(self) -> float | None:
        """The printed side in millimetres of which the limit is a share; ``None`` where it was not
        written as a length."""
        bounds = (self.at_least, self.at_most, *self.one_of, *self.none_of)
        return next((b.of for b in bounds if isinstance(b, Printed) and b.of), None)

    def in_unit(self, value: Any) -> Any:
        """A measured value, to be shown in the unit that the limit was written in."""
        side = self.printed
        return value if side is None or not isinstance(value, float) else Printed(value, side)

    def ambiguous(self) -> bool:
        """Whether a byte limit was written in a unit that can be read two ways."""
        bounds = (self.at_least, self.at_most, *self.one_of, *self.none_of)
        return any(isinstance(b, ByteCount) and b.other is not None for b in bounds)


@dataclass(frozen=True)
class Clause:
    """One rule: a measured one, or a question that only a person can answer.

    Attributes:
        id: unique in its brief.
        measure: the measure's name, or ``None`` for an ``ask``.
        ask: the question, or ``None`` for a measured clause.
        applies: the turns for which the clause holds; empty means always.
        quote: the body's own words.
        line: where the clause begins in its file, 1-based; 0 where it was made in memory.
    """

    id: str
    measure: str | None = None
    limit: Limit | None = None
    ask: str | None = None
    applies: tuple[Turn, ...] = ()
    strength: Strength = "must"
    quote: str = ""
    note: str = ""
    line: int = field(default=0, compare=False)

    def holds_for(self, turn: Turn) -> bool:
        """Whether the clause speaks of pictures that lie so."""
        return not self.applies or turn in self.applies


@dataclass(frozen=True)
class Zone:
    """A part of a place that covers the picture; shares of the frame, 0..1."""

    name: str
    left: float
    top: float
    width: float
    height: float


@dataclass(frozen=True)
class Seen:
    """A place where the picture will be seen."""

    as_: str
    width: float | None = None  # millimetres
    at: int | None = None  # pixels
    opacity: float | None = None  # 0..1
    zones: tuple[Zone, ...] = ()
    colours: tuple[str, ...] = ()
    text: str = ""
    aspect: Fraction | None = None
    anchor: str = "middle"


@dataclass(frozen=True)
class Panel:
    """One field of a template, a polygon in template pixels."""

    name: str
    outline: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Template:
    """Panels of a picture of a fixed size, into which photos are laid."""

    size: tuple[int, int]
    panels: tuple[Panel, ...]
    shade: str | None = None


@dataclass(frozen=True)
class Brief:
    """One kind of picture that a body wants.

    Attributes:
        allows: the alterations that are permitted; ``None``: all.
        border: the name of a picture that lies in ``folder``.
        folder: where the rulebook's pictures lie; empty for one that is read from text alone.
        body: the id of the body whose brief it is.
    """

    id: str
    title: str
    clauses: tuple[Clause, ...]
    optional: bool = False
    allows: tuple[str, ...] | None = None
    seen: tuple[Seen, ...] = ()
    border: str | None = None
    template: Template | None = None
    note: str = ""
    folder: str = field(default="", compare=False)
    body: str = field(default="", compare=False)

    def limits(self) -> Iterator[tuple[Clause, Limit]]:
        """The measured clauses, each with its limit."""
        for clause in self.clauses:
            if clause.measure is not None and clause.limit is not None:
                yield clause, clause.limit

    def bounding(self, *binds: Bind) -> Iterator[tuple[Clause, Limit]]:
        """The clauses whose limits bind one of these, each with its limit."""
        for clause, limit in self.limits():
            if binds_of(clause.measure) in binds:
                yield clause, limit

    def beside(self, name: str | None) -> str | None:
        """The path of a picture that the brief names; ``None`` where there is none to be found."""
        return os.path.join(self.folder, name) if name and self.folder else None

    def permits(self, alteration: str) -> bool:
        """Whether the brief says that a finish may be made."""
        return self.allows is None or alteration in self.allows

    def bound(self, bind: Bind, strength: Strength | None = "must") -> Limit | None:
        """The first limit that binds something, of the given strength (``None``: any)."""
        for clause, limit in self.bounding(bind):
            if strength is None or clause.strength == strength:
                return limit
        return None

    def wanted(self, bind: Bind) -> Limit | None:
        """The limit that binds something: what is required, else what is recommended."""
        return self.bound(bind) or self.bound(bind, "should")


@dataclass(frozen=True)
class Body:
    """Who publishes the rules."""

    id: str
    name: str
    source: str = ""
    url: str = ""
    edition: str = ""
    read_on: datetime.date | None = None


@dataclass(frozen=True)
class Rulebook:
    """One body's file. :attr:`text` is the file as it was read, comments and all."""

    body: Body
    briefs: tuple[Brief, ...]
    text: str = field(default="", compare=False, repr=False)
    path: str = field(default="", compare=False)

    def brief(self, brief_id: str) -> Brief | None:
        """The brief of this id, or ``None``."""
        return next((brief for brief in self.briefs if brief.id == brief_id), None)
