"""How many pictures a set has, and how many bytes they have together; judged over all of them."""

from aptandum.core.judge.measure import DoesNotApply, Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import BYTES, COUNT
from aptandum.core.words import say


def _not_one(reading: Reading) -> int:
    raise DoesNotApply(say("It is a rule for the whole set, which the board judges."))


MEASURES = (
    Measure(
        "set_count",
        say("Pictures of the set"),
        "set",
        COUNT,
        say("How many pictures are handed in together for a brief."),
        _not_one,
        station="proof",
        of_set=True,
    ),
    Measure(
        "set_bytes",
        say("Bytes of the set"),
        "set",
        BYTES,
        say("The bytes of all pictures together that are handed in for a brief."),
        _not_one,
        station="proof",
        of_set=True,
    ),
)
