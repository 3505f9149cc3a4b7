"""What telephones write: HEIC is read with all that it tells, and made into what bodies take."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pillow_heif
import pytest
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo import apart
from aptandum.core.photo.decode import check_pixels, full_facts, open_photo, read_facts
from aptandum.core.photo.facts import NotInside
from aptandum.core.photo.profile import shipped
from aptandum.core.rulebook.shelf import read_shelf
from samples import scene

SCENE = scene(240, 320)


def heic(pixels=SCENE, mode: str = "RGB", **more: object) -> bytes:
    held = io.BytesIO()
    high, wide = pixels.shape[:2]
    pillow_heif.from_bytes(mode=mode, size=(wide, high), data=pixels.tobytes()).save(
        held, quality=92, **more
    )
    return held.getvalue()


@pytest.fixture(scope="module")
def files(tmp_path_factory) -> dict[str, Path]:
    """One file of each kind."""
    folder = tmp_path_factory.mktemp("heic")
    exif = Image.Exif()
    exif[0x010F], exif[0x013B] = "Vessary Instruments", "Ines Marrow"
    exif[0x8825] = {1: "N", 2: (54.0, 10.0, 30.0), 3: "E", 4: (7.0, 53.0, 6.0)}
    turned = Image.Exif()
    turned[0x0112] = 6
    clear = np.dstack([SCENE, np.full(SCENE.shape[:2], 128, np.uint8)])
    made = {
        "plain": heic(),
        "deep": heic(SCENE.astype(np.uint16) * 257, "RGB;16"),
        "clear": heic(clear, "RGBA"),
        "wide": heic(icc_profile=shipped("display-p3")),
        "placed": heic(exif=exif.tobytes()),
        "turned": heic(exif=turned.tobytes()),
    }
    several = pillow_heif.HeifFile()
    for pixels in (scene(90, 60, 7), SCENE):
        several.add_from_pillow(Image.fromarray(pixels))
    held = io.BytesIO()
    several.save(held, quality=92, primary_index=1)
    made["several"] = held.getvalue()
    for name, data in made.items():
        (folder / f"{name}.heic").write_bytes(data)
    return {name: folder / f"{name}.heic" for name in made}


@pytest.mark.long
def test_facts(files):
    facts = {name: full_facts(path) for name, path in files.items()}
    for name, one in facts.items():
        assert one.format == "heic" and one.error is None and one.decodes is True, name
        assert one.size == ((320, 240) if name == "turned" else (240, 320)), name
        assert one.mode == "rgb" and one.frames == 1 and one.orientation == 1
        assert one.bits == (10 if name == "deep" else 8)
        assert one.alpha is (name == "clear")
        assert one.colour_space == ("display-p3" if name == "wide" else "srgb")
        assert one.location is (name == "placed")
    told = apart.credit_of(files["placed"].read_bytes())
    assert told.by == "Ines Marrow" and told.camera[0x010F] == "Vessary Instruments"


def test_pixels_are_those_that_were_put_in(files):
    for name in ("plain", "deep", "clear", "several"):
        path = files[name]
        image, turn = apart.open_pixels(path.read_bytes(), read_facts(path))
        pixels = image.numpy()
        full = 65535 if pixels.dtype == np.uint16 else 255
        assert turn == 1 and (pixels.dtype == np.uint16) is (name == "deep")
        off = np.abs(pixels[..., :3] / full - SCENE / 255).mean()
        assert off < 0.02, name
        other = apart.second(path.read_bytes(), read_facts(path))
        assert np.abs(other[..., :3] / full - SCENE / 255).mean() < 0.02


def test_white_is_white_in_ten_bits(tmp_path: Path):
    path = tmp_path / "white.heic"
    path.write_bytes(heic(np.full((64, 64, 3), 65535, np.uint16), "RGB;16"))
    image, _turn = apart.open_pixels(path.read_bytes(), read_facts(path))
    assert image.numpy().min() >= 65400


def test_what_it_does_not_tell_is_unknown(files):
    data, facts = files["plain"].read_bytes(), read_facts(files["plain"])
    with pytest.raises(NotInside):
        quality, why = apart.inside(data, facts, "quality")["quality"]
        raise NotInside(why) if quality is None else AssertionError
    assert apart.inside(data, facts, "packing")["packing"][0] == ["lossy"]


@pytest.mark.parametrize("name", ["plain", "deep", "clear", "wide", "placed", "turned", "several"])
def test_it_is_made_into_a_jpeg(files, name):
    brief = read_shelf().find("vessary-ferries/deck-pass")[1]
    made = conform(open_photo(files[name]), brief, Settings()).made
    with Image.open(io.BytesIO(made.data)) as picture:
        assert picture.format == "JPEG"
        assert not picture.getexif().get_ifd(0x8825)


@pytest.mark.parametrize("share", [0.3, 0.6, 0.95])
def test_one_that_is_cut_short_is_told(files, tmp_path: Path, share: float):
    data = files["plain"].read_bytes()
    path = tmp_path / "cut.heic"
    path.write_bytes(data[: int(len(data) * share)])
    facts = full_facts(path)
    assert facts.decodes is False and (facts.error or "").startswith(
        "cut.heic cannot be read as HEIC"
    )


def test_a_claim_beyond_all_bounds_is_refused_before_it_is_decoded(tmp_path: Path):
    data = bytearray(heic(scene(64, 64)))
    at = data.find(b"ispe")
    while at >= 0:
        data[at + 8 : at + 16] = (60000).to_bytes(4, "big") * 2
        at = data.find(b"ispe", at + 1)
    path = tmp_path / "vast.heic"
    path.write_bytes(data)
    assert "at most 400 are opened" in (read_facts(path).error or "")


def test_a_flipped_bit_ends_nothing(files):
    data = files["plain"].read_bytes()
    chance = np.random.default_rng(3)
    for _ in range(40):
        spoilt = bytearray(data)
        for _ in range(8):
            spoilt[int(chance.integers(len(data)))] ^= 1 << int(chance.integers(8))
        facts = check_pixels(bytes(spoilt), apart.facts_of_bytes(bytes(spoilt), "spoilt.heic"))
        assert facts.decodes is True or (facts.error or "").startswith("spoilt.heic")
        assert "process that read it" not in (facts.error or "")
