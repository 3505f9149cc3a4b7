"""What becomes of pictures of a kind, told and not ruled: *landscape shots end up sideways*, *interlaced files stay white*.

Nobody says in such a sentence that the kind is wanted, nor that it is refused: both are asked.
"""

from __future__ import annotations

import re

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.lexicon import Lexicon

_I = int(re.I)

_BEGINS = r"(?:[-*•–]\s+)?(?:\d+[.)]\s+)?(?:(?:all|any|an?|the|your|most|some|and|but|alle|die|das|ein)\s+)?(?:(?:animated|transparent|interlaced|progressive|colou?r|grey|gray|animierte|transparente|progressive|large|big|very)\s+)*"
"""How a sentence begins that has a kind of pictures for its subject."""
_NOUNS = r"(?:files?|pictures?|images?|photos?|photographs?|shots?|graphics?|ones|stills|versions|Dateien|Bilder|Fotos|Aufnahmen|Grafiken)"
_THEM = rf"(?P<many>s|-?(?:files|Dateien|Bilder|Fotos|Aufnahmen))?(?:\s+(?:format|mode|orientation))?(?P<they>\s+{_NOUNS})?(?P<also>(?:\s+(?:also|often|usually|always|sometimes|just|simply|only ever|auch|oft|meist|immer|einfach))?)"
_IS = r"(?:are|is|gets?|will(?: be)?|would(?: be)?|might(?: be)?|wird|werden|sind|ist)\s+(?:(?:also|often|usually|always|sometimes|just|simply|then|auch|oft|meist|immer|einfach|dann|von|vom|by|auf|am|im)\s+)*"
_NONE = (
    rf"{_NOUNS}|format|mode|orientation|layout|straight|direct|directly|against|behind|into|onto|throughout|instead|alone|next|out of|only|please|in|on|at|as|by|for|of|from|to|with|without|and|or|und|oder|mit|ohne|im|am|als|aus|bei|für|von|nur|bitte|saved|sent|that|which|who|whose|die|das|welche"
    r"|work\w*|do|does|go|suit\w*|come with|can|may|could|must|should|shall|need\w*|ha[sv]e?|had|use\w*|follow\w*|match\w*|measur\w*|fit|fits|count\w*|cost\w*|contain\w*|includ\w*|carr\w+|bear\w*|require\w*|remain\w* (?:our|the)"
    r"|können|kann|dürfen|darf|müssen|muss|sollen|sollten?|haben|hat|gehen|geht|brauchen|genügen|genügt|reichen|reicht|the|our|an?|your|der|den|ein\w*|unser\w*|your"
    r"|wide|high|tall|long|large|max|min|maximum|minimum|up|less|more|under|over|above|below|between|exactly|quality|profile|colou?r|version|size|each|per|not|no|never|nicht|kein\w*|nie"
)
"""Words behind a kind that tell nothing of what becomes of it."""
_PARTICIPLE = r"\w+(?:ed|pt|iert)\b"
"""*JPEG files saved in sRGB*."""


def fate_told(said: str, first: int, last: int, words: Lexicon) -> bool:
    """Whether a sentence tells what becomes of a kind of pictures in words of which nobody knows whether they are good or
    bad.

    Args:
        first, last: where in the sentence the kind is named.
    """
    if not patterns.fullmatch(rf"\W*{_BEGINS}", said[:first], _I):
        return False
    told = re.split(r"[.;]|, (?:and|so|but|und|also|aber)\b", said[last:])[0]
    hit = patterns.match(rf"{_THEM}\s+(?P<is>(?:{_IS})?)(?P<verb>[^\W\d]+)\b", told, _I)
    if hit is None or patterns.search(r"\d|:|\b(?:by us|by our|we|wir|von uns)\b", told, _I):
        return False
    if not (hit["many"] or hit["they"] or hit["is"]) and not patterns.search(
        r"(?:s|t|en)$", hit["verb"]
    ):
        return False  # “JPEG straight from the camera”
    if not hit["is"] and patterns.match(
        rf"(?:{_NONE})\b|{_PARTICIPLE}", told[hit.start("verb") :], _I
    ):
        return False
    if hit["is"] and patterns.match(
        r"(?:the|our|what|an?|your|in|of|to|for|at|under|above|below|der|die|das|unser\w*|was|ein\w*)\b|(?:made|taken|saved|shot|used|printed|shown|displayed|projected|published|judged|handled|processed|gezeigt|gedruckt|verwendet|veröffentlicht)\b",
        told[hit.start("verb") :],
        _I,
    ):
        return False
    known = (
        f"{words.must}|{words.should}|{words.optional}|{words.taken}|{words.also}|{words.denies}|{words.refusal}"
        f"|{words.rejects}|{words.negation}|{words.unwanted}|{words.needless}|ok(?:ay)?|fine|good|better|best|standard|usual|default|normal|welcome|gut"
    )
    return patterns.search(rf"\b(?:{known})\b", told, _I) is None
