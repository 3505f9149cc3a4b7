"""Made-up portraits whose truth is known, from seeds: heads, light, eyes, glasses, hair and backdrops of many kinds.

    python tools/portrait_truth.py FOLDER [COUNT]

Each is a PNG with a JSON beside it: the renderer's own settings, the points of the face's mesh, the middles of the
irises, the top of the skull and of the hair, in pixels; and the mask of the person. What is there already is kept, so
that a set can be made in pieces. A portrait takes some twenty seconds.
"""

from __future__ import annotations

import json
import sys
from dataclasses import asdict
from pathlib import Path

import numpy as np
from PIL import Image

sys.path.insert(0, str(Path(__file__).resolve().parent))

import portrait

SKINS = {
    "very light": (0.78, 0.56, 0.46),
    "light": (0.60, 0.38, 0.28),
    "brown": (0.30, 0.16, 0.10),
    "very dark": (0.10, 0.052, 0.034),
}
HAIRS = {"black": (0.012, 0.01, 0.009), "brown": (0.055, 0.032, 0.02), "fair": (0.42, 0.28, 0.13), "grey": (0.42, 0.41, 0.40)}  # fmt: skip
CUTS = ("short", "rec", "long", "bob", "bald")
LIGHTS = {
    "front": (-0.25, 0.6, 1.0),
    "left": (-1.4, 0.4, 0.5),
    "right": (1.4, 0.4, 0.5),
    "above": (0.05, 1.6, 0.5),
    "below": (0.1, -0.9, 0.8),
}
FRAMES = ((0.02, 0.02, 0.022), (0.12, 0.03, 0.02), (0.35, 0.30, 0.22), (0.04, 0.05, 0.16))
"""Dark, tortoise, metal and blue frames, by what they throw back."""
CASTS = {
    "none": (1.0, 1.0, 1.0),
    "warm": (1.18, 1.0, 0.72),
    "cold": (0.80, 1.0, 1.22),
    "green": (0.86, 1.08, 0.86),
}
"""What the light is tinted by, in linear light."""
SIZE = (480, 600)


def sitter(seed: int) -> tuple[portrait.Params, dict[str, str]]:
    """The settings of one portrait, and what it is of each kind."""
    rng = np.random.default_rng(9000 + seed)
    skin = list(SKINS)[seed % 4]
    cut = CUTS[(seed // 4) % 5]
    light = str(rng.choice(list(LIGHTS), p=[0.4, 0.17, 0.17, 0.13, 0.13]))
    hair = str(rng.choice(list(HAIRS)))
    pose = rng.normal(0, 1, 3) * (7, 7, 4)
    glasses = bool(rng.random() < 0.3)
    lids = float(rng.choice([1.0, 0.65, 0.05], p=[0.7, 0.15, 0.15]))
    gaze = rng.normal(0, 1, 2) * ((18, 8) if rng.random() < 0.3 else (2, 2))
    later = np.random.default_rng(19000 + seed)  # what was added stays apart from what was there
    dropped = glasses and bool(later.random() < 0.3)
    fringe = float(later.choice([0.0, 0.7, 1.1], p=[0.86, 0.06, 0.08]))
    cap = str(later.choice(["", "cap", "scarf"], p=[0.88, 0.06, 0.06]))
    cast = str(later.choice(list(CASTS), p=[0.7, 0.1, 0.1, 0.1]))
    made = portrait.Params(
        width=SIZE[0],
        height=SIZE[1],
        seed=100 + seed,
        yaw=float(np.clip(pose[0], -18, 18)),
        pitch=float(np.clip(pose[1], -14, 14)),
        roll=float(np.clip(pose[2], -9, 9)),
        head_frac=float(rng.uniform(0.45, 0.62)),
        cx=float(rng.uniform(0.45, 0.55)),
        top=float(rng.uniform(0.12, 0.2)),
        skin=tuple(float(v * rng.uniform(0.9, 1.1)) for v in SKINS[skin]),
        stubble=float(rng.choice([0, 0, 0.5])),
        age=float(rng.uniform(0.1, 0.9)),
        hair="bald" if cap else cut,  # what is covered is not seen
        hair_color=HAIRS[hair],
        brow_color=HAIRS[hair],
        eye_open=lids,
        iris=tuple(float(v) for v in rng.uniform(0.03, 0.22, 3)),
        gaze=(float(gaze[0]), float(gaze[1])),
        mouth_open=float(rng.choice([0, 0, 0, 0.5])),
        smile=float(rng.choice([0, 0, 0.4])),
        glasses=glasses,
        glare=float(rng.choice([0, 0.9])) if glasses else 0.0,
        backdrop="plain" if rng.random() < 0.8 else "clutter",
        bg=tuple(float(v) for v in rng.choice([0.95, 0.5, 0.12]) * np.array((1, 1.03, 1.06))),
        bg_shadow=float(rng.choice([0.0, 0.4, 1.0])),
        face_w=float(rng.uniform(0.94, 1.06)),
        jaw_w=float(rng.uniform(0.92, 1.08)),
        nose_w=float(rng.uniform(0.9, 1.12)),
        lips=float(rng.uniform(0.8, 1.25)),
        eye_s=float(rng.uniform(0.94, 1.06)),
        face_l=float(rng.uniform(0.95, 1.05)),
        key=LIGHTS[light],
        key_i=float(rng.uniform(0.8, 1.3)),
        fill_i=float(rng.uniform(0.1, 0.6)),
        exposure=float(rng.choice([0.62, 0.62, 0.35, 0.95])),
        noise=float(rng.uniform(0.004, 0.014)),
        blur=float(rng.choice([0.5, 0.5, 1.6])),
        frame_drop=float(later.uniform(1.45, 2.0)) if dropped else 0.0,
        frame_thick=float(later.uniform(0.45, 1.3)),
        frame_color=tuple(float(v) for v in (FRAMES[int(later.integers(len(FRAMES)))])),
        fringe=0.0 if cap else fringe,
        fringe_side=int(later.choice([-1, 1])),
        cap=cap,
        cap_color=tuple(float(v) for v in later.uniform(0.02, 0.5, 3)),
        lean=float(later.normal(0, 3)),
        cast=CASTS[cast],
        red_eye=float(later.choice([0.0, 0.7], p=[0.88, 0.12])),
    )
    return made, {"skin": skin, "hair": hair, "cut": cap or cut, "light": light, "cast": cast}


def make(folder: Path, seed: int) -> None:
    """Render one portrait, unless it is there."""
    path = folder / f"{seed:03}.png"
    if path.with_suffix(".json").exists():
        return
    settings, kinds = sitter(seed)
    picture, truth = portrait.render(settings)
    Image.fromarray(picture).save(path)
    Image.fromarray((truth["mask"] * 255).astype(np.uint8)).save(folder / f"{seed:03}-mask.png")
    held = {
        "kinds": kinds,
        "settings": asdict(settings),
        "mesh": np.asarray(truth["landmarks"]).round(2).tolist(),
        "iris": np.asarray(truth["iris"]).round(2).tolist(),
        "skull_top": np.asarray(truth["skull_top"]).round(2).tolist(),
        "hair_top": float(truth["hair_top"]),
    }
    path.with_suffix(".json").write_text(json.dumps(held) + "\n")


def main() -> None:
    folder, count = Path(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 150
    folder.mkdir(parents=True, exist_ok=True)
    for seed in range(count):
        make(folder, seed)
        print(f"{seed + 1} of {count}", flush=True)


if __name__ == "__main__":
    main()
