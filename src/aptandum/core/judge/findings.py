"""Judging: one finding for each clause of a brief, from any reading."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import replace
from typing import Any, Literal

from aptandum.core.brief.binding import HEAD_HEIGHT, HEADROOM
from aptandum.core.brief.bundles import Bundle, bundles
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Clause, Turn
from aptandum.core.frozen import frozen
from aptandum.core.judge import near
from aptandum.core.judge.in_numbers import in_numbers
from aptandum.core.judge.measure import (
    CannotMeasure,
    DoesNotApply,
    ForAPerson,
    Measure,
    Mend,
    Miss,
    Need,
)
from aptandum.core.judge.measures import REGISTRY, visible_part
from aptandum.core.judge.measures.alterations import permission
from aptandum.core.judge.measures.aspect import Shape
from aptandum.core.judge.offers import offered, with_pull
from aptandum.core.judge.pixel_statistics import NoPixels
from aptandum.core.judge.reading import Reading
from aptandum.core.photo.backdrop import NoMask
from aptandum.core.photo.facts import NotInside, PhotoError
from aptandum.core.photo.marks import NoMarks
from aptandum.core.quantity import NAMED
from aptandum.core.sizes.said import condition_said
from aptandum.core.words import joined, listed, say, say_n, show_day, speech

Verdict = Literal["meets", "misses", "advises", "asks", "unknown", "idle"]
VERDICT_WORDS: dict[Verdict, str] = {
    "meets": say("meets"),
    "misses": say("misses"),
    "advises": say("advises"),
    "asks": say("asks"),
    "unknown": say("unknown"),
    "idle": say("idle"),
}
"""Each verdict as people read it."""

VERDICTS: tuple[Verdict, ...] = ("misses", "unknown", "asks", "advises", "meets", "idle")


@frozen
class Finding:
    """The outcome of one clause.

    Attributes:
        value: as measured, in the measure's own kind; ``None`` where there is none.
        measured: the value in words; empty where there is none.
        limit: the limit in words; empty for an ask.
        says: the outcome as a sentence.
        estimate: the value is not known before the file is made.
        by_person: nothing could be measured, so that a person is asked.
    """

    clause: Clause
    verdict: Verdict
    value: Any = None
    measured: str = ""
    limit: str = ""
    says: str = ""
    mend: Mend | None = None
    estimate: bool = False
    by_person: bool = False

    @property
    def asked(self) -> bool:
        """Whether only a person can say it, or has said it."""
        return self.clause.ask is not None or self.by_person

    @property
    def question(self) -> str:
        """What a person is asked: the clause's own question, or whether what could not be measured keeps
        its limit."""
        if self.clause.ask is not None or self.clause.measure is None:
            return self.clause.ask or self.clause.id
        return say("{title}: {limit}", title=self.title, limit=self.limit)

    @property
    def far(self) -> float:
        """How far outside its limit the value lies, as a share of the limit, 0..1; 1 for what is no
        number."""
        limit = self.clause.limit
        return 1.0 if limit is None else min(face.far(self.value) for face in limit.faces)

    @property
    def title(self) -> str:
        if self.clause.ask is not None or self.clause.measure is None:
            return self.clause.ask or self.clause.id
        return REGISTRY[self.clause.measure].title

    def figures(self) -> dict[str, Any]:
        """Its value and what is allowed, in numbers."""
        measure = REGISTRY[self.clause.measure] if self.clause.measure else None
        kind = measure.kind.name if measure is not None else ""
        return in_numbers(kind, self.value, self.clause.limit, self.verdict == "meets")

    def contract(self) -> dict[str, Any]:
        """As the command line prints it."""
        return {
            "clause": self.clause.id,
            "measure": self.clause.measure,
            "verdict": self.verdict,
            "measured": self.measured or None,
            "limit": self.limit or None,
            **self.figures(),
            "strength": self.clause.strength,
            "says": self.says,
            "mend": self.mend.words if self.mend else None,
        }


@frozen
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
        """How many findings there are of each verdict."""
        return Counter(f.verdict for f in self.findings)

    def of(self, clause_id: str) -> Finding:
        """The finding of a clause, by the clause's id."""
        return next(f for f in self.findings if f.clause.id == clause_id)

    def summary(self) -> str:
        """The counts that matter, in words: ``1 miss · 2 to confirm``."""
        counts = self.counts()
        parts = []
        if counts["misses"]:
            n = counts["misses"]
            parts.append(say_n("{n} miss", "{n} misses", n))
        if counts["unknown"]:
            parts.append(say("{n} not measured", n=counts["unknown"]))
        if counts["advises"]:
            parts.append(say("{n} advised", n=counts["advises"]))
        if counts["asks"]:
            parts.append(say("{n} to confirm", n=counts["asks"]))
        return joined(parts) if parts else say("all met")


@frozen
class Confirmation:
    """A person's answer to an ``ask`` clause; ``met``: it is so.

    Attributes:
        of: the picture it was said of (:attr:`Reading.picture`); empty: of any.
    """

    clause: str
    by: str
    at: str
    met: bool = True
    of: str = ""

    def stands(self, picture: str) -> bool:
        """Whether it holds for a picture: nobody has said anything of one that came later."""
        return not (self.of and picture) or self.of == picture

    @property
    def when(self) -> str:
        return self.at.replace("T", " ")[:16]


def judge(
    reading: Reading, brief: Brief, confirmed: Iterable[Confirmation] = (), mends: bool = True
) -> Findings:
    """Judge a reading against every clause of a brief. Pure; never raises on a picture.

    Args:
        mends: also what would meet a missed clause; without, thousands are judged faster.
    """
    answers = {answer.clause: answer for answer in confirmed}
    if brief.crown != reading.crown:
        reading = replace(reading, crown=brief.crown)
    try:
        turn = reading.turn
    except PhotoError as error:
        says = str(error)
        lost = [Finding(step.clause, "unknown", says=says) for step in _steps(brief)]
        return Findings(reading.origin, tuple(lost))
    every = bundles(brief)
    if len(every) == 1:
        found = [_one(step, reading, brief, answers, turn, mends) for step in _steps(brief)]
        return Findings(reading.origin, _told(found))
    found = list(_of_one_way(every, reading, brief, answers, turn, mends))
    return Findings(reading.origin, _told(found))


def _told(found: list[Finding]) -> tuple[Finding, ...]:
    """All findings but those on what no brief states and nothing is wrong with."""
    name = visible_part.MEASURE.name
    return tuple(f for f in found if f.clause.measure != name or f.verdict == "misses")


def _of_one_way(
    every: tuple[Bundle, ...],
    reading: Reading,
    brief: Brief,
    answers: dict[str, Confirmation],
    turn: Turn,
    mends: bool,
) -> tuple[Finding, ...]:
    """The findings of the way that a reading misses least, of those that a brief leaves; the clauses
    of the others do not apply."""
    bare = {
        step.clause.id: _one(step, reading, brief, answers, turn, False) for step in _steps(brief)
    }

    def missed(bundle: Bundle) -> tuple[int, int, float, int]:
        found = [bare[clause.id] for clause in bundle.brief.clauses]
        counts = Counter(f.verdict for f in found)
        unknown = sum(f.verdict == "unknown" and f.clause.strength == "must" for f in found)
        far = sum(f.far for f in found if f.verdict == "misses")
        return counts["misses"], unknown, far, counts["advises"]

    taken = min(every, key=missed)
    held = {clause.id for clause in taken.brief.clauses}
    says = say(
        "The body leaves a choice, and the other way is taken here: “{way}”.", way=taken.name
    )
    made = []
    for step in _steps(brief):
        if step.clause.either and step.clause.id not in held:
            made.append(Finding(step.clause, "idle", limit=step.asked, says=says))
        elif mends:
            made.append(_one(step, reading, taken.brief, answers, turn, True))
        else:
            made.append(bare[step.clause.id])
    return tuple(made)


class _Step:
    """A clause as it is judged, with what is the same for every picture: its measure, its limit in
    words, and what was said of values that have been met with before."""

    __slots__ = ("asked", "bare", "clause", "limit", "measure", "said")

    def __init__(self, clause: Clause, crown: str = "hair") -> None:
        self.clause, self.limit = clause, clause.limit
        self.measure = REGISTRY[clause.measure] if clause.measure else None
        self.asked = ""
        if self.measure is not None and self.limit is not None:
            self.asked = self.measure.limit_says(self.limit, self.measure.kind)
            if crown == "skull" and self.measure.binds in (HEAD_HEIGHT, HEADROOM):
                self.asked = say("{limit}, to the top of the skull", limit=self.asked)
        self.said: dict[object, Finding] = {}
        self.bare: dict[object, Finding] = {}  # of misses without their mends

    @staticmethod
    def keep(held: dict[object, Finding], key: object, finding: Finding) -> None:
        if len(held) >= _MOST_SAID:
            held.clear()
        held[key] = finding


_known: dict[tuple[int, object], tuple[Brief, tuple[_Step, ...]]] = {}
_MOST_KNOWN, _MOST_SAID = 64, 512


def _steps(brief: Brief) -> tuple[_Step, ...]:
    """A brief's clauses, prepared. Kept by the brief itself, which its entry keeps alive: taking
    the hash of all its clauses would cost as much as judging by them."""
    key = id(brief), speech()  # sentences are kept with it
    held = _known.get(key)
    if held is not None:
        return held[1]
    steps = tuple(
        _Step(clause, brief.crown)
        for clause in (*brief.clauses, *permission(brief), *visible_part.asked_of(brief))
    )
    while len(_known) >= _MOST_KNOWN:
        _known.pop(next(iter(_known)), None)
    _known[key] = brief, steps
    return steps


_KEPT = frozenset((str, int, float, tuple, Shape))
"""Kinds of values of which a ``meets`` is the same whatever the picture."""


def _one(
    step: _Step,
    reading: Reading,
    brief: Brief,
    answers: dict[str, Confirmation],
    turn: Turn,
    mends: bool,
) -> Finding:
    clause = step.clause
    idle = _not_now(step, reading, brief)
    if idle is not None:
        return idle
    if not clause.holds_for(turn):
        says = say(
            "Only for a picture that is {turns}.",
            turns=listed([NAMED[turn] for turn in clause.applies]),
        )
        return Finding(clause, "idle", says=says)
    if clause.ask is not None:
        return _answered(step, reading, answers, say("Only a person can say this."))
    try:
        return _measured(step, reading, brief, mends)
    except ForAPerson as why:
        return _answered(step, reading, answers, str(why))


def _answered(
    step: _Step, reading: Reading, answers: dict[str, Confirmation], open_: str
) -> Finding:
    """The finding of what only a person can say."""
    clause = step.clause
    found = _by_answer(clause, answers.get(clause.id), reading, open_)
    return replace(found, limit=step.asked, by_person=True)


def _by_answer(
    clause: Clause, answer: Confirmation | None, reading: Reading, open_: str
) -> Finding:
    if answer is None:
        return Finding(clause, "asks", says=open_)
    if not answer.stands(reading.picture):
        before = (
            say(
                "{by} said so before the picture changed, {at}: look again.",
                by=answer.by,
                at=answer.when,
            )
            if answer.met
            else say("To be looked at again: the picture has changed.")
        )
        return Finding(clause, "asks", says=before)
    if answer.met:
        says = say("Confirmed by {by}, {at}.", by=answer.by, at=answer.when)
        return Finding(clause, "meets", says=says)
    says = say("{by} says that it is not so, {at}.", by=answer.by, at=answer.when)
    return Finding(clause, "advises" if clause.strength == "should" else "misses", says=says)


def _not_now(step: _Step, reading: Reading, brief: Brief) -> Finding | None:
    """The finding of a clause that does not hold here: of another picture of the set, of a later day,
    or on a condition that is not met; ``None`` for one that holds."""
    clause = step.clause
    if clause.of:
        says = say("Only for the first picture of a set; the board says how that one stands.")
        return Finding(clause, "idle", limit=step.asked, says=says)
    if clause.valid_from is not None and reading.today < clause.valid_from:
        says = say("Only from {day} on.", day=show_day(clause.valid_from))
        return Finding(clause, "idle", limit=step.asked, says=says)
    if clause.when is None:
        return None
    measure, limit = REGISTRY[clause.when.measure], clause.when.limit
    said = condition_said(clause.when)
    try:
        value = measure.value(reading, brief)
        if _nearest_face(measure, limit, value)[1]:
            return None
    except DoesNotApply:
        pass
    except (CannotMeasure, ForAPerson, NoPixels, NotInside, PhotoError) as error:
        says = say("It holds only with {condition}: {why}", condition=said, why=error)
        return Finding(clause, "unknown", limit=step.asked, says=says)
    return Finding(
        clause, "idle", limit=step.asked, says=say("Only with {condition}.", condition=said)
    )


def _shown(measure: Measure, limit: Limit, value: Any) -> str:
    """A measured value in words: in the unit of its limit, and where several words are true of a file the
    one that is asked for."""
    if measure.kind.name == "word" and isinstance(value, tuple):
        value = next((word for word in value if word in limit.one_of), value)
    return measure.kind.show(limit.in_unit(value))


def _nearest_face(measure: Measure, limit: Limit, value: Any) -> tuple[Limit, bool]:
    """Of a limit that holds either way up the way that a value meets, or is nearest to; and whether it
    meets it."""
    for face in limit.faces:
        if measure.allows(face, value):
            return face, True
    if limit.turned is None:
        return limit, False
    return min(limit.faces, key=lambda face: face.far(value)), False


def _measured(step: _Step, reading: Reading, brief: Brief, mends: bool) -> Finding:
    clause, measure, limit, asked = step.clause, step.measure, step.limit, step.asked
    assert measure is not None and limit is not None
    try:
        value = measure.value(reading, brief)
        estimate = bool(measure.estimate) and measure.estimate in reading.estimated
        estimate = estimate or (Need.PIXELS in measure.needs and "pixels" in reading.estimated)
        doubt = near.doubt(measure, limit, value, reading)
        # A quotient that remembers its sides is another one for other sides.
        key = type(value), getattr(value, "sides", value), estimate, doubt
        kept = type(value) in _KEPT
        held = step.said.get(key) if kept else None
        if held is None and kept and not mends:
            held = step.bare.get(key)
        if held is not None:
            return held
        face, allowed = _nearest_face(measure, limit, value)
    except DoesNotApply as nothing:
        return Finding(clause, "idle", limit=asked, says=str(nothing))
    except (CannotMeasure, NoPixels, NoMarks, NoMask, NotInside, PhotoError) as error:
        says = say("{title}: {why}", title=measure.title, why=error)
        return Finding(clause, "unknown", limit=asked, says=says)
    shown = _shown(measure, limit, value)
    if doubt is not None:
        says = near.said(measure, limit, value, shown, asked, doubt, reading)
        mend = measure.mend(Miss(face, value, reading, brief)) if mends else None
        return Finding(clause, "unknown", value, shown, asked, says, offered(measure, mend))
    if allowed:
        says = say(
            "{title}: {value}. Asked: {limit}.", title=measure.title, value=shown, limit=asked
        )
        made = Finding(clause, "meets", value, shown, asked, says, None, estimate)
        if kept:
            step.keep(step.said, key, made)
        return made
    off = measure.outside(face, value, measure.kind)
    parts = {"title": measure.title, "value": shown, "limit": asked, "off": off}
    if clause.strength == "should":
        wish = say("{title}: {value}. Advised: {limit}.", **parts)
        wish_off = say("{title}: {value}. Advised: {limit}; {off}.", **parts)
        says, verdict = (wish_off if off else wish), "advises"
    else:
        bare = say("{title}: {value}. Asked: {limit}.", **parts)
        far = say("{title}: {value}. Asked: {limit}; {off}.", **parts)
        says, verdict = (far if off else bare), "misses"
    final: Verdict = "advises" if verdict == "advises" else "misses"
    if not mends:
        made = Finding(clause, final, value, shown, asked, says, None, estimate)
        if kept:
            step.keep(step.bare, key, made)
        return made
    best = offered(measure, measure.mend(Miss(face, value, reading, brief)))
    mend = with_pull(best, clause, reading, brief)
    return Finding(clause, final, value, shown, asked, says, mend, estimate)
