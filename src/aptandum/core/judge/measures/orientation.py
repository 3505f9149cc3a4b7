"""Landscape, upright or square."""

from aptandum.core.judge.measure import Measure, Mend, Miss
from aptandum.core.quantity import words
from aptandum.core.rulebook.model import TURNS
from aptandum.core.words import listed, say


def _mend(miss: Miss) -> Mend:
    wanted = miss.limit.one_of or tuple(t for t in TURNS if t not in miss.limit.none_of)
    return Mend(
        say("Cut to a frame that is {turn}", turn=listed(list(wanted))), {"frame.window": None}
    )


MEASURE = Measure(
    "orientation",
    "Way up",
    "pixels",
    words(*TURNS),
    "Landscape is wider than high, upright is higher than wide.",
    lambda reading: reading.turn,
    mend=_mend,
)
