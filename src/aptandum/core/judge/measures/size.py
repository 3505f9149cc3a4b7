"""Width and height together."""

from aptandum.core.judge.measure import Measure, Mend, Miss
from aptandum.core.quantity import SIZE, show_size
from aptandum.core.words import say


def _mend(miss: Miss) -> Mend | None:
    if not miss.limit.one_of:
        return None
    width, height = miss.value
    nearest = min(miss.limit.one_of, key=lambda want: abs(want[0] - width) + abs(want[1] - height))
    if width < nearest[0] or height < nearest[1]:
        words = say("Cut to shape and enlarge to {size}", size=show_size(nearest))
    else:
        words = say("Cut to shape and scale to {size}", size=show_size(nearest))
    return Mend(words, {"frame.output": None, "frame.window": None})


MEASURE = Measure(
    "size",
    "Size",
    "pixels",
    SIZE,
    "Width and height in pixels, as a viewer shows the picture.",
    lambda reading: reading.facts.size,
    mend=_mend,
)
