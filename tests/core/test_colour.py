"""Colour: against a float64 reference, at 8 and 16 bit, and in light."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pytest
import pyvips
from PIL import Image

from aptandum.core.brief.model import Brief
from aptandum.core.conform import conform
from aptandum.core.fitting.gamut import conversion
from aptandum.core.fitting.render import render
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo import engine
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.header import facts_of_bytes
from aptandum.core.photo.profile import shipped
from samples import brief_of, clause, jpeg, scene

ANY = Brief("any", "", ())
D50 = np.array([0.96422, 1.0, 0.82521])


# -- a reference of its own: matrices and curves of the published spaces, in float64 ---------


def _srgb_light(x):
    return np.where(x <= 0.04045, x / 12.92, ((x + 0.055) / 1.055) ** 2.4)


def _srgb_code(y):
    y = np.clip(y, 0, 1)
    return np.where(y <= 0.0031308, 12.92 * y, 1.055 * y ** (1 / 2.4) - 0.055)


def _power(p):
    return (lambda x: x**p), (lambda y: np.clip(y, 0, 1) ** (1 / p))


CURVES = {
    "srgb": (_srgb_light, _srgb_code),
    "display-p3": (_srgb_light, _srgb_code),
    "adobe-rgb": _power(563 / 256),
    "prophoto": _power(1.8),
}


def _columns(space: str) -> np.ndarray:
    """The colorants that the profile's own bytes state (s15Fixed16, ICC.1)."""
    data, found = shipped(space), []
    count = int.from_bytes(data[128:132], "big")
    for name in (b"rXYZ", b"gXYZ", b"bXYZ"):
        for i in range(count):
            entry = data[132 + 12 * i : 144 + 12 * i]
            if entry[:4] == name:
                at = int.from_bytes(entry[4:8], "big")
                found.append(
                    [
                        int.from_bytes(data[at + 8 + 4 * k : at + 12 + 4 * k], "big", signed=True)
                        / 65536
                        for k in range(3)
                    ]
                )
    return np.array(found).T


def to_xyz(values: np.ndarray, space: str) -> np.ndarray:
    return CURVES[space][0](values) @ _columns(space).T


def from_xyz(xyz: np.ndarray, space: str) -> np.ndarray:
    return CURVES[space][1](xyz @ np.linalg.inv(_columns(space)).T)


def lab(xyz: np.ndarray) -> np.ndarray:
    t = xyz / D50
    f = np.where(t > (6 / 29) ** 3, np.cbrt(t), t / (3 * (6 / 29) ** 2) + 4 / 29)
    return np.stack(
        [116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])], -1
    )


def ciede2000(one: np.ndarray, other: np.ndarray) -> np.ndarray:
    """Sharma, Wu and Dalal, 2005, in float64."""
    l1, a1, b1 = np.moveaxis(one, -1, 0)
    l2, a2, b2 = np.moveaxis(other, -1, 0)
    mean = (np.hypot(a1, b1) + np.hypot(a2, b2)) / 2
    g = 0.5 * (1 - np.sqrt(mean**7 / (mean**7 + 25.0**7)))
    a1, a2 = a1 * (1 + g), a2 * (1 + g)
    c1, c2 = np.hypot(a1, b1), np.hypot(a2, b2)
    h1, h2 = np.degrees(np.arctan2(b1, a1)) % 360, np.degrees(np.arctan2(b2, a2)) % 360
    dh = h2 - h1
    dh = np.where(dh > 180, dh - 360, np.where(dh < -180, dh + 360, dh))
    none = c1 * c2 == 0
    dh = np.where(none, 0, dh)
    d_l, d_c = l2 - l1, c2 - c1
    d_h = 2 * np.sqrt(c1 * c2) * np.sin(np.radians(dh / 2))
    lm, cm = (l1 + l2) / 2, (c1 + c2) / 2
    far = np.abs(h1 - h2) > 180
    hm = np.where(none, h1 + h2, np.where(far, (h1 + h2 + 360) / 2, (h1 + h2) / 2))
    hm = np.where(~none & far & (h1 + h2 >= 360), (h1 + h2 - 360) / 2, hm)
    t = (
        1
        - 0.17 * np.cos(np.radians(hm - 30))
        + 0.24 * np.cos(np.radians(2 * hm))
        + 0.32 * np.cos(np.radians(3 * hm + 6))
        - 0.20 * np.cos(np.radians(4 * hm - 63))
    )
    turn = 30 * np.exp(-(((hm - 275) / 25) ** 2))
    rc = 2 * np.sqrt(cm**7 / (cm**7 + 25.0**7))
    sl = 1 + 0.015 * (lm - 50) ** 2 / np.sqrt(20 + (lm - 50) ** 2)
    sc, sh = 1 + 0.045 * cm, 1 + 0.015 * cm * t
    rt = -np.sin(np.radians(2 * turn)) * rc
    return np.sqrt(
        (d_l / sl) ** 2 + (d_c / sc) ** 2 + (d_h / sh) ** 2 + rt * (d_c / sc) * (d_h / sh)
    )


@pytest.mark.parametrize(
    ("one", "other", "expected"),
    [  # from the published test data
        ((50, 2.6772, -79.7751), (50, 0, -82.7485), 2.0425),
        ((50, -1.3802, -84.2814), (50, 0, -82.7485), 1.0),
        ((50, 2.5, 0), (73, 25, -18), 27.1492),
        ((50, 2.5, 0), (61, -5, 29), 22.8977),
        ((60.2574, -34.0099, 36.2677), (60.4626, -34.1751, 39.4387), 1.2644),
        ((22.7233, 20.0904, -46.694), (23.0331, 14.973, -42.5619), 2.0373),
        ((2.0776, 0.0795, -1.135), (0.9033, -0.0636, -0.5514), 0.9082),
    ],
)
def test_the_difference_is_the_published_one(one, other, expected):
    a, b = (np.array([[v]], np.float32) for v in (one, other))
    assert engine.difference(a, b)[0, 0] == pytest.approx(expected, abs=1e-3)
    assert ciede2000(np.array(one, float), np.array(other, float)) == pytest.approx(
        expected, abs=1e-4
    )


def chart(path: Path, space: str, deep: bool) -> np.ndarray:
    """A chart of 250 colours, patches of 4 x 4, as PNG; returns the colours, 0..1."""
    rng = np.random.default_rng(len(space) + deep)
    top = 65535 if deep else 255
    colours = rng.integers(0, top + 1, (10, 25, 3))
    pixels = np.repeat(np.repeat(colours, 4, 0), 4, 1).astype(np.uint16 if deep else np.uint8)
    image = pyvips.Image.new_from_array(pixels).copy(interpretation="rgb16" if deep else "srgb")
    image.set_type(pyvips.GValue.blob_type, "icc-profile-data", shipped(space))
    path.write_bytes(image.pngsave_buffer(bitdepth=16 if deep else 8, keep="icc"))
    return colours / top


@pytest.mark.parametrize("bits", [8, 16])
@pytest.mark.parametrize("target", ["srgb", "adobe-rgb"])
def test_a_chart_of_a_thousand_colours_comes_out_as_the_reference_says(tmp_path, bits, target):
    off = []
    for space in CURVES:
        path = tmp_path / f"{space}.png"
        wanted = from_xyz(to_xyz(chart(path, space, bits == 16), space), target)
        brief = brief_of(
            clause("colour_space", exactly=target)
            + clause("bits", exactly=bits)
            + clause("format", exactly="png")
        )
        proof = conform(open_photo(path), brief)
        assert proof.ready and proof.findings.of("bits").value == bits
        read = pyvips.Image.new_from_buffer(proof.made.data, "").numpy()
        assert read.dtype == (np.uint16 if bits == 16 else np.uint8)
        top = 65535 if bits == 16 else 255
        patches = read[1::4, 1::4] / top
        assert (read.reshape(10, 4, 25, 4, 3) == read[::4, ::4][:, None, :, None]).all()
        off.append(ciede2000(lab(to_xyz(patches, target)), lab(to_xyz(wanted, target))).ravel())
    all_off = np.concatenate(off)
    assert all_off.size == 1000
    assert np.percentile(all_off, 99) < (1.0 if bits == 8 else 0.2)


def test_a_smooth_ramp_keeps_its_levels_at_sixteen_bit(tmp_path):
    ramp = np.linspace(0, 65535, 3000).astype(np.uint16)
    pixels = np.repeat(np.repeat(ramp[None, :, None], 40, 0), 3, 2)
    path = tmp_path / "ramp.png"
    image = pyvips.Image.new_from_array(pixels).copy(interpretation="rgb16")
    image.set_type(pyvips.GValue.blob_type, "icc-profile-data", shipped("prophoto"))
    path.write_bytes(image.pngsave_buffer(bitdepth=16, keep="icc"))
    asked = brief_of(clause("colour_space", exactly="adobe-rgb") + clause("width", exactly=1500))
    proof = conform(open_photo(path), asked)  # 16 bit in stays 16 bit where nothing forbids it
    assert facts_of_bytes(proof.made.data, "a.png").bits == 16
    read = pyvips.Image.new_from_buffer(proof.made.data, "").numpy()
    assert len(np.unique(read[10, :, 1])) > 1400
    eight = conform(open_photo(path), asked, Settings().having({"colour.bits": 8}))
    assert facts_of_bytes(eight.made.data, "a.png").bits == 8


def _lightness(pixels: np.ndarray) -> float:
    """L* of the mean light of an sRGB picture."""
    light = _srgb_light(np.asarray(pixels, float)[..., :3] / 255).mean((0, 1))
    return float(lab(light @ _columns("srgb").T)[0])


@pytest.mark.parametrize("kind", ["dots", "lines", "noise"])
@pytest.mark.parametrize("ending", ["png", "jpg"])
@pytest.mark.parametrize("output", ["100 x 100", "233 x 233"])
@pytest.mark.long
def test_a_fine_pattern_does_not_darken(tmp_path, kind, ending, output):
    y, x = np.mgrid[0:600, 0:600]
    rng = np.random.default_rng(4)
    on = {"dots": (x + y) % 2, "lines": x % 2, "noise": rng.integers(0, 2, (600, 600))}[kind]
    pixels = np.repeat((on * 255).astype(np.uint8)[..., None], 3, 2)
    path = tmp_path / f"pattern.{ending}"
    if ending == "png":
        Image.fromarray(pixels).save(path, icc_profile=shipped("srgb"))
    else:
        path.write_bytes(jpeg(pixels, quality=100, subsampling=0, icc_profile=shipped("srgb")))
    supplied = np.asarray(Image.open(path).convert("RGB"))
    made = Settings().having({"frame.output": output, "file.format": "png"})
    proof = conform(open_photo(path), ANY, made)
    read = np.asarray(Image.open(io.BytesIO(proof.made.data)))
    assert abs(_lightness(read) - _lightness(supplied)) < 1
    by_numbers = conform(open_photo(path), ANY, made.having({"colour.resampling": "numbers"}))
    dark = np.asarray(Image.open(io.BytesIO(by_numbers.made.data)))
    assert _lightness(dark) < _lightness(supplied) - 10  # which is what it is for


def test_an_edge_has_no_black_rim(tmp_path):
    """Lanczos in light must not swing a dark roof to black beside a bright sky."""
    pixels = np.full((400, 400, 3), 235, np.uint8)
    pixels[200:] = 60
    path = tmp_path / "roof.png"
    Image.fromarray(pixels).save(path, compress_level=1)
    line = resolve(open_photo(path).facts, ANY, Settings().having({"frame.output": "150 x 150"}))
    made = render(open_photo(path), line).pixels
    assert made.min() >= 58 and made.max() <= 237


def test_a_clear_edge_keeps_its_colour_when_it_is_reduced(tmp_path):
    """Hidden colours under transparency do not bleed into the edge, at any reduction."""
    pixels = np.zeros((900, 900, 4), np.uint8)
    pixels[..., :3] = (0, 255, 0)
    pixels[200:700, 200:700] = (200, 30, 30, 255)
    path = tmp_path / "badge.png"
    Image.fromarray(pixels).save(path, compress_level=1)
    for how in ("light", "numbers"):
        made = Settings().having({"frame.output": "61 x 61", "colour.resampling": how})
        proof = conform(open_photo(path), ANY, made)
        read = np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("RGBA")).astype(int)
        seen = read[..., 3] > 20
        assert (read[seen][:, 1] < 60).all() and (read[seen][:, 0] > 180).all()
        white = Settings().having(
            {
                **{"frame.output": "61 x 61", "colour.resampling": how},
                "file.format": "jpeg",
                "file.quality": 100,
            }
        )
        flat = np.asarray(Image.open(io.BytesIO(conform(open_photo(path), ANY, white).made.data)))
        # from red to white: never darker than the darker of the two, never greener than a mixture
        assert (flat.astype(int)[..., 1] - flat.astype(int)[..., 2] < 12).all()
        assert flat[..., 0].min() > 190


def test_the_ground_under_clear_parts_is_the_colour_named(tmp_path):
    pixels = np.zeros((60, 60, 4), np.uint8)
    path = tmp_path / "clear.png"
    Image.fromarray(pixels).save(path, icc_profile=shipped("adobe-rgb"))
    brief = brief_of(clause("format", exactly="jpeg") + clause("colour_space", exactly="adobe-rgb"))
    made = Settings().having({"finish.ground": "#C83214", "file.quality": 100})
    proof = conform(open_photo(path), brief, made)
    read = np.asarray(Image.open(io.BytesIO(proof.made.data))) / 255
    seen, wanted = (
        lab(to_xyz(read[30, 30], "adobe-rgb")),
        lab(to_xyz(np.array([0xC8, 0x32, 0x14]) / 255, "srgb")),
    )
    assert ciede2000(seen, wanted) < 1


def test_what_lies_outside_the_target_is_counted_and_shown(tmp_path):
    """A strip of full Display P3 green over a grey that both spaces hold."""
    pixels = np.full((300, 400, 3), 128, np.uint8)
    pixels[:75] = (0, 255, 0)
    path = tmp_path / "leaf.png"
    Image.fromarray(pixels).save(path, icc_profile=shipped("display-p3"))
    photo = open_photo(path)
    found = conversion(
        photo, resolve(photo.facts, brief_of(clause("colour_space", exactly="srgb")), Settings())
    )
    assert found.share == pytest.approx(0.25, abs=0.01)
    assert found.outside[:74].all() and not found.outside[76:].any()
    assert found.largest > 3 > found.mean > 0.5
    same = conversion(photo, resolve(photo.facts, ANY, Settings()))
    assert same.share == 0 and same.largest < 0.01


@pytest.mark.parametrize("mix", ["lightness", "even", "red", "green", "blue"])
def test_grey_by_a_mix(tmp_path, mix):
    pixels = np.zeros((40, 160, 3), np.uint8)
    for i, colour in enumerate(((255, 0, 0), (0, 255, 0), (0, 0, 255), (90, 90, 90))):
        pixels[:, i * 40 : i * 40 + 40] = colour
    path = tmp_path / "flags.png"
    Image.fromarray(pixels).save(path, compress_level=1)
    made = Settings().having({"colour.space": "grey", "colour.mix": mix})
    proof = conform(open_photo(path), ANY, made)
    read = Image.open(io.BytesIO(proof.made.data))
    assert read.mode == "L"
    got = [int(v) for v in np.asarray(read)[20, 20::40]]
    wanted = {
        "even": [85, 85, 85, 90],
        "red": [255, 0, 0, 90],
        "green": [0, 255, 0, 90],
        "blue": [0, 0, 255, 90],
    }.get(mix)
    if wanted is None:  # the same lightness as the colour had
        light = to_xyz(np.array([[1, 0, 0], [0, 1, 0], [0, 0, 1], [90 / 255] * 3], float), "srgb")
        wanted = [float(v) for v in _srgb_code(light[:, 1]) * 255]
    assert got == pytest.approx(wanted, abs=1.01)


def test_an_opened_scene_in_grey_has_the_lightness_it_had(tmp_path):
    path = tmp_path / "pier.png"
    Image.fromarray(scene(300, 200)).save(path, compress_level=1)
    photo = open_photo(path)
    grey = render(photo, resolve(photo.facts, ANY, Settings().having({"colour.space": "grey"})))
    colour = render(photo, resolve(photo.facts, ANY, Settings()))
    assert np.abs(grey.lab()[..., 0] - colour.lab()[..., 0]).mean() < 0.3
