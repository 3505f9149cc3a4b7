"""Whether a JPEG's picture jumps in the middle of a row of blocks and goes on so, as it does behind a wrong bit."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from typing import TYPE_CHECKING, Any, TypeAlias

from aptandum.core.later import cv2, np

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from aptandum.core.photo.facts import Facts

_MOST = 120_000_000
"""Pixels of the largest picture in which they are looked for."""
_SIDES = {"4:4:4": 8, "4:2:0": 16, None: 8}


def side_of(facts: Facts) -> int:
    """The side of what is coded together in a JPEG, in pixels; 0 where jumps are not looked for."""
    if (facts.width or 0) * (facts.height or 0) > _MOST:
        return 0
    return _SIDES.get(facts.subsampling, 0)


_FAINTEST = 4.0
"""The least change of brightness or colour that counts, of 255."""
_CLEARER = 5.0
"""How many times as large it is as what is found nearly everywhere else."""
_EVEN, _MOST_OF_IT = 0.5, 0.9
"""How even a change is: nearly all blocks have it, within so much of it."""
_LEFT = 1.3
"""The difference between two rows that is left once whole blocks are put back, by what it is elsewhere."""
_BESIDE = 0.3
"""The share of a jump that may be found on either side of it, in the same two rows of blocks."""
_EDGE = 0.04
"""The share of a row, at either end, in which a jump may as well belong to the picture."""
_LIVELY = 0.5
"""The least difference between two neighbouring rows of a photo: a drawing's flat areas tell nothing."""
_SAMPLES = 4
_AT_ONCE = 20_000
"""Blocks that are looked at together, in whole rows of them: fewer take long for their calls, more want memory."""
_OF_WHICH = 4
"""One in so many rows of blocks tells how lively a picture is."""
_BLOCKS = tuple(by for by in range(-6, 7) if by)


def breaks(pixels: NDArray[np.uint8], side: int, rows: Callable[[int], None] | None = None) -> bool:
    """Whether a picture jumps somewhere in a row of blocks, and goes on so until the row below has come to the same
    place: as it does where a wrong bit has shifted all that follows, in brightness, in colour or by whole blocks.

    A sound picture with an edge of this shape would have to have it one row of blocks lower on its left than on its
    right, exactly on their borders, equally strong all along.

    Args:
        rows: waits until the pixels' rows before one are there.
    """
    high, wide = pixels.shape[0] // side, pixels.shape[1] // side
    if high < 4 or wide < 16:
        return False
    whole = pixels[: high * side, : wide * side]
    whole = whole[..., None] if whole.ndim == 2 else whole
    if not _may(whole, side, wide, rows):
        return False
    gap, upper, lower, _each = _borders(whole, side)
    return _shifts(gap, wide) or _moves(upper, lower, wide)


_Planes: TypeAlias = "tuple[NDArray[np.floating], ...]"


def _may(
    whole: NDArray[np.uint8], side: int, wide: int, wait: Callable[[int], None] | None
) -> bool:
    """Whether it is worth a closer look: what stands out by itself, told some rows of blocks at a time in little memory."""
    rows = len(whole) // side - 1
    size, mean = (np.empty((rows - 1) * wide + 1, np.float32) for _ in range(2))
    apart = []
    at_once = max(2, _AT_ONCE // wide)
    for at in range(0, rows, at_once):
        # A row more, for what begins in the middle of the last.
        end = min((at + at_once + 2) * side, len(whole))
        if wait is not None:
            wait(end)
        gap, jumps, each = _steps(whole[at * side : end], side)
        apart.append(each)
        if len(gap) >= wide:
            some = slice(at * wide, at * wide + len(gap) - wide + 1)
            size[some], mean[some] = _size(gap, wide), _running(jumps, wide)
    if float(np.median(np.concatenate(apart))) < _LIVELY:
        return False
    return _stands_out(size, _CLEARER) or _stands_out(mean, _CLEARER / 2)


def _steps(whole: NDArray[np.uint8], side: int) -> _Planes:
    """As :func:`_borders`, of each block: how much it differs from the one above, by channel, and in grey, whichever way;
    and of some how much their pixels do."""
    bands, count, wide = whole.shape[2], len(whole) // side - 1, whole.shape[1] // side
    # To the nearest makes a copy of every so many columns, far sooner than an array's own steps do.
    above, below = (
        cv2.resize(one[:count], (wide * _SAMPLES, count), interpolation=cv2.INTER_NEAREST)
        for one in (whole[side - 1 :: side], whole[side::side])
    )
    apart = cv2.subtract(below, above, dtype=cv2.CV_32F).reshape(-1, _SAMPLES * bands)
    found = apart @ _by_channel_and_grey(bands)
    some = apart.reshape(count, -1)[::_OF_WHICH].reshape(-1, _SAMPLES * bands)
    return (
        found[:, :bands],
        np.abs(found[:, bands:]) @ np.full(_SAMPLES, 1 / _SAMPLES, np.float32),
        np.abs(some) @ np.full(some.shape[1], 1 / some.shape[1], np.float32),
    )


@cache
def _by_channel_and_grey(bands: int) -> NDArray[np.float32]:
    """What makes of a block's pixels their mean by channel, and the grey of each."""
    mean = np.tile(np.eye(bands, dtype=np.float32) / _SAMPLES, (_SAMPLES, 1))
    grey = np.repeat(np.eye(_SAMPLES, dtype=np.float32) / bands, bands, axis=0)
    return np.concatenate([mean, grey], 1)


def _stands_out(values: NDArray[np.floating], times: float) -> bool:
    """Whether the largest is as :func:`_clear` has it; for that they need only be counted, and not put in order."""
    most = float(values.max())
    if most <= _FAINTEST:
        return False
    return bool(np.count_nonzero(values < most / times) > 0.9 * (len(values) - 1))


def _clear(values: NDArray[np.floating], times: float) -> float:
    """From what on one of them stands out from nearly all others."""
    return max(_FAINTEST, times * float(np.percentile(values, 90)))


def _borders(whole: NDArray[np.uint8], side: int) -> _Planes:
    """Where rows of blocks meet, of each block: how much its first line differs from the last above it, by channel; the
    greys of that last line and of the first, four each; and how much its pixels differ, whichever way."""
    bands, step = whole.shape[2], side // _SAMPLES
    mix = np.full((1, bands), 1 / bands, np.float32)
    gap: Any = 0.0
    each: Any = 0.0
    greys: tuple[list[Any], list[Any]] = [], []
    # The last line of each row of blocks and the first of the next; four pixels of a block, one after the other. A matrix
    # product would do for all of it, and would take tens of megabytes for itself.
    count = len(whole) // side - 1
    for at in range(0, side, step):
        pair = [
            one[:count].astype(np.float32)
            for one in (whole[side - 1 :: side, at::side], whole[side::side, at::side])
        ]
        apart = pair[1] - pair[0]
        gap = gap + apart
        each = each + cv2.transform(np.abs(apart, out=apart), mix)
        for held, one in zip(greys, pair, strict=True):
            held.append(cv2.transform(one, mix).reshape(-1))
    upper, lower = (np.stack(one, 1) for one in greys)
    return (gap / _SAMPLES).reshape(-1, bands), upper, lower, (each / _SAMPLES).reshape(-1)


def _size(gap: NDArray[np.floating], wide: int) -> NDArray[np.floating]:
    """How much all that follows differs, in the channel in which it does most, from each block on over a row of them."""
    size = np.zeros(len(gap) - wide + 1, np.float32)
    for n in range(gap.shape[1]):
        np.maximum(size, np.abs(_running(gap[:, n], wide)), out=size, casting="same_kind")
    return size


def _jumps(upper: NDArray[np.floating], lower: NDArray[np.floating], wide: int) -> _Planes:
    """How far the greys of two rows are apart, of each block, and their means from each on over a row of them."""
    jumps = np.abs(lower - upper) @ np.full(_SAMPLES, 1 / _SAMPLES, np.float32)
    return jumps, _running(jumps, wide).astype(np.float32)


def _shifts(gap: NDArray[np.floating], wide: int) -> bool:
    """Whether all that follows is brighter, darker or of another colour.

    Args:
        gap: of each block, how much its first line differs from the last above it, by channel.
    """
    size = _size(gap, wide)
    at = int(size.argmax())
    if size[at] < _clear(size, _CLEARER):
        return False
    mean = gap[at : at + wide].mean(0, dtype=float)
    channel = int(np.abs(mean).argmax())
    along = np.abs(gap[at : at + wide, channel] - mean[channel]) < _EVEN * size[at]
    return bool(along.mean() > _MOST_OF_IT) and _stands_alone(
        gap[:, channel] * np.sign(mean[channel]), at, wide, float(size[at])
    )


def _moves(upper: NDArray[np.floating], lower: NDArray[np.floating], wide: int) -> bool:
    """Whether all that follows lies some blocks beside where it belongs.

    Args:
        upper, lower: greys of the last line of each block and of the first below it, four each.
    """
    quarter = np.full(_SAMPLES, 1 / _SAMPLES, np.float32)
    jumps, mean = _jumps(upper, lower, wide)
    usual = float(np.median(mean))
    far = mean > _clear(mean, _CLEARER / 2)
    if not far.any():
        return False
    over = jumps - usual
    for by in _BLOCKS:
        moved = _running(np.abs(np.roll(lower, -by, axis=0) - upper) @ quarter, wide)
        edge = abs(by)
        may = far.copy()
        may[:edge] = may[len(may) - edge :] = False
        for at in np.flatnonzero(may & (moved < _LEFT * max(usual, 1.0))):
            if _stands_alone(over, int(at), wide, float(over[at : at + wide].mean())):
                return True
    return False


def _running(values: NDArray[np.floating], many: int) -> NDArray[np.floating]:
    """Means over so many values, from each on."""
    sums = np.zeros(len(values) + 1)
    sums[1:] = values
    np.cumsum(sums, out=sums)
    mean: NDArray[np.floating] = (sums[many:] - sums[:-many]) / many
    return mean


def _stands_alone(over: NDArray[np.floating], at: int, wide: int, jump: float) -> bool:
    """Whether a jump begins in the middle of a row, and is not found beside where it should be."""
    column = at % wide
    if not _EDGE * wide <= column <= (1 - _EDGE) * wide:
        return False
    before, after = over[at - column : at], over[at + wide : at + 2 * wide - column]
    return all(abs(float(part.mean())) < _BESIDE * jump for part in (before, after) if part.size)
