"""What a rulebook says, as frozen data. :mod:`aptandum.core.rulebook` reads and checks the file."""

from __future__ import annotations

import datetime
import os
from collections.abc import Iterator
from dataclasses import field, replace
from fractions import Fraction
from functools import cached_property
from operator import itemgetter
from typing import Any, Literal

from aptandum.core.brief.binding import Bind
from aptandum.core.brief.limit import Limit, both
from aptandum.core.brief.registry import binds_of, known
from aptandum.core.frozen import frozen

Strength = Literal["must", "should"]
Turn = Literal["landscape", "upright", "square"]

TURNS: tuple[Turn, ...] = ("landscape", "upright", "square")
ALTERATIONS = (
    "turn",
    "cut",
    "pad",
    "scale",
    "convert",
    "light",
    "sharpen",
    "one-bit",
    "backdrop",
    "clear",
    "keyline",
    "border",
    "shade",
    "caption",
    "panels",
    "dust",
    "retouch",
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


@frozen
class Condition:
    """On what a clause depends: it holds where a measure lies inside a limit."""

    measure: str
    limit: Limit


@frozen
class Clause:
    """One rule: a measured one, or a question that only a person can answer.

    Attributes:
        id: unique in its brief.
        measure: the measure's name, or ``None`` for an ``ask``.
        ask: the question, or ``None`` for a measured clause.
        applies: the turns for which the clause holds; empty means always.
        quote: the body's own words.
        when: on what else it depends whether the clause holds.
        either: the way out of several to which it belongs; empty: it holds in all of them. With a
            slash it names the choice first: ``file/small``.
        valid_from: the day from which it holds.
        of: ``first``: it is about the first picture of a set alone.
        whole_body: it is written once for all briefs of the body.
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
    when: Condition | None = None
    either: str = ""
    valid_from: datetime.date | None = None
    of: str = ""
    whole_body: bool = False
    line: int = field(default=0, compare=False)

    @property
    def way(self) -> tuple[str, str]:
        """Which alternative it belongs to: the name of the choice and of the way; a choice without
        a name is the brief's one."""
        choice, _slash, way = self.either.rpartition("/")
        return choice, way

    def holds_for(self, turn: Turn) -> bool:
        """Whether the clause speaks of pictures that lie so."""
        return not self.applies or turn in self.applies


@frozen
class Zone:
    """A part of a place that covers the picture; shares of the frame, 0..1."""

    name: str
    left: float
    top: float
    width: float
    height: float


@frozen
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


@frozen
class Example:
    """A picture with which a body shows what it wants, or what it sends back.

    Attributes:
        picture: its name, beside the rulebook.
        good: it is as it should be; else it shows a fault.
        shows: what is to be seen by it, in a few words.
        about: the id of the clause whose miss it shows; empty: none in particular.
    """

    picture: str
    good: bool
    shows: str
    about: str = ""


@frozen
class Panel:
    """One field of a template, a polygon in template pixels."""

    name: str
    outline: tuple[tuple[float, float], ...]


@frozen
class Template:
    """Panels of a picture of a fixed size, into which photos are laid."""

    size: tuple[int, int]
    panels: tuple[Panel, ...]
    shade: str | None = None


@frozen
class Brief:
    """One kind of picture that a body wants.

    Attributes:
        allows: the alterations that are permitted; ``None``: all.
        does: what the body itself does with the file afterwards, in its words.
        crown: what the head is measured up to: the top of its hair, or of its skull under it.
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
    crown: Literal["hair", "skull"] = "hair"
    note: str = ""
    does: tuple[str, ...] = ()
    examples: tuple[Example, ...] = ()
    folder: str = field(default="", compare=False)
    body: str = field(default="", compare=False)

    def __hash__(self) -> int:
        return self._hashed

    @cached_property
    def _hashed(self) -> int:
        # Asked for at every turn of a drag, since what follows from a brief is held by it.
        return hash((self.id, self.title, self.clauses, self.allows, self.crown, self.optional))

    def __getstate__(self) -> dict[str, Any]:
        # Another process hashes words differently, and may know other measures.
        apart = ("_hashed", "_binding", "_bounds")
        return {name: value for name, value in self.__dict__.items() if name not in apart}

    @cached_property
    def plain(self) -> bool:
        """Whether every clause holds whatever is made and whenever: no condition, no either-or, and no
        day from which it begins."""
        return not any(c.when or c.either or c.valid_from for c in self.clauses)

    def lying(self, turn: Turn) -> Brief:
        """What is asked of a picture that lies so."""
        if not any(clause.applies for clause in self.clauses):
            return self
        kept = tuple(clause for clause in self.clauses if clause.holds_for(turn))
        return replace(self, clauses=kept)

    def limits(self) -> Iterator[tuple[Clause, Limit]]:
        """The measured clauses that hold for every picture, each with its limit."""
        for clause in self.clauses:
            if clause.measure is not None and clause.limit is not None and not clause.of:
                yield clause, clause.limit

    def bounding(self, *binds: Bind) -> Iterator[tuple[Clause, Limit]]:
        """The clauses whose limits bind one of these, each with its limit."""
        found = [one for bind in dict.fromkeys(binds) for one in self._binding.get(bind, ())]
        for _place, clause, limit in sorted(found, key=itemgetter(0)):
            yield clause, limit

    @cached_property
    def _binding(self) -> dict[Bind, list[tuple[int, Clause, Limit]]]:
        """By what they bind, the clauses with their places among the others."""
        made: dict[Bind, list[tuple[int, Clause, Limit]]] = {}
        for place, (clause, limit) in enumerate(self.limits()):
            bind = binds_of(clause.measure)
            if bind is not None:
                made.setdefault(bind, []).append((place, clause, limit))
        return made

    def beside(self, name: str | None) -> str | None:
        """The path of a picture that the brief names; ``None`` where there is none to be found."""
        return os.path.join(self.folder, name) if name and self.folder else None

    def permits(self, alteration: str) -> bool:
        """Whether the brief says that a finish may be made."""
        return self.allows is None or alteration in self.allows

    def bound(self, bind: Bind, strength: Strength | None = "must") -> Limit | None:
        """The limit that binds something whatever is made, of the given strength (``None``: any): all
        clauses on it folded together."""
        folded = self._bounds
        if (bind, strength) in folded:
            return folded[bind, strength]
        found: Limit | None = None
        for clause, limit in self.bounding(bind):
            if clause.when or clause.either or clause.valid_from:
                continue
            if strength is None or clause.strength == strength:
                kind = known(clause.measure or "").kind
                found = limit if found is None else both(found, limit, kind)
        folded[bind, strength] = found
        return found

    @cached_property
    def _bounds(self) -> dict[tuple[Bind, Strength | None], Limit | None]:
        """What :meth:`bound` has found so far: a brief never changes, and is asked for each photo."""
        return {}

    def wanted(self, bind: Bind) -> Limit | None:
        """The limit that binds something: what is required, else what is recommended."""
        return self.bound(bind) or self.bound(bind, "should")


@frozen
class Body:
    """Who publishes the rules."""

    id: str
    name: str
    source: str = ""
    url: str = ""
    edition: str = ""
    read_on: datetime.date | None = None
    valid_from: datetime.date | None = None


@frozen
class Rulebook:
    """One body's file. :attr:`text` is the file as it was read, comments and all."""

    body: Body
    briefs: tuple[Brief, ...]
    text: str = field(default="", compare=False, repr=False)
    path: str = field(default="", compare=False)

    def brief(self, brief_id: str) -> Brief | None:
        """The brief of this id, or ``None``."""
        return next((brief for brief in self.briefs if brief.id == brief_id), None)
