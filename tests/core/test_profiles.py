"""Profiles by their content: what they are, what they are worth, and what hostile bytes do."""

from __future__ import annotations

import struct

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import ImageCms

from aptandum.core.photo import profile, shaper
from aptandum.core.photo.decode import from_array
from aptandum.core.photo.engine import converted, difference, memory, to_lab
from aptandum.core.photo.profile import SHIPPED, columns_and_curves, identify, middle_of, shipped
from samples import examples


def curve(tag: bytes):
    return profile._curve(tag)


def para(kind: int, *numbers: float) -> bytes:
    """A parametricCurveType (ICC.1, 10.18)."""
    fixed = [round(n * 65536) for n in numbers]
    return b"para" + bytes(4) + struct.pack(f">HH{len(fixed)}i", kind, 0, *fixed)


@pytest.mark.parametrize("space", SHIPPED)
def test_a_shipped_profile_is_known_by_its_numbers_and_not_by_its_name(space):
    icc = shipped(space)
    found = identify(icc)
    assert found.broken is None and found.space == space
    # renamed, it is the same; the description lies in the file as text
    name = (found.description or "").encode()
    for coded in (name, name.decode().encode("utf-16-be")):
        if coded in icc:
            other = icc.replace(coded, coded.replace(b"R", b"Q").replace(b"G", b"Q"))
            assert identify(other).space == space


@given(st.binary(max_size=600))
@settings(max_examples=examples(200), deadline=None)
def test_no_bytes_are_too_strange_to_be_told(data):
    found = identify(data)
    assert found.broken and found.space == "untagged" and found.channels == 0
    middle_of(data)
    columns_and_curves(data)


@given(
    st.sampled_from(sorted(SHIPPED)),
    st.integers(0, 4000),
    st.integers(0, 255),
    st.integers(0, 4000),
)
@settings(max_examples=examples(200), deadline=None)
def test_a_spoilt_profile_is_told_or_serves(space, at, byte, cut):
    raw = bytearray(shipped(space))
    raw[at % len(raw)] = byte
    data = bytes(raw[: len(raw) - cut % len(raw)]) if cut % 3 == 0 else bytes(raw)
    found = identify(data)
    assert bool(found.broken) == (found.channels == 0)
    middle = middle_of(data)
    assert middle is None or np.isfinite(middle)


def test_what_is_missing_is_said():
    icc = shipped("srgb")
    assert identify(b"").broken == "it is not an ICC profile"
    assert identify(icc[:-1]).broken == "it is cut short"
    assert identify(icc[:36] + b"nope" + icc[40:]).broken == "it is not an ICC profile"
    bare = icc.replace(b"rXYZ", b"xXYZ")
    assert identify(bare).broken in ("it lacks its colour tables", "its contents cannot be read")
    lab = ImageCms.ImageCmsProfile(ImageCms.createProfile("LAB")).tobytes()
    assert identify(lab).broken == "it is for another kind of picture"


@given(st.floats(0.4, 3.5), st.floats(0, 1))
@settings(max_examples=examples(100), deadline=None)
def test_curves_are_what_the_standard_says(gamma, x):
    value = np.array([x])
    power = round(gamma * 256) / 256
    assert curve(b"curv" + bytes(4) + struct.pack(">I", 0))(value)[0] == x
    one = curve(b"curv" + bytes(4) + struct.pack(">IH", 1, round(gamma * 256)))
    assert one(value)[0] == pytest.approx(x**power, abs=1e-9)
    table = curve(b"curv" + bytes(4) + struct.pack(">I3H", 3, 0, 16384, 65535))
    want = x / 0.5 * 0.25 if x <= 0.5 else 0.25 + (x - 0.5) / 0.5 * 0.75
    assert table(value)[0] == pytest.approx(want, abs=2e-4)
    assert curve(para(0, gamma))(value)[0] == pytest.approx(x**gamma, abs=1e-4)
    # sRGB's own: a straight foot, then a power (IEC 61966-2-1)
    srgb = curve(para(3, 2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045))
    light = x / 12.92 if x < 0.04045 else ((x + 0.055) / 1.055) ** 2.4
    assert srgb(value)[0] == pytest.approx(light, abs=1e-4)


@pytest.mark.parametrize(
    "tag",
    [
        b"",
        b"curv",
        b"curv" + bytes(4) + struct.pack(">I", 9),
        b"para" + bytes(4),
        para(9, 1.0),
        para(3, 2.4),
        para(1, 2.2, -1.0, 0.0),
        b"junk" * 8,
    ],
)
def test_a_curve_that_is_none_is_none(tag):
    assert curve(tag) is None


@pytest.mark.parametrize("far", [float("nan"), float("inf")])
def test_a_curve_that_leaves_all_numbers_makes_no_shaper(monkeypatch, far):
    """Such a profile is left to the engine, and nothing is measured as no number."""
    rows, _curves = columns_and_curves(shipped("srgb"))
    wild = (rows, [lambda x: np.where(x < 1, x, far)] * 3)
    monkeypatch.setattr(shaper, "columns_and_curves", lambda icc: wild)
    assert shaper.shaper_of.__wrapped__(b"a profile") is None


def test_a_matrix_profile_gives_the_colours_that_the_engine_gives():
    """Columns and curves by our own reading against LittleCMS."""
    rng = np.random.default_rng(3)
    some = rng.integers(0, 256, (1, 50, 3)).astype(np.uint8)
    numbers = rng.integers(0, 256, (200, 200, 3)).astype(np.uint8)  # many: the engine's own way
    numbers[:1, :50] = some
    for space in ("srgb", "adobe-rgb", "display-p3", "prophoto"):
        rows, curves = columns_and_curves(shipped(space))
        flat = numbers.reshape(-1, 3)
        light = np.stack([c(flat[:, i] / 255) for i, c in enumerate(curves)])
        x, y, z = np.array(rows) @ light

        def root(v: np.ndarray) -> np.ndarray:
            return np.where(v > (6 / 29) ** 3, np.cbrt(v), v / (3 * (6 / 29) ** 2) + 4 / 29)

        fx, fy, fz = root(x / 0.9642), root(y), root(z / 0.8249)
        ours = np.stack([116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)], 1)
        ours[:, 1:] = np.clip(ours[:, 1:], -128, 127)  # further out the engine does not go
        theirs = to_lab(numbers, shipped(space))
        off = np.abs(ours - theirs.reshape(-1, 3))
        assert off[:50].mean() < 0.1 and off[:50].max() < 2, space
        assert off.mean() < 0.1 and off.max() < 3, space
        # what a few pixels are is what they are among many, within what the engine rounds
        few = to_lab(numbers[:40, :40], shipped(space))
        apart = difference(few, theirs[:40, :40])
        assert np.percentile(apart, 95) < 0.2 and apart.max() < 0.7, space
        assert (
            np.abs(few.reshape(-1, 3) - ours.reshape(200, 200, 3)[:40, :40].reshape(-1, 3)).max()
            < 0.01
        )
    assert columns_and_curves(shipped("grey")) is None


@pytest.mark.parametrize("source", ["adobe-rgb", "display-p3", "prophoto"])
@pytest.mark.parametrize("bits", [8, 16])
def test_between_matrix_profiles_the_darkest_colours_are_right_as_well(source, bits):
    """Of numbers of 16 bit the profile engine made darks of up to 21 of 255 too many."""
    rng = np.random.default_rng(3)
    pixels = rng.integers(0, 65536, (90, 120, 3)).astype(np.uint16)
    pixels[:45] //= 40
    made = memory(converted(from_array(pixels), shipped(source), shipped("srgb"), bits))
    one, two = (columns_of(kind) for kind in (source, "srgb"))
    columns, curves = one
    linear = np.stack([curves[i](pixels[..., i] / 65535) for i in range(3)], -1)
    light = np.clip(linear @ (np.linalg.inv(two[0]) @ columns).T, 0, 1)
    wanted = np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055)
    top = 255 if bits == 8 else 65535
    off = np.abs(made - wanted * top)
    assert off.max() < (0.55 if bits == 8 else 12)


def columns_of(space):
    columns, curves = columns_and_curves(shipped(space))
    return np.array(columns), curves


def grey_profile(trc: bytes) -> bytes:
    """A profile of greys with a tone curve, and nothing else."""
    data = shipped("grey")
    count = struct.unpack_from(">I", data, 128)[0]
    at, body, made = 128 + 4 + 12 * count, b"", struct.pack(">I", count)
    for i in range(count):
        name, start, size = struct.unpack_from(">4sII", data, 132 + 12 * i)
        tag = trc if name == b"kTRC" else data[start : start + size]
        made += name + struct.pack(">II", at + len(body), len(tag))
        body += tag + bytes(-len(tag) % 4)
    return struct.pack(">I", at + len(body)) + data[4:128] + made + body


def gradient(bits: int) -> np.ndarray:
    top = 255 if bits == 8 else 65535
    return np.arange(0, top + 1, 1 if bits == 8 else 17).astype(f"u{bits // 8}")[None, :, None]


@pytest.mark.parametrize("bits", [8, 16])
@pytest.mark.parametrize("power", [1.0, 1.8, 2.4])
@pytest.mark.parametrize("target", ["srgb", "grey"])
def test_the_deepest_greys_of_any_curve_are_right(bits, power, target):
    """A linear curve's darkest were up to 5 L* off; every number is a grey, and none is skipped over."""
    icc = grey_profile(b"curv" + bytes(4) + struct.pack(">IH", 1, round(power * 256)))
    numbers, top = gradient(bits), 255 if bits == 8 else 65535
    made = memory(converted(from_array(numbers), icc, shipped(target), bits))
    assert (made == made[..., :1]).all()
    light = (numbers[0, :, 0] / top) ** (round(power * 256) / 256)
    wanted = np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055)
    assert np.abs(made[0, :, 0] - wanted * top).max() < (0.55 if bits == 8 else 12)


def test_a_black_that_is_not_wholly_black_becomes_the_darkest():
    """Black point compensation: a press's darkest grey is the screen's black, and white stays white."""
    table = np.linspace(0.02, 1, 256)
    trc = b"curv" + bytes(4) + struct.pack(">I", 256) + (table * 65535).astype(">u2").tobytes()
    made = memory(converted(from_array(gradient(8)), grey_profile(trc), shipped("srgb"), 8))
    assert made[0, 0].tolist() == [0, 0, 0] and made[0, -1].tolist() == [255, 255, 255]
