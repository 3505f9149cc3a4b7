"""Colours outside the space that is written, brought to its edge with their hue kept."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.arrays import from_array
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.engine import converted, memory
from aptandum.core.photo.profile import columns_and_curves, shipped
from samples import brief_of, clause

ROWS = np.array(columns_and_curves(shipped("srgb"))[0])


def light(numbers: np.ndarray) -> np.ndarray:
    return np.where(numbers <= 0.04045, numbers / 12.92, ((numbers + 0.055) / 1.055) ** 2.4)


def both(pixels: np.ndarray, source: str, intent: str) -> tuple[np.ndarray, np.ndarray]:
    """What is written in linear light, and where each colour truly lies, shape (n, 3)."""
    made = memory(converted(from_array(pixels), shipped(source), shipped("srgb"), 16, intent))
    columns, curves = columns_and_curves(shipped(source))
    linear = np.stack([curves[i](pixels[..., i] / 65535) for i in range(3)], -1)
    true = linear @ (np.linalg.inv(ROWS) @ np.array(columns)).T
    return light(made / 65535).reshape(-1, 3), true.reshape(-1, 3)


@given(st.sampled_from(["adobe-rgb", "display-p3", "prophoto"]), st.integers(0, 10_000))
def test_hue_and_luminance_stay(source, seed):
    pixels = np.random.default_rng(seed).integers(0, 65536, (20, 30, 3)).astype(np.uint16)
    made, true = both(pixels, source, "hue")
    grey = true @ ROWS[1]
    inside = ((true >= 0) & (true <= 1)).all(-1)
    assert np.abs(made - true)[inside].max(initial=0) < 2e-3
    outside = ~inside & (grey > 0.02) & (grey < 0.98)
    a, b = (made - grey[:, None])[outside], (true - grey[:, None])[outside]
    assert np.abs(made @ ROWS[1] - grey)[outside].max(initial=0) < 2e-3  # as light as it was
    turned = np.abs(np.cross(a, b)).max(-1) / np.maximum((b**2).sum(-1), 1e-6)
    assert np.percentile(turned, 99) < 5e-3 if len(turned) else True  # the same way from grey
    edge = np.minimum(made, 1 - made).min(-1)[outside]
    assert edge.max(initial=0) < 2e-3  # and no nearer to it than need be


def test_channel_by_channel_a_hue_turns_and_kept_it_does_not():
    """A strong green of a wide space: clipped, its red is gone and it is another green."""
    pixels = np.full((4, 4, 3), 0, np.uint16)
    pixels[...] = (9_000, 60_000, 20_000)
    clipped, true = both(pixels, "prophoto", "relative")
    kept, _true = both(pixels, "prophoto", "hue")
    grey = float(true[0] @ ROWS[1])

    def way(colour: np.ndarray) -> np.ndarray:
        apart = colour - grey
        return apart / np.linalg.norm(apart)

    assert way(kept[0]) @ way(true[0]) > 0.9999 > way(clipped[0]) @ way(true[0])


@pytest.mark.parametrize("kind", ["RGB", "CMYK"])
def test_a_file_says_that_its_hues_were_kept(tmp_path, kind):
    path = tmp_path / "wide.tif"
    pixels = np.zeros((300, 400, 4 if kind == "CMYK" else 3), np.uint8)
    pixels[..., 0], pixels[..., 1] = 250, np.linspace(0, 255, 400).astype(np.uint8)
    icc = {} if kind == "CMYK" else {"icc_profile": shipped("prophoto")}
    Image.fromarray(pixels, kind).save(path, **icc)
    brief = brief_of(clause("size", exactly="200 x 150") + clause("colour_space", exactly="srgb"))
    proof = conform(open_photo(path), brief, Settings().having({"colour.intent": "hue"}))
    said = " ".join(act.says for act in proof.record)
    assert proof.ready and "hue kept" in said
    plain = conform(open_photo(path), brief)
    assert "hue kept" not in " ".join(act.says for act in plain.record)
    assert plain.made.data != proof.made.data
