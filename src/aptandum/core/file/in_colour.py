"""Grey for formats that store three channels whatever the picture has: WebP and AVIF."""

from __future__ import annotations

from aptandum.core.later import np
from aptandum.core.photo import decode
from aptandum.core.photo.engine import converted, memory
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped


def in_colour(picture: Picture) -> Picture:
    """The same picture with three equal channels in sRGB: a profile for grey on data of colour is refused by other
    decoders, or dropped. The grey profile shipped has sRGB's own curve, so its numbers stay."""
    pixels = picture.pixels
    if pixels.shape[2] > 2:
        return picture
    srgb = shipped("srgb")
    if picture.icc != shipped("grey"):
        bits = 16 if pixels.dtype == np.uint16 else 8
        image = converted(
            decode.from_array(pixels), picture.icc, srgb, bits, "relative", picture.alpha
        )
        return Picture(memory(image), srgb, picture.alpha)
    three = np.repeat(pixels[..., :1], 3, axis=2)
    if picture.alpha:
        three = np.concatenate([three, pixels[..., 1:]], axis=2)
    return Picture(three, srgb, picture.alpha)
