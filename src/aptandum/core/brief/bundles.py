"""Alternatives and conditions of a brief, taken apart into plain briefs.

A **bundle** is what a brief asks where one way of every either-or is taken: *600 x 600 as PNG, or
1200 x 1200 as JPEG* are two. A **course** is a bundle with every condition decided as well, so that it
is plain: what resolving and the allowed sizes can follow. The files that a brief allows are those of
all its courses together.
"""

from __future__ import annotations

import datetime
from collections.abc import Iterator
from dataclasses import replace
from functools import lru_cache
from itertools import product
from typing import Any

from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Clause, Condition
from aptandum.core.brief.registry import known
from aptandum.core.frozen import frozen
from aptandum.core.quantity import Kind

MOST_COURSES = 64
"""Courses of one brief; a rulebook with more is refused."""

IMPLIED = ":when"
"""Ends the id of a clause that a course has only because a condition was decided so."""


@frozen
class Bundle:
    """One way through the either-ors of a brief.

    Attributes:
        ways: the way taken of each choice, as :attr:`Clause.way` names both.
        brief: the clauses that then hold; conditions still stand in them.
    """

    ways: tuple[tuple[str, str], ...]
    brief: Brief

    @property
    def name(self) -> str:
        """The ways as the rulebook calls them, to stand in a sentence."""
        return " + ".join(way for _choice, way in self.ways)


def bundles(brief: Brief) -> tuple[Bundle, ...]:
    """The ways through a brief's either-ors in the order in which they are written; one for a brief
    without any."""
    if not any(clause.either for clause in brief.clauses):
        return (Bundle((), brief),)
    return _bundles(brief, brief.folder, brief.body)


# Briefs that are equal may lie in different folders.
@lru_cache(maxsize=256)
def _bundles(brief: Brief, folder: str, body: str) -> tuple[Bundle, ...]:
    choices: dict[str, dict[str, None]] = {}
    for clause in brief.clauses:
        if clause.either:
            choice, way = clause.way
            choices.setdefault(choice, {})[way] = None
    made = []
    for ways in product(*choices.values()):
        taken = tuple(zip(choices, ways, strict=True))
        kept = tuple(c for c in brief.clauses if not c.either or c.way in taken)
        made.append(Bundle(taken, replace(brief, clauses=_without_either(kept))))
    return tuple(made)


def _without_either(clauses: tuple[Clause, ...]) -> tuple[Clause, ...]:
    return tuple(replace(clause, either="") if clause.either else clause for clause in clauses)


def courses(brief: Brief) -> tuple[Brief, ...]:
    """The plain briefs that a brief comes to, one or more; those whose own clauses exclude each other
    are left out as long as any other stands. Rules of a later day are none yet."""
    if brief.plain:
        return (brief,)
    return _courses(brief, brief.folder, brief.body, datetime.date.today())


@lru_cache(maxsize=256)
def _courses(brief: Brief, folder: str, body: str, today: datetime.date) -> tuple[Brief, ...]:
    now = tuple(
        replace(clause, valid_from=None) if clause.valid_from else clause
        for clause in brief.clauses
        if clause.valid_from is None or clause.valid_from <= today
    )
    brief = replace(brief, clauses=now)
    every = [course for bundle in bundles(brief) for course in _decided(bundle.brief)]
    sound = [course for course in every if _possible(course)]
    return tuple(dict.fromkeys(sound or every[:1]))


def count_of(brief: Brief) -> int:
    """How many courses a brief has at most, reckoned without making them."""
    choices: dict[str, set[str]] = {}
    for clause in brief.clauses:
        if clause.either:
            choices.setdefault(clause.way[0], set()).add(clause.way[1])
    count = 1
    for ways in choices.values():
        count *= len(ways)
    conditions = {clause.when for clause in brief.clauses if clause.when is not None}
    for condition in conditions:
        count *= 1 + len(outside(condition))
    return count


def _decided(brief: Brief) -> Iterator[Brief]:
    """A bundle with each of its conditions true or not."""
    asked: dict[Condition, str] = {}
    for clause in brief.clauses:
        if clause.when is not None:
            asked.setdefault(clause.when, clause.id)
    branches = []
    for condition, name in asked.items():
        true = [(condition, Clause(name + IMPLIED, condition.measure, condition.limit))]
        false = [
            (None, Clause(name + IMPLIED, condition.measure, limit)) for limit in outside(condition)
        ]
        branches.append([*true, *false])
    for picked in product(*branches):
        held = {condition for condition, _clause in picked if condition is not None}
        kept = tuple(
            replace(clause, when=None) if clause.when else clause
            for clause in brief.clauses
            if clause.when is None or clause.when in held
        )
        yield replace(brief, clauses=(*kept, *(clause for _condition, clause in picked)))


@lru_cache(maxsize=256)
def outside(condition: Condition) -> tuple[Limit, ...]:
    """The limits of which exactly those values meet one that do not meet the condition's; of numbers
    that are not whole the bound itself may belong to both."""
    kind, limit = known(condition.measure).kind, condition.limit
    if kind.choices:
        left = tuple(word for word in kind.choices if not _word_in(limit, word))
        return (Limit(("one_of",), one_of=left),) if left else ()
    made = []
    if limit.one_of:
        made.append(Limit(("none_of",), none_of=limit.one_of))
    if limit.none_of:
        made.append(Limit(("one_of",), one_of=limit.none_of))
    if limit.at_least is not None:
        made.append(Limit(("at_most",), at_most=_beside(kind, limit.at_least, -1)))
    if limit.at_most is not None:
        made.append(Limit(("at_least",), at_least=_beside(kind, limit.at_most, 1)))
    return tuple(made)


def _beside(kind: Kind, value: Any, by: int) -> Any:
    return kind.beside(value, by) if kind.whole else value


def _word_in(limit: Limit, word: str) -> bool:
    return (not limit.one_of or word in limit.one_of) and word not in limit.none_of


def _possible(course: Brief) -> bool:
    """Whether no two limits on one measure exclude each other outright."""
    by_measure: dict[str, list[Limit]] = {}
    for clause, limit in course.limits():
        if clause.strength == "must" and not clause.applies and limit.turned is None:
            by_measure.setdefault(clause.measure or "", []).append(limit)
    return all(_meet(known(name).kind, limits) for name, limits in by_measure.items())


def _meet(kind: Kind, limits: list[Limit]) -> bool:
    # Sizes and proportions that round to one another are told exactly elsewhere.
    if len(limits) < 2 or not (kind.choices or kind.whole):
        return True
    if kind.choices:
        return any(all(_word_in(limit, word) for limit in limits) for word in kind.choices)
    if not kind.ordered:
        return True
    lows = [limit.at_least for limit in limits if limit.at_least is not None]
    highs = [limit.at_most for limit in limits if limit.at_most is not None]
    if lows and highs and max(lows) > min(highs):
        return False
    named = [set(limit.one_of) for limit in limits if limit.one_of]
    if named:
        return any(all(limit.allows(value) for limit in limits) for value in named[0])
    return True
