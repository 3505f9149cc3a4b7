"""The grammar: sentences of published rules into draft clauses.

A sentence is looked through for quantities (a number with its unit) and for words that are a rule by
themselves (a format, a colour space, *no borders*). For a quantity the words before and behind it say
which bound it is, what is measured, for which way up, and how binding it is. The same text always gives
the same clauses; nothing is learnt and nothing is fetched.
"""

from __future__ import annotations

import re
from dataclasses import replace
from typing import Any

from aptandum.core.rulebook.toml import check_clause
from aptandum.core.rulebook.words import leading, patterns
from aptandum.core.rulebook.words.answers import (
    MUST,
    answered,
    as_asked,
    is_heading,
    only_able,
    with_question,
)
from aptandum.core.rulebook.words.at_odds import put_right
from aptandum.core.rulebook.words.bleed import with_bleed
from aptandum.core.rulebook.words.bounding import LOWER, UPPER
from aptandum.core.rulebook.words.by_format import depending, without_needless
from aptandum.core.rulebook.words.draft import Aside, Draft, Reading
from aptandum.core.rulebook.words.english import ENGLISH
from aptandum.core.rulebook.words.german import GERMAN
from aptandum.core.rulebook.words.give import with_give
from aptandum.core.rulebook.words.leading import Lead, of_heading, of_sentence
from aptandum.core.rulebook.words.lexicon import Lexicon
from aptandum.core.rulebook.words.of_format import of_subjects, with_conceded, with_each
from aptandum.core.rulebook.words.of_some import of_every_picture, of_later, of_one_case
from aptandum.core.rulebook.words.parts import Part, mark_of, parts
from aptandum.core.rulebook.words.sentence import Sentence
from aptandum.core.rulebook.words.sides import with_sides
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


class _Walk:
    """A text gone through sentence by sentence: the heading, the lead and the question under which each stands."""

    def __init__(self, text: str, words: Lexicon) -> None:
        self.text, self.words = text, words
        self.every = list(parts(text))
        self.several = sum(part.heading for part in self.every) > 1
        self.spoken = _spoken(text, self.every, words)
        self.binary = frozenset(
            unit for unit, said in _BINARY.items() if patterns.search(said, text, _I)
        )
        self.table = tuple(cells(text, words))
        self.lead = Lead()
        self.question: Part | None = None
        self.of_all = 0  # up to where in the text what is said is of all briefs
        self.wish = False
        self.brief, self.turn = "", 0
        self.briefs: list[str] = []

    def drafts(self) -> list[Draft]:
        """What its sentences say, in their order."""
        made: list[Draft] = []
        for part in self.every:
            said = self.text[part.start : part.end]
            if self._stands_over(part, said):
                continue
            found = self._of(part, said)
            corrects = patterns.search(rf"\b(?:{self.words.correction})\b", said, _I)
            if corrects and not of_one_case(said):
                made = [d for d in made if _about(d) not in set(map(_about, found))]
            made += found
        return made

    def _stands_over(self, part: Part, said: str) -> bool:
        """Whether a part only tells how what follows is meant."""
        self.turn += part.heading
        if said.rstrip().endswith("?"):
            self.question = part  # “Can I send a PNG?” is no rule, its answer is
            return True
        if _runs_in(self.text, part):
            return True
        over = of_heading(said, self.words)
        if over is not None:
            self.lead, self.wish = over, False
            return True
        degree = leading.of_degree(said)
        if degree:
            self.lead, self.wish = Lead(), degree == "should"
            return True
        if part.heading:
            self.lead, self.wish = Lead(), False
            self.brief = _named_by(said, self.several)
            self.briefs += [self.brief] if self.brief else []
        return part.heading

    def _of(self, part: Part, said: str) -> list[Draft]:
        words, at = self.words, (part.start, part.end)
        wrong = leading.complaint(said)
        cross = leading.crossed(self.text, part, words is GERMAN)
        lead = of_sentence(said, words) or cross or leading.before(self.lead, self.text, part)
        if wrong is not None:
            lead, at = wrong[0], (part.start, part.start + wrong[1])
        if self.question is not None and not lead.denies:
            lead = leading.of_why_not(self.text[self.question.start : self.question.end])
        found = list(self._sentence(*at, lead.words, part.listed).drafts())
        if self.question is not None:
            start, end = self.question.start, self.question.end
            asked = self.text[start:end]
            may = "" if patterns.search(MUST, asked, _I) else "No"
            found = only_able(as_asked(with_question(found, asked), asked), asked, said) or list(
                answered(self._sentence(start, end, may), part)
            )
            if not found and is_heading(asked):  # “Recent? Within 3 months.”
                found = list(self._sentence(start, part.end, "").drafts())
        self.question = None
        self.lead = leading.behind(lead, self.text, part)
        if self.several and patterns.match(rf"\W*(?:{words.every})", said, _I):
            end = self.text.find("\n", part.end)
            self.of_all = end if end >= 0 else len(self.text)  # and so is the rest of its line
        whole = part.start < self.of_all
        named = self._brief_named(said) if whole or self.several else ""
        if self.wish:  # below “Recommended”
            found = [replace(d, fields={**d.fields, "strength": "should"}) for d in found]
        brief = named or ("" if whole else self.brief)
        return [replace(d, brief=brief) for d in found if _sound(d)]

    def _brief_named(self, said: str) -> str:
        """The brief that a sentence begins with the name of: *Logos bitte auf transparentem Grund* beside one of a *Logo*."""
        for name in self.briefs:
            more = rf"\W*(?:the |all |die |alle |das |der )?{re.escape(name)}(?:e?s|e|en|er)?\s+(?:must|should|shall|are|is|may|need|have|has|bitte|please|müssen|sollen|sollten|sind|ist|haben)\b"
            if patterns.match(more, said, _I):
                return name
        return ""

    def _sentence(self, start: int, end: int, lead: str, listed: bool = False) -> Sentence:
        one_turn = len(self.spoken[self.turn]) == 1
        return Sentence(
            self.text, start, end, self.words, self.binary, one_turn, listed, self.brief, lead,
            self.table,
        )  # fmt: skip


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
    walk = _Walk(text, words)
    drafts = with_give(_one_bit(_once(walk.drafts(), text)), text, words)
    drafts = with_bleed(drafts, text)
    later = [replace(d, certainty="doubtful") for d in drafts if of_later(d)]
    drafts = [draft for draft in drafts if not of_later(draft)]
    drafts = with_conceded(drafts, text)
    drafts = of_subjects(with_sides(_of_pictures(drafts, text, words)), text)
    drafts = with_each(depending(drafts, text, words), text)
    drafts = [
        of_every_picture(draft, text) for draft in drafts
    ]  # what is doubted doubts nothing else
    drafts = put_right(sorted([*drafts, *later], key=lambda draft: draft.start), text, words)
    drafts = with_sides(without_needless(drafts))  # a side may hold for one format alone by now
    briefs = walk.briefs
    briefs += [d.brief for d in drafts if d.brief and d.brief not in briefs]
    held = [name for name in dict.fromkeys(briefs) if any(draft.brief == name for draft in drafts)]
    drafts = [replace(draft, quote=source[draft.start : draft.end]) for draft in drafts]
    foreign = not language and _is_foreign(text, words)
    if foreign:  # which bound a number has is said in words that were not understood
        drafts = [replace(draft, certainty="doubtful") for draft in drafts]
    return Reading(tuple(drafts), _asides(source, drafts), tuple(held or [""]), foreign)


_OF_ALL = (
    r"(?:(?:general|minimum|basic)\s+)?(?:technical|file)\s+(?:requirements?|rules?|guidelines?|specifications?|specs?|standards?|notes?|information|details|formats?|types?|sizes?)"
    r"(?:\s+(?:for|of)\s+(?:all\s+)?(?:images?|photos?|photographs?|pictures?|files?|entries|submissions?))?"
    r"|(?:for )?(?:all|every|each|both) (?:of )?(?:the )?(?:photos?|images?|pictures?|files?|formats|uploads|sizes|entries)|(?:für )?(?:alle|beide|jedes) (?:Bilder|Fotos|Dateien|Formate|Bild|Foto|Größen)|common to all|in general|allgemein\w*"
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
    if not part.listed and patterns.fullmatch(r"colou?r\.", said, _I):
        return False  # “Colour.” may be a rule
    few = said.endswith(".") and rest and len(said.split()) <= _FEW_NAMES
    begin = text.rfind("\n", 0, part.start) + 1
    counted = patterns.fullmatch(
        r"\s*(?:[A-Z]\.)?\d{1,2}(?:\.\d{1,2})*\.?\s*", text[begin : part.start]
    )
    named = counted and patterns.fullmatch(r"[A-ZÄÖÜ][^\W\d]+(?: [^\W\d]+){0,2}", said[:-1])
    return bool(few and (named or patterns.fullmatch(_OF_ALL, said[:-1], _I)))


_FEW_NAMES = 4
"""So many words has a heading at most that stands in the line of its rules."""


def _named_by(heading: str, several: bool) -> str:
    """The brief that a heading names; empty: it stands over what holds for all of several."""
    called = patterns.search(r"[!?.]\s+\w+\W*$|\bso\W*$", heading, _I)
    if called or patterns.fullmatch(_NO_NAME, heading.strip(" :!."), _I):
        return ""
    of_all = several and patterns.fullmatch(_OF_ALL, heading.strip(" :"), _I)
    if patterns.search(
        r"\b(?:must|should|shall|has to|muss|müssen|soll|sollen|sollte)(?: be)?\W*$", heading, _I
    ):
        return ""  # “Das Foto muss” begins a sentence, and names nothing
    return "" if of_all else heading.strip().rstrip(":")


_NO_NAME = r"(?:es gibt|there (?:is|are)|here (?:is|are)|we (?:have|need)|wir (?:haben|brauchen))\b.*|(?:please )?(?:note|remember|observe)(?: that| the following)?|(?:the )?rules(?: are simple)?|important|in short|(?:what|all) (?:you|we) need(?: to know)?|bitte (?:be)?achten(?: Sie)?(?: Folgendes)?|wichtig|hinweise?|das Wichtigste(?: in Kürze)?|kurz gesagt|in Kürze|(?:die )?regeln(?: sind einfach)?"
"""Headings that name nothing."""
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
    ways = "|".join(words.turns.values())
    denied = rf"\b(?:no|not|never|kein\w*|nicht|nie)\s+(?:(?:in|im)\s+)?(?:{ways})\b"
    for part in every:
        if part.heading:
            spoken.append(set())
        said = patterns.sub(
            denied, "", text[part.start : part.end], _I
        )  # “landscape, no portrait” speaks of one
        spoken[-1] |= {
            name
            for name, pattern in words.turns.items()
            if name != "square" and patterns.search(rf"\b(?:{pattern})\b", said, _I)
        }
    return spoken


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
        and not patterns.search(r"\b(?:gr[ea]y|grau)", d.quote, _I)
        and d.fields.get("measure") == "channels"
        and d.fields.get("exactly") == "grey"
        else d
        for d in drafts
    ]


_FEW = 60
"""So short a text (in letters) is about pictures, whatever it says."""


def _of_pictures(drafts: list[Draft], text: str, words: Lexicon) -> list[Draft]:
    """The drafts without what is measured in lengths, where nothing in the text is about pictures: *the jar is
    24 cm high*."""
    of_one = ("format", "head_height", "head_width", "headroom", "eye_line")
    if len(text.strip()) <= _FEW or any(d.fields.get("measure") in of_one for d in drafts):
        return drafts
    if patterns.search(rf"(?:{words.pictures_at_all})|\d\s*(?:px|dpi|ppi|[kM]B)\b", text, _I):
        return drafts
    return [draft for draft in drafts if not re.search(r"\d (?:mm|cm|in)\b", str(draft.fields))]


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
            mark = mark_of(text[begin : end if end >= 0 else len(text)])
            found.append(Aside(line, left[0], left[-1] + 1, left[-1] < begin + mark))
    return tuple(found)
