"""Which bound the words round a number make of it: at least, at most, above, below, between or exactly."""

from __future__ import annotations

import re
from typing import Any

from aptandum.core.frozen import frozen
from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.beyond import are_refused, in_a_row, of_pictures, told_of_them
from aptandum.core.rulebook.words.denials import refused
from aptandum.core.rulebook.words.lexicon import Lexicon
from aptandum.core.rulebook.words.quantities import Quantity
from aptandum.core.rulebook.words.stated import Stated

LOWER, UPPER = ("at_least", "above"), ("at_most", "below")
DENIED = {"below": "at_least", "above": "at_most"}
"""What is left where a comparison is of what is not taken."""

_OTHER_SIDE = {**DENIED, "at_most": "at_least", "at_least": "at_most"}

_I = int(re.I)
_OTHER_LIMIT = r"[,;](?! (?:or|oder) (?:\w+er|more|mehr|less|weniger|above|below)\b(?! (?:than|als)))|\b(?:and|und|but|aber)\b(?! (?:more|up|above|larger|over|mehr|darüber))"
"""Where the words behind a number end that may be its bound."""
_NOT_BEYOND = r"\s*(?:[^\W\d]+\b)?(?:\s+[^\W\d]+\b){0,3}\s*(?:,|\s[–-])\s*(?:and |but |und |aber )?(?:nothing|not|no|never|nicht|nichts|keinesfalls)(?: any)? (?:(?P<less>smaller|less|lower|shorter|kleiner\w*|weniger|kürzer)|larger|bigger|more|longer|größer\w*|mehr|länger)\b(?! (?:than|als)\b)|\s*(?:[^\W\d]+\b)?(?:\s+[^\W\d]+\b){0,3}\s*(?:\([^()]*\)\s*)?,\s*(?P<less2>kleiner|weniger|größer|mehr) geht (?:es )?nicht\b"
"""*Long side 3500 px, nothing smaller*: the number is a bound."""
_NEAR = 24
"""So many letters at most stand between a small word and the number whose bound it is."""
_ANOTHER_WAY = r"\s*[:,–-]?\s*(?:(?:please|bitte)\s+\w+|via\b|per (?:link|post|e?-?mail)\b|by (?:post|e?-?mail|link)\b|(?:through|using|über) (?:our|the|unser\w*|die|den|das)\b)"
"""How a sentence goes on that tells how pictures beyond a bound come."""
_OF_A_PLACE = r"(?:above|below|over|under|über|unter)\s+(?:the|our|my|your|its|a|an|dem|der|den|einer?m?)\s+(?!(?:\w+\s+)?(?:limit|size|minimum|maximum|figure|value|width|height|resolution|weight)\b)[^\W\d]{2,}"
"""*The screen above the bar*: a place, and no bound."""
_AS_NEEDED = r"\s*(?:is |als )?(?:nötig|notwendig|erforderlich|necessary|needed)\b"
"""*No larger than necessary (1280 px)*: the number is none of the comparison."""
_HARDLY = 8
_OF_THOSE = r"\b(?:larger|bigger|smaller|others?|größere|kleinere|andere)(?:\s+(?:ones|originals|pictures|images|Vorlagen|Bilder))?\s+(?:at|with|in|mit|bei)\s+$"
"""What makes a number one of some pictures: *originals up to A3 at 400 dpi, larger ones at 300 dpi*."""
_OF_PRODUCT = (
    r"\b(?:(?:the|our|a|each|every|die|der|das|unser\w*) (?:\w+ )?(?:card|calendar|poster|magazine|book|brochure|leaflet|flyer|postcard|catalogue|catalog|newsletter"
    r"|programme|almanac|yearbook|plakat|kalender|heft|magazin|buch|katalog|faltblatt|postkarte)\w* (?:is|has|comes in|measures|ist|hat|misst)"
    r"|(?:we|I|wir) (?:\w+ )?(?:print|drucken)\w*) (?:[^\W\d]+ ){0,9}$"
)
"""What tells how a body's own thing is made: *the calendar is A3*, *we print at 300 dpi*; it may be a rule as well."""
_MAY_REDUCE = r"\b(?:may|can|allowed|permitted|darf|dürfen|erlaubt)\b[^.;,]*\b(?:reduced?|resized?|scaled?|downsized?|shr[iu]nk|verkleiner\w*)\b[^.;,]*$"
"""What lets a picture be made smaller: *you may reduce it to 2048 px*."""


@frozen
class Bound:
    """What was found.

    Attributes:
        name: the key of a clause, or ``between``; ``None``: no words make one.
        end: how much of what stands behind the number belongs to it, in characters.
        beyond: it is only told what becomes of pictures beyond it, or that they had better be avoided.
        about: the number is only a rough one.
        free: what is beyond it is welcome too: no rule.
        unclear: it is told of such pictures in words that are not understood.
    """

    name: str | None
    end: int = 0
    beyond: bool = False
    about: bool = False
    free: bool = False
    unclear: bool = False


_Q_FROM = r"\bq\s?(?:>=|≥)\s*$"
"""*Q>=85*."""
_OR_SO = r"\s*(?:px|pixels?|Pixeln?|dpi|ppi|[kM]B)?\s*(?:on \w+ (?:\w+ )?side )?,?\s*(?:or (?:there|where)abouts|or so|or around that|give or take|oder so|oder in der Gegend)\b"
"""*3000 pixels or thereabouts*."""


def _is_about(left: str, right: str, words: Lexicon) -> bool:
    about = patterns.search(rf"\b(?:{words.about})\s*$", left, _I)
    return bool(about or patterns.match(_OR_SO, right, _I))


def bound(sentence: Stated, left: str, right: str, q: Quantity) -> Bound:
    """The bound of a quantity.

    Args:
        left, right: what stands between it and the quantities before and behind it.
    """
    words = sentence.words
    if right.startswith("+"):
        return Bound("at_least", 1)
    if q.kind == "quality" and patterns.search(_Q_FROM, left, _I):
        return Bound("at_least")
    behind_it = _after(right, words, q.more)
    if behind_it is not None:
        behind = sentence.text[q.end + behind_it.end : sentence.end]
        turned = _refused_from(behind_it.name, re.split(r"[;:]", left)[-1], behind, words)
        return Bound(turned, behind_it.end) if turned and re.search(_FROM_ON_BY, right[: behind_it.end], _I) else behind_it  # fmt: skip
    if len(q.values) == 2:
        return Bound("between")
    if "size" in q.kind and patterns.search(r"\b(?:of|on|in) an?\s+$", left, _I):
        return Bound(None)  # “below the edge of a 35 x 45 mm picture”
    best = _before(left, words)
    if best is None:
        none = patterns.match(_NOT_BEYOND, right, _I)
        if none and "," not in left:
            less = none["less"] or none["less2"] in ("kleiner", "weniger")
            return Bound("at_least" if less else "at_most", none.end())
        if patterns.search(_BETTER, left, _I) and _last_bound(sentence, q, words) == "at_least":
            return Bound("at_least")  # “at least 2 MB, better 4”
        return Bound(None, about=_is_about(left, right, words))
    _end, start, name = best
    said = sentence.text[sentence.start : q.start - len(left) + start]
    clause = re.split(r"[;:]|\s[–—-]\s|,(?! (?:die|welche|that|which)\b)", said)[
        -1
    ]  # “Bilder, die kleiner …”
    unnamed = not re.sub(r"\W", "", clause)
    another = patterns.match(_ANOTHER_WAY, right, _I) and (of_pictures(clause, words) or unnamed)
    if name == "at_least" and unnamed and patterns.match(_FROM_THERE, right, _I):
        return Bound(name, unclear=True)  # “Ab 3 MB dauert das Hochladen zu lange”
    if name == "at_least" and another:
        return Bound("at_most", beyond=True)  # “Dateien ab 50 MB bitte per Link”
    if name not in DENIED or _beyond_refused(name, right, words):
        return Bound(
            _refused_from(name, clause, sentence.text[q.end : sentence.end], words) or name
        )
    behind = sentence.text[q.end : sentence.end]
    row = in_a_row(said, name, q.kind == "bytes", words)
    if sentence.lead or row == "refused" or are_refused(said, clause, right, behind, words):
        return Bound(DENIED[name])  # “no files above 8 MB”, “smaller than 500 px will be refused”
    told = told_of_them(clause, right, words)
    if name == "above" and another:
        told = "avoided"  # “Files over 20 MB: please send us a link”
    if told == "free" and name == "above":
        return Bound(name, free=True)
    if told == "avoided":
        return Bound(DENIED[name], beyond=True)
    return Bound(name, unclear="unclear" in (told, row))


_FROM_ON_BY = r"\b(?:or|and|oder|und|upwards?)\b"
_FROM_ON = {"at_least": "below", "at_most": "above"}


def _refused_from(name: str | None, clause: str, behind: str, words: Lexicon) -> str | None:
    """The bound of pictures that are refused from a number on, or up to it: *files of 2 MB and more are rejected* leaves
    what is below; ``None``: they are not.

    Args:
        clause: what stands before the bound and names the pictures.
        behind: the rest of the sentence.
    """
    said = patterns.sub(r"\s+(?:of|from|with|von|ab|mit)\s*$", "", clause, _I)
    hit = patterns.match(rf"[^.;:]{{0,{_SOON_AFTER}}}?\b(?:{_PLAINLY_REFUSED})\b", behind, _I)
    if name not in _FROM_ON or hit is None or not of_pictures(said, words):
        return None
    # “At least 800 px wide or they are rejected” refuses what is not.
    binds = rf"\b(?:{words.must}|{words.should}|{words.negation}|be|is|are|have|has|sein|ist|sind|haben|hat)\b"
    if patterns.search(binds, said, _I) or patterns.search(_OR_ELSE, hit.group(), _I):
        return None
    # “Files up to 5 MB (larger ones are refused)” refuses others.
    others = patterns.search(
        r"\b(?:larger|bigger|heavier|smaller|shorter|others?|more|größere?|kleinere?|schwerere?|andere)\b",
        hit.group(),
        _I,
    )
    return None if others or not refused(behind, words) else _FROM_ON[name]


_OR_ELSE = r"\b(?:or|else|otherwise|if not|unless|sonst|oder|andernfalls|ansonsten)\b"
_SOON_AFTER = 60
_PLAINLY_REFUSED = (
    r"(?:are|is|will be|get|gets|werden|wird)\s+(?:\w+\s+){0,2}?(?:rejected|refused|declined|deleted|turned (?:down|away)|not (?:be )?(?:accepted|taken|printed|used)|abgelehnt|gelöscht|zurückgewiesen|nicht (?:angenommen|akzeptiert|berücksichtigt))"
    r"|(?:cannot|can't|will not|won't) be (?:used|printed|accepted|taken)|bounce[ds]?|nehmen wir nicht|unbrauchbar"
)


def _after(right: str, words: Lexicon, more: bool) -> Bound | None:
    """The bound that stands behind a number.

    Args:
        more: another number follows in the sentence.
    """
    near = re.split(rf"{_OTHER_LIMIT}|\((?=[^)]*$)", right)[0][:42]
    for name, pattern in words.after.items():
        hit = patterns.search(rf"(?<!\w)(?:{pattern})(?!\w)(?! (?:than|als)\b)", near, _I)
        # Right before the next number it belongs to that one: “600 and at most 1200”.
        ended = hit and words.name == "en" and re.match(r"\.?\s+[A-Z]", near[hit.end() - 1 :])
        if hit and patterns.match(
            rf"\s*(?:\d|(?:{'|'.join(words.numerals)})\b)", right[hit.end() :], _I
        ):
            continue  # “300 dpi (at least 250)”, “96 ppi max 5 photos”
        if hit and (ended or not (more and _of_next(right[hit.end() :], words))):
            return Bound(name, hit.end())
    return None


_FROM_THERE = r"\s*(?:px|Pixeln?|dpi|ppi)?\s*(?:Größe |Breite |on,? |onwards,? |up,? )?[^\W\d]+(?:t|en|s)?\s+(?:das|der|die|es|wir|man|unser\w*|ihr\w*|the|it|uploads?|we|our)\b"
_BETTER = r"[,;(]\s*(?:better|even better|still better|besser|noch besser|lieber)\s*$"


def _last_bound(sentence: Stated, q: Quantity, words: Lexicon) -> str:
    """The bound that was said last before a quantity, an upper or a lower one."""
    said = sentence.text[sentence.start : q.start]
    ends = {
        name: max((hit.end() for hit in patterns.finditer(rf"(?<!\w)(?:{words.before[name]})(?!\w)", said, _I)), default=-1)
        for name in ("at_least", "at_most")
    }  # fmt: skip
    best = max(ends, key=lambda name: ends[name])
    return best if ends[best] >= 0 else ""


def _beyond_refused(name: str, right: str, words: Lexicon) -> bool:
    """Whether what is refused behind a number is what lies beyond it: *under 3 MB (bigger ones bounce)*."""
    more = r"(?:bigger|larger|heavier|longer|wider|größer\w*|schwerer\w*)"
    less = r"(?:smaller|shorter|narrower|lighter|kleiner\w*|kürzer\w*)"
    beyond = more if name in UPPER else less
    hit = patterns.match(rf"(?P<before>[^.;\d]{{0,60}}?)\b{beyond}\b(?! (?:than|als)\b)", right, _I)
    if hit is None or patterns.search(r"\b(?:anything|everything|alles)\s*$", hit["before"], _I):
        return hit is not None  # “The player chokes on anything bigger”
    if patterns.search(
        rf"\b(?:{words.rejects}|{words.refusal})\s*(?:any(?:thing)?|all|alles)?\s*$",
        hit["before"],
        _I,
    ):
        return True  # “below 100 kB, the directory rejects larger ones”
    # “Under 500 px will be rejected, use a larger one” refuses what is under it.
    other = rf"\b(?:{words.refusal}|{words.rejects}|{words.becomes}|use|send|upload|choose|take|bring|need\w*|get|looks?|appears?|is|are|will|werden|wird|sind|ist|sende\w*|nimm|wähl\w*)\b"
    return patterns.search(other, hit["before"], _I) is None


def _of_next(behind: str, words: Lexicon) -> bool:
    """Whether a bound between two numbers is the second one's: *1280 x 720 with a minimum width of 640*.

    Args:
        behind: what stands between it and that number.
    """
    topics = "|".join(words.topics.values())
    named = rf"\s*(?:\w+\s+)?(?:{topics}|{words.sized})(?:\s+(?:of|is|von|beträgt))?\s*:?\s*"
    bare = r"\s*(?:of|is|von|beträgt)?\s*:?\s*"
    return bool(patterns.fullmatch(bare, behind, _I) or patterns.fullmatch(named, behind, _I))


_SIGNS = {"at_least": ">=|≥", "at_most": "<=|≤", "below": "<(?!=)", "above": ">(?!=)"}


def _before(left: str, words: Lexicon) -> tuple[int, int, str] | None:
    """The words before a number that make its bound: where they end, where they begin, and which."""
    best: tuple[int, int, str] | None = None
    for name, pattern in words.before.items():
        sign = _SIGNS.get(name, "(?!)")  # “w>=640”: a sign may stand right behind a letter
        for hit in patterns.finditer(
            rf"(?:(?<!\w)(?:{pattern})|(?<=\w)(?:{sign}))(?!\w)", left, _I
        ):
            start, end = hit.span()
            if _weak(hit, left, words):
                continue
            # A longer match that ends there or later says more: “no more than”, not “more than”.
            if best is None or end > best[0] or (end == best[0] and start < best[1]):
                if best is None or start <= best[1] or start >= best[0]:
                    best = end, start, name
    return best


def of_ratio(name: str | None, left: str, right: str, words: Lexicon) -> str | None:
    """The bound of a proportion, which is wide over high."""
    if name not in (None, "between") and not _close(left, right, words):
        return None  # “at least that large and in a 3:4 format”
    if patterns.search(words.packed, left, _I):
        return name  # “compression not higher than 1:20”
    tall = r"\b(?:taller|higher|narrower|höher|schmaler)\s+(?:than|als)\s*$"
    if name in UPPER and patterns.search(tall, left, _I):
        return "at_least"  # “no taller than 1:2”
    return name


def _weak(hit: re.Match[str], left: str, words: Lexicon) -> bool:
    """Whether a small word that may be a bound stands too far from its number to be one: *works from a grey
    picture, … 35 mm wide*."""
    rest = left[hit.end() :]
    if patterns.match(_OF_A_PLACE, left[hit.start() :], _I) or patterns.match(_AS_NEEDED, rest, _I):
        return True
    return bool(
        patterns.fullmatch(words.small, hit.group(), _I) and ("," in rest or len(rest) > _NEAR)
    )


def _close(left: str, right: str, words: Lexicon) -> bool:
    """Whether the words of a bound stand right at a number."""
    before, after = "|".join(words.before.values()), "|".join(words.after.values())
    return bool(
        patterns.search(rf"(?<!\w)(?:{before})(?:\s+\w+)?\s*$", left, _I)
        or patterns.match(rf"\W*(?:{after})(?!\w)", right, _I)
    )


def read_as(
    fields: dict[str, Any], found: Bound, measures: tuple[str, ...]
) -> tuple[dict[str, Any], ...]:
    """What a quantity may be as well: of another measure, or in another way."""
    readings = tuple({**fields, "measure": one} for one in measures)
    if found.unclear:  # whether they are wanted or are not
        name = next((key for key in fields if key in _OTHER_SIDE), "")
        rest = {k: v for k, v in fields.items() if k != name}
        return ({**rest, _OTHER_SIDE[name]: fields[name]}, *readings) if name else readings
    if found.beyond:  # whether it is wished for, is a rule, or only told of, a person says
        return ({k: v for k, v in fields.items() if k != "strength"}, *readings)
    if found.about and "exactly" in fields:
        either = {k: v for k, v in fields.items() if k != "exactly"}
        value = fields["exactly"]
        return ({**either, "at_least": value}, {**either, "at_most": value}, *readings)
    return readings


def of_some(q: Quantity, measure: str, left: str) -> bool:
    """Whether a number may be none, or one of some pictures alone, by the words before it."""
    if (measure in ("size", "ppi") or measure.startswith("print")) and patterns.search(
        _OF_PRODUCT, left, _I
    ):
        return True
    if measure.endswith(("side", "size", "width", "height")) and patterns.search(
        _MAY_REDUCE, left, _I
    ):
        return True
    return (measure == "aspect" and steep(q)) or bool(patterns.search(_OF_THOSE, left, _I))


def steep(q: Quantity) -> bool:
    """Whether a proportion is one that a picture hardly has: *20:1*."""
    wide, _colon, high = q.values[-1].partition(":")
    return high == "1" and float(wide) >= _HARDLY
