"""The names of pictures that stand before their rules on one line: *Banner: 1024 x 500 px*, *1 group portrait, 3000 x 2000 px*."""

from __future__ import annotations

import re
from collections import Counter

from aptandum.core.rulebook.words.patterns import match, search

_I = int(re.I)

_LABEL = re.compile(
    r"(?:(?<=\n)|^|(?<=[.;] )|(?<=\n- )|(?<=\n\* )|(?<=\n• ))[ \t]*(?:(?:§ ?\d{1,3}|\(?\d{1,2}[.)]|\[\d{1,2}\]|\(?[a-z]\))[ ])?(?P<at>)"
    r"(?:(?:The|Das|Die|Der)[ ])?(?P<name>(?:(?<=The )|(?<=Das )|(?<=Die )|(?<=Der )|(?=[A-ZÄÖÜ]))[^\W\d]+(?:[ -][^\W\d]+){0,4})(?:[ ]\([^()\n:]{1,24}\))?[ \t]*(?::|[–—](?=\s)|(?<=\s)-(?=\s))[ \t]+"
)
_PROPERTY = (
    r"face|finish|surface|paper\b|oberfläche|papier|chin|crown|interpup|pupil|kinn|scheitel|siz|dimension|width|height|resolution|format|file|type|weight|max|min|colou?r|background|border|ratio|aspect"
    r"|head|eye|quality|compress|name|note|fee|deadline|pixel|print|digital|online|orientation|people|count|number"
    r"|profile|space|depth|bit|dpi|ppi|metadata|location|length|duration|frame|pose|expression|landscape|portrait|"
    r"square|jpe?g|png|gif|tiff|webp|upright|correction|please|required|recommended|preferred|important|image|photo(?:s|\b|graph)|"
    r"picture|requirement|rule|question|contact|phone(?! (?:screen|shot|image|picture|photo))|open|price|what|how|where|when|who|technical|specification|"
    r"shape|accept|allow|permi|not|never|no\b|submission|deliver|upload|send|entry|entries|total|each|address|title|caption|text|schrift|beschriftung|fonts?\b|lettering|descri|biogra|statement|beschreib|theme|ideal|best|limit|long|short|side|edge|or|and|either|then|for|the|one|crop|layout\b|"
    r"breite|höhe|größ|sections\b|mode\b|modus\b|classes\b|categories\b|panel\b|fee\b|sparten\b|klassen\b|für (?:alle|beide)|all\b|both\b|alle\b|beide\b|alles\b|auflösung|datei|bild|foto|farb|hintergrund|rand|rahmen|seiten|kopf|augen|quali|hoch|quer|"
    r"hinweis|bitte|frist|gebühr|preis|telefon|empfohlen|lange|kurze|form|maße|umfang|einreich|abgabe|anzahl|erlaubt|zulässig|verboten|zugelassen|thema|motiv|gesicht|einsend|gewicht|berichtigung|korrektur|endformat"
)
_OF_ALL = (
    r"siz|dimension|width|height|resolution|file|type|weight|max|min|number|count|how|what|which|digital|required|print"
    r"|recommended|preferred|important|accept|allow|permi|not|no\b|each|all|any|both|the|one|your|our|every|please|if"
    r"|send|upload|landscape|portrait\b|upright|square|quer|hoch|bild|foto|größ|datei|anzahl|jede|alle|bitte|ihr|das|die"
)
"""What stands before *image* or *photo* in a label that is about every picture, and names none."""
_SUBJECT = re.compile(
    r"(?:(?<=\n)|^|(?<=[.;] ))[ \t]*(?P<at>)(?:(?:The|All|Die|Alle)[ ])?(?P<name>(?:[^\W\d]+[ -]){0,2}(?i:masters?|(?<=[ -])copies|(?<=[ -])copy|thumbnails?|previews?"
    r"|derivatives?|surrogates?|icons?|banners?|covers?|avatars?|(?:miniatur|vorschau|titel)bilder|kopien|banner))(?=[ ](?:\d+|max|min|at|up to|are|is|must|should|shall|have|has|needs?|sind|ist|müssen|muss|sollen|sollten|haben)\b)"
)
"""A picture of several that a sentence begins with: *Access copies are …*, *Thumbnails must be …*."""
_CRIED = re.compile(
    r"(?:(?<=\n)|^)[ \t]*(?P<at>)(?P<name>[A-ZÄÖÜ]{4,}(?:[ -][A-ZÄÖÜ]{2,}){0,2})\.[ ](?=\S)"
)
"""A name in capitals that a line begins with: *THUMBNAILS. Every video needs …*."""
_STAGE = re.compile(
    r"(?:(?<=\n)|^|(?<=[.;] ))[ \t]*(?P<at>)(?P<name>(?:\d(?:st|nd|rd|th|\.)|First|Second|Third|Final|Erste|Zweite|Dritte)[ ](?i:stage|round|phase|runde|stufe))"
    r"(?:[ ]\([^()\n]{1,40}\))?:[ ]"
)
"""A round of several: *2nd stage (by invitation): …*."""
_HOW_MANY = re.compile(
    r"(?:(?<=\n)|^|(?<=\n- )|(?<=\n\* )|(?<=\n• ))[ \t]*(?P<at>)(?i:\d{1,2}|an?|one|two|three|eine?n?|zwei|drei)[ ](?P<name>(?!(?i:px|pixels?|mm|cm|dpi|ppi|colou?r|photos?|photographs?|pictures?|images?|files?|x|bit|of|few|maximum|minimum|fotos?|bild|bilder|dateien?|farb\w*)\b)[^\W\d]{3,}(?:[ -][^\W\d]+){0,3})(?:[ ]\([^()\n:]{1,24}\))?[ \t]*[,:][ \t]+(?=[^\n]*\d)"
)
"""A picture of several that an item of a list begins with, and how many of it: *1 group portrait, 3000 x 2000 px*."""
_SIZED_NAME = re.compile(
    r"(?:(?<=\n)|^)[ \t]*(?:[-*•–][ ])?(?P<at>)(?P<name>(?!(?i:at|from|up|exactly|least|most|max\w*|min\w*|about|approx\w*|only|always|please|use|send|upload|all|each|every|ideal\w*|best|target|your|our|the|we|it|they|genau|ab|bis|höchstens|mindestens|etwa|nur|alle|jede\w*|bitte|ideal\w*)\b)[A-ZÄÖÜ][^\W\d]+(?:[ -][^\W\d]+){0,3}?)[ ]+(?=\d{2,5} ?[x×] ?\d{2,5}\b)"
)
"""A picture of several that a line begins with, and its size right behind: *Icon 512 x 512 PNG*."""
_VERB = r"\b(?:is|are|at|of|to|be|should|must|with|size|least|most|than|exactly|measures?|from|up|have|has|need|needs|in|on|ist|sind|mit|von|im|auf|hat|haben|größe|maße|als|or|and|oder|und|by)$"
_WAY_UP = r"^(?:vertical|horizontal|landscape|portrait|upright|square|hoch|quer)"
_PICTURE = r"images?|photos?|photographs?|pictures?|files|bilder|bild|fotos?|portraits?"
_TOLD = re.compile(
    r"(?P<ppi>\d\s*[dp]pi\b)|(?P<format>\b(?:jpe?g|png|tiff?|gif|webp)\b)|(?P<bytes>\d\s*[kM]i?B\b)|(?P<bits>\d[ -]bit\b)|(?P<colours>\b(?:rgb|cmyk|gr[ea]y-?scale|graustufen)\b)",
    _I,
)
_SIZED = re.compile(
    r"\d\s*(?:px|pixels?)?\s*(?:[x×]|by)\s*\d|\d\s*(?:px|pixels?)\b|\d\s*(?:mm|cm)\b", _I
)


_ASKED = ("Q", "A", "F")
"""What stands before a question and its answer."""


def labels_in(text: str) -> dict[int, tuple[tuple[int, int], int]]:
    """Where a sentence begins with the name of a picture that a body wants (*Banner: 1024 x 500 px*), by where
    it begins: the name's place and where its rules begin. Only where two and more of them have a size of
    their own; what names a property (*Size: …*) is none."""
    every = [
        hit for hit in _LABEL.finditer(text) if not _is_title(hit) and hit["name"] not in _ASKED
    ]
    begun = {hit.start("name") for hit in every}
    for others in (_SIZED_NAME, _SUBJECT, _CRIED, _STAGE, _HOW_MANY):
        found = [hit for hit in others.finditer(text) if hit.start("name") not in begun]
        every += [hit for hit in found if not search(_VERB, hit["name"], _I)]
        begun = {hit.start("name") for hit in every}
    every.sort(key=lambda hit: hit.start())
    said = Counter(hit["name"].lower() for hit in every)
    every = [
        hit for hit in every if said[hit["name"].lower()] == 1 or hit.re is _SIZED_NAME
    ]  # what is said of each names none
    hits = [hit for hit in every if _stands_alone(hit) or not names_property(hit["name"])]
    if hits:  # beside “Line art: …”, “Photographs: …” is a picture too
        hits = [
            hit
            for hit in every
            if hit in hits or search(rf"^(?!files$|dateien$)(?:{_PICTURE})$", hit["name"], _I)
        ]
    if all(search(_WAY_UP, hit["name"], _I) for hit in hits):
        return {}  # “Vertical images: …”, “Horizontal images: …” are one picture, held either way
    ends = [*(hit.start() for hit in hits[1:]), len(text)] if hits else []
    told = [
        len({found.lastgroup for found in _TOLD.finditer(text[hit.end() : min(end, _blank(text, hit.end()))])}) > 1
        for hit, end in zip(hits, ends, strict=True)
    ]  # fmt: skip
    sized = [
        _SIZED.search(text[hit.end() : min(end, _blank(text, hit.end()))]) is not None
        for hit, end in zip(hits, ends, strict=True)
    ]
    if sum(one or other for one, other in zip(sized, told, strict=True)) < 2:
        return {}
    return {hit.start("at"): (hit.span("name"), hit.end()) for hit in hits}


def _is_title(hit: re.Match[str]) -> bool:
    """Whether a label begins the first line of a text, which tells whose rules it has and of what: *Tarrow Camera Circle:
    spring competition*."""
    before, rest = hit.string[: hit.start()], hit.string[hit.end() :].partition("\n")
    return not before.strip() and bool(rest[1]) and not search(r"\d", rest[0])


def _stands_alone(hit: re.Match[str]) -> bool:
    """Whether a label is a thing of its own: *The photograph: …*, *The signature: …*, *1 square portrait, …*."""
    if hit.re is _HOW_MANY:
        return True
    article = hit.group().strip() != hit["name"] and search(
        r"(?:The|Das|Die|Der) $", hit.string[: hit.start("name")]
    )
    return bool(article) and " " not in hit["name"]


_A_BOUND = r"^(?:smallest|largest|biggest|heaviest|lightest|kleinste\w?|größte\w?)(?: (?:allowed|permitted|possible|accepted|erlaubte\w?|zulässige\w?|mögliche\w?|sizes?|picture|image|größe))*$"


def names_property(name: str) -> bool:
    """Whether a label names a property (*File size*), and not a picture (*Preview image*, *Master files*)."""
    first, last = name.split()[0], name.split()[-1]
    if search(r"^(?:high|low|hi|lo)[ -]res", name, _I):
        return False  # “High-resolution: …”, “Low-resolution: …”
    if search(
        r"^(?:for|für) (?:the|your|our|a|an|die|das|den|ihre?n?|unsere?n?|eine?n?) ", name, _I
    ):
        return False  # “For the stage screen: …”
    if len(last) == 1 and last.isupper():
        return False  # “Format A”
    of_it = search(
        r"\b(?:resolution|sizes?|dimensions?|format|Auflösung|Größe|Maße) (?:of|der|des|von) ",
        name,
        _I,
    )
    if of_it or search(_A_BOUND, name, _I) or last == "only":
        return True  # “Smallest: …”, “Largest: …”
    if search(
        r"^(?!photo|image|file|bild|foto)\w+ (?:uploads?|prints?|versions?|editions?)$", name, _I
    ):
        return False  # “Gallery upload: …”
    if search(
        rf"{_WAY_UP}[\w-]* (?:screens?|displays?|boards?|monitors?|kiosks?|totems?|posters?|banners?|bildschirme?|plakate?)$",
        name,
        _I,
    ):
        return False  # “Portrait screens: …” beside “Departure boards: …”
    if search(rf"^(?:{_PICTURE})$", last, _I) and first != last:
        return bool(search(rf"^(?:{_OF_ALL})", first, _I))
    if search(rf"^(?:{_PICTURE})$", first, _I) and search(
        r"\s(?:of|for|in|on|online|von|für|im)\b", name, _I
    ):
        return bool(search(r"^(?:siz|dimension|format|größ|maße)", last, _I))  # “Photos in print”
    return bool(
        search(rf"^(?:{_PROPERTY})", name, _I) or search(rf"\b(?:{_PROPERTY})\w*$", last, _I)
    )


def _blank(text: str, at: int) -> int:
    found = text.find("\n\n", at)
    return found if found >= 0 else len(text)


def begins_with_property(said: str) -> bool:
    """Whether a line begins with the name of a property: *Resolution: …*."""
    hit = match(r"\s*([A-ZÄÖÜ][\w äöüß/-]{2,28}):\s", said)
    return hit is not None and names_property(hit[1])
