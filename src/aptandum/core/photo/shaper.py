"""Matrix profiles, and those of greys, in floating point: curve, matrix, curve; and curve, matrix, CIELAB.

The profile engine rounds to 16 bit between the curves and the matrix, which in dark colours
costs up to CIEDE2000 0.5, and in the deepest greys of a linear curve 4. That is more than is
asked for, so between two profiles of these kinds (ICC.1, three-component matrix-based and
monochrome) the way is short enough to be gone exactly.
Colours outside the target are brought to its edge, channel by channel, as the engine does, or with
their hue kept.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING, Any

from aptandum.core import threads
from aptandum.core.later import cv2, np
from aptandum.core.photo.profile import columns_and_curves, grey_curve

if TYPE_CHECKING:
    from numpy.typing import NDArray

_ROWS = 32
"""Worked on at a time, so that all of it stays in a core's memory."""


@dataclass(frozen=True, eq=False)
class Shaper:
    """A matrix profile, or one of greys, which has one channel.

    Attributes:
        columns: of red, green and blue in XYZ under D50, shape (3, 3); of grey its white, shape (3, 1).
        light: linear light 0..1 of each number of 16 bit, for each channel, shape (channels, 65536).
        code: the number of 16 bit (as float) of each square root of linear light in 65 535
            steps, which spends them where the eye does; shape (channels, 65536).
    """

    columns: NDArray[np.float64]
    light: NDArray[np.float32]
    code: NDArray[np.float32]


@lru_cache(maxsize=16)
def shaper_of(icc: bytes) -> Shaper | None:
    """The shaper that a profile describes; ``None`` where it is of another kind."""
    found = columns_and_curves(icc)
    if found is not None:
        columns, curves = found
    else:
        one = grey_curve(icc)
        if one is None:
            return None
        columns, curves = [[v] for v in _WHITE], [one]
    codes = np.arange(65536) / 65535
    wanted = (np.arange(65536) / 65535) ** 2
    light, code = [], []
    for curve in curves:
        values = curve(codes)
        if not np.isfinite(values).all() or np.any(np.diff(values) < 0) or values[-1] <= values[0]:
            return None  # a curve that turns back, or leaves all numbers, has no inverse
        light.append(values)
        code.append(np.interp(wanted, values, codes) * 65535)
    return Shaper(np.array(columns), np.array(light, np.float32), np.array(code, np.float32))


def _between(source: Shaper, target: Shaper) -> NDArray[np.float32]:
    """What brings the linear light of one to that of the other, shape (channels of target, of source)."""
    if len(source.light) == 1:  # a grey is as much of each colour
        return np.ones((len(target.light), 1), np.float32)
    if len(target.light) == 1:
        return source.columns[1:2].astype(np.float32)
    return (np.linalg.inv(target.columns) @ source.columns).astype(np.float32)


_DARK = 0.1842
"""Luminance of L* 50, above which a black is none."""


def _blacks(source: Shaper, target: Shaper) -> tuple[float, float]:
    """Gain and offset in linear light that bring the black of one profile to that of the other (black point
    compensation, as in ISO 18619), each taken as a grey."""
    one, other = (min(float(s.columns[1] @ s.light[:, 0]), _DARK) for s in (source, target))
    gain = (1 - other) / (1 - one)
    return gain, other - one * gain


def _brought_in(linear: Any, target: Shaper) -> Any:
    """Linear light in a target of three colours, what lies outside mixed with as much of the grey of its own luminance
    as brings it to the edge: its hue and, where it lies between black and white, its luminance stay."""
    outside = (linear < 0).any(-1) | (linear > 1).any(-1)
    if not outside.any():
        return linear
    far = linear[outside]
    grey = np.clip(far @ target.columns[1].astype(np.float32), 0, 1)[:, None]
    apart = far - grey
    with np.errstate(divide="ignore", invalid="ignore"):
        room = np.where(apart > 0, (1 - grey) / apart, np.where(apart < 0, -grey / apart, 1.0))
    linear[outside] = grey + apart * np.clip(room.min(-1), 0, 1)[:, None]
    return linear


def shaped(
    pixels: Any,
    source: Shaper,
    target: Shaper,
    bits: int = 16,
    black_point: bool = True,
    hue: bool = False,
) -> Any:
    """Pixels of 8 or 16 bit, shape (h, w, channels), in another profile at 8 or 16 bit.

    Args:
        black_point: the darkest of one becomes the darkest of the other.
        hue: colours outside the target are brought to its edge with their hue kept; else each channel by itself.
    """
    hue = hue and len(target.light) == 3
    gain, offset = _blacks(source, target) if black_point else (1.0, 0.0)
    # A fourth column for what is added to all alike.
    matrix = np.concatenate(
        [_between(source, target) * gain, np.full((len(target.light), 1), offset)], 1
    )
    matrix = matrix.astype(np.float32)
    step = 257 if pixels.dtype == np.uint8 else 1
    light = [np.ascontiguousarray(table[::step]) for table in source.light]
    top, kind = (65535, np.uint16) if bits == 16 else (255, np.uint8)
    code = [np.rint(table * (top / 65535)).astype(kind) for table in target.code]
    made = np.empty((*pixels.shape[:2], len(code)), kind)

    def encoded(linear: Any) -> Any:
        # The root of what lies outside the target is none: it is brought to the edge first.
        root = np.sqrt(np.maximum(linear, 0, out=linear), out=linear)
        at = cv2.addWeighted(root, 65535.0, root, 0.0, 0.0, dtype=cv2.CV_16U)
        return cv2.merge(list(map(cv2.LUT, cv2.split(at), code)))

    if len(light) == 1:  # each number of a grey is always the same
        tables = encoded(cv2.merge([light[0].reshape(1, -1) * gain + offset] * len(code)))
        each = [np.ascontiguousarray(one) for one in tables.reshape(-1, len(code)).T]
        made[:] = cv2.merge([cv2.LUT(pixels, one) for one in each]).reshape(made.shape)
        return made

    def part(start: int) -> None:
        some = pixels[start : start + _ROWS]
        linear = cv2.transform(cv2.merge(list(map(cv2.LUT, cv2.split(some), light))), matrix)
        linear = _brought_in(linear, target) if hue else linear
        made[start : start + _ROWS] = encoded(linear).reshape(*some.shape[:2], len(code))

    threads.each(part, range(0, pixels.shape[0], _ROWS))
    return made


_WHITE = (0.9642, 1.0, 0.8249)
"""X, Y and Z of D50, the white of the profile connection space (ICC.1)."""


def lab_of(pixels: Any, source: Shaper) -> NDArray[np.float32]:
    """CIELAB (D50; CIE 15) of pixels of 8 or 16 bit, shape (h, w, channels); a* and b* stay within
    -128..127, beyond which the engine does not go either."""
    at = pixels.astype(np.int64) * (257 if pixels.dtype == np.uint8 else 1)
    linear = np.stack([source.light[i][at[..., i]] for i in range(len(source.light))], -1)
    xyz = linear @ (source.columns.T / _WHITE)
    f = np.where(xyz > 216 / 24389, np.cbrt(xyz), (24389 / 27 * xyz + 16) / 116)
    x, y, z = f[..., 0], f[..., 1], f[..., 2]
    a, b = np.clip(500 * (x - y), -128, 127), np.clip(200 * (y - z), -128, 127)
    return np.stack([116 * y - 16, a, b], -1).astype(np.float32)
