"""Width, height, longest and shortest side, in pixels of the picture as shown."""

from collections.abc import Callable

from aptandum.core.brief.limit import Limit
from aptandum.core.judge.framing import mend_frame
from aptandum.core.judge.measure import Measure
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import PIXELS
from aptandum.core.sizes import binds
from aptandum.core.words import say


def _side(
    name: str,
    title: str,
    help_: str,
    pick: Callable[[tuple[int, int]], int],
    bind: binds.Side,
    explain: Callable[[Limit], str],
    seen: tuple[str, ...] = (),
    tells: bool = False,
) -> Measure:
    def take(reading: Reading) -> int:
        return pick(reading.facts.size)

    return Measure(
        name,
        title,
        "pixels",
        PIXELS,
        help_,
        take,
        mend=mend_frame,
        binds=bind,
        drawn=(bind.of,),
        explain=explain,
        seen=seen,
        tells=tells,
    )


def _longest(limit: Limit) -> str:
    return _either(limit, both=limit.at_most is not None)


def _shortest(limit: Limit) -> str:
    return _either(limit, both=limit.at_least is not None)


def _either(limit: Limit, both: bool) -> str:
    if limit.at_least is not None and limit.at_most is not None:
        return say("whichever way up the picture is")
    return say("both sides count") if both else say("one side is enough")


MEASURES = (
    _side(
        "width",
        say("Width"),
        say("The picture's width in pixels, as a viewer shows it."),
        lambda size: size[0],
        binds.WIDTH,
        lambda limit: say("the height is left free"),
        ("banner",),
        True,
    ),
    _side(
        "height",
        say("Height"),
        say("The picture's height in pixels, as a viewer shows it."),
        lambda size: size[1],
        binds.HEIGHT,
        lambda limit: say("the width is left free"),
        ("banner",),
    ),
    _side(
        "longest_side",
        say("Longest side"),
        say("The larger of width and height; whichever way up, it counts."),
        max,
        binds.LONGEST,
        _longest,
        ("grid", "strip"),
        True,
    ),
    _side(
        "shortest_side",
        say("Shortest side"),
        say("The smaller of width and height; whichever way up, it counts."),
        min,
        binds.SHORTEST,
        _shortest,
    ),
)
