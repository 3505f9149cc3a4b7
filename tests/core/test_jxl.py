"""JPEG XL is read with all that it tells; what moves, or is in fractions or inks, is called not supported."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pyjpegxl
import pytest
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo import apart, jxl_header
from aptandum.core.photo.decode import full_facts, open_photo
from aptandum.core.photo.profile import shipped
from aptandum.core.rulebook.shelf import read_shelf
from samples import jpeg, scene

SCENE = scene(240, 320)


def exif() -> bytes:
    made = Image.Exif()
    made[0x010F], made[0x013B], made[0x0112] = "Vessary Instruments", "Ines Marrow", 6
    made[0x8825] = {1: "N", 2: (54.0, 10.0, 30.0), 3: "E", 4: (7.0, 53.0, 6.0)}
    return made.tobytes()[6:]


def jxl(pixels: np.ndarray, **more: object) -> bytes:
    return pyjpegxl.encode_from_numpy(np.ascontiguousarray(pixels), **more)


FILES = {
    "plain": jxl(SCENE),
    "whole": jxl(SCENE, lossless=True),
    "deep": jxl(SCENE.astype(np.uint16) * 257, lossless=True),
    "clear": jxl(np.dstack([SCENE, np.full(SCENE.shape[:2], 128, np.uint8)])),
    "grey": jxl(SCENE[..., :1]),
    "wide": jxl(SCENE, icc=shipped("display-p3")),
    "told": jxl(SCENE, exif=exif()),
    "from-jpeg": pyjpegxl.jpeg_to_jxl(jpeg(SCENE, exif=b"Exif\0\0" + exif())),
}


@pytest.fixture(scope="module")
def files(tmp_path_factory) -> dict[str, Path]:
    folder = tmp_path_factory.mktemp("jxl")
    for name, data in FILES.items():
        (folder / f"{name}.jxl").write_bytes(data)
    return {name: folder / f"{name}.jxl" for name in FILES}


@pytest.mark.parametrize("name", FILES)
def test_facts(files, name: str):
    facts = full_facts(files[name])
    assert facts.format == "jxl" and facts.error is None and facts.decodes is True
    # A codestream made of a turned JPEG is turned by its decoder.
    assert facts.size == ((320, 240) if name == "from-jpeg" else (240, 320))
    assert facts.bits == (16 if name == "deep" else 8) and facts.orientation == 1
    assert facts.mode == ("grey" if name == "grey" else "rgb")
    assert facts.alpha is (name == "clear")
    spaces = {"wide": "display-p3", "grey": "grey"}
    assert facts.colour_space == spaces.get(name, "srgb")
    assert facts.location is (name in ("told", "from-jpeg"))


def test_pixels_are_those_that_were_put_in(files):
    for name in ("plain", "whole", "deep", "clear", "grey"):
        facts, data = full_facts(files[name]), files[name].read_bytes()
        image, turn = apart.open_pixels(data, facts)
        pixels = image.numpy()
        assert turn == 1 and pixels.dtype == (np.uint16 if name == "deep" else np.uint8)
        want = SCENE[..., :1] if name == "grey" else SCENE
        full = 65535 if name == "deep" else 255
        off = np.abs(pixels.reshape(320, 240, -1)[..., : want.shape[2]] / full - want / 255)
        assert off.mean() < (1e-6 if name in ("whole", "deep") else 0.03), name


def test_what_it_tells_of_its_making(files):
    told = apart.credit_of(files["told"].read_bytes())
    assert told.by == "Ines Marrow" and told.camera[0x010F] == "Vessary Instruments"


@pytest.mark.parametrize("name", FILES)
def test_it_is_made_into_a_jpeg(files, name: str):
    brief = read_shelf().find("vessary-ferries/deck-pass")[1]
    made = conform(open_photo(files[name]), brief, Settings()).made
    with Image.open(io.BytesIO(made.data)) as picture:
        assert picture.format == "JPEG" and not picture.getexif().get_ifd(0x8825)


@pytest.mark.parametrize("share", [0.3, 0.7, 0.95])
def test_one_that_is_cut_short_is_told(files, tmp_path: Path, share: float):
    data = files["whole"].read_bytes()
    path = tmp_path / "cut.jxl"
    path.write_bytes(data[: int(len(data) * share)])
    assert "cut.jxl cannot be read as JPEG XL" in (full_facts(path).error or "")


class Bits:
    """Writes numbers as ISO/IEC 18181-1 packs them."""

    def __init__(self) -> None:
        self.value = self.at = 0

    def put(self, value: int, bits: int) -> Bits:
        self.value |= value << self.at
        self.at += bits
        return self

    def file(self) -> bytes:
        return b"\xff\x0a" + self.value.to_bytes((self.at + 7) // 8 + 40, "little")


def head(animated: bool = False, turn: int = 1) -> Bits:
    bits = Bits().put(0, 1).put(1, 2).put(4999, 13).put(0, 3).put(2, 2).put(59_999, 18)
    return bits.put(0, 1).put(1, 1).put(turn - 1, 3).put(0, 1).put(0, 1).put(int(animated), 1)


def test_a_header_tells_size_and_kind_without_a_decoder():
    assert jxl_header.read(FILES["deep"]).bits == 16
    moving = jxl_header.read(head(animated=True).file())
    assert moving == jxl_header.Header(60_000, 5000, moving=True)
    turned = head(turn=6).put(0, 1).put(3, 2).put(13, 6).put(0, 1).put(0, 2).put(1, 1).put(1, 1)
    assert jxl_header.read(turned.file()) == jxl_header.Header(5000, 60_000, 14)
    fractions = head().put(1, 1).put(0, 2).put(7, 4).put(0, 1).put(0, 2)
    assert jxl_header.read(fractions.file()).fractions
    inks = head().put(0, 1).put(0, 2).put(0, 1).put(1, 2).put(0, 1).put(2, 2).put(2, 4)
    inks.put(0, 1).put(0, 2).put(0, 2).put(0, 2).put(0, 1).put(0, 1).put(1, 1)
    assert jxl_header.read(inks.file()) == jxl_header.Header(60_000, 5000, black=True, profile=True)


@pytest.mark.parametrize("moving", [True, False])
def test_it_is_refused_by_its_header(tmp_path: Path, moving: bool):
    path = tmp_path / "it.jxl"
    if moving:
        bits = Bits().put(1, 1).put(4, 5).put(1, 3).put(0, 1).put(1, 1).put(0, 5).put(1, 1)
    else:
        bits = Bits().put(0, 1).put(3, 2).put(59_999, 30).put(1, 3).put(1, 1)
    path.write_bytes(bits.file())
    says = "only still pictures are supported" if moving else "at most 400 are opened"
    assert says in (full_facts(path).error or "")
