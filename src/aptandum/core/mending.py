"""Mends that mend: each is applied and judged before it is offered, and all that can be met together
are found together."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import field, replace

from aptandum.core.brief.model import Brief
from aptandum.core.file.budget import expected_bytes
from aptandum.core.fitting.live import live_reading
from aptandum.core.fitting.plan import Line
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import SettingError, Settings
from aptandum.core.frozen import frozen
from aptandum.core.judge.findings import Finding, Findings, judge
from aptandum.core.judge.measure import Mend, Need
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.photo.facts import Facts, PhotoError
from aptandum.core.photo.inside import Inside
from aptandum.core.photo.marks import People
from aptandum.core.sizes.said import clause_said
from aptandum.core.words import listed, say

Makes = Callable[[Line], tuple[PixelStatistics, int]]
"""Makes the file of a line, to be looked at and weighed: its pixels as they are read back, and its
bytes."""

_PIXELS = frozenset({Need.PIXELS, Need.MASK})
_FRAME_BACK = ({"frame.fill": None}, {"frame.fill": None, "frame.window": None})
"""What a mend gives back to the brief as well, where it does nothing by itself."""

_ROUNDS = 6


@frozen
class Fitted:
    """What mends are tried on.

    Attributes:
        settings: of the fitting.
        people: of the photo, where they have been looked for.
        makes: makes a file to be looked at; ``None``: what only a file can tell is not tried.
        known: mends that have been tried so before, by the clause; ``None`` where there is none to
            offer.
        see_supplied: looks into the photo's own file.
    """

    facts: Facts
    brief: Brief
    settings: Settings
    people: People | None = None
    makes: Makes | None = None
    known: Mapping[str, Mend | None] = field(default_factory=dict)
    see_supplied: Callable[[], Inside] | None = None

    def findings(self, settings: Settings, made: bool) -> Findings:
        """How the fitting would stand with other settings.

        Args:
            made: make its file for it, where that can be done.

        Raises:
            PhotoError: the photo could not be read, or a finish cannot be laid on.
        """
        return self._judged(settings, made, mends=False)

    def found(self) -> Findings:
        """How the fitting stands as far as its figures go, with mends that nobody has tried.

        Raises:
            PhotoError: the photo could not be read.
        """
        return self._judged(self.settings, False, mends=True)

    def _judged(self, settings: Settings, made: bool, mends: bool) -> Findings:
        line = resolve(self.facts, self.brief, settings)
        people = self.people
        see = None if people is None else (lambda: people)
        if made and self.makes is not None:
            look, size = self.makes(line)
            reading = live_reading(
                self.facts,
                line,
                size,
                False,
                see_people=see,
                see_look=lambda: look,
                see_supplied=self.see_supplied,
            )
        else:
            reading = live_reading(
                self.facts, line, _bytes_of(line), see_people=see, see_supplied=self.see_supplied
            )
        return judge(reading, self.brief, mends=mends)


def _bytes_of(line: Line) -> int:
    """The bytes to expect; limits that exclude one another leave the lower one missed."""
    file, (wide, high) = line.file, line.frame.output
    guess = expected_bytes(wide * high, file.quality or 93)
    if file.quality is None:
        guess = max(guess, file.at_least or 0)
        guess = min(guess, file.at_most) if file.at_most is not None else guess
    return guess


def by_file(finding: Finding) -> bool:
    """Whether only the file itself can tell: its pixels, or its bytes."""
    name = finding.clause.measure
    if name is None:
        return False
    return bool(REGISTRY[name].needs & _PIXELS) or bool(REGISTRY[name].estimate)


def offered(findings: Findings, fitted: Fitted) -> Findings:
    """The findings with only those mends that do what they say: each was applied to the fitting and
    judged. One that brings its clause nearer without meeting it says so; one that does not, or that
    makes another rule miss, is not offered."""
    made = tuple(_offered(finding, findings, fitted) for finding in findings.findings)
    return replace(findings, findings=made)


def tried(findings: Findings, fitted: Fitted) -> dict[str, Mend | None]:
    """The mends of a brief of which only a file can tell how it is met, each tried on a file that is
    made for it, by the clause; empty where figures are enough."""
    if not any(by_file(f) for f in findings.findings):
        return {}
    some = [f for f in findings.findings if f.mend is not None and f.mend.changes]
    return {f.clause.id: _offered(f, findings, fitted).mend for f in some}


def _offered(finding: Finding, findings: Findings, fitted: Fitted) -> Finding:
    mend = finding.mend
    if mend is None or not mend.changes:
        return finding
    if finding.clause.id in fitted.known:
        return replace(finding, mend=fitted.known[finding.clause.id])
    if by_file(finding) and fitted.makes is None:
        return replace(finding, mend=None)
    cost: tuple[Finding, ...] = ()
    near: Mend | None = None  # one that brings it nearer is held against the others that may do
    for one in (mend, *mend.others):
        for changes in _ways(one.changes or {}, finding):
            now, broken = _try(changes, finding, findings, fitted)
            if now is not None and not broken:
                if now.verdict == "meets" or not mend.others:
                    return replace(finding, mend=_worded(one, changes, now))
                near = near or _worded(one, changes, now)
            cost = cost or broken
    if near is not None:
        return replace(finding, mend=near)
    if not cost:
        return replace(finding, mend=None)
    others = listed([f"“{clause_said(other.clause)}”" for other in cost], "and")
    said = say(
        "{mend}: not offered, for then {others} would not be met", mend=mend.words, others=others
    )
    return replace(finding, mend=Mend(said))


def _worded(mend: Mend, changes: Mapping[str, str | None], now: Finding) -> Mend:
    """A mend as it may be offered, once it is known what it comes to."""
    if now.verdict == "meets":
        return Mend(mend.words, changes)
    return Mend(
        say("{mend}, as near as it comes: {value}", mend=mend.words, value=now.measured), changes
    )


def _ways(changes: Mapping[str, str | None], finding: Finding) -> list[Mapping[str, str | None]]:
    name = finding.clause.measure or ""
    if REGISTRY[name].station != "frame" and "frame.output" not in changes:
        return [changes]
    more = [{**extra, **changes} for extra in _FRAME_BACK]
    return [changes, *more]


def _try(
    changes: Mapping[str, str | None], finding: Finding, before: Findings, fitted: Fitted
) -> tuple[Finding | None, tuple[Finding, ...]]:
    """What becomes of a clause, ``None`` where nothing does; and the clauses at whose cost."""
    try:
        settings = fitted.settings.having(changes)
        if settings == fitted.settings and before.origin != "supplied":
            return None, ()  # a supplied photo is mended by what a fitting does of itself
        after = fitted.findings(settings, any(map(by_file, before.findings)))
    except (SettingError, PhotoError):
        return None, ()
    # What is told only while it is missed is met where it is not told any more.
    met = replace(finding, verdict="meets")
    now = next((f for f in after.findings if f.clause.id == finding.clause.id), met)
    known = (
        now.verdict == "unknown" and now.value is not None
    )  # inside, but too near to a limit to tell
    if now.verdict in ("misses", "advises") or known:
        if finding.value is None or not _nearer(finding, now):
            return None, ()
    elif now.verdict != "meets":
        return None, ()
    return now, _broken(before, after, finding)


def _nearer(before: Finding, after: Finding) -> bool:
    limit, measure = before.clause.limit, REGISTRY[before.clause.measure or ""]
    if limit is None or not measure.kind.ordered:
        return False
    try:
        was, now = abs(limit.outside(before.value)), abs(limit.outside(after.value))
    except (TypeError, ValueError):
        return False
    return now < was * (1 - 1e-3)


def _broken(before: Findings, after: Findings, finding: Finding) -> tuple[Finding, ...]:
    """The clauses that were met and are missed now: rules, and where a recommendation is mended
    other recommendations too. Of what was not known before nothing is said."""
    was = {f.clause.id: f.verdict for f in before.findings}
    rank = {"misses": 2, "advises": 1}
    mine = 2 if finding.clause.strength == "must" else 1
    return tuple(
        f
        for f in after.findings
        if rank.get(f.verdict, 0) >= mine
        and was.get(f.clause.id) != "unknown"
        and rank.get(was.get(f.clause.id, "meets"), 0) < rank[f.verdict]
        and f.clause.id != finding.clause.id
    )


def _badness(findings: Findings) -> tuple[int, int]:
    counts = findings.counts()
    return counts["misses"], counts["advises"]


def solved(fitted: Fitted) -> Settings:
    """The settings with every mend that helps: all of them together where that meets no less, else
    the one that meets the most; and again, for one frame may follow from another. No step leaves
    more rules missed than before."""
    settings = fitted.settings
    for _round in range(_ROUNDS):
        now = replace(fitted, settings=settings)
        found = now.found()
        some = [f.mend.changes for f in offered(found, now).findings if f.mend and f.mend.changes]
        together: dict[str, str | None] = {}
        for changes in some:
            together |= changes
        start, best, least = _badness(found), None, None
        for changes in [together, *some]:
            try:
                other = settings.having(changes)
                bad = _badness(now.findings(other, False))
            except (SettingError, PhotoError):
                continue
            if other != settings and bad <= start and (least is None or bad < least):
                best, least = other, bad
        if best is None:
            break
        settings = best
    return settings


__all__ = ["Fitted", "offered", "solved", "tried"]
