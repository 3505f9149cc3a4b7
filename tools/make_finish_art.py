"""Makes the textures and shades that are shipped, out of nothing but numbers.

python tools/make_finish_art.py
"""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
from PIL import Image

DATA = Path(__file__).resolve().parent.parent / "src/aptandum/data"


def noise(size: int, cells: int, seed: int) -> np.ndarray:
    """Soft noise that repeats at its edges, about 0 with a spread of 1; shape (size, size)."""
    rng = np.random.default_rng(seed)
    spectrum = np.fft.fft2(rng.normal(size=(size, size)))
    f = np.hypot(*np.meshgrid(np.fft.fftfreq(size) * size, np.fft.fftfreq(size) * size))
    made = np.real(np.fft.ifft2(spectrum * np.exp(-((f / cells) ** 2))))
    return (made - made.mean()) / made.std()


def save(name: str, pixels: np.ndarray) -> None:
    path = DATA / name
    path.parent.mkdir(exist_ok=True)
    Image.fromarray(np.clip(np.rint(pixels), 0, 255).astype(np.uint8)).save(path, optimize=True)
    print(name, path.stat().st_size)


def ripstop(n: int = 192) -> np.ndarray:
    """Sail cloth: a fine weave with a grid of stronger threads."""
    y, x = np.mgrid[0:n, 0:n]
    weave = ((x + y) % 2) * 5 + noise(n, 60, 1) * 2.2
    thread = ((x % 16 < 2).astype(float) + (y % 16 < 2)) * 9
    tone = 202 + weave - thread + noise(n, 4, 2) * 2.5
    return np.dstack([tone * 0.93, tone * 0.99, tone * 1.03])


def linen(n: int = 256) -> np.ndarray:
    """Undyed linen: threads of uneven strength, across and down."""
    across = cv2.blur(np.tile(noise(n, 100, 3), (1, 3)), (41, 1))[:, n : 2 * n] * 26
    down = cv2.blur(np.tile(noise(n, 100, 4), (3, 1)), (1, 41))[n : 2 * n] * 26
    tone = 196 + across + down + noise(n, 90, 5) * 3
    return np.dstack([tone * 1.03, tone * 0.98, tone * 0.86])


def sea_chart(n: int = 256) -> np.ndarray:
    """Depth lines on pale paper, with a grid of degrees; no real sea."""
    deep = noise(n, 2.1, 6)
    lines = np.zeros((n, n))
    for level in np.linspace(-1.5, 1.5, 7):
        lines = np.maximum(lines, np.exp(-(((deep - level) / 0.03) ** 2)))
    y, x = np.mgrid[0:n, 0:n]
    grid = ((x % 64 == 0) | (y % 64 == 0)) * 0.35
    paper = np.array([236.0, 233, 222]) + noise(n, 50, 7)[..., None] * 1.4
    shallow = np.clip((deep - 0.5) / 1.5, 0, 1)[..., None] * (np.array([206.0, 224, 228]) - paper)
    ink = np.maximum(lines * 0.6, grid)[..., None]
    return (paper + shallow) * (1 - ink) + np.array([78.0, 112, 138]) * ink


def planks(n: int = 256) -> np.ndarray:
    """Boards of a jetty, four of them, their grain running down."""
    _y, x = np.mgrid[0:n, 0:n]
    grain = cv2.blur(np.tile(noise(n, 70, 8), (3, 1)), (1, 81))[n : 2 * n]
    board = x // 64
    tone = 148 + grain * 30 + np.array([6.0, -9, 3, -3])[board] + noise(n, 40, 9) * 3
    gap = np.clip(1 - np.minimum(x % 64, 63 - x % 64) / 1.6, 0, 1) * 90
    tone = tone - gap
    return np.dstack([tone * 1.06, tone * 0.98, tone * 0.87])


def dusk_edge(n: int = 512) -> np.ndarray:
    """Darker towards the edges."""
    y, x = (np.mgrid[0:n, 0:n] + 0.5) / n * 2 - 1
    alpha = np.clip((np.hypot(x, y) - 0.62) / 0.8, 0, 1) ** 1.4 * 190
    return np.dstack([np.full((n, n, 3), 10.0), alpha])


def soft_folds(n: int = 512) -> np.ndarray:
    """Folds of a hanging cloth."""
    y, x = (np.mgrid[0:n, 0:n] + 0.5) / n
    fold = np.sin(x * 19 + np.sin(y * 4) * 0.9) * 0.6 + np.sin(x * 41 - y * 5) * 0.3
    alpha = np.clip(40 - fold * 62, 0, 130)
    return np.dstack([np.full((n, n, 3), 14.0), alpha])


def lamp_left(n: int = 512) -> np.ndarray:
    """As if one lamp stood on the left: the right falls into shadow."""
    y, x = (np.mgrid[0:n, 0:n] + 0.5) / n
    alpha = np.clip((np.hypot(x + 0.1, (y - 0.35) * 0.8) - 0.35) / 0.9, 0, 1) ** 1.2 * 200
    return np.dstack([np.full((n, n), 12.0), np.full((n, n), 12.0), np.full((n, n), 20.0), alpha])


if __name__ == "__main__":
    for texture in (ripstop, linen, sea_chart, planks):
        save(f"textures/{texture.__name__.replace('_', '-')}.png", texture())
    for shade in (dusk_edge, soft_folds, lamp_left):
        save(f"shades/{shade.__name__.replace('_', '-')}.png", shade())
