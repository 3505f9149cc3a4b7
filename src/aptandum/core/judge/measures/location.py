"""Whether the metadata tell where the photo was taken."""

from aptandum.core.brief import binding
from aptandum.core.judge.measure import Measure, Mend, Miss
from aptandum.core.quantity import words
from aptandum.core.words import say


def _mend(miss: Miss) -> Mend | None:
    if miss.value == "none":
        return Mend(say("The photo tells no place, and none is made up"))
    return Mend(say("Leave the place out"), {"file.metadata.location": None})


MEASURE = Measure(
    "location",
    say("Place of the shot"),
    "file",
    words("present", "none", shown={"present": say("stated"), "none": say("not stated")}),
    say("Whether the metadata hold the latitude or longitude at which the photo was taken."),
    lambda reading: "present" if reading.facts.location else "none",
    mend=_mend,
    station="file",
    binds=binding.LOCATION,
)
