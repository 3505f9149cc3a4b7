"""What a sentence of published rules says in words alone, and how binding it says it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise
from typing import Any

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.draft import Draft
from aptandum.core.rulebook.words.lexicon import Lexicon
from aptandum.core.rulebook.words.quantities import Quantity

_I = int(re.I)

_FOREIGN = r"\b(?:hei[cf]s?|psds?|raws?|dngs?|pdfs?|svgs?|eps|docx?|zips?|word files?)\b"


_ANY = r"\b(?:any|egal|beliebig|irrelevant|as you like)\W*$"
"""How a sentence ends that leaves something open."""


class Stated:
    """A sentence, and its rules that have no quantity."""

    def __init__(
        self,
        text: str,
        start: int,
        end: int,
        words: Lexicon,
        thousand: bool,
        one_turn: bool,
        listed: bool = False,
        brief: str = "",
    ) -> None:
        while start < end and text[start].isspace():
            start += 1
        self.text, self.start, self.end = text, start, end
        self.words, self.thousand, self.one_turn = words, thousand, one_turn
        self.listed, self.brief = listed, brief
        self.said = text[start:end]
        self.taken: list[tuple[int, int]] = []
        self.last: tuple[Quantity, str | None] | None = None

    def draft(self, fields: dict[str, Any], at: tuple[int, int], **more: Any) -> Draft:
        quote = self.said.strip().strip(";").strip()
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
        ends = [self.start + hit.end() for hit in patterns.finditer(r",(?!\d)|;|\(", said)]
        bounds = [self.start, *ends, self.end]
        segments = list(pairwise(bounds))
        mine = next(i for i, (a, b) in enumerate(segments) if a <= at[0] < b or b == self.end)
        segment, end = segments[mine]
        before = list(patterns.finditer(both, said[segment - self.start : at[0] - self.start], _I))
        behind = patterns.search(both, said[at[1] - self.start : end - self.start], _I)
        if before or behind:
            hit = before[-1] if before else behind
            if hit is None or hit.group("wish") is None:
                return False
            between = said[segment - self.start + hit.end() : at[0] - self.start] if before else ""
            return not self._apart(between)
        if patterns.match(
            r"\W*(?:but|although|however|aber|jedoch)\b", said[segment - self.start :], _I
        ):
            return False  # “We prefer PNG, but JPEG …”
        for begin, stop in reversed(segments[:mine]):
            for hit in reversed(list(patterns.finditer(both, self.text[begin:stop], _I))):
                rest = said[begin - self.start + hit.end() : stop - self.start]
                if mine and not patterns.search(r"\w", rest) and hit.start():
                    continue  # “TIFF preferred, …” wishes for what stands before it
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

    def _only_these(self) -> bool:
        """Whether a sentence begins with pictures of one way up and says something of them, as in *Portrait
        images must not …*."""
        ways = "|".join(pattern for name, pattern in self.words.turns.items() if name != "square")
        plural = rf"^\W*(?:{ways})(?:\s*(?:{self.words.pictures}))?\b\s+(?!only|nur)(?:{self.words.must})"
        return bool(patterns.search(plural, self.said, _I))

    def _age(self) -> Iterator[Draft]:
        for hit in patterns.finditer(self.words.age, self.said, _I):
            groups = [g for g in hit.groups() if g]
            if len(groups) < 2:
                continue
            count = self.words.numerals.get(groups[0].lower(), groups[0])
            unit = next((en for en, first in (("day", "dt"), ("week", "w"), ("month", "m"), ("year", "yj"))
                         if groups[1][0].lower() in first), "")  # fmt: skip
            if not str(count).isdigit() or not unit:
                continue
            span = self.start + hit.start(), self.start + hit.end()
            self.taken.append(span)
            yield self.draft({"measure": "shot_age", "at_most": f"{count} {unit}s"}, span)

    def _whole(self) -> list[Draft]:
        made: list[Draft] = []
        for pattern, keys in self.words.whole:
            hit = patterns.search(pattern, self.said, _I)
            if hit is None or (keys["measure"] == "channels" and self._either_colour()):
                continue
            denied = self._denied(hit)
            if not denied and self._may(hit):
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
            self.taken.append(at)
            if all(fields != dict(one.fields) for one in made):
                made.append(self.draft(fields, at))
        alone = self.one_turn and not self._only_these()
        for turn, pattern in self.words.turns.items():
            hit = patterns.search(rf"\b(?:{pattern})\b(?!\))", self.said, _I) if alone else None
            refused = patterns.search(
                rf"\b(?:{self.words.negation})\s+(?:\w+\s+)?(?P<turn>{pattern})", self.said, _I
            )
            if refused is not None and turn != "square":
                at = self.start + refused.start("turn"), self.start + refused.end("turn")
                made.append(self.draft({"measure": "orientation", "none_of": [turn]}, at))
            elif hit is not None and turn != "square":
                at = self.start + hit.start(), self.start + hit.end()
                made.append(self.draft({"measure": "orientation", "exactly": turn}, at))
        return made

    def _may(self, hit: re.Match[str]) -> bool:
        """Whether something may be, and need not: *transparent corners allowed*."""
        behind = rf"^[^.,;]{{0,20}}\b(?:{self.words.optional})"
        before = rf"\b(?:{self.words.wanted})\b[^.,;]{{0,16}}$"
        return bool(
            patterns.search(behind, self.said[hit.end() :], _I)
            or patterns.search(before, self.said[: hit.start()], _I)
        )

    def _either_colour(self) -> bool:
        """Whether colour and grey are both taken."""
        colour, grey = r"\b(?:colou?r|farb)\w*", r"\b(?:gr[ea]y|grau|black|schwarz)\w*"
        near = r"\W+(?:\w+\W+){0,3}?(?:or|oder)\W+(?:\w+\W+){0,3}?"
        either = rf"{colour}{near}{grey}|{grey}{near}{colour}"
        return bool(patterns.search(either, self.said, _I))

    def _unbound(self) -> str:
        """The sentence with the words of bounds blank, and every place where it was."""
        tables = (self.words.before, self.words.after)
        every = "|".join(table[side] for table in tables for side in ("at_least", "at_most"))
        return patterns.sub(
            rf"(?<!\w)(?:{every})(?!\w)", lambda hit: "#" * len(hit.group()), self.said, _I
        )

    def _denied(self, hit: re.Match[str]) -> bool:
        free = self._unbound()  # “no more than” denies nothing
        before, behind = free[: hit.start()], free[hit.end() :]
        negation = rf"\b(?:{self.words.negation})\b"
        return bool(
            patterns.search(rf"{negation}(?:\s+\w+){{0,3}}\s*$", before, _I)
            or patterns.search(
                rf"^(?:(?!\b(?:and|but|und|aber)\s+{negation})[^.,;]){{0,40}}{negation}", behind, _I
            )
            or patterns.search(rf"^[^.;]{{0,60}}\b(?:{self.words.refusal})\b", behind, _I)
        )

    def _asked(self, made: list[Draft]) -> list[Draft]:
        """The sentence as a question, where it speaks of what only a person can judge."""
        if patterns.search(_ANY, self.said.strip(), _I):
            return []
        for hit in patterns.finditer(rf"\b(?:{self.words.asks})", self.said, _I):
            at = self.start + hit.start(), self.start + hit.end()
            if not any(a < at[1] and at[0] < b for a, b in self.taken):
                quote = self.said.strip().strip(";").strip().rstrip(".")
                return [replace(self.draft({"ask": quote}, at), numbers=())]
        quote = self.said.strip().strip(";").strip().rstrip(".")
        forbids = patterns.search(rf"^(?:{self.words.forbids})\b", quote, _I)
        if forbids and patterns.search(_FOREIGN, quote, _I):
            return []  # a format that is never written is no question
        if (
            (self.listed or forbids or patterns.search(self.words.unwanted, quote, _I))
            and not made
            and len(quote) > 4
            and not patterns.search(r"\d", quote)
        ):
            # One item of a list of rules: what it asks only a person can say.
            if not patterns.search(self.words.no_rule, quote, _I):
                return [replace(self.draft({"ask": quote}, (self.start, self.start)), numbers=())]
        return []
