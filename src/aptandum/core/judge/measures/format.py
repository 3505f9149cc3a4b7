"""The file's format, by its content."""

from aptandum.core.brief import binding
from aptandum.core.judge.measure import CannotMeasure, Measure, Mend, Miss
from aptandum.core.judge.reading import Reading
from aptandum.core.photo.facts import FORMAT_NAMES, FORMATS
from aptandum.core.quantity import words
from aptandum.core.words import say


def _take(reading: Reading) -> str:
    if reading.facts.format is None:
        raise CannotMeasure(say("The format was not recognised."))
    return reading.facts.format


def _mend(miss: Miss) -> Mend:
    wanted = miss.limit.one_of or tuple(f for f in FORMATS if f not in miss.limit.none_of)
    return Mend(say("Write {format}", format=FORMAT_NAMES[wanted[0]]), {"file.format": None})


MEASURE = Measure(
    "format",
    say("Format"),
    "file",
    words(*FORMATS, shown=FORMAT_NAMES),
    say("What the file's own bytes are; its name has no say."),
    _take,
    mend=_mend,
    station="file",
    binds=binding.FORMAT,
    seen=("handset", "panel"),
)
