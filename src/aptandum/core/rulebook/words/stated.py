"""What a sentence of published rules says in words alone, and how binding it says it."""

from __future__ import annotations

import re
from dataclasses import replace
from itertools import pairwise
from typing import Any

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.denials import is_asked_for, refused_in_a_row
from aptandum.core.rulebook.words.draft import Certainty, Draft
from aptandum.core.rulebook.words.fates import fate_told
from aptandum.core.rulebook.words.kept_free import free_in, is_kept_free
from aptandum.core.rulebook.words.lexicon import Lexicon
from aptandum.core.rulebook.words.quantities import Quantity
from aptandum.core.rulebook.words.questions import as_question, asked_apart, asks_nothing
from aptandum.core.rulebook.words.tables import Cell

_I = int(re.I)

FOREIGN = r"\b(?:hei[cf]s?|psds?|raws?|dngs?|pdfs?|svgs?|eps|docx?|zips?|word files?)\b"


_AND_NEEDS = r"(?:and|und) (?:we|it|they|you|wir|es|sie) (?:need|must|require|brauchen|benötigen|müssen|muss)\b"
"""Where a wish ends: *landscape works best and we need at least 1280 pixels*."""
_IS_THE_END = r"\s*(?:px|Pixel)?\s*(?:is|are|ist|sind)\s+(?:the|das|die|der)\s+(?:absolute\s+|very\s+)?(?:maximum|minimum|most|least|limit|Obergrenze|Untergrenze)\b"


_OF_PICTURES = r"\b(?:people|persons?|children|plates?|Menschen|Personen|Kinder|Gesichter|Kennzeichen|faces?|heads?|eyes|exposures?|widths?|heights?|sides?|edges?|Breite|Höhe|Seiten?|Kanten?)\b"
"""Words that are about pictures, beside those of a language's table."""

_EXCEPT = r"\b(?:by more than|um mehr als|except|unless|es sei denn|apart from|other than|but (?:keep|leave|not)|außer|bis auf|ausgenommen)\b"
"""What takes something out of what was said."""
_FOR_SOME = r"\s+(?:\w+\s+)?(?:for|of|from|für|bei|von)\s+(?!all\b|every|each|any\b|the (?:whole|entire)|alle|jede)"
"""What makes grey, or colour, that of some pictures alone: *greyscale for black-and-white originals*."""
_BITS_OF_EACH = (
    r"\d+[ -]?bits?\b[^.;]*\b(?:colou?r|farb)\w*[^.;]*\d+[ -]?bits?\b[^.;]*\b(?:gr[ea]y|grau|black|schwarz)\w*"
    r"|\b(?:colou?r|farb)\w*[^.;]*\d+[ -]?bits?\b[^.;]*\b(?:gr[ea]y|grau)\w*[^.;]*\d+[ -]?bits?\b"
)
"""Bits for colour and for grey: both are taken."""
_OF_GREY = r"\b(?:black[- ]and[- ]white|monochrome|schwarz-?weiß)[- ]?(?:\w+\s*)?(?::|\b(?:in|as|als|to)\b)\s*(?:in\s+)?(?:gr[ea]y|grau)"
_GREY_KIND = r"\W*(?:Graustufen\w*|gr[ea]y-?scales?|halftones?|Schwarz-?weiß\w*|black[ -]and[ -]white)(?:\s+\w+)?\s*:\s*[^.;]*\d"
"""How a sentence begins that says something of greys alone."""
_BEYOND = r"\W*(?:(?:anything|everything|pictures|images|photos|alles|bilder|fotos) )?(?:smaller|larger|bigger|less|more|lower|higher|kleiner|größer|weniger|mehr)(?: (?:than|als))? \d"
"""How a sentence begins that tells what becomes of pictures beyond a bound: *smaller than 1000 px looks blurry*."""
_FILES = r"\b(?:jpe?g|png|gif|bmp|tiff?|webp|avif)(?:s|-\w+)?\b"
COMPARED = r"(?:not|no|nicht) (?:be )?(?:older|larger|bigger|smaller|less|fewer|more|heavier|wider|longer|shorter|taller|higher|lower|älter|größer|kleiner|mehr|weniger|schwerer|breiter|länger|kürzer|höher)(?: (?:than|als))?"
"""What denies no name that it stands behind: *Adobe RGB, not older than 6 months*."""
_NO_MATTER = r"(?:do not|don't|doesn't|won't) (?:mind|worry|matter)|(?:nothing|no objections?|no problem) (?:against|to|with)|nichts gegen|kein Problem mit"
"""What lets something be, though it sounds as if it were denied: *we don't mind borders*."""
EITHER_KIND = (
    r"\b(?:baseline\s+(?:or|oder)\s+progressiv\w*|progressiv\w*\s+(?:or|oder)\s+baseline)\b"
)
"""Both ways to build a JPEG up."""
_NAMED = r"\b(?:jpe?g|png|gif|bmp|tiff?|webp|avif|possible|needed|necessary|you (?:need|want|like)|möglich|nötig)\b"
"""What a condition speaks of that is another rule, or a wish."""


_AND_LOGO = r"\b(?:and|und) (?:your|the|an?|Ihr\w*|das|ein) (?:[\w'’-]+ ){0,3}logos?\b"


def _until_another(said: str, words: Lexicon) -> int:
    """Up to where a sentence speaks of its file: *a TIFF, together with a JPEG preview of 2000 px* speaks of a
    second one, which is no rule of the first."""
    hit = patterns.search(rf"\b(?:{words.accompanied})\b(?=[^.;,]*(?:{_FILES}))", said, _I)
    logo = patterns.search(_AND_LOGO, said, _I)
    if logo is not None and re.search(r"\d", said[: logo.start()]):
        return logo.start()
    first = patterns.search(_FILES, said, _I)
    return hit.start() if hit and first and first.start() < hit.start() else len(said)


_OF_A_KIND = ("progressive", "transparency", "frames", "channels")
"""What files of a kind have: *interlaced files stay white*."""


class Stated:
    """A sentence, and its rules that have no quantity."""

    def __init__(
        self,
        text: str,
        start: int,
        end: int,
        words: Lexicon,
        binary: frozenset[str],
        one_turn: bool,
        listed: bool = False,
        brief: str = "",
        lead: str = "",
        table: tuple[Cell, ...] = (),
    ) -> None:
        while start < end and text[start].isspace():
            start += 1
        end = start + _until_another(text[start:end], words)
        self.text, self.start, self.end = text, start, end
        self.words, self.binary, self.one_turn = words, binary, one_turn
        self.listed, self.brief = listed, brief
        self.said = text[start:end]
        self.table = [cell for cell in table if cell.start < end and start < cell.end]
        self.lead = lead or self._rejected_if()
        self.taken: list[tuple[int, int]] = []
        self.last: tuple[Quantity, str | None] | None = None
        self.sized: tuple[Quantity, str | None] | None = None

    def _rejected_if(self) -> str:
        """How a sentence begins that says what is refused: *Photos will be rejected if …*."""
        words = self.words
        wrong = r"too \w+|(?:the )?wrong \w+|no good|zu \w+|falsch|(?:die )?falsche\w* \w+"
        refused = rf"^[^.;:,\d]*\b(?:{words.refusal}|{wrong}),?\s+(?:if|when|where|wenn|falls)\b"
        rejects = rf"^\W*(?:(?:we|wir)\s+)?(?:{words.rejects})\b[^.;:\d]*?,?\s+(?:that|which|if|die|wenn)\b(?! not\b)"
        hit = patterns.match(refused, self.said, _I) or patterns.match(rejects, self.said, _I)
        several = rf"^(\W*(?:all |any |alle )?(?:[^\W\d]+ )?(?:{words.pictures}|bilder|fotos|dateien)\b)(?:[^.;:]|\.(?=\d))*(?:,| or | oder )(?:[^.;:]|\.(?=\d))*\b(?:will be|are|get|werden)\s+(?:\w+\s+)?(?:{words.refusal})\W*$"
        if hit is None and not patterns.search(
            rf"\b(?:{words.must}|{words.should})\b", self.said, _I
        ):
            hit = patterns.match(several, self.said, _I)
            return (
                hit[1] if hit is not None else ""
            )  # “Images wider than 2000 px, files of more than 2 MB … will be ignored”
        return hit.group() if hit is not None else ""

    def cell(self, start: int) -> Cell | None:
        """The cell of a table that a place lies in, where its heading says something."""
        return next((cell for cell in self.table if cell.start <= start < cell.end), None)

    def draft(self, fields: dict[str, Any], at: tuple[int, int], **more: Any) -> Draft:
        quote = self.said.strip().strip(";").strip()
        cell = self.cell(at[0])
        if cell is not None and cell.wish:
            fields["strength"] = "should"
        begin = self.start + self.said.index(quote)
        if "strength" not in fields and self.wished(at):
            fields["strength"] = "should"
        return Draft(fields, quote, begin, begin + len(quote), numbers=(at,), **more)

    def wished(self, at: tuple[int, int]) -> bool:
        """Whether what stands there is only recommended: by the nearest word between the same commas,
        else by the last word before that no number stands in front of (*recommended* behind a number
        speaks of that one alone)."""
        both = rf"\b(?:(?P<wish>{self.words.should})|(?P<rule>{self.words.must}))\b"
        said = self._unbracketed(at)
        ends = [
            self.start + hit.end()
            for hit in patterns.finditer(
                rf",(?!\d)|;|\(|\s(?=(?:but|although|however|aber|jedoch)\b|{_AND_NEEDS})", said, _I
            )
        ]
        bounds = [self.start, *ends, self.end]
        segments = list(pairwise(bounds))
        mine = next(i for i, (a, b) in enumerate(segments) if a <= at[0] < b or b == self.end)
        segment, end = segments[mine]
        wish, must = self.words.should, self.words.must
        bounds_ = "|".join((*self.words.before.values(), *self.words.after.values()))
        tail, head = self.said[at[1] - self.start :], self.said[: segment - self.start]
        if patterns.match(_IS_THE_END, tail, _I):
            return False  # “should be about 80 kB, 200 kB is the maximum”
        if patterns.match(rf"\W{{0,2}}\(\s*(?:{wish})\s*\)", tail, _I):
            return True  # “Aspect ratio: 4:3 (recommended)”
        if patterns.search(rf"\b(?:{wish})\s*\($", head, _I) and not patterns.search(
            rf"(?<!\w)(?:{must}|{bounds_})(?!\w)", said[segment - self.start : end - self.start], _I
        ):
            return True  # “wide format preferred (3:2 or 16:9)”
        before = list(patterns.finditer(both, said[segment - self.start : at[0] - self.start], _I))
        behind = patterns.search(both, said[at[1] - self.start : end - self.start], _I)
        if before or behind:
            hit = before[-1] if before else behind
            if hit is None or hit.group("wish") is None:
                return False
            between = said[segment - self.start + hit.end() : at[0] - self.start] if before else ""
            return not self._apart(between)
        if patterns.match(
            rf"\W*(?:(?:but|although|however|aber|jedoch|never|under no circumstances|nie|niemals|keinesfalls|auf keinen Fall)\b|{_AND_NEEDS})",
            said[segment - self.start :],
            _I,
        ):
            return False  # “We prefer PNG, but JPEG …”, “aim for 1 MB, never over 3 MB”
        for begin, stop in reversed(segments[:mine]):
            for hit in reversed(list(patterns.finditer(both, self.text[begin:stop], _I))):
                rest = said[begin - self.start + hit.end() : stop - self.start]
                if mine and not patterns.search(r"\w", rest) and hit.start():
                    continue  # “TIFF preferred, …” wishes for what stands before it
                own = r"(?:(?:ideal|optimal|preferred|recommended|suggested)\s+\w+(?:\s+(?:of|is))?|ideally|preferably|optimally|idealerweise|vorzugsweise|am besten):?\s*\d"
                if mine and patterns.match(own, self.text[begin + hit.start() : stop], _I):
                    continue  # “ideal ratio 8:5, at most 50 MB”
                if not patterns.search(r"\d", self.text[begin : begin + hit.start()]):
                    return hit.group("wish") is not None
        return False

    def _apart(self, between: str) -> bool:
        """Whether a wish ends before a bound of its own: *ideally 2400 px wide and no less than 1200*."""
        bounds = "|".join(self.words.before.values())
        hit = patterns.search(rf"\d[^,;]*\b(?:and|but|und|aber)\s+(?:{bounds})\s*$", between, _I)
        first = patterns.search(r"\d", between)
        return bool(
            hit
            and first
            and not patterns.search(rf"(?<!\w)(?:{bounds})\s*$", between[: first.start()], _I)
        )

    def _unbracketed(self, at: tuple[int, int]) -> str:
        """The sentence with what stands in brackets blank, where a place is in none of them."""
        said = self.said
        for hit in patterns.finditer(r"\([^()]*\)", said):
            if not hit.start() < at[0] - self.start < hit.end():
                said = said[: hit.start()] + " " * (hit.end() - hit.start()) + said[hit.end() :]
        return said

    def only_these(self) -> bool:
        """Whether a sentence begins with pictures of one way up and says something of them, as in *Portrait
        images must not …*."""
        ways = "|".join(pattern for name, pattern in self.words.turns.items() if name != "square")
        number = r"^\W*(?:\d+(?:\.\d+)*\W+)?"
        plural = rf"{number}(?:{ways})(?:\s*(?:{self.words.pictures}))?\b\s+(?!only|nur)(?:{self.words.must})"
        one = rf"{number}(?:(?:an?|any|each|every|all|ein|jedes|alle)\s+)?\w*(?:{self.words.pictures_at_all})\w*\s+(?:in|im)\s+(?:{ways})\b\s+(?!only|nur)(?:\w+\s+)?(?:{self.words.must})"
        sized = rf"{number}(?:{ways})\s+(?:{self.words.pictures})\s+(?:(?:at|max\.?|min\.?|up to|höchstens|mindestens)\s+)?\d+\s*(?:px |pixels? |Pixel )?(?:high|tall|wide|hoch|breit)\b"
        label = rf"{number}(?:portrait|landscape|upright|vertical|horizontal) (?:shots|pictures|images|photos|photographs|ones)\s*:\s"
        return any(patterns.search(one_of, self.said, _I) for one_of in (plural, one, sized, label))

    def _of_those(self, hit: re.Match[str]) -> bool:
        """Whether a sentence begins with pictures of one kind and says something of them: *Grey pictures have to be …*."""
        if patterns.match(_GREY_KIND, self.said, _I):
            return True  # “Greyscale: at least 8 bit” says how greys are, and asks for none
        said = rf"\s*(?:{self.words.pictures}|plates|originals|prints|drawings|negatives|Vorlagen|Abbildungen)\w*\s+(?!only|nur)(?:{self.words.must}|are|will|may|can|should|needs?|sind|werden|können|sollten|brauchen|benötigen)\b"
        return not self.said[: hit.start()].strip() and bool(
            patterns.match(said, self.said[hit.end() :], _I)
        )

    def _told_of_some(self, hit: re.Match[str]) -> bool:
        """Whether it is told what becomes of pictures that have something: *Images with transparency are flattened*."""
        have = rf"^\W*(?:all\s+|any\s+)?\w*(?:{self.words.pictures_at_all})\w*\s+(?:with|having|containing|that have|which have|mit)\s+(?:\w+\s+){{0,2}}$"
        becomes = r"\s*(?:\w+\s+){0,2}?(?:are|is|will|get|gets|werden|wird|sind)\b"
        return bool(
            patterns.match(have, self.said[: hit.start()], _I)
            and patterns.match(becomes, self.said[hit.end() :], _I)
        )

    def _whole(self) -> list[Draft]:
        made: list[Draft] = []
        for pattern, keys in self.words.whole:
            hit = patterns.search(pattern, self.said, _I)
            if hit is None or (
                keys["measure"] == "channels"
                and (self.either_colour() or (self._of_those(hit) and not self._denied(hit)))
            ):
                continue
            if keys.get("exactly") == "square" and self._by_turn():
                continue
            if keys["measure"] == "progressive" and patterns.search(EITHER_KIND, self.said, _I):
                continue
            denied = self._denied(hit)
            free = patterns.search(
                r"^\W*(?:may|can|kann|darf) (?!not|nicht)", self.said[hit.end() :], _I
            )
            if not denied and (self._may(hit) or self._told_of_some(hit)):
                continue
            if free or self._of_body(hit):
                continue
            fields: dict[str, Any] = {"measure": keys["measure"]}
            if denied and "denied" in keys:
                fields["exactly"] = keys["denied"]
            elif denied and "denied_at_most" in keys:
                fields["at_most"] = keys["denied_at_most"]
            elif not denied and "exactly" in keys:
                fields["exactly"] = keys["exactly"]
            else:
                continue
            at = self.start + hit.start(), self.start + hit.end()
            if self._hangs(hit):
                made.append(
                    replace(self.draft({"ask": self.said.strip().rstrip(".;")}, at), numbers=())
                )
                self.taken.append(at)
                return made
            self.taken.append(at)
            if all(fields != dict(one.fields) for one in made):
                apart = self._of_some(hit, str(keys["measure"]))
                turned: tuple[dict[str, Any], ...] = ()
                told = keys["measure"] in _OF_A_KIND and fate_told(
                    self.said, hit.start(), hit.end(), self.words
                )
                if told and "denied" in keys and "exactly" in fields and not denied:
                    # “Interlaced files stay white” tells, and asks for nothing.
                    turned, fields = (fields,), {**fields, "exactly": keys["denied"]}
                sure: Certainty = "doubtful" if apart or turned else "sure"
                made.append(self.draft(fields, at, certainty=sure, readings=turned))
        return made

    def _of_some(self, hit: re.Match[str], measure: str) -> bool:
        """Whether something is excepted, or it holds for some pictures alone, so that it is doubted."""
        behind = self.said[hit.end() :]
        shows = (
            r"^\W*(?:we|wir)\b[^.;,]*\b(?:print|show|display|publish|druck|zeig|veröffentlich)\w*\b"
        )
        if patterns.search(_EXCEPT, behind, _I) or patterns.match(
            shows, self.said[: hit.start()], _I
        ):
            return True
        some = patterns.match(_FOR_SOME, behind, _I) or patterns.search(
            rf"{_OF_GREY}|{_BITS_OF_EACH}", self.said, _I
        )
        return measure == "channels" and bool(some)

    def _by_turn(self) -> bool:
        """Whether sizes have the way up in brackets that each is for."""
        ways = "|".join(pattern for name, pattern in self.words.turns.items() if name != "square")
        return bool(patterns.search(rf"\d[^()]*\((?:{ways}|portrait)\)", self.said, _I))

    def _of_body(self, hit: re.Match[str]) -> bool:
        """Whether the body says what it does itself: *we remove all location data*."""
        acts = r"^\W*(?:we|our system|wir)\b(?:\s+(?:will|then|do|also|werden))?\s+(?:remove|strip|delete|crop|convert|add|(?:make|turn) (?:it|them)|machen (?:selbst|es|sie|daraus)|entfern|lösch|schneid|beschneid|verklein|wandel)"
        made = r"\b(?:is|are|will be|gets?|wird|werden)\s+(?:[^\W\d]+\s+){0,4}?(?:converted|umgewandelt|konvertiert)\b|\b(?:then|automatically|afterwards|on upload|dann|automatisch|beim Hochladen)\b[^.;]*\b(?:is|are|gets?|wird|werden)\s+(?:[^\W\d]+\s+){0,2}?(?:stripped|removed|deleted|entfernt|gelöscht)\b|\b(?:is|are|gets?)\s+(?:then|automatically)\s+(?:stripped|removed|deleted)\b"
        binds = rf"\b(?:{self.words.must}|{self.words.should}|please|bitte)\b"
        smaller = r"\b(?:smaller|kleinere)\b[^.;]*\b(?:are|is|will|werden|wird)\s+(?:(?:be|dann|auch|also)\s+)*(?:not|never|nicht|nie)\b"
        if patterns.search(smaller, self.said[: hit.start()], _I):
            return True  # “Smaller pictures are not enlarged”
        if patterns.search(made, self.said, _I) and not patterns.search(binds, self.said, _I):
            return True
        return bool(patterns.search(acts, self.said[: hit.start() + 1], _I))

    def _hangs(self, hit: re.Match[str]) -> bool:
        """Whether a condition that only a person can judge stands behind: *… if the species is protected*."""
        rest = self.said[hit.end() :]
        found = patterns.search(rf"\b(?:{self.words.depends})\b(?P<on>[^.;]*)", rest, _I)
        return bool(found and not patterns.search(_NAMED, found["on"], _I)
                    and not patterns.search(r"\d", rest[: found.end()]))  # fmt: skip

    def _may(self, hit: re.Match[str]) -> bool:
        """Whether something may be, and need not: *transparent corners allowed*."""
        if self.lead:
            return False  # “will be rejected if it is not in colour”
        behind = rf"^[^.,;]{{0,20}}\b(?:{self.words.optional})|^\s*(?:is |are |ist |sind )?(?:also |auch )?(?:ok(?:ay)?|fine|no problem|kein Problem|in Ordnung)\b"
        before = rf"\b(?:{self.words.wanted})\b[^.,;]{{0,16}}$|\b(?:may|can|kann|darf)\s+(?:be\s+)?(?:an?\s+)?$|\b(?:even|also|auch|selbst)\s+(?:for|if|with|bei|für|wenn)\s+(?:\w+\s+)?$"
        return bool(
            patterns.search(behind, self.said[hit.end() :], _I)
            or patterns.search(before, self.said[: hit.start()], _I)
        )

    def either_colour(self) -> bool:
        """Whether colour and grey are both taken."""
        colour = r"\b(?:colou?r|farb|rgb|cmyk)\w*"
        grey = r"\b(?:(?:gr[ea]y|grau|black|schwarz)\w*|b ?[/&] ?w\b|s ?/ ?w\b)"
        near = r"\W+(?:\w+\W+){0,3}?(?:or|oder)\W+(?:\w+\W+){0,3}?"
        kinds = r"\b(?:black[ -]and[ -]white|gr[ea]y(?:-?scale)?|monochrome|schwarz-?weiß|grau)[ -]?\w*\b[^.;]*(?:\bcolou?r (?:\w+ ){0,2}(?:pictures|images|photos)|\bfarb(?:bild|foto|aufnahme))|\b(?:colou?r (?:pictures|images|photos)|farb(?:bild|foto|aufnahme))[^.;]*\b(?:black[ -]and[ -]white|gr[ea]y|schwarz-?weiß|grau)"
        either = rf"{colour}{near}{grey}|{grey}{near}{colour}|{kinds}"
        if patterns.search(either, self.said, _I):
            return True
        joined_ = rf"{colour}\W+(?:and|und)\W+(?:in\W+)?{grey}|{grey}\W+(?:and|und)\W+(?:white\W+and\W+|in\W+)?{colour}"
        taken = rf"\b(?:both|either|beides?|{self.words.optional}|{self.words.taken})\b"
        return bool(
            patterns.search(joined_, self.said, _I) and patterns.search(taken, self.said, _I)
        )

    def unbound(self) -> str:
        """The sentence with the words of bounds blank, and every place where it was."""
        tables = (self.words.before, self.words.after)
        every = "|".join(table[side] for table in tables for side in ("at_least", "at_most"))
        return patterns.sub(
            rf"(?<!\w)(?:{every}|{_NO_MATTER}|{COMPARED})(?!\w)",
            lambda hit: "#" * len(hit.group()),
            self.said,
            _I,
        )

    def _denied(self, hit: re.Match[str]) -> bool:
        if is_asked_for(self.said, hit.start(), hit.end(), self.words):
            return False
        if self.lead:
            lacks = rf"\b(?:{self.words.negation}|lacks?)\s+(?:\w+\s+){{0,2}}$"
            return not patterns.search(lacks, self.said[: hit.start()], _I)
        free = self.unbound()  # “no more than” denies nothing
        before, behind = free[: hit.start()], free[hit.end() :]
        negation = rf"\b(?:{self.words.negation})\b"
        return bool(
            patterns.search(rf"{negation}(?:\s+\(?\w+){{0,5}}[\s(]*$", before, _I)
            or patterns.search(
                rf"^(?:(?!\b(?:and|but|und|aber)\s+{negation})[^.,;]){{0,40}}{negation}", behind, _I
            )
            or refused_in_a_row(re.split(r"[.;]", behind)[0], self.words)
            or patterns.search(rf"\b(?:{self.words.rejects})\b[^.;:,\d]*$", before, _I)
        )

    def _modal(self, quote: str) -> bool:
        """Whether a sentence in prose says what a picture must or should be, without a measure."""
        words = self.words
        return (
            len(quote.split()) > 3
            and not quote.endswith(":")
            and bool(
                patterns.search(
                    r"\b(?:must|should|has to|have to|needs? to|may not|muss|müssen|soll(?:en|ten?)?|only|nur)\b|\b(?:darf|dürfen)\b[^.;]*\b(?:nicht|kein\w*|weder)\b|^(?:Nobody|No one|Nothing|Niemand|Nichts)\b[^.;]*\b(?:may|can|darf|dürfen|kann)\b",
                    quote,
                    _I,
                )
                and (
                    patterns.search(rf"{words.pictures_at_all}|{_OF_PICTURES}", quote, _I)
                    or patterns.match(
                        r"(?:It|They|One|Each|Es|Sie|Only|Nur|Nobody|No one|Nothing|Niemand|Nichts)\b",
                        quote,
                    )
                )
            )
        )

    def asked(self, made: list[Draft]) -> list[Draft]:
        """The sentence as a question, where it speaks of what only a person can judge; what stands in a list of what is not
        taken with the words that stand over it."""
        asked = self._asked(made)
        if self.lead and self.listed and not asked and patterns.search(r",|\b(?:or|oder)\b", self.said):  # fmt: skip
            asked = [replace(self.draft({"ask": self.said.strip(" .;")}, (self.start, self.start)), numbers=())]  # fmt: skip
        if not self.lead or self.said.startswith(self.lead):
            return asked
        return [replace(d, fields={**d.fields, "ask": f"{self.lead}: {d.fields['ask']}"}) for d in asked]  # fmt: skip

    def _asked_of_a_person(self, quote: str, made: list[Draft]) -> list[Draft]:
        """What only a person can judge: the whole sentence, or of a row of rules the pieces that nothing measures."""
        hits = [
            hit.span() for hit in patterns.finditer(rf"\b(?:{self.words.asks})", self.said, _I)
            if not any(a < self.start + hit.end() and self.start + hit.start() < b for a, b in self.taken)
        ]  # fmt: skip
        if not hits:
            return []
        held = [
            (a - self.start, b - self.start)
            for a, b in (*self.taken, *(at for d in made for at in d.numbers))
        ]
        rows = asked_apart(self.said, held, hits, self.words) if made and not self.lead else []
        spans = {as_question(self.said[a:b]): (a, b) for a, b in rows} or {quote: hits[0]}
        return [
            replace(self.draft({"ask": said}, (self.start + a, self.start + b)), numbers=())
            for said, (a, b) in spans.items()
        ]

    def _asked(self, made: list[Draft]) -> list[Draft]:
        quote = self.said.strip().strip(";").strip().rstrip(".,")
        quote = re.sub(r"^\(\d{1,2}\)\s+", "", quote)  # “(2) The file shall not have been cropped”
        if asks_nothing(self.said, quote, self.either_colour(), self.words) or (
            made and patterns.match(_BEYOND, self.said, _I)
        ):
            return []
        part = free_in(quote) if made else quote if is_kept_free(quote) else ""
        if part:
            at = (self.start, self.start) if made else (self.start, self.end)
            wished = patterns.search(rf"\b(?:{self.words.should})\b", part, _I)
            strength = {"strength": "should"} if wished else {}
            return [self.draft({"ask": part, **strength}, at)]
        if asked := self._asked_of_a_person(quote, made):
            return asked
        made_here = [at for draft in made for at in draft.numbers]
        in_a_row: list[Draft] = []
        for hit in patterns.finditer(
            rf"(?<=[,;(])\s*(?:(?:so|and|but|und|aber|also)\s+)?((?:{self.words.forbids})\s+[^\W\d]\w*(?:\s+[^\W\d]\w*){{0,4}})(?=\s*(?:[,;.!)]|$))", self.said, _I
        ):  # fmt: skip
            at = self.start + hit.start(1), self.start + hit.end(1)
            free = not any(a < at[1] and at[0] < b for a, b in (*self.taken, *made_here))
            same = patterns.search(
                r"\b(?:larger|smaller|bigger|more|less|kleiner|größer|mehr)$", hit.group(1), _I
            )
            if free and not same and not patterns.search(FOREIGN, hit.group(1), _I):
                in_a_row.append(replace(self.draft({"ask": hit.group(1)}, at), numbers=()))
        if in_a_row and made:
            return in_a_row
        so_too = r"\W*(?:so|neither|nor) (?:are|is|do|does|will)\b|\W*ebenso\w*\b"
        if (
            not made
            and not patterns.search(r"\d", quote)
            and patterns.search(rf"\b(?:{self.words.rejects})|^(?:{so_too})", quote, _I)
            and not patterns.search(FOREIGN, quote, _I)
        ):
            return [replace(self.draft({"ask": quote}, (self.start, self.start)), numbers=())]
        forbids = patterns.search(rf"^(?:{self.words.forbids})\b", quote, _I)
        if forbids and patterns.search(FOREIGN, quote, _I):
            return []  # a format that is never written is no question
        if (
            (
                self.listed
                or self._modal(quote)
                or forbids
                or patterns.search(self.words.unwanted, quote, _I)
            )
            and not made
            and len(quote) > 4
            and not patterns.search(r"\d", quote)
        ):
            # One item of a list of rules: what it asks only a person can say.
            # “No prices” in a picture are no price.
            said = patterns.sub(r"\b(?:prices|Preise)\b", "", quote, _I) if forbids else quote
            if not patterns.search(self.words.no_rule, said, _I):
                return [replace(self.draft({"ask": quote}, (self.start, self.start)), numbers=())]
        return in_a_row if patterns.search(self.words.pictures_at_all, quote, _I) else []
