"""Where words stand in a picture: pieces of one tone with strokes of one width, side by side on a line.

No word is read: what is told is only where letters seem to be. Strokes of one width tell them from most other things
(B. Epshtein, E. Ofek, Y. Wexler, "Detecting Text in Natural Scenes with Stroke Width Transform", 2010, has the idea);
here the pieces come of a local threshold on both sides.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from aptandum.core.frozen import frozen
from aptandum.core.later import cv2, np

if TYPE_CHECKING:
    from numpy.typing import NDArray

LOOK = 1200
"""Longest side in pixels of the copy in which words are looked for."""

_LETTERS = 3
"""Pieces that stand side by side at least, before they are taken for a word."""
_SMALLEST, _LARGEST = 7, 0.45
"""Height of a letter: pixels at least, and share of the picture's height at most."""
_STEP = 14.0
"""Steps of lightness by which letters part from what is round them at least."""
_SPREAD = 0.42
"""How far the widths of a letter's strokes may spread about their mean."""

Box = tuple[float, float, float, float]


@frozen
class _Piece:
    left: int
    top: int
    wide: int
    high: int
    stroke: float
    tone: float
    fill: float

    @property
    def right(self) -> int:
        return self.left + self.wide

    @property
    def middle(self) -> float:
        return self.top + self.high / 2


def find_words(picture: Any) -> tuple[Box, ...]:
    """Boxes round what seem to be words: left, top, width, height in pixels, from the top down.

    Args:
        picture: RGB of 8 bit, shape (h, w, 3).
    """
    high, wide = picture.shape[:2]
    shrink = max(1.0, max(high, wide) / LOOK)
    small = picture
    if shrink > 1:
        size = max(1, round(wide / shrink)), max(1, round(high / shrink))
        small = cv2.resize(picture, size, interpolation=cv2.INTER_AREA)
    if min(small.shape[:2]) < 16:
        return ()
    light = cv2.cvtColor(np.ascontiguousarray(small), cv2.COLOR_RGB2LAB)[..., 0]
    light = light.astype(np.float32) * (100 / 255)
    found: list[Box] = []
    for side in (1, -1):
        for reach in _reaches(light.shape[0]):
            found += _lines(_pieces(light * side, reach))
    kept = _joined(found)
    k = wide / small.shape[1], high / small.shape[0]
    made = [(x * k[0], y * k[1], w * k[0], h * k[1]) for x, y, w, h in kept]
    return tuple(sorted(made, key=lambda box: (box[1], box[0])))


def _reaches(high: int) -> tuple[int, ...]:
    """Widths in pixels of the surroundings that a pixel is compared with: small letters and large ones."""
    return tuple(
        sorted({15, max(15, high // 12) | 1, max(15, high // 4) | 1, max(15, high // 2) | 1})
    )


def _pieces(light: NDArray[Any], reach: int) -> list[_Piece]:
    """What is lighter than its surroundings, in pieces that could be letters."""
    around = cv2.blur(light, (reach, reach), borderType=cv2.BORDER_REPLICATE)
    on = (light > around + _STEP / 2).astype(np.uint8)
    count, labels, stats, _middles = cv2.connectedComponentsWithStats(on, connectivity=8)
    deep = cv2.distanceTransform(on, cv2.DIST_L2, 3)
    ridge = (deep > 0.9) & (deep >= cv2.dilate(deep, np.ones((3, 3), np.uint8)) - 1e-3)
    most = _LARGEST * light.shape[0]
    made = []
    for i in range(1, count):
        left, top, wide, high, area = (int(v) for v in stats[i])
        if high < _SMALLEST or high > most or wide > 2.2 * high or area < 8:
            continue
        fill = area / (wide * high)
        if not 0.12 <= fill <= 0.95 and not (fill > 0.95 and wide < 0.45 * high):
            continue
        here = slice(top, top + high), slice(left, left + wide)
        mine = labels[here] == i
        middles = deep[here][mine & ridge[here]]
        if middles.size < 3:
            continue
        strokes = 2 * middles - 1
        mean = float(strokes.mean())
        if mean <= 0 or float(strokes.std()) > _SPREAD * max(mean, 2.0) or mean > 0.5 * high:
            continue
        tone, ground = _tones(light, labels, i, here)
        if ground is None or tone - ground < _STEP:
            continue
        made.append(_Piece(left, top, wide, high, mean, tone, fill))
    return made


def _tones(
    light: NDArray[Any], labels: NDArray[Any], i: int, here: tuple[slice, slice]
) -> tuple[float, float | None]:
    """The lightness of a piece, and of the pixels that lie round it; ``None`` where there are none."""
    rows = slice(max(0, here[0].start - 2), here[0].stop + 2)
    columns = slice(max(0, here[1].start - 2), here[1].stop + 2)
    mine = (labels[rows, columns] == i).astype(np.uint8)
    ring = (cv2.dilate(mine, np.ones((5, 5), np.uint8)) > 0) & (
        cv2.dilate(mine, np.ones((3, 3), np.uint8)) == 0
    )
    part = light[rows, columns]
    tone = float(np.median(part[mine > 0]))
    return tone, float(np.median(part[ring])) if ring.any() else None


def _alike(one: _Piece, other: _Piece) -> bool:
    """Whether two pieces may be neighbours in a word."""
    low, high = sorted((one.high, other.high))
    apart = max(one.left, other.left) - min(one.right, other.right)
    both = min(one.top + one.high, other.top + other.high) - max(one.top, other.top)
    thin, thick = sorted((one.stroke, other.stroke))
    return (
        high <= 2.1 * low
        and both >= 0.5 * low
        and -0.3 * low <= apart <= 1.1 * high
        and thick <= 1.9 * thin + 1
        and abs(one.tone - other.tone) <= 18
    )


def _lines(pieces: list[_Piece]) -> list[Box]:
    """Boxes round pieces that stand side by side like letters."""
    order = sorted(pieces, key=lambda piece: piece.left)
    group = list(range(len(order)))

    def root(i: int) -> int:
        while group[i] != i:
            group[i] = group[group[i]]
            i = group[i]
        return i

    for i, one in enumerate(order):
        for j in range(i + 1, len(order)):
            if order[j].left > one.right + 1.1 * max(one.high, order[j].high):
                if order[j].left > one.right + 2.4 * one.high:
                    break
                continue
            if _alike(one, order[j]):
                group[root(j)] = root(i)
    lines: dict[int, list[_Piece]] = {}
    for i, piece in enumerate(order):
        lines.setdefault(root(i), []).append(piece)
    return [_box(line) for line in lines.values() if _is_words(line)]


def _is_words(line: list[_Piece]) -> bool:
    """Whether pieces on a line seem to be letters: enough of them, on one line, and not all the same."""
    if len(line) < _LETTERS:
        return False
    highs = np.array([piece.high for piece in line], float)
    middles = np.array([piece.middle for piece in line])
    wides = np.array([piece.wide for piece in line], float)
    fills = np.array([piece.fill for piece in line])
    at = np.array([piece.left for piece in line], float)
    slope = np.polyfit(at, middles, 1) if np.ptp(at) > 0 else (0.0, float(middles.mean()))
    off = np.abs(middles - np.polyval(slope, at)).mean()
    if off > 0.28 * float(np.median(highs)) or abs(float(slope[0])) > 0.2:
        return False
    # Windows, railings and bricks are full, or all of one width; letters differ.
    if float(fills.mean()) > 0.86 or _like_one(wides) or _in_step(at, wides, highs):
        return False
    if len(line) == _LETTERS and (highs.max() > 1.6 * highs.min() or float(fills.mean()) < 0.25):
        return False
    return float(np.median(wides)) <= 1.5 * float(np.median(highs))


def _like_one(values: NDArray[Any]) -> bool:
    """Whether the middle half of some lengths are one length."""
    low, middle, high = np.percentile(values, (25, 50, 75))
    return bool(high - low <= 0.04 * middle)


def _in_step(at: NDArray[Any], wides: NDArray[Any], highs: NDArray[Any]) -> bool:
    """Whether pieces stand at one distance from one another, as windows and posts do and letters do not: some of
    them may be half hidden, where what is behind them has their tone, but most are of one width."""
    order = np.argsort(at)
    steps, middle = np.diff(at[order]), float(np.median(wides))
    even = float(np.ptp(steps)) <= 0.04 * float(np.median(steps))
    like = np.abs(wides - middle) <= 0.04 * middle
    return bool(even and like.mean() >= 0.6 and np.median(highs) >= 0.9 * highs.max())


def _box(line: list[_Piece]) -> Box:
    left, top = min(p.left for p in line), min(p.top for p in line)
    right, bottom = max(p.right for p in line), max(p.top + p.high for p in line)
    room = max(2.0, 0.15 * (bottom - top))
    return left - room, top - room, right - left + 2 * room, bottom - top + 2 * room


def _joined(boxes: list[Box]) -> list[Box]:
    """Boxes of the same words once: those that lie on one another are made one."""
    kept: list[Box] = []
    for box in sorted(boxes, key=lambda b: -b[2] * b[3]):
        for i, other in enumerate(kept):
            if _shared(box, other) > 0.5:
                x0, y0 = min(box[0], other[0]), min(box[1], other[1])
                x1 = max(box[0] + box[2], other[0] + other[2])
                y1 = max(box[1] + box[3], other[1] + other[3])
                if (x1 - x0) * (y1 - y0) < 1.6 * other[2] * other[3]:
                    kept[i] = x0, y0, x1 - x0, y1 - y0
                break
        else:
            kept.append(box)
    return kept


def _shared(one: Box, other: Box) -> float:
    """The share of the smaller box that lies in the other."""
    wide = min(one[0] + one[2], other[0] + other[2]) - max(one[0], other[0])
    high = min(one[1] + one[3], other[1] + other[3]) - max(one[1], other[1])
    if wide <= 0 or high <= 0:
        return 0.0
    return wide * high / min(one[2] * one[3], other[2] * other[3])
