"""How many pictures a body wants."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from typing import Any

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.bounding import DENIED
from aptandum.core.rulebook.words.draft import Draft
from aptandum.core.rulebook.words.quantities import Quantity
from aptandum.core.rulebook.words.stated import Stated

_I = int(re.I)
_OF_A_TIME = r"\s+(?:per|an?|each|every|pro|je|am|in der)\s+(?:hour|day|week|Stunde|Tag|Woche)\b"
_BY_THEN = r"\b(?:bis|vor|um|by|until|before|at)\s+(?:[^\W\d]+\s+){0,2}?\d{1,2}(?:[:.]\d\d)?\s*(?:Uhr|o'clock|[ap]\.?m\b\.?)"
"""Until when pictures come, which is no price of them: *by 6 p.m.*."""
_EACH_TIME = r"^\W*(?:pro|je|per|each|every|jeden?|in jedem)\s+(?:Monat|Tag|Woche|Jahr|Seite|month|day|week|year|page)\b"
_OF_SERIES = r"\b(?:series|sequences?|Serien?|Bildserien?|Bildfolgen?)\s+(?:(?!(?:of|von|is|are)\b)[^\W\d]+\s+){0,12}$"
"""What makes a number that of one series among what is handed in: *a series may comprise no more than eight pictures*."""


def counts_in(
    sentence: Stated, every: list[Quantity], bound_of: Callable[[str], str | None]
) -> Iterator[Draft]:
    """How many pictures are handed in together: *up to five works*, *Screenshots: 2 to 8*.

    Args:
        every: the quantities of the sentence; no number of theirs is a count.
        bound_of: the bound that the words before a number make.
    """
    words = sentence.words
    number = r"\d{1,3}|" + "|".join(words.numerals)
    again = r"(?:\s*\(\d{1,3}\))?"  # “six (6)”
    ends = (
        rf"(?:\b({number}){again}\s*(?:{words.to}|or|oder)\s*)?\b({number}){again}\s+(?:[^\W\d]+\s+){{0,2}}?"
        rf"(?:{words.pictures}|(?<=one )(?:image|picture|photo|photograph)|(?<=ein )(?:Bild|Foto))\b"
    )
    both = list(_both(sentence, number))
    yield from both
    if both:
        return
    for whole in (_of_row, _told, _single):
        yield from whole(sentence)
    for counted in (_required, _for_each, _each):
        yield from counted(sentence, number)
    said = patterns.sub(_BY_THEN, "", sentence.said, _I)
    if patterns.search(rf"\b(?:{words.no_rule})|{_EACH_TIME}", said, _I):
        return
    told = rf"(?:{words.pictures})\s*:\s*(?:{words.before['at_most']}|[^\W\d]+)?\s*(?:({number})\s*(?:{words.to})\s*)?({number})(?=\s*(?:[.,;|)]|$))"
    every_hit = [hit for one in (ends, told) for hit in patterns.finditer(one, sentence.said, _I)]
    for hit in every_hit:
        if any(
            q.start < sentence.start + hit.end(2) and sentence.start + hit.start(2) < q.end
            for q in every
        ):
            continue  # “1200 x 800 files”
        condition = rf"(?:^|[,;:])\W*(?:{words.depends})\b[^,;:]*$|{_OF_SERIES}"
        if patterns.search(condition, sentence.said[: hit.start()], _I):
            continue  # “If you send more than 5 pictures, …”
        if (hit[2].lower() in ("1", "one", "ein") and _of_each(sentence, hit.end())) or patterns.match(_OF_A_TIME, sentence.said[hit.end() :], _I):  # fmt: skip
            continue  # “one picture per panel”, “30 images per week”
        inside = sentence.start + hit.start(2)
        if any(a <= inside < b for a, b in sentence.taken):
            continue
        low, high = (words.numerals.get((g or "").lower(), g) for g in hit.groups())
        before = sentence.said[: hit.start()]
        near = re.split(r"[,;:(]", before)[-1]
        bound = bound_of(near) or _bound_behind(sentence, hit.end())
        if patterns.search(rf"\b(?:{words.negation}|{words.rejects})\b", near, _I):
            bound = DENIED.get(bound or "", bound)  # “Do not send more than 20 images”
        limit = _limit(before, words.hands_in, low, high, bound)
        if limit is None:
            continue
        span = sentence.start + hit.start(), sentence.start + hit.end()
        sentence.taken.append(span)
        either = patterns.match(rf"\s+(?:or|oder)\s+(?:{number})\b", sentence.said[hit.end() :], _I)
        more = _with_the_first(limit, hit.group())
        sure = "doubtful" if either or more else "sure"  # “two prints or one file”
        yield sentence.draft({"measure": "set_count", **limit}, span, certainty=sure, readings=more)


_BESIDE_IT = r"\b(?:additional|further|extra|other|weitere|zusätzliche)\b"


def _with_the_first(limit: dict[str, Any], said: str) -> tuple[dict[str, Any], ...]:
    """What is counted with the picture that stands before: *up to eight additional pictures* are nine."""
    if not patterns.search(_BESIDE_IT, said, _I):
        return ()
    counted: dict[str, Any] = {
        bound: [str(int(one) + 1) for one in many] if isinstance(many, list) else str(int(many) + 1)
        for bound, many in limit.items()
    }
    return ({"measure": "set_count", **counted},)


def _bound_behind(sentence: Stated, at: int) -> str | None:
    """The bound right behind pictures that are counted: *ten pictures at most*."""
    for name in ("at_least", "at_most"):
        said = (
            rf"\s*,?\s*\(?(?:{sentence.words.after[name]})(?!\w)(?! (?:than|als)\b)(?!\W{{0,3}}\d)"
        )
        if patterns.match(said, sentence.said[at:], _I):
            return name
    return None


def _both(sentence: Stated, number: str) -> Iterator[Draft]:
    """*At least 3 and at most 9 images*: the number of both ends is of the same pictures."""
    words = sentence.words
    shared = (
        rf"(?:{words.before['at_least']})\s+({number})\s*(?:,|,?\s+(?:and|und|but|aber))\s+"
        rf"(?:{words.before['at_most']})\s+({number})\s+(?:{words.pictures})\b"
    )
    hit = patterns.search(shared, sentence.said, _I)
    if hit is not None and not patterns.search(rf"\b(?:{words.no_rule})", sentence.said, _I):
        low, high = (words.numerals.get(g.lower(), g) for g in hit.groups())
        span = sentence.start + hit.start(), sentence.start + hit.end()
        sentence.taken.append(span)
        yield sentence.draft({"measure": "set_count", "between": [str(low), str(high)]}, span)


def _limit(
    before: str, hands_in: str, low: Any, high: Any, bound: str | None
) -> dict[str, Any] | None:
    """How many are wanted; ``None`` where a number is only told of.

    Args:
        before: the words before it.
        low: the first of two numbers, where there are two.
        bound: what the words before it make of it.
    """
    if low is not None:
        return {"between": [str(low), str(high)]}
    if bound is not None:
        return {bound: str(high)}
    asked = patterns.search(
        rf"\b(?P<may>(?:may|can|kann|können|darf|dürfen)\s+)?(?:{hands_in})(?:\s+(?:a|in) total(?: of)?)?\s+$", before, _I
    )  # fmt: skip
    if asked is None:
        return None
    return {"at_most" if asked["may"] else "exactly": str(high)}


def _single(sentence: Stated) -> Iterator[Draft]:
    """*Upload one photograph only*, *only one picture*."""
    one = r"(?:one|a single|1|ein|ein einziges)"
    picture = r"(?:picture|photo(?:graph)?|image|entry|Foto|Bild)"
    hit = patterns.search(
        rf"\b(?:{one}\s+{picture}\s+only|(?:only|nur)\s+{one}\s+{picture})\b(?!\s+per)", sentence.said, _I
    )  # fmt: skip
    if hit is not None and not patterns.search(_EACH_TIME, sentence.said, _I):
        span = sentence.start + hit.start(), sentence.start + hit.end()
        sentence.taken.append(span)
        yield sentence.draft({"measure": "set_count", "exactly": "1"}, span)


def _required(sentence: Stated, number: str) -> Iterator[Draft]:
    """*Two photographs are required*."""
    words = sentence.words
    needed = r"(?:are|is|will be|sind|werden)\s+(?:required|needed|necessary|requested|expected|erforderlich|nötig|notwendig|benötigt|verlangt)"
    handed = r"(?:abgeben|einreichen|senden|schicken|hochladen|einsenden|mitbringen|liefern)"
    hit = patterns.match(rf"\W*(?:Bitte\s+)?({number})\s+(?:[^\W\d]+\s+){{0,2}}?(?:{words.pictures})\s+(?:{needed}|{handed})\b", sentence.said, _I)  # fmt: skip
    if hit is not None:
        count = words.numerals.get(hit[1].lower(), hit[1])
        span = sentence.start + hit.start(), sentence.start + hit.end()
        sentence.taken.append(span)
        yield sentence.draft({"measure": "set_count", "exactly": str(count)}, span)


def _of_each(sentence: Stated, at: int) -> bool:
    """Whether what is counted is told for each of something that nobody hands in: *one picture per panel*."""
    behind = sentence.said[at:]
    return bool(
        patterns.match(r"\s+(?:per|for (?:each|every)|pro|je|für jede\w*)\s+\w", behind, _I)
    ) and not patterns.match(rf"\s+(?:{sentence.words.by_whom})\b", behind, _I)


def _for_each(sentence: Stated, number: str) -> Iterator[Draft]:
    """*Max. two per author*: the pictures are not named again."""
    words = sentence.words
    for bound in ("at_least", "at_most", "exactly"):
        said = rf"\b(?:{words.before[bound]})\s*({number})\s+(?:(?:prints|pieces|items|submissions|Abzüge)\s+)?(?:{words.by_whom})\b"
        hit = patterns.search(said, sentence.said, _I)
        if hit is not None:
            count = words.numerals.get(hit.group(1).lower(), hit.group(1))
            span = sentence.start + hit.start(), sentence.start + hit.end()
            sentence.taken.append(span)
            yield sentence.draft({"measure": "set_count", bound: str(count)}, span)
            return


def _each(sentence: Stated, number: str) -> Iterator[Draft]:
    """*Three entries each*: so many, or up to so many."""
    words = sentence.words
    said = rf"\W*({number})\s+(?:[^\W\d]+\s+)?(?:{words.pictures})\s+(?:each|apiece|{words.by_whom})\W*$"
    hit = patterns.match(said, sentence.said, _I)
    if hit is not None:
        count = str(words.numerals.get(hit[1].lower(), hit[1]))
        span = sentence.start + hit.start(1), sentence.start + hit.end()
        sentence.taken.append(span)
        fields, readings = (
            {"measure": "set_count", bound: count} for bound in ("exactly", "at_most")
        )
        yield sentence.draft(fields, span, certainty="doubtful", readings=(readings,))


_ROW = r"\W*(?:\d{1,2}: )?(?:number|quantity|count|how many|wie ?viele|anzahl|stückzahl)(?:(?: of)? (?:photos|photographs|images|pictures|files|prints|bilder|fotos))?\s*[,:|?]\s*(?:(?P<low>\d{1,3})\s*(?:–|-|to|bis)\s*)?(?P<high>\d{1,3})\W*$"


def _of_row(sentence: Stated) -> Iterator[Draft]:
    """*Number: 8–25*, as a table or a list has it."""
    hit = patterns.match(_ROW, sentence.said, _I)
    if hit is not None:
        span = sentence.start + hit.start("low" if hit["low"] else "high"), sentence.start + hit.end("high")  # fmt: skip
        sentence.taken.append(span)
        limit = {"between": [hit["low"], hit["high"]]} if hit["low"] else {"exactly": hit["high"]}
        yield sentence.draft({"measure": "set_count", **limit}, span)


def _told(sentence: Stated) -> Iterator[Draft]:
    """*Photos of the goods: minimum 1, maximum 10*, and a heading *Screenshots* with *between 2 and 8*."""
    words = sentence.words
    head = patterns.match(
        rf"(?:[^:\d]*\b)?(?:{words.pictures}|(?:image|picture|photo) count|Bildanzahl)\b(?:\s+[^\W\d]+){{0,3}}\s*[:|]\s*",
        sentence.said,
        _I,
    )
    named = patterns.search(rf"\b(?:{words.pictures})$", sentence.brief.strip(), _I)
    at = head.end() if head is not None else 0
    if head is None and named is None:
        return
    number = r"\d{1,3}|" + "|".join(words.numerals)
    rest = sentence.said[at:]
    both = patterns.match(
        rf"(?:[^\W\d]+\s+)?({number})\s*(?:{words.to})\s*({number})(?=\s*(?:[.,;|]|$))", rest, _I
    )
    if both is not None:
        low, high = (words.numerals.get(g.lower(), g) for g in both.groups())
        span = sentence.start + at, sentence.start + at + both.end()
        sentence.taken.append(span)
        yield sentence.draft({"measure": "set_count", "between": [str(low), str(high)]}, span)
        return
    while True:
        for bound in ("at_least", "at_most"):
            hit = patterns.match(
                rf"[\s,]*(?:and\s+|und\s+)?(?:{words.before[bound]})\s*({number})(?=\s*(?:[.,;](?!\d)|and\b|und\b|$))",
                sentence.said[at:], _I,
            )  # fmt: skip
            if hit is not None:
                break
        else:
            return
        count = words.numerals.get(hit.group(1).lower(), hit.group(1))
        span = sentence.start + at, sentence.start + at + hit.end()
        at += hit.end()
        sentence.taken.append(span)
        yield sentence.draft({"measure": "set_count", bound: str(count)}, span)
