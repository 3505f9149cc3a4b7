"""What changed between two rulebooks: clause by clause, in words."""

from __future__ import annotations

import datetime
from collections.abc import Iterator, Sequence
from typing import Literal

from aptandum.core.brief.model import Brief, Clause, Rulebook
from aptandum.core.frozen import frozen
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.quantity import NAMED
from aptandum.core.sizes.said import condition_said
from aptandum.core.words import listed, say, sentences

Kind = Literal["added", "removed", "limit", "strength", "applies", "wording", "brief"]
KINDS: tuple[Kind, ...] = (
    "added",
    "removed",
    "limit",
    "strength",
    "applies",
    "wording",
    "brief",
)


@frozen
class Difference:
    """One thing that is not the same in the newer rulebook.

    Attributes:
        brief: the brief's id; empty where the body itself changed.
        clause: the clause's id in the newer rulebook (the older, where it was removed); empty
            where the brief itself changed.
        title: what it is about, as the ledger names it.
        before, after: in words; empty where there was or is nothing.
    """

    kind: Kind
    brief: str
    clause: str
    title: str
    before: str
    after: str


def compare(old: Rulebook, new: Rulebook) -> tuple[Difference, ...]:
    """Everything that differs, in the newer rulebook's order; what was removed comes last in
    its brief. Clauses are matched by id, and where an id is gone by measure or question."""
    found = list(_body(old, new))
    for brief in new.briefs:
        before = old.brief(brief.id)
        if before is None:
            found.append(Difference("added", brief.id, "", brief.title, "", say("a new brief")))
            continue
        found += _brief(before, brief)
    for brief in old.briefs:
        if new.brief(brief.id) is None:
            found.append(
                Difference("removed", brief.id, "", brief.title, say("a brief of its own"), "")
            )
    return tuple(found)


def _body(old: Rulebook, new: Rulebook) -> Iterator[Difference]:
    for title, before, after in (
        (say("Name of the body"), old.body.name, new.body.name),
        (say("Source"), old.body.source, new.body.source),
        (say("Address"), old.body.url, new.body.url),
        (say("In force from"), _day(old.body.valid_from), _day(new.body.valid_from)),
    ):
        if before != after:
            yield Difference("wording", "", "", title, before, after)


def _brief(old: Brief, new: Brief) -> Iterator[Difference]:
    def words(brief: Brief) -> list[tuple[str, str]]:
        allows = say("any") if brief.allows is None else listed(list(brief.allows), "and")
        seen = listed([place.as_ for place in brief.seen], "and") if brief.seen else say("nowhere")
        return [
            (say("Title"), brief.title),
            (say("Optional"), say("yes") if brief.optional else say("no")),
            (
                say("Heads are measured up to"),
                say("the skull") if brief.crown == "skull" else say("the hair"),
            ),
            (say("Alterations allowed"), allows or say("none")),
            (say("Where it is seen"), seen),
            (say("Border"), brief.border or say("none")),
            (say("Examples"), listed([one.shows for one in brief.examples], "and") or say("none")),
            (say("What the body does itself"), sentences(list(brief.does)) or say("nothing")),
        ]

    for (title, before), (_, after) in zip(words(old), words(new), strict=True):
        if before != after:
            kind: Kind = "wording" if title == say("Title") else "brief"
            yield Difference(kind, new.id, "", title, before, after)
    if old.seen != new.seen and [s.as_ for s in old.seen] == [s.as_ for s in new.seen]:
        yield Difference(
            "brief", new.id, "", say("Where it is seen"), say("as it was"), say("other details")
        )
    if old.template != new.template:
        yield Difference(
            "brief",
            new.id,
            "",
            say("Template"),
            say("none") if old.template is None else say("as it was"),
            say("none") if new.template is None else say("another"),
        )
    pairs, gone = _matched(old.clauses, new.clauses)
    for before_clause, clause in pairs:
        if before_clause is None:
            yield Difference("added", new.id, clause.id, _title(clause), "", _says(clause))
        else:
            yield from _clause(new.id, before_clause, clause)
    for clause in gone:
        yield Difference("removed", new.id, clause.id, _title(clause), _says(clause), "")


def _matched(
    old: Sequence[Clause], new: Sequence[Clause]
) -> tuple[list[tuple[Clause | None, Clause]], list[Clause]]:
    by_id = {clause.id: clause for clause in old}
    left = [clause for clause in old if clause.id not in {c.id for c in new}]
    pairs: list[tuple[Clause | None, Clause]] = []
    for clause in new:
        match = by_id.get(clause.id)
        if match is not None and match.measure != clause.measure:
            left.append(match)
            match = None
        if match is None:
            match = next(
                (
                    c
                    for c in left
                    if c.measure == clause.measure
                    and c.ask == clause.ask
                    and (c.measure is None or c.applies == clause.applies)
                ),
                None,
            )
            if match is not None:
                left.remove(match)
        pairs.append((match, clause))
    return pairs, left


def _title(clause: Clause) -> str:
    return REGISTRY[clause.measure].title if clause.measure else (clause.ask or clause.id)


def _says(clause: Clause) -> str:
    if clause.measure is None or clause.limit is None:
        return say("a question for a person")
    return clause.limit.says(REGISTRY[clause.measure].kind)


def _turns(clause: Clause) -> str:
    return (
        listed([NAMED[turn] for turn in clause.applies], "and") if clause.applies else say("always")
    )


def _condition(clause: Clause) -> str:
    if clause.when is None:
        return say("on no condition")
    return say("with {condition}", condition=condition_said(clause.when))


def _way(clause: Clause) -> str:
    return say("one way: {way}", way=clause.either) if clause.either else say("in every way")


def _of(clause: Clause) -> str:
    return say("the first picture") if clause.of else say("every picture")


def _day(day: datetime.date | None) -> str:
    return day.isoformat() if day is not None else say("at once")


def _clause(brief: str, old: Clause, new: Clause) -> Iterator[Difference]:
    title = _title(new)
    if old.ask != new.ask:
        yield Difference("wording", brief, new.id, title, old.ask or "", new.ask or "")
    if old.limit != new.limit:
        before, after = _says(old), _says(new)
        if before == after and old.limit is not None and new.limit is not None:
            before, after = listed(list(old.limit.form)), listed(list(new.limit.form))
        yield Difference("limit", brief, new.id, title, before, after)
    if old.strength != new.strength:
        names = {"must": say("required"), "should": say("recommended")}
        yield Difference("strength", brief, new.id, title, names[old.strength], names[new.strength])
    for said in (_turns, _condition, _way, _of, lambda clause: _day(clause.valid_from)):
        if said(old) != said(new):
            yield Difference("applies", brief, new.id, title, said(old), said(new))
    for before, after in ((old.quote, new.quote), (old.note, new.note)):
        if before != after:
            yield Difference("wording", brief, new.id, title, before, after)
