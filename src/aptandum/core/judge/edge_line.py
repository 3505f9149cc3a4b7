"""A line just inside a picture's edge, found in any file by what it does to the rings of pixels along the edge.

Where a line ends, one ring differs from the next all round the picture: in its mean, where the line is brighter or
darker than what it borders, or pixel by pixel, where the picture is both. Everything else that a picture does along
its edge, it does on one side, or gradually, or by chance. What coding does, it does every eight pixels, and weakly.
Colour is looked at as well, but not for the place: chroma subsampling smears it over two pixels.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from aptandum.core.frozen import frozen
from aptandum.core.later import np
from aptandum.core.photo.picture import Picture

if TYPE_CHECKING:
    from numpy.typing import NDArray

_WIDEST = 50
"""Rings that are looked at; where all of them are of one colour, as many as there are."""
_NEAR = 4
_FLAT, _ALIKE, _CLEAR_END = 1.5, 4.0, 20.0
"""How even such a wide line is, in steps of 255, how much alike its sides are, and how clear its end."""
_SURE = 4.5
"""How far a ring stands out from its neighbours, in their own scatter, where it is the end of a line. Of 400
pictures without a line none reached 3.4, of 400 lines of 1 to 12 pixels all but two exceed 5.8."""
_NONE = 3.6
"""Below this there is none."""
_APART = 1.15
"""How much farther it stands out than any other ring."""
_COLOUR = 7.0
"""How far colour stands out where there is a line that brightness does not show."""
_LEAST_MEAN, _LEAST_EACH = 0.3, 0.7
"""The least scatter of the rings' mean steps, and of their pixels' steps, of 255: rounding."""
_BESIDE = 5
_STRONG = 0.3
"""A ring whose step is so large a share of the farthest one's, two rings or more behind it, ends a line within the
line: all of it counts. Right beside it, it is the same step, smeared by coding."""


@frozen
class Line:
    """Attributes:
    width: in pixels, 0 for none; ``None`` where there may be one that cannot be told from the picture.
    about: where it may end, if that is so.
    """

    width: int | None
    about: int = 0


def find(picture: Picture) -> Line:
    """The line just inside a picture's edge, on all of its sides or all but one."""
    grounds = 2 if picture.alpha else 1
    every = [_steps(strip) for strip in _strips(picture, _WIDEST + _BESIDE)]
    if not every or not len(every[0][0]):
        return Line(0)
    if _is_flat(picture, grounds):
        whole = [_steps(strip) for strip in _strips(picture, max(picture.size))]
        far = _third([_outstanding(mean[:, :grounds], each[:, :grounds]) for mean, each in whole])
        if far.max() >= _CLEAR_END and far.argmax() + 1 >= _WIDEST - _NEAR:
            return Line(int(far.argmax()) + 1)
    bright = _third([_outstanding(mean[:, :grounds], each[:, :grounds]) for mean, each in every])
    coloured = _third([_outstanding(mean[:, grounds:], each[:, grounds:]) for mean, each in every])
    at = int(bright.argmax())
    rest = bright.copy()
    rest[at] = 0
    if bright[at] >= _SURE and bright[at] >= _APART * rest.max():
        end = _innermost(every, bright, at)
        return Line(None, at + 1) if end is None else Line(end + 1)
    if bright[at] >= _NONE:
        return Line(None, at + 1)
    if len(coloured) and coloured.max() >= _COLOUR:
        return Line(None, int(coloured.argmax()) + 1)
    return Line(0)


def _planes(held: NDArray[Any], picture: Picture) -> NDArray[np.float32]:
    """Brightness and two colour differences of some of a picture's pixels as they are coded, of 255 (ITU-T T.871); what is clear lies
    on black, and once more on white."""
    pixels = held.astype(np.float32) * (255 / picture.top)
    colour = pixels[..., :-1] if picture.alpha else pixels
    if colour.shape[2] == 1:
        colour = np.repeat(colour, 3, axis=2)
    if colour.shape[2] == 4:  # inks
        colour = 255 - np.minimum(255, colour[..., :3] + colour[..., 3:])
    grounds = [colour]
    if picture.alpha:
        seen = pixels[..., -1:] / 255
        grounds = [colour * seen, colour * seen + 255 * (1 - seen)]
    luma = [ground @ np.array([0.299, 0.587, 0.114], np.float32) for ground in grounds]
    first = grounds[0]
    blue, red = (first[..., 2] - luma[0]) * 0.564, (first[..., 0] - luma[0]) * 0.713
    return np.stack([*luma, blue, red], axis=-1)


def _is_flat(picture: Picture, grounds: int) -> bool:
    """Whether all rings that are looked at are of one and the same colour."""
    strips = _strips(picture, _WIDEST - _NEAR)
    if not strips or len(strips[0]) < _WIDEST - _NEAR:
        return False
    means = np.array([strip.mean(axis=(0, 1)) for strip in strips])
    even = max(float(strip[..., :grounds].std(axis=(0, 1)).max()) for strip in strips)
    return even < _FLAT and bool((np.ptp(means, axis=0) < _ALIKE).all())


def _strips(picture: Picture, most: int) -> list[NDArray[np.float32]]:
    """The rings of each side without their corners, from the edge inwards: (rings, pixels, planes)."""
    held = picture.pixels
    high, wide = held.shape[:2]
    deep = min(most + 1, (min(high, wide) + 1) // 2)
    if deep < 2:
        return []
    left, top = min(deep, wide // 6), min(deep, high // 6)
    rows, columns = held[:, left : wide - left], held[top : high - top].transpose(1, 0, 2)
    return [_planes(side[:deep], picture) for side in (rows, rows[::-1], columns, columns[::-1])]


def _steps(strip: NDArray[np.float32]) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """From each ring to the next: the step of the mean, and the mean of the pixels' steps; (rings - 1, planes)."""
    step = np.diff(strip, axis=0)
    return step.mean(axis=1), np.abs(step).mean(axis=1)


def _outstanding(mean: NDArray[np.float32], each: NDArray[np.float32]) -> NDArray[np.floating]:
    """How far each step stands out from those beside it, in the scatter of all; the farther of both kinds."""
    if not mean.shape[1]:
        return np.zeros(len(mean))
    of_mean, of_each = mean - _beside(mean), each - _beside(each)
    return np.asarray(
        np.maximum(
            (np.abs(of_mean) / _scatter(of_mean, _LEAST_MEAN)).max(axis=1),
            (np.maximum(of_each, 0) / _scatter(of_each, _LEAST_EACH)).max(axis=1),
        )
    )


def _beside(values: NDArray[np.float32]) -> NDArray[np.float32]:
    """The median of the steps round each, those next to it left out."""
    found = np.empty_like(values)
    for k in range(len(values)):
        near = [
            i
            for i in range(max(0, k - _BESIDE), min(len(values), k + _BESIDE + 1))
            if abs(i - k) > 1
        ]
        found[k] = np.median(values[near], axis=0) if near else 0
    return found


def _scatter(values: NDArray[np.float32], least: float) -> NDArray[np.float32]:
    off = np.abs(values - np.median(values, axis=0))
    return np.maximum(least, 1.48 * np.median(off, axis=0)).astype(np.float32)


def _third(sides: list[NDArray[np.floating]]) -> NDArray[np.floating]:
    """What three of the four sides reach. The last rings have too few behind them to be held against."""
    held = np.sort(np.array(sides), axis=0)[1]
    return np.asarray(held[: max(1, len(held) - _BESIDE)])


def _innermost(
    every: list[tuple[NDArray[np.float32], NDArray[np.float32]]],
    bright: NDArray[np.floating],
    at: int,
) -> int | None:
    """The inner end of a line that is made of several: the last ring that stands out as the first does. ``None``
    where that is a ring near by: it may be the same step, smeared."""
    far = np.median([each[: len(bright), 0] for _mean, each in every], axis=0)
    ends = np.flatnonzero((bright >= 2 * _SURE) & (far >= _STRONG * far[at]))
    last = int(ends.max()) if ends.size else at
    if last == at + 1:
        return None if far[last] >= 0.5 * far[at] else at
    return None if last == at + 2 else max(last, at)
