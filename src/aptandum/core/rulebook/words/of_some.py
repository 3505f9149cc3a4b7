"""Sentences that are about some of the pictures alone: those of a later round, a second file, the original, a cover."""

from __future__ import annotations

import re
from dataclasses import replace

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.draft import Draft
from aptandum.core.rulebook.words.parts import of_some_pictures

_I = int(re.I)

_LATER = (
    r"\W*(?:the |those |all |only |die |alle |nur )?"
    r"(?:finalists?|winners?|winning|shortlisted|prize-?\s?winn\w+|gewinner\w*|preisträger\w*|finalist\w*"
    r"|(?:if|when|once|should) (?:you|your \w+|it|they|we)(?: are| is| be)? (?:chosen|selected|shortlisted|picked|accepted)\b|wenn (?:Sie|du|ihr|Ihre? \w+)\b[^.;,]*\b(?:ausgewählt|genommen)\b"
    r"|for the (?:final|second|next|exhibition|print) (?:round|stage)\b"
    r"|(?:selected|chosen) (?:entr\w+|images?|pictures?|photos?|photographs?|works?|artists?|photographers?|applicants?)"
    r"|(?:ausgewählte|prämierte)\w* (?:Bilder|Fotos|Werke|Arbeiten|Aufnahmen|Einsend\w+|Beiträge|Teilnehm\w+))\b"
)
"""How a sentence begins that is about a later round: *Finalists will be asked for TIFFs*."""
_ORIGINAL = (
    r"\W*(?:(?:the|an?|your|all|das|die|eine?|ihr) )?(?:\w+ )?(?:originals?|raws?|negatives?)\b[^.;]*"
    r"\b(?:available|kept|retained?|proof|verif\w+|on request|on demand|vorliegen|vorgelegt|Verlangen|Anfrage|aufbewahrt|bereit\w*)\b"
)
"""How a sentence is about the file that a picture was made from: *The original must be available as uncompressed file*."""

_ASKED_LATER = r"\b(?:then|later|afterwards|subsequently|dann|später|anschließend)\b[^.;]*\b(?:asked|invited|requested|required|gebeten|aufgefordert)\b|\b(?:asked|invited|requested|gebeten|aufgefordert)\b[^.;]*\b(?:later|afterwards|subsequently|später|anschließend)\b|\b(?:fordern|erbitten|brauchen|benötigen|verlangen) wir (?:\w+ )?(?:später|anschließend|danach|dann)\b|\bwir (?:fordern|erbitten|brauchen|benötigen|verlangen) (?:\w+ )?(?:später|anschließend|danach|dann)\b|\bwe (?:will|shall|may) (?:later|then|afterwards|subsequently) (?:ask|need|require|request|want)\b|\bwe(?:'ll| will| shall) (?:ask|need|require|request|want)\b[^.;]*\b(?:later|afterwards)\b"
"""What tells of files of a later round: *artists will then be asked for TIFF files*."""

_OF_WINNERS = r"\b(?:of|from|by|for|von|aus|für|zu) (?:the |all |our |den |die |allen |dem |der |unseren )?(?:winn(?:ing|ers)|winners'|finalists?|Sieger(?:bild|foto|werk)\w*|Gewinner(?:bild|foto|werk)?\w*|prämierten)\b[^.;]*\b(?:need\w*|requir\w*|ask\w*|request\w*|benötig\w*|brauch\w*|angefordert|erbeten|gebeten)\b|\b(?:need|require|ask|request|benötigen|brauchen)\b[^.;]*\b(?:of|from|von) (?:the |all |our |den |allen |unseren )?(?:winn(?:ing|ers)|finalists|Sieger(?:bild|foto|werk)\w*|Gewinner\w*)\b"
"""What asks for something of those that win: *for the exhibition, files of the winning pictures are needed at 5000 px*."""

_FOR_ONE = (
    r"\W*(?:for|für) (?:the|our|an?|den|die|das|unsere\w*|ein\w*) (?:front |back )?"
    r"(?:jury(?: stage| round)?|judging|selection|first (?:round|stage|selection)|pre-?selection|(?:online |web )?preview|Jury\w*|Vorauswahl|Auswahl|cover|title(?: page)?|frontispiece|banner|header|poster|calendar|titel\w*|umschlag|rückseite|plakat|kalender|kopf\w+)\b"
)
"""How a sentence begins that is about the picture of one place: *For the cover we need …*."""
_SIGNATURE = r"\W*(?:(?:please|upload|scan(?:ned)?|the|your|an?|image of|die|Ihre|bitte)\s+){0,4}(?:signature|thumb ?(?:print|impression)|fingerprint|Unterschrift)\b"
"""How a sentence begins that is of what comes beside a portrait: *Upload signature: 140 x 60 pixels*."""
_COVER_ONLY = r"\b(?:for|on) the (?:front |back )?(?:cover|title(?: page)?|banner|header) only\b|\bonly (?:for|on) the (?:front |back )?(?:cover|title|banner|header)\b|\bnur (?:für|auf) (?:den|dem|die|der) (?:Titel\w*|Umschlag)\b"
_NOT_OF_ALL = r"\W*(?:the |your |das |die )?(?:first|second|third|last|erste[sn]?|zweite[sn]?|letzte[sn]?) (?:image|picture|photo|photograph|slide|bild|foto)\b|\W*(?:animated|animierte\w*)\b|[^.;]*\bfollows? the same (?:rules|requirements|specifications?|specs?|guidelines)\b|\W*scans? of (?:[^\W\d]+ )?(?:prints?|slides?|negatives?|originals|photos|photographs)\b[^.;]*\b(?:fine|ok(?:ay)?|welcome|then|accepted|possible|allowed)\b|\W*(?:A:\s*)?(?:yes|sure|certainly|ja|gern\w*)\b[^.;]{0,12}\bscan\w*\b"
"""How a sentence goes that is of moving pictures, of one that is like another but for what it says, of scans where they may
be: *animated GIFs at most 30 s*, *episode art follows the same rules but may be 16:9*, *yes, scan at 300 dpi*."""
_OTHERS_BECOME = r"\W*(?:all |any |alle )?(?:others?|anderen?|everything else|alles andere)\s+(?:\w+[\s-])?(?:\w*(?:profiles?|spaces?|profilen?|farbräumen?)\w*\s+)?(?:is|are|will be|gets?|will get|we convert|werden|wird)\s*(?:\w+\s+){0,2}(?:converted|changed|umgerechnet|umgewandelt|konvertiert|gewandelt)?\b"
"""How it goes on behind a colour space into which a body brings all others itself."""
_CONVERTED = {
    "colour_space": _OTHERS_BECOME,
    "channels": r"[^\n]{0,160}?\b(?:colou?r (?:pictures?|photos?|images?)|Farb(?:bilder|fotos|bild|foto)|farbige (?:Bilder|Fotos))\s+(?:(?:will be|are|get|werden|wandeln wir|we)\s+)+(?:\w+\s+){0,2}?(?:converted|convert|um|umgewandelt|umgerechnet|konvertiert)\b",
}
"""By measure how it goes on behind a value into which a body brings all pictures itself."""
_IF_THERE = r"\b(?:if you have (?:one|any|it|them)|if available|where available|falls vorhanden|wenn (?:Sie|du|ihr) (?:eines?|welche) (?:haben|hast|habt))\b[^.;]*$"
"""What stands before a picture that need not come: *and, if you have one, a wide shot*."""
_INSTEAD = (
    r"\W*(?:for|if|where|when|in case of|für|bei|wenn|falls)\b[^.;]*\b(?:instead|stattdessen)\b"
)
"""How a sentence goes that says what holds for some pictures in place of what was said of all."""
_SO_MANY = r"\b(?:so|thus|therefore|also|daher) (?:anything|everything|alles)\b"
"""What makes a size one that follows from something, and may be no rule: *so anything above 1500 px is ample*."""
_OF_SIZE = ("size", "width", "height", "longest_side", "shortest_side")
_OF_KIND = r"\W*(?:farb|schwarz-?wei(?:ß|ss)|strich|halbton)\w*(?:abbildung\w*|bilder|vorlagen|zeichnungen|fotos)\s*:|\W*colou?r (?:images|pictures|figures|plates|illustrations|photos)\s*:|\W*monochrom\w*(?: section| sparte)?\s*:|\W*(?:black[ &-]*(?:and|&)?[ -]*white|b ?[/&] ?w|gr[ea]y(?:scale)?|mono(?:chrome)?|line|schwarz-?\s?wei(?:ß|ss)(?:e|er)?|s ?/ ?w|graue?) (?:ads?|adverts?|advertisements?|pictures?|photos?|images?|drawings?|art|works|anzeigen?|bilder|fotos|zeichnungen|motive)\s*:"
"""What parts pictures into kinds as well: *black & white ads: greyscale*, *scans of negatives: 4000 dpi*."""
_OF_SIZES = r"\W*(?:old|older|printed|existing|alte|ältere|small|smaller|large|larger|big|bigger|short|long|tiny|kleine|kleinere|große|größere)(?:re|r)? (?:prints?|originals?|pictures?|photos?|images?|formats?|sheets?|works?|Vorlagen|Originale|Bilder|Fotos|Abzüge)\s*(?:\([^()]*\)\s*)?[:,–-]"
"""*Small prints (up to 10 x 15 cm): 600 dpi*."""
_OF_COPIES = r"\W*(?:(?:jpe?g|png|tiff?|web|reading|access|reference)[ -])?(?:copy|copies|derivatives?|surrogates?|previews?|Kopien?)\b(?:[^.;:\d]{0,24}\b(?:for|at|with|of|für|mit)\b|\s*:)"
"""*JPEG copies for sharing at 90 % quality*."""
_COPIED = r"[^.;]*\b(?:is|are|gets?|will be|wird|werden)\b[^.;]*\b(?:photo)?(?:copied|kopiert|vervielfältigt)\b"
"""*The newsletter is copied in black and white*."""
_A_SET_APART = r"[^.;]*\ba separate (?:set|file|picture|image|photo|version)\b|[^.;]*\b(?:eigene[rs]?|gesonderte[rs]?) (?:Satz|Datei|Bild)\b"
_OF_PAPER = r"\W*(?:the )?(?:paper|sheet) (?:size|format)\b|\W*(?:das )?Papierformat\b|[^.;:\d]*\b(?:Abzüge?|prints?)\b[^.;:\d]*\d{1,2} ?[x×] ?\d{1,2}(?!\d| ?(?:mm|cm|in|px|pixel|\"|″))"
"""*Abzüge im Format 13x18*: of which unit nobody says, and a picture that is handed in on paper."""
_SO_A_SQUARE = r"\W*(?:an? |any |ein |jedes )?(?:square|upright|portrait|landscape|vertical|horizontal|quadratisch\w*|hochformatig\w*|querformatig\w*) (?:image|picture|photo|entry|Bild|Foto)s?\b[^.;]*\b(?:therefore|thus|hence|consequently|daher|folglich|somit)\b"
"""*A square image must therefore be 1080 x 1080 pixels at most*: what follows for some."""
_IF_HAIR = r"\W*(?:if|where|when|wenn|falls|sofern|bei)\b[^.;:\d]*\b(?:hair|Haare?n?)\b"
_IF_ONLY = r"\W*(?:if|when|wenn|falls)\b[^.;,\d]*\b(?:only have|have only|nur)\b"
"""*If you only have 16:9 material we place it in the middle*."""
_IF_SCANNED = (
    r"\W*(?:if|when|where|wenn|falls)\b[^.;:\d]*\b(?:scan\w*|(?:ein)?gescannt\w*)\b[^.;:\d]*[:,]"
)
_OF_SCANS = r"[^.;:\d]*\b(?:negatives?|transparenc(?:y|ies)|Negative|Dias?)\b[^.;:\d]*:\s|\W*(?:for |bei |für )?(?:scans?|scanned \w+|scanning)\b[^.;:\d]*:\s"
_FIRST_ONE = r"\b(?:the |das |die )(?:first|last|second|other|erste|letzte|zweite) (?:one\b|(?!bild|foto|seite|datei)(?=quadrat|im |in |hoch|quer))"
"""*Five photos, the first one square*: what stands behind it is of that one."""
_OF_ONES = r"\W*(?:gr[ea]y|colou?r(?:ed)?|black[ -]and[ -]white|small(?:er)?|large(?:r)?|big(?:ger)?|other|graue|farbige|kleine(?:re)?|große|größere|andere) (?:ones|hingegen|dagegen)\b"
"""What parts pictures into kinds: *line art at 600 dpi; grey ones at 300*."""
_COPY = r"\b(?:thumbnails?|previews?|copy|copies|low[- ]?res\w*|(?:smaller|reduced|small) versions?|banner|header|favicon|cover (?:image|picture|photo)|titel(?:bild|foto|seite)\w*|vorschau\w*|kopien?|miniatur\w*)\b"
_AS_WELL = r"\b(?:as well|also|in addition|additionally|besides|too|plus|along with|beforehand|zusätzlich|außerdem|ebenfalls|auch|dazu)\b"
"""What makes a file a second one: *send a thumbnail as well*."""

_BY_ORIGINAL = r"\b(?:depend\w*|according) (?:on|to) the (?:original|size|format|kind|type)\b|\b(?:of|der|des) (?:the )?(?:originals?|Originale?s?|Werk(?:e|es|s)|paintings?|sculptures?|objects?)\b[^.;]*\d|\bje nach (?:Vorlage|Original|Größe|Format|Art)\b"
"""What makes each number one of some originals."""
_SCREEN_IS = r"\W*(?:the|our|my|der|unser\w*) (?:\w+ )?(?:projector|beamer)\w* (?:is|has|shows|ist|hat|zeigt)\b|[^.;]*\b(?:contact sheets?|Kontaktb[oö]gen)\b"
"""How a sentence goes that tells of a projector, or asks for a sheet of all pictures."""


def of_one_case(said: str) -> bool:
    """Whether a sentence says what holds instead for some pictures: *for podcasts upload a square one instead*."""
    return patterns.match(_INSTEAD, said, _I) is not None


def of_later(draft: Draft) -> bool:
    """Whether a draft is about pictures of a later round alone, which the rules of this one know nothing of."""
    later = (
        patterns.match(_LATER, draft.quote, _I)
        or patterns.search(_ASKED_LATER, draft.quote, _I)
        or patterns.search(_OF_WINNERS, draft.quote, _I)
    )
    return later is not None


def of_every_picture(draft: Draft, text: str) -> Draft:
    """A draft, doubted where it may be one of some pictures alone."""
    some = of_later(draft) or patterns.match(rf"{_ORIGINAL}|{_FOR_ONE}", draft.quote, _I)
    beside = "ask" not in draft.fields and all(
        patterns.search(one, draft.quote, _I) for one in (_COPY, _AS_WELL)
    )
    named = patterns.search(_COPY, draft.brief, _I)
    ones = patterns.match(_OF_ONES, text[draft.end :], _I) or patterns.match(_OF_ONES, draft.quote, _I)  # fmt: skip
    only = "ask" not in draft.fields and patterns.search(_COVER_ONLY, draft.quote, _I)
    label = "ask" not in draft.fields and (
        of_some_pictures(draft.quote) or patterns.match(_SIGNATURE, draft.quote, _I)
    )
    telling = "ask" not in draft.fields and patterns.match(_SCREEN_IS, draft.quote, _I)
    telling = telling or patterns.search(_BY_ORIGINAL, draft.quote, _I)
    converted = patterns.match(_CONVERTED.get(str(draft.fields.get("measure")), "(?!)"), text[draft.end :], _I)  # fmt: skip
    kind = (
        f"{_OF_KIND}|{_OF_SCANS}|{_OF_SIZES}|{_SO_A_SQUARE}|{_IF_SCANNED}|{_IF_HAIR}|{_IF_ONLY}|{_A_SET_APART}|{_COPIED}|{_OF_PAPER}"
        + ("" if named else f"|{_OF_COPIES}")
    )
    first = patterns.search(_FIRST_ONE, draft.quote, _I) if draft.numbers else None
    of_first = first is not None and draft.numbers[0][0] - draft.start > first.start()
    doubt = (
        converted
        or ("ask" not in draft.fields and of_first)
        or ("ask" not in draft.fields and patterns.match(kind, draft.quote, _I))
        or telling
        or _by_itself(draft, text)
        or some
        or label
        or (beside and not named)
        or ("ask" not in draft.fields and ones)
        or only
    )
    return replace(draft, certainty="doubtful") if doubt else draft


def _by_itself(draft: Draft, text: str) -> bool:
    """Whether a draft says how large one kind of picture is, or what follows from something else."""
    measure = draft.fields.get("measure")
    if measure in _OF_SIZE and patterns.search(_SO_MANY, draft.quote, _I):
        return True
    if measure is not None and draft.numbers and patterns.search(_IF_THERE, text[draft.start : draft.numbers[0][0]], _I):  # fmt: skip
        return True
    of_one = of_one_case(draft.quote) or patterns.match(_NOT_OF_ALL, draft.quote, _I) is not None
    return of_one and measure not in (None, "frames", "duration")
