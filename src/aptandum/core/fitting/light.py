"""Mixing pixels as light mixes: a photo's numbers to linear light and back.

Encoded numbers stand for less light than their mean says: a fine pattern of black and white,
half of whose light is gone, would come out a fifth too dark if its numbers were averaged.
"""

from __future__ import annotations

from functools import cached_property, lru_cache
from math import log
from typing import TYPE_CHECKING, Any, TypeAlias

from aptandum.core.frozen import frozen
from aptandum.core.later import np
from aptandum.core.photo.facts import Facts
from aptandum.core.photo.profile import middle_of

if TYPE_CHECKING:
    from numpy.typing import NDArray

Light: TypeAlias = "NDArray[np.float32]"
"""Linear light, 0..1."""


@frozen
class Curve:
    """A tone curve: that of sRGB (IEC 61966-2-1) where ``power`` is 0, else a power."""

    power: float = 0.0

    def light(self, encoded: Any) -> Light:
        """Encoded values 0..1 as linear light."""
        x = np.asarray(encoded, np.float32)
        if self.power:
            made: Light = x ** np.float32(self.power)
            return made
        return np.where(x <= 0.04045, x / 12.92, ((x + 0.055) / 1.055) ** 2.4).astype(np.float32)

    def encoded(self, light: Any) -> Light:
        """Linear light, held to 0..1, as encoded values 0..1."""
        y = np.clip(np.asarray(light, np.float32), 0, 1)
        if self.power:
            made: Light = y ** np.float32(1 / self.power)
            return made
        low = y <= 0.0031308
        return np.where(low, y * 12.92, 1.055 * y ** (1 / 2.4) - 0.055).astype(np.float32)

    @cached_property
    def table8(self) -> NDArray[np.uint16]:
        """Linear light, 0..65 535, of each number of 8 bit."""
        return np.rint(self.light(np.arange(256) / 255) * 65535).astype(np.uint16)

    @cached_property
    def table16(self) -> Light:
        """Linear light, 0..65 535, of each number of 16 bit."""
        return (self.light(np.arange(65536) / 65535) * 65535).astype(np.float32)

    @cached_property
    def back(self) -> NDArray[np.uint16]:
        """The number of 16 bit of each linear light of 0..65 535: fine enough for 8 bit."""
        return np.rint(self.encoded(np.arange(65536) / 65535) * 65535).astype(np.uint16)


LIGHT = Curve(1.0)
"""The curve of numbers that are linear light."""


@lru_cache(maxsize=16)
def _curve(power: float) -> Curve:
    return Curve(power)


_POWERS = {"adobe-rgb": 563 / 256, "prophoto": 1.8}
"""Of the spaces whose profiles are shipped those whose curve is a power; the others have sRGB's."""


def curve_of_space(space: str, icc: bytes) -> Curve:
    """The tone curve of a space that is written, by its name or its profile."""
    if space in _POWERS:
        return _curve(_POWERS[space])
    return curve_of_profile(icc) if space == "other" else _curve(0.0)


def curve_of(facts: Facts) -> Curve:
    """A photo's tone curve, as near as mixing needs it. The curve is only ever gone there and
    back, so one that is a little off the profile's own does no harm."""
    space = facts.taken_as
    if space in _POWERS:
        return _curve(_POWERS[space])
    if space == "other" or (space == "grey" and facts.icc_bytes):
        return curve_of_profile(facts.icc_bytes)
    return _curve(0.0)


def curve_of_profile(icc: bytes) -> Curve:
    """The tone curve of a profile, as near as mixing needs it; sRGB's where it tells none."""
    middle = middle_of(icc) if icc else None
    if middle is None or not 0.05 < middle < 0.95 or abs(middle - 0.2140) < 0.004:
        return _curve(0.0)
    return _curve(log(middle) / log(0.5))
