"""Several captions on one picture: each by itself, in panels, judged and mended by its number."""

from __future__ import annotations

import io
import subprocess
import sys

import numpy as np
import pytest
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.docket.model import Docket, Fitting
from aptandum.core.docket.store import load, save
from aptandum.core.fitting.finish.caption import Captions, fitting_size
from aptandum.core.fitting.settings import SettingError, Settings
from aptandum.core.judge.polygons import gaps, inside
from aptandum.core.photo.decode import open_photo
from aptandum.core.rulebook.shelf import read_shelf
from samples import brief_of, clause

TWO = {
    "finish.caption.text": "GULLS",
    "finish.caption.anchor": "top left",
    "finish.caption.2.text": "KNOTS",
    "finish.caption.2.anchor": "bottom right",
    "finish.caption.2.colour": "#000000",
}


def tile(tmp_path, colour="#808890", size=(400, 300)):
    path = tmp_path / "tile.png"
    Image.new("RGB", size, colour).save(path)
    return open_photo(path)


def pixels_of(proof) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("RGBA")).astype(int)


def test_each_stands_where_it_is_set_and_in_its_own_colour(tmp_path):
    settings = Settings().having(TWO)
    proof = conform(tile(tmp_path), brief_of(clause("format", exactly="png")), settings)
    pixels = pixels_of(proof)[..., :3]
    white, black = (pixels > 250).all(-1), (pixels < 5).all(-1)
    assert white[:150, :200].any() and not white[150:].any()
    assert black[150:, 200:].any() and not black[:150].any()
    assert any(act.does == "Captions: “GULLS”; “KNOTS”." for act in proof.acts)


def test_they_are_numbered_changed_and_taken_out():
    settings = Settings().having(TWO)
    assert [one.text for one in settings.finish.caption.each()] == ["GULLS", "KNOTS"]
    three = settings.having({"finish.caption.3.text": "TERNS"})
    gone = three.having({"finish.caption.2": None})
    assert [one.text for one in gone.finish.caption.each()] == ["GULLS", "TERNS"]
    first = gone.having({"finish.caption.1": None})
    assert [one.text for one in first.finish.caption.each()] == ["TERNS"]
    assert first.having({"finish.caption.1": None}).finish.caption.each()[0].text == ""
    with pytest.raises(SettingError, match="numbered from 1 to 3"):
        settings.having({"finish.caption.4.text": "far"})
    with pytest.raises(SettingError, match="There is no setting"):
        settings.having({"finish.caption.2.nonsense": "1"})
    assert three.having({"finish.caption": None}).finish.caption == Captions()


def test_a_docket_keeps_them(tmp_path):
    docket, photo = Docket.empty("Sign").with_photo(str(tmp_path / "a.png"))
    fitting = Fitting(id="f1", photo=photo, brief="a/b", settings=Settings().having(TWO))
    path = tmp_path / "sign.docket"
    save(docket.model_copy(update={"fittings": (fitting,)}), path)
    assert load(path).fittings[0].settings == fitting.settings


def test_the_one_that_does_not_read_is_named_and_mended(tmp_path):
    brief = brief_of(clause("legible_at", at_least="200 px") + clause("format", exactly="png"))
    settings = Settings().having({**TWO, "finish.caption.2.colour": "#8A9098"})
    finding = conform(tile(tmp_path), brief, settings).findings.of("legible_at")
    assert finding.verdict == "misses" and "“KNOTS” is too pale" in finding.says
    assert "GULLS" not in finding.says and finding.mend is not None
    assert all(key.startswith("finish.caption.2.") for key in finding.mend.changes)
    mended = conform(tile(tmp_path), brief, settings.having(finding.mend.changes))
    assert mended.findings.of("legible_at").verdict == "meets"


def test_one_in_each_panel_and_the_gaps_stay_empty(tmp_path):
    brief = read_shelf().find("windhover-kites/two-sail-kite")[1]
    template = brief.template
    assert template is not None
    changes: dict[str, object] = {}
    for n, panel in enumerate(template.panels, start=1):
        changes |= {
            f"finish.caption.{n}.text": "GULL",
            f"finish.caption.{n}.panel": panel.name,
            f"finish.caption.{n}.anchor": "middle",
            f"finish.caption.{n}.colour": "#00FF00",
            f"finish.caption.{n}.size": "400",
        }
    settings = Settings().having(changes)
    for n, one in enumerate(settings.finish.caption.each(), start=1):
        size = fitting_size(one, template.size, template)
        assert size is not None and 10 < size < 400
        settings = settings.having({f"finish.caption.{n}.size": size})
    proof = conform(tile(tmp_path, size=(744, 628)), brief, settings)
    alpha = pixels_of(proof)[..., 3]
    assert not alpha[gaps(template)].any() and proof.findings.of("kept_empty").verdict == "meets"
    assert all(not one.cut for one in proof.laid.lettering) and len(proof.laid.lettering) == 3
    for one, panel in zip(proof.laid.lettering, template.panels, strict=True):
        held = inside(panel.outline, template.size)
        left, top, wide, high = one.box
        assert held[top : top + high, left : left + wide][one.share > 0.9].all()
    large = settings.having({"finish.caption.2.size": "400"})
    lettering = conform(tile(tmp_path, size=(744, 628)), brief, large).laid.lettering
    assert lettering[1].cut and not lettering[0].cut
    assert not pixels_of(conform(tile(tmp_path, size=(744, 628)), brief, large))[..., 3][
        gaps(template)
    ].any()


def test_a_panel_that_is_not_there_is_said(tmp_path):
    settings = Settings().having({"finish.caption.text": "GULL", "finish.caption.panel": "mast"})
    proof = conform(tile(tmp_path), brief_of(clause("format", exactly="png")), settings)
    assert any("There is no panel “mast”" in note for note in proof.line.notes)
    assert proof.laid.lettering[0].share.any()


def test_lines_are_set_closer_or_wider(tmp_path):
    brief = brief_of(clause("format", exactly="png"))
    heights = []
    for leading in ("0.7", "1", "2"):
        settings = Settings().having(
            {"finish.caption.text": "one\\ntwo\\nsix", "finish.caption.leading": leading,
             "finish.caption.right": "20", "finish.caption.down": "-30"}
        )  # fmt: skip
        proof = conform(tile(tmp_path), brief, settings)
        heights.append(proof.laid.lettering[0].box[3])
        assert proof.laid.lettering[0].box[0] >= 36
    assert heights[0] < heights[1] < heights[2]


def test_letters_far_beyond_the_picture_take_no_more_than_those_in_it():
    code = (
        "from aptandum.core.fitting.finish.caption import Caption, letters\n"
        "wish = Caption(text='M' * 2000, size=4000, anchor='middle')\n"
        "found = letters(wish, (400, 300), 1.0, False)\n"
        "print(*found.cut)\n"
        "print(next(l for l in open('/proc/self/status') if l.startswith('VmHWM')).split()[1])"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    cut, most = done.stdout.splitlines()
    assert {"left", "right"} <= set(cut.split()) and int(most) < 400_000  # kB


PLAIN = brief_of(clause("format", exactly="png"))


def ink_of(tmp_path, **more) -> np.ndarray:
    """How much of each pixel a white caption on black covers, 0..1."""
    settings = Settings().having({f"finish.caption.{key}": value for key, value in more.items()})
    return pixels_of(conform(tile(tmp_path, "#000000"), PLAIN, settings))[..., 0] / 255


@pytest.mark.parametrize("angle", [-90, -37.5, 12, 90, 180])
def test_a_caption_is_turned_clockwise_about_its_middle(tmp_path, angle):
    """The same letters by another library: drawn level, then turned by Pillow, whose turn is the other way round."""
    wish = {"text": "LODE", "anchor": "middle", "size": 60}
    level = ink_of(tmp_path, **wish)
    turned = ink_of(tmp_path, **wish, angle=angle)
    other = Image.fromarray((level * 255).astype(np.uint8))
    # The block's middle is the picture's but for half a pixel, since it stands on whole ones.
    other = np.asarray(other.rotate(-angle, Image.Resampling.BICUBIC)) / 255
    assert turned.sum() == pytest.approx(level.sum(), rel=0.02)
    assert (np.abs(turned - other) > 0.5).mean() < 0.005
    left = turned[:, :200].sum() if abs(angle) < 90 else turned[:150].sum()
    assert left > 50  # it is still there on both sides of its middle


def test_a_turned_caption_is_judged_by_its_letters_and_its_edges(tmp_path):
    brief = brief_of(clause("legible_at", at_least="100 px") + clause("format", exactly="png"))
    wish = {"finish.caption.text": "LODE", "finish.caption.size": 60, "finish.caption.colour": "#000000",
            "finish.caption.anchor": "middle"}  # fmt: skip
    photo = tile(tmp_path, "#F0F0F0")
    values = [
        conform(photo, brief, Settings().having({**wish, "finish.caption.angle": angle}))
        .findings.of("legible_at")
        .value
        for angle in (0, 30, 90)
    ]
    assert values[1] == pytest.approx(values[0], rel=0.12) == values[2]
    over = {**wish, "finish.caption.right": 150, "finish.caption.angle": 90}
    assert conform(photo, brief, Settings().having(over)).findings.of("legible_at").value < 400
    cut = Settings().having({**over, "finish.caption.right": 190})
    found = conform(photo, brief, cut).findings.of("legible_at")
    assert found.verdict == "misses" and "right" in found.says


def test_lines_are_set_apart_from_where_the_caption_stands(tmp_path):
    wish = {"text": "LODESTONE\nI", "anchor": "middle", "size": 40}
    ends = {}
    for align in (None, "left", "middle", "right"):
        ink = ink_of(tmp_path, **wish, **({"align": align} if align else {}))
        upper, lower = ink[:150], ink[150:]
        there = np.flatnonzero(lower.max(0) > 0.5)
        whole = np.flatnonzero(upper.max(0) > 0.5)
        ends[align] = there[0] - whole[0], whole[-1] - there[-1]
    assert ends["left"][0] <= 3 and ends["right"][1] <= 4
    assert ends["middle"] == ends[None] and abs(ends["middle"][0] - ends["middle"][1]) <= 3
