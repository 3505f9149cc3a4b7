"""How two other programs, packages of Debian, read files that were made here: exiftool and ImageMagick's identify."""

from __future__ import annotations

import io
import json
import shutil
import subprocess
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from aptandum.core.conform import Proof, conform
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.profile import shipped
from aptandum.core.rulebook.shelf import Brief
from samples import scene

ANY = Brief("any", "", ())
THERE = shutil.which("exiftool") is not None and shutil.which("identify") is not None


def photos(folder: Path) -> list[Path]:
    """Photos of every depth, space and kind, with camera data, places and orientations."""
    exif = Image.Exif()
    exif[0x010F], exif[0x0110], exif[0x013B] = "Vessary Instruments", "VI-4", "Ines Marrow"
    exif[0x8298], exif[0x0132] = "© Pier Office", "2026:11:02 17:40:00"
    exif.get_ifd(0x8769).update({0x829A: 0.01, 0x8827: 200, 0xA434: "VI 50 mm"})
    exif.get_ifd(0x8825).update({1: "N", 2: (54.0, 10.0, 30.0), 3: "E", 4: (7.0, 53.0, 6.0)})
    turned = Image.Exif()
    turned.load(exif.tobytes())
    turned[0x0112] = 6
    xmp = (
        b'<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">'
        b'<rdf:Description xmlns:exif="http://ns.adobe.com/exif/1.0/" exif:GPSLatitude="54,10.5N" '
        b'exif:GPSLongitude="7,53.1E"/></rdf:RDF></x:xmpmeta>'
    )
    pixels = scene(96, 72, 3)
    clear = np.dstack([pixels, (np.indices((72, 96))[1] * 2).astype(np.uint8)])
    colour = Image.fromarray(pixels)
    made: dict[str, tuple[Image.Image, dict[str, Any]]] = {
        "plain.jpg": (colour, {"exif": exif, "xmp": xmp, "dpi": (240, 240), "quality": 92}),
        "turned.jpg": (colour, {"exif": turned, "quality": 90}),
        "wide.jpg": (colour, {"icc_profile": shipped("display-p3"), "exif": exif}),
        "grey.jpg": (colour.convert("L"), {"exif": exif}),
        "grey.png": (colour.convert("L"), {"dpi": (300, 300)}),
        "clear.png": (Image.fromarray(clear), {"icc_profile": shipped("srgb")}),
        "veil.png": (Image.fromarray(clear).convert("LA"), {}),
        "few.png": (colour.quantize(40), {}),
        "few.gif": (colour.quantize(12), {}),
        "plain.tif": (colour, {"exif": exif, "compression": "tiff_lzw"}),
        "plain.webp": (colour, {"exif": exif, "xmp": xmp}),
        "clear.webp": (Image.fromarray(clear), {"lossless": True}),
        "plain.bmp": (colour, {}),
        "plain.avif": (colour, {"exif": exif, "quality": 80}),
    }
    for name, (image, options) in made.items():
        image.save(folder / name, **options)
    deep = np.dstack([np.linspace(0, 65535, 96)[None].repeat(72, 0)] * 3).astype(np.uint16)
    import cv2

    cv2.imwrite(str(folder / "deep.png"), deep)
    cv2.imwrite(str(folder / "deep-grey.tif"), deep[..., 0])
    cv2.imwrite(str(folder / "deep-clear.png"), np.dstack([deep, deep[..., :1] // 2]))
    return sorted(folder.iterdir())


FORMATS = ("jpeg", "png", "tiff", "webp", "avif", "gif", "bmp")
SPACES = (None, None, "srgb", "adobe-rgb", "display-p3", "prophoto", "grey")


def wishes(chance: np.random.Generator) -> dict[str, Any]:
    """Settings by chance: format, space, bits, size, density, what the file tells."""
    format_ = str(chance.choice(FORMATS))
    made: dict[str, Any] = {
        "file.format": format_,
        "colour.space": SPACES[int(chance.integers(len(SPACES)))],
        "colour.bits": [None, None, 8, 16, 1][int(chance.integers(5))],
        "file.ppi": [None, 72.0, 300.0, 254.0][int(chance.integers(4))],
    }
    if chance.random() < 0.5:
        made["frame.output"] = (int(chance.integers(20, 120)), int(chance.integers(20, 120)))
    if chance.random() < 0.4:
        made["file.metadata.credit"] = "=Tobin Oar"
    if chance.random() < 0.3 and format_ == "jpeg":
        made["file.progressive"] = bool(chance.random() < 0.5)
    return {key: value for key, value in made.items() if value is not None}


@dataclass(frozen=True)
class Case:
    """One file that was made, and what made it."""

    path: Path
    photo: str
    asked: dict[str, Any]
    proof: Proof


def cases(folder: Path, count: int, seed: int) -> tuple[list[Case], list[str]]:
    """Files made by chance; and for those that could not be made, the sentence that said why."""
    supplied = folder / "supplied"
    supplied.mkdir()
    chance = np.random.default_rng(seed)
    every = photos(supplied)
    made: list[Case] = []
    refused: list[str] = []
    while len(made) < count:
        photo, asked = every[int(chance.integers(len(every)))], wishes(chance)
        try:
            proof = conform(open_photo(photo), ANY, Settings().having(asked))
        except PhotoError as error:
            refused.append(str(error))
            assert len(refused) < count, refused[-3:]
            continue
        path = folder / f"{len(made):03}.{proof.suggested.rsplit('.', 1)[1]}"
        path.write_bytes(proof.made.data)
        made.append(Case(path, photo.name, asked, proof))
    return made, refused


def by_exiftool(paths: list[Path]) -> list[dict[str, Any]]:
    call = ["exiftool", "-json", "-G1", "-n", "-a", "-struct", *map(str, paths)]
    said = subprocess.run(call, capture_output=True, check=False, timeout=600)
    held: list[dict[str, Any]] = json.loads(said.stdout)
    return held


_ASKED = "%i|%m|%w|%h|%z|%[colorspace]|%x|%y|%U|%[orientation]|%[profile:icc]|%A|%[type]\\n"


def by_identify(paths: list[Path]) -> dict[str, list[list[str]]]:
    call = ["identify", "-format", _ASKED, *map(str, paths)]
    said = subprocess.run(call, capture_output=True, check=False, timeout=600)
    found: dict[str, list[list[str]]] = {}
    for line in said.stdout.decode("utf-8", "replace").splitlines():
        name, *rest = line.split("|")
        found.setdefault(name, []).append(rest)
    for path in set(map(str, paths)) - set(found):
        alone = subprocess.run(["identify", path], capture_output=True, check=False, timeout=60)
        raise AssertionError(
            f"{path}: {alone.stdout!r} {alone.stderr!r}, {len(found)} {said.stderr[-300:]!r}"
        )
    return found


def carried(case: Case) -> dict[str, Any]:
    """What a file has to hold by what made it."""
    line, format_ = case.proof.line, case.proof.made.format
    return {
        "size": line.frame.output,
        "ppi": line.file.ppi if format_ != "gif" else None,
        "bits": line.colour.bits,
        "profile": bool(line.colour.icc) and format_ not in ("gif", "bmp") and line.colour.bits > 1,
    }


def pixels_of(path: Path) -> np.ndarray:
    """A file's pixels as ImageMagick reads them, 8 bit, with transparency."""
    call = ["/usr/bin/convert", f"{path}[0]", "-depth", "8", "png32:-"]
    made = subprocess.run(call, capture_output=True, check=True, timeout=60).stdout
    with Image.open(io.BytesIO(made)) as picture:
        return np.asarray(picture.convert("RGBA"))
