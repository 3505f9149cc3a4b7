"""The language of rules, described once.

The reader takes from here which keys a table may have, the JSON Schema their types, the guide for those
who write rules its tables, and the form its examples. What a limit may say of each measure comes from
the measures themselves (:mod:`aptandum.core.judge.measures`).
"""

from __future__ import annotations

from typing import Literal

from aptandum.core.brief.model import ALTERATIONS, PLACES, TURNS
from aptandum.core.frozen import frozen
from aptandum.core.quantity import ASPECT, LENGTH, PIXELS, SHARE, SIZE, Kind
from aptandum.core.words import say

Type = Literal[
    "text", "id", "number", "yes", "date", "word", "words", "texts", "value", "values", "pair",
    "quantity", "table", "tables", "points",
]  # fmt: skip
"""What stands behind a key: ``value`` is one of the clause's own measure."""

ANCHORS = ("top", "middle", "bottom", "left", "right")


@frozen
class Key:
    """One key of a table.

    Attributes:
        takes: the kind of what stands behind it.
        says: what it means, in a sentence or two.
        example: as it is written in a rulebook, without the key.
        needed: a table without it is refused.
        among: the words it may be.
        kind: how a quantity is read.
        table: the table that stands behind it.
    """

    name: str
    takes: Type
    says: str
    example: str
    needed: bool = False
    among: tuple[str, ...] = ()
    kind: Kind | None = None
    table: str = ""


LIMIT = (
    Key("exactly", "value", say("This value and no other."), '"630 x 840"'),
    Key("at_least", "value", say("This value or more. It may stand with an upper limit; of a size it holds for both sides."), '"60 KB"'),
    Key("at_most", "value", say("This value or less."), '"250 KB"'),
    Key("above", "value", say("More than this whole number, which itself is refused."), '"500 px"'),
    Key("below", "value", say("Less than this whole number, which itself is refused."), '"1 MB"'),
    Key("between", "pair", say("From the first to the second, both included."), '["62 %", "70 %"]'),
    Key("one_of", "values", say("One of these."), '["jpeg", "png"]'),
    Key("none_of", "values", say("None of these."), '["untagged"]'),
)  # fmt: skip
"""The words of a limit."""

LIMITS = tuple(key.name for key in LIMIT)

MEASURE = Key("measure", "word", say("What is measured: one of the measures below. A clause has a measure, or it asks."), '"file_bytes"')  # fmt: skip

CLAUSE = (
    Key("id", "text", say("A name that no other clause of the brief has; left out, it is the measure’s."), '"upload"'),
    MEASURE,
    *LIMIT,
    Key("tolerance", "value", say("How far beside an exactly is as good: a share of it, or in its own unit."), '"2 %"'),
    Key("either_way", "yes", say("A size or a proportion holds with width and height exchanged as well."), "true"),
    Key("ask", "text", say("A question that only a person can answer; then there is no measure and no limit."), '"Both eyes open"'),
    Key("applies", "words", say("The turns of the picture for which the clause holds; left out: always. A square is neither landscape nor upright."), '["landscape", "square"]', among=TURNS),
    Key("when", "table", say("On what else the clause depends: a measure with its limit. Where that is not met the clause does not apply."), '{ measure = "format", exactly = "png" }', table="when"),
    Key("either", "text", say("The name of a way, where the body leaves a choice: only the clauses of one way have to be met. Of several choices each is named before a slash."), '"small"'),
    Key("of", "word", say("The clause is about the first picture of a set alone."), '"first"', among=("first",)),
    Key("strength", "word", say("Required (must), or recommended (should). Left out: must."), '"should"', among=("must", "should")),
    Key("valid_from", "date", say("The day from which the clause holds."), "2027-01-01"),
    Key("quote", "text", say("The body’s own words, kept beside the number."), '"630 pixels wide and 840 high"'),
    Key("note", "text", say("A remark of whoever wrote the rulebook."), '"Asked by telephone."'),
)  # fmt: skip

WHEN = (MEASURE, *LIMIT)

ROOT = (
    Key("format", "number", say("The version of this language: 1."), "1", needed=True),
    Key("body", "table", say("Who publishes the rules."), "", needed=True, table="body"),
    Key("clause", "tables", say("A clause of every brief of the body, written once. A brief’s own clause of the same id, or one that says otherwise of the same measure, stands instead of it."), "", table="clause"),
    Key("brief", "tables", say("One kind of picture that the body wants."), "", needed=True, table="brief"),
)  # fmt: skip

BODY = (
    Key("id", "id", say("A short name of small letters, digits and hyphens."), '"vessary-ferries"', needed=True),
    Key("name", "text", say("The body’s name."), '"Vessary Ferries"', needed=True),
    Key("source", "text", say("Where the rules were published."), '"Crew notice 12"'),
    Key("url", "text", say("The address of that page."), '"https://ferries.vessary.example/crew"'),
    Key("edition", "text", say("Which edition of the rules these are."), '"4"'),
    Key("read_on", "date", say("The day on which they were read."), "2026-11-02"),
    Key("valid_from", "date", say("The day from which this edition is in force."), "2027-01-01"),
)  # fmt: skip

BRIEF = (
    Key("id", "id", say("A short name that no other brief of the body has."), '"deck-pass"', needed=True),
    Key("title", "text", say("What the picture is for."), '"Deck pass portrait"', needed=True),
    Key("optional", "yes", say("Whether the body may be served without it."), "false"),
    Key("note", "text", say("A remark of whoever wrote the rulebook."), '"For the crew only."'),
    Key("does", "texts", say("What the body itself does with the file afterwards; the places in which it is seen say so."), '["Files above 5 MB are scaled down by us"]'),
    Key("allows", "words", say("What may be done to the photo; left out: anything. It gives one finding of its own, against the record of what was done."), '["turn", "cut", "scale"]', among=ALTERATIONS),
    Key("crown", "word", say("What a head is measured up to: the top of the hair, or of the skull under it, which the standards mean and which a picture shows to within 8 % of the head only. Left out: hair."), '"skull"', among=("hair", "skull")),
    Key("clause", "tables", say("One rule."), "", needed=True, table="clause"),
    Key("seen", "tables", say("A place in which the picture will be seen."), "", table="seen"),
    Key("example", "tables", say("A picture with which the body shows what it wants, or what it sends back."), "", table="example"),
    Key("border", "table", say("A ready-made border with a transparent middle, laid over the picture."), "", table="border"),
    Key("template", "table", say("Panels into which photos are laid; everything outside them stays transparent."), "", table="template"),
)  # fmt: skip

SEEN = (
    Key("as", "word", say("The kind of place."), '"card"', needed=True, among=PLACES),
    Key("width", "quantity", say("How wide it is printed there."), '"35 mm"', kind=LENGTH),
    Key("at", "quantity", say("How many pixels wide it is shown there."), '"140 px"', kind=PIXELS),
    Key("opacity", "quantity", say("How opaque it lies there."), '"65 %"', kind=SHARE),
    Key("zones", "tables", say("Parts of the place that cover the picture; shares of the frame."), "", table="zone"),
    Key("colours", "texts", say("Colours that are laid over it."), '["#7A2E3B", "#1F5A7A"]'),
    Key("text", "text", say("Words that stand on it."), '"Evening lectures"'),
    Key("aspect", "quantity", say("The proportion to which the body cuts it again."), '"8:1"', kind=ASPECT),
    Key("anchor", "word", say("Which part that cut keeps."), '"middle"', among=ANCHORS),
)  # fmt: skip

ZONE = (
    Key("name", "text", say("What lies there."), '"clock"', needed=True),
    Key("left", "quantity", say("From the left edge."), '"0 %"', needed=True, kind=SHARE),
    Key("top", "quantity", say("From the top edge."), '"7 %"', needed=True, kind=SHARE),
    Key("width", "quantity", say("Its width."), '"100 %"', needed=True, kind=SHARE),
    Key("height", "quantity", say("Its height."), '"15 %"', needed=True, kind=SHARE),
)

EXAMPLE = (
    Key("picture", "text", say("A picture that lies beside the rulebook."), '"too-dark.jpg"', needed=True),
    Key("kind", "word", say("Whether it is as it should be, or shows a fault."), '"bad"', needed=True, among=("good", "bad")),
    Key("shows", "text", say("What is to be seen by it, in a few words."), '"too dark"', needed=True),
    Key("about", "text", say("The id of the clause whose miss it shows."), '"face_light"'),
)  # fmt: skip

BORDER = (
    Key("picture", "text", say("A picture that lies beside the rulebook."), '"plaque-border.png"', needed=True),
)  # fmt: skip

TEMPLATE = (
    Key("size", "quantity", say("Width and height of the whole template."), '"744 x 628"', needed=True, kind=SIZE),
    Key("shade", "text", say("A picture beside the rulebook that is laid over the panels."), '"sail-shade.png"'),
    Key("panel", "tables", say("One panel."), "", needed=True, table="panel"),
)  # fmt: skip

PANEL = (
    Key("name", "text", say("What it is called."), '"left sail"', needed=True),
    Key("outline", "points", say("Its corners in pixels of the template, three or more."), "[[24, 20], [360, 20], [360, 300]]", needed=True),
)  # fmt: skip

TABLES: dict[str, tuple[Key, ...]] = {
    "": ROOT,
    "body": BODY,
    "brief": BRIEF,
    "clause": CLAUSE,
    "when": WHEN,
    "seen": SEEN,
    "zone": ZONE,
    "example": EXAMPLE,
    "border": BORDER,
    "template": TEMPLATE,
    "panel": PANEL,
}
"""Every table of a rulebook by its name."""


def names(table: tuple[Key, ...]) -> tuple[str, ...]:
    """The keys that a table may have."""
    return tuple(key.name for key in table)
