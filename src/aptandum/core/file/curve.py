"""The budget curve: bytes against quality, with how like the picture each file still is.

Likeness is the structural similarity of lightness (SSIM, Wang et al. 2004: Gaussian window of 11
pixels, sigma 1.5, K1 0.01, K2 0.03), 1 where nothing differs.
"""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from aptandum.core.errors import Cancelled
from aptandum.core.file.make import Made, make
from aptandum.core.fitting.plan import LOSSY, FileStation
from aptandum.core.frozen import frozen
from aptandum.core.later import Image, cv2, np
from aptandum.core.photo import limits
from aptandum.core.photo.picture import Picture

if TYPE_CHECKING:
    from numpy.typing import NDArray

QUALITIES = (10, 20, 30, 40, 50, 60, 70, 80, 88, 93, 96, 98, 100)
COLOURS = (4, 8, 16, 32, 64, 96, 128, 192, 256)
_MOST = 1_000_000
"""Pixels up to which the whole picture is encoded for each point; beyond, bands of it."""

_MOST_SLOW = 350_000
"""The same for formats whose encoders are slow."""

_BAND = 16
"""Rows of a band: no block of any format's transform is cut by it."""


@frozen
class Point:
    """One file that could be written.

    Attributes:
        at: its quality, or the colours of its palette.
        size: its bytes.
        likeness: to the picture before it was encoded, at most 1; ``None`` where not measured.
    """

    at: int
    size: int
    likeness: float | None


@frozen
class Curve:
    """The points that were measured, in order.

    Attributes:
        of: what they are counted by: ``quality`` or ``colours``.
        estimated: bytes were reckoned from bands of the picture, to a few per cent.
    """

    of: str
    points: tuple[Point, ...]
    estimated: bool = False


def has_curve(file: FileStation, bits: int) -> bool:
    """Whether there is anything to choose from: formats that lose nothing have one size only."""
    if file.format in LOSSY:
        return not file.lossless
    return file.format == "gif" or (file.format == "png" and bits == 8)


def likeness(one: NDArray[Any], other: NDArray[Any]) -> float:
    """The mean structural similarity of two 8-bit pictures of the same size, shape (h, w, bands)
    with one, three or four bands; alpha is left out."""
    a, b = _light(one), _light(other)

    def soft(values: NDArray[Any]) -> NDArray[Any]:
        return cv2.GaussianBlur(values, (11, 11), 1.5)

    c1, c2 = (0.01 * 255) ** 2, (0.03 * 255) ** 2
    ma, mb = soft(a), soft(b)
    va, vb = soft(a * a) - ma * ma, soft(b * b) - mb * mb
    both = soft(a * b) - ma * mb
    upper = (2 * ma * mb + c1) * (2 * both + c2)
    return float((upper / ((ma * ma + mb * mb + c1) * (va + vb + c2))).mean())


def _light(pixels: NDArray[Any]) -> NDArray[Any]:
    if pixels.shape[2] < 3:
        return pixels[..., 0].astype(np.float32)
    return cv2.cvtColor(np.ascontiguousarray(pixels[..., :3]), cv2.COLOR_RGB2GRAY).astype(
        np.float32
    )


def _some(picture: Picture, format_: str) -> tuple[Picture, float]:
    """A picture of every so many bands, and how many times as many pixels the whole has."""
    wide, high = picture.size
    most = _MOST if format_ == "jpeg" else _MOST_SLOW
    if wide * high <= most or high < 4 * _BAND:
        return picture, 1.0
    step = int(np.ceil(wide * high / most))
    rows = [r for r in range(high) if (r // _BAND) % step == step // 2]
    part = Picture(picture.pixels[rows], picture.icc, picture.alpha, picture.bits)
    return part, high / len(rows)


def _read(data: bytes, like: Picture) -> NDArray[Any]:
    limits.guard_libraries()
    with Image.open(io.BytesIO(data)) as opened:
        mode = "L" if like.colour.shape[2] == 1 else "RGB"
        array = np.asarray(opened.convert(mode))
    return array[..., None] if array.ndim == 2 else array


def curve(
    picture: Picture,
    file: FileStation,
    made: Made | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> Curve:
    """Measure the curve of a picture in the way that its file is written.

    Args:
        made: the file as it was made; its own chroma and passes are taken, and its true bytes
            correct an estimate.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    by_quality = file.format in LOSSY
    part, factor = _some(picture, file.format)
    bare = replace(file, at_least=None, at_most=None, metadata={}, ppi=None)
    if made is not None and made.options is not None:
        bare = replace(
            bare, subsampling=made.options.subsampling, progressive=made.options.progressive
        )
    before = part.colour if part.top == 255 else (part.colour // 257).astype(np.uint8)
    chosen = _chosen(made)
    steps = sorted({*(QUALITIES if by_quality else COLOURS), *([chosen] if chosen else [])})
    found: list[tuple[int, int, float]] = []
    for at in steps:
        if cancelled is not None and cancelled():
            raise Cancelled
        wish = replace(bare, quality=at) if by_quality else replace(bare, colours=at)
        data = make(part, wish).data
        found.append((at, len(data), likeness(before, _read(data, part))))
    head = len(part.icc) + 700  # what does not grow with the pixels: profile and tables
    sizes = {
        at: round((size - head) * factor + head) if factor > 1 else size for at, size, _ in found
    }
    if made is not None and chosen in sizes:
        share = len(made.data) / max(1, sizes[chosen])
        sizes = {at: round(size * share) for at, size in sizes.items()}
    return Curve(
        "quality" if by_quality else "colours",
        tuple(Point(at, sizes[at], like) for at, _, like in found),
        factor > 1,
    )


def _chosen(made: Made | None) -> int | None:
    if made is None:
        return None
    return made.options.quality if made.options is not None else made.colours


WORST = 64
"""Pixels on a side of the squares among which the worst is looked for."""


def worst(before: NDArray[Any], after: NDArray[Any]) -> tuple[float, float]:
    """Where encoding has changed a picture the most: the middle of the square of 64 pixels with
    the largest mean squared difference, as shares of width and height."""
    off = (_light(before) - _light(after)) ** 2
    high, wide = off.shape
    rows, cols = max(1, high // WORST), max(1, wide // WORST)
    cells = cv2.resize(off, (cols, rows), interpolation=cv2.INTER_AREA)
    at = int(cells.argmax())
    return (at % cols + 0.5) / cols, (at // cols + 0.5) / rows
