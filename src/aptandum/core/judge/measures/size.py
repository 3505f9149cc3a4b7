"""Width and height together."""

from aptandum.core.brief.limit import Limit
from aptandum.core.figures import show_pixels
from aptandum.core.judge.framing import mend_frame
from aptandum.core.judge.measure import Measure, allows_sides
from aptandum.core.quantity import SIZE, Kind
from aptandum.core.sizes import binds
from aptandum.core.words import listed, say

Size = tuple[int, int]


def _outside(limit: Limit, value: Size, kind: Kind) -> str:
    """By how much each side lies outside a bound, in words."""
    said = []
    for side, less, more in (
        (0, say("{n} too narrow"), say("{n} too wide")),
        (1, say("{n} too low"), say("{n} too high")),
    ):
        low = limit.at_least[side] if limit.at_least is not None else None
        high = limit.at_most[side] if limit.at_most is not None else None
        if low is not None and value[side] < low:
            said.append(less.format(n=show_pixels(low - value[side])))
        elif high is not None and value[side] > high:
            said.append(more.format(n=show_pixels(value[side] - high)))
    return listed(said, "and")


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
    allows=allows_sides,
    outside=_outside,
    mend=mend_frame,
    binds=binds.BOTH,
    seen=("banner", "card", "corner", "grid", "handset", "panel", "projection", "strip", "tint"),
    drawn=("width", "height"),
    explain=_explain,
    tells=True,
    also="print_size",
)
