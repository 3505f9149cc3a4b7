"""Every finish on every kind of picture: grey, 16 bit, clear, one bit; and what travels with it."""

from __future__ import annotations

import io
import json
from pathlib import Path

import numpy as np
import pytest
import pyvips
from PIL import Image

from aptandum.core.brief.model import Brief
from aptandum.core.conform import conform
from aptandum.core.docket.model import Docket
from aptandum.core.docket.store import load, save
from aptandum.core.fitting.gamut import conversion
from aptandum.core.fitting.render import render
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.photo.backdrop import Mask
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.header import facts_of_bytes
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped
from aptandum.core.rulebook.shelf import read_shelf
from samples import DEMO, brief_of, clause, scene

ANY = Brief("any", "", ())
SIZE = (320, 240)
INSIDE = (slice(100, 140), slice(140, 180))  # surely the subject
OUTSIDE = (slice(20, 50), slice(20, 50))  # surely backdrop

KINDS = {
    "grey": ({"colour.space": "grey"}, 8),
    "rgb": ({}, 8),
    "deep": ({"colour.bits": 16}, 16),
    "deep grey": ({"colour.space": "grey", "colour.bits": 16}, 16),
    "adobe": ({"colour.space": "adobe-rgb"}, 8),
}

FINISHES = {
    "backdrop": {"finish.backdrop.lightness": 90, "finish.backdrop.even": 50},
    "fill": {"finish.backdrop.fill": "#D8DCE0", "finish.backdrop.shadow": 0},
    "clear": {"finish.clear.by": "standing"},
    "clear colour": {"finish.clear.by": "colour", "finish.clear.tolerance": 30},
    "shade": {"finish.shade.picture": "dusk-edge", "finish.shade.blend": "darken"},
    "caption": {"finish.caption.text": "Vessary", "finish.caption.behind": "outline"},
    "keyline": {"finish.keyline.width": 3, "finish.keyline.colour": "#FFFFFF"},
}


def mask() -> Mask:
    """A disc in the middle stands before the backdrop."""
    y, x = np.mgrid[0 : SIZE[1], 0 : SIZE[0]]
    off = np.hypot(x - 160, y - 120)
    return Mask(np.clip((80 - off) / 3, 0, 1).astype(np.float32), SIZE, "thing")


@pytest.fixture
def disc(tmp_path: Path) -> Path:
    y, x = np.mgrid[0 : SIZE[1], 0 : SIZE[0]]
    near = np.clip((80 - np.hypot(x - 160, y - 120)) / 3, 0, 1)[..., None]
    pixels = near * np.array((40, 70, 140)) + (1 - near) * np.array((150, 152, 156))
    grain = np.random.default_rng(2).normal(0, 1, pixels.shape)
    path = tmp_path / "disc.png"
    Image.fromarray(np.clip(pixels + grain, 0, 255).astype(np.uint8)).save(
        path, icc_profile=shipped("srgb")
    )
    return path


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("finish", FINISHES)
@pytest.mark.long
def test_a_finish_keeps_depth_channels_and_what_it_does_not_touch(disc, kind, finish):
    changes, bits = KINDS[kind]
    photo = open_photo(disc)
    base = Settings().having({"file.format": "png", **changes})
    before = render(photo, resolve(photo.facts, ANY, base))
    made = base.having(FINISHES[finish])
    proof = conform(photo, ANY, made, mask=mask())
    facts = facts_of_bytes(proof.made.data, "x")
    assert facts.bits == bits and facts.size == SIZE
    assert facts.mode == ("grey" if "grey" in kind else "rgb")
    assert bool(facts.alpha) == finish.startswith("clear")
    assert facts.icc_bytes == before.icc  # another colour is no other profile
    read = pyvips.Image.new_from_buffer(proof.made.data, "").numpy()
    read = read[..., None] if read.ndim == 2 else read
    colour = read[..., : before.pixels.shape[2]]
    assert colour.dtype == before.pixels.dtype
    if finish != "shade":  # the subject is the photo's own, bit for bit
        assert (colour[INSIDE] == before.pixels[INSIDE]).all()
    if finish in ("backdrop", "fill"):
        part = Picture(np.ascontiguousarray(colour[OUTSIDE]), before.icc, False)
        wanted = 90 if finish == "backdrop" else 87.6
        assert np.median(part.lab()[..., 0]) == pytest.approx(wanted, abs=1)
    if finish.startswith("clear"):
        top = 65535 if bits == 16 else 255
        assert (read[OUTSIDE][..., -1] == 0).all() and (read[INSIDE][..., -1] == top).all()
    if finish == "keyline":
        assert (colour[:3] >= before.top - before.top // 255).all()
        assert (colour[3:-3, 3:-3] == before.pixels[3:-3, 3:-3]).all()
    if finish == "caption":
        assert (colour[:120] == before.pixels[:120]).all() and (colour != before.pixels).any()
    words = [act.word for act in proof.acts]
    name = {"fill": "backdrop", "clear colour": "clear"}.get(finish, finish)
    assert name in words


@pytest.mark.parametrize("finish", ["backdrop", "shade", "caption", "keyline"])
@pytest.mark.parametrize("ending", ["png", "bmp"])
def test_a_finish_on_a_picture_of_dots_leaves_only_dots(disc, finish, ending):
    photo = open_photo(disc)
    made = Settings().having({"colour.bits": 1, "file.format": ending, **FINISHES[finish]})
    proof = conform(photo, ANY, made, mask=mask())
    facts = facts_of_bytes(proof.made.data, "x")
    assert (facts.bits, facts.mode, facts.size) == (1, "mono", SIZE)
    read = np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("L"))
    assert set(np.unique(read)) <= {0, 255}
    if finish == "keyline":
        assert (read[:3] == 255).all() and (read[-3:] == 255).all()
    if finish == "backdrop":  # which was lightened before it became dots
        plain = conform(photo, ANY, Settings().having({"colour.bits": 1, "file.format": ending}))
        dark = np.asarray(Image.open(io.BytesIO(plain.made.data)).convert("L"))
        assert read[OUTSIDE].mean() > dark[OUTSIDE].mean() + 40


@pytest.mark.parametrize("format_", ["jpeg", "bmp"])
def test_a_freed_thing_is_laid_on_its_ground_where_nothing_is_clear(disc, format_):
    photo = open_photo(disc)
    made = Settings().having(
        {
            "finish.clear.by": "standing",
            "finish.ground": "#F0E6D2",
            "file.format": format_,
            "file.quality": 100 if format_ == "jpeg" else None,
        }
    )
    proof = conform(photo, ANY, made, mask=mask())
    read = np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("RGB")).astype(int)
    assert np.abs(read[OUTSIDE] - (0xF0, 0xE6, 0xD2)).max() <= 2
    assert np.abs(read[INSIDE] - np.asarray(Image.open(disc))[INSIDE].astype(int)).mean() < 1.5


def test_finishes_lie_in_their_order_whatever_is_set_first(disc):
    """Caption under the keyline, both over the shade."""
    photo = open_photo(disc)
    pieces = [FINISHES["keyline"], FINISHES["caption"], FINISHES["shade"]]
    one, other = Settings(), Settings()
    for piece in pieces:
        one = one.having(piece)
    for piece in reversed(pieces):
        other = other.having(piece)
    assert one == other
    line = resolve(photo.facts, ANY, one)
    assert line.finish.on == ("shade", "caption", "keyline")
    assert line.says()["finish"] == "Shade, caption, keyline"


def test_a_preview_of_half_the_size_is_the_same_picture(disc):
    """At a zoom every finish is drawn smaller, not another."""
    photo = open_photo(disc)
    made = Settings().having(
        {
            "finish.keyline.width": 6,
            "finish.keyline.colour": "#FFFFFF",
            "finish.caption.text": "Vessary",
            "finish.caption.size": 60,
            "finish.backdrop.fill": "#405060",
            "finish.shade.picture": "dusk-edge",
        }
    )
    line = resolve(photo.facts, ANY, made)
    full = render(photo, line, see_mask=mask).pixels.astype(float)
    half = render(photo, line, zoom=0.5, see_mask=mask).pixels.astype(float)
    assert half.shape == (120, 160, 3)
    again = full.reshape(120, 2, 160, 2, 3).mean((1, 3))
    assert np.abs(again - half).mean() < 3
    assert (half[:3] == 255).all() and (half[4, 20:140] < 200).all()


def test_the_files_that_finishes_name_travel_with_the_docket(tmp_path):
    inner = tmp_path / "work"
    inner.mkdir()
    photo = inner / "pier.png"
    Image.fromarray(scene(40, 30)).save(photo, compress_level=1)
    border = inner / "frame.png"
    border.write_bytes(photo.read_bytes())
    settings = Settings().having(
        {
            "finish.border.picture": str(border),
            "finish.shade.picture": "soft-folds",
            "finish.panels.fills": json.dumps(
                [
                    {"panel": "a", "kind": "photo", "source": str(photo)},
                    {"panel": "b", "kind": "texture", "source": "linen"},
                ]
            ),
        }
    )
    docket, photo_id = Docket(title="Kite").with_photo(str(photo))
    docket, fitting_id = docket.with_fitting(photo_id, "windhover-kites/two-sail-kite")
    fitting = docket.fitting(fitting_id).model_copy(update={"settings": settings})
    docket = docket.replacing(fitting)
    save(docket, inner / "kite.docket")
    text = (inner / "kite.docket").read_text()
    assert str(tmp_path) not in text and "soft-folds" in text and "linen" in text
    moved = tmp_path / "elsewhere"
    inner.rename(moved)
    again = load(moved / "kite.docket").fittings[0].settings
    assert again.finish.border.picture == str(moved / "frame.png")
    assert again.finish.panels.of("a").source == str(moved / "pier.png")
    assert again.finish.panels.of("b").source == "linen"
    # a photo that is found elsewhere is found in the panels too
    found = docket.at(photo_id, "/new/pier.png").fittings[0].settings
    assert found.finish.panels.of("a").source == "/new/pier.png"
    assert found.finish.border.picture == str(border)


def test_a_look_keeps_what_the_measures_made_of_it():
    """The second judging of the same pixels asks nothing of them again."""
    asked = []

    def cover(size):
        asked.append(size)
        return mask().window((0, 0, *SIZE), size)

    pixels = np.full((240, 320, 3), 200, np.uint8)
    look = PixelStatistics(Picture(pixels, shipped("srgb"), False), cover)
    from aptandum.core.judge.findings import judge
    from aptandum.core.judge.reading import Reading

    brief = brief_of(
        clause("backdrop_lightness", at_least=1)
        + clause("backdrop_plainness", at_most=99)
        + clause("sharpness", at_least=0)
    )
    facts = facts_of_bytes((DEMO / "blue_jug_03.jpg").read_bytes(), "x")
    reading = Reading("live", facts, see_look=lambda: look)
    first = judge(reading, brief)
    told = dict(look.told)
    assert len(asked) == 1 and len(told) == 4
    assert judge(reading, brief) == first and len(asked) == 1
    other = look.again(cover)
    assert other.lab is look.lab
    assert other.told == {"sharpness": told["sharpness"]}  # which no mask changes


def test_a_conversion_of_inks_and_of_clear_parts(tmp_path):
    inks = tmp_path / "ink.jpg"
    Image.new("CMYK", (60, 40), (0, 200, 200, 10)).save(inks, quality=95)
    photo = open_photo(inks)
    found = conversion(
        photo, resolve(photo.facts, brief_of(clause("colour_space", exactly="srgb")), Settings())
    )
    assert 0 <= found.share <= 1 and found.mean < 8
    clear = np.zeros((40, 60, 4), np.uint8)
    clear[..., 1] = 255  # a green that lies outside, and that nobody sees
    clear[:10, :, :] = (120, 120, 120, 255)
    path = tmp_path / "clear.png"
    Image.fromarray(clear).save(path, icc_profile=shipped("display-p3"))
    photo = open_photo(path)
    line = resolve(photo.facts, brief_of(clause("colour_space", exactly="srgb")), Settings())
    hidden = conversion(photo, line)
    assert hidden.share == 0 and not hidden.outside.any()


def test_the_demo_s_own_finishes_are_ready_for_their_briefs():
    """Badge, kite and dot panel of the demo docket, as it ships."""
    shelf = read_shelf()
    docket = load(DEMO / "vessary.docket")
    seen = 0
    for fitting in docket.fittings:
        if fitting.brief.split("/")[1] not in ("corner-badge", "two-sail-kite", "bezel-panel"):
            continue
        brief = shelf.find(fitting.brief)[1]
        photo = open_photo(docket.photo(fitting.photo).path)
        proof = conform(photo, brief, fitting.settings)
        assert proof.ready, [f.says for f in proof.findings.findings if f.verdict == "misses"]
        assert proof.findings.of("alterations").verdict == "meets"
        seen += 1
    assert seen == 3
