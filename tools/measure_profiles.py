"""How near colours come out to the profile library's own floating point, for profiles of every kind.

    python tools/measure_profiles.py

Forty made-up profiles (three colours by matrix or by table, greys, four inks; versions 2 and 4), each to three spaces at 8
and 16 bit. The reference is Little CMS in floating point, unoptimised, with black point compensation, held to 0..1: the
library that Pillow brings, called by itself. Figures are CIEDE2000: mean, 99th percentile, largest; what rounding to the
depth alone would cost stands beside them.
"""

from __future__ import annotations

import ctypes
import struct
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import PIL

sys.path.insert(0, str(Path(__file__).resolve().parent))

from aptandum.core.photo.decode import from_array
from aptandum.core.photo.engine import converted, difference, memory
from aptandum.core.photo.profile import shipped
from make_profiles import D50, D50_XY, D65_XY, colorants, pure, s15, srgb_curve

MANY = 4096
TARGETS = ("srgb", "adobe-rgb", "grey")
REACH = {8: 1.0, 16: 0.2}

PRIMARIES = {
    "narrow": (((0.630, 0.340), (0.310, 0.595), (0.155, 0.070)), D65_XY),
    "usual": (((0.64, 0.33), (0.30, 0.60), (0.15, 0.06)), D65_XY),
    "wide": (((0.708, 0.292), (0.170, 0.797), (0.131, 0.046)), D65_XY),
    "warm": (((0.67, 0.32), (0.26, 0.69), (0.15, 0.05)), D50_XY),
}


def header(space: bytes, pcs: bytes, version: int, tags: dict[bytes, bytes]) -> bytes:
    """A profile of its tags."""
    at = 128 + 4 + 12 * len(tags)
    table, body = struct.pack(">I", len(tags)), b""
    for name, data in tags.items():
        table += name + struct.pack(">II", at + len(body), len(data))
        body += data + bytes(-len(data) % 4)
    kind = b"prtr" if space == b"CMYK" else b"mntr"
    return struct.pack(
        ">I4sI4s4s4s6H4s4sIIIQI12s4s44s",
        at + len(body), bytes(4), version << 24, kind, space, pcs,
        2026, 11, 29, 0, 0, 0, b"acsp", bytes(4), 0, 0, 0, 0, 0, s15(D50), bytes(4), bytes(44),
    ) + table + body  # fmt: skip


def named(text: str, version: int) -> dict[bytes, bytes]:
    """Tags that every profile has."""
    if version >= 4:
        raw = text.encode("utf-16-be")
        said = b"mluc" + bytes(4) + struct.pack(">II2s2sII", 1, 12, b"en", b"US", len(raw), 28)
        said += raw
    else:
        raw = text.encode("ascii") + b"\0"
        said = b"desc" + bytes(4) + struct.pack(">I", len(raw)) + raw + bytes(78)
    return {b"desc": said, b"wtpt": b"XYZ " + bytes(4) + s15(D50)}


def table_curve(fn: Callable[[np.ndarray], np.ndarray], many: int) -> bytes:
    values = np.round(fn(np.linspace(0, 1, many)) * 65535).astype(">u2")
    return b"curv" + bytes(4) + struct.pack(">I", many) + values.tobytes()


def parametric(*numbers: float) -> bytes:
    return b"para" + bytes(4) + struct.pack(">HH", {1: 0, 5: 3}[len(numbers)], 0) + s15(numbers)


def l_star(x: np.ndarray) -> np.ndarray:
    """CIE L* as a curve: encoded 0..1 to linear 0..1."""
    return np.where(x > 0.08, ((x + 0.16) / 1.16) ** 3, x * 100 / 903.3)


def dot_gain(x: np.ndarray) -> np.ndarray:
    """A press that prints a half tone a fifth darker."""
    ink = 1 - x
    return 1 - np.clip(ink + 0.8 * ink * (1 - ink), 0, 1) * 0.98


CURVES = {
    "power 1": pure(1.0),
    "power 1.8": pure(1.8),
    "power 2.2": pure(2.2),
    "power 2.4": pure(2.4),
    "sRGB": table_curve(srgb_curve, 1024),
    "L*": table_curve(l_star, 1024),
    "of 16 steps": table_curve(lambda x: x**2.2, 16),
}
CURVES4 = {
    "parametric 2.2": parametric(2.2),
    "parametric sRGB": parametric(2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045),
}


def matrix(space: str, curve: bytes, version: int) -> bytes:
    columns = colorants(*PRIMARIES[space])
    tags = named(f"matrix {space}", version)
    for i, name in enumerate((b"rXYZ", b"gXYZ", b"bXYZ")):
        tags[name] = b"XYZ " + bytes(4) + s15(columns[:, i])
    for name in (b"rTRC", b"gTRC", b"bTRC"):
        tags[name] = curve
    return header(b"RGB ", b"XYZ ", version, tags)


def grey(curve: bytes, version: int) -> bytes:
    return header(b"GRAY", b"XYZ ", version, {**named("grey", version), b"kTRC": curve})


def lab_of_xyz(xyz: np.ndarray) -> np.ndarray:
    share = np.maximum(xyz / D50, 0)
    f = np.where(share > 216 / 24389, np.cbrt(share), (24389 / 27 * share + 16) / 116)
    x, y, z = f[..., 0], f[..., 1], f[..., 2]
    return np.stack([116 * y - 16, 500 * (x - y), 200 * (y - z)], -1)


def tabled(space: bytes, steps: int, model: Callable[[np.ndarray], np.ndarray], version: int, eight: bool) -> bytes:  # fmt: skip
    """A profile whose colours stand in a table (lut8Type or lut16Type, CIELAB)."""
    channels = 4 if space == b"CMYK" else 3
    axes = np.meshgrid(*[np.linspace(0, 1, steps)] * channels, indexing="ij")
    lab = model(np.stack(axes, -1).reshape(-1, channels))
    if eight:
        cells = np.stack([lab[:, 0] * 2.55, lab[:, 1] + 128, lab[:, 2] + 128], -1)
        body = np.clip(np.round(cells), 0, 255).astype(np.uint8).tobytes()
        ramp = np.arange(256, dtype=np.uint8).tobytes()
        start, many = b"mft1", b""
    else:
        cells = np.stack([lab[:, 0] / 100 * 65280, (lab[:, 1] + 128) * 256, (lab[:, 2] + 128) * 256], -1)  # fmt: skip
        body = np.clip(np.round(cells), 0, 65535).astype(">u2").tobytes()
        ramp = np.linspace(0, 65535, 256).round().astype(">u2").tobytes()
        start, many = b"mft2", struct.pack(">HH", 256, 256)
    identity = s15(np.eye(3).ravel())
    data = start + bytes(4) + bytes([channels, 3, steps, 0]) + identity + many
    data += ramp * channels + body + ramp * 3
    tags = {**named("table", version), b"A2B0": data}
    return header(space, b"Lab ", version, tags)


def screen_model(twist: float) -> Callable[[np.ndarray], np.ndarray]:
    columns = colorants(*PRIMARIES["usual"])

    def model(rgb: np.ndarray) -> np.ndarray:
        lab = lab_of_xyz((rgb**2.2) @ columns.T)
        lab[:, 1] += twist * np.sin(lab[:, 0] / 100 * np.pi)
        return lab

    return model


def ink_model(gain: float, black: float) -> Callable[[np.ndarray], np.ndarray]:
    """Four inks laid over one another on paper (Neugebauer, with a gain of the dots)."""
    inks = np.array([[0.14, 0.20, 0.62], [0.28, 0.14, 0.12], [0.68, 0.74, 0.06], [black] * 3])

    def model(cmyk: np.ndarray) -> np.ndarray:
        dots = np.clip(cmyk + gain * cmyk * (1 - cmyk), 0, 1)
        share = np.ones((len(cmyk), 3))
        for i in range(4):
            share *= 1 - dots[:, i : i + 1] * (1 - inks[i])
        return lab_of_xyz(share * D50)

    return model


def profiles() -> Iterator[tuple[str, str, bytes]]:
    """Kind, name and bytes of each."""
    for i, space in enumerate(PRIMARIES):
        for j, (name, curve) in enumerate(CURVES.items()):
            if (i + j) % 2 == 0:
                yield "matrix", f"{space}, {name}, v2", matrix(space, curve, 2)
    for space, (name, curve) in zip(PRIMARIES, list(CURVES4.items()) * 2, strict=True):
        yield "matrix", f"{space}, {name}, v4", matrix(space, curve, 4)
    for steps, version, eight, twist in (
        (9, 2, False, 6.0), (17, 2, False, 6.0), (33, 4, False, 6.0), (17, 2, True, 6.0), (9, 4, False, -9.0),
        (33, 2, True, -9.0),
    ):  # fmt: skip
        data = tabled(b"RGB ", steps, screen_model(twist), version, eight)
        yield (
            "table",
            f"{steps} steps, {8 if eight else 16} bit, bent by {twist:g}, v{version}",
            data,
        )
    for name, curve in {**CURVES, "dot gain": table_curve(dot_gain, 256)}.items():
        yield "grey", f"{name}, v2", grey(curve, 2)
    for name, curve in CURVES4.items():
        yield "grey", f"{name}, v4", grey(curve, 4)
    for steps, gain, black, version, eight in (
        (9, 0.5, 0.02, 2, False), (9, 0.8, 0.05, 4, False), (11, 0.6, 0.03, 2, True), (17, 0.7, 0.02, 2, False),
        (9, 0.3, 0.01, 2, True), (17, 0.9, 0.04, 4, False),
    ):  # fmt: skip
        data = tabled(b"CMYK", steps, ink_model(gain, black), version, eight)
        yield "inks", f"{steps} steps, {8 if eight else 16} bit, v{version}", data


class Float:
    """Little CMS in floating point."""

    _KINDS = {b"GRAY": (3, 1), b"RGB ": (4, 3), b"CMYK": (6, 4), b"Lab ": (10, 3)}

    def __init__(self) -> None:
        found = sorted((Path(PIL.__file__).parent.parent / "pillow.libs").glob("liblcms2*"))
        self.lib = ctypes.CDLL(str(found[0]) if found else "liblcms2.so.2")
        for name in ("cmsOpenProfileFromMem", "cmsCreateLab4Profile", "cmsCreateTransform"):
            getattr(self.lib, name).restype = ctypes.c_void_p

    def _opened(self, icc: bytes | None) -> ctypes.c_void_p:
        if icc is None:
            return ctypes.c_void_p(self.lib.cmsCreateLab4Profile(None))
        return ctypes.c_void_p(self.lib.cmsOpenProfileFromMem(icc, len(icc)))

    def __call__(self, values: np.ndarray, source: bytes, target: bytes | None) -> np.ndarray:
        """Values 0..1 of one profile, shape (n, channels), in another's; CIELAB for ``None``."""
        kinds = [source[16:20], b"Lab " if target is None else target[16:20]]
        forms = [
            (1 << 22) | (self._KINDS[k][0] << 16) | (self._KINDS[k][1] << 3) | 4 for k in kinds
        ]
        flags = 0x0100 | 0x0040 | (0x2000 if target is not None else 0)
        act = ctypes.c_void_p(
            self.lib.cmsCreateTransform(
                self._opened(source), forms[0], self._opened(target), forms[1], 1, flags
            )
        )
        assert act, "the library refuses the profiles"
        given = np.ascontiguousarray(values * (100 if kinds[0] == b"CMYK" else 1), np.float32)
        made = np.empty((len(values), self._KINDS[kinds[1]][1]), np.float32)
        self.lib.cmsDoTransform(
            act, given.ctypes.data_as(ctypes.c_void_p), made.ctypes.data_as(ctypes.c_void_p), len(values)
        )  # fmt: skip
        return made


def pixels_of(channels: int) -> np.ndarray:
    """Colours of all kinds, 0..1, with many dark ones, shape (n, channels)."""
    rng = np.random.default_rng(11)
    made = rng.random((MANY, channels))
    made[: MANY // 4] *= 0.12
    made[MANY // 4 : MANY // 3] = np.linspace(0, 1, MANY // 3 - MANY // 4)[:, None]
    if channels == 4:
        made[: MANY // 2, 3] *= 0.3
    return made


def off(exact: Float, icc: bytes, target: str, bits: int) -> tuple[np.ndarray, np.ndarray]:
    """How far each colour comes out from the reference, and how far rounding alone would bring it; CIEDE2000."""
    channels = {b"GRAY": 1, b"RGB ": 3, b"CMYK": 4}[icc[16:20]]
    written, top = shipped(target), 255 if bits == 8 else 65535
    numbers = np.rint(pixels_of(channels) * top).astype(np.uint8 if bits == 8 else np.uint16)
    image = from_array(numbers.reshape(64, -1, channels))
    if channels == 4:
        image = image.copy(interpretation="cmyk")
    ours = memory(converted(image, icc, written, bits)).reshape(MANY, -1) / top
    true = np.clip(exact(numbers / top, icc, written), 0, 1)
    labs = [exact(v, written, None)[None] for v in (true, ours, np.rint(true * top) / top)]
    return difference(labs[0], labs[1]).ravel(), difference(labs[0], labs[2]).ravel()


def main() -> int:
    exact = Float()
    worst: dict[tuple[str, int], list[float]] = {}
    print(
        "| profile | to | bits | mean | 99 % | largest | rounding alone, 99 % |\n|---|---|---|---|---|---|---|"
    )
    for kind, name, icc in profiles():
        for target in TARGETS:
            for bits in (8, 16):
                found, rounding = off(exact, icc, target, bits)
                high = float(np.percentile(found, 99))
                worst.setdefault((kind, bits), []).append(high)
                mark = " **over**" if high > REACH[bits] else ""
                print(f"| {kind} {name} | {target} | {bits} | {found.mean():.3f} | {high:.3f}{mark} | {found.max():.2f} | {np.percentile(rounding, 99):.3f} |")  # fmt: skip
    print()
    for (kind, bits), all_ in worst.items():
        print(
            f"{kind}, {bits} bit: worst 99th percentile {max(all_):.3f} of {len(all_)} (reach {REACH[bits]})"
        )
    return 0


if __name__ == "__main__":
    sys.exit(main())
