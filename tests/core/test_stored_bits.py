"""Rules on the bits of a stored pixel, and on how many colours or greys there are: read back by another reader."""

from __future__ import annotations

from io import BytesIO

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.file.make import make
from aptandum.core.fitting.plan import FileStation
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped
from samples import brief_of, clause, examples, scene


@pytest.fixture(scope="module")
def photos(tmp_path_factory):
    folder = tmp_path_factory.mktemp("bits")
    colour = Image.fromarray(scene(300, 200, 3))
    colour.save(folder / "colour.jpg", quality=95)
    colour.convert("L").save(folder / "grey.jpg", quality=95)
    clear = colour.convert("RGBA")
    clear.putalpha(Image.linear_gradient("L").resize(clear.size))
    clear.save(folder / "clear.png")
    return folder


def ihdr(data: bytes) -> tuple[int, int]:
    """Bits of a channel or index, and the kind of colour, as ISO/IEC 15948 puts them."""
    return data[24], data[25]


GREY = clause("channels", exactly="grey")
CASES = {
    "four bits": ("png", clause("bits_per_pixel", exactly=4), {(4, 3), (4, 0)}),
    "two bits": ("png", clause("bits_per_pixel", exactly=2), {(2, 3), (2, 0)}),
    "one bit": ("png", clause("bits_per_pixel", exactly=1), {(1, 0)}),
    "four bits of grey": ("png", clause("bits_per_pixel", exactly=4) + GREY, {(4, 0), (4, 3)}),
    "two bits of grey": ("png", clause("bits", exactly=2) + GREY, {(2, 0), (2, 3)}),
    "sixteen colours in eight bits": (
        "png",
        clause("bits_per_pixel", exactly=8) + clause("colours", at_most=16),
        {(8, 3), (8, 0)},
    ),
    "few colours in full": (
        "png",
        clause("bits_per_pixel", exactly=24) + clause("colours", at_most=32),
        {(8, 2)},
    ),
    "with an opacity": ("png", clause("bits_per_pixel", exactly=32), {(8, 6)}),
    "sixteen bits a channel": ("png", clause("bits_per_pixel", exactly=48), {(16, 2)}),
}


@pytest.mark.parametrize("name", CASES)
@pytest.mark.parametrize("photo", ["colour.jpg", "grey.jpg"])
def test_a_png_stores_as_many_bits_as_its_rule_asks(photos, photo, name):
    format_, rules, kinds = CASES[name]
    brief = brief_of(clause("size", exactly="120 x 80") + clause("format", exactly=format_) + rules)
    proof = conform(open_photo(photos / photo), brief, Settings())
    missed = [f.says for f in proof.findings.findings if f.verdict != "meets"]
    assert not missed
    assert ihdr(proof.made.data) in kinds
    with Image.open(BytesIO(proof.made.data)) as read:
        assert read.size == (120, 80)


@pytest.mark.parametrize("rules", [
    clause("colours", at_most=16),
    clause("bits_per_pixel", exactly=8),
    clause("bits_per_pixel", exactly=24) + clause("colours", at_most=7),
    GREY + clause("colours", at_most=16),
])  # fmt: skip
@pytest.mark.parametrize("format_", ["bmp", "tiff"])
def test_few_colours_are_written_in_other_formats_too_and_told(photos, format_, rules):
    if format_ == "tiff" and "exactly = 8" in rules.replace('"', ""):
        return  # a TIFF gets no palette
    brief = brief_of(clause("size", exactly="120 x 80") + clause("format", exactly=format_) + rules)
    proof = conform(open_photo(photos / "colour.jpg"), brief, Settings())
    assert [f.says for f in proof.findings.findings if f.verdict != "meets"] == []
    assert "Reduced to" in proof.made.statement
    with Image.open(BytesIO(proof.made.data)) as read:
        few = read.convert("RGB").getcolors(1 << 16)
    assert few is not None and len(few) <= 256


def test_an_opacity_that_hides_nothing_changes_no_colour_and_is_told_with_its_rule(photos):
    size = clause("size", exactly="120 x 80") + clause("format", exactly="png")
    photo = open_photo(photos / "colour.jpg")
    plain = conform(photo, brief_of(size), Settings())
    proof = conform(photo, brief_of(size + clause("bits_per_pixel", exactly=32)), Settings())
    with (
        Image.open(BytesIO(proof.made.data)) as read,
        Image.open(BytesIO(plain.made.data)) as other,
    ):
        assert read.mode == "RGBA"
        assert read.getchannel("A").getextrema() == (255, 255)
        assert read.convert("RGB").tobytes() == other.convert("RGB").tobytes()
    told = [act for act in proof.acts if "hides nothing" in act.says]
    assert len(told) == 1
    assert told[0].cause is not None and "Bits per pixel" in told[0].cause.says
    assert not [act for act in plain.acts if "hides nothing" in act.says]


def test_clear_greys_in_few_bits_keep_what_is_clear(photos):
    brief = brief_of(
        clause("size", exactly="120 x 80") + clause("format", exactly="png")
        + clause("bits_per_pixel", exactly=4) + GREY
    )  # fmt: skip
    proof = conform(open_photo(photos / "clear.png"), brief, Settings())
    assert proof.findings.counts()["misses"] == 0
    with Image.open(BytesIO(proof.made.data)) as read:
        alpha = np.asarray(read.convert("RGBA"))[..., 3]
    assert alpha[:5].mean() < 60 < 180 < alpha[-5:].mean()


def file_of(bits: int, colours: int, at_most: int | None = None) -> FileStation:
    return FileStation(
        "png", None, None, None, None, at_most, None, most_colours=colours, stored=(bits,)
    )


@given(st.integers(0, 255), st.integers(0, 255), st.sampled_from([2, 4]), st.integers(0, 99))
@settings(max_examples=examples(60), deadline=None)
def test_few_greys_lie_evenly_and_keep_the_mean(dark, light, bits, seed):
    dark, light = sorted((dark, light))
    rng = np.random.default_rng(seed)
    slope = np.linspace(dark, light, 64)[None, :] + rng.uniform(-4, 4, (48, 64))
    grey = np.clip(np.rint(slope), 0, 255).astype(np.uint8)[..., None]
    made = make(Picture(grey, shipped("grey"), False), file_of(bits, 1 << bits))
    assert ihdr(made.data) == (bits, 0)
    with Image.open(BytesIO(made.data)) as read:
        seen = np.asarray(read.convert("L"))
    step = 255 // ((1 << bits) - 1)
    assert set(np.unique(seen)) <= set(range(0, 256, step))
    # A grey is at most a step off, and the errors come out even.
    assert abs(float(seen.mean()) - float(grey.mean())) < max(2.0, step / 20)


@given(st.integers(2, 16), st.sampled_from([4, 8]))
@settings(max_examples=examples(30), deadline=None)
def test_a_palette_has_its_bits_however_few_its_colours(colours, bits):
    picture = Picture(scene(60, 40, colours), shipped("srgb"), False)
    made = make(picture, file_of(bits, colours))
    assert ihdr(made.data) == (bits, 3)
    with Image.open(BytesIO(made.data)) as read:
        assert len(read.convert("RGB").getcolors(4096)) <= colours


def test_greys_give_up_levels_for_a_byte_limit():
    grey = scene(300, 200, 9)[..., 1:2].copy()
    whole = make(Picture(grey, shipped("grey"), False), file_of(4, 16))
    limit = len(whole.data) * 2 // 3
    made = make(Picture(grey, shipped("grey"), False), file_of(4, 16, limit))
    assert len(made.data) <= limit
    assert ihdr(made.data) == (4, 0)
    assert "levels of grey" in made.statement


@pytest.mark.parametrize("bits", [24, 48])
def test_bits_that_leave_no_room_for_an_opacity_fill_what_is_clear(photos, bits):
    brief = brief_of(clause("bits_per_pixel", exactly=bits) + clause("format", exactly="png"))
    proof = conform(open_photo(photos / "clear.png"), brief, Settings())
    assert not [f.says for f in proof.findings.findings if f.verdict != "meets"]
    assert ihdr(proof.made.data) == (bits // 3, 2)
    [filled] = [act for act in proof.acts if "Transparent parts filled" in act.says]
    assert filled.cause is not None and "Bits per pixel" in filled.cause.says


def test_only_bits_that_leave_no_room_are_named_for_what_was_filled_or_reduced(photos):
    rules = clause("bits_per_pixel", at_most=64) + clause("transparency", exactly="none")
    proof = conform(
        open_photo(photos / "clear.png"),
        brief_of(rules + clause("format", exactly="png")),
        Settings(),
    )
    [filled] = [act for act in proof.acts if "Transparent parts filled" in act.says]
    assert filled.cause is not None and "Bits per pixel" not in filled.cause.says
