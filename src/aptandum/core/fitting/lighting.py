"""The light of the whole picture, by two numbers: how much of it there is, and how red against blue.

Both work on linear light, each channel by itself, so that a table a channel is all that it takes; nothing is painted on
any part of a picture.
"""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any

from aptandum.core.fitting.light import curve_of_space
from aptandum.core.later import np
from aptandum.core.photo.picture import Picture

if TYPE_CHECKING:
    from aptandum.core.fitting.plan import ColourStation
    from aptandum.core.photo.marks import Marks

_LUMINANCE = (0.2126, 0.7152, 0.0722)
"""Shares of red, green and blue in the luminance of a grey (ITU-R BT.709)."""


def gains(exposure: float, warmth: float) -> tuple[float, float, float]:
    """By what the linear light of red, green and blue is multiplied.

    Args:
        exposure: in stops; one is twice the light.
        warmth: in stops of red against blue; a grey keeps its luminance.
    """
    red, blue = 2 ** (warmth / 2), 2 ** (-warmth / 2)
    kept = _LUMINANCE[0] * red + _LUMINANCE[1] + _LUMINANCE[2] * blue
    return tuple(2**exposure * part / kept for part in (red, 1.0, blue))  # type: ignore[return-value]


def lit(picture: Picture, station: ColourStation) -> Picture:
    """A picture in the space that is written, with its light changed, at the depth that is written.

    Args:
        picture: of 16 bit, so that no step of the 8 that are written is left out.
    """
    curve = curve_of_space(station.target, station.icc)
    bands = picture.pixels.shape[2] - picture.alpha
    by = gains(station.exposure, station.warmth) if bands == 3 else (2**station.exposure,)
    deep = picture.pixels.dtype == np.uint16
    steps = np.arange(65536 if deep else 256, dtype=np.float64) / (65535 if deep else 255)
    top, kind = (65535, np.uint16) if station.bits == 16 else (255, np.uint8)
    made = np.empty(picture.pixels.shape, kind)
    for n in range(bands):
        table = np.rint(curve.encoded(curve.light(steps) * by[n]) * top).astype(kind)
        made[..., n] = table[picture.pixels[..., n]]
    if picture.alpha:
        made[..., -1] = np.rint(steps * top).astype(kind)[picture.pixels[..., -1]]
    return replace(picture, pixels=made)


def before(lab: Any, exposure: float, warmth: float) -> Any:
    """What a colour was, L*, a*, b* (D50), before its light was changed so; for a figure beside the picture."""
    return _lab_of(_light_of(np.asarray(lab, np.float64)) / gains(exposure, warmth))


def skin_of(picture: Any, marks: Marks) -> Any:
    """L*, a*, b* (D50) of the skin of a face, the mean of its cheeks.

    Args:
        picture: 8-bit sRGB, shape (h, w, 3).
        marks: in its pixels.

    Returns:
        ``None`` where the face lies outside, or is too small.
    """
    (ax, ay), (bx, by) = marks.left_eye, marks.right_eye
    across = np.array([bx - ax, by - ay])
    down = np.array([-across[1], across[0]])
    reach = float(np.hypot(*across)) * 0.15
    parts = []
    for side in (-0.42, 0.42):
        x, y = np.array(marks.eyes) + across * side + down * 0.65
        x0, x1, y0, y1 = (round(v) for v in (x - reach, x + reach, y - reach, y + reach))
        if x0 < 0 or y0 < 0 or x1 > picture.shape[1] or y1 > picture.shape[0] or x1 - x0 < 2:
            return None
        parts.append(picture[y0:y1, x0:x1].reshape(-1, 3))
    seen = np.concatenate(parts).astype(np.float64) / 255
    curve = curve_of_space("srgb", b"")
    return _lab_of(curve.light(seen).astype(np.float64).mean(0))


_TO_XYZ = (
    (0.4360747, 0.3850649, 0.1430804),
    (0.2225045, 0.7168786, 0.0606169),
    (0.0139322, 0.0971045, 0.7141733),
)
"""From linear sRGB to XYZ of D50 (ICC specification, sRGB profile's colorants)."""
_WHITE = (0.9642, 1.0, 0.8249)


def _light_of(lab: Any) -> Any:
    fy = (lab[0] + 16) / 116
    f = np.array([fy + lab[1] / 500, fy, fy - lab[2] / 200])
    xyz = np.where(f > 6 / 29, f**3, 3 * (6 / 29) ** 2 * (f - 4 / 29)) * _WHITE
    return np.clip(np.linalg.solve(np.array(_TO_XYZ), xyz), 0, None)


def _lab_of(light: Any) -> Any:
    xyz = np.array(_TO_XYZ) @ light / _WHITE
    f = np.where(xyz > (6 / 29) ** 3, np.cbrt(xyz), xyz / (3 * (6 / 29) ** 2) + 4 / 29)
    return np.array([116 * f[1] - 16, 500 * (f[0] - f[1]), 200 * (f[1] - f[2])])
