from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageCms, ImageOps

from aptandum.core.brief.model import Brief
from aptandum.core.conform import conform
from aptandum.core.errors import Cancelled
from aptandum.core.fitting import resample as resampling
from aptandum.core.fitting.plan import Window
from aptandum.core.fitting.render import render
from aptandum.core.fitting.resample import resample
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.screen import for_screen, shown_on
from aptandum.core.fitting.settings import Settings
from aptandum.core.fitting.stored import to_stored, turned
from aptandum.core.photo.decode import Photo, open_photo, open_pixels, whole_jpeg
from aptandum.core.photo.engine import difference, to_lab
from aptandum.core.photo.header import facts_of_bytes
from aptandum.core.photo.profile import shipped
from aptandum.core.photo.sound import Damaged
from samples import DEMO, brief_of, clause, examples, jpeg, scene

ANY = Brief("any", "", ())


def open_png(path: Path, pixels: np.ndarray, **options: object) -> Photo:
    Image.fromarray(pixels).save(path, "PNG", **options)
    return open_photo(path)


def rendered(photo: Photo, brief: Brief = ANY, **changes: object) -> np.ndarray:
    line = resolve(photo.facts, brief, Settings().having(changes))
    return render(photo, line).pixels


@pytest.mark.parametrize("orientation", range(1, 9))
def test_turning_agrees_with_another_library(orientation: int):
    stored = scene(31, 17, 3)
    exif = Image.Exif()
    exif[0x0112] = orientation
    image = Image.fromarray(stored)
    image.getexif()[0x0112] = orientation
    shown = np.asarray(ImageOps.exif_transpose(image))
    assert np.array_equal(turned(stored, orientation), shown)
    high, wide = shown.shape[:2]
    window = Window(3, 2, 8, 5)
    box = to_stored(window, orientation, (wide, high))
    x, y, w, h = (int(v) for v in (box.left, box.top, box.width, box.height))
    part = turned(stored[y : y + h, x : x + w], orientation)
    assert np.array_equal(part, shown[2:7, 3:11])


@given(st.data())
@settings(max_examples=examples(60), deadline=None)
def test_circles_stay_circles(data: st.DataObject):
    """A window of any place and size: the picture's second moments show the same scale across
    and up, to within half a pixel over the side."""
    size = 240
    y, x = np.mgrid[0:size, 0:size].astype(np.float64)
    disc = np.clip(60.5 - np.hypot(x + 0.5 - 120, y + 0.5 - 120), 0, 1)
    pixels = np.repeat((disc * 255).astype(np.uint8)[..., None], 3, 2)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    photo = _Memory(out.getvalue())
    left = data.draw(st.floats(0, 58))
    top = data.draw(st.floats(0, 58))
    side = data.draw(st.floats(182, 240 - max(left, top)))
    w = data.draw(st.integers(20, 300))
    h = data.draw(st.integers(20, 300))
    line = resolve(
        photo.facts,
        ANY,
        Settings().having({"frame.window": (left, top, side, side), "frame.output": (w, h)}),
    )
    window = line.frame.window
    made = render(photo, line).pixels[..., 0].astype(np.float64)
    assert made.shape == (h, w)
    # the shape's cut may lose a part of the disc; measure only where it is whole
    inside = window.left < 59 and window.top < 59 and window.right > 181 and window.bottom > 181
    if not inside:
        return
    total = made.sum()
    yy, xx = np.mgrid[0:h, 0:w] + 0.5
    cx, cy = (made * xx).sum() / total, (made * yy).sum() / total
    rx = 2 * np.sqrt((made * (xx - cx) ** 2).sum() / total)
    ry = 2 * np.sqrt((made * (yy - cy) ** 2).sum() / total)
    assert abs(rx - ry) < 0.5
    assert cx == pytest.approx((120 - window.left) * line.frame.scale, abs=0.25)
    assert cy == pytest.approx((120 - window.top) * line.frame.scale, abs=0.25)


class _Memory(Photo):
    """A photo whose bytes are in memory."""

    def __init__(self, data: bytes) -> None:
        object.__setattr__(self, "path", "memory.png")
        object.__setattr__(self, "facts", facts_of_bytes(data, "memory.png"))
        object.__setattr__(self, "_data", data)

    def read(self) -> bytes:
        return self._data  # type: ignore[attr-defined,no-any-return]


@given(st.integers(60, 400), st.integers(3, 12), st.floats(0, 0.9))
@settings(max_examples=examples(40), deadline=None)
def test_a_line_pattern_has_no_stretch(width: int, period: int, start: float):
    """Lines one pixel wide, cut at any sub-pixel place and written one to one or smaller, keep
    their spacing from the first to the last."""
    wide = 520
    columns = np.zeros((8, wide, 3), np.uint8)
    columns[:, ::period] = 255
    out = io.BytesIO()
    Image.fromarray(columns).save(out, "PNG")
    photo = _Memory(out.getvalue())
    window = (start, 0.0, 500.0, 8.0)
    line = resolve(
        photo.facts,
        ANY,
        Settings().having(
            {"frame.window": window, "frame.output": (width, max(1, width * 8 // 500))}
        ),
    )
    frame = line.frame
    profile = render(photo, line).pixels[..., 0].astype(np.float64).mean(0)
    at = np.arange(width) + 0.5
    # correlate with the ideal pattern's phase at the left and at the right third
    turn = 2 * np.pi * (at / frame.scale + frame.window.left - 0.5) / period
    if period * frame.scale < 2.5:
        return
    third = width // 3
    ends = [
        np.angle((profile[s] * np.exp(-1j * turn[s])).sum())
        for s in (slice(0, third), slice(-third, None))
    ]
    drift = np.angle(np.exp(1j * (ends[1] - ends[0]))) / (2 * np.pi) * period * frame.scale
    assert abs(drift) < 0.5


@pytest.mark.parametrize("orientation", [1, 3, 6, 8])
def test_keeping_pixels_keeps_every_one(tmp_path: Path, orientation: int):
    pixels = scene(90, 70, 8)
    exif = Image.Exif()
    exif[0x0112] = orientation
    photo = open_png(tmp_path / "a.png", pixels, exif=exif)
    shown = turned(pixels, orientation)
    brief = brief_of(clause("enlargement", exactly=1) + clause("size", exactly="40 x 30"))
    made = rendered(photo, brief, **{"frame.window": "11, 7, 40, 30"})
    assert np.array_equal(made, shown[7:37, 11:51])


def test_the_demo_portrait_against_an_independent_way():
    """The whole way on a turned 24-megapixel wide-gamut JPEG against Pillow, done slowly."""
    photo = open_photo(DEMO / "ines_marrow_0417.jpg")
    brief = brief_of(clause("size", exactly="630 x 840") + clause("colour_space", exactly="srgb"))
    window = (760.0, 500.0, 3060.0, 4080.0)
    made = rendered(photo, brief, **{"frame.window": window})
    whole = ImageOps.exif_transpose(Image.open(photo.path))
    cut = whole.resize((630, 840), Image.Resampling.LANCZOS, (760, 500, 3820, 4580))
    true = ImageCms.profileToProfile(
        cut,
        io.BytesIO(shipped("adobe-rgb")),
        io.BytesIO(shipped("srgb")),
        ImageCms.Intent.RELATIVE_COLORIMETRIC,
        flags=ImageCms.Flags.BLACKPOINTCOMPENSATION,
    )
    off = np.abs(made.astype(int) - np.asarray(true).astype(int))
    assert off.mean() < 1.2 and np.percentile(off, 99) <= 6


def test_colours_are_converted_and_not_just_relabelled(tmp_path: Path):
    patch = np.zeros((20, 20, 3), np.uint8)
    patch[:] = (60, 200, 80)
    photo = open_png(tmp_path / "p.png", patch, icc_profile=shipped("adobe-rgb"))
    brief = brief_of(clause("colour_space", exactly="srgb"))
    r, g, b = rendered(photo, brief)[5, 5]
    assert r < 20 and g >= 199 and b < 80  # more saturated numbers for the same colour
    same = rendered(photo)[5, 5]
    assert tuple(same) == (60, 200, 80)


def test_broken_and_foreign_profiles_leave_the_numbers_alone(tmp_path: Path):
    pixels = scene(30, 20)
    for icc in (b"junk" * 60, shipped("grey")):
        path = tmp_path / "b.jpg"
        path.write_bytes(jpeg(pixels, icc_profile=icc, quality=100, subsampling=0))
        photo = open_photo(path)
        line = resolve(photo.facts, ANY, Settings())
        assert line.colour.assumed and "cannot be used" in line.notes[0]
        off = np.abs(render(photo, line).pixels.astype(int) - pixels.astype(int))
        assert off.mean() < 2


def test_transparency_is_laid_on_the_ground_without_a_fringe(tmp_path: Path):
    pixels = np.zeros((80, 80, 4), np.uint8)
    pixels[..., :3] = (255, 0, 255)  # what hides under the transparent part
    pixels[20:60, 20:60] = (10, 120, 30, 255)
    Image.fromarray(pixels).save(tmp_path / "badge.png", compress_level=1)
    photo = open_photo(tmp_path / "badge.png")
    brief = brief_of(clause("format", exactly="jpeg") + clause("width", exactly=33))
    made = rendered(photo, brief)
    assert made.shape == (33, 33, 3)
    assert tuple(made[0, 0]) == (255, 255, 255)
    spill = made[..., 0].astype(int) - made[..., 1].astype(int)
    assert spill.max() <= 2  # no magenta anywhere
    kept = rendered(photo, brief_of(clause("transparency", exactly="present")))
    assert kept.shape[2] == 4 and kept[0, 0, 3] == 0


def test_sixteen_bits_stay_sixteen(tmp_path: Path):
    ramp = np.linspace(0, 65535, 2000).astype(np.uint16)
    import pyvips

    deep = np.repeat(np.repeat(ramp[None, :, None], 3, 2), 20, 0)
    pyvips.Image.new_from_array(deep).copy(interpretation="rgb16").pngsave(str(tmp_path / "r.png"))
    photo = open_photo(tmp_path / "r.png")
    brief = brief_of(clause("bits", exactly=16) + clause("width", exactly=1000))
    made = rendered(photo, brief)
    assert made.dtype == np.uint16 and len(np.unique(made[..., 0])) > 900


def test_cmyk_comes_out_as_colour(tmp_path: Path):
    path = tmp_path / "c.jpg"
    image = Image.new("CMYK", (40, 30), (0, 255, 255, 0))
    image.save(path, quality=95)
    r, g, b = rendered(open_photo(path), brief_of(clause("colour_space", exactly="srgb")))[9, 9]
    assert r > 180 and g < 90 and b < 90


def test_inks_without_a_profile_are_told_to_be_taken_as_some(tmp_path: Path):
    import pyvips
    from PIL import ImageCms

    from aptandum.core.conform import conform
    from aptandum.core.photo.engine import INKS

    own = bytes(pyvips.Operation.call("profile_load", "cmyk"))
    named = ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(io.BytesIO(own)))
    assert named.strip() == INKS
    image, brief = Image.new("CMYK", (40, 30), (0, 255, 255, 0)), brief_of(clause("colour_space", exactly="srgb"))  # fmt: skip
    image.save(tmp_path / "bare.jpg", quality=95)
    image.save(tmp_path / "named.jpg", quality=95, icc_profile=own)
    for name, told in (("bare", True), ("named", False)):
        proof = conform(open_photo(tmp_path / f"{name}.jpg"), brief)
        said = " ".join(act.says for act in proof.record)
        assert ("names no profile for its inks" in said) == told, said
        assert any(INKS in note for note in proof.line.notes) == told


def test_a_preview_is_the_same_picture_smaller(photo):
    one = open_photo(photo(1500, 1000, orientation=6))
    line = resolve(one.facts, ANY, Settings())
    full = render(one, line)
    small = render(one, line, zoom=0.25)
    assert small.size == (250, 375)
    again = resample(full.pixels, (250, 375), (0, 0, 1000, 1500))
    assert np.abs(again.astype(int) - small.pixels.astype(int)).mean() < 2.5
    screen = for_screen(shown_on(one, 300))
    assert screen.shape == (300, 200, 3)


def test_work_can_be_cancelled(photo):
    one = open_photo(photo(3000, 2000))
    with pytest.raises(Cancelled):
        render(one, resolve(one.facts, ANY, Settings()), cancelled=lambda: True)


@given(
    st.integers(300, 420),
    st.integers(300, 420),
    st.floats(0, 3),
    st.floats(0, 3),
    st.sampled_from([1, 3, 4]),
    st.sampled_from([np.uint8, np.uint16]),
)
@settings(max_examples=examples(25), deadline=None)
def test_a_large_picture_resized_in_halves_has_no_seam(wide, high, left, top, bands, kind):
    """The same as in one piece, to a step of rounding: in the middle as everywhere."""
    from aptandum.core.fitting import resample as module

    rng = np.random.default_rng(wide)
    top_ = np.iinfo(kind).max
    pixels = rng.integers(0, top_, (900, 1000, bands)).astype(kind)
    if bands == 4:  # a step of alpha and one of the premultiplied colour come together
        pixels[..., 3] = rng.integers(top_ * 3 // 4, top_, (900, 1000))
    box = (left, top, left + 940.5, top + 860.25)
    halves = resample(pixels, (wide, high), box)
    whole_at = module._SPLIT
    module._SPLIT = 10**9
    try:
        whole = resample(pixels, (wide, high), box)
    finally:
        module._SPLIT = whole_at
    assert np.abs(halves.astype(int) - whole.astype(int)).max() <= (2 if bands == 4 else 1)


@pytest.mark.parametrize("orientation", [1, 6, 3, 5])
@pytest.mark.parametrize("size", [(310, 420), (900, 1200)])
def test_a_window_with_edges_between_pixels_is_met_to_the_pixel(tmp_path, orientation, size):
    """Against the whole photo turned first and resampled in floating point by Pillow."""
    path = tmp_path / "quay.jpg"
    exif = Image.Exif()
    exif[0x0112] = orientation
    Image.fromarray(scene(2400, 1800, seed=6)).save(path, quality=92, exif=exif, subsampling=0)
    photo = open_photo(path)
    window = Window(30.4, 51.7, 1150.3, 1150.3 / size[0] * size[1])
    assert window.bottom < photo.facts.size[1]
    made, _ = resampling.resampled(photo, window, size, False, None)
    with Image.open(path) as opened:
        upright = np.asarray(ImageOps.exif_transpose(opened)).astype(np.float32)
    box = (window.left, window.top, window.left + window.width, window.bottom)
    planes = [
        np.asarray(Image.fromarray(upright[..., i]).resize(size, Image.Resampling.LANCZOS, box))
        for i in range(3)
    ]
    off = np.abs(made - np.clip(np.stack(planes, 2), 0, 255))
    assert made.shape == (size[1], size[0], 3)
    assert off.max() <= 3 and off.mean() < 0.5


def test_a_photo_cut_short_is_seen_while_it_is_resized(tmp_path):
    path = tmp_path / "quay.jpg"
    Image.fromarray(scene(2400, 1800, seed=6)).save(path, quality=92)
    data = path.read_bytes()
    path.write_bytes(data[: len(data) // 2])
    photo = open_photo(path)
    seen, _icc = resampling.resampled(photo, Window(0, 0, 1800, 1800), (600, 600), False, None)
    whole = scene(2400, 1800, seed=6)[: 3 * 250 : 3, : 3 * 600 : 3]
    assert np.abs(seen[:250, :600].astype(int) - whole).mean() < 12 and np.ptp(seen[-150:]) < 30
    with pytest.raises(Damaged, match="cut short"):
        conform(photo, Brief("any", "", ()))


@pytest.mark.parametrize("grey", [False, True])
@pytest.mark.parametrize("shrink", [1, 2, 4, 8])
def test_two_decoders_reduce_a_photo_to_the_same_pixels(grey: bool, shrink: int):
    pixels = scene(603, 401, seed=8)
    data = jpeg(pixels[..., 0] if grey else pixels, quality=88, subsampling=2)
    facts = facts_of_bytes(data, "mole.jpg")
    quick = whole_jpeg(data, facts, 8 // shrink)
    slow = open_pixels(data, facts, shrink)[0].numpy()
    slow = slow.reshape(*slow.shape[:2], -1)
    assert quick.shape[:2] == (-(-401 // shrink), -(-603 // shrink))
    # libvips leaves out a last row or column that is only partly filled.
    assert (quick[: slow.shape[0], : slow.shape[1]] == slow).all()


def test_the_quick_decoder_leaves_every_doubt_to_the_other():
    data = jpeg(scene(640, 480, seed=8))
    facts = facts_of_bytes(data, "mole.jpg")
    assert whole_jpeg(data, facts) is not None
    assert whole_jpeg(data[: len(data) // 2], facts) is None
    cmyk = io.BytesIO()
    Image.fromarray(scene(64, 48)).convert("CMYK").save(cmyk, "JPEG")
    assert whole_jpeg(cmyk.getvalue(), facts_of_bytes(cmyk.getvalue(), "press.jpg")) is None


@pytest.mark.parametrize("orientation", range(1, 9))
def test_a_resized_photo_is_turned_as_it_asks(tmp_path, orientation: int):
    exif = Image.Exif()
    exif[0x0112] = orientation
    path = tmp_path / "quay.jpg"
    path.write_bytes(jpeg(scene(1500, 1100, seed=9), exif=exif, quality=95))
    photo = open_photo(path)
    wide, high = photo.facts.size
    size = (wide * 3 // 5, high * 3 // 5)
    made, _ = resampling.resampled(photo, Window(0, 0, wide, high), size, False, None)
    with Image.open(path) as opened:
        upright = ImageOps.exif_transpose(opened).resize(size, Image.Resampling.LANCZOS)
    off = np.abs(made.astype(int) - np.asarray(upright))
    assert made.shape == (size[1], size[0], 3) and off.max() <= 2 and off.mean() < 0.4


@pytest.mark.parametrize("eighths", [1, 2, 3, 4])
def test_a_reduced_decode_lies_on_the_photos_own_grid(eighths: int):
    pixels = np.asarray(Image.fromarray(scene(163, 111, 4, 0.0)).resize((1304, 888)))
    data = jpeg(pixels, quality=97, subsampling=0)
    small = whole_jpeg(data, facts_of_bytes(data, "mole.jpg"), eighths)
    size = 163 * eighths, 111 * eighths
    assert small.shape == (size[1], size[0], 3)
    plain = np.asarray(Image.fromarray(pixels).resize(size, Image.Resampling.BOX))
    off = small.astype(int) - plain
    # half a pixel's shift along these edges would be a mean of several levels
    assert abs(off.mean()) < 0.5 and np.abs(off).mean() < 2.0


@pytest.mark.parametrize("scale", [4.1, 5.4, 7.9, 9.0, 16.2])
def test_reduced_on_the_way_a_picture_is_the_same_to_the_eye(tmp_path, scale: float):
    path = tmp_path / "lantern.jpg"
    path.write_bytes((DEMO / "lantern_quay_dusk.jpg").read_bytes())
    photo = open_photo(path)
    wide, high = photo.facts.size
    size = round(wide / scale), round(high / scale)
    made, _ = resampling.resampled(photo, Window(0, 0, wide, high), size, False, None)
    with Image.open(path) as opened:
        slow = np.asarray(ImageOps.exif_transpose(opened).convert("RGB").resize(size, 1))
    icc = shipped("srgb")
    off = difference(to_lab(made, icc), to_lab(slow, icc))
    assert np.percentile(off, 99) < 1.9 and off.mean() < 0.5
