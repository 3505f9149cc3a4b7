"""Colour profiles: which space an ICC profile describes, told from its content.

A name can be missing or wrong, so a profile is recognised by its colorants (already adapted
to D50 in the file) and by the middle of its tone curve; the description serves where a
profile has tables instead of colorants.
"""

from __future__ import annotations

import struct
from collections.abc import Callable
from functools import lru_cache
from importlib import resources
from io import BytesIO
from typing import TYPE_CHECKING, Literal, TypeAlias

from aptandum.core.frozen import frozen
from aptandum.core.later import ImageCms, np
from aptandum.core.words import say

if TYPE_CHECKING:
    from numpy.typing import NDArray

Space = Literal["srgb", "adobe-rgb", "display-p3", "prophoto", "grey", "cmyk", "untagged", "other"]
SPACES: tuple[Space, ...] = (
    "srgb",
    "adobe-rgb",
    "display-p3",
    "prophoto",
    "grey",
    "cmyk",
    "untagged",
    "other",
)
SPACE_NAMES: dict[str, str] = {
    "srgb": "sRGB",
    "adobe-rgb": "Adobe RGB",
    "display-p3": "Display P3",
    "prophoto": "ProPhoto",
    "grey": say("grey"),
    "cmyk": "CMYK",
    "untagged": say("no profile"),
    "other": say("another space"),
}
SHIPPED: tuple[Space, ...] = ("srgb", "adobe-rgb", "display-p3", "prophoto", "grey")

# Colorants under D50 (R, G, B columns as X Y Z) of the published primaries after Bradford,
# and the linear value of the tone curve at one half.
_KNOWN: dict[Space, tuple[tuple[float, ...], float]] = {
    "srgb": ((0.4361, 0.2225, 0.0139, 0.3851, 0.7169, 0.0971, 0.1431, 0.0606, 0.7141), 0.2140),
    "adobe-rgb": (
        (0.6097, 0.3111, 0.0195, 0.2053, 0.6257, 0.0609, 0.1492, 0.0632, 0.7446),
        0.2178,
    ),
    "display-p3": (
        (0.5151, 0.2412, -0.0011, 0.2920, 0.6922, 0.0419, 0.1571, 0.0666, 0.7841),
        0.2140,
    ),
    "prophoto": (
        (0.7977, 0.2880, 0.0, 0.1352, 0.7119, 0.0, 0.0313, 0.0001, 0.8249),
        0.2872,
    ),
}
_COLORANT_SLACK = 0.004
_CURVE_SLACK = 0.003


@frozen
class Profile:
    """What an embedded profile says of itself.

    Attributes:
        description: as stored; ``None`` where there is none or it cannot be read.
        space: the space recognised.
        channels: 1, 3 or 4; 0 for a profile that cannot be used.
        broken: why the profile cannot be used, or ``None``.
    """

    description: str | None
    space: Space
    channels: int
    broken: str | None = None


def _tags(icc: bytes) -> dict[bytes, bytes]:
    count = struct.unpack_from(">I", icc, 128)[0]
    found = {}
    for i in range(min(count, 100)):
        name, start, size = struct.unpack_from(">4sII", icc, 132 + 12 * i)
        found[name] = icc[start : start + size]
    return found


def _description(tag: bytes) -> str | None:
    if tag[:4] == b"desc" and len(tag) >= 12:
        size = struct.unpack_from(">I", tag, 8)[0]
        text = tag[12 : 12 + size].split(b"\0")[0].decode("latin-1")
    elif tag[:4] == b"mluc" and len(tag) >= 28:
        size, start = struct.unpack_from(">II", tag, 20)
        text = tag[start : start + size].decode("utf-16-be", "replace")
    else:
        return None
    text = " ".join(text.replace("\0", " ").split())
    return text[:200] or None


def _xyz(tag: bytes) -> tuple[float, ...] | None:
    if tag[:4] != b"XYZ " or len(tag) < 20:
        return None
    return tuple(v / 65536 for v in struct.unpack_from(">3i", tag, 8))


def _middle(tag: bytes) -> float | None:
    """The linear value of a tone curve at the encoded value one half."""
    curve = _curve(tag)
    return float(curve(np.array([0.5]))[0]) if curve is not None else None


Curve: TypeAlias = "Callable[[NDArray[np.float64]], NDArray[np.float64]]"


def columns_and_curves(icc: bytes) -> tuple[list[list[float]], list[Curve]] | None:
    """The matrix (rows X, Y, Z; columns red, green, blue) and the three tone curves of a
    matrix-based profile; ``None`` for any other, and for one that has tables as well."""
    try:
        if icc[16:20] != b"RGB " or icc[20:24] != b"XYZ ":
            return None
        tags = _tags(icc)
        if b"A2B0" in tags or b"B2A0" in tags:
            return None
        columns = [_xyz(tags.get(name, b"")) for name in (b"rXYZ", b"gXYZ", b"bXYZ")]
        curves = [_curve(tags.get(name, b"")) for name in (b"rTRC", b"gTRC", b"bTRC")]
    except (struct.error, IndexError):
        return None
    if any(c is None for c in columns) or any(c is None for c in curves):
        return None
    rows = [[float(column[i]) for column in columns if column] for i in range(3)]
    return rows, [curve for curve in curves if curve is not None]


def grey_curve(icc: bytes) -> Curve | None:
    """The tone curve of a grey profile, from encoded to luminance, 0..1; ``None`` for any other, and for one whose
    curve leads to CIELAB."""
    try:
        if icc[16:20] != b"GRAY" or icc[20:24] != b"XYZ ":
            return None
        tags = _tags(icc)
    except (struct.error, IndexError):
        return None
    return None if b"A2B0" in tags or b"B2A0" in tags else _curve(tags.get(b"kTRC", b""))


def _curve(tag: bytes) -> Curve | None:
    """A tone curve (ICC.1, curveType and parametricCurveType) from encoded to linear, 0..1."""
    if tag[:4] == b"curv" and len(tag) >= 12:
        count = struct.unpack_from(">I", tag, 8)[0]
        if count == 0:
            return lambda x: x
        if count == 1 and len(tag) >= 14:
            power = struct.unpack_from(">H", tag, 12)[0] / 256
            return lambda x: x**power
        if len(tag) >= 12 + 2 * count:
            table = np.frombuffer(tag, ">u2", count, 12).astype(np.float64) / 65535
            steps = np.linspace(0, 1, count)
            return lambda x: np.interp(x, steps, table)
        return None
    if tag[:4] == b"para" and len(tag) >= 16:
        kind = struct.unpack_from(">H", tag, 8)[0]
        wanted = {0: 1, 1: 3, 2: 4, 3: 5, 4: 7}.get(kind, 0)
        if not wanted or len(tag) < 12 + 4 * wanted:
            return None
        p = [v / 65536 for v in struct.unpack_from(f">{wanted}i", tag, 12)]
        g, a, b = p[0], (p[1] if wanted > 1 else 1.0), (p[2] if wanted > 2 else 0.0)
        if a <= 0:
            return None
        c = {2: 0.0, 3: p[3] if wanted > 3 else 0.0, 4: p[3] if wanted > 3 else 0.0}.get(kind, 0.0)
        start = {0: 0.0, 1: -b / a, 2: -b / a}.get(kind, p[4] if wanted > 4 else 0.0)
        above = {2: p[3] if wanted > 3 else 0.0, 4: p[5] if wanted > 5 else 0.0}.get(kind, 0.0)
        below = {2: p[3] if wanted > 3 else 0.0, 4: p[6] if wanted > 6 else 0.0}.get(kind, 0.0)

        def parametric(x: NDArray[np.float64]) -> NDArray[np.float64]:
            high = np.maximum(a * x + b, 0) ** g + above
            return np.where(x >= start, high, c * x + below)

        return parametric
    return None


def middle_of(icc: bytes) -> float | None:
    """The linear value (0..1) of a profile's tone curve at the encoded value one half; ``None``
    where it has none."""
    try:
        tags = _tags(icc)
        return _middle(tags.get(b"gTRC") or tags.get(b"kTRC") or b"")
    except (struct.error, IndexError):
        return None


def _recognise(tags: dict[bytes, bytes], description: str | None) -> Space:
    columns = [_xyz(tags.get(name, b"")) for name in (b"rXYZ", b"gXYZ", b"bXYZ")]
    middle = _middle(tags.get(b"gTRC", b""))
    if all(columns) and middle is not None:
        flat = [value for column in columns if column for value in column]
        for space, (known, half) in _KNOWN.items():
            near = max(abs(a - b) for a, b in zip(flat, known, strict=True))
            if near <= _COLORANT_SLACK and abs(middle - half) <= _CURVE_SLACK:
                return space
        return "other"
    if description and "srgb" in description.lower():
        return "srgb"
    return "other"


@lru_cache(maxsize=64)
def identify(icc: bytes) -> Profile:
    """Tell what an embedded profile is. Never raises: a profile that cannot be used says why."""
    try:
        if len(icc) < 132 or icc[36:40] != b"acsp":
            return Profile(None, "untagged", 0, say("it is not an ICC profile"))
        if struct.unpack_from(">I", icc, 0)[0] > len(icc):
            return Profile(None, "untagged", 0, say("it is cut short"))
        tags = _tags(icc)
        description = _description(tags.get(b"desc", b""))
        ImageCms.ImageCmsProfile(BytesIO(icc))
    except Exception:  # the parsers below raise anything at all on hostile bytes
        return Profile(None, "untagged", 0, say("its contents cannot be read"))
    signature = icc[16:20]
    if signature == b"RGB ":
        if not (b"rXYZ" in tags or b"A2B0" in tags):
            return Profile(description, "untagged", 0, say("it lacks its colour tables"))
        return Profile(description, _recognise(tags, description), 3)
    if signature == b"GRAY":
        return Profile(description, "grey", 1)
    if signature == b"CMYK":
        return Profile(description, "cmyk", 4)
    return Profile(description, "other", 0, say("it is for another kind of picture"))


@lru_cache(maxsize=8)
def shipped(space: Space) -> bytes:
    """The bytes of the profile that is shipped for a space (one of :data:`SHIPPED`)."""
    if space not in SHIPPED:
        raise KeyError(space)
    return resources.files("aptandum.data").joinpath(f"profiles/{space}.icc").read_bytes()
