"""The places where a file is seen: what they load by their own decoder, refuse, and measure."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.fitting.settings import Settings
from aptandum.core.mockup import effects
from aptandum.core.mockup.device import Refused, load
from aptandum.core.photo import luminance as shades
from aptandum.core.photo.decode import open_photo
from aptandum.core.rulebook.shelf import read_shelf
from samples import DEMO, brief_of, clause, jpeg

SHELF = read_shelf()
SLIM = SHELF.find("pocketvane/wall-slim")[1]
PANEL = SHELF.find("pocketvane/bezel-panel")[1]


def made(photo, brief, **settings):
    return conform(open_photo(DEMO / photo), brief, Settings().having(settings)).made.data


def refusal(data, brief):
    with pytest.raises(Refused) as why:
        load(data, brief, strict=True, managed=False)
    return "".join(str(why.value).split())


def test_a_device_loads_what_was_made_for_it_pixel_for_pixel():
    data = made("lantern_quay_dusk.jpg", PANEL, **{"frame.window": "1500, 900, 2400, 519"})
    loaded = load(data, PANEL, strict=True, managed=False)
    assert loaded.size == (296, 64)
    assert set(np.unique(loaded.pixels[..., :3])) <= {0, 255}
    from test_dots import bits_of  # a reader written for the tests

    assert (loaded.pixels[..., 0] > 127).tolist() == bits_of(data, "png").tolist()


@pytest.mark.parametrize(
    "settings, said",
    [
        ({"frame.output": "800x1600"}, "thishas800×1600px"),
        ({"file.format": "tiff"}, "thisisTIFF"),
    ],
)
def test_a_handset_refuses_what_its_screen_cannot_take_and_says_why(settings, said):
    data = made("ines_marrow_0417.jpg", SLIM, **settings)
    assert said in refusal(data, SLIM)
    # a page that is not strict shows it all the same
    assert load(data, SLIM, strict=False, managed=True).size[0] > 1


def test_a_panel_refuses_eight_bits_and_too_many_bytes():
    data = made("lantern_quay_dusk.jpg", PANEL, **{"colour.bits": 8, "file.colours": 16})
    said = refusal(data, PANEL)
    assert "Ittakes1bit;thishas8." in said  # greys in fewer levels stay greys
    with Image.open(io.BytesIO(data)) as opened:
        few = opened.convert("RGB").quantize(2)
    held = io.BytesIO()
    few.save(held, "PNG", bits=1)
    two = held.getvalue()
    assert "blackandwhitealone;thishasothercolours" in refusal(two, PANEL)
    assert "roomfor4096bytes" in said if len(data) > 4096 else "roomfor" not in said


def test_bytes_that_are_no_picture_are_refused():
    assert "nopicture" in refusal(b"Dear harbour master", SLIM)
    good = made("ines_marrow_0417.jpg", SLIM)
    assert load(good, SLIM, strict=True, managed=False).size == (1080, 2310)


def test_a_place_that_reads_no_profile_says_so_and_shows_other_colours(tmp_path):
    brief = brief_of(clause("format", one_of=["jpeg"]))
    path = tmp_path / "red.jpg"
    path.write_bytes(jpeg(np.full((40, 40, 3), (200, 60, 50), np.uint8), quality=98))
    data = conform(
        open_photo(path), brief, Settings().having({"colour.space": "adobe-rgb"})
    ).made.data
    managed = load(data, brief, strict=False, managed=True)
    bare = load(data, brief, strict=False, managed=False)
    assert managed.unread == "" and "Adobe" in bare.unread
    assert managed.pixels[20, 20, :3].tolist() == pytest.approx([200, 60, 50], abs=3)
    assert bare.pixels[20, 20, 0] < 190  # a wide space's numbers, taken as sRGB, are dull


# -- tints ---------------------------------------------------------------------------------


def test_contrast_is_the_standards_ratio():
    """Pairs with ratios that are known: black on white 21, and #767676 on white just 4.5."""
    white, black = shades.luminance((255, 255, 255)), shades.luminance((0, 0, 0))
    assert shades.contrast(float(white), float(black)) == pytest.approx(21)
    grey = shades.luminance(shades.rgb("#767676"))
    assert shades.contrast(float(white), float(grey)) == pytest.approx(4.54, abs=0.01)


def test_text_over_a_tint_is_measured_where_it_stands_and_at_its_worst():
    tile = np.zeros((100, 200, 3), np.uint8)
    tile[60:, :] = 255  # where the text stands it is white
    under = effects.tinted(tile, "#000000", 0.5)
    assert under[80, 10].tolist() == [128, 128, 128]
    lower = effects.text_contrast(under, (0.0, 0.62, 1.0, 0.3), "#FFFFFF")
    upper = effects.text_contrast(under, (0.0, 0.1, 1.0, 0.3), "#FFFFFF")
    mid = float(shades.luminance((128, 128, 128)))
    assert lower == pytest.approx(1.05 / (mid + 0.05), rel=1e-6) and upper == pytest.approx(21)
    # one bright tenth below the letters decides
    patchy = np.zeros((100, 100, 3), np.uint8)
    patchy[:, 45:55] = 250
    assert effects.text_contrast(patchy, (0, 0, 1, 1), "#FFFFFF") < 1.2


@pytest.mark.long
def test_the_worst_tint_of_the_demo_is_the_light_one():
    brief = SHELF.find("keepers-hall/programme-tile")[1]
    data = made("lantern_quay_dusk.jpg", brief)
    pixels = effects.flat(load(data, brief, strict=False, managed=True).pixels)
    seen = brief.seen[0]
    band = (0.05, 0.62, 0.9, 0.3)
    ratios = {
        c: effects.text_contrast(effects.tinted(pixels, c, seen.opacity), band, "#FFFFFF")
        for c in seen.colours
    }
    assert min(ratios, key=ratios.get) == "#C9A227"


# -- corners -------------------------------------------------------------------------------


def badge(colour, side=40):
    made = np.zeros((side, side, 4), np.uint8)
    made[5:-5, 5:-5] = (*colour, 255)
    return made


@pytest.mark.parametrize("kind", shades.FOOTAGE)
def test_a_badge_lies_on_the_film_at_its_opacity_and_its_clear_parts_do_not(kind):
    film = shades.footage(kind, (160, 90), 1.5)
    laid = effects.over(film, badge((200, 30, 30)), (110, 40), 0.65)
    assert (laid[40:45, 110:150] == film[40:45, 110:150]).all()
    inside = film[50, 130].astype(float) * 0.35 + np.array((200, 30, 30)) * 0.65
    assert np.abs(laid[50, 130] - inside).max() <= 1
    assert (laid[:, :100] == film[:, :100]).all()


def test_footage_moves_and_is_what_it_says():
    light, dark = (shades.footage(k, (160, 90)) for k in ("light", "dark"))
    assert light.mean() > 190 and dark.mean() < 40
    busy = [shades.footage("busy", (160, 90), t) for t in (0.0, 2.0)]
    assert np.abs(busy[0].astype(int) - busy[1]).mean() > 2
    assert busy[0].std() > light.std() * 2


def test_how_far_a_badge_stands_out_falls_with_its_opacity_and_its_likeness():
    film = shades.footage("dark", (160, 90))
    one, at = badge((230, 230, 230)), (110, 40)

    def out(picture, opacity):
        return effects.stands_out(film, effects.over(film, picture, at, opacity), picture, at)

    assert out(one, 0.65) > out(one, 0.2) > out(one, 0.0) == 0
    assert out(badge((15, 18, 28)), 1.0) < 5 < out(one, 0.65)


def test_a_reduced_badge_keeps_its_own_colour_at_its_edge():
    """No dark or light fringe from what lies hidden under the clear part."""
    big = np.zeros((200, 200, 4), np.uint8)
    big[..., 1] = 255  # green, hidden
    big[40:160, 40:160] = (200, 30, 30, 255)
    small = effects.reduced(big, 25, 25)
    part = small[(small[..., 3] > 20)]
    assert np.abs(part[:, :3].astype(int) - (200, 30, 30)).max() <= 6
