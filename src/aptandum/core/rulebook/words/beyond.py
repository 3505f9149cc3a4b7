"""What is told of pictures beyond a number: that they are refused, that they had better not come, or nothing that is understood."""

from __future__ import annotations

import re

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.denials import blank_own, refused
from aptandum.core.rulebook.words.lexicon import Lexicon

_I = int(re.I)
_THEN_WE = r"\s*(?:px|pixels?|Pixel|dpi|ppi)?\W*(?:\([^()]*\)\s*)?,?\s*(?:we|it|they)"
_NOT_THEN = (
    r"\s*(?:px|Pixeln?|dpi|ppi)?\s*(?:gar |leider |überhaupt )?nicht(?: an| gern| leiden)?\W*"
)
"""What refuses what a verb far before it names: *unser Drucker mag Bilder unter 200 dpi nicht*."""
_DARF_NICHT = r"\s*(?:px|Pixeln?|dpi|ppi)?\s*(?:hoch |breit |lang )?(?:darf|dürfen|soll|sollen|sollte|sollten|kann|können)\s[^.;,\d]{0,48}\bnicht\b"
"""*Größer als 2 MB darf die Datei nicht sein*."""
_THEN_NOT = r"\s*(?:px|Pixeln?|dpi|ppi)?\W*(?:\([^()]*\)\s*)?,?\s*(?:drucken|nehmen|zeigen|verwenden|veröffentlichen) wir[^.;]{0,20}\bnicht\b|[^.;,]{0,24}\b(?:lehnt|lehnen|weist|weisen)\b[^.;,]{0,30}\b(?:ab|zurück)\b"
"""What refuses behind a number what lies below or above it: *below 1200 px we will not print*."""
_NO_VERBS = (
    r"please|only|each|per|and|or|with|in|on|at|by|for|to|of|from|as|wide|high|tall|long|across|total|both|either|along|when|if|than"
    r"|und|oder|mit|im|auf|pro|je|breit|hoch|bitte|nur|an|bei|für|als|wenn|lang|groß|aus|pixels?|px|saved|sent|that|which|die"
)
"""Words behind a number that tell nothing of the pictures: *photos under 2 MB in JPEG*."""
_MEASURED = r"^\s*(?:px |pixels? )?(?:(?:wide|high|tall|long|across|breit|hoch|lang)\b\s*|(?:on|in|at|along) (?:the |its |any |either )?(?:\w+ )?(?:side|edge|dimension|width|height)\b\s*)"
"""What stands between a number and its verb: *images under 800 px wide go straight to the bin*."""
_BODY_DOES = r"^\W*(?:we|our \w+|wir|unser \w+)\s+(?:(?:will|then|also|automatically)\s+)*(?:down-?size|(?:re)?scale|resize|shrink|reduce|crop|compress|convert|trim|verkleiner|beschneid|komprimier)\w*\b"
"""What a body does itself with pictures beyond a bound."""
_ANYTHING = r"\b(?:anything|everything|alles)(?: (?:that(?:'s| is)|which is|was))?\s*$"
_WILL_DO = r"will do|works?|do(?:es)? the job|(?:is|are) (?:fine|ok(?:ay)?|good|enough|sufficient)|genügt|reicht|ist (?:gut|ok)"
"""What makes what stands before it enough: *anything above 300 x 384 pixels will do*."""
_SOON = 40
"""So many letters at most stand between a number and what is told of pictures beyond it."""
_HATED = (
    r"\b(?:chokes? on|gives? up on|throws? (?:out|away)|kicks? out|turns? away|cuts? off|swallows?|spits? out|hates?|dislikes?|struggles? with|stumbles? over|strips? off|drops|blocks?|bounces?|deletes?|discards?|skips?"
    r"|(?:cannot|can't|won't|will not|doesn't|does not|do not|don't) (?:handle|cope with|like|open|read|show|display|play|stand|digest|import|eat|love|want)"
    r"|verschluckt|verwirft|verwerfen|löscht|löschen|blockiert|blockieren|hasst|hassen|streikt bei|scheitert an|verschmäht)\s+(?:[^\W\d]+\s+){0,2}[^\W\d]+\s*$"
)
"""What does something to pictures that is as good as refusing them: *the server swallows attachments over 8 MB*."""
_TAKES = (
    r"\b(?:accept|take|taking|allow|permit|support|want|need|requir|prefer|ask|us(?:e|ing)\b|uses|love|like|prints?\b|shows?\b|look|recommend|suggest|expect|process|handle|open|read|displays?\b|work|welcome|favou?r|receiv|be\b|is\b|are\b|has\b|have\b|will\b|can\b|may\b|cater|call"
    r"|send|upload|hand|submit|bring|supply|deliver|choose|save|make|keep|exhibit|publish|projects?\b|consist|compris|cover|includ|contain|enter|offer|with\b|for\b|of\b"
    r"|nimmt|nehmen|akzeptier|verlang|brauch|benötig|druck|zeig|möcht|woll|will|bevorzug|empfehl|erlaub|erwart|verwend|unterstütz|verarbeit|wünsch|lieb|sind|ist\b|hat\b|haben|muss|müssen|soll|dürf|darf|kann|könn|werden|wird|von\b|für\b|mit\b|schick|send|lad|liefer|reich)"
)
"""What is done with pictures that are wanted, or says nothing of it."""
_DOES = (
    r"^\W*(?:(?:our|the|my|this|that|its|your|an?|most|some|many)\s+(?:[^\W\d]+[\s-]+){1,4}?|(?:we|I|they|it)\s+)[^\W\d]+(?:\s+(?:on|at|up|out|off|to|about|over|from|by))?\s+(?:[^\W\d]+\s+){0,2}?(?:[^\W\d]+s|anything|everything)\s*$"
    r"|^\W*(?:(?:unser\w*|der|die|das|mein\w*)\s+(?:[^\W\d]+\s+){1,2}?|(?:wir|ich|es|sie)\s+)[^\W\d]+(?:t|en|e|ag)\s+(?:(?:bei|an|auf|über)\s+)?(?:[^\W\d]+\s+){0,2}?[^\W\d]+\s*$"
)
"""Somebody who does something to pictures that a comparison stands behind: *our system giggles at files over 8 MB*."""


_NOBODY = r"^\W*(?:nobody|no one|niemand|keiner)\b"
_SHRINK = r"\b(?:shrink|reduce|resize|scale down|downsize|compress|split|verkleiner\w*|komprimier\w*)\s+(?:[^\W\d]+\s+){0,3}(?:anything|everything|alles|pictures|images|photos|files|Bilder|Fotos|Dateien)(?:,? (?:that|which|die|was) (?:is|are|ist|sind)?)?\s*$"
"""*Please shrink anything wider than 2000 px*."""
_PRINTS_BADLY = r"\s*(?!(?:is|has|was|pixels|bytes|dots|sides|colou?rs|letters|characters|frames|seconds|images|pictures|photos|files)\b)[^\W\d]{3,}s\s+(?:\w+ly|poor|bad|well|fast|slow|no|not|too|the|an?|up|out|off|down)\b"
"""*Less than 150 dpi prints badly*."""
_AT_THAT = r"\W*(?:with|mit|at|bei)\s+"
_SOMEBODY = r"^\W*(?:we|I|wir|ich)\b|^\W*(?:our|the|my|this|that|an?)\s+(?:[^\W\d]+[\s-]+){1,3}?[^\W\d]+s\s+(?:[^\W\d]+\s+){0,2}?[^\W\d]+s\s*$"


_NOT_OLDER = r"\b(?:not|no|nicht) (?:be )?(?:older|älter) (?:than|als)\b"
"""What denies an age, and nothing of bytes behind it: *not older than 6 months under 2.5 MB*."""


def are_refused(said: str, clause: str, right: str, behind: str, words: Lexicon) -> bool:
    """Whether pictures that a comparison is of are refused.

    Args:
        said: what stands before the comparison in its sentence.
        clause: that of it which the comparison is part of.
        right: what stands between its number and the next.
        behind: the rest of the sentence.
    """
    clause = blank_own(patterns.sub(_NOT_OLDER, "", clause, _I), words)
    return bool(
        patterns.search(rf"\b(?:{words.rejects})", clause, _I)
        or patterns.search(rf"\b(?:{words.negation})\b", clause[-24:], _I)
        or patterns.search(rf"\b(?:{words.refusal})\b", re.split(r"[,;]", said)[-1], _I)
        or refused(behind, words)
        or patterns.match(rf"{_THEN_WE}\s+(?:{words.rejects})|{_THEN_NOT}|{_DARF_NICHT}", right, _I)
        or (patterns.search(_DOES, clause, _I) and patterns.fullmatch(_NOT_THEN, behind, _I))
        or patterns.search(_NOBODY, clause, _I)
        or (patterns.search(_SHRINK, clause, _I) and not patterns.search(_BODY_DOES, clause, _I))
        or _refused_too(said, right, words)
        or _denied_before(said, words)
        or patterns.search(_HATED, clause, _I)  # “The server chokes on pictures over 8 MB”
    )


def _denied_before(said: str, words: Lexicon) -> bool:
    """Whether a list of what must not be goes on: *must not be protected, or bigger than 5 MB*."""
    first, comma, last = said.rpartition(",")
    goes_on = patterns.match(
        r"\s*(?:or|nor|oder|noch)\s+(?:(?:be|have|is|are)\s+)?(?:\w+\s+){0,2}$", last, _I
    )
    denied = rf"\b(?:must|may|can|should|shall|darf|dürfen|soll\w*)\s*(?:not|nicht|n't)\b|\b(?:mustn't|can't|shouldn't|cannot)\b|\b(?:{words.negation})\b"
    return bool(comma and goes_on and patterns.search(denied, re.split(r"[.;]", first)[-1], _I))


def in_a_row(said: str, name: str, of_bytes: bool, words: Lexicon) -> str:
    """What a row of rules makes of pictures that are only named with a comparison: ``refused`` in *no signatures, files over
    4 MB*, ``unclear`` where they may be wanted as well, else nothing.

    Args:
        said: what stands before the comparison in its sentence.
        name: the bound that it would be.
    """
    first, comma, last = said.rpartition(",")
    last = re.split(r"[:;]", last)[-1]
    only_named = patterns.fullmatch(
        rf"\W*(?:\w+\s+)?(?P<or>(?:or|oder)\s+)?{_PICTURES}\W*", last, _I
    )
    if only_named is None:
        return ""
    denied = comma and patterns.match(rf"\W*(?:[^:,]*:\s*)?(?:{words.forbids})\b", first, _I)
    if denied and only_named["or"]:
        return "refused"  # “no borders, text or images smaller than 800 px”
    if of_bytes and name == "below":
        return ""
    if of_bytes:
        return "refused" if denied else "unclear"
    return "unclear" if denied else ""


_PICTURES = r"(?:files?|pictures?|images?|photos?|photographs?|shots|uploads?|attachments?|Dateien|Bilder|Fotos|Aufnahmen|Anhänge)"


def _refused_too(said: str, right: str, words: Lexicon) -> bool:
    """Whether a refusal before it is said to hold for this as well: *over 1 MB are refused, under 100 KB too*."""
    again = r"\W*(?:as well|too|likewise|also|ebenso|ebenfalls|auch)\b"
    so = r"\b(?:so (?:are|is|do|does|will|must)|(?:neither|nor) (?:are|is|do|does|will|may|can)|as are|as is|ebenso)\b[^.;]*$"
    before = patterns.search(so, said, _I)
    refused = said[: before.start()] if before is not None else said
    return bool(
        (before is not None or patterns.match(again, right, _I))
        and patterns.search(rf"\b(?:{words.refusal})\b", refused, _I)
    )


def told_of_them(clause: str, right: str, words: Lexicon) -> str:
    """What is told of the pictures that a comparison is of: ``avoided`` where they had better not come, or it is told what
    becomes of them (*avoid files over 3 MB*, *images under 600 px will look blurred*), ``free`` where they may be, else
    nothing. What may be is told of those that are taken: *files under 2 MB can be sent*.

    Args:
        clause: what stands before it.
        right: what stands behind its number.
    """
    if patterns.search(rf"\b(?:{words.avoids})\b", clause, _I):
        return "avoided"
    if patterns.search(_BODY_DOES, clause, _I):
        return "avoided"  # “We downsize anything wider than 2048 px.”
    if patterns.search(_ANYTHING, clause, _I) and patterns.match(
        rf"[^.;]{{0,{_SOON}}}\b(?:{words.optional}|{words.taken}|{_WILL_DO})\b", right, _I
    ):
        return ""  # “Anything above 300 x 384 pixels is fine”
    of_none = (
        patterns.fullmatch(r"\W*(?:with|mit|at|bei)?\s*", re.split(r"[;:]", clause)[-1], _I)
        is not None
    )  # “Bigger than 3000 px will be resized.”
    binds = patterns.search(rf"\b(?:{words.must}|{words.should}|{words.negation})\b", clause, _I)
    somebody = patterns.search(_SOMEBODY, clause, _I)
    if not (of_none or (of_pictures(clause, words) and not somebody)) or binds:
        does = patterns.search(_DOES, clause, _I)
        unknown = does and not binds and not patterns.search(_TAKES, clause, _I)
        return "unclear" if unknown else ""  # “Our system giggles at files over 8 MB”
    told = re.split(r"[.;:]", right)[0]
    becomes = patterns.search(rf"^[^,]{{0,{_SOON}}}?\b(?:{words.becomes})\b", told, _I)
    if becomes is None:
        told = patterns.sub(_MEASURED, "", told, _I)
        verb = patterns.match(rf"\s*(?!(?:{_NO_VERBS})\b)[^\W\d]+\s+\w", told, _I)
        at_that = patterns.fullmatch(
            _AT_THAT, clause, _I
        )  # “Bei mehr als 4 MB streikt das Formular”
        does = patterns.match(_PRINTS_BADLY, told, _I)
        return "unclear" if does or (verb and (at_that or not of_none)) else ""
    behind = told[becomes.end() :]
    well = patterns.search(rf"\b(?:{words.optional}|{words.should}|{words.taken})\b", behind, _I)
    if well is None or patterns.search(
        rf"\b(?:{words.denies})\s+(?:\w+\s+)?$", behind[: well.start()], _I
    ):
        return "avoided"
    return "" if patterns.search(rf"\b(?:{words.should})\b", behind, _I) else "free"


def of_pictures(clause: str, words: Lexicon) -> bool:
    """Whether words before a comparison name pictures, and say nothing else."""
    pictures = rf"\w*(?:{words.pictures_at_all})\w*|{words.any_of_them}"
    named = rf"^\W*(?:\w+\s+){{0,3}}?(?!\w*(?:printers?|scanners?|screens?|drucker)\b)(?:{pictures})(?:,?\s+\w+){{0,4}}\s*$"
    return bool(patterns.search(named, clause, _I))
