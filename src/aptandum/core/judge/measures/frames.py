"""How many pictures the file holds."""

from aptandum.core.brief import binding
from aptandum.core.judge.measure import CannotMeasure, Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import COUNT
from aptandum.core.words import say


def _take(reading: Reading) -> int:
    if reading.facts.frames is None:
        raise CannotMeasure(say("The frames could not be counted."))
    return reading.facts.frames


MEASURE = Measure(
    "frames",
    say("Frames"),
    "file",
    COUNT,
    say("Frames of an animation, or pages of a document; a still picture has one."),
    _take,
    station="file",
    binds=binding.FRAMES,
    moving=True,
)
