"""A blank sheet to begin from, where there is no photo: of a brief's own size, and of one ground."""

from __future__ import annotations

import io
import re
from typing import TYPE_CHECKING

from aptandum.core import bounds
from aptandum.core.brief.model import Brief
from aptandum.core.errors import AptandumError
from aptandum.core.fitting.finish.base import COLOUR
from aptandum.core.fitting.finish.textures import TEXTURES, tile_of, tiled
from aptandum.core.later import Image, np
from aptandum.core.photo.luminance import FOOTAGE, footage, rgb
from aptandum.core.photo.profile import shipped
from aptandum.core.sizes.region import allowed
from aptandum.core.words import listed, say

if TYPE_CHECKING:
    from aptandum.core.photo.engine import Pixels

CLEAR = "clear"
FILMS = tuple(f"{kind} film" for kind in FOOTAGE)
GROUNDS = (CLEAR, *TEXTURES, *FILMS)
"""What a sheet can be of, beside a colour such as ``#F2F2F0``."""

_OPEN = (1200, 1200)
"""Sides in pixels where a brief leaves the size open, as near as it allows."""


class NoSheet(AptandumError, ValueError):
    """A sheet that cannot be made; the message is a sentence with the cause."""


def size_for(brief: Brief) -> tuple[int, int]:
    """Width and height in pixels of a blank sheet for a brief: of its template, the one size or the largest that it
    allows, or where it sets no upper bound one that is handy.

    Raises:
        NoSheet: no size meets the brief.
    """
    if brief.template is not None:
        return brief.template.size
    region = allowed(brief)
    found = region.largest() or region.nearest(*_OPEN)
    if found is not None and max(found) > 4 * max(_OPEN):  # as good as open
        found = region.nearest(*_OPEN)
    if found is None:
        raise NoSheet(say("No size meets this brief, so no sheet can be made for it."))
    return found


def blank_sheet(size: tuple[int, int], ground: str) -> bytes:
    """A PNG of one ground, with the profile of sRGB.

    Args:
        size: width and height in pixels.
        ground: one of :data:`GROUNDS`, or a colour.

    Raises:
        NoSheet: there is no such ground, or the sheet would be larger than a photo may be.
    """
    most = bounds.current().megapixels
    if min(size) < 1 or size[0] * size[1] > most * 1e6:
        raise NoSheet(say("A sheet has from 1 pixel to {n} megapixels.", n=f"{most:g}"))
    data = io.BytesIO()
    Image.fromarray(_pixels(size, ground.strip())).save(data, "PNG", icc_profile=shipped("srgb"))
    return data.getvalue()


def _pixels(size: tuple[int, int], ground: str) -> Pixels:
    wide, high = size
    if ground == CLEAR:
        return np.zeros((high, wide, 4), np.uint8)
    if re.fullmatch(COLOUR, ground):
        made = np.empty((high, wide, 3), np.uint8)
        made[:] = rgb(ground)
        return made
    if ground in TEXTURES:
        return tiled(tile_of(ground), size)
    if ground in FILMS:
        return footage(ground.partition(" ")[0], size)
    said = say(
        "There is no ground “{name}”: it is a colour such as #F2F2F0, or {all}.",
        name=ground,
        all=listed(list(GROUNDS), "or"),
    )
    raise NoSheet(said)
