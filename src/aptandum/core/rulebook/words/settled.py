"""What a person says of a reading: answers to what is doubtful, clauses thrown out, said in other words, and
made by hand of words that became none."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import field, replace

from aptandum.core.frozen import frozen
from aptandum.core.rulebook.words import read
from aptandum.core.rulebook.words.draft import Draft, Fields, Key, Reading
from aptandum.core.rulebook.words.sides import with_sides


@frozen
class Decisions:
    """What was said so far.

    Attributes:
        answers: for a draft the keys of the clause that it is; ``None``: it is thrown out.
        made: clauses of words that a person chose.
    """

    answers: Mapping[Key, Fields | None] = field(default_factory=dict)
    made: tuple[Draft, ...] = ()

    def answer(self, key: Key, fields: Fields | None) -> Decisions:
        """With one more answer."""
        return replace(self, answers={**self.answers, key: fields})

    def ask_again(self, key: Key) -> Decisions:
        """As if nothing had been said of a draft."""
        return replace(self, answers={k: v for k, v in self.answers.items() if k != key})


def with_made(reading: Reading, text: str, decisions: Decisions) -> Reading:
    """A reading with the clauses that were made by hand, each where its words stand now; one whose words
    are no more in the text is gone. A number that they use is no aside any longer."""
    drafts, asides = list(reading.drafts), reading.asides
    for made in decisions.made:
        start = text.find(made.quote)
        if start < 0 or any(draft.key == made.key for draft in drafts):
            continue
        moved = start - made.start
        end = start + len(made.quote)
        numbers = tuple((a + moved, b + moved) for a, b in made.numbers)
        drafts.append(replace(made, start=start, end=end, numbers=numbers))
        asides = tuple(a for a in asides if a.end <= start or a.start >= end)
    drafts.sort(key=lambda draft: draft.start)
    briefs = list(reading.briefs)
    for draft in drafts:
        if draft.brief and draft.brief not in briefs:
            briefs.append(draft.brief)
    held = tuple(b for b in briefs if any(d.brief == b for d in drafts)) or reading.briefs
    return replace(reading, drafts=tuple(drafts), asides=asides, briefs=held)


def settled(reading: Reading, text: str, decisions: Decisions) -> Reading:
    """A reading with what was said of it. A doubtful draft of which nothing was said is a question in the
    body's words, so that no rule holds that nobody meant."""
    kept = []
    for draft in with_made(reading, text, decisions).drafts:
        if draft.key in decisions.answers:
            fields = decisions.answers[draft.key]
            if fields is None:
                continue
            draft = replace(draft, fields=fields, certainty="sure", readings=())
        elif draft.certainty != "sure":
            asked = {"ask": " ".join(draft.quote.split())}
            draft = replace(draft, fields=asked, certainty="sure", readings=())
        kept.append(draft)
    # The printed side that a head's length is a part of may have been thrown out, or be a question itself.
    kept = [replace(d, certainty="sure", readings=()) for d in with_sides(kept)]
    held = tuple(b for b in reading.briefs if any(d.brief == b for d in kept))
    return replace(reading, drafts=tuple(kept), briefs=held or ("",))


def by_hand(text: str, start: int, end: int, brief: str = "") -> Draft | None:
    """A clause of words that a person chose: what the grammar reads in them by themselves, else a question
    in these words; ``None`` where there are none.

    Args:
        start, end: the chosen words, in characters.
        brief: the heading that they stand under.
    """
    while start < end and text[start].isspace():
        start += 1
    while end > start and text[end - 1].isspace():
        end -= 1
    while 0 < start < end and text[start - 1].isalnum() and text[start].isalnum():
        start -= 1  # a word that was half chosen is meant whole
    while start < end < len(text) and text[end - 1].isalnum() and text[end].isalnum():
        end += 1
    quote = text[start:end]
    if not quote:
        return None
    found = in_other_words(quote)
    fields = found if found is not None else {"ask": " ".join(quote.split())}
    numbers = tuple((start + hit.start(), start + hit.end()) for hit in re.finditer(r"\d+", quote))
    return Draft(fields, quote, start, end, brief, numbers=numbers or ((start, end),))


def in_other_words(said: str) -> Fields | None:
    """The one clause that a person's own words say; ``None`` where they say none."""
    drafts = read(said).drafts
    return drafts[0].fields if drafts else None


def lost_numbers(fields: Fields, quote: str) -> list[str]:
    """The numbers of a clause that its words do not have, as where a person says them in other words; a
    nought may be a *no*."""
    grouped = re.sub(r"(?<=\d)[ ., \u00a0\u202f](?=\d{3}\b)", "", quote)
    held = {"0", *re.findall(r"\d+", quote), *re.findall(r"\d+", grouped)}
    values = [value for key, value in fields.items() if key not in ("measure", "ask", "when")]
    return [number for number in re.findall(r"\d+", str(values)) if number not in held]
