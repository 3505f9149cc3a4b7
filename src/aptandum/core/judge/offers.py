"""Which mend of a missed clause is offered, and what is said with it."""

from __future__ import annotations

from aptandum.core.brief.model import Brief, Clause
from aptandum.core.judge.measure import Measure, Mend
from aptandum.core.judge.reading import Reading
from aptandum.core.sizes.conflicts import conflict
from aptandum.core.sizes.said import clause_said
from aptandum.core.words import listed, say


def offered(measure: Measure, mend: Mend | None) -> Mend | None:
    """A mend that gives settings back to the brief, so that resolving decides them anew, helps only
    where resolving knows what the measure binds; else there is none to offer."""
    if mend is None or not mend.changes or measure.binds is not None:
        return mend
    given_back = all(value is None for value in mend.changes.values())
    return None if given_back and mend.changes.keys() <= _RESOLVED else mend


_RESOLVED = frozenset(
    (
        "frame.output",
        "frame.window",
        "colour.space",
        "colour.bits",
        "file.format",
        "file.ppi",
        "file.name",
    )
)
"""Settings that a brief decides where a person has not."""


def with_pull(mend: Mend | None, clause: Clause, reading: Reading, brief: Brief) -> Mend | None:
    """A mend that says which other clauses pull against it, where the photo cannot meet both."""
    if reading.source is None:
        return mend
    pulling = conflict(brief, reading.source)
    others = [clause_said(other) for other in pulling if other != clause]
    if clause not in pulling or not others:
        return mend
    said = say("pulls against {clauses}", clauses=listed([f"“{o}”" for o in others], "and"))
    if mend is None:
        return Mend(say("This {pull}", pull=said))
    return Mend(say("{mend}; this {pull}", mend=mend.words, pull=said), mend.changes)
