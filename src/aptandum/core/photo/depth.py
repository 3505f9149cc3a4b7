"""How many bits a pixel of a picture is stored in."""

from __future__ import annotations

from aptandum.core.photo.picture import Picture

COLOUR = 3
"""Channels of a picture in colour, without its opacity."""
WITH_OPACITY = (1, 2, 4, 8, 16, 32, 64)
"""Bits that a pixel with an opacity may have in a file: by a palette, as a grey, in colour."""


def bits_of_pixel(picture: Picture) -> int:
    """Bits that a pixel of a picture has when it is stored as it is."""
    return picture.depth * int(picture.pixels.shape[2])


def gains_opacity(picture: Picture, stored: tuple[int, ...]) -> bool:
    """Whether a picture gets an opacity that hides nothing, because more bits are asked for than its colours have.

    Args:
        stored: the numbers of bits that are allowed; empty: any.
    """
    if not stored or picture.alpha or picture.pixels.shape[2] != COLOUR:
        return False
    bits = bits_of_pixel(picture)
    return bits not in stored and bits // COLOUR * 4 in stored
