"""How many bytes the file has."""

from typing import Any

from aptandum.core.brief import binding
from aptandum.core.brief.limit import Limit
from aptandum.core.figures import show_bytes, show_exact_bytes
from aptandum.core.judge.measure import CannotMeasure, Measure, Mend, Miss
from aptandum.core.judge.reading import Reading
from aptandum.core.numbers import ByteCount
from aptandum.core.quantity import BYTES, Kind
from aptandum.core.words import say


def _take(reading: Reading) -> int:
    if reading.facts.bytes is None:
        raise CannotMeasure(say("The file has not been made yet."))
    return reading.facts.bytes


def _outside(limit: Limit, value: Any, kind: Kind) -> str:
    """How far outside, exactly; and which reading of KB decided, where it made the difference."""
    off = int(limit.outside(value))
    if not off:
        return ""
    said = (
        say("{n} too many", n=show_exact_bytes(off))
        if off > 0
        else say("{n} too few", n=show_exact_bytes(-off))
    )
    bound = limit.nearest(value)
    if isinstance(bound, ByteCount) and bound.other is not None:
        met = value <= bound.other if off > 0 else value >= bound.other
        if met:
            said = say(
                "{off}; {text} was read the safe way as {n}",
                off=said,
                text=bound.text,
                n=show_exact_bytes(bound),
            )
    return said


def _mend(miss: Miss) -> Mend:
    if miss.limit.at_most is not None and miss.value > miss.limit.at_most:
        words = say("Find the highest quality under {n}", n=show_bytes(miss.limit.at_most))
    else:
        words = say("Write at a higher quality")
    return Mend(words, {"file.quality": None, "file.subsampling": None, "file.progressive": None})


def _explain(limit: Limit) -> str:
    both = limit.at_least is not None and limit.at_most is not None
    return say("too small a file is refused as well") if both else ""


MEASURE = Measure(
    "file_bytes",
    say("Bytes"),
    "file",
    BYTES,
    say(
        "The size of the whole file. KB and MB without more are read the safe way: 1000 for an "
        "upper limit, 1024 for a lower one."
    ),
    _take,
    mend=_mend,
    station="file",
    estimate="bytes",
    outside=_outside,
    binds=binding.BYTES,
    seen=("handset",),
    explain=_explain,
)
