"""What a photo's file tells and the made one does not is said; what nobody asks to be changed stays."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from aptandum.core.conform import Proof, conform
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.profile import shipped
from aptandum.core.sizes.typed import printed_at
from samples import brief_of, clause, scene


@pytest.fixture
def made(tmp_path):
    """The proof of a photo saved with some options, made into another format."""

    def make(form: str, more: str = "", mode: str = "RGB", **options: object) -> Proof:
        path = tmp_path / "photo.jpg"
        Image.fromarray(scene(320, 240, 6)).convert(mode).save(path, quality=92, **options)
        return conform(open_photo(path), brief_of(clause("format", exactly=form) + more))

    return make


def left_out(proof: Proof) -> list[str]:
    return [act.says for act in proof.record if "left out" in act.says]


def opened(proof: Proof) -> Image.Image:
    return Image.open(io.BytesIO(proof.made.data))


def exif() -> Image.Exif:
    told = Image.Exif()
    told[315], told[33432] = "Ines Marrow", "Ines Marrow, 2026"
    return told


@pytest.mark.parametrize("form", ["png", "tiff", "bmp", "jpeg"])
@pytest.mark.parametrize("size", ["", clause("size", exactly="160 x 120")])
def test_a_density_that_nobody_asks_to_be_changed_stays(made, form, size):
    proof = made(form, size, dpi=(240, 240))
    assert [round(float(n)) for n in opened(proof).info["dpi"]] == [240, 240]
    assert not left_out(proof)


@pytest.mark.parametrize("limit", ["", clause("file_bytes", at_most="20 KB")])
def test_the_order_of_its_passes_stays_unless_a_rule_asks_for_another(made, limit):
    small = clause("size", exactly="160 x 120") + limit
    assert opened(made("jpeg", small, progressive=True)).info.get("progressive")
    assert not opened(made("jpeg", small)).info.get("progressive") or limit
    plain = small + clause("progressive", exactly="baseline")
    assert not opened(made("jpeg", plain, progressive=True)).info.get("progressive")
    either = small + clause("progressive", one_of=["baseline", "progressive"])
    assert opened(made("jpeg", either, progressive=True)).info.get("progressive")


def test_a_density_that_a_rule_asks_for_goes_first(made):
    proof = made("png", clause("ppi", exactly="300"), dpi=(240, 240))
    assert round(opened(proof).info["dpi"][0]) == 300


def test_nothing_is_stated_where_nothing_was(made):
    proof = made("png")
    assert "dpi" not in opened(proof).info and not left_out(proof)


def test_a_density_that_differs_across_and_up_is_said_to_be_gone(made):
    proof = made("png", dpi=(300, 150))
    assert "dpi" not in opened(proof).info
    assert left_out(proof) == ["Pixels per inch left out: the values across and up differ."]


@pytest.mark.parametrize("stated", [0.02, 90_000])
def test_a_density_that_cannot_be_meant_is_said_to_be_gone(tmp_path, stated):
    path = tmp_path / "photo.tif"
    Image.fromarray(scene(80, 60, 6)).save(path, dpi=(stated, stated))
    proof = conform(open_photo(path), brief_of(clause("format", exactly="jpeg")))
    assert left_out(proof)[0].endswith("is not a usable value.")


def test_a_fraction_is_said_to_be_rounded_where_the_format_holds_none(tmp_path):
    path = tmp_path / "photo.tif"
    Image.fromarray(scene(80, 60, 6)).save(path, dpi=(240.4, 240.4))
    proof = conform(open_photo(path), brief_of(clause("format", exactly="jpeg")))
    assert opened(proof).info["dpi"] == (240, 240)
    assert "Pixels per inch set to 240: the format states whole numbers only." in [
        act.says for act in proof.record
    ]


def test_a_gif_says_all_that_it_does_not_hold(made):
    proof = made("gif", dpi=(300, 300), exif=exif(), icc_profile=shipped("srgb"))
    assert left_out(proof) == [
        "Metadata left out: GIF holds none.",
        "Profile left out: GIF holds none.",
        "Pixels per inch left out: GIF holds none.",
    ]
    assert "GIF of at most 256 colours" in proof.record[-4].says


def test_comments_are_said_to_be_gone(made):
    assert not left_out(made("png", exif=exif()))
    proof = made("png", exif=exif(), comment=b"seen at dusk")
    (said,) = left_out(proof)
    assert said.startswith("Other metadata left out, such as comments and keywords: ")
    assert b"dusk" not in proof.made.data


def test_dots_hold_no_profile_and_none_is_said_to_be_put_in(made):
    asked = clause("channels", exactly="mono")
    plain, tagged = made("png", asked), made("png", asked, icc_profile=shipped("srgb"))
    for proof in (plain, tagged):
        assert "icc_profile" not in opened(proof).info
        assert not [act for act in proof.record if "Profile embedded" in act.says]
    assert [said[:17] for said in left_out(tagged)] == ["Profile left out:"]


def test_the_profile_that_is_put_in_is_the_one_that_is_named(made):
    proof = made("webp", clause("colour_space", exactly="grey"))
    assert opened(proof).info["icc_profile"] == shipped("srgb")
    (said,) = [act.says for act in proof.record if "Profile embedded" in act.says]
    assert said == "Profile embedded: sRGB: so that its colours are read as they are meant."
    assert np.ptp(np.asarray(opened(proof).convert("RGB")).astype(int), axis=2).max() <= 8


@pytest.mark.parametrize(
    ("form", "more", "why"),
    [
        ("jpeg", "", "JPEG holds no transparency"),
        ("png", clause("transparency", exactly="none"), "Transparency asks none"),
        ("png", clause("channels", exactly="mono"), "dots are black or white"),
    ],
)
def test_clear_parts_that_are_laid_on_a_colour_are_said_to_be(tmp_path, form, more, why):
    path = tmp_path / "photo.png"
    pixels = np.dstack([scene(120, 90, 6), np.full((90, 120), 255, np.uint8)])
    rules = brief_of(clause("format", exactly=form) + more)

    def said() -> list[str]:
        Image.fromarray(pixels).save(path)
        proof = conform(open_photo(path), rules)
        return [act.says for act in proof.record if act.does.startswith("Transparent parts")]

    assert said() == []  # nothing was seen through it
    pixels[20:40, 30:60, 3] = 90
    assert said() == [f"Transparent parts filled with #FFFFFF: {why}."]


def test_a_gif_says_what_became_of_edges_clear_in_part(tmp_path):
    path = tmp_path / "photo.png"
    pixels = np.dstack([scene(120, 90, 6), np.full((90, 120), 255, np.uint8)])
    pixels[:20, :, 3] = 0
    gif = brief_of(clause("format", exactly="gif"))

    def said() -> list[str]:
        Image.fromarray(pixels).save(path)
        proof = conform(open_photo(path), gif)
        return [act.says for act in proof.record if "Partly" in act.says]

    assert said() == []
    pixels[20:24, :, 3] = 120
    assert len(said()) == 1


@pytest.mark.parametrize(("kept", "said"), [("4:4:4", True), ("4:2:0", False)])
def test_less_detail_of_colour_than_the_photo_has_is_said(made, kept, said):
    limit = clause("file_bytes", at_most="3000 bytes") + clause("size", exactly="320 x 240")
    proof = made("jpeg", limit, subsampling=kept)
    assert proof.made.options.subsampling == "4:2:0"
    (encoded,) = [act.does for act in proof.record if act.does.startswith("Encoded")]
    assert ("with less colour detail (4:2:0)" in encoded) is said


def test_what_the_photo_happened_to_state_tells_no_size_in_print():
    free, asked = brief_of(clause("format", exactly="jpeg")), brief_of(clause("ppi", exactly="300"))
    assert printed_at(free, 300.0) is None
    assert printed_at(free, 300.0, by_hand=300.0) == 300.0
    assert printed_at(asked, 300.0) == 300.0
