"""Mutate the shipped rulebooks and read them: nothing but a RulebookError may come of it.

python tools/fuzz_rulebooks.py [--count 50000] [--seed 1]
"""

from __future__ import annotations

import argparse
import collections
import random
import sys
import time

from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.findings import judge
from aptandum.core.judge.reading import Reading
from aptandum.core.photo.facts import Facts
from aptandum.core.rulebook.contradictions import contradictions
from aptandum.core.rulebook.far import doubts
from aptandum.core.rulebook.plain import said_back
from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.rulebook.shelf import shipped_paths
from aptandum.core.rulebook.toml import parse_rulebook
from aptandum.core.sizes.said import describe

PHOTO = Facts(
    "pier.jpg", "jpeg", 1280, 960, 1280, 960, 8, "rgb", False, None, "srgb", 1, 300.0, 300.0, 400_000,
    1, False, True,
)  # fmt: skip
"""What every sound rulebook is asked about."""

WORDS = (
    "exactly",
    "at_least",
    "at_most",
    "between",
    "one_of",
    "none_of",
    "above",
    "below",
    '"32 mm"',
    '"475 by 150"',
    '"1,000 KB"',
    "quote",
    "applies",
    "strength",
    '"0 px"',
    "-1",
    "1e400",
    "nan",
    "inf",
    "0x7f",
    "1979-05-27",
    "[[",
    "]]",
    "[",
    "]",
    "{",
    "}",
    '"""',
    "'''",
    "\\u0000",
    "\\",
    "=",
    ".",
    "#",
    '"9999999999999999999999"',
    '"1/0"',
    '"0:1"',
    '"100000 MP"',
    '"(a+)+$"',
    "true",
    "[]",
    "{}",
    "\x00",
    "\r",
    "\ufeff",
    "é",
    "🪁",
    '"250 KB"',
    '"4:5"',
    "[brief.clause]",
    "[body]",
    "measure",
    '"size"',
    '"print_width"',
    "[[clause]]",
    'either = "small"',
    'either = "a/b"',
    "when = {",
    'when = { measure = "format", exactly = "png" }',
    'when = { measure = "width", between = [1, 900] }',
    "either_way = true",
    'tolerance = "2 %"',
    'tolerance = "3 mm"',
    "tolerance = -1",
    "valid_from = 2027-01-01",
    'of = "first"',
    'does = "x"',
    '"35 x 45 mm"',
    '"6 months"',
    '"#F4F4F4"',
    '"300, 1, 2"',
    '"print_size"',
    '"backdrop_colour"',
    '"shot_age"',
    '"set_count"',
    '"metadata"',
    '"name_begins"',
    '"packing"',
)


def mutated(text: str, rng: random.Random) -> str:
    """A text with one to six small injuries."""
    for _ in range(rng.randint(1, 6)):
        at = rng.randrange(len(text) + 1)
        to = min(len(text), at + rng.choice((1, 2, 5, 20, 80)))
        what = rng.randrange(7)
        if what == 0:
            text = text[:at] + text[to:]
        elif what == 1:
            text = text[:at] + rng.choice(WORDS) + text[at:]
        elif what == 2:
            text = text[:at] + rng.choice(WORDS) + text[to:]
        elif what == 3:
            text = text[:to] + text[at:to] + text[to:]
        elif what == 4:
            text = (
                text[:at]
                + chr(rng.choice((rng.randrange(1, 128), rng.randrange(0x2FFF))))
                + text[to:]
            )
        elif what == 5:
            lines = text.splitlines(keepends=True)
            rng.shuffle(lines) if rng.random() < 0.1 else lines.insert(
                rng.randrange(len(lines) + 1), rng.choice(lines or [""])
            )
            text = "".join(lines)
        else:
            lines = text.splitlines(keepends=True)
            if lines:
                del lines[rng.randrange(len(lines))]
            text = "".join(lines)
    return text


def tried(text: str) -> str:
    """Read a text and, where it is sound, everything that is said of it."""
    try:
        book = parse_rulebook(text, "mutated.toml")
    except RulebookError as error:
        assert error.problems and all(p.file and p.stood and p.expected for p in error.problems)
        return "refused"
    doubts(book.briefs)
    for brief in book.briefs:
        contradictions(brief)
        describe(brief, (1280, 960))
        judge(Reading("supplied", PHOTO), brief)
        resolve(PHOTO, brief, Settings())
        for clause in brief.clauses:
            said_back(clause)
    return "sound"


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--count", type=int, default=50_000)
    parser.add_argument("--seed", type=int, default=1)
    args = parser.parse_args()
    rng = random.Random(args.seed)
    texts = [path.read_text("utf-8") for path in shipped_paths()]
    ends: collections.Counter[str] = collections.Counter()
    slowest = (0.0, "")
    for n in range(args.count):
        text = mutated(rng.choice(texts), rng)
        start = time.perf_counter()
        try:
            ends[tried(text)] += 1
        except BaseException as error:
            print(f"number {n}: {type(error).__name__}: {error}\n{text}", file=sys.stderr)
            return 1
        slowest = max(slowest, (time.perf_counter() - start, text))
    print(f"{args.count} files: {dict(ends)}; slowest {slowest[0] * 1000:.0f} ms")
    return 0


if __name__ == "__main__":
    sys.exit(main())
