"""Panels, border, shade, caption, clear; their order, and the record of what was done."""

from __future__ import annotations

import io
import json
import re
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageDraw

from aptandum.core.brief.model import Brief, Panel, Template
from aptandum.core.conform import conform
from aptandum.core.docket.model import Docket
from aptandum.core.fitting.finish import FINISHES
from aptandum.core.fitting.finish.border import opening_of, reframed
from aptandum.core.fitting.finish.panels import Fill
from aptandum.core.fitting.finish.shade import SHADES
from aptandum.core.fitting.finish.textures import TEXTURES
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import FinishSettings, SettingError, Settings, names
from aptandum.core.judge.polygons import gaps, inside
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.facts import PhotoError
from aptandum.core.rulebook.shelf import read_shelf
from aptandum.core.rulebook.toml import read_rulebook
from samples import DEMO, brief_of, clause, examples, scene

ANY = Brief("any", "", ())
KITE = read_shelf().find("windhover-kites/two-sail-kite")[1]
PLAQUE = read_shelf().find("keepers-hall/plaque")[1]


def read(proof) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("RGBA")).astype(int)


@pytest.fixture
def pier(tmp_path: Path) -> Path:
    path = tmp_path / "pier.png"
    Image.fromarray(scene(900, 760, 4)).save(path, compress_level=1)
    return path


def png(path: Path, pixels: np.ndarray) -> Path:
    Image.fromarray(pixels.astype(np.uint8)).save(path, compress_level=1)
    return path


# --- panels ---------------------------------------------------------------------------------


def winding(outline, x: float, y: float) -> bool:
    """Even-odd by a ray to the left, one point at a time: an independent reading."""
    odd, n = False, len(outline)
    for i in range(n):
        (x0, y0), (x1, y1) = outline[i], outline[(i + 1) % n]
        if (y0 <= y) != (y1 <= y) and x0 + (y - y0) * (x1 - x0) / (y1 - y0) <= x:
            odd = not odd
    return odd


@given(st.lists(st.tuples(st.floats(-5, 45), st.floats(-5, 35)), min_size=3, max_size=7))
@settings(max_examples=examples(150), deadline=None)
def test_a_pixel_is_in_a_panel_where_its_middle_is(outline):
    made = inside(outline, (40, 30))
    for y in range(30):
        for x in range(40):
            edge = any(winding(outline, x + 0.5 + d, y + 0.5) == made[y, x] for d in (-1e-7, 1e-7))
            assert made[y, x] == winding(outline, x + 0.5, y + 0.5) or edge


@given(
    st.floats(3, 37),
    st.floats(3, 27),
    st.floats(0, 40),
    st.floats(0, 40),
    st.floats(0, 30),
    st.floats(0, 30),
)
@settings(max_examples=examples(150), deadline=None)
def test_panels_that_share_an_edge_leave_no_seam_and_never_overlap(x, y, top, bottom, left, right):
    """A sheet cut in four by two broken lines through one point."""
    parts = [
        [(0, 0), (top, 0), (x, y), (0, left)],
        [(top, 0), (40, 0), (40, right), (x, y)],
        [(0, left), (x, y), (bottom, 30), (0, 30)],
        [(x, y), (40, right), (40, 30), (bottom, 30)],
    ]
    total = sum(inside(part, (40, 30)).astype(int) for part in parts)
    assert (total == 1).all()


FILLS = [
    {"panel": "left sail", "kind": "colour", "colour": "#27508C"},
    {"panel": "right sail", "kind": "texture", "source": "ripstop"},
    {"panel": "keel", "kind": "photo", "source": str(DEMO / "lantern_quay_dusk.jpg")},
]


@pytest.mark.parametrize("fills", [[], FILLS, FILLS[:1], [{"panel": "keel", "kind": "empty"}]])
def test_the_gaps_of_the_kite_are_empty_and_its_panels_full(pier, fills):
    made = Settings().having({"finish.panels.fills": json.dumps(fills)})
    proof = conform(open_photo(pier), KITE, made)
    assert proof.ready, [f.says for f in proof.findings.findings]
    assert proof.findings.of("kept_empty").verdict == "meets"
    pixels = read(proof)
    assert pixels.shape == (628, 744, 4)
    template = KITE.template
    assert template is not None
    full = np.zeros((628, 744), bool)
    empty = {f["panel"] for f in fills if f["kind"] == "empty"}
    for panel in template.panels:
        for y in range(628):
            # every pixel by itself, against the outline
            row = [winding(panel.outline, x + 0.5, y + 0.5) for x in range(0, 744, 9)]
            if panel.name not in empty:
                full[y, ::9] |= row
    assert (pixels[:, ::9, 3][~full[:, ::9]] == 0).all()
    assert (pixels[:, ::9, 3][full[:, ::9]] == 255).all()
    assert (pixels[..., 3][gaps(template)] == 0).all()
    assert (pixels[pixels[..., 3] == 0][:, :3] == 0).all()  # nothing is hidden there either


def test_each_panel_shows_what_it_was_given(pier):
    fills = [
        *FILLS,
        {"panel": "keel", "kind": "photo", "source": str(pier), "window": [100, 100, 300, 280]},
    ]
    made = Settings().having(
        {"finish.panels.fills": json.dumps(fills), "finish.shade.picture": "none"}
    )
    pixels = read(conform(open_photo(pier), KITE, made))
    assert (pixels[100, 100, :3] == (0x27, 0x50, 0x8C)).all()
    right = pixels[40:200, 400:560, :3]
    assert 1 < right[..., 1].std() < 30  # a texture: neither plain nor a photo
    # the keel: its box is cut from the named window of the photo
    template = KITE.template
    assert template is not None
    keel = next(p for p in template.panels if p.name == "keel")
    xs, ys = zip(*keel.outline, strict=True)
    wide, high = max(xs) - min(xs), max(ys) - min(ys)
    k = min(300 / wide, 280 / high)
    cut = (100 + (300 - wide * k) / 2, 100 + (280 - high * k) / 2)
    supplied = np.asarray(
        Image.open(pier).resize(
            (round(wide), round(high)),
            Image.Resampling.LANCZOS,
            (cut[0], cut[1], cut[0] + wide * k, cut[1] + high * k),
        )
    )
    there = inside(keel.outline, (744, 628))
    got = pixels[..., :3][there]
    wanted = np.zeros((628, 744, 3))
    x, y = round(min(xs)), round(min(ys))
    wanted[y : y + round(high), x : x + round(wide)] = supplied
    assert np.abs(got - wanted[there]).mean() < 6
    # the brief's shading darkens what lies under it, and nothing else changes
    shaded = read(conform(open_photo(pier), KITE, made.having({"finish.shade.picture": None})))
    assert (shaded[..., 3] == pixels[..., 3]).all()
    assert shaded[there][:, :3].mean() < pixels[there][:, :3].mean() - 5


@pytest.mark.long
def test_a_panels_photo_is_turned_with_the_docket(pier, tmp_path):
    """Turned by hand it fills its panel as a file would that was stored so."""
    stored = np.asarray(Image.open(DEMO / "lantern_quay_dusk.jpg").convert("RGB"))[::3, ::3]
    high, wide = stored.shape[:2]
    upright, turned = tmp_path / "upright.png", tmp_path / "turned.png"
    Image.fromarray(stored).save(upright, compress_level=1)
    Image.fromarray(np.rot90(stored, -1)).save(turned)  # as EXIF's 6 shows it
    window = (40.0, 60.0, 500.0, 400.0)
    fill = {"panel": "keel", "kind": "photo", "source": str(upright), "window": window}
    settings = Settings().having({"finish.panels.fills": json.dumps([fill])})
    docket, p1 = Docket().with_photo(str(upright))
    docket, f1 = docket.with_fitting(p1, "windhover-kites/two-sail-kite")
    docket = docket.with_settings({f1: settings}).turned(p1, 6, (wide, high))
    now = docket.fitting(f1).settings.finish.panels.of("keel")
    assert now.turn == 6
    assert now.window == pytest.approx((high - 60 - 400, 40, 400, 500))
    other = now.model_copy(update={"source": str(turned), "turn": 1})
    one = read(conform(open_photo(pier), KITE, docket.fitting(f1).settings))
    two = read(
        conform(open_photo(pier), KITE, Settings().having({"finish.panels.fills": (other,)}))
    )
    assert np.abs(one.astype(int) - two).max() <= 2
    assert docket.turned(p1, 8, (high, wide)).fitting(f1).settings == settings


def test_a_person_is_set_free_on_a_panel(pier):
    fills = [
        {
            "panel": "left sail",
            "kind": "photo",
            "source": str(DEMO / "tobin_oar_0212.jpg"),
            "free": True,
            "colour": "#C9A227",
        }
    ]
    made = Settings().having(
        {"finish.panels.fills": json.dumps(fills), "finish.shade.picture": "none"}
    )
    pixels = read(conform(open_photo(pier), KITE, made))
    assert np.abs(pixels[26, 40, :3] - (0xC9, 0xA2, 0x27)).max() <= 2  # his wall is gone
    assert np.abs(pixels[300, 230, :3] - (0xC9, 0xA2, 0x27)).max() > 40  # he is not


def test_a_gap_that_is_filled_is_found_on_the_bytes(pier):
    """The same picture without its template: everything is full."""
    plain = Brief("kite", "", KITE.clauses, template=None)
    proof = conform(open_photo(pier), plain)
    assert proof.findings.of("kept_empty").verdict == "unknown"
    from aptandum.core.judge.findings import judge
    from aptandum.core.judge.reading import of_finished

    data = io.BytesIO()
    pixels = np.zeros((628, 744, 4), np.uint8)
    pixels[0, 0, 3] = 1  # one pixel, hardly there
    Image.fromarray(pixels).save(data, "PNG")
    finding = judge(of_finished(data.getvalue(), "x.png", None), KITE).of("kept_empty")
    assert finding.verdict == "misses" and "1 px filled" in finding.says
    small = io.BytesIO()
    Image.fromarray(pixels[:100]).save(small, "PNG")
    other = judge(of_finished(small.getvalue(), "x.png", None), KITE).of("kept_empty")
    assert other.verdict == "unknown" and "lie elsewhere" in other.says


@pytest.mark.parametrize(
    "fill",
    [
        {"panel": "keel", "kind": "photo", "source": "/nowhere/at/all.jpg"},
        {"panel": "keel", "kind": "texture", "source": "velvet"},
    ],
)
def test_what_is_missing_is_named(pier, fill):
    made = Settings().having({"finish.panels.fills": json.dumps([fill])})
    with pytest.raises(PhotoError, match=r"Panels: .*(all\.jpg|velvet)"):
        conform(open_photo(pier), KITE, made)


def test_shipped_textures_and_shades_are_there_and_tile():
    from importlib import resources

    for folder, all_ in (("textures", TEXTURES), ("shades", SHADES)):
        for name in all_:
            file = resources.files("aptandum.data").joinpath(f"{folder}/{name}.png")
            with resources.as_file(file) as path, Image.open(path) as picture:
                assert min(picture.size) >= 96
                if folder == "textures":  # the seam is no step: as smooth as anywhere within
                    grey = np.asarray(picture.convert("L")).astype(int)
                    seam = np.abs(grey[:, 0] - grey[:, -1]).mean()
                    within = np.abs(np.diff(grey, axis=1)).mean(0).max()
                    assert seam <= within * 1.2 + 2


# --- border ---------------------------------------------------------------------------------


def frame_png(path: Path, size=(400, 500), opening=(50, 60, 300, 380)) -> Path:
    pixels = np.zeros((size[1], size[0], 4), np.uint8)
    pixels[:] = (40, 44, 48, 255)
    x, y, w, h = opening
    pixels[y : y + h, x : x + w] = (255, 0, 255, 0)
    return png(path, pixels)


def bordered(folder: Path) -> Brief:
    (folder / "hall.toml").write_text(
        'format = 1\n[body]\nid = "pier-office"\nname = "Pier Office"\n[[brief]]\nid = "plaque"\n'
        'title = "Plaque"\n'
        + clause("size", exactly="400 x 500")
        + clause("format", exactly="png")
        + '[brief.border]\npicture = "frame.png"\n'
    )
    return read_rulebook(folder / "hall.toml").briefs[0]


def test_the_border_lies_over_the_photo_never_under(pier, tmp_path):
    frame_png(tmp_path / "frame.png")
    brief = bordered(tmp_path)
    made = Settings().having(
        {
            "finish.keyline.width": 2,
            "finish.keyline.colour": "#FF0000",
            "finish.caption.text": "Keeper",
            "finish.caption.anchor": "middle",
        }
    )
    pixels = read(conform(open_photo(pier), brief, made))
    assert (pixels[5:60, 5:395, :3] == (40, 44, 48)).all()  # the border, whatever lies beneath
    assert (pixels[:2, :, :3] == (255, 0, 0)).all()  # the keyline lies over the border
    middle = pixels[70:430, 60:340, :3]
    assert middle.std() > 20 and not (middle == (255, 0, 255)).all(-1).any()
    assert (pixels[..., 3] == 255).all()
    # the finishes' fixed order
    order = [finish.name for finish in FINISHES]
    assert order[0] == "sharpening"  # of the photo alone
    assert order[1:] == ["backdrop", "clear", "panels", "shade", "border", "caption", "keyline"]
    assert set(order) | {"ground"} == set(FinishSettings.model_fields)


def test_a_border_of_another_size_is_not_laid_on_until_it_is_scaled(pier, tmp_path):
    frame_png(tmp_path / "frame.png", (200, 250), (25, 30, 150, 190))
    brief = bordered(tmp_path)
    proof = conform(open_photo(pier), brief)
    assert not any(act.word == "border" for act in proof.acts)
    assert any(
        "200 × 250" in note.replace("\u00a0", " ") and "400 × 500" in note.replace("\u00a0", " ")
        for note in proof.line.notes
    )
    assert (read(proof)[5:50, 5:395, :3] != (40, 44, 48)).any()
    scaled = conform(open_photo(pier), brief, Settings().having({"finish.border.scaled": "true"}))
    assert (read(scaled)[5:50, 5:395, :3] == (40, 44, 48)).all()
    assert scaled.line.notes == ()


@pytest.mark.parametrize("bad", ["gone", "solid", "text"])
def test_a_border_that_cannot_serve_is_named(pier, tmp_path, bad):
    frame_png(tmp_path / "frame.png")
    brief = bordered(tmp_path)
    if bad == "gone":
        (tmp_path / "frame.png").unlink()
    elif bad == "solid":
        png(tmp_path / "frame.png", np.full((500, 400, 4), 255))
    else:
        (tmp_path / "frame.png").write_text("no picture")
    proof = conform(open_photo(pier), brief)
    assert any("border" in note.lower() for note in proof.line.notes)
    assert not any(act.word == "border" for act in proof.acts)


@given(
    st.integers(0, 60),
    st.integers(0, 60),
    st.integers(60, 300),
    st.integers(60, 300),
    st.floats(-200, 500),
    st.floats(-200, 500),
    st.floats(50, 900),
    st.floats(50, 900),
)
@settings(max_examples=examples(100), deadline=None)
def test_reframed_to_the_opening(x, y, across, up, left, top, wide, high):
    from aptandum.core.fitting.finish.border import Opening

    opening = Opening((x + across + 31, y + up + 17), (x, y, across, up))
    box = reframed(opening, (left, top, wide, high))
    k = box[2] / opening.size[0]
    assert box[3] / opening.size[1] == pytest.approx(k)
    seen = (box[0] + x * k, box[1] + y * k, across * k, up * k)
    # nothing beyond the window is seen, about the same middle, and one side of it is seen whole
    assert seen[2] <= wide + 1e-6 and seen[3] <= high + 1e-6
    assert min(wide - seen[2], high - seen[3]) == pytest.approx(0, abs=1e-6)
    assert seen[0] + seen[2] / 2 == pytest.approx(left + wide / 2)
    assert seen[1] + seen[3] / 2 == pytest.approx(top + high / 2)


@pytest.mark.long
def test_framed_to_its_opening_nothing_but_photo_is_seen_and_nothing_counts_as_padded():
    """Padding that lies wholly under the border is no alteration: nobody sees it."""
    photo = open_photo(DEMO / "quill_harrow_0119.jpg")
    opening = opening_of(str(PLAQUE.beside(PLAQUE.border)))
    box = reframed(opening, (0, 0, 2400, 3000))
    made = Settings().having(
        {
            "frame.fill": "pad",
            "frame.window": ", ".join(f"{v:.4f}" for v in box),
            "frame.ground": "#FF00FF",
        }
    )
    proof = conform(photo, PLAQUE, made)
    assert proof.line.frame.ground == "#FF00FF"  # it is padded, beyond the photo's edge
    assert "pad" not in [act.word for act in proof.acts]
    assert proof.findings.of("alterations").verdict == "meets"
    pixels = read(proof)
    pink = (np.abs(pixels[..., :3] - (255, 0, 255)).max(-1) < 90).sum()
    assert pink == 0
    bare = made.having({"finish.border.picture": "none"})
    assert "pad" in [act.word for act in conform(photo, PLAQUE, bare).acts]


def test_a_frame_at_the_photo_s_edge_stays_where_its_opening_shows_it():
    """Under the border it may reach beyond one edge of the photo; what is seen does not move."""
    photo = open_photo(DEMO / "quill_harrow_0119.jpg")
    opening = opening_of(str(PLAQUE.beside(PLAQUE.border)))
    box = reframed(opening, (0, 300, 1600, 2000))
    assert box[0] < 0
    window = ", ".join(f"{v:.4f}" for v in box)
    made = Settings().having({"frame.fill": "pad", "frame.window": window})
    frame = resolve(photo.facts, PLAQUE, made).frame.window
    assert (frame.left, frame.top) == pytest.approx(box[:2], abs=2)
    assert (frame.width, frame.height) == pytest.approx(box[2:], abs=4)


def test_the_shipped_border_has_its_opening():
    found = opening_of(str(PLAQUE.beside(PLAQUE.border)))
    assert found.size == (800, 1000)
    left, top, wide, high = found.box
    assert 50 < left < 70 and 50 < top < 70 and left + wide > 730 and top + high > 930


# --- shade, caption -------------------------------------------------------------------------


def test_a_shade_lies_on_its_part_alone(pier, tmp_path):
    layer = png(tmp_path / "dusk.png", np.dstack([np.zeros((50, 50, 3)), np.full((50, 50), 255)]))
    before = read(conform(open_photo(pier), ANY, Settings().having({"file.format": "png"})))
    made = Settings().having(
        {
            "finish.shade.picture": str(layer),
            "finish.shade.strength": 50,
            "file.format": "png",
            "finish.shade.area": "50 %, 0 %, 50 %, 25 %",
        }
    )
    after = read(conform(open_photo(pier), ANY, made))
    assert np.abs(after[:190, 450:, :3] - before[:190, 450:, :3] / 2).max() <= 1
    assert (after[191:] == before[191:]).all() and (after[:, :449] == before[:, :449]).all()
    white = png(tmp_path / "white.png", np.full((50, 50, 4), 255))
    darker = made.having(
        {
            "finish.shade.picture": str(white),
            "finish.shade.blend": "darken",
            "finish.shade.strength": 100,
        }
    )
    assert (read(conform(open_photo(pier), ANY, darker)) == before).all()  # white darkens nothing
    lighter = darker.having({"finish.shade.blend": "lighten"})
    assert (read(conform(open_photo(pier), ANY, lighter))[:190, 450:, :3] == 255).all()


def test_a_shade_of_another_shape_keeps_its_proportion_or_says_that_it_is_stretched(tmp_path):
    """A round dark spot stays round when it is laid over a tall picture."""
    y, x = np.mgrid[0:200, 0:400]
    spot = np.full((200, 400, 4), 255, np.uint8)
    spot[..., :3] = np.where((x - 200) ** 2 + (y - 100) ** 2 < 40**2, 0, 255)[..., None]
    shade, photo = png(tmp_path / "spot.png", spot), tmp_path / "grey.png"
    Image.new("RGB", (300, 600), "#909090").save(photo)
    wish = {"finish.shade.picture": str(shade), "finish.shade.blend": "darken"}
    reach, told = {}, {}
    for fit in ("cover", "stretch"):
        proof = conform(
            open_photo(photo), ANY, Settings().having({**wish, "finish.shade.fit": fit})
        )
        dark = read(proof)[..., 0] < 72
        reach[fit] = np.ptp(np.flatnonzero(dark.any(0))), np.ptp(np.flatnonzero(dark.any(1)))
        told[fit] = " ".join(act.does for act in proof.acts)
    assert reach["cover"] == pytest.approx((239, 239), abs=4)
    assert reach["stretch"] == pytest.approx((59, 239), abs=4)
    assert "stretched" in told["stretch"] and "stretched" not in told["cover"]


@pytest.mark.parametrize("anchor", ["top left", "top", "right", "middle", "bottom right", "bottom"])
def test_a_caption_stands_where_it_is_anchored(pier, anchor):
    made = Settings().having(
        {
            "finish.caption.text": "Vessary\\nautumn",
            "finish.caption.size": 40,
            "file.format": "png",
            "finish.caption.anchor": anchor,
            "finish.caption.margin": 20,
            "finish.caption.colour": "#00FF00",
        }
    )
    proof = conform(open_photo(pier), ANY, made)
    before = read(conform(open_photo(pier), ANY, Settings().having({"file.format": "png"})))
    rows, columns = np.nonzero((read(proof) != before).any(-1))
    left, right, top, bottom = columns.min(), columns.max(), rows.min(), rows.max()
    (words,) = proof.laid.lettering
    assert words.box == (left, top, right - left + 1, bottom - top + 1)
    if "left" in anchor:
        assert 20 <= left <= 24
    if "right" in anchor:
        assert 875 <= right <= 880
    if "top" in anchor:
        assert 20 <= top <= 40
    if "bottom" in anchor:
        assert 715 <= bottom <= 740
    if anchor in ("top", "middle", "bottom"):
        assert abs((left + right) / 2 - 450) < 4
    if anchor in ("right", "middle"):
        assert abs((top + bottom) / 2 - 380) < 10
    assert "Vessary / autumn" in proof.acts[-1].says
    assert (read(proof)[words.share.argmax() // words.box[2] + top].max(0)[1]) == 255


@pytest.mark.parametrize(
    ("size", "colour", "reads"),
    [
        (60, "#FFFFFF", True),
        (60, "#8C8C8C", False),
        (9, "#FFFFFF", False),
    ],
)
def test_legibility_is_judged_at_the_size_at_which_it_is_seen(tmp_path, size, colour, reads):
    """White letters on grey read at a third of the width where they are large enough."""
    path = png(tmp_path / "fog.png", np.full((300, 600, 3), 120))
    brief = brief_of(clause("legible_at", at_least="200 px") + clause("format", exactly="png"))
    made = Settings().having(
        {
            "finish.caption.text": "Landing",
            "finish.caption.size": size,
            "finish.caption.colour": colour,
            "finish.caption.anchor": "middle",
        }
    )
    finding = conform(open_photo(path), brief, made).findings.of("legible_at")
    assert (finding.verdict == "meets") == reads, finding.says
    assert (finding.value <= 200) == reads
    plated = made.having({"finish.caption.behind": "plate", "finish.caption.behind_strength": 100})
    if size == 60:
        assert conform(open_photo(path), brief, plated).findings.of("legible_at").value <= 200
    assert conform(open_photo(path), brief).findings.of("legible_at").verdict == "idle"


# --- clear ----------------------------------------------------------------------------------


def disc(path: Path, ground=(250, 250, 250), colour=(30, 60, 160)) -> np.ndarray:
    """A disc with a soft edge, a second island of ground within it. Returns its true cover."""
    big = Image.new("L", (1600, 1200), 0)
    pen = ImageDraw.Draw(big)
    pen.ellipse((400, 200, 1200, 1000), fill=255)
    pen.ellipse((700, 500, 900, 700), fill=0)
    cover = np.asarray(big.resize((400, 300), Image.Resampling.BOX)) / 255
    pixels = cover[..., None] * colour + (1 - cover[..., None]) * np.array(ground)
    png(path, np.rint(pixels))
    return cover


@pytest.mark.parametrize("connected", [True, False])
@pytest.mark.parametrize("start", ["rim", "clicked", "named"])
def test_a_thing_is_freed_by_colour(tmp_path, connected, start):
    cover = disc(tmp_path / "disc.png")
    changes = {
        "finish.clear.by": "colour",
        "finish.clear.connected": str(connected),
        "finish.clear.tolerance": 12,
    }
    if start == "clicked":
        changes["finish.clear.at"] = "10, 280"
    elif start == "named":
        changes["finish.clear.colour"] = "#FAFAFA"
    proof = conform(open_photo(tmp_path / "disc.png"), ANY, Settings().having(changes))
    assert proof.made.format == "png"  # a format that holds it is taken by itself
    pixels = read(proof)
    alpha = pixels[..., 3] / 255
    y, x = np.mgrid[0:300, 0:400]
    island = (x - 200) ** 2 + (y - 150) ** 2 < 20**2
    assert (alpha[island] == (1 if connected else 0)).all()
    outer = ~((x - 200) ** 2 + (y - 150) ** 2 < 40**2)
    assert np.abs(alpha - cover)[outer].max() < 0.25 and np.abs(alpha - cover)[outer].mean() < 0.01
    # no light fringe: on black, the edge is never lighter than the disc itself
    rim = outer & (alpha > 0.1) & (alpha < 0.95)
    assert rim.any()
    on_black = pixels[..., :3][rim] * alpha[rim][:, None]
    assert (on_black <= np.array((30, 60, 160)) * 1.12 + 6).all()
    assert (pixels[..., :3][rim] < (90, 110, 185)).all()


def test_a_clicked_point_takes_what_hangs_together_with_it(tmp_path):
    disc(tmp_path / "disc.png")
    made = Settings().having({"finish.clear.by": "colour", "finish.clear.at": "200, 150"})
    alpha = read(conform(open_photo(tmp_path / "disc.png"), ANY, made))[..., 3]
    assert alpha[150, 200] == 0 and alpha[5, 5] == 255 and alpha[60, 200] == 255


@pytest.mark.long
def test_the_jug_stands_free_behind_its_mask():
    brief = read_shelf().find("lantern-channel/corner-badge")[1]
    made = Settings().having({"finish.clear.by": "standing"})
    proof = conform(open_photo(DEMO / "blue_jug_03.jpg"), brief, made)
    assert proof.ready
    alpha = read(proof)[..., 3]
    assert (alpha == 0).mean() > 0.4 and (alpha == 255).mean() > 0.2
    high, wide = alpha.shape
    assert alpha[4, 4] == 0 and alpha[high * 150 // 256, wide // 2] == 255
    # where no transparency is permitted, it is laid on the ground, cleanly
    flat = brief_of(clause("format", exactly="jpeg"))
    laid = made.having({"finish.ground": "#FFFFFF"})
    pixels = read(conform(open_photo(DEMO / "blue_jug_03.jpg"), flat, laid))
    assert (pixels[3:10, 3:10, :3] >= 253).all()


# --- the record -----------------------------------------------------------------------------


def test_the_record_names_everything_beside_what_is_allowed(pier):
    brief = brief_of(
        clause("size", exactly="300 x 200") + clause("format", exactly="jpeg"),
        'allows = ["cut", "scale", "keyline"]',
    )
    made = Settings().having(
        {
            "finish.keyline.width": 2,
            "finish.keyline.colour": "#FFFFFF",
            "colour.space": "adobe-rgb",
            "frame.angle": 2,
            "finish.caption.text": "Pier",
        }
    )
    proof = conform(open_photo(pier), brief, made)
    assert [act.word for act in proof.acts] == [
        "turn",
        "cut",
        "scale",
        "convert",
        "caption",
        "keyline",
    ]
    record = proof.figures()["record"]
    assert isinstance(record, list) and len(record) == 6 and "2 px of #FFFFFF" in record[-1]
    finding = proof.findings.of("alterations")
    assert finding.verdict == "misses" and not proof.ready
    for word in ("turned", "converted", "caption"):
        assert word in finding.says.split("not permitted:")[1]
    assert "keyline" not in finding.says.split("not permitted:")[1]
    clean = conform(open_photo(pier), brief)
    assert clean.findings.of("alterations").verdict == "meets" and clean.ready
    assert not any(
        f.clause.measure == "alterations" for f in conform(open_photo(pier), ANY).findings.findings
    )


def test_settings_of_finishes_are_named_and_refused_in_sentences():
    assert "finish.keyline.width" in names() and "finish.ground" in names()
    made = Settings().having({"finish.keyline.width": "3"})
    assert made.finish.keyline.width == 3
    assert made.having({"finish.keyline.width": None}) == Settings()
    assert Settings.model_validate_json(made.model_dump_json()) == made
    for name, value, words in (
        ("finish.keyline.breadth", "3", "no setting"),
        ("finish.keyline.width", "wide", "cannot be"),
        ("finish.glitter.width", "3", "no setting"),
        ("finish.clear.at", "here", "two numbers"),
        ("finish.shade.area", "1, 2", "four shares"),
        ("finish.panels.fills", "{", "JSON"),
        ("finish.backdrop.lightness", "120", "cannot be"),
        ("finish.keyline", "3", "no setting"),
    ):
        with pytest.raises(SettingError, match=words):
            Settings().having({name: value})
    assert Fill(panel="keel").kind == "own"


def test_a_template_of_another_size_is_said():
    template = Template((100, 80), (Panel("all", ((0, 0), (100, 0), (100, 80))),))
    brief = Brief(
        "odd", "", brief_of(clause("size", exactly="200 x 160")).clauses, template=template
    )
    proof = conform(open_photo(DEMO / "blue_jug_03.jpg"), brief)
    assert any("100 × 80" in note.replace("\u00a0", " ") for note in proof.line.notes)


def ring_mark(path: Path) -> Path:
    """A white square with two letters that have white insides."""
    image = Image.new("RGB", (400, 400), "#FFFFFF")
    pen = ImageDraw.Draw(image)
    for x in (60, 220):
        pen.ellipse((x, 130, x + 120, 270), fill="#1D2630")
        pen.ellipse((x + 30, 165, x + 90, 235), fill="#FFFFFF")
    image.save(path)
    return path


BADGE = clause("transparency", exactly="present") + clause("format", exactly="png")


def test_areas_inside_are_counted_whether_they_stay_or_go(tmp_path):
    photo = open_photo(ring_mark(tmp_path / "mark.png"))
    brief = brief_of(BADGE)
    stay = Settings().having({"finish.clear.by": "colour"})
    proof = conform(photo, brief, stay)
    pixels = np.asarray(Image.open(io.BytesIO(proof.made.data)))
    inside = (pixels[200, 120], pixels[200, 280])
    assert pixels[5, 5, 3] == 0 and all(tuple(p) == (255, 255, 255, 255) for p in inside)
    told = " ".join(act.does for act in proof.acts).replace("\u00a0", " ")
    assert (
        "the colour at the rim" in told and "2 areas of that colour inside stay as they are" in told
    )
    area = 2 * np.pi * 30 * 35
    stated = int(re.search(r"\(([\d ]+) px\)", told).group(1).replace(" ", ""))
    assert stated == pytest.approx(area, rel=0.05)
    go = conform(photo, brief, stay.having({"finish.clear.connected": "false"}))
    pixels = np.asarray(Image.open(io.BytesIO(go.made.data)))
    assert pixels[200, 120, 3] == pixels[200, 280, 3] == 0 and pixels[200, 75, 3] == 255
    assert any(
        "2 areas of that colour inside were made transparent too" in act.does for act in go.acts
    )


def test_an_empty_picture_is_a_miss_wherever_transparency_is_asked(tmp_path):
    path = tmp_path / "nothing.png"
    Image.new("RGB", (200, 200), "#FFFFFF").save(path)
    settings = Settings().having({"finish.clear.by": "colour"})
    findings = conform(open_photo(path), brief_of(BADGE), settings).findings
    assert findings.of("transparency").verdict == "meets"
    empty = findings.of("visible_part")
    assert empty.verdict == "misses" and "0" in empty.measured and not findings.ready
    Image.new("RGBA", (200, 200), (9, 9, 9, 0)).save(path)
    assert (
        conform(open_photo(path), brief_of(BADGE)).findings.of("visible_part").verdict == "misses"
    )
    whole = conform(open_photo(ring_mark(tmp_path / "mark.png")), brief_of(BADGE), settings)
    assert all(f.clause.measure != "visible_part" for f in whole.findings.findings)
