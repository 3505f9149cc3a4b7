"""Where words stand in a picture, told without reading any."""

from __future__ import annotations

import numpy as np
import pytest
from PIL import Image, ImageDraw

from aptandum.core.fitting.finish.caption import Caption, letters
from aptandum.core.fitting.finish.glyphs import FONTS
from aptandum.core.photo.words_found import find_words
from samples import DEMO, THOROUGH, scene

TEXTS = (
    "Night round",
    "Vessary Ferries",
    "OPEN DAILY",
    "Deck 3 aft",
    "Lantern Quay",
    "harbour 1208",
    "Keepers’ Hall",
)


def ground(rng: np.random.Generator, wide: int, high: int) -> np.ndarray:
    kind = int(rng.integers(0, 4))
    if kind == 0:
        made = np.empty((high, wide, 3), np.uint8)
        made[:] = rng.integers(0, 256, 3)
        return made
    if kind == 1:
        a, b = rng.integers(0, 256, (2, 3))
        share = np.linspace(0, 1, high)[:, None, None]
        return np.broadcast_to(a * (1 - share) + b * share, (high, wide, 3)).astype(np.uint8)
    return scene(wide, high, int(rng.integers(1, 40)), 3.0 if kind == 2 else 8.0)


def with_words(seed: int) -> tuple[np.ndarray, list[tuple[int, int, int, int]]]:
    """A picture with one or two lines of words, and their boxes."""
    rng = np.random.default_rng(seed)
    wide, high = int(rng.integers(500, 1000)), int(rng.integers(400, 800))
    pixels = ground(rng, wide, high).astype(np.float64)
    boxes = []
    for anchor in rng.choice(
        ["top left", "top", "middle", "bottom", "bottom right"], int(rng.integers(1, 3)), False
    ):
        wish = Caption(
            text=str(rng.choice(TEXTS)),
            size=float(rng.uniform(20, 64)),
            font=str(rng.choice(list(FONTS))),
            anchor=str(anchor),
            margin=24,
        )
        words = letters(wish, (wide, high), 1.0, False)
        assert words is not None and not words.cut and words.share is not None
        left, top, across, down = words.box
        part = pixels[top : top + down, left : left + across]
        tone = 250.0 if part.mean() < 128 else 8.0
        part += (tone - part) * words.share[..., None]
        boxes.append(words.box)
    return pixels.astype(np.uint8), boxes


def without_words(seed: int) -> np.ndarray:
    """Scenes, shapes, windows, railings, stripes, dots, noise."""
    rng = np.random.default_rng(seed)
    wide, high = int(rng.integers(500, 1000)), int(rng.integers(400, 800))
    pixels = ground(rng, wide, high)
    picture = Image.fromarray(pixels)
    pen = ImageDraw.Draw(picture)
    tone = tuple(int(v) for v in rng.integers(0, 256, 3))
    kind = seed % 8
    if kind == 0:  # windows
        for x in range(40, wide - 60, 46):
            for y in range(60, high - 80, 64):
                pen.rectangle((x, y, x + 22, y + 34), fill=tone)
    elif kind == 1:  # railings
        for x in range(20, wide - 20, 18):
            pen.rectangle((x, high // 2, x + 4, high // 2 + 90), fill=tone)
    elif kind == 2:  # dots
        for x in range(30, wide - 30, 40):
            for y in range(30, high - 30, 40):
                pen.ellipse((x, y, x + 14, y + 14), fill=tone)
    elif kind == 3:  # leaves
        for _ in range(60):
            x, y, r = rng.uniform(0, wide), rng.uniform(0, high), rng.uniform(8, 60)
            pen.pieslice(
                (x - r, y - r / 2, x + r, y + r / 2), *sorted(rng.uniform(0, 360, 2)), fill=tone
            )
    elif kind == 4:  # waves
        for y in range(40, high, 30):
            pen.line(
                [(x, y + 9 * np.sin(x / 17 + y)) for x in range(0, wide, 4)], fill=tone, width=4
            )
    elif kind == 5:  # grain
        noise = rng.normal(0, 18, (high, wide, 1))
        picture = Image.fromarray(np.clip(pixels + noise, 0, 255).astype(np.uint8))
    elif kind == 6:  # stones
        for _ in range(40):
            x, y, r = rng.uniform(0, wide), rng.uniform(0, high), rng.uniform(10, 40)
            points = [(x + r * rng.uniform(0.6, 1) * np.cos(a), y + r * rng.uniform(0.6, 1) * np.sin(a))
                      for a in np.linspace(0, 6.28, 9)]  # fmt: skip
            pen.polygon(points, fill=tuple(int(v) for v in rng.integers(0, 256, 3)))
    return np.asarray(picture)


def overlap(one: tuple[float, ...], other: tuple[float, ...]) -> float:
    """Intersection over union of two boxes."""
    wide = min(one[0] + one[2], other[0] + other[2]) - max(one[0], other[0])
    high = min(one[1] + one[3], other[1] + other[3]) - max(one[1], other[1])
    if wide <= 0 or high <= 0:
        return 0.0
    return wide * high / (one[2] * one[3] + other[2] * other[3] - wide * high)


@pytest.mark.long
def test_nine_of_ten_boxes_are_found():
    there = found = 0
    for seed in range(60):
        pixels, boxes = with_words(seed)
        seen = find_words(pixels)
        there += len(boxes)
        found += sum(any(overlap(box, one) >= 0.4 for one in seen) for box in boxes)
    assert found >= 0.9 * there, (found, there)


@pytest.mark.long
def test_where_there_are_none_none_is_found():
    wrong = [seed for seed in range(200 if THOROUGH else 40) if find_words(without_words(seed))]
    assert wrong == []


@pytest.mark.parametrize(
    "name",
    ["blue_jug_03.jpg", "tobin_oar_0212.jpg", "quill_harrow_0119.jpg", "night_moor_stack.jpg"],
)
def test_a_photo_without_words_has_none(name):
    assert find_words(np.asarray(Image.open(DEMO / name).convert("RGB"))) == ()


def test_a_large_picture_and_a_tiny_one():
    pixels, (box, *_more) = with_words(3)
    large = np.asarray(Image.fromarray(pixels).resize((pixels.shape[1] * 4, pixels.shape[0] * 4)))
    assert any(overlap(tuple(4 * v for v in box), one) > 0.3 for one in find_words(large))
    assert find_words(np.zeros((4, 4, 3), np.uint8)) == ()
