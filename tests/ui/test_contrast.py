"""Contrast: of every tone on every ground, and of what is painted, in light, dark, dim room and with more contrast."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QAbstractButton, QComboBox, QLabel, QLineEdit, QWidget

from aptandum.ui import theme
from driving import lay_out, wait

PALETTES = {
    "light": theme.LIGHT,
    "dim": theme.DIM,
    "light, more": theme.LIGHT_CLEAR,
    "dim, more": theme.DIM_CLEAR,
}
INKS = ("ink", "ink2", "blue", "meets", "misses", "advises", "asks", "unknown", "idle")
GROUNDS = ("window", "panel", "field", "blue_soft", "rail", "misses_soft")


def contrast(a, b) -> float:
    """WCAG 2 contrast ratio of two colours, each as 0..255 of red, green and blue."""

    def light(colour) -> float:
        parts = np.asarray(colour, float) / 255
        line = np.where(parts <= 0.04045, parts / 12.92, ((parts + 0.055) / 1.055) ** 2.4)
        return float(line @ (0.2126, 0.7152, 0.0722))

    high, low = sorted((light(a), light(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


def tone(text: str) -> tuple[int, ...]:
    return tuple(int(text[i : i + 2], 16) for i in (1, 3, 5))


@pytest.mark.parametrize("name", PALETTES)
def test_every_tone_is_legible_on_every_ground(name):
    palette = PALETTES[name]
    for ground in GROUNDS:
        held = tone(getattr(palette, ground))
        for ink in INKS:
            assert contrast(tone(getattr(palette, ink)), held) >= 4.5, (ink, ground)
        assert contrast(tone(palette.outline), held) >= 3.0, ground
    assert contrast(tone(palette.on_blue), tone(palette.blue)) >= 4.5
    for band in ("meets_band", "misses_band", "advises_band"):
        assert contrast(tone(palette.ink), tone(getattr(palette, band))) >= 4.5, band


def pixels(widget: QWidget) -> np.ndarray:
    image = widget.grab().toImage().convertToFormat(QImage.Format.Format_RGB888)
    held = image.constBits()
    held.setsize(image.sizeInBytes())
    rows = np.frombuffer(held, np.uint8).reshape(image.height(), image.bytesPerLine())
    return rows[:, : image.width() * 3].reshape(image.height(), image.width(), 3).copy()


def painted(window: QWidget) -> list[tuple[str, float]]:
    """The text of every part that can be read, and the contrast of its darkest or lightest pixels on their ground."""
    whole, found = pixels(window), []
    ratio = whole.shape[1] / window.width()
    for part in window.findChildren(QWidget):
        if not isinstance(part, (QLabel, QAbstractButton, QLineEdit, QComboBox)):
            continue
        text = part.currentText() if isinstance(part, QComboBox) else part.text()
        if isinstance(part, QLineEdit):
            text = text or part.placeholderText()
        if not part.isVisible() or not part.isEnabled() or len(text.strip()) < 2:
            continue
        if isinstance(part, QAbstractButton) and not part.icon().isNull():
            continue
        at = part.mapTo(window, part.rect().topLeft())
        if part.visibleRegion().boundingRect() != part.rect():
            continue  # scrolled away in part
        x, y = round(at.x() * ratio), round(at.y() * ratio)
        inner = whole[y + 3 : y + part.height() - 3, x + 3 : x + part.width() - 3].reshape(-1, 3)
        if len(inner) < 40:
            continue
        tones, many = np.unique(inner, axis=0, return_counts=True)
        ground = tones[many.argmax()]
        found.append(
            (f"{type(part).__name__} {text[:40]!r}", max(contrast(one, ground) for one in tones))
        )
    return found


@pytest.mark.parametrize("name", PALETTES)
@pytest.mark.long
def test_what_is_painted_is_legible_in_every_place(qtbot, shell, name):
    theme.use(PALETTES[name])
    shell.open_demo()
    wait(qtbot, shell)
    shell.restyle()
    seen = 0
    try:
        for place in ("board", "bench", "rulebooks", "desk"):
            shell.go(place)
            lay_out()
            wait(qtbot, shell)
            for station in (
                ("source", "frame", "colour", "finish", "file", "proof")
                if place == "bench"
                else ("",)
            ):
                if station:
                    shell._open_station(station)
                    wait(qtbot, shell)
                every = painted(shell)
                seen += len(every)
                low = [(text, round(ratio, 2)) for text, ratio in every if ratio < 4.5]
                assert not low, (place, station, low)
    finally:
        theme.use(theme.LIGHT)
        shell.restyle()
    assert seen > 150, seen
