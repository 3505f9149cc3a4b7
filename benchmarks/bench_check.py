"""Headers alone: facts, and a check against a brief, beside Pillow's bare header read of the same
files in the same process.

    python benchmarks/bench_check.py

Reach: facts at least 0.7 of Pillow's files a second, the check at least 0.7. Two readings of "bare":
Pillow opening a file and telling its size (nothing else is read), and Pillow telling what a check
cannot do without (size, way up, profile).
"""

from __future__ import annotations

import shutil
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
import simplejpeg
from PIL import Image

from aptandum.core.brief.model import Brief
from aptandum.core.docket import audit
from aptandum.core.photo.decode import facts_many
from aptandum.core.photo.profile import shipped
from aptandum.core.rulebook.shelf import read_shelf

ROUNDS, FILES = 9, 400
DEMO = Path(__file__).resolve().parent.parent / "src/aptandum/data/demo"


def make(folder: Path) -> list[str]:
    """Listing pictures: most meet, some miss, some come from a camera."""
    rng = np.random.default_rng(1)
    kinds = []
    for i, size in enumerate(((1500, 1500), (1440, 1800), (1600, 1280), (900, 900), (2000, 1500))):
        small = Image.fromarray(rng.integers(0, 255, (9, 9, 3)).astype(np.uint8))
        path = folder / f"kind{i}.jpg"
        small.resize(size).save(path, quality=88, icc_profile=shipped("srgb"), dpi=(300, 300))
        kinds.append(path)
    kinds += [DEMO / "lantern_quay_dusk.jpg", DEMO / "tobin_oar_0212.jpg"]
    paths = []
    for i in range(FILES):
        target = folder / f"item_{i:03d}.jpg"
        shutil.copy(kinds[i % len(kinds)], target)
        with open(target, "ab") as stream:
            stream.write(b"\0" * i)  # no two have as many bytes
        paths.append(str(target))
    return paths


def bare(paths: list[str]) -> None:
    for path in paths:
        with Image.open(path) as image:
            _ = image.size, image.mode, image.format


def told(paths: list[str]) -> None:
    for path in paths:
        with Image.open(path) as image:
            _ = image.size, image.mode, image.info.get("icc_profile"), image.getexif().get(274)


def main() -> None:
    paths = make(Path(tempfile.mkdtemp()))
    brief = read_shelf().find("quayside-exchange/item-picture")[1]

    def facts(paths: list[str]) -> None:
        for _found in facts_many(paths):
            pass

    def check(paths: list[str]) -> None:
        for path, found in zip(paths, facts_many(paths), strict=True):
            audit.check_file(path, brief, quick=True, facts=found)

    acts: list[tuple[str, Callable[[list[str]], None]]] = [
        ("bare", bare),
        ("told", told),
        ("facts", facts),
        ("check", check),
    ]
    spent: dict[str, list[float]] = {name: [] for name, _ in acts}
    for _ in range(ROUNDS):
        for name, act in acts:
            start = time.perf_counter()
            act(paths)
            spent[name].append(time.perf_counter() - start)
    middle = {name: statistics.median(times) / FILES for name, times in spent.items()}
    print(
        f"Pillow, size alone: {1 / middle['bare']:.0f} files/s; with way up and profile: "
        f"{1 / middle['told']:.0f}"
    )
    for name in ("facts", "check"):
        print(
            f"{name}: {1 / middle[name]:.0f} files/s, {middle['bare'] / middle[name]:.2f} of the "
            f"bare read, {middle['told'] / middle[name]:.2f} of the other (reach 0.7)"
        )
    every_pixel(brief)


def every_pixel(brief: Brief) -> None:
    """Every pixel read, mends left out, beside libjpeg-turbo's bare decode of the same photos."""
    photos = sorted(DEMO.glob("*.jpg"))
    decodes, checks = [], []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        for path in photos:
            simplejpeg.decode_jpeg(path.read_bytes())
        decodes.append(time.perf_counter() - start)
        start = time.perf_counter()
        for path in photos:
            audit.check_file(str(path), brief, mends=False)
        checks.append(time.perf_counter() - start)
    print(f"every pixel: {min(decodes) / min(checks):.2f} of the bare decode's speed (reach 0.7)")


if __name__ == "__main__":
    sys.exit(main())
