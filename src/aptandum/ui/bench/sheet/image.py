"""Arrays as images of the interface."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtGui import (
    QImage,
)


def to_image(array: Any) -> QImage:
    """An 8-bit array of shape (h, w, 1, 3 or 4) as an image that owns its bytes."""
    high, wide, bands = array.shape
    if bands == 1 or bands == 2:
        array = np.repeat(array[..., :1], 3, axis=2)
        bands = 3
    made = np.empty((high, wide, 4), np.uint8)
    made[..., 0:3] = array[..., 2::-1]
    made[..., 3] = array[..., 3] if bands == 4 else 255
    kind = QImage.Format.Format_ARGB32 if bands == 4 else QImage.Format.Format_RGB32
    image = QImage(made.tobytes(), wide, high, wide * 4, kind).copy()
    return image.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied) if bands == 4 else image
