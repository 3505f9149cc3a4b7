"""The size of the file as a person asks for it: typed as one side, or by one of three presses."""

from __future__ import annotations

from dataclasses import replace

from aptandum.core.brief.model import Brief
from aptandum.core.figures import show_pixels, show_size
from aptandum.core.frozen import frozen
from aptandum.core.sizes.binds import PRINTED, RESOLUTION
from aptandum.core.sizes.least import Box, Target, Way, least, smallest_of
from aptandum.core.sizes.region import USEFUL, Allowed
from aptandum.core.sizes.rows import Size
from aptandum.core.sizes.wished import sets_of
from aptandum.core.words import say


@frozen
class Sizes:
    """Sizes worth pressing for; ``None`` where there is none, or none that differs."""

    smallest: Size | None
    recommended: Size | None
    largest: Size | None


def presses(brief: Brief | None, box: Box, way: Way = "cut") -> Sizes:
    """The smallest allowed size of the shape that loses least, the one that meets every
    recommendation, and the largest that needs no enlarging."""
    every = sets_of(brief)
    musts = every[-1][1]
    best = least(musts.cells, box, way)
    if best is None:
        return Sizes(None, None, None)
    wish = least(every[0][1].cells, box, way) if len(every) > 1 and not every[0][0] else None
    return Sizes(
        _smallest(musts, best, box, way),
        wish.size if wish is not None else None,
        best.size if best.enlargement <= 1 + 1e-6 else None,
    )


def _smallest(musts: Allowed, best: Target, box: Box, way: Way) -> Size | None:
    """The smallest size that loses no more of a picture than the best one does."""
    shapes = [cell.of_shape(best.shape) for cell in musts.cells if not cell.sliver]
    sizes = ((cell, smallest_of(cell, best.shape)) for cell in shapes)
    # One pixel per inch prints at any length too, and is none that somebody presses for.
    found = [s for cell, s in sizes if s is not None and (cell.paper is None or min(s) >= USEFUL)]
    return min(found, key=lambda size: (size[0] * size[1], size), default=None)


def with_side(
    brief: Brief | None, box: Box, way: Way, axis: int, side: int
) -> tuple[Size | None, str]:
    """The allowed size with a side of so many pixels that loses least of a picture; where there is
    none, a sentence with the nearest there is.

    Args:
        axis: 0 across, 1 up.
    """
    sizes = sets_of(brief)[-1][1]
    ends = {"w_lo": side, "w_hi": side} if axis == 0 else {"h_lo": side, "h_hi": side}
    line = [cell.boxed(**ends) for cell in sizes.cells if not cell.sliver]
    cells = tuple(cell for cell in line if not cell.empty_box() and not cell.empty)
    target = least(cells, box, way)
    if target is not None:
        return target.size, ""
    shape = float(box.shape)
    wanted = (
        (side, max(1, round(side / shape))) if axis == 0 else (max(1, round(side * shape)), side)
    )
    near = replace(sizes, cells=tuple(c for c in sizes.cells if not c.sliver)).nearest(*wanted)
    said = say("No allowed size is {n} across.", n=show_pixels(side))
    if axis:
        said = say("No allowed size is {n} up.", n=show_pixels(side))
    if near is None:
        return None, said
    return None, say("{said} The nearest is {size}.", said=said, size=show_size(near))


def printed_at(brief: Brief, stated: float | None, by_hand: float | None = None) -> float | None:
    """The pixels per inch by which a file's size in print is told; ``None`` where neither a rule nor a person speaks of
    print: what the photo's own file happened to state says nothing of it.

    Args:
        stated: by the file that is made.
        by_hand: what a person has set.
    """
    asked = any(True for _ in brief.bounding(*PRINTED, RESOLUTION))
    return stated if asked or by_hand is not None else None
