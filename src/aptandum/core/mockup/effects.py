"""What a place does to a picture, in figures: tints, corners, and what still stands out.

Places mix colours by their encoded numbers, as browsers and players do. Shapes are (h, w, 3) or
(h, w, 4), 8 bit, sRGB.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from aptandum.core.later import cv2, np
from aptandum.core.photo import engine
from aptandum.core.photo.engine import Pixels
from aptandum.core.photo.profile import shipped

if TYPE_CHECKING:
    from numpy.typing import NDArray

LARGE_TEXT = 3.0
"""Ratio of luminances that large letters need at least (WCAG 2.2, 1.4.3)."""

_WORST = 5
"""Per cent of the pixels under a text that may be worse than the figure given."""


def rgb(colour: str) -> tuple[int, int, int]:
    """``#RRGGBB`` as numbers."""
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


def luminance(pixels: Any) -> NDArray[np.float64]:
    """Relative luminance 0..1 (WCAG 2.2) of numbers 0..255, the last axis red, green, blue."""
    share = np.asarray(pixels, np.float64)[..., :3] / 255
    linear = np.where(share <= 0.04045, share / 12.92, ((share + 0.055) / 1.055) ** 2.4)
    return np.asarray(linear @ np.array([0.2126, 0.7152, 0.0722]))


def contrast(one: float, other: float) -> float:
    """The ratio of two luminances, 1 to 21."""
    low, high = sorted((one, other))
    return (high + 0.05) / (low + 0.05)


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


FOOTAGE = ("light", "dark", "busy")


def footage(kind: str, size: tuple[int, int], moment: float = 0.0) -> Pixels:
    """A made-up frame of film at a moment (seconds): ``light`` fog over water, ``dark`` night
    water, or ``busy`` lights of a quay."""
    wide, high = size
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    u, v = x / wide, y / high
    drift = moment * 0.06
    wave = np.sin(18 * v + 5 * np.sin(3 * u + drift * 4)) * np.cos(7 * (u - drift))
    if kind == "light":
        tone = 226 - 26 * v + 7 * wave
        return _frame(np.stack([tone, tone + 2, tone + 5], -1))
    if kind == "dark":
        glint = np.clip(wave - 0.8, 0, 1) * 260 * v
        return _frame(np.stack([12 + glint, 17 + glint, 27 + glint * 1.1], -1))
    rng = np.random.default_rng(11)
    made = np.stack([70 - 40 * v, 62 - 34 * v, 74 - 30 * v], -1)
    for _ in range(90):
        cx, cy = rng.uniform(-0.1, 1.1), rng.uniform(0, 1)
        r, speed = rng.uniform(0.01, 0.05), rng.uniform(0.2, 1.4)
        colour = rng.uniform(60, 255, 3)
        cx = (cx + drift * speed) % 1.2 - 0.1
        spot = np.clip(1.4 - np.hypot(u - cx, (v - cy) * high / wide) / r, 0, 1)[..., None]
        made = made * (1 - spot * 0.85) + colour * spot * 0.85
    return _frame(made)


def _frame(values: NDArray[Any]) -> Pixels:
    return np.asarray(np.clip(values, 0, 255), np.uint8)


@dataclass(frozen=True)
class Tinted:
    """One colour's outcome."""

    colour: str
    ratio: float

    @property
    def reads(self) -> bool:
        return self.ratio >= LARGE_TEXT
