"""Whether the rim of glasses is seen beneath an eye: a narrow line that differs in colour from the skin on both sides of it.

Limits were chosen on made-up portraits (``tools/measure_portrait.py``; docs/portrait.md).
"""

from __future__ import annotations

from typing import Any

from aptandum.core.later import cv2, np

NO_RIM, RIM = 5.5, 12.0
"""Colour difference (CIELAB, CIE 1976) of a line to the skin on both sides of it: up to which it is none, and from which a
rim."""
FINE = 40.0
"""Pixels of the picture between the eyes below which a thin frame may not be seen."""
BENEATH = (0.15, 0.16, 0.75)
"""Half the width of what is looked at beneath an eye, and from where to where it reaches, in distances of the eyes."""
_SMOOTH, _ALIKE, _REACH = 1.2, 0.7, 7


def line(part: Any, reach: int) -> tuple[float, int]:
    """How much the strongest narrow line along a part's rows differs in colour from both sides of it, ``reach`` rows away,
    and in which row it lies.

    Args:
        part: CIELAB, shape (h, w, 3); a hundred rows are a distance of the eyes.
    """
    rows = np.median(cv2.GaussianBlur(np.ascontiguousarray(part), (0, 0), _SMOOTH), axis=1)
    over, under = (rows[reach:-reach] - far for far in (rows[: -2 * reach], rows[2 * reach :]))
    far = np.linalg.norm(over, axis=1), np.linalg.norm(under, axis=1)
    # A line differs from both sides the same way; an edge differs from one alone.
    same = (over * under).sum(1) > _ALIKE * far[0] * far[1]
    strong = np.where(same, np.minimum(*far), 0.0)
    best = int(strong.argmax())
    return float(strong[best]), best + reach


def rim(beneath: tuple[Any, Any]) -> float:
    """The lower rim: the strongest line beneath either eye.

    Args:
        beneath: CIELAB of what :data:`BENEATH` says, of each eye.
    """
    return max(line(part, _REACH)[0] for part in beneath)
