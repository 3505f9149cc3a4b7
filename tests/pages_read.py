"""How much of the pages in ``tests/pages`` is read as it is meant.

    python tests/pages_read.py [FILE…]

Prints, for each file, precision and recall over single facts: measure, bound, value, strength, way up. What is read
and doubted is put to a person as a question: where it is not meant, it is counted by itself.
"""

from __future__ import annotations

import sys
import tomllib
from dataclasses import dataclass, field, replace
from pathlib import Path

from aptandum.core.rulebook.words import read
from aptandum.core.rulebook.words.sources import of_bytes

PAGES = Path(__file__).parent / "pages"
FORMS = ("exactly", "at_least", "at_most", "above", "below", "between", "one_of", "none_of")


@dataclass(frozen=True)
class Fact:
    """One thing that a page says."""

    brief: str
    measure: str
    bound: str
    value: str
    strength: str = "must"
    turn: str = ""
    format: str = ""  # the one format for which it holds
    sure: bool = field(default=True, compare=False)

    def same(self, other: Fact) -> bool:
        """Whether another, which was read, says it."""
        if self.brief and self.brief != other.brief:
            return False
        if self.measure == "ask":
            asked = self.value.lower() in other.value.lower()
            return other.measure == "ask" and asked and self.strength == other.strength
        return _limits(self) == _limits(other)


def _limits(fact: Fact) -> tuple[str, ...]:
    """What a fact limits. *Both sides at least 800* is the same as a size of at least 800 x 800."""
    measure, value = fact.measure, _bare(fact.value)
    both = {("shortest_side", "at_least"), ("longest_side", "at_most")}
    if (measure, fact.bound) in both:
        measure, value = "size", f"{value}x{value}"
    return measure, fact.bound, value, fact.strength, fact.turn, fact.format


def _bare(value: str) -> str:
    return "".join(value.lower().split())


def _split(fact: Fact) -> list[Fact]:
    """A range as its two ends, which are two facts."""
    if fact.bound != "between":
        return [fact]
    low, high = fact.value.split(" | ")
    return [
        replace(fact, bound=bound, value=end)
        for bound, end in (("at_least", low), ("at_most", high))
    ]


def meant(line: str) -> list[Fact]:
    """A fact as it is written down: ``Brief: measure bound value should landscape if png``."""
    line, _, only = line.partition(" if ")
    brief, _, rest = line.rpartition(": ")
    words = rest.split()
    turn = (
        words.pop() if words[-1] in ("landscape", "upright") and words[0] != "orientation" else ""
    )
    strength = "must"
    if words[-1] == "should":
        words.pop()
        strength = "should"
    if words[0] == "ask":
        return [Fact(brief, "ask", "", " ".join(words[1:]), strength, turn)]
    return _split(Fact(brief, words[0], words[1], " ".join(words[2:]), strength, turn, only))


def found(text: str) -> list[Fact]:
    """What is read out of a text, as facts."""
    facts = []
    for draft in read(text).drafts:
        fields = draft.fields
        strength, turn = fields.get("strength", "must"), fields.get("applies", "")
        only = fields.get("when", {}).get("exactly", "")
        sure = draft.certainty == "sure"
        if "ask" in fields:
            facts.append(Fact(draft.brief, "ask", "", fields["ask"], strength, turn, sure=sure))
            continue
        bound = next(form for form in FORMS if form in fields)
        value = fields[bound]
        shown = " | ".join(value) if isinstance(value, list) else str(value)
        fact = Fact(draft.brief, fields["measure"], bound, shown, strength, turn, only, sure)
        facts += _split(fact)
    return facts


def compared(path: Path) -> tuple[int, list[str], list[str], list[str]]:
    """Facts that were read rightly, those that were not meant and read as sure, those that were not read, and those that
    were not meant and doubted."""
    right, wrong, lost, asked = 0, [], [], []
    for page in tomllib.loads(path.read_text())["page"]:
        left = [fact for line in page["facts"] for fact in meant(line)]
        for fact in found(of_bytes(page["text"].encode())):
            hit = next((one for one in left if one.same(fact)), None)
            if hit is None:
                (wrong if fact.sure else asked).append(f"{page['name']}: {fact}")
            else:
                left.remove(hit)
                right += 1
        lost += [f"{page['name']}: {fact}" for fact in left]
    return right, wrong, lost, asked


def main() -> None:
    files = [Path(name) for name in sys.argv[1:]] or sorted(PAGES.glob("*.toml"))
    totals = [0, 0, 0, 0]
    for path in files:
        right, *lists = compared(path)
        wrong, lost, asked = lists
        totals = [a + b for a, b in zip(totals, (right, *map(len, lists)), strict=True)]
        precision, recall = right / (right + len(wrong)), right / (right + len(lost))
        said = f"precision {precision:.3f}, recall {recall:.3f}, {len(asked)} doubted that are not meant"
        print(f"{path.stem}: {said}")
        for line in (*(f"  not meant: {w}" for w in wrong), *(f"  not read: {x}" for x in lost)):
            print(line)
    right, more, less, doubted = totals
    print(
        f"all: precision {right / (right + more):.3f}, recall {right / (right + less):.3f}, {doubted} doubted that are not meant"
    )


if __name__ == "__main__":
    main()
