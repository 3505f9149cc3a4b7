"""Whether an eye is covered, by hair above all: it has lost its own contrast, and strands run down across it.

An eye is told by its lightness (CIELAB L*) on a region whose pixels are hundredths of the distance of the eyes. Limits
were chosen on made-up portraits (``tools/measure_portrait.py``; docs/portrait.md).
"""

from __future__ import annotations

from typing import Any

from aptandum.core.later import cv2, np

HALF = (0.25, 0.12)
"""Half the width and height of what is looked at about an eye, in distances of the eyes."""
_OWN = (0.2, 0.08)
_COVERED, _SEEN = 20.0, 20.0
"""Range of an eye's lightness: up to which it may be covered, and from which it is seen."""
_OTHER = 5.0
"""How many times as much the other eye must have for this one to be covered without a strand being told."""
_STRANDS, _NO_STRANDS = 1.6, 1.4
"""How much more lightness changes across than down: from which strands run there, up to which none do."""


def covered(eyes: tuple[Any, Any]) -> bool | None:
    """Whether one of two eyes is covered; ``None``: it cannot be told.

    Args:
        eyes: lightness about each, shape (24, 50), the eye in the middle.
    """
    each = tuple((_range(eye), _strands(eye)) for eye in eyes)
    ranges = [own for own, _strong in each]
    other = max(ranges) > _OTHER * min(ranges)
    if any(own <= _COVERED and (strong >= _STRANDS or other) for own, strong in each):
        return True
    if all(own >= _SEEN and strong <= _NO_STRANDS for own, strong in each):
        return False
    return None


def _range(eye: Any) -> float:
    """Between the darkest and the lightest of an eye, but for a thirtieth on either side."""
    high, wide = eye.shape
    down, aside = (round(out * own / half) for out, own, half in zip((high / 2, wide / 2), _OWN[::-1], HALF[::-1], strict=True))  # fmt: skip
    inner = eye[high // 2 - down : high // 2 + down, wide // 2 - aside : wide // 2 + aside]
    low, top = np.percentile(inner, (3, 97))
    return float(top - low)


def _strands(eye: Any) -> float:
    across, down = (float(np.median(np.abs(np.diff(eye, axis=axis)))) for axis in (1, 0))
    return across / max(down, 0.05)


def lightness(picture: Any) -> Any:
    """L* of an 8-bit sRGB picture, shape (h, w), as float32."""
    return cv2.cvtColor(np.asarray(picture, np.float32) / 255, cv2.COLOR_RGB2LAB)[..., 0]
