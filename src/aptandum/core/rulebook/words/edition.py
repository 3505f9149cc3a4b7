"""New words of a body against its rulebook: the rulebook's next edition, with all that words do not say left
as it is."""

from __future__ import annotations

import datetime
import difflib
import tomllib
from collections.abc import Sequence
from typing import Any

from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Clause, Rulebook
from aptandum.core.frozen import frozen
from aptandum.core.rulebook import write
from aptandum.core.rulebook.limit_forms import LIMITS
from aptandum.core.rulebook.toml import check_clause
from aptandum.core.rulebook.words.as_book import ident
from aptandum.core.rulebook.words.draft import Draft, Reading

_LIKE, _LIKE_ASKED = 0.55, 0.7
"""How alike two titles and two questions are (0 to 1) to be taken for one."""


@frozen
class Edition:
    """A rulebook's text as new words have it.

    Attributes:
        text: TOML.
        untouched: titles of the briefs that the words say nothing of, which stay as they are.
    """

    text: str
    untouched: tuple[str, ...]


def next_edition(
    book: Rulebook, reading: Reading, today: datetime.date, brief: str = ""
) -> Edition:
    """The rulebook with the clauses of each brief that the words tell of exchanged for theirs. Titles, places
    where it is seen, templates and what may be done stay: words say nothing of them. A clause that is the
    same measure keeps its id.

    Args:
        reading: settled; nothing in it is doubtful.
        today: the day on which the words are read.
        brief: the id of the brief that words without a heading are of; empty: the first.
    """
    text = book.text
    told: set[str] = set()
    for heading in reading.briefs:
        drafts = [draft for draft in reading.drafts if draft.brief == heading]
        clauses: tuple[Clause, ...] = ()
        old = _brief_of(book, heading, brief, told)
        if old is None:
            text = write.add_brief(text, _new_id(book, heading), heading)
            at = len(tomllib.loads(text)["brief"]) - 1
        else:
            told.add(old.id)
            at = book.briefs.index(old)
            clauses = tuple(c for c in old.clauses if not c.whole_body)
        text = _exchanged(text, at, clauses, drafts)
    text = write.set_body(text, "edition", _after(book.body.edition))
    text = write.set_body(text, "read_on", today)
    return Edition(text, tuple(b.title for b in book.briefs if b.id not in told))


def _new_id(book: Rulebook, heading: str) -> str:
    made, n = ident(heading, "brief"), 2
    taken = {brief.id for brief in book.briefs}
    while made in taken:
        made, n = f"{ident(heading, 'brief')}-{n}", n + 1
    return made


def _brief_of(book: Rulebook, heading: str, named: str, told: set[str]) -> Brief | None:
    """The brief that a heading names; ``None``: it is a new one."""
    left = [brief for brief in book.briefs if brief.id not in told]
    if not heading:
        return next((b for b in left if b.id == named), left[0] if left else None)
    best = max(left, key=lambda brief: _alike(brief.title, heading), default=None)
    if best is not None and _alike(best.title, heading) >= _LIKE:
        return best
    alone = len(book.briefs) == 1 and not told
    return book.briefs[0] if alone else None


def _alike(one: str, other: str) -> float:
    return difflib.SequenceMatcher(None, one.lower(), other.lower()).ratio()


def _exchanged(text: str, at: int, clauses: Sequence[Clause], drafts: Sequence[Draft]) -> str:
    """A brief with other clauses. Those that are the same measure are changed where they stand, with
    their remarks; what the words no longer say goes, and what is new comes last."""
    left = list(range(len(clauses)))
    new: list[dict[str, Any]] = []
    changed: dict[int, dict[str, Any]] = {}
    for draft in drafts:
        fields = {**draft.fields, "quote": " ".join(draft.quote.split())}
        match = _match(fields, [clauses[i] for i in left])
        if match is None:
            new.append(fields)
            continue
        i = next(i for i in left if clauses[i] is match)
        left.remove(i)
        if _same(match, fields):
            kept = write.fields_of(text, at, i)
            changed[i] = {**kept, "quote": fields["quote"]}
        else:
            old = write.fields_of(text, at, i)
            changed[i] = {**fields, **{k: old[k] for k in ("id", "note") if k in old}}
    for i, fields in changed.items():
        text = write.set_clause(text, at, i, fields)
    for fields in new:
        text = write.add_clause(text, at, fields)
    for i in sorted(left, reverse=True):
        text = write.remove_clause(text, at, i)
    return text


def _match(fields: dict[str, Any], clauses: Sequence[Clause]) -> Clause | None:
    """The clause that these keys are of: the same measure, best with the same bounds."""
    if "ask" in fields:
        asks = [c for c in clauses if c.ask]
        best = max(asks, key=lambda c: _alike(c.ask or "", fields["ask"]), default=None)
        return (
            best
            if best is not None and _alike(best.ask or "", fields["ask"]) >= _LIKE_ASKED
            else None
        )
    mine = [c for c in clauses if c.measure == fields.get("measure")]

    def nearness(clause: Clause) -> int:
        form = set(clause.limit.form) if clause.limit is not None else set()
        return len(form & {key for key in LIMITS if key in fields}) + 2 * _same(clause, fields)

    return max(mine, key=nearness, default=None)


def _same(clause: Clause, fields: dict[str, Any]) -> bool:
    """Whether a clause says what the keys say, however it is written."""
    read, _problems = check_clause(fields)
    return read is not None and _meant(read) == _meant(clause)


def _meant(clause: Clause) -> tuple[Any, ...]:
    """What a clause says, without its words and whichever words of a limit it uses."""
    when = (clause.when.measure, _bounds(clause.when.limit)) if clause.when else None
    said = (clause.measure, _bounds(clause.limit), clause.ask)
    return (*said, clause.strength, frozenset(clause.applies), when)


def _bounds(limit: Limit | None) -> tuple[Any, ...]:
    if limit is None:
        return ()
    sets = frozenset(limit.one_of), frozenset(limit.none_of)
    return limit.at_least, limit.at_most, *sets, *_bounds(limit.turned)


def _after(edition: str | None) -> str:
    """The edition that comes after one: the next number, or nothing where it is no number."""
    return str(int(edition) + 1) if edition and edition.isdecimal() else ""
