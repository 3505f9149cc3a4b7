"""Quarter turns and mirrorings, as EXIF counts them (TIFF 6.0, 1 to 8)."""

from __future__ import annotations

from functools import cache
from typing import Final

Box = tuple[float, float, float, float]
"""Left, top, width and height."""

RIGHT: Final = 6
LEFT: Final = 8
MIRROR: Final = 2
MIRRORED: Final = (2, 4, 5, 7)
SWAPS: Final = (5, 6, 7, 8)
"""Those that exchange width and height."""

# Where the corner (0, 0) and the two sides of a picture go: the first row of the picture as
# shown is the stored row or column named first, from which end.
_MATRICES: dict[int, tuple[int, int, int, int]] = {
    1: (1, 0, 0, 1), 2: (-1, 0, 0, 1), 3: (-1, 0, 0, -1), 4: (1, 0, 0, -1),
    5: (0, 1, 1, 0), 6: (0, -1, 1, 0), 7: (0, -1, -1, 0), 8: (0, 1, -1, 0),
}  # fmt: skip
"""x' = a x + b y, y' = c x + d y about the picture's middle, y downwards."""


@cache
def then(first: int, second: int) -> int:
    """The one code that does what two do one after the other."""
    a, b, c, d = _MATRICES[second]
    p, q, r, s = _MATRICES[first]
    product = (a * p + b * r, a * q + b * s, c * p + d * r, c * q + d * s)
    return next(code for code, matrix in _MATRICES.items() if matrix == product)


@cache
def back(code: int) -> int:
    """The code that undoes another."""
    return next(other for other in _MATRICES if then(code, other) == 1)


def moved(box: Box, code: int, size: tuple[float, float]) -> Box:
    """Where a box of a picture of this size lies once the picture is turned."""
    a, b, c, d = _MATRICES[code]
    wide, high = size
    new_w, new_h = (high, wide) if code in SWAPS else (wide, high)
    left, top, width, height = box
    corners = []
    for x, y in ((left, top), (left + width, top + height)):
        u, v = x - wide / 2, y - high / 2
        corners.append((a * u + b * v + new_w / 2, c * u + d * v + new_h / 2))
    (x0, y0), (x1, y1) = corners
    return min(x0, x1), min(y0, y1), abs(x1 - x0), abs(y1 - y0)
