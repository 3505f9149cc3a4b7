"""What is read out of a text: draft clauses, each with the words that it comes from."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field
from typing import Any, Literal

from aptandum.core.frozen import frozen

Certainty = Literal["sure", "doubtful"]
Fields = Mapping[str, Any]
"""A clause's keys as a rulebook has them."""
Key = tuple[str, str, int, str]
"""What tells a draft from the others of a text, and stays when other sentences are changed: its brief, its
words, where in them its number stands, and what it is about."""


@frozen
class Draft:
    """One clause as it was understood.

    Attributes:
        fields: the clause's keys as a rulebook has them, without its quote.
        quote: the words that it comes from, as they stand in the text.
        start, end: where they stand, in characters.
        brief: the heading under which they stand; empty where there is none.
        certainty: ``doubtful`` where it can be read in another way too.
        readings: those other ways, each as keys of a clause.
        numbers: where each number that it uses stands.
    """

    fields: Mapping[str, Any]
    quote: str
    start: int
    end: int
    brief: str = ""
    certainty: Certainty = "sure"
    readings: tuple[Mapping[str, Any], ...] = ()
    numbers: tuple[tuple[int, int], ...] = field(default=(), repr=False)

    @property
    def key(self) -> Key:
        """See :data:`Key`."""
        at = self.numbers[0][0] - self.start if self.numbers else 0
        fields = self.fields
        about = f"{fields.get('measure')} {fields.get('applies')} {sorted(fields)}"
        return self.brief, " ".join(self.quote.split()), at, about


@frozen
class Aside:
    """A number of the text that is no rule.

    Attributes:
        text: the line that it stands in.
        start, end: where the number stands, in characters.
        counts: it only counts the line that it begins, as *2.* and *B.2* do, and says nothing.
    """

    text: str
    start: int
    end: int
    counts: bool = False


@frozen
class Reading:
    """All that was read out of a text.

    Attributes:
        drafts: in the order of the text.
        asides: what is no rule.
        briefs: the headings that begin a brief, in their order; at least one, which may be empty.
        foreign: the words seem to be of a language that is not read: every draft is doubtful.
    """

    drafts: tuple[Draft, ...]
    asides: tuple[Aside, ...]
    briefs: tuple[str, ...]
    foreign: bool = False
