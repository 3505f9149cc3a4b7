"""Which pixels of a template belong to a panel: those whose middle lies inside its outline.

A middle that lies exactly on an edge belongs to the panel on its right or below it, so two
panels that share an edge leave no seam and never overlap.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from aptandum.core.brief.model import Template
from aptandum.core.later import np

if TYPE_CHECKING:
    from numpy.typing import NDArray

Outline = Sequence[tuple[float, float]]


def inside(outline: Outline, size: tuple[int, int], zoom: float = 1.0) -> NDArray[np.bool_]:
    """The pixels of a picture (width, height) whose middles lie inside a polygon, by the even-odd
    rule; shape (height, width). ``zoom`` scales the outline."""
    wide, high = size
    points = np.asarray(outline, np.float64) * zoom
    ends = np.roll(points, -1, axis=0)
    middles = np.arange(high) + 0.5
    # How many edges lie to the left of each pixel's middle, by where they cross its row.
    crossings = np.zeros((high, wide + 1), np.int64)
    for (x0, y0), (x1, y1) in zip(points, ends, strict=True):
        if y0 == y1:
            continue
        if y0 > y1:  # whichever panel an edge is walked for, it is crossed at the same place
            x0, y0, x1, y1 = x1, y1, x0, y0
        low, top = y0, y1
        rows = np.flatnonzero((middles >= low) & (middles < top))
        if not rows.size:
            continue
        x = x0 + (middles[rows] - y0) * (x1 - x0) / (y1 - y0)
        columns = np.clip(np.ceil(x - 0.5), 0, wide).astype(np.int64)
        np.add.at(crossings, (rows, columns), 1)
    return (np.cumsum(crossings[:, :wide], axis=1) % 2).astype(bool)


def gaps(template: Template) -> NDArray[np.bool_]:
    """The pixels of a template that lie in no panel and must stay empty."""
    filled = np.zeros((template.size[1], template.size[0]), bool)
    for panel in template.panels:
        filled |= inside(panel.outline, template.size)
    return ~filled


def bounds(outline: Outline, size: tuple[int, int]) -> tuple[int, int, int, int]:
    """The whole pixels round a polygon, inside a picture: left, top, width, height."""
    points = np.asarray(outline, np.float64)
    left, top = np.floor(points.min(0)).astype(int)
    right, bottom = np.ceil(points.max(0)).astype(int)
    x0, y0 = max(0, int(left)), max(0, int(top))
    return x0, y0, max(1, min(size[0], int(right)) - x0), max(1, min(size[1], int(bottom)) - y0)
