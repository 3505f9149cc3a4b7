"""Landscape, upright or square."""

from aptandum.core.brief.model import TURNS
from aptandum.core.judge.framing import mend_frame
from aptandum.core.judge.measure import Measure
from aptandum.core.quantity import words
from aptandum.core.sizes import binds
from aptandum.core.words import say

MEASURE = Measure(
    "orientation",
    say("Orientation"),
    "pixels",
    words(*TURNS),
    say("Landscape is wider than high, upright is higher than wide."),
    lambda reading: reading.turn,
    mend=mend_frame,
    binds=binds.TURNED,
    drawn=("width", "height"),
)
