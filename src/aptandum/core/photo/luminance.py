"""How light colours are to the eye, and how far two of them part (WCAG 2.2), and made-up films to try that on."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from aptandum.core.later import np
from aptandum.core.photo.engine import Pixels

if TYPE_CHECKING:
    from numpy.typing import NDArray


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
