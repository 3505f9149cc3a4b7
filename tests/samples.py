"""Pictures, photos and briefs that the tests make for themselves."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
from PIL import Image

from aptandum.core.brief.model import Brief
from aptandum.core.rulebook.toml import parse_rulebook

DEMO = Path(__file__).resolve().parent.parent / "src/aptandum/data/demo"


def scene(width: int, height: int, seed: int = 1, grain: float = 6.0) -> np.ndarray:
    """A picture that compresses like a photograph: soft light, edges, grain. Shape (h, w, 3)."""
    rng = np.random.default_rng(seed)
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    u, v = x / width, y / height
    base = np.stack([120 + 90 * u, 90 + 110 * v, 160 - 80 * u * v], -1)
    for _ in range(12):
        cx, cy, r = rng.uniform(0, 1), rng.uniform(0, 1), rng.uniform(0.03, 0.2)
        inside = ((u - cx) ** 2 + ((v - cy) * height / width) ** 2 < r * r)[..., None]
        base = np.where(inside, base * 0.5 + rng.uniform(0, 255, 3) * 0.5, base)
    return np.clip(base + rng.normal(0, grain, base.shape), 0, 255).astype(np.uint8)


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
