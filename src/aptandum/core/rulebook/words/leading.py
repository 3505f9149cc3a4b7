"""What stands over a list and says that its items are not taken: *Don't:*, *The following will be rejected:*."""

from __future__ import annotations

import re

from aptandum.core.frozen import frozen
from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.lexicon import Lexicon

_I = int(re.I)


@frozen
class Lead:
    """What was said over what follows.

    Attributes:
        words: how it was said; empty: nothing was.
        until: how far it reaches: ``heading``, or ``stop``, the end of its sentence.
    """

    words: str = ""
    until: str = "heading"

    @property
    def denies(self) -> bool:
        """Whether what follows is not taken."""
        return bool(self.words)


def of_heading(said: str, words: Lexicon) -> Lead | None:
    """What a heading, or a line with a colon, says of what stands below it; ``None``: that it is taken or not is not what
    it says."""
    bare = re.sub(r"^[\W_]+|[\W_]+$", "", said)
    if patterns.fullmatch(rf"(?:{words.donts})", bare, _I):
        return Lead(bare)
    if patterns.fullmatch(rf"(?:{words.dos})", bare, _I):
        return Lead()
    return None


def of_sentence(said: str, words: Lexicon) -> Lead | None:
    """What a sentence says before its colon of all that stands behind it."""
    head, colon, _rest = said.partition(":")
    lead = of_heading(head, words) if colon else None
    if lead is None or not lead.denies:
        return None
    return Lead(lead.words, "stop")


def ends(said: str, lead: Lead) -> bool:
    """Whether what a sentence said before its colon ends here."""
    return lead.until == "stop" and not said.rstrip().endswith((";", ","))
