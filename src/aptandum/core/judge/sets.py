"""Judging a set: the pictures that are handed in together for one brief."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from aptandum.core.brief.model import Brief, Clause
from aptandum.core.frozen import frozen
from aptandum.core.judge.findings import Confirmation, Finding, judge
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.judge.reading import Reading
from aptandum.core.words import say


@frozen
class Member:
    """One picture of a set.

    Attributes:
        bytes: of its file; ``None`` where that is not known.
        estimate: they are only expected.
        as_first: how it stands, or would stand, as the first of the set.
    """

    bytes: int | None
    estimate: bool = True
    as_first: tuple[Finding, ...] = ()


def asks_for_sets(brief: Brief) -> bool:
    """Whether a brief has rules that only a whole set can meet or miss."""
    return any(clause.of or _of_set(clause) for clause in brief.clauses)


def as_first(
    reading: Reading, brief: Brief, confirmed: Iterable[Confirmation] = ()
) -> tuple[Finding, ...]:
    """The findings of the clauses on the first picture, of a picture as if it were that one."""
    mine = tuple(replace(clause, of="") for clause in brief.clauses if clause.of)
    if not mine:
        return ()
    found = judge(reading, replace(brief, clauses=mine, allows=None), confirmed, mends=False)
    return found.findings


def judge_set(brief: Brief, members: Sequence[Member]) -> tuple[Finding, ...]:
    """The findings of every clause on the set, in the brief's order.

    Args:
        members: in the order in which they are handed in.
    """
    found: list[Finding] = []
    first = {f.clause.id: f for f in members[0].as_first} if members else {}
    for clause in brief.clauses:
        if clause.of and clause.id in first:
            found.append(first[clause.id])
        elif _of_set(clause):
            found.append(_judged(clause, members))
    return tuple(found)


def _of_set(clause: Clause) -> bool:
    return clause.measure is not None and REGISTRY[clause.measure].of_set


def _judged(clause: Clause, members: Sequence[Member]) -> Finding:
    assert clause.measure is not None and clause.limit is not None
    measure, limit = REGISTRY[clause.measure], clause.limit
    asked = limit.says(measure.kind)
    estimate = False
    if clause.measure == "set_count":
        value = len(members)
    else:
        sizes = [member.bytes for member in members]
        if any(size is None for size in sizes):
            says = say("{title}: not all files can be weighed yet.", title=measure.title)
            return Finding(clause, "unknown", limit=asked, says=says)
        value = sum(size or 0 for size in sizes)
        estimate = any(member.estimate for member in members)
    shown = measure.kind.show(value)
    parts = {"title": measure.title, "value": shown, "limit": asked}
    if limit.allows(value):
        says = say("{title}: {value}. Asked: {limit}.", **parts)
        return Finding(clause, "meets", value, shown, asked, says, None, estimate)
    off = measure.outside(limit, value, measure.kind)
    if clause.strength == "should":
        says = say("{title}: {value}. Advised: {limit}; {off}.", off=off, **parts)
        return Finding(clause, "advises", value, shown, asked, says, None, estimate)
    says = say("{title}: {value}. Asked: {limit}; {off}.", off=off, **parts)
    return Finding(clause, "misses", value, shown, asked, says, None, estimate)
