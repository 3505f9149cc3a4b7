"""How near the marks found on the demo's portraits lie to the points that the renderer knows.

    python tools/measure_marks.py

Crown, chin and eyes in per cent of the head's height (2.5 are allowed), tilt in degrees (1.5);
each portrait as it is, at 400 px, at 24 megapixels, and turned by quarters.
"""

from __future__ import annotations

import json
import math
from pathlib import Path

import numpy as np
from PIL import Image, ImageOps

from aptandum.core.photo.people import find_people

DEMO = Path(__file__).resolve().parent.parent / "src/aptandum/data/demo"
PIXELS_24 = 24_000_000


def turned(point: tuple[float, float], turns: int, size: tuple[int, int]) -> tuple[float, float]:
    """A point of a picture after quarter turns to the left."""
    (x, y), (wide, high) = point, size
    return {0: (x, y), 1: (y, wide - x), 2: (wide - x, high - y), 3: (high - y, x)}[turns]


def measure(picture: Image.Image, truth: dict[str, object], turns: int = 0) -> str:
    wide, high = picture.size
    k = wide / truth["size"][0]  # type: ignore[index]
    array = np.ascontiguousarray(np.rot90(np.asarray(picture), turns))
    faces = find_people(array)
    if len(faces) != 1:
        return f"{len(faces)} faces"
    face = faces[0]

    def at(x: float, y: float) -> tuple[float, float]:
        return turned((x * k, y * k), turns, (wide, high))

    chin, eyes = truth["chin"], truth["eyes"]
    head = (chin[1] - truth["hair_top"]) * k  # type: ignore[index,operator]
    down = np.subtract(at(0, 1), at(0, 0)) / k
    top = np.array(at(chin[0], truth["hair_top"]))  # type: ignore[index,arg-type]
    crown = abs((np.array(face.crown) - top) @ down) / head * 100
    low = math.dist(face.chin, at(*chin)) / head * 100  # type: ignore[misc]
    worst = max(math.dist(f, at(*e)) for f, e in zip(face.eyes, eyes, strict=True))  # type: ignore[call-overload]
    (ax, ay), (bx, by) = (at(*eye) for eye in eyes)  # type: ignore[attr-defined]
    (cx, cy), (dx, dy) = face.eyes
    tilt = math.degrees(math.atan2(dy - cy, dx - cx) - math.atan2(by - ay, bx - ax))
    tilt = abs((tilt + 180) % 360 - 180)
    return f"crown {crown:4.2f}  chin {low:4.2f}  eyes {worst / head * 100:4.2f}  tilt {tilt:4.2f}"


def main() -> None:
    for path in sorted(DEMO.glob("*.json")):
        truth = json.loads(path.read_text())
        with Image.open(path.with_suffix(".jpg")) as opened:
            picture = ImageOps.exif_transpose(opened).convert("RGB")
        wide, high = picture.size
        large = math.sqrt(PIXELS_24 / (wide * high))
        small = (400, round(high * 400 / wide))
        lanczos = Image.Resampling.LANCZOS
        print(path.stem)
        print(f"  as it is      {measure(picture, truth)}")
        print(f"  400 px        {measure(picture.resize(small, lanczos), truth)}")
        huge = (round(wide * large), round(high * large))
        print(f"  24 megapixels {measure(picture.resize(huge, lanczos), truth)}")
        for turns in (1, 2, 3):
            said = measure(picture.resize((wide // 2, high // 2), lanczos), truth, turns)
            print(f"  turned {turns * 90:3}    {said}")


if __name__ == "__main__":
    main()
