"""A text taken apart: headings that begin a brief, items of lists, and sentences."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

from aptandum.core.frozen import frozen
from aptandum.core.rulebook.words.counted import COUNTED, counted_heading, counted_lines
from aptandum.core.rulebook.words.labels import begins_with_property, labels_in, names_property
from aptandum.core.rulebook.words.patterns import finditer, match, search
from aptandum.core.rulebook.words.tables import is_row
from aptandum.core.rulebook.words.unmarked import SHORT, ended, short_lines

_I = int(re.I)


@frozen
class Part:
    """A heading or a sentence.

    Attributes:
        start, end: in the text.
        heading: it begins a brief.
        listed: it is an item of a list.
    """

    start: int
    end: int
    heading: bool = False
    listed: bool = False


_BULLET = re.compile(
    r"\s*(?:[-*•·–☐□✓✔✅☑✗✘❌✖⛔🚫►▶▪●○‣➤]\ufe0f?|\[[ x]?\]|\d{1,2}[.)]|\(\d{1,2}\)|\[\d{1,2}\]|§\s?\d{1,3}[a-z]?\.?|[A-Z]\.\d{1,2}(?=\s+[A-ZÄÖÜ])|\d{1,2}(?:\.\d{1,2})+\.?(?=\s+[A-ZÄÖÜ][a-zäöü])|\(?[a-z][.)])\s+"
)
_ABBREVIATED = re.compile(
    r"\b(?:z|d|u|o|max|min|approx|e\.g|i\.e|ca|no|nr|z\. ?b|incl|inkl|zzgl|bzw|ggf|evtl|vgl|abb|resp|mind|mio|mill)\.$",
    _I,
)


_ASKS = r"\s*(?:Q|F|Question|Frage)\s?\d*\s?[:.)]\s"
"""How a question begins in a list of them."""
_MONTH = r"^\s+(?:jan|feb|mär|mar|apr|ma[iy]|jun|jul|aug|sep|o[kc]t|nov|de[zc]|\d(?!st\b|nd\b|rd\b|th\b))"
"""What begins a month: *3. Mai* is one date and not the end of a sentence."""


_KIND = (
    r"\W*(?:first|second|third|scanned|unmounted|mounted|additional|further|secondary|alternate|extra|weitere|zusätzliche|gescannte|erstes?|zweites?)"
    r" (?:[\w-]+ )?(?:photos?|photographs?|images?|pictures?|drawings?|originals|scans|prints|slides|illustrations|graphics"
    r"|logos?|screenshots|zeichnungen|abbildungen|grafiken|bild|bilder|fotos?): "
)


def of_some_pictures(said: str) -> bool:
    """Whether a sentence begins with the name of some of the pictures: *Scanned drawings: …*, *First image: …*."""
    return match(_KIND, said, _I) is not None


_SECTION = re.compile(
    r"\s*(?:[A-Z]\.?\d{1,2}|§ ?\d{1,3}|(?:Art|Abs|No|Nr)\. ?\d{1,3})[.):]?(?=\s+[^\W\d])"
)


def mark_of(line: str) -> int:
    """How many letters of a line are the mark of an item or the count of a section: *2.*, *(3)*, *B.1*; 0: it has none."""
    hit = _BULLET.match(line) or _SECTION.match(line)
    return hit.end() if hit is not None else 0


def parts(text: str) -> Iterator[Part]:
    """Headings and sentences, in their order."""
    labels = labels_in(text)
    last = max(labels, default=-1)
    one_each = _one_sentence_each(text, sorted(labels))
    item = -1  # where the item of a list ends that names a picture
    close, above = False, -1  # right below such a line; where the last of them ends
    rowed, ended = False, -1  # a line below another with such a name; where the part before ended
    lists = _Lists()
    for part in _lines(text):
        begin = part.start
        while begin < part.end and text[begin].isspace():
            begin += 1
        if begin in labels:
            rowed = ended >= 0 and "\n\n" not in text[ended:begin]
            close, above = above >= 0 and not text[above:begin].strip(), _line_end(text, begin)
        elif rowed and "\n\n" in text[ended:begin] and not part.heading:
            yield Part(
                begin, begin, heading=True
            )  # what stands apart below a row of them is of all
            rowed = False
        elif close and begin > above and begins_with_property(text[begin : part.end]):
            yield Part(
                begin, begin, heading=True
            )  # and so is what names a property below such a row
            rowed = close = False
        if lists.ended_by(part, apart=ended >= 0 and "\n\n" in text[ended:begin]):
            yield Part(begin, begin, heading=True)
        ended = part.end
        if item >= 0 and "\n" in text[item:begin]:
            item = -1
            if part.listed and begin not in labels:
                yield Part(begin, begin, heading=True)  # the next item names none, and is of all
        if not part.heading and begin in labels:
            name, rules = labels[begin]
            yield Part(*name, heading=True)
            item = part.end if part.listed else -1
            part = replace(part, start=min(rules, part.end))
        item = part.end if item >= 0 else -1
        if text[part.start : part.end].strip():
            yield from _pieces(text, part)
        if one_each and begin == last:
            yield Part(part.end, part.end, heading=True)


class _Lists:
    """Headings that stand over nothing but a list, as the rows of a table do: a sentence that stands apart below two and
    more of them is of all."""

    def __init__(self) -> None:
        self._before = 0
        self._only: bool | None = None

    def ended_by(self, part: Part, apart: bool) -> bool:
        """Whether this part is such a sentence.

        Args:
            apart: a blank line stands before it.
        """
        if part.heading:
            self._before = self._before + 1 if self._only else 0
            self._only = None
            return False
        if part.listed:
            self._only = self._only is None or self._only
            return False
        ends = bool(self._only and self._before and apart)
        self._only = False
        return ends


def _line_end(text: str, at: int) -> int:
    end = text.find("\n", at)
    return end if end >= 0 else len(text)


def _one_sentence_each(text: str, labels: list[int]) -> bool:
    """Whether the names of pictures stand in one running paragraph, each with one sentence: what stands behind the last of
    these is said of all."""
    between = [text[a:b] for a, b in pairwise(labels)]
    return bool(between) and all(
        "\n" not in one and len(list(sentences(one, 0, len(one)))) == 1 for one in between
    )


_LONGEST = 2000
"""So many letters has a sentence at most that is looked through as one: what is longer is none, and each of its words would
be held against all others."""


def _pieces(text: str, part: Part) -> Iterator[Part]:
    """A part, cut at a comma or between words where it is longer than any sentence is."""
    begin = part.start
    while part.end - begin > _LONGEST:
        far = begin + _LONGEST
        cut = max(text.rfind(", ", begin + 1, far), text.rfind("\n", begin + 1, far))
        if cut < begin + _LONGEST // 2:
            cut = max(text.rfind(" ", begin + 1, far), text.rfind("\t", begin + 1, far))
        while cut < begin and far < part.end and text[far].isalnum():
            far += 1  # not through a number
        end = cut + 1 if cut > begin else far
        yield replace(part, start=begin, end=end)
        begin = end
    yield replace(part, start=begin)


def _lines(text: str) -> Iterator[Part]:
    lines = [(m.start(), m.end()) for m in finditer(r"[^\n]*", text) if m.end() > m.start()]
    paragraph: tuple[int, int] | None = None
    listed = own_line = False
    apart_lines = short_lines(text, lines)
    counted = counted_lines(text, lines)
    for i, (start, end) in enumerate(lines):
        line = text[start:end]
        if not line.strip():
            if paragraph:
                yield from sentences(text, *paragraph, listed)
            paragraph = None
            continue
        apart = start == 0 or not text[:start].rstrip(" \t").rstrip("\n").strip() or (
            "\n\n" in text[max(0, start - 3) : start].replace(" ", "")
        )  # fmt: skip
        if _between_lists(text, lines, i) or (
            (apart or _begins(text, lines, i)) and _is_heading(line) and i + 1 < len(lines)
        ):
            if paragraph:
                yield from sentences(text, *paragraph, listed)
            paragraph = None
            yield Part(start, end, heading=True)
            continue
        bullet = _BULLET.match(line) or (start in counted and match(COUNTED, line)) or None
        if counted_heading(text, lines, i):
            if paragraph:
                yield from sentences(text, *paragraph, listed)
            paragraph = None
            continue
        labelled = _labelled(text, lines, i)
        after = own_line and bool(re.match(r"\s*[A-ZÄÖÜ]", line))
        own = (
            start in apart_lines
            or bool(bullet)
            or labelled
            or after
            or line.lstrip().startswith("|")
            or is_row(line)
            or (i > 0 and is_row(text[slice(*lines[i - 1])]))
            or bool(re.fullmatch(r"\s*[A-ZÄÖÜ][^:.\d]{1,40}:\s*", line))
        )
        own_line = labelled and len(line) < 70 and not line.rstrip().endswith((",", ";"))
        own = own or (listed and paragraph is not None and ended(text[slice(*lines[i - 1])], line))
        if own and paragraph:
            yield from sentences(text, *paragraph, listed)
            paragraph = None
        begin = start + (bullet.end() if bullet else 0)
        gap = paragraph is not None and text[paragraph[1] : start].count("\n") > 1
        if paragraph is None or gap:
            if paragraph:
                yield from sentences(text, *paragraph, listed)
            paragraph, listed = (begin, end), bool(bullet)
        else:
            paragraph = paragraph[0], end
    if paragraph:
        yield from sentences(text, *paragraph, listed)


def _labelled(text: str, lines: list[tuple[int, int]], i: int) -> bool:
    """Whether a line begins with the name of what it says."""
    named = re.match(r"\s*[A-ZÄÖÜ][\w.äöüß /-]{2,28}:\s", text[slice(*lines[i])])
    return bool(named) or any(_one_of(label, text, lines, i) for label in (_SMALL, _DASHED))


_SMALL = re.compile(r"\s*[a-zäöü][\w.äöüß /-]{1,20}:\s+\S")
"""*still: PNG*, *naming: …*."""
_DASHED = re.compile(r"\s*[A-ZÄÖÜ][\wäöüß /]{2,28} [-–—] [^.]*\d")
"""*App icon - 512 by 512*, *Feature picture - 1024 by 500*."""


def _one_of(label: re.Pattern[str], text: str, lines: list[tuple[int, int]], i: int) -> bool:
    """Whether a line begins with what it is about, as one beside it does."""
    near = [text[a:b] for a, b in lines[max(0, i - 1) : i + 2]]
    return bool(label.match(text[slice(*lines[i])])) and sum(map(bool, map(label.match, near))) > 1


def _between_lists(text: str, lines: list[tuple[int, int]], i: int) -> bool:
    """Whether a line of few words stands between the items of two lists without a mark of its own: the heading of the second."""
    if not 0 < i < len(lines) - 1:
        return False
    before, line, behind = (text[a:b] for a, b in lines[i - 1 : i + 2])
    marks = _BULLET.match(before), _BULLET.match(behind)
    bare = re.sub(r"\([^()]*\)", "", line)
    return (
        all(mark is not None and not mark.group().strip()[:1].isalnum() for mark in marks)
        and not _BULLET.match(line)
        and bool(match(r"[A-ZÄÖÜ]", line))
        and not search(r"[,&]\s*$|\b(?:and|or|und|oder|the|a|of|der|die|das)\s*$", before, _I)
        and _is_heading(bare)
        and len(bare.split()) <= 5
    )


def _begins(text: str, lines: list[tuple[int, int]], i: int) -> bool:
    """Whether a line of few words stands between two paragraphs of whole sentences: their heading, without
    an empty line."""
    if not 0 < i < len(lines) - 1:
        return False
    before, line, behind = (text[a:b].strip() for a, b in lines[i - 1 : i + 2])
    return (
        len(line.split()) <= 3
        and bool(re.match(r"[A-ZÄÖÜ]", line))
        and before.endswith(".")
        and behind.endswith(".")
        and len(behind) > SHORT
        and not re.search(r"[:|•]", before[:3] + line + behind[:3])
    )


def _states(said: str) -> bool:
    """Whether a line names a property and says what it is: *Accepted: JPG, PNG*."""
    name, colon, rest = said.partition(": ")
    return bool(colon and rest.strip()) and names_property(name.strip() or said)


_TYPED = r"jpe?g|png|tiff?|gif|webp|avif|bmp|s-?rgb|cmyk|adobe rgb|display p3|gr[ea]yscale"
"""A line that is only this is a rule and no heading: *cmyk*."""


def _is_typed_rule(said: str) -> bool:
    """Whether a short line only says how pictures come, as somebody types it: *no borders*, *als JPEG*, *white background*."""
    comes = match(
        rf"(?:(?:as|als|in|only|nur|Farbraum|(?:Datei)?format|colou?r space|file type)\s+)?(?:{_TYPED})(?:\s+(?:files?|only)|-Dateien|-Datei)?$",
        said,
        _I,
    )
    denied = match(r"(?:no|without|kein\w*|ohne)\s+[^\W\d]\w*(?:\s+\w+)?$", said, _I)
    looks = said[0].islower() and match(
        r"(?:\w+\s+){0,2}(?:background|backdrop|mouth|glasses|expression|hintergrund|mund|brille|gesichtsausdruck|closed|open|geschlossen|sharp|scharf)(?:\s+\w+)?$",
        said,
        _I,
    )
    return bool(comes or denied or looks)


def _is_heading(line: str) -> bool:
    said = line.strip()
    return (
        3 < len(said) <= 60
        and not _states(said)
        and not search(
            r"\b(?:must|should|shall|may|need|needs|has to|have to|muss|müssen|soll|sollen|darf|dürfen)\b.*:$",
            said,
            _I,
        )
        and not is_row(line)
        and not search(
            r"^(?:parameter|property|requirement|attribute|item|criterion|eigenschaft|merkmal|angabe)\W+(?:values?|specification|requirement|details?|wert|vorgabe)$",
            said,
            _I,
        )
        and not search(r"\d", said)
        and not _is_typed_rule(said)
        and not match(rf"(?:{_TYPED})(?:\s*(?:,|/|or|oder|and|und|\s)\s*(?:{_TYPED}))*$", said, _I)
        and not search(r"[.;!?,]$", said)
        and not _BULLET.match(line)
        and len(said.split()) <= 8
    )


def _enumerated(text: str, start: int, end: int) -> list[re.Match[str]]:
    """The numbers of a running text that counts its rules: *1) square 2) no text 3) at most 2 MB*."""
    found: list[re.Match[str]] = []
    for hit in finditer(r"(?:(?<=\s)|^)\(?(\d{1,2})\)\s+(?=\S)", text[start:end]):
        if int(hit[1]) == len(found) + 1:
            found.append(hit)
    return found if len(found) > 2 else []


def sentences(text: str, start: int, end: int, listed: bool = False) -> Iterator[Part]:
    """The sentences of a part of a text; where it counts its rules in brackets, each of these by itself."""
    marks = _enumerated(text, start, end)
    if not marks:
        yield from _sentences(text, start, end, listed)
        return
    yield from _sentences(text, start, start + marks[0].start(), listed)
    ends = [*(mark.start() for mark in marks[1:]), end - start]
    for mark, stop in zip(marks, ends, strict=True):
        yield from _sentences(text, start + mark.end(), start + stop, True)


def _sentences(text: str, start: int, end: int, listed: bool) -> Iterator[Part]:
    at = _past_number(text, start, end)
    for hit in finditer(
        r"(?<!\.\.)[.!?](?=\s+(?:[A-ZÄÖÜ\d“\"(≥≤]|sRGB\b|(?:jpe?g|png|tiff?|gif|webp|bmp)\b))|;|\s\|(?=\s)",
        text[start:end],
    ):
        stop = start + hit.end()
        said = text[at:stop]
        if hit.group()[-1] in "|;" and text[start:stop].lstrip().startswith("|"):
            continue  # a row of a table
        if match(_ASKS, said) and "?" in text[stop:end].partition("\n")[0]:
            continue  # “Q: My picture is 1200 x 800. Is that enough?”
        dated = search(r"(?:^|\s)\d{1,2}\.$", said) and search(_MONTH, text[stop : stop + 6], _I)
        if _ABBREVIATED.search(said) or dated or search(r"^\W*\d{1,2}\.$", said):
            continue
        yield Part(at, stop, listed=listed)
        at = _past_number(text, stop, end)
    if text[at:end].strip():
        yield Part(at, end, listed=listed)


def _past_number(text: str, at: int, end: int) -> int:
    """Past what counts the rules of a running text: *2. JPEG only. 3. No text.*"""
    hit = match(r"\s*\d{1,2}[.)]\s+(?=[A-ZÄÖÜ])", text[at:end])
    if hit is None or search(_MONTH, text[at + hit.end() - 1 : at + hit.end() + 5], _I):
        return at
    return at + hit.end()
