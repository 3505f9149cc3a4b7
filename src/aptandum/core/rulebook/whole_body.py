"""Clauses that are written once for every brief of a body: which of them a brief has as well as its own."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Clause


def with_shared(own: tuple[Clause, ...], shared: tuple[Clause, ...]) -> tuple[Clause, ...]:
    """A brief's clauses and after them those of the whole body that none of its own stands instead of.

    One stands instead of another of the same id that somebody wrote, and where nobody did, where it says
    otherwise of the same: *at least 50 KB* leaves the body's *at most 5 MB* as it is, and no question takes
    the place of another.
    """
    return (*own, *_left(own, shared))


def _left(own: tuple[Clause, ...], shared: tuple[Clause, ...]) -> Iterator[Clause]:
    taken = {clause.id for clause in own}
    for clause in shared:
        if _numbered(clause) is None:
            if clause.id not in taken:
                yield clause
        elif not any(_instead(one, clause) for one in own):
            name, n = clause.id, _numbered(clause) or 1
            while name in taken:
                n += 1
                name = f"{_base(clause)}-{n}"
            taken.add(name)
            yield replace(clause, id=name)


def _base(clause: Clause) -> str:
    return clause.measure or "ask"


def _numbered(clause: Clause) -> int | None:
    """The number of an id as it is given where none is written; ``None``: somebody wrote it."""
    hit = re.fullmatch(rf"{re.escape(_base(clause))}(?:-(\d+))?", clause.id)
    return None if hit is None else int(hit[1] or 1)


def _instead(own: Clause, shared: Clause) -> bool:
    """Whether a brief's clause says otherwise of the same thing as one of the whole body."""
    if shared.measure is None or own.measure is None:
        return own.measure == shared.measure and own.ask == shared.ask
    about = ((c.measure, c.applies, c.strength, c.when, c.either, c.of) for c in (own, shared))
    return len(set(about)) == 1 and bool(_sides(own.limit) & _sides(shared.limit))


def _sides(limit: Limit | None) -> set[str]:
    """Which ends a limit bounds; what only leaves something out bounds neither."""
    if limit is None:
        return set()
    found = {"low", "high"} if limit.one_of else set()
    found |= {"low"} if limit.at_least is not None else set()
    return found | ({"high"} if limit.at_most is not None else set())
