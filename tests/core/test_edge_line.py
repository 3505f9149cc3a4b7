"""A line just inside the edge is measured to the pixel in any file, or said to be unclear; never missed."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.docket.audit import check_file
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge import edge_line
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped
from samples import DEMO, brief_of, clause, scene

SRGB = shipped("srgb")
PHOTOS = sorted(DEMO.glob("*.jpg"))[:6]


def ground(chance: np.random.Generator) -> np.ndarray:
    """A picture to draw a line on: rendered, a photo, plain with grain, or a gradient."""
    kind = int(chance.integers(4))
    wide, high = (int(chance.integers(160, 620)) for _ in range(2))
    if kind == 0:
        return scene(
            wide, high, int(chance.integers(90, 140)), grain=float(chance.choice([1, 5, 9]))
        )
    if kind == 1:
        with Image.open(PHOTOS[int(chance.integers(len(PHOTOS)))]) as photo:
            return np.asarray(photo.convert("RGB").resize((wide, high)))
    one, other = chance.integers(0, 256, 3), chance.integers(0, 256, 3)
    if kind == 2:
        grain = chance.normal(0, float(chance.choice([0, 2])), (high, wide, 3))
        return np.clip(one + grain, 0, 255).astype(np.uint8)
    along = np.linspace(0, 1, wide)[None, :, None] * np.ones((high, 1, 1))
    return (one * (1 - along) + other * along).astype(np.uint8)


def with_line(picture: np.ndarray, width: int, colour, strength: float) -> np.ndarray:
    ring = np.ones(picture.shape[:2], bool)
    ring[width : picture.shape[0] - width, width : picture.shape[1] - width] = False
    made = picture.astype(float)
    made[ring] = made[ring] * (1 - strength) + np.asarray(colour, float) * strength
    return np.round(made).astype(np.uint8)


def coded(picture: np.ndarray, chance: np.random.Generator) -> np.ndarray:
    held = io.BytesIO()
    quality, chroma = int(chance.integers(50, 96)), int(chance.integers(3))
    Image.fromarray(picture).save(held, "JPEG", quality=quality, subsampling=chroma)
    return np.asarray(Image.open(held))


def found(pixels: np.ndarray) -> int | None:
    return edge_line.find(Picture(pixels, SRGB, False)).width


@pytest.mark.long
def test_two_hundred_lines_are_never_taken_for_narrower_ones():
    chance = np.random.default_rng(2026)
    right = unclear = 0
    for n in range(200):
        picture = ground(chance)
        width, strength = int(chance.integers(1, 13)), float(chance.choice([1, 1, 0.75, 0.5]))
        near = picture[: width + 1].reshape(-1, 3).mean(axis=0)
        colour = [
            (255, 255, 255),
            (0, 0, 0),
            (200, 30, 30),
            chance.integers(0, 256, 3),
            np.clip(near + chance.choice([-1, 1]) * chance.uniform(15, 40), 0, 255),
        ][n % 5]
        told = found(coded(with_line(picture, width, colour, strength), chance))
        right += told == width
        unclear += told is None
        assert told is None or told >= width, (n, width, told)
    assert right >= 190 and unclear <= 8


@pytest.mark.long
def test_pictures_without_a_line_have_none():
    chance = np.random.default_rng(7)
    told = [found(coded(ground(chance), chance)) for _ in range(120)]
    assert set(told) <= {0, None} and told.count(None) <= 2


@pytest.mark.parametrize("width", [13, 30, 47, 48, 50, 51, 70, 120])
def test_wide_lines(width: int):
    picture = with_line(scene(560, 420, 4), width, (250, 250, 250), 1)
    assert found(coded(picture, np.random.default_rng(width))) == width


def test_bars_on_two_sides_are_no_line():
    picture = scene(420, 300, 4)
    picture[:30] = picture[-30:] = 0
    assert found(coded(picture, np.random.default_rng(1))) == 0


def test_a_line_within_a_line_counts_as_one():
    outer = with_line(with_line(scene(420, 300, 4), 9, (0, 0, 0), 1), 3, (255, 255, 255), 1)
    assert found(coded(outer, np.random.default_rng(3))) in (9, None)


@pytest.mark.parametrize("mode", ["L", "RGBA", "deep"])
def test_other_pixels(mode: str):
    picture = with_line(scene(300, 240, 4), 4, (255, 255, 255), 0.8)
    if mode == "L":
        assert found(picture[..., 1:2]) == 4
    elif mode == "deep":
        assert found(picture.astype(np.uint16) * 257) == 4
    else:
        alpha = np.full((*picture.shape[:2], 1), 0, np.uint8)
        alpha[4:-4, 4:-4] = 200
        both = np.concatenate([scene(300, 240, 4), 255 - alpha], axis=2)
        assert edge_line.find(Picture(both, SRGB, True)).width == 4


@pytest.mark.parametrize("colour", [(200, 30, 30), (235, 235, 235)])
def test_a_limit_is_not_met_by_a_line_that_chroma_smears(tmp_path, colour):
    brief = brief_of(clause("keyline_width", at_most=3))
    for width, verdict in ((5, "misses"), (1, "meets")):
        path = tmp_path / f"{width}.jpg"
        picture = with_line(scene(420, 300, 5), width, colour, 1)
        Image.fromarray(picture).save(path, quality=60, subsampling=2)
        finding = check_file(str(path), brief).findings.of("keyline_width")
        assert (finding.value, finding.verdict) == (width, verdict)


def test_an_unclear_line_is_unknown_and_says_so(tmp_path):
    chance = np.random.default_rng(8)
    picture = np.clip(120 + chance.normal(0, 5, (300, 400, 3)), 0, 255).astype(np.uint8)
    path = tmp_path / "faint.png"
    for strength in np.linspace(0.001, 0.02, 40):
        Image.fromarray(with_line(picture, 4, (255, 255, 255), strength)).save(path)
        brief = brief_of(clause("keyline_width", at_most=2))
        finding = check_file(str(path), brief).findings.of("keyline_width")
        if finding.verdict == "unknown":
            assert "too faint to be told" in finding.says
            return
    raise AssertionError("a line goes from none to measured without being unclear")


@pytest.mark.long
def test_lines_made_here_are_read_back_at_any_quality(tmp_path):
    chance = np.random.default_rng(5)
    for n in range(24):
        path = tmp_path / f"{n}.png"
        Image.fromarray(ground(chance)).save(path, compress_level=1)
        width = int(chance.integers(1, 13))
        wishes = {
            "finish.keyline.width": width,
            "finish.keyline.colour": ("#FFFFFF", "#C81E1E", "#101010")[n % 3],
            "finish.keyline.strength": (100, 50)[n % 2],
            "file.format": "jpeg",
            "file.quality": int(chance.integers(50, 96)),
            "file.subsampling": ("4:4:4", "4:2:0")[n // 2 % 2],
        }
        brief = brief_of(clause("keyline_width", at_most=width))
        proof = conform(open_photo(path), brief, Settings().having(wishes))
        told = proof.findings.of("keyline_width")
        assert told.value is None or told.value >= width, (n, width, told.value)
        tight = brief_of(clause("keyline_width", at_most=width - 1)) if width > 1 else None
        if tight is not None:
            proof = conform(open_photo(path), tight, Settings().having(wishes))
            assert proof.findings.of("keyline_width").verdict in ("misses", "unknown")
