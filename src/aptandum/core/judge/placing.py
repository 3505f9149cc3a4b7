"""Frame from marks: the frame that holds a head as a brief's clauses ask.

For a height H of the frame each clause leaves a run of middles (cx, cy) whose ends are linear
in H, and so does lying inside the photo. Elimination of cx and cy gives linear bounds on H
alone. How far from the middle of each band a frame may lie is one number t: 0 in the middles,
1 at the bands' ends, more outside. The least t for which any H is left is found by bisection,
and everything else follows from it.
"""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction
from functools import lru_cache

from aptandum.core.brief.binding import EYE_LINE, HEAD_HEIGHT, HEAD_OFFSET, HEADROOM, Bind
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Clause, turn_of
from aptandum.core.brief.registry import binds_of
from aptandum.core.frozen import frozen
from aptandum.core.judge.marks_off import off
from aptandum.core.photo.marks import Marks

BINDS = (HEAD_HEIGHT, HEADROOM, EYE_LINE, HEAD_OFFSET)
EDGES = ("left", "top", "right", "bottom")
_UNIT = 0.02
"""The share that stands for half a band where a limit has one side only, or none."""
_EPS = 1e-9
Box = tuple[float, float, float, float]


@frozen
class Band:
    """What a clause allows, as shares of the frame; one side may be open."""

    binds: Bind
    low: float | None
    high: float | None
    clause: Clause | None = None

    @property
    def must(self) -> bool:
        return self.clause is None or self.clause.strength == "must"

    @property
    def middle(self) -> float | None:
        if self.low is None or self.high is None:
            return None
        return (self.low + self.high) / 2

    def bounds(self, t: float) -> tuple[float | None, float | None]:
        """The shares allowed at a distance t from the middle."""
        if self.low is not None and self.high is not None:
            half = max((self.high - self.low) / 2, _UNIT / 10)
            return (self.low + self.high) / 2 - t * half, (self.low + self.high) / 2 + t * half
        beyond = max(0.0, t - 1) * _UNIT
        return (
            None if self.low is None else self.low - beyond,
            None if self.high is None else self.high + beyond,
        )

    def off(self, value: float) -> float:
        """The distance t of a value."""
        if self.low is not None and self.high is not None:
            half = max((self.high - self.low) / 2, _UNIT / 10)
            return abs(value - (self.low + self.high) / 2) / half
        if self.low is not None and value < self.low:
            return 1 + (self.low - value) / _UNIT
        if self.high is not None and value > self.high:
            return 1 + (value - self.high) / _UNIT
        return 0.0


def bands(brief: Brief, turn: str) -> tuple[Band, ...]:
    """The person clauses of a brief that place a frame of one turn."""
    found = []
    for clause, limit in brief.bounding(*BINDS):
        binds = binds_of(clause.measure)
        if binds is not None and (not clause.applies or turn in clause.applies):
            low, high = _span(limit)
            found.append(Band(binds, low, high, clause))
    return tuple(found)


def _span(limit: Limit) -> tuple[float | None, float | None]:
    if limit.one_of:
        return min(limit.one_of), max(limit.one_of)
    return limit.at_least, limit.at_most


def value_of(binds: Bind, box: Box, marks: Marks) -> float:
    """A person measure of a frame (left, top, width, height), all in photo pixels."""
    left, top, width, height = box
    if binds == HEAD_HEIGHT:
        return marks.height / height
    if binds == HEADROOM:
        return (marks.crown[1] - top) / height
    if binds == EYE_LINE:
        return (top + height - marks.eyes[1]) / height
    return (marks.eyes[0] - left) / width - 0.5


_ENDS: dict[Bind, set[str]] = {HEAD_HEIGHT: {"crown", "chin"}, HEADROOM: {"crown"}}
"""The ends of the head that a share of the frame needs."""

_TOLD_BY: dict[Bind, tuple[str, tuple[str, ...]]] = {
    HEAD_HEIGHT: ("height", ("crown", "skull", "chin")),
    HEADROOM: ("crown", ("crown", "skull")),
    EYE_LINE: ("eye line", ("left_eye", "right_eye")),
    HEAD_OFFSET: ("across", ("left_eye", "right_eye")),
}


def off_by(binds: Bind, box: Box, marks: Marks) -> float:
    """By how much :func:`value_of` may be off, as a share of the frame; 0 where a hand has set the marks."""
    name, points = _TOLD_BY[binds]
    found = set(marks.found) - {"crown" if marks.top == "skull" else "skull"}
    if not set(points) & found:
        return 0.0
    name = "skull" if "skull" in found and "skull" in points else name
    return off(name, marks) * marks.height / (box[2] if binds == HEAD_OFFSET else box[3])


def tellable(asked: Iterable[Band], marks: Marks) -> tuple[Band, ...]:
    """The bands that can be told by a head's marks: not those of an end that the photo's edge cuts off."""
    cut = {*marks.cut, *(("crown",) if "skull" in marks.doubted else ())}
    return tuple(band for band in asked if not _ENDS.get(band.binds, set()) & cut)


@frozen
class Obstacle:
    """An edge of the photo that keeps the frame from where it should lie, and how many photo
    pixels are missing beyond it."""

    edge: str
    missing: float


@frozen
class Placement:
    """A frame found.

    Attributes:
        box: left, top, width and height in photo pixels.
        worst: the largest distance from a band's middle; up to 1 every clause is met.
        missed: the clauses that are not met.
        obstacles: the edges of the photo that prevent it: each alone, or all together.
    """

    box: Box
    worst: float
    missed: tuple[Clause, ...] = ()
    obstacles: tuple[Obstacle, ...] = ()


class _Problem:
    """One head, one shape, one photo; the room beyond each edge of the photo may be given."""

    def __init__(
        self,
        asked: Iterable[Band],
        marks: Marks,
        photo: tuple[float, float],
        shape: float,
        least: float,
        room: dict[str, float] | None = None,
    ) -> None:
        self.bands = tuple(asked)
        self.musts: float | None = None  # a distance that must clauses are held to
        self.marks, self.shape, self.least = marks, shape, least
        beyond = room or {}
        self.left, self.top = -beyond.get("left", 0.0), -beyond.get("top", 0.0)
        self.right = photo[0] + beyond.get("right", 0.0)
        self.bottom = photo[1] + beyond.get("bottom", 0.0)

    def _bounds(self, band: Band, t: float) -> tuple[float | None, float | None]:
        return band.bounds(self.musts if band.must and self.musts is not None else t)

    def heights(self, t: float) -> tuple[float, float] | None:
        """The run of frame heights at distance t, or ``None``."""
        low = max(self.least, _EPS)
        high = min(self.bottom - self.top, (self.right - self.left) / self.shape)
        for band in self.bands:
            if band.binds == HEAD_HEIGHT:
                least, most = self._bounds(band, t)
                if most is not None and most > 0:
                    low = max(low, self.marks.height / most)
                if least is not None and least > 0:
                    high = min(high, self.marks.height / least)
        for lower, upper in (self._across(t), self._up(t)):
            for a, b in lower:
                for c, d in upper:  # a H + b <= c H + d
                    slope, room = a - c, d - b
                    if slope > _EPS:
                        high = min(high, room / slope)
                    elif slope < -_EPS:
                        low = max(low, room / slope)
                    elif room < -1e-7:
                        return None
        return (low, high) if low <= high + 1e-7 else None

    def _across(self, t: float) -> tuple[list[tuple[float, float]], list[tuple[float, float]]]:
        """Bounds of the middle's x as a H + b: those below, those above."""
        s, x = self.shape, self.marks.eyes[0]
        lower, upper = [(s / 2, self.left)], [(-s / 2, self.right)]
        for band in self.bands:
            if band.binds == HEAD_OFFSET:
                least, most = self._bounds(band, t)
                if least is not None:
                    upper.append((-least * s, x))
                if most is not None:
                    lower.append((-most * s, x))
        return lower, upper

    def _up(self, t: float) -> tuple[list[tuple[float, float]], list[tuple[float, float]]]:
        """Bounds of the middle's y, likewise."""
        lower, upper = [(0.5, self.top)], [(-0.5, self.bottom)]
        crown, eyes = self.marks.crown[1], self.marks.eyes[1]
        for band in self.bands:
            least, most = self._bounds(band, t)
            if band.binds == HEADROOM:
                if least is not None:
                    upper.append((0.5 - least, crown))
                if most is not None:
                    lower.append((0.5 - most, crown))
            elif band.binds == EYE_LINE:
                if least is not None:
                    lower.append((least - 0.5, eyes))
                if most is not None:
                    upper.append((most - 0.5, eyes))
        return lower, upper

    def least_t(self) -> float | None:
        """The smallest distance at which some frame is left; ``None`` where none ever is."""
        high = 1.0
        while self.heights(high) is None:
            high *= 2
            if high > 1e6:
                return None
        low = 0.0
        if self.heights(low) is not None:
            return low
        for _ in range(48):
            middle = (low + high) / 2
            if self.heights(middle) is None:
                low = middle
            else:
                high = middle
        return high

    def frame(self, t: float, wish: float | None) -> Box:
        """The frame at distance t: its height nearest to the head's middle (else the wish),
        then its own middle nearest to those of the other bands."""
        run = self.heights(t)
        assert run is not None
        aim = wish if wish is not None else run[1]
        for band in self.bands:
            if band.binds == HEAD_HEIGHT and band.middle:
                aim = self.marks.height / band.middle
        h = min(max(aim, run[0]), run[1])
        x = self._middle(self._across(t), h, HEAD_OFFSET)
        y = self._middle(self._up(t), h, HEADROOM, EYE_LINE)
        return x - h * self.shape / 2, y - h / 2, h * self.shape, h

    def _middle(
        self,
        bounds: tuple[list[tuple[float, float]], list[tuple[float, float]]],
        h: float,
        *measures: Bind,
    ) -> float:
        low = max(a * h + b for a, b in bounds[0])
        high = min(a * h + b for a, b in bounds[1])
        aims = []
        for band in self.bands:
            if band.binds in measures and band.middle is not None:
                half = max(((band.high or 0) - (band.low or 0)) / 2, _UNIT / 10)
                aims.append((self._aim(band.binds, band.middle, h), half))
        if aims:  # where two bands pull, each gives way by its own width
            weight = sum(1 / half for _at, half in aims)
            aim = sum(at / half for at, half in aims) / weight
        else:
            aim = self.marks.eyes[0] if HEAD_OFFSET in measures else self.marks.eyes[1] + h * 0.05
        return min(max(aim, low), max(low, high))

    def _aim(self, binds: Bind, share: float, h: float) -> float:
        if binds == HEAD_OFFSET:
            return self.marks.eyes[0] - share * self.shape * h
        if binds == HEADROOM:
            return self.marks.crown[1] + (0.5 - share) * h
        return self.marks.eyes[1] + (share - 0.5) * h


def place(
    asked: Iterable[Band],
    marks: Marks,
    photo: tuple[float, float],
    shape: Fraction | float,
    least_height: float = 1.0,
    wish: float | None = None,
) -> Placement | None:
    """The frame of one shape that is closest to the middle of every band.

    Args:
        asked: the bands, as shares of the frame.
        marks: in photo pixels.
        photo: width and height of the photo as shown.
        shape: width over height of the frame.
        least_height: of the frame in photo pixels, so that nothing is enlarged too far.
        wish: a height to keep where no clause says one.

    ``None`` where not even the size can be held.
    """
    every = tuple(asked)
    ratio = float(shape)
    problem = _Problem(every, marks, photo, ratio, least_height)
    t = problem.least_t()
    if t is None:
        return None
    if t > 1 and not all(band.must for band in every):
        # What is required comes first: it gives way only as far as it has to, and what is
        # recommended takes what is left.
        alone = _Problem([b for b in every if b.must], marks, photo, ratio, least_height).least_t()
        problem.musts = max(1.0, (alone or 0.0) + 1e-9)
        t = problem.least_t() or t
    box = problem.frame(t + 1e-9, wish)
    if t <= 1 + 1e-6:
        return Placement(box, t)
    missed = tuple(
        band.clause
        for band in every
        if band.clause is not None and band.off(value_of(band.binds, box, marks)) > 1 + 1e-4
    )
    return Placement(box, t, missed, _obstacles(every, marks, photo, ratio, least_height))


def _obstacles(
    asked: tuple[Band, ...], marks: Marks, photo: tuple[float, float], shape: float, least: float
) -> tuple[Obstacle, ...]:
    """The edges that keep every clause from being met: each that would do it alone, given more
    room, and where none does the least room at several edges together. None at all where no
    room would help, because the clauses do not suit one another on this head."""
    far = max(photo) * 4.0

    def met(room: dict[str, float]) -> bool:
        return _Problem(asked, marks, photo, shape, least, room).heights(1.0) is not None

    def least_room(edge: str, others: dict[str, float]) -> float:
        low, high = 0.0, far
        if met({**others, edge: 0.0}):
            return 0.0
        for _ in range(40):
            middle = (low + high) / 2
            if met({**others, edge: middle}):
                high = middle
            else:
                low = middle
        return high

    alone = [edge for edge in EDGES if met({edge: far})]
    if alone:
        return tuple(Obstacle(edge, least_room(edge, {})) for edge in alone)
    room = dict.fromkeys(EDGES, far)
    if not met(room):
        return ()
    for edge in EDGES:
        room[edge] = least_room(edge, room)
    return tuple(Obstacle(edge, need) for edge, need in room.items() if need > 1e-6)


@lru_cache(maxsize=64)
def frame_from_marks(
    brief: Brief,
    marks: Marks,
    photo: tuple[int, int],
    shape: Fraction,
    least: tuple[float, float] | None = None,
    wish: float | None = None,
) -> Placement | None:
    """:func:`place` for a brief's own clauses; ``least`` is the smallest frame in photo pixels
    that needs no enlargement beyond what the brief allows. Kept, as every step of a drag asks
    again."""
    marks = marks.topped(brief.crown)
    turn = turn_of(shape.numerator, shape.denominator)
    least_height = 1.0 if least is None else max(least[1], least[0] / float(shape))
    asked = tellable(bands(brief, turn), marks)
    if not asked:
        return None
    found = place(asked, marks, photo, shape, least_height, wish)
    if found is None and least is not None:
        found = place(asked, marks, photo, shape, 1.0, wish)
    return found
