"""Reducing pixels by libvips, several times faster than by Pillow, to a box with sub-pixel edges.

libvips lays the grid of the result in the middle of what it is given, and knows no box. So the
picture is cut such that its middle is the middle of that grid: whole pixels are left off on either
side, and where that does not hit, some rows or columns more are made, and thrown away.
"""

from __future__ import annotations

from functools import cache
from typing import TYPE_CHECKING

from aptandum.core.frozen import frozen
from aptandum.core.later import np, pyvips

if TYPE_CHECKING:
    from numpy.typing import NDArray

_NEAR = 1 / 64
"""Pixels by which the grid may be off; libvips itself places a kernel to a 64th."""

_REACH = 3
"""Rows or columns that are made beyond each edge of the box where the picture goes on there, so
that Lanczos (a = 3) sees it as it is and not as its edge repeated."""


@cache
def _more() -> NDArray[np.int_]:
    """How many more of them are tried before and after, to hit the grid; few first."""
    return np.array([(a, most - a) for most in range(49) for a in range(most + 1)])


@frozen
class Cut:
    """Where one side is cut, and which part of the result is meant.

    Attributes:
        first, last: of the pixels that are kept, the last not included; outside of the picture
            its edge is repeated.
        before: pixels of the result that come before the box.
        made: pixels of the result in all.
    """

    first: int
    last: int
    before: int
    made: int


def cut_for(start: float, length: float, goal: int, whole: int) -> Cut | None:
    """The cut of one side for a box from ``start``, ``length`` pixels long, of ``whole``, that is
    brought to ``goal`` pixels; ``None`` where no cut comes near enough, and where the side would
    have to grow."""
    step = length / goal
    if step < 1:
        return None
    before = min(_REACH, int(max(0.0, start) / step))
    after = min(_REACH, int(max(0.0, whole - start - length) / step))
    more = _more()
    a, b = before + more[:, 0], after + more[:, 1]
    ends = 2 * start + length + (b - a) * step  # the two edges of the grid, added up
    both = np.rint(ends)
    # The kept pixels have the grid's middle, so their number is odd or even as `both` is.
    odd, made = both % 2, goal + a + b
    kept = np.rint((made * step - odd) / 2) * 2 + odd
    # libvips makes as many pixels as fit best; less than half of one may be left over or missing.
    fits = np.abs(kept / step - made) < 0.499
    good = np.flatnonzero((np.abs(ends - both) / 2 <= _NEAR) & fits & (kept > 0))
    if not good.size:
        return None
    i = int(good[0])
    first = int(both[i] - kept[i]) // 2
    return Cut(first, first + int(kept[i]), int(a[i]), int(made[i]))


def _kept(image: pyvips.Image, across: Cut, down: Cut) -> pyvips.Image:
    """The part of an image that is kept, with its edge repeated where that lies outside."""
    x0, y0 = max(0, across.first), max(0, down.first)
    x1, y1 = min(image.width, across.last), min(image.height, down.last)
    part = image.crop(x0, y0, x1 - x0, y1 - y0)
    wide, high = across.last - across.first, down.last - down.first
    if (part.width, part.height) == (wide, high):
        return part
    return part.embed(x0 - across.first, y0 - down.first, wide, high, extend="copy")


def reduced(
    image: pyvips.Image,
    size: tuple[int, int],
    box: tuple[float, float, float, float],
    kernel: str = "lanczos3",
) -> pyvips.Image | None:
    """An image (8 bit, no alpha) reduced from a box with sub-pixel edges to a whole size, by a
    separable kernel; nothing is computed until its pixels are asked for.

    Args:
        size: width and height of the result.
        box: left, top, right, bottom in the image's pixels.

    Returns:
        ``None`` where libvips cannot: :func:`aptandum.core.fitting.resample.resample` can.
    """
    if image.format != "uchar" or image.hasalpha():
        return None
    left, top, right, bottom = box
    across = cut_for(left, right - left, size[0], image.width)
    down = cut_for(top, bottom - top, size[1], image.height)
    if across is None or down is None:
        return None
    made = _kept(image, across, down).reduce(
        (right - left) / size[0], (bottom - top) / size[1], kernel=kernel
    )
    if (made.width, made.height) != (across.made, down.made):
        return None
    return made.crop(across.before, down.before, *size)
