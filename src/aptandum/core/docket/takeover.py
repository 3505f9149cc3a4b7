"""Newer editions: which rulebooks of a docket have one, what it breaks, and taking it over."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache

from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.docket.model import Docket, Fitting
from aptandum.core.frozen import frozen
from aptandum.core.judge.findings import Finding, judge
from aptandum.core.photo.facts import Facts, PhotoError
from aptandum.core.rulebook.editions import Difference, compare
from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.rulebook.shelf import Shelf
from aptandum.core.rulebook.toml import parse_rulebook
from aptandum.core.words import say, sentences


@lru_cache(maxsize=64)
def kept_book(text: str) -> Rulebook | None:
    """The rulebook that a docket keeps as text; ``None`` where the text is not sound."""
    try:
        return parse_rulebook(text)
    except RulebookError:
        return None


def find(docket: Docket, shelf: Shelf, name: str) -> tuple[Rulebook, Brief]:
    """A brief (``BOOK/BRIEF``) by the rulebook that the docket was made with, else by the shelf's.

    Raises:
        BriefNotFound: neither has it.
    """
    body_id, _, brief_id = name.partition("/")
    text = docket.rulebooks.get(body_id)
    kept = kept_book(text) if text else None
    brief = kept.brief(brief_id) if kept is not None else None
    if kept is None or brief is None:
        return shelf.find(name)
    # The pictures of a body's rulebook lie beside the one on the shelf.
    book = next((b for b in shelf.rulebooks if b.body.id == body_id), None)
    folder = next((b.folder for b in book.briefs), "") if book is not None else ""
    return kept, replace(brief, folder=folder)


@frozen
class Offer:
    """A rulebook on the shelf that differs from the one a docket was made with."""

    old: Rulebook
    new: Rulebook

    @property
    def differences(self) -> tuple[Difference, ...]:
        return compare(self.old, self.new)

    @property
    def newer(self) -> bool:
        """Whether the shelf's was read later, as far as both tell."""
        old, new = self.old.body.read_on, self.new.body.read_on
        return old is None or new is None or new >= old


def offers(docket: Docket, shelf: Shelf) -> tuple[Offer, ...]:
    """The rulebooks of a docket of which the shelf has another edition."""
    found = []
    for body_id, text in docket.rulebooks.items():
        new = shelf.book(body_id)
        if new is not None and new.text == text:
            continue
        old = kept_book(text)
        if old is not None and new is not None and old != new:
            found.append(Offer(old, new))
    return tuple(found)


@frozen
class Broken:
    """A fitting that a newer edition breaks: clauses met until now, and not any more.

    Attributes:
        findings: the misses under the newer edition.
        gone: the brief itself is not in it.
    """

    fitting: Fitting
    title: str
    findings: tuple[Finding, ...] = ()
    gone: bool = False

    def says(self) -> str:
        """What was taken over, and what was not and why, in one sentence."""
        if self.gone:
            return say("The brief is no longer there.")
        said = []
        for finding in self.findings:
            said.append(finding.says)
            if finding.mend is not None:
                said.append(say("{mend}.", mend=finding.mend.words))
        return sentences(said)


def _misses(facts: Facts, brief: Brief, fitting: Fitting) -> dict[str, Finding]:
    from aptandum.core.fitting import live, resolve

    line = resolve.resolve(facts, brief, fitting.settings)
    # Bytes are found anew for every limit: only the finished file can miss them.
    findings = judge(live.live_reading(facts, line), brief, fitting.confirmed()).findings
    return {f.clause.id: f for f in findings if f.verdict == "misses"}


def broken(
    docket: Docket, offer: Offer, facts_of: Callable[[str], Facts | None]
) -> tuple[Broken, ...]:
    """The fittings that taking over an edition would break, each with what it would miss.

    ``facts_of`` gives a photo's facts by its id, or ``None`` where it cannot be used.
    """
    found = []
    for fitting in docket.fittings:
        body_id, _, brief_id = fitting.brief.partition("/")
        if body_id != offer.new.body.id:
            continue
        before, after = offer.old.brief(brief_id), offer.new.brief(brief_id)
        title = (after or before).title if (after or before) else brief_id  # type: ignore[union-attr]
        if after is None:
            found.append(Broken(fitting, title, gone=True))
            continue
        facts = facts_of(fitting.photo)
        if facts is None or before is None or before == after:
            continue
        try:
            old, new = _misses(facts, before, fitting), _misses(facts, after, fitting)
        except PhotoError:
            continue
        fresh = tuple(finding for key, finding in new.items() if key not in old)
        if fresh:
            found.append(Broken(fitting, title, fresh))
    return tuple(found)


def take_over(docket: Docket, book: Rulebook) -> Docket:
    """The docket with another edition of a rulebook; fittings keep their settings."""
    return docket.model_copy(update={"rulebooks": {**docket.rulebooks, book.body.id: book.text}})
