"""Parts of the picture that have to stay free: *put nothing in the bottom 150 px*, *leave the corner (60 x 60 mm) empty*.

No number of them is one of the picture's own; whether the part is free only a person can say.
"""

from __future__ import annotations

import re

from aptandum.core.rulebook.words import patterns

_I = int(re.I)

_SIDE = r"(?:top|bottom|upper|lower|lowest|uppermost|topmost|bottommost|left|right|left-hand|right-hand|outer|outermost|central|middle|ober\w*|unter(?:en|e|es|em|er|ste\w*)|link\w*|recht\w*|äußer\w*|mittler\w*)"
_PLACE = r"(?:corners?|strips?|stripes?|bands?|bars?|zones?|areas?|regions?|spaces?|thirds?|quarters?|halves|half|fifth|tenth|rows|columns|lines|part|edges?|margins?|Ecken?|Streifen|Balken|Zonen?|Bereiche?s?|Flächen?|Drittel|Viertel|Hälfte|Zeilen|Spalten|Teil|Rand|Ränder)"
_NUMBER = r"\d[\d.,]*\s*(?:%|per ?cent|Prozent|px|pixels?|Pixeln?|mm|cm|in(?:ch(?:es)?)?|dots|Punkte|rows|columns|lines|Zeilen|Spalten)"
_SIZE = r"\d[\d.,]*\s*(?:px|mm|cm)?\s*(?:x|×|by|mal)\s*\d[\d.,]*\s*(?:px|pixels?|Pixel|mm|cm)?"
_PART = rf"(?:\b{_SIDE}\s+(?:{_SIDE}[ -])?(?:{_PLACE}|{_NUMBER})|\b{_PLACE}(?:,? (?:at the |in the |on the )?{_SIDE}){{0,2}}\s*\(?(?:of|von|mit)?\s*(?:about |etwa |ca\. )?(?:{_SIZE}|{_NUMBER}))(?:\s*\(?(?:{_SIZE}|{_NUMBER}))?"
"""What names a part: *the top right corner*, *the lowest 32 rows*, *a strip of 80 px*."""
_NEAR_EDGE = rf"(?:within|closer than|nearer than|inside|näher als|innerhalb von) (?:about |etwa )?{_NUMBER} (?:of|to|from|an|am|vom|von) (?:an?|the|any|every|each|its|their|ein\w*|de[mnr]|jede[mnr]) (?:\w+ )?(?:edges?|borders?|margins?|sides?|corners?|Rand|Rändern|Kanten?|Ecken?)"
"""*Nothing that matters within 60 pixels of an edge*."""
_MARGIN = rf"^\W*(?:margin|border|safe (?:area|zone)|Rand|Ränder|Schutzrand|Schutzzone|Sicherheitsabstand)(?:\s*:|\s+(?:of|von))?\s+(?:at least |min\.? |mind(?:\.|estens) )?{_NUMBER}[^.;]*?\b(?:free|clear|empty|frei|leer)\b"
"""*Margin: 50 px clear of text*."""
_HIDES = rf"\b(?:cuts?|trims?|hides?|covers?|crops?|swallows?|loses|schneidet|verdeckt|beschneidet|kappt)(?: off| away)? (?:about |up to |the (?:outer )?|etwa |bis zu )?{_NUMBER}(?: \w+)? (?:at|on|off|from|along|of|am|an|vom|von) (?:an?|the|any|all|every|each|its|both|ein\w*|de[mnr]|alle\w*|jede[mnr]) (?:\w+ )?(?:edges?|borders?|margins?|sides?|corners?|Rand|Ränder\w*|Kanten?|Seiten?|Ecken?)\b"
"""*The frame cuts 20 px on each edge*: what shows a picture leaves so much of it unseen."""
_ALL_ROUND = rf"\b(?:leave|keep|lass\w*|halte\w*)\s+(?:at least |mindestens )?{_NUMBER}\s+(?:\w+\s+)?(?:free|clear|empty|blank|frei|leer)\b(?=[^.;]*\b(?:sides?|edges?|round|around|corners?|borders?|top|bottom|left|right|Seiten?|Kanten?|Rändern?|ringsum|rundum|unten|oben|links|rechts)\b)|\b(?:unten|oben|links|rechts|ringsum|rundum)\s+(?:mindestens )?{_NUMBER}\s+(?:frei|leer)(?:\s|-)?(?:lassen|halten)\b|\b(?:leave|keep)\s+{_NUMBER}\s+(?:on|at|along) (?:all|every|each|both) (?:sides?|edges?) (?:free|clear|empty|blank)\b"
"""*Leave 10 px clear on all sides*."""
_AWAY = rf"{_NUMBER}\s+(?:away |clear |in |inwards? |distant )?(?:from|of|off) (?:an?|the|any|every|each|all|its|both) (?:\w+ )?(?:edges?|borders?|margins?|sides?|corners?|trim)\b|{_NUMBER}\s+(?:Abstand )?(?:vom|von (?:jede[mr]|allen|den|der)|zum|zu (?:jede[mr]|allen|den)) (?:\w+ )?(?:Rand|Rändern|Bildrand|Kanten?|Ecken?|Schnittkante)\b"
"""*Keep what matters 60 px away from each edge*; *20 px Abstand zum Rand*."""
_FREE = r"(?:free|clear|empty|blank|frei|leer)"
_STAYS = r"\b(?:leave|keep|put|place|position|left|kept|blank|stays?|remains?|must be|should be|lass\w*|lasst|bleib\w*|halt\w*|frei(?:lassen|halten|gehalten|gelassen|bleiben))\b"
_KEPT = rf"{_STAYS}|\b(?:Abstand|entfernt|must|should|muss|müssen|soll\w*)\b"
_NOTHING = r"\b(?:put|place|have|set|with)\s+(?:nothing|no (?:\w+ )?(?:text|content|details?|logos?|faces?|lettering|elements?))\b|\bnothing (?:important |essential |(?:that|which|of what) (?:matters|counts|is (?:important|needed|to be read)) )?(?:in|on|within|at|inside|should|must|may|closer|nearer)\b|\bno (?:\w+ )?(?:text|content|details?|logos?|faces?|lettering|elements?|type) (?:within|closer|nearer|in|inside)\b|\b(?:nichts|keine?n? (?:\w+ )?(?:Texte?|Inhalte?|Logos?|Schrift|Gesichter))\b"
_COLOUR = r"\b(?:white|black|weiß|schwarz|plain)\b"
_PERSON = r"\b(?:head|hair|crown|chin|eyes?|face above|Kopf|Haar\w*|Scheitel|Kinn|Augen)\b"


def is_kept_free(said: str) -> bool:
    """Whether a sentence asks that a part of the picture be left free, or of one colour."""
    if patterns.search(f"{_MARGIN}|{_HIDES}|{_ALL_ROUND}", said, _I):
        return True
    if patterns.search(_PERSON, said, _I):
        return False
    if patterns.search(_AWAY, said, _I) and patterns.search(_KEPT, said, _I):
        return True
    if patterns.search(f"{_PART}|{_NEAR_EDGE}", said, _I) is None:
        return False
    stays = patterns.search(_STAYS, said, _I)
    free = patterns.search(rf"\b(?:{_FREE}|clear of)\b|\bfrei(?:lassen|halten|gehalten|gelassen|bleiben)\b|{_COLOUR}", said, _I)  # fmt: skip
    return bool((stays and free) or patterns.search(_NOTHING, said, _I))


def is_of_part(said: str, at: int) -> bool:
    """Whether a number of a sentence is of a part that stays free, and not of the picture that stands in it as well: *1920 x
    1080 px, leave the bottom 150 px free*.

    Args:
        at: where in the sentence it begins.
    """
    return is_kept_free(said) and any(
        hit.start() <= at < hit.end()
        for hit in patterns.finditer(f"{_PART}|{_NEAR_EDGE}|{_MARGIN}|{_HIDES}|{_AWAY}", said, _I)
    )


def free_in(said: str) -> str:
    """What of a sentence asks for it, between its commas, with what it says of lettering right before; empty: nothing by itself."""
    pieces = re.split(r"[,;]\s", said)
    at = next((i for i, one in enumerate(pieces) if is_kept_free(one)), None)
    if at is None:
        return ""
    first = at - 1 if at and patterns.match(_NO_LETTERS, pieces[at - 1], _I) else at
    return ", ".join(pieces[first : at + 1]).strip()


_NO_LETTERS = r"\W*(?:no|keine?)\s+(?:text|type|lettering|letters|writing|Schrift|Texte?)\b"
"""*No lettering below 32 px, what matters 40 px from the edge*."""
