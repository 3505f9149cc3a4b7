"""Render the demo's photos from nothing but our own descriptions of scenes, with fixed seeds.

    python tools/render_photos.py [--only NAME …] [--out FOLDER]

Needs NumPy, SciPy, OpenCV (rasterising of strands and curves) and Pillow. About six minutes
on two cores. Each photo carries a fault of real life: turned by EXIF and in a wide space, off
centre, too small, untagged, dark to the edges. The true points of a portrait are written
beside it as JSON.
"""

from __future__ import annotations

import argparse
import io
import json
import sys
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image, ImageCms
from scipy import ndimage

HERE = Path(__file__).resolve().parent
sys.path[:0] = [str(HERE)]
import portrait  # noqa: E402
import scenes  # noqa: E402

DATA = HERE.parent / "src/aptandum/data"
PROFILES = DATA / "profiles"


def tone(light: np.ndarray, exposure: float) -> np.ndarray:
    """Linear light to encoded sRGB 0..1 through a film-like shoulder."""
    x = np.clip(light * exposure, 0, None)
    x = np.clip((x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14), 0, 1)
    return np.where(x <= 0.0031308, 12.92 * x, 1.055 * x ** (1 / 2.4) - 0.055)


def camera(
    encoded: np.ndarray, size: tuple[int, int], seed: int, grain: float, blur: float = 0.0
) -> np.ndarray:
    """Enlarge to a sensor's pixels, with the lens's softness, fall-off and the sensor's grain."""
    rng = np.random.default_rng(seed)
    wide, high = size
    planes = [
        np.asarray(
            Image.fromarray(np.ascontiguousarray(encoded[..., i], np.float32), "F").resize(
                size, Image.Resampling.BICUBIC
            )
        )
        for i in range(3)
    ]
    image = np.stack(planes, -1)
    if blur:
        image = ndimage.gaussian_filter(image, (blur, blur, 0))
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    corner = ((x / wide - 0.5) ** 2 + (y / high - 0.5) ** 2) * 2
    image *= (1 - 0.16 * corner**1.5)[..., None]
    luma = rng.standard_normal((high, wide), np.float32)
    luma = ndimage.gaussian_filter(luma, 0.75) * 1.9
    chroma = ndimage.gaussian_filter(
        rng.standard_normal((high // 2, wide // 2, 3), np.float32), (1.2, 1.2, 0)
    )
    chroma = np.repeat(np.repeat(chroma, 2, 0), 2, 1)
    chroma = np.pad(
        chroma, ((0, high - chroma.shape[0]), (0, wide - chroma.shape[1]), (0, 0)), "edge"
    )
    strength = grain * (0.45 + 0.9 * np.sqrt(np.clip(image.mean(-1, keepdims=True), 0, 1)) * 0.6)
    image = image + strength * (luma[..., None] + 0.5 * chroma)
    dither = rng.random((high, wide, 3), np.float32) - 0.5
    return np.clip(image * 255 + dither + 0.5, 0, 255).astype(np.uint8)


def in_space(pixels: np.ndarray, space: str) -> Image.Image:
    picture = Image.fromarray(pixels)
    if space == "srgb":
        return picture
    return ImageCms.profileToProfile(
        picture, str(PROFILES / "srgb.icc"), str(PROFILES / f"{space}.icc"), 1
    )


def save(
    picture: Image.Image, path: Path, quality: int, space: str | None, exif: Image.Exif, ppi: int
) -> None:
    icc = (PROFILES / f"{space}.icc").read_bytes() if space else None
    out = io.BytesIO()
    picture.save(
        out,
        "JPEG",
        quality=quality,
        subsampling=2,
        optimize=True,
        icc_profile=icc,
        exif=exif,
        dpi=(ppi, ppi),
    )
    path.write_bytes(out.getvalue())
    print(f"{path.name}: {picture.size[0]} x {picture.size[1]}, {len(out.getvalue()) / 1e6:.2f} MB")


def tags(orientation: int = 1, place: bool = False, by: str = "Tobin Oar") -> Image.Exif:
    exif = Image.Exif()
    exif[0x0112] = orientation
    exif[0x0132] = "2026:10:21 17:42:08"
    exif[0x013B] = by
    exif[0x8298] = f"{by}, Vessary"
    if place:  # a spot of open sea, so that there is a location to be dropped
        gps = exif.get_ifd(0x8825)
        gps[1], gps[2] = "N", (47.0, 12.0, 30.0)
        gps[3], gps[4] = "W", (21.0, 4.0, 12.0)
    return exif


PORTRAIT = portrait.Params(
    width=1200,
    height=1800,
    head_frac=0.45,
    cx=0.555,
    top=0.165,
    hair="bob",
    hair_color=(0.050, 0.027, 0.016),
    skin=(0.56, 0.35, 0.26),
    smile=0.28,
    cloth=(0.05, 0.075, 0.10),
    yaw=-5,
    pitch=0.8,
    roll=-1.5,
    eye_open=1.2,
    eye_s=1.06,
    brow=1.2,
    lips=1.08,
    face_w=0.98,
    jaw_w=0.92,
    face_l=0.95,
    nose_l=0.9,
    age=0.15,
    seed=11,
    key=(-0.6, 0.7, 1.0),
    blur=0.5,
    noise=0.002,
    lip=(0.50, 0.20, 0.18),
)


def ines(out: Path) -> None:
    """A portrait: 24 megapixels, wide space, turned by EXIF, the head off centre."""
    pixels, truth = portrait.render(PORTRAIT)
    size = (4000, 6000)
    shown = camera(pixels.astype(np.float32) / 255, size, 5, 0.017, 0.8)
    stored = np.ascontiguousarray(np.rot90(shown))
    save(
        in_space(stored, "adobe-rgb"),
        out / "ines_marrow_0417.jpg",
        82,
        "adobe-rgb",
        tags(6, place=True),
        300,
    )
    factor = size[0] / PORTRAIT.width
    points: dict[str, Any] = {
        "size": size,
        "eyes": (truth["iris"] * factor).round(1).tolist(),
        "chin": (truth["landmarks"][152] * factor).round(1).tolist(),
        "hair_top": float(truth["hair_top"] * factor),
    }
    (out / "ines_marrow_0417.json").write_text(json.dumps(points, indent=1) + "\n")


# Four more people for whom a frame is not as easy: dark skin and glasses; a tilted head; hair at
# the very top of the photo; a cluttered wall behind.
SITTERS: dict[str, tuple[str, portrait.Params, tuple[int, int]]] = {
    "tobin": (
        "tobin_oar_0212.jpg",
        portrait.Params(
            width=800,
            height=1000,
            head_frac=0.5,
            cx=0.49,
            top=0.16,
            hair="short",
            glasses=True,
            hair_color=(0.012, 0.009, 0.008),
            skin=(0.175, 0.085, 0.052),
            redness=0.7,
            stubble=0.35,
            iris=(0.05, 0.03, 0.02),
            clothes="suit",
            yaw=4,
            roll=0.6,
            nose_w=1.14,
            lips=1.2,
            lip=(0.22, 0.09, 0.08),
            jaw_w=1.05,
            face_w=1.03,
            age=0.35,
            seed=23,
            blur=0.5,
            noise=0.002,
            key=(0.6, 0.75, 1.0),
        ),
        (2400, 3000),
    ),
    "mirelle": (
        "mirelle_dace_0031.jpg",
        portrait.Params(
            width=800,
            height=1000,
            head_frac=0.46,
            cx=0.52,
            top=0.19,
            hair="long",
            hair_color=(0.16, 0.055, 0.02),
            skin=(0.62, 0.42, 0.34),
            freckles=0.7,
            smile=0.35,
            iris=(0.07, 0.14, 0.10),
            clothes="vneck",
            cloth=(0.06, 0.10, 0.07),
            yaw=-3,
            roll=8.0,
            face_l=1.02,
            eye_s=1.05,
            lips=1.1,
            age=0.1,
            seed=31,
            blur=0.5,
            noise=0.002,
            key=(-0.5, 0.8, 1.0),
        ),
        (2400, 3000),
    ),
    "osk": (
        "osk_fennel_0508.jpg",
        portrait.Params(
            width=800,
            height=1000,
            head_frac=0.62,
            cx=0.5,
            top=0.004,
            hair="short",
            hair_color=(0.23, 0.19, 0.15),
            skin=(0.50, 0.31, 0.23),
            age=0.8,
            stubble=0.25,
            iris=(0.12, 0.17, 0.22),
            clothes="crew",
            cloth=(0.18, 0.16, 0.13),
            yaw=2,
            roll=-1.0,
            face_w=1.05,
            jaw_w=1.08,
            nose_l=1.08,
            nose_w=1.05,
            seed=41,
            blur=0.5,
            noise=0.002,
            key=(-0.7, 0.6, 1.0),
        ),
        (2400, 3000),
    ),
    "quill": (
        "quill_harrow_0119.jpg",
        portrait.Params(
            width=800,
            height=1000,
            head_frac=0.44,
            cx=0.43,
            top=0.22,
            hair="bob",
            backdrop="clutter",
            hair_color=(0.030, 0.024, 0.020),
            skin=(0.40, 0.235, 0.15),
            smile=0.2,
            iris=(0.06, 0.04, 0.03),
            clothes="crew",
            cloth=(0.20, 0.05, 0.05),
            yaw=-6,
            roll=2.2,
            eye_s=0.98,
            nose_l=0.95,
            face_w=0.99,
            lips=1.12,
            age=0.2,
            seed=53,
            blur=0.5,
            noise=0.002,
            key=(0.4, 0.8, 1.0),
        ),
        (2400, 3000),
    ),
}


def sitter(name: str, out: Path) -> None:
    """One of the four, in sRGB, with the true points beside it."""
    file, wanted, size = SITTERS[name]
    pixels, truth = portrait.render(wanted)
    shown = camera(pixels.astype(np.float32) / 255, size, wanted.seed, 0.018, 0.7)
    save(Image.fromarray(shown), out / file, 80, "srgb", tags(by="Ines Marrow"), 300)
    factor = size[0] / wanted.width
    points: dict[str, Any] = {
        "size": size,
        "eyes": (truth["iris"] * factor).round(1).tolist(),
        "chin": (truth["landmarks"][152] * factor).round(1).tolist(),
        "hair_top": float(truth["hair_top"] * factor),
        "roll": wanted.roll,
    }
    (out / file).with_suffix(".json").write_text(json.dumps(points, indent=1) + "\n")


def quay(out: Path) -> None:
    """A harbour at dusk, landscape, sRGB."""
    image = tone(scenes.harbour(1800, 1200, 3), 1.15)
    save(
        Image.fromarray(camera(image, (3900, 2600), 6, 0.020)),
        out / "lantern_quay_dusk.jpg",
        84,
        "srgb",
        tags(),
        240,
    )


def blue_jug(out: Path) -> None:
    """A jug on an almost white table: small and untagged."""
    image = tone(scenes.jug(1280, 960, 4), 0.74)
    save(
        Image.fromarray(camera(image, (1280, 960), 7, 0.012)),
        out / "blue_jug_03.jpg",
        90,
        None,
        tags(by="Quill Harrow"),
        72,
    )


def moor(out: Path) -> None:
    """A night sky, dark to the edges, in Display P3."""
    image = tone(scenes.night(3000, 2000), 4.6)
    picture = in_space(camera(image, (4500, 3000), 8, 0.020), "display-p3")
    save(picture, out / "night_moor_stack.jpg", 80, "display-p3", tags(), 300)


PHOTOS: dict[str, Callable[[Path], None]] = {
    "ines": ines,
    "quay": quay,
    "jug": blue_jug,
    "moor": moor,
    **{name: partial(sitter, name) for name in SITTERS},
}


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("--only", nargs="*", choices=sorted(PHOTOS), default=list(PHOTOS))
    parser.add_argument("--out", type=Path, default=DATA / "demo")
    chosen = parser.parse_args()
    chosen.out.mkdir(parents=True, exist_ok=True)
    for name in chosen.only:
        PHOTOS[name](chosen.out)


if __name__ == "__main__":
    main()
