"""The allowed sizes as areas in the plane of width and height, for drawing."""

from __future__ import annotations

from aptandum.core.sizes.cells import Cell

Point = tuple[float, float]
_ROWS = 64


def outline(cell: Cell, most: float) -> list[Point]:
    """The corners of a cell's area as (width, height) in pixels, nothing beyond ``most``.

    Whole numbers are not minded here: the area is that of the limits themselves, so that a
    single size gives one point twice. Empty where nothing lies within ``most``.
    """
    rows = cell.rows
    low, high = float(rows.lo), min(float(rows.hi), most)
    if low > high:
        return []
    heights = {low + (high - low) * i / _ROWS for i in range(_ROWS + 1)}
    for a, b, m in (*rows.lower, *rows.upper):  # the corners where two edges cross
        for c, d, n in (*rows.lower, *rows.upper):
            slope = c * m - a * n
            if slope:
                at = (b * n - d * m) / slope
                if low <= at <= high:
                    heights.add(at)
    left: list[Point] = []
    right: list[Point] = []
    for h in sorted(heights):
        lower = max((a * h + b) / m for a, b, m in rows.lower)
        upper = min(min((c * h + d) / n for c, d, n in rows.upper), most)
        if rows.area_lo is not None:
            lower = max(lower, rows.area_lo / h)
        if rows.area_hi is not None:
            upper = min(upper, rows.area_hi / h)
        if lower <= upper + 1e-9:
            left.append((lower, h))
            right.append((max(lower, upper), h))
    corners = left + right[::-1]
    return [(h, w) for w, h in corners] if cell.turn == "upright" else corners
