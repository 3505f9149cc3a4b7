"""The keyline: exactly the outer pixels, and its width read back from the file."""

from __future__ import annotations

import io
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.brief.model import Brief
from aptandum.core.conform import conform
from aptandum.core.fitting.finish import keyline
from aptandum.core.fitting.finish.keyline import QUIET, Keyline, loudness, suggestions
from aptandum.core.fitting.render import render
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.findings import judge
from aptandum.core.judge.reading import of_finished
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped
from samples import DEMO, brief_of, clause, examples, jpeg, scene

ANY = Brief("any", "", ())
COLOURS = st.integers(0, 0xFFFFFF).map(lambda n: f"#{n:06X}")


def made(path, brief=ANY, **changes: object):
    wanted = {f"finish.keyline.{k}": v for k, v in changes.items() if k != "more"}
    return conform(
        open_photo(path), brief, Settings().having({**wanted, **changes.get("more", {})})
    )  # type: ignore[dict-item]


@given(
    wide=st.integers(9, 90),
    high=st.integers(9, 90),
    n=st.integers(1, 12),
    strength=st.floats(1, 100),
    colour=COLOURS,
    clear=st.booleans(),
    seed=st.integers(0, 9),
)
@settings(max_examples=examples(60), deadline=None)
def test_exactly_the_outer_pixels_change(
    tmp_path_factory, wide, high, n, strength, colour, clear, seed
):
    path = tmp_path_factory.mktemp("k") / "supplied.png"
    pixels = scene(wide, high, seed)
    if clear:
        pixels = np.dstack([pixels, np.full((high, wide), 255, np.uint8)])
        pixels[high // 3 :, : wide // 2, 3] = 90
    Image.fromarray(pixels).save(path, compress_level=1)
    proof = made(path, width=n, strength=strength, colour=colour, more={"file.format": "png"})
    read = np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("RGBA")).astype(int)
    before = np.asarray(Image.open(path).convert("RGBA")).astype(int)
    assert read.shape == before.shape
    deep = min(n, (min(wide, high) + 1) // 2)
    inner = (slice(deep, high - deep), slice(deep, wide - deep))
    seen = before[..., 3:] > 0
    assert (read[inner] == before[inner])[np.broadcast_to(seen, before.shape)[inner]].all()
    ring = np.ones((high, wide), bool)
    ring[inner] = False
    line = np.array([int(colour[i : i + 2], 16) for i in (1, 3, 5)])
    solid = ring & (before[..., 3] == 255)
    wanted = before[solid][:, :3] * (1 - strength / 100) + line * strength / 100
    assert np.abs(read[solid][:, :3] - wanted).max() <= 0.51
    assert (read[ring][:, 3] >= before[ring][:, 3]).all()


@pytest.mark.parametrize("n", [1, 2, 5])
@pytest.mark.parametrize("strength", [6, 12, 40, 100])
@pytest.mark.parametrize("ending", ["jpeg", "png"])
@pytest.mark.long
def test_the_width_is_read_back_from_the_file(tmp_path, n, strength, ending):
    path = tmp_path / "quay.png"
    Image.fromarray(scene(420, 300, 5)).save(path, compress_level=1)
    brief = brief_of(clause("keyline_width", exactly=n))
    for colour in ("#FFFFFF", "#B4232A"):
        for quality in (70, 92) if ending == "jpeg" else (None,):
            more = {"file.format": ending, "file.quality": quality}
            proof = made(path, brief, width=n, strength=strength, colour=colour, more=more)
            found = proof.findings.of("keyline_width")
            assert (found.value, found.verdict) == (n, "meets")
            # and the width that is judged is no echo of the setting: another limit is missed
            other = brief_of(clause("keyline_width", exactly=n + 1))
            assert not made(path, other, width=n, strength=strength, colour=colour, more=more).ready


def test_no_line_measures_none(tmp_path):
    path = tmp_path / "quay.png"
    Image.fromarray(scene(420, 300, 5)).save(path, compress_level=1)
    brief = brief_of(clause("keyline_width", exactly=0))
    for ending in ("jpeg", "png"):
        assert (
            made(path, brief, more={"file.format": ending}).findings.of("keyline_width").value == 0
        )


@pytest.mark.parametrize("n", [1, 2, 4, 9])
@pytest.mark.parametrize("ending", ["jpeg", "png"])
def test_a_line_that_a_file_brings_is_measured_by_itself(n, ending):
    """Nothing is known of how such a file was made."""
    pixels = scene(400, 280, 3).copy()
    pixels[:n], pixels[-n:], pixels[:, :n], pixels[:, -n:] = ((244, 240, 230),) * 4
    data = jpeg(pixels, quality=90, subsampling=0)
    if ending == "png":
        out = io.BytesIO()
        Image.fromarray(pixels).save(out, "PNG")
        data = out.getvalue()
    brief = brief_of(clause("keyline_width", at_most="3 px"))
    finding = judge(of_finished(data, "x", None), brief).of("keyline_width")
    assert finding.value == n and (finding.verdict == "meets") == (n <= 3)
    # a dark photo without any line, and a wholly plain one, have none
    night = np.clip(scene(400, 280, 3) // 14, 0, 255).astype(np.uint8)
    for picture in (night, np.zeros((200, 300, 3), np.uint8)):
        one = judge(of_finished(jpeg(picture), "x", None), brief).of("keyline_width")
        assert one.value == 0


def test_thin_colour_is_not_smeared(tmp_path):
    """A red line of one pixel in a JPEG stays red: chroma is not halved where a finish is thin."""
    path = tmp_path / "grey.png"
    Image.fromarray(np.full((300, 400, 3), 140, np.uint8)).save(path, compress_level=1)
    brief = brief_of(clause("format", exactly="jpeg") + clause("file_bytes", at_most="90 KB"))
    proof = made(path, brief, width=1, colour="#D01818")
    read = np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("RGB")).astype(int)
    assert np.abs(read[0, 40:-40] - (0xD0, 0x18, 0x18)).mean() < 12
    assert np.abs(read[3, 40:-40] - 140).mean() < 4
    assert proof.made.options is not None and proof.made.options.subsampling == "4:4:4"
    # even where the bytes are so tight that a photo alone would give up half of its chroma
    busy = tmp_path / "busy.png"
    Image.fromarray(scene(900, 700, 3, grain=30)).save(busy, compress_level=1)
    tight = brief_of(
        clause("size", exactly="900x700")
        + clause("format", exactly="jpeg")
        + clause("file_bytes", at_most="40 KB")
    )
    assert made(busy, tight).made.options.subsampling == "4:2:0"
    lined = made(busy, tight, width=1, colour="#D01818")
    assert lined.made.options.subsampling == "4:4:4" and len(lined.made.data) <= 40_000


def test_two_lines_lie_within_each_other(tmp_path):
    path = tmp_path / "quay.png"
    Image.fromarray(scene(120, 90, 2)).save(path, compress_level=1)
    proof = made(
        path,
        width=2,
        colour="#FFFFFF",
        inner_width=1,
        inner_colour="#000000",
        more={"file.format": "png"},
    )
    read = np.asarray(Image.open(io.BytesIO(proof.made.data)))
    assert (read[:2] == 255).all() and (read[2, 2:-2] == 0).all()
    assert (read[3:-3, 3:-3] == np.asarray(Image.open(path))[3:-3, 3:-3]).all()


def picture_of(pixels: np.ndarray) -> Picture:
    return Picture(pixels, shipped("srgb"), False)


def test_loudness_grows_with_strength_and_is_none_where_nothing_is_seen():
    picture = picture_of(scene(300, 200, 6))
    told = [
        loudness(picture, Keyline(width=2, colour="#FF2020", strength=s), "#808080")
        for s in (0, 20, 45, 70, 100)
    ]
    assert told == sorted(told) and told[-1] > told[0] + 10
    flat = picture_of(np.full((100, 100, 3), 128, np.uint8))
    assert loudness(flat, Keyline(width=3, colour="#808080"), "#808080") < 0.1
    assert loudness(flat, Keyline(width=3, colour="#FFFFFF"), "#000000") > 40


def test_suggestions_are_the_picture_s_own_and_the_quietest_seen_come_first():
    line = resolve(
        open_photo(DEMO / "lantern_quay_dusk.jpg").facts,
        ANY,
        Settings().having({"frame.output": "600 x 400"}),
    )
    picture = render(open_photo(DEMO / "lantern_quay_dusk.jpg"), line)
    found = suggestions(picture)
    assert 3 <= len(found) <= 6
    aim = sum(QUIET) / 2
    assert [abs(s.loudness - aim) for s in found] == sorted(abs(s.loudness - aim) for s in found)
    lab = picture.lab().reshape(-1, 3)
    for one in found:
        near = np.abs(lab - np.array(keyline.engine.srgb_lab(one.colour))).max(1) < 8
        assert near.mean() > 0.002  # such a colour is in the picture
    # left open, the line takes the first of them
    settings_ = Keyline(width=4)
    drawn = keyline.draw(picture, settings_, _place(picture))
    named = keyline.draw(picture, replace_colour(settings_, found[0].colour), _place(picture))
    assert (drawn.pixels == named.pixels).all()


def replace_colour(settings_: Keyline, colour: str) -> Keyline:
    return settings_.model_copy(update={"colour": colour})


def _place(picture: Picture):
    from aptandum.core.fitting.finish import Canvas

    w, h = picture.size
    return Canvas((0, 0, w, h), (w, h), 1.0, (w, h), 0.0, lambda: None)  # type: ignore[arg-type,return-value]


def test_a_preview_draws_the_line_as_thin_as_it_is():
    picture = picture_of(scene(200, 160, 1))
    half = replace(_place(picture), zoom=0.5)
    drawn = keyline.draw(picture, Keyline(width=4, colour="#000000"), half)
    assert (drawn.pixels[1] == 0).all() and (drawn.pixels[2, 5:-5] != 0).any()


def test_sixteen_bit_stay_sixteen_bit_through_the_finishes(tmp_path):
    """Within the line every number of 16 bit is the photo's own; the line itself is as deep."""
    import pyvips

    rng = np.random.default_rng(3)
    deep = rng.integers(0, 65536, (60, 80, 3)).astype(np.uint16)
    path = tmp_path / "deep.png"
    image = pyvips.Image.new_from_array(deep).copy(interpretation="rgb16")
    image.set_type(pyvips.GValue.blob_type, "icc-profile-data", shipped("adobe-rgb"))
    path.write_bytes(image.pngsave_buffer(bitdepth=16, keep="icc"))
    proof = made(path, width=3, strength=50, colour="#808080")
    read = pyvips.Image.new_from_buffer(proof.made.data, "").numpy()
    assert read.dtype == np.uint16 and (read[3:-3, 3:-3] == deep[3:-3, 3:-3]).all()
    rim = read[:3].astype(int) * 2 - deep[:3].astype(int)  # what was mixed in, half and half
    grey = np.median(rim.reshape(-1, 3), axis=0)
    assert np.abs(rim - grey).max() <= 1 and 32000 < grey[1] < 33500
    assert len(np.unique(read[:3] % 257)) > 100  # not 8 bit spread out
