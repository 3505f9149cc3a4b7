"""What is denied twice, and so asked for: *files that are not JPEG are refused*; and what need not be at all."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Literal

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.lexicon import Lexicon

_I = int(re.I)

Verdict = Literal["taken", "refused", "open"]

_AS = r"(?:\s+(?:in|an?|as|the|saved|sent|of|for|with|als|im|ein\w*|format|files?))*"
"""Small words between what excepts something and its name."""
_BUT = (
    rf"\b(?:other than|except(?:ing)?(?: for)?|apart from|aside from|besides|(?:any|every|no)(?:thing)? \w* ?but|(?:any|every|no)thing but"
    rf"|außer|bis auf|abgesehen von|(?:andere[nrs]?|nichts(?: anderes)?)(?: \w+)? als){_AS}\s*$"
)
"""What stands before the one thing that something is not said of."""
_WHICH_ARE_NOT = (
    rf"(?:\b(?:that|which|who|if|unless|when|die|welche|das|wenn|falls|sofern)\b[^.;,]*(?:\bnot|n't|\bkein\w*|\bnicht){_AS}\s*$"
    rf"|\bnon-$)"
)
_LACKING = r"\b(?:without|lacking|missing|ohne)\s+(?:(?:an?|the|any|its|ein\w*)\s+)?$"
_NOTHING = r"\b(?:nothing|no \w+|nichts|keine?\w*)\b[^.;,]*$"


def of_others(said: str, first: int, last: int, words: Lexicon) -> Verdict | None:
    """What a sentence says of all but the things that it names; ``None``: it speaks of these themselves.

    Args:
        first, last: where their names begin and end.

    Returns:
        ``taken`` where all others are refused, ``refused`` where all others are taken, ``open`` where
        neither is said.
    """
    before, behind = said[:first], said[last:]
    other = patterns.search(_BUT, before, _I) or patterns.search(_WHICH_ARE_NOT, before, _I)
    if other is None:
        return None
    lead = said[: other.start()]
    refuses = (
        patterns.search(_NOTHING, said[: other.start() + 8], _I)
        or patterns.search(rf"\b(?:{words.rejects}|{words.avoids}|{words.negation})\b", lead, _I)
        or patterns.search(rf"^[^.;]{{0,60}}\b(?:{words.refusal})\b", behind, _I)
        or patterns.search(rf"^[^.;]{{0,40}}\b(?:{words.denies})\b", behind, _I)
    )
    if refuses:
        return "taken"
    takes = rf"\b(?:{words.taken}|{words.optional}|{words.also}|take|accept|annehmen|nehmen)\b"
    all_others = r"\b(?:any|all|every|alle|jedes|alles)\b"
    if patterns.search(takes, behind, _I) or patterns.search(all_others, said[: other.end()], _I):
        return "refused"
    return "open"


def is_asked_for(said: str, first: int, last: int, words: Lexicon) -> bool:
    """Whether what lacks something is refused: *photos without an embedded profile are rejected*."""
    before, behind = said[:first], said[last:]
    lacks = patterns.search(_LACKING, before, _I) or patterns.search(_WHICH_ARE_NOT, before, _I)
    return bool(
        lacks
        and (
            patterns.search(rf"^[^.;,]{{0,40}},?[^.;,]{{0,40}}\b(?:{words.refusal})\b", behind, _I)
            or patterns.search(rf"\b(?:{words.rejects})\b", said[: lacks.start()], _I)
        )
    )


_OWN = (
    r"(?:text|letter(?:ing|s)|logos?|watermarks?|signatures?|captions?|titles|glasses|sunglasses|hats?|caps?|shadows?|props|filters?|people|faces"
    r"|Text|Schrift|Wasserzeichen|Signatur|Brillen?|Sonnenbrillen?|Kopfbedeckung|Hut|Mütze|Schatten|Requisiten|Filter|Personen|Gesichter|Titel)"
)
"""What may be in a picture and is denied by itself: no file is one."""


def blank_own(said: str, words: Lexicon) -> str:
    """A sentence with the denials blank that reach no further than what they name, every place where it was: *no borders CMYK*
    refuses no inks, *no text under 2 MB* no bytes; in *no text or GIF files* the denial goes on."""
    own = rf"\b(?:no|kein\w*|ohne|without)\s+(?:\w+\s+)?(?:{words.line}|{_OWN})\b(?!\s*(?:,|\b(?:or|and|nor|oder|und|noch)\b))"
    return patterns.sub(own, lambda hit: "#" * len(hit.group()), said, _I)


_CLAUSE = r"[,;.:(]|\s[–—-]\s|\b(?:but|however|although|aber|jedoch|sondern)\b"


def needless(said: str, words: Lexicon) -> Iterator[tuple[int, int]]:
    """The parts of a sentence that say what need not be: *it does not have to be 300 dpi*."""
    for hit in patterns.finditer(rf"\b(?:{words.needless})\b", said, _I):
        rest = patterns.search(_CLAUSE, said[hit.end() :], _I)
        end = hit.end() + (rest.start() if rest is not None else len(said))
        parted = [mark.end() for mark in patterns.finditer(_CLAUSE, said[: hit.start()], _I)]
        yield (parted[-1] if parted else 0), end


_LINKS = r"will|would|may|might|can|could|are|is|be|get|gets|then|they|it|also|always|automatically|not|werden|wird|sind|ist|können|kann|dann|sie|auch|automatisch|nicht"


def refused(behind: str, words: Lexicon) -> bool:
    """Whether it is said behind a number that what it tells of is refused. *Under 5 MB, late entries are rejected* says it
    of something else: what stands behind a comma has a subject of its own.

    Args:
        behind: the rest of its sentence.
    """
    for hit in patterns.finditer(rf"\b(?:{words.refusal})\b", behind, _I):
        _before_it, comma, own = behind[: hit.start()].rpartition(",")
        if not comma or patterns.fullmatch(rf"\W*(?:(?:{_LINKS})\W+)*", own, _I):
            return True
        if patterns.match(r"\W*(?:sowie|as well as|wie auch)\b", own, _I):
            return True
    return False


def refused_in_a_row(behind: str, words: Lexicon) -> bool:
    """The same for a thing in a row of them: *borders, watermarks or text will be rejected*.

    Args:
        behind: the rest of its sentence.
    """
    near = behind[:_NEAR_BY]
    hit = patterns.search(rf"\b(?:{words.refusal})\b", near, _I)
    if hit is None or refused(near, words):
        return hit is not None
    one = r"(?:[^\W\d]+\s+){1,3}"
    row = rf"\W*(?:{one.replace('1,3', '0,3')}(?:or|and|oder|und)\s+)?{one}"
    own = near[: hit.start()].rpartition(",")[2]
    begins = patterns.match(r"\s*,", near) or patterns.search(r"\b(?:or|and|oder|und)\b", own, _I)
    return bool(begins and patterns.fullmatch(row, own, _I))


_NEAR_BY = 72
"""So many letters behind a thing are looked through for what refuses it."""
