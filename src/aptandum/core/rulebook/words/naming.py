"""What a sentence names: formats, colour spaces, packings; those that are taken and those that are refused."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from aptandum.core.frozen import frozen
from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.by_format import FORMATS
from aptandum.core.rulebook.words.denials import blank_own, of_others
from aptandum.core.rulebook.words.draft import Draft
from aptandum.core.rulebook.words.fates import fate_told
from aptandum.core.rulebook.words.stated import COMPARED, EITHER_KIND, FOREIGN, Stated

_I = int(re.I)

SPACES = {
    "srgb": r"s-?rgb", "adobe-rgb": r"adobe ?rgb(?: ?\(?1998\)?)?", "display-p3": r"(?:display[ -]?|dci-)?p3",
    "prophoto": r"pro ?photo(?: ?rgb)?", "cmyk": r"cmyk",
}  # fmt: skip
PACKINGS = {
    "none": r"uncompressed|unkomprimiert\w*|(?:without|no|not) compress(?:ion|ed)(?! (?:stronger|higher|above|over|beyond|worse|greater|more|of more|artefacts|artifacts|noise))|ohne Kompression|none(?=\s*(?:,|/|or|oder)\s*(?:lzw|zip|deflate))|(?<=lzw or )none|(?<=lzw/)none|keine(?=\s*(?:,|/|oder)\s*(?:lzw|zip|deflate))|(?<=lzw oder )keine", "lzw": r"lzw", "deflate": r"deflate|zip(?=[- ](?:compress|kompr)|\s+(?:or|oder)\s+lzw)|(?<=tiff )zip|(?<=tiff \()zip|(?<=lzw or )zip|(?<=lzw oder )zip|(?<=lzw, )zip",
}  # fmt: skip
_CHROMA = ["4:4:4", "4:2:2", "4:2:0"]
_KINDS = r"cmyk|rgb|gr[ea]y(?:scale)?|lossless|lossy|layered|\d+[- ]bit|multi-?page|interlaced|password-protected|mehrseitige"
"""What makes a format one of its kinds where it is refused: *Not supported: CMYK JPEG*."""
_RGB = r"(?<![\w-])(?<!adobe )(?<!photo )rgb(?![\w-]|\s*\(?\d|\s*values?|\s*(?:über|unter|above|below|over|under|of|von|=|≥|>)\s*\d)"
"""Any space of red, green and blue: no rule says which, and neither inks nor grey are one."""


@frozen
class _Hit:
    start: int
    end: int
    name: str


def named_in(
    sentence: Stated, names: Mapping[str, str], measure: str, begin: int = 0
) -> list[Draft]:
    """One clause for the names that are taken, and one for those that are refused. *JPEG or PNG, no GIF*
    takes the first two; *GIF is not accepted* refuses what stands before it.

    Args:
        begin: what stands before it in the sentence names what the sentence is about.
    """
    hits = [hit for hit in _hits(sentence, names) if hit.start >= begin]
    hits = [
        hit for before, hit in zip([None, *hits], hits, strict=False)
        if before is None
        or not patterns.search(
            rf"\b(?:{sentence.words.over})\b", sentence.said[before.end : hit.start], _I
        )
    ]  # fmt: skip
    made = []
    for part in _apart(sentence, hits):
        until = next((hit.start for hit in hits if hit.start > part[-1].start), None)
        since = max((hit.end for hit in hits if hit.end <= part[0].start), default=0)
        draft = _clause(sentence, part, measure, since, until)
        if draft is not None:
            made += _wished(sentence, part, draft)
    return made


def _wished(sentence: Stated, hits: list[_Hit], draft: Draft) -> list[Draft]:
    """A clause that takes several, and beside it those that are wished for where only some are: *TIFF
    preferred, JPEG accepted*."""
    if "one_of" not in draft.fields:
        return [draft]
    at = sentence.start
    wished = [hit for hit in hits if sentence.wished((at + hit.start, at + hit.end))]
    if not wished or len(wished) == len(hits):
        return [draft]
    fields = {key: value for key, value in draft.fields.items() if key != "strength"}
    names = list(dict.fromkeys(hit.name for hit in wished))
    limit = {"exactly": names[0]} if len(names) == 1 else {"one_of": names}
    wish = {"measure": fields["measure"], **limit, "strength": "should"}
    span = at + wished[0].start, at + wished[-1].end
    return [replace(draft, fields=fields), replace(draft, fields=wish, numbers=(span,))]


def _hits(sentence: Stated, names: Mapping[str, str]) -> list[_Hit]:
    said, words = sentence.said, sentence.words
    hits = [
        _Hit(hit.start(), hit.end(), name)
        for name, pattern in names.items()
        for hit in patterns.finditer(
            rf"(?<![\w@>\]}}])(?<![\w>\])}}]\.)\.?(?:{pattern})(?:s|-\w+)?(?!\w)", said, _I
        )
    ]
    # “Progressive JPEGs” speaks of a kind of them, and so does “JPEGs must be baseline”.
    kind = rf"(?<!non-)\b(?:{words.kinds}|transparent(?:e[sn]?)?)\s+$"
    both = patterns.search(EITHER_KIND, said, _I)  # “JPEG, baseline or progressive”
    said_of = rf"^(?:(?!\b(?:or|and|oder|und)\b)[^.,;(]){{0,14}}\b(?:{words.kinds})\b"
    hits = [
        hit
        for hit in hits
        if not (
            patterns.search(_REASON, said[: hit.start], _I)
            and any(one.start < hit.start for one in hits)
        )
    ]
    if sentence.lead:
        kind = rf"(?<!non-)\b(?:{words.kinds}|transparent(?:e[sn]?)?|{_KINDS})\s+$"
    hits = [
        hit
        for hit in hits
        if not (
            patterns.search(kind, said[: hit.start], _I)
            and (sentence.lead or _unwanted(sentence, hit))
        )
        and (both or not patterns.search(said_of, said[hit.end :], _I))
    ]
    return sorted(hits, key=lambda hit: hit.start)


def _unwanted(sentence: Stated, hit: _Hit) -> bool:
    """Whether a kind of a format is denied: *no progressive JPEGs* takes others."""
    words = sentence.words
    return bool(
        patterns.search(rf"\b(?:{words.negation})\b[^.,;:]*$", sentence.said[: hit.start], _I)
        or patterns.search(
            rf"^[^.,;]{{0,24}}\b(?:{words.denies}|{words.refusal})\b", sentence.said[hit.end :], _I
        )
    )


def _apart(sentence: Stated, hits: list[_Hit]) -> list[list[_Hit]]:
    """The hits in groups that are all taken or all refused: a negation between two of them parts them."""
    parts: list[list[_Hit]] = []
    for hit in hits:
        between = sentence.said[parts[-1][-1].end : hit.start] if parts else ""
        between = patterns.sub(r"\([^()]*\)", "", between)  # “TIFF (no layers) or JPEG”
        denied = patterns.search(
            rf"[,;(]\s*(?:\w+\s+)?(?:{sentence.words.negation})\b|\b(?:but|and|aber|und)\s+(?:{sentence.words.negation})\b|:",
            between,
            _I,
        )
        told = "," in between and fate_told(sentence.said[hit.start :], 0, hit.end - hit.start, sentence.words)  # fmt: skip
        if not parts or denied or told:  # “PNG or GIF is best, JPEG gets fuzzy edges”
            parts.append([])
        parts[-1].append(hit)
    return parts


def _clause(
    sentence: Stated, hits: list[_Hit], measure: str, since: int, until: int | None
) -> Draft | None:
    said, words = sentence.said, sentence.words
    first, last = hits[0].start, hits[-1].end
    rest = said[last:until]
    optional = patterns.search(rf"^[^.,;]{{0,16}}\b(?:{words.optional})", rest, _I)
    if optional and not patterns.search(rf"\b(?:{words.also})\b", rest, _I):
        return None
    packed = measure == "packing" and _may_be_packed(sentence, first, rest)
    if packed or _done_by_body(sentence, hits):
        return None
    free = blank_own(sentence.unbound(), words)  # “no more than 10 MB, JPG only” refuses nothing
    before, behind = free[max(since, first - 24) : first], _unbound(sentence, last)[:30]
    before = re.split(r"\s[-–—]\s", before)[-1]  # “type not supported - only JPEG”
    before = patterns.sub(_NO_PROPERTY, "", before, _I)  # “no compression for BMP”
    before = patterns.sub(rf"{FOREIGN}\s*,", "", before, _I)  # “Do not send PDF, GIF or BMP files”
    if patterns.search(_WHERE, before, _I) or (
        len(hits) > 1 and patterns.search(_WHERE_ELSE, said[first:last], _I)
    ):
        behind = ""  # “JPEG where WebP is not possible”
    if patterns.match(_OF_HOW_MUCH, behind, _I) or patterns.search(
        rf"{_OF_HOW_MUCH}$", said[first:last], _I
    ):
        behind = ""
    behind = behind[: None if until is None else until - last]
    kinds = rf"(?!\s+(?:be\s+)?(?:{words.kinds}))"
    refused = (
        patterns.search(rf"\b(?:{words.negation})\b[^.;:,)]*$", before, _I)
        or patterns.search(
            rf"\b(?:{words.denies}|{words.negation})\b[^.;:,)\d]*:\s*(?:[\w.]+,\s*){{0,4}}$",
            free[since:first],
            _I,
        )
        or patterns.search(
            rf"^(?!\s+(?:that|which)\b)[^.,;(]{{0,16}}\b(?:{words.denies})\b{kinds}", behind, _I
        )
    )
    limits = "|".join(words.before[bound] for bound in ("above", "below"))
    others = of_others(said, first, last, words)
    denied = others == "refused" or (others is None and bool(refused))
    if sentence.lead and others is None:
        direct = rf"\b(?:{words.negation})\b(?:\s+\w+){{0,3}}\s*$"
        lead = len(sentence.lead) if said.startswith(sentence.lead) else 0
        denied = not patterns.search(direct, said[lead:first], _I)
    if denied and patterns.search(rf"^\s*\w*\s*(?:{limits})\s*(?:[^\W\d]+\s+)?\d", rest, _I):
        return None  # “no GIF files larger than 200 kB” refuses the large ones
    names = list(dict.fromkeys(hit.name for hit in hits))
    key = "none_of" if denied else "one_of" if len(names) > 1 else "exactly"
    value: Any = names if key != "exactly" else names[0]
    at = sentence.start + first, sentence.start + last
    some = measure == "colour_space" and _among_others(sentence, first, rest)
    sure = "doubtful" if others == "open" or some else "sure"
    if value == "none" and patterns.match(_OR_LOSSLESS, rest, _I):
        key, value = "one_of", list(PACKINGS)
    fields = {"measure": measure, key: value}
    if measure == "format" and key != "none_of" and _fate_told(sentence, first, last):
        refuses = {"measure": measure, "none_of": names}
        return sentence.draft(refuses, at, certainty="doubtful", readings=(fields,))
    return sentence.draft(fields, at, certainty=sure)


def _fate_told(sentence: Stated, first: int, last: int) -> bool:
    """Whether the words between commas that names stand in tell what becomes of such files: *TIFF files crash the frame*."""
    own = max(0, sentence.said.rfind(", ", 0, first) + 1)
    return fate_told(sentence.said[own:], first - own, last - own, sentence.words)


def _among_others(sentence: Stated, first: int, rest: str) -> bool:
    """Whether a colour space is of some pictures alone, or stands in a list with one that nobody here knows."""
    return bool(
        patterns.match(f"{_FOR_SOME}|{_OR_ANOTHER}", rest, _I)
        or patterns.search(_ANOTHER_OR, sentence.said[:first], _I)
    )


_BECOMES = r"^[^,;:.–]{0,40}?\b(?:are|is|will be|get|gets|werden|wird)\s+(?:\w+\s+){0,2}?(?:converted|treated|interpreted|assumed|read as|umgewandelt|konvertiert|behandelt)\b|^[^.;]{0,60}\b(?:are|is|will be|werden|wird)\s+(?:(?:made|created|generated|derived|produced)\s+(?:here|by us|in-?house)|(?:von uns|bei uns|hier)\s+(?:\w+\s+)?(?:erzeugt|erstellt|gemacht))\b"
_CONVERTS = (
    r"(?:\b(?:(?:we|wir)\s+(?:\w+\s+)?(?:convert|treat|assume|make|create|generate|produce|turn|transform|store|re-?encode|wandeln|speichern)|(?:erzeugen|erstellen|machen|wandeln|rechnen) wir)"
    r"|\b(?:are|is|will be|get|gets|werden|wird)\s+(?:\w+\s+){0,2}?(?:converted|treated|interpreted|read))\b[^,;:.–]{0,30}$"
)


def _done_by_body(sentence: Stated, hits: list[_Hit]) -> bool:
    """Whether a sentence tells what the body makes of files: *CMYK images are converted to sRGB*."""
    words = sentence.words
    told = patterns.search(_BECOMES, sentence.said[hits[0].end :], _I) or patterns.search(
        _CONVERTS, sentence.said[: hits[0].start], _I
    )
    told = told or patterns.match(_LOSES, sentence.said[hits[-1].end :], _I)
    bids = rf"\b(?:{words.must}|{words.should}|please|bitte)\b"
    return bool(told and not patterns.search(bids, sentence.said, _I))


def _may_be_packed(sentence: Stated, first: int, rest: str) -> bool:
    """Whether a way of packing may be, and need not: *LZW compression accepted*, *may be compressed with LZW*."""
    words = sentence.words
    taken = rf"^[^.,;]{{0,16}}\b(?:{words.optional}|{words.taken}|acceptable|zulässig)\b"
    if patterns.search(rf"\b(?:{words.must})\b", sentence.said, _I):
        return False  # “Only LZW-compressed TIFFs are accepted”
    may = r"\b(?:may|can|kann|können|darf|dürfen)\s+(?!not\b|nicht\b)(?:\w+\s+){0,4}$"
    return bool(patterns.search(taken, rest, _I) or patterns.search(may, sentence.said[:first], _I))


def _unbound(sentence: Stated, start: int) -> str:
    """What stands behind a place, without the words that make a bound: *must not exceed* refuses
    nothing."""
    sides = ("at_least", "at_most")
    words = sentence.words
    every = "|".join(table[side] for table in (words.before, words.after) for side in sides)
    return patterns.sub(
        rf"(?<!\w)(?:{every}|{COMPARED})(?!\w)", "#", sentence.said[start : start + 60], _I
    )


def spaces_in(sentence: Stated) -> list[Draft]:
    """The colour spaces that a sentence names. *RGB* alone leaves open which; *CMYK TIFFs or RGB JPEGs* holds
    each for its own format."""
    paired = _paired(sentence)
    if paired:
        return paired
    if patterns.match(f"{_AS_IT_IS}|{_WITHOUT}", sentence.said, _I):
        return []
    takes = rf"\b(?:{sentence.words.refusal}|{sentence.words.denies}|{sentence.words.optional}|{sentence.words.also}|{sentence.words.taken}|{_WANTED})\b"
    some = patterns.match(_FILES_OF_ONE, sentence.said, _I)
    # “CMYK files must use …” says nothing of which are taken.
    since = some.end() if some and not patterns.search(takes, sentence.said, _I) else 0
    made = named_in(sentence, SPACES, "colour_space", since)
    rgb = patterns.search(_RGB, " " * since + sentence.said[since:], _I)
    if rgb is not None and patterns.search(
        rf"\b(?:{sentence.words.negation})\s+$", sentence.said[: rgb.start()], _I
    ):
        rgb = None  # “CMYK (no RGB)”
    if rgb is not None and patterns.match(_IS_OK, sentence.said[rgb.end() :], _I):
        rgb = None  # “RGB files are OK; we convert”
    if rgb is not None and patterns.search(_BECOMES, sentence.said[rgb.end() :], _I):
        rgb = None  # “RGB gets converted”
    inks = [d for d in made if "none_of" not in d.fields and "cmyk" in str(d.fields)]
    if rgb is not None and inks:  # “CMYK or RGB”: anything but grey
        numbers = (*inks[0].numbers, (sentence.start + rgb.start(), sentence.start + rgb.end()))
        fields = {"measure": "colour_space", "none_of": ["grey"]}
        return [replace(inks[0], fields=fields, numbers=numbers)]
    if sentence.either_colour():  # “CMYK or greyscale”
        made = [
            replace(d, fields={"measure": "colour_space", "one_of": ["cmyk", "grey"]})
            if d.fields.get("exactly") == "cmyk"
            else d
            for d in made
        ]
    if rgb is not None and not made:
        at = sentence.start + rgb.start(), sentence.start + rgb.end()
        refused = ["cmyk"] if sentence.either_colour() else ["cmyk", "grey"]
        made.append(sentence.draft({"measure": "colour_space", "none_of": refused}, at))
    return made


_OF_HOW_MUCH = r"-?\s*(?:compression|kompression|quality|qualität)"
"""*JPEG compression no stronger than …* speaks of how much."""
_LOSES = r"(?:s|-?(?:files?|pictures?|images?))?\s+(?:(?:will|may)\s+)?(?:loses?|becomes?|appears?|looks?|stops?)\b"
"""How a sentence goes on that tells what becomes of files of a kind: *GIFs lose their animation*."""
_NO_PROPERTY = r"\b(?:no|without(?: any)?|ohne|keine?)\s+(?:\w+\s+)?(?:compression|interlacing|transparency|alpha(?: channels?)?|layers?|animation|metadata|profiles?|Komprimierung|Kompression|Transparenz|Ebenen|Animation)\s+(?:for|in|on|with|of|bei|für)\s+(?:\w+\s+)?$"
_ANOTHER_OR = r"\b(?:eci ?RGB|(?:ISO ?)?coated|FOGRA ?\d*|PSO\b[^,;.]{0,16})(?: v?\d)?[“”\"]?\s*(?:,|or|oder|/)\s*$"
"""*EciRGB v2 oder Adobe RGB*: of a list whose first nobody here knows."""
_WITHOUT = r"\W*(?:ohne|without|bei fehlendem|if there is no|no|missing) (?:an? |eingebettetes )?(?:[^\W\d]+ )?profile?s?\b[^.;]{0,12}\b(?:gilt|gelten|assum\w*|means?|counts?|taken|treated|nehmen wir|wird)\b"
"""*Ohne Profil gilt sRGB*: what a file without one is taken for."""
_IS_OK = r"\W*(?:files?|pictures?|images?|data|Dateien|Daten|Bilder)?\s*(?:is|are|ist|sind)\s+(?:also |auch )?(?:ok(?:ay)?|fine|welcome|possible|no problem|in Ordnung|möglich|kein Problem)\b"
_AS_IT_IS = r"\W*(?:if|where|wenn|falls)\b[^.;]*\b(?:only have|have only|only got|can(?:not|'t) convert|nur)\b[^.;]*\b(?:leave|keep|send|lass\w*|schick\w*|belass\w*|fine|ok)\b"
"""How a sentence goes that lets what is there stay so: *if you only have RGB leave it in RGB*."""
_OR_LOSSLESS = r"[^.;,\d]{0,16}\b(?:or|oder)\b[^.;,\d]{0,24}\b(?:loss-?less\w*|verlustfrei\w*)\b"
_REASON = r"\b(?:because|since|weil|denn)\s+(?:(?:an?|the|our|das|ein)\s+)?$"
"""What makes a name that of a reason: *PNG only because JPEG shifts our colours*."""
_FOR_SOME = r"\s*(?:\([^()]*\)\s*)?(?:for|in case of|für|bei)\s+(?:the\s+)?(?:colou?r|mono\w*|gr[ea]y\w*|black|screen|web|print|farb\w*|schwarz\w*|grau\w*)"
_WHERE = r"\b(?:where|if|when|wenn|falls|wo)\s+$"
_WHERE_ELSE = r"\b(?:where|if|when|wenn|falls|wo)\s+(?=[^.;,]*$)"
"""What makes what stands behind a format a condition: *JPEG where WebP is not possible*."""
_OR_ANOTHER = r"\s*(?:\(?\d{4}\)?\s*)?(?:or|oder|/)\s*(?:an?\s+)?(?!s?rgb\b|adobe|pro ?photo|display|dci|p3\b|cmyk|gr[ea]y|grau)(?:\w+[ -])?\w*(?:rgb|gamut|rec\.? ?\d+)\b"
"""A space behind another that is not known here: *Adobe RGB or eciRGB*."""
_WANTED = r"only|please|bitte|nur|prefer\w*|recommended|required|mandatory|submitted|supplied|sent|uploaded|delivered|provided|avoided|converted to|erforderlich|bevorzugt|empfohlen|geliefert|eingereicht"
_FILES_OF_ONE = (
    r"\W*(?:all |any |alle )?(?:s?rgb|adobe rgb|cmyk|gr[ea]yscale)[- ](?:files?|images?|pictures?|photos?|photographs?|data|dateien|bilder|fotos|daten)\s+"
    r"(?:must|should|have|has|need|shall|may|might|can|could|will|would|are|is|get|look|print|appear|come|tend|lose|change|take"
    r"|müssen|sollen|sollten|können|werden|sind|brauchen|haben|wirken)\b"
)
"""How a sentence begins that says something of the files of one colour space, and not which are taken."""


def chroma_in(sentence: Stated) -> list[Draft]:
    """The chroma subsampling that a sentence asks for: *4:2:2 or better* takes the finer ones too."""
    hit = patterns.search(r"(?<![\d:])4:(?:4:4|2:2|2:0)(?![\d:])", sentence.said)
    if hit is None:
        return []
    others = patterns.match(
        r"(?:\s*(?:,|/|or|oder)\s*(4:(?:4:4|2:2|2:0)))+(?![\d:])", sentence.said[hit.end() :], _I
    )
    if others is not None:  # “4:2:0 or 4:4:4”
        every = re.findall(r"4:\d:\d", hit.group() + others.group())
        at = sentence.start + hit.start(), sentence.start + hit.end() + others.end()
        return [sentence.draft({"measure": "chroma", "one_of": list(dict.fromkeys(every))}, at)]
    finer = _CHROMA[: _CHROMA.index(hit.group()) + 1]
    better = patterns.search(
        r"^[^.,;]{0,24}\b(?:or|oder) (?:better|finer|higher|besser|feiner)",
        sentence.said[hit.end() :],
        _I,
    )
    limit: dict[str, Any] = (
        {"one_of": finer} if better and len(finer) > 1 else {"exactly": hit.group()}
    )
    at = sentence.start + hit.start(), sentence.start + hit.end()
    return [sentence.draft({"measure": "chroma", **limit}, at)]


def _paired(sentence: Stated) -> list[Draft]:
    spaces = {**SPACES, "rgb": _RGB}
    any_space = "|".join(rf"(?P<s{i}>{p})" for i, p in enumerate(spaces.values()))
    any_format = "|".join(rf"(?P<{name}>{p})" for name, p in FORMATS.items())
    found = list(
        patterns.finditer(
            rf"(?<!\w)(?:{any_space})(?:[ -]|\s+(?:for|in|with|für|bei)\s+)(?:{any_format})(?:s|-\w+)?(?!\w)",
            sentence.said,
            _I,
        )
    )
    if len(found) < 2:
        return []
    made = []
    for hit in found:
        held = {name: text for name, text in hit.groupdict().items() if text}
        space = next(list(spaces)[int(key[1:])] for key in held if key[1:].isdigit())
        format_ = next(key for key in held if not key[1:].isdigit())
        fields: dict[str, Any] = {"measure": "colour_space", "exactly": space}
        if space == "rgb":
            fields = {"measure": "colour_space", "none_of": ["cmyk", "grey"]}
        fields["when"] = {"measure": "format", "exactly": format_}
        at = sentence.start + hit.start(), sentence.start + hit.end()
        made.append(sentence.draft(fields, at))
    return made
