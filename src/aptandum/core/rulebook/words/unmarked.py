"""Lines that are items of a list though no mark stands before them."""

from __future__ import annotations

import re
from itertools import pairwise

from aptandum.core.rulebook.words import patterns

SHORT = 48
"""So long is at most a line of a list without marks, in letters."""
_SET = 64
"""So long is one at most where all lines round it begin with a capital, too."""
_LONG_TOO = r"[A-ZÄÖÜ][\w äöüß/-]{2,28}:\s"
"""How a line of such a list begins that may be longer: *Digital photos: at least …*."""


def short_lines(text: str, lines: list[tuple[int, int]]) -> set[int]:
    """Where the lines begin of paragraphs whose lines are all short and begin with a capital: a list without
    marks. Words that are only set in a narrow column begin most lines small."""
    found: set[int] = set()
    block: list[tuple[int, int]] = []
    for start, end in [*lines, (len(text), len(text))]:
        line = text[start:end].strip()
        joins = block and text[block[-1][1] : start].count("\n") == 1
        if block and (not line or not joins):
            held = [text[a:b].strip() for a, b in block]
            if (
                _each_bids(held)
                or _broken_early(held)
                or (text[: block[0][0]].rstrip().endswith(":") and _short_each(held))
                or (
                    len(held) > 2
                    and all(
                        (len(one) <= _SET or patterns.match(_LONG_TOO, one))
                        and re.match(r"[A-ZÄÖÜ\d<>≤≥±]", one)
                        and one[-1:] not in ",;–-"
                        for one in held
                    )
                )
            ):
                found |= {a for a, _b in block}
            else:
                found |= {block[i][0] for i in _counted_of(held)}
            block = []
        if line:
            block.append((start, end))
    return found


_BIDS = r"(?:must|may|should|shall|has to|have to|is|are|be|no|not|never|do not|don't|muss|müssen|darf|dürfen|soll|sollen|sollte|ist|sind|keine?|nicht)\b"


def _each_bids(lines: list[str]) -> bool:
    """Whether each line goes on what stands over them: *Your photo*, *must be a JPEG*, *must not be more than two years old*."""
    return (
        len(lines) > 2
        and all(re.match(_BIDS, one) and len(one) <= _BID for one in lines[1:])
        and (re.match(_BIDS, lines[0]) is not None or len(lines[0]) <= SHORT)
    )


_ONE_OF_THEM = r"(?:\d{1,2}|an?|one|two|three|ein\w*|zwei|drei)\s+(?!px\b|mm\b|cm\b|dpi\b|ppi\b|[kmg]?b\b|x\b|pixels?\b)[^\W\d]{3,}[^.!?]*\d[^.!?]*(?:\.\d[^.!?]*)*[.;]?$"


def _counted_of(lines: list[str]) -> set[int]:
    """Which of these lines begin with how many are wanted, and have a number of their own, two and more below each other: *1
    group portrait, 3000 x 2000 px*; and the one below them, which goes on none of them."""
    own = [bool(patterns.match(_ONE_OF_THEM, one, re.I)) and one[-1:] not in ",–-" for one in lines]
    several = [i for i, (one, other) in enumerate(pairwise(own)) if one and other]
    return {at for i in several for at in (i, i + 1, i + 2) if at < len(lines)}


_BID = 90
"""So long is at most a line that begins so."""
_GOES_ON = r"[,;–-]$|\b(?:and|or|the|an?|of|in|to|with|for|und|oder|der|die|das|den|ein\w*|von|mit|in|im|zu|für)$"


def _broken_early(lines: list[str]) -> bool:
    """Whether lines end where the next word would still have had room beside them: words that are only set in a narrow column
    end where it has none."""
    widest = max(map(len, lines))
    if len(lines) < 3 or widest > _SET:
        return False
    early = [len(one) + 1 + len(other.split()[0]) <= widest for one, other in pairwise(lines)]
    prose = any(
        re.search(r"[.!?]\s+[A-ZÄÖÜ]", one) or patterns.search(_GOES_ON, one, re.I)
        for one in lines[:-1]
    )
    longest = sum(not one for one in early)
    return not prose and longest <= 1 and sum(early) > longest


def _short_each(lines: list[str]) -> bool:
    """Whether each line below a colon is a rule by itself: *for your card I need:*, *a photo, no cap*, *at least 420 px wide*."""
    return len(lines) > 2 and all(
        len(one) <= _SET
        and not re.search(r"[.!?]\s+\S", one)
        and not patterns.search(_GOES_ON, one, re.I)
        for one in lines
    )


def ended(item: str, line: str) -> bool:
    """Whether an item of a list has ended before a line without a mark: where it was only set on to the next line, that
    line's first word would not have found room beside it."""
    first = line.split()[0]
    return (
        first[0].isupper()
        and not line[0].isspace()
        and not item.rstrip().endswith((",", ";", ":", "-", "–"))
        and len(item.rstrip()) + 1 + len(first) <= len(line.rstrip())
    )
