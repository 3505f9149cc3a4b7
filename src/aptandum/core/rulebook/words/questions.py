"""What a sentence asks of a person: nothing, where it leaves something open; all of it; or of a row of rules those that nobody
measures: *35 x 45 mm, light grey background, 240 kB* asks one thing."""

from __future__ import annotations

import re

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.lexicon import Lexicon

_I = int(re.I)

Span = tuple[int, int]

_ANY = r":\s*free\W*$|\b(?:any|egal|beliebig|irrelevant|as you like)\W*$"
"""How a sentence ends that leaves something open."""
_BODY_MAY = r"\W*(?:the |der |die |unsere )?(?:organi[sz]ers?|jury|committee|we|editors?|judges|veranstalter\w*|jury|redaktion|wir)\s+(?:may|reserves?|can|kann|können|behält|behalten)\b"
"""How a sentence begins that says what a body may do."""
_OPEN = r"(?:background|hintergrund|backdrop)(?: (?:is|ist|may be|darf))? (?:any|beliebig|egal|free|frei)\b|(?:any|beliebige\w*)\s+(?:\w+\s+)?\w+$|may (?!not\b|only\b|be subject)\w+|(?:animated )?(?:gif|png|jpe?g|webp|tiff?)s? (?:(?:will|may) )?(?:loses?|becomes?|appears?|looks?)\b"
"""How an item of a list goes that leaves something open, or tells what becomes of a format."""
_PARTS = r"\s*;\s*|,\s+|\s*\n\s*|\s*[/|]\s+(?=[^\W\d])"
"""What parts one piece of a row from the next; a comma within a number parts nothing."""
_JOINS = r"(?:please|also|and|but|plus|und|aber|sowie|auch|bitte)\s+"
_HANGS = r"(?:or|nor|for|für|which|who|whose|that|where|as|so|because|since|than|then|to|of|oder|noch|die|der|das|den|dem|wobei|weil|damit|sodass|als|welche\w*)\b"
"""How a piece begins that says nothing without the one before it."""
_DEPENDS = r"if|when|unless|until|except|(?:only|nur)(?! (?:jpe?g|png|tiff?|gif|webp|avif|bmp|s?rgb|cmyk|colou?r)\b)|otherwise|should you|instead|rather|either|both|neither|each|because|although|even|wenn|falls|sofern|außer|sonst|anstatt|statt|entweder|sowohl|weder|obwohl|je"
"""Words with which the pieces of a sentence hang together."""
_NO_RULE = (
    r"(?:(?:the|our|an?|main|cover|title|hero|profile|passport|visa|id|digital|first|product|team|das|ein)\s+)*(?:images?|pictures?|photos?|photographs?|portraits?|banners?|covers?|icons?|thumbnails?|\w*bild|\w*foto|\w*banner)"
    r"|thanks?|thank you|please|danke|bitte|vielen dank"
)
"""A piece that only names the picture, or is polite."""
_NONE = r"(?<=[,;] )(?:and |und )?(?:no|keine) \w+"
"""What denies in a piece of its own, and reaches no further: *no signatures, no files over 4 MB*."""
_THEM = r"\b(?:of (?:them|these|those|which)|davon|they|them|these|those)\b"
"""What speaks of something in a piece before it: *at most 6, 2 of them monochrome*."""
_WANTED = r"\b(?:light|white|gr[ea]y|plain|neutral|uniform|closed|open|sharp|visible|cent(?:red|ered)|looking|natural|straight|hell|weiß|grau|einfarbig|geschlossen|offen|scharf|sichtbar|frontal|gerade|natürlich)(?:e[rsnm]?)?\b"
"""What nobody denies of a portrait: behind *no glasses, JPEG* stands *light grey background* for itself."""
_BOUND = r"(?:no|not|nicht|never|nie) (?:be )?(?:more|less|fewer|mehr|weniger|unter|über|under|over|above|below|\w+er) ?(?:than|als)?\b|without compression|ohne Kompression"
"""A denial that is a bound of its own, and reaches no further: *not older than 6 months*."""


def asks_nothing(said: str, quote: str, either_colour: bool, words: Lexicon) -> bool:
    """Whether a sentence leaves something open, says what a body may do, or speaks of what stands before it.

    Args:
        quote: the sentence without its full stop.
        either_colour: it takes pictures in colour and without.
    """
    if patterns.search(_ANY, said.strip(), _I) or (
        either_colour and not patterns.search(words.unwanted, said, _I)
    ):
        return True
    if patterns.match(_OPEN, quote, _I):
        return True  # “Any background”, “may show scale”
    if patterns.match(_BODY_MAY, quote, _I) and not patterns.search(
        rf"\b(?:{words.rejects}|{words.refusal})", quote, _I
    ):
        return True  # “The organiser may ask for the raw file”
    told = rf"\W*(?:it|they|this|these|those|sie|diese|es)\s+(?:will|are|is|get|werden|wird)\b[^,]*\b(?:{words.refusal})\W*$"
    if patterns.match(told, said, _I):
        return True  # “It will be refused” speaks of what stands before
    open_ = rf"\b(?:{words.optional})\W*$"
    binds = rf"\b(?:{words.negation}|{words.must}|{words.depends})\b"
    # What is allowed asks for nothing.
    return bool(patterns.search(open_, said, _I)) and not patterns.search(binds, said, _I)


def asked_apart(said: str, held: list[Span], asks: list[Span], words: Lexicon) -> list[Span]:
    """Which pieces of a sentence are asked of a person, where it is a row of rules and the others are measured.

    Args:
        said: the sentence.
        held: where in it stands what is read as a rule.
        asks: where in it stand words of what only a person can judge.

    Returns:
        Where the pieces stand, those that follow each other as one. None where the sentence is no such row, or its pieces
        hang together; it is asked whole then.
    """
    hang = rf"{_DEPENDS}|{words.depends}|{words.rejects}|{words.refusal}|{words.unwanted}|{words.should}|{words.avoids}"
    if patterns.search(rf"\b(?:{hang})\b", patterns.sub(_NONE, "", said, _I), _I):
        return []
    pieces = [
        (a, b)
        for a, b in _pieces(said)
        if not patterns.fullmatch(_NO_RULE, said[a:b].strip(" ."), _I)
    ]
    measured = [_meets(piece, held) and not _meets(piece, asks) for piece in pieces]
    if not any(measured) or all(measured):
        return []
    rows: list[Span] = []
    for i, piece in enumerate(pieces):
        if measured[i]:
            continue
        if rows and not measured[i - 1]:
            rows[-1] = rows[-1][0], piece[1]
        else:
            rows.append(piece)
    rows = [_bare(said, row) for row in rows]
    whole = all(_meets(row, asks) and _stands_alone(said, row, words) for row in rows)
    return rows if whole else []


def as_question(piece: str) -> str:
    """A piece as a question of its own, which begins with a capital letter; names of files and spaces stay as they are."""
    first = patterns.match(r"[^\W\d_]+(?=[\s,;.-]|$)", piece)
    return piece[0].upper() + piece[1:] if first and first[0].islower() else piece


def _pieces(said: str) -> list[Span]:
    """The pieces of a row; what stands in brackets is of the one before it."""
    ends = [
        hit.span() for hit in patterns.finditer(_PARTS, said)
        if said[: hit.start()].count("(") == said[: hit.start()].count(")")
    ]  # fmt: skip
    starts = [0, *(end for _start, end in ends)]
    return [
        (a, b)
        for a, b in zip(starts, [*(start for start, _end in ends), len(said)], strict=True)
        if said[a:b].strip(" .")
    ]


def _meets(piece: Span, others: list[Span]) -> bool:
    return any(a < piece[1] and piece[0] < b for a, b in others)


def _bare(said: str, row: Span) -> Span:
    """A row without the word that joins it to what is before it, and without its full stop."""
    first = row[0]
    while (hit := patterns.match(_JOINS, said[first : row[1]], _I)) is not None:
        first += hit.end()
    return first, first + len(said[first : row[1]].rstrip(" .;,"))


def _stands_alone(said: str, row: Span, words: Lexicon) -> bool:
    """Whether a row says by itself what it says in its sentence: no denial before it reaches into it."""
    own = said[row[0] : row[1]]
    before = patterns.sub(_BOUND, "", said[: row[0]], _I)
    denied = rf"\b(?:{words.negation})\b"
    reached = patterns.search(denied, before, _I) and not (
        patterns.match(rf"\W*{denied}", own, _I) or patterns.search(_WANTED, own, _I)
    )
    hangs = patterns.match(rf"\W*{_HANGS}", own, _I) or patterns.search(_THEM, own, _I)
    return not reached and not hangs
