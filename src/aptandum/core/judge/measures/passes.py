"""Whether a picture is progressive: seen coarse at first, and then finer."""

from aptandum.core.brief import binding
from aptandum.core.judge.measure import CannotMeasure, Measure, Mend, Miss
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import words
from aptandum.core.words import say

_NAMES = {"progressive": say("progressive"), "baseline": say("baseline")}


def _take(reading: Reading) -> str:
    if reading.facts.progressive is None:
        raise CannotMeasure(say("The file does not say whether it is progressive."))
    return "progressive" if reading.facts.progressive else "baseline"


def _mend(miss: Miss) -> Mend:
    how = "baseline" if miss.value == "progressive" else "progressive"
    return Mend(say("Write it {how}", how=_NAMES[how]), {"file.progressive": None})


MEASURE = Measure(
    "progressive",
    say("Progressive"),
    "file",
    words("progressive", "baseline", shown=_NAMES),
    say(
        "Stored so that the picture is seen coarse at first and then finer (progressive JPEG, interlaced PNG or GIF), or "
        "from the top down (baseline)."
    ),
    _take,
    mend=_mend,
    station="file",
    binds=binding.PROGRESSIVE,
)
