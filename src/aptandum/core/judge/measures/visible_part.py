"""Whether anything is left to be seen of a picture that may be clear."""

from __future__ import annotations

from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Clause
from aptandum.core.judge.measure import NEEDS_PIXELS, Measure, Mend, Miss
from aptandum.core.judge.reading import Reading
from aptandum.core.later import np
from aptandum.core.quantity import SHARE
from aptandum.core.words import say

LEAST = 0.01
"""Share of the picture that has to be seen; below it, it is empty or nearly."""


def _take(reading: Reading) -> float:
    picture = reading.look().picture
    if not picture.alpha:
        return 1.0
    return float(np.mean(picture.pixels[..., -1] > picture.top // 4))


def _mend(miss: Miss) -> Mend:
    if "clear" not in miss.reading.done:
        return Mend(say("Begin from a picture in which there is something to be seen"))
    return Mend(
        say("Make only areas transparent that are connected"),
        {"finish.clear.connected": "true"},
        (
            Mend(
                say("Make less transparent: a smaller difference"), {"finish.clear.tolerance": "6"}
            ),
            Mend(
                say("Make less transparent: a smaller difference"), {"finish.clear.tolerance": "3"}
            ),
            Mend(say("Make nothing transparent"), {"finish.clear.by": None}),
        ),
    )


def asked_of(brief: Brief) -> tuple[Clause, ...]:
    """The clause that asking for transparency comes to: something is left to be seen. Only a miss of it is told."""
    asked = any(
        clause.measure == "transparency"
        and clause.limit is not None
        and "present" in clause.limit.one_of
        for clause in brief.clauses
    )
    if not asked and brief.template is None:
        return ()
    return (Clause(MEASURE.name, MEASURE.name, Limit(("at_least",), at_least=LEAST)),)


MEASURE = Measure(
    "visible_part",
    say("Visible part"),
    "colour",
    SHARE,
    say(
        "The share of the picture's pixels that can be seen at all (opaque by more than a quarter). Where a brief "
        "asks for transparency, a picture of which less than 1 % can be seen is empty, and that is a miss."
    ),
    _take,
    mend=_mend,
    station="finish",
    needs=NEEDS_PIXELS,
    stated=False,
    finish="clear",
)
