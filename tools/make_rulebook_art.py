"""Makes the pictures that lie beside the shipped rulebooks: a border and a sail's shading.

python tools/make_rulebook_art.py
"""

from __future__ import annotations

from pathlib import Path

import numpy as np
from PIL import Image

FOLDER = Path(__file__).resolve().parent.parent / "src/aptandum/data/rulebooks"


def border(width: int = 800, height: int = 1000) -> np.ndarray:
    """A slate frame with a bevelled inner edge; clear in the middle. RGBA, 8 bit."""
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    depth = np.minimum(np.minimum(x, width - 1 - x), np.minimum(y, height - 1 - y))
    rng = np.random.default_rng(7)
    grain = np.repeat(rng.normal(0, 1.5, (height, 1)), width, 1).round()
    tone = 62 + 16 * np.clip(depth / 56, 0, 1) + grain
    line = np.exp(-((depth - 14) ** 2) / 3) * 120
    light = np.where((x + y * width / height) < width, 26.0, -22.0) * (depth > 48)
    base = np.stack([tone * 0.96 + line, tone + line * 0.86, tone * 1.04 + line * 0.5], -1)
    base = np.clip(base + light[..., None], 0, 255)
    clear = np.clip((60 - depth) / 1.5, 0, 1) * 255
    return np.dstack([base, clear]).astype(np.uint8)


def shade(width: int = 744, height: int = 628) -> np.ndarray:
    """Soft folds as if a wind filled the sail: grey with alpha, to be laid over the panels."""
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    u, v = x / width, y / height
    folds = np.sin(u * 21 + v * 6) * 0.5 + np.sin(u * 9 - v * 17) * 0.3
    edge = np.clip(np.abs(u - 0.5) * 2, 0, 1) ** 2
    alpha = np.clip(34 + 38 * np.maximum(0, folds) + 46 * edge, 0, 150)
    grey = np.full((height, width), 18.0)
    return np.dstack([grey, grey, grey * 1.15, alpha]).astype(np.uint8)


if __name__ == "__main__":
    Image.fromarray(border()).save(FOLDER / "plaque-border.png", optimize=True)
    Image.fromarray(shade()).save(FOLDER / "sail-shade.png", optimize=True)
