"""Three ways to fill the frame: cut to shape, pad to shape, keep the photo's own pixels."""

from __future__ import annotations

import io

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.fitting.live import live_reading
from aptandum.core.fitting.plan import Window
from aptandum.core.fitting.render import render
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.findings import judge
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.facts import Facts
from samples import brief_of, clause, examples, scene

SQUARE = brief_of(clause("aspect", exactly="1:1") + clause("format", one_of=["png", "jpeg"]))
PASS = brief_of(clause("size", exactly="120 x 160") + clause("format", exactly="png"))


def png(tmp_path, pixels: np.ndarray, name: str = "wall.png"):
    path = tmp_path / name
    Image.fromarray(pixels).save(path, compress_level=1)
    return open_photo(path)


def facts(width: int, height: int) -> Facts:
    return Facts(
        "x.png",
        "png",
        width,
        height,
        width,
        height,
        8,
        "rgb",
        False,
        colour_space="srgb",
        orientation=1,
    )


def having(**changes: object) -> Settings:
    return Settings().having({k.replace("__", "."): v for k, v in changes.items()})


def pixels_of(proof) -> np.ndarray:
    with Image.open(io.BytesIO(proof.made.data)) as image:
        return np.asarray(image)


@given(st.integers(200, 900), st.integers(200, 900), st.floats(-50, 900), st.floats(-50, 900))
@settings(max_examples=examples(200), deadline=None)
def test_kept_pixels_are_a_whole_window_inside(pw, ph, left, top):
    made = having(frame__fill="pixels", frame__window=f"{left:.3f}, {top:.3f}, 120, 160")
    frame = resolve(facts(pw, ph), PASS, made).frame
    assert frame.exact and frame.scale == 1 and frame.output == (120, 160)
    window = frame.window
    assert (window.width, window.height) == (120, 160)
    assert window.left == int(window.left) and window.top == int(window.top)
    assert window.left >= 0 and window.right <= pw and window.top >= 0 and window.bottom <= ph


def test_every_output_pixel_is_the_source_pixel(tmp_path):
    picture = scene(640, 480, 3, 20)
    photo = png(tmp_path, picture)
    rng = np.random.default_rng(4)
    for _ in range(12):
        left, top = int(rng.integers(0, 520)), int(rng.integers(0, 320))
        made = having(frame__fill="pixels", frame__window=f"{left}, {top}, 120, 160")
        proof = conform(photo, PASS, made)
        assert np.array_equal(
            pixels_of(proof)[..., :3], picture[top : top + 160, left : left + 120]
        )


def test_sliding_a_kept_window_never_changes_its_size(tmp_path):
    brief = brief_of(clause("aspect", exactly="3:4") + clause("longest_side", at_most=160))
    sizes = {
        resolve(
            facts(640, 480),
            brief,
            having(frame__fill="pixels", frame__window=f"{x}, {x / 2}, 120, 160"),
        ).frame.output
        for x in range(0, 500, 7)
    }
    assert sizes == {(120, 160)}


def test_too_few_pixels_to_keep_is_said(tmp_path):
    line = resolve(facts(100, 90), PASS, having(frame__fill="pixels"))
    assert not line.frame.exact and any("too few pixels" in note for note in line.notes)


# --- padding -------------------------------------------------------------------------------


def test_padded_to_a_square_on_the_colour_of_its_edge(tmp_path):
    picture = np.full((200, 400, 3), (30, 90, 160), np.uint8)
    picture[50:150, 100:300] = scene(200, 100)
    photo = png(tmp_path, picture)
    proof = conform(photo, SQUARE, having(frame__fill="pad"))
    made = pixels_of(proof)
    assert made.shape[:2] == (400, 400) and proof.findings.of("aspect").verdict == "meets"
    assert np.array_equal(made[100:300, :, :3], picture)
    for part in (made[:100], made[300:]):
        assert np.all(part[..., :3] == (30, 90, 160))
    assert proof.line.frame.kept == pytest.approx(1)


def test_padded_on_a_chosen_colour_or_on_none(tmp_path):
    photo = png(tmp_path, scene(400, 200))
    made = pixels_of(conform(photo, SQUARE, having(frame__fill="pad", frame__ground="#F2E8C9")))
    assert np.all(made[:100, :, :3] == (0xF2, 0xE8, 0xC9))
    proof = conform(photo, SQUARE, having(frame__fill="pad", frame__ground="clear"))
    clear = pixels_of(proof)
    assert proof.made.format == "png" and clear.shape[2] == 4
    assert np.all(clear[:100, :, 3] == 0) and np.all(clear[100:300, :, 3] == 255)
    # a format without transparency lays it on the ground of the finish instead
    flat = conform(
        photo, SQUARE, having(frame__fill="pad", frame__ground="clear", file__format="jpeg")
    )
    assert np.all(pixels_of(flat)[:90] > 250)


def test_padding_can_be_placed(tmp_path):
    picture = scene(400, 200)
    photo = png(tmp_path, picture)
    made = having(frame__fill="pad", frame__window="0, 0, 400, 400", frame__ground="#000000")
    shown = pixels_of(conform(photo, SQUARE, made))
    assert np.array_equal(shown[:200, :, :3], picture) and np.all(shown[200:, :, :3] == 0)


def test_a_live_reading_of_clear_padding_is_transparent():
    brief = brief_of(
        clause("transparency", exactly="present")
        + clause("aspect", exactly="1:1")
        + clause("format", exactly="png")
    )
    line = resolve(facts(400, 200), brief, having(frame__fill="pad", frame__ground="clear"))
    found = judge(live_reading(facts(400, 200), line), brief)
    assert found.of("transparency").verdict == "meets"


@given(
    st.integers(60, 500),
    st.integers(60, 500),
    st.sampled_from(["1:1", "3:4", "5:1", "2:3"]),
    st.floats(-300, 300),
    st.floats(-300, 300),
    st.floats(20, 800),
    st.floats(20, 800),
)
@settings(max_examples=examples(300), deadline=None)
def test_a_padded_frame_holds_the_window_at_one_scale(pw, ph, shape, left, top, wide, high):
    brief = brief_of(clause("aspect", exactly=shape) + clause("longest_side", at_most=300))
    made = having(frame__fill="pad", frame__window=f"{left:.3f}, {top:.3f}, {wide:.3f}, {high:.3f}")
    frame = resolve(facts(pw, ph), brief, made).frame
    window, (ow, oh) = frame.window, frame.output
    assert window.width >= wide - 1 / frame.scale and window.height >= high - 1 / frame.scale
    assert abs(window.width * frame.scale - ow) < 1e-6
    assert abs(window.height * frame.scale - oh) < 1e-6
    for low, size, whole in ((window.left, window.width, pw), (window.top, window.height, ph)):
        inside = low + 1e-6 >= 0 and low + size <= whole + 1e-6
        round_it = low <= 1e-6 and low + size >= whole - 1e-6
        assert inside or round_it


def test_a_window_round_the_photo_slides_so_that_the_photo_stays_in_it():
    assert Window(50, 0, 300, 100).held_in(200, 100) == Window(0, 0, 300, 100)
    assert Window(-500, 0, 300, 100).held_in(200, 100) == Window(-100, 0, 300, 100)


def test_the_preview_is_the_same_picture_smaller(tmp_path):
    photo = png(tmp_path, scene(400, 200))
    line = resolve(photo.facts, SQUARE, having(frame__fill="pad", frame__ground="#102030"))
    half = render(photo, line, zoom=0.5)
    assert half.size == (200, 200) and np.all(half.pixels[:49] == (0x10, 0x20, 0x30))


# --- a mark on a clear ground ---------------------------------------------------------------


def mark(tmp_path, clear: bool):
    """A wide mark of 300 x 100 px; its letters reach over all of its width."""
    pixels = np.zeros((100, 300, 4), np.uint8)
    pixels[30:70, 6:294] = (20, 60, 120, 255)
    if not clear:
        pixels[..., 3] = 255
    path = tmp_path / f"mark {clear}.png"
    Image.fromarray(pixels).save(path)
    return open_photo(path)


def test_a_mark_that_is_clear_at_its_rim_is_padded_with_nothing(tmp_path):
    brief = brief_of(clause("aspect", exactly="1:1") + clause("format", one_of=["png", "webp"]))
    proof = conform(mark(tmp_path, True), brief)
    assert proof.ready and proof.line.frame.output == (300, 300)
    with Image.open(io.BytesIO(proof.made.data)) as made:
        alpha = np.asarray(made.convert("RGBA"))[..., 3]
    assert (alpha[130:170, 6:294] == 255).all() and not alpha[:100].any() and not alpha[200:].any()
    assert [act.word for act in proof.acts] == ["pad"]
    assert proof.acts[0].cause.clauses == ("aspect",)
    # where the file cannot be clear, where nothing is clear, or where a hand says so, it is cut
    opaque = brief_of(clause("aspect", exactly="1:1") + clause("transparency", exactly="none"))
    assert conform(mark(tmp_path, True), opaque).line.frame.fill == "cut"
    assert conform(mark(tmp_path, False), brief).line.frame.fill == "cut"
    assert conform(mark(tmp_path, True), brief, having(frame__fill="cut")).line.frame.kept < 1
