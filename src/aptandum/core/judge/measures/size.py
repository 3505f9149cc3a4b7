"""Width and height together."""

from aptandum.core.judge.framing import mend_frame
from aptandum.core.judge.measure import Measure
from aptandum.core.quantity import SIZE

MEASURE = Measure(
    "size",
    "Size",
    "pixels",
    SIZE,
    "Width and height in pixels, as a viewer shows the picture.",
    lambda reading: reading.facts.size,
    mend=mend_frame,
)
