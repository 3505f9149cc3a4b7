"""What lies over a panel's ground: where it stands, in which order, and that it never leaves its panel."""

from __future__ import annotations

import io
import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.brief.model import Brief, Panel, Template
from aptandum.core.conform import conform
from aptandum.core.docket.model import Docket
from aptandum.core.docket.store import load, save
from aptandum.core.fitting.finish.layers import edge_from
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.polygons import gaps
from aptandum.core.photo.decode import open_photo
from samples import DEMO

SQUARES = Template((300, 200), (Panel("left", ((20, 20), (140, 20), (140, 180), (20, 180))),
                                Panel("right", ((160, 20), (280, 20), (280, 180), (160, 180)))))  # fmt: skip
TWO = Brief("two", "", (), template=SQUARES)
GREY, RED, BLUE, GREEN = (128, 128, 128), (200, 30, 20), (20, 40, 200), (10, 150, 60)


def plain(path: Path, size: tuple[int, int], colour: tuple[int, int, int]) -> Path:
    Image.new("RGB", size, colour).save(path)
    return path


@pytest.fixture(scope="module")
def photos(tmp_path_factory) -> dict[str, Path]:
    folder = tmp_path_factory.mktemp("layers")
    return {
        "own": plain(folder / "own.png", (300, 200), GREY),
        "red": plain(folder / "red.png", (60, 30), RED),
        "blue": plain(folder / "blue.png", (40, 40), BLUE),
    }


def made(photos: dict[str, Path], fills: list[dict[str, Any]], brief: Brief = TWO) -> np.ndarray:
    settings = Settings().having({"finish.panels.fills": json.dumps(fills)})
    data = conform(open_photo(photos["own"]), brief, settings).made.data
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGBA")).astype(int)


def layer(photos: dict[str, Path], name: str, **more: Any) -> dict[str, Any]:
    return {"kind": "photo", "source": str(photos[name]), **more}


def test_layers_stand_where_they_are_set_in_their_order(photos):
    """The red photo is 60 px wide (half of the panel's 120) and 30 high about (80, 100); the blue one over its end."""
    red = layer(photos, "red", at=[0.5, 0.5], wide=0.5)
    blue = layer(photos, "blue", at=[0.75, 0.5], wide=1 / 6)
    pixels = made(photos, [{"panel": "left", "kind": "own", "layers": [red, blue]}])
    assert tuple(pixels[100, 60, :3]) == RED and tuple(pixels[86, 51, :3]) == RED
    assert tuple(pixels[100, 49, :3]) == GREY and tuple(pixels[84, 80, :3]) == GREY
    assert tuple(pixels[100, 102, :3]) == BLUE  # 20 px about (110, 100)
    turned = made(photos, [{"panel": "left", "kind": "own", "layers": [blue, red]}])
    assert tuple(turned[100, 102, :3]) == RED and tuple(turned[100, 115, :3]) == BLUE
    assert (pixels[:, 150] == 0).all() and tuple(pixels[100, 200, :3]) == GREY


def test_a_layer_is_turned_clockwise_about_its_middle(photos):
    red = layer(photos, "red", at=[0.5, 0.5], wide=0.5, angle=90)
    pixels = made(photos, [{"panel": "left", "kind": "own", "layers": [red]}])
    assert tuple(pixels[74, 80, :3]) == RED and tuple(pixels[126, 80, :3]) == RED
    assert tuple(pixels[100, 60, :3]) == GREY and tuple(pixels[100, 100, :3]) == GREY


def test_a_layer_ends_at_the_line_drawn_on_its_panel(photos):
    sea = {"kind": "colour", "colour": "#1428C8"}
    below = edge_from([(0.1, 0.5), (0.5, 0.5), (0.9, 0.5)])
    above = edge_from([(0.9, 0.5), (0.5, 0.5), (0.1, 0.5)])
    round_ = edge_from([(0.3, 0.3), (0.7, 0.3), (0.7, 0.7), (0.3, 0.7), (0.3, 0.31)])
    for edge, top, middle, low in (
        (below, GREY, None, BLUE),
        (above, BLUE, None, GREY),
        (round_, GREY, BLUE, GREY),
    ):
        pixels = made(photos, [{"panel": "left", "layers": [{**sea, "edge": edge}]}])
        assert tuple(pixels[30, 80, :3]) == top and tuple(pixels[170, 80, :3]) == low
        assert tuple(pixels[170, 21, :3]) == low  # all the way to the panel's side
        if middle is not None:
            assert tuple(pixels[100, 80, :3]) == middle
    assert edge_from([(0.5, 0.5)]) == () == edge_from([(0.5, 0.5), (0.505, 0.5)])


def test_textures_of_ones_own_are_laid_at_their_own_pixels(photos, tmp_path):
    tile = np.zeros((10, 20, 3), np.uint8)
    tile[:, :10] = RED
    tile[:, 10:] = BLUE
    path = tmp_path / "stripes.png"
    Image.fromarray(tile).save(path)
    pixels = made(photos, [{"panel": "left", "kind": "texture", "source": str(path)}])
    row = pixels[100, 20:140, :3]
    assert (row.reshape(6, 20, 3) == tile[0]).all()
    over = [{"panel": "left", "layers": [{"kind": "texture", "source": str(path)}]}]
    assert (made(photos, over)[100, 20:140, :3] == row).all()


share = st.floats(-1.5, 2.5, allow_nan=False)
LAYERS = st.lists(
    st.fixed_dictionaries(
        {
            "kind": st.sampled_from(["photo", "colour", "texture"]),
            "at": st.tuples(share, share),
            "wide": st.floats(0.01, 4),
            "angle": st.floats(-180, 180),
            "edge": st.sampled_from([(), ((-1, -1), (2, 0.4), (2, 2), (-1, 2))]),
        }
    ),
    max_size=4,
)


@given(LAYERS, st.sampled_from(["own", "empty", "colour"]))
@pytest.mark.long
def test_nothing_leaves_its_panel(photos, layers, kind):
    """However it is set: the gaps stay empty, and what is full of colour stays full."""
    for one in layers:
        one["source"] = {"photo": str(photos["red"]), "texture": "linen"}.get(one["kind"], "")
    pixels = made(photos, [{"panel": "left", "kind": kind, "layers": layers}])
    assert (pixels[gaps(SQUARES)] == 0).all()
    assert (pixels[20:180, 160:280] == (*GREY, 255)).all()
    if kind != "empty":
        assert (pixels[20:180, 20:140, 3] == 255).all()


def test_a_figure_is_as_wide_as_it_is_set_and_its_photos_wall_stays_behind(photos):
    figure = {"kind": "figure", "source": str(DEMO / "tobin_oar_0212.jpg"), "wide": 0.5}
    fill = {"panel": "left", "kind": "colour", "colour": "#C9A227", "layers": [figure]}
    settings = Settings().having({"finish.panels.fills": json.dumps([fill])})
    proof = conform(open_photo(photos["own"]), TWO, settings)
    pixels = np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("RGBA")).astype(int)
    other = np.abs(pixels[20:180, 20:140, :3] - (0xC9, 0xA2, 0x27)).max(2) > 12
    columns = np.flatnonzero(other.any(0))
    assert columns[-1] - columns[0] + 1 == pytest.approx(60, abs=2)  # half of 120
    assert not other[:, :25].any() and not other[:, -25:].any()
    told = " ".join(act.does for act in proof.record)
    assert "left with a colour, over it a figure" in told


def test_a_layers_files_go_with_the_docket(photos, tmp_path):
    fills = [{"panel": "left", "kind": "texture", "source": str(photos["blue"]),
              "layers": [layer(photos, "red"), {"kind": "texture", "source": "linen"}]}]  # fmt: skip
    settings = Settings().having({"finish.panels.fills": json.dumps(fills)})
    assert settings.files() == (str(photos["blue"]), str(photos["red"]))
    docket, p1 = Docket().with_photo(str(photos["red"]))
    docket, f1 = docket.with_fitting(p1, "a/b")
    docket = docket.with_settings({f1: settings})
    turned = docket.turned(p1, 6, (60, 30)).fitting(f1).settings.finish.panels.of("left")
    assert turned.layers[0].turn == 6 and turned.turn == 1
    path = photos["own"].parent / "x.docket"
    save(docket, path)
    assert str(photos["own"].parent) not in path.read_text()
    assert load(path).fitting(f1).settings == settings


@pytest.mark.parametrize(
    ("bad", "why"),
    [
        ({"source": "/nowhere/at-all.png"}, "at-all.png"),
        ({"kind": "texture", "source": "velvet"}, "velvet"),
        ({"kind": "figure", "source": ""}, "found|there"),
    ],
)
def test_what_is_missing_is_named(photos, bad, why):
    fills = [{"panel": "left", "layers": [{"kind": "photo", **bad}]}]
    settings = Settings().having({"finish.panels.fills": json.dumps(fills)})
    photo = open_photo(photos["own"])
    resolve(photo.facts, TWO, settings)  # settled all the same: the file may come back
    with pytest.raises(Exception, match=why) as caught:
        conform(photo, TWO, settings)
    assert type(caught.value).__name__ == "PhotoError"
