"""Width, height, longest and shortest side, in pixels of the picture as shown."""

from collections.abc import Callable

from aptandum.core.judge.framing import mend_frame
from aptandum.core.judge.measure import Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import PIXELS


def _side(name: str, title: str, help_: str, pick: Callable[[tuple[int, int]], int]) -> Measure:
    def take(reading: Reading) -> int:
        return pick(reading.facts.size)

    return Measure(name, title, "pixels", PIXELS, help_, take, mend=mend_frame)


MEASURES = (
    _side("width", "Width", "The picture's width in pixels, as a viewer shows it.",
          lambda size: size[0]),
    _side("height", "Height", "The picture's height in pixels, as a viewer shows it.",
          lambda size: size[1]),
    _side("longest_side", "Longest side",
          "The larger of width and height; whichever way up, it counts.", max),
    _side("shortest_side", "Shortest side",
          "The smaller of width and height; whichever way up, it counts.", min),
)  # fmt: skip
