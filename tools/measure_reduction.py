"""How near a reduction comes to one in floating point and in linear light, beside two general libraries' own calls.

    python tools/measure_reduction.py [--large]

Forty rows: patterns (a chequerboard, a zone plate, slanted edges, stars, hair, small text, ramps with clear parts) and the
demo's photos, of 8 and 16 bit, 1.3 to 20 times smaller, from a box with sub-pixel edges; with ``--large`` four of 24 and 60
megapixels besides. For each way: the mean and the 99th percentile of the difference in encoded numbers of 255, how much
lighter or darker all of it has become (mean L*), how far it is shifted (pixels of the result, by the slope of the reference),
and how far it swings past all that lies round each pixel (numbers of 255). The reference is Lanczos (a = 3) in float64, held
to 0..1. Ours is held to its neighbourhood besides, so that beside an edge it differs from a reference that swings past it.
"""

from __future__ import annotations

import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pyvips
from PIL import Image, ImageDraw

from aptandum.core.fitting.banded import lanczos, means, reduced_in_light
from aptandum.core.fitting.light import Curve

DEMO = Path(__file__).resolve().parent.parent / "src/aptandum/data/demo"
HIGH, WIDE = 1200, 1600
SRGB = Curve()
Case = tuple[str, np.ndarray, float]


def patterns(high: int = HIGH, wide: int = WIDE) -> dict[str, np.ndarray]:
    """Grey pictures by name, 0..1."""
    y, x = np.mgrid[0:high, 0:wide]
    made = {
        "chequers": ((x + y) % 2).astype(np.float64),
        "zone plate": 0.5 + 0.5 * np.cos((x**2 + y**2) * np.pi / 2 / wide),
        "edge, steep": np.where(x + y * 0.1 > 0.56 * wide, 0.92, 0.08),
        "edge, flat": np.where(y + x * 0.07 > 0.6 * high, 0.95, 0.02),
        "stars": np.where(np.random.default_rng(2).random((high, wide)) > 0.999, 1.0, 6 / 255),
    }
    for name, step, say in (
        ("text", 14, "Tides and ferries of Vessary, read on the quay "),
        ("hair", 0, ""),
    ):
        image = Image.new("L", (wide, high), 255 if step else 190)
        pen = ImageDraw.Draw(image)
        for row in range(0, high, step) if step else ():
            pen.text((4, row), say * (wide // 260), 0)
        rng = np.random.default_rng(3)
        for _ in range(0 if step else 900):
            x0, lean = rng.uniform(0, wide), rng.normal(0, 90)
            pen.line((x0, 0, x0 + lean, high), int(rng.uniform(10, 90)), 1)
        made[name] = np.asarray(image) / 255
    return made


def photos() -> dict[str, np.ndarray]:
    """The demo's photos in grey, 0..1."""
    made = {}
    for path in sorted(DEMO.glob("*.jpg")):
        with Image.open(path) as opened:
            made[path.stem] = np.asarray(opened.convert("L").resize((WIDE, HIGH))) / 255
    return made


def numbers(share: np.ndarray, bits: int = 8) -> np.ndarray:
    top = 2**bits - 1
    return np.rint(share * top).astype(np.uint8 if bits == 8 else np.uint16)


def cases(large: bool) -> Iterator[Case]:
    """Name, pixels of shape (h, w) or (h, w, 2) with alpha last, and how many times smaller."""
    every = patterns()
    for name, share in every.items():
        yield name, numbers(share), 2.58
        yield name, numbers(share), 6.4
    for name in ("zone plate", "text", "hair", "stars", "edge, steep"):
        yield name, numbers(share := every[name]), 1.3
        yield name, numbers(share), 20.0
        yield f"{name}, 16 bit", numbers(share, 16), 3.7
    for i, (name, share) in enumerate(photos().items()):
        yield f"{name[:12]}{', 16 bit' if i % 3 == 0 else ''}", numbers(share, 16 if i % 3 == 0 else 8), (2.58, 5.3)[i % 2]  # fmt: skip
    ramp = np.linspace(0, 1, WIDE)[None].repeat(HIGH, 0)
    for bits in (8, 16):
        for times in (2.58, 9.0):
            clear = np.clip(np.roll(ramp, WIDE // 3, 1) * 1.5 - 0.2, 0, 1)
            yield f"ramp, clear, {bits} bit", np.dstack([numbers(every["text"] * 0.5 + ramp * 0.5, bits), numbers(clear, bits)]), times  # fmt: skip
    if large:
        for size in ((4000, 6000), (6324, 9488)):
            some = patterns(*size)
            yield (
                f"zone plate, {size[0] * size[1] // 1_000_000} MP",
                numbers(some["zone plate"]),
                size[1] / 740,
            )
            yield f"text, {size[0] * size[1] // 1_000_000} MP", numbers(some["text"]), size[1] / 740


def geometry(pixels: np.ndarray, times: float) -> tuple[tuple[int, int], tuple[float, ...]]:
    """The size of a case's result, and the box it is taken from."""
    high, wide = pixels.shape[:2]
    box = (1.3, 2.6, wide - 2.8, high - 1.9)
    return (round((box[2] - box[0]) / times), round((box[3] - box[1]) / times)), box


def in_float(
    light: np.ndarray, size: tuple[int, int], box: tuple[float, ...], kind: Any
) -> np.ndarray:
    """Linear light by plain matrix products in float64."""
    high, wide = light.shape
    made = light
    for axis, (start, length, goal, whole) in enumerate(
        ((box[1], box[3] - box[1], size[1], high), (box[0], box[2] - box[0], size[0], wide))
    ):
        weights, rows = kind(start, length, goal, whole), []
        made = made if axis == 0 else made.T
        for low in range(0, goal, 16):
            past = min(goal, low + 16)
            a, b = weights.begins(low), min(whole, weights.ends(past))
            rows.append(weights.part(low, past, a, b).astype(np.float64) @ made[a:b])
        made = np.concatenate(rows)
        made = made if axis == 0 else made.T
    return made


def lit(pixels: np.ndarray) -> np.ndarray:
    """Light of shape (h, w), as it is seen on black where parts are clear."""
    share = pixels / np.iinfo(pixels.dtype).max
    plane = share if share.ndim == 2 else share[..., 0]
    made = np.where(plane <= 0.04045, plane / 12.92, ((plane + 0.055) / 1.055) ** 2.4)
    return made if share.ndim == 2 else made * share[..., 1]


def ours(pixels: np.ndarray, size: tuple[int, int], box: tuple[float, ...]) -> np.ndarray:
    bands = pixels if pixels.ndim == 3 else pixels[..., None]
    return reduced_in_light(np.ascontiguousarray(bands), size, box, SRGB)[..., 0] / 65535


def by_pillow(pixels: np.ndarray, size: tuple[int, int], box: tuple[float, ...]) -> np.ndarray:
    eight = pixels if pixels.dtype == np.uint8 else (pixels // 257).astype(np.uint8)
    if eight.ndim == 3:
        made = (
            np.asarray(Image.fromarray(eight, "LA").resize(size, Image.Resampling.LANCZOS, box))
            / 255
        )
        return SRGB.light(made[..., 0]) * made[..., 1]
    made = np.asarray(Image.fromarray(eight).resize(size, Image.Resampling.LANCZOS, box))
    return SRGB.light(made / 255)


def by_vips(pixels: np.ndarray, size: tuple[int, int], box: tuple[float, ...]) -> np.ndarray:
    """Its own reduction in linear light, of the whole picture: it knows no box with sub-pixel edges."""
    del box
    fine = pixels.dtype == np.uint16
    planes = pixels if pixels.ndim == 3 else pixels[..., None]
    bands = [planes[..., 0]] * 3 + ([planes[..., 1]] if pixels.ndim == 3 else [])
    image: Any = pyvips.Image.new_from_array(np.ascontiguousarray(np.stack(bands, -1)))
    image = image.copy(interpretation="rgb16" if fine else "srgb")
    made = image.thumbnail_image(size[0], height=size[1], size="force", linear=True).numpy()
    top = np.iinfo(made.dtype).max if made.dtype.kind == "u" else 255
    seen = SRGB.light(np.clip(made[..., 1] / top, 0, 1))
    return seen * (made[..., 3] / top) if pixels.ndim == 3 else seen


def lightness(light: np.ndarray) -> float:
    cut = (6 / 29) ** 3
    root = np.where(light > cut, np.cbrt(np.maximum(light, cut)), light * 841 / 108 + 4 / 29)
    return float((116 * root - 16).mean())


def figures(made: np.ndarray, wanted: np.ndarray, about: np.ndarray) -> str:
    """Mean, 99th percentile, change of L*, shift and swing."""
    inner = (slice(3, -3), slice(3, -3))
    a, b = (SRGB.encoded(light) * 255 for light in (made, wanted))
    off = np.abs(a - b)
    slope = np.gradient(b)
    moved = [float(((b - a) * g)[inner].sum() / max((g[inner] ** 2).sum(), 1e-9)) for g in slope]
    square = np.ones((3, 3), np.uint8)
    low, high = (SRGB.encoded(act(about, square)) * 255 for act in (cv2.erode, cv2.dilate))
    swing = float(np.maximum(low - a, a - high)[inner].max())
    return f"{off.mean():7.2f}{np.percentile(off, 99):7.1f}{lightness(made) - lightness(wanted):+7.2f}{np.hypot(*moved):6.2f}{max(0.0, swing):6.1f}"


def main() -> int:
    head = "   mean   99 %     L*  shift swing"
    print(f"{'':34}{'ours':^33} | {'Pillow, encoded':^33} | {'libvips, linear':^33}")
    print(f"{'':32}{head}  {head}  {head}")
    worse = rows = 0
    for name, pixels, times in cases("--large" in sys.argv):
        size, box = geometry(pixels, times)
        light = lit(pixels)
        wanted = np.clip(in_float(light, size, box, lanczos), 0, 1)
        about = in_float(light, size, box, means).astype(np.float32)
        made = [way(pixels, size, box) for way in (ours, by_pillow, by_vips)]
        said = [figures(np.clip(one, 0, 1), wanted, about) for one in made]
        worse += float(said[0][:7]) > min(float(one[:7]) for one in said[1:]) + 0.005
        rows += 1
        print(f"{name:22} / {times:4.1f}  " + "  ".join(said), flush=True)
    print(
        f"{rows} rows; ours is further from the reference on the mean than the better of the others in {worse}"
    )
    return 0


if __name__ == "__main__":
    sys.exit(main())
