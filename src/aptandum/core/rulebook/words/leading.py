"""What stands over a list and says that its items are not taken: *Don't:*, *The following will be rejected:*."""

from __future__ import annotations

import re
from dataclasses import replace

from aptandum.core.frozen import frozen
from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.lexicon import Lexicon
from aptandum.core.rulebook.words.parts import Part

_I = int(re.I)


@frozen
class Lead:
    """What was said over what follows.

    Attributes:
        words: how it was said; empty: nothing was.
        until: how far it reaches: ``heading``, the next one or the end of its list, or ``stop``, the end of its sentence.
        listed: items of a list were below it.
    """

    words: str = ""
    until: str = "heading"
    listed: bool = False

    @property
    def denies(self) -> bool:
        """Whether what follows is not taken."""
        return bool(self.words)


_TURNED_DOWN = (
    r"(?:[\w'’]+ ){1,5}?(?:rejected|refused|turned (?:down|away)|declined|not (?:be )?accepted|sent back|returned|bounced|abgelehnt|zurückgewiesen|zurückgeschickt|nicht angenommen)"
    r"(?: \w+){0,2}?,? (?:because|if|when|for (?:one of )?(?:these|the following) reasons|weil|wenn|falls|aus (?:einem )?(?:folgenden|diesen) Gründe?n?)"
)
"""*Your picture may have been turned down because*: what stands below is what was wrong with it."""


def of_heading(said: str, words: Lexicon) -> Lead | None:
    """What a heading, or a line with a colon, says of what stands below it; ``None``: that it is taken or not is not what
    it says."""
    bare = re.sub(r"^[\W_]+|[\W_]+$", "", said)
    if patterns.fullmatch(rf"(?:{words.donts})|{_TURNED_DOWN}", bare, _I):
        return Lead(bare)
    if patterns.fullmatch(rf"(?:{words.dos})", bare, _I):
        return Lead()
    return None


_WISHED = r"(?:what we |we )?(?:strongly )?(?:recommend(?:ed|ations?|s)?|suggest(?:ed|ions)?|ideal(?:ly)?|preferred|preferably|nice to have|empfohlen\w*|empfehlung(?:en)?|wünschenswert|ideal(?:erweise)?)(?: (?:but not required|settings|values|aber nicht nötig))?"
_DEMANDED = r"(?:what we )?(?:requir(?:ed?|ements?)|mandatory|compulsory|must(?: have)?s?|essential|pflicht(?:angaben)?|erforderlich|zwingend|verbindlich)"


def of_degree(said: str) -> str:
    """How binding what stands below a heading is that says nothing else: ``should`` below *Recommended*, ``must`` below
    *Required*; empty: it says something else."""
    bare = re.sub(r"^[\W_]+|[\W_]+$", "", said)
    for degree, words in (("should", _WISHED), ("must", _DEMANDED)):
        if patterns.fullmatch(words, bare, _I):
            return degree
    return ""


def of_sentence(said: str, words: Lexicon) -> Lead | None:
    """What a sentence says before its colon of all that stands behind it."""
    head, colon, _rest = said.partition(":")
    lead = of_heading(head, words) if colon else None
    if lead is None or not lead.denies:
        return None
    return Lead(lead.words, "stop")


_PICTURE = r"(?:\w+ )?(?:pictures?|photos?|photographs?|images?|files?|portraits?|uploads?|bild|foto|datei)"
_REMEDY = (
    r"\s*(?:[–—:]|\s-\s|\.\s)\s*(?:please |bitte )?(?=(?:put|convert|send|choose|use|save|compress|remove|crop|resize|upload|try|reduce|shrink|export"
    r"|take|make|scan|turn|rotate|pick|ask|wandel|sende|lad|wähl|nimm|verkleiner|speicher|entfern)\w*\b)"
)
_WRONG = (
    rf"\W*(?:your (?:{_PICTURE}) (?:was|were|had)|(?:ihre?|deine?) (?:{_PICTURE}) (?:war|hatte))\b"
)
_WRONG_NOW = rf"\W*(?:(?:your|the|this) (?:{_PICTURE}) (?:is|has)|(?:ihre?|deine?|das|die) (?:{_PICTURE}) (?:ist|hat))\b(?!\s+(?:your|our|what|how|where|the|ihr\w*|unser\w*)\b)(?=[^.;:]*?{_REMEDY})"


def complaint(said: str) -> tuple[Lead, int] | None:
    """What a sentence says that tells what was wrong with a picture, *Your picture was smaller than 1200 px – send a larger
    one*, and up to where it says so; ``None``: it is none of these."""
    hit = patterns.match(f"{_WRONG}|{_WRONG_NOW}", said, _I)
    if hit is None:
        return None
    german = patterns.match(r"\W*(?:ihre?|deine?|das|die)\b", said, _I)
    remedy = patterns.search(_REMEDY, said[hit.end() :], _I)
    end = hit.end() + remedy.start() if remedy is not None else len(said)
    return Lead("Abgelehnt" if german else "Rejected", "stop"), end


_WHY_NOT = r"\W*(?:Q:\s*|Frage:\s*)?(?:why|warum|weshalb|wieso)\b[^?]*\b(?:reject\w*|refus\w*|declin\w*|not (?:accepted|taken)|sent back|abgelehnt|abgewiesen|nicht (?:angenommen|akzeptiert))\b"


def of_why_not(question: str) -> Lead:
    """What a question says of its answer that asks what was wrong: *Why was my photo rejected? Because it is smaller than …*."""
    if not patterns.match(_WHY_NOT, question, _I):
        return Lead()
    german = patterns.match(r"\W*(?:Frage:\s*)?(?:warum|weshalb|wieso)\b", question, _I)
    return Lead("Abgelehnt" if german else "Rejected", "stop")


_DENIED = r"\W*(?:no|not|never|without|don't|do not|keine?\w*|nicht|ohne|niemals)\b"
_CROSSES = "✗✘❌✖⛔🚫"


def crossed(text: str, part: Part, german: bool) -> Lead | None:
    """What a cross before an item of a list says of it: that it is not taken."""
    before = text[: part.start].rstrip(" \t\ufe0f")
    if patterns.match(_DENIED, text[part.start : part.end], _I):
        return None  # “✗ no hats” is denied once, and not twice
    return Lead("Nicht" if german else "Not", "stop") if before[-1:] in tuple(_CROSSES) else None


def behind(lead: Lead, text: str, part: Part) -> Lead:
    """What still holds behind a part: a sentence ends what it said before its colon, words that are no item what was said
    over a list."""
    if not lead.denies:
        return lead
    said = text[part.start : part.end].rstrip()
    if lead.until == "stop":
        return lead if said.endswith((";", ",")) else Lead()
    return replace(lead, listed=lead.listed or part.listed)


def before(lead: Lead, text: str, part: Part) -> Lead:
    """What holds of a part: a paragraph of its own behind a list is not below its heading any more."""
    own = not part.listed and text[: part.start].rstrip(" \t").endswith("\n\n")
    return Lead() if lead.listed and lead.until == "heading" and own else lead
