"""One sentence of published rules: its quantities, the words round them, and rules in words alone."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from aptandum.core.rulebook.toml import check_clause
from aptandum.core.rulebook.words import bounding, patterns
from aptandum.core.rulebook.words.ages import ages_in
from aptandum.core.rulebook.words.bounding import DENIED, LOWER, UPPER
from aptandum.core.rulebook.words.by_format import FORMATS, named
from aptandum.core.rulebook.words.counts import counts_in
from aptandum.core.rulebook.words.denials import needless
from aptandum.core.rulebook.words.draft import Draft
from aptandum.core.rulebook.words.joining import joined
from aptandum.core.rulebook.words.middle import from_middle, is_of_middle
from aptandum.core.rulebook.words.naming import PACKINGS, chroma_in, named_in, spaces_in
from aptandum.core.rulebook.words.of_format import of_one_format
from aptandum.core.rulebook.words.pairs import put_right
from aptandum.core.rulebook.words.quantities import Quantity, as_held, quantities
from aptandum.core.rulebook.words.told import OF_WHOLE, Told
from aptandum.core.rulebook.words.ways_up import EITHER_WAY, ways_up

_I = int(re.I)

_COUNTED = Quantity("set", ("",), 0, 0)
OF_FRAME = ("head_height", "head_width", "headroom", "eye_line", "subject_fill")
OF_POSE = {"turn": "head_turn", "tilt": "head_tilt", "nod": "head_nod"}
_OF_HEAD = ("head_height", "head_width", "headroom", "eye_line")
_SIZED = re.compile(r"\d\s?[x×]\s?\d")
_UPSIDE = {"at_least": "at_most", "at_most": "at_least", "above": "below", "below": "above"}
_WITH_END = {"above": "at_least", "below": "at_most"}
_OF_SOME = r"\b(?:(?:ein|zwei|drei)spaltig\w*|(?:single|one|double|two)[ -]columns?)\b|\b(?:under|over|above|below|aged|unter|über|bis|ab) \d+ (?:years|Jahren?)\b|\b(?:for|of) (?:children|babies|infants|toddlers)\b|\bchildren under\b|\b(?:bei|für|von) (?:Kindern?|Säuglingen|Babys)\b|^\W*(?:bei|für|for|with) (?:[^\W\d]+ )?(?:clothing|clothes|garments|apparel|shoes|footwear|jewell?ery|furniture|books|food|people|groups|group (?:photos|pictures|portraits)|portraits|animals|pets|cars|vehicles|boats|buildings|rooms|interiors|plants|flowers|accessories|bags|Kleidung|Schuhen?|Schmuck|Möbeln?|Büchern?|Speisen|Personen|Gruppen\w*|Porträts?|Tieren?|Autos|Booten?|Gebäuden?|Räumen?|Innenräumen|Pflanzen|Blumen|Taschen|Zubehör)(?=\s*[,:]|\s+(?:use|please|bitte|send|make|choose|nur|only|\d|im|als|in|landscape|portrait|upright|Hochformat|Querformat|quadratisch|square)\b)"
"""What makes a rule one for some people alone."""
_ON_SOME = r"\b(?:on|around|for|auf|um|bei) (?:\w+ )?(?:white|light|pale|bright|dark|weiß\w*|hell\w*|dunkl\w*) (?!background|ground|Hintergrund)\w+|^\W*(?:white|light|pale|bright|dark|weiße?|helle?|dunkle?) (?!background|ground|Hintergrund)\w+ (?:needs?|must|requires?|should|brauch\w*|müssen|muss|benötig\w*)\b"
_MOVES = (
    r"anim|\bgifs?\b|webp|apng|\bloop|video|\bfilm\b|\bfps\b|frames? (?:per|a) second|frame rate"
)
"""What a text speaks of whose frames are those of a moving picture."""
_SCREEN = r"\W*(?:the|our|this|der|die|das|unser\w*|dieser?) (?:[^\W\d]+ ){0,2}(?:projectors?|screens?|displays?|panels?|beamer|projektor|bildschirm\w*|displays?|anzeige\w*) (?:shows?|has|have|is|are|runs?|measures?|zeigt|zeigen|hat|haben|ist|sind)\b"
"""How a sentence begins that tells how many pixels a screen has."""
_OF_CROWN = r"\b(?:crown|hair|Scheitel|Haare?n?)\b[^.;()]*\b(?:the height|die Höhe)\b[^.;()]*$"
_BARE_BEFORE = r"(?<![\w.,:/-])\d{2,5}\s*(?:,|,?\s*(?:or|oder))\s*$"
"""Numbers without a unit that one is listed with: *256, 512 or 1024 on each side*."""
_COMPARED = (
    r"\s+(?:(?:that|which|are|die)\s+)*(?:\w+er (?:than|als)|under|below|over|above|unter|über)\s+$"
)
_FREE = (
    r"\b(?:any|free|open|auto\w*|variable|flexible|proportional\w*|beliebig|frei|egal|variabel)\b"
)
"""What says in brackets that the other side may be anything: *width: 1920 px (height free)*."""
_LACKS = r"(?:\bnot|n't|\bkein\w*|\bnicht)\s+(?:(?:an?|of|in|exactly|im|genau)\s+){0,2}$"
"""What says that a picture is refused for lacking what stands behind it: *wrong if it is not 3:2*."""
_CHANGED = r"\b(?:changed|raised|increased|lowered|reduced|gone (?:up|down)|went (?:up|down)|moved|erhöht|gesenkt|geändert)\b[^.;\d]*$"
"""What makes two ends of a range an old number and a new one."""


class Sentence(Told):
    """One sentence and what it says."""

    def drafts(self) -> Iterator[Draft]:
        """The draft clauses of the sentence."""
        if self.of_film() or self.of_shown() or self.of_given():
            return
        if self.of_device():
            yield from self._of_screen()
            return
        made = list(ages_in(self))
        every = [q for q in quantities(self.text, self.start, self.end, self.words)
                 if not any(a < q.end and q.start < b for a, b in self.taken)]  # fmt: skip
        every = sorted([*every, *self._bare(every)], key=lambda q: q.start)
        every = [q for q in every if not self.explains(q) and not self.seen(q)]
        every, heads = self._of_heads(every)
        made += counts_in(self, every, lambda left: bounding.bound(self, left, "", _COUNTED).name)
        used = self.start
        last: Quantity | None = None
        for i, quantity in enumerate(every):
            after = every[i + 1].start if i + 1 < len(every) else self.end
            before = used
            counted = [b for a, b in self.taken if used <= a and b <= quantity.start]
            draft, used = self._of(quantity, max([used, *counted]), after)
            if draft is None:
                continue
            both = None
            if made and last is not None and self._listed(last, quantity):
                both = joined(made[-1], draft)
            if both is not None:
                made[-1] = both
            else:
                made.append(draft)
            put_right(self, made)
            last = quantity if before <= quantity.start else None
        made += named_in(self, FORMATS, "format")
        made += spaces_in(self)
        made += named_in(self, PACKINGS, "packing")
        made += chroma_in(self)
        made += [*self._whole(), *ways_up(self)]
        lines = [d for d in made if d.fields.get("measure") == "keyline_width"]
        # “no borders but a keyline of up to 3 pixels”
        if any("at_most" in d.fields for d in lines):
            made = [d for d in made if d not in lines or d.fields.get("exactly") != "0"]
        made, rest = self._needed(self._led([*made, *heads]))
        if rest.strip():
            made += self.asked(made)
        made = of_one_format(made, self.said, self.start, self.words)
        if patterns.search(_OF_SOME, self.said, _I):  # “children under 11: 26-36 mm”
            made = [d if "ask" in d.fields else replace(d, certainty="doubtful") for d in made]
        if patterns.search(_ON_SOME, self.said, _I):  # “1 px border required on white banners”
            made = [
                replace(d, certainty="doubtful")
                if d.fields.get("measure") == "keyline_width"
                else d
                for d in made
            ]
        yield from sorted(made, key=lambda draft: draft.start)

    def _of_screen(self) -> Iterator[Draft]:
        """*Our projector shows 1998 x 1080 pixels*: pictures may have to be of that size, or fit it, or neither."""
        every = quantities(self.text, self.start, self.end, self.words)
        sizes = [q for q in every if q.kind == "size" and len(q.values) == 1]
        if len(sizes) == 1 and patterns.match(_SCREEN, self.said, _I):
            q = sizes[0]
            fields = {"measure": "size", "exactly": q.values[0]}
            readings = ({"measure": "size", "at_most": q.values[0]},)
            yield self.draft(fields, (q.start, q.end), certainty="doubtful", readings=readings)

    def _of_heads(self, every: list[Quantity]) -> tuple[list[Quantity], list[Draft]]:
        """The quantities without those that say in pixels how large a head is or where, and these as questions: a head is
        measured as a share of the picture, or in print."""
        apart = rf"\b(?:{self.words.topics['eye_distance']})\b"
        if patterns.search(apart, self.said, _I):
            return every, []  # that one is measured in pixels
        of_head = "|".join(self.words.topics[name] for name in _OF_HEAD)
        heads = [
            q for q in every
            if q.kind == "px"
            and patterns.search(rf"\b(?:{of_head})\b", re.split(r"[,;]", self.text[self.start : q.start])[-1], _I)
        ]  # fmt: skip
        said = " ".join(self.said.strip(" .;").split())
        asked = [self.draft({"ask": said}, (q.start, q.end)) for q in heads[:1]]
        return [q for q in every if q not in heads], asked

    def _bare(self, every: list[Quantity]) -> Iterator[Quantity]:
        """The numbers without a unit that a table has below *Width* and the like."""
        for cell in self.table:
            said = self.text[cell.start : cell.end]
            hit = re.fullmatch(r"\s*(\d{2,5})\s*", said)
            if cell.side and hit and not any(q.start < cell.end and cell.start < q.end for q in every):  # fmt: skip
                yield Quantity("px", (hit[1],), cell.start + hit.start(1), cell.start + hit.end(1))

    def _led(self, made: list[Draft]) -> list[Draft]:
        """The drafts of what is not taken: of a number that has no bound nobody knows what is left, so it is asked."""
        if not self.lead:
            return made
        return [
            replace(d, fields={"ask": " ".join(f"{self.lead}: {d.quote}".split())}, certainty="doubtful", readings=())
            if "exactly" in d.fields and re.search(r"\d", str(d.fields["exactly"])) and d.fields["exactly"] != "0"
            and d.fields["measure"] not in ("frames", "enlargement", "people")
            and not patterns.search(_LACKS, self.text[self.start : d.numbers[0][0]], _I)
            else d
            for d in made
        ]  # fmt: skip

    def _needed(self, made: list[Draft]) -> tuple[list[Draft], str]:
        """The drafts without what need not be, and the sentence without it."""
        free = list(needless(self.said, self.words))
        rest = "".join("" if any(a <= i < b for a, b in free) else c for i, c in enumerate(self.said))  # fmt: skip
        at = [(self.start + a, self.start + b) for a, b in free]
        return [d for d in made if not any(a <= d.numbers[0][0] < b for a, b in at)], rest.strip(
            " .;,"
        )

    def _listed(self, one: Quantity, other: Quantity) -> bool:
        """Whether two quantities stand in one list: ``256 x 256, 384 x 384 or 512 x 512``."""
        between = self.text[one.end : other.start]
        first, second = named(between), named(self.text[other.end : other.end + 12])
        if first and second and first != second:
            return False  # “8-bit JPEG or 16-bit TIFF”: each is one format's own
        if self._turn_behind(one) is not None:
            return False  # each is of its own way up
        word = r"(?:\w+\s+){0,2}" if one.kind == "bit" else ""
        both = "|and|und" if one.kind == "ratio" else ""  # no picture has two proportions
        return one.kind == other.kind and bool(
            patterns.fullmatch(
                rf"\s*(?:px|pixels?)?\s*{word}(?:\([^()]*\)\s*)?(?:,|or|oder|,\s*or{both})\s*",
                between,
                _I,
            )
        )

    # -- quantities ---------------------------------------------------------------------------

    def _of(self, q: Quantity, used: int, after: int) -> tuple[Draft | None, int]:
        """The draft of a quantity, and up to where the words belong to it."""
        left, right = self.text[used : q.start], self.text[q.end : after]
        if len(q.values) == 2 and patterns.search(_CHANGED, left, _I):
            q = replace(q, values=q.values[1:])  # “was raised from 800 to 1200 px”
        q = replace(as_held(q, self.text[q.end : self.end], self.words), more=after < self.end)
        found = bounding.bound(self, left, right, q)
        bound, end = found.name, found.end
        if found.free:
            return None, q.end + end  # “images larger than 2000 px are fine”
        cell = self.cell(q.start)
        if cell is not None and bound is None:
            bound = cell.bound or None
        bound = self._with_last(bound, q)
        bound = self._told_again(bound, q)
        if q.kind == "ratio":
            bound = bounding.of_ratio(bound, left, right, self.words)
            if patterns.search(r"\b(?:times|mal)\b", self.text[q.start : q.end], _I) and q.values[
                0
            ].startswith("1:"):
                bound = _UPSIDE.get(bound or "", bound)  # “no higher than 3 times its width”
        if q.kind == "degrees" and bound is None and patterns.search(r"(?:±|\+/?[-–])\s*$", left):
            bound = "at_most"
        self.last = (q, bound) if bound in (*LOWER, *UPPER) else None
        measure, doubt = self._measure(q, left, right)
        if cell is not None and cell.side and q.kind == "px":
            measure, doubt = cell.side, ()
        if measure == "both":
            measure = "shortest_side" if bound in LOWER else "longest_side"
            if bound in (None, "between"):  # as long as it says, on both sides
                q = replace(q, values=tuple(f"{one} x {one}" for one in q.values))
                measure = "size"
        if measure == "frames" and not patterns.search(_MOVES, self.text, _I):
            measure = None  # “12 frames on the wall”
        if measure is None or (measure == "people" and bound is None):
            return None, q.end + end
        may = measure == "keyline_width" and bound is None and self._may_be()
        bound = "at_most" if may or (q.kind == "greys" and bound is None) else bound
        fields = self._limit(measure, q, bound or "exactly")
        turn = self._turn(q)
        if turn:
            fields["applies"] = turn
        if found.beyond:
            fields["strength"] = "should"
        readings = bounding.read_as(fields, found, doubt)
        if measure == "megapixels" and bound is None:
            value = fields.pop("exactly")
            readings = ({**fields, "at_most": value}, {**fields, "exactly": value})
            fields["at_least"] = value
        elif measure in ("file_bytes", "set_bytes") and bound is None:
            value = fields.pop("exactly")
            readings = ({**fields, "at_least": value},) if measure == "file_bytes" else ()
            fields["at_most"] = value
        line = measure == "keyline_width" and self._on_condition(q)
        bare = q.kind in ("px", "size") and patterns.search(_BARE_BEFORE, left, _I)
        doubts = readings or bare or may or line
        sure = not doubts and not bounding.of_some(q, measure, left)
        at = q.start, q.end
        made = self.draft(fields, at, certainty="sure" if sure else "doubtful", readings=readings)
        return made, q.end + end

    def _told_again(self, bound: str | None, q: Quantity) -> str | None:
        """The bound of a size, where it is that before it in another unit: *minimum size 4 x 6 inches at 300 dpi (1200 x 1800
        pixels)*."""
        if "size" not in q.kind:
            return bound
        if bound is None and self.last is not None and self.last[0].kind == "ppi":
            between = self.text[self.last[0].end : q.start]
            if patterns.fullmatch(
                r"[^.;,()\d]*\(\s*(?:that is|i\.e\.|=|das sind)?\s*", between, _I
            ):
                bound = self.last[1]  # “at least 100 dpi (1575 x 2362 px)”
        if bound is None and self.sized is not None and self.sized[0].kind != q.kind:
            between = self.text[self.sized[0].end : q.start]
            bound = self.sized[1] if patterns.fullmatch(r"[^.;,()]*\(\s*", between) else None
        self.sized = q, bound
        return bound

    def _on_condition(self, q: Quantity) -> bool:
        """Whether what is asked depends on something: *a border is required if the background is white*."""
        behind = self.text[q.end : self.end]
        return patterns.search(rf"\b(?:{self.words.depends})\b", behind, _I) is not None

    def _may_be(self) -> bool:
        """Whether what a width is of may be there, and need not: *a line of 2 pixels may be added*."""
        may = rf"\b(?:may|can|could|kann|können|darf|dürfen|{self.words.optional})\b(?! not| nicht)"
        return bool(patterns.search(may, self.said, _I))

    def _with_last(self, bound: str | None, q: Quantity) -> str | None:
        """The bound of a quantity, where it has that of the one before it."""
        if self.last is None:
            return bound
        between = self.text[self.last[0].end : q.start]
        alike = self.last[0].kind == q.kind
        if bound is None and alike:
            # “At least 600 px wide and 800 px high”: the bound holds for both.
            wish = patterns.search(rf"\b(?:{self.words.should})\b", between, _I)
            if not wish and patterns.fullmatch(
                r"\s*(?:(?:in|on|along|for|an|auf)\s+(?:(?:the|its|der|den)\s+)?(?:\w+\s*){0,2}|\w+\s*)?(?:,|and|und|or|oder|,\s*and)\s*(?:\w+\s+){0,2}",
                between,
            ):
                return self.last[1]
        elif bound is None and patterns.fullmatch(r"\s*(?:and|und|or|oder)\s*", between, _I):
            if q.kind == "ppi" and self.last[1] in UPPER:
                return None  # “a maximum of 5 MB and 300 dpi”
            return self.last[1]  # “up to 10 frames and 1 MB”
        elif bound in DENIED and alike:
            # “Not wider than 600 px or higher than 800”: what is denied of the first is of the second.
            if patterns.fullmatch(
                r"\s*(?:\w+\s+)?(?:or|nor|oder)\s+(?:(?:\w+\s+){1,3}(?:than|als)|over|under|above|below|über|unter)\s*",
                between,
                _I,
            ):
                return DENIED[bound or ""]
        return bound

    def _measure(self, q: Quantity, left: str, right: str) -> tuple[str | None, tuple[str, ...]]:
        """What is measured, and what it could be as well."""
        plain = {"size": "size", "print size": "size", "bytes": "file_bytes", "ppi": "ppi",
                 "megapixels": "megapixels", "people": "people", "colours": "colours", "greys": "colours", "rate": "frame_rate", "seconds": "duration", "frames": "frames", "quality": "quality", "characters": "name_length", "ratio": "aspect"}  # fmt: skip
        near = re.split(r"[,;]", right)[0]
        if is_of_middle(q, self.text[self.start : q.start]):
            return "head_offset", ()
        if q.kind == "bytes" and patterns.search(
            rf"\b(?:{self.words.together})\b", f"{left[-60:]} {near[:20]}", _I
        ):
            return "set_bytes", ()
        packed = rf"\s*(?:\w+\s+){{0,3}}(?:\d+:\d+\s*)?(?:{self.words.packed})"
        if q.kind == "ratio" and (
            patterns.search(self.words.packed, left[-60:], _I)
            or patterns.search(
                self.words.packed, re.split(r"[,;]", self.text[self.start : q.start])[-1], _I
            )
            or patterns.match(packed, self.text[q.end : self.end], _I)
            or (bounding.steep(q) and patterns.search(self.words.packed, self.said, _I))
        ):
            return "compression", ()
        if q.kind in plain or q.kind == "grade":
            return plain.get(q.kind), ()
        if q.kind == "bit":
            return self._of_bits(q, right), ()
        topic = self._topic(q, left, right)
        if q.kind == "share" and patterns.match(r"\s*of (?:the|your) (?:face|head)\b", right, _I):
            return None, ()  # how much of it is seen
        if q.kind == "share":
            return (topic if topic in OF_FRAME else None), ()
        if q.kind == "degrees":
            return OF_POSE.get(topic or ""), ()
        if q.kind == "length":
            return self._length(topic)
        if topic in ("longest_side", "shortest_side") and len(q.values[-1]) > 2:
            return topic, ()  # “No border, long side 800 px”: no border is as wide as that
        line = rf"\b(?:{self.words.line})\b"
        until = r"\s+(?:of|is|be|that|must|may|not|at|up|to|no|more|than|most|max\w*|exceed|wider|thicker)\b"
        if patterns.search(
            rf"{line}(?:(?:{until})*|(?:\s+\w+){{0,2}})\s*$", left, _I
        ) or patterns.match(
            rf"[^\w,;.]*(?:px |pixels? )?(?:wide |breite[rn]? )?(?!(?:no|without|and|or|keine?|ohne|und|oder)\b)(?:\w+ ){{0,2}}{line}",
            right,
            _I,
        ):
            return "keyline_width", ()
        if patterns.match(
            rf"\W*(?:\w+\s+)?(?:{self.words.line})\b(?![^.;:]*\d[^.;:]*[^\d.;:]\d)", self.said, _I
        ) and not patterns.search(rf"\b(?:{self.words.pictures}){_COMPARED}", left, _I):
            return "keyline_width", ()  # “Borders are permitted but must not exceed 5 pixels”
        for side, way in (("width", "horizontal"), ("height", "vertical")):
            if patterns.match(rf"\s*(?:px|pixels?)?\s*\({way}\w*\)", right, _I):
                return side, ()
        if topic in ("width", "height", "longest_side", "shortest_side", "both", "eye_distance"):
            return topic, ()
        if patterns.search(rf"\b(?:{self.words.turns['square']})\b", self.said, _I):
            return "both", ()
        return "longest_side", ("width", "height", "shortest_side")

    def _of_bits(self, q: Quantity, right: str) -> str:
        """Whether bits are those of a channel or of a whole pixel."""
        of_pixel = r"\d\s*bpp|\s*(?:per|/|pro|je) ?pixel"
        whole = patterns.match(of_pixel, self.text[q.start : q.end]) or patterns.match(
            of_pixel, right, _I
        )
        deep = q.values[0] in ("2", "4", "24", "32", "48") or whole
        return "bits_per_pixel" if deep else "bits"

    def _length(self, topic: str | None) -> tuple[str | None, tuple[str, ...]]:
        if topic in _OF_HEAD:
            return topic, ()
        sides = {"width": "print_width", "height": "print_height",
                 "longest_side": "print_longest", "shortest_side": "print_shortest"}  # fmt: skip
        if topic in sides:
            return sides[topic], ()
        return "print_longest", ("print_width", "print_height")

    def _topic(self, q: Quantity, left: str, right: str) -> str | None:
        """What is spoken of: right behind the number, else last before it."""
        far = 60 if q.kind == "share" else 48
        # “Width: 1080 px Height: 1350 px”: what a colon stands behind is said of what follows.
        aside = patterns.match(r"\s*(?:px|pixels?|Pixel|mm|cm)?\s*\(([^()\d]{3,30})\)", right, _I)
        free = aside is not None and patterns.search(_FREE, aside[1], _I)
        inside = aside[1] if aside is not None and not free else ""  # “min. 1024 px (short edge)”
        behind = right if aside is None else right[aside.end() :]
        near = re.split(r"[,;(]| and | und | (?:or|oder) \w+ (?:than|als)\b|\b\w+\s*[:=]", behind)[
            0
        ][:far]
        if q.kind == "degrees":  # “tilted by 5 degrees or turned by 8”: the words stand before
            ways = "|".join(self.words.topics[way] for way in OF_POSE)
            right_behind = patterns.match(rf"\s*(?:of\s+)?(?:{ways})\b", near, _I)
            near = right_behind.group() if right_behind else ""  # “um 5 Grad geneigt”
        person = q.kind in ("share", "length")
        before = self.text[self.start : q.start]
        for where, last in ((inside, False), (near, False), (before, True)):
            hits = [
                (hit.end() if last else -hit.start(), hit.end() - hit.start(), name)
                for name, pattern in self.words.topics.items()
                for hit in patterns.finditer(rf"\b(?:{pattern})\b", where, _I)
                if q.kind != "share" or name in OF_FRAME
            ]
            if hits:
                found = max(hits)[2]
                if found == "head_height" and self.of_middle(q, before):
                    return None  # where it is, or how wide
                eyes = rf"\b(?:{self.words.topics['eye_line']})\b[^,;]*$"
                if found == "headroom" and patterns.search(eyes, before, _I):
                    return "eye_line"  # “Eyes 20 mm below the top edge”: turned round later
                of_crown = last and person and patterns.search(_OF_CROWN, before, _I)
                if found == "height" and of_crown:
                    return "head_height"  # “where the hair hides the crown, the height may be …”
                head = self.words.topics["head_height"]
                of_it = rf"\b(?:{head})\b(?:(?!{self.words.pictures_at_all})[^;])*$"
                whole = where == near and patterns.search(OF_WHOLE, near, _I)
                # “The head 1 inch high”: how high is said of the head.
                tall = not whole and patterns.search(of_it, left, _I)
                return "head_height" if person and found == "height" and tall else found
            head = self.words.topics["head_height"]
            if person and where == near and patterns.search(head, near, _I):
                return "head_height"
        return None

    def _limit(self, measure: str, q: Quantity, bound: str) -> dict[str, Any]:
        values = list(q.values)
        if measure == "head_offset":
            return {"measure": measure, "between": from_middle(values)}
        for unit in self.binary:
            values = [value.replace(f" {unit}", f" {unit[0]}iB") for value in values]
        if measure == "compression":
            one, _colon, other = values[-1].partition(":")
            return {"measure": measure, bound: max(one, other, key=float)}  # “1:4” is 4:1
        if measure in OF_POSE.values() and bound in UPPER:
            return {"measure": measure, "between": [f"-{values[0]}", values[0]]}
        if bound == "between" and len(values) == 2:
            return {"measure": measure, "between": values}
        made = {"measure": measure, bound if bound != "between" else "exactly": values[-1]}
        if bound in _WITH_END and check_clause(made)[0] is None:
            # Of what is no whole number a rulebook says no “above”: that differs at the number itself alone.
            return {"measure": measure, _WITH_END[bound]: values[-1]}
        return made

    def _turn(self, q: Quantity) -> str:
        """The way up that the words before a quantity speak of."""
        behind = self._turn_behind(q)
        if behind is not None:  # “960 x 320 (landscape)” is one size for all
            ways = "|".join((*self.words.turns.values(), "portrait"))
            alone = len(list(patterns.finditer(rf"\d[^()\d]*\((?:{ways})\)", self.said, _I))) == 1
            return "" if self.one_turn and alone and "size" in q.kind else behind[1]
        if self.one_turn and not self.only_these():
            return ""
        before = self.text[self.start : q.start]
        hits = [
            (hit.end(), name)
            for name, pattern in self.words.turns.items()
            for hit in patterns.finditer(rf"\b(?:{pattern})\b", before, _I)
            if not patterns.search(r"\d\s*(?:px|pixels?)?\s*\($", before[: hit.start()], _I)
        ]
        pair = list(patterns.finditer(EITHER_WAY, before, _I))
        if pair and not any(
            patterns.search(rf"\b(?:{way})\b", before[pair[-1].end() :], _I)
            for way in self.words.turns.values()
        ):
            return ""  # “for both landscape and portrait images”
        named = {name for _end, name in hits}
        if (
            len(named) > 1
            and q.kind not in ("px", "size", "print size", "length")
            and _SIZED.search(before[max(hits)[0] :])
        ):
            return ""  # “landscape 1920 x 1080 or portrait 1080 x 1920, at most 3 MB”
        # “Square” is a way up of its own only where it stands beside others.
        return max(hits)[1] if named - {"square"} else ""

    def _turn_behind(self, q: Quantity) -> tuple[int, str] | None:
        """The way up that stands in brackets behind a size, and where: *1920 x 1080 (landscape)*."""
        if q.kind not in ("size", "print size", "px"):
            return None
        side = r"\s+(?:on|along|at) (?:the|its) [\w -]{3,14}?" if q.kind == "px" else ""
        for name, pattern in self.words.turns.items():
            bare = rf"{pattern}|portrait" if name == "upright" else pattern
            hit = patterns.match(
                rf"\s*(?:px|pixels?|Pixel)?{side}\s*(?:\((?:{bare})\)|for (?:{bare})(?=\s*(?:[,;.)]|and\b|or\b|$)))",
                self.text[q.end : self.end], _I,
            )  # fmt: skip
            if hit is not None and (name != "square" or self._by_turn()):
                return q.end + hit.end(), name
        return None

    # -- rules in words alone -------------------------------------------------------------------
