"""Matrix profiles at 16 bit: curve, matrix, curve, in floating point.

The profile engine rounds to 16 bit between the curves and the matrix, which in dark colours
costs up to CIEDE2000 0.5. That is more than 16 bit are asked for, so between two profiles of
this kind (ICC.1, three-component matrix-based) the way is short enough to be gone exactly.
Colours outside the target are brought to its edge, channel by channel, as the engine does.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from aptandum.core.photo.profile import columns_and_curves

_ROWS = 256  # worked on at a time, to keep memory flat


@dataclass(frozen=True, eq=False)
class Shaper:
    """A matrix profile.

    Attributes:
        columns: of red, green and blue in XYZ under D50, shape (3, 3).
        light: linear light 0..1 of each number of 16 bit, for each channel, shape (3, 65536).
        code: the number of 16 bit (as float) of each square root of linear light in 65 535
            steps, which spends them where the eye does; shape (3, 65536).
    """

    columns: NDArray[np.float64]
    light: NDArray[np.float32]
    code: NDArray[np.float32]


@lru_cache(maxsize=16)
def shaper_of(icc: bytes) -> Shaper | None:
    """The shaper that a profile describes; ``None`` where it is of another kind."""
    found = columns_and_curves(icc)
    if found is None:
        return None
    columns, curves = found
    codes = np.arange(65536) / 65535
    wanted = (np.arange(65536) / 65535) ** 2
    light, code = [], []
    for curve in curves:
        values = curve(codes)
        if np.any(np.diff(values) < 0) or values[-1] <= values[0]:
            return None  # a curve that turns back has no inverse
        light.append(values)
        code.append(np.interp(wanted, values, codes) * 65535)
    return Shaper(np.array(columns), np.array(light, np.float32), np.array(code, np.float32))


def shaped(pixels: Any, source: Shaper, target: Shaper) -> NDArray[np.uint16]:
    """RGB pixels of 8 or 16 bit, shape (h, w, 3), in another profile at 16 bit."""
    matrix = (np.linalg.inv(target.columns) @ source.columns).T.astype(np.float32)
    step = 257 if pixels.dtype == np.uint8 else 1
    made = np.empty(pixels.shape, np.uint16)
    for top in range(0, pixels.shape[0], _ROWS):
        part = pixels[top : top + _ROWS].astype(np.int64) * step
        linear = np.stack([source.light[i][part[..., i]] for i in range(3)], -1) @ matrix
        at = np.rint(np.sqrt(np.clip(linear, 0, 1)) * 65535).astype(np.int64)
        for i in range(3):
            made[top : top + _ROWS, :, i] = np.rint(target.code[i][at[..., i]])
    return made
