"""The grammar: sentences of published rules into draft clauses.

A sentence is looked through for quantities (a number with its unit) and for words that are a rule by
themselves (a format, a colour space, *no borders*). For a quantity the words before and behind it say
which bound it is, what is measured, for which way up, and how binding it is. The same text always gives
the same clauses; nothing is learnt and nothing is fetched.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from aptandum.core.rulebook.toml import check_clause
from aptandum.core.rulebook.words import leading, patterns
from aptandum.core.rulebook.words.at_odds import put_right
from aptandum.core.rulebook.words.bounding import LOWER, UPPER
from aptandum.core.rulebook.words.by_format import depending
from aptandum.core.rulebook.words.draft import Aside, Draft, Reading
from aptandum.core.rulebook.words.english import ENGLISH
from aptandum.core.rulebook.words.german import GERMAN
from aptandum.core.rulebook.words.leading import Lead, of_heading, of_sentence
from aptandum.core.rulebook.words.lexicon import Lexicon
from aptandum.core.rulebook.words.parts import Part, of_some_pictures, parts
from aptandum.core.rulebook.words.sentence import Sentence
from aptandum.core.rulebook.words.tables import cells

_I = int(re.I)

_PLAIN = {0x2019: "'", 0x02BC: "'", 0x2010: "-", 0x2011: "-", 0x2007: " ", 0x2008: " ", 0x2009: " "}
"""Letters that stand for another, one for one: places in the text stay."""

_SHORT_FOR = (
    r"\b((?:milli|centi)met(?:re|er)s?|(?:mega)?pixels?|(?:kilo|mega)bytes?|inch(?:es)?|(?:dots|pixels) per inch)"
    r"(\s*\((?:mm|cm|px|mp|kb|mb|in|dpi|ppi)\))"
)
"""A unit that is said once more in short: *45 millimetres (mm) high*. What is blank keeps all places in the text."""

_BINARY = {
    "KB": r"1\s*kB\s*=\s*1[., ]?024",
    "MB": r"1\s*MB\s*=\s*(?:1[., ]?048[., ]?576|1[., ]?024\s*kB)",
}
"""What a page says that makes a unit of bytes one of 1024."""

LEXICONS = (ENGLISH, GERMAN)


def lexicon_of(text: str, language: str = "") -> Lexicon:
    """The language of a text: the one named, or that with the most of its common words in it."""
    for one in LEXICONS:
        if one.name == language:
            return one
    return max(LEXICONS, key=lambda one: len(re.findall(one.common, text, _I)))


def read(text: str, language: str = "") -> Reading:
    """Read a text of rules. Never raises on a text.

    Args:
        language: ``en`` or ``de``; empty: told by its words.
    """
    source = text
    text = patterns.sub(
        _SHORT_FOR, lambda hit: hit[1] + " " * len(hit[2]), text.translate(_PLAIN), _I
    )
    words = lexicon_of(text, language)
    binary = frozenset(unit for unit, said in _BINARY.items() if patterns.search(said, text, _I))
    drafts: list[Draft] = []
    briefs: list[str] = []
    brief = ""
    every = list(parts(text))
    several = sum(part.heading for part in every) > 1
    spoken = _spoken(text, every, words)
    turn = 0
    lead = Lead()
    table = tuple(cells(text, words))
    question: Part | None = None
    for part in every:
        said = text[part.start : part.end]
        if said.rstrip().endswith("?"):
            question = part
            continue  # “Can I send a PNG?” is no rule, its answer is
        if _runs_in(text, part):
            continue
        over = of_heading(said, words)
        if over is not None:
            lead = over
            continue
        if part.heading:
            lead = Lead()
            brief = _named_by(said, several)
            briefs += [brief] if brief else []
            turn += 1
            continue
        one_turn = len(spoken[turn]) == 1
        wrong = leading.complaint(said)
        cross = leading.crossed(text, part, words is GERMAN)
        lead = of_sentence(said, words) or cross or leading.before(lead, text, part)
        at = part.start, part.end
        if wrong is not None:
            lead, at = wrong[0], (part.start, part.start + wrong[1])
        found = list(
            Sentence(
                text, *at, words, binary, one_turn, part.listed, brief, lead.words, table
            ).drafts()
        )
        if question is not None:
            found = _as_asked(found, text[question.start : question.end]) or list(
                _answered(
                    Sentence(
                        text, question.start, question.end, words, binary, one_turn, brief=brief,
                        lead="" if patterns.search(_MUST, text[question.start : question.end], _I) else "No",
                    ),
                    part,
                )
            )  # fmt: skip
        question = None
        lead = leading.behind(lead, text, part)
        whole = several and patterns.match(rf"\W*(?:{words.every})", said, _I)
        found = [replace(draft, brief="" if whole else brief) for draft in found if _sound(draft)]
        if patterns.search(rf"\b(?:{words.correction})\b", said, _I):
            drafts = [d for d in drafts if _about(d) not in set(map(_about, found))]
        drafts += found
    drafts = _one_bit(_once(drafts, text))
    drafts = depending(_with_sides(_of_pictures(drafts, text, words)), text, words)
    drafts = put_right(drafts, text, words)
    drafts = [_of_every_picture(draft, text) for draft in drafts]
    briefs += [d.brief for d in drafts if d.brief and d.brief not in briefs]
    held = [name for name in briefs if any(draft.brief == name for draft in drafts)]
    drafts = [replace(draft, quote=source[draft.start : draft.end]) for draft in drafts]
    foreign = not language and _is_foreign(text, words)
    if foreign:  # which bound a number has is said in words that were not understood
        drafts = [replace(draft, certainty="doubtful") for draft in drafts]
    return Reading(tuple(drafts), _asides(source, drafts), tuple(held or [""]), foreign)


_OF_ALL = (
    r"(?:(?:general|minimum|basic)\s+)?(?:technical|file)\s+(?:requirements?|rules?|guidelines?|specifications?|specs?|standards?|notes?|information|details|formats?|types?|sizes?)"
    r"(?:\s+(?:for|of)\s+(?:all\s+)?(?:images?|photos?|photographs?|pictures?|files?|entries|submissions?))?"
    r"|technische\w* \w+|datei(?:anforderungen|vorgaben|formate?|größen?|namen?)"
    r"|(?:(?:image|picture|photo|file|the|your)\s+)?(?:files?|contents?|layout|delivery|naming|file ?names?|meta-?data|exif|iptc|retouching|editing|post-?processing|processing"
    r"|light(?:ing)?|expression|pose|posture|glasses|eye-?wear|head-?wear|head coverings?|head position|background|backdrop|colou?rs?|colou?r (?:space|profile|mode)"
    r"|(?:bit|colou?r) depth|image (?:sizes?|formats?|quality)|resolution|dimensions?|sizes?|quality|compression|sharpness|focus|copyright|credits?|rights|keywords?|captions?|formats?|framing|composition"
    r"|borders?|watermarks?|orientation|how to (?:send|submit|enter|upload)\b.*)"
    r"(?:\s+(?:and|&|/)\s+(?:naming|meta-?data|editing|light(?:ing)?|expression|pose|background|colou?rs?|resolution|dimensions?|sizes?|quality|compression"
    r"|sharpness|focus|copyright|credits?|rights|keywords?|captions?|formats?|framing|composition|borders?|watermarks?))?"
    r"|farbtiefe|bittiefe|dateiformat|bildgröße|dateien|datei|inhalt|benennung|metadaten|bearbeitung|retusche|beleuchtung|ausdruck|brille\w*|kopfbedeckung\w*|hintergrund|farben?|farbraum|farbprofil|auflösung"
    r"|abmessungen|größen?|qualität|schärfe|urheber\w*|bildrechte|rechte|formate?|bildausschnitt|rahmen|ausrichtung|motiv"
)
"""Headings of what holds for all pictures (*Technical requirements*), and of one property of theirs (*Naming*)."""


def _runs_in(text: str, part: Part) -> bool:
    """Whether a part is the heading of what stands behind it in its line: *3.2 Bit depth. 8 bits per channel …*."""
    said = text[part.start : part.end].strip()
    rest = text[part.end :].partition("\n")[0].strip()
    return bool(said.endswith(".") and rest and len(said.split()) <= _FEW_NAMES and patterns.fullmatch(_OF_ALL, said[:-1], _I))  # fmt: skip


_FEW_NAMES = 4
"""So many words has a heading at most that stands in the line of its rules."""


def _named_by(heading: str, several: bool) -> str:
    """The brief that a heading names; empty: it stands over what holds for all of several."""
    of_all = several and patterns.fullmatch(_OF_ALL, heading.strip(" :"), _I)
    return "" if of_all else heading.strip().rstrip(":")


_ELSEWHERE = (
    r"\b(?:le|la|les|une?|est|être|doit|doivent|moins|sur|pas|ne|aux?|avec|et|ou|où|dans|pour|sont|el|los|las|debe|deben|del|con"
    r"|para|como|mínim[oa]|máxim[oa]|menos|más|una|y|il|lo|gli|della|dell|devono|deve|di|essere|sono|de|het|een|moet|moeten"
    r"|zijn|niet|minstens|um|uma|não|devem|é|og|med|ikke|skal|være|och|inte|ska|vara|minst|się|nie"
    r"|musi|oraz|jest|muszą|co najmniej)\b"
)
"""Frequent words of languages that are not read here, and that are none of those that are."""
_FEW_WORDS = 2


def _is_foreign(text: str, words: Lexicon) -> bool:
    """Whether a text has more of the frequent words of other languages than of its own."""
    elsewhere = len(re.findall(_ELSEWHERE, text, _I))
    return elsewhere >= _FEW_WORDS and elsewhere > len(re.findall(words.common, text, _I))


def _spoken(text: str, every: list[Part], words: Lexicon) -> list[set[str]]:
    """Of which ways up the text speaks before its first heading and below each: where it is one alone, it is
    that of every picture."""
    spoken: list[set[str]] = [set()]
    for part in every:
        if part.heading:
            spoken.append(set())
        said = text[part.start : part.end]
        spoken[-1] |= {
            name
            for name, pattern in words.turns.items()
            if name != "square" and patterns.search(rf"\b(?:{pattern})\b", said, _I)
        }
    return spoken


_MUST, _MAY = (
    r"\b(?:must|should|has to|have to|needs? to|do I need|muss|müssen|soll\w*)\b",
    r"\b(?:may|can|could|do you (?:take|accept|want|use)|allowed|permitted|accepted|darf|dürfen|kann|können|erlaubt|nehm\w+ (?:Sie|ihr))\b",
)
_YES = r"\W*(?:(?:A|Answer|Antwort)\s*[:.]\s*)?(?:Yes|Always|Ja|Immer)\b"
_NO = r"\W*(?:(?:A|Answer|Antwort)\s*[:.]\s*)?(?:No\b|Never|Only\b|Sorry|Unfortunately|Nein|Nie|Nur\b|Leider)"


_LEAST = r"\b(?:smallest|minimum|at least|how small|least|kleinste\w*|mindest\w*|wie klein)\b"
_MOST = r"\b(?:largest|maximum|biggest|limit|how (?:large|big|heavy|long|much) (?:can|may|is)|größte\w*|höchst\w*|maximal\w*|wie (?:groß|schwer) (?:darf|kann|dürfen))\b"


def _as_asked(found: list[Draft], question: str) -> list[Draft]:
    """The drafts of an answer, with the bound that the question speaks of: *Is there a smallest size? 200 by 200.*"""
    bound = next((key for key, said in (("at_least", _LEAST), ("at_most", _MOST)) if patterns.search(said, question, _I)), "")  # fmt: skip
    made = []
    for draft in found:
        value = draft.fields.get("exactly")
        if bound and isinstance(value, str) and re.match(r"\d", value):
            fields = {bound if key == "exactly" else key: v for key, v in draft.fields.items()}
            draft = replace(draft, fields=fields) if check_clause(fields)[0] is not None else draft
        made.append(draft)
    return made


def _answered(question: Sentence, answer: Part) -> Iterator[Draft]:
    """What a question and its answer ask for, where the answer by itself says no rule: *Must it be a JPEG? Yes*, *Must I name
    the photographer? Yes, in the file.* What only may be asks for nothing.

    Args:
        question: with a lead where it asks whether something may be.
    """
    text = question.text
    asked, said = text[question.start : question.end], text[answer.start : answer.end]
    bound = (patterns.search(_MUST, asked, _I) and patterns.match(_YES, said, _I)) or (
        patterns.search(_MAY, asked, _I) and patterns.match(_NO, said, _I)
    )
    if not bound:
        return
    bare = patterns.fullmatch(rf"(?:{_YES}|{_NO})\W*", said.strip(), _I)
    held = [d for d in question.drafts() if "ask" not in d.fields] if bare else []
    yield from held
    if not held:
        quote = text[question.start : answer.end].rstrip()
        at = question.start, question.start + len(quote)
        yield Draft({"ask": " ".join(quote.split())}, quote, *at, question.brief)


def _once(drafts: list[Draft], text: str) -> list[Draft]:
    """The drafts without what a page says twice in words alone; where it says a number twice, both stand."""
    made: list[Draft] = []
    said: set[str] = set()
    for draft in drafts:
        key = f"{draft.brief} {sorted(draft.fields.items())}"
        words = not any(re.search(r"\d", text[a:b]) for a, b in draft.numbers)
        if not (words and draft.numbers and key in said):
            made.append(draft)
        said.add(key)
    return made


def _one_bit(drafts: list[Draft]) -> list[Draft]:
    """*Black and white* is grey, and beside *1 bit* nothing but the two."""
    two = {
        d.brief
        for d in drafts
        if d.fields.get("measure") == "bits" and d.fields.get("exactly") == "1"
    }
    return [
        replace(d, fields={**d.fields, "exactly": "mono"})
        if d.brief in two
        and d.fields.get("measure") == "channels"
        and d.fields.get("exactly") == "grey"
        else d
        for d in drafts
    ]


_LATER = (
    r"\W*(?:the |those |all |only |die |alle |nur )?"
    r"(?:finalists?|winners?|winning|shortlisted|prize-?\s?winn\w+|gewinner\w*|preisträger\w*|finalist\w*"
    r"|(?:selected|chosen) (?:entr\w+|images?|pictures?|photos?|photographs?|works?|artists?|photographers?|applicants?)"
    r"|(?:ausgewählte|prämierte)\w* (?:Bilder|Fotos|Werke|Arbeiten|Aufnahmen|Einsend\w+|Beiträge|Teilnehm\w+))\b"
)
"""How a sentence begins that is about a later round: *Finalists will be asked for TIFFs*."""
_ORIGINAL = (
    r"\W*(?:(?:the|an?|your|all|das|die|eine?|ihr) )?(?:\w+ )?(?:originals?|raws?|negatives?)\b[^.;]*"
    r"\b(?:available|kept|retained?|proof|verif\w+|on request|on demand|vorliegen|vorgelegt|Verlangen|Anfrage|aufbewahrt|bereit\w*)\b"
)
"""How a sentence is about the file that a picture was made from: *The original must be available as uncompressed file*."""


_FOR_ONE = (
    r"\W*(?:for|für) (?:the|our|an?|den|die|das|unsere\w*|ein\w*) (?:front |back )?"
    r"(?:cover|title(?: page)?|frontispiece|banner|header|poster|calendar|titel\w*|umschlag|rückseite|plakat|kalender|kopfzeile)\b"
)
"""How a sentence begins that is about the picture of one place: *For the cover we need …*."""
_COVER_ONLY = r"\b(?:for|on) the (?:front |back )?(?:cover|title(?: page)?|banner|header) only\b|\bonly (?:for|on) the (?:front |back )?(?:cover|title|banner|header)\b|\bnur (?:für|auf) (?:den|dem|die|der) (?:Titel\w*|Umschlag)\b"
_OF_ONES = r"\W*(?:gr[ea]y|colou?r(?:ed)?|black[ -]and[ -]white|small(?:er)?|large(?:r)?|big(?:ger)?|other|graue|farbige|kleine(?:re)?|große|größere|andere) (?:ones|hingegen|dagegen)\b"
"""What parts pictures into kinds: *line art at 600 dpi; grey ones at 300*."""
_COPY = r"\b(?:thumbnails?|previews?|copy|copies|low[- ]?res\w*|(?:smaller|reduced|small) versions?|vorschau\w*|kopien?|miniatur\w*)\b"
_AS_WELL = r"\b(?:as well|also|in addition|additionally|besides|too|plus|along with|beforehand|zusätzlich|außerdem|ebenfalls|auch|dazu)\b"
"""What makes a file a second one: *send a thumbnail as well*."""


def _of_every_picture(draft: Draft, text: str) -> Draft:
    """A draft, doubted where it may be one of some pictures alone."""
    some = patterns.match(rf"{_LATER}|{_ORIGINAL}|{_FOR_ONE}", draft.quote, _I)
    beside = "ask" not in draft.fields and all(
        patterns.search(one, draft.quote, _I) for one in (_COPY, _AS_WELL)
    )
    named = patterns.search(_COPY, draft.brief, _I)
    ones = patterns.match(_OF_ONES, text[draft.end :], _I) or patterns.match(_OF_ONES, draft.quote, _I)  # fmt: skip
    only = "ask" not in draft.fields and patterns.search(_COVER_ONLY, draft.quote, _I)
    some = some or ("ask" not in draft.fields and of_some_pictures(draft.quote))
    doubt = some or (beside and not named) or ("ask" not in draft.fields and ones) or only
    return replace(draft, certainty="doubtful") if doubt else draft


_FEW = 60
"""So short a text (in letters) is about pictures, whatever it says."""


def _of_pictures(drafts: list[Draft], text: str, words: Lexicon) -> list[Draft]:
    """The drafts without what is measured in lengths, where nothing in the text is about pictures: *the jar is
    24 cm high*."""
    if len(text.strip()) <= _FEW or any(d.fields.get("measure") == "format" for d in drafts):
        return drafts
    if patterns.search(rf"(?:{words.pictures_at_all})|\d\s*(?:px|dpi|ppi|[kM]B)\b", text, _I):
        return drafts
    return [draft for draft in drafts if not re.search(r"\d (?:mm|cm|in)\b", str(draft.fields))]


_ALONG = {"head_height": 1, "headroom": 1, "eye_line": 1, "head_offset": 0}
"""Measures of a head that may be lengths, and the side that they are a part of: 0 across, 1 up."""


def _with_sides(drafts: list[Draft]) -> list[Draft]:
    """The drafts with every length of a head that no printed side is named for as a question: how large it
    is in the picture cannot be known."""
    made = []
    for draft in drafts:
        fields = draft.fields
        axis = _ALONG.get(str(fields.get("measure")))
        lengths = re.search(r"\d (?:mm|cm|in)\b", str(fields))
        if (
            axis is not None
            and lengths
            and not any(_names_side(other, axis, draft.brief) for other in drafts)
        ):
            strength = {"strength": "should"} if "strength" in fields else {}
            draft = replace(
                draft,
                fields={"ask": " ".join(draft.quote.split()), **strength},
                certainty="doubtful",
                readings=(fields,),
            )
        made.append(draft)
    return made


def _names_side(draft: Draft, axis: int, brief: str) -> bool:
    fields = draft.fields
    named = ("size", "print_width" if axis == 0 else "print_height")
    exact = fields.get("measure") in named and "exactly" in fields
    return draft.brief == brief and exact and bool(re.search(r"(?:mm|cm|in)\b", str(fields)))


def _sound(draft: Draft) -> bool:
    """Whether a rulebook could say it; what it could not is set aside."""
    return check_clause(draft.fields)[0] is not None


def _about(draft: Draft) -> tuple[Any, ...]:
    fields = draft.fields
    bounds = tuple(sorted(key for key in fields if key in (*LOWER, *UPPER, "exactly", "between")))
    return draft.brief, fields.get("measure"), str(fields.get("applies")), bounds


# --- what is left --------------------------------------------------------------------------------


def _asides(text: str, drafts: list[Draft]) -> tuple[Aside, ...]:
    """Every number that no clause uses, with the words round it."""
    used = sorted(span for draft in drafts for span in draft.numbers)
    bare = bytearray(len(text))
    for start, end in used:
        bare[start:end] = b"\1" * (end - start)
    found: list[Aside] = []
    for hit in patterns.finditer(r"\d+", text):
        left = [at for at in range(hit.start(), hit.end()) if not bare[at]]
        if not left:
            continue
        begin = text.rfind("\n", 0, hit.start()) + 1
        end = text.find("\n", hit.end())
        line = text[begin : end if end >= 0 else len(text)].strip()
        last = found[-1] if found else None
        if last is not None and last.text == line and left[0] - last.end <= 1:
            found[-1] = replace(last, end=left[-1] + 1)  # one number with its groups
        else:
            found.append(Aside(line, left[0], left[-1] + 1))
    return tuple(found)
