"""The guide for those who write rules, made from the one description of the language, so that it says
what the reader does."""

from __future__ import annotations

from collections.abc import Iterator

from aptandum.core.judge.measure import GROUPS, Measure, may_decide
from aptandum.core.judge.measures import STATED
from aptandum.core.quantity import (
    ANGLE,
    ASPECT,
    BYTES,
    LENGTH,
    PIXELS,
    PPI,
    PRINT_SIZE,
    SHARE,
    SIZE,
    Kind,
)
from aptandum.core.rulebook.language import (
    BODY,
    BRIEF,
    CLAUSE,
    LIMIT,
    LIMITS,
    PANEL,
    ROOT,
    SEEN,
    TEMPLATE,
    WHEN,
    ZONE,
    Key,
)

_BOUNDED = {
    "size": ('at_least = "600 x 600"', 'at_most = "1920 x 1080"'),
    "print_size": ('exactly = "35 x 45 mm"',),
    "head_offset": ('between = ["-3 %", "3 %"]',),
    "set_count": ('between = ["1", "8"]',),
    "keyline_share": ('between = ["0.5 %", "2 %"]',),
    "quality": ('at_least = "80"',),
    "backdrop_colour": ('exactly = "#F4F4F4"', 'tolerance = "8"'),
    "frames": ('at_most = "1"',),
    "people": ('exactly = "1"',),
    "name_pattern": ('exactly = "[a-z0-9_]+"',),
    "name_whole": (r'exactly = "[a-z0-9_]+\\.jpg"',),
    "name_holds": ('none_of = [" ", "#"]',),
    "shot_date": ('at_least = "2026-01-01"',),
    "enlargement": ('at_most = "1"',),
    "location": ('exactly = "none"',),
    "metadata": ('exactly = "none"',),
    "caption": ('exactly = "present"',),
    "chroma": ('exactly = "4:4:4"',),
    "packing": ('one_of = ["none", "lzw"]',),
    "bits_per_pixel": ('exactly = "24"',),
    "colours": ('at_most = "16"',),
    "bits": ('exactly = "8"',),
}
"""Examples that say more than a measure's kind of value does."""

_START = """format = 1

[body]
id = "pier-office"                  # small letters, digits and hyphens
name = "Pier Office"
source = "Notice 7"                 # where the rules were published
read_on = 2026-11-02

[[brief]]                           # one for each kind of picture that the body wants
id = "pass"
title = "Portrait for the pass"

  [[brief.clause]]                  # one for each rule
  measure = "size"
  exactly = "600 x 600"
  quote = "600 by 600 pixels"       # the body's own words

  [[brief.clause]]
  measure = "file_bytes"
  at_most = "240 KB"
  quote = "no more than 240 KB"

  [[brief.clause]]
  ask = "Plain expression, both eyes open"
"""


def started(body: str = "") -> str:
    """A rulebook to begin with: sound as it stands, each part explained by a remark.

    Args:
        body: the body's name; empty: a made-up one stays.
    """
    if not body:
        return _START
    made = "".join(c if c.isascii() and c.isalnum() else "-" for c in body.lower())
    ident = "-".join(part for part in made.split("-") if part)[:60] or "body"
    text = _START.replace('id = "pier-office"  ', f'id = "{ident}"  ')
    quoted = body.replace("\\", "\\\\").replace('"', '\\"')
    return text.replace('name = "Pier Office"', f'name = "{quoted}"')


def limit_of(measure: Measure) -> tuple[str, ...]:
    """A limit on a measure as it may be written, by lines."""
    if measure.name in _BOUNDED:
        return _BOUNDED[measure.name]
    kind = measure.kind
    first = kind.example.split(", ")[0] or next(iter(kind.choices), "")
    if kind.choices:
        return (f'exactly = "{first}"',)
    if kind.name == "aspect" or not kind.bounded:
        return (f'exactly = "{first}"',)
    return (f'at_most = "{first}"',)


_PUBLISHING = """
## From words

`aptandum rulebook read PAGE.html > pier-office.toml` reads rules that are published in words (plain text,
Markdown, HTML, PDF, or `-` for what is piped in; English and German) and prints a rulebook, each clause with its
words as `quote`. Its exit status is 1 where something can be read in another way; such clauses have a `note`.
The window shows the same beside its words (*Rulebooks*, *In words*), where each question is answered by one press.

## How a body publishes a rulebook

1. Write it, or have the page that is published already read, and go through it with `aptandum rulebook lint`.
2. Give it an `edition`, the day from which it holds (`valid_from`) and the page's address (`url`).
3. A rulebook without pictures is one file: offer `pier-office.toml` on the page itself.
4. A rulebook with a border or a shade travels as one ZIP archive: `aptandum rulebook pack pier-office.toml`
   makes it. In it lie `rulebook.toml` and the pictures that it names, beside one another and without folders.
5. For the next edition keep the ids of briefs and clauses, so that *What changed* can name what did.

Whoever receives one opens it in the window (drop it, or *Read a file…*), names it with `--rulebook`, or puts it into
the folder of their own rulebooks; `aptandum rulebook list` shows what is on the shelf. Reading a rulebook never runs
anything and never reads outside its own folder: an archive with folders, links, passwords, anything but a
rulebook and pictures, or more than 100 MB inside is refused before any of it is written.
"""


def guide() -> str:
    """The whole guide in Markdown."""
    return "\n".join(_lines()) + "\n"


def _lines() -> Iterator[str]:
    yield "# Rulebooks: a guide for those who write rules"
    yield ""
    yield "This page is made from the same description that the reader, the form and the schema use"
    yield "(`tools/make_rulebook_guide.py`); it is not written by hand."
    yield ""
    yield "A **rulebook** is a TOML file that states what one receiving body publishes. A body has one or"
    yield "more **briefs**, one for each kind of picture that it wants; a brief has **clauses**, one for"
    yield "each rule. `aptandum rulebook new FILE` starts one, `aptandum rulebook lint FILE` reads it and"
    yield "says what is wrong, line by line, and what is probably a slip. The window has a form for the"
    yield "same file. Editors that read JSON Schema find it in [rulebook.schema.json](rulebook.schema.json)."
    yield ""
    yield "```toml"
    yield _START.rstrip()
    yield "```"
    yield from _section("The file", "", ROOT)
    yield from _section("`[body]`", "Who publishes the rules.", BODY)
    yield from _section("`[[brief]]`", "One kind of picture.", BRIEF)
    yield from _clause()
    yield from _measures()
    yield from _values()
    yield from _section("`[[brief.seen]]`", "A place where the picture will be seen.", SEEN)
    yield from _section("`zones` of a place", "Parts that cover the picture.", ZONE)
    yield from _section("`[brief.template]`", "Panels into which photos are laid.", TEMPLATE)
    yield from _section("`[[brief.template.panel]]`", "One panel.", PANEL)
    yield from _PUBLISHING.splitlines()


def _section(title: str, says: str, keys: tuple[Key, ...]) -> Iterator[str]:
    yield ""
    yield f"## {title}"
    yield ""
    if says:
        yield says
        yield ""
    yield from _keys(keys)


def _keys(keys: tuple[Key, ...]) -> Iterator[str]:
    yield "| key | meaning | example |"
    yield "|---|---|---|"
    for key in keys:
        needed = " Needed." if key.needed else ""
        among = f" One of: {', '.join(key.among)}." if len(key.among) > 1 else ""
        example = f"`{key.name} = {key.example}`" if key.example else ""
        yield f"| `{key.name}` | {_cell(key.says)}{_cell(among)}{needed} | {_cell(example)} |"


def _cell(text: str) -> str:
    return text.replace("|", "\\|")


def _clause() -> Iterator[str]:
    yield ""
    yield "## `[[brief.clause]]`"
    yield ""
    yield "One rule: a `measure` with its limit, or a question (`ask`) that only a person can answer."
    yield "A clause that stands as `[[clause]]`, before the first brief, holds for every brief of the body."
    yield ""
    yield "### Its limit"
    yield ""
    yield from _keys(LIMIT)
    yield ""
    yield "### Its other keys"
    yield ""
    limits = set(LIMITS)
    yield from _keys(tuple(key for key in CLAUSE if key.name not in limits))
    yield from _ways()


def _ways() -> Iterator[str]:
    yield ""
    yield "### Where a rule depends on something"
    yield ""
    yield "*PNG up to 2 MB, JPEG up to 500 KB:*"
    yield ""
    yield "```toml"
    for form, most in (("png", "2 MB"), ("jpeg", "500 KB")):
        yield "[[brief.clause]]"
        yield f'id = "bytes-{form}"'
        yield 'measure = "file_bytes"'
        yield f'at_most = "{most}"'
        yield f'when = {{ measure = "format", exactly = "{form}" }}'
        yield ""
    yield "```"
    yield ""
    keys = ", ".join(f"`{key.name}`" for key in WHEN[:4])
    yield f"`when` takes {keys} and the other words of a limit. It may depend on: {_deciding()}."
    yield ""
    yield "*Either 600 x 600 as PNG, or 1200 x 1200 as JPEG:*"
    yield ""
    yield "```toml"
    for way, size, form in (("small", "600 x 600", "png"), ("large", "1200 x 1200", "jpeg")):
        yield "[[brief.clause]]"
        yield f'id = "size-{way}"'
        yield 'measure = "size"'
        yield f'exactly = "{size}"'
        yield f'either = "{way}"'
        yield ""
        yield "[[brief.clause]]"
        yield f'id = "format-{way}"'
        yield 'measure = "format"'
        yield f'exactly = "{form}"'
        yield f'either = "{way}"'
        yield ""
    yield "```"
    yield ""
    yield "Of the ways that are left the one is taken that changes the photo least."


def _deciding() -> str:
    return ", ".join(f"`{name}`" for name, measure in STATED.items() if may_decide(measure))


def _measures() -> Iterator[str]:
    yield ""
    yield "## Measures"
    for group, title in GROUPS.items():
        mine = [measure for measure in STATED.values() if measure.group == group]
        if not mine:
            continue
        yield ""
        yield f"### {title}"
        yield ""
        yield "| | measure | what it is | values | example |"
        yield "|---|---|---|---|---|"
        for measure in mine:
            example = "<br>".join(f"`{line}`" for line in limit_of(measure))
            says = f"**{measure.title}.** {measure.help}"
            values = _cell(_takes(measure.kind))
            drawing = (
                f'<img src="../src/aptandum/data/drawings/{measure.name}.svg" width="120" alt="">'
            )
            yield f"| {drawing} | `{measure.name}` | {_cell(says)} | {values} | {_cell(example)} |"


def _takes(kind: Kind) -> str:
    if kind.choices:
        return ", ".join(f"`{word}`" for word in kind.choices)
    return _NAMES.get(kind.name, kind.name)


_NAMES = {
    "pixels": "pixels",
    "size": "width x height in pixels, or in lengths",
    "print size": "width x height in lengths",
    "bytes": "bytes",
    "aspect": "width to height",
    "share": "a share",
    "length": "a length",
    "factor": "a factor",
    "angle": "degrees",
    "megapixels": "megapixels",
    "ppi": "pixels per inch",
    "count": "a whole number",
    "number": "a number",
    "pattern": "a regular expression",
    "colour": "red, green, blue",
    "age": "a stretch of time",
    "seconds": "seconds",
    "rate": "so many a second",
    "ratio": "a number",
    "part": "a part of a name",
    "ending": "an ending",
}


def _values() -> Iterator[str]:
    yield ""
    yield "## How values are written"
    yield ""
    yield "| value | may be written as |"
    yield "|---|---|"
    for name, _kind, forms in FORMS:
        yield f"| {name} | {', '.join(f'`{form}`' for form in forms)} |"
    yield ""
    yield "`KB` and `MB` without more are read the safe way: 1000 for an upper limit, 1024 for a lower"
    yield "one. `KiB`, `MiB` and `kB (1000)` are exact. Lengths for the height of a head, the gap above it,"
    yield "the eye line and the offset are shares of the printed side, which another clause has to name"
    yield "exactly (`print_width`, `print_height`, or `size` in lengths)."


FORMS: tuple[tuple[str, Kind, tuple[str, ...]], ...] = (
    ("pixels", PIXELS, ("1600", '"1600 px"', '"1 600 pixels"', '"1,600"')),
    ("a size", SIZE, ('"630 x 840"', '"1290 by 2796"', '"600 x 600 px"')),
    ("a printed size", PRINT_SIZE, ('"35 x 45 mm"', '"3.5 x 4.5 cm"', '"4 x 6 in"')),
    (
        "bytes",
        BYTES,
        ('"250 KB"', '"250 kB (1000)"', '"250 KiB"', '"1,000 KB"', '"1.5 MB"', "250000"),
    ),
    ("a length", LENGTH, ('"35 mm"', '"3,5 cm"', '"4 in"', '"2″"', '"1 m"')),
    ("a proportion", ASPECT, ('"4:5"', '"1.91:1"', "1.5")),
    ("a share", SHARE, ('"62 %"',)),
    ("degrees", ANGLE, ("5", '"5°"', '"5 deg"')),
    ("pixels per inch", PPI, ("300", '"300 ppi"')),
    ("a colour", STATED["edge_colour"].kind, ('"#F4F4F4"', '"244, 244, 244"')),
    ("a stretch of time", STATED["shot_age"].kind, ('"6 months"', '"30 days"', '"1 year"')),
    ("a day", STATED["shot_date"].kind, ("2026-11-02",)),
)
"""How each kind of value may be written."""
