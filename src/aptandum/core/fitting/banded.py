"""Reduction in linear light by banded matrices, straight from a full decode: exact on every pattern.

Rows come in strips, each turned into light by a table, and are added into the rows of the result that they weigh in;
then columns likewise. Beside Lanczos (a = 3) the plain means of the same windows are made, to which the result is held:
Lanczos swings past an edge by a tenth of its height, and in light a tenth of a bright sky is more than all of a dark
roof. The weights are those of Pillow's resize.
"""

from __future__ import annotations

import itertools
import math
import threading
from collections.abc import Callable
from dataclasses import field
from typing import TYPE_CHECKING, Any

from aptandum.core import threads
from aptandum.core.errors import Cancelled
from aptandum.core.frozen import frozen
from aptandum.core.later import cv2, np
from aptandum.core.photo.turning import SWAPS, in_view

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from aptandum.core.fitting.light import Curve
    from aptandum.core.photo.engine import Pixels

Box = tuple[float, float, float, float]

_LOBES = 3
_LEAST = 0.01
"""Pixels: the narrowest window by which it is told what lies round a pixel."""
_ROWS, _COLUMNS = 32, (200, 1000)
"""Rows, and least and most columns, of the photo that are turned into light at once: so many stay in a core's own memory. Of
fewer the calls themselves are felt, and two threads wait for one another."""
_SUMS = 120_000
"""Of the photo's columns times the rows of a part of the result, which are held at once likewise."""
_WINDOWS = 6
"""Windows of Lanczos that the columns hold at least, since what lies in two is turned into light twice."""
_PARTS = (0.08, 0.16, 0.2, 0.2, 0.2, 0.16)
"""Shares of the result's rows that are made one after the other, while the photo's later rows are still decoded. The first
is small, for nothing is done before it is there; of more of them more rows would be turned into light twice."""
_PARTED = 240
"""Rows of a result from which it is made in such parts."""
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
        at = np.minimum(np.maximum(self.first[low:high] - start + many, 0), end - start + many)
        made[np.arange(high - low)[:, None], at[:, None] + np.arange(many)] = self.table[low:high]
        return made[:, many : many + end - start]

    def begins(self, low: int) -> int:
        """The first source pixel that weighs in results from ``low`` on."""
        return int(self.first[low])

    def ends(self, high: int) -> int:
        """Past the last source pixel that weighs in results before ``high``; it may lie past the source's own end."""
        return int(self.first[high - 1] + self.table.shape[1])

    def rows(self, low: int, high: int) -> Weights:
        """Those of results ``low`` to ``high`` alone."""
        return Weights(self.first[low:high], self.table[low:high])

    def touched(
        self, starts: NDArray[np.int_], ends: NDArray[np.int_]
    ) -> tuple[list[int], list[int]]:
        """The results in which each run of source pixels, from a start to an end, weighs: from and to."""
        last = self.first + self.table.shape[1]
        low = np.searchsorted(last, starts, side="right").tolist()
        return low, np.searchsorted(self.first, ends, side="left").tolist()

    def bands(self, low: int, high: int, start: int, end: int) -> list[Band]:
        """How source pixels weigh in results ``low`` to ``high``, :data:`_OUT` of them at a time, all by one look into the
        table; columns are counted from ``start``, and there are none from ``end`` on."""
        many = self.table.shape[1]
        firsts = self.first[low:high]
        heads = firsts[::_OUT]
        into = np.arange(high - low)
        off = firsts - np.repeat(heads, _OUT)[: high - low]
        made = np.zeros((len(heads), _OUT, int(off.max()) + many), np.float32)
        made[(into // _OUT)[:, None], (into % _OUT)[:, None], off[:, None] + np.arange(many)] = self.table[low:high]  # fmt: skip
        found = []
        for i, head in enumerate(heads.tolist()):
            to = min(high, low + (i + 1) * _OUT)
            past = min(end, self.ends(to))
            found.append(
                (head - start, past - start, made[i, : to - low - i * _OUT, : past - head])
            )
        return found


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
    rows: Callable[[int], None] | None = None,
    orientation: int = 1,
) -> Any:
    """Pixels reduced from a box with sub-pixel edges to a whole size, in linear light of 0..65,535, held to the means of
    what lies round each; shape (height, width, bands).

    The work is parted by columns of the result, so that each part is finished while it is still in a core's memory, and
    nothing of it is held as fractions; and by rows, so that it can be begun while pixels are still on their way.

    Args:
        pixels: 8 or 16 bit, shape (h, w, bands), as they are stored; of two bands and of four the last is alpha, by which
            the light of the others comes multiplied.
        curve: what their numbers stand for; :data:`~aptandum.core.fitting.light.LIGHT` for those that are light already.
        size: width and height of the result.
        box: left, top, right, bottom in the pixels' own coordinates.
        numbers: encoded anew by the curve, in 16 bit, which is fine enough for pixels of 8 without alpha; else float32
            light.
        rows: waits until the pixels' rows before one are there.
        orientation: EXIF's, by which the result comes turned; ``size`` and ``box`` are as stored.

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
    every = _in_parts(down, size[1], high)
    at_once = _at_once(max(one.end - one.start for one in every), (right - left) / size[0])
    shown = size if orientation in SWAPS else size[::-1]
    made: Any = np.empty((*shown, bands), np.uint16 if numbers else np.float32)
    back = curve.back if numbers else None
    columns = [_columns(sharp, plain, start, at_once, wide) for start in range(0, size[0], at_once)]
    some = _Reduction(pixels, table, back, made, orientation)

    def part(task: tuple[_Rows, _Columns]) -> None:
        """Make some columns of some rows of the result."""
        if rows is not None:
            rows(task[0].strips[-1].end)
        if cancelled is not None and cancelled():
            raise Cancelled
        some.part(*task)

    threads.each(part, itertools.product(every, columns))
    return made


def _at_once(rows: int, step: float) -> int:
    """Columns of a result that are made at once, of so many rows, each of ``step`` of the photo's columns."""
    least, most = _COLUMNS
    columns = min(max(_SUMS / rows, least), most)
    return max(8, int(max(columns / step, _WINDOWS * 2 * _LOBES)))


class _Room(threading.local):
    """Memory for what is held on the way, each thread's own: asked for once, since of a system asked for each part it takes
    a quarter of all time to get it."""

    def __init__(self) -> None:
        self._held: dict[object, Any] = {}

    def of(self, name: object, shape: tuple[int, ...]) -> Any:
        """Numbers of any kind, float32, in a shape; they hold until the name is asked for again."""
        many = math.prod(shape)
        if name not in self._held or self._held[name].size < many:
            self._held[name] = np.empty(many, np.float32)
        return self._held[name][:many].reshape(shape)


@frozen
class _Reduction:
    """What parts of a result are made by.

    Attributes:
        pixels, table: of the photo, and what their numbers are in light.
        back: what encodes light anew; ``None`` where it stays light.
        made: the result, turned as it is shown by ``orientation``.
    """

    pixels: Pixels
    table: Any
    back: Any
    made: Any
    orientation: int
    room: _Room = field(default_factory=_Room)

    def part(self, rows: _Rows, columns: _Columns) -> None:
        """Make some columns of some rows."""
        bands = self.pixels.shape[2]
        seen = self.pixels[:, columns.first : columns.last]
        sums = _down(seen, self.table, rows.strips, rows.many, self.room)
        about = _across(sums.pop(), columns.plain, bands, self.room)
        light = _across(sums.pop(), columns.sharp, bands, self.room)
        inner = columns.inner, rows.inner
        planes = [_held(light[:, i], about[:, i], inner, self.back) for i in range(bands)]
        # Its columns lie one after the other here: it is turned while it is still in a core's memory.
        held = _SHOWN[self.orientation](cv2.merge(planes))
        place = in_view(self.made, _BACK.get(self.orientation, self.orientation))
        place = place[rows.start : rows.end, columns.start : columns.end]
        place = in_view(place, self.orientation)
        place[...] = held.reshape(place.shape)


_BACK = {6: 8, 8: 6}
"""What turns back; all others turn back themselves."""
_SHOWN: dict[int, Callable[[Any], Any]] = {
    1: lambda a: cv2.transpose(a),
    2: lambda a: cv2.rotate(a, cv2.ROTATE_90_CLOCKWISE),
    3: lambda a: cv2.flip(cv2.transpose(a), -1),
    4: lambda a: cv2.rotate(a, cv2.ROTATE_90_COUNTERCLOCKWISE),
    5: lambda a: a,
    6: lambda a: cv2.flip(a, 1),
    7: lambda a: cv2.flip(a, -1),
    8: lambda a: cv2.flip(a, 0),
}
"""What shows, by EXIF's orientation, a part whose columns lie as rows."""


@frozen
class _Rows:
    """Some rows of a result.

    Attributes:
        start, end: which.
        inner: which they are of those for which means are made, a row further on either side.
        many: how many results either kind of weights makes for them.
        strips: the photo's rows that weigh in them.
    """

    start: int
    end: int
    inner: slice
    many: tuple[int, int]
    strips: list[Strip]


def _in_parts(down: list[Weights], goal: int, high: int) -> list[_Rows]:
    """A result's rows, in the order in which they can be made from a photo of ``high`` rows that comes from above."""
    edges = [0]
    for share in _PARTS[:-1] if goal >= _PARTED else ():
        edges.append(edges[-1] + round(share * goal))
    made = []
    for start, end in itertools.pairwise([*edges, goal]):
        low, past = max(0, start - 1), min(goal, end + 1)
        some = [down[0].rows(start, end), down[1].rows(low, past)]
        many = end - start, past - low
        inner = slice(start - low, end - low)
        made.append(_Rows(start, end, inner, many, _strips(some, high)))
    return made


Band = tuple[int, int, Any]
"""From and to which columns of those that are there weigh in the next few of the result, and how: shape (results, columns)."""


@frozen
class _Columns:
    """Some columns of a result.

    Attributes:
        start, end: which.
        inner: which they are of those for which means are made, a column further on either side.
        first, last: the photo's columns that weigh in them.
        sharp, plain: how they weigh, by Lanczos and as means.
    """

    start: int
    end: int
    inner: slice
    first: int
    last: int
    sharp: list[Band]
    plain: list[Band]


def _columns(sharp: Weights, plain: Weights, start: int, many: int, wide: int) -> _Columns:
    """Up to ``many`` columns of a result from ``start`` on, from a photo ``wide`` columns wide. What weighs in them is the
    same in all rows: it is worked out once."""
    goal = len(sharp.first)
    end = min(goal, start + many)
    # The means reach a column further on either side: what is made is held to its neighbours.
    low, past = max(0, start - 1), min(goal, end + 1)
    first = min(sharp.begins(start), plain.begins(low))
    last = min(wide, max(sharp.ends(end), plain.ends(past)))

    inner = slice(start - low, end - low)
    both = sharp.bands(start, end, first, last), plain.bands(low, past, first, last)
    return _Columns(start, end, inner, first, last, *both)


_SQUARE = ((1, 1, 1),) * 3


def _held(light: Any, about: Any, inner: tuple[slice, slice], back: Any) -> Any:
    """A plane of light held to the means about each of its pixels; encoded by a table where there is one."""
    if back is not None:  # whole numbers are held as well as fractions, in half of the time
        light, about = (
            cv2.addWeighted(one, 1.0, one, 0.0, 0.0, dtype=cv2.CV_16U) for one in (light, about)
        )
    square = np.array(_SQUARE, np.uint8)
    least, most = (act(about, square)[inner] for act in (cv2.erode, cv2.dilate))
    held = np.minimum(np.maximum(light, least), most)
    return held if back is None else cv2.LUT(held, back).reshape(held.shape)


def _down(
    pixels: Pixels, table: Any, strips: list[Strip], many: tuple[int, int], room: _Room
) -> list[Any]:
    """Columns of a photo turned into light and reduced in height, by Lanczos and as means; shape (many, columns * bands)
    of each, which hold until the next."""
    wide, bands = pixels.shape[1:]
    sums = [room.of(i, (one, wide * bands)) for i, one in enumerate(many)]
    lit = room.of("lit", (_ROWS, wide, bands))
    added = room.of("more", (max(len(strip.more) for strip in strips), wide * bands))
    for strip in strips:
        rows = pixels[strip.start : strip.end]
        some = lit[: len(rows)]
        cv2.LUT(rows, table, dst=some)
        if bands in (2, 4):
            share = rows[..., -1:] * np.float32(1 / np.iinfo(pixels.dtype).max)
            some[..., :-1] *= share
            np.multiply(share, np.float32(65535), out=some[..., -1:])
        flat = some.reshape(len(rows), -1)
        more, at = added[: len(strip.more)], 0
        np.matmul(strip.more, flat, out=more)
        for held, (low, begun, high), first in zip(sums, strip.spans, strip.first, strict=True):
            held[low:begun] += more[at : at + begun - low]
            at += begun - low
            np.matmul(first, flat, out=held[begun:high])
    return sums


@frozen
class Strip:
    """Some rows of a photo, and what they weigh in.

    Attributes:
        start, end: which.
        spans: of the results of either kind, from and to which they weigh in any, and from which on they are the first that
            do: those are written, where others are added to.
        more: how they weigh in what others have begun, of one kind after the other; shape (results, rows).
        first: and in what they begin, of each kind.
    """

    start: int
    end: int
    spans: list[tuple[int, int, int]]
    more: Any
    first: list[Any]


def _strips(down: list[Weights], high: int) -> list[Strip]:
    """The strips of rows that weigh in anything."""
    begin = min(int(one.first.min()) for one in down)
    last = min(high, max(int(one.first.max()) + one.table.shape[1] for one in down))
    starts = np.arange(begin, last, _ROWS)
    ends = np.minimum(starts + _ROWS, last)
    each = [(one.part(0, len(one.first), begin, last), *one.touched(starts, ends)) for one in down]
    found = []
    reached = [0] * len(down)
    for n, (start, end) in enumerate(zip(starts.tolist(), ends.tolist(), strict=True)):
        spans, more, first = [], [], []
        for i, (whole, lows, pasts) in enumerate(each):
            low, past = lows[n], pasts[n]
            begun = min(max(low, reached[i]), past)
            reached[i] = max(past, reached[i])
            spans.append((low, begun, past))
            some = whole[:, start - begin : end - begin]
            more.append(some[low:begun])
            first.append(some[begun:past].copy())  # so that the whole is let go
        found.append(Strip(start, end, spans, np.concatenate(more), first))
    return found


def _across(rows: Any, bands_of: list[Band], bands: int, room: _Room) -> NDArray[np.float32]:
    """Columns of the result from rows of the photo's, turned over the diagonal: shape (columns, bands, height). Lying so,
    the bands of a column weigh alike without a matrix that is mostly nothing."""
    tall = rows.shape[0]
    columns = cv2.transpose(rows, dst=room.of("columns", rows.shape[::-1]))
    columns = columns.reshape(-1, bands * tall)
    out = np.empty((sum(len(weights) for _, _, weights in bands_of), bands * tall), np.float32)
    at = 0
    for start, end, weights in bands_of:
        np.matmul(weights, columns[start:end], out=out[at : at + len(weights)])
        at += len(weights)
    return out.reshape(-1, bands, tall)
