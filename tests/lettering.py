"""Letters built of bars, so that their height and the width of their strokes are known to the pixel."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

BARS = {
    "E": ("left", "top", "middle", "bottom"),
    "F": ("left", "top", "middle"),
    "H": ("left", "right", "middle"),
    "L": ("left", "bottom"),
    "U": ("left", "right", "bottom"),
    "C": ("left", "top", "bottom"),
    "O": ("left", "right", "top", "bottom"),
}


@dataclass(frozen=True)
class Word:
    """Letters of bars: how high, how wide a stroke, and where they stand (left, top), in pixels."""

    text: str
    height: int
    stroke: int
    at: tuple[int, int]

    @property
    def box(self) -> tuple[int, int, int, int]:
        """Left, top, width and height of all of them."""
        return (*self.at, len(self.text) * self.step - self.gap, self.height)

    @property
    def wide(self) -> int:
        return max(3 * self.stroke, round(self.height * 0.6))

    @property
    def gap(self) -> int:
        return max(2, self.stroke, round(self.height * 0.2))

    @property
    def step(self) -> int:
        return self.wide + self.gap

    def draw(self, pixels: np.ndarray, colour: tuple[int, ...]) -> None:
        """Draw them into pixels of shape (h, w, bands); what lies outside is cut."""
        high, wide = pixels.shape[:2]
        for n, letter in enumerate(self.text):
            x, y, s = self.at[0] + n * self.step, self.at[1], self.stroke
            middle = y + (self.height - s) // 2
            bars = {
                "left": (x, y, s, self.height),
                "right": (x + self.wide - s, y, s, self.height),
                "top": (x, y, self.wide, s),
                "bottom": (x, y + self.height - s, self.wide, s),
                "middle": (x, middle, self.wide, s),
            }
            for name in BARS[letter]:
                left, top, across, down = bars[name]
                part = slice(max(0, top), min(high, max(0, top + down)))
                pixels[part, max(0, left) : min(wide, max(0, left + across))] = colour


def luminance(colour: tuple[float, ...]) -> float:
    """Relative luminance (WCAG 2.2, 1.4.3), written anew here."""
    parts = [c / 255 for c in colour[:3]]
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def mixed(top: tuple[int, ...], under: tuple[int, ...], share: float) -> tuple[float, ...]:
    """A colour that covers another by a share, in encoded numbers."""
    return tuple(a * share + b * (1 - share) for a, b in zip(top[:3], under[:3], strict=True))


def part_of_contrast(ink: float, ground: float) -> float:
    """The share of the difference of two luminances that makes a ratio of 3; above 1: none does."""
    if ink == ground:
        return float("inf")
    if ink > ground:
        return 2 * (ground + 0.05) / (ink - ground)
    return (2 / 3) * (ground + 0.05) / (ground - ink)
