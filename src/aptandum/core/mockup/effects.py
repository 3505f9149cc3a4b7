"""What a place does to a picture, in figures: tints, corners, and what still stands out.

Places mix colours by their encoded numbers, as browsers and players do. Shapes are (h, w, 3) or
(h, w, 4), 8 bit, sRGB.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from aptandum.core.frozen import frozen
from aptandum.core.later import cv2, np
from aptandum.core.photo import engine
from aptandum.core.photo.engine import Pixels
from aptandum.core.photo.luminance import luminance, rgb
from aptandum.core.photo.profile import shipped

if TYPE_CHECKING:
    from numpy.typing import NDArray

LARGE_TEXT = 3.0
"""Ratio of luminances that large letters need at least (WCAG 2.2, 1.4.3)."""

_WORST = 5
"""Per cent of the pixels under a text that may be worse than the figure given."""


def flat(pixels: Pixels, ground: tuple[int, int, int] = (255, 255, 255)) -> Pixels:
    """A picture laid on a colour, shape (h, w, 3)."""
    if pixels.shape[2] == 3:
        return pixels
    cover = pixels[..., 3:4].astype(np.float32) / 255
    mixed = pixels[..., :3] * cover + np.array(ground, np.float32) * (1 - cover)
    return (mixed + 0.5).astype(np.uint8)


def tinted(pixels: Pixels, colour: str, opacity: float) -> Pixels:
    """A flat picture under a colour that covers so much of it (0..1)."""
    mixed = pixels.astype(np.float32) * (1 - opacity) + np.array(rgb(colour)) * opacity
    return (mixed + 0.5).astype(np.uint8)


def text_contrast(pixels: Pixels, box: tuple[float, float, float, float], text: str) -> float:
    """The contrast of letters over a part of a flat picture: the ratio that 95 % of the pixels
    there reach.

    Args:
        box: left, top, width, height, as shares of the picture.
        text: the letters' colour.
    """
    high, wide = pixels.shape[:2]
    x0, y0 = int(box[0] * wide), int(box[1] * high)
    x1 = max(x0 + 1, round((box[0] + box[2]) * wide))
    y1 = max(y0 + 1, round((box[1] + box[3]) * high))
    behind = luminance(pixels[y0:y1, x0:x1]).ravel()
    ink = float(luminance(rgb(text)))
    ratios = (np.maximum(behind, ink) + 0.05) / (np.minimum(behind, ink) + 0.05)
    return float(np.percentile(ratios, _WORST))


def reduced(pixels: Pixels, wide: int, high: int) -> Pixels:
    """A picture at a smaller size, its clear parts having no colour of their own."""
    if pixels.shape[2] == 3:
        return np.asarray(_sized(pixels, wide, high), np.uint8)
    cover = pixels[..., 3:4].astype(np.float32) / 255
    laid = np.concatenate([pixels[..., :3] * cover, cover * 255], 2)
    small = _sized(laid, wide, high)
    cover = small[..., 3:4] / 255
    colour = np.divide(small[..., :3], cover, out=np.zeros_like(small[..., :3]), where=cover > 0)
    both = np.concatenate([colour, small[..., 3:4]], 2)
    return np.clip(both + 0.5, 0, 255).astype(np.uint8)


def _sized(pixels: NDArray[Any], wide: int, high: int) -> NDArray[Any]:
    smaller = wide < pixels.shape[1] and high < pixels.shape[0]
    way = cv2.INTER_AREA if smaller else cv2.INTER_CUBIC
    return np.asarray(cv2.resize(pixels, (max(1, wide), max(1, high)), interpolation=way))


def over(ground: Pixels, badge: Pixels, at: tuple[int, int], opacity: float) -> Pixels:
    """A flat ground with a picture laid on it at a place, part opaque (0..1)."""
    x, y = at
    high, wide = badge.shape[:2]
    made = ground.copy()
    part = made[y : y + high, x : x + wide].astype(np.float32)
    cover = badge[: part.shape[0], : part.shape[1], 3:4].astype(np.float32) / 255 * opacity
    colour = badge[: part.shape[0], : part.shape[1], :3]
    made[y : y + high, x : x + wide] = part * (1 - cover) + colour * cover + 0.5
    return made


def stands_out(ground: Pixels, laid: Pixels, badge: Pixels, at: tuple[int, int]) -> float:
    """How far a badge stands out: the mean CIEDE2000 between the ground with it and without,
    over the pixels that it covers."""
    x, y = at
    high, wide = badge.shape[:2]
    covered = badge[..., 3] > 127
    if not covered.any():
        return 0.0
    parts = [
        engine.to_lab(np.ascontiguousarray(p[y : y + high, x : x + wide]), shipped("srgb"))
        for p in (ground, laid)
    ]
    return float(engine.difference(parts[0], parts[1])[covered].mean())


@frozen
class Tinted:
    """One colour's outcome."""

    colour: str
    ratio: float

    @property
    def reads(self) -> bool:
        return self.ratio >= LARGE_TEXT
