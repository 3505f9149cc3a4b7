"""One sentence of published rules: its quantities, the words round them, and rules in words alone."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise
from typing import Any

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.by_format import FORMATS, named
from aptandum.core.rulebook.words.draft import Draft
from aptandum.core.rulebook.words.lexicon import Lexicon
from aptandum.core.rulebook.words.quantities import Quantity, quantities

_I = int(re.I)

_SPACES = {
    "srgb": r"s-?rgb", "adobe-rgb": r"adobe ?rgb(?: ?\(?1998\)?)?", "display-p3": r"display ?p3",
    "prophoto": r"pro ?photo", "cmyk": r"cmyk",
}  # fmt: skip
_PACKINGS = {
    "none": r"uncompressed|unkomprimiert", "lzw": r"lzw", "deflate": r"deflate|zip",
}  # fmt: skip
OF_FRAME = ("head_height", "headroom", "eye_line", "subject_fill")
LOWER, UPPER = ("at_least", "above"), ("at_most", "below")


class Sentence:
    """One sentence and what it says."""

    def __init__(
        self,
        text: str,
        start: int,
        end: int,
        words: Lexicon,
        thousand: bool,
        one_turn: bool,
        listed: bool = False,
    ) -> None:
        while start < end and text[start].isspace():
            start += 1
        self.text, self.start, self.end = text, start, end
        self.words, self.thousand, self.one_turn = words, thousand, one_turn
        self.listed = listed
        self.said = text[start:end]
        self.taken: list[tuple[int, int]] = []
        self.last: tuple[Quantity, str | None] | None = None

    def drafts(self) -> Iterator[Draft]:
        """The draft clauses of the sentence."""
        made = list(self._age())
        every = [q for q in quantities(self.text, self.start, self.end, self.words)
                 if not any(a < q.end and q.start < b for a, b in self.taken)]  # fmt: skip
        every = [q for q in every if not self._explains(q)]
        made += self._sets(every)
        used = self.start
        last: Quantity | None = None
        for i, quantity in enumerate(every):
            after = every[i + 1].start if i + 1 < len(every) else self.end
            before = used
            draft, used = self._of(quantity, used, after)
            if draft is None:
                continue
            if made and last is not None and self._listed(last, quantity):
                made[-1] = _joined(made[-1], draft)
            else:
                made.append(draft)
            last = quantity if before <= quantity.start else None
        made += self._named(FORMATS, "format")
        made += self._named(_SPACES, "colour_space")
        made += self._named(_PACKINGS, "packing")
        made += self._whole()
        made += self._asked(made)
        yield from sorted(made, key=lambda draft: draft.start)

    def _draft(self, fields: dict[str, Any], at: tuple[int, int], **more: Any) -> Draft:
        quote = self.said.strip().strip(";").strip()
        begin = self.start + self.said.index(quote)
        if "strength" not in fields and self._should(at):
            fields["strength"] = "should"
        return Draft(fields, quote, begin, begin + len(quote), numbers=(at,), **more)

    def _should(self, at: tuple[int, int]) -> bool:
        """Whether what stands there is only recommended: by the nearest word between the same commas,
        else by the last word before that no number stands in front of (*recommended* behind a number
        speaks of that one alone)."""
        both = rf"\b(?:(?P<wish>{self.words.should})|(?P<rule>{self.words.must}))\b"
        segment = self.start
        ends = [self.start + hit.end() for hit in patterns.finditer(r",(?!\d)|;|\(", self.said)]
        bounds = [self.start, *ends, self.end]
        segments = list(pairwise(bounds))
        mine = next(i for i, (a, b) in enumerate(segments) if a <= at[0] < b or b == self.end)
        segment, end = segments[mine]
        before = list(patterns.finditer(both, self.text[segment : at[0]], _I))
        behind = patterns.search(both, self.text[at[1] : end], _I)
        if before or behind:
            hit = before[-1] if before else behind
            return hit is not None and hit.group("wish") is not None
        for begin, stop in reversed(segments[:mine]):
            for hit in reversed(list(patterns.finditer(both, self.text[begin:stop], _I))):
                if not patterns.search(r"\d", self.text[begin : begin + hit.start()]):
                    return hit.group("wish") is not None
        return False

    def _explains(self, quantity: Quantity) -> bool:
        """Whether a quantity says how many bytes a unit has: ``(1 kB = 1024 bytes)``."""
        around = self.text[max(self.start, quantity.start - 12) : quantity.end + 12]
        return quantity.kind == "bytes" and bool(
            patterns.search(r"1\s*[kKmM]i?B\s*=\s*1", around) and quantity.values[0].split()[0]
            in ("1", "1024", "1000")
        )  # fmt: skip

    def _listed(self, one: Quantity, other: Quantity) -> bool:
        """Whether two quantities stand in one list: ``256 x 256, 384 x 384 or 512 x 512``."""
        between = self.text[one.end : other.start]
        first, second = named(between), named(self.text[other.end : other.end + 12])
        if first and second and first != second:
            return False  # “8-bit JPEG or 16-bit TIFF”: each is one format's own
        word = r"(?:\w+\s+)?" if one.kind == "bit" else ""
        return one.kind == other.kind and bool(
            patterns.fullmatch(rf"\s*(?:px|pixels?)?\s*{word}(?:,|or|oder|,\s*or)\s*", between, _I)
        )

    def _sets(self, every: list[Quantity]) -> Iterator[Draft]:
        """How many pictures, and how many bytes together."""
        number = r"\d{1,3}|" + "|".join(self.words.numerals)
        ends = rf"(?:({number})\s+(?:{self.words.to})\s+)?({number})\s+(?:{self.words.pictures})\b"
        for hit in patterns.finditer(ends, self.said, _I):
            low, high = (self.words.numerals.get((g or "").lower(), g) for g in hit.groups())
            bound, _end = self._bound(self.said[: hit.start()], "", Quantity("set", ("",), 0, 0))
            span = self.start + hit.start(), self.start + hit.end()
            if low is not None:
                fields: dict[str, Any] = {"measure": "set_count", "between": [str(low), str(high)]}
            elif bound is not None:
                fields = {"measure": "set_count", bound: str(high)}
            else:
                continue
            self.taken.append(span)
            yield self._draft(fields, span)

    # -- quantities ---------------------------------------------------------------------------

    def _of(self, q: Quantity, used: int, after: int) -> tuple[Draft | None, int]:
        """The draft of a quantity, and up to where the words belong to it."""
        left, right = self.text[used : q.start], self.text[q.end : after]
        q = replace(q, more=after < self.end)
        bound, end = self._bound(left, right, q)
        if bound is None and self.last is not None and self.last[0].kind == q.kind:
            # “At least 600 px wide and 800 px high”: the bound holds for both.
            between = self.text[self.last[0].end : q.start]
            if patterns.fullmatch(
                r"\s*(?:\w+\s*)?(?:,|and|und|,\s*and)\s*(?:\w+\s+){0,2}", between
            ):
                bound = self.last[1]
        self.last = (q, bound) if bound in (*LOWER, *UPPER) else None
        measure, doubt = self._measure(q, left, right)
        if measure == "both":
            measure = "shortest_side" if bound in LOWER else "longest_side"
        if measure is None:
            return None, q.end + end
        fields = self._limit(measure, q, bound or "exactly")
        turn = self._turn(q)
        if turn:
            fields["applies"] = turn
        readings: tuple[dict[str, Any], ...] = tuple({**fields, "measure": one} for one in doubt)
        if measure in ("file_bytes", "set_bytes") and bound is None:
            value = fields.pop("exactly")
            readings = ({**fields, "at_least": value},) if measure == "file_bytes" else ()
            fields["at_most"] = value
        made = self._draft(
            fields,
            (q.start, q.end),
            certainty="doubtful" if readings else "sure",
            readings=readings,
        )
        return made, q.end + end

    def _bound(self, left: str, right: str, q: Quantity) -> tuple[str | None, int]:
        near = re.split(r"[,;]", right)[0][:42]
        for bound, pattern in self.words.after.items():
            hit = patterns.search(rf"(?<!\w)(?:{pattern})(?!\w)", near, _I)
            # Right before the next number it belongs to that one: “600 and at most 1200”.
            if hit and not (q.more and not right[hit.end() :].strip()):
                return bound, hit.end()
        if len(q.values) == 2:
            return "between", 0
        best: tuple[int, int, str] | None = None
        for bound, pattern in self.words.before.items():
            for hit in patterns.finditer(rf"(?<!\w)(?:{pattern})(?!\w)", left, _I):
                rank = (hit.end(), -hit.start(), bound)
                # A longer match that ends there or later says more: “no more than”, not “more than”.
                if best is None or rank[0] > best[0] or (rank[0] == best[0] and rank[1] > best[1]):
                    if best is None or hit.start() <= -best[1] or hit.start() >= best[0]:
                        best = rank
        if best is None:
            return None, 0
        # “Smaller than 500 px will be refused” is at least 500 px.
        turned = {"below": "at_least", "above": "at_most"}
        before = left[: -best[1]][-24:]  # “no files above 8 MB”
        if best[2] in turned and patterns.search(rf"\b(?:{self.words.negation})\b", before, _I):
            return turned[best[2]], 0
        if best[2] in turned and patterns.search(
            rf"\b(?:{self.words.refusal})\b", self.said[-80:], _I
        ):
            return turned[best[2]], 0
        return best[2], 0

    def _measure(self, q: Quantity, left: str, right: str) -> tuple[str | None, tuple[str, ...]]:
        """What is measured, and what it could be as well."""
        plain = {"size": "size", "print size": "size", "bytes": "file_bytes", "ppi": "ppi",
                 "megapixels": "megapixels", "quality": "quality", "characters": "name_length", "ratio": "aspect"}  # fmt: skip
        if q.kind == "bytes" and patterns.search(
            rf"\b(?:{self.words.together})\b", f"{left[-60:]} {right[:20]}", _I
        ):
            return "set_bytes", ()
        if q.kind == "ratio" and patterns.search(self.words.packed, left[-40:], _I):
            return "compression", ()
        if q.kind in plain:
            return plain[q.kind], ()
        if q.kind == "bit":
            deep = q.values[0] in ("24", "32", "48")
            return ("bits_per_pixel" if deep else "bits"), ()
        topic = self._topic(q, left, right)
        if q.kind == "share":
            return (topic if topic in OF_FRAME else None), ()
        if q.kind == "degrees":
            return {"turn": "head_turn", "tilt": "head_tilt"}.get(topic or ""), ()
        if q.kind == "length":
            return self._length(topic)
        if topic in ("width", "height", "longest_side", "shortest_side", "both"):
            return topic, ()
        return "longest_side", ("width", "height", "shortest_side")

    def _length(self, topic: str | None) -> tuple[str | None, tuple[str, ...]]:
        if topic in ("head_height", "headroom", "eye_line"):
            return topic, ()
        sides = {"width": "print_width", "height": "print_height",
                 "longest_side": "print_longest", "shortest_side": "print_shortest"}  # fmt: skip
        if topic in sides:
            return sides[topic], ()
        return "print_longest", ("print_width", "print_height")

    def _topic(self, q: Quantity, left: str, right: str) -> str | None:
        """What is spoken of: right behind the number, else last before it."""
        near = re.split(r"[,;(]| and | und ", right)[0][:40]
        person = q.kind in ("share", "length")
        for where, last in ((near, False), (self.text[self.start : q.start], True)):
            hits = [
                (hit.end() if last else -hit.start(), hit.end() - hit.start(), name)
                for name, pattern in self.words.topics.items()
                for hit in patterns.finditer(rf"\b(?:{pattern})\b", where, _I)
                if q.kind != "share" or name in OF_FRAME
            ]
            if hits:
                found = max(hits)[2]
                tall = patterns.search(
                    rf"\b(?:{self.words.topics['head_height']})\b[^,;]*$", left, _I
                )
                # “The head 1 inch high”: how high is said of the head.
                return "head_height" if person and found == "height" and tall else found
            if person and not last and patterns.search(self.words.topics["head_height"], near, _I):
                return "head_height"
        return None

    def _limit(self, measure: str, q: Quantity, bound: str) -> dict[str, Any]:
        values = [v.replace("KB", "KiB") if self.thousand else v for v in q.values]
        if measure == "compression":
            return {"measure": measure, bound: values[-1].partition(":")[0]}
        if measure in ("head_turn", "head_tilt") and bound in UPPER:
            return {"measure": measure, "between": [f"-{values[0]}", values[0]]}
        if bound == "between" and len(values) == 2:
            return {"measure": measure, "between": values}
        return {"measure": measure, bound if bound != "between" else "exactly": values[-1]}

    def _turn(self, q: Quantity) -> str:
        """The way up that the words before a quantity speak of."""
        before = "" if self.one_turn else self.text[self.start : q.start]
        hits = [
            (hit.end(), name)
            for name, pattern in self.words.turns.items()
            if name != "square"
            for hit in patterns.finditer(rf"\b(?:{pattern})\b", before, _I)
        ]
        return max(hits)[1] if hits else ""

    # -- rules in words alone -------------------------------------------------------------------

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
            yield self._draft({"measure": "shot_age", "at_most": f"{count} {unit}s"}, span)

    def _named(self, names: dict[str, str], measure: str) -> list[Draft]:
        """Formats or colour spaces that are named: one clause for those that are taken, one for those
        that are refused."""
        hits = [
            (hit.start(), hit.end(), name)
            for name, pattern in names.items()
            for hit in patterns.finditer(
                rf"(?<![\w@])\.?(?:{pattern})(?:s|-\w+)?(?!\w)", self.said, _I
            )
        ]
        kind = rf"\b(?:{self.words.kinds})\s+$"
        said_of = rf"^[^.,;]{{0,14}}\b(?:{self.words.kinds})\b"
        hits = [
            hit
            for hit in hits
            if not patterns.search(kind, self.said[: hit[0]], _I)
            and not patterns.search(said_of, self.said[hit[1] :], _I)
        ]
        if not hits:
            return []
        hits.sort()
        first, last = hits[0][0], hits[-1][1]
        if patterns.search(rf"^[^.,;]{{0,16}}\b(?:{self.words.optional})", self.said[last:], _I):
            return []
        words = tuple(dict.fromkeys(name for _a, _b, name in hits))
        before, behind = self.said[max(0, first - 24) : first], self._unbound(last)[:30]
        kinds = rf"(?!\s+(?:be\s+)?(?:{self.words.kinds}))"
        refused = patterns.search(
            rf"\b(?:{self.words.negation})\b[^.;:]*$", before, _I
        ) or patterns.search(rf"^[^.,;(]{{0,12}}\b(?:{self.words.negation})\b{kinds}", behind, _I)
        limits = "|".join(self.words.before[bound] for bound in ("above", "below"))
        if refused and patterns.search(rf"^\s*\w*\s*(?:{limits})\s*\d", self.said[last:], _I):
            return []  # “no GIF files larger than 200 kB” refuses the large ones
        key = "none_of" if refused else "one_of" if len(words) > 1 else "exactly"
        value: Any = list(words) if key != "exactly" else words[0]
        at = self.start + first, self.start + last
        return [self._draft({"measure": measure, key: value}, at)]

    def _unbound(self, start: int) -> str:
        """What stands behind a place, without the words that make a bound: *must not exceed* refuses
        nothing."""
        sides = ("at_least", "at_most")
        every = "|".join(
            table[side] for table in (self.words.before, self.words.after) for side in sides
        )
        return patterns.sub(rf"(?<!\w)(?:{every})(?!\w)", "#", self.said[start : start + 60], _I)

    def _whole(self) -> list[Draft]:
        made = []
        for pattern, keys in self.words.whole:
            hit = patterns.search(pattern, self.said, _I)
            if hit is None or (keys["measure"] == "channels" and self._either_colour()):
                continue
            denied = self._denied(hit)
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
            made.append(self._draft(fields, at))
        for turn, pattern in self.words.turns.items():
            hit = patterns.search(rf"\b(?:{pattern})\b", self.said, _I) if self.one_turn else None
            if hit is not None and turn != "square":
                at = self.start + hit.start(), self.start + hit.end()
                made.append(self._draft({"measure": "orientation", "exactly": turn}, at))
        return made

    def _either_colour(self) -> bool:
        """Whether colour and grey are both taken."""
        return bool(patterns.search(r"\b(?:or|oder)\b", self.said)) and all(
            patterns.search(pattern, self.said, _I)
            for pattern in (r"colou?r|farb", r"gr[ea]y|grau|black|schwarz")
        )

    def _denied(self, hit: re.Match[str]) -> bool:
        before, behind = self.said[: hit.start()], self.said[hit.end() :]
        negation = rf"\b(?:{self.words.negation})\b"
        return bool(
            patterns.search(rf"{negation}(?:\s+\w+){{0,3}}\s*$", before, _I)
            or patterns.search(rf"^[^.,;]{{0,40}}{negation}", behind, _I)
            or patterns.search(rf"^[^.;]{{0,60}}\b(?:{self.words.refusal})\b", behind, _I)
        )

    def _asked(self, made: list[Draft]) -> list[Draft]:
        """The sentence as a question, where it speaks of what only a person can judge."""
        for hit in patterns.finditer(rf"\b(?:{self.words.asks})", self.said, _I):
            at = self.start + hit.start(), self.start + hit.end()
            if not any(a < at[1] and at[0] < b for a, b in self.taken):
                quote = self.said.strip().strip(";").strip().rstrip(".")
                return [replace(self._draft({"ask": quote}, at), numbers=())]
        quote = self.said.strip().strip(";").strip().rstrip(".")
        forbids = patterns.search(rf"^(?:{self.words.forbids})\b", quote, _I)
        if (
            (self.listed or forbids)
            and not made
            and len(quote) > 8
            and not patterns.search(r"\d", quote)
        ):
            # One item of a list of rules: what it asks only a person can say.
            if not patterns.search(self.words.no_rule, quote, _I):
                return [replace(self._draft({"ask": quote}, (self.start, self.start)), numbers=())]
        return []


def _joined(one: Draft, other: Draft) -> Draft:
    """Two values of one list as a clause that takes either."""
    a, b = dict(one.fields), other.fields
    deep = {"bits", "bits_per_pixel"}
    if a.get("measure") != b.get("measure") and {a.get("measure"), b.get("measure")} == deep:
        a["measure"] = "bits_per_pixel"
    values = [*a.pop("one_of", ()), *([a.pop("exactly")] if "exactly" in a else [])]
    values += [b["exactly"]] if "exactly" in b else []
    if len(values) < 2:
        return one
    return replace(one, fields={**a, "one_of": values}, numbers=(*one.numbers, *other.numbers))
