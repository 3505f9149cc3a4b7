"""Quarter turns and mirrorings, as EXIF counts them (TIFF 6.0, 1 to 8)."""

from __future__ import annotations

from functools import cache
from math import cos, radians, sin
from typing import Any, Final

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
    1: (1, 0, 0, 1),
    2: (-1, 0, 0, 1),
    3: (-1, 0, 0, -1),
    4: (1, 0, 0, -1),
    5: (0, 1, 1, 0),
    6: (0, -1, 1, 0),
    7: (0, -1, -1, 0),
    8: (0, 1, -1, 0),
}
"""x' = a x + b y, y' = c x + d y about the picture's middle, y downwards."""


def in_view(array: Any, orientation: int) -> Any:
    """An array of shape (h, w, ...) as EXIF's orientation shows it, without a copy."""
    a, b, c, d = _MATRICES[orientation]
    if not a:
        array = array.swapaxes(0, 1)
    return array[:: c + d, :: a + b]


def swung(
    point: tuple[float, float], angle: float, size: tuple[float, float]
) -> tuple[float, float]:
    """Where a point of a picture lies once the picture is straightened by an angle in degrees,
    clockwise, about its middle. The picture's frame of coordinates stays where it is."""
    if not angle:
        return point
    c, s = cos(radians(angle)), sin(radians(angle))
    u, v = point[0] - size[0] / 2, point[1] - size[1] / 2
    return size[0] / 2 + u * c - v * s, size[1] / 2 + u * s + v * c


def swung_box(box: Box, angle: float, size: tuple[float, float]) -> Box:
    """The upright box round a box that is straightened by an angle."""
    if not angle:
        return box
    left, top, width, height = box
    corners = [
        swung((x, y), angle, size) for x in (left, left + width) for y in (top, top + height)
    ]
    xs, ys = [x for x, _y in corners], [y for _x, y in corners]
    return min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys)


def held_in_swung(box: Box, angle: float, size: tuple[float, float]) -> Box:
    """A box of the same shape, no larger, that lies wholly on a straightened picture: made
    smaller about its middle where it is too large, and then slid as little as it takes."""
    c, s = abs(cos(radians(angle))), abs(sin(radians(angle)))
    left, top, width, height = box
    # Half the reach of the box in the picture's own directions.
    across, up = (width * c + height * s) / 2, (width * s + height * c) / 2
    factor = min(1.0, size[0] / 2 / across, size[1] / 2 / up)
    across, up = across * factor, up * factor
    x, y = swung((left + width / 2, top + height / 2), -angle, size)
    x = min(max(x, across), size[0] - across)
    y = min(max(y, up), size[1] - up)
    x, y = swung((x, y), angle, size)
    width, height = width * factor, height * factor
    return x - width / 2, y - height / 2, width, height


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
