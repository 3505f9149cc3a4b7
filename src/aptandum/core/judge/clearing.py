"""Clearing: the frame nearest to a given one that leaves nothing under a zone.

Moves come first, the smallest of them; then larger frames, which cut less away; then smaller ones.
A head stays inside every band that a brief sets for it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from typing import TYPE_CHECKING

from aptandum.core.brief.binding import EYE_LINE, HEAD_HEIGHT, HEAD_OFFSET, HEADROOM
from aptandum.core.brief.model import Zone
from aptandum.core.judge.placing import Band
from aptandum.core.judge.zones import Box, Kept, on_photo
from aptandum.core.later import np
from aptandum.core.photo.marks import Marks

if TYPE_CHECKING:
    from numpy.typing import NDArray

_EPS = 1e-6
_STEP = 1.01
"""From one size of a frame that is tried to the next."""

_MARGIN = 1.0
"""Photo pixels that are left beside a zone where a frame takes another size, whose sides are yet to be
brought to whole output pixels."""

_CLOSE = 24
"""Halvings by which the size at which it first clears is then found."""

Run = tuple[float, float]


def clear_frame(
    zones: Iterable[Zone],
    frame: Box,
    kept: Iterable[Kept],
    photo: tuple[float, float],
    asked: Sequence[Band] = (),
    marks: Marks | None = None,
    least: float = 0.0,
    may_pad: bool = False,
) -> Box | None:
    """The frame to take; ``None`` where none of this shape clears the zones.

    Args:
        frame: left, top, width and height in photo pixels.
        kept: what must lie inside the frame and under no zone, in photo pixels.
        asked: where a head must stand, by its ``marks``.
        least: the width below which a frame would be enlarged further than is allowed.
        may_pad: at last also frames that are larger than the photo, which lies inside them.
    """
    areas, things = tuple(zones), tuple(kept)

    def at(k: float) -> Box | None:
        box = _about(frame, k)
        beside = _MARGIN if k != 1.0 else 0.0
        move = _move(areas, box, things, photo, asked, marks, beside)
        return None if move is None else (box[0] + move[0], box[1] + move[1], box[2], box[3])

    found = at(1.0)
    if found is not None:
        return found
    ways = [_larger(frame, photo), _smaller(frame, things, least)]
    if may_pad:
        ways.append(_padded(frame, photo))
    for sizes in ways:
        last = 1.0
        for k in sizes:
            if at(k) is not None:
                return _nearest(at, last, k)
            last = k
    return None


def smallest_shift(
    zones: Iterable[Zone], frame: Box, kept: Iterable[Kept], photo: tuple[float, float]
) -> tuple[float, float] | None:
    """The least move of a frame (across, up and down, in photo pixels) after which nothing is
    covered, the frame still inside the photo and everything kept still inside the frame; ``None``
    where no move does it."""
    return _move(tuple(zones), frame, tuple(kept), photo, (), None)


def _nearest(at: Callable[[float], Box | None], last: float, k: float) -> Box | None:
    """The frame at the size nearest to the one that does not clear."""
    best: Box | None = at(k)
    for _ in range(_CLOSE):
        middle = (last + k) / 2
        found = at(middle)
        if found is None:
            last = middle
        else:
            best, k = found, middle
    return best


def _about(frame: Box, k: float) -> Box:
    left, top, wide, high = frame
    return left + wide * (1 - k) / 2, top + high * (1 - k) / 2, wide * k, high * k


def _larger(frame: Box, photo: tuple[float, float]) -> Iterator[float]:
    most = min(photo[0] / frame[2], photo[1] / frame[3])
    k = _STEP
    while k < most:
        yield k
        k *= _STEP
    if most > 1 + _EPS:
        yield most


_MOST_PADDED = 3.0
"""How many times as long as the photo a padded frame may become."""


def _padded(frame: Box, photo: tuple[float, float]) -> Iterator[float]:
    k = max(1.0, min(photo[0] / frame[2], photo[1] / frame[3])) * _STEP
    while k < _MOST_PADDED * max(photo[0] / frame[2], photo[1] / frame[3]):
        yield k
        k *= _STEP


def _smaller(frame: Box, kept: Sequence[Kept], least: float) -> Iterator[float]:
    boxes = [one.box for one in kept]
    across = max((b[0] + b[2] for b in boxes), default=0.0) - min(
        (b[0] for b in boxes), default=0.0
    )
    up = max((b[1] + b[3] for b in boxes), default=0.0) - min((b[1] for b in boxes), default=0.0)
    fewest = max(across / frame[2], up / frame[3], least / frame[2], 0.02)
    k = 1 / _STEP
    while k > fewest:
        yield k
        k /= _STEP
    if fewest < 1 - _EPS:
        yield fewest


def _head(asked: Sequence[Band], marks: Marks | None, box: Box) -> tuple[Run, Run] | None:
    """The runs of left and top edges at which a head stands in every band; ``None``: none do."""
    left, top = (-np.inf, np.inf), (-np.inf, np.inf)
    if marks is None:
        return left, top
    _left, _top, wide, high = box
    crown, (eye_x, eye_y) = marks.crown[1], marks.eyes
    for band in asked:
        low, high_ = band.low, band.high
        if band.binds == HEAD_HEIGHT:
            share = marks.height / high
            if (low is not None and share < low - _EPS) or (
                high_ is not None and share > high_ + _EPS
            ):
                return None
        elif band.binds == HEADROOM:  # (crown - top) / high
            top = _within(top, crown, high, low, high_)
        elif band.binds == EYE_LINE:  # (top + high - eyes) / high
            top = (
                max(top[0], -np.inf if low is None else eye_y - high + low * high),
                min(top[1], np.inf if high_ is None else eye_y - high + high_ * high),
            )
        elif band.binds == HEAD_OFFSET:  # (eyes - left) / wide - 1/2
            left = _within(
                left, eye_x, wide, None if low is None else low + 0.5,
                None if high_ is None else high_ + 0.5,
            )  # fmt: skip
    if left[0] > left[1] + _EPS or top[0] > top[1] + _EPS:
        return None
    return left, top


def _within(run: Run, point: float, side: float, low: float | None, high: float | None) -> Run:
    """The edges from which a point lies at a share of a side."""
    return (
        max(run[0], -np.inf if high is None else point - high * side),
        min(run[1], np.inf if low is None else point - low * side),
    )


def _move(
    zones: Sequence[Zone],
    frame: Box,
    kept: Sequence[Kept],
    photo: tuple[float, float],
    asked: Sequence[Band],
    marks: Marks | None,
    margin: float = 0.0,
) -> tuple[float, float] | None:
    """The least move (across, and up and down) after which nothing is covered.

    A zone and a box are apart when one lies wholly to one side of the other, so what is left to a
    frame is made of rectangles: the point of one that is nearest to no move at all has the edge of
    something in either coordinate, or none.
    """
    left, top, wide, high = frame
    head = _head(asked, marks, frame)
    if head is None:
        return None
    areas = [
        (x - margin, y - margin, w + 2 * margin, h + 2 * margin)
        for x, y, w, h in (on_photo(zone, frame) for zone in zones)
    ]
    boxes = [one.box for one in kept]
    runs = [_run(left, wide, photo[0], head[0], [(b[0], b[2]) for b in boxes]),
            _run(top, high, photo[1], head[1], [(b[1], b[3]) for b in boxes])]  # fmt: skip
    if any(low > up + _EPS for low, up in runs):
        return None
    moves = []
    for axis, (low, up) in enumerate(runs):
        ends = {0.0, low, up}
        for area in areas:
            for box in boxes:
                ends.add(box[axis] - area[axis] - area[axis + 2])
                ends.add(box[axis] + box[axis + 2] - area[axis])
        held = np.array([v for v in ends if low - _EPS <= v <= up + _EPS])
        moves.append(np.clip(held, low, up) if len(held) else held)
    if not len(moves[0]) or not len(moves[1]):
        return None
    covered = np.zeros((len(moves[0]), len(moves[1])), bool)
    for area in areas:
        for box in boxes:
            across = _meets(moves[0], area[0], area[2], box[0], box[2])
            up_ = _meets(moves[1], area[1], area[3], box[1], box[3])
            covered |= across[:, None] & up_[None, :]
    cost = moves[0][:, None] ** 2 + moves[1][None, :] ** 2
    cost[covered] = np.inf
    i, j = np.unravel_index(int(np.argmin(cost)), cost.shape)
    if not np.isfinite(cost[i, j]):
        return None
    return float(moves[0][i]), float(moves[1][j])


def _run(
    start: float, side: float, whole: float, head: Run, boxes: Sequence[tuple[float, float]]
) -> Run:
    """The moves along one axis that keep the frame inside the photo (or the photo inside a larger
    frame), the head in its bands and every box inside the frame."""
    ends = sorted((-start, whole - side - start))
    low, up = max(ends[0], head[0] - start), min(ends[1], head[1] - start)
    for at, size in boxes:
        low, up = max(low, at + size - side - start), min(up, at - start)
    return low, up


def _meets(
    moves: NDArray[np.float64], at: float, size: float, box: float, length: float
) -> NDArray[np.bool_]:
    return (moves + at < box + length - _EPS) & (box < moves + at + size - _EPS)
