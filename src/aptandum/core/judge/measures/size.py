"""Width and height together."""

from aptandum.core.brief.model import Limit
from aptandum.core.judge.framing import mend_frame
from aptandum.core.judge.measure import Measure
from aptandum.core.quantity import SIZE
from aptandum.core.sizes import binds
from aptandum.core.words import say


def _explain(limit: Limit) -> str:
    if not limit.one_of:
        return ""
    w, h = limit.one_of[0]
    return say("the first number is the width") if w != h else say("a square")


MEASURE = Measure(
    "size",
    say("Size"),
    "pixels",
    SIZE,
    say("Width and height in pixels, as a viewer shows the picture."),
    lambda reading: reading.facts.size,
    mend=mend_frame,
    binds=binds.BOTH,
    seen=("banner", "card", "corner", "grid", "handset", "panel", "projection", "strip", "tint"),
    drawn=("width", "height"),
    explain=_explain,
    tells=True,
)
