"""A whole conform against the irreducible work: one full decode of the photo and one encode of
the result, both by libjpeg-turbo (simplejpeg), on the same pixels and in the same run.

    python benchmarks/bench_conform.py

A photo that meets is handed on in less than 0.3 of its decode, once it is known to be whole; nothing else is remembered
from one round to the next.

Reach, for a wide-gamut JPEG turned by EXIF, in linear light, proof included: 24 MP to 620 x 740 in a
byte limit 1.5; to 1380 x 920 1.9; to 3000 x 2000 2.9; 60 MP to 620 x 740 1.5. Also the mean number of
encodes that a byte limit takes (reach 4).
"""

from __future__ import annotations

import os
import re
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # as the application has it

import numpy as np
import pyvips
import simplejpeg

from aptandum.core.brief.model import Brief
from aptandum.core.conform import conform
from aptandum.core.photo.decode import from_array, open_photo
from aptandum.core.photo.profile import shipped
from aptandum.core.rulebook.toml import parse_rulebook

ROUNDS = 7
CASES = (
    ("24 MP", (6000, 4000), (620, 740), 1.5),
    ("24 MP", (6000, 4000), (1380, 920), 1.9),
    ("24 MP", (6000, 4000), (3000, 2000), 2.9),
    ("60 MP", (9488, 6324), (620, 740), 1.5),
)


def large_photo(path: Path, size: tuple[int, int], seed: int = 1) -> None:
    """A wide-gamut JPEG with soft shapes and grain, turned by EXIF."""
    wide, high = size
    rng = np.random.default_rng(seed)
    small = rng.integers(0, 255, (high // 80 + 2, wide // 80 + 2, 3)).astype(np.uint8)
    image = from_array(small).resize(80, kernel="cubic").crop(0, 0, wide, high)
    noise = pyvips.Image.gaussnoise(wide, high, sigma=5)
    image = (image + noise).cast("uchar").copy(interpretation="srgb")
    image.set_type(pyvips.GValue.gint_type, "orientation", 6)
    image.set_type(pyvips.GValue.blob_type, "icc-profile-data", shipped("adobe-rgb"))
    image.jpegsave(str(path), Q=90)


def brief_for(output: tuple[int, int], at_most: int) -> Brief:
    text = (
        'format = 1\n[body]\nid = "bench"\nname = "Bench"\n[[brief]]\nid = "b"\ntitle = "B"\n'
        f'[[brief.clause]]\nmeasure = "size"\nexactly = "{output[0]} x {output[1]}"\n'
        '[[brief.clause]]\nmeasure = "format"\nexactly = "jpeg"\n'
        '[[brief.clause]]\nmeasure = "colour_space"\nexactly = "srgb"\n'
        f'[[brief.clause]]\nmeasure = "file_bytes"\nat_most = "{at_most} bytes"\n'
    )
    return parse_rulebook(text).briefs[0]


def floor(path: Path, output: tuple[int, int]) -> None:
    """One full decode of the photo, one encode of as many pixels as the result has."""
    pixels = simplejpeg.decode_jpeg(path.read_bytes())
    part = np.ascontiguousarray(pixels[: output[1], : output[0]])
    simplejpeg.encode_jpeg(part, quality=90)


def spent(act) -> float:
    start = time.perf_counter()
    act()
    return time.perf_counter() - start


def one(path: Path, output: tuple[int, int]) -> tuple[float, float, list[int]]:
    """Medians of the floor and of the conform, taken in turns, and the encodes of each limit."""
    at_most = round(output[0] * output[1] * 0.45)
    briefs = [brief_for(output, round(at_most * k)) for k in (0.7, 0.85, 1.0, 1.15, 1.3, 1.6, 2.0)]
    photo = open_photo(path)
    conform(photo, briefs[0])
    bare, whole, encodes = [], [], []
    for i in range(ROUNDS):
        bare.append(spent(lambda: floor(path, output)))
        os.utime(path)  # nothing that is remembered of the file as it was holds any more
        start = time.perf_counter()
        proof = conform(open_photo(path), briefs[i % len(briefs)])
        whole.append(time.perf_counter() - start)
        assert proof.ready, proof.findings.summary()
        encodes.append(proof.made.encodes)
    return statistics.median(bare), statistics.median(whole), encodes


def handed_on(path: Path, seen: bool) -> float:
    """A photo that meets, over its own full decode; ``seen``: it is known that its data are whole, as it is in the window,
    which looks when a photo is opened."""
    text = (
        'format = 1\n[body]\nid = "bench"\nname = "Bench"\n[[brief]]\nid = "b"\ntitle = "B"\n'
        '[[brief.clause]]\nmeasure = "longest_side"\nat_most = 9600\n'
        '[[brief.clause]]\nmeasure = "format"\nexactly = "jpeg"\n'
        '[[brief.clause]]\nmeasure = "file_bytes"\nat_most = "60 MB"\n'
    )
    brief = parse_rulebook(text).briefs[0]
    data = path.read_bytes()
    decodes, whole = [], []
    conform(open_photo(path), brief)
    for _ in range(ROUNDS):
        if not seen:
            os.utime(path)
        decodes.append(spent(lambda: simplejpeg.decode_jpeg(data)))
        start = time.perf_counter()
        proof = conform(open_photo(path), brief)
        whole.append(time.perf_counter() - start)
        assert proof.made.data == data, proof.summary
    return statistics.median(whole) / statistics.median(decodes)


def main() -> None:
    folder = Path(tempfile.mkdtemp())
    made: dict[tuple[int, int], Path] = {}
    every: list[int] = []
    for name, size, output, reach in CASES:
        if size not in made:
            made[size] = folder / f"{name.replace(' ', '')}.jpg"
            large_photo(made[size], size)
        bare, whole, encodes = one(made[size], output)
        every += encodes
        ratio = whole / bare
        print(
            f"{name} to {output[0]} x {output[1]}: conform {whole * 1000:.0f} ms, floor "
            f"{bare * 1000:.0f} ms, ratio {ratio:.2f} (reach {reach})",
            flush=True,
        )
    for size, path in made.items():
        first, again = handed_on(path, seen=False), handed_on(path, seen=True)
        print(f"{size[0]} x {size[1]} handed on as it is: {first:.2f} of a decode, of which one looks for damage; {again:.2f} where it is known to be whole (reach 0.3)")  # fmt: skip
    print(f"encodes for a byte limit: mean {statistics.mean(every):.2f} (reach 4)")
    name, size, output, _reach = CASES[-1]
    told = subprocess.run([sys.executable, __file__, str(made[size])], check=True, capture_output=True, text=True)  # fmt: skip
    print(f"peak memory of {name} to {output[0]} x {output[1]} in a process of its own: {told.stdout.strip()} MiB (reach 300)")  # fmt: skip


def peak(path: Path) -> None:
    """Print the most memory that a conform of a photo takes, the interpreter included, in MiB."""
    output = CASES[-1][2]
    proof = conform(open_photo(path), brief_for(output, round(output[0] * output[1] * 0.45)))
    assert proof.ready, proof.findings.summary()
    most = re.search(r"VmHWM:\s+(\d+) kB", Path("/proc/self/status").read_text())
    assert most is not None
    print(int(most[1]) // 1024)


if __name__ == "__main__":
    sys.exit(peak(Path(sys.argv[1])) if sys.argv[1:] else main())
