"""A photo in a lossless format under a limit in bytes: another format is written rather than colours or pixels given up."""

from __future__ import annotations

from io import BytesIO

import numpy as np
import pytest
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
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
