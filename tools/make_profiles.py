"""Make the ICC profiles that are shipped in ``src/aptandum/data/profiles``.

They are plain matrix-and-curve profiles (ICC.1:2001-04) computed from the published
primaries and transfer curves of each space, so they belong to this project and carry no
maker's copyright. Run it again and the same bytes come out.
"""

from __future__ import annotations

import struct
from collections.abc import Callable
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

OUT = Path(__file__).resolve().parent.parent / "src/aptandum/data/profiles"
D50 = np.array([0.9642, 1.0, 0.8249])
D65_XY = (0.3127, 0.3290)
D50_XY = (0.3457, 0.3585)
BRADFORD = np.array(
    [[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]]
)


def srgb_curve(x: NDArray[np.float64]) -> NDArray[np.float64]:
    """IEC 61966-2-1: encoded 0..1 to linear 0..1."""
    return np.where(x <= 0.04045, x / 12.92, ((x + 0.055) / 1.055) ** 2.4)


def gamma(power: float) -> Callable[[NDArray[np.float64]], NDArray[np.float64]]:
    return lambda x: x**power


def xyz(x: float, y: float) -> NDArray[np.float64]:
    return np.array([x / y, 1.0, (1 - x - y) / y])


def colorants(primaries: tuple[tuple[float, float], ...], white: tuple[float, float]):
    """Columns R, G, B in XYZ, adapted from the space's white to D50 by Bradford."""
    unscaled = np.stack([xyz(*p) for p in primaries], axis=1)
    scale = np.linalg.solve(unscaled, xyz(*white))
    cone = (BRADFORD @ D50) / (BRADFORD @ xyz(*white))
    adapt = np.linalg.inv(BRADFORD) @ np.diag(cone) @ BRADFORD
    return adapt @ (unscaled * scale)


def s15(values) -> bytes:
    return b"".join(struct.pack(">i", round(float(v) * 65536)) for v in values)


def desc(text: str) -> bytes:
    raw = text.encode("ascii") + b"\0"
    return b"desc\0\0\0\0" + struct.pack(">I", len(raw)) + raw + bytes(4 + 4 + 2 + 1 + 67)


def curve(fn, many: int = 1024) -> bytes:
    """A table of a curve."""
    x = np.linspace(0, 1, many)
    table = np.round(fn(x) * 65535).astype(">u2").tobytes()
    return b"curv\0\0\0\0" + struct.pack(">I", many) + table


def lightness(x: NDArray[np.float64]) -> NDArray[np.float64]:
    """CIE L*: encoded 0..1 to linear 0..1."""
    return np.where(x > 0.08, ((x + 0.16) / 1.16) ** 3, x * 100 * 27 / 24389)


def pure(power: float) -> bytes:
    return b"curv\0\0\0\0" + struct.pack(">IH", 1, round(power * 256))


def profile(space: bytes, tags: list[tuple[bytes, bytes]]) -> bytes:
    head = 128 + 4 + 12 * len(tags)
    table, body, placed = struct.pack(">I", len(tags)), b"", {}
    for name, data in tags:
        if data not in placed:
            placed[data] = head + len(body)
            body += data + bytes(-len(data) % 4)
        table += name + struct.pack(">II", placed[data], len(data))
    header = struct.pack(
        ">I4sI4s4s4s6H4s4sIIIQI12s4s44s",
        head + len(body), b"\0\0\0\0", 0x02400000, b"mntr", space, b"XYZ ",
        2026, 11, 2, 0, 0, 0, b"acsp", b"\0\0\0\0", 0, 0, 0, 0, 0, s15(D50), b"\0\0\0\0", bytes(44),
    )
    return header + table + body


def rgb(name: str, primaries, white, trc: bytes) -> bytes:
    columns = colorants(primaries, white)
    return profile(
        b"RGB ",
        [
            (b"desc", desc(name)),
            (b"cprt", b"text\0\0\0\0No copyright, use freely\0"),
            (b"wtpt", b"XYZ \0\0\0\0" + s15(xyz(*white))),
            *((tag, b"XYZ \0\0\0\0" + s15(columns[:, i])) for i, tag in
              enumerate((b"rXYZ", b"gXYZ", b"bXYZ"))),
            (b"rTRC", trc), (b"gTRC", trc), (b"bTRC", trc),
        ],
    )


def grey(name: str, trc: bytes) -> bytes:
    return profile(
        b"GRAY",
        [
            (b"desc", desc(name)),
            (b"cprt", b"text\0\0\0\0No copyright, use freely\0"),
            (b"wtpt", b"XYZ \0\0\0\0" + s15(D50)),
            (b"kTRC", trc),
        ],
    )


def main() -> None:
    made = {
        "srgb": rgb("sRGB", ((0.64, 0.33), (0.30, 0.60), (0.15, 0.06)), D65_XY, curve(srgb_curve)),
        "adobe-rgb": rgb(
            "Compatible with Adobe RGB (1998)",
            ((0.64, 0.33), (0.21, 0.71), (0.15, 0.06)), D65_XY, pure(563 / 256),
        ),
        "display-p3": rgb(
            "Display P3",
            ((0.680, 0.320), (0.265, 0.690), (0.150, 0.060)), D65_XY, curve(srgb_curve),
        ),
        "prophoto": rgb(
            "Compatible with ROMM RGB",
            ((0.7347, 0.2653), (0.1596, 0.8404), (0.0366, 0.0001)), D50_XY, pure(1.8),
        ),
        "between": rgb(
            "Between tables, curve of lightness",
            ((0.7347, 0.2653), (0.1596, 0.8404), (0.0366, 0.0001)), D50_XY, curve(lightness, 4096),
        ),
        "grey": grey("Grey, sRGB curve", curve(srgb_curve)),
    }
    OUT.mkdir(parents=True, exist_ok=True)
    for name, data in made.items():
        (OUT / f"{name}.icc").write_bytes(data)
        print(f"{name}.icc {len(data)} bytes")


if __name__ == "__main__":
    main()
