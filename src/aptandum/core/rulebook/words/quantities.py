"""The numbers of a sentence with their units: sizes, ranges, proportions and single ones."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from decimal import Decimal

from aptandum.core.frozen import frozen
from aptandum.core.numbers import FRACTION_FORM
from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.lexicon import Lexicon
from aptandum.core.rulebook.words.unitless import ANOTHER, COUNTED, as_meant

_I = int(re.I)
_NUMBER = FRACTION_FORM + r"|\d{1,3}(?:[ \u00a0\u202f.,]\d{3})+(?:[.,]\d+)?(?!\d)|\d+(?:[.,]\d+)?"
_ONE_BESIDE = (
    r"(?:(?<=\d \d{3}[x×])|(?<=\d \d{3} [x×] )|(?!\d{1,3} \d{3}(?!\d)(?!\s*(?:px|pixel))))"
    rf"(?:{_NUMBER})|\d+"
)
"""The second side of a size, behind which another number may stand: *1200x900 600dpi* has no 900,600, *1 200 x 1 600* has."""
_BYTES = r"(?:[kK]ilo|[mM]ega|[gG]iga)[bB]ytes?\b|[mM]egs?\b|[gG]igs?\b|[kKmMgG][bB]ytes?\b|[kKmMgG]i?[bB]\b|[kKMG]\b(?! ?x)(?! (?:screens?|displays?|monitors?|TVs?|resolution|UHD))"
_INCH = r"in\.(?= |$|,)|in(?=\s*(?:$|[,;.:()/x×–-])|\s+(?:wide|high|tall|long|deep|by|at|or|and|to|from|max|min|minimum|maximum|square|on|print|across|each|per|with|paper|for|of|is|are|must|should|between|below|above|measured)\b)|(?<!\d{3} )in(?= (?:portrait|landscape)\b)"
"""The short word for inches, which is more often another: *800 x 480 in 6 colours*."""
_LENGTH = (
    rf"mm\b|cm\b|millimet(?:re|er)s?|centimet(?:re|er)s?|{_INCH}|inch(?:es)?|(?<!\d{{4}})[\"″”]"
)
_OTHER = r"%|per ?cent|Prozent|dpi\b|ppi\b|(?:dots|pixels) per inch|(?:dots|pixels?|px)/in(?:ch)?\b|(?:Punkte|Pixel) (?:pro|je) Zoll|MP\b|Mpx\b|MPix\b|mega-?pixel[sn]?\b|(?:million|Mio\.?|Millionen) pixels?\b|°|deg(?:rees?)?\b|Grad\b"

_BETWEEN = (
    r"≥|>=|≤|<=|factor|value|of|von|at|is|must|be|should|set|to|least|most|minimum|maximum|above|over|level|setting|not|less|lower|than|no"
    r"|mindestens|höchstens|mind\.?|min\.?|max\.?|muss|ist|beträgt|ab"
)
"""Words between *quality* and its number."""
_NO_SCALE = r"(?![^.;]{0,24}\b(?:out of|of|von)\s+1[0-2]\b)(?!/1[0-2]\b)"
"""A quality *out of 12* is of another scale, which no rule has."""

_OF_TWELVE = 12
_RATIO = r"(?<![\w.,:/])(\d{1,2}(?:[.,]\d+)?)\s*:\s*(\d{1,2}(?:[.,]\d+)?)"
_PICTURE_SIZES = ("2", "4", "5", "6", "8", "12", "16")
"""What stands before a K that names a size of pictures, and no bytes."""
_RATIOS = ("9:16", "9:21", "10:16", "16:10", "11:14")
"""Proportions that look like an hour."""
_TIMES = (
    r"(?<![\w.,])(?P<n>\d(?:[.,]\d+)?)[ -]?(?:times|mal)\s+"
    r"(?:(?:as|so)\s+(?P<one>wide|broad|breit|tall|high|hoch)\s+(?:as|wie)\s+(?:(?:it|they|it's|es|sie)\s+(?:is\s+|are\s+)?)?(?:high|tall|hoch|wide|broad|breit)\b"
    r"|(?:(?:its|the|their|of (?:its|the))\s+)(?P<other>width|height)\b)"
)
"""*3 times as wide as it is high*: a proportion."""
_OF_LIST = r"\d:\d+\s*,\s*$|\b(?:choose|choice|select|wählen|Wahl)\b[^.;]*$"
"""What stands before two proportions that are a choice, and no range."""
_FROM_TO = r"\b(?:between|from|range|zwischen|von)\b"
_ONE_TO = r"(?:up )?to|through|bis|–|—|-"
"""What is said of a range alone: without “between”, “and” makes a list."""
_SHARES = {
    "half": "50", "a half": "50", "one half": "50", "a third": "33.3", "one third": "33.3", "two thirds": "66.7", "two-thirds": "66.7",
    "three quarters": "75", "three-quarters": "75", "a quarter": "25", "one quarter": "25", "die hälfte": "50", "der hälfte": "50",
    "ein drittel": "33.3", "einem drittel": "33.3", "zwei drittel": "66.7", "zwei dritteln": "66.7", "drei viertel": "75", "drei vierteln": "75",
    "2/3": "66.7", "3/4": "75", "1/3": "33.3", "1/2": "50", "3/5": "60", "4/5": "80",
}  # fmt: skip
"""Shares in words, in per cent."""
_FRACTIONS = "|".join(sorted(_SHARES, key=len, reverse=True))
_OF_PICTURE = r"(?:of\s+(?:the\s+|its\s+)?(?:picture|image|photo|frame|height|total height)|der (?:gesamten )?(?:Bild|Foto)\w*|des (?:Bildes|Fotos))"
SHEETS = {2: "420 x 594 mm", 3: "297 x 420 mm", 4: "210 x 297 mm", 5: "148 x 210 mm", 6: "105 x 148 mm"}  # fmt: skip
"""Sheets of ISO 216, upright."""


@frozen
class Quantity:
    """A number, or two or four that belong together.

    Attributes:
        kind: ``px``, ``size``, ``bytes``, ``length``, ``print size``, ``share``, ``ppi``,
            ``megapixels``, ``degrees``, ``characters``, ``bit``, ``ratio``.
        values: as a rulebook writes them; two where it is a range.
        start, end: in the text.
        more: another quantity follows in the sentence.
    """

    kind: str
    values: tuple[str, ...]
    start: int
    end: int
    more: bool = False


def plain(text: str, comma: bool) -> str:
    """A number as a rulebook writes it: no grouping, a decimal point.

    Args:
        comma: the language parts decimals by a comma, and groups by a point.
    """
    if patterns.fullmatch(FRACTION_FORM, text):
        return text.replace("\u00a0", " ")
    if text.lower() in ("one", "a", "ein", "einem", "einen"):
        return "1"
    text = re.sub(r"[ \u00a0\u202f]", "", text)
    group, part = (".", ",") if comma else (",", ".")
    text = re.sub(rf"(?<=\d){re.escape(group)}(?=\d{{3}}(?!\d))", "", text)
    text = text.replace(part, ".").replace(group, ".")
    return text.rstrip(".")


def _forms(said: str, words: Lexicon, bounds: str) -> tuple[tuple[str, str], ...]:
    """How quantities are written, the longest first: what each is, and its pattern."""
    unit = rf"{_BYTES}|{_LENGTH}|{_OTHER}|" + "|".join(words.units.values())
    another = ANOTHER.format(unit=unit, counted=COUNTED)
    spelt = "|".join(words.numerals)
    number = rf"(?<![\w.,/:-])({_NUMBER})(?:\s*\((?:{spelt})\))?"
    second = rf"({_NUMBER})"
    between = patterns.search(_FROM_TO, said, _I)
    sides = "|".join(words.topics[name] for name in ("longest_side", "shortest_side", "both"))
    wide = r"(?:\s*(?:wide|high|tall|breit|hoch)\b|\s*\(?[whb]\b(?!\s*[x×:/]\s*[whb]\b)\)?|\s*\(\s*(?:width|height|horizontal(?:ly)?|vertical(?:ly)?|wide|high|Breite|Höhe|breit|hoch)\s*\))?"
    # “600 x 600 baseline JPEG” has no bytes: a unit is a word of its own.
    whole = rf"(?:({unit})(?![^\W\d]))?"
    size = rf"{number}\s*({unit})?{wide}\s*(?:{words.by})\s*({_ONE_BESIDE})\s*(?:\((?=(?:{unit})\)))?{whole}{wide}"
    return (
        ("size range", rf"{size}\s*(?:{words.to if between else _ONE_TO})\s*{second}\s*(?:{unit})?\s*(?:{words.by})\s*{second}\s*({unit})?"),
        ("size", size),
        ("size", r"(?<![\w.,])(\d{2,4})()\s*(?:columns|Spalten)\s*(?:,|by|x|×|and|und|mal)?\s*(\d{2,4})()\s*(?:rows|lines|Zeilen)\b"),
        ("rows first", r"(?<![\w.,])(\d{2,4})\s*(?:rows|lines|Zeilen)\s*(?:,|by|x|×|and|und|mal)?\s*(\d{2,4})\s*(?:columns|Spalten)\b"),
        ("lettered", rf"(?<![\w-])([WBH])\s*[:=]?\s*{second}\s*({unit})?\s*(?:{words.by})\s*(?!\1)[WBH]\s*[:=]?\s*{second}\s*({unit})?(?!\w)"),
        ("times", _TIMES),
        ("square range", rf"(?:between|zwischen)\s+(?:an?\s+)?(?:square|Quadrat|quadratisch)\s+(?:and|und)\s+{_RATIO}(?![\w:]|[.,]\d)"),
        ("fractions", rf"\b({_FRACTIONS})\s*(?:{words.to})\s*({_FRACTIONS})\s+(?={_OF_PICTURE})"),
        ("fractions", rf"(?<!\w)(?:{bounds})\s+({_FRACTIONS})\s+(?={_OF_PICTURE})"),
        ("ratio range", rf"{_RATIO}\s*(?:{words.to if between else _ONE_TO})\s*{_RATIO}(?![\w:]|[.,]\d)"),
        ("ratio", r"(?<![\w.,:/])(\d{1,2}(?:[.,]\d+)?)\s*:\s*(\d{1,2}(?:[.,]\d+)?)(?![\w:]|[.,]\d)"),
        ("ratio", r"(?:ratio|proportions?|[Vv]erhältnis)\s*(?:of|is|von|:)?\s*(\d{1,2}(?:[.,]\d+)?)(?:\s+(?:to|by|zu)\s+|\s*/\s*)(\d{1,2}(?:[.,]\d+)?)(?![\w:]|[.,]\d)"),
        ("plain ratio", r"(?:ratio|[Vv]erhältnis)\s*(?:(?:of|is|von|must be|between|zwischen|from)\s+|:\s*)?(\d[.,]\d{1,3})(?:\s*(?:to|and|–|-|bis|und)\s*(\d[.,]\d{1,3}))?(?![\w:]|[.,]\d|\s*[x×:])"),
        ("quality", rf"(?:quality|Qualität)\s*:?\s*(?:(?:{_BETWEEN}|from|between|zwischen|von)\s+)*(\d{{2,3}})\s*%?\s*(?:{words.to}|and|und)\s*(\d{{2,3}})(?![\d.,]*\s*(?!%)(?:{unit}|x|×)){_NO_SCALE}"),
        ("range", rf"{number}\s*({unit})?\s*(?:{words.to})\s*{second}\s*({unit})(?![^\W\d])"),
        ("quality", rf"(?:quality|Qualität)\s*:?\s*(?:(?:{_BETWEEN})\s+)*(?:[<>]=?\s*|[≥≤]\s*)?(\d{{2,3}})(?:\s*%?\s*(?:{words.to})\s*(\d{{2,3}}))?(?![\d.,]*\s*(?!%)(?:{unit}|x|×)){_NO_SCALE}"),
        ("quality", r"\bq\s?(?:>=|≥|=|:)?\s?(\d{2,3})(?:\s?[-–]\s?(\d{2,3}))?(?=\+|\W|$)"),
        ("quality", rf"(?:quality|Qualitäts?)[\s-]?(?:level|setting|stufe|wert|faktor)\s*(\d{{2,3}})(?![\d.,]*\s*(?!%)(?:{unit}|x|×)){_NO_SCALE}"),
        ("quality", r"(?<![\w.,])(\d{2,3})(?=\+\s*(?:quality|Qualität))"),
        ("quality", rf"(?<![\w.,])(\d{{2,3}})\s*%?\s*(?:{words.to})\s*(\d{{2,3}})\s*%?\s*(?:quality|Qualität)"),
        ("quality", r"(?<![\w.,])(\d{2,3})\s*%?\s*(?:quality|Qualität)"),
        ("colours", rf"(?:colou?rs|Farben)\s*[:|]\s*(?:(?:{bounds})\s+)?({_NUMBER})(?![\d.,]*\s*(?:{unit}))"),
        ("unit first", rf"\(\s*(?:in\s+)?({unit})\s*\)\s*[:=]?\s*(?:(?:{bounds})\s*)?{second}(?:\s*(?:{words.to})\s*{second})?(?![\w%]|[.,]\d|\s*(?:{unit}|{words.by}))"),
        ("one", rf"{number}(?:\s*|-)({unit})(?![A-Za-z])"),
        ("density", rf"\b(?:dpi|ppi)\s*[:=]?\s*(?:(?:{_BETWEEN}|{bounds})\s+)*({_NUMBER})(?![\d.,]*\s*(?:{unit}|{words.by}))"),
        ("side", rf"{number}(?=\s+(?:on|in|along|at|for|an|auf)\s+(?:(?:the|its|der|die)\s+)?(?:{sides})\b)"),
        ("side", rf"(?<![\w.,/:-])(\d{{3,5}})(?=\s+(?:{sides})\b)"),
        ("squared", rf"\b(?:square|quadratisch)\s+(\d{{3,5}})(?![\d.,]*\s*(?:(?!px|pixels?|Pixel)(?:{unit})|{words.by}|{words.to}))"),
        ("sided", r"(?<![\w.,/:-])(\d{3,5})(?=\s+(?:wide|high|tall|across|breit|hoch)\b)"),
        ("named", rf"\b(?:{words.topics['width']}|{words.topics['height']}|{sides})\s*(?:[:=]|[<>]=?|[≥≤])?\s*(?:(?:of|is|to|at|not|never|nicht|nie|{bounds})\s+)*(?<![\w.,])(\d{{3,5}})(?=\s+(?:[-–/]\s|[<≤>≥]|{another})|\s*(?:[;)+|]|[.,](?!\d)|$|and\b|und\b|or (?:more|larger|above|bigger|over|less|smaller|below)\b|oder (?:mehr|größer|höher|breiter|weniger|kleiner)\b))"),
        ("named range", rf"\b(?:{words.topics['width']}|{words.topics['height']}|{sides})\s*[:=]?\s*(?:(?:of|is|must be|between|from|zwischen|von|muss)\s+)*(?<![\w.,])(\d{{3,5}})\s*(?:{words.to}|and|und)\s*(\d{{3,5}})(?=\s*(?:[;)]|[.,](?!\d)|$))"),
        ("sheet", r"(?<![\w-])(?:DIN )?A([2-6])(?:,? (landscape|quer)\w*|(?=,? (?:portrait|upright|format|size|hoch))|(?= \d{2,4} ?[dp]pi\b))"),
        ("one", r"(?<![\w-])(one|ein)[ -](bit)s?\b"),
        ("one", r"(?<!half )(?<!quarter of )\b(a)\s+((?:mega|giga)byte|[MG]B)\b"),
        ("one", rf"\b(einem|einen|{'|'.join(words.numerals)})\s+((?:mega|giga|kilo)bytes?|mega-?pixel[sn]?|[MGk]B)\b"),
        ("shared", rf"{number}(?=\s*(?:or|oder|/)\s*(?:{_NUMBER})\s*-?\s*({words.units['bit']})(?![A-Za-z]))"),
        ("shared", rf"{number}(?=(?:\s*,\s*(?:{_NUMBER}))*\s*,?\s+(?:or|oder)\s+(?:{_NUMBER})\s*({unit})(?![A-Za-z]))"),
        ("rowed", rf"^\W*(?:pixels?|Pixel)[ \t|:]+(?:(?:{bounds})\s+)?({_NUMBER})(?![\d.,]*\s*(?:{unit}|{words.by}|{words.to}))"),
        ("shared", rf"{number}(?=\s*\(?(?:minimum|min\.?|mindestens|mind\.?)\)?\s*(?:,|to|bis|and|und|but|aber|–|-)\s*(?:(?:{bounds})\s*)?(?:{_NUMBER})\s*({unit})(?![A-Za-z]))"),
        ("bounded", rf"(?<!\w)(?:{words.before['at_least']})\s*({_NUMBER})(?=\s*,\s*(?:(?:and|but|und|aber)\s+)?(?:{words.before['at_most']})\s*(?:{_NUMBER})\s*({unit})(?![A-Za-z]))"),
        ("shared", rf"{number}(?=\s*(?:and|but|und|aber|or|oder)\s+(?:(?:an?|eine[rn]?)\s+\w+\s+(?:of|von)\s+)?(?:{bounds})\s*(?:{_NUMBER})\s*({unit})(?![A-Za-z]))"),
    )  # fmt: skip


def quantities(text: str, start: int, end: int, words: Lexicon) -> list[Quantity]:
    """The quantities of a part of a text, in their order; none overlaps another."""
    bounds = "|".join(words.before.values())
    found: list[Quantity] = []
    for form, pattern in _forms(text[start:end], words, bounds):
        said = (
            _without(text[start:end], start, found) if form in ("one", "range") else text[start:end]
        )
        for hit in patterns.finditer(pattern, said, _I):
            span = hit.start() + start, hit.start() + start + len(hit.group().rstrip())
            if any(span[0] < q.end and q.start < span[1] for q in found):
                continue
            if form in (
                "quality",
                "colours",
                "density",
                "named",
                "named range",
                "rowed",
                "fractions",
                "bounded",
                "ratio",
                "plain ratio",
            ):
                span = hit.start(1) + start, span[1]  # the words before it say which bound it is
            if _is_none(form, hit, text[start:end], words):
                continue
            if form == "unit first":
                span = hit.start(2) + start, span[1]
            made = _made(form, hit, span, words)
            if made is not None and _ends_a_name(text, span[1]):
                continue
            if made is not None:
                upside = (
                    r"^[\s(,]*(?:height[\s-]*(?:to|:|/|by)[\s-]*width|Höhe\s*(?:zu|:)\s*Breite)"
                )
                over = r"\b(?:height[\s-]*(?:to|:|/|by)[\s-]*width|Höhe\s*(?:zu|:)\s*Breite)\b[^.;\d]{0,24}$"
                if form == "ratio" and (
                    patterns.search(upside, text[span[1] : end], _I)
                    or patterns.search(over, text[start : span[0]], _I)
                ):
                    made = replace(made, values=(":".join(reversed(made.values[0].split(":"))),))
                tall = rf"^[\s(]*(?:px|pixels?|{_LENGTH})?[\s(,]*(?:{words.high_first})\b"
                high = rf"^\W*(?:{_NUMBER})\s*(?:px|pixels?|in|{_LENGTH})?\s*\(?\s*(?:high|tall|height|hoch|Höhe|h)\b"
                first = rf"\b(?:{words.high_first})\b\W{{0,4}}$"
                if "size" in form and (
                    patterns.search(tall, text[span[1] : end], _I)
                    or patterns.search(first, text[start : span[0]], _I)
                    or patterns.search(high, hit.group(), _I)
                ):
                    made = replace(made, values=tuple(map(_turned, made.values)))
                found.append(_counted(made, text[start:end], words))
    found += _trailing(text, start, end, words, found, bounds)
    return [
        _without_pixels(q, text) for q in _in_one_unit(sorted(found, key=lambda q: q.start), text)
    ]


def _is_none(form: str, hit: re.Match[str], said: str, words: Lexicon) -> bool:
    """Whether what has the form of a quantity is none: an hour, two numbers that fall, a list's first ratios."""
    if form == "ratio":
        return _is_time(said, hit)
    if form == "range":
        return _falls(hit, words)  # “long side 800 - 300 dpi”
    if form != "ratio range":
        return False
    hours = len(hit.group(2)) == len(hit.group(4)) == 2
    return hours or patterns.search(_OF_LIST, said[: hit.start()], _I) is not None


def _falls(hit: re.Match[str], words: Lexicon) -> bool:
    """Whether of two numbers with a dash between the first is the larger, which is no range."""
    low, high = (plain(hit.group(i), words.decimal_comma) for i in (1, 3))
    numbers = all(re.fullmatch(r"\d+(?:\.\d+)?", one) for one in (low, high))
    return (
        numbers
        and not hit.group(2)
        and float(low) > float(high)
        and not re.search(r"\d[-–]\d", hit.group())
    )


def _without(said: str, start: int, found: list[Quantity]) -> str:
    """A sentence with its sizes blank: the last number of *1200 x 900 300 KB* is none of theirs."""
    for q in found:
        if "size" in q.kind:
            said = said[: q.start - start] + "|" * (q.end - q.start) + said[q.end - start :]
    return said


def _ends_a_name(text: str, end: int) -> bool:
    """Whether what would be inches is the mark behind a name: *the profile "Coated 2", 300 ppi*."""
    mark = text[end - 1 : end]
    if mark not in tuple('"”″'):
        return False
    line = text[text.rfind("\n", 0, end) + 1 : end - 1]
    last = max(line.rfind(one) for one in '"“„')
    opens = (
        last >= 0
        and line[last + 1 : last + 2].isalpha()
        and line[last - 1 : last] in ("", " ", "(")
    )
    return opens and last >= 0


def _without_pixels(q: Quantity, text: str) -> Quantity:
    if q.kind != "size":
        return q
    before, own, behind = text[: q.start], text[q.start : q.end], text[q.end :]
    kind, values = as_meant(q.values, before, own, behind)
    return replace(q, kind=kind, values=values)


def _in_one_unit(found: list[Quantity], text: str) -> list[Quantity]:
    """*4 x 6, 5 x 7 or 8 x 10 inches*: sizes without a unit have that of the last of their list."""
    made = list(found)
    for i in range(len(made) - 2, -1, -1):
        one, other = made[i], made[i + 1]
        listed = patterns.fullmatch(
            r"\s*(?:,|,?\s*(?:or|and|oder|und)|/)\s*", text[one.end : other.start], _I
        )
        if one.kind == "size" and other.kind == "print size" and listed:
            unit = other.values[-1].rpartition(" ")[2]
            made[i] = replace(
                one, kind="print size", values=tuple(f"{value} {unit}" for value in one.values)
            )
    return made


_BETTER = r"even better|still better|better|noch besser|besser|lieber"


def _trailing(
    text: str, start: int, end: int, words: Lexicon, found: list[Quantity], bounds: str
) -> Iterator[Quantity]:
    """*At least 1000 pixels wide and not more than 2000*, *(1200 recommended)*: a bare number with a bound of its own, or that
    is wished for, has the unit of the quantity before it."""
    for q in found:
        if q.kind not in ("px", "bytes", "ppi") or len(q.values) > 1:
            continue
        hit = patterns.match(
            rf"(?:\s+[^\W\d]+){{0,4}}?\s*(?:,|\(|and|but|or|und|aber|oder|,\s*(?:and|but|or))\s*(?:{bounds})\s+({_NUMBER})(?=\s*(?:[;)]|[.,](?!\d)|$))",
            text[q.end : end], _I,
        )  # fmt: skip
        hit = hit or patterns.match(
            rf"(?:\s+[^\W\d]+){{0,4}}\s*[,(]\s*(?:(?:{words.should}|{_BETTER})\s+)?({_NUMBER})(?:(?<=\d)\s+(?:is |ist )?(?:{words.should}))?(?=\s*(?:[;)]|[.,](?!\d)|$))",
            text[q.end : end], _I,
        )  # fmt: skip
        if hit is not None and not patterns.search(
            rf"\b(?:{bounds}|{words.should}|{_BETTER})\b", hit.group(), _I
        ):
            hit = None  # a bare number alone is of something else
        if (
            q.kind == "bytes"
            and hit
            and patterns.search(r"\b(?:each|apiece|per|je|pro)\b", hit.group(), _I)
        ):
            hit = None  # “300 kB each, up to 8” counts them
        if hit is not None:
            value = plain(hit.group(1), words.decimal_comma)
            _first, space, unit = q.values[0].partition(" ")
            at = q.end + hit.start(1), q.end + hit.end(1)
            yield Quantity(q.kind, (f"{value}{space}{unit}",), *at)


def _counted(q: Quantity, sentence: str, words: Lexicon) -> Quantity:
    """*At least 1,000,000 pixels*: no side has so many, it is how many a picture has."""
    sides = "|".join(words.topics[one] for one in ("width", "height", "longest_side", "shortest_side", "both"))  # fmt: skip
    many = q.kind == "px" and all(patterns.fullmatch(r"\d{6,}", one) for one in q.values)
    if not many or patterns.search(rf"\b(?:{sides})\b", sentence, _I):
        return q
    return replace(q, kind="megapixels", values=tuple(f"{Decimal(one) / 1_000_000:f}" for one in q.values))  # fmt: skip


def _turned(size: str) -> str:
    """A size that names its height first, as a rulebook writes it."""
    first, _by, rest = size.partition(" x ")
    second, space, unit = rest.partition(" ")
    return f"{second} x {first}{space}{unit}"


def as_held(q: Quantity, behind: str, words: Lexicon) -> Quantity:
    """A size with the way up that stands in brackets behind it, and that it is not written in: *45 x 35 mm (upright)*."""
    said = re.match(r"[^.;,()\d]{0,12}\(([^()\d]{4,24})\)", behind)
    hit = re.fullmatch(r"([\d.]+) x ([\d.]+)( \w+)?", q.values[0]) if q.values else None
    if said is None or hit is None or len(q.values) > 1 or "size" not in q.kind:
        return q
    way = next(
        (n for n, p in words.turns.items() if patterns.fullmatch(f"(?:{p}|{n})(?: format| orientation)?", said[1], _I)), ""
    )  # fmt: skip
    upright = float(hit[1]) < float(hit[2])
    if hit[1] == hit[2] or way not in ("upright", "landscape") or upright == (way == "upright"):
        return q
    return replace(q, values=(_turned(q.values[0]),))


def _is_time(sentence: str, hit: re.Match[str]) -> bool:
    """Whether two numbers with a colon are an hour: two digits behind it, and nothing that speaks of a
    shape."""
    shape = r"compress|kompr|ratio|aspect|proportion|shape|format|Seitenverhältnis|Form"
    hour = r"\b(?:a\.?m|p\.?m|o'clock|opens?|closes?|until|by|Uhr|bis|um)\b"
    if hit.group(0) in _RATIOS and not patterns.search(hour, sentence, _I):
        return False
    return len(hit.group(2)) == 2 and not patterns.search(shape, sentence, _I)


def _shape(ratio: tuple[str, str]) -> float:
    """Width over height of a proportion."""
    return float(ratio[0]) / (float(ratio[1]) or 1)


_SIDES_OF = {"ratio": (1, 2), "squared": (1, 1), "rows first": (2, 1)}
"""Which of what was found are width and height."""


def _made(form: str, hit: re.Match[str], span: tuple[int, int], words: Lexicon) -> Quantity | None:
    def n(i: int) -> str:
        said = hit.group(i)
        return str(words.numerals.get(said.lower()) or plain(said, words.decimal_comma))

    if form in _SIDES_OF:
        kind, by = ("ratio", ":") if form == "ratio" else ("size", " x ")
        return Quantity(kind, (by.join(map(n, _SIDES_OF[form])),), *span)
    if form == "fractions":
        return Quantity("share", tuple(f"{_SHARES[one.lower()]} %" for one in hit.groups()), *span)
    if form == "times":
        return _times(hit, span, words)
    if form == "plain ratio":
        return Quantity("ratio", tuple(f"{n(i)}:1" for i in (1, 2) if hit.group(i)), *span)
    if form == "square range":
        return Quantity("ratio", ("1:1", f"{n(1)}:{n(2)}"), *span)
    if form == "ratio range":
        low, high = sorted(((n(1), n(2)), (n(3), n(4))), key=_shape)
        return Quantity("ratio", (":".join(low), ":".join(high)), *span)
    if form == "lettered":
        unit = str(hit.group(5) or hit.group(3) or "")
        kind = _kind(unit, words) if unit else "px"
        if kind not in ("px", "length"):
            return None
        named = f"{n(2)} x {n(4)}" + (f" {_length(unit)}" if kind == "length" else "")
        size = _turned(named) if hit.group(1).upper() == "H" else named
        return Quantity("size" if kind == "px" else "print size", (size,), *span)
    if form in ("density", "colours", "side", "sided", "named", "named range", "rowed"):
        values = (n(1), n(2)) if form == "named range" else (n(1),)
        return Quantity({"density": "ppi", "colours": "colours"}.get(form, "px"), values, *span)
    if form == "sheet":
        sheet = SHEETS[int(hit.group(1))]
        return Quantity("print size", (_turned(sheet) if hit.group(2) else sheet,), *span)
    if form == "quality":
        return _quality(hit, span, words)
    if form in ("size", "size range"):
        unit = hit.group(hit.re.groups) or hit.group(4) or hit.group(2) or ""
        kind = _kind(unit, words) if unit else "px"
        if kind not in ("px", "length"):
            return None
        tail = f" {_length(unit)}" if kind == "length" else ""
        sizes = [f"{n(1)} x {n(3)}{tail}"]
        if form == "size range":
            sizes.append(f"{n(5)} x {n(6)}{tail}")
        return Quantity("size" if kind == "px" else "print size", tuple(sizes), *span)
    if form == "unit first":
        kind = _kind(hit.group(1), words)
        held = [n(i) for i in (2, 3) if hit.group(i)]
        return Quantity(kind, tuple(_written(one, hit.group(1), kind) for one in held), *span)
    last = 4 if form == "range" else 2
    unit = hit.group(last)
    kind = _kind(unit, words)
    if unit == "K" and form == "one" and n(1) in _PICTURE_SIZES:
        return None  # “up to 4K (3840 x 2160)”
    if form == "range" and hit.group(2) and _kind(hit.group(2), words) != kind:
        return None  # “up to 10 frames and 1 MB”
    said = [n(1), n(3)] if form == "range" else [n(1)]
    first = hit.group(2) if form == "range" and hit.group(2) else unit
    units = [first, unit] if form == "range" else [unit]
    return Quantity(kind, tuple(map(_written, said, units, [kind] * len(said))), *span)


def _quality(hit: re.Match[str], span: tuple[int, int], words: Lexicon) -> Quantity | None:
    """A quality of 100, or a grade of another scale; ``None``: it is of neither."""
    both = hit.re.groups > 1 and hit.group(2)
    if max(int(one) for one in hit.groups() if one) > 100:
        return None
    if max(int(one) for one in hit.groups() if one) <= _OF_TWELVE and "%" not in hit.group():
        return Quantity(
            "grade", (plain(hit.group(1), words.decimal_comma),), *span
        )  # of another scale, though it does not say so
    return Quantity(
        "quality",
        (plain(hit.group(1), words.decimal_comma), plain(hit.group(2), words.decimal_comma))
        if both
        else (plain(hit.group(1), words.decimal_comma),),
        *span,
    )


def _times(hit: re.Match[str], span: tuple[int, int], words: Lexicon) -> Quantity:
    """The proportion of what is so many times as wide as it is high."""
    many = plain(hit["n"], words.decimal_comma)
    wide = hit["one"] in ("wide", "broad", "breit") if hit["one"] else hit["other"] == "height"
    return Quantity("ratio", (f"{many}:1" if wide else f"1:{many}",), *span)


def _kind(unit: str, words: Lexicon) -> str:
    if patterns.fullmatch(_BYTES, unit) and len(unit) > 2:
        return "bytes"
    for kind, pattern in words.units.items():
        if patterns.fullmatch(pattern, unit, _I) and not (kind == "bytes" and unit == "b"):
            return {"bytes": "bytes"}.get(kind, kind)
    if patterns.fullmatch(_BYTES, unit):
        return "bytes"
    if patterns.fullmatch(_LENGTH, unit, _I):
        return "length"
    low = unit.lower()
    if low in ("dpi", "ppi") or low.endswith((" inch", " zoll", "/inch", "/in")):
        return "ppi"
    if low.startswith(("mp", "mega", "mil", "mio")):
        return "megapixels"
    return "share" if low in ("%", "percent", "per cent", "prozent") else "degrees"


def _length(unit: str) -> str:
    low = unit.lower().rstrip(".")
    if low.startswith(("mm", "millim")):
        return "mm"
    return "cm" if low.startswith(("cm", "centim")) else "in"


def _written(value: str, unit: str, kind: str) -> str:
    if kind == "length":
        return f"{value} {_length(unit)}"
    if kind == "share":
        return f"{value} %"
    if kind == "bytes" and patterns.fullmatch(_BYTES, unit):
        letters = unit[0].upper() + ("iB" if unit[1:2] == "i" and len(unit) == 3 else "B")
        return f"{value} {letters}"
    tails = {"degrees": " deg", "seconds": " s", "rate": " per second"}
    return value + tails.get(kind, "")
