"""Judging: one finding for each clause of a brief, from any reading."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, Literal

from aptandum.core.judge.look import NoLook
from aptandum.core.judge.measure import CannotMeasure, DoesNotApply, Mend, Miss
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.judge.reading import Reading
from aptandum.core.photo.backdrop import NoMask
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.marks import NoMarks
from aptandum.core.rulebook.model import Brief, Clause, Limit
from aptandum.core.rulebook.sizes import conflict
from aptandum.core.rulebook.sizes_said import clause_said
from aptandum.core.words import listed, say

Verdict = Literal["meets", "misses", "advises", "asks", "unknown", "idle"]
VERDICTS: tuple[Verdict, ...] = ("misses", "unknown", "asks", "advises", "meets", "idle")


@dataclass(frozen=True)
class Finding:
    """The outcome of one clause.

    Attributes:
        value: as measured, in the measure's own kind; ``None`` where there is none.
        measured: the value in words; empty where there is none.
        limit: the limit in words; empty for an ask.
        says: the outcome as a sentence.
        estimate: the value is not known before the file is made.
    """

    clause: Clause
    verdict: Verdict
    value: Any = None
    measured: str = ""
    limit: str = ""
    says: str = ""
    mend: Mend | None = None
    estimate: bool = False

    @property
    def title(self) -> str:
        if self.clause.ask is not None or self.clause.measure is None:
            return self.clause.ask or self.clause.id
        return REGISTRY[self.clause.measure].title

    def contract(self) -> dict[str, Any]:
        """As the command line prints it."""
        return {
            "clause": self.clause.id,
            "measure": self.clause.measure,
            "verdict": self.verdict,
            "measured": self.measured or None,
            "limit": self.limit or None,
            "says": self.says,
            "mend": self.mend.words if self.mend else None,
        }


@dataclass(frozen=True)
class Findings:
    """All findings of one reading against one brief, in the brief's order."""

    origin: str
    findings: tuple[Finding, ...]

    @property
    def ready(self) -> bool:
        """Whether a finished file meets every measured ``must``. Questions to a person do not
        count against it; what could not be measured does. Nothing but a finished file is ever
        ready."""
        if self.origin != "finished":
            return False
        return self.meets_musts

    @property
    def meets_musts(self) -> bool:
        return not any(
            f.verdict == "misses" or (f.verdict == "unknown" and f.clause.strength == "must")
            for f in self.findings
        )

    def counts(self) -> Counter[Verdict]:
        return Counter(f.verdict for f in self.findings)

    def of(self, clause_id: str) -> Finding:
        return next(f for f in self.findings if f.clause.id == clause_id)

    def summary(self) -> str:
        """The counts that matter, in words: ``1 miss · 2 to confirm``."""
        counts = self.counts()
        parts = []
        if counts["misses"]:
            n = counts["misses"]
            parts.append(say("1 miss") if n == 1 else say("{n} misses", n=n))
        if counts["unknown"]:
            parts.append(say("{n} not measured", n=counts["unknown"]))
        if counts["advises"]:
            parts.append(say("{n} advised", n=counts["advises"]))
        if counts["asks"]:
            parts.append(say("{n} to confirm", n=counts["asks"]))
        return " · ".join(parts) if parts else say("all met")


@dataclass(frozen=True)
class Confirmation:
    """A person's answer to an ``ask`` clause; ``met``: it is so."""

    clause: str
    by: str
    at: str
    met: bool = True

    @property
    def when(self) -> str:
        return self.at.replace("T", " ")[:16]


def judge(reading: Reading, brief: Brief, confirmed: Iterable[Confirmation] = ()) -> Findings:
    """Judge a reading against every clause of a brief. Pure; never raises on a picture."""
    answers = {answer.clause: answer for answer in confirmed}
    clauses = (*brief.clauses, *permission(brief))
    return Findings(
        reading.origin, tuple(_one(clause, reading, brief, answers) for clause in clauses)
    )


def permission(brief: Brief) -> tuple[Clause, ...]:
    """The clause that a brief's ``allows`` comes to: only what it permits was done."""
    if brief.allows is None:
        return ()
    taken = {clause.id for clause in brief.clauses}
    name = "alterations" if "alterations" not in taken else "alterations-permitted"
    return (Clause(name, "alterations", Limit(("one_of",), one_of=brief.allows)),)


def _one(
    clause: Clause, reading: Reading, brief: Brief, answers: dict[str, Confirmation]
) -> Finding:
    try:
        turn = reading.turn
    except PhotoError as error:
        return Finding(clause, "unknown", says=str(error))
    if not clause.holds_for(turn):
        says = say("Only for a picture that is {turns}.", turns=listed(list(clause.applies)))
        return Finding(clause, "idle", says=says)
    if clause.ask is not None:
        answer = answers.get(clause.id)
        if answer is None:
            return Finding(clause, "asks", says=say("Only a person can say this."))
        if answer.met:
            says = say("Confirmed by {by}, {at}.", by=answer.by, at=answer.when)
            return Finding(clause, "meets", says=says)
        says = say("{by} says that it is not so, {at}.", by=answer.by, at=answer.when)
        return Finding(clause, "advises" if clause.strength == "should" else "misses", says=says)
    assert clause.measure is not None and clause.limit is not None
    return _measured(clause, clause.limit, reading, brief)


def _measured(clause: Clause, limit: Limit, reading: Reading, brief: Brief) -> Finding:
    measure = REGISTRY[clause.measure or ""]
    asked = measure.limit_says(limit, measure.kind)
    try:
        value = measure.value(reading, brief)
        allowed = measure.allows(limit, value)
    except DoesNotApply as nothing:
        return Finding(clause, "idle", limit=asked, says=str(nothing))
    except (CannotMeasure, NoLook, NoMarks, NoMask, PhotoError) as error:
        return Finding(clause, "unknown", limit=asked, says=str(error))
    shown = measure.kind.show(value)
    estimate = bool(measure.estimate) and measure.estimate in reading.estimated
    estimate = estimate or (measure.by_pixels and "pixels" in reading.estimated)
    if allowed:
        says = say(
            "{title}: {value}. Asked: {limit}.", title=measure.title, value=shown, limit=asked
        )
        return Finding(clause, "meets", value, shown, asked, says, None, estimate)
    off = measure.outside(limit, value, measure.kind)
    parts = {"title": measure.title, "value": shown, "limit": asked, "off": off}
    if clause.strength == "should":
        wish = say("{title}: {value}. Advised: {limit}.", **parts)
        wish_off = say("{title}: {value}. Advised: {limit}; {off}.", **parts)
        says, verdict = (wish_off if off else wish), "advises"
    else:
        bare = say("{title}: {value}. Asked: {limit}.", **parts)
        far = say("{title}: {value}. Asked: {limit}; {off}.", **parts)
        says, verdict = (far if off else bare), "misses"
    mend = _with_pull(measure.mend(Miss(limit, value, reading, brief)), clause, reading, brief)
    final: Verdict = "advises" if verdict == "advises" else "misses"
    return Finding(clause, final, value, shown, asked, says, mend, estimate)


def _with_pull(mend: Mend | None, clause: Clause, reading: Reading, brief: Brief) -> Mend | None:
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
