"""Whether a JPEG's picture jumps in the middle of a row of blocks and goes on so, as it does behind a wrong bit."""

from __future__ import annotations

from typing import TYPE_CHECKING

from aptandum.core.later import np

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
_BLOCKS = tuple(by for by in range(-6, 7) if by)


def breaks(pixels: NDArray[np.uint8], side: int) -> bool:
    """Whether a picture jumps somewhere in a row of blocks, and goes on so until the row below has come to the same
    place: as it does where a wrong bit has shifted all that follows, in brightness, in colour or by whole blocks.

    A sound picture with an edge of this shape would have to have it one row of blocks lower on its left than on its
    right, exactly on their borders, equally strong all along.
    """
    high, wide = pixels.shape[0] // side, pixels.shape[1] // side
    if high < 4 or wide < 16:
        return False
    whole = pixels[: high * side, : wide * side]
    whole = whole[..., None] if whole.ndim == 2 else whole
    # The last line of each row of blocks and the first of the next, one behind the other; four pixels of a block.
    step = side // _SAMPLES
    top = whole[side - 1 :: side, ::step][:-1].astype(np.float32)
    foot = whole[side::side, ::step].astype(np.float32)
    bands = whole.shape[2]
    top, foot = (part.reshape(-1, _SAMPLES * bands) for part in (top, foot))
    apart = foot - top
    # Means over few values are taken by a product: it costs a tenth of a sum along a short side.
    of_all = np.full(_SAMPLES * bands, 1 / (_SAMPLES * bands), np.float32)
    if float(np.median(np.abs(apart) @ of_all)) < _LIVELY:
        return False
    each = np.tile(np.eye(bands, dtype=np.float32) / _SAMPLES, (_SAMPLES, 1))
    grey = np.repeat(np.eye(_SAMPLES, dtype=np.float32) / bands, bands, axis=0)
    return _shifts(apart @ each, wide) or _moves(top @ grey, foot @ grey, wide)


def _shifts(gap: NDArray[np.floating], wide: int) -> bool:
    """Whether all that follows is brighter, darker or of another colour.

    Args:
        gap: of each block, how much its first line differs from the last above it, by channel.
    """
    mean = _running(gap, wide)
    size = np.maximum.reduce([np.abs(mean[:, n]) for n in range(mean.shape[1])])
    at = int(size.argmax())
    usual = float(np.percentile(size, 90))
    if size[at] < max(_FAINTEST, _CLEARER * usual):
        return False
    channel = int(np.abs(mean[at]).argmax())
    along = np.abs(gap[at : at + wide, channel] - mean[at, channel]) < _EVEN * size[at]
    return bool(along.mean() > _MOST_OF_IT) and _stands_alone(
        gap[:, channel] * np.sign(mean[at, channel]), at, wide, float(size[at])
    )


def _moves(upper: NDArray[np.floating], lower: NDArray[np.floating], wide: int) -> bool:
    """Whether all that follows lies some blocks beside where it belongs.

    Args:
        upper, lower: greys of the last line of each block and of the first below it, four each.
    """
    quarter = np.full(_SAMPLES, 1 / _SAMPLES, np.float32)
    jumps = np.abs(lower - upper) @ quarter
    mean = _running(jumps, wide)
    usual, elsewhere = float(np.median(mean)), float(np.percentile(mean, 90))
    far = mean > max(_FAINTEST, _CLEARER / 2 * elsewhere)
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
    sums = np.cumsum(
        np.concatenate([np.zeros_like(values[:1]), values], axis=0), axis=0, dtype=float
    )
    mean: NDArray[np.floating] = (sums[many:] - sums[:-many]) / many
    return mean


def _stands_alone(over: NDArray[np.floating], at: int, wide: int, jump: float) -> bool:
    """Whether a jump begins in the middle of a row, and is not found beside where it should be."""
    column = at % wide
    if not _EDGE * wide <= column <= (1 - _EDGE) * wide:
        return False
    before, after = over[at - column : at], over[at + wide : at + 2 * wide - column]
    return all(abs(float(part.mean())) < _BESIDE * jump for part in (before, after) if part.size)
