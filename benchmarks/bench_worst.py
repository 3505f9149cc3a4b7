"""Every kind of conform against one decode, one resize and one encode in its format by general libraries: the worst ten.

    python benchmarks/bench_worst.py [MEGAPIXELS [CASES]]

Formats by limits by finishes by open and fixed sizes; where a number of cases is given, so many of them by chance (by a
fixed seed), for all 672 take an hour. Floor and conform are taken in turns on the same pixels; the ratio
is of the quickest of each. Bounds: 6 without a limit of bytes, 10 with one.
"""

from __future__ import annotations

import io
import itertools
import os
import random
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # as the application has it
sys.path.insert(0, str(Path(__file__).resolve().parent.parent / "tests"))

import numpy as np
from PIL import Image

from aptandum.core.brief.model import Brief
from aptandum.core.conform import conform
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import from_array, open_photo
from samples import brief_of, clause, scene

ROUNDS = 3
OUT = 1380, 920
FORMATS = ("jpeg", "png", "tiff", "webp", "avif", "gif", "bmp")
LIMITS = ("none", "easy", "tight", "unreachable least")
FINISHES = {
    "plain": {},
    "straightened": {"frame.angle": "5"},
    "keyline": {"finish.keyline.width": "4"},
    "caption": {"finish.caption.text": "Vessary, the long mole", "finish.caption.size": "40"},
    "grey": {"colour.space": "grey"},
    "padded": {"frame.fill": "pad"},
}
BOUND = {False: 6.0, True: 10.0}
CASES = 672
SOURCES = ("jpeg", "png", "clear png", "tiff 16")


def photos(folder: Path, megapixels: float) -> Iterator[tuple[str, Path]]:
    """One scene as a photographer's JPEG, as PNG with and without clear parts, and in 16 bit."""
    wide = round((megapixels * 1.5e6) ** 0.5)
    pixels = scene(wide, round(wide / 1.5), seed=4)
    Image.fromarray(pixels).save(folder / "a.jpg", quality=92)
    yield "jpeg", folder / "a.jpg"
    Image.fromarray(pixels).save(folder / "a.png", compress_level=1)
    yield "png", folder / "a.png"
    alpha = np.full(pixels.shape[:2], 255, np.uint8)
    alpha[:, : wide // 5] = np.linspace(0, 255, wide // 5).astype(np.uint8)
    Image.fromarray(np.dstack([pixels, alpha])).save(folder / "clear.png", compress_level=1)
    yield "clear png", folder / "clear.png"
    deep = from_array(pixels.astype(np.uint16) * 257).copy(interpretation="rgb16")
    deep.tiffsave(str(folder / "deep.tif"))
    yield "tiff 16", folder / "deep.tif"


def floor(path: Path, form: str) -> bytes:
    """Decoded, resized and encoded once, by the libraries' own ways and settings."""
    with Image.open(path) as opened:
        if opened.format == "JPEG":
            opened.draft("RGB", OUT)
        small = (opened if opened.mode == "RGB" else opened.convert("RGB")).resize(
            OUT, Image.Resampling.LANCZOS
        )
    made = io.BytesIO()
    options = {"jpeg": {"quality": 90}, "tiff": {"compression": "tiff_adobe_deflate"}}
    if form == "gif":
        small = small.quantize(256)
    small.save(made, form.upper(), **options.get(form, {}))
    return made.getvalue()


def brief(form: str, limit: str, size: str, usual: int) -> Brief:
    """The rules of one case."""
    text = clause("format", exactly=form)
    text += (
        clause("size", exactly=f"{OUT[0]} x {OUT[1]}")
        if size == "fixed"
        else clause("longest_side", at_most=OUT[0])
    )
    bounds = {
        "easy": {"at_most": f"{round(usual * 1.6)} bytes"},
        "tight": {"at_most": f"{round(usual * 0.35)} bytes"},
        "unreachable least": {"at_least": f"{usual * 60} bytes"},
    }
    return brief_of(text + (clause("file_bytes", **bounds[limit]) if limit in bounds else ""))


def quickest(act) -> float:
    """Seconds, the least of some rounds."""
    took = []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        act()
        took.append(time.perf_counter() - start)
        if sum(took) > 20:
            break
    return min(took)


def main() -> int:
    megapixels = float(sys.argv[1]) if len(sys.argv) > 1 else 12.0
    rows = []
    chance = random.Random(24)
    share = int(sys.argv[2]) / CASES if len(sys.argv) > 2 else 1.0
    with tempfile.TemporaryDirectory() as folder:
        for source, path in photos(Path(folder), megapixels):
            under = {form: (quickest(lambda p=path, f=form: floor(p, f)), len(floor(path, form))) for form in FORMATS}  # fmt: skip
            for form, limit, size, (finish, wishes) in itertools.product(
                FORMATS, LIMITS, ("fixed", "open"), FINISHES.items()
            ):
                if source != "jpeg" and finish not in ("plain", "keyline"):
                    continue
                if chance.random() >= share:
                    continue
                case = brief(form, limit, size, under[form][1])
                settings = Settings().having(wishes)
                ours = quickest(lambda p=path, c=case, s=settings: conform(open_photo(p), c, s))
                least, bound = under[form][0], BOUND[limit != "none"]
                if (
                    ours / least > bound
                ):  # the floor may lie minutes back: both once more, side by side
                    least = quickest(lambda p=path, f=form: floor(p, f))
                    ours = quickest(lambda p=path, c=case, s=settings: conform(open_photo(p), c, s))
                ratio = ours / least
                rows.append((ratio / bound, ratio, f"{source} to {form}, limit {limit}, size {size}, {finish}: {ours * 1000:.0f} ms, floor {least * 1000:.0f} ms"))  # fmt: skip
    rows.sort(reverse=True)
    for of_bound, ratio, says in rows[:10]:
        print(f"{ratio:5.1f} ({'above' if of_bound > 1 else 'within'} its bound)  {says}")
    above = sum(of_bound > 1 for of_bound, _ratio, _says in rows)
    print(f"{len(rows)} cases, {above} above their bound, median ratio {sorted(r for _s, r, _t in rows)[len(rows) // 2]:.1f}")  # fmt: skip
    return 0


if __name__ == "__main__":
    sys.exit(main())
