"""The Finish card's part for sharpening: set by keys, seen in the draft, told as an alteration, taken back."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from driving import drop, wait
from samples import scene


def made(shell) -> np.ndarray:
    """The file of the draft, read by Pillow alone."""
    return np.asarray(Image.open(io.BytesIO(shell.session.bench.draft.data)).convert("RGB"))


def steep(pixels: np.ndarray) -> float:
    steps = np.abs(np.diff(pixels.astype(float), axis=1)).ravel()
    return float(np.sort(steps)[-len(steps) // 20 :].mean())


def test_it_is_set_by_keys_seen_in_the_draft_and_taken_back(qtbot, shell, tmp_path):
    path = tmp_path / "pier.png"
    Image.fromarray(scene(1600, 1200, 2, grain=1.0)).save(path, compress_level=1)
    drop(shell, path)
    shell.start.choose("vessary-ferries/deck-pass")
    wait(qtbot, shell)
    before = made(shell)
    QTest.keyClick(shell, Qt.Key.Key_1, Qt.KeyboardModifier.AltModifier)
    card = shell.bench.cards["finish"]
    assert shell.bench.open_name == "finish" and card.opened == "sharpening"
    slide = card.parts["sharpening"].rows[0].slide
    slide.setFocus()
    QTest.keyClick(slide, Qt.Key.Key_End)
    wait(qtbot, shell)
    assert shell.session.bench.fitting.settings.finish.sharpening.strength == 100
    assert steep(made(shell)) > 1.05 * steep(before)
    found = {f.clause.measure: f for f in shell.session.bench.live.findings}
    assert found["alterations"].verdict == "misses" and "sharpened" in found["alterations"].says
    assert card.stops["sharpening"].figure == "100 %"
    assert card.parts["sharpening"].forbidden.isVisible()
    QTest.keyClick(shell, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    wait(qtbot, shell)
    assert (made(shell) == before).all()
