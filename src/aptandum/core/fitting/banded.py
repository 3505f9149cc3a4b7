"""Reduction in linear light by banded matrices, straight from a full decode: exact on every pattern.

Rows come in strips, each turned into light by a table, and are added into the rows of the result that they weigh in;
then columns likewise. Beside Lanczos (a = 3) the plain means of the same windows are made, to which the result is held:
Lanczos swings past an edge by a tenth of its height, and in light a tenth of a bright sky is more than all of a dark
roof. The weights are those of Pillow's resize.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from aptandum.core import threads
from aptandum.core.errors import Cancelled
from aptandum.core.frozen import frozen
from aptandum.core.later import cv2, np

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from aptandum.core.fitting.light import Curve
    from aptandum.core.photo.engine import Pixels

Box = tuple[float, float, float, float]

_LOBES = 3
_LEAST = 0.01
"""Pixels: the narrowest window by which it is told what lies round a pixel."""
_ROWS = 64
"""Rows of the photo that are turned into light at once; with the columns they stay in a core's own memory. Of fewer the calls
themselves are felt, and two threads wait for one another."""
_COLUMNS = 480, 192
"""How many of the photo's columns, where they are made much smaller and where less, for then more rows of the result lie in
a core's memory beside them."""
_MUCH = 4
_OUT = 8
"""Columns of the result that are made at once."""


@frozen
class Weights:
    """How the pixels of one side weigh in a result.

    Attributes:
        first: of the source's pixels that weigh in each of the result's, shape (n,).
        table: their weights, each row with the sum 1, shape (n, m); 0 beyond the last.
    """

    first: NDArray[np.int_]
    table: NDArray[np.float32]

    def part(self, low: int, high: int, start: int, end: int) -> Any:
        """The weights of source pixels ``start`` to ``end`` in results ``low`` to ``high``, shape (high - low, end -
        start)."""
        many = self.table.shape[1]
        made = np.zeros((high - low, end - start + 2 * many), np.float32)
        at = np.clip(self.first[low:high] - start + many, 0, end - start + many)
        made[np.arange(high - low)[:, None], at[:, None] + np.arange(many)] = self.table[low:high]
        return made[:, many : many + end - start]

    def begins(self, low: int) -> int:
        """The first source pixel that weighs in results from ``low`` on."""
        return int(self.first[low])

    def ends(self, high: int) -> int:
        """Past the last source pixel that weighs in results before ``high``; it may lie past the source's own end."""
        return int(self.first[high - 1] + self.table.shape[1])

    def touched(self, start: int, end: int) -> tuple[int, int]:
        """The results in which source pixels ``start`` to ``end`` weigh: from and to."""
        last = self.first + self.table.shape[1]
        low = int(np.searchsorted(last, start, side="right"))
        return low, int(np.searchsorted(self.first, end, side="left"))


def lanczos(start: float, length: float, goal: int, whole: int) -> Weights:
    """The weights of Lanczos (a = 3), as Pillow has them.

    Args:
        start, length: of the part that is brought to ``goal`` pixels, of ``whole``.
    """
    step = length / goal
    wide = max(step, 1.0)
    reach = _LOBES * wide
    middle = start + (np.arange(goal) + 0.5) * step
    first = np.maximum(0, (middle - reach + 0.5).astype(np.int64))
    last = np.minimum(whole, (middle + reach + 0.5).astype(np.int64))
    many = int((last - first).max())
    x = (first[:, None] + np.arange(many) + 0.5 - middle[:, None]) / wide
    table = np.where(np.abs(x) < _LOBES, np.sinc(x) * np.sinc(x / _LOBES), 0.0)
    table[first[:, None] + np.arange(many) >= last[:, None]] = 0.0
    table /= table.sum(1, keepdims=True)
    return Weights(first, table.astype(np.float32))


def means(start: float, length: float, goal: int, whole: int) -> Weights:
    """The weights of plain means: each pixel by how much of it lies in the middle of the result's own window.

    The window is a pixel narrower than the result's step, so that of a picture that is hardly made smaller what lies round
    a pixel is its neighbours themselves: means of them would hold the finest lines to a grey.
    """
    step = length / goal
    broad = min(step, max(_LEAST, step - 1))
    low = np.maximum(0.0, start + (np.arange(goal) + 0.5) * step - broad / 2)
    high = np.minimum(float(whole), low + broad)
    first = np.floor(low).astype(np.int64)
    many = math.ceil(broad) + 1
    at = first[:, None] + np.arange(many)
    table = np.clip(np.minimum(high[:, None], at + 1) - np.maximum(low[:, None], at), 0, 1)
    table /= np.maximum(table.sum(1, keepdims=True), 1e-12)
    return Weights(first, table.astype(np.float32))


def can(pixels: Pixels, size: tuple[int, int], box: Box) -> bool:
    """Whether pixels are reduced this way: 8 or 16 bit, and smaller both ways."""
    wide, high = (box[2] - box[0]) / size[0], (box[3] - box[1]) / size[1]
    return pixels.dtype in (np.uint8, np.uint16) and min(wide, high) >= 1.0


def reduced_in_light(
    pixels: Pixels,
    size: tuple[int, int],
    box: Box,
    curve: Curve,
    cancelled: Callable[[], bool] | None = None,
    numbers: bool = False,
) -> Any:
    """Pixels reduced from a box with sub-pixel edges to a whole size, in linear light of 0..65,535, held to the means of
    what lies round each; shape (height, width, bands).

    The work is parted by columns of the result, so that each part is finished while it is still in a core's memory, and
    nothing of it is held as fractions.

    Args:
        pixels: 8 or 16 bit, shape (h, w, bands), as they are stored; of two bands and of four the last is alpha, by which
            the light of the others comes multiplied.
        curve: what their numbers stand for; :data:`~aptandum.core.fitting.light.LIGHT` for those that are light already.
        size: width and height of the result.
        box: left, top, right, bottom in the pixels' own coordinates.
        numbers: encoded anew by the curve, in 16 bit, which is fine enough for pixels of 8 without alpha; else float32
            light.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    high, wide, bands = pixels.shape
    left, top = max(0.0, box[0]), max(0.0, box[1])
    right, bottom = min(float(wide), box[2]), min(float(high), box[3])
    down = [kind(top, bottom - top, size[1], high) for kind in (lanczos, means)]
    sharp, plain = (kind(left, right - left, size[0], wide) for kind in (lanczos, means))
    fine = pixels.dtype == np.uint16
    table = curve.table16 if fine else curve.table8.astype(np.float32)
    back = curve.back
    strips = _strips(down, high)
    columns = _COLUMNS[(bottom - top) / size[1] < _MUCH]
    at_once = max(8, int(columns * size[0] / (right - left)))
    starts = range(0, size[0], at_once)
    made: Any = np.empty((size[1], size[0], bands), np.uint16 if numbers else np.float32)

    def part(start: int) -> None:
        """Make some columns of the result."""
        if cancelled is not None and cancelled():
            raise Cancelled
        end = min(size[0], start + at_once)
        # The means reach a column further on either side: what is made is held to its neighbours.
        low, past = max(0, start - 1), min(size[0], end + 1)
        c0 = min(sharp.begins(start), plain.begins(low))
        c1 = min(wide, max(sharp.ends(end), plain.ends(past)))
        sums = _down(pixels[:, c0:c1], table, strips, size[1])
        about = _across(sums.pop(), plain, low, past, c0, c1, bands)
        light = _across(sums.pop(), sharp, start, end, c0, c1, bands)
        inner = slice(start - low, end - low)
        planes = [
            _held(light[:, i], about[:, i], inner, back if numbers else None) for i in range(bands)
        ]
        made[:, start:end] = cv2.transpose(cv2.merge(planes)).reshape(size[1], -1, bands)

    threads.each(part, starts)
    return made


_SQUARE = ((1, 1, 1),) * 3


def _held(light: Any, about: Any, inner: slice, back: Any) -> Any:
    """A plane of light held to the means about each of its pixels; encoded by a table where there is one."""
    if back is not None:  # whole numbers are held as well as fractions, in half of the time
        light, about = (
            cv2.addWeighted(one, 1.0, one, 0.0, 0.0, dtype=cv2.CV_16U) for one in (light, about)
        )
    square = np.array(_SQUARE, np.uint8)
    least, most = (act(about, square)[inner] for act in (cv2.erode, cv2.dilate))
    held = np.minimum(np.maximum(light, least), most)
    return held if back is None else cv2.LUT(held, back).reshape(held.shape)


def _down(pixels: Pixels, table: Any, strips: list[Strip], goal: int) -> list[Any]:
    """Columns of a photo turned into light and reduced in height, by Lanczos and as means; shape (goal, columns * bands)
    each."""
    wide, bands = pixels.shape[1:]
    sums = [np.zeros((goal, wide * bands), np.float32) for _ in range(2)]
    lit = np.empty((_ROWS, wide, bands), np.float32)
    room = np.empty((max(len(strip[3]) for strip in strips), wide * bands), np.float32)
    for start, end, spans, weights in strips:
        some = lit[: end - start]
        cv2.LUT(pixels[start:end], table, dst=some)
        if bands in (2, 4):
            share = pixels[start:end, :, -1:] * np.float32(1 / np.iinfo(pixels.dtype).max)
            some[..., :-1] *= share
            np.multiply(share, np.float32(65535), out=some[..., -1:])
        made, at = room[: len(weights)], 0
        np.matmul(weights, some.reshape(end - start, -1), out=made)
        for held, (low, high) in zip(sums, spans, strict=True):
            held[low:high] += made[at : at + high - low]
            at += high - low
    return sums


Strip = tuple[int, int, list[tuple[int, int]], Any]
"""From and to which rows, in which of the results of either kind they weigh, and how: shape (results, rows)."""


def _strips(down: list[Weights], high: int) -> list[Strip]:
    """The strips of rows that weigh in anything."""
    first = min(int(one.first.min()) for one in down)
    last = min(high, max(int(one.first.max()) + one.table.shape[1] for one in down))
    found = []
    for start in range(first, last, _ROWS):
        end = min(last, start + _ROWS)
        spans = [one.touched(start, end) for one in down]
        parts = [one.part(a, b, start, end) for one, (a, b) in zip(down, spans, strict=True)]
        found.append((start, end, spans, np.concatenate(parts)))
    return found


def _across(
    rows: Any, weights: Weights, low: int, high: int, c0: int, c1: int, bands: int
) -> NDArray[np.float32]:
    """Columns ``low`` to ``high`` of the result from rows of the photo's columns ``c0`` to ``c1``, turned over the
    diagonal: shape (high - low, bands, height). Lying so, the bands of a column weigh alike without a matrix that is
    mostly nothing."""
    tall = rows.shape[0]
    columns = cv2.transpose(rows).reshape(c1 - c0, bands * tall)
    out = np.empty((high - low, bands * tall), np.float32)
    for first in range(low, high, _OUT):
        last = min(high, first + _OUT)
        start, end = weights.begins(first), min(c1, weights.ends(last))
        some = weights.part(first, last, start, end)
        np.matmul(some, columns[start - c0 : end - c0], out=out[first - low : last - low])
    return out.reshape(high - low, bands, tall)
