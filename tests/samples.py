"""Pictures, photos and briefs that the tests make for themselves."""

from __future__ import annotations

import io
import os
from functools import lru_cache
from pathlib import Path

import numpy as np
from PIL import Image

from aptandum.core.brief.model import Brief
from aptandum.core.rulebook.toml import parse_rulebook

DEMO = Path(__file__).resolve().parent.parent / "src/aptandum/data/demo"


THOROUGH = os.environ.get("APTANDUM_THOROUGH") == "1"
"""``scripts/test --thorough``: far more examples, kills and files than an ordinary run looks at."""


PATIENCE = 120_000
"""Milliseconds that a test waits for something to come about before it says that it does not: so
many that a machine with other work to do is no failure."""


def examples(many: int) -> int:
    """How many examples Hypothesis looks at where ``many`` are worth looking at."""
    return 2 * many if THOROUGH else max(10, many // 4)


def scene(width: int, height: int, seed: int = 1, grain: float = 6.0) -> np.ndarray:
    """A picture that compresses like a photograph: soft light, edges, grain. Shape (h, w, 3)."""
    if FOUND[0] is None or width * height < 100_000:
        return _scene(width, height, seed, grain).copy()
    path = FOUND[0] / f"scene {width} x {height}, {seed}, {grain}.npy"
    if not path.exists():
        part = path.with_suffix(f".{os.getpid()}")
        with part.open("wb") as stream:
            np.save(stream, _scene(width, height, seed, grain))
        part.replace(path)
    return np.load(path)


FOUND: list[Path | None] = [None]
"""Where what was made or found once is kept for the run, whichever worker it was."""


@lru_cache(maxsize=12)
def _scene(width: int, height: int, seed: int, grain: float) -> np.ndarray:
    rng = np.random.default_rng(seed)
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    u, v = x / width, y / height
    base = np.stack([120 + 90 * u, 90 + 110 * v, 160 - 80 * u * v], -1).astype(np.float64)
    for _ in range(12):
        cx, cy, r = rng.uniform(0, 1), rng.uniform(0, 1), rng.uniform(0.03, 0.2)
        colour, high = rng.uniform(0, 255, 3), r * width / height
        across = slice(max(0, int((cx - r) * width) - 2), int((cx + r) * width) + 3)
        up = slice(max(0, int((cy - high) * height) - 2), int((cy + high) * height) + 3)
        a, b, part = u[up, across], v[up, across], base[up, across]
        inside = (a - cx) ** 2 + ((b - cy) * height / width) ** 2 < r * r
        part[inside] = part[inside] * 0.5 + colour * 0.5
    base += rng.normal(0, grain, base.shape)
    np.clip(base, 0, 255, out=base)
    return base.astype(np.uint8)


def jpeg(pixels: np.ndarray, **options: object) -> bytes:
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "JPEG", **{"quality": 92, **options})
    return out.getvalue()


def brief_of(clauses: str, more: str = "") -> Brief:
    """A brief from the text of its clauses."""
    text = (
        'format = 1\n[body]\nid = "pier-office"\nname = "Pier Office"\n[[brief]]\nid = "notice"\n'
        f'title = "Notice"\n{more}\n{clauses}'
    )
    return parse_rulebook(text).briefs[0]


def clause(measure: str, **limits: object) -> str:
    """One measured clause as TOML."""
    lines = ["[[brief.clause]]", f'measure = "{measure}"']
    for key, value in limits.items():
        shown = f'"{value}"' if isinstance(value, str) else value
        if isinstance(value, (list, tuple)):
            shown = "[" + ", ".join(f'"{v}"' for v in value) + "]"
        lines.append(f"{key} = {shown}")
    return "\n".join(lines) + "\n"


SMALL = """format = 1
[body]
id = "mole"
name = "The Mole"
[[brief]]
id = "small"
title = "Small"
[[brief.clause]]
measure = "longest_side"
at_most = "100 px"
"""
"""A rulebook with one brief, ``mole/small``: at most 100 pixels on the longest side."""
