"""What a sentence says of one format alone: *If it's a PNG, leave out the alpha channel*; *max. 2 MB bei TIFF*; *No PNGs with
transparency*.

Such a sentence asks for no PNG, nor does it refuse one: what it says holds where the file is one.
"""

from __future__ import annotations

import re
from dataclasses import replace

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.by_format import FORMATS, LIMITED, named, under_condition, when
from aptandum.core.rulebook.words.draft import Draft
from aptandum.core.rulebook.words.lexicon import Lexicon

_I = int(re.I)
_KINDS = "|".join(FORMATS.values())
_ONE = rf"(?:an? |the |eine?[mnrs]? |die |der |das )?(?:{_KINDS})(?:s|['’]s)?(?:[- ](?:files?|images?|pictures?|photos?|uploads?|format|Dateien?|Bild(?:er|ern)?|Format))?\b(?!\s*\+)"
_NAMED = rf"{_ONE}(?:(?:\s*,\s*|\s*/\s*|\s+(?:or|oder|and|und)\s+){_ONE})*"
_FEW = r"(?:(?!(?:not|no|never|cannot|can|possible|able|available|neither|nicht|kein\w*|nie|kann|können|möglich\w*|prefer\w*|lieber)\b|\w+n['’]t\b)[^\W\d][\w'’]*[ ]){0,4}?"
"""Up to four words between, none of which turns what is said round (*if you cannot send TIFF*) or wishes for it."""
_IS = r"(?: (?:is|are|gets?|was|were|ist|sind|wird|werden)(?: (?:sent|used|uploaded|supplied|chosen|submitted|saved|delivered|provided|geschickt|verwendet|hochgeladen|eingereicht|geliefert|genutzt))?| (?:geschickt|verwendet|hochgeladen|eingereicht|geliefert|genutzt)(?: wird| werden)?| (?:schick\w+|send\w+|verwend\w+|nutz\w+|hochl\w+|lad\w+|abgib\w*|einreich\w*|liefer\w*|wähl\w*|nimm\w*)(?: hoch)?)?"
_OPENS = (
    rf"\W*(?:(?:if|when|whenever|where|wherever|should|using|wenn|falls|sofern|wer)\s+{_FEW}"
    rf"|(?:in (?:the )?case of|as for|for|with|im Fall(?:e)?(?: von| eines| einer)?|bei|für|beim?)\s+)(?P<of>{_NAMED}){_IS}"
)
_PARTED = r"\s*[,:]\s*(?=\S)"
"""What may stand between the format and its rule."""
_FEW_FORMATS = 2
"""*If you send a JPEG, PNG or TIFF* names what is taken."""
_BEGINS = (
    r"\s+(?=(?:please|bitte|leave|remove|use|save|keep|set|strip|flatten|embed|choose|avoid|include|do(?: not|n['’]t)|never|no|not|at (?:most|least)|max\w*|min\w*|up to|under|the|a|an|your|there|all|only"
    r"|quality|compression|\d|ohne|keine?n?|nur|höchstens|mindestens|mind\.|max\.|maximal|bis|unter|die|der|das|muss|darf|soll\w*|gilt|Qualität|Kompression|it|they|we|es|sie)\b)"
)
_CLOSES = (
    rf"(?:\(|,|(?<=\S)\s)\s*(?:(?:if|when|where|wenn|falls|sofern)\s+{_FEW}|(?:in (?:the )?case of|for|im Fall(?:e)?(?: von| eines)?|bei|für)\s+)"
    rf"(?P<of>{_NAMED}){_IS}\W*$"
)
_OTHER = r"\b(?:print|web|screen|Druck|Web|Bildschirm)\b"
_DEPENDING = ("size", "ppi", "width", "height", "longest_side", "shortest_side", "file_bytes", "bits", "bits_per_pixel",
              "packing", "transparency", "frames", "progressive", "quality", "profile", "colour_space", "channels",
              "chroma", "megapixels", "colours")  # fmt: skip
"""What of a file its format may decide; how old a photo is or how many are sent it does not."""


_WITHOUT_IF = r"\W*(?:in|as|for|with|im|bei|für|beim)\b"
_GOES_ON = r"\s+(?!(?:with|without|that|which|of|in|and|or|mit|ohne|die|und|oder)\b)(?=[^\W\d])"
_BECOMES = r"\b(?:is|are|will be|gets?|bleib(?:t|en)|wird|werden)\s+(?:\w+ )?(?:kept|preserved|retained|lost|ignored|flattened|removed|discarded|supported|erhalten|beibehalten|ignoriert|entfernt|verworfen|unterstützt)\W*$"
"""What a body does with something: *for PNGs transparency is kept*."""
_DETERMINED = r"\W*(?:(?:all|any|every|each|the|your|an?|die|das|alle|jedes|Ihre?|deine?)\s+)?"
_NO = (
    r"\W*(?:(?:but|and|please|aber|und|bitte)\s+)?(?:no|avoid|keine?n?|(?:do not|don['’]t|never|please don['’]t)\s+(?:send|use|upload|submit|supply|include)(?: us)?"
    r"|we (?:do not|don['’]t|cannot|can['’]t|can not|won['’]t|will not|never) \w+|wir (?:nehmen|verwenden|brauchen|wollen|akzeptieren)(?: bitte)? keine?n?)(?: any| more)?\s+"
)
_WITH = r"\s+(?:with|without|over|under|above|below|larger|bigger|smaller|heavier|that|which|of|in|containing|mit|ohne|über|unter|größer|kleiner|die|ab)\b"
_HELD = r"(?:transparente?n?|animiert\w*|animated|progressive[ns]?|interlaced|CMYK|compressed|uncompressed|komprimierte?n?|unkomprimierte?n?|indexed|16-bit|8-bit|32-bit|24-bit|lossy|lossless|semi-transparent)[- ]"
_ONLY_WITH = rf"{_DETERMINED}{_ONE}\s+(?:only|nur|ausschließlich)\s+(?:with|without|mit|ohne)\b"
"""*PNG only with a white background* takes one where it has that, and asks for none."""
_MOVING = r"\b(?:animated|animiert\w*|moving|bewegte\w*)[- ]gifs?\b"
_MUST_NOT = (
    rf"{_DETERMINED}{_ONE}\s+(?:(?:must|should|may|shall|can|need|dürfen|darf|sollen|sollten|sollte|müssen|muss)\s+(?:not|never|nicht|niemals|keine?n?)"
    r"|cannot|(?:can|must|should|may)n['’]t|mustn['’]t|shouldn['’]t|can['’]t)\b"
)


def _property_refused(said: str, words: Lexicon) -> bool:
    """Whether a sentence refuses one format as far as it has some property, and no more of it: *No PNGs with transparency*.
    That of animated GIFs, by which people mean whatever moves, is not asked."""
    if patterns.search(_MOVING, said, _I):
        return False
    if patterns.match(_MUST_NOT, said, _I) or patterns.match(rf"{_NO}{_ONE}{_WITH}", said, _I):
        return True
    if patterns.match(rf"{_NO}{_HELD}{_ONE}", said, _I):
        return True
    refused = rf"\b(?:{words.refusal}|{words.unwanted}|nehmen wir nicht(?: an)?|won['’]t play)\b"
    return bool(
        patterns.match(rf"{_DETERMINED}(?:{_ONE}{_WITH}|{_HELD}{_ONE}\b)", said, _I)
        and patterns.search(refused, re.split(r"[,(;]", said)[0], _I)
    )


def of_one_format(drafts: list[Draft], said: str, start: int, words: Lexicon) -> list[Draft]:
    """The drafts of a sentence; what it says of one format (or some) alone holds where the file is one.

    Args:
        drafts: of one sentence.
        said, start: the sentence, and where it begins in its text.
    """
    whole = start, start + len(said)
    if len(named(said)) == 1 and _property_refused(said, words):
        limits = patterns.match(_MUST_NOT, said, _I)  # “JPEGs must not exceed 500 kB”
        if any(_may_depend(d) and not (limits and d.fields["measure"] in LIMITED) for d in drafts):
            return _bound(drafts, named(said), whole, whole)
    if len(named(said)) == 1 and patterns.match(_ONLY_WITH, said, _I):
        return _bound(drafts, named(said), whole, whole)
    opened = _opened(said)
    if opened is not None:
        names, first = opened
        if patterns.search(_BECOMES, said, _I):
            return [d for d in drafts if not _may_depend(d) and d.fields.get("measure") != "format"]
        return _bound(drafts, names, (start, start + first), (start + first, start + len(said)))
    closed = patterns.search(_CLOSES, said, _I)
    if closed is None or patterns.search(_OTHER, said, _I) or named(said[: closed.start()]):
        return under_condition(drafts, said, start)
    before = said[: closed.start()]
    piece = max(before.rfind(","), before.rfind(";"), before.rfind(":")) + 1
    at = start + closed.start()
    return _bound(drafts, named(closed["of"]), (at, whole[1]), (start + piece, at))


def _opened(said: str) -> tuple[list[str], int] | None:
    """The formats that the beginning of a sentence speaks of, and where it ends."""
    hit = patterns.match(_OPENS, said, _I)
    if hit is None:
        return None
    rest = said[hit.end() :]
    begins = patterns.match(_PARTED, rest) or patterns.match(_BEGINS, rest, _I)
    if begins is None and patterns.match(_WITHOUT_IF, said, _I):
        begins = patterns.match(_GOES_ON, rest, _I)  # “For PNGs transparency is kept”
    if (
        begins is None
        or len(named(hit["of"])) > _FEW_FORMATS
        or named(rest)
        or patterns.search(_OTHER, rest, _I)
    ):
        return None  # “if you send a PNG with transparency the mug shows through”
    return named(hit["of"]), hit.end()


def _may_depend(draft: Draft) -> bool:
    return draft.fields.get("measure") in _DEPENDING and "when" not in draft.fields


def _bound(
    drafts: list[Draft], names: list[str], told: tuple[int, int], said: tuple[int, int]
) -> list[Draft]:
    """The drafts without the formats where they are only told, and what is said depending on them."""
    made = []
    for draft in drafts:
        at = draft.numbers[0][0] if draft.numbers else draft.start
        if draft.fields.get("measure") == "format" and told[0] <= at < told[1]:
            continue
        inside = said[0] <= at < said[1] and _may_depend(draft)
        made.append(when(draft, *names) if inside else draft)
    return made


_CONCEDED = (
    rf"(?:^|(?<=[.;!?,\n])) ?(?:(?:but|and|aber|und) )?(?:(?:an?|the|die|das) )?(?P<of>{_ONE}) (?:(?:only|nur)\s+(?:with|without|mit|ohne)\b|(?:is|are|would be|ist|sind|wäre)\s+(?:also |even |just |auch |ebenfalls )?"
    r"(?:fine|ok(?:ay)?|welcome|allowed|possible|permitted|all right|no problem|in Ordnung|möglich|erlaubt|willkommen|zulässig|kein Problem)\b(?! (?:if|only|when|for|wenn|nur|für|bei)))"
)


def with_conceded(drafts: list[Draft], text: str) -> list[Draft]:
    """*JPG or PNG. GIFs are fine but won't move* takes GIF as well: what is allowed beside the formats that are taken is one."""
    made = list(drafts)
    for hit in patterns.finditer(_CONCEDED, text, _I):
        before = [d for d in made if d.start <= hit.start("of")]
        brief = before[-1].brief if before else ""
        for at, draft in enumerate(made):
            taken = [*draft.fields.get("one_of", ())] or [draft.fields.get("exactly", "")]
            asked = draft.fields.get("measure") == "format" and "none_of" not in draft.fields
            names = [name for name in named(hit["of"]) if name not in taken]
            if not asked or draft.brief != brief or draft.start > hit.start("of") or not names:
                continue
            if draft.fields.get("strength") == "should" or draft.start == hit.start("of"):
                continue
            made[at] = replace(
                draft,
                fields={"measure": "format", "one_of": [*taken, *names]},
                numbers=(*draft.numbers, hit.span("of")),
                quote=text[draft.start : hit.end("of")],
                end=hit.end("of"),
            )
            break
    return made


_SUBJECT = rf"{_DETERMINED}{_ONE}(?:\s+(?:must|should|may|shall|can|needs?|has to|have to|are|is|at|with|without|in|bitte|müssen|muss|sollen|sollte\w*|dürfen|darf|brauchen|braucht|sind|ist|mit|ohne)\b|:\s|\s*[-–—]\s)"


def of_subjects(drafts: list[Draft], text: str) -> list[Draft]:
    """*PNGs should be saved without transparency*, where a page takes PNG and others, holds for PNG alone and asks for none."""
    taken: dict[str, set[str]] = {}
    for draft in drafts:
        if draft.fields.get("measure") == "format" and len(draft.fields.get("one_of", ())) > 1:
            taken.setdefault(draft.brief, set()).update(draft.fields["one_of"])
    bound: dict[int, str] = {}
    for draft in drafts:
        said = text[draft.start : draft.end]
        names = named(said)
        among = len(names) == 1 and names[0] in taken.get(draft.brief, taken.get("", set()))
        if among and _may_depend(draft) and patterns.match(_SUBJECT, said, _I):
            bound[draft.start] = names[0]
    drafts = [
        replace(d, certainty="doubtful") if _among(d, taken, text) and d.start not in bound else d
        for d in drafts
    ]
    return [
        when(d, bound[d.start]) if d.start in bound and _may_depend(d) else d
        for d in drafts
        if not (d.start in bound and d.fields.get("measure") == "format")
    ]


def _among(draft: Draft, taken: dict[str, set[str]], text: str) -> bool:
    """Whether a sentence names one of several formats that the page takes, and does not say that it alone is."""
    one = draft.fields.get("exactly", "")
    said = text[draft.start : draft.end]
    return (
        draft.fields.get("measure") == "format"
        and one in taken.get(draft.brief, taken.get("", set()))
        and draft.fields.get("strength") != "should"
        and not patterns.search(_ALONE, said, _I)
    )


_ALONE = r"\b(?:only|solely|exclusively|must|required|always|nur|ausschließlich|muss|immer|stets)\b"


def with_each(drafts: list[Draft], text: str) -> list[Draft]:
    """*For JPEG: at most 2 MB. For PNG: at most 5 MB* takes either, where a page says no more of formats: each has its own limit
    of one thing."""
    made = list(drafts)
    for brief in dict.fromkeys(draft.brief for draft in drafts):
        ours = [d for d in drafts if d.brief == brief]
        if any(d.fields.get("measure") == "format" and "none_of" not in d.fields for d in ours):
            continue
        limits: dict[tuple[str, ...], list[tuple[str, Draft]]] = {}
        for draft in ours:
            name = draft.fields.get("when", {}).get("exactly", "")
            said = text[draft.start : draft.end]
            told = patterns.match(_OPENS, said, _I) or patterns.search(_CLOSES, said, _I)
            if told and named(told["of"]) == [name]:
                thing = (draft.fields["measure"], *sorted(set(draft.fields) - {"measure"}))
                limits.setdefault(thing, []).append((name, draft))
        held = next((one for one in limits.values() if len({name for name, _d in one}) > 1), None)
        if held is None:
            continue
        first, last = held[0][1], held[-1][1]
        spans = [
            (d.start + hit.start(), d.start + hit.end())
            for _name, d in held
            for hit in patterns.finditer(_ONE, text[d.start : d.end], _I)
        ]
        taken = replace(
            first,
            fields={"measure": "format", "one_of": list(dict.fromkeys(name for name, _d in held))},
            certainty="sure" if all(d.certainty == "sure" for _n, d in held) else "doubtful",
            readings=(),
            numbers=tuple(spans),
            quote=text[first.start : last.end],
            end=last.end,
        )
        made.insert(made.index(first), taken)
    return made
