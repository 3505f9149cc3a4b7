"""How near a picture of few colours comes to the photo, beside the same from two general libraries.

    python tools/measure_palettes.py

Ten pictures (the demo's photos and made ones), each in 2, 4, 16, 64 and 256 colours. For each way the mean and the 99th
percentile of the difference (CIEDE2000), pixel for pixel and, since dithering is meant to be seen from afar, after a blur of
one and a half pixels in light. Pillow's and libvips' palettes are taken with and without their dithering; the better of the
two stands in the table.
"""

from __future__ import annotations

import io
import statistics
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent / "tests"))

import cv2
import numpy as np
from PIL import Image

from aptandum.core.file.palette import in_colours
from aptandum.core.fitting.light import Curve
from aptandum.core.photo.decode import from_array
from aptandum.core.photo.engine import difference, to_lab
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped
from samples import scene

ROOT = Path(__file__).resolve().parent.parent

COLOURS = (2, 4, 16, 64, 256)
SIZE = 480, 360
SRGB = Curve()


def pictures() -> dict[str, np.ndarray]:
    """RGB of 8 bit by name."""
    made = {}
    for path in sorted((ROOT / "src/aptandum/data/demo").glob("*.jpg")):
        with Image.open(path) as opened:
            made[path.stem] = np.asarray(
                opened.convert("RGB").resize(SIZE, Image.Resampling.LANCZOS)
            )
    for seed in range(10):
        made[f"scene {seed}"] = scene(*SIZE, seed=seed, grain=2.0)
    return dict(list(made.items())[:10])


def ways(pixels: np.ndarray, colours: int) -> dict[str, list[np.ndarray]]:
    """The picture in so many colours, by each library."""
    image, found = Image.fromarray(pixels), {}
    ours = in_colours(Picture(pixels, shipped("srgb"), False), colours).convert("RGB")
    found["ours"] = [np.asarray(ours)]
    table = image.quantize(colours, Image.Quantize.MEDIANCUT, kmeans=2)
    found["Pillow"] = [
        np.asarray(image.quantize(colours, palette=table, dither=dither).convert("RGB"))
        for dither in (Image.Dither.NONE, Image.Dither.FLOYDSTEINBERG)
    ]
    found["libvips"] = []
    for dither in (0.0, 1.0):
        bits = max(1, int(np.ceil(np.log2(colours))))
        bits = next(b for b in (1, 2, 4, 8) if b >= bits)
        data = from_array(pixels).copy(interpretation="srgb").pngsave_buffer(
            palette=True, Q=100, dither=dither, effort=10, bitdepth=bits
        )  # fmt: skip
        with Image.open(io.BytesIO(data)) as opened:
            if len(set(opened.convert("RGB").get_flattened_data())) <= colours:
                found["libvips"].append(np.asarray(opened.convert("RGB")))
    return found


def off(one: np.ndarray, other: np.ndarray, afar: bool) -> np.ndarray:
    if afar:
        one, other = (
            np.rint(SRGB.encoded(cv2.GaussianBlur(SRGB.light(p / 255), (0, 0), 1.5)) * 255).astype(np.uint8)
            for p in (one, other)
        )  # fmt: skip
    icc = shipped("srgb")
    return difference(to_lab(one, icc), to_lab(other, icc))


def main() -> int:
    print("| colours | seen | way | mean | 99 % |\n|---|---|---|---|---|")
    every = pictures()
    for colours in COLOURS:
        rows: dict[tuple[bool, str], list[tuple[float, float]]] = {}
        for pixels in every.values():
            for name, made in ways(pixels, colours).items():
                for afar in (False, True):
                    found = [off(pixels, one, afar) for one in made]
                    if found:
                        both = min((float(o.mean()), float(np.percentile(o, 99))) for o in found)
                        rows.setdefault((afar, name), []).append(both)
        for (afar, name), values in sorted(rows.items()):
            mean, high = (statistics.mean(v[i] for v in values) for i in (0, 1))
            print(
                f"| {colours} | {'afar' if afar else 'each pixel'} | {name} | {mean:.2f} | {high:.2f} |",
                flush=True,
            )
    return 0


if __name__ == "__main__":
    sys.exit(main())
