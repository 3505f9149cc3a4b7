"""Pixels per inch, as the file states them."""

from typing import Any

from aptandum.core.brief.limit import Limit
from aptandum.core.figures import show_ppi
from aptandum.core.judge.measure import CannotMeasure, Measure, Mend, Miss
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import PPI
from aptandum.core.sizes import binds
from aptandum.core.words import say

# PNG counts whole pixels a metre: half a step is 0.0127 ppi.
_SLACK = 0.013


def _take(reading: Reading) -> float:
    across, up = reading.facts.ppi_x, reading.facts.ppi_y
    if across is None or up is None:
        raise CannotMeasure(say("The file states no pixels per inch."))
    if abs(across - up) > 2 * _SLACK:
        raise CannotMeasure(
            say("The file states {x} across and {y} up.", x=show_ppi(across), y=show_ppi(up))
        )
    return across


def allows(limit: Limit, value: Any) -> bool:
    """Whether a density meets the limit, within the rounding of what a file can state."""
    if limit.one_of:
        return any(abs(value - one) <= _SLACK for one in limit.one_of)
    low, high = limit.at_least, limit.at_most
    return (low is None or value >= low - _SLACK) and (high is None or value <= high + _SLACK)


def _mend(miss: Miss) -> Mend:
    wanted = miss.limit.nearest(miss.value)
    return Mend(say("Write {ppi}", ppi=show_ppi(wanted)), {"file.ppi": None})


MEASURE = Measure(
    "ppi",
    say("Pixels per inch"),
    "print",
    PPI,
    say("What the file states; it changes the printed size and not one pixel."),
    _take,
    allows,
    _mend,
    station="file",
    binds=binds.RESOLUTION,
    seen=("print",),
    explain=lambda limit: say("a number in the file that changes no pixel"),
)
