"""The ways of filling a frame, and what each would cost."""

from __future__ import annotations

from aptandum.core.brief.model import Brief
from aptandum.core.figures import show_factor, show_share
from aptandum.core.fitting.plan import FrameStation
from aptandum.core.fitting.resolve_frame import FILLS, resolve_frame
from aptandum.core.fitting.settings import Settings
from aptandum.core.frozen import frozen
from aptandum.core.words import say


@frozen
class Fill:
    """One way.

    Attributes:
        name: as ``frame.fill`` takes it.
        says: what it costs, in a few words.
        possible: the brief leaves it, for this photo.
    """

    name: str
    says: str
    possible: bool


def fills_of(shown: tuple[int, int], brief: Brief | None, settings: Settings) -> tuple[Fill, ...]:
    """What each way of filling the frame of a photo would cost, the least loss first.

    Args:
        shown: width and height of the photo as it is shown.
    """
    bare = settings.having({"frame.window": None})
    if settings.frame.output is not None and settings.frame.window is None:
        bare = settings
    made, whole = [], False
    for name in FILLS:
        frame = resolve_frame(shown, brief, bare.having({"frame.fill": name}), [])
        possible = frame.fill == name and (name != "pixels" or abs(frame.scale - 1) < 1e-9)
        if name == "pad" and brief is not None and not brief.permits("pad"):
            possible = frame.kept > 1 - 1e-6 and frame.ground is None
        cost = _cost(frame, shown) if possible else say("not possible")
        if whole and name in ("cut", "pad"):
            possible, cost = False, say("not needed")
        whole = whole or (name == "whole" and possible)
        made.append(Fill(name, cost, possible))
    return tuple(made)


def _cost(frame: FrameStation, shown: tuple[int, int]) -> str:
    """The dearest loss alone: what is cut away or added, else the enlargement, else the scale."""
    if frame.ground is not None:
        whole = frame.window.width * frame.window.height
        return say("{n} added", n=show_share(max(0.0, 1 - shown[0] * shown[1] / whole)))
    if frame.kept < 1 - 1e-6:
        return say("{n} cut away", n=show_share(1 - frame.kept))
    if frame.scale > 1 + 1e-9:
        return say("enlarged {n}", n=show_factor(frame.scale))
    return say("nothing lost") if frame.exact else show_factor(frame.scale)
