"""Arrays as images of the interface."""

from __future__ import annotations

from typing import Any

from PyQt6.QtGui import QImage

from aptandum.core.later import cv2, np

_TO_BGRA = {1: "COLOR_GRAY2BGRA", 3: "COLOR_RGB2BGRA", 4: "COLOR_RGBA2BGRA"}


def to_image(array: Any) -> QImage:
    """An 8-bit array of shape (h, w, 1 to 4) as an image that owns its bytes; of two bands the
    second, alpha, is left out."""
    if array.shape[2] == 2:
        array = array[..., :1]
    high, wide, bands = array.shape
    made = cv2.cvtColor(np.ascontiguousarray(array), getattr(cv2, _TO_BGRA[bands]))
    kind = QImage.Format.Format_ARGB32 if bands == 4 else QImage.Format.Format_RGB32
    bits: bytes = made.data  # type: ignore[assignment]  # any buffer is taken
    image = QImage(bits, wide, high, wide * 4, kind).copy()
    return image.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied) if bands == 4 else image
