"""How near a reduction comes to one in floating point and in linear light, beside two general libraries' own calls.

    python tools/measure_reduction.py

Patterns (a chequerboard, a zone plate, a slanted edge, stars, small text) and the demo's photos, each to two sizes from a
box with sub-pixel edges. For each way: the mean and the 99th percentile of the difference in encoded numbers of 255, and
how much lighter or darker all of it has become (mean L*). The reference is Lanczos (a = 3) in float64, held to 0..1.
Ours is held to its neighbourhood besides, so that an edge differs from the reference where that swings past it.
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pyvips
from PIL import Image, ImageDraw

from aptandum.core.fitting.banded import lanczos, reduced_in_light
from aptandum.core.fitting.light import Curve

DEMO = Path(__file__).resolve().parent.parent / "src/aptandum/data/demo"
HIGH, WIDE = 1200, 1600
SIZES = ((620, 463), (300, 220))
BOX = (1.3, 2.6, 1597.2, 1198.1)
SRGB = Curve()


def pictures() -> dict[str, np.ndarray]:
    """Grey pictures of 8 bit by name."""
    y, x = np.mgrid[0:HIGH, 0:WIDE]
    text = Image.new("L", (WIDE, HIGH), 255)
    pen = ImageDraw.Draw(text)
    for row in range(0, HIGH, 14):
        pen.text((4, row), "Tides and ferries of Vessary, read on the quay " * 6, 0)
    stars = np.random.default_rng(2).random((HIGH, WIDE)) > 0.999
    made = {
        "chequers": (x + y) % 2 * 255,
        "zone plate": 127.5 + 127.5 * np.cos((x**2 + y**2) * np.pi / 2 / WIDE),
        "edge": np.where(x + y * 0.1 > 900, 235, 20),
        "stars": np.where(stars, 255, 6),
        "text": np.asarray(text),
    }
    for path in sorted(DEMO.glob("*.jpg")):
        with Image.open(path) as opened:
            made[path.stem] = np.asarray(opened.convert("L").resize((WIDE, HIGH)))
    return {name: np.clip(np.rint(p), 0, 255).astype(np.uint8) for name, p in made.items()}


def in_float(pixels: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """Linear light 0..1 of a grey picture, by plain matrix products in float64."""
    encoded = pixels / 255
    light = np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)
    sides = []
    for start, length, goal, whole in (
        (BOX[1], BOX[3] - BOX[1], size[1], HIGH),
        (BOX[0], BOX[2] - BOX[0], size[0], WIDE),
    ):
        weights = lanczos(start, length, goal, whole)
        sides.append(weights.part(0, goal, 0, whole).astype(np.float64))
    return np.clip(sides[0] @ light @ sides[1].T, 0, 1)


def ours(pixels: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    return reduced_in_light(pixels[..., None], size, BOX, SRGB)[..., 0] / 65535


def by_pillow(pixels: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    made = Image.fromarray(pixels).resize(size, Image.Resampling.LANCZOS, BOX)
    return SRGB.light(np.asarray(made) / 255)


def by_vips(pixels: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """Its own reduction in linear light, of the whole picture: it knows no box with sub-pixel edges."""
    image: Any = pyvips.Image.new_from_array(np.repeat(pixels[..., None], 3, 2))
    made = image.copy(interpretation="srgb").thumbnail_image(size[0], height=size[1], size="force", linear=True)  # fmt: skip
    return SRGB.light(made.numpy()[..., 1] / 255)


def lightness(light: np.ndarray) -> float:
    cut = (6 / 29) ** 3
    root = np.where(light > cut, np.cbrt(np.maximum(light, cut)), light * 841 / 108 + 4 / 29)
    return float((116 * root - 16).mean())


def main() -> None:
    print(f"{'':24}{'ours':>28}{'Pillow, encoded':>28}{'libvips, linear':>28}")
    for name, pixels in pictures().items():
        for size in SIZES:
            wanted = in_float(pixels, size)
            row = f"{name[:16]:17}{size[0]:4} px"
            for way in (ours, by_pillow, by_vips):
                made = way(pixels, size)
                off = np.abs(SRGB.encoded(made) - SRGB.encoded(wanted)) * 255
                shift = lightness(made) - lightness(wanted)
                row += f"{off.mean():9.2f} {np.percentile(off, 99):7.1f} L*{shift:+7.2f}"
            print(row)


if __name__ == "__main__":
    main()
