"""A picture and its halves, quarters and so on: squares are taken from the one that suits their size."""

from __future__ import annotations

import math
from typing import Any

from aptandum.core.later import cv2, np

Levels = tuple[Any, ...]
"""A picture and its halves, quarters and so on, each exactly half of the one before but for a last odd row."""


def halved(picture: Any) -> Levels:
    """An 8-bit picture of shape (h, w, 3) and its halves, down to some 64 pixels."""
    found = [picture]
    while min(found[-1].shape[:2]) >= 2 * _SMALLEST:
        high, wide = (side // 2 for side in found[-1].shape[:2])
        even = found[-1][: 2 * high, : 2 * wide]
        found.append(cv2.resize(even, (wide, high), interpolation=cv2.INTER_AREA))
    return tuple(found)


_SMALLEST = 64
"""Pixels of the shorter side below which nothing is halved."""


def near_size(levels: Levels, size: int) -> Any:
    """The smallest level that is still three times as large as a detector looks at: making a large picture smaller by a share
    that is not whole costs more than the detector."""
    enough = [level for level in levels if max(level.shape[:2]) >= 3 * size]
    return enough[-1] if enough else levels[0]


def crop(levels: Levels, x: float, y: float, side: float, roll: float, n: int) -> tuple[Any, Any]:
    """A square of n pixels, turned upright, and the 2 x 3 matrix from it to the picture.

    Coordinates are of pixel centres. A square that is much larger is taken from the picture's halves.
    """
    c, s = math.cos(roll), math.sin(roll)
    k = side / n
    whole = np.array([[c * k, -s * k, 0], [s * k, c * k, 0]], np.float64)
    whole[:, 2] = np.array([x, y]) - 0.5 - whole[:, :2] @ np.array([n / 2 - 0.5, n / 2 - 0.5])
    level = min(len(levels) - 1, max(0, math.floor(math.log2(max(k, 1e-6)) + 0.5)))
    matrix = whole.copy()
    matrix[:, 2] = (matrix[:, 2] + 0.5) / 2**level - 0.5
    matrix[:, :2] /= 2**level
    out = cv2.warpAffine(
        levels[level],
        matrix,
        (n, n),
        flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_REPLICATE,
    )
    return out.astype(np.float32) / 255, whole


def back(points: Any, matrix: Any) -> Any:
    """Points of a crop, by pixel edges, as points of the picture."""
    return np.c_[points - 0.5, np.ones(len(points))] @ matrix.T + 0.5
