"""A photo in a lossless format under a limit in bytes: another format is written rather than colours or pixels given up."""

from __future__ import annotations

from io import BytesIO

import numpy as np
import pytest
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import facts_of_bytes, from_array, open_photo
from samples import brief_of, clause, scene

KB = 1000


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    made = tmp_path_factory.mktemp("own")
    photo = scene(900, 600, 5).astype(np.int16)
    photo += np.random.default_rng(5).integers(-9, 10, photo.shape, np.int16)  # as a sensor's noise
    noisy = Image.fromarray(np.clip(photo, 0, 255).astype(np.uint8))
    noisy.save(made / "photo.png")
    noisy.save(made / "photo.tif")
    noisy.save(made / "photo.bmp")
    clear = noisy.convert("RGBA")
    clear.putalpha(Image.linear_gradient("L").resize(clear.size))
    clear.save(made / "clear.png")
    clear.putalpha(255)  # as many programs write a photo: the channel hides nothing
    clear.save(made / "opaque.png")
    clear.save(made / "opaque.tif")
    drawn = Image.new("RGB", (900, 600), "white")
    for i in range(0, 900, 30):
        drawn.paste((i % 256, 40, 90), (i, i * 2 // 3, i + 20, i * 2 // 3 + 300))
    drawn.save(made / "drawn.png")
    return made


@pytest.mark.parametrize(
    "name", ["photo.png", "photo.tif", "photo.bmp", "opaque.png", "opaque.tif"]
)
@pytest.mark.parametrize("formats", ["", clause("format", one_of=["png", "tiff", "bmp", "jpeg"])])
def test_a_photo_that_its_own_format_has_no_room_for_keeps_its_pixels_and_colours(
    folder, name, formats
):
    path = folder / name
    brief = brief_of(clause("file_bytes", at_most="300 kB") + formats)
    proof = conform(open_photo(path), brief, Settings())
    assert proof.findings.counts()["misses"] == 0
    with Image.open(BytesIO(proof.made.data)) as read, Image.open(path) as before:
        assert read.format == "JPEG"
        assert read.size == before.size
        off = np.abs(
            np.asarray(read).astype(float) - np.asarray(before.convert("RGB")).astype(float)
        )
    assert off.mean() < 8  # the noise alone is 9 at most
    assert proof.made.colours is None
    [anew] = [act for act in proof.acts + proof.around if "Encoded anew as JPEG" in act.says]
    assert anew.cause is not None and "Bytes" in anew.cause.says


@pytest.mark.parametrize(
    ("name", "rules", "wish"),
    [
        ("photo.png", clause("file_bytes", at_most="300 kB") + clause("format", exactly="png"), {}),
        ("photo.png", clause("file_bytes", at_most="300 kB"), {"file.format": "png"}),
        ("photo.png", clause("file_bytes", at_most="300 kB") + clause("colours", at_most=64), {}),
        ("photo.png", clause("file_bytes", at_most="20 MB") + clause("longest_side", at_most=600), {}),
        ("clear.png", clause("file_bytes", at_most="300 kB"), {}),
        ("photo.png", clause("file_bytes", at_most="300 kB"), {"finish.clear.by": "colour"}),
        ("photo.png", clause("file_bytes", at_most="2.5 MB"), {"colour.bits": 16}),
        ("drawn.png", clause("file_bytes", at_most="2 kB"), {}),
    ],
)  # fmt: skip
def test_its_own_format_stays_where_that_is_asked_for_or_costs_nothing(folder, name, rules, wish):
    settings = Settings().having(wish) if wish else Settings()
    proof = conform(open_photo(folder / name), brief_of(rules), settings)
    assert proof.made.format == "png"


def test_a_limit_of_ones_own_is_named_as_ones_own_wish(folder):
    settings = Settings().having({"file.at_most": 300 * KB})
    proof = conform(
        open_photo(folder / "photo.png"), brief_of(clause("longest_side", at_most=5000)), settings
    )
    assert proof.made.format == "jpeg" and len(proof.made.data) <= 300 * KB
    [anew] = [act for act in proof.acts + proof.around if "Encoded anew as JPEG" in act.says]
    assert anew.says.endswith("set by hand.")


def test_what_is_seen_through_goes_into_a_format_that_a_rule_names_and_stays_so(folder):
    rules = clause("file_bytes", at_most="150 kB") + clause(
        "format", one_of=["png", "jpeg", "webp"]
    )
    proof = conform(open_photo(folder / "clear.png"), brief_of(rules), Settings())
    assert proof.findings.counts()["misses"] == 0
    with Image.open(BytesIO(proof.made.data)) as read, Image.open(folder / "clear.png") as before:
        assert (read.format, read.mode, read.size) == ("WEBP", "RGBA", before.size)
        off = np.abs(np.asarray(read)[..., 3].astype(float) - np.asarray(before)[..., 3])
    assert off.max() <= 1


def test_what_may_not_be_seen_through_is_filled_and_keeps_its_colours(folder):
    rules = clause("file_bytes", at_most="300 kB") + clause("transparency", exactly="none")
    proof = conform(open_photo(folder / "clear.png"), brief_of(rules), Settings())
    assert proof.findings.counts()["misses"] == 0
    assert proof.made.format == "jpeg" and proof.made.colours is None


@pytest.fixture(scope="module")
def others(tmp_path_factory):
    """A JPEG, and a picture of 16 bits a channel."""
    made = tmp_path_factory.mktemp("others")
    photo = scene(600, 400, 7)
    Image.fromarray(photo).save(made / "photo.jpg", quality=95)
    grain = np.random.default_rng(7).integers(0, 4000, photo.shape)
    deep = np.clip(photo.astype(np.int64) * 257 + grain, 0, 65535).astype(np.uint16)
    image = from_array(deep).copy(interpretation="rgb16")
    image.pngsave(str(made / "deep.png"))
    image.tiffsave(str(made / "deep.tif"))
    return made


@pytest.mark.parametrize(
    ("name", "rules", "format_", "said"),
    [
        ("photo.jpg", clause("file_bytes", at_most="200 kB"), "jpeg", "200\u00a0kB"),
        ("photo.jpg", "", "png", ""),
        ("photo.jpg", clause("format", exactly="png"), "png", ""),
        ("photo.jpg", clause("colours", at_most=32), "png", ""),
        ("deep.png", clause("bits", exactly=16) + clause("file_bytes", at_most="900 kB"), "png", ""),
    ],
)  # fmt: skip
def test_a_format_only_recommended_costs_a_photo_neither_colours_nor_pixels(
    others, name, rules, format_, said
):
    wish = clause("format", exactly="png", strength="should")
    proof = conform(open_photo(others / name), brief_of(wish + rules), Settings())
    assert proof.made.format == format_
    assert proof.findings.counts()["misses"] == 0
    notes = [note for note in proof.line.notes if "only recommended" in note]
    assert bool(notes) == bool(said) and all(said in note for note in notes)


def test_what_is_seen_through_is_not_filled_for_a_recommendation(folder):
    rules = clause("format", exactly="jpeg", strength="should")
    proof = conform(open_photo(folder / "clear.png"), brief_of(rules), Settings())
    assert proof.made.data == (folder / "clear.png").read_bytes()
    assert proof.findings.counts()["advises"] == 1


@pytest.mark.parametrize("name", ["deep.png", "deep.tif"])
@pytest.mark.parametrize("format_", ["png", "tiff"])
def test_what_has_to_be_deep_gives_up_pixels_and_no_depth(others, name, format_):
    rules = clause("bits", exactly=16) + clause("format", exactly=format_)
    brief = brief_of(rules + clause("file_bytes", at_most="700 kB"))
    proof = conform(open_photo(others / name), brief, Settings())
    assert proof.findings.counts()["misses"] == 0
    facts = facts_of_bytes(proof.made.data, "made")
    assert facts.bits == 16 and facts.mode == "rgb"
    assert facts.width < 600


def test_few_colours_are_asked_of_a_deep_picture(others):
    brief = brief_of(clause("colours", at_most=48) + clause("format", exactly="png"))
    proof = conform(open_photo(others / "deep.tif"), brief, Settings())
    assert proof.findings.counts()["misses"] == 0
    [less] = [act for act in proof.acts if "16 to 8" in act.says]
    assert less.cause is not None and "colours" in less.cause.says


def test_no_rule_that_a_depth_breaks_is_named_as_its_cause(others):
    brief = brief_of(clause("bits", exactly=16) + clause("format", exactly="jpeg"))
    proof = conform(open_photo(others / "deep.tif"), brief, Settings())
    [less] = [act for act in proof.acts if "16 to 8" in act.says]
    assert less.cause is not None and "Bits asks" not in less.cause.says
